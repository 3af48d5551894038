package billing

import (
	"fmt"

	"cleantally/core/money"
	"cleantally/core/posting"
)

// parts works out what of each line is credited.
func (c Credit) parts(b *builder, of posting.Paper) []creditPart {
	all := make([]creditPart, len(of.Lines))
	for n, l := range of.Lines {
		all[n] = creditPart{line: l, thingPart: thingPart{of: thingOf(of, l)}, account: l.AccountID, code: l.TaxCodeID, percent: l.TaxPercent}
		left, pieces, _ := b.LeftOf(all[n].of, posting.Credited, c.Day)
		all[n].left, all[n].part, all[n].quantity = left.Least, left.Least, max(pieces, 0)
		if taken(all[n].left) {
			all[n].quantity = 0
		}
	}
	switch {
	case c.Work != 0 && len(c.Lines) > 0:
		b.Refuse("work", "one of them", "", "Say lines or an amount of the work, not both.")
	case c.Work != 0:
		return c.ofWork(b, of, all)
	case len(c.Lines) > 0:
		return c.ofLines(b, of, all)
	}
	chosen := all[:0]
	for _, x := range all {
		if x.left.Amount.Own == 0 {
			continue
		}
		if article, _ := b.Article(x.line.ArticleID); c.Back && article.Stocked {
			x.back = min(x.quantity, b.GoneBy(article.ID, goneWith(b, of, x.line)).Quantity)
		}
		chosen = append(chosen, x)
	}
	if len(chosen) == 0 {
		b.Refuse("paper", "nothing left", b.Currency().Format(0), "Nothing of %s is left to credit.", of.Number)
	}
	return chosen
}

// taken tells whether a part takes something off, as a deduction does.
func taken(p posting.Part) bool { return p.Amount.Own < 0 }

// ofLines are the parts of the chosen lines.
func (c Credit) ofLines(b *builder, of posting.Paper, all []creditPart) []creditPart {
	var chosen []creditPart
	seen := map[int]bool{}
	for n, l := range c.Lines {
		field := fmt.Sprintf("lines[%d].", n)
		if l.Position < 1 || l.Position > len(all) || seen[l.Position] {
			b.Refuse(field+"position", "missing", "", "Line %d: %s has no such line, or it is credited twice.", n+1, of.Number)
			continue
		}
		seen[l.Position] = true
		x := all[l.Position-1]
		x.field, x.back, x.serials = field, posting.InMillionths(l.Back), l.Serials
		if l.some(b, field, n+1, of, &x) && l.otherwise(b, n+1, of, &x) && x.part.Amount.Own != 0 {
			chosen = append(chosen, x)
		}
	}
	return chosen
}

// some narrows a part to what a line says of it: a quantity, an amount or a new
// price.
func (l CreditLine) some(b *builder, field string, n int, of posting.Paper, x *creditPart) bool {
	cur := b.Currency()
	named := 0
	for _, set := range []bool{!l.Quantity.IsZero(), l.Amount != 0, l.Price != nil} {
		if set {
			named++
		}
	}
	whole := x.left.Net()
	if of.Includes {
		whole = x.left.Amount.Own
	}
	amount := l.Amount
	switch {
	case named > 1:
		b.Refuse(field+"amount", "one of them", "", "Line %d: say a quantity, an amount or a new price.", n)
		return false
	case named == 0:
		return true
	case taken(x.left):
		if amount >= 0 || amount < whole || l.Amount == 0 {
			b.Refuse(field+"amount", "more than is left", cur.Format(whole), "Line %d takes %s off %s: credit all of it, or a part below nil.", n, cur.Show(-whole), of.Number)
			return false
		}
	case !l.Quantity.IsZero():
		q := posting.InMillionths(l.Quantity)
		if q < 0 || q > x.quantity {
			b.Refuse(field+"quantity", "more than is left", x.quantity.Decimal().String(), "Line %d: only %s of %s is left to credit, not %s.", n, x.quantity.Decimal(), x.line.Text, l.Quantity)
			return false
		}
		x.part = x.left
		if q < x.quantity {
			x.part = x.left.TakeNet(money.Portion(money.Amount(q), x.left.Net(), money.Amount(x.quantity)))
		}
		x.quantity = q
		return true
	case l.Price != nil:
		amount = l.cheaper(b, x)
		if l.Price.IsNegative() || !money.Fits(*l.Price, 6) || amount <= 0 {
			b.Refuse(field+"price", "not lower", x.line.UnitPrice.String(), "Line %d: the new price is below %s, from nil on, with at most 6 places.", n, x.line.UnitPrice)
			return false
		}
		whole = x.left.Net()
	}
	if !taken(x.left) && (amount > whole || amount < 0) {
		b.Refuse(field+"amount", "more than is left", cur.Format(whole), "Line %d: only %s of %s is left to credit, not %s.", n, cur.Show(whole), x.line.Text, cur.Show(amount))
		return false
	}
	x.quantity = 0
	x.part = takeOf(x.left, amount, of.Includes && l.Price == nil)
	return true
}

