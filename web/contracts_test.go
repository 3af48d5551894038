package web_test

import (
	"strings"
	"testing"
)

// order is an order of customer 1 for job 1, of one line.
func order(day, net string) string {
	return `{"customer":1,"job":1,"day":"` + day + `","lines":[{"text":"Stair","quantity":"1","unitPrice":"` + net + `","taxCode":1}]}`
}

// E-5 as a client sends it: ordered, billed in advance, deducted.
func TestAdvanceThroughTheAPI(t *testing.T) {
	c := newClient(t)
	c.put("/jobs/1", `{"name":"Stair","customer":1}`).want(200)
	c.try("/orders", order("2026-10-01", "8000"))
	if got := c.get("/jobs/1"); got.at("contract") != "8000.00" || got.at("leftToBill") != "8000.00" || got.at("agreed") != "8000.00" {
		t.Errorf("the order is the contract: %s", got.body)
	}
	c.try("/deposit-invoices", `{"customer":1,"job":1,"day":"2026-10-02","order":1,"percent":"30"}`, "Dr 120 2880.00, Cr 227 2400.00, Cr 241 480.00")
	if a := c.get("/billable?customer=1").want(200); a.at("orders", 0, "lines", 0, "leftToBill") != "1" || a.at("advances", 0, "left") != "2880.00" {
		t.Errorf("what can be billed: %s", a.body)
	}
	final := `{"customer":1,"job":1,"day":"2026-11-20","form":"final","lines":[{"text":"Stair","order":1,"orderLine":1}],"deductions":[{"paper":2}]}`
	p := c.post("/invoices?preview=true", final).want(200)
	for name, want := range map[string]string{"net": "8000.00", "tax": "1600.00", "before": "9600.00", "deducted": "2880.00", "total": "6720.00", "left": "6720.00"} {
		if got := p.at("effect", "paper", name); got != want {
			t.Errorf("%s is %s, want %s", name, got, want)
		}
	}
	if got := p.at("effect", "paper", "deductions", 0, "text") + p.at("effect", "paper", "deductions", 0, "off"); got != "Deposit invoice AI26-0001 of 2 Oct 2026-2880.00" {
		t.Errorf("it says %s", got)
	}
	c.try("/invoices", final, "Dr 120 6720.00, Dr 227 2400.00, Cr 401 8000.00, Cr 241 1120.00")
	for path, want := range map[string]string{"/advance-register": "0", "/advance-register?asOf=2026-11-19": "1"} {
		if got := c.get(path).at("count"); got != want {
			t.Errorf("%s counts %s, want %s", path, got, want)
		}
	}
	if a := c.get("/advance-register?asOf=2026-11-19"); a.at("sums", "left") != "2400.00" || a.at("rows", 0, "leftTax") != "480.00" {
		t.Errorf("billed in advance the day before: %s", a.body)
	}
	if j := c.get("/jobs/1"); j.at("billed") != "8000.00" || j.at("leftToBill") != "0.00" || j.at("open") != "9600.00" {
		t.Errorf("the job: %s", j.body)
	}
	if o := c.get("/papers/1"); o.at("order", 0, "billed") != "1" || o.at("order", 0, "leftToBill") != "0" {
		t.Errorf("the order: %s", o.body)
	}
	if a := c.get("/order-book?order=1"); a.at("left") != "0.00" || a.at("rows", 0, "number") != "O26-0001" {
		t.Errorf("the order book: %s", a.body)
	}
	if j := c.get("/jobs/1"); j.at("strip", 0, "amount") != "0.00" || j.at("strip", 1, "amount") != "8000.00" {
		t.Errorf("nothing is paid, the advance neither: %s", j.at("strip"))
	}
	c.try("/reversals", `{"paper":3,"day":"2026-11-20","reason":"wrong"}`, "Cr 120 6720.00, Cr 227 2400.00, Dr 401 8000.00, Dr 241 1120.00")
	copied := c.get("/papers/3/copy?again=true").want(200)
	if copied.at("body", "lines", 0, "order") != "1" || copied.at("body", "deductions", 0, "paper") != "2" || copied.at("body", "form") != "final" {
		t.Errorf("copied: %s", copied.body)
	}
}

