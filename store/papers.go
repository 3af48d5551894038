package store

import (
	"database/sql"
	"errors"
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
	Currency   string       // ISO 4217; "" for the firm's own
	OwnTotal   money.Amount // in it
	OwnOpen    money.Amount
	ReversedBy string

	ReversedKind posting.Kind
	WrittenOff   bool
	Taken        money.Amount // of a paper whose lines are taken one by one
	Cancelled    money.Amount // of what is taken
	Holds        day.Day      // of a quote
	Lost         bool         // of a quote
	Sent         bool
	Newer        string // number of the version that took its place
	Reason       string
	Cheque       string
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
	Sight   Sight
}

// paperSQL is what a list of papers is made of, as of the end of a day. The
// state of a paper is that of what it is about: what it settles or takes out
// beside that does not count.
type paperSQL struct{ columns, open, due, reversed string }

func (r Reader) paperSQL(d day.Day) (paperSQL, error) {
	moved, err := r.movedAfter(d)
	open, due := "(SELECT COALESCE(SUM(i.open), 0) FROM open_items i WHERE i.paper_id = p.id AND i.nature = '' AND i.register NOT IN ('retention', 'retention payable'))", "i.open <> 0"
	until := ""
	if moved {
		until = " AND +r.day <= @asof " // by what it reverses, not through all of its day
		open = "(SELECT COALESCE(SUM(m.amount), 0) FROM open_items i CROSS JOIN item_moves m ON m.item_id = i.id WHERE i.paper_id = p.id AND i.nature = '' AND i.register NOT IN ('retention', 'retention payable') AND m.day <= @asof )"
		due = "(SELECT SUM(m.amount) FROM item_moves m WHERE m.item_id = i.id AND m.day <= @asof ) <> 0"
	}
	due = "COALESCE((SELECT MIN(i.due) FROM open_items i WHERE i.paper_id = p.id AND i.due <> '' AND " + due + "), b.due, '')"
	abroad, err2 := r.abroad()
	own := ""
	if abroad {
		own = `COALESCE(p.currency, '') AS currency, COALESCE(p.own_total, p.total) AS own_total, CASE WHEN p.currency IS NULL THEN 0 ELSE ` + strings.NewReplacer("SUM(i.open)", "SUM(i.own_open)", "SUM(m.amount)", "SUM(m.own_amount)").Replace(open) + ` END AS own_open, `
	}
	return paperSQL{own + `p.id, p.kind, p.number, p.day, p.party_id, p.party_name AS party, p.job_id, COALESCE(j.number, '') AS job, p.title, p.reference, p.total, p.reason, COALESCE(y.cheque, '') AS cheque,
		` + due + ` AS due,
		(SELECT COALESCE(SUM(i.amount), 0) FROM open_items i WHERE i.paper_id = p.id AND i.nature = '' AND i.register NOT IN ('retention', 'retention payable')) AS amount, ` + open + ` AS open,
		COALESCE((SELECT r.number FROM papers r WHERE r.reverses_id = p.id` + until + `), '') AS reversed_by,
		COALESCE((SELECT r.kind FROM papers r WHERE r.reverses_id = p.id` + until + `), '') AS reversed_kind, ` + givenUp + ` AS written_off, ` + takenOf + ` AS taken, ` + cancelledOf + ` AS cancelled, COALESCE(o.holds, '') AS holds,
		(o.paper_id IS NOT NULL OR p.kind = 'guarantee') AND EXISTS (SELECT 1 FROM paper_events e WHERE e.paper_id = p.id AND e.event IN ('lost', 'handed back') AND e.day <= @asof ) AS lost,
		EXISTS (SELECT 1 FROM paper_events e WHERE e.paper_id = p.id AND e.event = 'sent' AND e.day <= @asof ) AS sent,
		CASE WHEN o.paper_id IS NOT NULL THEN COALESCE((SELECT n.number FROM papers n WHERE n.source_id = p.id AND n.kind = p.kind AND n.day <= @asof LIMIT 1), '') ELSE '' END AS newer`,
		open, due, "SELECT r.reverses_id FROM papers r WHERE r.reverses_id > 0" + until}, errors.Join(err, err2)
}

// paperFrom are papers with what their families have, and their job.
const paperFrom = "papers p" + paperJoins

