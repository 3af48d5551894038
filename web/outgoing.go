package web

import (
	"context"
	"net/url"

	"cleantally/core/posting"

	"github.com/danielgtaylor/huma/v2"
)

// sheetsInput names the papers that are printed into one file.
type sheetsInput struct {
	IDs  []int64 `query:"ids,explode" required:"true" minItems:"1" maxItems:"500" doc:"The papers, in their order"`
	AsOf string  `query:"asOf" doc:"What is left of them at the end of this day; left out, today"`
}

// printed answers papers as one PDF, each on pages of its own.
func (s *Server) printed(ctx context.Context, ids []int64, asOf string) (*fileOutput, error) {
	d, err := s.asOf(asOf)
	if err != nil {
		return nil, err
	}
	p, err := s.book.Print(ctx, ids, d)
	if err != nil {
		return nil, problem(err)
	}
	return pdfFile(p.Name, p.File), nil
}

// pdfFile is a PDF that is taken along, under a name in any letters.
func pdfFile(name string, file []byte) *fileOutput {
	return &fileOutput{ContentType: "application/pdf", Disposition: "attachment; filename*=UTF-8''" + url.PathEscape(name), Body: file}
}

func (s *Server) registerOutgoing() {
	huma.Register(s.api, describe("paper-pdf", "GET", "/api/v1/papers/{id}/pdf", "A posted paper as a PDF"), func(ctx context.Context, in *idOnInput) (*fileOutput, error) {
		return s.printed(ctx, []int64{in.ID}, in.AsOf)
	})
	type of struct {
		ID int64 `path:"id"`
	}
	huma.Register(s.api, describe("certificate-pdf", "GET", "/api/v1/papers/{id}/certificate", "The certificate of a progress claim as a PDF"), func(ctx context.Context, in *of) (*fileOutput, error) {
		p, err := s.book.PrintCertificate(ctx, in.ID)
		if err != nil {
			return nil, problem(err)
		}
		return pdfFile(p.Name, p.File), nil
	})
	huma.Register(s.api, describe("paper-ubl", "GET", "/api/v1/papers/{id}/ubl", "A posted invoice or credit note as an electronic one (UBL 2.1, EN 16931)"), func(ctx context.Context, in *idOnInput) (*fileOutput, error) {
		d, err := s.asOf(in.AsOf)
		if err != nil {
			return nil, err
		}
		p, err := s.book.ElectronicInvoice(ctx, in.ID, d)
		if err != nil {
			return nil, problem(err)
		}
		return &fileOutput{ContentType: "application/xml", Disposition: "attachment; filename*=UTF-8''" + url.PathEscape(p.Name), Body: p.File}, nil
	})
	huma.Register(s.api, describe("read-bill", "POST", "/api/v1/supplier-bills/read", "Read a supplier's electronic invoice into a draft"), s.readBill)
	huma.Register(s.api, describe("statements-pdf", "GET", "/api/v1/statements/pdf", "Statements as one PDF, each on pages of its own"), s.statementsPDF)
	huma.Register(s.api, describe("draft-pdf", "GET", "/api/v1/drafts/{id}/pdf", "A draft as a PDF, marked as one"), s.draftPDF)
	huma.Register(s.api, describe("papers-pdf", "GET", "/api/v1/papers/pdf", "Posted papers as one PDF, each on pages of its own"), func(ctx context.Context, in *sheetsInput) (*fileOutput, error) {
		return s.printed(ctx, in.IDs, in.AsOf)
	})
}

// draftPDF answers a draft, marked as one.
func (s *Server) draftPDF(ctx context.Context, in *struct {
	ID int64 `path:"id"`
}) (*fileOutput, error) {
	p, err := s.parser(ctx)
	if err != nil {
		return nil, err
	}
	d, there, err := s.book.Draft(ctx, in.ID)
	if err != nil || !there {
		return nil, orNotFound(err)
	}
	read := draftKinds[DraftKind(d.Kind)]
	if read == nil {
		return nil, errNotFound
	}
	c, err := read([]byte(d.Body), p)
	if err != nil {
		return nil, refusedProblem(posting.Refusals{{Field: "draft", Rule: "unclear", Text: "What is written cannot be read yet."}})
	}
	printed, err := s.book.PrintDraft(ctx, in.ID, c)
	if err != nil {
		return nil, problem(err)
	}
	return pdfFile(printed.Name, printed.File), nil
}
