package web

import (
	"context"
	"errors"

	"cleantally/core/billing"
	"cleantally/core/day"
	"cleantally/core/money"
	"cleantally/store"

	"github.com/danielgtaylor/huma/v2"
)

// CreditRow is a credit note in the list of them; its amounts are told above
// nil.
type CreditRow struct {
	ID         int64  `json:"id"`
	Number     string `json:"number"`
	Day        string `json:"day"`
	CustomerID int64  `json:"customerId"`
	Customer   string `json:"customer"`
	JobID      int64  `json:"jobId"`
	Job        string `json:"job"`
	Cause      string `json:"cause" doc:"In a word; empty for that of a deposit invoice"`
	Reason     string `json:"reason"`
	Reference  string `json:"reference" doc:"Of the return"`
	InvoiceID  int64  `json:"invoiceId"`
	Invoice    string `json:"invoice" doc:"Empty for a credit on its own"`
	Net        string `json:"net"`
	Tax        string `json:"tax"`
	Total      string `json:"total"`
	Open       string `json:"open" doc:"That waits to be used"`
	State      string `json:"state"`
}

func creditRow(r store.CreditRow, _ day.Day, cur money.Currency) CreditRow {
	b := CreditRow{r.ID, r.Number, string(r.Day), r.PartyID, r.Party, r.JobID, r.Job, causeName(r.Cause), r.Reason, r.Reference, r.OfID, r.Of, cur.Format(r.Net), cur.Format(r.Tax), cur.Format(r.Total), cur.Format(r.Open), "used up"}
	switch {
	case r.ReversedBy != "":
		b.State = "reversed by " + r.ReversedBy
	case r.Open > 0 && r.Open < r.Total:
		b.State = "part used"
	case r.Open > 0:
		b.State = "not used"
	}
	return b
}

func causeName(cause string) string {
	if name := billing.Cause(cause).Words(); name != "" {
		return name
	}
	return "billed in advance"
}

// BackRow is what came back by one line of a credit note or a return.
type BackRow struct {
	ID         int64  `json:"id" doc:"Of the line, for the list alone"`
	Paper      int64  `json:"paper"`
	Kind       string `json:"kind"`
	Number     string `json:"number"`
	Day        string `json:"day"`
	CustomerID int64  `json:"customerId"`
	Customer   string `json:"customer"`
	OfID       int64  `json:"ofId"`
	Of         string `json:"of" doc:"The invoice or the order"`
	ArticleID  int64  `json:"articleId"`
	Article    string `json:"article"`
	Text       string `json:"text"`
	Unit       string `json:"unit"`
	Quantity   string `json:"quantity"`
	ToStock    string `json:"toStock" doc:"Of it"`
	Scrapped   string `json:"scrapped" doc:"Of it; empty where none is kept in stock"`
	Serials    string `json:"serials" doc:"Of what went to stock"`
	Cost       string `json:"cost" doc:"At which it came back"`
	Credited   string `json:"credited" doc:"Net"`
	Reason     string `json:"reason"`
	Reference  string `json:"reference"`
}

func backRow(r store.BackRow, _ day.Day, cur money.Currency) BackRow {
	b := BackRow{ID: r.PaperID*1000 + int64(r.Position), Paper: r.PaperID, Kind: string(r.Kind), Number: r.Number, Day: string(r.Day), CustomerID: r.PartyID, Customer: r.Party, OfID: r.OfID, Of: r.Of, ArticleID: r.ArticleID, Article: r.Article,
		Text: r.Text, Unit: r.Unit, Quantity: dec(r.Quantity), ToStock: dec(r.Back.Decimal()), Serials: r.Serials, Cost: cur.Format(r.Cost), Credited: cur.Format(r.Net), Reason: r.Reason, Reference: r.Reference}
	if r.Stocked {
		b.Scrapped = dec(r.Quantity.Sub(r.Back.Decimal()))
	}
	return b
}

// CreditedBy is what was credited of one cause, item, account, customer or
// month.
type CreditedBy struct {
	ID    int64  `json:"id" doc:"Of the item, account or customer; 0 where it has none"`
	Key   string `json:"key" doc:"A cause as lists are asked for it, a month as YYYY-MM"`
	Name  string `json:"name"`
	Notes int64  `json:"notes" doc:"How many credit notes"`
	Net   string `json:"net"`
	Tax   string `json:"tax"`
	Total string `json:"total"`
	Share string `json:"share" doc:"Of all, percent; empty where that means nothing"`
}

// Credited is what was credited over a span, with its sums.
type Credited struct {
	From  string       `json:"from"`
	To    string       `json:"to"`
	Rows  []CreditedBy `json:"rows"`
	Bars  []Bar        `json:"bars" doc:"The largest of them, for drawing"`
	Net   string       `json:"net"`
	Tax   string       `json:"tax"`
	Total string       `json:"total"`
}

type creditedInput struct {
	By   string `query:"by" enum:"cause,item,account,customer,month" default:"cause"`
	From string `query:"from" doc:"Left out, a year before the end"`
	To   string `query:"to" doc:"Left out, today"`
}

// mostBars bounds what is drawn.
const mostBars = 12

