package billing

import (
	"fmt"
	"slices"
	"strings"

	"cleantally/core/day"
	"cleantally/core/ledger"
	"cleantally/core/money"
	"cleantally/core/posting"

	"github.com/shopspring/decimal"
)

// Cause is why something is credited; a credit note has one.
type Cause string

// The causes of a credit note (docs/rules.md, part 6).
const (
	GoodsBack   Cause = "return"
	Price       Cause = "price"
	Fault       Cause = "fault"
	Goodwill    Cause = "goodwill"
	CalledOff   Cause = "cancellation"
	OtherCauses Cause = "other"
)

// Causes lists every cause.
var Causes = []Cause{GoodsBack, Price, Fault, Goodwill, CalledOff, OtherCauses}

// Words are what a cause is called where it stands by itself; "" for none.
func (c Cause) Words() string {
	return map[Cause]string{GoodsBack: "goods came back", Price: "price", Fault: "fault", Goodwill: "goodwill", CalledOff: "called off", OtherCauses: "other"}[c]
}

// Credit is a credit note of an invoice: all that is left of it, chosen lines,
// or a part of its work; or one on its own, a rebate. Dr income, Dr output tax,
// Cr receivables. It gives back, in proportion, what its lines hold of orders
// and deposit invoices, its share of what is kept back and of the discount that
// was taken (docs/rules.md, part 6).
type Credit struct {
	Number        string // "" to be given the next
	PaperID       int64  // the invoice; 0 for a credit on its own
	Day           day.Day
	Cause         Cause
	Text          string // what is said of the cause
	Reference     string // of a return
	Note          string
	Lines         []CreditLine // none: all that is left
	Work          money.Amount // in place of lines: so much of the work, net, over its lines, deductions and retention in the same share
	Again         bool         // what it takes of an order may be billed again
	FromRetention bool         // all of it comes off what is kept back
	Back          bool         // without lines: all goods of it that are credited go back to stock
	Own           bool         // set against what is open of the invoice itself
	SetAgainst    []Against    // and of others, in order, first

	// Of a credit on its own, in place of what is told of an invoice.
	PartyID  int64
	JobID    int64
	Written  []posting.Line
	Includes bool            // prices include tax
	Currency string          // ISO 4217; "" for the firm's own
	Rate     decimal.Decimal // of Currency; nil for that of the day
}

// CreditLine is a line of the invoice and what of it is credited: a quantity,
// an amount or a new price; none of them for all that is left.
type CreditLine struct {
	Position int // counted from 1
	Quantity decimal.Decimal
	Amount   money.Amount     // as the invoice's prices are: net, or with tax
	Price    *decimal.Decimal // the new price of a piece
	Back     decimal.Decimal  // pieces of the quantity that go back to stock; what does not is scrapped, or stays with the customer
	Serials  []string         // of pieces that bear numbers and go back

	// What else it bears than the line that it credits; warned of.
	AccountID int64
	TaxCodeID int64
	Tax       *money.Amount // never more than is left of the line's
}

// Against is a debit, or a part of it, that a credit note is set against.
type Against struct {
	Debit  posting.ItemRef
	Amount money.Amount
	Most   bool // as much as is open of both, in place of Amount
}

// Plan returns the effect of the credit note.
func (c Credit) Plan(f posting.Facts) (posting.Effect, error) {
	b := posting.Build(f)
	told, _ := c.On(b)
	return b.Effect(told)
}

// On credits as a part of a larger step. It answers what was done and the
// credit that waits; none where all of it came off what is kept back.
func (c Credit) On(b *posting.Builder) (string, posting.ItemRef) {
	w := on(b)
	if c.PaperID == 0 {
		return c.onItsOwn(w)
	}
	return c.plan(w)
}

func (c Credit) plan(b *builder) (told string, credit posting.ItemRef) {
	dayOK := b.PostingDay("day", c.Day)
	of, ok := b.ordered("paper", c.PaperID, posting.Invoice, 0)
	c.causes(b)
	if ok && dayOK {
		ok = b.notBefore(of, c.Day, "credited")
	}
	b.Like(of.Currency, of.Rate)
	p := b.Paper(posting.Paper{Kind: posting.CreditNote, Number: c.Number, Day: c.Day, PartyID: of.PartyID, PartyName: of.PartyName, PartyAddress: of.PartyAddress, JobID: of.JobID,
		Title: "Credit of " + of.Number, Reference: strings.TrimSpace(c.Reference), Note: c.Note, Reason: c.reason(), SourceID: of.ID, Billing: posting.Billing{Form: string(c.Cause), Includes: of.Includes}})
	if ok && dayOK {
		b.JobOf("job", of.JobID, of.PartyID)
		if of.Due != "" && c.Day > of.Due {
			b.Warn("day", "past due", string(of.Due), "%s was due on %s already.", of.Number, of.Due.Show())
		}
		if parts := c.parts(b, of); !b.Refused() {
			credit = c.credit(b, p, of, parts)
		}
	}
	return fmt.Sprintf("Credited %s of %s to %s by %s", b.Currency().Show(-p.Total), of.Number, of.PartyName, p.Number), credit
}

