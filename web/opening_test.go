package web_test

import (
	"encoding/json"
	"fmt"
	"strings"
	"testing"

	"cleantally/core/posting/postingtest"
	"cleantally/core/rights"
)

// accountID finds an account by its number.
func accountID(c *client, number string) string {
	for _, r := range c.get("/accounts").want(200).list("rows") {
		if r["number"] == number {
			return fmt.Sprint(r["id"])
		}
	}
	c.t.Fatalf("there is no account %s", number)
	return ""
}

// bodyOf makes the body of an opening of files, as they were read.
func bodyOf(c *client, day string, files map[string]string) string {
	c.t.Helper()
	body := map[string]any{"day": day}
	for of, csv := range files {
		rows := []any{}
		for _, r := range c.do("POST", "/openings/"+of, csv, "Content-Type", "text/csv").want(200).list("rows") {
			if n := len(r["refusals"].([]any)); n > 0 {
				c.t.Errorf("%s: %v", of, r["refusals"])
			}
			rows = append(rows, r[map[string]string{"items": "item", "goods": "goods", "trial": "trial", "contracts": "contract", "on-the-way": "onTheWay"}[of]])
		}
		body[strings.ReplaceAll(of, "on-the-way", "onTheWay")] = rows
	}
	text, err := json.Marshal(body)
	if err != nil {
		c.t.Fatal(err)
	}
	return string(text)
}

// E-24, from files: each item with its own number and day, opening balances at
// nil, all of it as if it had been here always; undone as a whole.
func TestE24(t *testing.T) {
	c := newClient(t)
	body := bodyOf(c, "2025-12-31", map[string]string{
		"items": "What,Number,Day,Due,Name,Amount,Tax inside,Tax code\ninvoice,4711,2025-11-12,2025-12-12,Odalys Brandt,5000.00,833.33,STD\ninvoice,4712,2025-12-10,2026-01-09,Dunmarrow Builders,\"2,440.00\",406.67,STD\n" +
			"kept back,4690,2025-10-01,2026-04-01,Dunmarrow Builders,720.00,,\ndeposit,D-12,2025-12-20,,Odalys Brandt,1500.00,,\n",
		"trial": "Account,Debit,Credit\n101,5000.00,\n120,7440.00,\n124,720.00,\n221,,1500.00\n241,,1240.00\n301,,10420.00\n",
	})
	effect := c.post("/openings?preview=true", body).want(200)
	if effect.rows("effect", "refusals") != 0 || effect.rows("effect", "papers") != 5 {
		t.Fatalf("the opening: %s", effect.body)
	}
	for _, w := range effect.list("effect", "warnings") {
		if w["rule"] != "long past" {
			t.Errorf("warned of %v", w)
		}
	}
	c.post("/openings?"+seen, body).want(200)
	tb := map[string]string{}
	for _, r := range c.get("/trial-balance?asOf=2025-12-31").want(200).list("rows") {
		tb[fmt.Sprint(r["number"])] = fmt.Sprint(r["debit"], "|", r["credit"])
	}
	for number, want := range map[string]string{"101": "5000.00|", "120": "7440.00|", "124": "720.00|", "221": "|1500.00", "241": "|1240.00", "301": "|10420.00", "391": "|"} {
		if tb[number] != want {
			t.Errorf("account %s: %s, want %s", number, tb[number], want)
		}
	}
	a := c.get("/ageing?asOf=2025-12-31").want(200)
	if a.sent("total", "buckets") != `["2440.00","5000.00","0.00","0.00","0.00"]` {
		t.Errorf("the ageing: %s", a.sent("total"))
	}
	if a := c.get("/ageing?asOf=2025-12-31&basis=paper").want(200); a.sent("total", "buckets") != `["2440.00","5000.00","0.00","0.00"]` {
		t.Errorf("by the papers' own days: %s", a.sent("total"))
	}
	c.post("/openings?"+seen, body).refused(422, "opened already")
	if p := c.get("/papers?q=4711").want(200); p.at("rows", 0, "number") != "4711" || p.at("rows", 0, "open") != "5000.00" || p.at("rows", 0, "overdue") != "true" {
		t.Errorf("the invoice of the old books: %s", p.body)
	}
	if o := c.get("/openings").want(200); o.at("day") != "2025-12-31" || o.at("papers") != "5" {
		t.Errorf("opened: %s", o.body)
	}
	c.tiesOut()
	// It settles, and is given up with its tax, as any invoice.
	item := func(number string) string {
		return c.get("/papers/"+c.get("/papers?q="+number).at("rows", 0, "id")).at("parts", 0, "itemId")
	}
	c.post("/receipts", receipt(2, "2026-11-03", "440.00", fmt.Sprintf(`,"placements":[{"item":%s,"amount":"440.00"}]`, item("4712")))).want(200)
	c.post("/openings/undo?"+seen, `{"reason":"wrong"}`).refused(422, "something stands on it")
	c.post("/reversals", fmt.Sprintf(`{"paper":%s,"day":"2026-11-03","reason":"x"}`, c.get("/papers?kind=receipt").at("rows", 0, "id"))).want(200)
	c.post("/openings/undo?"+seen, `{"reason":"wrong"}`).want(200)
	for _, r := range c.get("/trial-balance?asOf=2026-11-20").want(200).list("rows") {
		if fmt.Sprint(r["debit"], r["credit"]) != "" {
			t.Errorf("after it is undone: %v", r)
		}
	}
	c.tiesOut()
	again := strings.ReplaceAll(strings.ReplaceAll(body, `"4711"`, `"4711b"`), `"4712"`, `"4712b"`)
	again = strings.ReplaceAll(strings.ReplaceAll(again, `"4690"`, `"4690b"`), `"D-12"`, `"D-12b"`)
	if a := c.post("/openings?"+seen, again); a.status != 422 { // the receipt and its reversal are dated after it
		a.want(200)
	}
	c.tiesOut()
}

