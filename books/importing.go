package books

import (
	"context"
	"errors"
	"fmt"
	"strings"
	"time"

	"cleantally/core/posting"
	"cleantally/core/rights"
	"cleantally/formats"
	"cleantally/store"
)

// ImportRow is what an import does, or would do, with one row of a file.
type ImportRow struct {
	Row      int    // in the file; the header is row 1
	Does     string // create, update
	Name     string
	Refusals posting.Refusals
}

// ErrImportRefused says that a row is wrong, so that nothing was imported.
var ErrImportRefused = errors.New("some rows cannot be imported, so nothing was: mend them and try again")

// ErrImportStopped says that an import was stopped, and where: how many of its
// rows are imported, and from which row of the file on nothing is. Refusals say
// what stopped it, where that was a row: of all of them each was good before
// the first was imported, but others work meanwhile.
type ErrImportStopped struct {
	Done, Of int
	Row      int
	Refusals posting.Refusals
}

func (e ErrImportStopped) Error() string {
	why := ""
	if len(e.Refusals) > 0 {
		why = " (" + e.Refusals.Error() + ")"
	}
	if e.Done == 0 {
		return fmt.Sprintf("the import of %d rows was stopped%s, so nothing was imported: start it again", e.Of, why)
	}
	return fmt.Sprintf("the import was stopped%s after %d of %d rows: what stands in the file from row %d on is not imported", why, e.Done, e.Of, e.Row)
}

// Progress tells how far an import is: rows looked at, and then rows imported.
type Progress func(doing string, done, of int)

// A column of an import file, with the names that its header may have.
type column struct {
	Name string
	Also []string
	Must bool
}

// An importer turns a row of a file into a stored record.
type importer struct {
	Columns []column
	Row     func(in *importing, cell func(string) string) (does, name string, err error)
}

// importing is one run of an importer.
type importing struct {
	book *Book
	tx   *store.Tx
}

// ImportColumns returns the columns that an import of the kind knows, those
// that it must have first.
func ImportColumns(kind string) (must, may []string, ok bool) {
	im, ok := importers[kind]
	for _, c := range im.Columns {
		if c.Must {
			must = append(must, c.Name)
		} else {
			may = append(may, c.Name)
		}
	}
	return must, may, ok
}

// Import reads records of a kind from a table: customers, jobs, articles,
// accounts, taxcodes, terms or banks. With preview nothing is kept. When a row
// is wrong nothing is imported and the error is ErrImportRefused; when it is
// stopped after it has begun, ErrImportStopped says what is left.
//
// It begins with a row of the file (the header is row 1), where one was stopped
// before; 0 for the first. All rows are looked at first, on a copy; then they are imported by portions,
// so that nobody who posts has to wait for the whole.
func (b *Book) Import(ctx context.Context, user int64, kind string, t formats.Table, preview bool, from int, tell Progress) ([]ImportRow, error) {
	im, ok := importers[kind]
	if !ok {
		return nil, posting.Refusals{{Field: "kind", Rule: "missing", Text: fmt.Sprintf("Nothing can be imported as %q.", kind)}}
	}
	right := rights.ToOwn
	switch kind {
	case "customers", "jobs", "articles":
		right = rights.ToKeepBooks
	}
	if err := b.Need(ctx, right); err != nil {
		return nil, err
	}
	at, err := im.locate(t.Header)
	if err != nil {
		return nil, err
	}
	if tell == nil {
		tell = func(string, int, int) {}
	}
	first := min(max(from-2, 0), len(t.Rows))
	f := &file{book: b, im: im, kind: kind, at: at, rows: t.Rows, first: first, next: first, tell: tell}
	rows, err := f.look(ctx)
	if err != nil || preview {
		if preview && errors.Is(err, ErrImportRefused) {
			err = nil
		}
		return rows, err
	}
	for f.next < len(f.rows) {
		if err := f.portion(ctx, user); err != nil {
			return rows[:f.done], err
		}
	}
	return rows, nil
}

// A file is one that is imported.
type file struct {
	book  *Book
	im    importer
	kind  string
	at    map[string]int // where each column stands
	rows  [][]string
	first int // that is asked for
	next  int // the first that is not imported
	done  int // how many are: empty rows do not count
	tell  Progress
}

// of is how many rows are asked for.
func (f *file) of() int { return len(f.rows) - f.first }

