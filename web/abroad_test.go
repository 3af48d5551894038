package web_test

import (
	"encoding/json"
	"fmt"
	"slices"
	"strings"
	"testing"

	"cleantally/core/money"
)

// goAbroad takes dollars, pounds, yen and dinars into use, with rates, and opens
// bank accounts 4 (USD, 102), 5 (GBP, 103) and 6 (JPY, 104).
func (c *client) goAbroad() {
	c.t.Helper()
	for _, code := range []string{"USD", "GBP", "JPY", "BHD"} {
		c.post("/currencies", fmt.Sprintf(`{"code":%q}`, code)).want(200)
	}
	c.post("/rates?name=rates.csv", "currency,date,rate\nUSD,2026-11-01,0.90\nUSD,2026-11-10,0.92\nUSD,2026-11-18,0.88\nGBP,2026-11-01,1.15\nJPY,2026-11-01,0.0061\nBHD,2026-11-01,2.45\nCHF,2026-11-01,1.05\n", "Content-Type", "application/octet-stream").want(200)
	for _, code := range []string{"USD", "GBP", "JPY"} {
		c.post("/banks", fmt.Sprintf(`{"name":"%s account","currency":%q}`, code, code)).want(200)
	}
}

// inAll posts a command and tells what it enters in all, by account.
func (c *client) inAll(path, body string) string {
	c.t.Helper()
	shown := c.post(path+"?preview=true", body).want(200)
	sums := map[string]money.Amount{}
	eur := money.Currency{Code: "EUR", Places: 2}
	for _, entry := range shown.entries() {
		for _, line := range strings.Split(entry, ", ") {
			side, number, amount := line[:2], line[3:6], line[7:]
			a, _ := eur.Parse(amount)
			if side == "Cr" {
				a = -a
			}
			sums[number] += a
		}
	}
	var parts []string
	for number, a := range sums {
		if a != 0 {
			parts = append(parts, map[bool]string{true: "Dr ", false: "Cr "}[a > 0]+number+" "+eur.Format(a.Abs()))
		}
	}
	slices.SortFunc(parts, func(x, y string) int {
		if x[0] != y[0] {
			return strings.Compare(y, x)
		}
		return strings.Compare(x, y)
	})
	c.post(path+"?token="+shown.at("effect", "token"), body).want(200)
	return strings.Join(parts, ", ")
}

func abroad(code, net string, tax int, day, rate, more string) string {
	return fmt.Sprintf(`{"customer":1,"day":%q,"currency":%q,"rate":%q,"lines":[{"text":"Stair","unitPrice":%q,"taxCode":%d}]%s}`, day, code, rate, net, tax, more)
}

func paid(bank int, day, arrived, rate, more string) string {
	return fmt.Sprintf(`{"customer":1,"day":%q,"arrived":%q,"rate":%q,"bank":%d,"method":"transfer"%s}`, day, arrived, rate, bank, more)
}

func on(item int, amount, takes string) string {
	return fmt.Sprintf(`,"placements":[{"item":%d,"amount":%q,"takes":%q}]`, item, amount, takes)
}

