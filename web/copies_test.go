package web_test

import (
	"encoding/json"
	"fmt"
	"strings"
	"testing"

	"cleantally/core/money"
)

// made posts something, however its warnings stand, and is its paper.
func (c *client) made(path, body string) string {
	c.t.Helper()
	return c.post(path+"?"+seen, body).want(200).at("posted", "paper")
}

// netOf adds a preview's entries up by account; what comes to nil is left out.
func netOf(a answer) map[string]money.Amount {
	sums := map[string]money.Amount{}
	for n := range a.rows("effect", "entries") {
		for m := range a.rows("effect", "entries", n, "lines") {
			of := a.at("effect", "entries", n, "lines", m, "account")
			if sums[of] += a.sum("effect", "entries", n, "lines", m, "debit") - a.sum("effect", "entries", n, "lines", m, "credit"); sums[of] == 0 {
				delete(sums, of)
			}
		}
	}
	return sums
}

// Papers of the rarer kinds are copied as they were written: put right without a
// change they come to nothing on every account, and a copy says the same again,
// today, as far as it can be done twice.
func TestRarerPapersAreCopied(t *testing.T) {
	for name, x := range map[string]struct {
		path  string
		write func(c *client) string // answers the paper
		kind  string
		again []string // what its body holds when it is put right
		fresh string   // what a copy is refused for, "" where it can be done twice
	}{
		"late charge": {"/late-charges", func(c *client) string {
			c.made("/invoices", `{"customer":1,"day":"2026-09-06","due":"2026-10-06","lines":[{"text":"Stair","unitPrice":"2400","taxCode":3}]}`)
			return c.made("/late-charges", `{"customer":1,"day":"2026-11-18","through":"2026-11-10","percent":"8","grace":"2","fee":"15"}`)
		}, "late charge", []string{`"through":"2026-11-10"`, `"percent":"8"`, `"grace":"2"`, `"fee":"15.00"`, `"day":"2026-11-18"`}, ""},
		"contra": {"/contras", func(c *client) string {
			c.put("/customers/1", `{"name":"Odalys Brandt","supplier":true}`).want(200)
			c.made("/invoices", invoice(1, "2026-11-02", "750"))
			c.made("/supplier-bills", fmt.Sprintf(`{"supplier":1,"day":"2026-11-03","due":"2026-12-03","reference":"r","lines":[{"text":"Steel","account":%d,"net":"640","taxCode":3}]}`, c.account("511")))
			return c.made("/contras", `{"party":1,"day":"2026-11-10","note":"as agreed","owed":[{"item":1}],"owing":[{"item":2}]}`)
		}, "contra", []string{`"day":"2026-11-10"`, `"note":"as agreed"`, `"item":1`, `"item":2`}, "more than is open"},
		"guarantee": {"/guarantees", func(c *client) string {
			return c.made("/guarantees", `{"customer":1,"job":1,"day":"2026-11-03","lastDay":"2028-11-03","issuer":"Wessex Surety","reference":"G 1","amount":"400"}`)
		}, "guarantee", []string{`"lastDay":"2028-11-03"`, `"issuer":"Wessex Surety"`, `"amount":"400.00"`}, ""},
		"cancellation": {"/cancellations", func(c *client) string {
			c.made("/orders", `{"customer":1,"job":1,"day":"2026-10-01","lines":[{"text":"Treads","quantity":"10","unitPrice":"100","taxCode":1}]}`)
			return c.made("/cancellations", `{"order":1,"day":"2026-11-05","reason":"smaller","lines":[{"position":1,"quantity":"4"}]}`)
		}, "cancellation", []string{`"quantity":"4"`, `"reason":"smaller"`, `"order":1`}, ""},
		"credit of an advance": {"/advance-credits", func(c *client) string {
			c.made("/orders", `{"customer":1,"job":1,"day":"2026-10-01","lines":[{"text":"Stair","unitPrice":"8000","taxCode":1}]}`)
			c.made("/deposit-invoices", `{"customer":1,"job":1,"day":"2026-10-02","order":1,"percent":"30"}`)
			return c.made("/advance-credits", `{"paper":2,"day":"2026-11-05","reason":"called off","keep":"600","outsideTax":true}`)
		}, "credit of an advance", []string{`"keep":"600.00"`, `"outsideTax":true`, `"reason":"called off"`}, "nothing"},
	} {
		t.Run(name, func(t *testing.T) {
			c := newClient(t)
			id := x.write(c)
			a := c.get("/papers/" + id + "/copy?again=true").want(200)
			if got := a.at("kind"); got != x.kind {
				t.Errorf("it is written as %q, want %q", got, x.kind)
			}
			for _, want := range x.again {
				if body := a.sent("body"); !strings.Contains(body, want) {
					t.Errorf("it was written with %s: %s", want, body)
				}
			}
			again := fmt.Sprintf("%s?preview=true&again=%s&againReason=x&againDay=%s", x.path, id, a.at("day"))
			p := c.post(again, a.sent("body")).want(200)
			if p.rows("effect", "refusals") > 0 || len(netOf(p)) > 0 {
				t.Errorf("put right without a change: %s, left %v", p.at("effect", "refusals"), netOf(p))
			}
			// In one step, and what stands beside it in the books is right.
			c.post(strings.Replace(again, "preview=true", seen, 1), a.sent("body")).want(200)
			if by := c.get("/papers/" + id).at("reversedBy"); by == "" {
				t.Error("it was not taken back")
			}
			if c.get("/tie-out").at("ok") != "true" {
				t.Errorf("%s", c.get("/tie-out").body)
			}
			// A copy is dated today.
			b := c.get("/papers/" + id + "/copy").want(200)
			if !strings.Contains(b.sent("body"), `"day":"2026-11-20"`) {
				t.Errorf("a copy: %s", b.sent("body"))
			}
			twice := c.post(x.path+"?preview=true", b.sent("body")).want(200)
			if refused := twice.rows("effect", "refusals") > 0; refused != (x.fresh != "") {
				t.Errorf("done twice: %s", twice.at("effect", "refusals"))
			}
		})
	}
}

