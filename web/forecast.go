package web

import (
	"context"
	"errors"
	"slices"

	"cleantally/books"
	"cleantally/core/day"
	"cleantally/core/money"
	"cleantally/core/posting"
	"cleantally/core/reporting"
	"cleantally/core/tax"
	"cleantally/store"

	"github.com/danielgtaylor/huma/v2"
)

// Forecast is how the money is expected to go on, week by week.
type Forecast struct {
	AsOf        string         `json:"asOf"`
	Currency    string         `json:"currency,omitempty" doc:"Of what is in this currency alone, in it; empty: of all, in the firm's"`
	Begins      string         `json:"begins" doc:"What the books say is in bank accounts and tills: what the bank says, with what is on the way"`
	Unexplained string         `json:"unexplained" doc:"What lines of the bank come to that nothing explains yet: it is not in it, for some of it is what is expected"`
	Reconciled  string         `json:"reconciled" doc:"The day through which the bank accounts are reconciled; empty for never"`
	Weeks       []ForecastWeek `json:"weeks"`
	Overdue     string         `json:"overdue" doc:"What customers owe already; nobody knows when it comes"`
	Disputed    string         `json:"disputed"`
	NoDay       string         `json:"noDay" doc:"What comes, less what goes, on no day that is known"`
	Later       string         `json:"later" doc:"After these weeks"`
}

// ForecastWeek is a week with what comes and goes in it.
type ForecastWeek struct {
	From    string        `json:"from"`
	To      string        `json:"to"`
	In      string        `json:"in"`
	Out     string        `json:"out" doc:"Below nil"`
	Balance string        `json:"balance" doc:"At its end"`
	Length  float64       `json:"length" doc:"The balance in whole units, for drawing alone"`
	Count   int           `json:"count" doc:"How much comes and goes in it"`
	Rows    []MoneyComing `json:"rows"`
}

// MoneyComing is money that is to come or to go.
type MoneyComing struct {
	Day     string `json:"day"`
	Amount  string `json:"amount"`
	Why     string `json:"why" enum:"invoice,bill,retention,retention payable,request for a deposit,card takings,billing plan,recurring invoice"`
	Number  string `json:"number"`
	Party   string `json:"party"`
	PaperID int64  `json:"paperId"`
	JobID   int64  `json:"jobId"`

	Currency string `json:"currency,omitempty" doc:"Its own, ISO 4217, where that is not the firm's"`
	Own      string `json:"own,omitempty" doc:"The amount in it"`
}

// forecastWeeks is how far one looks ahead.
const forecastWeeks = 12

func (s *Server) registerForecast() {
	type input struct {
		AsOfInput
		InOneCurrency
		Part string `query:"part" enum:"first" doc:"The weeks alone, without what comes and goes in each"`
		Week string `query:"week" doc:"With what comes and goes in the week of this day alone"`
	}
	huma.Register(s.api, describe("expected", "GET", "/api/v1/expected", "How the money is expected to go on over the next twelve weeks"), func(ctx context.Context, in *input) (*struct{ Body Forecast }, error) {
		p, d, err := s.lookingBack(ctx, in.AsOf)
		if err != nil {
			return nil, err
		}
		week, err := s.dayOr(in.Week, "")
		if err != nil {
			return nil, err
		}
		told := func(w reporting.ForecastWeek) bool {
			return in.Part == "" && (week == "" || w.From <= week && week <= w.To)
		}
		out := &struct{ Body Forecast }{}
		return out, problem(s.book.Snapshot(ctx, func(r *store.Reader) error {
			all, err1 := r.Comings(d, in.Currency)
			has, err2 := r.MoneyAt(d, in.Currency)
			f, err3 := r.Facts(d)
			if err := errors.Join(err1, err2, err3); err != nil {
				return err
			}
			unexplained, err1 := unexplainedIn(r, f, d, in.Currency, p.cur)
			more, err2 := s.planned(ctx, r, f, d, in.Currency, p.cur)
			if err := errors.Join(err1, err2); err != nil {
				return err
			}
			x := reporting.Foresee(d, has.Books, forecastWeeks, append(all, more...))
			if err := named(r, x.Weeks, told); err != nil {
				return err
			}
			out.Body = forecastBody(x, d, p.cur, p.cur.In(in.Currency), told)
			out.Body.Currency, out.Body.Reconciled, out.Body.Unexplained = in.Currency, string(has.Reconciled), p.cur.In(in.Currency).Format(unexplained)
			return nil
		}))
	})
}

// named names the papers of the weeks of which it is told what comes and goes in
// them: most of what is owed is overdue, and told as one sum.
func named(r *store.Reader, weeks []reporting.ForecastWeek, told func(reporting.ForecastWeek) bool) error {
	weeks = slices.DeleteFunc(slices.Clone(weeks), func(w reporting.ForecastWeek) bool { return !told(w) })
	if len(weeks) == 0 {
		return nil
	}
	var papers []int64
	for _, w := range weeks {
		for _, c := range w.Rows {
			papers = append(papers, c.PaperID)
		}
	}
	names, err := r.PaperNames(papers)
	for _, w := range weeks {
		for n, c := range w.Rows {
			if name, there := names[c.PaperID]; there {
				w.Rows[n].Number, w.Rows[n].Party = name.Number, name.Party
			}
		}
	}
	return err
}

