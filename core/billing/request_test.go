package billing_test

import (
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
