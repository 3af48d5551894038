package billing

import (
	"fmt"

	"cleantally/core/ledger"
	"cleantally/core/money"
	"cleantally/core/posting"
	"cleantally/core/tax"

	"github.com/shopspring/decimal"
)

// fromCosts gives the lines that bill costs that were bought for the customer
// what those come to: as our own supply the cost with its markup, taxed by the
// line's own code; on the customer's behalf the cost with its tax, untaxed and
// without discount (docs/rules.md, part 5, passed-on costs).
func (v Invoice) fromCosts(b *builder, lines []posting.Line) []posting.Line {
	for n := range lines {
		if len(lines[n].Costs) > 0 {
			v.passOn(b, fmt.Sprintf("lines[%d].", n), n+1, &lines[n])
		}
	}
	return lines
}

// passOn works out one line of costs.
func (v Invoice) passOn(b *builder, field string, n int, l *posting.Line) {
	l.Quantity = one
	if l.Of.PaperID != 0 || l.ArticleID != 0 {
		b.Refuse(field+"costs", "one of them", "", "Line %d bills costs: it is no article and no order's line beside.", n)
	}
	var net money.Amount
	takes := make([]posting.CostTake, 0, len(l.Costs))
	for i, c := range l.Costs {
		at := fmt.Sprintf("%scosts[%d].", field, i)
		cost, ok := b.CostOf(at+"amount", c.PaperID, c.Position)
		if !ok || !v.mayBill(b, at, cost) {
			continue
		}
		if l.PassOn == posting.KeptAsCost {
			l.PassOn = cost.Line.PassOn
		}
		if l.PassOn != cost.Line.PassOn {
			b.Refuse(at+"amount", "two treatments", "", "Line %d: costs on the customer's behalf and of our own supply stand on lines of their own.", n)
			continue
		}
		take, amount, ok := v.takeCost(b, at, n, c, cost)
		if !ok {
			continue
		}
		takes = append(takes, take)
		net += amount
		describe(l, cost)
		if b.Limits().ShowMarkup && !take.Markup.IsZero() {
			l.Text += fmt.Sprintf(" (%s and %s %%)", posting.CurrencyOf(b.Facts, cost.Paper.Currency).Show(take.Cost), take.Markup)
		}
	}
	l.Took = takes
	if l.PassOn == posting.OnBehalf {
		l.Untaxed, l.Apart, l.TaxCodeID, l.Recovers = true, true, 0, true
	} else if l.AccountID == 0 {
		l.AccountID = b.Role(ledger.PassedOnIncome).ID
	}
	given := posting.Of(net, 0)
	if v.Includes && !l.Untaxed {
		code, rates, _ := b.TaxCode(l.TaxCodeID)
		if percent, err := tax.RateOn(code, rates, v.taxDay(b.Builder)); err == nil && code.Kind == tax.Charged {
			inside := b.Currency().Round(money.Percent(b.Currency().Decimal(net), percent))
			given = posting.Of(net+inside, inside)
		}
	}
	l.Given, l.UnitPrice = &given, b.Currency().Decimal(net)
}

// describe says on a line what its costs were, where it says nothing else.
func describe(l *posting.Line, c posting.Cost) {
	if l.Text == "" {
		l.Text = c.Line.Text
	}
	if l.TaxCodeID == 0 {
		l.TaxCodeID = c.Line.TaxCodeID
	}
	if l.JobID == 0 {
		l.JobID = c.Line.JobID
	}
}

// mayBill refuses another customer's cost.
func (v Invoice) mayBill(b *builder, field string, c posting.Cost) bool {
	job, _ := b.Job(c.Line.JobID)
	if job.PartyID != v.PartyID {
		owner, _ := b.Party(job.PartyID)
		b.Refuse(field+"amount", "another customer's cost", job.Number, "%s was bought for job %s of %s. Choose a cost of this customer.", c.Line.Text, job.Number, owner.Name)
		return false
	}
	return true
}

// takeCost takes a part of a cost, or all that waits of it, and answers what
// the customer is billed for it.
func (v Invoice) takeCost(b *builder, field string, n int, c posting.CostShare, cost posting.Cost) (posting.CostTake, money.Amount, bool) {
	cur := posting.CurrencyOf(b.Facts, cost.Paper.Currency)
	left := cost.Left(b.Builder, v.Day)
	waits := max(cost.Line.Cost(left), 0)
	amount := c.Amount
	if amount == 0 {
		amount = waits
	}
	switch {
	case amount > waits && b.OnDraft(cost.Of):
		b.Refuse(field+"amount", "on a draft", cur.Format(waits), "Of %s only %s waits to be billed, not %s: another draft has taken the rest. Post or throw away that draft, or leave the cost to it.", cost.Line.Text, cur.Show(waits), cur.Show(amount))
		return posting.CostTake{}, 0, false
	case amount == 0 && b.OnDraft(cost.Of):
		b.Refuse(field+"amount", "on a draft", cur.Format(0), "Nothing of %s waits to be billed: another draft has taken it.", cost.Line.Text)
		return posting.CostTake{}, 0, false
	case amount > waits || amount <= 0:
		b.Refuse(field+"amount", "more than is left", cur.Format(waits), "Of %s only %s waits to be billed, not %s. Take %s or less.", cost.Line.Text, cur.Show(waits), cur.Show(amount), cur.Show(waits))
		return posting.CostTake{}, 0, false
	}
	take := posting.CostTake{Of: cost.Of, Part: cost.Line.TakeCost(left, amount), Cost: amount}
	if cost.Line.PassOn == posting.OnBehalf {
		if c.Markup != nil && !c.Markup.IsZero() {
			b.Refuse(field+"markup", "no markup", "0", "Line %d: %s was paid on the customer's behalf and is billed as it is, without markup.", n, cost.Line.Text)
		}
		return take, billedFor(b, cost, take, decimal.Zero), true
	}
	markup := cost.Line.Markup
	if c.Markup != nil {
		markup = *c.Markup
		b.Markup(field+"markup", n, markup)
	}
	take.Markup = markup
	return take, billedFor(b, cost, take, markup), true
}

// billedFor is what the customer is billed for what is taken of a cost, with its
// markup: in the paper's currency, at its rate, where the cost was bought in
// another.
func billedFor(b *builder, cost posting.Cost, take posting.CostTake, markup decimal.Decimal) money.Amount {
	factor := decimal.New(100, 0).Add(markup)
	if cost.Paper.Currency == b.Code() {
		return b.Currency().Round(money.Percent(b.Currency().Decimal(take.Cost), factor))
	}
	base := take.Part.Amount.Base
	if !cost.Line.WithTax() {
		base -= take.Part.Tax.Base
	}
	return b.Outside(b.Facts.Currency().Round(money.Percent(b.Facts.Currency().Decimal(base), factor)))
}
