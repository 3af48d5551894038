// Package billing plans the papers that bill a customer (docs/rules.md, part 5).
package billing

import (
	"fmt"
	"strings"

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
	Lines           []Line
	Includes        bool // prices include tax
	DiscountPercent decimal.Decimal
	Discount        money.Amount
	RoundTo         money.Amount // step of the total, nil for none
	SetAgainst      []Use
}

// Line is a line of an invoice. A discount is a percentage or an amount.
type Line struct {
	ItemID          int64
	Text            string
	Quantity        decimal.Decimal
	UnitPrice       decimal.Decimal
	DiscountPercent decimal.Decimal
	Discount        money.Amount
	TaxCodeID       int64
	AccountID       int64 // income account; 0: the item's, else workmanship
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
	b.JobOf("job", v.JobID, v.PartyID)
	lines, sums := v.compute(b)
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
	if dayOK && partyOK && sums.Total > 0 {
		b.Enter(v.entry(b, p))
		v.open(b, dues)
	}
	return b.Effect(fmt.Sprintf("Posted invoice %s for %s, %s", p.Number, party.Name, f.Currency().Show(p.Total)))
}

// compute reads the lines and works out their sums.
func (v Invoice) compute(b *posting.Builder) ([]posting.PaperLine, tax.Sums) {
	ins := make([]tax.Line, len(v.Lines))
	outs := make([]posting.PaperLine, len(v.Lines))
	for i, l := range v.Lines {
		field := fmt.Sprintf("lines[%d].", i)
		code, percent := v.taxCode(b, field, l)
		ins[i] = tax.Line{Quantity: l.Quantity, UnitPrice: l.UnitPrice, DiscountPercent: l.DiscountPercent, Discount: l.Discount, Code: code, Percent: percent}
		outs[i] = posting.PaperLine{Position: i + 1, ItemID: l.ItemID, Text: strings.TrimSpace(l.Text), Quantity: l.Quantity, UnitPrice: l.UnitPrice,
			DiscountPercent: l.DiscountPercent, Discount: l.Discount, TaxCodeID: code.ID, TaxPercent: percent, AccountID: incomeAccount(b, field, l)}
		if outs[i].Text == "" {
			b.Refuse(field+"text", "missing", "", "Line %d says nothing. Write what was done or delivered.", i+1)
		}
		checkFigures(b, field, i+1, l)
	}
	if v.Discount < 0 || v.DiscountPercent.IsNegative() || (v.Discount != 0 && !v.DiscountPercent.IsZero()) {
		b.Refuse("discount", "one discount", "", "The paper's discount is either a percentage or an amount, and not below nil.")
		return outs, tax.Sums{}
	}
	sums, err := tax.Compute(ins, tax.Terms{Currency: b.Currency(), Includes: v.Includes, DiscountPercent: v.DiscountPercent, Discount: v.Discount, RoundTo: v.RoundTo})
	if err != nil {
		b.Refuse("discount", "paper sums", "", "%s. Lower the figures.", posting.Sentence(err.Error()))
		return outs, tax.Sums{}
	}
	for i, s := range sums.Lines {
		outs[i].Before, outs[i].Net, outs[i].Tax = s.Before, s.Net, s.Tax
	}
	return outs, sums
}

func checkFigures(b *posting.Builder, field string, n int, l Line) {
	if l.Quantity.IsNegative() || l.UnitPrice.IsNegative() {
		b.Refuse(field+"unitPrice", "below nil", "0", "Line %d is below nil. Give a discount on a line, or write a credit note.", n)
	}
	if l.Quantity.Exponent() < -6 || l.UnitPrice.Exponent() < -6 {
		b.Refuse(field+"unitPrice", "places", "6", "Line %d: a quantity or a price has at most 6 places.", n)
	}
	if l.DiscountPercent.Exponent() < -4 {
		b.Refuse(field+"discount", "places", "4", "Line %d: a percentage has at most 4 places.", n)
	}
	both := l.Discount != 0 && !l.DiscountPercent.IsZero()
	if both || l.Discount < 0 || l.DiscountPercent.IsNegative() || l.DiscountPercent.GreaterThan(decimal.New(100, 0)) {
		b.Refuse(field+"discount", "one discount", "100", "Line %d: a discount is a percentage from 0 to 100 or an amount.", n)
	}
}

