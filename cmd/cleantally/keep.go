package main

import (
	"context"
	"errors"
	"fmt"
	"io"
	"os"
	"path/filepath"
	"strings"

	"cleantally/books"
	"cleantally/core/day"
	"cleantally/formats"
	"cleantally/store"
	"cleantally/web"

	"github.com/spf13/cobra"
)

// errNoTieOut makes check end with 1.
var errNoTieOut = errors.New("the books do not tie out")

func checkCommand() *cobra.Command {
	var p place
	c := &cobra.Command{Use: "check", Short: "Recompute every balance and prove that it ties out, of all firms", Args: cobra.NoArgs, RunE: func(c *cobra.Command, _ []string) error {
		ctx, out := c.Context(), c.OutOrStdout()
		err := p.existing(ctx, p.look, func(b *books.Book) error { return checkOne(ctx, b, out) })
		for _, dir := range web.FurtherFirms(p.dir) {
			fmt.Fprintf(out, "\n%s\n", dir)
			f := place{dir: dir, today: p.today}
			e := f.existing(ctx, f.look, func(b *books.Book) error { return checkOne(ctx, b, out) })
			if errors.Is(e, store.ErrNoFirm) {
				fmt.Fprintln(out, "Not set up yet.")
			} else if e != nil {
				err = errors.Join(err, fmt.Errorf("%s: %w", filepath.Base(dir), e))
			}
		}
		return err
	}}
	p.flags(c, true)
	return c
}

// checkOne proves the books of one firm.
func checkOne(ctx context.Context, b *books.Book, out io.Writer) error {
	cur, err := b.Currency(ctx)
	if err != nil {
		return err
	}
	return b.Snapshot(ctx, func(r *store.Reader) error {
		tie, err := r.TieOutFromJournal(day.EndOfTime)
		if err != nil {
			return err
		}
		bad, err := r.Check()
		if err != nil {
			return err
		}
		for _, x := range tie.Ties {
			verdict := "ties out"
			if !x.OK() {
				verdict = "DIFFERS"
			}
			in := cur.In(x.Currency)
			fmt.Fprintf(out, "%-38s %18s %18s  %s\n", strings.TrimSpace(x.Account+" "+x.Currency), in.Show(x.Ledger), in.Show(x.Sum), verdict)
		}
		missing, err := b.MissingAttachments(ctx)
		if err != nil {
			return err
		}
		for _, s := range append(bad, missing...) {
			fmt.Fprintln(out, s)
		}
		if !tie.OK() || len(bad)+len(missing) > 0 {
			return errNoTieOut
		}
		fmt.Fprintln(out, "All ties out.")
		return nil
	})
}

func backupCommand() *cobra.Command {
	var p place
	c := &cobra.Command{Use: "backup FILE", Short: "Write a copy of the data file, and of what is attached into FILE-attachments, also while it is served", Args: cobra.ExactArgs(1), RunE: func(c *cobra.Command, args []string) error {
		if _, err := os.Stat(args[0]); err == nil {
			return fmt.Errorf("%s is there already: name a new file", args[0])
		}
		return p.existing(c.Context(), p.look, func(b *books.Book) error { return b.Backup(c.Context(), args[0]) })
	}}
	p.flags(c, true)
	return c
}

func restoreCommand() *cobra.Command {
	var p place
	c := &cobra.Command{Use: "restore FILE", Short: "Put a backup into an empty data directory", Args: cobra.ExactArgs(1), RunE: func(c *cobra.Command, args []string) error {
		if err := books.Restore(c.Context(), args[0], p.dir); err != nil {
			return err
		}
		return p.with(c.Context(), func(b *books.Book) error {
			_, err := b.Read(c.Context()).Firm()
			return err
		})
	}}
	p.flags(c, true)
	return c
}

func importCommand() *cobra.Command {
	var p place
	var preview bool
	var from int
	c := &cobra.Command{Use: "import KIND FILE", Short: "Import customers, jobs, articles, accounts, taxcodes, terms or banks from CSV", Args: cobra.ExactArgs(2), RunE: func(c *cobra.Command, args []string) error {
		f, err := os.Open(args[1])
		if err != nil {
			return err
		}
		defer f.Close()
		t, err := formats.ReadCSV(f)
		if err != nil {
			return err
		}
		return p.existing(c.Context(), p.with, func(b *books.Book) error {
			rows, err := b.Import(c.Context(), 0, args[0], t, preview, from, nil)
			for _, r := range rows {
				does := r.Does
				if len(r.Refusals) > 0 {
					does = "refuse: " + r.Refusals.Error()
				}
				fmt.Fprintf(c.OutOrStdout(), "row %d  %s  %s\n", r.Row, r.Name, does)
			}
			return err
		})
	}}
	p.flags(c, true)
	c.Flags().BoolVar(&preview, "preview", false, "say what each row would do and keep nothing")
	c.Flags().IntVar(&from, "from", 0, "the row of the file to begin with, where an import was stopped (the header is row 1)")
	return c
}

func exportCommand() *cobra.Command {
	var p place
	c := &cobra.Command{Use: "export KIND", Short: "Write customers, jobs, articles, accounts, taxcodes, terms or banks as CSV", Args: cobra.ExactArgs(1), RunE: func(c *cobra.Command, args []string) error {
		return p.existing(c.Context(), p.look, func(b *books.Book) error {
			t, err := b.Export(c.Context(), args[0])
			if err != nil {
				return err
			}
			return formats.WriteCSV(c.OutOrStdout(), t)
		})
	}}
	p.flags(c, true)
	return c
}

func archiveCommand() *cobra.Command {
	var p place
	c := &cobra.Command{Use: "archive FILE", Short: "Write all of the books as one archive that anybody can read: CSV, PDF and what is attached", Args: cobra.ExactArgs(1), RunE: func(c *cobra.Command, args []string) error {
		f, err := os.OpenFile(args[0], os.O_WRONLY|os.O_CREATE|os.O_EXCL, 0o600)
		if err != nil {
			return err
		}
		err = p.existing(c.Context(), p.look, func(b *books.Book) error { return b.Archive(c.Context(), 0, f, nil) })
		if err = errors.Join(err, f.Sync(), f.Close()); err != nil {
			err = errors.Join(err, os.Remove(args[0]))
		}
		return err
	}}
	p.flags(c, true)
	return c
}
