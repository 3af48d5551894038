package web

import (
	"context"

	"cleantally/core/day"
	"cleantally/core/money"
	"cleantally/core/reporting"
	"cleantally/store"

	"github.com/danielgtaylor/huma/v2"
)

// LooseEnd is something that was begun and is not finished.
type LooseEnd struct {
	ItemID     int64  `json:"itemId"`
	PaperID    int64  `json:"paperId"`
	Kind       string `json:"kind"`
	Number     string `json:"number"`
	CustomerID int64  `json:"customerId"`
	Customer   string `json:"customer"`
	JobID      int64  `json:"jobId"`
	Job        string `json:"job"`
	Title      string `json:"title"`
	Invoice    string `json:"invoice" doc:"The invoice that is there"`
	Reason     string `json:"reason" doc:"Of a dispute"`
	Cheque     string `json:"cheque"`
	Credit     bool   `json:"credit"`
	Day        string `json:"day"`
	Due        string `json:"due"`
	Age        int    `json:"age" doc:"Days"`
	Stage      string `json:"stage" doc:"The age of what is overdue, as in the ageing"`
	Open       string `json:"open"`
}

// LooseEndGroup is loose ends with the same next step.
type LooseEndGroup struct {
	Group string     `json:"group" enum:"not identified,on account,overpaid,deposit,deposit of a closed job,both ways,disputed,overdue,small,cheque"`
	Count int64      `json:"count" doc:"Of all, also those not told here"`
	Sum   string     `json:"sum"`
	Rows  []LooseEnd `json:"rows"`
}

// Desk is what was begun and is not finished, with the proof beside it.
type Desk struct {
	Count  int64           `json:"count"`
	Drafts []Draft         `json:"drafts"`
	Groups []LooseEndGroup `json:"groups" doc:"In the order of what is best done first; those that hold nothing are left out"`
	TieOut TieOut          `json:"tieOut"`
	Ageing Ageing          `json:"ageing" doc:"Its totals alone"`
	Empty  bool            `json:"empty" doc:"Whether nothing has been posted yet"`
	Small  string          `json:"small" doc:"Up to which a balance is small"`
}

// deskInput says of which day the desk is.
type deskInput struct {
	AsOf string `query:"asOf" doc:"As it stood at the end of this day; left out, today"`
}

// mostLooseEnds is how many of a group the desk tells; the rest stand in the
// lists that it leads to.
const mostLooseEnds = 40

func (s *Server) desk(ctx context.Context, in *deskInput) (*struct{ Body Desk }, error) {
	p, today, err := s.lookingBack(ctx, in.AsOf)
	if err != nil {
		return nil, err
	}
	out := &struct{ Body Desk }{}
	err = s.book.Snapshot(ctx, func(r *store.Reader) error {
		firm, err := r.Firm()
		if err != nil {
			return err
		}
		drafts, err := r.Drafts()
		if err != nil {
			return err
		}
		groups, err := r.LooseEnds(today, firm.DifferenceLimit, mostLooseEnds)
		if err != nil {
			return err
		}
		out.Body = Desk{Count: int64(len(drafts)), Drafts: []Draft{}, Groups: []LooseEndGroup{}, Small: p.cur.Format(firm.DifferenceLimit)}
		for _, d := range drafts {
			out.Body.Drafts = append(out.Body.Drafts, draftBody(d, p.cur))
		}
		for _, g := range groups {
			out.Body.Count += g.Count
			if g.Count > 0 {
				out.Body.Groups = append(out.Body.Groups, looseEnds(g, today, p.cur))
			}
		}
		return s.fillDesk(r, &out.Body, today, p.cur)
	})
	return out, problem(err)
}

func looseEnds(g store.LooseEnds, today day.Day, cur money.Currency) LooseEndGroup {
	out := LooseEndGroup{g.Group, g.Count, cur.Format(g.Sum), []LooseEnd{}}
	for _, l := range g.Rows {
		from, stage := l.Day, ""
		if g.Group == "overdue" || g.Group == "disputed" {
			from = l.Due
			for _, b := range reporting.Buckets(reporting.ByDue) {
				if age := today.Since(l.Due); age >= b.Min && age <= b.Max {
					stage = b.Name
				}
			}
		}
		out.Rows = append(out.Rows, LooseEnd{l.ItemID, l.PaperID, string(l.Kind), l.Number, l.PartyID, l.Party, l.JobID, l.Job, l.Title, l.Invoice, l.Reason, l.Cheque, l.Credit,
			string(l.Day), string(l.Due), today.Since(from), stage, cur.Format(l.Open)})
	}
	return out
}

