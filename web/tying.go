package web

import (
	"context"
	"slices"

	"cleantally/core/money"
	"cleantally/store"

	"github.com/danielgtaylor/huma/v2"
)

// BankMovement is something posted that no line of the bank is tied to.
type BankMovement struct {
	ID      int64  `json:"id" doc:"To be tied by"`
	PaperID int64  `json:"paperId"`
	Kind    string `json:"kind"`
	Number  string `json:"number"`
	Day     string `json:"day"`
	Party   string `json:"party"`
	What    string `json:"what"`
	Amount  string `json:"amount"`
	Chosen  bool   `json:"chosen"`
}

// Tying is what some lines of the bank and some movements come to.
type Tying struct {
	Lines     []BankLine     `json:"lines" doc:"Those that were chosen"`
	Movements []BankMovement `json:"movements" doc:"What waits, those that were chosen first"`
	Count     int64          `json:"count" doc:"Of all that wait"`
	LineSum   string         `json:"lineSum"`
	Sum       string         `json:"sum" doc:"Of the movements that were chosen"`
	Left      string         `json:"left" doc:"Of the lines, what the movements do not come to"`
	Agrees    bool           `json:"agrees" doc:"Whether they may be tied"`
	Chosen    []int64        `json:"chosen" doc:"The movements that were chosen, with those of the papers that were named"`
}

const mostWaiting = 100

func (s *Server) registerTying() {
	huma.Register(s.api, describe("tying", "GET", "/api/v1/banks/{id}/tying", "What some lines of the bank and some of what was posted come to, to tie several"), s.tying)
}

func (s *Server) tying(ctx context.Context, in *struct {
	ID        int64   `path:"id"`
	Lines     []int64 `query:"lines,explode" maxItems:"200"`
	Movements []int64 `query:"movements,explode" maxItems:"200"`
	Instead   bool    `query:"instead" doc:"Lines that are tied may be tied to something else"`
	Papers    []int64 `query:"papers,explode" maxItems:"200" doc:"Papers whose movements are chosen as well"`
}) (*struct{ Body Tying }, error) {
	cur, err := s.book.Read(ctx).BankCurrency(in.ID)
	if err != nil {
		return nil, problem(err)
	}
	out := &struct{ Body Tying }{Tying{Lines: []BankLine{}, Movements: []BankMovement{}, Chosen: []int64{}}}
	return out, problem(s.book.Snapshot(ctx, func(r *store.Reader) error {
		lines, err := r.LinesNamed(in.ID, append(in.Lines, 0))
		if err != nil {
			return err
		}
		near := s.book.Today()
		for _, l := range lines {
			if !l.Tied || in.Instead {
				out.Body.Lines = append(out.Body.Lines, bankLine(l, cur))
			}
			near = l.Day
		}
		lines = slices.DeleteFunc(lines, func(l store.BankLine) bool { return l.Tied && !in.Instead })
		made, err := r.MovementsOfPapers(in.ID, append(in.Papers, 0))
		if err != nil {
			return err
		}
		waits, err := r.WaitingNear(in.ID, near, append(append(in.Movements, made...), 0), mostWaiting)
		out.Body.take(waits, append(in.Movements, made...), cur)
		var sum money.Amount
		for _, m := range waits {
			if slices.Contains(out.Body.Chosen, m.ID) {
				sum += m.Amount
			}
		}
		of := store.BankLineSum(lines)
		out.Body.LineSum, out.Body.Sum, out.Body.Left = cur.Format(of), cur.Format(sum), cur.Format(of-sum)
		n := len(out.Body.Chosen)
		out.Body.Agrees = of == sum && n > 0 && len(lines) > 0 && (n == 1 || len(lines) == 1)
		return err
	}))
}

func (b *Tying) take(waits []store.WaitingMovement, chosen []int64, cur money.Currency) {
	for _, m := range waits {
		is := slices.Contains(chosen, m.ID)
		if is {
			b.Chosen = append(b.Chosen, m.ID)
		}
		b.Count = m.Count
		b.Movements = append(b.Movements, BankMovement{m.ID, m.PaperID, string(m.Kind), m.Number, string(m.Day), m.Party, m.Title, cur.Format(m.Amount), is})
	}
}
