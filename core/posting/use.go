package posting

import (
	"cmp"
	"slices"

	"cleantally/core/day"
	"cleantally/core/ledger"
	"cleantally/core/money"

	"github.com/shopspring/decimal"
)

// Millionths is a quantity with up to 6 places, as a whole number.
type Millionths int64

// InMillionths returns a quantity as millionths.
func InMillionths(d decimal.Decimal) Millionths { return Millionths(d.Shift(6).IntPart()) }

// Decimal returns the quantity as a decimal.
func (q Millionths) Decimal() decimal.Decimal { return decimal.New(int64(q), -6) }

// LineRef names a posted line by its paper and its position, counted from 1.
// In an effect the paper may be below nil: the n-th of its own.
type LineRef struct {
	PaperID  int64
	Position int
}

// Thing is what later papers take from: a posted line, or, at position 0, all
// that a paper bills by a tax code, or of a paper of money what it moved at its
// bank.
type Thing struct {
	LineRef
	TaxCodeID int64
}

// UseKind says what became of a part of a thing.
type UseKind string

// The kinds of use (docs/rules.md, parts 4 to 6).
const (
	Credited         UseKind = "credited"
	GivenBack        UseKind = "returned" // goods that came back
	Deducted         UseKind = "deducted"
	Kept             UseKind = "forfeited"
	Billed           UseKind = "billed"
	NotBilled        UseKind = "not to be billed"
	SupplierCredited UseKind = "supplier credited"
	Accepted         UseKind = "accepted"
	Delivered        UseKind = "delivered"
	Paid             UseKind = "paid"
	Cancelled        UseKind = "cancelled"
	Recovered        UseKind = "recovered"
	Discounted       UseKind = "discounted"
	WrittenOff       UseKind = "written off"
	PaidOut          UseKind = "paid out" // by the gateway that took it, by card
)

// Use takes a part one-sided from a thing. A use below nil gives back.
type Use struct {
	ID       int64
	Of       Thing
	As       UseKind
	Day      day.Day
	By       LineRef // the line that holds it
	PaperID  int64   // the paper that wrote it
	Quantity Millionths
	Part
	Cost   money.Amount // of stocked goods, what went along
	Undoes int64        // the use that this one takes back
}

// Reserved are those of the uses that a draft would make which count for all
// others while it is a draft: what it bills of posted papers.
func Reserved(uses []Use) []Use {
	return slices.DeleteFunc(slices.Clone(uses), func(u Use) bool { return u.Of.PaperID <= 0 || u.As != Billed })
}

// Taken is how much of a thing, as a quantity and as a part.
type Taken struct {
	Quantity Millionths
	Part
}

func (t Taken) add(o Taken) Taken { return Taken{t.Quantity + o.Quantity, t.Part.Add(o.Part)} }
func (t Taken) sub(o Taken) Taken { return Taken{t.Quantity - o.Quantity, t.Part.Sub(o.Part)} }

// Used is how much of a thing was used, by kind of use.
type Used map[UseKind]Taken

// Count adds a use.
func (u Used) Count(x Use) { u[x.As] = u[x.As].add(Taken{x.Quantity, x.Part}) }

func (u Used) sum() Taken {
	var all Taken
	for _, t := range u {
		all = all.add(t)
	}
	return all
}

// Bound is how much of a thing is left for one more use of a kind; free tells
// that there is no bound, so that it may come to less than nil.
type Bound func(thing Taken, used Used, as UseKind) (left Taken, free bool)

// Whole bounds all uses together by the thing: invoice lines and codes,
// deposit invoices, write-offs.
func Whole(thing Taken, used Used, _ UseKind) (Taken, bool) { return thing.sub(used.sum()), false }

