package store

import (
	"slices"

	"cleantally/core/day"
	"cleantally/core/money"
	"cleantally/core/posting"
)

// What follows answers posting.ThingFacts.

// ownOf stores an amount in its own currency; NULL where that is worth the same.
func ownOf(w posting.Worth) any {
	if w.Own == w.Base {
		return nil
	}
	return w.Own
}

// useColumns are those of what is used, and of what is reserved.
const useColumns = "of_paper_id, of_position, tax_code_id, as_kind, day, quantity, amount, tax, own_amount, own_tax"

func (r *row) use() posting.Use {
	return posting.Use{Of: posting.Thing{LineRef: posting.LineRef{PaperID: r.int(0), Position: int(r.int(1))}, TaxCodeID: r.int(2)}, As: posting.UseKind(r.text(3)), Day: r.day(4), Quantity: posting.Millionths(r.int(5)),
		Part: posting.Part{Amount: r.worth(6, 8), Tax: r.worth(7, 9)}}
}

func (f *Facts) readUses(where string, args ...any) []posting.Use {
	all := []posting.Use{}
	f.rows("SELECT "+useColumns+", id, by_paper_id, by_position, paper_id, cost, undoes FROM uses "+where+" ORDER BY +id", func(r *row) {
		u := r.use()
		u.ID, u.By, u.PaperID, u.Cost, u.Undoes = r.int(10), posting.LineRef{PaperID: r.int(11), Position: int(r.int(12))}, r.int(13), r.amount(14), r.int(15)
		all = append(all, u)
	}, args...)
	return all
}

// Uses are read once a paper.
func (f *Facts) Uses(paperID int64) []posting.Use {
	found, seen := f.uses[paperID]
	if !seen {
		found = f.readUses("WHERE of_paper_id = ?", paperID)
		f.uses[paperID] = found
	}
	return found
}

func (f *Facts) UsesBy(paperID int64) []posting.Use { return f.readUses("WHERE paper_id = ?", paperID) }

func (f *Facts) Reserved(paperID int64) []posting.Use {
	found, seen := f.reserved[paperID]
	if !seen {
		found = []posting.Use{}
		f.rows("SELECT "+useColumns+" FROM reservations WHERE of_paper_id = ? AND draft_id <> ? ORDER BY rowid", func(r *row) { found = append(found, r.use()) }, paperID, f.draft)
		f.reserved[paperID] = found
	}
	return found
}

const selectStock = "SELECT id, article_id, by_paper_id, by_position, paper_id, day, quantity, value, undoes FROM stock_moves "

func (f *Facts) stock(where string, id int64) []posting.StockMove {
	type row struct {
		ID         int64
		ArticleID  int64
		ByPaperID  int64
		ByPosition int
		PaperID    int64
		Day        day.Day
		Quantity   posting.Millionths
		Value      money.Amount
		Undoes     int64
	}
	rows := all[row](f, selectStock+where+" ORDER BY +id", id)
	moves := make([]posting.StockMove, len(rows))
	for n, r := range rows {
		moves[n] = posting.StockMove{ID: r.ID, ArticleID: r.ArticleID, By: posting.LineRef{PaperID: r.ByPaperID, Position: r.ByPosition}, PaperID: r.PaperID, Day: r.Day,
			Quantity: r.Quantity, Value: r.Value, Undoes: r.Undoes}
	}
	f.numbers(moves)
	return moves
}

// numbers adds the numbers of the pieces to moves of articles that bear them.
func (f *Facts) numbers(moves []posting.StockMove) {
	at := map[int64]int{}
	var ids []int64
	for n, m := range moves {
		if a, _ := f.Article(m.ArticleID); a.Serial {
			at[m.ID] = n
			ids = append(ids, m.ID)
		}
	}
	type row struct {
		MoveID int64
		Serial string
	}
	for chunk := range slices.Chunk(ids, 1000) {
		for _, r := range all[row](f, "SELECT move_id, serial FROM stock_serials WHERE move_id IN ? ORDER BY move_id, serial", chunk) {
			m := &moves[at[r.MoveID]]
			m.Serials = append(m.Serials, r.Serial)
		}
	}
}

func (f *Facts) StockMoves(articleID int64) []posting.StockMove {
	return f.stock("WHERE article_id = ?", articleID)
}

