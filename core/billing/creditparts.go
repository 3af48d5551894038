package billing

import (
	"fmt"

	"cleantally/core/ledger"
	"cleantally/core/money"
	"cleantally/core/posting"
)

// parts works out what of each line is credited.
func (c Credit) parts(b *builder, of posting.Paper) []creditPart {
	all := make([]creditPart, len(of.Lines))
	for n, l := range of.Lines {
		all[n] = creditPart{line: l, thingPart: thingPart{of: thingOf(of, l)}}
		left, pieces, _ := b.LeftOf(all[n].of, posting.Credited, c.Day)
		all[n].left, all[n].part, all[n].quantity = left.Least, left.Least, max(pieces, 0)
		if taken(all[n].left) {
			all[n].quantity = 0
		}
	}
	switch {
	case c.Work != 0 && len(c.Lines) > 0:
		b.Refuse("work", "one of them", "", "Say lines or an amount of the work, not both.")
	case c.Work != 0:
		return c.ofWork(b, of, all)
	case len(c.Lines) > 0:
		return c.ofLines(b, of, all)
	}
	chosen := all[:0]
	for _, x := range all {
		if x.left.Amount.Own != 0 {
			chosen = append(chosen, x)
		}
	}
	if len(chosen) == 0 {
		b.Refuse("paper", "nothing left", b.Currency().Format(0), "Nothing of %s is left to credit.", of.Number)
	}
	return chosen
}

// taken tells whether a part takes something off, as a deduction does.
func taken(p posting.Part) bool { return p.Amount.Own < 0 }

// ofLines are the parts of the chosen lines.
func (c Credit) ofLines(b *builder, of posting.Paper, all []creditPart) []creditPart {
	var chosen []creditPart
	seen := map[int]bool{}
	for n, l := range c.Lines {
		field := fmt.Sprintf("lines[%d].", n)
		if l.Position < 1 || l.Position > len(all) || seen[l.Position] {
			b.Refuse(field+"position", "missing", "", "Line %d: %s has no such line, or it is credited twice.", n+1, of.Number)
			continue
		}
		seen[l.Position] = true
		x := all[l.Position-1]
		if l.some(b, field, n+1, of, &x) && x.part.Amount.Own != 0 {
			chosen = append(chosen, x)
		}
	}
	return chosen
}

// some narrows a part to what a line says of it: a quantity, an amount or a new
// price.
func (l CreditLine) some(b *builder, field string, n int, of posting.Paper, x *creditPart) bool {
	cur := b.Currency()
	named := 0
	for _, set := range []bool{!l.Quantity.IsZero(), l.Amount != 0, l.Price != nil} {
		if set {
			named++
		}
	}
	whole := x.left.Net()
	if of.Includes {
		whole = x.left.Amount.Own
	}
	amount := l.Amount
	switch {
	case named > 1:
		b.Refuse(field+"amount", "one of them", "", "Line %d: say a quantity, an amount or a new price.", n)
		return false
	case named == 0:
		return true
	case taken(x.left):
		if amount >= 0 || amount < whole || l.Amount == 0 {
			b.Refuse(field+"amount", "more than is left", cur.Format(whole), "Line %d takes %s off %s: credit all of it, or a part below nil.", n, cur.Show(-whole), of.Number)
			return false
		}
	case !l.Quantity.IsZero():
		q := posting.InMillionths(l.Quantity)
		if q < 0 || q > x.quantity {
			b.Refuse(field+"quantity", "more than is left", x.quantity.Decimal().String(), "Line %d: only %s of %s is left to credit, not %s.", n, x.quantity.Decimal(), x.line.Text, l.Quantity)
			return false
		}
		x.part = x.left
		if q < x.quantity {
			x.part = x.left.TakeNet(money.Portion(money.Amount(q), x.left.Net(), money.Amount(x.quantity)))
		}
		x.quantity = q
		return true
	case l.Price != nil:
		amount = l.cheaper(b, x)
		if l.Price.IsNegative() || !money.Fits(*l.Price, 6) || amount <= 0 {
			b.Refuse(field+"price", "not lower", x.line.UnitPrice.String(), "Line %d: the new price is below %s, from nil on, with at most 6 places.", n, x.line.UnitPrice)
			return false
		}
		whole = x.left.Net()
	}
	if amount > whole || (amount < 0 && !taken(x.left)) {
		b.Refuse(field+"amount", "more than is left", cur.Format(whole), "Line %d: only %s of %s is left to credit, not %s.", n, cur.Show(whole), x.line.Text, cur.Show(amount))
		return false
	}
	x.quantity = 0
	x.part = takeOf(x.left, amount, of.Includes && l.Price == nil)
	return true
}

