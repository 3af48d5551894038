package web_test

import (
	"cleantally/books"
	"fmt"
	"io"
	"net/http"
	"net/url"
	"regexp"
	"strings"
	"testing"

	"cleantally/core/master"

	"github.com/shopspring/decimal"
)

var versions = regexp.MustCompile(`"version":\d+,`)

// No day that is none gets in, wherever one is told.
func TestDaysAreDays(t *testing.T) {
	c := newClient(t)
	c.post("/invoices", invoice(1, "2026-11-01", "100")).want(200)
	for _, bad := range []string{"2026-11-1x", "2026-12-1x", "2026-11-1'", "2026-02-30", "0000-00-00", "20261101", "2026-11-01 ", "'; DROP TABLE papers; --", "９９９９-01-01"} {
		for path, body := range map[string]string{
			"/invoices":        `{"customer":1,"day":"2026-11-20","due":%q,"lines":[{"text":"x","unitPrice":"5","taxCode":1}]}`,
			"/deposits":        `{"customer":1,"day":%q,"amount":"5.00","bank":1,"method":"cash"}`,
			"/journal-entries": `{"day":"2026-11-20","text":"x","lines":[{"account":4,"debit":"5.00","party":1,"due":%q},{"account":28,"credit":"5.00"}]}`,
			"/supplier-bills":  `{"supplier":1,"day":%q,"lines":[{"text":"x","account":39,"net":"5.00","taxCode":1}]}`,
			"/disputes":        `{"item":1,"day":%q,"reason":"x"}`,
			"/taxcodes":        `{"code":"TX","kind":"charged","rates":[{"since":%q,"percent":"5"}]}`,
		} {
			a := c.post(path, fmt.Sprintf(body, bad))
			if a.status != http.StatusUnprocessableEntity || !strings.Contains(string(a.body), "no such day") {
				t.Errorf("%s with %q: %d %s", path, bad, a.status, a.body)
			}
		}
		c.do("PUT", "/lock", fmt.Sprintf(`{"through":%q,"reason":"x"}`, bad)).want(http.StatusUnprocessableEntity)
		for _, path := range []string{"/desk?asOf=", "/customers?asOf=", "/customers/1?asOf=", "/customers/1/bench?asOf=", "/customers/1/story?asOf=", "/ageing?asOf=", "/papers?from=", "/papers?asOf=", "/papers/1?asOf=",
			"/jobs?asOf=", "/registers/receivables?asOf=", "/deposit-register?asOf=", "/tie-out?asOf=", "/trial-balance?asOf=", "/accounts/4/lines?from=", "/journal?from=", "/why?of=register&register=receivables&asOf=",
			"/expected?asOf=", "/held?asOf=", "/customers/1/statement?from="} {
			if a := c.get(path + url.QueryEscape(bad)); a.status != http.StatusBadRequest {
				t.Errorf("%s%s: %d %s", path, bad, a.status, a.body)
			}
		}
	}
	if found := c.get("/audit").at("rows", 0, "summary"); !strings.Contains(found, "Posted invoice") {
		t.Errorf("something was recorded: %s", found)
	}
}

