package books_test

import (
	"cleantally/store"
	"context"
	"errors"
	"fmt"
	"strings"
	"testing"

	"cleantally/books"
	"cleantally/formats"
)

// people is a file of so many customers.
func people(t *testing.T, n int) formats.Table {
	t.Helper()
	var text strings.Builder
	text.WriteString("Name,Number,Town\n")
	for i := range n {
		fmt.Fprintf(&text, "Imported %d,%d,Haverling\n\n", i, 50000+i)
	}
	table, err := formats.ReadCSV(strings.NewReader(text.String()))
	if err != nil {
		t.Fatal(err)
	}
	return table
}

// Who posts while an import goes on has their turn between its portions.
func TestPostsComeBetween(t *testing.T) {
	b := open(t)
	there, err := b.Export(ctx, "customers")
	if err != nil {
		t.Fatal(err)
	}
	before := len(there.Rows)
	imported := make(chan error, 1)
	go func() {
		_, err := b.Import(ctx, 1, "customers", people(t, 3000), false, 0, nil)
		imported <- err
	}()
	for ended := false; !ended; {
		select {
		case err := <-imported:
			if err != nil {
				t.Fatal(err)
			}
			ended = true
		default:
			if _, err := b.Post(ctx, bill(1, "2026-11-20", "100"), how); err != nil {
				t.Fatal(err)
			}
		}
	}
	acts, err := b.Read(ctx).Acts(store.ActFilter{}, 100000)
	if err != nil {
		t.Fatal(err)
	}
	turns := 0 // how often an import and a post followed each other
	for n, a := range acts[1:] {
		if strings.HasPrefix(a.Action, "import") != strings.HasPrefix(acts[n].Action, "import") {
			turns++
		}
	}
	if turns < 10 {
		t.Errorf("imports and posts took turns %d times", turns)
	}
	if list, err := b.Export(ctx, "customers"); err != nil || len(list.Rows) != before+3000 {
		t.Errorf("%d customers, %v", len(list.Rows), err)
	}
}

// An import that is stopped says what is left, and goes on from there.
func TestStoppedImportGoesOn(t *testing.T) {
	b := open(t)
	table := people(t, 2000)
	stopping, stop := context.WithCancel(ctx)
	rows, err := b.Import(stopping, 1, "customers", table, false, 0, func(doing string, done, _ int) {
		if doing == "Imported" && done > 0 {
			stop()
		}
	})
	var told books.ErrImportStopped
	if !errors.As(err, &told) || told.Done == 0 || told.Done >= 2000 || told.Done != len(rows) || told.Of != len(table.Rows) {
		t.Fatalf("%v, %d rows", err, len(rows))
	}
	rest, err := b.Import(ctx, 1, "customers", table, false, told.Row, nil)
	if err != nil || len(rest)+told.Done != 2000 || rest[0].Does != "create" {
		t.Errorf("%v: %d and %d rows", err, told.Done, len(rest))
	}
	if found, err := b.Read(ctx).Check(); err != nil || len(found) > 0 {
		t.Errorf("%q, %v", found, err)
	}
}
