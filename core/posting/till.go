package posting

import (
	"cleantally/core/day"
	"cleantally/core/money"
)

// tills refuses what would leave less than nothing in a till at the end of any
// day (docs/rules.md, part 6).
func (b *Builder) tills() {
	seen := map[int64]bool{}
	for _, e := range b.effect.Entries {
		for _, l := range e.Lines {
			if bank, _ := b.BankOf(l.AccountID); bank.Cash && l.Amount < 0 && !seen[l.AccountID] {
				seen[l.AccountID] = true
				b.till(l.AccountID)
			}
		}
	}
}

func (b *Builder) till(id int64) {
	moved := map[day.Day]money.Amount{}
	var first day.Day
	for _, e := range b.effect.Entries {
		for _, l := range e.Lines {
			if l.AccountID != id {
				continue
			}
			moved[e.Day] += l.Amount
			if first == "" || e.Day < first {
				first = e.Day
			}
		}
	}
	before := map[day.Day]money.Amount{}
	days := b.AccountDays(id, first)
	for _, d := range days {
		before[d.Day] = d.Balance
	}
	for d := range moved { // a day of its own, on which nothing moved before
		if _, known := before[d]; !known {
			for _, at := range days {
				if at.Day < d {
					before[d] = at.Balance
				}
			}
		}
	}
	least, on := money.Amount(0), day.Day("")
	for d, balance := range before {
		for m, amount := range moved {
			if m <= d {
				balance += amount
			}
		}
		if balance < least || balance == least && on != "" && d < on {
			least, on = balance, d
		}
	}
	if least < 0 {
		a, _ := b.Account(id)
		c := b.Currency()
		b.Refuse("bank", "below nil", c.Format(max(before[on], 0)), "%s would hold %s less than nothing on %s. Pay by another account, or record the cash that came before.", a.Name, c.Show(-least), on.Show())
	}
}
