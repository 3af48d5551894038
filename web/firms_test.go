package web_test

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"maps"
	"net/http"
	"net/http/cookiejar"
	"net/http/httptest"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"sync"
	"sync/atomic"
	"testing"
	"time"

	"cleantally/books"
	"cleantally/core/rights"
	"cleantally/web"
)

// A program is one that serves several firms.
type program struct {
	t      *testing.T
	url    string
	dir    string
	firms  *web.Firms
	first  *client // signed in to the first firm as its owner
	opened atomic.Int64
}

// newProgram serves the first firm, set up, and none besides.
func newProgram(t *testing.T, set func(*web.Firms)) *program {
	t.Helper()
	p := &program{t: t, dir: t.TempDir()}
	book := empty.open(t, p.dir, time.Now, "2026-11-20")
	p.firms = web.NewFirms(book, p.dir, func(ctx context.Context, _, dir string) (*books.Book, web.StandIns, error) {
		p.opened.Add(1)
		b, err := books.Open(ctx, dir, time.Now, "2026-11-20")
		return b, web.StandIns{}, err
	}, web.Options{})
	if set != nil {
		set(p.firms)
	}
	server := httptest.NewServer(p.firms)
	p.url = server.URL
	t.Cleanup(func() { server.Close(); p.firms.CloseIdle(0); book.Close() })
	p.first = p.browser().at("")
	p.first.book = book
	p.first.post("/setup", firm).want(200)
	return p
}

// A browser keeps the cookies of all firms.
type browser struct {
	p    *program
	http *http.Client
}

func (p *program) browser() browser {
	jar, _ := cookiejar.New(nil)
	return browser{p, &http.Client{Jar: jar}}
}

// at is the browser in a firm; "" for the first.
func (b browser) at(name string) *client {
	url := b.p.url
	if name != "" {
		url += "/firm/" + name
	}
	return &client{b.p.t, url, b.http, nil}
}

// with starts a further firm, and returns its owner in a browser of their own.
func (p *program) with(name, email string) *client {
	p.t.Helper()
	p.first.post("/firms", `{"name":"`+name+`"}`).want(200)
	c := p.browser().at(name)
	c.post("/setup", strings.NewReplacer("Sparrow & Winder", "Yard "+name, "w@sw.example", email).Replace(firm)).want(200)
	return c
}

// Nothing of one firm is reached from another: every operation, with the session
// of a person of the other.
func TestFirmsAreApart(t *testing.T) {
	p := newProgram(t, nil)
	yard := p.with("lower-yard", "y@yard.example")
	yard.post("/customers", `{"name":"Zebedee Onlythere"}`).want(200)
	yard.post("/invoices?"+seen, invoice(1, "2026-11-01", "1000")).want(200)
	secret := strings.TrimPrefix(yard.post("/papers/1/links", `{}`).want(200).at("path"), "/firm/lower-yard")
	for _, x := range []struct {
		url  string
		want int
	}{{"/firm/lower-yard" + secret, 200}, {secret, 404}, {"/firm/none" + secret, 404}, {"/firm/Lower-Yard" + secret, 404}, {"/firm/..%2flower-yard" + secret, 404}} {
		res, err := http.Get(p.url + x.url)
		if err != nil {
			t.Fatal(err)
		}
		res.Body.Close()
		if res.StatusCode != x.want {
			t.Errorf("%s: %d, want %d", x.url, res.StatusCode, x.want)
		}
	}
	// The session of the first firm, as the first's and as if it were the yard's.
	var token string
	at, _ := http.NewRequest("GET", p.url, nil)
	for _, c := range p.first.http.Jar.Cookies(at.URL) {
		token = c.Value
	}
	stranger := p.browser().at("lower-yard")
	stranger.http.Jar.SetCookies(at.URL, []*http.Cookie{{Name: "cleantally", Value: token, Path: "/"}, {Name: "cleantally-lower-yard", Value: token, Path: "/"}})
	var d struct {
		Paths map[string]map[string]struct {
			OperationID string `json:"operationId"`
		}
	}
	if err := json.Unmarshal([]byte(p.first.description()), &d); err != nil {
		t.Fatal(err)
	}
	before := string(yard.get("/trial-balance").want(200).body)
	asked := 0
	for _, path := range slices.Sorted(maps.Keys(d.Paths)) {
		for method, op := range d.Paths[path] {
			switch op.OperationID {
			case "session", "sign-in", "set-up", "invited", "accept-invitation": // open to anybody
				continue
			}
			one := strings.NewReplacer("{id}", "1", "{kind}", "invoice", "{role}", "deposits", "{register}", "receivables", "{item}", "1", "{as}", "x", "{position}", "1").Replace(strings.TrimPrefix(path, "/api/v1"))
			if a := stranger.do(strings.ToUpper(method), one, "{}", "If-Match", `"0"`); a.status != 401 {
				t.Errorf("%s %s with the session of another firm: %d %.200s", method, path, a.status, a.body)
			}
			asked++
		}
	}
	if asked < 150 {
		t.Errorf("only %d operations were asked", asked)
	}
	if got := string(yard.get("/trial-balance").want(200).body); got != before {
		t.Error("something changed")
	}
	if got := stranger.get("/session").want(200); got.at("signedIn") != "false" {
		t.Errorf("signed in: %s", got.body)
	}
	if n := p.first.get("/search?q=Onlythere").want(200); strings.Contains(string(n.body), "Zebedee") {
		t.Errorf("the first firm finds %s", n.body)
	}
}

