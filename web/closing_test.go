package web_test

import (
	"fmt"
	"maps"
	"net/url"
	"strconv"
	"strings"
	"sync"
	"sync/atomic"
	"testing"

	"cleantally/core/rights"
)

// taxRow is what a return says of a section and a code: net, tax and the papers
// behind them.
func taxRow(a answer, section, code string) string {
	for _, r := range a.list("rows") {
		if r["section"] == section && strings.HasSuffix(fmt.Sprint(r["code"]), code) {
			var papers []string
			for _, p := range r["papers"].([]any) {
				papers = append(papers, fmt.Sprint(p.(map[string]any)["paper"]))
			}
			return fmt.Sprint(r["net"], " ", r["tax"], " ", strings.Join(papers, " "))
		}
	}
	return ""
}

// What a debt that is given up brings back stands at the rate at which it was billed.
func TestReliefInATaxReturn(t *testing.T) {
	c := newClient(t)
	c.put("/limits", `{"difference":"1.00","writeOff":"5000.00","relief":true,"allowance":["0","1","5","20","50"]}`).want(200)
	c.must("/invoices", invoice(1, "2026-10-05", "1000"))
	c.must("/invoices", invoice(1, "2026-10-06", "500"))
	c.must("/write-offs", `{"customer":1,"day":"2026-10-20","reason":"gone","relief":true,"items":[{"item":1}]}`)
	a := c.get("/tax-return?through=2026-10-31").want(200)
	if got := taxRow(a, "billed", "20 %"); got != "500.00 100.00 I26-0001 I26-0002 W26-0001" || a.rows("rows") != 1 {
		t.Errorf("the return: %s of %s", got, a.body)
	}
}

// Behind a row stand the first papers, and more are told after them: none twice,
// none left out.
func TestPapersBehindATaxReturn(t *testing.T) {
	c := newClient(t)
	const taxPapers, all = 100, 103
	for range all {
		c.must("/invoices", invoice(1, "2026-11-02", "10"))
	}
	a := c.get("/tax-return?through=2026-11-30").want(200)
	row := a.list("rows")[0]
	seen := map[any]bool{}
	note := func(papers []map[string]any) int {
		for _, p := range papers {
			if seen[p["paper"]] = true; p["name"] == "" || p["kind"] != "invoice" || p["net"] != "10.00" || p["tax"] != "2.00" {
				t.Errorf("behind it stands %v", p)
			}
		}
		return len(papers)
	}
	if n := a.rows("rows", 0, "papers"); row["count"] != float64(all) || n != taxPapers || row["net"] != "1030.00" || row["tax"] != "206.00" {
		t.Errorf("%v papers, %d of them told: %v %v", row["count"], n, row["net"], row["tax"])
	}
	note(a.list("rows", 0, "papers"))
	more := fmt.Sprintf("/tax-return/papers?through=2026-11-30&row=%s&after=", url.QueryEscape(fmt.Sprint(row["row"])))
	if n := note(c.get(more + strconv.Itoa(taxPapers)).want(200).list()); n != 3 || len(seen) != all {
		t.Errorf("%d more, %d in all", n, len(seen))
	}
	if n := c.get(more + strconv.Itoa(all+5)).want(200).list(); len(n) != 0 {
		t.Errorf("after the last: %v", n)
	}
	c.get(more + "-1").want(422)
	c.get("/tax-return/papers?through=2026-11-30&row=none").want(404)
	if f := c.get("/tax-return/file?through=2026-11-30&format=csv").want(200); strings.Count(string(f.body), "I26-") != all {
		t.Error("the file does not tell all")
	}
}

