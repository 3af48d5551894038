package store

import (
	"fmt"

	"cleantally/core/money"
)

// A Told is one table of the books as it is taken along: plain names in the place
// of IDs, amounts as decimals.
type Told struct {
	File  string // its name
	About string // what it holds
	query string
	money map[int]bool // its columns that are amounts
	parts map[int]bool // and those in millionths
	own   map[int]int  // and those in another currency, each with the column of its code
}

// told are the tables that are taken along when a firm leaves, in the order in
// which one would read them.
var told = []Told{
	{"papers.csv", "every posted paper: drafts are not part of the books", `SELECT p.number AS "number", p.kind AS "kind", p.day AS "day", COALESCE(b.due, '') AS "due", COALESCE(NULLIF(b.supplied, ''), '') AS "supplied", p.party_name AS "name", COALESCE(j.number, '') AS "job", p.title AS "title", p.reference AS "reference", p.note AS "note",
		p.reason AS "reason", COALESCE(b.net, 0) AS "net", COALESCE(b.tax, 0) AS "tax", p.total AS "total", COALESCE(r.number, '') AS "takes back", COALESCE(y.method, '') AS "method", COALESCE(k.name, '') AS "bank account", p.id AS "id", COALESCE(p.currency, '') AS "currency", COALESCE(p.rate, '') AS "rate", p.own_total AS "total in it"
		FROM papers p LEFT JOIN paper_billing b ON b.paper_id = p.id LEFT JOIN paper_payment y ON y.paper_id = p.id LEFT JOIN bank_accounts k ON k.id = y.bank_account_id LEFT JOIN jobs j ON j.id = p.job_id LEFT JOIN papers r ON r.id = p.reverses_id ORDER BY p.id`, columns(11, 12, 13), nil, map[int]int{20: 18}},
	{"paper-lines.csv", "the lines of papers, net of the paper's discount", `SELECT p.number AS "paper", p.kind AS "kind", l.position AS "line", l.text AS "text", l.quantity AS "quantity", l.unit AS "unit", l.unit_price AS "unit price", COALESCE(t.code, '') AS "tax code", l.tax_percent AS "tax percent", COALESCE(a.number, '') AS "account", l.net AS "net", l.tax AS "tax", COALESCE(p.currency, '') AS "currency", l.own_net AS "net in it", l.own_tax AS "tax in it"
		FROM paper_lines l JOIN papers p ON p.id = l.paper_id LEFT JOIN tax_codes t ON t.id = l.tax_code_id LEFT JOIN accounts a ON a.id = l.account_id ORDER BY l.paper_id, l.position`, columns(10, 11), nil, map[int]int{13: 12, 14: 12}},
	{"journal.csv", "every entry of the journal, a line a row: debits above nil, credits below", `SELECT e.id AS "entry", e.day AS "day", e.text AS "text", p.number AS "paper", a.number AS "account", a.name AS "account name", l.amount AS "amount", COALESCE(c.name, '') AS "name", COALESCE(j.number, '') AS "job", COALESCE(t.code, '') AS "tax code", COALESCE(l.currency, '') AS "currency", l.own_amount AS "amount in it"
		FROM entry_lines l JOIN entries e ON e.id = l.entry_id JOIN papers p ON p.id = e.paper_id JOIN accounts a ON a.id = l.account_id LEFT JOIN parties c ON c.id = l.party_id LEFT JOIN jobs j ON j.id = l.job_id LEFT JOIN tax_codes t ON t.id = l.tax_code_id ORDER BY e.day, e.id, l.id`, columns(6), nil, map[int]int{11: 10}},
	{"items.csv", "every open or settled item: what stands on a control account, debits above nil", `SELECT i.id AS "item", i.register AS "register", i.nature AS "nature", p.number AS "paper", COALESCE(c.name, '') AS "name", COALESCE(j.number, '') AS "job", i.day AS "day", i.due AS "due", i.amount AS "amount", i.tax AS "tax inside", i.open AS "open", COALESCE(i.currency, '') AS "currency", i.own_amount AS "amount in it", i.own_open AS "open in it"
		FROM open_items i JOIN papers p ON p.id = i.paper_id LEFT JOIN parties c ON c.id = i.party_id LEFT JOIN jobs j ON j.id = i.job_id ORDER BY i.id`, columns(8, 9, 10), nil, map[int]int{12: 11, 13: 11}},
	{"item-moves.csv", "how each item came to what is open of it, move by move", `SELECT m.item_id AS "item", m.day AS "day", m.amount AS "amount", m.tax AS "tax inside", COALESCE(m.allocation_id, '') AS "allocation", COALESCE(i.currency, '') AS "currency", m.own_amount AS "amount in it" FROM item_moves m JOIN open_items i ON i.id = m.item_id ORDER BY m.item_id, m.id`, columns(2, 3), nil, map[int]int{6: 5}},
	{"allocations.csv", "what was set against what; one that undoes another names it", `SELECT l.id AS "allocation", l.day AS "day", l.debit_id AS "debit item", l.credit_id AS "credit item", l.amount AS "amount", COALESCE(l.undoes, '') AS "undoes", COALESCE(d.currency, '') AS "currency" FROM allocations l JOIN open_items d ON d.id = l.debit_id ORDER BY l.id`, nil, nil, map[int]int{4: 6}},
	{"uses.csv", "what of a paper's lines later papers used up", `SELECT p.number AS "of paper", u.of_position AS "line", u.as_kind AS "used as", u.day AS "day", b.number AS "by paper", u.quantity AS "quantity", u.amount AS "amount", u.tax AS "tax inside" FROM uses u JOIN papers p ON p.id = u.of_paper_id JOIN papers b ON b.id = u.paper_id ORDER BY u.id`, columns(6, 7), columns(5), nil},
	{"stock-moves.csv", "what came into stock and left it", `SELECT a.code AS "article", m.day AS "day", p.number AS "paper", m.quantity AS "quantity", m.value AS "value" FROM stock_moves m JOIN articles a ON a.id = m.article_id JOIN papers p ON p.id = m.paper_id ORDER BY m.id`, columns(4), columns(3), nil},
	{"bank-lines.csv", "what the banks said, line by line", `SELECT k.name AS "bank account", l.day AS "day", l.amount AS "amount", l.text AS "text", l.reference AS "reference", l.other_name AS "other side", l.other_account AS "its account", k.currency AS "currency" FROM bank_lines l JOIN bank_accounts k ON k.id = l.bank_account_id ORDER BY l.bank_account_id, l.day, l.id`, nil, nil, map[int]int{2: 7}},
	{"rates.csv", "what one unit of a currency was worth in the firm's", `SELECT currency AS "currency", day AS "day", rate AS "rate", source AS "from" FROM rates ORDER BY currency, day`, nil, nil, nil},
	{"audit.csv", "who did what, when", `SELECT a.id AS "act", a.at AS "when (UTC)", COALESCE(u.name, '') AS "who", a.summary AS "what" FROM acts a LEFT JOIN users u ON u.id = a.user_id ORDER BY a.id`, nil, nil, nil},
}

