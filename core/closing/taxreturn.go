// Package closing plans what ends a period: the settling of its tax and the end
// of a year, and adds up what a tax return and an income statement say
// (docs/rules.md, part 9).
package closing

import (
	"cmp"
	"iter"
	"slices"

	"cleantally/core/day"
	"cleantally/core/ledger"
	"cleantally/core/money"

	"github.com/shopspring/decimal"
)

// TaxLine is a journal line of an entry that has to do with tax: one on a tax
// account, one that bears a tax code, or one on a register that holds tax.
type TaxLine struct {
	EntryID   int64
	PaperID   int64
	Kind      string
	Day       day.Day // of the tax: the day of supply, where the paper names one, else the entry's own
	Role      ledger.Role
	Amount    money.Amount // debits above nil
	TaxCodeID int64
	Percent   decimal.NullDecimal // of the code on the paper, or on that which it takes back; NULL where its lines name none
	LineNet   money.Amount        // what those lines come to, and their tax
	LineTax   money.Amount

	// Of output tax that falls due by a payment, where that is of one paper: how much
	// of the paper's tax of the code fell due before, and what the paper bills by it.
	FellBefore      money.Amount
	FellNet, FellOf money.Amount
}

// FellDue is how much of a paper's tax of a code had fallen due before an entry by
// which more of it does, and what the paper bills by that code.
type FellDue struct {
	EntryID   int64
	TaxCodeID int64
	Before    money.Amount
	Net, Tax  money.Amount
}

// net is what a tax that falls due is the tax of: as much of the net as comes to
// what fell due in all, less what came to it before, so that it adds up.
func (f FellDue) net(due money.Amount) money.Amount {
	return part(f.Net, f.Before+due, f.Tax) - part(f.Net, f.Before, f.Tax)
}

// Section is a part of a tax return.
type Section string

// The sections of a tax return, in their order.
const (
	Billed   Section = "billed"
	Paid     Section = "paid"     // of what was billed before, where tax is owed when it is paid
	OnMoney  Section = "deposits" // taxed on receipt, less what was set against invoices since
	Released Section = "released" // of retention whose tax was due later
	Bought   Section = "bought"
)

// Sections returns them.
func Sections() []Section { return []Section{Billed, Paid, OnMoney, Released, Bought} }

// TaxPaper is what one paper adds to a row of a tax return.
type TaxPaper struct {
	PaperID  int64
	Kind     string
	Day      day.Day
	Net, Tax money.Amount
}

// TaxRow is what a tax return says of a section, a code and a rate. Output is
// above nil where it is owed, input where it comes back.
type TaxRow struct {
	Section   Section
	TaxCodeID int64
	Percent   decimal.Decimal
	Net, Tax  money.Amount
	Papers    []TaxPaper
}

// TaxReturn is what a span comes to.
type TaxReturn struct {
	Rows          []TaxRow
	Output, Input money.Amount // as they moved on their accounts
	Waiting       money.Amount // tax of what the span billed that is owed when it is paid, less what was paid of it
	Deferred      money.Amount // tax on retentions that the span kept for later, less what it released
}

// ToPay is what is owed for the span; below nil comes back.
func (r TaxReturn) ToPay() money.Amount { return r.Output - r.Input }

// Return adds the lines of a span up, which come entry by entry. RateOf answers
// the percentage of a code on a day.
func Return(lines iter.Seq[TaxLine], rateOf func(code int64, d day.Day) decimal.Decimal) TaxReturn {
	var r TaxReturn
	var entry []TaxLine // of very many lines only these are kept
	for l := range lines {
		if len(entry) > 0 && entry[0].EntryID != l.EntryID {
			r.add(entry, rateOf)
			entry = entry[:0]
		}
		entry = append(entry, l)
	}
	if len(entry) > 0 {
		r.add(entry, rateOf)
	}
	slices.SortStableFunc(r.Rows, func(a, b TaxRow) int {
		return cmp.Or(cmp.Compare(slices.Index(Sections(), a.Section), slices.Index(Sections(), b.Section)), -a.Percent.Cmp(b.Percent), cmp.Compare(a.TaxCodeID, b.TaxCodeID))
	})
	return r
}

// ofCode is what an entry holds of one code.
type ofCode struct {
	lineNet, lineTax             money.Amount
	percent                      decimal.NullDecimal
	code                         int64
	fell                         FellDue
	output, input, deferred, net money.Amount // as they stand in the journal: debits above nil
}

