// Package posting says what a command does to the books before it does it.
//
// A Command is planned against Facts and answers an Effect: plain data that is
// either shown or committed. Both come from the same plan, so that what is
// shown is what is posted.
package posting

import (
	"cleantally/core/day"
	"cleantally/core/ledger"
	"cleantally/core/money"

	"github.com/shopspring/decimal"
)

// Command is one thing that a bookkeeper does.
type Command interface {
	// Plan returns what the command would do. The error is Refusals when a
	// rule forbids it; the effect then holds as much as could be worked out.
	Plan(Facts) (Effect, error)
}

// Kind is a kind of paper.
type Kind string

// The kinds of paper.
const (
	Invoice  Kind = "invoice"
	Deposit  Kind = "deposit"
	Receipt  Kind = "receipt"
	Reversal Kind = "reversal"
)

// Kinds lists every kind of paper.
var Kinds = []Kind{Invoice, Deposit, Receipt, Reversal}

// Paper is anything with a number and a day that can be posted. Amounts are in
// minor units. The name and address of the party are kept as they were.
type Paper struct {
	ID            int64
	Kind          Kind
	Number        string
	Day           day.Day
	Due           day.Day
	PartyID       int64
	PartyName     string
	PartyAddress  string
	JobID         int64
	Title         string
	TermsID       int64
	Reference     string
	Note          string
	BankAccountID int64
	Method        Method
	Includes      bool // prices include tax
	Discount      money.Amount
	Net           money.Amount
	Tax           money.Amount
	Rounding      money.Amount
	Total         money.Amount
	Kept          money.Amount // what the bank kept of a receipt
	ReversesID    int64
	Lines         []PaperLine
}

// Method is how money moved.
type Method string

// The methods of payment.
const (
	Transfer Method = "transfer"
	Card     Method = "card"
	Cheque   Method = "cheque"
	Cash     Method = "cash"
	Debit    Method = "direct debit"
)

// Methods lists every method.
var Methods = []Method{Transfer, Card, Cheque, Cash, Debit}

// PaperLine is a line of a paper as it was posted.
type PaperLine struct {
	ID              int64
	PaperID         int64
	Position        int
	ItemID          int64
	Text            string
	Quantity        decimal.Decimal
	UnitPrice       decimal.Decimal
	DiscountPercent decimal.Decimal
	Discount        money.Amount
	TaxCodeID       int64
	TaxPercent      decimal.Decimal
	AccountID       int64
	Before          money.Amount // before the paper's discount, as the line shows it
	Net             money.Amount // after the paper's discount
	Tax             money.Amount
}

// ItemRef names an open item: above nil one that is posted, below nil the
// n-th new item of an effect (−1 is the first).
type ItemRef int64

// Item is an open item: what of a posted paper can be settled. It stands in
// the register of a control account. Amount and Open are in minor units, above
// nil for a debit and below nil for a credit.
type Item struct {
	ID       ItemRef
	Register ledger.Role
	PaperID  int64 // 0 in an effect: the effect's own paper
	Part     int   // which instalment, counted from 1; 0 when there is but one
	PartyID  int64
	JobID    int64
	Day      day.Day
	Due      day.Day
	Amount   money.Amount
	Open     money.Amount

	Kind   Kind   // of its paper
	Number string // of its paper
}

// Move is a change of an item's open amount on a day. The first move of an
// item is its own amount.
type Move struct {
	Item       ItemRef
	Day        day.Day
	Amount     money.Amount
	Allocation int // which allocation of the effect, counted from 1; 0 for the item's own
}

// Allocation is one credit set against one debit. Undoes names the allocation
// that this one takes back.
type Allocation struct {
	ID     int64
	Debit  ItemRef
	Credit ItemRef
	Amount money.Amount
	Day    day.Day
	Undoes int64
}

// Entry is a journal entry of an effect. PaperID 0 is the effect's own paper.
type Entry struct {
	ledger.Entry
	PaperID    int64
	Allocation int // which allocation of the effect, counted from 1; 0 for none
}

// Balance is a balance that an effect touches, before and after.
type Balance struct {
	Kind   string // item, party, job, account
	ID     int64  // 0 for an item that does not exist yet
	Name   string // I26-0043, Odalys Brandt, 2100 Customer deposits
	What   string // open, held, not placed, owes, left to bill; "" for an account
	Before money.Amount
	After  money.Amount
}

// Effect is what a command does, as plain data.
type Effect struct {
	Paper       *Paper // nil when the command makes none
	Entries     []Entry
	Items       []Item
	Moves       []Move
	Allocations []Allocation
	Balances    []Balance // filled in for showing; see Balances
	Warnings    []Notice
	Summary     string // one line for the audit record
}
