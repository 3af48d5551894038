package web_test

import (
	"context"
	"errors"
	"fmt"
	"io"
	"net"
	"net/http"
	"net/http/cookiejar"
	"net/http/httptest"
	"os"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"cleantally/formats/mail"
	"cleantally/standin"
	"cleantally/web"
)

// A post office is a firm that mails into the stand-in's mailbox; its clock is
// moved by the tests.
type postOffice struct {
	*client
	server  *web.Server
	mailbox string // where it is read
	dir     string
	now     time.Time
}

func newPostOffice(t *testing.T) *postOffice {
	t.Helper()
	p := &postOffice{dir: t.TempDir(), now: time.Date(2026, 11, 20, 9, 0, 0, 0, time.UTC)}
	book := empty.open(t, p.dir, func() time.Time { return p.now }, "2026-11-20")
	box, err := standin.NewMailbox(filepath.Join(p.dir, "mailbox"))
	if err != nil {
		t.Fatal(err)
	}
	l, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		t.Fatal(err)
	}
	ctx, cancel := context.WithCancel(context.Background())
	taken := make(chan error, 1)
	go func() { taken <- box.Take(ctx, l) }()
	pages := httptest.NewServer(box)
	p.mailbox = pages.URL
	at := l.Addr().(*net.TCPAddr)
	p.server = web.New(book, web.Options{StandIns: web.StandIns{Mail: mail.Server{Host: "127.0.0.1", Port: at.Port, TLS: mail.Never}, Mailbox: pages.URL}})
	served := httptest.NewServer(p.server)
	t.Cleanup(func() {
		served.Close()
		pages.Close()
		cancel()
		if err := <-taken; err != nil {
			t.Error(err)
		}
		book.Close()
	})
	jar, _ := cookiejar.New(nil)
	p.client = &client{t, served.URL, &http.Client{Jar: jar}, book}
	p.post("/setup", firm).want(200)
	p.post("/customers", `{"name":"Odalys Brandt","contact":"Odalys","email":"odalys@brandt.example","copiesTo":"architect@lime.example"}`).want(200)
	p.do("PUT", "/mail-account", `{"way":"stand-in","fromAddress":"office@sw.example","copyTo":"file@sw.example","pagesAt":"https://books.sw.example"}`).want(200)
	p.post("/invoices", `{"customer":1,"day":"2026-11-20","lines":[{"text":"Stair","unitPrice":"1000","taxCode":1}]}`).want(200)
	return p
}

// deliver has the outbox looked at, and tells how many went.
func (p *postOffice) deliver() int {
	p.t.Helper()
	n, err := p.server.Deliver(p.t.Context())
	if err != nil {
		p.t.Fatal(err)
	}
	return n
}

// read is a page of the mailbox.
func (p *postOffice) read(path string) string {
	p.t.Helper()
	res, err := http.Get(p.mailbox + path)
	if err != nil {
		p.t.Fatal(err)
	}
	defer res.Body.Close()
	text, err := io.ReadAll(res.Body)
	if err != nil {
		p.t.Fatal(err)
	}
	return string(text)
}

