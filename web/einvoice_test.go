package web_test

import (
	"bytes"
	"fmt"
	"slices"
	"strings"
	"testing"

	"cleantally/formats/ubl"

	"github.com/shopspring/decimal"
)

// newElectronic is a client of a firm that may write electronic invoices.
func newElectronic(t *testing.T) *client {
	t.Helper()
	c := newClient(t)
	c.put("/firm", `{"name":"Sparrow & Winder","address":"The Old Sailloft\nHaverling","taxNumber":"ZZ1","country":"zz","terms":1,"taxCode":1}`).want(200)
	c.put("/customers/1", `{"name":"Odalys Brandt","address":"1 Quay\nHaverling","country":"ZZ","taxNumber":"ZZ9","email":"o@brandt.example"}`).want(200)
	return c
}

// written is a paper as an electronic invoice, read back.
func (c *client) written(paper string) ubl.Invoice {
	c.t.Helper()
	a := c.get("/papers/" + paper + "/ubl").want(200)
	if a.header.Get("Content-Type") != "application/xml" {
		c.t.Errorf("it is %s", a.header.Get("Content-Type"))
	}
	v, err := ubl.Read(a.body)
	if err != nil {
		c.t.Fatalf("%v: %s", err, a.body)
	}
	if broken := ubl.Check(v); len(broken) > 0 {
		c.t.Errorf("it breaks %v", broken)
	}
	return v
}

// E-1, the figures of the paper are those of the electronic invoice: lines, the
// discount of the whole by category, taxes, what was paid before.
func TestAnElectronicInvoiceSaysThePaper(t *testing.T) {
	c := newElectronic(t)
	c.post("/invoices?"+seen, `{"customer":1,"job":1,"day":"2026-11-20","orderNumber":"PO 7","discount":"10.00","lines":[{"text":"Treads","unit":"pc","quantity":"1","unitPrice":"100","taxCode":1},{"text":"Repair","unit":"h","quantity":"1","unitPrice":"33.33","taxCode":2}]}`).want(200)
	c.post("/receipts?"+seen, `{"customer":1,"day":"2026-11-20","bank":1,"method":"transfer","arrived":"44.91","placements":[{"item":1,"amount":"44.91"}]}`).want(200)
	v := c.written("1")
	if v.LineTotal != 13333 || v.AllowanceTotal != 1000 || v.Net != 12333 || v.Tax != 2158 || v.Gross != 14491 || v.Prepaid != 4491 || v.Payable != 10000 {
		t.Errorf("totals %+v", v.Totals)
	}
	if len(v.Allowances) != 2 || v.Allowances[0].Amount != 750 || v.Allowances[1].Amount != 250 || v.Taxes[0].Taxable != 9250 || v.Taxes[0].Tax != 1850 || v.Taxes[1].Tax != 308 {
		t.Errorf("by category %+v %+v", v.Allowances, v.Taxes)
	}
	if v.Type != "380" || v.Order != "PO 7" || v.Buyer.Name != "Odalys Brandt" || v.Buyer.TaxNumber != "ZZ9" || v.Seller.Country != "ZZ" || v.Lines[0].Unit != "H87" || v.Lines[1].Unit != "HUR" || v.Due == "" {
		t.Errorf("it says %+v", v)
	}
}

