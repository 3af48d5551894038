package billing_test

import (
	"testing"

	"cleantally/core/billing"
	"cleantally/core/posting"
	"cleantally/core/settling"
)

// The last of E-5: an order is cancelled in one step, its advance was paid, a
// part of it is kept, without change of its tax or outside tax.
func TestE5Cancelled(t *testing.T) {
	for name, c := range map[string]struct {
		outside bool
		entry   string
		credit  int64
	}{
		"its tax stays due": {false, "Dr 227 2400.00, Dr 241 360.00, Cr 120 2160.00, Cr 421 600.00", 216000},
		"outside tax":       {true, "Dr 227 2400.00, Dr 241 480.00, Cr 120 2280.00, Cr 421 600.00", 228000},
	} {
		f := newFirm(t)
		f.posts(billing.Order{PartyID: 1, JobID: 1, Day: "2026-10-01", Lines: []posting.Line{work("8000", 1)}})
		f.posts(billing.DepositInvoice{PartyID: 1, JobID: 1, Day: "2026-10-02", OrderID: 1, Percent: dec("30")}, "Dr 120 2880.00, Cr 227 2400.00, Cr 241 480.00")
		f.posts(settling.Receipt{PartyID: 1, Day: "2026-10-20", Arrived: 288000, BankAccountID: 1, Method: posting.ByTransfer, Placements: []settling.Placement{{Debit: 1, Most: true}}}, "Dr 101 2880.00, Cr 120 2880.00")
		e := f.posts(billing.Cancellation{OrderID: 1, Day: "2026-11-20", Reason: "called off", Advances: []billing.AdvanceCredit{{PaperID: 2, Keep: 60000, OutsideTax: c.outside}}}, c.entry)
		if len(e.Papers) != 2 || int64(-e.Papers[1].Total) != c.credit || f.Agreed(1) != 0 || f.JobBilled(1) != 0 {
			t.Errorf("%s: %d papers, agreed %d, billed %d", name, len(e.Papers), f.Agreed(1), f.JobBilled(1))
		}
		if left := f.AccountBalance(f.Role("advance billings").ID); left != 0 {
			t.Errorf("%s: still billed in advance: %d", name, left)
		}
		f.refuses(billing.AdvanceCredit{PaperID: 2, Day: "2026-11-20", Reason: "again"}, "paper", "nothing left", "0.00")
	}
}

// An order is called off with what becomes of the deposit that was paid for it,
// in one step, or not at all.
func TestCallOff(t *testing.T) {
	f := newFirm(t)
	f.posts(billing.Order{PartyID: 1, JobID: 1, Day: "2026-10-01", Lines: []posting.Line{work("8000", 1)}})
	f.posts(settling.Deposit{PartyID: 1, JobID: 1, Day: "2026-10-05", Amount: 200000, BankAccountID: 1, Method: posting.ByTransfer}, "Dr 101 2000.00, Cr 221 2000.00")
	c := settling.CallOff{Cancellation: billing.Cancellation{OrderID: 1, Day: "2026-11-20", Reason: "called off"},
		Deposits: []settling.SplitDeposit{{Deposit: 1, RefundAmount: 150001, Refund: &settling.Refund{BankAccountID: 1, Method: posting.ByTransfer}, Forfeit: &settling.Forfeit{Deposit: settling.Share{Amount: 50000}}}}}
	f.refuses(c, "deposits[0].forfeit", "more than is open", "499.99")
	c.Deposits[0].RefundAmount = 150000
	e := f.posts(c, "Dr 221 1500.00, Cr 101 1500.00", "Dr 221 500.00, Cr 421 500.00")
	if len(e.Papers) != 3 || f.Agreed(1) != 0 || f.Left(1) != 0 {
		t.Errorf("%d papers, agreed %d, held %d", len(e.Papers), f.Agreed(1), f.Left(1))
	}
	f.posts(billing.Order{PartyID: 2, Day: "2026-10-01", Lines: []posting.Line{work("8000", 1)}})
	c.OrderID = 6
	f.refuses(c, "deposits[0].deposit", "another customer's deposit", "")
}

// A deposit invoice that nobody paid is credited as far as it was not deducted,
// and set against itself; reversed, it can be deducted again.
func TestAdvanceCredit(t *testing.T) {
	f := newFirm(t)
	f.posts(billing.DepositInvoice{PartyID: 1, Day: "2026-10-02", Lines: []billing.AdvanceLine{{"Stair", 500000, 1}, {"Repair", 200000, 2}}}, "Dr 120 8200.00, Cr 227 7000.00, Cr 241 1000.00, Cr 241 200.00")
	f.posts(billing.Invoice{PartyID: 1, Day: "2026-11-02", Lines: []posting.Line{work("4500", 1), work("1500", 2)}, Deductions: []billing.Deduction{{PaperID: 1, Most: true}}}, "Dr 227 6000.00, Cr 401 4500.00, Cr 401 1500.00")
	c := billing.AdvanceCredit{PaperID: 1, Day: "2026-11-20", Reason: "called off", Against: true}
	c.Keep = 100001
	f.refuses(c, "keep", "more than is left", "1000.00")
	c.Keep = 0
	f.posts(c, "Dr 227 1000.00, Dr 241 100.00, Dr 241 50.00, Cr 120 1150.00")
	if left := f.Left(1); left != 820000-115000 {
		t.Errorf("of the deposit invoice %d is open", left)
	}
	f.posts(settling.Reversal{PaperID: 3, Day: "2026-11-20", Reason: "wrong"}, "Cr 227 1000.00, Cr 241 100.00, Cr 241 50.00, Dr 120 1150.00")
	f.refuses(billing.AdvanceCredit{PaperID: 1, Day: "2026-10-01", Reason: "x"}, "day", "before the paper", "2026-10-02")
	f.refuses(billing.AdvanceCredit{PaperID: 1, Day: "2026-11-20"}, "reason", "missing", "")
	f.posts(c, "Dr 227 1000.00, Dr 241 100.00, Dr 241 50.00, Cr 120 1150.00")
}