// Who is signed in to two firms at once is told of each in the other, also in
// another browser; who has but the same e-mail address is not.
func TestSwitchingFirms(t *testing.T) {
	p := newProgram(t, nil)
	yard := p.with("lower-yard", "y@yard.example")
	p.with("upper-yard", "w@sw.example")
	firmsOf := func(c *client) string {
		var all []string
		for _, r := range c.get("/firms").want(200).list("rows") {
			all = append(all, fmt.Sprintf("%s (%s, here %v, in %v)", r["name"], r["at"], r["here"], r["signedIn"]))
		}
		return strings.Join(all, "; ")
	}
	if got, want := firmsOf(yard), "Yard lower-yard (/firm/lower-yard, here true, in true)"; got != want {
		t.Errorf("told of %s", got)
	}
	// A bookkeeper of the yard with the address of the first's owner is told of
	// nothing, until they have signed in to both.
	if got := firmsOf(p.browser().signedIn("upper-yard", "w@sw.example")); strings.Contains(got, "lower") || strings.Contains(got, "Sparrow") {
		t.Errorf("told of %s", got)
	}
	both := p.browser()
	both.signedIn("lower-yard", "y@yard.example")
	both.signedIn("upper-yard", "w@sw.example")
	want := "Yard lower-yard (/firm/lower-yard, here false, in true); Yard upper-yard (/firm/upper-yard, here true, in true)"
	if got := firmsOf(both.at("upper-yard")); got != want {
		t.Errorf("told of %s\nwant %s", got, want)
	}
	if got := firmsOf(p.browser().signedIn("upper-yard", "w@sw.example")); got != strings.Replace(want, "here false, in true", "here false, in false", 1) {
		t.Errorf("another browser is told of %s", got)
	}
	// An owner of the first is told of all.
	if got := p.first.get("/firms").want(200); got.rows("rows") != 3 || got.at("starts") != "true" {
		t.Errorf("the owner of the first is told of %s", got.body)
	}
	// A session that ended is none.
	both.at("lower-yard").do("DELETE", "/session", "").want(204)
	if got := firmsOf(both.at("upper-yard")); !strings.Contains(got, "here false, in false") {
		t.Errorf("after signing out: %s", got)
	}
}

// signedIn is the browser in a firm, signed in with the password that all have.
func (b browser) signedIn(name, email string) *client {
	b.p.t.Helper()
	c := b.at(name)
	c.post("/session", fmt.Sprintf(`{"email":%q,"password":"winding stairs"}`, email)).want(200)
	return c
}