// look does what the rows ask for on a copy, and says what that is.
func (f *file) look(ctx context.Context) ([]ImportRow, error) {
	var rows []ImportRow
	err := f.book.db.Trial(ctx, func(tx *store.Tx) error {
		wrong := false
		for n := f.first; n < len(f.rows); n++ {
			if ctx.Err() != nil {
				return ErrImportStopped{Of: f.of()}
			}
			row, there, err := f.row(tx, n)
			if err != nil && !errors.As(err, &row.Refusals) {
				return err
			}
			if there {
				rows, wrong = append(rows, row), wrong || len(row.Refusals) > 0
			}
			f.tell("Looked at", n+1-f.first, f.of())
		}
		if wrong {
			return ErrImportRefused
		}
		return nil
	})
	return rows, err
}

// row imports the nth row, unless it is empty.
func (f *file) row(tx *store.Tx, n int) (row ImportRow, there bool, err error) {
	cells := f.rows[n]
	if strings.TrimSpace(strings.Join(cells, "")) == "" {
		return row, false, nil
	}
	row.Row = n + 2
	row.Does, row.Name, err = f.im.Row(&importing{f.book, tx}, func(name string) string {
		if i, there := f.at[name]; there && i < len(cells) {
			return strings.TrimSpace(cells[i])
		}
		return ""
	})
	return row, true, err
}

// portionTime is how long an import keeps others from posting.
const portionTime = 25 * time.Millisecond

// portion imports as many rows as there is time for.
func (f *file) portion(ctx context.Context, user int64) error {
	next, done := f.next, f.done
	stopped := ErrImportStopped{Done: done, Of: f.of(), Row: next + 2}
	if ctx.Err() != nil {
		return stopped
	}
	err := f.book.db.Write(ctx, func(tx *store.Tx) error {
		for began := time.Now(); next < len(f.rows) && time.Since(began) < portionTime; next++ {
			_, there, err := f.row(tx, next)
			if err != nil {
				return err
			}
			if there {
				done++
			}
		}
		return f.book.record(tx, user, "import "+f.kind, f.said(done-f.done, next), map[string]int{"rows": done - f.done, "from": f.next + 2, "through": next + 1})
	})
	switch {
	case errors.As(err, &stopped.Refusals), err != nil && ctx.Err() != nil:
		return stopped
	case err != nil && f.done > 0:
		return errors.Join(stopped, err)
	case err != nil:
		return err
	}
	f.next, f.done = next, done
	f.tell("Imported", f.next-f.first, f.of())
	return nil
}

// said is what the audit record says of a portion.
func (f *file) said(rows, next int) string {
	if f.next == 0 && next == len(f.rows) {
		return fmt.Sprintf("Imported %d %s", rows, f.kind)
	}
	return fmt.Sprintf("Imported %d %s, rows %d to %d of a file of %d", rows, f.kind, f.next+2, next+1, len(f.rows)+1)
}

// locate finds the columns of the importer in a header.
func (im importer) locate(header []string) (map[string]int, error) {
	at := map[string]int{}
	var refusals posting.Refusals
	known := map[string]string{}
	for _, c := range im.Columns {
		for _, name := range append([]string{c.Name}, c.Also...) {
			known[strings.ToLower(name)] = c.Name
		}
	}
	for i, h := range header {
		name, ok := known[strings.ToLower(h)]
		if !ok {
			refusals = append(refusals, posting.Notice{Field: "header", Rule: "unknown column", Text: fmt.Sprintf("Row 1: the column %q is not known. Known are: %s.", h, im.names())})
		} else if _, twice := at[name]; twice {
			refusals = append(refusals, posting.Notice{Field: "header", Rule: "column twice", Text: fmt.Sprintf("Row 1: the column %q stands twice.", h)})
		}
		at[name] = i
	}
	for _, c := range im.Columns {
		if _, there := at[c.Name]; c.Must && !there {
			refusals = append(refusals, posting.Notice{Field: "header", Rule: "missing column", Text: fmt.Sprintf("Row 1: the column %q is missing.", c.Name)})
		}
	}
	if len(refusals) > 0 {
		return nil, refusals
	}
	return at, nil
}

func (im importer) names() string {
	names := make([]string, len(im.Columns))
	for i, c := range im.Columns {
		names[i] = c.Name
	}
	return strings.Join(names, ", ")
}
