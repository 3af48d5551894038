package web_test

import (
	"strings"
	"testing"
)

// sells returns a firm with ten balusters (article 1) at 70.00 in stock and two
// lift motors (2) in numbered pieces.
func sells(t *testing.T) *client {
	t.Helper()
	c := newClient(t)
	c.post("/articles", `{"code":"BAL","name":"Baluster","kind":"material","price":"120","taxCode":1,"stocked":true}`).want(200)
	c.post("/articles", `{"code":"MOT","name":"Lift motor","kind":"material","price":"900","taxCode":1,"stocked":true,"serial":true}`).want(200)
	c.post("/stock/counts", `{"day":"2026-10-01","opening":true,"lines":[{"article":1,"quantity":"10","cost":"70"},{"article":2,"quantity":"2","cost":"500","serials":["M1","M2"]}]}`).want(200)
	return c
}

// E-14 and what stands beside it, as a client sends it: to stock, scrapped,
// split, by numbers, all at once.
func TestGoodsComeBackThroughTheAPI(t *testing.T) {
	c := sells(t)
	c.try("/invoices", `{"customer":1,"day":"2026-10-02","lines":[{"text":"older","unitPrice":"200","taxCode":3}]}`, "Dr 120 200.00, Cr 401 200.00")
	c.try("/invoices", `{"customer":1,"day":"2026-11-02","lines":[{"article":1,"text":"Baluster","quantity":"6","unitPrice":"120","taxCode":1},{"article":2,"text":"Motor","quantity":"1","unitPrice":"900","taxCode":1,"serials":["M2"]}]}`,
		"Dr 120 1944.00, Cr 405 1620.00, Cr 241 324.00, Dr 501 920.00, Cr 141 920.00")
	if a := c.get("/papers/3/creditable"); a.at("lines", 0, "out") != "6" || a.at("lines", 1, "serials", 0) != "M2" || a.at("lines", 1, "numbered") != "true" {
		t.Errorf("what can come back: %s", a.body)
	}
	credit := func(lines, rest string) string {
		return `{"paper":3,"day":"2026-11-20","cause":"return","reference":"R 4","what":"lines","lines":[` + lines + `]` + rest + `}`
	}
	c.try("/credit-notes", credit(`{"position":1,"quantity":"2","back":"2"}`, `,"own":true,"setAgainst":[{"item":1,"amount":"200.00"}]`), "Dr 405 240.00, Dr 241 48.00, Cr 120 288.00, Dr 141 140.00, Cr 501 140.00")
	if a := c.get("/customers/1/bench"); a.at("owed", 0, "number") != "I26-0002" || a.at("owed", 0, "open") != "1856.00" {
		t.Errorf("settled: %s", a.body)
	}
	for body, want := range map[string]string{
		credit(`{"position":1,"quantity":"2","back":"3"}`, ""):                  "lines[0].back more than is credited 2",
		credit(`{"position":1,"quantity":"5","back":"1"}`, ""):                  "lines[0].quantity more than is left 4",
		credit(`{"position":2,"quantity":"1","back":"1","serials":["M1"]}`, ""): "lines[0].serials not sold M1",
		credit(`{"position":1,"amount":"5","back":"1"}`, ""):                    "lines[0].back no goods 0",
		`{"paper":3,"day":"2026-11-20","what":"all"}`:                           "cause missing ",
	} {
		a := c.post("/credit-notes", body).want(422)
		if got := a.at("refusals", 0, "field") + " " + a.at("refusals", 0, "rule") + " " + a.at("refusals", 0, "limit"); got != want {
			t.Errorf("%s: %s, want %s", body, got, want)
		}
	}
	c.try("/credit-notes", credit(`{"position":1,"quantity":"2","back":"1"}`, ""), "Dr 405 240.00, Dr 241 48.00, Cr 120 288.00, Dr 141 70.00, Cr 501 70.00")
	// All that is left, its goods to stock: two balusters and the motor.
	c.try("/credit-notes", `{"paper":3,"day":"2026-11-20","cause":"return","goodsBack":true,"own":true}`, "Dr 405 1140.00, Dr 241 228.00, Cr 120 1368.00, Dr 141 640.00, Cr 501 640.00")
	if a := c.get("/stock"); a.at("rows", 0, "quantity") != "9" || a.at("sums", "value") != "1630.00" {
		t.Errorf("stock: %s", a.body)
	}
	if a := c.get("/stock/2"); a.at("serials") != "[M1 M2]" {
		t.Errorf("the numbers that are there: %s", a.at("serials"))
	}
	c.tiesOut()
}

// Before it is billed, what was delivered comes back by a return; swapped, it
// goes out again.
func TestGoodsReturnThroughTheAPI(t *testing.T) {
	c := sells(t)
	c.try("/orders", `{"customer":1,"job":1,"day":"2026-11-02","lines":[{"article":1,"text":"Baluster","quantity":"6","unitPrice":"120","taxCode":1}]}`)
	c.try("/deliveries", `{"order":2,"day":"2026-11-03","lines":[{"position":1,"quantity":"5"}]}`, "Dr 501 350.00, Cr 141 350.00")
	back := func(line, rest string) string {
		return `{"order":2,"day":"2026-11-04","reason":"scratched","lines":[{"position":1,` + line + `}]` + rest + `}`
	}
	c.try("/returns", back(`"quantity":"2","back":"1"`, ""), "Dr 141 70.00, Cr 501 70.00")
	if a := c.get("/order-book?order=2"); a.at("rows", 0, "lines", 0, "delivered") != "3" || a.at("rows", 0, "lines", 0, "leftToDeliver") != "3" {
		t.Errorf("of the order: %s", a.body)
	}
	a := c.post("/returns", back(`"quantity":"4"`, "")).want(422)
	if a.at("refusals", 0, "rule") != "more than is left" || a.at("refusals", 0, "limit") != "3" {
		t.Errorf("more than was delivered: %s", a.body)
	}
	c.post("/returns", strings.Replace(back(`"quantity":"1"`, ""), "scratched", "", 1)).want(422)
	c.try("/returns", back(`"quantity":"1","back":"1"`, `,"swap":true`))
	if a := c.get("/papers/5/copy?again=true").want(200); a.at("kind") != "return" || a.at("body", "swap") != "true" {
		t.Errorf("as it was written: %s", a.body)
	}
	c.try("/reversals", `{"paper":4,"day":"2026-11-05","reason":"it stayed"}`, "Dr 501 70.00, Cr 141 70.00")
	c.tiesOut()
}

// An invoice that the customer has got is taken back by a credit note.
func TestASentInvoiceIsCredited(t *testing.T) {
	c := newClient(t)
	c.post("/invoices", invoice(1, "2026-11-02", "100")).want(200)
	c.post("/papers/1/events", `{"event":"sent","text":"by mail"}`).want(204)
	if a := c.post("/reversals", `{"paper":1,"day":"2026-11-20","reason":"wrong"}`).want(422); a.at("refusals", 0, "rule") != "was sent" {
		t.Errorf("reversed: %s", a.body)
	}
	c.post("/invoices?again=1&againDay=2026-11-20&againReason=wrong", invoice(1, "2026-11-02", "90")).want(422)
	c.try("/credit-notes", `{"paper":1,"day":"2026-11-20","cause":"other","text":"billed wrongly","own":true}`, "Dr 401 100.00, Dr 241 20.00, Cr 120 120.00")
	c.tiesOut()
}