// An invoice is mailed: proposed with the words of its kind, sent with its PDF and
// a link, kept as it went, told in its story; the link tells when it was seen.
func TestAnInvoiceIsMailed(t *testing.T) {
	p := newPostOffice(t)
	b := p.post("/mails/proposal", `{"papers":[1],"pdf":true,"link":true}`).want(200)
	if b.at("to") != "odalys@brandt.example" || b.at("copies") != "architect@lime.example" || b.at("subject") != "Invoice I26-0001" || b.at("files", 0, "name") != "Invoice I26-0001.pdf" {
		t.Errorf("proposed: %s", b.body)
	}
	for _, want := range []string{"Dear Odalys,", "our invoice I26-0001 of 20 Nov 2026", "Left to pay: 1,200.00 EUR, due 20 Dec 2026", "https://books.sw.example/p/…", "Sparrow &amp; Winder"} {
		if !strings.Contains(strings.ReplaceAll(b.at("text"), "&", "&amp;"), want) {
			t.Errorf("it does not say %q: %s", want, b.at("text"))
		}
	}
	m := p.post("/mails", `{"papers":[1],"pdf":true,"link":true,"to":"odalys@brandt.example","copies":"architect@lime.example","subject":"Your stair","words":"Dear Odalys,\n\nhere it is.\n\n{link}\n\nWren"}`).want(200)
	if m.at("state") != "waiting" {
		t.Errorf("it is %s", m.at("state"))
	}
	if n := p.deliver(); n != 1 {
		t.Fatalf("%d went", n)
	}
	m = p.get("/mails/1").want(200)
	if m.at("state") != "sent" || m.at("sent") != "2026-11-20T09:00:00Z" || m.at("numbers") != "I26-0001" || m.at("files", 0, "type") != "application/pdf" || m.at("firstSeen") != "" {
		t.Errorf("sent: %s", m.body)
	}
	got := p.read("/1")
	for _, want := range []string{"Your stair", "odalys@brandt.example", "architect@lime.example, file@sw.example", "Invoice I26-0001.pdf", "here it is."} {
		if !strings.Contains(got, want) {
			t.Errorf("the customer does not read %q: %s", want, got)
		}
	}
	if file := p.read("/1/1"); file != string(p.get("/mails/1/files/1").want(200).body) || !strings.HasPrefix(file, "%PDF") {
		t.Error("what is kept is not what the customer got")
	}
	_, link, _ := strings.Cut(got, "https://books.sw.example")
	link, _, _ = strings.Cut(link, "\n")
	if page := p.outside(strings.TrimSpace(link)); page.status != 200 || !strings.Contains(string(page.body), "I26-0001") {
		t.Errorf("the link %q: %d", link, page.status)
	}
	if m = p.get("/mails?paper=1").want(200); m.at("rows", 0, "firstSeen") != "2026-11-20T09:00:00Z" {
		t.Errorf("seen: %s", m.body)
	}
	if paper := p.get("/papers/1").want(200); paper.at("sent") != "true" || paper.at("events", 0, "text") != "by mail to odalys@brandt.example, architect@lime.example" {
		t.Errorf("its story: %s", paper.at("events"))
	}
	// What went is not sent again, nor stopped; its secret stands nowhere.
	p.post("/mails/1/send", "").refused(422, "sent")
	p.post("/mails/1/stop", "").refused(422, "sent")
	if n := p.deliver(); n != 0 {
		t.Errorf("%d went again", n)
	}
	secret := link[strings.LastIndex(link, "/")+1:]
	all, err := os.ReadFile(filepath.Join(p.dir, "firm.db"))
	if err != nil || strings.Contains(string(all), secret) {
		t.Errorf("the secret stands in the books (%v)", err)
	}
}

