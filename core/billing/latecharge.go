package billing

import (
	"cmp"
	"fmt"
	"slices"

	"cleantally/core/day"
	"cleantally/core/ledger"
	"cleantally/core/master"
	"cleantally/core/money"
	"cleantally/core/posting"
	"cleantally/core/tax"

	"github.com/shopspring/decimal"
)

// LateCharge bills a customer for what was overdue: a fixed fee, simple yearly
// interest, or both (docs/rules.md, part 5). It is an invoice of its own form;
// no day of an item is charged twice.
type LateCharge struct {
	Number    string // "" to be given the next
	PartyID   int64
	Day       day.Day
	Through   day.Day // the last day that is charged
	Percent   decimal.Decimal
	Grace     int // days after the due day that bear nothing
	Fee       money.Amount
	TermsID   int64   // 0: the customer's, else the firm's
	Due       day.Day // a due day that is named; "" to count it by the terms
	Reference string
	Note      string
}

// Plan returns the effect of posting the late charge.
func (c LateCharge) Plan(f posting.Facts) (posting.Effect, error) {
	b := build(f)
	dayOK := b.PostingDay("day", c.Day)
	party, partyOK := b.Customer("party", c.PartyID)
	var spans []span
	if c.figures(b) && partyOK {
		spans = c.spans(b.facts)
	}
	lines := c.lines(b, spans)
	p := posting.Paper{Kind: posting.Invoice, Number: c.Number, Day: c.Day, Reference: c.Reference, Note: c.Note, Lines: lines,
		Reason: fmt.Sprintf("Overdue through %s", c.Through.Show()), Billing: posting.Billing{TermsID: c.TermsID, Form: string(LateForm)}}
	for _, l := range lines {
		p.Net += l.Net.Own
	}
	p = head(posting.Invoice, party, lines, tax.Sums{Net: p.Net, Total: p.Net}, p)
	p.Beside = p.Net // it is no work
	dues := []master.Due{}
	if dayOK {
		dues, _ = Invoice{Day: c.Day, TermsID: c.TermsID, Due: c.Due}.dues(b.Builder, party, p.Total)
		p.Due = dues[len(dues)-1].Day
	}
	own := b.Paper(p)
	if len(lines) == 0 && !b.Refused() {
		b.Refuse("through", "nothing to charge", "", "Nothing of %s was overdue through %s, beyond %d days of grace, that was not charged before.", party.Name, c.Through.Show(), c.Grace)
	}
	if dayOK && partyOK && !b.Refused() && b.AmountAboveNil("percent", own.Total, "a late charge") {
		b.EnterLines(own, tax.Sums{}, ledger.OutputTax, -1)
		Invoice{PartyID: c.PartyID, Day: c.Day}.open(b.Builder, own, dues, owes(posting.Firm(own.Total)), posting.Later{})
		for _, s := range spans {
			for _, r := range s.runs {
				b.Charge("through", s.item.ID, r[0], r[1])
			}
		}
	}
	return b.Effect(fmt.Sprintf("Charged %s to %s for what was overdue by %s", b.Currency().Show(own.Total), party.Name, own.Number))
}

// figures refuses what is no charge.
func (c LateCharge) figures(b *builder) bool {
	before := b.Refusals()
	if c.Percent.IsNegative() || c.Percent.GreaterThan(decimal.New(100, 0)) || !money.Fits(c.Percent, 4) {
		b.Refuse("percent", "out of bounds", "100", "The interest is from 0 to 100 %% a year, with at most 4 places.")
	}
	if c.Fee < 0 || c.Grace < 0 || c.Grace > 365 {
		b.Refuse("fee", "out of bounds", "0", "A fee is not below nil, and grace is from 0 to 365 days.")
	}
	if c.Percent.IsZero() && c.Fee == 0 {
		b.Refuse("percent", "missing", "", "Say what is charged: interest a year, a fee, or both.")
	}
	if _, err := day.Parse(string(c.Through)); err != nil {
		b.Refuse("through", "no such day", "", "%s.", posting.Sentence(err.Error()))
	} else if c.Through > c.Day {
		b.Refuse("through", "after the paper", string(c.Day), "Days after that of the paper, %s, are not overdue yet.", c.Day.Show())
	}
	return b.Refusals() == before
}

// A span is what of an item bears a late charge: its days, in runs, and the
// amount-days that they come to.
type span struct {
	item posting.Item
	runs [][2]day.Day
	days int
	sum  money.Amount // minor units × days: of the largest amount, for more than a thousand years
}

