package buying

import (
	"fmt"
	"strings"

	"cleantally/core/day"
	"cleantally/core/ledger"
	"cleantally/core/money"
	"cleantally/core/posting"

	"github.com/shopspring/decimal"
)

// Credit is a supplier's credit: of a bill or an expense, whole or by lines, or
// on its own. Dr payables, Cr each line's account, Cr input tax. Of a cost that
// is passed on it lowers what waits; goods that go back leave stock at the
// average cost, a price that falls changes what stock is worth for the share
// that is still there (docs/rules.md, part 5).
type Credit struct {
	Number    string // "" to be given the next
	PaperID   int64  // the bill or expense; 0 for one on its own
	PartyID   int64  // of one on its own
	Day       day.Day
	Reference string // the supplier's number
	Reason    string
	Note      string
	Lines     []CreditLine // none: all that is left of the paper
	Open      bool         // it is not set against its bill, but waits
	// What an expense gives back comes to a bank account at once where one is named.
	BankAccountID int64
	Method        posting.Method

	// Of a credit on its own.
	Currency string          // ISO 4217; "" for the firm's own
	Rate     decimal.Decimal // of Currency; nil for that of the day
}

// CreditLine is what is given back of a line: a quantity, or an amount of its
// net, or all that is left.
type CreditLine struct {
	Position int // counted from 1; 0 on its own
	Quantity decimal.Decimal
	Amount   money.Amount
	Back     bool     // goods of stock go back: the quantity, or all
	Serials  []string // of pieces that bear numbers

	Own Line // of a credit on its own: what it says, net
}

// Plan returns the effect of the credit.
func (c Credit) Plan(f posting.Facts) (posting.Effect, error) {
	b := posting.Build(f)
	dayOK := b.PostingDay("day", c.Day)
	if strings.TrimSpace(c.Reason) == "" {
		b.Refuse("reason", "missing", "", "Say why the supplier gives it back.")
	}
	if c.PaperID == 0 {
		return c.own(b, dayOK)
	}
	of, ok := c.of(b)
	if !ok {
		b.Paper(posting.Paper{Kind: posting.SupplierCredit, Number: c.Number, Day: c.Day})
		return b.Effect("")
	}
	parts := c.parts(b, of)
	b.Like(of.Currency, of.Rate)
	p := posting.Paper{Kind: posting.SupplierCredit, Number: c.Number, Day: c.Day, PartyID: of.PartyID, PartyName: of.PartyName, PartyAddress: of.PartyAddress, Title: "Credit of " + of.Number,
		Reference: strings.TrimSpace(c.Reference), Note: c.Note, Reason: strings.TrimSpace(c.Reason), SourceID: of.ID}
	for _, x := range parts {
		l := x.line
		l.PaperID, l.Position, l.Register = 0, len(p.Lines)+1, ""
		l.Quantity, l.Discount, l.DiscountPercent = x.pieces.Decimal().Neg(), 0, decimal.Zero
		if x.pieces == 0 {
			l.Quantity, l.UnitPrice = decimal.New(-1, 0), b.Currency().Decimal(x.part.Net())
		}
		l.Net, l.Tax = x.part.Amount.Add(x.part.Tax.Neg()).Neg(), x.part.Tax.Neg()
		l.Before = l.Net.Own
		p.Lines = append(p.Lines, l)
		p.Net += l.Net.Own
		p.Tax += l.Tax.Own
	}
	shares := c.discounts(b, &p, of, parts)
	p.Total = p.Net + p.Tax
	if c.BankAccountID != 0 {
		p.Payment = posting.Payment{BankAccountID: c.BankAccountID, Method: c.Method, BankDay: c.Day}
	}
	own := b.Paper(p)
	if dayOK && !b.Refused() && b.AmountAboveNil("lines", -own.Total, "a supplier's credit") {
		c.discountsBack(b, own, of, shares)
		c.post(b, own, of, parts)
	}
	return b.Effect(fmt.Sprintf("Recorded %s: %s gives back %s of %s", own.Number, of.PartyName, b.Currency().Show(-own.Total), of.Number))
}

// discountShare is what of a discount received goes back with a credit, and the
// line that says so.
type discountShare struct {
	posting.CodePart
	at int
}

