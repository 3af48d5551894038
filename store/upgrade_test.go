package store

import (
	"context"
	"database/sql"
	"errors"
	"fmt"
	"io/fs"
	"math/rand/v2"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"
	"testing/fstest"
	"time"

	"cleantally/core/posting/postingtest"

	"github.com/pressly/goose/v3"
)

// steps are the steps of the schema as files that a test may add to.
func steps(t *testing.T) fstest.MapFS {
	t.Helper()
	all := fstest.MapFS{}
	entries, err := migrations.ReadDir("migrations")
	if err != nil {
		t.Fatal(err)
	}
	for _, e := range entries {
		text, err := migrations.ReadFile("migrations/" + e.Name())
		if err != nil {
			t.Fatal(err)
		}
		all[e.Name()] = &fstest.MapFile{Data: text}
	}
	return all
}

// of makes a data file as the program of an older version did, with a firm and a
// customer in it.
func of(t *testing.T, version int64) string {
	t.Helper()
	dir := t.TempDir()
	db, err := sql.Open("sqlite3", "file:"+filepath.Join(dir, FileName)+"?_journal_mode=WAL&_foreign_keys=on")
	if err != nil {
		t.Fatal(err)
	}
	defer db.Close()
	p, err := goose.NewProvider(goose.DialectSQLite3, db, steps(t))
	if err != nil {
		t.Fatal(err)
	}
	if _, err := p.UpTo(t.Context(), version); err != nil {
		t.Fatal(err)
	}
	if _, err := db.Exec("INSERT INTO parties (id, number, name, is_customer, is_supplier) VALUES (1, '1001', 'Odalys Brandt', 1, 0)"); err != nil {
		t.Fatal(err)
	}
	if _, err := db.Exec("INSERT INTO sessions (token, data, expiry) VALUES ('somebody', x'00', 4000000000)"); err != nil {
		t.Fatal(err)
	}
	return dir
}

// schemaOf is all that a file is made of, but for its rows.
func schemaOf(t *testing.T, r Reader) string {
	t.Helper()
	rows, err := scan[string](r, "SELECT type || ' ' || name || ' ' || replace(replace(COALESCE(sql, ''), char(10), ' '), '  ', ' ') FROM sqlite_master WHERE name NOT LIKE 'sqlite_stat%' ORDER BY type, name")
	if err != nil {
		t.Fatal(err)
	}
	return strings.Join(rows, "\n")
}

// A file of every older version is brought to the schema that a new one has,
// keeps what is in it, and lies beside as it was.
func TestOlderFilesAreBroughtUpToDate(t *testing.T) {
	fresh, err := Open(t.Context(), t.TempDir())
	if err != nil {
		t.Fatal(err)
	}
	defer fresh.Close()
	want := schemaOf(t, *fresh.Read(t.Context()))
	for version := int64(1); version < int64(len(steps(t))); version++ {
		t.Run(fmt.Sprint(version), func(t *testing.T) {
			dir := of(t, version)
			if _, err := Look(t.Context(), dir); !errors.Is(err, ErrOlder) {
				t.Errorf("it is only looked at: %v", err)
			}
			db, err := Open(t.Context(), dir)
			if err != nil {
				t.Fatal(err)
			}
			defer db.Close()
			r := *db.Read(t.Context())
			if got := schemaOf(t, r); got != want {
				t.Errorf("another schema than a new file has:\n%s\nwant\n%s", got, want)
			}
			if name, _, err := one[string](r, "SELECT name FROM parties WHERE id = 1"); name != "Odalys Brandt" {
				t.Errorf("the customer is %q, %v", name, err)
			}
			aside, err := sql.Open("sqlite3", filepath.Join(dir, fmt.Sprintf("firm-of-version-%d.db", version)))
			if err != nil {
				t.Fatal(err)
			}
			defer aside.Close()
			var name string
			var is int64
			if err := aside.QueryRow("SELECT (SELECT name FROM parties), (SELECT MAX(version_id) FROM goose_db_version)").Scan(&name, &is); err != nil || name != "Odalys Brandt" || is != version {
				t.Errorf("what was put aside: %q of version %d, %v", name, is, err)
			}
		})
	}
}

