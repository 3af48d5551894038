package settling_test

import (
	"math/rand/v2"
	"testing"

	"cleantally/core/day"
	"cleantally/core/money"
	"cleantally/core/posting"
	"cleantally/core/posting/postingtest"
	"cleantally/core/settling"
)

// A till that is moved in any order of days: a payment goes through exactly where
// the till holds enough at the end of its day and of every day after it.
func TestTills(t *testing.T) {
	for seed := range uint64(60) {
		b, rnd := postingtest.New(), rand.New(rand.NewPCG(seed, 11))
		days := make([]money.Amount, 40) // what moved in the till, by day
		var held []posting.ItemRef
		amounts := map[posting.ItemRef]money.Amount{}
		paid, refused := 0, 0
		for range 80 {
			n := rnd.IntN(len(days))
			d := day.Day("2026-10-01").Add(n)
			if len(held) == 0 || rnd.IntN(3) == 0 {
				a := money.Amount(1 + rnd.Int64N(5000))
				e, err := b.Post(settling.Deposit{PartyID: 1, Day: d, Amount: a, BankAccountID: 2, Method: posting.ByCash})
				if err != nil {
					t.Fatal(err)
				}
				_ = e
				days[n] += a
				ref := b.Open[len(b.Open)-1].ID
				held = append(held, ref)
				amounts[ref] = a
				continue
			}
			ref := held[rnd.IntN(len(held))]
			item, _ := b.Item(ref)
			if item.Day > d || amounts[ref] == 0 {
				continue
			}
			a := 1 + money.Amount(rnd.Int64N(int64(amounts[ref])))
			var before, least money.Amount
			for i := range days {
				before += days[i]
				if i == n {
					least = before
				} else if i > n {
					least = min(least, before)
				}
			}
			_, err := b.Post(settling.Refund{Day: d, Sources: []settling.Share{{Item: ref, Amount: a}}, BankAccountID: 2, Method: posting.ByCash})
			switch {
			case err == nil && a > least:
				t.Fatalf("seed %d: %d went out on %s, when %d was there", seed, a, d, least)
			case err == nil:
				days[n] -= a
				amounts[ref] -= a
				paid++
			case postingtest.RefusedFor(err, "bank", "below nil"):
				if a <= least {
					t.Fatalf("seed %d: %d was refused on %s, when %d was there", seed, a, d, least)
				}
				refused++
			}
		}
		if paid == 0 {
			t.Errorf("seed %d: nothing went out, %d refused", seed, refused)
		}
	}
}

// What is no till may be overdrawn, and a till that a reversal would overdraw
// refuses it.
func TestTillsAndBanks(t *testing.T) {
	b := postingtest.New()
	post := func(c posting.Command) {
		t.Helper()
		if _, err := b.Post(c); err != nil {
			t.Fatal(err)
		}
	}
	post(settling.Deposit{PartyID: 1, Day: "2026-11-02", Amount: 10000, BankAccountID: 2, Method: posting.ByCash})
	first := b.Papers[0].ID
	post(settling.Deposit{PartyID: 2, Day: "2026-11-03", Amount: 6000, BankAccountID: 1, Method: posting.ByTransfer})
	post(settling.Refund{Day: "2026-11-20", Sources: []settling.Share{{Item: b.Open[1].ID, Amount: 6000}}, BankAccountID: 2, Method: posting.ByTransfer})
	_, err := b.Post(settling.Reversal{PaperID: first, Day: "2026-11-20", Reason: "it was never there"})
	if !postingtest.RefusedFor(err, "bank", "below nil") {
		t.Errorf("reversed: %v", err)
	}
	// Out of the bank as much as one likes: it is overdrawn then.
	post(settling.Refund{Day: "2026-11-20", Sources: []settling.Share{{Item: b.Open[0].ID, Amount: 10000}}, BankAccountID: 1, Method: posting.ByTransfer})
	if err := b.Prove(); err != nil {
		t.Error(err)
	}
}
