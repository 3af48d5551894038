package web_test

import (
	"fmt"
	"net/http"
	"strings"
	"sync"
	"testing"
)

func TestE1(t *testing.T) {
	c := newClient(t)
	c.try("/invoices", `{"customer":1,"day":"2026-11-20","discount":"10.00","lines":[{"text":"a","unitPrice":"100","taxCode":1},{"text":"b","unitPrice":"33.33","taxCode":2}]}`,
		"Dr 120 144.91, Cr 401 92.50, Cr 401 30.83, Cr 241 18.50, Cr 241 3.08")
}

func TestE2AsFarAsSettingAgainst(t *testing.T) {
	c := newClient(t)
	c.try("/deposits", deposit(1, "2026-11-01", "1200.00"), "Dr 101 1200.00, Cr 221 1200.00")
	c.try("/invoices", invoice(1, "2026-11-10", "1000"), "Dr 120 1200.00, Cr 401 1000.00, Cr 241 200.00")
	c.try("/allocations", `{"day":"2026-11-12","pairs":[{"debit":2,"credit":1,"amount":"400.00"}]}`, "Dr 221 400.00, Cr 120 400.00")
	if held := c.get("/registers/deposits").at("sums", "open"); held != "800.00" {
		t.Errorf("still held %s", held)
	}
}

func TestE3(t *testing.T) {
	c := newClient(t)
	c.try("/invoices", invoice(1, "2026-11-01", "1000"), "Dr 120 1200.00, Cr 401 1000.00, Cr 241 200.00")
	c.try("/invoices", invoice(1, "2026-11-02", "750"), "Dr 120 900.00, Cr 401 750.00, Cr 241 150.00")
	c.try("/receipts", receipt(1, "2026-11-10", "1985.00", `,"charges":"15.00","placements":[{"item":1,"amount":"1200.00"},{"item":2,"amount":"800.00"}]`),
		"Dr 101 1985.00, Dr 621 15.00, Cr 120 2000.00")
	if open := c.get("/papers/2").at("open"); open != "100.00" {
		t.Errorf("B is open %s", open)
	}
	if state := c.get("/papers/1").at("state"); state != "settled" {
		t.Errorf("A is %s", state)
	}
}

func TestE6(t *testing.T) {
	c := newClient(t)
	c.try("/receipts", receipt(1, "2026-10-03", "1000.00", `,"onAccount":true`), "Dr 101 1000.00, Cr 120 1000.00")
	c.try("/deposits", deposit(1, "2026-10-04", "2500.00"), "Dr 101 2500.00, Cr 221 2500.00")
	body := `{"customer":1,"day":"2026-11-20","lines":[{"text":"Stair","unitPrice":"6200","taxCode":1}],"setAgainst":[{"credit":1},{"credit":2,"amount":"1800.00"}]}`
	c.try("/invoices", body, "Dr 120 7440.00, Cr 401 6200.00, Cr 241 1240.00", "Dr 221 1800.00, Cr 120 1800.00")
	c.try("/allocations", `{"day":"2026-11-20","pairs":[{"debit":3,"credit":2}]}`, "Dr 221 700.00, Cr 120 700.00")
	if open := c.get("/papers/3").at("open"); open != "3940.00" {
		t.Errorf("left to pay %s", open)
	}
	if state := c.get("/papers/2").at("state"); state != "used up" {
		t.Errorf("the deposit is %s", state)
	}
	if net := c.get("/customers/1").at("position", "net"); net != "3940.00" {
		t.Errorf("net %s", net)
	}
}

