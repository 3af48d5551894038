// Package bankfile reads what banks say of an account: camt.053 (ISO 20022), OFX
// (1.x and 2.x), and CSV by a mapping of its columns.
// Nothing is believed that does not add up: what is wrong is told with its line.
package bankfile

import (
	"fmt"

	"cleantally/core/day"
	"cleantally/core/money"
)

// Statement is what a bank says of an account over a span.
type Statement struct {
	Account  string // IBAN, or the bank's own number, without spaces; "" where it is not said
	Currency string // ISO 4217; "" where it is not said
	Opening  *Balance
	Closing  *Balance
	Lines    []Line // booked ones, in the order of the file
	Pending  int    // lines that are not booked yet, which do not count
}

// Balance is what stood on an account at the end of a day; of an opening one, of
// the day before.
type Balance struct {
	Day    day.Day // "" where it is not said
	Amount money.Amount
}

// Line is one booked line, or one part of a batch.
type Line struct {
	Row            int     // in the file, counted from 1
	Day            day.Day // on which it was booked
	Amount         money.Amount
	Text           string
	Reference      string
	OtherName      string
	OtherAccount   string
	EntryReference string // the bank's own; "" where it gives none
}

// Error says what is wrong with a file, and in which line of it; 0 for all of it.
type Error struct {
	Row  int
	Text string
}

func (e *Error) Error() string {
	if e.Row == 0 {
		return e.Text
	}
	return fmt.Sprintf("Line %d: %s", e.Row, e.Text)
}

func wrong(row int, text string, with ...any) error {
	return &Error{row, fmt.Sprintf(text, with...)}
}

// Most is how many lines one file may have.
const Most = 100_000

// Proven refuses a statement whose opening balance and lines do not come to its
// closing balance.
func (s Statement) Proven(cur money.Currency) error {
	if s.Opening == nil || s.Closing == nil {
		return nil
	}
	sum := s.Opening.Amount
	for _, l := range s.Lines {
		sum += l.Amount
	}
	if off := s.Closing.Amount - sum; off != 0 {
		return wrong(0, "The statement does not add up: %s and its lines come to %s, and it says %s, which is %s off. Ask the bank for the whole file.",
			cur.Show(s.Opening.Amount), cur.Show(sum), cur.Show(s.Closing.Amount), cur.Show(off))
	}
	return nil
}
