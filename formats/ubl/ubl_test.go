package ubl_test

import (
	"os"
	"reflect"
	"strings"
	"testing"

	"cleantally/core/money"
	"cleantally/formats/ubl"

	"github.com/shopspring/decimal"
)

func dec(text string) decimal.Decimal { return decimal.RequireFromString(text) }

var standard, zero = ubl.Category{Code: "S", Percent: dec("20")}, ubl.Category{Code: "Z", Percent: dec("0")}

// whole is an invoice with something of everything: two rates, a discount of a
// line and of the whole, a line below nil, what was paid before, rounding.
func whole() ubl.Invoice {
	cur, _ := money.CurrencyOf("EUR")
	return ubl.Invoice{Type: ubl.TypeInvoice, Number: "I26-1", Day: "2026-11-20", Due: "2026-12-20", Currency: cur, Notes: []string{"Thank you & <come> again"}, Order: "PO 7", Project: "101 Stair",
		Preceding: []ubl.Preceding{{Number: "AI26-1", Day: "2026-10-01"}},
		Seller:    ubl.Party{Name: "Sparrow & Winder", Lines: []string{"The Old Sailloft", "4 Lower Quay", "Haverling"}, Country: "ZZ", TaxNumber: "ZZ1", Email: "o@sw.example", Contact: "Wren", Phone: "055"},
		Buyer:     ubl.Party{Name: "Dunmarrow Builders", Lines: []string{"Yard 3", "Haverling"}, Country: "ZZ", TaxNumber: "ZZ2", Email: "d@dm.example", Contact: "Bram", Phone: "056"},
		Delivered: "2026-11-18", Account: &ubl.Account{Owner: "Sparrow & Winder", IBAN: "ZZ42SPWI000000000099", BIC: "SPWIZZ22"}, Quoting: "I26-1", Terms: "Payable by 20 Dec 2026.",
		Allowances: []ubl.Allowance{{Amount: 1000, Reason: "Discount", Category: standard}},
		Lines: []ubl.Line{
			{Text: "Oak treads\nplaned", Unit: "H87", Quantity: dec("3"), Price: dec("100.5"), Allowance: 150, Net: 30000, Category: standard},
			{Text: "Billed in advance", Unit: "C62", Quantity: dec("-1"), Price: dec("50"), Net: -5000, Category: standard},
			{Text: "Drawings", Unit: "HUR", Quantity: dec("1.5"), Price: dec("40"), Net: 6000, Category: zero},
		},
		Taxes:  []ubl.Tax{{Category: standard, Taxable: 24000, Tax: 4800}, {Category: zero, Taxable: 6000}},
		Totals: ubl.Totals{LineTotal: 31000, AllowanceTotal: 1000, Net: 30000, Tax: 4800, Gross: 34800, Prepaid: 10000, Rounding: 2, Payable: 24802},
		Files:  []ubl.File{{Name: "plan.pdf", Type: "application/pdf", Content: []byte("%PDF-1.7")}},
	}
}

// What is written is read back to the cent, as an invoice and as a credit note.
func TestWrittenIsReadBack(t *testing.T) {
	for _, kind := range []string{ubl.TypeInvoice, ubl.TypePrepayment, ubl.TypeCreditNote} {
		v := whole()
		if v.Type = kind; kind == ubl.TypeCreditNote {
			v.Project = "" // a credit note names none
		}
		if broken := ubl.Check(v); len(broken) > 0 {
			t.Fatalf("%s breaks %v", kind, broken)
		}
		file, err := ubl.Write(v)
		if err != nil {
			t.Fatal(err)
		}
		got, err := ubl.Read(file)
		if err != nil {
			t.Fatalf("%s: %v\n%s", kind, err, file)
		}
		if text, want := show(reflect.ValueOf(got)), show(reflect.ValueOf(v)); text != want {
			t.Errorf("%s is read back as\n%s\nand was\n%s", kind, text, want)
		}
	}
}