// The cases of core/settling, through the API and the store: each step with what
// it enters in all.
func TestCasesAbroad(t *testing.T) {
	type step struct{ path, body, want string }
	usd := func(net string, tax int, day, rate string) string { return abroad("USD", net, tax, day, rate, "") }
	thousand := step{"/invoices", usd("1000", 3, "2026-11-02", "0.90"), "Dr 120 900.00, Cr 401 900.00"}
	taxed := step{"/invoices", usd("1000", 1, "2026-11-02", "0.90"), "Dr 120 1080.00, Cr 241 180.00, Cr 401 900.00"}
	const pre = `"bank":4,"method":"transfer"}`
	for name, steps := range map[string][]step{
		"E-20": {thousand, {"/receipts", paid(4, "2026-11-12", "600", "0.92", on(1, "600", "")), "Dr 102 552.00, Cr 120 540.00, Cr 691 12.00"},
			{"/receipts", paid(4, "2026-11-18", "400", "0.88", `,"placements":[{"item":1}]`), "Dr 102 352.00, Dr 691 8.00, Cr 120 360.00"}},
		"01 with tax":        {{"/invoices", usd("1000", 1, "2026-11-02", "0.913"), "Dr 120 1095.60, Cr 241 182.60, Cr 401 913.00"}},
		"02 the newest rate": {{"/invoices", usd("333.33", 1, "2026-11-15", ""), "Dr 120 368.00, Cr 241 61.34, Cr 401 306.66"}},
		"04 the last takes what is left": {{"/invoices", usd("100.01", 3, "2026-11-02", "0.9001"), "Dr 120 90.02, Cr 401 90.02"},
			{"/receipts", paid(4, "2026-11-03", "33.34", "0.9001", on(1, "33.34", "")), "Dr 102 30.01, Cr 120 30.01"}, {"/receipts", paid(4, "2026-11-04", "33.34", "0.9001", on(1, "33.34", "")), "Dr 102 30.01, Cr 120 30.01"},
			{"/receipts", paid(4, "2026-11-05", "33.33", "0.9001", on(1, "33.33", "")), "Dr 102 30.00, Cr 120 30.00"}},
		"05 into the firm's":   {thousand, {"/receipts", paid(1, "2026-11-12", "905", "", on(1, "1000", "905")), "Dr 101 905.00, Cr 120 900.00, Cr 691 5.00"}},
		"06 into a third":      {thousand, {"/receipts", paid(5, "2026-11-12", "790", "", on(1, "1000", "790")), "Dr 103 908.50, Cr 120 900.00, Cr 691 8.50"}},
		"07 dollars for euros": {{"/invoices", abroad("", "915", 3, "2026-11-02", "", ""), "Dr 120 915.00, Cr 401 915.00"}, {"/receipts", paid(4, "2026-11-12", "1000", "", on(1, "915", "1000")), "Dr 102 920.00, Cr 120 915.00, Cr 691 5.00"}},
		"08 over several": {thousand, {"/invoices", usd("500", 3, "2026-11-03", "0.91"), "Dr 120 455.00, Cr 401 455.00"}, {"/invoices", abroad("", "100", 3, "2026-11-04", "", ""), "Dr 120 100.00, Cr 401 100.00"},
			{"/receipts", paid(1, "2026-11-12", "1490", "", `,"charges":"10","onAccount":true,"placements":[{"item":1,"amount":"1000","takes":"905"},{"item":2,"amount":"500","takes":"450"},{"item":3,"amount":"100"}]`), "Dr 101 1490.00, Dr 621 10.00, Cr 120 1500.00"}},
		"09 other differences": {thousand, {"/receipts", paid(4, "2026-11-12", "960", "", `,"differences":[{"account":39,"text":"Commission","amount":"40"}],"placements":[{"item":1,"amount":"1000"}]`), "Dr 102 883.20, Dr 601 36.80, Cr 120 900.00, Cr 691 20.00"}},
		"11 a deposit": {{"/deposits", `{"customer":1,"day":"2026-11-02","amount":"500",` + pre, "Dr 102 450.00, Cr 221 450.00"}, {"/refunds", `{"day":"2026-11-12","sources":[{"item":1,"amount":"200"}],` + pre, "Dr 221 180.00, Cr 102 180.00"},
			{"/forfeits", `{"day":"2026-11-12","deposit":1,"amount":"100"}`, "Dr 221 90.00, Cr 421 90.00"}},
		"12 by portions": {{"/deposits", `{"customer":1,"day":"2026-11-02","amount":"1000",` + pre, "Dr 102 900.00, Cr 221 900.00"}, {"/deposits", `{"customer":1,"day":"2026-11-10","amount":"1000",` + pre, "Dr 102 920.00, Cr 221 920.00"},
			{"/refunds", `{"day":"2026-11-12","sources":[{"item":1,"amount":"500"}],` + pre, "Dr 221 450.00, Dr 691 5.00, Cr 102 455.00"}},
		"13 set against at once": {{"/deposits", `{"customer":1,"day":"2026-11-02","amount":"600",` + pre, "Dr 102 540.00, Cr 221 540.00"},
			{"/invoices", abroad("USD", "1000", 1, "2026-11-12", "0.92", `,"setAgainst":[{"credit":1}]`), "Dr 120 552.00, Dr 221 540.00, Cr 241 182.00, Cr 401 910.00"}},
		"14 set against later": {{"/deposits", `{"customer":1,"day":"2026-11-02","amount":"600",` + pre, "Dr 102 540.00, Cr 221 540.00"}, {"/invoices", usd("1000", 1, "2026-11-12", "0.92"), "Dr 120 1104.00, Cr 241 184.00, Cr 401 920.00"},
			{"/allocations", `{"day":"2026-11-13","pairs":[{"debit":2,"credit":1,"amount":"600"}]}`, "Dr 221 540.00, Dr 691 12.00, Cr 120 552.00"}},
		"15 advances": {{"/deposit-invoices", `{"customer":1,"day":"2026-11-02","currency":"USD","rate":"0.90","lines":[{"text":"In advance","net":"1000","taxCode":1}]}`, "Dr 120 1080.00, Cr 227 900.00, Cr 241 180.00"},
			{"/invoices", abroad("USD", "5000", 1, "2026-11-12", "0.95", `,"form":"final","deductions":[{"paper":1}]`), "Dr 120 4560.00, Dr 227 900.00, Cr 241 760.00, Cr 401 4700.00"}},
		"17 credit notes": {taxed, {"/credit-notes", `{"paper":1,"day":"2026-11-12","cause":"price","what":"lines","lines":[{"position":1,"amount":"500"}],"own":true}`, "Dr 241 90.00, Dr 401 450.00, Cr 120 540.00"},
			{"/credit-notes", `{"paper":1,"day":"2026-11-13","cause":"goodwill","own":true}`, "Dr 241 90.00, Dr 401 450.00, Cr 120 540.00"}},
		"18 given up": {taxed, {"/write-offs", `{"day":"2026-11-12","reason":"insolvent","relief":true,"items":[{"item":1,"amount":"480"}]}`, "Dr 241 72.00, Dr 631 360.00, Cr 120 432.00"},
			{"/recoveries", `{"writeOff":2,"day":"2026-11-15","amount":"240","rate":"0.95",` + pre, "Dr 102 228.00, Cr 241 36.00, Cr 441 192.00"}},
		"20 passed on": {{"/supplier-bills", `{"supplier":3,"day":"2026-11-02","currency":"GBP","rate":"1.15","reference":"X","lines":[{"text":"Crane hire","net":"400","taxCode":1,"job":1,"passOn":"supply","markup":"12.5"}]}`, "Dr 151 92.00, Dr 511 460.00, Cr 201 552.00"},
			{"/invoices", `{"customer":1,"job":1,"day":"2026-11-12","currency":"USD","rate":"0.92","lines":[{"taxCode":1,"costs":[{"paper":1,"line":1}]}]}`, "Dr 120 621.00, Cr 241 103.50, Cr 411 517.50"}},
		"21 yen": {{"/invoices", abroad("JPY", "123457", 3, "2026-11-02", "0.0061", ""), "Dr 120 753.09, Cr 401 753.09"}, {"/receipts", paid(6, "2026-11-03", "61728", "0.0061", on(1, "61728", "")), "Dr 104 376.54, Cr 120 376.54"},
			{"/receipts", paid(6, "2026-11-04", "61729", "0.0061", on(1, "61729", "")), "Dr 104 376.55, Cr 120 376.55"}},
	} {
		t.Run(name, func(t *testing.T) {
			c := newClient(t)
			c.goAbroad()
			c.post("/customers", `{"name":"Hoist & Hold","supplier":true,"noCustomer":true}`).want(200)
			papers := 0
			for _, s := range steps {
				if got := c.inAll(s.path, s.body); got != s.want {
					t.Errorf("%s %s\nenters %s\nwant   %s", s.path, s.body, got, s.want)
				}
			}
			c.tiesOut()
			// All of it goes back the way it came, the last first.
			for n := len(steps); n > 0; n-- {
				a := c.post("/reversals?"+seen, fmt.Sprintf(`{"paper":%d,"day":"2026-11-20","reason":"wrong"}`, n))
				if a.status == 200 {
					papers++
				}
			}
			if c.tiesOut(); papers == 0 {
				t.Error("nothing could be reversed")
			}
		})
	}
}

