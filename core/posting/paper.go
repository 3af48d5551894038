package posting

import (
	"cleantally/core/day"
	"cleantally/core/ledger"
	"cleantally/core/money"

	"github.com/shopspring/decimal"
)

// Paper is anything with a number and a day that can be posted: the head that
// every paper has, and beside it what its family has. Amounts are in minor
// units. The name and address of the party are kept as they were.
type Paper struct {
	ID           int64
	Kind         Kind
	About        Kind // its own kind, or that of what it takes back
	Number       string
	Day          day.Day
	PartyID      int64
	PartyName    string
	PartyAddress string
	JobID        int64
	Title        string
	Reference    string
	Note         string
	Reason       string
	Total        money.Amount    // in the paper's currency
	Currency     string          // ISO 4217; "" for the firm's own
	Rate         decimal.Decimal // the firm's currency for one unit of Currency; nil in the firm's own
	Base         money.Amount    // what Total is worth in the firm's currency
	InFirm       Billing         // the sums of Billing in the firm's currency, of a paper in another; what else it has is left out
	ReversesID   int64           // what it takes back: of a reversal or a returned payment
	SourceID     int64           // the paper that it stands on: a recovery on a write-off
	Lines        []PaperLine

	Billing // of the family that bills, ours and a supplier's; empty for others
	Payment // of the family that moves money
	Span    // of the family that ends a period
	Offer   // of what is offered
}

// AsRead is a paper as people read it: a credit note's figures are above nil.
func (p Paper) AsRead() Paper {
	if p.Kind != CreditNote && p.Kind != SupplierCredit {
		return p
	}
	lines := make([]PaperLine, len(p.Lines))
	for n, l := range p.Lines {
		l.Before, l.Net, l.Tax = -l.Before, l.Net.Neg(), l.Tax.Neg()
		lines[n] = l
	}
	p.Lines, p.Billing, p.Total = lines, p.Billing.Negated(), -p.Total
	p.Base, p.InFirm = -p.Base, p.InFirm.Negated()
	return p
}

// PercentOf is the rate in percent that a paper bills a tax code at; nil where it
// bills nothing by it.
func (p Paper) PercentOf(code int64) decimal.Decimal {
	for _, l := range p.Lines {
		if l.TaxCodeID == code {
			return l.TaxPercent
		}
	}
	return decimal.Zero
}

// Firms are the sums of a paper in the firm's currency.
func (p Paper) Firms() Billing {
	if p.Currency == "" {
		return p.Billing
	}
	return p.InFirm
}

// Billing is what papers have that bill: terms and sums, in the paper's
// currency.
type Billing struct {
	Due          day.Day
	Form         string // what an invoice is in the course of a contract: stage, final; "" for neither
	Subject      string
	Salesperson  string
	OrderNumber  string  // the customer's own
	Supplied     day.Day // when it was supplied, where that is not the paper's day; it chooses the rates
	TermsID      int64
	Includes     bool // prices include tax
	Discount     money.Amount
	Net          money.Amount
	Tax          money.Amount
	Rounding     money.Amount
	Beside       money.Amount    // of Net, what is no work billed: deductions, below nil
	Deducted     money.Amount    // what was billed in advance and taken off, with its tax
	Retained     money.Amount    // what the customer keeps back of it
	RetainedWhy  string          // why that is not what the job's terms say; "" where it is
	EarlyPercent decimal.Decimal // early-payment discount, percent
	EarlyUntil   day.Day         // the last day of it; "" for none
}

// Payment is what papers have that move money, in the bank's currency.
type Payment struct {
	BankAccountID int64
	Method        Method
	Charges       money.Amount // what the bank kept of a receipt
	Withheld      money.Amount // the tax that a customer withheld
	Cheque        string       // number of the cheque that it is paid by
	BankDay       day.Day      // when the money came, where that is not the paper's day
}

// Span is what papers have that end a period: the days that it went from and
// through.
type Span struct{ SpanFrom, SpanThrough day.Day }

// Offer is what a quote has: the day through which it holds, and its version,
// counted from 1.
type Offer struct {
	Holds   day.Day // "" for no such day
	Version int
}

// Negated is the family data of a paper that takes one with b back.
func (b Billing) Negated() Billing {
	return Billing{Form: b.Form, TermsID: b.TermsID, Includes: b.Includes, Discount: -b.Discount, Net: -b.Net, Tax: -b.Tax, Rounding: -b.Rounding, Beside: -b.Beside, Deducted: -b.Deducted, Retained: -b.Retained}
}

// Negated is the family data of a paper that takes one with p back.
func (p Payment) Negated() Payment {
	return Payment{BankAccountID: p.BankAccountID, Method: p.Method, Charges: -p.Charges, Withheld: -p.Withheld}
}

// Method is how money moved.
type Method string

// The methods of payment.
const (
	ByTransfer Method = "transfer"
	ByCard     Method = "card"
	ByCheque   Method = "cheque"
	ByCash     Method = "cash"
	ByDebit    Method = "direct debit"
)

// Methods lists every method.
var Methods = []Method{ByTransfer, ByCard, ByCheque, ByCash, ByDebit}

// PaperLine is a line of a paper as it was posted. A line with a register
// waits there until it is used up: it is a thing that later papers take from.
type PaperLine struct {
	PaperID         int64
	Position        int // counted from 1
	ArticleID       int64
	JobID           int64 // where it is not the paper's
	Text            string
	Unit            string
	Quantity        decimal.Decimal
	UnitPrice       decimal.Decimal
	DiscountPercent decimal.Decimal
	Discount        money.Amount
	TaxCodeID       int64
	TaxPercent      decimal.Decimal
	AccountID       int64
	Before          money.Amount // before the paper's discount, as the line shows it
	Net             Worth        // after the paper's discount
	Tax             Worth
	Register        ledger.Role     // of a line that waits; "" for none
	PassOn          Treatment       // of a cost that is passed on to the customer of its job
	Markup          decimal.Decimal // percent, of a cost that is passed on as our own supply
	Joined          bool            // its input tax cannot be deducted and joins the cost
}

// Treatment is how a cost is passed on (docs/rules.md, part 5).
type Treatment string

// The treatments of a cost.
const (
	KeptAsCost Treatment = ""       // it is not passed on
	OurSupply  Treatment = "supply" // as our own supply: the net with a markup, taxed by its own code
	OnBehalf   Treatment = "behalf" // on the customer's behalf: with its tax, untaxed, without markup
)

// WithTax tells whether the tax of a bought line is a part of what it cost.
func (l PaperLine) WithTax() bool { return l.Joined || l.PassOn == OnBehalf }

// Cost is what of a part of a bought line is cost: without the tax inside,
// unless that is a part of it.
func (l PaperLine) Cost(p Part) money.Amount {
	if l.WithTax() {
		return p.Amount.Own
	}
	return p.Net()
}

// TakeCost takes an amount of a line's cost, with the tax that goes along, out
// of what is left of it.
func (l PaperLine) TakeCost(left Part, cost money.Amount) Part {
	if l.WithTax() {
		return left.Take(cost)
	}
	return left.TakeNet(cost)
}

// Part is what the line comes to, with its tax inside.
func (l PaperLine) Part() Part { return Part{l.Net.Add(l.Tax), l.Tax} }
