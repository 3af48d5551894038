package store

import (
	"context"
	"errors"
	"fmt"
	"net/url"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"sync"
	"testing"
	"time"

	"gorm.io/gorm"
)

// note writes one act that is known by its summary.
func note(tx *Tx, what string) error {
	return tx.Record(&Act{Action: "test", Summary: what}, time.Now())
}

func notes(t *testing.T, db *DB) []string {
	t.Helper()
	all, err := scan[string](*db.Read(context.Background()), "SELECT summary FROM acts WHERE action = 'test' ORDER BY id")
	if err != nil {
		t.Fatal(err)
	}
	return all
}

// queued holds the turn while others are asked for, one after the other, and then
// lets them have it. The last error is of what held it.
func queued(t *testing.T, db *DB, writes ...func(*Tx) error) []error {
	t.Helper()
	var wait sync.WaitGroup
	errs := make([]error, len(writes))
	err := db.Write(context.Background(), func(*Tx) error {
		for n, f := range writes {
			wait.Go(func() {
				defer func() {
					if p := recover(); p != nil {
						errs[n] = fmt.Errorf("panic: %v", p)
					}
				}()
				errs[n] = db.Write(context.Background(), f)
			})
			for waits := 0; waits <= n; {
				db.turns.mu.Lock()
				waits = len(db.turns.waiting)
				db.turns.mu.Unlock()
			}
		}
		return nil
	})
	wait.Wait()
	return append(errs, err)
}

// Writes that wait share a transaction; each of them stands or falls alone,
// and they are done in the order in which they came.
func TestWritesShareATransaction(t *testing.T) {
	db := openEmpty(t)
	refused := errors.New("refused")
	var groups []*group
	in := func(what string, err error) func(*Tx) error {
		return func(tx *Tx) error {
			groups = append(groups, db.group)
			return errors.Join(note(tx, what), err)
		}
	}
	errs := queued(t, db, in("a", nil), in("b", refused), in("c", nil), func(tx *Tx) error {
		_ = note(tx, "d")
		panic("d")
	}, in("e", nil), func(tx *Tx) error {
		_, err := tx.exec("INSERT INTO parties (id, number, name, is_customer, is_supplier) VALUES (1, '', '', 1, 1)")
		return errors.Join(note(tx, "f"), err)
	})
	if errs[0] != nil || !errors.Is(errs[1], refused) || errs[2] != nil || errs[3] == nil || errs[4] != nil || errs[5] == nil || errs[6] != nil {
		t.Errorf("%v", errs)
	}
	if got := notes(t, db); !slices.Equal(got, []string{"a", "c", "e"}) {
		t.Errorf("%q is written", got)
	}
	if all := len(groups); len(slices.Compact(groups)) == all {
		t.Error("no two of them shared a transaction")
	}
	if found, err := db.Read(context.Background()).Check(); err != nil || len(found) > 0 {
		t.Errorf("%q, %v", found, err)
	}
}

// Nobody is told that it is written before it is on disk: others see it then.
func TestAnsweredOnceOnDisk(t *testing.T) {
	db := openEmpty(t)
	ctx := context.Background()
	var wait sync.WaitGroup
	for n := range 40 {
		wait.Go(func() {
			for i := range 10 {
				what := fmt.Sprintf("%d of %d", i, n)
				if err := db.Write(ctx, func(tx *Tx) error { return note(tx, what) }); err != nil {
					t.Error(err)
				}
				if _, there, err := one[int64](*db.Read(ctx), "SELECT id FROM acts WHERE summary = ?", what); !there || err != nil {
					t.Errorf("%s was answered, and is not there: %v", what, err)
				}
			}
		})
	}
	wait.Wait()
	if found, err := db.Read(ctx).Check(); err != nil || len(found) > 0 || len(notes(t, db)) != 400 {
		t.Errorf("%q, %v, %d", found, err, len(notes(t, db)))
	}
}

// What cannot be committed is told to everybody of the group, and the next is
// written all the same.
func TestAGroupThatFailsIsToldToAll(t *testing.T) {
	db := openEmpty(t)
	deferred := func(tx *Tx) error { // refers to nothing, which is found at the commit
		if _, err := tx.exec("PRAGMA defer_foreign_keys = ON"); err != nil {
			return err
		}
		_, err := tx.exec("INSERT INTO jobs (id, number, name, party_id) VALUES (1, '1', 'x', 99)")
		return err
	}
	errs := queued(t, db, func(tx *Tx) error { return note(tx, "a") }, deferred, func(tx *Tx) error { return note(tx, "b") })
	if slices.Contains(errs, nil) {
		t.Errorf("%v", errs)
	}
	if err := db.Write(context.Background(), func(tx *Tx) error { return note(tx, "c") }); err != nil {
		t.Error(err)
	}
	if got := notes(t, db); !slices.Equal(got, []string{"c"}) {
		t.Errorf("%q is written", got)
	}
}

