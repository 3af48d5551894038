package web

import (
	"context"
	"errors"

	"cleantally/core/day"
	"cleantally/core/ledger"
	"cleantally/core/money"
	"cleantally/core/posting"
	"cleantally/core/reporting"
	"cleantally/formats"
	"cleantally/store"

	"github.com/danielgtaylor/huma/v2"
)

// AccountRow is an account of the trial balance. One of debit and credit is
// "" unless both are nil.
type AccountRow struct {
	ID       int64  `json:"id"`
	Number   string `json:"number"`
	Name     string `json:"name"`
	Type     string `json:"type"`
	Role     string `json:"role"`
	Control  bool   `json:"control"`
	Debit    string `json:"debit"`
	Credit   string `json:"credit"`
	Inactive bool   `json:"inactive"`
}

// TrialBalance is what stands on every account at the end of a day.
type TrialBalance struct {
	AsOf   string       `json:"asOf"`
	Rows   []AccountRow `json:"rows"`
	Debit  string       `json:"debit"`
	Credit string       `json:"credit"`
}

// AccountLine is a line of an account's register.
type AccountLine struct {
	ID      int64  `json:"id"`
	Day     string `json:"day"`
	PaperID int64  `json:"paperId"`
	Paper   string `json:"paper"`
	Text    string `json:"text"`
	Party   string `json:"party"`
	Job     string `json:"job"`
	Debit   string `json:"debit"`
	Credit  string `json:"credit"`
	Balance string `json:"balance" doc:"On the account's usual side"`
}

// AccountLines is a stretch of an account's lines, the oldest first.
type AccountLines struct {
	From    string        `json:"from" doc:"The first day of the span"`
	Opening string        `json:"opening" doc:"Before the first line of the span, on the account's usual side"`
	Account string        `json:"account"`
	Type    string        `json:"type"`
	Balance string        `json:"balance" doc:"At the end of the span"`
	Rows    []AccountLine `json:"rows"`
	Next    int64         `json:"next,omitempty"`
}

// Journal is a stretch of the journal, the newest first.
type Journal struct {
	Rows []Entry `json:"rows"`
	Next int64   `json:"next,omitempty"`
}

// AgeingRow is one customer's share of an ageing.
type AgeingRow struct {
	CustomerID int64    `json:"customerId"`
	Customer   string   `json:"customer"`
	Buckets    []string `json:"buckets"`
	Unplaced   string   `json:"unplaced"`
	Total      string   `json:"total"`
	Held       string   `json:"held"`
	JobID      int64    `json:"jobId"`
	Job        string   `json:"job" doc:"Of an ageing by job; empty for what belongs to none"`
	Disputed   string   `json:"disputed" doc:"Of what is aged"`
	KeptBack   string   `json:"keptBack"`
}

// Ageing is what customers owe, by age. Its total equals receivables.
type Ageing struct {
	AsOf     string      `json:"asOf"`
	Basis    string      `json:"basis"`
	Buckets  []string    `json:"buckets"`
	Rows     []AgeingRow `json:"rows"`
	Total    AgeingRow   `json:"total"`
	Shares   []float64   `json:"shares" doc:"Of the buckets in the largest of them, percent; for drawing alone"`
	Currency string      `json:"currency,omitempty" doc:"Of what is in this currency alone, in it; empty: of all, in the firm's"`
}

// Tie is a control account beside its register.
type Tie struct {
	AccountID int64  `json:"accountId"`
	Account   string `json:"account"`
	Register  string `json:"register"`
	Bank      int64  `json:"bank,omitempty" doc:"Of a bank account beside its statement"`
	Through   string `json:"through,omitempty" doc:"The day through which that is reconciled"`
	Currency  string `json:"currency,omitempty" doc:"Of both; left out, the firm's own"`
	Ledger    string `json:"ledger"`
	Sum       string `json:"sum"`
	OK        bool   `json:"ok"`
}

// TieOut is the proof that every control account equals its register.
type TieOut struct {
	AsOf       string `json:"asOf"`
	Ties       []Tie  `json:"ties"`
	Difference string `json:"difference" doc:"Debits less credits over the whole ledger"`
	OK         bool   `json:"ok"`
}

