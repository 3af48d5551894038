package posting

import (
	"cleantally/core/day"
	"cleantally/core/ledger"
	"cleantally/core/master"
	"cleantally/core/money"
	"cleantally/core/tax"
)

// Facts is what a plan of any kind may ask. The store answers it inside the
// transaction that the plan is committed in, tests answer it from memory. A
// lookup by 0 or by an unknown ID answers false. What one package alone asks
// it declares itself (settling.Facts).
type Facts interface {
	FirmFacts
	PaperFacts
	RegisterFacts
	ThingFacts
}

// FirmFacts is the firm, its accounts and its records.
type FirmFacts interface {
	Currency() money.Currency
	CurrencyUsed(code string) bool              // papers may be in it
	RateOn(code string, d day.Day) (Rate, bool) // the newest that is not after the day
	Today() day.Day
	LockedThrough() day.Day // nothing posts on or before it; "" for no lock
	TaxSettled() day.Day    // no tax is dated on or before it; "" for none settled
	YearsClosed() []day.Day // the last days of the years whose year end stands, the earliest first
	Role(ledger.Role) ledger.Account
	Account(id int64) (ledger.Account, bool)
	BankAccount(id int64) (ledger.BankAccount, bool)
	BankOf(accountID int64) (ledger.BankAccount, bool) // whose money stands on the account
	// AccountDays is what stood on an account at the end of a day, and of each later
	// day on which something moved there.
	AccountDays(accountID int64, from day.Day) []DayBalance
	TaxCode(id int64) (tax.Code, []tax.Rate, bool)
	Terms(id int64) (master.Terms, bool)
	FirmTermsID() int64
	TaxDue() TaxDue
	Limits() master.Limits
	Party(id int64) (master.Party, bool)
	Job(id int64) (master.Job, bool)
	Article(id int64) (master.Article, bool)
}

// PaperFacts is what was posted.
type PaperFacts interface {
	Paper(id int64) (Paper, bool)
	KnowPapers(ids []int64) // asked for soon: all of them in one go
	ReversedBy(paperID int64) (number string, reversed bool)
	PaperEntries(paperID int64) []ledger.Entry // its own, without its allocations'
	PaperItems(paperID int64) []Item
	NumberTaken(kind Kind, number string) bool
	NextNumber(kind Kind, d day.Day, ahead int) string // the next free number, or so many after it
	// SamePayment finds a payment or bill of a party that bears the same
	// reference and amount and is dated since a day.
	SamePayment(partyID int64, reference string, amount money.Amount, since day.Day) (number string, found bool)
}

// RegisterFacts is what stands in the registers of the control accounts.
type RegisterFacts interface {
	Item(id ItemRef) (Item, bool)
	KnowItems(ids []ItemRef) // asked for soon: all of them in one go
	ItemMoves(id ItemRef) []Move
	ItemLines(id ItemRef) []ledger.Line // the journal lines that came about with it, beside its control account's
	Allocation(id int64) (Allocation, bool)
	AllocationsOf(id ItemRef) []Allocation // those that stand: neither undone nor undoing
	UndoneOn(allocationID int64) day.Day   // "" when it stands
	AccountBalance(accountID int64) money.Amount
	PartyBalance(register ledger.Role, partyID int64) money.Amount
	JobBilled(jobID int64) money.Amount // work billed, net
	// Agreed is what a job's orders and variations add to the sum that was
	// written down for it, net, less what was cancelled of it; what was billed
	// beyond an order's line, as delivered or measured, is agreed as well.
	Agreed(jobID int64) money.Amount
}

// ThingFacts is what of posted lines and of stock has been used up.
type ThingFacts interface {
	Uses(paperID int64) []Use               // of what the paper bills or its lines hold, all lines at once
	UsesBy(paperID int64) []Use             // that the paper wrote
	Reserved(paperID int64) []Use           // that drafts other than the one in hand would make of the paper's lines
	StockMoves(articleID int64) []StockMove // all that ever were: there may be very many
	// StockFrom is what of an article was there at the end of a day, as one move of
	// that day, where anything had moved by then, and what moved later, day by day.
	StockFrom(articleID int64, from day.Day) []StockMove
	StockOf(paperID int64) []StockMove // by lines of the paper
	StockBy(paperID int64) []StockMove // that the paper wrote
	ChargedDays(item ItemRef) []ChargedDays
	ChargedBy(paperID int64) []ChargedDays
	Movement(lineID int64) (Movement, bool) // a journal line on a bank account
	PaperMovements(paperID int64) []Movement
	BankLine(id int64) (BankLine, bool)
	TiesOf(bankLineID, movementID int64) []Tie // that stand, of either
}

// DayBalance is what stands on an account at the end of a day on which
// something moved, debits less credits.
type DayBalance struct {
	Day     day.Day
	Balance money.Amount
	Own     money.Amount // in its own currency, of an account that has one
}
