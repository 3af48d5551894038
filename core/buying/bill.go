// Package buying plans the papers of what we buy (docs/rules.md, part 5, what
// we buy).
package buying

import (
	"fmt"
	"strings"

	"cleantally/core/day"
	"cleantally/core/ledger"
	"cleantally/core/master"
	"cleantally/core/money"
	"cleantally/core/posting"
	"cleantally/core/tax"

	"github.com/shopspring/decimal"
)

// Bill is a supplier's bill: Dr each line's account, Dr input tax, Cr payables;
// what we keep back of a subcontractor, Cr retention payable. Where we account
// for the tax ourselves both sides of it are posted. Goods that came before it
// leave goods received, others come into stock by it.
type Bill struct {
	Number       string // our own; "" to be given the next
	PartyID      int64
	Day          day.Day
	Currency     string          // ISO 4217; "" for the firm's own
	Rate         decimal.Decimal // of Currency; nil for that of the day
	Due          day.Day         // "": by the terms
	TermsID      int64           // 0: the supplier's; without any, due on its own day
	EarlyPercent decimal.Decimal
	EarlyUntil   day.Day // with EarlyPercent in place of that of the terms; "" for none
	Reference    string  // the supplier's number
	Note         string
	Lines        []Line
	Tax          *money.Amount    // the supplier's own, in place of the computed one, within the limit
	Total        *money.Amount    // as it stands on the bill, to be compared with what the lines come to
	Retention    *decimal.Decimal // that we keep back, percent of the net; nil: the supplier's own
	Expected     day.Day          // when what is kept back should be released; "" when that is not known
}

// Plan returns the effect of posting the bill.
func (v Bill) Plan(f posting.Facts) (posting.Effect, error) {
	b := posting.Build(f)
	dayOK := b.PostingDay("day", v.Day) && b.In(v.Currency, v.Rate, v.Day)
	party, partyOK := b.Supplier("party", v.PartyID)
	from := v.ordered(b)
	w := work{lines: from, day: v.Day, party: party, tax: v.Tax, total: v.Total}
	lines, sums := w.out(b)
	paper := head(posting.SupplierBill, party, lines, sums, posting.Paper{Number: v.Number, Day: v.Day, Reference: strings.TrimSpace(v.Reference), Note: v.Note})
	paper.Retained = v.retained(b, party, sums)
	if dayOK {
		v.terms(b, party, &paper)
	}
	p := b.Paper(paper)
	w.twice(b, p, dayOK && partyOK)
	if len(v.Lines) == 0 {
		b.Refuse("lines", "missing", "", "A bill needs a line. Write what was bought, and to which account it goes.")
	} else if !b.Refused() {
		b.AmountAboveNil("lines", p.Total, "the total of a bill")
	}
	if dayOK && partyOK && p.Total > 0 && p.Total <= money.Limit {
		owed, kept := b.At(p.Total-p.Retained), b.At(p.Retained)
		value(b, p, sums, owed, kept)
		b.EnterLines(p, sums, ledger.InputTax, 1)
		w.stock(b, p)
		if owed.Own > 0 {
			b.Open(posting.Item{Register: ledger.Payables, Bills: p.ID, PartyID: v.PartyID, Day: v.Day, Due: p.Due, Currency: p.Currency, Part: posting.Part{Amount: owed.Neg()}})
		}
		if kept.Own > 0 {
			b.Open(posting.Item{Register: ledger.RetentionPayable, Bills: p.ID, PartyID: v.PartyID, Day: v.Day, Due: v.Expected, Currency: p.Currency, Part: posting.Part{Amount: kept.Neg()}})
		}
	}
	return b.Effect(fmt.Sprintf("Recorded bill %s of %s, %s", p.Number, party.Name, b.Currency().Show(p.Total)))
}

// value says what a paper of a supplier is worth in the firm's currency: what is
// owed, kept back and taxed, each converted once; the lines take the rest.
func value(b *posting.Builder, p *posting.Paper, sums tax.Sums, owed, kept posting.Worth) {
	taxes := map[int64]posting.Worth{}
	for _, c := range sums.Codes {
		taxes[c.Code.ID] = b.At(c.Tax)
	}
	b.Value(p, owed, kept, taxes)
}

// retained is what we keep back of a subcontractor: a share of the net.
func (v Bill) retained(b *posting.Builder, party master.Party, s tax.Sums) money.Amount {
	percent := party.KeepBack
	if v.Retention != nil {
		percent = *v.Retention
	}
	if percent.IsNegative() || percent.GreaterThan(decimal.New(100, 0)) || !money.Fits(percent, 4) {
		b.Refuse("retention", "out of bounds", "100", "What is kept back is a percentage from 0 to 100, with at most 4 places.")
		return 0
	}
	if _, err := day.Parse(string(v.Expected)); v.Expected != "" && (err != nil || v.Expected < v.Day) {
		b.Refuse("expected", "before the paper", string(v.Day), "What is kept back cannot be released before the bill's own day, %s.", v.Day.Show())
	}
	return b.Currency().Round(money.Percent(b.Currency().Decimal(max(s.Net, 0)), percent))
}

