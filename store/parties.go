package store

import (
	"cmp"
	"slices"

	"cleantally/core/day"
	"cleantally/core/ledger"
	"cleantally/core/master"
	"cleantally/core/money"
	"cleantally/core/reporting"
	"cleantally/core/settling"
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

// PartiesNamed returns the parties with some IDs, by them.
func (r Reader) PartiesNamed(ids []int64) (map[int64]master.Party, error) {
	rows, err := scan[master.Party](r, "SELECT * FROM parties WHERE id IN ?", append([]int64{0}, ids...))
	all := make(map[int64]master.Party, len(rows))
	for _, p := range rows {
		all[p.ID] = p
	}
	return all, err
}

// Customers returns customers with what they owed at the end of a day. Its sums
// are of owes, overdue, held, kept back and not placed.
func (r Reader) Customers(f PartyFilter, q Query, at day.Day) (Page[PartyRow], error) {
	open, err := r.openAmountsAt(at)
	if err != nil {
		return Page[PartyRow]{}, err
	}
	from := func(open string) string {
		return `parties p LEFT JOIN (SELECT party_id, SUM(CASE WHEN register = 'receivables' THEN open ELSE 0 END) AS owes,
			SUM(CASE WHEN register = 'receivables' AND open > 0 AND due < @asof THEN open ELSE 0 END) AS overdue,
			-SUM(CASE WHEN register = 'deposits' THEN open ELSE 0 END) AS held,
			SUM(CASE WHEN register = 'retention' THEN open ELSE 0 END) AS kept_back, -SUM(CASE WHEN register = 'receivables' AND open < 0 THEN open ELSE 0 END) AS unplaced
			FROM ` + open + ` WHERE register IN ('receivables', 'deposits', 'retention') GROUP BY +party_id) s ON s.party_id = p.id`
	}
	l := listing{
		columns: `p.id, p.number, p.name, p.contact, p.town, p.phone, p.email, p.inactive, p.is_supplier AS supplier, (SELECT COUNT(*) FROM jobs j WHERE j.party_id = p.id) AS jobs,
			COALESCE(s.owes, 0) AS owes, COALESCE(s.overdue, 0) AS overdue, COALESCE(s.held, 0) AS held,
			COALESCE(s.kept_back, 0) AS kept_back, COALESCE(s.unplaced, 0) AS unplaced`,
		from: from(open),
		once: true,
		few:  func(ids string) string { return from(ofParties(open, ids)) },
		id:   "p.id",
		sort: "name",
		sorts: map[string]string{"name": "p.name COLLATE NOCASE", "number": "p.number", "town": "p.town", "contact": "p.contact", "phone": "p.phone", "email": "p.email",
			"owes": "COALESCE(s.owes, 0)", "overdue": "COALESCE(s.overdue, 0)", "held": "COALESCE(s.held, 0)", "keptBack": "COALESCE(s.kept_back, 0)", "unplaced": "COALESCE(s.unplaced, 0)",
			"jobs": "(SELECT COUNT(*) FROM jobs j WHERE j.party_id = p.id)"},
		sums: []string{"s.owes", "s.overdue", "s.held", "s.kept_back", "s.unplaced"},
	}
	l.named = []any{asOf(at)}
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
	default: // and whoever is not in use any more and yet owes or is owed
		l.filter("p.inactive = 0 OR s.owes <> 0 OR s.held <> 0 OR s.kept_back <> 0 OR s.unplaced <> 0")
	}
	return fetch[PartyRow](r, l, q)
}

// StatementsFor returns the customers who get a statement through a day: for
// whom anything of receivables, deposits or retention was open at its end, or,
// with a first day, moved in the span.
func (r Reader) StatementsFor(from, through day.Day) ([]PartyRow, error) {
	open, err := r.openAt(through)
	if err != nil {
		return nil, err
	}
	return scan[PartyRow](r, `SELECT id, name FROM parties WHERE id IN (
		SELECT party_id FROM `+open+` WHERE register IN ('receivables', 'deposits', 'retention')
		UNION SELECT i.party_id FROM item_moves m JOIN open_items i ON i.id = m.item_id
			WHERE @from <> '' AND m.day BETWEEN @from AND @asof AND i.register IN ('receivables', 'deposits', 'retention')) ORDER BY name COLLATE NOCASE, id`,
		map[string]any{"from": from, "asof": through})
}

