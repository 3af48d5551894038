package web_test

import (
	"encoding/json"
	"net/http"
	"strings"
	"testing"
)

// Whatever was posted by itself can be written once more: as a copy of today,
// or again with all that it had, once it is taken back.
func TestCopyAndWriteAgain(t *testing.T) {
	c := newClient(t)
	c.post("/customers", `{"name":"Thornapple Timber","supplier":true}`).want(200)
	deposit := c.post("/deposits", deposit(1, "2026-11-02", "500.00")).want(200).at("posted", "paper")
	credit := c.get("/customers/1/bench").at("credits", 0, "id")
	invoice := c.post("/invoices", `{"customer":1,"job":1,"day":"2026-11-03","terms":2,"reference":"A 1","note":"Thanks","includes":true,"discountPercent":"5","roundTo":"0.05",
		"lines":[{"text":"Stair","quantity":"1.5","unitPrice":"100.5","taxCode":1,"discountPercent":"2.5"},{"text":"Rail","unitPrice":"33.333333","taxCode":2,"discount":"1.00"}],"setAgainst":[{"credit":`+credit+`,"amount":"50.00"}]}`).want(200).at("posted", "paper")
	before := c.get("/papers/" + invoice)
	kind, copied := c.copied(invoice, "false")
	if kind != "invoice" || !strings.Contains(copied, `"day":"2026-11-20"`) || strings.Contains(copied, "setAgainst") {
		t.Errorf("a copy: %s", copied)
	}
	if made := c.post("/invoices?preview=true", copied).want(200); made.at("effect", "paper", "total") != before.at("total") {
		t.Errorf("a copy comes to %s", made.at("effect", "paper", "total"))
	}
	// Again it is only once it is taken back, and then just what it was.
	_, again := c.copied(invoice, "true")
	c.post("/invoices?again="+invoice, again).want(http.StatusUnprocessableEntity)
	c.post("/reversals", `{"paper":`+invoice+`,"day":"2026-11-20","reason":"wrong"}`).want(200)
	now := c.post("/invoices?again="+invoice, again).want(200).at("posted", "paper")
	a := c.get("/papers/" + now)
	if a.at("total") != before.at("total") || a.at("open") != before.at("open") || a.at("day") != "2026-11-03" || a.at("insteadOf", "id") != invoice {
		t.Errorf("again: %s", a.body)
	}
	if c.get("/papers/"+invoice).at("writtenAgain", "id") != now {
		t.Error("the old one does not say what it is written again as")
	}

	for path, body := range map[string]string{
		"/unidentified":    `{"day":"2026-11-03","amount":"7.00","bank":1,"method":"transfer","reference":"X"}`,
		"/receipts":        receipt(1, "2026-11-04", "30.00", `,"charges":"1.00","onAccount":true`),
		"/refunds":         `{"day":"2026-11-05","sources":[{"item":` + credit + `,"amount":"20.00"}],"bank":1,"method":"transfer"}`,
		"/supplier-bills":  `{"supplier":3,"day":"2026-11-05","reference":"B 9","lines":[{"text":"Oak","account":39,"net":"50.00","taxCode":1}]}`,
		"/journal-entries": `{"day":"2026-11-05","text":"By hand","lines":[{"account":1,"debit":"5.00"},{"account":28,"credit":"5.00"}]}`,
		"/transfers":       `{"day":"2026-11-05","from":` + credit + `,"amount":"10.00","customer":2,"asDeposit":true}`,
		"/write-offs":      `{"day":"2026-11-05","reason":"lost","relief":true,"items":[{"item":` + c.get("/customers/1/bench").at("owed", 0, "id") + `,"amount":"3.00"}]}`,
	} {
		paper := c.post(path+"?"+seen, body).want(200).at("posted", "paper")
		want := c.get("/papers/" + paper)
		_, again := c.copied(paper, "true")
		c.post("/reversals", `{"paper":`+paper+`,"day":"2026-11-20","reason":"wrong"}`).want(200)
		made := c.post(path+"?again="+paper+"&"+seen, again)
		if made.status != 200 {
			t.Errorf("%s: %s from %s", path, made.body, again)
			continue
		}
		got := c.get("/papers/" + made.at("posted", "paper"))
		for _, name := range []string{"total", "day", "customerId", "reference", "method"} {
			if got.at(name) != want.at(name) {
				t.Errorf("%s: %s is %s, was %s", path, name, got.at(name), want.at(name))
			}
		}
	}
	c.get("/papers/" + deposit + "/copy").want(200)
	reversal := c.get("/papers?kind=reversal").at("rows", 0, "id")
	c.get("/papers/" + reversal + "/copy").want(http.StatusNotFound)
	c.get("/papers/99999/copy").want(http.StatusNotFound)
}

