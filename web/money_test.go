package web_test

import (
	"fmt"
	"net/http"
	"strings"
	"sync"
	"testing"

	"cleantally/core/posting/postingtest"
)

const bank = `"bank":1,"method":"transfer"`

func refund(item int, amount string) string {
	return fmt.Sprintf(`{"day":"2026-11-20","sources":[{"item":%d,"amount":%q}],%s}`, item, amount, bank)
}

// open is what is open of a paper's first item.
func (c *client) open(paper int) string {
	c.t.Helper()
	return c.get(fmt.Sprintf("/papers/%d", paper)).at("parts", 0, "open")
}

func (c *client) wantOpen(paper int, want string) {
	c.t.Helper()
	if got := c.open(paper); got != want {
		c.t.Errorf("paper %d has %s open, want %s", paper, got, want)
	}
}

// must post without looking at its entries.
func (c *client) must(path, body string) answer {
	c.t.Helper()
	return c.post(path+"?"+seen, body).want(200)
}

// tiesOut proves the books after a test, as cleantally check does.
func (c *client) tiesOut() {
	c.t.Helper()
	for _, day := range []string{"2026-11-05", "2026-11-12", "2026-11-20"} {
		if t := c.get("/tie-out?asOf=" + day).want(200); t.at("ok") != "true" {
			c.t.Errorf("as of %s: %s", day, t.body)
		}
	}
	found, err := c.book.Read(c.t.Context()).Check()
	if err != nil || len(found) > 0 {
		c.t.Errorf("check: %v, %v", found, err)
	}
}

func TestE2(t *testing.T) {
	for _, x := range []struct{ tax, want string }{{"", "Dr 221 150.00, Cr 421 150.00"}, {`,"taxCode":1`, "Dr 221 150.00, Cr 421 125.00, Cr 241 25.00"}} {
		c := newClient(t)
		c.must("/deposits", deposit(1, "2026-11-01", "1200.00"))
		c.must("/invoices", invoice(1, "2026-11-10", "1000"))
		body := `{"deposit":1,"day":"2026-11-20","against":[{"item":2,"amount":"400.00"}],"refund":{"amount":"450.00",` + bank + `},"forfeit":{"amount":"150.00"` + x.tax + `}}`
		a := c.try("/deposits/split", body, "Dr 221 400.00, Cr 120 400.00", "Dr 221 450.00, Cr 101 450.00", x.want)
		if a.at("posted", "others", 0, "kind") != "forfeit" {
			t.Errorf("posted %s", a.body)
		}
		c.wantOpen(1, "200.00")
		row := c.get("/deposit-register").want(200)
		for field, want := range map[string]string{"amount": "1200.00", "setAgainst": "400.00", "refunded": "450.00", "forfeited": "150.00", "held": "200.00"} {
			if row.at("sums", field) != want {
				t.Errorf("register of deposits: %s is %s, want %s", field, row.at("sums", field), want)
			}
		}
		if held := c.get("/deposit-register?asOf=2026-11-15").at("sums", "held"); held != "1200.00" {
			t.Errorf("held on the 15th: %s", held)
		}
		c.tiesOut()
	}
}

// Part 4: a deposit taxed on receipt takes its tax along, wherever it goes.
func TestTaxedOnReceipt(t *testing.T) {
	c := newClient(t)
	taxed := strings.Replace(deposit(1, "2026-11-01", "1200.00"), "{", `{"taxCode":1,`, 1)
	c.try("/deposits", taxed, "Dr 101 1200.00, Cr 221 1000.00, Cr 241 200.00")
	c.try("/deposits", taxed, "Dr 101 1200.00, Cr 221 1000.00, Cr 241 200.00")
	c.try("/forfeits", `{"deposit":1,"day":"2026-11-20","amount":"150.00"}`, "Dr 221 125.00, Cr 421 125.00")
	c.try("/forfeits", `{"deposit":2,"day":"2026-11-20","amount":"150.00","outsideTax":true}`, "Dr 221 125.00, Dr 241 25.00, Cr 421 150.00")
	c.must("/invoices", invoice(1, "2026-11-10", "1000"))
	c.try("/allocations", `{"day":"2026-11-20","pairs":[{"debit":5,"credit":1}]}`, "Dr 221 875.00, Dr 241 175.00, Cr 120 1050.00")
	if inside := c.get("/deposit-register").at("sums", "taxInside"); inside != "175.00" {
		t.Errorf("tax inside %s", inside)
	}
	c.try("/reversals", `{"paper":3,"day":"2026-11-20","reason":"not kept after all"}`, "Cr 221 125.00, Dr 421 125.00")
	c.tiesOut()
}

