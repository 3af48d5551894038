package web_test

import (
	"encoding/json"
	"fmt"
	"math/rand/v2"
	"net/http"
	"net/http/cookiejar"
	"net/http/httptest"
	"strings"
	"testing"
	"time"

	"cleantally/core/day"
	"cleantally/core/money"
	"cleantally/standin"
	"cleantally/web"
)

// typed are lines as somebody types them: "day amount text".
func typed(closing string, lines ...string) string {
	var all []string
	for _, l := range lines {
		word := strings.SplitN(l, " ", 3)
		all = append(all, fmt.Sprintf(`{"day":%q,"amount":%q,"text":%q}`, word[0], word[1], word[2]))
	}
	return fmt.Sprintf(`{"closing":%q,"lines":[%s]}`, closing, strings.Join(all, ","))
}

// accountNumbers are the IDs of the ledger accounts by their numbers.
func (c *client) accountNumbers() map[string]string {
	c.t.Helper()
	accounts := c.get("/accounts").want(200)
	number := map[string]string{}
	for n := range accounts.rows("rows") {
		number[accounts.at("rows", n, "number")] = accounts.at("rows", n, "id")
	}
	return number
}

// Money between own accounts is one paper, in which the lines of both statements
// meet; what the bank kept is a charge.
func TestOwnTransfer(t *testing.T) {
	c := newClient(t)
	c.put("/banks/1", `{"name":"Bank","iban":"ZZ42SPWI000000000099"}`).want(200)
	c.post("/banks", `{"name":"Reserve","iban":"ZZ52SPWI000000000404"}`).want(200)
	c.must("/deposits", deposit(1, "2026-11-02", "900.00"))
	move := func(from, to int, amount, fee string) string {
		return fmt.Sprintf(`{"day":"2026-11-10","amount":%q,"fee":%q,"from":%d,"to":%d}`, amount, fee, from, to)
	}
	for body, rule := range map[string]string{move(1, 1, "5.00", ""): "the same", move(1, 3, "5.00", ""): "card takings", move(1, 9, "5.00", ""): "missing", move(1, 4, "5.00", "5.00"): "too much", move(1, 4, "", ""): "above nil", move(2, 1, "5.00", ""): "below nil", move(1, 4, "5", "-1"): "too much"} {
		c.post("/own-transfers", body).refused(422, rule)
	}
	e := c.post("/own-transfers?preview=true", move(1, 4, "500.00", "2.50")).want(200)
	for n, want := range []string{"497.50", "2.50"} {
		if e.at("effect", "entries", 0, "lines", n, "debit") != want {
			t.Errorf("%s", e.at("effect", "entries"))
		}
	}
	c.post("/banks/1/typed", typed("400.00", "2026-11-03 900.00 STAIR", "2026-11-10 -500.00 RESERVE")).want(200)
	c.post("/own-transfers?bankLine=2", move(1, 4, "499.00", "2.50")).refused(422, "sums differ")
	c.post("/own-transfers?bankLine=2", move(1, 4, "500.00", "2.50")).want(200)
	c.post("/banks/4/typed", typed("497.50", "2026-11-11 497.50 RESERVE")).want(200)
	p := c.get("/bank-lines/3").want(200)
	if p.at("rows", 0, "number") != "OT26-0001" || p.at("rows", 0, "make") != "" {
		t.Fatalf("%s", p.body)
	}
	c.post("/ties", `{"lines":[3],"movements":[`+p.at("rows", 0, "movements", 0)+`]}`).want(200)
	c.post("/banks/4/reconciliation", `{"through":"2026-11-11"}`).want(204)
	// On its day it was on the way to the other.
	if r := c.get("/banks/4/reconciliation?through=2026-11-10").want(200); r.at("known") != "true" || r.at("ledger") != "497.50" {
		t.Errorf("%s", r.body)
	}
	c.must("/reversals", `{"paper":`+c.get("/bank-lines/2").at("line", "id")+`,"day":"2026-11-12","reason":"x"}`)
	c.tiesOut()
}

