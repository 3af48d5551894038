package buying_test

import (
	"fmt"
	"math/rand/v2"
	"testing"

	"cleantally/core/billing"
	"cleantally/core/buying"
	"cleantally/core/day"
	"cleantally/core/ledger"
	"cleantally/core/money"
	"cleantally/core/posting"

	"github.com/shopspring/decimal"
)

// Costs of every treatment and goods are bought, passed on, credited on either
// side, paid and used in random pieces, and all of it is reversed in any order:
// nothing is left on any account, nor in stock.
func TestBoughtAndUndone(t *testing.T) {
	for seed := range uint64(200) {
		t.Run(fmt.Sprint(seed), func(t *testing.T) {
			f, rnd := newFirm(t), rand.New(rand.NewPCG(seed, 10))
			before := f.everything()
			for range 16 {
				c := f.anything(rnd)
				if _, err := f.Post(c); err != nil {
					if _, refused := err.(posting.Refusals); !refused {
						t.Fatalf("%T%+v: %v", c, c, err)
					}
					continue
				}
				if err := f.Prove(); err != nil {
					t.Fatalf("%T%+v: %v", c, c, err)
				}
			}
			if err := f.UndoAll(rnd, f.After(0), today, 20); err != nil {
				t.Fatal(err)
			}
			if now := f.everything(); now != before {
				t.Errorf("in the end: %v", now)
			}
			if q, v := posting.Build(f.Book).Stock(3, "2099-12-31"); q != 0 || v != 0 {
				t.Errorf("in stock: %d worth %d", q, v)
			}
		})
	}
}

// everything is what stands on the accounts that buying moves.
func (f firm) everything() (all [12]money.Amount) {
	for n, r := range []ledger.Role{ledger.Payables, ledger.SupplierPrepayments, ledger.RetentionPayable, ledger.Recoverable, ledger.Stock, ledger.InputTax, ledger.JobCosts, ledger.PassedOnIncome, ledger.CostOfSales, ledger.Receivables, ledger.OutputTax, ledger.DiscountReceived} {
		all[n] = f.AccountBalance(f.Role(r).ID)
	}
	return all
}

// of is a random paper of a kind that was posted, not reversed; ID 0 for none.
func (f firm) of(rnd *rand.Rand, kinds ...posting.Kind) posting.Paper {
	var all []posting.Paper
	for _, p := range f.Papers {
		for _, k := range kinds {
			if _, reversed := f.ReversedBy(p.ID); p.Kind == k && !reversed {
				all = append(all, p)
			}
		}
	}
	if len(all) == 0 {
		return posting.Paper{Day: "2026-11-02"}
	}
	return all[rnd.IntN(len(all))]
}

// anything is something that happens to what is bought, valid or not.
func (f firm) anything(rnd *rand.Rand) posting.Command {
	on := func(after day.Day) day.Day { return max(after, day.Day("2026-11-02").Add(rnd.IntN(18))) }
	net := func() money.Amount { return money.Amount(1 + rnd.Int64N(70000)) }
	switch rnd.IntN(9) {
	case 0, 1:
		l := buying.Line{Text: "crane", JobID: 1, AccountID: f.Role(ledger.JobCosts).ID, Net: net(), TaxCodeID: 1 + rnd.Int64N(3)}
		switch rnd.IntN(4) {
		case 0:
			l.PassOn = posting.OurSupply
			l.Markup = percent(decimal.New(rnd.Int64N(300), -1).String())
		case 1:
			l.PassOn, l.AccountID = posting.OnBehalf, 0
		case 2:
			l = buying.Line{Text: "newels", ArticleID: 3, Quantity: decimal.New(1+rnd.Int64N(9), 0), UnitPrice: decimal.New(1+rnd.Int64N(9000), -2), TaxCodeID: 1, Joined: rnd.IntN(3) == 0}
		}
		d := on("2026-11-02")
		return buying.Bill{PartyID: 5, Day: d, Due: d.Add(30), Reference: fmt.Sprint(rnd.Int64()), Lines: []buying.Line{l}}
	case 2, 3:
		bill := f.of(rnd, posting.SupplierBill)
		return billing.Invoice{PartyID: 1, JobID: 1, Day: on(bill.Day), Lines: []posting.Line{{Costs: []posting.CostShare{{PaperID: bill.ID, Position: 1, Amount: []money.Amount{0, net()}[rnd.IntN(2)]}}}}}
	case 4:
		bill := f.of(rnd, posting.SupplierBill)
		line := buying.CreditLine{Position: 1, Amount: net()}
		if rnd.IntN(2) == 0 {
			line = buying.CreditLine{Position: 1, Quantity: decimal.New(1+rnd.Int64N(3), 0), Back: rnd.IntN(2) == 0}
		}
		return buying.Credit{PaperID: bill.ID, Day: on(bill.Day), Reason: "x", Lines: []buying.CreditLine{line}}
	case 5:
		v := f.of(rnd, posting.Invoice)
		return billing.Credit{PaperID: v.ID, Day: on(v.Day), Cause: billing.Fault, Own: true, Lines: []billing.CreditLine{{Position: 1, Amount: net()}}}
	case 6:
		v := f.of(rnd, posting.Invoice)
		return billing.Credit{PaperID: v.ID, Day: on(v.Day), Cause: billing.Fault}
	case 7:
		return buying.NotPassedOn{Day: on("2026-11-10"), Reason: "x", Costs: []buying.CostShare{{PaperID: f.of(rnd, posting.SupplierBill).ID, Position: 1}}}
	}
	return billing.Invoice{PartyID: 1, Day: on("2026-11-05"), Lines: []posting.Line{{ArticleID: 3, Text: "newels", Quantity: decimal.New(1+rnd.Int64N(4), 0), UnitPrice: dec("80"), TaxCodeID: 1}}}
}
