package store

import (
	"database/sql"
	"slices"
	"strings"

	"cleantally/core/day"
	"cleantally/core/ledger"
	"cleantally/core/money"
	"cleantally/core/posting"
	"cleantally/core/reporting"
)

// LooseEnd is something that was begun and is not finished.
type LooseEnd struct {
	ItemID  int64
	PaperID int64
	Kind    posting.Kind
	Number  string
	PartyID int64
	Party   string
	JobID   int64
	Job     string
	Title   string
	Invoice string // the invoice that is there, for a deposit
	Reason  string // of a dispute
	Cheque  string
	Until   day.Day // of a promise
	Credit  bool
	Day     day.Day
	Due     day.Day
	Open    money.Amount // above nil

	Position  int   // of a cost: its line
	InvoiceID int64 // of a cost that was billed
}

// LooseEnds is a group of them, by what to do next.
type LooseEnds struct {
	Group string
	Count int64
	Sum   money.Amount
	Rows  []LooseEnd `gorm:"-"`
}

// Standing returns the open items of the end of a day as a desk looks at them.
func (r Reader) Standing(at day.Day) ([]reporting.Standing, error) {
	from, err := r.openAmountsAt(at)
	if err != nil {
		return nil, err
	}
	disputed, err := r.those("SELECT i.id FROM (SELECT DISTINCT item_id AS id FROM disputes) i WHERE "+disputed, at)
	if err != nil {
		return nil, err
	}
	broken, err := r.those("SELECT paper_id FROM "+brokenPromises, at)
	if err != nil {
		return nil, err
	}
	waits, err := r.those("SELECT paper_id FROM "+waitedFor, at)
	if err != nil {
		return nil, err
	}
	var items []reporting.Standing
	// One text takes half as long as three.
	err = r.rows("SELECT i.id, i.paper_id, i.party_id, i.job_id, i.open, i.day || i.due || ' ' || i.register FROM "+from+" i", func(r *row) {
		i := reporting.Standing{ID: r.int(0), PaperID: r.int(1), PartyID: r.int(2), JobID: r.int(3), Open: r.amount(4)}
		days, register, _ := strings.Cut(r.text(5), " ")
		i.Day, i.Due, i.Register = day.Day(days[:dayWidth]), day.Day(days[dayWidth:]), ledger.Role(register)
		i.Disputed, i.Broken, i.Waits = disputed[i.ID], broken[i.PaperID], waits[i.PaperID]
		if len(items) == cap(items) {
			items = slices.Grow(items, len(items)+1) // by more than append would
		}
		items = append(items, i)
	}, asOf(at))
	if err != nil {
		return nil, err
	}
	return items, r.closedJobs(items)
}

// closedJobs notes which jobs of deposits are closed.
func (r Reader) closedJobs(items []reporting.Standing) error {
	var jobs []int64
	for _, i := range items {
		if i.Register == ledger.Deposits && i.JobID != 0 {
			jobs = append(jobs, i.JobID)
		}
	}
	closed, err := r.those("SELECT id FROM jobs WHERE closed = 1 AND id IN ("+commas(jobs)+")", "")
	for n := range items {
		items[n].Closed = closed[items[n].JobID]
	}
	return err
}

// those are the IDs that a query finds, as of a day.
func (r Reader) those(query string, at day.Day) (map[int64]bool, error) {
	found := map[int64]bool{}
	return found, r.rows(query, func(r *row) { found[r.int(0)] = true }, asOf(at))
}

