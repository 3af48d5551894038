package postingtest

import (
	"cleantally/core/billing"
	"cleantally/core/buying"
	"cleantally/core/ledger"
	"cleantally/core/money"
	"cleantally/core/posting"
	"cleantally/core/settling"
	"cleantally/core/stock"

	"github.com/shopspring/decimal"
)

// stocked is the article of a walk that is kept in stock.
const stocked = 3

func (w *Walk) pieces(most int64) decimal.Decimal { return decimal.New(1+w.rnd.Int64N(most), 0) }

// boughtLine is a line of what is bought: a cost, one that is passed on, or
// goods for stock.
func (w *Walk) boughtLine() buying.Line {
	l := buying.Line{Text: "timber", AccountID: account(ledger.JobCosts), JobID: w.rnd.Int64N(4), Net: w.of(w.amount()), TaxCodeID: w.code(), Joined: w.oneIn(6)}
	switch w.rnd.IntN(5) {
	case 0:
		l.PassOn, l.Joined, l.JobID = posting.OnBehalf, false, 1+w.rnd.Int64N(2)
	case 1:
		l.PassOn, l.JobID = posting.OurSupply, 1+w.rnd.Int64N(2)
		if w.oneIn(2) {
			m := decimal.New(w.rnd.Int64N(40)-10, 0)
			l.Markup = &m
		}
	case 2:
		l = buying.Line{Text: "posts", ArticleID: stocked, Quantity: w.pieces(12), UnitPrice: decimal.New(w.rnd.Int64N(9000), -2), TaxCodeID: w.code(), Joined: w.oneIn(6)}
	}
	return l
}

func (w *Walk) purchaseOrder() posting.Command {
	o := buying.Order{PartyID: 1 + w.rnd.Int64N(2), Day: w.day(), Reference: w.reference()}
	for range 1 + w.rnd.IntN(3) {
		l := w.boughtLine()
		if l.Net != 0 {
			l.Net, l.UnitPrice, l.Quantity = 0, decimal.New(w.rnd.Int64N(9000), -2), w.pieces(9)
		}
		o.Lines = append(o.Lines, l)
	}
	return o
}

func (w *Walk) received() posting.Command {
	o := w.paper(posting.PurchaseOrder)
	r := buying.Received{OrderID: o.ID, Day: w.after(o.Day), Cancel: w.oneIn(4), Note: "walk"}
	for n, l := range o.Lines {
		if !w.oneIn(3) {
			r.Lines = append(r.Lines, buying.Share{Position: n + 1, Quantity: decimal.New(int64(w.of(money.Amount(posting.InMillionths(l.Quantity)))), -6)})
		}
	}
	return r
}

// billLines are lines of their own and of an order of the supplier.
func (w *Walk) billLines(party int64) (lines []buying.Line, after posting.Paper) {
	for range 1 + w.rnd.IntN(2) {
		lines = append(lines, w.boughtLine())
	}
	if o := w.paper(posting.PurchaseOrder); o.ID != 0 && o.PartyID == party && w.oneIn(2) {
		after, lines = o, lines[:0]
		for n, l := range o.Lines {
			q := decimal.New(int64(w.of(money.Amount(posting.InMillionths(l.Quantity)))), -6)
			line := buying.Line{Of: buying.OrderLine{PaperID: o.ID, Position: n + 1}, Quantity: q, PassOn: l.PassOn, JobID: l.JobID}
			if w.oneIn(2) {
				line.UnitPrice = l.UnitPrice.Add(decimal.New(w.rnd.Int64N(300)-100, -2))
			}
			lines = append(lines, line)
		}
	}
	return lines, after
}

