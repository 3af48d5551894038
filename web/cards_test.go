package web_test

import (
	"bytes"
	"encoding/json"
	"fmt"
	"io"
	"net/http"
	"net/http/cookiejar"
	"net/http/httptest"
	"net/url"
	"regexp"
	"strings"
	"sync"
	"testing"
	"time"

	"cleantally/formats/card"
	"cleantally/standin"
	"cleantally/web"
)

// A cardShop is a firm whose customers pay by card at the stand-in.
type cardShop struct {
	*client
	gateway *standin.Gateway
	at      card.Gateway
	now     time.Time
}

func newCardShop(t *testing.T) *cardShop {
	t.Helper()
	s := &cardShop{now: time.Date(2026, 11, 20, 9, 0, 0, 0, time.UTC)}
	book := empty.open(t, t.TempDir(), func() time.Time { return s.now }, "2026-11-20")
	var err error
	if s.gateway, err = standin.NewGateway(t.TempDir()); err != nil {
		t.Fatal(err)
	}
	s.gateway.Slow, s.gateway.Late, s.gateway.Today = 10*time.Millisecond, 50*time.Millisecond, func() string { return "2026-11-20" }
	pages := httptest.NewServer(s.gateway)
	s.at = s.gateway.At(pages.URL)
	served := httptest.NewServer(web.New(book, web.Options{StandIns: web.StandIns{Cards: s.at}}))
	t.Cleanup(func() { s.gateway.Wait(); served.Close(); pages.Close(); book.Close() })
	jar, _ := cookiejar.New(nil)
	s.client = &client{t, served.URL, &http.Client{Jar: jar}, book}
	s.post("/setup", firm).want(200)
	s.post("/customers", `{"name":"Odalys Brandt"}`).want(200)
	s.do("PUT", "/card-gateway", `{"way":"stand-in","bank":3}`).want(200)
	return s
}

// invoiced bills 1,200.00 and returns the path of a link to it.
func (s *cardShop) invoiced() (paper, path string) {
	s.t.Helper()
	paper = s.post("/invoices", invoice(1, "2026-11-20", "1000")).want(200).at("posted", "paper")
	return paper, s.post("/papers/"+paper+"/links", `{}`).want(200).at("path")
}

// form sends a form as a customer does, who is led no further.
func (s *cardShop) form(address string, values url.Values) answer {
	s.t.Helper()
	client := &http.Client{CheckRedirect: func(*http.Request, []*http.Request) error { return http.ErrUseLastResponse }}
	res, err := client.PostForm(address, values)
	if err != nil {
		s.t.Fatal(err)
	}
	defer res.Body.Close()
	body, err := io.ReadAll(res.Body)
	if err != nil {
		s.t.Fatal(err)
	}
	return answer{t: s.t, status: res.StatusCode, header: res.Header, body: style.ReplaceAll(body, nil)}
}

var style = regexp.MustCompile(`(?s)<style.*?</style>|<head>.*?</head>`)

// begin begins a payment and returns the gateway's page for it.
func (s *cardShop) begin(path, amount string) string {
	s.t.Helper()
	values := url.Values{}
	if amount != "" {
		values.Set("amount", amount)
	}
	a := s.form(s.url+path+"/pay", values)
	page := a.header.Get("Location")
	if a.status != http.StatusSeeOther || !strings.HasPrefix(page, s.at.Address+"/pay/") {
		s.t.Fatalf("begun: %d %q %s", a.status, page, a.body)
	}
	return page
}

// with pays by a made-up card, and waits until all has been told.
func (s *cardShop) with(page, made string) {
	s.t.Helper()
	chosen := url.Values{"card": {made}}
	if made == "none" {
		chosen = url.Values{"card": {"paid"}, "no": {"1"}} // as a browser sends it
	}
	if a := s.form(page, chosen); a.status != http.StatusSeeOther || !strings.Contains(a.header.Get("Location"), "/p/") {
		s.t.Fatalf("paid by the card %q: %d %s", made, a.status, a.body)
	}
	s.gateway.Wait()
}

