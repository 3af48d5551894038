package web_test

import (
	"fmt"
	"maps"
	"slices"
	"strings"
	"testing"
	"time"

	"cleantally/books"
	"cleantally/core/day"
	"cleantally/core/money"
	"cleantally/demo"
	"cleantally/web"

	"github.com/shopspring/decimal"
)

// sparrow is a client of the demo firm with its eighteen months of history.
func sparrow(t *testing.T) *client { return sparrowOn(t, demo.Today) }

// sparrowOn is one of the demo firm as it was at the end of a day.
func sparrowOn(t *testing.T, last day.Day) *client {
	t.Helper()
	if told[last] == nil {
		told[last] = &mould{fill: func(t *testing.T, book *books.Book) {
			if err := demo.TellThrough(t.Context(), book, last, func(int, int) {}); err != nil {
				t.Fatal(err)
			}
		}}
	}
	c := serving(t, told[last].open(t, t.TempDir(), time.Now, last), web.Options{})
	c.post("/session", fmt.Sprintf(`{"email":%q,"password":%q}`, demo.Email, demo.Password)).want(200)
	return c
}

// told is the demo firm at the end of each day that was asked for.
var told = map[day.Day]*mould{}

var eur = money.Currency{Code: "EUR", Places: 2}

// sum reads an amount of an answer.
func (a answer) sum(path ...any) money.Amount {
	a.t.Helper()
	text := a.at(path...)
	if text == "" || text == "<nil>" {
		return 0
	}
	v, err := eur.Parse(text)
	if err != nil {
		a.t.Fatalf("%v is %q: %v", path, text, err)
	}
	return v
}

// rows is how many rows an answer has.
func (a answer) rows(path ...any) int {
	a.t.Helper()
	all, _ := a.found(path...).([]any)
	return len(all)
}

// monthEnds are the days on which the books are looked back on.
var monthEnds = []string{"2025-05-31", "2025-08-31", "2025-12-31", "2026-03-31", "2026-06-30", "2026-09-30", "2026-10-31", "2026-11-19", "2026-11-20"}

// The demo firm is looked at from all sides; nobody writes to it.
func TestDemo(t *testing.T) {
	c := sparrow(t)
	for name, look := range map[string]func(*client){"the firm": theFirm, "the books add up": addUp, "statements": statements, "lists": lists} {
		t.Run(name, func(t *testing.T) {
			here := *c
			here.t = t
			look(&here)
		})
	}
}

// The demo firm is what it says it is, and each of its cases stands on the Desk.
func theFirm(c *client) {
	t := c.t
	for path, want := range map[string][2]int{"/customers?limit=1": {55, 65}, "/jobs?state=all&limit=1": {85, 95}, "/papers?limit=1": {650, 760}} {
		a := c.get(path).want(200)
		var count int
		if fmt.Sscan(a.at("count"), &count); count < want[0] || count > want[1] {
			t.Errorf("%s: %d, want %d to %d", path, count, want[0], want[1])
		}
	}
	desk := string(c.get("/desk").want(200).body)
	for what, name := range map[string]string{
		"a final invoice due, two deposits":    "Odalys Brandt",
		"retention due this week":              "Dunmarrow Builders",
		"crane hire not passed on":             "Crane hire",
		"a permit fee not passed on":           "Permit fee",
		"spare balusters that came back":       "Corvane Interiors",
		"paid twice":                           "Pemberlow Hotel",
		"a deposit between refund and forfeit": "Aubrey Lindqvist-Moss",
		"an insolvency":                        "Harrow & Finn",
		"a line of unknown origin":             "STAIRS THANK YOU",
		"a supplier who is a customer":         "Thornapple & Reed",
		"a price credit that waits":            "Farrowby Veterinary",
		"a purchase order that is late":        "Osier Bank Sawmill",
	} {
		if !strings.Contains(strings.ReplaceAll(desk, `\u0026`, "&"), name) {
			t.Errorf("%s is not on the Desk: %s", what, name)
		}
	}
	if found, err := c.book.Read(t.Context()).Check(); err != nil || len(found) > 0 {
		t.Errorf("check: %v, %v", found, err)
	}
	for _, d := range monthEnds {
		if a := c.get("/tie-out?asOf=" + d).want(200); a.at("ok") != "true" {
			t.Errorf("on %s: %s", d, a.body)
		}
	}
}