func TestE4(t *testing.T) {
	c := newClient(t)
	c.put("/terms/1", `{"name":"30 days","kind":"days","days":30,"discountPercent":"2","discountDays":10}`).want(200)
	c.must("/invoices", invoice(1, "2026-11-01", "1000"))
	on := func(day, rest string) string {
		return receipt(1, day, "1176.00", `,"placements":[{"item":1,"amount":"1176.00"`+rest+`}]`)
	}
	if p := c.get("/customers/1/proposal?amount=1176&day=2026-11-09"); p.at("rows", 0, "discount") != "true" || p.at("rows", 0, "amount") != "1176.00" {
		t.Errorf("proposal %s", p.body)
	}
	c.post("/receipts", on("2026-11-12", `,"discount":true`)).want(422)
	c.try("/receipts", on("2026-11-09", `,"discount":true`), "Dr 101 1176.00, Dr 491 20.00, Dr 241 4.00, Cr 120 1200.00")
	c.wantOpen(1, "0.00")
	c.try("/allocations/undo", `{"day":"2026-11-16","allocations":[1]}`, "Dr 120 24.00, Cr 491 20.00, Cr 241 4.00")
	c.wantOpen(1, "1200.00")
	c.wantOpen(2, "1176.00")
	// Placed again, late now, 24.00 stays open; then the bank takes it back.
	c.try("/allocations", `{"day":"2026-11-16","pairs":[{"debit":1,"credit":2}]}`)
	c.try("/returned-payments", `{"paper":2,"day":"2026-11-18","fee":"8.00"}`, "Cr 101 1184.00, Dr 120 1176.00, Dr 621 8.00")
	c.wantOpen(1, "1200.00")
	if state := c.get("/papers/2").at("state"); state != "returned" {
		t.Errorf("the receipt is %s", state)
	}
	c.post("/reversals", `{"paper":2,"day":"2026-11-20","reason":"x"}`).want(422)
	c.tiesOut()
}

func TestReturned(t *testing.T) {
	c := newClient(t)
	c.must("/deposits", deposit(1, "2026-11-01", "1200.00"))
	c.must("/refunds", refund(1, "450.00"))
	a := c.post("/reversals?"+seen, `{"paper":1,"day":"2026-11-20","reason":"bounced"}`).want(422)
	if !strings.Contains(a.at("refusals", 0, "text"), "refund F26-0001 stands on it") {
		t.Errorf("the refund is not named: %s", a.body)
	}
	c.try("/returned-payments", `{"paper":1,"day":"2026-11-20","fee":"10.00","passOn":true}`, "Cr 101 1210.00, Dr 221 750.00, Dr 120 460.00")
	if net := c.get("/customers/1").at("position", "net"); net != "460.00" {
		t.Errorf("owes %s", net)
	}
	c.tiesOut()
}

func TestE16(t *testing.T) {
	c := newClient(t)
	c.must("/invoices", strings.Replace(invoice(1, "2026-11-01", "430"), `"taxCode":1`, `"taxCode":3`, 1))
	c.must("/receipts", receipt(1, "2026-11-10", "500.00", `,"placements":[{"item":1,"amount":"430.00"}],"onAccount":true`))
	cheque := strings.Replace(refund(2, "70.00"), "transfer", "cheque", 1)
	c.try("/refunds", cheque, "Dr 120 70.00, Cr 101 70.00")
	if net := c.get("/customers/1").at("position", "net"); net != "0.00" {
		t.Errorf("the account is %s", net)
	}
	list := c.get("/cheques").want(200)
	if list.at("rows", 0, "cheque") != "000101" || list.at("rows", 0, "inWords") != "Seventy and 00/100 EUR" {
		t.Errorf("cheques %s", list.body)
	}
	c.post("/cheques/printed", `{"papers":[3]}`).want(204)
	if rows := c.get("/cheques").at("rows"); rows != "[]" {
		t.Errorf("still to print: %s", rows)
	}
	c.post("/cheques/printed", `{"papers":[1]}`).want(422)
	c.post("/refunds", refund(2, "0.01")).want(422)
	c.tiesOut()
}

