package web

import (
	"context"
	"fmt"

	"cleantally/core/closing"
	"cleantally/core/day"
	"cleantally/core/money"
	"cleantally/core/posting"
	"cleantally/store"

	"github.com/danielgtaylor/huma/v2"
)

// RevaluedItem is what is open in another currency at the end of a day, at the
// rate of that day.
type RevaluedItem struct {
	Currency   string `json:"currency"`
	What       string `json:"what" doc:"The number of the paper, or the name of the bank account"`
	PaperID    int64  `json:"paperId" doc:"0 for money on a bank account"`
	Kind       string `json:"kind" doc:"Of the paper"`
	Party      string `json:"party"`
	PartyID    int64  `json:"partyId"`
	Own        string `json:"own" doc:"In its currency: a debit above nil, a credit below"`
	Stands     string `json:"stands" doc:"What that stands at, in the firm's"`
	Rate       string `json:"rate" doc:"Of the day; empty where there is none"`
	Now        string `json:"now" doc:"What it is worth at it"`
	Difference string `json:"difference" doc:"Unrealised: above nil a gain"`
}

// Revaluation is all that is open in other currencies at the end of a day, with
// what came to exchange in the year until then.
type Revaluation struct {
	Day        string         `json:"day"`
	Rows       []RevaluedItem `json:"rows"`
	Rates      []Rate         `json:"rates" doc:"Of the day, with their age on it"`
	Difference string         `json:"difference" doc:"Unrealised, in all"`
	Realised   string         `json:"realised" doc:"What came to exchange by settling since the beginning of the year, above nil a gain"`
	PaperID    int64          `json:"paperId" doc:"By which it was revalued; 0 for not"`
	Paper      string         `json:"paper"`
	Missing    bool           `json:"missing" doc:"Whether a rate is missing"`
}

// RevaluationBody revalues what is open in other currencies.
type RevaluationBody struct {
	Number string `json:"number,omitempty" doc:"Empty to be given the next"`
	Day    string `json:"day,omitempty"`
	Rates  []Rate `json:"rates,omitempty" maxItems:"200" doc:"In place of those of the day"`
}

func (b RevaluationBody) command(p *parser) posting.Command {
	r := closing.Revalue{Number: b.Number, Day: p.day("day", b.Day)}
	for n, x := range b.Rates {
		r.Rates = append(r.Rates, posting.Rate{Currency: x.Currency, Rate: p.rate(fmt.Sprintf("rates[%d].rate", n), x.Rate)})
	}
	return r
}

// revaluation looks at what is open in other currencies at the end of a day.
func revaluation(r *store.Reader, d day.Day) (*Revaluation, error) {
	facts, err := r.Facts(d)
	if err != nil {
		return nil, err
	}
	firm := facts.Currency()
	out := &Revaluation{Day: string(d), Rows: []RevaluedItem{}, Rates: []Rate{}}
	var sum money.Amount
	told := map[string]bool{}
	for _, x := range closing.RevaluedAt(facts, d, nil) {
		row := RevaluedItem{Currency: x.Currency, What: x.Bank.Name, Own: in(firm, x.Currency).Format(x.Stands.Own), Stands: firm.Format(x.Stands.Base)}
		if x.Bank.ID == 0 {
			row.What, row.PaperID, row.Kind, row.PartyID = x.Item.Number, x.Item.PaperID, string(x.Item.Kind), x.Item.PartyID
			p, _ := facts.Party(x.Item.PartyID)
			row.Party = p.Name
		}
		if x.Rate.Rate.IsZero() {
			out.Missing = true
		} else {
			row.Rate, row.Now, row.Difference = rateText(x.Rate.Rate), firm.Format(x.Now), firm.Format(x.Difference)
			sum += x.Difference
		}
		if !told[x.Currency] {
			told[x.Currency] = true
			rate := Rate{Currency: x.Currency}
			if row.Rate != "" {
				rate = Rate{Currency: x.Currency, Day: string(x.Rate.Day), Rate: row.Rate, Age: d.Since(x.Rate.Day)}
			}
			out.Rates = append(out.Rates, rate)
		}
		out.Rows = append(out.Rows, row)
	}
	out.Difference = firm.Format(sum)
	all, revalued, err := r.ExchangeBetween(d[:4]+"-01-01", d)
	if err != nil {
		return nil, err
	}
	out.Realised = firm.Format(revalued - all)
	if out.PaperID, out.Paper, err = r.RevaluationOf(d); err != nil {
		return nil, err
	}
	return out, facts.Err()
}

func (s *Server) registerRevaluation() {
	type input struct {
		Day string `query:"day" doc:"Left out, the end of the month before today"`
	}
	huma.Register(s.api, describe("revaluation", "GET", "/api/v1/revaluations", "What is open in other currencies at the end of a day, at its rates"), func(ctx context.Context, in *input) (*struct{ Body Revaluation }, error) {
		d, err := s.dayOr(in.Day, day.Day(s.book.Today()[:7]+"-01").Add(-1))
		if err != nil {
			return nil, err
		}
		out := &struct{ Body Revaluation }{}
		return out, problem(s.book.Snapshot(ctx, func(r *store.Reader) error {
			a, err := revaluation(r, d)
			if err == nil {
				out.Body = *a
			}
			return err
		}))
	})
	command[RevaluationBody](s, "post-revaluation", "/api/v1/revaluations", "Revalue what is open in other currencies; it is taken back on the next day")
}