func ageingBody(a reporting.Ageing, cur money.Currency) Ageing {
	out := Ageing{AsOf: string(a.AsOf), Basis: string(a.Basis), Rows: []AgeingRow{}, Buckets: []string{}, Shares: []float64{}}
	for _, b := range a.Buckets {
		out.Buckets = append(out.Buckets, b.Name)
	}
	row := func(r reporting.AgeingRow) AgeingRow {
		b := AgeingRow{CustomerID: r.PartyID, Customer: r.Party, Unplaced: cur.Format(r.Unplaced), Total: cur.Format(r.Total), Held: cur.Format(r.Held), Buckets: []string{},
			JobID: r.JobID, Job: r.Job, Disputed: cur.Format(r.Disputed), KeptBack: cur.Format(r.KeptBack)}
		for _, v := range r.Buckets {
			b.Buckets = append(b.Buckets, cur.Format(v))
		}
		return b
	}
	for _, r := range a.Rows {
		out.Rows = append(out.Rows, row(r))
	}
	out.Total = row(a.Total)
	var most money.Amount
	for _, v := range a.Total.Buckets {
		most = max(most, v)
	}
	for _, v := range a.Total.Buckets {
		share := 0.0
		if most > 0 {
			share = float64(max(v, 0)) * 100 / float64(most)
		}
		out.Shares = append(out.Shares, share)
	}
	return out
}

func tieOutBody(t reporting.TieOut, cur money.Currency) TieOut {
	out := TieOut{AsOf: string(t.AsOf), Difference: cur.Format(t.Difference), OK: t.OK(), Ties: []Tie{}}
	for _, x := range t.Ties {
		out.Ties = append(out.Ties, Tie{x.AccountID, x.Account, x.Register, x.BankAccountID, string(x.Through), x.Currency, in(cur, x.Currency).Format(x.Ledger), in(cur, x.Currency).Format(x.Sum), x.OK()})
	}
	return out
}

// AsOfInput is a day to look back from.
type AsOfInput struct {
	AsOf   string `query:"asOf" doc:"The end of this day; left out, today"`
	Format string `query:"format" enum:"csv,xlsx" default:"csv" doc:"Of the file"`
}

// InOneCurrency narrows a report to one currency.
type InOneCurrency struct {
	Currency string `query:"currency" maxLength:"3" doc:"What is in this currency alone, in it; left out, all, in the firm's"`
}

// Resolve refuses a code of no currency.
func (in *InOneCurrency) Resolve(huma.Context) []error {
	if in.Currency == "" {
		return nil
	}
	if _, err := money.CurrencyOf(in.Currency); err != nil {
		return []error{&huma.ErrorDetail{Location: "query.currency", Message: sentence(err)}}
	}
	return nil
}

// lookingBack reads what every report as of a day begins with.
func (s *Server) lookingBack(ctx context.Context, asOf string) (*parser, day.Day, error) {
	p, err := s.parser(ctx)
	if err != nil {
		return nil, "", err
	}
	d, err := s.asOf(asOf)
	return p, d, err
}

func (s *Server) trialBalance(ctx context.Context, in *AsOfInput) (*struct{ Body TrialBalance }, error) {
	p, d, err := s.lookingBack(ctx, in.AsOf)
	if err != nil {
		return nil, err
	}
	rows, err := s.book.Read(ctx).TrialBalance(d)
	out := &struct{ Body TrialBalance }{TrialBalance{AsOf: string(d), Rows: []AccountRow{}}}
	var debit, credit money.Amount
	for _, a := range rows {
		row := AccountRow{ID: a.ID, Number: a.Number, Name: a.Name, Type: string(a.Type), Role: string(a.Role), Control: a.Role.IsControl(), Inactive: a.Inactive}
		switch b := a.Balance(); {
		case b > 0:
			row.Debit = p.cur.Format(b)
			debit += b
		case b < 0:
			row.Credit = p.cur.Format(-b)
			credit -= b
		}
		out.Body.Rows = append(out.Body.Rows, row)
	}
	out.Body.Debit, out.Body.Credit = p.cur.Format(debit), p.cur.Format(credit)
	return out, problem(err)
}

