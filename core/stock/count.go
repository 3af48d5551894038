package stock

import (
	"fmt"

	"cleantally/core/day"
	"cleantally/core/ledger"
	"cleantally/core/money"
	"cleantally/core/posting"

	"github.com/shopspring/decimal"
)

// Count is what was counted of articles on a day: the difference to what should
// be there is posted to cost of sales at the average cost. An opening count
// brings in what was there before, at what it cost, against opening balances.
type Count struct {
	Number  string // "" to be given the next
	Day     day.Day
	Note    string
	Opening bool
	Lines   []Counted
}

// Counted is a counted quantity of an article.
type Counted struct {
	Line
	Cost *decimal.Decimal // of a piece, where none is there to take it from
}

// Plan returns the effect of the count.
func (c Count) Plan(f posting.Facts) (posting.Effect, error) {
	b := posting.Build(f)
	dayOK := b.PostingDay("day", c.Day)
	title := "Stock counted"
	if c.Opening {
		title = "Stock at the beginning"
	}
	p := posting.Paper{Kind: posting.StockCount, Number: c.Number, Day: c.Day, Title: title, Note: c.Note}
	plain := make([]Line, len(c.Lines))
	for n, l := range c.Lines {
		plain[n] = l.Line
	}
	named := lines(b, plain, &p)
	own := b.Paper(p)
	for n, l := range c.Lines {
		field := fmt.Sprintf("lines[%d].", n)
		if l.Quantity.IsNegative() {
			b.Refuse(field+"quantity", "below nil", "0", "Line %d: what was counted is not below nil.", n+1)
		} else if named[n] && dayOK {
			c.one(b, own, n, l)
		}
	}
	return b.Effect(fmt.Sprintf("Counted stock by %s: %s", own.Number, b.Currency().Show(own.Total)))
}

// one posts the difference of one article.
func (c Count) one(b *posting.Builder, p *posting.Paper, n int, l Counted) {
	field := fmt.Sprintf("lines[%d].", n)
	there, value := b.Stock(l.ArticleID, c.Day)
	off := posting.InMillionths(l.Quantity) - there
	by := posting.LineRef{PaperID: p.ID, Position: n + 1}
	p.Lines[n].Quantity = off.Decimal()
	account := b.Role(ledger.CostOfSales)
	if c.Opening {
		account = b.Role(ledger.Opening)
	}
	switch {
	case c.Opening && there != 0:
		b.Refuse(field+"article", "not the beginning", there.Decimal().String(), "Line %d: %s of it are in stock already, so this is no beginning. Count it instead.", n+1, there.Decimal())
	case off < 0:
		cost, ok := b.StockOut(field+"quantity", l.ArticleID, -off, l.Serials, by, c.Day)
		if ok {
			b.Debit(account, cost, ledger.Line{})
			price(p, n, -cost, b.Currency())
		}
	case off > 0:
		worth, ok := l.worth(b, field, n, off, there, value)
		if ok && b.Receive(field+"serials", posting.StockMove{ArticleID: l.ArticleID, By: by, Day: c.Day, Quantity: off, Value: worth, Serials: l.Serials}) {
			b.Credit(account, worth, ledger.Line{})
			price(p, n, worth, b.Currency())
		}
	}
}

// worth is what pieces that are more than should be there are worth: at their
// own cost, else at the average of those that are there.
func (l Counted) worth(b *posting.Builder, field string, n int, off, there posting.Millionths, value money.Amount) (money.Amount, bool) {
	if l.Cost != nil {
		worth, err := b.Currency().Rounded(l.Cost.Mul(off.Decimal()))
		if err != nil || l.Cost.IsNegative() || !money.Fits(*l.Cost, 6) {
			b.Refuse(field+"cost", "out of bounds", "0", "Line %d: what a piece cost is from nil on, with at most 6 places.", n+1)
			return 0, false
		}
		return worth, true
	}
	if there <= 0 {
		b.Refuse(field+"cost", "missing", "", "Line %d: none was there, so say what a piece cost.", n+1)
		return 0, false
	}
	whole, rest := off/there, off%there
	return money.Amount(whole)*value + money.Portion(money.Amount(rest), value, money.Amount(there)), true
}