// Where there is no file, lines are typed; what was typed or read by mistake is
// taken away while nothing was made of it.
func TestTypedLines(t *testing.T) {
	c := newClient(t)
	for body, rule := range map[string]string{
		typed("", "2026-11-21 5.00 x"): "in the future", typed("", "2026-11-11 0.00 x"): "missing", typed("", "2026-11-11 5.001 x"): "no amount", typed("", "2026-02-30 5.00 x"): "no such day",
		`{"lines":[{"day":"2026-11-11","amount":"5.00"}]}`: "missing", `{"lines":[]}`: "missing", `{"lines":[{"amount":"5.00","text":"x"}]}`: "form", typed("", "2026-11-11 10000000000000.00 x"): "",
	} {
		c.post("/banks/1/typed", body).refused(422, rule)
	}
	c.post("/banks/2/typed", typed("", "2026-11-11 5.00 x")).refused(422, "no bank")
	c.post("/banks/9/typed", typed("", "2026-11-11 5.00 x")).want(404)
	c.post("/banks/1/typed", typed("105.00", "2026-11-11 5.00 ONE")).want(200)
	c.post("/banks/1/typed", typed("100.00", "2026-11-12 5.00 TWO")).refused(422, "does not follow")
	if r := c.post("/banks/1/typed", typed("98.00", "2026-11-12 -7.00 TWO")).want(200); r.at("new") != "1" {
		t.Errorf("%s", r.body)
	}
	all := c.get("/banks/1/statements").want(200)
	if all.rows("rows") != 2 || all.at("rows", 0, "closing") != "98.00" || all.at("rows", 1, "closing") != "105.00" {
		t.Fatalf("%s", all.body)
	}
	c.do("DELETE", "/bank-statements/"+all.at("rows", 1, "id"), "").refused(422, "begins")
	c.post("/banks/1/typed", typed("99.00", "2026-11-13 1.00 THREE")).want(200)
	c.do("DELETE", "/bank-statements/"+all.at("rows", 0, "id"), "").refused(422, "held to it")
	c.do("DELETE", "/bank-statements/3", "").want(204)
	// The same once more brings nothing, and leaves nothing.
	if r := c.post("/banks/1/typed", typed("98.00", "2026-11-12 -7.00 TWO")).want(200); r.at("new") != "0" || c.get("/banks/1/statements").rows("rows") != 2 {
		t.Errorf("%s", r.body)
	}
	c.do("DELETE", "/bank-statements/"+all.at("rows", 0, "id"), "").want(204)
	c.do("DELETE", "/bank-statements/"+all.at("rows", 0, "id"), "").want(404)
	if at := c.get("/bank").want(200); at.at("rows", 0, "bank") != "105.00" || at.at("rows", 0, "unexplained") != "1" || at.at("rows", 0, "through") != "2026-11-11" {
		t.Errorf("%s", at.body)
	}
	// Lines are found by their words or their amount, the newest first where that is asked for, and taken along.
	c.post("/banks/1/typed", typed("90.00", "2026-11-14 -15.00 ANOTHER")).want(200)
	for query, want := range map[string]string{"": "5.00", "?newest=true": "-15.00", "?q=other": "-15.00", "?q=15": "-15.00", "?q=5.00": "5.00"} {
		if l := c.get("/banks/1/lines" + query).want(200); l.at("rows", 0, "amount") != want {
			t.Errorf("%s: %s", query, l.body)
		}
	}
	if f := c.get("/banks/1/lines/file?q=other").want(200); !strings.HasSuffix(string(f.body), ",,,ANOTHER,,-15.00,\n") {
		t.Errorf("%q", f.body)
	}
	// Once a line was tied, it stays.
	c.post("/unidentified?bankLine=1", `{"day":"2026-11-11","amount":"5.00","bank":1,"method":"transfer"}`).want(200)
	c.do("DELETE", "/bank-statements/"+all.at("rows", 1, "id"), "").refused(422, "tied")
	c.tiesOut()
}

