package web

import (
	"fmt"

	"cleantally/core/billing"
	"cleantally/core/posting"
)

// InvoiceBody is an invoice as the API takes it.
type InvoiceBody struct {
	Number          string            `json:"number,omitempty" doc:"Empty to be given the next"`
	Customer        int64             `json:"customer,omitempty"`
	Job             int64             `json:"job,omitempty"`
	Day             string            `json:"day,omitempty"`
	Terms           int64             `json:"terms,omitempty" doc:"0: the customer's, else the firm's"`
	Due             string            `json:"due,omitempty" doc:"A due day that is named; empty to count it by the terms"`
	Reference       string            `json:"reference,omitempty" maxLength:"200"`
	Note            string            `json:"note,omitempty" maxLength:"4000"`
	Includes        bool              `json:"includes,omitempty" doc:"Prices include tax"`
	DiscountPercent string            `json:"discountPercent,omitempty"`
	Discount        string            `json:"discount,omitempty"`
	RoundTo         string            `json:"roundTo,omitempty" doc:"The step that the total is rounded to"`
	Lines           []InvoiceLineBody `json:"lines,omitempty" maxItems:"500"`
	SetAgainst      []UseBody         `json:"setAgainst,omitempty" maxItems:"500"`
}

// InvoiceLineBody is a line of an invoice.
type InvoiceLineBody struct {
	Article         int64  `json:"article,omitempty"`
	Text            string `json:"text,omitempty" maxLength:"2000"`
	Quantity        string `json:"quantity,omitempty" doc:"Empty is 1"`
	UnitPrice       string `json:"unitPrice,omitempty"`
	DiscountPercent string `json:"discountPercent,omitempty"`
	Discount        string `json:"discount,omitempty"`
	TaxCode         int64  `json:"taxCode,omitempty"`
	Account         int64  `json:"account,omitempty"`
}

// UseBody is a credit that is set against the invoice on posting.
type UseBody struct {
	Credit int64  `json:"credit" doc:"The open item of the credit"`
	Amount string `json:"amount,omitempty" doc:"Empty: as much as is open of both"`
}

func (b InvoiceBody) command(p *parser) posting.Command {
	v := billing.Invoice{
		Number: b.Number, PartyID: b.Customer, JobID: b.Job, Day: p.day("day", b.Day), TermsID: b.Terms, Due: p.day("due", b.Due), Reference: b.Reference, Note: b.Note,
		Includes: b.Includes, DiscountPercent: p.decimal("discount", b.DiscountPercent, percentPlaces), Discount: p.amount("discount", b.Discount),
		RoundTo: p.amount("roundTo", b.RoundTo),
	}
	for i, l := range b.Lines {
		field := fmt.Sprintf("lines[%d].", i)
		if l.Quantity == "" {
			l.Quantity = "1"
		}
		v.Lines = append(v.Lines, posting.Line{
			ArticleID: l.Article, Text: l.Text, Quantity: p.decimal(field+"quantity", l.Quantity, pricePlaces), UnitPrice: p.decimal(field+"unitPrice", l.UnitPrice, pricePlaces),
			DiscountPercent: p.decimal(field+"discount", l.DiscountPercent, percentPlaces), Discount: p.amount(field+"discount", l.Discount),
			TaxCodeID: l.TaxCode, AccountID: l.Account,
		})
	}
	for i, u := range b.SetAgainst {
		v.SetAgainst = append(v.SetAgainst, billing.Use{Credit: p.item(u.Credit), Amount: p.amount(fmt.Sprintf("setAgainst[%d].amount", i), u.Amount), Most: u.Amount == ""})
	}
	return v
}
