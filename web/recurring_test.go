package web_test

import (
	"context"
	"strings"
	"testing"

	"cleantally/web"
)

// An invoice recurs: what is due is made at once, each once, what was missed as
// well; it is paused, changed, ended; the draft is posted like any other.
func TestRecurringThroughTheAPI(t *testing.T) {
	c := newClient(t)
	c.try("/invoices", `{"customer":1,"day":"2026-08-31","reference":"old","lines":[{"text":"Service","unitPrice":"100","taxCode":1}]}`, "Dr 120 120.00, Cr 401 100.00, Cr 241 20.00")
	a := c.post("/recurring", `{"name":"Service","paper":1,"every":1,"unit":"month"}`).want(200)
	if a.at("rows", 0, "first") != "2026-09-30" || a.at("rows", 0, "made") != "2" || a.at("rows", 0, "next") != "2026-11-30" || a.at("rows", 0, "total") != "120.00" {
		t.Errorf("made: %s", a.body)
	}
	if a.at("coming", 0, "month") != "2026-11-01" || a.at("coming", 0, "total") != "120.00" || a.at("coming", 1, "rows", 0, "day") != "2026-12-30" {
		t.Errorf("what comes: %s", a.at("coming"))
	}
	drafts := c.get("/drafts").want(200)
	if drafts.at("rows", 0, "day") != "2026-10-30" || drafts.at("rows", 1, "day") != "2026-09-30" || drafts.at("rows", 0, "total") != "120.00" || strings.Count(string(drafts.body), `"kind"`) != 2 {
		t.Errorf("the drafts: %s", drafts.body)
	}
	if n, err := web.New(c.book, web.Options{}).MakeRecurring(context.Background()); n != 0 || err != nil {
		t.Errorf("made again: %d, %v", n, err)
	}
	c.book.SetToday("2027-02-01")
	if n, err := web.New(c.book, web.Options{}).MakeRecurring(context.Background()); n != 3 || err != nil {
		t.Errorf("made after two months: %d, %v", n, err)
	}
	c.put("/recurring/1", `{"name":"Service","every":1,"unit":"month","first":"2026-09-30","paused":true}`).want(200)
	c.book.SetToday("2027-03-01")
	if n, _ := web.New(c.book, web.Options{}).MakeRecurring(context.Background()); n != 0 {
		t.Errorf("made while paused: %d", n)
	}
	for body, field := range map[string]string{
		`{"name":"","every":1,"unit":"month","first":"2026-09-30"}`:                       "name",
		`{"name":"x","every":0,"unit":"month","first":"2026-09-30"}`:                      "every",
		`{"name":"x","every":1,"unit":"month","first":"2026-10-01"}`:                      "first",
		`{"name":"x","every":1,"unit":"month","first":"2026-09-30","until":"2026-09-01"}`: "until",
		`{"name":"x","every":1,"unit":"month","first":"2025-09-30"}`:                      "first",
		`{"name":"x","every":1,"unit":"month","first":"2027-03-30","paper":99}`:           "paper",
	} {
		if a := c.put("/recurring/1", body).want(422); a.at("refusals", 0, "field") != field {
			t.Errorf("%s is refused at %s, want %s", body, a.at("refusals", 0, "field"), field)
		}
	}
	c.put("/recurring/1", `{"name":"Service","every":2,"unit":"week","first":"2027-03-01","until":"2027-03-20"}`).want(200)
	if a := c.get("/recurring"); a.at("rows", 0, "made") != "1" || a.at("rows", 0, "next") != "2027-03-15" {
		t.Errorf("begun anew: %s", a.body)
	}
	c.do("PUT", "/recurring/1", `{"name":"x","every":1,"unit":"month","first":"2027-04-30"}`, "If-Match", `"2"`).want(412)
	c.do("DELETE", "/recurring/1", "").want(204)
	c.do("DELETE", "/recurring/1", "").want(404)
}