// What was billed in advance is taken off and named; what is kept back stands in
// the terms and stays payable; a credit note names its invoice; prices that include
// tax, discounts of lines and lines below nil come to the same cents.
func TestElectronicInvoicesOfAContract(t *testing.T) {
	c := newElectronic(t)
	advance := c.post("/deposit-invoices?"+seen, `{"customer":1,"job":1,"day":"2026-11-01","lines":[{"text":"In advance","net":"1000.00","taxCode":1}]}`).want(200).at("posted", "paper")
	if v := c.written(advance); v.Type != "386" || v.Payable != 120000 {
		t.Errorf("the deposit invoice: %s %+v", v.Type, v.Totals)
	}
	final := c.post("/invoices?"+seen, fmt.Sprintf(`{"customer":1,"job":1,"day":"2026-11-20","retention":{"amount":"200.00","reason":"agreed"},"lines":[{"text":"Stair","quantity":"3","unitPrice":"1333.33","discountPercent":"2.5","taxCode":1},{"text":"Off","quantity":"1","unitPrice":"-50","taxCode":1}],"deductions":[{"paper":%s}]}`, advance))
	id := final.want(200).at("posted", "paper")
	v := c.written(id)
	paper := c.get("/papers/" + id).want(200)
	total, _ := v.Currency.Parse(paper.at("total"))
	if v.Gross+v.Rounding != total {
		t.Errorf("the total is %d, of the paper %d", v.Gross, total)
	}
	if len(v.Preceding) != 1 || v.Preceding[0].Number != "AI26-0001" || !strings.Contains(v.Terms, "Of it 200.00 EUR is kept back") || v.Payable != v.Gross {
		t.Errorf("what went before and what is kept back: %+v %q %+v", v.Preceding, v.Terms, v.Totals)
	}
	if v.Lines[0].Allowance != 10000 || v.Lines[1].Quantity.String() != "-1" || v.Lines[1].Price.String() != "50" {
		t.Errorf("its lines %+v", v.Lines)
	}
	included := c.post("/invoices?"+seen, `{"customer":1,"day":"2026-11-20","includes":true,"lines":[{"text":"Cap","quantity":"7","unitPrice":"9.99","taxCode":1},{"text":"Peg","quantity":"3","unitPrice":"0.35","taxCode":2}]}`).want(200).at("posted", "paper")
	if v := c.written(included); v.Gross != 7098 {
		t.Errorf("prices that include tax: %+v", v.Totals)
	}
	credit := c.post("/credit-notes?"+seen, fmt.Sprintf(`{"paper":%s,"day":"2026-11-20","cause":"goodwill"}`, included))
	if v := c.written(credit.want(200).at("posted", "paper")); v.Type != "381" || v.Gross != 7098 || len(v.Preceding) != 1 {
		t.Errorf("the credit note: %s %+v %+v", v.Type, v.Totals, v.Preceding)
	}
}

// What the norm would not take is refused by the norm's rule, in a sentence; where
// the customer accounts for the tax their number is asked for before posting.
func TestElectronicInvoicesAreRefused(t *testing.T) {
	c := newElectronic(t)
	c.post("/invoices?"+seen, `{"customer":2,"day":"2026-11-20","lines":[{"text":"Rail","unitPrice":"100","taxCode":1}]}`).want(200)
	if a := c.get("/papers/1/ubl").refused(422, "BR-11"); !strings.Contains(string(a.body), "Say at the customer in which country they are.") {
		t.Errorf("refused: %s", a.body)
	}
	c.post("/taxcodes", `{"code":"RC","name":"Theirs","kind":"customer accounts","rates":[{"since":"2020-01-01","percent":"20"}]}`).want(200)
	c.post("/invoices?"+seen, `{"customer":2,"day":"2026-11-20","lines":[{"text":"Rail","unitPrice":"100","taxCode":4}]}`).refused(422, "no tax number")
	paper := c.post("/invoices?"+seen, `{"customer":1,"day":"2026-11-20","lines":[{"text":"Rail","unitPrice":"100","taxCode":4}]}`).want(200).at("posted", "paper")
	if v := c.written(paper); v.Taxes[0].Code != "AE" || v.Taxes[0].ReasonCode != "VATEX-EU-AE" || v.Tax != 0 {
		t.Errorf("theirs: %+v", v.Taxes)
	}
	c.post("/taxcodes", `{"code":"X1","kind":"charged","category":"AE","rates":[{"since":"2020-01-01","percent":"20"}]}`).refused(422, "another kind")
	c.post("/taxcodes", `{"code":"X1","kind":"charged","category":"E","rates":[{"since":"2020-01-01","percent":"20"}]}`).refused(422, "another rate")
	c.post("/taxcodes", `{"code":"EX","name":"Exempt","kind":"charged","category":"E","reason":"Made up reason","rates":[{"since":"2020-01-01","percent":"0"}]}`).want(200)
	paper = c.post("/invoices?"+seen, `{"customer":1,"day":"2026-11-20","lines":[{"text":"Rail","unitPrice":"100","taxCode":5}]}`).want(200).at("posted", "paper")
	if v := c.written(paper); v.Taxes[0].Code != "E" || v.Taxes[0].Reason != "Made up reason" {
		t.Errorf("exempt: %+v", v.Taxes)
	}
	c.put("/customers/1", `{"name":"Odalys Brandt","country":"Ireland"}`).refused(422, "form")
	receipt := c.post("/receipts?"+seen, `{"customer":1,"day":"2026-11-20","bank":1,"method":"transfer","arrived":"10","onAccount":true}`).want(200)
	c.get("/papers/"+receipt.at("posted", "paper")+"/ubl").refused(422, "another kind")
	c.get("/papers/999/ubl").want(404)
}

