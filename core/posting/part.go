package posting

import (
	"cmp"
	"slices"

	"cleantally/core/day"
	"cleantally/core/money"
)

// Worth is an amount in its own currency and in the firm's, in minor units of
// each. In the firm's own currency both are the same.
type Worth struct{ Own, Base money.Amount }

// Firm is an amount in the firm's own currency.
func Firm(a money.Amount) Worth { return Worth{a, a} }

// Add returns the sum of two worths in the same currency.
func (w Worth) Add(o Worth) Worth { return Worth{w.Own + o.Own, w.Base + o.Base} }

// Neg returns the opposite.
func (w Worth) Neg() Worth { return Worth{-w.Own, -w.Base} }

// times is the worth, or its opposite where the sign is below nil.
func (w Worth) times(sign money.Amount) Worth { return Worth{sign * w.Own, sign * w.Base} }

func (w Worth) least(o Worth) Worth { return Worth{min(w.Own, o.Own), min(w.Base, o.Base)} }

// Part is an amount that stands, goes or is left, and the tax of one code
// inside it. It is how everything is told that can be used up.
type Part struct{ Amount, Tax Worth }

// Of is a part in the firm's own currency: an amount and the tax inside.
func Of(amount, tax money.Amount) Part { return Part{Firm(amount), Firm(tax)} }

// Add returns the sum of two parts.
func (p Part) Add(o Part) Part { return Part{p.Amount.Add(o.Amount), p.Tax.Add(o.Tax)} }

// Neg returns the opposite part.
func (p Part) Neg() Part { return Part{p.Amount.Neg(), p.Tax.Neg()} }

// Sub returns what is left of p without o.
func (p Part) Sub(o Part) Part { return p.Add(o.Neg()) }

// Net is the part without the tax inside, in its own currency.
func (p Part) Net() money.Amount { return p.Amount.Own - p.Tax.Own }

// Take returns what goes along when an amount, in the part's own currency, is
// taken out of what is left: portions of the tax inside and of the base values
// (docs/rules.md, part 2). The last takes all. Both are above nil.
func (p Part) Take(own money.Amount) Part {
	left := p.Amount.Own
	return Part{
		Amount: Worth{own, money.Portion(own, p.Amount.Base, left)},
		Tax:    Worth{money.Portion(own, p.Tax.Own, left), money.Portion(own, p.Tax.Base, left)},
	}
}

// Share is the portion of each of its amounts that goes along with so much of a
// whole in another currency, of which the part is worth all: a cost that was bought
// abroad with the line that passes it on.
func (p Part) Share(of, whole money.Amount) Part {
	portion := func(w Worth) Worth { return Worth{money.Portion(of, w.Own, whole), money.Portion(of, w.Base, whole)} }
	return Part{portion(p.Amount), portion(p.Tax)}
}

// TakeNet is Take for an amount without the tax inside, as lines are told.
func (p Part) TakeNet(net money.Amount) Part {
	tax := money.Portion(net, p.Tax.Own, p.Net())
	base := money.Portion(net, p.Amount.Base-p.Tax.Base, p.Net())
	taxBase := money.Portion(net, p.Tax.Base, p.Net())
	return Part{Amount: Worth{net + tax, base + taxBase}, Tax: Worth{tax, taxBase}}
}

func (p Part) least(o Part) Part { return Part{p.Amount.least(o.Amount), p.Tax.least(o.Tax)} }

// Left is what is left of something at the end of the day on which least is
// left of it, and in the end. A taking that is dated earlier than others must
// not take what those have taken.
type Left struct{ Least, End Part }

// Most is how much can still be taken, in its own currency.
func (l Left) Most() money.Amount { return max(l.Least.Amount.Own, 0) }

// Take returns what goes along with an amount: its portion of what is left on
// the last day on which least is left, never more than is left in the end;
// what ends the amount takes all (docs/rules.md, part 2, portions).
func (l Left) Take(own money.Amount) Part {
	if own == l.End.Amount.Own {
		return l.End
	}
	p := l.Least.Take(own).least(l.End)
	p.Amount.Own = own
	return p
}

// dated is a change of what is left, on a day.
type dated struct {
	day day.Day
	Part
}

// leftFrom works out what is left from a day on. The changes are in any order;
// sign is −1 where they are below nil.
func leftFrom(changes []dated, sign money.Amount, d day.Day) Left {
	var l Left
	known := false
	for _, end := range endsOf(changes) {
		if sign < 0 {
			end.Part = end.Neg()
		}
		l.End = end.Part
		// What is left at the end of a day holds until the next change.
		if end.until <= d && end.until != "" {
			continue
		}
		if !known || end.Amount.Own <= l.Least.Amount.Own {
			l.Least, known = end.Part, true
		}
	}
	return l
}

// ending is what is left at the end of a day and up to the next.
type ending struct {
	day, until day.Day // until is the day of the next change; "" for the last
	Part
}

// endsOf adds changes up by day, in order.
func endsOf(changes []dated) []ending {
	slices.SortStableFunc(changes, func(x, y dated) int { return cmp.Compare(x.day, y.day) })
	var ends []ending
	var sum Part
	for n, c := range changes {
		sum = sum.Add(c.Part)
		if n+1 < len(changes) && changes[n+1].day == c.day {
			continue
		}
		next := day.Day("")
		if n+1 < len(changes) {
			next = changes[n+1].day
		}
		ends = append(ends, ending{c.day, next, sum})
	}
	return ends
}
