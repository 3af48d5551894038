package posting

import (
	"cleantally/core/day"
	"cleantally/core/ledger"
	"cleantally/core/master"
	"cleantally/core/money"
	"cleantally/core/tax"
)

// Facts is what a plan may ask. The store answers it inside the transaction
// that the plan is committed in, tests answer it from memory. A lookup by 0 or
// by an unknown ID answers false.
type Facts interface {
	Currency() money.Currency
	Today() day.Day
	LockedThrough() day.Day // nothing posts on or before it; "" for no lock

	Role(ledger.Role) ledger.Account
	Account(id int64) (ledger.Account, bool)
	BankAccount(id int64) (ledger.BankAccount, bool)
	IsBank(accountID int64) bool
	TaxCode(id int64) (tax.Code, []tax.Rate, bool)
	Terms(id int64) (master.Terms, bool)
	FirmTermsID() int64
	Limits() master.Limits
	Party(id int64) (master.Party, bool)
	Job(id int64) (master.Job, bool)
	CatalogueItem(id int64) (master.Item, bool)

	Paper(id int64) (Paper, bool)
	ReversedBy(paperID int64) (number string, reversed bool)
	PaperEntries(paperID int64) []ledger.Entry // its own, without its allocations'
	PaperItems(paperID int64) []Item
	StandingOn(paperID int64) []Paper // papers whose source it is, those not reversed
	Item(id ItemRef) (Item, bool)
	ItemMoves(id ItemRef) []Move
	ItemLines(id ItemRef) []ledger.Line // the journal lines that came about with it
	OpenOn(d day.Day) []Item            // what of receivables and retention was open at the end of a day
	DisputeOf(id ItemRef) (Dispute, bool)
	Allocation(id int64) (Allocation, bool)
	AllocationsOf(id ItemRef) []Allocation // those that stand: neither undone nor undoing
	UndoneOn(allocationID int64) day.Day   // "" when it stands

	NumberTaken(kind Kind, number string) bool
	NextNumber(kind Kind, d day.Day, ahead int) string // the next free number, or so many after it
	SamePayment(partyID int64, reference string, amount money.Amount, since day.Day) (number string, found bool)

	ChequeTaken(bankAccountID int64, number string) bool
	NextCheque(bankAccountID int64) string

	AccountBalance(accountID int64) money.Amount
	AccountBalanceOn(accountID int64, d day.Day) money.Amount
	PartyBalance(register ledger.Role, partyID int64) money.Amount
	JobBilled(jobID int64) money.Amount // work billed, net
}
