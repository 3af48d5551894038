package reporting

import (
	"testing"

	"cleantally/core/day"
	"cleantally/core/money"
)

func TestBucketsCoverEveryAgeOnce(t *testing.T) {
	for _, basis := range []Basis{ByDue, ByPaper} {
		for age := -400; age < 400; age++ {
			hits := 0
			for _, b := range Buckets(basis) {
				if age >= b.Min && age <= b.Max {
					hits++
				}
			}
			if hits != 1 {
				t.Fatalf("%s: age %d falls into %d buckets", basis, age, hits)
			}
		}
	}
	if got := Buckets(ByDue)[1].Oldest("2026-11-20"); got != day.Day("2026-10-21") {
		t.Errorf("1–30 begins on %s", got)
	}
}

func TestStripAddsUp(t *testing.T) {
	for name, p := range map[string]JobPosition{
		"nothing billed":           {ContractSum: 100000, Held: 30000},
		"part billed and settled":  {ContractSum: 100000, BilledNet: 50000, BilledGross: 60000, Open: 20001, Held: 99999},
		"billed beyond the sum":    {ContractSum: 10000, BilledNet: 50000, BilledGross: 60000, Open: 60000},
		"no contract sum is known": {BilledNet: 333, BilledGross: 400, Open: 1},
	} {
		var sum money.Amount
		for _, part := range p.Strip() {
			if part.Amount < 0 {
				t.Errorf("%s: %s is %d", name, part.Name, part.Amount)
			}
			sum += part.Amount
		}
		if want := max(p.ContractSum, p.BilledNet); sum != want {
			t.Errorf("%s: the parts add up to %d, want %d", name, sum, want)
		}
	}
}

func TestPosition(t *testing.T) {
	p := Position{OwesNow: 744000, NotYetDue: 31000, Held: 250000, Unplaced: 100000}
	if p.Net() != 425000 || p.Receivables() != 675000 {
		t.Errorf("net %d, receivables %d", p.Net(), p.Receivables())
	}
}

func TestSettlement(t *testing.T) {
	for _, c := range []struct {
		amount, open money.Amount
		word         string
		share        int
	}{{100, 100, "open", 0}, {-100, -40, "part settled", 60}, {100000, 1, "part settled", 99}, {100000, 99999, "part settled", 1}, {100, 0, "settled", 100}} {
		if w, s := Settlement(c.amount, c.open); w != c.word || s != c.share {
			t.Errorf("%d of %d open: %s %d", c.open, c.amount, w, s)
		}
	}
}