// discounts writes a line for the share of the discount received that the
// credit carries, by tax code; a credit past what discounts left of a code is
// refused.
func (c Credit) discounts(b *posting.Builder, p *posting.Paper, of posting.Paper, parts []part) []discountShare {
	var codes []int64
	sums := map[int64]posting.Part{}
	for _, x := range parts {
		if _, seen := sums[x.of.TaxCodeID]; !seen {
			codes = append(codes, x.of.TaxCodeID)
		}
		sums[x.of.TaxCodeID] = sums[x.of.TaxCodeID].Add(x.part)
	}
	var shares []discountShare
	for _, id := range codes {
		code := posting.Thing{LineRef: posting.LineRef{PaperID: of.ID}, TaxCodeID: id}
		left, _, _ := b.LeftOf(code, posting.SupplierCredited, c.Day)
		share := b.DiscountShare(code, sums[id], left.Least)
		net := sums[id].Sub(share)
		if net.Amount.Own > left.Most() || net.Tax.Own > max(left.Least.Tax.Own, 0) {
			cur := posting.CurrencyOf(b.Facts, of.Currency)
			b.Refuse("paper", "more than is left", cur.Format(left.Most()), "Only %s of %s is left to credit at its tax code, not %s: a discount or a credit stands on it.", cur.Show(left.Most()), of.Number, cur.Show(net.Amount.Own))
		}
		if share == (posting.Part{}) {
			continue
		}
		p.Lines = append(p.Lines, posting.PaperLine{Position: len(p.Lines) + 1, Text: "Share of the discount received", Quantity: decimal.New(1, 0), UnitPrice: b.Currency().Decimal(share.Net()),
			Net: share.Amount.Add(share.Tax.Neg()), Tax: share.Tax, Before: share.Net(), TaxCodeID: id, TaxPercent: percentOf(parts, id), AccountID: b.Role(ledger.DiscountReceived).ID})
		p.Net += share.Net()
		p.Tax += share.Tax.Own
		shares = append(shares, discountShare{posting.CodePart{TaxCodeID: id, Part: share}, len(p.Lines)})
	}
	return shares
}

func percentOf(parts []part, code int64) decimal.Decimal {
	for _, x := range parts {
		if x.of.TaxCodeID == code {
			return x.line.TaxPercent
		}
	}
	return decimal.Zero
}

// discountsBack gives back the shares of the discount received: Dr discount
// received, Dr the input tax inside as far as it was deducted.
func (c Credit) discountsBack(b *posting.Builder, p *posting.Paper, of posting.Paper, shares []discountShare) {
	for _, x := range shares {
		code := posting.Thing{LineRef: posting.LineRef{PaperID: of.ID}, TaxCodeID: x.TaxCodeID}
		tax := posting.DeductedTax(of, x.CodePart)
		at := ledger.Line{PartyID: of.PartyID, TaxCodeID: x.TaxCodeID}
		b.DebitWorth(b.Role(ledger.InputTax), tax, at)
		b.DebitWorth(b.Role(ledger.DiscountReceived), x.Amount.Add(tax.Neg()), ledger.Line{PartyID: of.PartyID})
		b.Use("paper", posting.Use{Of: code, As: posting.Discounted, Day: c.Day, By: posting.LineRef{PaperID: p.ID, Position: x.at}, Part: x.Part.Neg()})
	}
}

// of is the bill or expense that is credited.
func (c Credit) of(b *posting.Builder) (posting.Paper, bool) {
	of, ok := b.Facts.Paper(c.PaperID)
	if !ok || (of.Kind != posting.SupplierBill && of.Kind != posting.Expense) {
		b.Refuse("paper", "missing", "", "Choose the bill or the expense that the supplier credits.")
		return of, false
	}
	if by, reversed := b.ReversedBy(of.ID); reversed {
		b.Refuse("paper", "reversed", by, "%s was reversed by %s, so nothing of it is left.", of.Number, by)
		return of, false
	}
	if c.Day < of.Day {
		b.Refuse("day", "before the paper", string(of.Day), "%s is dated %s and cannot be credited before. Use that day or later.", of.Number, of.Day.Show())
		return of, false
	}
	return of, true
}