func TestE17(t *testing.T) {
	c := newClient(t)
	c.put("/limits", `{"difference":"1.00","writeOff":"1000.00","relief":true,"allowance":["0","1","5","20","50"]}`).want(200)
	c.must("/invoices", invoice(1, "2026-11-01", "1500"))
	c.must("/receipts", receipt(1, "2026-11-05", "720.00", `,"placements":[{"item":1}]`))
	off := `{"day":"2026-11-15","reason":"insolvent","relief":true,"items":[{"item":1}]}`
	shown := c.post("/write-offs?preview=true", off).want(200)
	if got := shown.entries(); !postingtest.Same(got, []string{"Dr 631 900.00, Dr 241 180.00, Cr 120 1080.00"}) {
		t.Errorf("shows %v", got)
	}
	// Past the limit the paper waits for the second person's word.
	if a := c.post("/write-offs?"+seen, off).want(409); a.at("type") != "a second word" {
		t.Errorf("without a word: %s", a.body)
	}
	c.post("/write-offs?"+seen, off, "Second-Word", "wrong").want(409)
	c.wantOpen(1, "1080.00")
	c.post("/write-offs?"+seen, off, "Second-Word", "winding%20stairs").want(200)
	if state := c.get("/papers/1").at("state"); state != "written off" {
		t.Errorf("the invoice is %s", state)
	}
	c.try("/recoveries", `{"writeOff":3,"day":"2026-11-20","amount":"540.00",`+bank+`}`, "Dr 101 540.00, Cr 441 450.00, Cr 241 90.00")
	c.post("/recoveries", `{"writeOff":3,"day":"2026-11-20","amount":"540.01",`+bank+`}`).want(422)
	if a := c.post("/write-offs?"+seen, off).want(422); a.at("refusals", 0, "rule") != "nothing left" {
		t.Errorf("a settled invoice was written off: %s", a.body)
	}
	c.tiesOut()
}

func TestE18(t *testing.T) {
	c := newClient(t)
	c.put("/customers/1", `{"name":"Odalys Brandt","number":"1001","supplier":true}`).want(200)
	c.must("/invoices", invoice(1, "2026-11-01", "750"))
	var jobCosts string
	for n := 0; jobCosts == ""; n++ {
		if a := c.get("/accounts"); a.at("rows", n, "number") == "511" {
			jobCosts = a.at("rows", n, "id")
		}
	}
	c.try("/supplier-bills", `{"supplier":1,"day":"2026-11-05","reference":"B-77","lines":[{"text":"Stringers","account":`+jobCosts+`,"net":"533.33","taxCode":1}]}`,
		"Dr 511 533.33, Dr 151 106.67, Cr 201 640.00")
	c.try("/contras", `{"party":1,"day":"2026-11-20","owed":[{"item":1}],"owing":[{"item":2}]}`, "Dr 201 640.00, Cr 120 640.00")
	c.wantOpen(1, "260.00")
	c.wantOpen(2, "0.00")
	c.tiesOut()
}

func TestE19(t *testing.T) {
	c := newClient(t)
	c.must("/invoices", invoice(1, "2026-11-01", "12000"))
	c.try("/receipts", receipt(1, "2026-11-10", "13680.00", `,"placements":[{"item":1,"rest":"kept back"}]`), "Dr 101 13680.00, Cr 120 13680.00", "Dr 124 720.00, Cr 120 720.00")
	if kept := c.get("/customers/1").at("position", "keepsBack"); kept != "720.00" {
		t.Errorf("keeps back %s", kept)
	}
	c.try("/receipts", receipt(1, "2026-11-20", "720.00", `,"placements":[{"item":4}]`), "Dr 101 720.00, Cr 120 720.00", "Dr 120 720.00, Cr 124 720.00")
	if p := c.get("/customers/1"); p.at("position", "keepsBack") != "0.00" || p.at("position", "net") != "0.00" {
		t.Errorf("position %s", p.body)
	}
	c.tiesOut()
}