const paperJoins = " LEFT JOIN jobs j ON j.id = p.job_id LEFT JOIN paper_billing b ON b.paper_id = p.id LEFT JOIN paper_payment y ON y.paper_id = p.id LEFT JOIN paper_offers o ON o.paper_id = p.id"

func (x paperSQL) listing() listing {
	return listing{
		columns: x.columns,
		from:    paperFrom,
		id:      "p.id",
		sort:    "day", desc: true,
		sorts: map[string]string{"day": "p.day", "number": "p.number", "kind": "p.kind", "party": "p.party_name COLLATE NOCASE", "job": "COALESCE(j.number, '')",
			"title": "p.title COLLATE NOCASE", "reference": "p.reference COLLATE NOCASE", "total": "p.total", "open": "abs(" + x.open + ")", "due": x.due},
		sums: []string{"p.total"},
	}
}

// bare narrows what a paper's state is told by: what it settles or takes out
// beside that, and what is kept back, does not count.
// The nature is not looked up: SQLite would first make itself an index by it.
const bare = "+i.nature = '' AND i.register NOT IN ('retention', 'retention payable')"

// ways are the sorts of papers that follow from few of them, or from another
// list: what is open is a small part of all, and so is what bears a job.
// Where the list is of all papers of its day, what is open then is within it.
func paperWays(open string, all bool) map[string][]way {
	isOpen, isDue := " FROM "+open+" i WHERE "+bare, " FROM "+open+" i WHERE i.due <> ''"
	some := func(s string) way {
		w := way{from: "(" + s + " GROUP BY i.paper_id) s", id: "s.paper_id", whole: all}
		if !all {
			w.from += " CROSS JOIN papers p ON p.id = s.paper_id"
		}
		return w
	}
	opens, dues := some("SELECT i.paper_id, abs(SUM(i.open)) AS open"+isOpen), some("SELECT i.paper_id, MIN(i.due) AS due"+isDue)
	opens.key, dues.key = "s.open", "s.due"
	// The most are among the rest. SQLite is told otherwise, or it would first read
	// all papers, to pass over those that are not of the list.
	rest := func(id, open string) string {
		return "likelihood(" + id + " NOT IN (SELECT i.paper_id" + open + "), 0.001)"
	}
	const id = "p.id"
	return map[string][]way{
		"open": {opens, {from: byID, id: id, where: rest(id, isOpen), same: "0"}},
		"due": {dues, {from: "paper_billing b CROSS JOIN papers p ON p.id = b.paper_id", id: "b.paper_id", where: rest("b.paper_id", isDue), key: "b.due"},
			{from: byID, id: id, where: "NOT EXISTS (SELECT 1 FROM paper_billing b WHERE b.paper_id = p.id) AND " + rest(id, isDue), same: "''"}},
		"job": {{from: "jobs j CROSS JOIN papers p ON p.job_id = j.id", id: id, key: "j.number"}, {from: byID, id: id, where: "p.job_id IS NULL", same: "''"}},
	}
}

// byID are the papers in the order in which they were posted.
const byID = "papers p NOT INDEXED"

