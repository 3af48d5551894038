// Package postingtest keeps a firm's books in memory, so that plans can be
// tested without a store.
package postingtest

import (
	"fmt"
	"slices"

	"cleantally/core/day"
	"cleantally/core/ledger"
	"cleantally/core/master"
	"cleantally/core/money"
	"cleantally/core/posting"
	"cleantally/core/tax"

	"github.com/shopspring/decimal"
)

// Book answers posting.Facts from memory. Its fields may be changed between
// commands.
type Book struct {
	Now, Lock day.Day
	Firm      master.Limits
	Cur       money.Currency
	Accounts  map[int64]ledger.Account
	Roles     map[ledger.Role]int64
	Banks     map[int64]ledger.BankAccount
	Codes     map[int64]tax.Code
	Rates     map[int64]string
	TermsList map[int64]master.Terms
	Parties   map[int64]master.Party
	Jobs      map[int64]master.Job
	Items     map[int64]master.Item

	Papers      []posting.Paper // Papers[i] has ID i+1, and so for the rest
	Entries     []posting.Entry
	Open        []posting.Item
	Moves       []posting.Move
	Allocations []posting.Allocation
	Disputes    []posting.Dispute
}

// ForWalk returns the books that a walk goes through: those of New, where both
// parties are suppliers too, terms give 2 % within 10 days, small differences
// are closed up to 300.00 and an allowance is kept.
func ForWalk() *Book {
	b := New()
	for id, p := range b.Parties {
		p.IsSupplier = true
		b.Parties[id] = p
	}
	b.TermsList[1] = master.Terms{ID: 1, Kind: master.InDays, Days: 30, DiscountPercent: decimal.New(2, 0), DiscountDays: 10}
	b.Firm = WalkLimits
	return b
}

// WalkLimits are the limits of the books that a walk goes through.
var WalkLimits = master.Limits{Difference: 30000, WriteOff: 5000, Relief: true,
	Allowance: []decimal.Decimal{decimal.New(1, 0), decimal.New(5, 0), decimal.New(20, 0), decimal.New(50, 0), decimal.New(100, 0)}}

// New returns the books of a firm in EUR that begin on 20 Nov 2026: the
// starting chart, tax codes T20 (1), T10 (2) and T0 (3), customers 1 and 2,
// jobs 1 and 2 of theirs, terms of 30 days, and bank account 1.
func New() *Book {
	b := &Book{
		Now: "2026-11-20", Cur: money.Currency{Code: "EUR", Places: 2},
		Accounts: map[int64]ledger.Account{}, Roles: map[ledger.Role]int64{}, Banks: map[int64]ledger.BankAccount{},
		Codes: map[int64]tax.Code{
			1: {ID: 1, Code: "T20", Kind: tax.Charged}, 2: {ID: 2, Code: "T10", Kind: tax.Charged}, 3: {ID: 3, Code: "T0", Kind: tax.Charged}},
		Rates:     map[int64]string{1: "20", 2: "10", 3: "0"},
		TermsList: map[int64]master.Terms{1: {ID: 1, Kind: master.InDays, Days: 30}},
		Parties:   map[int64]master.Party{1: {ID: 1, Name: "Odalys Brandt", IsCustomer: true}, 2: {ID: 2, Name: "Dunmarrow Builders", IsCustomer: true}},
		Jobs:      map[int64]master.Job{1: {ID: 1, Number: "212", PartyID: 1, ContractSum: 800000}, 2: {ID: 2, Number: "198", PartyID: 2}},
		Items:     map[int64]master.Item{},
	}
	for i, a := range ledger.Chart {
		id := int64(i + 1)
		b.Accounts[id] = ledger.Account{ID: id, Number: a.Number, Name: a.Name, Type: a.Type}
		if a.Role != "" {
			b.Roles[a.Role] = id
		}
		if a.Bank {
			b.Banks[int64(len(b.Banks)+1)] = ledger.BankAccount{ID: int64(len(b.Banks) + 1), Name: a.Name, AccountID: id}
		}
	}
	return b
}

