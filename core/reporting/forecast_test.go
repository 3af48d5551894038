package reporting_test

import (
	"testing"

	"cleantally/core/day"
	"cleantally/core/money"
	"cleantally/core/reporting"
)

// What is due falls into its week; what is overdue to us, disputed or without a
// day into none; what we owe already goes in the first.
func TestForesee(t *testing.T) {
	f := reporting.Foresee("2026-11-20", 10000, 3, []reporting.Coming{
		{Day: "2026-11-20", Amount: 500}, {Day: "2026-11-26", Amount: 300}, {Day: "2026-11-27", Amount: -700}, {Day: "2026-12-10", Amount: 40}, {Day: "2026-12-11", Amount: 9000},
		{Day: "2026-11-19", Amount: 1200}, {Day: "2026-11-01", Amount: -250}, {Day: "2026-11-25", Amount: 77, Disputed: true}, {Amount: 600},
	})
	type week struct {
		to               day.Day
		in, out, balance money.Amount
		rows             int
	}
	for n, want := range []week{{"2026-11-26", 800, -250, 10550, 3}, {"2026-12-03", 0, -700, 9850, 1}, {"2026-12-10", 40, 0, 9890, 1}} {
		if w := f.Weeks[n]; (week{w.To, w.In, w.Out, w.Balance, len(w.Rows)}) != want {
			t.Errorf("week %d: %+v, want %+v", n, w, want)
		}
	}
	if f.Overdue != 1200 || f.Disputed != 77 || f.NoDay != 600 || f.Later != 9000 || f.Weeks[0].Rows[0].Day != "2026-11-01" {
		t.Errorf("%+v", f)
	}
}
