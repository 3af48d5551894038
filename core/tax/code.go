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
	Inactive bool
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
