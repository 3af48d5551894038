package billing

import (
	"fmt"

	"cleantally/core/day"
	"cleantally/core/money"
	"cleantally/core/posting"

	"github.com/shopspring/decimal"
)

// ClaimLine is what is done to date of a line of an order: a share, or, of a
// job that is measured, a quantity.
type ClaimLine struct {
	OrderID  int64
	Position int // counted from 1
	Percent  decimal.Decimal
	Quantity decimal.Decimal
}

// byLine works a claim out line by line: what is done of each to date, less what
// was claimed of it before.
func (c Claim) byLine(b *builder, w *worked) (money.Amount, string) {
	cur := b.Currency()
	before := b.Refusals()
	if c.ToDate != 0 || !c.Percent.IsZero() {
		b.Refuse("percent", "one of them", "100", "Say what is done of each line, or of the whole contract, not both.")
	}
	var this, toDate money.Amount
	lines := w.orderLines(b)
	seen := map[posting.LineRef]bool{}
	for n, l := range c.Lines {
		field := fmt.Sprintf("lines[%d].", n)
		at := posting.LineRef{PaperID: l.OrderID, Position: l.Position}
		line, ok := lines[at]
		if !ok || seen[at] {
			b.Refuse(field+"percent", "missing", "", "Line %d: there is no such line in the orders of this job, or it stands here twice.", n+1)
			continue
		}
		seen[at] = true
		done, whole, ok := l.done(b, field, line)
		if !ok {
			continue
		}
		claimed := whole.billed
		add := done - claimed
		part := w.part(thingOf(line.order, line.PaperLine), line.PaperLine)
		if l.Quantity.GreaterThan(whole.pieces) {
			c.measure(b, w, field, l, line, whole, part)
		}
		switch {
		case add < 0:
			b.Refuse(field+"percent", "less than before", cur.Format(claimed), "%s of %s was claimed before, more than what is done. Credit the difference on the latest claim.", cur.Show(claimed), line.Text)
			continue
		case add > max(part.left.Net(), 0):
			b.Refuse(field+"percent", "more than is left", cur.Format(part.left.Net()), "Only %s of %s in %s is left to claim, not %s.", cur.Show(part.left.Net()), line.Text, line.order.Number, cur.Show(add))
			continue
		}
		this += add
		toDate += done
		part.this = add
	}
	if b.Refusals() > before {
		return 0, ""
	}
	if this == 0 {
		b.Refuse("lines", "nothing to claim", cur.Format(toDate), "%s was claimed before, so nothing is left to claim of that.", cur.Show(toDate))
		return 0, ""
	}
	return c.certified(b, this, fmt.Sprintf("Work to date by lines %s, less claimed before %s: %s", cur.Show(toDate), cur.Show(toDate-this), cur.Show(this)))
}

// An orderedLine is a line of one of the job's orders, with what became of it.
type orderedLine struct {
	OrderLine
	order posting.Paper
}

// orderLines are the lines of the contract's orders, each looked at once.
func (w *worked) orderLines(b *builder) map[posting.LineRef]orderedLine {
	all := map[posting.LineRef]orderedLine{}
	for _, o := range w.orders {
		for _, l := range OrderLines(b.facts, o, day.EndOfTime) {
			all[posting.LineRef{PaperID: o.ID, Position: l.Position}] = orderedLine{l, o}
		}
	}
	return all
}

// measure takes what is measured beyond the order for delivered, once that is
// confirmed: it becomes a variation that is agreed on.
func (c Claim) measure(b *builder, w *worked, field string, l ClaimLine, line orderedLine, whole remaining, part *contractPart) {
	q := posting.InMillionths(l.Quantity)
	b.Warn(field+"quantity", "more than ordered", whole.pieces.String(), "Only %s of %s is ordered, not %s: what is more becomes an agreed variation.", whole.pieces, line.Text, l.Quantity)
	if more := q - line.Delivered; more > 0 {
		w.measured = append(w.measured, posting.Use{Of: part.of, As: posting.Delivered, Day: c.Day, Quantity: more, Part: b.PartOf(part.of, posting.Delivered, more, c.Day)})
	}
	part.pcs = q - line.Billed
	part.left = b.PartOf(part.of, posting.Billed, part.pcs, c.Day)
}

// remaining is what of a line stands, without what was cancelled, and what of
// it was billed, net of credits.
type remaining struct {
	net, billed money.Amount
	pieces      decimal.Decimal
}

// done is what is done of a line to date, net: a share of what stands of it, or
// a quantity at its price.
func (l ClaimLine) done(b *builder, field string, line orderedLine) (money.Amount, remaining, bool) {
	cur := b.Currency()
	r := remaining{
		net:    line.Part().Net() - line.Used[posting.Cancelled].Net(),
		billed: line.Used[posting.Billed].Net(),
		pieces: line.Quantity.Sub(line.Cancelled.Decimal()),
	}
	switch {
	case l.Percent.IsZero() == l.Quantity.IsZero():
		b.Refuse(field+"percent", "one of them", "100", "Say a share or a quantity of %s that is done to date.", line.Text)
		return 0, r, false
	case l.Percent.IsNegative() || l.Percent.GreaterThan(decimal.New(100, 0)) || !money.Fits(l.Percent, 4):
		b.Refuse(field+"percent", "out of bounds", "100", "What is done of %s is a share from 0 to 100 %%, with at most 4 places.", line.Text)
		return 0, r, false
	case l.Quantity.IsNegative() || !money.Fits(l.Quantity, 6) || l.Quantity.GreaterThan(decimal.New(1, 12)):
		b.Refuse(field+"quantity", "out of bounds", "0", "What is done of %s is a quantity from nil on, with at most 6 places.", line.Text)
		return 0, r, false
	case !l.Percent.IsZero():
		return cur.Round(money.Percent(cur.Decimal(r.net), l.Percent)), r, true
	}
	if !r.pieces.IsPositive() {
		b.Refuse(field+"quantity", "nothing is left", "0", "%s is cancelled, so nothing of it is done.", line.Text)
		return 0, r, false
	}
	return cur.Round(cur.Decimal(r.net).Mul(l.Quantity).DivRound(r.pieces, 16)), r, true
}

// chosen are the lines of a claim by lines, of which so much is billed in all.
func (w *worked) chosen(this money.Amount) []posting.Line {
	weights := make([]money.Amount, len(w.parts))
	for n, p := range w.parts {
		weights[n] = p.this
	}
	shares, err := money.Share(this, weights)
	if err != nil || this <= 0 {
		return nil
	}
	var lines []posting.Line
	for n, p := range w.parts {
		if shares[n] > 0 {
			lines = append(lines, p.claimed(shares[n]))
		}
	}
	return lines
}
