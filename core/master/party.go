// Package master holds what papers refer to: parties, jobs, articles and payment
// terms.
package master

import (
	"cleantally/core/money"

	"github.com/shopspring/decimal"
)

// Party is a customer, a supplier, or both.
type Party struct {
	ID          int64
	Version     int64 // counts its changes, as of every record
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
	Version     int64
	Number      string
	Name        string
	PartyID     int64
	Site        string
	ContractSum money.Amount // net, minor units; nil when none is agreed
	Closed      bool
	Note        string
}

// ArticleKind says what an article is; it decides the default income account.
type ArticleKind string

// The kinds of article.
const (
	Service  ArticleKind = "service"
	Material ArticleKind = "material"
)

// Article is what the firm sells or keeps in stock, from its price list.
type Article struct {
	ID        int64
	Version   int64
	Code      string
	Name      string
	Kind      ArticleKind
	Unit      string
	Price     decimal.Decimal // per unit, up to 6 places
	AccountID int64           // income account; 0: the default of its kind
	TaxCodeID int64           // 0: the firm's own
	Inactive  bool
}
