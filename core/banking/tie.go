// Package banking plans how lines of a bank's statement are tied to what the
// books say (docs/rules.md, part 11).
package banking

import (
	"fmt"

	"cleantally/core/money"
	"cleantally/core/posting"
)

// Tie ties a line of a bank's statement to the movements whose sum it is, or
// several lines to one movement. It posts nothing. Instead takes off first what
// they are tied to.
type Tie struct {
	Lines     []int64
	Movements []int64
	Instead   bool
}

// Plan returns the effect of the tie.
func (t Tie) Plan(f posting.Facts) (posting.Effect, error) {
	b := posting.Build(f)
	for _, line := range t.Lines {
		if t.Instead && len(f.TiesOf(line, 0)) > 0 && !b.Untie("lines", line) {
			return b.Effect("")
		}
	}
	b.Tie("movements", t.Lines, t.Movements)
	return b.Effect(fmt.Sprintf("Tied %s of the bank's statement to what was posted", count(len(t.Lines), "line")))
}

// Untie takes the ties of a line off: it is unexplained again. It posts nothing.
type Untie struct{ Line int64 }

// Plan returns the effect of taking the ties off.
func (u Untie) Plan(f posting.Facts) (posting.Effect, error) {
	b := posting.Build(f)
	b.Untie("line", u.Line)
	return b.Effect("Took the ties of a line of the bank's statement off")
}

func count(n int, what string) string {
	if n == 1 {
		return "a " + what
	}
	return fmt.Sprintf("%d %ss", n, what)
}

// Explain ties a line of a bank's statement to what an effect moves on its bank
// account, which must be the whole of it. It returns posting.Refusals.
func Explain(f posting.Facts, e *posting.Effect, line int64) error {
	refuse := func(rule, limit, text string, with ...any) error {
		return posting.Refusals{{Field: "bankLine", Rule: rule, Limit: limit, Text: fmt.Sprintf(text, with...)}}
	}
	l, ok := f.BankLine(line)
	bank, known := f.BankAccount(l.BankAccountID)
	if !ok || !known {
		return refuse("missing", "", "There is no such line of a bank's statement.")
	}
	if len(f.TiesOf(line, 0)) > 0 {
		return refuse("tied", "", "This line of the bank's statement is tied already. Look at it again.")
	}
	var sum money.Amount
	n := 0
	for _, entry := range e.Entries {
		for _, x := range entry.Lines {
			if n++; x.AccountID == bank.AccountID {
				if bank.Currency != "" {
					x.Amount = x.Own
				}
				sum += x.Amount
				e.Ties = append(e.Ties, posting.Tie{BankLineID: line, MovementID: -int64(n)})
			}
		}
	}
	if c := posting.CurrencyOf(f, bank.Currency); sum != l.Amount {
		return refuse("sums differ", c.Format(l.Amount), "The bank says %s on %s, and this moves %s on %s. They must agree.", c.Show(l.Amount), l.Day.Show(), c.Show(sum), bank.Name)
	}
	return nil
}
