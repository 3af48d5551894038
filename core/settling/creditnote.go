package settling

import (
	"cleantally/core/billing"
	"cleantally/core/money"
	"cleantally/core/posting"
)

// CreditAndRefund is a credit note of which the customer gets money back in the
// same step: what of it is set against nothing, or a part of that (docs/rules.md,
// part 6).
type CreditAndRefund struct {
	billing.Credit
	Refund GivenBack
}

// GivenBack says how money is given back; its day is that of the credit note.
type GivenBack struct {
	Amount        money.Amount // 0 for all that is left
	BankAccountID int64
	Method        posting.Method
	Cheque        string // "" to be given the next
	Reference     string
}

// Plan returns the effect of both.
func (c CreditAndRefund) Plan(f posting.Facts) (posting.Effect, error) {
	b := build(f)
	told, credit := c.Credit.On(b.Builder)
	item, open := b.Look(credit)
	switch r := c.Refund; {
	case b.Refused():
	case !open || b.OpenFrom(item, c.Day) == 0:
		b.Refuse("refund.amount", "nothing left", b.Currency().Format(0), "All of this credit is set against something, or comes off what is kept back, so nothing of it is left to refund. Take the refund out.")
	default:
		refund := Refund{Day: c.Day, Sources: []Share{{Item: credit, Amount: r.Amount, Most: r.Amount == 0}}, BankAccountID: r.BankAccountID, Method: r.Method, Cheque: r.Cheque, Reference: r.Reference}
		b.Inside("refund.", func() { told += "; " + refund.plan(b, func(int) string { return "amount" }) })
	}
	return b.Effect(told)
}
