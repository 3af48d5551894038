package ubl

import (
	"encoding/base64"
	"fmt"
	"strings"

	"cleantally/core/day"
	"cleantally/core/money"

	"github.com/shopspring/decimal"
)

// Read reads an invoice or a credit note. What is none, or says what cannot be,
// is refused with a sentence.
func Read(file []byte) (v Invoice, err error) {
	root, err := parse(file)
	if err != nil {
		return v, err
	}
	if root.name != "Invoice" && root.name != "CreditNote" {
		return v, fmt.Errorf("the file is no electronic invoice, but holds a %q", root.name)
	}
	r := reader{kind: root.name}
	code := root.said("DocumentCurrencyCode")
	if v.Currency, err = money.CurrencyOf(code); err != nil {
		return v, fmt.Errorf("the invoice is in a currency that is not known: %q", code)
	}
	r.cur = v.Currency
	v.Number, v.Day, v.Due = root.said("ID"), r.day(root, "IssueDate"), r.day(root, "DueDate")
	if v.Type = root.said("InvoiceTypeCode"); r.kind == "CreditNote" {
		v.Type, v.Due = root.said("CreditNoteTypeCode"), r.day(root, "PaymentMeans", "PaymentDueDate")
	}
	for _, n := range root.all("Note") {
		v.Notes = append(v.Notes, n.text)
	}
	v.Order, v.Project, v.Terms = root.said("OrderReference", "ID"), root.said("ProjectReference", "ID"), root.said("PaymentTerms", "Note")
	for _, p := range root.all("BillingReference", "InvoiceDocumentReference") {
		v.Preceding = append(v.Preceding, Preceding{p.said("ID"), r.day(p, "IssueDate")})
	}
	v.Seller, v.Buyer = partyOf(root, "AccountingSupplierParty"), partyOf(root, "AccountingCustomerParty")
	v.Delivered = r.day(root, "Delivery", "ActualDeliveryDate")
	if iban := root.said("PaymentMeans", "PayeeFinancialAccount", "ID"); iban != "" {
		v.Account = &Account{root.said("PaymentMeans", "PayeeFinancialAccount", "Name"), strings.ReplaceAll(iban, " ", ""), root.said("PaymentMeans", "PayeeFinancialAccount", "FinancialInstitutionBranch", "ID")}
	}
	v.Quoting = root.said("PaymentMeans", "PaymentID")
	for _, a := range root.all("AllowanceCharge") {
		v.Allowances = append(v.Allowances, Allowance{a.said("ChargeIndicator") == "true", r.amount(a, "Amount"), a.said("AllowanceChargeReason"), r.category(a, "TaxCategory")})
	}
	for _, t := range root.all("TaxTotal", "TaxSubtotal") {
		v.Taxes = append(v.Taxes, Tax{r.category(t, "TaxCategory"), r.amount(t, "TaxableAmount"), r.amount(t, "TaxAmount")})
	}
	for _, t := range root.all("TaxTotal") {
		if len(t.all("TaxSubtotal")) > 0 || v.Tax == 0 { // another states it in the currency of the books
			v.Tax = r.amount(t, "TaxAmount")
		}
	}
	for _, l := range root.all(r.kind + "Line") {
		v.Lines = append(v.Lines, r.line(l))
	}
	for _, t := range root.all("LegalMonetaryTotal") {
		v.LineTotal, v.Net, v.Gross, v.AllowanceTotal, v.ChargeTotal = r.amount(t, "LineExtensionAmount"), r.amount(t, "TaxExclusiveAmount"), r.amount(t, "TaxInclusiveAmount"), r.amount(t, "AllowanceTotalAmount"), r.amount(t, "ChargeTotalAmount")
		v.Prepaid, v.Rounding, v.Payable = r.amount(t, "PrepaidAmount"), r.amount(t, "PayableRoundingAmount"), r.amount(t, "PayableAmount")
	}
	for _, d := range root.all("AdditionalDocumentReference", "Attachment", "EmbeddedDocumentBinaryObject") {
		content, err := base64.StdEncoding.DecodeString(strings.Join(strings.Fields(d.text), ""))
		if err != nil {
			return v, fmt.Errorf("the file %q inside the invoice cannot be read", d.attr("filename"))
		}
		v.Files = append(v.Files, File{d.attr("filename"), d.attr("mimeCode"), content})
	}
	if v.Number == "" || v.Day == "" || len(v.Lines) == 0 {
		r.fail("the invoice has no number, no date or no line")
	}
	return v, r.err
}