// A paper is put right in one step: taken back and written again, or neither.
// What is shown of it is both, and the bench is as it would stand without it.
func TestPutRightInOneStep(t *testing.T) {
	c := newClient(t)
	c.post("/deposits", deposit(1, "2026-11-02", "500.00")).want(200)
	credit := c.get("/customers/1/bench").at("credits", 0, "id")
	wrong := c.post("/invoices", `{"customer":1,"job":1,"day":"2026-11-03","lines":[{"text":"Stair","unit":"pcs","unitPrice":"1000","taxCode":1}],"setAgainst":[{"credit":`+credit+`,"amount":"500.00"}]}`).want(200).at("posted", "paper")
	if left := c.get("/customers/1/bench").at("credits"); left != "[]" {
		t.Fatalf("nothing is left of the deposit: %s", left)
	}
	if open := c.get("/customers/1/bench?again="+wrong).want(200).at("credits", 0, "open"); open != "500.00" {
		t.Errorf("without the invoice the deposit is open with %s", open)
	}
	right := `{"customer":1,"job":1,"day":"2026-11-03","lines":[{"text":"Stair","unit":"pcs","unitPrice":"900","taxCode":1}],"setAgainst":[{"credit":` + credit + `,"amount":"500.00"}]}`
	again := "?again=" + wrong + "&againDay=" + c.get("/papers/"+wrong+"/copy?again=true").at("day")
	// Without a reason it is shown in full, and not posted.
	shown := c.post("/invoices"+again+"&preview=true", right).want(200)
	if shown.at("effect", "refusals", 0, "field") != "again.reason" || strings.Count(shown.at("effect", "refusals"), "map[") != 1 || shown.at("effect", "paper", "left") != "580.00" {
		t.Errorf("without a reason: %s", shown.body)
	}
	c.post("/invoices"+again, right).want(http.StatusUnprocessableEntity)
	again += "&againReason=Wrong+price"
	shown = c.post("/invoices"+again+"&preview=true", right).want(200)
	if shown.at("effect", "debit") != "3280.00" || shown.at("effect", "papers", 1, "kind") != "reversal" {
		t.Errorf("both are shown: %s", shown.body)
	}
	if owes := shown.at("effect", "balances", 2); !strings.Contains(owes, "before:700.00") || !strings.Contains(owes, "after:580.00") {
		t.Errorf("what the customer owes: %s", owes)
	}
	if c.get("/papers/"+wrong).at("reversedBy") != "" {
		t.Fatal("showing it took it back")
	}
	// What is refused of the new paper leaves the old one standing.
	c.post("/invoices"+again, strings.Replace(right, "Stair", "", 1)).want(http.StatusUnprocessableEntity)
	c.post("/invoices"+again+"&token=another", right).want(http.StatusConflict)
	if c.get("/papers/"+wrong).at("reversedBy") != "" {
		t.Fatal("a refusal took it back")
	}
	now := c.post("/invoices"+again+"&token="+shown.at("effect", "token"), right, "Idempotency-Key", "k1").want(200)
	if c.post("/invoices"+again+"&token="+shown.at("effect", "token"), right, "Idempotency-Key", "k1").want(200).at("posted", "paper") != now.at("posted", "paper") {
		t.Error("the same key posts it twice")
	}
	a := c.get("/papers/" + now.at("posted", "paper"))
	if a.at("open") != "580.00" || a.at("insteadOf", "id") != wrong || a.at("lines", 0, "unit") != "pcs" {
		t.Errorf("%s", a.body)
	}
	story := string(c.get("/customers/1/story").body)
	if !strings.Contains(story, `"insteadOf":"I26-0001"`) || !strings.Contains(story, `"writtenAgain":"`+a.at("number")) {
		t.Errorf("the story does not tie them: %s", story)
	}
	// What stands on a paper is named, and the new one is shown all the same.
	c.post("/write-offs?"+seen, `{"day":"2026-11-20","reason":"lost","items":[{"item":`+a.at("parts", 0, "itemId")+`,"amount":"80.00"}]}`).want(200)
	refused := c.post("/invoices?preview=true&again="+a.at("id")+"&againDay=2026-11-20&againReason=x", right).want(200)
	if !strings.HasPrefix(refused.at("effect", "refusals", 0, "field"), "again.") {
		t.Errorf("a write-off stands on it: %s", refused.body)
	}
}