// LooseEnds returns what was begun and was not finished at the end of a day, of
// the items that were open then and of all else, at most so many of a group,
// with the count and the sum of all of them.
func (r Reader) LooseEnds(items []reporting.Standing, at day.Day, small money.Amount, most int) ([]LooseEnds, error) {
	all, err := r.looseOf(reporting.LooseEndsOf(items, at, small, most), at)
	if err != nil {
		return nil, err
	}
	cheques, err := r.UnprintedCheques(at)
	if err != nil {
		return nil, err
	}
	late, err := r.lateRequests(at, most)
	if err != nil {
		return nil, err
	}
	ending, err := r.endingGuarantees(at, most)
	if err != nil {
		return nil, err
	}
	costs, err := r.looseCosts(at, most)
	if err != nil {
		return nil, err
	}
	missing, err := r.lateOrders(at, most)
	if err != nil {
		return nil, err
	}
	cards, err := r.looseCards(at, most)
	if err != nil {
		return nil, err
	}
	lines, err := r.looseLines(at)
	if err != nil {
		return nil, err
	}
	all = append(append(all, cards...), lines)
	all = append(all, late, ending, missing)
	// Money lost most often: it stands before what others owe.
	all = slices.Insert(all, slices.IndexFunc(all, func(g LooseEnds) bool { return g.Group == "deposit" }), costs...)
	// What is best done first: a cheque is, before one looks at what is late.
	place := slices.IndexFunc(all, func(g LooseEnds) bool { return g.Group == "disputed" })
	return slices.Insert(all, place, grouped("cheque", cheques, most)), nil
}

// grouped is a group of loose ends that were all read, at most so many told.
func grouped(name string, ends []LooseEnd, most int) LooseEnds {
	g := LooseEnds{Group: name, Count: int64(len(ends)), Rows: ends[:min(len(ends), most)]}
	for _, l := range ends {
		g.Sum += l.Open
	}
	return g
}

// looseOf names what is loose of open items.
func (r Reader) looseOf(groups []reporting.LooseEnds, at day.Day) ([]LooseEnds, error) {
	var items, bills []int64
	for _, g := range groups {
		for _, l := range g.First {
			items, bills = append(items, l.ID), append(bills, l.BillID)
		}
	}
	told, err := scan[LooseEnd](r, `SELECT i.id AS item_id, i.paper_id, p.kind, p.number, i.party_id, COALESCE(c.name, '') AS party, i.job_id, COALESCE(j.number, '') AS job,
		CASE WHEN i.register = 'unidentified' THEN p.reference ELSE p.title END AS title, i.day, i.due,
		COALESCE((SELECT x.reason FROM disputes x WHERE x.item_id = i.id AND x.day <= @asof ORDER BY x.id DESC LIMIT 1), '') AS reason, `+promised+` AS until
		FROM open_items i JOIN papers p ON p.id = i.paper_id LEFT JOIN parties c ON c.id = i.party_id LEFT JOIN jobs j ON j.id = i.job_id WHERE i.id IN (`+commas(items)+")", asOf(at))
	if err != nil {
		return nil, err
	}
	byID := map[int64]LooseEnd{}
	for _, l := range told {
		byID[l.ItemID] = l
	}
	names, err := r.PaperNames(bills)
	all := make([]LooseEnds, len(groups))
	for n, g := range groups {
		all[n] = LooseEnds{Group: g.Group, Count: g.Count, Sum: g.Sum}
		for _, i := range g.First {
			l := byID[i.ID]
			l.Open, l.Credit, l.Invoice = i.Open.Abs(), i.Open < 0, names[i.BillID].Number
			all[n].Rows = append(all[n].Rows, l)
		}
	}
	return all, err
}

// PaperName is what a paper is told by where little room is.
type PaperName struct{ Number, Party string }

// PaperNames are those of papers, by ID.
func (r Reader) PaperNames(papers []int64) (map[int64]PaperName, error) {
	names := map[int64]PaperName{}
	for some := range slices.Chunk(papers, 1000) {
		err := r.rows("SELECT id, number, party_name FROM papers WHERE id IN ("+commas(some)+")", func(r *row) { names[r.int(0)] = PaperName{r.text(1), r.text(2)} })
		if err != nil {
			return nil, err
		}
	}
	return names, nil
}

// UnprintedCheques returns the refunds by cheque, dated through a day, that have
// not been printed.
func (r Reader) UnprintedCheques(through day.Day) ([]LooseEnd, error) {
	return r.cheques("p.day <= ? AND NOT EXISTS (SELECT 1 FROM paper_events x WHERE x.paper_id = p.id AND x.event = 'cheque printed')", through)
}

