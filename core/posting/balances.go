package posting

import (
	"sort"

	"cleantally/core/ledger"
	"cleantally/core/money"
)

// Balances works out each balance that an effect touches, before and after.
// They are for showing: committing an effect does not need them.
func Balances(f Facts, e Effect) []Balance {
	b := &Builder{Facts: f, effect: e}
	var all []Balance
	all = append(all, b.itemBalances()...)
	all = append(all, b.partyBalances()...)
	all = append(all, b.jobBalance()...)
	return append(all, b.accountBalances()...)
}

func (b *Builder) itemBalances() []Balance {
	delta := map[ItemRef]money.Amount{}
	var order []ItemRef
	for _, m := range b.effect.Moves {
		if _, seen := delta[m.Item]; !seen {
			order = append(order, m.Item)
		}
		delta[m.Item] += m.Amount
	}
	var all []Balance
	for _, ref := range order {
		i, _ := b.Look(ref)
		if i.Kind == Reversal || (ref < 0 && i.Nature != Plain) {
			continue
		}
		before := i.Open
		if ref < 0 {
			before = 0
		}
		sign := money.Amount(1)
		if i.Amount < 0 {
			sign = -1
		}
		all = append(all, Balance{"item", max(int64(ref), 0), i.Number, StandingOf(i), sign * before, sign * (before + delta[ref])})
	}
	return all
}

// StandingOf says what the open amount of an item is called.
func StandingOf(i Item) string {
	switch {
	case i.Register == ledger.Deposits:
		return "held"
	case i.Register == ledger.Unidentified:
		return "not identified"
	case i.Register == ledger.Retention:
		return "kept back"
	case i.Register == ledger.Payables && i.Amount < 0:
		return "we owe"
	case i.Amount < 0:
		return "not placed"
	}
	return "open"
}

func (b *Builder) partyBalances() []Balance {
	delta := map[int64]money.Amount{}
	touched := map[int64]bool{}
	for _, m := range b.effect.Moves {
		i, _ := b.Look(m.Item)
		touched[i.PartyID] = true
		if i.Register == ledger.Receivables {
			delta[i.PartyID] += m.Amount
		}
		if i.Register == ledger.Payables {
			delete(touched, i.PartyID)
		}
	}
	var all []Balance
	for id := range touched {
		p, ok := b.Party(id)
		if ok {
			before := b.PartyBalance(ledger.Receivables, id)
			all = append(all, Balance{"party", id, p.Name, "owes", before, before + delta[id]})
		}
	}
	sort.Slice(all, func(x, y int) bool { return all[x].ID < all[y].ID })
	return all
}

func (b *Builder) jobBalance() []Balance {
	p := b.effect.Paper()
	if p == nil || p.Net == 0 {
		return nil
	}
	j, ok := b.Job(p.JobID)
	if !ok || j.ContractSum == 0 {
		return nil
	}
	before := j.ContractSum - b.JobBilled(j.ID)
	return []Balance{{"job", j.ID, "Job " + j.Number, "left to bill", before, before - p.Net}}
}

// accountBalances tells bank accounts and the control accounts other than
// receivables, which the party's balance tells better.
func (b *Builder) accountBalances() []Balance {
	delta := map[int64]money.Amount{}
	for _, e := range b.effect.Entries {
		for _, l := range e.Lines {
			delta[l.AccountID] += l.Amount
		}
	}
	control := map[int64]bool{}
	for _, role := range ledger.Controls {
		control[b.Role(role).ID] = role != ledger.Receivables
	}
	var all []Balance
	for id, change := range delta {
		a, ok := b.Account(id)
		if !ok || change == 0 || !(control[id] || b.IsBank(id)) {
			continue
		}
		before := b.AccountBalance(id)
		if !a.Type.DebitNormal() {
			before, change = -before, -change
		}
		all = append(all, Balance{"account", id, a.Number + " " + a.Name, "", before, before + change})
	}
	sort.Slice(all, func(x, y int) bool { return all[x].Name < all[y].Name })
	return all
}