// A refusal names the field, the limit and the way out, and changes nothing.
func TestBadInput(t *testing.T) {
	c := newClient(t)
	c.try("/invoices", invoice(1, "2026-11-01", "1000"), "Dr 120 1200.00, Cr 401 1000.00, Cr 241 200.00")
	c.try("/deposits", deposit(2, "2026-11-01", "500.00"), "Dr 101 500.00, Cr 221 500.00")
	c.do("PUT", "/lock", `{"through":"2026-10-31"}`).want(204)
	before := c.get("/trial-balance").body
	acts := len(c.get("/audit").body)
	for _, x := range []struct{ path, body, field, limit, text string }{
		{"/deposits", deposit(1, "2026-11-20", "0"), "amount", "0.00", "above nil"},
		{"/deposits", deposit(1, "2026-11-20", "-5.00"), "amount", "0.00", "above nil"},
		{"/deposits", deposit(1, "2026-11-20", "1e3"), "amount", "", "is not an amount"},
		{"/deposits", deposit(1, "2026-11-20", "1.234"), "amount", "", "more than the 2 places"},
		{"/deposits", deposit(1, "2026-02-31", "5.00"), "day", "", "31 February 2026 does not exist"},
		{"/deposits", deposit(1, "2026-10-31", "5.00"), "day", "2026-10-31", "Use 1 Nov 2026 or later"},
		{"/deposits", deposit(99, "2026-11-20", "5.00"), "party", "", "which customer"},
		{"/invoices", `{"customer":1,"number":"I26-0001","day":"2026-11-20","lines":[{"text":"x","unitPrice":"5","taxCode":1}]}`, "number", "I26-0001", "taken"},
		{"/allocations", `{"day":"2026-11-20","pairs":[{"debit":1,"credit":2,"amount":"5.00"}]}`, "pairs[0].amount", "", "belongs to Dunmarrow Builders"},
		{"/receipts", receipt(1, "2026-11-20", "2000.00", `,"placements":[{"item":1,"amount":"1300.00"}]`), "placements[0].amount", "1200.00", "Take 1,200.00 or less"},
		{"/receipts", receipt(1, "2026-11-20", "100.00", ""), "onAccount", "100.00", "stays on account"},
	} {
		a := c.post(x.path+"?"+seen, x.body).want(http.StatusUnprocessableEntity)
		if a.header.Get("Content-Type") != "application/problem+json" || a.at("refusals", 0, "field") != x.field || a.at("refusals", 0, "limit") != x.limit ||
			!strings.Contains(a.at("refusals", 0, "text"), x.text) {
			t.Errorf("%s %s: %s", x.path, x.body, a.body)
		}
	}
	c.post("/deposits", deposit(1, "2027-01-01", "5.00")).want(http.StatusConflict) // wants confirming
	c.post("/deposits", `{"customer":`).want(http.StatusBadRequest)
	c.post("/deposits?nonsense=1", deposit(1, "2026-11-20", "5.00")).want(http.StatusUnprocessableEntity)
	c.get("/papers?sort=password").want(http.StatusBadRequest)
	c.get("/papers/999").want(http.StatusNotFound)
	c.get("/nowhere").want(http.StatusNotFound)
	if after := c.get("/trial-balance").body; string(after) != string(before) || len(c.get("/audit").body) != acts {
		t.Error("a refusal changed something")
	}
}

func TestSameKeySameAnswer(t *testing.T) {
	c := newClient(t)
	var wg sync.WaitGroup
	answers := make([]string, 6)
	for n := range answers {
		wg.Add(1)
		go func() {
			defer wg.Done()
			answers[n] = string(c.post("/deposits", deposit(1, "2026-11-20", "70.00"), "Idempotency-Key", "k1").body)
		}()
	}
	wg.Wait()
	for _, a := range answers {
		if a != answers[0] || !strings.Contains(a, "D26-0001") {
			t.Errorf("answers differ: %s and %s", answers[0], a)
		}
	}
	if count := c.get("/papers").at("count"); count != "1" {
		t.Errorf("%s papers", count)
	}
	c.post("/deposits", deposit(1, "2026-11-20", "71.00"), "Idempotency-Key", "k1").want(http.StatusUnprocessableEntity)
}

func TestTwoWindowsUseTheSameDeposit(t *testing.T) {
	c := newClient(t)
	c.post("/deposits", deposit(1, "2026-11-20", "500.00")).want(200)
	c.post("/invoices", invoice(1, "2026-11-20", "1000")).want(200)
	var wg sync.WaitGroup
	answers := make([]answer, 2)
	for n := range answers {
		wg.Add(1)
		go func() {
			defer wg.Done()
			answers[n] = c.post("/allocations", `{"day":"2026-11-20","pairs":[{"debit":2,"credit":1,"amount":"400.00"}]}`)
		}()
	}
	wg.Wait()
	if answers[0].status+answers[1].status != 200+422 {
		t.Fatalf("one must succeed: %d %s, %d %s", answers[0].status, answers[0].body, answers[1].status, answers[1].body)
	}
	for _, a := range answers {
		if a.status == 422 && (a.at("refusals", 0, "limit") != "100.00" || !strings.Contains(a.at("refusals", 0, "text"), "Only 100.00 of D26-0001 is open")) {
			t.Errorf("the other is told what is left: %s", a.body)
		}
	}
}

