// Package billing plans the papers that bill a customer (docs/rules.md, part 5).
package billing

import (
	"fmt"
	"slices"
	"strings"

	"cleantally/core/day"
	"cleantally/core/ledger"
	"cleantally/core/master"
	"cleantally/core/money"
	"cleantally/core/posting"
	"cleantally/core/tax"

	"github.com/shopspring/decimal"
)

// Invoice bills a customer. Posted it is Dr receivables total; Cr each line's
// income account; Cr output tax. Credits that it names are set against it in
// the same step.
type Invoice struct {
	Number          string // "" to be given the next
	PartyID         int64
	JobID           int64
	Day             day.Day
	Currency        string          // ISO 4217; "" for the firm's own
	Rate            decimal.Decimal // of Currency; nil for that of the day
	Supplied        day.Day         // when it was supplied; "": on its day. It chooses the rates of tax
	TermsID         int64           // 0: the customer's, else the firm's
	Due             day.Day         // a due day that is named; "" to count it by the terms
	Reference       string
	Subject         string
	Salesperson     string
	OrderNumber     string // the customer's own
	Note            string
	DefaultNote     bool // in place of Note, the customer's own, else the firm's
	Lines           []posting.Line
	Includes        bool // prices include tax
	DiscountPercent decimal.Decimal
	Discount        money.Amount
	RoundTo         money.Amount // step of the total, nil for none
	SetAgainst      []Use
	Form            Form        // what it is in the course of a contract
	Deductions      []Deduction // of what was billed in advance
	Retention       *Retention  // what is kept back, where that is not what the job's terms have

	certificate string        // of a claim: how its sum came about
	measured    []posting.Use // and what of orders it says is delivered
}

// Form is what an invoice is in the course of a contract; it stands on the
// paper as its name.
type Form string

// The forms of an invoice.
const (
	PlainForm Form = ""
	StageForm Form = "stage"
	FinalForm Form = "final"
	LateForm  Form = "late charge"
)

// Use is a credit, or a part of it, that is set against the invoice.
type Use struct {
	Credit posting.ItemRef
	Amount money.Amount
	Most   bool // as much as is open of both, in place of Amount
}

// Plan returns the effect of posting the invoice.
func (v Invoice) Plan(f posting.Facts) (posting.Effect, error) {
	return v.plan(build(f))
}

func (v Invoice) plan(b *builder) (posting.Effect, error) {
	dayOK := b.PostingDay("day", v.Day) && b.In(v.Currency, v.Rate, v.Day)
	party, partyOK := b.Customer("party", v.PartyID)
	jobOK := b.JobOf("job", v.JobID, v.PartyID)
	written, lines, sums, keeps := v.lines(b)
	if v.DefaultNote {
		if v.Note = party.InvoiceNote; v.Note == "" {
			v.Note = b.facts.FirmNote()
		}
	}
	b.theirNumber(party, lines, sums)
	paper := v.paper(party, lines, sums)
	paper.Retained = keeps.amount
	for _, l := range written {
		if l.Deducts != nil {
			paper.Deducted += l.Deducts.Amount.Own
			paper.Beside -= l.Deducts.Net()
		}
	}
	for _, l := range lines {
		if l.PassOn != posting.KeptAsCost {
			paper.Beside += l.Net.Own
		}
	}
	if v.Retention != nil {
		paper.RetainedWhy = strings.TrimSpace(v.Retention.Reason)
	}
	left := sums.Total - keeps.amount
	var dues []master.Due
	if dayOK {
		var terms master.Terms
		dues, terms = v.dues(b.Builder, party, left)
		paper.Due = dues[len(dues)-1].Day
		if terms.DiscountPercent.IsPositive() && len(dues) == 1 {
			paper.EarlyPercent, paper.EarlyUntil = terms.DiscountPercent, v.Day.Add(terms.DiscountDays)
		}
	}
	p := b.Paper(paper)
	if len(v.Lines) == 0 && !b.Refused() {
		b.Refuse("lines", "missing", "", "An invoice needs a line. Write what was done or delivered.")
	} else if !b.Refused() && paper.Deducted == 0 {
		b.AmountAboveNil("lines", sums.Total, "the total of an invoice")
	}
	nilButDeducted := paper.Deducted > 0 && left == 0
	if dayOK && partyOK && jobOK && (sums.Total > 0 || nilButDeducted) && sums.Total <= money.Limit {
		owed := v.value(b, p, sums, left, &keeps)
		b.EnterLines(p, sums, b.OutputTax(p.Kind), -1)
		v.take(b, p, written)
		v.goods(b, p, written)
		v.open(b.Builder, p, dues, owed, b.Later(p.Kind, posting.TaxesOf(p, sums), 1).Less(keeps.tax()))
		keeps.open(b, v, p)
		if p.Currency != "" { // of what no line could take
			b.ExchangeRest(ledger.Line{PartyID: v.PartyID})
		}
	}
	return b.Effect(fmt.Sprintf("Posted invoice %s for %s, %s", p.Number, party.Name, b.Currency().Show(p.Total)))
}