// An upgrade that fails, or that cannot put a copy aside first, leaves the file
// as it was: all its steps are one.
func TestAFailedUpgradeChangesNothing(t *testing.T) {
	for name, spoil := range map[string]func(*testing.T, string, fstest.MapFS){
		"a step that fails": func(t *testing.T, _ string, files fstest.MapFS) {
			files["0099_broken.sql"] = &fstest.MapFile{Data: []byte("-- +goose Up\nCREATE TABLE half (id INTEGER);\nCREATE TABLE papers (id INTEGER);\n")}
		},
		"no copy": func(t *testing.T, dir string, _ fstest.MapFS) {
			if err := os.Mkdir(filepath.Join(dir, "firm-of-version-3.db"), 0o700); err != nil {
				t.Fatal(err)
			}
			if err := os.WriteFile(filepath.Join(dir, "firm-of-version-3.db", "in the way"), nil, 0o600); err != nil {
				t.Fatal(err)
			}
		},
	} {
		t.Run(name, func(t *testing.T) {
			dir, files := of(t, 3), steps(t)
			spoil(t, dir, files)
			writer, err := connect(filepath.Join(dir, FileName), 1, map[string][]string{"_txlock": {"immediate"}})
			if err != nil {
				t.Fatal(err)
			}
			db := &DB{Dir: dir, writer: writer}
			defer db.Close()
			before := schemaOf(t, Reader{db: writer})
			if err := db.migrate(t.Context(), files); err == nil {
				t.Fatal("it went through")
			}
			if after := schemaOf(t, Reader{db: writer}); after != before {
				t.Errorf("it changed the file:\n%s\nwas\n%s", after, before)
			}
			if version, _, err := one[int64](Reader{db: writer}, "SELECT MAX(version_id) FROM goose_db_version"); version != 3 {
				t.Errorf("it is of version %d, %v", version, err)
			}
		})
	}
}

// One program holds a directory, and says since when; who looks is not held up,
// and cannot write.
func TestOneProgramHoldsADirectory(t *testing.T) {
	dir := t.TempDir()
	db, err := Open(t.Context(), dir)
	if err != nil {
		t.Fatal(err)
	}
	var inUse ErrInUse
	if _, err := Open(t.Context(), dir); !errors.As(err, &inUse) || !strings.Contains(err.Error(), fmt.Sprintf("process %d since ", os.Getpid())) {
		t.Errorf("a second one: %v", err)
	}
	look, err := Look(t.Context(), dir)
	if err != nil {
		t.Fatal(err)
	}
	if err := look.Write(t.Context(), func(*Tx) error { return nil }); err == nil {
		t.Error("who looks may write")
	}
	if err := look.Close(); err != nil {
		t.Error(err)
	}
	if err := db.Close(); err != nil {
		t.Fatal(err)
	}
	again, err := Open(t.Context(), dir)
	if err != nil {
		t.Fatalf("after it ended: %v", err)
	}
	again.Close()
}

// A data file that is gone, moved or replaced under the program is noticed at
// the next write, which is refused; what was there is not touched.
func TestAFileThatIsGoneIsNoticed(t *testing.T) {
	for name, away := range map[string]func(dir string) error{
		"deleted": func(dir string) error { return os.Remove(filepath.Join(dir, FileName)) },
		"moved": func(dir string) error {
			return os.Rename(filepath.Join(dir, FileName), filepath.Join(dir, "elsewhere.db"))
		},
		"its directory deleted": os.RemoveAll,
		"replaced": func(dir string) error {
			text, err := os.ReadFile(filepath.Join(dir, FileName))
			return errors.Join(err, os.WriteFile(filepath.Join(dir, "new"), text, 0o600), os.Rename(filepath.Join(dir, "new"), filepath.Join(dir, FileName)))
		},
	} {
		t.Run(name, func(t *testing.T) {
			dir := filepath.Join(t.TempDir(), "books")
			db, err := Open(context.Background(), dir)
			if err != nil {
				t.Fatal(err)
			}
			defer db.Close()
			write := func() error {
				return db.Write(t.Context(), func(tx *Tx) error { return tx.Record(&Act{Action: "x", Summary: "x"}, ticks()) })
			}
			if err := write(); err != nil {
				t.Fatal(err)
			}
			if err := away(dir); err != nil {
				t.Fatal(err)
			}
			if err := write(); !errors.Is(err, ErrGone) {
				t.Errorf("written all the same: %v", err)
			}
		})
	}
}

