package web_test

import (
	"cleantally/core/rights"
	"fmt"
	"io"
	"net/http"
	"net/http/cookiejar"
	"net/netip"
	"runtime"
	"strings"
	"sync"
	"sync/atomic"
	"testing"
	"testing/fstest"
	"time"

	"cleantally/web"
)

// served is a client of books of its own that are served so, by a clock that is
// moved by hand.
func served(t *testing.T, o web.Options) (*client, *atomic.Int64) {
	t.Helper()
	passed := new(atomic.Int64)
	clock := func() time.Time { return time.Now().Add(time.Duration(passed.Load())) }
	c := serving(t, empty.open(t, t.TempDir(), clock, "2026-11-20"), o)
	c.post("/setup", firm).want(200)
	return c, passed
}

// stranger is somebody else at the same program.
func (c *client) stranger() *client {
	jar, _ := cookiejar.New(nil)
	return &client{c.t, c.url, &http.Client{Jar: jar}, c.book}
}

const owner = `{"email":"w@sw.example","password":"winding stairs"}`

// A name that was made to point here is refused, on whatever it asks for; ours,
// and addresses, are not.
func TestNamesThatAreNotOurs(t *testing.T) {
	c, _ := served(t, web.Options{Hosts: []string{"books.firm.example"}, Interface: fstest.MapFS{"index.html": {Data: []byte("<p>")}}})
	for host, want := range map[string]int{"": 200, "localhost:1": 200, "LOCALHOST": 200, "127.0.0.1": 200, "[::1]:8420": 200, "books.firm.example": 200, "Books.Firm.Example.:443": 200, "evil.example": 421, "127.0.0.1.evil.example": 421, "firm.example": 421, "localhost.evil.example": 421} {
		for _, path := range []string{"/api/v1/session", "/healthz", "/", "/customers/1", "/api/openapi.json"} {
			req, _ := http.NewRequest("GET", c.url+path, nil)
			if req.Host = host; host == "" {
				req.Host = strings.TrimPrefix(c.url, "http://")
			}
			res, err := c.http.Do(req)
			if err != nil {
				t.Fatal(err)
			}
			body, _ := io.ReadAll(res.Body)
			res.Body.Close()
			if res.StatusCode != want {
				t.Errorf("%s at %q: %d %s", path, host, res.StatusCode, body)
			}
		}
	}
}

// Every kind of answer bears what keeps browsers from mischief.
func TestHeadersOfEveryAnswer(t *testing.T) {
	for _, secure := range []bool{false, true} {
		c, _ := served(t, web.Options{Secure: secure, Interface: fstest.MapFS{"index.html": {Data: []byte("<p>")}, "assets/a.js": {Data: []byte("1")}}})
		for _, path := range []string{"/", "/customers/7", "/assets/a.js", "/assets/none.js", "/healthz", "/api/openapi.json", "/api/v1/session", "/api/v1/papers", "/api/v1/nothing", "/api/v1/records/terms/file"} {
			res, err := c.http.Get(c.url + path)
			if err != nil {
				t.Fatal(err)
			}
			res.Body.Close()
			h := res.Header
			for name, want := range map[string]string{"X-Content-Type-Options": "nosniff", "X-Frame-Options": "DENY", "Cross-Origin-Resource-Policy": "same-origin", "Cross-Origin-Opener-Policy": "same-origin", "Referrer-Policy": "same-origin"} {
				if h.Get(name) != want {
					t.Errorf("%s: %s is %q", path, name, h.Get(name))
				}
			}
			if !strings.HasPrefix(h.Get("Content-Security-Policy"), "default-src 'none'") || !strings.Contains(h.Get("Content-Security-Policy"), "frame-ancestors 'none'") || h.Get("Permissions-Policy") == "" {
				t.Errorf("%s: %v", path, h)
			}
			if got := h.Get("Strict-Transport-Security") != ""; got != secure {
				t.Errorf("%s, secure %v: %v", path, secure, h)
			}
			if strings.HasPrefix(path, "/api/") && h.Get("Cache-Control") != "no-store" {
				t.Errorf("%s may be kept: %q", path, h.Get("Cache-Control"))
			}
		}
	}
}

// The cookie is nobody's but this program's.
func TestCookie(t *testing.T) {
	for secure, name := range map[bool]string{false: "cleantally", true: "__Host-cleantally"} {
		c, _ := served(t, web.Options{Secure: secure})
		res, err := c.stranger().http.Post(c.url+"/api/v1/session", "application/json", strings.NewReader(owner))
		if err != nil {
			t.Fatal(err)
		}
		res.Body.Close()
		all := res.Cookies()
		if len(all) != 1 || all[0].Name != name || !all[0].HttpOnly || all[0].Secure != secure || all[0].SameSite != http.SameSiteStrictMode || all[0].Path != "/" || all[0].Domain != "" {
			t.Errorf("secure %v: %v", secure, all)
		}
	}
}

