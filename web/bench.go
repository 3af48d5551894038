package web

import (
	"context"
	"errors"

	"cleantally/core/day"
	"cleantally/core/ledger"
	"cleantally/core/money"
	"cleantally/core/posting"
	"cleantally/core/reporting"
	"cleantally/core/settling"
	"cleantally/store"
)

// OpenItem is an open item on the bench or in a register.
type OpenItem struct {
	ID         int64  `json:"id"`
	PaperID    int64  `json:"paperId"`
	Kind       string `json:"kind"`
	Number     string `json:"number"`
	Part       int    `json:"instalment" doc:"Counted from 1; 0 when there is but one"`
	Title      string `json:"title"`
	Reference  string `json:"reference"`
	PartyID    int64  `json:"customerId"`
	Party      string `json:"customer"`
	JobID      int64  `json:"jobId"`
	Job        string `json:"job"`
	Day        string `json:"day"`
	Due        string `json:"due"`
	Age        int    `json:"age" doc:"Days past the due day, or since the day of a credit"`
	Credit     bool   `json:"credit" doc:"Whether it can settle"`
	Amount     string `json:"amount" doc:"Above nil"`
	Open       string `json:"open" doc:"Above nil"`
	Signed     string `json:"signed" doc:"The amount, a credit below nil"`
	SignedOpen string `json:"signedOpen" doc:"What is open, a credit below nil"`
	Told       string `json:"told" doc:"The amount on the side on which its register stands"`
	ToldOpen   string `json:"toldOpen" doc:"What is open, on that side"`
	State      string `json:"state"`
	Settled    int    `json:"settled" doc:"Share settled, percent"`
	Register   string `json:"register"`
	Money      bool   `json:"money" doc:"Whether it is money that could be given back or moved"`
	Disputed   bool   `json:"disputed"`
	TaxInside  string `json:"taxInside" doc:"Of what is open"`
	Early      string `json:"early" doc:"The early-payment discount; empty for none"`
	EarlyDay   string `json:"earlyDay" doc:"The last day of it"`

	Currency string `json:"currency,omitempty" doc:"ISO 4217, of all its amounts; empty for the firm's own"`
	Base     string `json:"base,omitempty" doc:"What is open, in the firm's currency, above nil"`
	Own      string `json:"own,omitempty" doc:"Where its amounts are in the firm's currency: what is open in its own, with its code"`

	code, inCode string // the same for files, of another currency than the firm's
}

func openItem(i store.OpenItem, asOf day.Day, firm money.Currency) OpenItem {
	cur, base := firm, ""
	if i.Currency != "" {
		cur, base = in(firm, i.Currency), firm.Format(i.Open.Abs())
		i.Amount, i.Open = i.OwnAmount, i.OwnOpen
	}
	from := i.Due
	if from == "" {
		from = i.Day
	}
	state, settled := reporting.Settlement(i.Amount, i.Open)
	side := money.Amount(-1)
	if i.Register == ledger.Receivables || i.Register == ledger.Retention || i.Register == ledger.SupplierPrepayments {
		side = 1
	}
	return OpenItem{Told: cur.Format(side * i.Amount), ToldOpen: cur.Format(side * i.Open), ID: i.ID, PaperID: i.PaperID, Kind: string(i.Kind), Number: i.Number, Part: i.Instalment, Title: i.Title, Reference: i.Reference, PartyID: i.PartyID, Party: i.Party,
		JobID: i.JobID, Job: i.Job, Day: string(i.Day), Due: string(i.Due), Age: asOf.Since(from), Credit: i.Amount < 0,
		Amount: cur.Format(i.Amount.Abs()), Open: cur.Format(i.Open.Abs()), Signed: cur.Format(i.Amount), SignedOpen: cur.Format(i.Open), State: state, Settled: settled, Register: string(i.Register), Disputed: i.Disputed,
		Money: i.Nature == posting.Plain && (i.Amount < 0 && i.Register != ledger.Payables && i.Register != ledger.RetentionPayable || i.Amount > 0 && (i.Register == ledger.Payables || i.Register == ledger.SupplierPrepayments)), TaxInside: cur.Format(i.OpenTax.Abs()), Currency: i.Currency, Base: base}
}

// registerItem is an open item in a list that adds up: in the firm's currency,
// with what is open in its own beside.
func registerItem(i store.OpenItem, asOf day.Day, firm money.Currency) OpenItem {
	own := i
	i.Currency = ""
	row := openItem(i, asOf, firm)
	if row.Own = ownOf(firm, own.Currency, own.OwnOpen); row.Own != "" {
		row.code, row.inCode = own.Currency, in(firm, own.Currency).Format(own.OwnOpen)
	}
	return row
}

