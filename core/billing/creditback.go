package billing

import (
	"cleantally/core/ledger"
	"cleantally/core/money"
	"cleantally/core/posting"
)

// retained is what of the retention goes along with a credit: with its tax, by
// code.
type retained struct {
	amount posting.Worth
	taxes  map[int64]posting.Worth // deferred, that was inside
}

// keptBack gives back the credit's share of what is kept back of the invoice, as
// far as it is still held: by work credited over work billed, or all of the
// credit where it comes off what is kept back.
func (c Credit) keptBack(b *builder, p *posting.Paper, of posting.Paper, works []creditPart) retained {
	r := retained{taxes: map[int64]posting.Worth{}}
	held := b.facts.RetentionOf(of.ID)
	groups, byCode := retentionGroups(held)
	for _, code := range groups {
		var items []posting.Item
		var whole, open, back money.Amount
		for _, i := range held {
			if i.TaxCodeID != code {
				continue
			}
			if i.Debit() {
				items = append(items, i)
				whole += i.Amount.Own
				open += b.OpenFrom(i, c.Day)
			} else if _, reversed := b.ReversedBy(i.PaperID); i.Nature == posting.OfCredit && !reversed {
				back -= i.Amount.Own
			}
		}
		now, left := workOf(b, of, works, code, byCode)
		var amount money.Amount
		if now > 0 {
			amount = min(money.Portion(now, whole-back, left), open)
		}
		if c.FromRetention {
			amount = min(c.gross(p, code, byCode)-r.without(byCode), open)
		}
		r.take(b, c, p, items, amount, code)
	}
	if cur := b.Currency(); c.FromRetention && r.amount.Own != -p.Total {
		b.Refuse("fromRetention", "more than is held", cur.Format(r.amount.Own), "Only %s of %s is still kept back of it, not %s.", cur.Show(r.amount.Own), of.Number, cur.Show(-p.Total))
	}
	return r
}

// without is what was taken already of a credit that is not told by code.
func (r retained) without(byCode bool) money.Amount {
	if byCode {
		return 0
	}
	return r.amount.Own
}

// gross is what the credit note comes to, of a code or in all.
func (c Credit) gross(p *posting.Paper, code int64, byCode bool) money.Amount {
	if !byCode {
		return -p.Total
	}
	var sum money.Amount
	for _, l := range p.Lines {
		if l.TaxCodeID == code {
			sum -= l.Net.Own + l.Tax.Own
		}
	}
	return max(sum, 0)
}

// retentionGroups are the codes that what is kept back is told by; one group of
// none where its tax was due when it was billed.
func retentionGroups(held []posting.Item) (codes []int64, byCode bool) {
	seen := map[int64]bool{}
	for _, i := range held {
		if i.Debit() && !seen[i.TaxCodeID] {
			seen[i.TaxCodeID] = true
			codes = append(codes, i.TaxCodeID)
			byCode = byCode || i.TaxCodeID != 0
		}
	}
	return codes, byCode
}

// workOf is the work that is credited now and what was left of it before, net,
// of a code or in all.
func workOf(b *builder, of posting.Paper, works []creditPart, code int64, byCode bool) (now, left money.Amount) {
	counts := func(l posting.PaperLine) bool {
		_, control := b.Control(l.AccountID)
		return !control && (!byCode || code == 0 || l.TaxCodeID == code)
	}
	credited := map[int]posting.Part{}
	for _, u := range b.Uses(of.ID) {
		if u.As == posting.Credited && u.Of.Position > 0 {
			credited[u.Of.Position] = credited[u.Of.Position].Add(u.Part)
		}
	}
	for _, l := range of.Lines {
		if counts(l) {
			left += l.Net.Own - credited[l.Position].Net()
		}
	}
	for _, x := range works {
		if counts(x.line) {
			now += x.part.Net()
		}
	}
	return now, left
}

// take takes an amount off what is kept back, over its items by what is open of
// them.
func (r *retained) take(b *builder, c Credit, p *posting.Paper, items []posting.Item, amount money.Amount, code int64) {
	if amount <= 0 {
		return
	}
	open := make([]money.Amount, len(items))
	for n, i := range items {
		open[n] = b.OpenFrom(i, c.Day)
	}
	shares, err := money.Share(amount, open)
	if err != nil {
		return
	}
	for n, i := range items {
		if shares[n] == 0 {
			continue
		}
		part := b.LeftFrom(i, c.Day).Take(shares[n])
		ref := b.Open(posting.Item{Register: ledger.Retention, Nature: posting.OfCredit, Bills: c.PaperID, PartyID: i.PartyID, JobID: i.JobID, Day: c.Day, Currency: i.Currency, Part: part.Neg(), TaxCodeID: i.TaxCodeID})
		if b.Allocate("paper", i.ID, ref, shares[n], c.Day) {
			r.amount = r.amount.Add(part.Amount)
			r.taxes[code] = r.taxes[code].Add(part.Tax)
		}
	}
}

