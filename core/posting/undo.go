package posting

import (
	"slices"

	"cleantally/core/day"
	"cleantally/core/ledger"
	"cleantally/core/money"
)

// Undo takes an allocation back by a dated opposite that is not before it, so
// that what was true on the days between stays told. Undoing any placement of
// a receipt on an invoice takes back what went with it there: its discount, the
// difference that was closed and the tax withheld (docs/rules.md, part 4).
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
		case i.Nature == Opposite || i.Nature == TakenBack:
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

// takeBackWith takes back what a receipt took together with its placement on
// an item: Dr receivables, Cr where it went.
func (b *Builder) takeBackWith(field string, ci, di Item, d day.Day) bool {
	money, debt := ci, di
	if di.Kind == PaySupplier {
		money, debt = di, ci
	}
	if money.Kind != Receipt && money.Kind != PaySupplier {
		return true
	}
	for _, i := range b.PaperItems(money.PaperID) {
		if !i.Nature.WithPlacement() {
			continue
		}
		for _, a := range b.AllocationsOf(i.ID) {
			if b.Other(a, i.ID).ID != debt.ID || b.UndoneHere(a.ID) {
				continue
			}
			if d < a.Day {
				b.Refuse(field, "before the allocation", string(a.Day), "The %s of %s is dated %s. Use %s or later.", i.Nature, i.Number, a.Day.Show(), a.Day.Show())
				return false
			}
			carried := min(b.carried(i, debt), a.Amount)
			if carried == a.Amount {
				continue // a credit note has carried all of the discount
			}
			b.undo(a, d)
			if !b.takeBack(field, i, debt, a.Amount-carried, d) {
				return false
			}
			if carried > 0 {
				debit, credit := debt, i
				if i.Debit() { // of what we owe
					debit, credit = i, debt
				}
				b.allocate(Allocation{Debit: debit.ID, Credit: credit.ID, Amount: carried, Day: d}, debit, credit)
			}
		}
	}
	return true
}

// carried is how much of a discount credit notes of its invoice have given
// back (docs/rules.md, part 6).
func (b *Builder) carried(i, di Item) money.Amount {
	var carried money.Amount
	if i.Nature != OfDiscount {
		return 0
	}
	for _, u := range b.usesOf(di.Bills, false) {
		if u.As == Discounted && u.PaperID != i.PaperID && u.Undoes == 0 && u.Amount.Own < 0 && !b.useUndone(u) {
			carried -= u.Amount.Own
		}
	}
	return carried
}

// takeBack closes what went with a placement by a paper of its own, or by the
// one that is being made, and gives back what it used of the debt: so much of
// it, where a credit note has carried a part.
func (b *Builder) takeBack(field string, i, di Item, amount money.Amount, d day.Day) bool {
	whole := signed(i.Part, i.Sign())
	back := whole.Take(amount)
	if b.Own() == 0 || b.effect.Papers[-b.Own()-1].takesBackOther(i.PaperID) {
		party, _ := b.Party(i.PartyID)
		before := b.in
		b.LikeItem(i)
		defer func() { b.in = before }()
		b.Paper(Paper{Kind: Reversal, Day: d, PartyID: i.PartyID, PartyName: party.Name, PartyAddress: party.Printed(), JobID: i.JobID, SourceID: i.PaperID,
			Title: Sentence(string(i.Nature)) + " of " + i.Number + " taken back", Reason: "Its placement was undone"})
		b.Says(Sentence(string(i.Nature)) + " of " + i.Number + " taken back")
	}
	if p := b.effect.Papers[-b.Own()-1]; p.SourceID == i.PaperID {
		p.Total += back.Amount.Own
	}
	taken := slices.DeleteFunc(slices.Clone(b.StandingUses(b.UsesBy(i.PaperID))), func(u Use) bool { return u.Of.PaperID != di.Bills || u.As != Discounted })
	lines := negated(b.ItemLines(i.ID))
	if amount != whole.Amount.Own { // a credit note has carried some of the discount
		lines = b.shareOf(lines, taken, back.Amount.Add(back.Tax.Neg()))
	}
	b.Enter(lines...)
	opposite := b.Open(Item{Register: i.Register, Nature: TakenBack, PartyID: i.PartyID, JobID: i.JobID, Day: d, Due: d, Currency: i.Currency, Part: signed(back, -i.Sign())})
	oi, _ := b.Look(opposite)
	debit, credit := oi, i
	if i.Debit() {
		debit, credit = i, oi
	}
	b.allocate(Allocation{Debit: debit.ID, Credit: credit.ID, Amount: back.Amount.Own, Day: d}, debit, credit)
	if i.Nature != OfDiscount {
		return true
	}
	for _, u := range taken {
		if amount == whole.Amount.Own {
			if !b.UndoUse(field, u, d) {
				return false
			}
			continue
		}
		// What is left of it by its code: the credit has given back the rest.
		rest := b.usedAs(u.Of, Discounted)
		if rest.Part != (Part{}) {
			b.use(Use{Of: u.Of, As: u.As, Day: d, By: u.By, Part: rest.Part.Neg(), Undoes: u.ID})
		}
	}
	return true
}

// shareOf are the lines of a discount as far as no credit note has carried it:
// the tax of each code as its use has it left, the discount what remains.
func (b *Builder) shareOf(lines []ledger.Line, uses []Use, part Worth) []ledger.Line {
	some := make([]ledger.Line, len(lines))
	var sum money.Amount
	plain := len(lines) - 1 // the line of the discount itself takes what remains
	for n, l := range lines {
		if sum += l.Amount; l.TaxCodeID == 0 {
			plain = n
		}
	}
	left := part
	if sum < 0 {
		left = part.Neg()
	}
	for n, l := range lines {
		if some[n] = l; n == plain {
			continue
		}
		some[n].Amount, some[n].Own = 0, 0
		for _, u := range uses {
			if u.Of.TaxCodeID == l.TaxCodeID && u.Tax.Own > 0 {
				now := b.usedAs(u.Of, Discounted).Tax.Own
				some[n].Amount, some[n].Own = portioned(l.Amount, now, u.Tax.Own), portioned(l.Own, now, u.Tax.Own)
			}
		}
		left = left.Add(Worth{some[n].Own, some[n].Amount}.Neg())
	}
	if some[plain].Amount = left.Base; some[plain].Currency != "" {
		some[plain].Own = left.Own
	}
	return some
}

// portioned is a portion of an amount on either side of nil.
func portioned(amount, part, whole money.Amount) money.Amount {
	if amount < 0 {
		return -money.Portion(part, -amount, whole)
	}
	return money.Portion(part, amount, whole)
}

// negated are the opposites of lines.
func negated(lines []ledger.Line) []ledger.Line {
	opposite := make([]ledger.Line, len(lines))
	for n, l := range lines {
		l.Amount, l.Own, l.ItemID = -l.Amount, -l.Own, 0
		opposite[n] = l
	}
	return opposite
}

// takesBackOther tells whether the paper takes back what another receipt took.
func (p *Paper) takesBackOther(receiptID int64) bool {
	return p.Kind == Reversal && p.ReversesID == 0 && p.SourceID != receiptID
}
