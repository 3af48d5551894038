package store

import (
	"cmp"
	"database/sql"
	"fmt"
	"slices"
	"strings"

	"cleantally/core/billing"
	"cleantally/core/day"
	"cleantally/core/money"
	"cleantally/core/posting"

	"github.com/shopspring/decimal"
)

// CreditRow is a credit note in the list of them; its amounts are told above
// nil.
type CreditRow struct {
	ID         int64
	Number     string
	Day        day.Day
	PartyID    int64
	Party      string
	JobID      int64
	Job        string
	Cause      string // "" for that of a deposit invoice
	Reason     string
	Reference  string
	OfID       int64
	Of         string // number of the invoice; "" for none
	Net        money.Amount
	Tax        money.Amount
	Total      money.Amount
	Open       money.Amount // that waits to be used
	ReversedBy string
}

// CreditFilter narrows the list of credit notes. Empty fields do not.
type CreditFilter struct {
	Search  string
	In      string        // the column that Search looks in; "" for any text of the paper
	Amount  *money.Amount // what Search says, when it reads as an amount
	State   string        // waiting, used, reversed
	Cause   string
	PartyID int64
	From    day.Day
	To      day.Day
}

// creditColumns are the columns that credit notes are searched by.
var creditColumns = map[string]string{
	"number": "p.number", "customer": "p.party_name", "invoice": "COALESCE((SELECT v.number FROM papers v WHERE v.id = p.source_id), '')", "job": "COALESCE(j.number || ' ' || j.name, '')", "reason": "p.reason", "reference": "p.reference",
	"line": "(SELECT group_concat(l.text, char(10)) FROM paper_lines l WHERE l.paper_id = p.id)",
}

