package web_test

import (
	"encoding/json"
	"fmt"
	"slices"
	"strings"
	"testing"
)

// found tells what a search finds, as kind and name, in order.
func (c *client) found(text string) []string {
	c.t.Helper()
	var out struct {
		Rows []struct{ Kind, Name, Amount, Open string }
	}
	if err := json.Unmarshal(c.get("/search?q="+text).want(200).body, &out); err != nil {
		c.t.Fatal(err)
	}
	var all []string
	for _, r := range out.Rows {
		all = append(all, strings.TrimSpace(fmt.Sprintf("%s %s %s %s", r.Kind, r.Name, r.Amount, r.Open)))
	}
	return all
}

func TestSearch(t *testing.T) {
	c := newClient(t)
	c.post("/invoices", `{"customer":1,"job":1,"day":"2026-11-02","reference":"PO 77","lines":[{"text":"Stair","unitPrice":"302.92","taxCode":1}]}`).want(200)
	c.post("/receipts", receipt(1, "2026-11-03", "63.50", `,"placements":[{"item":1,"amount":"63.50"}]`)).want(200)
	c.post("/deposits", deposit(2, "2026-11-03", "1363.00")).want(200)
	for text, want := range map[string]string{
		// A whole number finds what begins with it, cents or none; parts are told with what is open.
		"363":    "paper I26-0001 363.50 300.00",
		"363.50": "paper I26-0001 363.50 300.00",
		"363.51": "",
		"63":     "account 631 Bad debts; account 635 Change in allowance; paper R26-0001 63.50",
		"1363":   "paper D26-0001 1363.00 1363.00",
		"po+77":  "paper I26-0001 363.50 300.00",
		// A name brings its jobs and its papers along, each once.
		"odalys":      "customer Odalys Brandt; job " + c.get("/jobs/1").at("number") + " Stair; paper I26-0001 363.50 300.00; paper R26-0001 63.50",
		"trade+recei": "account 120 Trade receivables",
		"'%25_":       "",
	} {
		got := c.found(text)
		if len(got) > 0 && !strings.HasPrefix(want, got[0]) {
			t.Errorf("%s finds %q first", text, got[0])
		}
		slices.Sort(got)
		joined := strings.Join(got, "; ")
		if joined != want {
			t.Errorf("%s finds %q, want %q", text, joined, want)
		}
	}
}

// Rows of a spreadsheet are understood cell by cell; what means nothing comes
// back as it is, so that it is refused where it stands.
func TestPastedRows(t *testing.T) {
	c := newClient(t)
	a := c.post("/understand", `{"kinds":["text","quantity","price","percent"],"rows":[["Newel","2","1.180,50","5 %","more"],["Cap"],["x","two","","-"],["","1*3","86,40+12",""]]}`).want(200)
	var out struct{ Rows [][]string }
	if err := json.Unmarshal(a.body, &out); err != nil {
		t.Fatal(err)
	}
	if got := fmt.Sprint(out.Rows); got != "[[Newel 2 1180.50 5] [Cap   ] [x two  -] [ 3 98.40 ]]" {
		t.Errorf("%q", got)
	}
	a = c.post("/understand", `{"kinds":["account","amount","day"],"rows":[["101 Bank","1,5","20 nov"],["trade receivables","",""],["none","x","31 feb"]]}`).want(200)
	if got := string(a.body); !strings.Contains(got, `["1","1.50","2026-11-20"]`) || !strings.Contains(got, `["","x","31 feb"]`) {
		t.Errorf("%s", got)
	}
	rows := strings.TrimSuffix(strings.Repeat(`["x"],`, 501), ",")
	if a := c.post("/understand", `{"kinds":["text"],"rows":[`+rows+`]}`).want(422); !strings.Contains(a.at("detail"), "at most 500 lines, and these are 501") {
		t.Errorf("%s", a.body)
	}
	c.post("/understand", `{"kinds":["secret"],"rows":[["x"]]}`).want(422)
}

