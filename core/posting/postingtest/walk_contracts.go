package postingtest

import (
	"cleantally/core/billing"
	"cleantally/core/ledger"
	"cleantally/core/master"
	"cleantally/core/money"
	"cleantally/core/posting"
	"cleantally/core/settling"

	"github.com/shopspring/decimal"
)

// WalkJobs are the jobs that a walk goes through, by the customers 1 and 2:
// one keeps back 5 % of net in two parts, its tax due when it is released, the
// other 4 % of gross up to a share of its contract.
var WalkJobs = []master.Job{
	{ID: 1, Number: "101", Name: "job", PartyID: 1, ContractSum: 800000, RetentionPercent: decimal.New(5, 0), RetentionTaxLater: true,
		Releases: []master.ReleaseShare{{Name: "first", Percent: decimal.New(60, 0), Day: "2025-06-30"}, {Name: "second", Percent: decimal.New(40, 0)}}},
	{ID: 2, Number: "102", Name: "job", PartyID: 2, ContractSum: 800000, RetentionPercent: decimal.New(4, 0), RetentionGross: true, RetentionCapPercent: decimal.New(2, 0)},
}

func (w *Walk) ordered() posting.Command {
	party := w.party()
	o := billing.Order{Number: w.number(posting.Order), PartyID: party, JobID: w.job(party), Day: w.day(), Includes: w.oneIn(4), Reference: w.reference()}
	for range 1 + w.rnd.IntN(3) {
		o.Lines = append(o.Lines, posting.Line{Text: "ordered", Quantity: decimal.New(w.rnd.Int64N(9), 0), UnitPrice: decimal.New(w.rnd.Int64N(40000), -2), TaxCodeID: w.code()})
	}
	return o
}

func (w *Walk) quote() posting.Command {
	o := w.ordered().(billing.Order)
	q := billing.Quote{PartyID: o.PartyID, JobID: o.JobID, Day: o.Day, Lines: o.Lines, Includes: o.Includes}
	if w.oneIn(2) {
		q.Holds = o.Day.Add(w.rnd.IntN(20))
	}
	if before := w.paper(posting.Quote); before.ID != 0 && w.oneIn(3) {
		q.RevisesID, q.PartyID, q.JobID = before.ID, before.PartyID, before.JobID
	}
	return q
}

// accepted orders what a quote offers, or some of it.
func (w *Walk) accepted() posting.Command {
	q := w.paper(posting.Quote)
	o := billing.Order{PartyID: q.PartyID, JobID: q.JobID, Day: w.after(q.Day), QuoteID: q.ID, Includes: q.Includes}
	for n, l := range q.Lines {
		if !w.oneIn(4) {
			quantity := decimal.New(int64(w.of(money.Amount(posting.InMillionths(l.Quantity)))), -6)
			o.Lines = append(o.Lines, posting.Line{Text: l.Text, Quantity: quantity, UnitPrice: l.UnitPrice, TaxCodeID: l.TaxCodeID, Of: posting.Thing{LineRef: posting.LineRef{PaperID: q.ID, Position: n + 1}}})
		}
	}
	return o
}

// handOver delivers or cancels quantities of an order.
func (w *Walk) handOver() posting.Command {
	o := w.paper(posting.Order)
	var lines []billing.OrderShare
	for n, l := range o.Lines {
		if !w.oneIn(3) {
			lines = append(lines, billing.OrderShare{Position: n + 1, Quantity: decimal.New(int64(w.of(money.Amount(posting.InMillionths(l.Quantity)))), -6)})
		}
	}
	if w.oneIn(3) {
		c := billing.Cancellation{OrderID: o.ID, Day: w.after(o.Day), Reason: "called off", Lines: lines}
		for _, p := range w.b.StandsOn(o.ID, posting.DepositInvoice) {
			c.Day = w.after(max(c.Day, p.Day))
			c.Advances = append(c.Advances, billing.AdvanceCredit{PaperID: p.ID, Keep: w.of(p.Net / 4), OutsideTax: w.oneIn(2), Against: w.oneIn(2)})
		}
		return c
	}
	return billing.Delivery{OrderID: o.ID, Day: w.after(o.Day), Lines: lines}
}

func (w *Walk) request() posting.Command {
	party := w.party()
	r := billing.Request{PartyID: party, JobID: w.job(party), Day: w.day(), Amount: w.of(w.amount())}
	if of := w.paper(posting.Order, posting.Quote); of.ID != 0 && w.oneIn(2) {
		r.OfID, r.PartyID, r.JobID, r.Day = of.ID, of.PartyID, of.JobID, w.after(of.Day)
		if r.Percent = decimal.New(w.rnd.Int64N(60), 0); w.oneIn(2) {
			r.Percent, r.Amount = decimal.Zero, w.of(of.Total/2)
		}
	}
	return r
}

