package web

import (
	"encoding/json"

	"cleantally/core/buying"
	"cleantally/core/money"
	"cleantally/core/posting"
	"cleantally/core/settling"
	"cleantally/core/stock"

	"github.com/shopspring/decimal"
)

// What follows turns what was bought back into what was typed.

func (c copier) boughtLines(all []buying.Line) []BoughtLineBody {
	var out []BoughtLineBody
	for _, l := range all {
		b := BoughtLineBody{Text: l.Text, Unit: l.Unit, Article: l.ArticleID, Account: l.AccountID, Job: l.JobID, Quantity: c.number(l.Quantity), DiscountPercent: c.number(l.Discount),
			Net: c.amount(l.Net), TaxCode: l.TaxCodeID, Joined: l.Joined, PassOn: string(l.PassOn), Markup: percentText(l.Markup)}
		if !l.UnitPrice.IsZero() {
			b.UnitPrice = c.cur.Price(l.UnitPrice)
		}
		if c.again {
			b.Order, b.OrderLine, b.Serials = l.Of.PaperID, l.Of.Position, l.Serials
		}
		out = append(out, b)
	}
	return out
}

// percentText is a percentage that may be left out, as it is typed.
func percentText(d *decimal.Decimal) string {
	if d == nil {
		return ""
	}
	return d.String()
}

func (c copier) amountText(a *money.Amount) string {
	if a == nil {
		return ""
	}
	return c.cur.Format(*a)
}

func (c copier) costs(all []posting.CostShare) []CostShareBody {
	var out []CostShareBody
	for _, s := range all {
		out = append(out, CostShareBody{s.PaperID, s.Position, c.amount(s.Amount), percentText(s.Markup)})
	}
	return out
}

func (c copier) bill(v buying.Bill, _ posting.Paper) BillBody {
	b := BillBody{InCurrency: c.in(v.Currency, v.Rate, v.PartyID), Supplier: v.PartyID, Day: c.day(string(v.Day)), Terms: v.TermsID, Note: v.Note, Lines: c.boughtLines(v.Lines), Retention: percentText(v.Retention)}
	if c.again {
		b.Due, b.Reference, b.Tax, b.Total, b.Expected = string(v.Due), v.Reference, c.amountText(v.Tax), c.amountText(v.Total), string(v.Expected)
		b.EarlyPercent, b.EarlyUntil = c.number(v.EarlyPercent), string(v.EarlyUntil)
	}
	return b
}

func (c copier) expense(v buying.Expense, _ posting.Paper) ExpenseBody {
	b := ExpenseBody{Supplier: v.PartyID, Day: c.day(string(v.Day)), Bank: v.BankAccountID, Method: string(v.Method), Note: v.Note, Lines: c.boughtLines(v.Lines)}
	if c.again {
		b.Reference, b.Tax, b.Total = v.Reference, c.amountText(v.Tax), c.amountText(v.Total)
	}
	return b
}

func (c copier) purchaseOrder(v buying.Order, _ posting.Paper) PurchaseOrderBody {
	b := PurchaseOrderBody{InCurrency: c.in(v.Currency, v.Rate, v.PartyID), Supplier: v.PartyID, Day: c.day(string(v.Day)), Reference: v.Reference, Note: v.Note, Lines: c.boughtLines(v.Lines)}
	if c.again {
		b.Expected = string(v.Expected)
	}
	return b
}

func copyReceived(c copier, detail string, _ posting.Paper) (DraftKind, any, error) {
	var v buying.Received
	err := json.Unmarshal([]byte(detail), &v)
	b := ReceivedBody{Order: v.OrderID, Day: c.day(string(v.Day)), Reference: v.Reference, Note: v.Note}
	for _, l := range v.Lines {
		b.Lines = append(b.Lines, OrderShareBody{l.Position, l.Quantity.String(), l.Serials})
	}
	if v.Cancel {
		return notComing, NotComingBody{b}, err
	}
	return DraftKind(posting.GoodsIn), b, err
}

