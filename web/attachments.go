package web

import (
	"context"
	"errors"
	"fmt"
	"io/fs"
	"net/http"
	"net/url"

	"cleantally/books"
	"cleantally/store"

	"github.com/danielgtaylor/huma/v2"
)

// Attachment is a file that is attached.
type Attachment struct {
	ID      int64  `json:"id"`
	Name    string `json:"name"`
	Type    string `json:"type" doc:"As its content says"`
	Size    string `json:"size" doc:"To be read"`
	Shown   bool   `json:"shown" doc:"Whether it is shown in place"`
	Picture bool   `json:"picture"`
	GoesOut bool   `json:"goesOut" doc:"With the paper; else it is only ours"`
	Added   string `json:"added" doc:"The day"`
}

// Attachments are what is attached to one thing.
type Attachments struct {
	Rows []Attachment `json:"rows"`
}

// AttachedTo names what something is attached to.
type AttachedTo struct {
	Paper    int64 `query:"paper"`
	Draft    int64 `query:"draft"`
	Customer int64 `query:"customer" doc:"A customer or supplier"`
	Job      int64 `query:"job"`
}

func (a AttachedTo) to() (store.AttachedTo, error) {
	named := 0
	for _, id := range []int64{a.Paper, a.Draft, a.Customer, a.Job} {
		if id > 0 {
			named++
		}
	}
	if named != 1 {
		return store.AttachedTo{}, plain(http.StatusBadRequest, "Name one thing: a paper, a draft, a customer or a job.")
	}
	return store.AttachedTo{PaperID: max(a.Paper, 0), DraftID: max(a.Draft, 0), PartyID: max(a.Customer, 0), JobID: max(a.Job, 0)}, nil
}

func size(bytes int64) string {
	switch {
	case bytes < 1000:
		return fmt.Sprintf("%d B", bytes)
	case bytes < 1000_000:
		return fmt.Sprintf("%d kB", (bytes+500)/1000)
	}
	return fmt.Sprintf("%.1f MB", float64(bytes)/1e6)
}

func (s *Server) attached(ctx context.Context, to store.AttachedTo) (*struct{ Body Attachments }, error) {
	if err := s.book.SeesAttached(ctx, to); err != nil {
		return nil, problem(err)
	}
	rows, err := s.book.Read(ctx).Attachments(to)
	out := &struct{ Body Attachments }{Attachments{[]Attachment{}}}
	for _, a := range rows {
		out.Body.Rows = append(out.Body.Rows, attachment(a))
	}
	return out, problem(err)
}

func attachment(a store.Attachment) Attachment {
	return Attachment{a.ID, a.Name, a.Type, size(a.Size), books.ShownInPlace(a.Type), books.ShownInPlace(a.Type) && a.Type != "application/pdf", a.GoesOut, a.AddedAt[:10]}
}

// attachedFile is the file of an attachment. It is served as what its content
// is, and as nothing else: what is no picture and no PDF is taken along.
type attachedFile struct {
	ContentType string `header:"Content-Type"`
	Disposition string `header:"Content-Disposition"`
	Policy      string `header:"Content-Security-Policy"`
	Frame       string `header:"X-Frame-Options"`
	Body        []byte
}

func (s *Server) attachedFile(ctx context.Context, in *struct {
	ID int64 `path:"id"`
}) (*attachedFile, error) {
	a, data, err := s.book.AttachedFile(ctx, in.ID)
	if errors.Is(err, fs.ErrNotExist) {
		return nil, errNotFound
	}
	return shownFile(a.Type, a.Name, data), problem(err)
}

// shownFile is a file that is shown in place, where its type may be.
func shownFile(mediaType, name string, data []byte) *attachedFile {
	how := "inline"
	if !books.ShownInPlace(mediaType) {
		how = "attachment"
	}
	return &attachedFile{mediaType, how + "; filename*=UTF-8''" + url.PathEscape(name), "default-src 'none'; style-src 'unsafe-inline'; img-src 'self'; object-src 'self'; frame-ancestors 'self'", "SAMEORIGIN", data}
}

type attachInput struct {
	AttachedTo
	Name    string `query:"name" maxLength:"400"`
	RawBody []byte `contentType:"application/octet-stream"`
}

func (s *Server) registerAttachments() {
	huma.Register(s.api, describe("attachments", "GET", "/api/v1/attachments", "What is attached to a paper, a draft, a customer or a job"), func(ctx context.Context, in *AttachedTo) (*struct{ Body Attachments }, error) {
		to, err := in.to()
		if err != nil {
			return nil, err
		}
		return s.attached(ctx, to)
	})
	attach := describe("attach", "POST", "/api/v1/attachments", "Attach a file")
	attach.RequestBody = &huma.RequestBody{}
	huma.Register(s.api, attach, func(ctx context.Context, in *attachInput) (*struct{ Body Attachments }, error) {
		to, err := in.to()
		if err != nil {
			return nil, err
		}
		if _, err := s.book.Attach(ctx, s.user(ctx), to, in.Name, in.RawBody); err != nil {
			return nil, problem(err)
		}
		return s.attached(ctx, to)
	})
	attach.RequestBody.Required = false // one that is empty is refused with a sentence of its own
	huma.Register(s.api, describe("attached-file", "GET", "/api/v1/attachments/{id}/file", "An attached file"), s.attachedFile)
	type change struct {
		ID   int64 `path:"id"`
		Body struct {
			GoesOut bool `json:"goesOut"`
		}
	}
	huma.Register(s.api, describe("change-attachment", "PUT", "/api/v1/attachments/{id}", "Say whether an attachment goes out with its paper"), func(ctx context.Context, in *change) (*struct{}, error) {
		return nil, problem(s.book.SetGoesOut(ctx, s.user(ctx), in.ID, in.Body.GoesOut))
	})
	huma.Register(s.api, describe("detach", "DELETE", "/api/v1/attachments/{id}", "Take an attachment off"), func(ctx context.Context, in *struct {
		ID int64 `path:"id"`
	}) (*struct{}, error) {
		return nil, problem(s.book.Detach(ctx, s.user(ctx), in.ID))
	})
}
