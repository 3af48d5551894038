package settling

import (
	"fmt"
	"strings"

	"cleantally/core/day"
	"cleantally/core/ledger"
	"cleantally/core/money"
	"cleantally/core/posting"
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
	b := posting.Build(f)
	told := w.plan(b, "")
	return b.Effect(told)
}

func (w WriteOff) plan(b *posting.Builder, prefix string) string {
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
	off := writing{Builder: b, w: w, allowance: max(-b.AccountBalance(b.Role(ledger.Allowance).ID), 0)}
	var sum money.Amount
	for n, s := range w.Items {
		field := prefix + "items"
		if prefix == "" {
			field = fmt.Sprintf("items[%d].amount", n)
		}
		sum += off.one(field, s)
	}
	off.finish()
	c := b.Currency()
	if limit := b.Limits().WriteOff; limit > 0 && sum > limit {
		b.AskWord("word", c.Format(limit), "%s is past the limit of %s: a second person must agree to this write-off.", c.Show(sum), c.Show(limit))
	}
	return fmt.Sprintf("Wrote off %s: %s", c.Show(sum), w.Reason)
}

// writing is a write-off while it is being made: one paper at a time, for one
// customer after another.
type writing struct {
	*posting.Builder
	w         WriteOff
	allowance money.Amount // what is left of it
	paper     *posting.Paper
	entry     ledger.Entry
}

// begin starts the paper of a customer.
func (o *writing) begin(i posting.Item) {
	if o.paper != nil && o.paper.PartyID == i.PartyID {
		return
	}
	o.finish()
	party, _ := o.Party(i.PartyID)
	number := ""
	if o.paper == nil {
		number = o.w.Number
	}
	o.paper = o.Paper(posting.Paper{Kind: posting.WriteOff, Number: number, Day: o.w.Day, PartyID: i.PartyID, PartyName: party.Name, PartyAddress: party.Address, JobID: i.JobID,
		Title: "Write-off of " + i.Number, Reason: o.w.Reason, SourceID: max(i.PaperID, 0)})
	o.entry = ledger.Entry{Day: o.w.Day, Text: "Write-off " + o.paper.Number}
}

func (o *writing) finish() {
	if o.paper != nil {
		o.Enter(ledger.Merged(o.entry.Day, o.entry.Text, o.entry))
	}
	o.entry.Lines = nil
}

// one gives up one item and returns how much of it was owed.
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
	if i.Amount < 0 {
		o.small(field, i, amount)
		return 0
	}
	if amount <= 0 && o.OpenFrom(i, o.w.Day) == 0 {
		o.Refuse(field, "nothing left", o.Currency().Format(0), "%s has nothing left open, so there is nothing to write off.", i.Number)
		return 0
	}
	if !o.AmountAboveNil(field, amount, "what is written off of "+i.Number) || !o.Within(field, i, amount, o.w.Day) {
		return 0
	}
	o.begin(i)
	ref := o.Open(posting.Item{Register: i.Register, Nature: posting.OfWriteOff, PartyID: i.PartyID, JobID: i.JobID, Day: o.w.Day, Amount: -amount})
	if !o.Allocate(field, i.ID, ref, amount, o.w.Day) {
		return 0
	}
	at := ledger.Line{PartyID: i.PartyID, JobID: i.JobID, ItemID: int64(ref)}
	net := amount
	if paper, ok := o.Facts.Paper(i.PaperID); ok && o.w.Relief {
		taxes := taxInside(paper, amount, o.Currency())
		for _, t := range taxes {
			net -= t.tax
		}
		debitTaxes(o.Builder, &o.entry, taxes, at)
		o.paper.Tax += amount - net
	}
	borne := min(o.allowance, net)
	o.allowance -= borne
	o.entry.Debit(o.Role(ledger.Allowance), borne, at)
	o.entry.Debit(o.Role(ledger.BadDebts), net-borne, at)
	o.entry.Credit(o.Role(i.Register), amount, ledger.Line{PartyID: i.PartyID, JobID: i.JobID})
	o.paper.Total += amount
	return amount
}

// small closes a small credit that nobody will claim.
func (o *writing) small(field string, i posting.Item, amount money.Amount) {
	c := o.Currency()
	limit := o.Limits().Difference
	if amount > limit {
		o.Refuse(field, "beyond the limit", c.Format(limit), "%s of %s is the customer's money. Only up to %s is closed so; refund it, or set it against what is owed.", c.Show(amount), i.Number, c.Show(limit))
		return
	}
	if i, amount, ok := source(o.Builder, field, Share{Item: i.ID, Amount: amount}, i.PartyID, o.w.Day); ok {
		o.begin(i)
		ref := o.Open(posting.Item{Register: i.Register, Nature: posting.OfSmallCredit, PartyID: i.PartyID, JobID: i.JobID, Day: o.w.Day, Due: o.w.Day, Amount: amount})
		at := ledger.Line{PartyID: i.PartyID, JobID: i.JobID}
		o.entry.Debit(o.Role(i.Register), amount, at)
		at.ItemID = int64(ref)
		o.entry.Credit(o.Role(ledger.Rounding), amount, at)
		o.Allocate(field, ref, i.ID, amount, o.w.Day)
	}
}
