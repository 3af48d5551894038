package reporting_test

import (
	"math/rand/v2"
	"testing"

	"cleantally/core/money"
	"cleantally/core/reporting"
)

// The figures of part 9: E-7 with a deposit of 1,000.00 held.
func TestPosition(t *testing.T) {
	for name, x := range map[string]struct {
		p                reporting.Position
		receivables, net money.Amount
	}{
		"E-7 with 1,000.00 deposit":  {reporting.Position{OwesNow: 1368000, KeepsBack: 72000, Held: 100000}, 1368000, 1340000},
		"nothing":                    {reporting.Position{}, 0, 0},
		"E-6 as it stands":           {reporting.Position{OwesNow: 744000, NotYetDue: 31000, Held: 250000, Unplaced: 100000}, 675000, 425000},
		"a credit that waits":        {reporting.Position{Unplaced: 6000}, -6000, -6000},
		"due and not due, disputed":  {reporting.Position{OwesNow: 100, NotYetDue: 250, Disputed: 60}, 350, 350},
		"a supplier too":             {reporting.Position{OwesNow: 90000, WeOwe: 64000}, 90000, 90000},
		"more held than owed":        {reporting.Position{OwesNow: 100, Held: 500}, 100, -400},
		"kept back beside a deposit": {reporting.Position{KeepsBack: 500, Held: 500, Unplaced: 1}, -1, -1},
	} {
		if x.p.Receivables() != x.receivables || x.p.Net() != x.net {
			t.Errorf("%s: %d and %d", name, x.p.Receivables(), x.p.Net())
		}
	}
	s := reporting.SupplierPosition{OweNow: 1000, NotYetDue: 200, KeepBack: 50, Prepaid: 300, Unplaced: 20, NotBilled: 999}
	if s.Net() != 930 {
		t.Errorf("with a supplier: %d", s.Net())
	}
}

// The strip of E-7 in a contract of 20,000.00, as part 9 tells it.
func TestStrip(t *testing.T) {
	p := reporting.JobPosition{ContractSum: 2000000, BilledNet: 1200000, BilledGross: 1440000, Open: 1368000, KeptBack: 72000}
	want := map[string]money.Amount{"open": 1140000, "kept back": 60000, "left to bill": 800000}
	for _, part := range p.Strip() {
		if part.Amount != want[part.Name] {
			t.Errorf("%s: %d, want %d", part.Name, part.Amount, want[part.Name])
		}
	}
	if p.Settled() != 0 || p.LeftToBill() != 800000 {
		t.Errorf("settled %d, left %d", p.Settled(), p.LeftToBill())
	}
	p = reporting.JobPosition{ContractSum: 100, BilledNet: 300, BilledGross: 360, Held: 50, Advance: 50}
	for _, part := range p.Strip() {
		if part.Name == "settled" && part.Amount != 300 || part.Name != "settled" && part.Amount != 0 {
			t.Errorf("billed past its sum: %s %d", part.Name, part.Amount)
		}
	}
}

// Whatever stands there, the parts of a strip add up to the larger of the sum
// and what was billed, and none is below nil.
func TestStripsAddUp(t *testing.T) {
	rnd := rand.New(rand.NewPCG(9, 9))
	amount := func(most money.Amount) money.Amount { return money.Amount(rnd.Int64N(int64(most) + 1)) }
	for range 3000 {
		p := reporting.JobPosition{ContractSum: amount(500000), BilledNet: amount(500000)}
		p.BilledGross = p.BilledNet + amount(p.BilledNet/4)
		rest := p.BilledGross
		for _, part := range []*money.Amount{&p.Open, &p.KeptBack, &p.Lost} {
			*part = amount(rest)
			rest -= *part
		}
		p.Held, p.Advance = amount(600000), amount(600000)
		var sum money.Amount
		for _, part := range p.Strip() {
			sum += part.Amount
			if part.Amount < 0 {
				t.Fatalf("%+v: %s is %d", p, part.Name, part.Amount)
			}
		}
		if sum != max(p.ContractSum, p.BilledNet) {
			t.Fatalf("%+v: adds up to %d", p, sum)
		}
	}
}

