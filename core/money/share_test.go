package money_test

import (
	"math/rand/v2"
	"testing"

	"cleantally/core/money"

	"github.com/shopspring/decimal"
)

// Shares add up to the whole, none is a minor unit or more from its exact share,
// and what gets no share weighs nothing.
func TestSharesOfAnything(t *testing.T) {
	rnd := rand.New(rand.NewPCG(2, 3))
	for range 20000 {
		weights := make([]money.Amount, 1+rnd.IntN(9))
		var all money.Amount
		for i := range weights {
			if weights[i] = money.Amount(rnd.Int64N(100000)); rnd.IntN(5) == 0 {
				weights[i] = 0
			}
			all += weights[i]
		}
		whole := money.Amount(rnd.Int64N(1_000_000) - 100_000)
		shares, err := money.Share(whole, weights)
		if all == 0 {
			if err == nil && whole != 0 {
				t.Fatalf("%d was shared over nothing: %v", whole, shares)
			}
			continue
		}
		if err != nil {
			t.Fatalf("%d over %v: %v", whole, weights, err)
		}
		var sum money.Amount
		for i, s := range shares {
			sum += s
			exact := decimal.New(int64(whole), 0).Mul(decimal.New(int64(weights[i]), 0)).DivRound(decimal.New(int64(all), 0), 10)
			if off := exact.Sub(decimal.New(int64(s), 0)).Abs(); off.GreaterThanOrEqual(decimal.New(1, 0)) {
				t.Errorf("%d over %v: %d is %s from its share", whole, weights, s, off)
			}
			if weights[i] == 0 && s != 0 {
				t.Errorf("%d over %v: nothing gets %d", whole, weights, s)
			}
		}
		if sum != whole {
			t.Fatalf("%d over %v: adds up to %d", whole, weights, sum)
		}
	}
}

// The left-over minor units go to the largest fractions, the first part first on
// a tie.
func TestLeftOverUnits(t *testing.T) {
	for _, x := range []struct {
		whole   money.Amount
		weights []money.Amount
		want    []money.Amount
	}{
		{10000, []money.Amount{1, 1, 1}, []money.Amount{3334, 3333, 3333}},
		{10, []money.Amount{1, 1, 1, 1}, []money.Amount{3, 3, 2, 2}},
		{100, []money.Amount{0, 7, 0, 3}, []money.Amount{0, 70, 0, 30}},
		{1, []money.Amount{1, 2}, []money.Amount{0, 1}},
		{2, []money.Amount{5, 5, 5}, []money.Amount{1, 1, 0}},
		{0, []money.Amount{5, 5}, []money.Amount{0, 0}},
		{1000, []money.Amount{10000, 3333}, []money.Amount{750, 250}},
	} {
		got, err := money.Share(x.whole, x.weights)
		if err != nil {
			t.Fatal(err)
		}
		for i := range got {
			if got[i] != x.want[i] {
				t.Errorf("%d over %v: %v, want %v", x.whole, x.weights, got, x.want)
				break
			}
		}
	}
}

// A balance that is used up step by step takes its rest along by portions: they
// add up to it, none goes below nil, and the last takes what is left.
func TestPortionsOfAnything(t *testing.T) {
	rnd := rand.New(rand.NewPCG(3, 4))
	for range 5000 {
		amount := money.Amount(1 + rnd.Int64N(500000))
		rest := money.Amount(rnd.Int64N(int64(amount) + 1))
		left, inside := amount, rest
		for left > 0 {
			used := money.Amount(1 + rnd.Int64N(int64(left)))
			if rnd.IntN(4) == 0 {
				used = left
			}
			p := money.Portion(used, inside, left)
			if p < 0 || p > inside || used == left && p != inside {
				t.Fatalf("%d of %d takes %d of %d", used, left, p, inside)
			}
			left, inside = left-used, inside-p
		}
		if inside != 0 {
			t.Fatalf("%d with %d inside leaves %d", amount, rest, inside)
		}
	}
}