// What is not there, cannot be, or is too much is refused with a sentence, and
// nothing answers 500.
func TestNothingFails(t *testing.T) {
	c := newClient(t)
	c.put("/customers/1", `{"name":"Odalys Brandt","supplier":true}`).want(200)
	c.post("/invoices", invoice(1, "2026-11-01", "1000")).want(200)
	c.post("/deposits", deposit(1, "2026-11-02", "50.00")).want(200)
	far := "-9223372036854775808"
	lines := func(l string) string { return `{"customer":1,"day":"2026-11-20","lines":[` + l + `]}` }
	for _, x := range []struct{ path, body, field string }{
		{"/invoices", `{"customer":1,"day":"2026-11-20","terms":99,"lines":[{"text":"x","unitPrice":"5","taxCode":1}]}`, "terms"},
		{"/invoices", lines(`{"text":"x","quantity":"1000000000000000000000000","unitPrice":"1","discount":"0.99","taxCode":1}`), "lines[0].unitPrice"},
		{"/invoices", lines(`{"text":"x","quantity":"999999999","unitPrice":"999999","taxCode":1}`), "lines[0].unitPrice"},
		{"/invoices", lines(`{"text":"x","unitPrice":"9000000000","taxCode":1},{"text":"y","unitPrice":"9000000000","taxCode":1}`), "discount"},
		{"/invoices", lines(`{"text":"x","quantity":"-2","unitPrice":"-5","taxCode":1}`), "lines[0].unitPrice"},
		{"/invoices", lines(`{"text":"x","unitPrice":"5","taxCode":1,"article":77}`), "lines[0].article"},
		{"/invoices", `{"customer":1,"day":"2026-11-20","roundTo":"-0.05","lines":[{"text":"x","unitPrice":"5","taxCode":1}]}`, "roundTo"},
		{"/journal-entries", `{"day":"2026-11-20","text":"x","lines":[{"account":41,"debit":"5.00","party":77},{"account":28,"credit":"5.00"}]}`, "lines[0].party"},
		{"/journal-entries", `{"day":"2026-11-20","text":"x","lines":[{"account":41,"debit":"100000000000.00"},{"account":28,"credit":"100000000000.00"}]}`, "lines[0].debit"},
		{"/receipts", receipt(1, "2026-11-20", "10000000000.00", `,"charges":"10000000000.00","onAccount":true`), "arrived"},
		{"/allocations", `{"day":"2026-11-20","pairs":[{"debit":` + far + `,"credit":` + far + `}]}`, "pairs[0].amount"},
		{"/allocations", `{"day":"2026-11-20","pairs":[{"debit":-1,"credit":2}]}`, "pairs[0].amount"},
		{"/refunds", `{"day":"2026-11-20","bank":1,"method":"cash","sources":[{"item":` + far + `}]}`, "sources[0].amount"},
		{"/forfeits", `{"day":"2026-11-20","deposit":` + far + `}`, "amount"},
		{"/transfers", `{"day":"2026-11-20","from":` + far + `,"customer":1}`, "amount"},
		{"/write-offs", `{"day":"2026-11-20","reason":"x","items":[{"item":` + far + `}]}`, "items[0].amount"},
		{"/disputes", `{"day":"2026-11-20","reason":"x","item":` + far + `}`, "item"},
		{"/contras", `{"day":"2026-11-20","party":1,"owed":[{"item":` + far + `}],"owing":[{"item":` + far + `}]}`, "owed[0].amount"},
		{"/receipts", receipt(1, "2026-11-20", "5.00", `,"placements":[{"item":`+far+`}]`), "placements[0].amount"},
		{"/distributions", `{"day":"2026-11-20","from":` + far + `,"deposits":[{"customer":1,"amount":"5.00"}]}`, "bank"},
	} {
		for _, query := range []string{"?preview=true", "?" + seen} {
			a := c.post(x.path+query, x.body)
			if a.status >= 500 {
				t.Errorf("%s %s: %d %s", x.path, x.body, a.status, a.body)
			}
			if !strings.Contains(string(a.body), `"field":"`+x.field+`"`) {
				t.Errorf("%s %s: want %s refused, got %s", x.path, x.body, x.field, a.body)
			}
		}
	}
	for path, status := range map[string]int{"/customers/99": 404, "/jobs/99": 422, "/accounts/99": 404, "/terms/99": 404, "/banks/99": 404, "/taxcodes/99": 404, "/articles/99": 404} {
		body := map[string]string{"/customers/99": `{"name":"x"}`, "/jobs/99": `{"name":"x","customer":77}`, "/accounts/99": `{"number":"999","name":"x","type":"income"}`, "/terms/99": `{"name":"x","kind":"on receipt"}`,
			"/banks/99": `{"name":"x"}`, "/taxcodes/99": `{"code":"x","kind":"charged","rates":[{"since":"2026-01-01","percent":"1"}]}`, "/articles/99": `{"code":"x","name":"x","kind":"service"}`}[path]
		c.do("PUT", path, body, "If-Match", `"1"`).want(status)
	}
	// A body that is cut off.
	req, err := http.NewRequest("POST", c.url+"/api/v1/deposits", io.MultiReader(strings.NewReader(`{"customer":1,`), cutOff{}))
	if err != nil {
		t.Fatal(err)
	}
	req.ContentLength = 5000
	if res, err := c.http.Do(req); err == nil && res.StatusCode >= 500 {
		t.Errorf("a body cut off answers %d", res.StatusCode)
	}
}

type cutOff struct{}