// taxCode returns the line's tax code with its rate on the paper's day.
func (v Invoice) taxCode(b *posting.Builder, field string, l Line) (tax.Code, decimal.Decimal) {
	code, rates, ok := b.TaxCode(l.TaxCodeID)
	if !ok {
		b.Refuse(field+"taxCode", "missing", "", "Choose a tax code for the line.")
		return tax.Code{}, decimal.Zero
	}
	if code.Inactive {
		b.Refuse(field+"taxCode", "not in use", "", "Tax code %s is not in use any more. Choose another.", code.Code)
	}
	if v.Day == "" {
		return code, decimal.Zero
	}
	percent, err := tax.RateOn(code, rates, v.Day)
	if err != nil {
		b.Refuse(field+"taxCode", "no rate", "", "%s. Add a rate, or choose another code.", posting.Sentence(err.Error()))
	}
	if code.Kind == tax.CustomerAccountsIt {
		percent = decimal.Zero
	}
	return code, percent
}

// incomeAccount returns the account that the line is posted to: its own, the
// item's, or the default of a service or material.
func incomeAccount(b *posting.Builder, field string, l Line) int64 {
	item, known := b.CatalogueItem(l.ItemID)
	if l.ItemID != 0 && (!known || item.Inactive) {
		b.Refuse(field+"item", "not in use", "", "The item %s is not in use. Choose another, or write the line by hand.", item.Code)
	}
	id := l.AccountID
	if id == 0 {
		id = item.AccountID
	}
	if id == 0 && item.Kind == master.Material {
		id = b.Role(ledger.MaterialSales).ID
	}
	if id == 0 {
		id = b.Role(ledger.ServiceSales).ID
	}
	a, ok := b.Account(id)
	switch {
	case !ok:
		b.Refuse(field+"account", "missing", "", "There is no such account. Choose another.")
	case a.Inactive:
		b.Refuse(field+"account", "not in use", "", "Account %s %s is not in use any more. Choose another.", a.Number, a.Name)
	case a.Type != ledger.Income:
		b.Refuse(field+"account", "not income", "", "Account %s %s is no income account. Choose an income account.", a.Number, a.Name)
	}
	return id
}

func (v Invoice) paper(party master.Party, lines []posting.PaperLine, s tax.Sums) posting.Paper {
	title := ""
	if len(lines) > 0 {
		title = lines[0].Text
	}
	return posting.Paper{
		Kind: posting.Invoice, Number: v.Number, Day: v.Day, PartyID: v.PartyID, PartyName: party.Name, PartyAddress: party.Address,
		JobID: v.JobID, Title: title, TermsID: v.TermsID, Reference: v.Reference, Note: v.Note, Includes: v.Includes,
		Discount: s.Discount, Net: s.Net, Tax: s.Tax, Rounding: s.Rounding, Total: s.Total, Lines: lines,
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

// entry is Dr receivables; Cr income by account and code; Cr output tax by code.
func (v Invoice) entry(b *posting.Builder, p *posting.Paper) ledger.Entry {
	e := ledger.Entry{Day: p.Day, Text: "Invoice " + p.Number}
	at := ledger.Line{PartyID: p.PartyID, JobID: p.JobID}
	e.Debit(b.Role(ledger.Receivables), p.Total, at)
	type income struct{ account, code int64 }
	nets, taxes := map[income]money.Amount{}, map[int64]money.Amount{}
	var order []income
	var codes []int64
	for _, l := range p.Lines {
		k := income{l.AccountID, l.TaxCodeID}
		if _, seen := nets[k]; !seen {
			order = append(order, k)
		}
		if _, seen := taxes[l.TaxCodeID]; !seen {
			codes = append(codes, l.TaxCodeID)
		}
		nets[k] += l.Net
		taxes[l.TaxCodeID] += l.Tax
	}
	for _, k := range order {
		at.TaxCodeID = k.code
		e.Credit(ledger.Account{ID: k.account}, nets[k], at)
	}
	for _, code := range codes {
		at.TaxCodeID = code
		e.Credit(b.Role(ledger.OutputTax), taxes[code], at)
	}
	at.TaxCodeID = 0
	e.Credit(b.Role(ledger.Rounding), p.Rounding, at)
	return e
}

// open makes an open item for each due day and sets the named credits against
// them, the earliest first.
func (v Invoice) open(b *posting.Builder, dues []master.Due) {
	refs := make([]posting.ItemRef, len(dues))
	left := make([]money.Amount, len(dues))
	for i, due := range dues {
		part := 0
		if len(dues) > 1 {
			part = i + 1
		}
		refs[i] = b.Open(posting.Item{Register: ledger.Receivables, Part: part, PartyID: v.PartyID, JobID: v.JobID, Day: v.Day, Due: due.Day, Amount: due.Amount})
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
