package settling

import (
	"fmt"
	"strings"

	"cleantally/core/day"
	"cleantally/core/ledger"
	"cleantally/core/money"
	"cleantally/core/posting"
)

// Reversal undoes a posted paper that was wrong: its allocations are undone,
// its entries posted the other way round, and it is allocated in full to what
// it reverses. It is dated in an open period, and refused while something
// stands on the paper: a refund, a forfeit, a transfer, a write-off, a contra,
// a recovery.
type Reversal struct {
	Number  string // "" to be given the next
	PaperID int64
	Day     day.Day
	Reason  string
}

// Plan returns the effect of the reversal.
func (r Reversal) Plan(f posting.Facts) (posting.Effect, error) {
	b := posting.Build(f)
	p, ok := f.Paper(r.PaperID)
	if !ok {
		b.Refuse("paper", "missing", "", "There is no such posted paper.")
		return b.Effect("")
	}
	may := mayTakeBack(b, p)
	if may {
		may = !standing(b, p, nil)
	}
	if strings.TrimSpace(r.Reason) == "" {
		b.Refuse("reason", "missing", "", "Say why %s is reversed.", p.Number)
	}
	dayOK := b.PostingDay("day", r.Day) && notBefore(b, p, r.Day)
	own := b.Paper(posting.Paper{
		Kind: posting.Reversal, Number: r.Number, Day: r.Day, PartyID: p.PartyID, PartyName: p.PartyName, PartyAddress: p.PartyAddress,
		JobID: p.JobID, Title: "Reversal of " + p.Number, Reference: p.Reference, Note: strings.TrimSpace(r.Reason), BankAccountID: p.BankAccountID,
		Method: p.Method, Discount: -p.Discount, Net: -p.Net, Tax: -p.Tax, Rounding: -p.Rounding, Total: -p.Total, Kept: -p.Kept, Withheld: -p.Withheld, ReversesID: p.ID,
	})
	if dayOK && may {
		entries := opposites(b, p, r.Day, "Reversal of "+p.Number)
		for _, e := range entries {
			b.Enter(e)
		}
		if unplaceAll(b, p, r.Day, nil) {
			closeItems(b, p, r.Day, nil)
		}
	}
	return b.Effect(fmt.Sprintf("Reversed %s by %s: %s", p.Number, own.Number, own.Note))
}

// mayTakeBack refuses to reverse what is a reversal or was reversed already.
func mayTakeBack(b *posting.Builder, p posting.Paper) bool {
	if p.Kind == posting.Reversal || p.Kind == posting.Returned {
		b.Refuse("paper", "a reversal", "", "%s is a %s itself and stays. Post the paper anew instead.", p.Number, p.Kind)
		return false
	}
	if number, reversed := b.ReversedBy(p.ID); reversed {
		b.Refuse("paper", "reversed already", number, "%s was reversed already, by %s.", p.Number, number)
		return false
	}
	return true
}

func notBefore(b *posting.Builder, p posting.Paper, d day.Day) bool {
	if d < p.Day {
		b.Refuse("day", "before the paper", string(p.Day), "%s is dated %s and cannot be taken back before. Use %s or later.", p.Number, p.Day.Show(), p.Day.Show())
		return false
	}
	return true
}

// standing refuses while papers stand on p and names them. What is spared by
// its kind does not count.
func standing(b *posting.Builder, p posting.Paper, spared map[posting.Kind]bool) bool {
	names := map[string]bool{}
	var order []string
	name := func(kind posting.Kind, number string) {
		if text := string(kind) + " " + number; !names[text] && !spared[kind] {
			names[text] = true
			order = append(order, text)
		}
	}
	for _, i := range b.PaperItems(p.ID) {
		for _, a := range b.AllocationsOf(i.ID) {
			if o := other(b, a, i.ID); o.Nature.Bound() && o.PaperID != p.ID {
				name(o.Kind, o.Number)
			}
		}
	}
	for _, s := range b.StandingOn(p.ID) {
		if s.Kind == posting.Recovery {
			name(s.Kind, s.Number)
		}
	}
	if len(order) == 0 {
		return false
	}
	b.Refuse("paper", "something stands on it", strings.Join(order, ", "), "%s cannot be taken back while the %s stands on it. Reverse that first.", p.Number, strings.Join(order, " and the "))
	return true
}

func other(b *posting.Builder, a posting.Allocation, mine posting.ItemRef) posting.Item {
	ref := a.Debit
	if ref == mine {
		ref = a.Credit
	}
	i, _ := b.Look(ref)
	return i
}

// opposites are the entries of a paper the other way round. What was taken
// back of it before, a discount, is left out.
func opposites(b *posting.Builder, p posting.Paper, d day.Day, text string) []ledger.Entry {
	var all []ledger.Entry
	for _, e := range b.PaperEntries(p.ID) {
		all = append(all, e.Reversed(d, text))
	}
	var backs []ledger.Entry
	for _, i := range b.PaperItems(p.ID) {
		if !i.Nature.WithPlacement() || i.Open != 0 || !takenBack(b, i) {
			continue
		}
		e := ledger.Entry{Lines: b.ItemLines(i.ID)}
		e.Debit(b.Role(i.Register), i.Amount, ledger.Line{PartyID: i.PartyID, JobID: i.JobID})
		backs = append(backs, e)
	}
	if len(backs) == 0 {
		return all
	}
	return []ledger.Entry{ledger.Merged(d, text, append(all, backs...)...)}
}

func takenBack(b *posting.Builder, i posting.Item) bool {
	for _, a := range b.AllocationsOf(i.ID) {
		if other(b, a, i.ID).Nature == posting.TakenBack {
			return true
		}
	}
	return false
}

// unplaceAll undoes the allocations of a paper's items. Those to items of
// spared kinds stay.
func unplaceAll(b *posting.Builder, p posting.Paper, d day.Day, spared map[posting.Kind]bool) bool {
	for _, i := range b.PaperItems(p.ID) {
		for _, a := range b.AllocationsOf(i.ID) {
			o := other(b, a, i.ID)
			switch {
			case o.Nature == posting.TakenBack || (o.Nature == posting.Closing && spared[o.Kind]):
			case i.Amount > 0 && o.Nature.WithPlacement(): // goes with the money beside it
			case i.Amount > 0 && i.Nature == posting.Plain:
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

// closeItems allocates a paper's items to opposite items of the paper that is
// being made, but for what spared papers took out of them: that is returned,
// with the tax inside.
func closeItems(b *posting.Builder, p posting.Paper, d day.Day, spared map[posting.Kind]bool) (gone, goneTax money.Amount) {
	for _, i := range b.PaperItems(p.ID) {
		if i.Nature.WithPlacement() && takenBack(b, i) {
			continue
		}
		amount, inside := i.Amount, i.Tax
		for _, a := range b.AllocationsOf(i.ID) {
			if o := other(b, a, i.ID); o.Nature == posting.Closing && spared[o.Kind] {
				gone += a.Amount
				goneTax += a.Tax
				amount += a.Amount
				inside += a.Tax
			}
		}
		if amount == 0 {
			continue
		}
		ref := b.Open(posting.Item{Register: i.Register, Nature: i.Nature, Part: i.Part, PartyID: i.PartyID, JobID: i.JobID, Day: d, Due: i.Due,
			Amount: -amount, Tax: -inside, TaxCodeID: i.TaxCodeID})
		debit, credit := i.ID, ref
		if amount < 0 {
			debit, credit = ref, i.ID
		}
		b.Allocate("paper", debit, credit, amount.Abs(), d)
	}
	return gone, goneTax
}
