package web

import (
	"context"
	"strings"

	"cleantally/core/day"
	"cleantally/core/money"
	"cleantally/core/reporting"
	"cleantally/core/rights"
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
	Until      string `json:"until" doc:"The day that was promised"`
	Credit     bool   `json:"credit"`
	Day        string `json:"day"`
	Due        string `json:"due"`
	Age        int    `json:"age" doc:"Days"`
	Stage      string `json:"stage" doc:"The age of what is overdue, as in the ageing"`
	Open       string `json:"open"`
	Line       int    `json:"line" doc:"Of a cost: its line on the paper"`
	InvoiceID  int64  `json:"invoiceId" doc:"Of a cost that was billed"`
}

// LooseEndGroup is loose ends with the same next step.
type LooseEndGroup struct {
	Group string     `json:"group" enum:"not identified,on account,overpaid,cost,cost credited,deposit,deposit of a closed job,both ways,retention,disputed,promise,overdue,small,cheque,request,guarantee,stage,bill,with a supplier,we keep back,purchase order,card payment,card payout,bank line"`
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
	Mails  []MailRow       `json:"mails" doc:"That were given up"`
	Words  []AskedWord     `json:"words" doc:"What waits for the word of the one who asks"`
	Given  []AskedWord     `json:"given" doc:"What somebody said to what they asked for themselves"`
	Backup string          `json:"backup" doc:"What is wrong with the backups; empty for nothing"`
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
	who, err := s.book.Person(ctx)
	if err != nil {
		return nil, problem(err)
	}
	out := &struct{ Body Desk }{}
	err = s.book.Snapshot(ctx, func(r *store.Reader) error {
		firm, err := r.Firm()
		if err != nil {
			return err
		}
		// Those of today: nobody keeps which there were.
		var drafts []store.Draft
		var failed []store.Mail
		if today == s.book.Today() {
			if drafts, err = s.book.Drafts(ctx, r); err != nil {
				return err
			}
			if who.May(rights.SeePapers) {
				if failed, err = r.FailedMails(mostLooseEnds); err != nil {
					return err
				}
			}
		}
		items, err := r.Standing(today)
		if err != nil {
			return err
		}
		groups, err := r.LooseEnds(items, today, firm.DifferenceLimit, mostLooseEnds)
		if err != nil {
			return err
		}
		out.Body = Desk{Count: int64(len(drafts) + len(failed)), Drafts: []Draft{}, Mails: mailRows(failed), Groups: []LooseEndGroup{}, Small: p.cur.Format(firm.DifferenceLimit)}
		for _, d := range drafts {
			out.Body.Drafts = append(out.Body.Drafts, draftBody(d, p.cur))
		}
		for _, g := range groups {
			if !who.May(groupSeen(g.Group)) {
				continue
			}
			out.Body.Count += g.Count
			if g.Count > 0 {
				out.Body.Groups = append(out.Body.Groups, looseEnds(g, today, p.cur))
			}
		}
		facts, err := r.Facts(today)
		if err != nil {
			return err
		}
		stages, err := dueStages(r, facts, today, p.cur)
		if err != nil {
			return err
		}
		if stages.Count > 0 && who.May(groupSeen(stages.Group)) {
			out.Body.Count += stages.Count
			out.Body.Groups = append(out.Body.Groups, looseEnds(stages, today, p.cur))
		}
		if err := s.deskWords(ctx, &out.Body); err != nil {
			return err
		}
		if !who.May(rights.SeeBooks) {
			out.Body.TieOut, out.Body.Ageing = TieOut{Ties: []Tie{}}, Ageing{Rows: []AgeingRow{}, Buckets: []string{}, Shares: []float64{}, Total: AgeingRow{Buckets: []string{}}}
			return nil
		}
		out.Body.Ageing = ageingBody(reporting.AgeingOf(items, today), p.cur)
		return s.fillDesk(ctx, r, &out.Body, today, p.cur)
	})
	return out, problem(err)
}

