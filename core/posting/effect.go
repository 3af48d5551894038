// Package posting says what a command does to the books before it does it.
//
// A Command is planned against Facts and answers an Effect: plain data that is
// either shown or committed. Both come from the same plan, so that what is
// shown is what is posted.
package posting

import (
	"cleantally/core/ledger"
	"cleantally/core/money"
)

// Command is one thing that a bookkeeper does.
type Command interface {
	// Plan returns what the command would do. The error is Refusals when a
	// rule forbids it; the effect then holds as much as could be worked out.
	Plan(Facts) (Effect, error)
}

// Effect is what a command does, as plain data.
type Effect struct {
	Papers      []*Paper // none, one, or one for each customer
	Entries     []Entry
	Items       []Item
	Moves       []Move
	Allocations []Allocation
	Uses        []Use
	Stock       []StockMove
	Charges     []ChargedDays
	Ties        []Tie
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

// Entry is a journal entry of an effect. PaperID is below nil for the n-th of
// the effect's own papers.
type Entry struct {
	ledger.Entry
	PaperID    int64
	Allocation int64 // which allocation of the effect, counted from 1; 0 for none
}

// Balance is a balance that an effect touches, before and after.
type Balance struct {
	Kind   string // item, party, job, account
	ID     int64  // 0 for an item that does not exist yet
	Name   string // I26-0043, Odalys Brandt, 221 Customer deposits
	What   string // open, held, not placed, owes, left to bill; "" for an account
	Before money.Amount
	After  money.Amount
}