// Ordered bounds the uses of an order's line: left to bill is the larger of
// ordered less cancelled and delivered, less billed. More than is left may be
// delivered, which the paper warns of. What is billed is not cancelled; what is
// delivered is when it comes back.
func Ordered(thing Taken, used Used, as UseKind) (Taken, bool) {
	ordered := thing.sub(used[Cancelled])
	switch as {
	case Delivered:
		return ordered.sub(used[Delivered]), true
	case Billed:
		return larger(ordered, used[Delivered]).sub(used[Billed]), false
	}
	left := ordered.sub(used[Billed])
	over := left.Quantity < 0 || (left.Quantity == 0 && (left.Amount.Own < 0 || left.Tax.Own < 0))
	if over && ordered.Quantity >= 0 {
		left = Taken{} // more was billed than ordered, as it was delivered: nothing is left to cancel
	}
	return left, false
}

// Offered bounds what is ordered of a quote's lines: it may be ordered once.
func Offered(thing Taken, used Used, as UseKind) (Taken, bool) {
	return thing.sub(used[as]), as != Accepted
}

func larger(x, y Taken) Taken {
	if x.Quantity > y.Quantity || (x.Quantity == y.Quantity && x.Amount.Own >= y.Amount.Own) {
		return x
	}
	return y
}

// Waiting bounds the uses of a cost that waits to be billed: what a supplier
// gives back is bounded by what was bought alone, so that it may leave what
// waits below nil. Of all that a bill has of a tax code, it is what discounts
// left.
func Waiting(thing Taken, used Used, as UseKind) (Taken, bool) {
	if as == SupplierCredited || as == Discounted {
		return thing.sub(used[SupplierCredited]).sub(used[Discounted]), false
	}
	rest := thing.sub(used.sum().sub(used[SupplierCredited]))
	left := rest.sub(used[SupplierCredited])
	if left.Amount.Own < 0 && rest.Amount.Own >= 0 {
		left = Taken{} // the supplier gave back more than waited
	}
	return left, false
}

// thingOf returns the whole of a thing, its bound and the day from which it is
// there; false when nothing of it can be used.
func (b *Builder) thingOf(t Thing) (whole Taken, bound Bound, paper Paper, ok bool) {
	paper, ok = b.PaperOf(t.PaperID)
	d, known := Describe(paper.Kind)
	if ok && known {
		bound = d.Bound
	}
	if !ok || bound == nil {
		return whole, nil, paper, false
	}
	found := false
	for _, l := range paper.Lines {
		switch {
		case t.Position != 0 && l.Position == t.Position:
			return Taken{InMillionths(l.Quantity), l.Part()}, bound, paper, true
		case t.Position == 0 && l.TaxCodeID == t.TaxCodeID && !d.ByCard:
			whole.Part = whole.Part.Add(l.Part())
			found = true
		}
	}
	if d.ByCard && t == (Thing{LineRef: LineRef{PaperID: t.PaperID}}) {
		for _, m := range b.PaperMovements(paper.ID) {
			if m.BankAccountID == paper.BankAccountID {
				whole.Part = whole.Part.Add(Of(m.Amount, 0)) // no takings wait in another currency
				found = true
			}
		}
	}
	if t.Position == 0 && t.TaxCodeID == 0 && paper.Rounding != 0 {
		whole.Part = whole.Part.Add(Part{Amount: b.ofPaper(paper, paper.Rounding)})
		found = true
	}
	return whole, bound, paper, found
}

// PaperOf returns a posted paper, or one of the effect.
func (b *Builder) PaperOf(id int64) (Paper, bool) {
	if id < 0 && -id <= int64(len(b.effect.Papers)) {
		return *b.effect.Papers[-id-1], true
	}
	return b.Facts.Paper(id)
}

// usesOf returns all uses of a paper's things: posted, planned, and, where
// they count, those that drafts have reserved.
func (b *Builder) usesOf(paperID int64, reserved bool) []Use {
	var all []Use
	if paperID > 0 {
		all = append(all, b.Uses(paperID)...)
		if reserved {
			all = append(all, b.Reserved(paperID)...)
		}
	}
	for _, u := range b.effect.Uses {
		if u.Of.PaperID == paperID {
			all = append(all, u)
		}
	}
	return all
}

