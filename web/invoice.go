package web

import (
	"fmt"

	"cleantally/core/billing"
	"cleantally/core/posting"
)

// InCurrency says in which currency a paper is.
type InCurrency struct {
	Currency string `json:"currency,omitempty" maxLength:"3" doc:"ISO 4217; empty: that of the paper that it follows, else the customer's, else the firm's"`
	Rate     string `json:"rate,omitempty" maxLength:"40" doc:"What one unit of it is worth in the firm's; empty: as on the day"`
}

// InvoiceBody is an invoice as the API takes it.
type InvoiceBody struct {
	InCurrency
	Number          string            `json:"number,omitempty" doc:"Empty to be given the next"`
	Customer        int64             `json:"customer,omitempty"`
	Job             int64             `json:"job,omitempty"`
	Day             string            `json:"day,omitempty"`
	Supplied        string            `json:"supplied,omitempty" doc:"The day of supply, where it is not the invoice's; it chooses the rates of tax"`
	Terms           int64             `json:"terms,omitempty" doc:"0: the customer's, else the firm's"`
	Due             string            `json:"due,omitempty" doc:"A due day that is named; empty to count it by the terms"`
	Reference       string            `json:"reference,omitempty" maxLength:"200"`
	Subject         string            `json:"subject,omitempty" maxLength:"200"`
	Salesperson     string            `json:"salesperson,omitempty" maxLength:"100"`
	OrderNumber     string            `json:"orderNumber,omitempty" maxLength:"100" doc:"The customer's own"`
	Note            *string           `json:"note,omitempty" maxLength:"4000" doc:"Left out, that which the customer's invoices begin with, else the firm's"`
	Includes        bool              `json:"includes,omitempty" doc:"Prices include tax"`
	DiscountPercent string            `json:"discountPercent,omitempty"`
	Discount        string            `json:"discount,omitempty"`
	RoundTo         string            `json:"roundTo,omitempty" doc:"The step that the total is rounded to"`
	Lines           []InvoiceLineBody `json:"lines,omitempty" maxItems:"500"`
	SetAgainst      []UseBody         `json:"setAgainst,omitempty" maxItems:"500"`
	Form            string            `json:"form,omitempty" enum:",stage,final" doc:"What it is in the course of a contract"`
	Deductions      []DeductionBody   `json:"deductions,omitempty" maxItems:"50" doc:"Of what was billed in advance"`
	Retention       *RetentionBody    `json:"retention,omitempty" doc:"What is kept back, where that is not what the job's terms have"`
}

// DeductionBody takes off what a deposit invoice billed in advance.
type DeductionBody struct {
	Paper  int64  `json:"paper"`
	Amount string `json:"amount,omitempty" doc:"With its tax; empty: as much as is left and fits"`
}

// RetentionBody is another retention than the job's terms have.
type RetentionBody struct {
	Amount string `json:"amount,omitempty"`
	Reason string `json:"reason,omitempty" maxLength:"400"`
}

// InvoiceLineBody is a line of an invoice.
type InvoiceLineBody struct {
	Article         int64  `json:"article,omitempty"`
	Text            string `json:"text,omitempty" maxLength:"2000"`
	Unit            string `json:"unit,omitempty" maxLength:"20" doc:"Empty is the article's"`
	Quantity        string `json:"quantity,omitempty" doc:"Empty is 1"`
	UnitPrice       string `json:"unitPrice,omitempty"`
	DiscountPercent string `json:"discountPercent,omitempty"`
	Discount        string `json:"discount,omitempty"`
	TaxCode         int64  `json:"taxCode,omitempty"`
	Account         int64  `json:"account,omitempty"`
	Apart           bool   `json:"apart,omitempty" doc:"Takes no part in the paper's discount: carriage, an adjustment"`
	Order           int64  `json:"order,omitempty" doc:"The order of which it bills a quantity"`
	OrderLine       int    `json:"orderLine,omitempty" doc:"And the line there, counted from 1"`
	Quote           int64  `json:"quote,omitempty" doc:"Of an order: the quote of which it accepts a quantity"`
	QuoteLine       int    `json:"quoteLine,omitempty" doc:"And the line there, counted from 1"`

	Costs   []CostShareBody `json:"costs,omitempty" maxItems:"200" doc:"The costs that it passes on, in place of quantity and price"`
	Serials []string        `json:"serials,omitempty" maxItems:"500" doc:"Of pieces of stock that bear numbers"`
}