// Everything that may stand in old books, each in its register, to the cent.
func TestOpeningOfEverything(t *testing.T) {
	c := newClient(t)
	c.put("/customers/2", `{"name":"Dunmarrow Builders","supplier":true}`).want(200)
	c.post("/articles", `{"code":"BAL","name":"Baluster","kind":"material","price":"12.00","taxCode":1,"stocked":true}`).want(200)
	body := bodyOf(c, "2026-06-30", map[string]string{
		"items": "What,Number,Day,Due,Name,Job,Amount,Tax inside,Tax code\n" +
			"invoice,A1,2026-06-01,2026-07-01,Odalys Brandt,,1200.00,200.00,STD\ncredit,A2,2026-06-02,,Odalys Brandt,,100.00,,\ndeposit,A3,2026-06-03,,Odalys Brandt,,600.00,100.00,STD\n" +
			"kept back,A4,2026-06-04,2026-12-04,Dunmarrow Builders,,720.00,120.00,STD\nnot identified,A5,2026-06-05,,,,55.00,,\nbilled in advance,A6,2026-06-06,,Odalys Brandt,101,2880.00,480.00,STD\n" +
			"cost,A7,2026-06-07,,Odalys Brandt,101,206.00,,\nsupplier bill,A8,2026-06-08,2026-07-08,Dunmarrow Builders,,700.00,,\nsupplier credit,A9,2026-06-09,,Dunmarrow Builders,,50.00,,\n" +
			"prepayment,B1,2026-06-10,,Dunmarrow Builders,,300.00,,\nkept back by us,B2,2026-06-11,2026-12-11,Dunmarrow Builders,,250.00,,\n",
		"goods": "Article,Quantity,Value\nBAL,40,480.00\n",
		"trial": "Account,Debit,Credit\n101,1000.00,\n120,1100.00,\n124,720.00,\n131,206.00,\n141,480.00,\n161,300.00,\n201,,650.00\n205,,250.00\n221,,500.00\n224,,55.00\n227,,2400.00\n244,,120.00\n241,169.00,\n",
	})
	c.post("/openings?"+seen, body).want(200)
	c.tiesOut()
	for register, want := range map[string]string{"receivables": "1100.00", "deposits": "600.00", "retention": "720.00", "unidentified": "55.00", "payables": "650.00", "retention payable": "250.00", "supplier prepayments": "300.00"} {
		r := c.get("/registers/" + strings.ReplaceAll(register, " ", "%20")).want(200)
		if strings.TrimPrefix(r.at("sums", "open"), "-") != want {
			t.Errorf("%s: %s, want %s", register, r.at("sums", "open"), want)
		}
	}
	if b := c.get("/billable?customer=1&job=1").want(200); b.at("advances", 0, "left") != "2880.00" {
		t.Errorf("what was billed in advance: %s", b.body)
	}
	if b := c.get("/blank?kind=invoice&job=1&finish=true").want(200); b.rows("costs") != 1 {
		t.Errorf("the cost that waits: %s", b.body)
	}
	// All of it is used up as ever.
	c.post("/invoices", fmt.Sprintf(`{"customer":1,"job":1,"day":"2026-11-01","lines":[{"text":"Stair","unitPrice":"5000","taxCode":1}],"deductions":[{"paper":%s,"amount":"2880.00"}]}`, c.get("/billable?customer=1&job=1").at("advances", 0, "id"))).want(200)
	c.post("/stock/uses", `{"day":"2026-11-02","job":1,"lines":[{"article":1,"quantity":"10"}]}`).want(200)
	c.post("/releases", `{"customer":2,"day":"2026-11-10","amount":"360.00"}`).want(200)
	c.tiesOut()
}

