package settling

import (
	"fmt"

	"cleantally/core/day"
	"cleantally/core/ledger"
	"cleantally/core/money"
	"cleantally/core/posting"
)

// Contra sets what a party owes us against what we owe the same party: Dr
// payables, Cr receivables, allocated on both sides in full (docs/rules.md,
// part 6).
type Contra struct {
	Number  string // "" to be given the next
	Day     day.Day
	PartyID int64
	Owed    []Share // what the party owes us
	Owing   []Share // what we owe it
	Note    string
}

// Plan returns the effect of the contra. Where a share says "most", it takes
// as much as the other side allows.
func (x Contra) Plan(f posting.Facts) (posting.Effect, error) {
	b := build(f)
	if len(x.Owed) > 0 {
		first, _ := b.Look(x.Owed[0].Item)
		b.LikeItem(first)
	}
	dayOK := b.PostingDay("day", x.Day)
	party, partyOK := b.Customer("party", x.PartyID)
	if partyOK && !party.IsSupplier {
		b.Refuse("party", "not both", "", "%s is no supplier, so we owe it nothing. Mark it as a supplier first.", party.Name)
		partyOK = false
	}
	if len(x.Owed) == 0 || len(x.Owing) == 0 {
		b.Refuse("owed", "missing", "", "Choose what the party owes us and what we owe it.")
	}
	p := b.Paper(posting.Paper{Kind: posting.Contra, Number: x.Number, Day: x.Day, PartyID: x.PartyID, PartyName: party.Name, PartyAddress: party.Printed(), Title: "Contra", Note: x.Note})
	if dayOK && partyOK && len(x.Owed) > 0 && len(x.Owing) > 0 {
		owed, owing := x.amounts(b, "owed", ledger.Receivables, x.Owed), x.amounts(b, "owing", ledger.Payables, x.Owing)
		fit(x.Owed, owed, sumOf(owing))
		fit(x.Owing, owing, sumOf(owed))
		c := b.Currency()
		if sumOf(owed) != sumOf(owing) && !b.Refused() {
			b.Refuse("owed", "sums differ", c.Format(min(sumOf(owed), sumOf(owing))), "What the party owes comes to %s, what we owe to %s. They must agree: set %s on both sides.",
				c.Show(sumOf(owed)), c.Show(sumOf(owing)), c.Show(min(sumOf(owed), sumOf(owing))))
		}
		p.Total = sumOf(owed)
		x.post(b, p, owed, owing)
	}
	return b.Effect(fmt.Sprintf("Set %s against each other with %s by %s", b.Currency().Show(p.Total), party.Name, p.Number))
}

// amounts reads how much each share takes, within what is open.
func (x Contra) amounts(b *builder, side string, register ledger.Role, shares []Share) []money.Amount {
	all := make([]money.Amount, len(shares))
	for n, s := range shares {
		field := fmt.Sprintf("%s[%d].amount", side, n)
		i, ok := b.Look(s.Item)
		if !ok || i.Register != register || i.PartyID != x.PartyID || i.Debit() != (register == ledger.Receivables) {
			b.Refuse(field, "missing", "", "Choose an open item of this party.")
			continue
		}
		if i.Currency != b.Code() {
			b.Refuse(field, "another currency", "", "%s is in %s, so it is no contra with what is in %s. Take one currency at a time.", i.Number, posting.CurrencyOf(b.Facts, i.Currency).Code, b.Currency().Code)
			continue
		}
		all[n] = s.Amount
		if s.Most {
			all[n] = b.OpenFrom(i, x.Day)
		} else if b.AmountAboveNil(field, s.Amount, "the amount of "+i.Number) {
			b.Within(field, i, s.Amount, x.Day)
		}
	}
	return all
}

// fit lowers the shares that say "most" until the side comes to no more than
// the other, the last first.
func fit(shares []Share, amounts []money.Amount, most money.Amount) {
	for n := len(shares) - 1; n >= 0; n-- {
		if over := sumOf(amounts) - most; shares[n].Most && over > 0 {
			amounts[n] -= min(over, amounts[n])
		}
	}
}

func sumOf(amounts []money.Amount) money.Amount {
	var sum money.Amount
	for _, a := range amounts {
		sum += a
	}
	return sum
}

// worth is what one side of the contra clears.
func (x Contra) worth(b *builder, shares []Share, amounts []money.Amount) (sum posting.Part) {
	for n, s := range shares {
		if i, ok := b.Look(s.Item); ok && amounts[n] > 0 {
			sum.Amount = sum.Amount.Add(b.Taken(i, amounts[n], x.Day).Amount)
		}
	}
	return sum
}

func (x Contra) post(b *builder, p *posting.Paper, owed, owing []money.Amount) {
	if p.Total <= 0 || b.Refused() {
		return
	}
	debit := b.Open(posting.Item{Register: ledger.Payables, Nature: posting.OfContra, PartyID: x.PartyID, Day: x.Day, Due: x.Day, Currency: b.Code(), Part: x.worth(b, x.Owing, owing)})
	credit := b.Open(posting.Item{Register: ledger.Receivables, Nature: posting.OfContra, PartyID: x.PartyID, Day: x.Day, Currency: b.Code(), Part: x.worth(b, x.Owed, owed).Neg()})
	b.ExchangeRest(ledger.Line{PartyID: x.PartyID})
	for n, s := range x.Owed {
		if owed[n] > 0 {
			b.Allocate(fmt.Sprintf("owed[%d].amount", n), s.Item, credit, owed[n], x.Day)
		}
	}
	for n, s := range x.Owing {
		if owing[n] > 0 {
			b.Allocate(fmt.Sprintf("owing[%d].amount", n), debit, s.Item, owing[n], x.Day)
		}
	}
}
