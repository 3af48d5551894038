package books

import (
	"errors"
	"fmt"
	"sync"
	"sync/atomic"
	"testing"
	"time"
)

// slowly are tries by a clock that is moved by hand.
func slowly() (*tries, *time.Time) {
	now := time.Date(2026, 11, 20, 8, 0, 0, 0, time.UTC)
	return newTries(func() time.Time { return now }), &now
}

// wrong tries once, wrongly; it returns how long it would have had to wait.
func wrong(t *tries, guesses ...guess) time.Duration {
	end, err := t.take(guesses...)
	var many ErrTooManyTries
	if errors.As(err, &many) {
		return many.Wait
	}
	end(false)
	return 0
}

// After the free tries each waits twice as long as the one before, up to a
// quarter of an hour; an hour later nothing is held against anybody.
func TestTriesWaitLonger(t *testing.T) {
	tries, now := slowly()
	g := guess{"word", 3}
	for n := range 3 {
		if wait := wrong(tries, g); wait != 0 {
			t.Fatalf("free try %d waits %s", n, wait)
		}
	}
	for _, want := range []time.Duration{5 * time.Second, 10 * time.Second, 20 * time.Second, 40 * time.Second, 80 * time.Second, 160 * time.Second, 320 * time.Second, 640 * time.Second, 15 * time.Minute, 15 * time.Minute, 15 * time.Minute} {
		if wait := wrong(tries, g); wait != want {
			t.Fatalf("waits %s, want %s", wait, want)
		}
		*now = now.Add(want - time.Second)
		if wait := wrong(tries, g); wait != time.Second {
			t.Fatalf("a second before, it waits %s", wait)
		}
		*now = now.Add(time.Second)
		if wait := wrong(tries, g); wait != 0 {
			t.Fatalf("after its wait it waits %s", wait)
		}
	}
	*now = now.Add(forgotten + time.Second)
	if wait := wrong(tries, g); wait != 0 {
		t.Errorf("an hour later it waits %s", wait)
	}
	if len(tries.by) != 1 {
		t.Errorf("%d are kept", len(tries.by))
	}
}

// Sixty at once get no more than the free ones: a try is taken before it is
// checked.
func TestTriesAtOnce(t *testing.T) {
	tries, _ := slowly()
	var taken atomic.Int64
	var all, taking sync.WaitGroup
	ends := make(chan func(bool), 60)
	taking.Add(60)
	for range 60 {
		all.Add(1)
		go func() {
			defer all.Done()
			end, err := tries.take(guess{"word", 5})
			taking.Done()
			if err == nil {
				taken.Add(1)
				ends <- end
			}
		}()
	}
	taking.Wait()
	all.Wait()
	if taken.Load() != 5 {
		t.Errorf("%d of 60 were tried", taken.Load())
	}
	for range taken.Load() {
		(<-ends)(false)
	}
	if wait := wrong(tries, guess{"word", 5}); wait != firstWait {
		t.Errorf("then it waits %s", wait)
	}
}

