package web_test

import (
	"strings"
	"testing"
)

// buys returns a firm with a supplier (2), a job of customer 1 with a markup of
// 12.5 %, and an article (1) that is kept in stock.
func buys(t *testing.T) *client {
	t.Helper()
	c := newClient(t)
	c.post("/customers", `{"name":"Larkfield Crane","noCustomer":true}`).want(200)
	c.put("/jobs/1", `{"name":"Stair","customer":1,"contractSum":"8000.00","markup":"12.5","budget":"500.00"}`).want(200)
	c.post("/articles", `{"code":"BAL","name":"Baluster","kind":"material","price":"120","taxCode":1,"stocked":true}`).want(200)
	return c
}

func (c *client) supplier() string { return c.get("/suppliers").want(200).at("rows", 0, "id") }

// E-11 and E-12 as a client sends them: the crane and the permit fee wait, are
// told with their sum, are billed once, and are free again when they are
// credited.
func TestCostsThroughTheAPI(t *testing.T) {
	c := buys(t)
	s := c.supplier()
	crane := `{"supplier":` + s + `,"day":"2026-11-02","reference":"778","lines":[{"text":"Crane hire","job":1,"net":"480.00","taxCode":1,"passOn":"supply"}]}`
	c.try("/supplier-bills", crane, "Dr 511 480.00, Dr 151 96.00, Cr 201 576.00")
	c.try("/expenses", `{"supplier":`+s+`,"day":"2026-11-02","bank":1,"method":"card","lines":[{"text":"Permit fee","job":1,"net":"206.00","taxCode":3,"passOn":"behalf"}]}`, "Dr 131 206.00, Cr 101 206.00")
	if a := c.get("/costs?job=1").want(200); a.at("count") != "2" || a.at("sums", "left") != "686.00" || a.at("rows", 0, "markup") != "12.5" {
		t.Errorf("what waits: %s", a.body)
	}
	if a := c.get("/desk"); !strings.Contains(string(a.body), `"group":"cost","count":2,"sum":"686.00"`) {
		t.Errorf("the desk: %s", a.body)
	}
	if a := c.get("/blank?job=1&kind=invoice&finish=true"); a.at("costs", 0, "left") != "480.00" || a.at("costs", 1, "passOn") != "behalf" {
		t.Errorf("finishing the job: %s", a.at("costs"))
	}
	passed := `{"customer":1,"job":1,"day":"2026-11-20","lines":[{"costs":[{"paper":1,"line":1}]},{"costs":[{"paper":2,"line":1}]}]}`
	// A draft keeps them from another, and lets them go when it is thrown away.
	draft := c.post("/drafts", `{"kind":"invoice","body":`+passed+`}`).want(200).at("id")
	if a := c.post("/invoices", passed).want(422); a.at("refusals", 0, "rule") != "on a draft" || a.at("refusals", 0, "field") != "lines[0].costs[0].amount" {
		t.Errorf("on a draft: %s", a.body)
	}
	if a := c.get("/costs?job=1"); a.at("rows", 0, "taken") != "true" || a.at("sums", "onDrafts") != "686.00" {
		t.Errorf("on a draft: %s", a.body)
	}
	c.do("DELETE", "/drafts/"+draft, "").want(204)
	c.try("/invoices", passed, "Dr 120 854.00, Cr 411 540.00, Cr 241 108.00, Cr 131 206.00")
	if a := c.post("/invoices", passed).want(422); a.at("refusals", 0, "limit") != "0.00" {
		t.Errorf("billed twice: %s", a.body)
	}
	if a := c.get("/jobs/1"); a.at("billed") != "0.00" || a.at("leftToBill") != "8000.00" {
		t.Errorf("what is passed on is no work: %s", a.body)
	}
	if a := c.get("/jobs/1/margin"); a.at("incomeSum") != "540.00" || a.at("costsSum") != "480.00" || a.at("margin") != "60.00" || a.at("percent") != "11.1" || a.at("leftOfBudget") != "20.00" || a.at("onBehalf") != "206.00" {
		t.Errorf("the margin: %s", a.body)
	}
	if a := c.get("/margins").want(200); a.at("rows", 0, "margin") != "60.00" || a.at("sums", "costs") != "480.00" {
		t.Errorf("jobs by margin: %s", a.body)
	}
	// The supplier gives back what was billed: a credit to the customer is proposed.
	c.try("/supplier-credits", `{"paper":1,"day":"2026-11-20","reason":"half the time","lines":[{"position":1,"amount":"120.00"}]}`, "Dr 201 144.00, Cr 511 120.00, Cr 151 24.00")
	if a := c.get("/desk"); !strings.Contains(string(a.body), `"group":"cost credited","count":1,"sum":"120.00"`) {
		t.Errorf("the desk: %s", a.body)
	}
	if a := c.get("/papers/3/creditable"); a.at("lines", 0, "givenBack") != "135.00" || a.at("ofOrder") != "false" {
		t.Errorf("what is proposed: %s", a.body)
	}
	c.try("/credit-notes", `{"paper":3,"day":"2026-11-20","cause":"price","what":"lines","lines":[{"position":1,"amount":"135.00"}],"own":true}`, "Dr 411 135.00, Dr 241 27.00, Cr 120 162.00")
	if a := c.get("/costs?job=1"); a.at("count") != "0" {
		t.Errorf("what waits in the end: %s", a.body)
	}
	if a := c.get("/papers/3/copy?again=true"); a.at("body", "lines", 1, "costs", 0, "paper") != "2" {
		t.Errorf("put right: %s", a.body)
	}
	if a := c.post("/supplier-bills", crane).want(409); a.at("warnings", 0, "rule") != "billed twice?" {
		t.Errorf("a supplier's number entered twice: %s", a.body)
	}
}

