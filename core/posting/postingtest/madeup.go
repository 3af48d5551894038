package postingtest

import (
	"cleantally/core/rights"
	"fmt"

	"cleantally/core/banking"
	"cleantally/core/day"
	"cleantally/core/ledger"
	"cleantally/core/money"
	"cleantally/core/posting"

	"github.com/shopspring/decimal"
)

// The made-up kinds of paper use up what papers to come will: an order, costs,
// advances, credited lines, goods. They are told by one registration each, as
// every kind is.
const (
	order    posting.Kind = "made-up order"
	delivery posting.Kind = "made-up delivery"
	billed   posting.Kind = "made-up invoice"
	cost     posting.Kind = "made-up cost"
	costUse  posting.Kind = "made-up use of a cost"
	advance  posting.Kind = "made-up advance"
	credit   posting.Kind = "made-up credit"
	goods    posting.Kind = "made-up goods"
	charge   posting.Kind = "made-up charge"
)

func init() {
	for n, d := range []posting.Description{
		{Kind: order, Bound: posting.Ordered, Done: "ordered"}, {Kind: delivery, Done: "delivered"}, {Kind: billed, Bound: posting.Whole, Bills: true},
		{Kind: cost, Bound: posting.Waiting}, {Kind: costUse, Done: "used"}, {Kind: advance, Bound: posting.Whole}, {Kind: credit, Bills: true}, {Kind: goods, Done: "moved"}, {Kind: charge, Bound: posting.Whole},
	} {
		d.Numbering, d.Right = fmt.Sprintf("Z%d-{yy}-{0000}", n), rights.ToKeepBooks
		posting.Register(d)
	}
}

// A head is what the made-up papers share.
type head struct {
	Party, Job int64
	Day        day.Day
}

// begin checks what every paper must and begins it. A paper without a line
// begins all the same, so that its refusals are seen.
func (h head) begin(b *posting.Builder, k posting.Kind, lines ...posting.PaperLine) (*posting.Paper, bool) {
	ok := b.PostingDay("day", h.Day)
	party, known := b.Customer("party", h.Party)
	ok = b.JobOf("job", h.Job, h.Party) && known && ok
	p := posting.Paper{Kind: k, Day: h.Day, PartyID: h.Party, PartyName: party.Name, JobID: h.Job, Title: string(k), Lines: lines}
	for n := range p.Lines {
		l := &p.Lines[n]
		l.Position, l.Text = n+1, string(k)
		if l.Quantity.IsZero() {
			l.Quantity = decimal.New(1, 0)
		}
		p.Net += l.Net.Own
		p.Tax += l.Tax.Own
	}
	p.Total = p.Net + p.Tax
	return b.Paper(p), ok
}

// line is a line of an amount with the tax of a code on top.
func line(b *posting.Builder, net money.Amount, code int64, quantity int64) posting.PaperLine {
	_, rates, _ := b.TaxCode(code)
	tax := money.Amount(0)
	if len(rates) > 0 {
		tax = b.Currency().Round(money.Percent(b.Currency().Decimal(net), rates[0].Percent))
	}
	return posting.PaperLine{Net: posting.Firm(net), Tax: posting.Firm(tax), Before: net, TaxCodeID: code, Quantity: decimal.New(quantity, 0)}
}

// thing is the n-th line of a paper of a kind ("" for any), as a thing to use.
func thing(f posting.Facts, paper int64, n int, k posting.Kind) (posting.Thing, posting.PaperLine, bool) {
	p, _ := f.Paper(paper)
	if n < 1 || n > len(p.Lines) || (k != "" && p.Kind != k) {
		return posting.Thing{}, posting.PaperLine{}, false
	}
	return posting.Thing{LineRef: posting.LineRef{PaperID: paper, Position: n}, TaxCodeID: p.Lines[n-1].TaxCodeID}, p.Lines[n-1], true
}

// owes makes the item of what a made-up paper bills: below nil a credit.
func owes(b *posting.Builder, p *posting.Paper, amount money.Amount) {
	if amount != 0 {
		b.Open(posting.Item{Register: ledger.Receivables, Bills: p.ID, PartyID: p.PartyID, JobID: p.JobID, Day: p.Day, Due: p.Day.Add(30), Part: posting.Of(amount, 0)})
	}
}