// Candidates returns whose money it may be: every customer with an invoice that
// has just this open or whose number a text holds, and those of whose names a
// word stands in the text.
func (r Reader) Candidates(text string, amount money.Amount) ([]settling.Candidate, error) {
	return scan[settling.Candidate](r, `SELECT c.id AS party_id, c.name, p.number, i.open FROM open_items i JOIN papers p ON p.id = i.paper_id JOIN parties c ON c.id = i.party_id
		WHERE i.register = 'receivables' AND i.open <> 0 AND i.open > 0 AND (i.open = @amount OR instr(lower(@text), lower(p.number)) > 0)
		UNION ALL SELECT id, name, '', 0 FROM parties WHERE inactive = 0 AND is_customer = 1 AND EXISTS (
			SELECT 1 FROM json_each((SELECT CASE WHEN json_valid(words) THEN words ELSE '[]' END FROM (SELECT '["' || replace(replace(replace(name, '\', ' '), '"', ' '), ' ', '","') || '"]' AS words))) w WHERE length(w.value) >= 4 AND instr(lower(@text), lower(w.value)) > 0)
		ORDER BY 1 LIMIT 200`, map[string]any{"text": text, "amount": amount})
}

// Position returns where a customer stood at the end of a day.
func (r Reader) Position(partyID int64, at day.Day) (reporting.Position, error) {
	open, err := r.openOf("party_id", at)
	if err != nil {
		return reporting.Position{}, err
	}
	p, _, err := one[reporting.Position](r, `SELECT
		COALESCE(SUM(CASE WHEN register = 'receivables' AND open > 0 AND due < @day THEN open END), 0) AS owes_now,
		COALESCE(SUM(CASE WHEN register = 'receivables' AND open > 0 AND due >= @day THEN open END), 0) AS not_yet_due,
		COALESCE(SUM(CASE WHEN register = 'receivables' AND open > 0 AND id IN (SELECT item_id FROM disputes) AND `+disputed+` THEN open END), 0) AS disputed,
		COALESCE(SUM(CASE WHEN register = 'retention' THEN open END), 0) AS keeps_back,
		COALESCE(-SUM(CASE WHEN register = 'deposits' THEN open END), 0) AS held,
		COALESCE(-SUM(CASE WHEN register = 'receivables' AND open < 0 THEN open END), 0) AS unplaced,
		COALESCE(-SUM(CASE WHEN register = 'payables' THEN open END), 0) AS we_owe
		FROM `+open+` i`, map[string]any{"day": at, "asof": at, "whose": partyID})
	return p, err
}

// CurrencyPosition is where a customer stands in one currency, in it; the firm's own
// by its code.
type CurrencyPosition struct {
	Currency string
	reporting.Position
	Base money.Amount // of what is owed, less credits, in the firm's currency
}

