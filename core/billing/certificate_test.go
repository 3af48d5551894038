package billing_test

import (
	"testing"

	"cleantally/core/billing"
	"cleantally/core/master"
	"cleantally/core/money"
	"cleantally/core/posting"
)

// E-13's claims, each with its certificate as it stood then: what is posted later
// changes nothing of it.
func TestCertificates(t *testing.T) {
	f := newFirm(t)
	f.keeps(func(j *master.Job) { j.ContractSum = 4000000 })
	claim := func(percent string) billing.Claim {
		return billing.Claim{JobID: 1, Day: "2026-11-02", Percent: dec(percent)}
	}
	post := func(c posting.Command) posting.Paper {
		t.Helper()
		e, err := f.Book.Post(c)
		if err != nil {
			t.Fatal(err)
		}
		return f.Papers[len(f.Papers)-len(e.Papers)]
	}
	first := post(claim("25"))
	second := post(claim("60"))
	order := post(billing.Order{PartyID: 1, JobID: 1, Day: "2026-11-02", Lines: []posting.Line{work("5000", 1)}})
	third := post(claim("100"))
	type line = billing.CertificateLine
	for n, x := range []struct {
		p            posting.Paper
		before, held money.Amount
		lines        []line
		total        line
		tax, toPay   money.Amount
	}{
		{first, 0, 60000, []line{{"", "", 4000000, 0, 1000000}}, line{"", "", 4000000, 0, 1000000}, 200000, 1200000},
		{second, 1000000, 144000, []line{{"", "", 4000000, 1000000, 1400000}}, line{"", "", 4000000, 1000000, 1400000}, 280000, 1680000},
		{third, 2400000, 270000, []line{{"Work", order.Number, 500000, 0, 500000}, {"", "", 4000000, 2400000, 1600000}}, line{"", "", 4500000, 2400000, 2100000}, 420000, 2520000},
	} {
		job, _ := f.Job(1)
		c := billing.CertificateOf(f.Book, x.p, job, x.before, x.held)
		if !billing.IsClaim(x.p) || len(c.Lines) != len(x.lines) || c.Total != x.total || c.Tax != x.tax || c.ToPay != x.toPay || c.Held != x.held {
			t.Errorf("claim %d: %+v", n+1, c)
			continue
		}
		for i, want := range x.lines {
			got := c.Lines[i]
			if want.Text != "" {
				want.Text = got.Text
			}
			if got != want {
				t.Errorf("claim %d, line %d: %+v, want %+v", n+1, i+1, got, want)
			}
		}
	}
	if billing.IsClaim(order) {
		t.Error("an order is a claim")
	}
}