// A return holds what was billed, what was taxed on receipt, what retention
// released and what was bought, by code and rate, each with its papers, by the
// day of the tax; it is settled in one step, and nothing is dated into it after.
func TestTaxReturn(t *testing.T) {
	c := newClient(t)
	c.put("/customers/2", `{"name":"Dunmarrow Builders","supplier":true}`).want(200)
	c.put("/jobs/2", `{"name":"Stair","customer":2,"contractSum":"40000.00","retention":"5","retentionTaxLater":true}`).want(200)
	// E-1, E-8 and E-10 of the rules, a deposit taxed on receipt that is set against
	// its invoice, and what is bought.
	c.post("/invoices?"+seen, `{"customer":1,"day":"2026-09-10","discount":"10.00","lines":[{"text":"a","unitPrice":"100","taxCode":1},{"text":"b","unitPrice":"33.33","taxCode":2}]}`).want(200)
	c.post("/invoices?"+seen, `{"customer":2,"job":2,"day":"2026-09-20","lines":[{"text":"a","unitPrice":"12000","taxCode":1}]}`).want(200)
	c.post("/deposits?"+seen, `{"customer":1,"day":"2026-09-25","amount":"1200.00","bank":1,"method":"transfer","taxCode":1}`).want(200)
	c.post("/supplier-bills?"+seen, `{"supplier":2,"day":"2026-09-26","reference":"X","lines":[{"text":"a","unitPrice":"480","taxCode":1,"job":1}]}`).want(200)
	r := c.get("/tax-return?through=2026-09-30").want(200)
	for _, x := range []struct{ section, code, want string }{
		{"billed", " 20 %", "11492.50 2298.50 I26-0001 I26-0002"}, {"billed", " 10 %", "30.83 3.08 I26-0001"},
		{"deposits", " 20 %", "1000.00 200.00 D26-0001"}, {"bought", " 20 %", "480.00 96.00 B26-0001"},
	} {
		if got := taxRow(r, x.section, x.code); got != x.want {
			t.Errorf("%s at %s: %q, want %q in %s", x.section, x.code, got, x.want, r.body)
		}
	}
	if r.at("output") != "2501.58" || r.at("input") != "96.00" || r.at("toPay") != "2405.58" || r.at("deferred") != "120.00" {
		t.Errorf("the return: %s", r.body)
	}
	settle := `{"through":"2026-09-30"}`
	c.try("/tax-settlements", settle, "Dr 241 2501.58, Cr 151 96.00, Cr 248 2405.58")
	for path, body := range map[string]string{
		"/invoices":        invoice(1, "2026-09-30", "10"),
		"/tax-settlements": settle,
		"/reversals":       `{"paper":1,"day":"2026-09-30","reason":"x"}`,
	} {
		if a := c.post(path+"?"+seen, body).want(422); !strings.Contains(string(a.body), "settled") && !strings.Contains(string(a.body), "begins on") {
			t.Errorf("%s into what is settled: %s", path, a.body)
		}
	}
	c.post("/invoices", `{"customer":1,"day":"2026-11-01","supplied":"2026-09-29","lines":[{"text":"a","unitPrice":"10","taxCode":1}]}`).refused(422, "tax settled")
	c.post("/receipts?"+seen, receipt(1, "2026-09-30", "100.00", `,"onAccount":true`)).want(200) // bears no tax
	// What is put right goes into the next return; so do what was supplied then and
	// what retention releases.
	c.post("/reversals", `{"paper":1,"day":"2026-11-02","reason":"wrong"}`).want(200)
	c.post("/invoices", `{"customer":1,"day":"2026-11-03","supplied":"2026-10-31","lines":[{"text":"a","unitPrice":"1000","taxCode":1}],"setAgainst":[{"credit":4}]}`).want(200)
	kept := "0"
	for _, p := range c.get("/papers/2").list("parts") {
		if p["register"] == "retention" {
			kept = fmt.Sprint(p["itemId"])
		}
	}
	c.post("/releases", fmt.Sprintf(`{"customer":2,"day":"2026-11-10","items":[{"item":%s,"amount":"360.00"}]}`, kept)).want(200)
	if o := c.get("/tax-return?through=2026-10-31").want(200); o.at("from") != "2026-10-01" || taxRow(o, "billed", "20 %") != "1000.00 200.00 I26-0003" {
		t.Errorf("October holds what was supplied in it: %s", o.body)
	}
	n := c.get("/tax-return?from=2026-11-01&through=2026-11-30").want(200)
	for _, x := range []struct{ section, want string }{{"billed", "-92.50 -18.50 X26-0001"}, {"deposits", "-1000.00 -200.00 D26-0001"}, {"released", "300.00 60.00 RL26-0001"}} {
		if got := taxRow(n, x.section, "20 %"); got != x.want {
			t.Errorf("November, %s: %q in %s", x.section, got, n.body)
		}
	}
	// The last settlement can be taken back; the one before it while it stands, not.
	c.post("/tax-settlements", `{"through":"2026-10-31"}`).want(200)
	if a := c.get("/tax-return?through=2026-11-20").want(200); a.at("from") != "2026-11-01" || a.rows("settled") != 2 {
		t.Errorf("what was settled: %s", a.body)
	}
	ids := c.get("/papers?kind=tax+settlement&sort=number").list("rows")
	c.post("/reversals", fmt.Sprintf(`{"paper":%v,"day":"2026-11-20","reason":"x"}`, ids[0]["id"])).refused(422, "settled since")
	c.post("/reversals", fmt.Sprintf(`{"paper":%v,"day":"2026-11-20","reason":"x"}`, ids[1]["id"])).want(200)
	c.post("/invoices", invoice(1, "2026-10-20", "10")).want(200)
	// The account of output tax stays while tax stands on it that no return would hold.
	c.do("PUT", "/roles/output%20tax", fmt.Sprintf(`{"account":%s}`, accountID(c, "249"))).refused(422, "in use")
	b := c.as(rights.Biller)
	if !notYours(b.post("/tax-settlements", settle)) || !notYours(b.get("/tax-return")) {
		t.Error("a biller settles the tax")
	}
	for _, format := range []string{"csv", "xlsx", "pdf"} {
		c.get("/tax-return/file?through=2026-09-30&format=" + format).want(200)
	}
	if file := string(c.get("/tax-return/file?through=2026-09-30&format=csv").body); !strings.Contains(file, "I26-0002") || !strings.Contains(file, "2405.58") {
		t.Errorf("the file: %s", file)
	}
	// What the returns hold is what moved on the accounts, but for what is settled.
	all := c.get("/tax-return?from=2026-01-01&through=2026-12-31").want(200)
	found := false
	for _, r := range c.get("/trial-balance").want(200).list("rows") {
		if r["number"] == "241" {
			found = true
			left, err := eur.Parse(fmt.Sprint(r["credit"]))
			if owed := all.sum("output") - 250158; err != nil || owed != left {
				t.Errorf("output tax %s, the account %v", all.at("output"), r)
			}
		}
	}
	if !found {
		t.Error("there is no account 241")
	}
	c.tiesOut()
}

