package posting

import (
	"cleantally/core/day"
	"cleantally/core/money"
)

// BankLine is a line of a bank's statement: what the bank says happened, in
// the bank account's currency, above nil for money that came.
type BankLine struct {
	ID            int64
	BankAccountID int64
	Day           day.Day
	Amount        money.Amount
}

// Movement is a posted journal line on the ledger account of a bank.
type Movement struct {
	ID            int64 // of the journal line
	BankAccountID int64
	PaperID       int64
	Number        string
	Day           day.Day
	Amount        money.Amount
}

// Tie says that a bank line and a movement are the same money. Each is tied
// whole: one line to several movements whose sum it is, or the other way round
// (docs/rules.md, part 11).
type Tie struct {
	ID         int64
	BankLineID int64
	MovementID int64 // of an effect, below nil for the n-th journal line of its own
	Freed      bool  // of an effect: the tie is taken off
}

// Tie ties bank lines to movements. Their sums must agree, all must stand on
// one bank account, and none may be tied already. It posts nothing.
func (b *Builder) Tie(field string, lines, movements []int64) bool {
	if len(lines) == 0 || len(movements) == 0 || (len(lines) > 1 && len(movements) > 1) {
		b.Refuse(field, "missing", "", "Tie one line to what was posted, or several lines to one movement.")
		return false
	}
	var bank int64
	var lineSum, movementSum money.Amount
	for _, id := range lines {
		l, ok := b.BankLine(id)
		if !ok || (bank != 0 && bank != l.BankAccountID) || b.tied(id, 0) {
			b.Refuse(field, "not to be tied", "", "One of these lines is tied already, or stands on another bank account.")
			return false
		}
		bank = l.BankAccountID
		lineSum += l.Amount
	}
	for _, id := range movements {
		m, ok := b.Movement(id)
		if !ok || m.BankAccountID != bank || b.tied(0, id) {
			b.Refuse(field, "not to be tied", "", "One of these movements is tied already, or stands on another bank account.")
			return false
		}
		movementSum += m.Amount
	}
	if c := b.Currency(); lineSum != movementSum {
		b.Refuse(field, "sums differ", c.Format(lineSum), "The bank says %s, what was posted comes to %s. They must agree.", c.Show(lineSum), c.Show(movementSum))
		return false
	}
	for _, l := range lines {
		for _, m := range movements {
			b.effect.Ties = append(b.effect.Ties, Tie{BankLineID: l, MovementID: m})
		}
	}
	return true
}

func (b *Builder) tied(lineID, movementID int64) bool {
	for _, t := range b.effect.Ties {
		if (t.BankLineID == lineID || t.MovementID == movementID) && !t.Freed {
			return true
		}
	}
	return len(b.TiesOf(lineID, movementID)) > len(b.freedTies(lineID, movementID))
}

func (b *Builder) freedTies(lineID, movementID int64) []Tie {
	var freed []Tie
	for _, t := range b.effect.Ties {
		if (t.BankLineID == lineID || t.MovementID == movementID) && t.Freed {
			freed = append(freed, t)
		}
	}
	return freed
}

// Untie takes the ties of a bank line off, unless the bank's day is locked. It
// posts nothing.
func (b *Builder) Untie(field string, lineID int64) bool {
	ties := b.TiesOf(lineID, 0)
	if len(ties) == 0 {
		b.Refuse(field, "missing", "", "This line is tied to nothing.")
		return false
	}
	l, _ := b.BankLine(lineID)
	if lock := b.LockedThrough(); l.Day <= lock {
		b.Refuse(field, "locked", string(lock), "The books are locked through %s, and this line is of %s: what explains it stays. Reverse the paper where it is wrong.", lock.Show(), l.Day.Show())
		return false
	}
	b.free(ties)
	return true
}

// free takes ties off, and with each those of the other lines or movements
// that only together made the sum.
func (b *Builder) free(ties []Tie) {
	for _, t := range ties {
		for _, group := range [][]Tie{b.TiesOf(t.BankLineID, 0), b.TiesOf(0, t.MovementID)} {
			for _, other := range group {
				if !containsTie(b.effect.Ties, other.ID) {
					other.Freed = true
					b.effect.Ties = append(b.effect.Ties, other)
				}
			}
		}
	}
}

func containsTie(all []Tie, id int64) bool {
	for _, t := range all {
		if t.ID == id {
			return true
		}
	}
	return false
}

// FreeTies takes the ties of a paper's movements off and says so: its bank
// lines are unexplained again. Money that came and was taken back by the bank
// stays tied: the bank tells of both.
func (b *Builder) FreeTies(p Paper) {
	for _, m := range b.PaperMovements(p.ID) {
		if ties := b.TiesOf(0, m.ID); len(ties) > 0 {
			b.free(ties)
			b.Warn("paper", "tied", "", "%s is tied to a line of the bank's statement, which is unexplained again.", p.Number)
		}
	}
}
