package books

import (
	"archive/zip"
	"context"
	"fmt"
	"io"
	"path"
	"strings"

	"cleantally/core/rights"
	"cleantally/formats"
	"cleantally/store"
)

// Archive writes all of the books as one archive that anybody can read (docs/rules.md,
// part 14): the lists, the journal, the items with their moves and what was set
// against what as CSV, the papers as PDF, and what is attached, with a description.
func (b *Book) Archive(ctx context.Context, user int64, w io.Writer, tell Progress) error {
	if err := b.Need(ctx, rights.ToExport); err != nil {
		return err
	}
	if tell == nil {
		tell = func(string, int, int) {}
	}
	z := zip.NewWriter(w)
	a := archive{b: b, zip: z, tell: tell}
	if err := a.write(ctx); err != nil {
		return err
	}
	if err := z.Close(); err != nil {
		return err
	}
	err := b.db.Write(ctx, func(tx *store.Tx) error {
		return b.record(tx, user, "archive", "Took all of the books along as an archive", map[string]int{"papers": a.papers})
	})
	if store.Unwritten(err) {
		return nil
	}
	return err
}

type archive struct {
	b      *Book
	zip    *zip.Writer
	tell   Progress
	papers int
	about  []string
}

func (a *archive) write(ctx context.Context) error {
	for _, kind := range []string{"customers", "jobs", "articles", "accounts", "taxcodes", "terms", "banks"} {
		t, err := a.b.Export(ctx, kind)
		if err != nil {
			return err
		}
		f, err := a.file("lists/"+kind+".csv", "the "+kind+", in the form in which they are imported, once the currencies that they name are in use")
		if err == nil {
			err = formats.WriteCSV(f, t)
		}
		if err != nil {
			return err
		}
	}
	if err := a.b.Snapshot(ctx, a.tables); err != nil {
		return err
	}
	if err := a.sheets(ctx); err != nil {
		return err
	}
	if err := a.attached(ctx); err != nil {
		return err
	}
	return a.describe(ctx)
}

// file begins a file of the archive.
func (a *archive) file(name, about string) (io.Writer, error) {
	if about != "" {
		a.about = append(a.about, fmt.Sprintf("%-24s %s", name, about))
	}
	return a.zip.CreateHeader(&zip.FileHeader{Name: name, Method: zip.Deflate, Modified: a.b.clock()})
}

func (a *archive) tables(r *store.Reader) error {
	cur, err := r.Currency()
	if err != nil {
		return err
	}
	for _, t := range store.TablesTold() {
		f, err := a.file(t.File, t.About)
		if err != nil {
			return err
		}
		rows := formats.NewCSV(f)
		if err := r.Tell(t, cur, rows.Row); err != nil {
			return err
		}
		if err := rows.End(); err != nil {
			return err
		}
	}
	return nil
}

// sheets are the papers as they go out, each a PDF.
func (a *archive) sheets(ctx context.Context) error {
	ids, err := a.b.Read(ctx).PaperIDs()
	if err != nil {
		return err
	}
	a.about = append(a.about, fmt.Sprintf("%-24s %s", "papers/", "each paper as it goes out, as PDF"))
	seen := map[string]bool{}
	for n, id := range ids {
		p, err := a.b.Print(ctx, []int64{id}, a.b.Today())
		if err != nil {
			return err
		}
		name := plainName(strings.ReplaceAll(p.Name, "/", "-"))
		if seen[strings.ToLower(name)] {
			name = fmt.Sprintf("%d %s", id, name)
		}
		seen[strings.ToLower(name)] = true
		f, err := a.file("papers/"+name, "")
		if err == nil {
			_, err = f.Write(p.File)
		}
		if err != nil {
			return err
		}
		a.papers++
		a.tell("Papers", n+1, len(ids))
	}
	return ctx.Err()
}

func (a *archive) attached(ctx context.Context) error {
	all, err := a.b.Read(ctx).AllAttached()
	if err != nil {
		return err
	}
	for _, x := range all {
		_, data, err := a.b.AttachedFile(ctx, x.ID)
		if err != nil {
			return err
		}
		f, err := a.file(path.Join("attachments", fmt.Sprintf("%d %s %s", x.ID, plainName(strings.ReplaceAll(x.To, "/", "-")), plainName(x.Name))), "")
		if err == nil {
			_, err = f.Write(data)
		}
		if err != nil {
			return err
		}
	}
	if len(all) > 0 {
		a.about = append(a.about, fmt.Sprintf("%-24s %s", "attachments/", "what is attached to papers, customers and jobs"))
	}
	return nil
}

// describe says what is where.
func (a *archive) describe(ctx context.Context) error {
	firm, err := a.b.Read(ctx).Firm()
	if err != nil {
		return err
	}
	f, err := a.zip.CreateHeader(&zip.FileHeader{Name: "README.txt", Method: zip.Deflate, Modified: a.b.clock()})
	if err != nil {
		return err
	}
	_, err = fmt.Fprintf(f, `The books of %s, all of them, as they stood on %s.

CSV files are UTF-8, with commas, a header in the first row, and days as
YYYY-MM-DD. Amounts are decimals in %s. A cell that a spreadsheet would run as a
formula has an apostrophe before it.

%s
`, firm.Name, a.b.Today(), firm.Currency, strings.Join(a.about, "\n"))
	return err
}
