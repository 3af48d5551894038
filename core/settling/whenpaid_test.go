package settling_test

import (
	"testing"

	"cleantally/core/billing"
	"cleantally/core/day"
	"cleantally/core/ledger"
	"cleantally/core/master"
	"cleantally/core/money"
	"cleantally/core/posting"
	"cleantally/core/posting/postingtest"
	"cleantally/core/settling"
	"cleantally/core/tax"

	"github.com/shopspring/decimal"
)

// paying are the books of a firm that owes its tax when it is paid.
func paying() *postingtest.Book {
	b := postingtest.New()
	b.Due = posting.TaxDueAs(posting.DuePaid)
	return b
}

// waits fails unless so much tax waits on tax when paid and so much is due.
func waits(t *testing.T, b *postingtest.Book, waiting, due money.Amount) {
	t.Helper()
	if err := b.Prove(); err != nil {
		t.Error(err)
	}
	if got := -b.AccountBalance(b.Roles[ledger.TaxWhenPaid]); got != waiting {
		t.Errorf("%d waits until it is paid, want %d", got, waiting)
	}
	if got := -b.AccountBalance(b.Roles[ledger.OutputTax]); got != due {
		t.Errorf("%d is due, want %d", got, due)
	}
}

func twoCodes(d day.Day) billing.Invoice {
	v := invoice(1, 0, d, "100")
	v.Lines = append(v.Lines, posting.Line{Text: "Repair", Quantity: decimal.New(1, 0), UnitPrice: decimal.New(100, 0), TaxCodeID: 2})
	return v
}

// The tax of an invoice falls due by portions of what settles it, on the day of
// that; undoing it takes that back.
func TestTaxWhenPaid(t *testing.T) {
	b := paying()
	wantEntries(t, b, post(t, b, invoice(1, 0, "2026-11-01", "1000")), "Dr 120 1200.00, Cr 401 1000.00, Cr 246 200.00")
	e := post(t, b, receipt("2026-11-10", 60000, settling.Placement{Debit: 1, Amount: 60000}))
	wantEntries(t, b, e, "Dr 101 600.00, Cr 120 600.00", "Dr 246 100.00, Cr 241 100.00")
	waits(t, b, 10000, 10000)
	e = post(t, b, settling.Undo{Allocations: []int64{1}, Day: "2026-11-12"})
	wantEntries(t, b, e, "Dr 241 100.00, Cr 246 100.00")
	waits(t, b, 20000, 0)
	post(t, b, receipt("2026-11-13", 120000, settling.Placement{Debit: 1, Amount: 120000}))
	waits(t, b, 0, 20000)
}

// 100.00 with 16.67 inside, paid as 33.33, 33.33, 33.34: 5.56, 5.55, 5.56.
func TestTaxWhenPaidByPortions(t *testing.T) {
	b := paying()
	post(t, b, invoice(1, 0, "2026-11-01", "83.33")) // and 16.67
	for n, want := range []string{"Dr 246 5.56, Cr 241 5.56", "Dr 246 5.55, Cr 241 5.55", "Dr 246 5.56, Cr 241 5.56"} {
		a := []money.Amount{3333, 3333, 3334}[n]
		e := post(t, b, receipt("2026-11-10", a, settling.Placement{Debit: 1, Amount: a}))
		wantEntries(t, b, e, "Dr 101 "+b.Cur.Format(a)+", Cr 120 "+b.Cur.Format(a), want)
	}
	waits(t, b, 0, 1667)
}

// What is due of several codes is told by code, and adds up to each.
func TestTaxWhenPaidOfSeveralCodes(t *testing.T) {
	b := paying()
	post(t, b, twoCodes("2026-11-01")) // 20.00 and 10.00 inside 230.00
	e := post(t, b, receipt("2026-11-10", 11500, settling.Placement{Debit: 1, Amount: 11500}))
	wantEntries(t, b, e, "Dr 101 115.00, Cr 120 115.00", "Dr 246 15.00, Cr 241 10.00, Cr 241 5.00")
	for _, a := range []money.Amount{3333, 3333, 4834} {
		post(t, b, receipt("2026-11-11", a, settling.Placement{Debit: 1, Amount: a}))
	}
	waits(t, b, 0, 3000)
	due := map[int64]money.Amount{}
	for _, e := range b.Entries {
		for _, l := range e.Lines {
			if l.AccountID == b.Roles[ledger.OutputTax] {
				due[l.TaxCodeID] -= l.Amount
			}
		}
	}
	if due[1] != 2000 || due[2] != 1000 {
		t.Errorf("due by code: %v", due)
	}
}

