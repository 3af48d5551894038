package web

import (
	"context"
	"encoding/json"
	"fmt"

	"cleantally/core/billing"
	"cleantally/core/day"
	"cleantally/core/money"
	"cleantally/core/posting"
	"cleantally/store"

	"github.com/danielgtaylor/huma/v2"
)

// lateCharge is the draft of an invoice for what was overdue.
const lateCharge DraftKind = "late charge"

// LateChargeBody bills a customer for what was overdue, as the API takes it.
type LateChargeBody struct {
	Number    string `json:"number,omitempty" doc:"Empty to be given the next"`
	Customer  int64  `json:"customer,omitempty"`
	Day       string `json:"day,omitempty"`
	Through   string `json:"through,omitempty" doc:"The last day that is charged"`
	Percent   string `json:"percent,omitempty" doc:"Simple interest a year"`
	Grace     string `json:"grace,omitempty" doc:"Days after the due day that bear nothing"`
	Fee       string `json:"fee,omitempty"`
	Terms     int64  `json:"terms,omitempty" doc:"0: the customer's, else the firm's"`
	Due       string `json:"due,omitempty" doc:"A due day that is named; empty to count it by the terms"`
	Reference string `json:"reference,omitempty" maxLength:"200"`
	Note      string `json:"note,omitempty" maxLength:"4000"`
}

func (b LateChargeBody) command(p *parser) posting.Command {
	return billing.LateCharge{Number: b.Number, PartyID: b.Customer, Day: p.day("day", b.Day), Through: p.day("through", b.Through), Percent: p.decimal("percent", b.Percent, percentPlaces),
		Grace: int(p.decimal("grace", b.Grace, 0).IntPart()), Fee: p.amount("fee", b.Fee), TermsID: b.Terms, Due: p.day("due", b.Due), Reference: b.Reference, Note: b.Note}
}

func (c copier) lateCharge(v billing.LateCharge, _ posting.Paper) LateChargeBody {
	through := c.today
	if c.again { // the same days, whenever it is written
		through = string(v.Through)
	}
	return LateChargeBody{Customer: v.PartyID, Day: c.day(string(v.Day)), Through: through, Percent: c.number(v.Percent), Grace: fmt.Sprint(v.Grace), Fee: c.amount(v.Fee),
		Terms: v.TermsID, Reference: v.Reference, Note: v.Note}
}

// LateTerms are what is charged for what is overdue.
type LateTerms struct {
	Percent string `json:"percent"`
	Grace   string `json:"grace"`
	Fee     string `json:"fee"`
}

// nothing tells whether nothing is charged.
func (t LateTerms) nothing() bool { return t.Percent == "" && t.Fee == "" }

// LateRow is what a customer would be charged.
type LateRow struct {
	Customer int64  `json:"customer"`
	Name     string `json:"name"`
	Lines    int    `json:"lines" doc:"How many items bear it"`
	Total    string `json:"total"`
	Draft    int64  `json:"draft" doc:"A draft that is there already; 0 for none"`
	total    money.Amount
}

// Late is what would be charged for what is overdue, by customer: a page of it.
type Late struct {
	Through string    `json:"through"`
	Terms   LateTerms `json:"terms" doc:"The firm's"`
	Rows    []LateRow `json:"rows"`
	Next    int64     `json:"next,omitempty" doc:"The cursor of the next page, when there is one"`
	Total   string    `json:"total" doc:"Of this page and of what was carried forward from those before"`
}

type lateInput struct {
	Through string `query:"through" doc:"Left out, today"`
	OverduePage
}

// An OverduePage says which customers a page is of, of all who owe something that
// is overdue, by name.
type OverduePage struct {
	After   int64  `query:"after" doc:"The cursor that the page before gave as next"`
	Carried string `query:"carried" doc:"The total that the page before gave"`
}

// of are the customers of a page of so many, and the cursor of the next; 0 where
// there is none.
func (o OverduePage) of(r *store.Reader, through day.Day, most int) (parties []store.PartyRow, next int64, err error) {
	parties, err = r.OverdueParties(through, o.After, most+1)
	if len(parties) > most {
		parties = parties[:most]
		next = parties[most-1].ID
	}
	return parties, next, err
}

// How many customers a page has: of each all that was ever overdue and not charged
// is worked out, or what is overdue now.
const (
	latePage     = 20
	reminderPage = 100
)

func idsOf(parties []store.PartyRow) []int64 {
	ids := make([]int64, len(parties))
	for n, x := range parties {
		ids[n] = x.ID
	}
	return ids
}

// LateDrafts says for whom drafts of late charges are made.
type LateDrafts struct {
	Through   string  `json:"through"`
	Customers []int64 `json:"customers" maxItems:"1000"`
}

