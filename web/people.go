package web

import (
	"cmp"
	"context"
	"encoding/base64"
	"slices"
	"time"

	"cleantally/core/rights"
	"cleantally/formats/pdf"
	"cleantally/store"

	"github.com/danielgtaylor/huma/v2"
)

// Person is somebody who may sign in, or who might once.
type Person struct {
	ID      int64  `json:"id"`
	Version int64  `json:"version"`
	Name    string `json:"name"`
	Email   string `json:"email"`
	Role    string `json:"role" enum:"owner,bookkeeper,biller,cashier,reader"`
	Ended   bool   `json:"ended" doc:"Whether they may not sign in any more"`
	Factor  bool   `json:"factor" doc:"Whether they sign in with a second factor"`
	Self    bool   `json:"self" doc:"Whether it is who asks"`
}

// Invitation lets one more person in.
type Invitation struct {
	ID    int64  `json:"id"`
	Name  string `json:"name"`
	Email string `json:"email"`
	Role  string `json:"role"`
	By    string `json:"by" doc:"Who invited them"`
	Until string `json:"until" doc:"UTC, RFC 3339"`
	Late  bool   `json:"late" doc:"Whether it does not hold any more"`
}

// Choices are what the firm settles about billers.
type Choices struct {
	BillerPosts   bool `json:"billerPosts"`
	BillerChooses bool `json:"billerChooses"`
}

// RoleRight is a right with the roles that have it.
type RoleRight struct {
	Right string   `json:"right"`
	Roles []string `json:"roles"`
}

// SignedInAs is a session that goes on.
type SignedInAs struct {
	ID      string `json:"id"`
	User    string `json:"user"`
	Began   string `json:"began" doc:"UTC, RFC 3339"`
	Seen    string `json:"seen"`
	Address string `json:"address"`
	With    string `json:"with" doc:"The browser"`
	Here    bool   `json:"here" doc:"Whether it is the one that asks"`
}

// People is everybody, with what each may do.
type People struct {
	Rows        []Person     `json:"rows"`
	Invitations []Invitation `json:"invitations"`
	Choices     Choices      `json:"choices"`
	Rights      []RoleRight  `json:"rights"`
}

func (s *Server) people(ctx context.Context, _ *struct{}) (*struct{ Body People }, error) {
	r := s.book.Read(ctx)
	users, err := r.Users()
	if err != nil {
		return nil, problem(err)
	}
	who, err := s.book.Person(ctx)
	if err != nil {
		return nil, problem(err)
	}
	invited, err := r.Invitations()
	out := &struct{ Body People }{People{Rows: []Person{}, Invitations: []Invitation{}, Choices: Choices(who.Choices)}}
	for _, u := range users {
		out.Body.Rows = append(out.Body.Rows, Person{u.ID, u.Version, u.Name, u.Email, string(u.Role), u.Ended, u.Factor != "", u.ID == who.ID})
	}
	for _, i := range invited {
		until, err := time.Parse(time.RFC3339, i.Until)
		out.Body.Invitations = append(out.Body.Invitations, Invitation{i.ID, i.Name, i.Email, string(i.Role), i.By, i.Until, err != nil || s.book.Now().After(until)})
	}
	for _, right := range rights.Rights() {
		row := RoleRight{string(right), []string{}}
		for _, role := range rights.Who(right, who.Choices) {
			row.Roles = append(row.Roles, string(role))
		}
		out.Body.Rights = append(out.Body.Rights, row)
	}
	return out, problem(err)
}

