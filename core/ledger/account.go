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
// rule names it and Bank marks a bank account.
type Starting struct {
	Number string
	Name   string
	Type   Type
	Role   Role
	Bank   bool
}

// Chart is the accounts of a new firm. Nothing else has to be set up before
// the first deposit.
var Chart = []Starting{
	{"101", "Bank", Asset, "", true},
	{"105", "Cash in hand", Asset, "", true},
	{"108", "Card takings on the way", Asset, "", true},
	{"120", "Trade receivables", Asset, Receivables, false},
	{"124", "Retention receivable", Asset, Retention, false},
	{"128", "Allowance for doubtful debts", ContraAsset, Allowance, false},
	{"131", "Costs recoverable from customers", Asset, Recoverable, false},
	{"134", "Work not yet billed", Asset, AccruedIncome, false},
	{"135", "Tax withheld by customers", Asset, TaxWithheld, false},
	{"138", "Currency revaluation", Asset, Revaluation, false},
	{"141", "Stock", Asset, Stock, false},
	{"151", "Input tax", Asset, InputTax, false},
	{"161", "Prepaid to suppliers", Asset, SupplierPrepayments, false},
	{"201", "Trade payables", Liability, Payables, false},
	{"205", "Retention payable", Liability, RetentionPayable, false},
	{"208", "Goods received, not billed", Liability, GoodsReceived, false},
	{"221", "Customer deposits", Liability, Deposits, false},
	{"224", "Receipts not yet identified", Liability, Unidentified, false},
	{"227", "Billed in advance", Liability, AdvanceBillings, false},
	{"228", "Billed ahead of work", Liability, DeferredIncome, false},
	{"241", "Output tax", Liability, OutputTax, false},
	{"244", "Output tax on retentions", Liability, DeferredTax, false},
	{"246", "Output tax not due yet", Liability, TaxWhenPaid, false},
	{"248", "Tax to pay", Liability, TaxToPay, false},
	{"249", "Tax withheld from subcontractors", Liability, WithheldToPay, false},
	{"301", "Capital", Equity, "", false},
	{"351", "Retained earnings", Equity, RetainedEarnings, false},
	{"391", "Opening balances", Equity, Opening, false},
	{"401", "Sales: workmanship", Income, ServiceSales, false},
	{"405", "Sales: materials", Income, MaterialSales, false},
	{"411", "Costs passed on", Income, PassedOnIncome, false},
	{"421", "Deposits forfeited", Income, Forfeits, false},
	{"431", "Interest and late charges", Income, LateCharges, false},
	{"441", "Bad debts recovered", Income, Recoveries, false},
	{"445", "Discount received", Income, DiscountReceived, false},
	{"491", "Discount allowed", ContraIncome, DiscountAllowed, false},
	{"501", "Cost of materials sold", Expense, CostOfSales, false},
	{"511", "Job costs", Expense, JobCosts, false},
	{"601", "Overheads", Expense, "", false},
	{"621", "Bank charges", Expense, BankCharges, false},
	{"631", "Bad debts", Expense, BadDebts, false},
	{"635", "Change in allowance", Expense, AllowanceChange, false},
	{"641", "Rounding differences", Expense, Rounding, false},
	{"691", "Exchange differences", Expense, Exchange, false},
}

// BankAccount is a place where money is: an account at a bank, a till, card
// takings on the way. Each has a ledger account of its own.
type BankAccount struct {
	ID        int64
	Version   int64
	Name      string
	AccountID int64
	IBAN      string
	Inactive  bool
}
