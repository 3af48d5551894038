package web_test

import (
	"strings"
	"testing"
	"time"
)

// Reminders gather all that is overdue of a customer in one letter, by stages; what
// is disputed, waited for, or of a customer who is left alone is left out, and
// said so. They go when somebody sends them, and stand in the story.
func TestReminders(t *testing.T) {
	p := newPostOffice(t)
	c := p.client
	invoice := func(customer, day, due string) string {
		return c.post("/invoices?"+seen, `{"customer":`+customer+`,"day":"`+day+`","due":"`+due+`","lines":[{"text":"Stair","unitPrice":"100","taxCode":1}]}`).want(200).at("posted", "paper")
	}
	two, three, disputed, waited := invoice("1", "2026-09-01", "2026-09-15"), invoice("1", "2026-10-01", "2026-10-15"), invoice("1", "2026-09-01", "2026-09-20"), invoice("1", "2026-09-01", "2026-09-25")
	items := c.get("/papers/"+disputed).want(200).at("parts", 0, "itemId")
	c.post("/disputes?"+seen, `{"item":`+items+`,"day":"2026-10-01","reason":"scratched"}`).want(200)
	c.post("/papers/"+waited+"/events", `{"event":"promised","until":"2026-11-30"}`).want(204)
	c.post("/customers", `{"name":"Left Alone","email":"alone@mail.example","leftAlone":true}`).want(200)
	invoice("2", "2026-09-01", "2026-09-15")
	c.post("/customers", `{"name":"Without Address"}`).want(200)
	invoice("3", "2026-11-01", "2026-11-10")
	r := c.get("/reminders").want(200)
	if r.at("rows", 0, "name") != "Odalys Brandt" || r.at("rows", 0, "oldest") != "66" || r.at("rows", 0, "stage") != "1" || r.at("rows", 0, "due") != "true" || r.at("rows", 1, "name") != "Without Address" {
		t.Errorf("who is reminded: %s", r.body)
	}
	for _, want := range []string{`"name":"Left Alone","paper":0,"number":"","why":"is left alone"`, `"why":"is waited for through 30 Nov 2026"`} {
		if !strings.Contains(string(r.body), want) {
			t.Errorf("left out: %s is missing in %s", want, r.at("left"))
		}
	}
	if strings.Contains(r.at("rows"), "I26-0005") {
		t.Errorf("what is promised is reminded of: %s", r.body)
	}
	// The letter, before it goes.
	letter := c.post("/reminders/pdf", `{"customers":[{"customer":1},{"customer":3}]}`).want(200)
	text := pdfText(t, letter.body)
	for _, want := range []string{"Reminder", "Odalys Brandt", "I26-0002", "15 Sep", "66", "36", "Left to pay", "take this as done"} {
		if !strings.Contains(text, want) {
			t.Errorf("the letter does not say %q: %s", want, text)
		}
	}
	// By mail; who has no address is refused, and nobody is mailed twice by mistake.
	c.post("/reminders/mail", `{"customers":[{"customer":1}]}`).want(200)
	if n := p.deliver(); n != 1 {
		t.Fatalf("%d went", n)
	}
	if mail := p.read("/1"); !strings.Contains(mail, "Reminder: ") || !strings.Contains(mail, "Reminder.pdf") || !strings.Contains(mail, "take this as done") {
		t.Errorf("the mail: %s", mail)
	}
	if paper := c.get("/papers/" + two).want(200); !strings.Contains(paper.at("events"), "Reminder: by mail to odalys@brandt.example") {
		t.Errorf("its story: %s", paper.at("events"))
	}
	c.post("/reminders/mail", `{"customers":[{"customer":3}]}`).refused(422, "missing")
	c.post("/reminders/paper", `{"customers":[{"customer":3}]}`).want(200)
	// The next stage would be taken, but it is not time for it: the first has just gone.
	r = c.get("/reminders").want(200)
	if r.at("rows", 0, "stage") != "2" || r.at("rows", 0, "due") != "false" || r.at("rows", 0, "reminded") != "2026-11-20" || r.at("rows", 1, "due") != "false" || r.at("rows", 1, "how") != "Reminder: on paper" {
		t.Errorf("after the first: %s", r.body)
	}
	// What was paid in the meantime is not reminded of.
	c.post("/reminders/mail", `{"customers":[{"customer":1,"stage":3}]}`).want(200)
	for _, id := range []string{two, three, disputed} {
		paper := c.get("/papers/" + id).want(200)
		c.post("/receipts?"+seen, `{"customer":1,"day":"2026-11-20","arrived":"120","bank":1,"method":"transfer","placements":[{"item":`+paper.at("parts", 0, "itemId")+`,"amount":"120"}]}`).want(200)
	}
	if n := p.deliver(); n != 0 {
		t.Errorf("%d went of what was paid", n)
	}
	if m := c.get("/mails?state=failed").want(200); !strings.Contains(m.at("rows", 0, "reason"), "Nothing of theirs is overdue any more") {
		t.Errorf("failed: %s", m.body)
	}
	c.post("/reminders/pdf", `{"customers":[{"customer":2}]}`).refused(422, "nothing overdue")
	c.post("/reminders/pdf", `{"customers":[{"customer":3,"stage":99}]}`).refused(422, "missing")
	c.post("/reminder-stages", `{"name":"Never: this","days":5,"words":"x"}`).refused(422, "form")
	c.post("/reminder-stages", `{"name":"Never","days":0,"words":"x"}`).refused(422, "out of bounds")
	c.post("/reminder-stages", `{"name":"reminder","days":5,"words":"x"}`).refused(422, "taken")
}