// Papers returns posted papers of every kind as they stood at the end of a
// day. Its one sum is of their totals.
func (r Reader) Papers(f PaperFilter, q Query, at day.Day, past bool) (Page[PaperRow], error) {
	x, err := r.paperSQL(at)
	if err != nil {
		return Page[PaperRow]{}, err
	}
	open, err := r.openAmountsAt(at)
	if err != nil {
		return Page[PaperRow]{}, err
	}
	l := x.listing()
	l.named = []any{asOf(at)}
	if past {
		l.filter("p.day <= ?", at)
		l.with, open = "WITH was AS MATERIALIZED (SELECT i.paper_id, i.register, i.nature, i.due, i.open FROM "+open+" i) ", "was"
	}
	if err := f.find(r, &l, q, at, past); err != nil {
		return Page[PaperRow]{}, err
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
	l.between("p.day", f.From, f.To)
	f.Sight.narrow(&l.narrowing)
	if !f.Sight.Some && f.Search == "" && f.PartyID == 0 && f.JobID == 0 && f.State == "" {
		l.kept = f.kept(at, past)
	}
	if f.Search == "" && f.PartyID == 0 && f.JobID == 0 && q.After == 0 {
		l.ways = paperWays(open, f.State == "" && f.Kind == "" && f.From == "" && f.To == "" && !f.Sight.Some)
	}
	taken := "SELECT id FROM papers WHERE kind IN (SELECT kind FROM kinds WHERE takes_back = 1) UNION " + x.reversed
	unsettled := "SELECT i.paper_id FROM " + open + " i WHERE " + bare
	switch f.State {
	case "open":
		l.filter("p.id IN (" + unsettled + ")")
	case "overdue":
		l.filter("p.id IN (SELECT i.paper_id FROM "+open+" i WHERE i.open > 0 AND i.register = 'receivables' AND i.due < ?)", at)
	case "settled":
		l.except = "p.id IN (" + unsettled + " UNION " + taken + ")"
		if !f.Sight.Some && f.Search == "" && f.PartyID == 0 && f.JobID == 0 {
			l.kept = f.kept(at, past)
		}
	case "reversed":
		l.filter("p.id IN (" + taken + ")")
	}
	// What is open takes its time to find: once, not again for the sums.
	if (f.State == "open" || f.State == "overdue") && l.ways[q.Sort] == nil && f.Search == "" {
		l.once = true
	}
	return fetch[PaperRow](r, l, q)
}

// find adds what is searched for: from memory, or where that is not read yet, or
// finds very many, by a look at all papers.
func (f PaperFilter) find(r Reader, l *listing, q Query, at day.Day, past bool) error {
	if f.Search == "" {
		return nil
	}
	words := strings.ToLower(f.Search)
	if r.finder != nil {
		ready, err := r.finder.ready(r, words)
		if err != nil {
			return err
		}
		w := wanted{words: words, since: f.From, until: f.To, kind: f.Kind}
		if past && (w.until == "" || at < w.until) {
			w.until = at
		}
		if f.Amount != nil {
			w.amounts, w.from, w.to = true, f.Amount.Abs(), f.Amount.Abs()
		}
		byDay := (q.Sort == "" || q.Sort == "day") && q.Limit > 0 && len(q.IDs) == 0
		switch {
		case !ready:
		case byDay && !f.Sight.Some && f.PartyID == 0 && f.JobID == 0 && f.State == "":
			page := r.finder.page(w, q.Sort == "" || q.Desc, q.After, q.Limit+1)
			l.found = &page
			return nil
		default:
			if ids, few := r.finder.found(w); few {
				l.from, l.few, l.once = "json_each(@found) found CROSS JOIN papers p ON p.id = found.value"+paperJoins, func(string) string { return paperFrom }, true
				l.named = append(l.named, sql.Named("found", ids))
				return nil
			}
		}
	}
	if f.Amount != nil {
		l.filter("instr(p.search, ?) OR abs(p.total) = ?", words, f.Amount.Abs())
	} else {
		l.filter("instr(p.search, ?)", words)
	}
	if f.PartyID == 0 && f.JobID == 0 {
		l.once, l.from, l.few = true, "papers p INDEXED BY papers_search"+paperJoins, func(string) string { return paperFrom }
	}
	return nil
}

// kept are the count and the sum of papers that are narrowed by kind and day
// alone.
func (f PaperFilter) kept(at day.Day, past bool) *keptTotals {
	k := &keptTotals{query: "SELECT COALESCE(SUM(d.papers), 0), COALESCE(SUM(d.total), 0) FROM paper_days d"}
	if past {
		k.filter("d.day <= ?", at)
	}
	if f.Kind != "" {
		k.filter("d.kind = ?", f.Kind)
	}
	k.between("d.day", f.From, f.To)
	return k
}

// PaperRow returns one paper as a list shows it.
func (r Reader) PaperRow(id int64, at day.Day) (PaperRow, bool, error) {
	x, err := r.paperSQL(at)
	if err != nil {
		return PaperRow{}, false, err
	}
	return one[PaperRow](r, "SELECT "+x.columns+" FROM "+paperFrom+" WHERE p.id = ?", id, asOf(at))
}

// Paper returns a posted paper with its lines.
func (r Reader) Paper(id int64) (posting.Paper, bool, error) {
	f := &Facts{r: r, papers: map[int64]posting.Paper{}}
	p, ok := f.Paper(id)
	return p, ok, f.err
}

// DisputeOf returns why an item of a paper was disputed at the end of a day; ""
// when none was.
func (r Reader) DisputeOf(paperID int64, at day.Day) (string, error) {
	reason, _, err := one[string](r, `SELECT x.reason FROM disputes x JOIN open_items i ON i.id = x.item_id
		WHERE i.paper_id = ? AND x.day <= ? ORDER BY x.id DESC LIMIT 1`, paperID, at)
	return reason, err
}

// LinkedPaper is a paper that another one leads to.
type LinkedPaper struct {
	ID       int64
	Kind     posting.Kind
	Number   string
	Day      day.Day
	Total    money.Amount
	Reverses bool // it takes the other one back
}

// LinksOf returns what a paper reverses and stands on, what took it back and
// what stands on it, a payout by card among that.
func (r Reader) LinksOf(id int64) ([]LinkedPaper, error) {
	return scan[LinkedPaper](r, `SELECT id, kind, number, day, total, COALESCE(reverses_id = @id, 0) AS reverses FROM papers
		WHERE id IN (SELECT reverses_id FROM papers WHERE id = @id UNION SELECT source_id FROM papers WHERE id = @id
		UNION SELECT id FROM papers WHERE reverses_id = @id UNION SELECT id FROM papers WHERE source_id = @id
		UNION SELECT u.paper_id FROM uses u WHERE u.of_paper_id = @id AND u.as_kind = 'paid out' AND u.undoes IS NULL AND NOT EXISTS (SELECT 1 FROM uses o WHERE o.undoes = u.id)) ORDER BY id`, map[string]any{"id": id})
}

// ClearedBy returns what a payout by card cleared, in the order in which it was
// chosen.
func (r Reader) ClearedBy(id int64) ([]Taking, error) {
	return scan[Taking](r, `SELECT p.id AS paper_id, p.kind, p.number, p.day, p.party_id, p.party_name AS party, p.reference, u.amount FROM uses u JOIN papers p ON p.id = u.of_paper_id
		WHERE u.paper_id = ? AND u.as_kind = 'paid out' AND u.undoes IS NULL ORDER BY u.id`, id)
}

// AgainOf returns the papers that a paper is written in place of, and those
// that are written in place of it: reverses is set of the former.
func (r Reader) AgainOf(id int64) ([]LinkedPaper, error) {
	return scan[LinkedPaper](r, `SELECT p.id, p.kind, p.number, p.day, p.total, e.paper_id = @id AS reverses
		FROM (SELECT id FROM paper_events WHERE paper_id = @id AND event = 'written again' UNION SELECT id FROM paper_events WHERE event = 'written again' AND json_extract(detail, '$.of') = @id) x
		CROSS JOIN paper_events e ON e.id = x.id JOIN papers p ON p.id = CASE e.paper_id WHEN @id THEN json_extract(e.detail, '$.of') ELSE e.paper_id END ORDER BY e.id`, map[string]any{"id": id})
}

// ItemsOf returns the open items that a paper made, as they stood at the end of
// a day.
func (r Reader) ItemsOf(paperID int64, at day.Day) ([]posting.Item, error) {
	f := &Facts{r: r}
	items := f.PaperItems(paperID)
	moves := f.readMoves("WHERE item_id IN (SELECT id FROM open_items WHERE paper_id = ?) AND day <= ?", paperID, at)
	for n := range items {
		items[n].Left = posting.Part{}
		for _, m := range moves {
			if m.Item == items[n].ID {
				items[n].Left = items[n].Left.Add(m.Part)
			}
		}
	}
	return items, f.err
}

// ItemsOfPapers returns the IDs of the open items that papers made.
func (r Reader) ItemsOfPapers(papers []int64) ([]int64, error) {
	if len(papers) == 0 {
		return nil, nil
	}
	return scan[int64](r, "SELECT id FROM open_items WHERE paper_id IN ? AND nature = '' AND open <> 0 ORDER BY id", papers)
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

const selectLines = `SELECT e.id AS entry_id, e.paper_id, p.number AS paper, p.kind, e.day, e.text, l.account_id, l.amount, COALESCE(l.currency, '') AS currency, COALESCE(l.own_amount, 0) AS own, l.party_id, l.job_id, l.tax_code_id,
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
	DebitRef   string
	CreditItem int64
	CreditID   int64 // paper
	Credit     string
	CreditDay  day.Day
	CreditKind posting.Kind
	CreditRef  string
	Payable    bool // we owe: what is credit is owed, and what is debit settles it
	Undoes     int64
	UndoneOn   day.Day // "" while it stands
	Currency   string  // of the amount, ISO 4217; "" for the firm's own

	DebitNature  posting.Nature
	CreditNature posting.Nature
}

// Turned is the allocation with what is owed on the debit side, also where it is
// we who owe.
func (a AllocationRow) Turned() AllocationRow {
	if a.Payable {
		a.DebitID, a.Debit, a.DebitDay, a.DebitKind, a.DebitRef, a.CreditID, a.Credit, a.CreditDay, a.CreditKind, a.CreditRef =
			a.CreditID, a.Credit, a.CreditDay, a.CreditKind, a.CreditRef, a.DebitID, a.Debit, a.DebitDay, a.DebitKind, a.DebitRef
	}
	return a
}

// TakesBack tells whether it is what a reversal or a return sets against what
// it takes back.
func (a AllocationRow) TakesBack() bool { return takesBack(a.DebitNature) || takesBack(a.CreditNature) }

func takesBack(n posting.Nature) bool { return n == posting.Opposite || n == posting.TakenBack }

// Bound says what an allocation is bound to, so that it is not undone by itself:
// a refund, a discount; "" for nothing.
func (a AllocationRow) Bound() string {
	for _, side := range []struct {
		nature posting.Nature
		kind   posting.Kind
	}{{a.DebitNature, a.DebitKind}, {a.CreditNature, a.CreditKind}} {
		n := side.nature
		if n == posting.Closing {
			return string(side.kind)
		}
		if n.Bound() || n.WithPlacement() || takesBack(n) {
			return string(n)
		}
	}
	return ""
}

const selectAllocations = `SELECT a.id, a.day, a.amount, a.debit_id AS debit_item, dp.id AS debit_id, dp.number AS debit, dp.day AS debit_day, dp.kind AS debit_kind, dp.reference AS debit_ref,
	a.credit_id AS credit_item, cp.id AS credit_id, cp.number AS credit, cp.day AS credit_day, cp.kind AS credit_kind, cp.reference AS credit_ref,
	a.undoes, COALESCE((SELECT u.day FROM allocations u WHERE u.undoes = a.id AND u.day <= @asof ), '') AS undone_on, COALESCE(d.currency, '') AS currency, d.nature AS debit_nature, c.nature AS credit_nature, c.register IN ('payables', 'supplier prepayments', 'retention payable') AS payable
	FROM allocations a JOIN open_items d ON d.id = a.debit_id JOIN papers dp ON dp.id = d.paper_id
	JOIN open_items c ON c.id = a.credit_id JOIN papers cp ON cp.id = c.paper_id `

// AllocationsOf returns every allocation of a paper's items through a day,
// those undone included.
func (r Reader) AllocationsOf(paperID int64, at day.Day) ([]AllocationRow, error) {
	return scan[AllocationRow](r, selectAllocations+`WHERE +a.undoes IS NULL AND a.day <= @asof AND a.id IN (`+allocationsOf+`) ORDER BY a.day, a.id`, map[string]any{"paper": paperID, "asof": at})
}

// RecentAllocations returns a customer's allocations that stood at the end of
// a day, the newest first, to be undone from the bench.
func (r Reader) RecentAllocations(partyID int64, payable bool, at day.Day, limit int) ([]AllocationRow, error) {
	return scan[AllocationRow](r, selectAllocations+`WHERE a.party_id = ? AND +a.undoes IS NULL AND a.day <= @asof AND NOT EXISTS (SELECT 1 FROM allocations u WHERE u.undoes = a.id AND u.day <= @asof )
		AND d.nature IN ('', 'beside') AND c.nature IN ('', 'beside') AND (c.register = 'payables') = ? ORDER BY a.id DESC LIMIT ?`, partyID, payable, limit, asOf(at))
}
