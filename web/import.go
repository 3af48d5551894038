package web

import (
	"context"
	"errors"
	"net/http"
	"strings"
	"sync"

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
	From    int    `query:"from" minimum:"0" doc:"The row of the file to begin with, where an import was stopped; the header is row 1"`
	As      string `query:"as" maxLength:"64" doc:"A name of one's own, under which one can ask how far it is"`
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
	tell, end := s.imports.begin(s.user(ctx), in.As)
	rows, err := s.book.Import(ctx, s.user(ctx), in.Kind, t, in.Preview, in.From, tell)
	end(err)
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
	if errors.Is(err, books.ErrImportRefused) {
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

// ImportProgress is how far an import is, or where it was stopped.
type ImportProgress struct {
	Doing string `json:"doing" doc:"Looked at, then Imported"`
	Rows  int    `json:"rows" doc:"Rows of the file so far"`
	Of    int    `json:"of"`
	Ended bool   `json:"ended"`
	Next  int    `json:"next" doc:"The row of the file to go on with, where some were imported before it was stopped; 0 otherwise"`
	Why   string `json:"why" doc:"Why it ended before it was done; empty otherwise"`
}

// imports are those under way or just ended, by who asked and the name they
// gave.
type imports struct {
	mu  sync.Mutex
	all []*watched
}

type watched struct {
	user int64
	as   string
	ImportProgress
}

// mostWatched is how many imports are remembered: the oldest is forgotten
// first.
const mostWatched = 50

// begin remembers an import that has a name, and returns how it tells how far it
// is and that it has ended.
func (i *imports) begin(user int64, as string) (tell books.Progress, end func(error)) {
	if as == "" {
		return nil, func(error) {}
	}
	w := &watched{user: user, as: as}
	i.mu.Lock()
	defer i.mu.Unlock()
	i.all = append(i.all[max(0, len(i.all)+1-mostWatched):], w)
	return func(doing string, done, of int) {
			i.mu.Lock()
			defer i.mu.Unlock()
			w.Doing, w.Rows, w.Of = doing, done, of
		}, func(err error) {
			i.mu.Lock()
			defer i.mu.Unlock()
			w.Ended = true
			var stopped books.ErrImportStopped
			if errors.As(err, &stopped) && stopped.Done > 0 {
				w.Next = stopped.Row
			}
			var p *Problem
			if errors.As(problem(err), &p) {
				w.Why = p.Detail
			}
		}
}

// of returns how far an import is, the last one under a name.
func (i *imports) of(user int64, as string) (p ImportProgress, there bool) {
	i.mu.Lock()
	defer i.mu.Unlock()
	for _, w := range i.all {
		if w.user == user && w.as == as {
			p, there = w.ImportProgress, true
		}
	}
	return p, there
}

func (s *Server) registerImport() {
	type progressInput struct {
		As string `path:"as" maxLength:"64"`
	}
	huma.Register(s.api, describe("import-progress", "GET", "/api/v1/import-progress/{as}", "How far an import is"), func(ctx context.Context, in *progressInput) (*struct{ Body ImportProgress }, error) {
		p, there := s.imports.of(s.user(ctx), in.As)
		if !there {
			return nil, plain(http.StatusNotFound, "No import is known by this name.")
		}
		return &struct{ Body ImportProgress }{p}, nil
	})
	huma.Register(s.api, describe("import", "POST", "/api/v1/import/{kind}", "Import records from CSV, all rows or none unless it is stopped"), s.importRecords)
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
