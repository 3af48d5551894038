package posting

import (
	"fmt"
	"sort"

	"cleantally/core/day"
	"cleantally/core/ledger"
	"cleantally/core/money"
)

// Most returns as much as can be set between two items on a day: the smaller
// of what is open of them.
func (b *Builder) Most(debit, credit ItemRef, d day.Day) money.Amount {
	di, ok1 := b.Look(debit)
	ci, ok2 := b.Look(credit)
	if !ok1 || !ok2 || di.Amount <= 0 || ci.Amount >= 0 {
		return 0
	}
	return min(b.OpenFrom(di, d), b.OpenFrom(ci, d))
}

// AllocateMost sets as much of a credit against a debit as both allow. It
// refuses where that is nothing.
func (b *Builder) AllocateMost(field string, debit, credit ItemRef, d day.Day) bool {
	di, ok1 := b.Look(debit)
	ci, ok2 := b.Look(credit)
	amount := b.Most(debit, credit, d)
	if ok1 && ok2 && di.Amount > 0 && ci.Amount < 0 && amount == 0 && b.mayAllocate(field, di, ci, d) {
		none := di
		if b.OpenFrom(di, d) > 0 {
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
	di, ok1 := b.Look(debit)
	ci, ok2 := b.Look(credit)
	if !ok1 || !ok2 || di.Amount <= 0 || ci.Amount >= 0 {
		b.Refuse(field, "missing", "", "Choose one item that is owed and one that can settle it.")
		return false
	}
	if !b.AmountAboveNil(field, amount, "the amount to set against "+di.Number) || !b.mayAllocate(field, di, ci, d) {
		return false
	}
	for _, side := range []Item{di, ci} {
		if !b.Within(field, side, amount, d) {
			return false
		}
	}
	b.allocate(Allocation{Debit: debit, Credit: credit, Amount: amount, Day: d}, di, ci)
	return true
}

// Within refuses an amount that is more than was open of an item on every day
// from d on.
func (b *Builder) Within(field string, i Item, amount money.Amount, d day.Day) bool {
	left := b.OpenFrom(i, d)
	if amount > left {
		b.Refuse(field, "more than is open", b.Currency().Format(left), "%s", b.tooMuch(i, amount, left, d))
		return false
	}
	return true
}

func (b *Builder) mayAllocate(field string, di, ci Item, d day.Day) bool {
	if di.PartyID != ci.PartyID {
		owner, _ := b.Party(ci.PartyID)
		b.Refuse(field, "another customer's credit", "", "%s belongs to %s, so it cannot settle %s. Choose a credit of the same customer.", ci.Number, owner.Name, di.Number)
		return false
	}
	if di.Register != ci.Register && (di.Register != ledger.Receivables || ci.Register != ledger.Deposits) {
		b.Refuse(field, "other registers", "", "%s stands in %s and %s in %s, so neither settles the other.", ci.Number, ci.Register, di.Number, di.Register)
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

// allocate records an allocation, its moves and its entry, without checks. The
// tax inside a deposit goes along, so that it is not charged twice.
func (b *Builder) allocate(a Allocation, di, ci Item) {
	e := &b.effect
	if a.Undoes == 0 {
		a.Tax = b.taxAlong(di, ci, a)
	}
	e.Allocations = append(e.Allocations, a)
	n := len(e.Allocations)
	sign := money.Amount(1)
	text := ci.Number + " set against " + di.Number
	if a.Undoes != 0 {
		sign, text = -1, ci.Number+" no longer set against "+di.Number
	}
	debitTax := sign * a.Tax
	if di.Register != ci.Register {
		debitTax = 0
	}
	e.Moves = append(e.Moves,
		Move{Item: a.Debit, Day: a.Day, Amount: -sign * a.Amount, Tax: -debitTax, Allocation: n},
		Move{Item: a.Credit, Day: a.Day, Amount: sign * a.Amount, Tax: sign * a.Tax, Allocation: n})
	if di.Register == ci.Register {
		return
	}
	entry := ledger.Entry{Day: a.Day, Text: text}
	at := ledger.Line{PartyID: ci.PartyID, JobID: ci.JobID}
	entry.Debit(b.Role(ci.Register), sign*(a.Amount-a.Tax), at)
	at.TaxCodeID = ci.TaxCodeID
	entry.Debit(b.Role(ledger.OutputTax), sign*a.Tax, at)
	entry.Credit(b.Role(di.Register), sign*a.Amount, ledger.Line{PartyID: di.PartyID, JobID: di.JobID})
	e.Entries = append(e.Entries, Entry{Entry: entry, PaperID: ci.PaperID, Allocation: n})
	if a.Tax != 0 && di.PaperID > 0 && di.Day.EndOfMonth() != a.Day.EndOfMonth() {
		b.Warn("day", "another month", "", "The tax of %s inside %s comes off in %s, while %s is of %s.",
			b.Currency().Show(a.Tax), ci.Number, a.Day.Time().Month(), di.Number, di.Day.Time().Month())
	}
}

// taxAlong is the tax inside that leaves a deposit with an allocation.
func (b *Builder) taxAlong(di, ci Item, a Allocation) money.Amount {
	if ci.Tax == 0 {
		return 0
	}
	if di.Tax != 0 && a.Amount == di.Amount {
		return di.Tax // what was made to close it says how much
	}
	return b.TaxInside(ci, a.Amount, a.Day)
}

// TaxInside is the portion of the tax inside an item that leaves it with an
// amount on a day (docs/rules.md, part 2, portions).
func (b *Builder) TaxInside(i Item, amount money.Amount, d day.Day) money.Amount {
	if i.Tax == 0 {
		return 0
	}
	open, tax := leastFrom(b.moves(i.ID), i.Amount < 0, d)
	return money.Portion(amount, tax, open)
}

// Undo takes an allocation back by a dated opposite that is not before it, so
// that what was true on the days between stays told. A discount or difference
// that was taken on the same placement is taken back with it.
func (b *Builder) Undo(field string, id int64, d day.Day) bool {
	a, ok := b.Allocation(id)
	if !ok || a.Undoes != 0 {
		b.Refuse(field, "missing", "", "There is no such allocation to undo.")
		return false
	}
	if b.UndoneHere(id) {
		return true
	}
	di, _ := b.Look(a.Debit)
	ci, _ := b.Look(a.Credit)
	pair := ci.Number + " against " + di.Number
	if on := b.UndoneOn(id); on != "" {
		b.Refuse(field, "undone already", string(on), "The allocation of %s was undone on %s already.", pair, on.Show())
		return false
	}
	for _, i := range []Item{di, ci} {
		switch {
		case i.Kind == Reversal || i.Kind == Returned || i.Nature == TakenBack:
			b.Refuse(field, "part of a reversal", "", "The allocation of %s is what %s did; it stays.", pair, i.Number)
			return false
		case i.Nature.Bound():
			b.Refuse(field, "bound", i.Number, "The allocation of %s is bound to %s. Reverse %s to undo it.", pair, i.Number, i.Number)
			return false
		case i.Nature.WithPlacement():
			b.Refuse(field, "bound", i.Number, "The %s of %s goes with its placement on %s. Undo that placement.", i.Nature, ci.Number, di.Number)
			return false
		}
	}
	if d < a.Day {
		b.Refuse(field, "before the allocation", string(a.Day), "The allocation of %s is dated %s and cannot be undone before. Use %s or later.", pair, a.Day.Show(), a.Day.Show())
		return false
	}
	b.undo(a, d)
	return b.takeBackWith(field, ci, di, d)
}

// UndoneHere tells whether the effect takes an allocation back already.
func (b *Builder) UndoneHere(id int64) bool {
	for _, a := range b.effect.Allocations {
		if a.Undoes == id {
			return true
		}
	}
	return false
}

// undo records the opposite of an allocation, without checks.
func (b *Builder) undo(a Allocation, d day.Day) {
	di, _ := b.Look(a.Debit)
	ci, _ := b.Look(a.Credit)
	b.allocate(Allocation{Debit: a.Debit, Credit: a.Credit, Amount: a.Amount, Tax: a.Tax, Day: d, Undoes: a.ID}, di, ci)
}

// Unplace takes back what a paper did in settling an item, whatever its
// nature: reversing the paper does so.
func (b *Builder) Unplace(field string, a Allocation, d day.Day) bool {
	if d < a.Day {
		ci, _ := b.Look(a.Credit)
		b.Refuse(field, "before the allocation", string(a.Day), "%s was set against something on %s. Use %s or later.", ci.Number, a.Day.Show(), a.Day.Show())
		return false
	}
	if !b.UndoneHere(a.ID) {
		b.undo(a, d)
	}
	return true
}

// takeBackWith takes back the discount and the difference that a receipt took
// together with its placement on an item: Dr receivables, Cr where it went.
func (b *Builder) takeBackWith(field string, ci, di Item, d day.Day) bool {
	if ci.Kind != Receipt || b.placedStill(ci.PaperID, di.ID) {
		return true
	}
	for _, i := range b.PaperItems(ci.PaperID) {
		if !i.Nature.WithPlacement() {
			continue
		}
		for _, a := range b.AllocationsOf(i.ID) {
			if a.Debit != di.ID || b.UndoneHere(a.ID) {
				continue
			}
			if d < a.Day {
				b.Refuse(field, "before the allocation", string(a.Day), "The %s of %s is dated %s. Use %s or later.", i.Nature, i.Number, a.Day.Show(), a.Day.Show())
				return false
			}
			b.undo(a, d)
			b.takeBack(i, d)
		}
	}
	return true
}

// placedStill tells whether another placement of the same receipt on the item
// stands, so that its discount stays earned.
func (b *Builder) placedStill(paperID int64, debit ItemRef) bool {
	for _, i := range b.PaperItems(paperID) {
		if i.Nature.WithPlacement() {
			continue
		}
		for _, a := range b.AllocationsOf(i.ID) {
			if a.Debit == debit && !b.UndoneHere(a.ID) {
				return true
			}
		}
	}
	return false
}

// takeBack closes a discount or difference by a paper of its own, or by the
// one that is being made.
func (b *Builder) takeBack(i Item, d day.Day) {
	if b.Own() == 0 || b.effect.Papers[-b.Own()-1].takesBackOther(i.PaperID) {
		party, _ := b.Party(i.PartyID)
		b.Paper(Paper{Kind: Reversal, Day: d, PartyID: i.PartyID, PartyName: party.Name, PartyAddress: party.Address, JobID: i.JobID, SourceID: i.PaperID,
			Title: fmt.Sprintf("%s of %s taken back", Sentence(string(i.Nature)), i.Number), Reason: "Its placement was undone"})
	}
	if p := b.effect.Papers[-b.Own()-1]; p.SourceID == i.PaperID {
		p.Total -= i.Amount
	}
	e := ledger.Entry{Day: d, Text: Sentence(string(i.Nature)) + " of " + i.Number + " taken back"}
	e.Debit(b.Role(i.Register), -i.Amount, ledger.Line{PartyID: i.PartyID, JobID: i.JobID})
	for _, l := range b.ItemLines(i.ID) {
		l.Amount, l.ItemID = -l.Amount, 0
		e.Lines = append(e.Lines, l)
	}
	b.Enter(e)
	opposite := b.Open(Item{Register: i.Register, Nature: TakenBack, PartyID: i.PartyID, JobID: i.JobID, Day: d, Due: d, Amount: -i.Amount})
	oi, _ := b.Look(opposite)
	b.allocate(Allocation{Debit: opposite, Credit: i.ID, Amount: oi.Amount, Day: d}, oi, i)
}

// takesBackOther tells whether the paper takes back what another receipt took.
func (p *Paper) takesBackOther(receiptID int64) bool {
	return p.Kind == Reversal && p.ReversesID == 0 && p.SourceID != receiptID
}

// OpenFrom returns the least that is open of an item on any day from d on,
// without its sign.
func (b *Builder) OpenFrom(i Item, d day.Day) money.Amount {
	open, _ := leastFrom(b.moves(i.ID), i.Amount < 0, d)
	return open
}

func leastFrom(moves []Move, credit bool, d day.Day) (least, leastTax money.Amount) {
	sort.SliceStable(moves, func(x, y int) bool { return moves[x].Day < moves[y].Day })
	var open, tax money.Amount
	known := false
	for n, m := range moves {
		if credit {
			m.Amount, m.Tax = -m.Amount, -m.Tax
		}
		open += m.Amount
		tax += m.Tax
		lastOfDay := n+1 == len(moves) || moves[n+1].Day != m.Day
		// What is open at the end of a day holds until the next move.
		holds := n+1 == len(moves) || moves[n+1].Day > d
		if lastOfDay && holds && (!known || open < least) {
			least, leastTax, known = open, tax, true
		}
	}
	return max(least, 0), max(leastTax, 0)
}
