package web

import (
	"context"
	"slices"

	"cleantally/core/posting"
	"cleantally/core/settling"
	"cleantally/store"
)

// proposalInput is what is known of money that arrived.
type proposalInput struct {
	ID        int64  `path:"id"`
	Amount    string `query:"amount"`
	Reference string `query:"reference" maxLength:"200"`
	Job       int64  `query:"job"`
	Day       string `query:"day" doc:"The bank's day; left out, today"`
	Currency  string `query:"currency" maxLength:"3" doc:"Of the money; what is open in others is not proposed. Left out, the firm's own"`
	Again     int64  `query:"again" doc:"As it would be if this paper were taken back, to write it again"`
}

// Proposal is where a part of money may go, and why.
type Proposal struct {
	Item     int64  `json:"item"`
	Register string `json:"register"`
	Number   string `json:"number"`
	Amount   string `json:"amount"`
	Discount bool   `json:"discount" doc:"With the early-payment discount"`
	Reason   string `json:"reason"`
}

// Proposals are where money may go, and why what fits is not among it.
type Proposals struct {
	Rows   []Proposal `json:"rows"`
	NotYet []string   `json:"notYet" doc:"Why what fits cannot be taken, a sentence each"`
}

// proposal says where money that arrived may go; nothing goes there by itself.
func (s *Server) proposal(ctx context.Context, in *proposalInput) (out *struct{ Body Proposals }, err error) {
	err = s.book.Without(ctx, s.user(ctx), in.Again, func(r *store.Reader) error {
		out, err = s.propose(ctx, r, in)
		return err
	})
	return out, problem(err)
}

func (s *Server) propose(ctx context.Context, r *store.Reader, in *proposalInput) (*struct{ Body Proposals }, error) {
	out := &struct{ Body Proposals }{Proposals{Rows: []Proposal{}, NotYet: []string{}}}
	p, d, err := s.lookingBack(ctx, in.Day)
	if err != nil {
		return nil, err
	}
	firm := p.cur
	defer p.in(in.Currency)()
	amount, err := p.cur.Parse(in.Amount)
	if err != nil {
		return out, nil
	}
	facts, err := r.Facts(s.book.Today())
	if err != nil {
		return nil, problem(err)
	}
	open, err := r.OpenItemsOf(in.ID)
	if err != nil {
		return nil, problem(err)
	}
	open = slices.DeleteFunc(open, func(i posting.Item) bool { return p.cur.Code != firm.In(i.Currency).Code })
	arrival := settling.Arrival{Amount: amount, Reference: in.Reference, JobID: in.Job, Day: d}
	out.Body.NotYet = append(out.Body.NotYet, settling.NotYet(open, arrival)...)
	for _, x := range settling.Propose(facts, open, arrival) {
		out.Body.Rows = append(out.Body.Rows, Proposal{int64(x.Item), string(x.Register), x.Number, p.cur.Format(x.Amount), x.Discount, x.Reason})
	}
	return out, problem(facts.Err())
}
