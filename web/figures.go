package web

import (
	"context"
	"errors"
	"fmt"
	"net/http"
	"strings"

	"cleantally/core/day"
	"cleantally/core/ledger"
	"cleantally/core/money"
	"cleantally/core/reporting"
	"cleantally/core/sheet"
	"cleantally/formats"
	"cleantally/formats/pdf"
	"cleantally/store"

	"github.com/danielgtaylor/huma/v2"
)

// FigureColumn is a span, or a day, that figures are told of.
type FigureColumn struct {
	Name    string `json:"name"`
	From    string `json:"from" doc:"Empty on a balance sheet"`
	Through string `json:"through"`
}

// FigureRow is what an account comes to in each column.
type FigureRow struct {
	AccountID int64    `json:"accountId" doc:"0 for what is worked out"`
	Account   string   `json:"account"`
	Amounts   []string `json:"amounts"`
}

// FigureGroup is rows that are added up.
type FigureGroup struct {
	Name   string      `json:"name"`
	Rows   []FigureRow `json:"rows"`
	Totals []string    `json:"totals"`
}

// Figures is an income statement or a balance sheet.
type Figures struct {
	Columns []FigureColumn `json:"columns"`
	Groups  []FigureGroup  `json:"groups"`
	Name    string         `json:"name" doc:"Of the result"`
	Result  []string       `json:"result"`

	beside []FigureRow // told after the result in a file, and no part of it
}

// mostColumns is how many columns are told side by side.
const mostColumns = 25

// IncomeInput says which spans.
type IncomeInput struct {
	From    string `query:"from" doc:"Left out, the first day of the year"`
	Through string `query:"through" doc:"Left out, today"`
	By      string `query:"by" enum:"month,quarter,year" doc:"A column for each; left out, one for all"`
	Against string `query:"against" enum:"before,year" doc:"Beside it, the span before, or the same a year before"`
}

// incomeColumns are the spans of an income statement.
func (s *Server) incomeColumns(in IncomeInput) ([]FigureColumn, error) {
	through, err := s.asOf(in.Through)
	if err != nil {
		return nil, err
	}
	from, err := s.dayOr(in.From, through[:4]+"-01-01")
	if err != nil {
		return nil, err
	}
	if from > through {
		return nil, plain(http.StatusBadRequest, "The span ends before it begins.")
	}
	column := func(name string, from, through day.Day) FigureColumn {
		return FigureColumn{name, string(from), string(through)}
	}
	all := []FigureColumn{}
	if months := map[string]int{"month": 1, "quarter": 3, "year": 12}[in.By]; months > 0 {
		for at := from; at <= through; {
			last := min(lastOf(at, months), through)
			all = append(all, column(spanName(at, last, in.By), at, last))
			if at = last.Add(1); len(all) >= mostColumns {
				return nil, plain(http.StatusBadRequest, "These are too many columns. Choose a shorter span, or longer parts of it.")
			}
		}
	}
	if len(all) != 1 {
		all = append(all, column("In all", from, through))
	}
	switch in.Against {
	case "before":
		all = append(all, column("Before", from.Add(-1-through.Since(from)), from.Add(-1)))
	case "year":
		all = append(all, column("A year before", yearBefore(from), yearBefore(through)))
	}
	return all, nil
}

// lastOf is the last day of the month, quarter or year that a day lies in.
func lastOf(d day.Day, months int) day.Day {
	t := d.Time()
	return day.Day(fmt.Sprintf("%04d-%02d-01", t.Year(), ((int(t.Month())-1)/months+1)*months)).EndOfMonth()
}

// spanName is what a column is called.
func spanName(from, through day.Day, by string) string {
	switch by {
	case "month":
		return from.Time().Format("Jan 2006")
	case "year":
		return from.Time().Format("2006")
	}
	return from.Time().Format("Jan") + "–" + through.Time().Format("Jan 2006")
}

