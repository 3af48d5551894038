package store

import (
	"strings"

	"cleantally/core/day"
	"cleantally/core/ledger"
	"cleantally/core/money"
	"cleantally/core/reporting"
)

// PartyRow is a customer in a list.
type PartyRow struct {
	ID       int64
	Number   string
	Name     string
	Contact  string
	Town     string
	Phone    string
	Email    string
	Jobs     int64
	Owes     money.Amount // receivables
	Overdue  money.Amount
	Held     money.Amount // deposits
	Inactive bool
}

// PartyFilter narrows the list of customers.
type PartyFilter struct {
	Search string
	State  string // owing, overdue, held, inactive; "" for those in use
}

// Customers returns customers with what they owe. Its sums are of owes,
// overdue and held.
func (r Reader) Customers(f PartyFilter, q Query, today day.Day) (Page[PartyRow], error) {
	l := listing{
		columns: `p.id, p.number, p.name, p.contact, p.town, p.phone, p.email, p.inactive, (SELECT COUNT(*) FROM jobs j WHERE j.party_id = p.id) AS jobs,
			COALESCE(s.owes, 0) AS owes, COALESCE(s.overdue, 0) AS overdue, COALESCE(s.held, 0) AS held`,
		from: `parties p LEFT JOIN (SELECT party_id, SUM(CASE WHEN register = 'receivables' THEN open ELSE 0 END) AS owes,
			SUM(CASE WHEN register = 'receivables' AND open > 0 AND due < '` + string(today) + `' THEN open ELSE 0 END) AS overdue,
			-SUM(CASE WHEN register = 'deposits' THEN open ELSE 0 END) AS held
			FROM open_items WHERE open <> 0 GROUP BY party_id) s ON s.party_id = p.id`,
		id:   "p.id",
		sort: "name",
		sorts: map[string]string{"name": "p.name COLLATE NOCASE", "number": "p.number", "town": "p.town", "contact": "p.contact", "phone": "p.phone", "email": "p.email",
			"owes": "COALESCE(s.owes, 0)", "overdue": "COALESCE(s.overdue, 0)", "held": "COALESCE(s.held, 0)",
			"jobs": "(SELECT COUNT(*) FROM jobs j WHERE j.party_id = p.id)"},
		sums: []string{"s.owes", "s.overdue", "s.held"},
	}
	l.filter("p.is_customer = 1")
	if f.Search != "" {
		l.contains(f.Search, "p.name", "p.number", "p.town", "p.phone", "p.contact", "p.email")
	}
	switch f.State {
	case "owing":
		l.filter("s.owes > 0")
	case "overdue":
		l.filter("s.overdue > 0")
	case "held":
		l.filter("s.held > 0")
	case "inactive":
		l.filter("p.inactive = 1")
	default:
		l.filter("p.inactive = 0")
	}
	return fetch[PartyRow](r, l, q)
}

// Position returns where a customer stands.
func (r Reader) Position(partyID int64, today day.Day) (reporting.Position, error) {
	p, _, err := one[reporting.Position](r, `SELECT
		COALESCE(SUM(CASE WHEN register = 'receivables' AND open > 0 AND due < ? THEN open END), 0) AS owes_now,
		COALESCE(SUM(CASE WHEN register = 'receivables' AND open > 0 AND due >= ? THEN open END), 0) AS not_yet_due,
		COALESCE(SUM(CASE WHEN register = 'retention' THEN open END), 0) AS keeps_back,
		COALESCE(-SUM(CASE WHEN register = 'deposits' THEN open END), 0) AS held,
		COALESCE(-SUM(CASE WHEN register = 'receivables' AND open < 0 THEN open END), 0) AS unplaced
		FROM open_items WHERE party_id = ? AND open <> 0`, today, today, partyID)
	return p, err
}

// JobRow is a job in a list.
type JobRow struct {
	ID          int64
	Number      string
	Name        string
	PartyID     int64
	Party       string
	Site        string
	ContractSum money.Amount
	Billed      money.Amount // net
	LeftToBill  money.Amount
	Open        money.Amount
	Held        money.Amount
	Closed      bool
}

// JobFilter narrows the list of jobs.
type JobFilter struct {
	Search  string
	State   string // closed, all, held, open; "" for those not closed
	PartyID int64
}

const (
	billedOf = "(SELECT COALESCE(SUM(x.net), 0) FROM papers x WHERE x.job_id = j.id)"
	leftOf   = "MAX(j.contract_sum - " + billedOf + ", 0)"
	jobOpen  = "(SELECT COALESCE(SUM(i.open), 0) FROM open_items i WHERE i.job_id = j.id AND i.open <> 0 AND i.open > 0 AND i.register = 'receivables')"
	jobHeld  = "(SELECT COALESCE(-SUM(i.open), 0) FROM open_items i WHERE i.job_id = j.id AND i.open <> 0 AND i.open < 0 AND i.register = 'deposits')"
)

