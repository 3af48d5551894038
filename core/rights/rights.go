// Package rights says what each of the people of a firm may do (docs/rules.md,
// part 13). It is one table; whoever asks, asks it.
package rights

import "strings"

// Role is what a person is in the firm.
type Role string

// The roles.
const (
	Owner      Role = "owner"
	Bookkeeper Role = "bookkeeper"
	Biller     Role = "biller"
	Cashier    Role = "cashier"
	Reader     Role = "reader"
)

// Roles returns every role, the one that may most first.
func Roles() []Role { return []Role{Owner, Bookkeeper, Biller, Cashier, Reader} }

// Right is one thing that a person may or may not do. It is worded so that it
// stands after "to".
type Right string

// The rights, in the order of the table.
const (
	SeeOpen     Right = "see names and open papers"
	SeePapers   Right = "see customers, jobs and papers"
	SeeBooks    Right = "see the ledger, the bank and reports" // and costs
	ToNote      Right = "note, attach and mail"
	ToSell      Right = "write quotes, orders, deliveries and drafts of invoices"
	ToBill      Right = "post invoices and credit notes"
	ToTakeMoney Right = "take money"
	ToKeepBooks Right = "give money back, write off, reverse and keep the bank"
	ToChoose    Right = "choose another account or number than the one offered"
	ToClaim     Right = "bill by progress and release what was kept back"
	ToBuy       Right = "buy"
	ToExport    Right = "take lists along as files"
	ToFileTax   Right = "settle the tax"
	ToLock      Right = "lock a period"
	ToOwn       Right = "unlock, set up and say who may do what"
)

// Rights returns every right, in the order of the table.
func Rights() []Right {
	return []Right{SeeOpen, SeePapers, SeeBooks, ToNote, ToSell, ToBill, ToTakeMoney, ToKeepBooks, ToChoose, ToClaim, ToBuy, ToExport, ToFileTax, ToLock, ToOwn}
}

// Choices are what a firm settles itself.
type Choices struct {
	BillerPosts   bool // a biller posts invoices and credit notes
	BillerChooses bool // a biller chooses another account or number
}

// has tells whom each right is given to, whatever the firm chose.
var has = map[Right][]Role{
	SeeOpen:     {Owner, Bookkeeper, Biller, Cashier, Reader},
	SeePapers:   {Owner, Bookkeeper, Biller, Reader},
	SeeBooks:    {Owner, Bookkeeper, Reader},
	ToNote:      {Owner, Bookkeeper, Biller, Cashier},
	ToSell:      {Owner, Bookkeeper, Biller},
	ToBill:      {Owner, Bookkeeper},
	ToTakeMoney: {Owner, Bookkeeper, Cashier},
	ToKeepBooks: {Owner, Bookkeeper},
	ToChoose:    {Owner, Bookkeeper},
	ToClaim:     {Owner, Bookkeeper},
	ToBuy:       {Owner, Bookkeeper},
	ToExport:    {Owner, Bookkeeper},
	ToFileTax:   {Owner, Bookkeeper},
	ToLock:      {Owner, Bookkeeper},
	ToOwn:       {Owner},
}

// May tells whether a role has a right in a firm that chose so.
func (r Role) May(right Right, c Choices) bool {
	for _, role := range Who(right, c) {
		if role == r {
			return true
		}
	}
	return false
}

// Known tells whether there is such a role.
func (r Role) Known() bool { return r.May(SeeOpen, Choices{}) }

// Who returns the roles that have a right in a firm that chose so.
func Who(right Right, c Choices) []Role {
	roles := has[right]
	if right == ToBill && c.BillerPosts || right == ToChoose && c.BillerChooses {
		roles = append(append([]Role{}, roles...), Biller)
	}
	return roles
}

// ErrNotYours says that a person may not do what they asked for, and who may.
type ErrNotYours struct {
	Right Right
	Who   []Role
}

// NotYours is the refusal of a right.
func NotYours(right Right, c Choices) ErrNotYours { return ErrNotYours{right, Who(right, c)} }

func (e ErrNotYours) Error() string {
	who := make([]string, len(e.Who))
	for n, r := range e.Who {
		who[n] = "a " + string(r)
		if r == Owner {
			who[n] = "an owner"
		}
	}
	text := strings.Join(who, ", ")
	if n := strings.LastIndex(text, ", "); n >= 0 {
		text = text[:n] + " or " + text[n+2:]
	}
	return "To " + string(e.Right) + " is not among what you may do: ask " + text + "."
}
