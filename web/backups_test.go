package web_test

import (
	"fmt"
	"os"
	"path/filepath"
	"strings"
	"sync"
	"testing"
	"time"

	"cleantally/books"
	"cleantally/core/rights"
	"cleantally/store"
	"cleantally/web"
)

// A backup that is made while fifty clients post is whole: restored, it ties out,
// and holds what was answered before it began.
func TestBackupWhileManyPost(t *testing.T) {
	c := newClient(t)
	c.post("/deposits", deposit(1, "2026-11-01", "1.00")).want(200)
	var wg sync.WaitGroup
	stop := make(chan struct{})
	for n := range 50 {
		wg.Add(1)
		go func() {
			defer wg.Done()
			for i := 0; ; i++ {
				select {
				case <-stop:
					return
				default:
				}
				if a := c.post("/deposits", deposit(1+n%2, "2026-11-02", fmt.Sprintf("%d.%02d", 1+i%90, n)), "Idempotency-Key", fmt.Sprintf("%d %d", n, i)); a.status != 200 {
					t.Errorf("a post beside the backup: %d %s", a.status, a.body)
					return
				}
			}
		}()
	}
	made := c.post("/backups", "").want(200)
	close(stop)
	wg.Wait()
	list := c.get("/backups").want(200)
	if list.at("rows", 0, "name") != made.at("name") || list.at("rows", 0, "failed") != "" || list.at("missing") != "" {
		t.Errorf("the backups: %s", list.body)
	}
	dir := t.TempDir()
	if err := books.Restore(t.Context(), filepath.Join(list.at("at"), made.at("name")), dir); err != nil {
		t.Fatal(err)
	}
	restored, err := books.Open(t.Context(), dir, time.Now, "2026-11-20")
	if err != nil {
		t.Fatal(err)
	}
	defer restored.Close()
	err = restored.Snapshot(t.Context(), func(r *store.Reader) error {
		tie, err := r.TieOut("2026-11-20")
		if err != nil || !tie.OK() {
			t.Errorf("restored: %v %v", tie, err)
		}
		found, err := r.Check()
		if len(found) > 0 {
			t.Errorf("restored: %v", found)
		}
		page, err2 := r.Papers(store.PaperFilter{}, store.Query{Limit: 1}, "2026-11-20", false)
		if page.Count < 1 || err2 != nil {
			t.Errorf("restored: %d papers, %v", page.Count, err2)
		}
		return err
	})
	if err != nil {
		t.Error(err)
	}
	c.tiesOut()
}

// Backups are made by the plan and kept by count and age; one that fails stands on
// the Desk until one is made again.
func TestBackupsByPlan(t *testing.T) {
	c, passed := served(t, web.Options{})
	dir := c.get("/backups").want(200).at("at")
	c.do("PUT", "/backup-plan", `{"everyHours":0,"keepCount":0,"keepDays":0}`).want(422)
	c.do("PUT", "/backup-plan", `{"everyHours":24,"keepCount":2,"keepDays":3}`).want(200)
	made := func() (names []string) {
		t.Helper()
		found, err := filepath.Glob(filepath.Join(dir, "*.db"))
		if err != nil {
			t.Fatal(err)
		}
		return found
	}
	due := func() (bool, string) {
		t.Helper()
		due, missing, err := c.book.BackupDue(t.Context())
		if err != nil {
			t.Fatal(err)
		}
		return due, missing
	}
	if now, _ := due(); !now {
		t.Error("the first is not due")
	}
	for n := range 6 {
		if _, err := c.book.BackUp(t.Context(), 0); err != nil {
			t.Fatal(err)
		}
		if now, missing := due(); now || missing != "" {
			t.Errorf("right after the backup %d it is due: %v %q", n, now, missing)
		}
		passed.Add(int64(25 * time.Hour))
		if now, _ := due(); !now {
			t.Error("a day later none is due")
		}
	}
	if n := len(made()); n != 3 { // those of the last three days; the newest two whatever their age
		t.Errorf("%d backups are kept", n)
	}
	passed.Add(int64(400 * 24 * time.Hour))
	if _, missing := due(); !strings.Contains(missing, "hours old") {
		t.Errorf("a backup that is old: %q", missing)
	}
	if _, err := c.book.BackUp(t.Context(), 0); err != nil {
		t.Fatal(err)
	}
	if n := len(made()); n != 2 {
		t.Errorf("%d backups are kept after a year", n)
	}
	// Where it cannot be made: told, recorded, on the Desk; mended by the next.
	bad := filepath.Join(dir, "no directory")
	if err := os.WriteFile(bad, nil, 0o600); err != nil {
		t.Fatal(err)
	}
	c.post("/session", owner).want(200)
	c.book.BackupsAt(filepath.Join(bad, "x"))
	if a := c.post("/backups", "").want(507); !strings.Contains(a.at("detail"), "cannot be made") {
		t.Errorf("a backup that fails: %s", a.body)
	}
	if d := c.get("/desk").want(200); !strings.Contains(d.at("backup"), "failed") {
		t.Errorf("the Desk says %q", d.at("backup"))
	}
	c.book.BackupsAt("")
	c.post("/backups", "").want(200)
	if d := c.get("/desk").want(200); d.at("backup") != "" {
		t.Errorf("the Desk still says %q", d.at("backup"))
	}
	// A backup of books that do not hang together is none.
	if !notYours(c.as(rights.Bookkeeper).post("/backups", "")) {
		t.Error("a bookkeeper makes a backup")
	}
	files, err := filepath.Glob(filepath.Join(dir, "*.part"))
	if err != nil || len(files) > 0 {
		t.Errorf("left behind: %v %v", files, err)
	}
	info, err := os.Stat(made()[0])
	if err != nil || info.Mode().Perm() != 0o600 {
		t.Errorf("a backup is %v, %v", info.Mode(), err)
	}
}
