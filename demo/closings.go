package demo

import (
	"cleantally/core/closing"
	"cleantally/core/day"
)

// closings settle the tax of each quarter three weeks after it, and end the
// first year on its last day, after all else.
func (t *teller) closings() {
	for _, x := range []struct{ on, through day.Day }{
		{"2025-07-21", "2025-06-30"}, {"2025-10-21", "2025-09-30"}, {"2026-01-21", "2025-12-31"}, {"2026-04-21", "2026-03-31"}, {"2026-07-21", "2026-06-30"}, {"2026-10-21", "2026-09-30"},
	} {
		t.do(x.on, "tax through "+string(x.through), closing.SettleTax{Through: x.through, Day: x.on})
	}
	t.do("2025-12-31", "year end 2025", closing.EndYear{Last: "2025-12-31"})
}
