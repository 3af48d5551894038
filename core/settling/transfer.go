package settling

import (
	"fmt"
	"strings"

	"cleantally/core/day"
	"cleantally/core/ledger"
	"cleantally/core/posting"
)

// Transfer moves an open credit to another customer or job, or between on
// account and deposit (docs/rules.md, part 4): one paper, the new item dated
// its day. 500.00 on account made a deposit is Dr receivables, Cr deposits.
type Transfer struct {
	Number    string // "" to be given the next
	Day       day.Day
	From      Share
	PartyID   int64
	JobID     int64
	AsDeposit bool // else on account
	Note      string
}

// Plan returns the effect of the transfer.
func (t Transfer) Plan(f posting.Facts) (posting.Effect, error) {
	b := build(f)
	return b.Effect(t.plan(b, "amount"))
}

func (t Transfer) plan(b *builder, field string) string {
	dayOK := b.PostingDay("day", t.Day)
	to, partyOK := b.Customer("party", t.PartyID)
	jobOK := b.JobOf("job", t.JobID, t.PartyID)
	i, ok := b.Look(t.From.Item)
	if !ok || i.Register == ledger.Unidentified {
		b.Refuse(field, "missing", "", "Choose a credit that is open: a deposit or a receipt on account.")
		return ""
	}
	register := ledger.Receivables
	if t.AsDeposit {
		register = ledger.Deposits
	}
	if i.PartyID == t.PartyID && i.JobID == t.JobID && i.Register == register {
		b.Refuse("party", "no change", "", "%s is there already. Choose another customer or job, or move it between deposit and on account.", i.Number)
		return ""
	}
	b.LikeItem(i)
	owner, _ := b.Party(i.PartyID)
	p := b.Paper(posting.Paper{Kind: posting.Transfer, Number: t.Number, Day: t.Day, PartyID: t.PartyID, PartyName: to.Name, PartyAddress: to.Printed(), JobID: t.JobID,
		Title: t.title(i, owner.Name), Note: strings.TrimSpace(t.Note), SourceID: i.PaperID})
	if i, amount, ok := source(b, field, t.From, i.PartyID, t.Day); ok && dayOK && partyOK && jobOK {
		gone := takenAsMoney(b, i, amount, t.Day)
		item := posting.Item{Register: register, PartyID: t.PartyID, JobID: t.JobID, Day: t.Day, Currency: i.Currency, Part: posting.Part{Amount: gone.Amount.Neg()}}
		if register == ledger.Deposits {
			item.Part, item.TaxCodeID = gone.Neg(), i.TaxCodeID
		} else {
			b.DebitWorth(b.Role(ledger.OutputTax), gone.Tax, ledger.Line{PartyID: i.PartyID, JobID: i.JobID, TaxCodeID: i.TaxCodeID})
		}
		p.Total, p.Base = amount, gone.Amount.Base
		b.Open(item)
		out(b, field, i, gone, t.Day)
	}
	return fmt.Sprintf("Moved %s of %s to %s by %s", b.Currency().Show(p.Total), i.Number, to.Name, p.Number)
}

func (t Transfer) title(i posting.Item, owner string) string {
	as := "on account"
	if t.AsDeposit {
		as = "deposit"
	}
	if i.PartyID != t.PartyID {
		return fmt.Sprintf("Transfer of %s from %s, as %s", i.Number, owner, as)
	}
	return fmt.Sprintf("Transfer of %s, as %s", i.Number, as)
}
