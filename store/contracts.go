package store

import (
	"slices"
	"strings"

	"cleantally/core/day"
	"cleantally/core/master"
	"cleantally/core/money"
	"cleantally/core/posting"
)

const releasesOf = "SELECT * FROM job_releases WHERE job_id = ? ORDER BY CASE day WHEN '' THEN '9' ELSE day END, id"

// agreedOf is what a job's orders agree on, net, less what was cancelled of
// them, and what was billed of a line beyond that, which is a variation that was
// agreed on, in SQL; both conditions narrow it to a day.
func agreedOf(job, papers, uses string) string {
	const agrees = "IN (SELECT k.kind FROM kinds k WHERE k.agrees = 1) "
	return `(SELECT COALESCE(SUM(b.net), 0) FROM papers x JOIN paper_billing b ON b.paper_id = x.id WHERE x.job_id = ` + job + ` AND x.about ` + agrees + papers + `)
		- (SELECT COALESCE(SUM(u.amount - u.tax), 0) FROM papers x JOIN uses u ON u.of_paper_id = x.id WHERE x.job_id = ` + job + ` AND x.kind ` + agrees + `AND u.as_kind = 'cancelled' ` + uses + `)
		+ (SELECT COALESCE(SUM(MAX(o.billed - o.stands, 0)), 0) FROM (SELECT l.net - COALESCE(SUM(CASE u.as_kind WHEN 'cancelled' THEN u.amount - u.tax END), 0) AS stands,
			COALESCE(SUM(CASE u.as_kind WHEN 'billed' THEN u.amount - u.tax END), 0) AS billed
			FROM papers x JOIN paper_lines l ON l.paper_id = x.id JOIN uses u ON u.of_paper_id = x.id AND u.of_position = l.position
			WHERE x.job_id = ` + job + ` AND x.kind ` + agrees + uses + ` GROUP BY l.paper_id, l.position) o)`
}

// takenOf is what of a paper p is taken by a day, where its lines are taken one
// by one, in SQL.
const takenOf = `CASE WHEN (SELECT kk.taken FROM kinds kk WHERE kk.kind = p.kind) <> '' THEN (SELECT COALESCE(SUM(u.amount), 0) FROM kinds kk CROSS JOIN uses u
	WHERE kk.kind = p.kind AND u.of_paper_id = p.id AND u.as_kind IN (kk.taken, 'cancelled') AND u.day <= @asof ) ELSE 0 END`

// cancelledOf is what of that was cancelled.
const cancelledOf = `CASE WHEN (SELECT kk.taken FROM kinds kk WHERE kk.kind = p.kind) <> '' THEN (SELECT COALESCE(SUM(u.amount), 0) FROM uses u WHERE u.of_paper_id = p.id AND u.as_kind = 'cancelled' AND u.day <= @asof ) ELSE 0 END`

// ownTakenOf is the same in the paper's own currency.
const ownTakenOf = `(SELECT COALESCE(SUM(COALESCE(u.own_amount, u.amount)), 0) FROM kinds kk CROSS JOIN uses u
	WHERE kk.kind = p.kind AND u.of_paper_id = p.id AND u.as_kind IN (kk.taken, 'cancelled') AND u.day <= @asof )`

// deductedUnpaid is what invoices of a job j deduct though the deposit invoice
// was not paid by a day, in SQL: the work is billed, and open. Open is what of
// an item i is open.
func deductedUnpaid(open string) string {
	return `(SELECT COALESCE(SUM(MAX(o.open - o.rest, 0)), 0) FROM (SELECT COALESCE((SELECT SUM(` + open + `) FROM open_items i WHERE i.bills_id = x.id AND i.register = 'receivables' AND i.amount > 0), 0) AS open,
		(SELECT SUM(l.net + l.tax) FROM paper_lines l WHERE l.paper_id = x.id) - COALESCE((SELECT SUM(u.amount) FROM uses u WHERE u.of_paper_id = x.id AND u.of_position > 0 AND u.day <= @asof ), 0) AS rest
		FROM papers x WHERE x.job_id = j.id AND x.kind = 'deposit invoice' AND x.day <= @asof ) o)`
}

// advanceOf is what was billed in advance of a job j and not deducted by a day,
// net, in SQL.
const advanceOf = `((SELECT COALESCE(SUM(l.net), 0) FROM papers x JOIN paper_lines l ON l.paper_id = x.id WHERE x.job_id = j.id AND x.day <= @asof AND l.register = 'advance billings')
	- (SELECT COALESCE(SUM(u.amount - u.tax), 0) FROM papers x JOIN paper_lines l ON l.paper_id = x.id JOIN uses u ON u.of_paper_id = x.id AND u.of_position = l.position
		WHERE x.job_id = j.id AND u.day <= @asof AND l.register = 'advance billings'))`

