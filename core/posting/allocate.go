package posting

import (
	"sort"

	"cleantally/core/day"
	"cleantally/core/ledger"
	"cleantally/core/money"
)

// Most returns as much as can be set between two items on a day: the smaller
// of what is open of them.
func (b *Builder) Most(debit, credit ItemRef, d day.Day) money.Amount {
	di, ok1 := b.item(debit)
	ci, ok2 := b.item(credit)
	if !ok1 || !ok2 || di.Amount <= 0 || ci.Amount >= 0 {
		return 0
	}
	return min(b.openFrom(di, d), b.openFrom(ci, d))
}

// AllocateMost sets as much of a credit against a debit as both allow. It
// refuses where that is nothing.
func (b *Builder) AllocateMost(field string, debit, credit ItemRef, d day.Day) bool {
	di, ok1 := b.item(debit)
	ci, ok2 := b.item(credit)
	amount := b.Most(debit, credit, d)
	if ok1 && ok2 && di.Amount > 0 && ci.Amount < 0 && amount == 0 && b.mayAllocate(field, di, ci, d) {
		none := di
		if b.openFrom(di, d) > 0 {
			none = ci
		}
		b.Refuse(field, "nothing left", b.Currency().Format(0), "Nothing is left of %s to set here. Take another, or less before.", none.Number)
		return false
	}
	return b.Allocate(field, debit, credit, amount, d)
}

// Allocate sets a credit against a debit (docs/rules.md, part 7): the same
// customer, an amount above nil, a day not before either item's, within what
// is open on both sides on every day from that day on. Two items of one
// register post nothing; a deposit leaves its register for receivables.
func (b *Builder) Allocate(field string, debit, credit ItemRef, amount money.Amount, d day.Day) bool {
	di, ok1 := b.item(debit)
	ci, ok2 := b.item(credit)
	if !ok1 || !ok2 || di.Amount <= 0 || ci.Amount >= 0 {
		b.Refuse(field, "missing", "", "Choose one item that is owed and one that can settle it.")
		return false
	}
	if !b.AmountAboveNil(field, amount, "the amount to set against "+di.Number) || !b.mayAllocate(field, di, ci, d) {
		return false
	}
	for _, side := range []Item{di, ci} {
		if left := b.openFrom(side, d); amount > left {
			b.Refuse(field, "more than is open", b.Currency().Format(left), "%s", b.tooMuch(side, amount, left, d))
			return false
		}
	}
	b.allocate(Allocation{Debit: debit, Credit: credit, Amount: amount, Day: d}, di, ci)
	return true
}

func (b *Builder) mayAllocate(field string, di, ci Item, d day.Day) bool {
	if di.PartyID != ci.PartyID {
		owner, _ := b.Party(ci.PartyID)
		b.Refuse(field, "another customer's credit", "", "%s belongs to %s, so it cannot settle %s. Choose a credit of the same customer.", ci.Number, owner.Name, di.Number)
		return false
	}
	for _, i := range []Item{di, ci} {
		if d < i.Day {
			b.Refuse(field, "before the item", string(i.Day), "%s is dated %s, so nothing can be set against it on %s. Use %s or later.",
				i.Number, i.Day.Show(), d.Show(), i.Day.Show())
			return false
		}
	}
	if lock := b.LockedThrough(); d <= lock {
		b.Refuse(field, "locked", string(lock), "The books are locked through %s. Use %s or later.", lock.Show(), lock.Add(1).Show())
		return false
	}
	return true
}

func (b *Builder) tooMuch(i Item, amount, left money.Amount, d day.Day) string {
	c := b.Currency()
	now := i.Open
	for _, m := range b.effect.Moves {
		if m.Item == i.ID && m.Allocation != 0 {
			now += m.Amount
		}
	}
	text := "Only " + c.Show(left) + " of " + i.Number + " is open, not " + c.Show(amount) + "."
	switch {
	case left == 0 && now == 0:
		text = i.Number + " has nothing left open."
	case now.Abs() > left && i.ID > 0:
		text = "Only " + c.Show(left) + " of " + i.Number + " was open on every day from " + d.Show() + " on, not " + c.Show(amount) + ". Use a later day or less."
		return text
	}
	if left > 0 {
		return text + " Take " + c.Show(left) + " or less."
	}
	return text + " Choose another."
}

// allocate records an allocation, its moves and its entry, without checks.
func (b *Builder) allocate(a Allocation, di, ci Item) {
	e := &b.effect
	e.Allocations = append(e.Allocations, a)
	n := len(e.Allocations)
	sign := money.Amount(1)
	text := ci.Number + " set against " + di.Number
	if a.Undoes != 0 {
		sign, text = -1, ci.Number+" no longer set against "+di.Number
	}
	e.Moves = append(e.Moves,
		Move{Item: a.Debit, Day: a.Day, Amount: -sign * a.Amount, Allocation: n},
		Move{Item: a.Credit, Day: a.Day, Amount: sign * a.Amount, Allocation: n})
	if di.Register == ci.Register {
		return
	}
	entry := ledger.Entry{Day: a.Day, Text: text}
	entry.Debit(b.Role(ci.Register), sign*a.Amount, ledger.Line{PartyID: ci.PartyID, JobID: ci.JobID})
	entry.Credit(b.Role(di.Register), sign*a.Amount, ledger.Line{PartyID: di.PartyID, JobID: di.JobID})
	e.Entries = append(e.Entries, Entry{Entry: entry, PaperID: ci.PaperID, Allocation: n})
}

// Undo takes an allocation back by a dated opposite that is not before it, so
// that what was true on the days between stays told.
func (b *Builder) Undo(field string, id int64, d day.Day) bool {
	a, ok := b.Allocation(id)
	if !ok || a.Undoes != 0 {
		b.Refuse(field, "missing", "", "There is no such allocation to undo.")
		return false
	}
	di, _ := b.item(a.Debit)
	ci, _ := b.item(a.Credit)
	pair := ci.Number + " against " + di.Number
	if on := b.UndoneOn(id); on != "" {
		b.Refuse(field, "undone already", string(on), "The allocation of %s was undone on %s already.", pair, on.Show())
		return false
	}
	if di.Kind == Reversal || ci.Kind == Reversal {
		b.Refuse(field, "part of a reversal", "", "The allocation of %s is what a reversal did; it stays.", pair)
		return false
	}
	if d < a.Day {
		b.Refuse(field, "before the allocation", string(a.Day), "The allocation of %s is dated %s and cannot be undone before. Use %s or later.", pair, a.Day.Show(), a.Day.Show())
		return false
	}
	b.allocate(Allocation{Debit: a.Debit, Credit: a.Credit, Amount: a.Amount, Day: d, Undoes: id}, di, ci)
	return true
}

// openFrom returns the least that is open of an item on any day from d on,
// without its sign.
func (b *Builder) openFrom(i Item, d day.Day) money.Amount {
	return leastFrom(b.moves(i.ID), i.Amount < 0, d)
}

func leastFrom(moves []Move, credit bool, d day.Day) money.Amount {
	sort.SliceStable(moves, func(x, y int) bool { return moves[x].Day < moves[y].Day })
	var open, least money.Amount
	known := false
	for n, m := range moves {
		if credit {
			open -= m.Amount
		} else {
			open += m.Amount
		}
		lastOfDay := n+1 == len(moves) || moves[n+1].Day != m.Day
		// What is open at the end of a day holds until the next move.
		holds := n+1 == len(moves) || moves[n+1].Day > d
		if lastOfDay && holds && (!known || open < least) {
			least, known = open, true
		}
	}
	return max(least, 0)
}
