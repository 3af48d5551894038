package main

import (
	"bufio"
	"encoding/json"
	"fmt"
	"io"
	"io/fs"
	"net/http"
	"net/http/cookiejar"
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"strconv"
	"strings"
	"syscall"
	"testing"
	"time"
)

func browser() *http.Client {
	jar, _ := cookiejar.New(nil)
	return &http.Client{Jar: jar, Timeout: 20 * time.Second}
}

const signIn = `{"email":"o@f.example","password":"a long password"}`

// detail is the sentence of a refusal.
func detail(answer []byte) string {
	var p struct{ Detail string }
	_ = json.Unmarshal(answer, &p)
	return p.Detail
}

// A directory that may only be read is served to be looked at: signing in works,
// posting is refused with the reason.
func TestReadOnlyDirectory(t *testing.T) {
	bin := program(t)
	dir := filled(t, bin)
	err := filepath.WalkDir(filepath.Dir(dir), func(path string, d fs.DirEntry, err error) error {
		if err != nil {
			return err
		}
		if d.IsDir() {
			return os.Chmod(path, 0o555)
		}
		return os.Chmod(path, 0o444)
	})
	if err != nil {
		t.Fatal(err)
	}
	for _, open := range []string{bin, filepath.Dir(bin), filepath.Dir(filepath.Dir(bin))} { // for whom it is run as
		if err := os.Chmod(open, 0o755); err != nil {
			t.Fatal(err)
		}
	}
	t.Cleanup(func() {
		_ = os.Chmod(filepath.Dir(dir), 0o755)
		_ = os.Chmod(dir, 0o755)
		_ = os.Chmod(filepath.Join(dir, "attachments"), 0o755)
	})
	cmd := exec.Command(bin, "serve", "--data", dir, "--addr", "127.0.0.1:0", "--today", "2026-11-20")
	if os.Geteuid() == 0 { // who may write everywhere
		cmd.SysProcAttr = &syscall.SysProcAttr{Credential: &syscall.Credential{Uid: 65534, Gid: 65534}}
	}
	out, err := cmd.StdoutPipe()
	if err != nil {
		t.Fatal(err)
	}
	var said strings.Builder
	cmd.Stderr = &said
	if err := cmd.Start(); err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { _ = cmd.Process.Kill(); _ = cmd.Wait() })
	line, _ := bufio.NewReader(out).ReadString('\n')
	url := regexp.MustCompile(`http://\S+`).FindString(line)
	if url == "" {
		_ = cmd.Wait()
		t.Fatalf("it does not start: %s", said.String())
	}
	c := browser()
	for _, x := range []struct {
		method, path, body string
		want               int
		says               string
	}{
		{"POST", "/session", signIn, 200, ""},
		{"GET", "/papers", "", 200, ""},
		{"GET", "/ageing", "", 200, ""},
		{"POST", "/deposits?preview=true", `{"customer":1,"day":"2026-11-20","amount":"5.00","bank":1,"method":"cash"}`, 200, ""},
		{"POST", "/deposits", `{"customer":1,"day":"2026-11-20","amount":"5.00","bank":1,"method":"cash"}`, 503, "Nothing can be written: the data directory may only be read."},
		{"POST", "/customers", `{"name":"B"}`, 503, "may only be read"},
		{"GET", "/papers", "", 200, ""},
		{"DELETE", "/session", "", 204, ""},
		{"GET", "/papers", "", 401, ""},
	} {
		status, answer, err := send(c, x.method, url+"/api/v1"+x.path, x.body, "")
		if err != nil || status != x.want || !strings.Contains(detail(answer), x.says) {
			t.Errorf("%s %s: %d %s %v", x.method, x.path, status, answer, err)
		}
	}
}

