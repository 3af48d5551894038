package web_test

import (
	"bytes"
	"encoding/json"
	"fmt"
	"net/http"
	"net/http/cookiejar"
	"net/http/httptest"
	"net/url"
	"strings"
	"testing"
	"time"

	"cleantally/books"
	"cleantally/core/posting"
	"cleantally/core/posting/postingtest"
	"cleantally/web"
)

// A client is signed in to a firm of its own: STD (1), RED (2), NIL (3),
// customer 1 with job 1, customer 2 with job 2, on 20 Nov 2026.
type client struct {
	t    *testing.T
	url  string
	http *http.Client
	book *books.Book
}

type answer struct {
	t      *testing.T
	status int
	header http.Header
	body   []byte
	tree   *any // the body, read once
}

const firm = `{"firm":"Sparrow & Winder","currency":"EUR","bank":"Bank","owner":"W","email":"w@sw.example","password":"winding stairs",
	"codes":[{"code":"STD","percent":"20"},{"code":"RED","percent":"10"},{"code":"NIL","percent":"0"}]}`

func newClient(t *testing.T) *client {
	t.Helper()
	c := serving(t, named.open(t, t.TempDir(), time.Now, "2026-11-20"), web.Options{})
	at, _ := url.Parse(c.url)
	c.http.Jar.SetCookies(at, signedIn)
	return c
}

var (
	named    mould          // the firm of newClient
	signedIn []*http.Cookie // of its owner
)

func init() {
	named.fill = func(t *testing.T, book *books.Book) {
		c := serving(t, book, web.Options{})
		c.post("/setup", firm).want(200)
		for n, name := range []string{"Odalys Brandt", "Dunmarrow Builders"} {
			c.post("/customers", fmt.Sprintf(`{"name":%q}`, name)).want(200)
			c.post("/jobs", fmt.Sprintf(`{"name":"Stair","customer":%d,"contractSum":"8000.00"}`, n+1)).want(200)
		}
		at, _ := url.Parse(c.url)
		signedIn = c.http.Jar.Cookies(at)
	}
}

// unnamed is a client of books that are not set up; word is what it takes.
func unnamed(t *testing.T, word string) *client {
	t.Helper()
	return serving(t, empty.open(t, t.TempDir(), time.Now, "2026-11-20"), web.Options{SetupWord: word})
}

// serving is a client of books that are served so from now on.
func serving(t *testing.T, book *books.Book, o web.Options) *client {
	t.Helper()
	server := httptest.NewServer(web.New(book, o))
	t.Cleanup(func() { server.Close(); book.Close() })
	jar, _ := cookiejar.New(nil)
	return &client{t, server.URL, &http.Client{Jar: jar}, book}
}

func (c *client) do(method, path, body string, header ...string) answer {
	c.t.Helper()
	req, err := http.NewRequest(method, c.url+"/api/v1"+path, strings.NewReader(body))
	if err != nil {
		c.t.Fatal(err)
	}
	req.Header.Set("Content-Type", "application/json")
	for i := 0; i+1 < len(header); i += 2 {
		req.Header.Set(header[i], header[i+1])
	}
	res, err := c.http.Do(req)
	if err != nil {
		c.t.Fatal(err)
	}
	defer res.Body.Close()
	var b bytes.Buffer
	if _, err := b.ReadFrom(res.Body); err != nil {
		c.t.Fatal(err)
	}
	return answer{c.t, res.StatusCode, res.Header, b.Bytes(), new(any)}
}

func (c *client) post(path, body string, header ...string) answer {
	c.t.Helper()
	return c.do("POST", path, body, header...)
}

// seen confirms every warning that there is.
var seen = func() string {
	v := url.Values{"confirmed": posting.WarningRules}
	return v.Encode()
}()

// put changes a record from the version that it has now.
func (c *client) put(path, body string) answer {
	c.t.Helper()
	return c.do("PUT", path, body, "If-Match", `"`+c.version(path)+`"`)
}

