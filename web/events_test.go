package web_test

import (
	"net/http"
	"strings"
	"testing"
)

// What is promised or put off waits until its day; a promise that was not kept
// is a loose end of its own. Nothing of it changes the paper.
func TestPromisesAreKeptByTheDesk(t *testing.T) {
	c := newClient(t)
	paper := c.post("/invoices?"+seen, `{"customer":1,"day":"2026-09-01","due":"2026-10-01","lines":[{"text":"Stair","unitPrice":"100","taxCode":1}]}`).want(200).at("posted", "paper")
	group := func(asOf, name string) string {
		t.Helper()
		desk := string(c.get("/desk?asOf=" + asOf).want(200).body)
		_, after, found := strings.Cut(desk, `"group":"`+name+`"`)
		if !found {
			return ""
		}
		rows, _, _ := strings.Cut(after, "]")
		return rows
	}
	if !strings.Contains(group("2026-11-20", "overdue"), paper) {
		t.Fatal("not overdue")
	}
	events := "/papers/" + paper + "/events"
	c.post(events, `{"event":"reminded","text":"by telephone"}`).want(204)
	c.post(events, `{"event":"promised","until":"2026-11-24"}`).want(204)
	if group("2026-11-20", "overdue") != "" || group("2026-11-24", "promise") != "" {
		t.Error("what is promised is asked for again")
	}
	if got := group("2026-11-25", "promise"); !strings.Contains(got, `"until":"2026-11-24"`) || group("2026-11-25", "overdue") != "" {
		t.Errorf("the promise that was not kept: %s", got)
	}
	c.post(events, `{"event":"put off","until":"2026-11-30"}`).want(204)
	if group("2026-11-25", "promise") != "" || group("2026-12-01", "promise") == "" {
		t.Error("put off to 30 Nov")
	}
	c.post(events, `{"event":"noted","text":"Her number","reference":"PO 77"}`).want(204)
	a := c.get("/papers/" + paper)
	if a.at("events", 3, "reference") != "PO 77" || a.at("events", 1, "until") != "2026-11-24" || a.at("reference") != "" || a.at("events", 0, "user") != "W" {
		t.Errorf("%s", a.body)
	}
	// An address that was completed later is printed from then on.
	c.post(events, `{"event":"addressed","text":"2 Weir Row\nHaverling"}`).want(204)
	if a := c.get("/papers/" + paper); a.at("address") != "2 Weir Row\nHaverling" || c.get("/papers/"+paper+"?asOf=2026-11-19").at("address") != "" {
		t.Errorf("addressed: %s", a.body)
	}
	for _, bad := range []string{`{"event":"addressed","text":" "}`, `{"event":"promised"}`, `{"event":"promised","until":"2026-11-19"}`, `{"event":"noted"}`, `{"event":"gone"}`, `{"event":"noted","text":"` + strings.Repeat("x", 1001) + `"}`} {
		c.post(events, bad).want(http.StatusUnprocessableEntity)
	}
	c.post("/papers/999/events", `{"event":"noted","text":"x"}`).want(http.StatusNotFound)
	paid := c.post("/deposits", deposit(1, "2026-11-02", "5.00")).at("posted", "paper")
	c.post("/papers/"+paid+"/events", `{"event":"promised","until":"2026-11-24"}`).want(http.StatusUnprocessableEntity)
}
