package web

import (
	"context"
	"encoding/json"
	"slices"
	"strings"

	"cleantally/core/billing"
	"cleantally/core/day"
	"cleantally/core/money"
	"cleantally/core/posting"
	"cleantally/store"

	"github.com/danielgtaylor/huma/v2"
)

// Recurring is an invoice that recurs: a draft is made of it on each of its
// days.
type Recurring struct {
	ID       int64  `json:"id,omitempty"`
	Version  int64  `json:"version,omitempty" readOnly:"true" doc:"Counts its changes; If-Match needs it"`
	Name     string `json:"name"`
	Paper    int64  `json:"paper,omitempty" doc:"The invoice that it is written as; 0 to keep what it is"`
	Every    int    `json:"every" doc:"So many weeks, months or years"`
	Unit     string `json:"unit" enum:"week,month,year"`
	First    string `json:"first,omitempty" doc:"Left out, one time after the invoice. Its day of the month holds for all, the last where a month has none"`
	Until    string `json:"until,omitempty" doc:"The last day on which it may recur; empty for no end"`
	Paused   bool   `json:"paused,omitempty"`
	Customer string `json:"customer,omitempty" readOnly:"true"`
	PartyID  int64  `json:"partyId,omitempty" readOnly:"true"`
	Next     string `json:"next,omitempty" readOnly:"true" doc:"The day of the next draft; empty when it has ended"`
	Made     int    `json:"made,omitempty" readOnly:"true" doc:"How many drafts were made of it"`
	Total    string `json:"total,omitempty" readOnly:"true" doc:"In the invoice's currency"`
	Currency string `json:"currency,omitempty" readOnly:"true" doc:"Of the total, where it is not the firm's"`
	State    string `json:"state,omitempty" readOnly:"true" doc:"recurs, paused, ended"`
}

// Coming is one time that an invoice will recur.
type Coming struct {
	Day      string `json:"day"`
	ID       int64  `json:"id"`
	Name     string `json:"name"`
	Customer string `json:"customer"`
	Total    string `json:"total" doc:"In the invoice's currency"`
	Currency string `json:"currency,omitempty" doc:"Of the total, where it is not the firm's"`
}

// ComingMonth is what will recur in a month.
type ComingMonth struct {
	Month string   `json:"month" doc:"Its first day"`
	Total string   `json:"total" doc:"In the firm's currency, at the newest rates"`
	Rows  []Coming `json:"rows"`
}

// AllRecurring is every invoice that recurs, and what comes of them within a
// year.
type AllRecurring struct {
	Rows   []Recurring   `json:"rows"`
	Coming []ComingMonth `json:"coming"`
}

func (s *Server) registerRecurring() {
	huma.Register(s.api, describe("recurring", "GET", "/api/v1/recurring", "Invoices that recur, and what comes of them within a year"), s.recurring)
	type input struct{ Body Recurring }
	huma.Register(s.api, describe("create-recurring", "POST", "/api/v1/recurring", "Make an invoice recur"), func(ctx context.Context, in *input) (*struct{ Body AllRecurring }, error) {
		return s.saveRecurring(ctx, store.Schedule{}, in.Body)
	})
	type change struct {
		ID int64 `path:"id"`
		IfMatch
		Body Recurring
	}
	huma.Register(s.api, describe("save-recurring", "PUT", "/api/v1/recurring/{id}", "Change what recurs"), func(ctx context.Context, in *change) (*struct{ Body AllRecurring }, error) {
		version, err := in.version()
		if err != nil {
			return nil, err
		}
		old, ok, err := s.book.Read(ctx).Schedule(in.ID)
		if err != nil || !ok {
			return nil, orNotFound(err)
		}
		old.Version = version
		return s.saveRecurring(ctx, old, in.Body)
	})
	type one struct {
		ID int64 `path:"id"`
	}
	huma.Register(s.api, describe("end-recurring", "DELETE", "/api/v1/recurring/{id}", "End what recurs; drafts that were made of it stay"), func(ctx context.Context, in *one) (*struct{}, error) {
		return nil, problem(s.book.EndSchedule(ctx, in.ID, s.user(ctx)))
	})
}

func (s *Server) saveRecurring(ctx context.Context, sch store.Schedule, in Recurring) (*struct{ Body AllRecurring }, error) {
	p, err := s.parser(ctx)
	if err != nil {
		return nil, err
	}
	sch.Name, sch.Every, sch.Unit, sch.Paused = in.Name, in.Every, billing.Unit(in.Unit), in.Paused
	sch.First, sch.Until = p.day("first", in.First), p.day("until", in.Until)
	if len(p.refusals) > 0 {
		return nil, refusedProblem(p.refusals)
	}
	if in.Paper != 0 { // without a first day, it goes on from the invoice's
		if paper, ok, err := s.book.Read(ctx).Paper(in.Paper); err == nil && ok && in.First == "" && sch.Every > 0 && sch.Every <= 120 {
			sch.First = billing.Schedule{First: paper.Day, Every: sch.Every, Unit: sch.Unit}.On(1)
		}
		if err := s.templateOf(ctx, &sch, in.Paper, p); err != nil {
			return nil, err
		}
	}
	if err := s.book.SaveSchedule(ctx, &sch, s.user(ctx)); err != nil {
		return nil, problem(err)
	}
	if _, err := s.MakeRecurring(ctx); err != nil {
		return nil, problem(err)
	}
	return s.recurring(ctx, nil)
}

