package web

import (
	"context"
	"encoding/json"
	"strings"

	"cleantally/core/banking"
	"cleantally/core/day"
	"cleantally/core/ledger"
	"cleantally/core/money"
	"cleantally/core/posting"
	"cleantally/formats/bankfile"
	"cleantally/store"

	"github.com/danielgtaylor/huma/v2"
)

// BankPosition is where a bank account stands, by the books and by the bank.
type BankPosition struct {
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
}

// BankLine is a line of a bank's statement.
type BankLine struct {
	ID      int64  `json:"id"`
	Bank    int64  `json:"bank"`
	Day     string `json:"day"`
	Amount  string `json:"amount" doc:"Above nil for what came"`
	Text    string `json:"text"`
	Ref     string `json:"reference"`
	Name    string `json:"name" doc:"Of the other side"`
	Account string `json:"account" doc:"Of the other side"`
	Tied    bool   `json:"tied"`
	Papers  string `json:"papers" doc:"Numbers of what it is tied to"`
	PaperID int64  `json:"paperId" doc:"The first of them"`
}

// BankLines are those, the oldest first.
type BankLines struct {
	Rows  []BankLine `json:"rows"`
	Count int64      `json:"count"`
	Sum   string     `json:"sum"`
	Next  int64      `json:"next,omitempty" doc:"The last row, to go on from"`
}

// BankProposal is what a line may be.
type BankProposal struct {
	Movement int64    `json:"movement" doc:"Posted already; 0 for something open"`
	Item     int64    `json:"item"`
	PaperID  int64    `json:"paperId"`
	Kind     string   `json:"kind"`
	Number   string   `json:"number"`
	Day      string   `json:"day"`
	PartyID  int64    `json:"partyId"`
	Party    string   `json:"party"`
	Amount   string   `json:"amount" doc:"What was posted, or is open; as the bank would say it"`
	For      []string `json:"for" doc:"What speaks for it"`
	Against  []string `json:"against" doc:"What speaks against it"`
}

// BankLineProposed is a line with what it may be, the best first.
type BankLineProposed struct {
	Line BankLine       `json:"line"`
	Rows []BankProposal `json:"rows"`
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
}

func (b TieBody) command(*parser) posting.Command {
	return banking.Tie{Lines: b.Lines, Movements: b.Movements}
}

// UntieBody takes the ties of a line off.
type UntieBody struct {
	Line int64 `json:"line,omitempty"`
}

func (b UntieBody) command(*parser) posting.Command { return banking.Untie{Line: b.Line} }

const (
	linesAPage    = 100
	mostProposals = 12
)

func bankLine(l store.BankLine, cur money.Currency) BankLine {
	return BankLine{l.ID, l.BankAccountID, string(l.Day), cur.Format(l.Amount), l.Text, l.Reference, l.OtherName, l.OtherAccount, l.Tied, l.Papers, l.PaperID}
}

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
		return &struct{ Body StatementRead }{StatementRead{r.Read, r.New, r.Pending, string(r.From), string(r.Through)}}, problem(err)
	})
	huma.Register(s.api, describe("bank-columns", "POST", "/api/v1/banks/{id}/columns", "The columns of a bank's CSV, to say which is what"), s.bankColumns)
	huma.Register(s.api, describe("bank-lines", "GET", "/api/v1/banks/{id}/lines", "Lines of a bank's statements, the oldest first"), s.bankLines)
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
	command[TieBody](s, "tie", "/api/v1/ties", "Tie lines of a bank's statement to what was posted")
	command[UntieBody](s, "untie", "/api/v1/ties/undo", "Take the ties of a line off")
}

