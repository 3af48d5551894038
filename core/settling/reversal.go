package settling

import (
	"fmt"
	"strings"

	"cleantally/core/day"
	"cleantally/core/posting"
)

// Reversal undoes a posted paper that was wrong: its allocations are undone,
// its entries posted the other way round, and it is allocated in full to what
// it reverses. It is dated in an open period.
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
	if p.Kind == posting.Reversal {
		b.Refuse("paper", "a reversal", "", "%s is a reversal itself and stays. Post the paper anew instead.", p.Number)
	}
	if number, reversed := f.ReversedBy(p.ID); reversed {
		b.Refuse("paper", "reversed already", number, "%s was reversed already, by %s.", p.Number, number)
	}
	if strings.TrimSpace(r.Reason) == "" {
		b.Refuse("reason", "missing", "", "Say why %s is reversed.", p.Number)
	}
	dayOK := b.PostingDay("day", r.Day)
	if dayOK && r.Day < p.Day {
		b.Refuse("day", "before the paper", string(p.Day), "%s is dated %s and cannot be reversed before. Use %s or later.", p.Number, p.Day.Show(), p.Day.Show())
		dayOK = false
	}
	own := b.Paper(posting.Paper{
		Kind: posting.Reversal, Number: r.Number, Day: r.Day, PartyID: p.PartyID, PartyName: p.PartyName, PartyAddress: p.PartyAddress,
		JobID: p.JobID, Title: "Reversal of " + p.Number, Reference: p.Reference, Note: strings.TrimSpace(r.Reason), BankAccountID: p.BankAccountID,
		Method: p.Method, Discount: -p.Discount, Net: -p.Net, Tax: -p.Tax, Rounding: -p.Rounding, Total: -p.Total, Kept: -p.Kept, ReversesID: p.ID,
	})
	fresh := !b.Refused() || strings.TrimSpace(r.Reason) == ""
	if _, reversed := f.ReversedBy(p.ID); dayOK && fresh && !reversed && p.Kind != posting.Reversal {
		for _, e := range f.PaperEntries(p.ID) {
			b.Enter(e.Reversed(r.Day, "Reversal of "+p.Number))
		}
		r.takeBack(b, p)
	}
	return b.Effect(fmt.Sprintf("Reversed %s by %s: %s", p.Number, own.Number, own.Note))
}

// takeBack undoes the allocations of the paper's items and closes each with an
// item of the reversal.
func (r Reversal) takeBack(b *posting.Builder, p posting.Paper) {
	items := b.PaperItems(p.ID)
	for _, i := range items {
		for _, a := range b.AllocationsOf(i.ID) {
			if !b.Undo("day", a.ID, r.Day) {
				return
			}
		}
	}
	for _, i := range items {
		opposite := b.Open(posting.Item{Register: i.Register, Part: i.Part, PartyID: i.PartyID, JobID: i.JobID, Day: r.Day, Due: i.Due, Amount: -i.Amount})
		debit, credit := i.ID, opposite
		if i.Amount < 0 {
			debit, credit = opposite, i.ID
		}
		b.Allocate("paper", debit, credit, i.Amount.Abs(), r.Day)
	}
}
