package settling

import (
	"fmt"
	"strings"

	"cleantally/core/ledger"
	"cleantally/core/money"
	"cleantally/core/posting"

	"github.com/shopspring/decimal"
)

// another tells whether a placement is on an item in another currency than the
// receipt's, and how much of the receipt it takes.
func (p *placing) another(pl Placement) (money.Amount, bool) {
	i, ok := p.Look(pl.Debit)
	if !ok || i.Currency == p.Code() {
		return 0, false
	}
	return pl.Takes, true
}

// across makes, for each placement on an item in another currency, a credit in
// that one, worth what it takes of the receipt, and returns what of the receipt
// is left. In the firm's own currency it is worth itself; what it differs by from
// what it takes goes to exchange (docs/rules.md, part 8).
func (p *placing) across(worth posting.Worth) posting.Worth {
	p.others = map[int]posting.ItemRef{}
	r := p.receipt
	for n, pl := range r.Placements {
		takes, another := p.another(pl)
		if !another || takes <= 0 || pl.Amount <= 0 || takes > worth.Own {
			continue // refused when it is placed
		}
		i, _ := p.Look(pl.Debit)
		of := posting.Worth{Own: pl.Amount, Base: p.At(takes).Base}
		if takes == worth.Own {
			of.Base = worth.Base
		}
		worth = worth.Add(posting.Worth{Own: takes, Base: of.Base}.Neg())
		if i.Currency == "" {
			of = posting.Firm(pl.Amount)
		}
		p.foreign = true
		p.others[n] = p.Open(posting.Item{Register: ledger.Receivables, PartyID: r.PartyID, JobID: r.JobID, Day: r.Day, Currency: i.Currency, Part: posting.Part{Amount: of.Neg()}})
	}
	return worth
}

// settleAnother sets what a placement takes of the receipt against its item in
// another currency.
func (p *placing) settleAnother(field string, n int, pl Placement) {
	i, _ := p.Look(pl.Debit)
	c, own := posting.CurrencyOf(p.Facts, i.Currency), p.Currency()
	if i.Register == ledger.Retention {
		p.Refuse(field+"amount", "another currency", "", "What %s keeps back is in %s. Release it first, then set the money against the release.", i.Number, c.Code)
		return
	}
	if pl.Takes <= 0 || pl.Amount <= 0 {
		p.Refuse(field+"takes", "says both", c.Code, "%s is in %s and the money in %s: say how much of %s it settles, and how much of the money that takes.", i.Number, c.Code, own.Code, i.Number)
		return
	}
	ref, ok := p.others[n]
	if !ok {
		return
	}
	discount := money.Amount(0)
	if pl.Discount {
		discount = p.earned(field, i)
	}
	if !p.Allocate(field+"amount", i.ID, ref, pl.Amount, p.receipt.Day) {
		return
	}
	if discount > 0 {
		p.discount(field, i, discount)
	}
	if rest := p.OpenFrom(i, p.receipt.Day); rest > 0 {
		p.rest(field, i, pl, rest)
	}
}

// across makes, for each bill in another currency, a payment in that one, worth
// what it takes of this one, and returns what of this one is left.
func (p *paying) across(worth posting.Worth) posting.Worth {
	p.others = map[int]posting.ItemRef{}
	for n, bill := range p.pay.Bills {
		i, ok := p.Look(bill.Item)
		if !ok || i.Currency == p.Code() || bill.Takes <= 0 || bill.Amount <= 0 || bill.Takes > worth.Own {
			continue // refused when it is placed
		}
		of := posting.Worth{Own: bill.Amount, Base: p.At(bill.Takes).Base}
		if bill.Takes == worth.Own {
			of.Base = worth.Base
		}
		worth = worth.Add(posting.Worth{Own: bill.Takes, Base: of.Base}.Neg())
		if i.Currency == "" {
			of = posting.Firm(bill.Amount)
		}
		p.foreign = true
		p.others[n] = p.Open(posting.Item{Register: ledger.Payables, PartyID: p.pay.PartyID, Day: p.pay.Day, Currency: i.Currency, Part: posting.Part{Amount: of}})
	}
	return worth
}

// settleAnother sets what a bill in another currency takes of the payment
// against it.
func (p *paying) settleAnother(field string, n int, i posting.Item, bill PaidBill, left money.Amount) {
	c, own := posting.CurrencyOf(p.Facts, i.Currency), p.Currency()
	switch {
	case i.Register != ledger.Payables || !i.Credit() || i.PartyID != p.pay.PartyID:
		p.Refuse(field+"amount", "missing", "", "Choose a bill that we owe this supplier.")
	case bill.Takes <= 0 || bill.Amount <= 0:
		p.Refuse(field+"takes", "says both", c.Code, "%s is in %s and the money in %s: say how much of %s it pays, and how much of the money that takes.", i.Number, c.Code, own.Code, i.Number)
	case bill.Takes > left:
		p.Refuse(field+"takes", "more than is paid", own.Format(left), "Only %s of this payment is left, not %s. Take %s or less.", own.Show(left), own.Show(bill.Takes), own.Show(left))
	case bill.Withheld != 0:
		p.Refuse(field+"withheld", "another currency", "", "Tax is withheld of a bill in the currency that is paid.")
	default:
		discount := money.Amount(0)
		if bill.Discount {
			discount = p.earned(field, i)
		}
		if p.Allocate(field+"amount", p.others[n], i.ID, bill.Amount, p.pay.Day) && discount > 0 {
			p.discount(field, i, discount)
		}
	}
}

// differences are what the differences of a receipt come to, above nil what was
// taken off. Each goes to an account that no register and no bank stands on.
func (r Receipt) differences(b *builder) money.Amount {
	var sum money.Amount
	for n, d := range r.Differences {
		field := fmt.Sprintf("differences[%d].", n)
		a, ok := b.Account(d.AccountID)
		_, control := b.Control(d.AccountID)
		switch {
		case !ok || a.Inactive:
			b.Refuse(field+"account", "missing", "", "Say to which account the difference goes.")
		case control || b.IsBank(d.AccountID):
			b.Refuse(field+"account", "control account", a.Number, "%s %s moves by its own papers alone. Choose an account of income or expense.", a.Number, a.Name)
		}
		if strings.TrimSpace(d.Text) == "" {
			b.Refuse(field+"text", "missing", "", "Say what the difference is: a commission, a fine.")
		}
		if d.Amount == 0 || d.Amount.Abs() > money.Limit {
			b.Refuse(field+"amount", "above nil", b.Currency().Format(0), "Say how much was taken off, or added.")
		}
		sum += d.Amount
	}
	return sum
}

// lines are the differences as the paper says them.
func (r Receipt) lines(b *builder) []posting.PaperLine {
	var lines []posting.PaperLine
	for n, d := range r.Differences {
		lines = append(lines, posting.PaperLine{Position: n + 1, Text: strings.TrimSpace(d.Text), Quantity: decimal.New(1, 0), AccountID: d.AccountID, Before: -d.Amount, Net: b.At(-d.Amount)})
	}
	return lines
}
