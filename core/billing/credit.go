package billing

import (
	"fmt"
	"strings"

	"cleantally/core/day"
	"cleantally/core/ledger"
	"cleantally/core/money"
	"cleantally/core/posting"
)

// AdvanceCredit credits what of a deposit invoice was not deducted: Dr advance
// billings, Dr output tax, Cr receivables. A part may be kept: its tax stays
// due, or, outside tax, comes back (docs/rules.md, part 5).
type AdvanceCredit struct {
	Number     string // "" to be given the next
	PaperID    int64  // the deposit invoice
	Day        day.Day
	Reason     string
	Keep       money.Amount // net, what of it is kept
	OutsideTax bool         // what is kept bears no tax
	Against    bool         // set against what is open of the deposit invoice itself
}

// Plan returns the effect of the credit note.
func (c AdvanceCredit) Plan(f posting.Facts) (posting.Effect, error) {
	b := build(f)
	return b.Effect(c.plan(b))
}

func (c AdvanceCredit) plan(b *builder) string {
	dayOK := b.PostingDay("day", c.Day)
	of, ok := b.ordered("paper", c.PaperID, posting.DepositInvoice, 0)
	if strings.TrimSpace(c.Reason) == "" {
		b.Refuse("reason", "missing", "", "Say why it is credited.")
	}
	if ok && dayOK {
		ok = b.notBefore(of, c.Day, "credited")
	}
	b.Like(of.Currency, of.Rate)
	p := b.Paper(posting.Paper{Kind: posting.CreditNote, Number: c.Number, Day: c.Day, PartyID: of.PartyID, PartyName: of.PartyName, PartyAddress: of.PartyAddress, JobID: of.JobID,
		Title: "Credit of " + of.Number, Reason: strings.TrimSpace(c.Reason), SourceID: of.ID})
	if ok && dayOK {
		c.credit(b, p, of)
	}
	return fmt.Sprintf("Credited %s of %s to %s by %s", b.Currency().Show(-p.Total), of.Number, of.PartyName, p.Number)
}

// credit takes all that is left of the deposit invoice: what is kept of each
// line goes to forfeits, the rest back to the customer.
func (c AdvanceCredit) credit(b *builder, p *posting.Paper, of posting.Paper) {
	cur := b.Currency()
	lefts, nets := make([]posting.Left, len(of.Lines)), make([]money.Amount, len(of.Lines))
	var net money.Amount
	for n, l := range of.Lines {
		lefts[n], _, _ = b.LeftOf(thingOf(of, l), posting.Credited, c.Day)
		nets[n] = max(lefts[n].Least.Net(), 0)
		net += nets[n]
	}
	switch {
	case net == 0:
		b.Refuse("paper", "nothing left", cur.Format(0), "Nothing of %s is left: it is deducted, credited or kept.", of.Number)
		return
	case c.Keep < 0 || c.Keep > net:
		b.Refuse("keep", "more than is left", cur.Format(net), "Only %s of %s is left, net, so no more than that is kept.", cur.Show(net), of.Number)
		return
	}
	keep, _ := money.Share(c.Keep, nets)
	at := ledger.Line{PartyID: of.PartyID, JobID: of.JobID}
	taxes := map[int64]posting.Worth{}
	var credited, forfeit posting.Worth
	for n, l := range of.Lines {
		if nets[n] == 0 {
			continue
		}
		kept := posting.Part{}
		if keep[n] > 0 {
			kept = lefts[n].Least.TakeNet(keep[n])
			b.Use("keep", posting.Use{Of: thingOf(of, l), As: posting.Kept, Day: c.Day, By: posting.LineRef{PaperID: p.ID, Position: len(p.Lines) + 1}, Part: kept})
		}
		forfeit = forfeit.Add(posting.Borne(ledger.AdvanceBillings, kept))
		back := lefts[n].Least.Sub(kept)
		net := posting.Borne(ledger.AdvanceBillings, back)
		own := posting.PaperLine{Position: len(p.Lines) + 1, Text: l.Text, Quantity: l.Quantity, TaxCodeID: l.TaxCodeID, TaxPercent: l.TaxPercent, Net: net.Neg(), Tax: back.Tax.Neg(), Before: -net.Own}
		tax := back.Tax
		if c.OutsideTax { // the tax of what is kept comes back, and with it money
			tax = tax.Add(kept.Tax)
			own.Tax = tax.Neg()
		}
		// What was discounted or written off of a code is not credited as well.
		code := thingOf(of, l)
		code.Position = 0
		if left, _, _ := b.LeftOf(code, posting.Credited, c.Day); back.Amount.Own > left.Most() || back.Tax.Own > left.Least.Tax.Own {
			b.Refuse("paper", "more than is left", cur.Format(left.Most()), "A discount or a write-off stands on %s, so that only %s of it is left to credit, not %s. Take that back first.", of.Number, cur.Show(left.Most()), cur.Show(back.Amount.Own))
			return
		}
		if back.Amount.Own > 0 {
			b.Use("paper", posting.Use{Of: thingOf(of, l), As: posting.Credited, Day: c.Day, By: posting.LineRef{PaperID: p.ID, Position: own.Position}, Part: back})
		}
		p.Lines = append(p.Lines, own)
		p.Net, p.Tax = p.Net-net.Own, p.Tax-tax.Own
		credited = credited.Add(net).Add(tax)
		if taxes[l.TaxCodeID] = taxes[l.TaxCodeID].Add(tax.Neg()); !b.TaxDue().Of(of.Kind) {
			b.DebitWorth(b.Role(ledger.OutputTax), tax, ledger.Line{PartyID: of.PartyID, JobID: of.JobID, TaxCodeID: l.TaxCodeID})
		}
	}
	b.CreditWorth(b.Role(ledger.Forfeits), forfeit, at)
	p.Beside, p.Total = p.Net, p.Net+p.Tax // it was no work, so crediting it is none
	if credit := b.credited(of, c.Day, credited, b.Later(of.Kind, taxes, -1)); c.Against && credit != 0 {
		b.againstOwn("paper", of.ID, credit, c.Day)
	}
}
