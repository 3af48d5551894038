package web

import (
	"bytes"
	"context"
	"fmt"

	"cleantally/books"
	"cleantally/core/money"
	"cleantally/core/posting"
	"cleantally/core/settling"
	"cleantally/formats"

	"github.com/danielgtaylor/huma/v2"
)

// OpeningItemBody is one open item of the old books.
type OpeningItemBody struct {
	What    string `json:"what" maxLength:"40" doc:"invoice, credit, deposit, kept back, not identified, billed in advance, cost, supplier bill, supplier credit, prepayment, kept back by us"`
	Number  string `json:"number,omitempty"`
	Day     string `json:"day,omitempty"`
	Due     string `json:"due,omitempty"`
	Party   int64  `json:"party,omitempty" doc:"The customer or supplier"`
	Job     int64  `json:"job,omitempty"`
	Amount  string `json:"amount,omitempty" doc:"With tax, above nil"`
	Tax     string `json:"tax,omitempty" doc:"Inside"`
	TaxCode int64  `json:"taxCode,omitempty"`
	Text    string `json:"text,omitempty"`

	Currency string `json:"currency,omitempty" maxLength:"3" doc:"Of its amounts, ISO 4217; empty: the firm's own"`
	Worth    string `json:"worth,omitempty" doc:"What the amount stands at in the firm's, where that is another"`
}

// OpeningContractBody is what old books say of a contract that is under way.
type OpeningContractBody struct {
	What    string `json:"what,omitempty" enum:"order line,claimed before,released before,"`
	Number  string `json:"number,omitempty" doc:"Of the order"`
	Party   int64  `json:"party,omitempty"`
	Job     int64  `json:"job,omitempty"`
	Amount  string `json:"amount,omitempty" doc:"Net; with its tax where it was kept back"`
	Billed  string `json:"billed,omitempty" doc:"Of an order's line, net, so far"`
	TaxCode int64  `json:"taxCode,omitempty"`
	Text    string `json:"text,omitempty"`

	Currency string `json:"currency,omitempty" maxLength:"3" doc:"Of an order, ISO 4217; empty: the firm's own"`
	Rate     string `json:"rate,omitempty" maxLength:"40" doc:"Of that; empty: the newest through the last day of the old books"`
}

// OpeningOnTheWayBody is what was in the old books and not at the bank yet.
type OpeningOnTheWayBody struct {
	Bank      int64  `json:"bank,omitempty"`
	Day       string `json:"day,omitempty"`
	Reference string `json:"reference,omitempty"`
	Text      string `json:"text,omitempty"`
	In        string `json:"in,omitempty"`
	Out       string `json:"out,omitempty"`
	Worth     string `json:"worth,omitempty" doc:"What it stands at in the firm's currency, where the account is in another"`
}

// OpeningGoodsBody are goods that lay in stock.
type OpeningGoodsBody struct {
	Article  int64    `json:"article,omitempty"`
	Quantity string   `json:"quantity,omitempty"`
	Value    string   `json:"value,omitempty"`
	Serials  []string `json:"serials,omitempty" maxItems:"1000"`
}

// OpeningBalanceBody is a row of the trial balance.
type OpeningBalanceBody struct {
	Account int64  `json:"account,omitempty"`
	Debit   string `json:"debit,omitempty"`
	Credit  string `json:"credit,omitempty"`
	Own     string `json:"own,omitempty" doc:"Of a bank account in another currency: what it held in that, on the same side"`
}

// OpeningBody is what a firm begins with.
type OpeningBody struct {
	Day   string               `json:"day,omitempty" doc:"The last of the old books"`
	Items []OpeningItemBody    `json:"items,omitempty" maxItems:"5000"`
	Goods []OpeningGoodsBody   `json:"goods,omitempty" maxItems:"5000"`
	Trial []OpeningBalanceBody `json:"trial,omitempty" maxItems:"2000"`

	Contracts []OpeningContractBody `json:"contracts,omitempty" maxItems:"5000"`
	OnTheWay  []OpeningOnTheWayBody `json:"onTheWay,omitempty" maxItems:"2000"`
}