// counts tells whether a use is one of the thing: of the line itself, and of
// what a paper bills by a code also what is credited of that code's lines.
func (t Thing) counts(u Use) bool {
	if t.Position != 0 || u.Of.Position == 0 {
		return u.Of == t
	}
	return u.Of.TaxCodeID == t.TaxCodeID && (u.As == Credited || u.As == SupplierCredited)
}

// LeftOf is what is left of a thing for one more use of a kind from a day on,
// with the quantity that is left; false when nothing of it can be used.
func (b *Builder) LeftOf(t Thing, as UseKind, d day.Day) (Left, Millionths, bool) {
	thing, bound, paper, ok := b.thingOf(t)
	if !ok {
		return Left{}, 0, false
	}
	var l Left
	var quantity Millionths
	first := true
	for _, end := range useEnds(t, thing, paper.Day, b.usesOf(t.PaperID, true)) {
		left, _ := bound(thing, end.used, as)
		l.End = left.Part
		if end.until <= d && end.until != "" {
			continue
		}
		// Of what takes something off, below nil, least is what is nearest to nil.
		less := left.Amount.Own <= l.Least.Amount.Own
		if thing.Amount.Own < 0 {
			less = left.Amount.Own >= l.Least.Amount.Own
		}
		if first || less {
			l.Least = left.Part
		}
		if first || left.Quantity < quantity {
			quantity = left.Quantity
		}
		first = false
	}
	return l, quantity, true
}

// PartOf is what goes along with a quantity of a thing: a portion of what is
// left of its net and tax. What is more than is left goes along at what the
// thing as a whole comes to a piece.
func (b *Builder) PartOf(t Thing, as UseKind, quantity Millionths, d day.Day) Part {
	left, pieces, ok := b.LeftOf(t, as, d)
	thing, _, _, _ := b.thingOf(t)
	if !ok || thing.Quantity <= 0 || quantity <= 0 {
		return Part{}
	}
	var part Part
	if pieces > 0 {
		part = portion(left.Least.least(left.End), min(quantity, pieces), pieces)
	}
	if more := quantity - max(pieces, 0); more > 0 {
		part = part.Add(scaled(thing.Part, more, thing.Quantity))
	}
	return part
}

func portion(p Part, q, of Millionths) Part {
	take := func(a money.Amount) money.Amount { return money.Portion(money.Amount(q), a, money.Amount(of)) }
	return Part{Worth{take(p.Amount.Own), take(p.Amount.Base)}, Worth{take(p.Tax.Own), take(p.Tax.Base)}}
}

// scaled is a part by quantity that may be more than the whole. Figures past
// all bounds stop at the largest there is, which no paper may hold.
func scaled(p Part, q, of Millionths) Part {
	whole := decimal.NewFromInt(int64(q / of))
	times := func(a money.Amount) money.Amount {
		return money.Currency{}.Round(whole.Mul(decimal.NewFromInt(int64(a))))
	}
	all := Part{Worth{times(p.Amount.Own), times(p.Amount.Base)}, Worth{times(p.Tax.Own), times(p.Tax.Base)}}
	return all.Add(portion(p, q%of, of))
}

// usedUntil is what was used of a thing at the end of a day, and up to the
// next change.
type usedUntil struct {
	until day.Day
	used  Used
}

