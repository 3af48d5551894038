package web

import (
	"cmp"
	"context"
	"fmt"
	"math"
	"net/http"
	"strings"

	"cleantally/core/closing"
	"cleantally/core/day"
	"cleantally/core/money"
	"cleantally/core/posting"
	"cleantally/core/tax"
	"cleantally/store"

	"github.com/danielgtaylor/huma/v2"
	"github.com/shopspring/decimal"
)

// TaxPaper is what one paper adds to a row of a tax return.
type TaxPaper struct {
	ID    int64  `json:"id"`
	Kind  string `json:"kind"`
	Paper string `json:"paper"`
	Name  string `json:"name" doc:"Of the customer or supplier"`
	Day   string `json:"day" doc:"Of the tax"`
	Net   string `json:"net"`
	Tax   string `json:"tax"`
}

// TaxRow is what a tax return says of a section, a code and a rate.
type TaxRow struct {
	Row     string     `json:"row" doc:"What tells it apart"`
	Section string     `json:"section" enum:"billed,paid,deposits,released,bought"`
	Code    string     `json:"code" doc:"Name and rate"`
	Net     string     `json:"net"`
	Tax     string     `json:"tax"`
	Count   int        `json:"count" doc:"Of the papers behind it"`
	Papers  []TaxPaper `json:"papers" doc:"The first of them"`
}

// TaxReturn is what a span comes to.
type TaxReturn struct {
	From     string       `json:"from" doc:"Empty: from the beginning of the books"`
	Through  string       `json:"through"`
	Rows     []TaxRow     `json:"rows"`
	Output   string       `json:"output"`
	Input    string       `json:"input"`
	ToPay    string       `json:"toPay" doc:"Below nil comes back"`
	Waiting  string       `json:"waiting" doc:"Tax of what the span billed that is owed when it is paid, less what was paid of it"`
	Deferred string       `json:"deferred" doc:"Tax on retentions that the span kept for later, less what it released"`
	Settled  []TaxSettled `json:"settled" doc:"What was settled, the newest first"`
	Next     string       `json:"next" doc:"The first day that is not settled; empty where nothing was"`
}

// TaxSettled is a span whose tax is settled.
type TaxSettled struct {
	ID      int64  `json:"id"`
	Number  string `json:"number"`
	From    string `json:"from"`
	Through string `json:"through"`
	Day     string `json:"day"`
	ToPay   string `json:"toPay"`
}

// TaxInput says which span.
type TaxInput struct {
	From    string `query:"from" doc:"Left out, the first day that is not settled"`
	Through string `query:"through" doc:"Left out, the end of the month before today"`
}

// taxPapers is how many papers of a row are told at once.
const taxPapers = 100

// taxReturn adds a span up, and tells of each row so many papers after so many.
func (s *Server) taxReturn(ctx context.Context, in TaxInput, after, most int) (*TaxReturn, error) {
	today := s.book.Today()
	through, err := s.dayOr(in.Through, day.Day(today[:7]+"-01").Add(-1))
	if err != nil {
		return nil, err
	}
	from, err := s.dayOr(in.From, "")
	if err != nil {
		return nil, err
	}
	out := &TaxReturn{Through: string(through), Rows: []TaxRow{}, Settled: []TaxSettled{}}
	return out, s.book.Snapshot(ctx, func(r *store.Reader) error {
		cur, err := r.Currency()
		if err != nil {
			return err
		}
		settled, err := r.Periods(posting.TaxSettlement)
		if err != nil {
			return err
		}
		for _, p := range settled {
			out.Settled = append([]TaxSettled{{p.PaperID, p.Number, string(p.FromDay), string(p.ThroughDay), string(p.Day), cur.Format(p.Total)}}, out.Settled...)
			out.Next = string(p.ThroughDay.Add(1))
		}
		if out.From = string(from); out.From == "" && out.Next <= string(through) {
			out.From = out.Next
		}
		begins := day.Day(out.From)
		if begins == "" {
			begins = "0001-01-01"
		}
		names, rateOf, err := taxNames(r)
		if err != nil {
			return err
		}
		sums, err := r.TaxReturn(begins, through, rateOf)
		if err != nil {
			return err
		}
		return out.fill(r, sums, after, most, names, cur)
	})
}

// taxNames are the names of tax codes, and their rates by day.
func taxNames(r *store.Reader) (map[int64]string, func(int64, day.Day) decimal.Decimal, error) {
	codes, err := r.TaxCodes()
	if err != nil {
		return nil, nil, err
	}
	rates, err := r.TaxRates()
	names, byID, of := map[int64]string{0: "without a code"}, map[int64]tax.Code{}, map[int64][]tax.Rate{}
	for _, c := range codes {
		names[c.ID], byID[c.ID] = cmp.Or(c.Name, c.Code), c
	}
	for _, x := range rates {
		of[x.TaxCodeID] = append(of[x.TaxCodeID], x)
	}
	return names, func(code int64, d day.Day) decimal.Decimal {
		percent, err := tax.RateOn(byID[code], of[code], d)
		if err != nil {
			return decimal.Zero
		}
		return percent
	}, err
}