func (b OpeningBody) command(p *parser) posting.Command {
	o := settling.Opening{Day: p.day("day", b.Day)}
	for n, i := range b.Items {
		f := fmt.Sprintf("items[%d].", n)
		o.Items = append(o.Items, settling.OpeningItem{Stood: settling.Stood(i.What), Number: i.Number, Day: p.day(f+"day", i.Day), Due: p.day(f+"due", i.Due), PartyID: i.Party, JobID: i.Job,
			Amount: p.amountIn(i.Currency, f+"amount", i.Amount), Tax: p.amountIn(i.Currency, f+"tax", i.Tax), TaxCodeID: i.TaxCode, Text: i.Text, Currency: p.other(i.Currency), Worth: p.amount(f+"worth", i.Worth)})
	}
	for n, c := range b.Contracts {
		f := fmt.Sprintf("contracts[%d].", n)
		o.Contracts = append(o.Contracts, settling.OpeningContract{What: settling.Agreed(c.What), Number: c.Number, PartyID: c.Party, JobID: c.Job, Amount: p.amountIn(c.Currency, f+"amount", c.Amount), Billed: p.amountIn(c.Currency, f+"billed", c.Billed), TaxCodeID: c.TaxCode, Text: c.Text, Currency: p.other(c.Currency), Rate: p.rate(f+"rate", c.Rate)})
	}
	for n, w := range b.OnTheWay {
		f := fmt.Sprintf("onTheWay[%d].", n)
		o.OnTheWay = append(o.OnTheWay, settling.OpeningOnTheWay{BankAccountID: w.Bank, Day: p.day(f+"day", w.Day), Reference: w.Reference, Text: w.Text, In: p.amountIn(p.ofBank(w.Bank), f+"in", w.In), Out: p.amountIn(p.ofBank(w.Bank), f+"out", w.Out), Worth: p.amount(f+"worth", w.Worth)})
	}
	for n, g := range b.Goods {
		f := fmt.Sprintf("goods[%d].", n)
		o.Goods = append(o.Goods, settling.OpeningGoods{ArticleID: g.Article, Quantity: p.decimal(f+"quantity", g.Quantity, pricePlaces), Value: p.amount(f+"value", g.Value), Serials: g.Serials})
	}
	for n, t := range b.Trial {
		f := fmt.Sprintf("trial[%d].", n)
		o.Trial = append(o.Trial, settling.OpeningBalance{AccountID: t.Account, Debit: p.amount(f+"debit", t.Debit), Credit: p.amount(f+"credit", t.Credit), Own: p.amountIn(p.ofAccount(t.Account), f+"own", t.Own)})
	}
	return o
}

// UndoOpeningBody undoes the opening as a whole.
type UndoOpeningBody struct {
	Reason string `json:"reason,omitempty"`
}

func (b UndoOpeningBody) command(*parser) posting.Command {
	return settling.UndoOpening{Reason: b.Reason}
}

// OpeningRow is a row of a file of old books, as it was understood.
type OpeningRow struct {
	Row   int                 `json:"row" doc:"In the file; the header is row 1"`
	Cells []string            `json:"cells" doc:"As they stand in the file, in the order of the template"`
	Item  *OpeningItemBody    `json:"item,omitempty"`
	Goods *OpeningGoodsBody   `json:"goods,omitempty"`
	Trial *OpeningBalanceBody `json:"trial,omitempty"`

	Contract *OpeningContractBody `json:"contract,omitempty"`
	OnTheWay *OpeningOnTheWayBody `json:"onTheWay,omitempty"`

	Refusals []Notice `json:"refusals"`
}

