package posting

import (
	"slices"

	"cleantally/core/day"
	"cleantally/core/ledger"
	"cleantally/core/money"
)

// StockMove is goods that came into stock or left it: above nil in, below nil
// out, with their value in the firm's currency.
type StockMove struct {
	ID        int64
	ArticleID int64
	By        LineRef
	PaperID   int64 // the paper that wrote it
	Day       day.Day
	Quantity  Millionths
	Value     money.Amount
	Undoes    int64
}

// StockOn is what of an article is there: the least on any day from d on, and
// what is there in the end with its value.
func (b *Builder) StockOn(articleID int64, d day.Day) (least, quantity Millionths, value money.Amount) {
	var changes []dated
	for _, m := range b.stockMoves(articleID) {
		changes = append(changes, dated{m.Day, Part{Amount: Worth{money.Amount(m.Quantity), m.Value}}})
	}
	l := leftFrom(changes, 1, d)
	// Before the first goods came, there was nothing.
	if !slices.ContainsFunc(changes, func(c dated) bool { return c.day <= d }) {
		l.Least.Amount.Own = min(l.Least.Amount.Own, 0)
	}
	return Millionths(l.Least.Amount.Own), Millionths(l.End.Amount.Own), l.End.Amount.Base
}

func (b *Builder) stockMoves(articleID int64) []StockMove {
	all := append([]StockMove(nil), b.StockMoves(articleID)...)
	for _, m := range b.effect.Stock {
		if m.ArticleID == articleID {
			all = append(all, m)
		}
	}
	return all
}

// StockIn brings goods into stock at their cost: Dr stock.
func (b *Builder) StockIn(m StockMove) {
	m.PaperID = b.Own()
	b.effect.Stock = append(b.effect.Stock, m)
	b.control(ledger.Stock, Of(m.Value, 0), 1, 0, "")
}

// StockOut takes goods out of stock at moving average: Cr stock. The cost is a
// portion of value by quantity, of everything posted by then; more than is
// there on any day from then on is refused (docs/rules.md, part 5).
func (b *Builder) StockOut(field string, articleID int64, quantity Millionths, by LineRef, d day.Day) (money.Amount, bool) {
	least, all, value := b.StockOn(articleID, d)
	if quantity <= 0 || quantity > least {
		article, _ := b.Article(articleID)
		b.Refuse(field, "more than is there", shown(least), "Only %s of %s is in stock on every day from %s on, not %s. Record the goods received first.", shown(least), article.Name, d.Show(), shown(quantity))
		return 0, false
	}
	cost := money.Portion(money.Amount(quantity), value, money.Amount(all))
	b.StockIn(StockMove{ArticleID: articleID, By: by, Day: d, Quantity: -quantity, Value: -cost})
	return cost, true
}

// undoStock takes back what a paper did to stock. It returns what of a
// purchase's value cannot be taken back, because it left with goods that were
// sold at the average: that is cost of sales.
func (b *Builder) undoStock(p Paper, d day.Day) (lost money.Amount, ok bool) {
	undone := map[int64]bool{}
	for _, m := range b.StockBy(p.ID) {
		undone[m.Undoes] = true
	}
	for _, m := range b.StockBy(p.ID) {
		if m.Undoes != 0 || undone[m.ID] {
			continue
		}
		back := StockMove{ArticleID: m.ArticleID, By: m.By, Day: d, Quantity: -m.Quantity, Value: -m.Value, Undoes: m.ID}
		if m.Quantity > 0 {
			least, all, value := b.StockOn(m.ArticleID, d)
			if m.Quantity > least {
				article, _ := b.Article(m.ArticleID)
				b.Refuse("paper", "more than is there", shown(least), "Of %s only %s is in stock, so the %s of %s cannot be taken back.", article.Name, shown(least), shown(m.Quantity), p.Number)
				return 0, false
			}
			if back.Value = -min(m.Value, value); m.Quantity == all {
				back.Value = -value
			}
			lost += m.Value + back.Value
		}
		b.StockIn(back)
	}
	return lost, true
}

func shown(q Millionths) string { return q.Decimal().String() }