// Post plans the command, checks the effect and takes it into the books.
func (b *Book) Post(c posting.Command) (posting.Effect, error) {
	e, err := c.Plan(b)
	if err != nil {
		return e, err
	}
	if err := e.Check(b); err != nil {
		return e, fmt.Errorf("invariant: %w", err)
	}
	papers := int64(len(b.Papers))
	realPaper := func(id int64) int64 {
		if id < 0 {
			return papers - id
		}
		return id
	}
	for _, planned := range e.Papers {
		p := *planned
		p.ID = realPaper(p.ID)
		b.Papers = append(b.Papers, p)
	}
	first := posting.ItemRef(len(b.Open))
	real := func(r posting.ItemRef) posting.ItemRef {
		if r < 0 {
			return first - r
		}
		return r
	}
	for _, i := range e.Items {
		i.ID, i.PaperID, i.Open, i.OpenTax = real(i.ID), realPaper(i.PaperID), 0, 0
		i.EarlyUntil = b.Papers[i.PaperID-1].EarlyUntil
		b.Open = append(b.Open, i)
	}
	allocations := int64(len(b.Allocations))
	for _, a := range e.Allocations {
		a.ID, a.Debit, a.Credit = int64(len(b.Allocations)+1), real(a.Debit), real(a.Credit)
		b.Allocations = append(b.Allocations, a)
	}
	for _, m := range e.Moves {
		m.Item = real(m.Item)
		if m.Allocation != 0 {
			m.Allocation += int(allocations)
		}
		b.Moves = append(b.Moves, m)
		b.Open[m.Item-1].Open += m.Amount
		b.Open[m.Item-1].OpenTax += m.Tax
	}
	for _, entry := range e.Entries {
		entry.PaperID = realPaper(entry.PaperID)
		entry.Lines = slices.Clone(entry.Lines)
		for n := range entry.Lines {
			entry.Lines[n].ItemID = int64(real(posting.ItemRef(entry.Lines[n].ItemID)))
		}
		b.Entries = append(b.Entries, entry)
	}
	for _, d := range e.Disputes {
		d.Item = real(d.Item)
		b.Disputes = append(b.Disputes, d)
	}
	return e, nil
}

// The rest answers posting.Facts.

func (b *Book) Currency() money.Currency                { return b.Cur }
func (b *Book) Today() day.Day                          { return b.Now }
func (b *Book) LockedThrough() day.Day                  { return b.Lock }
func (b *Book) Role(r ledger.Role) ledger.Account       { return b.Accounts[b.Roles[r]] }
func (b *Book) FirmTermsID() int64                      { return 1 }
func (b *Book) Account(id int64) (ledger.Account, bool) { a, ok := b.Accounts[id]; return a, ok }
func (b *Book) Terms(id int64) (master.Terms, bool)     { t, ok := b.TermsList[id]; return t, ok }
func (b *Book) Party(id int64) (master.Party, bool)     { p, ok := b.Parties[id]; return p, ok }
func (b *Book) Job(id int64) (master.Job, bool)         { j, ok := b.Jobs[id]; return j, ok }
func (b *Book) CatalogueItem(id int64) (master.Item, bool) {
	i, ok := b.Items[id]
	return i, ok
}
func (b *Book) BankAccount(id int64) (ledger.BankAccount, bool) {
	a, ok := b.Banks[id]
	return a, ok
}

func (b *Book) IsBank(accountID int64) bool {
	for _, bank := range b.Banks {
		if bank.AccountID == accountID {
			return true
		}
	}
	return false
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

func (b *Book) NextNumber(k posting.Kind, _ day.Day, ahead int) string {
	for n := 1; ; n++ {
		if number := fmt.Sprintf("%s-%d", k, n); !b.NumberTaken(k, number) {
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

func (b *Book) NextCheque(bank int64) string {
	for n := 1001; ; n++ {
		if number := fmt.Sprint(n); !b.ChequeTaken(bank, number) {
			return number
		}
	}
}

func (b *Book) StandingOn(id int64) []posting.Paper {
	var found []posting.Paper
	for _, p := range b.Papers {
		if _, reversed := b.ReversedBy(p.ID); p.SourceID == id && !reversed {
			found = append(found, p)
		}
	}
	return found
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

func (b *Book) OpenOn(d day.Day) []posting.Item {
	var found []posting.Item
	for _, i := range b.Open {
		i.Open = 0
		for _, m := range b.ItemMoves(i.ID) {
			if m.Day <= d {
				i.Open += m.Amount
			}
		}
		if i.Open != 0 && (i.Register == ledger.Receivables || i.Register == ledger.Retention) {
			found = append(found, i)
		}
	}
	return found
}

func (b *Book) DisputeOf(id posting.ItemRef) (posting.Dispute, bool) {
	var last posting.Dispute
	for _, d := range b.Disputes {
		if d.Item == id {
			last = d
		}
	}
	return last, last.Reason != ""
}

func (b *Book) AccountBalanceOn(id int64, d day.Day) money.Amount {
	var sum money.Amount
	for _, e := range b.Entries {
		for _, l := range e.Lines {
			if l.AccountID == id && e.Day <= d {
				sum += l.Amount
			}
		}
	}
	return sum
}

func (b *Book) SamePayment(party int64, reference string, amount money.Amount, since day.Day) (string, bool) {
	for _, p := range b.Papers {
		if p.PartyID == party && p.Reference == reference && p.Total == amount && p.Day >= since && slices.Contains([]posting.Kind{posting.Deposit, posting.Receipt, posting.Recovery, posting.SupplierBill}, p.Kind) {
			return p.Number, true
		}
	}
	return "", false
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
			sum += i.Open
		}
	}
	return sum
}

func (b *Book) JobBilled(job int64) money.Amount {
	var sum money.Amount
	for _, p := range b.Papers {
		if p.JobID == job {
			sum += p.Net
		}
	}
	return sum
}