func (c *client) version(path string) string {
	c.t.Helper()
	kind, id, one := strings.Cut(path[1:], "/")
	if !one || kind == "customers" || kind == "jobs" {
		return c.get(path).want(200).at("version")
	}
	all := c.get("/" + kind).want(200)
	for n := range strings.Count(string(all.body), `"version"`) {
		if all.at("rows", n, "id") == id {
			return all.at("rows", n, "version")
		}
	}
	return "1"
}

// description is the API's description of itself.
func (c *client) description() string {
	c.t.Helper()
	text, err := web.New(c.book, web.Options{}).OpenAPI()
	if err != nil {
		c.t.Fatal(err)
	}
	return string(text)
}

func (c *client) get(path string) answer {
	c.t.Helper()
	return c.do("GET", path, "")
}

func (a answer) want(status int) answer {
	a.t.Helper()
	if a.status != status {
		a.t.Fatalf("status %d, want %d: %s", a.status, status, a.body)
	}
	return a
}

// refused wants an answer that refuses by a rule; "" for any.
func (a answer) refused(status int, rule string) answer {
	a.t.Helper()
	if a.want(status); rule != "" && !strings.Contains(string(a.body), `"rule":"`+rule+`"`) {
		a.t.Errorf("refused by another rule than %s: %s", rule, a.body)
	}
	return a
}

// at returns what stands at a path of keys and indexes, as text.
func (a answer) at(path ...any) string { return fmt.Sprint(a.found(path...)) }

// sent is a part of an answer as it can be sent again.
func (a answer) sent(path ...any) string {
	body, _ := json.Marshal(a.found(path...))
	return string(body)
}

func (a answer) found(path ...any) any {
	a.t.Helper()
	if *a.tree == nil {
		if err := json.Unmarshal(a.body, a.tree); err != nil {
			a.t.Fatalf("%v: %s", err, a.body)
		}
	}
	v := *a.tree
	for _, p := range path {
		switch key := p.(type) {
		case string:
			m, ok := v.(map[string]any)
			if !ok {
				a.t.Fatalf("no %v in %s", path, a.body)
			}
			v = m[key]
		case int:
			l, ok := v.([]any)
			if !ok || key >= len(l) {
				a.t.Fatalf("no %v in %s", path, a.body)
			}
			v = l[key]
		}
	}
	return v
}

// entries writes the entries of a preview as the rules do.
func (a answer) entries() []string {
	a.t.Helper()
	var b struct {
		Effect struct {
			Entries []struct {
				Lines []struct{ Account, Debit, Credit string }
			}
		}
	}
	if err := json.Unmarshal(a.body, &b); err != nil {
		a.t.Fatal(err)
	}
	var all []string
	for _, e := range b.Effect.Entries {
		var parts []string
		for _, l := range e.Lines {
			number, _, _ := strings.Cut(l.Account, " ")
			if l.Debit != "" {
				parts = append(parts, "Dr "+number+" "+l.Debit)
			} else {
				parts = append(parts, "Cr "+number+" "+l.Credit)
			}
		}
		all = append(all, strings.Join(parts, ", "))
	}
	return all
}

// try previews a command, then posts it: what is shown is what is posted.
func (c *client) try(path, body string, want ...string) answer {
	c.t.Helper()
	shown := c.post(path+"?preview=true", body).want(200)
	if got := shown.entries(); !postingtest.Same(got, want) {
		c.t.Errorf("%s %s\nshows %q\nwant  %q", path, body, got, want)
	}
	return c.post(path+"?token="+shown.at("effect", "token"), body).want(200)
}

func invoice(customer int, day, net string) string {
	return fmt.Sprintf(`{"customer":%d,"day":%q,"lines":[{"text":"Stair","unitPrice":%q,"taxCode":1}]}`, customer, day, net)
}

func deposit(customer int, day, amount string) string {
	return fmt.Sprintf(`{"customer":%d,"day":%q,"amount":%q,"bank":1,"method":"transfer"}`, customer, day, amount)
}

func receipt(customer int, day, arrived, rest string) string {
	return fmt.Sprintf(`{"customer":%d,"day":%q,"arrived":%q,"bank":1,"method":"transfer"%s}`, customer, day, arrived, rest)
}
