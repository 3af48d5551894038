// Package settling plans how money comes, is placed and is taken back
// (docs/rules.md, parts 4 and 7).
package settling

import (
	"fmt"

	"cleantally/core/day"
	"cleantally/core/ledger"
	"cleantally/core/money"
	"cleantally/core/posting"
)

// Deposit is money received before the invoice that it is for, held for the
// customer as a liability: Dr bank, Cr deposits. The customer's receivable
// does not move.
type Deposit struct {
	Number        string // "" to be given the next
	PartyID       int64
	JobID         int64
	Day           day.Day
	Amount        money.Amount
	BankAccountID int64
	Method        posting.Method
	Reference     string
	Note          string
}

// Plan returns the effect of taking the deposit.
func (d Deposit) Plan(f posting.Facts) (posting.Effect, error) {
	b := posting.Build(f)
	dayOK := b.PostingDay("day", d.Day)
	party, partyOK := b.Customer("party", d.PartyID)
	jobOK := b.JobOf("job", d.JobID, d.PartyID)
	amountOK := b.AmountAboveNil("amount", d.Amount, "a deposit")
	bank, bankOK := b.Bank("bank", d.BankAccountID)
	b.Method("method", d.Method)
	b.PaidTwice(d.PartyID, d.Reference, d.Amount, d.Day)
	title := "Deposit"
	if job, ok := b.Job(d.JobID); ok {
		title = "Deposit for job " + job.Number
	}
	p := b.Paper(posting.Paper{
		Kind: posting.Deposit, Number: d.Number, Day: d.Day, PartyID: d.PartyID, PartyName: party.Name, PartyAddress: party.Address,
		JobID: d.JobID, Title: title, Reference: d.Reference, Note: d.Note, BankAccountID: d.BankAccountID, Method: d.Method, Total: d.Amount,
	})
	if dayOK && partyOK && jobOK && amountOK && bankOK {
		at := ledger.Line{PartyID: d.PartyID, JobID: d.JobID}
		e := ledger.Entry{Day: d.Day, Text: "Deposit " + p.Number}
		e.Debit(bank, d.Amount, at)
		e.Credit(b.Role(ledger.Deposits), d.Amount, at)
		b.Enter(e)
		b.Open(posting.Item{Register: ledger.Deposits, PartyID: d.PartyID, JobID: d.JobID, Day: d.Day, Amount: -d.Amount})
	}
	return b.Effect(fmt.Sprintf("Took deposit %s from %s, %s", p.Number, party.Name, f.Currency().Show(d.Amount)))
}
