// Package ledger holds accounts, the roles that the rules name them by, and
// journal entries (docs/rules.md, part 3).
package ledger

// Type is the kind of an account; it says on which side its balance stands.
type Type string

// The account types.
const (
	Asset        Type = "asset"
	ContraAsset  Type = "contra asset"
	Liability    Type = "liability"
	Equity       Type = "equity"
	Income       Type = "income"
	ContraIncome Type = "contra income"
	Expense      Type = "expense"
)

// Types lists every account type in the order of a trial balance.
var Types = []Type{Asset, ContraAsset, Liability, Equity, Income, ContraIncome, Expense}

// DebitNormal tells whether balances of the type usually stand in debit.
func (t Type) DebitNormal() bool {
	return t == Asset || t == ContraIncome || t == Expense
}

// Result tells whether what stands on such an account is income or expense: it
// goes to retained earnings at the end of a year.
func (t Type) Result() bool { return t == Income || t == ContraIncome || t == Expense }

// Account is a ledger account. Its number and name are the firm's own.
type Account struct {
	ID       int64
	Version  int64 // counts its changes, as of every record
	Number   string
	Name     string
	Type     Type
	Inactive bool
}

// Role is what a rule calls an account by. A role always points at an account
// of its type.
type Role string

// The roles of docs/rules.md, part 3.
const (
	Receivables         Role = "receivables"
	Retention           Role = "retention"
	Allowance           Role = "allowance"
	Recoverable         Role = "recoverable"
	AccruedIncome       Role = "accrued income"
	TaxWithheld         Role = "tax withheld"
	Revaluation         Role = "revaluation"
	Stock               Role = "stock"
	InputTax            Role = "input tax"
	SupplierPrepayments Role = "supplier prepayments"
	Payables            Role = "payables"
	RetentionPayable    Role = "retention payable"
	GoodsReceived       Role = "goods received"
	Deposits            Role = "deposits"
	Unidentified        Role = "unidentified"
	AdvanceBillings     Role = "advance billings"
	DeferredIncome      Role = "deferred income"
	OutputTax           Role = "output tax"
	DeferredTax         Role = "deferred tax"
	TaxWhenPaid         Role = "tax when paid"
	TaxToPay            Role = "tax to pay"
	WithheldToPay       Role = "withheld to pay"
	RetainedEarnings    Role = "retained earnings"
	Opening             Role = "opening"
	ServiceSales        Role = "service sales"
	MaterialSales       Role = "material sales"
	PassedOnIncome      Role = "passed-on income"
	Forfeits            Role = "forfeits"
	LateCharges         Role = "late charges"
	Recoveries          Role = "recoveries"
	DiscountReceived    Role = "discount received"
	DiscountAllowed     Role = "discount allowed"
	CostOfSales         Role = "cost of sales"
	JobCosts            Role = "job costs"
	BankCharges         Role = "bank charges"
	BadDebts            Role = "bad debts"
	AllowanceChange     Role = "allowance change"
	Rounding            Role = "rounding"
	Exchange            Role = "exchange"
)

// Controls are the roles whose account must equal the sum of a register, in
// the order in which a tie-out tells them. The register bears the role's name.
var Controls = []Role{
	Receivables, Retention, Recoverable, Stock, SupplierPrepayments, Payables, RetentionPayable, GoodsReceived,
	Deposits, Unidentified, AdvanceBillings, DeferredTax, TaxWhenPaid,
}

// IsControl tells whether the role's account is a control account.
func (r Role) IsControl() bool {
	for _, c := range Controls {
		if c == r {
			return true
		}
	}
	return false
}

// Starting is an account that a new firm starts with; Role is "" where no
// rule names it and Money says where money is, if it is any.
type Starting struct {
	Number string
	Name   string
	Type   Type
	Role   Role
	Money  Place
}

// Place is where the money of an account is.
type Place int

// The places of money.
const (
	Nowhere Place = iota
	AtBank
	Till
	OnTheWay // at a card gateway, which pays it out
)

