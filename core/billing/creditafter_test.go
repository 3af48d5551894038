package billing_test

import (
	"testing"

	"cleantally/core/billing"
	"cleantally/core/day"
	"cleantally/core/ledger"
	"cleantally/core/master"
	"cleantally/core/money"
	"cleantally/core/posting"
	"cleantally/core/settling"
)

// took is a receipt of one item.
func took(item posting.ItemRef, amount money.Amount, on string) settling.Receipt {
	return settling.Receipt{PartyID: 1, Day: day.Day(on), Arrived: amount, BankAccountID: 1, Method: posting.ByTransfer, Placements: []settling.Placement{{Debit: item, Amount: amount}}}
}

func refund(item posting.ItemRef) settling.Refund {
	return settling.Refund{Day: back, Sources: []settling.Share{{Item: item, Most: true}}, BankAccountID: 1, Method: posting.ByTransfer}
}

// settled proves that the accounts stand at nil and nothing is open.
func (f firm) settled(accounts ...ledger.Role) {
	f.t.Helper()
	for _, r := range accounts {
		if left := f.AccountBalance(f.Role(r).ID); left != 0 {
			f.t.Errorf("%s: %d is left", r, left)
		}
	}
	for i := range f.OpenOn("2099-12-31") {
		f.t.Errorf("%s of %s is open with %d", i.Register, i.Number, i.Left.Amount.Own)
	}
}

// E-15: a part was paid, all of it comes back, the rest of the credit is
// refunded: later, or in the same step.
func TestE15(t *testing.T) {
	for name, atOnce := range map[string]bool{"later": false, "at once": true} {
		t.Run(name, func(t *testing.T) {
			f := newFirm(t)
			f.posts(billing.Invoice{PartyID: 1, Day: "2026-10-02", Lines: []posting.Line{work("250", 1)}}, "Dr 120 300.00, Cr 401 250.00, Cr 241 50.00")
			f.posts(took(1, 6000, "2026-11-20"), "Dr 101 60.00, Cr 120 60.00")
			c := allOf(1)
			c.Own = true
			credited, returned := "Dr 401 250.00, Dr 241 50.00, Cr 120 300.00", "Dr 120 60.00, Cr 101 60.00"
			if !atOnce {
				if e := f.posts(c, credited); len(e.Warnings) != 1 || e.Warnings[0].Rule != "past due" {
					t.Errorf("past its due day: %v", e.Warnings)
				}
				if f.Left(1) != 0 || f.Left(3) != -6000 {
					t.Errorf("open: %d of the invoice, %d of the credit", f.Left(1), f.Left(3))
				}
				f.posts(refund(3), returned)
			} else {
				both := settling.CreditAndRefund{Credit: c, Refund: settling.GivenBack{BankAccountID: 1, Method: posting.ByTransfer, Amount: 6001}}
				f.refuses(both, "refund.amount", "more than is open", "60.00")
				both.Refund.Amount = 0
				e := f.posts(both, credited, returned)
				if len(e.Papers) != 2 || e.Papers[1].Kind != posting.Refund || e.Papers[1].Total != 6000 || e.Papers[1].SourceID != e.Papers[0].ID {
					t.Errorf("the papers: %+v", e.Papers)
				}
			}
			f.settled(ledger.Receivables, ledger.OutputTax)
			f.refuses(settling.Reversal{PaperID: 3, Day: back, Reason: "wrong"}, "paper", "something stands on it", "")
		})
	}
}

// What is refunded at once leaves nothing where all came off what is kept back,
// or all was set against something.
func TestRefundOfNothing(t *testing.T) {
	f := newFirm(t)
	f.posts(invoiceOf("250"), "Dr 120 300.00, Cr 401 250.00, Cr 241 50.00")
	c := allOf(1)
	c.Own = true
	f.refuses(settling.CreditAndRefund{Credit: c, Refund: settling.GivenBack{BankAccountID: 1, Method: posting.ByTransfer}}, "refund.amount", "nothing left", "0.00")
	f.keeps(func(j *master.Job) { j.RetentionPercent = dec("50") })
	f.posts(invoiceOf("1000"), "Dr 120 700.00, Dr 124 500.00, Cr 401 1000.00, Cr 241 200.00")
	c = allOf(2)
	c.Work, c.FromRetention = 10000, true
	f.refuses(settling.CreditAndRefund{Credit: c, Refund: settling.GivenBack{BankAccountID: 1, Method: posting.ByTransfer}}, "refund.amount", "nothing left", "0.00")
}

