// Package money holds amounts as whole numbers of a currency's minor unit and
// the three ways in which an amount is rounded, shared and used up (docs/rules.md, part 2).
package money

import (
	"errors"
	"fmt"
	"math/big"
	"strings"

	"github.com/shopspring/decimal"
	"golang.org/x/text/currency"
)

// Amount is a number of minor units (cents for EUR, yen for JPY). It is never
// a binary fraction.
type Amount int64

// Limit bounds every amount, in minor units, so that sums over a whole ledger
// cannot overflow: 250 years of days on which 10 such amounts meet on one
// account come to less than an int64 holds (see DayLimit).
const Limit Amount = 1e12

// DayLimit bounds what an account moves by on one day, on either side, in
// minor units. Papers that would pass it are refused.
const DayLimit Amount = 10 * Limit

// Abs returns the amount without its sign.
func (a Amount) Abs() Amount {
	if a < 0 {
		return -a
	}
	return a
}

// Currency is an ISO 4217 currency and the number of places of its minor unit.
type Currency struct {
	Code   string
	Places int32
	Marks  Marks // how the firm writes its numbers
}

// Places that differ from the usual two (ISO 4217).
var places = map[string]int32{
	"BIF": 0, "CLP": 0, "DJF": 0, "GNF": 0, "ISK": 0, "JPY": 0, "KMF": 0, "KRW": 0, "PYG": 0, "RWF": 0,
	"UGX": 0, "VND": 0, "VUV": 0, "XAF": 0, "XOF": 0, "XPF": 0,
	"UYI": 0, "CLF": 4, "UYW": 4,
	"BHD": 3, "IQD": 3, "JOD": 3, "KWD": 3, "LYD": 3, "OMR": 3, "TND": 3,
}

// CurrencyOf returns the currency with the given ISO 4217 code, or an error
// when the code is not three capital letters, or none that there is. Which there
// are the Unicode tables say; their places are not those of ISO 4217.
func CurrencyOf(code string) (Currency, error) {
	if len(code) != 3 || strings.Trim(code, "ABCDEFGHIJKLMNOPQRSTUVWXYZ") != "" {
		return Currency{}, fmt.Errorf("a currency is three capital letters, for example EUR, not %q", code)
	}
	if _, err := currency.ParseISO(code); err != nil || code == "XXX" || code == "XTS" {
		return Currency{}, fmt.Errorf("there is no currency %s", code)
	}
	if p, ok := places[code]; ok {
		return Currency{Code: code, Places: p}, nil
	}
	return Currency{Code: code, Places: 2}, nil
}

// Format writes an amount as a plain decimal string with the currency's
// places: 120000 in EUR is "1200.00". It is the form of the API.
func (c Currency) Format(a Amount) string {
	return c.Decimal(a).StringFixed(c.Places)
}

// Price writes a unit price with all its places, and at least the currency's.
func (c Currency) Price(d decimal.Decimal) string {
	_, places, _ := strings.Cut(d.String(), ".")
	return d.StringFixed(max(c.Places, int32(len(places))))
}

// Show writes an amount for people: grouped by thousands with the firm's marks,
// with a real minus sign: −1,200.00.
func (c Currency) Show(a Amount) string { return c.Marks.Show(c.Format(a)) }

// Parse reads the plain decimal form that Format writes, without sums or
// thousands marks. It refuses more places than the currency has.
func (c Currency) Parse(s string) (Amount, error) {
	if len(s) > 40 {
		return 0, errors.New("that is too long for an amount")
	}
	if strings.ContainsAny(s, "eE") {
		return 0, fmt.Errorf("%q is not an amount", s)
	}
	d, err := decimal.NewFromString(s)
	if err != nil {
		return 0, fmt.Errorf("%q is not an amount", s)
	}
	return c.exact(d)
}

func (c Currency) exact(d decimal.Decimal) (Amount, error) {
	if !d.Equal(d.Round(c.Places)) {
		return 0, fmt.Errorf("%s has more than the %d places of %s", d, c.Places, c.Code)
	}
	return c.bounded(d)
}

func (c Currency) bounded(d decimal.Decimal) (Amount, error) {
	if d.Abs().GreaterThan(c.Decimal(Limit)) {
		return 0, fmt.Errorf("that is beyond the limit of %s", c.Show(Limit))
	}
	return c.Round(d), nil
}