// What does not go is tried again after growing pauses; what is refused for good
// is given up at once, told on the Desk, and sent on by hand once it is mended.
func TestMailIsTriedAgain(t *testing.T) {
	p := newPostOffice(t)
	write := func(to string) string {
		return p.post("/mails", fmt.Sprintf(`{"papers":[1],"pdf":true,"to":%q,"subject":"Yours","words":"Here."}`, to)).want(200).at("id")
	}
	later, never := write("a@later.example"), write("b@refuses.example")
	p.deliver()
	m := p.get("/mails/" + later).want(200)
	if m.at("state") != "waiting" || m.at("tries") != "1" || m.at("due") != "2026-11-20T09:01:00Z" || !strings.Contains(m.at("reason"), "try again later") {
		t.Errorf("later: %s", m.body)
	}
	if p.deliver() != 0 {
		t.Error("it was tried before its time")
	}
	p.now = p.now.Add(time.Minute)
	p.deliver()
	if m = p.get("/mails/" + later).want(200); m.at("due") != "2026-11-20T09:06:00Z" {
		t.Errorf("the second pause: %s", m.body)
	}
	p.now = p.now.Add(5 * time.Minute)
	if p.deliver() != 1 {
		t.Errorf("the third time: %s", p.get("/mails/"+later).body)
	}
	m = p.get("/mails/" + never).want(200)
	if m.at("state") != "failed" || !strings.Contains(m.at("reason"), "there is nobody of that name here") {
		t.Errorf("never: %s", m.body)
	}
	desk := p.get("/desk").want(200)
	if !strings.Contains(string(desk.body), `"mails":[{"id":`+never) {
		t.Errorf("the Desk does not tell it: %s", desk.body)
	}
	p.post("/mails/"+never+"/stop", "").want(200)
	if desk = p.get("/desk").want(200); !strings.Contains(string(desk.body), `"mails":[]`) {
		t.Error("what was stopped is still on the Desk")
	}
	// At a time, and by hand.
	p.post("/mails", `{"papers":[1],"to":"c@brandt.example","subject":"Later","words":"Here.","at":"2026-11-20T09:30:00Z"}`).want(200)
	byHand := p.post("/mails", `{"papers":[1],"to":"d@brandt.example","subject":"By hand","words":"Here.","byHand":true}`).want(200).at("id")
	if n := p.deliver(); n != 0 {
		t.Errorf("%d went before their time", n)
	}
	p.now = time.Date(2026, 11, 20, 9, 30, 0, 0, time.UTC)
	if n := p.deliver(); n != 1 {
		t.Errorf("%d went at their time", n)
	}
	p.post("/mails/"+byHand+"/send", "").want(200)
	if n := p.deliver(); n != 1 {
		t.Errorf("%d went by hand", n)
	}
	// What comes in the way before it is handed over is a try like another.
	kept := filepath.Join(p.dir, "attachments")
	if err := os.Rename(kept, kept+".away"); err != nil {
		t.Fatal(err)
	}
	if err := os.WriteFile(kept, nil, 0o600); err != nil {
		t.Fatal(err)
	}
	full := p.post("/mails", `{"papers":[1],"pdf":true,"to":"f@brandt.example","subject":"Full","words":"Here."}`).want(200).at("id")
	p.deliver()
	if m = p.get("/mails/" + full).want(200); m.at("state") != "waiting" || m.at("tries") != "1" || m.at("due") != "2026-11-20T09:31:00Z" {
		t.Errorf("nowhere to keep it: %s", m.body)
	}
	if err := errors.Join(os.Remove(kept), os.Rename(kept+".away", kept)); err != nil {
		t.Fatal(err)
	}
	p.now = p.now.Add(time.Minute)
	if n := p.deliver(); n != 1 {
		t.Errorf("%d went once there was room", n)
	}
	// A paper that was taken back since does not go.
	other := p.post("/invoices", `{"customer":1,"day":"2026-11-20","lines":[{"text":"Rail","unitPrice":"100","taxCode":1}]}`).want(200).at("posted", "paper")
	gone := p.post("/mails", `{"papers":[`+other+`],"pdf":true,"to":"e@brandt.example","subject":"Yours","words":"Here."}`).want(200).at("id")
	p.post("/reversals?"+seen, `{"paper":`+other+`,"day":"2026-11-20","reason":"wrong"}`).want(200)
	p.deliver()
	if m = p.get("/mails/" + gone).want(200); m.at("state") != "failed" || !strings.Contains(m.at("reason"), "taken back since") {
		t.Errorf("taken back: %s", m.body)
	}
}

