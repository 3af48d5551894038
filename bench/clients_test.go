package bench

import (
	"fmt"
	"slices"
	"sync"
	"testing"
	"time"
)

// Many post at once, each the next when the last is answered: how many a second,
// and how long one waits. The goal is a p99 under twenty times the median, and no
// answer of 500 or more (send fails at any that is no success).
func BenchmarkClients(b *testing.B) {
	for _, clients := range []int{1, 8, 32, 50} {
		b.Run(fmt.Sprint(clients), func(b *testing.B) {
			book, _ := open(b)
			c, url := client(b, book)
			var mu sync.Mutex
			var took []time.Duration
			var wg sync.WaitGroup
			began := time.Now()
			for range clients {
				wg.Go(func() {
					for range 2000 / clients {
						start := time.Now()
						send(b, c, "POST", url+"/invoices", fiveLines)
						mu.Lock()
						took = append(took, time.Since(start))
						mu.Unlock()
					}
				})
			}
			wg.Wait()
			all := time.Since(began)
			slices.Sort(took)
			half, most := took[len(took)/2], took[len(took)*99/100]
			b.ReportMetric(float64(len(took))/all.Seconds(), "posts/s")
			b.ReportMetric(float64(half.Microseconds())/1000, "ms/median")
			b.ReportMetric(float64(most.Microseconds())/1000, "ms/p99")
			b.ReportMetric(0, "ns/op")
			if most > 20*half {
				b.Errorf("p99 is %s, more than twenty times the median, %s", most, half)
			}
		})
	}
}
