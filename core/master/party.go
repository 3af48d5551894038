// Package master holds what papers refer to: parties, jobs, articles and payment
// terms.
package master

import (
	"strings"

	"cleantally/core/day"
	"cleantally/core/money"

	"github.com/shopspring/decimal"
)

// Party is a customer, a supplier, or both.
type Party struct {
	ID           int64
	Version      int64 // counts its changes, as of every record
	Number       string
	Name         string
	IsCustomer   bool
	IsSupplier   bool
	Contact      string
	Email        string
	Phone        string
	Address      string // where papers go, several lines
	Town         string
	SiteAddress  string // where the work is, when it is elsewhere
	TaxNumber    string
	TermsID      int64 // 0: the firm's own terms
	Note         string
	InvoiceNote  string // that a new invoice begins with, in place of the firm's
	IBAN         string // where a supplier is paid
	BIC          string
	GroupID      int64           // of customers who have prices of their own; 0 for none
	LetterheadID int64           // of papers to them; 0 for that of each kind
	Language     string          // of mails to them; "" for the firm's own
	Country      string          // two letters (ISO 3166-1), for electronic invoices
	CopiesTo     string          // e-mail addresses that get a copy, with commas
	Withhold     decimal.Decimal // tax that we withhold of a subcontractor, percent of the net
	KeepBack     decimal.Decimal // retention that we keep of a subcontractor, percent of the net
	LeftAlone    bool            // no reminders
	Currency     string          // that a new paper begins in, ISO 4217; "" for the firm's own
	Inactive     bool
}

// Printed returns the address as it stands on papers: the town ends it where
// the address does not name it already.
func (p Party) Printed() string {
	if p.Town == "" || strings.Contains(p.Address, p.Town) {
		return p.Address
	}
	return strings.TrimSpace(p.Address + "\n" + p.Town)
}

// Group is a group of customers who have prices of their own.
type Group struct {
	ID       int64
	Version  int64
	Name     string
	Inactive bool
}

// Price is what an article costs the customers of a group, per unit.
type Price struct {
	ArticleID int64
	GroupID   int64
	Price     decimal.Decimal
}

// CurrencyPrice is what an article costs in another currency than the firm's, per
// unit.
type CurrencyPrice struct {
	ArticleID int64
	Currency  string // ISO 4217
	Price     decimal.Decimal
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
	Markup      *decimal.Decimal // percent on costs that are passed on; nil: the firm's
	Budget      money.Amount     // what the job should cost, net; nil for none

	// What the customer keeps back of each invoice of the job, and until when.
	RetentionPercent    decimal.Decimal // of the base; nil: nothing is kept back
	RetentionGross      bool            // the base is with tax
	RetentionCap        money.Amount    // at most, on the same base; nil for no amount
	RetentionCapPercent decimal.Decimal // at most, of the contract sum; nil for no share
	RetentionTaxLater   bool            // its tax is due when it is released
	Releases            []ReleaseShare

	Stages []Stage // the billing plan, in order
}

// Stage is a stage of a job's billing plan: a share of the contract, or an
// amount, and when it is to be billed.
type Stage struct {
	ID      int64
	JobID   int64
	Name    string
	Percent decimal.Decimal // of the contract; nil for an amount
	Amount  money.Amount    // net; nil for a share
	Day     day.Day         // "" when it is not known yet
}

// ReleaseShare is a share of what is kept back, and the day on which it is
// expected.
type ReleaseShare struct {
	ID      int64
	JobID   int64
	Name    string          // at completion, at the end of the defects period
	Percent decimal.Decimal // of what is kept back
	Day     day.Day         // "" when it is not known yet
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
	Stocked   bool            // it is kept in stock, with quantity and average cost
	Serial    bool            // each piece of it bears a number of its own
	Prices    []Price         // of groups of customers, in place of Price
	Abroad    []CurrencyPrice // on papers in other currencies, in place of any of these
	Inactive  bool
}

// Currency is one that papers may be in, beside the firm's own.
type Currency struct {
	ID       int64
	Version  int64
	Code     string // ISO 4217
	Inactive bool
}
