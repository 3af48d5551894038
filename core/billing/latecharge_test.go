package billing_test

import (
	"testing"

	"cleantally/core/billing"
	"cleantally/core/posting"
	"cleantally/core/settling"
)

// overdue is an invoice of 2,400.00 that was due on 6 Oct 2026.
func overdue(f firm) {
	v := billing.Invoice{PartyID: 1, Day: "2026-09-06", Due: "2026-10-06", Lines: []posting.Line{work("2400", 3)}}
	f.posts(v, "Dr 120 2400.00, Cr 401 2400.00")
}

func charge() billing.LateCharge {
	return billing.LateCharge{PartyID: 1, Day: "2026-11-20", Through: "2026-11-20", Percent: dec("8")}
}

// The rules' figures: 45 days at 8 %; 20 days of it, then a part is paid.
func TestLateCharge(t *testing.T) {
	f := newFirm(t)
	overdue(f)
	e := f.posts(charge(), "Dr 120 23.67, Cr 431 23.67")
	if p := e.Paper(); p.Form != "late charge" || p.Lines[0].Text != "I26-0001, due 6 Oct 2026: 45 days overdue at 8 % a year" || len(e.Charges) != 1 {
		t.Errorf("the paper: %+v", p)
	}
	f.refuses(charge(), "through", "nothing to charge", "")
	// Reversed, its days are free again.
	f.posts(settling.Reversal{PaperID: 2, Day: "2026-11-20", Reason: "wrong"}, "Cr 120 23.67, Dr 431 23.67")
	early := charge()
	early.Through = "2026-10-26"
	f.posts(early, "Dr 120 10.52, Cr 431 10.52")
	f.posts(charge(), "Dr 120 13.15, Cr 431 13.15") // 25 days; charges bear none

	f = newFirm(t)
	overdue(f)
	f.posts(settling.Receipt{PartyID: 1, Day: "2026-10-27", Arrived: 100000, BankAccountID: 1, Method: posting.ByTransfer, Placements: []settling.Placement{{Debit: 1, Amount: 100000}}}, "Dr 101 1000.00, Cr 120 1000.00")
	f.posts(charge(), "Dr 120 18.19, Cr 431 18.19")
}

// Credits that waited lower what bears interest; grace leaves days out; what was
// paid late bears it for the days before; a fee goes along.
func TestLateChargeOnWhat(t *testing.T) {
	f := newFirm(t)
	overdue(f)
	f.posts(settling.Receipt{PartyID: 1, Day: "2026-10-27", Arrived: 100000, BankAccountID: 1, Method: posting.ByTransfer, OnAccount: true}, "Dr 101 1000.00, Cr 120 1000.00")
	f.posts(charge(), "Dr 120 18.19, Cr 431 18.19")

	f = newFirm(t)
	overdue(f)
	c := charge()
	c.Grace, c.Fee = 44, 1500
	f.posts(c, "Dr 120 15.53, Cr 431 15.53")

	f = newFirm(t)
	overdue(f)
	f.posts(settling.Receipt{PartyID: 1, Day: "2026-10-27", Arrived: 240000, BankAccountID: 1, Method: posting.ByTransfer, Placements: []settling.Placement{{Debit: 1, Most: true}}}, "Dr 101 2400.00, Cr 120 2400.00")
	f.posts(charge(), "Dr 120 10.52, Cr 431 10.52")
}

// Disputed days bear charges only where the dispute ends as unfounded.
func TestLateChargeOfDisputes(t *testing.T) {
	for name, x := range map[string]struct {
		unfounded bool
		entry     string
	}{
		"founded":   {false, "Dr 120 10.52, Cr 431 10.52"}, // 20 of 45 days
		"unfounded": {true, "Dr 120 23.67, Cr 431 23.67"},
	} {
		f := newFirm(t)
		overdue(f)
		f.posts(settling.Dispute{Item: 1, Day: "2026-10-17", Reason: "scratched"})
		open := charge()
		f.posts(settling.Dispute{Item: 1, Day: "2026-11-11", End: true, Unfounded: x.unfounded})
		if e := f.posts(open, x.entry); len(e.Charges) == 0 {
			t.Errorf("%s: no days", name)
		}
	}
}

// What is no charge is refused.
func TestBadLateCharges(t *testing.T) {
	f := newFirm(t)
	overdue(f)
	for _, x := range []struct {
		set   func(*billing.LateCharge)
		field string
		rule  string
	}{
		{func(c *billing.LateCharge) { c.Percent = dec("0") }, "percent", "missing"},
		{func(c *billing.LateCharge) { c.Percent = dec("101") }, "percent", "out of bounds"},
		{func(c *billing.LateCharge) { c.Through = "2026-11-21" }, "through", "after the paper"},
		{func(c *billing.LateCharge) { c.Through = "2026-02-30" }, "through", "no such day"},
		{func(c *billing.LateCharge) { c.Grace = 45 }, "through", "nothing to charge"},
		{func(c *billing.LateCharge) { c.Grace = 366 }, "fee", "out of bounds"},
		{func(c *billing.LateCharge) { c.PartyID = 2 }, "through", "nothing to charge"},
		{func(c *billing.LateCharge) { c.PartyID = 9 }, "party", "missing"},
	} {
		c := charge()
		x.set(&c)
		f.refuses(c, x.field, x.rule, "")
	}
}
