package store

import (
	"cleantally/core/day"
	"cleantally/core/money"
	"cleantally/core/posting"

	"github.com/shopspring/decimal"
)

// StockRow is an article that is kept in stock, with what is there of it.
type StockRow struct {
	ID       int64
	Code     string
	Name     string
	Unit     string
	Serial   bool
	Quantity posting.Millionths
	Value    money.Amount
	ToCome   posting.Millionths // ordered and not received
	ToGo     posting.Millionths // ordered by customers and not delivered
	Price    decimal.Decimal
}

// StockRows returns the articles that are kept in stock, with what was there at
// the end of a day. Its sum is of the value.
func (r Reader) StockRows(search string, q Query, at day.Day) (Page[StockRow], error) {
	waits := func(kind string) string {
		return `COALESCE((SELECT SUM(MAX(CAST(l.quantity AS REAL) * 1000000 - COALESCE((SELECT SUM(u.quantity) FROM uses u WHERE u.of_paper_id = l.paper_id AND u.of_position = l.position AND u.as_kind IN ('delivered', 'cancelled') AND u.day <= @asof ), 0), 0))
			FROM (SELECT paper_id, position FROM goods_left INDEXED BY goods_left_of_article WHERE article_id = a.id AND kind = '` + kind + `' AND delivered < quantity - cancelled UNION SELECT g.paper_id, g.position FROM since g WHERE g.article_id = a.id AND g.kind = '` + kind + `') w
			CROSS JOIN paper_lines l ON l.paper_id = w.paper_id AND l.position = w.position CROSS JOIN papers o ON o.id = l.paper_id WHERE o.day <= @asof AND NOT EXISTS (SELECT 1 FROM papers x WHERE x.reverses_id = o.id AND x.day <= @asof )), 0)`
	}
	l := listing{
		with:    "WITH since AS MATERIALIZED (SELECT g.article_id, g.kind, g.paper_id, g.position FROM uses u INDEXED BY uses_day CROSS JOIN goods_left g ON g.paper_id = u.of_paper_id AND g.position = u.of_position WHERE u.day > @asof ) ",
		columns: "a.id, a.code, a.name, a.unit, a.serial, a.price, COALESCE(s.quantity, 0) AS quantity, COALESCE(s.value, 0) AS value, CAST(" + waits("purchase order") + " AS INTEGER) AS to_come, CAST(" + waits("order") + " AS INTEGER) AS to_go",
		from:    "articles a LEFT JOIN (SELECT article_id, SUM(quantity) AS quantity, SUM(value) AS value FROM (SELECT article_id, quantity, value FROM stock_left UNION ALL SELECT article_id, -quantity, -value FROM stock_moves WHERE day > @asof ) GROUP BY article_id) s ON s.article_id = a.id",
		id:      "a.id",
		sort:    "code",
		sorts:   map[string]string{"code": "a.code COLLATE NOCASE", "name": "a.name COLLATE NOCASE", "quantity": "COALESCE(s.quantity, 0)", "value": "COALESCE(s.value, 0)"},
		sums:    []string{"COALESCE(s.value, 0)"},
		named:   []any{asOf(at)},
	}
	l.filter("a.stocked = 1 OR s.quantity <> 0")
	l.filter("a.inactive = 0 OR s.quantity <> 0")
	if search != "" {
		l.contains(search, "a.code", "a.name")
	}
	return fetch[StockRow](r, l, q)
}

// StockMoveRow is a move of an article with what was there after it.
type StockMoveRow struct {
	ID       int64
	Day      day.Day
	PaperID  int64
	Kind     string
	Number   string
	Party    string
	Title    string
	Quantity posting.Millionths
	Value    money.Amount
	There    posting.Millionths
	Worth    money.Amount
	Serials  string
}

// MovesOfArticle returns the moves of an article through a day, the newest
// first, at most so many.
func (r Reader) MovesOfArticle(articleID int64, at day.Day, most int) ([]StockMoveRow, error) {
	return scan[StockMoveRow](r, `SELECT m.id, m.day, m.paper_id, p.kind, p.number, p.party_name AS party, p.title, m.quantity, m.value,
		SUM(m.quantity) OVER (ORDER BY m.day, m.id) AS there, SUM(m.value) OVER (ORDER BY m.day, m.id) AS worth,
		COALESCE((SELECT group_concat(s.serial, ', ') FROM stock_serials s WHERE s.move_id = m.id), '') AS serials
		FROM stock_moves m JOIN papers p ON p.id = m.paper_id WHERE m.article_id = ? AND m.day <= ? ORDER BY m.day DESC, m.id DESC LIMIT ?`, articleID, at, most)
}

// SerialsThere returns the numbers of the pieces of an article that are in
// stock.
func (r Reader) SerialsThere(articleID int64) ([]string, error) {
	return scan[string](r, `SELECT s.serial FROM stock_serials s JOIN stock_moves m ON m.id = s.move_id WHERE m.article_id = ? GROUP BY s.serial HAVING SUM(sign(m.quantity)) > 0 ORDER BY s.serial`, articleID)
}