// takeOf takes an amount of a part on its own side, net or with tax.
func takeOf(left posting.Part, amount money.Amount, gross bool) posting.Part {
	if amount < 0 {
		return takeOf(left.Neg(), -amount, gross).Neg()
	}
	if gross {
		return left.Take(amount)
	}
	return left.TakeNet(amount)
}

// cheaper is what a lower price takes off what is left of a line, net: its net
// in the proportion of the prices.
func (l CreditLine) cheaper(b *builder, x *creditPart) money.Amount {
	if x.line.UnitPrice.IsZero() {
		return 0
	}
	lower := x.line.UnitPrice.Sub(*l.Price)
	return b.Currency().Round(b.Currency().Decimal(x.left.Net()).Mul(lower).DivRound(x.line.UnitPrice, 16))
}

// ofWork shares an amount of the work over the lines by what is left of them,
// and gives back deductions in the same share.
func (c Credit) ofWork(b *builder, of posting.Paper, all []creditPart) []creditPart {
	work := make([]money.Amount, len(all))
	var left money.Amount
	for n, x := range all {
		if _, control := b.Control(x.line.AccountID); !control && x.left.Net() > 0 {
			work[n] = x.left.Net()
			left += work[n]
		}
	}
	cur := b.Currency()
	if c.Work < 0 || c.Work > left {
		b.Refuse("work", "more than is left", cur.Format(left), "Only %s of the work of %s is left to credit, net, not %s.", cur.Show(left), of.Number, cur.Show(c.Work))
		return nil
	}
	shares, err := money.Share(c.Work, work)
	if err != nil {
		return nil
	}
	var chosen []creditPart
	for n, x := range all {
		switch _, control := b.Control(x.line.AccountID); {
		case shares[n] > 0:
			x.part = x.left.TakeNet(shares[n])
		case control && taken(x.left):
			x.part = x.left.Neg().Take(money.Portion(c.Work, -x.left.Amount.Own, left)).Neg()
		default:
			continue
		}
		if x.quantity = 0; x.part.Amount.Own != 0 {
			chosen = append(chosen, x)
		}
	}
	return chosen
}

