package posting

import (
	"cleantally/core/day"
	"cleantally/core/ledger"
	"cleantally/core/money"
)

// ItemRef names an open item: above nil one that is posted, below nil the
// n-th new item of an effect (−1 is the first).
type ItemRef int64

// Nature says what an item is when it is neither what is owed nor money.
type Nature string

// The natures of an item. What is not plain is never money to give back
// (docs/rules.md, parts 6 and 7).
const (
	Plain         Nature = ""
	OfDiscount    Nature = "discount"
	OfDifference  Nature = "difference"
	OfWithheld    Nature = "withheld"
	OfRetention   Nature = "kept back"
	OfWriteOff    Nature = "write-off"
	OfContra      Nature = "contra"
	OfCredit      Nature = "credited"     // what a credit note takes off what is kept back
	OfSmallCredit Nature = "small credit" // a credit that nobody will claim
	Closing       Nature = "closing"      // what a refund, a forfeit, a transfer or a release takes out of its source
	Beside        Nature = "beside"       // what a paper makes beside what it is about: retention kept back or released on a receipt, a fee passed on
	TakenBack     Nature = "taken back"   // the opposite of what went with a placement that was undone
	Opposite      Nature = "opposite"     // what a reversal or a return sets against what it takes back
)

// WithPlacement tells whether an item goes with the placement that it was
// taken on: undoing that takes it back.
func (n Nature) WithPlacement() bool {
	return n == OfDiscount || n == OfDifference || n == OfWithheld
}

// Bound tells whether an item is bound to what it settles or takes out, so
// that its allocation is undone only by reversing its paper.
func (n Nature) Bound() bool {
	return n == OfRetention || n == OfWriteOff || n == OfContra || n == OfCredit || n == OfSmallCredit || n == Closing
}

// Item is an open item: what of a posted paper can be settled. It stands in
// the register of a control account, above nil for a debit, below nil for a
// credit. A register says where its part stands (see Borne).
type Item struct {
	ID         ItemRef
	Register   ledger.Role
	Nature     Nature
	PaperID    int64 // below nil in an effect: the n-th of its papers
	Bills      int64 // the paper whose lines it is a part of; 0 for none
	Instalment int   // counted from 1; 0 when there is but one
	PartyID    int64
	JobID      int64
	Day        day.Day
	Due        day.Day
	Currency   string // ISO 4217; "" for the firm's own
	Part              // what it began with
	Left       Part   // what is open of it
	TaxCodeID  int64  // of the tax inside

	Kind       Kind // of its paper, as what follows
	Number     string
	EarlyUntil day.Day // the last day of its early-payment discount; "" for none
}

// Debit tells whether the item is what somebody owes: a debit.
func (i Item) Debit() bool { return i.Amount.Own > 0 }

// Credit tells whether it can settle a debit.
func (i Item) Credit() bool { return i.Amount.Own < 0 }

// Debt tells whether the item is what somebody owes, we or a customer, in place
// of money that can settle it.
func (i Item) Debt() bool {
	switch i.Register {
	case ledger.Payables, ledger.RetentionPayable:
		return i.Credit()
	case ledger.SupplierPrepayments:
		return false
	}
	return i.Debit()
}

// Sign is 1 for a debit, −1 for a credit.
func (i Item) Sign() money.Amount {
	if i.Credit() {
		return -1
	}
	return 1
}

// Move is a change of an item's open amount on a day. The first move of an
// item is its own amount.
type Move struct {
	Item ItemRef
	Day  day.Day
	Part
	Allocation int64 // in an effect: which of its allocations, counted from 1; in the books its ID; 0 for the item's own
}

// Allocation is one credit set against one debit, in their own currency.
// Undoes names the allocation that this one takes back.
type Allocation struct {
	ID     int64
	Debit  ItemRef
	Credit ItemRef
	Amount money.Amount
	Tax    money.Amount // the tax inside that went along with the credit
	Day    day.Day
	Undoes int64
}

// Dispute marks an item as disputed from a day on, or no longer.
type Dispute struct {
	Item   ItemRef
	Day    day.Day
	Reason string // "" ends it
	// Unfounded tells of an end that its days bear late charges after all.
	Unfounded bool
}

// Borne is what of a part stands on the account of its register: deposits and
// advance billings bear the amount less the tax inside, which stands on output
// tax; others the amount.
func Borne(register ledger.Role, p Part) Worth {
	if register == ledger.Deposits || register == ledger.AdvanceBillings {
		return p.Amount.Add(p.Tax.Neg())
	}
	return p.Amount
}

// TaxBorne is what of a part stands on an account of tax that is not due yet, and
// on which: the tax inside retention on deferred tax, that inside what a firm is
// owed which owes its tax when it is paid on tax when paid; on the other side.
func TaxBorne(register ledger.Role, p Part) (ledger.Role, Worth) {
	switch register {
	case ledger.Retention:
		return ledger.DeferredTax, p.Tax.Neg()
	case ledger.Receivables:
		return ledger.TaxWhenPaid, p.Tax.Neg()
	}
	return "", Worth{}
}

// lineSign is the side on which a line waits in its register: a cost and goods
// used are debits, what is billed or received in advance a credit.
func lineSign(register ledger.Role) money.Amount {
	if register == ledger.AdvanceBillings || register == ledger.GoodsReceived {
		return -1
	}
	return 1
}
