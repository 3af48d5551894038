package settling

import (
	"fmt"

	"cleantally/core/day"
	"cleantally/core/ledger"
	"cleantally/core/money"
	"cleantally/core/posting"
)

// Share is a part of an open item.
type Share struct {
	Item   posting.ItemRef
	Amount money.Amount
	Most   bool // all that is open of it, in place of Amount
}

// Refund gives money back out of credits that are open: Dr receivables (or
// deposits), Cr bank, and an allocation to each source (docs/rules.md, part 6).
// Out of money that was not identified it is sent back. Discounts, write-offs,
// contras and withheld tax are never money to give back.
type Refund struct {
	Number        string // "" to be given the next
	Day           day.Day
	Sources       []Share
	BankAccountID int64
	Method        posting.Method
	Cheque        string // its number; "" to be given the next
	Reference     string
	Note          string
	AtBank        money.Amount // what leaves the bank, where that account is in another currency than the credits
}

// Plan returns the effect of the refund.
func (r Refund) Plan(f posting.Facts) (posting.Effect, error) {
	b := build(f)
	return b.Effect(r.plan(b, func(n int) string { return fmt.Sprintf("sources[%d].amount", n) }))
}

func (r Refund) plan(b *builder, field func(n int) string) string {
	dayOK := b.PostingDay("day", r.Day)
	_, bankOK := b.Bank("bank", r.BankAccountID)
	b.Method("method", r.Method)
	if len(r.Sources) == 0 {
		b.Refuse("sources", "missing", "", "Say which credit is given back.")
		return ""
	}
	first, _ := b.Look(r.Sources[0].Item)
	b.LikeItem(first)
	party, known := b.Party(first.PartyID)
	title := "Refund"
	if !known {
		title = "Sent back, not identified"
	}
	p := b.Paper(posting.Paper{
		Kind: posting.Refund, Number: r.Number, Day: r.Day, PartyID: party.ID, PartyName: party.Name, PartyAddress: party.Printed(), JobID: first.JobID, Title: title,
		Reference: r.Reference, Note: r.Note, SourceID: first.PaperID,
		Payment: posting.Payment{BankAccountID: r.BankAccountID, Method: r.Method, Cheque: b.cheque("cheque", r.Method, r.BankAccountID, r.Cheque)},
	})
	if dayOK && bankOK {
		for i, s := range r.Sources {
			gone := take(b, field(i), s, first, r.Day)
			taken := gone.Amount.Own
			p.Total, p.Base = p.Total+taken, p.Base+gone.Amount.Base
			from, _ := b.Look(s.Item)
			if taken > 0 && from.Register == ledger.Deposits {
				askAgain(b, from, taken, r.Day)
			}
			if came := cameBy(b, from).Method; taken > 0 && came != "" && came != r.Method && r.Method != "" {
				b.Warn("method", "another way", string(came), "The money of %s came by %s. Is it to go back by %s?", from.Number, came, r.Method)
			}
		}
		b.payOut("bank", r.BankAccountID, p.Total, r.AtBank, r.Day, ledger.Line{PartyID: party.ID, JobID: first.JobID})
	}
	return fmt.Sprintf("Refunded %s by %s to %s", b.Currency().Show(p.Total), p.Number, party.Name)
}

// take takes a part of a credit that is money out of its register: Dr the
// register's account, Dr output tax for the portion inside, and an allocation.
// It returns what of it went; nothing when it was refused. First is what else is
// taken: all are in one currency.
func take(b *builder, field string, s Share, first posting.Item, d day.Day) posting.Part {
	i, amount, ok := source(b, field, s, first.PartyID, d)
	if !ok {
		return posting.Part{}
	}
	if i.Currency != first.Currency {
		b.Refuse(field, "another currency", "", "%s and %s are in different currencies. Take the credits of one currency at a time.", i.Number, first.Number)
		return posting.Part{}
	}
	gone := takenAsMoney(b, i, amount, d)
	b.DebitWorth(b.Role(ledger.OutputTax), gone.Tax, ledger.Line{Currency: i.Currency, PartyID: i.PartyID, JobID: i.JobID, TaxCodeID: i.TaxCodeID})
	out(b, field, i, gone, d)
	return gone
}

// takenAsMoney is what goes along with money that is taken out of a credit: its
// base value, and of a deposit the tax inside, due since that came. What a credit
// note bears falls due by what it is used for.
func takenAsMoney(b *builder, i posting.Item, amount money.Amount, d day.Day) posting.Part {
	gone := b.Taken(i, amount, d)
	if i.Register != ledger.Deposits {
		gone.Tax = posting.Worth{}
	}
	return gone
}

// out closes a part of a credit by an item of the paper that is being made.
func out(b *builder, field string, i posting.Item, gone posting.Part, d day.Day) {
	ref := b.Open(posting.Item{Register: i.Register, Nature: posting.Closing, PartyID: i.PartyID, JobID: i.JobID, Day: d, Due: d, Currency: i.Currency, Part: gone, TaxCodeID: i.TaxCodeID})
	b.Allocate(field, ref, i.ID, gone.Amount.Own, d)
}

// source checks a credit that money is taken out of, and how much.
func source(b *builder, field string, s Share, partyID int64, d day.Day) (posting.Item, money.Amount, bool) {
	i, ok := b.Look(s.Item)
	switch {
	case !ok || !i.Credit() || (i.Register != ledger.Receivables && i.Register != ledger.Deposits && i.Register != ledger.Unidentified):
		b.Refuse(field, "missing", "", "Choose a credit that is open: a deposit, a receipt on account, or another credit.")
		return i, 0, false
	case i.Nature != posting.Plain:
		b.Refuse(field, "no money", "", "The %s of %s is no money that could be given back or moved.", i.Nature, i.Number)
		return i, 0, false
	case i.PartyID != partyID:
		owner, _ := b.Party(i.PartyID)
		b.Refuse(field, "another customer's credit", "", "%s belongs to %s. Take the credits of one customer at a time.", i.Number, owner.Name)
		return i, 0, false
	case !b.NotBeforeItem(field, i, d):
		return i, 0, false
	}
	amount := s.Amount
	if s.Most {
		if amount = b.OpenFrom(i, d); amount == 0 {
			b.Refuse(field, "nothing left", posting.CurrencyOf(b.Facts, i.Currency).Format(0), "Nothing is left of %s. Take another.", i.Number)
			return i, 0, false
		}
	}
	return i, amount, b.AmountAboveNil(field, amount, "what is taken out of "+i.Number) && b.Within(field, i, amount, d)
}

// CameBy is how the money of an open credit came, and the bank account that it
// came to; "" where that is not known.
func CameBy(f posting.Facts, i posting.Item) (posting.Method, int64) {
	p := cameBy(build(f), i)
	return p.Method, p.BankAccountID
}

// cameBy is how the money of a credit came: its own method, or, of a credit
// note, that of what paid its invoice; nothing where none is known.
func cameBy(b *builder, i posting.Item) posting.Payment {
	p, ok := b.PaperOf(i.PaperID)
	if !ok || p.Kind != posting.CreditNote || p.SourceID == 0 {
		return p.Payment
	}
	for _, of := range b.PaperItems(p.SourceID) {
		for _, a := range b.AllocationsOf(of.ID) {
			by, _ := b.Look(a.Credit)
			if paid, _ := b.Facts.Paper(by.PaperID); paid.Payment.Method != "" {
				return paid.Payment
			}
		}
	}
	return posting.Payment{}
}
