// Package ubl writes and reads electronic invoices and credit notes: UBL 2.1 in
// the form of the European norm EN 16931 (docs/rules.md, part 12).
package ubl

import (
	"bytes"
	"encoding/base64"
	"encoding/xml"
	"fmt"
	"strings"

	"cleantally/core/day"
	"cleantally/core/money"

	"github.com/shopspring/decimal"
)

// The types of what is written (UNTDID 1001).
const (
	TypeInvoice    = "380"
	TypeCreditNote = "381"
	TypePrepayment = "386"
)

// Invoice is what the norm knows of an invoice or a credit note. Amounts are in
// minor units of its currency.
type Invoice struct {
	Type       string
	Number     string
	Day        day.Day
	Due        day.Day // "" for none
	Currency   money.Currency
	Books      money.Currency // the seller's, where its books are in another; Code "" for none
	BooksTax   money.Amount   // the tax in it
	Notes      []string
	Order      string // the buyer's number
	Project    string
	Preceding  []Preceding // invoices that it takes off, or credits
	Seller     Party
	Buyer      Party
	Delivered  day.Day // "" for none
	Account    *Account
	Quoting    string // what a payment names
	Terms      string
	Allowances []Allowance
	Lines      []Line
	Taxes      []Tax
	Totals
	Files []File
}

// Preceding is an invoice that went before.
type Preceding struct {
	Number string
	Day    day.Day
}

// Party sells or buys.
type Party struct {
	Name      string
	Lines     []string // of the address
	Country   string   // ISO 3166-1, two letters
	TaxNumber string   // for value-added tax
	Email     string
	Contact   string
	Phone     string
}

// Account is where a transfer goes.
type Account struct{ Owner, IBAN, BIC string }

// Category is how something is taxed.
type Category struct {
	Code       string // S Z E AE K G O
	Percent    decimal.Decimal
	Reason     string // why it is exempt
	ReasonCode string
}

// Allowance is taken off the whole, or, as a charge, added.
type Allowance struct {
	Charge   bool
	Amount   money.Amount
	Reason   string
	Category Category
}

// Line is one of an invoice. A line below nil has a quantity below nil.
type Line struct {
	Text      string
	Unit      string // UN/ECE recommendation 20
	Quantity  decimal.Decimal
	Price     decimal.Decimal
	Allowance money.Amount // taken off the line
	Net       money.Amount
	Category  Category
}

// Tax is what is taxed in a category, and the tax of it.
type Tax struct {
	Category
	Taxable, Tax money.Amount
}

// Totals are what the whole comes to.
type Totals struct {
	LineTotal, AllowanceTotal, ChargeTotal, Net, Tax, Gross, Prepaid, Rounding, Payable money.Amount
}

// File goes inside an invoice.
type File struct {
	Name, Type string
	Content    []byte
}

const (
	norm    = "urn:cen.eu:en16931:2017"
	schemas = "urn:oasis:names:specification:ubl:schema:xsd:"
)