// What is wrong with a currency or a rate is refused, and changes nothing.
func TestRefusedAbroad(t *testing.T) {
	c := newClient(t)
	c.post("/invoices", abroad("USD", "1000", 3, "2026-11-02", "0.90", "")).refused(422, "not in use")
	c.goAbroad()
	for _, x := range []struct{ path, body, rule string }{
		{"/invoices", abroad("USX", "1000", 3, "2026-11-02", "0.90", ""), "no such currency"},
		{"/invoices", abroad("CHF", "1000", 3, "2026-11-02", "0.90", ""), "not in use"},
		{"/invoices", abroad("USD", "1000", 3, "2026-11-02", "1000000000", ""), "out of bounds"},
		{"/invoices", abroad("USD", "1000", 3, "2026-11-02", "-1", ""), "out of bounds"},
		{"/invoices", abroad("USD", "1000", 3, "2026-11-02", "0.123456789", ""), "no number"},
		{"/invoices", abroad("USD", "1000", 3, "2026-10-20", "", ""), "no rate"},
		{"/invoices", abroad("JPY", "100", 3, "2026-11-02", "", `,"discount":"0.5"`), "no amount"},
		{"/deposits", `{"customer":1,"day":"2026-11-02","amount":"1.5","bank":6,"method":"transfer"}`, "no amount"},
		{"/deposits", `{"customer":1,"day":"2026-11-02","amount":"100","currency":"USD","bank":1,"method":"transfer"}`, "says both"},
		{"/currencies", `{"code":"EUR"}`, "the firm's own"},
		{"/currencies", `{"code":"USD"}`, "taken"},
		{"/currencies", `{"code":"USX"}`, "no such currency"},
		{"/banks", `{"name":"Zloty","currency":"PLN"}`, "not in use"},
	} {
		if a := c.post(x.path, x.body); a.status != 422 || !strings.Contains(string(a.body), `"rule":"`+x.rule+`"`) {
			t.Errorf("%s %s: %d %s, want %s", x.path, x.body, a.status, a.body, x.rule)
		}
	}
	rate := func(body, rule string) {
		t.Helper()
		c.do("PUT", "/rates", body).refused(422, rule)
	}
	rate(`{"currency":"USD","day":"2026-11-19","rate":"0"}`, "out of bounds")
	rate(`{"currency":"USD","day":"2026-11-19","rate":"1000000000"}`, "out of bounds")
	rate(`{"currency":"USD","day":"2026-11-21","rate":"0.9"}`, "in the future")
	rate(`{"currency":"CHF","day":"2026-11-19","rate":"0.9"}`, "not in use")
	c.post("/rates?name=x", "currency,date,rate\nUSD,2026-12-01,0.9\n", "Content-Type", "application/octet-stream").refused(422, "in the future")
	c.post("/rates?name=x", "nonsense", "Content-Type", "application/octet-stream").refused(422, "cannot be read")

	c.inAll("/invoices", abroad("USD", "1000", 3, "2026-11-02", "", ""))
	c.inAll("/deposits", deposit(1, "2026-11-02", "500"))
	c.post("/allocations", `{"day":"2026-11-13","pairs":[{"debit":1,"credit":2,"amount":"600"}]}`).refused(422, "another currency")
	c.post("/receipts?"+seen, paid(1, "2026-11-12", "905", "", `,"placements":[{"item":1,"amount":"1000"}]`)).refused(422, "says both")
	usd := c.get("/currencies").want(200)
	for n, row := range usd.list("rows") {
		if row["code"] == "USD" {
			c.put(fmt.Sprintf("/currencies/%v", row["id"]), `{"code":"USD","inactive":true}`).refused(422, "in use")
			if usd.at("rows", n, "rate") != "0.8800" || usd.at("rows", n, "age") != "2" || usd.at("rows", n, "rateDay") != "2026-11-18" {
				t.Errorf("the newest rate: %s", usd.body)
			}
		}
		if row["code"] == "BHD" {
			c.put(fmt.Sprintf("/currencies/%v", row["id"]), `{"code":"BHD","inactive":true}`).want(200)
		}
	}
	c.post("/invoices", abroad("BHD", "1", 3, "2026-11-02", "", "")).refused(422, "not in use")
	c.put("/banks/4", `{"name":"USD account","currency":"GBP"}`).want(200) // nothing is posted there
	c.tiesOut()
}

