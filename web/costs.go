package web

import (
	"context"

	"cleantally/core/day"
	"cleantally/core/money"
	"cleantally/store"

	"github.com/danielgtaylor/huma/v2"
	"github.com/shopspring/decimal"
)

// Cost is a cost that waits to be passed on.
type Cost struct {
	ID         int64  `json:"id" doc:"Of the line, for the list alone"`
	Paper      int64  `json:"paper"`
	Line       int    `json:"line"`
	Kind       string `json:"kind"`
	Number     string `json:"number" doc:"Of the bill or the expense"`
	Day        string `json:"day"`
	Age        int    `json:"age" doc:"Days"`
	SupplierID int64  `json:"supplierId"`
	Supplier   string `json:"supplier"`
	JobID      int64  `json:"jobId"`
	Job        string `json:"job"`
	JobName    string `json:"jobName"`
	CustomerID int64  `json:"customerId"`
	Customer   string `json:"customer"`
	Text       string `json:"text"`
	PassOn     string `json:"passOn" enum:"supply,behalf"`
	Markup     string `json:"markup" doc:"Percent"`
	TaxCode    int64  `json:"taxCode" doc:"That it was bought by"`
	Cost       string `json:"cost" doc:"As it was bought"`
	Left       string `json:"left" doc:"That is not billed; below nil what the supplier gave back past it"`
	OnDrafts   string `json:"onDrafts" doc:"Of it"`
	Free       string `json:"free" doc:"What no draft has taken"`
	Drafted    bool   `json:"drafted" doc:"Whether drafts have taken some"`
	Taken      bool   `json:"taken" doc:"Whether drafts have taken all"`
	Credited   bool   `json:"credited" doc:"Whether the supplier gave back more than waited"`
}

func costBody(r store.CostRow, today day.Day, cur money.Currency) Cost {
	return Cost{ID: r.PaperID*1000 + int64(r.Position), Paper: r.PaperID, Line: r.Position, Kind: string(r.Kind), Number: r.Number, Day: string(r.Day), Age: today.Since(r.Day), SupplierID: r.SupplierID, Supplier: r.Supplier,
		JobID: r.JobID, Job: r.Job, JobName: r.JobName, CustomerID: r.PartyID, Customer: r.Party, Text: r.Text, PassOn: string(r.PassOn), Markup: dec(r.Markup), TaxCode: r.TaxCodeID, Cost: cur.Format(r.Cost), Left: cur.Format(r.Left),
		OnDrafts: cur.Format(r.OnDrafts), Free: cur.Format(r.Left - r.OnDrafts), Drafted: r.OnDrafts != 0, Taken: r.OnDrafts >= r.Left, Credited: r.Left < 0}
}

// MarginRow is a job with what it brought in and cost.
type MarginRow struct {
	ID         int64  `json:"id"`
	Number     string `json:"number"`
	Name       string `json:"name"`
	CustomerID int64  `json:"customerId"`
	Customer   string `json:"customer"`
	Closed     bool   `json:"closed"`
	Income     string `json:"income" doc:"Billed work and passed-on costs, net"`
	Costs      string `json:"costs"`
	Margin     string `json:"margin"`
	Percent    string `json:"percent" doc:"Of the income; empty where there is none"`
	Budget     string `json:"budget"`
	OverBudget bool   `json:"overBudget"`
	Waiting    string `json:"waiting" doc:"Costs that wait to be passed on"`
}

func marginRow(r store.MarginRow, cur money.Currency) MarginRow {
	b := MarginRow{ID: r.ID, Number: r.Number, Name: r.Name, CustomerID: r.PartyID, Customer: r.Party, Closed: r.Closed, Income: cur.Format(r.Income), Costs: cur.Format(r.Costs), Margin: cur.Format(r.Margin),
		Budget: cur.Format(r.Budget), OverBudget: r.Budget > 0 && r.Costs > r.Budget, Waiting: cur.Format(r.Waiting)}
	b.Percent = marginPercent(r.Margin, r.Income)
	return b
}

// marginPercent is a margin as percent of what came in, to a tenth; empty where
// nothing did.
func marginPercent(margin, income money.Amount) string {
	if income <= 0 {
		return ""
	}
	return decimal.NewFromInt(int64(margin)).Mul(decimal.NewFromInt(100)).DivRound(decimal.NewFromInt(int64(income)), 1).StringFixed(1)
}

// JobMargin is what a job brought in and cost.
type JobMargin struct {
	Income     []MarginLine  `json:"income"`
	Costs      []MarginLine  `json:"costs"`
	IncomeSum  string        `json:"incomeSum"`
	CostsSum   string        `json:"costsSum"`
	Margin     string        `json:"margin"`
	Percent    string        `json:"percent" doc:"Of the income; empty where there is none"`
	Budget     string        `json:"budget" doc:"Empty for none"`
	LeftOf     string        `json:"leftOfBudget"`
	OverBudget bool          `json:"overBudget"`
	Waiting    string        `json:"waiting" doc:"Costs that wait to be passed on"`
	OnBehalf   string        `json:"onBehalf" doc:"Paid on the customer's behalf, beside the margin"`
	Months     []MarginMonth `json:"months"`
}

// MarginLine is what stands on one account.
type MarginLine struct {
	AccountID int64  `json:"accountId"`
	Account   string `json:"account"`
	Amount    string `json:"amount"`
}

// MarginMonth is where a job stood at the end of a month. The figures are for
// drawing.
type MarginMonth struct {
	Month  string  `json:"month"`
	Income float64 `json:"income" doc:"So far"`
	Costs  float64 `json:"costs" doc:"So far"`
}

