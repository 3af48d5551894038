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
	Now, Lock  day.Day
	Firm       master.Limits
	Cur        money.Currency
	Currencies map[string]bool // that papers may be in, beside the firm's
	RateList   []posting.Rate  // in any order
	Accounts   map[int64]ledger.Account
	Roles      map[ledger.Role]int64
	Banks      map[int64]ledger.BankAccount
	Codes      map[int64]tax.Code
	Rates      map[int64]string
	TermsList  map[int64]master.Terms
	Parties    map[int64]master.Party
	Jobs       map[int64]master.Job
	Articles   map[int64]master.Article
	BankLines  []posting.BankLine

	Papers      []posting.Paper // Papers[i] has ID i+1, and so for the rest
	Entries     []posting.Entry
	Open        []posting.Item
	Moves       []posting.Move
	Allocations []posting.Allocation
	Marks       []posting.Dispute
	Used        []posting.Use
	Stock       []posting.StockMove
	Charges     []posting.ChargedDays
	Ties        []posting.Tie
	Reservation map[int64][]posting.Use // by draft
	Due         posting.TaxDue          // when output tax falls due
	Lost        map[int64]string        // why a paper was lost
	SentOn      map[int64]day.Day       // when a paper was sent
	Draft       int64                   // the draft in hand: its own reservation does not count
}

// ForWalk returns the books that a walk goes through: those of New, where both
// parties are suppliers too, terms give 2 % within 10 days or come in two
// halves, small differences are closed up to 300.00 and an allowance is kept.
// A third party, job 3, bank account 4, article 2, tax code 4 and the account
// Spare are not in use any more.
func ForWalk() *Book {
	b := New()
	b.Now = WalkBegins
	for id, p := range b.Parties {
		p.IsSupplier = true
		b.Parties[id] = p
	}
	b.Parties[3] = master.Party{ID: 3, Name: "Gone & Sons", IsCustomer: true, Inactive: true}
	for _, j := range WalkJobs {
		b.Jobs[j.ID] = j
	}
	b.Jobs[3] = master.Job{ID: 3, Number: "103", PartyID: 1, Closed: true}
	b.TermsList[1] = master.Terms{ID: 1, Kind: master.InDays, Days: 30, DiscountPercent: decimal.New(2, 0), DiscountDays: 10}
	half := decimal.New(50, 0)
	b.TermsList[6] = master.Terms{ID: 6, Kind: master.InInstalments, Instalments: []master.Instalment{{Percent: half, Days: 14}, {Percent: half, Days: 44}}}
	b.Articles[3] = master.Article{ID: 3, Code: "POST", Name: "Newel post", Kind: master.Material, Stocked: true}
	b.Articles[2] = master.Article{ID: 2, Code: "OLD", Kind: master.Service, Inactive: true}
	b.Codes[4], b.Rates[4] = tax.Code{ID: 4, Code: "OLD", Kind: tax.Charged, Inactive: true}, "5"
	spare := int64(len(b.Accounts) + 1)
	b.Accounts[spare] = ledger.Account{ID: spare, Number: "602", Name: "Spare", Type: ledger.Expense, Inactive: true}
	b.Accounts[spare+1] = ledger.Account{ID: spare + 1, Number: "102", Name: "Old bank", Type: ledger.Asset}
	b.Banks[4] = ledger.BankAccount{ID: 4, Name: "Old bank", AccountID: spare + 1, Inactive: true}
	b.Firm = WalkLimits
	for n, a := range WalkBankLines {
		b.BankLines = append(b.BankLines, posting.BankLine{ID: int64(n + 1), BankAccountID: 1, Day: WalkBankDay(n), Amount: a})
	}
	return b
}

// WalkBegins is the day on which a walk begins; it goes on for some two years.
const WalkBegins = day.Day("2025-01-06")

// WalkBankLines are the amounts of the lines that the bank tells in a walk.
var WalkBankLines = []money.Amount{5000, 7500, 12500, 20000, 2500, -5000, 10000, 15000, 30000, 1000}

// WalkBankDay is the day of the n-th of them, from 0.
func WalkBankDay(n int) day.Day { return WalkBegins.Add(400 + 40*n) }

// WalkLimits are the limits of the books that a walk goes through.
var WalkLimits = master.Limits{Difference: 30000, WriteOff: 5000, Relief: true,
	Allowance: []decimal.Decimal{decimal.New(1, 0), decimal.New(5, 0), decimal.New(20, 0), decimal.New(50, 0), decimal.New(100, 0)}}