func columns(all ...int) map[int]bool {
	set := map[int]bool{}
	for _, n := range all {
		set[n] = true
	}
	return set
}

// TablesTold returns the tables that are taken along.
func TablesTold() []Told { return told }

// Tell calls f with the names of a table's columns, and then with each of its
// rows.
func (r Reader) Tell(t Told, cur money.Currency, f func(cells []string) error) error {
	rows, err := r.db.Raw(t.query).Rows()
	if err != nil {
		return err
	}
	defer rows.Close()
	names, err := rows.Columns()
	if err != nil {
		return err
	}
	if err := f(names); err != nil {
		return err
	}
	values, to := make([]any, len(names)), make([]any, len(names))
	for n := range values {
		to[n] = &values[n]
	}
	cells := make([]string, len(names))
	for rows.Next() {
		if err := rows.Scan(to...); err != nil {
			return err
		}
		for n, v := range values {
			code, own := t.own[n]
			switch number, ok := v.(int64); {
			case v == nil:
				cells[n] = ""
			case ok && t.money[n]:
				cells[n] = cur.Format(money.Amount(number))
			case ok && own: // the firm's own is told by no code
				cells[n] = cur.In(fmt.Sprint(values[code])).Format(money.Amount(number))
			case ok && t.parts[n]:
				cells[n] = fmt.Sprintf("%g", float64(number)/1e6)
			default:
				cells[n] = fmt.Sprint(v)
			}
		}
		if err := f(cells); err != nil {
			return err
		}
	}
	return rows.Err()
}

// PaperIDs returns every posted paper, the first first.
func (r Reader) PaperIDs() ([]int64, error) {
	return scan[int64](r, "SELECT id FROM papers ORDER BY id")
}

// AllAttached returns what is attached to papers, customers and jobs, with where.
func (r Reader) AllAttached() ([]AttachedFile, error) {
	return scan[AttachedFile](r, `SELECT a.id, a.name, COALESCE(p.number, c.name, j.number, '') AS "to" FROM attachments a LEFT JOIN papers p ON p.id = a.paper_id LEFT JOIN parties c ON c.id = a.party_id LEFT JOIN jobs j ON j.id = a.job_id
		WHERE a.draft_id IS NULL OR a.draft_id = 0 ORDER BY a.id`)
}

// AttachedFile is a file with what it is attached to.
type AttachedFile struct {
	ID   int64
	Name string
	To   string
}
