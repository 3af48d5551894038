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
