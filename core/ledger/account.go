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
	TaxWithheld         Role = "tax withheld"
	Revaluation         Role = "revaluation"
	Stock               Role = "stock"
	InputTax            Role = "input tax"
	SupplierPrepayments Role = "supplier prepayments"
	Payables            Role = "payables"
	RetentionPayable    Role = "retention payable"
	Deposits            Role = "deposits"
	Unidentified        Role = "unidentified"
	AdvanceBillings     Role = "advance billings"
	OutputTax           Role = "output tax"
	DeferredTax         Role = "deferred tax"
	TaxToPay            Role = "tax to pay"
	RetainedEarnings    Role = "retained earnings"
	Opening             Role = "opening"
	ServiceSales        Role = "service sales"
	MaterialSales       Role = "material sales"
	PassedOnIncome      Role = "passed-on income"
	Forfeits            Role = "forfeits"
	LateCharges         Role = "late charges"
	Recoveries          Role = "recoveries"
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
	Receivables, Retention, Recoverable, Stock, SupplierPrepayments, Payables,
	RetentionPayable, Deposits, Unidentified, AdvanceBillings, DeferredTax,
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
	{"1000", "Bank", Asset, "", true},
	{"1050", "Cash in hand", Asset, "", true},
	{"1060", "Card takings on the way", Asset, "", true},
	{"1100", "Trade receivables", Asset, Receivables, false},
	{"1110", "Retention receivable", Asset, Retention, false},
	{"1120", "Allowance for doubtful debts", ContraAsset, Allowance, false},
	{"1150", "Costs recoverable from customers", Asset, Recoverable, false},
	{"1170", "Tax withheld by customers", Asset, TaxWithheld, false},
	{"1190", "Currency revaluation", Asset, Revaluation, false},
	{"1200", "Stock", Asset, Stock, false},
	{"1300", "Input tax", Asset, InputTax, false},
	{"1310", "Prepaid to suppliers", Asset, SupplierPrepayments, false},
	{"2000", "Trade payables", Liability, Payables, false},
	{"2010", "Retention payable", Liability, RetentionPayable, false},
	{"2100", "Customer deposits", Liability, Deposits, false},
	{"2110", "Receipts not yet identified", Liability, Unidentified, false},
	{"2120", "Billed in advance", Liability, AdvanceBillings, false},
	{"2200", "Output tax", Liability, OutputTax, false},
	{"2210", "Output tax on retentions", Liability, DeferredTax, false},
	{"2250", "Tax to pay", Liability, TaxToPay, false},
	{"3000", "Capital", Equity, "", false},
	{"3100", "Retained earnings", Equity, RetainedEarnings, false},
	{"3900", "Opening balances", Equity, Opening, false},
	{"4000", "Sales: workmanship", Income, ServiceSales, false},
	{"4010", "Sales: materials", Income, MaterialSales, false},
	{"4020", "Costs passed on", Income, PassedOnIncome, false},
	{"4100", "Deposits forfeited", Income, Forfeits, false},
	{"4110", "Interest and late charges", Income, LateCharges, false},
	{"4120", "Bad debts recovered", Income, Recoveries, false},
	{"4190", "Discount allowed", ContraIncome, DiscountAllowed, false},
	{"5000", "Cost of materials sold", Expense, CostOfSales, false},
	{"5010", "Job costs", Expense, JobCosts, false},
	{"6000", "Overheads", Expense, "", false},
	{"6100", "Bank charges", Expense, BankCharges, false},
	{"6200", "Bad debts", Expense, BadDebts, false},
	{"6210", "Change in allowance", Expense, AllowanceChange, false},
	{"6300", "Rounding differences", Expense, Rounding, false},
	{"6900", "Exchange differences", Expense, Exchange, false},
}

// BankAccount is a place where money is: an account at a bank, a till, card
// takings on the way. Each has a ledger account of its own.
type BankAccount struct {
	ID        int64
	Name      string
	AccountID int64
	IBAN      string
	Inactive  bool
}
