package buying_test

import (
	"fmt"
	"math/big"
	"math/rand/v2"
	"testing"

	"cleantally/core/billing"
	"cleantally/core/buying"
	"cleantally/core/day"
	"cleantally/core/ledger"
	"cleantally/core/money"
	"cleantally/core/posting"
	"cleantally/core/stock"

	"github.com/shopspring/decimal"
)

// A shelf is what the test knows of an article: how many hundredths of a piece
// lie there, and at what value.
type shelf struct{ pieces, value int64 }

// out is the value at which pieces leave: its portion, rounded half away from
// nil; the last takes what is left.
func (s *shelf) out(pieces int64) int64 {
	twice := new(big.Int).Mul(big.NewInt(2*pieces), big.NewInt(s.value))
	twice.Add(twice, big.NewInt(s.pieces))
	cost := twice.Div(twice, big.NewInt(2*s.pieces)).Int64()
	s.pieces, s.value = s.pieces-pieces, s.value-cost
	return cost
}

func (s *shelf) in(pieces, value int64) { s.pieces, s.value = s.pieces+pieces, s.value+value }

// Bought, used on a job, sold and counted in any order of happenings, day after
// day: each leaves at the moving average, what lies there is worth what came in
// less what left, and more than is there does not leave.
func TestMovingAverage(t *testing.T) {
	left, emptied := 0, 0
	for seed := range uint64(120) {
		t.Run(fmt.Sprint(seed), func(t *testing.T) {
			f, rnd := newFirm(t), rand.New(rand.NewPCG(seed, 22))
			var s shelf
			costs := func() int64 {
				return int64(f.AccountBalance(f.Role(ledger.JobCosts).ID) + f.AccountBalance(f.Role(ledger.CostOfSales).ID))
			}
			on := day.Day("2026-09-25")
			for range 30 {
				on = min(on.Add(rnd.IntN(4)), today)
				before := costs()
				pieces := 1 + rnd.Int64N(700)
				if s.pieces > 0 && rnd.IntN(6) == 0 {
					pieces = s.pieces
				}
				quantity := decimal.New(pieces, -2)
				var want int64
				refused := false
				var c posting.Command
				switch rnd.IntN(5) {
				case 0, 1:
					price := decimal.New(rnd.Int64N(2_000_000), -4)
					line := buying.Line{Text: "newels", ArticleID: 3, Quantity: quantity, UnitPrice: price, TaxCodeID: 3}
					c = buying.Bill{PartyID: 5, Day: on, Due: on, Reference: fmt.Sprint(rnd.Uint64()), Lines: []buying.Line{line}}
					s.in(pieces, quantity.Mul(price).Shift(2).Round(0).IntPart())
				case 2:
					c = stock.Use{JobID: 1, Day: on, Lines: []stock.Line{{ArticleID: 3, Quantity: quantity}}}
					refused = pieces > s.pieces
				case 3:
					c = billing.Invoice{PartyID: 1, Day: on, Lines: []posting.Line{{ArticleID: 3, Text: "newels", Quantity: quantity, UnitPrice: dec("10"), TaxCodeID: 3}}}
					refused = pieces > s.pieces
				case 4: // counted: fewer than there should be
					found := rnd.Int64N(s.pieces + 1)
					if pieces = s.pieces - found; pieces == 0 {
						continue
					}
					c = stock.Count{Day: on, Lines: []stock.Counted{{Line: stock.Line{ArticleID: 3, Quantity: decimal.New(found, -2)}}}}
				}
				if _, bought := c.(buying.Bill); !bought && !refused {
					want = s.out(pieces)
					left++
					if s.pieces == 0 {
						emptied++
					}
				}
				_, err := f.Post(c)
				if (err != nil) != refused {
					t.Fatalf("%T of %s on %s: %v, %d were there", c, quantity, on, err, s.pieces)
				}
				if got := costs() - before; got != want {
					t.Fatalf("%T of %s on %s costs %d, by the average %d", c, quantity, on, got, want)
				}
				q, v := posting.Build(f.Book).Stock(3, "2099-12-31")
				if int64(q) != s.pieces*10_000 || v != money.Amount(s.value) {
					t.Fatalf("after %T: %s worth %d, want %d hundredths worth %d", c, q.Decimal(), v, s.pieces, s.value)
				}
			}
			if err := f.Prove(); err != nil {
				t.Error(err)
			}
		})
	}
	if left < 500 || emptied < 50 {
		t.Errorf("only %d left, %d times all of it", left, emptied)
	}
}
