package posting_test

import (
	"fmt"
	"maps"
	"slices"
	"strings"
	"testing"

	"cleantally/core/posting"
	"cleantally/core/posting/postingtest"
)

// refusals of docs/rules.md, part 10, by the short names of their rules.
var refusals = []string{"locked", "does not balance", "more than is open", "more than is left", "another customer's credit", "not in use", "taken", "no such day", "more than is there",
	"something stands on it", "another currency", "says both", "charged already", "sums differ", "before the item"}

var warnings = []string{"in the future", "long past", "paid twice?", "closed job", "another month"}

// Thousands of commands, valid and invalid, leave all in order after every one.
func TestWalk(t *testing.T) {
	seeds, steps := uint64(11), 1400
	if testing.Short() {
		seeds = 2
	}
	posted, tried, met := map[string]int{}, map[string]int{}, map[string]int{}
	for seed := range seeds {
		b := owing(seed)
		w := postingtest.NewWalk(seed, b)
		var history []postingtest.Step
		for n := range steps {
			s := w.Next()
			history = append(history, s)
			err := b.Take(s)
			name := fmt.Sprintf("%T", s.Command)
			tried[name]++
			refused, isRefusal := err.(posting.Refusals)
			for _, r := range refused {
				met[r.Rule]++
			}
			if err == nil {
				posted[name]++
				e, _ := s.Command.Plan(b)
				for _, x := range e.Warnings {
					met[x.Rule]++
				}
			}
			fault := err
			if isRefusal {
				fault = nil
			}
			if fault == nil && (n%60 == 0 || n+1 == steps) {
				fault = b.Prove()
			}
			if fault != nil {
				short := postingtest.Shortest(history, func(h []postingtest.Step) bool { return fails(seed, h) })
				t.Fatalf("seed %d, step %d, %T%+v: %v\nshortest history:\n%s", seed, n, s.Command, s.Command, fault, told(short))
			}
		}
	}
	table(t, posted, tried, met)
	if testing.Short() {
		return
	}
	for name := range tried {
		if posted[name] < 20 {
			t.Errorf("%s was posted %d times of %d", name, posted[name], tried[name])
		}
	}
	for _, rule := range slices.Concat(refusals, warnings) {
		if met[rule] == 0 {
			t.Errorf("%q was never met", rule)
		}
	}
}

// owing are the books of a walk: every third firm owes its tax when it is paid,
// every third that of deposit invoices.
func owing(seed uint64) *postingtest.Book {
	b := postingtest.ForWalk()
	if seed%2 == 1 {
		b.GoAbroad()
	}
	b.Due = posting.TaxDueAs([]string{posting.DueBilled, posting.DuePaid, posting.DueAdvancesPaid}[seed%3])
	return b
}

// fails takes a history through new books and tells whether they break.
func fails(seed uint64, history []postingtest.Step) bool {
	b := owing(seed)
	for _, s := range history {
		if err := b.Take(s); err != nil {
			if _, refused := err.(posting.Refusals); !refused {
				return true
			}
		}
	}
	return b.Prove() != nil
}

func told(history []postingtest.Step) string {
	var s strings.Builder
	for _, h := range history {
		fmt.Fprintf(&s, "%s lock %q draft %d %T%+v\n", h.Today, h.Lock, h.Draft, h.Command, h.Command)
	}
	return s.String()
}

func table(t *testing.T, posted, tried, met map[string]int) {
	var s strings.Builder
	for _, name := range slices.Sorted(maps.Keys(tried)) {
		fmt.Fprintf(&s, "%-28s posted %4d of %4d\n", name, posted[name], tried[name])
	}
	for _, rule := range slices.Sorted(maps.Keys(met)) {
		fmt.Fprintf(&s, "%-28s met %5d times\n", rule, met[rule])
	}
	t.Log("\n" + s.String())
}
