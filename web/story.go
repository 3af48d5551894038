package web

import (
	"context"
	"fmt"
	"strings"

	"cleantally/core/day"
	"cleantally/core/money"
	"cleantally/core/posting"
	"cleantally/core/reporting"
	"cleantally/store"
)

// Happening is a line of a story or statement.
type Happening struct {
	Day          string `json:"day"`
	PaperID      int64  `json:"paperId"`
	Number       string `json:"number"`
	Kind         string `json:"kind"`
	Text         string `json:"text"`
	State        string `json:"state"`
	Settled      int    `json:"settled"`
	Opens        bool   `json:"opens" doc:"Whether something of it is open until it is settled or used"`
	Overdue      bool   `json:"overdue"`
	Amount       string `json:"amount" doc:"What it did to receivables"`
	Held         string `json:"held" doc:"What it did to deposits held"`
	Balance      string `json:"balance" doc:"Receivables after it"`
	InsteadOf    string `json:"insteadOf,omitempty" doc:"The number of the paper that it is written in place of"`
	WrittenAgain string `json:"writtenAgain,omitempty" doc:"That of the one that is written in its place"`
}

// Story is what happened with a customer or on a job.
type Story struct {
	Rows []Happening `json:"rows" doc:"In order of time"`
	Next string      `json:"next,omitempty" doc:"The cursor of what came before, when there is more"`
}

// happenings turns the rows of a story into lines.
func happenings(rows []store.HappeningRow, asOf day.Day, cur money.Currency) []Happening {
	lines := make([]Happening, len(rows))
	for i, r := range rows {
		kind, _ := posting.Describe(posting.Kind(r.Kind))
		h := Happening{Opens: kind.Words.Open != "", Day: string(r.Day), PaperID: r.PaperID, Number: r.Number, Kind: r.Kind, Text: r.Text, Amount: cur.Format(r.Amount), Held: cur.Format(r.Held), Balance: cur.Format(r.Balance)}
		switch r.Kind {
		case "set against":
			h.Text = "Set against " + r.Text
		case "undone":
			h.Text = "No longer set against " + r.Text
		default:
			h.State, h.Settled = stateOf(r.Kind, r.ItemAmount, r.ItemOpen, r.ReversedBy, r.WrittenOff)
			if kind.Taken != "" && r.ReversedBy == "" {
				h.State, h.Settled = takenState(kind, r.Total, r.Taken, r.Cancelled)
			}
			h.InsteadOf, h.WrittenAgain = r.InsteadOf, r.WrittenAgain
			h.Overdue = r.ReversedBy == "" && r.Due != "" && r.Due < asOf
		}
		lines[i] = h
	}
	return lines
}

// storyInput says which stretch of a story is told.
type storyInput struct {
	ID      int64  `path:"id"`
	AsOf    string `query:"asOf" doc:"Through the end of this day; left out, all of it"`
	Before  string `query:"before" doc:"The cursor that the stretch after it gave as next"`
	Limit   int    `query:"limit" minimum:"1" maximum:"1000" default:"150"`
	payable bool
}

// story answers the newest stretch of a story, or the one before a cursor.
func (s *Server) story(ctx context.Context, in *storyInput, jobID, partyID int64) (*struct{ Body Story }, error) {
	p, d, err := s.lookingBack(ctx, in.AsOf)
	if err != nil {
		return nil, err
	}
	of := store.StoryOf{JobID: jobID, PartyID: partyID, Through: day.EndOfTime, Limit: in.Limit, Payable: in.payable}
	if in.AsOf != "" {
		of.Through = d
	}
	if in.Before != "" {
		if of.Before, err = storyPlace(in.Before); err != nil {
			return nil, err
		}
	}
	rows, more, err := s.book.Read(ctx).Story(of)
	if err != nil {
		return nil, problem(err)
	}
	if rows, err = s.seenOf(ctx, rows); err != nil {
		return nil, problem(err)
	}
	out := &struct{ Body Story }{Story{Rows: happenings(rows, d, p.cur)}}
	if more != nil {
		out.Body.Next = fmt.Sprintf("%s,%d,%d,%d,%d", more.Day, more.Act, more.Second, more.Seq, more.Balance)
	}
	return out, problem(err)
}

func storyPlace(text string) (store.StoryPlace, error) {
	var place store.StoryPlace
	parts := strings.Split(text, ",")
	if len(parts) == 5 {
		if d, err := day.Parse(parts[0]); err == nil {
			place.Day = d
			if _, err := fmt.Sscanf(strings.Join(parts[1:], " "), "%d %d %d %d", &place.Act, &place.Second, &place.Seq, &place.Balance); err == nil {
				return place, nil
			}
		}
	}
	return place, plain(400, "There is no such place in the story.")
}

// stateOf says in a word how a paper stands.
func stateOf(kind string, amount, open money.Amount, reversedKind string, writtenOff bool) (string, int) {
	switch {
	case reversedKind == string(posting.Returned):
		return "returned", 0
	case reversedKind != "":
		return "reversed", 0
	case writtenOff && open == 0:
		return "written off", 0
	}
	d, _ := posting.Describe(posting.Kind(kind))
	if d.Done != "" {
		return d.Done, 0
	}
	state, settled := reporting.Settlement(amount, open)
	if d.Credit() {
		state = map[string]string{"open": d.Words.Open, "part settled": d.Words.Part, "settled": d.Words.Settled}[state]
	}
	return state, settled
}

// takenState is the state of a paper whose lines are taken one by one.
func takenState(d posting.Description, total, taken, cancelled money.Amount) (string, int) {
	if total != 0 && cancelled == total {
		return "cancelled", 100
	}
	state, settled := reporting.Settlement(total, total-taken)
	return map[string]string{"open": d.Words.Open, "part settled": d.Words.Part, "settled": d.Words.Settled}[state], settled
}
