package store

import (
	"fmt"
	"slices"
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
	columns string
	from    string
	id      string            // the column that tells rows apart
	sorts   map[string]string // column name to expression
	sort    string            // the sort when none is asked for
	desc    bool
	sums    []string // expressions summed over the whole list
	source  []any    // arguments of from
	where   []string
	args    []any // arguments of where
	named   []any // those that are named, after all others
}

// filter adds a condition.
func (l *listing) filter(condition string, args ...any) {
	l.where = append(l.where, "("+condition+")")
	l.args = append(l.args, args...)
}

// between adds that a day lies in a span; "" leaves an end open.
func (l *listing) between(column string, from, to day.Day) {
	if from != "" {
		l.filter(column+" >= ?", from)
	}
	if to != "" {
		l.filter(column+" <= ?", to)
	}
}

// contains adds a condition that one of the expressions contains text.
func (l *listing) contains(text string, expressions ...string) {
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

func (l *listing) conditions() string {
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
func fetch[T row](r Reader, l listing, q Query) (Page[T], error) {
	var p Page[T]
	expr, desc := l.sorts[l.sort], l.desc
	if q.Sort != "" {
		if expr, desc = l.sorts[q.Sort], q.Desc; expr == "" {
			return p, ErrNoSuchColumn(q.Sort)
		}
	}
	if len(q.IDs) > 0 {
		l.filter(l.id+" IN ?", q.IDs)
	}
	direction, sign := "ASC", ">"
	if desc {
		direction, sign = "DESC", "<"
	}
	where, args := l.conditions(), slices.Concat(l.source, l.args)
	if q.After != 0 {
		where += fmt.Sprintf(" AND (%s, %s) %s (SELECT %s, %s FROM %s WHERE %s = ?)", expr, l.id, sign, expr, l.id, l.from, l.id)
		args = append(slices.Concat(args, l.source), q.After)
	}
	limit := ""
	if q.Limit > 0 {
		limit = fmt.Sprintf(" LIMIT %d", q.Limit+1)
	}
	var err error
	p.Rows, err = scan[T](r, fmt.Sprintf("SELECT %s FROM %s WHERE %s ORDER BY %s %s, %s %s%s", l.columns, l.from, where, expr, direction, l.id, direction, limit), append(args, l.named...)...)
	if err != nil {
		return p, err
	}
	if q.Limit > 0 && len(p.Rows) > q.Limit {
		p.Rows, p.More = p.Rows[:q.Limit], true
	}
	if q.After == 0 && !p.More && len(p.Rows) <= 1000 {
		// The whole list is here: its sums need not look for it again.
		ids := make([]int64, len(p.Rows))
		for i, row := range p.Rows {
			ids[i] = row.rowID()
		}
		l.where, l.args = []string{l.id + " IN ?"}, []any{ids}
	}
	return p, total(r, l, &p)
}

// A row of a list can be told from the others.
type row interface{ rowID() int64 }

func (r PaperRow) rowID() int64 { return r.ID }
func (r PartyRow) rowID() int64 { return r.ID }
func (r JobRow) rowID() int64   { return r.ID }
func (r OpenItem) rowID() int64 { return r.ID }

func total[T row](r Reader, l listing, p *Page[T]) error {
	sums := "COUNT(*)"
	for _, s := range l.sums {
		sums += ", COALESCE(SUM(" + s + "), 0)"
	}
	row := r.db.Raw(fmt.Sprintf("SELECT %s FROM %s WHERE %s", sums, l.from, l.conditions()), slices.Concat(l.source, l.args, l.named)...).Row()
	p.Sums = make([]money.Amount, len(l.sums))
	to := []any{&p.Count}
	for i := range p.Sums {
		to = append(to, &p.Sums[i])
	}
	return row.Scan(to...)
}
