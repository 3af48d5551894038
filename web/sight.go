package web

import (
	"context"
	"slices"

	"cleantally/core/posting"
	"cleantally/core/rights"
	"cleantally/store"
)

// What of an answer is left out for who may not see all of it: a biller sees no
// ledger and no costs, a cashier names and open papers alone (docs/rules.md, part
// 13).

// sight is what the one who asks may look at.
func (s *Server) sight(ctx context.Context) (store.Sight, error) {
	who, err := s.book.Person(ctx)
	return who.Sees(), err
}

// cutEffect leaves out of an effect what is the ledger's.
func (s *Server) cutEffect(ctx context.Context, e *Effect) error {
	who, err := s.book.Person(ctx)
	if err != nil || who.May(rights.SeeBooks) {
		return err
	}
	e.Entries, e.Debit, e.Credit = []Entry{}, "", ""
	e.Balances = slices.DeleteFunc(e.Balances, func(b Balance) bool {
		return b.Kind == "account" || !who.May(rights.SeePapers) && b.Kind != "item"
	})
	if e.Paper != nil {
		for n := range e.Paper.Lines {
			e.Paper.Lines[n].Account = ""
		}
	}
	return nil
}

// cutPaper leaves out of a posted paper what is the ledger's, and what leads to
// papers that are not for the eyes of who asks.
func (s *Server) cutPaper(ctx context.Context, p *Paper) error {
	who, err := s.book.Person(ctx)
	if err != nil || who.May(rights.SeeBooks) {
		return err
	}
	p.Entries = []Entry{}
	for n := range p.Lines {
		p.Lines[n].Account, p.Lines[n].PassOn, p.Lines[n].Markup = "", "", ""
	}
	if !who.May(rights.SeePapers) {
		p.Allocations, p.Events, p.Standing, p.Cleared = []Allocation{}, []PaperEvent{}, []PaperLink{}, []PaperLink{}
	}
	return nil
}

// cutJob leaves out of a job what who sees names alone may not see, and the
// budget of its costs for a biller.
func (s *Server) cutJob(ctx context.Context, j *Job) error {
	who, err := s.book.Person(ctx)
	if err != nil || who.May(rights.SeeBooks) {
		return err
	}
	j.Budget, j.Markup = "", ""
	j.Strip = slices.DeleteFunc(j.Strip, func(p StripPart) bool { return p.Name == "costs waiting" })
	if !who.May(rights.SeePapers) {
		*j = Job{ID: j.ID, JobBody: JobBody{Number: j.Number, Name: j.Name, Customer: j.Customer, Site: j.Site}, CustomerName: j.CustomerName, Strip: []StripPart{}, Plan: []Stage{}}
	}
	return nil
}

// seenOf leaves out of a story the papers that are not for the eyes of who asks:
// what is bought for a job. None of them moves what a customer owes.
func (s *Server) seenOf(ctx context.Context, rows []store.HappeningRow) ([]store.HappeningRow, error) {
	who, err := s.book.Person(ctx)
	if err != nil || who.May(rights.SeeBooks) {
		return rows, err
	}
	return slices.DeleteFunc(rows, func(r store.HappeningRow) bool {
		kind, known := posting.Describe(posting.Kind(r.Kind))
		return known && !who.May(kind.SeenBy())
	}), nil
}

// groupSeen is the right that one needs to see a group of loose ends.
func groupSeen(group string) rights.Right {
	switch group {
	case "overdue":
		return rights.SeeOpen
	case "deposit", "deposit of a closed job", "retention", "disputed", "promise", "request", "guarantee", "stage", "on account", "overpaid":
		return rights.SeePapers
	}
	return rights.SeeBooks
}

// deskWords adds what waits for a second person's word.
func (s *Server) deskWords(ctx context.Context, d *Desk) error {
	forYou, yours, err := s.book.Words(ctx)
	d.Words, d.Given = []AskedWord{}, []AskedWord{}
	for _, w := range forYou {
		a, err := askedWord(w)
		if err != nil {
			return err
		}
		d.Words = append(d.Words, a)
	}
	for _, w := range yours {
		if w.AnsweredBy == nil {
			continue
		}
		a, err := askedWord(w)
		if err != nil {
			return err
		}
		d.Given = append(d.Given, a)
	}
	d.Count += int64(len(d.Words) + len(d.Given))
	return err
}
