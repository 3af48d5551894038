package web

import (
	"context"

	"cleantally/core/ledger"
	"cleantally/core/settling"

	"github.com/danielgtaylor/huma/v2"
)

// Guess is a customer whose money it may be.
type Guess struct {
	ID      int64    `json:"id"`
	Name    string   `json:"name"`
	Reasons []string `json:"reasons" doc:"What speaks for it"`
}

// mostGuesses is how many are worth looking at.
const mostGuesses = 5

func (s *Server) registerWhose() {
	type input struct {
		Item int64 `path:"item"`
	}
	type output struct {
		Rows []Guess `json:"rows" doc:"What more speaks for comes first"`
	}
	huma.Register(s.api, describe("whose", "GET", "/api/v1/unidentified/{item}/whose", "Whose money it may be, with what speaks for it"), func(ctx context.Context, in *input) (*struct{ Body output }, error) {
		p, err := s.parser(ctx)
		if err != nil {
			return nil, err
		}
		r := s.book.Read(ctx)
		items, err := r.ItemsNamed([]int64{in.Item}, s.book.Today())
		if err != nil {
			return nil, problem(err)
		}
		if len(items) != 1 || items[0].Register != ledger.Unidentified {
			return nil, errNotFound
		}
		i := items[0]
		text := i.Reference + " " + i.Title
		candidates, err := r.Candidates(text, i.Open.Abs())
		out := &struct{ Body output }{output{Rows: []Guess{}}}
		for _, g := range settling.Whose(text, i.Open.Abs(), candidates, p.cur.Show) {
			if len(out.Body.Rows) < mostGuesses {
				out.Body.Rows = append(out.Body.Rows, Guess{g.PartyID, g.Name, g.Reasons})
			}
		}
		return out, problem(err)
	})
}