func (s *Server) fillDesk(r *store.Reader, d *Desk, today day.Day, cur money.Currency) error {
	t, err := r.TieOut(today)
	if err != nil {
		return err
	}
	d.TieOut = tieOutBody(t, cur)
	a, err := r.Ageing(store.AgeingFilter{AsOf: today, Basis: reporting.ByDue})
	if err != nil {
		return err
	}
	a.Rows = nil
	d.Ageing = ageingBody(a, cur)
	d.Empty, err = r.NothingPosted()
	return err
}

// Found is one answer of the search.
type Found struct {
	Kind   string `json:"kind" enum:"customer,job,paper,account"`
	ID     int64  `json:"id"`
	Name   string `json:"name"`
	Detail string `json:"detail"`
	Amount string `json:"amount,omitempty"`
}

// Understood is what a field's text was understood as.
type Understood struct {
	Value string `json:"value" doc:"In the form of the API; empty when it was not understood"`
	Shown string `json:"shown" doc:"For people"`
	Error string `json:"error" doc:"Why it was not understood"`
}

func (s *Server) registerDesk() {
	huma.Register(s.api, describe("desk", "GET", "/api/v1/desk", "What was begun and is not finished"), s.desk)
	type searchInput struct {
		Search string `query:"q" maxLength:"100"`
	}
	type searchOutput struct {
		Rows []Found `json:"rows"`
	}
	huma.Register(s.api, describe("search", "GET", "/api/v1/search", "Find by name, number, town, phone, reference or amount"), func(ctx context.Context, in *searchInput) (*struct{ Body searchOutput }, error) {
		p, err := s.parser(ctx)
		if err != nil {
			return nil, err
		}
		var amount *money.Amount
		if a, err := p.cur.Understand(in.Search); err == nil {
			amount = &a
		}
		out := &struct{ Body searchOutput }{searchOutput{[]Found{}}}
		if in.Search == "" {
			return out, nil
		}
		rows, err := s.book.Read(ctx).Search(in.Search, amount, 12)
		for _, f := range rows {
			found := Found{Kind: f.Kind, ID: f.ID, Name: f.Name, Detail: f.Detail}
			if f.Amount != nil {
				found.Amount = p.cur.Format(*f.Amount)
			}
			out.Body.Rows = append(out.Body.Rows, found)
		}
		return out, problem(err)
	})
	type understandInput struct {
		Kind  string `query:"kind" enum:"amount,price,quantity,percent,day,due" required:"true"`
		Text  string `query:"text" maxLength:"200"`
		Paper string `query:"paper" doc:"The paper's day, from which a due day counts"`
	}
	huma.Register(s.api, describe("understand", "GET", "/api/v1/understand", "What a field's text means: a sum, a day in words"), func(ctx context.Context, in *understandInput) (*struct{ Body Understood }, error) {
		p, err := s.parser(ctx)
		if err != nil {
			return nil, err
		}
		out := &struct{ Body Understood }{}
		out.Body, err = s.understand(in.Kind, in.Text, in.Paper, p.cur)
		if err != nil {
			out.Body.Error = sentence(err)
		}
		return out, nil
	})
}

func (s *Server) understand(kind, text, paperDay string, cur money.Currency) (Understood, error) {
	switch kind {
	case "amount":
		a, err := cur.Understand(text)
		if err != nil {
			return Understood{}, err
		}
		return Understood{Value: cur.Format(a), Shown: cur.Show(a)}, nil
	case "price", "quantity", "percent":
		places := int32(pricePlaces)
		if kind == "percent" {
			places = percentPlaces
		}
		d, err := money.UnderstandDecimal(text, places)
		if err != nil {
			return Understood{}, err
		}
		value := dec(d)
		if kind == "price" {
			value = price(value, cur)
		}
		return Understood{Value: value, Shown: value}, nil
	}
	paper, err := day.Parse(paperDay)
	if err != nil {
		paper = s.book.Today()
	}
	read := func() (day.Day, error) { return day.Understand(text, s.book.Today()) }
	if kind == "due" {
		read = func() (day.Day, error) { return day.UnderstandDue(text, paper, s.book.Today()) }
	}
	d, err := read()
	if err != nil {
		return Understood{}, err
	}
	return Understood{Value: string(d), Shown: d.Show()}, nil
}