// Agreed answers billing.Facts.
func (f *Facts) Agreed(job int64) money.Amount {
	v, _ := value[money.Amount](f, "SELECT "+agreedOf("?", "", ""), job, job, job)
	return v
}

// Overdue answers billing.Facts. What was settled in time is left out.
func (f *Facts) Overdue(party int64, through day.Day) []posting.Item {
	if items, known := f.overdue[party]; known {
		return items
	}
	items := f.readItems("open_items", "WHERE i.party_id = @party AND "+wasOverdue, map[string]any{"party": party, "through": through})
	f.knowOverdue(items)
	return items
}

// wasOverdue narrows items i to those that answer Overdue.
const wasOverdue = `i.register = 'receivables' AND i.nature IN ('', 'beside') AND i.day <= @through AND (i.amount < 0 OR (i.due <> '' AND i.due < @through AND COALESCE(b.form, '') <> 'late charge'))
	AND (i.open <> 0 OR i.moved > CASE WHEN i.amount > 0 THEN i.due ELSE i.day END)`

// KnowOverdue reads in one go what Overdue answers of some customers.
func (f *Facts) KnowOverdue(parties []int64, through day.Day) {
	items := f.readItems("open_items", "WHERE i.party_id IN @parties AND "+wasOverdue, map[string]any{"parties": append([]int64{0}, parties...), "through": through})
	f.knowOverdue(items)
	f.overdue = map[int64][]posting.Item{}
	for _, id := range parties {
		f.overdue[id] = []posting.Item{}
	}
	for _, i := range items {
		f.overdue[i.PartyID] = append(f.overdue[i.PartyID], i)
	}
}

const overdueParties = "SELECT o.party_id FROM open_items o WHERE o.register = 'receivables' AND o.due <> '' AND o.due < @through AND o.open <> 0 AND o.open > 0"

func (f *Facts) knowOverdue(items []posting.Item) {
	ids := make([]posting.ItemRef, len(items))
	for n, i := range items {
		ids[n], f.items[i.ID] = i.ID, i
	}
	f.knowMoves(ids)
	f.knowMarks(ids)
}

// knowMarks reads what items were charged for and their disputes in one go.
func (f *Facts) knowMarks(ids []posting.ItemRef) {
	for _, id := range ids {
		f.charged[id], f.disputes[id] = []posting.ChargedDays{}, []posting.Dispute{}
	}
	for chunk := range slices.Chunk(ids, 1000) {
		for _, c := range all[posting.ChargedDays](f, selectCharges+"c.item_id IN ? ORDER BY c.id", chunk) {
			f.charged[c.Item] = append(f.charged[c.Item], c)
		}
		for _, x := range all[posting.Dispute](f, selectDisputes+"WHERE item_id IN ? ORDER BY id", chunk) {
			f.disputes[x.Item] = append(f.disputes[x.Item], x)
		}
	}
}

// RetentionOf answers billing.Facts.
func (f *Facts) RetentionOf(paper int64) []posting.Item {
	return f.readItems("open_items", "WHERE i.bills_id = ? AND i.register = 'retention'", paper)
}

// KeptBack answers billing.Facts.
func (f *Facts) KeptBack(job int64) posting.Part {
	type row struct{ Amount, Tax money.Amount }
	r, _ := find[row](f, "SELECT COALESCE(SUM(amount), 0) AS amount, COALESCE(SUM(tax), 0) AS tax FROM open_items WHERE job_id = ? AND register = 'retention' AND nature NOT IN ('closing', 'write-off')", job)
	return posting.Of(r.Amount, r.Tax)
}

// Said answers billing.Facts.
func (f *Facts) Said(paperID int64, event string) (string, bool) {
	return value[string](f, "SELECT COALESCE(json_extract(detail, '$.text'), '') FROM paper_events WHERE paper_id = ? AND event = ? ORDER BY id DESC LIMIT 1", paperID, event)
}

// StandsOn answers billing.Facts.
func (f *Facts) StandsOn(paperID int64, kind posting.Kind) []posting.Paper {
	return f.readPapers("WHERE p.source_id = ? AND p.kind = ? AND NOT EXISTS (SELECT 1 FROM papers r WHERE r.reverses_id = p.id) ORDER BY p.day, p.id", paperID, kind)
}

