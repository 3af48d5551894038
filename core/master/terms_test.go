package master

import (
	"math/rand/v2"
	"slices"
	"testing"

	"cleantally/core/day"
	"cleantally/core/money"

	"github.com/shopspring/decimal"
)

func TestSplit(t *testing.T) {
	half := decimal.New(50, 0)
	for name, c := range map[string]struct {
		terms Terms
		want  []Due
	}{
		"on receipt":             {Terms{Kind: OnReceipt}, []Due{{"2026-11-10", 100001}}},
		"30 days":                {Terms{Kind: InDays, Days: 30}, []Due{{"2026-12-10", 100001}}},
		"end of month":           {Terms{Kind: EndOfMonth}, []Due{{"2026-11-30", 100001}}},
		"end of month + 15 days": {Terms{Kind: EndOfMonthPlus, Days: 15}, []Due{{"2026-12-15", 100001}}},
		"halves": {Terms{Kind: InInstalments, Instalments: []Instalment{{Percent: half, Days: 14}, {Percent: half, Days: 44}}},
			[]Due{{"2026-11-24", 50001}, {"2026-12-24", 50000}}},
	} {
		if got := c.terms.Split("2026-11-10", 100001); !slices.Equal(got, c.want) {
			t.Errorf("%s: %v, want %v", name, got, c.want)
		}
	}
}

// The parts of any terms add up to the whole, none is below nil, and none is due
// before the paper; months end where the calendar says.
func TestSplitOfAnything(t *testing.T) {
	rnd := rand.New(rand.NewPCG(1, 23))
	for range 2000 {
		paper, total := day.Day("2024-01-01").Add(rnd.IntN(1500)), money.Amount(rnd.Int64N(1_000_000))
		terms := Terms{Kind: []TermsKind{OnReceipt, InDays, EndOfMonth, EndOfMonthPlus, InInstalments}[rnd.IntN(5)], Days: rnd.IntN(90)}
		rest := int64(10_000)
		for n := 1 + rnd.IntN(5); terms.Kind == InInstalments && n > 0; n-- {
			share := rest
			if n > 1 {
				share = 1 + rnd.Int64N(rest-int64(n)+1)
			}
			rest -= share
			terms.Instalments = append(terms.Instalments, Instalment{Percent: decimal.New(share, -2), Days: rnd.IntN(120)})
		}
		var sum money.Amount
		parts := terms.Split(paper, total)
		for _, p := range parts {
			sum += p.Amount
			if p.Amount < 0 || p.Day < paper {
				t.Fatalf("%+v of %d on %s: %v", terms, total, paper, parts)
			}
			next := p.Day.Add(1)
			if terms.Kind == EndOfMonth && (next[8:] != "01" || p.Day[:7] != paper[:7]) {
				t.Fatalf("the month of %s ends on %s?", paper, p.Day)
			}
			if terms.Kind == EndOfMonthPlus && p.Day.Add(-terms.Days).Add(1)[8:] != "01" {
				t.Fatalf("%d days after the month of %s is %s?", terms.Days, paper, p.Day)
			}
		}
		if sum != total || len(parts) != max(1, len(terms.Instalments)) {
			t.Fatalf("%+v of %d on %s: %v", terms, total, paper, parts)
		}
	}
}