// Cheques returns the cheques with the given papers.
func (r Reader) Cheques(papers []int64) ([]LooseEnd, error) { return r.cheques("p.id IN ?", papers) }

func (r Reader) cheques(where string, args ...any) ([]LooseEnd, error) {
	return scan[LooseEnd](r, `SELECT p.id AS paper_id, p.kind, p.number, p.party_id, p.party_name AS party, p.title, p.day, p.total AS open, y.cheque
		FROM paper_payment y CROSS JOIN papers p ON p.id = y.paper_id WHERE y.cheque <> '' AND NOT EXISTS (SELECT 1 FROM papers r WHERE r.reverses_id = p.id) AND `+where+` ORDER BY y.bank_account_id, y.cheque`, args...)
}

// PrintedCheques records that cheques were printed on a day, under an act.
func (tx *Tx) PrintedCheques(act int64, d day.Day, papers []int64) error {
	for _, id := range papers {
		if _, err := tx.exec("INSERT INTO paper_events (act_id, paper_id, day, event) VALUES (?, ?, ?, 'cheque printed')", act, id, d); err != nil {
			return err
		}
	}
	return nil
}

// WrittenAgain records that a paper is written in place of another: what is
// attached to that is attached to it too.
func (tx *Tx) WrittenAgain(act, paperID, of int64, d day.Day) error {
	_, err := tx.exec("INSERT INTO paper_events (act_id, paper_id, day, event, detail) VALUES (?, ?, ?, 'written again', json_object('of', ?))", act, paperID, d, of)
	if err != nil {
		return err
	}
	files, err := tx.Attachments(AttachedTo{PaperID: of})
	if err != nil {
		return err
	}
	return tx.AttachAll(files, AttachedTo{PaperID: paperID})
}

// Found is one answer of the search.
type Found struct {
	Kind   string // customer, job, paper, account
	ID     int64
	Name   string
	Detail string
	Amount *money.Amount
	Open   *money.Amount // of a paper, above nil
}