// figure is what a statement says of an account in its columns.
func figure(a answer, account string) string {
	for _, g := range a.list("groups") {
		for _, r := range g["rows"].([]any) {
			row := r.(map[string]any)
			if strings.Contains(fmt.Sprint(row["account"]), account) {
				return strings.Trim(fmt.Sprint(row["amounts"]), "[]")
			}
		}
		if g["name"] == account {
			return strings.Trim(fmt.Sprint(g["totals"]), "[]")
		}
	}
	return ""
}

// Profit and loss, the balance sheet, and the end of a year, which is done again
// when something is posted into it.
func TestYearEnd(t *testing.T) {
	c := newClient(t)
	c.post("/invoices?"+seen, invoice(1, "2025-11-01", "1000")).want(200)
	c.post("/receipts?"+seen, receipt(2, "2025-12-05", "300.00", `,"onAccount":true`)).want(200)
	c.post("/journal-entries?"+seen, `{"day":"2025-12-10","text":"rent","lines":[{"account":42,"debit":"250.00"},{"account":1,"credit":"250.00"}]}`).want(200)
	c.post("/invoices", invoice(1, "2026-11-01", "400")).want(200)
	p := c.get("/income?from=2025-11-01&through=2025-12-31&by=month").want(200)
	if got := figure(p, "401"); got != "1000.00 0.00 1000.00" || strings.Trim(p.sent("result"), "[]") != `"1000.00","-250.00","750.00"` || p.at("columns", 0, "name") != "Nov 2025" {
		t.Errorf("profit and loss: %s", p.body)
	}
	if p := c.get("/income?from=2026-01-01&through=2026-12-31&against=year").want(200); figure(p, "Income") != "400.00 1000.00" {
		t.Errorf("against the year before: %s", p.body)
	}
	b := c.get("/balance-sheet?asOf=2025-12-31").want(200)
	for account, want := range map[string]string{"Trade receivables": "1200.00", "Customers with a credit balance": "300.00", "Result not carried on yet": "750.00", "Assets": "1250.00"} {
		if got := figure(b, account); got != want {
			t.Errorf("%s: %s, want %s in %s", account, got, want, b.body)
		}
	}
	if b.at("result", 0) != "0.00" {
		t.Errorf("it does not balance: %s", b.body)
	}
	c.post("/year-ends", `{"last":"2027-12-31"}`).want(422)
	c.try("/year-ends", `{"last":"2025-12-31"}`, "Dr 401 1000.00, Cr 635 250.00, Cr 351 750.00")
	c.post("/year-ends?"+seen, `{"last":"2025-12-31"}`).refused(422, "closed already")
	after := c.get("/income?from=2025-11-01&through=2025-12-31&by=month").want(200)
	if after.sent("groups") != p.sent("groups") {
		t.Errorf("a year end stands in profit and loss: %s", after.body)
	}
	if b := c.get("/balance-sheet?asOf=2025-12-31").want(200); figure(b, "Retained earnings") != "750.00" || figure(b, "Result not carried on yet") != "" || b.at("result", 0) != "0.00" {
		t.Errorf("after the year end: %s", b.body)
	}
	// Posted into the closed year: shown, and posted, with its year end.
	late := invoice(1, "2025-12-20", "100")
	c.post("/invoices?confirmed=long%20past", late).want(409)
	c.try("/invoices", late, "Dr 120 120.00, Cr 401 100.00, Cr 241 20.00", "Dr 401 100.00, Cr 351 100.00")
	if b := c.get("/balance-sheet?asOf=2025-12-31").want(200); figure(b, "Retained earnings") != "850.00" || figure(b, "Result not carried on yet") != "" {
		t.Errorf("done again: %s", b.body)
	}
	ends := c.get("/papers?kind=year+end&sort=number").list("rows")
	c.post("/reversals?"+seen, fmt.Sprintf(`{"paper":%v,"day":"2025-12-31","reason":"x"}`, ends[1]["id"])).refused(422, "goes with another")
	c.post("/reversals?"+seen, fmt.Sprintf(`{"paper":%v,"day":"2026-11-20","reason":"x"}`, ends[0]["id"])).refused(422, "its own day")
	c.post("/reversals?"+seen, fmt.Sprintf(`{"paper":%v,"day":"2025-12-31","reason":"x"}`, ends[0]["id"])).want(200)
	c.try("/year-ends", `{"last":"2025-12-31"}`, "Dr 401 1000.00, Cr 635 250.00, Cr 351 750.00")
	if b := c.get("/balance-sheet?asOf=2025-12-31&against=year").want(200); figure(b, "Retained earnings") != "850.00 0.00" {
		t.Errorf("ended once more: %s", b.body)
	}
	if p := c.get("/income?from=2025-01-01&through=2025-12-31").want(200); figure(p, "Income") != "1100.00" {
		t.Errorf("profit and loss of the whole year: %s", p.body)
	}
	for _, path := range []string{"/income/file?format=pdf", "/income/file?format=xlsx", "/balance-sheet/file?format=csv", "/balance-sheet/file?format=pdf"} {
		c.get(path).want(200)
	}
	c.get("/income?from=2026-02-01&through=2026-01-01").want(400)
	c.get("/income?from=1990-02-01&by=month").want(400)
	c.tiesOut()
}