// What takes off by a code of its own takes its tax off at once; only the rest
// waits, and falls due by its codes.
func TestTaxWhenPaidBesideWhatTakesOff(t *testing.T) {
	b := paying()
	b.Codes[5], b.Rates[5] = tax.Code{ID: 5, Code: "LOW", Kind: tax.Charged}, "5"
	v := twoCodes("2026-11-01")
	v.Lines = append(v.Lines, posting.Line{Text: "Old rail taken back", Quantity: decimal.New(1, 0), UnitPrice: decimal.New(-40, 0), TaxCodeID: 5})
	wantEntries(t, b, post(t, b, v), "Dr 120 188.00, Dr 401 40.00, Dr 241 2.00, Cr 246 30.00, Cr 401 100.00, Cr 401 100.00")
	waits(t, b, 3000, -200)
	e := post(t, b, receipt("2026-11-10", 9400, settling.Placement{Debit: 1, Amount: 9400}))
	wantEntries(t, b, e, "Dr 101 94.00, Cr 120 94.00", "Dr 246 15.00, Cr 241 10.00, Cr 241 5.00")
	post(t, b, receipt("2026-11-11", 9400, settling.Placement{Debit: 1, Amount: 9400}))
	waits(t, b, 0, 2800)
}

// A credit note takes its tax off what waits; set against its invoice nothing
// falls due, refunded what was due comes back.
func TestTaxWhenPaidCredited(t *testing.T) {
	b := paying()
	post(t, b, invoice(1, 0, "2026-11-01", "1000"))
	post(t, b, receipt("2026-11-05", 60000, settling.Placement{Debit: 1, Amount: 60000}))
	e := post(t, b, billing.Credit{PaperID: 1, Day: "2026-11-10", Cause: billing.GoodsBack, Own: true})
	wantEntries(t, b, e, "Dr 401 1000.00, Dr 246 200.00, Cr 120 1200.00") // 600.00 of it is set against the rest
	waits(t, b, -10000, 10000)
	e = post(t, b, settling.Refund{Day: "2026-11-12", BankAccountID: 1, Method: posting.ByTransfer, Sources: []settling.Share{{Item: 3, Amount: 60000}}})
	wantEntries(t, b, e, "Dr 120 600.00, Cr 101 600.00", "Dr 241 100.00, Cr 246 100.00")
	waits(t, b, 0, 0)
}

// Refunded or moved on, a credit of several codes gives back what was due of each.
func TestTaxWhenPaidCreditOfSeveralCodes(t *testing.T) {
	for name, c := range map[string]posting.Command{
		"refunded":        settling.Refund{Day: "2026-11-12", BankAccountID: 1, Method: posting.ByTransfer, Sources: []settling.Share{{Item: 3, Amount: 23000}}},
		"made a deposit":  settling.Transfer{Day: "2026-11-12", PartyID: 1, AsDeposit: true, From: settling.Share{Item: 3, Amount: 23000}},
		"to another job":  settling.Transfer{Day: "2026-11-12", PartyID: 1, JobID: 1, From: settling.Share{Item: 3, Amount: 23000}},
		"for another one": settling.SetAgainst{Day: "2026-11-12", Pairs: []settling.Pair{{Debit: 4, Credit: 3, Amount: 23000}}},
	} {
		b := paying()
		post(t, b, twoCodes("2026-11-01"))
		post(t, b, receipt("2026-11-05", 23000, settling.Placement{Debit: 1, Amount: 23000}))
		post(t, b, billing.Credit{PaperID: 1, Day: "2026-11-10", Cause: billing.GoodsBack})
		untaxed := invoice(1, 0, "2026-11-11", "230")
		untaxed.Lines[0].TaxCodeID = 3
		post(t, b, untaxed)
		e := post(t, b, c)
		back := map[int64]money.Amount{}
		for _, x := range e.Entries {
			for _, l := range x.Lines {
				if l.AccountID == b.Roles[ledger.OutputTax] {
					back[l.TaxCodeID] += l.Amount
				}
			}
		}
		if back[1] != 2000 || back[2] != 1000 || len(back) != 2 {
			t.Errorf("%s: %v came back by code", name, back)
		}
		waits(t, b, 0, 0)
	}
}

// A discount and a write-off take the tax along that never falls due; money that
// comes after all owes it.
func TestTaxWhenPaidGivenUp(t *testing.T) {
	b := paying()
	b.TermsList[1] = master.Terms{ID: 1, Kind: master.InDays, Days: 30, DiscountPercent: decimal.New(2, 0), DiscountDays: 10}
	post(t, b, invoice(1, 0, "2026-11-01", "1000"))
	e := post(t, b, receipt("2026-11-08", 117600, settling.Placement{Debit: 1, Amount: 117600, Discount: true})) // E-4
	wantEntries(t, b, e, "Dr 101 1176.00, Dr 491 20.00, Dr 246 4.00, Cr 120 1200.00", "Dr 246 196.00, Cr 241 196.00")
	waits(t, b, 0, 19600)
	post(t, b, settling.Undo{Allocations: []int64{1}, Day: "2026-11-09"})
	waits(t, b, 20000, 0)
	e = post(t, b, settling.WriteOff{Day: "2026-11-15", Reason: "Insolvent", Items: []settling.Share{{Item: 1, Amount: 60000}}})
	wantEntries(t, b, e, "Dr 631 500.00, Dr 246 100.00, Cr 120 600.00")
	waits(t, b, 10000, 0)
	off := int64(len(b.Papers))
	e = post(t, b, settling.Recovery{WriteOffID: off, Day: "2026-11-18", Amount: 30000, BankAccountID: 1, Method: posting.ByTransfer})
	wantEntries(t, b, e, "Dr 101 300.00, Cr 441 250.00, Cr 241 50.00")
	waits(t, b, 10000, 5000)
}

