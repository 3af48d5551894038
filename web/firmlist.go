package web

import (
	"context"
	"errors"
	"net/http"
	"slices"
	"strings"

	"cleantally/core/posting"
	"cleantally/core/rights"
	"cleantally/store"

	"github.com/danielgtaylor/huma/v2"
)

// FirmAt is a firm of the program, and where it is.
type FirmAt struct {
	At       string `json:"at" doc:"Its address in the program, /firm/NAME; empty for the first"`
	Name     string `json:"name" doc:"Empty while it is not set up"`
	Here     bool   `json:"here" doc:"Whether it is the one that is asked"`
	SignedIn bool   `json:"signedIn" doc:"Whether this browser is signed in there"`
}

// FirmList are the firms that a person is told of.
type FirmList struct {
	Rows   []FirmAt `json:"rows"`
	Starts bool     `json:"starts" doc:"Whether they may start another: an owner of the first firm may"`
}

// StartedFirm is where a firm is that was started.
type StartedFirm struct {
	At   string `json:"at"`
	Word string `json:"word" doc:"What setting it up asks for; empty for nothing"`
}

func (s *Server) registerFirms() {
	type asked struct {
		Cookie string `header:"Cookie" doc:"Of the sessions in other firms"`
	}
	huma.Register(s.api, describe("firms", "GET", "/api/v1/firms", "The firms of this program that one is in: those one is, or was, signed in to at the same time; an owner of the first is told of all"), func(ctx context.Context, in *asked) (*struct{ Body FirmList }, error) {
		list, err := s.firmList(ctx, in.Cookie)
		return &struct{ Body FirmList }{list}, problem(err)
	})
	type starting struct {
		Body struct {
			Name string `json:"name" maxLength:"60" doc:"Short, for the address"`
		}
	}
	huma.Register(s.api, describe("start-firm", "POST", "/api/v1/firms", "Start the books of another firm"), func(ctx context.Context, in *starting) (*struct{ Body StartedFirm }, error) {
		if s.options.firms == nil || s.options.At != "" {
			return nil, problem(posting.Refusals{{Field: "name", Rule: "starting a firm", Text: "A firm is started from the first firm of the program, by one of its owners."}})
		}
		name := strings.ToLower(strings.TrimSpace(in.Body.Name))
		word, err := s.options.firms.start(ctx, name)
		return &struct{ Body StartedFirm }{StartedFirm{FirmPath(name), word}}, problem(err)
	})
}

// firmList tells a person of the firms that they are in. That somebody has the
// same e-mail address elsewhere proves nothing: it counts where this browser is
// signed in there too, and is remembered then.
func (s *Server) firmList(ctx context.Context, cookies string) (FirmList, error) {
	firm, err := s.book.Read(ctx).Firm()
	if err != nil {
		return FirmList{}, err
	}
	list := FirmList{Rows: []FirmAt{{At: s.options.At, Name: firm.Name, Here: true, SignedIn: true}}}
	if s.options.firms == nil {
		return list, nil
	}
	known, err := s.book.OtherFirms(ctx)
	if err != nil {
		return FirmList{}, err
	}
	others := map[string]FirmAt{}
	for _, k := range known {
		if s.options.firms.serves(k.At) {
			others[k.At] = FirmAt{At: k.At, Name: k.Name}
		}
	}
	if list.Starts, err = s.ownsFirst(ctx); err != nil {
		return FirmList{}, err
	}
	if list.Starts {
		for _, name := range s.options.firms.names() {
			at := FirmPath(name)
			called, err := s.options.firms.called(ctx, name)
			if err != nil {
				return FirmList{}, err
			}
			others[at] = FirmAt{At: at, Name: called}
		}
	}
	for at, token := range s.options.sessionsIn(cookies) {
		if at == s.options.At || !s.options.firms.serves(at) {
			continue
		}
		name, in, err := s.options.firms.signedInTo(ctx, at, token)
		if err != nil {
			return FirmList{}, err
		}
		if in {
			others[at] = FirmAt{At: at, Name: name, SignedIn: true}
			if err := s.book.RememberFirm(ctx, store.OtherFirm{At: at, Name: name}); err != nil {
				return FirmList{}, err
			}
		}
	}
	for _, o := range others {
		list.Rows = append(list.Rows, o)
	}
	slices.SortFunc(list.Rows, func(a, b FirmAt) int { return strings.Compare(a.At, b.At) })
	return list, nil
}

// ownsFirst tells whether who asks is an owner of the program's first firm.
func (s *Server) ownsFirst(ctx context.Context) (bool, error) {
	if s.options.At != "" {
		return false, nil
	}
	p, err := s.book.Person(ctx)
	return err == nil && p.Need(rights.ToOwn) == nil, err
}

// sessionsIn are the tokens of sessions by the address of their firm, as a
// request bears them.
func (o Options) sessionsIn(cookies string) map[string]string {
	tokens := map[string]string{}
	all, _ := http.ParseCookie(cookies) // what is no cookie is none of ours
	first := o.cookieAt("")
	for _, c := range all {
		switch name, further := strings.CutPrefix(c.Name, first+"-"); {
		case c.Name == first:
			tokens[""] = c.Value
		case further:
			tokens[FirmPath(name)] = c.Value
		}
	}
	return tokens
}

// serves tells whether there is a firm at an address.
func (f *Firms) serves(at string) bool {
	return at == "" || f.there(strings.TrimPrefix(at, firmPath))
}

// at keeps the books of a firm open until leave is called.
func (f *Firms) at(ctx context.Context, at string) (s *Server, leave func(), err error) {
	if at == "" {
		return f.first, func() {}, nil
	}
	return f.enter(ctx, strings.TrimPrefix(at, firmPath), false)
}

// called is what a further firm is called; "" while it is not set up.
func (f *Firms) called(ctx context.Context, name string) (string, error) {
	s, leave, err := f.enter(ctx, name, false)
	if err != nil {
		return "", err
	}
	defer leave()
	firm, err := s.book.Read(ctx).Firm()
	if errors.Is(err, store.ErrNoFirm) {
		return "", nil
	}
	return firm.Name, err
}

// signedInTo tells whether a token is that of a session that goes on in a firm,
// and what the firm is called.
func (f *Firms) signedInTo(ctx context.Context, at, token string) (name string, in bool, err error) {
	s, leave, err := f.at(ctx, at)
	if err != nil {
		return "", false, err
	}
	defer leave()
	// What that firm's sessions keep in a context stands under another key than
	// that of who asks here.
	there, err := s.sessions.Load(context.WithoutCancel(ctx), token)
	if err != nil || s.user(there) == 0 {
		return "", false, err
	}
	if in, err = s.goesOn(there); err != nil || !in {
		return "", false, err
	}
	firm, err := s.book.Read(ctx).Firm()
	return firm.Name, true, err
}

// hasOthers tells whether the program serves other firms besides.
func (s *Server) hasOthers() bool {
	return s.options.firms != nil && (s.options.At != "" || len(s.options.firms.names()) > 0)
}