// Firms are started by an owner of the first, under a name that an address
// holds, once.
func TestStartingAFirm(t *testing.T) {
	p := newProgram(t, (*web.Firms).AsksWord)
	for _, name := range []string{"", "Lower Yard", "-x", "x-", "a--b", "../x", "..", "x/y", "é", strings.Repeat("x", 41)} {
		p.first.post("/firms", fmt.Sprintf(`{"name":%q}`, name)).refused(422, "name of a firm")
	}
	if all, err := os.ReadDir(filepath.Join(p.dir, "firms")); !errors.Is(err, os.ErrNotExist) {
		t.Errorf("refusals left %v, %v", all, err)
	}
	for _, role := range rights.Roles()[1:] {
		if a := p.first.as(role).post("/firms", `{"name":"mine"}`); !notYours(a) {
			t.Errorf("a %s starts a firm: %d %s", role, a.status, a.body)
		}
	}
	started := p.first.post("/firms", `{"name":" Yard "}`).want(200)
	if started.at("at") != "/firm/yard" || len(started.at("word")) != 12 {
		t.Fatalf("started: %s", started.body)
	}
	if again := p.first.post("/firms", `{"name":"yard"}`).want(200); again.at("word") != started.at("word") {
		t.Errorf("until it is set up, its word is %s again", again.at("word"))
	}
	if got := p.first.get("/firms").want(200); got.at("rows", 1, "name") != "" {
		t.Errorf("a firm that is not set up is called %s", got.at("rows", 1, "name"))
	}
	// Nobody sets it up without the word, nor starts others from there.
	c := p.browser().at("yard")
	c.post("/setup", firm).want(422)
	c.post("/setup", strings.Replace(firm, `"email"`, `"word":"`+started.at("word")+`","email"`, 1)).want(200)
	c.post("/firms", `{"name":"third"}`).refused(422, "starting a firm")
	p.first.post("/firms", `{"name":"yard"}`).refused(422, "name is taken")
	if err := os.Mkdir(filepath.Join(p.dir, "firms", "empty"), 0o700); err != nil {
		t.Fatal(err)
	}
	p.first.post("/firms", `{"name":"empty"}`).refused(422, "name is taken")
}

// The books of a firm are opened when they are asked for and closed when nobody
// asks; who asks meanwhile waits, and nobody is turned away.
func TestFirmsCloseWhenIdle(t *testing.T) {
	p := newProgram(t, nil)
	yard := p.with("yard", "y@yard.example")
	before := p.opened.Load()
	yard.get("/customers").want(200)
	if p.opened.Load() != before {
		t.Error("the books were opened again while they were open")
	}
	p.firms.CloseIdle(time.Hour)
	yard.get("/customers").want(200)
	if p.opened.Load() != before {
		t.Error("the books were closed while they were asked for")
	}
	p.firms.CloseIdle(0)
	elsewhere, err := books.Open(t.Context(), filepath.Join(p.dir, "firms", "yard"), time.Now, "")
	if err != nil {
		t.Fatalf("closed books are held: %v", err)
	}
	// While another program holds them, it is said; afterwards they open.
	yard.get("/customers").want(503)
	if err := elsewhere.Close(); err != nil {
		t.Fatal(err)
	}
	yard.get("/customers").want(200)
}

// Asking, closing and looking in at once.
func TestFirmsUnderLoad(t *testing.T) {
	p := newProgram(t, nil)
	names := []string{"a", "b", "c"}
	var all []*client
	for _, n := range names {
		all = append(all, p.with(n, n+"@yard.example"))
	}
	var asking sync.WaitGroup
	for n := range 24 {
		asking.Go(func() {
			c := all[n%len(all)]
			for k := range 8 {
				if a := c.post("/customers", fmt.Sprintf(`{"name":"C %d %d"}`, n, k)); a.status != 200 {
					t.Errorf("%d %s", a.status, a.body)
				}
			}
		})
	}
	over := make(chan struct{})
	go func() { asking.Wait(); close(over) }()
	for ended := false; !ended; {
		p.firms.CloseIdle(0)
		p.firms.Visit(t.Context())
		select {
		case <-over:
			ended = true
		default:
		}
	}
	p.firms.CloseIdle(0)
	p.firms.Visit(t.Context())
	for _, c := range all {
		if n := c.get("/customers?limit=200").want(200).rows("rows"); n != 64 {
			t.Errorf("%d customers of 64", n)
		}
	}
	// Looking in did what is due: a backup each.
	for _, n := range names {
		if kept, err := os.ReadDir(filepath.Join(p.dir, "firms", n, "backups")); err != nil || len(kept) == 0 {
			t.Errorf("no backup of %s: %v", n, err)
		}
	}
}
