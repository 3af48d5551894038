package billing

import (
	"fmt"
	"slices"

	"cleantally/core/day"
	"cleantally/core/ledger"
	"cleantally/core/master"
	"cleantally/core/posting"
	"cleantally/core/tax"
)

// Facts is what plans of billing ask beside what every plan may. Whatever
// answers posting.Facts for them answers these too.
type Facts interface {
	posting.Facts
	// StandsOn returns the papers of a kind that were made on another one: an
	// order's deposit invoices. Reversed ones are left out.
	StandsOn(paperID int64, kind posting.Kind) []posting.Paper
	// KeptBack is what was kept back on a job's invoices so far, less what was
	// credited of it, never less what was released; with the tax inside.
	KeptBack(jobID int64) posting.Part
	// RetentionOf returns the items of retention that are of what a paper bills,
	// with what was credited of them.
	RetentionOf(paperID int64) []posting.Item
	// Overdue returns what of a customer was owed past its due day at some time
	// through a day, and the credits that waited then. What is owed for late
	// charges is left out: they bear none themselves.
	Overdue(partyID int64, through day.Day) []posting.Item
	Disputes(posting.ItemRef) []posting.Dispute
	FirmNote() string                       // that a new invoice begins with
	FirmTaxCodeID() int64                   // the code of a new line
	OrdersOf(jobID int64) []posting.Paper   // that stand
	InvoicesOf(jobID int64) []posting.Paper // that stand, the oldest first
	AdvancesOf(jobID int64) []posting.Paper // deposit invoices that stand, the oldest first
	// Said is what was noted of a paper by an event of a kind: why it was lost.
	Said(paperID int64, event string) (text string, said bool)
}

// A builder is posting's, with what only billing needs.
type builder struct {
	*posting.Builder
	facts Facts
}

func build(f posting.Facts) *builder { return on(posting.Build(f)) }

// on goes on with what a larger step has built.
func on(b *posting.Builder) *builder { return &builder{b, b.Facts.(Facts)} }

// notBefore refuses what is done to a paper before its own day.
func (b *builder) notBefore(p posting.Paper, d day.Day, done string) bool {
	if d < p.Day {
		b.Refuse("day", "before the paper", string(p.Day), "%s is dated %s and cannot be %s before. Use that day or later.", p.Number, p.Day.Show(), done)
	}
	return d >= p.Day
}

// againstOwn sets a credit against what is open of a paper itself.
func (b *builder) againstOwn(field string, paperID int64, credit posting.ItemRef, d day.Day) {
	for _, i := range b.PaperItems(paperID) {
		if most := b.Most(i.ID, credit, d); i.Register == ledger.Receivables && i.Debit() && most > 0 {
			b.Allocate(field, i.ID, credit, most, d)
		}
	}
}

// ordered returns a paper of a kind that a customer's later papers take from.
// Another customer's, one that was reversed and one that is not there are
// refused.
func (b *builder) ordered(field string, id int64, kind posting.Kind, partyID int64) (posting.Paper, bool) {
	p, ok := b.facts.Paper(id)
	if !ok || p.Kind != kind {
		b.Refuse(field, "missing", "", "There is no such %s. Choose another.", kind)
		return p, false
	}
	if partyID != 0 && p.PartyID != partyID {
		b.Refuse(field, "another customer's "+string(kind), p.Number, "%s is %s's. Choose one of this customer.", p.Number, p.PartyName)
		return p, false
	}
	if by, reversed := b.ReversedBy(id); reversed {
		b.Refuse(field, "reversed", by, "%s was reversed by %s, so nothing of it is left.", p.Number, by)
		return p, false
	}
	return p, true
}

// theirNumber refuses an invoice by a code of which the customer accounts for the
// tax, where their tax number is not known: the invoice has to say it
// (docs/rules.md, part 12).
func (b *builder) theirNumber(party master.Party, lines []posting.PaperLine, s tax.Sums) {
	if party.TaxNumber != "" || party.ID == 0 {
		return
	}
	for _, c := range s.Codes {
		if c.Code.Kind != tax.CustomerAccountsIt {
			continue
		}
		n := slices.IndexFunc(lines, func(l posting.PaperLine) bool { return l.TaxCodeID == c.Code.ID })
		b.Refuse(fmt.Sprintf("lines[%d].taxCode", max(n, 0)), "no tax number", "", "%s accounts for the tax, so the invoice has to say their tax number. Write it at the customer first.", party.Name)
		return
	}
}
