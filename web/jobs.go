package web

import (
	"context"
	"errors"
	"fmt"

	"cleantally/core/billing"
	"cleantally/core/day"
	"cleantally/core/master"
	"cleantally/core/money"
	"cleantally/core/reporting"
	"cleantally/store"

	"github.com/danielgtaylor/huma/v2"
	"github.com/shopspring/decimal"
)

// JobRow is a job in the list.
type JobRow struct {
	ID          int64  `json:"id"`
	Number      string `json:"number"`
	Name        string `json:"name"`
	CustomerID  int64  `json:"customerId"`
	Customer    string `json:"customer"`
	Site        string `json:"site"`
	ContractSum string `json:"contractSum" doc:"Net"`
	Billed      string `json:"billed" doc:"Net"`
	LeftToBill  string `json:"leftToBill"`
	Open        string `json:"open"`
	Held        string `json:"held"`
	Closed      bool   `json:"closed"`
}

// JobBody is what is kept of a job.
type JobBody struct {
	Version     int64  `json:"version,omitempty" readOnly:"true" doc:"Counts its changes; If-Match needs it"`
	Number      string `json:"number,omitempty" doc:"Empty to be given the next"`
	Name        string `json:"name"`
	Customer    int64  `json:"customer"`
	Site        string `json:"site,omitempty"`
	ContractSum string `json:"contractSum,omitempty" doc:"Net; empty when none is agreed"`
	Closed      bool   `json:"closed,omitempty"`
	Note        string `json:"note,omitempty"`
	Markup      string `json:"markup,omitempty" doc:"On costs that are passed on, percent; empty: the firm's"`
	Budget      string `json:"budget,omitempty" doc:"What it should cost, net; empty for none"`

	Retention           string         `json:"retention,omitempty" doc:"What the customer keeps back of each invoice, percent; empty for nothing"`
	RetentionGross      bool           `json:"retentionGross,omitempty" doc:"Of the sum with tax"`
	RetentionCap        string         `json:"retentionCap,omitempty" doc:"At most, an amount on the same base"`
	RetentionCapPercent string         `json:"retentionCapPercent,omitempty" doc:"At most, a share of the contract sum"`
	RetentionTaxLater   bool           `json:"retentionTaxLater,omitempty" doc:"Its tax is due when it is released"`
	Releases            []ReleaseShare `json:"releases,omitempty" maxItems:"12" doc:"The shares in which it is expected back; empty for one without a day"`
	Stages              []StageBody    `json:"stages,omitempty" maxItems:"60" doc:"The billing plan, in order"`
}

// StageBody is a stage of a job's billing plan.
type StageBody struct {
	Name    string `json:"name,omitempty" maxLength:"120"`
	Percent string `json:"percent,omitempty" doc:"A share of the contract"`
	Amount  string `json:"amount,omitempty" doc:"Or an amount, net"`
	Day     string `json:"day,omitempty" doc:"When it is to be billed"`
}

// Stage is a stage with where it stands: it is billed once so much of the
// contract was claimed as comes to it.
type Stage struct {
	StageBody
	Through string `json:"through" doc:"What the contract comes to through this stage, net"`
	Billed  bool   `json:"billed"`
	Late    bool   `json:"late" doc:"Its day has come and it is not billed"`

	Own string `json:"own,omitempty" doc:"The same as through, in the currency of a contract that is not in the firm's"`
}

// stagesOf tells where each stage of a billing plan stands on a day.
func stagesOf(plan []master.Stage, pos reporting.JobPosition, d day.Day, cur money.Currency) []Stage {
	out := []Stage{}
	share, amount := decimal.Zero, money.Amount(0)
	for _, s := range plan {
		share, amount = share.Add(s.Percent), amount+s.Amount
		through := min(cur.Round(money.Percent(cur.Decimal(pos.ContractSum), share))+amount, pos.ContractSum)
		b := Stage{StageBody: StageBody{s.Name, percentOrNothing(s.Percent), "", string(s.Day)}, Through: cur.Format(through), Billed: pos.BilledNet >= through && through > 0}
		if s.Amount != 0 {
			b.Amount = cur.Format(s.Amount)
		}
		b.Late = !b.Billed && s.Day != "" && s.Day <= d
		out = append(out, b)
	}
	return out
}

