package billing

import (
	"fmt"

	"cleantally/core/day"
	"cleantally/core/master"
	"cleantally/core/money"
	"cleantally/core/posting"
	"cleantally/core/tax"

	"github.com/shopspring/decimal"
)

// Order is what a customer ordered, line by line. It posts nothing; its net is
// part of the job's contract sum. Each line keeps what of it was delivered,
// billed and cancelled (docs/rules.md, part 5).
type Order struct {
	Number          string // "" to be given the next
	PartyID         int64
	JobID           int64
	Day             day.Day
	Currency        string          // ISO 4217; "" for the firm's own
	Rate            decimal.Decimal // of Currency; nil for that of the day
	QuoteID         int64           // the quote that was accepted; 0 for none
	Reference       string
	Note            string
	Lines           []posting.Line
	Includes        bool // prices include tax
	DiscountPercent decimal.Decimal
	Discount        money.Amount
}

// Plan returns the effect of recording the order.
func (o Order) Plan(f posting.Facts) (posting.Effect, error) {
	b := build(f)
	p := o.On(b.Builder)
	if o.QuoteID != 0 {
		o.accept(b, p)
	}
	return b.Effect(fmt.Sprintf("Recorded order %s of %s, %s", p.Number, p.PartyName, b.Currency().Show(p.Total)))
}

// On records the order as a part of a larger step.
func (o Order) On(b *posting.Builder) *posting.Paper {
	return on(b).offered(posting.Order, posting.Paper{Number: o.Number, PartyID: o.PartyID, Day: o.Day, Currency: o.Currency, Rate: o.Rate, JobID: o.JobID, Reference: o.Reference, Note: o.Note, SourceID: o.QuoteID},
		posting.Lines{Lines: o.Lines, Includes: o.Includes, DiscountPercent: o.DiscountPercent, Discount: o.Discount}, "an order", "what was ordered")
}

// offered begins a paper that posts nothing and says in lines what is offered
// or ordered.
func (b *builder) offered(k posting.Kind, own posting.Paper, in posting.Lines, what, write string) *posting.Paper {
	if b.PostingDay("day", own.Day) {
		b.In(own.Currency, own.Rate, own.Day)
	}
	party, _ := b.Customer("party", own.PartyID)
	b.JobOf("job", own.JobID, own.PartyID)
	in.Day, in.PartyID = own.Day, own.PartyID
	lines, sums := b.Lines(in)
	own.Includes, own.Currency, own.Rate = in.Includes, "", decimal.Zero // of what is in hand
	p := b.Paper(head(k, party, lines, sums, own))
	if len(in.Lines) == 0 {
		b.Refuse("lines", "missing", "", "%s needs a line. Write %s.", posting.Sentence(what), write)
	} else if !b.Refused() {
		b.AmountAboveNil("lines", sums.Total, "the total of "+what)
	}
	b.aboveNil(lines)
	return p
}

// head is a paper of what bills or will be billed: what the lines come to.
func head(k posting.Kind, party master.Party, lines []posting.PaperLine, s tax.Sums, p posting.Paper) posting.Paper {
	p.Kind, p.PartyID, p.PartyName, p.PartyAddress, p.Lines, p.Total = k, party.ID, party.Name, party.Printed(), lines, s.Total
	if len(lines) > 0 && p.Title == "" {
		p.Title = lines[0].Text
	}
	p.Discount, p.Net, p.Tax, p.Rounding = s.Discount, s.Net, s.Tax, s.Rounding
	return p
}

// aboveNil refuses lines that could not be delivered or billed piece by piece.
func (b *builder) aboveNil(lines []posting.PaperLine) {
	for n, l := range lines {
		if !l.Quantity.IsPositive() || l.Net.Own < 0 {
			b.Refuse(fmt.Sprintf("lines[%d].quantity", n), "above nil", "0", "Line %d: what is ordered has a quantity above nil, and a price that is not below it.", n+1)
		}
	}
}
