package posting

import (
	"cmp"
	"slices"

	"cleantally/core/day"
	"cleantally/core/money"
)

// CodePart is a part of a debt by one tax code.
type CodePart struct {
	TaxCodeID int64
	Part
	Beyond bool // more than is left of what was billed: credited already, so that nothing is inside
}

// Taxes is the sum of the tax inside parts by code.
func Taxes(parts []CodePart) Worth {
	var sum Worth
	for _, p := range parts {
		sum = sum.Add(p.Tax)
	}
	return sum
}

// debt is what a paper bills, by tax code, while it is used up.
type debt struct {
	codes []int64
	total money.Amount // with the rounding
	left  []CodePart   // by code, the rounding apart
}

// InsideDebt returns what of a debt that a paper bills goes along with an
// amount from a day on, by tax code: tax inside = amount × what is left of the
// code's tax ÷ what is left of the total, where what was credited, written off
// or taken as discount is left out (docs/rules.md, part 6). The last takes
// what is left. Where nothing was billed there is one part without tax.
func (b *Builder) InsideDebt(paperID int64, amount money.Amount, d day.Day) []CodePart {
	paper, ok := b.PaperOf(paperID)
	if !ok {
		return []CodePart{{Part: Part{Amount: b.At(amount)}}}
	}
	return b.InsideDebtOf(paper, amount, d)
}

// InsideDebtOf is InsideDebt of a paper that is there: its ID, total, rounding
// and lines by tax code are all that counts.
func (b *Builder) InsideDebtOf(paper Paper, amount money.Amount, d day.Day) []CodePart {
	if len(paper.Lines) == 0 || paper.Total <= 0 {
		return []CodePart{{Part: Part{Amount: b.ofPaper(paper, amount)}}}
	}
	least, end := b.debtFrom(paper, d)
	beyond := amount - max(min(least.total, amount), 0)
	var parts []CodePart
	if amount > beyond {
		parts = least.take(amount-beyond, end)
	}
	if beyond > 0 {
		parts = append(parts, CodePart{Part: Part{Amount: b.ofPaper(paper, beyond)}, Beyond: true})
	}
	return parts
}

// InsideUnused is the tax inside an amount of a debt of one tax code of which
// nothing was used, in the firm's currency: what InsideDebtOf tells of it, without
// its parts. Of a total, with its tax, in minor units.
func InsideUnused(total, tax, amount money.Amount) money.Amount {
	if total <= 0 {
		return 0
	}
	return portionOf(amount, tax, total, tax)
}

// debtFrom is what is left of a debt on the last day from d on on which least
// is left of it, each code as low as it comes on any of them, and in the end.
func (b *Builder) debtFrom(paper Paper, d day.Day) (least, end debt) {
	end = b.debtOf(paper)
	uses := b.usesOf(paper.ID, false)
	slices.SortStableFunc(uses, func(x, y Use) int { return cmp.Compare(x.Day, y.Day) })
	var lows []CodePart
	for n := 0; n <= len(uses); n++ {
		if n > 0 {
			end = end.less(uses[n-1])
		}
		// What is left at the end of a day holds until the next use.
		if n < len(uses) && (uses[n].Day <= d || (n > 0 && uses[n].Day == uses[n-1].Day)) {
			continue
		}
		if lows == nil || end.total <= least.total {
			least = end
		}
		lows = lower(lows, end.left)
	}
	least.left = lows
	return least, end
}

// lower keeps for each code what is nearer to nil.
func lower(lows, left []CodePart) []CodePart {
	if lows == nil {
		return slices.Clone(left)
	}
	for n := range lows {
		if left[n].Amount.Own < 0 || lows[n].Amount.Own < 0 {
			lows[n].Part = lows[n].Neg().least(left[n].Neg()).Neg()
			continue
		}
		lows[n].Part = lows[n].least(left[n].Part)
	}
	return lows
}

