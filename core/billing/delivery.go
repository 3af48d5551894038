package billing

import (
	"fmt"

	"cleantally/core/day"
	"cleantally/core/posting"

	"github.com/shopspring/decimal"
)

// OrderShare is a quantity of a line of an order.
type OrderShare struct {
	Position int // of the line, counted from 1
	Quantity decimal.Decimal
	Serials  []string // of pieces of stock that bear numbers
}

// Delivery hands over what was ordered, in part or whole; its note is signed
// for and bears no prices (docs/rules.md, part 5). It posts nothing but stock:
// Dr cost of sales, Cr stock. More than is left may be delivered, once that is
// confirmed.
type Delivery struct {
	Number    string // "" to be given the next
	OrderID   int64
	Day       day.Day
	Reference string
	Note      string
	Lines     []OrderShare
}

// Plan returns the effect of recording the delivery.
func (d Delivery) Plan(f posting.Facts) (posting.Effect, error) {
	b := build(f)
	p, shares, order := d.share(b, posting.Delivery, posting.Delivered)
	for n, s := range shares {
		_, left, _ := b.LeftOf(s.Of, posting.Delivered, d.Day)
		if s.Quantity > max(left, 0) {
			b.Warn(fmt.Sprintf("lines[%d].quantity", n), "more than ordered", max(left, 0).Decimal().String(), "Only %s of %s is left to deliver, not %s.", max(left, 0).Decimal(), p.Lines[n].Text, s.Quantity.Decimal())
		}
		pieces := leaving(b, s.Of, 0, s.Quantity)
		if b.Use(fmt.Sprintf("lines[%d].quantity", n), s) {
			d.out(b, p, n, s.Of.Position, pieces)
		}
	}
	return b.Effect(fmt.Sprintf("Delivered of %s to %s by %s", order.Number, order.PartyName, p.Number))
}

// out takes what of a line leaves stock by the delivery out of it.
func (d Delivery) out(b *builder, p *posting.Paper, n, position int, pieces posting.Millionths) {
	l := p.Lines[n]
	if article, _ := b.Article(l.ArticleID); !article.Stocked {
		return
	}
	for at, named := range d.Lines {
		if named.Position == position {
			outOfStock(b, fmt.Sprintf("lines[%d].", at), p, n, pieces, named.Serials, d.Day)
		}
	}
}

// Cancellation cancels what of an order is not delivered or billed, which
// lowers the contract (docs/rules.md, part 5).
type Cancellation struct {
	Number  string // "" to be given the next
	OrderID int64
	Day     day.Day
	Reason  string
	Lines   []OrderShare // none: all that is left

	Advances []AdvanceCredit // what becomes of what was billed of it in advance
}

// Plan returns the effect of the cancellation.
func (c Cancellation) Plan(f posting.Facts) (posting.Effect, error) {
	b := posting.Build(f)
	return b.Effect(c.On(b))
}

// On plans the cancellation as a part of a larger step and tells what it does.
func (c Cancellation) On(larger *posting.Builder) string {
	b := on(larger)
	reason := giveReason(b, c.Reason)
	lines := c.Lines
	if order, ok := b.Facts.Paper(c.OrderID); ok && len(lines) == 0 {
		lines = leftOf(b, order, c.Day)
	}
	p, shares, order := Delivery{Number: c.Number, OrderID: c.OrderID, Day: c.Day, Note: reason, Lines: lines}.share(b, posting.Cancellation, posting.Cancelled)
	for n, s := range shares {
		field := fmt.Sprintf("lines[%d].quantity", n)
		if left := b.leftToCancel(s.Of, c.Day); s.Quantity > left {
			b.Refuse(field, "more than is left", max(left, 0).Decimal().String(), "Only %s of %s is left to cancel, not %s: the rest is delivered, billed or cancelled.", max(left, 0).Decimal(), p.Lines[n].Text, s.Quantity.Decimal())
			continue
		}
		b.Use(field, s)
	}
	for n, a := range c.Advances {
		a.Day, a.Reason = c.Day, c.Reason
		b.Inside(fmt.Sprintf("advances[%d].", n), func() { a.plan(b) })
	}
	return fmt.Sprintf("Cancelled of %s of %s by %s: %s", order.Number, order.PartyName, p.Number, p.Note)
}

// leftToCancel is what of an order's line is neither billed nor delivered.
func (b *builder) leftToCancel(of posting.Thing, d day.Day) posting.Millionths {
	_, billed, _ := b.LeftOf(of, posting.Cancelled, d)
	_, delivered, _ := b.LeftOf(of, posting.Delivered, d)
	return min(billed, delivered)
}

// leftOf is all of an order that can still be cancelled.
func leftOf(b *builder, order posting.Paper, d day.Day) []OrderShare {
	var all []OrderShare
	for _, l := range order.Lines {
		if left := b.leftToCancel(thingOf(order, l), d); left > 0 {
			all = append(all, OrderShare{Position: l.Position, Quantity: left.Decimal()})
		}
	}
	return all
}

// share begins a paper about quantities of an order's lines and returns the
// uses that it makes of them.
func (d Delivery) share(b *builder, k posting.Kind, as posting.UseKind) (*posting.Paper, []posting.Use, posting.Paper) {
	dayOK := b.PostingDay("day", d.Day)
	order, ok := b.ordered("order", d.OrderID, posting.Order, 0)
	if ok && dayOK && d.Day < order.Day {
		b.Refuse("day", "before the paper", string(order.Day), "%s is dated %s, so nothing of it is %s before. Use that day or later.", order.Number, order.Day.Show(), as)
		ok = false
	}
	p := posting.Paper{Kind: k, Number: d.Number, Day: d.Day, PartyID: order.PartyID, PartyName: order.PartyName, PartyAddress: order.PartyAddress, JobID: order.JobID, Title: posting.Sentence(string(as)) + " of " + order.Number,
		Reference: d.Reference, Note: d.Note, SourceID: d.OrderID}
	var of []posting.Thing
	seen := map[int]bool{}
	for n, l := range d.Lines {
		field := fmt.Sprintf("lines[%d].", n)
		switch {
		case !ok:
			continue
		case l.Position < 1 || l.Position > len(order.Lines) || seen[l.Position]:
			b.Refuse(field+"position", "missing", "", "Line %d names no line of %s, or one that stands here already.", n+1, order.Number)
			continue
		case !l.Quantity.IsPositive() || l.Quantity.GreaterThan(decimal.New(1, 12)) || !l.Quantity.Equal(l.Quantity.Round(6)):
			b.Refuse(field+"quantity", "above nil", "0", "Line %d: the quantity is above nil, with at most 6 places.", n+1)
			continue
		}
		seen[l.Position] = true
		from := order.Lines[l.Position-1]
		of = append(of, thingOf(order, from))
		p.Lines = append(p.Lines, posting.PaperLine{Position: len(p.Lines) + 1, ArticleID: from.ArticleID, Text: from.Text, Unit: from.Unit, Quantity: l.Quantity, TaxCodeID: from.TaxCodeID})
	}
	own := b.Paper(p)
	if ok && len(d.Lines) == 0 {
		b.Refuse("lines", "missing", "", "Say how much of which line.")
	}
	var uses []posting.Use
	for n, thing := range of {
		q := posting.InMillionths(own.Lines[n].Quantity)
		uses = append(uses, posting.Use{Of: thing, As: as, Day: d.Day, By: posting.LineRef{PaperID: own.ID, Position: n + 1}, Quantity: q, Part: b.PartOf(thing, as, q, d.Day)})
	}
	return own, uses, order
}
