package web

import (
	"fmt"

	"cleantally/core/buying"
	"cleantally/core/money"
	"cleantally/core/posting"
	"cleantally/core/settling"
	"cleantally/core/stock"

	"github.com/shopspring/decimal"
)

// BoughtLineBody is what is bought or ordered.
type BoughtLineBody struct {
	Text            string   `json:"text,omitempty" maxLength:"400"`
	Unit            string   `json:"unit,omitempty" maxLength:"20"`
	Article         int64    `json:"article,omitempty"`
	Account         int64    `json:"account,omitempty" doc:"0: stock, the costs of the job, or of materials sold"`
	Job             int64    `json:"job,omitempty"`
	Quantity        string   `json:"quantity,omitempty" doc:"Empty is 1"`
	UnitPrice       string   `json:"unitPrice,omitempty"`
	DiscountPercent string   `json:"discountPercent,omitempty"`
	Net             string   `json:"net,omitempty" doc:"In place of quantity and price"`
	TaxCode         int64    `json:"taxCode,omitempty"`
	Joined          bool     `json:"joined,omitempty" doc:"The input tax cannot be deducted and joins the cost"`
	PassOn          string   `json:"passOn,omitempty" enum:",supply,behalf" doc:"To the customer of the job: as our own supply, or on the customer's behalf"`
	Markup          string   `json:"markup,omitempty" doc:"Percent; empty: the job's, else the firm's"`
	Serials         []string `json:"serials,omitempty" maxItems:"500" doc:"Of pieces that bear numbers"`
	Order           int64    `json:"order,omitempty" doc:"The purchase order of which it bills a quantity"`
	OrderLine       int      `json:"orderLine,omitempty" doc:"And the line there, counted from 1"`
}

func (l BoughtLineBody) line(p *parser, i int) buying.Line {
	field := fmt.Sprintf("lines[%d].", i)
	out := buying.Line{Text: l.Text, Unit: l.Unit, ArticleID: l.Article, AccountID: l.Account, JobID: l.Job, Quantity: p.decimal(field+"quantity", l.Quantity, pricePlaces), UnitPrice: p.decimal(field+"unitPrice", l.UnitPrice, pricePlaces),
		Discount: p.decimal(field+"discountPercent", l.DiscountPercent, percentPlaces), Net: p.amount(field+"net", l.Net), TaxCodeID: l.TaxCode, Joined: l.Joined, PassOn: posting.Treatment(l.PassOn), Serials: l.Serials,
		Of: buying.OrderLine{PaperID: l.Order, Position: l.OrderLine}}
	out.Markup = p.percentOrNone(field+"markup", l.Markup)
	return out
}

// amountOrNone reads an amount that may be left out.
func (p *parser) amountOrNone(field, text string) *money.Amount {
	if text == "" {
		return nil
	}
	a := p.amount(field, text)
	return &a
}

// percentOrNone reads a percentage that may be left out.
func (p *parser) percentOrNone(field, text string) *decimal.Decimal {
	if text == "" {
		return nil
	}
	d := p.decimal(field, text, percentPlaces)
	return &d
}

func boughtLines(p *parser, all []BoughtLineBody) []buying.Line {
	var out []buying.Line
	for i, l := range all {
		out = append(out, l.line(p, i))
	}
	return out
}

// PurchaseOrderBody is what is ordered from a supplier.
type PurchaseOrderBody struct {
	InCurrency
	Number    string           `json:"number,omitempty" doc:"Empty to be given the next"`
	Supplier  int64            `json:"supplier,omitempty"`
	Day       string           `json:"day,omitempty"`
	Expected  string           `json:"expected,omitempty" doc:"When it should come"`
	Reference string           `json:"reference,omitempty" maxLength:"200"`
	Note      string           `json:"note,omitempty" maxLength:"4000"`
	Lines     []BoughtLineBody `json:"lines,omitempty" maxItems:"500"`
}

func (b PurchaseOrderBody) command(p *parser) posting.Command {
	defer p.begin(&b.InCurrency, 0, b.Supplier)()
	return buying.Order{Currency: b.Currency, Rate: p.rate("rate", b.Rate), Number: b.Number, PartyID: b.Supplier, Day: p.day("day", b.Day), Expected: p.day("expected", b.Expected), Reference: b.Reference, Note: b.Note, Lines: boughtLines(p, b.Lines)}
}

