package posting

import (
	"cmp"
	"slices"
	"strings"

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
	Serials   []string // of an article whose pieces bear numbers
	Undoes    int64
}

// StockOn is what of an article is there: the least on any day from d on, and
// what is there in the end with its value.
func (b *Builder) StockOn(articleID int64, d day.Day) (least, quantity Millionths, value money.Amount) {
	var changes []dated
	for _, m := range b.stockWith(b.StockFrom(articleID, d), articleID) {
		changes = append(changes, dated{m.Day, Part{Amount: Worth{money.Amount(m.Quantity), m.Value}}})
	}
	l := leftFrom(changes, 1, d)
	// Before the first goods came, there was nothing.
	if !slices.ContainsFunc(changes, func(c dated) bool { return c.day <= d }) {
		l.Least.Amount.Own = min(l.Least.Amount.Own, 0)
	}
	return Millionths(l.Least.Amount.Own), Millionths(l.End.Amount.Own), l.End.Amount.Base
}

// stockWith adds to posted moves of an article those that are planned.
func (b *Builder) stockWith(posted []StockMove, articleID int64) []StockMove {
	all := slices.Clone(posted)
	for _, m := range b.effect.Stock {
		if m.ArticleID == articleID {
			all = append(all, m)
		}
	}
	return all
}

// Receive brings goods into stock at their cost, Dr stock, each piece with its
// number where the article's bear one.
func (b *Builder) Receive(field string, m StockMove) bool {
	if !b.numbered(field, m, func(there bool, serial, name string) bool {
		if there {
			b.Refuse(field, "taken", serial, "%s with the number %s is in stock already.", name, serial)
		}
		return !there
	}) {
		return false
	}
	b.StockIn(m)
	return true
}

// numbered checks the numbers of the pieces that a move names: as many as
// there are pieces, each once, and each as may says.
func (b *Builder) numbered(field string, m StockMove, may func(there bool, serial, name string) bool) bool {
	article, _ := b.Article(m.ArticleID)
	if !article.Serial {
		if len(m.Serials) > 0 {
			b.Refuse(field, "no numbers", "", "The pieces of %s bear no numbers. Leave them out.", article.Name)
		}
		return len(m.Serials) == 0
	}
	pieces := max(m.Quantity, -m.Quantity)
	if Millionths(len(m.Serials))*1e6 != pieces {
		b.Refuse(field, "numbers", shown(pieces), "Each piece of %s bears a number: name %s, not %d.", article.Name, shown(pieces), len(m.Serials))
		return false
	}
	seen := b.inStock(m.ArticleID)
	for _, serial := range m.Serials {
		if strings.TrimSpace(serial) == "" || len(serial) > 60 {
			b.Refuse(field, "numbers", "60", "The number of a piece has from 1 to 60 characters.")
			return false
		}
		if !may(seen[serial], serial, article.Name) {
			return false
		}
		seen[serial] = m.Quantity > 0
	}
	return true
}

// inStock are the numbers of the pieces that are there, of an article whose pieces
// bear numbers.
func (b *Builder) inStock(articleID int64) map[string]bool {
	there := map[string]bool{}
	for _, m := range b.stockWith(b.StockMoves(articleID), articleID) {
		for _, s := range m.Serials {
			there[s] = m.Quantity > 0
		}
	}
	return there
}

// Stock tells what of an article is there at the end of a day, and its value,
// posted and planned.
func (b *Builder) Stock(articleID int64, d day.Day) (quantity Millionths, value money.Amount) {
	for _, m := range b.stockWith(b.StockFrom(articleID, d), articleID) {
		if m.Day <= d {
			quantity += m.Quantity
			value += m.Value
		}
	}
	return quantity, value
}

// Revalue changes what the goods that are still there are worth, for as many
// pieces as a change of price is about: their share stays in stock, the rest of
// the change is answered, for cost of sales (docs/rules.md, part 5, stock).
func (b *Builder) Revalue(articleID int64, pieces Millionths, change money.Amount, by LineRef, d day.Day) (rest money.Amount) {
	_, all, value := b.StockOn(articleID, d)
	if pieces <= 0 || all <= 0 {
		return change
	}
	kept := money.Portion(money.Amount(min(all, pieces)), max(change, -change), money.Amount(pieces))
	if change < 0 {
		kept = -min(kept, value)
	}
	if kept != 0 {
		b.StockIn(StockMove{ArticleID: articleID, By: by, Day: d, Value: kept})
	}
	return change - kept
}

// StockIn brings goods into stock at their cost, without checks: Dr stock.
func (b *Builder) StockIn(m StockMove) {
	m.PaperID = b.Own()
	b.effect.Stock = append(b.effect.Stock, m)
	b.control(ledger.Stock, Of(m.Value, 0), 1, 0, "")
}