// What is to come of an article is told as it stood on a day: before the goods
// came, before the rest was called off, before the order was taken back.
func TestWhatWasToCome(t *testing.T) {
	c := buys(t)
	s := c.supplier()
	order := func(day, quantity string) string {
		return c.must("/purchase-orders", `{"supplier":`+s+`,"day":"`+day+`","lines":[{"text":"Balusters","article":1,"quantity":"`+quantity+`","unitPrice":"70","taxCode":1}]}`).at("posted", "paper")
	}
	first, second := order("2026-11-02", "10"), order("2026-11-03", "5")
	c.must("/goods-received", `{"order":`+first+`,"day":"2026-11-05","lines":[{"position":1,"quantity":"6"}]}`)
	c.must("/purchase-orders/cancellations", `{"order":`+first+`,"day":"2026-11-09","note":"sold out","lines":[{"position":1,"quantity":"4"}]}`)
	c.must("/reversals", `{"paper":`+second+`,"day":"2026-11-12","reason":"wrong"}`)
	for day, want := range map[string]string{"2026-11-01": "0", "2026-11-02": "10", "2026-11-04": "15", "2026-11-06": "9", "2026-11-10": "5", "2026-11-12": "0"} {
		if a := c.get("/stock?asOf=" + day).want(200); a.at("rows", 0, "toCome") != want {
			t.Errorf("on %s: %s, want %s", day, a.at("rows", 0, "toCome"), want)
		}
	}
	if a := c.get("/stock").want(200); a.at("rows", 0, "toCome") != "0" {
		t.Errorf("%s", a.body)
	}
	c.tiesOut()
}