// A session ends when it is not used, and in any case at the end of a day; while
// it is used it goes on.
func TestSessionsEnd(t *testing.T) {
	c, passed := served(t, web.Options{})
	move := func(d time.Duration) { passed.Add(int64(d)) }
	for range 5 {
		move(119 * time.Minute)
		c.get("/papers").want(200)
	}
	move(121 * time.Minute)
	c.get("/papers").want(401)
	if c.get("/session").want(200).at("signedIn") != "false" {
		t.Error("it says that somebody is signed in")
	}
	c.post("/session", owner).want(200)
	c.get("/papers").want(200)
}

// A new password ends every session that began with the old one, but for the one
// that changed it; so does a reset on the machine.
func TestAPasswordChangeEndsSessions(t *testing.T) {
	c, _ := served(t, web.Options{})
	other := c.stranger()
	other.post("/session", owner).want(200)
	other.get("/papers").want(200)
	c.post("/password", `{"old":"winding stairs","password":"winding stairs"}`).want(422)
	c.post("/password", `{"old":"winding stairs","password":"Password1234!"}`).want(422)
	other.get("/papers").want(200)
	c.post("/password", `{"old":"winding stairs","password":"gravel otter mandolin"}`).want(204)
	c.get("/papers").want(200)
	other.get("/papers").want(401)
	other.post("/session", owner).want(401)
	other.post("/session", `{"email":"W@SW.example","password":"gravel otter mandolin"}`).want(200)
	password, err := c.book.ResetPassword(t.Context(), "w@sw.example")
	if err != nil {
		t.Fatal(err)
	}
	c.get("/papers").want(401)
	other.get("/papers").want(401)
	c.post("/session", fmt.Sprintf(`{"email":"w@sw.example","password":%q}`, password)).want(200)
	added, err := c.book.AddPerson(t.Context(), "Hale Mercer", "hale@sw.example", rights.Bookkeeper)
	if err != nil {
		t.Fatal(err)
	}
	other.post("/session", fmt.Sprintf(`{"email":"hale@sw.example","password":%q}`, added)).want(200)
	if _, err := c.book.AddPerson(t.Context(), "Again", "HALE@sw.example", rights.Bookkeeper); err == nil {
		t.Error("the same address twice")
	}
	if _, err := c.book.ResetPassword(t.Context(), "nobody@sw.example"); err == nil {
		t.Error("a password for nobody")
	}
	// Who came, who did not get in, and what was changed stands in the record; what
	// was typed does not.
	record := string(c.get("/audit").want(200).body)
	for _, want := range []string{"Signed in, from 127.0.0.1", "A sign-in was refused, from 127.0.0.1", "Changed the password of W", "Reset the password of W, by who has the data directory", "Hale Mercer may sign in"} {
		if !strings.Contains(record, want) {
			t.Errorf("the record does not say %q: %s", want, record)
		}
	}
	for _, secret := range []string{"winding", "otter", password, added} {
		if strings.Contains(record, secret) {
			t.Errorf("the record holds %q", secret)
		}
	}
}

// Sixty sign-ins at once: five are tried, the rest is told to wait, and how long.
func TestSignInsAtOnce(t *testing.T) {
	c, _ := served(t, web.Options{})
	var wrong, waits atomic.Int64
	var all sync.WaitGroup
	for range 60 {
		all.Add(1)
		go func() {
			defer all.Done()
			switch a := c.stranger().post("/session", `{"email":"w@sw.example","password":"a wrong password"}`); a.status {
			case 401:
				wrong.Add(1)
			case 429:
				if a.header.Get("Retry-After") == "" || !strings.Contains(a.at("detail"), "Try again in") && !strings.Contains(a.at("detail"), "try again in") {
					t.Errorf("%v %s", a.header, a.body)
				}
				waits.Add(1)
			default:
				t.Errorf("%d %s", a.status, a.body)
			}
		}()
	}
	all.Wait()
	if wrong.Load() > 5 || wrong.Load()+waits.Load() != 60 {
		t.Errorf("%d were tried, %d told to wait", wrong.Load(), waits.Load())
	}
}