// A paper in another currency is told in it, with its rate and what it is worth;
// lists tell both; it is copied with its currency.
func TestToldAbroad(t *testing.T) {
	c := newClient(t)
	c.goAbroad()
	c.inAll("/invoices", abroad("USD", "1000", 1, "2026-11-12", "", ""))
	p := c.get("/papers/1").want(200)
	for field, want := range map[string]string{"currency": "USD", "total": "1200.00", "net": "1000.00", "tax": "200.00", "rate": "0.9200", "base": "1104.00", "baseTax": "184.00", "open": "1200.00"} {
		if p.at(field) != want {
			t.Errorf("%s is %s, want %s", field, p.at(field), want)
		}
	}
	if p.at("entries", 0, "lines", 0, "debit") != "1104.00" || p.at("entries", 0, "lines", 0, "own") != "USD 1,200.00" {
		t.Errorf("its entry: %s", p.sent("entries"))
	}
	l := c.get("/papers").want(200)
	if l.at("rows", 0, "total") != "1104.00" || l.at("rows", 0, "ownTotal") != "1200.00" || l.at("rows", 0, "currency") != "USD" {
		t.Errorf("the list: %s", l.body)
	}
	b := c.get("/customers/1/bench").want(200)
	if b.at("owed", 0, "open") != "1200.00" || b.at("owed", 0, "currency") != "USD" || b.at("owed", 0, "base") != "1104.00" {
		t.Errorf("the bench: %s", b.body)
	}
	for file, want := range map[string]string{
		"/papers":                "Total,Open,Currency,Total in it,Open in it\n2026-11-12,I26-0001,invoice,Odalys Brandt,,Stair,,2026-12-12,open,1104.00,1104.00,USD,1200.00,1200.00\n",
		"/registers/receivables": "Amount,Open,Currency,Open in it\nI26-0001,invoice,Odalys Brandt,,2026-11-12,2026-12-12,,1104.00,1104.00,USD,1200.00\n",
	} {
		if got := string(c.get(file + "/file?format=csv").want(200).body); !strings.Contains(got, want) {
			t.Errorf("%s as a file: %s", file, got)
		}
	}
	r := c.get("/registers/receivables").want(200)
	if r.at("rows", 0, "open") != "1104.00" || r.at("rows", 0, "own") != "USD 1,200.00" {
		t.Errorf("the register: %s", r.body)
	}
	var copied struct {
		Body struct{ Currency, Rate string }
	}
	again := c.get("/papers/1/copy?again=true").want(200)
	if err := json.Unmarshal(again.body, &copied); err != nil || copied.Body.Currency != "USD" {
		t.Errorf("copied: %s", again.body)
	}
	if x := c.get("/rate?currency=USD&day=2026-11-15").want(200); x.at("rate") != "0.9200" || x.at("age") != "5" {
		t.Errorf("the rate of a day: %s", x.body)
	}
	c.post("/rates?name=ecb.xml&preview=true", `<E><Cube><Cube time="2026-11-19"><Cube currency="USD" rate="1.25"/></Cube></Cube></E>`, "Content-Type", "application/octet-stream").want(200)
	if x := c.get("/rate?currency=USD&day=2026-11-19").want(200); x.at("rate") != "0.8800" {
		t.Errorf("a preview was taken: %s", x.body)
	}
	c.post("/rates?name=ecb.xml", `<E><Cube><Cube time="2026-11-19"><Cube currency="USD" rate="1.25"/></Cube></Cube></E>`, "Content-Type", "application/octet-stream").want(200)
	if x := c.get("/rate?currency=USD&day=2026-11-19").want(200); x.at("rate") != "0.8000" || x.at("source") != "ecb.xml" {
		t.Errorf("read from a file: %s", x.body)
	}
	c.do("PUT", "/rates", `{"currency":"USD","day":"2026-11-19","rate":""}`).want(204)
	if x := c.get("/rate?currency=USD&day=2026-11-19").want(200); x.at("rate") != "0.8800" {
		t.Errorf("taken away: %s", x.body)
	}
}

// E-21 through the API, with what the closing list says of it.
func TestRevaluation(t *testing.T) {
	c := newClient(t)
	step := func() string {
		t.Helper()
		a := c.get("/closing?through=2026-10-31").want(200)
		for _, s := range a.list("steps") {
			if s["id"] == "revaluation" {
				return fmt.Sprint(s["state"], " ", s["count"], " ", s["says"])
			}
		}
		return "no step"
	}
	if s := step(); s != "done 0 Nothing is in another currency." {
		t.Errorf("of a firm in one currency: %s", s)
	}
	c.goAbroad()
	c.do("PUT", "/rates", `{"currency":"USD","day":"2026-10-31","rate":"0.94"}`).want(204)
	c.inAll("/invoices", abroad("USD", "1000", 3, "2026-10-02", "0.90", ""))
	if s := step(); s != "open 1 open in other currencies, and worth something else by now" {
		t.Errorf("before: %s", s)
	}
	v := c.get("/revaluations?day=2026-10-31").want(200)
	if v.at("rows", 0, "own") != "1000.00" || v.at("rows", 0, "stands") != "900.00" || v.at("rows", 0, "now") != "940.00" || v.at("difference") != "40.00" || v.at("rates", 0, "day") != "2026-10-31" {
		t.Errorf("what would be revalued: %s", v.body)
	}
	c.try("/revaluations", `{"day":"2026-10-31"}`, "Dr 138 40.00, Cr 691 40.00", "Dr 691 40.00, Cr 138 40.00")
	c.post("/revaluations", `{"day":"2026-10-31"}`).refused(422, "done already")
	if s := step(); !strings.HasPrefix(s, "done 0") {
		t.Errorf("after: %s", s)
	}
	c.tiesOut()
	c.inAll("/receipts", paid(4, "2026-11-12", "1000", "0.92", on(1, "1000", "")))
	if v = c.get("/revaluations?day=2026-11-20").want(200); v.at("realised") != "20.00" {
		t.Errorf("realised: %s", v.body)
	}
	c.post("/reversals?"+seen, `{"paper":2,"day":"2026-11-20","reason":"x"}`).refused(422, "its own day")
	c.post("/reversals?"+seen, `{"paper":2,"day":"2026-10-31","reason":"x"}`).want(200)
	c.tiesOut()
}

// An article may cost something of its own on papers in a currency; one that is not
// in use, or stands there twice, is refused.
func TestArticlesCostAbroad(t *testing.T) {
	c := newClient(t)
	c.goAbroad()
	c.post("/articles", `{"code":"CAP","name":"Newel cap","kind":"material","price":"9.50","abroad":[{"currency":"USD","price":"11"},{"currency":"JPY","price":"1500"}]}`).want(200)
	for _, a := range c.get("/articles").want(200).list("rows") {
		if got := fmt.Sprint(a["abroad"]); a["code"] == "CAP" && got != "[map[currency:JPY price:1500] map[currency:USD price:11.00]]" {
			t.Errorf("it costs %s", got)
		}
	}
	for _, wrong := range []string{`[{"currency":"CHF","price":"11"}]`, `[{"currency":"USD","price":"11"},{"currency":"USD","price":"12"}]`} {
		c.post("/articles", `{"code":"PEG","name":"Peg","kind":"material","abroad":`+wrong+`}`).refused(422, "missing")
	}
	c.post("/articles", `{"code":"PEG","name":"Peg","kind":"material","abroad":[{"currency":"USD","price":"-1"}]}`).refused(422, "out of bounds")
}