type accountInput struct {
	ID    int64  `path:"id"`
	From  string `query:"from" doc:"Left out, the beginning of the year of the last day"`
	To    string `query:"to"`
	After int64  `query:"after"`
	Limit int    `query:"limit" minimum:"1" maximum:"500" default:"100"`
	// Format is for the file alone.
	Format string `query:"format" enum:"csv,xlsx" default:"csv"`
}

func (s *Server) accountLines(ctx context.Context, in *accountInput, limit int) (*struct{ Body AccountLines }, error) {
	p, err := s.parser(ctx)
	if err != nil {
		return nil, err
	}
	last, err1 := s.asOf(in.To)
	to, err2 := s.dayOr(in.To, day.EndOfTime)
	if err := errors.Join(err1, err2); err != nil {
		return nil, problem(err)
	}
	from, err := s.beginning(in.From, last)
	if err != nil {
		return nil, problem(err)
	}
	out := &struct{ Body AccountLines }{AccountLines{Rows: []AccountLine{}}}
	err = s.book.Snapshot(ctx, func(r *store.Reader) error {
		a, ok, err := store.Find[ledger.Account](r, in.ID)
		if err != nil || !ok {
			return orNotFound(err)
		}
		sign := money.Amount(1)
		if !a.Type.DebitNormal() {
			sign = -1
		}
		balance, err := r.AccountBalanceOn(in.ID, to)
		if err != nil {
			return err
		}
		opening, err := r.OpeningOf(in.ID, from)
		if err != nil {
			return err
		}
		rows, more, err := r.AccountLines(in.ID, from, to, in.After, limit)
		out.Body.From, out.Body.Opening = string(from), p.cur.Format(sign*opening)
		out.Body.Account, out.Body.Type, out.Body.Balance = a.Number+" "+a.Name, string(a.Type), p.cur.Format(sign*balance)
		for _, l := range rows {
			line := AccountLine{ID: l.ID, Day: string(l.Day), PaperID: l.PaperID, Paper: l.Paper, Text: l.Text, Party: l.Party, Job: l.Job, Balance: p.cur.Format(sign * l.Balance)}
			if l.Amount > 0 {
				line.Debit = p.cur.Format(l.Amount)
			} else {
				line.Credit = p.cur.Format(-l.Amount)
			}
			out.Body.Rows = append(out.Body.Rows, line)
			if more {
				out.Body.Next = l.ID
			}
		}
		return err
	})
	return out, problem(err)
}

type journalInput struct {
	From  string `query:"from"`
	To    string `query:"to"`
	After int64  `query:"after"`
	Limit int    `query:"limit" minimum:"1" maximum:"200" default:"50"`
}

func (s *Server) journal(ctx context.Context, in *journalInput) (*struct{ Body Journal }, error) {
	p, err := s.parser(ctx)
	if err != nil {
		return nil, err
	}
	from, err1 := s.dayOr(in.From, "")
	to, err2 := s.dayOr(in.To, day.EndOfTime)
	if err := errors.Join(err1, err2); err != nil {
		return nil, problem(err)
	}
	lines, more, err := s.book.Read(ctx).Journal(from, to, in.After, in.Limit)
	out := &struct{ Body Journal }{Journal{Rows: entries(lines, p.cur)}}
	if more {
		out.Body.Next = out.Body.Rows[len(out.Body.Rows)-1].ID
	}
	return out, problem(err)
}

type ageingInput struct {
	AsOfInput
	InOneCurrency
	Basis   string `query:"basis" enum:"due,paper" default:"due" doc:"By due day or by paper day"`
	ByJob   bool   `query:"byJob" doc:"A row for each job, in place of each customer"`
	Payable bool   `query:"payable" doc:"What we owe suppliers, in place of what customers owe"`
}

