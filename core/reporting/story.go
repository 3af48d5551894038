package reporting

import (
	"cleantally/core/day"
	"cleantally/core/money"
)

// Happening is one line of a story or statement: a paper, or a deposit that
// was set against an invoice.
type Happening struct {
	Day     day.Day
	PaperID int64
	Number  string
	Kind    string // the paper's kind, or "set against", "undone"
	Text    string
	State   string
	Settled int          // share settled, percent
	Amount  money.Amount // what it did to receivables
	Held    money.Amount // what it did to deposits held
	Balance money.Amount // receivables after it
}

// Run fills in the running balance, beginning with opening, and returns the
// closing balance. The happenings are in order of time.
func Run(opening money.Amount, all []Happening) money.Amount {
	for i := range all {
		opening += all[i].Amount
		all[i].Balance = opening
	}
	return opening
}

// Statement is what a customer is told of a span: closing = receivables.
// Deposits are told below, never inside.
type Statement struct {
	From    day.Day
	To      day.Day
	Opening money.Amount
	Lines   []Happening
	Closing money.Amount
	Ageing  AgeingRow
	Buckets []Bucket
	Held    money.Amount
}
