package web

import (
	"context"
	"errors"
	"fmt"

	"cleantally/books"
	"cleantally/core/day"
	"cleantally/core/master"
	"cleantally/core/posting"
	"cleantally/core/reporting"
	"cleantally/core/rights"
	"cleantally/core/settling"
	"cleantally/store"

	"github.com/danielgtaylor/huma/v2"
)

// Limits are what the firm has settled about small and lost money.
type Limits struct {
	Version    int64    `json:"version,omitempty" readOnly:"true" doc:"Of the firm; If-Match needs it"`
	Yours      bool     `json:"yours" readOnly:"true" doc:"Whether one may change them"`
	Difference string   `json:"difference" doc:"Up to which a difference is closed on the spot"`
	WriteOff   string   `json:"writeOff" doc:"Past which a write-off needs a second person's word; nil for never"`
	Relief     bool     `json:"relief" doc:"Whether tax on bad debts comes back"`
	Allowance  []string `json:"allowance" doc:"Percent of each age of the ageing, the youngest first"`

	LatePercent string `json:"latePercent,omitempty" doc:"Interest on what is overdue, a year"`
	LateGrace   string `json:"lateGrace,omitempty" doc:"Days after the due day that bear nothing"`
	LateFee     string `json:"lateFee,omitempty" doc:"For what is overdue"`

	Markup     string `json:"markup,omitempty" doc:"On costs that are passed on as our own supply, percent"`
	ShowMarkup bool   `json:"showMarkup,omitempty" doc:"Papers show cost and markup apart"`
}

// AllowanceRow is one age of the allowance.
type AllowanceRow struct {
	Bucket  string `json:"bucket"`
	Base    string `json:"base"`
	Percent string `json:"percent"`
	Wanted  string `json:"wanted"`
}

// AllowanceTable is what the allowance is wanted to be on a day.
type AllowanceTable struct {
	Rows   []AllowanceRow `json:"rows"`
	Wanted string         `json:"wanted"`
	Stands string         `json:"stands"`
	Change string         `json:"change"`
}

// ChequesOut are the cheques that are written and not printed.
type ChequesOut struct {
	Rows []Cheque `json:"rows"`
}

// Cheque is a refund that is paid by cheque.
type Cheque struct {
	PaperID  int64  `json:"paperId"`
	Number   string `json:"number" doc:"Of the refund"`
	Cheque   string `json:"cheque"`
	Day      string `json:"day"`
	Customer string `json:"customer"`
	Amount   string `json:"amount"`
	Currency string `json:"currency,omitempty" doc:"Of its account, ISO 4217; empty for the firm's own"`
	InWords  string `json:"inWords"`
}

func (s *Server) limits(ctx context.Context, _ *struct{}) (*struct{ Body Limits }, error) {
	p, err := s.parser(ctx)
	if err != nil {
		return nil, err
	}
	l, err := s.book.Limits(ctx)
	firm, err2 := s.book.Read(ctx).Firm()
	who, err3 := s.book.Person(ctx)
	if err = errors.Join(err, err2, err3); err != nil {
		return nil, problem(err)
	}
	out := &struct{ Body Limits }{Limits{firm.Version, who.May(rights.ToOwn), p.cur.Format(l.Difference), p.cur.Format(l.WriteOff), l.Relief, []string{}, dec(l.LatePercent), fmt.Sprint(l.LateGrace), p.cur.Format(l.LateFee), dec(l.Markup), l.ShowMarkup}}
	for n := range reporting.Buckets(reporting.ByDue) {
		percent := "0"
		if n < len(l.Allowance) {
			percent = dec(l.Allowance[n])
		}
		out.Body.Allowance = append(out.Body.Allowance, percent)
	}
	return out, problem(err)
}

type limitsInput struct {
	IfMatch
	Body Limits
}

func (s *Server) saveLimits(ctx context.Context, in *limitsInput) (*struct{ Body Limits }, error) {
	p, err := s.parser(ctx)
	if err != nil {
		return nil, err
	}
	version, err := in.version()
	if err != nil {
		return nil, err
	}
	l := master.Limits{Difference: p.amount("difference", in.Body.Difference), WriteOff: p.amount("writeOff", in.Body.WriteOff), Relief: in.Body.Relief,
		LatePercent: p.decimal("latePercent", in.Body.LatePercent, percentPlaces), LateGrace: int(p.decimal("lateGrace", in.Body.LateGrace, 0).IntPart()), LateFee: p.amount("lateFee", in.Body.LateFee),
		Markup: p.decimal("markup", in.Body.Markup, percentPlaces), ShowMarkup: in.Body.ShowMarkup}
	for n, text := range in.Body.Allowance {
		l.Allowance = append(l.Allowance, p.decimal(fmt.Sprintf("allowance[%d]", n), text, percentPlaces))
	}
	if len(p.refusals) > 0 {
		return nil, refusedProblem(p.refusals)
	}
	if err := s.book.SaveLimits(ctx, s.user(ctx), version, l); err != nil {
		return nil, problem(err)
	}
	return s.limits(ctx, nil)
}

