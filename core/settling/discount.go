package settling

import (
	"cleantally/core/day"
	"cleantally/core/ledger"
	"cleantally/core/money"
	"cleantally/core/posting"
)

// EarlyDiscount returns the early-payment discount of an invoice: rounded on
// the gross, less what was credited of it (docs/rules.md, part 4). Nil where its
// terms give none, or where it is due in instalments.
func EarlyDiscount(f posting.Facts, p posting.Paper) money.Amount {
	if p.EarlyUntil == "" || !p.EarlyPercent.IsPositive() {
		return 0
	}
	c, gross := posting.CurrencyOf(f, p.Currency), p.Total
	for _, l := range p.Lines {
		if onBehalf(f, p, l.Position) {
			gross -= l.Net.Own + l.Tax.Own // costs on the customer's behalf
		}
	}
	for _, u := range f.Uses(p.ID) {
		if (u.As == posting.Credited || u.As == posting.SupplierCredited) && !onBehalf(f, p, u.Of.Position) {
			gross -= u.Amount.Own
		}
	}
	return c.Round(money.Percent(c.Decimal(gross), p.EarlyPercent))
}

// onBehalf tells whether a line of an invoice bills a cost on the customer's
// behalf.
func onBehalf(f posting.Facts, p posting.Paper, position int) bool {
	return position > 0 && position <= len(p.Lines) && p.Lines[position-1].Register == "" && p.Lines[position-1].AccountID == f.Role(ledger.Recoverable).ID
}

// Earned returns the discount that a payment on a day would take off an item,
// and the last day of it; nil when there is none, it is too late, or it was
// taken already.
func Earned(f posting.Facts, i posting.Item, bankDay day.Day) (money.Amount, day.Day) {
	if i.EarlyUntil == "" {
		return 0, ""
	}
	p, ok := f.Paper(i.PaperID)
	ours := p.Kind == posting.Invoice && i.Register == ledger.Receivables
	theirs := p.Kind == posting.SupplierBill && i.Register == ledger.Payables && i.Credit()
	if !ok || !ours && !theirs || i.Instalment != 0 || i.Nature != posting.Plain {
		return 0, ""
	}
	discount := EarlyDiscount(f, p)
	if discount >= i.Sign()*i.Left.Amount.Own || bankDay > p.EarlyUntil || taken(f, p.ID) {
		return 0, p.EarlyUntil
	}
	return discount, p.EarlyUntil
}

// taken tells whether the discount of an invoice was taken already: it is once
// an invoice.
func taken(f posting.Facts, invoiceID int64) bool {
	var sum money.Amount
	for _, u := range f.Uses(invoiceID) {
		if u.As == posting.Discounted {
			sum += u.Amount.Own
		}
	}
	return sum != 0
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
	case taken(p.Facts, di.PaperID):
		p.Refuse(field+"discount", "taken already", "", "The discount of %s was taken already. Leave the rest open, dispute it or write it off.", di.Number)
	default:
		p.Refuse(field+"discount", "no discount", "", "Too little of %s is open for its discount. Leave it out.", di.Number)
	}
	return discount
}

// discount closes the rest of an invoice by its discount: it is earned only by
// a placement that settles all but that.
func (p *placing) discount(field string, di posting.Item, discount money.Amount) {
	c := posting.CurrencyOf(p.Facts, di.Currency)
	// What later-dated allocations settle counts as settled.
	if rest := p.LeftFrom(di, p.receipt.Day).Most(); rest != discount {
		p.Refuse(field+"amount", "discount not earned", c.Format(rest-discount), "The discount of %s is %s, and is earned only when the rest is paid: %s stays open beside it. Place %s more, or leave the discount out.",
			di.Number, c.Show(discount), c.Show(rest-discount), c.Show(rest-discount))
		return
	}
	parts := p.InsideDebt(di.Bills, discount, p.receipt.Day)
	gone := p.insideOf(di, posting.OfDiscount, discount)
	ref := p.goesWith(field+"discount", di, posting.OfDiscount, discount)
	p.UseDebt(field+"discount", di.Bills, posting.Discounted, parts, posting.LineRef{PaperID: p.paper.ID}, p.receipt.Day)
	at := ledger.Line{PartyID: p.receipt.PartyID, JobID: jobOf(p.Facts, di, p.receipt.PartyID), Currency: di.Currency, ItemID: int64(ref)}
	if di.Tax.Own != 0 { // not due yet: it never is
		p.DebitWorth(p.Role(ledger.DiscountAllowed), gone.Amount.Add(gone.Tax.Neg()), at)
		return
	}
	p.DebitWorth(p.Role(ledger.DiscountAllowed), gone.Amount.Add(posting.Taxes(parts).Neg()), at)
	p.debitTaxes(parts, at)
}

// jobOf is the job that a line about an item bears: its own.
func jobOf(f posting.Facts, i posting.Item, partyID int64) int64 {
	if j, ok := f.Job(i.JobID); ok && j.PartyID == partyID {
		return i.JobID
	}
	return 0
}

// debitTaxes adds Dr output tax for each code.
func (b *builder) debitTaxes(parts []posting.CodePart, at ledger.Line) {
	for _, p := range parts {
		at.TaxCodeID = p.TaxCodeID
		b.DebitWorth(b.Role(ledger.OutputTax), p.Tax, at)
	}
}