// carried is the share of the discount taken that the credit carries, by code;
// false where more is credited than discounts and write-offs left of a code.
func (c Credit) carried(b *builder, of posting.Paper, parts []creditPart) ([]thingPart, bool) {
	var codes []int64
	sums := map[int64]posting.Part{}
	for _, x := range parts {
		if _, seen := sums[x.of.TaxCodeID]; !seen {
			codes = append(codes, x.of.TaxCodeID)
		}
		sums[x.of.TaxCodeID] = sums[x.of.TaxCodeID].Add(x.part)
	}
	uses := b.Uses(of.ID)
	var carried []thingPart
	for _, id := range codes {
		code := posting.Thing{LineRef: posting.LineRef{PaperID: of.ID}, TaxCodeID: id}
		left, _, _ := b.LeftOf(code, posting.Credited, c.Day)
		var discount posting.Part
		for _, u := range uses {
			if u.Of == code && u.As == posting.Discounted {
				discount = discount.Add(u.Part)
			}
		}
		sum, there := sums[id], left.Least.Add(discount)
		share := posting.Part{}
		if discount.Amount.Own > 0 && sum.Amount.Own > 0 && sum.Amount.Own <= there.Amount.Own {
			share = discount.Take(money.Portion(sum.Amount.Own, discount.Amount.Own, there.Amount.Own))
			carried = append(carried, thingPart{of: code, part: share})
		}
		net := sum.Sub(share)
		beyond := sum.Amount.Own > 0 && (net.Amount.Own > left.Most() || net.Tax.Own > max(left.Least.Tax.Own, 0))
		if sum.Amount.Own < 0 { // of a code by which more was taken off than billed, on its own side
			beyond = left.Least.Amount.Own < 0 && sum.Amount.Own < left.Least.Amount.Own || left.Least.Tax.Own < 0 && sum.Tax.Own < left.Least.Tax.Own
		}
		if beyond {
			cur := b.Currency()
			b.Refuse("paper", "more than is left", cur.Format(left.Most()), "Only %s of %s is left to credit at its tax code, not %s: a write-off, a discount or a credit stands on it.", cur.Show(left.Most()), of.Number, cur.Show(net.Amount.Own))
			return nil, false
		}
	}
	return carried, true
}

// retained is what of the retention goes along with a credit: with its tax, by
// code.
type retained struct {
	amount money.Amount
	taxes  map[int64]money.Amount // deferred, that was inside
}

// keptBack gives back the credit's share of what is kept back of the invoice, as
// far as it is still held: by work credited over work billed, or all of the
// credit where it comes off what is kept back.
func (c Credit) keptBack(b *builder, p *posting.Paper, of posting.Paper, works []creditPart) retained {
	r := retained{taxes: map[int64]money.Amount{}}
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
			} else if i.Nature == posting.OfCredit {
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
	if cur := b.Currency(); c.FromRetention && r.amount != -p.Total {
		b.Refuse("fromRetention", "more than is held", cur.Format(r.amount), "Only %s of %s is still kept back of it, not %s.", cur.Show(r.amount), of.Number, cur.Show(-p.Total))
	}
	return r
}

// without is what was taken already of a credit that is not told by code.
func (r retained) without(byCode bool) money.Amount {
	if byCode {
		return 0
	}
	return r.amount
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
		ref := b.Open(posting.Item{Register: ledger.Retention, Nature: posting.OfCredit, Bills: c.PaperID, PartyID: i.PartyID, JobID: i.JobID, Day: c.Day, Part: part.Neg(), TaxCodeID: i.TaxCodeID})
		if b.Allocate("paper", i.ID, ref, shares[n], c.Day) {
			r.amount += shares[n]
			r.taxes[code] += part.Tax.Base
		}
	}
}

// giveBack returns what a line of the invoice holds, in proportion: what it
// billed of an order, what it deducted of a deposit invoice. What is not billed
// again lowers the order.
func (c Credit) giveBack(b *builder, all holding, x creditPart) {
	for _, h := range all.held[x.line.Position] {
		u := posting.Use{Of: h.Of, As: h.As, Day: c.Day, By: h.By}
		net, left := x.part.Net(), x.left.Net()
		whole := net == left
		if net < 0 {
			net, left = -net, -left
		}
		u.Part = h.Part
		switch {
		case h.As == posting.Deducted:
			u.Part = x.part.Neg() // so that the advance comes back as the line has it
		case !whole:
			u.Part = h.Take(money.Portion(net, h.Amount.Own, left))
		}
		u.Quantity = c.pieces(all, h, x, net, left)
		back := u
		back.Quantity, back.Part = -u.Quantity, u.Part.Neg()
		if !b.Use("paper", back) || h.As != posting.Billed {
			continue
		}
		c.lower(b, all.delivered[u.Of], u)
	}
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