// ReleasesOf returns the shares in which what a job keeps back is expected.
func (r Reader) ReleasesOf(jobID int64) ([]master.ReleaseShare, error) {
	return scan[master.ReleaseShare](r, releasesOf, jobID)
}

// SetReleases replaces them.
func (tx *Tx) SetReleases(jobID int64, shares []master.ReleaseShare) error {
	if err := tx.db.Exec("DELETE FROM job_releases WHERE job_id = ?", jobID).Error; err != nil {
		return err
	}
	for _, s := range shares {
		if err := tx.db.Exec("INSERT INTO job_releases (job_id, name, percent, day) VALUES (?, ?, ?, ?)", jobID, s.Name, s.Percent, s.Day).Error; err != nil {
			return err
		}
	}
	return nil
}

// Standing returns the papers of some kinds of a customer, or of a job, that
// were there on a day and not reversed by then, the oldest first; of anybody
// where both are 0.
func (f *Facts) Standing(kinds []posting.Kind, partyID, jobID int64, d day.Day) []posting.Paper {
	return f.standing(kinds, partyID, jobID, d, "")
}

// OpenOrders are the orders of a customer, or of a job, of which something may be
// left to bill: the few, where most are done with. Of what was billed since the day
// there was more.
func (f *Facts) OpenOrders(partyID, jobID int64, d day.Day) []posting.Paper {
	return f.standing([]posting.Kind{posting.Order}, partyID, jobID, d, `AND p.id IN (SELECT paper_id FROM lines_left WHERE register = 'ordered' AND amount <> 0 UNION SELECT of_paper_id FROM uses INDEXED BY uses_day WHERE day > @day UNION SELECT paper_id FROM (`+deliveredAhead+`))`)
}

// deliveredAhead are the lines of orders of which as much is delivered as stands
// ordered, or more, and not all of that billed, in SQL: what is left to bill of
// those is what was delivered.
const deliveredAhead = "SELECT paper_id, position FROM goods_left INDEXED BY goods_left_over WHERE kind = 'order' AND delivered > billed AND delivered >= quantity - cancelled"

// OpenPurchaseOrders are the purchase orders of a supplier, 0 for any, of which
// something may be left to come or to be billed.
func (f *Facts) OpenPurchaseOrders(partyID int64, d day.Day) []posting.Paper {
	return f.standing([]posting.Kind{posting.PurchaseOrder}, partyID, 0, d, "AND p.id IN ("+strings.ReplaceAll(boughtStill, "@asof", "@day ")+")")
}

func (f *Facts) standing(kinds []posting.Kind, partyID, jobID int64, d day.Day, also string) []posting.Paper {
	ids := all[int64](f, `SELECT p.id FROM papers p WHERE p.kind IN @kinds AND (@party = 0 OR p.party_id = @party) AND (@job = 0 OR p.job_id = @job) AND p.day <= @day
		AND NOT EXISTS (SELECT 1 FROM papers r WHERE r.reverses_id = p.id AND r.day <= @day) `+also+` ORDER BY p.day, p.id`, map[string]any{"kinds": kinds, "party": partyID, "job": jobID, "day": d})
	f.KnowPapers(ids)
	papers := make([]posting.Paper, 0, len(ids))
	for _, id := range ids {
		if p, ok := f.Paper(id); ok {
			papers = append(papers, p)
		}
	}
	return papers
}

// OrdersOf answers billing.Facts.
func (f *Facts) OrdersOf(job int64) []posting.Paper { return f.ofJob(job, posting.Order) }

// InvoicesOf answers billing.Facts.
func (f *Facts) InvoicesOf(job int64) []posting.Paper { return f.ofJob(job, posting.Invoice) }

// AdvancesOf answers billing.Facts.
func (f *Facts) AdvancesOf(job int64) []posting.Paper { return f.ofJob(job, posting.DepositInvoice) }

func (f *Facts) ofJob(job int64, kind posting.Kind) []posting.Paper {
	return f.Standing([]posting.Kind{kind}, 0, job, day.EndOfTime)
}

// AdvanceRow is what is billed in advance by a paper, and what became of it by
// a day. Amounts are net; the tax is of what is left.
type AdvanceRow struct {
	ID       int64
	Number   string
	Day      day.Day
	PartyID  int64
	Party    string
	JobID    int64
	Job      string
	Net      money.Amount
	Deducted money.Amount
	Credited money.Amount
	Kept     money.Amount
	Left     money.Amount
	LeftTax  money.Amount
}

