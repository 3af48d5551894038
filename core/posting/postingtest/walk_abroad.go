package postingtest

import (
	"cleantally/core/billing"
	"cleantally/core/buying"
	"cleantally/core/journal"
	"cleantally/core/ledger"
	"cleantally/core/money"
	"cleantally/core/posting"
	"cleantally/core/settling"

	"github.com/shopspring/decimal"
)

// WalkCurrencies are the currencies, beside the firm's, that a walk goes abroad
// in: each has a bank account, the fifth and the sixth.
var WalkCurrencies = []string{"USD", "JPY"}

// WalkRates are what they are worth from a day on.
var WalkRates = []posting.Rate{
	{Currency: "USD", Day: "2024-12-01", Rate: decimal.RequireFromString("0.9137")}, {Currency: "USD", Day: "2025-06-01", Rate: decimal.RequireFromString("0.88421")}, {Currency: "USD", Day: "2026-03-01", Rate: decimal.RequireFromString("0.9402")},
	{Currency: "JPY", Day: "2024-12-01", Rate: decimal.RequireFromString("0.0061")}, {Currency: "JPY", Day: "2025-08-01", Rate: decimal.RequireFromString("0.0058733")},
}

// GoAbroad gives the books of a walk other currencies, with a bank account each. The
// second job has no sum of its own, so that its contract can be in one of them.
func (b *Book) GoAbroad() *Book {
	job := b.Jobs[2]
	job.ContractSum = 0
	b.Jobs[2] = job
	b.Currencies, b.RateList = map[string]bool{}, WalkRates
	for n, code := range WalkCurrencies {
		b.Currencies[code] = true
		account, bank := int64(len(b.Accounts)+1), int64(len(b.Banks)+1)
		b.Accounts[account] = ledger.Account{ID: account, Number: []string{"103", "104"}[n], Name: code, Type: ledger.Asset}
		b.Banks[bank] = ledger.BankAccount{ID: bank, Name: code, AccountID: account, Currency: code}
	}
	return b
}

// abroad puts a command into another currency now and then; what takes from what
// is there mostly into that of it.
func (w *Walk) abroad(c posting.Command) posting.Command {
	if w.b.Currencies == nil {
		return c
	}
	for _, id := range madeUpOf(c) { // those know the firm's own currency alone
		if p, ok := w.b.Paper(id); ok && p.Currency != "" {
			return w.moneyAbroad(w.deposit())
		}
	}
	switch x := c.(type) {
	case billing.Invoice:
		x.Currency, x.Rate = w.currency()
		for n, l := range x.Lines {
			if of, ok := w.b.Paper(l.Of.PaperID); ok {
				x.Currency = of.Currency
			}
			if x.Currency == "JPY" && l.Of.PaperID == 0 {
				x.Lines[n].UnitPrice = l.UnitPrice.Shift(2)
			}
		}
		if len(x.SetAgainst) > 0 {
			if i, ok := w.b.Item(x.SetAgainst[0].Credit); ok && !w.oneIn(8) {
				x.Currency = i.Currency
			}
		}
		for _, d := range x.Deductions {
			if of, ok := w.b.Paper(d.PaperID); ok && !w.oneIn(8) {
				x.Currency = of.Currency
			}
		}
		return x
	case billing.Order:
		if x.Currency, x.Rate = w.currency(); x.QuoteID != 0 {
			q, _ := w.b.Paper(x.QuoteID)
			x.Currency = q.Currency
		} else if !w.oneIn(30) { // a contract in one currency is claimed by progress
			x.Currency = w.contractOf(x.JobID, x.Currency)
		}
		return x
	case billing.Claim:
		if _, x.Rate = w.currency(); w.contractOf(x.JobID, "") == "" {
			x.Rate = decimal.Zero
		}
		return x
	case buying.Order:
		x.Currency, x.Rate = w.currency()
		return x
	case billing.Quote:
		x.Currency, x.Rate = w.currency()
		x.Currency = w.contractOf(x.JobID, x.Currency)
		return x
	case billing.DepositInvoice:
		if x.Currency, x.Rate = w.currency(); x.OrderID != 0 {
			o, _ := w.b.Paper(x.OrderID)
			x.Currency = o.Currency
		}
		return x
	case billing.Credit:
		if x.PaperID == 0 {
			x.Currency, x.Rate = w.currency()
		}
		return x
	case buying.Bill:
		x.Currency, x.Rate = w.currency()
		for _, l := range x.Lines {
			if of, ok := w.b.Paper(l.Of.PaperID); ok && !w.oneIn(8) {
				x.Currency = of.Currency
			}
		}
		return x
	case journal.Journal:
		x.Currency, x.Rate = w.currency()
		if x.Currency != "" && w.oneIn(2) { // a charge on its account, or interest
			x.Lines[1].AccountID = w.b.Banks[w.bankOf(x.Currency, firstAbroad)].AccountID
		}
		return x
	case buying.Expense:
		for _, l := range x.Lines {
			if of, ok := w.b.Paper(l.Of.PaperID); ok {
				x.BankAccountID = w.bankOf(of.Currency, x.BankAccountID)
			}
		}
		return x
	}
	return w.moneyAbroad(c)
}

