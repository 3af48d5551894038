package store

import (
	"strings"

	"cleantally/core/day"
	"cleantally/core/ledger"
	"cleantally/core/money"
	"cleantally/core/posting"
)

// PaperRow is a posted paper in a list. Amount and Open are of its open items:
// above nil for what is owed, below nil for what can settle it.
type PaperRow struct {
	ID         int64
	Kind       posting.Kind
	Number     string
	Day        day.Day
	Due        day.Day // the earliest that is still open
	PartyID    int64
	Party      string
	JobID      int64
	Job        string
	Title      string
	Reference  string
	Total      money.Amount
	Amount     money.Amount
	Open       money.Amount
	ReversedBy string
}

// PaperFilter narrows the list of papers. Empty fields do not.
type PaperFilter struct {
	Search  string
	Amount  *money.Amount // what Search says, when it reads as an amount
	Kind    posting.Kind
	State   string // open, settled, overdue, reversed
	PartyID int64
	JobID   int64
	From    day.Day
	To      day.Day
}

const openOf = "(SELECT COALESCE(SUM(i.open), 0) FROM open_items i WHERE i.paper_id = p.id)"

const paperColumns = `p.id, p.kind, p.number, p.day, p.party_id, p.party_name AS party, p.job_id, COALESCE(j.number, '') AS job, p.title, p.reference, p.total,
	COALESCE((SELECT MIN(i.due) FROM open_items i WHERE i.paper_id = p.id AND i.open <> 0), p.due) AS due,
	(SELECT COALESCE(SUM(i.amount), 0) FROM open_items i WHERE i.paper_id = p.id) AS amount, ` + openOf + ` AS open,
	COALESCE((SELECT r.number FROM papers r WHERE r.reverses_id = p.id), '') AS reversed_by`

func papers() listing {
	return listing{
		columns: paperColumns,
		from:    "papers p LEFT JOIN jobs j ON j.id = p.job_id",
		id:      "p.id",
		sort:    "day", desc: true,
		sorts: map[string]string{"day": "p.day", "number": "p.number", "kind": "p.kind", "party": "p.party_name", "job": "COALESCE(j.number, '')",
			"title": "p.title", "reference": "p.reference", "total": "p.total", "open": openOf, "due": "p.due"},
		sums: []string{"p.total"},
	}
}

// Papers returns posted papers of every kind. Its one sum is of their totals.
func (r Reader) Papers(f PaperFilter, q Query, today day.Day) (Page[PaperRow], error) {
	l := papers()
	if f.Search != "" && f.Amount != nil {
		l.filter("instr(p.search, ?) OR abs(p.total) = ?", strings.ToLower(f.Search), f.Amount.Abs())
	} else if f.Search != "" {
		l.filter("instr(p.search, ?)", strings.ToLower(f.Search))
	}
	if f.Kind != "" {
		l.filter("p.kind = ?", f.Kind)
	}
	if f.PartyID != 0 {
		l.filter("p.party_id = ?", f.PartyID)
	}
	if f.JobID != 0 {
		l.filter("p.job_id = ?", f.JobID)
	}
	if f.From != "" {
		l.filter("p.day >= ?", f.From)
	}
	if f.To != "" {
		l.filter("p.day <= ?", f.To)
	}
	switch f.State {
	case "open":
		l.filter("p.id IN (SELECT i.paper_id FROM open_items i WHERE i.open <> 0)")
	case "overdue":
		l.filter("p.id IN (SELECT i.paper_id FROM open_items i WHERE i.open <> 0 AND i.open > 0 AND i.register = 'receivables' AND i.due < ?)", today)
	case "settled":
		l.filter("p.id NOT IN (SELECT i.paper_id FROM open_items i WHERE i.open <> 0) AND p.kind <> 'reversal' AND p.id NOT IN (SELECT r.reverses_id FROM papers r WHERE r.reverses_id IS NOT NULL)")
	case "reversed":
		l.filter("p.kind = 'reversal' OR p.id IN (SELECT r.reverses_id FROM papers r WHERE r.reverses_id IS NOT NULL)")
	}
	return fetch[PaperRow](r, l, q)
}

