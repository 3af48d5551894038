package store

import (
	"cmp"
	"database/sql"
	"slices"
	"strings"

	"cleantally/core/day"
	"cleantally/core/money"
	"cleantally/core/posting"

	"github.com/shopspring/decimal"
)

// CostRow is a cost that waits to be passed on to a customer, or one that is
// below nil since its supplier credited what was billed.
type CostRow struct {
	PaperID    int64
	Position   int
	Kind       posting.Kind
	Number     string
	Day        day.Day
	SupplierID int64
	Supplier   string
	JobID      int64
	Job        string
	JobName    string
	PartyID    int64
	Party      string
	Text       string
	PassOn     posting.Treatment
	Markup     decimal.Decimal
	TaxCodeID  int64
	Cost       money.Amount // as it was bought
	Left       money.Amount // that is not billed
	OnDrafts   money.Amount // of it
}

// rowID tells lines of papers apart: a paper has far fewer than a thousand.
// CostFilter narrows the list of costs.
type CostFilter struct {
	Search  string
	PartyID int64
	JobID   int64
	State   string // waiting, credited: those below nil; "" for both
}

// costOf is what of an amount of a line l with a tax is cost, in SQL.
func costOf(amount, tax string) string {
	return "(" + amount + " - CASE WHEN l.joined = 1 OR l.pass_on = 'behalf' THEN 0 ELSE " + tax + " END)"
}

// A costsLeft is a table of the lines that wait to be passed on, by what is left
// of them at the end of @asof; what was used since is there again.
type costsLeft struct{ later bool } // something is dated after it

func (r Reader) costsLeft(at day.Day) (costsLeft, error) {
	_, later, err := one[int64](r, "SELECT 1 FROM papers WHERE day > ? AND kind IN ('supplier bill', 'expense', 'supplier credit', 'invoice', 'credit note', 'cost not passed on', 'reversal') LIMIT 1", at)
	return costsLeft{later}, err
}

// all are all of them.
func (c costsLeft) all() string {
	if !c.later {
		return "(SELECT paper_id, position, job_id, day, amount, tax FROM lines_left WHERE register IN ('recoverable', 'passed on') AND amount <> 0)"
	}
	return c.of("(SELECT paper_id, position FROM lines_left WHERE register IN ('recoverable', 'passed on') AND amount <> 0 UNION SELECT of_paper_id, of_position FROM uses INDEXED BY uses_day WHERE day > @asof )")
}

// few are those of some rows of a list.
func (c costsLeft) few(ids string) string {
	return c.of("(SELECT value / 1000 AS paper_id, value % 1000 AS position FROM json_each('[" + ids + "]'))")
}

func (c costsLeft) of(lines string) string {
	return `(SELECT x.paper_id, x.position, x.job_id, x.day, x.amount + COALESCE(SUM(u.amount), 0) AS amount, x.tax + COALESCE(SUM(u.tax), 0) AS tax
		FROM ` + lines + ` k CROSS JOIN lines_left x ON x.paper_id = k.paper_id AND x.position = k.position
		LEFT JOIN uses u INDEXED BY uses_of ON u.of_paper_id = x.paper_id AND u.of_position = x.position AND u.day > @asof
		WHERE x.register IN ('recoverable', 'passed on') AND x.day <= @asof GROUP BY x.paper_id, x.position HAVING x.amount + COALESCE(SUM(u.amount), 0) <> 0)`
}

// Costs returns what waits to be passed on at the end of a day, the oldest
// first. Its sums are of what is left and of what is on drafts.
func (r Reader) Costs(f CostFilter, q Query, at day.Day) (Page[CostRow], error) {
	left, err := r.costsLeft(at)
	if err != nil {
		return Page[CostRow]{}, err
	}
	rest := costOf("x.amount", "x.tax")
	drafts := "COALESCE((SELECT SUM(" + costOf("z.amount", "z.tax") + ") FROM reservations z WHERE z.of_paper_id = x.paper_id AND z.of_position = x.position), 0)"
	const beside = ` x CROSS JOIN paper_lines l ON l.paper_id = x.paper_id AND l.position = x.position CROSS JOIN papers p ON p.id = x.paper_id CROSS JOIN jobs j ON j.id = x.job_id CROSS JOIN parties c ON c.id = j.party_id`
	l := listing{
		columns: `x.paper_id, x.position, p.kind, p.number, p.day, p.party_id AS supplier_id, p.party_name AS supplier, x.job_id, j.number AS job, j.name AS job_name, j.party_id, c.name AS party, l.text, l.pass_on, l.markup, l.tax_code_id,
			` + costOf("(l.net + l.tax)", "l.tax") + ` AS cost, ` + rest + ` AS left, ` + drafts + ` AS on_drafts`,
		from: left.all() + beside,
		few:  func(ids string) string { return left.few(ids) + beside },
		id:   "(x.paper_id * 1000 + x.position)", paper: "x.paper_id",
		once: true,
		sort: "day",
		sorts: map[string]string{"day": "p.day", "number": "p.number", "supplier": "p.party_name COLLATE NOCASE", "job": "j.number", "customer": "c.name COLLATE NOCASE", "text": "l.text COLLATE NOCASE",
			"cost": costOf("(l.net + l.tax)", "l.tax"), "left": rest},
		sums:  []string{rest, drafts},
		named: []any{asOf(at)},
	}
	if f.Search != "" {
		l.contains(f.Search, "l.text", "p.number", "p.party_name", "j.number", "j.name", "c.name")
	}
	if f.PartyID != 0 {
		l.filter("j.party_id = ?", f.PartyID)
	}
	if f.JobID != 0 {
		l.filter("x.job_id = ?", f.JobID)
	}
	switch f.State {
	case "waiting":
		l.filter("x.amount > 0")
	case "credited":
		l.filter("x.amount < 0")
	}
	return fetch[CostRow](r, l, q)
}

