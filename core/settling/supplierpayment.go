package settling

import (
	"fmt"
	"slices"

	"cleantally/core/day"
	"cleantally/core/ledger"
	"cleantally/core/master"
	"cleantally/core/money"
	"cleantally/core/posting"

	"github.com/shopspring/decimal"
)

// SupplierPayment is money to a supplier for what we owe: Dr payables, Cr bank,
// and beside it Cr discount received with its tax, Cr withheld to pay. What is
// set against no bill stays on account only when someone says so (docs/rules.md,
// part 5, what we buy, which mirrors part 4).
type SupplierPayment struct {
	Number        string // "" to be given the next
	PartyID       int64
	Day           day.Day
	Rate          decimal.Decimal // of a bank account in another currency; nil for that of the day
	Paid          money.Amount    // what goes to the supplier, in the bank account's currency
	Charges       money.Amount    // what the bank takes beside it
	BankAccountID int64
	Method        posting.Method
	Cheque        string // its number; "" to be given the next
	Reference     string
	Note          string
	Bills         []PaidBill
	OnAccount     bool // what is not set against a bill stays on account
	Fits          bool // in place of Paid: what the bills come to, less discounts and what is withheld
}

// PaidBill is a bill, or what was kept back and is released, that is paid.
type PaidBill struct {
	Item     posting.ItemRef
	Amount   money.Amount // of the payment, in the bill's currency
	Takes    money.Amount // of the payment, in its own, for a bill in another currency
	Most     bool         // as much as is open and left, in place of Amount
	Discount bool         // with the early-payment discount
	Withheld money.Amount // tax that we withhold and pay for the supplier
}

// Plan returns the effect of the payment.
func (s SupplierPayment) Plan(f posting.Facts) (posting.Effect, error) {
	b := build(f)
	return b.Effect(s.plan(b))
}

// comesTo is what the bills of the payment come to.
func (s SupplierPayment) comesTo(b *builder) money.Amount {
	var sum money.Amount
	for _, bill := range s.Bills {
		amount := bill.Amount
		if i, ok := b.Look(bill.Item); ok && i.Currency != b.Code() {
			sum += bill.Takes
			continue
		}
		if i, ok := b.Look(bill.Item); ok && bill.Most {
			discount := money.Amount(0)
			if bill.Discount {
				discount, _ = Earned(b.Facts, i, s.Day)
			}
			amount = max(b.OpenFrom(i, s.Day)-discount-bill.Withheld, 0)
		}
		sum += amount
	}
	return sum
}

func (s SupplierPayment) plan(b *builder) string {
	at, _ := b.BankAccount(s.BankAccountID)
	dayOK := b.PostingDay("day", s.Day) && b.In(at.Currency, s.Rate, s.Day)
	if s.Fits {
		s.Paid = s.comesTo(b)
	}
	party, partyOK := b.Supplier("party", s.PartyID)
	_, bankOK := b.Bank("bank", s.BankAccountID)
	b.Method("method", s.Method)
	nothing := len(s.Bills) > 0 && s.Paid == 0 && slices.ContainsFunc(s.Bills, func(p PaidBill) bool { return p.Withheld > 0 })
	amountOK := nothing || b.AmountAboveNil("paid", s.Paid, "what is paid")
	if s.Charges < 0 || s.Charges > money.Limit {
		b.Refuse("charges", "below nil", b.Currency().Format(0), "What the bank takes cannot be below nil.")
		amountOK = false
	}
	b.PaidTwice(s.PartyID, s.Reference, s.Paid, s.Day)
	title := "Payment on account"
	if len(s.Bills) > 0 {
		title = "Payment"
	}
	p := b.Paper(posting.Paper{Kind: posting.PaySupplier, Number: s.Number, Day: s.Day, PartyID: s.PartyID, PartyName: party.Name, PartyAddress: party.Printed(), Title: title, Reference: s.Reference, Note: s.Note, Total: s.Paid,
		Payment: posting.Payment{BankAccountID: s.BankAccountID, Method: s.Method, Charges: s.Charges, Cheque: b.cheque("cheque", s.Method, s.BankAccountID, s.Cheque), BankDay: s.Day}})
	if dayOK && partyOK && bankOK && amountOK {
		line := ledger.Line{PartyID: s.PartyID}
		paying := paying{builder: b, pay: s, party: party, paper: p}
		left := paying.across(b.At(s.Paid))
		if left.Own > 0 {
			paying.own = b.Open(posting.Item{Register: ledger.Payables, PartyID: s.PartyID, Day: s.Day, Currency: b.Code(), Part: posting.Part{Amount: left}})
		}
		b.Leaves(at, s.Paid+s.Charges, s.Day, s.Rate, line)
		b.DebitWorth(b.Role(ledger.BankCharges), b.At(s.Charges), line)
		if b.Code() != "" || paying.foreign {
			b.ExchangeRest(line)
		}
		paying.bills()
	}
	return fmt.Sprintf("Paid %s to %s by %s", b.Currency().Show(s.Paid), party.Name, p.Number)
}