// receipts are how many of a kind there are.
func (s *cardShop) papersOf(kind string) int {
	s.t.Helper()
	return strings.Count(string(s.get("/papers?kind="+url.QueryEscape(kind)).want(200).body), `"number":`)
}

// tell tells the program something as the gateway does.
func (s *cardShop) tell(what any) int {
	s.t.Helper()
	body, err := json.Marshal(what)
	if err != nil {
		s.t.Fatal(err)
	}
	return s.told(body, s.at.Sign(body))
}

func (s *cardShop) told(body []byte, signature string) int {
	s.t.Helper()
	r, err := http.NewRequest("POST", s.url+"/card/told", bytes.NewReader(body))
	if err != nil {
		s.t.Fatal(err)
	}
	r.Header.Set(card.SignatureHeader, signature)
	res, err := http.DefaultClient.Do(r)
	if err != nil {
		s.t.Fatal(err)
	}
	res.Body.Close()
	return res.StatusCode
}

// An invoice is paid on the page of its link, by each made-up card: one receipt in
// card takings for what is paid, however it is told, and none for what is not.
func TestPaidByCard(t *testing.T) {
	for made, want := range map[string]struct{ left, says string }{
		"paid": {"0.00", "Thank you: 1,200.00 EUR was paid by card."}, "slow": {"0.00", "Thank you"}, "twice": {"0.00", "Thank you"}, "late": {"0.00", "Thank you"},
		"silent": {"0.00", "Thank you"}, "declined": {"1200.00", "The card was declined: there is not enough on it. Nothing was paid."}, "none": {"1200.00", ""},
	} {
		t.Run(made, func(t *testing.T) {
			s := newCardShop(t)
			paper, path := s.invoiced()
			if page := s.outside(path); !strings.Contains(string(page.body), "Pay 1,200.00 EUR by card") || !strings.Contains(page.header.Get("Content-Security-Policy"), "form-action 'self' "+s.at.Address) {
				t.Fatalf("%v %s", page.header, page.body)
			}
			s.with(s.begin(path, ""), made)
			page := string(style.ReplaceAll(s.outside(path).body, nil)) // looked at, what nobody told is found
			if !strings.Contains(page, want.says) || strings.Contains(page, "by card</button>") != (want.left != "0.00") {
				t.Errorf("the page says: %s", page)
			}
			if left := s.get("/papers/"+paper).at("parts", 0, "open"); left != want.left {
				t.Errorf("%s is left", left)
			}
			if n := s.papersOf("receipt"); n != map[bool]int{true: 1}[want.left == "0.00"] {
				t.Errorf("%d receipts", n)
			}
			if want.left == "0.00" {
				r := s.get("/papers/2").want(200)
				if r.at("method") != "card" || r.at("bank") != "Card takings on the way" || r.at("entries", 0, "lines", 0, "account") == "" || !strings.Contains(string(r.body), "Paid by card, by the link to I26-0001") {
					t.Errorf("%s", r.body)
				}
			}
			s.tiesOut()
		})
	}
}

