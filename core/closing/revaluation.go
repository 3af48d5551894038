package closing

import (
	"cmp"
	"fmt"
	"slices"

	"cleantally/core/day"
	"cleantally/core/ledger"
	"cleantally/core/money"
	"cleantally/core/posting"

	"github.com/shopspring/decimal"
)

// AbroadFacts is what revaluing asks besides.
type AbroadFacts interface {
	// OpenAbroad is what of items in another currency was open at the end of a day,
	// as their Left.
	OpenAbroad(d day.Day) []posting.Item
	// BanksAbroad are the bank accounts in another currency.
	BanksAbroad() []ledger.BankAccount
	RevaluedOn(d day.Day) (number string, done bool)
}

// Revalue takes what is open in other currencies at the end of a day at the rates
// of that day: item by item, the difference to revaluation, which is outside the
// tie-out, and to exchange; it is taken back on the next day. What is held or was
// billed in advance is no money to come, and stays as it came in (docs/rules.md,
// part 8).
type Revalue struct {
	Number string
	Day    day.Day
	Rates  []posting.Rate // in place of those of the day
}

// Revalued is an item, or the money on a bank account, at the rate of a day.
type Revalued struct {
	Item       posting.Item // the zero value for money on a bank account
	Bank       ledger.BankAccount
	Currency   string
	Stands     posting.Worth // a debit above nil, a credit below
	Rate       posting.Rate  // of the day; the zero value where there is none
	Now        money.Amount  // what it is worth at it
	Difference money.Amount  // unrealised: above nil a gain
}

// monetary tells whether what stands in a register is money to come or to go.
func monetary(register ledger.Role) bool {
	switch register {
	case ledger.Receivables, ledger.Retention, ledger.Payables, ledger.RetentionPayable, ledger.Unidentified:
		return true
	}
	return false
}

// RevaluedAt works out what is open in other currencies at the end of a day, by
// currency, at the rates that are given, else those of the day.
func RevaluedAt(f posting.Facts, d day.Day, given []posting.Rate) []Revalued {
	facts := f.(AbroadFacts)
	var all []Revalued
	add := func(r Revalued) {
		if n := slices.IndexFunc(given, func(x posting.Rate) bool { return x.Currency == r.Currency }); n >= 0 {
			r.Rate = posting.Rate{Currency: r.Currency, Day: d, Rate: given[n].Rate}
		} else {
			r.Rate, _ = f.RateOn(r.Currency, d)
		}
		r.Now = posting.Exchanged(f, posting.CurrencyOf(f, r.Currency), r.Stands.Own, r.Rate.Rate)
		r.Difference = r.Now - r.Stands.Base
		all = append(all, r)
	}
	for _, i := range facts.OpenAbroad(d) {
		if monetary(i.Register) && i.Left.Amount.Own != 0 {
			add(Revalued{Item: i, Currency: i.Currency, Stands: i.Left.Amount})
		}
	}
	for _, bank := range facts.BanksAbroad() {
		if at := f.AccountDays(bank.AccountID, d)[0]; at.Own != 0 || at.Balance != 0 {
			add(Revalued{Bank: bank, Currency: bank.Currency, Stands: posting.Worth{Own: at.Own, Base: at.Balance}})
		}
	}
	slices.SortStableFunc(all, func(x, y Revalued) int {
		return cmp.Or(cmp.Compare(x.Currency, y.Currency), cmp.Compare(y.Bank.ID, x.Bank.ID), cmp.Compare(x.Item.ID, y.Item.ID))
	})
	return all
}

// Plan returns the effect of revaluing.
func (r Revalue) Plan(f posting.Facts) (posting.Effect, error) {
	b := posting.Build(f)
	dayOK := b.PostingDay("day", r.Day)
	p := b.Paper(posting.Paper{Kind: posting.Revaluation, Number: r.Number, Day: r.Day, Title: "Other currencies at the rates of " + r.Day.Show()})
	if number, done := f.(AbroadFacts).RevaluedOn(r.Day); done && dayOK {
		b.Refuse("day", "done already", number, "What is open on %s was revalued already, by %s. Reverse that to do it anew.", r.Day.Show(), number)
	}
	for n, x := range r.Rates {
		if !posting.RateFits(x.Rate) {
			b.Refuse(fmt.Sprintf("rates[%d].rate", n), "out of bounds", "", "The rate of %s is above nil, below %d, with at most %d places.", x.Currency, posting.RateLimit, posting.RatePlaces)
		}
	}
	var all []Revalued
	if dayOK {
		all = RevaluedAt(f, r.Day, r.Rates)
		missing := map[string]bool{}
		for _, x := range all {
			if x.Rate.Rate.IsZero() && !missing[x.Currency] {
				missing[x.Currency] = true
				b.Refuse("rates", "no rate", x.Currency, "There is no rate of %s on %s or before. Say it in the setup first.", x.Currency, r.Day.Show())
			}
		}
	}
	for _, x := range all {
		if x.Difference == 0 {
			continue
		}
		c := posting.CurrencyOf(f, x.Currency)
		what := x.Bank.Name
		if x.Bank.ID == 0 {
			what = x.Item.Number
		}
		p.Lines = append(p.Lines, posting.PaperLine{Position: len(p.Lines) + 1, Quantity: decimal.New(1, 0), AccountID: b.Role(ledger.Exchange).ID, Before: x.Difference, Net: posting.Firm(x.Difference),
			Text: fmt.Sprintf("%s: %s %s at %s, posted at %s", what, x.Currency, c.Show(x.Stands.Own), x.Rate.Rate, f.Currency().Show(x.Stands.Base))})
		p.Total += x.Difference
	}
	if dayOK && len(p.Lines) == 0 && !b.Refused() {
		b.Refuse("day", "nothing to revalue", "", "Nothing open on %s in another currency is worth something else by then.", r.Day.Show())
	}
	if dayOK && !b.Refused() {
		enter := func(sign money.Amount) {
			for _, x := range all {
				at := ledger.Line{PartyID: x.Item.PartyID}
				b.Debit(b.Role(ledger.Revaluation), sign*x.Difference, at)
				b.Credit(b.Role(ledger.Exchange), sign*x.Difference, at)
			}
		}
		b.Says(p.Title)
		enter(1)
		b.On(r.Day.Add(1), p.Title+", taken back", func() { enter(-1) })
	}
	return b.Effect(fmt.Sprintf("Revalued %d items in other currencies at %s by %s", len(p.Lines), r.Day.Show(), p.Number))
}