func (t *TaxReturn) fill(books *store.Reader, r closing.TaxReturn, after, most int, names map[int64]string, cur money.Currency) error {
	f := cur.Format
	told := func(all []closing.TaxPaper) []closing.TaxPaper {
		all = all[min(after, len(all)):]
		return all[:min(most, len(all))]
	}
	var ids []int64
	for _, row := range r.Rows {
		for _, p := range told(row.Papers) {
			ids = append(ids, p.PaperID)
		}
	}
	of, err := books.PaperNames(ids)
	if err != nil {
		return err
	}
	for _, row := range r.Rows {
		out := TaxRow{Row: fmt.Sprintf("%s %d %s", row.Section, row.TaxCodeID, dec(row.Percent)), Count: len(row.Papers), Section: string(row.Section), Code: strings.TrimSpace(names[row.TaxCodeID] + " " + dec(row.Percent) + " %"), Net: f(row.Net), Tax: f(row.Tax), Papers: []TaxPaper{}}
		if row.TaxCodeID == 0 {
			out.Code = names[0]
		}
		for _, p := range told(row.Papers) {
			out.Papers = append(out.Papers, TaxPaper{p.PaperID, p.Kind, of[p.PaperID].Number, of[p.PaperID].Party, string(p.Day), f(p.Net), f(p.Tax)})
		}
		t.Rows = append(t.Rows, out)
	}
	t.Output, t.Input, t.ToPay, t.Waiting, t.Deferred = f(r.Output), f(r.Input), f(r.ToPay()), f(r.Waiting), f(r.Deferred)
	return nil
}

// SettleTaxBody settles the tax of a span.
type SettleTaxBody struct {
	Number  string `json:"number,omitempty"`
	From    string `json:"from,omitempty" doc:"Left out, the first day that is not settled"`
	Through string `json:"through,omitempty"`
	Day     string `json:"day,omitempty" doc:"Of the entry; left out, the last day of the span"`
}

func (b SettleTaxBody) command(p *parser) posting.Command {
	return closing.SettleTax{Number: b.Number, From: p.day("from", b.From), Through: p.day("through", b.Through), Day: p.day("day", b.Day)}
}

// EndYearBody ends a year.
type EndYearBody struct {
	Last string `json:"last,omitempty" doc:"The last day of the year"`
}

func (b EndYearBody) command(p *parser) posting.Command {
	return closing.EndYear{Last: p.day("last", b.Last)}
}

func (s *Server) registerTaxReturn() {
	type input struct{ TaxInput }
	huma.Register(s.api, describe("tax-return", "GET", "/api/v1/tax-return", "The tax return of a span, with the first papers behind each figure"), func(ctx context.Context, in *input) (*struct{ Body TaxReturn }, error) {
		t, err := s.taxReturn(ctx, in.TaxInput, 0, taxPapers)
		if err != nil {
			return nil, problem(err)
		}
		return &struct{ Body TaxReturn }{*t}, nil
	})
	type papersInput struct {
		TaxInput
		Row   string `query:"row" required:"true"`
		After int    `query:"after" minimum:"0" doc:"How many of them are told already"`
	}
	huma.Register(s.api, describe("tax-return-papers", "GET", "/api/v1/tax-return/papers", "More of the papers behind a row of a tax return"), func(ctx context.Context, in *papersInput) (*struct{ Body []TaxPaper }, error) {
		t, err := s.taxReturn(ctx, in.TaxInput, in.After, taxPapers)
		if err != nil {
			return nil, problem(err)
		}
		for _, row := range t.Rows {
			if row.Row == in.Row {
				return &struct{ Body []TaxPaper }{row.Papers}, nil
			}
		}
		return nil, plain(http.StatusNotFound, "The tax return has no such row.")
	})
	type fileInput struct {
		TaxInput
		Format string `query:"format" enum:"csv,xlsx,pdf"`
	}
	huma.Register(s.api, describe("tax-return-file", "GET", "/api/v1/tax-return/file", "The tax return of a span, as a file"), func(ctx context.Context, in *fileInput) (*fileOutput, error) {
		t, err := s.taxReturn(ctx, in.TaxInput, 0, math.MaxInt)
		if err != nil {
			return nil, problem(err)
		}
		return s.figuresFile(ctx, in.Format, "tax-return", "Tax return", t.figures(in.Format != "pdf"))
	})
	command[SettleTaxBody](s, "settle-tax", "/api/v1/tax-settlements", "Settle the tax of a span")
	command[EndYearBody](s, "end-year", "/api/v1/year-ends", "End a year: what stands on income and expense goes to retained earnings")
}

// figures is the return in the form of a statement, each paper a row where all of
// it is asked for.
func (t *TaxReturn) figures(papers bool) Figures {
	f := Figures{Columns: []FigureColumn{{"Net", t.From, t.Through}, {"Tax", t.From, t.Through}}, Name: "To pay", Result: []string{"", t.ToPay}}
	for _, row := range t.Rows {
		g := FigureGroup{Name: row.Code + ", " + row.Section, Totals: []string{row.Net, row.Tax}}
		for _, p := range row.Papers {
			if papers {
				g.Rows = append(g.Rows, FigureRow{Account: p.Day + " " + p.Paper + " " + p.Name, Amounts: []string{p.Net, p.Tax}})
			}
		}
		f.Groups = append(f.Groups, g)
	}
	for _, later := range []struct{ says, amount string }{{"Not due yet: billed, and owed when it is paid", t.Waiting}, {"Not due yet: on what is kept back", t.Deferred}} {
		if strings.ContainsAny(later.amount, "123456789") {
			f.beside = append(f.beside, FigureRow{Account: later.says, Amounts: []string{"", later.amount}})
		}
	}
	return f
}
