package web

import (
	"context"

	"cleantally/core/day"
	"cleantally/store"

	"github.com/danielgtaylor/huma/v2"
)

// PaperEvent is what happened with a posted paper and posted nothing.
type PaperEvent struct {
	Day       string `json:"day"`
	Event     string `json:"event" enum:"noted,reminded,promised,put off,addressed,lost,sent,signed for,handed back"`
	Text      string `json:"text"`
	Reference string `json:"reference"`
	Until     string `json:"until" doc:"Of a promise, or of what is put off"`
	User      string `json:"user"`
}

// EventBody records something that happened with a posted paper.
type EventBody struct {
	Event     string `json:"event" enum:"noted,reminded,promised,put off,addressed,lost,sent,signed for,handed back"`
	Text      string `json:"text,omitempty"`
	Reference string `json:"reference,omitempty" doc:"That comes later"`
	Until     string `json:"until,omitempty" doc:"The day that is promised, or that it is put off to"`
}

func events(rows []store.Event) []PaperEvent {
	out := make([]PaperEvent, len(rows))
	for i, e := range rows {
		out[i] = PaperEvent{string(e.Day), e.Event, e.Text, e.Reference, string(e.Until), e.User}
	}
	return out
}

func (s *Server) registerEvents() {
	type input struct {
		ID   int64 `path:"id"`
		Body EventBody
	}
	huma.Register(s.api, describe("record-event", "POST", "/api/v1/papers/{id}/events", "Note something of a posted paper: a note, a reminder, a promise, that it is put off"), func(ctx context.Context, in *input) (*struct{}, error) {
		p, err := s.parser(ctx)
		if err != nil {
			return nil, err
		}
		e := store.Event{PaperID: in.ID, Event: in.Body.Event, Text: in.Body.Text, Reference: in.Body.Reference, Until: day.Day(p.day("until", in.Body.Until))}
		if len(p.refusals) > 0 {
			return nil, refusedProblem(p.refusals)
		}
		return nil, problem(s.book.RecordEvent(ctx, s.user(ctx), e))
	})
}
