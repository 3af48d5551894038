package billing

import (
	"cleantally/core/day"
	"cleantally/core/money"
	"cleantally/core/posting"
)

// OrderLine is a line of an order and what became of it by a day
// (docs/rules.md, part 5).
type OrderLine struct {
	posting.PaperLine
	Delivered     posting.Millionths
	Billed        posting.Millionths // net of credits
	Cancelled     posting.Millionths
	LeftToDeliver posting.Millionths
	LeftToBill    posting.Millionths
	LeftToCancel  posting.Millionths
	Left          posting.Part // of its net and tax, to be billed
	Used          posting.Used // by kind of use
}

// OrderLines tells what became of each line of an order by the end of a day.
func OrderLines(f posting.Facts, order posting.Paper, d day.Day) []OrderLine {
	used := make(map[int]posting.Used, len(order.Lines))
	for _, u := range f.Uses(order.ID) {
		if u.Day > d {
			continue
		}
		of := used[u.Of.Position]
		if of == nil {
			of = posting.Used{}
			used[u.Of.Position] = of
		}
		of.Count(u)
	}
	lines := make([]OrderLine, len(order.Lines))
	for n, l := range order.Lines {
		of := used[l.Position]
		thing := posting.Taken{Quantity: posting.InMillionths(l.Quantity), Part: l.Part()}
		bill, _ := posting.Ordered(thing, of, posting.Billed)
		deliver, _ := posting.Ordered(thing, of, posting.Delivered)
		cancel, _ := posting.Ordered(thing, of, posting.Cancelled)
		lines[n] = OrderLine{LeftToCancel: max(min(cancel.Quantity, deliver.Quantity), 0), PaperLine: l, Delivered: of[posting.Delivered].Quantity, Billed: of[posting.Billed].Quantity, Cancelled: of[posting.Cancelled].Quantity,
			LeftToDeliver: max(deliver.Quantity, 0), LeftToBill: max(bill.Quantity, 0), Left: bill.Part, Used: of}
	}
	return lines
}

// CreditableLine is a line of an invoice with what of it is left to credit.
type CreditableLine struct {
	posting.PaperLine
	Left    posting.Part // below nil where it takes something off
	Pieces  posting.Millionths
	Takes   bool // it takes off what was billed in advance
	OfOrder bool // it bills an order, so that it may be billed again
	Fixed   bool // it stands on a control account, so that its account and tax stay
	// What suppliers gave back of the costs that it bills, with its markup, as the
	// invoice's prices are: a credit of so much is proposed.
	GivenBack money.Amount
	// What of its goods left stock and did not come back.
	Stocked, Numbered bool
	Gone              posting.Gone
}

// Creditable tells what of an invoice's lines is left to credit from a day on,
// and how much work, net, that is.
func Creditable(f posting.Facts, of posting.Paper, d day.Day) (lines []CreditableLine, work money.Amount) {
	b := build(f)
	ordered := map[int]bool{}
	for _, u := range f.UsesBy(of.ID) {
		if p, _ := f.Paper(u.Of.PaperID); u.As == posting.Billed && p.Kind == posting.Order {
			ordered[u.By.Position] = true
		}
	}
	for _, l := range of.Lines {
		left, pieces, _ := b.LeftOf(thingOf(of, l), posting.Credited, d)
		_, control := b.Control(l.AccountID)
		lines = append(lines, CreditableLine{PaperLine: l, Left: left.Least, Pieces: max(pieces, 0), Takes: control && l.Net.Own < 0, OfOrder: ordered[l.Position], Fixed: control, GivenBack: givenBack(b, of, l, left.Least)})
		if article, _ := b.Article(l.ArticleID); article.Stocked {
			own := &lines[len(lines)-1]
			own.Stocked, own.Numbered, own.Gone = true, article.Serial, b.GoneBy(article.ID, goneWith(b, of, l))
		}
		if !control && l.PassOn == posting.KeptAsCost {
			work += max(left.Least.Net(), 0)
		}
	}
	return lines, work
}

// givenBack is the share of an invoice's line in what suppliers credited of the
// costs that it bills past what waited of them.
func givenBack(b *builder, of posting.Paper, l posting.PaperLine, left posting.Part) money.Amount {
	whole, most := l.Net.Own, left.Net()
	if of.Includes {
		whole, most = whole+l.Tax.Own, left.Amount.Own
	}
	var billed, back money.Amount
	for _, u := range b.UsesBy(of.ID) {
		p, _ := b.Facts.Paper(u.Of.PaperID)
		if u.As != posting.Billed || u.By.Position != l.Position || u.Of.Position < 1 || u.Of.Position > len(p.Lines) || p.Lines[u.Of.Position-1].PassOn == posting.KeptAsCost {
			continue
		}
		cost := posting.Cost{Paper: p, Line: p.Lines[u.Of.Position-1], Of: u.Of}
		took := cost.Line.Cost(u.Part)
		billed += took
		back += min(-cost.Line.Cost(cost.Below(b.Builder)), took)
	}
	if back <= 0 {
		return 0
	}
	return max(min(money.Portion(back, whole, billed), most), 0)
}

// Advance is a deposit invoice and what of it was not deducted, credited or
// kept by a day.
type Advance struct {
	posting.Paper
	Left posting.Part
}

// AdvanceLeft tells what of a deposit invoice is left to deduct at the end of a
// day, with its tax.
func AdvanceLeft(f posting.Facts, p posting.Paper, d day.Day) Advance {
	a := Advance{Paper: p}
	for _, l := range p.Lines {
		a.Left = a.Left.Add(l.Part())
	}
	for _, u := range f.Uses(p.ID) {
		if u.Day <= d && u.Of.Position != 0 {
			a.Left = a.Left.Sub(u.Part)
		}
	}
	return a
}
