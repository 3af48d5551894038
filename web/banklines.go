package web

import (
	"context"
	"strings"

	"cleantally/books"
	"cleantally/core/banking"
	"cleantally/core/day"
	"cleantally/core/money"
	"cleantally/core/posting"
	"cleantally/store"
)

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

	May *BankProposal `json:"may,omitempty" doc:"What it may be: the first of what is proposed"`
}

// BankLines are those, the oldest first.
type BankLines struct {
	Rows  []BankLine `json:"rows"`
	Count int64      `json:"count"`
	Sum   string     `json:"sum"`
	Next  int64      `json:"next,omitempty" doc:"The last row, to go on from"`
}

// BankProposal is what a line may be: tied to what was posted, or made into a
// paper.
type BankProposal struct {
	Movements []int64  `json:"movements" doc:"Posted already, to be tied; none for a paper to be made"`
	Make      string   `json:"make" doc:"The kind of paper to be made of it; empty where it is tied"`
	Items     []int64  `json:"items" doc:"What that paper settles, or gives back"`
	Request   int64    `json:"request" doc:"The request for a deposit that is paid"`
	Told      int64    `json:"told" doc:"The payout that the card gateway told of"`
	Job       int64    `json:"job"`
	Account   int64    `json:"account" doc:"The ledger account of a charge or interest"`
	ToBank    int64    `json:"toBank" doc:"The firm's other account, of a transfer between its own"`
	Fee       string   `json:"fee" doc:"What the bank or the gateway kept of it; empty for nothing"`
	Discount  bool     `json:"discount" doc:"Whether it comes to less by the discount for paying early"`
	Rule      int64    `json:"rule" doc:"The firm's own rule by which it is proposed"`
	PaperID   int64    `json:"paperId"`
	Kind      string   `json:"kind"`
	Number    string   `json:"number"`
	Numbers   string   `json:"numbers" doc:"Of all that it is, one after the other"`
	Day       string   `json:"day"`
	PartyID   int64    `json:"partyId"`
	Party     string   `json:"party"`
	Amount    string   `json:"amount" doc:"What was posted, or is open; as the bank would say it"`
	For       []string `json:"for" doc:"What speaks for it"`
	Against   []string `json:"against" doc:"What speaks against it"`
}

// BankLineProposed is a line with what it may be, the best first.
type BankLineProposed struct {
	Line BankLine       `json:"line"`
	Rows []BankProposal `json:"rows"`
}

const (
	linesAPage    = 100
	mostProposals = 12
)

func bankLine(l store.BankLine, cur money.Currency) BankLine {
	return BankLine{ID: l.ID, Bank: l.BankAccountID, Day: string(l.Day), Amount: cur.Format(l.Amount), Text: l.Text, Ref: l.Reference, Name: l.OtherName, Account: l.OtherAccount, Tied: l.Tied, Papers: l.Papers, PaperID: l.PaperID}
}

type bankLinesInput struct {
	ID     int64  `path:"id"`
	AsOf   string `query:"asOf" doc:"Through this day; left out, all"`
	State  string `query:"state" enum:"unexplained,all" default:"unexplained"`
	Search string `query:"q" maxLength:"100" doc:"A part of what the bank says, or an amount"`
	Newest bool   `query:"newest" doc:"The newest first"`
	After  int64  `query:"after" doc:"The last row that is shown already"`
	Part   string `query:"part" enum:"first" doc:"The lines alone, which are there quickly, without what each may be; left out, all"`
	Format string `query:"format" enum:"csv,xlsx" default:"csv" doc:"Of the file"`
}

// filter is what is asked for.
func (s *Server) lineFilter(in *bankLinesInput, cur money.Currency) (store.LineFilter, error) {
	f := store.LineFilter{BankAccountID: in.ID, Unexplained: in.State == "unexplained", Through: day.EndOfTime, Search: in.Search, Newest: in.Newest, After: in.After}
	if amount, err := cur.Parse(in.Search); err == nil {
		f.Amount = &amount
	}
	if in.AsOf == "" {
		return f, nil
	}
	var err error
	f.Through, err = s.asOf(in.AsOf)
	return f, err
}

