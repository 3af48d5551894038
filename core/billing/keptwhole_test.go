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
	"cleantally/core/settling"

	"github.com/shopspring/decimal"
)

// percentOf is a share in hundredths of a percent, rounded half away from nil.
func percentOf(a money.Amount, hundredths int64) money.Amount {
	return money.Amount((int64(a)*hundredths*2 + 10_000) / 20_000)
}

// A job's invoices at one rate keep back its share on its base up to its cap,
// whatever they come to; what is released in random parts and taken back in any
// order leaves nothing kept, and no tax waiting.
func TestKeptBackAndReleased(t *testing.T) {
	capped, later := 0, 0
	for seed := range uint64(150) {
		t.Run(fmt.Sprint(seed), func(t *testing.T) {
			f, rnd := newFirm(t), rand.New(rand.NewPCG(seed, 24))
			rate, most := 1+rnd.Int64N(1500), money.Amount(rnd.Int64N(3))*(10_000+money.Amount(rnd.Int64N(300_000)))
			gross, taxLater := rnd.IntN(2) == 0, rnd.IntN(2) == 0
			f.keeps(func(j *master.Job) {
				j.RetentionPercent, j.RetentionCap, j.RetentionGross, j.RetentionTaxLater = decimal.New(rate, -2), most, gross, taxLater
			})
			var sum, held, waiting money.Amount
			for n := range 2 + rnd.IntN(6) {
				net := money.Amount(1 + rnd.Int64N(3_000_000))
				v := invoiceOf(decimal.New(int64(net), -2).String())
				v.Day = day.Day("2026-09-20").Add(3 * n)
				e, err := f.Post(v)
				if err != nil {
					t.Fatal(err)
				}
				tax := percentOf(net, 2000)
				base := net
				if gross {
					base += tax
				}
				want := percentOf(base, rate)
				if most != 0 && want > most-sum {
					want = most - sum
					capped++
				}
				sum += want
				kept := want
				if taxLater && want > 0 {
					inside := money.Portion(want, tax, base)
					waiting += inside
					if !gross {
						kept += inside
					}
					later++
				}
				held += kept
				if got := e.Paper().Retained; got != kept {
					t.Fatalf("%d at %d hundredths, gross %v, later %v, cap %d: kept back %d, want %d", net, rate, gross, taxLater, most, got, kept)
				}
				f.stands(t, held, waiting)
			}
			from := int64(len(f.Papers))
			left := held
			for left > 0 {
				part := min(left, 1+money.Amount(rnd.Int64N(int64(held))))
				if _, err := f.Post(settling.Release{PartyID: 1, JobID: 1, Day: "2026-11-10", Amount: part}); err != nil {
					t.Fatalf("%d of %d: %v", part, left, err)
				}
				left -= part
			}
			f.stands(t, 0, 0)
			if held > 0 {
				f.refuses(settling.Release{PartyID: 1, JobID: 1, Day: "2026-11-10", Amount: 1}, "amount", "more than is held", "0.00")
			}
			if err := f.UndoAll(rnd, f.After(from), "2026-11-20", 10); err != nil {
				t.Fatal(err)
			}
			f.stands(t, held, waiting)
			if err := f.UndoAll(rnd, f.After(0)[:from], "2026-11-20", 10); err != nil {
				t.Fatal(err)
			}
			f.stands(t, 0, 0)
			if owed := f.AccountBalance(f.Role(ledger.Receivables).ID); owed != 0 {
				t.Errorf("in the end %d is owed", owed)
			}
		})
	}
	if capped < 30 || later < 100 {
		t.Errorf("%d times the cap was met, %d times tax was due later", capped, later)
	}
}

// stands holds the accounts of what is kept back, and of its tax, to what they
// should be, and the books to their proof.
func (f firm) stands(t *testing.T, held, waiting money.Amount) {
	t.Helper()
	if got := f.AccountBalance(f.Role(ledger.Retention).ID); got != held {
		t.Fatalf("kept back %d, want %d", got, held)
	}
	if got := -f.AccountBalance(f.Role(ledger.DeferredTax).ID); got != waiting {
		t.Fatalf("tax due later %d, want %d", got, waiting)
	}
	if err := f.Prove(); err != nil {
		t.Fatal(err)
	}
}

// An advance of any size, deducted in random parts from invoices of any size,
// never takes one below nil, and is used up to the cent; tax is what was billed.
func TestAdvanceDeductedInParts(t *testing.T) {
	for seed := range uint64(150) {
		t.Run(fmt.Sprint(seed), func(t *testing.T) {
			f, rnd := newFirm(t), rand.New(rand.NewPCG(seed, 25))
			advance := money.Amount(1 + rnd.Int64N(900_000))
			if _, err := f.Post(billing.DepositInvoice{PartyID: 1, Day: "2026-09-25", Lines: []billing.AdvanceLine{{Text: "Stair", Net: advance, TaxCodeID: 1}}}); err != nil {
				t.Fatal(err)
			}
			left := advance + percentOf(advance, 2000)
			work, tax := money.Amount(0), percentOf(advance, 2000)
			for n := 0; left > 0 && n < 40; n++ {
				net := money.Amount(1 + rnd.Int64N(400_000))
				v := invoiceOf(decimal.New(int64(net), -2).String())
				v.JobID, v.Day = 0, "2026-10-01"
				total := net + percentOf(net, 2000)
				want := min(left, total)
				d := billing.Deduction{PaperID: 1, Most: true}
				if rnd.IntN(2) == 0 {
					want = 1 + money.Amount(rnd.Int64N(int64(want)))
					d = billing.Deduction{PaperID: 1, Amount: want}
				}
				v.Deductions = []billing.Deduction{d}
				e, err := f.Post(v)
				if err != nil {
					t.Fatalf("%d of %d from %d: %v", want, left, total, err)
				}
				if p := e.Paper(); p.Deducted != want || p.Total != total-want {
					t.Fatalf("deducted %d, left to pay %d; want %d of %d", p.Deducted, p.Total, want, total)
				}
				left, work, tax = left-want, work+net, tax+percentOf(net, 2000)
				if err := f.Prove(); err != nil {
					t.Fatal(err)
				}
			}
			if left > 0 {
				return
			}
			if got := f.AccountBalance(f.Role(ledger.AdvanceBillings).ID); got != 0 {
				t.Errorf("in the end %d is billed in advance", got)
			}
			// All of the advance went into work: the tax of both is the tax of the work.
			if got, want := -f.AccountBalance(f.Role(ledger.OutputTax).ID), tax-percentOf(advance, 2000); got != want {
				t.Errorf("output tax %d, of the work %d", got, want)
			}
			if err := f.UndoAll(rnd, f.After(0), "2026-11-20", 50); err != nil {
				t.Fatal(err)
			}
			f.stands(t, 0, 0)
			if owed := f.AccountBalance(f.Role(ledger.Receivables).ID); owed != 0 {
				t.Errorf("in the end %d is owed", owed)
			}
		})
	}
}
