package store

import (
	"errors"
	"os"
	"path/filepath"
	"strings"
	"syscall"
	"testing"

	"github.com/mattn/go-sqlite3"
)

// A full disk is told as that, and changes nothing; with room again it goes on.
func TestFullDisk(t *testing.T) {
	db, err := Open(t.Context(), t.TempDir())
	if err != nil {
		t.Fatal(err)
	}
	defer db.Close()
	pool, err := db.writer.DB()
	if err != nil {
		t.Fatal(err)
	}
	bounded := func(by string) {
		t.Helper()
		if _, err := pool.Exec("PRAGMA max_page_count = " + by); err != nil {
			t.Fatal(err)
		}
	}
	record := func() error {
		return db.Write(t.Context(), func(tx *Tx) error {
			return tx.Record(&Act{Action: "x", Summary: strings.Repeat("long ", 4000)}, ticks())
		})
	}
	bounded("1") // no more than there is
	wrote := 0
	for err = record(); err == nil && wrote < 100; err = record() {
		wrote++
	}
	if !errors.Is(err, ErrFull) || !Unwritten(err) {
		t.Fatalf("after %d acts: %v", wrote, err)
	}
	found, err := db.Read(t.Context()).Check()
	if err != nil || len(found) > 0 {
		t.Errorf("the check: %q, %v", found, err)
	}
	if n, _, err := one[int](*db.Read(t.Context()), "SELECT COUNT(*) FROM acts"); n != wrote {
		t.Errorf("%d of %d acts are there, %v", n, wrote, err)
	}
	bounded("100000")
	if err := record(); err != nil {
		t.Errorf("with room again: %v", err)
	}
}

// What SQLite says of the disk is told as what is to be done.
func TestWhatTheDiskSays(t *testing.T) {
	for name, x := range map[string]struct {
		err  error
		is   error
		says string
	}{
		"full":      {sqlite3.Error{Code: sqlite3.ErrFull}, ErrFull, "the disk is full"},
		"no space":  {sqlite3.Error{Code: sqlite3.ErrIoErr, SystemErrno: syscall.ENOSPC}, ErrFull, "the disk is full"},
		"beside":    {&os.PathError{Op: "write", Err: syscall.ENOSPC}, ErrFull, "the disk is full"},
		"read only": {sqlite3.Error{Code: sqlite3.ErrReadonly}, ErrUnwritable{readOnly}, "may only be read"},
		"damaged":   {sqlite3.Error{Code: sqlite3.ErrCorrupt}, nil, "is damaged"},
		"another":   {sqlite3.Error{Code: sqlite3.ErrBusy}, nil, "database is locked"},
	} {
		got := understood(x.err)
		if got == nil || !strings.Contains(got.Error(), x.says) || x.is != nil && !errors.Is(got, x.is) {
			t.Errorf("%s: %v", name, got)
		}
	}
	if understood(nil) != nil {
		t.Error("nothing is something")
	}
}

// Once the books are found to be damaged nothing is written, and it says why;
// they are looked at all the same.
func TestDamagedBooksAreOnlyLookedAt(t *testing.T) {
	db, err := Open(t.Context(), t.TempDir())
	if err != nil {
		t.Fatal(err)
	}
	defer db.Close()
	if found, err := db.Read(t.Context()).Quick(); err != nil || len(found) > 0 {
		t.Errorf("sound books: %q, %v", found, err)
	}
	if _, err := db.writer.DB(); err != nil {
		t.Fatal(err)
	}
	if err := db.writer.Exec("INSERT INTO accounts (id, number, name, type) VALUES (1, '101', 'Bank', 'asset')").Error; err != nil {
		t.Fatal(err)
	}
	if err := db.writer.Exec("INSERT INTO account_days (account_id, day, debit, credit) VALUES (1, '2026-11-20', 5, 0)").Error; err != nil {
		t.Fatal(err)
	}
	found, err := db.Read(t.Context()).Quick()
	if err != nil || len(found) != 1 || !strings.Contains(found[0], "debits and credits differ") {
		t.Fatalf("damaged books: %q, %v", found, err)
	}
	db.Refuse("the books are damaged")
	err = db.Write(t.Context(), func(*Tx) error { return nil })
	if !Unwritten(err) || err.Error() != "nothing can be written: the books are damaged" {
		t.Errorf("it is written all the same: %v", err)
	}
	// Signing in, to look, lasts until the program ends.
	s := db.Sessions()
	if err := s.Commit("token", []byte("data"), ticks().AddDate(20, 0, 0)); err != nil {
		t.Fatal(err)
	}
	if data, ok, err := s.Find("token"); err != nil || !ok || string(data) != "data" {
		t.Errorf("the session: %q, %v, %v", data, ok, err)
	}
	if err := s.Delete("token"); err != nil {
		t.Error(err)
	}
	if _, err := os.Stat(filepath.Join(db.Dir, FileName)); err != nil {
		t.Error(err)
	}
}

// What is only tried has the ways through the records that the file has: else
// each row of an import would take longer than the one before.
func TestTrialHasTheIndexes(t *testing.T) {
	db, err := Open(t.Context(), t.TempDir())
	if err != nil {
		t.Fatal(err)
	}
	defer db.Close()
	err = db.Trial(t.Context(), func(tx *Tx) error {
		for _, table := range records {
			in := func(schema string) []string {
				names, err := scan[string](tx.Reader, "SELECT name FROM "+schema+".sqlite_master WHERE type = 'index' AND tbl_name = ? ORDER BY name", table)
				if err != nil {
					t.Fatal(err)
				}
				return names
			}
			if got, want := in("temp"), in("main"); strings.Join(got, " ") != strings.Join(want, " ") {
				t.Errorf("%s is tried with %q, is kept with %q", table, got, want)
			}
		}
		return nil
	})
	if err != nil {
		t.Fatal(err)
	}
}