// Advances is the register of what is billed in advance, as of a day: what is
// left of it, or all. Its sums are of the amounts in the order of the row; that
// of what is left is what the account says.
func (r Reader) Advances(at day.Day, all bool, search string, q Query) (Page[AdvanceRow], error) {
	became := func(kinds string) string {
		return "COALESCE(SUM(CASE WHEN u.as_kind IN (" + kinds + ") THEN u.amount - u.tax END), 0)"
	}
	of, with := "paper_lines l", ""
	const among = " w CROSS JOIN paper_lines l ON l.paper_id = w.paper_id"
	if !all { // most are used up: looked at are those with something left, and what was used since
		of = "few" + among
		with = `WITH few AS MATERIALIZED (SELECT paper_id FROM lines_left WHERE register = 'advance billings' AND amount <> 0
			UNION SELECT u.of_paper_id FROM uses u INDEXED BY uses_day CROSS JOIN lines_left x ON x.paper_id = u.of_paper_id AND x.position = u.of_position WHERE u.day > @asof AND x.register = 'advance billings') `
	}
	from := func(of string) string {
		return "(SELECT l.paper_id, SUM(l.net) AS net, SUM(l.tax) AS tax FROM " + of + ` WHERE l.register = 'advance billings' GROUP BY l.paper_id) l JOIN papers p ON p.id = l.paper_id LEFT JOIN jobs j ON j.id = p.job_id
			LEFT JOIN (SELECT l.paper_id, ` + became("'deducted'") + ` AS deducted, ` + became("'credited', 'cancelled'") + ` AS credited, ` + became("'forfeited'") + ` AS kept, SUM(u.amount - u.tax) AS used, SUM(u.tax) AS tax
			FROM ` + of + ` CROSS JOIN uses u INDEXED BY uses_of ON u.of_paper_id = l.paper_id AND u.of_position = l.position WHERE l.register = 'advance billings' AND u.day <= @asof GROUP BY l.paper_id) u ON u.paper_id = p.id`
	}
	left := "(l.net - COALESCE(u.used, 0))"
	l := listing{
		with: with,
		columns: "p.id, p.number, p.day, p.party_id, p.party_name AS party, p.job_id, COALESCE(j.number, '') AS job, l.net, COALESCE(u.deducted, 0) AS deducted, COALESCE(u.credited, 0) AS credited, COALESCE(u.kept, 0) AS kept, " +
			left + " AS left, l.tax - COALESCE(u.tax, 0) AS left_tax",
		from: from(of),
		few: func(ids string) string {
			return from("(SELECT id AS paper_id FROM papers WHERE id IN (" + ids + "))" + among)
		},
		id:    "p.id",
		sort:  "day",
		sorts: map[string]string{"day": "p.day", "number": "p.number", "party": "p.party_name COLLATE NOCASE", "job": "COALESCE(j.number, '')", "net": "l.net", "left": left},
		sums:  []string{"l.net", "u.deducted", "u.credited", "u.kept", left, "l.tax - COALESCE(u.tax, 0)"},
		once:  true,
		named: []any{asOf(at)},
	}
	l.filter("p.day <= ?", at)
	if !all {
		l.filter(left + " <> 0")
	}
	if search != "" {
		l.contains(search, "p.number", "p.party_name", "COALESCE(j.number, '')")
	}
	return fetch[AdvanceRow](r, l, q)
}

// OrderRow is an order with what of it is left to bill on a day: net, in the firm's
// currency, and beside that in the order's own where that is another.
type OrderRow struct {
	ID       int64
	Number   string
	Day      day.Day
	PartyID  int64
	Party    string
	JobID    int64
	Job      string
	Title    string
	Net      money.Amount
	Left     money.Amount
	Currency string
	OwnNet   money.Amount
	OwnLeft  money.Amount
}