// Write writes an invoice. It does not look whether it keeps the norm's rules:
// see Check.
func Write(v Invoice) ([]byte, error) {
	kind := "Invoice"
	if v.Type == TypeCreditNote {
		kind = "CreditNote"
	}
	w := writer{v, kind}
	root := &element{name: kind, attrs: []xml.Attr{{Name: xml.Name{Local: "xmlns"}, Value: schemas + kind + "-2"}, {Name: xml.Name{Local: "xmlns:cac"}, Value: schemas + "CommonAggregateComponents-2"}, {Name: xml.Name{Local: "xmlns:cbc"}, Value: schemas + "CommonBasicComponents-2"}}}
	w.head(root)
	w.party(root.in("cac:AccountingSupplierParty").in("cac:Party"), v.Seller)
	w.party(root.in("cac:AccountingCustomerParty").in("cac:Party"), v.Buyer)
	if v.Delivered != "" {
		root.in("cac:Delivery").add("cbc:ActualDeliveryDate", string(v.Delivered))
	}
	w.pay(root)
	for _, a := range v.Allowances {
		e := root.in("cac:AllowanceCharge")
		e.add("cbc:ChargeIndicator", fmt.Sprint(a.Charge))
		e.add("cbc:AllowanceChargeReason", a.Reason)
		w.amount(e, "cbc:Amount", a.Amount)
		category(e.in("cac:TaxCategory"), a.Category, false)
	}
	w.taxes(root.in("cac:TaxTotal"))
	if w.Books.Code != "" {
		root.in("cac:TaxTotal").add("cbc:TaxAmount", w.Books.Format(w.BooksTax), "currencyID", w.Books.Code)
	}
	w.totals(root.in("cac:LegalMonetaryTotal"))
	for n, l := range v.Lines {
		w.line(root.in("cac:"+kind+"Line"), n+1, l)
	}
	var b bytes.Buffer
	b.WriteString(xml.Header)
	to := xml.NewEncoder(&b)
	to.Indent("", " ")
	if err := root.write(to); err != nil {
		return nil, err
	}
	err := to.Close()
	b.WriteString("\n")
	return b.Bytes(), err
}

type writer struct {
	Invoice
	kind string
}

func (w writer) amount(in *element, name string, a money.Amount) {
	in.add(name, w.Currency.Format(a), "currencyID", w.Currency.Code)
}

func (w writer) head(root *element) {
	root.add("cbc:CustomizationID", norm)
	root.add("cbc:ID", w.Number)
	root.add("cbc:IssueDate", string(w.Day))
	if w.kind == "Invoice" {
		root.add("cbc:DueDate", string(w.Due))
		root.add("cbc:InvoiceTypeCode", w.Type)
	} else {
		root.add("cbc:CreditNoteTypeCode", w.Type)
	}
	if notes := strings.Join(w.Notes, "\n"); notes != "" {
		root.add("cbc:Note", notes)
	}
	root.add("cbc:DocumentCurrencyCode", w.Currency.Code)
	if w.Books.Code != "" {
		root.add("cbc:TaxCurrencyCode", w.Books.Code)
	}
	if w.Order != "" {
		root.in("cac:OrderReference").add("cbc:ID", w.Order)
	}
	for _, p := range w.Preceding {
		e := root.in("cac:BillingReference").in("cac:InvoiceDocumentReference")
		e.add("cbc:ID", p.Number)
		e.add("cbc:IssueDate", string(p.Day))
	}
	for _, f := range w.Files {
		e := root.in("cac:AdditionalDocumentReference")
		e.add("cbc:ID", f.Name)
		e.in("cac:Attachment").add("cbc:EmbeddedDocumentBinaryObject", base64.StdEncoding.EncodeToString(f.Content), "mimeCode", f.Type, "filename", f.Name)
	}
	if w.Project != "" && w.kind == "Invoice" {
		root.in("cac:ProjectReference").add("cbc:ID", w.Project)
	}
}

func (w writer) party(e *element, p Party) {
	e.add("cbc:EndpointID", p.Email, "schemeID", "EM")
	e.in("cac:PartyName").add("cbc:Name", p.Name)
	at := e.in("cac:PostalAddress")
	for n, name := range []string{"cbc:StreetName", "cbc:AdditionalStreetName", "cbc:CityName"} {
		// The town is the last line of an address.
		switch {
		case name == "cbc:CityName" && len(p.Lines) > 1:
			at.add(name, p.Lines[len(p.Lines)-1])
		case name != "cbc:CityName" && n < max(len(p.Lines)-1, 1) && n < len(p.Lines):
			at.add(name, p.Lines[n])
		}
	}
	at.in("cac:Country").add("cbc:IdentificationCode", p.Country)
	outside := len(w.Taxes) == 1 && w.Taxes[0].Code == "O"
	if p.TaxNumber != "" && !outside {
		tax := e.in("cac:PartyTaxScheme")
		tax.add("cbc:CompanyID", p.TaxNumber)
		tax.in("cac:TaxScheme").add("cbc:ID", "VAT")
	}
	legal := e.in("cac:PartyLegalEntity")
	legal.add("cbc:RegistrationName", p.Name)
	if outside { // BR-O-02: then it is told, but not for tax
		legal.add("cbc:CompanyID", p.TaxNumber)
	}
	if p.Contact != "" || p.Phone != "" {
		c := e.in("cac:Contact")
		c.add("cbc:Name", p.Contact)
		c.add("cbc:Telephone", p.Phone)
	}
}

