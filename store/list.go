package store

import (
	"cmp"
	"database/sql"
	"fmt"
	"slices"
	"strconv"
	"strings"

	"cleantally/core/day"
	"cleantally/core/money"
)

// Query is how a list is asked for. What a list does not know it refuses.
type Query struct {
	Sort  string // a column of the list; "" for its own order
	Desc  bool
	After int64   // the ID of the last row that is already shown; 0 for the first page
	Limit int     // rows of a page; 0 for all
	IDs   []int64 // only these rows; none for every
	Bare  bool    // the rows alone, without their count and sums
}

// Page is a stretch of a list with the count and sums of the whole of it.
type Page[T any] struct {
	Rows  []T
	More  bool
	Count int64
	Sums  []money.Amount
}

// A listing is a list as SQL: what is selected, from where, under which
// conditions, and by what it can be sorted.
type listing struct {
	with    string // before each query: what several of its parts look at
	columns string
	from    string
	added   string            // in place of from where rows are only counted and added up; "" for the same
	id      string            // the column that tells rows apart
	paper   string            // where the rows are lines, the column of their paper: their id is a thousand times it, and the position
	sorts   map[string]string // column name to expression
	sort    string            // the sort when none is asked for
	desc    bool
	sums    []string // expressions summed over the whole list
	source  []any    // arguments of from
	narrowing
	named  []any                   // those that are named, after all others
	ways   map[string][]way        // sorts whose rows come in order from several places
	kept   *keptTotals             // where its count and sums are kept
	except string                  // what of it is left out: few rows, found once
	found  *foundPage              // the rows of a page, where they were found already
	once   bool                    // from takes its time, so that count and sums come with the rows of a page
	few    func(ids string) string // in place of from for the rows of a page, where those are found in a shorter way; ids are theirs, with commas
}

// A way finds the first of a part of a list's rows in the order of a sort. What
// several ways find is put together, so that a page needs no look at all rows.
type way struct {
	from  string // in place of the list's, with the same names
	id    string // the column that tells rows apart, by its table
	where string // "" for all of it
	whole bool   // its rows are all within the list, whose conditions it need not look at
	key   string // what is sorted by; "" where that is the same for all of them: less than any
	same  string // and that
}

// keptTotals are the count and sums of a whole list, kept by day: an SQL
// query without its conditions, and those.
type keptTotals struct {
	query string
	narrowing
}

// A narrowing are the conditions of a query, with their arguments.
type narrowing struct {
	where []string
	args  []any
}

// filter adds a condition.
func (l *narrowing) filter(condition string, args ...any) {
	l.where = append(l.where, "("+condition+")")
	l.args = append(l.args, args...)
}

// between adds that a day lies in a span; "" leaves an end open.
func (l *narrowing) between(column string, from, to day.Day) {
	if from != "" {
		l.filter(column+" >= ?", from)
	}
	if to != "" {
		l.filter(column+" <= ?", to)
	}
}

// contains adds a condition that one of the expressions contains text.
func (l *narrowing) contains(text string, expressions ...string) {
	parts := make([]string, len(expressions))
	args := make([]any, len(expressions))
	for i, x := range expressions {
		parts[i], args[i] = x+` LIKE ? ESCAPE '\'`, pattern(text)
	}
	l.filter(strings.Join(parts, " OR "), args...)
}

