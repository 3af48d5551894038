// Package tax holds tax codes with their dated rates, and the sums of a paper:
// line nets, discounts, tax per code and rounding (docs/rules.md, part 2).
package tax

import (
	"fmt"

	"cleantally/core/day"

	"github.com/shopspring/decimal"
)

// Kind says who owes the tax of a code.
type Kind string

// The kinds of tax code.
const (
	Charged            Kind = "charged"           // we charge it and owe it
	CustomerAccountsIt Kind = "customer accounts" // nil on our paper, and a sentence
)

// Sentence is what a paper says when the customer accounts for the tax.
const Sentence = "The customer accounts for the tax on this supply."

// Code is a value-added or sales tax code, such as STD.
type Code struct {
	ID       int64
	Version  int64
	Code     string
	Name     string
	Kind     Kind
	Category string // in electronic invoices: S Z E AE K G O; "" for what follows from kind and rate
	Reason   string // why it is not taxed, where a category has to say it; "" for its usual one
	Inactive bool
}

// Categories are those of electronic invoices (EN 16931), each with the kind of
// code that it is for and whether that has a rate above nil.
var Categories = map[string]struct {
	Kind   Kind
	Rated  bool
	Reason string // the usual
	Code   string // of the reason
}{
	"S": {Charged, true, "", ""}, "Z": {Charged, false, "", ""}, "E": {Charged, false, "Exempt from tax", ""},
	"AE": {CustomerAccountsIt, true, "Reverse charge", "VATEX-EU-AE"}, "K": {CustomerAccountsIt, true, "Intra-community supply", "VATEX-EU-IC"},
	"G": {Charged, false, "Export", "VATEX-EU-G"}, "O": {Charged, false, "Outside the scope of tax", "VATEX-EU-O"},
}

// CategoryAt is the category of a code at a rate: the one that it names, or what
// follows from kind and rate.
func (c Code) CategoryAt(percent decimal.Decimal) string {
	switch {
	case c.Category != "":
		return c.Category
	case c.Kind == CustomerAccountsIt:
		return "AE"
	case percent.IsZero():
		return "Z"
	}
	return "S"
}

// Rate is the percentage of a code from a day on.
type Rate struct {
	ID        int64
	TaxCodeID int64
	Since     day.Day
	Percent   decimal.Decimal
}

// RateOn returns the rate that is in force on d: the newest that began on or
// before it. The error names the code when it had no rate yet.
func RateOn(code Code, rates []Rate, d day.Day) (decimal.Decimal, error) {
	var found *Rate
	for i, r := range rates {
		if r.Since <= d && (found == nil || r.Since > found.Since) {
			found = &rates[i]
		}
	}
	if found == nil {
		return decimal.Zero, fmt.Errorf("tax code %s has no rate on %s", code.Code, d.Show())
	}
	return found.Percent, nil
}