// A disk that fills up while one posts is told as that; what was answered is
// there, nothing else is, and with room again it goes on.
func TestDiskThatFillsUp(t *testing.T) {
	mount := t.TempDir()
	if err := syscall.Mount("tmpfs", mount, "tmpfs", 0, "size=3m"); err != nil {
		t.Skipf("no disk can be made here: %v", err)
	}
	t.Cleanup(func() { _ = syscall.Unmount(mount, syscall.MNT_DETACH) })
	bin, dir := program(t), filepath.Join(mount, "books")
	cmd, url := run(t, bin, "serve", "--data", dir, "--addr", "127.0.0.1:0", "--today", "2026-11-20")
	c := browser()
	for _, x := range [][2]string{{"/setup", newFirm}, {"/customers", `{"name":"A"}`}} {
		if status, answer, err := send(c, "POST", url+"/api/v1"+x[0], x[1], ""); err != nil || status != 200 {
			t.Fatalf("%s: %d %s %v", x[0], status, answer, err)
		}
	}
	note := strings.Repeat("what was said of it ", 150)
	deposit := fmt.Sprintf(`{"customer":1,"day":"2026-11-20","amount":"5.00","bank":1,"method":"cash","note":%q}`, note)
	posted, full := 0, 0
	for full < 5 && posted < 3000 {
		switch status, answer, err := send(c, "POST", url+"/api/v1/deposits?confirmed=paid+twice%3F", deposit, ""); {
		case err == nil && status == 200:
			posted++
		case err == nil && status == 507 && strings.Contains(detail(answer), "The disk is full"):
			full++
		default:
			t.Fatalf("after %d: %d %s %v", posted, status, answer, err)
		}
	}
	if full == 0 {
		t.Fatalf("%d were posted and the disk is not full", posted)
	}
	count := func(url string) string {
		_, answer, err := send(c, "GET", url+"/api/v1/papers?limit=1", "", "")
		if err != nil {
			t.Fatal(err)
		}
		var a struct{ Count json.Number }
		_ = json.Unmarshal(answer, &a)
		return a.Count.String()
	}
	if got := count(url); got != fmt.Sprint(posted) {
		t.Errorf("%s are there, %d were answered", got, posted)
	}
	_ = cmd.Process.Kill()
	_ = cmd.Wait()
	if err := syscall.Mount("tmpfs", mount, "tmpfs", syscall.MS_REMOUNT, "size=16m"); err != nil {
		t.Fatal(err)
	}
	if out := works(t, bin, "check", "--data", dir); !strings.Contains(out, "All ties out.") {
		t.Errorf("%s", out)
	}
	_, url = run(t, bin, "serve", "--data", dir, "--addr", "127.0.0.1:0", "--today", "2026-11-20")
	if status, answer, err := send(c, "POST", url+"/api/v1/session", signIn, ""); err != nil || status != 200 {
		t.Fatalf("%d %s %v", status, answer, err)
	}
	if status, answer, err := send(c, "POST", url+"/api/v1/deposits?confirmed=paid+twice%3F", deposit, ""); err != nil || status != 200 {
		t.Errorf("with room again: %d %s %v", status, answer, err)
	}
	if got := count(url); got != fmt.Sprint(posted+1) {
		t.Errorf("%s are there in the end, %d were answered", got, posted+1)
	}
}

