package web

import (
	"context"
	"encoding/json"
	"fmt"

	"cleantally/books"
	"cleantally/core/banking"
	"cleantally/core/day"
	"cleantally/core/ledger"
	"cleantally/core/money"
	"cleantally/core/posting"
	"cleantally/formats/bankfile"
	"cleantally/store"

	"github.com/danielgtaylor/huma/v2"
)

// ReadBefore is what was read of a bank account once.
type ReadBefore struct {
	ID      int64  `json:"id"`
	Name    string `json:"name" doc:"Of the file"`
	From    string `json:"from"`
	Through string `json:"through"`
	Closing string `json:"closing" doc:"What the account ended with; empty where it is not said"`
	Lines   int    `json:"lines" doc:"That were new"`
	At      string `json:"at" doc:"UTC"`
}

// TypedStatement are lines that are typed where there is no file.
type TypedStatement struct {
	Closing string      `json:"closing,omitempty" doc:"What the account ended with after them; left out where it is not known"`
	Lines   []TypedLine `json:"lines" maxItems:"200"`
}

// TypedLine is one of them.
type TypedLine struct {
	Day    string `json:"day"`
	Amount string `json:"amount" doc:"Below nil for what went"`
	Text   string `json:"text,omitempty" maxLength:"400"`
	Ref    string `json:"reference,omitempty" maxLength:"140"`
	Name   string `json:"name,omitempty" maxLength:"140" doc:"Of the other side"`
}

// BankFeed says whether the statements of a bank account are fetched.
type BankFeed struct {
	Way string `json:"way" enum:",stand-in" doc:"Empty: files are read"`
}

func statementRead(r books.ReadStatement) StatementRead {
	return StatementRead{r.Read, r.New, r.Pending, string(r.From), string(r.Through)}
}

func (s *Server) registerStatements() {
	type of struct {
		ID int64 `path:"id"`
	}
	type read = struct{ Body StatementRead }
	huma.Register(s.api, describe("statements-read", "GET", "/api/v1/banks/{id}/statements", "What was read of a bank account, the newest first"), func(ctx context.Context, in *of) (*struct{ Body Records[ReadBefore] }, error) {
		cur, err := s.book.Read(ctx).BankCurrency(in.ID)
		if err != nil {
			return nil, problem(err)
		}
		all, err := s.book.Read(ctx).BankStatements(in.ID)
		out := &struct{ Body Records[ReadBefore] }{Records[ReadBefore]{Rows: []ReadBefore{}}}
		for _, x := range all {
			row := ReadBefore{ID: x.ID, Name: x.Name, From: string(x.FromDay), Through: string(x.ThroughDay), Lines: x.Lines, At: x.ReadAt}
			if x.Closing != nil {
				row.Closing = cur.Format(*x.Closing)
			}
			out.Body.Rows = append(out.Body.Rows, row)
		}
		return out, problem(err)
	})
	huma.Register(s.api, describe("drop-statement", "DELETE", "/api/v1/bank-statements/{id}", "Take away what was read by mistake"), func(ctx context.Context, in *of) (*struct{}, error) {
		return nil, problem(s.book.DropStatement(ctx, s.user(ctx), in.ID))
	})
	type typed struct {
		ID   int64 `path:"id"`
		Body TypedStatement
	}
	huma.Register(s.api, describe("type-statement", "POST", "/api/v1/banks/{id}/typed", "Take lines that are typed where there is no file"), func(ctx context.Context, in *typed) (*read, error) {
		p, err := s.parser(ctx)
		if err != nil {
			return nil, err
		}
		defer p.in(p.ofBank(in.ID))()
		x := typedStatement(p, in.Body)
		if len(p.refusals) > 0 {
			return nil, refusedProblem(p.refusals)
		}
		r, err := s.book.TypeStatement(ctx, s.user(ctx), in.ID, "typed", x)
		return &read{statementRead(r)}, problem(err)
	})
	huma.Register(s.api, describe("fetch-statement", "POST", "/api/v1/banks/{id}/fetched", "Fetch what the bank booked since what was read last"), func(ctx context.Context, in *of) (*read, error) {
		r, err := s.book.FetchStatement(ctx, s.user(ctx), in.ID, s.options.StandIns.Bank)
		return &read{statementRead(r)}, problem(err)
	})
	type feed struct {
		ID   int64 `path:"id"`
		Body BankFeed
	}
	huma.Register(s.api, describe("save-bank-feed", "PUT", "/api/v1/banks/{id}/feed", "Say whether the statements of a bank account are fetched"), func(ctx context.Context, in *feed) (*struct{}, error) {
		return nil, problem(s.book.SaveBankFeed(ctx, s.user(ctx), in.ID, in.Body.Way))
	})
	s.registerCounting()
}