// What we owe in dollars is paid in one run out of the account in dollars, and
// written for the bank in dollars; out of an account in euros it is not offered.
func TestPaidAbroadInARun(t *testing.T) {
	c := newClient(t)
	c.goAbroad()
	c.put("/banks/4", `{"name":"USD account","account":`+accountID(c, "102")+`,"currency":"USD","iban":"ZZ69 SPWI 0000 0000 0001"}`).want(200)
	s := c.post("/customers", `{"name":"Calder Hinge","supplier":true,"noCustomer":true,"iban":"ZZ17 LARK 0000 0000 778","currency":"USD"}`).want(200).at("id")
	c.post("/supplier-bills?"+seen, `{"supplier":`+s+`,"day":"2026-11-12","due":"2026-11-20","reference":"CH 1","lines":[{"text":"Hinges","account":40,"net":"500","taxCode":3}]}`).want(200)
	if r := c.get("/payables?bank=1").want(200); r.rows("rows") != 0 {
		t.Errorf("offered out of euros: %s", r.body)
	}
	owed := c.get("/payables?bank=4").want(200)
	if owed.rows("rows") != 1 || owed.at("rows", 0, "open") != "500.00" || owed.at("rows", 0, "currency") != "USD" || owed.at("paying") != "500.00" {
		t.Fatalf("offered out of dollars: %s", owed.body)
	}
	run := func(bank int) string {
		return fmt.Sprintf(`{"day":"2026-11-20","bank":%d,"method":"transfer","payments":[{"supplier":%s,"bills":[{"item":%s}]}]}`, bank, s, owed.at("rows", 0, "id"))
	}
	if a := c.post("/payment-runs?"+seen, run(1)); a.status != 422 {
		t.Errorf("paid out of euros without both amounts: %s", a.body)
	}
	c.post("/payment-runs?"+seen, run(4)).want(200)
	c.tiesOut()
	paid := c.get("/bank-payments").want(200)
	if paid.at("rows", 0, "amount") != "500.00" || paid.at("rows", 0, "currency") != "USD" {
		t.Errorf("for the bank: %s", paid.body)
	}
	file := c.post("/bank-payments/file", `{"papers":[`+paid.at("rows", 0, "id")+`]}`).want(200)
	if !strings.Contains(string(file.body), `<InstdAmt Ccy="USD">500.00</InstdAmt>`) {
		t.Errorf("the file: %s", file.body)
	}
}

// A cheque is of what leaves its account: of a refund in dollars out of dollars
// those, out of euros the euros that were said; and a mail names the paper's own.
func TestChequesAbroad(t *testing.T) {
	c := newClient(t)
	c.goAbroad()
	c.post("/deposits?"+seen, `{"customer":1,"day":"2026-11-12","amount":"500","bank":4,"method":"transfer"}`).want(200)
	give := func(bank int, amount, more string) {
		c.post("/refunds?"+seen, fmt.Sprintf(`{"customer":1,"day":"2026-11-20","bank":%d,"method":"cheque","sources":[{"item":1,"amount":%q}]%s}`, bank, amount, more)).want(200)
	}
	give(4, "200", "")
	give(1, "100", `,"atBank":"89.50"`)
	got := map[string]string{}
	for _, x := range c.get("/cheques").want(200).list("rows") {
		got[fmt.Sprint(x["amount"])] = fmt.Sprint(x["currency"], " ", x["inWords"])
	}
	if len(got) != 2 || !strings.HasPrefix(got["200.00"], "USD ") || !strings.HasPrefix(got["89.50"], "<nil> ") {
		t.Errorf("cheques of %v", got)
	}
	c.tiesOut()
}

// Money expected is told of each currency in it, and of all in the firm's, with a
// foreign amount beside; control accounts tie out in each currency on every day.
func TestExpectedAbroad(t *testing.T) {
	c := newClient(t)
	c.goAbroad()
	due := `,"due":"2026-12-05"`
	c.post("/invoices?"+seen, abroad("USD", "1000", 3, "2026-11-12", "0.92", due)).want(200)
	c.post("/invoices?"+seen, abroad("", "500", 3, "2026-11-12", "", due)).want(200)
	c.post("/deposits?"+seen, `{"customer":2,"day":"2026-11-15","amount":"200","bank":4,"method":"transfer"}`).want(200)
	c.post("/deposit-requests?"+seen, `{"customer":2,"day":"2026-11-12","due":"2026-12-05","currency":"USD","rate":"0.90","amount":"300"}`).want(200)
	c.post("/receipts?"+seen, paid(4, "2026-11-18", "400", "0.88", `,"placements":[{"item":1,"amount":"400"}]`)).want(200)
	c.post("/recurring", `{"name":"Care","paper":1,"every":1,"unit":"month"}`).want(200)
	week := func(query string) string {
		e := c.get("/expected" + query).want(200)
		for n, w := range e.list("weeks") {
			if w["from"].(string) <= "2026-12-05" && w["to"].(string) >= "2026-12-05" {
				return fmt.Sprintf("begins %s, in %s, rows %d", e.at("begins"), e.at("weeks", n, "in"), e.rows("weeks", n, "rows"))
			}
		}
		return "no week"
	}
	for query, want := range map[string]string{
		// 600 of 1,000 at 0.92, 500 in euros, 300 asked for at 0.90; 600 at the bank, 184 and 352 in euros.
		"":              "begins 536.00, in 1322.00, rows 3",
		"?currency=EUR": "begins 0.00, in 500.00, rows 1",
		"?currency=USD": "begins 600.00, in 900.00, rows 2",
		"?currency=JPY": "begins 0, in 0, rows 0",
		// What recurs is not told of a past day, what was paid since is open on it.
		"?asOf=2026-11-15&currency=USD": "begins 200.00, in 1300.00, rows 2",
		"?asOf=2026-11-15":              "begins 184.00, in 1690.00, rows 3",
	} {
		if got := week(query); got != want {
			t.Errorf("expected%s: %s, want %s", query, got, want)
		}
	}
	rows := c.get("/expected").want(200).body
	if !strings.Contains(string(rows), `"amount":"552.00"`) || !strings.Contains(string(rows), `"currency":"USD","own":"600.00"`) {
		t.Errorf("both amounts: %s", rows)
	}
	// 1,000 dollars at 0.88, that of the day on which it recurs.
	if r := c.get("/recurring").want(200); r.at("rows", 0, "total") != "1000.00" || r.at("rows", 0, "currency") != "USD" || r.at("coming", 0, "total") != "880.00" || r.at("coming", 0, "rows", 0, "currency") != "USD" {
		t.Errorf("what recurs: %s", r.body)
	}
	if a := c.get("/expected?currency=XYZ").want(422); !strings.Contains(string(a.body), "There is no currency XYZ") {
		t.Errorf("an unknown code: %s", a.body)
	}
	c.get("/ageing?currency=usd").want(422)

	for day, want := range map[string]string{"2026-11-20": "receivables 600.00 600.00, deposits 200.00 200.00", "2026-11-14": "receivables 1000.00 1000.00"} {
		tie := c.get("/tie-out?asOf=" + day).want(200)
		var got []string
		for _, x := range tie.list("ties") {
			if x["currency"] == "USD" {
				got = append(got, fmt.Sprintf("%s %s %s", x["register"], x["ledger"], x["sum"]))
			}
		}
		if strings.Join(got, ", ") != want || tie.at("ok") != "true" {
			t.Errorf("on %s %s, want %s", day, strings.Join(got, ", "), want)
		}
	}
}