// yearBefore is the same day a year before; of 29 February the 28th.
func yearBefore(d day.Day) day.Day {
	t := d.Time()
	if t.Month() == 2 && t.Day() == 29 {
		t = t.AddDate(0, 0, -1)
	}
	if before := t.AddDate(-1, 0, 0); d == d.EndOfMonth() {
		return day.Of(before).EndOfMonth()
	}
	return day.Of(t.AddDate(-1, 0, 0))
}

func (s *Server) income(ctx context.Context, in IncomeInput) (Figures, error) {
	columns, err := s.incomeColumns(in)
	if err != nil {
		return Figures{}, err
	}
	out := Figures{Columns: columns, Name: "Result"}
	return out, s.book.Snapshot(ctx, func(r *store.Reader) error {
		accounts, err := store.All[ledger.Account](r, "number")
		if err != nil {
			return err
		}
		var moved []map[int64]money.Amount
		for _, c := range columns {
			m, err := r.Moved(day.Day(c.From), day.Day(c.Through), true)
			if err != nil {
				return err
			}
			moved = append(moved, m)
		}
		cur, err := r.Currency()
		out.fill(reporting.Income(accounts, moved), cur)
		return err
	})
}

// BalanceInput says of which days.
type BalanceInput struct {
	AsOf    string `query:"asOf" doc:"Left out, today"`
	Against string `query:"against" enum:"month,year" doc:"Beside it, the end of the month before, or the same day a year before"`
}

func (s *Server) balanceSheet(ctx context.Context, in BalanceInput) (Figures, error) {
	d, err := s.asOf(in.AsOf)
	if err != nil {
		return Figures{}, err
	}
	days := []day.Day{d}
	switch in.Against {
	case "month":
		days = append(days, day.Of(d.Time().AddDate(0, 0, -d.Time().Day())))
	case "year":
		days = append(days, yearBefore(d))
	}
	out := Figures{Name: "Assets less liabilities and equity"}
	return out, s.book.Snapshot(ctx, func(r *store.Reader) error {
		accounts, err := store.All[ledger.Account](r, "number")
		if err != nil {
			return err
		}
		facts, err := r.Facts(d)
		if err != nil {
			return err
		}
		var stands []map[int64]money.Amount
		var inCredit []money.Amount
		for _, on := range days {
			m, err1 := r.Moved("0001-01-01", on, false)
			credit, err2 := r.InCredit(on)
			if err := errors.Join(err1, err2); err != nil {
				return err
			}
			stands, inCredit = append(stands, m), append(inCredit, credit)
			out.Columns = append(out.Columns, FigureColumn{Name: on.Show(), Through: string(on)})
		}
		out.fill(reporting.BalanceSheet(accounts, facts.Role(ledger.Receivables), stands, inCredit), facts.Currency())
		return facts.Err()
	})
}

// fill writes the figures.
func (f *Figures) fill(of reporting.Figures, cur money.Currency) {
	texts := func(all []money.Amount) []string {
		out := make([]string, len(all))
		for n, a := range all {
			out[n] = cur.Format(a)
		}
		return out
	}
	f.Groups, f.Result = []FigureGroup{}, texts(of.Result)
	for _, g := range of.Groups {
		group := FigureGroup{Name: g.Name, Rows: []FigureRow{}, Totals: texts(g.Totals)}
		for _, r := range g.Rows {
			group.Rows = append(group.Rows, FigureRow{r.Account.ID, strings.TrimSpace(r.Account.Number + " " + r.Account.Name), texts(r.Amounts)})
		}
		f.Groups = append(f.Groups, group)
	}
}

// table is the figures as a file.
func (f Figures) table() (formats.Table, map[int]bool) {
	t := formats.Table{Header: []string{"Account"}}
	numbers := map[int]bool{}
	for n, c := range f.Columns {
		t.Header = append(t.Header, c.Name)
		numbers[n+1] = true
	}
	for _, g := range f.Groups {
		for _, r := range g.Rows {
			t.Rows = append(t.Rows, append([]string{r.Account}, r.Amounts...))
		}
		t.Rows = append(t.Rows, append([]string{g.Name}, g.Totals...))
	}
	t.Rows = append(t.Rows, append([]string{f.Name}, f.Result...))
	for _, r := range f.beside {
		t.Rows = append(t.Rows, append([]string{r.Account}, r.Amounts...))
	}
	return t, numbers
}