// Late charges of all who are late: shown with the firm's terms, drafted for the
// chosen ones, once each, posted one by one, and no day is charged twice.
func TestLateChargesForAll(t *testing.T) {
	c := newClient(t)
	c.made("/invoices", `{"customer":1,"day":"2026-09-06","due":"2026-10-06","lines":[{"text":"Stair","unitPrice":"2400","taxCode":3}]}`)
	c.made("/invoices", `{"customer":2,"day":"2026-09-06","due":"2026-10-06","lines":[{"text":"Rail","unitPrice":"1200","taxCode":3}]}`)
	c.made("/invoices", `{"customer":2,"day":"2026-11-06","due":"2026-12-06","lines":[{"text":"Not due","unitPrice":"999","taxCode":3}]}`)
	if none := c.get("/late-charges").want(200); none.rows("rows") != 0 || none.at("total") != "0.00" {
		t.Errorf("without terms nothing is charged: %s", none.body)
	}
	limits := string(c.get("/limits").want(200).body)
	for key, value := range map[string]string{"latePercent": "8", "lateGrace": "0", "lateFee": "10.00"} {
		limits = setKey(t, limits, key, value)
	}
	c.do("PUT", "/limits", limits, "If-Match", `"`+c.get("/limits").at("version")+`"`).want(200)
	all := c.get("/late-charges").want(200)
	if all.rows("rows") != 2 || all.at("rows", 0, "total") != "21.84" || all.at("rows", 1, "total") != "33.67" || all.at("total") != "55.51" {
		t.Fatalf("what is charged: %s", all.body)
	}
	if a := c.get("/late-charges?through=2026-10-06").want(200); a.rows("rows") != 0 {
		t.Errorf("what is due on a day is not overdue on it: %s", a.body)
	}
	draft := func(customers string) string {
		return c.post("/late-charges/drafts", `{"through":"2026-11-20","customers":[`+customers+`]}`).want(200).at("made")
	}
	for _, x := range []struct{ customers, made string }{{"", "0"}, {"2", "1"}, {"1,2,77", "1"}, {"1,2", "0"}} {
		if got := draft(x.customers); got != x.made {
			t.Errorf("drafts for %q: %s, want %s", x.customers, got, x.made)
		}
	}
	all = c.get("/late-charges").want(200)
	for n, total := range []string{"21.84", "33.67"} {
		id := all.at("rows", n, "draft")
		d := c.get("/drafts/" + id).want(200)
		if got := d.at("kind"); got != "late charge" {
			t.Errorf("draft %s is one of %s", id, got)
		}
		p := c.post("/late-charges?draft="+id, d.sent("body"), "If-Match", d.header.Get("ETag")).want(200)
		if got := c.get("/papers/" + p.at("posted", "paper")).at("total"); got != total {
			t.Errorf("charged %s, shown %s", got, total)
		}
		if got := c.do("GET", "/drafts/"+id, "").status; got != 410 && got != 404 {
			t.Errorf("the draft is still there: %d", got)
		}
	}
	if none := c.get("/late-charges").want(200); none.rows("rows") != 0 {
		t.Errorf("charged twice: %s", none.body)
	}
	c.post("/late-charges/drafts", `{"through":"2026-02-31","customers":[1]}`).want(400)
}