// Statements are fetched from the bank, over and over, and only what is new comes.
func TestFetchedStatements(t *testing.T) {
	book := empty.open(t, t.TempDir(), time.Now, "2026-11-20")
	bank, err := standin.NewBank(t.TempDir(), eur)
	if err != nil {
		t.Fatal(err)
	}
	pages := httptest.NewServer(bank)
	at := bank.At(pages.URL)
	served := httptest.NewServer(web.New(book, web.Options{StandIns: web.StandIns{Bank: at}}))
	t.Cleanup(func() { served.Close(); pages.Close(); book.Close() })
	jar, _ := cookiejar.New(nil)
	c := &client{t, served.URL, &http.Client{Jar: jar}, book}
	c.post("/setup", firm).want(200)
	const own = "ZZ42SPWI000000000099"
	c.post("/banks/1/fetched", "").refused(422, "no feed")
	c.do("PUT", "/banks/2/feed", `{"way":"stand-in"}`).refused(422, "no bank")
	c.do("PUT", "/banks/9/feed", `{"way":"stand-in"}`).want(404)
	c.do("PUT", "/banks/1/feed", `{"way":"stand-in"}`).want(204)
	c.post("/banks/1/fetched", "").refused(422, "no number")
	c.put("/banks/1", `{"name":"Bank","iban":"`+own+`"}`).want(200)
	c.post("/banks/1/fetched", "").refused(422, "no account")
	bank.Begin(own, 100000)
	book1 := func(d day.Day, text string) {
		bank.Book(standin.Booked{Account: own, Day: d, Amount: 2500, Name: "A & B <x>", Text: text})
	}
	book1("2026-11-10", "one")
	book1("2026-11-11", "two")
	fetch := func(want string) {
		t.Helper()
		if r := c.post("/banks/1/fetched", "").want(200); r.at("new") != want {
			t.Errorf("%s, want %s new", r.body, want)
		}
	}
	fetch("2")
	fetch("0")
	book1("2026-11-11", "two")
	book1("2026-11-13", "three")
	fetch("2")
	if at := c.get("/bank").want(200); at.at("rows", 0, "bank") != "1100.00" || at.at("rows", 0, "fetchedAt") == "" || at.at("rows", 0, "feed") != "stand-in" {
		t.Errorf("%s", at.body)
	}
	if l := c.get("/banks/1/lines").want(200); l.at("rows", 0, "name") != "A & B <x>" {
		t.Errorf("%s", l.body)
	}
	// Its page books more; who does not know the key is told nothing.
	form := func(amount string) int {
		res, err := http.PostForm(pages.URL+"/", map[string][]string{"account": {own}, "amount": {amount}, "text": {"by hand"}})
		if err != nil {
			t.Fatal(err)
		}
		defer res.Body.Close()
		return res.StatusCode
	}
	if form("x") != 422 || form("0") != 422 || form("-12.00") != 200 {
		t.Error("the page of the bank")
	}
	fetch("1")
	if res, err := http.Get(pages.URL + "/statement?account=" + own); err != nil || res.StatusCode != 401 {
		t.Errorf("%v %v", res, err)
	}
	pages.Close()
	c.post("/banks/1/fetched", "").refused(422, "not reached")
	c.tiesOut()
}

// A till is counted: what lies between it and the books is posted first, and then
// the count is kept.
func TestCountTill(t *testing.T) {
	c := newClient(t)
	c.must("/deposits", `{"customer":1,"day":"2026-11-10","amount":"100.00","bank":2,"method":"cash"}`)
	pieces := `{"day":"2026-11-12","pieces":{"50":1,"20":2,"0.50":19,"0.05":2}}` // 99.60
	r := c.post("/banks/2/count", pieces).want(200)
	if r.at("counted") != "99.60" || r.at("ledger") != "100.00" || r.at("apart") != "-0.40" || r.at("agrees") != "false" || r.at("rows", 3, "comes") != "50.00" {
		t.Fatalf("%s", r.body)
	}
	c.post("/banks/2/count?keep=true", pieces).refused(422, "apart")
	for _, wrong := range []string{`{"pieces":{"3":1}}`, `{"pieces":{"50":-1}}`, `{"pieces":{"50":100001}}`} {
		c.post("/banks/2/count", wrong).refused(422, "no such piece")
		c.post("/banks/2/count?keep=true", wrong).refused(422, "no such piece")
	}
	c.post("/banks/1/count", pieces).want(404)
	c.post("/banks/1/count?keep=true", pieces).refused(422, "no till")
	c.post("/banks/2/count?keep=true", `{"day":"2026-11-21"}`).refused(422, "in the future")
	c.post("/banks/2/count", `{"day":"2026-02-30"}`).refused(422, "no such day")
	c.must("/journal-entries", fmt.Sprintf(`{"day":"2026-11-12","text":"Difference of the till","lines":[{"account":%s,"debit":"0.40"},{"account":%s,"credit":"0.40"}]}`, r.at("other"), r.at("account")))
	k := c.post("/banks/2/count?keep=true", pieces).want(200)
	if k.at("agrees") != "true" || k.at("before", 0, "counted") != "99.60" || k.at("before", 0, "pieces", "20") != "2" || k.at("before", 0, "user") != "W" {
		t.Errorf("%s", k.body)
	}
	if at := c.get("/bank").want(200); at.at("rows", 1, "reconciled") != "2026-11-12" {
		t.Errorf("%s", at.body)
	}
	c.tiesOut()
}