func (cutOff) Read([]byte) (int, error) { return 0, io.ErrUnexpectedEOF }

// All places that a figure has are taken (docs/rules.md, part 2).
func TestTheLastPlace(t *testing.T) {
	c := newClient(t)
	c.post("/taxcodes", `{"code":"ODD","kind":"charged","rates":[{"since":"2020-01-01","percent":"7.7777"}]}`).want(200)
	c.post("/terms", `{"name":"Thirds","kind":"instalments","instalments":[{"percent":"33.3333","days":0},{"percent":"66.6667","days":30}]}`).want(200)
	c.post("/articles", `{"code":"FINE","name":"Fine","kind":"material","price":"1.123456"}`).want(200)
	a := c.post("/invoices?preview=true", `{"customer":1,"day":"2026-11-20","terms":7,"discountPercent":"33.3333","lines":[
		{"text":"x","quantity":"1.123456","unitPrice":"100.123456","discountPercent":"33.3333","taxCode":4}]}`).want(200)
	if a.at("effect", "refusals") != "[]" || a.at("effect", "paper", "net") != "49.99" || a.at("effect", "paper", "tax") != "3.89" || a.at("effect", "paper", "parts", 0, "amount") != "17.96" {
		t.Errorf("all places: %s", a.body)
	}
	for field, line := range map[string]string{"lines[0].quantity": `"quantity":"1.1234567","unitPrice":"1"`, "lines[0].unitPrice": `"unitPrice":"1.1234567"`, "lines[0].discount": `"unitPrice":"1","discountPercent":"33.33333"`} {
		a := c.post("/invoices?preview=true", `{"customer":1,"day":"2026-11-20","lines":[{"text":"x","taxCode":1,`+line+`}]}`)
		if !strings.Contains(string(a.body), `"field":"`+field+`"`) {
			t.Errorf("%s: %s", line, a.body)
		}
	}
}

// One cheque with a number of 20 digits does not end the series.
func TestChequeNumbersGoOn(t *testing.T) {
	c := newClient(t)
	c.post("/deposits", deposit(1, "2026-11-02", "50.00")).want(200)
	refund := func(cheque string) answer {
		return c.post("/refunds?confirmed=another+way", fmt.Sprintf(`{"day":"2026-11-20","bank":1,"method":"cheque","cheque":%q,"sources":[{"item":1,"amount":"5.00"}]}`, cheque)).want(200)
	}
	refund("")
	refund("99999999999999999999")
	refund("")
	numbers := ""
	for n := range 3 {
		numbers += c.get(fmt.Sprintf("/papers/%d", n+2)).at("cheque") + " "
	}
	if numbers != "000101 99999999999999999999 000102 " {
		t.Errorf("cheques %s", numbers)
	}
}

// A record is saved from the version that one has read, or not at all.
func TestRecordsHaveVersions(t *testing.T) {
	c := newClient(t)
	body := `{"name":"Odalys Brandt","town":"Haverling"}`
	c.do("PUT", "/customers/1", body).want(http.StatusPreconditionRequired)
	c.do("PUT", "/customers/1", body, "If-Match", `"1"`).want(200)
	c.do("PUT", "/customers/1", `{"name":"Lost"}`, "If-Match", `"1"`).want(http.StatusPreconditionFailed)
	if got := c.get("/customers/1").at("town"); got != "Haverling" {
		t.Errorf("the first to save lost %q", got)
	}
	for path, body := range map[string]string{"/jobs/1": `{"name":"x","customer":1}`, "/accounts/36": `{"number":"491","name":"Discounts","type":"contra income"}`, "/terms/3": `{"name":"Now","kind":"on receipt"}`,
		"/banks/2": `{"name":"Till"}`, "/taxcodes/3": `{"code":"NIL","kind":"charged","rates":[{"since":"2020-01-01","percent":"0"}]}`, "/firm": `{"name":"S & W","terms":1,"taxCode":1}`,
		"/limits": `{"difference":"2.00","writeOff":"0.00","relief":true,"allowance":["0","1","5","20","50"]}`} {
		c.put(path, body).want(200)
		c.do("PUT", path, body, "If-Match", `"1"`).want(http.StatusPreconditionFailed)
	}
}

