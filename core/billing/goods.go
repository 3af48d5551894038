package billing

import (
	"fmt"

	"cleantally/core/day"
	"cleantally/core/ledger"
	"cleantally/core/posting"
)

// goods takes what an invoice bills of stocked articles out of stock: Dr cost
// of sales, Cr stock, at the average cost. What of an order was delivered left
// stock with its delivery, and leaves it never twice (docs/rules.md, part 5).
// An order that is billed by progress leaves stock by its deliveries alone.
func (v Invoice) goods(b *builder, p *posting.Paper, lines []posting.Line) {
	if v.certificate != "" {
		return
	}
	for n, l := range lines {
		article, _ := b.Article(p.Lines[n].ArticleID)
		if !article.Stocked || !l.Quantity.IsPositive() || l.Deducts != nil {
			continue
		}
		pieces := posting.InMillionths(l.Quantity)
		if l.Of.PaperID != 0 {
			if order, _ := b.facts.Paper(l.Of.PaperID); byProgress(b.facts, order) != "" {
				continue
			}
			pieces = leaving(b, l.Of, pieces, 0)
		}
		outOfStock(b, fmt.Sprintf("lines[%d].", n), p, n, pieces, l.Serials, v.Day)
	}
}

// leaving is how many pieces of an order's line leave stock by those that are
// billed or delivered now: what of it is out is the larger of what was
// delivered and what was billed.
func leaving(b *builder, of posting.Thing, billed, delivered posting.Millionths) posting.Millionths {
	var wasBilled, wasDelivered posting.Millionths
	for _, u := range b.Uses(of.PaperID) {
		switch {
		case u.Of != of:
		case u.As == posting.Billed:
			wasBilled += u.Quantity
		case u.As == posting.Delivered:
			wasDelivered += u.Quantity
		}
	}
	if order, _ := b.facts.Paper(of.PaperID); byProgress(b.facts, order) != "" {
		return delivered
	}
	return max(wasBilled+billed, wasDelivered+delivered) - max(wasBilled, wasDelivered)
}

// outOfStock takes pieces of a line's article out of stock.
func outOfStock(b *builder, field string, p *posting.Paper, n int, pieces posting.Millionths, serials []string, d day.Day) {
	if pieces <= 0 {
		if len(serials) > 0 {
			b.Refuse(field+"serials", "numbers", "0", "These pieces have left stock with their delivery. Leave their numbers out here.")
		}
		return
	}
	cost, ok := b.StockOut(field+"quantity", p.Lines[n].ArticleID, pieces, serials, posting.LineRef{PaperID: p.ID, Position: n + 1}, d)
	if ok {
		b.Debit(b.Role(ledger.CostOfSales), cost, ledger.Line{PartyID: p.PartyID, JobID: p.JobID})
	}
}

// goods brings what is credited of a stocked article back into stock, as far as
// it is said, or as far as it was billed and never left: Dr stock, Cr cost of
// sales, at the cost at which it left. What does not come back is scrapped, or
// stays where it is (docs/rules.md, part 6).
func (w *creditWriting) goods(x creditPart, there posting.Millionths) {
	article, _ := w.b.Article(x.line.ArticleID)
	back := x.back
	if article.Stocked {
		back = max(back, there)
	}
	switch {
	case back == 0 && len(x.serials) == 0:
		return
	case !article.Stocked || x.quantity == 0:
		w.b.Refuse(x.field+"back", "no goods", "0", "%s: goods that go back to stock are of an article that is kept there, and of a quantity that is credited.", x.line.Text)
		return
	case back < 0 || back > x.quantity:
		w.b.Refuse(x.field+"back", "more than is credited", x.quantity.Decimal().String(), "Of %s %s is credited, so no more goes back to stock, not %s.", x.line.Text, x.quantity.Decimal(), back.Decimal())
		return
	}
	cost, ok := w.b.ComeBack(x.field, posting.StockMove{ArticleID: article.ID, By: w.last(), Day: w.c.Day, Quantity: back, Serials: x.serials}, goneWith(w.b, w.of, x.line), w.of.Number)
	if ok {
		w.b.Credit(w.b.Role(ledger.CostOfSales), cost, w.at)
	}
}

// goneWith are the lines by which what an invoice's line bills left stock, and
// those by which it came back: its own and its credits', and, of an order's
// line, those of all deliveries, returns and invoices of that.
func goneWith(b *builder, of posting.Paper, l posting.PaperLine) map[posting.LineRef]bool {
	own := posting.LineRef{PaperID: of.ID, Position: l.Position}
	for _, u := range b.UsesBy(of.ID) {
		if p, _ := b.Facts.Paper(u.Of.PaperID); u.By == own && u.As == posting.Billed && p.Kind == posting.Order {
			return goneOf(b, u.Of)
		}
	}
	return withCredits(b, []posting.LineRef{own})
}

// goneOf are the lines that delivered, billed or brought back an order's line.
func goneOf(b *builder, ordered posting.Thing) map[posting.LineRef]bool {
	var lines []posting.LineRef
	for _, u := range b.Uses(ordered.PaperID) {
		if u.Of == ordered && (u.As == posting.Delivered || u.As == posting.Billed) {
			lines = append(lines, u.By)
		}
	}
	return withCredits(b, lines)
}

// withCredits adds the lines of credit notes that credited some of the lines.
func withCredits(b *builder, lines []posting.LineRef) map[posting.LineRef]bool {
	all := map[posting.LineRef]bool{}
	for _, ref := range lines {
		if all[ref] {
			continue
		}
		all[ref] = true
		for _, u := range b.Uses(ref.PaperID) {
			if u.As == posting.Credited && u.Of.LineRef == ref {
				all[u.By] = true
			}
		}
	}
	return all
}
