// Package posting says what a command does to the books before it does it.
//
// A Command is planned against Facts and answers an Effect: plain data that is
// either shown or committed. Both come from the same plan, so that what is
// shown is what is posted.
package posting

import (
	"slices"

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
	Chosen      bool      // another account or number was chosen than the one offered
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

// After is the effect as it is shown with one that goes before it in the same
// step: its own papers, items and moves, the entries, allocations and warnings of
// both, and the balances from before the first to after the last.
func (e Effect) After(first Effect) Effect {
	if len(first.Papers) == 0 {
		return e
	}
	e.Papers = slices.Concat(e.Papers, first.Papers)
	e.Entries = slices.Concat(first.Entries, e.Entries)
	e.Allocations = slices.Concat(first.Allocations, e.Allocations)
	e.Warnings = slices.Concat(first.Warnings, e.Warnings)
	if e.Word == nil {
		e.Word = first.Word
	}
	e.Chosen = e.Chosen || first.Chosen
	balances := slices.Clone(first.Balances)
	for _, b := range e.Balances {
		n := slices.IndexFunc(balances, func(was Balance) bool {
			return was.Kind == b.Kind && was.ID == b.ID && was.ID != 0 && was.What == b.What
		})
		if n < 0 {
			balances = append(balances, b)
			continue
		}
		balances[n].After = b.After
	}
	e.Balances = balances
	return e
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

	Currency string // ISO 4217, of an item; "" for the firm's own
}