// What we buy, as a client sends it: an order that comes and is billed, stock
// that ties out, what we keep back, a run of payments and its file.
func TestBuyingThroughTheAPI(t *testing.T) {
	c := buys(t)
	s := c.supplier()
	c.put("/customers/"+s, `{"name":"Larkfield Crane","noCustomer":true,"iban":"ZZ12SPWI000000000001"}`).want(422)
	c.put("/customers/"+s, `{"name":"Larkfield Crane","noCustomer":true,"iban":"ZZ17 LARK 0000 0000 778","keepBack":"5"}`).want(200)
	c.try("/purchase-orders", `{"supplier":`+s+`,"day":"2026-11-02","expected":"2026-11-10","lines":[{"text":"Balusters","article":1,"quantity":"10","unitPrice":"70","taxCode":1}]}`)
	if a := c.get("/suppliers/" + s).want(200); a.at("orders", 0, "lines", 0, "leftToDeliver") != "10" || a.at("orders", 0, "late") != "true" {
		t.Errorf("ordered: %s", a.body)
	}
	if a := c.get("/desk"); !strings.Contains(string(a.body), `"group":"purchase order","count":1`) {
		t.Errorf("late: %s", a.body)
	}
	c.try("/goods-received", `{"order":1,"day":"2026-11-03","lines":[{"position":1,"quantity":"6"}]}`, "Dr 141 420.00, Cr 208 420.00")
	c.try("/stock/uses", `{"job":1,"day":"2026-11-04","lines":[{"article":1,"quantity":"3"}]}`, "Dr 511 210.00, Cr 141 210.00")
	c.try("/supplier-bills", `{"supplier":`+s+`,"day":"2026-11-05","due":"2026-11-25","earlyPercent":"2","earlyUntil":"2026-11-22","reference":"LF 9","retention":"0","lines":[{"order":1,"orderLine":1,"quantity":"10","unitPrice":"76"}]}`,
		"Dr 141 322.00, Dr 151 152.00, Dr 208 420.00, Dr 501 18.00, Cr 201 912.00")
	if a := c.get("/stock").want(200); a.at("rows", 0, "quantity") != "7" || a.at("rows", 0, "value") != "532.00" || a.at("rows", 0, "average") != "76.00" {
		t.Errorf("stock: %s", a.body)
	}
	if a := c.get("/stock?asOf=2026-11-03"); a.at("rows", 0, "quantity") != "6" || a.at("sums", "value") != "420.00" {
		t.Errorf("stock on the 3rd: %s", a.body)
	}
	if a := c.get("/stock/1"); a.at("moves", 0, "there") != "7" || a.at("moves", 0, "worth") != "532.00" {
		t.Errorf("the register: %s", a.body)
	}
	c.try("/stock/counts", `{"day":"2026-11-06","lines":[{"article":1,"quantity":"6"}]}`, "Dr 501 76.00, Cr 141 76.00")
	c.try("/invoices", `{"customer":1,"day":"2026-11-06","lines":[{"article":1,"text":"Baluster","quantity":"6","unitPrice":"120","taxCode":1}]}`, "Dr 120 864.00, Cr 405 720.00, Cr 241 144.00, Dr 501 456.00, Cr 141 456.00")
	c.try("/supplier-bills", `{"supplier":`+s+`,"day":"2026-11-06","due":"2026-11-24","reference":"LF 10","expected":"2026-12-10","lines":[{"text":"Groundwork","job":1,"net":"5000.00","taxCode":1}]}`,
		"Dr 511 5000.00, Dr 151 1000.00, Cr 201 5750.00, Cr 205 250.00")
	if a := c.get("/suppliers/" + s); a.at("position", "notYetDue") != "6662.00" || a.at("position", "keepBack") != "250.00" || a.at("position", "net") != "6912.00" {
		t.Errorf("where we stand: %s", a.at("position"))
	}
	if a := c.get("/papers?q=LF+10"); a.at("rows", 0, "open") != "5750.00" {
		t.Errorf("what we keep back is not to be paid: %s", a.body)
	}
	if a := c.get("/ageing?payable=true&basis=paper"); a.at("total", "total") != "6662.00" || a.at("total", "keptBack") != "250.00" {
		t.Errorf("the ageing: %s", a.body)
	}
	owed := c.get("/payables").want(200)
	if owed.at("rows", 1, "early") != "18.24" || owed.at("paying") != "6643.76" {
		t.Errorf("what could be paid: %s", owed.body)
	}
	c.try("/payment-runs", `{"day":"2026-11-20","bank":1,"method":"transfer","payments":[{"supplier":`+s+`,"bills":[{"item":`+owed.at("rows", 0, "id")+`},{"item":`+owed.at("rows", 1, "id")+`,"discount":true}]}]}`,
		"Dr 201 6662.00, Cr 101 6643.76, Cr 445 15.20, Cr 151 3.04")
	if a := c.get("/papers?q=LF+9"); a.at("rows", 0, "state") != "settled" {
		t.Errorf("paid with its discount: %s", a.body)
	} else if a := c.get("/papers/" + a.at("rows", 0, "id")); a.at("allocations", 0, "kind") != "supplier payment" || a.at("allocations", 0, "debit") != a.at("number") {
		t.Errorf("what settled it: %s", a.at("allocations"))
	}
	if a := c.get("/suppliers/" + s + "/story"); a.at("rows", 4, "balance") != "0.00" {
		t.Errorf("the story: %s", a.body)
	}
	pay := c.get("/bank-payments").want(200)
	if pay.at("rows", 0, "amount") != "6643.76" || pay.at("rows", 0, "text") != "LF 10, LF 9" {
		t.Errorf("for the bank: %s", pay.body)
	}
	file := `{"papers":[` + pay.at("rows", 0, "id") + `]}`
	if a := c.post("/bank-payments/file", file).want(422); !strings.Contains(string(a.body), "has no IBAN") {
		t.Errorf("without an account: %s", a.body)
	}
	c.put("/banks/1", `{"name":"Bank","account":1,"iban":"ZZ69 SPWI 0000 0000 0001"}`).want(200)
	if a := c.post("/bank-payments/file", file).want(200); !strings.Contains(string(a.body), "<CtrlSum>6643.76</CtrlSum>") {
		t.Errorf("the file: %s", a.body)
	}
	if a := c.post("/bank-payments/file", file).want(422); a.at("refusals", 0, "rule") != "written already" {
		t.Errorf("written twice: %s", a.body)
	}
	c.get("/tie-out").want(200)
}