// A draft is printed only as one, with what would be posted: its totals, what would
// be set against it, what is left to pay.
func TestDraftsArePrintedAsDrafts(t *testing.T) {
	c := newClient(t)
	c.post("/deposits", deposit(1, "2026-10-04", "500.00")).want(200)
	body := `{"customer":1,"day":"2026-11-20","lines":[{"text":"Stair","unitPrice":"1000","taxCode":1}],"setAgainst":[{"credit":1}]}`
	draft := c.post("/drafts", `{"kind":"invoice","body":`+body+`}`).want(200).at("id")
	text := c.pdf("/drafts/" + draft + "/pdf")
	if raw := pdfText(t, c.get("/drafts/"+draft+"/pdf").body, "-raw"); !strings.Contains(raw, "DRAFT") || strings.Contains(raw, "I26-0001") {
		t.Errorf("it is not marked as a draft, or has a number: %s", raw)
	}
	for _, want := range []string{"Invoice", "Odalys Brandt", "Total 1,200.00", "Deposit D26-0001, 4 Oct −500.00", "Left to pay by 20 Dec 700.00"} {
		if !strings.Contains(text, want) {
			t.Errorf("the draft does not say %q: %s", want, text)
		}
	}
	empty := c.post("/drafts", `{"kind":"invoice","body":{}}`).want(200).at("id")
	if a := c.get("/drafts/" + empty + "/pdf"); a.status != 200 && a.status != 422 {
		t.Errorf("an empty draft: %d %s", a.status, a.body)
	}
	c.get("/drafts/99/pdf").want(404)
	// In a letterhead's words.
	c.post("/letterheads", `{"name":"L","kinds":["invoice"],"words":{"DRAFT":"SKIZZE","Tax number %s":"Steuernummer %s"}}`).want(200)
	c.put("/firm", `{"name":"Sparrow & Winder","taxNumber":"ZZ1","terms":1,"taxCode":1}`).want(200)
	if text := pdfText(t, c.get("/drafts/"+draft+"/pdf").body, "-raw"); !strings.Contains(text, "SKIZZE") || !strings.Contains(text, "Steuernummer ZZ1") {
		t.Errorf("in other words: %s", text)
	}
}

// A reminder can wait for its time, or for somebody who sends it; while it waits
// the customer is not reminded of the same a second time.
func TestRemindersThatWait(t *testing.T) {
	p := newPostOffice(t)
	c := p.client
	paper := c.post("/invoices?"+seen, `{"customer":1,"day":"2026-09-01","due":"2026-09-15","lines":[{"text":"Stair","unitPrice":"100","taxCode":1}]}`).want(200).at("posted", "paper")
	c.post("/reminders/mail", `{"customers":[{"customer":1}],"at":"soon"}`).refused(422, "no such time")
	c.post("/reminders/mail", `{"customers":[{"customer":1}],"at":"2026-11-20T09:20:00Z"}`).want(200)
	if r := c.get("/reminders").want(200); r.at("rows") != "[]" || r.at("left", 0, "why") != "has a reminder that waits in the outbox" {
		t.Errorf("while it waits: %s", r.body)
	}
	c.post("/reminders/mail", `{"customers":[{"customer":1}]}`).refused(422, "nothing overdue")
	c.post("/reminders/paper", `{"customers":[{"customer":1}]}`).refused(422, "nothing overdue")
	if n := p.deliver(); n != 0 {
		t.Errorf("%d went before its time", n)
	}
	p.now = p.now.Add(20 * time.Minute)
	if n := p.deliver(); n != 1 {
		t.Fatalf("%d went at its time", n)
	}
	if e := c.get("/papers/" + paper).at("events"); !strings.Contains(e, "Reminder: by mail") {
		t.Errorf("its story: %s", e)
	}
	c.post("/reminders/mail", `{"customers":[{"customer":1,"stage":2}],"byHand":true}`).want(200)
	if n := p.deliver(); n != 0 {
		t.Errorf("%d went by itself", n)
	}
	// Stopped, it waits no more.
	c.post("/mails/2/stop", "").want(200)
	if r := c.get("/reminders").want(200); r.at("rows", 0, "name") != "Odalys Brandt" {
		t.Errorf("after it was stopped: %s", r.body)
	}
}
