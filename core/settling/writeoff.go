package settling

import (
	"fmt"
	"strings"

	"cleantally/core/day"
	"cleantally/core/ledger"
	"cleantally/core/money"
	"cleantally/core/posting"

	"github.com/shopspring/decimal"
)

// WriteOff gives up open debits or retention, in part or whole (docs/rules.md,
// part 6): Dr bad debts, Cr receivables (or retention). With tax relief the tax
// inside comes back by tax code: Dr output tax. Where an allowance is kept it
// bears what it can. A small credit that nobody will claim goes the other way
// round, within the firm's limit: Dr receivables, Cr rounding. Each customer
// gets a paper.
type WriteOff struct {
	Number string // "" to be given the next
	Day    day.Day
	Reason string
	Relief bool
	Items  []Share
}

// Plan returns the effect of the write-off.
func (w WriteOff) Plan(f posting.Facts) (posting.Effect, error) {
	b := build(f)
	told := w.plan(b, "")
	return b.Effect(told)
}

func (w WriteOff) plan(b *builder, prefix string) string {
	w.Reason = strings.TrimSpace(w.Reason)
	if w.Reason == "" {
		b.Refuse(prefix+"reason", "missing", "", "Say why this is written off.")
	}
	if len(w.Items) == 0 {
		b.Refuse("items", "missing", "", "Say what is written off.")
	}
	if !b.PostingDay("day", w.Day) {
		return ""
	}
	refs := make([]posting.ItemRef, len(w.Items))
	for n, s := range w.Items {
		refs[n] = s.Item
	}
	b.KnowItems(refs)
	off := writing{builder: b, w: w}
	var sum money.Amount
	for n, s := range w.Items {
		field := prefix + "items"
		if prefix == "" {
			field = fmt.Sprintf("items[%d].amount", n)
		}
		sum += off.one(field, s) // in the firm's currency
	}
	b.askWord(sum)
	return fmt.Sprintf("Wrote off %s: %s", b.Currency().Show(sum), w.Reason)
}

// writing is a write-off while it is being made: one paper at a time, for one
// customer after another.
type writing struct {
	*builder
	w     WriteOff
	paper *posting.Paper
	small bool // the paper is of small credits
}

// begin starts the paper of a customer.
func (o *writing) begin(i posting.Item, small bool) {
	if o.paper != nil && o.paper.PartyID == i.PartyID && o.small == small && o.paper.Currency == i.Currency {
		return
	}
	o.LikeItem(i)
	party, _ := o.Party(i.PartyID)
	number := ""
	if o.paper == nil {
		number = o.w.Number
	}
	title := "Write-off of " + i.Number
	if small {
		title = "Small credit of " + i.Number
	}
	o.paper = o.Paper(posting.Paper{Kind: posting.WriteOff, Number: number, Day: o.w.Day, PartyID: i.PartyID, PartyName: party.Name, PartyAddress: party.Printed(), JobID: i.JobID,
		Title: title, Reason: o.w.Reason, SourceID: max(i.PaperID, 0)})
	o.small = small
}

// one gives up one item and returns what was owed of it, in the firm's currency.
func (o *writing) one(field string, s Share) money.Amount {
	i, ok := o.Look(s.Item)
	if !ok || (i.Register != ledger.Receivables && i.Register != ledger.Retention) {
		o.Refuse(field, "missing", "", "Choose something that is owed, or kept back.")
		return 0
	}
	amount := s.Amount
	if s.Most {
		amount = o.OpenFrom(i, o.w.Day)
	}
	if i.Credit() {
		o.smallCredit(field, i, amount)
		return 0
	}
	if amount <= 0 && o.OpenFrom(i, o.w.Day) == 0 {
		o.Refuse(field, "nothing left", posting.CurrencyOf(o.Facts, i.Currency).Format(0), "%s has nothing left open, so there is nothing to write off.", i.Number)
		return 0
	}
	if !o.AmountAboveNil(field, amount, "what is written off of "+i.Number) || !o.Within(field, i, amount, o.w.Day) {
		return 0
	}
	o.begin(i, false)
	gone := o.Taken(i, amount, o.w.Day) // its tax is deferred, so that it was never posted to output tax
	parts := o.InsideDebt(i.Bills, amount, o.w.Day)
	ref := o.Open(posting.Item{Register: i.Register, Nature: posting.OfWriteOff, PartyID: i.PartyID, JobID: i.JobID, Day: o.w.Day, Currency: i.Currency, Part: gone.Neg(), TaxCodeID: i.TaxCodeID})
	if !o.Allocate(field, i.ID, ref, amount, o.w.Day) || !o.UseDebt(field, i.Bills, posting.WrittenOff, parts, posting.LineRef{PaperID: o.paper.ID}, o.w.Day) {
		return 0
	}
	o.lose(i, parts, gone, ref)
	o.paper.Total, o.paper.Base = o.paper.Total+amount, o.paper.Base+gone.Amount.Base
	return gone.Amount.Base
}

