package settling

import (
	"fmt"

	"cleantally/core/day"
	"cleantally/core/ledger"
	"cleantally/core/money"
	"cleantally/core/posting"
)

// Receipt is money from a customer for what is owed: Dr bank (what arrived),
// Dr bank charges (what the bank kept), Cr receivables (their sum). The sum is
// placed on the customer's invoices; what is left goes on account only when
// someone says so.
type Receipt struct {
	Number        string // "" to be given the next
	PartyID       int64
	JobID         int64 // of what stays on account
	Day           day.Day
	Arrived       money.Amount
	Kept          money.Amount
	BankAccountID int64
	Method        posting.Method
	Reference     string
	Note          string
	Placements    []Placement
	OnAccount     bool // what is not placed stays on account
}

// Placement puts a part of a receipt on an open item.
type Placement struct {
	Debit  posting.ItemRef
	Amount money.Amount
	Most   bool // as much as is open and left, in place of Amount
}

// Plan returns the effect of recording the receipt.
func (r Receipt) Plan(f posting.Facts) (posting.Effect, error) {
	b := posting.Build(f)
	sum := r.Arrived + r.Kept
	dayOK := b.PostingDay("day", r.Day)
	party, partyOK := b.Customer("party", r.PartyID)
	jobOK := b.JobOf("job", r.JobID, r.PartyID)
	amountOK := b.AmountAboveNil("arrived", r.Arrived, "what arrived")
	if r.Kept < 0 || r.Kept > money.Limit {
		b.Refuse("kept", "below nil", b.Currency().Format(0), "What the bank kept cannot be below nil.")
		amountOK = false
	}
	bank, bankOK := b.Bank("bank", r.BankAccountID)
	b.Method("method", r.Method)
	b.PaidTwice(r.PartyID, r.Reference, sum, r.Day)
	p := b.Paper(posting.Paper{
		Kind: posting.Receipt, Number: r.Number, Day: r.Day, PartyID: r.PartyID, PartyName: party.Name, PartyAddress: party.Address,
		JobID: r.JobID, Title: r.title(), Reference: r.Reference, Note: r.Note, BankAccountID: r.BankAccountID, Method: r.Method, Total: sum, Kept: r.Kept,
	})
	if dayOK && partyOK && jobOK && amountOK && bankOK {
		at := ledger.Line{PartyID: r.PartyID, JobID: r.JobID}
		e := ledger.Entry{Day: r.Day, Text: "Receipt " + p.Number}
		e.Debit(bank, r.Arrived, at)
		e.Debit(b.Role(ledger.BankCharges), r.Kept, at)
		e.Credit(b.Role(ledger.Receivables), sum, at)
		b.Enter(e)
		r.place(b, sum)
	}
	return b.Effect(fmt.Sprintf("Recorded receipt %s from %s, %s", p.Number, party.Name, f.Currency().Show(sum)))
}

func (r Receipt) title() string {
	if len(r.Placements) == 0 {
		return "Receipt on account"
	}
	return "Receipt"
}

// place sets the receipt against what it is placed on and refuses a rest that
// nobody has put on account.
func (r Receipt) place(b *posting.Builder, sum money.Amount) {
	own := b.Open(posting.Item{Register: ledger.Receivables, PartyID: r.PartyID, JobID: r.JobID, Day: r.Day, Amount: -sum})
	left := sum
	c := b.Currency()
	for i, pl := range r.Placements {
		field := fmt.Sprintf("placements[%d].amount", i)
		if pl.Most {
			if pl.Amount = b.Most(pl.Debit, own, r.Day); pl.Amount == 0 {
				b.AllocateMost(field, pl.Debit, own, r.Day) // says why
				continue
			}
		}
		if pl.Amount > left {
			b.Refuse(field, "more than arrived", c.Format(left), "Only %s of this receipt is left to place, not %s. Place %s or less.", c.Show(left), c.Show(pl.Amount), c.Show(left))
			return
		}
		if b.Allocate(field, pl.Debit, own, pl.Amount, r.Day) {
			left -= pl.Amount
		}
	}
	if left > 0 && !r.OnAccount && !b.Refused() {
		b.Refuse("onAccount", "not placed", c.Format(left), "%s of this receipt is not placed. Place it on an invoice, or say that it stays on account.", c.Show(left))
	}
}