// A disk that fills up while a backup is made: the backup fails and says so,
// nothing of it is left, the books go on, and the next one with room is whole.
func TestDiskThatFillsUpDuringABackup(t *testing.T) {
	mount := t.TempDir()
	if err := syscall.Mount("tmpfs", mount, "tmpfs", 0, "size=140m"); err != nil {
		t.Skipf("no disk can be made here: %v", err)
	}
	t.Cleanup(func() { _ = syscall.Unmount(mount, syscall.MNT_DETACH) })
	bin := program(t)
	dir := filledWithFile(t, bin)
	_, url := run(t, bin, "serve", "--data", dir, "--addr", "127.0.0.1:0", "--today", "2026-11-20", "--backups", mount)
	c := browser()
	if status, answer, err := send(c, "POST", url+"/api/v1/session", signIn, ""); err != nil || status != 200 {
		t.Fatalf("%d %s %v", status, answer, err)
	}
	filler := filepath.Join(mount, "filler")
	left := func() []string {
		all, _ := filepath.Glob(filepath.Join(mount, "*"))
		return all
	}
	fill := func(over <-chan bool) { // once the backup has begun
		for tick := time.NewTicker(time.Millisecond); ; {
			select {
			case <-over:
				return
			case <-tick.C:
			}
			if part, _ := filepath.Glob(filepath.Join(mount, "*.part")); len(part) > 0 {
				break
			}
		}
		f, err := os.Create(filler)
		if err != nil {
			return // it is full already
		}
		defer f.Close()
		for size := int64(128 << 20); size >= 4096; size /= 2 { // all that is left, at once
			for at, _ := f.Seek(0, io.SeekEnd); syscall.Fallocate(int(f.Fd()), 0, at, size) == nil; at += size {
			}
		}
	}
	whole, failed := 0, ""
	for try := 0; try < 60 && failed == ""; try++ {
		over, filled := make(chan bool), make(chan bool)
		go func() { fill(over); close(filled) }()
		status, answer, err := send(c, "POST", url+"/api/v1/backups", "", "")
		close(over)
		<-filled
		_ = os.Remove(filler)
		switch {
		case err == nil && status == 200:
			whole++
			for _, made := range left() { // it was too quick: once more, with as much room
				_ = os.RemoveAll(made)
			}
		case err == nil && status == 507 && !strings.Contains(detail(answer), "no room for it"):
			failed = detail(answer)
		default:
			t.Fatalf("%d %s %v", status, answer, err)
		}
	}
	if !strings.Contains(failed, "full") && !strings.Contains(failed, "no space left") {
		t.Fatalf("after %d whole ones: %q", whole, failed)
	}
	if all := left(); len(all) > 0 {
		t.Errorf("of what failed is left: %v", all)
	}
	for _, x := range []struct{ method, path, body string }{
		{"POST", "/deposits?confirmed=paid+twice%3F", `{"customer":1,"day":"2026-11-20","amount":"5.00","bank":1,"method":"cash"}`},
		{"POST", "/backups", ""},
	} {
		if status, answer, err := send(c, x.method, url+"/api/v1"+x.path, x.body, ""); err != nil || status != 200 {
			t.Errorf("afterwards %s: %d %s %v", x.path, status, answer, err)
		}
	}
}

// filledWithFile are books with some thirty megabytes attached to a paper.
func filledWithFile(t *testing.T, bin string) string {
	t.Helper()
	dir := filled(t, bin)
	served, url := run(t, bin, "serve", "--data", dir, "--addr", "127.0.0.1:0", "--today", "2026-11-20")
	c := browser()
	if status, answer, err := send(c, "POST", url+"/api/v1/session", signIn, ""); err != nil || status != 200 {
		t.Fatalf("%d %s %v", status, answer, err)
	}
	for n := range 4 {
		file := strings.Repeat(fmt.Sprintf("drawing %d of the stair\n", n), 7<<20/23)
		if status, answer, err := send(c, "POST", url+"/api/v1/attachments?paper=1&name=drawing.txt", file, ""); err != nil || status != 200 {
			t.Fatalf("attaching: %d %s %v", status, answer, err)
		}
	}
	_ = served.Process.Kill()
	_ = served.Wait()
	return dir
}

// Two programs on one directory: the second says who holds it, and changes
// nothing; who only looks, and a backup, are not held up.
func TestTwoPrograms(t *testing.T) {
	bin := program(t)
	dir := filled(t, bin)
	cmd, _ := run(t, bin, "serve", "--data", dir, "--addr", "127.0.0.1:0", "--today", "2026-11-20")
	held := fmt.Sprintf("in use by process %d since", cmd.Process.Pid)
	file := filepath.Join(t.TempDir(), "customers.csv")
	if err := os.WriteFile(file, []byte("Name\nB\n"), 0o600); err != nil {
		t.Fatal(err)
	}
	backup := filepath.Join(t.TempDir(), "copy.db")
	works(t, bin, "backup", "--data", dir, backup)
	works(t, bin, "check", "--data", dir)
	works(t, bin, "export", "--data", dir, "customers")
	for _, args := range [][]string{{"serve", "--addr", "127.0.0.1:0"}, {"demo", "--addr", "127.0.0.1:0"}, {"import", "customers", file}, {"person", "reset", "o@f.example"}, {"restore", backup}} {
		fails(t, bin, held, append(args, "--data", dir)...)
	}
	_ = cmd.Process.Kill()
	_ = cmd.Wait()
	works(t, bin, "import", "--data", dir, "customers", file)
	if out := works(t, bin, "export", "--data", dir, "customers"); !strings.Contains(out, "B") {
		t.Errorf("after it ended: %s", out)
	}
}

