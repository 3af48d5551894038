package web

import (
	"context"
	"fmt"

	"cleantally/core/billing"
	"cleantally/core/buying"
	"cleantally/core/day"
	"cleantally/core/ledger"
	"cleantally/core/money"
	"cleantally/core/posting"
	"cleantally/core/settling"
	"cleantally/store"

	"github.com/danielgtaylor/huma/v2"
	"github.com/shopspring/decimal"
)

// CreditBody is a credit note of an invoice, or one on its own, as the API takes
// it.
type CreditBody struct {
	InCurrency
	Number        string           `json:"number,omitempty" doc:"Empty to be given the next"`
	Paper         int64            `json:"paper,omitempty" doc:"The invoice; left out, it is a credit on its own"`
	Day           string           `json:"day,omitempty"`
	Cause         string           `json:"cause,omitempty" doc:"return, price, fault, goodwill, cancellation, other"`
	Text          string           `json:"text,omitempty" maxLength:"400" doc:"What is said of the cause"`
	Reference     string           `json:"reference,omitempty" maxLength:"200" doc:"Of a return"`
	Note          string           `json:"note,omitempty" maxLength:"4000"`
	What          string           `json:"what,omitempty" enum:"all,lines,work" doc:"What of the invoice: all that is left, lines of it, or so much of its work; left out, all"`
	Lines         []CreditLineBody `json:"lines,omitempty" maxItems:"500"`
	Work          string           `json:"work,omitempty" doc:"So much of the work, net; retention and deductions go along in the same share"`
	BillAgain     bool             `json:"billAgain,omitempty" doc:"What it takes of an order may be billed again; else the order and the contract are lowered"`
	FromRetention bool             `json:"fromRetention,omitempty" doc:"All of it comes off what is kept back"`
	GoodsBack     bool             `json:"goodsBack,omitempty" doc:"Of all that is left: its goods go back to stock"`
	Own           bool             `json:"own,omitempty" doc:"Set against what is open of the invoice itself, after all others"`
	SetAgainst    []ShareBody      `json:"setAgainst,omitempty" maxItems:"50" doc:"What it is set against first; without an amount as much as is open of both"`

	Customer int64             `json:"customer,omitempty" doc:"Of a credit on its own; else the invoice says whose it is"`
	Job      int64             `json:"job,omitempty"`
	Written  []CreditEntryBody `json:"written,omitempty" maxItems:"200" doc:"Of a credit on its own: what is given"`
	Refund   *GivenBackBody    `json:"refund,omitempty" doc:"What of it is set against nothing is given back at once"`
}

// CreditEntryBody is a line of a credit on its own.
type CreditEntryBody struct {
	Text    string `json:"text,omitempty" maxLength:"2000"`
	Account int64  `json:"account,omitempty" doc:"Of income, or of discounts"`
	TaxCode int64  `json:"taxCode,omitempty"`
	Amount  string `json:"amount,omitempty" doc:"Net"`
}

// GivenBackBody is money that goes back in the same step.
type GivenBackBody struct {
	Amount    string `json:"amount,omitempty" doc:"Empty: all that is left"`
	Bank      int64  `json:"bank,omitempty"`
	Method    string `json:"method,omitempty"`
	Cheque    string `json:"cheque,omitempty" doc:"Empty to be given the next"`
	Reference string `json:"reference,omitempty" maxLength:"200"`
}

// refunded makes the refund a part of a credit note.
func (b *GivenBackBody) refunded(p *parser, c billing.Credit) posting.Command {
	if b == nil {
		return c
	}
	return settling.CreditAndRefund{Credit: c, Refund: settling.GivenBack{Amount: p.amount("refund.amount", b.Amount), BankAccountID: b.Bank, Method: posting.Method(b.Method), Cheque: b.Cheque, Reference: b.Reference}}
}

// CreditLineBody is a line of the invoice and what of it is credited: one of
// the figures, or none for all that is left.
type CreditLineBody struct {
	Position int      `json:"position" doc:"Counted from 1"`
	Quantity string   `json:"quantity,omitempty"`
	Amount   string   `json:"amount,omitempty" doc:"As the invoice's prices are: net, or with tax"`
	Price    string   `json:"price,omitempty" doc:"The new price of a piece"`
	Back     string   `json:"back,omitempty" doc:"Pieces of the quantity that go back to stock; the rest is scrapped, or stays"`
	Serials  []string `json:"serials,omitempty" maxItems:"500" doc:"Of pieces that bear numbers and go back"`
	Account  int64    `json:"account,omitempty" doc:"Another than it was billed to"`
	TaxCode  int64    `json:"taxCode,omitempty" doc:"Another than it was billed with"`
	Tax      string   `json:"tax,omitempty" doc:"Another than its share of the tax"`
}