func (c copier) supplierCredit(v buying.Credit, _ posting.Paper) SupplierCreditBody {
	b := SupplierCreditBody{InCurrency: c.in(v.Currency, v.Rate, v.PartyID), Paper: v.PaperID, Supplier: v.PartyID, Day: c.day(string(v.Day)), Reference: v.Reference, Reason: v.Reason, Note: v.Note, Open: v.Open, Bank: v.BankAccountID, Method: string(v.Method)}
	for _, l := range v.Lines {
		line := SupplierCreditLineBody{Position: l.Position, Quantity: c.number(l.Quantity), Amount: c.amount(l.Amount), Back: l.Back, Serials: l.Serials}
		if v.PaperID == 0 {
			line = SupplierCreditLineBody{Text: l.Own.Text, Account: l.Own.AccountID, Job: l.Own.JobID, Amount: c.amount(l.Own.Net), TaxCode: l.Own.TaxCodeID}
		}
		b.Lines = append(b.Lines, line)
	}
	return b
}

func (c copier) notPassedOn(v buying.NotPassedOn, _ posting.Paper) NotPassedOnBody {
	b := NotPassedOnBody{Day: c.day(string(v.Day)), Reason: v.Reason}
	for _, s := range v.Costs {
		b.Costs = append(b.Costs, CostShareBody{Paper: s.PaperID, Line: s.Position, Amount: c.amount(s.Amount)})
	}
	return b
}

func (c copier) prepayment(v settling.Prepayment, _ posting.Paper) PrepaymentBody {
	return PrepaymentBody{Supplier: v.PartyID, Day: c.day(string(v.Day)), Amount: c.amount(v.Amount), Bank: v.BankAccountID, Method: string(v.Method), Order: v.OrderID, Reference: v.Reference, Note: v.Note}
}

func (c copier) supplierPayment(v settling.SupplierPayment, _ posting.Paper) SupplierPaymentBody {
	b := SupplierPaymentBody{Supplier: v.PartyID, Day: c.day(string(v.Day)), Paid: c.amount(v.Paid), Charges: c.amount(v.Charges), Bank: v.BankAccountID, Method: string(v.Method), Reference: v.Reference, Note: v.Note, OnAccount: v.OnAccount}
	if !c.again {
		return b
	}
	for _, l := range v.Bills {
		b.Bills = append(b.Bills, PaidBillBody{Item: int64(l.Item), Amount: c.ofItem(l.Item, l.Amount), Takes: c.amount(l.Takes), Discount: l.Discount, Withheld: c.amount(l.Withheld)})
	}
	return b
}

func (c copier) supplierRefund(v settling.SupplierRefund, _ posting.Paper) SupplierRefundBody {
	return SupplierRefundBody{Supplier: v.PartyID, Day: c.day(string(v.Day)), Sources: c.shares(v.Sources), Bank: v.BankAccountID, AtBank: c.atBank(v.BankAccountID, v.AtBank), Method: string(v.Method), Reference: v.Reference, Note: v.Note}
}

func (c copier) payableRelease(v settling.PayableRelease, _ posting.Paper) PayableReleaseBody {
	return PayableReleaseBody{Supplier: v.PartyID, Day: c.day(string(v.Day)), Reference: v.Reference, Note: v.Note, Items: c.shares(v.Items)}
}

func (c copier) stockUse(v stock.Use, _ posting.Paper) StockUseBody {
	b := StockUseBody{Job: v.JobID, Day: c.day(string(v.Day)), Note: v.Note}
	for _, l := range v.Lines {
		b.Lines = append(b.Lines, c.stockLine(l))
	}
	return b
}

func (c copier) stockLine(l stock.Line) StockLineBody {
	b := StockLineBody{Article: l.ArticleID, Quantity: l.Quantity.String()}
	if c.again {
		b.Serials = l.Serials
	}
	return b
}

func (c copier) stockCount(v stock.Count, _ posting.Paper) StockCountBody {
	b := StockCountBody{Day: c.day(string(v.Day)), Note: v.Note, Opening: v.Opening}
	for _, l := range v.Lines {
		line := c.stockLine(l.Line)
		if l.Cost != nil {
			line.Cost = l.Cost.String()
		}
		b.Lines = append(b.Lines, line)
	}
	return b
}