// CostShareBody is a part of a cost that a line passes on.
type CostShareBody struct {
	Paper  int64  `json:"paper" doc:"The bill or the expense"`
	Line   int    `json:"line" doc:"And the line there, counted from 1"`
	Amount string `json:"amount,omitempty" doc:"Of the cost; empty: all that waits"`
	Markup string `json:"markup,omitempty" doc:"Percent; empty: the one it was bought with"`
}

func (c CostShareBody) share(p *parser, field string) posting.CostShare {
	s := posting.CostShare{PaperID: c.Paper, Position: c.Line, Amount: p.amountIn(p.ofPaper(c.Paper), field+"amount", c.Amount)}
	if c.Markup != "" {
		m := p.decimal(field+"markup", c.Markup, percentPlaces)
		s.Markup = &m
	}
	return s
}

func (l InvoiceLineBody) line(p *parser, i int) posting.Line {
	field := fmt.Sprintf("lines[%d].", i)
	if l.Quantity == "" {
		l.Quantity = "1"
	}
	of := posting.LineRef{PaperID: l.Order, Position: l.OrderLine}
	if l.Quote != 0 {
		of = posting.LineRef{PaperID: l.Quote, Position: l.QuoteLine}
	}
	var costs []posting.CostShare
	for n, c := range l.Costs {
		costs = append(costs, c.share(p, fmt.Sprintf("%scosts[%d].", field, n)))
	}
	return posting.Line{Costs: costs, Serials: l.Serials,
		ArticleID: l.Article, Text: l.Text, Unit: l.Unit, Quantity: p.decimal(field+"quantity", l.Quantity, pricePlaces), UnitPrice: p.decimal(field+"unitPrice", l.UnitPrice, pricePlaces),
		DiscountPercent: p.decimal(field+"discount", l.DiscountPercent, percentPlaces), Discount: p.amount(field+"discount", l.Discount),
		TaxCodeID: l.TaxCode, AccountID: l.Account, Apart: l.Apart, Of: posting.Thing{LineRef: of},
	}
}

// UseBody is a credit that is set against the invoice on posting.
type UseBody struct {
	Credit int64  `json:"credit" doc:"The open item of the credit"`
	Amount string `json:"amount,omitempty" doc:"Empty: as much as is open of both"`
}

// follows is the order that the invoice bills, else what it deducts of; 0 for
// neither.
func (b InvoiceBody) follows() int64 {
	for _, l := range b.Lines {
		if l.Order != 0 {
			return l.Order
		}
	}
	if len(b.Deductions) > 0 {
		return b.Deductions[0].Paper
	}
	return 0
}

func (b InvoiceBody) command(p *parser) posting.Command {
	defer p.begin(&b.InCurrency, b.follows(), b.Customer)()
	v := billing.Invoice{
		Number: b.Number, PartyID: b.Customer, JobID: b.Job, Day: p.day("day", b.Day), Currency: b.Currency, Rate: p.rate("rate", b.Rate), Supplied: p.day("supplied", b.Supplied), TermsID: b.Terms, Due: p.day("due", b.Due), Reference: b.Reference, Subject: b.Subject, Salesperson: b.Salesperson, OrderNumber: b.OrderNumber, DefaultNote: b.Note == nil,
		Includes: b.Includes, DiscountPercent: p.decimal("discount", b.DiscountPercent, percentPlaces), Discount: p.amount("discount", b.Discount),
		RoundTo: p.amount("roundTo", b.RoundTo), Form: billing.Form(b.Form),
	}
	if b.Note != nil {
		v.Note = *b.Note
	}
	for i, l := range b.Lines {
		v.Lines = append(v.Lines, l.line(p, i))
	}
	for i, d := range b.Deductions {
		v.Deductions = append(v.Deductions, billing.Deduction{PaperID: d.Paper, Amount: p.amount(fmt.Sprintf("deductions[%d].amount", i), d.Amount), Most: d.Amount == ""})
	}
	if b.Retention != nil {
		v.Retention = &billing.Retention{Amount: p.amount("retention.amount", b.Retention.Amount), Reason: b.Retention.Reason}
	}
	for i, u := range b.SetAgainst {
		v.SetAgainst = append(v.SetAgainst, billing.Use{Credit: p.item(u.Credit), Amount: p.amount(fmt.Sprintf("setAgainst[%d].amount", i), u.Amount), Most: u.Amount == ""})
	}
	return v
}