// Order orders quantities at a net; it posts nothing.
type Order struct {
	head
	Net      money.Amount
	Code     int64
	Quantity int64
}

// Plan returns the effect.
func (o Order) Plan(f posting.Facts) (posting.Effect, error) {
	b := posting.Build(f)
	o.begin(b, order, line(b, o.Net, o.Code, max(o.Quantity, 1)))
	return b.Effect("ordered")
}

// Deliver delivers a quantity of an order, or cancels it.
type Deliver struct {
	head
	Order    int64
	Quantity int64
	Cancel   bool
}

// Plan returns the effect.
func (d Deliver) Plan(f posting.Facts) (posting.Effect, error) {
	b := posting.Build(f)
	_, ok := d.begin(b, delivery)
	of, _, there := thing(f, d.Order, 1, order)
	if ok && there {
		as := posting.Delivered
		if d.Cancel {
			as = posting.Cancelled
		}
		b.Use("quantity", ofOrder(b, of, as, d.Day, d.Quantity, posting.LineRef{PaperID: b.Own()}))
	} else {
		b.Refuse("order", "missing", "", "There is no such order.")
	}
	return b.Effect("delivered")
}

// ofOrder is the use of a quantity of an order's line with its share of the
// net.
func ofOrder(b *posting.Builder, of posting.Thing, as posting.UseKind, d day.Day, quantity int64, by posting.LineRef) posting.Use {
	q := posting.Millionths(quantity * 1e6)
	return posting.Use{Of: of, As: as, Day: d, By: by, Quantity: q, Part: b.PartOf(of, as, q, d)}
}

// Bill bills a customer: a net of its own, a quantity of an order, a part of a
// cost on the customer's behalf, less a part of an advance.
type Bill struct {
	head
	Net      money.Amount
	Code     int64
	Order    int64
	Quantity int64
	Cost     int64
	OfCost   money.Amount
	Advance  int64
	Deduct   money.Amount
}

// Plan returns the effect.
func (v Bill) Plan(f posting.Facts) (posting.Effect, error) {
	b := posting.Build(f)
	lines := []posting.PaperLine{line(b, max(v.Net, 1), v.Code, 1)}
	of, _, fromOrder := thing(f, v.Order, 1, order)
	if fromOrder {
		u := ofOrder(b, of, posting.Billed, v.Day, v.Quantity, posting.LineRef{})
		lines = append(lines, posting.PaperLine{Net: posting.Firm(u.Net()), Tax: u.Tax, TaxCodeID: of.TaxCodeID, Quantity: decimal.New(v.Quantity, 0)})
	}
	waits, _, passed := thing(f, v.Cost, 1, cost)
	if passed {
		lines = append(lines, posting.PaperLine{Net: posting.Firm(v.OfCost), AccountID: b.Role(ledger.Recoverable).ID})
	}
	taken, _, deducts := thing(f, v.Advance, 1, advance)
	var less posting.Part
	if left, _, ok := b.LeftOf(taken, posting.Deducted, v.Day); deducts && ok {
		less = left.Take(v.Deduct)
		lines = append(lines, posting.PaperLine{Net: posting.Firm(-less.Net()), Tax: less.Tax.Neg(), TaxCodeID: taken.TaxCodeID, AccountID: b.Role(ledger.AdvanceBillings).ID})
	}
	p, ok := v.begin(b, billed, lines...)
	if passed && !b.AmountAboveNil("cost", v.OfCost, "what is billed of a cost") || deducts && !b.AmountAboveNil("deduct", less.Amount.Own, "what is deducted") {
		ok = false
	}
	if !ok || !b.AmountAboveNil("total", p.Total, "the total") {
		return b.Effect("billed")
	}
	at := 1
	use := func(u posting.Use) {
		at++
		u.Day, u.By = v.Day, posting.LineRef{PaperID: p.ID, Position: at}
		b.Use("lines", u)
	}
	if fromOrder {
		use(ofOrder(b, of, posting.Billed, v.Day, v.Quantity, posting.LineRef{}))
	}
	if passed {
		use(posting.Use{Of: waits, As: posting.Billed, Part: posting.Of(v.OfCost, 0)})
	}
	if deducts {
		use(posting.Use{Of: taken, As: posting.Deducted, Part: less})
	}
	enterLines(b, p, -1)
	owes(b, p, p.Total)
	return b.Effect("billed")
}