// asked is a deposit for a request, or the end of one.
func (w *Walk) asked() posting.Command {
	d := w.deposit()
	if r := w.paper(posting.Request); r.ID != 0 {
		if w.oneIn(4) {
			return billing.RequestCancellation{RequestID: r.ID, Day: w.after(r.Day), Reason: "called off"}
		}
		d.RequestID, d.PartyID, d.JobID, d.Day, d.Amount = r.ID, r.PartyID, r.JobID, w.after(r.Day), w.of(r.Total)
	}
	return d
}

func (w *Walk) depositInvoice() posting.Command {
	party := w.party()
	v := billing.DepositInvoice{Number: w.number(posting.DepositInvoice), PartyID: party, JobID: w.job(party), Day: w.day()}
	if o := w.paper(posting.Order); o.ID != 0 && w.oneIn(2) {
		v.OrderID, v.PartyID, v.JobID, v.Day = o.ID, o.PartyID, o.JobID, w.after(o.Day)
		if v.Percent = decimal.New(w.rnd.Int64N(60), 0); w.oneIn(2) {
			v.Percent, v.Amount = decimal.Zero, w.of(o.Total/2)
		}
		return v
	}
	v.Lines = []billing.AdvanceLine{{Text: "advance", Net: w.of(w.amount()), TaxCodeID: w.code()}, {Text: "advance", Net: w.of(w.amount()), TaxCodeID: w.code()}}
	return v
}

// fromOrder bills quantities of an order and deducts what was billed in
// advance.
func (w *Walk) fromOrder() posting.Command {
	v := w.invoice().(billing.Invoice)
	v.SetAgainst = nil
	if o := w.paper(posting.Order); o.ID != 0 {
		v.PartyID, v.JobID, v.Day = o.PartyID, o.JobID, w.after(o.Day)
		for n, l := range o.Lines {
			q := decimal.New(int64(w.of(money.Amount(posting.InMillionths(l.Quantity)))), -6)
			v.Lines = append(v.Lines, posting.Line{Text: l.Text, Quantity: q, Of: posting.Thing{LineRef: posting.LineRef{PaperID: o.ID, Position: n + 1}}})
		}
	}
	for range w.rnd.IntN(3) {
		if a := w.paper(posting.DepositInvoice); a.ID != 0 {
			if w.oneIn(2) {
				v.PartyID, v.JobID = a.PartyID, a.JobID
			}
			v.Day = w.after(max(v.Day, a.Day))
			v.Deductions = append(v.Deductions, billing.Deduction{PaperID: a.ID, Amount: w.of(a.Total), Most: w.oneIn(2)})
		}
	}
	if w.oneIn(6) {
		v.Retention = &billing.Retention{Amount: w.of(w.amount()), Reason: "agreed"}
	}
	return v
}

func (w *Walk) advanceCredit() posting.Command {
	p := w.paper(posting.DepositInvoice)
	return billing.AdvanceCredit{PaperID: p.ID, Day: w.after(p.Day), Reason: "credited", Keep: w.of(p.Net / 4), OutsideTax: w.oneIn(2), Against: w.oneIn(2)}
}

func (w *Walk) claim() posting.Command {
	c := billing.Claim{JobID: 1 + w.rnd.Int64N(2), Day: w.day(), Percent: decimal.New(w.rnd.Int64N(110), 0), Recover: w.oneIn(2), Credit: w.oneIn(2)}
	if w.oneIn(4) {
		c.Certified = w.amount()
	}
	if orders := w.b.OrdersOf(c.JobID); len(orders) > 0 && w.oneIn(3) {
		c.Percent, c.Credit = decimal.Zero, false
		for _, o := range orders {
			for n, l := range o.Lines {
				if w.oneIn(2) {
					c.Lines = append(c.Lines, billing.ClaimLine{OrderID: o.ID, Position: n + 1, Percent: decimal.New(w.rnd.Int64N(101), 0)})
				} else if w.oneIn(2) {
					c.Lines = append(c.Lines, billing.ClaimLine{OrderID: o.ID, Position: n + 1, Quantity: decimal.New(int64(w.of(money.Amount(posting.InMillionths(l.Quantity)))), -6)})
				}
			}
		}
	}
	return c
}

func (w *Walk) release() posting.Command {
	i := w.item(ledger.Retention, 1, w.party())
	r := settling.Release{Number: w.number(posting.Release), PartyID: i.PartyID, Day: w.after(i.Day)}
	if w.oneIn(2) {
		r.Amount, r.JobID = w.of(open(i)), []int64{0, i.JobID}[w.rnd.IntN(2)]
		return r
	}
	r.Items = []settling.Share{w.share(i)}
	return r
}