// The whole journal is read back and added up again: trial balance, ageing,
// registers and customers' positions come to the same on every day.
func addUp(c *client) {
	t := c.t
	type line struct {
		day, account string
		amount       money.Amount
	}
	var lines []line
	for after := "0"; after != "" && after != "<nil>"; {
		a := c.get("/journal?limit=200&after=" + after).want(200)
		for n := range a.rows("rows") {
			var sum money.Amount
			for m := range a.rows("rows", n, "lines") {
				amount := a.sum("rows", n, "lines", m, "debit") - a.sum("rows", n, "lines", m, "credit")
				lines = append(lines, line{a.at("rows", n, "day"), a.at("rows", n, "lines", m, "account"), amount})
				sum += amount
			}
			if sum != 0 {
				t.Errorf("entry %s is out by %d", a.at("rows", n, "id"), sum)
			}
		}
		after = a.at("next")
	}
	if len(lines) < 1500 {
		t.Fatalf("only %d lines of the journal were read", len(lines))
	}
	for _, d := range monthEnds {
		accounts := map[string]money.Amount{}
		for _, l := range lines {
			if l.day <= d {
				number, _, _ := strings.Cut(l.account, " ")
				accounts[number] += l.amount
			}
		}
		trial := c.get("/trial-balance?asOf=" + d).want(200)
		for n := range trial.rows("rows") {
			number := trial.at("rows", n, "number")
			if told := trial.sum("rows", n, "debit") - trial.sum("rows", n, "credit"); told != accounts[number] {
				t.Errorf("%s on %s: told %d, the journal comes to %d", number, d, told, accounts[number])
			}
		}
		for _, basis := range []string{"due", "paper"} {
			if a := c.get("/ageing?basis=" + basis + "&asOf=" + d).want(200); a.sum("total", "total") != accounts["120"] || a.sum("total", "keptBack") != accounts["124"] {
				t.Errorf("ageing by %s on %s: %s and %s kept back, ledger %d and %d", basis, d, a.at("total", "total"), a.at("total", "keptBack"), accounts["120"], accounts["124"])
			}
		}
		if a := c.get("/ageing?payable=true&asOf=" + d).want(200); a.sum("total", "total") != -accounts["201"] {
			t.Errorf("what we owe on %s: %s, ledger %d", d, a.at("total", "total"), accounts["201"])
		}
		for register, account := range map[string]string{"receivables": "120", "retention": "124", "unidentified": "224", "payables": "201", "retention%20payable": "205"} {
			a := c.get("/registers/" + register + "?limit=1&asOf=" + d).want(200)
			if got := a.sum("sums", "open"); got.Abs() != accounts[account].Abs() {
				t.Errorf("register of %s on %s: %d, ledger %d", register, d, got, accounts[account])
			}
		}
		if a := c.get("/stock?limit=1&asOf=" + d).want(200); a.sum("sums", "value") != accounts["141"] {
			t.Errorf("stock on %s: %s, ledger %d", d, a.at("sums", "value"), accounts["141"])
		}
	}
}

// Of every customer: opening and lines come to closing, closing is what stands
// in receivables, and one span after another begins where the last ended.
func statements(c *client) {
	t := c.t
	all := c.get("/customers?limit=500").want(200)
	for n := range all.rows("rows") {
		id := all.at("rows", n, "id")
		closed := money.Amount(0)
		for at, d := range monthEnds {
			from := "2025-01-01"
			if at > 0 {
				from = dayAfter(monthEnds[at-1])
			}
			a := c.get(fmt.Sprintf("/customers/%s/statement?from=%s&through=%s", id, from, d)).want(200)
			sum := a.sum("opening")
			if sum != closed {
				t.Errorf("customer %s from %s: opens with %d, closed before with %d", id, from, sum, closed)
			}
			for m := range a.rows("rows") {
				sum += a.sum("rows", m, "amount")
				if told := a.sum("rows", m, "balance"); told != sum {
					t.Errorf("customer %s, %s: balance %d, want %d", id, a.at("rows", m, "number"), told, sum)
				}
			}
			if closed = a.sum("closing"); closed != sum {
				t.Errorf("customer %s through %s: closes with %d, its lines come to %d", id, d, closed, sum)
			}
		}
		p := c.get("/customers/" + id).want(200)
		stands := func(what string) money.Amount { // in the currency of the statement
			if p.rows("byCurrency") > 0 {
				return p.sum("byCurrency", 0, what)
			}
			return p.sum("position", what)
		}
		if owed := stands("owesNow") + stands("notYetDue") - stands("unplaced"); owed != closed {
			t.Errorf("customer %s: position %d, statement %d", id, owed, closed)
		}
		if net := closed + stands("keepsBack") - stands("held"); net != stands("net") {
			t.Errorf("customer %s: net %d, want %d", id, stands("net"), net)
		}
	}
}