// enterLines enters income and tax; what waits or is deducted enters itself.
func enterLines(b *posting.Builder, p *posting.Paper, sign money.Amount) {
	at := ledger.Line{PartyID: p.PartyID, JobID: p.JobID}
	for _, l := range p.Lines {
		if _, control := b.Control(l.AccountID); !control {
			b.Debit(b.Role(ledger.ServiceSales), sign*l.Net.Base, at)
		}
		b.Debit(b.Role(ledger.OutputTax), sign*l.Tax.Base, ledger.Line{PartyID: p.PartyID, JobID: p.JobID, TaxCodeID: l.TaxCodeID})
	}
}

// Cost is paid for a customer by bank, and waits to be billed.
type Cost struct {
	head
	Amount money.Amount
}

// Plan returns the effect.
func (c Cost) Plan(f posting.Facts) (posting.Effect, error) {
	b := posting.Build(f)
	p, ok := c.begin(b, cost, posting.PaperLine{Net: posting.Firm(c.Amount), Register: ledger.Recoverable})
	if ok && b.AmountAboveNil("amount", c.Amount, "a cost") {
		b.Wait(p)
		b.Credit(b.Role(ledger.Opening), c.Amount, ledger.Line{})
	}
	return b.Effect("a cost")
}

// UseCost says that a part of a cost is not to be billed, or that the supplier
// credited it.
type UseCost struct {
	head
	Cost   int64
	Amount money.Amount
	As     posting.UseKind
}

// Plan returns the effect.
func (u UseCost) Plan(f posting.Facts) (posting.Effect, error) {
	b := posting.Build(f)
	p, ok := u.begin(b, costUse)
	of, _, there := thing(f, u.Cost, 1, cost)
	if !there || !ok || !b.AmountAboveNil("amount", u.Amount, "a part") {
		b.Refuse("cost", "missing", "", "There is no such cost.")
		return b.Effect("")
	}
	if b.Use("amount", posting.Use{Of: of, As: u.As, Day: u.Day, By: posting.LineRef{PaperID: p.ID}, Part: posting.Of(u.Amount, 0)}) {
		b.Debit(b.Role(ledger.JobCosts), u.Amount, ledger.Line{})
	}
	return b.Effect("used a cost")
}

// Advance bills in advance, by one code.
type Advance struct {
	head
	Net  money.Amount
	Code int64
}

// Plan returns the effect.
func (a Advance) Plan(f posting.Facts) (posting.Effect, error) {
	b := posting.Build(f)
	l := line(b, a.Net, a.Code, 1)
	l.Register = ledger.AdvanceBillings
	p, ok := a.begin(b, advance, l)
	if ok && b.AmountAboveNil("net", a.Net, "an advance") {
		b.Wait(p)
		b.Credit(b.Role(ledger.OutputTax), l.Tax.Base, ledger.Line{PartyID: a.Party, TaxCodeID: a.Code})
		owes(b, p, p.Total)
	}
	return b.Effect("billed in advance")
}

// CreditLine credits a part of a line that was billed, net, and gives back in
// proportion what the line holds.
type CreditLine struct {
	head
	Paper int64
	Line  int
	Net   money.Amount
}

// Plan returns the effect.
func (c CreditLine) Plan(f posting.Facts) (posting.Effect, error) {
	b := posting.Build(f)
	of, l, there := thing(f, c.Paper, c.Line, "")
	paper, _ := f.Paper(c.Paper)
	if d, _ := posting.Describe(paper.Kind); !there || paper.PartyID != c.Party || !d.Bills || d.Bound == nil || l.Net.Own <= 0 || c.Net <= 0 {
		b.Refuse("paper", "missing", "", "There is no such line to credit.")
		return b.Effect("")
	}
	ok := true
	left, _, _ := b.LeftOf(of, posting.Credited, c.Day)
	part := left.Least.TakeNet(c.Net)
	p, begun := c.begin(b, credit, posting.PaperLine{Net: posting.Firm(-part.Net()), Tax: part.Tax.Neg(), TaxCodeID: of.TaxCodeID, AccountID: l.AccountID})
	if code, _, _ := b.LeftOf(posting.Thing{LineRef: posting.LineRef{PaperID: c.Paper}, TaxCodeID: of.TaxCodeID}, posting.Credited, c.Day); part.Tax.Own > code.Least.Tax.Own || part.Amount.Own > code.Most() {
		b.Refuse("net", "more than is left", b.Currency().Format(code.Most()), "Less of it is left.")
		ok = false
	}
	if c.Net > left.Least.Net() || !begun || !ok {
		b.Refuse("net", "more than is left", b.Currency().Format(left.Least.Net()), "Less of it is left.")
		return b.Effect("")
	}
	by := posting.LineRef{PaperID: p.ID, Position: 1}
	if b.Use("net", posting.Use{Of: of, As: posting.Credited, Day: c.Day, By: by, Part: part}) {
		c.giveBack(b, f, left.Least.Net())
		enterLines(b, p, -1)
		owes(b, p, -part.Amount.Own)
	}
	return b.Effect("credited")
}