// credited credits an invoice: whole, by lines or by work.
func (w *Walk) credited() posting.Command {
	v := w.paper(posting.Invoice)
	c := billing.Credit{PaperID: v.ID, Day: w.after(v.Day), Cause: billing.Causes[w.rnd.IntN(len(billing.Causes))], Text: "credited", Again: w.oneIn(2), FromRetention: v.Retained > 0 && w.oneIn(8), Own: w.oneIn(3), Back: w.oneIn(2)}
	if w.oneIn(3) {
		c.SetAgainst = []billing.Against{{Debit: w.item(ledger.Receivables, 1, v.PartyID).ID, Amount: w.of(w.amount()), Most: w.oneIn(2)}}
	}
	switch n := w.rnd.IntN(8); {
	case n < 3:
		c.Work = w.of((v.Net - v.Beside) / 2)
	case n < 7:
		for k, l := range v.Lines {
			if w.oneIn(3) {
				continue
			}
			line := billing.CreditLine{Position: k + 1}
			switch w.rnd.IntN(4) {
			case 0:
				line.Quantity = decimal.New(int64(w.of(money.Amount(posting.InMillionths(l.Quantity)))), -6)
				if l.ArticleID != 0 && w.oneIn(2) {
					line.Back = decimal.New(int64(w.of(money.Amount(posting.InMillionths(line.Quantity)))), -6)
				}
			case 1:
				line.Amount = w.of(l.Net.Own)
			case 2:
				lower := l.UnitPrice.Mul(decimal.New(w.rnd.Int64N(11), -1)).Truncate(6)
				line.Price = &lower
			}
			w.otherwise(&line, l)
			c.Lines = append(c.Lines, line)
		}
	}
	if w.oneIn(8) {
		c = w.rebate(c)
	}
	if w.oneIn(4) {
		c.Own, c.FromRetention = c.Own && w.oneIn(4), false
		return settling.CreditAndRefund{Credit: c, Refund: settling.GivenBack{Amount: w.of(w.amount()) * money.Amount(w.rnd.IntN(2)), BankAccountID: w.bank(), Method: posting.Methods[w.rnd.IntN(5)]}}
	}
	return c
}

// otherwise credits a line to another account, or with another tax, now and
// then.
func (w *Walk) otherwise(line *billing.CreditLine, l posting.PaperLine) {
	if w.oneIn(8) {
		line.AccountID = account([]ledger.Role{ledger.DiscountAllowed, ledger.MaterialSales}[w.rnd.IntN(2)])
	}
	if w.oneIn(10) {
		line.TaxCodeID = w.code()
	}
	if w.oneIn(12) {
		other := w.of(l.Tax.Own)
		line.Tax = &other
	}
}

// rebate is a credit on its own in place of one of an invoice.
func (w *Walk) rebate(c billing.Credit) billing.Credit {
	party := w.party()
	own := billing.Credit{PartyID: party, JobID: w.job(party), Day: w.day(), Cause: c.Cause, Text: c.Text, SetAgainst: c.SetAgainst, Includes: w.oneIn(3)}
	for range 1 + w.rnd.IntN(3) {
		own.Written = append(own.Written, posting.Line{Text: "rebate", Quantity: decimal.New(1, 0), UnitPrice: decimal.New(w.rnd.Int64N(30000)-2000, -2), TaxCodeID: w.code(), AccountID: account(ledger.DiscountAllowed) * w.rnd.Int64N(2)})
	}
	return own
}

// cameBack brings back what was delivered of an order: to stock, scrapped,
// swapped, left out.
func (w *Walk) cameBack() posting.Command {
	o := w.paper(posting.Order)
	r := billing.Return{OrderID: o.ID, Day: w.after(o.Day), Reason: "came back", Swap: w.oneIn(3), Cancel: w.oneIn(3)}
	for n, l := range billing.OrderLines(w.b, o, "2099-12-31") {
		if l.Delivered <= 0 && !w.oneIn(10) {
			continue
		}
		line := billing.ReturnLine{Position: n + 1, Quantity: decimal.New(int64(w.of(money.Amount(l.Delivered))), -6)}
		if l.ArticleID != 0 && w.oneIn(2) {
			line.Back = decimal.New(int64(w.of(money.Amount(posting.InMillionths(line.Quantity)))), -6)
		}
		r.Lines = append(r.Lines, line)
	}
	return r
}

// charged charges a customer for what was overdue.
func (w *Walk) charged() posting.Command {
	c := billing.LateCharge{Number: w.number(posting.Invoice), PartyID: w.party(), Day: w.day(), Percent: decimal.New(w.rnd.Int64N(20), 0), Grace: w.rnd.IntN(10), Fee: w.of(500)}
	if c.Through = c.Day; w.oneIn(2) {
		c.Through = w.b.Now.Add(-w.rnd.IntN(40))
	}
	return c
}