// Words are those of the kind and the customer's language; what cannot be mailed is
// refused in a sentence and changes nothing.
func TestMailTemplatesAndRefusals(t *testing.T) {
	p := newPostOffice(t)
	p.put("/customers/1", `{"name":"Odalys Brandt","email":"odalys@brandt.example","language":"Deutsch"}`).want(200)
	p.post("/mail-templates", `{"name":"Rechnung","kinds":["invoice"],"language":"deutsch","subject":"Rechnung {number}","words":"Guten Tag {contact}\n\n{left}\n\n{link}"}`).want(200)
	p.post("/mail-templates", `{"name":"All","subject":"From us: {number}","words":"Hello"}`).want(200)
	if b := p.post("/mails/proposal", `{"papers":[1]}`).want(200); b.at("subject") != "Rechnung I26-0001" || b.at("text") != "Guten Tag Odalys Brandt\n\n1,200.00 EUR" {
		t.Errorf("in the language: %s", b.body)
	}
	if b := p.post("/mails/proposal", `{"customer":1,"statement":{"through":"2026-11-20","open":true}}`).want(200); b.at("subject") != "From us: " && b.at("subject") != "From us:" || b.at("files", 0, "name") != "Statement 2026-11-20.pdf" {
		t.Errorf("a statement: %s", b.body)
	}
	for name, x := range map[string]struct{ path, body, rule string }{
		"an unknown field":         {"/mail-templates", `{"name":"x","subject":"{nummer}","words":"y"}`, "unknown"},
		"a link in the subject":    {"/mail-templates", `{"name":"x","subject":"{link}","words":"y"}`, "form"},
		"an unknown kind":          {"/mail-templates", `{"name":"x","kinds":["letter"],"subject":"s","words":"y"}`, "unknown"},
		"a taken name":             {"/mail-templates", `{"name":"all","subject":"s","words":"y"}`, "taken"},
		"no address":               {"/mails", `{"papers":[1],"subject":"s","words":"w"}`, "missing"},
		"a wrong address":          {"/mails", `{"papers":[1],"to":"odalys@brandt","subject":"s","words":"w"}`, "no address"},
		"an address with a header": {"/mails", `{"papers":[1],"to":"a@b.example\r\nBcc: c@d.example","subject":"s","words":"w"}`, "no address"},
		"a subject with a header":  {"/mails", `{"papers":[1],"to":"a@b.example","subject":"s\r\nBcc: c@d.example","words":"w"}`, "form"},
		"nothing to mail":          {"/mails", `{"to":"a@b.example","subject":"s","words":"w"}`, "missing"},
		"another's file":           {"/mails", `{"papers":[1],"to":"a@b.example","subject":"s","words":"w","attachments":[77]}`, "missing"},
		"no time":                  {"/mails", `{"papers":[1],"to":"a@b.example","subject":"s","words":"w","at":"soon"}`, "no such time"},
		"a statement of no day":    {"/mails", `{"customer":1,"statement":{"through":"soon"},"to":"a@b.example","subject":"s","words":"w"}`, "no such day"},
		"no trial's address":       {"/mail-account/trial", `{"to":""}`, "no address"},
	} {
		t.Run(name, func(t *testing.T) { p.post(x.path, x.body).refused(422, x.rule) })
	}
	p.post("/mails", `{"papers":[99],"to":"a@b.example","subject":"s","words":"w"}`).want(404)
	p.get("/mails/99").want(404)
	p.get("/mails/99/files/1").want(404)
	if m := p.get("/mails").want(200); m.at("rows") != "[]" {
		t.Errorf("something was kept: %s", m.body)
	}
	// Many at once: each to its customer; who has no address is named.
	p.post("/customers", `{"name":"No Address"}`).want(200)
	p.post("/invoices", `{"customer":2,"day":"2026-11-20","lines":[{"text":"Rail","unitPrice":"100","taxCode":1}]}`).want(200)
	many := p.post("/mails/many", `{"papers":[1,2]}`).want(200)
	if many.at("made") != "1" || many.at("left", 0, "name") != "I26-0002, No Address" || many.at("left", 0, "why") != "Say to which address it goes." {
		t.Errorf("many: %s", many.body)
	}
	many = p.post("/mails/many", `{"customers":[1],"statement":{"through":"2026-11-20","open":true}}`).want(200)
	if n := p.deliver(); many.at("made") != "1" || n != 2 {
		t.Errorf("statements: %s, %d went", many.body, n)
	}
	p.post("/mail-account/trial", `{"to":"me@sw.example"}`).want(204)
	p.post("/mail-account/trial", `{"to":"me@refuses.example"}`).refused(422, "not sent")
	for name, body := range map[string]string{
		"no sender":          `{"version":1,"way":"stand-in"}`,
		"no server":          `{"version":1,"way":"tls","port":465,"fromAddress":"a@b.example"}`,
		"no port":            `{"version":1,"way":"tls","host":"mail.b.example","fromAddress":"a@b.example"}`,
		"an open password":   `{"version":1,"way":"none","host":"mail.b.example","port":25,"username":"u","fromAddress":"a@b.example"}`,
		"no address of ours": `{"version":1,"pagesAt":"books"}`,
	} {
		t.Run(name, func(t *testing.T) { p.do("PUT", "/mail-account", body).refused(422, "") })
	}
	// The password is kept beside the books and never told.
	a := p.do("PUT", "/mail-account", `{"version":1,"way":"tls","host":"mail.b.example","port":465,"username":"u","password":"hush hush hush","fromAddress":"a@b.example"}`).want(200)
	if a.at("hasPassword") != "true" || strings.Contains(string(a.body), "hush") {
		t.Errorf("the account: %s", a.body)
	}
	info, err := os.Stat(filepath.Join(p.dir, "mail-password"))
	if err != nil || info.Mode().Perm() != 0o600 {
		t.Errorf("the password's file: %v %v", info, err)
	}
	p.do("PUT", "/mail-account", `{"version":1,"way":"","fromAddress":"a@b.example"}`).want(412)
}
