package web

import (
	"context"
	"encoding/json"

	"cleantally/books"
	"cleantally/core/posting"
	"cleantally/store"

	"github.com/danielgtaylor/huma/v2"
)

// AskedWord is what waits for a second person's word, or to be posted on it.
type AskedWord struct {
	ID      int64   `json:"id"`
	Asker   string  `json:"asker"`
	AskedAt string  `json:"askedAt" doc:"UTC, RFC 3339"`
	Summary string  `json:"summary"`
	Why     string  `json:"why" doc:"That a second person must agree"`
	Shown   *Effect `json:"shown" doc:"What would be posted, as it was on the screen of the one who asks"`
	Draft   int64   `json:"draft" doc:"The draft that it is posted from; 0 for none"`
	State   string  `json:"state" enum:"waits,agreed,not agreed"`
	By      string  `json:"by" doc:"Who answered"`
	Note    string  `json:"note"`
}

func askedWord(w store.Word) (AskedWord, error) {
	out := AskedWord{ID: w.ID, Asker: w.Asker, AskedAt: w.AskedAt, Summary: w.Summary, Why: w.Why, Draft: w.DraftID, State: "waits", By: w.Answerer, Note: w.Note}
	if w.Agreed != nil {
		out.State = map[bool]string{true: "agreed", false: "not agreed"}[*w.Agreed]
	}
	return out, json.Unmarshal([]byte(w.Shown), &out.Shown)
}

// askForWord has a command wait for a second person's word.
func (s *Server) askForWord(ctx context.Context, c posting.Command, p *parser, how books.How) error {
	shown, err := s.preview(ctx, c, p, how)
	if err != nil {
		return err
	}
	refusals, err := s.book.AskForWord(ctx, c, how, shown)
	if err == nil && len(refusals) > 0 {
		err = refusals
	}
	return problem(err)
}

func (s *Server) registerWords() {
	type words struct {
		ForYou []AskedWord `json:"forYou" doc:"What waits for the word of the one who asks"`
		Yours  []AskedWord `json:"yours" doc:"What they asked for themselves"`
	}
	huma.Register(s.api, describe("words", "GET", "/api/v1/words", "What waits for a second person's word"), func(ctx context.Context, _ *struct{}) (*struct{ Body words }, error) {
		forYou, yours, err := s.book.Words(ctx)
		out := &struct{ Body words }{words{[]AskedWord{}, []AskedWord{}}}
		for from, to := range map[*[]store.Word]*[]AskedWord{&forYou: &out.Body.ForYou, &yours: &out.Body.Yours} {
			for _, w := range *from {
				a, err := askedWord(w)
				if err != nil {
					return nil, problem(err)
				}
				*to = append(*to, a)
			}
		}
		return out, problem(err)
	})
	type answer struct {
		ID   int64 `path:"id"`
		Body struct {
			Agree bool   `json:"agree"`
			Note  string `json:"note,omitempty" doc:"Why not"`
		}
	}
	huma.Register(s.api, describe("answer-word", "POST", "/api/v1/words/{id}", "Agree to what somebody asks, or do not"), func(ctx context.Context, in *answer) (*struct{}, error) {
		return nil, problem(s.book.AnswerWord(ctx, s.user(ctx), in.ID, in.Body.Agree, in.Body.Note))
	})
	type one struct {
		ID int64 `path:"id"`
	}
	huma.Register(s.api, describe("end-word", "DELETE", "/api/v1/words/{id}", "Ask for it no more"), func(ctx context.Context, in *one) (*struct{}, error) {
		return nil, problem(s.book.EndWord(ctx, s.user(ctx), in.ID))
	})
}
