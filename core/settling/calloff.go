package settling

import (
	"fmt"

	"cleantally/core/billing"
	"cleantally/core/posting"
)

// CallOff cancels what is left of an order and settles in the same step what
// becomes of the deposits that were paid for it: given back, kept, set against
// or moved (docs/rules.md, parts 4 and 5).
type CallOff struct {
	billing.Cancellation
	Deposits []SplitDeposit // their day is the cancellation's
}

// Plan returns the effect of both.
func (c CallOff) Plan(f posting.Facts) (posting.Effect, error) {
	b := build(f)
	told := c.Cancellation.On(b.Builder)
	order, _ := f.Paper(c.OrderID)
	for n, d := range c.Deposits {
		d.Day = c.Day
		field := fmt.Sprintf("deposits[%d].", n)
		if i, ok := b.Look(d.Deposit); ok && i.PartyID != order.PartyID {
			b.Refuse(field+"deposit", "another customer's deposit", i.Number, "%s is not a deposit of %s. Choose one of this customer.", i.Number, order.PartyName)
			continue
		}
		b.Inside(field, func() { told += "; " + d.plan(b) })
	}
	return b.Effect(told)
}
