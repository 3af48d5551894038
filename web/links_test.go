package web_test

import (
	"bytes"
	"context"
	"fmt"
	"io"
	"io/fs"
	"net/http"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"cleantally/core/day"
)

// outside asks for an address as somebody who is not signed in.
func (c *client) outside(path string) answer {
	c.t.Helper()
	res, err := c.stranger().http.Get(c.url + path)
	if err != nil {
		c.t.Fatal(err)
	}
	defer res.Body.Close()
	body, err := io.ReadAll(res.Body)
	if err != nil {
		c.t.Fatal(err)
	}
	return answer{t: c.t, status: res.StatusCode, header: res.Header, body: body}
}

// A link opens its one paper, as it stands, to whoever has its secret, and nothing
// else; it ends by itself and by hand, and the paper tells when it was seen.
func TestALinkOpensOnePaper(t *testing.T) {
	c := newClient(t)
	c.post("/invoices", `{"customer":1,"day":"2026-11-20","note":"</style><script>alert(1)</script>","lines":[{"text":"Stair <b>& rail</b>","unitPrice":"1000","taxCode":1}]}`).want(200)
	c.post("/letterheads", `{"name":"L","kinds":["invoice"],"hidden":["Tax"],"foot":"Ours <i>foot</i>","words":{"Invoice":"Rechnung"}}`).want(200)
	c.put("/letterheads/1/logo", picture(t)).want(204)
	made := c.post("/papers/1/links", `{}`).want(200)
	path := made.at("path")
	if len(path) < len("/p/")+26 || made.at("rows", 0, "endsOn") != "2027-02-18" || made.at("rows", 0, "firstSeen") != "" {
		t.Fatalf("made: %s", made.body)
	}
	page := c.outside(path)
	text := string(page.body)
	for _, want := range []string{"Rechnung", "I26-0001", "Odalys Brandt", "1,200.00", "Stair &lt;b&gt;&amp; rail&lt;/b&gt;", "Ours &lt;i&gt;foot&lt;/i&gt;", "&lt;script&gt;", path + "/pdf", path + "/logo"} {
		if !strings.Contains(text, want) {
			t.Errorf("the page does not say %q: %s", want, text)
		}
	}
	if strings.Contains(text, "<script") || strings.Contains(text, `data-name="Tax"`) || strings.Contains(text, "ZgotmplZ") {
		t.Errorf("the page: %s", text)
	}
	for name, want := range map[string]string{"X-Robots-Tag": "noindex", "Cache-Control": "no-store", "Referrer-Policy": "no-referrer", "Content-Security-Policy": "default-src 'none'; style-src 'nonce-", "X-Frame-Options": "DENY"} {
		if !strings.Contains(page.header.Get(name), want) {
			t.Errorf("%s is %q", name, page.header.Get(name))
		}
	}
	if f := c.outside(path + "/pdf"); f.status != 200 || f.header.Get("Content-Type") != "application/pdf" || !bytes.HasPrefix(f.body, []byte("%PDF")) {
		t.Errorf("its PDF: %d %v", f.status, f.header)
	}
	if f := c.outside(path + "/logo"); f.status != 200 || string(f.body) != picture(t) {
		t.Errorf("its logo: %d %v", f.status, f.header)
	}
	if l := c.get("/papers/1/links").want(200); l.at("rows", 0, "times") != "1" || l.at("rows", 0, "firstSeen") == "" || strings.Contains(string(l.body), path) {
		t.Errorf("seen: %s", l.body)
	}
	// What was paid since stands there.
	c.post("/receipts", receipt(1, "2026-11-20", "1200.00", `,"placements":[{"item":1,"amount":"1200.00"}]`)).want(200)
	if text := string(c.outside(path).body); !strings.Contains(text, "Paid R26-0001") || !strings.Contains(text, "Nothing left to pay") {
		t.Errorf("paid: %s", text)
	}
	// Nothing else is reached with it, and nothing without it.
	for _, wrong := range []string{"/p/", "/p/x", path + "x", path + "/../x", path[:len(path)-1], path + "/api/v1/papers", strings.ToLower(path), "/p/" + strings.Repeat("x", 5000)} {
		if a := c.outside(wrong); a.status != 404 && a.status != 400 {
			t.Errorf("%.60s: %d %.100s", wrong, a.status, a.body)
		}
	}
	// Guessed ten thousand times, it opens nothing, and the books stay quick.
	guesser := c.stranger()
	for n := range 10_000 {
		res, err := guesser.http.Get(fmt.Sprintf("%s/p/GUESS%021d", c.url, n))
		if err != nil {
			t.Fatal(err)
		}
		_, _ = io.Copy(io.Discard, res.Body)
		res.Body.Close()
		if res.StatusCode != http.StatusNotFound {
			t.Fatalf("guess %d: %d", n, res.StatusCode)
		}
	}
	if a := c.stranger().get("/papers/1/links"); a.status != 401 {
		t.Errorf("a stranger sees links: %d", a.status)
	}
	c.post("/papers/9/links", `{}`).want(404)
	c.post("/papers/1/links", `{"days":731}`).want(422)
	c.post("/papers/1/links", `{"days":-1}`).want(422)
	// The secret is nowhere in the books.
	dir := filepath.Join(t.TempDir(), "backup")
	if err := c.book.Backup(context.Background(), dir); err != nil {
		t.Fatal(err)
	}
	err := filepath.WalkDir(dir, func(name string, d fs.DirEntry, err error) error {
		if err != nil || d.IsDir() {
			return err
		}
		file, err := os.ReadFile(name)
		if bytes.Contains(file, []byte(path[len("/p/"):])) {
			t.Errorf("the secret lies in %s", name)
		}
		return err
	})
	if err != nil {
		t.Fatal(err)
	}
	// It ends by itself, and by hand.
	c.book.SetToday(day.Day("2027-02-18"))
	if a := c.outside(path); a.status != http.StatusOK {
		t.Errorf("on its last day: %d", a.status)
	}
	c.book.SetToday(day.Day("2027-02-19"))
	if a := c.outside(path); a.status != http.StatusNotFound || !strings.Contains(string(a.body), "no longer does") {
		t.Errorf("the day after: %d %s", a.status, a.body)
	}
	other := c.post("/papers/1/links", `{"days":3}`).want(200)
	c.do("DELETE", "/links/2", "").want(204)
	if a := c.outside(other.at("path")); a.status != http.StatusNotFound {
		t.Errorf("ended: %d", a.status)
	}
	c.do("DELETE", "/links/9", "").want(404)
}