// The list before a closing ticks itself; what does not tie out keeps it open;
// unlocking is an owner's, and wants a reason.
func TestClosing(t *testing.T) {
	c := newClient(t)
	state := func(through string) map[string]string {
		t.Helper()
		all := map[string]string{}
		for _, s := range c.get("/closing?through=" + through).want(200).list("steps") {
			all[fmt.Sprint(s["id"])] = fmt.Sprint(s["state"], " ", s["count"])
		}
		return all
	}
	c.post("/receipts?"+seen, receipt(1, "2026-10-05", "300.00", `,"onAccount":true`)).want(200)
	c.post("/drafts", `{"kind":"invoice","body":{"customer":1,"day":"2026-10-20","lines":[]}}`).want(200)
	c.post("/unidentified?"+seen, `{"day":"2026-10-06","amount":"55.00","bank":1,"method":"transfer"}`).want(200)
	c.post("/banks/1/typed", typed("245.00", "2026-10-07 55.00 who", "2026-10-08 190.00 what")).want(200)
	got := state("2026-10-31")
	for id, want := range map[string]string{"drafts": "open 1", "on account": "open 1", "not identified": "open 1", "bank line": "open 1", "reconciled": "open 1", "tie-out": "done 0", "tax": "open 1", "recurring": "done 0", "retention": "done 0"} {
		if got[id] != want {
			t.Errorf("%s: %s, want %s", id, got[id], want)
		}
	}
	if _, there := got["year"]; there {
		t.Error("October asks for the end of a year")
	}
	// In two parts it says the same: what is looked at quickly, and the rest in its places.
	whole, rest := c.get("/closing?through=2026-10-31").list("steps"), c.get("/closing?through=2026-10-31&part=rest").want(200).list("steps")
	for n, first := range c.get("/closing?through=2026-10-31&part=first").want(200).list("steps") {
		if first["state"] == "waits" {
			if len(rest) == 0 {
				t.Fatalf("%v waits, and is not told", first["id"])
			}
			first, rest = rest[0], rest[1:]
		}
		if !maps.Equal(first, whole[n]) {
			t.Errorf("in parts %v, as a whole %v", first, whole[n])
		}
	}
	if len(rest) > 0 {
		t.Errorf("told without a place: %v", rest)
	}
	c.get("/closing?part=some").want(422)
	if s := state("2025-12-31")["year"]; s != "open 1" {
		t.Errorf("the year: %s", s)
	}
	c.post("/tax-settlements?"+seen, `{"through":"2026-10-31"}`).want(200)
	if s := state("2026-10-31")["tax"]; s != "done 0" {
		t.Errorf("after settling: %s", s)
	}
	b := c.as(rights.Bookkeeper)
	b.do("PUT", "/lock", `{"through":"2026-10-31"}`).want(204)
	if a := b.do("PUT", "/lock", `{"through":"2026-09-30","reason":"a bill came"}`); !notYours(a) {
		t.Errorf("a bookkeeper unlocked: %s", a.body)
	}
	c.do("PUT", "/lock", `{"through":"2026-09-30"}`).refused(422, "missing")
	c.do("PUT", "/lock", `{"through":"2026-09-30","reason":"a bill came"}`).want(204)
	a := c.get("/closing?through=2026-10-31").want(200)
	if a.at("locked") != "2026-09-30" || a.rows("locks") != 2 || !strings.Contains(a.at("locks", 0, "summary"), "a bill came") {
		t.Errorf("the locks: %s", a.body)
	}
	c.tiesOut()
}

