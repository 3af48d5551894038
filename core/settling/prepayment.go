package settling

import (
	"fmt"
	"strings"

	"cleantally/core/day"
	"cleantally/core/ledger"
	"cleantally/core/money"
	"cleantally/core/posting"

	"github.com/shopspring/decimal"
)

// Prepayment is money to a supplier before the bill: Dr supplier prepayments,
// Cr bank. Set against a bill it leaves there: Dr payables, Cr supplier
// prepayments (docs/rules.md, part 5, what we buy).
type Prepayment struct {
	Number        string // "" to be given the next
	PartyID       int64
	Day           day.Day
	Amount        money.Amount // in the bank account's currency
	BankAccountID int64
	Rate          decimal.Decimal // of an account in another currency; nil for that of the day
	Method        posting.Method
	Cheque        string
	OrderID       int64 // the purchase order that it is for; 0 for none
	Reference     string
	Note          string
}

// Plan returns the effect of the prepayment.
func (x Prepayment) Plan(f posting.Facts) (posting.Effect, error) {
	b := build(f)
	dayOK := b.PostingDay("day", x.Day)
	party, partyOK := b.Supplier("party", x.PartyID)
	_, bankOK := b.Bank("bank", x.BankAccountID)
	at, _ := b.BankAccount(x.BankAccountID)
	dayOK = dayOK && b.In(at.Currency, x.Rate, x.Day)
	b.Method("method", x.Method)
	amountOK := b.AmountAboveNil("amount", x.Amount, "what is paid")
	title := "Paid before the bill"
	if x.OrderID != 0 {
		order, ok := f.Paper(x.OrderID)
		if !ok || order.Kind != posting.PurchaseOrder || order.PartyID != x.PartyID {
			b.Refuse("order", "missing", "", "There is no such order of this supplier. Choose another, or none.")
		}
		title = "Paid before the bill, for " + order.Number
	}
	b.PaidTwice(x.PartyID, x.Reference, x.Amount, x.Day)
	p := b.Paper(posting.Paper{Kind: posting.Prepayment, Number: x.Number, Day: x.Day, PartyID: x.PartyID, PartyName: party.Name, PartyAddress: party.Printed(), Title: title, Reference: x.Reference, Note: x.Note,
		Total: x.Amount, SourceID: x.OrderID, Payment: posting.Payment{BankAccountID: x.BankAccountID, Method: x.Method, Cheque: b.cheque("cheque", x.Method, x.BankAccountID, x.Cheque), BankDay: x.Day}})
	if dayOK && partyOK && bankOK && amountOK {
		gone, _ := b.Leaves(at, x.Amount, x.Day, x.Rate, ledger.Line{PartyID: x.PartyID})
		if at.Currency != "" {
			p.Base = gone.Base
		}
		b.Open(posting.Item{Register: ledger.SupplierPrepayments, PartyID: x.PartyID, Day: x.Day, Currency: at.Currency, Part: posting.Part{Amount: gone}})
	}
	return b.Effect(fmt.Sprintf("Paid %s to %s before the bill by %s", b.Currency().Show(x.Amount), party.Name, p.Number))
}

// SupplierRefund is money that a supplier gives back: a prepayment, a payment
// on account or a credit that is open. Dr bank, Cr payables or supplier
// prepayments.
type SupplierRefund struct {
	Number        string // "" to be given the next
	PartyID       int64
	Day           day.Day
	Sources       []Share // of one currency
	BankAccountID int64
	AtBank        money.Amount    // what arrived, where the bank account is in another currency than the sources
	Rate          decimal.Decimal // of what comes back in another currency; nil for that of the day
	Method        posting.Method
	Reference     string
	Note          string
}

// Plan returns the effect of the refund.
func (r SupplierRefund) Plan(f posting.Facts) (posting.Effect, error) {
	b := build(f)
	dayOK := b.PostingDay("day", r.Day)
	party, partyOK := b.Supplier("party", r.PartyID)
	if len(r.Sources) > 0 {
		first, _ := b.Look(r.Sources[0].Item)
		dayOK = dayOK && b.In(first.Currency, r.Rate, r.Day)
	}
	_, bankOK := b.Bank("bank", r.BankAccountID)
	b.Method("method", r.Method)
	p := b.Paper(posting.Paper{Kind: posting.SupplierRefund, Number: r.Number, Day: r.Day, PartyID: r.PartyID, PartyName: party.Name, PartyAddress: party.Printed(), Title: "Came back", Reference: r.Reference, Note: r.Note,
		Payment: posting.Payment{BankAccountID: r.BankAccountID, Method: r.Method, BankDay: r.Day}})
	if len(r.Sources) == 0 {
		b.Refuse("sources", "missing", "", "Say what the supplier gives back: a prepayment, a payment on account or a credit.")
	}
	if dayOK && partyOK && bankOK {
		for n, s := range r.Sources {
			p.Total += r.out(b, fmt.Sprintf("sources[%d].amount", n), s)
		}
		p.Base = b.payIn("bank", r.BankAccountID, p.Total, r.AtBank, r.Day, ledger.Line{PartyID: r.PartyID}).Base
		if b.Code() != "" || p.Base != p.Total {
			b.ExchangeRest(ledger.Line{PartyID: r.PartyID})
		}
	}
	return b.Effect(fmt.Sprintf("%s gave back %s by %s", party.Name, b.Currency().Show(p.Total), p.Number))
}

