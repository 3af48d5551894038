package reporting

import (
	"cleantally/core/day"
	"cleantally/core/money"
)

// Tie is one control account beside its register, in minor units, shown on
// the account's usual side.
type Tie struct {
	AccountID int64
	Account   string // number and name
	Register  string
	Ledger    money.Amount
	Sum       money.Amount // of the register

	DebitNormal bool // of the account

	BankAccountID int64   // of a bank account beside its statement; else 0
	Through       day.Day // through which that is reconciled
	Currency      string  // of both, ISO 4217; "" for the firm's own
}

// OK tells whether the two agree.
func (t Tie) OK() bool { return t.Ledger == t.Sum }

// TieOut is the proof that every control account equals its register as of a
// day, and that all entries balance.
type TieOut struct {
	AsOf       day.Day
	Ties       []Tie
	Unbalanced int          // entries that do not balance
	Difference money.Amount // debits less credits over the whole ledger
}

// OK tells whether everything ties out.
func (t TieOut) OK() bool {
	for _, tie := range t.Ties {
		if !tie.OK() {
			return false
		}
	}
	return t.Unbalanced == 0 && t.Difference == 0
}

// Settlement returns the words for an item or paper: open, part settled or
// settled, and the share settled in percent, never 100 before it is whole.
func Settlement(amount, open money.Amount) (string, int) {
	amount, open = amount.Abs(), open.Abs()
	switch {
	case open == 0:
		return "settled", 100
	case open >= amount:
		return "open", 0
	}
	share := int((amount - open) * 100 / amount)
	return "part settled", min(max(share, 1), 99)
}
