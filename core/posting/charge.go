package posting

import "cleantally/core/day"

// ChargedDays is a span of days for which late charges were billed on an item;
// spans of one item never overlap (docs/rules.md, part 5, late charge).
type ChargedDays struct {
	ID      int64
	Item    ItemRef
	From    day.Day
	Through day.Day
	PaperID int64 // the paper that charged them
	Freed   bool  // of an effect: the days are free again
}

// Charge marks a span of an item's days as charged by the paper that was begun
// last. Days that were charged already are refused.
func (b *Builder) Charge(field string, item ItemRef, from, through day.Day) bool {
	i, ok := b.Look(item)
	if !ok || !i.Debit() {
		b.Refuse(field, "missing", "", "Choose something that is owed.")
		return false
	}
	if from > through {
		b.Refuse(field, "no days", "", "The days to charge end before they begin.")
		return false
	}
	for _, c := range append(append([]ChargedDays(nil), b.ChargedDays(item)...), b.effect.Charges...) {
		if c.Item == item && !c.Freed && c.From <= through && from <= c.Through {
			b.Refuse(field, "charged already", string(c.Through), "%s was charged for %s through %s already. Begin on %s.", i.Number, c.From.Show(), c.Through.Show(), c.Through.Add(1).Show())
			return false
		}
	}
	b.effect.Charges = append(b.effect.Charges, ChargedDays{Item: item, From: from, Through: through, PaperID: b.Own()})
	return true
}

// freeDays gives back the days that a paper charged.
func (b *Builder) freeDays(p Paper) {
	for _, c := range b.ChargedBy(p.ID) {
		c.Freed = true
		b.effect.Charges = append(b.effect.Charges, c)
	}
}
