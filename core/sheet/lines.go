package sheet

import (
	"strings"

	"cleantally/core/money"
	"cleantally/core/posting"
)

func bought(k posting.Kind) bool {
	return k == posting.PurchaseOrder || k == posting.SupplierBill || k == posting.Expense || k == posting.SupplierCredit
}

// lines fills in a paper that is drawn line by line, with its sums in the order
// of docs/rules.md, part 12.
func (d Data) lines(s *Sheet) {
	var billed, off []posting.PaperLine
	for _, l := range d.Paper.Lines {
		if d.Deducts(l) {
			off = append(off, l)
		} else {
			billed = append(billed, l)
		}
	}
	d.table(s, billed)
	d.sums(s, billed)
	sum := func(look, name string, a money.Amount) {
		s.Sums = append(s.Sums, Sum{name, d.Currency.Format(a), look})
	}
	p := d.Paper
	for _, l := range off {
		rate := l.TaxPercent.String()
		sum("", d.say("%s: %s net, %s tax at %s %%", l.Text, d.show(-l.Net.Own), d.show(-l.Tax.Own), rate), l.Net.Own+l.Tax.Own)
	}
	d.settled(s)
	if p.Retained != 0 {
		name := map[posting.Kind]string{posting.CreditNote: "Off what you keep back", posting.SupplierBill: "Kept back by us"}[p.Kind]
		if name == "" {
			name = "Kept back by you"
		}
		name = d.say(name)
		if p.RetainedWhy != "" {
			name += " (" + p.RetainedWhy + ")"
		}
		sum("kept", name, -p.Retained)
	}
	switch {
	case Bills(p.Kind) || p.Kind == posting.SupplierBill:
		d.left(s)
	case p.Kind == posting.CreditNote:
		sum("left", d.say(usedUp(d.Open, "Left to you")), d.Open)
	case p.Kind == posting.SupplierCredit:
		sum("left", d.say(usedUp(d.Open, "Left to us")), d.Open)
	}
	for _, a := range d.Unpaid {
		s.Below = append(s.Below, d.say("Of %s, which is taken off here, %s is still to be paid.", a.Number, d.show(a.Open)))
	}
}

func usedUp(open money.Amount, name string) string {
	if open == 0 {
		return "Used up"
	}
	return name
}

// table fills in the columns that the lines need, and the lines.
func (d Data) table(s *Sheet, billed []posting.PaperLine) {
	p := d.Paper
	var priced, discounted bool
	for _, l := range billed {
		priced = priced || !l.UnitPrice.IsZero()
		discounted = discounted || !l.DiscountPercent.IsZero() || l.Discount != 0
	}
	s.Columns = append(s.Columns, d.column("What"))
	figure := func(name string, when bool) {
		if when {
			s.Columns = append(s.Columns, d.figure(name))
		}
	}
	figure("Quantity", priced)
	figure("Unit price", priced)
	figure("Discount", discounted)
	figure("Tax", true)
	last := "Net"
	if p.Includes {
		last = "With tax"
	}
	s.Columns = append(s.Columns, Column{d.say(last), last, true, true})
	var so money.Amount
	for _, l := range billed {
		so += l.Before
		r := Row{Cells: []string{l.Text}, Amount: d.Currency.Format(l.Before), So: d.Currency.Format(so)}
		if l.PassOn == posting.OnBehalf && !bought(p.Kind) {
			r.Beside = d.say("paid on your behalf")
		}
		if priced {
			r.Cells = append(r.Cells, d.quantity(l), d.Currency.Marks.Show(d.Currency.Price(l.UnitPrice)))
		}
		if discounted {
			r.Cells = append(r.Cells, d.discount(l))
		}
		tax := l.TaxPercent.String() + " %"
		if l.PassOn == posting.OnBehalf && !bought(p.Kind) {
			tax = d.say("none")
		}
		r.Cells = append(r.Cells, tax, d.show(l.Before))
		s.Rows = append(s.Rows, r)
	}
}

func (d Data) column(name string) Column { return Column{Name: d.say(name), Ours: name} }
func (d Data) figure(name string) Column {
	return Column{Name: d.say(name), Ours: name, Figure: true}
}

func (d Data) quantity(l posting.PaperLine) string {
	return strings.TrimSpace(d.Currency.Marks.Show(l.Quantity.String()) + " " + l.Unit)
}

func (d Data) discount(l posting.PaperLine) string {
	switch {
	case !l.DiscountPercent.IsZero():
		return l.DiscountPercent.String() + " %"
	case l.Discount != 0:
		return d.show(l.Discount)
	}
	return ""
}