// E-7 to E-10: the terms of the job, what is kept back by them, its release.
func TestRetentionThroughTheAPI(t *testing.T) {
	c := newClient(t)
	job := `{"name":"Stair","customer":1,"contractSum":"20000.00","retention":"5","retentionTaxLater":true,"releases":[{"name":"at completion","percent":"50","day":"2026-12-15"},{"name":"defects","percent":"50","day":"2027-12-15"}]}`
	c.put("/jobs/1", job).want(200)
	if j := c.get("/jobs/1"); j.at("retention") != "5" || j.at("releases", 1, "day") != "2027-12-15" {
		t.Errorf("the job keeps its terms: %s", j.body)
	}
	for body, field := range map[string]string{
		`{"name":"x","customer":1,"retention":"101"}`:                                                 "retention",
		`{"name":"x","customer":1,"retention":"5","retentionCap":"1","retentionCapPercent":"3"}`:      "retentionCap",
		`{"name":"x","customer":1,"retention":"5","releases":[{"percent":"40"}]}`:                     "releases",
		`{"name":"x","customer":1,"retention":"5","releases":[{"percent":"100","day":"2026-02-30"}]}`: "releases[0].day",
	} {
		if a := c.post("/jobs", body).want(422); a.at("refusals", 0, "field") != field {
			t.Errorf("%s is refused at %s, want %s", body, a.at("refusals", 0, "field"), field)
		}
	}
	bill := `{"customer":1,"job":1,"day":"2026-11-02","lines":[{"text":"Stair","unitPrice":"12000","taxCode":1}]}`
	p := c.post("/invoices?preview=true", bill)
	if p.at("effect", "paper", "retained") != "720.00" || p.at("effect", "paper", "left") != "13680.00" {
		t.Errorf("kept back: %s", p.body)
	}
	c.try("/invoices", bill, "Dr 120 13680.00, Dr 124 720.00, Cr 401 12000.00, Cr 241 2280.00, Cr 244 120.00")
	if a := c.get("/registers/retention"); a.at("count") != "2" || a.at("rows", 0, "due") != "2026-12-15" {
		t.Errorf("the register: %s", a.body)
	}
	c.try("/releases", `{"customer":1,"day":"2026-11-20","amount":"360.00"}`, "Dr 120 360.00, Cr 124 360.00, Dr 244 60.00, Cr 241 60.00")
	if a := c.get("/papers/2"); a.at("state") != "open" || a.at("open") != "360.00" || a.at("due") != "2026-12-20" {
		t.Errorf("the release: %s", a.body)
	}
	c.try("/releases", `{"customer":1,"day":"2026-11-20","items":[{"item":3}]}`, "Dr 120 360.00, Cr 124 360.00, Dr 244 60.00, Cr 241 60.00")
	c.try("/receipts", receipt(1, "2026-11-20", "14400.00", `,"placements":[{"item":1},{"item":5},{"item":7}]`), "Dr 101 14400.00, Cr 120 14400.00")
	if j := c.get("/jobs/1"); j.at("settled") != "14400.00" || j.at("keptBack") != "0.00" {
		t.Errorf("the job in the end: %s", j.body)
	}
}

// A billing plan of a job: each stage is billed by one key, and tells so.
func TestPlanThroughTheAPI(t *testing.T) {
	c := newClient(t)
	plan := `"stages":[{"name":"deposit","percent":"30","day":"2026-11-01"},{"name":"delivery","percent":"40","day":"2026-12-01"},{"name":"rest","percent":"30"}]`
	c.put("/jobs/1", `{"name":"Stair","customer":1,"contractSum":"40000.00",`+plan+`}`).want(200)
	stands := func(want ...string) {
		t.Helper()
		j := c.get("/jobs/1")
		for n, w := range want {
			if got := j.at("plan", n, "through") + " " + j.at("plan", n, "billed") + " " + j.at("plan", n, "late"); got != w {
				t.Errorf("stage %d: %s, want %s", n, got, w)
			}
		}
	}
	stands("12000.00 false true", "28000.00 false false", "40000.00 false false")
	c.try("/claims", `{"job":1,"day":"2026-11-20","percent":"30"}`, "Dr 120 14400.00, Cr 401 12000.00, Cr 241 2400.00")
	stands("12000.00 true false", "28000.00 false false")
	for body, field := range map[string]string{
		`"stages":[{"percent":"30"}]`: "stages[0].name",
		`"stages":[{"name":"x"}]`:     "stages[0].percent",
		`"stages":[{"name":"x","percent":"60"},{"name":"y","percent":"41"}]`: "stages",
	} {
		if a := c.put("/jobs/1", `{"name":"Stair","customer":1,`+body+`}`).want(422); a.at("refusals", 0, "field") != field {
			t.Errorf("%s is refused at %s", body, a.at("refusals", 0, "field"))
		}
	}
}