// Credits returns credit notes as they stood at the end of a day, the newest
// first. Its sums are of net, tax, total and what waits.
func (r Reader) Credits(f CreditFilter, q Query, at day.Day) (Page[CreditRow], error) {
	x, err := r.paperSQL(at)
	if err != nil {
		return Page[CreditRow]{}, err
	}
	items, err := r.openCreditsAt(at)
	if err != nil {
		return Page[CreditRow]{}, err
	}
	moved, err := r.movedAfter(at)
	if err != nil {
		return Page[CreditRow]{}, err
	}
	open := "COALESCE(-w.open, 0)" // of the few that wait
	waits := func(items string) string {
		return " LEFT JOIN (SELECT i.paper_id, SUM(i.open) AS open FROM " + items + " i WHERE " + bare + " GROUP BY i.paper_id) w ON w.paper_id = p.id"
	}
	const added = "papers p JOIN paper_billing b ON b.paper_id = p.id"
	const from = added + " LEFT JOIN jobs j ON j.id = p.job_id LEFT JOIN papers v ON v.id = p.source_id"
	byWords := "CASE b.form" // as it is read
	for _, c := range billing.Causes {
		byWords += fmt.Sprintf(" WHEN '%s' THEN '%s'", c, c.Words())
	}
	byWords += " ELSE 'billed in advance' END"
	l := listing{
		columns: `p.id, p.number, p.day, p.party_id, p.party_name AS party, p.job_id, COALESCE(j.number, '') AS job, b.form AS cause, p.reason, p.reference, COALESCE(v.id, 0) AS of_id, COALESCE(v.number, '') AS of,
			-b.net AS net, -b.tax AS tax, -p.total AS total, ` + open + ` AS open, COALESCE((SELECT r.number FROM papers r WHERE r.reverses_id = p.id AND r.day <= @asof ), '') AS reversed_by`,
		from: from + waits(items),
		few:  func(ids string) string { return from + waits(openWhere(moved, "i.paper_id IN ("+ids+")")) },
		once: f.Search != "",
		id:   "p.id",
		sort: "day", desc: true,
		sorts: map[string]string{"day": "p.day", "number": "p.number", "party": "p.party_name COLLATE NOCASE", "job": "COALESCE(j.number, '')", "cause": byWords, "reason": "p.reason COLLATE NOCASE", "reference": "p.reference",
			"of": "COALESCE(v.number, '')", "net": "-b.net", "tax": "-b.tax", "total": "-p.total", "open": open},
		sums:  []string{"-b.net", "-b.tax", "-p.total", open},
		named: []any{asOf(at)},
	}
	l.filter("p.kind = ? AND p.day <= ?", posting.CreditNote, at)
	switch column, known := creditColumns[f.In]; {
	case f.Search == "":
	case known:
		l.contains(f.Search, column)
	case f.In == "amount" && f.Amount == nil:
		l.filter("1 = 0")
	case f.Amount != nil:
		text := "instr(p.search, ?) OR "
		args := []any{strings.ToLower(f.Search)}
		if f.In == "amount" {
			text, args = "", nil
		}
		l.filter(text+"? IN (-p.total, -b.net, "+open+")", append(args, f.Amount.Abs())...)
	default:
		l.filter("instr(p.search, ?) OR "+creditColumns["reason"]+` LIKE ? ESCAPE '\' OR `+creditColumns["invoice"]+` LIKE ? ESCAPE '\'`, strings.ToLower(f.Search), pattern(f.Search), pattern(f.Search))
		few, err := f.find(r, &l)
		if err != nil {
			return Page[CreditRow]{}, err
		}
		// Of many the first in their own order are soon found.
		l.once = few || q.Sort != "" && q.Sort != l.sort
		if !l.once {
			l.added = added + waits(items)
			if f.State != "waiting" { // what waits need not be known to find them
				l.ways = map[string][]way{l.sort: {{from: from, id: "p.id", key: l.sorts[l.sort]}}}
			}
		}
	}
	switch f.State {
	case "waiting":
		l.filter(open + " > 0")
	case "used":
		// All but the few that wait, or were taken back.
		l.except = "p.id IN (SELECT i.paper_id FROM " + items + " i WHERE " + bare + " GROUP BY i.paper_id HAVING SUM(i.open) < 0 UNION " + x.reversed + ")"
	case "reversed":
		l.filter("p.id IN (" + x.reversed + ")")
	}
	if f.Cause != "" {
		l.filter("b.form = ?", f.Cause)
	}
	if f.PartyID != 0 {
		l.filter("p.party_id = ?", f.PartyID)
	}
	l.between("p.day", f.From, f.To)
	if f.Search == "" && (f.State == "" || f.State == "used") && f.Cause == "" && f.PartyID == 0 && len(q.IDs) == 0 {
		l.kept = f.kept(at, items)
		if f.State == "" && q.Sort != "open" && q.Limit > 0 {
			l.from = from
		}
	}
	return fetch[CreditRow](r, l, q)
}

// find narrows credit notes to those in which what is searched for may stand, where
// they are few: by what is in memory of all papers, by their reason, and by the
// number of what they credit.
func (f CreditFilter) find(r Reader, l *listing) (few bool, err error) {
	words := strings.ToLower(f.Search)
	if r.finder == nil {
		return false, nil
	}
	if ready, err := r.finder.ready(r, words); err != nil || !ready {
		return false, err
	}
	said, _, err := one[int64](r, "SELECT COUNT(*) FROM papers INDEXED BY papers_reason WHERE kind = 'credit note' AND reason <> '' AND reason LIKE ? ESCAPE '\\'", pattern(f.Search))
	if err != nil || said > fewFound {
		return false, err
	}
	found, few := r.finder.found(wanted{words: words, kind: posting.CreditNote})
	credited, fewCredited := r.finder.found(wanted{words: words, numbers: true})
	if few = few && fewCredited; few {
		l.from = `(SELECT value AS id FROM json_each(@found ) UNION SELECT id FROM papers INDEXED BY papers_reason WHERE kind = 'credit note' AND reason <> '' AND reason LIKE @pattern ESCAPE '\'
			UNION SELECT c.id FROM json_each(@credited ) v CROSS JOIN papers c ON c.source_id = v.value WHERE c.kind = 'credit note') found CROSS JOIN ` + strings.Replace(l.from, "papers p", "papers p ON p.id = found.id", 1)
		l.named = append(l.named, sql.Named("found", found), sql.Named("credited", credited), sql.Named("pattern", pattern(f.Search)))
	}
	return few, nil
}

