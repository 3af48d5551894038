package billing_test

import (
	"fmt"
	"math/big"
	"math/rand/v2"
	"testing"

	"cleantally/core/billing"
	"cleantally/core/day"
	"cleantally/core/money"
	"cleantally/core/posting"
	"cleantally/core/settling"

	"github.com/shopspring/decimal"
)

// A debt is what the test knows of an invoice: its due day, and what of it was
// paid on which days.
type debt struct {
	item posting.ItemRef
	due  day.Day
	sum  money.Amount
	paid map[day.Day]money.Amount
}

func (x debt) open(d day.Day) money.Amount {
	left := x.sum
	for on, paid := range x.paid {
		if on <= d {
			left -= paid
		}
	}
	return left
}

// interestOf adds up, day by day, what a customer's debts bear: the oldest are
// lowered first by money that waits, days of grace are left out, and days that
// were charged before. In hundredths of a percent of minor units a day.
func interestOf(debts []debt, waits map[day.Day]money.Amount, percent int64, grace int, after, through day.Day) *big.Rat {
	sum := new(big.Int)
	for d := day.Day("2026-01-01"); d <= through; d = d.Add(1) {
		var credit money.Amount
		for on, a := range waits {
			if on <= d {
				credit += a
			}
		}
		for _, x := range debts { // by due day
			left := x.open(d)
			if d <= x.due || left == 0 {
				continue
			}
			less := min(left, credit)
			credit -= less
			if d > x.due.Add(grace) && d > after {
				sum.Add(sum, big.NewInt(int64(left-less)))
			}
		}
	}
	return new(big.Rat).SetFrac(sum.Mul(sum, big.NewInt(percent)), big.NewInt(365*10000))
}

// rounded is a sum rounded half away from nil.
func rounded(r *big.Rat) money.Amount {
	twice := new(big.Int).Add(new(big.Int).Mul(r.Num(), big.NewInt(2)), r.Denom())
	return money.Amount(twice.Quo(twice, new(big.Int).Mul(r.Denom(), big.NewInt(2))).Int64())
}

// Whatever is owed, paid in part and waits, a late charge is what adding up day
// by day says; charged in two steps, no day is charged twice.
func TestLateChargeDayByDay(t *testing.T) {
	charged := 0
	for seed := range uint64(150) {
		t.Run(fmt.Sprint(seed), func(t *testing.T) {
			f, rnd := newFirm(t), rand.New(rand.NewPCG(seed, 21))
			debts, waits := owedAtRandom(f, rnd)
			c := billing.LateCharge{PartyID: 1, Day: "2026-11-20", Grace: rnd.IntN(12), Percent: decimal.New(1+rnd.Int64N(1500), -2)}
			percent := c.Percent.Shift(2).IntPart()
			half := day.Day("2026-08-01").Add(rnd.IntN(90))
			for _, step := range []struct{ after, through day.Day }{{"2026-01-01", half}, {half, "2026-11-20"}} {
				want := rounded(interestOf(debts, waits, percent, c.Grace, step.after, step.through))
				c.Through = step.through
				before := f.AccountBalance(f.Role("late charges").ID)
				if _, err := f.Post(c); err != nil && want != 0 {
					t.Fatalf("%d is due through %s: %v", want, step.through, err)
				}
				if got := before - f.AccountBalance(f.Role("late charges").ID); got != want {
					t.Errorf("through %s: %d is charged, %d by adding up the days", step.through, got, want)
				}
				if want != 0 {
					charged++
				}
			}
			if err := f.Prove(); err != nil {
				t.Error(err)
			}
		})
	}
	if charged < 200 {
		t.Errorf("only %d charges bore anything", charged)
	}
}

// owedAtRandom posts some invoices of one customer, pays a part of them now and
// then, and leaves some money waiting.
func owedAtRandom(f firm, rnd *rand.Rand) (debts []debt, waits map[day.Day]money.Amount) {
	waits = map[day.Day]money.Amount{}
	on := day.Day("2026-07-01")
	for range 1 + rnd.IntN(4) {
		on = on.Add(rnd.IntN(25))
		x := debt{due: on.Add(30), sum: money.Amount(1 + rnd.Int64N(900000)), paid: map[day.Day]money.Amount{}}
		v := billing.Invoice{PartyID: 1, Day: on, Due: x.due, Lines: []posting.Line{work(decimal.New(int64(x.sum), -2).String(), 3)}}
		if _, err := f.Post(v); err != nil {
			f.t.Fatal(err)
		}
		x.item = posting.ItemRef(len(f.Open))
		debts = append(debts, x)
	}
	for range rnd.IntN(5) {
		r := settling.Receipt{PartyID: 1, Day: day.Day("2026-08-20").Add(rnd.IntN(90)), BankAccountID: 1, Method: posting.ByTransfer}
		x := debts[rnd.IntN(len(debts))]
		switch left := x.open("2099-12-31"); {
		case rnd.IntN(3) == 0 || left == 0:
			r.Arrived, r.OnAccount = money.Amount(1+rnd.Int64N(100000)), true
			waits[r.Day] += r.Arrived
		default:
			r.Arrived = 1 + money.Amount(rnd.Int64N(int64(left)))
			r.Placements = []settling.Placement{{Debit: x.item, Amount: r.Arrived}}
			x.paid[r.Day] += r.Arrived
		}
		if _, err := f.Post(r); err != nil {
			f.t.Fatal(err)
		}
	}
	return debts, waits
}