// leftToBill is what of a line l of an order is left to bill, net, of its uses u by
// a day, in SQL (docs/rules.md, part 5): what stands ordered, or what was delivered
// where that is more, less what was billed. The columns may be own.
func leftToBill(own bool) string {
	const whole, amount = "COALESCE(u.own_amount, u.amount)", "COALESCE(l.own_net + l.own_tax, l.net + l.tax)"
	net, used := "l.net", "u.amount - u.tax"
	if own {
		net, used = "COALESCE(l.own_net, l.net)", whole+" - COALESCE(u.own_tax, u.tax)"
	}
	sum := func(what, as string) string {
		return "COALESCE(SUM(" + what + ") FILTER (WHERE u.as_kind = '" + as + "'), 0)"
	}
	ordered := "CAST(ROUND(CAST(l.quantity AS REAL) * 1000000) AS INTEGER) - " + sum("u.quantity", "cancelled")
	delivered := sum("u.quantity", "delivered")
	return "MAX(CASE WHEN " + delivered + " > " + ordered + " OR " + delivered + " = " + ordered + " AND " + sum(whole, "delivered") + " > " + amount + " - " + sum(whole, "cancelled") +
		" THEN " + sum(used, "delivered") + " ELSE " + net + " - " + sum(used, "cancelled") + " END - " + sum(used, "billed") + ", 0)"
}

// OrdersLeft is the register of orders with something left to bill on a day, the
// oldest first. What is left of a line is kept, and what was taken of it since put
// back; where what was delivered was ahead of what stood ordered, it is worked out
// from the line's uses.
func (r Reader) OrdersLeft(at day.Day, search string, q Query) (Page[OrderRow], error) {
	sum := func(what, where string) string {
		return "SUM(CASE WHEN u.as_kind " + where + " THEN " + what + " ELSE 0 END)"
	}
	l := listing{
		with: `WITH since AS MATERIALIZED (SELECT x.paper_id, x.position, ` + sum("u.amount - u.tax", "<> 'delivered'") + ` AS net, ` + sum("u.quantity", "= 'delivered'") + ` AS delivered, ` + sum("u.quantity", "= 'billed'") + ` AS billed, ` + sum("u.quantity", "= 'cancelled'") + ` AS cancelled
				FROM uses u INDEXED BY uses_day CROSS JOIN lines_left x ON x.paper_id = u.of_paper_id AND x.position = u.of_position WHERE u.day > @asof AND x.register = 'ordered' GROUP BY x.paper_id, x.position),
			apart AS MATERIALIZED (` + deliveredAhead + ` UNION SELECT s.paper_id, s.position FROM since s CROSS JOIN goods_left g ON g.paper_id = s.paper_id AND g.position = s.position
				WHERE g.delivered - s.delivered > g.billed - s.billed AND g.delivered - s.delivered >= g.quantity - g.cancelled + s.cancelled),
			rest AS MATERIALIZED (SELECT paper_id, SUM(net) AS net FROM (
				SELECT paper_id, MAX(SUM(net), 0) AS net FROM (SELECT paper_id, position, amount - tax AS net FROM lines_left WHERE register = 'ordered' AND amount <> 0 UNION ALL SELECT paper_id, position, net FROM since)
					WHERE (paper_id, position) NOT IN apart GROUP BY paper_id, position
				UNION ALL SELECT l.paper_id, ` + leftToBill(false) + ` FROM apart a CROSS JOIN paper_lines l ON l.paper_id = a.paper_id AND l.position = a.position
					LEFT JOIN uses u ON u.of_paper_id = l.paper_id AND u.of_position = l.position AND u.day <= @asof GROUP BY l.paper_id, l.position)
				GROUP BY paper_id HAVING SUM(net) > 0) `,
		columns: `p.id, p.number, p.day, p.party_id, p.party_name AS party, p.job_id, COALESCE(j.number, '') AS job, p.title, b.net, o.net AS left, COALESCE(p.currency, '') AS currency,
			CASE WHEN p.currency IS NULL THEN 0 ELSE (SELECT SUM(l.own_net) FROM paper_lines l WHERE l.paper_id = p.id) END AS own_net,
			CASE WHEN p.currency IS NULL THEN 0 ELSE (SELECT SUM(w.net) FROM (SELECT ` + leftToBill(true) + ` AS net FROM paper_lines l LEFT JOIN uses u ON u.of_paper_id = l.paper_id AND u.of_position = l.position AND u.day <= @asof
				WHERE l.paper_id = p.id GROUP BY l.position) w) END AS own_left`,
		from:  "rest o CROSS JOIN papers p ON p.id = o.paper_id CROSS JOIN paper_billing b ON b.paper_id = p.id LEFT JOIN jobs j ON j.id = p.job_id",
		id:    "p.id",
		sort:  "day",
		sorts: map[string]string{"day": "p.day", "number": "p.number", "party": "p.party_name COLLATE NOCASE", "job": "COALESCE(j.number, '')", "title": "p.title COLLATE NOCASE", "net": "b.net", "left": "o.net"},
		sums:  []string{"o.net"},
		once:  true,
		named: []any{asOf(at)},
	}
	l.filter("p.day <= ?", at)
	l.filter("NOT EXISTS (SELECT 1 FROM papers x WHERE x.reverses_id = p.id AND x.day <= @asof )")
	if search != "" {
		l.contains(search, "p.number", "p.party_name", "COALESCE(j.number, '')", "p.title")
	}
	return fetch[OrderRow](r, l, q)
}