// terms settle when the bill is due and what it gives for early payment.
func (v Bill) terms(b *posting.Builder, party master.Party, p *posting.Paper) {
	p.TermsID = v.TermsID
	p.Due = v.Day
	id := v.TermsID
	if id == 0 {
		id = party.TermsID
	}
	if t, ok := b.Terms(id); ok {
		if dues := t.Split(v.Day, max(p.Total, 1)); len(dues) > 0 {
			p.Due = dues[len(dues)-1].Day
		}
		if t.DiscountPercent.IsPositive() {
			p.EarlyPercent, p.EarlyUntil = t.DiscountPercent, v.Day.Add(t.DiscountDays)
		}
	} else if v.TermsID != 0 {
		b.Refuse("terms", "missing", "", "There are no such payment terms. Choose others.")
	}
	if v.Due != "" {
		p.Due = v.Due
		if _, err := day.Parse(string(v.Due)); err != nil {
			b.Refuse("due", "no such day", "", "%s.", posting.Sentence(err.Error()))
		}
	}
	if v.EarlyUntil == "" && v.EarlyPercent.IsZero() {
		return
	}
	_, err := day.Parse(string(v.EarlyUntil))
	if err != nil || v.EarlyUntil < v.Day || !v.EarlyPercent.IsPositive() || v.EarlyPercent.GreaterThanOrEqual(decimal.New(100, 0)) || !money.Fits(v.EarlyPercent, 4) {
		b.Refuse("earlyPercent", "out of bounds", "100", "An early discount is a percentage above 0 and below 100, through a day that is not before the bill's.")
		return
	}
	p.EarlyPercent, p.EarlyUntil = v.EarlyPercent, v.EarlyUntil
}

// ordered fills what bills a line of an order from it, where the bill says
// nothing else.
func (v Bill) ordered(b *posting.Builder) []Line { return fromOrder(b, v.Lines, v.PartyID, v.Day) }

// Expense is bought and paid at once, by bank, card or cash: Dr each line's
// account, Dr input tax, Cr bank.
type Expense struct {
	Number        string // "" to be given the next
	PartyID       int64
	Day           day.Day
	BankAccountID int64           // whose currency it is in
	Rate          decimal.Decimal // of that, where it is another than the firm's; nil for that of the day
	Method        posting.Method
	Reference     string // the supplier's number
	Note          string
	Lines         []Line
	Tax           *money.Amount // as of a bill
	Total         *money.Amount
}

// Plan returns the effect of recording the expense.
func (x Expense) Plan(f posting.Facts) (posting.Effect, error) {
	b := posting.Build(f)
	dayOK := b.PostingDay("day", x.Day)
	party, partyOK := b.Supplier("party", x.PartyID)
	_, bankOK := b.Bank("bank", x.BankAccountID)
	at, _ := b.BankAccount(x.BankAccountID)
	dayOK = dayOK && b.In(at.Currency, x.Rate, x.Day)
	b.Method("method", x.Method)
	w := work{lines: fromOrder(b, x.Lines, x.PartyID, x.Day), day: x.Day, party: party, tax: x.Tax, total: x.Total}
	lines, sums := w.out(b)
	p := b.Paper(head(posting.Expense, party, lines, sums, posting.Paper{Number: x.Number, Day: x.Day, Reference: strings.TrimSpace(x.Reference), Note: x.Note,
		Payment: posting.Payment{BankAccountID: x.BankAccountID, Method: x.Method, BankDay: x.Day}}))
	w.twice(b, p, dayOK && partyOK)
	if len(x.Lines) == 0 {
		b.Refuse("lines", "missing", "", "An expense needs a line. Write what was bought, and to which account it goes.")
	} else if !b.Refused() {
		b.AmountAboveNil("lines", p.Total, "the total of an expense")
	}
	if dayOK && partyOK && bankOK && p.Total > 0 && p.Total <= money.Limit {
		value(b, p, sums, b.At(p.Total), posting.Worth{})
		b.EnterLines(p, sums, ledger.InputTax, 1)
		w.stock(b, p)
		b.Leaves(at, p.Total, x.Day, x.Rate, ledger.Line{PartyID: x.PartyID})
		if at.Currency != "" {
			b.ExchangeRest(ledger.Line{PartyID: x.PartyID})
		}
	}
	return b.Effect(fmt.Sprintf("Paid %s to %s at once by %s", b.Currency().Show(p.Total), party.Name, p.Number))
}
