// Package master holds what papers refer to: parties, jobs, items and payment
// terms.
package master

import (
	"cleantally/core/money"

	"github.com/shopspring/decimal"
)

// Party is a customer, a supplier, or both.
type Party struct {
	ID          int64
	Number      string
	Name        string
	IsCustomer  bool
	IsSupplier  bool
	Contact     string
	Email       string
	Phone       string
	Address     string // where papers go, several lines
	Town        string
	SiteAddress string // where the work is, when it is elsewhere
	TaxNumber   string
	TermsID     int64 // 0: the firm's own terms
	Note        string
	Inactive    bool
}

// Job is one order, project or contract for a customer.
type Job struct {
	ID          int64
	Number      string
	Name        string
	PartyID     int64
	Site        string
	ContractSum money.Amount // net, minor units; nil when none is agreed
	Closed      bool
	Note        string
}

// ItemKind says what an item is; it decides the default income account.
type ItemKind string

// The kinds of item.
const (
	Service  ItemKind = "service"
	Material ItemKind = "material"
)

// Item is something that is sold again and again.
type Item struct {
	ID        int64
	Code      string
	Name      string
	Kind      ItemKind
	Unit      string
	Price     decimal.Decimal // per unit, up to 6 places
	AccountID int64           // income account; 0: the default of its kind
	TaxCodeID int64           // 0: the firm's own
	Inactive  bool
}
