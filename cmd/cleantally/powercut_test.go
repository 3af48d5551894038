package main

import (
	"bytes"
	"context"
	"encoding/binary"
	"fmt"
	"math/rand/v2"
	"net/http"
	"net/http/cookiejar"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"sync"
	"testing"
	"time"

	"cleantally/books"
	"cleantally/core/posting/postingtest"
)

// A diskOp is something that a disk was asked to do with the data file (1) or the
// log beside it (2): write, cut, sync; or, of file 0, that a post was answered.
type diskOp struct {
	what byte
	file byte
	at   int64
	data []byte
}

func readDisk(t *testing.T, path string) []diskOp {
	t.Helper()
	raw, err := os.ReadFile(path)
	if err != nil {
		t.Fatal(err)
	}
	var all []diskOp
	for len(raw) >= 18 {
		op := diskOp{what: raw[0], file: raw[1], at: int64(binary.LittleEndian.Uint64(raw[2:]))}
		n := int(binary.LittleEndian.Uint64(raw[10:]))
		if len(raw) < 18+n {
			break // the program was killed in the middle of telling it
		}
		op.data, raw = raw[18:18+n], raw[18+n:]
		all = append(all, op)
	}
	return all
}

// A disk is what a file holds for certain, and what it was asked to do since.
type disk struct {
	held    []byte
	pending []diskOp
}

func (d *disk) do(op diskOp) {
	switch op.what {
	case 's':
		for _, p := range d.pending {
			d.held = p.apply(d.held, nil)
		}
		d.pending = nil
	default:
		d.pending = append(d.pending, op)
	}
}

// apply does an operation; of what it writes a sector is kept where keep says so.
func (op diskOp) apply(to []byte, keep func() bool) []byte {
	if op.what == 'c' {
		if int64(len(to)) > op.at {
			return to[:op.at]
		}
		return append(to, make([]byte, op.at-int64(len(to)))...)
	}
	if end := op.at + int64(len(op.data)); int64(len(to)) < end {
		to = append(to, make([]byte, end-int64(len(to)))...)
	}
	const sector = 512
	for n := 0; n < len(op.data); n += sector {
		if keep == nil || keep() {
			copy(to[op.at+int64(n):], op.data[n:min(n+sector, len(op.data))])
		}
	}
	return to
}

// after is what is found when the power is back: what was synced, and of what was
// not, all, nothing, or whatever chance left of it, in whatever order.
func (d *disk) after(rnd *rand.Rand) []byte {
	held := bytes.Clone(d.held)
	how := rnd.IntN(4)
	for _, op := range d.pending {
		switch {
		case how == 0, how == 1 && rnd.IntN(2) == 0:
		case how == 2 && op.what == 'w':
			held = op.apply(held, func() bool { return rnd.IntN(2) == 0 })
		default:
			held = op.apply(held, nil)
		}
	}
	return held
}