// After full payment: a price credit waits, and goes against the next invoice.
func TestPriceCreditAfterFullPayment(t *testing.T) {
	f := newFirm(t)
	f.posts(billing.Invoice{PartyID: 1, Day: "2026-10-02", Lines: []posting.Line{{Text: "treads", Quantity: dec("14"), UnitPrice: dec("85.50"), TaxCodeID: 1}}}, "Dr 120 1436.40, Cr 401 1197.00, Cr 241 239.40")
	f.posts(took(1, 143640, "2026-10-20"), "Dr 101 1436.40, Cr 120 1436.40")
	c := billing.Credit{PaperID: 1, Day: back, Cause: billing.Price, Lines: []billing.CreditLine{{Position: 1, Price: price("79.90")}}, Own: true}
	f.posts(c, "Dr 401 78.40, Dr 241 15.68, Cr 120 94.08") // 14 × 5.60
	if f.Left(3) != -9408 {
		t.Errorf("of the credit %d waits", f.Left(3))
	}
	f.posts(invoiceOf("100"), "Dr 120 120.00, Cr 401 100.00, Cr 241 20.00")
	f.posts(settling.SetAgainst{Day: back, Pairs: []settling.Pair{{Debit: 4, Credit: 3, Amount: 9408}}})
	if f.Left(3) != 0 || f.Left(4) != 2592 {
		t.Errorf("open: %d of the credit, %d of the invoice", f.Left(3), f.Left(4))
	}
}

// After a deposit was used, taxed when it came or not: the deposit stays used,
// the credit waits, the tax is credited once.
func TestCreditAfterADeposit(t *testing.T) {
	for name, c := range map[string]struct {
		code           int64
		taken, against string
	}{
		"untaxed": {0, "Dr 101 240.00, Cr 221 240.00", "Dr 221 240.00, Cr 120 240.00"},
		"taxed":   {1, "Dr 101 240.00, Cr 221 200.00, Cr 241 40.00", "Dr 221 200.00, Dr 241 40.00, Cr 120 240.00"},
	} {
		t.Run(name, func(t *testing.T) {
			f := newFirm(t)
			f.posts(settling.Deposit{PartyID: 1, Day: "2026-11-02", Amount: 24000, TaxCodeID: c.code, BankAccountID: 1, Method: posting.ByTransfer}, c.taken)
			f.posts(billing.Invoice{PartyID: 1, Day: back, Lines: []posting.Line{work("250", 1)}}, "Dr 120 300.00, Cr 401 250.00, Cr 241 50.00")
			f.posts(settling.SetAgainst{Day: back, Pairs: []settling.Pair{{Debit: 2, Credit: 1, Amount: 24000}}}, c.against)
			whole := allOf(2)
			whole.Own = true
			f.posts(settling.CreditAndRefund{Credit: whole, Refund: settling.GivenBack{BankAccountID: 1, Method: posting.ByTransfer}},
				"Dr 401 250.00, Dr 241 50.00, Cr 120 300.00", "Dr 120 240.00, Cr 101 240.00")
			f.settled(ledger.Receivables, ledger.Deposits, ledger.OutputTax)
		})
	}
}

