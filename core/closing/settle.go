package closing

import (
	"fmt"

	"cleantally/core/day"
	"cleantally/core/ledger"
	"cleantally/core/money"
	"cleantally/core/posting"
)

// Facts is what settling the tax and ending a year ask besides.
type Facts interface {
	posting.Facts
	// TaxMoved is what moved on the account of a tax role in a span, by the day of
	// the tax, debits less credits, without what settled it.
	TaxMoved(role ledger.Role, from, through day.Day) money.Amount
	// TaxBefore is the first day before a day on which tax is dated; "" for none.
	TaxBefore(d day.Day) day.Day
	// ResultAccounts is what stands at the end of a day on each account of income and
	// expense, debits less credits.
	ResultAccounts(d day.Day) map[int64]money.Amount
}

// SettleTax settles the tax of a span (docs/rules.md, part 9): Dr output tax, Cr
// input tax, and the rest to tax to pay. No tax is dated in the span from then on.
type SettleTax struct {
	Number  string  // "" to be given the next
	From    day.Day // the first day that is not settled; "" for that
	Through day.Day
	Day     day.Day // of the entry; "" for the last day of the span
}

// Plan returns the effect of settling.
func (s SettleTax) Plan(f posting.Facts) (posting.Effect, error) {
	facts := f.(Facts)
	b := posting.Build(f)
	if s.Day == "" {
		s.Day = s.Through
	}
	dayOK := b.PostingDay("day", s.Day)
	_, err := day.Parse(string(s.Through))
	switch {
	case err != nil:
		b.Refuse("through", "no such day", "", "Say through which day the tax is settled.")
	case s.Through > b.Today():
		b.Refuse("through", "in the future", string(b.Today()), "%s is in the future. Settle through %s at most.", s.Through.Show(), b.Today().Show())
	case s.Day < s.Through:
		b.Refuse("day", "before the end", string(s.Through), "The tax through %s is settled on that day, or later.", s.Through.Show())
	}
	from := s.from(b, facts)
	p := b.Paper(posting.Paper{Kind: posting.TaxSettlement, Number: s.Number, Day: s.Day, Title: spanTitle(from, s.Through), Span: posting.Span{SpanFrom: from, SpanThrough: s.Through}})
	if dayOK && err == nil && !b.Refused() {
		output, input := facts.TaxMoved(ledger.OutputTax, from, s.Through), facts.TaxMoved(ledger.InputTax, from, s.Through)
		b.Says(p.Title)
		b.Debit(b.Role(ledger.OutputTax), -output, ledger.Line{})
		b.Debit(b.Role(ledger.InputTax), -input, ledger.Line{})
		b.Debit(b.Role(ledger.TaxToPay), output+input, ledger.Line{})
		p.Total = -output - input
		if p.Total < 0 {
			b.Warn("through", "comes back", b.Currency().Format(-p.Total), "%s comes back: there is more input tax than output tax.", b.Currency().Show(-p.Total))
		}
	}
	return b.Effect(fmt.Sprintf("Settled the tax through %s by %s", s.Through.Show(), p.Number))
}

// from is the first day of the span. It follows on what is settled; the first
// span begins where one says, and what lies before it is told.
func (s SettleTax) from(b *posting.Builder, facts Facts) day.Day {
	next := day.Day("")
	if settled := b.TaxSettled(); settled != "" {
		next = settled.Add(1)
	}
	from := s.From
	if from == "" {
		from = next
	}
	switch _, err := day.Parse(string(from)); {
	case next != "" && from != next:
		b.Refuse("from", "not the next", string(next), "The tax through %s is settled, so the next span begins on %s.", next.Add(-1).Show(), next.Show())
	case from != "" && err != nil:
		b.Refuse("from", "no such day", "", "Say from which day on, or leave it empty.")
	case from != "" && s.Through != "" && from > s.Through:
		b.Refuse("through", "before it begins", string(from), "The span begins on %s: settle through that day or a later one.", from.Show())
	case from != "" && next == "":
		if before := facts.TaxBefore(from); before != "" {
			b.Warn("from", "left out", string(before), "There is tax before %s, from %s on, that no return will hold.", from.Show(), before.Show())
		}
	}
	return from
}

func spanTitle(from, through day.Day) string {
	if from == "" {
		return "Tax through " + through.Show()
	}
	return "Tax from " + from.Show() + " through " + through.Show()
}

// EndYear ends a year (docs/rules.md, part 9): one entry brings what stands on
// the accounts of income and expense to retained earnings. It is left out of
// income statements.
type EndYear struct {
	Last day.Day // of the year
}

// Plan returns the effect of ending the year.
func (y EndYear) Plan(f posting.Facts) (posting.Effect, error) {
	facts := f.(Facts)
	b := posting.Build(f)
	if !b.PostingDay("last", y.Last) {
		b.Paper(posting.Paper{Kind: posting.YearEnd, Day: y.Last})
		return b.Effect("")
	}
	from := day.Day("")
	for _, last := range b.YearsClosed() {
		if last >= y.Last {
			b.Refuse("last", "closed already", string(last), "The year through %s is closed already. Choose a later day, or reverse its year end first.", last.Show())
			break
		}
		from = last.Add(1)
	}
	if y.Last > b.Today() {
		b.Refuse("last", "in the future", string(b.Today()), "%s is in the future. A year ends at its last day, not before.", y.Last.Show())
	}
	stands := facts.ResultAccounts(y.Last)
	some := false
	for _, a := range stands {
		some = some || a != 0
	}
	if !some {
		b.Refuse("last", "nothing to carry on", "", "Nothing stands on accounts of income and expense at the end of %s, so there is nothing to carry on.", y.Last.Show())
	}
	if from == "" {
		from = "0001-01-01"
	}
	p := b.CarryOn(y.Last, stands, from)
	return b.Effect(fmt.Sprintf("Ended the year through %s by %s: %s", y.Last.Show(), p.Number, b.Currency().Show(p.Total)))
}