// contractOf is the currency that the contract of a job begins in: that of its
// first order, else the firm's where a sum is written down for it, else the given.
func (w *Walk) contractOf(jobID int64, code string) string {
	if jobID == 0 {
		return code
	}
	if orders := w.b.OrdersOf(jobID); len(orders) > 0 {
		return orders[0].Currency
	}
	if j, ok := w.b.Job(jobID); !ok || j.ContractSum != 0 {
		return ""
	}
	if code == "" && w.oneIn(2) {
		return WalkCurrencies[0]
	}
	return code
}

// madeUpOf are the papers that a made-up command takes from.
func madeUpOf(c posting.Command) []int64 {
	switch x := c.(type) {
	case Bill:
		return []int64{x.Order, x.Cost, x.Advance}
	case Deliver:
		return []int64{x.Order}
	case UseCost:
		return []int64{x.Cost}
	case CreditLine:
		return []int64{x.Paper}
	}
	return nil
}

// moneyAbroad does the same for what moves money.
func (w *Walk) moneyAbroad(c posting.Command) posting.Command {
	switch x := c.(type) {
	case settling.Deposit:
		x.BankAccountID = w.bankAbroad(x.BankAccountID)
		if w.oneIn(5) {
			x.Currency, _ = w.currency()
			x.AtBank = w.amount()
		}
		return x
	case settling.Receipt:
		return w.receiptAbroad(x)
	case settling.Unidentified:
		x.BankAccountID = w.bankAbroad(x.BankAccountID)
		return x
	case settling.Refund:
		i, _ := w.b.Item(x.Sources[0].Item)
		x.BankAccountID, x.AtBank = w.bankOf(i.Currency, x.BankAccountID), w.amount()
		return x
	case settling.Recovery:
		p, _ := w.b.Paper(x.WriteOffID)
		x.BankAccountID, x.AtBank = w.bankOf(p.Currency, x.BankAccountID), w.amount()
		return x
	case settling.SplitDeposit:
		i, _ := w.b.Item(x.Deposit)
		r := *x.Refund
		r.BankAccountID, r.AtBank = w.bankOf(i.Currency, r.BankAccountID), w.amount()
		x.Refund = &r
		return x
	case settling.SetAgainst:
		for n, p := range x.Pairs {
			d, _ := w.b.Item(p.Debit)
			if c, ok := pick(w, w.b.Open, func(i posting.Item) bool {
				return i.PartyID == d.PartyID && i.Currency == d.Currency && i.Left.Amount.Own < 0 && i.Register == ledger.Receivables
			}); ok && d.Currency != "" {
				x.Pairs[n].Credit, x.Day = c.ID, max(x.Day, c.Day)
			}
		}
		return x
	case buying.Expense:
		x.BankAccountID = w.bankAbroad(x.BankAccountID)
		return x
	case settling.Prepayment:
		x.BankAccountID = w.bankAbroad(x.BankAccountID)
		return x
	case settling.SupplierRefund:
		i, _ := w.b.Item(x.Sources[0].Item)
		x.BankAccountID, x.AtBank = w.bankOf(i.Currency, x.BankAccountID), w.amount()
		return x
	case settling.SupplierPayment:
		if len(x.Bills) > 0 {
			i, _ := w.b.Item(x.Bills[0].Item)
			x.BankAccountID = w.bankOf(i.Currency, x.BankAccountID)
		}
		for n, bill := range x.Bills {
			if i, ok := w.b.Item(bill.Item); ok && i.Currency != w.b.Banks[x.BankAccountID].Currency {
				x.Bills[n].Takes, x.Bills[n].Withheld, x.Bills[n].Amount = w.amount(), 0, max(w.of(open(i)), 1)
				x.Paid += x.Bills[n].Takes
			}
		}
		return x
	case settling.OwnTransfer:
		if x.FromAccountID == 1 || w.oneIn(3) {
			x.FromAccountID = w.bankAbroad(x.FromAccountID)
		}
		if w.oneIn(3) {
			x.ToAccountID = w.bankAbroad(x.ToAccountID)
		}
		x.Arrived = w.amount()
		return x
	}
	return c
}

