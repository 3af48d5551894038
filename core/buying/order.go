package buying

import (
	"fmt"
	"strings"

	"cleantally/core/day"
	"cleantally/core/money"
	"cleantally/core/posting"

	"github.com/shopspring/decimal"
)

// Order is what is ordered from a supplier, line by line. It posts nothing.
// Each line keeps what of it was received, billed and cancelled.
type Order struct {
	Number    string // "" to be given the next
	PartyID   int64
	Day       day.Day
	Currency  string          // ISO 4217; "" for the firm's own
	Rate      decimal.Decimal // of Currency; nil for that of the day
	Expected  day.Day         // when it should come; "" when that is not known
	Reference string
	Note      string
	Lines     []Line
}

// Plan returns the effect of recording the order.
func (o Order) Plan(f posting.Facts) (posting.Effect, error) {
	b := posting.Build(f)
	dayOK := b.PostingDay("day", o.Day) && b.In(o.Currency, o.Rate, o.Day)
	party, _ := b.Supplier("party", o.PartyID)
	if _, err := day.Parse(string(o.Expected)); o.Expected != "" && dayOK && (err != nil || o.Expected < o.Day) {
		b.Refuse("expected", "before the paper", string(o.Day), "What is ordered on %s cannot come before. Use that day or later, or leave it out.", o.Day.Show())
	}
	lines, sums := bought(b, o.Lines, o.Day, o.PartyID)
	for n := range lines {
		lines[n].Register = "" // what is ordered waits nowhere yet
	}
	p := b.Paper(head(posting.PurchaseOrder, party, lines, sums, posting.Paper{Number: o.Number, Day: o.Day, Reference: strings.TrimSpace(o.Reference), Note: o.Note, Billing: posting.Billing{Due: o.Expected}}))
	if len(o.Lines) == 0 {
		b.Refuse("lines", "missing", "", "An order needs a line. Write what is ordered.")
	} else if !b.Refused() {
		b.AmountAboveNil("lines", sums.Total, "the total of an order")
	}
	for n, l := range lines {
		if !l.Quantity.IsPositive() || l.Net.Own < 0 {
			b.Refuse(fmt.Sprintf("lines[%d].quantity", n), "above nil", "0", "Line %d: what is ordered has a quantity above nil, and a price that is not below it.", n+1)
		}
	}
	return b.Effect(fmt.Sprintf("Ordered by %s from %s, %s", p.Number, p.PartyName, b.Currency().Show(p.Total)))
}

// Share is a quantity of a line of a purchase order.
type Share struct {
	Position int // of the line, counted from 1
	Quantity decimal.Decimal
	Serials  []string // of pieces that bear numbers
}

// Received is goods that came before their bill: Dr stock, Cr goods received,
// at the order's price, of another currency at the rate at which it was ordered,
// in the firm's; what is kept in no stock is told as received alone
// (docs/rules.md, part 5, stock). Cancel takes what will not come off the
// order instead.
type Received struct {
	Number    string // "" to be given the next
	OrderID   int64
	Day       day.Day
	Reference string // of the supplier's delivery note
	Note      string
	Lines     []Share
	Cancel    bool // the rest of what is named will not come: it posts nothing
}

// Plan returns the effect of receiving.
func (r Received) Plan(f posting.Facts) (posting.Effect, error) {
	b := posting.Build(f)
	dayOK := b.PostingDay("day", r.Day)
	order, ok := orderOf(b, "order", r.OrderID, 0)
	if ok && dayOK && r.Day < order.Day {
		b.Refuse("day", "before the paper", string(order.Day), "%s is dated %s, so nothing of it came before. Use that day or later.", order.Number, order.Day.Show())
		ok = false
	}
	kind, done := posting.GoodsIn, "Received"
	if r.Cancel {
		kind, done = posting.Cancellation, "Cancelled"
		if strings.TrimSpace(r.Note) == "" {
			b.Refuse("note", "missing", "", "Say why it will not come.")
		}
	}
	p := posting.Paper{Kind: kind, Number: r.Number, Day: r.Day, PartyID: order.PartyID, PartyName: order.PartyName, PartyAddress: order.PartyAddress, Title: done + " of " + order.Number,
		Reference: strings.TrimSpace(r.Reference), Note: r.Note, SourceID: r.OrderID}
	shares := r.shares(b, order, ok)
	for n := range shares {
		shares[n].lines(b, order, r, &p)
	}
	own := b.Paper(p)
	if ok && len(r.Lines) == 0 {
		b.Refuse("lines", "missing", "", "Say how much of which line came.")
	}
	for _, s := range shares {
		s.post(b, own, r)
	}
	b.Wait(own)
	return b.Effect(fmt.Sprintf("%s of %s from %s by %s", done, order.Number, order.PartyName, own.Number))
}

// share is a part of an order's line that came.
type share struct {
	Share
	field  string
	of     posting.PaperLine
	thing  posting.Thing
	pieces posting.Millionths
	in     posting.Millionths // of them, what comes into stock now: no bill has brought it in before
	at     int                // position of its line on the paper
	part   posting.Part
}

