package money_test

import (
	"testing"

	"cleantally/core/money"
)

func TestWords(t *testing.T) {
	eur, yen, dinar := money.Currency{Code: "EUR", Places: 2}, money.Currency{Code: "JPY"}, money.Currency{Code: "BHD", Places: 3}
	for _, x := range []struct {
		c    money.Currency
		a    money.Amount
		want string
	}{
		{eur, 7000, "Seventy and 00/100 EUR"},
		{eur, 0, "Nil and 00/100 EUR"},
		{eur, 5, "Nil and 05/100 EUR"},
		{eur, -7042, "Seventy and 42/100 EUR"},
		{eur, 1900, "Nineteen and 00/100 EUR"},
		{eur, 2100, "Twenty-one and 00/100 EUR"},
		{eur, 10000, "One hundred and 00/100 EUR"},
		{eur, 100000001, "One million and 01/100 EUR"},
		{eur, 123456789, "One million two hundred thirty-four thousand five hundred sixty-seven and 89/100 EUR"},
		{yen, 1012, "One thousand twelve JPY"},
		{dinar, 1012, "One and 012/1000 BHD"},
	} {
		if got := x.c.Words(x.a); got != x.want {
			t.Errorf("%d %s: %q, want %q", x.a, x.c.Code, got, x.want)
		}
	}
}