// A bucket holds what its name says, on both ends, and every age has one.
func TestBuckets(t *testing.T) {
	for _, basis := range []reporting.Basis{reporting.ByDue, reporting.ByPaper} {
		buckets := reporting.Buckets(basis)
		for age := -400; age <= 400; age++ {
			in := 0
			for _, b := range buckets {
				if b.Min <= age && age <= b.Max {
					in++
				}
			}
			if in != 1 {
				t.Errorf("%s: %d days are in %d buckets", basis, age, in)
			}
		}
		if oldest := buckets[len(buckets)-1].Oldest("2026-11-20"); oldest != "" {
			t.Errorf("%s: the last begins on %s", basis, oldest)
		}
	}
	due := reporting.Buckets(reporting.ByDue)
	// What is due on a day is not overdue on it.
	if due[0].Oldest("2026-11-20") != "2026-11-20" || due[1].Oldest("2026-11-20") != "2026-10-21" || due[3].Oldest("2026-11-20") != "2026-08-22" {
		t.Errorf("%s, %s, %s", due[0].Oldest("2026-11-20"), due[1].Oldest("2026-11-20"), due[3].Oldest("2026-11-20"))
	}
}

func TestAgeingAddsUp(t *testing.T) {
	rows := []reporting.AgeingRow{
		{PartyID: 1, Buckets: []money.Amount{100, 20, 0, 0, 5}, Unplaced: -30, Total: 95, Disputed: 20, KeptBack: 7, Held: 1},
		{PartyID: 2, Buckets: []money.Amount{0, 0, 0, 3, 0}, Total: 3, Held: 40},
	}
	a := reporting.NewAgeing("2026-11-20", reporting.ByDue, rows)
	want := []money.Amount{100, 20, 0, 3, 5}
	for n, v := range a.Total.Buckets {
		if v != want[n] {
			t.Errorf("%s: %d", a.Buckets[n].Name, v)
		}
	}
	if x := a.Total; x.Unplaced != -30 || x.Total != 98 || x.Disputed != 20 || x.KeptBack != 7 || x.Held != 41 {
		t.Errorf("together: %+v", x)
	}
	if empty := reporting.NewAgeing("2026-11-20", reporting.ByPaper, nil); len(empty.Total.Buckets) != 4 || empty.Total.Total != 0 {
		t.Errorf("of nobody: %+v", empty)
	}
}

func TestStory(t *testing.T) {
	lines := []reporting.Happening{{Amount: 30000}, {Amount: -6000}, {Held: 500}, {Amount: -30000}}
	if closing := reporting.Run(1000, lines); closing != -5000 {
		t.Errorf("closes with %d", closing)
	}
	for n, want := range []money.Amount{31000, 25000, 25000, -5000} {
		if lines[n].Balance != want {
			t.Errorf("line %d: %d, want %d", n+1, lines[n].Balance, want)
		}
	}
	if reporting.Run(7, nil) != 7 {
		t.Error("nothing happened, and it moved")
	}
}

func TestTieOut(t *testing.T) {
	ties := []reporting.Tie{{Ledger: 5, Sum: 5}, {Ledger: -3, Sum: -3}}
	for name, x := range map[string]struct {
		t  reporting.TieOut
		ok bool
	}{
		"all":                 {reporting.TieOut{Ties: ties}, true},
		"none":                {reporting.TieOut{}, true},
		"a register differs":  {reporting.TieOut{Ties: append(ties[:1:1], reporting.Tie{Ledger: 1})}, false},
		"an entry is crooked": {reporting.TieOut{Ties: ties, Unbalanced: 1}, false},
		"the ledger is":       {reporting.TieOut{Ties: ties, Difference: -1}, false},
	} {
		if x.t.OK() != x.ok {
			t.Errorf("%s: %v", name, x.t.OK())
		}
	}
}

// The strokes of an item: never settled before it is, never open after it began.
func TestSettlement(t *testing.T) {
	for _, x := range []struct {
		amount, open money.Amount
		word         string
		share        int
	}{
		{100, 100, "open", 0}, {100, 0, "settled", 100}, {100000, 99999, "part settled", 1}, {100000, 1, "part settled", 99}, {-300, -75, "part settled", 75}, {-100, -40, "part settled", 60}, {0, 0, "settled", 100}, {100, 250, "open", 0},
	} {
		if word, share := reporting.Settlement(x.amount, x.open); word != x.word || share != x.share {
			t.Errorf("%d of %d: %s %d", x.open, x.amount, word, share)
		}
	}
}
