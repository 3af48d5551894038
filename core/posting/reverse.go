package posting

import (
	"slices"
	"strings"

	"cleantally/core/day"
	"cleantally/core/ledger"
)

// MayTakeBack refuses to take back what takes something back itself, or was
// taken back already.
func (b *Builder) MayTakeBack(p Paper) bool {
	if p.Kind.TakesBack() {
		b.Refuse("paper", "a reversal", "", "%s is a %s itself and stays. Post the paper anew instead.", p.Number, p.Kind)
		return false
	}
	if number, reversed := b.ReversedBy(p.ID); reversed {
		b.Refuse("paper", "reversed already", number, "%s was reversed already, by %s.", p.Number, number)
		return false
	}
	return true
}

// NotBefore refuses to take a paper back before its own day.
func (b *Builder) NotBefore(p Paper, d day.Day) bool {
	if d < p.Day {
		b.Refuse("day", "before the paper", string(p.Day), "%s is dated %s and cannot be taken back before. Use %s or later.", p.Number, p.Day.Show(), p.Day.Show())
		return false
	}
	return true
}

// Standing refuses while something stands on a paper and names it: what closed
// or settled its items for good, what used its lines. Spared papers do not
// count.
func (b *Builder) Standing(p Paper, spared func(Kind, int64) bool) bool {
	var order []string
	name := func(id int64, kind Kind, number string) {
		if text := string(kind) + " " + number; !slices.Contains(order, text) && !spared(kind, id) && id != p.ID {
			order = append(order, text)
		}
	}
	for _, i := range b.PaperItems(p.ID) {
		for _, a := range b.AllocationsOf(i.ID) {
			if o := b.Other(a, i.ID); o.Nature.Bound() {
				name(o.PaperID, o.Kind, o.Number)
			}
		}
	}
	for _, u := range b.StandingUses(b.Uses(p.ID)) {
		if u.As == Discounted {
			continue // goes with the placement that took it
		}
		by, _ := b.Facts.Paper(u.PaperID)
		name(by.ID, by.Kind, by.Number)
	}
	if len(order) == 0 {
		return false
	}
	b.Refuse("paper", "something stands on it", strings.Join(order, ", "), "%s cannot be taken back while the %s stands on it. Reverse that first.", p.Number, strings.Join(order, " and the "))
	return true
}

// Other is the item on the other side of an allocation.
func (b *Builder) Other(a Allocation, mine ItemRef) Item {
	ref := a.Debit
	if ref == mine {
		ref = a.Credit
	}
	i, _ := b.Look(ref)
	return i
}

// TakeBack undoes a paper by the one that was begun last: its entries the other
// way round, its allocations undone, its items set against their opposites,
// what its lines hold given back, what it gave back taken again, its goods back
// in stock, its days free. What spared papers took out of its
// items stays out: that is returned, with the tax inside.
func (b *Builder) TakeBack(p Paper, d day.Day, spared func(Kind, int64) bool) (gone Part, ok bool) {
	b.Enter(negated(b.ownLines(p))...)
	if !b.unplaceAll(p, d, spared) {
		return gone, false
	}
	if gone, ok = b.closeItems(p, d, spared); !ok {
		return gone, false
	}
	for _, u := range slices.Backward(b.StandingUses(b.UsesBy(p.ID))) { // what was given back is taken again last
		if !b.UndoUse("paper", u, d) {
			return gone, false
		}
	}
	for _, l := range p.Lines {
		if desc, _ := Describe(p.Kind); l.Register != "" || (l.PassOn != KeptAsCost && desc.PassesOn) {
			b.waitNoMore(p, l, d)
		}
	}
	lost, ok := b.undoStock(p, d)
	if !ok {
		return gone, false
	}
	b.Credit(b.Role(ledger.CostOfSales), lost, ledger.Line{PartyID: p.PartyID, JobID: p.JobID})
	b.freeDays(p)
	return gone, true
}

// waitNoMore takes a line that waits out of its register: its paper is taken
// back, so that it is used up by that.
func (b *Builder) waitNoMore(p Paper, l PaperLine, d day.Day) {
	b.use(Use{Of: Thing{LineRef{p.ID, l.Position}, l.TaxCodeID}, As: Cancelled, Day: d, By: LineRef{b.Own(), l.Position}, Quantity: InMillionths(l.Quantity), Part: l.Part()})
}

// ownLines are the journal lines of a paper on accounts that its forms do not
// enter, but for what was taken back of it before, a discount.
func (b *Builder) ownLines(p Paper) []ledger.Line {
	back := map[int64]bool{}
	for _, i := range b.PaperItems(p.ID) {
		if i.Nature.WithPlacement() && b.takenBack(i) {
			back[int64(i.ID)] = true
		}
	}
	var lines []ledger.Line
	for _, e := range b.PaperEntries(p.ID) {
		for _, l := range e.Lines {
			if _, control := b.Control(l.AccountID); !control && !back[l.ItemID] {
				lines = append(lines, l)
			}
		}
	}
	return lines
}

func (b *Builder) takenBack(i Item) bool {
	for _, a := range b.AllocationsOf(i.ID) {
		if b.Other(a, i.ID).Nature == TakenBack {
			return true
		}
	}
	return false
}

// staysOut tells whether an item is what a spared paper took out of one of p's.
func (p Paper) staysOut(o Item, spared func(Kind, int64) bool) bool {
	return o.Nature == Closing && spared(o.Kind, o.PaperID) && o.PaperID != p.ID
}

// unplaceAll undoes the allocations of a paper's items, but for what spared
// papers closed.
func (b *Builder) unplaceAll(p Paper, d day.Day, spared func(Kind, int64) bool) bool {
	for _, i := range b.PaperItems(p.ID) {
		for _, a := range b.AllocationsOf(i.ID) {
			o := b.Other(a, i.ID)
			switch {
			case o.Nature == TakenBack || p.staysOut(o, spared):
			case i.Debt() && o.Nature.WithPlacement(): // goes with the money beside it
			case i.Debt() && i.Nature == Plain:
				if !b.Undo("day", a.ID, d) {
					return false
				}
			default:
				if !b.Unplace("day", a, d) {
					return false
				}
			}
		}
	}
	return true
}

// closeItems sets a paper's items against their opposites.
func (b *Builder) closeItems(p Paper, d day.Day, spared func(Kind, int64) bool) (gone Part, ok bool) {
	for _, i := range b.PaperItems(p.ID) {
		if i.Nature.WithPlacement() && b.takenBack(i) {
			continue
		}
		rest := i.Part
		for _, a := range b.AllocationsOf(i.ID) {
			if p.staysOut(b.Other(a, i.ID), spared) {
				took := b.moved(i.ID, a.ID)
				gone = gone.Add(took.Neg())
				rest = rest.Sub(took)
			}
		}
		if rest.Amount.Own == 0 {
			continue
		}
		ref := b.Open(Item{Register: i.Register, Nature: Opposite, Instalment: i.Instalment, PartyID: i.PartyID, JobID: i.JobID, Day: d, Due: i.Due, Currency: i.Currency,
			Part: rest.Neg(), TaxCodeID: i.TaxCodeID})
		debit, credit := i.ID, ref
		if i.Credit() {
			debit, credit = ref, i.ID
		}
		if !b.Allocate("paper", debit, credit, max(rest.Amount.Own, -rest.Amount.Own), d) {
			return gone, false
		}
	}
	return gone, true
}