// What nobody paid of a request is cancelled: it hangs nowhere any more, and
// says so. A refund asks again, and that is cancelled too.
func TestCancelsARequest(t *testing.T) {
	c := newClient(t)
	ask := c.must("/deposit-requests", `{"customer":1,"job":1,"day":"2026-11-02","due":"2026-11-10","amount":"1000.00"}`).at("posted", "paper")
	stands := func(state, left, hangs string, says ...string) {
		t.Helper()
		p := c.get("/papers/" + ask).want(200)
		if got := p.at("state") + " " + p.at("left"); got != state+" "+left {
			t.Errorf("it is %s, want %s %s", got, state, left)
		}
		if a := c.get("/papers?kind=request+for+a+deposit"); a.at("rows", 0, "state") != state {
			t.Errorf("in the list it is %s, want %s", a.at("rows", 0, "state"), state)
		}
		if got := c.says(1, ""); got != strings.Join(says, " | ") {
			t.Errorf("its sheet says %q, want %q", got, says)
		}
		d := c.get("/desk").want(200)
		if got := strings.Contains(string(d.body), `"group":"request","count":1`); got != (hangs == "hangs") {
			t.Errorf("on the Desk: %v, want it that it %s", got, hangs)
		}
	}
	stands("asked", "1000.00", "hangs", "Deposit asked for 1000.00", "Left to pay by 10 Nov 1000.00")
	c.must("/deposits", `{"customer":1,"job":1,"day":"2026-11-05","amount":"600.00","bank":1,"method":"transfer","request":`+ask+`}`)
	cancel := `{"request":` + ask + `,"day":"2026-11-12","reason":"they pay by the month"}`
	if a := c.post("/cancellations?preview=true", cancel).want(200); a.at("effect", "paper", "lines", 0, "text") != "400.00 of RD26-0001, no longer asked for" {
		t.Errorf("the effect is %s", a.body)
	}
	c.must("/cancellations", cancel)
	stands("paid", "0.00", "is gone", "Deposit asked for 1000.00", "No longer asked for -400.00", "Nothing left to pay 0.00")
	if a := c.post("/cancellations", cancel).want(422); a.at("refusals", 0, "field") != "request" {
		t.Errorf("cancelled twice: %s", a.body)
	}
	c.must("/refunds", `{"customer":1,"day":"2026-11-13","sources":[{"item":1}],"bank":1,"method":"transfer"}`)
	c.must("/cancellations", strings.Replace(cancel, "11-12", "11-13", 1))
	stands("cancelled", "0.00", "is gone", "Deposit asked for 1000.00", "No longer asked for -1000.00", "Nothing left to pay 0.00")
	c.must("/reversals", `{"paper":5,"day":"2026-11-14","reason":"wrong"}`)
	if a := c.get("/papers/5/copy?again=true").want(200); a.at("kind") != "cancellation" || a.at("body", "request") != ask || a.at("body", "reason") != "they pay by the month" {
		t.Errorf("written again it says %s", a.body)
	}
	stands("part paid", "600.00", "hangs", "Deposit asked for 1000.00", "No longer asked for -400.00", "Left to pay by 10 Nov 600.00")
	if a := c.get("/papers?kind=request+for+a+deposit&asOf=2026-11-13"); a.at("rows", 0, "state") != "cancelled" {
		t.Errorf("on the 13th it was %s", a.at("rows", 0, "state"))
	}
	if a := c.post("/cancellations", `{"request":`+ask+`,"order":1,"day":"2026-11-13","reason":"x"}`).want(422); a.at("refusals", 0, "rule") != "one of them" {
		t.Errorf("of both: %s", a.body)
	}
}

// An order that was called off says so in place of being billed.
func TestCancelledIsNotBilled(t *testing.T) {
	c := newClient(t)
	c.must("/orders", `{"customer":1,"job":1,"day":"2026-11-02","lines":[{"text":"Stair","quantity":"2","unitPrice":"500","taxCode":1}]}`)
	cancel := `{"order":1,"day":"2026-11-12","reason":"too dear","lines":[{"position":1,"quantity":"1"}]}`
	for _, want := range []string{"part billed 50", "cancelled 100"} {
		c.must("/cancellations", cancel)
		if a := c.get("/papers/1"); a.at("state")+" "+a.at("settled") != want {
			t.Errorf("it is %s %s, want %s", a.at("state"), a.at("settled"), want)
		}
		if a := c.get("/jobs/1/story"); !strings.Contains(string(a.body), `"state":"`+strings.Fields(want)[0]) {
			t.Errorf("the story of the job does not say %s: %s", want, a.body)
		}
	}
}
