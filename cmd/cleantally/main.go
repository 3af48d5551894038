// Command cleantally keeps a firm's books and serves them.
package main

import (
	"context"
	"fmt"
	"os"
	"os/signal"
	"path/filepath"
	"syscall"
	"time"

	"cleantally/books"
	"cleantally/core/day"
	"cleantally/store"

	"github.com/spf13/cobra"
)

func main() {
	syscall.Umask(0o077) // what is written here is nobody else's
	ctx, stop := signal.NotifyContext(context.Background(), os.Interrupt, syscall.SIGTERM)
	defer stop()
	root := &cobra.Command{Use: "cleantally", Short: "Deposits, invoices, receipts: books that tie out", SilenceUsage: true, SilenceErrors: true}
	root.AddCommand(serveCommand(), demoCommand(), checkCommand(), backupCommand(), restoreCommand(), importCommand(), exportCommand(), archiveCommand(), personCommand(), openAPICommand())
	if err := root.ExecuteContext(ctx); err != nil {
		fmt.Fprintln(os.Stderr, "cleantally: "+err.Error())
		os.Exit(1)
	}
}

// place is where the books are and which day it is.
type place struct {
	dir   string
	today string
}

func (p *place) flags(c *cobra.Command, required bool) {
	c.Flags().StringVar(&p.dir, "data", "", "the directory of the data file")
	c.Flags().StringVar(&p.today, "today", "", "fix the business day (YYYY-MM-DD)")
	if required {
		if err := c.MarkFlagRequired("data"); err != nil {
			panic(err) // the flag is defined above
		}
	}
}

// day is the business day that was fixed, "" for the calendar's.
func (p *place) day() (day.Day, error) {
	if p.today == "" {
		return "", nil
	}
	d, err := day.Parse(p.today)
	if err != nil {
		return "", fmt.Errorf("--today: %w", err)
	}
	return d, nil
}

// with opens the books, runs f and closes them.
func (p *place) with(ctx context.Context, f func(*books.Book) error) error {
	return p.using(ctx, books.Open, f)
}

// look is with, for what only looks at the books: also while they are served.
func (p *place) look(ctx context.Context, f func(*books.Book) error) error {
	return p.using(ctx, books.Look, f)
}

func (p *place) using(ctx context.Context, open func(context.Context, string, func() time.Time, day.Day) (*books.Book, error), f func(*books.Book) error) error {
	fixed, err := p.day()
	if err != nil {
		return err
	}
	b, err := open(ctx, p.dir, time.Now, fixed)
	if err != nil {
		return err
	}
	defer b.Close()
	return f(b)
}

// existing is with or look, for books that must be there already.
func (p *place) existing(ctx context.Context, open func(context.Context, func(*books.Book) error) error, f func(*books.Book) error) error {
	if _, err := os.Stat(filepath.Join(p.dir, store.FileName)); err != nil {
		return fmt.Errorf("there are no books in %s", p.dir)
	}
	return open(ctx, f)
}