// A paper that was made wrongly of a line is taken back, and the right one is tied
// to the line, in one step.
func TestPutRightKeepsItsLine(t *testing.T) {
	c := newClient(t)
	c.post("/banks/1/typed", typed("700.00", "2026-11-11 700.00 STAIR")).want(200)
	wrong := c.post("/deposits?bankLine=1", deposit(2, "2026-11-11", "700.00")).want(200).at("posted", "paper")
	copied := c.get("/papers/" + wrong + "/copy?again=true").want(200)
	if copied.at("line") != "1" || copied.at("bank") != "1" || c.get("/papers/"+wrong+"/copy").at("line") != "0" {
		t.Fatalf("%s", copied.body)
	}
	again := "/deposits?again=" + wrong + "&againDay=2026-11-11&againReason=another%20customer&bankLine=1&" + seen
	c.post(again, deposit(1, "2026-11-11", "701.00")).refused(422, "sums differ")
	right := c.post(again, deposit(1, "2026-11-11", "700.00")).want(200)
	if l := c.get("/banks/1/lines?state=all").want(200); l.at("rows", 0, "papers") != right.at("posted", "number") {
		t.Errorf("%s", l.body)
	}
	// What was taken back before it is written again still knows its line, until that is explained.
	c.must("/reversals", `{"paper":`+right.at("posted", "paper")+`,"day":"2026-11-12","reason":"x"}`)
	if k := c.get("/papers/" + right.at("posted", "paper") + "/copy?again=true").want(200); k.at("line") != "1" {
		t.Errorf("%s", k.body)
	}
	c.post("/deposits?bankLine=1", deposit(1, "2026-11-11", "700.00")).want(200)
	if k := c.get("/papers/" + right.at("posted", "paper") + "/copy?again=true").want(200); k.at("line") != "0" {
		t.Errorf("%s", k.body)
	}
	c.tiesOut()
}

// A payment that the bank took back is explained on both of its lines.
func TestReturnedPaymentTiesBothLines(t *testing.T) {
	c := newClient(t)
	c.must("/invoices", invoice(1, "2026-11-02", "1000"))
	c.post("/banks/1/typed", typed("1200.00", "2026-11-10 1200.00 CHQ 4471")).want(200)
	paid := c.post("/receipts?bankLine=1", receipt(1, "2026-11-10", "1200.00", `,"reference":"CHQ 4471","placements":[{"item":1}]`)).want(200).at("posted", "paper")
	c.post("/banks/1/typed", typed("-12.00", "2026-11-13 -1212.00 RETURNED UNPAID CHQ 4471 FEE 12.00")).want(200)
	p := c.get("/bank-lines/2").want(200)
	if p.at("rows", 0, "make") != "returned payment" || p.at("rows", 0, "paperId") != paid || p.at("rows", 0, "fee") != "12.00" {
		t.Fatalf("%s", p.body)
	}
	c.post("/returned-payments?bankLine=2", `{"paper":`+paid+`,"day":"2026-11-13","fee":"12.00","reason":"refer to drawer"}`).want(200)
	l := c.get("/banks/1/lines?state=all").want(200)
	if l.at("rows", 0, "papers") != "R26-0001" || l.at("rows", 1, "papers") != "RP26-0001" {
		t.Errorf("%s", l.body)
	}
	c.post("/banks/1/reconciliation", `{"through":"2026-11-13"}`).want(204)
	c.tiesOut()
}

