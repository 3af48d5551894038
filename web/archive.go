package web

import (
	"context"
	"log/slog"

	"github.com/danielgtaylor/huma/v2"
)

func (s *Server) registerArchive() {
	o := describe("archive", "GET", "/api/v1/archive", "All of the books as one archive: lists, journal, items and moves as CSV, papers as PDF, what is attached, and what is where")
	o.Metadata = map[string]any{longAnswer: true}
	huma.Register(s.api, o, func(ctx context.Context, _ *struct{}) (*huma.StreamResponse, error) {
		return &huma.StreamResponse{Body: func(to huma.Context) {
			to.SetHeader("Content-Type", "application/zip")
			to.SetHeader("Content-Disposition", `attachment; filename="books `+string(s.book.Today())+`.zip"`)
			if err := s.book.Archive(ctx, s.user(ctx), to.BodyWriter(), nil); err != nil {
				// It has begun, so that it cannot be answered otherwise: an archive
				// without its end is none.
				slog.Warn("an archive was not finished", "error", err)
			}
		}}, nil
	})
}
