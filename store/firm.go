package store

import (
	"errors"

	"cleantally/core/day"
)

// Firm is the business whose books these are.
type Firm struct {
	ID            int64
	Name          string
	Address       string
	Email         string
	Phone         string
	TaxNumber     string
	Currency      string // ISO 4217
	TermsID       int64  // the firm's own terms
	TaxCodeID     int64  // the code of a new line
	LockedThrough day.Day
	ChartVersion  int64 // see chart
}

func (Firm) TableName() string { return "firm" }

// ErrNoFirm says that the firm has not been set up yet.
var ErrNoFirm = errors.New("the firm has not been set up yet")

// Firm returns the firm, or ErrNoFirm.
func (r Reader) Firm() (Firm, error) {
	firm, ok, err := one[Firm](r, "SELECT * FROM firm")
	if err == nil && !ok {
		err = ErrNoFirm
	}
	return firm, err
}