// part is what of a line is given back.
type part struct {
	line    posting.PaperLine
	of      posting.Thing
	part    posting.Part
	pieces  posting.Millionths
	back    bool
	serials []string
	field   string
}

// Left is what of a line of a bill or an expense its supplier has not credited.
type Left struct {
	posting.PaperLine
	Left    posting.Part
	Pieces  posting.Millionths
	Stocked bool // goods of it can go back out of stock
}

// LeftToCredit tells what of a paper's lines is left to credit from a day on.
func LeftToCredit(f posting.Facts, of posting.Paper, d day.Day) []Left {
	b := posting.Build(f)
	var all []Left
	for _, l := range of.Lines {
		left, pieces, _ := b.LeftOf(thingOf(of, l), posting.SupplierCredited, d)
		all = append(all, Left{l, left.Least, max(pieces, 0), stocked(b, l)})
	}
	return all
}

// parts works out what of each line is given back.
func (c Credit) parts(b *posting.Builder, of posting.Paper) []part {
	lines := c.Lines
	if len(lines) == 0 {
		for _, l := range of.Lines {
			if left, _, _ := b.LeftOf(thingOf(of, l), posting.SupplierCredited, c.Day); left.Least.Amount.Own != 0 {
				lines = append(lines, CreditLine{Position: l.Position})
			}
		}
		if len(lines) == 0 {
			b.Refuse("paper", "nothing left", b.Currency().Format(0), "Nothing of %s is left to credit.", of.Number)
		}
	}
	var all []part
	seen := map[int]bool{}
	for n, l := range lines {
		field := fmt.Sprintf("lines[%d].", n)
		if l.Position < 1 || l.Position > len(of.Lines) || seen[l.Position] {
			b.Refuse(field+"position", "missing", "", "Line %d: %s has no such line, or it is credited twice.", n+1, of.Number)
			continue
		}
		seen[l.Position] = true
		if x, ok := l.of(b, field, n+1, of, c.Day); ok {
			all = append(all, x)
		}
	}
	return all
}

// of is what a line of the credit gives back of a line of the paper.
func (l CreditLine) of(b *posting.Builder, field string, n int, of posting.Paper, d day.Day) (part, bool) {
	from := of.Lines[l.Position-1]
	x := part{line: from, of: thingOf(of, from), back: l.Back, serials: l.Serials, field: field}
	left, pieces, _ := b.LeftOf(x.of, posting.SupplierCredited, d)
	cur, whole := posting.CurrencyOf(b.Facts, of.Currency), left.Least.Net()
	quantity := posting.InMillionths(l.Quantity)
	switch {
	case quantity != 0 && l.Amount != 0:
		b.Refuse(field+"amount", "one of them", "", "Line %d: say a quantity or an amount.", n)
		return x, false
	case quantity < 0 || quantity > max(pieces, 0):
		b.Refuse(field+"quantity", "more than is left", max(pieces, 0).Decimal().String(), "Line %d: only %s of %s is left to give back of what was bought, not %s.", n, max(pieces, 0).Decimal(), from.Text, l.Quantity)
		return x, false
	case l.Amount < 0 || l.Amount > max(whole, 0):
		b.Refuse(field+"amount", "more than is left", cur.Format(max(whole, 0)), "Line %d: only %s of %s is left to credit, not %s.", n, cur.Show(max(whole, 0)), from.Text, cur.Show(l.Amount))
		return x, false
	case quantity != 0:
		x.pieces, x.part = quantity, left.Least
		if quantity < pieces {
			x.part = left.Least.TakeNet(money.Portion(money.Amount(quantity), whole, money.Amount(pieces)))
		}
	case l.Amount != 0:
		x.part = left.Least.TakeNet(l.Amount)
	default:
		x.pieces, x.part = max(pieces, 0), left.Least
	}
	if x.part.Amount.Own < 0 {
		b.Refuse(field+"position", "below nil", "", "Line %d takes something off %s: it is credited with the rest alone, by its reversal.", n, of.Number)
		return x, false
	}
	if l.Back && (!stocked(b, from) || x.pieces == 0) {
		b.Refuse(field+"back", "no goods", "", "Line %d: goods that go back are of stock, and say how many.", n)
		return x, false
	}
	return x, true
}