// giveBack returns what a line of the invoice holds, in proportion: what it
// billed of an order, what it deducted of a deposit invoice. What is not billed
// again lowers the order. It answers how many pieces had left stock when they
// were billed and were never delivered: those are there.
func (c Credit) giveBack(b *builder, all holding, x creditPart) (there posting.Millionths) {
	for _, h := range all.held[x.line.Position] {
		u := posting.Use{Of: h.Of, As: h.As, Day: c.Day, By: h.By}
		net, left := x.part.Net(), x.left.Net()
		whole := net == left
		if net < 0 {
			net, left = -net, -left
		}
		u.Part = h.Part
		of, _ := b.Facts.Paper(h.Of.PaperID)
		switch {
		case h.As == posting.Deducted:
			u.Part = x.part.Neg() // so that the advance comes back as the line has it
		case !whole && of.Currency != b.Code():
			u.Part = h.Share(net, left)
		case !whole:
			u.Part = h.Take(money.Portion(net, h.Amount.Own, left))
		}
		u.Quantity = c.pieces(all, h, x, net, left)
		back := u
		back.Quantity, back.Part = -u.Quantity, u.Part.Neg()
		if c.Cause != GoodsBack && h.As == posting.Billed {
			there += max(-leaving(b, h.Of, -u.Quantity, 0), 0)
		}
		if !b.Use("paper", back) || h.As != posting.Billed || of.Kind != posting.Order {
			continue
		}
		c.lower(b, all.delivered[u.Of], u)
	}
	return there
}

// pieces is the quantity of an order's line that is given back: that of the
// credit, or, where it says none, its share of the net where it may be billed
// again.
func (c Credit) pieces(all holding, h posting.Use, x creditPart, net, left money.Amount) posting.Millionths {
	switch {
	case c.Cause != GoodsBack && c.Cause != CalledOff && !c.Again:
		return 0 // a price that falls leaves the pieces billed
	case x.quantity > 0:
		q := min(x.quantity, h.Quantity)
		if c.Cause == CalledOff && !c.Again { // what was delivered stays delivered
			q = min(q, max(h.Quantity-all.delivered[h.Of].Quantity, 0))
		}
		return q
	case net == left:
		return h.Quantity
	}
	return posting.Millionths(money.Portion(net, money.Amount(h.Quantity), left))
}

// lower is what else becomes of an order's line when a part of it was credited:
// goods that come back are not delivered, and what is not billed again is left
// out of the order.
func (c Credit) lower(b *builder, delivered posting.Taken, billed posting.Use) {
	own := posting.Use{Of: billed.Of, Day: c.Day, By: posting.LineRef{PaperID: b.Own()}}
	switch {
	case c.Cause == GoodsBack && delivered.Quantity > 0 && billed.Quantity > 0:
		q := min(billed.Quantity, delivered.Quantity)
		back := own
		back.As, back.Quantity = posting.Delivered, -q
		back.Part = takeOf(delivered.Part, money.Portion(money.Amount(q), delivered.Net(), money.Amount(delivered.Quantity)), false).Neg()
		b.Use("paper", back)
	case billed.Quantity == 0 && !c.Again && delivered.Amount.Own > 0: // what was delivered is worth less
		back := own
		back.As = posting.Delivered
		back.Part = delivered.Part.Neg()
		if billed.Amount.Own < delivered.Amount.Own {
			back.Part = takeOf(delivered.Part, billed.Net(), false).Neg()
		}
		b.Use("paper", back)
	}
	if !c.Again {
		own.As, own.Quantity, own.Part = posting.Cancelled, billed.Quantity, billed.Part
		b.Use("paper", own)
	}
}

// holding is what the lines of a paper hold of others, by line, with what was
// delivered of those.
type holding struct {
	held      map[int][]posting.Use
	delivered map[posting.Thing]posting.Taken
}

// holdingOf looks once at all that a paper's lines hold.
func holdingOf(b *builder, paperID int64) holding {
	type key struct {
		position int
		of       posting.Thing
		as       posting.UseKind
	}
	h := holding{map[int][]posting.Use{}, map[posting.Thing]posting.Taken{}}
	at := map[key]int{}
	asked := map[int64]bool{}
	for _, mine := range b.UsesBy(paperID) {
		if mine.By.PaperID != paperID || asked[mine.Of.PaperID] {
			continue
		}
		asked[mine.Of.PaperID] = true
		for _, u := range b.Uses(mine.Of.PaperID) {
			if u.As == posting.Delivered {
				sum := h.delivered[u.Of]
				h.delivered[u.Of] = posting.Taken{Quantity: sum.Quantity + u.Quantity, Part: sum.Add(u.Part)}
			}
			if u.By.PaperID != paperID {
				continue
			}
			k := key{u.By.Position, u.Of, u.As}
			own := h.held[k.position]
			n, seen := at[k]
			if !seen {
				n = len(own)
				at[k] = n
				own = append(own, posting.Use{Of: u.Of, As: u.As, By: u.By})
			}
			own[n].Quantity += u.Quantity
			own[n].Part = own[n].Add(u.Part)
			h.held[k.position] = own
		}
	}
	return h
}
