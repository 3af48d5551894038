package tax

import (
	"errors"
	"testing"

	"cleantally/core/day"
	"cleantally/core/money"

	"github.com/shopspring/decimal"
)

var (
	eur = money.Currency{Code: "EUR", Places: 2}
	t20 = Code{ID: 1, Code: "STD", Kind: Charged}
	t10 = Code{ID: 2, Code: "RED", Kind: Charged}
	tca = Code{ID: 3, Code: "TCA", Kind: CustomerAccountsIt}
)

func dec(s string) decimal.Decimal { return decimal.RequireFromString(s) }

func line(qty, price string, code Code, percent string) Line {
	return Line{Quantity: dec(qty), UnitPrice: dec(price), Code: code, Percent: dec(percent)}
}

func TestE1(t *testing.T) {
	s, err := Compute([]Line{line("1", "100", t20, "20"), line("1", "33.33", t10, "10")}, Terms{Currency: eur, Discount: 1000})
	if err != nil {
		t.Fatal(err)
	}
	if s.Lines[0].Share != 750 || s.Lines[1].Share != 250 || s.Lines[0].Net != 9250 || s.Lines[1].Net != 3083 {
		t.Errorf("lines %+v", s.Lines)
	}
	if s.Codes[0].Tax != 1850 || s.Codes[1].Tax != 308 || s.Total != 14491 {
		t.Errorf("codes %+v, total %d", s.Codes, s.Total)
	}
}

func TestCompute(t *testing.T) {
	three := []Line{line("1", "33.33", t20, "20"), line("1", "33.33", t20, "20"), line("1", "33.33", t20, "20")}
	tenPercent := Line{Quantity: dec("36"), UnitPrice: dec("25"), DiscountPercent: dec("10"), Code: t20, Percent: dec("20")}
	amountOff := Line{Quantity: dec("2.5"), UnitPrice: dec("3.333333"), Discount: 33, Code: t20, Percent: dec("20")}
	for name, c := range map[string]struct {
		lines                     []Line
		terms                     Terms
		net, tax, rounding, total money.Amount
		taxes                     []money.Amount
	}{
		"tax once over the paper":    {three, Terms{}, 9999, 2000, 0, 11999, []money.Amount{667, 667, 666}},
		"line discount in percent":   {[]Line{tenPercent}, Terms{}, 81000, 16200, 0, 97200, nil},
		"line discount as an amount": {[]Line{amountOff}, Terms{}, 800, 160, 0, 960, nil},
		"prices include tax":         {[]Line{line("1", "120", t20, "20"), line("1", "11", t10, "10")}, Terms{Includes: true}, 11000, 2100, 0, 13100, nil},
		"prices include tax, discount by gross": {[]Line{line("1", "120", t20, "20"), line("1", "60", t10, "10")},
			Terms{Includes: true, DiscountPercent: dec("10")}, 13909, 2291, 0, 16200, nil},
		"rounded to 0.05":           {[]Line{line("1", "100.02", t20, "20")}, Terms{RoundTo: 5}, 10002, 2000, -2, 12000, nil},
		"rounded to 1.00, half up":  {[]Line{line("1", "10.50", t20, "0")}, Terms{RoundTo: 100}, 1050, 0, 50, 1100, nil},
		"customer accounts for tax": {[]Line{line("1", "2000", tca, "20")}, Terms{}, 200000, 0, 0, 200000, nil},
		"an apart line takes no part in the discount": {[]Line{line("1", "100", t20, "20"),
			{Quantity: dec("1"), UnitPrice: dec("50"), Code: t10, Percent: dec("10"), Apart: true}},
			Terms{Discount: 1000}, 14000, 2300, 0, 16300, nil},
		"a line at nil": {[]Line{line("1", "0", t20, "20"), line("1", "10", t20, "20")}, Terms{}, 1000, 200, 0, 1200, []money.Amount{0, 200}},
	} {
		c.terms.Currency = eur
		s, err := Compute(c.lines, c.terms)
		if err != nil || s.Net != c.net || s.Tax != c.tax || s.Rounding != c.rounding || s.Total != c.total {
			t.Errorf("%s: net %d tax %d rounding %d total %d, %v", name, s.Net, s.Tax, s.Rounding, s.Total, err)
		}
		for i, want := range c.taxes {
			if s.Lines[i].Tax != want {
				t.Errorf("%s: line %d has tax %d, want %d", name, i+1, s.Lines[i].Tax, want)
			}
		}
	}
	if _, err := Compute(three, Terms{Currency: eur, Discount: 10000}); err != ErrDiscountTooLarge {
		t.Errorf("a discount above the paper: %v", err)
	}
	if _, err := Compute([]Line{line("1000000", "100000000000", t20, "20")}, Terms{Currency: eur}); !errors.Is(err, ErrTooLarge) {
		t.Errorf("a paper beyond the limit: %v", err)
	}
}

func TestRateOn(t *testing.T) {
	rates := []Rate{{Since: "2020-01-01", Percent: dec("19")}, {Since: "2026-01-01", Percent: dec("20")}}
	for d, want := range map[day.Day]string{"2025-12-31": "19", "2026-01-01": "20"} {
		if r, err := RateOn(t20, rates, d); err != nil || !r.Equal(dec(want)) {
			t.Errorf("%s: %s, %v, want %s", d, r, err, want)
		}
	}
	if _, err := RateOn(t20, rates, "2019-12-31"); err == nil {
		t.Error("a day before the first rate passed")
	}
}