// dueStages are the stages of billing plans whose day has come and that are not
// billed, the first of each job: what of it is not billed yet, net.
func dueStages(r *store.Reader, f *store.Facts, today day.Day, cur money.Currency) (store.LooseEnds, error) {
	g := store.LooseEnds{Group: "stage"}
	jobs, err := r.JobsWithStages(today)
	if err != nil {
		return g, err
	}
	for _, j := range jobs {
		x, err := planOf(r, f, j.ID, today, cur)
		if err != nil {
			return g, err
		}
		for n, s := range x.stages {
			if !s.Late {
				continue
			}
			through, _ := cur.Parse(s.Through)
			open := through - x.pos.BilledNet
			g.Rows = append(g.Rows, store.LooseEnd{Number: j.Number, PartyID: j.PartyID, Party: j.Party, JobID: j.ID, Job: j.Number, Title: s.Name, Day: x.plan[n].Day, Due: x.plan[n].Day, Open: open})
			g.Count, g.Sum = g.Count+1, g.Sum+open
			break
		}
	}
	return g, nil
}

func looseEnds(g store.LooseEnds, today day.Day, cur money.Currency) LooseEndGroup {
	out := LooseEndGroup{g.Group, g.Count, cur.Format(g.Sum), []LooseEnd{}}
	for _, l := range g.Rows {
		from, stage := l.Day, ""
		if g.Group == "overdue" || g.Group == "disputed" || g.Group == "promise" {
			from = l.Due
			for _, b := range reporting.Buckets(reporting.ByDue) {
				if age := today.Since(l.Due); age >= b.Min && age <= b.Max {
					stage = b.Name
				}
			}
		}
		out.Rows = append(out.Rows, LooseEnd{l.ItemID, l.PaperID, string(l.Kind), l.Number, l.PartyID, l.Party, l.JobID, l.Job, l.Title, l.Invoice, l.Reason, l.Cheque, string(l.Until), l.Credit,
			string(l.Day), string(l.Due), today.Since(from), stage, cur.Format(l.Open), l.Position, l.InvoiceID})
	}
	return out
}

func (s *Server) fillDesk(ctx context.Context, r *store.Reader, d *Desk, today day.Day, cur money.Currency) error {
	t, err := r.TieOutWithBanks(today)
	if err != nil {
		return err
	}
	d.TieOut = tieOutBody(t, cur)
	if d.Empty, err = r.NothingPosted(); err != nil {
		return err
	}
	_, d.Backup, err = s.book.BackupDue(ctx)
	if d.Backup != "" {
		d.Count++
	}
	return err
}

// Found is one answer of the search.
type Found struct {
	Kind   string `json:"kind" enum:"customer,job,paper,account"`
	ID     int64  `json:"id"`
	Name   string `json:"name"`
	Detail string `json:"detail"`
	Amount string `json:"amount,omitempty"`
	Open   string `json:"open,omitempty" doc:"What of a paper is open; empty for nil"`
}

// amountsMeant is the span of amounts that a text may mean: a whole number
// means every amount that begins with it. What is no amount means none.
func amountsMeant(text string, cur money.Currency) (from, to money.Amount) {
	a, err := cur.Understand(text)
	if err != nil {
		return -1, -1
	}
	from = a.Abs()
	if !strings.ContainsAny(text, ".,") {
		return from, from + cur.One() - 1
	}
	return from, from
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
		from, to := amountsMeant(in.Search, p.cur)
		out := &struct{ Body searchOutput }{searchOutput{[]Found{}}}
		if in.Search == "" {
			return out, nil
		}
		who, err := s.book.Person(ctx)
		if err != nil {
			return nil, problem(err)
		}
		rows, err := s.book.Read(ctx).Search(who.Sees(), in.Search, from, to, 12)
		for _, f := range rows {
			found := Found{Kind: f.Kind, ID: f.ID, Name: f.Name, Detail: f.Detail}
			if f.Amount != nil {
				found.Amount = p.cur.Format(*f.Amount)
			}
			if f.Open != nil && *f.Open != 0 {
				found.Open = p.cur.Format(*f.Open)
			}
			out.Body.Rows = append(out.Body.Rows, found)
		}
		return out, problem(err)
	})
}