// In the demo firm every month's return adds up to what moved on the tax
// accounts, net goes with tax at every rate, and the months of an income statement
// add up to the whole, beside a balance sheet that balances.
func TestDemoPeriods(t *testing.T) {
	c := sparrow(t)
	var output, input, result int64
	for _, end := range []string{"2025-05-31", "2025-06-30", "2025-09-30", "2025-12-31", "2026-03-31", "2026-06-30", "2026-09-30", "2026-10-31", "2026-11-20"} {
		from := map[string]string{"2025-05-31": "2025-05-01", "2025-06-30": "2025-06-01", "2025-09-30": "2025-07-01", "2025-12-31": "2025-10-01", "2026-03-31": "2026-01-01", "2026-06-30": "2026-04-01", "2026-09-30": "2026-07-01", "2026-10-31": "2026-10-01", "2026-11-20": "2026-11-01"}[end]
		r := c.get("/tax-return?from=" + from + "&through=" + end).want(200)
		output, input = output+int64(r.sum("output")), input+int64(r.sum("input"))
		for n := range r.list("rows") {
			net, tax := r.sum("rows", n, "net"), r.sum("rows", n, "tax")
			var percent int64
			fmt.Sscanf(r.at("rows", n, "code")[strings.LastIndex(strings.TrimSuffix(r.at("rows", n, "code"), " %"), " ")+1:], "%d", &percent)
			papers := int64(r.rows("rows", n, "papers"))
			if off := int64(net)*percent - int64(tax)*100; percent > 0 && (off > 1000*papers || off < -1000*papers) {
				t.Errorf("%s: %d of %d at %d %%: %s", end, tax, net, percent, r.at("rows", n, "section"))
			}
		}
		if b := c.get("/balance-sheet?asOf=" + end).want(200); b.at("result", 0) != "0.00" {
			t.Errorf("the balance sheet of %s does not balance: %s", end, b.at("result", 0))
		}
		result += int64(c.get("/income?from="+from+"&through="+end).want(200).sum("result", 0))
	}
	all := c.get("/tax-return?from=2025-01-01&through=2026-12-31").want(200)
	if output != int64(all.sum("output")) || input != int64(all.sum("input")) {
		t.Errorf("the returns add up to %d and %d, the whole to %s", output, input, all.body[:0])
	}
	if whole := c.get("/income?from=2025-01-01&through=2026-12-31").want(200).sum("result", 0); result != int64(whole) {
		t.Errorf("the months come to %d, the whole to %d", result, whole)
	}
}

