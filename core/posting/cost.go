package posting

import (
	"cleantally/core/day"
	"cleantally/core/money"

	"github.com/shopspring/decimal"
)

// CostShare is a part of a cost that a line passes on.
type CostShare struct {
	PaperID  int64
	Position int              // of the line, counted from 1
	Amount   money.Amount     // of the cost; nil for all that waits
	Markup   *decimal.Decimal // percent; nil: the one it was bought with
}

// CostTake is what a line takes of a cost.
type CostTake struct {
	Of     Thing
	Part   Part
	Cost   money.Amount
	Markup decimal.Decimal
}

// Markup refuses a markup that would give a cost away or take none of it: −100 %
// and less, and what has too many places.
func (b *Builder) Markup(field string, n int, percent decimal.Decimal) {
	if !money.Fits(percent, 4) || percent.LessThanOrEqual(decimal.New(-100, 0)) || percent.GreaterThan(decimal.New(1000, 0)) {
		b.Refuse(field, "out of bounds", "-100", "Line %d: a markup is above −100 %% and at most 1,000 %%, with at most 4 places. What is not to be billed is said with a reason.", n)
	}
}

// OnDraft tells whether another draft has taken some of a thing.
func (b *Builder) OnDraft(t Thing) bool {
	for _, u := range b.Reserved(t.PaperID) {
		if u.Of == t && u.Amount.Own > 0 {
			return true
		}
	}
	return false
}

// Cost is a line that is passed on.
type Cost struct {
	Paper Paper
	Line  PaperLine
	Of    Thing
}

// CostOf returns a cost that is passed on, or refuses what is none.
func (b *Builder) CostOf(field string, paperID int64, position int) (Cost, bool) {
	p, ok := b.Facts.Paper(paperID)
	// What is only ordered is no cost yet, however it will be passed on.
	kind, _ := Describe(p.Kind)
	if !ok || !kind.PassesOn || position < 1 || position > len(p.Lines) || p.Lines[position-1].PassOn == KeptAsCost {
		b.Refuse(field, "missing", "", "There is no such cost to pass on. Choose another.")
		return Cost{}, false
	}
	l := p.Lines[position-1]
	if by, reversed := b.ReversedBy(p.ID); reversed {
		b.Refuse(field, "reversed", by, "%s was reversed by %s, so nothing of it is left.", p.Number, by)
		return Cost{}, false
	}
	return Cost{Paper: p, Line: l, Of: Thing{LineRef{p.ID, l.Position}, l.TaxCodeID}}, true
}

// Left is what of the cost waits on a day and from then on, with the tax that
// goes along; below nil what the supplier gave back past it.
func (c Cost) Left(b *Builder, d day.Day) Part {
	below := c.Below(b)
	if below.Amount.Own < 0 {
		return below
	}
	left, _, _ := b.LeftOf(c.Of, Billed, d)
	return left.Least
}

// Below is how far below nil the cost is since its supplier credited what was
// billed; nothing where it is not.
func (c Cost) Below(b *Builder) Part {
	left := c.Line.Part()
	for _, u := range b.Uses(c.Of.PaperID) {
		if u.Of == c.Of {
			left = left.Sub(u.Part)
		}
	}
	if left.Amount.Own >= 0 {
		return Part{}
	}
	return left
}

// DeductedTax is what of the tax inside a part of a bill was deducted as input
// tax: what joined the cost was not.
func DeductedTax(bill Paper, part CodePart) Worth {
	var all, input money.Amount
	for _, l := range bill.Lines {
		if l.TaxCodeID != part.TaxCodeID {
			continue
		}
		all += l.Tax.Own
		if !l.WithTax() {
			input += l.Tax.Own
		}
	}
	if input == all {
		return part.Tax
	}
	return Worth{money.Portion(input, max(part.Tax.Own, 0), all), money.Portion(input, max(part.Tax.Base, 0), all)}
}