// Search finds customers, jobs, papers and accounts by any part of what they
// are known by; what begins with the text comes first.
func (r Reader) Search(s Sight, text string, from, to money.Amount, limit int) ([]Found, error) {
	like := pattern(text)
	starts := like[1:]
	named := map[string]any{"low": strings.ToLower(text), "starts": starts, "like": like, "limit": limit, "from": from, "to": to, "suppliers": !s.Some}
	accounts, seen := "", ""
	// Papers by any part of their number or reference, or by their amount.
	papers := `papers INDEXED BY papers_search
			WHERE (instr(search, @low) OR abs(total) BETWEEN @from AND @to) AND (number LIKE @like ESCAPE '\' OR reference LIKE @like ESCAPE '\' OR abs(total) BETWEEN @from AND @to)`
	if !s.Some && r.finder != nil {
		ready, err := r.finder.ready(r, text)
		if err != nil {
			return nil, err
		}
		if ready {
			papers = "papers WHERE id IN (SELECT value FROM json_each(@found))"
			named["found"] = r.finder.best(wanted{words: strings.ToLower(text), numbers: true, amounts: from >= 0, from: from, to: to}, limit)
		}
	}
	if s.Some {
		condition, args := s.condition()
		seen = " AND (" + strings.Replace(strings.Replace(strings.ReplaceAll(condition, "p.", "papers."), "IN ?", "IN @kinds", 1), "IN ?", "IN @open", 1) + ")"
		named["kinds"], named["open"] = args[0], args[1]
		accounts = "0 = 1 AND "
	}
	return scan[Found](r, `SELECT kind, id, name, detail, amount, CASE kind WHEN 'paper' THEN (SELECT abs(SUM(open)) FROM open_items i WHERE i.paper_id = f.id AND i.nature IN ('', 'beside') AND i.register NOT IN ('retention', 'retention payable')) END AS open FROM (
		SELECT * FROM (SELECT 'customer' AS kind, id, name, trim(number || ' · ' || town, ' ·') AS detail, NULL AS amount,
			CASE WHEN name LIKE @starts ESCAPE '\' OR number LIKE @starts ESCAPE '\' THEN 0 WHEN name LIKE '% ' || @starts ESCAPE '\' THEN 1 ELSE 2 END AS rank FROM parties
			WHERE inactive = 0 AND (is_customer = 1 OR @suppliers) AND (name LIKE @like ESCAPE '\' OR number LIKE @like ESCAPE '\' OR town LIKE @like ESCAPE '\' OR phone LIKE @like ESCAPE '\' OR contact LIKE @like ESCAPE '\') ORDER BY rank, name LIMIT @limit)
		UNION ALL SELECT * FROM (SELECT 'job', j.id, j.number || ' ' || j.name, c.name, NULL,
			CASE WHEN j.number LIKE @starts ESCAPE '\' OR j.name LIKE @starts ESCAPE '\' THEN 0 ELSE 2 END AS rank FROM jobs j CROSS JOIN parties c ON c.id = j.party_id
			WHERE j.number LIKE @like ESCAPE '\' OR j.name LIKE @like ESCAPE '\' OR j.site LIKE @like ESCAPE '\' OR j.party_id IN (SELECT n.id FROM parties n WHERE n.name LIKE @like ESCAPE '\') ORDER BY rank, j.id DESC LIMIT @limit)
		UNION ALL SELECT * FROM (SELECT 'paper', id, number, party_name || ' · ' || title, total,
			CASE WHEN number LIKE @starts ESCAPE '\' OR abs(total) BETWEEN @from AND @to THEN 0 ELSE 2 END AS rank FROM `+papers+seen+` ORDER BY rank, day DESC LIMIT @limit)
		UNION SELECT * FROM (SELECT 'paper', id, number, party_name || ' · ' || title, total, 3 AS rank FROM papers
			WHERE party_id IN (SELECT id FROM parties WHERE inactive = 0 AND name LIKE @like ESCAPE '\' ORDER BY name LIKE @starts ESCAPE '\' DESC, name LIMIT 3)`+seen+` ORDER BY day DESC, id DESC LIMIT @limit)
		UNION ALL SELECT * FROM (SELECT 'account', id, number || ' ' || name, type, NULL,
			CASE WHEN number LIKE @starts ESCAPE '\' OR name LIKE @starts ESCAPE '\' THEN 0 ELSE 2 END AS rank FROM accounts
			WHERE `+accounts+`(number LIKE @like ESCAPE '\' OR name LIKE @like ESCAPE '\') ORDER BY rank, number LIMIT @limit)) f
		GROUP BY kind, id ORDER BY MIN(rank) LIMIT @limit`, named)
}

// NothingPosted tells whether the books are still empty.
func (r Reader) NothingPosted() (bool, error) {
	_, some, err := one[int64](r, "SELECT id FROM papers LIMIT 1")
	return !some, err
}

// SmallBalances returns what is open of receivables up to a limit: debits, and
// credits up to a limit of their own, for those are the customer's money.
func (r Reader) SmallBalances(limit, credits money.Amount, today day.Day) ([]OpenItem, money.Amount, error) {
	rows, err := scan[OpenItem](r, "SELECT "+openItemColumns+" FROM open_items i"+openItemJoins+`
		WHERE i.register = 'receivables' AND i.open <> 0 AND i.open BETWEEN ? AND ? AND i.nature IN ('', 'beside') ORDER BY c.name, i.day, i.id`, -min(limit, credits), limit, asOf(today))
	var sum money.Amount
	for _, i := range rows {
		sum += max(i.Open, 0)
	}
	return rows, sum, err
}

// endingGuarantees are those that were not handed back and end this month or
// next, or have ended.
func (r Reader) endingGuarantees(at day.Day, most int) (LooseEnds, error) {
	return r.loosePapers("guarantee", at, most, "SELECT id AS paper_id FROM papers WHERE kind = '"+string(posting.Guarantee)+"'", "p.total", `b.due <= date(@asof, 'start of month', '+2 months', '-1 day')
		AND NOT EXISTS (SELECT 1 FROM paper_events e WHERE e.paper_id = p.id AND e.event = 'handed back' AND e.day <= @asof )`)
}