// typedStatement reads what was typed.
func typedStatement(p *parser, b TypedStatement) bankfile.Statement {
	var x bankfile.Statement
	if closing := p.amountOrNone("closing", b.Closing); closing != nil {
		x.Closing = &bankfile.Balance{Amount: *closing}
	}
	for n, l := range b.Lines {
		field := fmt.Sprintf("lines[%d].", n)
		x.Lines = append(x.Lines, bankfile.Line{Row: n + 1, Day: p.day(field+"day", l.Day), Amount: p.amount(field+"amount", l.Amount), Text: l.Text, Reference: l.Ref, OtherName: l.Name})
		if l.Day == "" {
			p.refusals = append(p.refusals, posting.Notice{Field: field + "day", Rule: "missing", Text: fmt.Sprintf("Say when line %d was booked.", n+1)})
		}
	}
	return x
}

// Count is a count of a till, with what the books say beside it.
type Count struct {
	Name    string     `json:"name" doc:"Of the till"`
	Firm    string     `json:"firm"`
	Day     string     `json:"day"`
	Rows    []CountRow `json:"rows" doc:"Each note and coin, the largest first"`
	Counted string     `json:"counted"`
	Ledger  string     `json:"ledger" doc:"What the books say at the end of the day"`
	Apart   string     `json:"apart" doc:"What was counted less what the books say"`
	Agrees  bool       `json:"agrees"`
	Account int64      `json:"account" doc:"Its ledger account"`
	Other   int64      `json:"other" doc:"The ledger account that a difference goes to, unless another is chosen"`
	Kept    []CountRef `json:"before" doc:"Counts that were made before, the newest first"`
}

// CountRow is how many of a note or coin there are.
type CountRow struct {
	Piece string `json:"piece"`
	Count int    `json:"count"`
	Comes string `json:"comes" doc:"To what they come"`
}

// CountRef is a count that was kept.
type CountRef struct {
	Day     string         `json:"day"`
	Counted string         `json:"counted"`
	At      string         `json:"at" doc:"UTC"`
	User    string         `json:"user"`
	Pieces  banking.Pieces `json:"pieces"`
}

// CountBody is what was counted.
type CountBody struct {
	Day    string         `json:"day,omitempty"`
	Pieces banking.Pieces `json:"pieces,omitempty" doc:"How many of each note and coin, by its value"`
}

func (s *Server) registerCounting() {
	type counted struct {
		ID   int64 `path:"id"`
		Keep bool  `query:"keep" doc:"Keep it: what was counted must be what the books say"`
		Body CountBody
	}
	huma.Register(s.api, describe("count-till", "POST", "/api/v1/banks/{id}/count", "What was counted in a till, beside what the books say"), func(ctx context.Context, in *counted) (*struct{ Body Count }, error) {
		p, err := s.parser(ctx)
		if err != nil {
			return nil, err
		}
		defer p.in(p.ofBank(in.ID))()
		d := p.day("day", in.Body.Day)
		if d == "" {
			d = s.book.Today()
		}
		if len(p.refusals) > 0 {
			return nil, refusedProblem(p.refusals)
		}
		if in.Keep {
			if err := s.book.CountTill(ctx, s.user(ctx), in.ID, d, in.Body.Pieces); err != nil {
				return nil, problem(err)
			}
		}
		out := &struct{ Body Count }{Count{Day: string(d), Rows: []CountRow{}, Kept: []CountRef{}}}
		return out, problem(s.book.Snapshot(ctx, func(r *store.Reader) error { return out.Body.fill(r, in.ID, in.Body.Pieces, p.cur) }))
	})
}

func (c *Count) fill(r *store.Reader, till int64, pieces banking.Pieces, cur money.Currency) error {
	account, there, err := store.Find[ledger.BankAccount](r, till)
	if err != nil || !there || !account.Cash {
		return orNotFound(err)
	}
	firm, err := r.Firm()
	if err != nil {
		return err
	}
	books, err := r.BankLedger(till, day.Day(c.Day))
	if err != nil {
		return err
	}
	sum, ok := pieces.Counted(cur)
	if !ok {
		return refusedProblem(posting.Refusals{{Field: "pieces", Rule: "no such piece", Text: fmt.Sprintf("These are no notes and coins of %s.", cur.Code)}})
	}
	for _, piece := range banking.Denominations(cur) {
		comes, _ := banking.Pieces{piece: pieces[piece]}.Counted(cur)
		c.Rows = append(c.Rows, CountRow{piece, pieces[piece], cur.Format(comes)})
	}
	c.Name, c.Firm, c.Account = account.Name, firm.Name, account.AccountID
	c.Counted, c.Ledger, c.Apart, c.Agrees = cur.Format(sum), cur.Format(books), cur.Format(sum-books), sum == books
	roles, err := r.Roles()
	for _, of := range roles {
		if of.Role == ledger.Rounding {
			c.Other = of.AccountID
		}
	}
	if err != nil {
		return err
	}
	kept, err := r.CashCounts(till)
	for _, k := range kept {
		ref := CountRef{Day: string(k.Day), Counted: cur.Format(k.Counted), At: k.At, User: k.User}
		if err := json.Unmarshal([]byte(k.Pieces), &ref.Pieces); err != nil {
			return err
		}
		c.Kept = append(c.Kept, ref)
	}
	return err
}