// A supplier's electronic invoice becomes a draft of a bill with the file, and what
// is inside it, attached: to the cent, and nothing is posted.
func TestASuppliersInvoiceIsReadAsABill(t *testing.T) {
	c := newElectronic(t)
	c.post("/customers", `{"name":"Larkfield Crane","supplier":true,"noCustomer":true,"taxNumber":"ZZ77"}`).want(200)
	cur := c.written(c.post("/invoices?"+seen, `{"customer":1,"day":"2026-11-20","lines":[{"text":"Rail","unitPrice":"100","taxCode":1}]}`).want(200).at("posted", "paper")).Currency
	v := ubl.Invoice{Type: ubl.TypeInvoice, Number: "LK-88", Day: "2026-11-10", Due: "2026-12-10", Currency: cur, Seller: ubl.Party{Name: "Larkfield Crane & Lift", Country: "ZZ", TaxNumber: "ZZ77"}, Buyer: ubl.Party{Name: "Sparrow & Winder", Country: "ZZ"},
		Lines: []ubl.Line{{Text: "Crane hire\nwith driver", Unit: "DAY", Quantity: decimal.RequireFromString("2"), Price: decimal.RequireFromString("400"), Net: 80000, Category: ubl.Category{Code: "S", Percent: decimal.RequireFromString("20")}}},
		Taxes: []ubl.Tax{{Category: ubl.Category{Code: "S", Percent: decimal.RequireFromString("20")}, Taxable: 80000, Tax: 16000}}, Totals: ubl.Totals{LineTotal: 80000, Net: 80000, Tax: 16000, Gross: 96000, Payable: 96000},
		Files: []ubl.File{{Name: "LK-88.pdf", Type: "application/pdf", Content: []byte("%PDF-1.7\nmade up")}}}
	send := func(v ubl.Invoice) answer {
		file, err := ubl.Write(v)
		if err != nil {
			t.Fatal(err)
		}
		return c.do("POST", "/supplier-bills/read", string(file), "Content-Type", "application/octet-stream")
	}
	got := send(v).want(200)
	if got.at("known") != "true" || got.at("supplier") != "Larkfield Crane" || got.at("says") != "[]" {
		t.Errorf("read: %s", got.body)
	}
	draft := c.get("/drafts/" + got.at("draft")).want(200)
	if draft.at("total") != "960.00" || draft.at("body", "reference") != "LK-88" || draft.at("body", "lines", 0, "text") != "Crane hire with driver" || draft.at("body", "lines", 0, "quantity") != "2" || draft.at("body", "total") != "960.00" {
		t.Errorf("the draft: %s", draft.body)
	}
	if files := c.get("/attachments?draft=" + got.at("draft")).want(200); files.at("rows", 0, "name") != "LK-88.xml" || files.at("rows", 1, "type") != "application/pdf" {
		t.Errorf("attached: %s", files.body)
	}
	// Written to somebody else, and with a text that has no end.
	wrong := v
	wrong.Buyer.TaxNumber, wrong.Number = "ZZ 99", "LK-89"
	wrong.Lines = slices.Clone(v.Lines)
	wrong.Lines[0].Text = strings.Repeat("é", 900)
	if got := send(wrong).want(200); !strings.Contains(got.at("says"), "It is written to Sparrow & Winder, tax number ZZ 99, and ours is ZZ1") {
		t.Errorf("another's: %s", got.body)
	}
	wrong.Buyer.TaxNumber = "zz 1"
	if got := send(wrong).want(200); got.at("says") != "[]" {
		t.Errorf("ours, written otherwise: %s", got.body)
	}
	// Somebody new, at a rate that we do not have.
	v.Seller, v.Number = ubl.Party{Name: "Somebody New", Country: "ZZ", TaxNumber: "ZZ5"}, "N-1"
	v.Lines[0].Category.Percent, v.Taxes[0].Percent, v.Taxes[0].Tax, v.Tax, v.Gross, v.Payable = decimal.RequireFromString("7"), decimal.RequireFromString("7"), 5600, 5600, 85600, 85600
	if got = send(v).want(200); got.at("known") != "false" || !strings.Contains(got.at("says"), "Somebody New is not a supplier yet") || !strings.Contains(got.at("says"), "No tax code of ours is 7 % (S)") {
		t.Errorf("somebody new: %s", got.body)
	}
	v.Type = ubl.TypeCreditNote
	send(v).refused(422, "credit note")
	before := c.get("/drafts").want(200)
	c.do("POST", "/supplier-bills/read", "not a file", "Content-Type", "application/octet-stream").refused(422, "not read")
	if after := c.get("/drafts").want(200); !bytes.Equal(before.body, after.body) {
		t.Error("a refused file left something behind")
	}
}