// A billingPlan is the plan of a job with where its stages stand on a day, in the
// firm's currency. Of a contract in another the same share is billed here as there.
type billingPlan struct {
	plan     []master.Stage
	stages   []Stage
	pos      reporting.JobPosition
	currency string       // of the contract, ISO 4217; "" for the firm's own
	contract money.Amount // net, in that
}

func planOf(r *store.Reader, f *store.Facts, jobID int64, d day.Day, cur money.Currency) (billingPlan, error) {
	plan, err1 := r.StagesOf(jobID)
	pos, err2 := r.JobPosition(jobID, d)
	x := billingPlan{plan: plan, pos: pos}
	if err := errors.Join(err1, err2); err != nil || len(plan) == 0 {
		return x, err
	}
	if f.Abroad() {
		job, _ := f.Job(jobID)
		if x.currency, _ = billing.ContractCurrency(f, job); x.currency != "" {
			var billed money.Amount
			if x.contract, billed = billing.ContractAbroad(f, job, d); x.contract > 0 {
				x.pos.BilledNet = money.Portion(billed, pos.ContractSum, x.contract)
			}
		}
	}
	x.stages = stagesOf(plan, x.pos, d, cur)
	if x.currency == "" {
		return x, f.Err()
	}
	for n, s := range x.stages {
		through, _ := cur.Parse(s.Through)
		x.stages[n].Own = cur.In(x.currency).Format(x.own(through))
	}
	return x, f.Err()
}

// own is so much of the contract in its own currency.
func (x billingPlan) own(net money.Amount) money.Amount {
	if x.currency == "" || x.pos.ContractSum == 0 {
		return net
	}
	return money.Portion(net, x.contract, x.pos.ContractSum)
}

// ReleaseShare is a share of what is kept back, and when it is expected.
type ReleaseShare struct {
	Name    string `json:"name,omitempty" maxLength:"120"`
	Percent string `json:"percent,omitempty"`
	Day     string `json:"day,omitempty"`
}

// Job is a job with where it stands.
type Job struct {
	ID int64 `json:"id"`
	JobBody
	CustomerName string      `json:"customerName"`
	Strip        []StripPart `json:"strip"`
	Length       string      `json:"length" doc:"What the strip is as long as"`
	Billed       string      `json:"billed" doc:"Net"`
	BilledGross  string      `json:"billedGross"`
	Settled      string      `json:"settled"`
	Open         string      `json:"open"`
	KeptBack     string      `json:"keptBack"`
	Held         string      `json:"held"`
	Agreed       string      `json:"agreed" doc:"What orders add to the contract sum that was written down, net"`
	Contract     string      `json:"contract" doc:"What the contract comes to, net"`
	Plan         []Stage     `json:"plan" doc:"The billing plan, and where each stage stands"`
	Advance      string      `json:"advance" doc:"Billed in advance and not deducted, net"`
	OverCap      string      `json:"overCap" doc:"How much more is kept back than the cap allows since it was lowered; it can be released"`
	Unplaced     string      `json:"unplaced"`
	LeftToBill   string      `json:"leftToBill"`
}

// StripPart is a part of the job's strip.
type StripPart struct {
	Name   string  `json:"name"`
	Amount string  `json:"amount"`
	Share  float64 `json:"share" doc:"Of the strip's length, percent; for drawing alone"`
}