// A payment may have come back though the bank does not say so: by what it moved,
// also where the bank kept a part of it, or by what is named, however much went.
func TestMayHaveComeBack(t *testing.T) {
	c := newClient(t)
	c.must("/invoices", invoice(1, "2026-11-02", "1000"))
	paid := c.must("/receipts", receipt(1, "2026-11-10", "1180.00", `,"charges":"20.00","reference":"TRF 4471","placements":[{"item":1}]`)).at("posted", "paper")
	lines := []struct {
		line, says string
		back       bool
	}{
		{"2026-11-09 -1180.00 BEFORE IT CAME", "", false},
		{"2026-11-12 -1180.00 TIMBER", "the amount fits", true},
		{"2026-11-12 -1200.00 TIMBER", "", false},
		{"2026-11-13 -900.00 trf 4471", "it names TRF 4471", true},
		{"2026-11-13 -901.00 (R26-0001).", "it names R26-0001", true},
		{"2026-11-13 -902.00 RETURNED R26 0001", "it says that a payment came back", true},
	}
	var all []string
	for _, x := range lines {
		all = append(all, x.line)
	}
	c.post("/banks/1/typed", typed("-6263.00", all...)).want(200)
	for n, x := range lines {
		p := c.get(fmt.Sprintf("/bank-lines/%d", n+1)).want(200)
		var may struct {
			Rows []struct {
				Make    string
				PaperID int64
				For     []string
			}
		}
		if err := json.Unmarshal(p.body, &may); err != nil {
			t.Fatal(err)
		}
		found := false
		for _, r := range may.Rows {
			found = found || r.Make == "returned payment" && fmt.Sprint(r.PaperID) == paid && strings.Contains(strings.Join(r.For, ", "), x.says)
		}
		if found != x.back {
			t.Errorf("%s: %t, %s", x.line, found, p.body)
		}
	}
}

// The tie-out counts what was reconciled: what is posted into that time since
// breaks it until it is reconciled again, and no period is closed meanwhile.
func TestTieOutCountsTheBank(t *testing.T) {
	c := newClient(t)
	number := c.accountNumbers()
	c.post("/banks/1/typed", typed("700.00", "2026-11-04 700.00 STAIR")).want(200)
	c.post("/deposits?bankLine=1", deposit(1, "2026-11-04", "700.00")).want(200)
	c.post("/banks/1/reconciliation", `{"through":"2026-11-06"}`).want(204)
	c.must("/deposits", deposit(2, "2026-11-05", "55.00")) // came before, and is on the way
	c.tiesOut()
	before := c.must("/journal-entries", `{"day":"2026-11-03","text":"before the first statement","lines":[{"account":`+number["101"]+`,"debit":"1.00"},{"account":`+number["301"]+`,"credit":"1.00"}]}`)
	off := c.get("/tie-out").want(200)
	if off.at("ok") != "false" || off.at("ties", 13, "ledger") != "756.00" || off.at("ties", 13, "sum") != "755.00" {
		t.Errorf("%s", off.body)
	}
	c.do("PUT", "/lock", `{"through":"2026-11-06"}`).refused(422, "does not tie out")
	if d := c.get("/tie-out?asOf=2026-11-05").want(200); d.at("ok") != "true" { // it was not reconciled then
		t.Errorf("%s", d.body)
	}
	c.must("/reversals", `{"paper":`+before.at("posted", "paper")+`,"day":"2026-11-03","reason":"x"}`)
	c.do("PUT", "/lock", `{"through":"2026-11-06"}`).want(204)
	// What is locked stays: its lines are not untied.
	c.post("/ties/undo", `{"line":1}`).refused(422, "locked")
	c.tiesOut()
}

// A rule of the firm's fills in; a person takes it, and of each is kept what it
// did.
func TestBankRules(t *testing.T) {
	c := newClient(t)
	number := c.accountNumbers()
	rule := func(rest string) string {
		return `{"name":"Fee","text":"account fee","went":true,"becomes":"journal","account":` + number["621"] + rest + `}`
	}
	for _, body := range []string{`{"name":"","text":"x","went":true,"becomes":"journal","account":1}`, `{"name":"A","went":true,"becomes":"journal","account":1}`, `{"name":"A","text":"..","went":true,"becomes":"journal","account":1}`, `{"name":"A","text":"x","becomes":"journal","account":1}`,
		`{"name":"A","text":"x","went":true,"becomes":"journal"}`, `{"name":"A","text":"x","went":true,"becomes":"journal","account":9999}`, `{"name":"A","text":"x","went":true,"becomes":"own transfer","toBank":3}`, `{"name":"A","text":"x","went":true,"becomes":"expense","party":99}`} {
		c.post("/bank-rules", body).refused(422, "missing")
	}
	c.post("/bank-rules", `{"name":"A","text":"x","went":true,"becomes":"journal","account":`+number["120"]+`}`).refused(422, "control account")
	c.post("/bank-rules", rule("")).want(200)
	c.post("/bank-rules", rule("")).refused(422, "")
	c.post("/banks/1/typed", typed("-24.50", "2026-11-10 -12.00 ACCOUNT FEE OCTOBER", "2026-11-11 -12.50 ACCOUNT FEE NOVEMBER")).want(200)
	p := c.get("/bank-lines/1").want(200)
	if p.at("rows", 0, "make") != "journal" || p.at("rows", 0, "account") != number["621"] || p.at("rows", 0, "rule") != "1" || !strings.Contains(p.at("rows", 0, "for"), "by your rule “Fee”") {
		t.Fatalf("%s", p.body)
	}
	entry := func(amount string) string {
		return `{"day":"2026-11-11","text":"Fee","lines":[{"account":` + number["621"] + `,"debit":"` + amount + `"},{"account":` + number["101"] + `,"credit":"` + amount + `"}]}`
	}
	c.post("/journal-entries?bankLine=1&bankRule=1", entry("12.00")).want(200)
	rules := c.get("/bank-rules").want(200)
	if rules.at("rows", 0, "used") != "1" || rules.at("rows", 0, "last") == "" {
		t.Errorf("%s", rules.body)
	}
	if u := c.get("/bank-rules/1/uses").want(200); u.at("rows", 0, "number") != "J26-0001" || u.at("rows", 0, "amount") != "-12.00" || u.at("rows", 0, "user") != "W" {
		t.Errorf("%s", u.body)
	}
	// Out of use it proposes no more; what the same was last time still does.
	c.do("PUT", "/bank-rules/1", rule(`,"inactive":true`), "If-Match", `"1"`).want(200)
	if p := c.get("/bank-lines/2").want(200); p.at("rows", 0, "rule") != "0" || p.at("rows", 0, "account") != number["621"] || !strings.Contains(p.at("rows", 0, "for"), "last time the same was J26-0001") {
		t.Errorf("%s", p.body)
	}
	c.tiesOut()
}