// After a discount the credit carries its share of it; after a write-off with
// relief no more is credited than it left.
func TestCreditAfterADiscountOrAWriteOff(t *testing.T) {
	f := newFirm(t)
	f.TermsList[1] = master.Terms{ID: 1, Kind: master.InDays, Days: 30, DiscountPercent: dec("2"), DiscountDays: 10}
	early := invoiceOf("1000")
	early.TermsID = 1
	f.posts(early, "Dr 120 1200.00, Cr 401 1000.00, Cr 241 200.00")
	paid := took(1, 117600, "2026-11-09")
	paid.Placements[0].Discount = true
	f.posts(paid, "Dr 101 1176.00, Dr 491 20.00, Dr 241 4.00, Cr 120 1200.00")
	half := allOf(1)
	half.Lines = []billing.CreditLine{{Position: 1, Amount: 50000}}
	f.posts(half, "Dr 401 500.00, Dr 241 98.00, Cr 491 10.00, Cr 120 588.00")

	f = newFirm(t)
	f.posts(invoiceOf("1500"), "Dr 120 1800.00, Cr 401 1500.00, Cr 241 300.00")
	f.posts(took(1, 72000, "2026-11-20"), "Dr 101 720.00, Cr 120 720.00")
	f.posts(settling.WriteOff{Day: back, Reason: "insolvent", Relief: true, Items: []settling.Share{{Item: 1, Amount: 108000}}}, "Dr 631 900.00, Dr 241 180.00, Cr 120 1080.00")
	f.refuses(allOf(1), "paper", "more than is left", "720.00")
	rest := allOf(1)
	rest.Lines = []billing.CreditLine{{Position: 1, Amount: 60001}}
	f.refuses(rest, "paper", "more than is left", "720.00")
	rest.Lines[0].Amount = 60000
	f.posts(rest, "Dr 401 600.00, Dr 241 120.00, Cr 120 720.00")
	f.refuses(allOf(1), "paper", "more than is left", "0.00")
}

// An invoice in a closed period is credited after it.
func TestCreditOfALockedPeriod(t *testing.T) {
	f := newFirm(t)
	old := invoiceOf("1000")
	old.Day = "2026-09-10"
	f.posts(old, "Dr 120 1200.00, Cr 401 1000.00, Cr 241 200.00")
	f.Lock = "2026-10-31"
	c := allOf(1)
	c.Own, c.Day = true, "2026-10-31"
	f.refuses(c, "day", "locked", "2026-10-31")
	f.refuses(settling.Reversal{PaperID: 1, Day: "2026-10-01", Reason: "wrong"}, "day", "locked", "2026-10-31")
	c.Day = back
	e := f.posts(c, "Dr 401 1000.00, Dr 241 200.00, Cr 120 1200.00")
	if len(e.Warnings) != 1 || e.Warnings[0].Rule != "past due" || f.Left(1) != 0 {
		t.Errorf("warned of %+v, open %d", e.Warnings, f.Left(1))
	}
}

// An invoice whose retention was released in part gives back what is still held
// of its share; a second credit finds nothing held.
func TestCreditAfterARelease(t *testing.T) {
	f := newFirm(t)
	f.keeps(func(j *master.Job) { j.RetentionPercent, j.RetentionTaxLater = dec("5"), true })
	f.posts(invoiceOf("12000"), "Dr 120 13680.00, Dr 124 720.00, Cr 401 12000.00, Cr 241 2280.00, Cr 244 120.00")
	f.posts(settling.Release{PartyID: 1, Day: back, Amount: 48000}, "Dr 120 480.00, Cr 124 480.00, Dr 244 80.00, Cr 241 80.00")
	half := allOf(1)
	half.Work = 600000
	f.posts(half, "Dr 401 6000.00, Dr 241 1160.00, Dr 244 40.00, Cr 124 240.00, Cr 120 6960.00") // 360.00 would be its share
	f.posts(half, "Dr 401 6000.00, Dr 241 1200.00, Cr 120 7200.00")
	if held := f.AccountBalance(f.Role(ledger.Retention).ID) + f.AccountBalance(f.Role(ledger.DeferredTax).ID); held != 0 {
		t.Errorf("held: %d", held)
	}
	// One credit that would take more off what is kept back than is held is refused.
	f.posts(invoiceOf("100"), "Dr 120 114.00, Dr 124 6.00, Cr 401 100.00, Cr 241 19.00, Cr 244 1.00")
	more := allOf(5)
	more.Work, more.FromRetention = 1000, true
	f.refuses(more, "fromRetention", "more than is held", "6.00")
	more.Work = 500
	f.posts(more, "Dr 401 5.00, Dr 244 1.00, Cr 124 6.00")
}