func (s *Server) job(ctx context.Context, id int64, asOf string) (*struct{ Body Job }, error) {
	p, d, err := s.lookingBack(ctx, asOf)
	if err != nil {
		return nil, err
	}
	r := s.book.Read(ctx)
	j, ok, err := store.Find[master.Job](r, id)
	if err != nil || !ok {
		return nil, orNotFound(err)
	}
	c, _, err := store.Find[master.Party](r, j.PartyID)
	if err != nil {
		return nil, problem(err)
	}
	pos, err := r.JobPosition(id, d)
	if err != nil {
		return nil, problem(err)
	}
	facts, err := r.Facts(s.book.Today())
	if err != nil {
		return nil, problem(err)
	}
	over := billing.OverCap(facts, j)
	if err := facts.Err(); err != nil {
		return nil, problem(err)
	}
	releases, err := r.ReleasesOf(id)
	if err != nil {
		return nil, problem(err)
	}
	f := p.cur.Format
	out := &struct{ Body Job }{Job{ID: id, JobBody: JobBody{Version: j.Version, Number: j.Number, Name: j.Name, Customer: j.PartyID, Site: j.Site, ContractSum: f(j.ContractSum), Closed: j.Closed, Note: j.Note},
		CustomerName: c.Name, Billed: f(pos.BilledNet), BilledGross: f(pos.BilledGross), Settled: f(pos.Settled()), Open: f(pos.Open), KeptBack: f(pos.KeptBack), Held: f(pos.Held), Unplaced: f(pos.Unplaced), OverCap: f(over), LeftToBill: f(pos.LeftToBill())}}
	if out.Body.Markup = percentText(j.Markup); j.Budget != 0 {
		out.Body.Budget = f(j.Budget)
	}
	out.Body.Agreed, out.Body.Contract, out.Body.Advance = f(pos.ContractSum-j.ContractSum), f(pos.ContractSum), f(pos.Advance)
	out.Body.Retention, out.Body.RetentionGross, out.Body.RetentionTaxLater = percentOrNothing(j.RetentionPercent), j.RetentionGross, j.RetentionTaxLater
	out.Body.RetentionCapPercent = percentOrNothing(j.RetentionCapPercent)
	if j.RetentionCap != 0 {
		out.Body.RetentionCap = f(j.RetentionCap)
	}
	for _, x := range releases {
		out.Body.Releases = append(out.Body.Releases, ReleaseShare{x.Name, dec(x.Percent), string(x.Day)})
	}
	plan, err := planOf(r, facts, id, d, p.cur)
	if err != nil {
		return nil, problem(err)
	}
	out.Body.Plan = append([]Stage{}, plan.stages...)
	for _, s := range out.Body.Plan {
		out.Body.Stages = append(out.Body.Stages, s.StageBody)
	}
	length := max(pos.ContractSum, pos.BilledNet)
	out.Body.Length, out.Body.Strip = f(length), []StripPart{}
	for _, part := range pos.Strip() {
		share := 0.0
		if length > 0 {
			share = float64(part.Amount) * 100 / float64(length)
		}
		out.Body.Strip = append(out.Body.Strip, StripPart{part.Name, f(part.Amount), share})
	}
	return out, nil
}

func (s *Server) saveJob(ctx context.Context, id, version int64, b JobBody) (*struct{ Body Job }, error) {
	p, err := s.parser(ctx)
	if err != nil {
		return nil, err
	}
	j := master.Job{ID: id, Version: version, Number: b.Number, Name: b.Name, PartyID: b.Customer, Site: b.Site, ContractSum: p.amount("contractSum", b.ContractSum), Closed: b.Closed, Note: b.Note,
		RetentionPercent: p.decimal("retention", b.Retention, percentPlaces), RetentionGross: b.RetentionGross, RetentionCap: p.amount("retentionCap", b.RetentionCap),
		RetentionCapPercent: p.decimal("retentionCapPercent", b.RetentionCapPercent, percentPlaces), RetentionTaxLater: b.RetentionTaxLater}
	j.Markup, j.Budget = p.percentOrNone("markup", b.Markup), p.amount("budget", b.Budget)
	for i, x := range b.Releases {
		field := fmt.Sprintf("releases[%d].", i)
		j.Releases = append(j.Releases, master.ReleaseShare{Name: x.Name, Percent: p.decimal(field+"percent", x.Percent, percentPlaces), Day: p.day(field+"day", x.Day)})
	}
	for i, x := range b.Stages {
		field := fmt.Sprintf("stages[%d].", i)
		j.Stages = append(j.Stages, master.Stage{Name: x.Name, Percent: p.decimal(field+"percent", x.Percent, percentPlaces), Amount: p.amount(field+"amount", x.Amount), Day: p.day(field+"day", x.Day)})
	}
	if len(p.refusals) > 0 {
		return nil, refusedProblem(p.refusals)
	}
	if err := s.book.SaveJob(ctx, s.user(ctx), &j); err != nil {
		return nil, problem(err)
	}
	return s.job(ctx, j.ID, "")
}

