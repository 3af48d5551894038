package web

import (
	"context"
	"errors"
	"fmt"

	"cleantally/formats"
	"cleantally/store"

	"github.com/danielgtaylor/huma/v2"
)

// AuditInput narrows the audit record.
type AuditInput struct {
	Search string `query:"q" maxLength:"100" doc:"What it says"`
	Person int64  `query:"person"`
	From   string `query:"from"`
	To     string `query:"to"`
}

func (s *Server) auditFilter(in AuditInput) (store.ActFilter, error) {
	from, err1 := s.dayOr(in.From, "")
	to, err2 := s.dayOr(in.To, "")
	return store.ActFilter{Search: in.Search, UserID: in.Person, From: from, To: to}, errors.Join(err1, err2)
}

func (s *Server) registerAudit() {
	type acts struct {
		Rows   []Act   `json:"rows"`
		Next   int64   `json:"next,omitempty"`
		People []Named `json:"people" doc:"Who did something, or could"`
	}
	type input struct {
		AuditInput
		After int64 `query:"after"`
		Limit int   `query:"limit" minimum:"1" maximum:"200" default:"60"`
	}
	huma.Register(s.api, describe("audit", "GET", "/api/v1/audit", "The audit record, the newest first"), func(ctx context.Context, in *input) (*struct{ Body acts }, error) {
		f, err := s.auditFilter(in.AuditInput)
		if err != nil {
			return nil, err
		}
		f.Before = in.After
		rows, err := s.book.Read(ctx).Acts(f, in.Limit)
		if err != nil {
			return nil, problem(err)
		}
		out := &struct{ Body acts }{acts{Rows: []Act{}, People: []Named{}}}
		for _, a := range rows {
			out.Body.Rows = append(out.Body.Rows, Act{a.ID, a.At, a.User, a.Summary})
		}
		if len(rows) == in.Limit {
			out.Body.Next = rows[len(rows)-1].ID
		}
		users, err := s.book.Read(ctx).Users()
		for _, u := range users {
			out.Body.People = append(out.Body.People, Named{u.ID, u.Name})
		}
		return out, problem(err)
	})
	type fileInput struct {
		AuditInput
		Format string `query:"format" enum:"csv,xlsx"`
	}
	huma.Register(s.api, describe("audit-file", "GET", "/api/v1/audit/file", "The audit record, as a file"), func(ctx context.Context, in *fileInput) (*fileOutput, error) {
		f, err := s.auditFilter(in.AuditInput)
		if err != nil {
			return nil, err
		}
		rows, err := s.book.Read(ctx).Acts(f, 0)
		if err != nil {
			return nil, problem(err)
		}
		t := formats.Table{Header: []string{"Act", "When (UTC)", "Who", "What"}}
		for _, a := range rows {
			t.Rows = append(t.Rows, []string{fmt.Sprint(a.ID), a.At, a.User, a.Summary})
		}
		return fileOf(in.Format, "audit", t, map[int]bool{0: true})
	})
}