// However often and by however many at once a payment is told, there is one
// receipt for it; and what is told without the key is not heard.
func TestOneReceiptForACard(t *testing.T) {
	s := newCardShop(t)
	_, path := s.invoiced()
	page := s.begin(path, "")
	id := page[strings.LastIndex(page, "/")+1:]
	s.with(page, "silent")
	paid := card.Told{Payment: &card.Payment{ID: id, State: card.Paid, Amount: "1200.00", Currency: "EUR"}}
	forged, _ := json.Marshal(paid)
	for name, status := range map[string]int{
		"no signature": s.told(forged, ""), "another key": s.told(forged, card.Gateway{Key: "x"}.Sign(forged)), "another message": s.told(append(forged, ' '), s.at.Sign(forged)),
	} {
		if status != http.StatusUnauthorized {
			t.Errorf("%s: %d", name, status)
		}
	}
	var all sync.WaitGroup
	for range 24 {
		all.Go(func() {
			if status := s.tell(paid); status != http.StatusNoContent {
				t.Errorf("told: %d", status)
			}
		})
	}
	all.Wait()
	if n := s.papersOf("receipt"); n != 1 {
		t.Errorf("%d receipts", n)
	}
	for name, x := range map[string]card.Payment{"no amount": {ID: id, State: card.Paid}, "another currency": {ID: id, State: card.Paid, Amount: "1200.00", Currency: "USD"}, "no state": {ID: id, State: "x"}} {
		_, path := s.invoiced()
		other := s.begin(path, "")
		x.ID = other[strings.LastIndex(other, "/")+1:]
		if status := s.tell(card.Told{Payment: &x}); status != http.StatusUnprocessableEntity {
			t.Errorf("%s: %d", name, status)
		}
	}
	// What was paid stays paid, whatever is said later; another's is not known.
	s.tell(card.Told{Payment: &card.Payment{ID: id, State: card.Declined, Reason: "x"}})
	if status := s.tell(card.Told{Payment: &card.Payment{ID: "CPX", State: card.Paid, Amount: "1.00", Currency: "EUR"}}); status != http.StatusNotFound {
		t.Errorf("of another: %d", status)
	}
	if body := []byte(`{"payment":`); s.told(body, s.at.Sign(body)) != http.StatusBadRequest {
		t.Error("half a message was taken")
	}
	if page := string(style.ReplaceAll(s.outside(path).body, nil)); !strings.Contains(page, "Thank you") || !strings.Contains(page, "Nothing left to pay") {
		t.Errorf("%s", page)
	}
	s.tiesOut()
}

// Two who pay the same invoice at once: one page is open at a time, and what
// comes all the same is not lost.
func TestTwoCardsAtOnce(t *testing.T) {
	s := newCardShop(t)
	paper, path := s.invoiced()
	var mu sync.Mutex
	var pages []string
	var all sync.WaitGroup
	for range 8 {
		all.Go(func() {
			a := s.form(s.url+path+"/pay", nil)
			mu.Lock()
			defer mu.Unlock()
			switch {
			case a.status == http.StatusSeeOther:
				pages = append(pages, a.header.Get("Location"))
			case a.status != http.StatusUnprocessableEntity || !strings.Contains(string(a.body), "another window"):
				t.Errorf("%d %s", a.status, a.body)
			}
		})
	}
	all.Wait()
	if len(pages) == 0 {
		t.Fatal("nobody could begin")
	}
	for _, page := range pages {
		s.with(page, "paid")
	}
	if n := s.papersOf("receipt"); n != 1 {
		t.Errorf("%d receipts of %d pages", n, len(pages))
	}
	// What is ended at the gateway was paid already: it is recorded in its place.
	other := s.post("/papers/"+paper+"/links", `{}`).at("path")
	if a := s.form(s.url+other+"/pay", nil); a.status != http.StatusUnprocessableEntity || !strings.Contains(string(a.body), "Nothing of I26-0001 is left to be paid.") {
		t.Errorf("once more: %d %s", a.status, a.body)
	}
	_, path = s.invoiced()
	s.with(s.begin(path, ""), "silent")
	if a := s.form(s.url+path+"/pay", nil); a.status != http.StatusUnprocessableEntity || !strings.Contains(string(a.body), "Thank you") {
		t.Errorf("after one that was never told: %d %s", a.status, a.body)
	}
	s.tiesOut()
}