func (w *Walk) bill() posting.Command {
	v := buying.Bill{PartyID: 1 + w.rnd.Int64N(2), Day: w.day(), Reference: w.reference()}
	var of posting.Paper
	v.Lines, of = w.billLines(v.PartyID)
	v.Day = w.after(max(v.Day, of.Day))
	if w.oneIn(3) {
		p := decimal.New(5, 0)
		v.Retention = &p
	}
	if w.oneIn(2) {
		v.EarlyPercent, v.EarlyUntil = decimal.New(2, 0), v.Day.Add(8)
	}
	if w.oneIn(6) {
		own := w.amount() / 8
		v.Tax = &own
	}
	return v
}

func (w *Walk) expense() posting.Command {
	x := buying.Expense{PartyID: 1 + w.rnd.Int64N(2), Day: w.day(), BankAccountID: w.bank(), Method: posting.ByCard, Reference: w.reference()}
	var of posting.Paper
	x.Lines, of = w.billLines(x.PartyID)
	x.Day = w.after(max(x.Day, of.Day))
	return x
}

func (w *Walk) supplierCredit() posting.Command {
	p := w.paper(posting.SupplierBill, posting.SupplierBill, posting.Expense)
	c := buying.Credit{PaperID: p.ID, Day: w.after(p.Day), Reason: "walk", Open: w.oneIn(3)}
	if w.oneIn(8) {
		return buying.Credit{PartyID: 1 + w.rnd.Int64N(2), Day: w.day(), Reason: "walk", Lines: []buying.CreditLine{{Own: w.boughtLine()}}}
	}
	for n, l := range p.Lines {
		if w.oneIn(3) {
			continue
		}
		line := buying.CreditLine{Position: n + 1, Amount: w.of(l.Net.Own / 2)}
		if l.ArticleID == stocked && w.oneIn(2) {
			line.Amount, line.Quantity, line.Back = 0, decimal.New(int64(w.of(money.Amount(posting.InMillionths(l.Quantity)/2))), -6), true
		}
		c.Lines = append(c.Lines, line)
	}
	return c
}

func (w *Walk) prepayment() posting.Command {
	return settling.Prepayment{PartyID: 1 + w.rnd.Int64N(2), Day: w.day(), Amount: w.of(w.amount()), BankAccountID: w.bank(), Method: posting.ByTransfer, Reference: w.reference()}
}

func (w *Walk) supplierPayment() posting.Command {
	party := 1 + w.rnd.Int64N(2)
	s := settling.SupplierPayment{PartyID: party, Day: w.day(), BankAccountID: w.bank(), Method: posting.ByTransfer, OnAccount: !w.oneIn(6), Reference: w.reference(), Charges: money.Amount(w.rnd.IntN(2) * 150)}
	for range 1 + w.rnd.IntN(3) {
		i := w.item(ledger.Payables, -1, party)
		b := settling.PaidBill{Item: i.ID, Amount: w.of(open(i)), Most: w.oneIn(2)}
		if w.oneIn(5) {
			b.Withheld = min(700, open(i)/2)
		}
		s.Paid += open(i)
		s.Day = w.after(max(s.Day, i.Day))
		if discount, _ := settling.Earned(w.b, i, i.Day); discount > 0 && w.oneIn(2) {
			b.Discount, b.Most, b.Withheld, s.Day = true, true, 0, i.Day.Add(w.rnd.IntN(10))
		}
		s.Bills = append(s.Bills, b)
	}
	if s.Paid == 0 {
		s.Paid = w.amount()
	}
	if w.oneIn(4) {
		return settling.PaymentRun{Payments: []settling.SupplierPayment{s}}
	}
	return s
}

// setPayable sets what stands with a supplier against its bills.
func (w *Walk) setPayable() posting.Command {
	party := 1 + w.rnd.Int64N(2)
	d := w.item([]ledger.Role{ledger.Payables, ledger.SupplierPrepayments}[w.rnd.IntN(2)], 1, party)
	c := w.item(ledger.Payables, -1, party)
	return settling.SetAgainst{Day: w.after(max(d.Day, c.Day)), Pairs: []settling.Pair{{Debit: d.ID, Credit: c.ID, Amount: w.of(min(open(d), open(c))), Most: w.oneIn(2)}}}
}

