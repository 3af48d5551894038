package store

import (
	"strings"

	"cleantally/core/day"
	"cleantally/core/ledger"
	"cleantally/core/money"
	"cleantally/core/posting"
)

// OpenItem is an open item as of a day, with its paper.
type OpenItem struct {
	ID         int64
	Register   ledger.Role
	PaperID    int64
	Kind       posting.Kind
	Number     string
	Instalment int
	Title      string
	Reference  string
	PartyID    int64
	Party      string
	JobID      int64
	Job        string
	Day        day.Day
	Due        day.Day
	Amount     money.Amount
	Open       money.Amount
	Currency   string       // ISO 4217; "" for the firm's own
	OwnAmount  money.Amount // in it
	OwnOpen    money.Amount
	Nature     posting.Nature
	OpenTax    money.Amount
	EarlyUntil day.Day // of the invoice's early-payment discount
	Disputed   bool
}

// openItemColumns are those of an item i as of @asof, with its paper p, party c
// and job j.
const openItemColumns = `i.id, i.register, i.nature, i.paper_id, p.kind, p.number, i.instalment, p.title, p.reference, i.party_id, COALESCE(c.name, '') AS party, i.job_id,
	COALESCE(j.number, '') AS job, i.day, i.due, i.amount, i.open, ` + ownColumns + `, i.open_tax, COALESCE((SELECT b.early_until FROM paper_billing b WHERE b.paper_id = p.id), '') AS early_until, ` + disputed + ` AS disputed`

const ownColumns = "COALESCE(i.currency, '') AS currency, COALESCE(i.own_amount, i.amount) AS own_amount, COALESCE(i.own_open, i.open) AS own_open"

const openItemJoins = ` LEFT JOIN papers p ON p.id = i.paper_id LEFT JOIN parties c ON c.id = i.party_id LEFT JOIN jobs j ON j.id = i.job_id`

// ItemsNamed returns items by their IDs, as they stand now.
func (r Reader) ItemsNamed(ids []int64, at day.Day) ([]OpenItem, error) {
	return scan[OpenItem](r, `SELECT `+openItemColumns+` FROM open_items i`+openItemJoins+` WHERE i.id IN @ids ORDER BY i.id`, map[string]any{"ids": append([]int64{0}, ids...), "asof": at})
}

// BenchFilter narrows a bench down. What is pinned is there all the same.
type BenchFilter struct {
	AsOf   day.Day
	Search string
	JobID  int64
	Pinned []int64
	Limit  int // items of a side

	Payable bool // what we owe a supplier, in place of what a customer owes
}

// Sides of a bench: what is owed, what can settle it, what is kept back, and, of
// a customer, what we owe.
const (
	Owed = iota
	Credits
	KeptBack
	Owing
)

// BenchItem is an open item on its side of a bench, with how many there are.
type BenchItem struct {
	OpenItem
	Side   int
	OfSide int64
}