// A deposit invoice that was deducted in part is credited with the rest alone.
func TestCreditOfADeductedDepositInvoice(t *testing.T) {
	f := newFirm(t)
	f.posts(billing.DepositInvoice{PartyID: 1, Day: "2026-10-02", Lines: []billing.AdvanceLine{{Text: "Stair", Net: 240000, TaxCodeID: 1}}}, "Dr 120 2880.00, Cr 227 2400.00, Cr 241 480.00")
	f.posts(took(1, 288000, "2026-10-12"), "Dr 101 2880.00, Cr 120 2880.00")
	f.posts(billing.Invoice{PartyID: 1, Day: "2026-11-02", Lines: []posting.Line{work("3000", 1)}, Deductions: []billing.Deduction{{PaperID: 1, Amount: 100000}}}, "Dr 227 833.33, Dr 120 2600.00, Cr 401 3000.00, Cr 241 433.33")
	f.posts(billing.AdvanceCredit{PaperID: 1, Day: back, Reason: "less is built", Against: true}, "Dr 227 1566.67, Dr 241 313.33, Cr 120 1880.00")
	f.posts(refund(4), "Dr 120 1880.00, Cr 101 1880.00")
	f.posts(took(3, 260000, back), "Dr 101 2600.00, Cr 120 2600.00")
	f.settled(ledger.AdvanceBillings)
}

// A credit on its own bears what it says: a rebate lowers no work of its job.
func TestCreditOnItsOwn(t *testing.T) {
	f := newFirm(t)
	f.posts(invoiceOf("1000"), "Dr 120 1200.00, Cr 401 1000.00, Cr 241 200.00")
	allowed := f.Role(ledger.DiscountAllowed).ID
	c := billing.Credit{PartyID: 1, JobID: 1, Day: back, Cause: billing.Goodwill, Text: "yearly rebate", Written: []posting.Line{{Text: "3 % of 4,200.00", Quantity: dec("1"), UnitPrice: dec("126"), TaxCodeID: 1, AccountID: allowed}}}
	c.SetAgainst = []billing.Against{{Debit: 1, Amount: 5000}}
	e := f.posts(c, "Dr 491 126.00, Dr 241 25.20, Cr 120 151.20")
	if p := e.Paper(); p.Total != -15120 || p.Kind != posting.CreditNote || p.SourceID != 0 || p.Reason != "Goodwill: yearly rebate" || f.JobBilled(1) != 100000 {
		t.Errorf("the credit note: %+v, billed %d", p, f.JobBilled(1))
	}
	if f.Left(1) != 115000 || f.Left(2) != -10120 {
		t.Errorf("open: %d of the invoice, %d of the credit", f.Left(1), f.Left(2))
	}
	f.posts(settling.Reversal{PaperID: 2, Day: back, Reason: "twice"}, "Cr 491 126.00, Cr 241 25.20, Dr 120 151.20")
	c.SetAgainst = nil

	for name, x := range map[string]struct {
		change      func(*billing.Credit)
		field, rule string
	}{
		"no line":         {func(c *billing.Credit) { c.Written = nil }, "written", "missing"},
		"no customer":     {func(c *billing.Credit) { c.PartyID = 0 }, "party", "missing"},
		"no cause":        {func(c *billing.Credit) { c.Cause = "" }, "cause", "missing"},
		"nothing":         {func(c *billing.Credit) { c.Written[0].UnitPrice = dec("0") }, "written", "above nil"},
		"below nil":       {func(c *billing.Credit) { c.Written[0].UnitPrice = dec("-5") }, "written", "above nil"},
		"an asset":        {func(c *billing.Credit) { c.Written[0].AccountID = f.Role(ledger.Stock).ID }, "written[0].account", "not income"},
		"lines of none":   {func(c *billing.Credit) { c.Lines = []billing.CreditLine{{Position: 1}} }, "paper", "missing"},
		"another's job":   {func(c *billing.Credit) { c.PartyID = 2 }, "job", "another customer's job"},
		"an order's line": {func(c *billing.Credit) { c.Written[0].Of.PaperID = 1 }, "written[0].text", "of an invoice"},
	} {
		wrong := c
		wrong.Written = append([]posting.Line{}, c.Written...)
		x.change(&wrong)
		t.Run(name, func(t *testing.T) { firm{t, f.Book}.refuses(wrong, x.field, x.rule, "") })
	}
}