func (b CreditBody) command(p *parser) posting.Command {
	if b.Paper != 0 {
		b.InCurrency = InCurrency{}
	}
	defer p.begin(&b.InCurrency, b.Paper, b.Customer)()
	c := billing.Credit{Currency: b.Currency, Rate: p.rate("rate", b.Rate), Number: b.Number, PaperID: b.Paper, Day: p.day("day", b.Day), Cause: billing.Cause(b.Cause), Text: b.Text, Reference: b.Reference, Note: b.Note,
		Again: b.BillAgain, FromRetention: b.FromRetention, Back: b.GoodsBack && b.What != "lines" && b.What != "work", Own: b.Own}
	switch {
	case b.Paper == 0:
		c.PartyID, c.JobID, c.Back, c.Own = b.Customer, b.Job, false, false
		c.Again, c.FromRetention = false, false
		for n, l := range b.Written {
			c.Written = append(c.Written, posting.Line{Text: l.Text, AccountID: l.Account, TaxCodeID: l.TaxCode, Quantity: decimal.New(1, 0), UnitPrice: p.cur.Decimal(p.amount(fmt.Sprintf("written[%d].amount", n), l.Amount))})
		}
	case b.What == "lines":
		for n, l := range b.Lines {
			c.Lines = append(c.Lines, l.line(p, n))
		}
		if len(c.Lines) == 0 {
			p.refusals = append(p.refusals, posting.Notice{Field: "lines", Rule: "missing", Text: "Choose what of which line is credited."})
		}
	case b.What == "work":
		if c.Work = p.amount("work", b.Work); c.Work == 0 {
			p.refusals = append(p.refusals, posting.Notice{Field: "work", Rule: "missing", Text: "Say how much of the work is credited, net."})
		}
	}
	for n, s := range b.SetAgainst {
		c.SetAgainst = append(c.SetAgainst, billing.Against{Debit: posting.ItemRef(s.Item), Amount: p.amount(fmt.Sprintf("setAgainst[%d].amount", n), s.Amount), Most: s.Amount == ""})
	}
	return b.Refund.refunded(p, c)
}

func (b CreditLineBody) line(p *parser, n int) billing.CreditLine {
	field := fmt.Sprintf("lines[%d].", n)
	l := billing.CreditLine{Position: b.Position, Quantity: p.decimal(field+"quantity", b.Quantity, pricePlaces), Amount: p.amount(field+"amount", b.Amount), Back: p.decimal(field+"back", b.Back, pricePlaces), Serials: b.Serials,
		AccountID: b.Account, TaxCodeID: b.TaxCode, Tax: p.amountOrNone(field+"tax", b.Tax)}
	if b.Price != "" {
		price := p.decimal(field+"price", b.Price, pricePlaces)
		l.Price = &price
	}
	return l
}

func (c copier) credit(v billing.Credit, _ posting.Paper) CreditBody {
	b := CreditBody{InCurrency: c.in(v.Currency, v.Rate, v.PartyID), Paper: v.PaperID, Day: c.day(string(v.Day)), Cause: string(v.Cause), Text: v.Text, Reference: v.Reference, Note: v.Note, Work: c.amount(v.Work), BillAgain: v.Again, FromRetention: v.FromRetention, GoodsBack: v.Back, Own: v.Own, What: "all", Customer: v.PartyID, Job: v.JobID}
	for _, l := range v.Written {
		b.Written = append(b.Written, CreditEntryBody{l.Text, l.AccountID, l.TaxCodeID, c.cur.Format(c.cur.Round(l.UnitPrice))})
	}
	switch {
	case v.Work != 0:
		b.What = "work"
	case len(v.Lines) > 0:
		b.What = "lines"
	}
	for _, l := range v.Lines {
		line := CreditLineBody{Position: l.Position, Quantity: c.number(l.Quantity), Amount: c.amount(l.Amount), Back: c.number(l.Back), Serials: l.Serials, Account: l.AccountID, TaxCode: l.TaxCodeID}
		if l.Tax != nil {
			line.Tax = c.cur.Format(*l.Tax)
		}
		if l.Price != nil {
			line.Price = l.Price.String()
		}
		b.Lines = append(b.Lines, line)
	}
	if c.again {
		for _, a := range v.SetAgainst {
			b.SetAgainst = append(b.SetAgainst, ShareBody{int64(a.Debit), c.amount(a.Amount)})
		}
	}
	return b
}

// creditRefunded is a credit note with the money that went back with it.
func (c copier) creditRefunded(v settling.CreditAndRefund, p posting.Paper) CreditBody {
	b := c.credit(v.Credit, p)
	b.Refund = &GivenBackBody{Amount: c.amount(v.Refund.Amount), Bank: v.Refund.BankAccountID, Method: string(v.Refund.Method), Reference: v.Refund.Reference}
	return b
}

