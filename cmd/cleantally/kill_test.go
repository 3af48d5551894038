package main

import (
	"bufio"
	"bytes"
	"encoding/json"
	"fmt"
	"io"
	"net/http"
	"net/http/cookiejar"
	"os/exec"
	"path/filepath"
	"regexp"
	"strings"
	"sync"
	"testing"
	"time"

	"cleantally/core/posting/postingtest"
)

// program builds the program once for the tests that run it.
func program(t *testing.T) string {
	t.Helper()
	bin := filepath.Join(t.TempDir(), "cleantally")
	if out, err := exec.Command("go", "build", "-o", bin, ".").CombinedOutput(); err != nil {
		t.Fatalf("%v: %s", err, out)
	}
	return bin
}

// run starts the program and returns it with its address.
func run(t *testing.T, bin string, args ...string) (*exec.Cmd, string) {
	t.Helper()
	cmd := exec.Command(bin, args...)
	out, err := cmd.StdoutPipe()
	if err != nil {
		t.Fatal(err)
	}
	if err := cmd.Start(); err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { _ = cmd.Process.Kill(); _ = cmd.Wait() })
	line, err := bufio.NewReader(out).ReadString('\n')
	url := regexp.MustCompile(`http://\S+`).FindString(line)
	if err != nil || url == "" {
		t.Fatalf("no address in %q: %v", line, err)
	}
	return cmd, url
}

func send(c *http.Client, method, url, body, key string) (int, []byte, error) {
	req, err := http.NewRequest(method, url, strings.NewReader(body))
	if err != nil {
		return 0, nil, err
	}
	req.Header.Set("Content-Type", "application/json")
	if key != "" {
		req.Header.Set("Idempotency-Key", key)
	}
	res, err := c.Do(req)
	if err != nil {
		return 0, nil, err
	}
	defer res.Body.Close()
	data, err := io.ReadAll(res.Body)
	return res.StatusCode, data, err
}

// aFirm is what one is set up with.
const aFirm = `{"firm":"F","currency":"EUR","bank":"Bank","owner":"O","email":"o@f.example","password":"a long password","codes":[{"code":"STD","percent":"20"}]}`

// Killed in the middle of posting: what was answered is there, all ties out,
// and a post repeated under its key is not made twice.
func TestKilledWhilePosting(t *testing.T) {
	bin, dir := program(t), t.TempDir()
	jar, _ := cookiejar.New(nil)
	client := &http.Client{Jar: jar, Timeout: 20 * time.Second}
	cmd, url := run(t, bin, "serve", "--data", dir, "--addr", "127.0.0.1:0", "--today", "2026-11-20")
	if status, body, err := send(client, "POST", url+"/api/v1/setup", aFirm, ""); status != 200 {
		t.Fatal(status, string(body), err)
	}
	if status, body, err := send(client, "POST", url+"/api/v1/customers", `{"name":"C"}`, ""); status != 200 {
		t.Fatal(status, string(body), err)
	}
	answered := map[string]string{}
	for round := range 4 * postingtest.Harder() {
		var mu sync.Mutex
		var wg sync.WaitGroup
		ready := make(chan bool, 1000)
		for w := range 3 {
			wg.Add(1)
			go func() {
				defer wg.Done()
				for n := range 200 {
					key := fmt.Sprintf("r%d-w%d-%d", round, w, n)
					status, body, err := post(client, url, key)
					if err != nil {
						return // killed
					}
					mu.Lock()
					if status == 200 {
						answered[key] = numberIn(body)
					}
					mu.Unlock()
					ready <- true
				}
			}()
		}
		for range 10 + 7*(round%4) {
			<-ready
		}
		_ = cmd.Process.Kill()
		wg.Wait()
		_ = cmd.Wait()
		if out, err := exec.Command(bin, "check", "--data", dir).CombinedOutput(); err != nil {
			t.Fatalf("after kill %d: %v\n%s", round, err, out)
		}
		cmd, url = run(t, bin, "serve", "--data", dir, "--addr", "127.0.0.1:0", "--today", "2026-11-20")
	}
	if len(answered) < 40 {
		t.Fatalf("only %d posts were answered", len(answered))
	}
	for key, number := range answered {
		status, body, err := post(client, url, key)
		if err != nil || status != 200 || numberIn(body) != number {
			t.Errorf("%s was answered %s and is now %d %s %v", key, number, status, body, err)
		}
	}
	_, body, err := send(client, "GET", url+"/api/v1/papers/file", "", "")
	if err != nil {
		t.Fatal(err)
	}
	for _, number := range answered {
		if !bytes.Contains(body, []byte(number+",")) {
			t.Errorf("%s was answered and is not there", number)
		}
	}
	t.Logf("%d kills, %d posts were answered, none is lost, none is there twice", 4*postingtest.Harder(), len(answered))
}

func post(c *http.Client, url, key string) (int, []byte, error) {
	return send(c, "POST", url+"/api/v1/deposits", `{"customer":1,"day":"2026-11-20","amount":"10.00","bank":1,"method":"cash"}`, key)
}

func numberIn(body []byte) string {
	var a struct{ Posted struct{ Number string } }
	_ = json.Unmarshal(body, &a)
	return a.Posted.Number
}

// A backup taken while the books are served can be restored and ties out.
func TestBackupAndRestore(t *testing.T) {
	bin, dir, other := program(t), t.TempDir(), t.TempDir()
	run(t, bin, "demo", "--data", dir, "--addr", "127.0.0.1:0")
	file := filepath.Join(t.TempDir(), "backup.db")
	for _, args := range [][]string{{"backup", "--data", dir, file}, {"restore", "--data", other, file}, {"check", "--data", other}, {"export", "--data", other, "customers"}} {
		if out, err := exec.Command(bin, args...).CombinedOutput(); err != nil {
			t.Fatalf("%v: %v\n%s", args, err, out)
		}
	}
	for _, args := range [][]string{{"backup", "--data", dir, file}, {"restore", "--data", other, file}, {"check", "--data", t.TempDir()}} {
		if out, err := exec.Command(bin, args...).CombinedOutput(); err == nil {
			t.Errorf("%v went through: %s", args, out)
		}
	}
}