// ReceivedBody is goods that came before their bill.
type ReceivedBody struct {
	Number    string           `json:"number,omitempty" doc:"Empty to be given the next"`
	Order     int64            `json:"order,omitempty" doc:"The purchase order"`
	Day       string           `json:"day,omitempty"`
	Reference string           `json:"reference,omitempty" maxLength:"200" doc:"Of the supplier's delivery note"`
	Note      string           `json:"note,omitempty" maxLength:"4000"`
	Lines     []OrderShareBody `json:"lines,omitempty" maxItems:"500"`
}

func (b ReceivedBody) received(p *parser) buying.Received {
	r := buying.Received{Number: b.Number, OrderID: b.Order, Day: p.day("day", b.Day), Reference: b.Reference, Note: b.Note}
	for i, l := range b.Lines {
		r.Lines = append(r.Lines, buying.Share{Position: l.Position, Quantity: p.decimal(fmt.Sprintf("lines[%d].quantity", i), l.Quantity, pricePlaces), Serials: l.Serials})
	}
	return r
}

func (b ReceivedBody) command(p *parser) posting.Command { return b.received(p) }

// NotComingBody takes what will not come off a purchase order.
type NotComingBody struct{ ReceivedBody }

func (b NotComingBody) command(p *parser) posting.Command {
	r := b.received(p)
	r.Cancel = true
	return r
}

// BillBody is a supplier's bill.
type BillBody struct {
	InCurrency
	Number       string           `json:"number,omitempty" doc:"Our own; empty to be given the next"`
	Supplier     int64            `json:"supplier,omitempty"`
	Day          string           `json:"day,omitempty"`
	Due          string           `json:"due,omitempty" doc:"Empty to count it by the terms"`
	Terms        int64            `json:"terms,omitempty" doc:"0: the supplier's"`
	EarlyPercent string           `json:"earlyPercent,omitempty" doc:"Discount for early payment, in place of that of the terms"`
	EarlyUntil   string           `json:"earlyUntil,omitempty" doc:"The last day of it"`
	Reference    string           `json:"reference,omitempty" maxLength:"200" doc:"The supplier's number"`
	Note         string           `json:"note,omitempty" maxLength:"4000"`
	Lines        []BoughtLineBody `json:"lines,omitempty" maxItems:"500"`
	Tax          string           `json:"tax,omitempty" doc:"The supplier's own, where it was rounded otherwise"`
	Total        string           `json:"total,omitempty" doc:"As it stands on the bill, to be compared"`
	Retention    string           `json:"retention,omitempty" doc:"That we keep back, percent of the net; empty: the supplier's own"`
	Expected     string           `json:"expected,omitempty" doc:"When what is kept back should be released"`
}

func (b BillBody) command(p *parser) posting.Command {
	defer p.begin(&b.InCurrency, ordered(b.Lines), b.Supplier)()
	v := buying.Bill{Currency: b.Currency, Rate: p.rate("rate", b.Rate), Number: b.Number, PartyID: b.Supplier, Day: p.day("day", b.Day), Due: p.day("due", b.Due), TermsID: b.Terms, EarlyPercent: p.decimal("earlyPercent", b.EarlyPercent, percentPlaces), EarlyUntil: p.day("earlyUntil", b.EarlyUntil),
		Reference: b.Reference, Note: b.Note, Lines: boughtLines(p, b.Lines), Tax: p.amountOrNone("tax", b.Tax), Total: p.amountOrNone("total", b.Total), Expected: p.day("expected", b.Expected)}
	v.Retention = p.percentOrNone("retention", b.Retention)
	return v
}

// ordered is the purchase order that the first of the lines bills that bills one; 0
// for none.
func ordered(lines []BoughtLineBody) int64 {
	for _, l := range lines {
		if l.Order != 0 {
			return l.Order
		}
	}
	return 0
}