// kept are the count and the sums of credit notes that are narrowed by day alone.
func (f CreditFilter) kept(at day.Day, items string) *keptTotals {
	k := &keptTotals{query: "SELECT COALESCE(SUM(d.papers), 0), COALESCE(-SUM(d.net), 0), COALESCE(-SUM(d.tax), 0), COALESCE(-SUM(d.total), 0), (SELECT COALESCE(-SUM(i.open), 0) FROM " + items + " i CROSS JOIN papers p ON p.id = i.paper_id WHERE " + bare + " AND p.kind = @credit AND p.day BETWEEN @first AND @last ) FROM paper_days d"}
	first, last := f.From, at
	if f.To != "" {
		last = min(last, f.To)
	}
	k.filter("d.kind = @credit AND d.day BETWEEN @first AND @last ", sql.Named("credit", posting.CreditNote), sql.Named("first", first), sql.Named("last", last), asOf(at))
	return k
}

// BackRow is what came back by one line of a credit note or a return.
type BackRow struct {
	PaperID   int64
	Position  int
	Kind      posting.Kind
	Number    string
	Day       day.Day
	PartyID   int64
	Party     string
	OfID      int64
	Of        string // number of the invoice or the order
	ArticleID int64
	Article   string
	Stocked   bool
	Text      string
	Unit      string
	Quantity  decimal.Decimal
	Back      posting.Millionths // of it, to stock
	Serials   string             // of those
	Cost      money.Amount       // at which they came back
	Net       money.Amount       // that was credited
	Reason    string
	Reference string
}

// BackFilter narrows the register of returns. Empty fields do not.
type BackFilter struct {
	Search    string
	Where     string // stock: what went there; scrap: what did not
	ArticleID int64
	From      day.Day
	To        day.Day
}

// CameBack returns the goods that came back by the end of a day, line by line,
// the newest first: by returns, and by credit notes whose cause is a return or
// whose goods went to stock. Its sums are of the cost and of what was credited.
func (r Reader) CameBack(f BackFilter, q Query, at day.Day) (Page[BackRow], error) {
	x, err := r.paperSQL(at)
	if err != nil {
		return Page[BackRow]{}, err
	}
	move := func(column string) string {
		return "COALESCE((SELECT SUM(m." + column + ") FROM stock_moves m WHERE m.paper_id = p.id AND m.by_paper_id = p.id AND m.by_position = l.position AND m.quantity > 0), 0)"
	}
	back, cost, net := move("quantity"), move("value"), "MAX(-l.net, 0)"
	l := listing{
		columns: `p.id AS paper_id, l.position, p.kind, p.number, p.day, p.party_id, p.party_name AS party, COALESCE(v.id, 0) AS of_id, COALESCE(v.number, '') AS of, COALESCE(a.id, 0) AS article_id, COALESCE(a.code, '') AS article,
			COALESCE(a.stocked, 0) AS stocked, l.text, l.unit, l.quantity, ` + back + ` AS back, ` + cost + ` AS cost, ` + net + ` AS net, p.reason, p.reference,
			COALESCE((SELECT group_concat(s.serial, ', ') FROM stock_moves m JOIN stock_serials s ON s.move_id = m.id WHERE m.paper_id = p.id AND m.by_position = l.position AND m.quantity > 0), '') AS serials`,
		from: "papers p JOIN paper_lines l ON l.paper_id = p.id LEFT JOIN paper_billing b ON b.paper_id = p.id LEFT JOIN articles a ON a.id = l.article_id LEFT JOIN papers v ON v.id = p.source_id",
		id:   "(p.id * 1000 + l.position)", paper: "p.id",
		sort: "day", desc: true,
		sorts: map[string]string{"day": "p.day", "number": "p.number", "party": "p.party_name COLLATE NOCASE", "of": "COALESCE(v.number, '')", "article": "COALESCE(a.code, '') COLLATE NOCASE", "text": "l.text COLLATE NOCASE",
			"quantity": "CAST(l.quantity AS REAL)", "back": back, "cost": cost, "credited": net, "reason": "p.reason COLLATE NOCASE", "reference": "p.reference"},
		sums:  []string{cost, net},
		named: []any{asOf(at)},
	}
	l.filter("p.kind IN (?, ?) AND p.day <= ? AND p.id NOT IN ("+x.reversed+") AND (p.kind = ? OR l.net < 0 AND (b.form = 'return' OR "+back+" > 0))", posting.Return, posting.CreditNote, at, posting.Return)
	// Most credit notes brought nothing back.
	l.filter("p.id IN (SELECT id FROM papers WHERE kind = 'return' UNION SELECT paper_id FROM paper_billing INDEXED BY paper_billing_form WHERE form <> '' AND form = 'return' UNION SELECT paper_id FROM goods_back)")
	if f.Search != "" {
		l.contains(f.Search, "l.text", "a.code", "p.number", "p.party_name", "p.reference", "p.reason", "v.number")
	}
	switch f.Where {
	case "stock":
		l.filter(back + " > 0")
	case "scrap":
		l.filter("a.stocked = 1 AND " + back + " < CAST(ROUND(CAST(l.quantity AS REAL) * 1000000) AS INTEGER)")
	}
	if f.ArticleID != 0 {
		l.filter("a.id = ?", f.ArticleID)
	}
	l.between("p.day", f.From, f.To)
	return fetch[BackRow](r, l, q)
}

