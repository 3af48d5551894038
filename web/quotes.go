package web

import (
	"fmt"

	"cleantally/core/billing"
	"cleantally/core/money"
	"cleantally/core/posting"
	"cleantally/core/settling"
)

// QuoteBody is what is offered, as the API takes it.
type QuoteBody struct {
	InCurrency
	Number          string            `json:"number,omitempty" doc:"Empty to be given the next"`
	Customer        int64             `json:"customer,omitempty"`
	Job             int64             `json:"job,omitempty"`
	Day             string            `json:"day,omitempty"`
	Holds           string            `json:"holds,omitempty" doc:"The day through which it holds"`
	Revises         int64             `json:"revises,omitempty" doc:"The version that it takes the place of"`
	Reference       string            `json:"reference,omitempty" maxLength:"200"`
	Note            string            `json:"note,omitempty" maxLength:"4000"`
	Includes        bool              `json:"includes,omitempty" doc:"Prices include tax"`
	DiscountPercent string            `json:"discountPercent,omitempty"`
	Discount        string            `json:"discount,omitempty"`
	Lines           []InvoiceLineBody `json:"lines,omitempty" maxItems:"500"`
}

func (b QuoteBody) command(p *parser) posting.Command {
	defer p.begin(&b.InCurrency, b.Revises, b.Customer)()
	q := billing.Quote{Currency: b.Currency, Rate: p.rate("rate", b.Rate), Number: b.Number, PartyID: b.Customer, JobID: b.Job, Day: p.day("day", b.Day), Holds: p.day("holds", b.Holds), RevisesID: b.Revises, Reference: b.Reference, Note: b.Note, Includes: b.Includes,
		DiscountPercent: p.decimal("discount", b.DiscountPercent, percentPlaces), Discount: p.amount("discount", b.Discount)}
	for i, l := range b.Lines {
		q.Lines = append(q.Lines, l.line(p, i))
	}
	return q
}

// OrderShareBody is a quantity of a line of an order.
type OrderShareBody struct {
	Position int      `json:"position" doc:"Of the line of the order, counted from 1"`
	Quantity string   `json:"quantity"`
	Serials  []string `json:"serials,omitempty" maxItems:"500" doc:"Of pieces of stock that bear numbers"`
}

func orderShares(p *parser, all []OrderShareBody) []billing.OrderShare {
	var out []billing.OrderShare
	for i, l := range all {
		out = append(out, billing.OrderShare{Position: l.Position, Quantity: p.decimal(fmt.Sprintf("lines[%d].quantity", i), l.Quantity, pricePlaces), Serials: l.Serials})
	}
	return out
}

// DeliveryBody hands over what was ordered, as the API takes it.
type DeliveryBody struct {
	Number    string           `json:"number,omitempty" doc:"Empty to be given the next"`
	Order     int64            `json:"order,omitempty"`
	Day       string           `json:"day,omitempty"`
	Reference string           `json:"reference,omitempty" maxLength:"200"`
	Note      string           `json:"note,omitempty" maxLength:"4000"`
	Lines     []OrderShareBody `json:"lines,omitempty" maxItems:"500"`
}

func (b DeliveryBody) command(p *parser) posting.Command {
	return billing.Delivery{Number: b.Number, OrderID: b.Order, Day: p.day("day", b.Day), Reference: b.Reference, Note: b.Note, Lines: orderShares(p, b.Lines)}
}

// CancellationBody cancels what is left of an order, or what is not paid of a
// request for a deposit, as the API takes it.
type CancellationBody struct {
	Number  string           `json:"number,omitempty" doc:"Empty to be given the next"`
	Order   int64            `json:"order,omitempty"`
	Request int64            `json:"request,omitempty" doc:"In place of an order: a request for a deposit, of which all that is not paid is cancelled"`
	Day     string           `json:"day,omitempty"`
	Reason  string           `json:"reason,omitempty" maxLength:"400"`
	Lines   []OrderShareBody `json:"lines,omitempty" maxItems:"500" doc:"Of an order. None: all that is left"`

	Deposits []SplitBody         `json:"deposits,omitempty" maxItems:"50" doc:"What becomes of the deposits that were paid for it: given back, kept; what nobody speaks of stays held"`
	Advances []AdvanceCreditBody `json:"advances,omitempty" maxItems:"50" doc:"What becomes of what was billed of it in advance: each is credited, but for what is kept"`
}

// AdvanceCreditBody credits what of a deposit invoice was not deducted, as the
// API takes it.
type AdvanceCreditBody struct {
	Number     string `json:"number,omitempty" doc:"Empty to be given the next"`
	Paper      int64  `json:"paper,omitempty" doc:"The deposit invoice"`
	Day        string `json:"day,omitempty" doc:"Of a cancellation, that of it"`
	Reason     string `json:"reason,omitempty" maxLength:"400"`
	Keep       string `json:"keep,omitempty" doc:"Net, what of it is kept"`
	OutsideTax bool   `json:"outsideTax,omitempty" doc:"What is kept bears no tax"`
	Against    bool   `json:"against,omitempty" doc:"Set against what is open of the deposit invoice itself"`
}