// ExpenseBody is bought and paid at once.
type ExpenseBody struct {
	Number    string           `json:"number,omitempty" doc:"Our own; empty to be given the next"`
	Supplier  int64            `json:"supplier,omitempty"`
	Day       string           `json:"day,omitempty"`
	Bank      int64            `json:"bank,omitempty" doc:"Whose currency it is in"`
	Rate      string           `json:"rate,omitempty" maxLength:"40" doc:"Of that, where it is another than the firm's; empty: as on the day"`
	Method    string           `json:"method,omitempty"`
	Reference string           `json:"reference,omitempty" maxLength:"200" doc:"The supplier's number"`
	Note      string           `json:"note,omitempty" maxLength:"4000"`
	Lines     []BoughtLineBody `json:"lines,omitempty" maxItems:"500"`
	Tax       string           `json:"tax,omitempty" doc:"The supplier's own, where it was rounded otherwise"`
	Total     string           `json:"total,omitempty" doc:"As it stands on the receipt, to be compared"`
}

func (b ExpenseBody) command(p *parser) posting.Command {
	defer p.in(p.ofBank(b.Bank))()
	return buying.Expense{Rate: p.rate("rate", b.Rate), Number: b.Number, PartyID: b.Supplier, Day: p.day("day", b.Day), BankAccountID: b.Bank, Method: posting.Method(b.Method), Reference: b.Reference, Note: b.Note, Lines: boughtLines(p, b.Lines),
		Tax: p.amountOrNone("tax", b.Tax), Total: p.amountOrNone("total", b.Total)}
}

// SupplierCreditBody is what a supplier gives back: of a bill or an expense, or
// on its own.
type SupplierCreditBody struct {
	InCurrency
	Number    string                   `json:"number,omitempty" doc:"Our own; empty to be given the next"`
	Paper     int64                    `json:"paper,omitempty" doc:"The bill or expense; 0 for a credit on its own"`
	Supplier  int64                    `json:"supplier,omitempty"`
	Day       string                   `json:"day,omitempty"`
	Reference string                   `json:"reference,omitempty" maxLength:"200" doc:"The supplier's number"`
	Reason    string                   `json:"reason,omitempty" maxLength:"400"`
	Note      string                   `json:"note,omitempty" maxLength:"4000"`
	Lines     []SupplierCreditLineBody `json:"lines,omitempty" maxItems:"500" doc:"Of a paper none: all that is left"`
	Open      bool                     `json:"open,omitempty" doc:"It is not set against its bill, but waits"`
	Bank      int64                    `json:"bank,omitempty" doc:"Where the money comes back at once"`
	Method    string                   `json:"method,omitempty"`
}

// SupplierCreditLineBody is what is given back of a line, or, of a credit on
// its own, what it says.
type SupplierCreditLineBody struct {
	Position int      `json:"position,omitempty"`
	Quantity string   `json:"quantity,omitempty"`
	Amount   string   `json:"amount,omitempty" doc:"Net"`
	Back     bool     `json:"back,omitempty" doc:"Goods of stock go back"`
	Serials  []string `json:"serials,omitempty" maxItems:"500"`
	Text     string   `json:"text,omitempty" maxLength:"400"`
	Account  int64    `json:"account,omitempty"`
	Job      int64    `json:"job,omitempty"`
	TaxCode  int64    `json:"taxCode,omitempty"`
}

func (b SupplierCreditBody) command(p *parser) posting.Command {
	if b.Paper != 0 {
		b.InCurrency = InCurrency{}
	}
	defer p.begin(&b.InCurrency, b.Paper, b.Supplier)()
	c := buying.Credit{Currency: b.Currency, Rate: p.rate("rate", b.Rate), Number: b.Number, PaperID: b.Paper, PartyID: b.Supplier, Day: p.day("day", b.Day), Reference: b.Reference, Reason: b.Reason, Note: b.Note, Open: b.Open, BankAccountID: b.Bank, Method: posting.Method(b.Method)}
	for i, l := range b.Lines {
		field := fmt.Sprintf("lines[%d].", i)
		line := buying.CreditLine{Position: l.Position, Quantity: p.decimal(field+"quantity", l.Quantity, pricePlaces), Amount: p.amount(field+"amount", l.Amount), Back: l.Back, Serials: l.Serials}
		if b.Paper == 0 {
			line = buying.CreditLine{Own: buying.Line{Text: l.Text, AccountID: l.Account, JobID: l.Job, Net: line.Amount, TaxCodeID: l.TaxCode}}
		}
		c.Lines = append(c.Lines, line)
	}
	return c
}

