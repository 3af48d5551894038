package settling

import (
	"fmt"

	"cleantally/core/day"
	"cleantally/core/money"
	"cleantally/core/posting"
)

// SetAgainst sets credits against debits, pair by pair, all or none.
type SetAgainst struct {
	Day   day.Day
	Pairs []Pair
}

// enough refusals say what is wrong: thousands of pairs need not all be told.
const enough = 20

// Pair is one credit and one debit with the amount between them.
type Pair struct {
	Debit  posting.ItemRef
	Credit posting.ItemRef
	Amount money.Amount
	Most   bool // as much as both allow, in place of Amount
}

// Plan returns the effect of the allocations.
func (s SetAgainst) Plan(f posting.Facts) (posting.Effect, error) {
	b := build(f)
	if len(s.Pairs) == 0 {
		b.Refuse("pairs", "missing", "", "Take one from each side first: something that is owed and something that can settle it.")
	}
	var refs []posting.ItemRef
	for _, p := range s.Pairs {
		refs = append(refs, p.Debit, p.Credit)
	}
	b.KnowItems(refs)
	if b.PostingDay("day", s.Day) {
		for i, p := range s.Pairs {
			if b.Refusals() >= enough {
				break
			}
			if field := fmt.Sprintf("pairs[%d].amount", i); p.Most {
				b.AllocateMost(field, p.Debit, p.Credit, s.Day)
			} else {
				b.Allocate(field, p.Debit, p.Credit, p.Amount, s.Day)
			}
		}
	}
	return b.Effect(fmt.Sprintf("Set %s against what was owed, in %d pairs", f.Currency().Show(b.Placed()), len(s.Pairs)))
}

// Undo takes allocations back, by dated opposites.
type Undo struct {
	Day         day.Day
	Allocations []int64
}

// Plan returns the effect of taking the allocations back.
func (u Undo) Plan(f posting.Facts) (posting.Effect, error) {
	b := build(f)
	if len(u.Allocations) == 0 {
		b.Refuse("allocations", "missing", "", "Say which allocation to undo.")
	}
	if b.PostingDay("day", u.Day) {
		seen := map[int64]bool{}
		for i, id := range u.Allocations {
			if !seen[id] {
				b.Undo(fmt.Sprintf("allocations[%d]", i), id, u.Day)
			}
			seen[id] = true
		}
	}
	return b.Effect(fmt.Sprintf("Undid %d allocations", len(u.Allocations)))
}