// spans are the days of a customer's items that were overdue and not charged
// yet, each with what was open at its end less credits not placed, which lower
// the oldest first.
func (c LateCharge) spans(f Facts) []span {
	var owed []span
	var credits []balance
	for _, i := range f.Overdue(c.PartyID, c.Through) {
		if i.Credit() {
			credits = append(credits, balanceOf(f, i))
			continue
		}
		if i.Due != "" {
			owed = append(owed, span{item: i})
		}
	}
	slices.SortStableFunc(owed, func(x, y span) int { return cmp.Compare(x.item.Due, y.item.Due) })
	open := make([]balance, len(owed))
	free := make([]func(day.Day) bool, len(owed))
	for n, s := range owed {
		open[n], free[n] = balanceOf(f, s.item), c.free(f, s.item)
	}
	var late []int // those of them that are past their due day and not settled for good
	next := 0
	before := c.Through // the day before d
	for d := c.Through; ; before, d = d, d.Add(1) {
		if len(late) == 0 { // nothing happens before the next is overdue
			if next == len(owed) {
				break
			}
			before, d = owed[next].item.Due, owed[next].item.Due.Add(1)
		}
		if d > c.Through {
			break
		}
		for ; next < len(owed) && owed[next].item.Due < d; next++ {
			late = append(late, next)
		}
		var credit money.Amount
		for n := range credits {
			credit += -credits[n].on(d)
		}
		for _, n := range late {
			left := open[n].on(d)
			if left <= 0 {
				continue
			}
			less := min(left, credit)
			credit -= less
			if left -= less; left > 0 && free[n](d) {
				owed[n].add(before, d, left)
			}
		}
		late = slices.DeleteFunc(late, func(n int) bool { return open[n].settled() })
	}
	return slices.DeleteFunc(owed, func(s span) bool { return s.days == 0 })
}

// add adds a day; before is the one before it.
func (s *span) add(before, d day.Day, open money.Amount) {
	s.days++
	s.sum += open
	if last := len(s.runs) - 1; last >= 0 && s.runs[last][1] == before {
		s.runs[last][1] = d
		return
	}
	s.runs = append(s.runs, [2]day.Day{d, d})
}

// free tells of a day whether an item may be charged for it: it is past its
// grace, was not charged before, and is not disputed, or the dispute ended as
// unfounded.
func (c LateCharge) free(f Facts, i posting.Item) func(day.Day) bool {
	charged := f.ChargedDays(i.ID)
	marks := f.Disputes(i.ID)
	grace := i.Due.Add(c.Grace)
	return func(d day.Day) bool {
		if d <= grace {
			return false
		}
		for _, x := range charged {
			if !x.Freed && x.From <= d && d <= x.Through {
				return false
			}
		}
		disputed := false
		for _, m := range marks {
			if m.Day > d && disputed && m.Reason == "" {
				return m.Unfounded // how the dispute that went on through that day ended
			}
			if m.Day <= d {
				disputed = m.Reason != ""
			}
		}
		return !disputed
	}
}

// A balance is what is open of an item at the end of each day, asked in order.
type balance struct {
	moves []posting.Move
	next  int
	open  money.Amount
}

func balanceOf(f posting.Facts, i posting.Item) balance {
	moves := slices.Clone(f.ItemMoves(i.ID))
	slices.SortStableFunc(moves, func(x, y posting.Move) int { return cmp.Compare(x.Day, y.Day) })
	return balance{moves: moves}
}

func (x *balance) on(d day.Day) money.Amount {
	for ; x.next < len(x.moves) && x.moves[x.next].Day <= d; x.next++ {
		x.open += x.moves[x.next].Amount.Base // a late charge is in the firm's currency
	}
	return x.open
}

// settled tells whether nothing is open on the day that was last asked for, nor
// ever will be.
func (x *balance) settled() bool { return x.open == 0 && x.next == len(x.moves) }

var daysOfAYear = decimal.New(365, 0)

// lines are what is charged: interest, summed over all and rounded once, shared
// over what was overdue; and the fee.
func (c LateCharge) lines(b *builder, spans []span) []posting.PaperLine {
	var lines []posting.PaperLine
	cur := b.Currency()
	weights := make([]money.Amount, len(spans))
	var sum decimal.Decimal
	for n, s := range spans {
		sum = sum.Add(decimal.NewFromInt(int64(s.sum)))
		weights[n] = s.sum
	}
	add := func(text string, net money.Amount) {
		if net != 0 {
			lines = append(lines, posting.PaperLine{Position: len(lines) + 1, Text: text, Quantity: one, UnitPrice: cur.Decimal(net), AccountID: b.Role(ledger.LateCharges).ID, Net: posting.Firm(net), Before: net})
		}
	}
	interest := money.Amount(money.Percent(sum, c.Percent).DivRound(daysOfAYear, 16).Round(0).IntPart())
	if shares, err := money.Share(interest, weights); err == nil {
		for n, s := range spans {
			add(fmt.Sprintf("%s, due %s: %d days overdue at %s %% a year", s.item.Number, s.item.Due.Show(), s.days, c.Percent), shares[n])
		}
	}
	if len(spans) > 0 {
		add("Fee for what was overdue", c.Fee)
	}
	return lines
}