// Jobs returns jobs with where they stand. Its sums are of contract sum,
// billed, left to bill, open and held.
func (r Reader) Jobs(f JobFilter, q Query) (Page[JobRow], error) {
	l := listing{
		columns: "j.id, j.number, j.name, j.party_id, p.name AS party, j.site, j.contract_sum, j.closed, " + billedOf + " AS billed, " + leftOf + " AS left_to_bill, " + jobOpen + " AS open, " + jobHeld + " AS held",
		from:    "jobs j JOIN parties p ON p.id = j.party_id",
		id:      "j.id",
		sort:    "number", desc: true,
		sorts: map[string]string{"number": "j.number", "name": "j.name COLLATE NOCASE", "party": "p.name COLLATE NOCASE", "site": "j.site", "contractSum": "j.contract_sum",
			"billed": billedOf, "leftToBill": leftOf, "open": jobOpen, "held": jobHeld},
		sums: []string{"j.contract_sum", billedOf, leftOf, jobOpen, jobHeld},
	}
	if f.Search != "" {
		l.contains(f.Search, "j.number", "j.name", "p.name", "j.site")
	}
	if f.PartyID != 0 {
		l.filter("j.party_id = ?", f.PartyID)
	}
	switch f.State {
	case "closed":
		l.filter("j.closed = 1")
	case "held":
		l.filter(jobHeld + " > 0")
	case "open":
		l.filter(jobOpen + " > 0")
	case "all":
	default:
		l.filter("j.closed = 0")
	}
	return fetch[JobRow](r, l, q)
}

// JobPosition returns where a job stands.
func (r Reader) JobPosition(jobID int64) (reporting.JobPosition, error) {
	p, _, err := one[reporting.JobPosition](r, `SELECT j.contract_sum, `+billedOf+` AS billed_net,
		(SELECT COALESCE(SUM(x.total), 0) FROM papers x LEFT JOIN papers o ON o.id = x.reverses_id WHERE x.job_id = j.id AND 'invoice' IN (x.kind, o.kind)) AS billed_gross,
		`+jobOpen+` AS open, `+jobHeld+` AS held,
		(SELECT COALESCE(-SUM(i.open), 0) FROM open_items i WHERE i.job_id = j.id AND i.open <> 0 AND i.open < 0 AND i.register = 'receivables') AS unplaced
		FROM jobs j WHERE j.id = ?`, jobID)
	return p, err
}

// story is every paper and everything set against what is owed that is no such
// paper itself (a deposit; on a job, also a receipt of none), in order of
// time, with the states at the end of a day. COLUMN is whose story it is.
const story = `SELECT day, paper_id, number, kind, text, amount, held, item_amount, item_open, reversed_by, due FROM (
	SELECT p.day, p.id AS paper_id, p.number, p.kind, p.title AS text, 0 AS second, p.id AS seq,
		COALESCE((SELECT SUM(i.amount) FROM open_items i WHERE i.paper_id = p.id AND i.register = 'receivables'), 0) AS amount,
		COALESCE((SELECT -SUM(i.amount) FROM open_items i WHERE i.paper_id = p.id AND i.register = 'deposits'), 0) AS held,
		COALESCE((SELECT SUM(i.amount) FROM open_items i WHERE i.paper_id = p.id), 0) AS item_amount,
		COALESCE((SELECT SUM(m.amount) FROM open_items i JOIN item_moves m ON m.item_id = i.id WHERE i.paper_id = p.id AND m.day <= @day), 0) AS item_open,
		COALESCE((SELECT r.number FROM papers r WHERE r.reverses_id = p.id AND r.day <= @day), '') AS reversed_by,
		COALESCE((SELECT MIN(i.due) FROM open_items i WHERE i.paper_id = p.id AND i.amount > 0
			AND (SELECT SUM(m.amount) FROM item_moves m WHERE m.item_id = i.id AND m.day <= @day) > 0), '') AS due
	FROM papers p WHERE p.COLUMN = @id AND p.day <= @day
	UNION ALL
	SELECT a.day, cp.id, cp.number, CASE WHEN a.undoes IS NULL THEN 'set against' ELSE 'undone' END, dp.number, 1, a.id,
		CASE WHEN a.undoes IS NULL THEN -a.amount ELSE a.amount END,
		CASE WHEN d.register = c.register THEN 0 WHEN a.undoes IS NULL THEN -a.amount ELSE a.amount END, 0, 0, '', ''
	FROM allocations a JOIN open_items d ON d.id = a.debit_id JOIN open_items c ON c.id = a.credit_id
	JOIN papers dp ON dp.id = d.paper_id JOIN papers cp ON cp.id = c.paper_id
	WHERE (d.register <> c.register OR d.COLUMN IS NOT c.COLUMN) AND a.party_id = @party AND d.COLUMN = @id AND a.day <= @day)
	ORDER BY day, second, seq`

// HappeningRow is a happening with what its state is worked out from.
type HappeningRow struct {
	reporting.Happening
	ItemAmount money.Amount
	ItemOpen   money.Amount
	ReversedBy string
	Due        day.Day
}

// PartyStory returns what happened with a customer through a day.
func (r Reader) PartyStory(partyID int64, through day.Day) ([]HappeningRow, error) {
	return r.story("party_id", partyID, partyID, through)
}

// JobStory returns what happened on a job of a customer through a day.
func (r Reader) JobStory(jobID, partyID int64, through day.Day) ([]HappeningRow, error) {
	return r.story("job_id", jobID, partyID, through)
}

func (r Reader) story(column string, id, partyID int64, through day.Day) ([]HappeningRow, error) {
	return scan[HappeningRow](r, strings.ReplaceAll(story, "COLUMN", column), map[string]any{"id": id, "party": partyID, "day": through})
}

// HeldOn returns the deposits held for a customer at the end of a day.
func (r Reader) HeldOn(partyID int64, d day.Day) (money.Amount, error) {
	v, _, err := one[money.Amount](r, `SELECT COALESCE(-SUM(m.amount), 0) FROM open_items i JOIN item_moves m ON m.item_id = i.id
		WHERE i.party_id = ? AND i.register = ? AND m.day <= ?`, partyID, ledger.Deposits, d)
	return v, err
}