func (s *Server) ageing(ctx context.Context, input *ageingInput) (*struct{ Body Ageing }, error) {
	p, d, err := s.lookingBack(ctx, input.AsOf)
	if err != nil {
		return nil, err
	}
	out := &struct{ Body Ageing }{}
	err = s.book.Snapshot(ctx, func(r *store.Reader) error {
		a, err := r.Ageing(store.AgeingFilter{AsOf: d, Basis: reporting.Basis(input.Basis), ByJob: input.ByJob, Payable: input.Payable, Currency: input.Currency})
		out.Body = ageingBody(a, in(p.cur, input.Currency))
		out.Body.Currency = input.Currency
		return err
	})
	return out, problem(err)
}

func (s *Server) tieOut(ctx context.Context, in *AsOfInput) (*struct{ Body TieOut }, error) {
	p, d, err := s.lookingBack(ctx, in.AsOf)
	if err != nil {
		return nil, err
	}
	out := &struct{ Body TieOut }{}
	err = s.book.Snapshot(ctx, func(r *store.Reader) error {
		t, err := r.TieOutWithBanks(d)
		out.Body = tieOutBody(t, p.cur)
		return err
	})
	return out, problem(err)
}

// registerReportFiles answers the reports as files.
func (s *Server) registerReportFiles() {
	huma.Register(s.api, describe("trial-balance-file", "GET", "/api/v1/trial-balance/file", "The trial balance, as a file"), func(ctx context.Context, in *AsOfInput) (*fileOutput, error) {
		t, err := s.trialBalance(ctx, in)
		if err != nil {
			return nil, err
		}
		type row = AccountRow
		columns := []col[row]{{"Number", func(r row) string { return r.Number }, false}, {"Account", func(r row) string { return r.Name }, false}, {"Type", func(r row) string { return r.Type }, false},
			{"Debit", func(r row) string { return r.Debit }, true}, {"Credit", func(r row) string { return r.Credit }, true}}
		return fileOf(in.Format, "trial-balance", tableOf(t.Body.Rows, columns), figures(columns))
	})
	huma.Register(s.api, describe("account-file", "GET", "/api/v1/accounts/{id}/lines/file", "An account's register, as a file"), func(ctx context.Context, in *accountInput) (*fileOutput, error) {
		in.After = 0
		l, err := s.accountLines(ctx, in, 0)
		if err != nil {
			return nil, err
		}
		type row = AccountLine
		columns := []col[row]{{"Day", func(r row) string { return r.Day }, false}, {"Paper", func(r row) string { return r.Paper }, false}, {"Text", func(r row) string { return r.Text }, false},
			{"Party", func(r row) string { return r.Party }, false}, {"Job", func(r row) string { return r.Job }, false}, {"Debit", func(r row) string { return r.Debit }, true},
			{"Credit", func(r row) string { return r.Credit }, true}, {"Balance", func(r row) string { return r.Balance }, true}}
		return fileOf(in.Format, "account", tableOf(l.Body.Rows, columns), figures(columns))
	})
	huma.Register(s.api, describe("ageing-file", "GET", "/api/v1/ageing/file", "The ageing, as a file"), func(ctx context.Context, in *ageingInput) (*fileOutput, error) {
		a, err := s.ageing(ctx, in)
		if err != nil {
			return nil, err
		}
		t := formats.Table{Header: append(append([]string{"Customer", "Job"}, a.Body.Buckets...), "Credits not used", "Total", "Disputed", "Kept back", "Deposits held")}
		numbers := map[int]bool{}
		for _, r := range a.Body.Rows {
			t.Rows = append(t.Rows, append(append([]string{r.Customer, r.Job}, r.Buckets...), r.Unplaced, r.Total, r.Disputed, r.KeptBack, r.Held))
		}
		for i := 2; i < len(t.Header); i++ {
			numbers[i] = true
		}
		return fileOf(in.Format, "ageing", t, numbers)
	})
}

