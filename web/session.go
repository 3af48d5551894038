package web

import (
	"context"
	"crypto/subtle"
	"net"
	"net/http"
	"strings"
	"sync"
	"time"

	"cleantally/books"
	"cleantally/core/posting"
	"cleantally/core/tax"
	"cleantally/store"

	"github.com/danielgtaylor/huma/v2"
)

// What may be asked without being signed in.
var open = map[string]bool{
	"GET /api/v1/session": true, "POST /api/v1/session": true, "POST /api/v1/setup": true, "GET /api/openapi.json": true, "GET /api/openapi.yaml": true,
	"GET /api/openapi-3.0.json": true, "GET /api/openapi-3.0.yaml": true,
}

// signedIn refuses everything else to those who are not.
func (s *Server) signedIn(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		if strings.HasPrefix(r.URL.Path, "/api/") && !open[r.Method+" "+r.URL.Path] && s.user(r.Context()) == 0 {
			writeProblem(w, plain(http.StatusUnauthorized, "You are not signed in any more. Sign in again; what you typed is kept."))
			return
		}
		next.ServeHTTP(w, r)
	})
}

// user returns who is signed in, 0 for nobody.
func (s *Server) user(ctx context.Context) int64 { return s.sessions.GetInt64(ctx, "user") }

// tries counts failed sign-ins, so that passwords cannot be guessed.
type tries struct {
	mu     sync.Mutex
	now    func() time.Time
	failed map[string][]time.Time
}

const (
	mostTries = 6
	tryWindow = 10 * time.Minute
)

func newTries(now func() time.Time) *tries {
	return &tries{now: now, failed: map[string][]time.Time{}}
}

// wait returns how long the key has to wait; nil when it may try now.
func (t *tries) wait(key string) time.Duration {
	t.mu.Lock()
	defer t.mu.Unlock()
	t.forget()
	if f := t.failed[key]; len(f) >= mostTries {
		return f[len(f)-mostTries].Add(tryWindow).Sub(t.now())
	}
	return 0
}

func tooMany(wait time.Duration) error {
	return plain(http.StatusTooManyRequests, "Too many tries. Try again in "+max(wait.Round(time.Minute), time.Minute).String()+".")
}

func (t *tries) fail(key string) {
	t.mu.Lock()
	defer t.mu.Unlock()
	t.failed[key] = append(t.failed[key], t.now())
}

func (t *tries) succeed(key string) {
	t.mu.Lock()
	defer t.mu.Unlock()
	delete(t.failed, key)
}

func (t *tries) forget() {
	for key, times := range t.failed {
		if t.now().Sub(times[len(times)-1]) > tryWindow {
			delete(t.failed, key)
		}
	}
}

// Session is who is signed in and where.
type Session struct {
	SetUp       bool        `json:"setUp" doc:"Whether the firm has been set up"`
	SignedIn    bool        `json:"signedIn"`
	User        string      `json:"user"`
	Firm        string      `json:"firm"`
	Currency    string      `json:"currency"`
	Places      int32       `json:"places" doc:"Places of the currency's minor unit"`
	DateStyle   string      `json:"dateStyle" doc:"How the firm writes days"`
	NumberStyle NumberStyle `json:"numberStyle" doc:"How it writes numbers"`
	Today       string      `json:"today" doc:"The business day"`
	Demo        bool        `json:"demo" doc:"Whether these are the books of the demo firm"`
	Word        bool        `json:"word" doc:"Whether setting up asks for the word that the program printed"`
}

func (s *Server) session(ctx context.Context) (*struct{ Body Session }, error) {
	out := &struct{ Body Session }{Session{Today: string(s.book.Today()), Demo: s.options.Demo, Word: s.options.SetupWord != ""}}
	firm, err := s.book.Read(ctx).Firm()
	if err == store.ErrNoFirm {
		return out, nil
	}
	if err != nil {
		return nil, problem(err)
	}
	cur, err := s.book.Currency(ctx)
	if err != nil {
		return nil, problem(err)
	}
	out.Body.SetUp, out.Body.Firm, out.Body.Currency, out.Body.Places = true, firm.Name, cur.Code, cur.Places
	out.Body.DateStyle, out.Body.NumberStyle = string(firm.DateStyle), NumberStyle(firm.NumberStyle)
	if id := s.user(ctx); id != 0 {
		u, ok, err := s.book.Read(ctx).User(id)
		if err != nil {
			return nil, problem(err)
		}
		out.Body.SignedIn, out.Body.User = ok, u.Name
	}
	return out, nil
}

type signInInput struct {
	Body struct {
		Email    string `json:"email"`
		Password string `json:"password"`
	}
	remote string
}

// Resolve keeps the address of the one who tries.
func (i *signInInput) Resolve(ctx huma.Context) []error {
	i.remote, _, _ = net.SplitHostPort(ctx.RemoteAddr())
	return nil
}

