// Package buying plans the papers of what we buy (docs/rules.md, part 5, what
// we buy).
package buying

import (
	"fmt"
	"strings"

	"cleantally/core/day"
	"cleantally/core/ledger"
	"cleantally/core/money"
	"cleantally/core/posting"

	"github.com/shopspring/decimal"
)

// Bill is a supplier's bill: Dr each line's account, Dr input tax, Cr payables.
// Where we account for the tax ourselves both sides of it are posted.
type Bill struct {
	Number    string // our own; "" to be given the next
	PartyID   int64
	Day       day.Day
	Due       day.Day // "" for the bill's own day
	Reference string  // the supplier's number
	Note      string
	Lines     []BillLine
}

// BillLine is what was bought, net.
type BillLine struct {
	Text      string
	AccountID int64
	JobID     int64
	Net       money.Amount
	TaxCodeID int64
}

// Plan returns the effect of posting the bill.
func (v Bill) Plan(f posting.Facts) (posting.Effect, error) {
	b := posting.Build(f)
	dayOK := b.PostingDay("day", v.Day)
	party, partyOK := b.Supplier("party", v.PartyID)
	if v.Due == "" {
		v.Due = v.Day
	}
	if _, err := day.Parse(string(v.Due)); err != nil && dayOK {
		b.Refuse("due", "no such day", "", "%s.", posting.Sentence(err.Error()))
	}
	if len(v.Lines) == 0 {
		b.Refuse("lines", "missing", "", "A bill needs a line. Write what was bought, and to which account it goes.")
	}
	lines, sums := b.Lines(v.lines(b))
	title := ""
	if len(lines) > 0 {
		title = lines[0].Text
	}
	p := b.Paper(posting.Paper{Kind: posting.SupplierBill, Number: v.Number, Day: v.Day, PartyID: v.PartyID, PartyName: party.Name, PartyAddress: party.Printed(), Title: title,
		Reference: strings.TrimSpace(v.Reference), Note: v.Note, Total: sums.Total, Lines: lines, Billing: posting.Billing{Due: v.Due, Net: sums.Net, Tax: sums.Tax}})
	if p.Reference != "" && partyOK && dayOK {
		if number, found := b.SamePayment(v.PartyID, p.Reference, p.Total, v.Day.Add(-90)); found {
			b.Warn("reference", "billed twice?", "90", "%s has the same number of the supplier and the same amount. Is it being recorded twice?", number)
		}
	}
	if len(v.Lines) > 0 && !b.Refused() {
		b.AmountAboveNil("lines", p.Total, "the total of a bill")
	}
	if dayOK && partyOK && p.Total > 0 && p.Total <= money.Limit {
		b.EnterLines(p, sums, ledger.InputTax, 1)
		b.Open(posting.Item{Register: ledger.Payables, Bills: p.ID, PartyID: v.PartyID, Day: v.Day, Due: v.Due, Part: posting.Of(-p.Total, 0)})
	}
	return b.Effect(fmt.Sprintf("Recorded bill %s of %s, %s", p.Number, party.Name, f.Currency().Show(p.Total)))
}

// lines are the bill's lines: what each cost, once.
func (v Bill) lines(b *posting.Builder) posting.Lines {
	in := posting.Lines{Day: v.Day, PartyID: v.PartyID, Bought: true}
	for n, l := range v.Lines {
		if l.Net == 0 {
			b.Refuse(fmt.Sprintf("lines[%d].net", n), "above nil", b.Currency().Format(0), "Line %d needs an amount.", n+1)
		}
		in.Lines = append(in.Lines, posting.Line{Text: l.Text, AccountID: l.AccountID, JobID: l.JobID, TaxCodeID: l.TaxCodeID, Quantity: decimal.New(1, 0), UnitPrice: b.Currency().Decimal(l.Net)})
	}
	return in
}