// takeOf takes an amount of a part on its own side, net or with tax.
func takeOf(left posting.Part, amount money.Amount, gross bool) posting.Part {
	if amount < 0 {
		return takeOf(left.Neg(), -amount, gross).Neg()
	}
	if gross {
		return left.Take(amount)
	}
	return left.TakeNet(amount)
}

// cheaper is what a lower price takes off what is left of a line, net: its net
// in the proportion of the prices.
func (l CreditLine) cheaper(b *builder, x *creditPart) money.Amount {
	if x.line.UnitPrice.IsZero() {
		return 0
	}
	lower := x.line.UnitPrice.Sub(*l.Price)
	return b.Currency().Round(b.Currency().Decimal(x.left.Net()).Mul(lower).DivRound(x.line.UnitPrice, 16))
}

// ofWork shares an amount of the work over the lines by what is left of them,
// and gives back deductions in the same share.
func (c Credit) ofWork(b *builder, of posting.Paper, all []creditPart) []creditPart {
	work := make([]money.Amount, len(all))
	var left money.Amount
	for n, x := range all {
		if _, control := b.Control(x.line.AccountID); !control && x.left.Net() > 0 && x.line.PassOn == posting.KeptAsCost {
			work[n] = x.left.Net()
			left += work[n]
		}
	}
	cur := b.Currency()
	if c.Work < 0 || c.Work > left {
		b.Refuse("work", "more than is left", cur.Format(left), "Only %s of the work of %s is left to credit, net, not %s.", cur.Show(left), of.Number, cur.Show(c.Work))
		return nil
	}
	shares, err := money.Share(c.Work, work)
	if err != nil {
		return nil
	}
	var chosen []creditPart
	for n, x := range all {
		switch _, control := b.Control(x.line.AccountID); {
		case shares[n] > 0:
			x.part = x.left.TakeNet(shares[n])
		case control && taken(x.left):
			x.part = x.left.Neg().Take(money.Portion(c.Work, -x.left.Amount.Own, left)).Neg()
		default:
			continue
		}
		if x.quantity = 0; x.part.Amount.Own != 0 {
			chosen = append(chosen, x)
		}
	}
	return chosen
}

// carried is the share of the discount taken that the credit carries, by code;
// false where more is credited than discounts and write-offs left of a code.
func (c Credit) carried(b *builder, of posting.Paper, parts []creditPart) ([]thingPart, bool) {
	var codes []int64
	sums := map[int64]posting.Part{}
	for _, x := range parts {
		if _, seen := sums[x.of.TaxCodeID]; !seen {
			codes = append(codes, x.of.TaxCodeID)
		}
		sums[x.of.TaxCodeID] = sums[x.of.TaxCodeID].Add(x.part)
	}
	var carried []thingPart
	for _, id := range codes {
		code := posting.Thing{LineRef: posting.LineRef{PaperID: of.ID}, TaxCodeID: id}
		left, _, _ := b.LeftOf(code, posting.Credited, c.Day)
		sum := sums[id]
		share := b.DiscountShare(code, sum, left.Least)
		if share != (posting.Part{}) {
			carried = append(carried, thingPart{of: code, part: share})
		}
		net := sum.Sub(share)
		beyond := sum.Amount.Own > 0 && (net.Amount.Own > left.Most() || net.Tax.Own > max(left.Least.Tax.Own, 0))
		if sum.Amount.Own < 0 { // of a code by which more was taken off than billed, on its own side
			beyond = left.Least.Amount.Own < 0 && sum.Amount.Own < left.Least.Amount.Own || left.Least.Tax.Own < 0 && sum.Tax.Own < left.Least.Tax.Own
		}
		if beyond {
			cur := b.Currency()
			b.Refuse("paper", "more than is left", cur.Format(left.Most()), "Only %s of %s is left to credit at its tax code, not %s: a write-off, a discount or a credit stands on it.", cur.Show(left.Most()), of.Number, cur.Show(net.Amount.Own))
			return nil, false
		}
	}
	return carried, true
}