// out takes a part of what stands with a supplier out of its register.
func (r SupplierRefund) out(b *builder, field string, s Share) money.Amount {
	i, ok := b.Look(s.Item)
	if !ok || !i.Debit() || i.Nature != posting.Plain || i.PartyID != r.PartyID || (i.Register != ledger.Payables && i.Register != ledger.SupplierPrepayments) {
		b.Refuse(field, "missing", "", "Choose what stands open with this supplier: a prepayment, a payment on account or a credit.")
		return 0
	}
	if i.Currency != b.Code() {
		b.Refuse(field, "another currency", "", "%s is in another currency. Take what comes back in one currency at a time.", i.Number)
		return 0
	}
	amount := s.Amount
	if s.Most {
		amount = b.OpenFrom(i, r.Day)
	}
	if !b.AmountAboveNil(field, amount, "what comes back of "+i.Number) || !b.Within(field, i, amount, r.Day) {
		return 0
	}
	ref := b.Open(posting.Item{Register: i.Register, Nature: posting.Closing, PartyID: i.PartyID, Day: r.Day, Currency: i.Currency, Part: posting.Part{Amount: b.Taken(i, amount, r.Day).Amount.Neg()}})
	b.Allocate(field, i.ID, ref, amount, r.Day)
	return amount
}

// PayableRelease makes payable what we kept back of a subcontractor: Dr
// retention payable, Cr payables (docs/rules.md, part 5, what we buy).
type PayableRelease struct {
	Number    string // "" to be given the next
	PartyID   int64
	Day       day.Day
	Due       day.Day // "" for its own day
	Reference string
	Note      string
	Items     []Share
}

// Plan returns the effect of the release.
func (r PayableRelease) Plan(f posting.Facts) (posting.Effect, error) {
	b := build(f)
	if len(r.Items) > 0 {
		first, _ := b.Look(r.Items[0].Item)
		b.LikeItem(first)
	}
	dayOK := b.PostingDay("day", r.Day)
	party, partyOK := b.Supplier("party", r.PartyID)
	if r.Due == "" {
		r.Due = r.Day
	}
	if _, err := day.Parse(string(r.Due)); dayOK && (err != nil || r.Due < r.Day) {
		b.Refuse("due", "before the paper", string(r.Day), "What is released cannot be due before its own day, %s.", r.Day.Show())
	}
	p := b.Paper(posting.Paper{Kind: posting.PayableRelease, Number: r.Number, Day: r.Day, PartyID: r.PartyID, PartyName: party.Name, PartyAddress: party.Printed(), Title: "Release of what we kept back",
		Reference: strings.TrimSpace(r.Reference), Note: r.Note, Billing: posting.Billing{Due: r.Due}})
	if len(r.Items) == 0 {
		b.Refuse("items", "missing", "", "Choose what is released of what we keep back.")
	}
	if dayOK && partyOK {
		for n, s := range r.Items {
			gone := r.one(b, fmt.Sprintf("items[%d].amount", n), s)
			p.Total, p.Base = p.Total+gone.Own, p.Base+gone.Base
		}
	}
	return b.Effect(fmt.Sprintf("Released %s that we kept back of %s by %s", b.Currency().Show(p.Total), party.Name, p.Number))
}

// one takes a share out of what we keep back and makes it payable.
func (r PayableRelease) one(b *builder, field string, s Share) posting.Worth {
	kept, ok := b.Look(s.Item)
	if !ok || kept.Register != ledger.RetentionPayable || !kept.Credit() || kept.PartyID != r.PartyID {
		b.Refuse(field, "missing", "", "Choose what we keep back of this supplier.")
		return posting.Worth{}
	}
	if kept.Currency != b.Code() {
		b.Refuse(field, "another currency", "", "%s is in another currency. Release what is kept back in one currency at a time.", kept.Number)
		return posting.Worth{}
	}
	amount := s.Amount
	if s.Most {
		amount = b.OpenFrom(kept, r.Day)
	}
	if !b.AmountAboveNil(field, amount, "what is released of "+kept.Number) || !b.Within(field, kept, amount, r.Day) {
		return posting.Worth{}
	}
	gone := b.Taken(kept, amount, r.Day).Amount
	out := b.Open(posting.Item{Register: ledger.RetentionPayable, Nature: posting.Closing, PartyID: kept.PartyID, Day: r.Day, Currency: kept.Currency, Part: posting.Part{Amount: gone}})
	b.Allocate(field, out, kept.ID, amount, r.Day)
	b.Open(posting.Item{Register: ledger.Payables, Bills: kept.Bills, PartyID: kept.PartyID, Day: r.Day, Due: r.Due, Currency: kept.Currency, Part: posting.Part{Amount: gone.Neg()}})
	return gone
}
