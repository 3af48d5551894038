package posting

import (
	"fmt"
	"slices"

	"cleantally/core/rights"
)

// Kind is a kind of paper.
type Kind string

// The kinds of paper that the rules know so far.
const (
	Quote          Kind = "quote"
	Order          Kind = "order"
	Delivery       Kind = "delivery"
	Return         Kind = "return"
	Cancellation   Kind = "cancellation"
	Request        Kind = "request for a deposit"
	DepositInvoice Kind = "deposit invoice"
	Invoice        Kind = "invoice"
	Release        Kind = "release"
	Guarantee      Kind = "guarantee"
	CreditNote     Kind = "credit note"
	Deposit        Kind = "deposit"
	Receipt        Kind = "receipt"
	Unidentified   Kind = "unidentified receipt"
	Refund         Kind = "refund"
	Forfeit        Kind = "forfeit"
	Transfer       Kind = "transfer"
	WriteOff       Kind = "write-off"
	Recovery       Kind = "recovery"
	Contra         Kind = "contra"
	Returned       Kind = "returned payment"
	Payout         Kind = "card payout"
	OwnTransfer    Kind = "own transfer"
	PurchaseOrder  Kind = "purchase order"
	GoodsIn        Kind = "goods received"
	SupplierBill   Kind = "supplier bill"
	Expense        Kind = "expense"
	SupplierCredit Kind = "supplier credit"
	Prepayment     Kind = "supplier prepayment"
	PaySupplier    Kind = "supplier payment"
	SupplierRefund Kind = "supplier refund"
	PayableRelease Kind = "supplier release"
	NotPassedOn    Kind = "cost not passed on"
	StockUse       Kind = "stock use"
	StockCount     Kind = "stock count"
	Journal        Kind = "journal"
	Opening        Kind = "opening"
	ClaimedBefore  Kind = "claimed before"
	Accrual        Kind = "accrual"
	Revaluation    Kind = "revaluation"
	TaxSettlement  Kind = "tax settlement"
	YearEnd        Kind = "year end"
	Reversal       Kind = "reversal"
)

// Words are what the states of a paper are called.
type Words struct{ Open, Part, Settled string }

// Description is all that the rest of the program needs to know of a kind of
// paper. What is told here is told nowhere else.
type Description struct {
	Kind      Kind
	Numbering string       // how it is numbered unless the firm says otherwise
	Right     rights.Right // to post one
	Seen      rights.Right // to see one; "" for what everybody sees who sees papers
	Words     Words        // of its open item; none where it has a state of its own
	Done      string
	Arrives   bool // money arrives by it
	Payment   bool // it names a payment or bill by a reference, which may come twice
	Bills     bool // its net is work billed to a customer
	Agrees    bool // its net is part of what the job's contract comes to
	TakesBack bool // it takes another paper back
	Stays     bool // what it took out of money stays taken when the bank takes that money back
	Bound     Bound
	ByCard    bool    // what it moves in card takings waits there until it is paid out
	PassesOn  bool    // its lines may be costs that wait to be passed on
	Taken     UseKind // its lines are taken one by one, and its words are of how much of them is
}

// Credit tells whether the words are those of money that waits, in place of
// what is owed.
func (d Description) Credit() bool {
	return d.Words.Open != "" && d.Words.Open != owed.Open && d.Taken == ""
}

var owed = Words{"open", "part settled", "settled"}