// One line is explained by several papers, and several lines by one: what they
// come to is told until nothing is left.
func TestTyingSeveral(t *testing.T) {
	c := newClient(t)
	c.must("/deposits", deposit(1, "2026-11-10", "600.00"))
	c.post("/banks/1/typed", typed("1000.00", "2026-11-11 900.00 FOR TWO", "2026-11-12 60.00 PART", "2026-11-12 40.00 PART")).want(200)
	x := c.get("/banks/1/tying?lines=1").want(200)
	if x.at("lineSum") != "900.00" || x.at("left") != "900.00" || x.at("agrees") != "false" || x.rows("movements") != 1 {
		t.Fatalf("%s", x.body)
	}
	first := x.at("movements", 0, "id")
	// What is left is filled in, and the paper that was made of it is chosen by its ID.
	if b := c.get("/blank?kind=deposit&bankLine=1&part=300.00").want(200); b.at("moved") != "300.00" || b.at("went") != "false" || b.at("day") != "2026-11-11" {
		t.Errorf("%s", b.body)
	}
	second := c.must("/deposits", deposit(2, "2026-11-11", "300.00")).at("posted", "paper")
	x = c.get("/banks/1/tying?lines=1&movements=" + first + "&papers=" + second).want(200)
	if x.at("sum") != "900.00" || x.at("left") != "0.00" || x.at("agrees") != "true" || x.rows("chosen") != 2 {
		t.Errorf("%s", x.body)
	}
	c.post("/ties", `{"lines":[1],"movements":[`+x.at("chosen", 0)+`,`+x.at("chosen", 1)+`]}`).want(200)
	c.must("/deposits", deposit(2, "2026-11-12", "100.00"))
	x = c.get("/banks/1/tying?lines=2&lines=3").want(200)
	x = c.get("/banks/1/tying?lines=2&lines=3&movements=" + x.at("movements", 0, "id")).want(200)
	if x.at("agrees") != "true" || x.at("lineSum") != "100.00" {
		t.Errorf("%s", x.body)
	}
	c.post("/ties", `{"lines":[2,3],"movements":[`+x.at("chosen", 0)+`]}`).want(200)
	c.get("/banks/9/tying?lines=1").want(200)
	// What was tied wrongly is tied to something else in one step; all that it was together with is free.
	other := c.must("/deposits", deposit(1, "2026-11-12", "900.00")).at("posted", "paper")
	if x := c.get("/banks/1/tying?lines=1").want(200); x.rows("lines") != 0 || x.at("agrees") != "false" {
		t.Errorf("%s", x.body)
	}
	x = c.get("/banks/1/tying?lines=1&instead=true&papers=" + other).want(200)
	if x.at("agrees") != "true" {
		t.Errorf("%s", x.body)
	}
	c.post("/ties", `{"lines":[1],"movements":[`+x.at("chosen", 0)+`]}`).refused(422, "not to be tied")
	c.post("/ties", `{"lines":[1],"instead":true,"movements":[999]}`).refused(422, "not to be tied")
	c.post("/ties", `{"lines":[1],"instead":true,"movements":[`+x.at("chosen", 0)+`]}`).want(200)
	if at := c.get("/bank").want(200); at.at("rows", 0, "waiting") != "1" || at.at("rows", 0, "waitingSum") != "300.00" {
		t.Errorf("%s", at.body)
	}
	again := c.get("/banks/1/tying?lines=1&instead=true").want(200)
	c.post("/ties", `{"lines":[1],"instead":true,"movements":[`+again.at("movements", 0, "id")+`,`+again.at("movements", 1, "id")+`]}`).want(200)
	c.must("/reversals", `{"paper":`+other+`,"day":"2026-11-12","reason":"x"}`)
	if at := c.get("/bank").want(200); at.at("rows", 0, "unexplained") != "0" || at.at("rows", 0, "waiting") != "0" {
		t.Errorf("%s", at.body)
	}
	// Of a past day, what the bank had said by then.
	if at := c.get("/bank?asOf=2026-11-11").want(200); at.at("rows", 0, "bank") != "900.00" || at.at("rows", 0, "ledger") != "900.00" || at.at("rows", 0, "through") != "2026-11-11" {
		t.Errorf("%s", at.body)
	}
	if l := c.get("/banks/1/lines?state=all&asOf=2026-11-11").want(200); l.rows("rows") != 1 {
		t.Errorf("%s", l.body)
	}
	c.tiesOut()
}

