package web

import (
	"context"
	"encoding/json"

	"cleantally/core/banking"
	"cleantally/core/day"
	"cleantally/core/ledger"
	"cleantally/core/posting"
	"cleantally/formats/bankfile"
	"cleantally/store"

	"github.com/danielgtaylor/huma/v2"
)

// BankPosition is where a bank account stands, by the books and by the bank.
type BankPosition struct {
	Currency    string `json:"currency,omitempty" doc:"Of its amounts, ISO 4217; empty for the firm's own"`
	ID          int64  `json:"id"`
	Name        string `json:"name"`
	What        string `json:"what" enum:"bank,till,card takings"`
	Ledger      string `json:"ledger" doc:"What the books say"`
	Bank        string `json:"bank" doc:"What the bank says; empty where it has never said it"`
	Apart       string `json:"apart" doc:"The books less the bank; empty where it has never said it"`
	Through     string `json:"through" doc:"The last day of which something was read"`
	Unexplained int64  `json:"unexplained" doc:"Lines that nothing explains"`
	Waiting     int64  `json:"waiting" doc:"What was posted since its first statement, and the bank has not told of"`
	WaitingSum  string `json:"waitingSum"`
	Reconciled  string `json:"reconciled" doc:"The last day through which it is reconciled, or counted; empty for never"`
	Feed        string `json:"feed" doc:"How its statements are fetched; empty where files are read"`
	FetchedAt   string `json:"fetchedAt" doc:"When they were last; UTC"`
	StandIn     string `json:"standIn" doc:"Where the stand-in for a bank is looked at; empty where it does not run"`
}

// StatementRead is what became of a bank's file.
type StatementRead struct {
	Read    int    `json:"read" doc:"Lines in it"`
	New     int    `json:"new"`
	Pending int    `json:"pending" doc:"Not booked yet: they do not count"`
	From    string `json:"from"`
	Through string `json:"through"`
}

// BankColumns are the columns of a bank's CSV, to say which is what.
type BankColumns struct {
	Header  []string          `json:"header"`
	Rows    [][]string        `json:"rows" doc:"The first of them"`
	Mapping *bankfile.Mapping `json:"mapping,omitempty" doc:"As it was said last, of this account"`
	Forms   []string          `json:"forms" doc:"In which days are written"`
	CSV     bool              `json:"csv" doc:"Whether columns are to be said at all"`
}

// TieBody ties lines of a bank's statement to movements.
type TieBody struct {
	Lines     []int64 `json:"lines,omitempty" maxItems:"500"`
	Movements []int64 `json:"movements,omitempty" maxItems:"500"`
	Instead   bool    `json:"instead,omitempty" doc:"In place of what the lines are tied to"`
}

func (b TieBody) command(*parser) posting.Command {
	return banking.Tie{Lines: b.Lines, Movements: b.Movements, Instead: b.Instead}
}

// UntieBody takes the ties of a line off.
type UntieBody struct {
	Line int64 `json:"line,omitempty"`
}

func (b UntieBody) command(*parser) posting.Command { return banking.Untie{Line: b.Line} }

