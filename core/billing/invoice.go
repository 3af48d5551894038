// Package billing plans the papers that bill a customer (docs/rules.md, part 5).
package billing

import (
	"fmt"

	"cleantally/core/day"
	"cleantally/core/ledger"
	"cleantally/core/master"
	"cleantally/core/money"
	"cleantally/core/posting"
	"cleantally/core/tax"

	"github.com/shopspring/decimal"
)

// Invoice bills a customer. Posted it is Dr receivables total; Cr each line's
// income account; Cr output tax. Credits that it names are set against it in
// the same step.
type Invoice struct {
	Number          string // "" to be given the next
	PartyID         int64
	JobID           int64
	Day             day.Day
	TermsID         int64   // 0: the customer's, else the firm's
	Due             day.Day // a due day that is named; "" to count it by the terms
	Reference       string
	Note            string
	Lines           []posting.Line
	Includes        bool // prices include tax
	DiscountPercent decimal.Decimal
	Discount        money.Amount
	RoundTo         money.Amount // step of the total, nil for none
	SetAgainst      []Use
}

// Use is a credit, or a part of it, that is set against the invoice.
type Use struct {
	Credit posting.ItemRef
	Amount money.Amount
	Most   bool // as much as is open of both, in place of Amount
}

// Plan returns the effect of posting the invoice.
func (v Invoice) Plan(f posting.Facts) (posting.Effect, error) {
	b := posting.Build(f)
	dayOK := b.PostingDay("day", v.Day)
	party, partyOK := b.Customer("party", v.PartyID)
	jobOK := b.JobOf("job", v.JobID, v.PartyID)
	lines, sums := b.Lines(posting.Lines{Lines: v.Lines, Day: v.Day, PartyID: v.PartyID, Includes: v.Includes, DiscountPercent: v.DiscountPercent, Discount: v.Discount, RoundTo: v.RoundTo})
	paper := v.paper(party, lines, sums)
	var dues []master.Due
	if dayOK {
		var terms master.Terms
		dues, terms = v.dues(b, party, sums.Total)
		paper.Due = dues[len(dues)-1].Day
		if terms.DiscountPercent.IsPositive() && len(dues) == 1 {
			paper.EarlyPercent, paper.EarlyUntil = terms.DiscountPercent, v.Day.Add(terms.DiscountDays)
		}
	}
	p := b.Paper(paper)
	if len(v.Lines) == 0 {
		b.Refuse("lines", "missing", "", "An invoice needs a line. Write what was done or delivered.")
	} else if !b.Refused() {
		b.AmountAboveNil("lines", sums.Total, "the total of an invoice")
	}
	if dayOK && partyOK && jobOK && sums.Total > 0 && sums.Total <= money.Limit {
		b.EnterLines(p, sums, ledger.OutputTax, -1)
		v.open(b, p, dues)
	}
	return b.Effect(fmt.Sprintf("Posted invoice %s for %s, %s", p.Number, party.Name, f.Currency().Show(p.Total)))
}

func (v Invoice) paper(party master.Party, lines []posting.PaperLine, s tax.Sums) posting.Paper {
	title := ""
	if len(lines) > 0 {
		title = lines[0].Text
	}
	return posting.Paper{
		Kind: posting.Invoice, Number: v.Number, Day: v.Day, PartyID: v.PartyID, PartyName: party.Name, PartyAddress: party.Address,
		JobID: v.JobID, Title: title, Reference: v.Reference, Note: v.Note, Total: s.Total, Lines: lines,
		Billing: posting.Billing{TermsID: v.TermsID, Includes: v.Includes, Discount: s.Discount, Net: s.Net, Tax: s.Tax, Rounding: s.Rounding},
	}
}

// dues splits the total by the terms: the paper's, the customer's, the firm's.
// A due day that is named takes their place, but not that of their discount.
func (v Invoice) dues(b *posting.Builder, party master.Party, total money.Amount) ([]master.Due, master.Terms) {
	var terms master.Terms
	dues := []master.Due{{Day: v.Day, Amount: total}}
	for _, id := range []int64{v.TermsID, party.TermsID, b.FirmTermsID()} {
		if t, ok := b.Terms(id); ok {
			if split := t.Split(v.Day, total); len(split) > 0 {
				dues, terms = split, t
				break
			}
		}
	}
	if _, ok := b.Terms(v.TermsID); !ok && v.TermsID != 0 {
		b.Refuse("terms", "missing", "", "There are no such payment terms. Choose others.")
	}
	if v.Due == "" {
		return dues, terms
	}
	if _, err := day.Parse(string(v.Due)); err != nil {
		b.Refuse("due", "no such day", "", "%s.", posting.Sentence(err.Error()))
	} else if v.Due < v.Day {
		b.Refuse("due", "before the paper", string(v.Day), "An invoice cannot be due before its own day, %s.", v.Day.Show())
	}
	return []master.Due{{Day: v.Due, Amount: total}}, terms
}

// open makes an open item for each due day and sets the named credits against
// them, the earliest first.
func (v Invoice) open(b *posting.Builder, p *posting.Paper, dues []master.Due) {
	refs := make([]posting.ItemRef, len(dues))
	left := make([]money.Amount, len(dues))
	for i, due := range dues {
		part := 0
		if len(dues) > 1 {
			part = i + 1
		}
		refs[i] = b.Open(posting.Item{Register: ledger.Receivables, Bills: p.ID, Instalment: part, PartyID: v.PartyID, JobID: v.JobID, Day: v.Day, Due: due.Day, Part: posting.Of(due.Amount, 0)})
		left[i] = due.Amount
	}
	for n, use := range v.SetAgainst {
		field, want := fmt.Sprintf("setAgainst[%d].amount", n), use.Amount
		if use.Most {
			setMost(b, field, refs, left, use.Credit, v.Day)
			continue
		}
		for i := range refs {
			take := min(want, left[i])
			if i == len(refs)-1 || want <= 0 {
				take = want // what is too much is refused there, with the limit
			}
			if take == 0 && want > 0 {
				continue
			}
			if !b.Allocate(field, refs[i], use.Credit, take, v.Day) {
				return
			}
			left[i] -= take
			if want -= take; want == 0 {
				break
			}
		}
	}
}

// setMost sets as much of a credit against the parts as both allow, the
// earliest first.
func setMost(b *posting.Builder, field string, refs []posting.ItemRef, left []money.Amount, credit posting.ItemRef, d day.Day) {
	any := false
	for i, ref := range refs {
		if most := b.Most(ref, credit, d); most > 0 && b.Allocate(field, ref, credit, most, d) {
			left[i] -= most
			any = true
		}
	}
	if !any {
		b.AllocateMost(field, refs[len(refs)-1], credit, d) // says why
	}
}
