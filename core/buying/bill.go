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
	"cleantally/core/tax"

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
	p := b.Paper(posting.Paper{Kind: posting.SupplierBill, Number: v.Number, Day: v.Day, Due: v.Due, PartyID: v.PartyID, PartyName: party.Name, PartyAddress: party.Address,
		Reference: strings.TrimSpace(v.Reference), Note: v.Note})
	e := ledger.Entry{Day: v.Day, Text: "Supplier bill " + p.Number}
	taxes := v.lines(b, p, &e)
	v.tax(b, p, &e, taxes)
	p.Total = p.Net + p.Tax
	if p.Reference != "" && partyOK {
		if number, found := b.SamePayment(v.PartyID, p.Reference, p.Total, v.Day.Add(-90)); found {
			b.Warn("reference", "billed twice?", "90", "%s has the same number of the supplier and the same amount. Is it being recorded twice?", number)
		}
	}
	if len(v.Lines) > 0 && !b.Refused() {
		b.AmountAboveNil("lines", p.Total, "the total of a bill")
	}
	if dayOK && partyOK && p.Total > 0 {
		e.Credit(b.Role(ledger.Payables), p.Total, ledger.Line{PartyID: v.PartyID})
		b.Enter(e)
		b.Open(posting.Item{Register: ledger.Payables, PartyID: v.PartyID, Day: v.Day, Due: v.Due, Amount: -p.Total})
	}
	return b.Effect(fmt.Sprintf("Recorded bill %s of %s, %s", p.Number, party.Name, f.Currency().Show(p.Total)))
}

// lines enters each line and returns the nets by tax code.
func (v Bill) lines(b *posting.Builder, p *posting.Paper, e *ledger.Entry) map[int64]money.Amount {
	nets := map[int64]money.Amount{}
	for n, l := range v.Lines {
		_, control := b.Control(l.AccountID)
		field := fmt.Sprintf("lines[%d].", n)
		text := strings.TrimSpace(l.Text)
		if text == "" {
			b.Refuse(field+"text", "missing", "", "Line %d says nothing. Write what was bought.", n+1)
		}
		if n == 0 {
			p.Title = text
		}
		if l.Net == 0 || l.Net.Abs() > money.Limit {
			b.Refuse(field+"net", "above nil", b.Currency().Format(0), "Line %d needs an amount.", n+1)
		}
		a, ok := b.Account(l.AccountID)
		switch {
		case !ok:
			b.Refuse(field+"account", "missing", "", "Choose the account that line %d goes to.", n+1)
		case a.Inactive:
			b.Refuse(field+"account", "not in use", "", "Account %s %s is not in use any more. Choose another.", a.Number, a.Name)
		case control || b.IsBank(a.ID):
			b.Refuse(field+"account", "control account", "", "Account %s %s moves by its own papers alone. Choose a cost account.", a.Number, a.Name)
		}
		if l.JobID != 0 {
			if _, ok := b.Job(l.JobID); !ok {
				b.Refuse(field+"job", "missing", "", "There is no such job. Choose another, or none.")
			}
		}
		e.Debit(a, l.Net, ledger.Line{PartyID: v.PartyID, JobID: l.JobID, TaxCodeID: l.TaxCodeID})
		nets[l.TaxCodeID] += l.Net
		p.Net += l.Net
		p.Lines = append(p.Lines, posting.PaperLine{Position: n + 1, Text: text, Quantity: decimal.New(1, 0), UnitPrice: b.Currency().Decimal(l.Net), TaxCodeID: l.TaxCodeID,
			AccountID: l.AccountID, Before: l.Net, Net: l.Net})
	}
	return nets
}

// tax enters the tax of each code once over the paper.
func (v Bill) tax(b *posting.Builder, p *posting.Paper, e *ledger.Entry, nets map[int64]money.Amount) {
	done := map[int64]bool{}
	for n := range p.Lines {
		l := &p.Lines[n]
		code, rates, ok := b.TaxCode(l.TaxCodeID)
		if !ok || code.Inactive {
			b.Refuse(fmt.Sprintf("lines[%d].taxCode", n), "missing", "", "Choose a tax code for line %d.", n+1)
			continue
		}
		percent, err := tax.RateOn(code, rates, v.Day)
		if err != nil && v.Day != "" {
			b.Refuse(fmt.Sprintf("lines[%d].taxCode", n), "no rate", "", "%s. Add a rate, or choose another code.", posting.Sentence(err.Error()))
			continue
		}
		l.TaxPercent = percent
		if done[code.ID] {
			continue
		}
		done[code.ID] = true
		c := b.Currency()
		sum := c.Round(c.Decimal(nets[code.ID]).Mul(percent).Div(decimal.New(100, 0)))
		at := ledger.Line{PartyID: v.PartyID, TaxCodeID: code.ID}
		e.Debit(b.Role(ledger.InputTax), sum, at)
		if code.Kind == tax.CustomerAccountsIt {
			e.Credit(b.Role(ledger.OutputTax), sum, at)
			continue
		}
		l.Tax = sum
		p.Tax += sum
	}
}
