package banking

import (
	"cleantally/core/money"

	"github.com/shopspring/decimal"
)

// Pieces is how many of each note and coin lie in a till, by its value in the
// currency: "20" or "0.50".
type Pieces map[string]int

// Denominations are the notes and coins of a currency, the largest first: in steps
// of 5, 2 and 1, from five hundred units, or what is about as much, down to the
// smallest that goes round.
func Denominations(cur money.Currency) []string {
	top, least := int32(2), -int32(cur.Places)
	if cur.Places == 0 {
		top = 4 // 10,000 of a currency without places
	}
	var all []string
	for exp := top; exp >= least; exp-- {
		for _, step := range []int64{5, 2, 1} {
			if cur.Places == 0 && exp == top && step > 1 {
				continue
			}
			piece := decimal.New(step, exp)
			if exp < 0 {
				all = append(all, piece.StringFixed(int32(cur.Places)))
				continue
			}
			all = append(all, piece.String())
		}
	}
	return all
}

// mostPieces of one note or coin are counted: more is a slip of the finger.
const mostPieces = 100000

// Counted is what some notes and coins come to; false where one of them is none
// of the currency's, or their number cannot be.
func (p Pieces) Counted(cur money.Currency) (money.Amount, bool) {
	known := map[string]money.Amount{}
	for _, d := range Denominations(cur) {
		known[d], _ = cur.Parse(d)
	}
	var sum money.Amount
	for d, n := range p {
		if known[d] == 0 || n < 0 || n > mostPieces {
			return 0, false
		}
		sum += known[d] * money.Amount(n)
	}
	return sum, true
}