// StockOut takes goods out of stock at moving average: Cr stock. The cost is a
// portion of value by quantity, of everything posted by then; more than is
// there on any day from then on is refused (docs/rules.md, part 5).
func (b *Builder) StockOut(field string, articleID int64, quantity Millionths, serials []string, by LineRef, d day.Day) (money.Amount, bool) {
	least, all, value := b.StockOn(articleID, d)
	if quantity <= 0 || quantity > least {
		article, _ := b.Article(articleID)
		b.Refuse(field, "more than is there", shown(least), "Only %s of %s is in stock on every day from %s on, not %s. Record the goods received first.", shown(least), article.Name, d.Show(), shown(quantity))
		return 0, false
	}
	cost := money.Portion(money.Amount(quantity), value, money.Amount(all))
	m := StockMove{ArticleID: articleID, By: by, Day: d, Quantity: -quantity, Value: -cost, Serials: serials}
	if !b.numbered(field, m, func(there bool, serial, name string) bool {
		if !there {
			b.Refuse(field, "not there", serial, "%s with the number %s is not in stock.", name, serial)
		}
		return there
	}) {
		return 0, false
	}
	b.StockIn(m)
	return cost, true
}

// Gone is what of an article left stock by some lines and did not come back,
// with its cost.
type Gone struct {
	Quantity Millionths
	Cost     money.Amount
	Serials  []string // of pieces that bear numbers
}

// GoneBy tells what of an article is out by lines: all that left stock by them,
// less what came back by them, posted and planned.
func (b *Builder) GoneBy(articleID int64, lines map[LineRef]bool) Gone {
	var posted []StockMove
	papers := map[int64]bool{}
	for by := range lines {
		if !papers[by.PaperID] {
			papers[by.PaperID] = true
			posted = append(posted, b.StockOf(by.PaperID)...)
		}
	}
	slices.SortFunc(posted, func(x, y StockMove) int { return cmp.Compare(x.ID, y.ID) })
	var g Gone
	for _, m := range b.stockWith(posted, articleID) {
		if m.ArticleID != articleID || !lines[m.By] {
			continue
		}
		g.Quantity -= m.Quantity
		g.Cost -= m.Value
		for _, serial := range m.Serials {
			g.Serials = slices.DeleteFunc(g.Serials, func(s string) bool { return s == serial })
			if m.Quantity < 0 {
				g.Serials = append(g.Serials, serial)
			}
		}
	}
	return g
}

// ComeBack brings pieces that had left stock by some lines back into it, at the
// cost at which they left: Dr stock, a portion of what went with them. It
// answers that cost. More than went, and numbers of pieces that did not, are
// refused (docs/rules.md, part 6).
func (b *Builder) ComeBack(field string, m StockMove, from map[LineRef]bool, what string) (money.Amount, bool) {
	gone := b.GoneBy(m.ArticleID, from)
	article, _ := b.Article(m.ArticleID)
	if m.Quantity > gone.Quantity {
		b.Refuse(field+"back", "more than is left", shown(max(gone.Quantity, 0)), "Only %s of %s left stock by %s and did not come back yet, not %s.", shown(max(gone.Quantity, 0)), article.Name, what, shown(m.Quantity))
		return 0, false
	}
	if article.Serial && len(m.Serials) == 0 && m.Quantity == gone.Quantity {
		m.Serials = gone.Serials // all that went
	}
	for _, serial := range m.Serials {
		if !slices.Contains(gone.Serials, serial) {
			b.Refuse(field+"serials", "not sold", serial, "%s with the number %s did not go out by %s, or came back already.", article.Name, serial, what)
			return 0, false
		}
	}
	m.Value = money.Portion(money.Amount(m.Quantity), gone.Cost, money.Amount(gone.Quantity))
	return m.Value, b.Receive(field+"serials", m)
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
		back := StockMove{ArticleID: m.ArticleID, By: m.By, Day: d, Quantity: -m.Quantity, Value: -m.Value, Serials: m.Serials, Undoes: m.ID}
		if m.Quantity >= 0 {
			least, all, value := b.StockOn(m.ArticleID, d)
			if m.Quantity > least {
				article, _ := b.Article(m.ArticleID)
				b.Refuse("paper", "more than is there", shown(least), "Of %s only %s is in stock, so the %s of %s cannot be taken back.", article.Name, shown(least), shown(m.Quantity), p.Number)
				return 0, false
			}
			if len(m.Serials) > 0 {
				if there := b.inStock(m.ArticleID); slices.ContainsFunc(m.Serials, func(s string) bool { return !there[s] }) {
					article, _ := b.Article(m.ArticleID)
					b.Refuse("paper", "not there", "", "Of %s pieces that %s brought are not in stock any more, so it cannot be taken back.", article.Name, p.Number)
					return 0, false
				}
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