// StagesOf returns the billing plan of a job, in order.
func (r Reader) StagesOf(jobID int64) ([]master.Stage, error) {
	return scan[master.Stage](r, "SELECT * FROM job_stages WHERE job_id = ? ORDER BY id", jobID)
}

// SetStages replaces it.
func (tx *Tx) SetStages(jobID int64, stages []master.Stage) error {
	if err := tx.db.Exec("DELETE FROM job_stages WHERE job_id = ?", jobID).Error; err != nil {
		return err
	}
	for _, s := range stages {
		if err := tx.db.Exec("INSERT INTO job_stages (job_id, name, percent, amount, day) VALUES (?, ?, ?, ?, ?)", jobID, s.Name, s.Percent, s.Amount, s.Day).Error; err != nil {
			return err
		}
	}
	return nil
}

// JobsWithStages returns the open jobs with a stage of their billing plan whose
// day has come.
func (r Reader) JobsWithStages(at day.Day) ([]JobRow, error) {
	return scan[JobRow](r, `SELECT j.id, j.number, j.name, j.party_id, p.name AS party FROM jobs j JOIN parties p ON p.id = j.party_id
		WHERE j.closed = 0 AND j.id IN (SELECT s.job_id FROM job_stages s WHERE s.day <> '' AND s.day <= ?) ORDER BY j.number`, at)
}

// OverdueParties returns the customers of whom something was overdue after a day
// and is still open, by name: at most so many of those that come after one; 0 for
// the first.
func (r Reader) OverdueParties(through day.Day, after int64, limit int) ([]PartyRow, error) {
	return scan[PartyRow](r, "SELECT p.id, p.name FROM parties p WHERE p.id IN ("+overdueParties+`) AND (@after = 0 OR (p.name COLLATE NOCASE, p.id) > (SELECT a.name, a.id FROM parties a WHERE a.id = @after))
		ORDER BY p.name COLLATE NOCASE, p.id LIMIT @limit`, map[string]any{"through": through, "after": after, "limit": limit})
}

// OverdueOf returns those of some customers of whom something was.
func (r Reader) OverdueOf(ids []int64, through day.Day) ([]PartyRow, error) {
	return scan[PartyRow](r, "SELECT p.id, p.name FROM parties p WHERE p.id IN @ids AND p.id IN ("+overdueParties+") ORDER BY p.name COLLATE NOCASE, p.id", map[string]any{"through": through, "ids": append([]int64{0}, ids...)})
}

// JobAt is the work that was billed on a job before a paper was posted, net, and
// what is kept back of it after that: in the firm's currency, or of a contract in
// another what bills its orders, and what is kept back, in that.
func (r Reader) JobAt(job, paper int64, currency string) (before, held money.Amount, err error) {
	type sums struct{ Before, Held money.Amount }
	if currency != "" {
		s, _, err := one[sums](r, `SELECT (SELECT COALESCE(SUM(u.own_amount - u.own_tax), 0) FROM papers o JOIN kinds k ON k.kind = o.kind JOIN uses u ON u.of_paper_id = o.id WHERE o.job_id = @job AND k.agrees = 1 AND u.as_kind = 'billed' AND u.paper_id < @paper) AS before,
			(SELECT COALESCE(SUM(i.own_amount), 0) FROM open_items i WHERE i.job_id = @job AND i.register = 'retention' AND i.currency = @currency AND i.paper_id <= @paper) AS held`,
			map[string]any{"job": job, "paper": paper, "currency": currency})
		return s.Before, s.Held, err
	}
	s, _, err := one[sums](r, `SELECT (SELECT COALESCE(SUM(b.net - b.beside), 0) FROM papers p JOIN kinds k ON k.kind = p.about JOIN paper_billing b ON b.paper_id = p.id WHERE p.job_id = @job AND p.id < @paper AND k.bills = 1) AS before,
		(SELECT COALESCE(SUM(i.amount), 0) FROM open_items i WHERE i.job_id = @job AND i.register = 'retention' AND i.paper_id <= @paper) AS held`,
		map[string]any{"job": job, "paper": paper})
	return s.Before, s.Held, err
}
