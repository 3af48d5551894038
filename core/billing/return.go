package billing

import (
	"fmt"
	"strings"

	"cleantally/core/day"
	"cleantally/core/ledger"
	"cleantally/core/money"
	"cleantally/core/posting"

	"github.com/shopspring/decimal"
)

// Return is goods of an order that come back and were not billed, or that are
// swapped for the same again. It lowers what was delivered, never what was
// billed: what was billed comes back by a credit note. Goods go back to stock at
// the cost at which they left, Dr stock, Cr cost of sales, or are scrapped; what
// goes out in their place leaves at the average cost (docs/rules.md, parts 5
// and 6).
type Return struct {
	Number    string // "" to be given the next
	OrderID   int64
	Day       day.Day
	Reason    string
	Reference string // of the return
	Note      string
	Lines     []ReturnLine
	Swap      bool // the same goes out again at once
	Cancel    bool // what came back is not delivered again: it lowers the order
}

// ReturnLine is how much of an order's line came back.
type ReturnLine struct {
	Position int // of the line, counted from 1
	Quantity decimal.Decimal
	Back     decimal.Decimal // pieces of it that go back to stock; the rest is scrapped
	Serials  []string        // of pieces that bear numbers and go back to stock
	Instead  []string        // of those that go out in their place
}

// Plan returns the effect of recording the return.
func (r Return) Plan(f posting.Facts) (posting.Effect, error) {
	b := build(f)
	if strings.TrimSpace(r.Reason) == "" {
		b.Refuse("reason", "missing", "", "Say why it came back.")
	}
	if r.Swap && r.Cancel {
		b.Refuse("cancel", "one of them", "", "What is swapped is delivered again, so it is not left out of the order.")
	}
	shares := make([]OrderShare, len(r.Lines))
	for n, l := range r.Lines {
		shares[n] = OrderShare{Position: l.Position, Quantity: l.Quantity}
	}
	p, uses, order := Delivery{Number: r.Number, OrderID: r.OrderID, Day: r.Day, Reference: strings.TrimSpace(r.Reference), Note: r.Note, Lines: shares}.share(b, posting.Return, posting.Delivered)
	p.Title, p.Reason = "Return of "+order.Number, strings.TrimSpace(r.Reason)
	for n, u := range uses {
		if l, at := r.line(u.Of.Position); r.undeliver(b, order, u, fmt.Sprintf("lines[%d].", at)) {
			r.goods(b, p, n, l, fmt.Sprintf("lines[%d].", at), u)
		}
	}
	return b.Effect(fmt.Sprintf("%s came back of %s from %s: %s", p.Number, order.Number, order.PartyName, p.Reason))
}

func (r Return) line(position int) (ReturnLine, int) {
	for n, l := range r.Lines {
		if l.Position == position {
			return l, n
		}
	}
	return ReturnLine{}, 0
}

// undeliver lowers what was delivered of an order's line; of what is swapped it
// is raised again.
func (r Return) undeliver(b *builder, order posting.Paper, u posting.Use, field string) bool {
	line := order.Lines[u.Of.Position-1]
	used := posting.Used{}
	for _, of := range b.Uses(order.ID) {
		if of.Of == u.Of {
			used.Count(of)
		}
	}
	delivered, billed, agreed := used[posting.Delivered], used[posting.Billed].Quantity, posting.InMillionths(line.Quantity)-used[posting.Cancelled].Quantity
	left := delivered.Quantity
	// By progress a share of the work is billed, not what was delivered.
	if !r.Swap && (byProgress(b.facts, order) == "" || billed > agreed) {
		left = max(delivered.Quantity-max(billed, 0), 0)
	}
	if u.Quantity > left {
		text := line.Text
		if left < delivered.Quantity {
			b.Refuse(field+"quantity", "billed", left.Decimal().String(), "Of %s %s was delivered and not billed, not %s. What was billed comes back by a credit note of its invoice; or say that it is swapped.", text, left.Decimal(), u.Quantity.Decimal())
		} else {
			b.Refuse(field+"quantity", "more than is left", left.Decimal().String(), "Of %s %s was delivered, not %s.", text, left.Decimal(), u.Quantity.Decimal())
		}
		return false
	}
	part := takeOf(delivered.Part, money.Portion(money.Amount(u.Quantity), delivered.Net(), money.Amount(delivered.Quantity)), false)
	if bill, _, _ := b.LeftOf(u.Of, posting.Billed, r.Day); !r.Swap && delivered.Quantity > agreed { // what was billed of it stays delivered, to the cent
		part.Amount.Own, part.Tax.Own = within(part.Amount.Own, bill.Least.Amount.Own), within(part.Tax.Own, bill.Least.Tax.Own)
		part.Amount.Base, part.Tax.Base = part.Amount.Own, part.Tax.Own
	}
	back, again := u, u
	back.Quantity, back.Part, again.Part = -u.Quantity, part.Neg(), part
	if !b.Use(field+"quantity", back) {
		return false
	}
	if r.Swap {
		return b.Use(field+"quantity", again)
	}
	if again.As = posting.Cancelled; r.Cancel {
		return b.Use(field+"quantity", again)
	}
	return true
}

// within is an amount as far as another goes, on the same side of nil.
func within(a, most money.Amount) money.Amount {
	if a < 0 {
		return -within(-a, -most)
	}
	return max(min(a, most), 0)
}

// goods brings what came back into stock, and takes what goes out in its place
// out of it.
func (r Return) goods(b *builder, p *posting.Paper, n int, l ReturnLine, field string, u posting.Use) {
	article, _ := b.Article(p.Lines[n].ArticleID)
	back := posting.InMillionths(l.Back)
	switch {
	case !article.Stocked && back == 0 && len(l.Serials)+len(l.Instead) == 0:
		return
	case !article.Stocked:
		b.Refuse(field+"back", "no goods", "0", "%s is not kept in stock, so nothing of it goes back there.", p.Lines[n].Text)
		return
	case back < 0 || back > u.Quantity:
		b.Refuse(field+"back", "more than came back", u.Quantity.Decimal().String(), "Of %s %s came back, so no more goes back to stock, not %s.", p.Lines[n].Text, u.Quantity.Decimal(), back.Decimal())
		return
	}
	if back > 0 {
		cost, ok := b.ComeBack(field, posting.StockMove{ArticleID: article.ID, By: u.By, Day: r.Day, Quantity: back, Serials: l.Serials}, goneOf(b, u.Of), p.Title)
		if !ok {
			return
		}
		b.Credit(b.Role(ledger.CostOfSales), cost, ledger.Line{PartyID: p.PartyID, JobID: p.JobID})
	} else if len(l.Serials) > 0 {
		b.Refuse(field+"serials", "numbers", "0", "Nothing goes back to stock, so no number is named.")
	}
	if r.Swap {
		outOfStock(b, field, p, n, u.Quantity, l.Instead, r.Day)
	}
}