// Bench is what a customer owes and what can settle it.
type Bench struct {
	Owed    []OpenItem   `json:"owed"`
	Credits []OpenItem   `json:"credits"`
	Kept    []OpenItem   `json:"keptBack" doc:"What the customer keeps back"`
	Owing   []OpenItem   `json:"owing" doc:"What we owe the party, where it is a supplier too"`
	Counts  [4]int64     `json:"counts" doc:"How many there are on each side, in the order above, also those not told here"`
	Jobs    []Named      `json:"jobs" doc:"Of what is open"`
	Recent  []Allocation `json:"recent" doc:"Allocations that stand, the newest first, to be undone"`
}

// benchInput narrows a bench down.
type benchInput struct {
	ID      int64   `path:"id"`
	AsOf    string  `query:"asOf" doc:"As it stood at the end of this day; left out, today"`
	Search  string  `query:"q" maxLength:"100" doc:"Any part of a number, title or reference"`
	Job     int64   `query:"job"`
	Pinned  []int64 `query:"pinned,explode" maxItems:"5000" doc:"Items that are told all the same"`
	Limit   int     `query:"limit" minimum:"1" maximum:"5000" default:"60" doc:"Items of a side"`
	Papers  []int64 `query:"papers,explode" maxItems:"100" doc:"Papers whose items are told all the same"`
	payable bool
	Again   int64 `query:"again" doc:"As it would stand if this paper were taken back, to write it again"`
}

func (s *Server) bench(ctx context.Context, in *benchInput) (out *struct{ Body Bench }, err error) {
	err = s.book.Without(ctx, s.user(ctx), in.Again, func(r *store.Reader) error {
		out, err = s.benchOf(ctx, r, in)
		return err
	})
	return out, problem(err)
}

func (s *Server) benchOf(ctx context.Context, r *store.Reader, in *benchInput) (*struct{ Body Bench }, error) {
	p, d, err := s.lookingBack(ctx, in.AsOf)
	if err != nil {
		return nil, err
	}
	pinned, err := r.ItemsOfPapers(in.Papers)
	if err != nil {
		return nil, problem(err)
	}
	items, err := r.Bench(in.ID, store.BenchFilter{AsOf: d, Search: in.Search, JobID: in.Job, Pinned: append(pinned, in.Pinned...), Limit: in.Limit, Payable: in.payable})
	if err != nil {
		return nil, problem(err)
	}
	facts, err := r.Facts(s.book.Today())
	if err != nil {
		return nil, problem(err)
	}
	out := &struct{ Body Bench }{Bench{Owed: []OpenItem{}, Credits: []OpenItem{}, Kept: []OpenItem{}, Owing: []OpenItem{}, Jobs: []Named{}, Recent: []Allocation{}}}
	b := &out.Body
	for _, i := range items {
		body := openItem(i.OpenItem, d, p.cur)
		b.Counts[i.Side] = i.OfSide
		if in.payable { // what we owe is settled by what stands with the supplier
			body.Credit = !body.Credit
		}
		switch i.Side {
		case store.Owing:
			b.Owing = append(b.Owing, body)
		case store.KeptBack:
			b.Kept = append(b.Kept, body)
		case store.Credits:
			b.Credits = append(b.Credits, body)
		default:
			withDiscount(&body, i.OpenItem, facts, d)
			b.Owed = append(b.Owed, body)
		}
	}
	jobs, err := r.BenchJobs(in.ID)
	if err != nil {
		return nil, problem(err)
	}
	for _, j := range jobs {
		b.Jobs = append(b.Jobs, Named{j.ID, j.Number})
	}
	recent, err := r.RecentAllocations(in.ID, in.payable, d, 20)
	for _, a := range recent {
		b.Recent = append(b.Recent, allocation(a, p.cur))
	}
	return out, problem(errors.Join(err, facts.Err()))
}

// withDiscount tells the early-payment discount that can still be earned.
func withDiscount(b *OpenItem, i store.OpenItem, f *store.Facts, d day.Day) {
	if i.EarlyUntil < d {
		return
	}
	discount, until := settling.Earned(f, posting.Item{ID: posting.ItemRef(i.ID), Register: i.Register, Nature: i.Nature, PaperID: i.PaperID, Instalment: i.Instalment, Currency: i.Currency, Part: posting.Part{Amount: posting.Worth{Own: i.OwnAmount, Base: i.Amount}}, Left: posting.Part{Amount: posting.Worth{Own: i.OwnOpen, Base: i.Open}}, EarlyUntil: i.EarlyUntil}, d)
	if discount > 0 {
		b.Early, b.EarlyDay = in(f.Currency(), i.Currency).Format(discount), string(until)
	}
}