// Money that nobody knew is given to its owners a week later; the statement,
// the ageing and the register tell it as of each day.
func TestIdentified(t *testing.T) {
	c := newClient(t)
	c.must("/invoices", invoice(1, "2026-11-01", "1000"))
	c.try("/unidentified", `{"day":"2026-11-09","amount":"1500.00","reference":"??",`+bank+`}`, "Dr 101 1500.00, Cr 224 1500.00")
	c.try("/distributions", `{"from":2,"day":"2026-11-16","receipts":[{"customer":1,"arrived":"1000.00","placements":[{"item":1}]}],"deposits":[{"customer":2,"job":2,"amount":"400.00"}],"sendBack":"100.00",`+bank+`}`,
		"Dr 224 400.00, Cr 221 400.00", "Dr 224 1000.00, Cr 120 1000.00", "Dr 224 100.00, Cr 101 100.00")
	for day, want := range map[string]string{"2026-11-10": "1500.00", "2026-11-20": "0.00"} {
		if open := c.get("/registers/unidentified?asOf="+day).at("sums", "open"); open != want {
			t.Errorf("not identified on %s: %s, want %s", day, open, want)
		}
	}
	for day, want := range map[string]string{"2026-11-10": "1200.00", "2026-11-20": "200.00"} {
		if net := c.get("/customers/1?asOf="+day).at("position", "net"); net != want {
			t.Errorf("customer on %s: %s, want %s", day, net, want)
		}
		if open := c.get("/papers/1?asOf=" + day).at("open"); open != want {
			t.Errorf("invoice on %s: %s, want %s", day, open, want)
		}
		if closing := c.get("/customers/1/statement?from=2026-01-01&through=" + day).at("closing"); closing != want {
			t.Errorf("statement through %s: %s, want %s", day, closing, want)
		}
		if total := c.get("/ageing?byJob=true&asOf="+day).at("total", "total"); total != want {
			t.Errorf("ageing on %s: %s, want %s", day, total, want)
		}
	}
	one := `{"day":"2026-11-20","amount":"300.00",` + bank + `,"receipts":[{"customer":1,"arrived":"100.00","onAccount":true},{"customer":2,"arrived":"150.00","onAccount":true}]}`
	if a := c.post("/distributions", one).want(422); a.at("refusals", 0, "rule") != "sums differ" {
		t.Errorf("shares that do not agree: %s", a.body)
	}
	c.tiesOut()
}