// show tells an invoice in words, decimals by what they are worth.
func show(x reflect.Value) string {
	if d, ok := x.Interface().(decimal.Decimal); ok {
		return d.String() + " "
	}
	var b strings.Builder
	switch x.Kind() {
	case reflect.Struct:
		for n := range x.NumField() {
			b.WriteString(x.Type().Field(n).Name + ":" + show(x.Field(n)))
		}
		b.WriteString("\n")
	case reflect.Slice:
		if x.Type().Elem().Kind() == reflect.Uint8 {
			return string(x.Bytes())
		}
		for n := range x.Len() {
			b.WriteString(show(x.Index(n)))
		}
	case reflect.Pointer:
		if !x.IsNil() {
			return show(x.Elem())
		}
	case reflect.String:
		return x.String() + " "
	case reflect.Bool:
		if x.Bool() {
			return "yes "
		}
	case reflect.Int64, reflect.Int:
		return decimal.NewFromInt(x.Int()).String() + " "
	}
	return b.String()
}

// Each rule of the norm is broken by one change, and named.
func TestRulesOfTheNorm(t *testing.T) {
	third := func(code, reason string) func(*ubl.Invoice) {
		return func(v *ubl.Invoice) {
			v.Taxes[1].Code, v.Taxes[1].Reason, v.Lines[2].Category.Code = code, reason, code
		}
	}
	for rule, change := range map[string]func(*ubl.Invoice){
		"BR-02":    func(v *ubl.Invoice) { v.Number = "" },
		"BR-03":    func(v *ubl.Invoice) { v.Day = "" },
		"BR-05":    func(v *ubl.Invoice) { v.Currency.Code = "" },
		"BR-06":    func(v *ubl.Invoice) { v.Seller.Name = "" },
		"BR-07":    func(v *ubl.Invoice) { v.Buyer.Name = "" },
		"BR-09":    func(v *ubl.Invoice) { v.Seller.Country = "" },
		"BR-11":    func(v *ubl.Invoice) { v.Buyer.Country = "" },
		"BR-16":    func(v *ubl.Invoice) { v.Lines = nil },
		"BR-23":    func(v *ubl.Invoice) { v.Lines[0].Unit = "" },
		"BR-25":    func(v *ubl.Invoice) { v.Lines[0].Text = " " },
		"BR-27":    func(v *ubl.Invoice) { v.Lines[1].Quantity, v.Lines[1].Price = dec("1"), dec("-50") },
		"BR-31":    func(v *ubl.Invoice) { v.Allowances[0].Amount = -1000 },
		"BR-33":    func(v *ubl.Invoice) { v.Allowances[0].Reason = "" },
		"BR-55":    func(v *ubl.Invoice) { v.Preceding[0].Number = "" },
		"BR-61":    func(v *ubl.Invoice) { v.Account.IBAN = "" },
		"BR-CO-10": func(v *ubl.Invoice) { v.LineTotal++ },
		"BR-CO-11": func(v *ubl.Invoice) { v.AllowanceTotal++ },
		"BR-CO-12": func(v *ubl.Invoice) { v.ChargeTotal++ },
		"BR-CO-13": func(v *ubl.Invoice) { v.Net++ },
		"BR-CO-14": func(v *ubl.Invoice) { v.Tax++ },
		"BR-CO-15": func(v *ubl.Invoice) { v.Gross++ },
		"BR-CO-16": func(v *ubl.Invoice) { v.Payable++ },
		"BR-CO-17": func(v *ubl.Invoice) { v.Taxes[0].Tax += 100 },
		"BR-CO-18": func(v *ubl.Invoice) { v.Taxes = nil },
		"BR-CO-25": func(v *ubl.Invoice) { v.Due, v.Terms = "", "" },
		"BR-CO-26": func(v *ubl.Invoice) { v.Seller.TaxNumber = "" },
		"BR-47":    func(v *ubl.Invoice) { v.Taxes[0].Code = "X" },
		"BR-S-01":  func(v *ubl.Invoice) { v.Taxes = v.Taxes[1:] },
		"BR-S-02":  func(v *ubl.Invoice) { v.Seller.TaxNumber = "" },
		"BR-S-05":  func(v *ubl.Invoice) { v.Taxes[0].Percent = dec("0") },
		"BR-S-08":  func(v *ubl.Invoice) { v.Taxes[0].Taxable++ },
		"BR-S-10":  func(v *ubl.Invoice) { v.Taxes[0].Reason = "none" },
		"BR-Z-01":  func(v *ubl.Invoice) { v.Taxes = append(v.Taxes, v.Taxes[1]) },
		"BR-Z-05":  func(v *ubl.Invoice) { v.Taxes[1].Percent = dec("5") },
		"BR-Z-09":  func(v *ubl.Invoice) { v.Taxes[1].Tax = 1 },
		"BR-Z-10":  func(v *ubl.Invoice) { v.Taxes[1].ReasonCode = "VATEX-EU-O" },
		"BR-E-10":  third("E", ""),
		"BR-G-10":  third("G", ""),
		"BR-AE-10": third("AE", ""),
		"BR-O-11":  third("O", "Outside"),
		"BR-AE-02": func(v *ubl.Invoice) { third("AE", "Reverse charge")(v); v.Buyer.TaxNumber = "" },
		"BR-IC-02": func(v *ubl.Invoice) { third("K", "Supply")(v); v.Buyer.TaxNumber = "" },
	} {
		v := whole()
		change(&v)
		found := false
		for _, b := range ubl.Check(v) {
			found = found || b.Rule == rule && b.Text != ""
		}
		if !found {
			t.Errorf("%s is not found: %v", rule, ubl.Check(v))
		}
	}
}

