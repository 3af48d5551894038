package web

import (
	"context"
	"encoding/json"
	"fmt"
	"net/http"
	"strconv"
	"strings"

	"cleantally/core/money"
	"cleantally/core/posting"
	"cleantally/store"

	"github.com/danielgtaylor/huma/v2"
)

// Draft is a paper that has been begun.
type Draft struct {
	ID       int64  `json:"id"`
	Kind     string `json:"kind"`
	Customer string `json:"customer"`
	Job      string `json:"job"`
	Day      string `json:"day"`
	Title    string `json:"title"`
	Total    string `json:"total"`
	SavedAt  string `json:"savedAt"`
	Body     any    `json:"body,omitempty" doc:"What was typed"`
	Settled  bool   `json:"settled,omitempty" doc:"Whether all open items that it is about are settled meanwhile; of a draft that is opened"`
}

// DraftBody is what is saved of a draft.
type DraftBody struct {
	Kind DraftKind      `json:"kind"`
	Body map[string]any `json:"body" doc:"What was typed, in the form of the command's body"`
}

type draftOutput struct {
	ETag string `header:"ETag"`
	Body Draft
}

func draftBody(d store.Draft, cur money.Currency) Draft {
	out := Draft{ID: d.ID, Kind: string(d.Kind), Customer: d.Party, Job: d.Job, Day: string(d.Day), Title: d.Title, SavedAt: d.SavedAt}
	if d.Total != 0 {
		out.Total = cur.Format(d.Total)
	}
	return out
}

func etag(d store.Draft) string { return fmt.Sprintf(`"%d-%d"`, d.ID, d.Version) }

// draftVersion reads the version out of an If-Match header.
func draftVersion(match string, id int64) (int64, bool) {
	version, ok := strings.CutPrefix(strings.Trim(match, `"`), strconv.FormatInt(id, 10)+"-")
	n, err := strconv.ParseInt(version, 10, 64)
	return n, ok && err == nil
}

func (s *Server) saveDraft(ctx context.Context, d store.Draft, in DraftBody) (*draftOutput, error) {
	p, err := s.parser(ctx)
	if err != nil {
		return nil, err
	}
	raw, err := json.Marshal(in.Body)
	if err != nil {
		return nil, problem(err)
	}
	d.Kind, d.Body = posting.Kind(in.Kind), string(raw)
	if draftKinds[in.Kind] == nil {
		return nil, plain(http.StatusUnprocessableEntity, "There is no such kind of draft.")
	}
	// What cannot be read as a command yet is kept all the same.
	c, err := draftKinds[in.Kind](raw, p)
	if err != nil {
		c = nil
	}
	if err := s.book.SaveDraft(ctx, &d, c); err != nil {
		return nil, problem(err)
	}
	saved, _, err := s.book.Read(ctx).Draft(d.ID)
	return &draftOutput{etag(d), draftBody(saved, p.cur)}, problem(err)
}

func (s *Server) registerDrafts() {
	type list struct {
		Rows []Draft `json:"rows"`
	}
	huma.Register(s.api, describe("drafts", "GET", "/api/v1/drafts", "Every draft"), func(ctx context.Context, _ *struct{}) (*struct{ Body list }, error) {
		p, err := s.parser(ctx)
		if err != nil {
			return nil, err
		}
		drafts, err := s.book.Drafts(ctx, s.book.Read(ctx))
		out := &struct{ Body list }{list{Rows: []Draft{}}}
		for _, d := range drafts {
			out.Body.Rows = append(out.Body.Rows, draftBody(d, p.cur))
		}
		return out, problem(err)
	})
	type one struct {
		ID int64 `path:"id"`
	}
	huma.Register(s.api, describe("draft", "GET", "/api/v1/drafts/{id}", "A draft with what was typed"), func(ctx context.Context, in *one) (*draftOutput, error) {
		p, err := s.parser(ctx)
		if err != nil {
			return nil, err
		}
		d, ok, err := s.book.Draft(ctx, in.ID)
		if err != nil || !ok {
			return nil, orNotFound(err)
		}
		out := &draftOutput{etag(d), draftBody(d, p.cur)}
		if out.Body.Settled, err = s.settledMeanwhile(s.book.Read(ctx), d.Body); err != nil {
			return nil, problem(err)
		}
		return out, problem(json.Unmarshal([]byte(d.Body), &out.Body.Body))
	})
	huma.Register(s.api, describe("create-draft", "POST", "/api/v1/drafts", "Begin a draft"), func(ctx context.Context, in *struct{ Body DraftBody }) (*draftOutput, error) {
		return s.saveDraft(ctx, store.Draft{}, in.Body)
	})
	type change struct {
		ID    int64  `path:"id"`
		Match string `header:"If-Match" doc:"The ETag that the draft had"`
		Body  DraftBody
	}
	huma.Register(s.api, describe("save-draft", "PUT", "/api/v1/drafts/{id}", "Save a draft"), func(ctx context.Context, in *change) (*draftOutput, error) {
		version, ok := draftVersion(in.Match, in.ID)
		if !ok {
			return nil, plain(http.StatusPreconditionRequired, "Saving a draft needs the ETag that it had, as If-Match.")
		}
		return s.saveDraft(ctx, store.Draft{ID: in.ID, Version: version}, in.Body)
	})
	huma.Register(s.api, describe("discard-draft", "DELETE", "/api/v1/drafts/{id}", "Throw a draft away"), func(ctx context.Context, in *one) (*struct{}, error) {
		return nil, problem(s.book.DiscardDraft(ctx, in.ID, s.user(ctx)))
	})
}

// orNotFound is the error, or that there is nothing.
func orNotFound(err error) error {
	if err != nil {
		return problem(err)
	}
	return errNotFound
}
