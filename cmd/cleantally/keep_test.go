package main

import (
	"database/sql"
	"net/http"
	"net/http/cookiejar"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"
	"time"

	_ "github.com/mattn/go-sqlite3"
)

const newFirm = `{"firm":"F","currency":"EUR","bank":"Bank","owner":"O","email":"o@f.example","password":"a long password","codes":[{"code":"STD","percent":"20"}]}`

// filled are books in a directory of their own, with one deposit, whose program
// has ended.
func filled(t *testing.T, bin string) string {
	t.Helper()
	dir := filepath.Join(t.TempDir(), "books")
	jar, _ := cookiejar.New(nil)
	client := &http.Client{Jar: jar, Timeout: 20 * time.Second}
	cmd, url := run(t, bin, "serve", "--data", dir, "--addr", "127.0.0.1:0", "--today", "2026-11-20")
	for _, x := range [][2]string{{"/setup", newFirm}, {"/customers", `{"name":"A"}`}, {"/deposits", `{"customer":1,"day":"2026-11-20","amount":"5.00","bank":1,"method":"cash"}`}} {
		if status, answer, err := send(client, "POST", url+"/api/v1"+x[0], x[1], ""); err != nil || status != 200 {
			t.Fatalf("%s: %d %s %v", x[0], status, answer, err)
		}
	}
	if err := cmd.Process.Signal(os.Interrupt); err != nil {
		t.Fatal(err)
	}
	_ = cmd.Wait() // it was told to end
	return dir
}

// fails runs the program, which has to end with a sentence.
func fails(t *testing.T, bin, says string, args ...string) {
	t.Helper()
	out, err := exec.Command(bin, args...).CombinedOutput()
	if err == nil || !strings.Contains(string(out), says) {
		t.Errorf("%v: %v: %s", args, err, out)
	}
}

func works(t *testing.T, bin string, args ...string) string {
	t.Helper()
	out, err := exec.Command(bin, args...).CombinedOutput()
	if err != nil {
		t.Fatalf("%v: %v: %s", args, err, out)
	}
	return string(out)
}

// A backup is restored into an empty directory, never onto what other books
// left, and what the program writes is its owner's alone.
func TestKeepAndRestore(t *testing.T) {
	bin := program(t)
	dir := filled(t, bin)
	backup := filepath.Join(t.TempDir(), "copy.db")
	works(t, bin, "backup", "--data", dir, backup)
	for _, path := range []string{filepath.Join(dir, "firm.db"), backup} {
		if info, err := os.Stat(path); err != nil || info.Mode().Perm()&0o077 != 0 {
			t.Errorf("%s is open to others: %v, %v", path, info.Mode(), err)
		}
	}
	fails(t, bin, "is there already", "backup", "--data", dir, backup)
	fails(t, bin, "is there already", "restore", "--data", dir, backup)
	to := t.TempDir()
	for _, beside := range []string{"-wal", "-shm", "-journal"} {
		left := filepath.Join(to, "firm.db"+beside)
		if err := os.WriteFile(left, []byte("of other books"), 0o600); err != nil {
			t.Fatal(err)
		}
		fails(t, bin, "left of other books", "restore", "--data", to, backup)
		if err := os.Remove(left); err != nil {
			t.Fatal(err)
		}
	}
	works(t, bin, "restore", "--data", to, backup)
	if out := works(t, bin, "check", "--data", to); !strings.Contains(out, "221 Customer deposits") || !strings.Contains(out, "All ties out.") {
		t.Errorf("the restored books: %s", out)
	}
}

// A backup of a newer program is not restored by an older one: it says so, and
// leaves nothing behind.
func TestABackupOfANewerVersion(t *testing.T) {
	bin := program(t)
	backup := filepath.Join(t.TempDir(), "copy.db")
	works(t, bin, "backup", "--data", filled(t, bin), backup)
	db, err := sql.Open("sqlite3", backup)
	if err != nil {
		t.Fatal(err)
	}
	if _, err := db.Exec("INSERT INTO goose_db_version (version_id, is_applied) VALUES (9999, 1)"); err != nil {
		t.Fatal(err)
	}
	if err := db.Close(); err != nil {
		t.Fatal(err)
	}
	to := t.TempDir()
	fails(t, bin, "newer", "restore", "--data", to, backup)
	if left, _ := filepath.Glob(filepath.Join(to, "firm.db*")); len(left) > 0 {
		t.Errorf("it left %v", left)
	}
}

// What asks for books that are not there says so and makes none.
func TestNoBooksAreMade(t *testing.T) {
	bin, file := program(t), filepath.Join(t.TempDir(), "customers.csv")
	if err := os.WriteFile(file, []byte("Name\nA\n"), 0o600); err != nil {
		t.Fatal(err)
	}
	for _, args := range [][]string{{"check"}, {"backup", "copy.db"}, {"export", "customers"}, {"import", "customers", file}} {
		dir := filepath.Join(t.TempDir(), "wrong")
		fails(t, bin, "there are no books in", append(args, "--data", dir)...)
		if _, err := os.Stat(dir); err == nil {
			t.Errorf("%v made %s", args, dir)
		}
	}
	fails(t, bin, "--today", "serve", "--data", t.TempDir(), "--today", "2026-11-1x")
}

// A file that was damaged is found out.
func TestDamageIsFound(t *testing.T) {
	bin := program(t)
	dir := filled(t, bin)
	path := filepath.Join(dir, "firm.db")
	data, err := os.ReadFile(path)
	if err != nil {
		t.Fatal(err)
	}
	for at := len(data) / 2; at < len(data)/2+8192; at++ {
		data[at] ^= 0x5a
	}
	if err := os.WriteFile(path, data, 0o600); err != nil {
		t.Fatal(err)
	}
	if out, err := exec.Command(bin, "check", "--data", dir).CombinedOutput(); err == nil {
		t.Errorf("a damaged file passed: %s", out)
	}
}