// What is refused, and how: nothing changes, and the sentence names the limit.
func TestBadMoney(t *testing.T) {
	c := newClient(t)
	c.must("/invoices", invoice(1, "2026-11-01", "1000"))
	c.must("/deposits", deposit(1, "2026-11-02", "500.00"))
	c.must("/receipts", receipt(2, "2026-11-03", "80.00", `,"onAccount":true`))
	before := string(c.get("/trial-balance").body)
	for _, x := range []struct{ path, body, field, text string }{
		{"/receipts", receipt(1, "2026-11-20", "100.00", `,"placements":[{"item":1,"amount":"100.01"}]`), "placements[0].amount", "Only 100.00 of this receipt is left"},
		{"/receipts", receipt(1, "2026-11-20", "1100.00", `,"placements":[{"item":1,"rest":"difference"}]`), "placements[0].rest", "up to 1.00"},
		{"/receipts", receipt(1, "2026-11-20", "1100.00", `,"placements":[{"item":1,"rest":"disputed"}]`), "placements[0].reason", "Say why"},
		{"/receipts", receipt(1, "2026-11-20", "100.00", `,"placements":[{"item":1,"discount":true}]`), "placements[0].discount", "no discount"},
		{"/receipts", receipt(1, "2026-11-20", "100.00", `,"withheld":"20.00","onAccount":true`), "withheld", "no money that could stay on account"},
		{"/refunds", refund(2, "500.01"), "sources[0].amount", "Only 500.00 of D26-0001 is open"},
		{"/refunds", refund(1, "5.00"), "sources[0].amount", "Choose a credit"},
		{"/forfeits", `{"deposit":2,"day":"2026-11-20","amount":"500.01"}`, "amount", "Take 500.00 or less"},
		{"/forfeits", `{"deposit":3,"day":"2026-11-20","amount":"5.00"}`, "amount", "Choose a deposit"},
		{"/transfers", `{"from":2,"day":"2026-11-20","customer":1,"asDeposit":true}`, "party", "is there already"},
		{"/transfers", `{"from":2,"day":"2026-11-20","customer":9}`, "party", "Say which customer"},
		{"/write-offs", `{"day":"2026-11-20","items":[{"item":1}]}`, "reason", "Say why"},
		{"/write-offs", `{"day":"2026-11-20","reason":"x","items":[{"item":3}]}`, "items[0].amount", "the customer's money"},
		{"/contras", `{"party":1,"day":"2026-11-20","owed":[{"item":1}],"owing":[{"item":2}]}`, "party", "no supplier"},
		{"/returned-payments", `{"paper":1,"day":"2026-11-20"}`, "paper", "Choose the receipt"},
		{"/recoveries", `{"writeOff":1,"day":"2026-11-20","amount":"5.00",` + bank + `}`, "writeOff", "Choose the write-off"},
		{"/journal-entries", `{"day":"2026-11-20","text":"x","lines":[{"account":4,"debit":"5.00","party":1},{"account":5,"credit":"5.00"}]}`, "lines[1].account", "moves by its own papers"},
		{"/disputes", `{"item":1,"day":"2026-11-20"}`, "reason", "Say why"},
		{"/allowances", `{"day":"2026-11-20"}`, "day", "nothing to post"},
		{"/deposits/split", `{"deposit":2,"day":"2026-11-20"}`, "refund", "Say what becomes"},
	} {
		a := c.post(x.path+"?"+seen, x.body).want(http.StatusUnprocessableEntity)
		if !strings.Contains(string(a.body), `"field":"`+x.field+`"`) || !strings.Contains(a.at("detail"), x.text) {
			t.Errorf("%s %s: want %s: %q, got %s", x.path, x.body, x.field, x.text, a.body)
		}
	}
	if after := string(c.get("/trial-balance").body); after != before {
		t.Errorf("a refusal changed the books: %s", after)
	}
	c.tiesOut()
}

// Two windows give the same credit back at once: one succeeds, the other is
// told what is left. The same receipt sent twice is one receipt.
func TestAtOnce(t *testing.T) {
	c := newClient(t)
	c.must("/deposits", deposit(1, "2026-11-02", "500.00"))
	var wait sync.WaitGroup
	answers := make([]answer, 6)
	for n := range answers {
		wait.Go(func() {
			answers[n] = c.post("/refunds?"+seen, refund(1, "400.00"), "Idempotency-Key", fmt.Sprint("window", n))
		})
	}
	wait.Wait()
	done := 0
	for _, a := range answers {
		if a.status == 200 {
			done++
		} else if a.status != 422 || !strings.Contains(a.at("detail"), "100.00") {
			t.Errorf("the other window: %s", a.body)
		}
	}
	if done != 1 {
		t.Errorf("%d refunds went through", done)
	}
	body := receipt(1, "2026-11-20", "50.00", `,"onAccount":true`)
	for n := range answers {
		wait.Go(func() { answers[n] = c.post("/receipts?"+seen, body, "Idempotency-Key", "one receipt") })
	}
	wait.Wait()
	for _, a := range answers[1:] {
		if string(a.body) != string(answers[0].body) {
			t.Errorf("the same key answered %s and %s", answers[0].body, a.body)
		}
	}
	if n := c.get("/papers?kind=receipt").at("count"); n != "1" {
		t.Errorf("%s receipts", n)
	}
	c.tiesOut()
}

