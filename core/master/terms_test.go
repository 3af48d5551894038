package master

import (
	"slices"
	"testing"

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