// Who gets a statement is the set of that day: whoever owed or was owed, or had
// something happen in the span.
func TestStatementsForAll(t *testing.T) {
	c := newClient(t)
	c.post("/invoices", invoice(1, "2026-02-01", "100")+"").want(409) // long past: it is asked for first
	c.post("/invoices?"+seen, invoice(1, "2026-02-01", "100")).want(200)
	c.post("/receipts?"+seen, receipt(1, "2026-03-01", "120.00", `,"placements":[{"item":1,"amount":"120.00"}]`)).want(200)
	c.post("/deposits", deposit(2, "2026-11-02", "50.00")).want(200)
	for query, want := range map[string]string{
		"through=2026-01-31":                           "",
		"through=2026-02-15&open=true":                 "Odalys Brandt",
		"through=2026-11-20&open=true":                 "Dunmarrow Builders",
		"through=2026-11-20":                           "Dunmarrow Builders, Odalys Brandt",
		"through=2026-11-20&from=2026-04-01":           "Dunmarrow Builders",
		"through=2026-10-31&from=2026-04-01":           "",
		"through=2026-11-20&from=2026-04-01&open=true": "Dunmarrow Builders",
	} {
		var out struct{ Rows []struct{ Name string } }
		if err := json.Unmarshal(c.get("/statements?"+query).want(200).body, &out); err != nil {
			t.Fatal(err)
		}
		var names []string
		for _, r := range out.Rows {
			names = append(names, r.Name)
		}
		if got := strings.Join(names, ", "); got != want {
			t.Errorf("%s: %q, want %q", query, got, want)
		}
	}
	// A statement that names no beginning begins with the year of its end.
	if from := c.get("/customers/1/statement?through=2025-03-05").at("from"); from != "2025-01-01" {
		t.Errorf("it begins on %s", from)
	}
}

// An account's lines begin with what stood there, the oldest first, and go on
// where a page ended.
func TestAccountLinesBeginWithTheirOpening(t *testing.T) {
	c := newClient(t)
	for n, day := range []string{"2025-12-30", "2026-02-01", "2026-02-01", "2026-03-01"} {
		c.post("/deposits?"+seen, deposit(1, day, fmt.Sprintf("%d.00", 10*(n+1)))).want(200)
	}
	a := c.get("/accounts/1/lines?limit=2")
	if a.at("from") != "2026-01-01" || a.at("opening") != "10.00" || a.at("balance") != "100.00" || a.at("rows", 0, "balance") != "30.00" || a.at("rows", 1, "balance") != "60.00" {
		t.Errorf("%s", a.body)
	}
	if b := c.get("/accounts/1/lines?limit=2&after=" + a.at("next")); b.at("rows", 0, "balance") != "100.00" || b.at("rows", 0, "day") != "2026-03-01" {
		t.Errorf("%s", b.body)
	}
	if b := c.get("/accounts/1/lines?from=2026-02-02&to=2026-03-31"); b.at("opening") != "60.00" || b.at("rows", 0, "debit") != "40.00" {
		t.Errorf("%s", b.body)
	}
	if b := c.get("/accounts/1/lines?to=2025-12-31"); b.at("from") != "2025-01-01" || b.at("opening") != "0.00" || b.at("balance") != "10.00" {
		t.Errorf("%s", b.body)
	}
}

// A new paper begins with what the place knows, and a loose end with the draft
// that is about it.
func TestBlanksAndDraftsAboutAnItem(t *testing.T) {
	c := newClient(t)
	c.post("/deposits", deposit(1, "2026-11-02", "50.00")).want(200)
	if a := c.get("/blank?job=2"); a.at("customer") != "2" {
		t.Errorf("of a job: %s", a.body)
	}
	a := c.get("/blank?kind=refund&items=1")
	if a.at("customer") != "1" || a.at("items", 0, "open") != "50.00" || a.at("draft") != "0" {
		t.Errorf("of an item: %s", a.body)
	}
	id := c.post("/drafts", `{"kind":"refund","body":{"customer":1,"sources":[{"item":1,"amount":"20.00"}]}}`).want(200).at("id")
	c.post("/drafts", `{"kind":"transfer","body":{"from":1}}`).want(200)
	if got := c.get("/blank?kind=refund&items=1").at("draft"); got != id {
		t.Errorf("goes on with %s, not %s", got, id)
	}
	if got := c.get("/blank?kind=refund&items=2").at("draft"); got != "0" {
		t.Errorf("another item goes on with %s", got)
	}
	if strings.Contains(string(c.get("/drafts/"+id).body), `"settled":true`) {
		t.Error("it is settled already")
	}
	c.post("/refunds?confirmed=another+way", `{"day":"2026-11-20","sources":[{"item":1}],"bank":1,"method":"cash"}`).want(200)
	if c.get("/drafts/"+id).at("settled") != "true" {
		t.Error("what it is about is settled, and it does not say so")
	}
}

