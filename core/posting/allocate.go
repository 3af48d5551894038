package posting

import (
	"cleantally/core/day"
	"cleantally/core/ledger"
	"cleantally/core/money"
)

// Most returns as much as can be set between two items on a day: the smaller
// of what is open of them.
func (b *Builder) Most(debit, credit ItemRef, d day.Day) money.Amount {
	di, ok1 := b.Look(debit)
	ci, ok2 := b.Look(credit)
	if !ok1 || !ok2 || !di.Debit() || !ci.Credit() {
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
	if ok1 && ok2 && di.Debit() && ci.Credit() && amount == 0 && b.mayAllocate(field, di, ci, d) {
		none := di
		if b.OpenFrom(di, d) > 0 {
			none = ci
		}
		b.Refuse(field, "nothing left", CurrencyOf(b.Facts, none.Currency).Format(0), "Nothing is left of %s to set here. Take another, or less before.", none.Number)
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
	if !ok1 || !ok2 || !di.Debit() || !ci.Credit() {
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

// NotBeforeItem refuses a day before the item's.
func (b *Builder) NotBeforeItem(field string, i Item, d day.Day) bool {
	if d < i.Day {
		b.Refuse(field, "before the item", string(i.Day), "%s is dated %s, so nothing can become of it on %s. Use %s or later.", i.Number, i.Day.Show(), d.Show(), i.Day.Show())
	}
	return d >= i.Day
}

// Within refuses a day before the item's, and an amount that is more than was
// open of it on every day from d on.
func (b *Builder) Within(field string, i Item, amount money.Amount, d day.Day) bool {
	if !b.NotBeforeItem(field, i, d) {
		return false
	}
	left := b.OpenFrom(i, d)
	if amount > left {
		b.Refuse(field, "more than is open", CurrencyOf(b.Facts, i.Currency).Format(left), "%s", b.tooMuch(i, amount, left, d))
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
	deposit := di.Register == ledger.Receivables && ci.Register == ledger.Deposits
	prepaid := di.Register == ledger.SupplierPrepayments && ci.Register == ledger.Payables
	if di.Register != ci.Register && !deposit && !prepaid {
		b.Refuse(field, "other registers", "", "%s stands in %s and %s in %s, so neither settles the other.", ci.Number, ci.Register, di.Number, di.Register)
		return false
	}
	if di.Currency != ci.Currency {
		b.Refuse(field, "another currency", "", "%s is in %s and %s in %s: without a rate neither settles the other. Take what is in the same currency, or record a receipt that says both amounts.",
			ci.Number, CurrencyOf(b.Facts, ci.Currency).Code, di.Number, CurrencyOf(b.Facts, di.Currency).Code)
		return false
	}
	if !b.NotBeforeItem(field, di, d) || !b.NotBeforeItem(field, ci, d) {
		return false
	}
	if lock := b.LockedThrough(); d <= lock {
		b.Refuse(field, "locked", string(lock), "The books are locked through %s. Use %s or later.", lock.Show(), lock.Add(1).Show())
		return false
	}
	return true
}

func (b *Builder) tooMuch(i Item, amount, left money.Amount, d day.Day) string {
	c := CurrencyOf(b.Facts, i.Currency)
	now := b.LeftFrom(i, d).End.Amount.Own
	text := "Only " + c.Show(left) + " of " + i.Number + " is open, not " + c.Show(amount) + "."
	switch {
	case left == 0 && now == 0:
		text = i.Number + " has nothing left open."
	case now > left && i.ID > 0:
		return "Only " + c.Show(left) + " of " + i.Number + " was open on every day from " + d.Show() + " on, not " + c.Show(amount) + ". Use a later day or less."
	}
	if left > 0 {
		return text + " Take " + c.Show(left) + " or less."
	}
	return text + " Choose another."
}

// allocate records an allocation, its moves and its entry, without checks.
// What goes along on each side is a portion of what is left of it: the tax
// inside a deposit, so that it is not charged twice, and base values, whose
// difference is of exchange (docs/rules.md, part 8).
func (b *Builder) allocate(a Allocation, di, ci Item) {
	debit, credit := b.LeftFrom(di, a.Day).Take(a.Amount), b.LeftFrom(ci, a.Day).Take(a.Amount)
	a.Tax = credit.Tax.Own
	text := ci.Number + " set against " + di.Number
	if a.Undoes != 0 {
		debit, credit = b.moved(a.Debit, a.Undoes).Neg(), b.moved(a.Credit, a.Undoes)
		text = ci.Number + " no longer set against " + di.Number
	} else if a.Debit < 0 && ci.Register == ledger.Deposits && di.Register == ledger.Receivables && a.Amount < b.LeftFrom(di, a.Day).End.Amount.Own {
		debit.Amount.Base = min(credit.Amount.Base, b.LeftFrom(di, a.Day).End.Amount.Base) // what it covers is worth what came in
	}
	e := &b.effect
	e.Allocations = append(e.Allocations, a)
	n := int64(len(e.Allocations))
	e.Moves = append(e.Moves, Move{Item: a.Debit, Day: a.Day, Part: debit.Neg(), Allocation: n}, Move{Item: a.Credit, Day: a.Day, Part: credit, Allocation: n})
	if di.Register == ci.Register && debit == credit && !b.fallsDue(di, ci, debit) {
		return
	}
	b.within(writing{day: a.Day, text: text, paper: ci.PaperID, allocation: n}, func() {
		b.control(ci.Register, credit, 1, ci.PartyID, ci.Currency)
		if ci.Register == ledger.Deposits && di.Register != ledger.Deposits {
			b.DebitWorth(b.Role(ledger.OutputTax), credit.Tax, ledger.Line{Currency: ci.Currency, PartyID: ci.PartyID, JobID: ci.JobID, TaxCodeID: ci.TaxCodeID})
		}
		b.control(di.Register, debit.Neg(), 1, di.PartyID, di.Currency)
		b.TaxFallsDue(di, debit.Tax)
		b.TaxFallsDue(ci, credit.Tax.Neg())
		b.ExchangeRest(ledger.Line{PartyID: ci.PartyID})
	})
	if a.Tax != 0 && a.Undoes == 0 && di.Register != ci.Register && di.PaperID > 0 && di.Day.EndOfMonth() != a.Day.EndOfMonth() {
		b.Warn("day", "another month", "", "The tax of %s inside %s comes off in %s, while %s is of %s.",
			CurrencyOf(b.Facts, ci.Currency).Show(a.Tax), ci.Number, a.Day.Time().Month(), di.Number, di.Day.Time().Month())
	}
}

// moved is what an allocation moved of an item, the other way round.
func (b *Builder) moved(ref ItemRef, allocation int64) Part {
	for _, m := range b.ItemMoves(ref) {
		if m.Allocation == allocation {
			return m.Part.Neg()
		}
	}
	return Part{}
}

// TaxInside is the portion of the tax inside an item that leaves it with an
// amount on a day (docs/rules.md, part 2, portions).
func (b *Builder) TaxInside(i Item, amount money.Amount, d day.Day) money.Amount {
	if i.Tax.Own == 0 {
		return 0
	}
	return b.LeftFrom(i, d).Take(amount).Tax.Own
}

// OpenFrom returns the least that is open of an item on any day from d on,
// without its sign.
func (b *Builder) OpenFrom(i Item, d day.Day) money.Amount { return b.LeftFrom(i, d).Most() }

// LeftFrom returns what is left of an item from a day on, without its sign.
func (b *Builder) LeftFrom(i Item, d day.Day) Left {
	moves := b.moves(i.ID)
	changes := make([]dated, len(moves))
	for n, m := range moves {
		changes[n] = dated{m.Day, m.Part}
	}
	return leftFrom(changes, i.Sign(), d)
}