// CreditedBy is what was credited of one cause, item, account, customer or
// month.
type CreditedBy struct {
	ID    int64 // of what it is; 0 where that has none
	Name  string
	Notes int64 // how many credit notes
	Net   money.Amount
	Tax   money.Amount
}

// creditGroups are what credits are told by: what tells them apart, and what
// they are called.
var creditGroups = map[string]struct{ id, name string }{
	"cause":    {"0", "b.form"},
	"item":     {"COALESCE(a.id, 0)", "CASE WHEN a.id IS NULL THEN l.text ELSE a.code || ' ' || a.name END"},
	"account":  {"c.id", "c.number || ' ' || c.name"},
	"customer": {"p.party_id", "p.party_name"},
	"month":    {"0", "substr(p.day, 1, 7)"},
}

// CreditedBy returns what was credited over a span, net and tax, by what is
// asked for: the most first, months in their order. What was reversed by the end of
// the span is left out.
func (r Reader) CreditedBy(by string, from, to day.Day) ([]CreditedBy, error) {
	g, ok := creditGroups[by]
	if !ok {
		return nil, fmt.Errorf("credits are not told by %q", by)
	}
	rows, err := scan[CreditedBy](r, `SELECT `+g.id+` AS id, `+g.name+` AS name, COUNT(DISTINCT p.id) AS notes, SUM(-l.net) AS net, SUM(-l.tax) AS tax
		FROM papers p INDEXED BY papers_kind JOIN paper_billing b ON b.paper_id = p.id JOIN paper_lines l ON l.paper_id = p.id LEFT JOIN articles a ON a.id = l.article_id LEFT JOIN accounts c ON c.id = l.account_id
		WHERE p.kind = ? AND p.day BETWEEN ? AND ? AND NOT EXISTS (SELECT 1 FROM papers r WHERE r.reverses_id = p.id AND r.day <= ?) GROUP BY 1, 2 ORDER BY SUM(-l.net) DESC, 2`, posting.CreditNote, from, to, to)
	if by == "month" {
		slices.SortFunc(rows, func(a, b CreditedBy) int { return cmp.Compare(a.Name, b.Name) })
	}
	return rows, err
}