func dayAfter(d string) string {
	t, _ := time.Parse(time.DateOnly, d)
	return t.AddDate(0, 0, 1).Format(time.DateOnly)
}

// Every list, page by page, is the list as a whole, in the order that was asked
// for; its sums are those of its rows, and its file has a row for each.
func lists(c *client) {
	for path, columns := range map[string][]string{
		"/customers":                  {"name", "number", "town"},
		"/jobs":                       {"number", "name", "party"},
		"/papers":                     {"day", "number", "kind", "party", "total", "open", "due"},
		"/papers?kind=invoice":        {"day", "number", "party", "total", "open"},
		"/credit-notes":               {"day", "number", "party", "of", "cause", "net", "tax", "total", "open"},
		"/returned-goods":             {"day", "number", "party", "of", "text", "quantity", "back", "cost", "credited"},
		"/suppliers":                  {"name"},
		"/costs":                      {"day", "number", "left"},
		"/margins?state=all":          {"number", "name", "income", "costs", "margin", "percent", "waiting"},
		"/stock":                      {"code"},
		"/deposit-register?all=true":  {"day", "number"},
		"/registers/receivables":      {"day", "number", "party", "amount", "open"},
		"/papers?asOf=2026-03-31":     {"day", "total", "open", "due", "job"},
		"/papers?state=open":          {"day", "total", "open", "due"},
		"/papers?state=settled":       {"day", "total", "open", "due"},
		"/papers?state=overdue":       {"day", "open"},
		"/credit-notes?state=used":    {"day", "open"},
		"/credit-notes?state=waiting": {"day", "open"},
		"/credit-notes?q=i26":         {"day", "of"},
		"/credit-notes?q=damaged":     {"day", "total"},
		"/papers?state=open&asOf=2026-03-31&to=2026-03-01":       {"day", "total", "open"},
		"/papers?state=settled&asOf=2026-03-31":                  {"day", "total", "open", "due"},
		"/papers?state=overdue&asOf=2026-03-31":                  {"day", "open"},
		"/papers?kind=credit+note&state=settled&asOf=2026-03-31": {"day", "open", "due"},
		"/credit-notes?state=used&asOf=2026-03-31":               {"day", "open"},
		"/costs?asOf=2026-03-31":                                 {"day", "number", "left"},
		"/margins?state=all&asOf=2026-03-31":                     {"number", "income", "waiting"},
		"/jobs?state=all&asOf=2026-03-31":                        {"number", "open", "held"},
		"/credit-notes?asOf=2026-03-31":                          {"day", "total", "open"},
		"/customers?asOf=2026-03-31":                             {"name"},
	} {
		for _, sort := range append([]string{""}, columns...) {
			for _, turn := range []string{"", "-"} {
				if sort == "" && turn == "-" {
					continue
				}
				c.pages(path, turn+sort)
			}
		}
	}
}

// pages proves one order of one list.
func (c *client) pages(path, sort string) {
	c.t.Helper()
	with := func(rest string) string {
		mark := "?"
		if strings.Contains(path, "?") {
			mark = "&"
		}
		if sort != "" {
			rest += "&sort=" + sort
		}
		return path + mark + rest
	}
	whole := c.get(with("limit=500"))
	if whole.status == 422 && strings.Contains(string(whole.body), "no column") {
		c.t.Errorf("%s cannot be sorted by %s", path, sort)
		return
	}
	whole.want(200)
	ids := func(a answer) (all []string) {
		for n := range a.rows("rows") {
			all = append(all, a.at("rows", n, "id"))
		}
		return all
	}
	want := ids(whole)
	c.ordered(whole, with(""), sort)
	var got []string
	size := max(len(want)/3, 1)
	for after := "0"; after != "<nil>" && len(got) <= len(want); {
		a := c.get(with(fmt.Sprintf("limit=%d&after=%s", size, after))).want(200)
		got = append(got, ids(a)...)
		after = a.at("next")
		if a.at("count") != whole.at("count") {
			c.t.Errorf("%s: a page counts %s, the whole %s", with(""), a.at("count"), whole.at("count"))
		}
	}
	if len(want) < 500 && !slices.Equal(got, want) {
		c.t.Errorf("%s: the pages have %d rows, the whole %d, or in another order", with(""), len(got), len(want))
	}
	if unique := slices.Compact(slices.Sorted(slices.Values(got))); len(unique) != len(got) {
		c.t.Errorf("%s: %d rows twice", with(""), len(got)-len(unique))
	}
	c.sumsOf(whole, path)
	if sort == "" {
		main, query, _ := strings.Cut(path, "?")
		a := c.get(main + "/file?" + query).want(200)
		if rows := strings.Count(string(a.body), "\n"); fmt.Sprint(rows-1) != whole.at("count") && !strings.Contains(string(a.body), "\"") {
			c.t.Errorf("%s: its file has %d lines, the list %s", path, rows, whole.at("count"))
		}
	}
}