// A request is paid by its own amount, at whatever rate: it is paid in whole, and
// what is given back of the deposit is asked for again.
func TestRequestsAbroad(t *testing.T) {
	c := newClient(t)
	c.goAbroad()
	c.post("/deposit-requests?"+seen, `{"customer":1,"day":"2026-11-02","due":"2026-11-10","currency":"USD","rate":"0.95","amount":"1000"}`).want(200)
	stands := func() string {
		p := c.get("/papers?q=RD26").want(200)
		e := c.get("/expected?currency=USD").want(200)
		return fmt.Sprintf("%s %s, overdue %s", p.at("rows", 0, "state"), p.at("rows", 0, "settled"), e.at("overdue"))
	}
	for n, step := range []struct{ path, body, want string }{
		{"/deposits", `{"customer":1,"day":"2026-11-05","amount":"400","rate":"0.85","bank":4,"method":"transfer","request":1}`, "part paid 40, overdue 600.00"},
		{"/deposits", `{"customer":1,"day":"2026-11-06","amount":"600","rate":"0.99","bank":4,"method":"transfer","request":1}`, "paid 100, overdue 0.00"},
		{"/refunds", `{"customer":1,"day":"2026-11-12","sources":[{"item":1,"amount":"250"}],"bank":4,"method":"transfer"}`, "part paid 75, overdue 250.00"},
	} {
		c.post(step.path+"?"+seen, step.body).want(200)
		if got := stands(); got != step.want {
			t.Errorf("step %d: %s, want %s", n+1, got, step.want)
		}
	}
	c.tiesOut()
}

// Orders, quotes and contracts in another currency are told in it; a claim by
// progress is in that of the contract, also what a billing plan proposes, and what
// is measured against the contract is told at its own rate in the firm's.
func TestContractsAbroad(t *testing.T) {
	c := newClient(t)
	c.goAbroad()
	job := c.post("/jobs", `{"customer":1,"name":"Library stair","stages":[{"name":"On order","percent":"30","day":"2026-11-20"},{"name":"On site","percent":"70","day":"2026-12-10"}]}`).want(200).at("id")
	c.post("/orders?"+seen, `{"customer":1,"job":`+job+`,"day":"2026-11-02","currency":"USD","rate":"0.90","lines":[{"text":"Stair","unitPrice":"10000","taxCode":3}]}`).want(200)
	if o := c.get("/order-book?job=" + job + "&all=true").want(200); o.at("rows", 0, "net") != "10000.00" || o.at("rows", 0, "currency") != "USD" || o.at("left") != "9000.00" {
		t.Errorf("the order book: %s", o.body)
	}
	if b := c.get("/blank?kind=claim&job=" + job).want(200); b.at("through") != "3000.00" {
		t.Errorf("the plan proposes %s", b.at("through"))
	}
	if e := c.get("/expected").want(200); !strings.Contains(string(e.body), `"amount":"3240.00","why":"billing plan"`) || !strings.Contains(string(e.body), `"currency":"USD","own":"3600.00"`) {
		t.Errorf("expected: %s", e.body)
	}
	if e := c.get("/expected?currency=USD").want(200); !strings.Contains(string(e.body), `"amount":"3600.00","why":"billing plan"`) {
		t.Errorf("expected in dollars: %s", e.body)
	}
	if got := c.inAll("/claims", `{"job":`+job+`,"day":"2026-11-12","toDate":"3000"}`); got != "Dr 120 2760.00, Cr 401 2760.00" {
		t.Errorf("the claim: %s", got)
	}
	p := c.get("/papers?q=I26-0001").want(200).at("rows", 0, "id")
	if x := c.get("/papers/" + p).want(200); x.at("currency") != "USD" || x.at("net") != "3000.00" || x.at("rate") != "0.9200" {
		t.Errorf("the claim on paper: %s", x.body)
	}
	j := c.get("/jobs/" + job).want(200)
	if j.at("plan", 0, "billed") != "true" || j.at("plan", 0, "own") != "3000.00" || j.at("plan", 0, "through") != "2700.00" || j.at("plan", 1, "billed") != "false" {
		t.Errorf("the plan: %s", j.sent("plan"))
	}
	if x := c.get("/papers/" + p + "/certificate").want(200); len(x.body) < 1000 {
		t.Errorf("the certificate: %d bytes", len(x.body))
	}
	c.post("/claims?"+seen, `{"job":`+job+`,"day":"2026-11-12","percent":"30"}`).refused(422, "nothing to claim")
	c.post("/claims?"+seen, `{"job":`+job+`,"day":"2026-11-12","percent":"60","rate":"0"}`).want(422)
	c.post("/orders?"+seen, `{"customer":1,"job":`+job+`,"day":"2026-11-12","currency":"EUR","lines":[{"text":"Rail","unitPrice":"100","taxCode":3}]}`).want(200)
	c.post("/claims?"+seen, `{"job":`+job+`,"day":"2026-11-12","percent":"60"}`).refused(422, "another currency")

	// A quote in another currency than the customer's is ordered in its own.
	q := c.post("/quotes?"+seen, `{"customer":2,"day":"2026-11-12","currency":"JPY","lines":[{"text":"Rail","unitPrice":"123457","taxCode":3}]}`).want(200).at("posted", "paper")
	if b := c.get("/blank?kind=order&quote=" + q).want(200); b.at("currency") != "JPY" || b.at("quote", "left", 0, "unitPrice") != "123457" {
		t.Errorf("the quote: %s", b.body)
	}
	c.tiesOut()
}