// CreditableLine is a line of an invoice with what of it is left to credit.
type CreditableLine struct {
	Position  int      `json:"position"`
	Text      string   `json:"text"`
	Unit      string   `json:"unit"`
	Billed    string   `json:"billed" doc:"The quantity"`
	Quantity  string   `json:"quantity" doc:"What of it is left to credit"`
	UnitPrice string   `json:"unitPrice"`
	Left      string   `json:"left" doc:"As the invoice's prices are: net, or with tax; below nil where it takes something off"`
	Takes     bool     `json:"takes" doc:"It takes off what was billed in advance"`
	GivenBack string   `json:"givenBack" doc:"What suppliers gave back of the costs that it bills, with the markup: proposed to be credited; empty for nothing"`
	Stocked   bool     `json:"stocked" doc:"Its goods are kept in stock: they can go back"`
	Out       string   `json:"out" doc:"Of what was sold: the pieces that left stock with it and did not come back; empty where none is kept there"`
	Serials   []string `json:"serials" doc:"Of those pieces, where they bear numbers"`
	Numbered  bool     `json:"numbered"`
	Account   int64    `json:"account" doc:"That it was billed to"`
	TaxCode   int64    `json:"taxCode" doc:"And its tax code"`
	TaxLeft   string   `json:"taxLeft" doc:"Of its tax, left to credit"`
	Fixed     bool     `json:"fixed" doc:"Its account and its tax stay as they were billed"`
}

// Creditable is what of an invoice is left to credit.
type Creditable struct {
	ID       int64            `json:"id"`
	Number   string           `json:"number"`
	Customer string           `json:"customer"`
	PartyID  int64            `json:"partyId"`
	Includes bool             `json:"includes"`
	Lines    []CreditableLine `json:"lines"`
	Work     string           `json:"work" doc:"Of the work, net"`
	Held     string           `json:"held" doc:"What is still kept back of it"`
	OfOrder  bool             `json:"ofOrder" doc:"A line of it bills an order"`
	Locked   string           `json:"locked" doc:"The end of the closed period that it lies in; empty where it does not"`
	Claim    bool             `json:"claim"`
}

type creditableInput struct {
	ID    int64  `path:"id"`
	Again int64  `query:"again" doc:"As it would be if this credit note were taken back, to write it again"`
	Day   string `query:"day" doc:"Left out, today"`
}

func (s *Server) registerCredits() {
	huma.Register(s.api, describe("creditable", "GET", "/api/v1/papers/{id}/creditable", "What of an invoice, or of a supplier's bill, is left to credit"), s.creditable)
}

func (s *Server) creditable(ctx context.Context, in *creditableInput) (*struct{ Body Creditable }, error) {
	p, d, err := s.lookingBack(ctx, in.Day)
	if err != nil {
		return nil, err
	}
	out := &struct{ Body Creditable }{}
	err = s.book.Without(ctx, s.user(ctx), in.Again, func(r *store.Reader) error {
		f, err := r.Facts(s.book.Today())
		if err != nil {
			return err
		}
		of, ok := f.Paper(in.ID)
		if !ok || of.Kind != posting.Invoice && of.Kind != posting.SupplierBill && of.Kind != posting.Expense {
			return orNotFound(f.Err())
		}
		if of.Kind != posting.Invoice {
			out.Body = leftToCredit(f, of, d, p.cur)
			return f.Err()
		}
		lines, work := billing.Creditable(f, of, d)
		out.Body = Creditable{ID: of.ID, Number: of.Number, Customer: of.PartyName, PartyID: of.PartyID, Includes: of.Includes, Lines: []CreditableLine{}, Work: p.cur.Format(work), Claim: of.Form == string(billing.StageForm)}
		if on := f.LockedThrough(); of.Day <= on {
			out.Body.Locked = string(on)
		}
		for _, l := range lines {
			left := l.Left.Net()
			if of.Includes {
				left = l.Left.Amount.Own
			}
			out.Body.OfOrder = out.Body.OfOrder || l.OfOrder
			back, gone := "", ""
			if l.Stocked {
				gone = dec(l.Gone.Quantity.Decimal())
			}
			if l.GivenBack > 0 {
				back = p.cur.Format(l.GivenBack)
			}
			out.Body.Lines = append(out.Body.Lines, CreditableLine{l.Position, l.Text, l.Unit, dec(l.Quantity), dec(l.Pieces.Decimal()), p.cur.Price(l.UnitPrice), p.cur.Format(left), l.Takes, back, l.Stocked, gone, l.Gone.Serials, l.Numbered, l.AccountID, l.TaxCodeID, p.cur.Format(l.Left.Tax.Own), l.Fixed})
		}
		var held money.Amount
		for _, i := range f.RetentionOf(of.ID) {
			if i.Register == ledger.Retention && i.Debit() {
				held += i.Left.Amount.Own
			}
		}
		out.Body.Held = p.cur.Format(held)
		return f.Err()
	})
	return out, problem(err)
}

// leftToCredit is what of a bill or an expense its supplier has not credited.
func leftToCredit(f posting.Facts, of posting.Paper, d day.Day, cur money.Currency) Creditable {
	out := Creditable{ID: of.ID, Number: of.Number, Customer: of.PartyName, PartyID: of.PartyID, Lines: []CreditableLine{}, Work: cur.Format(0), Held: cur.Format(0)}
	for _, l := range buying.LeftToCredit(f, of, d) {
		out.Lines = append(out.Lines, CreditableLine{l.Position, l.Text, l.Unit, dec(l.Quantity), dec(l.Pieces.Decimal()), cur.Price(l.UnitPrice), cur.Format(l.Left.Net()), false, "", l.Stocked, "", nil, false, l.AccountID, l.TaxCodeID, cur.Format(l.Left.Tax.Own), true})
	}
	return out
}