// sessionsOf are the sessions that go on of the one who asks; of everybody for
// an owner.
func (s *Server) sessionsOf(ctx context.Context) ([]SignedInAs, error) {
	now := s.book.Now()
	kept, err := s.kept.All(ctx, time.Now().Unix())
	if err != nil {
		return nil, err
	}
	who, err := s.book.Person(ctx)
	if err != nil {
		return nil, err
	}
	users, err := s.book.Read(ctx).Users()
	if err != nil {
		return nil, err
	}
	here, all := store.NameOf(s.sessions.Token(ctx)), []SignedInAs{}
	for _, k := range kept {
		_, values, err := codec{}.Decode(k.Data)
		user, _ := values["user"].(int64)
		seen, _ := values["seen"].(int64)
		n := slices.IndexFunc(users, func(u store.User) bool { return u.ID == user && !u.Ended })
		if err != nil || n < 0 || user != who.ID && !who.May(rights.ToOwn) || now.Unix()-seen > int64(idleSession.Seconds()) {
			continue
		}
		began, _ := values["began"].(int64)
		address, _ := values["address"].(string)
		with, _ := values["with"].(string)
		moment := func(at int64) string { return time.Unix(at, 0).UTC().Format(time.RFC3339) }
		all = append(all, SignedInAs{k.Token, users[n].Name, moment(began), moment(seen), address, with, k.Token == here})
	}
	slices.SortFunc(all, func(a, b SignedInAs) int { return cmp.Or(cmp.Compare(b.Seen, a.Seen), cmp.Compare(a.ID, b.ID)) })
	return all, nil
}

func (s *Server) registerPeople() {
	huma.Register(s.api, describe("people", "GET", "/api/v1/people", "Who may sign in, and what each may do"), s.people)
	type savePerson struct {
		ID int64 `path:"id"`
		IfMatch
		Body struct {
			Name  string `json:"name"`
			Role  string `json:"role" maxLength:"40"`
			Ended bool   `json:"ended,omitempty"`
		}
	}
	huma.Register(s.api, describe("save-person", "PUT", "/api/v1/people/{id}", "Change what a person may do, or end their access"), func(ctx context.Context, in *savePerson) (*struct{}, error) {
		version, err := in.version()
		if err != nil {
			return nil, err
		}
		return nil, problem(s.book.SavePerson(ctx, s.user(ctx), store.User{ID: in.ID, Version: version, Name: in.Body.Name, Role: rights.Role(in.Body.Role), Ended: in.Body.Ended}))
	})
	huma.Register(s.api, describe("save-choices", "PUT", "/api/v1/choices", "Settle what a biller may do"), func(ctx context.Context, in *struct{ Body Choices }) (*struct{}, error) {
		return nil, problem(s.book.SaveChoices(ctx, s.user(ctx), rights.Choices(in.Body)))
	})
	s.registerInvitations()
	s.registerFactor()
	type sessions struct {
		Rows []SignedInAs `json:"rows"`
	}
	huma.Register(s.api, describe("sessions", "GET", "/api/v1/sessions", "Where one is signed in; of everybody for an owner"), func(ctx context.Context, _ *struct{}) (*struct{ Body sessions }, error) {
		all, err := s.sessionsOf(ctx)
		return &struct{ Body sessions }{sessions{all}}, problem(err)
	})
	type one struct {
		ID string `path:"id" maxLength:"100"`
	}
	huma.Register(s.api, describe("end-session", "DELETE", "/api/v1/sessions/{id}", "End a session"), func(ctx context.Context, in *one) (*struct{}, error) {
		all, err := s.sessionsOf(ctx)
		if err != nil {
			return nil, problem(err)
		}
		if !slices.ContainsFunc(all, func(k SignedInAs) bool { return k.ID == in.ID }) {
			return nil, errNotFound
		}
		return nil, problem(s.kept.End(ctx, in.ID))
	})
}

