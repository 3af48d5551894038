package books_test

import (
	"context"
	"database/sql"
	"errors"
	"fmt"
	"math/rand/v2"
	"os"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"cleantally/books"
	"cleantally/core/posting/postingtest"
	"cleantally/demo"
	"cleantally/store"
)

// told are the books of the demo firm, as one file that nobody holds.
func told(t *testing.T) []byte {
	t.Helper()
	dir := t.TempDir()
	b, err := books.Open(t.Context(), dir, time.Now, demo.Today)
	if err != nil {
		t.Fatal(err)
	}
	if err := errors.Join(demo.Tell(t.Context(), b, func(int, int) {}), b.Close()); err != nil {
		t.Fatal(err)
	}
	file, err := os.ReadFile(filepath.Join(dir, store.FileName))
	if err != nil {
		t.Fatal(err)
	}
	return file
}

// checked is what check finds in a file; an error counts.
func checked(t *testing.T, file []byte, change func(*sql.DB) error, look func(*store.Reader) ([]string, error)) []string {
	t.Helper()
	dir := t.TempDir()
	path := filepath.Join(dir, store.FileName)
	if err := os.WriteFile(path, file, 0o600); err != nil {
		t.Fatal(err)
	}
	if change != nil {
		db, err := sql.Open("sqlite3", path)
		if err != nil {
			t.Fatal(err)
		}
		if err := errors.Join(change(db), db.Close()); err != nil {
			return []string{"", err.Error()}
		}
	}
	ctx, cancel := context.WithTimeout(t.Context(), time.Minute)
	defer cancel()
	b, err := books.Look(ctx, dir, time.Now, demo.Today)
	if err != nil {
		return []string{err.Error()}
	}
	defer b.Close()
	found, err := look(b.Read(ctx))
	if err != nil {
		found = append(found, err.Error())
	}
	return found
}

func seals(r *store.Reader) ([]string, error) { return r.Seals(context.Background()) }

// Whatever is changed of what was posted, outside of the program, is found, and
// the paper is named: every column of every table that stays.
func TestWhatWasPostedIsSealed(t *testing.T) {
	file := told(t)
	if found := checked(t, file, nil, func(r *store.Reader) ([]string, error) { return r.Check() }); len(found) > 0 {
		t.Fatalf("before anything was changed: %q", found)
	}
	rnd := rand.New(rand.NewPCG(7, 7))
	changed := 0
	for _, x := range [][2]string{
		{"papers", "id"}, {"paper_billing", "paper_id"}, {"paper_offers", "paper_id"}, {"paper_payment", "paper_id"}, {"paper_lines", "paper_id"}, {"open_items", "paper_id"}, {"item_moves", ""}, {"allocations", ""},
		{"entries", "paper_id"}, {"entry_lines", ""}, {"uses", "paper_id"}, {"stock_moves", "paper_id"}, {"acts", ""},
	} {
		for _, column := range columnsOf(t, file, x[0]) {
			if rnd.IntN(3) > 0 && x[0] != "acts" && x[0] != "entry_lines" {
				continue
			}
			var number string
			found := checked(t, file, func(db *sql.DB) error {
				for _, drop := range triggersOf(db) {
					if _, err := db.Exec("DROP TRIGGER " + drop); err != nil {
						return err
					}
				}
				var row int64
				if err := db.QueryRow("SELECT COUNT(*) FROM " + x[0]).Scan(&row); err != nil {
					return err
				}
				key := rowKey(x[0])
				at := rnd.Int64N(row)
				if x[1] != "" {
					if err := db.QueryRow(fmt.Sprintf("SELECT number FROM papers WHERE id = (SELECT %s FROM %s ORDER BY %s LIMIT 1 OFFSET %d)", x[1], x[0], key, at)).Scan(&number); err != nil {
						return err
					}
				}
				if _, err := db.Exec("PRAGMA ignore_check_constraints = on"); err != nil {
					return err
				}
				_, err := db.Exec(fmt.Sprintf("UPDATE %s SET %s = CASE typeof(%s) WHEN 'integer' THEN %s + 1 WHEN 'null' THEN 1 ELSE %s || '1' END WHERE (%s) = (SELECT %s FROM %s ORDER BY %s LIMIT 1 OFFSET %d)",
					x[0], column, column, column, column, key, key, x[0], key, at))
				return err
			}, seals)
			if len(found) > 0 && found[0] == "" {
				continue // the file itself does not take this change
			}
			changed++
			switch all := strings.Join(found, "; "); {
			case len(found) == 0:
				t.Errorf("a change of %s.%s is not found", x[0], column)
			case number != "" && column != "paper_id" && column != "id" && column != "act_id" && column != "number" && !strings.Contains(all, number):
				t.Errorf("a change of %s.%s of %s is told as %s", x[0], column, number, all)
			case len(found) > 4:
				t.Errorf("one change of %s.%s is told as %d: %s", x[0], column, len(found), all)
			}
		}
	}
	if changed < 40 {
		t.Errorf("only %d changes were tried", changed)
	}
}

func rowKey(table string) string {
	switch table {
	case "paper_lines":
		return "paper_id, position"
	case "paper_billing", "paper_offers", "paper_payment":
		return "paper_id"
	}
	return "id"
}

func columnsOf(t *testing.T, file []byte, table string) (all []string) {
	t.Helper()
	checked(t, file, func(db *sql.DB) error {
		rows, err := db.Query("SELECT name FROM pragma_table_info(?)", table)
		if err != nil {
			return err
		}
		defer rows.Close()
		for rows.Next() {
			var name string
			if err := rows.Scan(&name); err != nil {
				return err
			}
			switch table + "." + name {
			case "open_items.open", "open_items.open_tax", "open_items.own_open", "open_items.own_open_tax", "item_moves.id", "entry_lines.id", "uses.id", "stock_moves.id":
			default:
				all = append(all, name)
			}
		}
		return rows.Err()
	}, seals)
	return all
}

