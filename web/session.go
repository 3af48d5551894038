package web

import (
	"context"
	"errors"
	"maps"
	"net/http"
	"slices"
	"strings"
	"time"

	"cleantally/books"
	"cleantally/core/posting"
	"cleantally/core/tax"
	"cleantally/store"

	"github.com/danielgtaylor/huma/v2"
)

// What may be asked without being signed in.
var open = map[string]bool{
	"GET /api/v1/session": true, "POST /api/v1/session": true, "POST /api/v1/setup": true,
	"POST /api/v1/invited": true, "POST /api/v1/invited/accept": true, "GET /api/openapi.json": true, "GET /api/openapi.yaml": true,
	"GET /api/openapi-3.0.json": true, "GET /api/openapi-3.0.yaml": true,
}

// How long a session goes on: unused, and in all.
const (
	idleSession = 2 * time.Hour
	mostSession = 12 * time.Hour
	seenEvery   = 5 * time.Minute // how exactly it is kept when it was last used
)

// signedIn refuses everything else to those who are not. A session that was not
// used for long, or that began with a password that is changed by now, has ended.
func (s *Server) signedIn(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		ctx := r.Context()
		if s.user(ctx) != 0 {
			on, err := s.goesOn(ctx)
			if err == nil && !on {
				err = s.sessions.Destroy(ctx)
			}
			if err != nil {
				var p *Problem
				errors.As(problem(err), &p)
				writeProblem(w, p)
				return
			}
		}
		if strings.HasPrefix(r.URL.Path, "/api/") && !open[r.Method+" "+r.URL.Path] && s.user(ctx) == 0 {
			writeProblem(w, plain(http.StatusUnauthorized, "You are not signed in any more. Sign in again; what you typed is kept."))
			return
		}
		next.ServeHTTP(w, r)
	})
}

// goesOn tells whether the session of a request goes on.
func (s *Server) goesOn(ctx context.Context) (bool, error) {
	now, seen := s.book.Now().Unix(), s.sessions.GetInt64(ctx, "seen")
	if now-seen > int64(idleSession.Seconds()) {
		return false, nil
	}
	on, err := s.book.MaySign(ctx, books.SignedIn{ID: s.user(ctx), Key: s.sessions.GetString(ctx, "key")})
	if on && now-seen > int64(seenEvery.Seconds()) {
		s.sessions.Put(ctx, "seen", now)
	}
	return on, err
}

// begin begins the session of one who signed in, under a new name.
func (s *Server) begin(ctx context.Context, in books.SignedIn) error {
	err := s.sessions.RenewToken(ctx)
	s.sessions.Put(ctx, "user", in.ID)
	s.sessions.Put(ctx, "key", in.Key)
	now := s.book.Now().Unix()
	s.sessions.Put(ctx, "seen", now)
	s.sessions.Put(ctx, "began", now)
	from, _ := ctx.Value(callerKey{}).(cameFrom)
	s.sessions.Put(ctx, "address", from.address)
	s.sessions.Put(ctx, "with", from.with)
	return err
}

// user returns who is signed in, 0 for nobody.
func (s *Server) user(ctx context.Context) int64 { return s.sessions.GetInt64(ctx, "user") }

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
	Email       string      `json:"email" doc:"That one signs in with"`
	Role        string      `json:"role"`
	Rights      []string    `json:"rights" doc:"What one may do"`
	Writes      []string    `json:"writes" doc:"The kinds of draft that one may write"`
	Posts       []string    `json:"posts" doc:"Those of them that one may post"`
	Factor      bool        `json:"factor" doc:"Whether one signs in with a second factor"`
	Firms       bool        `json:"firms" doc:"Whether the program serves other firms besides"`
	Spare       int         `json:"spare" doc:"How many spare codes are left"`
}

func (s *Server) session(ctx context.Context) (*struct{ Body Session }, error) {
	out := &struct{ Body Session }{Session{Today: string(s.book.Today()), Demo: s.options.Demo, Word: s.options.SetupWord != "", Firms: s.hasOthers(), Rights: []string{}, Writes: []string{}, Posts: []string{}}}
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
		if err := s.sessionOf(ctx, id, &out.Body); err != nil {
			return nil, problem(err)
		}
	}
	return out, nil
}