// A backup is whole, holds nobody's session, and is only there once it is; what
// is no backup, or a damaged one, is not restored, and leaves nothing behind.
func TestBackupAndRestoreAreVerified(t *testing.T) {
	db, err := Open(t.Context(), of(t, 6))
	if err != nil {
		t.Fatal(err)
	}
	defer db.Close()
	if err := db.Sessions().Commit("a secret token", []byte("data of a session"), ticks().AddDate(10, 0, 0)); err != nil {
		t.Fatal(err)
	}
	backup := filepath.Join(t.TempDir(), "copy.db")
	if err := db.Backup(t.Context(), backup); err != nil {
		t.Fatal(err)
	}
	text, err := os.ReadFile(backup)
	if err != nil {
		t.Fatal(err)
	}
	for _, secret := range []string{"a secret token", "data of a session", "somebody"} {
		if strings.Contains(string(text), secret) {
			t.Errorf("the backup holds %q", secret)
		}
	}
	file, err := os.ReadFile(filepath.Join(db.Dir, FileName+"-wal"))
	if err != nil {
		t.Fatal(err)
	}
	if strings.Contains(string(file), "a secret token") {
		t.Error("the token of a session lies in the file as it is")
	}
	damaged := append([]byte{}, text...)
	for at := 3 * 4096; at < 6*4096; at++ {
		damaged[at] ^= 0x5a
	}
	for name, x := range map[string][]byte{"damaged": damaged, "cut off": text[:len(text)/2], "no database": []byte("these are no books"), "empty": {}, "a database without books": emptyDatabase(t)} {
		from, to := filepath.Join(t.TempDir(), "x.db"), t.TempDir()
		if err := os.WriteFile(from, x, 0o600); err != nil {
			t.Fatal(err)
		}
		if err := Restore(t.Context(), from, to, func() error { return nil }); err == nil {
			t.Errorf("%s was restored", name)
		}
		left, err := fs.Glob(os.DirFS(to), "firm.db*")
		if err != nil || len(left) > 0 {
			t.Errorf("%s left %v, %v", name, left, err)
		}
	}
	to := t.TempDir()
	if err := Restore(t.Context(), backup, to, func() error { return errors.New("what belongs to it cannot be copied") }); err == nil {
		t.Error("without what belongs to it")
	}
	if err := Restore(t.Context(), backup, to, func() error { return nil }); err != nil {
		t.Fatal(err)
	}
	if err := Restore(t.Context(), backup, to, func() error { return nil }); err == nil {
		t.Error("restored over books that are there")
	}
	if err := Restore(t.Context(), backup, db.Dir, func() error { return nil }); err == nil {
		t.Error("restored beside a running program")
	}
	back, err := Open(t.Context(), to)
	if err != nil {
		t.Fatal(err)
	}
	defer back.Close()
	if name, _, err := one[string](*back.Read(t.Context()), "SELECT name FROM parties"); name != "Odalys Brandt" {
		t.Errorf("restored: %q, %v", name, err)
	}
}

func emptyDatabase(t *testing.T) []byte {
	t.Helper()
	path := filepath.Join(t.TempDir(), "e.db")
	db, err := sql.Open("sqlite3", path)
	if err != nil {
		t.Fatal(err)
	}
	_, err = db.Exec("CREATE TABLE t (a)")
	text, err2 := os.ReadFile(path)
	if err := errors.Join(err, err2, db.Close()); err != nil {
		t.Fatal(err)
	}
	return text
}

func ticks() time.Time { return time.Date(2026, 11, 20, 8, 0, 0, 0, time.UTC) }

// Opens a file in a process of its own, for the test below.
func TestOpenElsewhere(t *testing.T) {
	dir := os.Getenv("OPEN_DIR")
	if dir == "" {
		t.Skip("only by TestKilledWhileUpgrading")
	}
	db, err := Open(t.Context(), dir)
	if err != nil {
		t.Fatal(err)
	}
	db.Close()
}

// Killed while an older file is brought up to date: it is as it was or as it
// should be, and the next program goes on from there.
func TestKilledWhileUpgrading(t *testing.T) {
	rnd := rand.New(rand.NewPCG(1, 1))
	older := 0
	for n := range 6 * postingtest.Harder() {
		version := int64(1 + n%(len(steps(t))-1))
		dir := of(t, version)
		cmd := exec.Command(os.Args[0], "-test.run=^TestOpenElsewhere$")
		cmd.Env = append(os.Environ(), "OPEN_DIR="+dir)
		if err := cmd.Start(); err != nil {
			t.Fatal(err)
		}
		time.Sleep(time.Duration(rnd.Int64N(int64(120 * time.Millisecond))))
		_ = cmd.Process.Kill()
		_ = cmd.Wait()
		if looked, err := Look(t.Context(), dir); errors.Is(err, ErrOlder) {
			older++
		} else if err != nil {
			t.Errorf("killed at version %d: %v", version, err)
		} else {
			looked.Close()
		}
		db, err := Open(t.Context(), dir)
		if err != nil {
			t.Fatalf("killed at version %d: %v", version, err)
		}
		r := *db.Read(t.Context())
		name, _, err := one[string](r, "SELECT name FROM parties WHERE id = 1")
		found, err2 := r.Check()
		if name != "Odalys Brandt" || len(found) > 0 || err != nil || err2 != nil {
			t.Errorf("killed at version %d: %q, %q, %v, %v", version, name, found, err, err2)
		}
		db.Close()
	}
	t.Logf("%d kills, after %d of which the file was the older one still", 6*postingtest.Harder(), older)
}