// lose enters the loss: the tax inside comes back by code where there is
// relief, the allowance bears what it can, bad debts the rest. What is given up
// by each code is a line of the paper, for money may yet come for it.
func (o *writing) lose(i posting.Item, parts []posting.CodePart, gone posting.Part, ref posting.ItemRef) {
	at := ledger.Line{PartyID: i.PartyID, JobID: jobOf(o.Facts, i, i.PartyID), ItemID: int64(ref)}
	net, deferred := gone.Amount.Add(gone.Tax.Neg()), gone.Tax.Own
	reliefs := make([]posting.CodePart, len(parts))
	billed, _ := o.PaperOf(i.Bills)
	for n, p := range parts {
		if o.w.Relief && deferred == 0 {
			reliefs[n] = posting.CodePart{TaxCodeID: p.TaxCodeID, Part: posting.Part{Tax: p.Tax}}
		}
		relief := reliefs[n].Tax
		if deferred != 0 { // it counts as relief, should money come after all
			relief = p.Tax
		}
		o.paper.Tax += relief.Own
		net = net.Add(reliefs[n].Tax.Neg())
		o.paper.Lines = append(o.paper.Lines, posting.PaperLine{Position: len(o.paper.Lines) + 1, Text: i.Number, Quantity: one, TaxCodeID: p.TaxCodeID, TaxPercent: billed.PercentOf(p.TaxCodeID),
			Before: p.Amount.Own, Net: p.Amount.Add(relief.Neg()), Tax: relief})
	}
	borne := net
	if there := max(o.allowance(o.w.Day), 0); there < net.Base { // the allowance is in the firm's currency
		borne = posting.Worth{Own: money.Portion(there, net.Own, net.Base), Base: there}
	}
	o.DebitWorth(o.Role(ledger.Allowance), borne, at)
	o.DebitWorth(o.Role(ledger.BadDebts), net.Add(borne.Neg()), at)
	o.debitTaxes(reliefs, at)
}

var one = decimal.New(1, 0)

// smallCredit closes a small credit that nobody will claim.
func (o *writing) smallCredit(field string, i posting.Item, amount money.Amount) {
	i, amount, ok := source(o.builder, field, Share{Item: i.ID, Amount: amount}, i.PartyID, o.w.Day)
	if !ok || !o.builder.small(field, "beyond the limit", i, amount, "%s of %s is the customer's money. Only up to %s of one credit in all is closed so; refund it, or set it against what is owed.") {
		return
	}
	o.begin(i, true)
	gone := o.Taken(i, amount, o.w.Day).Amount
	ref := o.Open(posting.Item{Register: i.Register, Nature: posting.OfSmallCredit, PartyID: i.PartyID, JobID: i.JobID, Day: o.w.Day, Due: o.w.Day, Currency: i.Currency, Part: posting.Part{Amount: gone}})
	o.CreditWorth(o.Role(ledger.Rounding), gone, ledger.Line{PartyID: i.PartyID, JobID: jobOf(o.Facts, i, i.PartyID), ItemID: int64(ref)})
	o.Allocate(field, ref, i.ID, amount, o.w.Day)
	o.paper.Total, o.paper.Base = o.paper.Total+amount, o.paper.Base+gone.Base
}