// What is wrong in a file or a row is told, and nothing is kept.
func TestOpeningRefused(t *testing.T) {
	c := newClient(t)
	read := func(of, csv string) answer { return c.do("POST", "/openings/"+of, csv, "Content-Type", "text/csv") }
	for _, of := range []string{"items", "contracts", "goods", "on-the-way", "trial"} {
		file := string(c.get("/openings/" + of + "/template").want(200).body)
		read(of, file).want(200)
	}
	read("items", "Amount,What,Colour\n1,invoice,red\n").refused(422, "unknown column")
	read("items", "Number\n1\n").refused(422, "missing column")
	moved := read("items", "Amount,Name,What\n5.00,Odalys Brandt,invoice\n").want(200)
	if moved.at("rows", 0, "item", "amount") != "5.00" || moved.at("rows", 0, "item", "what") != "invoice" {
		t.Errorf("columns in another order: %s", moved.body)
	}
	for csv, want := range map[string]string{
		"What,Amount,Name\nthing,5.00,Odalys Brandt\n": "stands in old books", "What,Amount,Name\ninvoice,five,Odalys Brandt\n": "five", "What,Amount,Name\ninvoice,5.00,Nobody\n": "no customer or supplier",
		"What,Amount,Name,Day\ninvoice,5.00,Odalys Brandt,31.31.2025\n": "Write it as",
	} {
		if a := read("items", csv).want(200); !strings.Contains(a.sent("rows", 0, "refusals"), want) {
			t.Errorf("%q: %s", csv, a.body)
		}
	}
	row := func(more string) string {
		return `{"day":"2025-12-31","items":[{"what":"invoice","party":1,"amount":"100.00"` + more + `}]}`
	}
	for body, rule := range map[string]string{
		`{"day":"2025-12-31"}`: "missing", row(`,"tax":"100.00","taxCode":1`): "too much", row(`,"tax":"10.00"`): "missing", row(`,"day":"2026-01-01"`): "after the old books",
		`{"day":"2025-12-31","items":[{"what":"invoice","amount":"1.00"}]}`:                                                                                  "missing",
		`{"day":"2025-12-31","items":[{"what":"supplier bill","party":1,"amount":"1.00"}]}`:                                                                  "no supplier",
		`{"day":"2025-12-31","items":[{"what":"invoice","number":"1","party":1,"amount":"1.00"},{"what":"invoice","number":"1","party":1,"amount":"1.00"}]}`: "taken",
	} {
		c.post("/openings?"+seen, body).refused(422, rule)
	}
	if a := c.post("/openings", row("")).want(409); !strings.Contains(string(a.body), "does not come to nil") {
		t.Errorf("off by an invoice: %s", a.body)
	}
	off := fmt.Sprintf(`{"day":"2025-12-31","items":[{"what":"invoice","party":1,"amount":"100.00"}],"trial":[{"account":%s,"debit":"100.01"},{"account":%s,"credit":"100.00"}]}`, accountID(c, "120"), accountID(c, "301"))
	if a := c.post("/openings?preview=true", off).want(200); !strings.Contains(a.sent("effect", "warnings"), "items differ") {
		t.Errorf("off by a cent: %s", a.sent("effect", "warnings"))
	}
	c.post("/deposits?"+seen, deposit(1, "2025-12-31", "5.00")).want(200)
	c.post("/openings?"+seen, row("")).refused(422, "not the first")
	if a := c.as(rights.Bookkeeper).post("/openings", row("")); !notYours(a) {
		t.Errorf("a bookkeeper begins: %s", a.body)
	}
	c.tiesOut()
}