// Money that comes after the invoice was reversed, or was paid another way, stays
// on account.
func TestCardAfterAll(t *testing.T) {
	for name, meanwhile := range map[string]func(*cardShop){
		"reversed": func(s *cardShop) { s.must("/reversals", `{"paper":1,"day":"2026-11-20","reason":"x"}`) },
		"paid in part": func(s *cardShop) {
			s.must("/receipts", receipt(1, "2026-11-20", "700.00", `,"placements":[{"item":1,"amount":"700.00"}]`))
		},
		"paid in whole": func(s *cardShop) {
			s.must("/receipts", receipt(1, "2026-11-20", "1200.00", `,"placements":[{"item":1,"amount":"1200.00"}]`))
		},
	} {
		s := newCardShop(t)
		_, path := s.invoiced()
		page := s.begin(path, "")
		meanwhile(s)
		s.with(page, "paid")
		if left := s.get("/papers/1").at("parts", 0, "open"); left != "0.00" {
			t.Errorf("%s: %s is left of it", name, left)
		}
		want := map[string]string{"reversed": "1200.00", "paid in part": "700.00", "paid in whole": "1200.00"}[name]
		paid := "/papers/3"
		if open := s.get(paid).want(200).at("parts", 0, "open"); open != want {
			t.Errorf("%s: %s is on account, not %s", name, open, want)
		}
		if a := s.form(s.url+path+"/pay", nil); a.status != http.StatusUnprocessableEntity {
			t.Errorf("%s: begun again: %d", name, a.status)
		}
		s.tiesOut()
	}
}

func TestCardRefused(t *testing.T) {
	s := newCardShop(t)
	_, path := s.invoiced()
	refused := func(amount, says string) {
		t.Helper()
		a := s.form(s.url+path+"/pay", url.Values{"amount": {amount}})
		if a.status != http.StatusUnprocessableEntity || !strings.Contains(string(a.body), says) {
			t.Errorf("%q: %d %s", amount, a.status, a.body)
		}
	}
	refused("1200.01", "Only 1,200.00 is left to be paid, not 1,200.01.")
	refused("600", "It is paid whole here: 1,200.00.")
	refused("0", "Say how much is paid, up to 1,200.00.")
	refused("-5", "Say how much is paid")
	refused("ten", "class=\"wrong\"")
	if a := s.form(s.url+path+"/pay", url.Values{"amount": {strings.Repeat("9", 5000)}}); a.status != http.StatusBadRequest {
		t.Errorf("more than a form: %d %s", a.status, a.header)
	}
	s.do("PUT", "/card-gateway", `{"version":1,"way":"stand-in","bank":3,"parts":true}`).want(200)
	refused("", "Say how much is paid")
	refused("<script>alert(1)</script>", "&lt;script&gt;")
	if page := string(style.ReplaceAll(s.outside(path).body, nil)); !strings.Contains(page, `name="amount"`) || strings.Contains(page, "ZgotmplZ") {
		t.Errorf("%s", page)
	}
	s.with(s.begin(path, "700,50"), "paid")
	if left := s.get("/papers/1").at("parts", 0, "open"); left != "499.50" {
		t.Errorf("%s is left", left)
	}
	refused("499.51", "Only 499.50 is left")
	// Who takes cards is said by whoever may, and where their takings wait.
	s.do("PUT", "/card-gateway", `{"version":1,"way":""}`).want(412)
	s.do("PUT", "/card-gateway", `{"version":2,"way":"stand-in","bank":1}`).refused(422, "missing")
	s.do("PUT", "/card-gateway", `{"version":2,"way":""}`).want(200)
	if page := string(style.ReplaceAll(s.outside(path).body, nil)); strings.Contains(page, "by card</button>") {
		t.Error("cards are not taken, and offered")
	}
	refused("", "Nothing of I26-0001 is left to be paid.")
	if a := s.form(s.url+"/p/unknown/pay", nil); a.status != 404 {
		t.Errorf("a link that is none: %d", a.status)
	}
	s.do("DELETE", "/links/1", "").want(204)
	if a := s.form(s.url+path+"/pay", nil); a.status != 404 {
		t.Errorf("a link that was ended: %d", a.status)
	}
}