// What is ordered from a supplier abroad is told and billed in its currency; what
// came before the bill stands in the firm's, at the rate at which it was ordered.
func TestPurchaseOrdersAbroad(t *testing.T) {
	c := newClient(t)
	c.goAbroad()
	a := c.post("/articles", `{"code":"CAP","name":"Newel cap","kind":"material","stocked":true,"price":"9.50"}`).want(200)
	article := ""
	for n, x := range a.list("rows") {
		if x["code"] == "CAP" {
			article = a.at("rows", n, "id")
		}
	}
	s := c.post("/customers", `{"name":"Calder Hinge","supplier":true,"noCustomer":true,"currency":"GBP"}`).want(200).at("id")
	o := c.post("/purchase-orders?"+seen, `{"supplier":`+s+`,"day":"2026-11-12","lines":[{"article":`+article+`,"text":"Newel cap","quantity":"10","unitPrice":"11","taxCode":3}]}`).want(200).at("posted", "paper")
	if x := c.get("/suppliers/" + s).want(200); x.at("orders", 0, "net") != "110.00" || x.at("orders", 0, "currency") != "GBP" {
		t.Errorf("ordered: %s", x.sent("orders"))
	}
	if got := c.inAll("/goods-received", `{"order":`+o+`,"day":"2026-11-13","lines":[{"position":1,"quantity":"6"}]}`); got != "Dr 141 75.90, Cr 208 75.90" {
		t.Errorf("six came: %s", got)
	}
	// No currency is said: it is that of the order, also where the supplier's is another.
	c.put("/customers/"+s, `{"name":"Calder Hinge","supplier":true,"noCustomer":true,"currency":"USD"}`).want(200)
	if got := c.inAll("/supplier-bills", `{"supplier":`+s+`,"day":"2026-11-14","reference":"7","rate":"1.20","lines":[{"order":`+o+`,"orderLine":1,"quantity":"10"}]}`); got != "Dr 141 56.10, Dr 208 75.90, Cr 201 132.00" {
		t.Errorf("the bill: %s", got)
	}
	c.tiesOut()
}

// Money of a request in dollars is proposed for a line of the account in dollars,
// never for one in euros; the proof of that account is in dollars, without what
// waits in card takings.
func TestRequestedAbroadIsProposed(t *testing.T) {
	c := newClient(t)
	c.goAbroad()
	c.post("/deposit-requests?"+seen, `{"customer":1,"day":"2026-11-02","due":"2026-11-10","currency":"USD","rate":"0.95","amount":"700"}`).want(200)
	for _, bank := range []int{1, 4} {
		c.post(fmt.Sprintf("/banks/%d/typed", bank), `{"lines":[{"day":"2026-11-12","amount":"700.00","text":"RD26-0001"}]}`).want(200)
		l := c.get(fmt.Sprintf("/banks/%d/lines", bank)).want(200)
		if got, want := strings.Contains(string(l.body), `"request":1`), bank == 4; got != want {
			t.Errorf("bank %d proposes %s", bank, l.body)
		}
	}
	if r := c.get("/banks/4/reconciliation").want(200); r.at("currency") != "USD" || r.at("says") != "" && r.at("takings") != "" {
		t.Errorf("the proof: %s", r.body)
	}
}

// Of a debt in dollars the tax inside is none that would be lost, at the rate at
// which it stands.
func TestAllowanceAbroad(t *testing.T) {
	c := newClient(t)
	c.goAbroad()
	c.put("/limits", `{"difference":"1.00","writeOff":"1000.00","relief":true,"allowance":["10","10","10","10","10"]}`).want(200)
	c.post("/invoices?"+seen, abroad("USD", "1000", 1, "2026-11-12", "0.92", "")).want(200)
	a := c.get("/allowance").want(200)
	if a.at("rows", 0, "base") != "920.00" || a.at("wanted") != "92.00" {
		t.Errorf("the allowance: %s", a.body)
	}
}

// The register of deposits tells what became of them in the firm's currency, also
// where both were dollars at other rates; a sum that is kept says what a look at
// each says.
func TestDepositRegisterAbroad(t *testing.T) {
	c := newClient(t)
	c.goAbroad()
	c.post("/deposits?"+seen, `{"customer":1,"day":"2026-11-02","amount":"600","rate":"0.90","bank":4,"method":"transfer"}`).want(200)
	c.post("/deposits?"+seen, deposit(2, "2026-11-03", "100.00")).want(200)
	c.post("/invoices?"+seen, abroad("USD", "1000", 1, "2026-11-12", "0.92", "")).want(200)
	c.post("/allocations?"+seen, `{"day":"2026-11-13","pairs":[{"debit":3,"credit":1,"amount":"200"}]}`).want(200)
	for path, want := range map[string]string{
		"/deposit-register?all=true":                    "640.00 180.00 460.00",
		"/deposit-register?all=true&sort=setAgainst":    "640.00 180.00 460.00",
		"/deposit-register":                             "640.00 180.00 460.00",
		"/deposit-register?all=true&limit=1":            "640.00 180.00 460.00",
		"/deposit-register?all=true&asOf=2026-11-12":    "640.00 0.00 640.00",
		"/deposit-register?all=true&q=D26-0001":         "540.00 180.00 360.00",
		"/deposit-register?all=true&q=D26-0001&limit=5": "540.00 180.00 360.00",
	} {
		a := c.get(path).want(200)
		if got := a.at("sums", "amount") + " " + a.at("sums", "setAgainst") + " " + a.at("sums", "held"); got != want {
			t.Errorf("%s: %s, want %s", path, got, want)
		}
	}
	c.tiesOut()
}

