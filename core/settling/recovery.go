package settling

import (
	"fmt"

	"cleantally/core/day"
	"cleantally/core/ledger"
	"cleantally/core/money"
	"cleantally/core/posting"
)

// Recovery is money that comes for a debt that was given up: Dr bank, Cr
// recoveries, and Cr output tax for the portion of relief; never past what was
// written off (docs/rules.md, part 6).
type Recovery struct {
	Number        string // "" to be given the next
	WriteOffID    int64  // the paper
	Day           day.Day
	Amount        money.Amount
	BankAccountID int64
	Method        posting.Method
	Reference     string
	Note          string
}

// Plan returns the effect of the recovery.
func (r Recovery) Plan(f posting.Facts) (posting.Effect, error) {
	b := posting.Build(f)
	off, ok := f.Paper(r.WriteOffID)
	if _, reversed := f.ReversedBy(r.WriteOffID); !ok || off.Kind != posting.WriteOff || reversed {
		b.Refuse("writeOff", "missing", "", "Choose the write-off that this money comes for.")
		return b.Effect("")
	}
	dayOK := b.PostingDay("day", r.Day)
	if dayOK && r.Day < off.Day {
		b.Refuse("day", "before the paper", string(off.Day), "%s is dated %s; nothing is recovered before. Use that day or later.", off.Number, off.Day.Show())
		dayOK = false
	}
	amountOK := b.AmountAboveNil("amount", r.Amount, "what was recovered")
	bank, bankOK := b.Bank("bank", r.BankAccountID)
	b.Method("method", r.Method)
	b.PaidTwice(off.PartyID, r.Reference, r.Amount, r.Day)
	left, taxes := Recoverable(f, off)
	if c := f.Currency(); amountOK && r.Amount > left {
		b.Refuse("amount", "more than was written off", c.Format(left), "Of %s only %s has not come back yet, not %s. Put what is beyond it on account by a receipt.", off.Number, c.Show(left), c.Show(r.Amount))
		amountOK = false
	}
	p := b.Paper(posting.Paper{Kind: posting.Recovery, Number: r.Number, Day: r.Day, PartyID: off.PartyID, PartyName: off.PartyName, PartyAddress: off.PartyAddress, JobID: off.JobID,
		Title: "Recovery of " + off.Number, Reference: r.Reference, Note: r.Note, BankAccountID: r.BankAccountID, Method: r.Method, Total: r.Amount, SourceID: off.ID})
	if dayOK && amountOK && bankOK {
		at := ledger.Line{PartyID: off.PartyID, JobID: off.JobID}
		e := ledger.Entry{Day: r.Day, Text: "Recovery " + p.Number}
		e.Debit(bank, r.Amount, at)
		for n := range taxes {
			taxes[n].tax = money.Portion(r.Amount, taxes[n].tax, left)
			p.Tax += taxes[n].tax
		}
		e.Credit(b.Role(ledger.Recoveries), r.Amount-p.Tax, at)
		for _, t := range taxes {
			at.TaxCodeID = t.code
			e.Credit(b.Role(ledger.OutputTax), t.tax, at)
		}
		b.Enter(e)
	}
	return b.Effect(fmt.Sprintf("Recovered %s of %s by %s", f.Currency().Show(r.Amount), off.Number, p.Number))
}

// Recoverable is what of a write-off has not come back yet, and the tax relief
// inside it by tax code.
func Recoverable(f posting.Facts, off posting.Paper) (money.Amount, []codeTax) {
	left := off.Total
	tax := f.Role(ledger.OutputTax).ID
	var taxes []codeTax
	add := func(entries []ledger.Entry) {
		for _, e := range entries {
			for _, l := range e.Lines {
				if l.AccountID != tax {
					continue
				}
				at := -1
				for n := range taxes {
					if taxes[n].code == l.TaxCodeID {
						at = n
					}
				}
				if at < 0 {
					taxes = append(taxes, codeTax{code: l.TaxCodeID})
					at = len(taxes) - 1
				}
				taxes[at].tax += l.Amount
			}
		}
	}
	add(f.PaperEntries(off.ID))
	for _, p := range f.StandingOn(off.ID) {
		if p.Kind == posting.Recovery {
			left -= p.Total
			add(f.PaperEntries(p.ID))
		}
	}
	return left, taxes
}