// add adds one entry.
func (r *TaxReturn) add(entry []TaxLine, rateOf func(int64, day.Day) decimal.Decimal) {
	var codes []ofCode
	at := func(code int64) *ofCode {
		for n := range codes {
			if codes[n].code == code {
				return &codes[n]
			}
		}
		codes = append(codes, ofCode{code: code})
		return &codes[len(codes)-1]
	}
	var deposits, taxed, later money.Amount
	whenPaid := false
	onMoney := false
	for _, l := range entry {
		if l.Percent.Valid {
			c := at(l.TaxCodeID)
			c.percent, c.lineNet, c.lineTax = l.Percent, l.LineNet, l.LineTax
		}
		switch l.Role {
		case ledger.OutputTax:
			c := at(l.TaxCodeID)
			c.output, c.fell = c.output+l.Amount, FellDue{l.EntryID, l.TaxCodeID, l.FellBefore, l.FellNet, l.FellOf}
			taxed += l.Amount
		case ledger.InputTax:
			at(l.TaxCodeID).input += l.Amount
		case ledger.DeferredTax:
			later += l.Amount
			r.Deferred -= l.Amount
		case ledger.TaxWhenPaid:
			r.Waiting -= l.Amount
			whenPaid = true
		case ledger.Deposits:
			deposits, onMoney = deposits+l.Amount, true
		default:
			if l.TaxCodeID != 0 {
				at(l.TaxCodeID).net += l.Amount
			}
		}
	}
	first := entry[0]
	for _, c := range codes {
		if c.output == 0 && c.input == 0 && c.net == 0 {
			continue
		}
		if c.output != 0 && later != 0 { // its register knows the code, the account does not
			c.deferred = part(later, c.output, taxed)
		}
		r.Output -= c.output
		r.Input += c.input
		percent := c.percent.Decimal
		if !c.percent.Valid {
			percent = rateOf(c.code, first.Day)
		}
		owed := -c.output
		switch {
		case whenPaid && owed == 0 && c.input == 0 && !percent.IsZero(): // it is told when it is paid
		case whenPaid && owed != 0 && c.net == 0:
			net := atRate(owed, percent)
			if c.fell.Tax != 0 {
				net = c.fell.net(owed)
			}
			r.row(Paid, c.code, percent, first, net, owed)
		case c.input != 0 || c.output == 0 && bought(first.Kind):
			r.row(Bought, c.code, percent, first, c.base(c.input, c.net, percent, first.Kind), c.input)
			if owed != 0 { // the customer accounts for it: we do
				r.row(Billed, c.code, percent, first, c.base(owed, c.net, percent, first.Kind), owed)
			}
		case onMoney && owed != 0 && c.net == 0:
			r.row(OnMoney, c.code, percent, first, -part(deposits, c.output, taxed), owed)
		case owed != 0 && c.deferred == -c.output:
			r.row(Released, c.code, percent, first, atRate(owed, percent), owed)
		default:
			r.row(Billed, c.code, percent, first, c.base(owed, -c.net, percent, first.Kind), owed)
		}
	}
}

// base is what a tax was worked out on: the net of the paper's lines of the code,
// as much of it as its tax falls due here; where it has none, what stands in the
// journal beside it, or what the rate says.
func (c ofCode) base(tax, journal money.Amount, percent decimal.Decimal, kind string) money.Amount {
	switch {
	case c.lineTax != 0:
		return part(c.lineNet, tax, c.lineTax)
	case c.lineNet != 0 && kind == "reversal":
		return -c.lineNet
	case c.lineNet != 0:
		return c.lineNet
	case journal != 0:
		return journal
	}
	return atRate(tax, percent)
}

// atRate is what a tax at a rate is the tax of; nil at nil.
func atRate(tax money.Amount, percent decimal.Decimal) money.Amount {
	if percent.IsZero() {
		return 0
	}
	return money.Amount(decimal.NewFromInt(int64(tax)).Shift(2).Div(percent).Round(0).IntPart())
}

// part is the share of an amount that a part of a whole stands for.
func part(a, of, whole money.Amount) money.Amount {
	if of == whole {
		return a
	}
	return money.Amount(decimal.NewFromInt(int64(a)).Mul(decimal.NewFromInt(int64(of))).Div(decimal.NewFromInt(int64(whole))).Round(0).IntPart())
}

// bought tells the kinds of paper that buy apart, whose lines at nil tax belong
// to what is bought.
func bought(kind string) bool {
	switch kind {
	case "supplier bill", "expense", "supplier credit", "goods received", "stock use", "stock count":
		return true
	}
	return false
}

// row adds what an entry comes to to its row.
func (r *TaxReturn) row(s Section, code int64, percent decimal.Decimal, l TaxLine, net, tax money.Amount) {
	n := slices.IndexFunc(r.Rows, func(x TaxRow) bool { return x.Section == s && x.TaxCodeID == code && x.Percent.Equal(percent) })
	if n < 0 {
		n = len(r.Rows)
		r.Rows = append(r.Rows, TaxRow{Section: s, TaxCodeID: code, Percent: percent})
	}
	x := &r.Rows[n]
	x.Net, x.Tax = x.Net+net, x.Tax+tax
	if last := len(x.Papers) - 1; last >= 0 && x.Papers[last].PaperID == l.PaperID {
		x.Papers[last].Net += net
		x.Papers[last].Tax += tax
		return
	}
	x.Papers = append(x.Papers, TaxPaper{PaperID: l.PaperID, Kind: l.Kind, Day: l.Day, Net: net, Tax: tax})
}