func (b *Builder) debtOf(p Paper) debt {
	x := debt{total: p.Total}
	for _, l := range p.Lines {
		at := slices.Index(x.codes, l.TaxCodeID)
		if at < 0 {
			at = len(x.codes)
			x.codes = append(x.codes, l.TaxCodeID)
			x.left = append(x.left, CodePart{TaxCodeID: l.TaxCodeID})
		}
		x.left[at].Part = x.left[at].Part.Add(l.Part())
	}
	if p.Rounding == 0 {
		return x
	}
	at := slices.Index(x.codes, 0)
	if at < 0 {
		at = len(x.codes)
		x.codes = append(x.codes, 0)
		x.left = append(x.left, CodePart{})
	}
	x.left[at].Part = x.left[at].Part.Add(Part{Amount: b.ofPaper(p, p.Rounding)})
	return x
}

// less is the debt without a use of it.
func (x debt) less(u Use) debt {
	at := slices.Index(x.codes, u.Of.TaxCodeID)
	if at < 0 || (u.Of.Position != 0 && u.As != Credited && u.As != SupplierCredited) {
		return x
	}
	x.left = slices.Clone(x.left)
	x.left[at].Part = x.left[at].Sub(u.Part)
	x.total -= u.Amount.Own
	return x
}

// take returns the parts of an amount by code. A code by which more was taken
// off than billed goes along on its own side.
func (x debt) take(amount money.Amount, end debt) []CodePart {
	above, below := make([]money.Amount, len(x.left)), make([]money.Amount, len(x.left))
	var all money.Amount
	for n, p := range x.left {
		above[n], below[n] = max(p.Amount.Own, 0), max(-p.Amount.Own, 0)
		all += above[n]
	}
	over := money.Portion(amount, all, x.total)
	plus, err := money.Share(over, above)
	if err != nil {
		return []CodePart{{Part: Of(amount, 0)}}
	}
	minus, err := money.Share(over-amount, below)
	if err != nil { // none is below nil
		minus = below
	}
	var parts []CodePart
	for n, p := range x.left {
		tax := portionOf(amount, p.Tax.Own, x.total, end.left[n].Tax.Own)
		if amount == end.total {
			tax = end.left[n].Tax.Own
		}
		if share := plus[n] - minus[n]; share != 0 || tax != 0 {
			parts = append(parts, CodePart{TaxCodeID: p.TaxCodeID, Part: p.of(share, tax)})
		}
	}
	return parts
}

// of is so much of what is left of a code, with so much tax inside, and what
// that is worth.
func (p CodePart) of(amount, tax money.Amount) Part {
	return Part{p.Amount.some(amount), p.Tax.some(tax)}
}

// some is an amount of a worth in its own currency, on either side of nil.
func (w Worth) some(own money.Amount) Worth {
	if w.Own == w.Base || w.Own == 0 {
		return Firm(own)
	}
	return Worth{own, spread(w.Base, []money.Amount{own, w.Own - own})[0]}
}

// portionOf is a portion of a rest on either side of nil, never past what is
// left in the end.
func portionOf(used, rest, left, end money.Amount) money.Amount {
	if rest < 0 {
		return -portionOf(used, -rest, left, -end)
	}
	return max(min(money.Portion(used, rest, left), end), 0)
}

// UseDebt records that a debt's parts were discounted, written off or
// recovered, by code.
func (b *Builder) UseDebt(field string, paperID int64, as UseKind, parts []CodePart, by LineRef, d day.Day) bool {
	paper, ok := b.PaperOf(paperID)
	if desc, _ := Describe(paper.Kind); !ok || len(paper.Lines) == 0 || desc.Bound == nil {
		return true
	}
	for _, p := range parts {
		if !p.Beyond && !b.Use(field, Use{Of: Thing{LineRef{paperID, 0}, p.TaxCodeID}, As: as, Day: d, By: by, Part: p.Part}) {
			return false
		}
	}
	return true
}
