package store

import (
	"cleantally/core/day"
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
	KeptBack money.Amount // retention
	Unplaced money.Amount // credits not placed
	Inactive bool
	Supplier bool
}

// PartyFilter narrows the list of customers.
type PartyFilter struct {
	Search string
	State  string // owing, overdue, held, inactive; "" for those in use

	Suppliers bool // suppliers in place of customers
}

// Customers returns customers with what they owed at the end of a day. Its sums
// are of owes, overdue, held, kept back and not placed.
func (r Reader) Customers(f PartyFilter, q Query, asOf day.Day) (Page[PartyRow], error) {
	open, err := r.openAt(asOf)
	if err != nil {
		return Page[PartyRow]{}, err
	}
	l := listing{
		columns: `p.id, p.number, p.name, p.contact, p.town, p.phone, p.email, p.inactive, p.is_supplier AS supplier, (SELECT COUNT(*) FROM jobs j WHERE j.party_id = p.id) AS jobs,
			COALESCE(s.owes, 0) AS owes, COALESCE(s.overdue, 0) AS overdue, COALESCE(s.held, 0) AS held,
			COALESCE(s.kept_back, 0) AS kept_back, COALESCE(s.unplaced, 0) AS unplaced`,
		from: `parties p LEFT JOIN (SELECT party_id, SUM(CASE WHEN register = 'receivables' THEN open ELSE 0 END) AS owes,
			SUM(CASE WHEN register = 'receivables' AND open > 0 AND due < '` + string(asOf) + `' THEN open ELSE 0 END) AS overdue,
			-SUM(CASE WHEN register = 'deposits' THEN open ELSE 0 END) AS held,
			SUM(CASE WHEN register = 'retention' THEN open ELSE 0 END) AS kept_back, -SUM(CASE WHEN register = 'receivables' AND open < 0 THEN open ELSE 0 END) AS unplaced
			FROM ` + open + ` GROUP BY +party_id) s ON s.party_id = p.id`,
		id:   "p.id",
		sort: "name",
		sorts: map[string]string{"name": "p.name COLLATE NOCASE", "number": "p.number", "town": "p.town", "contact": "p.contact", "phone": "p.phone", "email": "p.email",
			"owes": "COALESCE(s.owes, 0)", "overdue": "COALESCE(s.overdue, 0)", "held": "COALESCE(s.held, 0)", "keptBack": "COALESCE(s.kept_back, 0)", "unplaced": "COALESCE(s.unplaced, 0)",
			"jobs": "(SELECT COUNT(*) FROM jobs j WHERE j.party_id = p.id)"},
		sums: []string{"s.owes", "s.overdue", "s.held", "s.kept_back", "s.unplaced"},
	}
	if f.Suppliers {
		l.filter("p.is_supplier = 1")
	} else {
		l.filter("p.is_customer = 1")
	}
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

// Position returns where a customer stood at the end of a day.
func (r Reader) Position(partyID int64, asOf day.Day) (reporting.Position, error) {
	open, err := r.openOf("party_id", partyID, asOf)
	if err != nil {
		return reporting.Position{}, err
	}
	p, _, err := one[reporting.Position](r, `SELECT
		COALESCE(SUM(CASE WHEN register = 'receivables' AND open > 0 AND due < @day THEN open END), 0) AS owes_now,
		COALESCE(SUM(CASE WHEN register = 'receivables' AND open > 0 AND due >= @day THEN open END), 0) AS not_yet_due,
		COALESCE(SUM(CASE WHEN register = 'receivables' AND open > 0 AND id IN (SELECT item_id FROM disputes) AND `+disputed(asOf)+` THEN open END), 0) AS disputed,
		COALESCE(SUM(CASE WHEN register = 'retention' THEN open END), 0) AS keeps_back,
		COALESCE(-SUM(CASE WHEN register = 'deposits' THEN open END), 0) AS held,
		COALESCE(-SUM(CASE WHEN register = 'receivables' AND open < 0 THEN open END), 0) AS unplaced,
		COALESCE(-SUM(CASE WHEN register = 'payables' THEN open END), 0) AS we_owe
		FROM `+open+` i`, map[string]any{"day": asOf})
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

// jobSums are the sums of a job j at the end of a day, in SQL: billed net,
// left to bill, open, held, credits not placed, given up.
type jobSums struct{ billed, left, open, held, unplaced, lost string }

func (r Reader) jobSums(asOf day.Day) (jobSums, error) {
	moved, err := r.movedAfter(asOf)
	item := func(sign, register, side string) string {
		amount, past := "i.open", ""
		if moved {
			amount = "(SELECT COALESCE(SUM(m.amount), 0) FROM item_moves m WHERE m.item_id = i.id AND m.day <= '" + string(asOf) + "')"
		} else {
			past = "AND i.open <> 0 "
		}
		return "(SELECT COALESCE(" + sign + "SUM(" + amount + "), 0) FROM open_items i WHERE i.job_id = j.id " + past + "AND i.amount " + side + " 0 AND i.register = '" + register + "')"
	}
	billed := "(SELECT COALESCE(SUM(x.net), 0) FROM papers x WHERE x.job_id = j.id AND x.day <= '" + string(asOf) + "')"
	return jobSums{billed, "MAX(j.contract_sum - " + billed + ", 0)", item("", "receivables", ">"), item("-", "deposits", "<"), item("-", "receivables", "<"),
		`(SELECT COALESCE(SUM(CASE WHEN a.undoes IS NULL THEN a.amount ELSE -a.amount END), 0) FROM open_items i JOIN allocations a ON a.debit_id = i.id JOIN open_items c ON c.id = a.credit_id
			WHERE i.job_id = j.id AND c.nature = 'write-off' AND a.day <= '` + string(asOf) + `')`}, err
}

// Jobs returns jobs with where they stand. Its sums are of contract sum,
// billed, left to bill, open and held.
func (r Reader) Jobs(f JobFilter, q Query, asOf day.Day) (Page[JobRow], error) {
	of, err := r.jobSums(asOf)
	if err != nil {
		return Page[JobRow]{}, err
	}
	l := listing{
		columns: "j.id, j.number, j.name, j.party_id, p.name AS party, j.site, j.contract_sum, j.closed, " + of.billed + " AS billed, " + of.left + " AS left_to_bill, " + of.open + " AS open, " + of.held + " AS held",
		from:    "jobs j JOIN parties p ON p.id = j.party_id",
		id:      "j.id",
		sort:    "number", desc: true,
		sorts: map[string]string{"number": "j.number", "name": "j.name COLLATE NOCASE", "party": "p.name COLLATE NOCASE", "site": "j.site", "contractSum": "j.contract_sum",
			"billed": of.billed, "leftToBill": of.left, "open": of.open, "held": of.held},
		sums: []string{"j.contract_sum", of.billed, of.left, of.open, of.held},
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
		l.filter(of.held + " > 0")
	case "open":
		l.filter(of.open + " > 0")
	case "all":
	default:
		l.filter("j.closed = 0")
	}
	return fetch[JobRow](r, l, q)
}

// JobPosition returns where a job stood at the end of a day.
func (r Reader) JobPosition(jobID int64, asOf day.Day) (reporting.JobPosition, error) {
	of, err := r.jobSums(asOf)
	if err != nil {
		return reporting.JobPosition{}, err
	}
	p, _, err := one[reporting.JobPosition](r, `SELECT j.contract_sum, `+of.billed+` AS billed_net,
		(SELECT COALESCE(SUM(x.total), 0) FROM papers x LEFT JOIN papers o ON o.id = x.reverses_id WHERE x.job_id = j.id AND 'invoice' IN (x.kind, o.kind) AND x.day <= '`+string(asOf)+`') AS billed_gross,
		`+of.open+` AS open, `+of.held+` AS held, `+of.unplaced+` AS unplaced, `+of.lost+` AS lost FROM jobs j WHERE j.id = ?`, jobID)
	return p, err
}