func (s *Server) allowance(ctx context.Context, in *AsOfInput) (*struct{ Body AllowanceTable }, error) {
	p, d, err := s.lookingBack(ctx, in.AsOf)
	if err != nil {
		return nil, err
	}
	out := &struct{ Body AllowanceTable }{}
	err = s.book.Snapshot(ctx, func(r *store.Reader) error {
		facts, err := r.Facts(s.book.Today())
		if err != nil {
			return err
		}
		rows, wanted, stands := settling.WantedAllowance(facts, d)
		f := p.cur.Format
		out.Body = AllowanceTable{[]AllowanceRow{}, f(wanted), f(stands), f(wanted - stands)}
		for _, x := range rows {
			out.Body.Rows = append(out.Body.Rows, AllowanceRow{x.Bucket, f(x.Base), dec(x.Percent), f(x.Wanted)})
		}
		return facts.Err()
	})
	return out, problem(err)
}

func (s *Server) cheques(ctx context.Context, _ *struct{}) (*struct{ Body ChequesOut }, error) {
	p, err := s.parser(ctx)
	if err != nil {
		return nil, err
	}
	r := s.book.Read(ctx)
	rows, err := r.UnprintedCheques(day.EndOfTime)
	if err != nil {
		return nil, problem(err)
	}
	out := &struct{ Body ChequesOut }{ChequesOut{[]Cheque{}}}
	for _, c := range rows {
		amount, code, err := books.ChequeAmount(r, c, s.book.Today())
		if err != nil {
			return nil, problem(err)
		}
		of := p.cur.In(code)
		out.Body.Rows = append(out.Body.Rows, Cheque{c.PaperID, c.Number, c.Cheque, string(c.Day), c.Party, of.Format(amount), code, of.Words(amount)})
	}
	return out, nil
}

func (s *Server) registerLimits() {
	huma.Register(s.api, describe("limits", "GET", "/api/v1/limits", "What the firm has settled about small and lost money"), s.limits)
	huma.Register(s.api, describe("save-limits", "PUT", "/api/v1/limits", "Change what the firm has settled about small and lost money"), s.saveLimits)
	huma.Register(s.api, describe("allowance", "GET", "/api/v1/allowance", "What the allowance is wanted to be on a day"), s.allowance)
	huma.Register(s.api, describe("cheques", "GET", "/api/v1/cheques", "The cheques that are written and not printed"), s.cheques)
	type printed struct {
		Papers []int64 `json:"papers" minItems:"1" maxItems:"500"`
	}
	huma.Register(s.api, describe("print-cheques", "POST", "/api/v1/cheques/printed", "Record that cheques were printed"), func(ctx context.Context, in *struct{ Body printed }) (*struct{}, error) {
		return nil, problem(s.book.PrintedCheques(ctx, s.user(ctx), in.Body.Papers))
	})
	type chosen struct {
		IDs []int64 `query:"ids,explode" required:"true" minItems:"1" maxItems:"500" doc:"The papers that they pay"`
	}
	huma.Register(s.api, describe("cheques-pdf", "GET", "/api/v1/cheques/pdf", "Cheques as one PDF, each with its slip, on plain paper or on their form"), func(ctx context.Context, in *chosen) (*fileOutput, error) {
		p, err := s.book.PrintCheques(ctx, in.IDs)
		if err != nil {
			return nil, problem(err)
		}
		return pdfFile(p.Name, p.File), nil
	})
	type openDebit struct {
		Rows []OpenItem `json:"rows"`
		Sum  string     `json:"sum"`
	}
	type smallInput struct {
		Limit string `query:"limit" doc:"Left out, the firm's own"`
	}
	huma.Register(s.api, describe("small-balances", "GET", "/api/v1/small-balances", "What is open and small, to be written off in one go"), func(ctx context.Context, in *smallInput) (*struct{ Body openDebit }, error) {
		p, err := s.parser(ctx)
		if err != nil {
			return nil, err
		}
		firm, err := s.book.Read(ctx).Firm()
		if err != nil {
			return nil, problem(err)
		}
		limit := firm.DifferenceLimit
		if in.Limit != "" {
			if limit, err = p.cur.Parse(in.Limit); err != nil {
				return nil, refusedProblem(posting.Refusals{{Field: "limit", Rule: "no amount", Text: sentence(err)}})
			}
		}
		rows, sum, err := s.book.Read(ctx).SmallBalances(limit, firm.DifferenceLimit, s.book.Today())
		out := &struct{ Body openDebit }{openDebit{Rows: []OpenItem{}, Sum: p.cur.Format(sum)}}
		for _, i := range rows {
			out.Body.Rows = append(out.Body.Rows, registerItem(i, s.book.Today(), p.cur))
		}
		return out, problem(err)
	})
}
