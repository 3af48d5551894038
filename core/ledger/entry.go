package ledger

import (
	"fmt"

	"cleantally/core/day"
	"cleantally/core/money"
)

// Line is one line of a journal entry. Amount is in minor units of the firm's
// currency: above nil it is a debit, below nil a credit.
type Line struct {
	AccountID int64
	Amount    money.Amount
	PartyID   int64 // 0 for none, as for all that follow
	JobID     int64
	TaxCodeID int64
	ItemID    int64 // the open item that the line came about with: a discount's, a write-off's; below nil for a new one
}

// Entry is a journal entry: two lines or more that balance to nil.
type Entry struct {
	Day   day.Day
	Text  string
	Lines []Line
}

// Debit adds a debit line of amount a and the dimensions of at. Nil adds
// nothing; an amount below nil is a credit.
func (e *Entry) Debit(account Account, a money.Amount, at Line) {
	if a != 0 {
		at.AccountID, at.Amount = account.ID, a
		e.Lines = append(e.Lines, at)
	}
}

// Credit adds a credit line the same way.
func (e *Entry) Credit(account Account, a money.Amount, at Line) { e.Debit(account, -a, at) }

// Reversed returns the opposite of the entry, dated d.
func (e Entry) Reversed(d day.Day, text string) Entry {
	r := Entry{Day: d, Text: text, Lines: make([]Line, len(e.Lines))}
	for i, l := range e.Lines {
		l.Amount = -l.Amount
		r.Lines[i] = l
	}
	return r
}

// Merged returns the entries as one: a line for each account and what it bears
// beside it, in the order in which they first come; what comes to nil is left
// out.
func Merged(d day.Day, text string, entries ...Entry) Entry {
	m := Entry{Day: d, Text: text}
	at := map[Line]int{}
	for _, e := range entries {
		for _, l := range e.Lines {
			key := l
			key.Amount, key.ItemID = 0, 0
			n, seen := at[key]
			if !seen {
				n = len(m.Lines)
				at[key] = n
				m.Lines = append(m.Lines, key)
			}
			m.Lines[n].Amount += l.Amount
		}
	}
	lines := m.Lines
	m.Lines = nil
	for _, l := range lines {
		if l.Amount != 0 {
			m.Lines = append(m.Lines, l)
		}
	}
	return m
}

// Check returns an error when the entry has fewer than two lines, a line of
// nil or beyond the limit, or does not balance.
func (e Entry) Check() error {
	if len(e.Lines) < 2 {
		return fmt.Errorf("entry %q has %d lines: it needs two or more", e.Text, len(e.Lines))
	}
	var sum money.Amount
	for _, l := range e.Lines {
		if l.Amount == 0 || l.Amount.Abs() > money.Limit {
			return fmt.Errorf("entry %q has a line of %d on account %d", e.Text, l.Amount, l.AccountID)
		}
		sum += l.Amount
	}
	if sum != 0 {
		return fmt.Errorf("entry %q does not balance: debit exceeds credit by %d", e.Text, sum)
	}
	return nil
}