// giveBack returns the uses that the line holds, in proportion.
func (c CreditLine) giveBack(b *posting.Builder, f posting.Facts, left money.Amount) {
	type key struct {
		of posting.Thing
		as posting.UseKind
	}
	held := map[key]posting.Use{}
	var order []key
	for _, u := range f.UsesBy(c.Paper) {
		if u.By.Position != c.Line || u.By.PaperID != c.Paper {
			continue
		}
		for _, all := range f.Uses(u.Of.PaperID) {
			k := key{all.Of, all.As}
			if all.By != u.By || all.Of != u.Of || all.As != u.As {
				continue
			}
			if _, seen := held[k]; !seen {
				order = append(order, k)
			}
			sum := held[k]
			sum.Quantity += all.Quantity
			sum.Part = sum.Add(all.Part)
			held[k] = sum
		}
	}
	for _, k := range order {
		h := held[k]
		part := h.Take(money.Portion(c.Net, h.Amount.Own, left))
		if of, _ := f.Paper(k.of.PaperID); of.Currency != "" {
			part = h.Share(c.Net, left)
		}
		back := posting.Use{Of: k.of, As: k.as, Day: c.Day, By: posting.LineRef{PaperID: c.Paper, Position: c.Line},
			Quantity: -posting.Millionths(money.Portion(c.Net, money.Amount(h.Quantity), left)), Part: part.Neg()}
		b.Use("net", back)
	}
}

// Goods come into stock at a value, or leave it.
type Goods struct {
	head
	Article  int64
	Quantity int64 // below nil: they leave
	Value    money.Amount
}

// Plan returns the effect.
func (g Goods) Plan(f posting.Facts) (posting.Effect, error) {
	b := posting.Build(f)
	p, ok := g.begin(b, goods)
	by, q := posting.LineRef{PaperID: p.ID}, posting.Millionths(g.Quantity*1e6)
	switch {
	case !ok || q == 0 || (q > 0 && !b.AmountAboveNil("value", g.Value, "the value")):
		b.Refuse("quantity", "missing", "", "Say how much.")
	case q > 0:
		b.StockIn(posting.StockMove{ArticleID: g.Article, By: by, Day: g.Day, Quantity: q, Value: g.Value})
		b.Credit(b.Role(ledger.Opening), g.Value, ledger.Line{})
	default:
		value, _ := b.StockOut("quantity", g.Article, -q, nil, by, g.Day)
		b.Debit(b.Role(ledger.CostOfSales), value, ledger.Line{})
	}
	return b.Effect("goods")
}

// Charge charges days of an item.
type Charge struct {
	head
	Item          posting.ItemRef
	From, Through day.Day
}

// Plan returns the effect.
func (c Charge) Plan(f posting.Facts) (posting.Effect, error) {
	b := posting.Build(f)
	p, ok := c.begin(b, charge, line(b, 1000, 3, 1))
	if ok && b.Charge("from", c.Item, c.From, c.Through) {
		enterLines(b, p, -1)
		owes(b, p, p.Total)
	}
	return b.Effect("charged")
}

// Explained is a command that explains a line of the bank's statement.
type Explained struct {
	posting.Command
	Line int64
}

// Plan returns the effect of the command, tied to the line.
func (x Explained) Plan(f posting.Facts) (posting.Effect, error) {
	e, err := x.Command.Plan(f)
	if err == nil {
		err = banking.Explain(f, &e, x.Line)
	}
	return e, err
}