// Warnings are confirmed by name, each of them.
func TestWarningsAreNamed(t *testing.T) {
	c := newClient(t)
	old := `{"customer":1,"day":"2026-08-01","amount":"5.00","bank":1,"method":"cash","reference":"R 1"}`
	c.post("/deposits?confirmed=true", old).want(http.StatusConflict)
	c.post("/deposits?confirmed=in%20the%20future", old).want(http.StatusConflict)
	c.post("/deposits?confirmed=long%20past", old).want(200)
	again := c.post("/deposits?confirmed=long%20past", old).want(http.StatusConflict)
	if again.at("warnings", 1, "rule") != "paid twice?" {
		t.Errorf("the second: %s", again.body)
	}
	c.post("/deposits?confirmed=long%20past&confirmed=paid%20twice%3F", old).want(200)
}

// The limits are an owner's; wrong words of a second person are counted.
func TestTheSecondWordIsKept(t *testing.T) {
	c := newClient(t)
	limits := `{"difference":"1.00","writeOff":"50.00","relief":true,"allowance":["0","0","0","0","0"]}`
	c.put("/limits", limits).want(200)
	c.post("/invoices", invoice(1, "2026-11-01", "1000")).want(200)
	off := `{"day":"2026-11-20","reason":"gone","items":[{"item":1,"amount":"60.00"}]}`
	for range 5 {
		c.post("/write-offs", off, "Second-Word", "wrong").want(http.StatusConflict)
	}
	c.post("/write-offs", off, "Second-Word", "winding%20stairs").want(http.StatusTooManyRequests)
	if c.get("/papers?kind=write-off").at("count") != "0" {
		t.Error("it was posted after too many tries")
	}
	if err := c.book.SaveLimits(books.As(t.Context(), 77), 77, 2, master.Limits{Allowance: make([]decimal.Decimal, 5)}); err == nil || !strings.Contains(err.Error(), "owner") {
		t.Errorf("somebody who is no owner changed the limits: %v", err)
	}
}

// Looking back, nothing of today shows: what is overdue, how old it is, parts
// and allocations.
func TestThePastAsItWas(t *testing.T) {
	c := newClient(t)
	c.post("/invoices?"+seen, `{"customer":1,"day":"2026-09-01","due":"2026-10-01","lines":[{"text":"x","unitPrice":"1000","taxCode":1}]}`).want(200)
	c.post("/receipts", receipt(1, "2026-11-10", "1200.00", `,"placements":[{"item":1}]`)).want(200)
	c.post("/allocations/undo", `{"day":"2026-11-15","allocations":[1]}`).want(200)
	for _, x := range []struct {
		path string
		at   []any
		want string
	}{
		{"/papers?asOf=2026-10-01", []any{"rows", 0, "overdue"}, "false"},
		{"/papers?asOf=2026-10-02", []any{"rows", 0, "overdue"}, "true"},
		{"/papers?asOf=2026-11-10", []any{"rows", 1, "overdue"}, "false"},
		{"/registers/receivables?asOf=2026-10-05", []any{"rows", 0, "age"}, "4"},
		{"/papers/1?asOf=2026-10-05", []any{"parts", 0, "open"}, "1200.00"},
		{"/papers/1?asOf=2026-10-05", []any{"allocations"}, "[]"},
		{"/papers/1?asOf=2026-11-12", []any{"parts", 0, "open"}, "0.00"},
		{"/papers/1?asOf=2026-11-12", []any{"allocations", 0, "undoneOn"}, ""},
		{"/papers/1", []any{"allocations", 0, "undoneOn"}, "2026-11-15"},
		{"/customers/1/bench?asOf=2026-10-05", []any{"recent"}, "[]"},
	} {
		if got := c.get(x.path).want(200).at(x.at...); got != x.want {
			t.Errorf("%s %v: %s, want %s", x.path, x.at, got, x.want)
		}
	}
}

