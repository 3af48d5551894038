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
	Invoice      Kind = "invoice"
	Deposit      Kind = "deposit"
	Receipt      Kind = "receipt"
	Unidentified Kind = "unidentified receipt"
	Refund       Kind = "refund"
	Forfeit      Kind = "forfeit"
	Transfer     Kind = "transfer"
	WriteOff     Kind = "write-off"
	Recovery     Kind = "recovery"
	Contra       Kind = "contra"
	Returned     Kind = "returned payment"
	SupplierBill Kind = "supplier bill"
	Journal      Kind = "journal"
	Reversal     Kind = "reversal"
)

// Kinds lists every kind of paper.
var Kinds = []Kind{Invoice, Deposit, Receipt, Unidentified, Refund, Forfeit, Transfer, WriteOff, Recovery, Contra, Returned, SupplierBill, Journal, Reversal}

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
	Withheld      money.Amount // the tax that a customer withheld
	ReversesID    int64        // what it takes back: of a reversal or a returned payment
	SourceID      int64        // the paper that it stands on: a recovery on a write-off
	Reason        string
	Cheque        string          // number of the cheque that it is paid by
	BankDay       day.Day         // when the money came, where that is not the paper's day
	EarlyPercent  decimal.Decimal // early-payment discount of an invoice, percent
	EarlyUntil    day.Day         // the last day of it
	Lines         []PaperLine
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

// Nature says what an item is when it is neither what is owed nor money.
type Nature string

// The natures of an item. What is not money is never given back; a discount, a
// difference and what was kept back go with the placement that they were taken
// on; a write-off and a contra are undone only by reversing them
// (docs/rules.md, parts 6 and 7).
const (
	Plain         Nature = ""
	OfDiscount    Nature = "discount"
	OfDifference  Nature = "difference"
	OfWithheld    Nature = "withheld"
	OfKeptBack    Nature = "kept back"
	OfWriteOff    Nature = "write-off"
	OfContra      Nature = "contra"
	Closing       Nature = "closing"      // what a refund, a forfeit, a transfer or a release takes out of its source
	Beside        Nature = "beside"       // what a paper makes beside what it is about: retention kept back or released on a receipt
	TakenBack     Nature = "taken back"   // a discount or difference that was undone with its placement
	OfSmallCredit Nature = "small credit" // a credit that nobody will claim
)

// WithPlacement tells whether an item goes with the placement that it was
// taken on.
func (n Nature) WithPlacement() bool { return n == OfDiscount || n == OfDifference }

// Bound tells whether an item is bound to what it settles or takes out, so
// that its allocation is undone only by reversing its paper.
func (n Nature) Bound() bool {
	return n == OfKeptBack || n == OfWriteOff || n == OfContra || n == OfSmallCredit || n == Closing
}

// Item is an open item: what of a posted paper can be settled. It stands in
// the register of a control account. Amount, Open and the tax inside are in
// minor units, above nil for a debit and below nil for a credit; the account
// bears the amount less the tax inside.
type Item struct {
	ID        ItemRef
	Register  ledger.Role
	Nature    Nature
	PaperID   int64 // below nil in an effect: the n-th of its papers
	Part      int   // which instalment, counted from 1; 0 when there is but one
	PartyID   int64
	JobID     int64
	Day       day.Day
	Due       day.Day
	Amount    money.Amount
	Open      money.Amount
	Tax       money.Amount // of a deposit that was taxed on receipt
	OpenTax   money.Amount
	TaxCodeID int64

	Kind       Kind // of its paper, as what follows
	Number     string
	EarlyUntil day.Day // the last day of its early-payment discount; "" for none
}

// Move is a change of an item's open amount on a day. The first move of an
// item is its own amount.
type Move struct {
	Item       ItemRef
	Day        day.Day
	Amount     money.Amount
	Tax        money.Amount
	Allocation int // which allocation of the effect, counted from 1; 0 for the item's own
}

// Allocation is one credit set against one debit. Undoes names the allocation
// that this one takes back.
type Allocation struct {
	ID     int64
	Debit  ItemRef
	Credit ItemRef
	Amount money.Amount
	Tax    money.Amount // the tax inside that went along
	Day    day.Day
	Undoes int64
}

// Entry is a journal entry of an effect. PaperID is below nil for the n-th of
// the effect's own papers.
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

// Dispute marks an item as disputed from a day on, or no longer.
type Dispute struct {
	Item   ItemRef
	Day    day.Day
	Reason string // "" ends it
}

// Effect is what a command does, as plain data.
type Effect struct {
	Papers      []*Paper // none, one, or one for each customer
	Entries     []Entry
	Items       []Item
	Moves       []Move
	Allocations []Allocation
	Disputes    []Dispute
	Balances    []Balance // filled in for showing; see Balances
	Word        *Notice   // what a second person must agree to, or nil
	Warnings    []Notice
	Summary     string // one line for the audit record
}

// Paper returns the first paper of the effect, or nil.
func (e Effect) Paper() *Paper {
	if len(e.Papers) == 0 {
		return nil
	}
	return e.Papers[0]
}
