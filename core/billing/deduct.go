package billing

import (
	"fmt"

	"cleantally/core/money"
	"cleantally/core/posting"
	"cleantally/core/tax"

	"github.com/shopspring/decimal"
)

// Deduction takes off an invoice what a deposit invoice billed in advance, net
// and the tax as it was billed (docs/rules.md, part 5).
type Deduction struct {
	PaperID int64        // the deposit invoice
	Amount  money.Amount // with its tax
	Most    bool         // as much as is left and fits, in place of Amount
}

// deducted are the lines that take off what was billed in advance, each code up
// to what the paper bills at that code, all of them up to what is left to pay.
func (v Invoice) deducted(b *builder, billed tax.Sums, left money.Amount) []posting.Line {
	room := map[int64]money.Amount{}
	for _, c := range billed.Codes {
		room[c.Code.ID] = max(c.Net+c.Tax, 0)
	}
	var lines []posting.Line
	seen := map[int64]bool{}
	for n, d := range v.Deductions {
		field := fmt.Sprintf("deductions[%d].", n)
		advance, ok := b.ordered(field+"paper", d.PaperID, posting.DepositInvoice, v.PartyID)
		if !ok {
			continue
		}
		if seen[d.PaperID] {
			b.Refuse(field+"paper", "once", advance.Number, "%s is deducted twice. Take it once, with the whole amount.", advance.Number)
			continue
		}
		seen[d.PaperID] = true
		if !b.OneCurrency(field+"paper", advance, "deducted") || !b.notBefore(advance, v.Day, "deducted") {
			continue
		}
		own := v.deduct(b, field, d, advance, room, left)
		for _, l := range own {
			left += l.Deducts.Amount.Own * -1
			room[l.TaxCodeID] -= l.Deducts.Amount.Own
		}
		lines = append(lines, own...)
	}
	return lines
}

// deduct shares one deduction over the codes of its deposit invoice.
func (v Invoice) deduct(b *builder, field string, d Deduction, advance posting.Paper, room map[int64]money.Amount, left money.Amount) []posting.Line {
	c := b.Currency()
	lefts := make([]posting.Left, len(advance.Lines))
	fits := make([]money.Amount, len(advance.Lines))
	var all, most money.Amount
	for n, l := range advance.Lines {
		lefts[n], _, _ = b.LeftOf(thingOf(advance, l), posting.Deducted, v.Day)
		fits[n] = min(lefts[n].Most(), room[l.TaxCodeID])
		all += lefts[n].Most()
		most += fits[n]
	}
	most = min(most, max(left, 0))
	amount := d.Amount
	if d.Most {
		amount = most
	}
	switch {
	case amount > all:
		b.Refuse(field+"amount", "more than is left", c.Format(all), "Only %s of %s is left to deduct, not %s.", c.Show(all), advance.Number, c.Show(amount))
		return nil
	case amount > most:
		b.Refuse(field+"amount", "more than is billed", c.Format(most), "At most %s of %s fits on this paper, not %s: each tax code up to what is billed at it, all together up to what is left to pay. What does not fit is credited.", c.Show(most), advance.Number, c.Show(amount))
		return nil
	case amount < 0 || (amount == 0 && !d.Most):
		b.Refuse(field+"amount", "above nil", c.Format(0), "What is deducted is above nil.")
		return nil
	case amount == 0:
		return nil
	}
	shares, err := money.Share(amount, fits)
	if err != nil {
		return nil
	}
	var lines []posting.Line
	for n, l := range advance.Lines {
		if shares[n] == 0 {
			continue
		}
		part := lefts[n].Take(shares[n])
		lines = append(lines, posting.Line{Text: fmt.Sprintf("Deposit invoice %s of %s", advance.Number, advance.Day.Show()), Quantity: decimal.New(1, 0), TaxCodeID: l.TaxCodeID, Of: thingOf(advance, l), Deducts: &part})
	}
	return lines
}