// receiptAbroad is a receipt on an account of another currency, or of one over
// items in others.
func (w *Walk) receiptAbroad(r settling.Receipt) settling.Receipt {
	r.BankAccountID = w.bankAbroad(r.BankAccountID)
	if len(r.Placements) > 0 {
		i, _ := w.b.Item(r.Placements[0].Debit)
		r.BankAccountID = w.bankOf(i.Currency, r.BankAccountID)
	}
	for n, p := range r.Placements {
		i, ok := w.b.Item(p.Debit)
		if !ok || i.Currency == w.b.Banks[r.BankAccountID].Currency {
			continue
		}
		r.Placements[n].Takes, r.Placements[n].Amount, r.Placements[n].Most = w.amount(), max(w.of(open(i)), 1), false
		r.Arrived += r.Placements[n].Takes
		if w.oneIn(10) {
			r.Placements[n].Takes = 0
		}
	}
	if w.oneIn(4) {
		r.Differences = []settling.Difference{{AccountID: account(ledger.BankCharges), Text: "commission", Amount: money.Amount(w.rnd.IntN(500))}}
	}
	return r
}

func (w *Walk) currency() (string, decimal.Decimal) {
	if !w.oneIn(3) {
		return "", decimal.Zero
	}
	code := WalkCurrencies[w.rnd.IntN(len(WalkCurrencies))]
	switch w.rnd.IntN(30) {
	case 0:
		return "GBP", decimal.Zero
	case 1:
		return code, decimal.New(1, 9)
	case 2, 3, 4, 5, 6:
		return code, decimal.New(8000+w.rnd.Int64N(3000), -4)
	}
	return code, decimal.Zero
}

// firstAbroad is the bank account of the first of the currencies.
const firstAbroad = 5

func (w *Walk) bankAbroad(id int64) int64 {
	if !w.oneIn(3) {
		return id
	}
	return firstAbroad + w.rnd.Int64N(int64(len(WalkCurrencies)))
}

// bankOf is mostly a bank account of a currency.
func (w *Walk) bankOf(code string, id int64) int64 {
	if w.oneIn(6) {
		return w.bankAbroad(id)
	}
	for n, c := range WalkCurrencies {
		if c == code {
			return firstAbroad + int64(n)
		}
	}
	return id
}
