package billing_test

import (
	"strings"
	"testing"

	"cleantally/core/billing"
	"cleantally/core/money"
	"cleantally/core/posting"
	"cleantally/core/settling"
)

// A request is paid by two deposits; giving one back reopens it.
func TestRequest(t *testing.T) {
	f := newFirm(t)
	f.posts(billing.Order{PartyID: 1, JobID: 1, Day: "2026-10-01", Lines: []posting.Line{work("8000", 1)}})
	ask := billing.Request{PartyID: 1, JobID: 1, Day: "2026-10-02", Due: "2026-10-16", OfID: 1, Percent: dec("30")}
	e := f.posts(ask)
	if p := e.Paper(); p.Total != 288000 || p.Title != "Deposit on order O26-0001, 30 %" || p.Due != "2026-10-16" {
		t.Errorf("asked for %+v", p)
	}
	left := func(want money.Amount) {
		t.Helper()
		var paid money.Amount
		for _, u := range f.Uses(2) {
			paid += u.Amount.Own
		}
		if 288000-paid != want {
			t.Errorf("still asked: %d, want %d", 288000-paid, want)
		}
	}
	pay := func(amount money.Amount) settling.Deposit {
		return settling.Deposit{PartyID: 1, JobID: 1, Day: "2026-10-10", Amount: amount, BankAccountID: 1, Method: posting.ByTransfer, RequestID: 2}
	}
	f.posts(pay(100000), "Dr 101 1000.00, Cr 221 1000.00")
	left(188000)
	f.posts(pay(200000), "Dr 101 2000.00, Cr 221 2000.00")
	left(0) // 120.00 more than is asked is a deposit all the same
	f.posts(settling.Refund{Day: "2026-10-12", Sources: []settling.Share{{Item: 1, Amount: 40000}}, BankAccountID: 1, Method: posting.ByTransfer}, "Cr 101 400.00, Dr 221 400.00")
	left(40000)
	f.posts(settling.Reversal{PaperID: 5, Day: "2026-10-13", Reason: "wrong"}, "Dr 101 400.00, Cr 221 400.00")
	left(0)
	f.posts(settling.Reversal{PaperID: 4, Day: "2026-10-13", Reason: "wrong"}, "Cr 101 2000.00, Dr 221 2000.00")
	left(188000)
	f.refuses(settling.Reversal{PaperID: 2, Day: "2026-10-13", Reason: "wrong"}, "paper", "something stands on it", "")
	other := pay(100)
	other.PartyID, other.JobID = 2, 2
	f.refuses(other, "request", "another customer's request", "RD26-0001")
	other.RequestID = 1
	f.refuses(other, "request", "missing", "")
	ask.Amount = 1
	f.refuses(ask, "percent", "one of them", "")
	ask.Percent, ask.Amount = dec("0"), 960001
	f.refuses(ask, "amount", "more than is ordered", "9600.00")
	ask.OfID, ask.Amount, ask.Percent = 0, 0, dec("30")
	f.refuses(ask, "of", "missing", "")
	ask.Percent, ask.Due = dec("0"), "2026-10-01"
	f.refuses(ask, "due", "before the paper", "2026-10-02")
	f.refuses(billing.Request{PartyID: 1, Day: "2026-10-02"}, "amount", "above nil", "")
}

// What nobody paid of a request is cancelled; what a refund asks for again is
// cancelled again. Taking a cancellation back asks again.
func TestRequestCancelled(t *testing.T) {
	f := newFirm(t)
	f.posts(billing.Request{PartyID: 1, JobID: 1, Day: "2026-10-02", Amount: 100000})
	cancel := billing.RequestCancellation{RequestID: 1, Day: "2026-10-12", Reason: " they pay by the month "}
	left := func(want money.Amount) {
		t.Helper()
		still := money.Amount(100000)
		for _, u := range f.Uses(1) {
			still -= u.Amount.Own
		}
		if still != want {
			t.Errorf("still asked: %d, want %d", still, want)
		}
	}
	f.posts(settling.Deposit{PartyID: 1, JobID: 1, Day: "2026-10-10", Amount: 60000, BankAccountID: 1, Method: posting.ByTransfer, RequestID: 1}, "Dr 101 600.00, Cr 221 600.00")
	e := f.posts(cancel) // posts nothing
	if p := e.Paper(); p.Number != "OC26-0001" || p.Note != "they pay by the month" || p.SourceID != 1 || p.Total != 0 || p.Lines[0].Text != "400.00 of RD26-0001, no longer asked for" {
		t.Errorf("the cancellation is %+v", p)
	}
	left(0)
	f.refuses(cancel, "request", "nothing left", "0")
	f.refuses(settling.Reversal{PaperID: 1, Day: "2026-10-13", Reason: "wrong"}, "paper", "something stands on it", "")
	f.posts(settling.Refund{Day: "2026-10-14", Sources: []settling.Share{{Item: 1, Amount: 60000}}, BankAccountID: 1, Method: posting.ByTransfer}, "Cr 101 600.00, Dr 221 600.00")
	left(60000)
	f.refuses(cancel, "request", "nothing left", "0") // on the 12th it was not given back yet
	cancel.Day = "2026-10-14"
	f.posts(cancel)
	left(0)
	refund := settling.Reversal{PaperID: 4, Day: "2026-10-15", Reason: "wrong"}
	f.refuses(refund, "paper", "more than is left", "0.00")
	const want = "Only 0.00 of RD26-0001 is left to be paid again, not 600.00, for the cancellation OC26-0002 took it since. Credit or take back that first."
	if _, err := refund.Plan(f); err == nil || !strings.Contains(err.Error(), want) {
		t.Errorf("refused with %v, want %s", err, want)
	}
	f.posts(settling.Reversal{PaperID: 5, Day: "2026-10-15", Reason: "wrong"})
	left(60000)
	f.posts(settling.Reversal{PaperID: 3, Day: "2026-10-15", Reason: "wrong"})
	left(100000)

	cancel.Reason = " "
	f.refuses(cancel, "reason", "missing", "")
	cancel.Reason, cancel.Day = "off", "2026-10-01"
	f.refuses(cancel, "day", "before the paper", "2026-10-02")
	cancel.RequestID = 2
	f.refuses(cancel, "request", "missing", "")
}