// lines works the lines out: what is billed, what of it is kept back, what was
// billed in advance and is taken off.
func (v Invoice) lines(b *builder) ([]posting.Line, []posting.PaperLine, tax.Sums, kept) {
	in := posting.Lines{Lines: v.fromCosts(b, v.fromOrders(b)), Day: v.taxDay(b.Builder), PartyID: v.PartyID, Includes: v.Includes, DiscountPercent: v.DiscountPercent, Discount: v.Discount, RoundTo: v.RoundTo}
	lines, sums := b.Lines(in)
	keeps := v.retention(b, sums)
	if off := v.deducted(b, sums, sums.Total-keeps.amount); len(off) > 0 {
		in.Lines = append(in.Lines, off...)
		lines, sums = b.Lines(in)
	}
	return in.Lines, lines, sums, keeps
}

func (v Invoice) paper(party master.Party, lines []posting.PaperLine, s tax.Sums) posting.Paper {
	return head(posting.Invoice, party, lines, s, posting.Paper{Number: v.Number, Day: v.Day, JobID: v.JobID, Title: strings.TrimSpace(v.Subject), Reason: v.certificate, Reference: v.Reference, Note: v.Note,
		Billing: posting.Billing{Subject: strings.TrimSpace(v.Subject), Salesperson: strings.TrimSpace(v.Salesperson), OrderNumber: strings.TrimSpace(v.OrderNumber), Supplied: v.Supplied, TermsID: v.TermsID, Form: string(v.Form), Includes: v.Includes}})
}

// taxDay is the day that chooses the rates of tax: that of supply, else the
// paper's own (docs/rules.md, part 9).
func (v Invoice) taxDay(b *posting.Builder) day.Day {
	if v.Supplied == "" {
		return v.Day
	}
	if _, err := day.Parse(string(v.Supplied)); err != nil {
		b.Refuse("supplied", "no such day", "", "%s.", posting.Sentence(err.Error()))
		return v.Day
	}
	return v.Supplied
}

// dues splits the total by the terms: the paper's, the customer's, the firm's.
// A due day that is named takes their place, but not that of their discount.
func (v Invoice) dues(b *posting.Builder, party master.Party, total money.Amount) ([]master.Due, master.Terms) {
	dues, terms := b.Split(v.Day, total, party, v.TermsID)
	if _, ok := b.Terms(v.TermsID); !ok && v.TermsID != 0 {
		b.Refuse("terms", "missing", "", "There are no such payment terms. Choose others.")
	}
	if v.Due == "" {
		return dues, terms
	}
	if _, err := day.Parse(string(v.Due)); err != nil {
		b.Refuse("due", "no such day", "", "%s.", posting.Sentence(err.Error()))
	} else if v.Due < v.Day {
		b.Refuse("due", "before the paper", string(v.Day), "An invoice cannot be due before its own day, %s.", v.Day.Show())
	}
	return []master.Due{{Day: v.Due, Amount: total}}, terms
}