// A contract that is under way goes on where it was: by its own sum, and by the
// lines of an order, of which what was billed before is billed; what was kept back
// before counts under the cap. It posts nothing, and goes with the opening.
func TestOpeningOfContracts(t *testing.T) {
	c := newClient(t)
	c.put("/jobs/1", `{"name":"Stair","customer":1,"contractSum":"40000.00","retention":"5","retentionCap":"600.00"}`).want(200)
	c.put("/jobs/2", `{"name":"Treads","customer":2}`).want(200)
	body := bodyOf(c, "2026-06-30", map[string]string{
		"contracts": "What,Number,Name,Job,Amount,Billed before,Tax code,Text\nclaimed before,,Odalys Brandt,101,24000.00,,,\nreleased before,,Odalys Brandt,101,450.00,,,\n" +
			"order line,O-88,Dunmarrow Builders,102,6000.00,1500.00,STD,Treads\norder line,O-88,Dunmarrow Builders,102,2000.00,2000.00,RED,Repairs\n",
		"trial": "Account,Debit,Credit\n101,100.00,\n301,,100.00\n",
	})
	before := c.post("/openings?preview=true", body).want(200)
	if got := before.entries(); !postingtest.Same(got, []string{"Dr 101 100.00, Cr 391 100.00", "Dr 391 100.00, Cr 301 100.00"}) && len(got) > 2 {
		t.Errorf("it posts %q", got)
	}
	c.post("/openings?"+seen, body).want(200)
	c.tiesOut()
	if j := c.get("/jobs/1").want(200); j.at("leftToBill") != "16000.00" || j.at("billed") != "24000.00" {
		t.Errorf("the job: %s", j.sent())
	}
	// E-13 goes on: 60 % are done and were claimed, all of it is claimed now; of the
	// cap of 600.00 so much is left as was not kept back before.
	claim := c.post("/claims?preview=true", `{"job":1,"day":"2026-11-10","percent":"100"}`).want(200)
	if claim.at("effect", "paper", "net") != "16000.00" || claim.at("effect", "paper", "retained") != "150.00" {
		t.Errorf("the next claim: %s", claim.sent("effect", "paper"))
	}
	// The order has left to bill what was not billed.
	billable := c.get("/billable?customer=2&job=2").want(200)
	if got := billable.sent("orders", 0, "lines"); !strings.Contains(got, "4500.00") || strings.Contains(got, "2000.00\"") && strings.Contains(got, "\"left\":\"2000.00\"") {
		t.Errorf("left to bill: %s", got)
	}
	c.post("/claims?"+seen, `{"job":2,"day":"2026-11-11","percent":"100"}`).want(200)
	if j := c.get("/jobs/2").want(200); j.at("leftToBill") != "0.00" {
		t.Errorf("the job of the order: %s", j.sent())
	}
	c.post("/openings/undo?"+seen, `{"reason":"wrong"}`).refused(422, "something stands on it")
	c.post("/reversals?"+seen, fmt.Sprintf(`{"paper":%s,"day":"2026-11-11","reason":"x"}`, c.get("/papers?kind=invoice").at("rows", 0, "id"))).want(200)
	c.post("/openings/undo?"+seen, `{"reason":"wrong"}`).want(200)
	for _, id := range []string{"1", "2"} {
		if j := c.get("/jobs/" + id).want(200); j.at("billed") != "0.00" {
			t.Errorf("undone, job %s has billed %s", id, j.at("billed"))
		}
	}
	c.tiesOut()
	for row, rule := range map[string]string{
		`{"what":"claimed before","party":1,"amount":"5.00"}`:                                                    "missing",
		`{"what":"claimed before","party":1,"job":2,"amount":"5.00"}`:                                            "another customer's job",
		`{"what":"order line","party":1,"amount":"5.00"}`:                                                        "missing",
		`{"what":"order line","party":1,"amount":"5.00","billed":"6.00","taxCode":1}`:                            "more than was ordered",
		`{"what":"released before","party":1,"job":1,"amount":"0.00"}`:                                           "above nil",
		`{"what":"order line","party":1,"amount":"5.00","taxCode":1,"number":"` + strings.Repeat("9", 41) + `"}`: "too long",
	} {
		c.post("/openings?"+seen, `{"day":"2026-06-30","contracts":[`+row+`]}`).refused(422, rule)
	}
}