// paying is a payment while it is set against bills.
type paying struct {
	*builder
	pay     SupplierPayment
	party   master.Party
	paper   *posting.Paper
	own     posting.ItemRef
	others  map[int]posting.ItemRef // what of it pays a bill in another currency, by bill
	foreign bool                    // some does
}

func (p *paying) bills() {
	left, c := p.pay.Paid, p.Currency()
	for n, bill := range p.pay.Bills {
		field := fmt.Sprintf("bills[%d].", n)
		if i, ok := p.Look(bill.Item); ok && i.Currency != p.Code() {
			p.settleAnother(field, n, i, bill, left)
			left -= bill.Takes
			continue
		}
		if bill.Amount > left {
			p.Refuse(field+"amount", "more than is paid", c.Format(left), "Only %s of this payment is left, not %s. Take %s or less.", c.Show(left), c.Show(bill.Amount), c.Show(left))
			return
		}
		left -= p.one(field, bill, left)
	}
	if left > 0 && !p.pay.OnAccount && !p.Refused() {
		p.Refuse("onAccount", "not placed", c.Format(left), "%s of this payment is set against nothing. Set it against a bill, or say that it stays on account.", c.Show(left))
	}
}

// one sets the payment against one bill, with what goes along, and returns how
// much of the payment it took.
func (p *paying) one(field string, bill PaidBill, left money.Amount) money.Amount {
	i, ok := p.Look(bill.Item)
	if !ok || i.Register != ledger.Payables || !i.Credit() {
		p.Refuse(field+"amount", "missing", "", "Choose a bill that we owe.")
		return 0
	}
	if i.PartyID != p.pay.PartyID {
		owner, _ := p.Party(i.PartyID)
		p.Refuse(field+"amount", "another supplier's bill", "", "%s is of %s. Choose what we owe this supplier.", i.Number, owner.Name)
		return 0
	}
	discount := money.Amount(0)
	if bill.Discount {
		discount = p.earned(field, i)
	}
	if bill.Withheld != 0 && !p.withhold(field+"withheld", i, bill.Withheld) {
		return 0
	}
	if bill.Most {
		bill.Amount = min(max(p.OpenFrom(i, p.pay.Day)-discount, 0), left)
	}
	if bill.Amount > 0 && !p.Allocate(field+"amount", p.own, i.ID, bill.Amount, p.pay.Day) {
		return 0
	}
	if bill.Amount <= 0 && bill.Withheld == 0 {
		p.Refuse(field+"amount", "above nil", p.Currency().Format(0), "Nothing of this payment is left for %s, or nothing of it is open.", i.Number)
		return 0
	}
	if discount > 0 {
		p.discount(field, i, discount)
	}
	return bill.Amount
}

// goesWith settles a part of a bill by something other than money.
func (p *paying) goesWith(field string, i posting.Item, nature posting.Nature, amount money.Amount) (posting.ItemRef, bool) {
	ref := p.Open(posting.Item{Register: ledger.Payables, Nature: nature, PartyID: p.pay.PartyID, Day: p.pay.Day, Currency: i.Currency, Part: posting.Part{Amount: p.Taken(i, amount, p.pay.Day).Amount}})
	return ref, p.Allocate(field, ref, i.ID, amount, p.pay.Day)
}