// The day that is offered for what is written again is the paper's own, unless
// that is locked, or what it uses is free only from a later day on.
func TestPutRightOnADayThatCanBe(t *testing.T) {
	c := newClient(t)
	order := c.post("/orders", `{"customer":1,"job":1,"day":"2026-10-01","lines":[{"text":"Treads","quantity":"10","unitPrice":"100","taxCode":1}]}`).want(200).at("posted", "paper")
	billed := c.post("/invoices", `{"customer":1,"job":1,"day":"2026-10-05","lines":[{"text":"Treads","quantity":"10","unitPrice":"100","taxCode":1,"order":`+order+`,"orderLine":1}]}`).want(200).at("posted", "paper")
	plain := c.post("/invoices", `{"customer":1,"day":"2026-10-05","lines":[{"text":"Advice","unitPrice":"100","taxCode":1}]}`).want(200).at("posted", "paper")
	for _, id := range []string{billed, plain} {
		item := c.get("/papers/"+id).at("parts", 0, "itemId")
		c.post("/receipts", `{"customer":1,"day":"2026-10-20","arrived":"50.00","bank":1,"method":"transfer","placements":[{"item":`+item+`,"amount":"50.00"}]}`).want(200)
	}
	offered := func(id string) (back, anew string) {
		a := c.get("/papers/" + id + "/copy?again=true").want(200)
		return a.at("day"), a.at("body", "day")
	}
	repost := func(id string) answer {
		a := c.get("/papers/" + id + "/copy?again=true").want(200)
		return c.post("/invoices?preview=true&again="+id+"&againReason=x&againDay="+a.at("day"), a.sent("body")).want(200)
	}
	for _, x := range []struct{ name, paper, back, anew string }{
		{"it bills an order that is free from the 20th on", billed, "2026-10-20", "2026-10-20"},
		{"it uses nothing", plain, "2026-10-20", "2026-10-05"},
	} {
		if back, anew := offered(x.paper); back != x.back || anew != x.anew {
			t.Errorf("%s: taken back on %s, written again on %s", x.name, back, anew)
		}
		if p := repost(x.paper); p.rows("effect", "refusals") != 0 {
			t.Errorf("%s: %s", x.name, p.at("effect", "refusals"))
		}
	}
	c.do("PUT", "/lock", `{"through":"2026-10-31"}`).want(204)
	for _, id := range []string{billed, plain} {
		if back, anew := offered(id); back != "2026-11-20" || anew != "2026-11-20" {
			t.Errorf("after the lock: taken back on %s, written again on %s", back, anew)
		}
		if p := repost(id); p.rows("effect", "refusals") != 0 {
			t.Errorf("after the lock: %s", p.at("effect", "refusals"))
		}
	}
}

// copied is what a paper was written as.
func (c *client) copied(paper, again string) (kind, body string) {
	c.t.Helper()
	a := c.get("/papers/" + paper + "/copy?again=" + again).want(200)
	var found struct {
		Kind string
		Body json.RawMessage
	}
	if err := json.Unmarshal(a.body, &found); err != nil {
		c.t.Fatal(err)
	}
	return found.Kind, string(found.Body)
}
