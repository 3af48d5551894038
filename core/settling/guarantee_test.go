package settling_test

import (
	"testing"

	"cleantally/core/billing"
	"cleantally/core/ledger"
	"cleantally/core/money"
	"cleantally/core/posting"
	"cleantally/core/posting/postingtest"
	"cleantally/core/settling"

	"github.com/shopspring/decimal"
)

// A guarantee in the place of retention releases it up to its amount, with its
// tax; by itself it posts nothing. What cannot be is refused.
func TestGuarantee(t *testing.T) {
	b := postingtest.New()
	j := b.Jobs[1]
	j.RetentionPercent, j.RetentionTaxLater = decimal.New(5, 0), true
	b.Jobs[1] = j
	if _, err := b.Post(billing.Invoice{PartyID: 1, JobID: 1, Day: "2026-11-02", Lines: []posting.Line{{Text: "work", Quantity: decimal.New(1, 0), UnitPrice: decimal.New(12000, 0), TaxCodeID: 1}}}); err != nil {
		t.Fatal(err)
	}
	g := settling.Guarantee{PartyID: 1, JobID: 1, Day: "2026-11-20", LastDay: "2028-11-20", Issuer: "Guild Insurers", Amount: 36000, Release: true}
	for _, x := range []struct {
		set   func(*settling.Guarantee)
		field string
		rule  string
	}{
		{func(g *settling.Guarantee) { g.LastDay = "2026-11-19" }, "lastDay", "before the paper"},
		{func(g *settling.Guarantee) { g.LastDay = "" }, "lastDay", "no such day"},
		{func(g *settling.Guarantee) { g.Issuer = " " }, "issuer", "missing"},
		{func(g *settling.Guarantee) { g.Amount = 0 }, "amount", "above nil"},
		{func(g *settling.Guarantee) { g.PartyID, g.JobID = 2, 0 }, "release", "nothing is held"},
		{func(g *settling.Guarantee) { g.PartyID = 2 }, "job", "another customer's job"},
	} {
		bad := g
		x.set(&bad)
		_, err := bad.Plan(b)
		if all, _ := err.(posting.Refusals); len(all) == 0 || all[0].Field != x.field || all[0].Rule != x.rule {
			t.Errorf("%v, want %s at %s", err, x.rule, x.field)
		}
	}
	e, err := b.Post(g)
	if err != nil {
		t.Fatal(err)
	}
	if got := postingtest.Lines(b, e); !postingtest.Same(got, []string{"Dr 120 360.00, Cr 124 360.00, Dr 244 60.00, Cr 241 60.00"}) || len(e.Papers) != 2 || e.Paper().Due != "2028-11-20" {
		t.Errorf("%q, %d papers", got, len(e.Papers))
	}
	g.Amount = 100000
	if e, err = b.Post(g); err != nil || e.Papers[1].Total != 36000 {
		t.Errorf("the rest: %v", err)
	}
	if left := b.PartyBalance(ledger.Retention, 1); left != money.Amount(0) {
		t.Errorf("still kept back: %d", left)
	}
	g.Release = false
	if e, err := b.Post(g); err != nil || len(e.Entries) != 0 {
		t.Errorf("by itself: %v, %d entries", err, len(e.Entries))
	}
	if _, err := b.Post(settling.Reversal{PaperID: 2, Day: "2026-11-20", Reason: "wrong"}); err != nil {
		t.Errorf("taken back: %v", err)
	}
	if err := b.Prove(); err != nil {
		t.Error(err)
	}
}