// looseCosts are the costs that wait to be passed on, and those below nil, as
// groups of loose ends.
func (r Reader) looseCosts(at day.Day, most int) ([]LooseEnds, error) {
	left, err := r.costsLeft(at)
	if err != nil {
		return nil, err
	}
	type waiting struct {
		id    int64 // its paper's a thousand times, and its position
		day   day.Day
		left  money.Amount
		below bool // nil
	}
	var all []waiting
	err = r.rows("SELECT x.paper_id * 1000 + x.position, x.day, "+costOf("x.amount", "x.tax")+", x.amount < 0 FROM "+left.all()+" x CROSS JOIN paper_lines l ON l.paper_id = x.paper_id AND l.position = x.position", func(r *row) {
		all = append(all, waiting{r.int(0), r.day(1), r.amount(2), r.is(3)})
	}, asOf(at))
	if err != nil {
		return nil, err
	}
	slices.SortFunc(all, func(x, y waiting) int { return cmp.Or(cmp.Compare(x.day, y.day), cmp.Compare(x.id, y.id)) })
	groups := []LooseEnds{{Group: "cost"}, {Group: "cost credited"}}
	of := func(below bool) *LooseEnds {
		if below {
			return &groups[1]
		}
		return &groups[0]
	}
	var told []int64 // the oldest of each
	for _, x := range all {
		g := of(x.below)
		if g.Count, g.Sum = g.Count+1, g.Sum+x.left.Abs(); g.Count <= int64(most) {
			told = append(told, x.id)
		}
	}
	type row struct {
		LooseEnd
		Below bool
	}
	rows, err := scan[row](r, `SELECT x.below, x.paper_id, x.position, p.kind, p.number, j.party_id, c.name AS party, x.job_id, j.number AS job, x.text AS title, x.day, abs(x.left) AS open, x.left < 0 AS credit,
			COALESCE(v.number, '') AS invoice, COALESCE(v.id, 0) AS invoice_id
		FROM (SELECT x.paper_id, x.position, x.job_id, x.day, l.text, x.amount < 0 AS below, `+costOf("x.amount", "x.tax")+` AS left FROM `+left.few(commas(told))+` x CROSS JOIN paper_lines l ON l.paper_id = x.paper_id AND l.position = x.position) x
		CROSS JOIN papers p ON p.id = x.paper_id CROSS JOIN jobs j ON j.id = x.job_id CROSS JOIN parties c ON c.id = j.party_id
		LEFT JOIN papers v ON v.id = (SELECT u.by_paper_id FROM uses u WHERE u.of_paper_id = x.paper_id AND u.of_position = x.position AND u.as_kind = 'billed' AND u.undoes IS NULL AND u.amount > 0 ORDER BY u.id DESC LIMIT 1)
		ORDER BY x.day, x.paper_id, x.position`, asOf(at))
	for _, x := range rows {
		g := of(x.Below)
		g.Rows = append(g.Rows, x.LooseEnd)
	}
	return groups, err
}

// MarginRow is what a job brought in and cost, net.
type MarginRow struct {
	ID      int64
	Number  string
	Name    string
	PartyID int64
	Party   string
	Closed  bool
	Income  money.Amount // billed work and passed-on costs
	Costs   money.Amount
	Margin  money.Amount
	Budget  money.Amount
	Waiting money.Amount // costs that wait to be passed on
}