// withhold keeps tax of a bill that is paid for the supplier: Dr payables, Cr
// withheld to pay.
func (p *paying) withhold(field string, i posting.Item, amount money.Amount) bool {
	if !p.AmountAboveNil(field, amount, "the tax that is withheld") {
		return false
	}
	ref, ok := p.goesWith(field, i, posting.OfWithheld, amount)
	own, _ := p.Look(ref)
	p.CreditWorth(p.Role(ledger.WithheldToPay), own.Amount, ledger.Line{Currency: i.Currency, PartyID: p.pay.PartyID, ItemID: int64(ref)})
	p.paper.Withheld += amount
	return ok
}

// earned is the early discount of a bill, or a refusal that says why there is
// none.
func (p *paying) earned(field string, i posting.Item) money.Amount {
	discount, until := Earned(p.Facts, i, p.pay.Day)
	switch {
	case discount > 0:
	case until != "" && p.pay.Day > until:
		p.Refuse(field+"discount", "too late", string(until), "The discount of %s ended on %s. Leave it out.", i.Number, until.Show())
	case until != "" && taken(p.Facts, i.PaperID):
		p.Refuse(field+"discount", "taken already", "", "The discount of %s was taken already. Leave it out.", i.Number)
	default:
		p.Refuse(field+"discount", "no discount", "", "%s gives no discount for early payment, or too little of it is open. Leave it out.", i.Number)
	}
	return discount
}

// discount closes the rest of a bill by its discount: Cr discount received, Cr
// the input tax inside as far as it was deducted.
func (p *paying) discount(field string, i posting.Item, discount money.Amount) {
	c := posting.CurrencyOf(p.Facts, i.Currency)
	if rest := p.OpenFrom(i, p.pay.Day); rest != discount {
		p.Refuse(field+"amount", "discount not earned", c.Format(rest-discount), "The discount of %s is %s, and is earned only when the rest is paid: %s stays open beside it. Pay %s more, or leave the discount out.",
			i.Number, c.Show(discount), c.Show(rest-discount), c.Show(rest-discount))
		return
	}
	parts := p.InsideDebt(i.Bills, discount, p.pay.Day)
	ref, _ := p.goesWith(field+"discount", i, posting.OfDiscount, discount)
	p.UseDebt(field+"discount", i.Bills, posting.Discounted, parts, posting.LineRef{PaperID: p.paper.ID}, p.pay.Day)
	at := ledger.Line{Currency: i.Currency, PartyID: p.pay.PartyID, ItemID: int64(ref)}
	own, _ := p.Look(ref)
	rest := own.Amount
	bill, _ := p.Facts.Paper(i.Bills)
	for _, part := range parts {
		tax := posting.DeductedTax(bill, part)
		at.TaxCodeID = part.TaxCodeID
		p.CreditWorth(p.Role(ledger.InputTax), tax, at)
		rest = rest.Add(tax.Neg())
	}
	at.TaxCodeID = 0
	p.CreditWorth(p.Role(ledger.DiscountReceived), rest, at)
}

// PaymentRun pays many suppliers in one step, each by a payment of its own.
type PaymentRun struct {
	Payments []SupplierPayment
}

// Plan returns the effect of all the payments.
func (r PaymentRun) Plan(f posting.Facts) (posting.Effect, error) {
	b := build(f)
	if len(r.Payments) == 0 {
		b.Refuse("payments", "missing", "", "Choose what is paid.")
	}
	var sum money.Amount
	for n, p := range r.Payments {
		b.Inside(fmt.Sprintf("payments[%d].", n), func() { p.plan(b) })
		sum += p.Paid
	}
	return b.Effect(fmt.Sprintf("Paid %s to %d suppliers", b.Currency().Show(sum), len(r.Payments)))
}