// A purchase order is billed as it was ordered, with its discount, its account
// and how it is passed on.
func TestAnOrderIsBilledAsItWasOrdered(t *testing.T) {
	c := buys(t)
	c.try("/purchase-orders", `{"supplier":`+c.supplier()+`,"day":"2026-11-02","lines":[{"text":"Lamps","job":1,"quantity":"4","unitPrice":"50","discountPercent":"10","taxCode":1,"passOn":"supply","markup":"20"},{"text":"Fee","job":1,"net":"30","taxCode":3,"passOn":"behalf"}]}`)
	a := c.get("/blank?order=1&kind=expense").want(200)
	if job := c.get("/blank?job=1&kind=expense"); a.at("supplier") != c.supplier() || job.at("customer") != "1" || job.at("supplier") != "0" {
		t.Errorf("whom one buys from: %s, of a job %s", a.at("supplier"), job.at("supplier"))
	}
	c.try("/expenses", `{"supplier":`+c.supplier()+`,"day":"2026-11-03","bank":1,"method":"card","lines":`+a.sent("bought", "bill")+`}`, "Dr 131 30.00, Dr 511 180.00, Dr 151 36.00, Cr 101 246.00")
	if a := c.get("/costs?ids=2001&ids=2002").want(200); a.at("rows", 0, "left") != "180.00" || a.at("rows", 0, "markup") != "20" || a.at("rows", 1, "passOn") != "behalf" {
		t.Errorf("what waits: %s", a.body)
	}
	if a := c.get("/blank?order=1&kind=expense"); a.at("bought", "bill") != "[]" {
		t.Errorf("billed again: %s", a.at("bought"))
	}
	if a := c.get("/blank?costs=2002&kind=cost+not+passed+on"); a.at("costs", 0, "text") != "Fee" || strings.Contains(string(a.body), "Lamps") {
		t.Errorf("those that are named: %s", a.at("costs"))
	}
}

