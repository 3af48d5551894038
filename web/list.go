package web

import (
	"bytes"
	"context"
	"slices"
	"strings"

	"cleantally/core/day"
	"cleantally/core/money"
	"cleantally/core/rights"
	"cleantally/formats"
	"cleantally/store"

	"github.com/danielgtaylor/huma/v2"
)

// ListInput is what every list takes.
type ListInput struct {
	AsOf   string  `query:"asOf" doc:"As it stood at the end of this day; left out, today"`
	Search string  `query:"q" maxLength:"200" doc:"Any part of a name, number or reference"`
	Sort   string  `query:"sort" doc:"A column, with - before it for the other way round"`
	After  int64   `query:"after" doc:"The cursor that the page before gave as next"`
	Limit  int     `query:"limit" minimum:"1" maximum:"500" default:"100"`
	Format string  `query:"format" enum:"csv,xlsx" default:"csv" doc:"Of the file"`
	IDs    []int64 `query:"ids,explode" maxItems:"1000" doc:"Only these rows of it"`
}

func (in ListInput) query() store.Query {
	column, desc := strings.CutPrefix(in.Sort, "-")
	return store.Query{Sort: column, Desc: desc, After: in.After, Limit: in.Limit, IDs: in.IDs}
}

// List is a page of a list with the count and the sums of the whole of it.
type List[T any] struct {
	Rows  []T               `json:"rows"`
	Next  int64             `json:"next,omitempty" doc:"The cursor of the next page, when there is one"`
	Count int64             `json:"count"`
	Sums  map[string]string `json:"sums" doc:"By column, over the whole list"`
}

// A col is a column of an exported list.
type col[T any] struct {
	Title  string
	Cell   func(T) string
	Figure bool
}

func textCol[T any](title string, cell func(T) string) col[T] { return col[T]{title, cell, false} }

func figureCol[T any](title string, cell func(T) string) col[T] { return col[T]{title, cell, true} }

// amountIn is what a search says, when it reads as an amount.
func (s *Server) amountIn(ctx context.Context, search string) *money.Amount {
	cur, err := s.book.Currency(ctx)
	if err != nil {
		return nil
	}
	a, err := cur.Understand(search)
	if err != nil {
		return nil
	}
	return &a
}

// A lister says how a list is found and shown.
type lister[I any, R any, T any] struct {
	id, path, summary string
	head              func(*I) ListInput
	find              func(context.Context, *I, store.Query) (store.Page[R], error)
	row               func(R, day.Day, money.Currency) T
	cut               func(*T) // leaves of a row what who sees names alone may see; nil where they see nothing of it
	key               func(T) int64
	sums              []string      // names of the page's sums
	adds              func(*I) bool // whether what is asked for adds up; nil where it always does
	columns           []col[T]      // of the file
	abroad            []col[T]      // more of it, where a row fills the first: of what is in another currency than the firm's
}

// register makes two operations of a list: its pages, and the whole of it as a
// file.
func (l lister[I, R, T]) register(s *Server) {
	huma.Register(s.api, describe(l.id, "GET", l.path, l.summary), func(ctx context.Context, in *I) (*listOutput[T], error) {
		return l.page(ctx, s, in, l.head(in).query())
	})
	huma.Register(s.api, describe(l.id+"-file", "GET", l.path+"/file", l.summary+", as a file"), func(ctx context.Context, in *I) (*fileOutput, error) {
		h := l.head(in)
		q := h.query()
		q.Limit, q.After = 0, 0
		page, err := l.page(ctx, s, in, q)
		if err != nil {
			return nil, err
		}
		columns := l.columns
		if len(l.abroad) > 0 && slices.ContainsFunc(page.Body.Rows, func(row T) bool { return l.abroad[0].Cell(row) != "" }) {
			columns = slices.Concat(columns, l.abroad)
		}
		return fileOf(h.Format, l.id, tableOf(page.Body.Rows, columns), figures(columns))
	})
}

func (l lister[I, R, T]) page(ctx context.Context, s *Server, in *I, q store.Query) (*listOutput[T], error) {
	p, d, err := s.lookingBack(ctx, l.head(in).AsOf)
	if err != nil {
		return nil, err
	}
	page, err := l.find(ctx, in, q)
	if err != nil {
		return nil, problem(err)
	}
	out := &listOutput[T]{Body: List[T]{Rows: make([]T, len(page.Rows)), Count: page.Count, Sums: map[string]string{}}}
	who, err := s.book.Person(ctx)
	if err != nil {
		return nil, problem(err)
	}
	named := l.cut != nil && !who.May(rights.SeePapers)
	for i, r := range page.Rows {
		out.Body.Rows[i] = l.row(r, d, p.cur)
		if named {
			l.cut(&out.Body.Rows[i])
		}
	}
	for i, name := range l.sums {
		if named || l.adds != nil && !l.adds(in) {
			break
		}
		out.Body.Sums[name] = p.cur.Format(page.Sums[i])
	}
	if page.More {
		out.Body.Next = l.key(out.Body.Rows[len(out.Body.Rows)-1])
	}
	return out, nil
}

type listOutput[T any] struct{ Body List[T] }

func tableOf[T any](rows []T, columns []col[T]) formats.Table {
	var t formats.Table
	for _, c := range columns {
		t.Header = append(t.Header, c.Title)
	}
	for _, r := range rows {
		cells := make([]string, len(columns))
		for i, c := range columns {
			cells[i] = c.Cell(r)
		}
		t.Rows = append(t.Rows, cells)
	}
	return t
}

func figures[T any](columns []col[T]) map[int]bool {
	m := map[int]bool{}
	for i, c := range columns {
		m[i] = c.Figure
	}
	return m
}

// fileOutput is an answer that is a file.
type fileOutput struct {
	ContentType string `header:"Content-Type"`
	Disposition string `header:"Content-Disposition"`
	Body        []byte
}

// fileOf makes a file of a table: CSV, or XLSX when the format says so.
func fileOf(format, name string, t formats.Table, figures map[int]bool) (*fileOutput, error) {
	var b bytes.Buffer
	out := &fileOutput{ContentType: "text/csv; charset=utf-8"}
	write := func() error { return formats.WriteCSV(&b, t) }
	if format == "xlsx" {
		out.ContentType = "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"
		write = func() error { return formats.WriteXLSX(&b, name, t, figures) }
	} else {
		format = "csv"
	}
	err := write()
	out.Disposition, out.Body = `attachment; filename="`+name+"."+format+`"`, b.Bytes()
	return out, problem(err)
}