func (s *Server) registerJobs() {
	type input struct {
		ListInput
		State    string `query:"state" enum:"closed,all,held,open" doc:"Left out: those not closed"`
		Customer int64  `query:"customer"`
	}
	type row = JobRow
	lister[input, store.JobRow, row]{
		id: "jobs", path: "/api/v1/jobs", summary: "Jobs with where they stand",
		head: func(in *input) ListInput { return in.ListInput },
		find: func(ctx context.Context, in *input, q store.Query) (store.Page[store.JobRow], error) {
			d, err := s.asOf(in.AsOf)
			if err != nil {
				return store.Page[store.JobRow]{}, err
			}
			return s.book.Read(ctx).Jobs(store.JobFilter{Search: in.Search, State: in.State, PartyID: in.Customer}, q, d)
		},
		row: func(r store.JobRow, _ day.Day, cur money.Currency) row {
			return row{r.ID, r.Number, r.Name, r.PartyID, r.Party, r.Site, cur.Format(r.ContractSum), cur.Format(r.Billed), cur.Format(r.LeftToBill), cur.Format(r.Open), cur.Format(r.Held), r.Closed}
		},
		cut: func(r *row) {
			*r = row{ID: r.ID, Number: r.Number, Name: r.Name, CustomerID: r.CustomerID, Customer: r.Customer, Site: r.Site}
		},
		key:  func(r row) int64 { return r.ID },
		sums: []string{"contractSum", "billed", "leftToBill", "open", "held"},
		columns: []col[row]{{"Number", func(r row) string { return r.Number }, false}, {"Name", func(r row) string { return r.Name }, false}, {"Customer", func(r row) string { return r.Customer }, false},
			{"Site", func(r row) string { return r.Site }, false}, {"Contract sum", func(r row) string { return r.ContractSum }, true}, {"Billed", func(r row) string { return r.Billed }, true},
			{"Left to bill", func(r row) string { return r.LeftToBill }, true}, {"Open", func(r row) string { return r.Open }, true}, {"Held", func(r row) string { return r.Held }, true}},
	}.register(s)
	huma.Register(s.api, describe("job", "GET", "/api/v1/jobs/{id}", "A job"), func(ctx context.Context, in *idOnInput) (*struct{ Body Job }, error) {
		out, err := s.job(ctx, in.ID, in.AsOf)
		if err != nil {
			return nil, err
		}
		return out, problem(s.cutJob(ctx, &out.Body))
	})
	huma.Register(s.api, describe("create-job", "POST", "/api/v1/jobs", "Add a job"), func(ctx context.Context, in *struct{ Body JobBody }) (*struct{ Body Job }, error) {
		return s.saveJob(ctx, 0, 0, in.Body)
	})
	type change struct {
		ID int64 `path:"id"`
		IfMatch
		Body JobBody
	}
	huma.Register(s.api, describe("save-job", "PUT", "/api/v1/jobs/{id}", "Change a job"), func(ctx context.Context, in *change) (*struct{ Body Job }, error) {
		version, err := in.version()
		if err != nil {
			return nil, err
		}
		return s.saveJob(ctx, in.ID, version, in.Body)
	})
	huma.Register(s.api, describe("job-story", "GET", "/api/v1/jobs/{id}/story", "What happened on a job, the newest stretch first"), func(ctx context.Context, in *storyInput) (*struct{ Body Story }, error) {
		j, ok, err := store.Find[master.Job](s.book.Read(ctx), in.ID)
		if err != nil || !ok {
			return nil, orNotFound(err)
		}
		return s.story(ctx, in, in.ID, j.PartyID)
	})
}