// What is due on a day is not overdue on it, in every list, total and mark.
func TestDueTodayIsNotOverdue(t *testing.T) {
	c := newClient(t)
	c.post("/invoices", `{"customer":1,"day":"2026-11-01","due":"2026-11-20","lines":[{"text":"x","unitPrice":"1000","taxCode":1}]}`).want(200)
	for _, x := range []struct {
		path string
		at   []any
		want string
	}{
		{"/expected", []any{"overdue"}, "0.00"}, {"/expected", []any{"weeks", 0, "in"}, "1200.00"}, {"/customers/1", []any{"position", "owesNow"}, "0.00"}, {"/customers", []any{"sums", "overdue"}, "0.00"},
		{"/papers", []any{"rows", 0, "overdue"}, "false"}, {"/papers?state=overdue", []any{"count"}, "0"}, {"/customers/1/story", []any{"rows", 0, "overdue"}, "false"},
		{"/expected?asOf=2026-11-21", []any{"overdue"}, "1200.00"}, {"/customers/1?asOf=2026-11-21", []any{"position", "owesNow"}, "1200.00"},
	} {
		if got := c.get(x.path).want(200).at(x.at...); got != x.want {
			t.Errorf("%s %v: %s, want %s", x.path, x.at, got, x.want)
		}
	}
}

// Nobody who owes leaves the list of customers, or is made no customer.
func TestWhoOwesStays(t *testing.T) {
	c := newClient(t)
	c.post("/invoices", invoice(1, "2026-11-01", "1000")).want(200)
	c.put("/customers/1", `{"name":"Odalys Brandt","noCustomer":true}`).want(http.StatusUnprocessableEntity)
	c.put("/customers/2", `{"name":"Dunmarrow Builders","noCustomer":true}`).want(200)
	c.put("/customers/1", `{"name":"Odalys Brandt","inactive":true}`).want(200)
	if got := c.get("/customers"); got.at("count") != "1" || got.at("sums", "owes") != "1200.00" {
		t.Errorf("the list: %s", got.body)
	}
	c.put("/customers/1", `{"name":"Odalys Brandt","supplier":true}`).want(200)
	c.post("/supplier-bills", `{"supplier":1,"day":"2026-11-20","lines":[{"text":"oak","account":41,"net":"5.00","taxCode":1}]}`).want(200)
	c.put("/customers/1", `{"name":"Odalys Brandt"}`).want(http.StatusUnprocessableEntity)
}

// A file that does not say whether a record is in use leaves that as it is, and
// what is exported comes back as it was.
func TestImportKeepsWhatItDoesNotSay(t *testing.T) {
	c := newClient(t)
	c.put("/customers/1", `{"name":"Odalys Brandt","inactive":true,"town":"Haverling"}`).want(200)
	c.put("/jobs/1", `{"name":"Stair","customer":1,"closed":true,"contractSum":"8000.00"}`).want(200)
	c.post("/import/customers", `{"csv":"Name,Number\nOdalys B.,1001\n"}`).want(200)
	c.post("/import/jobs", `{"csv":"Name,Number,Customer\nStair B,101,1001\n"}`).want(200)
	if a := c.get("/customers/1"); a.at("inactive") != "true" || a.at("name") != "Odalys B." || a.at("town") != "Haverling" {
		t.Errorf("the customer: %s", a.body)
	}
	if a := c.get("/jobs/1"); a.at("closed") != "true" || a.at("contractSum") != "8000.00" {
		t.Errorf("the job: %s", a.body)
	}
	c.post("/import/customers", `{"csv":"Name,Number,In use\nOdalys B.,1001,yes\n"}`).want(200)
	if a := c.get("/customers/1"); a.at("inactive") != "<nil>" {
		t.Errorf("taken into use: %s", a.body)
	}
	c.put("/terms/1", `{"name":"30 days","kind":"days","days":30,"discountPercent":"2.5","discountDays":10}`).want(200)
	before := string(c.get("/terms").body)
	file := string(c.get("/records/terms/file").want(200).body)
	c.put("/terms/1", `{"name":"30 days","kind":"days","days":14}`).want(200)
	c.post("/import/terms", fmt.Sprintf(`{"csv":%q}`, file)).want(200)
	after := string(c.get("/terms").body)
	if strip := func(s string) string { return versions.ReplaceAllString(s, "") }; strip(before) != strip(after) {
		t.Errorf("terms were\n%s\nand are\n%s", before, after)
	}
}

// A preview of an import keeps nothing, and nobody who posts waits for it.
func TestImportPreviewHoldsNobody(t *testing.T) {
	c := newClient(t)
	var csv strings.Builder
	csv.WriteString(`Name,Number\n`)
	for n := range 3000 {
		fmt.Fprintf(&csv, `New %d,%d\n`, n, 5000+n)
	}
	done := make(chan answer)
	go func() { done <- c.post("/import/customers?preview=true", `{"csv":"`+csv.String()+`"}`) }()
	posted := 0
	for {
		select {
		case a := <-done:
			if a.want(200).at("creates") != "3000" || c.get("/customers").at("count") != "2" {
				t.Errorf("preview: %.200s", a.body)
			}
			if posted == 0 {
				t.Error("nothing was posted while the file was looked at")
			}
			return
		default:
			c.post("/deposits", deposit(1, "2026-11-20", "5.00")).want(200)
			posted++
		}
	}
}

