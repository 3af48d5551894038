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
	paper   string            // where the rows are lines, the column of their paper: their id is a thousand times it, and the position
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
func fetch[T any](r Reader, l listing, q Query) (Page[T], error) {
	var p Page[T]
	expr, desc := l.sorts[l.sort], l.desc
	if q.Sort != "" {
		if expr, desc = l.sorts[q.Sort], q.Desc; expr == "" {
			return p, ErrNoSuchColumn(q.Sort)
		}
	}
	if len(q.IDs) > 0 {
		l.only(q.IDs)
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
	order := fmt.Sprintf(" ORDER BY %s %s, %s %s%s", expr, direction, l.id, direction, limit)
	shown := l // the rows of this page
	if q.Limit > 0 {
		// Which rows they are is found first, so that what they show is worked out for them alone.
		ids, err := scan[int64](r, fmt.Sprintf("SELECT %s FROM %s WHERE %s%s", l.id, l.from, where, order), append(args, l.named...)...)
		if err != nil {
			return p, err
		}
		if len(ids) > q.Limit {
			ids, p.More = ids[:q.Limit], true
		}
		shown.where, shown.args = nil, nil
		shown.only(ids)
		where, args = shown.conditions(), slices.Concat(l.source, shown.args)
	}
	var err error
	if p.Rows, err = scan[T](r, fmt.Sprintf("SELECT %s FROM %s WHERE %s%s", l.columns, l.from, where, order), append(args, l.named...)...); err != nil {
		return p, err
	}
	if q.Limit > 0 && q.After == 0 && !p.More {
		l = shown // the whole list is here: its sums need not look for it again
	}
	return p, total(r, l, &p)
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

func total[T any](r Reader, l listing, p *Page[T]) error {
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
