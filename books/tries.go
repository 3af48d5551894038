package books

import (
	"crypto/subtle"
	"fmt"
	"math"
	"net/netip"
	"sync"
	"time"
)

// ErrTooManyTries says that a secret was guessed at too often, and how long the
// next try has to wait.
type ErrTooManyTries struct{ Wait time.Duration }

func (e ErrTooManyTries) Error() string {
	if minutes := int(math.Ceil(e.Wait.Minutes())); minutes > 1 {
		return fmt.Sprintf("too many tries: try again in %d minutes", minutes)
	}
	return fmt.Sprintf("too many tries: try again in %d seconds", max(int(math.Ceil(e.Wait.Seconds())), 1))
}

// How long a try waits once the free ones are used up: twice as long each time,
// and never longer than the most.
const (
	firstWait = 5 * time.Second
	mostWait  = 15 * time.Minute
	forgotten = time.Hour // after which nothing is held against anybody
	mostKept  = 20_000
)

// A guess is what tries are counted by, and how many of them are free.
type guess struct {
	of   string
	free int
}

// tries bounds how often secrets can be guessed. A try is taken before it is
// checked, so that many at once are bounded as well as one after the other.
type tries struct {
	mu    sync.Mutex
	now   func() time.Time
	by    map[string]*tried
	known map[string]bool // accounts with the addresses that they were signed in from

	looked time.Time // when it was last looked for what is long past
}

type tried struct {
	failed  int
	pending int // taken, and not known yet how they end
	last    time.Time
}

func newTries(now func() time.Time) *tries {
	return &tries{now: now, by: map[string]*tried{}, known: map[string]bool{}}
}

// take takes one try of all guesses, or says how long it has to wait. The try
// counts as failed until end says otherwise.
func (t *tries) take(guesses ...guess) (end func(held bool), err error) {
	t.mu.Lock()
	defer t.mu.Unlock()
	now := t.now()
	t.forget(now)
	var wait time.Duration
	for _, g := range guesses {
		wait = max(wait, t.by[g.of].wait(g.free, now))
	}
	if wait > 0 {
		return nil, ErrTooManyTries{wait}
	}
	for _, g := range guesses {
		x := t.by[g.of]
		if x == nil {
			x = &tried{}
			t.by[g.of] = x
		}
		x.pending, x.last = x.pending+1, now
	}
	return func(held bool) { t.end(held, guesses) }, nil
}

// wait is how long the next try has to wait: not at all while there are free
// ones; then one at a time.
func (x *tried) wait(free int, now time.Time) time.Duration {
	if x == nil || x.failed+x.pending < free {
		return 0
	}
	if x.pending > 0 {
		return firstWait
	}
	wait := mostWait
	if n := x.failed - free; n < 10 {
		wait = min(firstWait<<n, mostWait)
	}
	return max(x.last.Add(wait).Sub(now), 0)
}

// end says how a try ended. One that was right wipes out what was held against
// the first guess, which names account and address; a right one of one's own
// does not make others forget.
func (t *tries) end(held bool, guesses []guess) {
	t.mu.Lock()
	defer t.mu.Unlock()
	for n, g := range guesses {
		x := t.by[g.of]
		if x == nil {
			continue
		}
		x.pending--
		switch {
		case !held:
			x.failed, x.last = x.failed+1, t.now()
		case n == 0:
			x.failed = 0
		}
	}
}

// drop takes a try back that was neither right nor wrong, as if it had not been.
func (t *tries) drop(guesses []guess) {
	t.mu.Lock()
	defer t.mu.Unlock()
	for _, g := range guesses {
		if x := t.by[g.of]; x != nil {
			x.pending--
		}
	}
}

// forget drops what is long past, and, should somebody make up names without
// end, whatever is not under way.
func (t *tries) forget(now time.Time) {
	full := len(t.by) > mostKept
	if now.Sub(t.looked) < time.Minute && !full {
		return
	}
	t.looked = now
	for of, x := range t.by {
		if x.pending == 0 && (now.Sub(x.last) > forgotten || full) {
			delete(t.by, of)
		}
	}
}

// signIn are the guesses of one who signs in: by account and address together;
// by address, whoever is tried from there; and by account, from wherever, but for
// the addresses that it was signed in from before, so that strangers cannot lock
// anybody out of their own.
func (t *tries) signIn(account, address string) []guess {
	from := network(address)
	all := []guess{{account + " at " + from, 5}, {"at " + from, 25}}
	t.mu.Lock()
	defer t.mu.Unlock()
	if !t.known[account+" at "+from] {
		all = append(all, guess{"as " + account, 50})
	}
	return all
}

// knows keeps that an account was signed in from an address.
func (t *tries) knows(account, address string) {
	t.mu.Lock()
	defer t.mu.Unlock()
	if len(t.known) < mostKept {
		t.known[account+" at "+network(address)] = true
	}
}

// network is what one who may choose addresses cannot leave: of IPv6 the first
// half.
func network(address string) string {
	a, err := netip.ParseAddr(address)
	if err != nil {
		return "nowhere"
	}
	if a = a.Unmap(); a.Is6() {
		if p, err := a.WithZone("").Prefix(64); err == nil {
			return p.String()
		}
	}
	return a.String()
}

// SetupWordHolds tells whether the word is right that whoever sets up a firm is
// asked for, where one is; ErrTooManyTries for one who guesses it.
func (b *Book) SetupWordHolds(word, said string) (bool, error) {
	if word == "" {
		return true, nil
	}
	end, err := b.tries.take(guess{"word of the setup", 10})
	if err != nil {
		return false, err
	}
	right := subtle.ConstantTimeCompare([]byte(word), []byte(said)) == 1
	end(right)
	return right, nil
}