// Margins returns jobs by what they brought in and cost through a day. Its sums
// are of income, costs, margin, budget and waiting costs.
func (r Reader) Margins(f JobFilter, q Query, at day.Day) (Page[MarginRow], error) {
	left, err := r.costsLeft(at)
	if err != nil {
		return Page[MarginRow]{}, err
	}
	// Only what is asked for is added up.
	listed := map[string]string{"closed": "1", "all": "0, 1"}[f.State]
	listed = "(SELECT id FROM jobs WHERE closed IN (" + cmp.Or(listed, "0") + "))"
	income, costs := "COALESCE(m.income, 0)", "COALESCE(m.costs, 0)"
	margin := "(" + income + " - " + costs + ")"
	percent := "CASE WHEN " + income + " > 0 THEN " + margin + " * 10000 / " + income + " ELSE 0 END"
	waiting := "COALESCE(w.waiting, 0)"
	from := func(listed string) string {
		return `jobs j JOIN parties p ON p.id = j.party_id LEFT JOIN (SELECT e.job_id, -SUM(CASE WHEN a.type IN ('income', 'contra income') THEN e.amount ELSE 0 END) AS income, SUM(CASE WHEN a.type = 'expense' THEN e.amount ELSE 0 END) AS costs
			FROM entry_lines e JOIN accounts a ON a.id = e.account_id WHERE e.job_id IN ` + listed + ` AND e.day <= @asof GROUP BY e.job_id) m ON m.job_id = j.id
			LEFT JOIN (SELECT x.job_id, SUM(` + costOf("x.amount", "x.tax") + `) AS waiting FROM ` + left.all() + ` x CROSS JOIN paper_lines l ON l.paper_id = x.paper_id AND l.position = x.position WHERE x.job_id IN ` + listed + ` GROUP BY x.job_id) w ON w.job_id = j.id`
	}
	l := listing{
		columns: "j.id, j.number, j.name, j.party_id, p.name AS party, j.closed, " + income + " AS income, " + costs + " AS costs, " + margin + " AS margin, j.budget, " + waiting + " AS waiting",
		from:    from(listed),
		once:    true,
		few:     func(ids string) string { return from("(" + ids + ")") },
		id:      "j.id",
		sort:    "margin", desc: true,
		sorts: map[string]string{"number": "j.number", "name": "j.name COLLATE NOCASE", "party": "p.name COLLATE NOCASE", "income": income, "costs": costs, "margin": margin, "percent": percent, "budget": "j.budget", "waiting": waiting},
		sums:  []string{income, costs, margin, "j.budget", waiting},
		named: []any{asOf(at)},
	}
	if f.Search != "" {
		l.contains(f.Search, "j.number", "j.name", "p.name", "j.site")
	}
	l.filter("j.id IN " + listed)
	return fetch[MarginRow](r, l, q)
}

// MarginLine is what of a job's margin stands on one account, above nil where
// it is of the account's own side.
type MarginLine struct {
	AccountID int64
	Account   string
	Type      string
	Amount    money.Amount
}

// MarginMonth is what a job brought in and cost in a month.
type MarginMonth struct {
	Month  string // YYYY-MM
	Income money.Amount
	Costs  money.Amount
}

// MarginOf returns what a job brought in and cost through a day, by account and
// by month.
func (r Reader) MarginOf(jobID int64, at day.Day) ([]MarginLine, []MarginMonth, error) {
	lines, err1 := scan[MarginLine](r, `SELECT a.id AS account_id, a.number || ' ' || a.name AS account, a.type, SUM(CASE WHEN a.type = 'income' THEN -e.amount ELSE e.amount END) AS amount
		FROM entry_lines e JOIN accounts a ON a.id = e.account_id WHERE e.job_id = ? AND e.day <= ? AND a.type IN ('income', 'contra income', 'expense') GROUP BY a.id HAVING SUM(e.amount) <> 0 ORDER BY a.number`, jobID, at)
	months, err2 := scan[MarginMonth](r, `SELECT substr(e.day, 1, 7) AS month, -SUM(CASE WHEN a.type IN ('income', 'contra income') THEN e.amount ELSE 0 END) AS income, SUM(CASE WHEN a.type = 'expense' THEN e.amount ELSE 0 END) AS costs
		FROM entry_lines e JOIN accounts a ON a.id = e.account_id WHERE e.job_id = ? AND e.day <= ? AND a.type IN ('income', 'contra income', 'expense') GROUP BY 1 ORDER BY 1`, jobID, at)
	return lines, months, cmp.Or(err1, err2)
}

// OnBehalfOf is what was paid on a customer's behalf for a job and what of it
// was billed, beside its margin.
func (r Reader) OnBehalfOf(jobID int64, at day.Day) (paid, waiting money.Amount, err error) {
	left, err := r.costsLeft(at)
	if err != nil {
		return 0, 0, err
	}
	type sums struct{ Paid, Waiting money.Amount }
	s, _, err := one[sums](r, strings.ReplaceAll(`SELECT COALESCE((SELECT SUM(l.net + l.tax) FROM paper_lines l JOIN papers p ON p.id = l.paper_id WHERE l.job_id = @job AND l.register = 'recoverable' AND p.day <= @asof AND NOT EXISTS (SELECT 1 FROM papers x WHERE x.reverses_id = p.id AND x.day <= @asof )), 0) AS paid,
		COALESCE((SELECT SUM(COSTS) FROM `+left.all()+` x CROSS JOIN paper_lines l ON l.paper_id = x.paper_id AND l.position = x.position WHERE x.job_id = @job), 0) AS waiting`, "COSTS", costOf("x.amount", "x.tax")), asOf(at), sql.Named("job", jobID))
	return s.Paid, s.Waiting, err
}