// Bench returns what a customer owed and kept back, what could settle it and
// what we owed, at the end of a day, the oldest of each side first.
func (r Reader) Bench(partyID int64, f BenchFilter) ([]BenchItem, error) {
	open, err := r.openOf("party_id", f.AsOf)
	if err != nil {
		return nil, err
	}
	pinned := append([]int64{0}, f.Pinned...)
	side := "CASE i.register WHEN 'payables' THEN 3 WHEN 'retention' THEN 2 ELSE i.open < 0 END"
	registers := "'receivables', 'deposits', 'retention', 'payables'"
	if f.Payable {
		side, registers = "CASE i.register WHEN 'retention payable' THEN 2 ELSE i.open > 0 END", "'payables', 'supplier prepayments', 'retention payable'"
	}
	abroad, err := r.abroad()
	if err != nil {
		return nil, err
	}
	columns, own, ownOpen := openItemColumns, ", o.currency, o.own_amount, x.own_open", ", own_open"
	if !abroad {
		columns, own, ownOpen = strings.Replace(columns, ownColumns+", ", "", 1), "", ""
	}
	// What is not looked for need not be joined before the rows are counted.
	search := ""
	if f.Search != "" {
		search = ` AND (i.id IN @pinned OR EXISTS (SELECT 1 FROM papers p WHERE p.id = i.paper_id AND (p.number LIKE @like ESCAPE '\' OR p.title LIKE @like ESCAPE '\' OR p.reference LIKE @like ESCAPE '\')))`
	}
	rows, err := scan[BenchItem](r, `SELECT `+columns+`, i.side, i.of_side FROM (
		SELECT o.id, o.register, o.nature, o.paper_id, o.instalment, o.party_id, o.job_id, o.day, o.due, o.amount, x.open, x.open_tax, x.side, x.of_side, x.place`+own+` FROM (
			SELECT id, open, open_tax`+ownOpen+`, side, ROW_NUMBER() OVER (PARTITION BY side ORDER BY pin DESC, since, id) AS place, COUNT(*) OVER (PARTITION BY side) AS of_side FROM (
				SELECT i.id, i.open, i.open_tax`+ownOpen+`, `+side+` AS side,
					i.id IN @pinned AS pin, CASE WHEN i.due = '' THEN i.day ELSE i.due END AS since
				FROM `+open+` i WHERE i.register IN (`+registers+`) AND (@job = 0 OR i.job_id = @job OR i.id IN @pinned)`+search+`)) x
		JOIN open_items o ON o.id = x.id WHERE x.place <= @limit) i`+openItemJoins+` ORDER BY i.side, CASE WHEN i.due = '' THEN i.day ELSE i.due END, i.id`,
		map[string]any{"pinned": pinned, "job": f.JobID, "like": pattern(f.Search), "limit": f.Limit, "asof": f.AsOf, "whose": partyID})
	for n := range rows {
		if rows[n].Currency == "" {
			rows[n].OwnAmount, rows[n].OwnOpen = rows[n].Amount, rows[n].Open
		}
	}
	return rows, err
}

// BenchJobs returns the jobs of what is open of a customer.
func (r Reader) BenchJobs(partyID int64) ([]JobRow, error) {
	return scan[JobRow](r, `SELECT id, number, name FROM jobs WHERE id IN (SELECT job_id FROM open_items WHERE party_id = ? AND open <> 0) ORDER BY number`, partyID)
}

// HasCredits tells whether a party has credits that could settle what it owes.
func (r Reader) HasCredits(partyID int64) (bool, error) {
	type found struct{ Found bool }
	rows, err := scan[found](r, `SELECT EXISTS (SELECT 1 FROM open_items WHERE party_id = ? AND open < 0 AND register IN ('receivables', 'deposits')) AS found`, partyID)
	return len(rows) > 0 && rows[0].Found, err
}

// OpenItemsOf returns a customer's open debits, to be settled.
func (r Reader) OpenItemsOf(partyID int64) ([]posting.Item, error) {
	f := &Facts{r: r}
	return f.readItems("open_items", "WHERE i.party_id = ? AND i.open <> 0 AND i.open > 0 AND i.register IN ('receivables', 'retention')", partyID), f.err
}

// RegisterOf returns the items of a register that were open at the end of a
// day. Its sums are of the amounts and of what was open.
func (r Reader) RegisterOf(register ledger.Role, at day.Day, partyID int64, search string, q Query) (Page[OpenItem], error) {
	open, err := r.openAt(at)
	if err != nil {
		return Page[OpenItem]{}, err
	}
	moved, err := r.movedAfter(at)
	if err != nil {
		return Page[OpenItem]{}, err
	}
	if partyID != 0 {
		open = openWhere(moved, "i.party_id = @whose")
	}
	l := listing{
		columns: openItemColumns,
		from:    open + " i" + openItemJoins,
		once:    true,
		few:     func(ids string) string { return openWhere(moved, "i.id IN ("+ids+")") + " i" + openItemJoins },
		id:      "i.id",
		sort:    "day",
		sorts: map[string]string{"day": "i.day", "due": "i.due", "number": "p.number", "party": "c.name", "job": "COALESCE(j.number, '')",
			"amount": "i.amount", "open": "i.open", "reference": "p.reference"},
		sums: []string{"i.amount", "i.open"},
	}
	l.named = []any{asOf(at), whose(partyID)}
	l.filter("i.register = ?", register)
	if search != "" {
		l.contains(search, "p.number", "c.name", "p.reference")
	}
	return fetch[OpenItem](r, l, q)
}