// Very many who are late are told page by page, each with the total of what was
// told so far.
func TestLateChargesByPages(t *testing.T) {
	c := newClient(t)
	limits := setKey(t, setKey(t, string(c.get("/limits").want(200).body), "latePercent", "8"), "lateFee", "10.00")
	c.do("PUT", "/limits", limits, "If-Match", `"`+c.get("/limits").at("version")+`"`).want(200)
	var ids []string
	for n := range 23 {
		id := c.post("/customers", fmt.Sprintf(`{"name":"Late %02d"}`, n)).want(200).at("id")
		c.made("/invoices", `{"customer":`+id+`,"day":"2026-09-06","due":"2026-10-06","lines":[{"text":"Stair","unitPrice":"2400","taxCode":3}]}`)
		ids = append(ids, id)
	}
	first := c.get("/late-charges").want(200)
	if first.rows("rows") != 20 || first.at("rows", 0, "name") != "Late 00" || first.at("total") != "673.40" || first.at("next") != ids[19] {
		t.Fatalf("the first page: %d rows, next %s, total %s", first.rows("rows"), first.at("next"), first.at("total"))
	}
	rest := c.get("/late-charges?after=" + first.at("next") + "&carried=" + first.at("total")).want(200)
	if rest.rows("rows") != 3 || rest.at("rows", 0, "name") != "Late 20" || rest.at("total") != "774.41" || strings.Contains(string(rest.body), "next") {
		t.Errorf("the rest: %s", rest.body)
	}
	letters := c.get("/reminders").want(200)
	if letters.rows("rows") != 23 || letters.at("total") != "55200.00" {
		t.Errorf("reminders: %d, %s", letters.rows("rows"), letters.at("total"))
	}
	if rest := c.get("/reminders?after=" + ids[20] + "&carried=50000.00").want(200); rest.rows("rows") != 2 || rest.at("total") != "54800.00" {
		t.Errorf("reminders from there: %s", rest.body)
	}
	if x := c.get("/late-charges?carried=many"); x.status != 400 && x.status != 422 {
		t.Errorf("no amount is carried: %d %s", x.status, x.body)
	}
	if made := c.post("/late-charges/drafts", `{"through":"2026-11-20","customers":[`+strings.Join(ids, ",")+`]}`).want(200).at("made"); made != "23" {
		t.Errorf("drafts: %s", made)
	}
}

// setKey is a body with another value of one key.
func setKey(t *testing.T, body, key, value string) string {
	t.Helper()
	var m map[string]any
	if err := json.Unmarshal([]byte(body), &m); err != nil {
		t.Fatal(err)
	}
	if _, known := m[key]; !known {
		t.Fatalf("%s is no key of %s", key, body)
	}
	m[key] = value
	changed, _ := json.Marshal(m)
	return string(changed)
}