// The supplier's own tax, prepayments, what goes back, and what is refused, as a
// client sends it.
func TestBuyingIsRefused(t *testing.T) {
	c := buys(t)
	s := c.supplier()
	bill := func(rest string) string {
		return `{"supplier":` + s + `,"day":"2026-11-02"` + rest + `,"lines":[{"text":"a","article":1,"quantity":"2","unitPrice":"16.665","taxCode":1}]}`
	}
	for body, want := range map[string]string{
		bill(`,"total":"40.01"`): "total sums differ 40.00",
		bill(`,"tax":"9.00"`):    "tax beyond the limit 1.00",
		`{"supplier":` + s + `,"day":"2026-11-02","lines":[{"text":"a","job":1,"net":"1","taxCode":1,"passOn":"supply","markup":"-100"}]}`: "lines[0].markup out of bounds -100",
		`{"supplier":` + s + `,"day":"2026-11-02","lines":[{"text":"a","net":"1","taxCode":1}]}`:                                           "lines[0].account missing ",
	} {
		a := c.post("/supplier-bills", body).want(422)
		if got := a.at("refusals", 0, "field") + " " + a.at("refusals", 0, "rule") + " " + a.at("refusals", 0, "limit"); got != want {
			t.Errorf("%s: %s, want %s", body, got, want)
		}
	}
	c.try("/supplier-bills", bill(`,"total":"40.01","tax":"6.68"`), "Dr 141 33.33, Dr 151 6.68, Cr 201 40.01")
	if a := c.get("/papers/1/creditable").want(200); a.at("lines", 0, "quantity") != "2" || a.at("lines", 0, "stocked") != "true" {
		t.Errorf("what can go back: %s", a.body)
	}
	if a := c.post("/supplier-credits", `{"paper":1,"day":"2026-11-03","reason":"cracked","lines":[{"position":1,"quantity":"3","back":true}]}`).want(422); a.at("refusals", 0, "limit") != "2" {
		t.Errorf("more returned than was bought: %s", a.body)
	}
	c.try("/supplier-credits", `{"paper":1,"day":"2026-11-03","reason":"cracked","open":true,"lines":[{"position":1,"quantity":"1","back":true}]}`, "Dr 201 20.01, Cr 141 16.67, Cr 151 3.34")
	bench := c.get("/suppliers/" + s + "/bench").want(200)
	c.try("/allocations", `{"day":"2026-11-04","pairs":[{"debit":`+bench.at("credits", 0, "id")+`,"credit":`+bench.at("owed", 0, "id")+`}]}`)
	c.try("/supplier-prepayments", `{"supplier":`+s+`,"day":"2026-11-04","amount":"1000","bank":1,"method":"transfer"}`, "Dr 161 1000.00, Cr 101 1000.00")
	bench = c.get("/suppliers/" + s + "/bench")
	c.try("/allocations", `{"day":"2026-11-04","pairs":[{"debit":`+bench.at("credits", 0, "id")+`,"credit":`+bench.at("owed", 0, "id")+`}]}`, "Dr 201 20.00, Cr 161 20.00")
	c.try("/supplier-refunds", `{"supplier":`+s+`,"day":"2026-11-04","bank":1,"method":"transfer","sources":[{"item":`+bench.at("credits", 0, "id")+`}]}`, "Dr 101 980.00, Cr 161 980.00")
	// Suppliers and stocked articles are read from a file.
	c.post("/import/customers", `{"csv":"Name,Supplier,IBAN,Keep back\nGrain & Glue,yes,ZZ17 LARK 0000 0000 778,5%\n"}`).want(200)
	if a := c.get("/suppliers?q=grain"); a.at("count") != "1" || a.at("rows", 0, "customer") != "false" {
		t.Errorf("a supplier from a file: %s", a.body)
	}
	if a := c.post("/import/customers?preview=true", `{"csv":"Name,Supplier,IBAN,Keep back\nX,perhaps,ZZ17,5\n"}`).want(200); !strings.Contains(string(a.body), "neither yes nor no") {
		t.Errorf("neither yes nor no: %s", a.body)
	}
	c.post("/import/articles", `{"csv":"Code,Name,Kind,Stocked,Numbered\nLIFT,Lift motor,material,yes,yes\n"}`).want(200)
	if a := c.get("/stock?q=lift"); a.at("rows", 0, "quantity") != "0" {
		t.Errorf("an article in stock from a file: %s", a.body)
	}
	// Prices of a group of customers, and articles that stay as they are kept.
	c.post("/groups", `{"name":"Builders"}`).want(200)
	c.put("/articles/1", `{"code":"BAL","name":"Baluster","kind":"material","price":"120","taxCode":1,"stocked":false}`).want(422)
	if a := c.put("/articles/1", `{"code":"BAL","name":"Baluster","kind":"material","price":"120","taxCode":1,"stocked":true,"prices":[{"group":1,"price":"99.5"}]}`).want(200); a.at("rows", 0, "prices", 0, "price") != "99.50" {
		t.Errorf("the prices: %s", a.body)
	}
	c.put("/articles/1", `{"code":"BAL","name":"Baluster","kind":"material","price":"120","taxCode":1,"stocked":true,"prices":[{"group":7,"price":"1"}]}`).want(422)
}

