package money

import (
	"fmt"
	"strings"
)

var (
	ones = []string{"", "one", "two", "three", "four", "five", "six", "seven", "eight", "nine", "ten", "eleven", "twelve", "thirteen", "fourteen", "fifteen", "sixteen",
		"seventeen", "eighteen", "nineteen"}
	tens   = []string{"", "", "twenty", "thirty", "forty", "fifty", "sixty", "seventy", "eighty", "ninety"}
	groups = []string{"", " thousand", " million", " billion", " trillion", " quadrillion"}
)

// Words writes an amount as a cheque or a receipt does: seventy and 00/100 EUR.
func (c Currency) Words(a Amount) string {
	unit := int64(1)
	for range c.Places {
		unit *= 10
	}
	whole, minor := int64(a.Abs())/unit, int64(a.Abs())%unit
	text := "nil"
	if whole > 0 {
		var parts []string
		for g := 0; whole > 0; g, whole = g+1, whole/1000 {
			if n := whole % 1000; n > 0 {
				parts = append([]string{below1000(n) + groups[g]}, parts...)
			}
		}
		text = strings.Join(parts, " ")
	}
	if c.Places > 0 {
		text += fmt.Sprintf(" and %0*d/%d", c.Places, minor, unit)
	}
	return strings.ToUpper(text[:1]) + text[1:] + " " + c.Code
}

func below1000(n int64) string {
	var parts []string
	if n >= 100 {
		parts = append(parts, ones[n/100]+" hundred")
		n %= 100
	}
	switch {
	case n >= 20 && n%10 > 0:
		parts = append(parts, tens[n/10]+"-"+ones[n%10])
	case n >= 20:
		parts = append(parts, tens[n/10])
	case n > 0:
		parts = append(parts, ones[n])
	}
	return strings.Join(parts, " ")
}
