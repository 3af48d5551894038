package sheet

import (
	"cleantally/core/money"
	"cleantally/core/posting"
)

// called are what the money of a paper is, and what is left of it.
var called = map[posting.Kind]struct{ total, left string }{
	posting.Deposit: {"Deposit received", "Still held"}, posting.Receipt: {"Received", "On account"}, posting.Unidentified: {"Arrived", "Not identified yet"},
	posting.Refund: {total: "Given back"}, posting.Forfeit: {total: "Kept"}, posting.Transfer: {"Moved", "Not used yet"}, posting.WriteOff: {total: "Given up"}, posting.Recovery: {total: "Recovered"},
	posting.Request: {total: "Deposit asked for"}, posting.Release: {"Released, to be paid", "Left to pay"}, posting.Guarantee: {total: "Guaranteed"}, posting.Contra: {total: "Set off"},
	posting.Payout: {total: "Paid out"}, posting.OwnTransfer: {total: "Moved"}, posting.Returned: {total: "Taken back by the bank"}, posting.Journal: {total: "Entered"}, posting.PaySupplier: {"Paid", "On account"}, posting.Prepayment: {"Prepaid", "Not used yet"},
	posting.SupplierRefund: {total: "Came back"}, posting.PayableRelease: {"Released, to be paid", "Left to pay"}, posting.NotPassedOn: {total: "Not to be billed"}, posting.Accrual: {total: "Accrued"}, posting.Revaluation: {total: "Difference"}, posting.TaxSettlement: {total: "Tax to pay"}, posting.YearEnd: {total: "Result"}, posting.Opening: {"Amount", "Left to pay"}, posting.ClaimedBefore: {total: "Net"},
}

// money fills in a paper of money: how much, how, and what it was used for.
func (d Data) money(s *Sheet) {
	p := d.Paper
	names, known := called[p.Kind]
	if !known {
		names.total = p.Title
		if d.Reverses != "" {
			names.total = d.say("Reversal of %s", d.Reverses)
		}
	}
	sum := func(look, name string, a money.Amount) {
		s.Sums = append(s.Sums, Sum{d.say(name), d.Currency.Format(a), look})
	}
	handed := p.Kind == posting.Receipt || p.Kind == posting.Deposit
	if !handed {
		s.Says = p.Title
	}
	if p.Kind == posting.Payout { // its total is what arrived
		text := func(name string) Column { return Column{Name: d.say(name), Ours: name} }
		s.Columns = []Column{text("Paper"), text("Date"), text("From"), {Name: d.say("Amount"), Ours: "Amount", Figure: true}}
		for _, c := range d.Cleared {
			s.Rows = append(s.Rows, Row{Cells: []string{c.Number, d.in(c.Day), c.Party, d.Currency.Format(c.Amount)}})
		}
		sum("", "Card takings", p.Total+p.Charges)
		sum("", "Fee taken off", -p.Charges)
	} else if p.Charges != 0 || p.Withheld != 0 {
		sum("", "Arrived", p.Total-p.Charges-p.Withheld)
	}
	if p.Charges != 0 && p.Kind != posting.Payout {
		sum("", "Bank charges taken off", p.Charges)
	}
	if p.Withheld != 0 {
		sum("", "Tax withheld", p.Withheld)
	}
	// What it came out of adds up to it; what it was used for is taken off it.
	var used []Settled
	for _, a := range d.Settled {
		if d.isSource(a) {
			s.Sums = append(s.Sums, d.settledSum(d.saysOf(a)+", "+d.in(a.Day), a, a.Amount, ""))
		} else {
			used = append(used, a)
		}
	}
	sum("total", names.total, p.Total)
	if p.Tax != 0 {
		sum("", "Tax inside", p.Tax)
	}
	for _, a := range used {
		s.Sums = append(s.Sums, d.settledSum(d.saysOf(a)+", "+d.in(a.Day), a, -a.Amount, ""))
	}
	if names.left == "" {
		for _, i := range d.Items {
			if !i.Credit() && i.Left.Amount.Own != 0 {
				sum("", d.say("Owed to us, due %s", d.in(i.Due)), i.Left.Amount.Own.Abs())
			}
		}
	}
	if p.Kind == posting.Request && d.Cancelled != 0 {
		sum("", "No longer asked for", -d.Cancelled)
	}
	switch {
	case p.Kind == posting.Request && d.Left == 0 && d.Cancelled != 0:
		sum("left", "Nothing left to pay", 0)
	case p.Kind == posting.Request && d.Left == 0:
		sum("left", "Paid", 0)
	case p.Kind == posting.Request:
		sum("left", d.say("Left to pay by %s", d.in(p.Due)), d.Left)
	case names.left != "":
		sum("left", names.left, d.Open)
	}
	if handed {
		s.InWords = d.Currency.Words(p.Total.Abs())
		s.Sign = []string{d.say("Received by ________________________")}
	}
}

func (d Data) isRelease() bool {
	return d.Paper.Kind == posting.Release || d.Paper.Kind == posting.PayableRelease
}

func (d Data) isSource(a Settled) bool {
	if d.isRelease() {
		return a.Bound == "release"
	}
	return a.Credit
}

func (d Data) saysOf(a Settled) string {
	switch {
	case !d.isRelease():
		return d.usedFor(a)
	case d.isSource(a):
		return d.say("kept back of %s", a.Other)
	}
	return d.say("Paid %s", a.Other)
}