// Work that is done and not billed is accrued at the end of a month and taken back
// the next day; what changed since shows as stale.
func TestAccruals(t *testing.T) {
	c := newClient(t)
	c.post("/invoices", `{"customer":1,"job":1,"day":"2026-10-10","lines":[{"text":"a","unitPrice":"3000","taxCode":1}]}`).want(200)
	c.post("/invoices", `{"customer":2,"job":2,"day":"2026-10-10","lines":[{"text":"a","unitPrice":"3000","taxCode":1}]}`).want(200)
	accrue := `{"day":"2026-10-31","jobs":[{"job":1,"percent":"60"},{"job":2,"percent":"25"}]}`
	c.post("/accruals?"+seen, `{"day":"2026-10-31","jobs":[{"job":1,"percent":"101"}]}`).refused(422, "out of bounds")
	c.post("/accruals?"+seen, `{"day":"2026-10-31","jobs":[{"job":1,"percent":"1"},{"job":1,"percent":"1"}]}`).refused(422, "twice")
	c.post("/accruals?"+seen, `{"day":"2026-10-31"}`).refused(422, "missing")
	c.try("/accruals", accrue, "Dr 134 1800.00, Dr 401 1000.00, Cr 401 1800.00, Cr 228 1000.00", "Dr 401 1800.00, Dr 228 1000.00, Cr 134 1800.00, Cr 401 1000.00")
	at := func(d, account string) string { return figure(c.get("/balance-sheet?asOf="+d).want(200), account) }
	if at("2026-10-31", "134") != "1800.00" || at("2026-10-31", "228") != "1000.00" || at("2026-11-01", "134") != "" || at("2026-11-01", "228") != "" {
		t.Errorf("accrued: %s and %s, the day after %s and %s", at("2026-10-31", "134"), at("2026-10-31", "228"), at("2026-11-01", "134"), at("2026-11-01", "228"))
	}
	if p := c.get("/income?from=2026-10-01&through=2026-10-31").want(200); figure(p, "401") != "6800.00" {
		t.Errorf("October: %s", p.body)
	}
	if a := c.get("/accruals?day=2026-10-31").want(200); a.at("stale") != "0" || a.at("rows", 0, "accrued") == "<nil>" {
		t.Errorf("as it stands: %s", a.body)
	}
	c.post("/invoices?"+seen, `{"customer":1,"job":1,"day":"2026-10-20","lines":[{"text":"b","unitPrice":"500","taxCode":1}]}`).want(200)
	if a := c.get("/accruals?day=2026-10-31").want(200); a.at("stale") != "1" {
		t.Errorf("after an invoice of October: %s", a.body)
	}
	stale := ""
	for _, s := range c.get("/closing?through=2026-10-31").want(200).list("steps") {
		if s["id"] == "accruals" {
			stale = fmt.Sprint(s["state"], s["count"])
		}
	}
	if stale != "open1" {
		t.Errorf("the closing says %s", stale)
	}
	id := c.get("/papers?kind=accrual").at("rows", 0, "id")
	c.post("/reversals?"+seen, fmt.Sprintf(`{"paper":%s,"day":"2026-11-05","reason":"x"}`, id)).refused(422, "its own day")
	c.post("/reversals?"+seen, fmt.Sprintf(`{"paper":%s,"day":"2026-10-31","reason":"x"}`, id)).want(200)
	c.try("/accruals", `{"day":"2026-10-31","jobs":[{"job":1,"percent":"60"}]}`, "Dr 134 1300.00, Cr 401 1300.00", "Dr 401 1300.00, Cr 134 1300.00")
	if at("2026-10-31", "134") != "1300.00" || at("2026-11-20", "134") != "" {
		t.Errorf("accrued again: %s, later %s", at("2026-10-31", "134"), at("2026-11-20", "134"))
	}
	// A job that is closed is not accrued any more; what stands accrued of it is told.
	before := c.get("/accruals?day=2026-10-31").rows("rows")
	for _, x := range []struct {
		job  string
		rows int
	}{{"2", before - 1}, {"1", before - 1}} {
		job := c.get("/jobs/" + x.job).want(200)
		c.do("PUT", "/jobs/"+x.job, fmt.Sprintf(`{"number":%q,"name":%q,"customer":%s,"contractSum":%q,"closed":true}`, job.at("number"), job.at("name"), job.at("customer"), job.at("contractSum")), "If-Match", `"`+job.at("version")+`"`).want(200)
		if a := c.get("/accruals?day=2026-10-31").want(200); a.rows("rows") != x.rows || !strings.Contains(string(a.body), `"jobId":1,`) {
			t.Errorf("job %s is closed: %d of %d, %s", x.job, a.rows("rows"), before, a.body)
		}
	}
	c.tiesOut()
}

