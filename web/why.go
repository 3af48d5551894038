package web

import (
	"context"

	"cleantally/core/day"
	"cleantally/core/ledger"
	"cleantally/core/money"
	"cleantally/store"

	"github.com/danielgtaylor/huma/v2"
)

// Reason is a paper and how much of a balance it is.
type Reason struct {
	PaperID int64  `json:"paperId"`
	Number  string `json:"number"`
	Kind    string `json:"kind"`
	Day     string `json:"day"`
	Text    string `json:"text"`
	Amount  string `json:"amount"`
}

// Why is the shortest list of papers that add up to a balance.
type Why struct {
	Rows    []Reason `json:"rows"`
	Earlier string   `json:"earlier" doc:"What older papers come to that are not told one by one; empty for none"`
	Total   string   `json:"total"`
}

// mostReasons is how many papers are told; what is older is one sum.
const mostReasons = 300

type whyInput struct {
	Of       string `query:"of" required:"true" enum:"account,item,register,billed" doc:"What balance it is"`
	ID       int64  `query:"id" doc:"The account or the item"`
	Register string `query:"register" enum:"receivables,retention,deposits,unidentified,payables,supplier prepayments,retention payable"`
	Side     string `query:"side" enum:"owed,credits" doc:"Of a register: one side alone"`
	Customer int64  `query:"customer"`
	Job      int64  `query:"job"`
	AsOf     string `query:"asOf"`
}

func (s *Server) why(ctx context.Context, in *whyInput) (*struct{ Body Why }, error) {
	p, d, err := s.lookingBack(ctx, in.AsOf)
	if err != nil {
		return nil, err
	}
	out := &struct{ Body Why }{}
	err = s.book.Snapshot(ctx, func(r *store.Reader) error {
		reasons, total, err := s.reasons(r, in, d)
		out.Body = whyBody(reasons, total, p.cur)
		return err
	})
	return out, problem(err)
}

// reasons finds the papers; total is nil where they are told in full.
func (s *Server) reasons(r *store.Reader, in *whyInput, d day.Day) ([]store.Reason, *money.Amount, error) {
	side := map[string]int{"owed": 1, "credits": -1}[in.Side]
	switch in.Of {
	case "item":
		rows, err := r.WhyItem(in.ID, d)
		return rows, nil, err
	case "billed":
		rows, err := r.WhyBilled(in.Job, d)
		return rows, nil, err
	case "register":
		rows, total, err := r.WhyRegister(ledger.Role(in.Register), in.Customer, in.Job, side, d, mostReasons)
		return rows, &total, err
	}
	roles, err := r.Roles()
	if err != nil {
		return nil, nil, err
	}
	for _, role := range roles {
		// A deposit that was taxed on receipt stands in its account without the
		// tax, so that account is told by its lines.
		if role.AccountID == in.ID && role.Role.IsControl() && role.Role != ledger.Deposits {
			rows, total, err := r.WhyRegister(role.Role, 0, 0, 0, d, mostReasons)
			return rows, &total, err
		}
	}
	balance, err := r.AccountBalanceOn(in.ID, d)
	if err != nil {
		return nil, nil, err
	}
	rows, err := r.WhyAccount(in.ID, d, mostReasons)
	return rows, &balance, err
}

func whyBody(rows []store.Reason, total *money.Amount, cur money.Currency) Why {
	out := Why{Rows: []Reason{}}
	var sum, shown money.Amount
	for i, r := range rows {
		sum += r.Amount
		if i < mostReasons {
			shown += r.Amount
			out.Rows = append(out.Rows, Reason{r.PaperID, r.Number, string(r.Kind), string(r.Day), r.Text, cur.Format(r.Amount)})
		}
	}
	if total != nil {
		sum = *total
	}
	if sum != shown {
		out.Earlier = cur.Format(sum - shown)
	}
	out.Total = cur.Format(sum)
	return out
}

// Bar is a bar of a chart: a stretch of days with what falls into it.
type Bar struct {
	From   string  `json:"from"`
	To     string  `json:"to"`
	Amount string  `json:"amount"`
	Length float64 `json:"length" doc:"In whole units, for drawing alone"`
}

// Months are what stood at the end of each month.
type Months struct {
	Months []Bar `json:"months"`
}

func bars(all []store.Week, cur money.Currency) []Bar {
	out := []Bar{}
	for _, w := range all {
		out = append(out, Bar{string(w.From), string(w.To), cur.Format(w.Amount), cur.Decimal(w.Amount).InexactFloat64()})
	}
	return out
}

func (s *Server) registerWhy() {
	huma.Register(s.api, describe("why", "GET", "/api/v1/why", "The shortest list of papers that add up to a balance"), s.why)
	s.registerForecast()
	huma.Register(s.api, describe("held", "GET", "/api/v1/held", "Deposits held at the end of each of the last twelve months"), func(ctx context.Context, in *AsOfInput) (*struct{ Body Months }, error) {
		p, d, err := s.lookingBack(ctx, in.AsOf)
		if err != nil {
			return nil, err
		}
		months, err := s.book.Read(ctx).HeldAtMonthEnds(d, 12)
		return &struct{ Body Months }{Months{bars(months, p.cur)}}, problem(err)
	})
}
