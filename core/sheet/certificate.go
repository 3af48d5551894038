package sheet

import (
	"cleantally/core/billing"
	"cleantally/core/money"

	"github.com/shopspring/decimal"
)

// Certify is the sheet on which a customer certifies a progress claim: where the
// contract stands line by line, what is claimed of it now, and what of that is to
// be paid; to be signed by both.
func Certify(d Data, c billing.Certificate) Sheet {
	p := d.Paper
	s := Sheet{Heading: d.say("Certificate"), Number: p.Number, Firm: d.Firm, TaxNumber: TaxLine(d.Words, d.TaxNumber), To: Address{p.PartyName, d.Address}, Subject: p.Subject, Rows: []Row{}, Below: []string{}, Sentences: []string{}, Note: ""}
	s.Facts = []Fact{{d.say("Of the claim"), p.Number + ", " + d.on(p.Day)}}
	if p.Currency != "" {
		s.Facts = append(s.Facts, Fact{d.say("Currency"), p.Currency})
	}
	if d.Job != "" {
		s.Facts = append(s.Facts, Fact{d.say("Job"), d.Job})
	}
	if p.OrderNumber != "" {
		s.Facts = append(s.Facts, Fact{d.say("Your order"), p.OrderNumber})
	}
	s.Facts = append(s.Facts, Fact{d.say("Claim"), p.Reason})
	figure := func(name string) Column { return Column{Name: d.say(name), Ours: name, Figure: true} }
	s.Columns = []Column{{Name: d.say("What"), Ours: "What"}, figure("Contract"), figure("Claimed before"), figure("This claim"), figure("To date"), figure("Share")}
	row := func(text, beside string, l billing.CertificateLine) {
		cells := []string{text}
		for _, a := range []money.Amount{l.Contract, l.Before, l.This, l.ToDate()} {
			cells = append(cells, d.show(a))
		}
		s.Rows = append(s.Rows, Row{Cells: append(cells, d.shareOf(l.ToDate(), l.Contract)), Beside: beside})
	}
	for _, l := range c.Lines {
		text, beside := l.Text, ""
		if l.Order != "" {
			beside = d.say("Order") + " " + l.Order
		} else {
			text = d.say("Agreed without an order")
		}
		row(text, beside, l)
	}
	if len(c.Lines) > 1 {
		row(d.say("Total"), "", c.Total)
	}
	sum := func(look, name string, a money.Amount, always bool) {
		if a != 0 || always {
			s.Sums = append(s.Sums, Sum{d.say(name), d.Currency.Format(a), look})
		}
	}
	sum("", "Work done to date", c.Total.ToDate(), true)
	sum("", "Less claimed before", -c.Total.Before, true)
	sum("total", "This claim, net", c.Total.This, true)
	sum("", "Tax of it", c.Tax, true)
	sum("", "Less advances billed, with tax", -c.Deducted, false)
	sum("", "Rounding", c.Rounding, false)
	sum("kept", "Kept back by you", -c.Retained, false)
	sum("left", "To be paid", c.ToPay, true)
	sum("part", "Kept back to date", c.Held, false)
	s.Sign = []string{d.say("Claimed by __________________, date ________"), d.say("Certified by __________________, date ________")}
	return s
}

// shareOf is a share in percent with one place, "" of nothing.
func (d Data) shareOf(a, of money.Amount) string {
	if of == 0 {
		return ""
	}
	share := decimal.New(int64(a), 2).DivRound(decimal.New(int64(of), 0), 1)
	return d.Currency.Marks.Show(share.StringFixed(1)) + " %"
}