// Who guesses from elsewhere does not lock the owner out, also behind a proxy
// that says where requests come from; what is not trusted is not believed.
func TestSignInsBehindAProxy(t *testing.T) {
	c, _ := served(t, web.Options{Proxies: []netip.Prefix{netip.MustParsePrefix("127.0.0.0/8")}})
	try := func(forwarded, password string) int {
		return c.stranger().post("/session", `{"email":"w@sw.example","password":"`+password+`"}`, "X-Forwarded-For", forwarded).status
	}
	for n := range 7 {
		if got, want := try("198.51.100.7", "a wrong password"), map[bool]int{true: 401, false: 429}[n < 5]; got != want {
			t.Errorf("wrong try %d: %d", n, got)
		}
	}
	if got := try("192.0.2.1", "winding stairs"); got != 200 {
		t.Errorf("the owner, elsewhere: %d", got)
	}
	// What somebody wrote before the proxy's own word is not believed.
	if got := try("192.0.2.1, 198.51.100.7", "winding stairs"); got != 429 {
		t.Errorf("with a made-up address in front: %d", got)
	}
	bare, _ := served(t, web.Options{})
	for n := range 6 {
		a := bare.stranger().post("/session", `{"email":"w@sw.example","password":"a wrong password"}`, "X-Forwarded-For", fmt.Sprintf("198.51.100.%d", n))
		if want := map[bool]int{true: 401, false: 429}[n < 5]; a.status != want {
			t.Errorf("without a trusted proxy, try %d: %d", n, a.status)
		}
	}
}

// Secrets that are asked for inside are guessed no more often than at the door.
func TestGuessesInside(t *testing.T) {
	c, passed := served(t, web.Options{})
	for n := range 8 {
		a := c.post("/password", `{"old":"a wrong password","password":"gravel otter mandolin"}`)
		if want := map[bool]int{true: 422, false: 429}[n < 5]; a.status != want {
			t.Errorf("wrong old password %d: %d %s", n, a.status, a.body)
		}
	}
	passed.Add(int64(time.Minute))
	c.post("/password", `{"old":"winding stairs","password":"gravel otter mandolin"}`).want(204)
	c.post("/customers", `{"name":"Owes"}`).want(200)
	c.post("/invoices", invoice(1, "2026-11-02", "500")).want(200)
	limits := c.get("/limits").want(200)
	c.do("PUT", "/limits", setKey(t, string(limits.body), "writeOff", "50.00"), "If-Match", `"`+limits.at("version")+`"`).want(200)
	owes := `{"day":"2026-11-20","reason":"lost","items":[{"item":1,"amount":"80.00"}]}`
	for n := range 8 {
		a := c.post("/write-offs?"+seen, owes, "Second-Word", "a wrong word")
		if want := map[bool]int{true: 409, false: 429}[n < 5]; a.status != want {
			t.Errorf("wrong word %d: %d %s", n, a.status, a.body)
		}
	}
}

// What anybody may call takes little memory, however much is sent, and answers
// shortly.
func TestMemoryOfStrangers(t *testing.T) {
	c, _ := served(t, web.Options{})
	var junk strings.Builder
	junk.WriteString(`{"email":"x"`)
	for n := range 300_000 {
		fmt.Fprintf(&junk, `,"f%d":1`, n)
	}
	junk.WriteString("}")
	few := junk.String()[:2000]
	few = few[:strings.LastIndex(few, ",")] + "}"
	var before, after runtime.MemStats
	runtime.GC()
	runtime.ReadMemStats(&before)
	var all sync.WaitGroup
	for _, path := range []string{"/session", "/setup", "/session", "/setup"} {
		for _, body := range []string{junk.String(), few} {
			all.Add(1)
			go func() {
				defer all.Done()
				a := c.stranger().post(path, body)
				if a.status != 413 && a.status != 422 || len(a.body) > 8000 {
					t.Errorf("%s of %d bytes: %d, %d bytes of answer", path, len(body), a.status, len(a.body))
				}
			}()
		}
	}
	all.Wait()
	runtime.ReadMemStats(&after)
	if grown := int64(after.TotalAlloc-before.TotalAlloc) >> 20; grown > 64 {
		t.Errorf("%d MB were taken", grown)
	}
	// Set-up after set-up is refused before a password is hashed, and few passwords
	// are hashed at once.
	runtime.ReadMemStats(&before)
	for range 60 {
		all.Add(1)
		go func() {
			defer all.Done()
			if a := c.stranger().post("/setup", firm); a.status != 409 {
				t.Errorf("%d %s", a.status, a.body)
			}
		}()
	}
	all.Wait()
	runtime.ReadMemStats(&after)
	if grown := int64(after.TotalAlloc-before.TotalAlloc) >> 20; grown > 64 {
		t.Errorf("%d MB were taken by setting up again", grown)
	}
}

