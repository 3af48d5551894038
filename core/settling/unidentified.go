package settling

import (
	"cleantally/core/rights"
	"fmt"
	"strings"

	"cleantally/core/day"
	"cleantally/core/ledger"
	"cleantally/core/money"
	"cleantally/core/posting"

	"github.com/shopspring/decimal"
)

// Unidentified is money that arrived and nobody knows yet whose it is: Dr bank,
// Cr unidentified (docs/rules.md, part 4).
type Unidentified struct {
	Number        string // "" to be given the next
	Day           day.Day
	Amount        money.Amount    // in the bank account's currency
	Rate          decimal.Decimal // of an account in another currency; nil for that of the day
	BankAccountID int64
	Method        posting.Method
	Reference     string // what the bank told
	Note          string
}

// Plan returns the effect of recording the money.
func (u Unidentified) Plan(f posting.Facts) (posting.Effect, error) {
	b := build(f)
	dayOK := b.PostingDay("day", u.Day)
	_, bankOK := b.Bank("bank", u.BankAccountID)
	own := ""
	dayOK = (origin{bankID: u.BankAccountID}).in(b, &own, 0, 0, u.Rate, u.Day) && dayOK
	amountOK := b.AmountAboveNil("amount", u.Amount, "what arrived")
	b.Method("method", u.Method)
	p := b.Paper(posting.Paper{Kind: posting.Unidentified, Number: u.Number, Day: u.Day, Title: "Not identified yet", Reference: strings.TrimSpace(u.Reference), Note: u.Note, Total: u.Amount,
		Payment: posting.Payment{BankAccountID: u.BankAccountID, Method: u.Method}})
	if dayOK && amountOK && bankOK {
		b.Says("Not identified, " + p.Number)
		came := b.payIn("bank", u.BankAccountID, u.Amount, 0, u.Day, ledger.Line{})
		b.Open(posting.Item{Register: ledger.Unidentified, Day: u.Day, Currency: b.Code(), Part: posting.Part{Amount: came.Neg()}})
	}
	return b.Effect(fmt.Sprintf("Recorded %s, not identified, by %s", b.Currency().Show(u.Amount), p.Number))
}

// Distribute says whose money it is: each share becomes a deposit or a receipt
// of a customer. The money is one transfer for several customers that arrives
// at a bank account now, or money that was not identified when it came; of that
// a share can also be sent back. Entry and open item bear the day of
// identification, the bank's day counts for discount and interest only.
type Distribute struct {
	From          posting.ItemRef // what was not identified; 0 for money that arrives now
	Day           day.Day
	Amount        money.Amount // the whole transfer that arrives now
	BankAccountID int64
	Method        posting.Method
	Reference     string
	Deposits      []Deposit // their day, bank, method and reference are taken from here
	Receipts      []Receipt
	SendBack      money.Amount
	Cheque        string
}

// Plan returns the effect of giving the money to its owners.
func (x Distribute) Plan(f posting.Facts) (posting.Effect, error) {
	b := build(f)
	o, ok := x.origin(b)
	var told []string
	var sum money.Amount
	for n, d := range x.Deposits {
		d.Day, d.BankAccountID, d.Method, d.Reference = x.Day, x.BankAccountID, x.Method, x.Reference
		b.Inside(fmt.Sprintf("deposits[%d].", n), func() { told = append(told, d.plan(b, o, ok)) })
		if d.AtBank != 0 {
			sum += d.AtBank
		} else {
			sum += d.Amount
		}
	}
	for n, r := range x.Receipts {
		r.Day, r.BankAccountID, r.Method, r.Reference = x.Day, x.BankAccountID, x.Method, x.Reference
		b.Inside(fmt.Sprintf("receipts[%d].", n), func() { told = append(told, r.plan(b, o, ok)) })
		sum += r.Arrived
	}
	c := b.Currency()
	switch {
	case x.From == 0 && x.SendBack != 0:
		b.Refuse("sendBack", "not identified", "", "Only money that was recorded as not identified is sent back. Record the deposit or receipt, then refund it.")
	case x.From == 0 && sum != x.Amount && !b.Refused():
		b.Refuse("amount", "sums differ", c.Format(x.Amount), "The shares come to %s, the transfer to %s. They must agree.", c.Show(sum), c.Show(x.Amount))
	case x.SendBack != 0 && ok:
		told = append(told, Refund{Day: x.Day, Sources: []Share{{Item: x.From, Amount: x.SendBack}}, BankAccountID: x.BankAccountID, Method: x.Method, Cheque: x.Cheque,
			Reference: x.Reference}.plan(b, func(int) string { return "sendBack" }))
	case len(told) == 0:
		b.Refuse("receipts", "missing", "", "Say whose money it is: a deposit or a receipt of a customer.")
	}
	return b.Effect(strings.Join(told, "; "))
}

// origin is where the money comes from.
func (x *Distribute) origin(b *builder) (origin, bool) {
	if x.From == 0 {
		_, ok := b.Bank("bank", x.BankAccountID)
		b.Method("method", x.Method)
		return origin{bankID: x.BankAccountID, bankDay: x.Day}, ok
	}
	i, ok := b.Look(x.From)
	if !ok || i.Register != ledger.Unidentified || !i.Credit() {
		b.Refuse("from", "missing", "", "Choose money that is not identified yet.")
		return origin{}, false
	}
	paper, _ := b.Facts.Paper(i.PaperID)
	if x.BankAccountID == 0 || x.SendBack == 0 {
		x.BankAccountID, x.Method = paper.BankAccountID, paper.Method
	}
	if x.Reference == "" {
		x.Reference = paper.Reference
	}
	return origin{from: &i, bankDay: i.Day}, true
}

// Asks is the right that it needs: saying whose money it is that was not
// identified is keeping the books, what arrives now is taken.
func (x Distribute) Asks() rights.Right {
	if x.From != 0 || x.SendBack != 0 {
		return rights.ToKeepBooks
	}
	return rights.ToTakeMoney
}