func TestDrafts(t *testing.T) {
	c := newClient(t)
	body := `{"kind":"invoice","body":` + invoice(1, "2026-11-20", "100") + `}`
	a := c.post("/drafts", body).want(200)
	tag, id := a.header.Get("ETag"), a.at("id")
	if a.at("total") != "120.00" || a.at("customer") != "Odalys Brandt" {
		t.Errorf("what lists tell of it: %s", a.body)
	}
	c.do("PUT", "/drafts/"+id, body).want(http.StatusPreconditionRequired)
	c.do("PUT", "/drafts/"+id, body, "If-Match", tag).want(200)
	c.do("PUT", "/drafts/"+id, body, "If-Match", tag).want(http.StatusPreconditionFailed)
	half := `{"kind":"deposit","body":{"amount":"not yet a nu","customer":1}}`
	if got := c.get("/drafts/"+c.post("/drafts", half).want(200).at("id")).at("body", "amount"); got != "not yet a nu" {
		t.Errorf("what was typed came back as %q", got)
	}
	if d := c.get("/desk").at("count"); d != "2" {
		t.Errorf("the desk tells %s loose ends", d)
	}
	c.post("/invoices?draft="+id, invoice(1, "2026-11-20", "100")).want(http.StatusPreconditionRequired)
	c.post("/invoices?draft="+id, invoice(1, "2026-11-20", "100"), "If-Match", tag).want(http.StatusPreconditionFailed) // it was saved since
	tag = c.get("/drafts/" + id).header.Get("ETag")
	c.post("/invoices?draft="+id, invoice(1, "2026-11-20", "100"), "If-Match", tag).want(200)
	c.post("/invoices?draft="+id, invoice(1, "2026-11-20", "100"), "If-Match", tag).want(http.StatusGone)
	if count := c.get("/papers").at("count"); count != "1" {
		t.Errorf("%s papers after a draft was posted twice", count)
	}
}

func TestNumbers(t *testing.T) {
	c := newClient(t)
	own := func(number, day string) string {
		return fmt.Sprintf(`{"customer":1,"number":%q,"day":%q,"amount":"5.00","bank":1,"method":"cash"}`, number, day)
	}
	for _, x := range []struct{ number, day, want string }{
		{"", "2026-11-20", "D26-0001"}, {"D26-0003", "2026-11-20", "D26-0003"}, {"", "2026-11-20", "D26-0002"}, {"", "2026-11-20", "D26-0004"},
		{"ours", "2026-11-20", "ours"}, {"", "2025-12-31", "D25-0001"}, {"", "2026-11-20", "D26-0005"},
	} {
		if got := c.post("/deposits?"+seen, own(x.number, x.day)).want(200).at("posted", "number"); got != x.want {
			t.Errorf("%q on %s got %s, want %s", x.number, x.day, got, x.want)
		}
	}
}

func TestNamesOfEveryKind(t *testing.T) {
	c := newClient(t)
	for _, name := range []string{`O'Brien "Bob" \ & Sons`, `<script>alert(1)</script>`, "שלום עולם", "🪜 Stairs 𝔘", "Łódź őű ﬁ", `Robert'); DROP TABLE papers;--`, "100% _off_"} {
		id := c.post("/customers", fmt.Sprintf(`{"name":%q}`, name)).want(200).at("id")
		if got := c.get("/customers/" + id).at("name"); got != name {
			t.Errorf("%q came back as %q", name, got)
		}
		c.post("/deposits", fmt.Sprintf(`{"customer":%s,"day":"2026-11-20","amount":"5.00","bank":1,"method":"cash","reference":%q}`, id, name)).want(200)
	}
	if n := c.get("/customers?q=%25").at("count"); n != "1" {
		t.Errorf("a percent sign finds %s", n)
	}
	c.post("/customers", `{"name":"  "}`).want(http.StatusUnprocessableEntity)
	c.post("/customers", fmt.Sprintf(`{"name":%q}`, strings.Repeat("x", 121))).want(http.StatusUnprocessableEntity)
}

