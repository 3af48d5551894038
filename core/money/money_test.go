package money

import (
	"slices"
	"testing"
)

var eur = Currency{Code: "EUR", Places: 2}

func TestShare(t *testing.T) {
	for _, c := range []struct {
		whole   Amount
		weights []Amount
		want    []Amount
	}{
		{10000, []Amount{1, 1, 1}, []Amount{3334, 3333, 3333}},
		{1000, []Amount{10000, 3333}, []Amount{750, 250}}, // E-1's discount
		{667, []Amount{3333, 3333, 3333}, []Amount{223, 222, 222}},
		{100001, []Amount{1, 1}, []Amount{50001, 50000}},
		{-100, []Amount{1, 2}, []Amount{-33, -67}},
		{100, []Amount{0, 5, -3}, []Amount{0, 100, 0}},
		{Limit, []Amount{Limit, Limit, Limit}, []Amount{333333333334, 333333333333, 333333333333}},
	} {
		got, err := Share(c.whole, c.weights)
		if err != nil || !slices.Equal(got, c.want) {
			t.Errorf("Share(%d, %v) = %v, %v; want %v", c.whole, c.weights, got, err, c.want)
		}
	}
	if _, err := Share(100, []Amount{0, 0}); err != ErrNothingToShareOver {
		t.Errorf("sharing over nil: %v", err)
	}
}

func TestPortion(t *testing.T) {
	left, rest := Amount(10000), Amount(1667)
	var got []Amount
	for _, used := range []Amount{3333, 3333, 3334} {
		p := Portion(used, rest, left)
		got, left, rest = append(got, p), left-used, rest-p
	}
	if want := []Amount{556, 555, 556}; !slices.Equal(got, want) {
		t.Errorf("portions %v, want %v", got, want)
	}
}

func TestCurrencyPlaces(t *testing.T) {
	for _, c := range []struct {
		code, text, shown string
		want              Amount
	}{
		{"EUR", "1200.00", "1,200.00", 120000},
		{"EUR", "-0.05", "−0.05", -5},
		{"JPY", "1200", "1,200", 1200},
		{"BHD", "1.234", "1.234", 1234},
	} {
		cur, err := CurrencyOf(c.code)
		if err != nil {
			t.Fatal(err)
		}
		got, err := cur.Parse(c.text)
		if err != nil || got != c.want || cur.Format(got) != c.text || cur.Show(got) != c.shown {
			t.Errorf("%s %s: %d, %v, %s, %s", c.code, c.text, got, err, cur.Format(got), cur.Show(got))
		}
	}
	for _, bad := range []string{"1.234", "1e5", "abc", "", "99999999999999999", "10000000000.01", "0x10", "NaN"} {
		if got, err := eur.Parse(bad); err == nil {
			t.Errorf("Parse(%q) = %d, want a refusal", bad, got)
		}
	}
	for _, bad := range []string{"eu", "EUX", "ZZZ", "XXX", "XTS", "eur"} {
		if _, err := CurrencyOf(bad); err == nil {
			t.Errorf("%s passed as a currency", bad)
		}
	}
}

func TestUnderstand(t *testing.T) {
	for text, want := range map[string]Amount{
		"1200*0.4": 48000, "86,40+12": 9840, "1,200.50": 120050, "1.200,50": 120050, "1 200": 120000,
		"1'200.5": 120050, "1,200": 120000, "1.200.000": 120000000, "(100-1)/3": 3300, "10/3": 333, "-5": -500,
		"−5": -500, "2 × 3,5": 700, ".5": 50, "12,": 1200, "1500": 150000, "0,05": 5, "7,440.00": 744000,
	} {
		if got, err := eur.Understand(text); err != nil || got != want {
			t.Errorf("Understand(%q) = %d, %v; want %d", text, got, err, want)
		}
	}
	for _, text := range []string{"1.200", "12,34,5", "1,2.3,4", "5/0", "(3", "3)", "1..2", "abc", "1.234567", "", "--", "((((((((((((((((((((((1"} {
		if got, err := eur.Understand(text); err == nil {
			t.Errorf("Understand(%q) = %d, want a refusal", text, got)
		}
	}
	if d, err := UnderstandDecimal("1.255", 6, PointMarks); err != nil || d.String() != "1.255" {
		t.Errorf("a price with a dot before three digits: %v, %v", d, err)
	}
	if _, err := UnderstandDecimal("1,255", 6, PointMarks); err == nil {
		t.Error("1,255 as a price is ambiguous and passed")
	}
}

// How a firm writes numbers says what a mark before three digits is; what was
// shown is understood as what it was.
func TestMarks(t *testing.T) {
	for _, c := range []struct {
		marks       Marks
		text, shown string
		want        Amount
	}{
		{CommaMarks, "1.200", "1.200,00", 120000}, {CommaMarks, "1,2", "1,20", 120}, {CommaMarks, "1,200", "1,20", 120}, {CommaMarks, "12.50", "12,50", 1250},
		{CommaMarks, "-1.234.567,89", "−1.234.567,89", -123456789}, {SpaceMarks, "1 234,5", "1\u00a0234,50", 123450}, {HighMarks, "1’234.5", "1’234.50", 123450}, {PointMarks, "1,200", "1,200.00", 120000},
	} {
		cur := Currency{Code: "EUR", Places: 2, Marks: c.marks}
		got, err := cur.Understand(c.text)
		if err != nil || got != c.want || cur.Show(got) != c.shown {
			t.Errorf("%s: %q is %d, %v, shown %q; want %d, %q", c.marks, c.text, got, err, cur.Show(got), c.want, c.shown)
		}
		if again, err := cur.Understand(cur.Show(got)); err != nil || again != got {
			t.Errorf("%s: %q comes back as %d, %v", c.marks, cur.Show(got), again, err)
		}
	}
	if d, err := UnderstandDecimal("1,255", 6, CommaMarks); err != nil || d.String() != "1.255" {
		t.Errorf("a price with a decimal comma: %s, %v", d, err)
	}
}

func FuzzUnderstand(f *testing.F) {
	for _, s := range []string{"1200*0.4", "86,40+12", "(1-2)/3", "−1.200,5"} {
		f.Add(s)
	}
	f.Fuzz(func(t *testing.T, text string) {
		a, err := eur.Understand(text)
		if err != nil {
			return
		}
		if a.Abs() > Limit {
			t.Fatalf("%q understood as %d, beyond the limit", text, a)
		}
		if again, err := eur.Parse(eur.Format(a)); err != nil || again != a {
			t.Fatalf("%q: %d does not come back from its own form: %d, %v", text, a, again, err)
		}
	})
}
