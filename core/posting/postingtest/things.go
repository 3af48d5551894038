package postingtest

import (
	"cmp"
	"maps"
	"slices"

	"cleantally/core/day"
	"cleantally/core/posting"
)

func (b *Book) Uses(paper int64) []posting.Use {
	return where(b.Used, func(u posting.Use) bool { return u.Of.PaperID == paper })
}

func (b *Book) UsesBy(paper int64) []posting.Use {
	return where(b.Used, func(u posting.Use) bool { return u.PaperID == paper })
}

func (b *Book) Reserved(paper int64) []posting.Use {
	var found []posting.Use
	for _, draft := range slices.Sorted(maps.Keys(b.Reservation)) {
		if draft != b.Draft {
			found = append(found, where(b.Reservation[draft], func(u posting.Use) bool { return u.Of.PaperID == paper })...)
		}
	}
	return found
}

func (b *Book) StockMoves(article int64) []posting.StockMove {
	return where(b.Stock, func(m posting.StockMove) bool { return m.ArticleID == article })
}

func (b *Book) StockFrom(article int64, from day.Day) []posting.StockMove {
	days := map[day.Day]posting.StockMove{}
	for _, m := range b.StockMoves(article) {
		d := max(m.Day, from)
		days[d] = posting.StockMove{ArticleID: article, Day: d, Quantity: days[d].Quantity + m.Quantity, Value: days[d].Value + m.Value}
	}
	return slices.SortedFunc(maps.Values(days), func(x, y posting.StockMove) int { return cmp.Compare(x.Day, y.Day) })
}

func (b *Book) StockOf(paper int64) []posting.StockMove {
	return where(b.Stock, func(m posting.StockMove) bool { return m.By.PaperID == paper })
}

func (b *Book) StockBy(paper int64) []posting.StockMove {
	return where(b.Stock, func(m posting.StockMove) bool { return m.PaperID == paper })
}

func (b *Book) ChargedDays(item posting.ItemRef) []posting.ChargedDays {
	return where(b.Charges, func(c posting.ChargedDays) bool { return c.Item == item && !c.Freed })
}

func (b *Book) ChargedBy(paper int64) []posting.ChargedDays {
	return where(b.Charges, func(c posting.ChargedDays) bool { return c.PaperID == paper && !c.Freed })
}

func (b *Book) TiesOf(line, movement int64) []posting.Tie {
	return where(b.Ties, func(t posting.Tie) bool {
		return !t.Freed && (t.BankLineID == line || t.MovementID == movement)
	})
}

func (b *Book) BankLine(id int64) (posting.BankLine, bool) {
	if id < 1 || id > int64(len(b.BankLines)) {
		return posting.BankLine{}, false
	}
	return b.BankLines[id-1], true
}

// movements are the journal lines on bank accounts; a line's ID is its place
// among all.
func (b *Book) movements() []posting.Movement {
	var all []posting.Movement
	id := int64(0)
	for _, e := range b.Entries {
		for _, l := range e.Lines {
			id++
			for _, bank := range b.Banks {
				if bank.AccountID == l.AccountID {
					if l.Currency != "" {
						l.Amount = l.Own
					}
					all = append(all, posting.Movement{ID: id, BankAccountID: bank.ID, PaperID: e.PaperID, Number: b.Papers[e.PaperID-1].Number, Day: e.Day, Amount: l.Amount})
				}
			}
		}
	}
	return all
}

func (b *Book) Movement(id int64) (posting.Movement, bool) {
	for _, m := range b.movements() {
		if m.ID == id {
			return m, true
		}
	}
	return posting.Movement{}, false
}

func (b *Book) PaperMovements(paper int64) []posting.Movement {
	return where(b.movements(), func(m posting.Movement) bool { return m.PaperID == paper })
}
