package billing

import (
	"fmt"
	"strings"

	"cleantally/core/day"
	"cleantally/core/ledger"
	"cleantally/core/master"
	"cleantally/core/money"
	"cleantally/core/posting"

	"github.com/shopspring/decimal"
)

// DepositInvoice bills in advance, with its tax: Dr receivables gross, Cr
// advance billings net, Cr output tax; no income yet. It bills a share or an
// amount of an order, one line for each of its tax codes, or what its own
// lines say. Later invoices deduct it (docs/rules.md, part 5).
type DepositInvoice struct {
	Number    string // "" to be given the next
	PartyID   int64
	JobID     int64
	Day       day.Day
	Currency  string          // ISO 4217; "" for the firm's own
	Rate      decimal.Decimal // of Currency; nil for that of the day
	TermsID   int64           // 0: the customer's, else the firm's
	Due       day.Day         // a due day that is named; "" to count it by the terms
	Reference string
	Note      string
	OrderID   int64           // the order that it bills in advance; 0 for none
	Percent   decimal.Decimal // a share of the order
	Amount    money.Amount    // or an amount of it, with tax
	Lines     []AdvanceLine   // without an order, or in place of a share
}

// AdvanceLine is an amount that is billed in advance by one tax code.
type AdvanceLine struct {
	Text      string
	Net       money.Amount
	TaxCodeID int64
}

// Plan returns the effect of posting the deposit invoice.
func (v DepositInvoice) Plan(f posting.Facts) (posting.Effect, error) {
	b := build(f)
	dayOK := b.PostingDay("day", v.Day) && b.In(v.Currency, v.Rate, v.Day)
	party, partyOK := b.Customer("party", v.PartyID)
	jobOK := b.JobOf("job", v.JobID, v.PartyID)
	lines := v.own()
	includes, orderOK := false, true
	if v.OrderID != 0 {
		var order posting.Paper
		if order, orderOK = b.ordered("order", v.OrderID, posting.Order, v.PartyID); orderOK && b.OneCurrency("order", order, "billed in advance") && len(lines) == 0 {
			lines, includes = v.shares(b, order)
		}
	}
	out, sums := b.Lines(posting.Lines{Lines: lines, Day: v.Day, PartyID: v.PartyID, Includes: includes})
	b.oncePerCode(out)
	b.theirNumber(party, out, sums)
	paper := head(posting.DepositInvoice, party, out, sums, posting.Paper{Number: v.Number, Day: v.Day, JobID: v.JobID, Reference: v.Reference, Note: v.Note, SourceID: v.OrderID,
		Billing: posting.Billing{TermsID: v.TermsID, Includes: includes}})
	dues := []master.Due{}
	if dayOK {
		dues, _ = Invoice{Day: v.Day, TermsID: v.TermsID, Due: v.Due}.dues(b.Builder, party, sums.Total)
		paper.Due = dues[len(dues)-1].Day
	}
	p := b.Paper(paper)
	switch {
	case len(lines) == 0 && orderOK:
		b.Refuse("lines", "missing", "", "Say what is billed in advance: a share or an amount of an order, or a line.")
	case !b.Refused():
		b.AmountAboveNil("lines", sums.Total, "the total of a deposit invoice")
	}
	if dayOK && partyOK && jobOK && orderOK && sums.Total > 0 && sums.Total <= money.Limit {
		bills := Invoice{PartyID: v.PartyID, JobID: v.JobID, Day: v.Day}
		owed := bills.value(b, p, sums, sums.Total, &kept{})
		b.EnterLines(p, sums, b.OutputTax(p.Kind), -1)
		bills.open(b.Builder, p, dues, owed, b.Later(p.Kind, posting.TaxesOf(p, sums), 1))
	}
	return b.Effect(fmt.Sprintf("Posted deposit invoice %s for %s, %s", p.Number, party.Name, b.Currency().Show(p.Total)))
}

// own are the lines that the deposit invoice says itself.
func (v DepositInvoice) own() []posting.Line {
	var lines []posting.Line
	for _, l := range v.Lines {
		given := posting.Of(l.Net, 0)
		lines = append(lines, posting.Line{Text: l.Text, Quantity: decimal.New(1, 0), TaxCodeID: l.TaxCodeID, Given: &given, Register: ledger.AdvanceBillings})
	}
	return lines
}

