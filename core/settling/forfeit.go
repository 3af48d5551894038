package settling

import (
	"fmt"
	"strings"

	"cleantally/core/day"
	"cleantally/core/ledger"
	"cleantally/core/money"
	"cleantally/core/posting"
)

// Forfeit keeps a part of a deposit for good: Dr deposits, Cr forfeits, and Cr
// output tax out of it when the forfeit bears tax (docs/rules.md, part 4). Of a
// deposit that was taxed on receipt the tax stays due, unless the forfeit is
// outside tax: then it comes back.
type Forfeit struct {
	Number     string // "" to be given the next
	Day        day.Day
	Deposit    Share
	TaxCodeID  int64 // of a forfeit that bears tax, out of a deposit without; 0 for none
	OutsideTax bool  // of a deposit that was taxed on receipt
	Reason     string
}

// Plan returns the effect of the forfeit.
func (k Forfeit) Plan(f posting.Facts) (posting.Effect, error) {
	b := build(f)
	return b.Effect(k.plan(b, "amount"))
}

func (k Forfeit) plan(b *builder, field string) string {
	dayOK := b.PostingDay("day", k.Day)
	i, ok := b.Look(k.Deposit.Item)
	if !ok || i.Register != ledger.Deposits {
		b.Refuse(field, "missing", "", "Choose a deposit that is held.")
		return ""
	}
	b.LikeItem(i)
	party, _ := b.Party(i.PartyID)
	p := b.Paper(posting.Paper{Kind: posting.Forfeit, Number: k.Number, Day: k.Day, PartyID: i.PartyID, PartyName: party.Name, PartyAddress: party.Printed(), JobID: i.JobID,
		Title: "Forfeit of " + i.Number, Reason: strings.TrimSpace(k.Reason), SourceID: i.PaperID})
	if i, amount, ok := source(b, field, k.Deposit, i.PartyID, k.Day); ok && dayOK {
		gone := b.Taken(i, amount, k.Day)
		at := ledger.Line{PartyID: i.PartyID, JobID: i.JobID}
		income, bears := gone.Amount.Add(gone.Tax.Neg()), at
		bears.TaxCodeID = i.TaxCodeID
		switch {
		case i.Tax.Own != 0 && k.OutsideTax:
			b.DebitWorth(b.Role(ledger.OutputTax), gone.Tax, bears)
			income = gone.Amount
		case i.Tax.Own == 0 && k.TaxCodeID != 0:
			p.Tax, _ = taxOnReceipt(b, k.TaxCodeID, amount, k.Day)
			bears.TaxCodeID = k.TaxCodeID
			inside := posting.Worth{Own: p.Tax, Base: money.Portion(p.Tax, gone.Amount.Base, amount)}
			income = income.Add(inside.Neg())
			b.CreditWorth(b.Role(ledger.OutputTax), inside, bears)
		}
		b.CreditWorth(b.Role(ledger.Forfeits), income, at)
		p.Total, p.Base = amount, gone.Amount.Base
		out(b, field, i, gone, k.Day)
	}
	return fmt.Sprintf("Kept %s of deposit %s of %s by %s", b.Currency().Show(p.Total), i.Number, party.Name, p.Number)
}