// Money that nobody has claimed: what speaks for whose it may be.
func TestWhoseMoneyItMayBe(t *testing.T) {
	c := newClient(t)
	c.post("/customers", `{"name":"A\tstrange \"name\" \\ with\nlines"}`)
	c.post("/invoices", invoice(1, "2026-11-02", "100")).want(200)
	c.post("/invoices", invoice(2, "2026-11-02", "50")).want(200)
	c.post("/unidentified", `{"day":"2026-11-10","amount":"60.00","bank":1,"method":"transfer","reference":"BRANDT STAIRS"}`).want(200)
	item := c.get("/registers/unidentified").at("rows", 0, "id")
	a := c.get("/unidentified/" + item + "/whose").want(200)
	if got := string(a.body); !strings.Contains(got, `"name":"Odalys Brandt","reasons":["“Brandt” is in the text"]`) || !strings.Contains(got, `"name":"Dunmarrow Builders","reasons":["I26-0002 has exactly 60.00 open"]`) {
		t.Errorf("%s", got)
	}
	c.get("/unidentified/1/whose").want(404)
	c.get("/unidentified/999/whose").want(404)
}

// A firm that others can reach is set up by whoever has the word.
func TestSetUpAsksForTheWord(t *testing.T) {
	c := unnamed(t, "winding")
	if c.get("/session").at("word") != "true" {
		t.Error("it does not say that it asks")
	}
	c.post("/setup", firm).want(422)
	c.post("/setup", strings.Replace(firm, `{"firm"`, `{"word":"wrong","firm"`, 1)).want(422)
	c.post("/setup", strings.Replace(firm, `{"firm"`, `{"word":" winding ","firm"`, 1)).want(200)
}

// What fits and is dated after the money says why it is not proposed.
func TestProposalSaysWhyNot(t *testing.T) {
	c := newClient(t)
	c.post("/invoices", invoice(1, "2026-11-18", "100")).want(200)
	a := c.get("/customers/1/proposal?amount=120.00&day=2026-11-10").want(200)
	if got := string(a.body); !strings.Contains(got, `"rows":[],"notYet":["I26-0001 fits, and is dated 18 Nov 2026, after this: date it 18 Nov 2026 or later to set it against that."]`) {
		t.Errorf("%s", got)
	}
	if got := string(c.get("/customers/1/proposal?amount=120.00&day=2026-11-18").body); !strings.Contains(got, `"notYet":[]`) || !strings.Contains(got, "exactly what is open") {
		t.Errorf("%s", got)
	}
	if got := string(c.get("/customers/1/proposal?amount=50.00&day=2026-11-10&reference=I26-0001").body); !strings.Contains(got, "I26-0001 fits") {
		t.Errorf("%s", got)
	}
}

// Rows that are chosen by their IDs are counted and added up alone, whatever the
// list is narrowed and sorted by.
func TestChosenRowsAreAddedUp(t *testing.T) {
	c := newClient(t)
	for n := range 4 {
		c.post("/deposits", deposit(1, "2026-11-20", fmt.Sprintf("%d0.00", n+1))).want(200)
	}
	for _, how := range []string{"", "&sort=open", "&sort=-due", "&sort=job", "&state=settled", "&q=d26", "&asOf=2026-11-20"} {
		want := [2]string{"2", "70.00"}
		if how == "&state=settled" { // which none of them is
			want = [2]string{"0", "0.00"}
		}
		if a := c.get("/papers?kind=deposit&ids=3&ids=4" + how).want(200); a.at("count") != want[0] || a.at("sums", "total") != want[1] {
			t.Errorf("%s: %s of %s", how, a.at("sums", "total"), a.at("count"))
		}
	}
}
