package billing_test

import (
	"fmt"
	"math/rand/v2"
	"testing"

	"cleantally/core/billing"
	"cleantally/core/day"
	"cleantally/core/ledger"
	"cleantally/core/master"
	"cleantally/core/money"
	"cleantally/core/posting"

	"github.com/shopspring/decimal"
)

// An invoice of every make, credited in random pieces until nothing is left:
// whatever the order, all that it moved is moved back to the cent, and all the
// credits reversed leave it as it was.
func TestCreditedPieceByPiece(t *testing.T) {
	for seed := range uint64(120) {
		t.Run(fmt.Sprint(seed), func(t *testing.T) {
			f, rnd := stockFirm(t), rand.New(rand.NewPCG(seed, 6))
			invoice, before := f.anyInvoice(rnd)
			stands := f.balances()
			var notes []int64
			for n := 0; n < 40; n++ {
				c := piece(rnd, invoice, n)
				e, err := f.Post(c)
				if err != nil {
					if refused, ok := err.(posting.Refusals); !ok {
						t.Fatalf("%+v: %v", c, err)
					} else if n > 30 && refused[0].Rule == "nothing left" {
						break
					}
					continue
				}
				notes = append(notes, f.Papers[len(f.Papers)-1].ID)
				if e.Paper().Total > 0 {
					t.Fatalf("%+v credits %d", c, e.Paper().Total)
				}
				if err := f.Prove(); err != nil {
					t.Fatalf("%+v: %v", c, err)
				}
			}
			if now := f.balances(); now != before {
				t.Errorf("credited whole: %v, was %v before the invoice", now, before)
			}
			f.refuses(allOf(invoice.ID), "paper", "nothing left", "0.00")
			if err := f.UndoAll(rnd, notes, back, 9); err != nil {
				t.Fatal(err)
			}
			if now := f.balances(); now != stands {
				t.Errorf("all credits reversed: %v, stood at %v", now, stands)
			}
		})
	}
}

// accounts are those that an invoice and its credits move. What goods are worth
// is not among them: what is scrapped stays away.
var creditedAccounts = []ledger.Role{ledger.Receivables, ledger.Retention, ledger.DeferredTax, ledger.AdvanceBillings, ledger.OutputTax, ledger.ServiceSales, ledger.MaterialSales, ledger.Rounding}

type balances [8]money.Amount

func (f firm) balances() (all balances) {
	for n, r := range creditedAccounts {
		all[n] = f.AccountBalance(f.Role(r).ID)
	}
	return all
}

// anyInvoice posts an invoice of a make: rates, discounts, prices with tax
// inside, a rounded total, retention, a deduction; it answers where all stood before.
func (f firm) anyInvoice(rnd *rand.Rand) (invoice posting.Paper, before balances) {
	f.t.Helper()
	later := rnd.IntN(2) == 0
	f.keeps(func(j *master.Job) {
		j.RetentionPercent, j.RetentionTaxLater = decimal.New(rnd.Int64N(3)*5, 0), later
	})
	v := billing.Invoice{PartyID: 1, JobID: 1, Day: "2026-11-02", Includes: rnd.IntN(3) == 0}
	for range 1 + rnd.IntN(4) {
		l := posting.Line{Text: "work", Quantity: decimal.New(1+rnd.Int64N(5000), -3), UnitPrice: decimal.New(1+rnd.Int64N(90000), -2), TaxCodeID: 1 + rnd.Int64N(3)}
		if rnd.IntN(4) == 0 {
			l.DiscountPercent = decimal.New(rnd.Int64N(300), -1)
		}
		v.Lines = append(v.Lines, l)
	}
	v.Lines = append(v.Lines, sold(3, "2", "120"))
	switch rnd.IntN(4) {
	case 0:
		v.DiscountPercent = decimal.New(rnd.Int64N(200), -1)
	case 1:
		v.Discount = money.Amount(rnd.Int64N(500))
	}
	if v.RoundTo = []money.Amount{0, 5, 100}[rnd.IntN(3)]; rnd.IntN(3) == 0 {
		f.posts(billing.DepositInvoice{PartyID: 1, JobID: 1, Day: "2026-10-02", Lines: []billing.AdvanceLine{{Text: "Stair", Net: 10000, TaxCodeID: 1}}}, "Dr 120 120.00, Cr 227 100.00, Cr 241 20.00")
		v.Deductions = []billing.Deduction{{PaperID: f.Papers[len(f.Papers)-1].ID, Most: true}}
	}
	before = f.balances()
	if _, err := f.Post(v); err != nil {
		f.t.Skipf("no such invoice: %v", err)
	}
	return f.Papers[len(f.Papers)-1], before
}

// piece is a random part of an invoice; in the end all that is left.
func piece(rnd *rand.Rand, v posting.Paper, n int) billing.Credit {
	c := billing.Credit{PaperID: v.ID, Day: day.Day(back), Cause: billing.Fault, Own: rnd.IntN(2) == 0}
	if n > 30 {
		return c
	}
	if rnd.IntN(4) == 0 {
		c.Work = money.Amount(1 + rnd.Int64N(max(int64(v.Net)/3, 1)))
		return c
	}
	for at, l := range v.Lines {
		if rnd.IntN(2) == 0 {
			continue
		}
		line := billing.CreditLine{Position: at + 1}
		switch rnd.IntN(4) {
		case 0:
			line.Quantity = decimal.New(1+rnd.Int64N(max(int64(posting.InMillionths(l.Quantity))/2, 1)), -6)
		case 1, 2:
			part := l.Net.Own + l.Tax.Own
			if line.Amount = money.Amount(rnd.Int64N(max(int64(part.Abs())/3, 1)) + 1); part < 0 {
				line.Amount = -line.Amount
			}
		case 3:
			lower := l.UnitPrice.Mul(decimal.New(rnd.Int64N(10), -1)).Truncate(6)
			line.Price = &lower
		}
		c.Lines = append(c.Lines, line)
	}
	return c
}
