package main

import (
	"fmt"
	"math/rand/v2"
	"net/http"
	"net/http/cookiejar"
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"strconv"
	"strings"
	"testing"
	"time"

	"cleantally/core/posting/postingtest"
)

// killed runs the program and kills it after a while, unless it has ended by
// then; it tells which.
func killed(t *testing.T, after time.Duration, bin string, args ...string) bool {
	t.Helper()
	cmd := exec.Command(bin, args...)
	if err := cmd.Start(); err != nil {
		t.Fatal(err)
	}
	ended := make(chan error, 1)
	go func() { ended <- cmd.Wait() }()
	select {
	case err := <-ended:
		if err != nil {
			t.Fatalf("%v: %v", args, err)
		}
		return false
	case <-time.After(after):
		_ = cmd.Process.Kill()
		<-ended
		return true
	}
}

// somewhen are moments at which something is killed that takes about so long.
func somewhen(times int, about time.Duration) (all []time.Duration) {
	rnd := rand.New(rand.NewPCG(uint64(about), 1))
	for range times {
		all = append(all, time.Duration(rnd.Int64N(int64(about))))
	}
	return all
}

// Killed in the middle of an import: the first rows are there, as far as it came,
// and no other; the rest can be sent again.
func TestKilledWhileImporting(t *testing.T) {
	bin := program(t)
	dir := filled(t, bin)
	file := filepath.Join(t.TempDir(), "customers.csv")
	inside := 0
	for round, after := range somewhen(4*postingtest.Harder(), 1500*time.Millisecond) {
		var rows strings.Builder
		rows.WriteString("Name,Number\n")
		for n := range 2500 {
			fmt.Fprintf(&rows, "Imported %d of round %d,%d\n", n, round, 100000*(round+1)+n)
		}
		if err := os.WriteFile(file, []byte(rows.String()), 0o600); err != nil {
			t.Fatal(err)
		}
		done := !killed(t, after, bin, "import", "--data", dir, "customers", file)
		there := 0
		for _, m := range regexp.MustCompile(fmt.Sprintf(`Imported (\d+) of round %d\b`, round)).FindAllStringSubmatch(works(t, bin, "export", "--data", dir, "customers"), -1) {
			if n, _ := strconv.Atoi(m[1]); n != there {
				t.Fatalf("row %d is there and row %d is not", n, there)
			}
			there++
		}
		if done && there != 2500 {
			t.Errorf("it says that it is done, and %d rows are there", there)
		}
		if there > 0 && !done {
			inside++
		}
		if out := works(t, bin, "check", "--data", dir); !strings.Contains(out, "All ties out.") {
			t.Fatalf("%s", out)
		}
	}
	t.Logf("%d kills, %d of them in the middle of the portions", 4*postingtest.Harder(), inside)
}

// Killed while the firm is set up: there is a whole firm, or none and it can be
// set up again.
func TestKilledWhileSettingUp(t *testing.T) {
	bin := program(t)
	none := 0
	for _, after := range somewhen(4*postingtest.Harder(), 250*time.Millisecond) {
		dir := t.TempDir()
		jar, _ := cookiejar.New(nil)
		client := &http.Client{Jar: jar, Timeout: 20 * time.Second}
		cmd, url := run(t, bin, "serve", "--data", dir, "--addr", "127.0.0.1:0")
		go func() {
			time.Sleep(after)
			_ = cmd.Process.Kill()
		}()
		answered, _, _ := send(client, "POST", url+"/api/v1/setup", aFirm, "")
		_ = cmd.Wait()
		cmd, url = run(t, bin, "serve", "--data", dir, "--addr", "127.0.0.1:0")
		again, body, err := send(client, "POST", url+"/api/v1/setup", aFirm, "")
		if err != nil || again != 200 && again != 409 || answered == 200 && again == 200 {
			t.Errorf("the first was answered %d, the second %d %s, %v", answered, again, body, err)
		}
		if again == 200 {
			none++
		}
		_ = cmd.Process.Kill()
		_ = cmd.Wait()
		if out := works(t, bin, "check", "--data", dir); !strings.Contains(out, "All ties out.") {
			t.Errorf("%s", out)
		}
	}
	t.Logf("%d kills; there was no firm yet after %d of them", 4*postingtest.Harder(), none)
}

// Killed while a backup is made: there is none by its name, or a whole one; and
// the next is made all the same.
func TestKilledWhileBackingUp(t *testing.T) {
	bin := program(t)
	dir, place := filled(t, bin), t.TempDir()
	whole := 0
	for n, after := range somewhen(6*postingtest.Harder(), 150*time.Millisecond) {
		file, back := filepath.Join(place, fmt.Sprintf("%d.db", n)), filepath.Join(place, fmt.Sprintf("back-%d", n))
		killed(t, after, bin, "backup", "--data", dir, file)
		if _, err := os.Stat(file); err != nil {
			works(t, bin, "backup", "--data", dir, file)
		} else {
			whole++
		}
		killed(t, after, bin, "restore", "--data", back, file)
		if _, err := os.Stat(filepath.Join(back, "firm.db")); err != nil {
			works(t, bin, "restore", "--data", back, file)
		}
		if out := works(t, bin, "check", "--data", back); !strings.Contains(out, "All ties out.") {
			t.Errorf("%s", out)
		}
	}
	t.Logf("%d kills of a backup and of a restore; %d backups were whole", 6*postingtest.Harder(), whole)
}