// Each kind of paper of what we buy is put right in one step: taken back and
// written again as it was, so that everything stands as before.
func TestWhatWeBuyIsPutRight(t *testing.T) {
	c := buys(t)
	s := c.supplier()
	c.post("/articles", `{"code":"LAMP","name":"Lamp","kind":"material","price":"90","taxCode":1,"stocked":true,"serial":true}`).want(200)
	item := func(side string) string { return c.get("/suppliers/"+s+"/bench").want(200).at(side, 0, "id") }
	standing := func() string {
		return c.get("/suppliers/"+s).sent("position") + c.get("/stock").sent("sums") + c.get("/costs").sent("sums") + c.get("/trial-balance").sent("rows")
	}
	last := map[string]string{} // the paper that stands, by its command
	for _, step := range []struct {
		path string
		body func() string
	}{
		{"/purchase-orders", func() string {
			return `{"supplier":` + s + `,"day":"2026-11-02","expected":"2026-11-10","lines":[{"text":"Balusters","article":1,"quantity":"10","unitPrice":"70","discountPercent":"2.5","taxCode":1},{"text":"Hire","job":1,"net":"90","taxCode":1,"passOn":"supply"}]}`
		}},
		{"/goods-received", func() string {
			return `{"order":` + last["/purchase-orders"] + `,"day":"2026-11-03","lines":[{"position":1,"quantity":"4"}]}`
		}},
		{"/supplier-bills", func() string {
			return `{"supplier":` + s + `,"day":"2026-11-04","reference":"R 1","due":"2026-11-30","total":"913.00","tax":"152.50","earlyPercent":"2","earlyUntil":"2026-11-25","retention":"5","expected":"2027-01-31","lines":[{"order":` + last["/purchase-orders"] + `,"orderLine":1,"quantity":"10","unitPrice":"70","discountPercent":"2.5","taxCode":1},{"text":"Plaster","job":1,"net":"78","taxCode":1,"passOn":"supply","markup":"7.5"}]}`
		}},
		{"/expenses", func() string {
			return `{"supplier":` + s + `,"day":"2026-11-04","bank":1,"method":"cash","lines":[{"text":"Lamp","article":2,"quantity":"2","unitPrice":"45","taxCode":1,"serials":["L1","L2"]},{"text":"Fee","job":1,"net":"20","taxCode":3,"passOn":"behalf"},{"text":"Car","account":39,"net":"10","taxCode":1,"joined":true}]}`
		}},
		{"/supplier-credits", func() string {
			return `{"paper":` + last["/supplier-bills"] + `,"day":"2026-11-05","reason":"cracked","open":true,"lines":[{"position":1,"quantity":"1","back":true}]}`
		}},
		{"/supplier-credits", func() string {
			return `{"supplier":` + s + `,"day":"2026-11-05","reason":"rebate","lines":[{"text":"Rebate","account":39,"amount":"10","taxCode":1}]}`
		}},
		{"/supplier-prepayments", func() string {
			return `{"supplier":` + s + `,"day":"2026-11-05","amount":"50","bank":1,"method":"transfer","order":` + last["/purchase-orders"] + `}`
		}},
		{"/supplier-payments", func() string {
			return `{"supplier":` + s + `,"day":"2026-11-06","paid":"300","charges":"1.50","bank":1,"method":"transfer","bills":[{"item":` + item("owed") + `,"amount":"300"}]}`
		}},
		{"/supplier-refunds", func() string {
			return `{"supplier":` + s + `,"day":"2026-11-06","bank":1,"method":"transfer","sources":[{"item":` + item("credits") + `,"amount":"5"}]}`
		}},
		{"/supplier-releases", func() string {
			return `{"supplier":` + s + `,"day":"2026-11-06","items":[{"item":` + item("keptBack") + `,"amount":"12.34"}]}`
		}},
		{"/costs/not-passed-on", func() string {
			return `{"day":"2026-11-06","reason":"ours","costs":[{"paper":` + last["/supplier-bills"] + `,"line":2,"amount":"8"}]}`
		}},
		{"/stock/uses", func() string {
			return `{"job":1,"day":"2026-11-06","lines":[{"article":2,"quantity":"1","serials":["L2"]},{"article":1,"quantity":"3"}]}`
		}},
		{"/stock/counts", func() string {
			return `{"day":"2026-11-06","lines":[{"article":1,"quantity":"7","cost":"70"}]}`
		}},
		{"/purchase-orders/cancellations", func() string {
			return `{"order":` + last["/purchase-orders"] + `,"day":"2026-11-07","note":"sold out","lines":[{"position":2,"quantity":"1"}]}`
		}},
	} {
		paper := c.post(step.path+"?"+seen, step.body()).want(200).at("posted", "paper")
		before := standing()
		copied := c.get("/papers/" + paper + "/copy?again=true").want(200)
		again := "?again=" + paper + "&againDay=" + copied.at("day") + "&againReason=wrong"
		made := c.post(step.path+again+"&"+seen, copied.sent("body"))
		if made.status != 200 {
			t.Errorf("%s: %s from %s", step.path, made.body, copied.sent("body"))
			continue
		}
		if after := standing(); after != before {
			t.Errorf("%s: stands at\n%s\nwas\n%s", step.path, after, before)
		}
		now := made.at("posted", "paper")
		last[step.path] = now
		if was, is := c.get("/papers/"+paper), c.get("/papers/"+now); was.at("total") != is.at("total") || was.at("day") != is.at("day") || was.at("reference") != is.at("reference") || is.sent("lines") != was.sent("lines") {
			t.Errorf("%s: is %s, was %s", step.path, is.body, was.body)
		}
		if a := c.post(step.path+"?preview=true&"+seen, c.get("/papers/"+now+"/copy").want(200).sent("body")); a.status != 200 {
			t.Errorf("%s: a copy: %s", step.path, a.body)
		}
	}
	c.get("/tie-out").want(200)
}