type reader struct {
	kind string
	cur  money.Currency
	err  error // the first
}

func (r *reader) fail(text string, args ...any) {
	if r.err == nil {
		r.err = fmt.Errorf(text, args...)
	}
}

func (r *reader) day(e *element, path ...string) day.Day {
	text := e.said(path...)
	if text == "" {
		return ""
	}
	if len(text) > 10 {
		text = text[:10] // a time zone may follow
	}
	d, err := day.Parse(text)
	if err != nil {
		r.fail("the invoice says %q where a date should stand", text)
	}
	return d
}

func (r *reader) number(e *element, path ...string) decimal.Decimal {
	text := e.said(path...)
	if text == "" {
		return decimal.Zero
	}
	d, err := decimal.NewFromString(text)
	if err != nil || len(text) > 40 || d.Exponent() < -12 || d.Abs().GreaterThan(decimal.New(1, 15)) {
		r.fail("the invoice says %q where a number should stand", text)
		return decimal.Zero
	}
	return d
}

func (r *reader) amount(e *element, path ...string) money.Amount {
	d := r.number(e, path...).Shift(int32(r.cur.Places))
	if !d.IsInteger() {
		r.fail("the invoice says %q, which has more places than %s has", e.said(path...), r.cur.Code)
		return 0
	}
	return money.Amount(d.IntPart())
}

func (r *reader) category(e *element, name string) Category {
	return Category{e.said(name, "ID"), r.number(e, name, "Percent"), e.said(name, "TaxExemptionReason"), e.said(name, "TaxExemptionReasonCode")}
}

func (r *reader) line(e *element) Line {
	quantity := "InvoicedQuantity"
	if r.kind == "CreditNote" {
		quantity = "CreditedQuantity"
	}
	l := Line{Text: e.said("Item", "Name"), Quantity: r.number(e, quantity), Price: r.number(e, "Price", "PriceAmount"), Net: r.amount(e, "LineExtensionAmount")}
	for _, item := range e.all("Item") {
		l.Category = r.category(item, "ClassifiedTaxCategory")
	}
	if more := e.said("Item", "Description"); more != "" && more != l.Text {
		l.Text += "\n" + more
	}
	for _, q := range e.all(quantity) {
		l.Unit = q.attr("unitCode")
	}
	if per := r.number(e, "Price", "BaseQuantity"); per.IsPositive() {
		l.Price = l.Price.DivRound(per, 8)
	}
	for _, a := range e.all("AllowanceCharge") {
		amount := r.amount(a, "Amount")
		if a.said("ChargeIndicator") == "true" {
			amount = -amount
		}
		l.Allowance += amount
	}
	return l
}

func partyOf(root *element, role string) Party {
	found := root.all(role, "Party")
	if len(found) == 0 {
		return Party{}
	}
	e := found[0]
	p := Party{Name: e.said("PartyLegalEntity", "RegistrationName"), Country: e.said("PostalAddress", "Country", "IdentificationCode"), Contact: e.said("Contact", "Name"), Phone: e.said("Contact", "Telephone"), Email: e.said("Contact", "ElectronicMail")}
	if name := e.said("PartyName", "Name"); name != "" {
		p.Name = name
	}
	for _, t := range e.all("PartyTaxScheme") {
		if t.said("TaxScheme", "ID") == "VAT" {
			p.TaxNumber = t.said("CompanyID")
		}
	}
	for _, end := range e.all("EndpointID") {
		if end.attr("schemeID") == "EM" {
			p.Email = end.text
		}
	}
	for _, part := range []string{"StreetName", "AdditionalStreetName", "PostalZone", "CityName"} {
		if text := e.said("PostalAddress", part); text != "" {
			p.Lines = append(p.Lines, text)
		}
	}
	return p
}
