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

// Move takes an allocation back and sets what it set against another item
// instead, in one step: a credit against another invoice, or an invoice against
// another credit (docs/rules.md, part 7).
type Move struct {
	Day        day.Day
	Allocation int64
	To         posting.ItemRef
	Amount     money.Amount // 0 for as much of it as is open there
}

// Plan returns the effect of both.
func (m Move) Plan(f posting.Facts) (posting.Effect, error) {
	b := build(f)
	a, _ := b.Allocation(m.Allocation)
	to, ok := b.Look(m.To)
	if !ok || m.To == a.Debit || m.To == a.Credit {
		b.Refuse("to", "missing", "", "Choose another item that it is set against instead.")
		return b.Effect("")
	}
	if !b.PostingDay("day", m.Day) || !b.Undo("allocation", m.Allocation, m.Day) {
		return b.Effect("")
	}
	debit, credit := m.To, a.Credit
	if to.Credit() {
		debit, credit = a.Debit, m.To
	}
	amount := m.Amount
	if amount == 0 {
		amount = min(a.Amount, b.Most(debit, credit, m.Day))
	}
	if amount == 0 {
		b.AllocateMost("to", debit, credit, m.Day) // says why
	} else {
		b.Allocate("amount", debit, credit, amount, m.Day)
	}
	di, _ := b.Look(a.Debit)
	ci, _ := b.Look(a.Credit)
	return b.Effect(fmt.Sprintf("Moved %s of %s against %s to %s", b.Currency().Show(amount), ci.Number, di.Number, to.Number))
}
