package posting

import (
	"cmp"
	"slices"

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
		delta[m.Item] += m.Amount.Own
	}
	var all []Balance
	for _, ref := range order {
		i, _ := b.Look(ref)
		// What goes along with something else is no balance of anybody's, unless
		// it is left open.
		if i.Nature == Opposite || (i.Nature != Plain && (ref < 0 || delta[ref] == 0)) {
			continue
		}
		before := i.Left.Amount.Own
		if ref < 0 {
			before = 0
		}
		all = append(all, Balance{"item", max(int64(ref), 0), i.Number, StandingOf(i), i.Sign() * before, i.Sign() * (before + delta[ref]), i.Currency})
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
	case i.Register == ledger.RetentionPayable:
		return "we keep back"
	case i.Register == ledger.SupplierPrepayments:
		return "prepaid"
	case i.Register == ledger.Payables && i.Credit():
		return "we owe"
	case i.Register == ledger.Payables && i.Kind == SupplierCredit:
		return "not used"
	case i.Register == ledger.Payables:
		return "on account"
	case i.Kind == CreditNote && i.Credit():
		return "not used"
	case i.Credit():
		return "on account"
	}
	return "open"
}

// partyBalances tells what each party owes, and what we owe it.
func (b *Builder) partyBalances() []Balance {
	type side struct {
		party    int64
		register ledger.Role
	}
	delta := map[side]money.Amount{}
	for _, m := range b.effect.Moves {
		i, _ := b.Look(m.Item)
		at := side{i.PartyID, ledger.Receivables}
		if i.Register == ledger.Payables || i.Register == ledger.SupplierPrepayments || i.Register == ledger.RetentionPayable {
			at.register = ledger.Payables
		}
		change := money.Amount(0)
		if i.Register == at.register {
			change = m.Amount.Base
		}
		delta[at] += change
	}
	var all []Balance
	for at, change := range delta {
		if p, ok := b.Party(at.party); ok {
			before, what := b.PartyBalance(at.register, at.party), "owes"
			if at.register == ledger.Payables {
				before, change, what = -before, -change, "we owe"
			}
			all = append(all, Balance{"party", at.party, p.Name, what, before, before + change, ""})
		}
	}
	slices.SortFunc(all, func(x, y Balance) int { return cmp.Or(cmp.Compare(x.ID, y.ID), cmp.Compare(x.What, y.What)) })
	return all
}

func (b *Builder) jobBalance() []Balance {
	p := b.effect.Paper()
	if p == nil || p.Net == 0 {
		return nil
	}
	j, ok := b.Job(p.JobID)
	d, _ := Describe(p.About)
	if !ok || !d.Bills && !d.Agrees {
		return nil
	}
	sum := b.Contract(j)
	if d.Agrees {
		return []Balance{{"job", j.ID, "Job " + j.Number, "contract", sum, sum + p.Firms().Net, ""}}
	}
	if sum == 0 {
		return nil
	}
	before := sum - b.JobBilled(j.ID)
	return []Balance{{"job", j.ID, "Job " + j.Number, "left to bill", before, before - (p.Firms().Net - p.Firms().Beside), ""}}
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
	var all []Balance
	for id, change := range delta {
		a, ok := b.Account(id)
		register, control := b.Control(id)
		if !ok || change == 0 || register == ledger.Receivables || !(control || b.IsBank(id)) {
			continue
		}
		before := b.AccountBalance(id)
		if !a.Type.DebitNormal() {
			before, change = -before, -change
		}
		all = append(all, Balance{"account", id, a.Number + " " + a.Name, "", before, before + change, ""})
	}
	slices.SortFunc(all, func(x, y Balance) int { return cmp.Compare(x.Name, y.Name) })
	return all
}