func (s *Server) credited(ctx context.Context, in *creditedInput) (*struct{ Body Credited }, error) {
	p, to, err := s.lookingBack(ctx, in.To)
	if err != nil {
		return nil, err
	}
	from, err := s.dayOr(in.From, to.Add(-364))
	if err != nil {
		return nil, problem(err)
	}
	rows, err := s.book.Read(ctx).CreditedBy(in.By, from, to)
	if err != nil {
		return nil, problem(err)
	}
	out := Credited{From: string(from), To: string(to), Rows: []CreditedBy{}, Bars: []Bar{}}
	var net, tax money.Amount
	for _, r := range rows {
		net, tax = net+r.Net, tax+r.Tax
	}
	for n, r := range rows {
		row := CreditedBy{ID: r.ID, Key: r.Name, Name: r.Name, Notes: r.Notes, Net: p.cur.Format(r.Net), Tax: p.cur.Format(r.Tax), Total: p.cur.Format(r.Net + r.Tax), Share: marginPercent(r.Net, net)}
		if in.By == "cause" {
			row.Name = causeName(r.Name)
		}
		out.Rows = append(out.Rows, row)
		if n < mostBars || in.By == "month" {
			length, _ := p.cur.Decimal(r.Net).Float64()
			out.Bars = append(out.Bars, Bar{From: row.Name, To: row.Name, Amount: row.Net, Length: length})
		}
	}
	out.Net, out.Tax, out.Total = p.cur.Format(net), p.cur.Format(tax), p.cur.Format(net+tax)
	return &struct{ Body Credited }{out}, nil
}

// span is a stretch of days that a list is narrowed to.
func (s *Server) span(from, to string) (day.Day, day.Day, error) {
	f, err1 := s.dayOr(from, "")
	t, err2 := s.dayOr(to, "")
	return f, t, errors.Join(err1, err2)
}

func (s *Server) registerCreditLists() {
	huma.Register(s.api, describe("credited", "GET", "/api/v1/credited", "What was credited over a span, by cause, item, account, customer or month"), s.credited)
	s.creditList()
	s.backList()
}

func (s *Server) creditList() {
	type input struct {
		ListInput
		In       string `query:"in" enum:"number,customer,invoice,job,reason,reference,line,amount" doc:"The column that is searched; left out, all of the paper"`
		State    string `query:"state" enum:"waiting,used,reversed"`
		Cause    string `query:"cause" enum:"return,price,fault,goodwill,cancellation,other"`
		Customer int64  `query:"customer"`
		From     string `query:"from"`
		To       string `query:"to"`
	}
	type row = CreditRow
	lister[input, store.CreditRow, row]{
		id: "credit-notes", path: "/api/v1/credit-notes", summary: "Credit notes, and what of them waits to be used",
		head: func(in *input) ListInput { return in.ListInput },
		find: func(ctx context.Context, in *input, q store.Query) (store.Page[store.CreditRow], error) {
			from, to, err1 := s.span(in.From, in.To)
			d, err2 := s.asOf(in.AsOf)
			if err := errors.Join(err1, err2); err != nil {
				return store.Page[store.CreditRow]{}, err
			}
			f := store.CreditFilter{Search: in.Search, Amount: s.amountIn(ctx, in.Search), In: in.In, State: in.State, Cause: in.Cause, PartyID: in.Customer, From: from, To: to}
			return s.book.Read(ctx).Credits(f, q, d)
		},
		row: creditRow, key: func(r row) int64 { return r.ID }, sums: []string{"net", "tax", "total", "open"},
		columns: []col[row]{textCol("Day", func(r row) string { return r.Day }), textCol("Number", func(r row) string { return r.Number }), textCol("Customer", func(r row) string { return r.Customer }), textCol("Invoice", func(r row) string { return r.Invoice }),
			textCol("Job", func(r row) string { return r.Job }), textCol("Why", func(r row) string { return r.Cause }), textCol("Reason", func(r row) string { return r.Reason }), textCol("Reference", func(r row) string { return r.Reference }),
			textCol("State", func(r row) string { return r.State }), figureCol("Net", func(r row) string { return r.Net }), figureCol("Tax", func(r row) string { return r.Tax }), figureCol("Total", func(r row) string { return r.Total }), figureCol("Not used", func(r row) string { return r.Open })},
	}.register(s)
}

func (s *Server) backList() {
	type input struct {
		ListInput
		Where   string `query:"where" enum:"stock,scrap" doc:"What went there"`
		Article int64  `query:"article"`
		From    string `query:"from"`
		To      string `query:"to"`
	}
	type row = BackRow
	lister[input, store.BackRow, row]{
		id: "returned-goods", path: "/api/v1/returned-goods", summary: "The register of returns: goods that came back, line by line",
		head: func(in *input) ListInput { return in.ListInput },
		find: func(ctx context.Context, in *input, q store.Query) (store.Page[store.BackRow], error) {
			from, to, err1 := s.span(in.From, in.To)
			d, err2 := s.asOf(in.AsOf)
			if err := errors.Join(err1, err2); err != nil {
				return store.Page[store.BackRow]{}, err
			}
			return s.book.Read(ctx).CameBack(store.BackFilter{Search: in.Search, Where: in.Where, ArticleID: in.Article, From: from, To: to}, q, d)
		},
		row: backRow, key: func(r row) int64 { return r.ID }, sums: []string{"cost", "credited"},
		columns: []col[row]{textCol("Day", func(r row) string { return r.Day }), textCol("Number", func(r row) string { return r.Number }), textCol("Customer", func(r row) string { return r.Customer }), textCol("Of", func(r row) string { return r.Of }),
			textCol("Article", func(r row) string { return r.Article }), textCol("What", func(r row) string { return r.Text }), figureCol("Quantity", func(r row) string { return r.Quantity }), figureCol("To stock", func(r row) string { return r.ToStock }),
			figureCol("Scrapped", func(r row) string { return r.Scrapped }), textCol("Numbers", func(r row) string { return r.Serials }), figureCol("Cost", func(r row) string { return r.Cost }), figureCol("Credited", func(r row) string { return r.Credited }),
			textCol("Reason", func(r row) string { return r.Reason }), textCol("Reference", func(r row) string { return r.Reference })},
	}.register(s)
}
