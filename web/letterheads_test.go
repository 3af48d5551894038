package web_test

import (
	"fmt"
	"strings"
	"testing"
)

// The letterhead of a paper is the one that was chosen for it, else its
// customer's, else that of its kind; its words stand on screen and on paper alike.
func TestLetterheadsAreTaken(t *testing.T) {
	c := newClient(t)
	c.post("/invoices", invoice(1, "2026-11-20", "1000")).want(200)
	c.post("/invoices", invoice(2, "2026-11-20", "1000")).want(200)
	words := `"words":{"Invoice":"Rechnung","Total":"Gesamt","Tax %s %%":"%s %% USt"}`
	c.post("/letterheads", `{"name":"By kind","foot":"for all invoices","kinds":["invoice"],`+words+`}`).want(200)
	c.post("/letterheads", `{"name":"Of builders","hidden":["Tax"],"colour":"#123ABC","window":"right"}`).want(200)
	in := func(paper int, want string) {
		t.Helper()
		if got := c.get(fmt.Sprintf("/papers/%d", paper)).at("letterhead"); got != want {
			t.Errorf("%d goes out in %q, want %q", paper, got, want)
		}
	}
	in(1, "By kind")
	if got := c.says(1, ""); got != "Net 1000.00 | 20 % USt 200.00 | Gesamt 1200.00 | Left to pay by 20 Dec 1200.00" {
		t.Errorf("it says %s", got)
	}
	if text := c.pdf("/papers/1/pdf"); !strings.Contains(text, "Rechnung I26-0001") || !strings.Contains(text, "20 % USt 200.00") || !strings.Contains(text, "for all invoices") {
		t.Errorf("the PDF says %s", text)
	}
	c.put("/customers/2", `{"name":"Dunmarrow Builders","letterhead":2}`).want(200)
	in(2, "Of builders")
	if text := c.pdf("/papers/2/pdf"); strings.Contains(text, "Rechnung") || strings.Contains(text, "20 % 1,000.00") {
		t.Errorf("the PDF says %s", text)
	}
	c.put("/papers/1/letterhead", `{"letterhead":2}`).want(204)
	in(1, "Of builders")
	c.put("/papers/1/letterhead", `{"letterhead":0}`).want(204)
	in(1, "By kind")
	c.put("/papers/1/letterhead", `{"letterhead":9}`).want(422)
	c.put("/papers/9/letterhead", `{"letterhead":1}`).want(404)
	// Several papers in one file, each in its own.
	if text := c.pdf("/papers/pdf?ids=1&ids=2"); !strings.Contains(text, "Rechnung I26-0001") || !strings.Contains(text, "Invoice I26-0002") {
		t.Errorf("both say %s", text)
	}
	c.put("/customers/1", `{"name":"Odalys Brandt","letterhead":9}`).want(422)
	c.put("/letterheads/1/logo", picture(t)).want(204)
	if l := c.get("/letterheads").want(200); l.at("rows", 0, "logo") != "true" {
		t.Errorf("letterheads: %s", l.body)
	}
	if l := c.get("/letterheads/1/logo").want(200); l.header.Get("Content-Type") != "image/png" || string(l.body) != picture(t) {
		t.Errorf("the logo is %v", l.header)
	}
	c.pdf("/papers/1/pdf")
	c.do("DELETE", "/letterheads/1/logo", "").want(204)
	c.get("/letterheads/1/logo").want(404)
}

// What cannot be a letterhead is refused at its field, and changes nothing.
func TestBadLetterheads(t *testing.T) {
	c := newClient(t)
	c.post("/letterheads", `{"name":"One","kinds":["invoice"]}`).want(200)
	for body, field := range map[string]string{
		`{"name":""}`:                                        "name",
		`{"name":"One"}`:                                     "name",
		`{"name":"x","colour":"red"}`:                        "colour",
		`{"name":"x","foot":"1\n2\n3\n4\n5\n6"}`:             "foot",
		`{"name":"x","kinds":["invoice"]}`:                   "kinds",
		`{"name":"x","hidden":["What"]}`:                     "hidden",
		`{"name":"x","words":{"Hello":"x"}}`:                 "words",
		`{"name":"x","words":{"Left to pay by %s":"x"}}`:     "words",
		`{"name":"x","words":{"Net":"100 %"}}`:               "words",
		`{"name":"x","words":{"Left to pay by %s":"%d %s"}}`: "words",
	} {
		if a := c.post("/letterheads", body); a.status != 422 || a.at("refusals", 0, "field") != field {
			t.Errorf("%s: %d %s", body, a.status, a.body)
		}
	}
	for _, logo := range []string{"no picture", strings.Repeat("x", 1_000_001), bomb()} {
		if a := c.put("/letterheads/1/logo", logo); a.status != 422 || a.at("refusals", 0, "field") != "logo" {
			t.Errorf("a logo of %d bytes: %d %.200s", len(logo), a.status, a.body)
		}
	}
	c.put("/letterheads/9/logo", picture(t)).want(404)
	if p := c.post("/letterheads/preview", `{"name":"x","words":{"Invoice":"Factura"}}`).want(200); p.at("sheet", "heading") != "Factura" || p.at("sheet", "to", "name") != "A customer" {
		t.Errorf("the preview of an empty firm: %s", p.body)
	}
	if l := c.get("/letterheads").want(200); strings.Count(string(l.body), `"name"`) != 1 {
		t.Errorf("letterheads: %s", l.body)
	}
}