// Chart is the accounts of a new firm. Nothing else has to be set up before
// the first deposit.
var Chart = []Starting{
	{"101", "Bank", Asset, "", AtBank},
	{"105", "Cash in hand", Asset, "", Till},
	{"108", "Card takings on the way", Asset, "", OnTheWay},
	{"120", "Trade receivables", Asset, Receivables, Nowhere},
	{"124", "Retention receivable", Asset, Retention, Nowhere},
	{"128", "Allowance for doubtful debts", ContraAsset, Allowance, Nowhere},
	{"131", "Costs recoverable from customers", Asset, Recoverable, Nowhere},
	{"134", "Work not yet billed", Asset, AccruedIncome, Nowhere},
	{"135", "Tax withheld by customers", Asset, TaxWithheld, Nowhere},
	{"138", "Currency revaluation", Asset, Revaluation, Nowhere},
	{"141", "Stock", Asset, Stock, Nowhere},
	{"151", "Input tax", Asset, InputTax, Nowhere},
	{"161", "Prepaid to suppliers", Asset, SupplierPrepayments, Nowhere},
	{"201", "Trade payables", Liability, Payables, Nowhere},
	{"205", "Retention payable", Liability, RetentionPayable, Nowhere},
	{"208", "Goods received, not billed", Liability, GoodsReceived, Nowhere},
	{"221", "Customer deposits", Liability, Deposits, Nowhere},
	{"224", "Receipts not yet identified", Liability, Unidentified, Nowhere},
	{"227", "Billed in advance", Liability, AdvanceBillings, Nowhere},
	{"228", "Billed ahead of work", Liability, DeferredIncome, Nowhere},
	{"241", "Output tax", Liability, OutputTax, Nowhere},
	{"244", "Output tax on retentions", Liability, DeferredTax, Nowhere},
	{"246", "Output tax not due yet", Liability, TaxWhenPaid, Nowhere},
	{"248", "Tax to pay", Liability, TaxToPay, Nowhere},
	{"249", "Tax withheld from subcontractors", Liability, WithheldToPay, Nowhere},
	{"301", "Capital", Equity, "", Nowhere},
	{"351", "Retained earnings", Equity, RetainedEarnings, Nowhere},
	{"391", "Opening balances", Equity, Opening, Nowhere},
	{"401", "Sales: workmanship", Income, ServiceSales, Nowhere},
	{"405", "Sales: materials", Income, MaterialSales, Nowhere},
	{"411", "Costs passed on", Income, PassedOnIncome, Nowhere},
	{"421", "Deposits forfeited", Income, Forfeits, Nowhere},
	{"431", "Interest and late charges", Income, LateCharges, Nowhere},
	{"441", "Bad debts recovered", Income, Recoveries, Nowhere},
	{"445", "Discount received", Income, DiscountReceived, Nowhere},
	{"491", "Discount allowed", ContraIncome, DiscountAllowed, Nowhere},
	{"501", "Cost of materials sold", Expense, CostOfSales, Nowhere},
	{"511", "Job costs", Expense, JobCosts, Nowhere},
	{"601", "Overheads", Expense, "", Nowhere},
	{"621", "Bank charges", Expense, BankCharges, Nowhere},
	{"631", "Bad debts", Expense, BadDebts, Nowhere},
	{"635", "Change in allowance", Expense, AllowanceChange, Nowhere},
	{"641", "Rounding differences", Expense, Rounding, Nowhere},
	{"691", "Exchange differences", Expense, Exchange, Nowhere},
}

// BankAccount is a place where money is: an account at a bank, a till, card
// takings on the way. Each has a ledger account of its own.
type BankAccount struct {
	ID        int64
	Version   int64
	Name      string
	AccountID int64
	IBAN      string
	Currency  string // ISO 4217; "" for the firm's own
	Inactive  bool
	Cash      bool // a till: it never holds less than nothing
	Takings   bool // what was paid by card waits here until the gateway pays it out

	ChequeForm  bool // its cheques have a form of their own, on which they are printed
	ChequeRight int  // by so much further right, in millimetres
	ChequeDown  int
}