// templateOf takes a posted invoice, as it was written, for what recurs.
func (s *Server) templateOf(ctx context.Context, sch *store.Schedule, paperID int64, p *parser) error {
	r := s.book.Read(ctx)
	paper, ok, err := r.Paper(paperID)
	if err != nil {
		return problem(err)
	}
	act, err := r.ActOf(paperID)
	if err != nil {
		return problem(err)
	}
	if !ok || act.Action != "billing.Invoice" {
		return refusedProblem(posting.Refusals{{Field: "paper", Rule: "missing", Text: "Only an invoice recurs that was written as one. Choose another."}})
	}
	_, body, err := copier{cur: in(p.cur, paper.Currency), today: string(s.book.Today()), parser: p}.of(act, paper)
	if err != nil {
		return problem(err)
	}
	text, err := json.Marshal(body)
	sch.Body, sch.PartyID = string(text), paper.PartyID
	return problem(err)
}

// MakeRecurring makes the drafts of what recurs that are due.
func (s *Server) MakeRecurring(ctx context.Context) (int, error) {
	cur, err := s.book.Currency(ctx)
	if err != nil {
		return 0, nil // no firm yet
	}
	return s.book.MakeRecurring(ctx, func(sch store.Schedule, d day.Day) (string, posting.Command, error) {
		body, c, err := recurs(sch, d, cur)
		text, err2 := json.Marshal(body)
		if err == nil {
			err = err2
		}
		return string(text), c, err
	})
}

// recurs is the invoice of a schedule on a day.
func recurs(sch store.Schedule, d day.Day, cur money.Currency) (InvoiceBody, posting.Command, error) {
	var b InvoiceBody
	err := json.Unmarshal([]byte(sch.Body), &b)
	b.Day = string(d)
	return b, b.command(&parser{cur: cur}), err
}

func (s *Server) recurring(ctx context.Context, _ *struct{}) (*struct{ Body AllRecurring }, error) {
	p, err := s.parser(ctx)
	if err != nil {
		return nil, err
	}
	out := &struct{ Body AllRecurring }{AllRecurring{Rows: []Recurring{}, Coming: []ComingMonth{}}}
	err = s.book.Snapshot(ctx, func(r *store.Reader) error {
		all, err := r.Schedules()
		if err != nil {
			return err
		}
		f, err := r.Facts(s.book.Today())
		if err != nil {
			return err
		}
		months := map[string]*ComingMonth{}
		sums := map[string]money.Amount{}
		for _, sch := range all {
			next := sch.Next()
			_, c, err := recurs(sch, max(next, s.book.Today()), p.cur)
			if err != nil {
				return err
			}
			var paper posting.Paper
			if e, _ := c.Plan(f); e.Paper() != nil {
				paper = *e.Paper()
			}
			total := in(p.cur, paper.Currency).Format(paper.Total)
			out.Body.Rows = append(out.Body.Rows, Recurring{ID: sch.ID, Version: sch.Version, Name: sch.Name, Every: sch.Every, Unit: string(sch.Unit), First: string(sch.First), Until: string(sch.Until),
				Paused: sch.Paused, Customer: sch.Party, PartyID: sch.PartyID, Next: string(next), Made: sch.Made, Total: total, Currency: paper.Currency, State: recurState(sch)})
			if sch.Paused {
				continue
			}
			for _, d := range sch.Days().Through(sch.Made, s.book.Today().Add(365)) {
				month := string(d[:8]) + "01"
				if months[month] == nil {
					months[month] = &ComingMonth{Month: month}
				}
				months[month].Rows = append(months[month].Rows, Coming{string(d), sch.ID, sch.Name, sch.Party, total, paper.Currency})
				sums[month] += paper.Base
			}
		}
		for month, m := range months {
			slices.SortStableFunc(m.Rows, func(x, y Coming) int { return strings.Compare(x.Day, y.Day) })
			m.Total = p.cur.Format(sums[month])
			out.Body.Coming = append(out.Body.Coming, *m)
		}
		slices.SortFunc(out.Body.Coming, func(x, y ComingMonth) int { return strings.Compare(x.Month, y.Month) })
		return f.Err()
	})
	return out, problem(err)
}

func recurState(s store.Schedule) string {
	switch {
	case s.Next() == "":
		return "ended"
	case s.Paused:
		return "paused"
	}
	return "recurs"
}