// ordered proves that the rows of a list stand in the order of what they show of
// the column that they are sorted by.
func (c *client) ordered(whole answer, path, sort string) {
	c.t.Helper()
	column := strings.TrimPrefix(sort, "-")
	shown := map[string]string{"party": "customer", "credited": "net"}[column]
	if shown == "" {
		shown = column
	}
	for n := 1; n < whole.rows("rows"); n++ {
		row, _ := whole.found("rows", n).(map[string]any)
		if row[shown] == nil || row["told"] != nil && (shown == "amount" || shown == "open") {
			return // it is shown otherwise than it is sorted
		}
		a, b := whole.at("rows", n-1, shown), whole.at("rows", n, shown)
		way := strings.Compare(strings.ToLower(a), strings.ToLower(b))
		if x, err := decimal.NewFromString(a); err == nil {
			if y, err := decimal.NewFromString(b); err == nil {
				way = x.Cmp(y)
			}
		}
		if strings.HasPrefix(sort, "-") {
			way = -way
		}
		if way > 0 {
			c.t.Errorf("%s: %q stands before %q", path, a, b)
			return
		}
	}
}

// sumsOf proves that the sums of a list that is whole are those of its rows.
func (c *client) sumsOf(whole answer, path string) {
	c.t.Helper()
	sums, _ := whole.found("sums").(map[string]any)
	if fmt.Sprint(whole.rows("rows")) != whole.at("count") {
		return
	}
	for name := range sums {
		var sum money.Amount
		known := false
		for n := range whole.rows("rows") {
			row, _ := whole.found("rows", n).(map[string]any)
			key := name
			if signed := map[string]string{"amount": "told", "open": "toldOpen"}[name]; row[signed] != nil {
				key = signed
			}
			if row[key] != nil {
				known = true
				sum += whole.sum("rows", n, key)
			}
		}
		if known && sum != whole.sum("sums", name) {
			c.t.Errorf("%s: %s adds up to %d, told %s", path, name, sum, whole.at("sums", name))
		}
	}
}

// What is told now of a past day is what was told on that day, when nothing of
// what came later had happened.
func TestLookingBackIsWhatWasSeen(t *testing.T) {
	now := sparrow(t)
	for _, d := range []day.Day{"2025-12-31", "2026-09-17", "2026-11-12"} {
		then := sparrowOn(t, d)
		for _, path := range []string{"/customers?limit=500", "/jobs?state=all&limit=500", "/suppliers?limit=500", "/papers?limit=500", "/papers?state=open&limit=500", "/papers?state=overdue&limit=500", "/papers?state=settled&limit=500", "/registers/receivables?limit=500",
			"/registers/retention?limit=500", "/registers/deposits?limit=500", "/registers/unidentified?limit=500", "/registers/payables?limit=500", "/registers/supplier%20prepayments?limit=500", "/registers/retention%20payable?limit=500",
			"/deposit-register?all=true&limit=500", "/advance-register?all=true&limit=500", "/credit-notes?limit=500", "/credit-notes?state=waiting&limit=500", "/returned-goods?limit=500", "/costs?limit=500", "/margins?state=all&limit=500", "/stock?limit=500", "/stock/1",
			"/ageing?basis=due", "/ageing?basis=paper", "/ageing?byJob=true", "/ageing?payable=true", "/trial-balance?", "/tie-out?", "/expected?", "/held?", "/order-register?limit=500", "/order-book?customer=2&all=true", "/desk?", "/customers/1?", "/customers/2?", "/customers/8?", "/jobs/9?", "/jobs/17?", "/jobs/26?"} {
			mark := "&"
			if !strings.Contains(path, "?") {
				mark = "?"
			}
			path = strings.TrimSuffix(path, "?")
			if !strings.Contains(path, "?") {
				mark = "?"
			}
			path += mark + "asOf=" + string(d)
			a, b := now.get(path).want(200), then.get(path).want(200)
			if at := firstDifference("", a.found(), b.found()); at != "" {
				t.Errorf("%s: %s", path, at)
			}
		}
	}
}