// sessionOf adds who is signed in, and what they may do.
func (s *Server) sessionOf(ctx context.Context, id int64, to *Session) error {
	u, ok, err := s.book.Read(ctx).User(id)
	if err != nil || !ok || u.Ended {
		return err
	}
	who, err := s.book.Person(books.As(ctx, id))
	if err != nil {
		return err
	}
	to.SignedIn, to.User, to.Email, to.Role, to.Factor = true, u.Name, u.Email, string(u.Role), u.Factor != ""
	for _, right := range who.Rights() {
		to.Rights = append(to.Rights, string(right))
	}
	for _, kind := range slices.Sorted(maps.Keys(draftKinds)) {
		if !who.May(books.MayDraft(posting.Kind(kind))) {
			continue
		}
		to.Writes = append(to.Writes, string(kind))
		if who.May(books.MayPost(posting.Kind(kind))) {
			to.Posts = append(to.Posts, string(kind))
		}
	}
	to.Spare, err = s.book.Read(ctx).SpareCodes(id)
	return err
}

// A caller is where a request comes from.
type caller struct{ address string }

// Resolve finds out where a request comes from.
func (c *caller) Resolve(ctx huma.Context) []error {
	from, _ := ctx.Context().Value(callerKey{}).(cameFrom)
	c.address = from.address
	return nil
}

type signInInput struct {
	Body struct {
		Email    string `json:"email" maxLength:"200"`
		Password string `json:"password" maxLength:"400"`
		Code     string `json:"code,omitempty" maxLength:"40" doc:"Of the second factor, or a spare code, where one is asked for"`
	}
	caller
}

func (s *Server) signIn(ctx context.Context, in *signInInput) (*struct{ Body Session }, error) {
	who, err := s.book.SignIn(ctx, in.Body.Email, in.Body.Password, in.Body.Code, in.address)
	if err == nil {
		err = s.begin(ctx, who)
	}
	if err != nil {
		return nil, problem(err)
	}
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

type setupInput struct {
	Body SetupBody
	caller
}

func (s *Server) setUp(ctx context.Context, in *setupInput) (*struct{ Body Session }, error) {
	b := in.Body
	p := &parser{}
	if right, err := s.book.SetupWordHolds(s.options.SetupWord, strings.TrimSpace(b.Word)); err != nil {
		return nil, problem(err)
	} else if !right {
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
	sign := &signInInput{caller: in.caller}
	sign.Body.Email, sign.Body.Password = b.Email, b.Password
	return s.signIn(ctx, sign)
}

func (s *Server) registerSession() {
	huma.Register(s.api, describe("session", "GET", "/api/v1/session", "Who is signed in"), func(ctx context.Context, _ *struct{}) (*struct{ Body Session }, error) {
		return s.session(ctx)
	})
	huma.Register(s.api, short(describe("sign-in", "POST", "/api/v1/session", "Sign in"), 4<<10), s.signIn)
	huma.Register(s.api, describe("sign-out", "DELETE", "/api/v1/session", "Sign out"), func(ctx context.Context, _ *struct{}) (*struct{}, error) {
		return nil, problem(s.sessions.Destroy(ctx))
	})
	huma.Register(s.api, short(describe("set-up", "POST", "/api/v1/setup", "Set up a new firm"), 32<<10), s.setUp)
	type passwordBody struct {
		Old      string `json:"old" maxLength:"400"`
		Password string `json:"password" maxLength:"400"`
	}
	huma.Register(s.api, short(describe("change-password", "POST", "/api/v1/password", "Change one's password; every other session of theirs ends"), 4<<10), func(ctx context.Context, in *struct{ Body passwordBody }) (*struct{}, error) {
		who, err := s.book.ChangePassword(ctx, s.user(ctx), in.Body.Old, in.Body.Password)
		if err == nil {
			err = s.begin(ctx, who)
		}
		return nil, problem(err)
	})
}

// short bounds what an operation reads that anybody may call.
func short(o huma.Operation, most int64) huma.Operation {
	o.MaxBodyBytes = most
	return o
}

// describe names an operation.
func describe(id, method, path, summary string) huma.Operation {
	return huma.Operation{OperationID: id, Method: method, Path: path, Summary: summary, MaxBodyBytes: 9 << 20}
}
