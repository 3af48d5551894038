package web

import (
	"context"
	"fmt"
	"strings"

	"cleantally/books"
	"cleantally/core/day"
	"cleantally/core/master"
	"cleantally/core/posting"
	"cleantally/store"

	"github.com/danielgtaylor/huma/v2"
	"github.com/shopspring/decimal"
)

// Currency is one that papers may be in, beside the firm's own, with its newest
// rate.
type Currency struct {
	ID       int64  `json:"id,omitempty"`
	Version  int64  `json:"version,omitempty" readOnly:"true" doc:"Counts its changes; If-Match needs it"`
	Code     string `json:"code" maxLength:"3" doc:"ISO 4217"`
	Inactive bool   `json:"inactive,omitempty"`
	Places   int32  `json:"places,omitempty" readOnly:"true" doc:"Of its amounts"`
	Rate     string `json:"rate,omitempty" readOnly:"true" doc:"The newest: what one unit is worth in the firm's"`
	RateDay  string `json:"rateDay,omitempty" readOnly:"true"`
	Age      int    `json:"age,omitempty" readOnly:"true" doc:"Of the newest rate, in days"`
}

// Rate is what one unit of a currency was worth on a day.
type Rate struct {
	Currency string `json:"currency" maxLength:"3"`
	Day      string `json:"day" maxLength:"10"`
	Rate     string `json:"rate,omitempty" maxLength:"40" doc:"In the firm's currency; empty takes that of the day away"`
	Source   string `json:"source,omitempty" readOnly:"true" doc:"The file that it comes from; empty for by hand"`
	Age      int    `json:"age,omitempty" readOnly:"true" doc:"On the day that was asked for, in days"`
}

// RatesRead is what of a file of rates was taken, or would be.
type RatesRead struct {
	New     int    `json:"new"`
	Changed int    `json:"changed"`
	Same    int    `json:"same" doc:"That were known already"`
	LeftOut int    `json:"leftOut" doc:"Of currencies that are not in use"`
	From    string `json:"from"`
	Through string `json:"through"`
	Newest  []Rate `json:"newest" doc:"Of each currency that is taken"`
}

func (s *Server) registerCurrencies() {
	records(s, "currencies", "currency", s.currencies, func(r Currency, v int64) Currency { r.Version = v; return r }, func(ctx context.Context, id int64, c Currency, _ *parser) error {
		return s.book.SaveCurrency(ctx, s.user(ctx), &master.Currency{ID: id, Version: c.Version, Code: c.Code, Inactive: c.Inactive})
	})
	type listInput struct {
		Currency string `query:"currency" maxLength:"3"`
		Before   string `query:"before" doc:"Those before this day"`
	}
	huma.Register(s.api, describe("rates", "GET", "/api/v1/rates", "The rates of a currency, the newest first"), func(ctx context.Context, in *listInput) (*struct{ Body Records[Rate] }, error) {
		before, err := s.dayOr(in.Before, "")
		if err != nil {
			return nil, err
		}
		rows, err := s.book.Read(ctx).Rates(in.Currency, before, 200)
		out := &struct{ Body Records[Rate] }{Records[Rate]{[]Rate{}}}
		for _, r := range rows {
			out.Body.Rows = append(out.Body.Rows, Rate{Currency: r.Currency, Day: string(r.Day), Rate: rateText(r.Rate), Source: r.Source})
		}
		return out, problem(err)
	})
	type onInput struct {
		Currency string `query:"currency" maxLength:"3"`
		Day      string `query:"day"`
	}
	huma.Register(s.api, describe("rate-on", "GET", "/api/v1/rate", "What one unit of a currency is worth on a day: the newest rate that is not after it"), func(ctx context.Context, in *onInput) (*struct{ Body Rate }, error) {
		d, err := s.dayOr(in.Day, s.book.Today())
		if err != nil {
			return nil, err
		}
		r, age, found, err := s.book.Worth(ctx, in.Currency, d)
		out := &struct{ Body Rate }{Rate{Currency: in.Currency}}
		if found {
			out.Body = Rate{Currency: r.Currency, Day: string(r.Day), Rate: rateText(r.Rate), Source: r.Source, Age: age}
		}
		return out, problem(err)
	})
	huma.Register(s.api, describe("set-rate", "PUT", "/api/v1/rates", "Say what one unit of a currency was worth on a day"), func(ctx context.Context, in *struct{ Body Rate }) (*struct{}, error) {
		p, err := s.parser(ctx)
		if err != nil {
			return nil, err
		}
		rate := posting.Rate{Currency: in.Body.Currency, Day: p.day("day", in.Body.Day), Rate: p.rate("rate", in.Body.Rate)}
		return nil, problem(p.or(func() error {
			if in.Body.Rate != "" && rate.Rate.IsZero() {
				return posting.Refusals{{Field: "rate", Rule: "out of bounds", Text: fmt.Sprintf("A rate is above nil, below %d. To take it away, leave it empty.", posting.RateLimit)}}
			}
			return s.book.SetRate(ctx, s.user(ctx), rate)
		}))
	})
	type readInput struct {
		Name    string `query:"name" maxLength:"200" doc:"Of the file"`
		Preview bool   `query:"preview" doc:"Answer what would be taken and write nothing"`
		RawBody []byte `contentType:"application/octet-stream"`
	}
	op := describe("read-rates", "POST", "/api/v1/rates", "Take rates from a file: CSV with currency, date and rate, or reference rates of the European Central Bank as XML")
	op.MaxBodyBytes = 16 << 20
	huma.Register(s.api, op, func(ctx context.Context, in *readInput) (*struct{ Body RatesRead }, error) {
		read, err := s.book.ImportRates(ctx, s.user(ctx), in.Name, in.RawBody, in.Preview)
		return &struct{ Body RatesRead }{ratesRead(read)}, problem(err)
	})
}

// rateOrNothing writes a rate, "" for nil.
func rateOrNothing(d decimal.Decimal) string {
	if d.IsZero() {
		return ""
	}
	return rateText(d)
}

// rateText writes a rate with four places or more, so that rates one under the
// other can be compared.
func rateText(d decimal.Decimal) string {
	_, places, _ := strings.Cut(d.String(), ".") // without trailing noughts
	return d.StringFixed(int32(max(4, len(places))))
}

func ratesRead(r books.ReadRates) RatesRead {
	out := RatesRead{New: r.New, Changed: r.Changed, Same: r.Same, LeftOut: r.LeftOut, From: string(r.From), Through: string(r.Through), Newest: []Rate{}}
	for _, n := range r.Newest {
		out.Newest = append(out.Newest, Rate{Currency: n.Currency, Day: string(n.Day), Rate: rateText(n.Rate)})
	}
	return out
}

func (s *Server) currencies(ctx context.Context) ([]Currency, error) {
	r := s.book.Read(ctx)
	rows, err := store.All[master.Currency](r, "code")
	if err != nil {
		return nil, err
	}
	cur, err := r.Currency()
	var out []Currency
	for _, c := range rows {
		body := Currency{ID: c.ID, Version: c.Version, Code: c.Code, Inactive: c.Inactive, Places: in(cur, c.Code).Places}
		newest, found, err := r.RateOn(c.Code, day.EndOfTime)
		if err != nil {
			return nil, err
		}
		if found {
			body.Rate, body.RateDay, body.Age = rateText(newest.Rate), string(newest.Day), s.book.Today().Since(newest.Day)
		}
		out = append(out, body)
	}
	return out, err
}