// Whoever no longer waits for a turn does not have it, and holds up nobody.
func TestLeavingTheQueue(t *testing.T) {
	db := openEmpty(t)
	gone, leave := context.WithCancel(context.Background())
	left := make(chan error)
	err := db.Write(context.Background(), func(tx *Tx) error {
		go func() { left <- db.Write(gone, func(tx *Tx) error { return note(tx, "gone") }) }()
		for waits := 0; waits == 0; {
			db.turns.mu.Lock()
			waits = len(db.turns.waiting)
			db.turns.mu.Unlock()
		}
		leave()
		if err := <-left; !errors.Is(err, context.Canceled) {
			t.Errorf("%v", err)
		}
		return note(tx, "first")
	})
	if err != nil {
		t.Fatal(err)
	}
	if err := db.Write(gone, func(tx *Tx) error { return note(tx, "late") }); !errors.Is(err, context.Canceled) {
		t.Errorf("%v", err)
	}
	if err := db.Write(context.Background(), func(tx *Tx) error { return note(tx, "last") }); err != nil {
		t.Error(err)
	}
	if got := notes(t, db); !slices.Equal(got, []string{"first", "last"}) {
		t.Errorf("%q is written", got)
	}
}

// Whoever reads one state of the books for long keeps the log from beginning
// anew, and is stopped when it is too long; it is short again afterwards.
func TestALongReadIsStopped(t *testing.T) {
	db := openEmpty(t)
	ctx := context.Background()
	log := func() int64 {
		info, err := os.Stat(filepath.Join(db.Dir, FileName) + "-wal")
		if err != nil {
			t.Fatal(err)
		}
		return info.Size()
	}
	big := func() {
		t.Helper()
		if err := db.Write(ctx, func(tx *Tx) error {
			return tx.Record(&Act{Action: "test", Summary: "big", Detail: `"` + strings.Repeat("x", 4<<20) + `"`}, time.Now())
		}); err != nil {
			t.Fatal(err)
		}
	}
	err := db.Snapshot(ctx, func(r *Reader) error {
		if _, err := scan[int64](*r, "SELECT COUNT(*) FROM acts"); err != nil {
			return err
		}
		for n := 0; n < 6; n++ {
			big()
		}
		if log() < 20<<20 {
			t.Errorf("the log has %d bytes while somebody reads", log())
		}
		db.bound(64<<20, 0) // not that long yet
		if _, err := scan[int64](*r, "SELECT COUNT(*) FROM acts"); err != nil {
			return err
		}
		db.bound(16<<20, time.Hour) // and not for that long
		if _, err := scan[int64](*r, "SELECT COUNT(*) FROM acts"); err != nil {
			return err
		}
		db.bound(16<<20, 0)
		_, err := scan[int64](*r, "SELECT COUNT(*) FROM acts")
		return err
	})
	if !errors.Is(err, ErrReadStopped) {
		t.Errorf("%v", err)
	}
	while := log()
	for range 4 {
		big()
	}
	if log() > while+5<<20 { // after one more it began anew
		t.Errorf("the log has %d bytes, had %d, and nobody reads any more", log(), while)
	}
}

// What is told anew does not wait for the disk; afterwards everything does, also
// where it failed.
func TestToldAnew(t *testing.T) {
	db := openEmpty(t)
	waits := func() (n int) {
		if err := db.writer.Raw("PRAGMA synchronous").Scan(&n).Error; err != nil {
			t.Fatal(err)
		}
		return n
	}
	failed := errors.New("failed")
	if err := db.ToldAnew(t.Context(), func() error {
		if n := waits(); n != 0 {
			t.Errorf("it waits: %d", n)
		}
		return failed
	}); !errors.Is(err, failed) {
		t.Error(err)
	}
	if n := waits(); n != 2 {
		t.Errorf("nothing waits any more: %d", n)
	}
}

// What connections keep of the file is little, also that which copies it while many
// look at it: so 16 readers and a backup of very many papers stay within 200 MB.
func TestLittleIsKeptOfTheFile(t *testing.T) {
	db := openEmpty(t)
	copies, pool, err := alone(filepath.Join(db.Dir, FileName), url.Values{})
	if err != nil {
		t.Fatal(err)
	}
	defer pool.Close()
	for name, c := range map[string]struct {
		of   *gorm.DB
		want int // kB, below nil, as SQLite tells them
	}{"writes": {db.writer, -8000}, "reads": {db.reader, -2000}, "copies": {copies, -2000}} {
		var kept int
		if err := c.of.Raw("PRAGMA cache_size").Scan(&kept).Error; err != nil || kept != c.want {
			t.Errorf("what %s keeps %d, want %d: %v", name, kept, c.want, err)
		}
	}
}
