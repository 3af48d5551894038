package posting

import (
	"cleantally/core/day"
	"cleantally/core/ledger"
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
	if ci.Kind != Receipt {
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
			if !b.takeBack(field, i, di, d) {
				return false
			}
		}
	}
	return true
}

// takeBack closes what went with a placement by a paper of its own, or by the
// one that is being made, and gives back what it used of the debt.
func (b *Builder) takeBack(field string, i, di Item, d day.Day) bool {
	if b.Own() == 0 || b.effect.Papers[-b.Own()-1].takesBackOther(i.PaperID) {
		party, _ := b.Party(i.PartyID)
		b.Paper(Paper{Kind: Reversal, Day: d, PartyID: i.PartyID, PartyName: party.Name, PartyAddress: party.Printed(), JobID: i.JobID, SourceID: i.PaperID,
			Title: Sentence(string(i.Nature)) + " of " + i.Number + " taken back", Reason: "Its placement was undone"})
		b.Says(Sentence(string(i.Nature)) + " of " + i.Number + " taken back")
	}
	if p := b.effect.Papers[-b.Own()-1]; p.SourceID == i.PaperID {
		p.Total -= i.Amount.Base
	}
	b.Enter(negated(b.ItemLines(i.ID))...)
	opposite := b.Open(Item{Register: i.Register, Nature: TakenBack, PartyID: i.PartyID, JobID: i.JobID, Day: d, Due: d, Currency: i.Currency, Part: i.Part.Neg()})
	oi, _ := b.Look(opposite)
	b.allocate(Allocation{Debit: opposite, Credit: i.ID, Amount: oi.Amount.Own, Day: d}, oi, i)
	if i.Nature != OfDiscount {
		return true
	}
	for _, u := range b.standingUses(b.UsesBy(i.PaperID)) {
		if u.Of.PaperID == di.Bills && u.As == Discounted && !b.UndoUse(field, u, d) {
			return false
		}
	}
	return true
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
