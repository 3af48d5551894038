package settling

import (
	"fmt"
	"slices"
	"strings"

	"cleantally/core/day"
	"cleantally/core/ledger"
	"cleantally/core/posting"
)

// Reversal undoes a posted paper that was wrong: its allocations are undone,
// its entries posted the other way round, and it is allocated in full to what
// it reverses. It is dated in an open period, and refused while something
// stands on the paper: a refund, a forfeit, a transfer, a write-off, a contra,
// a recovery. An invoice that was sent is taken back by a credit note instead
// (docs/rules.md, part 6).
type Reversal struct {
	Number  string // "" to be given the next
	PaperID int64
	Day     day.Day
	Reason  string
}

// Plan returns the effect of the reversal.
func (r Reversal) Plan(f posting.Facts) (posting.Effect, error) {
	b := build(f)
	p, ok := f.Paper(r.PaperID)
	if !ok {
		b.Refuse("paper", "missing", "", "There is no such posted paper.")
		return b.Effect("")
	}
	may := b.MayTakeBack(p) && !b.Standing(p, nobody)
	if on := b.facts.Sent(p.ID); on != "" && p.Kind == posting.Invoice {
		b.Refuse("paper", "was sent", string(on), "%s was sent on %s, so it is taken back by a credit note that the customer gets, not by a reversal. Credit it.", p.Number, on.Show())
		may = false
	}
	may = may && endsLast(b, p, r.Day)
	if strings.TrimSpace(r.Reason) == "" {
		b.Refuse("reason", "missing", "", "Say why %s is reversed.", p.Number)
	}
	dayOK := b.PostingDay("day", r.Day) && b.NotBefore(p, r.Day)
	own := b.Paper(takingBack(p, posting.Paper{Kind: posting.Reversal, Number: r.Number, Day: r.Day, Title: "Reversal of " + p.Number, Note: strings.TrimSpace(r.Reason)}))
	b.Says("Reversal of " + p.Number)
	if dayOK && may {
		if p.Kind == posting.Accrual || p.Kind == posting.Revaluation {
			b.backOnItsDays(p)
		} else {
			b.TakeBack(p, r.Day, nobody)
		}
		b.FreeTies(p)
		b.waitsNoMore(p, r.Day)
		b.notOverdrawn("paper", r.Day)
	}
	return b.Effect(fmt.Sprintf("Reversed %s by %s: %s", p.Number, own.Number, own.Note))
}

// endsLast refuses to take back the end of a period that others stand on, or on
// another day than its own where that would move it into another year.
func endsLast(b *builder, p posting.Paper, d day.Day) bool {
	switch {
	case p.Kind == posting.TaxSettlement && p.SpanThrough != b.TaxSettled():
		b.Refuse("paper", "settled since", string(b.TaxSettled()), "The tax through %s was settled since. Reverse that first.", b.TaxSettled().Show())
	case p.Kind == posting.YearEnd && p.SpanFrom == "":
		b.Refuse("paper", "goes with another", "", "%s was made by what was posted into the closed year, and goes with it. Reverse that paper.", p.Number)
	case p.Kind == posting.YearEnd && len(b.YearsClosed()) > 0 && p.SpanThrough != slices.Max(b.YearsClosed()):
		b.Refuse("paper", "closed since", "", "The year through %s was closed since. Reverse its year end first.", slices.Max(b.YearsClosed()).Show())
	case (p.Kind == posting.Accrual || p.Kind == posting.Revaluation) && d != p.Day:
		b.Refuse("day", "its own day", string(p.Day), "What was accrued or revalued is taken back on its own day, %s, and the day after.", p.Day.Show())
	case p.Kind == posting.YearEnd && d != p.Day:
		b.Refuse("day", "its own day", string(p.Day), "A year end is taken back on its own day, %s, so that the year stands as before.", p.Day.Show())
	default:
		return true
	}
	return false
}

// backOnItsDays enters a paper of several days the other way round, each entry on
// its own.
func (b *builder) backOnItsDays(p posting.Paper) {
	for _, e := range b.PaperEntries(p.ID) {
		b.On(e.Day, "Reversal of "+p.Number, func() {
			for _, l := range e.Lines {
				b.Debit(ledger.Account{ID: l.AccountID}, -l.Amount, ledger.Line{Currency: l.Currency, Own: -l.Own, PartyID: l.PartyID, JobID: l.JobID})
			}
		})
	}
}

// nobody is spared.
func nobody(posting.Kind, int64) bool { return false }

// takingBack is the paper that takes p back: the opposite of its figures.
func takingBack(p, own posting.Paper) posting.Paper {
	own.About, own.PartyID, own.PartyName, own.PartyAddress, own.JobID = p.Kind, p.PartyID, p.PartyName, p.PartyAddress, p.JobID
	own.Reference, own.ReversesID, own.Total = p.Reference, p.ID, -p.Total
	own.Currency, own.Rate, own.Base = p.Currency, p.Rate, -p.Base
	own.Billing, own.Payment = p.Billing.Negated(), p.Payment.Negated()
	return own
}
