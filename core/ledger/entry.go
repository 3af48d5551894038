package ledger

import (
	"fmt"
	"slices"

	"cleantally/core/day"
	"cleantally/core/money"
)

// Line is one line of a journal entry. Amount is in minor units of the firm's
// currency: above nil it is a debit, below nil a credit. A line in another
// currency bears that as well.
type Line struct {
	AccountID int64
	Amount    money.Amount
	Currency  string       // ISO 4217; "" for the firm's own
	Own       money.Amount // in minor units of Currency; nil in the firm's own
	PartyID   int64        // 0 for none, as for all that follow
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

// Merged returns the lines as one for each account and what it bears beside it,
// debits first, each side in the order in which its lines first came. What
// comes to nil is left out.
func Merged(lines []Line) []Line {
	var merged []Line
	at := map[Line]int{}
	for _, l := range lines {
		key := l
		key.Amount, key.Own = 0, 0
		n, seen := at[key]
		if !seen {
			n = len(merged)
			at[key] = n
			merged = append(merged, key)
		}
		merged[n].Amount += l.Amount
		merged[n].Own += l.Own
	}
	merged = slices.DeleteFunc(merged, func(l Line) bool { return l.Amount == 0 && l.Own == 0 })
	slices.SortStableFunc(merged, func(x, y Line) int { return side(x) - side(y) })
	return merged
}

func side(l Line) int {
	if l.Amount < 0 {
		return 1
	}
	return 0
}

// Check returns an error when the entry has fewer than two lines, a line of
// nil in both currencies or beyond the limit, or does not balance in the firm's currency, or in
// its own where all its lines share one (docs/rules.md, part 3).
func (e Entry) Check() error {
	if len(e.Lines) < 2 {
		return fmt.Errorf("entry %q has %d lines: it needs two or more", e.Text, len(e.Lines))
	}
	var sum, own money.Amount
	shared := e.Lines[0].Currency != ""
	for _, l := range e.Lines {
		shared = shared && l.Currency == e.Lines[0].Currency
		own += l.Own
		if l.Currency == "" && l.Own != 0 {
			return fmt.Errorf("entry %q has a line on account %d of %d in its own currency %q", e.Text, l.AccountID, l.Own, l.Currency)
		}
		if l.Amount == 0 && l.Own == 0 || l.Amount.Abs() > money.DayLimit {
			return fmt.Errorf("entry %q has a line of %d on account %d", e.Text, l.Amount, l.AccountID)
		}
		sum += l.Amount
	}
	if sum != 0 {
		return fmt.Errorf("entry %q does not balance: debit exceeds credit by %d", e.Text, sum)
	}
	if shared && own != 0 {
		return fmt.Errorf("entry %q does not balance in %s: debit exceeds credit by %d", e.Text, e.Lines[0].Currency, own)
	}
	return nil
}
