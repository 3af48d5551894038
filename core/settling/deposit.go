// Package settling plans how money comes, waits, is placed, goes back and is
// given up (docs/rules.md, parts 4, 6 and 7).
package settling

import (
	"fmt"

	"cleantally/core/day"
	"cleantally/core/ledger"
	"cleantally/core/money"
	"cleantally/core/posting"
	"cleantally/core/tax"

	"github.com/shopspring/decimal"
)

// Deposit is money received before the invoice that it is for, held for the
// customer as a liability: Dr bank, Cr deposits. The customer's receivable
// does not move. Taxed on receipt, the amount includes tax: Cr output tax for
// what is inside.
type Deposit struct {
	Number        string // "" to be given the next
	PartyID       int64
	JobID         int64
	Day           day.Day
	Amount        money.Amount
	Currency      string          // that it is held in, ISO 4217; "": that of the bank account
	AtBank        money.Amount    // what arrived, where the bank account is in another currency than it is held in
	Rate          decimal.Decimal // of what arrived in another currency; nil for that of the day
	TaxCodeID     int64           // taxed on receipt; 0 for not
	BankAccountID int64
	Method        posting.Method
	Reference     string
	Note          string
	RequestID     int64 // the request that it pays; 0 for none
}

// Plan returns the effect of taking the deposit.
func (d Deposit) Plan(f posting.Facts) (posting.Effect, error) {
	b := build(f)
	_, ok := b.Bank("bank", d.BankAccountID)
	b.Method("method", d.Method)
	return b.Effect(d.plan(b, origin{bankID: d.BankAccountID, bankDay: d.Day}, ok))
}

// plan adds the deposit to what is being built and returns its summary.
func (d Deposit) plan(b *builder, o origin, originOK bool) string {
	dayOK := b.PostingDay("day", d.Day)
	dayOK = o.in(b, &d.Currency, d.Amount, d.AtBank, d.Rate, d.Day) && dayOK
	party, partyOK := b.Customer("party", d.PartyID)
	jobOK := b.JobOf("job", d.JobID, d.PartyID)
	amountOK := b.AmountAboveNil("amount", d.Amount, "a deposit")
	inside, taxOK := taxOnReceipt(b, d.TaxCodeID, d.Amount, d.Day)
	b.PaidTwice(d.PartyID, d.Reference, d.Amount, d.Day)
	title := "Deposit"
	if job, ok := b.Job(d.JobID); ok {
		title = "Deposit for job " + job.Number
	}
	p := b.Paper(posting.Paper{
		Kind: posting.Deposit, Number: d.Number, Day: d.Day, PartyID: d.PartyID, PartyName: party.Name, PartyAddress: party.Printed(), JobID: d.JobID, Title: title,
		Reference: d.Reference, Note: d.Note, Total: d.Amount, SourceID: d.RequestID, Billing: posting.Billing{Tax: inside}, Payment: posting.Payment{BankAccountID: d.BankAccountID, Method: d.Method, BankDay: o.bankDay},
	})
	if dayOK && partyOK && jobOK && amountOK && originOK && taxOK {
		at := ledger.Line{PartyID: d.PartyID, JobID: d.JobID}
		var held posting.Part
		held.Amount = o.receive(b, "amount", d.Amount, d.AtBank, at, d.Day)
		held.Tax = posting.Worth{Own: inside, Base: money.Portion(inside, held.Amount.Base, d.Amount)}
		p.Base = held.Amount.Base
		b.Open(posting.Item{Register: ledger.Deposits, PartyID: d.PartyID, JobID: d.JobID, Day: d.Day, Currency: b.Code(), Part: held.Neg(), TaxCodeID: d.TaxCodeID})
		at.TaxCodeID = d.TaxCodeID
		b.CreditWorth(b.Role(ledger.OutputTax), held.Tax, at)
		d.pay(b, p)
	}
	return fmt.Sprintf("Took deposit %s from %s, %s", p.Number, party.Name, b.Currency().Show(d.Amount))
}

// taxOnReceipt is the tax inside an amount by a code, nil for no code.
func taxOnReceipt(b *builder, codeID int64, amount money.Amount, d day.Day) (money.Amount, bool) {
	if codeID == 0 {
		return 0, true
	}
	code, rates, ok := b.TaxCode(codeID)
	if !ok || code.Inactive {
		b.Refuse("taxCode", "not in use", "", "Tax code %s is not in use. Choose another, or none.", code.Code)
		return 0, false
	}
	percent, err := tax.RateOn(code, rates, d)
	if err != nil {
		b.Refuse("taxCode", "no rate", "", "%s. Add a rate, or choose another code.", posting.Sentence(err.Error()))
		return 0, false
	}
	if code.Kind == tax.CustomerAccountsIt {
		return 0, true
	}
	return tax.Inside(amount, percent, b.Currency()), true
}

// pay lowers what the request still asks for. What is more than that is a
// deposit all the same.
func (d Deposit) pay(b *builder, p *posting.Paper) {
	if d.RequestID == 0 {
		return
	}
	r, ok := b.Facts.Paper(d.RequestID)
	number, reversed := b.ReversedBy(d.RequestID)
	switch {
	case !ok || r.Kind != posting.Request:
		b.Refuse("request", "missing", "", "There is no such request for a deposit. Choose another, or none.")
		return
	case r.PartyID != d.PartyID:
		b.Refuse("request", "another customer's request", r.Number, "%s asks %s. Choose a request of this customer, or none.", r.Number, r.PartyName)
		return
	case reversed:
		b.Refuse("request", "reversed", number, "%s was reversed by %s. Choose another request, or none.", r.Number, number)
		return
	case !b.OneCurrency("request", r, "paid"):
		return
	}
	of := posting.Thing{LineRef: posting.LineRef{PaperID: r.ID, Position: 1}}
	left, _, _ := b.LeftOf(of, posting.Paid, d.Day)
	if paid := min(d.Amount, left.Most()); paid > 0 {
		b.Use("request", posting.Use{Of: of, As: posting.Paid, Day: d.Day, By: posting.LineRef{PaperID: p.ID}, Part: posting.Part{Amount: left.Take(paid).Amount}})
	}
}

// askAgain reopens the request that a deposit paid, as far as the deposit is
// given back.
func askAgain(b *builder, deposit posting.Item, amount money.Amount, d day.Day) {
	for _, u := range b.UsesBy(deposit.PaperID) {
		if u.As != posting.Paid || u.Undoes != 0 || u.Amount.Own < 0 {
			continue
		}
		paid := u.Part
		for _, o := range b.Uses(u.Of.PaperID) {
			if o.By == u.By && o.ID != u.ID {
				paid = paid.Add(o.Part)
			}
		}
		if back := min(paid.Amount.Own, amount); back > 0 {
			b.Use("sources", posting.Use{Of: u.Of, As: posting.Paid, Day: d, By: u.By, Part: paid.Take(back).Neg()})
		}
	}
}
