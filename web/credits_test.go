package web_test

import "testing"

// E-13's second half and E-22's end as a client sends them: what is left to
// credit is told, and what was credited is told back.
func TestCreditsThroughTheAPI(t *testing.T) {
	c := newClient(t)
	c.put("/jobs/1", `{"name":"Stair","customer":1,"contractSum":"40000.00"}`).want(200)
	c.try("/claims", `{"job":1,"day":"2026-11-02","percent":"25"}`, "Dr 120 12000.00, Cr 401 10000.00, Cr 241 2000.00")
	c.try("/claims", `{"job":1,"day":"2026-11-02","percent":"60"}`, "Dr 120 16800.00, Cr 401 14000.00, Cr 241 2800.00")
	if a := c.get("/papers/2/creditable").want(200); a.at("work") != "14000.00" || a.at("claim") != "true" || a.at("lines", 0, "left") != "14000.00" {
		t.Errorf("left to credit: %s", a.body)
	}
	lower := `{"paper":2,"day":"2026-11-20","cause":"other","text":"certified lower","what":"work","work":"900.00","billAgain":true}`
	p := c.post("/credit-notes?preview=true", lower).want(200)
	if p.at("effect", "paper", "net") != "900.00" || p.at("effect", "paper", "total") != "1080.00" {
		t.Errorf("as it is read: %s", p.at("effect", "paper"))
	}
	c.try("/credit-notes", lower, "Dr 401 900.00, Dr 241 180.00, Cr 120 1080.00")
	c.try("/claims", `{"job":1,"day":"2026-11-20","percent":"25","credit":true}`, "Dr 401 13100.00, Dr 241 2620.00, Cr 120 15720.00")
	if j := c.get("/jobs/1"); j.at("billed") != "10000.00" || j.at("leftToBill") != "30000.00" {
		t.Errorf("the job: %s", j.body)
	}
	if a := c.get("/papers/3"); a.at("total") != "-1080.00" || a.at("before") != "1080.00" || a.at("lines", 0, "amount") != "900.00" || a.at("state") != "not used" || a.at("source") != "I26-0002" {
		t.Errorf("the credit note: %s", a.body)
	}
	if a := c.get("/papers/3/copy?again=true"); a.at("kind") != "credit note" || a.at("body", "work") != "900.00" || a.at("body", "what") != "work" {
		t.Errorf("copied: %s", a.body)
	}
	for body, field := range map[string]string{
		`{"paper":1,"day":"2026-11-20","cause":"fault","what":"lines"}`:                                              "lines",
		`{"paper":1,"day":"2026-11-20","cause":"fault","what":"work"}`:                                               "work",
		`{"paper":1,"day":"2026-11-20","cause":"fault","what":"lines","lines":[{"position":1,"amount":"10000.01"}]}`: "lines[0].amount",
		`{"paper":1,"day":"2026-11-20"}`:                                                                             "cause",
		`{"paper":9,"day":"2026-11-20","cause":"fault"}`:                                                             "paper",
		`{"paper":1,"day":"2026-11-20","cause":"fault","setAgainst":[{"item":99}]}`:                                  "setAgainst[0].amount",
	} {
		if a := c.post("/credit-notes", body).want(422); a.at("refusals", 0, "field") != field {
			t.Errorf("%s is refused at %s, want %s", body, a.at("refusals", 0, "field"), field)
		}
	}
	c.get("/papers/99/creditable").want(404)
}

// E-14 and E-15 as a client sends them, stock apart: a part comes back and is
// set against an older invoice first; after a part payment the rest is a credit.
func TestReturnsThroughTheAPI(t *testing.T) {
	c := newClient(t)
	invoice := func(line string) string {
		return `{"customer":1,"day":"2026-11-02","lines":[` + line + `]}`
	}
	c.try("/invoices", invoice(`{"text":"Older","unitPrice":"200","taxCode":3}`), "Dr 120 200.00, Cr 401 200.00")
	c.try("/invoices", invoice(`{"text":"Baluster","quantity":"6","unitPrice":"120","taxCode":1}`), "Dr 120 864.00, Cr 401 720.00, Cr 241 144.00")
	c.try("/credit-notes", `{"paper":2,"day":"2026-11-20","cause":"return","reference":"RMA 4","what":"lines","lines":[{"position":1,"quantity":"2"}],"setAgainst":[{"item":1}],"own":true}`,
		"Dr 401 240.00, Dr 241 48.00, Cr 120 288.00")
	if a, b := c.get("/papers/1"), c.get("/papers/2"); a.at("state") != "settled" || b.at("open") != "776.00" {
		t.Errorf("%s, %s open", a.at("state"), b.at("open"))
	}
	if a := c.get("/papers/2/creditable"); a.at("lines", 0, "quantity") != "4" || a.at("lines", 0, "left") != "480.00" {
		t.Errorf("left to credit: %s", a.body)
	}
	c.try("/invoices", invoice(`{"text":"Step","unitPrice":"250","taxCode":1}`), "Dr 120 300.00, Cr 401 250.00, Cr 241 50.00")
	c.try("/receipts", receipt(1, "2026-11-20", "60.00", `,"placements":[{"item":4}]`), "Dr 101 60.00, Cr 120 60.00")
	c.try("/credit-notes", `{"paper":4,"day":"2026-11-20","cause":"return","own":true}`, "Dr 401 250.00, Dr 241 50.00, Cr 120 300.00")
	if a := c.get("/papers/6"); a.at("open") != "60.00" || a.at("state") != "part used" {
		t.Errorf("left of the credit: %s %s", a.at("open"), a.at("state"))
	}
	c.try("/refunds", `{"sources":[{"item":6}],"day":"2026-11-20","bank":1,"method":"transfer"}`, "Dr 120 60.00, Cr 101 60.00")
}