func (s *Server) registerInvitations() {
	type wanted struct {
		Name  string `json:"name"`
		Email string `json:"email"`
		Role  string `json:"role" maxLength:"40"`
	}
	type invitedBy struct {
		Secret string `json:"secret" doc:"For the link, which is shown once"`
	}
	huma.Register(s.api, describe("invite", "POST", "/api/v1/invitations", "Invite one more person"), func(ctx context.Context, in *struct{ Body wanted }) (*struct{ Body invitedBy }, error) {
		secret, err := s.book.Invite(ctx, s.user(ctx), store.Invitation{Name: in.Body.Name, Email: in.Body.Email, Role: rights.Role(in.Body.Role)})
		return &struct{ Body invitedBy }{invitedBy{secret}}, problem(err)
	})
	type one struct {
		ID int64 `path:"id"`
	}
	huma.Register(s.api, describe("end-invitation", "DELETE", "/api/v1/invitations/{id}", "End an invitation that nobody has used"), func(ctx context.Context, in *one) (*struct{}, error) {
		return nil, problem(s.book.EndInvitation(ctx, s.user(ctx), in.ID))
	})
	type bySecret struct {
		Secret string `json:"secret" maxLength:"100"`
	}
	type invited struct {
		Firm  string `json:"firm"`
		Name  string `json:"name"`
		Email string `json:"email"`
		Role  string `json:"role"`
		By    string `json:"by"`
	}
	huma.Register(s.api, short(describe("invited", "POST", "/api/v1/invited", "What an invitation is for"), 1<<10), func(ctx context.Context, in *struct{ Body bySecret }) (*struct{ Body invited }, error) {
		i, err := s.book.Invited(ctx, in.Body.Secret)
		if err != nil {
			return nil, problem(err)
		}
		firm, err := s.book.Read(ctx).Firm()
		return &struct{ Body invited }{invited{firm.Name, i.Name, i.Email, string(i.Role), i.By}}, problem(err)
	})
	type acceptInput struct {
		Body struct {
			Secret   string `json:"secret" maxLength:"100"`
			Password string `json:"password" maxLength:"400"`
		}
		caller
	}
	huma.Register(s.api, short(describe("accept-invitation", "POST", "/api/v1/invited/accept", "Choose a password and sign in"), 4<<10), func(ctx context.Context, in *acceptInput) (*struct{ Body Session }, error) {
		who, err := s.book.Accept(ctx, in.Body.Secret, in.Body.Password, in.address)
		if err == nil {
			err = s.begin(ctx, who)
		}
		if err != nil {
			return nil, problem(err)
		}
		return s.session(ctx)
	})
}

func (s *Server) registerFactor() {
	type factor struct {
		Secret  string `json:"secret" doc:"To be typed where no picture can be taken"`
		Picture string `json:"picture" doc:"The code that an authenticator takes a picture of, as a PNG in a data address"`
	}
	huma.Register(s.api, describe("new-factor", "POST", "/api/v1/factor/new", "Begin a second factor"), func(ctx context.Context, _ *struct{}) (*struct{ Body factor }, error) {
		secret, address, err := s.book.NewFactor(ctx)
		if err != nil {
			return nil, problem(err)
		}
		picture, err := pdf.Code(address)
		return &struct{ Body factor }{factor{secret, "data:image/png;base64," + base64.StdEncoding.EncodeToString(picture)}}, problem(err)
	})
	type setFactor struct {
		Password string `json:"password" maxLength:"400"`
		Secret   string `json:"secret" maxLength:"100"`
		Code     string `json:"code" maxLength:"20"`
	}
	type spare struct {
		Codes []string `json:"codes" doc:"Each takes the place of a code once; they are shown once"`
	}
	huma.Register(s.api, short(describe("set-factor", "POST", "/api/v1/factor", "Sign in with a second factor from now on"), 4<<10), func(ctx context.Context, in *struct{ Body setFactor }) (*struct{ Body spare }, error) {
		codes, err := s.book.SetFactor(ctx, in.Body.Password, in.Body.Secret, in.Body.Code)
		return &struct{ Body spare }{spare{codes}}, problem(err)
	})
	type dropFactor struct {
		Password string `json:"password" maxLength:"400"`
	}
	huma.Register(s.api, short(describe("drop-factor", "POST", "/api/v1/factor/drop", "Sign in without a second factor again"), 4<<10), func(ctx context.Context, in *struct{ Body dropFactor }) (*struct{}, error) {
		return nil, problem(s.book.DropFactor(ctx, in.Body.Password))
	})
}
