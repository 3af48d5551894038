package web

import (
	"context"
	"strings"

	"cleantally/core/day"
	"cleantally/core/ledger"
	"cleantally/core/posting"
	"cleantally/store"
)

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
	Currency    string           `json:"currency,omitempty" doc:"Of its amounts, where that is not the firm's"`
	Through     string           `json:"through"`
	Known       bool             `json:"known" doc:"Whether the bank has said a balance"`
	Ledger      string           `json:"ledger"`
	Says        string           `json:"says" doc:"What the bank says"`
	NotAtBank   []OnTheWay       `json:"notAtBank"`
	NotInBooks  []OnTheWay       `json:"notInBooks"`
	Waiting     string           `json:"waiting" doc:"Both of them together"`
	Apart       string           `json:"apart" doc:"What is left between them"`
	Takings     string           `json:"takings" doc:"What waits beside it in card takings, not paid out; empty for nothing"`
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
	defer p.in(p.ofBank(in.ID))()
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
		b.Firm, b.Bank, b.Through, b.Known, b.Unexplained, b.Currency = firm.Name, account.Name, string(through), x.Known, x.Unexplained, account.Currency
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
		takings, err := r.TakingsHeld(through)
		if err != nil {
			return err
		}
		if takings != 0 && account.Currency == "" {
			b.Takings = p.cur.Format(takings)
		}
		proofs, err := r.Reconciliations(in.ID)
		for _, c := range proofs {
			b.Proofs = append(b.Proofs, Reconciliation{string(c.ThroughDay), p.cur.Format(c.Bank), p.cur.Format(c.Waiting), c.At, c.User})
		}
		return err
	}))
}