// PositionsByCurrency returns where a customer stands in each currency; none where
// all is in the firm's own.
func (r Reader) PositionsByCurrency(partyID int64, at day.Day) ([]CurrencyPosition, error) {
	codes, err := r.CurrenciesOf(partyID)
	if err != nil || len(codes) == 0 {
		return nil, err
	}
	cur, err := r.Currency()
	if err != nil {
		return nil, err
	}
	open, err := r.openOf("party_id", at)
	if err != nil {
		return nil, err
	}
	return scan[CurrencyPosition](r, `SELECT COALESCE(currency, @own) AS currency,
		COALESCE(SUM(CASE WHEN register = 'receivables' AND own > 0 AND due < @day THEN own END), 0) AS owes_now,
		COALESCE(SUM(CASE WHEN register = 'receivables' AND own > 0 AND due >= @day THEN own END), 0) AS not_yet_due,
		COALESCE(SUM(CASE WHEN register = 'retention' THEN own END), 0) AS keeps_back,
		COALESCE(-SUM(CASE WHEN register = 'deposits' THEN own END), 0) AS held,
		COALESCE(-SUM(CASE WHEN register = 'receivables' AND own < 0 THEN own END), 0) AS unplaced,
		COALESCE(-SUM(CASE WHEN register = 'payables' THEN own END), 0) AS we_owe,
		COALESCE(SUM(CASE WHEN register = 'receivables' THEN open END), 0) AS base
		FROM (SELECT *, COALESCE(own_open, open) AS own FROM `+open+`) i GROUP BY 1 ORDER BY currency IS NOT NULL, 1`, map[string]any{"own": cur.Code, "day": at, "asof": at, "whose": partyID})
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

// jobSums are the sums of a job j at the end of @asof, in SQL: billed net, left
// to bill, what of the billed is open, kept back and given up, deposits held,
// credits not placed. What is billed comes from papers that bill work and from
// the items that are a part of them.
type jobSums struct{ contract, billed, left, open, kept, held, unplaced, lost string }

func (r Reader) jobSums(d day.Day) (jobSums, error) {
	moved, err := r.movedAfter(d)
	return jobSumsOf(moved), err
}

// jobSumsOf are the sums as of a day after which something moved, or nothing.
func jobSumsOf(moved bool) jobSums {
	amount, past := "i.open", "AND i.open <> 0 "
	mayBe := "" // open then
	if moved {
		amount, past = "(SELECT COALESCE(SUM(m.amount), 0) FROM item_moves m WHERE m.item_id = i.id AND m.day <= @asof )", ""
		mayBe = " AND (i.open <> 0 OR i.moved > @asof)"
	}
	item := func(sign, where string) string {
		return "(SELECT COALESCE(" + sign + "SUM(" + amount + "), 0) FROM open_items i WHERE i.job_id = j.id " + past + "AND " + where + ")"
	}
	billed := "(SELECT COALESCE(SUM(b.net - b.beside), 0) FROM papers x JOIN kinds k ON k.kind = x.about JOIN paper_billing b ON b.paper_id = x.id WHERE x.job_id = j.id AND k.bills = 1 AND x.day <= @asof )"
	contract := "(j.contract_sum + " + agreedOf("j.id", "AND x.day <= @asof ", "AND u.day <= @asof ") + ")"
	return jobSums{contract, billed, "MAX(" + contract + " - " + billed + ", 0)", item("", "i.amount > 0 AND i.register = 'receivables'"+mayBe+" AND i.bills_id IN (SELECT y.id FROM papers y JOIN kinds k ON k.kind = y.kind WHERE y.id = i.bills_id AND k.bills = 1)") + " + " + deductedUnpaid(amount),
		item("", "i.amount > 0 AND i.register = 'retention' AND i.bills_id IS NOT NULL"), item("-", "i.amount < 0 AND i.register = 'deposits'"), item("-", "i.amount < 0 AND i.register = 'receivables'"),
		`(SELECT COALESCE(SUM(CASE WHEN a.undoes IS NULL THEN a.amount ELSE -a.amount END), 0) FROM open_items i JOIN allocations a ON a.debit_id = i.id JOIN open_items c ON c.id = a.credit_id
			WHERE i.job_id = j.id AND i.bills_id IS NOT NULL AND c.nature = 'write-off' AND a.day <= @asof )`}
}

// Jobs returns jobs with where they stand. Its sums are of contract sum,
// billed, left to bill, open and held.
func (r Reader) Jobs(f JobFilter, q Query, at day.Day) (Page[JobRow], error) {
	of, err := r.jobSums(at)
	if err != nil {
		return Page[JobRow]{}, err
	}
	of = of.orKept()
	// Without a limit each sum would be worked out wherever it is named.
	from := func(which string) string {
		return "(SELECT j.id, j.number, j.name, j.party_id, j.site, j.closed, " + of.contract + " AS contract, " + of.billed + " AS billed, " + of.open + " AS open, " + of.held + " AS held FROM jobs j" + jobSumsKept + " WHERE " + which + " LIMIT -1) j LEFT JOIN parties p ON p.id = j.party_id" // which sums need not look at
	}
	const left = "MAX(j.contract - j.billed, 0)"
	which := "j.closed = 0"
	switch f.State {
	case "closed":
		which = "j.closed = 1"
	case "all", "held", "open":
		which = "1 = 1"
	}
	if f.PartyID != 0 {
		which += " AND j.party_id = @whose "
	}
	l := listing{
		columns: "j.id, j.number, j.name, j.party_id, p.name AS party, j.site, j.contract AS contract_sum, j.closed, j.billed, " + left + " AS left_to_bill, j.open, j.held",
		from:    from(which),
		once:    true,
		few:     func(ids string) string { return from("j.id IN (" + ids + ")") },
		id:      "j.id",
		sort:    "number", desc: true,
		sorts: map[string]string{"number": "j.number", "name": "j.name COLLATE NOCASE", "party": "p.name COLLATE NOCASE", "site": "j.site", "contractSum": "j.contract",
			"billed": "j.billed", "leftToBill": left, "open": "j.open", "held": "j.held"},
		sums:  []string{"j.contract", "j.billed", left, "j.open", "j.held"},
		named: []any{asOf(at), whose(f.PartyID)},
	}
	if f.Search != "" {
		l.contains(f.Search, "j.number", "j.name", "p.name", "j.site")
	}
	switch f.State {
	case "held":
		l.filter("j.held > 0")
	case "open":
		l.filter("j.open > 0")
	default:
		l.filter(which) // said again for the ways below, which have no such table
		// What is in the order of what a job is called needs no sums to be found.
		if sort := cmp.Or(q.Sort, l.sort); slices.Contains([]string{"number", "name", "party", "site"}, sort) {
			l.once, l.ways = false, map[string][]way{sort: {{from: "jobs j JOIN parties p ON p.id = j.party_id", id: "j.id", key: l.sorts[sort]}}}
		}
	}
	return fetch[JobRow](r, l, q)
}

// JobPosition returns where a job stood at the end of a day.
func (r Reader) JobPosition(jobID int64, at day.Day) (reporting.JobPosition, error) {
	of, err := r.jobSums(at)
	if err != nil {
		return reporting.JobPosition{}, err
	}
	p, _, err := one[reporting.JobPosition](r, `SELECT `+of.contract+` AS contract_sum, `+of.billed+` AS billed_net,
		(SELECT COALESCE(SUM(x.total + COALESCE(b.deducted, 0)), 0) FROM papers x JOIN kinds k ON k.kind = x.about LEFT JOIN paper_billing b ON b.paper_id = x.id WHERE x.job_id = j.id AND k.bills = 1 AND x.day <= @asof ) AS billed_gross,
		`+of.open+` AS open, `+of.kept+` AS kept_back, `+of.held+` AS held, `+of.unplaced+` AS unplaced, `+of.lost+` AS lost, `+advanceOf+` AS advance FROM jobs j WHERE j.id = ?`, jobID, asOf(at))
	return p, err
}

// AnythingOpen tells whether something is open of a party in some registers.
func (r Reader) AnythingOpen(partyID int64, registers []ledger.Role) (bool, error) {
	_, some, err := one[int64](r, "SELECT 1 FROM open_items WHERE party_id = @party AND open <> 0 AND register IN @registers UNION ALL SELECT 1 FROM lines_left WHERE party_id = @party AND amount <> 0 AND register IN @registers LIMIT 1",
		map[string]any{"party": partyID, "registers": registers})
	return some, err
}
