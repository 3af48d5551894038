package buying

import (
	"fmt"
	"slices"

	"cleantally/core/day"
	"cleantally/core/ledger"
	"cleantally/core/master"
	"cleantally/core/money"
	"cleantally/core/posting"
	"cleantally/core/tax"
)

// work is what a bill and an expense share: their lines, what they come to,
// and what becomes of orders and of stock.
type work struct {
	lines []Line
	day   day.Day
	party master.Party
	tax   *money.Amount
	total *money.Amount
}

// out works the lines out, with the supplier's own tax where it is given.
func (w work) out(b *posting.Builder) ([]posting.PaperLine, tax.Sums) {
	lines, sums := bought(b, w.lines, w.day, w.party.ID)
	c := b.Currency()
	if w.tax != nil && *w.tax != sums.Tax && !b.Refused() {
		w.ownTax(b, lines, &sums)
	}
	if w.total != nil && *w.total != sums.Total && !b.Refused() {
		b.Refuse("total", "sums differ", c.Format(sums.Total), "The lines come to %s with tax, the bill says %s: they differ by %s. Put the lines right, or take the supplier's own tax where it was rounded otherwise.",
			c.Show(sums.Total), c.Show(*w.total), c.Show((sums.Total - *w.total).Abs()))
	}
	return lines, sums
}

// ownTax takes the supplier's own tax in place of what was computed, within the
// firm's limit for small differences: the difference is borne by the code and
// the line that bear most tax (docs/rules.md, part 5, what we buy).
func (w work) ownTax(b *posting.Builder, lines []posting.PaperLine, s *tax.Sums) {
	c, off := b.Currency(), *w.tax-s.Tax
	if limit := b.Outside(b.Limits().Difference); off.Abs() > limit {
		b.Refuse("tax", "beyond the limit", c.Format(limit), "The tax comes to %s, the bill says %s: that differs by more than %s. Look at the lines and their tax codes.", c.Show(s.Tax), c.Show(*w.tax), c.Show(limit))
		return
	}
	most := -1
	for n, code := range s.Codes {
		if code.Tax > 0 && (most < 0 || code.Tax > s.Codes[most].Tax) {
			most = n
		}
	}
	if most < 0 || s.Codes[most].Tax+off < 0 {
		b.Refuse("tax", "no tax", c.Format(0), "No line bears tax, so the bill can bear none. Choose another tax code.")
		return
	}
	at := -1
	for n, l := range lines {
		if l.TaxCodeID == s.Codes[most].Code.ID && (at < 0 || l.Tax.Own > lines[at].Tax.Own) {
			at = n
		}
	}
	s.Codes[most].Tax += off
	s.Tax += off
	s.Total += off
	lines[at].Tax = b.At(lines[at].Tax.Own + off)
}

// twice warns of a number of the supplier's that was recorded before.
func (w work) twice(b *posting.Builder, p *posting.Paper, known bool) {
	if p.Reference == "" || !known {
		return
	}
	if number, found := b.SamePayment(w.party.ID, p.Reference, p.Total, w.day.Add(-90)); found {
		b.Warn("reference", "billed twice?", "90", "%s has the same number of the supplier and the same amount. Is it being recorded twice?", number)
	}
}

// fromOrder fills the lines that bill a line of an order with what that says.
func fromOrder(b *posting.Builder, given []Line, partyID int64, d day.Day) []Line {
	lines := slices.Clone(given)
	seen := map[OrderLine]bool{}
	for n, l := range lines {
		if l.Of.PaperID == 0 {
			continue
		}
		field := fmt.Sprintf("lines[%d].", n)
		order, ok := orderOf(b, field+"of", l.Of.PaperID, partyID)
		if !ok || l.Of.Position < 1 || l.Of.Position > len(order.Lines) || seen[l.Of] {
			if ok {
				b.Refuse(field+"of", "missing", "", "Line %d: %s has no such line, or it is billed twice here.", n+1, order.Number)
			}
			lines[n].Of = OrderLine{}
			continue
		}
		seen[l.Of] = true
		b.OneCurrency(field+"of", order, "billed")
		of := order.Lines[l.Of.Position-1]
		if d != "" && d < order.Day {
			b.Refuse("day", "before the paper", string(order.Day), "%s is dated %s and cannot be billed before. Use that day or later.", order.Number, order.Day.Show())
		}
		l.ArticleID = of.ArticleID
		if l.AccountID == 0 && !stocked(b, of) {
			l.AccountID = of.AccountID
		}
		if l.Text == "" {
			l.Text, l.Unit = of.Text, of.Unit
		}
		if l.TaxCodeID == 0 {
			l.TaxCodeID = of.TaxCodeID
		}
		if l.Net == 0 && l.UnitPrice.IsZero() {
			l.UnitPrice, l.Discount = of.UnitPrice, of.DiscountPercent
		}
		if l.JobID == 0 {
			l.JobID = of.JobID
		}
		lines[n] = l
	}
	return lines
}

