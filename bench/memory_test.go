package bench

import (
	"bytes"
	"fmt"
	"io"
	"math/rand/v2"
	"net"
	"net/http"
	"os"
	"os/exec"
	"path/filepath"
	"strconv"
	"sync"
	"sync/atomic"
	"syscall"
	"testing"
	"time"
)

// mostResident is what the program may take of the machine's memory, in MB.
const mostResident = 200

// readFor is long enough that the backup falls into it that the plan makes one
// minute after the start.
const readFor = 100 * time.Second

// The program as it is run, with sixteen who read screens without a pause, beside
// the first backup: the most memory that it ever took.
func BenchmarkMemory(b *testing.B) {
	bin := filepath.Join(b.TempDir(), "cleantally")
	if out, err := exec.Command("go", "build", "-o", bin, "cleantally/cmd/cleantally").CombinedOutput(); err != nil {
		b.Fatalf("%v: %s", err, out)
	}
	for _, papers := range sizesAsked(b) {
		b.Run(fmt.Sprint(papers), func(b *testing.B) {
			p, url := serving(b, bin, copyOfFirm(b, papers))
			c := signedIn(b, url)
			all, end := screens(), time.Now().Add(readFor)
			var asked, refused atomic.Int64
			var wg sync.WaitGroup
			for n := range 16 {
				wg.Go(func() {
					for rnd := rand.New(rand.NewPCG(uint64(n), 1)); time.Now().Before(end); asked.Add(1) {
						res, err := c.Get(url + "/api/v1" + all[rnd.IntN(len(all))])
						if err != nil {
							b.Error(err)
							return
						}
						if _, err := io.Copy(io.Discard, res.Body); err != nil || res.StatusCode >= 500 {
							refused.Add(1)
						}
						res.Body.Close()
					}
				})
			}
			wg.Wait()
			most := mostTaken(b, p)
			b.ReportMetric(float64(most), "MB")
			b.ReportMetric(float64(asked.Load())/readFor.Seconds(), "requests/s")
			b.ReportMetric(0, "ns/op")
			if most > mostResident {
				b.Errorf("%d MB were taken, the goal is %d", most, mostResident)
			}
			if refused.Load() > 0 {
				b.Errorf("%d of %d were not answered", refused.Load(), asked.Load())
			}
		})
	}
}

// serving starts the program on a directory and returns it with its address.
func serving(b *testing.B, bin, dir string) (*os.Process, string) {
	b.Helper()
	l, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		b.Fatal(err)
	}
	addr := l.Addr().String()
	l.Close()
	run := exec.Command(bin, "serve", "--data", dir, "--addr", addr, "--today", string(firmToday))
	var said bytes.Buffer
	run.Stdout, run.Stderr = &said, &said
	if err := run.Start(); err != nil {
		b.Fatal(err)
	}
	b.Cleanup(func() {
		run.Process.Signal(syscall.SIGTERM)
		if err := run.Wait(); err != nil {
			b.Errorf("it ended with %v: %.2000s", err, said.String())
		}
	})
	for range 600 {
		if res, err := http.Get("http://" + addr + "/healthz"); err == nil {
			res.Body.Close()
			return run.Process, "http://" + addr
		}
		time.Sleep(100 * time.Millisecond)
	}
	b.Fatal("it does not answer")
	return nil, ""
}

// mostTaken is the most that a process ever had in memory, in MB, as Linux tells
// it.
func mostTaken(b *testing.B, p *os.Process) int {
	b.Helper()
	status, err := os.ReadFile(fmt.Sprintf("/proc/%d/status", p.Pid))
	if err != nil {
		b.Skip("nothing tells here what a program takes: ", err)
	}
	_, after, _ := bytes.Cut(status, []byte("VmHWM:"))
	kB, err := strconv.Atoi(string(bytes.Fields(after)[0]))
	if err != nil {
		b.Fatal(err)
	}
	return kB / 1024
}