// A list of thousands is exported whole, with sums that are right.
func TestLongListsAreExported(t *testing.T) {
	c := newClient(t)
	for range 21 {
		var rows strings.Builder
		for n := range 60 {
			fmt.Fprintf(&rows, `{"customer":%d,"amount":"1.00"},`, 1+n%2)
		}
		c.post("/distributions", `{"day":"2026-11-20","bank":1,"method":"transfer","amount":"60.00","deposits":[`+strings.TrimSuffix(rows.String(), ",")+`]}`).want(200)
	}
	file := string(c.get("/papers/file").want(200).body)
	if rows := strings.Count(file, "\n") - 1; rows != 1260 {
		t.Errorf("%d rows of 1260", rows)
	}
	if a := c.get("/papers?kind=deposit&limit=1"); a.at("count") != "1260" || a.at("sums", "total") != "1260.00" {
		t.Errorf("the sums: %s", a.body)
	}
}

// Part 9, the strip: net, the parts of an invoice share its work by portions;
// what is kept back is not settled, and a fee passed on is none of it.
func TestWhereAJobStands(t *testing.T) {
	c := newClient(t)
	c.put("/jobs/1", `{"name":"Stair","customer":1,"contractSum":"20000.00"}`).want(200)
	c.post("/invoices", `{"customer":1,"job":1,"day":"2026-11-01","lines":[{"text":"x","unitPrice":"12000","taxCode":1}]}`).want(200)
	c.post("/receipts", receipt(1, "2026-11-02", "1.00", `,"placements":[{"item":1,"amount":"1.00"}]`)).want(200)
	strip := func() map[string]string {
		a, parts := c.get("/jobs/1").want(200), map[string]string{}
		for n := range 6 {
			parts[a.at("strip", n, "name")] = a.at("strip", n, "amount")
		}
		return parts
	}
	c.post("/receipts", receipt(1, "2026-11-03", "13679.00", `,"placements":[{"item":1,"rest":"kept back"}]`)).want(200)
	if s := strip(); s["settled"] != "11400.00" || s["kept back"] != "600.00" || s["open"] != "0.00" || s["left to bill"] != "8000.00" {
		t.Errorf("paid but for what is kept back: %v", s)
	}
	c.post("/returned-payments", `{"paper":3,"day":"2026-11-10","fee":"12.00","passOn":true}`).want(200)
	if s := strip(); s["open"] != "11999.17" || s["kept back"] != "0.00" || s["settled"] != "0.83" {
		t.Errorf("after the payment was returned: %v", s)
	}
	c.post("/supplier-bills", `{"supplier":1,"day":"2026-11-20","lines":[{"text":"oak","account":41,"net":"5000.00","taxCode":1}]}`)
	if got := c.get("/jobs/1").at("billed"); got != "12000.00" {
		t.Errorf("billed %s", got)
	}
}

// A made-up kind of paper is told once per floor: the API's description knows
// it, lists find it, its numbers go on.
func TestAMadeUpKindIsKnown(t *testing.T) {
	c := newClient(t)
	description := c.description()
	if !strings.Contains(description, `"made-up order"`) {
		t.Error("the description does not list it")
	}
	if got := c.get("/papers?kind=made-up%20order").want(200).at("count"); got != "0" {
		t.Errorf("%s of them", got)
	}
	c.get("/papers?kind=no%20such%20kind").want(http.StatusUnprocessableEntity)
	if got := c.get("/firm").at("numbering", "made-up order"); got != "Z0-{yy}-{0000}" {
		t.Errorf("numbered as %q", got)
	}
}

// The API calls what the firm sells an article, and what is open an item.
func TestWordsOfTheAPI(t *testing.T) {
	c := newClient(t)
	description := c.description()
	for _, word := range []string{`"/api/v1/items`, `"kept":`, `"part":`} {
		if strings.Contains(description, word) {
			t.Errorf("the API still says %s", word)
		}
	}
}
