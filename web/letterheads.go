package web

import (
	"context"
	"encoding/json"

	"cleantally/books"
	"cleantally/core/master"
	"cleantally/core/sheet"
	"cleantally/store"

	"github.com/danielgtaylor/huma/v2"
)

// Letterhead is a named layout of the firm's papers.
type Letterhead struct {
	ID       int64             `json:"id,omitempty"`
	Version  int64             `json:"version,omitempty" readOnly:"true" doc:"Counts its changes; If-Match needs it"`
	Name     string            `json:"name"`
	Colour   string            `json:"colour,omitempty" maxLength:"20" doc:"Of heading and rules, #9a4a1c; empty for the program's own"`
	Foot     string            `json:"foot,omitempty" doc:"Lines at the foot of each page"`
	Window   string            `json:"window,omitempty" enum:"left,right" doc:"Where the address stands"`
	Kinds    []Kind            `json:"kinds,omitempty" maxItems:"40" doc:"Of papers that take it by themselves"`
	Hidden   []string          `json:"hidden,omitempty" maxItems:"10" doc:"Columns that are left out, by our names"`
	Words    map[string]string `json:"words,omitempty" doc:"In place of ours"`
	NoCode   bool              `json:"noCode,omitempty" doc:"No payment code"`
	NoBank   bool              `json:"noBank,omitempty" doc:"No bank details either"`
	Inactive bool              `json:"inactive,omitempty"`
	Logo     bool              `json:"logo,omitempty" readOnly:"true" doc:"Whether it has a picture"`
}

func (l Letterhead) record() (master.Letterhead, error) {
	m := master.Letterhead{ID: l.ID, Version: l.Version, Name: l.Name, Colour: l.Colour, Foot: l.Foot, Side: l.Window, NoCode: l.NoCode, NoBank: l.NoBank, Inactive: l.Inactive}
	if m.Side == "" {
		m.Side = string(sheet.WindowLeft)
	}
	for _, part := range []struct {
		of any
		to *string
	}{{orEmpty(l.Kinds), &m.Kinds}, {orEmpty(l.Hidden), &m.Hidden}, {l.Words, &m.Words}} {
		text, err := json.Marshal(part.of)
		if err != nil {
			return m, err
		}
		*part.to = string(text)
	}
	if l.Words == nil {
		m.Words = "{}"
	}
	return m, nil
}

func orEmpty[T any](list []T) []T {
	if list == nil {
		return []T{}
	}
	return list
}

func (s *Server) letterheads(ctx context.Context) ([]Letterhead, error) {
	r := s.book.Read(ctx)
	rows, err := store.All[master.Letterhead](r, "name")
	var out []Letterhead
	for _, m := range rows {
		l := Letterhead{ID: m.ID, Version: m.Version, Name: m.Name, Colour: m.Colour, Foot: m.Foot, Window: m.Side, NoCode: m.NoCode, NoBank: m.NoBank, Inactive: m.Inactive}
		for _, part := range []struct {
			text string
			to   any
		}{{m.Kinds, &l.Kinds}, {m.Hidden, &l.Hidden}, {m.Words, &l.Words}} {
			if err := json.Unmarshal([]byte(part.text), part.to); err != nil {
				return nil, err
			}
		}
		picture, err := r.Logo(m.ID)
		if err != nil {
			return nil, err
		}
		l.Logo = len(picture) > 0
		out = append(out, l)
	}
	return out, err
}

// LetterheadPreview is a paper as it would go out in a letterhead.
type LetterheadPreview struct {
	Sheet    sheet.Sheet `json:"sheet"`
	Words    []string    `json:"words" doc:"All that a paper says of its own, in order"`
	Columns  []string    `json:"columns" doc:"Those that can be left out"`
	Refusals []Notice    `json:"refusals"`
}

func (s *Server) previewLetterhead(ctx context.Context, in *struct{ Body Letterhead }) (*struct{ Body LetterheadPreview }, error) {
	m, err := in.Body.record()
	if err != nil {
		return nil, problem(err)
	}
	of, err := s.book.TryLetterhead(ctx, m)
	if err != nil {
		return nil, problem(err)
	}
	return &struct{ Body LetterheadPreview }{LetterheadPreview{of, sheet.Words, sheet.Columns, []Notice{}}}, nil
}

func (s *Server) registerLetterheads() {
	records(s, "letterheads", "letterhead", s.letterheads, func(r Letterhead, v int64) Letterhead { r.Version = v; return r }, func(ctx context.Context, id int64, l Letterhead, _ *parser) error {
		m, err := l.record()
		if err != nil {
			return err
		}
		m.ID = id
		return s.book.SaveLetterhead(ctx, s.user(ctx), &m)
	})
	huma.Register(s.api, describe("preview-letterhead", "POST", "/api/v1/letterheads/preview", "The newest invoice as it would go out in a letterhead"), s.previewLetterhead)
	huma.Register(s.api, describe("letterhead-logo", "GET", "/api/v1/letterheads/{id}/logo", "The picture of a letterhead"), func(ctx context.Context, in *struct {
		ID int64 `path:"id"`
	}) (*attachedFile, error) {
		picture, err := s.book.Read(ctx).Logo(in.ID)
		if err == nil && len(picture) == 0 {
			return nil, errNotFound
		}
		return shownFile(books.PictureType(picture), "logo", picture), problem(err)
	})
	type logo struct {
		ID      int64  `path:"id"`
		RawBody []byte `contentType:"application/octet-stream"`
	}
	huma.Register(s.api, describe("set-logo", "PUT", "/api/v1/letterheads/{id}/logo", "Give a letterhead a picture"), func(ctx context.Context, in *logo) (*struct{}, error) {
		return nil, problem(s.book.SetLogo(ctx, s.user(ctx), in.ID, in.RawBody))
	})
	huma.Register(s.api, describe("drop-logo", "DELETE", "/api/v1/letterheads/{id}/logo", "Take the picture of a letterhead off"), func(ctx context.Context, in *struct {
		ID int64 `path:"id"`
	}) (*struct{}, error) {
		return nil, problem(s.book.SetLogo(ctx, s.user(ctx), in.ID, nil))
	})
	type choice struct {
		ID   int64 `path:"id"`
		Body struct {
			Letterhead int64 `json:"letterhead" doc:"0: that of its customer or kind"`
		}
	}
	huma.Register(s.api, describe("choose-letterhead", "PUT", "/api/v1/papers/{id}/letterhead", "Say in which letterhead a paper goes out"), func(ctx context.Context, in *choice) (*struct{}, error) {
		return nil, problem(s.book.ChooseLetterhead(ctx, s.user(ctx), in.ID, in.Body.Letterhead))
	})
}