// The power is cut while many post, and the disk keeps of what was not synced
// what it likes: what was answered is there, and all ties out.
func TestPowerCuts(t *testing.T) {
	bin, dir, place := program(t), t.TempDir(), t.TempDir()
	shim, log := filepath.Join(place, "powercut.so"), filepath.Join(place, "disk.log")
	if out, err := exec.Command("cc", "-shared", "-fPIC", "-O1", "-o", shim, "testdata/powercut.c", "-ldl").CombinedOutput(); err != nil {
		t.Fatalf("%v\n%s", err, out)
	}
	cmd, url := run(t, bin, "serve", "--data", dir, "--addr", "127.0.0.1:0", "--today", "2026-11-20")
	jar, _ := cookiejar.New(nil)
	client := &http.Client{Jar: jar, Timeout: 20 * time.Second}
	if status, answer, err := send(client, "POST", url+"/api/v1/setup", aFirm, ""); status != 200 {
		t.Fatal(status, string(answer), err)
	}
	if status, answer, err := send(client, "POST", url+"/api/v1/customers", `{"name":"C"}`, ""); status != 200 {
		t.Fatal(status, string(answer), err)
	}
	_ = cmd.Process.Signal(os.Interrupt)
	_ = cmd.Wait()
	base, err := os.ReadFile(filepath.Join(dir, "firm.db"))
	if err != nil {
		t.Fatal(err)
	}

	t.Setenv("LD_PRELOAD", shim)
	t.Setenv("DISK_LOG", log)
	cmd, url = run(t, bin, "serve", "--data", dir, "--addr", "127.0.0.1:0", "--today", "2026-11-20")
	t.Setenv("LD_PRELOAD", "")
	posts := postWhile(t, client, url, log)
	_ = cmd.Process.Kill()
	_ = cmd.Wait()

	ops := readDisk(t, log)
	cuts := 25 * postingtest.Harder()
	rnd := rand.New(rand.NewPCG(1, 2))
	most := 0
	for n := range cuts {
		most = max(most, cutAt(t, base, ops[:1+rnd.IntN(len(ops))], rnd, n))
	}
	t.Logf("%d power cuts in %d operations of the disk while %d posts were answered: none is lost, all ties out; up to %d answered before a cut", cuts, len(ops), posts, most)
}

// postWhile posts from four sides, and writes down in the log of the disk what
// was answered, when it was.
func postWhile(t *testing.T, client *http.Client, url, log string) (posts int) {
	t.Helper()
	f, err := os.OpenFile(log, os.O_WRONLY|os.O_APPEND|os.O_CREATE, 0o600)
	if err != nil {
		t.Fatal(err)
	}
	defer f.Close()
	if status, answer, err := send(client, "POST", url+"/api/v1/session", `{"email":"o@f.example","password":"a long password"}`, ""); status != 200 {
		t.Fatal(status, string(answer), err)
	}
	var mu sync.Mutex
	var wg sync.WaitGroup
	for w := range 4 {
		wg.Go(func() {
			for n := range 40 {
				key := fmt.Sprintf("w%d-%d", w, n)
				status, body, err := post(client, url, key)
				if status != 200 {
					t.Error(status, string(body), err)
					return
				}
				text := key + " " + numberIn(body)
				mark := binary.LittleEndian.AppendUint64(append([]byte{'a', 0}, make([]byte, 8)...), uint64(len(text)))
				mu.Lock()
				_, _ = f.Write(append(mark, text...))
				posts++
				mu.Unlock()
			}
		})
	}
	wg.Wait()
	return posts
}

// cutAt is one cut after some operations; it returns how many posts were answered
// before it.
func cutAt(t *testing.T, base []byte, ops []diskOp, rnd *rand.Rand, n int) int {
	t.Helper()
	disks := map[byte]*disk{1: {held: bytes.Clone(base)}, 2: {}}
	answered := map[string]string{}
	for _, op := range ops {
		if op.what == 'a' {
			key, number, _ := strings.Cut(string(op.data), " ")
			answered[key] = number
			continue
		}
		disks[op.file].do(op)
	}
	dir := t.TempDir()
	for file, name := range map[byte]string{1: "firm.db", 2: "firm.db-wal"} {
		if err := os.WriteFile(filepath.Join(dir, name), disks[file].after(rnd), 0o600); err != nil {
			t.Fatal(err)
		}
	}
	ctx := context.Background()
	book, err := books.Open(ctx, dir, time.Now, "2026-11-20")
	if err != nil {
		t.Errorf("cut %d after %d operations: %v", n, len(ops), err)
		return 0
	}
	defer book.Close()
	r := book.Read(ctx)
	if found, err := r.Check(); err != nil || len(found) > 0 {
		t.Errorf("cut %d after %d operations: %q, %v", n, len(ops), found, err)
	}
	for key, number := range answered {
		act, there, err := r.ActByKey(key)
		if err != nil || !there || act.Answer == nil || !strings.Contains(*act.Answer, number) {
			t.Errorf("cut %d after %d operations: %s was answered %s and is lost: %v", n, len(ops), key, number, err)
		}
	}
	return len(answered)
}
