package settling

import (
	"fmt"
	"slices"

	"cleantally/core/day"
	"cleantally/core/ledger"
	"cleantally/core/money"
	"cleantally/core/posting"

	"github.com/shopspring/decimal"
)

// Recovery is money that comes for a debt that was given up: Dr bank, Cr
// recoveries, and Cr output tax for the portion of relief; never past what was
// written off (docs/rules.md, part 6).
type Recovery struct {
	Number        string // "" to be given the next
	WriteOffID    int64  // the paper
	Day           day.Day
	Amount        money.Amount
	Rate          decimal.Decimal // of what was given up in another currency; nil for that of the day
	BankAccountID int64
	Method        posting.Method
	Reference     string
	Note          string
	AtBank        money.Amount // what arrived, where the bank account is in another currency than what was given up
}

// Plan returns the effect of the recovery.
func (r Recovery) Plan(f posting.Facts) (posting.Effect, error) {
	b := build(f)
	off, ok := f.Paper(r.WriteOffID)
	if _, reversed := f.ReversedBy(r.WriteOffID); !ok || off.Kind != posting.WriteOff || reversed {
		b.Refuse("writeOff", "missing", "", "Choose the write-off that this money comes for.")
		return b.Effect("")
	}
	b.Like(off.Currency, off.Rate)
	dayOK := b.PostingDay("day", r.Day) && b.In(off.Currency, r.Rate, r.Day)
	if dayOK && r.Day < off.Day {
		b.Refuse("day", "before the paper", string(off.Day), "%s is dated %s; nothing is recovered before. Use that day or later.", off.Number, off.Day.Show())
		dayOK = false
	}
	amountOK := b.AmountAboveNil("amount", r.Amount, "what was recovered")
	_, bankOK := b.Bank("bank", r.BankAccountID)
	b.Method("method", r.Method)
	b.PaidTwice(off.PartyID, r.Reference, r.Amount, r.Day)
	left := money.Amount(0)
	if dayOK {
		left = b.recoverable(off, r.Day).Most()
	}
	if c := b.Currency(); dayOK && amountOK && r.Amount > left {
		b.Refuse("amount", "more than was written off", c.Format(left), "Of %s only %s has not come back yet, not %s. Put what is beyond it on account by a receipt.", off.Number, c.Show(left), c.Show(r.Amount))
		amountOK = false
	}
	p := b.Paper(posting.Paper{Kind: posting.Recovery, Number: r.Number, Day: r.Day, PartyID: off.PartyID, PartyName: off.PartyName, PartyAddress: off.PartyAddress, JobID: off.JobID,
		Title: "Recovery of " + off.Number, Reference: r.Reference, Note: r.Note, Total: r.Amount, SourceID: off.ID, Payment: posting.Payment{BankAccountID: r.BankAccountID, Method: r.Method}})
	if dayOK && amountOK && bankOK {
		at := ledger.Line{PartyID: off.PartyID, JobID: off.JobID}
		came := b.payIn("bank", r.BankAccountID, r.Amount, r.AtBank, r.Day, at)
		p.Base = came.Base
		parts := b.InsideDebt(off.ID, r.Amount, r.Day)
		b.UseDebt("amount", off.ID, posting.Recovered, parts, posting.LineRef{PaperID: p.ID}, r.Day)
		taxes := posting.Taxes(parts)
		p.Tax = taxes.Own
		b.CreditWorth(b.Role(ledger.Recoveries), came.Add(taxes.Neg()), at)
		for _, t := range parts {
			at.TaxCodeID = t.TaxCodeID
			b.CreditWorth(b.Role(ledger.OutputTax), t.Tax, at)
		}
	}
	return b.Effect(fmt.Sprintf("Recovered %s of %s by %s", b.Currency().Show(r.Amount), off.Number, p.Number))
}

// recoverable is what of a write-off has not come back from a day on.
func (b *builder) recoverable(off posting.Paper, d day.Day) posting.Left {
	var all posting.Left
	for n, l := range off.Lines {
		left, _, _ := b.LeftOf(posting.Thing{LineRef: posting.LineRef{PaperID: off.ID}, TaxCodeID: l.TaxCodeID}, posting.Recovered, d)
		if !slices.ContainsFunc(off.Lines[:n], func(o posting.PaperLine) bool { return o.TaxCodeID == l.TaxCodeID }) {
			all = posting.Left{Least: all.Least.Add(left.Least), End: all.End.Add(left.End)}
		}
	}
	return all
}

// Recoverable is what of a write-off has not come back yet.
func Recoverable(f posting.Facts, off posting.Paper, d day.Day) money.Amount {
	return build(f).recoverable(off, d).Most()
}