// What is not at the bank when a firm begins waits for it: the proof comes out,
// before and after the bank tells of it.
func TestOpeningNotAtTheBank(t *testing.T) {
	c := newClient(t)
	c.post("/openings?"+seen, bodyOf(c, "2026-06-30", map[string]string{
		"on-the-way": "Account,Day,Reference,Text,Paid in,Paid out\nBank,2026-06-29,114,Timber,,430.00\nBank,2026-06-30,,Card,75.00,\n",
		"trial":      "Account,Debit,Credit\n101,5000.00,\n301,,5000.00\n",
	})).want(200)
	if tb := c.get("/trial-balance?asOf=2026-06-30").want(200); tb.at("rows", 0, "debit") != "5000.00" {
		t.Errorf("the bank stands at %s", tb.at("rows", 0, "debit"))
	}
	c.post("/banks/1/typed", typed("5430.00", "2026-07-03 75.00 CARD")).want(200)
	tying := c.get("/banks/1/tying?lines=1").want(200)
	if tying.rows("movements") != 2 || tying.at("count") != "2" {
		t.Errorf("what a line may be tied to: %s", tying.body)
	}
	for _, m := range tying.list("movements") {
		if m["amount"] == "75.00" {
			c.post("/ties", fmt.Sprintf(`{"lines":[1],"movements":[%v]}`, m["id"])).want(200)
		}
	}
	r := c.get("/banks/1/reconciliation?through=2026-07-31").want(200)
	if r.at("ledger") != "5000.00" || r.at("apart") != "0.00" || r.rows("notAtBank") != 1 || r.at("notAtBank", 0, "amount") != "-430.00" {
		t.Errorf("between the books and the bank: %s", r.body)
	}
}

// What is open in another currency is taken over at what it stood at, and goes on
// from there: paid at another rate, the rest is exchange.
func TestOpeningAbroad(t *testing.T) {
	c := newClient(t)
	c.goAbroad()
	c.post("/customers", `{"name":"Oakbourne Timber","supplier":true,"noCustomer":true}`).want(200)
	body := bodyOf(c, "2025-12-31", map[string]string{
		"items": "What,Number,Day,Due,Name,Amount,Tax inside,Tax code,Currency,Worth\ninvoice,4711,2025-11-12,2025-12-12,Odalys Brandt,1200.00,200.00,STD,USD,1080.00\n" +
			"deposit,D-12,2025-12-20,,Odalys Brandt,500.00,,,USD,455.00\nsupplier bill,B-1,2025-12-20,,Oakbourne Timber,20000,,,JPY,122.00\ninvoice,4712,2025-12-20,,Odalys Brandt,50.00,,,EUR,\n",
		"on-the-way": "Account,Day,Reference,Text,Paid in,Paid out,Worth\nUSD account,2025-12-30,88,Freight,,100.00,90.00\n",
		"trial":      "Account,Debit,Credit,In its currency\n102,1820.00,,2000.00\n120,1130.00,,\n221,,455.00,\n201,,122.00,\n301,,2373.00,\n",
	})
	effect := c.post("/openings?preview=true", body).want(200)
	if effect.rows("effect", "refusals") != 0 {
		t.Fatalf("the opening: %s", effect.body)
	}
	for _, w := range effect.list("effect", "warnings") {
		if w["rule"] != "long past" {
			t.Errorf("warned of %v", w)
		}
	}
	for _, x := range []struct{ from, to, rule string }{ // what is refused changes nothing
		{`"worth":"1080.00"`, `"worth":""`, "above nil"}, {`"currency":"USD"`, `"currency":"CHF"`, "not in use"}, {`"own":"2000.00"`, `"own":""`, "above nil"}, {`"worth":"90.00"`, `"worth":""`, "above nil"},
		{`"credit":"2373.00"`, `"credit":"2373.00","own":"5.00"`, "no such account"}, {`"amount":"1200.00"`, `"amount":"1200.001"`, "no amount"}, {`"amount":"20000"`, `"amount":"20000.5"`, "no amount"},
	} {
		wrong := strings.Replace(body, x.from, x.to, 1)
		if wrong == body {
			t.Fatalf("there is no %s in %s", x.from, body)
		}
		c.post("/openings?"+seen, wrong).refused(422, x.rule)
	}
	c.post("/openings?"+seen, body).want(200)
	c.tiesOut()
	bank := c.get("/bank").want(200)
	for _, b := range bank.list("rows") {
		if b["name"] == "USD account" && (b["ledger"] != "2000.00" || b["currency"] != "USD") {
			t.Errorf("the account in dollars: %v", b)
		}
	}
	item := c.get("/customers/1/bench").want(200)
	for _, i := range item.list("owed") {
		if i["number"] == "4711" {
			c.post("/receipts?"+seen, fmt.Sprintf(`{"customer":1,"day":"2026-11-10","arrived":"600.00","rate":"0.92","bank":4,"method":"transfer","placements":[{"item":%v,"amount":"600.00"}]}`, i["id"])).want(200)
		}
	}
	// Half of it stood at 540.00 and came as 552.00.
	if r := c.get("/revaluations?day=2026-11-10").want(200); r.at("realised") != "12.00" {
		t.Errorf("what came to exchange: %s", r.body)
	}
	c.tiesOut()
}