// shares are the lines of a share or an amount of an order, one for each tax
// code of it. More than the order comes to is refused, with what was billed of
// it in advance before.
func (v DepositInvoice) shares(b *builder, order posting.Paper) (lines []posting.Line, includes bool) {
	c := b.Currency()
	if v.Percent.IsNegative() || !money.Fits(v.Percent, 4) || (v.Amount != 0) == !v.Percent.IsZero() {
		b.Refuse("percent", "one of them", "100", "Say how much of %s is billed in advance: a share in percent, with at most 4 places, or an amount.", order.Number)
		return nil, false
	}
	codes, parts := byCode(order.Lines)
	grosses := make([]money.Amount, len(parts))
	for n, part := range parts {
		grosses[n] = part.Amount.Own
	}
	amounts, err := money.Share(v.Amount, grosses)
	if err != nil {
		return nil, false
	}
	text := "Billed in advance of order " + order.Number
	if order.Reference != "" {
		text += ", your " + order.Reference
	}
	for n, code := range codes {
		amount := amounts[n]
		if !v.Percent.IsZero() {
			amount = c.Round(money.Percent(c.Decimal(parts[n].Net()), v.Percent))
		}
		if amount != 0 {
			given := posting.Of(amount, 0)
			lines = append(lines, posting.Line{Text: share(text, v.Percent), Quantity: decimal.New(1, 0), TaxCodeID: code, Given: &given, Register: ledger.AdvanceBillings})
		}
	}
	v.within(b, order, lines)
	return lines, v.Percent.IsZero()
}

func share(text string, percent decimal.Decimal) string {
	if percent.IsZero() {
		return text
	}
	return strings.Replace(text, "Billed", percent.String()+" % billed", 1)
}

// within refuses to bill more in advance than the order comes to.
func (v DepositInvoice) within(b *builder, order posting.Paper, lines []posting.Line) {
	c, left := b.Currency(), order.Total
	if !v.Percent.IsZero() {
		left = order.Net
	}
	for _, before := range b.facts.StandsOn(order.ID, posting.DepositInvoice) {
		if v.Percent.IsZero() {
			left -= before.Total
		} else {
			left -= before.Net
		}
	}
	var asked money.Amount
	for _, l := range lines {
		asked += l.Given.Amount.Own
	}
	if asked > left {
		field := "amount"
		if !v.Percent.IsZero() {
			field = "percent"
		}
		b.Refuse(field, "more than is ordered", c.Format(max(left, 0)), "Only %s of %s is not billed in advance yet, not %s. Take less, or bill an extra by an invoice.", c.Show(max(left, 0)), order.Number, c.Show(asked))
	}
}

// byCode adds lines up by tax code, in the order in which they come.
func byCode(lines []posting.PaperLine) (codes []int64, parts []posting.Part) {
	at := map[int64]int{}
	for _, l := range lines {
		n, seen := at[l.TaxCodeID]
		if !seen {
			n = len(codes)
			at[l.TaxCodeID] = n
			codes, parts = append(codes, l.TaxCodeID), append(parts, posting.Part{})
		}
		parts[n] = parts[n].Add(l.Part())
	}
	return codes, parts
}

// oncePerCode refuses a second line of a code: what is billed in advance is one
// thing for each code, so that it can be deducted.
func (b *builder) oncePerCode(lines []posting.PaperLine) {
	seen := map[int64]bool{}
	for n, l := range lines {
		if seen[l.TaxCodeID] && l.TaxCodeID != 0 {
			b.Refuse(fmt.Sprintf("lines[%d].taxCode", n), "once", "1", "Line %d: a deposit invoice has one line for each tax code. Add this to the line of that code.", n+1)
		}
		seen[l.TaxCodeID] = true
		if l.Net.Own < 0 {
			b.Refuse(fmt.Sprintf("lines[%d].net", n), "above nil", b.Currency().Format(0), "Line %d: what is billed in advance is above nil.", n+1)
		}
	}
}