// stock brings what was bought into stock and clears what came before the
// bill; orders know what of them is billed.
func (w work) stock(b *posting.Builder, p *posting.Paper) {
	for n, l := range w.lines {
		field := fmt.Sprintf("lines[%d].", n)
		own := p.Lines[n]
		by := posting.LineRef{PaperID: p.ID, Position: own.Position}
		pieces := posting.InMillionths(own.Quantity)
		cleared := cleared{}
		if l.Of.PaperID != 0 {
			order, _ := b.Facts.Paper(l.Of.PaperID)
			of := thingOf(order, order.Lines[l.Of.Position-1])
			if stocked(b, own) {
				cleared = clear(b, field, of, pieces, by, w.day)
			}
			_, left, _ := b.LeftOf(of, posting.Billed, w.day)
			if left = max(left, 0); pieces > left {
				b.Warn(field+"quantity", "more than ordered", left.Decimal().String(), "Only %s of %s in %s is left to bill, not %s.", left.Decimal(), own.Text, order.Number, own.Quantity)
			}
			if q := min(pieces, left); q > 0 {
				b.Use(field+"quantity", posting.Use{Of: of, As: posting.Billed, Day: w.day, By: by, Quantity: q, Part: b.PartOf(of, posting.Billed, q, w.day)})
			}
		}
		if stocked(b, own) {
			w.in(b, field, own, by, pieces, cleared, l.Serials)
		}
	}
}

// in brings the pieces of a line into stock that no goods received have
// brought, and puts the price of the others right: their share that is still
// there changes what stock is worth, the rest is cost of sales.
func (w work) in(b *posting.Builder, field string, l posting.PaperLine, by posting.LineRef, pieces posting.Millionths, c cleared, serials []string) {
	cost := l.Net.Base
	if l.Joined {
		cost += l.Tax.Base
	}
	before := money.Portion(money.Amount(c.pieces), cost, money.Amount(pieces)) // of the line, for what came before
	if rest := b.Revalue(l.ArticleID, c.pieces, before-c.value, by, w.day); rest != 0 {
		b.Debit(b.Role(ledger.CostOfSales), rest, ledger.Line{})
	}
	if more := pieces - c.pieces; more > 0 {
		b.Receive(field+"serials", posting.StockMove{ArticleID: l.ArticleID, By: by, Day: w.day, Quantity: more, Value: cost - before, Serials: serials})
	} else if len(serials) > 0 {
		b.Refuse(field+"serials", "numbers", "0", "These pieces came before with their numbers. Leave the numbers out here.")
	}
}

// cleared is what came before a bill and leaves goods received by it.
type cleared struct {
	pieces posting.Millionths
	value  money.Amount
}

// clear takes pieces of an order's line that came and are not billed yet out of
// goods received, the oldest first.
func clear(b *posting.Builder, field string, of posting.Thing, pieces posting.Millionths, by posting.LineRef, d day.Day) cleared {
	var c cleared
	for _, came := range receivedOf(b, of) {
		left, there, ok := b.LeftOf(came, posting.Billed, d)
		q := min(pieces-c.pieces, there)
		if !ok || q <= 0 {
			continue
		}
		part := left.Least
		if q < there {
			part = left.Take(money.Portion(money.Amount(q), left.Least.Amount.Own, money.Amount(there)))
		}
		if b.Use(field+"quantity", posting.Use{Of: came, As: posting.Billed, Day: d, By: by, Quantity: q, Part: part}) {
			c.pieces += q
			c.value += part.Amount.Base
		}
	}
	return c
}

// receivedOf are the lines of goods received that wait for the bill of an
// order's line.
func receivedOf(b *posting.Builder, of posting.Thing) []posting.Thing {
	var all []posting.Thing
	for _, u := range b.Uses(of.PaperID) {
		if u.Of != of || u.As != posting.Delivered || u.Undoes != 0 || u.Quantity <= 0 {
			continue
		}
		p, ok := b.Facts.Paper(u.By.PaperID)
		if !ok || u.By.Position < 1 || u.By.Position > len(p.Lines) || p.Lines[u.By.Position-1].Register == "" {
			continue
		}
		all = append(all, thingOf(p, p.Lines[u.By.Position-1]))
	}
	return all
}
