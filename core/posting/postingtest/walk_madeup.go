package postingtest

import (
	"cleantally/core/banking"
	"cleantally/core/settling"
	"slices"

	"cleantally/core/day"
	"cleantally/core/ledger"
	"cleantally/core/money"
	"cleantally/core/posting"
)

func (w *Walk) head(after day.Day, party int64) head {
	if party == 0 {
		party = 1 + w.rnd.Int64N(2)
	}
	return head{party, w.job(party), w.after(after)}
}

func (w *Walk) order() posting.Command {
	return Order{w.head("", 0), w.amount(), w.code(), 1 + w.rnd.Int64N(20)}
}

func (w *Walk) deliver() posting.Command {
	p := w.paper(order)
	return Deliver{w.head(p.Day, p.PartyID), p.ID, 1 + w.rnd.Int64N(8), w.oneIn(4)}
}

func (w *Walk) billed() posting.Command {
	v := Bill{head: w.head("", 0), Net: w.amount(), Code: w.code()}
	from := func(kinds ...posting.Kind) posting.Paper {
		p, _ := pick(w, w.b.Papers, func(p posting.Paper) bool {
			_, reversed := w.b.ReversedBy(p.ID)
			return slices.Contains(kinds, p.Kind) && p.PartyID == v.Party && !reversed
		})
		v.Day = w.after(max(v.Day, p.Day))
		return p
	}
	if w.oneIn(2) {
		v.Order, v.Quantity = from(order).ID, 1+w.rnd.Int64N(6)
	}
	if w.oneIn(2) {
		p := from(cost)
		v.Cost, v.OfCost = p.ID, w.left(p, posting.Billed)
	}
	if w.oneIn(3) {
		p := from(advance)
		v.Advance, v.Deduct = p.ID, w.left(p, posting.Deducted)
		v.Net += v.Deduct
	}
	return v
}

// left is a part of what is left of the first line of a paper.
func (w *Walk) left(p posting.Paper, as posting.UseKind) money.Amount {
	t, _, ok := thing(w.b, p.ID, 1, "")
	if !ok {
		return 0
	}
	left, _, _ := posting.Build(w.b).LeftOf(t, as, w.b.Now)
	return w.of(left.Most())
}

func (w *Walk) cost() posting.Command { return Cost{w.head("", 0), w.amount()} }

func (w *Walk) useCost() posting.Command {
	p := w.paper(cost)
	as := []posting.UseKind{posting.NotBilled, posting.SupplierCredited}[w.rnd.IntN(2)]
	return UseCost{w.head(p.Day, p.PartyID), p.ID, w.left(p, as), as}
}

func (w *Walk) advance() posting.Command { return Advance{w.head("", 0), w.amount(), w.code()} }

func (w *Walk) creditLine() posting.Command {
	p := w.paper(billed, posting.Invoice)
	n := 1
	if len(p.Lines) > 0 {
		n = 1 + w.rnd.IntN(len(p.Lines))
	}
	t, l, ok := thing(w.b, p.ID, n, "")
	net := l.Net.Own
	if left, _, there := posting.Build(w.b).LeftOf(t, posting.Credited, w.b.Now); ok && there {
		net = left.Least.Net()
	}
	return CreditLine{w.head(p.Day, p.PartyID), p.ID, n, w.of(net)}
}

func (w *Walk) goods() posting.Command {
	g := Goods{w.head("", 0), 1, 1 + w.rnd.Int64N(30), w.amount()}
	if w.oneIn(2) {
		g.Quantity = -g.Quantity / 2
	}
	return g
}

func (w *Walk) charge() posting.Command {
	i := w.item(ledger.Receivables, 1, 0)
	from := i.Due.Add(w.rnd.IntN(30))
	return Charge{w.head(i.Day, i.PartyID), i.ID, from, from.Add(w.rnd.IntN(20) - 1)}
}

func (w *Walk) tie() posting.Command {
	line := 1 + w.rnd.Int64N(int64(len(WalkBankLines)))
	if len(w.b.TiesOf(line, 0)) > 0 && !w.oneIn(4) {
		return banking.Untie{Line: line}
	}
	if c, fits := w.tying(line); fits || w.oneIn(3) {
		return c
	}
	for line := range int64(len(WalkBankLines)) { // mostly one that something fits
		if c, fits := w.tying(line + 1); fits && len(w.b.TiesOf(line+1, 0)) == 0 {
			return c
		}
	}
	c, _ := w.tying(line)
	return c
}

// tying ties a line to one movement or two that come to it, where there are such.
func (w *Walk) tying(line int64) (posting.Command, bool) {
	want := WalkBankLines[line-1]
	free := where(w.b.movements(), func(m posting.Movement) bool {
		return m.BankAccountID == 1 && m.Amount <= want && m.Amount > 0 && (len(w.b.TiesOf(0, m.ID)) == 0 || w.oneIn(10))
	})
	for _, m := range free {
		if m.Amount == want {
			return banking.Tie{Lines: []int64{line}, Movements: []int64{m.ID}}, true
		}
		for _, o := range free {
			if m.ID < o.ID && m.Amount+o.Amount == want {
				return banking.Tie{Lines: []int64{line}, Movements: []int64{m.ID, o.ID}}, true
			}
		}
	}
	return banking.Tie{Lines: []int64{line, 1 + line%int64(len(WalkBankLines))}, Movements: []int64{1 + w.rnd.Int64N(40)}}, false
}

// explained is a deposit or a refund that explains a line of the bank, or would
// not come to it.
func (w *Walk) explained() posting.Command {
	line := 1 + w.rnd.Int64N(int64(len(WalkBankLines)))
	d := w.deposit()
	if d.Amount, d.BankAccountID = WalkBankLines[line-1], 1; w.oneIn(5) {
		d.Amount++
	}
	if d.Amount > 0 {
		return Explained{d, line}
	}
	i := w.credit(0)
	return Explained{settling.Refund{Day: w.after(i.Day), Sources: []settling.Share{{Item: i.ID, Amount: -d.Amount}}, BankAccountID: 1, Method: posting.ByTransfer}, line}
}