// forecastBody tells a forecast in a currency, with what is in others in those too.
func forecastBody(x reporting.Forecast, d day.Day, firm, cur money.Currency, told func(reporting.ForecastWeek) bool) Forecast {
	f := cur.Format
	b := Forecast{AsOf: string(d), Begins: f(x.Begins), Overdue: f(x.Overdue), Disputed: f(x.Disputed), NoDay: f(x.NoDay), Later: f(x.Later)}
	for _, w := range x.Weeks {
		week := ForecastWeek{From: string(w.From), To: string(w.To), In: f(w.In), Out: f(w.Out), Balance: f(w.Balance), Length: cur.Decimal(w.Balance).InexactFloat64(), Count: len(w.Rows), Rows: []MoneyComing{}}
		if !told(w) {
			w.Rows = nil
		}
		for _, c := range w.Rows {
			row := MoneyComing{Day: string(c.Day), Amount: f(c.Amount), Why: c.Why, Number: c.Number, Party: c.Party, PaperID: c.PaperID, JobID: c.JobID}
			if c.Currency != "" && c.Currency != cur.Code {
				row.Currency, row.Own = c.Currency, firm.In(c.Currency).Format(c.Own)
			}
			week.Rows = append(week.Rows, row)
		}
		b.Weeks = append(b.Weeks, week)
	}
	return b
}

// unexplainedIn is what lines of the bank come to that nothing explains: of one
// currency, or of all in the firm's, at the newest rates.
func unexplainedIn(r *store.Reader, f *store.Facts, d day.Day, currency string, firm money.Currency) (money.Amount, error) {
	all, err := r.UnexplainedAt(d)
	var sum money.Amount
	for _, u := range all {
		switch {
		case firm.In(u.Currency).Code == currency, currency == "" && u.Currency == "":
			sum += u.Amount
		case currency == "":
			rate, _ := f.RateOn(u.Currency, d)
			sum += posting.Exchanged(f, firm.In(u.Currency), u.Amount, rate.Rate)
		}
	}
	return sum, err
}

// planned is what is not written yet: stages of billing plans, net with the firm's
// usual tax on it, and invoices that recur, each due by the customer's terms. What
// recurs is kept as it is now alone, so that a past day is told without it.
func (s *Server) planned(ctx context.Context, r *store.Reader, f *store.Facts, d day.Day, currency string, firm money.Currency) ([]reporting.Coming, error) {
	last := d.Add(7 * forecastWeeks)
	all, err := stagesComing(r, f, d, last, currency, firm)
	if err != nil || d != s.book.Today() {
		return all, err
	}
	schedules, err := r.Schedules()
	for _, sch := range schedules {
		if sch.Paused {
			continue
		}
		for _, on := range sch.Days().Through(sch.Made, last) {
			_, c, err := recurs(sch, on, firm)
			if err != nil {
				return nil, err
			}
			effect, _, err := s.book.Preview(ctx, c, books.How{User: s.user(ctx)})
			if err != nil {
				return nil, err
			}
			for _, i := range effect.Items {
				amount := i.Amount.Base
				if currency != "" {
					amount = i.Amount.Own
				}
				if currency == "" || firm.In(i.Currency).Code == currency {
					all = append(all, reporting.Coming{Day: i.Due, Amount: amount, Currency: i.Currency, Own: i.Amount.Own, Why: "recurring invoice", Number: sch.Name, Party: sch.Party})
				}
			}
		}
	}
	return all, err
}

// stagesComing are the stages that no claim has billed, told as Comings are.
func stagesComing(r *store.Reader, f *store.Facts, d, last day.Day, currency string, cur money.Currency) ([]reporting.Coming, error) {
	jobs, err := r.JobsWithStages(last)
	if err != nil {
		return nil, err
	}
	firm, err := r.Firm()
	if err != nil {
		return nil, err
	}
	var all []reporting.Coming
	for _, j := range jobs {
		x, err := planOf(r, f, j.ID, d, cur)
		if err != nil {
			return nil, err
		}
		if currency != "" && cur.In(x.currency).Code != currency {
			continue
		}
		billed := x.pos.BilledNet
		for n, stage := range x.stages {
			through, _ := cur.Parse(stage.Through)
			net := through - billed
			if stage.Billed || net <= 0 || x.plan[n].Day == "" {
				continue
			}
			billed = through
			on := max(x.plan[n].Day, d)
			party, _ := f.Party(j.PartyID)
			code, rates, _ := f.TaxCode(firm.TaxCodeID)
			percent, err := tax.RateOn(code, rates, on)
			if err != nil {
				return nil, err
			}
			told, in := net, cur
			if currency != "" {
				told, in = x.own(net), cur.In(x.currency)
			}
			gross := told + in.Round(money.Percent(in.Decimal(told), percent))
			dues, _ := posting.Build(f).Split(on, gross, party, 0)
			for _, due := range dues {
				all = append(all, reporting.Coming{Day: due.Day, Amount: due.Amount, Currency: x.currency, Own: x.own(due.Amount), Why: "billing plan", Number: j.Number + ", " + stage.Name, Party: j.Party, JobID: j.ID})
			}
		}
	}
	return all, f.Err()
}