// firstDifference is where two answers differ, and how; versions of records and
// what is only for drawing apart.
func firstDifference(at string, a, b any) string {
	switch a := a.(type) {
	case map[string]any:
		other, ok := b.(map[string]any)
		if !ok {
			break
		}
		for _, key := range slices.Sorted(maps.Keys(a)) {
			if key == "version" || key == "closed" {
				continue
			}
			if d := firstDifference(at+"."+key, a[key], other[key]); d != "" {
				return d
			}
		}
		return ""
	case []any:
		other, ok := b.([]any)
		if !ok {
			break
		}
		for n := range min(len(a), len(other)) {
			if d := firstDifference(fmt.Sprintf("%s[%d]", at, n), a[n], other[n]); d != "" {
				return d
			}
		}
		if len(a) != len(other) {
			return fmt.Sprintf("%s has %d, then %d", at, len(a), len(other))
		}
		return ""
	}
	if a != b {
		return fmt.Sprintf("%s is %v, then %v", at, a, b)
	}
	return ""
}

// paths are where the drafts of a kind are posted.
var paths = map[string]string{
	"invoice": "/invoices", "credit note": "/credit-notes", "deposit": "/deposits", "receipt": "/receipts", "refund": "/refunds", "transfer": "/transfers", "write-off": "/write-offs", "recovery": "/recoveries", "card payout": "/card-payouts", "own transfer": "/own-transfers", "contra": "/contras", "quote": "/quotes", "order": "/orders",
	"delivery": "/deliveries", "return": "/returns", "claim": "/claims", "deposit invoice": "/deposit-invoices", "request for a deposit": "/deposit-requests", "release": "/releases", "guarantee": "/guarantees", "supplier bill": "/supplier-bills", "expense": "/expenses",
	"purchase order": "/purchase-orders", "goods received": "/goods-received", "supplier payment": "/supplier-payments", "supplier prepayment": "/supplier-prepayments", "stock use": "/stock/uses", "stock count": "/stock/counts", "journal": "/journal-entries", "unidentified receipt": "/unidentified", "forfeit": "/forfeits", "distribution": "/distributions",
}

// Whatever was posted is put right without a change, where nothing stands on it
// and nothing was set against it since: what is taken back and what is written
// again come to nothing on every account.
func TestPutRightWithoutAChange(t *testing.T) {
	c := sparrow(t)
	shown, refused := map[string]int{}, map[string]int{}
	var all []string
	for after := "0"; after != "<nil>"; {
		page := c.get("/papers?limit=500&after=" + after).want(200)
		for n := range page.rows("rows") {
			all = append(all, page.at("rows", n, "id"))
		}
		after = page.at("next")
	}
	for _, id := range all {
		a, of := c.get("/papers/"+id+"/copy?again=true"), c.get("/papers/"+id).want(200)
		if a.status != 200 || of.at("reversedBy") != "" || of.at("day") != a.at("day") {
			continue
		}
		kind := a.at("kind")
		path, known := paths[kind]
		if !known {
			t.Errorf("where a %s is posted is not told here", kind)
			continue
		}
		p := c.post(fmt.Sprintf("%s?preview=true&again=%s&againDay=%s&againReason=x", path, id, a.at("day")), a.sent("body"))
		switch {
		case kind == "stock use": // its cost is that of all that was posted by now
			continue
		case p.status == 422:
			refused[kind]++
			continue
		case p.status != 200:
			t.Errorf("%s %s: %d %s", kind, id, p.status, p.body)
			continue
		}
		if p.rows("effect", "refusals") > 0 {
			refused[kind]++
			continue
		}
		shown[kind]++
		sums := map[string]money.Amount{}
		for n := range p.rows("effect", "entries") {
			for m := range p.rows("effect", "entries", n, "lines") {
				sums[p.at("effect", "entries", n, "lines", m, "account")] += p.sum("effect", "entries", n, "lines", m, "debit") - p.sum("effect", "entries", n, "lines", m, "credit")
			}
		}
		// What was set against it since is free again, between deposits and receivables.
		later := of.rows("allocations") > 0 && (kind == "invoice" || kind == "deposit")
		for account, sum := range sums {
			free := strings.HasPrefix(account, "120") || strings.HasPrefix(account, "221")
			if sum != 0 && !(later && free) {
				t.Errorf("%s %s: %s moves by %d", kind, id, account, sum)
			}
		}
	}
	for _, kind := range []string{"invoice", "credit note", "deposit", "receipt", "refund", "order", "delivery", "supplier bill", "supplier payment", "expense", "quote"} {
		if shown[kind] == 0 {
			t.Errorf("no %s was put right, %d were refused", kind, refused[kind])
		}
	}
}
