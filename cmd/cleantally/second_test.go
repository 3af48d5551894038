package main

import (
	"encoding/json"
	"fmt"
	"net/http"
	"net/http/cookiejar"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"
	"time"
)

// replicator is the program that keeps a copy on a second machine.
func replicator(t *testing.T) string {
	t.Helper()
	bin, err := filepath.Abs("../../bin/litestream")
	if err != nil {
		t.Fatal(err)
	}
	if _, err := os.Stat(bin); err == nil {
		return bin
	}
	build := exec.Command("go", "build", "-C", "../../replicator", "-o", bin, "github.com/benbjohnson/litestream/cmd/litestream")
	if out, err := build.CombinedOutput(); err != nil {
		t.Fatalf("%v: %s", err, out)
	}
	return bin
}

// The first machine is killed in the middle of posting; the second goes on from
// its copy, with all that had come over, and what was posted there ties out.
func TestSecondMachine(t *testing.T) {
	bin, copies := program(t), replicator(t)
	at := t.TempDir()
	first, second, replica := filepath.Join(at, "first"), filepath.Join(at, "second"), filepath.Join(at, "replica")
	jar, _ := cookiejar.New(nil)
	client := &http.Client{Jar: jar, Timeout: 20 * time.Second}
	served, url := run(t, bin, "serve", "--data", first, "--addr", "127.0.0.1:0", "--today", "2026-11-20")
	ask := func(method, path, body string) []byte {
		t.Helper()
		status, answer, err := send(client, method, url+"/api/v1"+path, body, "")
		if err != nil || status != 200 {
			t.Fatalf("%s: %d %s %v", path, status, answer, err)
		}
		return answer
	}
	ask("POST", "/setup", newFirm)
	ask("POST", "/customers", `{"name":"A"}`)
	config := filepath.Join(at, "litestream.yml")
	text := fmt.Sprintf("dbs:\n  - path: %s\n    replica:\n      type: file\n      path: %s\n", filepath.Join(first, "firm.db"), replica)
	if err := os.WriteFile(config, []byte(text), 0o600); err != nil {
		t.Fatal(err)
	}
	keeps := exec.Command(copies, "replicate", "-config", config)
	if err := keeps.Start(); err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { _ = keeps.Process.Kill(); _ = keeps.Wait() })
	deposit := func(n int) string {
		return fmt.Sprintf(`{"customer":1,"day":"2026-11-20","amount":"%d.00","bank":1,"method":"cash","reference":"%d"}`, n, n)
	}
	const posted = 120
	for n := range posted {
		ask("POST", "/deposits", deposit(n+1))
	}
	// What was posted is there before long.
	for until := time.Now().Add(2 * time.Minute); ; {
		_ = os.RemoveAll(second)
		out, err := exec.Command(copies, "restore", "-o", filepath.Join(second, "firm.db"), "file://"+replica).CombinedOutput()
		if err == nil && strings.Contains(works(t, bin, "check", "--data", second), "7,260.00") { // 1 + 2 + … + 120
			break
		}
		if time.Now().After(until) {
			t.Fatalf("the copy does not come over: %v: %s", err, out)
		}
	}
	// The first machine dies while somebody posts, and the replicator with it.
	gone := make(chan int)
	go func() {
		for n := posted; ; n++ {
			if status, _, err := send(client, "POST", url+"/api/v1/deposits", deposit(n+1), ""); err != nil || status != 200 {
				gone <- n
				return
			}
		}
	}()
	time.AfterFunc(300*time.Millisecond, func() { _ = served.Process.Kill(); _ = keeps.Process.Kill() })
	answered := <-gone
	_ = os.RemoveAll(second)
	works(t, copies, "restore", "-o", filepath.Join(second, "firm.db"), "file://"+replica)
	works(t, bin, "check", "--data", second)
	_, url = run(t, bin, "serve", "--data", second, "--addr", "127.0.0.1:0", "--today", "2026-11-20")
	ask("POST", "/session", `{"email":"o@f.example","password":"a long password"}`)
	there := func() int {
		var list struct {
			Count int `json:"count"`
		}
		if err := json.Unmarshal(ask("GET", "/papers?kind=deposit", ""), &list); err != nil {
			t.Fatal(err)
		}
		return list.Count
	}
	came := there()
	if came < posted || came > answered+1 {
		t.Errorf("%d deposits came over, of %d that were answered", came, answered)
	}
	ask("POST", "/deposits", deposit(1000))
	if now := there(); now != came+1 {
		t.Errorf("%d deposits after one more than %d", now, came)
	}
	works(t, bin, "check", "--data", second)
}