func (w *Walk) supplierRefund() posting.Command {
	d := w.item([]ledger.Role{ledger.Payables, ledger.SupplierPrepayments}[w.rnd.IntN(2)], 1, 0)
	return settling.SupplierRefund{PartyID: d.PartyID, Day: w.after(d.Day), BankAccountID: 1, Method: posting.ByTransfer, Sources: []settling.Share{w.share(d)}}
}

func (w *Walk) payableRelease() posting.Command {
	i := w.item(ledger.RetentionPayable, -1, 0)
	return settling.PayableRelease{PartyID: i.PartyID, Day: w.after(i.Day), Items: []settling.Share{w.share(i)}}
}

// waitingCost is a cost that waits, or is below nil.
func (w *Walk) waitingCost() (posting.Cost, money.Amount) {
	p := w.paper(posting.SupplierBill, posting.Expense)
	for n, l := range p.Lines {
		if c, ok := posting.Build(w.b).CostOf("", p.ID, n+1); ok && (w.oneIn(2) || n+1 == len(p.Lines)) {
			return c, l.Cost(c.Left(posting.Build(w.b), w.b.Now))
		}
	}
	return posting.Cost{Paper: p}, 0
}

func (w *Walk) notPassedOn() posting.Command {
	c, waits := w.waitingCost()
	share := buying.CostShare{PaperID: c.Paper.ID, Position: max(c.Line.Position, 1), Amount: w.of(waits)}
	if waits < 0 {
		share.Amount = -w.of(-waits)
	}
	return buying.NotPassedOn{Day: w.after(c.Paper.Day), Reason: "walk", Costs: []buying.CostShare{share}}
}

// passedOn bills costs of a customer's job.
func (w *Walk) passedOn() posting.Command {
	c, waits := w.waitingCost()
	job, _ := w.b.Job(c.Line.JobID)
	v := billing.Invoice{PartyID: max(job.PartyID, 1), JobID: c.Line.JobID, Day: w.after(c.Paper.Day), Includes: w.oneIn(4)}
	share := posting.CostShare{PaperID: c.Paper.ID, Position: max(c.Line.Position, 1), Amount: w.of(waits)}
	if w.oneIn(3) && c.Line.PassOn == posting.OurSupply {
		m := decimal.New(w.rnd.Int64N(30), 0)
		share.Markup = &m
	}
	v.Lines = []posting.Line{{Costs: []posting.CostShare{share}}}
	if w.oneIn(2) {
		v.Lines = append(v.Lines, posting.Line{Text: "work", Quantity: decimal.New(1, 0), UnitPrice: decimal.New(w.rnd.Int64N(40000), -2), TaxCodeID: w.code()})
		v.DiscountPercent = decimal.New(3, 0)
	}
	return v
}

// sold bills goods out of stock.
func (w *Walk) sold() posting.Command {
	party := w.party()
	return billing.Invoice{PartyID: party, JobID: w.job(party), Day: w.day(), Lines: []posting.Line{{ArticleID: stocked, Text: "posts", Quantity: w.pieces(6), UnitPrice: decimal.New(w.rnd.Int64N(20000), -2), TaxCodeID: w.code()}}}
}

func (w *Walk) stockUse() posting.Command {
	return stock.Use{JobID: w.rnd.Int64N(4), Day: w.day(), Lines: []stock.Line{{ArticleID: stocked, Quantity: w.pieces(5)}}}
}

func (w *Walk) stockCount() posting.Command {
	there, _ := posting.Build(w.b).Stock(stocked, w.b.Now)
	cost := decimal.New(w.rnd.Int64N(8000), -2)
	l := stock.Counted{Line: stock.Line{ArticleID: stocked, Quantity: there.Decimal().Add(decimal.New(w.rnd.Int64N(7)-3, 0))}}
	if w.oneIn(2) {
		l.Cost = &cost
	}
	return stock.Count{Day: w.b.Now, Opening: w.oneIn(8), Lines: []stock.Counted{l}}
}
