package postingtest

import (
	"iter"
	"maps"
	"slices"

	"cleantally/core/day"
	"cleantally/core/ledger"
	"cleantally/core/master"
	"cleantally/core/money"
	"cleantally/core/posting"
	"cleantally/core/tax"

	"github.com/shopspring/decimal"
)

// What follows answers posting.Facts.

func (b *Book) Currency() money.Currency      { return b.Cur }
func (b *Book) CurrencyUsed(code string) bool { return b.Currencies[code] }

// RateOn answers posting.Facts.
func (b *Book) RateOn(code string, d day.Day) (newest posting.Rate, found bool) {
	for _, r := range b.RateList {
		if r.Currency == code && r.Day <= d && (!found || r.Day >= newest.Day) {
			newest, found = r, true
		}
	}
	return newest, found
}

func (b *Book) Today() day.Day                          { return b.Now }
func (b *Book) LockedThrough() day.Day                  { return b.Lock }
func (b *Book) TaxSettled() day.Day                     { return slices.Max(append(b.ended(posting.TaxSettlement), "")) }
func (b *Book) YearsClosed() []day.Day                  { return b.ended(posting.YearEnd) }
func (b *Book) Role(r ledger.Role) ledger.Account       { return b.Accounts[b.Roles[r]] }
func (b *Book) TaxDue() posting.TaxDue                  { return b.Due }
func (b *Book) FirmTermsID() int64                      { return 1 }
func (b *Book) FirmTaxCodeID() int64                    { return 1 }
func (b *Book) Account(id int64) (ledger.Account, bool) { a, ok := b.Accounts[id]; return a, ok }
func (b *Book) Terms(id int64) (master.Terms, bool)     { t, ok := b.TermsList[id]; return t, ok }
func (b *Book) Party(id int64) (master.Party, bool)     { p, ok := b.Parties[id]; return p, ok }
func (b *Book) Job(id int64) (master.Job, bool)         { j, ok := b.Jobs[id]; return j, ok }
func (b *Book) Article(id int64) (master.Article, bool) {
	i, ok := b.Articles[id]
	return i, ok
}
func (b *Book) BankAccount(id int64) (ledger.BankAccount, bool) {
	a, ok := b.Banks[id]
	return a, ok
}

// BankOf answers posting.Facts.
func (b *Book) BankOf(accountID int64) (ledger.BankAccount, bool) {
	for _, bank := range b.Banks {
		if bank.AccountID == accountID {
			return bank, true
		}
	}
	return ledger.BankAccount{}, false
}

func (b *Book) TaxCode(id int64) (tax.Code, []tax.Rate, bool) {
	c, ok := b.Codes[id]
	if !ok {
		return c, nil, false
	}
	return c, []tax.Rate{{TaxCodeID: id, Since: "2020-01-01", Percent: decimal.RequireFromString(b.Rates[id])}}, true
}

func (b *Book) Paper(id int64) (posting.Paper, bool) {
	if id < 1 || id > int64(len(b.Papers)) {
		return posting.Paper{}, false
	}
	return b.Papers[id-1], true
}

func (b *Book) ReversedBy(id int64) (string, bool) {
	for _, p := range b.Papers {
		if p.ReversesID == id {
			return p.Number, true
		}
	}
	return "", false
}

func (b *Book) PaperEntries(id int64) []ledger.Entry {
	var found []ledger.Entry
	for _, e := range b.Entries {
		if e.PaperID == id && e.Allocation == 0 {
			found = append(found, e.Entry)
		}
	}
	return found
}

func (b *Book) KnowPapers([]int64) {}

func (b *Book) Debts(ids []int64) iter.Seq[posting.Paper] {
	return func(yield func(posting.Paper) bool) {
		for _, id := range ids {
			if p, ok := b.Paper(id); ok && len(p.Lines) > 0 && !yield(p) {
				return
			}
		}
	}
}

func (b *Book) KnowItems([]posting.ItemRef) {}

func (b *Book) PaperItems(id int64) []posting.Item {
	var found []posting.Item
	for _, i := range b.Open {
		if i.PaperID == id {
			found = append(found, i)
		}
	}
	return found
}

func (b *Book) Item(id posting.ItemRef) (posting.Item, bool) {
	if id < 1 || int(id) > len(b.Open) {
		return posting.Item{}, false
	}
	return b.Open[id-1], true
}

func (b *Book) ItemMoves(id posting.ItemRef) []posting.Move {
	var found []posting.Move
	for _, m := range b.Moves {
		if m.Item == id {
			found = append(found, m)
		}
	}
	return found
}

func (b *Book) Allocation(id int64) (posting.Allocation, bool) {
	if id < 1 || id > int64(len(b.Allocations)) {
		return posting.Allocation{}, false
	}
	return b.Allocations[id-1], true
}

func (b *Book) UndoneOn(id int64) day.Day {
	for _, a := range b.Allocations {
		if a.Undoes == id {
			return a.Day
		}
	}
	return ""
}

func (b *Book) AllocationsOf(id posting.ItemRef) []posting.Allocation {
	var found []posting.Allocation
	for _, a := range b.Allocations {
		if (a.Debit == id || a.Credit == id) && a.Undoes == 0 && b.UndoneOn(a.ID) == "" {
			found = append(found, a)
		}
	}
	return found
}

func (b *Book) NumberTaken(k posting.Kind, number string) bool {
	return slices.ContainsFunc(b.Papers, func(p posting.Paper) bool { return p.Kind == k && p.Number == number })
}