func triggersOf(db *sql.DB) (all []string) {
	rows, err := db.Query("SELECT name FROM sqlite_master WHERE type = 'trigger'")
	if err != nil {
		return nil
	}
	defer rows.Close()
	for rows.Next() {
		var name string
		if rows.Scan(&name) == nil {
			all = append(all, name)
		}
	}
	return all
}

// What is added beside the program, or taken away, is found as well.
func TestWhatIsAddedOrTakenAwayIsFound(t *testing.T) {
	file := told(t)
	for name, x := range map[string]struct{ change, says string }{
		"an act is taken away":            {"DELETE FROM acts WHERE id = (SELECT MAX(a.id) FROM acts a WHERE a.id NOT IN (SELECT act_id FROM papers) AND a.id < 500)", "missing"},
		"a line is added":                 {"INSERT INTO entry_lines (entry_id, day, account_id, amount) SELECT entry_id, day, account_id, amount FROM entry_lines WHERE id = 40", "is not as it was posted"},
		"a line is taken away":            {"DELETE FROM entry_lines WHERE id = 40", "is not as it was posted"},
		"a seal is another":               {"UPDATE seals SET seal = replace(seal, substr(seal, 1, 1), CASE substr(seal, 1, 1) WHEN 'a' THEN 'b' ELSE 'a' END) WHERE act_id = 300", "act 300"},
		"a seal is gone":                  {"DELETE FROM seals WHERE act_id = 300", "act 300"},
		"acts are told in another's name": {"UPDATE acts SET user_id = 2 WHERE id = 77", "act 77"},
		"a number is missing":             {"UPDATE papers SET number = 'I26-9001' WHERE number = 'I26-0002'", "I26-0002 is missing"},
		"a posting is put in":             {"INSERT INTO entries (id, act_id, paper_id, day, text) VALUES (999999, 9999, 1, '2026-01-01', 'x')", "not recorded"},
	} {
		found := checked(t, file, func(db *sql.DB) error {
			for _, drop := range triggersOf(db) {
				if _, err := db.Exec("DROP TRIGGER " + drop); err != nil {
					return err
				}
			}
			_, err := db.Exec("PRAGMA foreign_keys = off; " + x.change)
			return err
		}, func(r *store.Reader) ([]string, error) { return r.Check() })
		if all := strings.Join(found, "; "); !strings.Contains(all, x.says) {
			t.Errorf("%s: %q", name, all)
		}
	}
}

// posted is all that a file says of what was posted, row by row.
func posted(t *testing.T, file []byte) (all string) {
	t.Helper()
	checked(t, file, func(db *sql.DB) error {
		var text strings.Builder
		for _, table := range []string{"acts", "seals", "papers", "paper_billing", "paper_offers", "paper_payment", "paper_lines", "open_items", "item_moves", "allocations", "entries", "entry_lines", "uses", "stock_moves", "stock_serials", "account_days", "lines_left"} {
			rows, err := db.Query("SELECT * FROM " + table)
			if err != nil {
				return err
			}
			columns, err := rows.Columns()
			if err != nil {
				return err
			}
			values, to := make([]any, len(columns)), make([]any, len(columns))
			for n := range values {
				to[n] = &values[n]
			}
			for rows.Next() {
				if err := rows.Scan(to...); err != nil {
					return err
				}
				fmt.Fprintln(&text, table, values)
			}
			if err := errors.Join(rows.Err(), rows.Close()); err != nil {
				return err
			}
		}
		all = text.String()
		return nil
	}, seals)
	return all
}

// Bits that a disk turned are found, wherever they change anything that was
// posted: where check finds nothing, it all reads as it did.
func TestTurnedBitsAreFound(t *testing.T) {
	file := told(t)
	before := posted(t, file)
	rnd := rand.New(rand.NewPCG(8, 8))
	found, tried := 0, 60*postingtest.Harder()
	for range tried {
		at, bit := rnd.IntN(len(file)), rnd.IntN(8)
		for empty(file, at) {
			at = rnd.IntN(len(file))
		}
		turned := append([]byte{}, file...)
		turned[at] ^= 1 << bit
		if all := checked(t, turned, nil, func(r *store.Reader) ([]string, error) { return r.Check() }); len(all) > 0 {
			found++
		} else if posted(t, turned) != before {
			t.Errorf("bit %d of byte %d changes what was posted, and is not found: %s", bit, at, difference(before, posted(t, turned)))
		}
	}
	t.Logf("%d of %d turned bits are found; the rest lies where nothing that was posted does", found, tried)
	if found < tried*2/3 {
		t.Errorf("only %d of %d are found", found, tried)
	}
}

// empty tells whether nothing but zeros lies around a byte: the room that is left
// in a page, whose bits say nothing.
func empty(file []byte, at int) bool {
	for _, b := range file[max(0, at-8):min(len(file), at+9)] {
		if b != 0 {
			return false
		}
	}
	return true
}

// difference is the first line in which two texts differ.
func difference(a, b string) string {
	x, y := strings.Split(a, "\n"), strings.Split(b, "\n")
	for n := range min(len(x), len(y)) {
		if x[n] != y[n] {
			return x[n] + " became " + y[n]
		}
	}
	return fmt.Sprintf("%d lines became %d", len(x), len(y))
}