// PrepaymentBody is money to a supplier before the bill.
type PrepaymentBody struct {
	Number    string `json:"number,omitempty" doc:"Empty to be given the next"`
	Supplier  int64  `json:"supplier,omitempty"`
	Day       string `json:"day,omitempty"`
	Amount    string `json:"amount,omitempty"`
	Bank      int64  `json:"bank,omitempty"`
	Rate      string `json:"rate,omitempty" maxLength:"40" doc:"What one unit of the bank account's currency is worth in the firm's; empty: as on the day"`
	Method    string `json:"method,omitempty"`
	Cheque    string `json:"cheque,omitempty" doc:"Empty to be given the next"`
	Order     int64  `json:"order,omitempty" doc:"The purchase order that it is for"`
	Reference string `json:"reference,omitempty" maxLength:"200"`
	Note      string `json:"note,omitempty" maxLength:"4000"`
}

func (b PrepaymentBody) command(p *parser) posting.Command {
	defer p.in(p.ofBank(b.Bank))()
	return settling.Prepayment{Rate: p.rate("rate", b.Rate), Number: b.Number, PartyID: b.Supplier, Day: p.day("day", b.Day), Amount: p.amount("amount", b.Amount), BankAccountID: b.Bank, Method: posting.Method(b.Method), Cheque: b.Cheque, OrderID: b.Order, Reference: b.Reference, Note: b.Note}
}

// SupplierPaymentBody is money to a supplier for what we owe.
type SupplierPaymentBody struct {
	Number    string         `json:"number,omitempty" doc:"Empty to be given the next"`
	Supplier  int64          `json:"supplier,omitempty"`
	Day       string         `json:"day,omitempty"`
	Paid      string         `json:"paid,omitempty" doc:"Empty: what the bills come to"`
	Charges   string         `json:"charges,omitempty" doc:"What the bank takes beside it"`
	Rate      string         `json:"rate,omitempty" maxLength:"40" doc:"What one unit of the bank account's currency is worth in the firm's; empty: as on the day"`
	Bank      int64          `json:"bank,omitempty"`
	Method    string         `json:"method,omitempty"`
	Cheque    string         `json:"cheque,omitempty" doc:"Empty to be given the next"`
	Reference string         `json:"reference,omitempty" maxLength:"200"`
	Note      string         `json:"note,omitempty" maxLength:"4000"`
	Bills     []PaidBillBody `json:"bills,omitempty" maxItems:"500"`
	OnAccount bool           `json:"onAccount,omitempty" doc:"What is set against no bill stays on account"`
}

// PaidBillBody is a bill that is paid.
type PaidBillBody struct {
	Item     int64  `json:"item" doc:"The open item"`
	Amount   string `json:"amount,omitempty" doc:"Empty: as much as is open and left"`
	Takes    string `json:"takes,omitempty" doc:"Of the money, in its currency, where the bill is in another"`
	Discount bool   `json:"discount,omitempty" doc:"With its discount for early payment"`
	Withheld string `json:"withheld,omitempty" doc:"Tax that we withhold and pay for the supplier"`
}

func (b SupplierPaymentBody) payment(p *parser, field string) settling.SupplierPayment {
	defer p.in(p.ofBank(b.Bank))()
	s := settling.SupplierPayment{Rate: p.rate(field+"rate", b.Rate), Number: b.Number, PartyID: b.Supplier, Day: p.day(field+"day", b.Day), Paid: p.amount(field+"paid", b.Paid), Fits: b.Paid == "" && len(b.Bills) > 0, Charges: p.amount(field+"charges", b.Charges), BankAccountID: b.Bank,
		Method: posting.Method(b.Method), Cheque: b.Cheque, Reference: b.Reference, Note: b.Note, OnAccount: b.OnAccount}
	for i, l := range b.Bills {
		at := fmt.Sprintf("%sbills[%d].", field, i)
		s.Bills = append(s.Bills, settling.PaidBill{Item: p.item(l.Item), Amount: p.amountIn(p.itemOr(l.Item), at+"amount", l.Amount), Takes: p.amount(at+"takes", l.Takes), Most: l.Amount == "", Discount: l.Discount, Withheld: p.amount(at+"withheld", l.Withheld)})
	}
	return s
}

