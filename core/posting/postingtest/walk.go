package postingtest

import (
	"math/rand/v2"

	"cleantally/core/billing"
	"cleantally/core/day"
	"cleantally/core/money"
	"cleantally/core/posting"
	"cleantally/core/settling"

	"github.com/shopspring/decimal"
)

// Walk makes random commands, valid and invalid, from a seed.
type Walk struct {
	rnd *rand.Rand
	now day.Day
}

// NewWalk begins a walk whose days lie around now.
func NewWalk(seed uint64, now day.Day) *Walk {
	return &Walk{rand.New(rand.NewPCG(seed, 7)), now}
}

// Next returns the next command, for books that hold so many papers, items
// and allocations.
func (w *Walk) Next(papers, items, allocations int) posting.Command {
	switch n := w.rnd.IntN(20); {
	case n < 5:
		return w.invoice(items)
	case n < 8:
		return settling.Deposit{PartyID: w.party(), JobID: w.job(), Day: w.day(), Amount: w.amount(), BankAccountID: 1, Method: posting.Transfer}
	case n < 11:
		return w.receipt(items)
	case n < 16:
		s := settling.SetAgainst{Day: w.day()}
		for range 1 + w.rnd.IntN(3) {
			s.Pairs = append(s.Pairs, settling.Pair{Debit: w.item(items), Credit: w.item(items), Amount: w.amount()})
		}
		return s
	case n < 18:
		return settling.Undo{Day: w.day(), Allocations: []int64{w.id(allocations), w.id(allocations)}[:1+w.rnd.IntN(2)]}
	}
	return settling.Reversal{PaperID: w.id(papers), Day: w.day(), Reason: "walk"}
}

func (w *Walk) invoice(items int) posting.Command {
	v := billing.Invoice{PartyID: w.party(), JobID: w.job(), Day: w.day(), Includes: w.rnd.IntN(4) == 0}
	for range 1 + w.rnd.IntN(4) {
		v.Lines = append(v.Lines, billing.Line{Text: "work", Quantity: decimal.New(w.rnd.Int64N(5000), -3), UnitPrice: decimal.New(w.rnd.Int64N(90000), -2),
			TaxCodeID: 1 + w.rnd.Int64N(3), DiscountPercent: decimal.New(w.rnd.Int64N(3)*5, 0)})
	}
	if w.rnd.IntN(3) == 0 {
		v.DiscountPercent = decimal.New(3, 0)
	}
	if w.rnd.IntN(3) == 0 {
		v.RoundTo = 5
	}
	if w.rnd.IntN(3) == 0 {
		v.SetAgainst = []billing.Use{{Credit: w.item(items), Amount: w.amount()}}
	}
	return v
}

func (w *Walk) receipt(items int) posting.Command {
	r := settling.Receipt{PartyID: w.party(), Day: w.day(), Arrived: w.amount(), Kept: money.Amount(w.rnd.IntN(2) * 150), BankAccountID: 1, Method: posting.Transfer, OnAccount: w.rnd.IntN(5) > 0}
	for range w.rnd.IntN(3) {
		r.Placements = append(r.Placements, settling.Placement{Debit: w.item(items), Amount: w.amount()})
	}
	return r
}

func (w *Walk) party() int64 { return 1 + w.rnd.Int64N(2) }

func (w *Walk) job() int64 {
	if w.rnd.IntN(2) == 0 {
		return 0
	}
	return 1 + w.rnd.Int64N(2)
}

// day is mostly within three weeks, now and then nonsense.
func (w *Walk) day() day.Day {
	if w.rnd.IntN(60) == 0 {
		return "2026-02-31"
	}
	return w.now.Add(-w.rnd.IntN(21))
}

func (w *Walk) amount() money.Amount { return money.Amount(w.rnd.Int64N(60000) - 500) }

func (w *Walk) id(n int) int64 { return 1 + w.rnd.Int64N(int64(n)+2) }

// item prefers what is recent, so that something is often open on it.
func (w *Walk) item(n int) posting.ItemRef {
	back := w.rnd.Int64N(int64(min(n, 30)) + 2)
	return posting.ItemRef(int64(n) - back + 1)
}

// Shortest drops from a failing history what is not needed to make it fail.
func Shortest(history []posting.Command, fails func([]posting.Command) bool) []posting.Command {
	for size := len(history) / 2; size > 0; size /= 2 {
		for at := 0; at+size <= len(history); {
			shorter := append(append([]posting.Command{}, history[:at]...), history[at+size:]...)
			if fails(shorter) {
				history = shorter
			} else {
				at += size
			}
		}
	}
	return history
}