// PaperRow returns one paper as a list shows it.
func (r Reader) PaperRow(id int64) (PaperRow, bool, error) {
	return one[PaperRow](r, "SELECT "+paperColumns+" FROM papers p LEFT JOIN jobs j ON j.id = p.job_id WHERE p.id = ?", id)
}

// Paper returns a posted paper with its lines.
func (r Reader) Paper(id int64) (posting.Paper, bool, error) {
	f := &Facts{r: r}
	p, ok := f.Paper(id)
	return p, ok, f.err
}

// ItemsOf returns the open items that a paper made.
func (r Reader) ItemsOf(paperID int64) ([]posting.Item, error) {
	f := &Facts{r: r}
	return f.PaperItems(paperID), f.err
}

// EntryLine is a line of the journal with the names of what it bears.
type EntryLine struct {
	EntryID int64
	PaperID int64
	Paper   string
	Kind    posting.Kind
	Day     day.Day
	Text    string
	At      string // when it was recorded
	ledger.Line
	Account  string // number and name
	Party    string
	Job      string
	TaxCode  string
	FromAllo bool
}

const selectLines = `SELECT e.id AS entry_id, e.paper_id, p.number AS paper, p.kind, e.day, e.text, l.account_id, l.amount, l.party_id, l.job_id, l.tax_code_id,
	a.number || ' ' || a.name AS account, COALESCE(c.name, '') AS party, COALESCE(j.number, '') AS job, COALESCE(t.code, '') AS tax_code,
	e.allocation_id IS NOT NULL AS from_allo
	FROM entries e JOIN entry_lines l ON l.entry_id = e.id JOIN papers p ON p.id = e.paper_id JOIN accounts a ON a.id = l.account_id
	LEFT JOIN parties c ON c.id = l.party_id LEFT JOIN jobs j ON j.id = l.job_id LEFT JOIN tax_codes t ON t.id = l.tax_code_id `

// allocationsOf is a subquery of the allocations of a paper's items.
const allocationsOf = `SELECT x.id FROM open_items i JOIN allocations x ON x.debit_id = i.id WHERE i.paper_id = @paper
	UNION SELECT x.id FROM open_items i JOIN allocations x ON x.credit_id = i.id WHERE i.paper_id = @paper`

// EntriesOf returns the journal lines that a paper made, its allocations' with
// the credit included.
func (r Reader) EntriesOf(paperID int64) ([]EntryLine, error) {
	return scan[EntryLine](r, selectLines+`WHERE e.id IN (SELECT id FROM entries WHERE paper_id = @paper
		UNION SELECT own.id FROM entries own WHERE own.allocation_id IN (`+allocationsOf+`)) ORDER BY e.day, e.id, l.id`, map[string]any{"paper": paperID})
}

// AllocationRow is an allocation with the papers on both sides.
type AllocationRow struct {
	ID         int64
	Day        day.Day
	Amount     money.Amount
	DebitItem  int64
	DebitID    int64 // paper
	Debit      string
	DebitDay   day.Day
	DebitKind  posting.Kind
	CreditItem int64
	CreditID   int64 // paper
	Credit     string
	CreditDay  day.Day
	CreditKind posting.Kind
	CreditRef  string
	Undoes     int64
	UndoneOn   day.Day // "" while it stands
}

const selectAllocations = `SELECT a.id, a.day, a.amount, a.debit_id AS debit_item, dp.id AS debit_id, dp.number AS debit, dp.day AS debit_day, dp.kind AS debit_kind,
	a.credit_id AS credit_item, cp.id AS credit_id, cp.number AS credit, cp.day AS credit_day, cp.kind AS credit_kind, cp.reference AS credit_ref,
	a.undoes, COALESCE((SELECT u.day FROM allocations u WHERE u.undoes = a.id), '') AS undone_on
	FROM allocations a JOIN open_items d ON d.id = a.debit_id JOIN papers dp ON dp.id = d.paper_id
	JOIN open_items c ON c.id = a.credit_id JOIN papers cp ON cp.id = c.paper_id `

