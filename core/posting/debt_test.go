package posting_test

import (
	"math/rand/v2"
	"testing"

	"cleantally/core/money"
	"cleantally/core/posting"
	"cleantally/core/posting/postingtest"
)

// The tax inside a debt of one code of which nothing was used is told at once as
// it is told by parts: below, at and beyond what was billed, also of a bill whose
// tax lies on the other side, and of one below nil.
func TestInsideUnused(t *testing.T) {
	b, rnd := posting.Build(postingtest.New()), rand.New(rand.NewPCG(6, 41))
	for range 20_000 {
		total := rnd.Int64N(2_000) - 100
		tax := rnd.Int64N(total/5 + 40)
		if rnd.IntN(20) == 0 {
			tax = -tax
		}
		amount := money.Amount(1 + rnd.Int64N(2_000))
		if rnd.IntN(4) == 0 {
			amount = money.Amount(max(total, 1))
		}
		paper := posting.Paper{ID: 9, Total: money.Amount(total), Lines: []posting.PaperLine{{TaxCodeID: 1, Net: posting.Firm(money.Amount(total - tax)), Tax: posting.Firm(money.Amount(tax))}}}
		want := posting.Taxes(b.InsideDebtOf(paper, amount, today)).Base
		if got := posting.InsideUnused(paper.Total, money.Amount(tax), amount); got != want {
			t.Fatalf("%d of %d with tax %d: %d inside, by parts %d", amount, total, tax, got, want)
		}
	}
}