// New returns the books of a firm in EUR that begin on 20 Nov 2026: the
// starting chart, tax codes STD (1), RED (2) and NIL (3), customers 1 and 2,
// jobs 1 and 2 of theirs, terms of 30 days, and bank account 1.
func New() *Book {
	b := &Book{
		Now: "2026-11-20", Cur: money.Currency{Code: "EUR", Places: 2},
		Accounts: map[int64]ledger.Account{}, Roles: map[ledger.Role]int64{}, Banks: map[int64]ledger.BankAccount{},
		Codes: map[int64]tax.Code{
			1: {ID: 1, Code: "STD", Kind: tax.Charged}, 2: {ID: 2, Code: "RED", Kind: tax.Charged}, 3: {ID: 3, Code: "NIL", Kind: tax.Charged}},
		Rates:     map[int64]string{1: "20", 2: "10", 3: "0"},
		TermsList: map[int64]master.Terms{1: {ID: 1, Kind: master.InDays, Days: 30}},
		Parties:   map[int64]master.Party{1: {ID: 1, Name: "Odalys Brandt", TaxNumber: "XX1", IsCustomer: true}, 2: {ID: 2, Name: "Dunmarrow Builders", TaxNumber: "XX2", IsCustomer: true}},
		Jobs:      map[int64]master.Job{1: {ID: 1, Number: "212", PartyID: 1, ContractSum: 800000}, 2: {ID: 2, Number: "198", PartyID: 2}},
		Articles:  map[int64]master.Article{1: {ID: 1, Code: "BAL", Name: "Baluster", Kind: master.Material}},
	}
	for i, a := range ledger.Chart {
		id := int64(i + 1)
		b.Accounts[id] = ledger.Account{ID: id, Number: a.Number, Name: a.Name, Type: a.Type}
		if a.Role != "" {
			b.Roles[a.Role] = id
		}
		if a.Money != ledger.Nowhere {
			b.Banks[int64(len(b.Banks)+1)] = ledger.BankAccount{ID: int64(len(b.Banks) + 1), Name: a.Name, AccountID: id, Cash: a.Money == ledger.Till, Takings: a.Money == ledger.OnTheWay}
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
		p.ID, p.SourceID = realPaper(p.ID), realPaper(p.SourceID)
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
		i.ID, i.PaperID, i.Bills, i.Left = real(i.ID), realPaper(i.PaperID), realPaper(i.Bills), posting.Part{}
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
			m.Allocation += allocations
		}
		b.Moves = append(b.Moves, m)
		b.Open[m.Item-1].Left = b.Open[m.Item-1].Left.Add(m.Part)
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
		b.Marks = append(b.Marks, d)
	}
	b.takeUses(e, realPaper)
	return e, nil
}

func (b *Book) journalLines() (n int64) {
	for _, e := range b.Entries {
		n += int64(len(e.Lines))
	}
	return n
}

func linesOf(entries []posting.Entry) (n int) {
	for _, e := range entries {
		n += len(e.Lines)
	}
	return n
}

// takeUses takes what an effect used up into the books.
func (b *Book) takeUses(e posting.Effect, realPaper func(int64) int64) {
	for _, u := range e.Uses {
		u.ID, u.PaperID = int64(len(b.Used)+1), realPaper(u.PaperID)
		u.Of.PaperID, u.By.PaperID = realPaper(u.Of.PaperID), realPaper(u.By.PaperID)
		b.Used = append(b.Used, u)
	}
	for _, m := range e.Stock {
		m.ID, m.PaperID, m.By.PaperID = int64(len(b.Stock)+1), realPaper(m.PaperID), realPaper(m.By.PaperID)
		b.Stock = append(b.Stock, m)
	}
	for _, c := range e.Charges {
		if c.Freed {
			b.Charges[c.ID-1].Freed = true
			continue
		}
		c.ID, c.PaperID = int64(len(b.Charges)+1), realPaper(c.PaperID)
		b.Charges = append(b.Charges, c)
	}
	for _, t := range e.Ties {
		if t.Freed {
			b.Ties[t.ID-1].Freed = true
			continue
		}
		t.ID = int64(len(b.Ties) + 1)
		if t.MovementID < 0 { // a journal line of its own: they stand at the end
			t.MovementID = b.journalLines() - int64(linesOf(e.Entries)) - t.MovementID
		}
		b.Ties = append(b.Ties, t)
	}
	delete(b.Reservation, b.Draft)
}

// Reserve keeps what a draft would use, as saving the draft does.
func (b *Book) Reserve(draft int64, c posting.Command) error {
	b.Draft = draft
	e, err := c.Plan(b)
	if b.Reservation == nil {
		b.Reservation = map[int64][]posting.Use{}
	}
	b.Reservation[draft], b.Draft = posting.Reserved(e.Uses), 0
	return err
}

// Left is what is left of an item, for tests that know its number.
func (b *Book) Left(ref posting.ItemRef) money.Amount { return b.Open[ref-1].Left.Amount.Own }