func (b AdvanceCreditBody) credit(p *parser, prefix string) billing.AdvanceCredit {
	return billing.AdvanceCredit{Number: b.Number, PaperID: b.Paper, Day: p.day(prefix+"day", b.Day), Reason: b.Reason, Keep: p.amount(prefix+"keep", b.Keep), OutsideTax: b.OutsideTax, Against: b.Against}
}

func (b AdvanceCreditBody) command(p *parser) posting.Command { return b.credit(p, "") }

func (b CancellationBody) command(p *parser) posting.Command {
	if b.Request != 0 {
		if b.Order != 0 || len(b.Lines)+len(b.Deposits)+len(b.Advances) > 0 {
			p.refusals = append(p.refusals, posting.Notice{Field: "request", Rule: "one of them", Text: "A cancellation is of an order or of a request for a deposit, not of both."})
		}
		return billing.RequestCancellation{Number: b.Number, RequestID: b.Request, Day: p.day("day", b.Day), Reason: b.Reason}
	}
	c := billing.Cancellation{Number: b.Number, OrderID: b.Order, Day: p.day("day", b.Day), Reason: b.Reason, Lines: orderShares(p, b.Lines)}
	for i, a := range b.Advances {
		c.Advances = append(c.Advances, a.credit(p, fmt.Sprintf("advances[%d].", i)))
	}
	if len(b.Deposits) > 0 {
		off := settling.CallOff{Cancellation: c}
		for _, d := range b.Deposits {
			off.Deposits = append(off.Deposits, d.command(p).(settling.SplitDeposit))
		}
		return off
	}
	return c
}

// RequestBody asks for a deposit, as the API takes it.
type RequestBody struct {
	InCurrency
	Number    string `json:"number,omitempty" doc:"Empty to be given the next"`
	Customer  int64  `json:"customer,omitempty"`
	Job       int64  `json:"job,omitempty"`
	Day       string `json:"day,omitempty"`
	Due       string `json:"due,omitempty" doc:"The day to pay by"`
	Reference string `json:"reference,omitempty" maxLength:"200"`
	Note      string `json:"note,omitempty" maxLength:"4000"`
	Of        int64  `json:"of,omitempty" doc:"The order or the quote of which a share is asked for"`
	Percent   string `json:"percent,omitempty" doc:"A share of it"`
	Amount    string `json:"amount,omitempty" doc:"Or an amount"`
}

func (b RequestBody) command(p *parser) posting.Command {
	defer p.begin(&b.InCurrency, b.Of, b.Customer)()
	return billing.Request{Currency: b.Currency, Rate: p.rate("rate", b.Rate), Number: b.Number, PartyID: b.Customer, JobID: b.Job, Day: p.day("day", b.Day), Due: p.day("due", b.Due), Reference: b.Reference, Note: b.Note, OfID: b.Of,
		Percent: p.decimal("percent", b.Percent, percentPlaces), Amount: p.amount("amount", b.Amount)}
}

// QuoteLeft is a quote as it was written, to be ordered or written once more.
type QuoteLeft struct {
	ID        int64             `json:"id"`
	Number    string            `json:"number"`
	Reference string            `json:"reference"`
	Note      string            `json:"note"`
	Includes  bool              `json:"includes"`
	Lines     []InvoiceLineBody `json:"lines" doc:"All of them, as they were written"`
	Left      []InvoiceLineBody `json:"left" doc:"What is not ordered of each"`
}

// quoteOf adds the quote that a paper is about. Its lines come at the price
// that they were offered at, their share of the paper's discount in it.
func quoteOf(b *Blank, f posting.Facts, id int64, cur money.Currency) {
	q, ok := f.Paper(id)
	if !ok || q.Kind != posting.Quote {
		return
	}
	b.Customer, b.Job, cur = q.PartyID, q.JobID, cur.In(q.Currency)
	out := &QuoteLeft{ID: q.ID, Number: q.Number, Reference: q.Reference, Note: q.Note, Includes: q.Includes}
	used := map[int]posting.Millionths{}
	for _, u := range f.Uses(q.ID) {
		used[u.Of.Position] += u.Quantity
	}
	for _, l := range q.Lines {
		line := InvoiceLineBody{Article: l.ArticleID, Text: l.Text, Unit: l.Unit, Quantity: dec(l.Quantity), UnitPrice: cur.Price(l.UnitPrice), DiscountPercent: percentOrNothing(l.DiscountPercent), TaxCode: l.TaxCodeID, Account: l.AccountID}
		if l.Discount != 0 {
			line.Discount = cur.Format(l.Discount)
		}
		out.Lines = append(out.Lines, line)
		if left := posting.InMillionths(l.Quantity) - used[l.Position]; left > 0 {
			line.Quantity, line.Quote, line.QuoteLine = dec(left.Decimal()), q.ID, l.Position
			out.Left = append(out.Left, line)
		}
	}
	b.Quote = out
}
