package posting

import (
	"slices"

	"cleantally/core/day"
	"cleantally/core/ledger"
	"cleantally/core/money"
)

// TaxDay is the day on which the tax of one of a paper's entries falls: the day
// of supply, where the paper names one, else the entry's own.
func TaxDay(p Paper, entry day.Day) day.Day {
	if p.Supplied != "" && entry == p.Day {
		return p.Supplied
	}
	return entry
}

// ofEntry is the paper of the effect that an entry belongs to; the zero value
// for that of an older one.
func (b *Builder) ofEntry(e Entry) Paper {
	if n := int(-e.PaperID - 1); e.PaperID < 0 && n < len(b.effect.Papers) {
		return *b.effect.Papers[n]
	}
	return Paper{}
}

// taxSettled refuses tax in a span that is settled: corrections bear a later
// day (docs/rules.md, part 9).
func (b *Builder) taxSettled() {
	for _, e := range b.effect.Entries {
		if !slices.ContainsFunc(e.Lines, func(l ledger.Line) bool {
			return l.AccountID == b.Role(ledger.OutputTax).ID || l.AccountID == b.Role(ledger.InputTax).ID
		}) {
			continue
		}
		p := b.ofEntry(e)
		if p.About == TaxSettlement {
			continue
		}
		through, on := b.TaxSettled(), TaxDay(p, e.Day)
		if e.Allocation != 0 { // what is settled falls due then, whenever it was supplied
			on = e.Day
		}
		if through == "" || on > through {
			continue
		}
		field := "day"
		if on != e.Day {
			field = "supplied"
		}
		b.Refuse(field, "tax settled", string(through), "The tax through %s is settled, so none can be dated %s. Use %s or later: it goes into the next return.", through.Show(), on.Show(), through.Add(1).Show())
		return
	}
}

// yearsClosed carries what an effect posts into a closed year on to retained
// earnings, at the end of that year: posting there does its year end again.
func (b *Builder) yearsClosed() {
	var years []day.Day
	asked := false
	moved := map[day.Day]map[int64]money.Amount{}
	for _, e := range b.effect.Entries {
		if b.ofEntry(e).About == YearEnd {
			continue
		}
		for _, l := range e.Lines {
			a, ok := b.Account(l.AccountID)
			if !ok || !a.Type.Result() {
				continue
			}
			if !asked {
				years, asked = b.YearsClosed(), true
			}
			n := slices.IndexFunc(years, func(last day.Day) bool { return last >= e.Day })
			if n < 0 {
				continue
			}
			if moved[years[n]] == nil {
				moved[years[n]] = map[int64]money.Amount{}
			}
			moved[years[n]][l.AccountID] += l.Amount
		}
	}
	for _, last := range years {
		if len(moved[last]) > 0 && len(b.refusals) == 0 {
			b.Warn("day", "year closed", string(last), "This lies in the year through %s, which is closed: its year end is done again in the same step.", last.Show())
			b.CarryOn(last, moved[last], "")
		}
	}
	b.closeEntries()
}

// CarryOn writes a year end: what stands on accounts of income and expense, by
// account, goes to retained earnings. From is the first day of the year; "" for
// one that is done again.
func (b *Builder) CarryOn(last day.Day, stands map[int64]money.Amount, from day.Day) *Paper {
	title := "Year end " + last.Show()
	if from == "" {
		title += ", done again"
	}
	accounts := make([]ledger.Account, 0, len(stands))
	for id, amount := range stands {
		if a, ok := b.Account(id); ok && amount != 0 {
			accounts = append(accounts, a)
		}
	}
	slices.SortFunc(accounts, func(x, y ledger.Account) int {
		if x.Number < y.Number {
			return -1
		}
		return 1
	})
	p := b.Paper(Paper{Kind: YearEnd, Day: last, Title: title, Span: Span{from, last}})
	b.Says(title)
	var result money.Amount
	for _, a := range accounts {
		b.Debit(a, -stands[a.ID], ledger.Line{})
		result += stands[a.ID]
	}
	b.Debit(b.Role(ledger.RetainedEarnings), result, ledger.Line{})
	p.Total = -result
	return p
}