func TestThePastStays(t *testing.T) {
	c := newClient(t)
	c.post("/invoices", invoice(1, "2026-11-01", "1000")).want(200)
	c.post("/receipts", receipt(1, "2026-11-05", "600.00", `,"placements":[{"item":1}]`)).want(200)
	views := []string{"/ageing?asOf=2026-11-10", "/tie-out?asOf=2026-11-10", "/trial-balance?asOf=2026-11-10", "/registers/receivables?asOf=2026-11-10&sort=open", "/customers/1/statement?from=2026-11-01&through=2026-11-10"}
	var before []string
	for _, v := range views {
		before = append(before, string(c.get(v).want(200).body))
	}
	c.post("/allocations/undo", `{"day":"2026-11-20","allocations":[1]}`).want(200)
	c.post("/reversals", `{"paper":2,"day":"2026-11-20","reason":"taken back"}`).want(200)
	for i, v := range views {
		if got := string(c.get(v).body); got != before[i] {
			t.Errorf("%s was\n%s\nand is\n%s", v, before[i], got)
		}
	}
	if open := c.get("/ageing").at("total", "total"); open != "1200.00" {
		t.Errorf("owed now %s", open)
	}
}

func TestImport(t *testing.T) {
	c := newClient(t)
	bad := `{"csv":"Name,Number,Terms\nGood,5001,30 days\n,5002,\nBad,5003,whenever\n"}`
	a := c.post("/import/customers?preview=true", bad).want(200)
	if a.at("refused") != "2" || a.at("rows", 1, "row") != "3" || a.at("rows", 2, "refusals", 0, "text") != `There is no terms "whenever". It takes 30 days, 14 days, On receipt, End of month, End of month + 15 days, Two halves, 14 and 44 days.` {
		t.Errorf("preview: %s", a.body)
	}
	c.post("/import/customers", bad).want(http.StatusUnprocessableEntity)
	if n := c.get("/customers?q=Good").at("count"); n != "0" {
		t.Error("a refused import kept a row")
	}
	c.post("/import/customers", `{"csv":"Nme\nx\n"}`).want(http.StatusUnprocessableEntity)
	a = c.post("/import/customers", `{"csv":"Name;Number;Terms\nGood;5001;30 days\n"}`).want(200)
	if a.at("creates") != "1" || a.at("done") != "true" {
		t.Errorf("import: %s", a.body)
	}
	for _, kind := range []string{"customers", "jobs", "articles", "accounts", "taxcodes", "terms", "banks"} {
		file := c.get("/records/" + kind + "/file").want(200).body
		back := c.post("/import/"+kind+"?preview=true", fmt.Sprintf(`{"csv":%q}`, file))
		if kind == "articles" { // none are there, so the file has no rows
			back.want(http.StatusUnprocessableEntity)
			continue
		}
		if back.want(200).at("refused") != "0" || back.at("creates") != "0" {
			t.Errorf("%s does not come back: %s", kind, back.body)
		}
	}
}

func TestSignIn(t *testing.T) {
	c := newClient(t)
	stranger := &client{t: t, url: c.url, http: &http.Client{}}
	stranger.get("/papers").want(http.StatusUnauthorized)
	stranger.post("/setup", firm).want(http.StatusConflict)
	c.post("/deposits", deposit(1, "2026-11-20", "5.00"), "Sec-Fetch-Site", "cross-site").want(http.StatusForbidden)
	for range 5 {
		stranger.post("/session", `{"email":"w@sw.example","password":"wrong"}`).want(http.StatusUnauthorized)
	}
	stranger.post("/session", `{"email":"w@sw.example","password":"winding stairs"}`).want(http.StatusTooManyRequests)
	c.do("DELETE", "/session", "").want(204)
	c.get("/papers").want(http.StatusUnauthorized)
}

