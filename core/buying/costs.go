package buying

import (
	"fmt"
	"strings"

	"cleantally/core/day"
	"cleantally/core/ledger"
	"cleantally/core/money"
	"cleantally/core/posting"
)

// NotPassedOn says of a cost that waits, or of a part of it, that it is not to
// be billed, with a reason. One on the customer's behalf goes Dr job costs, Cr
// recoverable. Of one that a supplier has credited past what waited it keeps
// what the customer is not given back: Dr recoverable, Cr passed-on income
// (docs/rules.md, part 5).
type NotPassedOn struct {
	Number string // "" to be given the next
	Day    day.Day
	Reason string
	Costs  []CostShare
}

// CostShare is a part of a cost.
type CostShare struct {
	PaperID  int64
	Position int          // of the line, counted from 1
	Amount   money.Amount // of the cost; nil for all that waits
}

// Plan returns the effect of leaving costs out.
func (x NotPassedOn) Plan(f posting.Facts) (posting.Effect, error) {
	b := posting.Build(f)
	dayOK := b.PostingDay("day", x.Day)
	if strings.TrimSpace(x.Reason) == "" {
		b.Refuse("reason", "missing", "", "Say why it is not to be billed.")
	}
	p := b.Paper(posting.Paper{Kind: posting.NotPassedOn, Number: x.Number, Day: x.Day, Title: "Costs not to be billed", Reason: strings.TrimSpace(x.Reason)})
	if len(x.Costs) == 0 {
		b.Refuse("costs", "missing", "", "Choose the costs that are not to be billed.")
	}
	seen := map[posting.LineRef]bool{}
	for n, s := range x.Costs {
		field := fmt.Sprintf("costs[%d].amount", n)
		w, ok := b.CostOf(field, s.PaperID, s.Position)
		if at := (posting.LineRef{PaperID: s.PaperID, Position: s.Position}); ok && seen[at] {
			b.Refuse(field, "missing", "", "The same cost stands here twice.")
			ok = false
		} else {
			seen[at] = true
		}
		if job, known := b.Job(w.Line.JobID); known && n == 0 {
			p.JobID, p.PartyID = job.ID, job.PartyID
			party, _ := b.Party(job.PartyID)
			p.PartyName = party.Name
		}
		if ok && dayOK {
			x.leave(b, field, p, w, s.Amount)
		}
	}
	return b.Effect(fmt.Sprintf("%s is not to be billed, by %s: %s", b.Currency().Show(p.Total), p.Number, p.Reason))
}

// leave takes a part of a cost out of what waits.
func (x NotPassedOn) leave(b *posting.Builder, field string, p *posting.Paper, w posting.Cost, amount money.Amount) {
	c := posting.CurrencyOf(b.Facts, w.Paper.Currency)
	left := w.Left(b, x.Day)
	waits := w.Line.Cost(left)
	if amount == 0 {
		amount = waits
	}
	over := amount < 0 && amount < waits || amount > 0 && amount > waits
	if over || amount == 0 {
		b.Refuse(field, "more than is left", c.Format(waits), "Of %s only %s waits to be billed, not %s.", w.Line.Text, c.Show(waits), c.Show(amount))
		return
	}
	var part posting.Part
	if amount > 0 {
		part = w.Line.TakeCost(left, amount)
	} else {
		part = w.Line.TakeCost(left.Neg(), -amount).Neg()
	}
	p.Total += part.Amount.Base
	if !w.Line.WithTax() {
		p.Total -= part.Tax.Base
	}
	if !b.Use(field, posting.Use{Of: w.Of, As: posting.NotBilled, Day: x.Day, By: posting.LineRef{PaperID: p.ID}, Part: part}) || w.Line.PassOn != posting.OnBehalf {
		return
	}
	at := ledger.Line{JobID: w.Line.JobID, TaxCodeID: w.Line.TaxCodeID}
	if amount > 0 {
		b.Debit(b.Role(ledger.JobCosts), part.Amount.Base, at)
		return
	}
	b.Debit(b.Role(ledger.PassedOnIncome), part.Amount.Base, at)
}