// A gateway that does not answer, or not what can be read: nothing is begun, the
// page can be read, and it is tried again later.
func TestGatewayThatFails(t *testing.T) {
	for name, answers := range map[string]http.HandlerFunc{
		"no JSON": func(w http.ResponseWriter, _ *http.Request) { fmt.Fprint(w, "<html>200, all is well") },
		"half": func(w http.ResponseWriter, _ *http.Request) {
			fmt.Fprint(w, `{"id":"CP1","state":"open","page":"javascript:alert(1)"}`)
		},
		"an error": func(w http.ResponseWriter, _ *http.Request) { http.Error(w, "no", http.StatusServiceUnavailable) },
		"endless":  func(w http.ResponseWriter, _ *http.Request) { _, _ = w.Write(bytes.Repeat([]byte("x"), 1<<20)) },
		"another page": func(w http.ResponseWriter, _ *http.Request) {
			fmt.Fprint(w, `{"id":"CP1","state":"paid","page":"http://x.example/"}`)
		},
	} {
		broken := httptest.NewServer(answers)
		s := newCardShop(t)
		_, path := s.invoiced()
		served := httptest.NewServer(web.New(s.book, web.Options{StandIns: web.StandIns{Cards: card.Gateway{Address: broken.URL, Key: "k"}}}))
		for range 2 {
			if a := s.form(served.URL+path+"/pay", nil); a.status != http.StatusUnprocessableEntity || !strings.Contains(string(a.body), "Cards cannot be taken at the moment. Nothing was paid") {
				t.Errorf("%s: %d %s", name, a.status, a.body)
			}
		}
		broken.Close()
		served.Close()
		s.with(s.begin(path, ""), "paid") // by the one that works
		if n := s.papersOf("receipt"); n != 1 {
			t.Errorf("%s: %d receipts", name, n)
		}
	}
}

// What is asked for is paid into a deposit that pays the request.
func TestRequestPaidByCard(t *testing.T) {
	s := newCardShop(t)
	s.must("/deposit-requests", `{"customer":1,"day":"2026-11-20","due":"2026-11-30","amount":"500.00"}`)
	path := s.post("/papers/1/links", `{}`).want(200).at("path")
	s.with(s.begin(path, ""), "paid")
	if p := s.get("/papers/1").want(200); p.at("left") != "0.00" {
		t.Errorf("%s", p.body)
	}
	if d := s.get("/papers/2").want(200); d.at("kind") != "deposit" || d.at("parts", 0, "open") != "500.00" {
		t.Errorf("%s", d.body)
	}
	s.tiesOut()
}

// What cannot be taken into the books stands on the Desk until it can be.
func TestCardThatCannotBeRecorded(t *testing.T) {
	s := newCardShop(t)
	_, path := s.invoiced()
	page := s.begin(path, "")
	s.put("/banks/3", `{"name":"Card takings on the way","takings":true,"inactive":true}`).want(200)
	s.with(page, "paid")
	if n := s.papersOf("receipt"); n != 0 {
		t.Fatalf("%d receipts", n)
	}
	desk := s.get("/desk").want(200)
	if !strings.Contains(string(desk.body), `"group":"card payment"`) || !strings.Contains(string(desk.body), "not in use any more") {
		t.Errorf("%s", desk.body)
	}
	s.post("/card-payments/1/record", "").refused(422, "not recorded")
	s.put("/banks/3", `{"name":"Card takings on the way","takings":true}`).want(200)
	s.post("/card-payments/1/record", "").want(204)
	s.post("/card-payments/1/record", "").want(404)
	if n := s.papersOf("receipt"); n != 1 || strings.Contains(string(s.get("/desk").body), "card payment") {
		t.Errorf("%d receipts, and the Desk says %s", n, s.get("/desk").body)
	}
	s.tiesOut()
}