// In returns the currency of a code, written with the same marks; the same one
// where the code is "" or of none.
func (c Currency) In(code string) Currency {
	other, err := CurrencyOf(code)
	if err != nil || code == c.Code {
		return c
	}
	other.Marks = c.Marks
	return other
}

// One returns one whole unit of the currency.
func (c Currency) One() Amount { return c.Round(decimal.New(1, 0)) }

// Decimal returns the amount in whole units of the currency.
func (c Currency) Decimal(a Amount) decimal.Decimal {
	return decimal.New(int64(a), -c.Places)
}

// Round rounds half away from zero to the currency's minor unit, once.
// What is beyond Limit comes back as just past it, so that a check finds it;
// who goes on computing with what may be beyond it uses Rounded.
func (c Currency) Round(d decimal.Decimal) Amount {
	a, err := c.Rounded(d)
	if err != nil {
		return (Limit + 1) * Amount(d.Sign())
	}
	return a
}

// ErrBeyondLimit says that a figure is beyond Limit.
var ErrBeyondLimit = errors.New("that is more than the program can hold")

// Rounded rounds as Round does, and answers ErrBeyondLimit beyond Limit.
func (c Currency) Rounded(d decimal.Decimal) (Amount, error) {
	minor := d.Shift(c.Places).Round(0)
	if minor.Abs().GreaterThan(decimal.New(int64(Limit), 0)) {
		return 0, ErrBeyondLimit
	}
	return Amount(minor.IntPart()), nil
}

// Fits tells whether a decimal has no more than so many places: 1.1230000 fits
// into three.
func Fits(d decimal.Decimal, places int32) bool { return d.Equal(d.Truncate(places)) }

// Percent returns so many percent of d, exactly.
func Percent(d, percent decimal.Decimal) decimal.Decimal { return d.Mul(percent).Shift(-2) }

// ErrNothingToShareOver says that the parts of a sharing add up to nil.
var ErrNothingToShareOver = errors.New("there is nothing to share the amount over")

// Share shares whole over parts in proportion to the positive weights: exact
// shares rounded down, the left-over minor units given to the largest
// fractions, the first part first on a tie. The shares add up to whole.
// Weights of nil or less take no part.
func Share(whole Amount, weights []Amount) ([]Amount, error) {
	sum, some, last := new(big.Int), 0, 0
	for i, w := range weights {
		if w > 0 {
			sum.Add(sum, big.NewInt(int64(w)))
			some, last = some+1, i
		}
	}
	shares := make([]Amount, len(weights))
	switch some {
	case 0:
		return nil, ErrNothingToShareOver
	case 1:
		shares[last] = whole
		return shares, nil
	}
	rests := make([]*big.Int, len(weights))
	left := whole.Abs()
	for i, w := range weights {
		rests[i] = new(big.Int)
		if w <= 0 {
			continue
		}
		share := new(big.Int).Mul(big.NewInt(int64(whole.Abs())), big.NewInt(int64(w)))
		share.QuoRem(share, sum, rests[i])
		shares[i] = Amount(share.Int64())
		left -= shares[i]
	}
	for ; left > 0; left-- {
		best := -1
		for i, w := range weights {
			if w > 0 && (best < 0 || rests[i].Cmp(rests[best]) > 0) {
				best = i
			}
		}
		shares[best]++
		rests[best].SetInt64(-1)
	}
	if whole < 0 {
		for i := range shares {
			shares[i] = -shares[i]
		}
	}
	return shares, nil
}

// Portion returns what goes along when used is taken out of left, where rest
// is still bound to left: round(used × rest ÷ left). The last takes what is
// left, and none goes below nil.
func Portion(used, rest, left Amount) Amount {
	if used >= left {
		return rest
	}
	if used <= 0 || left <= 0 {
		return 0
	}
	if used < 1<<30 && rest.Abs() < 1<<30 { // most do, and fit
		return min((2*used*rest+left)/(2*left), rest)
	}
	n := new(big.Int).Mul(big.NewInt(int64(used)), big.NewInt(int64(rest)))
	n.Mul(n, big.NewInt(2)).Add(n, big.NewInt(int64(left)))
	n.Quo(n, big.NewInt(2*int64(left)))
	return min(Amount(n.Int64()), rest)
}
