package billing

import (
	"fmt"
	"strings"

	"cleantally/core/posting"
)

// onItsOwn credits a customer with no invoice behind it: a rebate, goodwill. It
// takes back no work, so what is left to bill of a job stays; goods come back
// by the invoice that sold them (docs/rules.md, part 6).
func (c Credit) onItsOwn(b *builder) (string, posting.ItemRef) {
	dayOK := b.PostingDay("day", c.Day)
	party, partyOK := b.Customer("party", c.PartyID)
	jobOK := b.JobOf("job", c.JobID, c.PartyID)
	c.causes(b)
	c.alone(b)
	b.In(c.Currency, c.Rate, c.Day)
	lines, sums := b.Lines(posting.Lines{Lines: c.Written, Day: c.Day, PartyID: c.PartyID, Credits: true, Field: "written", Includes: c.Includes})
	paper := head(posting.CreditNote, party, lines, sums, posting.Paper{Number: c.Number, Day: c.Day, JobID: c.JobID, Reference: strings.TrimSpace(c.Reference), Note: c.Note, Reason: c.reason(),
		Billing: posting.Billing{Form: string(c.Cause), Includes: c.Includes}})
	paper.Beside = paper.Net
	paper.Billing, paper.Total = paper.Billing.Negated(), -paper.Total
	for n := range lines {
		l := &lines[n]
		l.Before, l.Net, l.Tax = -l.Before, l.Net.Neg(), l.Tax.Neg()
	}
	for n := range sums.Codes {
		sums.Codes[n].Net, sums.Codes[n].Tax = -sums.Codes[n].Net, -sums.Codes[n].Tax
	}
	p := b.Paper(paper)
	var credit posting.ItemRef
	switch {
	case len(c.Written) == 0:
		b.Refuse("written", "missing", "", "A credit needs a line. Write what is given, or choose the invoice that it is of.")
	case dayOK && partyOK && jobOK && !b.Refused() && b.AmountAboveNil("written", -p.Total, "a credit note"):
		owed := Invoice{}.value(b, p, sums, p.Total, &kept{}).all().Neg()
		b.EnterLines(p, sums, b.OutputTax(p.Kind), -1)
		credit = c.owe(b, posting.Paper{PartyID: c.PartyID, JobID: c.JobID}, owed, b.Later(p.Kind, posting.TaxesOf(p, sums), -1))
	}
	return fmt.Sprintf("Credited %s to %s by %s", b.Currency().Show(-p.Total), party.Name, p.Number), credit
}

// alone refuses what only a credit of an invoice can say.
func (c Credit) alone(b *builder) {
	if len(c.Lines) > 0 || c.Work != 0 || c.Again || c.FromRetention || c.Back || c.Own {
		b.Refuse("paper", "missing", "", "Choose the invoice that is credited. A credit on its own takes back no lines, no work, no goods and nothing that is kept back.")
	}
	for n, l := range c.Written {
		if l.Of.PaperID != 0 || len(l.Costs) > 0 || l.Deducts != nil || len(l.Serials) > 0 {
			b.Refuse(fmt.Sprintf("written[%d].text", n), "of an invoice", "", "Line %d: what was billed of an order, a cost or a deposit invoice is credited of its invoice. Choose that.", n+1)
		}
	}
}