func (b SupplierPaymentBody) command(p *parser) posting.Command { return b.payment(p, "") }

// PaymentRunBody pays many suppliers in one step, from one bank account on one
// day.
type PaymentRunBody struct {
	Day      string                `json:"day,omitempty"`
	Bank     int64                 `json:"bank,omitempty"`
	Method   string                `json:"method,omitempty"`
	Through  string                `json:"through,omitempty" doc:"For the form alone: bills that are due through this day"`
	Payments []SupplierPaymentBody `json:"payments,omitempty" maxItems:"500" doc:"One for each supplier"`
}

func (b PaymentRunBody) command(p *parser) posting.Command {
	var r settling.PaymentRun
	for i, one := range b.Payments {
		one.Day, one.Bank, one.Method = b.Day, b.Bank, b.Method
		r.Payments = append(r.Payments, one.payment(p, fmt.Sprintf("payments[%d].", i)))
	}
	return r
}

// SupplierRefundBody is money that a supplier gives back.
type SupplierRefundBody struct {
	Number    string      `json:"number,omitempty" doc:"Empty to be given the next"`
	Supplier  int64       `json:"supplier,omitempty"`
	Day       string      `json:"day,omitempty"`
	Sources   []ShareBody `json:"sources,omitempty" maxItems:"500"`
	Bank      int64       `json:"bank,omitempty"`
	AtBank    string      `json:"atBank,omitempty" doc:"What arrived, where the bank account is in another currency"`
	Rate      string      `json:"rate,omitempty" maxLength:"40" doc:"Of what comes back in another currency; empty: as on the day"`
	Method    string      `json:"method,omitempty"`
	Reference string      `json:"reference,omitempty" maxLength:"200"`
	Note      string      `json:"note,omitempty" maxLength:"4000"`
}

func (b SupplierRefundBody) command(p *parser) posting.Command {
	return settling.SupplierRefund{Rate: p.rate("rate", b.Rate), AtBank: p.amountIn(p.ofBank(b.Bank), "atBank", b.AtBank), Number: b.Number, PartyID: b.Supplier, Day: p.day("day", b.Day), Sources: shares(p, "sources", b.Sources), BankAccountID: b.Bank, Method: posting.Method(b.Method), Reference: b.Reference, Note: b.Note}
}

// PayableReleaseBody makes payable what we kept back of a subcontractor.
type PayableReleaseBody struct {
	Number    string      `json:"number,omitempty" doc:"Empty to be given the next"`
	Supplier  int64       `json:"supplier,omitempty"`
	Day       string      `json:"day,omitempty"`
	Due       string      `json:"due,omitempty"`
	Reference string      `json:"reference,omitempty" maxLength:"200"`
	Note      string      `json:"note,omitempty" maxLength:"4000"`
	Items     []ShareBody `json:"items,omitempty" maxItems:"500"`
}

func (b PayableReleaseBody) command(p *parser) posting.Command {
	return settling.PayableRelease{Number: b.Number, PartyID: b.Supplier, Day: p.day("day", b.Day), Due: p.day("due", b.Due), Reference: b.Reference, Note: b.Note, Items: shares(p, "items", b.Items)}
}

// NotPassedOnBody says of costs that they are not to be billed.
type NotPassedOnBody struct {
	Number string          `json:"number,omitempty" doc:"Empty to be given the next"`
	Day    string          `json:"day,omitempty"`
	Reason string          `json:"reason,omitempty" maxLength:"400"`
	Costs  []CostShareBody `json:"costs,omitempty" maxItems:"200"`
}

func (b NotPassedOnBody) command(p *parser) posting.Command {
	x := buying.NotPassedOn{Number: b.Number, Day: p.day("day", b.Day), Reason: b.Reason}
	for i, c := range b.Costs {
		x.Costs = append(x.Costs, buying.CostShare{PaperID: c.Paper, Position: c.Line, Amount: p.amount(fmt.Sprintf("costs[%d].amount", i), c.Amount)})
	}
	return x
}