// A line may bear another account, tax code or tax than it was billed with; it
// is said, and never more tax is credited than was billed.
func TestCreditOtherwise(t *testing.T) {
	f := newFirm(t)
	f.posts(billing.Invoice{PartyID: 1, Day: "2026-11-02", Lines: []posting.Line{work("100", 1), work("50", 2)}}, "Dr 120 175.00, Cr 401 100.00, Cr 401 50.00, Cr 241 20.00, Cr 241 5.00")
	warned := func(e posting.Effect, rules ...string) {
		t.Helper()
		var got []string
		for _, w := range e.Warnings {
			got = append(got, w.Rule)
		}
		if len(got) != len(rules) {
			t.Fatalf("warned of %v, want %v", got, rules)
		}
		for n := range rules {
			if got[n] != rules[n] {
				t.Errorf("warned of %v, want %v", got, rules)
			}
		}
	}
	line := func(l billing.CreditLine) billing.Credit {
		c := allOf(1)
		c.Lines = []billing.CreditLine{l}
		return c
	}
	nothing, more, some := money.Amount(0), money.Amount(1601), money.Amount(1234)
	warned(f.posts(line(billing.CreditLine{Position: 1, Amount: 2000, AccountID: f.Role(ledger.DiscountAllowed).ID}), "Dr 491 20.00, Dr 241 4.00, Cr 120 24.00"), "another account")
	f.refuses(line(billing.CreditLine{Position: 1, Tax: &more}), "lines[0].tax", "more than is left", "16.00")
	f.refuses(line(billing.CreditLine{Position: 1, AccountID: f.Role(ledger.Stock).ID}), "lines[0].account", "not income", "")
	f.refuses(line(billing.CreditLine{Position: 1, AccountID: 9999}), "lines[0].account", "not in use", "")
	f.refuses(line(billing.CreditLine{Position: 1, TaxCodeID: 99}), "lines[0].taxCode", "not in use", "")
	f.refuses(line(billing.CreditLine{Position: 2, TaxCodeID: 1}), "lines[0].tax", "more than is left", "5.00") // 20 % of what bore 10
	warned(f.posts(line(billing.CreditLine{Position: 1, Amount: 3000, TaxCodeID: 2}), "Dr 401 30.00, Dr 241 3.00, Cr 120 33.00"), "another tax")
	warned(f.posts(line(billing.CreditLine{Position: 1, Amount: 5000, Tax: &some}), "Dr 401 50.00, Dr 241 12.34, Cr 120 62.34"), "another tax")
	warned(f.posts(line(billing.CreditLine{Position: 1}), "Dr 241 0.66, Cr 120 0.66")) // the tax that is left
	warned(f.posts(line(billing.CreditLine{Position: 2, Tax: &nothing}), "Dr 401 50.00, Cr 120 50.00"), "another tax")
	f.refuses(allOf(99), "paper", "missing", "")
}

// Where tax is kept back by its code, and on lines that stand on a register,
// account and tax stay as they were billed.
func TestCreditOtherwiseRefused(t *testing.T) {
	f := newFirm(t)
	f.keeps(func(j *master.Job) { j.RetentionPercent, j.RetentionTaxLater = dec("5"), true })
	f.posts(invoiceOf("1000"), "Dr 120 1140.00, Dr 124 60.00, Cr 401 1000.00, Cr 241 190.00, Cr 244 10.00")
	nothing := money.Amount(0)
	c := allOf(1)
	c.Lines = []billing.CreditLine{{Position: 1, Tax: &nothing}}
	f.refuses(c, "lines[0].tax", "kept back", "")
	f.posts(billing.DepositInvoice{PartyID: 1, Day: "2026-10-02", Lines: []billing.AdvanceLine{{Text: "Stair", Net: 100000, TaxCodeID: 1}}}, "Dr 120 1200.00, Cr 227 1000.00, Cr 241 200.00")
	f.posts(billing.Invoice{PartyID: 1, Day: "2026-11-02", Lines: []posting.Line{work("4000", 1)}, Deductions: []billing.Deduction{{PaperID: 2, Most: true}}}, "Dr 120 3600.00, Dr 227 1000.00, Cr 401 4000.00, Cr 241 600.00")
	c = allOf(3)
	c.Lines = []billing.CreditLine{{Position: 1}, {Position: 2, AccountID: f.Role(ledger.MaterialSales).ID}}
	f.refuses(c, "lines[1].account", "as it was billed", "")
}

