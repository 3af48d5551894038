package settling

import (
	"fmt"
	"strings"

	"cleantally/core/day"
	"cleantally/core/money"
	"cleantally/core/posting"
)

// SplitDeposit settles what becomes of a deposit in one step: a part is set
// against invoices, a part refunded, a part forfeited, a part transferred; what
// nobody speaks of stays held. All of it is done or none.
type SplitDeposit struct {
	Deposit posting.ItemRef
	Day     day.Day
	Against []Placement
	Refund  *Refund   // its sources are ignored; see RefundAmount
	Forfeit *Forfeit  // its deposit's item is
	Move    *Transfer // and this one's
	// RefundAmount is what is given back.
	RefundAmount money.Amount
}

// Plan returns the effect of the split.
func (s SplitDeposit) Plan(f posting.Facts) (posting.Effect, error) {
	b := build(f)
	return b.Effect(posting.Sentence(s.plan(b)))
}

func (s SplitDeposit) plan(b *builder) string {
	var told []string
	if b.PostingDay("day", s.Day) {
		for n, pl := range s.Against {
			if field := fmt.Sprintf("against[%d].amount", n); pl.Most {
				b.AllocateMost(field, pl.Debit, s.Deposit, s.Day)
			} else {
				b.Allocate(field, pl.Debit, s.Deposit, pl.Amount, s.Day)
			}
		}
	}
	if len(s.Against) > 0 {
		told = append(told, fmt.Sprintf("set %s against what is owed", b.Currency().Show(b.Placed())))
	}
	if s.Refund != nil {
		r := *s.Refund
		r.Day, r.Sources = s.Day, []Share{{Item: s.Deposit, Amount: s.RefundAmount}}
		told = append(told, r.plan(b, func(int) string { return "refund" }))
	}
	if s.Forfeit != nil {
		k := *s.Forfeit
		k.Day, k.Deposit.Item = s.Day, s.Deposit
		told = append(told, k.plan(b, "forfeit"))
	}
	if s.Move != nil {
		t := *s.Move
		t.Day, t.From.Item = s.Day, s.Deposit
		told = append(told, t.plan(b, "move"))
	}
	if len(told) == 0 {
		b.Refuse("refund", "missing", "", "Say what becomes of the deposit: set against an invoice, refunded, forfeited or moved.")
	}
	return strings.Join(told, "; ")
}
