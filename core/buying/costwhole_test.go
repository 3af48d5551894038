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
	"cleantally/core/settling"

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

// A cost of 342.93 was billed, credited and billed again, three times over, the
// last half of it. What the second credit gave back is taken again first: then
// none of the other credits fits any more, which says who bills it, and once that
// is credited anew all of it can be taken back.
func TestCreditTakenBackSaysWhoBillsItSince(t *testing.T) {
	f := newFirm(t)
	before := f.everything()
	must := func(c posting.Command) int64 {
		t.Helper()
		if _, err := f.Post(c); err != nil {
			t.Fatal(err)
		}
		return f.Papers[len(f.Papers)-1].ID
	}
	bill := must(buying.Bill{PartyID: 5, Day: "2026-11-10", Due: "2026-12-10", Reference: "r", Lines: []buying.Line{{Text: "permit", JobID: 1, Net: 31175, TaxCodeID: 2, PassOn: posting.OnBehalf}}})
	pass := func(d day.Day) int64 {
		return must(billing.Invoice{PartyID: 1, JobID: 1, Day: d, Lines: []posting.Line{{Costs: []posting.CostShare{{PaperID: bill, Position: 1}}}}})
	}
	credit := func(of int64, d day.Day, amount money.Amount) int64 {
		return must(billing.Credit{PaperID: of, Day: d, Cause: billing.Fault, Lines: []billing.CreditLine{{Position: 1, Amount: amount}}})
	}
	second := pass("2026-11-15")
	first := credit(second, "2026-11-16", 12841)
	rest := credit(second, "2026-11-16", 21452)
	third := pass("2026-11-17")
	half := credit(third, "2026-11-17", 17142)
	back := func(id int64) error {
		_, err := f.Post(settling.Reversal{PaperID: id, Day: today, Reason: "wrong"})
		return err
	}
	if err := back(first); err != nil {
		t.Fatal(err)
	}
	const want = "Only 43.01 of B26-0001 is left to be billed again, not 214.52, for the invoice I26-0002 took it since. Credit or take back that first."
	if err := back(rest); err == nil || err.Error() != want {
		t.Fatalf("%v, want %s", err, want)
	}
	anew := credit(second, today, 12841)
	for _, id := range []int64{half, third, rest, anew, second, bill} {
		if err := back(id); err != nil {
			t.Fatal(err)
		}
	}
	if now := f.everything(); now != before {
		t.Errorf("in the end: %v", now)
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