// useEnds adds the uses of a thing up by day, in order, from the day on which
// it began.
func useEnds(t Thing, thing Taken, begins day.Day, uses []Use) []usedUntil {
	uses = slices.DeleteFunc(slices.Clone(uses), func(u Use) bool { return !t.counts(u) })
	slices.SortStableFunc(uses, func(x, y Use) int { return cmp.Compare(x.Day, y.Day) })
	ends := []usedUntil{{used: Used{}}}
	last := begins
	for _, u := range uses {
		now := &ends[len(ends)-1]
		if u.Day != last {
			now.until = u.Day
			next := Used{}
			for k, v := range now.used {
				next[k] = v
			}
			ends = append(ends, usedUntil{used: next})
			now, last = &ends[len(ends)-1], u.Day
		}
		quantity := u.Quantity
		if t.Position == 0 {
			quantity = 0 // what a paper bills by a code has no pieces
		}
		now.used[u.As] = now.used[u.As].add(Taken{quantity, u.Part})
	}
	return ends
}

// Use takes a part of a thing. What is more than is left on every day from its
// own on is refused. Where the thing waits in a register, it leaves that.
func (b *Builder) Use(field string, u Use) bool {
	_, bound, paper, ok := b.thingOf(u.Of)
	if !ok {
		b.Refuse(field, "missing", "", "There is nothing here that could be %s.", u.As)
		return false
	}
	if u.Day < paper.Day {
		b.Refuse(field, "before the paper", string(paper.Day), "%s is dated %s, so nothing of it is %s before. Use that day or later.", paper.Number, paper.Day.Show(), u.As)
		return false
	}
	left, quantity, _ := b.LeftOf(u.Of, u.As, u.Day)
	c := CurrencyOf(b.Facts, paper.Currency)
	_, free := bound(Taken{}, Used{}, u.As)
	if most := left.Least.Amount.Own; most < 0 && !free && u.Amount.Own < 0 && u.Amount.Own >= most {
		b.use(u) // of what was taken off, on its own side
		return true
	}
	if !free && (u.Amount.Own > left.Most() || u.Quantity > quantity) {
		b.Refuse(field, "more than is left", c.Format(left.Most()), "Only %s of %s is left to be %s, not %s. Take %s or less.", c.Show(left.Most()), paper.Number, u.As, c.Show(u.Amount.Own), c.Show(left.Most()))
		return false
	}
	b.use(u)
	return true
}

// use records a use, without checks, and enters the register's account where
// the thing waits in one.
func (b *Builder) use(u Use) {
	if u.PaperID == 0 {
		u.PaperID = b.Own()
	}
	b.effect.Uses = append(b.effect.Uses, u)
	if register := b.registerOf(u.Of); register != "" {
		paper, _ := b.PaperOf(u.Of.PaperID)
		b.control(register, u.Part.Neg(), lineSign(register), paper.PartyID, paper.Currency)
	}
}

// registerOf is the register that a line waits in, "" for none.
func (b *Builder) registerOf(t Thing) ledger.Role {
	if t.Position == 0 {
		return ""
	}
	paper, _ := b.PaperOf(t.PaperID)
	for _, l := range paper.Lines {
		if l.Position == t.Position {
			return l.Register
		}
	}
	return ""
}

// Wait makes the lines of the paper that was begun last wait in their
// registers: their accounts are entered.
func (b *Builder) Wait(p *Paper) {
	for _, l := range p.Lines {
		if l.Register != "" {
			b.control(l.Register, l.Part(), lineSign(l.Register), p.PartyID, p.Currency)
		}
	}
}

// DiscountShare is what of the discounts that were taken on a paper's tax code
// goes along when so much of the code is credited, of which so much is left
// beside them (docs/rules.md, part 6: a credit carries its share of the
// discount).
func (b *Builder) DiscountShare(code Thing, credited, left Part) Part {
	var discount Part
	for _, u := range b.Uses(code.PaperID) {
		if u.Of == code && u.As == Discounted {
			discount = discount.Add(u.Part)
		}
	}
	there := left.Add(discount)
	if discount.Amount.Own <= 0 || credited.Amount.Own <= 0 || credited.Amount.Own > there.Amount.Own {
		return Part{}
	}
	return discount.Take(money.Portion(credited.Amount.Own, discount.Amount.Own, there.Amount.Own))
}