// A link to a statement opens that statement, as it stands, and nothing else.
func TestALinkOpensAStatement(t *testing.T) {
	c := newClient(t)
	c.post("/invoices", invoice(1, "2026-11-20", "1000")).want(200)
	c.post("/invoices", invoice(2, "2026-11-20", "77")).want(200)
	made := c.post("/customers/1/links", `{"through":"2026-11-20","open":true}`).want(200)
	path := made.at("path")
	page := c.outside(path)
	text := string(page.body)
	for _, want := range []string{"Statement", "Odalys Brandt", "I26-0001", "1,200.00", "Not due", path + "/pdf", "As a table (CSV)"} {
		if page.status != 200 || !strings.Contains(text, want) {
			t.Errorf("the page does not say %q: %d %s", want, page.status, text)
		}
	}
	if strings.Contains(text, "Dunmarrow") || strings.Contains(text, "by card") {
		t.Errorf("the page: %s", text)
	}
	if f := c.outside(path + "/pdf"); f.status != 200 || !strings.Contains(pdfText(t, f.body), "I26-0001") {
		t.Errorf("its PDF: %d", f.status)
	}
	if f := c.outside(path + "/data"); f.status != 200 || !strings.Contains(string(f.body), "I26-0001") || !strings.Contains(f.header.Get("Content-Type"), "csv") {
		t.Errorf("as a table: %d %v %s", f.status, f.header, f.body)
	}
	if f := c.outside(path + "/logo"); f.status != 404 {
		t.Errorf("a logo that it does not have: %d", f.status)
	}
	// What was paid since stands there; of a span, what happened in it.
	c.post("/receipts", receipt(1, "2026-11-20", "1200.00", `,"placements":[{"item":1,"amount":"1200.00"}]`)).want(200)
	if text := string(c.outside(path).body); strings.Contains(text, "I26-0001") {
		t.Errorf("paid: %s", text)
	}
	span := c.post("/customers/1/links", `{"from":"2026-11-01","through":"2026-11-20","days":3}`).want(200)
	if text := string(c.outside(span.at("path")).body); !strings.Contains(text, "Balance brought forward") || !strings.Contains(text, "R26-0001") {
		t.Errorf("a span: %s", text)
	}
	if l := c.get("/customers/1/links").want(200); l.at("rows", 1, "times") != "1" || strings.Contains(string(l.body), path) {
		t.Errorf("seen: %s", l.body)
	}
	c.do("DELETE", "/links/1", "").want(204)
	if a := c.outside(path); a.status != 404 {
		t.Errorf("ended: %d", a.status)
	}
	c.post("/customers/9/links", `{"through":"2026-11-20"}`).want(404)
	c.get("/customers/9/links").want(404)
	c.post("/customers/1/links", `{"through":"2026-02-30"}`).want(400)
	c.post("/customers/1/links", `{"through":"2026-11-20","days":731}`).want(422)
}