func (w writer) pay(root *element) {
	if a := w.Account; a != nil {
		e := root.in("cac:PaymentMeans")
		e.add("cbc:PaymentMeansCode", "30")
		if w.kind == "CreditNote" {
			e.add("cbc:PaymentDueDate", string(w.Due))
		}
		e.add("cbc:PaymentID", w.Quoting)
		to := e.in("cac:PayeeFinancialAccount")
		to.add("cbc:ID", a.IBAN)
		to.add("cbc:Name", a.Owner)
		if a.BIC != "" {
			to.in("cac:FinancialInstitutionBranch").add("cbc:ID", a.BIC)
		}
	}
	if w.Terms != "" {
		root.in("cac:PaymentTerms").add("cbc:Note", w.Terms)
	}
}

func category(e *element, c Category, why bool) {
	e.add("cbc:ID", c.Code)
	if c.Code != "O" {
		e.add("cbc:Percent", c.Percent.String())
	}
	if why {
		e.add("cbc:TaxExemptionReasonCode", c.ReasonCode)
		e.add("cbc:TaxExemptionReason", c.Reason)
	}
	e.in("cac:TaxScheme").add("cbc:ID", "VAT")
}

func (w writer) taxes(e *element) {
	w.amount(e, "cbc:TaxAmount", w.Tax)
	for _, t := range w.Taxes {
		s := e.in("cac:TaxSubtotal")
		w.amount(s, "cbc:TaxableAmount", t.Taxable)
		w.amount(s, "cbc:TaxAmount", t.Tax)
		category(s.in("cac:TaxCategory"), t.Category, true)
	}
}

func (w writer) totals(e *element) {
	for _, t := range []struct {
		name   string
		amount money.Amount
		always bool
	}{{"LineExtensionAmount", w.LineTotal, true}, {"TaxExclusiveAmount", w.Net, true}, {"TaxInclusiveAmount", w.Gross, true}, {"AllowanceTotalAmount", w.AllowanceTotal, false}, {"ChargeTotalAmount", w.ChargeTotal, false},
		{"PrepaidAmount", w.Prepaid, false}, {"PayableRoundingAmount", w.Rounding, false}, {"PayableAmount", w.Payable, true}} {
		if t.always || t.amount != 0 {
			w.amount(e, "cbc:"+t.name, t.amount)
		}
	}
}

func (w writer) line(e *element, n int, l Line) {
	e.add("cbc:ID", fmt.Sprint(n))
	quantity := "cbc:InvoicedQuantity"
	if w.kind == "CreditNote" {
		quantity = "cbc:CreditedQuantity"
	}
	e.add(quantity, l.Quantity.String(), "unitCode", l.Unit)
	w.amount(e, "cbc:LineExtensionAmount", l.Net)
	if l.Allowance != 0 {
		a := e.in("cac:AllowanceCharge")
		a.add("cbc:ChargeIndicator", fmt.Sprint(l.Allowance < 0))
		a.add("cbc:AllowanceChargeReason", "Discount")
		w.amount(a, "cbc:Amount", l.Allowance.Abs())
	}
	item := e.in("cac:Item")
	name, more, _ := strings.Cut(l.Text, "\n")
	item.add("cbc:Description", strings.TrimSpace(more))
	item.add("cbc:Name", name)
	category(item.in("cac:ClassifiedTaxCategory"), l.Category, false)
	e.in("cac:Price").add("cbc:PriceAmount", l.Price.String(), "currencyID", w.Currency.Code)
}