// AllocationsOf returns every allocation of a paper's items, those undone
// included.
func (r Reader) AllocationsOf(paperID int64) ([]AllocationRow, error) {
	return scan[AllocationRow](r, selectAllocations+`WHERE a.undoes IS NULL AND a.id IN (`+allocationsOf+`) ORDER BY a.day, a.id`, map[string]any{"paper": paperID})
}

// RecentAllocations returns a customer's allocations that stand, the newest
// first, to be undone from the bench.
func (r Reader) RecentAllocations(partyID int64, limit int) ([]AllocationRow, error) {
	return scan[AllocationRow](r, selectAllocations+`WHERE a.party_id = ? AND a.undoes IS NULL AND NOT EXISTS (SELECT 1 FROM allocations u WHERE u.undoes = a.id)
		AND dp.kind <> 'reversal' AND cp.kind <> 'reversal' ORDER BY a.id DESC LIMIT ?`, partyID, limit)
}

// OpenItem is an open item as of a day, with its paper.
type OpenItem struct {
	ID        int64
	Register  ledger.Role
	PaperID   int64
	Kind      posting.Kind
	Number    string
	Part      int
	Title     string
	Reference string
	PartyID   int64
	Party     string
	JobID     int64
	Job       string
	Day       day.Day
	Due       day.Day
	Amount    money.Amount
	Open      money.Amount
}

const openItemColumns = `i.id, i.register, i.paper_id, p.kind, p.number, i.part, p.title, p.reference, i.party_id, COALESCE(c.name, '') AS party, i.job_id,
	COALESCE(j.number, '') AS job, i.day, i.due, i.amount`

const openItemJoins = ` JOIN papers p ON p.id = i.paper_id LEFT JOIN parties c ON c.id = i.party_id LEFT JOIN jobs j ON j.id = i.job_id`

// Bench returns what a customer owes and what can settle it, now, the oldest
// first.
func (r Reader) Bench(partyID int64) ([]OpenItem, error) {
	return scan[OpenItem](r, "SELECT "+openItemColumns+", i.open FROM open_items i"+openItemJoins+`
		WHERE i.register IN ('receivables', 'deposits') AND i.party_id = ? AND i.open <> 0 ORDER BY CASE WHEN i.due = '' THEN i.day ELSE i.due END, i.id`, partyID)
}

// openOn is a subquery of what was open of each item at the end of a day: what
// is open now less what moved since. Its arguments are a register and the day.
const openOn = `(SELECT item_id, SUM(amount) AS open FROM (
	SELECT id AS item_id, open AS amount FROM open_items WHERE register = ? AND open <> 0
	UNION ALL SELECT m.item_id, -m.amount FROM item_moves m JOIN open_items x ON x.id = m.item_id WHERE m.day > ? AND x.register = ?)
	GROUP BY item_id HAVING SUM(amount) <> 0)`

// RegisterOf returns the items of a register that were open at the end of a
// day. Its sums are of the amounts and of what was open.
func (r Reader) RegisterOf(register ledger.Role, asOf day.Day, partyID int64, search string, q Query) (Page[OpenItem], error) {
	l := listing{
		columns: openItemColumns + ", o.open",
		from:    openOn + " o JOIN open_items i ON i.id = o.item_id" + openItemJoins,
		id:      "i.id",
		sort:    "day",
		sorts: map[string]string{"day": "i.day", "due": "i.due", "number": "p.number", "party": "c.name", "job": "COALESCE(j.number, '')",
			"amount": "i.amount", "open": "o.open", "reference": "p.reference"},
		sums: []string{"i.amount", "o.open"},
	}
	moved, err := r.movedAfter(asOf)
	if err != nil {
		return Page[OpenItem]{}, err
	}
	if moved {
		l.source = []any{register, asOf, register}
	} else {
		// Nothing has moved since, so what is kept is what was open.
		l.columns, l.from = openItemColumns+", i.open", "open_items i"+openItemJoins
		l.sorts["open"], l.sums[1] = "i.open", "i.open"
		l.filter("i.register = ? AND i.open <> 0", register)
	}
	if partyID != 0 {
		l.filter("i.party_id = ?", partyID)
	}
	if search != "" {
		l.contains(search, "p.number", "c.name", "p.reference")
	}
	return fetch[OpenItem](r, l, q)
}
