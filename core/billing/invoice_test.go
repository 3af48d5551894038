package billing_test

import (
	"testing"

	"cleantally/core/billing"
	"cleantally/core/ledger"
	"cleantally/core/master"
	"cleantally/core/posting"
	"cleantally/core/posting/postingtest"
	"cleantally/core/tax"

	"github.com/shopspring/decimal"
)

func dec(s string) decimal.Decimal { return decimal.RequireFromString(s) }

// The day of supply chooses the rate of tax, and the paper says it.
func TestSupplied(t *testing.T) {
	b := postingtest.New()
	b.Rates[1] = "20"
	v := billing.Invoice{PartyID: 1, Day: "2026-11-20", Supplied: "2026-10-31", Lines: []posting.Line{{Text: "work", Unit: "h", Quantity: dec("2"), UnitPrice: dec("50"), TaxCodeID: 1}}}
	e, err := v.Plan(b)
	if err != nil || e.Paper().Supplied != "2026-10-31" || e.Paper().Lines[0].Unit != "h" {
		t.Errorf("%v, %+v", err, e.Paper())
	}
	v.Supplied = "1990-01-01"
	if _, err := v.Plan(b); err == nil {
		t.Error("there was no rate in 1990")
	}
}

func TestEntries(t *testing.T) {
	b := postingtest.New()
	b.Articles[1] = master.Article{ID: 1, Code: "BAL", Kind: master.Material}
	b.Articles[2] = master.Article{ID: 2, Code: "OWN", Kind: master.Service, AccountID: b.Role(ledger.PassedOnIncome).ID}
	b.Codes[4], b.Rates[4] = tax.Code{ID: 4, Code: "TC", Kind: tax.CustomerAccountsIt}, "20"
	one := func(l posting.Line) billing.Invoice {
		if l.Text == "" {
			l.Text = "work"
		}
		if l.Quantity.IsZero() {
			l.Quantity = dec("1")
		}
		return billing.Invoice{PartyID: 1, Day: "2026-11-20", Lines: []posting.Line{l}}
	}
	including := one(posting.Line{UnitPrice: dec("120"), TaxCodeID: 1})
	including.Includes = true
	rounded := one(posting.Line{UnitPrice: dec("100.02"), TaxCodeID: 1})
	rounded.RoundTo = 5
	discounted := one(posting.Line{UnitPrice: dec("200"), TaxCodeID: 1, DiscountPercent: dec("10")})
	discounted.DiscountPercent = dec("50")
	two := one(posting.Line{UnitPrice: dec("100"), TaxCodeID: 1})
	two.Lines = append(two.Lines, posting.Line{Text: "again", Quantity: dec("3"), UnitPrice: dec("33.33"), TaxCodeID: 1})
	for name, c := range map[string]struct {
		invoice billing.Invoice
		want    string
	}{
		"a service":                         {one(posting.Line{UnitPrice: dec("100"), TaxCodeID: 1}), "Dr 120 120.00, Cr 401 100.00, Cr 241 20.00"},
		"a material of the list":            {one(posting.Line{ArticleID: 1, UnitPrice: dec("100"), TaxCodeID: 1}), "Dr 120 120.00, Cr 405 100.00, Cr 241 20.00"},
		"an article with its own account":   {one(posting.Line{ArticleID: 2, UnitPrice: dec("100"), TaxCodeID: 3}), "Dr 120 100.00, Cr 411 100.00"},
		"the customer accounts for the tax": {one(posting.Line{UnitPrice: dec("2000"), TaxCodeID: 4}), "Dr 120 2000.00, Cr 401 2000.00"},
		"prices include tax":                {including, "Dr 120 120.00, Cr 401 100.00, Cr 241 20.00"},
		"a rounding line":                   {rounded, "Dr 120 120.00, Cr 401 100.02, Cr 241 20.00, Dr 641 0.02"},
		"both discounts":                    {discounted, "Dr 120 108.00, Cr 401 90.00, Cr 241 18.00"},
		"lines of one account are one":      {two, "Dr 120 239.99, Cr 401 199.99, Cr 241 40.00"},
	} {
		e, err := c.invoice.Plan(b)
		if err != nil {
			t.Errorf("%s: %v", name, err)
			continue
		}
		if got := postingtest.Lines(b, e); !postingtest.Same(got, []string{c.want}) {
			t.Errorf("%s: %q, want %q", name, got, c.want)
		}
		if err := e.Check(b); err != nil {
			t.Errorf("%s: %v", name, err)
		}
	}
}

// The customer's terms come before the firm's, the paper's before both, and a
// day that is named before all.
func TestDueDay(t *testing.T) {
	b := postingtest.New()
	b.TermsList[2] = master.Terms{ID: 2, Kind: master.InDays, Days: 14}
	b.TermsList[3] = master.Terms{ID: 3, Kind: master.EndOfMonth}
	v := billing.Invoice{PartyID: 1, Day: "2026-11-20", Lines: []posting.Line{{Text: "x", Quantity: dec("1"), UnitPrice: dec("1"), TaxCodeID: 3}}}
	due := func(want string) {
		t.Helper()
		e, err := v.Plan(b)
		if err != nil || string(e.Paper().Due) != want || string(e.Items[0].Due) != want {
			t.Errorf("due %s, want %s, %v", e.Paper().Due, want, err)
		}
	}
	due("2026-12-20")
	p := b.Parties[1]
	p.TermsID = 2
	b.Parties[1] = p
	due("2026-12-04")
	v.TermsID = 3
	due("2026-11-30")
	v.Due = "2026-11-25"
	due("2026-11-25")
}

// A half-written invoice is refused, yet shows as much as can be worked out.
func TestHalfWritten(t *testing.T) {
	b := postingtest.New()
	e, err := billing.Invoice{Day: "2026-11-20", Lines: []posting.Line{{Quantity: dec("2"), UnitPrice: dec("50"), TaxCodeID: 1}}}.Plan(b)
	if !postingtest.RefusedFor(err, "party", "missing") || !postingtest.RefusedFor(err, "lines[0].text", "missing") {
		t.Errorf("refused for %v", err)
	}
	if e.Paper().Total != 12000 || e.Paper().Lines[0].Before != 10000 || len(e.Entries) != 0 {
		t.Errorf("shows %+v", e)
	}
	var r posting.Refusals = err.(posting.Refusals)
	if r.Error() == "" {
		t.Error("a refusal says nothing")
	}
}
