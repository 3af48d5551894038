package posting

import (
	"maps"
	"slices"
	"strings"

	"cleantally/core/day"
	"cleantally/core/ledger"
	"cleantally/core/money"
)

// UndoUse takes a use back by its opposite. What it had given back is taken
// again, by portions of what is left now; where that is not left any more it is
// refused.
func (b *Builder) UndoUse(field string, u Use, d day.Day) bool {
	back := Use{Of: u.Of, As: u.As, Day: d, By: u.By, Quantity: -u.Quantity, Part: u.Part.Neg(), Cost: -u.Cost, Undoes: u.ID}
	if whole, _, _, _ := b.thingOf(u.Of); u.Amount.Own >= 0 || whole.Amount.Own < 0 {
		b.use(back)
		if u.As == Discounted && b.usedAs(u.Of, Discounted).Amount.Own < 0 {
			paper, _ := b.PaperOf(u.Of.PaperID)
			b.Refuse(field, "something stands on it", string(CreditNote), "A credit note of %s has given the discount back. Reverse that first, or undo what was set against %s.", paper.Number, paper.Number)
			return false
		}
		if as, broken := b.broken(u.Of); broken {
			paper, _ := b.PaperOf(u.Of.PaperID)
			b.Refuse(field, "something stands on it", string(as), "More of %s is %s than would be left. Take that back first.", paper.Number, as)
			return false
		}
		return true
	}
	// It is taken again as it was given back, to the cent, where that fits what is
	// left; else by portions.
	left, _, _ := b.LeftOf(u.Of, u.As, d)
	if fits := within(left.Least.Sub(back.Part), left.Least); !fits && -u.Amount.Own <= left.Most() {
		back.Part = left.Take(-u.Amount.Own)
	}
	if more := back.Tax.Base + u.Tax.Base; more != 0 && u.As == Deducted { // of what is deducted again, another cent is tax
		paper, _ := b.PaperOf(u.Of.PaperID)
		b.DebitWorth(b.Role(ledger.OutputTax), back.Tax.Add(u.Tax), ledger.Line{Currency: paper.Currency, PartyID: paper.PartyID, JobID: paper.JobID, TaxCodeID: u.Of.TaxCodeID})
	}
	_, bound, paper, _ := b.thingOf(u.Of)
	if _, free := bound(Taken{}, Used{}, u.As); !free && left.Most() < back.Amount.Own && len(b.holders(u)) > 0 {
		c, since := CurrencyOf(b.Facts, paper.Currency), b.holders(u)
		b.Refuse(field, "more than is left", c.Format(left.Most()), "Only %s of %s is left to be %s again, not %s, for the %s took it since. Credit or take back that first.", c.Show(left.Most()), paper.Number, u.As, c.Show(back.Amount.Own), strings.Join(since, " and the "))
		return false
	}
	return b.Use(field, back)
}

// holders names the papers whose lines hold what a use had given back, as the
// same or by a later cancellation.
func (b *Builder) holders(given Use) (names []string) {
	held := map[int64]money.Amount{}
	var order []int64
	for _, u := range b.usesOf(given.Of.PaperID, true) {
		if u.Of == given.Of && (u.As == given.As || u.As == Cancelled && u.ID > given.ID) {
			order = append(order, u.By.PaperID)
			held[u.By.PaperID] += u.Amount.Own
		}
	}
	slices.Sort(order)
	for _, id := range slices.Compact(order) {
		if by, ok := b.PaperOf(id); ok && held[id] > 0 && id != given.By.PaperID {
			names = append(names, string(by.Kind)+" "+by.Number)
		}
	}
	return names
}

// usedAs is what of a thing was used as one kind in all.
func (b *Builder) usedAs(t Thing, as UseKind) Taken {
	var sum Taken
	for _, u := range b.usesOf(t.PaperID, false) {
		if u.Of == t && u.As == as {
			sum = sum.add(Taken{u.Quantity, u.Part})
		}
	}
	return sum
}

// broken tells whether more of a thing is used than its bound allows at the
// end of some day, and as what.
func (b *Builder) broken(t Thing) (UseKind, bool) {
	thing, bound, paper, ok := b.thingOf(t)
	if !ok {
		return "", false
	}
	for _, end := range useEnds(t, thing, paper.Day, b.usesOf(t.PaperID, false)) {
		for _, as := range slices.Sorted(maps.Keys(end.used)) {
			left, free := bound(thing, end.used, as)
			// What is below nil is used up on its own side: the amount, and the tax
			// inside, which papers given up together may have on the other.
			if thing.Amount.Own < 0 {
				left.Amount = left.Amount.Neg()
			}
			if thing.Tax.Own < 0 {
				left.Tax = left.Tax.Neg()
			}
			if thing.Quantity < 0 {
				left.Quantity = -left.Quantity
			}
			if !free && (left.Amount.Own < 0 || left.Tax.Own < 0 || left.Quantity < 0) {
				return as, true
			}
		}
	}
	return "", false
}

// useUndone tells whether a posted use was taken back, or is by this effect.
func (b *Builder) useUndone(u Use) bool {
	undoes := func(o Use) bool { return o.Undoes == u.ID }
	return u.ID != 0 && (slices.ContainsFunc(b.effect.Uses, undoes) || slices.ContainsFunc(b.Uses(u.Of.PaperID), undoes))
}

// StandingUses returns the uses among all that were neither undone nor undo
// another.
func (b *Builder) StandingUses(all []Use) []Use {
	return slices.DeleteFunc(slices.Clone(all), func(u Use) bool { return u.Undoes != 0 || b.useUndone(u) })
}