// post uses the lines, gives orders free and enters what is given back.
func (c Credit) post(b *posting.Builder, p *posting.Paper, of posting.Paper, parts []part) {
	for n, x := range parts {
		by := posting.LineRef{PaperID: p.ID, Position: n + 1}
		if !b.Use(x.field+"amount", posting.Use{Of: x.of, As: posting.SupplierCredited, Day: c.Day, By: by, Quantity: x.pieces, Part: x.part}) {
			return
		}
		c.freeOrder(b, of, x)
		cost, tax := x.part.Amount.Add(x.part.Tax.Neg()), x.part.Tax
		if x.line.WithTax() {
			cost, tax = x.part.Amount, posting.Worth{}
		}
		b.CreditWorth(b.Role(ledger.InputTax), tax, ledger.Line{PartyID: of.PartyID, TaxCodeID: x.line.TaxCodeID})
		c.buyerTax(b, of, x)
		switch at := (ledger.Line{PartyID: of.PartyID, TaxCodeID: x.line.TaxCodeID}); {
		case x.line.Register != "": // what waited leaves its register by its use
		case stocked(b, x.line):
			c.goods(b, x, cost.Base, by)
		default:
			if x.line.JobID != 0 {
				at.PartyID, at.JobID = 0, x.line.JobID
			}
			b.CreditWorth(ledger.Account{ID: x.line.AccountID}, cost, at)
		}
	}
	c.open(b, p, of)
}

// buyerTax takes back both sides of the tax that we account for ourselves.
func (c Credit) buyerTax(b *posting.Builder, of posting.Paper, x part) {
	if x.line.Tax.Own != 0 || x.line.TaxPercent.IsZero() || x.part.Net() == 0 {
		return
	}
	tax := b.At(b.Currency().Round(money.Percent(b.Currency().Decimal(x.part.Net()), x.line.TaxPercent)))
	at := ledger.Line{PartyID: of.PartyID, TaxCodeID: x.line.TaxCodeID}
	b.CreditWorth(b.Role(ledger.InputTax), tax, at)
	b.DebitWorth(b.Role(ledger.OutputTax), tax, at)
}

// goods takes what goes back out of stock at the average cost, or lowers what
// stock is worth by a price that fell; the difference is cost of sales.
func (c Credit) goods(b *posting.Builder, x part, cost money.Amount, by posting.LineRef) {
	rest := cost
	if x.back {
		average, _ := b.StockOut(x.field+"quantity", x.line.ArticleID, x.pieces, x.serials, by, c.Day)
		rest -= average
	} else {
		about := x.pieces
		if about == 0 {
			about = posting.InMillionths(x.line.Quantity)
		}
		rest = -b.Revalue(x.line.ArticleID, about, -cost, by, c.Day)
	}
	b.Credit(b.Role(ledger.CostOfSales), rest, ledger.Line{})
}

// freeOrder gives back what the bill's line billed of an order, as far as goods
// go back: they may come again.
func (c Credit) freeOrder(b *posting.Builder, of posting.Paper, x part) {
	if !x.back {
		return
	}
	for _, u := range b.UsesBy(of.ID) {
		if u.As != posting.Billed || u.By.PaperID != of.ID || u.By.Position != x.line.Position {
			continue
		}
		p, _ := b.Facts.Paper(u.Of.PaperID)
		if p.Kind != posting.PurchaseOrder {
			continue
		}
		delivered := usedOf(b, u.Of, posting.Delivered)
		q := min(x.pieces, usedOf(b, u.Of, posting.Billed))
		back := u
		back.ID, back.Undoes, back.Day, back.PaperID = 0, 0, c.Day, 0
		back.Quantity, back.Part = -q, scaledOf(p, u.Of, q).Neg()
		b.Use(x.field+"quantity", back)
		if d := min(q, delivered); d > 0 {
			back.As, back.Quantity, back.Part = posting.Delivered, -d, scaledOf(p, u.Of, d).Neg()
			b.Use(x.field+"quantity", back)
		}
	}
}