// A period is locked while others post into it: whoever was first is in it, the
// rest is refused, and nothing is in it that came after.
func TestLockWhileOthersPost(t *testing.T) {
	c := newClient(t)
	var posted atomic.Int64
	var posting sync.WaitGroup
	locked := make(chan struct{})
	for n := range 12 {
		posting.Go(func() {
			for k := range 40 {
				a := c.post("/deposits?"+seen, deposit(1+n%2, "2026-10-31", fmt.Sprintf("%d.%02d", n+1, k)))
				switch {
				case a.status == 200:
					posted.Add(1)
				case a.status == 422 && strings.Contains(string(a.body), "\"locked\""):
					return
				default:
					t.Errorf("%d %s", a.status, a.body)
					return
				}
				if n == 0 && k == 3 {
					close(locked)
				}
			}
		})
	}
	<-locked
	c.do("PUT", "/lock", `{"through":"2026-10-31"}`).want(204)
	count := c.get("/papers?kind=deposit").want(200).at("count")
	posting.Wait()
	if now := c.get("/papers?kind=deposit").want(200).at("count"); now != count || now != fmt.Sprint(posted.Load()) {
		t.Errorf("%s were there when it was locked, %s are, %d were answered", count, now, posted.Load())
	}
	c.tiesOut()
}