func thingOf(p posting.Paper, l posting.PaperLine) posting.Thing {
	return posting.Thing{LineRef: posting.LineRef{PaperID: p.ID, Position: l.Position}, TaxCodeID: l.TaxCodeID}
}

// fromOrders gives the lines that bill a quantity of an order's line what that
// comes to: a portion of what is left of it.
func (v Invoice) fromOrders(b *builder) []posting.Line {
	lines := make([]posting.Line, len(v.Lines))
	copy(lines, v.Lines)
	claims := map[int64]string{} // that bill an order, asked once
	for n, l := range v.Lines {
		if l.Of.PaperID == 0 {
			continue
		}
		field := fmt.Sprintf("lines[%d].", n)
		order, ok := b.ordered(field+"of", l.Of.PaperID, posting.Order, v.PartyID)
		if !ok || l.Of.Position < 1 || l.Of.Position > len(order.Lines) {
			if ok {
				b.Refuse(field+"of", "missing", "", "Line %d: %s has no such line.", n+1, order.Number)
			}
			continue
		}
		if !b.OneCurrency(field+"of", order, "billed") {
			continue
		}
		of := order.Lines[l.Of.Position-1]
		lines[n].Of = thingOf(order, of)
		lines[n].TaxCodeID, lines[n].AccountID, lines[n].ArticleID = of.TaxCodeID, of.AccountID, of.ArticleID
		if l.UnitPrice.IsZero() {
			lines[n].UnitPrice, lines[n].DiscountPercent, lines[n].Discount = of.UnitPrice, of.DiscountPercent, of.Discount
		}
		if l.Given != nil {
			continue // of a claim, which has worked it out
		}
		claim, asked := claims[order.ID]
		if !asked {
			claim = byProgress(b.facts, order)
			claims[order.ID] = claim
		}
		quantity := posting.InMillionths(l.Quantity)
		_, left, _ := b.LeftOf(lines[n].Of, posting.Billed, v.Day)
		switch {
		case quantity <= 0:
			b.Refuse(field+"quantity", "above nil", "0", "Line %d: what is billed of %s is above nil.", n+1, order.Number)
		case quantity < left && claim != "":
			b.Refuse(field+"quantity", "billed by progress", left.Decimal().String(), "%s is billed by progress, by %s: claim what is done, or take all that is left of the line, %s.", order.Number, claim, left.Decimal())
		case quantity > left:
			b.Refuse(field+"quantity", "more than is left", max(left, 0).Decimal().String(), "Only %s of %s in %s is left to bill, not %s. An extra is a line of its own.", max(left, 0).Decimal(), of.Text, order.Number, l.Quantity)
		}
		part := b.PartOf(lines[n].Of, posting.Billed, quantity, v.Day)
		lines[n].Given = &part
	}
	return lines
}

// take writes the uses of what the lines bill of orders and deduct of deposit
// invoices.
func (v Invoice) take(b *builder, p *posting.Paper, lines []posting.Line) {
	for _, u := range v.measured {
		u.By = posting.LineRef{PaperID: p.ID}
		b.Use("lines", u)
	}
	for n, l := range lines {
		for i, t := range l.Took {
			b.Use(fmt.Sprintf("lines[%d].costs[%d].amount", n, i), posting.Use{Of: t.Of, As: posting.Billed, Day: v.Day, By: posting.LineRef{PaperID: p.ID, Position: n + 1}, Part: t.Part})
		}
		if l.Of.PaperID == 0 {
			continue
		}
		u := posting.Use{Of: l.Of, Day: v.Day, By: posting.LineRef{PaperID: p.ID, Position: n + 1}}
		switch {
		case l.Deducts != nil:
			u.As, u.Part = posting.Deducted, *l.Deducts
		case l.Given != nil:
			u.As, u.Quantity, u.Part = posting.Billed, posting.InMillionths(l.Quantity), *l.Given
		}
		b.Use(fmt.Sprintf("lines[%d].quantity", n), u)
	}
}