func (r Received) shares(b *posting.Builder, order posting.Paper, ok bool) []share {
	var all []share
	seen := map[int]bool{}
	for n, l := range r.Lines {
		field := fmt.Sprintf("lines[%d].", n)
		switch {
		case !ok:
			continue
		case l.Position < 1 || l.Position > len(order.Lines) || seen[l.Position]:
			b.Refuse(field+"position", "missing", "", "Line %d names no line of %s, or one that stands here already.", n+1, order.Number)
			continue
		case !l.Quantity.IsPositive() || l.Quantity.GreaterThan(decimal.New(1, 12)) || !l.Quantity.Equal(l.Quantity.Round(6)):
			b.Refuse(field+"quantity", "above nil", "0", "Line %d: the quantity is above nil, with at most 6 places.", n+1)
			continue
		}
		seen[l.Position] = true
		of := order.Lines[l.Position-1]
		s := share{Share: l, field: field, of: of, thing: thingOf(order, of), pieces: posting.InMillionths(l.Quantity)}
		as := posting.Delivered
		if r.Cancel {
			as = posting.Cancelled
		}
		_, left, _ := b.LeftOf(s.thing, as, r.Day)
		if received := usedOf(b, s.thing, posting.Delivered); r.Cancel {
			_, toCome, _ := b.LeftOf(s.thing, posting.Delivered, r.Day)
			left = min(left, toCome)
		} else if stocked(b, of) {
			billed := usedOf(b, s.thing, posting.Billed)
			s.in = max(received+s.pieces, billed) - max(received, billed)
		}
		switch left = max(left, 0); {
		case s.pieces > left && r.Cancel:
			b.Refuse(field+"quantity", "more than is left", left.Decimal().String(), "Only %s of %s is still to come, not %s.", left.Decimal(), of.Text, l.Quantity)
		case s.pieces > left:
			b.Warn(field+"quantity", "more than ordered", left.Decimal().String(), "Only %s of %s was still to come, not %s.", left.Decimal(), of.Text, l.Quantity)
		}
		s.part = b.PartOf(s.thing, as, s.pieces, r.Day)
		all = append(all, s)
	}
	return all
}

// lines adds the share's lines to the paper: what waits for its bill at the
// order's price, and what does not.
func (s *share) lines(b *posting.Builder, order posting.Paper, r Received, p *posting.Paper) {
	line := posting.PaperLine{ArticleID: s.of.ArticleID, JobID: s.of.JobID, Text: s.of.Text, Unit: s.of.Unit, TaxCodeID: s.of.TaxCodeID}
	add := func(q posting.Millionths, register bool) {
		if q <= 0 {
			return
		}
		l := line
		l.Position, l.Quantity = len(p.Lines)+1, q.Decimal()
		if register {
			l.Register, l.UnitPrice = "goods received", s.of.UnitPrice
			l.AccountID = b.Role("goods received").ID
			l.Net = posting.Firm(atPrice(s.of, q))
			l.Before = l.Net.Own
			if order.Currency != "" {
				l.UnitPrice = b.Currency().Decimal(l.Net.Own).DivRound(l.Quantity, 6)
			}
		}
		p.Lines = append(p.Lines, l)
	}
	s.at = len(p.Lines) + 1
	add(s.in, true)
	add(s.pieces-s.in, false)
}

// atPrice is what pieces come to at the order's price, net of its discount, in the
// firm's currency.
func atPrice(of posting.PaperLine, q posting.Millionths) money.Amount {
	ordered := posting.InMillionths(of.Quantity)
	whole, rest := q/ordered, q%ordered
	return money.Amount(whole)*of.Net.Base + money.Portion(money.Amount(rest), of.Net.Base, money.Amount(ordered))
}

// post uses the order's line and brings the goods into stock.
func (s share) post(b *posting.Builder, p *posting.Paper, r Received) {
	u := posting.Use{Of: s.thing, As: posting.Delivered, Day: r.Day, By: posting.LineRef{PaperID: p.ID, Position: s.at}, Quantity: s.pieces, Part: s.part}
	if r.Cancel {
		u.As = posting.Cancelled
	}
	if !b.Use(s.field+"quantity", u) || s.in == 0 {
		return
	}
	b.Receive(s.field+"serials", posting.StockMove{ArticleID: s.of.ArticleID, By: u.By, Day: r.Day, Quantity: s.in, Value: p.Lines[s.at-1].Net.Base, Serials: s.Serials})
}

// orderOf returns a purchase order that stands, of the supplier where one is
// named.
func orderOf(b *posting.Builder, field string, id, partyID int64) (posting.Paper, bool) {
	p, ok := b.Facts.Paper(id)
	if !ok || p.Kind != posting.PurchaseOrder {
		b.Refuse(field, "missing", "", "There is no such purchase order. Choose another.")
		return p, false
	}
	if partyID != 0 && p.PartyID != partyID {
		b.Refuse(field, "another supplier's order", p.Number, "%s was ordered from %s. Choose an order of this supplier.", p.Number, p.PartyName)
		return p, false
	}
	if by, reversed := b.ReversedBy(id); reversed {
		b.Refuse(field, "reversed", by, "%s was reversed by %s, so nothing of it is left.", p.Number, by)
		return p, false
	}
	return p, true
}

// usedOf is how many pieces of a thing were used as one kind in all.
func usedOf(b *posting.Builder, t posting.Thing, as posting.UseKind) posting.Millionths {
	var sum posting.Millionths
	for _, u := range b.Uses(t.PaperID) {
		if u.Of == t && u.As == as {
			sum += u.Quantity
		}
	}
	return sum
}

// stocked tells whether a line brings goods into stock.
func stocked(b *posting.Builder, l posting.PaperLine) bool {
	return b.Stocked(posting.Line{ArticleID: l.ArticleID, JobID: l.JobID, PassOn: l.PassOn})
}