// reason is the cause with what is said of it.
func (c Credit) reason() string {
	reason := posting.Sentence(string(c.Cause))
	if text := strings.TrimSpace(c.Text); text != "" {
		reason += ": " + text
	}
	return reason
}

func (c Credit) causes(b *builder) {
	if !slices.Contains(Causes, c.Cause) {
		b.Refuse("cause", "missing", "", "Say why it is credited: a return, a price, a fault, goodwill, a cancellation, or another reason.")
	}
	if c.Cause == OtherCauses && strings.TrimSpace(c.Text) == "" {
		b.Refuse("text", "missing", "", "Say in a few words why it is credited.")
	}
}

// A creditPart is what of a line of the invoice is credited: below nil where
// the line took something off.
type creditPart struct {
	line posting.PaperLine
	thingPart
	left posting.Part // of the line, before

	field   string
	back    posting.Millionths // pieces that go back to stock
	serials []string

	account int64           // that it goes to
	code    int64           // of tax that it bears
	percent decimal.Decimal // of that
}

type thingPart struct {
	of       posting.Thing
	quantity posting.Millionths
	part     posting.Part
}

// credit writes the lines of the credit note, what they take and give back,
// and the entries.
func (c Credit) credit(b *builder, p *posting.Paper, of posting.Paper, parts []creditPart) posting.ItemRef {
	carried, ok := c.carried(b, of, parts)
	if !ok {
		return 0
	}
	w := creditWriting{c, b, p, of, ledger.Line{PartyID: of.PartyID, JobID: of.JobID}, map[int64]posting.Worth{}, nil}
	w.discount(carried) // first, so that what it took is left
	works := w.lines(parts)
	if rounding := c.rounding(b, of); rounding.Own != 0 {
		p.Rounding, p.Total = -rounding.Own, p.Total-rounding.Own
		b.Use("paper", posting.Use{Of: posting.Thing{LineRef: posting.LineRef{PaperID: of.ID}}, As: posting.Credited, Day: c.Day, By: posting.LineRef{PaperID: p.ID}, Part: posting.Part{Amount: rounding}})
		b.DebitWorth(b.Role(ledger.Rounding), rounding, w.at)
	}
	if total := -p.Total; total <= 0 && !b.Refused() {
		b.Refuse("lines", "above nil", b.Currency().Format(0), "What is credited must come to more than nil: credit a line that was billed as well.")
		return 0
	}
	kept := c.keptBack(b, p, of, works)
	rest := map[int64]posting.Worth{}
	for _, code := range w.codes {
		if rest[code] = kept.taxes[code].Add(w.taxes[code].Neg()); rest[code].Own > 0 || !b.TaxDue().Of(p.Kind) {
			b.CreditWorth(b.Role(ledger.OutputTax), rest[code], w.ofCode(code))
		}
	}
	p.Retained = -kept.amount.Own
	return c.owe(b, of, b.comesTo(p).Neg().Add(kept.amount.Neg()), b.Later(p.Kind, rest, -1))
}

// creditWriting is a credit note while its lines are written.
type creditWriting struct {
	c     Credit
	b     *builder
	p     *posting.Paper
	of    posting.Paper
	at    ledger.Line
	taxes map[int64]posting.Worth // that come back, by code
	codes []int64                 // in the order in which they came
}

func (w *creditWriting) tax(code int64, amount posting.Worth) {
	if _, seen := w.taxes[code]; !seen {
		w.codes = append(w.codes, code)
	}
	w.taxes[code] = w.taxes[code].Add(amount)
}

func (w *creditWriting) ofCode(code int64) ledger.Line {
	at := w.at
	at.TaxCodeID = code
	return at
}

// last names the line that was written last.
func (w *creditWriting) last() posting.LineRef {
	return posting.LineRef{PaperID: w.p.ID, Position: len(w.p.Lines)}
}