// open makes an open item for each due day and sets the named credits against
// them, the earliest first. Later is the tax that they bear until they are paid.
func (v Invoice) open(b *posting.Builder, p *posting.Paper, dues []master.Due, worth owed, later posting.Later) {
	dues = slices.DeleteFunc(slices.Clone(dues), func(d master.Due) bool { return d.Amount == 0 }) // all of it is deducted or kept back
	if len(dues) == 0 && len(v.SetAgainst) > 0 {
		b.Refuse("setAgainst[0].amount", "nothing is left", b.Currency().Format(0), "Nothing of this invoice is left to pay. Take off what is set against it.")
		return
	}
	items := make([]posting.Item, len(dues))
	left := make([]money.Amount, len(dues))
	for i, due := range dues {
		left[i] = due.Amount
	}
	worths := worth.over(left)
	for i, due := range dues {
		part := 0
		if len(dues) > 1 {
			part = i + 1
		}
		items[i] = posting.Item{Register: ledger.Receivables, Bills: p.ID, Instalment: part, PartyID: v.PartyID, JobID: v.JobID, Day: v.Day, Due: due.Day, Currency: p.Currency, Part: posting.Part{Amount: worths[i]}}
	}
	refs := b.OpenLater(items, later, ledger.Line{PartyID: v.PartyID, JobID: v.JobID})
	for n, use := range v.SetAgainst {
		field, want := fmt.Sprintf("setAgainst[%d].amount", n), use.Amount
		if use.Most {
			setMost(b, field, refs, left, use.Credit, v.Day)
			continue
		}
		for i := range refs {
			take := min(want, left[i])
			if i == len(refs)-1 || want <= 0 {
				take = want // what is too much is refused there, with the limit
			}
			if take == 0 && want > 0 {
				continue
			}
			if !b.Allocate(field, refs[i], use.Credit, take, v.Day) {
				return
			}
			left[i] -= take
			if want -= take; want == 0 {
				break
			}
		}
	}
}

// setMost sets as much of a credit against the parts as both allow, the
// earliest first.
func setMost(b *posting.Builder, field string, refs []posting.ItemRef, left []money.Amount, credit posting.ItemRef, d day.Day) {
	any := false
	for i, ref := range refs {
		if most := b.Most(ref, credit, d); most > 0 && b.Allocate(field, ref, credit, most, d) {
			left[i] -= most
			any = true
		}
	}
	if !any {
		b.AllocateMost(field, refs[len(refs)-1], credit, d) // says why
	}
}

// owed is what a paper leaves to pay: what deposits cover that are set against it
// in the same step, and the rest.
type owed struct{ covered, rest posting.Worth }

// owes is what is owed with nothing to cover it.
func owes(w posting.Worth) owed { return owed{rest: w} }

// all is what is owed, at what it is worth.
func (o owed) all() posting.Worth { return o.covered.Add(o.rest) }

// over shares what is owed over what is due, of which deposits cover the first.
func (o owed) over(dues []money.Amount) []posting.Worth {
	under, rest := make([]money.Amount, len(dues)), make([]money.Amount, len(dues))
	left := o.covered.Own
	for n, d := range dues {
		under[n] = min(d, left)
		rest[n] = d - under[n]
		left -= under[n]
	}
	parts := o.rest.Spread(rest)
	for n, w := range o.covered.Spread(under) {
		parts[n] = parts[n].Add(w)
	}
	return parts
}

// value says what the paper is worth in the firm's currency: what is owed and
// kept back, and its tax, each converted once; what deposits cover that are set
// against it now is worth what came in. The lines take the rest (docs/rules.md,
// part 8). It returns what is owed.
func (v Invoice) value(b *builder, p *posting.Paper, sums tax.Sums, left money.Amount, keeps *kept) owed {
	if p.Currency == "" {
		return owes(posting.Firm(left))
	}
	covered := v.covered(b.Builder, left)
	owed := owed{covered, b.At(left - covered.Own)}
	taxes := map[int64]posting.Worth{}
	for _, c := range sums.Codes {
		tax := b.At(c.Tax)
		if covered.Own != 0 {
			under := money.Amount(decimal.NewFromInt(int64(c.Tax)).Mul(decimal.NewFromInt(int64(covered.Own))).DivRound(decimal.NewFromInt(int64(left)), 0).IntPart())
			tax = b.At(c.Tax - under)
			tax = tax.Add(posting.Worth{Own: under, Base: money.Portion(under, covered.Base, covered.Own)})
		}
		taxes[c.Code.ID] = tax
	}
	whole := keeps.value(b)
	b.Value(p, owed.all(), whole, taxes)
	return owed
}

// covered is what deposits that are set against the paper in the same step cover
// of it, at what they are worth.
func (v Invoice) covered(b *posting.Builder, left money.Amount) (sum posting.Worth) {
	for _, use := range v.SetAgainst {
		i, ok := b.Look(use.Credit)
		if !ok || i.Register != ledger.Deposits || i.Currency != b.Code() {
			continue
		}
		amount := min(b.OpenFrom(i, v.Day), left-sum.Own)
		if !use.Most {
			amount = min(amount, use.Amount)
		}
		if amount > 0 {
			sum = sum.Add(b.Taken(i, amount, v.Day).Amount)
		}
	}
	return sum
}