// pattern makes a LIKE pattern that finds text anywhere.
func pattern(text string) string {
	return "%" + strings.NewReplacer(`\`, `\\`, "%", `\%`, "_", `\_`).Replace(text) + "%"
}

func (l *narrowing) conditions() string {
	if len(l.where) == 0 {
		return "1 = 1"
	}
	return strings.Join(l.where, " AND ")
}

// ErrNoSuchColumn says that a list cannot be sorted so.
type ErrNoSuchColumn string

func (e ErrNoSuchColumn) Error() string { return fmt.Sprintf("the list has no column %q", string(e)) }

// fetch runs a listing. Paging is by the row that was last shown, not by its
// place, so that rows which come in between neither hide nor repeat others.
func fetch[T any](r Reader, l listing, q Query) (Page[T], error) {
	var p Page[T]
	expr, desc := l.sorts[l.sort], l.desc
	if q.Sort != "" {
		if expr, desc = l.sorts[q.Sort], q.Desc; expr == "" {
			return p, ErrNoSuchColumn(q.Sort)
		}
	}
	if len(q.IDs) > 0 { // of which nothing is kept, and which are few
		l.only(q.IDs)
		l.kept, l.ways = nil, nil
	}
	var without totals
	if l.except != "" {
		var err error
		if without, err = l.leaveOut(r); err != nil {
			return p, err
		}
	}
	direction, sign := "ASC", ">"
	if desc {
		direction, sign = "DESC", "<"
	}
	where, args := l.conditions(), slices.Concat(l.source, l.args)
	if q.After != 0 {
		from := l.from
		if l.few != nil {
			from = l.few(commas([]int64{q.After}))
		}
		where += fmt.Sprintf(" AND (%s, %s) %s (SELECT %s, %s FROM %s WHERE %s = ?)", expr, l.id, sign, expr, l.id, from, l.id)
		args = append(slices.Concat(args, l.source), q.After)
	}
	limit := ""
	if q.Limit > 0 {
		limit = fmt.Sprintf(" LIMIT %d", q.Limit+1)
	}
	order := fmt.Sprintf(" ORDER BY %s %s, %s %s%s", expr, direction, l.id, direction, limit)
	shown := l // the rows of this page
	shown.kept = nil
	counted := false
	if q.Limit > 0 {
		// Which rows they are is found first, so that what they show is worked out for them alone.
		var ids []int64
		var err error
		if counted = l.found != nil; counted {
			ids, p.Count, p.Sums = l.found.ids, l.found.count, []money.Amount{l.found.sum}
		} else if counted = l.once && q.After == 0; counted {
			ids, err = l.idsAndTotals(r, where, order, &p.Count, &p.Sums, append(args, l.named...))
		} else {
			ids, err = l.ids(r, where, order, direction, cmp.Or(q.Sort, l.sort), q.Limit+1, args)
		}
		if err != nil {
			return p, err
		}
		if len(ids) > q.Limit {
			ids, p.More = ids[:q.Limit], true
		}
		if len(ids) == 0 && q.After == 0 { // there is nothing to show, or to add up
			p.Rows, p.Sums = []T{}, make([]money.Amount, len(l.sums))
			return p, nil
		}
		shown.narrowing = narrowing{}
		shown.only(ids)
		if l.few != nil {
			shown.from = l.few(commas(ids))
		}
		where, args = shown.conditions(), slices.Concat(l.source, shown.args)
	}
	var err error
	if p.Rows, err = scan[T](r, fmt.Sprintf("%sSELECT %s FROM %s WHERE %s%s", l.with, l.columns, shown.from, where, order), append(args, l.named...)...); err != nil || counted || q.Bare {
		return p, err
	}
	if q.Limit > 0 && q.After == 0 && !p.More {
		return p, total(r, shown, &p) // the whole list is here: its sums need not look for it again
	}
	err = total(r, l, &p)
	if l.kept != nil { // of all
		p.Count -= without.count
		for n, s := range without.sums {
			p.Sums[n] -= s
		}
	}
	return p, err
}

// totals are the count and the sums of some rows of a list.
type totals struct {
	count int64
	sums  []money.Amount
}

// leaveOut finds what a list is without, and narrows it by that.
func (l *listing) leaveOut(r Reader) (totals, error) {
	t := totals{sums: make([]money.Amount, len(l.sums))}
	var ids []int64
	columns := l.id
	for _, s := range l.sums {
		columns += ", COALESCE(" + s + ", 0)"
	}
	err := r.rows(fmt.Sprintf("%sSELECT %s FROM %s WHERE %s AND (%s)", l.with, columns, l.from, l.conditions(), l.except), func(r *row) {
		ids = append(ids, r.int(0))
		t.count++
		for n := range t.sums {
			t.sums[n] += r.amount(1 + n)
		}
	}, slices.Concat(l.source, l.args, l.named)...)
	l.filter(l.id + " NOT IN (SELECT value FROM json_each(@left_out ))")
	l.named = append(slices.Clone(l.named), sql.Named("left_out", "["+commas(ids)+"]"))
	return t, err
}

// only narrows a list to some of its rows.
func (l *listing) only(ids []int64) {
	if l.paper != "" {
		papers := make([]int64, len(ids))
		for i, id := range ids {
			papers[i] = id / 1000
		}
		l.filter(l.paper+" IN ?", slices.Compact(papers))
	}
	l.filter(l.id+" IN ?", ids)
}

// idsAndTotals finds the rows of a page together with the count and the sums of
// the whole list, in one look at it.
func (l listing) idsAndTotals(r Reader, where, order string, count *int64, sums *[]money.Amount, args []any) ([]int64, error) {
	columns := l.id + ", COUNT(*) OVER ()"
	for _, s := range l.sums {
		columns += ", SUM(COALESCE(" + s + ", 0)) OVER ()"
	}
	*sums = make([]money.Amount, len(l.sums))
	var ids []int64
	err := r.rows(fmt.Sprintf("%sSELECT %s FROM %s WHERE %s%s", l.with, columns, l.from, where, order), func(r *row) {
		ids = append(ids, r.int(0))
		*count = r.int(1)
		for n := range *sums {
			(*sums)[n] = r.amount(2 + n)
		}
	}, args...)
	return ids, err
}

// commas writes IDs as SQL has them in a list.
func commas(ids []int64) string {
	text := make([]byte, 0, 8*len(ids))
	for n, id := range ids {
		if n > 0 {
			text = append(text, ',')
		}
		text = strconv.AppendInt(text, id, 10)
	}
	return string(text)
}

// ids finds the rows of a page, in order.
func (l listing) ids(r Reader, where, order, direction, sort string, limit int, args []any) ([]int64, error) {
	ways := l.ways[sort]
	if len(ways) == 0 {
		return scan[int64](r, fmt.Sprintf("%sSELECT %s FROM %s WHERE %s%s", l.with, l.id, l.from, where, order), append(args, l.named...)...)
	}
	// Downwards those for which it is the same come last, and most often not at all.
	if last := slices.IndexFunc(ways, func(w way) bool { return w.key == "" }); last > 0 && direction == "DESC" {
		ids, full, err := l.byWays(r, ways[:last], ways[last].same, where, direction, limit, args)
		if err != nil || full {
			return ids, err
		}
	}
	ids, _, err := l.byWays(r, ways, "NULL", where, direction, limit, args)
	return ids, err
}

// byWays puts together what several ways find; full tells that the page is full
// of what comes before a key. The arguments are repeated as often as they are
// asked for.
func (l listing) byWays(r Reader, ways []way, before, where, direction string, limit int, once []any) (ids []int64, full bool, err error) {
	var args []any
	var parts []string
	for _, w := range ways {
		condition, key, by := where, w.key, w.key+" "+direction+", "
		if w.whole {
			condition = "1 = 1"
		} else {
			args = append(args, once...)
		}
		if w.where != "" {
			condition += " AND " + w.where
		}
		if key == "" {
			key, by = w.same, ""
		}
		parts = append(parts, fmt.Sprintf("SELECT * FROM (SELECT %s AS sorted_by, %s AS id FROM %s WHERE %s ORDER BY %s%s %s LIMIT %d)", key, w.id, w.from, condition, by, w.id, direction, limit))
	}
	query := fmt.Sprintf("%sSELECT id, COALESCE(sorted_by <> %s, 0) FROM (%s) ORDER BY sorted_by %s, id %s LIMIT %d", l.with, before, strings.Join(parts, " UNION ALL "), direction, direction, limit)
	err = r.rows(query, func(r *row) {
		ids = append(ids, r.int(0))
		full = len(ids) == limit && r.is(1)
	}, append(args, l.named...)...)
	return ids, full, err
}

// total fills in the count and the sums of a whole list.
func total[T any](r Reader, l listing, p *Page[T]) error {
	p.Sums = make([]money.Amount, len(l.sums))
	if l.kept == nil {
		return sum(r, l, l.conditions(), &p.Count, p.Sums)
	}
	return r.db.Raw(l.kept.query+" WHERE "+l.kept.conditions(), l.kept.args...).Row().Scan(into(&p.Count, p.Sums)...)
}

// sum adds up a list's rows under a condition.
func sum(r Reader, l listing, where string, count *int64, sums []money.Amount) error {
	query := "COUNT(*)"
	for _, s := range l.sums {
		query += ", COALESCE(SUM(" + s + "), 0)"
	}
	return r.db.Raw(fmt.Sprintf("%sSELECT %s FROM %s WHERE %s", l.with, query, cmp.Or(l.added, l.from), where), slices.Concat(l.source, l.args, l.named)...).Row().Scan(into(count, sums)...)
}

func into(count *int64, sums []money.Amount) []any {
	to := []any{count}
	for i := range sums {
		to = append(to, &sums[i])
	}
	return to
}