// What is kept back takes its tax along, on to its release, and owes it when that
// is paid; so does what a customer keeps back unasked.
func TestTaxWhenPaidKeptBack(t *testing.T) {
	b := paying()
	job := b.Jobs[1]
	job.RetentionPercent, job.RetentionGross = decimal.New(5, 0), true
	b.Jobs[1] = job
	wantEntries(t, b, post(t, b, invoice(1, 1, "2026-11-01", "12000")), "Dr 120 13680.00, Dr 124 720.00, Cr 401 12000.00, Cr 246 2280.00, Cr 244 120.00") // E-7
	e := post(t, b, settling.Release{PartyID: 1, Day: "2026-11-10", Items: []settling.Share{{Item: 2, Amount: 36000}}})
	wantEntries(t, b, e, "Dr 120 360.00, Cr 124 360.00, Dr 244 60.00, Cr 246 60.00")
	e = post(t, b, receipt("2026-11-11", 36000, settling.Placement{Debit: 4, Amount: 36000}))
	wantEntries(t, b, e, "Dr 101 360.00, Cr 120 360.00", "Dr 246 60.00, Cr 241 60.00")
	waits(t, b, 228000, 6000)
	e = post(t, b, receipt("2026-11-12", 1296000, settling.Placement{Debit: 1, Amount: 1296000, Rest: settling.IsRetained}))
	wantEntries(t, b, e, "Dr 101 12960.00, Cr 120 12960.00", "Dr 246 2160.00, Cr 241 2160.00", "Dr 246 120.00, Dr 124 720.00, Cr 120 720.00, Cr 244 120.00")
	waits(t, b, 0, 222000)
}

// A deposit that is set against the invoice pays it; one that was taxed on
// receipt has its tax taken off as well. A contra pays too. A reversal leaves
// nothing.
func TestTaxWhenPaidByOtherMoney(t *testing.T) {
	b := paying()
	post(t, b, deposit("2026-10-01", 24000))
	taxed := deposit("2026-10-01", 12000)
	taxed.TaxCodeID = 1
	post(t, b, taxed)
	waits(t, b, 0, 2000)
	v := invoice(1, 1, "2026-11-01", "1000")
	v.SetAgainst = []billing.Use{{Credit: 1, Amount: 24000}, {Credit: 2, Amount: 12000}}
	wantEntries(t, b, post(t, b, v), "Dr 120 1200.00, Cr 401 1000.00, Cr 246 200.00", "Dr 221 240.00, Cr 120 240.00, Dr 246 40.00, Cr 241 40.00", "Dr 221 100.00, Dr 246 20.00, Cr 120 120.00")
	waits(t, b, 14000, 6000)
	post(t, b, settling.Undo{Allocations: []int64{1, 2}, Day: "2026-11-02"})
	waits(t, b, 20000, 2000)
	post(t, b, settling.Reversal{PaperID: 3, Day: "2026-11-03", Reason: "not sent"})
	waits(t, b, 0, 2000)
}

// A firm may owe the tax of its deposit invoices alone when they are paid.
func TestTaxOfAdvancesWhenPaid(t *testing.T) {
	b := postingtest.New()
	b.Due = posting.TaxDueAs(posting.DueAdvancesPaid)
	wantEntries(t, b, post(t, b, billing.DepositInvoice{PartyID: 1, JobID: 1, Day: "2026-11-01", Lines: []billing.AdvanceLine{{Text: "30 %", Net: 240000, TaxCodeID: 1}}}), "Dr 120 2880.00, Cr 227 2400.00, Cr 246 480.00") // E-5
	v := invoice(1, 1, "2026-11-05", "8000")
	v.Deductions = []billing.Deduction{{PaperID: 1, Most: true}}
	wantEntries(t, b, post(t, b, v), "Dr 120 6720.00, Dr 227 2400.00, Cr 401 8000.00, Cr 241 1120.00")
	e := post(t, b, receipt("2026-11-10", 288000, settling.Placement{Debit: 1, Amount: 288000}))
	wantEntries(t, b, e, "Dr 101 2880.00, Cr 120 2880.00", "Dr 246 480.00, Cr 241 480.00")
	waits(t, b, 0, 160000)
}