// lateRequests are the requests for a deposit that were not paid by their day.
func (r Reader) lateRequests(at day.Day, most int) (LooseEnds, error) {
	return r.loosePapers("request", at, most, askedStill, "o.amount", "b.due < @asof")
}

// lateOrders are the purchase orders that should have come by a day and of
// which something is neither received nor billed nor cancelled.
func (r Reader) lateOrders(at day.Day, most int) (LooseEnds, error) {
	return r.loosePapers("purchase order", at, most, boughtStill, "p.total", `b.due <> '' AND b.due < @asof AND EXISTS (SELECT 1 FROM paper_lines l WHERE l.paper_id = p.id AND CAST(l.quantity AS REAL) * 1000000 - 0.5 >
		MAX(COALESCE((SELECT SUM(u.quantity) FROM uses u WHERE u.of_paper_id = p.id AND u.of_position = l.position AND u.as_kind = 'delivered' AND u.day <= @asof ), 0),
			COALESCE((SELECT SUM(u.quantity) FROM uses u WHERE u.of_paper_id = p.id AND u.of_position = l.position AND u.as_kind = 'billed' AND u.day <= @asof ), 0))
		+ COALESCE((SELECT SUM(u.quantity) FROM uses u WHERE u.of_paper_id = p.id AND u.of_position = l.position AND u.as_kind = 'cancelled' AND u.day <= @asof ), 0))`)
}

// Where most are done with, these are the few: the requests of which something was
// left on a day, with how much, and the purchase orders of which something may
// have been. Of what was taken since there was more.
const (
	askedStill = "SELECT paper_id, SUM(amount) AS amount FROM (SELECT paper_id, amount FROM lines_left WHERE register = '" + Asked + "' AND amount <> 0" +
		" UNION ALL SELECT x.paper_id, u.amount FROM uses u INDEXED BY uses_day CROSS JOIN lines_left x ON x.paper_id = u.of_paper_id AND x.position = u.of_position AND x.register = '" + Asked + "' WHERE u.day > @asof ) GROUP BY paper_id HAVING SUM(amount) > 0"
	boughtStill = "SELECT paper_id FROM goods_left INDEXED BY goods_left_bought WHERE kind = 'purchase order' AND MIN(delivered, billed) < MAX(quantity - cancelled, delivered)" +
		" UNION SELECT g.paper_id FROM uses u INDEXED BY uses_day CROSS JOIN goods_left g ON g.paper_id = u.of_paper_id AND g.position = u.of_position AND g.kind = 'purchase order' WHERE u.day > @asof"
)

// loosePapers are, among some papers, those that stand on a day and that a
// condition holds for, with what is open of them: the first by their due day, and
// the count and the sum of all.
func (r Reader) loosePapers(group string, at day.Day, most int, among, open, where string) (LooseEnds, error) {
	rows, err := scan[struct {
		LooseEnd
		Count int64
		Sum   money.Amount
	}](r, `SELECT p.id AS paper_id, p.kind, p.number, p.party_id, p.party_name AS party, p.job_id, COALESCE(j.number, '') AS job, p.title, p.day, f.due, f.open, f.count, f.sum
		FROM (SELECT p.id, b.due, `+open+` AS open, COUNT(*) OVER () AS count, SUM(`+open+`) OVER () AS sum FROM (`+among+`) o CROSS JOIN papers p ON p.id = o.paper_id CROSS JOIN paper_billing b ON b.paper_id = p.id
			WHERE p.day <= @asof AND `+where+` AND NOT EXISTS (SELECT 1 FROM papers x WHERE x.reverses_id = p.id AND x.day <= @asof ) ORDER BY b.due, p.id LIMIT @most) f
		CROSS JOIN papers p ON p.id = f.id LEFT JOIN jobs j ON j.id = p.job_id ORDER BY f.due, p.id`, asOf(at), sql.Named("most", most))
	g := LooseEnds{Group: group}
	for _, x := range rows {
		g.Rows, g.Count, g.Sum = append(g.Rows, x.LooseEnd), x.Count, x.Sum
	}
	return g, err
}