// StockFrom answers posting.ThingFacts by what is kept, less what moved since.
func (f *Facts) StockFrom(articleID int64, from day.Day) []posting.StockMove {
	type row struct {
		Day      day.Day
		Quantity posting.Millionths
		Value    money.Amount
	}
	later := all[row](f, "SELECT day, SUM(quantity) AS quantity, SUM(value) AS value FROM stock_moves WHERE article_id = ? AND day > ? GROUP BY day ORDER BY day", articleID, from)
	there := all[row](f, "SELECT quantity, value FROM stock_left WHERE article_id = ? AND EXISTS (SELECT 1 FROM stock_moves WHERE article_id = ? AND day <= ?)", articleID, articleID, from)
	var moves []posting.StockMove
	for _, t := range there {
		for _, l := range later {
			t.Quantity, t.Value = t.Quantity-l.Quantity, t.Value-l.Value
		}
		moves = append(moves, posting.StockMove{ArticleID: articleID, Day: from, Quantity: t.Quantity, Value: t.Value})
	}
	for _, l := range later {
		moves = append(moves, posting.StockMove{ArticleID: articleID, Day: l.Day, Quantity: l.Quantity, Value: l.Value})
	}
	return moves
}

// StockOf answers posting.ThingFacts.
func (f *Facts) StockOf(paperID int64) []posting.StockMove {
	return f.stock("WHERE by_paper_id = ?", paperID)
}

func (f *Facts) StockBy(paperID int64) []posting.StockMove {
	return f.stock("WHERE paper_id = ?", paperID)
}

const selectCharges = `SELECT c.id, c.item_id AS item, c.from_day AS "from", c.through_day AS through, c.paper_id FROM charged_days c WHERE NOT EXISTS (SELECT 1 FROM freed_days x WHERE x.charge_id = c.id) AND `

func (f *Facts) ChargedDays(item posting.ItemRef) []posting.ChargedDays {
	if known, ok := f.charged[item]; ok {
		return known
	}
	return all[posting.ChargedDays](f, selectCharges+"c.item_id = ? ORDER BY c.id", item)
}

func (f *Facts) ChargedBy(paperID int64) []posting.ChargedDays {
	return all[posting.ChargedDays](f, selectCharges+"c.paper_id = ? ORDER BY c.id", paperID)
}

const selectMovements = `SELECT l.id, k.id AS bank_account_id, e.paper_id, p.number, l.day, COALESCE(l.own_amount, l.amount) AS amount FROM entry_lines l JOIN bank_accounts k ON k.account_id = l.account_id
	JOIN entries e ON e.id = l.entry_id JOIN papers p ON p.id = e.paper_id `

func (f *Facts) Movement(lineID int64) (posting.Movement, bool) {
	return find[posting.Movement](f, selectMovements+"WHERE l.id = ?", lineID)
}

func (f *Facts) PaperMovements(paperID int64) []posting.Movement {
	return all[posting.Movement](f, selectMovements+"WHERE e.paper_id = ? ORDER BY l.id", paperID)
}

func (f *Facts) BankLine(id int64) (posting.BankLine, bool) {
	return find[posting.BankLine](f, "SELECT id, bank_account_id, day, amount FROM bank_lines WHERE id = ?", id)
}

func (f *Facts) TiesOf(lineID, movementID int64) []posting.Tie {
	return all[posting.Tie](f, "SELECT t.id, t.bank_line_id, t.movement_id FROM ties t WHERE (t.bank_line_id = ? OR t.movement_id = ?) AND "+tieStands+" ORDER BY t.id", lineID, movementID)
}

// AddBankLine stores a line of a bank's statement and gives it its ID.
func (tx *Tx) AddBankLine(l *posting.BankLine) error {
	res, err := tx.exec("INSERT INTO bank_lines (bank_account_id, day, amount) VALUES (?, ?, ?)", l.BankAccountID, l.Day, l.Amount)
	if err == nil {
		l.ID, err = res.LastInsertId()
	}
	return err
}

// Reserve keeps what a draft would bill of posted papers, in place of what it
// kept before.
func (tx *Tx) Reserve(draft int64, used []posting.Use) error {
	if _, err := tx.exec("DELETE FROM reservations WHERE draft_id = ?", draft); err != nil {
		return err
	}
	for _, u := range posting.Reserved(used) {
		if _, err := tx.exec("INSERT INTO reservations (draft_id, of_paper_id, of_position, tax_code_id, as_kind, day, quantity, amount, tax, own_amount, own_tax) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)",
			draft, u.Of.PaperID, u.Of.Position, null(u.Of.TaxCodeID), u.As, u.Day, u.Quantity, u.Amount.Base, u.Tax.Base, ownOf(u.Amount), ownOf(u.Tax)); err != nil {
			return err
		}
	}
	return nil
}

// HasStock tells whether any of an article is in stock.
func (tx *Tx) HasStock(articleID int64) (bool, error) {
	n, _, err := one[int64](tx.Reader, "SELECT COALESCE(SUM(quantity), 0) FROM stock_moves WHERE article_id = ?", articleID)
	return n != 0, err
}