// discount gives back the share of the discount taken, a line for each code.
func (w *creditWriting) discount(carried []thingPart) {
	allowed := w.b.Role(ledger.DiscountAllowed)
	for _, x := range carried {
		w.c.line(w.p, posting.PaperLine{Text: "Share of the discount taken", Quantity: one, TaxCodeID: x.of.TaxCodeID, TaxPercent: w.of.PercentOf(x.of.TaxCodeID), AccountID: allowed.ID}, x.part.Neg())
		w.p.Beside += x.part.Net()
		w.tax(x.of.TaxCodeID, x.part.Tax.Neg())
		w.b.CreditWorth(allowed, x.part.Amount.Add(x.part.Tax.Neg()), w.at)
		w.b.Use("paper", posting.Use{Of: x.of, As: posting.Discounted, Day: w.c.Day, By: w.last(), Part: x.part.Neg()})
	}
}

// lines writes what is credited of each line and gives back what it holds; it
// returns those that were work.
func (w *creditWriting) lines(parts []creditPart) (works []creditPart) {
	holds := holdingOf(w.b, w.of.ID)
	for _, x := range parts {
		l := x.line
		own := posting.PaperLine{ArticleID: l.ArticleID, JobID: l.JobID, Text: l.Text, Unit: l.Unit, Quantity: one, TaxCodeID: x.code, TaxPercent: x.percent, AccountID: x.account, PassOn: l.PassOn}
		if x.quantity > 0 {
			own.Quantity, own.UnitPrice = x.quantity.Decimal(), l.UnitPrice
		}
		w.c.line(w.p, own, x.part)
		w.b.Use("paper", posting.Use{Of: x.of, As: posting.Credited, Day: w.c.Day, By: w.last(), Quantity: x.quantity, Part: x.part})
		w.tax(x.code, x.part.Tax)
		w.goods(x, w.c.giveBack(w.b, holds, x))
		if _, control := w.b.Control(l.AccountID); control {
			w.p.Beside -= x.part.Net()
			if taken(x.part) {
				w.p.Deducted += x.part.Amount.Own
			}
			continue
		}
		if l.PassOn != posting.KeptAsCost {
			w.p.Beside -= x.part.Net()
		}
		works = append(works, x)
		w.b.DebitWorth(ledger.Account{ID: x.account}, x.part.Amount.Add(x.part.Tax.Neg()), w.ofCode(x.code))
	}
	return works
}

var one = decimal.New(1, 0)

// line adds a line to the credit note, the other way round of what is credited.
func (c Credit) line(p *posting.Paper, l posting.PaperLine, credited posting.Part) {
	l.Position = len(p.Lines) + 1
	l.Net, l.Tax = credited.Amount.Add(credited.Tax.Neg()).Neg(), credited.Tax.Neg()
	l.Before = l.Net.Own
	p.Lines = append(p.Lines, l)
	p.Net, p.Tax = p.Net+l.Net.Own, p.Tax+l.Tax.Own
	p.Total = p.Net + p.Tax
}

// rounding is what of the invoice's rounding goes along: all of it, with a
// credit of all that is left.
func (c Credit) rounding(b *builder, of posting.Paper) posting.Worth {
	if of.Rounding == 0 || len(c.Lines) > 0 || c.Work != 0 {
		return posting.Worth{}
	}
	left, _, _ := b.LeftOf(posting.Thing{LineRef: posting.LineRef{PaperID: of.ID}}, posting.Credited, c.Day)
	return left.Least.Amount
}

// owe makes the credit and sets it against what was chosen. Later is the tax that
// it bears until it is used.
func (c Credit) owe(b *builder, of posting.Paper, amount posting.Worth, later posting.Later) posting.ItemRef {
	credit := b.credited(of, c.Day, amount, later)
	if credit == 0 {
		return 0
	}
	for n, a := range c.SetAgainst {
		field := fmt.Sprintf("setAgainst[%d].amount", n)
		if a.Most {
			b.AllocateMost(field, a.Debit, credit, c.Day)
		} else {
			b.Allocate(field, a.Debit, credit, a.Amount, c.Day)
		}
	}
	if c.Own {
		b.againstOwn("own", of.ID, credit, c.Day)
	}
	return credit
}

// credited makes the credit of a credit note; none of nil.
func (b *builder) credited(of posting.Paper, d day.Day, amount posting.Worth, later posting.Later) posting.ItemRef {
	at := ledger.Line{PartyID: of.PartyID, JobID: of.JobID}
	if amount.Own == 0 {
		b.OpenLater(nil, later, at)
		return 0
	}
	return b.OpenLater([]posting.Item{{Register: ledger.Receivables, PartyID: of.PartyID, JobID: of.JobID, Day: d, Currency: b.Code(), Part: posting.Part{Amount: amount.Neg()}}}, later, at)[0]
}

// comesTo is what the lines of a paper come to, with their rounding.
func (b *builder) comesTo(p *posting.Paper) posting.Worth {
	sum := b.At(p.Rounding)
	for _, l := range p.Lines {
		sum = sum.Add(l.Net).Add(l.Tax)
	}
	return sum
}