// What is no invoice, or says what cannot be, is refused with a sentence.
func TestBadFilesAreRefused(t *testing.T) {
	file, err := ubl.Write(whole())
	if err != nil {
		t.Fatal(err)
	}
	good := string(file)
	for name, text := range map[string]string{
		"nothing":              "",
		"no XML":               "I26-1;1200.00",
		"another document":     `<Order xmlns="urn:x"><ID>1</ID></Order>`,
		"cut off":              good[:len(good)/2],
		"an entity bomb":       `<!DOCTYPE x [<!ENTITY a "aaaa"><!ENTITY b "&a;&a;&a;">]><Invoice><ID>&b;</ID></Invoice>`,
		"a file from outside":  `<!DOCTYPE x [<!ENTITY a SYSTEM "file:///etc/passwd">]><Invoice><ID>&a;</ID></Invoice>`,
		"too deep":             strings.Repeat("<a>", 50) + strings.Repeat("</a>", 50),
		"a wrong date":         strings.Replace(good, "2026-11-20", "2026-13-40", 1),
		"too many places":      strings.Replace(good, ">248.02<", ">248.0222<", 1),
		"no number":            strings.Replace(good, ">248.02<", ">many<", 1),
		"an endless number":    strings.Replace(good, ">248.02<", ">1e999999999<", 1),
		"an unknown currency":  strings.ReplaceAll(good, ">EUR<", ">EURO<"),
		"another way to write": strings.Replace(good, `encoding="UTF-8"`, `encoding="UTF-16"`, 1),
		"a broken file inside": strings.Replace(good, "JVBERi0xLjc=", "%%%", 1),
		"without a line":       `<Invoice><ID>1</ID><IssueDate>2026-01-01</IssueDate><DocumentCurrencyCode>EUR</DocumentCurrencyCode></Invoice>`,
	} {
		if text == good {
			t.Fatalf("%s changes nothing", name)
		}
		if v, err := ubl.Read([]byte(text)); err == nil || len(err.Error()) < 20 {
			t.Errorf("%s: %v %+v", name, err, v.Totals)
		}
	}
}

// A file that others write is read too: other prefixes, a base quantity, a time
// zone.
func TestReadsOthers(t *testing.T) {
	file, err := os.ReadFile("testdata/other.xml")
	if err != nil {
		t.Fatal(err)
	}
	v, err := ubl.Read(file)
	if err != nil || v.Day != "2026-11-10" || v.Seller.Name != "Larkfield Crane & Lift" || v.Seller.TaxNumber != "ZZ77" || v.Lines[0].Price.String() != "400" || v.Lines[0].Text != "Crane hire\nwith driver" || v.Payable != 102000 {
		t.Errorf("read as %+v (%v)", v, err)
	}
}

func FuzzRead(f *testing.F) {
	file, err := ubl.Write(whole())
	if err != nil {
		f.Fatal(err)
	}
	f.Add(file)
	f.Fuzz(func(t *testing.T, file []byte) {
		v, err := ubl.Read(file)
		if err == nil && (v.Number == "" || len(v.Lines) == 0) {
			t.Errorf("read without a number or a line: %+v", v)
		}
		ubl.Check(v)
	})
}
