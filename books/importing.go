package books

import (
	"context"
	"errors"
	"fmt"
	"strings"

	"cleantally/core/posting"
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

// ErrImportStopped says that an import was stopped, so that nothing was
// imported, and how many rows had been looked at.
type ErrImportStopped struct{ Done, Of int }

func (e ErrImportStopped) Error() string {
	return fmt.Sprintf("the import was stopped after %d of %d rows, so nothing was imported: start it again", e.Done, e.Of)
}

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
// is wrong nothing is imported and the error is ErrImportRefused.
func (b *Book) Import(ctx context.Context, user int64, kind string, t formats.Table, preview bool) ([]ImportRow, error) {
	im, ok := importers[kind]
	if !ok {
		return nil, posting.Refusals{{Field: "kind", Rule: "missing", Text: fmt.Sprintf("Nothing can be imported as %q.", kind)}}
	}
	at, err := im.locate(t.Header)
	if err != nil {
		return nil, err
	}
	var rows []ImportRow
	run := b.db.Write
	if preview {
		run = b.db.Trial // so that nobody who posts has to wait
	}
	err = run(ctx, func(tx *store.Tx) error {
		in := &importing{b, tx}
		wrong := false
		for n, cells := range t.Rows {
			if ctx.Err() != nil {
				return ErrImportStopped{n, len(t.Rows)}
			}
			if strings.TrimSpace(strings.Join(cells, "")) == "" {
				continue
			}
			row := ImportRow{Row: n + 2}
			row.Does, row.Name, err = im.Row(in, func(name string) string {
				if i, there := at[name]; there && i < len(cells) {
					return strings.TrimSpace(cells[i])
				}
				return ""
			})
			if err != nil && !errors.As(err, &row.Refusals) {
				return err
			}
			wrong = wrong || len(row.Refusals) > 0
			rows = append(rows, row)
		}
		switch {
		case wrong:
			return ErrImportRefused
		case preview:
			return nil
		}
		return b.record(tx, user, "import "+kind, fmt.Sprintf("Imported %d %s", len(rows), kind), map[string]int{"rows": len(rows)})
	})
	if preview && errors.Is(err, ErrImportRefused) {
		err = nil
	}
	return rows, err
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
