package store

import (
	"cleantally/core/day"
	"cleantally/core/money"
)

// LooseEnd is something that was begun and is not finished.
type LooseEnd struct {
	Group   string // what to do next: "deposit", "on account", "overdue"
	ItemID  int64
	PaperID int64
	Number  string
	PartyID int64
	Party   string
	JobID   int64
	Job     string
	Title   string
	Invoice string // the invoice that is there, for a deposit
	Day     day.Day
	Due     day.Day
	Open    money.Amount // above nil
	Owes    money.Amount // what the customer owes, open, when money is on account
}

const looseEndJoins = ` JOIN papers p ON p.id = i.paper_id LEFT JOIN parties c ON c.id = i.party_id LEFT JOIN jobs j ON j.id = i.job_id `

const looseEndColumns = `i.id AS item_id, i.paper_id, p.number, i.party_id, c.name AS party, i.job_id, COALESCE(j.number, '') AS job, p.title, i.day, i.due, abs(i.open) AS open`

// DepositsWithInvoice returns deposits whose customer has an open invoice: of
// the same job where the deposit has one.
func (r Reader) DepositsWithInvoice(limit int) ([]LooseEnd, error) {
	return scan[LooseEnd](r, `SELECT 'deposit' AS "group", `+looseEndColumns+`, (SELECT v.number FROM open_items d JOIN papers v ON v.id = d.paper_id
			WHERE d.register = 'receivables' AND d.party_id = i.party_id AND d.open <> 0 AND d.open > 0 AND (i.job_id IS NULL OR d.job_id = i.job_id) ORDER BY d.due LIMIT 1) AS invoice
		FROM open_items i`+looseEndJoins+`WHERE i.register = 'deposits' AND i.open <> 0 AND i.open < 0 AND invoice IS NOT NULL ORDER BY i.day, i.id LIMIT ?`, limit)
}

// OnAccount returns credits in receivables that are not placed.
func (r Reader) OnAccount(limit int) ([]LooseEnd, error) {
	return scan[LooseEnd](r, `SELECT 'on account' AS "group", `+looseEndColumns+`, COALESCE((SELECT SUM(d.open) FROM open_items d
			WHERE d.register = 'receivables' AND d.party_id = i.party_id AND d.open <> 0 AND d.open > 0), 0) AS owes
		FROM open_items i`+looseEndJoins+`WHERE i.register = 'receivables' AND i.open <> 0 AND i.open < 0 ORDER BY i.day, i.id LIMIT ?`, limit)
}

// Overdue returns what is open past its due day, the oldest first.
func (r Reader) Overdue(today day.Day, limit int) ([]LooseEnd, error) {
	return scan[LooseEnd](r, `SELECT 'overdue' AS "group", `+looseEndColumns+`
		FROM (SELECT * FROM open_items WHERE register = 'receivables' AND open <> 0 AND open > 0 AND due < ? ORDER BY due, id LIMIT ?) i`+looseEndJoins+`ORDER BY i.due, i.id`, today, limit)
}

// LooseEndCounts is how many of each kind there are.
type LooseEndCounts struct {
	Drafts    int64
	Deposits  int64
	OnAccount int64
	Overdue   int64
}

// CountLooseEnds counts what the desk lists.
func (r Reader) CountLooseEnds(today day.Day) (LooseEndCounts, error) {
	c, _, err := one[LooseEndCounts](r, `SELECT (SELECT COUNT(*) FROM drafts) AS drafts,
		(SELECT COUNT(*) FROM open_items i WHERE i.register = 'deposits' AND i.open <> 0 AND i.open < 0 AND EXISTS (SELECT 1 FROM open_items d
			WHERE d.register = 'receivables' AND d.party_id = i.party_id AND d.open <> 0 AND d.open > 0 AND (i.job_id IS NULL OR d.job_id = i.job_id))) AS deposits,
		(SELECT COUNT(*) FROM open_items i WHERE i.register = 'receivables' AND i.open <> 0 AND i.open < 0) AS on_account,
		(SELECT COUNT(*) FROM open_items i WHERE i.register = 'receivables' AND i.open <> 0 AND i.open > 0 AND i.due < ?) AS overdue`, today)
	return c, err
}

// Found is one answer of the search.
type Found struct {
	Kind   string // customer, job, paper, account
	ID     int64
	Name   string
	Detail string
	Amount *money.Amount
}

// Search finds customers, jobs, papers and accounts by any part of what they
// are known by; what begins with the text comes first.
func (r Reader) Search(text string, amount *money.Amount, limit int) ([]Found, error) {
	like := pattern(text)
	starts := like[1:]
	total := money.Amount(-1)
	if amount != nil {
		total = amount.Abs()
	}
	return scan[Found](r, `SELECT kind, id, name, detail, amount FROM (
		SELECT * FROM (SELECT 'customer' AS kind, id, name, trim(number || ' · ' || town, ' ·') AS detail, NULL AS amount,
			CASE WHEN name LIKE @starts ESCAPE '\' OR number LIKE @starts ESCAPE '\' THEN 0 WHEN name LIKE '% ' || @starts ESCAPE '\' THEN 1 ELSE 2 END AS rank FROM parties
			WHERE inactive = 0 AND (name LIKE @like ESCAPE '\' OR number LIKE @like ESCAPE '\' OR town LIKE @like ESCAPE '\' OR phone LIKE @like ESCAPE '\' OR contact LIKE @like ESCAPE '\') ORDER BY rank, name LIMIT @limit)
		UNION ALL SELECT * FROM (SELECT 'job', j.id, j.number || ' ' || j.name, c.name, NULL,
			CASE WHEN j.number LIKE @starts ESCAPE '\' OR j.name LIKE @starts ESCAPE '\' THEN 0 ELSE 2 END AS rank FROM jobs j JOIN parties c ON c.id = j.party_id
			WHERE j.number LIKE @like ESCAPE '\' OR j.name LIKE @like ESCAPE '\' OR j.site LIKE @like ESCAPE '\' ORDER BY rank, j.id DESC LIMIT @limit)
		UNION ALL SELECT * FROM (SELECT 'paper', id, number, party_name || ' · ' || title, total,
			CASE WHEN number LIKE @starts ESCAPE '\' OR abs(total) = @total THEN 0 ELSE 2 END AS rank FROM papers
			WHERE number LIKE @like ESCAPE '\' OR reference LIKE @like ESCAPE '\' OR abs(total) = @total ORDER BY rank, day DESC LIMIT @limit)
		UNION ALL SELECT * FROM (SELECT 'account', id, number || ' ' || name, type, NULL,
			CASE WHEN number LIKE @starts ESCAPE '\' OR name LIKE @starts ESCAPE '\' THEN 0 ELSE 2 END AS rank FROM accounts
			WHERE number LIKE @like ESCAPE '\' OR name LIKE @like ESCAPE '\' ORDER BY rank, number LIMIT @limit))
		ORDER BY rank LIMIT @limit`, map[string]any{"starts": starts, "like": like, "limit": limit, "total": total})
}

// NothingPosted tells whether the books are still empty.
func (r Reader) NothingPosted() (bool, error) {
	_, some, err := one[int64](r, "SELECT id FROM papers LIMIT 1")
	return !some, err
}
