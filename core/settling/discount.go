package settling

import (
	"cleantally/core/day"
	"cleantally/core/ledger"
	"cleantally/core/money"
	"cleantally/core/posting"

	"github.com/shopspring/decimal"
)

var hundred = decimal.New(100, 0)

// EarlyDiscount returns the early-payment discount of an invoice: rounded on
// the gross (docs/rules.md, part 4). Nil where its terms give none, or where it
// is due in instalments.
func EarlyDiscount(p posting.Paper, c money.Currency) money.Amount {
	if p.EarlyUntil == "" || !p.EarlyPercent.IsPositive() {
		return 0
	}
	return c.Round(c.Decimal(p.Total).Mul(p.EarlyPercent).Div(hundred))
}

// Earned returns the discount that a payment on a day would take off an item,
// and the last day of it; nil when there is none or it is too late.
func Earned(f posting.Facts, i posting.Item, bankDay day.Day) (money.Amount, day.Day) {
	if i.EarlyUntil == "" {
		return 0, ""
	}
	p, ok := f.Paper(i.PaperID)
	if !ok || p.Kind != posting.Invoice || i.Part != 0 || i.Register != ledger.Receivables {
		return 0, ""
	}
	discount := EarlyDiscount(p, f.Currency())
	if discount >= i.Open || bankDay > p.EarlyUntil {
		return 0, p.EarlyUntil
	}
	return discount, p.EarlyUntil
}

// earned is the discount of a placement, or a refusal that says why there is
// none.
func (p *placing) earned(field string, di posting.Item) money.Amount {
	discount, until := Earned(p.Facts, di, p.origin.bankDay)
	switch {
	case discount > 0:
	case until == "":
		p.Refuse(field+"discount", "no discount", "", "%s gives no discount for early payment. Leave the rest open, dispute it or write it off.", di.Number)
	case p.origin.bankDay > until:
		p.Refuse(field+"discount", "too late", string(until), "The discount of %s ended on %s. Leave the rest open, dispute it or write it off.", di.Number, until.Show())
	default:
		p.Refuse(field+"discount", "no discount", "", "Too little of %s is open for its discount. Leave it out.", di.Number)
	}
	return discount
}

// discount closes the rest of an invoice by its discount: it is earned only by
// a placement that settles all but that.
func (p *placing) discount(field string, di posting.Item, discount money.Amount) {
	c := p.Currency()
	if rest := p.OpenFrom(di, p.receipt.Day); rest != discount {
		p.Refuse(field+"amount", "discount not earned", c.Format(rest-discount), "The discount of %s is %s, and is earned only when the rest is paid: %s stays open beside it. Place %s more, or leave the discount out.",
			di.Number, c.Show(discount), c.Show(rest-discount), c.Show(rest-discount))
		return
	}
	ref := p.goesWith(field+"discount", di, posting.OfDiscount, discount)
	at := ledger.Line{PartyID: p.receipt.PartyID, JobID: di.JobID, ItemID: int64(ref)}
	paper, _ := p.Facts.Paper(di.PaperID)
	taxes := taxInside(paper, discount, c)
	net := discount
	for _, t := range taxes {
		net -= t.tax
	}
	p.entry.Debit(p.Role(ledger.DiscountAllowed), net, at)
	debitTaxes(p.Builder, &p.entry, taxes, at)
}

// debitTaxes adds Dr output tax for each code.
func debitTaxes(b *posting.Builder, e *ledger.Entry, taxes []codeTax, at ledger.Line) {
	for _, t := range taxes {
		at.TaxCodeID = t.code
		e.Debit(b.Role(ledger.OutputTax), t.tax, at)
	}
}

// codeTax is the tax of one code inside an amount.
type codeTax struct {
	code int64
	tax  money.Amount
}

// taxInside is the tax inside a part of what a paper bills, by tax code:
// round(part × tax of the code ÷ total).
func taxInside(p posting.Paper, part money.Amount, c money.Currency) []codeTax {
	var order []int64
	taxes := map[int64]money.Amount{}
	for _, l := range p.Lines {
		if _, seen := taxes[l.TaxCodeID]; !seen {
			order = append(order, l.TaxCodeID)
		}
		taxes[l.TaxCodeID] += l.Tax
	}
	var all []codeTax
	for _, code := range order {
		if p.Total > 0 && taxes[code] > 0 {
			share := money.Portion(part, taxes[code], p.Total)
			all = append(all, codeTax{code, share})
		}
	}
	return all
}