func (s *Server) registerBank() {
	huma.Register(s.api, describe("bank", "GET", "/api/v1/bank", "Where each bank account stands, by the books and by the bank"), s.bankPositions)
	type of struct {
		ID int64 `path:"id"`
	}
	type file struct {
		ID      int64  `path:"id"`
		Name    string `query:"name" maxLength:"200" doc:"Of the file"`
		Mapping string `query:"mapping" maxLength:"4000" doc:"Of a CSV, as JSON: which columns are what; left out, as it was said last"`
		RawBody []byte `contentType:"application/octet-stream"`
	}
	huma.Register(s.api, describe("read-bank-statement", "POST", "/api/v1/banks/{id}/statements", "Read a bank's file: camt.053, OFX or CSV; only what is new is taken"), func(ctx context.Context, in *file) (*struct{ Body StatementRead }, error) {
		var m *bankfile.Mapping
		if in.Mapping != "" {
			if err := json.Unmarshal([]byte(in.Mapping), &m); err != nil {
				return nil, refusedProblem(posting.Refusals{{Field: "mapping", Rule: "form", Text: "The mapping of the columns cannot be read."}})
			}
		}
		r, err := s.book.ReadStatement(ctx, s.user(ctx), in.ID, in.Name, in.RawBody, m)
		return &struct{ Body StatementRead }{statementRead(r)}, problem(err)
	})
	huma.Register(s.api, describe("bank-columns", "POST", "/api/v1/banks/{id}/columns", "The columns of a bank's CSV, to say which is what"), s.bankColumns)
	huma.Register(s.api, describe("bank-lines", "GET", "/api/v1/banks/{id}/lines", "Lines of a bank's statements, the oldest first"), s.bankLines)
	huma.Register(s.api, describe("bank-lines-file", "GET", "/api/v1/banks/{id}/lines/file", "Lines of a bank's statements, as a file"), s.bankLinesFile)
	huma.Register(s.api, describe("bank-line", "GET", "/api/v1/bank-lines/{id}", "A line of a bank's statement, with what it may be"), func(ctx context.Context, in *of) (*struct{ Body BankLineProposed }, error) {
		return s.bankLineProposed(ctx, in.ID)
	})
	huma.Register(s.api, describe("reconciling", "GET", "/api/v1/banks/{id}/reconciliation", "How a bank account stands between the books and the bank at the end of a day"), s.reconciling)
	type through struct {
		ID   int64 `path:"id"`
		Body struct {
			Through string `json:"through"`
		}
	}
	huma.Register(s.api, describe("reconcile", "POST", "/api/v1/banks/{id}/reconciliation", "Keep the proof that a bank account is reconciled through a day"), func(ctx context.Context, in *through) (*struct{}, error) {
		d, err := day.Parse(in.Body.Through)
		if err != nil {
			return nil, refusedProblem(posting.Refusals{{Field: "through", Rule: "no such day", Text: sentence(err)}})
		}
		return nil, problem(s.book.Reconcile(ctx, s.user(ctx), in.ID, d))
	})
	s.registerTying()
	s.registerStatements()
	s.registerBankRules()
	command[TieBody](s, "tie", "/api/v1/ties", "Tie lines of a bank's statement to what was posted")
	command[UntieBody](s, "untie", "/api/v1/ties/undo", "Take the ties of a line off")
}

func (s *Server) bankPositions(ctx context.Context, input *AsOfInput) (*struct{ Body Records[BankPosition] }, error) {
	p, d, err := s.lookingBack(ctx, input.AsOf)
	if err != nil {
		return nil, err
	}
	firm := p.cur
	out := &struct{ Body Records[BankPosition] }{Records[BankPosition]{Rows: []BankPosition{}}}
	return out, problem(s.book.Snapshot(ctx, func(r *store.Reader) error {
		banks, err := store.All[ledger.BankAccount](r, "id")
		if err != nil {
			return err
		}
		at, err := r.BankPositions(d)
		for n, p := range at {
			b := banks[n]
			if b.Inactive {
				continue
			}
			cur := in(firm, b.Currency)
			row := BankPosition{Currency: b.Currency, ID: p.BankAccountID, Name: b.Name, What: "bank", Ledger: cur.Format(p.Ledger), Through: string(p.Through), Unexplained: p.Unexplained, Waiting: p.Waiting, WaitingSum: cur.Format(p.WaitingSum), Reconciled: string(p.Reconciled), Feed: p.Feed, FetchedAt: p.FetchedAt, StandIn: s.options.StandIns.Bank.Address}
			if b.Cash {
				row.What = "till"
			} else if b.Takings {
				row.What = "card takings"
			}
			if p.Bank != nil {
				row.Bank, row.Apart = cur.Format(*p.Bank), cur.Format(p.Ledger-*p.Bank)
			}
			out.Body.Rows = append(out.Body.Rows, row)
		}
		return err
	}))
}

func (s *Server) bankColumns(ctx context.Context, in *struct {
	ID      int64  `path:"id"`
	RawBody []byte `contentType:"application/octet-stream"`
}) (*struct{ Body BankColumns }, error) {
	out := &struct{ Body BankColumns }{BankColumns{Header: []string{}, Rows: [][]string{}, Forms: bankfile.Forms}}
	if bankfile.IsCamt(in.RawBody) || bankfile.IsOFX(in.RawBody) {
		return out, nil
	}
	t, err := bankfile.Columns(in.RawBody)
	if err != nil {
		return nil, refusedProblem(posting.Refusals{{Field: "file", Rule: "not read", Text: err.Error()}})
	}
	kept, err := s.book.Read(ctx).BankMapping(in.ID)
	if err != nil {
		return nil, problem(err)
	}
	out.Body.CSV, out.Body.Header, out.Body.Rows = true, t.Header, t.Rows
	if kept != "" {
		err = json.Unmarshal([]byte(kept), &out.Body.Mapping)
	}
	return out, problem(err)
}