// Who has the data directory lets people in, and back in.
func TestPeopleOnTheMachine(t *testing.T) {
	bin := program(t)
	dir := filled(t, bin)
	word := regexp.MustCompile(`password (\S+) until`)
	given := func(args ...string) string {
		m := word.FindStringSubmatch(works(t, bin, append(args, "--data", dir)...))
		if m == nil {
			t.Fatalf("%v gives no password", args)
		}
		return m[1]
	}
	added := given("person", "add", "hale@f.example", "--name", "Hale Mercer")
	reset := given("person", "reset", "o@f.example")
	fails(t, bin, "signs in as hale@f.example already", "person", "add", "hale@f.example", "--name", "Again", "--data", dir)
	fails(t, bin, "Nobody signs in as", "person", "reset", "x@f.example", "--data", dir)
	fails(t, bin, "no e-mail address", "person", "add", "hale", "--name", "X", "--data", dir)
	_, url := run(t, bin, "serve", "--data", dir, "--addr", "127.0.0.1:0", "--today", "2026-11-20")
	for _, x := range []struct {
		email, password string
		want            int
	}{{"hale@f.example", added, 200}, {"o@f.example", reset, 200}, {"o@f.example", "a long password", 401}, {"hale@f.example", reset, 401}} {
		if status, answer, err := send(browser(), "POST", url+"/api/v1/session", fmt.Sprintf(`{"email":%q,"password":%q}`, x.email, x.password), ""); err != nil || status != x.want {
			t.Errorf("%s: %d %s %v", x.email, status, answer, err)
		}
	}
}

// grown says when a file has so many bytes.
func grown(t *testing.T, name string, bytes int64) <-chan bool {
	is := make(chan bool, 1)
	go func() {
		for tick := time.NewTicker(2 * time.Millisecond); t.Context().Err() == nil; <-tick.C {
			if info, err := os.Stat(name); bytes == 0 || err == nil && info.Size() >= bytes {
				is <- true
				return
			}
		}
	}()
	return is
}

// An import that is told to end stops, keeps nothing of what it had done, and
// says how far it was.
func TestImportIsStopped(t *testing.T) {
	bin := program(t)
	dir := filled(t, bin)
	var rows strings.Builder
	rows.WriteString("Name,Town\n")
	for n := range 15_000 {
		fmt.Fprintf(&rows, "Imported %d,Town %d\n", n, n%300)
	}
	file := filepath.Join(t.TempDir(), "customers.csv")
	if err := os.WriteFile(file, []byte(rows.String()), 0o600); err != nil {
		t.Fatal(err)
	}
	inside := func() int { return strings.Count(works(t, bin, "export", "--data", dir, "customers"), "Imported") }
	before, stopped := inside(), false
	// Told to end at once, and when it has begun to write.
	log := filepath.Join(dir, "firm.db-wal")
	for _, written := range []int64{0, 100_000} {
		cmd := exec.Command(bin, "import", "--data", dir, "customers", file)
		var said strings.Builder
		cmd.Stderr = &said
		if err := cmd.Start(); err != nil {
			t.Fatal(err)
		}
		ended := make(chan error, 1)
		go func() { ended <- cmd.Wait() }()
		select {
		case <-grown(t, log, written):
			_ = cmd.Process.Signal(syscall.SIGTERM)
			if err := <-ended; err == nil {
				t.Fatalf("it was told to end, and says that all went well: %s", said.String())
			}
		case err := <-ended:
			t.Fatalf("it ended by itself before %d bytes were written: %v, %s", written, err, said.String())
		}
		// What it says is imported is there, and nothing else.
		done := 0
		if told := regexp.MustCompile(`stopped after ([0-9]+) of 15000 rows: what stands in the file from row ([0-9]+) on`).FindStringSubmatch(said.String()); told != nil {
			done, _ = strconv.Atoi(told[1])
			if from, _ := strconv.Atoi(told[2]); from != done+2 {
				t.Errorf("%s", said.String())
			}
			stopped = true
		}
		if now := inside(); now != before+done {
			t.Fatalf("after it was stopped at %d bytes, %d rows are there where %d were, and it says %s", written, now, before, said.String())
		}
	}
	if !stopped {
		t.Error("it was never in the middle when it was stopped")
	}
	if out := works(t, bin, "check", "--data", dir); !strings.Contains(out, "All ties out.") {
		t.Errorf("%s", out)
	}
}