// Forty people sign in at once: all get in, and no more memory is held than for
// the few that are hashed at a time.
func TestManySignIn(t *testing.T) {
	c, _ := served(t, web.Options{Proxies: []netip.Prefix{netip.MustParsePrefix("127.0.0.0/8")}})
	most, stop := make(chan uint64), make(chan bool)
	go func() {
		var peak uint64
		var now runtime.MemStats
		for {
			select {
			case <-stop:
				most <- peak
				return
			default:
				runtime.ReadMemStats(&now)
				peak = max(peak, now.HeapAlloc)
				runtime.Gosched()
			}
		}
	}()
	var all sync.WaitGroup
	for n := range 40 {
		all.Add(1)
		go func() {
			defer all.Done()
			c.stranger().post("/session", owner, "X-Forwarded-For", fmt.Sprintf("192.0.2.%d", n)).want(200)
		}()
	}
	all.Wait()
	close(stop)
	if peak := <-most >> 20; peak > 300 {
		t.Errorf("%d MB at most", peak)
	}
}

// The head alone may be asked for of whatever can be asked for, and holds what
// the whole answer would.
func TestHeads(t *testing.T) {
	c, _ := served(t, web.Options{Interface: fstest.MapFS{"index.html": {Data: []byte("<p>")}, "assets/a.js": {Data: []byte("1")}}})
	for path, want := range map[string]int{"/": 200, "/customers/1": 200, "/assets/a.js": 200, "/assets/none.js": 404, "/healthz": 200, "/api/v1/papers": 200, "/api/v1/nothing": 404, "/api/openapi.json": 200} {
		for _, method := range []string{"GET", "HEAD"} {
			req, _ := http.NewRequest(method, c.url+path, nil)
			res, err := c.http.Do(req)
			if err != nil {
				t.Fatal(err)
			}
			body, _ := io.ReadAll(res.Body)
			res.Body.Close()
			if res.StatusCode != want || (method == "HEAD") != (len(body) == 0) {
				t.Errorf("%s %s: %d, %d bytes", method, path, res.StatusCode, len(body))
			}
		}
	}
	req, _ := http.NewRequest("HEAD", c.stranger().url+"/api/v1/papers", nil)
	if res, err := (&http.Client{}).Do(req); err != nil || res.StatusCode != 401 {
		t.Errorf("a stranger's: %v %v", res, err)
	}
}

// A character 0 finds nothing, and everything least of all.
func TestNullInAnAddress(t *testing.T) {
	c, _ := served(t, web.Options{})
	c.post("/customers", `{"name":"Somebody"}`).want(200)
	for _, path := range []string{"/customers?q=%00", "/search?q=a%00b", "/credit-notes?q=%00&in=reason", "/papers?q=%00", "/registers/%00", "/customers?q=x&state=%00"} {
		if a := c.get(path); a.status != 400 {
			t.Errorf("%s: %d %.200s", path, a.status, a.body)
		}
	}
}

// Methods that an address does not know are refused, whoever asks.
func TestOtherMethodsAreRefused(t *testing.T) {
	c, _ := served(t, web.Options{})
	for _, who := range []*client{c, c.stranger()} {
		for _, method := range []string{"TRACE", "TRACK", "PATCH", "PROPFIND", "FOO"} {
			for _, path := range []string{"/api/v1/papers", "/api/v1/session", "/api/v1/nothing", "/healthz", "/desk"} {
				req, _ := http.NewRequest(method, c.url+path, strings.NewReader("{}"))
				res, err := who.http.Do(req)
				if err != nil {
					t.Fatal(err)
				}
				res.Body.Close()
				if res.StatusCode < 400 || res.StatusCode >= 500 {
					t.Errorf("%s %s: %d", method, path, res.StatusCode)
				}
			}
		}
	}
}

// No address sends a browser elsewhere, lists a directory, or says what the
// program is made of.
func TestNothingLeadsElsewhere(t *testing.T) {
	c, _ := served(t, web.Options{Interface: fstest.MapFS{"index.html": {Data: []byte("<p>")}, "assets/a.js": {Data: []byte("1")}}})
	c.http.CheckRedirect = func(*http.Request, []*http.Request) error { return http.ErrUseLastResponse }
	for _, path := range []string{"//elsewhere.example", "/\\elsewhere.example", "/assets/", "/assets", "/assets/../index.html", "/desk/", "/api/v1/papers/", "/.git/config", "/firm.db", "/?next=https://elsewhere.example", "/api/v1/session/", "/debug/pprof/"} {
		req, _ := http.NewRequest("GET", c.url, nil)
		req.URL.Opaque = path
		res, err := c.http.Do(req)
		if err != nil {
			continue // not even an address
		}
		body, _ := io.ReadAll(res.Body)
		res.Body.Close()
		if res.Header.Get("Location") != "" || strings.Contains(string(body), "a.js") || res.Header.Get("Server") != "" || res.Header.Get("X-Powered-By") != "" {
			t.Errorf("%s: %d %v %.80s", path, res.StatusCode, res.Header, body)
		}
	}
}