// figuresFile writes figures as CSV, XLSX or PDF.
func (s *Server) figuresFile(ctx context.Context, format, name, heading string, f Figures) (*fileOutput, error) {
	t, numbers := f.table()
	if format != "pdf" {
		return fileOf(format, name, t, numbers)
	}
	firm, err := s.book.Read(ctx).Firm()
	if err != nil {
		return nil, problem(err)
	}
	last := f.Columns[len(f.Columns)-1]
	page := sheet.Sheet{Heading: heading, Firm: sheet.Address{Name: firm.Name, Lines: firm.Address}, TaxNumber: sheet.TaxLine(nil, firm.TaxNumber)}
	if last.From != "" {
		page.Facts = append(page.Facts, sheet.Fact{Name: "From", Value: firm.DateStyle.Show(day.Day(f.Columns[0].From))})
	}
	page.Facts = append(page.Facts, sheet.Fact{Name: "Through", Value: firm.DateStyle.Show(day.Day(f.Columns[0].Through))})
	for n, h := range t.Header {
		page.Columns = append(page.Columns, sheet.Column{Name: h, Ours: h, Figure: numbers[n]})
	}
	for _, r := range t.Rows {
		cells := []string{r[0]}
		for _, a := range r[1:] {
			cells = append(cells, firm.NumberStyle.Show(a))
		}
		page.Rows = append(page.Rows, sheet.Row{Cells: cells})
	}
	file, _, err := pdf.Write([]pdf.Page{{Sheet: page}}, firm.NumberStyle, s.book.Now())
	return &fileOutput{"application/pdf", `attachment; filename="` + name + `.pdf"`, file}, problem(err)
}

func (s *Server) registerFigures() {
	type incomeInput struct{ IncomeInput }
	huma.Register(s.api, describe("income", "GET", "/api/v1/income", "Profit and loss of a span; what ended years is left out"), func(ctx context.Context, in *incomeInput) (*struct{ Body Figures }, error) {
		f, err := s.income(ctx, in.IncomeInput)
		return &struct{ Body Figures }{f}, problem(err)
	})
	type incomeFile struct {
		IncomeInput
		Format string `query:"format" enum:"csv,xlsx,pdf"`
	}
	huma.Register(s.api, describe("income-file", "GET", "/api/v1/income/file", "Profit and loss of a span, as a file"), func(ctx context.Context, in *incomeFile) (*fileOutput, error) {
		f, err := s.income(ctx, in.IncomeInput)
		if err != nil {
			return nil, problem(err)
		}
		return s.figuresFile(ctx, in.Format, "profit-and-loss", "Profit and loss", f)
	})
	type balanceInput struct{ BalanceInput }
	huma.Register(s.api, describe("balance-sheet", "GET", "/api/v1/balance-sheet", "The balance sheet at the end of a day"), func(ctx context.Context, in *balanceInput) (*struct{ Body Figures }, error) {
		f, err := s.balanceSheet(ctx, in.BalanceInput)
		return &struct{ Body Figures }{f}, problem(err)
	})
	type balanceFile struct {
		BalanceInput
		Format string `query:"format" enum:"csv,xlsx,pdf"`
	}
	huma.Register(s.api, describe("balance-sheet-file", "GET", "/api/v1/balance-sheet/file", "The balance sheet, as a file"), func(ctx context.Context, in *balanceFile) (*fileOutput, error) {
		f, err := s.balanceSheet(ctx, in.BalanceInput)
		if err != nil {
			return nil, problem(err)
		}
		return s.figuresFile(ctx, in.Format, "balance-sheet", "Balance sheet", f)
	})
}