func (b *Book) NextNumber(k posting.Kind, on day.Day, ahead int) string {
	d, _ := posting.Describe(k)
	prefix, width := posting.Series(d.Numbering, on)
	for n := int64(1); ; n++ {
		if number := prefix + posting.Padded(n, width); !b.NumberTaken(k, number) {
			if ahead == 0 {
				return number
			}
			ahead--
		}
	}
}

func (b *Book) Limits() master.Limits { return b.Firm }

func (b *Book) ChequeTaken(bank int64, number string) bool {
	return slices.ContainsFunc(b.Papers, func(p posting.Paper) bool { return p.BankAccountID == bank && p.Cheque == number })
}

// Sent is when a paper was sent.
func (b *Book) Sent(paperID int64) day.Day { return b.SentOn[paperID] }

func (b *Book) NextCheque(bank int64) string {
	for n := int64(101); ; n++ {
		if number := posting.Padded(n, 6); !b.ChequeTaken(bank, number) {
			return number
		}
	}
}

func (b *Book) ItemLines(id posting.ItemRef) []ledger.Line {
	var found []ledger.Line
	for _, e := range b.Entries {
		for _, l := range e.Lines {
			if l.ItemID == int64(id) {
				found = append(found, l)
			}
		}
	}
	return found
}

func (b *Book) OpenOn(d day.Day) iter.Seq2[posting.Item, posting.Part] {
	return func(yield func(posting.Item, posting.Part) bool) {
		for _, i := range b.Open {
			i.Left = posting.Part{}
			for _, m := range b.ItemMoves(i.ID) {
				if m.Day <= d {
					i.Left = i.Left.Add(m.Part)
				}
			}
			var billed posting.Part
			if of, _ := b.Paper(i.Bills); of.Currency == "" && of.Rounding == 0 && len(b.Uses(of.ID)) == 0 {
				for _, l := range of.Lines {
					billed = billed.Add(l.Part())
					if l.TaxCodeID != of.Lines[0].TaxCodeID {
						billed = posting.Part{}
						break
					}
				}
			}
			if i.Left.Amount.Own != 0 && (i.Register == ledger.Receivables || i.Register == ledger.Retention) && !yield(i, billed) {
				return
			}
		}
	}
}

func (b *Book) KeptBackBy(partyID int64, d day.Day) []posting.Item {
	var found []posting.Item
	for i := range b.OpenOn(d) {
		if i.Register == ledger.Retention && i.PartyID == partyID {
			found = append(found, i)
		}
	}
	return found
}

func (b *Book) Disputes(id posting.ItemRef) []posting.Dispute {
	var found []posting.Dispute
	for _, d := range b.Marks {
		if d.Item == id {
			found = append(found, d)
		}
	}
	return found
}

func (b *Book) AccountDays(id int64, from day.Day) []posting.DayBalance {
	sums := map[day.Day]posting.Worth{from: {}}
	for _, e := range b.Entries {
		for _, l := range e.Lines {
			if l.AccountID == id {
				sums[max(e.Day, from)] = sums[max(e.Day, from)].Add(posting.Worth{Own: l.Own, Base: l.Amount})
			}
		}
	}
	var days []posting.DayBalance
	var balance posting.Worth
	for _, d := range slices.Sorted(maps.Keys(sums)) {
		balance = balance.Add(sums[d])
		days = append(days, posting.DayBalance{Day: d, Balance: balance.Base, Own: balance.Own})
	}
	return days
}

func (b *Book) SamePayment(party int64, reference string, amount money.Amount, since day.Day) (string, bool) {
	for _, p := range b.Papers {
		if _, reversed := b.ReversedBy(p.ID); !reversed && p.PartyID == party && p.Reference == reference && p.Total == amount && p.Day >= since && payment(p.Kind) {
			return p.Number, true
		}
	}
	return "", false
}

func payment(k posting.Kind) bool {
	d, _ := posting.Describe(k)
	return d.Payment
}

func (b *Book) AccountBalance(id int64) money.Amount {
	var sum money.Amount
	for _, e := range b.Entries {
		for _, l := range e.Lines {
			if l.AccountID == id {
				sum += l.Amount
			}
		}
	}
	return sum
}

func (b *Book) PartyBalance(register ledger.Role, party int64) money.Amount {
	var sum money.Amount
	for _, i := range b.Open {
		if i.Register == register && i.PartyID == party {
			sum += i.Left.Amount.Base
		}
	}
	return sum
}

func (b *Book) JobBilled(job int64) money.Amount {
	var sum money.Amount
	for _, p := range b.Papers {
		if d, _ := posting.Describe(p.About); p.JobID == job && d.Bills {
			sum += p.Firms().Net - p.Firms().Beside
		}
	}
	return sum
}

func where[T any](all []T, holds func(T) bool) []T {
	var found []T
	for _, x := range all {
		if holds(x) {
			found = append(found, x)
		}
	}
	return found
}

// ended are the last days of what ended, by a kind of paper, and stands.
func (b *Book) ended(kind posting.Kind) []day.Day {
	var days []day.Day
	for _, p := range b.Papers {
		if _, reversed := b.ReversedBy(p.ID); p.Kind == kind && !reversed && (kind != posting.YearEnd || p.SpanFrom != "") {
			days = append(days, p.SpanThrough)
		}
	}
	slices.Sort(days)
	return days
}
