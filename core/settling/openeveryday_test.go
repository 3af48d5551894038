package settling_test

import (
	"fmt"
	"math/rand/v2"
	"slices"
	"testing"

	"cleantally/core/day"
	"cleantally/core/money"
	"cleantally/core/posting"
	"cleantally/core/posting/postingtest"
	"cleantally/core/settling"

	"github.com/shopspring/decimal"
)

const firstDay, daysKept = day.Day("2026-10-01"), 50

// Open amounts as the test keeps them: what is open of an item at the end of
// each day; before its own day there is none of it.
type openByDay [daysKept]money.Amount

func (o *openByDay) change(from int, by money.Amount) {
	for n := from; n < daysKept; n++ {
		o[n] += by
	}
}

func (o *openByDay) least(from int) money.Amount { return slices.Min(o[from:]) }

// Credits are set against debts on any days, and some of it is undone on later
// ones: just what is open on both sides on every day from its own on can be
// dated there, to the cent, and every past day stays as it was.
func TestOpenOnEveryDayByModel(t *testing.T) {
	taken, refused, undone := 0, 0, 0
	for seed := range uint64(80) {
		t.Run(fmt.Sprint(seed), func(t *testing.T) {
			b, rnd := postingtest.New(), rand.New(rand.NewPCG(seed, 27))
			open := map[posting.ItemRef]*openByDay{}
			begins := map[posting.ItemRef]int{}
			var debts, credits []posting.ItemRef
			add := func(all *[]posting.ItemRef, on int, amount money.Amount) {
				ref := posting.ItemRef(len(b.Open))
				*all = append(*all, ref)
				begins[ref], open[ref] = on, &openByDay{}
				open[ref].change(on, amount)
			}
			for range 2 {
				on, amount := rnd.IntN(15), money.Amount(1+rnd.Int64N(9000))
				post(t, b, invoiceOn(firstDay.Add(on), amount))
				add(&debts, on, amount)
				on, amount = rnd.IntN(15), money.Amount(1+rnd.Int64N(9000))
				post(t, b, settling.Receipt{PartyID: 1, Day: firstDay.Add(on), Arrived: amount, BankAccountID: 1, Method: posting.ByTransfer, OnAccount: true})
				add(&credits, on, amount)
			}
			type pair struct {
				id            int64
				debit, credit posting.ItemRef
				on            int
				amount        money.Amount
			}
			var standing []pair
			for range 25 {
				if len(standing) > 0 && rnd.IntN(3) == 0 {
					n := rnd.IntN(len(standing))
					p := standing[n]
					on := p.on + rnd.IntN(daysKept-p.on)
					if _, err := b.Post(settling.Undo{Day: firstDay.Add(on), Allocations: []int64{p.id}}); err != nil {
						t.Fatalf("undone %d days later: %v", on-p.on, err)
					}
					open[p.debit].change(on, p.amount)
					open[p.credit].change(on, p.amount)
					standing = slices.Delete(standing, n, n+1)
					undone++
					continue
				}
				p := pair{debit: debts[rnd.IntN(2)], credit: credits[rnd.IntN(2)]}
				p.on = max(begins[p.debit], begins[p.credit]) + rnd.IntN(20)
				most := min(open[p.debit].least(p.on), open[p.credit].least(p.on))
				p.amount = most + 1
				if rnd.IntN(4) > 0 {
					p.amount = most
					if most > 1 && rnd.IntN(3) > 0 {
						p.amount = 1 + money.Amount(rnd.Int64N(int64(most)))
					}
				}
				if p.amount == 0 {
					continue
				}
				_, err := b.Post(settling.SetAgainst{Day: firstDay.Add(p.on), Pairs: []settling.Pair{{Debit: p.debit, Credit: p.credit, Amount: p.amount}}})
				if (err == nil) != (p.amount <= most) {
					t.Fatalf("%d on day %d, at most %d: %v", p.amount, p.on, most, err)
				}
				if err != nil {
					refused++
					continue
				}
				taken++
				p.id = b.Allocations[len(b.Allocations)-1].ID
				open[p.debit].change(p.on, -p.amount)
				open[p.credit].change(p.on, -p.amount)
				standing = append(standing, p)
			}
			for ref, o := range open {
				var now money.Amount
				moves := b.ItemMoves(ref)
				for n := range daysKept {
					for _, m := range moves {
						if m.Day == firstDay.Add(n) {
							now += max(m.Amount.Own, -m.Amount.Own) * sign(m.Amount.Own, b.Open[ref-1])
						}
					}
					if now != o[n] {
						t.Fatalf("item %d on day %d: open %d, want %d", ref, n, now, o[n])
					}
				}
			}
			if err := b.Prove(); err != nil {
				t.Error(err)
			}
		})
	}
	if taken < 400 || refused < 100 || undone < 150 {
		t.Errorf("%d taken, %d refused, %d undone", taken, refused, undone)
	}
}

// sign tells whether a move adds to what is open of an item.
func sign(move money.Amount, i posting.Item) money.Amount {
	if (move > 0) == i.Debit() {
		return 1
	}
	return -1
}

func invoiceOn(d day.Day, amount money.Amount) posting.Command {
	v := invoice(1, 0, d, decimal.New(int64(amount), -2).String())
	v.Lines[0].TaxCodeID = 3
	return v
}