// A deposit that was taxed on receipt goes out as a prepayment invoice that is
// paid, and the invoice that it is set against names it.
func TestATaxedDepositIsAPrepaymentInvoice(t *testing.T) {
	c := newElectronic(t)
	for _, x := range []struct {
		code               int
		gross              string
		net, tax, category any
	}{{1, "1200.00", 100000, 20000, "S"}, {2, "99.99", 9090, 909, "S"}, {3, "50.00", 0, 0, ""}} {
		id := c.must("/deposits", strings.TrimSuffix(deposit(1, "2026-11-01", x.gross), "}")+fmt.Sprintf(`,"taxCode":%d}`, x.code)).at("posted", "paper")
		if x.category == "" { // without tax inside it is no invoice
			c.get("/papers/"+id+"/ubl").refused(422, "another kind")
			if p := c.get("/papers/" + id); p.at("electronic") != "false" {
				t.Errorf("%s", p.body)
			}
			continue
		}
		v := c.written(id)
		if v.Type != "386" || int(v.Net) != x.net || int(v.Tax) != x.tax || v.Prepaid != v.Gross || v.Payable != 0 || v.Taxes[0].Code != x.category || len(v.Lines) != 1 {
			t.Errorf("%s: %+v", x.gross, v)
		}
	}
	c.must("/invoices", invoice(1, "2026-11-20", "1000"))
	c.must("/allocations", `{"day":"2026-11-20","pairs":[{"debit":4,"credit":1,"amount":"1200.00"}]}`)
	if v := c.written("4"); v.Prepaid != 120000 || v.Payable != 0 || len(v.Preceding) != 1 || v.Preceding[0].Number != "D26-0001" {
		t.Errorf("the invoice: %+v", v)
	}
}

// In another currency the invoice is in that, with its tax in the books' as well
// (BT-6, BT-111); one that a supplier sends in a currency that is in use becomes a
// bill in it.
func TestElectronicInvoicesAbroad(t *testing.T) {
	c := newElectronic(t)
	c.goAbroad()
	id := c.post("/invoices?"+seen, abroad("USD", "1000.00", 1, "2026-11-12", "0.92", "")).want(200).at("posted", "paper")
	v := c.written(id)
	if v.Currency.Code != "USD" || v.Tax != 20000 || v.Payable != 120000 {
		t.Errorf("in dollars: %s %+v", v.Currency.Code, v.Totals)
	}
	file := string(c.get("/papers/" + id + "/ubl").want(200).body)
	if !strings.Contains(file, `<cbc:TaxCurrencyCode>EUR</cbc:TaxCurrencyCode>`) || !strings.Contains(file, `<cbc:TaxAmount currencyID="EUR">184.00</cbc:TaxAmount>`) {
		t.Errorf("its tax in the books' currency: %s", file)
	}
	read := c.do("POST", "/supplier-bills/read", file, "Content-Type", "application/octet-stream").want(200)
	draft := c.get("/drafts/" + read.at("draft")).want(200)
	if draft.at("body", "currency") != "USD" || draft.at("body", "total") != "1200.00" || draft.at("body", "tax") != "200.00" {
		t.Errorf("the draft: %s", draft.body)
	}
	c.do("POST", "/supplier-bills/read", strings.ReplaceAll(file, "USD", "CHF"), "Content-Type", "application/octet-stream").refused(422, "another currency")
}