// The forecast goes on from what there is: what comes and goes in its week, also
// what is not written yet.
func TestForecast(t *testing.T) {
	c := newClient(t)
	c.post("/suppliers", `{"name":"Osier Bank Sawmill"}`)
	c.must("/deposits", deposit(1, "2026-11-02", "900.00"))
	c.must("/invoices", strings.Replace(invoice(1, "2026-11-10", "1000"), `"lines"`, `"due":"2026-12-01","lines"`, 1))
	c.must("/invoices", strings.Replace(invoice(2, "2026-11-10", "100"), `"lines"`, `"due":"2026-11-15","lines"`, 1))
	c.must("/deposit-requests", `{"customer":1,"job":1,"day":"2026-11-10","due":"2026-11-27","amount":"250.00"}`)
	v := c.must("/invoices", invoice(2, "2026-11-12", "50")).at("posted", "paper")
	c.post("/recurring", `{"name":"Look over","paper":`+v+`,"every":1,"unit":"month","first":"2026-12-05"}`).want(200)
	c.post("/jobs", `{"name":"Loft","customer":2,"contractSum":"2000.00","stages":[{"name":"Drawn","percent":"25","day":"2026-11-24"}]}`).want(200)
	f := c.get("/expected").want(200)
	if f.at("begins") != "900.00" || f.at("overdue") != "120.00" || f.at("weeks", 0, "in") != "0.00" || f.rows("weeks") != 12 {
		t.Errorf("%s", f.body)
	}
	if f.at("weeks", 1, "rows", 1, "number") != "I26-0001" || f.at("weeks", 1, "rows", 1, "amount") != "1200.00" || f.at("weeks", 1, "rows", 0, "why") != "request for a deposit" {
		t.Errorf("%s", f.at("weeks", 1))
	}
	// The weeks alone, and what is in one of them, are parts of that.
	first, week := c.get("/expected?part=first").want(200), c.get("/expected?week=2026-11-28").want(200)
	for n := range 12 {
		rows := f.rows("weeks", n, "rows")
		if first.rows("weeks", n, "rows") != 0 || first.at("weeks", n, "count") != fmt.Sprint(rows) || first.at("weeks", n, "balance") != f.at("weeks", n, "balance") {
			t.Errorf("the weeks alone tell %s", first.at("weeks", n))
		}
		if n == 1 && week.at("weeks", n) != f.at("weeks", n) || n != 1 && week.rows("weeks", n, "rows") != 0 {
			t.Errorf("with those of the second week %s", week.at("weeks", n))
		}
	}
	c.get("/expected?week=2026-11-31").want(400)
	// What recurs monthly is due 30 days after, and so is a stage, with its tax.
	why := map[string]string{}
	for n := range 12 {
		for k := range f.rows("weeks", n, "rows") {
			why[f.at("weeks", n, "rows", k, "why")+" "+f.at("weeks", n, "rows", k, "day")] = f.at("weeks", n, "rows", k, "amount")
		}
	}
	if why["recurring invoice 2027-01-04"] != "60.00" || why["recurring invoice 2027-02-04"] != "60.00" || why["billing plan 2026-12-24"] != "600.00" {
		t.Errorf("%v", why)
	}
	balance := f.sum("begins")
	for n := range 12 {
		balance += f.sum("weeks", n, "in") + f.sum("weeks", n, "out")
		if f.sum("weeks", n, "balance") != balance {
			t.Errorf("week %d: %s", n, f.at("weeks", n))
		}
	}
}