func (s *Server) registerLedger() {
	huma.Register(s.api, describe("trial-balance", "GET", "/api/v1/trial-balance", "What stands on every account as of a day"), s.trialBalance)
	huma.Register(s.api, describe("account-lines", "GET", "/api/v1/accounts/{id}/lines", "An account's register with its running balance"), func(ctx context.Context, in *accountInput) (*struct{ Body AccountLines }, error) {
		return s.accountLines(ctx, in, in.Limit)
	})
	huma.Register(s.api, describe("journal", "GET", "/api/v1/journal", "The journal"), s.journal)
	huma.Register(s.api, describe("ageing", "GET", "/api/v1/ageing", "What customers owe as of a day, by age"), s.ageing)
	huma.Register(s.api, describe("tie-out", "GET", "/api/v1/tie-out", "Every control account beside its register, as of a day"), s.tieOut)
	s.registerReportFiles()
	type input struct {
		ListInput
		Register string `path:"register" enum:"receivables,retention,deposits,unidentified,payables,supplier prepayments,retention payable"`
		Customer int64  `query:"customer"`
	}
	lister[input, store.OpenItem, OpenItem]{
		id: "register", path: "/api/v1/registers/{register}", summary: "The open items of a register as of a day",
		head: func(in *input) ListInput { return in.ListInput },
		find: func(ctx context.Context, in *input, q store.Query) (store.Page[store.OpenItem], error) {
			d, err := s.asOf(in.AsOf)
			if err != nil {
				return store.Page[store.OpenItem]{}, err
			}
			page, err := s.book.Read(ctx).RegisterOf(ledger.Role(in.Register), d, in.Customer, in.Search, q)
			// A register of credits is told above nil.
			if in.Register != string(ledger.Receivables) && in.Register != string(ledger.Retention) {
				for i := range page.Sums {
					page.Sums[i] = -page.Sums[i]
				}
			}
			return page, err
		},
		row:  func(i store.OpenItem, d day.Day, cur money.Currency) OpenItem { return registerItem(i, d, cur) },
		key:  func(i OpenItem) int64 { return i.ID },
		sums: []string{"amount", "open"},
		columns: []col[OpenItem]{{"Number", func(r OpenItem) string { return r.Number }, false}, {"Kind", func(r OpenItem) string { return r.Kind }, false}, {"Customer", func(r OpenItem) string { return r.Party }, false},
			{"Job", func(r OpenItem) string { return r.Job }, false}, {"Day", func(r OpenItem) string { return r.Day }, false}, {"Due", func(r OpenItem) string { return r.Due }, false},
			{"Reference", func(r OpenItem) string { return r.Reference }, false}, {"Amount", signed(func(r OpenItem) string { return r.Amount }), true}, {"Open", signed(func(r OpenItem) string { return r.Open }), true}},
		abroad: []col[OpenItem]{textCol("Currency", func(r OpenItem) string { return r.code }), figureCol("Open in it", func(r OpenItem) string { return r.inCode })},
	}.register(s)
	s.registerClosing()
}

// signed writes a credit with a minus, so that a column adds up to the account.
func signed(cell func(OpenItem) string) func(OpenItem) string {
	return func(i OpenItem) string {
		if i.Credit {
			return "-" + cell(i)
		}
		return cell(i)
	}
}

// Act is a row of the audit record.
type Act struct {
	ID      int64  `json:"id"`
	At      string `json:"at" doc:"UTC"`
	User    string `json:"user"`
	Summary string `json:"summary"`
}

// registerClosing adds the period lock and the audit record.
func (s *Server) registerClosing() {
	type lock struct {
		Through string `json:"through" doc:"The last day of the closed period; empty for none"`
		Reason  string `json:"reason,omitempty" doc:"Wanted when the period is opened again"`
	}
	huma.Register(s.api, describe("lock", "PUT", "/api/v1/lock", "Close the period through a day"), func(ctx context.Context, in *struct{ Body lock }) (*struct{}, error) {
		through, err := s.dayOr(in.Body.Through, "")
		if err != nil {
			return nil, refusedProblem(posting.Refusals{{Field: "through", Rule: "no such day", Text: err.Error()}})
		}
		return nil, problem(s.book.Lock(ctx, s.user(ctx), through, in.Body.Reason))
	})
	s.registerAudit()
}