func (s *Server) bankPositions(ctx context.Context, _ *struct{}) (*struct{ Body Records[BankPosition] }, error) {
	cur, err := s.book.Currency(ctx)
	if err != nil {
		return nil, problem(err)
	}
	out := &struct{ Body Records[BankPosition] }{Records[BankPosition]{Rows: []BankPosition{}}}
	return out, problem(s.book.Snapshot(ctx, func(r *store.Reader) error {
		banks, err := store.All[ledger.BankAccount](r, "id")
		if err != nil {
			return err
		}
		at, err := r.BankPositions()
		for n, p := range at {
			b := banks[n]
			if b.Inactive {
				continue
			}
			row := BankPosition{ID: p.BankAccountID, Name: b.Name, What: "bank", Ledger: cur.Format(p.Ledger), Through: string(p.Through), Unexplained: p.Unexplained, Waiting: p.Waiting, WaitingSum: cur.Format(p.WaitingSum)}
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

// OnTheWay is what was posted, and the bank has not told of; or told, and not
// posted yet.
type OnTheWay struct {
	PaperID int64  `json:"paperId"`
	Number  string `json:"number"`
	Day     string `json:"day"`
	What    string `json:"what"`
	Cheque  string `json:"cheque"`
	Age     int    `json:"age" doc:"Days"`
	Amount  string `json:"amount"`
}

// Reconciling is how a bank account stands at the end of a day.
type Reconciling struct {
	Firm        string           `json:"firm"`
	Bank        string           `json:"bank" doc:"Its name"`
	Through     string           `json:"through"`
	Known       bool             `json:"known" doc:"Whether the bank has said a balance"`
	Ledger      string           `json:"ledger"`
	Says        string           `json:"says" doc:"What the bank says"`
	NotAtBank   []OnTheWay       `json:"notAtBank"`
	NotInBooks  []OnTheWay       `json:"notInBooks"`
	Waiting     string           `json:"waiting" doc:"Both of them together"`
	Apart       string           `json:"apart" doc:"What is left between them"`
	Unexplained int64            `json:"unexplained"`
	Holds       bool             `json:"holds" doc:"Whether it is reconciled"`
	Proofs      []Reconciliation `json:"proofs" doc:"Those that were made, the newest first"`
}

// Reconciliation is a proof that was made.
type Reconciliation struct {
	Through string `json:"through"`
	Says    string `json:"says" doc:"What the bank said"`
	Waiting string `json:"waiting"`
	At      string `json:"at" doc:"UTC"`
	User    string `json:"user"`
}

func (s *Server) reconciling(ctx context.Context, in *struct {
	ID      int64  `path:"id"`
	Through string `query:"through" doc:"Left out, the last day of which something was read"`
}) (*struct{ Body Reconciling }, error) {
	p, err := s.parser(ctx)
	if err != nil {
		return nil, err
	}
	out := &struct{ Body Reconciling }{Reconciling{NotAtBank: []OnTheWay{}, NotInBooks: []OnTheWay{}, Proofs: []Reconciliation{}}}
	return out, problem(s.book.Snapshot(ctx, func(r *store.Reader) error {
		account, there, err := store.Find[ledger.BankAccount](r, in.ID)
		if err != nil || !there {
			return orNotFound(err)
		}
		firm, err := r.Firm()
		if err != nil {
			return err
		}
		through := s.book.Today()
		if in.Through != "" {
			if through, err = day.Parse(in.Through); err != nil {
				return refusedProblem(posting.Refusals{{Field: "through", Rule: "no such day", Text: sentence(err)}})
			}
		} else if last, err := r.BankStatements(in.ID); err != nil {
			return err
		} else if len(last) > 0 {
			through = last[0].ThroughDay
		}
		x, err := r.Reconcile(in.ID, through)
		if err != nil {
			return err
		}
		b := &out.Body
		b.Firm, b.Bank, b.Through, b.Known, b.Unexplained = firm.Name, account.Name, string(through), x.Known, x.Unexplained
		b.Ledger, b.Says, b.Waiting, b.Apart = p.cur.Format(x.Ledger), p.cur.Format(x.Bank), p.cur.Format(x.Waiting()), p.cur.Format(x.Apart())
		b.Holds = x.Known && x.Unexplained == 0 && x.Apart() == 0
		for _, m := range x.NotAtBank {
			what := m.Title
			if m.Party != "" {
				what = m.Party
			}
			b.NotAtBank = append(b.NotAtBank, OnTheWay{m.PaperID, m.Number, string(m.Day), what, m.Cheque, through.Since(m.Day), p.cur.Format(m.Amount)})
		}
		for _, l := range x.NotInBooks {
			b.NotInBooks = append(b.NotInBooks, OnTheWay{Day: string(l.Day), What: strings.TrimSpace(l.OtherName + " " + l.Text), Age: through.Since(l.Day), Amount: p.cur.Format(l.Amount)})
		}
		proofs, err := r.Reconciliations(in.ID)
		for _, c := range proofs {
			b.Proofs = append(b.Proofs, Reconciliation{string(c.ThroughDay), p.cur.Format(c.Bank), p.cur.Format(c.Waiting), c.At, c.User})
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

func (s *Server) bankLines(ctx context.Context, in *struct {
	ID     int64  `path:"id"`
	State  string `query:"state" enum:"unexplained,all" default:"unexplained"`
	Search string `query:"q" maxLength:"100"`
	After  int64  `query:"after" doc:"The last row that is shown already"`
}) (*struct{ Body BankLines }, error) {
	cur, err := s.book.Currency(ctx)
	if err != nil {
		return nil, problem(err)
	}
	rows, err := s.book.Read(ctx).BankLines(in.ID, in.State == "unexplained", in.Search, in.After, linesAPage)
	out := &struct{ Body BankLines }{BankLines{Rows: []BankLine{}, Sum: cur.Format(0)}}
	for _, l := range rows {
		out.Body.Rows = append(out.Body.Rows, bankLine(l, cur))
		out.Body.Count, out.Body.Sum = l.Count, cur.Format(l.Sum)
	}
	if len(rows) == linesAPage {
		out.Body.Next = rows[len(rows)-1].ID
	}
	return out, problem(err)
}

func (s *Server) bankLineProposed(ctx context.Context, id int64) (*struct{ Body BankLineProposed }, error) {
	cur, err := s.book.Currency(ctx)
	if err != nil {
		return nil, problem(err)
	}
	out := &struct{ Body BankLineProposed }{BankLineProposed{Rows: []BankProposal{}}}
	return out, problem(s.book.Snapshot(ctx, func(r *store.Reader) error {
		l, there, err := r.BankLineRow(id)
		if err != nil || !there {
			return orNotFound(err)
		}
		out.Body.Line = bankLine(l, cur)
		if l.Tied {
			return nil
		}
		all, err := r.Explaining(l, 60)
		if err != nil {
			return err
		}
		var known []banking.Known
		for _, e := range all {
			known = append(known, banking.Known{Movement: e.MovementID, Item: posting.ItemRef(e.ItemID), PaperID: e.PaperID, Kind: e.Kind, Number: e.Number, Day: e.Day, PartyID: e.PartyID, Party: e.Party, Account: e.IBAN, Reference: e.Reference, Cheque: e.Cheque, Amount: e.Amount})
		}
		said := banking.Said{Day: day.Day(l.Day), Amount: l.Amount, Text: l.Text, Reference: l.Reference, Name: l.OtherName, Account: l.OtherAccount}
		for _, p := range banking.Propose(said, known, cur) {
			if len(out.Body.Rows) == mostProposals {
				break
			}
			against := append([]string{}, p.Against...)
			out.Body.Rows = append(out.Body.Rows, BankProposal{p.Movement, int64(p.Item), p.PaperID, string(p.Kind), p.Number, string(p.Day), p.PartyID, p.Party, cur.Format(p.Amount), p.For, against})
		}
		return nil
	}))
}