// What the bank took on an account in dollars is entered by hand in dollars, though
// no currency is said, and ties to its line.
func TestEntriesAbroad(t *testing.T) {
	c := newClient(t)
	c.goAbroad()
	c.post("/deposits?"+seen, `{"customer":1,"day":"2026-11-02","amount":"500","bank":4,"method":"transfer"}`).want(200)
	c.post("/banks/4/typed", `{"lines":[{"day":"2026-11-12","amount":"-5.00","text":"FEE"}]}`).want(200)
	entry := func(more string) string {
		return `{"day":"2026-11-12","text":"fee"` + more + `,"lines":[{"account":` + accountID(c, "102") + `,"credit":"5.00"},{"account":` + accountID(c, "621") + `,"debit":"5.00"}]}`
	}
	c.post("/journal-entries?bankLine=1&"+seen, entry(`,"currency":"EUR"`)).refused(422, "another currency")
	shown := c.post("/journal-entries?bankLine=1&preview=true", entry("")).want(200)
	if got := shown.entries(); len(got) != 1 || got[0] != "Dr 621 4.60, Cr 102 4.50, Cr 691 0.10" {
		t.Errorf("it enters %q", got)
	}
	c.post("/journal-entries?bankLine=1&token="+shown.at("effect", "token"), entry("")).want(200)
	again := c.get("/papers/2/copy").want(200)
	if !strings.Contains(string(again.body), `"currency":"USD"`) || strings.Contains(string(again.body), `"rate"`) {
		t.Errorf("copied: %s", again.body)
	}
	if l := c.get("/banks/4/lines?state=unexplained").want(200); l.rows("rows") != 0 {
		t.Errorf("the line waits: %s", l.body)
	}
	c.tiesOut()
}

// The final invoice of a job takes what is in the currency of its orders, and is in
// it where none is said, also of a customer who has another.
func TestFinishedAbroad(t *testing.T) {
	c := newClient(t)
	c.goAbroad()
	job := c.post("/jobs", `{"customer":1,"name":"Library stair"}`).want(200).at("id")
	o := c.post("/orders?"+seen, `{"customer":1,"job":`+job+`,"day":"2026-11-02","currency":"USD","lines":[{"text":"Stair","unitPrice":"1000","taxCode":3}]}`).want(200).at("posted", "paper")
	for _, bank := range []string{"1", "4"} {
		c.post("/deposits?"+seen, `{"customer":1,"job":`+job+`,"day":"2026-11-02","amount":"200","method":"transfer","bank":`+bank+`}`).want(200)
	}
	b := c.get("/blank?kind=invoice&finish=true&job=" + job).want(200)
	if b.at("currency") != "USD" || b.rows("orders") != 1 || b.sent("credits") != "[2]" {
		t.Errorf("it takes %s", b.body)
	}
	got := c.inAll("/invoices", `{"customer":1,"job":`+job+`,"day":"2026-11-12","form":"final","lines":[{"text":"Stair","quantity":"1","unitPrice":"1000","taxCode":3,"order":`+o+`,"orderLine":1}],"setAgainst":[{"credit":2}]}`)
	if got != "Dr 120 736.00, Dr 221 180.00, Cr 401 916.00" { // 1,000 at 0.92, of it 200 as they came, at 0.90
		t.Errorf("it enters %s", got)
	}
	c.tiesOut()
}

// Customers, bank accounts and price lists in currencies are read from files, and
// written to them; what is not in use is refused, and what is not said stays.
func TestImportedAbroad(t *testing.T) {
	c := newClient(t)
	c.goAbroad()
	for _, x := range []struct{ kind, csv, says string }{
		{"customers", "Name,Number,Currency\nCalder Point Library,7001,usd\nQuay Chapel,7002,EUR\n", ""},
		{"banks", "Name,Currency\nSecond dollar account,USD\n", ""},
		{"articles", "Code,Name,Kind,Price,Prices abroad\nCAP,Newel cap,material,9.50,usd 11; JPY 1500\n", ""},
		{"articles", "Code,Name,Kind,Price\nCAP,Newel cap,material,9.90\n", ""}, // its prices abroad stay
		{"customers", "Name,Number,Currency\nQuay Chapel,7002,CHF\n", "The currency CHF is not in use"},
		{"articles", "Code,Name,Kind,Prices abroad\nCAP,Newel cap,material,11 USD\n", "is no price in a currency"},
		{"articles", "Code,Name,Kind,Prices abroad\nCAP,Newel cap,material,USD 11; USD 12\n", "each once"},
	} {
		a := c.post("/import/"+x.kind, fmt.Sprintf(`{"csv":%q}`, x.csv))
		if (a.status == 200) != (x.says == "") || !strings.Contains(string(a.body), x.says) {
			t.Errorf("%s answers %d: %s", x.csv, a.status, a.body)
		}
	}
	for kind, want := range map[string]string{"customers": "7001,Calder Point Library,,,,,,,,,,yes,USD\n", "banks": ",USD\n", "articles": "CAP,Newel cap,material,,9.90,,,yes,JPY 1500; USD 11.00\n"} {
		if got := string(c.get("/records/" + kind + "/file").want(200).body); !strings.Contains(got, want) {
			t.Errorf("%s are written as %s", kind, got)
		}
	}
}