func openingRow(of string, r books.OpeningRow, cur money.Currency) OpeningRow {
	amountIn := func(code string, a money.Amount) string {
		if a == 0 {
			return ""
		}
		return in(cur, code).Format(a)
	}
	amount := func(a money.Amount) string { return amountIn("", a) }
	out := OpeningRow{Row: r.Row, Cells: r.Cells, Refusals: notices(r.Refusals)}
	switch of {
	case "items":
		i := r.Item
		out.Item = &OpeningItemBody{string(i.Stood), i.Number, string(i.Day), string(i.Due), i.PartyID, i.JobID, amountIn(i.Currency, i.Amount), amountIn(i.Currency, i.Tax), i.TaxCodeID, i.Text, i.Currency, amount(i.Worth)}
	case "contracts":
		c := r.Contract
		out.Contract = &OpeningContractBody{string(c.What), c.Number, c.PartyID, c.JobID, amountIn(c.Currency, c.Amount), amountIn(c.Currency, c.Billed), c.TaxCodeID, c.Text, c.Currency, rateOrNothing(c.Rate)}
	case "on-the-way":
		w := r.OnTheWay
		out.OnTheWay = &OpeningOnTheWayBody{w.BankAccountID, string(w.Day), w.Reference, w.Text, amountIn(r.In, w.In), amountIn(r.In, w.Out), amount(w.Worth)}
	case "goods":
		out.Goods = &OpeningGoodsBody{r.Goods.ArticleID, dec(r.Goods.Quantity), amount(r.Goods.Value), r.Goods.Serials}
	default:
		out.Trial = &OpeningBalanceBody{r.Trial.AccountID, amount(r.Trial.Debit), amount(r.Trial.Credit), amountIn(r.In, r.Trial.Own)}
	}
	return out
}

func (s *Server) registerOpening() {
	command[OpeningBody](s, "post-opening", "/api/v1/openings", "Begin with what stands in the old books")
	command[UndoOpeningBody](s, "undo-opening", "/api/v1/openings/undo", "Undo the opening as a whole")
	type opened struct {
		Day    string `json:"day" doc:"Empty where the firm began with nothing"`
		Papers int    `json:"papers"`

		What map[string][]string `json:"what" doc:"What a row of a file may be, by file"`
	}
	huma.Register(s.api, describe("opening", "GET", "/api/v1/openings", "Whether the firm has begun with old books"), func(ctx context.Context, _ *struct{}) (*struct{ Body opened }, error) {
		d, n, err := s.book.Opened(ctx)
		return &struct{ Body opened }{opened{string(d), n, books.OpeningWords()}}, problem(err)
	})
	type template struct {
		Of string `path:"of" enum:"items,contracts,goods,on-the-way,trial"`
	}
	huma.Register(s.api, describe("opening-template", "GET", "/api/v1/openings/{of}/template", "A file with the columns that are read, and rows that show how"), func(_ context.Context, in *template) (*fileOutput, error) {
		t, _ := books.OpeningTemplate(in.Of)
		return fileOf("csv", "opening-"+in.Of, t, nil)
	})
	type input struct {
		Of      string `path:"of" enum:"items,contracts,goods,on-the-way,trial"`
		RawBody []byte `contentType:"text/csv"`
	}
	type rows struct {
		Rows []OpeningRow `json:"rows"`
	}
	huma.Register(s.api, describe("read-opening", "POST", "/api/v1/openings/{of}", "Understand a file of the old books; nothing is kept"), func(ctx context.Context, in *input) (*struct{ Body rows }, error) {
		t, err := formats.ReadCSV(bytes.NewReader(in.RawBody))
		if err != nil {
			return nil, refusedProblem(posting.Refusals{{Field: "file", Rule: "unreadable", Text: sentence(err)}})
		}
		cur, err := s.book.Currency(ctx)
		if err != nil {
			return nil, problem(err)
		}
		read, err := s.book.ReadOpening(ctx, in.Of, t)
		out := &struct{ Body rows }{rows{[]OpeningRow{}}}
		for _, r := range read {
			out.Body.Rows = append(out.Body.Rows, openingRow(in.Of, r, cur))
		}
		return out, problem(err)
	})
}
