package settling_test

import (
	"testing"

	"cleantally/core/money"
	"cleantally/core/posting"
	"cleantally/core/posting/postingtest"
	"cleantally/core/settling"
)

// card is money that came by card: it waits in card takings.
func card(a money.Amount) settling.Deposit {
	d := deposit("2026-11-02", a)
	d.BankAccountID, d.Method = 3, posting.ByCard
	return d
}

func payout(arrived, fee money.Amount, takings ...int64) settling.Payout {
	return settling.Payout{Day: "2026-11-06", Takings: takings, Arrived: arrived, Fee: fee, BankAccountID: 1}
}

// Part 4, card takings: 1,000.00 with a fee of 29.00; and with a refund of
// 150.00, a charge-back of 60.00 with its fee of 15.00.
func TestPayout(t *testing.T) {
	b := postingtest.New()
	e := post(t, b, card(100000))
	wantEntries(t, b, e, "Dr 108 1000.00, Cr 221 1000.00")
	e = post(t, b, payout(97100, 2900, 1))
	wantEntries(t, b, e, "Dr 101 971.00, Dr 621 29.00, Cr 108 1000.00")

	b = postingtest.New()
	post(t, b, card(100000))
	post(t, b, card(6000))
	post(t, b, card(94000))
	post(t, b, payout(97100+2900-2900, 2900, 2, 3))
	e = post(t, b, settling.Refund{Day: "2026-11-05", Sources: []settling.Share{{Item: 1, Amount: 15000}}, BankAccountID: 3, Method: posting.ByCard})
	wantEntries(t, b, e, "Dr 221 150.00, Cr 108 150.00")
	e = post(t, b, settling.Returned{PaperID: 2, Day: "2026-11-07"}) // paid out long ago
	wantEntries(t, b, e, "Cr 108 60.00, Dr 221 60.00")
	last := payout(74600, 4400, 1, 5, 6)
	last.Day = "2026-11-09"
	e = post(t, b, last)
	wantEntries(t, b, e, "Dr 101 746.00, Dr 621 44.00, Cr 108 790.00")
	if left := b.AccountBalance(b.Banks[3].AccountID); left != 0 {
		t.Errorf("%d is left on the way", left)
	}
	for _, id := range []int64{1, 2, 5, 6} {
		if waits, moved := settling.Waits(b, id); waits != 0 || !moved {
			t.Errorf("paper %d: %d waits, %v", id, waits, moved)
		}
	}
}

// More was given back than came: the gateway takes it from the bank.
func TestPayoutBelowNil(t *testing.T) {
	b := postingtest.New()
	post(t, b, deposit("2026-11-01", 50000))
	post(t, b, settling.Refund{Day: "2026-11-05", Sources: []settling.Share{{Item: 1, Amount: 15000}}, BankAccountID: 3, Method: posting.ByCard})
	wantEntries(t, b, post(t, b, payout(-15200, 200, 2)), "Cr 101 152.00, Dr 621 2.00, Dr 108 150.00")
}

func TestPayoutRefused(t *testing.T) {
	b := postingtest.New()
	post(t, b, card(100000))                                                           // 1
	post(t, b, deposit("2026-11-02", 5000))                                            // 2, at the bank
	post(t, b, card(7000))                                                             // 3
	post(t, b, payout(6900, 100, 3))                                                   // 4
	post(t, b, card(8000))                                                             // 5
	post(t, b, settling.Reversal{PaperID: 5, Day: "2026-11-05", Reason: "never came"}) // 6
	into := payout(100000, 0, 1)
	into.BankAccountID = 3
	early := payout(100000, 0, 1)
	early.Day = "2026-11-01"
	for name, x := range map[string]struct {
		c           posting.Command
		field, rule string
	}{
		"nothing":            {payout(100, 0), "takings", "missing"},
		"at the bank":        {payout(5000, 0, 2), "takings[0]", "missing"},
		"no such paper":      {payout(5000, 0, 99), "takings[0]", "missing"},
		"a payout":           {payout(6900, 0, 4), "takings[0]", "missing"},
		"twice":              {payout(200000, 0, 1, 1), "takings[1]", "twice"},
		"paid out already":   {payout(107000, 0, 1, 3), "takings[1]", "paid out already"},
		"reversed":           {payout(8000, 0, 5), "takings[0]", "reversed"},
		"the reversal":       {payout(-8000, 0, 6), "takings[0]", "missing"},
		"the fee is missing": {payout(97100, 0, 1), "fee", "sums differ"},
		"more arrived":       {payout(100001, 0, 1), "arrived", "sums differ"},
		"fee below nil":      {payout(100100, -100, 1), "fee", "below nil"},
		"into the takings":   {into, "bank", "card takings"},
		"before it came":     {early, "takings[0]", "before the paper"},
		"undone under it":    {settling.Reversal{PaperID: 3, Day: today, Reason: "x"}, "paper", "something stands on it"},
	} {
		if _, err := b.Post(x.c); !postingtest.RefusedFor(err, x.field, x.rule) {
			t.Errorf("%s: %v", name, err)
		}
	}
	// Reversed, what it cleared waits again, and may be reversed itself.
	post(t, b, settling.Reversal{PaperID: 4, Day: today, Reason: "wrong one"})
	if waits, _ := settling.Waits(b, 3); waits != 7000 {
		t.Errorf("%d waits again", waits)
	}
	post(t, b, settling.Reversal{PaperID: 3, Day: today, Reason: "x"})
}

// In any company, what waits to be paid out is what stands in card takings,
// but for what other papers moved there.
func TestTakingsAreTheirAccount(t *testing.T) {
	paidOut := 0
	for seed := range uint64(50) {
		b := postingtest.New()
		w := postingtest.NewWalk(seed+500, b)
		for range 150 {
			_ = b.Take(w.Next())
		}
		var waits, other money.Amount
		for _, p := range b.Papers {
			left, _ := settling.Waits(b, p.ID)
			waits += left
			switch d, _ := posting.Describe(p.About); {
			case p.Kind == posting.Payout:
				paidOut++
			case d.Bound == nil || len(p.Lines) > 0: // a supplier that was paid from there, a journal
				for _, m := range b.PaperMovements(p.ID) {
					if b.Banks[m.BankAccountID].Takings && d.Kind != posting.Payout {
						other += m.Amount
					}
				}
			}
		}
		if balance := b.AccountBalance(b.Banks[3].AccountID); balance != waits+other {
			t.Errorf("seed %d: %d stands there, %d waits and %d is of other papers", seed, balance, waits, other)
		}
	}
	if paidOut < 20 {
		t.Errorf("only %d payouts in all walks", paidOut)
	}
}