// Why of any balance: the papers that add up to it.
func TestWhy(t *testing.T) {
	c := newClient(t)
	c.must("/invoices", invoice(1, "2026-11-01", "1000"))
	c.must("/invoices", invoice(1, "2026-11-02", "500"))
	c.must("/receipts", receipt(1, "2026-11-10", "700.00", `,"placements":[{"item":2},{"item":1}]`))
	c.must("/reversals", `{"paper":2,"day":"2026-11-12","reason":"wrong"}`)
	for query, want := range map[string]string{
		"of=register&register=receivables&customer=1":                 "I26-0001 1100.00, R26-0001 -600.00 = 500.00",
		"of=register&register=receivables&customer=1&side=owed":       "I26-0001 1100.00 = 1100.00",
		"of=register&register=receivables&customer=1&asOf=2026-11-11": "I26-0001 1100.00 = 1100.00",
		"of=item&id=1":     "I26-0001 1200.00, R26-0001 -100.00 = 1100.00",
		"of=account&id=1":  "R26-0001 700.00 = 700.00",
		"of=account&id=29": "I26-0001 -1000.00 = -1000.00",
		"of=account&id=4":  "I26-0001 1100.00, R26-0001 -600.00 = 500.00",
		"of=billed&job=1":  " = 0.00",
	} {
		a := c.get("/why?" + query).want(200)
		var parts []string
		for n := range strings.Count(string(a.body), "paperId") {
			parts = append(parts, a.at("rows", n, "number")+" "+a.at("rows", n, "amount"))
		}
		if got := strings.Join(parts, ", ") + " = " + a.at("total"); got != want {
			t.Errorf("%s: %s, want %s", query, got, want)
		}
	}
}

// A story comes in stretches, each line with its balance.
func TestStory(t *testing.T) {
	c := newClient(t)
	for n := 1; n <= 9; n++ {
		c.must("/invoices", invoice(1, fmt.Sprintf("2026-11-%02d", n), "10"))
	}
	path, balance, seen := "/customers/1/story?limit=4", 108, 0
	for path != "" {
		a := c.get(path).want(200)
		n := strings.Count(string(a.body), `"paperId"`)
		for i := n - 1; i >= 0; i-- {
			if got := a.at("rows", i, "balance"); got != fmt.Sprintf("%d.00", balance) {
				t.Errorf("%s, line %d: balance %s, want %d.00", path, i, got, balance)
			}
			balance -= 12
			seen++
		}
		if path = ""; strings.Contains(string(a.body), `"next"`) {
			path = "/customers/1/story?limit=4&before=" + a.at("next")
		}
	}
	if seen != 9 || balance != 0 {
		t.Errorf("%d lines, %d.00 before the first", seen, balance)
	}
	c.get("/customers/1/story?before=nowhere").want(400)
}

// The Desk tells every loose end of money, each in one group.
func TestDeskOfMoney(t *testing.T) {
	c := newClient(t)
	c.must("/unidentified", `{"day":"2026-11-09","amount":"15.00",`+bank+`}`)
	c.must("/invoices", invoice(1, "2026-10-01", "1000"))
	c.must("/disputes", `{"item":2,"day":"2026-11-20","reason":"scratched"}`)
	c.must("/invoices", invoice(1, "2026-10-02", "500"))
	c.must("/receipts", receipt(1, "2026-11-03", "70.00", `,"onAccount":true`))
	c.must("/receipts", receipt(2, "2026-11-03", "80.00", `,"onAccount":true`))
	c.must("/receipts", receipt(2, "2026-11-03", "0.40", `,"onAccount":true`))
	c.must("/deposits", deposit(1, "2026-11-03", "20.00"))
	c.must("/refunds", strings.Replace(refund(5, "30.00"), "transfer", "cheque", 1))
	d := c.get("/desk").want(200)
	var groups []string
	for n := range strings.Count(string(d.body), `"group"`) {
		groups = append(groups, d.at("groups", n, "group")+" "+d.at("groups", n, "count")+" "+d.at("groups", n, "sum"))
	}
	want := "not identified 1 15.00; on account 1 70.00; overpaid 1 50.00; deposit 1 20.00; cheque 1 30.00; disputed 1 1200.00; overdue 1 600.00; small 1 0.40"
	if got := strings.Join(groups, "; "); got != want {
		t.Errorf("the desk tells %s\nwant %s", got, want)
	}
	if a := c.get("/ageing"); a.at("total", "disputed") != "1200.00" || a.at("total", "unplaced") != "-120.40" {
		t.Errorf("ageing %s", a.body)
	}
	if e := c.get("/expected").want(200); e.at("overdue") != "600.00" || e.at("disputed") != "1200.00" {
		t.Errorf("expected %s", e.body)
	}
	c.must("/write-offs", `{"day":"2026-11-20","reason":"small","items":[{"item":6}]}`)
	if n := strings.Count(string(c.get("/desk").body), `"small"`); n != 1 { // its limit alone
		t.Errorf("the small balance is still told")
	}
	c.tiesOut()
}