func (s *Server) bankLines(ctx context.Context, in *bankLinesInput) (*struct{ Body BankLines }, error) {
	cur, err := s.book.Read(ctx).BankCurrency(in.ID)
	if err != nil {
		return nil, problem(err)
	}
	f, err := s.lineFilter(in, cur)
	if err != nil {
		return nil, err
	}
	out := &struct{ Body BankLines }{BankLines{Rows: []BankLine{}, Sum: cur.Format(0)}}
	return out, problem(s.book.Snapshot(ctx, func(r *store.Reader) error {
		rows, err := r.BankLines(f, linesAPage)
		if err != nil {
			return err
		}
		var may map[int64][]banking.Proposed
		if in.Part == "" {
			if may, err = books.Proposals(r, in.ID, rows, s.book.Today()); err != nil {
				return err
			}
		}
		for _, l := range rows {
			row := bankLine(l, cur)
			if all := may[l.ID]; len(all) > 0 {
				first := bankProposal(all[0], cur)
				row.May = &first
			}
			out.Body.Rows = append(out.Body.Rows, row)
			out.Body.Count, out.Body.Sum = l.Count, cur.Format(l.Sum)
		}
		if len(rows) == linesAPage {
			out.Body.Next = rows[len(rows)-1].ID
		}
		return nil
	}))
}

// mostLinesInFile is more than a bank tells in years.
const mostLinesInFile = 200_000

func (s *Server) bankLinesFile(ctx context.Context, in *bankLinesInput) (*fileOutput, error) {
	cur, err := s.book.Read(ctx).BankCurrency(in.ID)
	if err != nil {
		return nil, problem(err)
	}
	f, err := s.lineFilter(in, cur)
	if err != nil {
		return nil, err
	}
	f.After = 0
	rows, err := s.book.Read(ctx).BankLines(f, mostLinesInFile)
	if err != nil {
		return nil, problem(err)
	}
	type row = store.BankLine
	columns := []col[row]{{"Date", func(l row) string { return string(l.Day) }, false}, {"Other side", func(l row) string { return l.OtherName }, false}, {"Account", func(l row) string { return l.OtherAccount }, false},
		{"Text", func(l row) string { return l.Text }, false}, {"Reference", func(l row) string { return l.Reference }, false}, {"Amount", func(l row) string { return cur.Format(l.Amount) }, true}, {"Explained by", func(l row) string { return l.Papers }, false}}
	return fileOf(in.Format, "bank-lines", tableOf(rows, columns), figures(columns))
}

func (s *Server) bankLineProposed(ctx context.Context, id int64) (*struct{ Body BankLineProposed }, error) {
	out := &struct{ Body BankLineProposed }{BankLineProposed{Rows: []BankProposal{}}}
	return out, problem(s.book.Snapshot(ctx, func(r *store.Reader) error {
		l, there, err := r.BankLineRow(id)
		if err != nil || !there {
			return orNotFound(err)
		}
		cur, err := r.BankCurrency(l.BankAccountID)
		if err != nil {
			return err
		}
		out.Body.Line = bankLine(l, cur)
		if l.Tied {
			return nil
		}
		may, err := books.Proposals(r, l.BankAccountID, []store.BankLine{l}, s.book.Today())
		for _, p := range may[l.ID][:min(len(may[l.ID]), mostProposals)] {
			out.Body.Rows = append(out.Body.Rows, bankProposal(p, cur))
		}
		return err
	}))
}

func bankProposal(p banking.Proposed, cur money.Currency) BankProposal {
	b := BankProposal{Movements: []int64{}, Items: []int64{}, Make: string(p.Make), Told: p.Told, Job: p.JobID, Account: p.Habit.AccountID, ToBank: p.Habit.ToBank, Rule: p.Habit.RuleID,
		PaperID: p.PaperID, Kind: string(p.Kind), Number: p.Number, Day: string(p.Day), PartyID: p.PartyID, Party: p.Party, Amount: cur.Format(p.Amount), For: append([]string{}, p.For...), Against: append([]string{}, p.Against...)}
	if p.Kind == posting.Request {
		b.Request = p.PaperID
	}
	if p.Fee != 0 {
		b.Fee = cur.Format(p.Fee)
	}
	b.Discount = p.Less
	var numbers []string
	for _, k := range append([]banking.Known{p.Known}, p.With...) {
		if k.Movement != 0 {
			b.Movements = append(b.Movements, k.Movement)
		}
		if k.Item != 0 {
			b.Items = append(b.Items, int64(k.Item))
		}
		if k.Number != "" {
			numbers = append(numbers, k.Number)
		}
	}
	b.Numbers = strings.Join(numbers, ", ")
	return b
}