// Many at once on what can be used once: a cost, the last pieces, a bill, what
// is kept back, an order. One gets it, the others a clear refusal.
func TestManyAtOnceOnWhatIsBought(t *testing.T) {
	c := buys(t)
	s := c.supplier()
	c.post("/purchase-orders", `{"supplier":`+s+`,"day":"2026-11-01","lines":[{"text":"Lamps","job":1,"quantity":"1","unitPrice":"50","taxCode":1}]}`).want(200)
	c.post("/supplier-bills", `{"supplier":`+s+`,"day":"2026-11-02","reference":"M 1","retention":"10","expected":"2026-12-31","lines":[{"text":"Crane","job":1,"net":"480","taxCode":1,"passOn":"supply"},{"text":"Balusters","article":1,"quantity":"5","unitPrice":"10","taxCode":1}]}`).want(200)
	bench := c.get("/suppliers/" + s + "/bench").want(200)
	owed, kept := bench.at("owed", 0, "id"), bench.at("keptBack", 0, "id")
	for path, body := range map[string]string{
		"/invoices":                       `{"customer":1,"job":1,"day":"2026-11-03","lines":[{"costs":[{"paper":2,"line":1}]}]}`,
		"/stock/uses":                     `{"job":1,"day":"2026-11-03","lines":[{"article":1,"quantity":"3"}]}`,
		"/supplier-releases":              `{"supplier":` + s + `,"day":"2026-11-03","items":[{"item":` + kept + `,"amount":"40"}]}`,
		"/purchase-orders/cancellations":  `{"order":1,"day":"2026-11-03","note":"x","lines":[{"position":1,"quantity":"1"}]}`,
		"/supplier-payments?" + seen + "": `{"supplier":` + s + `,"day":"2026-11-03","bank":1,"method":"transfer","bills":[{"item":` + owed + `,"amount":"500"}]}`,
	} {
		const many = 24
		answers := make(chan answer, many)
		for range many {
			go func() { answers <- c.post(path, body) }()
		}
		posted := 0
		for range many {
			switch a := <-answers; a.status {
			case 200:
				posted++
			case 422:
				if a.at("refusals", 0, "text") == "" {
					t.Errorf("%s: refused without a sentence: %s", path, a.body)
				}
			default:
				t.Errorf("%s: %d %s", path, a.status, a.body)
			}
		}
		if posted != 1 {
			t.Errorf("%s: posted %d times", path, posted)
		}
	}
	c.tiesOut()
}

// Who is customer and supplier has two stories: what is set against our bills
// stands in the supplier's alone.
func TestTwoStories(t *testing.T) {
	c := newClient(t)
	c.put("/customers/1", `{"name":"Odalys Brandt","supplier":true}`).want(200)
	c.post("/supplier-prepayments", `{"supplier":1,"day":"2026-11-02","amount":"50","bank":1,"method":"transfer"}`).want(200)
	c.post("/supplier-bills", `{"supplier":1,"day":"2026-11-03","reference":"T","lines":[{"text":"a","account":39,"net":"100","taxCode":3}]}`).want(200)
	c.post("/allocations", `{"day":"2026-11-04","pairs":[{"debit":1,"credit":2}]}`).want(200)
	if a := c.get("/suppliers/1/story").want(200); a.at("rows", 2, "kind") != "set against" || a.at("rows", 2, "balance") != "50.00" {
		t.Errorf("the supplier's: %s", a.body)
	}
	for _, row := range c.get("/customers/1/story").want(200).found("rows").([]any) {
		if row := row.(map[string]any); row["kind"] == "set against" || row["balance"] != "0.00" {
			t.Errorf("the customer's: %v", row)
		}
	}
}