// kinds is the registry; see Register.
var kinds = []Description{
	{Kind: Quote, Numbering: "Q{yy}-{0000}", Right: rights.ToSell, Words: Words{"open", "part accepted", "accepted"}, Bound: Offered, Taken: Accepted},
	{Kind: Order, Numbering: "O{yy}-{0000}", Right: rights.ToSell, Words: Words{"ordered", "part billed", "billed"}, Agrees: true, Bound: Ordered, Taken: Billed},
	{Kind: Delivery, Numbering: "DN{yy}-{0000}", Right: rights.ToSell, Done: "delivered"},
	{Kind: Return, Numbering: "RN{yy}-{0000}", Right: rights.ToSell, Done: "came back"},
	{Kind: Cancellation, Numbering: "OC{yy}-{0000}", Right: rights.ToSell, Done: "cancelled"},
	{Kind: Request, Numbering: "RD{yy}-{0000}", Right: rights.ToSell, Words: Words{"asked", "part paid", "paid"}, Bound: Whole, Taken: Paid},
	{Kind: DepositInvoice, Numbering: "AI{yy}-{0000}", Right: rights.ToBill, Words: owed, Bound: Whole},
	{Kind: Invoice, Numbering: "I{yy}-{0000}", Right: rights.ToBill, Words: owed, Bills: true, Bound: Whole},
	{Kind: Release, Numbering: "RL{yy}-{0000}", Right: rights.ToClaim, Words: owed},
	{Kind: Guarantee, Numbering: "G{yy}-{0000}", Right: rights.ToClaim, Done: "held"},
	{Kind: CreditNote, Numbering: "CN{yy}-{0000}", Right: rights.ToBill, Words: Words{"not used", "part used", "used up"}, Bills: true},
	{Kind: Deposit, Numbering: "D{yy}-{0000}", Right: rights.ToTakeMoney, Seen: rights.SeeOpen, Words: Words{"held", "part held", "used up"}, Arrives: true, Payment: true, Bound: Whole, ByCard: true},
	{Kind: Receipt, Numbering: "R{yy}-{0000}", Right: rights.ToTakeMoney, Seen: rights.SeeOpen, Words: Words{"on account", "part used", "used up"}, Arrives: true, Payment: true, Bound: Whole, ByCard: true},
	{Kind: Unidentified, Numbering: "U{yy}-{0000}", Right: rights.ToTakeMoney, Seen: rights.SeeOpen, Words: Words{"not identified", "part identified", "identified"}, Arrives: true, Bound: Whole, ByCard: true},
	{Kind: Refund, Numbering: "F{yy}-{0000}", Right: rights.ToKeepBooks, Done: "given back", Stays: true, Bound: Whole, ByCard: true},
	{Kind: Forfeit, Numbering: "K{yy}-{0000}", Right: rights.ToKeepBooks, Done: "kept", Stays: true},
	{Kind: Transfer, Numbering: "T{yy}-{0000}", Right: rights.ToKeepBooks, Words: Words{"not used", "part used", "used up"}, Stays: true},
	{Kind: WriteOff, Numbering: "W{yy}-{0000}", Right: rights.ToKeepBooks, Done: "given up", Bound: Whole},
	{Kind: Recovery, Numbering: "RC{yy}-{0000}", Right: rights.ToKeepBooks, Done: "recovered", Arrives: true, Payment: true, Bound: Whole, ByCard: true},
	{Kind: Contra, Numbering: "C{yy}-{0000}", Right: rights.ToKeepBooks, Done: "set off"},
	{Kind: Returned, Numbering: "RP{yy}-{0000}", Right: rights.ToKeepBooks, Done: "took it back", TakesBack: true, Bound: Whole, ByCard: true},
	{Kind: Payout, Numbering: "CP{yy}-{0000}", Right: rights.ToKeepBooks, Seen: rights.SeeBooks, Done: "paid out", Stays: true},
	{Kind: OwnTransfer, Numbering: "OT{yy}-{0000}", Right: rights.ToKeepBooks, Seen: rights.SeeBooks, Done: "moved"},
	{Kind: PurchaseOrder, Numbering: "PO{yy}-{0000}", Right: rights.ToBuy, Seen: rights.SeeBooks, Words: Words{"ordered", "part billed", "billed"}, Bound: Ordered, Taken: Billed},
	{Kind: GoodsIn, Numbering: "GR{yy}-{0000}", Right: rights.ToBuy, Seen: rights.SeeBooks, Done: "received", Bound: Whole},
	{Kind: SupplierBill, Numbering: "B{yy}-{0000}", Right: rights.ToBuy, Seen: rights.SeeBooks, Words: owed, Payment: true, Bound: Waiting, PassesOn: true},
	{Kind: Expense, Numbering: "E{yy}-{0000}", Right: rights.ToBuy, Seen: rights.SeeBooks, Done: "paid", Payment: true, Bound: Waiting, PassesOn: true},
	{Kind: SupplierCredit, Numbering: "SN{yy}-{0000}", Right: rights.ToBuy, Seen: rights.SeeBooks, Words: Words{"not used", "part used", "used up"}, Payment: true},
	{Kind: Prepayment, Numbering: "SD{yy}-{0000}", Right: rights.ToBuy, Seen: rights.SeeBooks, Words: Words{"prepaid", "part used", "used up"}, Payment: true},
	{Kind: PaySupplier, Numbering: "P{yy}-{0000}", Right: rights.ToBuy, Seen: rights.SeeBooks, Words: Words{"on account", "part used", "used up"}, Payment: true},
	{Kind: SupplierRefund, Numbering: "SF{yy}-{0000}", Right: rights.ToBuy, Seen: rights.SeeBooks, Done: "came back", Arrives: true, Stays: true, Bound: Whole, ByCard: true},
	{Kind: PayableRelease, Numbering: "SR{yy}-{0000}", Right: rights.ToBuy, Seen: rights.SeeBooks, Words: owed},
	{Kind: NotPassedOn, Numbering: "NB{yy}-{0000}", Right: rights.ToBuy, Seen: rights.SeeBooks, Done: "not to be billed"},
	{Kind: StockUse, Numbering: "SU{yy}-{0000}", Right: rights.ToBuy, Seen: rights.SeeBooks, Done: "used"},
	{Kind: StockCount, Numbering: "SC{yy}-{0000}", Right: rights.ToBuy, Seen: rights.SeeBooks, Done: "counted"},
	{Kind: Journal, Numbering: "J{yy}-{0000}", Right: rights.ToKeepBooks, Seen: rights.SeeBooks, Done: "posted"},
	{Kind: Opening, Numbering: "OB{yy}-{0000}", Right: rights.ToOwn, Words: owed, Bound: Whole},
	{Kind: ClaimedBefore, Numbering: "CB{yy}-{0000}", Right: rights.ToOwn, Done: "claimed before", Bills: true},
	{Kind: Accrual, Numbering: "AC{yy}-{0000}", Right: rights.ToKeepBooks, Seen: rights.SeeBooks, Done: "accrued"},
	{Kind: Revaluation, Numbering: "RV{yy}-{0000}", Right: rights.ToKeepBooks, Seen: rights.SeeBooks, Done: "revalued"},
	{Kind: TaxSettlement, Numbering: "TS{yy}-{0000}", Right: rights.ToFileTax, Seen: rights.SeeBooks, Done: "settled"},
	{Kind: YearEnd, Numbering: "YE{yy}-{0000}", Right: rights.ToLock, Seen: rights.SeeBooks, Done: "closed"},
	{Kind: Reversal, Numbering: "X{yy}-{0000}", Right: rights.ToKeepBooks, Done: "reversal", TakesBack: true},
}