// StockUseBody is goods that are used on a job.
type StockUseBody struct {
	Number string          `json:"number,omitempty" doc:"Empty to be given the next"`
	Job    int64           `json:"job,omitempty"`
	Day    string          `json:"day,omitempty"`
	Note   string          `json:"note,omitempty" maxLength:"4000"`
	Lines  []StockLineBody `json:"lines,omitempty" maxItems:"500"`
}

// StockLineBody is a quantity of an article.
type StockLineBody struct {
	Article  int64    `json:"article,omitempty"`
	Quantity string   `json:"quantity,omitempty"`
	Cost     string   `json:"cost,omitempty" doc:"Of a piece that was counted, where none is there to take it from"`
	Serials  []string `json:"serials,omitempty" maxItems:"500"`
}

func (l StockLineBody) line(p *parser, i int) stock.Line {
	return stock.Line{ArticleID: l.Article, Quantity: p.decimal(fmt.Sprintf("lines[%d].quantity", i), l.Quantity, pricePlaces), Serials: l.Serials}
}

func (b StockUseBody) command(p *parser) posting.Command {
	u := stock.Use{Number: b.Number, JobID: b.Job, Day: p.day("day", b.Day), Note: b.Note}
	for i, l := range b.Lines {
		u.Lines = append(u.Lines, l.line(p, i))
	}
	return u
}

// StockCountBody is what was counted.
type StockCountBody struct {
	Number  string          `json:"number,omitempty" doc:"Empty to be given the next"`
	Day     string          `json:"day,omitempty"`
	Note    string          `json:"note,omitempty" maxLength:"4000"`
	Opening bool            `json:"opening,omitempty" doc:"What was there before, against opening balances"`
	Lines   []StockLineBody `json:"lines,omitempty" maxItems:"500"`
}

func (b StockCountBody) command(p *parser) posting.Command {
	c := stock.Count{Number: b.Number, Day: p.day("day", b.Day), Note: b.Note, Opening: b.Opening}
	for i, l := range b.Lines {
		counted := stock.Counted{Line: l.line(p, i)}
		if l.Cost != "" {
			cost := p.decimal(fmt.Sprintf("lines[%d].cost", i), l.Cost, pricePlaces)
			counted.Cost = &cost
		}
		c.Lines = append(c.Lines, counted)
	}
	return c
}

// notComing is what will not come off a purchase order.
const notComing DraftKind = "purchase order cancelled"

// paymentRun is a step that makes several papers.
const paymentRun DraftKind = "payment run"

func (s *Server) registerBuying() {
	command[PurchaseOrderBody](s, "post-purchase-order", "/api/v1/purchase-orders", "Order from a supplier")
	command[ReceivedBody](s, "post-goods-received", "/api/v1/goods-received", "Record goods that came before their bill")
	command[NotComingBody](s, "post-not-coming", "/api/v1/purchase-orders/cancellations", "Take off a purchase order what will not come")
	command[BillBody](s, "post-bill", "/api/v1/supplier-bills", "Record a supplier's bill")
	command[ExpenseBody](s, "post-expense", "/api/v1/expenses", "Record what was bought and paid at once")
	command[SupplierCreditBody](s, "post-supplier-credit", "/api/v1/supplier-credits", "Record what a supplier gives back")
	command[PrepaymentBody](s, "post-supplier-prepayment", "/api/v1/supplier-prepayments", "Pay a supplier before the bill")
	command[SupplierPaymentBody](s, "post-supplier-payment", "/api/v1/supplier-payments", "Pay a supplier")
	command[PaymentRunBody](s, "post-payment-run", "/api/v1/payment-runs", "Pay many suppliers in one step")
	command[SupplierRefundBody](s, "post-supplier-refund", "/api/v1/supplier-refunds", "Record money that a supplier gives back")
	command[PayableReleaseBody](s, "post-supplier-release", "/api/v1/supplier-releases", "Make payable what we kept back of a subcontractor")
	command[NotPassedOnBody](s, "post-not-passed-on", "/api/v1/costs/not-passed-on", "Say of costs that they are not to be billed")
	command[StockUseBody](s, "post-stock-use", "/api/v1/stock/uses", "Use goods on a job")
	command[StockCountBody](s, "post-stock-count", "/api/v1/stock/counts", "Record what was counted")
}