func TestRecordsInUse(t *testing.T) {
	c := newClient(t)
	c.post("/deposits", deposit(1, "2026-11-20", "5.00")).want(200)
	for _, x := range []struct{ method, path, body string }{
		{"PUT", "/accounts/17", `{"number":"221","name":"Deposits","type":"asset"}`},                        // in use as a liability
		{"PUT", "/accounts/17", `{"number":"221","name":"Deposits","type":"liability","inactive":true}`},    // has a role
		{"PUT", "/roles/deposits", `{"account":13}`},                                                        // is posted to
		{"POST", "/accounts", `{"number":"221","name":"Again","type":"liability"}`},                         // taken
		{"POST", "/banks", `{"name":"New","iban":"GB00 0000"}`},                                             // check digits
		{"POST", "/terms", `{"name":"Odd","kind":"instalments","instalments":[{"percent":"60","days":1}]}`}, // not 100
		{"POST", "/taxcodes", `{"code":"TX","kind":"charged","rates":[{"since":"2026-02-31","percent":"5"}]}`},
		{"POST", "/articles", `{"code":"A","name":"A","kind":"service","price":"-1"}`},
		{"PUT", "/numbering/invoice", `{"format":"no number"}`},
		{"PUT", "/lock", `{"through":"2030-01-01"}`},
	} {
		if x.method == "PUT" && strings.HasPrefix(x.path, "/accounts") {
			c.put(x.path, x.body).want(http.StatusUnprocessableEntity)
			continue
		}
		c.do(x.method, x.path, x.body).want(http.StatusUnprocessableEntity)
	}
	c.put("/accounts/17", `{"number":"222","name":"Money held","type":"liability"}`).want(200)
	if got := c.post("/deposits?preview=true", deposit(1, "2026-11-20", "5.00")).at("effect", "entries", 0, "lines", 1, "account"); got != "222 Money held" {
		t.Errorf("a renumbered account posts as %s", got)
	}
	c.do("PUT", "/lock", `{"through":"2026-11-01"}`).want(204)
	c.do("PUT", "/lock", `{"through":""}`).want(http.StatusUnprocessableEntity)
	c.do("PUT", "/lock", `{"through":"","reason":"a late bill"}`).want(204)
}

func TestPagesDoNotRepeat(t *testing.T) {
	c := newClient(t)
	for n := range 25 {
		c.post("/deposits", deposit(1, fmt.Sprintf("2026-11-%02d", 1+n%5), fmt.Sprintf("%d.00", 1+n%7))).want(200)
	}
	for _, list := range []string{"/papers?sort=total", "/papers?sort=-day", "/registers/deposits?sort=open", "/papers?"} {
		seen := map[string]bool{}
		after := "0"
		for range 10 {
			a := c.get(list + "&limit=4&after=" + after).want(200)
			for i := range 4 {
				if !strings.Contains(string(a.body), `"rows":[]`) && i < strings.Count(string(a.body), `"number":`) {
					seen[a.at("rows", i, "id")] = true
				}
			}
			if after = a.at("next"); after == "<nil>" {
				break
			}
		}
		if len(seen) != 25 {
			t.Errorf("%s: %d of 25 seen", list, len(seen))
		}
	}
}

// What is wrong is told in the order of its form, each time: the first is gone to.
func TestRefusalsStandInOrder(t *testing.T) {
	c := newClient(t)
	for range 8 { // fields that come in the order of a map would differ
		for _, x := range []struct {
			path, body string
			fields     []string
		}{
			{"/limits", `{"difference":"-1.00","writeOff":"-1.00","relief":true,"allowance":["0","0","0","0","0"]}`, []string{"difference", "writeOff"}},
			{"/backup-plan", `{"everyHours":-1,"keepCount":0,"keepDays":0}`, []string{"everyHours", "keepCount", "keepDays"}},
			{"/customers/1", `{"name":"Odalys Brandt","supplier":true,"withhold":"101","keepBack":"101"}`, []string{"withhold", "keepBack"}},
			{"/mail-account", `{"way":"","fromAddress":"x","replyTo":"y","copyTo":"z"}`, []string{"fromAddress", "replyTo", "copyTo"}},
		} {
			var a answer
			if x.path == "/limits" || x.path == "/customers/1" {
				a = c.put(x.path, x.body).want(422)
			} else {
				a = c.do("PUT", x.path, x.body).want(422)
			}
			for n, field := range x.fields {
				if got := a.at("refusals", n, "field"); got != field {
					t.Fatalf("%s: refusal %d is of %s: %s", x.path, n, got, a.body)
				}
			}
		}
	}
}