// A contract in dollars goes on in dollars: what was billed of its order counts, at
// the rate that is said, and the next claim is at its own.
func TestOpeningOfContractsAbroad(t *testing.T) {
	c := newClient(t)
	c.goAbroad()
	c.put("/jobs/2", `{"name":"Treads","customer":2}`).want(200)
	header := "What,Number,Name,Job,Amount,Billed before,Tax code,Text,Currency,Rate\n"
	trial := "Account,Debit,Credit\n101,100.00,\n301,,100.00\n"
	for row, says := range map[string]string{
		"order line,O-1,Dunmarrow Builders,102,100,,STD,Treads,USD,\n":              "There is no rate of USD on 30 Jun 2026 or before",
		"order line,O-1,Dunmarrow Builders,102,100,,STD,Treads,CHF,0.9\n":           "The currency CHF is not in use",
		"order line,O-1,Dunmarrow Builders,102,100,,STD,Treads,,0.9\n":              "a rate is of another currency than EUR",
		"claimed before,,Dunmarrow Builders,102,100,,,,USD,0.9\n":                   "only the lines of an order are in another currency",
		"order line,O-1,Dunmarrow Builders,102,100.005,,STD,Treads,USD,0.9\n":       "places",
		"order line,O-1,Dunmarrow Builders,102,100,,STD,Treads,USD,1000000000000\n": "is no rate",
	} {
		read := c.do("POST", "/openings/contracts", header+row, "Content-Type", "text/csv").want(200)
		told := string(read.body)
		if read.rows("rows", 0, "refusals") == 0 {
			told = string(c.post("/openings?preview=true", bodyOf(c, "2026-06-30", map[string]string{"contracts": header + row, "trial": trial})).body)
		}
		if !strings.Contains(told, says) {
			t.Errorf("%s says %s", row, told)
		}
	}
	body := bodyOf(c, "2026-06-30", map[string]string{"trial": trial,
		"contracts": header + "order line,O-88,Dunmarrow Builders,102,6000.00,1500.00,NIL,Treads,USD,0.95\norder line,O-88,Dunmarrow Builders,102,2000.00,,NIL,Repairs,USD,0.95\n"})
	c.post("/openings?"+seen, body).want(200)
	c.tiesOut()
	if j := c.get("/jobs/2").want(200); j.at("contract") != "7600.00" || j.at("billed") != "1425.00" {
		t.Errorf("the job: %s", j.sent())
	}
	if o := c.get("/order-book?job=2").want(200); o.at("rows", 0, "currency") != "USD" || o.at("rows", 0, "left") != "6500.00" {
		t.Errorf("left of it: %s", o.body)
	}
	if got := c.inAll("/claims", `{"job":2,"day":"2026-11-12","percent":"50"}`); got != "Dr 120 2300.00, Cr 401 2300.00" { // 4,000.00 less 1,500.00 at 0.92
		t.Errorf("the next claim: %s", got)
	}
	c.tiesOut()
	c.post("/openings/undo?"+seen, `{"reason":"x"}`).refused(422, "")
}