// Made is how many were made.
type Made struct {
	Made int `json:"made"`
}

func (s *Server) registerLateCharges() {
	huma.Register(s.api, describe("late-charges", "GET", "/api/v1/late-charges", "What would be charged for what is overdue, by customer"), s.late)
	huma.Register(s.api, describe("draft-late-charges", "POST", "/api/v1/late-charges/drafts", "Make drafts of late charges"), func(ctx context.Context, in *struct{ Body LateDrafts }) (*struct{ Body Made }, error) {
		n, err := s.draftLate(ctx, in.Body)
		return &struct{ Body Made }{Made{n}}, err
	})
}

// lateTerms are the firm's, as a body says them.
func lateTerms(r *store.Reader, cur money.Currency) (LateTerms, error) {
	firm, err := r.Firm()
	t := LateTerms{Grace: fmt.Sprint(firm.LateGrace)}
	if !firm.LatePercent.IsZero() {
		t.Percent = dec(firm.LatePercent)
	}
	if firm.LateFee != 0 {
		t.Fee = cur.Format(firm.LateFee)
	}
	return t, err
}

func (s *Server) late(ctx context.Context, in *lateInput) (*struct{ Body Late }, error) {
	p, through, err := s.lookingBack(ctx, in.Through)
	if err != nil {
		return nil, err
	}
	sum := p.amount("carried", in.Carried)
	out := &struct{ Body Late }{Late{Through: string(through), Rows: []LateRow{}}}
	err = p.or(func() error {
		return s.book.Snapshot(ctx, func(r *store.Reader) error {
			if out.Body.Terms, err = lateTerms(r, p.cur); err != nil {
				return err
			}
			if out.Body.Terms.nothing() {
				out.Body.Total = p.cur.Format(0)
				return nil
			}
			parties, next, err := in.of(r, through, latePage)
			if err != nil {
				return err
			}
			out.Body.Next = next
			if out.Body.Rows, err = s.lateRows(r, p, out.Body.Terms, through, parties); err != nil {
				return err
			}
			for _, row := range out.Body.Rows {
				sum += row.total
			}
			out.Body.Total = p.cur.Format(sum)
			return nil
		})
	})
	return out, problem(err)
}

// lateRows are what some customers would be charged: of those that would be.
func (s *Server) lateRows(r *store.Reader, p *parser, terms LateTerms, through day.Day, parties []store.PartyRow) ([]LateRow, error) {
	rows := []LateRow{}
	drafts, err := r.Drafts()
	if err != nil {
		return nil, err
	}
	about := map[int64]int64{}
	for _, d := range drafts {
		if DraftKind(d.Kind) == lateCharge {
			about[d.PartyID] = d.ID
		}
	}
	f, err := r.Facts(s.book.Today())
	if err != nil {
		return nil, err
	}
	f.KnowOverdue(idsOf(parties), through)
	for _, x := range parties {
		e, err := s.lateBody(terms, x.ID, through).command(p).Plan(f)
		if paper := e.Paper(); err == nil && paper != nil {
			rows = append(rows, LateRow{x.ID, x.Name, len(e.Charges), p.cur.Format(paper.Total), about[x.ID], paper.Total})
		}
	}
	return rows, f.Err()
}

func (s *Server) lateBody(t LateTerms, customer int64, through day.Day) LateChargeBody {
	return LateChargeBody{Customer: customer, Day: string(s.book.Today()), Through: string(through), Percent: t.Percent, Grace: t.Grace, Fee: t.Fee}
}

// draftLate makes a draft for each customer who has none yet.
func (s *Server) draftLate(ctx context.Context, in LateDrafts) (made int, err error) {
	p, through, err := s.lookingBack(ctx, in.Through)
	if err != nil {
		return 0, err
	}
	var terms LateTerms
	var rows []LateRow
	if err := s.book.Snapshot(ctx, func(r *store.Reader) error {
		if terms, err = lateTerms(r, p.cur); err != nil {
			return err
		}
		parties, err := r.OverdueOf(in.Customers, through)
		if err != nil {
			return err
		}
		rows, err = s.lateRows(r, p, terms, through, parties)
		return err
	}); err != nil {
		return 0, problem(err)
	}
	for _, row := range rows {
		if row.Draft != 0 {
			continue
		}
		body := s.lateBody(terms, row.Customer, through)
		raw, err := json.Marshal(body)
		if err != nil {
			return made, problem(err)
		}
		if err := s.book.SaveDraft(ctx, &store.Draft{Kind: posting.Kind(lateCharge), Body: string(raw)}, body.command(p)); err != nil {
			return made, problem(err)
		}
		made++
	}
	return made, nil
}
