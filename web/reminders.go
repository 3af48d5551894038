package web

import (
	"context"

	"cleantally/core/master"
	"cleantally/store"

	"github.com/danielgtaylor/huma/v2"
)

// ReminderStage is how a customer is reminded from so many days overdue on.
type ReminderStage struct {
	ID       int64  `json:"id,omitempty"`
	Version  int64  `json:"version,omitempty" readOnly:"true" doc:"Counts its changes; If-Match needs it"`
	Name     string `json:"name"`
	Days     int    `json:"days" doc:"Overdue, from which on it is taken"`
	Words    string `json:"words"`
	Charge   bool   `json:"charge,omitempty" doc:"A late charge goes before it"`
	Inactive bool   `json:"inactive,omitempty"`
}

// ReminderItem is something that a customer is reminded of.
type ReminderItem struct {
	Paper  int64  `json:"paper"`
	Number string `json:"number"`
	Title  string `json:"title"`
	Day    string `json:"day"`
	Due    string `json:"due"`
	Open   string `json:"open"`
	Charge bool   `json:"charge" doc:"A late charge"`
}

// ReminderRow is what a customer would be reminded of, in one letter.
type ReminderRow struct {
	Customer int64          `json:"customer"`
	Name     string         `json:"name"`
	Email    string         `json:"email"`
	Stage    int64          `json:"stage" doc:"That they would get"`
	Due      bool           `json:"due" doc:"Whether it is time for it"`
	Total    string         `json:"total"`
	Oldest   int            `json:"oldest" doc:"Days overdue"`
	Reminded string         `json:"reminded" doc:"When they were last; empty for never"`
	How      string         `json:"how"`
	Items    []ReminderItem `json:"items"`
}

// ReminderLeft is what no reminder says, and why.
type ReminderLeft struct {
	Customer int64  `json:"customer"`
	Name     string `json:"name"`
	Paper    int64  `json:"paper" doc:"0 where all of the customer is left out"`
	Number   string `json:"number"`
	Why      string `json:"why"`
}

// Reminders are who would be reminded of what, and what is left out: a page of
// it, by customers.
type Reminders struct {
	Rows   []ReminderRow   `json:"rows"`
	Left   []ReminderLeft  `json:"left"`
	Stages []ReminderStage `json:"stages" doc:"Those in use, by days"`
	Next   int64           `json:"next,omitempty" doc:"The cursor of the next page, when there is one"`
	Total  string          `json:"total" doc:"Of this page and of what was carried forward from those before"`
}

// RemindBody says who is reminded, and by which stage.
type RemindBody struct {
	Customers []RemindOne `json:"customers" minItems:"1" maxItems:"500"`
	MailWhen
}

// RemindOne is a customer with the stage; 0 for the one that they would get.
type RemindOne struct {
	Customer int64 `json:"customer"`
	Stage    int64 `json:"stage,omitempty"`
}

func (b RemindBody) stages() map[int64]int64 {
	all := map[int64]int64{}
	for _, c := range b.Customers {
		all[c.Customer] = c.Stage
	}
	return all
}

func reminderStage(s master.ReminderStage) ReminderStage {
	return ReminderStage{ID: s.ID, Version: s.Version, Name: s.Name, Days: s.Days, Words: s.Words, Charge: s.Charge, Inactive: s.Inactive}
}

func (s *Server) reminderStages(ctx context.Context) ([]ReminderStage, error) {
	all, err := store.All[master.ReminderStage](s.book.Read(ctx), "days")
	rows := make([]ReminderStage, len(all))
	for n, x := range all {
		rows[n] = reminderStage(x)
	}
	return rows, err
}

func (s *Server) reminders(ctx context.Context, in *OverduePage) (*struct{ Body Reminders }, error) {
	p, err := s.parser(ctx)
	if err != nil {
		return nil, problem(err)
	}
	out := &struct{ Body Reminders }{Reminders{Rows: []ReminderRow{}, Left: []ReminderLeft{}, Stages: []ReminderStage{}}}
	sum, cur := p.amount("carried", in.Carried), p.cur
	return out, problem(p.or(func() error {
		return s.book.Snapshot(ctx, func(r *store.Reader) error {
			parties, next, err := in.of(r, s.book.Today(), reminderPage)
			if err != nil {
				return err
			}
			out.Body.Next = next
			all, left, err := s.book.Reminders(r, idsOf(parties))
			if err != nil {
				return err
			}
			for _, f := range all {
				sum += f.Total
				row := ReminderRow{Customer: f.Party.ID, Name: f.Party.Name, Email: f.Party.Email, Stage: f.Stage.ID, Due: f.Due, Total: cur.Format(f.Total), Oldest: f.Oldest, Reminded: string(f.Reminded), How: f.How}
				for _, i := range f.Items {
					row.Items = append(row.Items, ReminderItem{i.PaperID, i.Number, i.Title, string(i.Day), string(i.Due), cur.Format(i.Open), i.Charge})
				}
				out.Body.Rows = append(out.Body.Rows, row)
			}
			out.Body.Total = cur.Format(sum)
			for _, l := range left {
				out.Body.Left = append(out.Body.Left, ReminderLeft{l.Party.ID, l.Party.Name, l.Item.PaperID, l.Item.Number, l.Why})
			}
			stages, err := store.All[master.ReminderStage](r, "days")
			for _, x := range stages {
				if !x.Inactive {
					out.Body.Stages = append(out.Body.Stages, reminderStage(x))
				}
			}
			return err
		})
	}))
}

func (s *Server) registerReminders() {
	records(s, "reminder-stages", "stage of reminders", s.reminderStages, func(r ReminderStage, v int64) ReminderStage { r.Version = v; return r }, func(ctx context.Context, id int64, x ReminderStage, _ *parser) error {
		return s.book.SaveReminderStage(ctx, s.user(ctx), &master.ReminderStage{ID: id, Version: x.Version, Name: x.Name, Days: x.Days, Words: x.Words, Charge: x.Charge, Inactive: x.Inactive})
	})
	huma.Register(s.api, describe("reminders", "GET", "/api/v1/reminders", "Who would be reminded of what is overdue, and what is left out"), s.reminders)
	type input struct{ Body RemindBody }
	for _, way := range []struct {
		id, path, what string
		byMail         bool
	}{{"mail-reminders", "mail", "Mail reminders, one to each customer", true}, {"keep-reminders", "paper", "Keep that customers were reminded on paper", false}} {
		huma.Register(s.api, describe(way.id, "POST", "/api/v1/reminders/"+way.path, way.what), func(ctx context.Context, in *input) (*struct{ Body Made }, error) {
			when, err := in.Body.when()
			if err != nil {
				return nil, err
			}
			n, err := s.book.Remind(ctx, s.user(ctx), in.Body.stages(), way.byMail, when)
			if err != nil {
				return nil, problem(err)
			}
			s.wakeOutbox()
			return &struct{ Body Made }{Made{n}}, nil
		})
	}
	huma.Register(s.api, describe("reminders-pdf", "POST", "/api/v1/reminders/pdf", "Reminders as one PDF, each on pages of its own"), func(ctx context.Context, in *input) (*fileOutput, error) {
		p, err := s.book.PrintReminders(ctx, in.Body.stages())
		if err != nil {
			return nil, problem(err)
		}
		return pdfFile(p.Name, p.File), nil
	})
}
