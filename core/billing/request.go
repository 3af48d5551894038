package billing

import (
	"fmt"
	"strings"

	"cleantally/core/day"
	"cleantally/core/money"
	"cleantally/core/posting"

	"github.com/shopspring/decimal"
)

// Request asks for a deposit before anything is billed: an amount, or a share
// of an order or a quote, to be paid by a day. It posts nothing and is no tax
// invoice. Deposits that are tied to it lower what is still asked
// (docs/rules.md, part 5).
type Request struct {
	Number    string // "" to be given the next
	PartyID   int64
	JobID     int64
	Day       day.Day
	Currency  string          // ISO 4217; "" for the firm's own, or that of what it is a share of
	Rate      decimal.Decimal // of Currency; nil for that of the day
	Due       day.Day         // the day to pay by; "" for its own day
	Reference string
	Note      string
	OfID      int64           // the order or the quote; 0 for none
	Percent   decimal.Decimal // a share of what that comes to, with its tax
	Amount    money.Amount    // or an amount
}

// Plan returns the effect of recording the request.
func (r Request) Plan(f posting.Facts) (posting.Effect, error) {
	b := build(f)
	dayOK := b.PostingDay("day", r.Day)
	if of, ok := f.Paper(r.OfID); ok && r.Currency == "" {
		r.Currency, r.Rate = of.Currency, of.Rate
	}
	if dayOK {
		b.In(r.Currency, r.Rate, r.Day)
	}
	party, _ := b.Customer("party", r.PartyID)
	b.JobOf("job", r.JobID, r.PartyID)
	amount, text := r.asked(b)
	due := r.Due
	if due == "" {
		due = r.Day
	}
	if _, err := day.Parse(string(due)); dayOK && (err != nil || due < r.Day) {
		b.Refuse("due", "before the paper", string(r.Day), "What is asked for is to be paid by its own day, %s, or a later one.", r.Day.Show())
	}
	line := posting.PaperLine{Position: 1, Text: text, Quantity: decimal.New(1, 0), Before: amount, Net: b.At(amount)}
	p := b.Paper(posting.Paper{Kind: posting.Request, Number: r.Number, Day: r.Day, PartyID: r.PartyID, PartyName: party.Name, PartyAddress: party.Printed(), JobID: r.JobID, Title: text, Reference: r.Reference, Note: r.Note,
		Total: amount, Lines: []posting.PaperLine{line}, SourceID: r.OfID, Billing: posting.Billing{Due: due}})
	if !b.Refused() {
		b.AmountAboveNil("amount", amount, "what is asked for")
	}
	return b.Effect(fmt.Sprintf("Asked %s for a deposit of %s by %s", party.Name, b.Currency().Show(amount), p.Number))
}

// asked is how much is asked for, and what for.
func (r Request) asked(b *builder) (money.Amount, string) {
	c := b.Currency()
	if r.OfID == 0 {
		if !r.Percent.IsZero() {
			b.Refuse("of", "missing", "", "Say of which order or quote the share is, or write an amount.")
		}
		return r.Amount, "Deposit"
	}
	kind := posting.Order
	if p, ok := b.facts.Paper(r.OfID); ok && p.Kind == posting.Quote {
		kind = posting.Quote
	}
	of, ok := b.ordered("of", r.OfID, kind, r.PartyID)
	if !ok {
		return 0, ""
	}
	if !b.OneCurrency("of", of, "asked for") {
		return 0, ""
	}
	if r.Percent.IsNegative() || r.Percent.GreaterThan(decimal.New(100, 0)) || !money.Fits(r.Percent, 4) || (r.Amount != 0) == !r.Percent.IsZero() {
		b.Refuse("percent", "one of them", "100", "Say how much of %s is asked for: a share from 0 to 100 %%, with at most 4 places, or an amount.", of.Number)
		return 0, ""
	}
	text := fmt.Sprintf("Deposit on %s %s", of.Kind, of.Number)
	if r.Percent.IsZero() {
		if r.Amount > of.Total {
			b.Refuse("amount", "more than is ordered", c.Format(of.Total), "%s comes to %s, so no more than that is asked for.", of.Number, c.Show(of.Total))
		}
		return r.Amount, text
	}
	return c.Round(money.Percent(c.Decimal(of.Total), r.Percent)), fmt.Sprintf("%s, %s %%", text, r.Percent)
}

// RequestCancellation cancels what of a request for a deposit is not paid, all
// of it: it is asked for no more. It posts nothing. What a refund asks for again
// later is cancelled again (docs/rules.md, part 5).
type RequestCancellation struct {
	Number    string // "" to be given the next
	RequestID int64
	Day       day.Day
	Reason    string
}

// Plan returns the effect of the cancellation.
func (c RequestCancellation) Plan(f posting.Facts) (posting.Effect, error) {
	b := build(f)
	reason := giveReason(b, c.Reason)
	dayOK := b.PostingDay("day", c.Day)
	r, ok := b.ordered("request", c.RequestID, posting.Request, 0)
	if !dayOK || !ok || !b.notBefore(r, c.Day, "cancelled") {
		return b.Effect("")
	}
	of := posting.Thing{LineRef: posting.LineRef{PaperID: r.ID, Position: 1}}
	all, _, _ := b.LeftOf(of, posting.Cancelled, c.Day)
	left := all.Most()
	if left <= 0 {
		b.Refuse("request", "nothing left", "0", "Nothing of %s is left to pay, so there is nothing to cancel.", r.Number)
		return b.Effect("")
	}
	b.In(r.Currency, r.Rate, r.Day)
	asked := b.Currency().Show(left)
	p := b.Paper(posting.Paper{Kind: posting.Cancellation, Number: c.Number, Day: c.Day, PartyID: r.PartyID, PartyName: r.PartyName, PartyAddress: r.PartyAddress, JobID: r.JobID, Title: "Cancelled of " + r.Number, Note: reason, SourceID: r.ID,
		Lines: []posting.PaperLine{{Position: 1, Text: fmt.Sprintf("%s of %s, no longer asked for", asked, r.Number), Quantity: decimal.New(1, 0)}}})
	b.Use("request", posting.Use{Of: of, As: posting.Cancelled, Day: c.Day, By: posting.LineRef{PaperID: p.ID, Position: 1}, Part: all.Take(left)})
	return b.Effect(fmt.Sprintf("Cancelled of %s of %s by %s, %s: %s", r.Number, r.PartyName, p.Number, asked, reason))
}

// giveReason refuses a cancellation of which nobody says why.
func giveReason(b *builder, reason string) string {
	reason = strings.TrimSpace(reason)
	if reason == "" {
		b.Refuse("reason", "missing", "", "Say why it is cancelled.")
	}
	return reason
}