func (s *Server) signIn(ctx context.Context, in *signInInput) (*struct{ Body Session }, error) {
	keys := []string{"at " + in.remote, "as " + strings.ToLower(strings.TrimSpace(in.Body.Email))}
	for _, key := range keys {
		if wait := s.tries.wait(key); wait > 0 {
			return nil, tooMany(wait)
		}
	}
	u, err := s.book.SignIn(ctx, in.Body.Email, in.Body.Password)
	if err == books.ErrWrongSignIn {
		for _, key := range keys {
			s.tries.fail(key)
		}
		return nil, plain(http.StatusUnauthorized, sentence(err))
	}
	if err != nil {
		return nil, problem(err)
	}
	s.tries.succeed(keys[1])
	if err := s.sessions.RenewToken(ctx); err != nil {
		return nil, problem(err)
	}
	s.sessions.Put(ctx, "user", u.ID)
	return s.session(ctx)
}

// SetupBody is what a new firm is asked for.
type SetupBody struct {
	Firm      string            `json:"firm"`
	Address   string            `json:"address,omitempty"`
	TaxNumber string            `json:"taxNumber,omitempty"`
	Currency  string            `json:"currency"`
	Bank      string            `json:"bank,omitempty" doc:"Name of the first bank account; empty for the usual"`
	IBAN      string            `json:"iban,omitempty"`
	Codes     []SetupCode       `json:"codes"`
	Numbering map[string]string `json:"numbering,omitempty" doc:"Format by kind of paper"`
	Owner     string            `json:"owner"`
	Email     string            `json:"email"`
	Password  string            `json:"password"`
	Word      string            `json:"word,omitempty" doc:"The word that the program printed when it started, where it asks for one"`
}

// SetupCode is a tax code of a new firm.
type SetupCode struct {
	Code    string `json:"code"`
	Name    string `json:"name,omitempty"`
	Kind    string `json:"kind,omitempty"`
	Percent string `json:"percent"`
}

func (s *Server) setUp(ctx context.Context, in *struct{ Body SetupBody }) (*struct{ Body Session }, error) {
	b := in.Body
	p := &parser{}
	if word := s.options.SetupWord; word != "" && subtle.ConstantTimeCompare([]byte(word), []byte(strings.TrimSpace(b.Word))) == 0 {
		key := "setup"
		if wait := s.tries.wait(key); wait > 0 {
			return nil, tooMany(wait)
		}
		s.tries.fail(key)
		return nil, refusedProblem(posting.Refusals{{Field: "word", Rule: "wrong", Text: "This is not the word that the program printed when it started. It stands where the program was started, below its address."}})
	}
	setup := books.Setup{Firm: b.Firm, Address: b.Address, TaxNumber: b.TaxNumber, Currency: b.Currency, Bank: b.Bank, IBAN: b.IBAN,
		Owner: b.Owner, Email: b.Email, Password: b.Password, Numbering: map[posting.Kind]string{}}
	for _, c := range b.Codes {
		kind := tax.Kind(c.Kind)
		if kind == "" {
			kind = tax.Charged
		}
		setup.Codes = append(setup.Codes, books.SetupCode{Code: c.Code, Name: c.Name, Kind: kind, Percent: p.decimal("codes", c.Percent, 4)})
	}
	for kind, format := range b.Numbering {
		setup.Numbering[posting.Kind(kind)] = format
	}
	if len(p.refusals) > 0 {
		return nil, refusedProblem(p.refusals)
	}
	if err := s.book.SetUp(ctx, setup); err != nil {
		return nil, problem(err)
	}
	sign := &signInInput{}
	sign.Body.Email, sign.Body.Password = b.Email, b.Password
	return s.signIn(ctx, sign)
}

func (s *Server) registerSession() {
	huma.Register(s.api, describe("session", "GET", "/api/v1/session", "Who is signed in"), func(ctx context.Context, _ *struct{}) (*struct{ Body Session }, error) {
		return s.session(ctx)
	})
	huma.Register(s.api, describe("sign-in", "POST", "/api/v1/session", "Sign in"), s.signIn)
	huma.Register(s.api, describe("sign-out", "DELETE", "/api/v1/session", "Sign out"), func(ctx context.Context, _ *struct{}) (*struct{}, error) {
		return nil, problem(s.sessions.Destroy(ctx))
	})
	huma.Register(s.api, describe("set-up", "POST", "/api/v1/setup", "Set up a new firm"), s.setUp)
	type passwordBody struct {
		Old      string `json:"old"`
		Password string `json:"password"`
	}
	huma.Register(s.api, describe("change-password", "POST", "/api/v1/password", "Change one's password"), func(ctx context.Context, in *struct{ Body passwordBody }) (*struct{}, error) {
		return nil, problem(s.book.ChangePassword(ctx, s.user(ctx), in.Body.Old, in.Body.Password))
	})
}

// describe names an operation.
func describe(id, method, path, summary string) huma.Operation {
	return huma.Operation{OperationID: id, Method: method, Path: path, Summary: summary, MaxBodyBytes: 9 << 20}
}