// The gateway pays out what was paid, less its fee: told, it stands on the Desk,
// is filled in, taken in one step, and gone.
func TestCardPayout(t *testing.T) {
	s := newCardShop(t)
	for range 2 {
		_, path := s.invoiced()
		s.with(s.begin(path, ""), "paid")
	}
	if w := s.get("/card-takings?chosen=2").want(200); w.at("sum") != "2400.00" || w.at("count") != "2" || w.at("chosen") != "1200.00" || w.at("rows", 0, "customer") != "Odalys Brandt" {
		t.Errorf("waits: %s", w.body)
	}
	s.gateway.PayOut()
	s.gateway.PayOut() // of nothing
	s.gateway.Wait()
	desk := s.get("/desk").want(200)
	if !strings.Contains(string(desk.body), `"group":"card payout","count":1,"sum":"2365.90"`) {
		t.Fatalf("%s", desk.body)
	}
	told := s.get("/blank?kind=card+payout&told=1").want(200)
	if told.at("payout", "arrived") != "2365.90" || told.at("payout", "fee") != "34.10" || told.at("payout", "takings", 1) != "4" || told.at("payout", "bank") != "1" {
		t.Fatalf("%s", told.body)
	}
	body := fmt.Sprintf(`{"day":"2026-11-20","takings":[2,4],"arrived":"2365.90","fee":"34.10","bank":1,"reference":%q}`, told.at("payout", "reference"))
	s.try("/card-payouts", body, "Dr 101 2365.90, Dr 621 34.10, Cr 108 2400.00")
	if w := s.get("/card-takings").want(200); w.at("count") != "0" || w.at("sum") != "0.00" {
		t.Errorf("waits: %s", w.body)
	}
	if desk := s.get("/desk"); strings.Contains(string(desk.body), "card payout") {
		t.Errorf("%s", desk.body)
	}
	p := s.get("/papers/5").want(200)
	if p.at("cleared", 0, "number") != "R26-0001" || s.get("/papers/2").at("standing", 0, "number") != "CP26-0001" {
		t.Errorf("%s", p.body)
	}
	if text := pdfText(t, s.get("/papers/5/pdf").want(200).body, "-layout"); !strings.Contains(text, "Fee taken off") || !strings.Contains(text, "R26-0002") {
		t.Errorf("its PDF: %s", text)
	}
	// Put right, what it cleared is there again to be chosen.
	if w := s.get("/card-takings?again=5&chosen=2&chosen=4").want(200); w.at("count") != "2" || w.at("chosen") != "2400.00" {
		t.Errorf("while it is put right: %s", w.body)
	}
	if again := s.get("/papers/5/copy?again=true").want(200); again.at("body", "takings", 1) != "4" || again.at("body", "fee") != "34.10" {
		t.Errorf("put right: %s", again.body)
	}
	if copied := s.get("/papers/5/copy").want(200); strings.Contains(string(copied.body), "takings") {
		t.Errorf("copied: %s", copied.body)
	}
	// Reversed, it stands on the Desk again; what is not wanted there is put away.
	s.must("/reversals", `{"paper":5,"day":"2026-11-20","reason":"x"}`)
	if desk := s.get("/desk"); !strings.Contains(string(desk.body), `"group":"card payout"`) {
		t.Errorf("%s", desk.body)
	}
	s.post("/card-payouts/1/away", "").want(204)
	s.post("/card-payouts/9/away", "").want(404)
	if desk := s.get("/desk"); strings.Contains(string(desk.body), "card payout") {
		t.Errorf("%s", desk.body)
	}
	for name, wrong := range map[string]card.Payout{
		"no amount": {ID: "PO1", Day: "2026-11-20", Arrived: "x", Fee: "1.00", Currency: "EUR"}, "no day": {ID: "PO1", Day: "2026-02-30", Arrived: "1.00", Fee: "1.00", Currency: "EUR"},
		"another currency": {ID: "PO1", Day: "2026-11-20", Arrived: "1.00", Fee: "1.00", Currency: "USD"}, "a fee below nil": {ID: "PO1", Day: "2026-11-20", Arrived: "1.00", Fee: "-1.00", Currency: "EUR"},
	} {
		if status := s.tell(card.Told{Payout: &wrong}); status != http.StatusUnprocessableEntity {
			t.Errorf("%s: %d", name, status)
		}
	}
	s.tiesOut()
}
