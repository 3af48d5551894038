package billing

import (
	"fmt"
	"strings"

	"cleantally/core/day"
	"cleantally/core/money"
	"cleantally/core/posting"

	"github.com/shopspring/decimal"
)

// Quote offers work at a price, through a day. It posts nothing. A new version
// keeps the number and counts up; what was sent before stays readable
// (docs/rules.md, part 5).
type Quote struct {
	Number          string // "" to be given the next
	PartyID         int64
	JobID           int64
	Day             day.Day
	Currency        string          // ISO 4217; "" for the firm's own
	Rate            decimal.Decimal // of Currency; nil for that of the day
	Holds           day.Day         // the day through which it holds; "" for no such day
	RevisesID       int64           // the version that it takes the place of; 0 for a first
	Reference       string
	Note            string
	Lines           []posting.Line
	Includes        bool // prices include tax
	DiscountPercent decimal.Decimal
	Discount        money.Amount
}

// Plan returns the effect of recording the quote.
func (q Quote) Plan(f posting.Facts) (posting.Effect, error) {
	b := build(f)
	own := posting.Paper{Number: q.Number, PartyID: q.PartyID, Day: q.Day, Currency: q.Currency, Rate: q.Rate, JobID: q.JobID, Reference: q.Reference, Note: q.Note, SourceID: q.RevisesID, Offer: posting.Offer{Holds: q.Holds, Version: 1}}
	if q.RevisesID != 0 {
		if before, ok := b.ordered("revises", q.RevisesID, posting.Quote, q.PartyID); ok {
			b.newest(before)
			own.Version = before.Version + 1
			first, _, _ := strings.Cut(before.Number, "/")
			own.Number = fmt.Sprintf("%s/%d", first, own.Version)
		}
	}
	p := b.offered(posting.Quote, own, posting.Lines{Lines: q.Lines, Includes: q.Includes, DiscountPercent: q.DiscountPercent, Discount: q.Discount}, "a quote", "what is offered")
	if _, err := day.Parse(string(q.Holds)); q.Holds != "" && (err != nil || q.Holds < q.Day) {
		b.Refuse("holds", "before the paper", string(q.Day), "A quote holds through its own day, %s, or a later one.", q.Day.Show())
	}
	return b.Effect(fmt.Sprintf("Recorded quote %s for %s, %s", p.Number, p.PartyName, b.Currency().Show(p.Total)))
}

// newest refuses what is done with a version of a quote that a newer one has
// taken the place of.
func (b *builder) newest(q posting.Paper) {
	if later := b.facts.StandsOn(q.ID, posting.Quote); len(later) > 0 {
		b.Refuse("quote", "a newer version", later[0].Number, "%s has taken the place of %s. Go on from that one.", later[0].Number, q.Number)
	}
}

// accept checks that a quote can be accepted on a day, and writes what of its
// lines the order takes.
func (o Order) accept(b *builder, p *posting.Paper) {
	q, ok := b.ordered("quote", o.QuoteID, posting.Quote, o.PartyID)
	if !ok {
		return
	}
	b.newest(q)
	if !b.OneCurrency("quote", q, "ordered") {
		return
	}
	if reason, lost := b.facts.Said(q.ID, "lost"); lost {
		b.Refuse("quote", "lost", reason, "%s was noted as lost: %s. Write a new version of it, or an order without it.", q.Number, reason)
	}
	if q.Holds != "" && q.Holds < o.Day {
		b.Warn("quote", "past its day", string(q.Holds), "%s held through %s.", q.Number, q.Holds.Show())
	}
	taken := false
	for n, l := range o.Lines {
		if l.Of.PaperID != q.ID {
			continue
		}
		field := fmt.Sprintf("lines[%d].", n)
		if l.Of.Position < 1 || l.Of.Position > len(q.Lines) {
			b.Refuse(field+"of", "missing", "", "Line %d: %s has no such line.", n+1, q.Number)
			continue
		}
		taken = true
		of := thingOf(q, q.Lines[l.Of.Position-1])
		quantity := posting.InMillionths(l.Quantity)
		_, left, _ := b.LeftOf(of, posting.Accepted, o.Day)
		if quantity > left {
			b.Refuse(field+"quantity", "accepted already", max(left, 0).Decimal().String(), "Only %s of line %d of %s is not ordered yet, not %s.", max(left, 0).Decimal(), l.Of.Position, q.Number, l.Quantity)
			continue
		}
		if quantity > 0 {
			b.Use(field+"quantity", posting.Use{Of: of, As: posting.Accepted, Day: o.Day, By: posting.LineRef{PaperID: p.ID, Position: n + 1}, Quantity: quantity, Part: b.PartOf(of, posting.Accepted, quantity, o.Day)})
		}
	}
	if !taken {
		b.Refuse("lines", "nothing accepted", q.Number, "No line of %s is accepted. Take one, or write the order without the quote.", q.Number)
	}
}