// sums fills in net by rate, tax and total.
func (d Data) sums(s *Sheet, billed []posting.PaperLine) {
	p := d.Paper
	sum := func(look, name string, a money.Amount) {
		s.Sums = append(s.Sums, Sum{name, d.Currency.Format(a), look})
	}
	if p.Discount != 0 {
		sum("", d.say("Discount"), -p.Discount)
	}
	type rate struct {
		code    int64
		percent string
	}
	var rates []rate
	nets, taxes := map[rate]money.Amount{}, map[rate]money.Amount{}
	var net money.Amount
	for _, l := range billed {
		r := rate{l.TaxCodeID, l.TaxPercent.String()}
		if _, seen := nets[r]; !seen {
			rates = append(rates, r)
		}
		nets[r] += l.Net.Own
		taxes[r] += l.Tax.Own
		net += l.Net.Own
	}
	if len(rates) > 1 {
		for _, r := range rates {
			name := d.say("Net at %s %%", r.percent)
			if r.code == 0 {
				name = d.say("On your behalf, without tax")
			}
			sum("part", name, nets[r])
		}
	}
	sum("", d.say("Net"), net)
	for _, r := range rates {
		if r.code != 0 {
			sum("", d.say("Tax %s %%", r.percent), taxes[r])
		}
	}
	if p.Rounding != 0 {
		sum("", d.say("Rounding"), p.Rounding)
	}
	sum("total", strings.TrimSpace(d.say("Total")+" "+p.Currency), p.Total+p.Deducted)
	if p.Currency != "" && p.InFirm.Tax != 0 { // a paper in another currency says its tax in the firm's as well
		s.Below = append(s.Below, d.say("Tax in %s: %s, at %s.", d.Firms.Code, d.Firms.Show(p.InFirm.Tax), d.Currency.Marks.Show(p.Rate.String())))
	}
}

// less are what is taken off, by what took it off.
var less = map[string]string{
	"deposit": "Deposit", "discount": "Discount for early payment", "difference": "Difference", "withheld": "Tax withheld", "kept back": "Kept back by you", "write-off": "Written off",
	"contra": "Set off", "credit note": "Credited by", "supplier credit": "Credited by", "supplier prepayment": "Prepaid",
}

// settled fills in what was set against the paper, by date and reference; of a
// credit, what it was used for.
func (d Data) settled(s *Sheet) {
	p := d.Paper
	for _, a := range d.Settled {
		if a.Bound == "release" || a.Bound == string(posting.Credited) {
			continue
		}
		var name, look string
		if p.Kind == posting.CreditNote || p.Kind == posting.SupplierCredit {
			name = d.usedFor(a) + ", " + d.in(a.Day)
		} else {
			name = less[a.Bound]
			if name == "" {
				name = less[string(a.OtherKind)]
			}
			if name == "" {
				name = "Paid"
			}
			name = d.say(name) + " " + a.Other + ", " + d.in(a.OtherDay)
			if a.Reference != "" {
				name += ", " + a.Reference
			}
			if a.OtherKind == posting.Deposit {
				look = "held"
			}
		}
		s.Sums = append(s.Sums, d.settledSum(name, a, -a.Amount, look))
	}
}

// settledSum is an amount of what is set against the paper: in another currency
// than the paper's with its code.
func (d Data) settledSum(name string, a Settled, amount money.Amount, look string) Sum {
	if a.Currency == d.Paper.Currency {
		return Sum{name, d.Currency.Format(amount), look}
	}
	c := d.Firms.In(a.Currency)
	return Sum{name + ", " + c.Code, c.Format(amount), look}
}

// usedFor is what a part of money or of a credit was used for.
func (d Data) usedFor(a Settled) string {
	switch {
	case a.Credit:
		return d.say("out of %s", a.Other)
	case a.Bound != "" && a.Bound != string(posting.Closing):
		return d.say(a.Bound) + " " + a.Other
	}
	return d.say("set against %s", a.Other)
}

// left fills in what is left to pay, by its day or days.
func (d Data) left(s *Sheet) {
	parts := d.owed()
	name := d.say("Left to pay")
	switch {
	case d.State == "reversed":
		name = d.say("Reversed, nothing to pay")
	case d.Open == 0:
		name = d.say("Nothing left to pay")
	case len(parts) < 2:
		name = d.say("Left to pay by %s", d.in(d.Paper.Due))
	}
	s.Sums = append(s.Sums, Sum{name, d.Currency.Format(d.Open), "left"})
	if len(parts) < 2 {
		return
	}
	for _, i := range parts {
		s.Sums = append(s.Sums, Sum{d.say("by %s: %s", d.in(i.Due), d.show(i.Amount.Own.Abs())), d.Currency.Format(i.Left.Amount.Own.Abs()), "part"})
	}
}

// handedOver fills in what was handed over, without prices, and a place to sign.
func (d Data) handedOver(s *Sheet) {
	p := d.Paper
	quantity := "Quantity"
	if p.Kind == posting.StockCount {
		quantity = "Difference"
	}
	s.Columns = []Column{{Name: "What"}, d.figure(quantity)}
	ours := p.Kind == posting.GoodsIn || p.Kind == posting.StockUse || p.Kind == posting.StockCount
	if ours {
		s.Columns = append(s.Columns, d.figure("Worth"))
	}
	for _, l := range p.Lines {
		r := Row{Cells: []string{l.Text, d.quantity(l)}}
		if ours {
			r.Cells, r.Amount = append(r.Cells, d.show(l.Before)), d.Currency.Format(l.Before)
		}
		s.Rows = append(s.Rows, r)
	}
	if p.Kind != posting.Delivery {
		return
	}
	received := d.say("Received by ________________________, date ____________")
	if d.Signed != nil {
		received = d.say("Received by %s, %s", d.Signed.By, d.on(d.Signed.On))
	}
	s.Sign = []string{d.say("of order %s", d.Source), received}
}
