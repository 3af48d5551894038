package posting

import (
	"testing"

	"cleantally/core/day"
)

func TestSeries(t *testing.T) {
	for _, c := range []struct {
		format, prefix string
		width          int
	}{{"I{yy}-{0000}", "I26-", 4}, {"{yyyy}/{00}", "2026/", 2}, {"A-{000000}", "A-", 6}} {
		if p, w := Series(c.format, day.Day("2026-11-20")); p != c.prefix || w != c.width {
			t.Errorf("%s: %q, %d", c.format, p, w)
		}
	}
}
