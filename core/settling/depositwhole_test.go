package settling_test

import (
	"fmt"
	"math/rand/v2"
	"testing"

	"cleantally/core/day"
	"cleantally/core/ledger"
	"cleantally/core/money"
	"cleantally/core/posting"
	"cleantally/core/posting/postingtest"
	"cleantally/core/settling"

	"github.com/shopspring/decimal"
)

// What the test knows of deposits held: what is left of each, and the tax inside.
type heldMoney struct {
	item      posting.ItemRef
	party     int64
	left, tax money.Amount
}

// take is the tax that goes along with a part: its portion of what is left,
// rounded half away from nil.
func (h *heldMoney) take(part money.Amount) (tax money.Amount) {
	tax = money.Amount((2*int64(part)*int64(h.tax) + int64(h.left)) / (2 * int64(h.left)))
	h.left, h.tax = h.left-part, h.tax-tax
	return tax
}

// Deposits, taxed on receipt or not, are set against invoices, refunded, kept
// and moved in random pieces: what is held is what the register says less the
// tax inside, after every step; undone in any order, nothing is left anywhere.
func TestDepositsUsedInPieces(t *testing.T) {
	used := map[string]int{}
	for seed := range uint64(150) {
		t.Run(fmt.Sprint(seed), func(t *testing.T) {
			b, rnd := postingtest.New(), rand.New(rand.NewPCG(seed, 26))
			var held []*heldMoney
			for range 1 + rnd.IntN(3) {
				d := deposit("2026-10-01", money.Amount(1+rnd.Int64N(500_000)))
				d.TaxCodeID = rnd.Int64N(3) // none, 20 %, 10 %
				post(t, b, d)
				i := b.Open[len(b.Open)-1]
				held = append(held, &heldMoney{i.ID, 1, -i.Left.Amount.Own, -i.Left.Tax.Own})
			}
			bill := invoice(1, 0, "2026-10-02", decimal.New(1+rnd.Int64N(900_000), -2).String())
			post(t, b, bill)
			owed := posting.ItemRef(len(b.Open))
			steps := int64(len(b.Papers))
			for range 12 {
				h := held[rnd.IntN(len(held))]
				if h.left == 0 {
					continue
				}
				part := 1 + money.Amount(rnd.Int64N(int64(h.left)))
				if rnd.IntN(4) == 0 {
					part = h.left
				}
				on := day.Day("2026-10-05")
				to := 3 - h.party // whom it is moved to
				var c posting.Command
				kind := []string{"set against", "refunded", "kept", "kept outside tax", "moved"}[rnd.IntN(5)]
				switch kind {
				case "set against":
					if part = min(part, b.Left(owed)); part == 0 || h.party != 1 {
						continue
					}
					c = settling.SetAgainst{Day: on, Pairs: []settling.Pair{{Debit: owed, Credit: h.item, Amount: part}}}
				case "refunded":
					c = settling.Refund{Day: on, Sources: []settling.Share{{Item: h.item, Amount: part}}, BankAccountID: 1, Method: posting.ByTransfer}
				case "kept":
					c = settling.Forfeit{Day: on, Deposit: settling.Share{Item: h.item, Amount: part}, Reason: "called off"}
				case "kept outside tax":
					if h.tax == 0 {
						continue
					}
					c = settling.Forfeit{Day: on, Deposit: settling.Share{Item: h.item, Amount: part}, OutsideTax: true, Reason: "called off"}
				case "moved":
					c = settling.Transfer{Day: on, From: settling.Share{Item: h.item, Amount: part}, PartyID: to, AsDeposit: true}
				}
				e, err := b.Post(c)
				if err != nil {
					t.Fatalf("%s %d of %d: %v", kind, part, h.left, err)
				}
				used[kind]++
				tax := h.take(part)
				if kind == "moved" {
					i := newest(b.Open, func(i posting.Item) bool { return i.PartyID == to && i.Register == ledger.Deposits })
					if i.Left != posting.Of(-part, -tax) {
						t.Fatalf("moved %d with tax %d: %+v", part, tax, i.Left)
					}
					held = append(held, &heldMoney{i.ID, to, part, tax})
				}
				var left, inside money.Amount
				for _, h := range held {
					left, inside = left+h.left, inside+h.tax
				}
				if got := -b.AccountBalance(b.Role(ledger.Deposits).ID); got != left-inside {
					t.Fatalf("%s %d: %d on the account, the register says %d less tax %d; %v", kind, part, got, left, inside, postingtest.Lines(b, e))
				}
				if err := b.Prove(); err != nil {
					t.Fatal(err)
				}
			}
			// First what was set against the invoice, by hand; then all papers, in any order.
			for _, a := range b.AllocationsOf(owed) {
				if _, err := b.Post(settling.Undo{Day: today, Allocations: []int64{a.ID}}); err != nil {
					t.Fatal(err)
				}
			}
			if err := b.UndoAll(rnd, b.After(steps), today, 40); err != nil {
				t.Fatal(err)
			}
			if err := b.UndoAll(rnd, b.After(0)[:steps], today, 5); err != nil {
				t.Fatal(err)
			}
			for _, r := range []ledger.Role{ledger.Deposits, ledger.Receivables, ledger.OutputTax, ledger.Forfeits} {
				if got := b.AccountBalance(b.Role(r).ID); got != 0 {
					t.Errorf("%s is at %d in the end", r, got)
				}
			}
			if got := b.AccountBalance(1); got != 0 {
				t.Errorf("the bank is at %d in the end", got)
			}
		})
	}
	for _, kind := range []string{"set against", "refunded", "kept", "kept outside tax", "moved"} {
		if used[kind] < 60 {
			t.Errorf("only %d were %s", used[kind], kind)
		}
	}
}

// newest is the last of some items.
func newest(all []posting.Item, holds func(posting.Item) bool) (last posting.Item) {
	for _, i := range all {
		if holds(i) {
			last = i
		}
	}
	return last
}