// Whatever is posted, tied, freed, taken back, read and reconciled in whatever
// order: where nothing is said to have changed since a proof, it still holds, and
// the tie-out says what working it out anew says.
func TestProofsHold(t *testing.T) {
	c := newClient(t)
	rnd := rand.New(rand.NewPCG(14, 2))
	pick := func(from, through int) string { return fmt.Sprintf("2026-11-%02d", from+rnd.IntN(through-from+1)) }
	amounts := []string{"100.00", "40.00", "60.00", "25.00"}
	closing := money.Amount(0)
	papers := []string{}
	held, reconciled := 0, 0
	for step := range 320 {
		switch amount := amounts[rnd.IntN(len(amounts))]; rnd.IntN(12) {
		case 0, 1:
			if a := c.post("/deposits?"+seen, deposit(1, pick(6, 20), amount)); a.status == 200 {
				papers = append(papers, a.at("posted", "paper"))
			}
		case 2:
			v, _ := eur.Parse(amount)
			if a := c.post("/banks/1/typed", typed(eur.Format(closing+v), fmt.Sprintf("2026-11-%02d %s LINE %d", 5+step/22, amount, step))); a.status == 200 {
				closing += v
			}
		case 3, 4, 5, 8, 9:
			lines := c.get("/banks/1/lines").want(200)
			if n := lines.rows("rows"); n > 0 {
				id := lines.at("rows", rnd.IntN(n), "id")
				p := c.get("/bank-lines/" + id)
				if p.rows("rows") > 0 && p.rows("rows", 0, "movements") == 1 && rnd.IntN(3) > 0 {
					c.post("/ties", `{"lines":[`+id+`],"movements":[`+p.at("rows", 0, "movements", 0)+`]}`)
				} else {
					c.post("/deposits?bankLine="+id+"&"+seen, deposit(2, p.at("line", "day"), strings.TrimPrefix(p.at("line", "amount"), "-")))
				}
			}
		case 6:
			all := c.get("/banks/1/lines?state=all").want(200)
			if n := all.rows("rows"); n > 0 {
				c.post("/ties/undo", `{"line":`+all.at("rows", rnd.IntN(n), "id")+`}`)
			}
		case 7:
			if len(papers) > 0 {
				path := []string{"/reversals", "/returned-payments"}[rnd.IntN(2)]
				c.post(path+"?"+seen, `{"paper":`+papers[rnd.IntN(len(papers))]+`,"day":"`+pick(10, 20)+`","reason":"x"}`)
			}
		default:
			if a := c.post("/banks/1/reconciliation", `{"through":"`+fmt.Sprintf("2026-11-%02d", 5+rnd.IntN(1+step/22))+`"}`); a.status == 204 {
				reconciled++
			}
		}
		r := c.book.Read(t.Context())
		proofs, err := r.LastProofs("2026-11-20")
		if err != nil {
			t.Fatal(err)
		}
		for _, p := range proofs {
			x, err := r.Reconcile(p.BankAccountID, p.ThroughDay)
			if err != nil {
				t.Fatal(err)
			}
			if !p.Changed && (x.Apart() != 0 || x.Unexplained != 0) {
				t.Fatalf("step %d: nothing is said to have changed since the proof through %s, and %+v", step, p.ThroughDay, x)
			}
			if !p.Changed {
				held++
			}
			o := c.get("/tie-out").want(200)
			if last := o.rows("ties") - 1; (o.at("ties", last, "ok") == "true") != (x.Apart() == 0) {
				t.Fatalf("step %d: %s, and apart %d", step, o.at("ties", last), x.Apart())
			}
		}
	}
	if held < 10 || reconciled < 5 {
		t.Errorf("%d times held, %d reconciled", held, reconciled)
	}
	if found, err := c.book.Read(t.Context()).Check(); err != nil || len(found) > 0 {
		t.Errorf("check: %v, %v", found, err)
	}
}
