package web

import (
	"context"
	"net/http"
	"strings"

	"cleantally/books"
	"cleantally/core/posting"
	"cleantally/formats"

	"github.com/danielgtaylor/huma/v2"
)

// ImportRow is what an import does with one row of a file.
type ImportRow struct {
	Row      int      `json:"row" doc:"In the file; the header is row 1"`
	Does     string   `json:"does" enum:"create,update,refuse"`
	Name     string   `json:"name"`
	Refusals []Notice `json:"refusals"`
}

// Import is what an import did, or would do.
type Import struct {
	Rows    []ImportRow `json:"rows"`
	Creates int         `json:"creates"`
	Updates int         `json:"updates"`
	Refused int         `json:"refused"`
	Done    bool        `json:"done" doc:"Whether it was carried out"`
	Must    []string    `json:"must" doc:"Columns that the file must have"`
	May     []string    `json:"may" doc:"Columns that it may have"`
}

type importInput struct {
	Kind    string `path:"kind" enum:"customers,jobs,articles,accounts,taxcodes,terms,banks"`
	Preview bool   `query:"preview" doc:"Answer what each row would do and keep nothing"`
	Body    struct {
		CSV string `json:"csv" doc:"The text of the file; empty to ask for its columns"`
	}
}

func (s *Server) importRecords(ctx context.Context, in *importInput) (*struct{ Body Import }, error) {
	out := &struct{ Body Import }{Import{Rows: []ImportRow{}}}
	out.Body.Must, out.Body.May, _ = books.ImportColumns(in.Kind)
	if out.Body.May == nil {
		out.Body.May = []string{}
	}
	if in.Body.CSV == "" && in.Preview {
		return out, nil
	}
	t, err := formats.ReadCSV(strings.NewReader(in.Body.CSV))
	if err != nil {
		return nil, refusedProblem(posting.Refusals{{Field: "csv", Rule: "no CSV", Text: sentence(err)}})
	}
	rows, err := s.book.Import(ctx, s.user(ctx), in.Kind, t, in.Preview)
	for _, r := range rows {
		body := ImportRow{r.Row, r.Does, r.Name, notices(r.Refusals)}
		switch {
		case len(r.Refusals) > 0:
			body.Does = "refuse"
			out.Body.Refused++
		case r.Does == "create":
			out.Body.Creates++
		default:
			out.Body.Updates++
		}
		out.Body.Rows = append(out.Body.Rows, body)
	}
	if err == books.ErrImportRefused {
		p := plain(http.StatusUnprocessableEntity, sentence(err))
		p.Type = "refused"
		for _, r := range out.Body.Rows {
			p.Refusals = append(p.Refusals, r.Refusals...)
		}
		return nil, p
	}
	out.Body.Done = err == nil && !in.Preview
	return out, problem(err)
}

func (s *Server) registerImport() {
	huma.Register(s.api, describe("import", "POST", "/api/v1/import/{kind}", "Import records from CSV, all rows or none"), s.importRecords)
	type exportInput struct {
		Kind   string `path:"kind" enum:"customers,jobs,articles,accounts,taxcodes,terms,banks"`
		Format string `query:"format" enum:"csv,xlsx" default:"csv"`
	}
	huma.Register(s.api, describe("export", "GET", "/api/v1/records/{kind}/file", "Every record of a kind, in the form that an import reads"), func(ctx context.Context, in *exportInput) (*fileOutput, error) {
		t, err := s.book.Export(ctx, in.Kind)
		if err != nil {
			return nil, problem(err)
		}
		return fileOf(in.Format, in.Kind, t, nil)
	})
}