func (s *Server) jobMargin(ctx context.Context, id int64, asOf string) (*struct{ Body JobMargin }, error) {
	p, d, err := s.lookingBack(ctx, asOf)
	if err != nil {
		return nil, err
	}
	r := s.book.Read(ctx)
	lines, months, err := r.MarginOf(id, d)
	if err != nil {
		return nil, problem(err)
	}
	paid, waiting, err := r.OnBehalfOf(id, d)
	if err != nil {
		return nil, problem(err)
	}
	facts, err := r.Facts(s.book.Today())
	if err != nil {
		return nil, problem(err)
	}
	job, ok := facts.Job(id)
	if !ok {
		return nil, orNotFound(facts.Err())
	}
	var income, costs money.Amount
	out := &struct{ Body JobMargin }{JobMargin{Income: []MarginLine{}, Costs: []MarginLine{}, Months: []MarginMonth{}, Waiting: p.cur.Format(waiting), OnBehalf: p.cur.Format(paid)}}
	b := &out.Body
	for _, l := range lines {
		switch l.Type {
		case "expense":
			costs += l.Amount
			b.Costs = append(b.Costs, MarginLine{l.AccountID, l.Account, p.cur.Format(l.Amount)})
		case "contra income":
			income -= l.Amount
			b.Income = append(b.Income, MarginLine{l.AccountID, l.Account, p.cur.Format(-l.Amount)})
		default:
			income += l.Amount
			b.Income = append(b.Income, MarginLine{l.AccountID, l.Account, p.cur.Format(l.Amount)})
		}
	}
	b.IncomeSum, b.CostsSum, b.Margin = p.cur.Format(income), p.cur.Format(costs), p.cur.Format(income-costs)
	b.Percent = marginPercent(income-costs, income)
	if job.Budget > 0 {
		b.Budget, b.LeftOf, b.OverBudget = p.cur.Format(job.Budget), p.cur.Format(job.Budget-costs), costs > job.Budget
	}
	one := float64(p.cur.One())
	var in, out2 money.Amount
	for _, m := range months {
		in, out2 = in+m.Income, out2+m.Costs
		b.Months = append(b.Months, MarginMonth{m.Month, float64(in) / one, float64(out2) / one})
	}
	return out, nil
}

func (s *Server) registerCosts() {
	type input struct {
		ListInput
		State    string `query:"state" enum:"waiting,credited" doc:"Those below nil since their supplier credited what was billed; left out, all"`
		Customer int64  `query:"customer"`
		Job      int64  `query:"job"`
	}
	lister[input, store.CostRow, Cost]{
		id: "costs", path: "/api/v1/costs", summary: "Costs that wait to be passed on",
		head: func(in *input) ListInput { return in.ListInput },
		find: func(ctx context.Context, in *input, q store.Query) (store.Page[store.CostRow], error) {
			d, err := s.asOf(in.AsOf)
			if err != nil {
				return store.Page[store.CostRow]{}, err
			}
			return s.book.Read(ctx).Costs(store.CostFilter{Search: in.Search, State: in.State, PartyID: in.Customer, JobID: in.Job}, q, d)
		},
		row:  costBody,
		key:  func(r Cost) int64 { return r.ID },
		sums: []string{"left", "onDrafts"},
		columns: []col[Cost]{{"Day", func(r Cost) string { return r.Day }, false}, {"Number", func(r Cost) string { return r.Number }, false}, {"Supplier", func(r Cost) string { return r.Supplier }, false}, {"Customer", func(r Cost) string { return r.Customer }, false},
			{"Job", func(r Cost) string { return r.Job }, false}, {"Text", func(r Cost) string { return r.Text }, false}, {"Passed on", func(r Cost) string { return r.PassOn }, false}, {"Markup", func(r Cost) string { return r.Markup }, true},
			{"Cost", func(r Cost) string { return r.Cost }, true}, {"Waits", func(r Cost) string { return r.Left }, true}, {"On drafts", func(r Cost) string { return r.OnDrafts }, true}},
	}.register(s)
	type margins struct {
		ListInput
		State string `query:"state" enum:"closed,all" doc:"Left out: those not closed"`
	}
	type row = MarginRow
	lister[margins, store.MarginRow, row]{
		id: "margins", path: "/api/v1/margins", summary: "Jobs by what they brought in and cost",
		head: func(in *margins) ListInput { return in.ListInput },
		find: func(ctx context.Context, in *margins, q store.Query) (store.Page[store.MarginRow], error) {
			d, err := s.asOf(in.AsOf)
			if err != nil {
				return store.Page[store.MarginRow]{}, err
			}
			return s.book.Read(ctx).Margins(store.JobFilter{Search: in.Search, State: in.State}, q, d)
		},
		row:  func(r store.MarginRow, _ day.Day, cur money.Currency) row { return marginRow(r, cur) },
		key:  func(r row) int64 { return r.ID },
		sums: []string{"income", "costs", "margin", "budget", "waiting"},
		columns: []col[row]{{"Number", func(r row) string { return r.Number }, false}, {"Name", func(r row) string { return r.Name }, false}, {"Customer", func(r row) string { return r.Customer }, false}, {"Income", func(r row) string { return r.Income }, true},
			{"Costs", func(r row) string { return r.Costs }, true}, {"Margin", func(r row) string { return r.Margin }, true}, {"Percent", func(r row) string { return r.Percent }, true}, {"Budget", func(r row) string { return r.Budget }, true},
			{"Costs waiting", func(r row) string { return r.Waiting }, true}},
	}.register(s)
	huma.Register(s.api, describe("job-margin", "GET", "/api/v1/jobs/{id}/margin", "What a job brought in and cost"), func(ctx context.Context, in *idOnInput) (*struct{ Body JobMargin }, error) {
		return s.jobMargin(ctx, in.ID, in.AsOf)
	})
}