// A credit that stands against the wrong invoice is moved to the right one in
// one step; what was true on the days between stays told.
func TestMove(t *testing.T) {
	f := newFirm(t)
	f.posts(billing.Invoice{PartyID: 1, Day: "2026-10-02", Lines: []posting.Line{work("200", 3)}}, "Dr 120 200.00, Cr 401 200.00")
	f.posts(invoiceOf("500"), "Dr 120 600.00, Cr 401 500.00, Cr 241 100.00")
	c := allOf(2)
	c.Day, c.Own, c.Work = "2026-11-10", true, 20000
	f.posts(c, "Dr 401 200.00, Dr 241 40.00, Cr 120 240.00")
	m := settling.Move{Day: back, Allocation: 1, To: 1}
	f.refuses(settling.Move{Day: back, Allocation: 1, To: 2}, "to", "missing", "")
	f.refuses(settling.Move{Day: "2026-11-09", Allocation: 1, To: 1}, "allocation", "before the allocation", "2026-11-10")
	f.refuses(settling.Move{Day: back, Allocation: 1, To: 1, Amount: 20001}, "amount", "more than is open", "200.00")
	f.posts(m)
	if f.Left(1) != 0 || f.Left(2) != 60000 || f.Left(3) != -4000 {
		t.Errorf("open: %d, %d, %d", f.Left(1), f.Left(2), f.Left(3))
	}
	f.refuses(m, "allocation", "undone already", "2026-11-20")
	f.posts(invoiceOf("10"), "Dr 120 12.00, Cr 401 10.00, Cr 241 2.00")
	f.posts(settling.Move{Day: back, Allocation: 3, To: 4, Amount: 1200})
	if f.Left(1) != 20000 || f.Left(4) != 0 || f.Left(3) != -22800 {
		t.Errorf("open: %d, %d, %d", f.Left(1), f.Left(4), f.Left(3))
	}
	// On the other side: the invoice is settled by another credit instead.
	f.posts(took(1, 5000, back), "Dr 101 50.00, Cr 120 50.00")
	f.posts(settling.Move{Day: back, Allocation: 6, To: 3})
	if f.Left(1) != 15000 || f.Left(5) != -5000 || f.Left(3) != -17800 {
		t.Errorf("open: %d, %d, %d", f.Left(1), f.Left(5), f.Left(3))
	}
	// Nothing is set across customers.
	f.posts(billing.Invoice{PartyID: 2, Day: back, Lines: []posting.Line{work("10", 3)}}, "Dr 120 10.00, Cr 401 10.00")
	f.refuses(settling.Move{Day: back, Allocation: 8, To: 6}, "amount", "another customer's credit", "")
}

// A credit that was reversed counts no more: the next takes the same share of
// what is kept back.
func TestRetentionAfterAReversedCredit(t *testing.T) {
	f := newFirm(t)
	f.keeps(func(j *master.Job) { j.RetentionPercent, j.RetentionTaxLater = dec("5"), true })
	f.posts(invoiceOf("12000"), "Dr 120 13680.00, Dr 124 720.00, Cr 401 12000.00, Cr 241 2280.00, Cr 244 120.00")
	half := allOf(1)
	half.Work = 600000
	want := "Dr 401 6000.00, Dr 241 1140.00, Dr 244 60.00, Cr 124 360.00, Cr 120 6840.00"
	f.posts(half, want)
	f.posts(settling.Reversal{PaperID: 2, Day: back, Reason: "wrong"}, reversed(want))
	f.posts(half, want)
	f.posts(half, want)
}