// scaledOf is what pieces of an order's line come to, as it was ordered.
func scaledOf(p posting.Paper, of posting.Thing, q posting.Millionths) posting.Part {
	whole, l := posting.Part{}, p.Lines[of.Position-1]
	if ordered := posting.InMillionths(l.Quantity); ordered > 0 {
		whole = l.Part().Take(money.Portion(money.Amount(min(q, ordered)), l.Part().Amount.Own, money.Amount(ordered)))
	}
	return whole
}

// open makes the credit: of a bill it is set against what is open of it, the
// rest waits; of an expense it may come to the bank at once.
func (c Credit) open(b *posting.Builder, p *posting.Paper, of posting.Paper) {
	var amount posting.Worth
	for _, l := range p.Lines {
		amount = amount.Add(l.Net.Neg()).Add(l.Tax.Neg())
	}
	if c.BankAccountID != 0 {
		if _, ok := b.Bank("bank", c.BankAccountID); ok {
			b.Method("method", c.Method)
			bank, _ := b.BankAccount(c.BankAccountID)
			if bank.Currency != p.Currency {
				b.Refuse("bank", "another currency", bank.Name, "%s is not in the currency of %s. Let the credit wait, and record what comes back of it.", bank.Name, of.Number)
				return
			}
			b.Arrives(bank, amount.Own, c.Day, p.Rate, ledger.Line{PartyID: p.PartyID})
			if p.Currency != "" {
				b.ExchangeRest(ledger.Line{PartyID: p.PartyID})
			}
		}
		return
	}
	ref := b.Open(posting.Item{Register: ledger.Payables, PartyID: p.PartyID, Day: c.Day, Currency: p.Currency, Part: posting.Part{Amount: amount}})
	if c.Open {
		return
	}
	for _, i := range b.PaperItems(of.ID) {
		if most := b.Most(ref, i.ID, c.Day); i.Register == ledger.Payables && most > 0 {
			b.Allocate("paper", ref, i.ID, most, c.Day)
		}
	}
}

// own is a credit on its own: a rebate.
func (c Credit) own(b *posting.Builder, dayOK bool) (posting.Effect, error) {
	dayOK = b.In(c.Currency, c.Rate, c.Day) && dayOK
	party, partyOK := b.Supplier("party", c.PartyID)
	var lines []Line
	for _, l := range c.Lines {
		lines = append(lines, l.Own)
		if l.Own.PassOn != posting.KeptAsCost || b.Stocked(posting.Line{ArticleID: l.Own.ArticleID, JobID: l.Own.JobID}) {
			b.Refuse(fmt.Sprintf("lines[%d].passOn", len(lines)-1), "of a bill", "", "Line %d: what a supplier gives back of goods in stock, or of what is passed on, is a credit of its bill. Choose that.", len(lines))
		}
	}
	out, sums := bought(b, lines, c.Day, c.PartyID)
	p := head(posting.SupplierCredit, party, out, sums, posting.Paper{Number: c.Number, Day: c.Day, Reference: strings.TrimSpace(c.Reference), Note: c.Note, Reason: strings.TrimSpace(c.Reason)})
	p.Total, p.Net, p.Tax = -sums.Total, -sums.Net, -sums.Tax
	for n := range p.Lines {
		l := &p.Lines[n]
		l.Quantity, l.Before, l.Net, l.Tax = l.Quantity.Neg(), -l.Before, l.Net.Neg(), l.Tax.Neg()
	}
	own := b.Paper(p)
	if len(lines) == 0 {
		b.Refuse("lines", "missing", "", "A credit needs a line. Write what the supplier gives back, and from which account it goes.")
	}
	if dayOK && partyOK && !b.Refused() && b.AmountAboveNil("lines", sums.Total, "a supplier's credit") {
		for n := range sums.Codes {
			s := &sums.Codes[n]
			s.Net, s.Tax, s.Buyer = -s.Net, -s.Tax, -s.Buyer
		}
		owed := b.At(sums.Total)
		value(b, own, sums, owed.Neg(), posting.Worth{})
		b.EnterLines(own, sums, ledger.InputTax, 1)
		b.Open(posting.Item{Register: ledger.Payables, PartyID: c.PartyID, Day: c.Day, Currency: own.Currency, Part: posting.Part{Amount: owed}})
	}
	return b.Effect(fmt.Sprintf("Recorded %s: %s gives back %s", own.Number, party.Name, b.Currency().Show(sums.Total)))
}