// The figures of part 4 that bear no number.
func TestFiguresOfPart4(t *testing.T) {
	c := newClient(t)
	c.must("/invoices", invoice(1, "2026-11-01", "1000"))
	c.try("/receipts", receipt(1, "2026-11-09", "1199.97", `,"placements":[{"item":1,"rest":"difference"}]`), "Dr 101 1199.97, Dr 641 0.03, Cr 120 1200.00")
	c.must("/invoices", invoice(1, "2026-11-02", "1000"))
	c.must("/receipts", receipt(1, "2026-11-09", "1200.00", `,"placements":[{"item":4}]`))
	c.try("/returned-payments", `{"paper":4,"day":"2026-11-16","fee":"12.00"}`, "Cr 101 1212.00, Dr 120 1200.00, Dr 621 12.00")
	c.must("/receipts", receipt(1, "2026-11-17", "500.00", `,"onAccount":true`))
	c.try("/transfers", `{"from":7,"day":"2026-11-18","customer":1,"job":1,"asDeposit":true}`, "Dr 120 500.00, Cr 221 500.00")
	c.try("/receipts", receipt(1, "2026-11-18", "1140.00", `,"withheld":"60.00","placements":[{"item":4}]`), "Dr 101 1140.00, Dr 135 60.00, Cr 120 1200.00")
	c.must("/receipts", receipt(2, "2026-11-18", "0.04", `,"onAccount":true`))
	c.try("/write-offs", `{"day":"2026-11-19","reason":"nobody will claim it","items":[{"item":12}]}`, "Dr 120 0.04, Cr 641 0.04")
	c.tiesOut()
}

// Part 7: within what is open on both sides on every day from that day on.
func TestOpenOnEveryDay(t *testing.T) {
	c := newClient(t)
	c.must("/invoices", invoice(1, "2026-11-01", "5000"))
	c.must("/deposits", deposit(1, "2026-11-01", "1000.00"))
	c.must("/allocations", `{"day":"2026-11-05","pairs":[{"debit":1,"credit":2,"amount":"600.00"}]}`)
	c.must("/allocations/undo", `{"day":"2026-11-20","allocations":[1]}`)
	if a := c.post("/allocations?"+seen, `{"day":"2026-11-10","pairs":[{"debit":1,"credit":2,"amount":"400.01"}]}`).want(422); a.at("refusals", 0, "limit") != "400.00" {
		t.Errorf("on the 10th: %s", a.body)
	}
	c.must("/allocations", `{"day":"2026-11-10","pairs":[{"debit":1,"credit":2,"amount":"400.00"}]}`)
	c.tiesOut()
}

// Part 9: deposits and what is kept back are told below a statement, never
// inside.
func TestStatementBelow(t *testing.T) {
	c := newClient(t)
	c.must("/invoices", invoice(1, "2026-11-01", "12000"))
	c.must("/invoices", invoice(1, "2026-11-02", "11400"))
	c.must("/receipts", receipt(1, "2026-11-10", "13680.00", `,"placements":[{"item":1,"rest":"kept back"}]`))
	c.must("/deposits", deposit(1, "2026-11-11", "1000.00"))
	s := c.get("/customers/1/statement?from=2026-11-01&through=2026-11-20").want(200)
	for field, want := range map[string]string{"opening": "0.00", "closing": "13680.00", "held": "1000.00", "keptBack": "720.00", "net": "13400.00"} {
		if s.at(field) != want {
			t.Errorf("%s is %s, want %s", field, s.at(field), want)
		}
	}
	open := c.get("/customers/1/statement?open=true").want(200)
	if open.at("items", 0, "open") != "13680.00" || open.at("closing") != "13680.00" {
		t.Errorf("open items %s", open.body)
	}
	for _, path := range []string{"/customers/1/statement/file?from=2026-11-01", "/customers/1/statement/file?open=true&format=xlsx", "/deposit-register/file", "/registers/retention/file?format=xlsx", "/ageing/file?byJob=true"} {
		if f := c.get(path).want(200); len(f.body) < 60 || !strings.Contains(f.header.Get("Content-Disposition"), "attachment") {
			t.Errorf("%s: %q", path, f.body)
		}
	}
}