// Register adds a kind of paper. The program's own are there; tests add
// made-up ones, before books are opened.
func Register(d Description) {
	if _, known := Describe(d.Kind); known {
		panic(fmt.Sprintf("the kind %q is registered already", d.Kind))
	}
	kinds = append(kinds, d)
}

// Kinds returns the description of every kind of paper, in the order in which
// a person would tell them.
func Kinds() []Description { return slices.Clone(kinds) }

// Describe returns the description of a kind.
func Describe(k Kind) (Description, bool) {
	for _, d := range kinds {
		if d.Kind == k {
			return d, true
		}
	}
	return Description{}, false
}

// SeenBy is the right that one needs to see papers of the kind.
func (d Description) SeenBy() rights.Right {
	if d.Seen == "" {
		return rights.SeePapers
	}
	return d.Seen
}

// Drafted is the right that one needs to write one, without posting it: who may
// not post invoices may prepare them.
func (d Description) Drafted() rights.Right {
	if d.Right == rights.ToBill {
		return rights.ToSell
	}
	return d.Right
}

// TakesBack tells whether papers of the kind take others back.
func (k Kind) TakesBack() bool {
	d, _ := Describe(k)
	return d.TakesBack
}

// Stays tells whether what papers of the kind took out of money stays taken
// when the bank takes that money back.
func (k Kind) Stays() bool {
	d, _ := Describe(k)
	return d.Stays
}
