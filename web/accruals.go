package web

import (
	"context"
	"fmt"
	"maps"
	"slices"
	"strings"

	"cleantally/core/closing"
	"cleantally/core/day"
	"cleantally/core/posting"
	"cleantally/store"

	"github.com/danielgtaylor/huma/v2"
)

// JobAccrual is how a job's work stands at the end of a day, and what of it was
// accrued then.
type JobAccrual struct {
	JobID    int64  `json:"jobId"`
	Job      string `json:"job" doc:"Number and name"`
	Customer string `json:"customer"`
	Contract string `json:"contract" doc:"Net"`
	Billed   string `json:"billed" doc:"Net"`
	PaperID  int64  `json:"paperId" doc:"By which it is accrued; 0 for not"`
	Paper    string `json:"paper"`
	Percent  string `json:"percent" doc:"What of it was done; empty where it is not accrued"`
	Accrued  string `json:"accrued"`
	Now      string `json:"now" doc:"What that share comes to by now"`
	Stale    bool   `json:"stale" doc:"Whether its figures changed since"`
}

// Accruals are the jobs with a contract at the end of a day.
type Accruals struct {
	Day   string       `json:"day"`
	Rows  []JobAccrual `json:"rows"`
	Stale int          `json:"stale" doc:"How many of them are"`
}

// accruals looks at the jobs that are not closed, and at those that are accrued.
func accruals(r *store.Reader, d day.Day) (*Accruals, error) {
	cur, err := r.Currency()
	if err != nil {
		return nil, err
	}
	done, err := r.AccruedOn(d)
	if err != nil {
		return nil, err
	}
	by := map[int64]store.AccruedJob{}
	for _, a := range done {
		by[a.JobID] = a
	}
	// Those that go on, and of those that are closed the ones that stand accrued.
	page, err := r.Jobs(store.JobFilter{}, store.Query{Bare: true}, d)
	if err != nil {
		return nil, err
	}
	jobs := page.Rows
	if len(by) > 0 {
		closed, err := r.Jobs(store.JobFilter{State: "closed"}, store.Query{IDs: slices.Collect(maps.Keys(by)), Bare: true}, d)
		if err != nil {
			return nil, err
		}
		jobs = append(jobs, closed.Rows...)
		slices.SortFunc(jobs, func(x, y store.JobRow) int { return strings.Compare(y.Number, x.Number) })
	}
	out := &Accruals{Day: string(d), Rows: []JobAccrual{}}
	for _, j := range jobs {
		a, accrued := by[j.ID]
		if !accrued && (j.Closed || j.ContractSum == 0) {
			continue
		}
		row := JobAccrual{JobID: j.ID, Job: j.Number + " " + j.Name, Customer: j.Party, Contract: cur.Format(j.ContractSum), Billed: cur.Format(j.Billed)}
		if accrued {
			now := closing.Accrued(j.ContractSum, j.Billed, a.Percent)
			row.PaperID, row.Paper, row.Percent, row.Accrued, row.Now, row.Stale = a.PaperID, a.Number, dec(a.Percent), cur.Format(a.Amount), cur.Format(now), now != a.Amount
			if row.Stale {
				out.Stale++
			}
		}
		out.Rows = append(out.Rows, row)
	}
	return out, nil
}

// AccrualBody accrues work at the end of a day.
type AccrualBody struct {
	Day  string `json:"day,omitempty"`
	Jobs []struct {
		Job     int64  `json:"job"`
		Percent string `json:"percent,omitempty" doc:"What of it is done"`
	} `json:"jobs,omitempty" maxItems:"1000"`
}

func (b AccrualBody) command(p *parser) posting.Command {
	a := closing.AccrueWork{Day: p.day("day", b.Day)}
	for n, j := range b.Jobs {
		a.Jobs = append(a.Jobs, closing.WorkDone{JobID: j.Job, Percent: p.decimal(fmt.Sprintf("jobs[%d].percent", n), j.Percent, percentPlaces)})
	}
	return a
}

func (s *Server) registerAccruals() {
	type input struct {
		Day string `query:"day" doc:"Left out, the end of the month before today"`
	}
	huma.Register(s.api, describe("accruals", "GET", "/api/v1/accruals", "Work that is done and not billed at the end of a day, by job"), func(ctx context.Context, in *input) (*struct{ Body Accruals }, error) {
		d, err := s.dayOr(in.Day, day.Day(s.book.Today()[:7]+"-01").Add(-1))
		if err != nil {
			return nil, err
		}
		out := &struct{ Body Accruals }{}
		return out, problem(s.book.Snapshot(ctx, func(r *store.Reader) error {
			a, err := accruals(r, d)
			if err == nil {
				out.Body = *a
			}
			return err
		}))
	})
	command[AccrualBody](s, "post-accrual", "/api/v1/accruals", "Accrue work that is done and not billed; it is taken back on the next day")
}