// Whoever guesses somebody's password from elsewhere does not lock them out
// where they sign in; nor does a right password of one's own wipe out what was
// held against an address.
func TestStrangersLockNobodyOut(t *testing.T) {
	tries, _ := slowly()
	const owner, home = "o@f.example", "192.0.2.7"
	in := func(account, from string, right bool) error {
		end, err := tries.take(tries.signIn(account, from)...)
		if err == nil {
			if end(right); right {
				tries.knows(account, from)
			}
		}
		return err
	}
	if err := in(owner, home, true); err != nil {
		t.Fatal(err)
	}
	refused := 0
	for n := range 300 {
		if in(owner, fmt.Sprintf("198.51.100.%d", n%200), false) != nil {
			refused++
		}
	}
	if refused != 250 {
		t.Errorf("%d of 300 from 200 addresses were refused, 50 are free", refused)
	}
	if err := in(owner, home, true); err != nil {
		t.Errorf("the owner at home: %v", err)
	}
	if err := in("other@f.example", home, true); err != nil {
		t.Errorf("another there: %v", err)
	}
	// One address, many names: after 25 it waits, and a right one helps no further.
	const noisy = "203.0.113.9"
	for n := range 24 {
		if err := in(fmt.Sprintf("n%d@f.example", n), noisy, false); err != nil {
			t.Fatalf("name %d: %v", n, err)
		}
	}
	if err := in("own@f.example", noisy, true); err != nil {
		t.Fatal(err)
	}
	if err := in("n99@f.example", noisy, false); err != nil {
		t.Fatal(err)
	}
	if in("n100@f.example", noisy, false) == nil {
		t.Error("the 26th wrong name of one address was tried")
	}
	// Of IPv6 one has more addresses than can be counted.
	for n := range 5 {
		if err := in("v6@f.example", fmt.Sprintf("2001:db8:1:2::%d", n), false); err != nil {
			t.Fatal(err)
		}
	}
	if in("v6@f.example", "2001:db8:1:2:ffff::1", false) == nil {
		t.Error("another address of the same network was tried")
	}
}

// Names that are made up without end do not fill the memory.
func TestTriesAreBounded(t *testing.T) {
	tries, _ := slowly()
	for n := range mostKept + 5000 {
		wrong(tries, guess{fmt.Sprint("name ", n), 5})
	}
	if len(tries.by) > mostKept+1 {
		t.Errorf("%d are kept", len(tries.by))
	}
}

func TestHowLongItWaits(t *testing.T) {
	for wait, want := range map[time.Duration]string{
		time.Millisecond: "too many tries: try again in 1 seconds", 40 * time.Second: "too many tries: try again in 40 seconds", 61 * time.Second: "too many tries: try again in 2 minutes", 15 * time.Minute: "too many tries: try again in 15 minutes",
	} {
		if got := (ErrTooManyTries{wait}).Error(); got != want {
			t.Errorf("%s: %q", wait, got)
		}
	}
}

// Long and not common is good, whatever it is made of; what others try first is
// refused however it is dressed up.
func TestPasswords(t *testing.T) {
	for password, want := range map[string]string{
		"winding stairs": "", "a long password": "", "gravel otter mandolin": "", "Übermut tut selten gut": "", "тихий вечер у реки": "", "x9!Kq7#Lm2$W": "", "        oak        elm ": "",
		"short enough": "", "too short": "too short", "": "too short", "passwordpassword": "common", "Password1234!": "common", "P4$$w0rd2026!!": "common", "111111111111": "common", "123456789012": "common",
		"abcdefghijkl": "common", "qwertyuiopas": "common", "QWERTYuiop123": "common", "abcabcabcabc": "common", "letmeinletmein": "common", "Summer2026!!!!": "common", "november 2026": "common", "mnbvcxzlkjhgf": "common",
		"Wren Sparrow 1": "common", "wrensparrowwrensparrow": "common", "w@sw.example": "common", "correct horse battery staple": "common", "changemechangeme": "common", "1qaz2wsx3edc": "common", "iloveyouiloveyou1": "common",
	} {
		var v validation
		v.password("password", password, "Wren Sparrow", "w@sw.example")
		got := ""
		if len(v.refusals) > 0 {
			got = v.refusals[0].Rule
		}
		if got != want {
			t.Errorf("%q is %q, want %q", password, got, want)
		}
	}
	var v validation
	long := make([]rune, 129)
	for n := range long {
		long[n] = rune('a' + n*n%23)
	}
	if v.password("p", string(long)); len(v.refusals) != 1 || v.refusals[0].Rule != "too long" {
		t.Errorf("129 characters: %v", v.refusals)
	}
}

// What is made up for a person is long, is not common, and is another each time.
func TestMadeUpPasswords(t *testing.T) {
	seen := map[string]bool{}
	for range 200 {
		p := madeUp()
		var v validation
		if v.password("p", p); len(v.refusals) > 0 || seen[p] || len(p) != 23 {
			t.Fatalf("%q: %v", p, v.refusals)
		}
		seen[p] = true
	}
}
