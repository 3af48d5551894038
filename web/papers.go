package web

import (
	"context"
	"errors"

	"cleantally/books"
	"cleantally/core/billing"
	"cleantally/core/day"
	"cleantally/core/ledger"
	"cleantally/core/master"
	"cleantally/core/money"
	"cleantally/core/posting"
	"cleantally/core/settling"
	"cleantally/core/sheet"
	"cleantally/core/tax"
	"cleantally/store"

	"github.com/danielgtaylor/huma/v2"
)

// PaperRow is a paper in a list.
type PaperRow struct {
	ID         int64  `json:"id"`
	Kind       string `json:"kind"`
	Number     string `json:"number"`
	Day        string `json:"day"`
	Due        string `json:"due"`
	CustomerID int64  `json:"customerId"`
	Customer   string `json:"customer"`
	JobID      int64  `json:"jobId"`
	Job        string `json:"job"`
	Title      string `json:"title"`
	Reference  string `json:"reference"`
	State      string `json:"state"`
	Settled    int    `json:"settled" doc:"Share settled, percent"`
	Sent       bool   `json:"sent" doc:"Whether it went out"`
	Opens      bool   `json:"opens" doc:"Whether something of it is open until it is settled or used"`
	Overdue    bool   `json:"overdue"`
	Total      string `json:"total"`
	Open       string `json:"open" doc:"Above nil"`

	Currency string `json:"currency,omitempty" doc:"ISO 4217, of a paper in another than the firm's"`
	OwnTotal string `json:"ownTotal,omitempty" doc:"The total in it"`
	OwnOpen  string `json:"ownOpen,omitempty" doc:"And what is open, above nil"`
}

func paperRow(r store.PaperRow, today day.Day, cur money.Currency) PaperRow {
	state, settled := stateOf(string(r.Kind), r.Amount, r.Open, string(r.ReversedKind), r.WrittenOff)
	kind, _ := posting.Describe(r.Kind)
	if kind.Taken != "" && r.ReversedBy == "" {
		state, settled = takenState(kind, r.Total, r.Taken, r.Cancelled)
		switch {
		case settled > 0:
		case r.Newer != "":
			state = "newer version"
		case r.Lost:
			state = "lost"
		case r.Holds != "" && r.Holds < today:
			state = "past its day"
		}
	}
	if r.Kind == posting.Guarantee && r.ReversedBy == "" {
		switch {
		case r.Lost:
			state = "handed back"
		case r.Due < today:
			state = "past its day"
		}
	}
	overdue := r.Open > 0 || kind.Taken != "" && r.Total > r.Taken
	row := PaperRow{Sent: r.Sent, Opens: kind.Words.Open != "" && r.ReversedBy == "", ID: r.ID, Kind: string(r.Kind), Number: r.Number, Day: string(r.Day), Due: string(r.Due), CustomerID: r.PartyID, Customer: r.Party, JobID: r.JobID, Job: r.Job,
		Title: r.Title, Reference: r.Reference, State: state, Settled: settled, Overdue: overdue && r.Due != "" && r.Due < today && r.ReversedBy == "",
		Total: cur.Format(r.Total), Open: cur.Format(r.Open.Abs())}
	if r.Currency != "" {
		own := in(cur, r.Currency)
		row.Currency, row.OwnTotal, row.OwnOpen = r.Currency, own.Format(r.OwnTotal), own.Format(r.OwnOpen.Abs())
	}
	return row
}

// PaperLine is a line of a posted paper.
type PaperLine struct {
	Text            string `json:"text"`
	Unit            string `json:"unit"`
	Quantity        string `json:"quantity"`
	UnitPrice       string `json:"unitPrice"`
	DiscountPercent string `json:"discountPercent"`
	Discount        string `json:"discount"`
	TaxCode         string `json:"taxCode"`
	TaxPercent      string `json:"taxPercent"`
	Account         string `json:"account"`
	Amount          string `json:"amount" doc:"Before the paper's discount"`
	Article         int64  `json:"article"`
	JobID           int64  `json:"jobId" doc:"Where it is not the paper's"`
	Job             string `json:"job"`
	PassOn          string `json:"passOn" doc:"How a cost is passed on; empty where it is not"`
	Markup          string `json:"markup" doc:"Of a cost that is passed on, percent"`
	Joined          bool   `json:"joined" doc:"Its input tax joined the cost"`
}

// PaperLink is a paper that another one leads to.
type PaperLink struct {
	ID     int64  `json:"id"`
	Kind   string `json:"kind"`
	Number string `json:"number"`
	Day    string `json:"day"`
	Total  string `json:"total"`
}

// Allocation is one credit set against one debit.
type Allocation struct {
	ID        int64  `json:"id"`
	Day       string `json:"day"`
	Amount    string `json:"amount"`
	Off       string `json:"off" doc:"As what it settles shows it, below nil"`
	DebitID   int64  `json:"debitId" doc:"The paper on the owed side"`
	Debit     string `json:"debit"`
	CreditID  int64  `json:"creditId" doc:"The paper on the settling side"`
	Credit    string `json:"credit"`
	Kind      string `json:"kind" doc:"Of the settling paper"`
	CreditDay string `json:"creditDay"`
	Reference string `json:"reference"`
	UndoneOn  string `json:"undoneOn" doc:"Empty while it stands"`
	Reversal  bool   `json:"reversal" doc:"Whether it is what a reversal did"`
	Bound     string `json:"bound" doc:"What it is bound to, so that it is not undone by itself: a refund, a write-off, a discount"`
	Currency  string `json:"currency,omitempty" doc:"ISO 4217; empty for the firm's own"`
}

func allocation(a store.AllocationRow, cur money.Currency) Allocation {
	t := a.Turned()
	cur = in(cur, a.Currency)
	return Allocation{a.ID, string(a.Day), cur.Format(a.Amount), cur.Format(-a.Amount), t.DebitID, t.Debit, t.CreditID, t.Credit, string(t.CreditKind), string(t.CreditDay), t.CreditRef, string(a.UndoneOn), a.TakesBack(), a.Bound(), a.Currency}
}

// Paper is a posted paper with all that it led to.
type Paper struct {
	PaperRow
	Address      string       `json:"address" doc:"Of the customer, as it was; or as it was completed since"`
	Note         string       `json:"note"`
	Supplied     string       `json:"supplied" doc:"The day of supply, where it is not the paper's"`
	Terms        string       `json:"terms"`
	Method       string       `json:"method"`
	Bank         string       `json:"bank"`
	Includes     bool         `json:"includes"`
	Sentences    []string     `json:"sentences" doc:"What the paper has to say about tax"`
	Lines        []PaperLine  `json:"lines"`
	Taxes        []TaxSum     `json:"taxes"`
	Discount     string       `json:"discount"`
	Off          string       `json:"off" doc:"The discount as it is taken off, below nil"`
	Net          string       `json:"net"`
	Tax          string       `json:"tax"`
	Rounding     string       `json:"rounding"`
	Before       string       `json:"before" doc:"The total before what was billed in advance is taken off"`
	Deductions   []Deduction  `json:"deductions" doc:"What was billed in advance and is taken off"`
	Retained     string       `json:"retained" doc:"What the customer keeps back"`
	KeptOff      string       `json:"keptOff" doc:"The same as it is taken off, below nil"`
	RetainedWhy  string       `json:"retainedWhy"`
	Subject      string       `json:"subject"`
	Salesperson  string       `json:"salesperson"`
	OrderNumber  string       `json:"orderNumber" doc:"The customer's own"`
	Form         string       `json:"form" doc:"What an invoice is in the course of a contract: stage, final"`
	Left         string       `json:"left" doc:"Of a paper whose lines are taken one by one: what is left of it, with tax"`
	Holds        string       `json:"holds" doc:"Of a quote: the day through which it holds"`
	Version      int          `json:"version" doc:"Of a quote, counted from 1"`
	Order        []OrderLine  `json:"order,omitempty" doc:"Of an order: what became of its lines"`
	AdvanceLeft  string       `json:"advanceLeft,omitempty" doc:"Of a deposit invoice: what is left to deduct, with its tax"`
	Charges      string       `json:"charges" doc:"What the bank kept"`
	Arrived      string       `json:"arrived"`
	Withheld     string       `json:"withheld"`
	Reason       string       `json:"reason"`
	Cheque       string       `json:"cheque"`
	InWords      string       `json:"inWords" doc:"The total in words"`
	EarlyPercent string       `json:"earlyPercent" doc:"Early-payment discount; empty for none"`
	EarlyUntil   string       `json:"earlyUntil"`
	Early        string       `json:"early" doc:"The early-payment discount, of the gross"`
	SourceID     int64        `json:"sourceId" doc:"The paper that it stands on"`
	Source       string       `json:"source"`
	Disputed     string       `json:"disputed" doc:"Why it is disputed; empty when it is not"`
	Electronic   bool         `json:"electronic" doc:"Whether it goes out as an electronic invoice"`
	Claim        bool         `json:"claim" doc:"Whether it is a progress claim, which has a certificate"`
	Cleared      []PaperLink  `json:"cleared" doc:"What a payout by card cleared"`
	Standing     []PaperLink  `json:"standing" doc:"What stands on it: a recovery, a refund"`
	Parts        []Part       `json:"parts"`
	Allocations  []Allocation `json:"allocations"`
	Events       []PaperEvent `json:"events"`
	Entries      []Entry      `json:"entries"`
	JobName      string       `json:"jobName"`
	ReversesID   int64        `json:"reversesId"`
	Reverses     string       `json:"reverses"`
	ReversedBy   string       `json:"reversedBy"`
	ReversedByID int64        `json:"reversedById"`
	InsteadOf    *PaperLink   `json:"insteadOf,omitempty" doc:"The paper that this one is written in place of"`
	WrittenAgain *PaperLink   `json:"writtenAgain,omitempty" doc:"The paper that is written in place of this one"`
	TakesBack    bool         `json:"takesBack" doc:"Whether it takes another paper back, so that it is not taken back itself"`
	Credits      bool         `json:"credits" doc:"Whether its customer has credits that could be set against it now"`
	Sheet        sheet.Sheet  `json:"sheet" doc:"As it goes out"`
	Letterhead   string       `json:"letterhead" doc:"In which it goes out; empty for none"`
	Rate         string       `json:"rate,omitempty" doc:"Of a paper in another currency: what one unit is worth in the firm's"`
	Base         string       `json:"base,omitempty" doc:"What its total is worth in the firm's"`
	BaseTax      string       `json:"baseTax,omitempty" doc:"And its tax"`
}

func (s *Server) paper(ctx context.Context, in *idOnInput) (*struct{ Body Paper }, error) {
	p, d, err := s.lookingBack(ctx, in.AsOf)
	if err != nil {
		return nil, err
	}
	n, err := s.names(ctx)
	if err != nil {
		return nil, problem(err)
	}
	out := &struct{ Body Paper }{}
	err = s.book.Snapshot(ctx, func(r *store.Reader) error {
		row, ok, err := r.PaperRow(in.ID, d)
		if err != nil || !ok {
			return orNotFound(err)
		}
		posted, _, err := r.Paper(in.ID)
		if err != nil {
			return err
		}
		out.Body = s.paperBody(row, posted, d, p.cur, n)
		on, head, err := books.Sheet(r, in.ID, d)
		if err != nil {
			return err
		}
		out.Body.Sheet, out.Body.Letterhead = on, head.Name
		if err := s.fillPaper(r, &out.Body, posted, d, p.cur); err != nil {
			return err
		}
		return s.cutPaper(ctx, &out.Body)
	})
	return out, problem(err)
}

func (s *Server) paperBody(row store.PaperRow, p posting.Paper, asOf day.Day, firm money.Currency, n names) Paper {
	cur := in(firm, p.Currency)
	f := cur.Format
	p = p.AsRead()
	billed, off, net, tax := deductions(p, cur, n)
	b := Paper{Before: f(p.Total + p.Deducted), Deductions: off, Retained: f(p.Retained), KeptOff: f(-p.Retained), RetainedWhy: p.RetainedWhy, Form: p.Form, Subject: p.Subject, Salesperson: p.Salesperson, OrderNumber: p.OrderNumber, Left: f(p.Total - row.Taken), Holds: string(p.Holds), Version: p.Version, PaperRow: paperRow(row, asOf, firm), Address: p.PartyAddress, Supplied: string(p.Supplied), Note: p.Note, Method: string(p.Method), Includes: p.Includes, Sentences: []string{},
		Lines: []PaperLine{}, Taxes: taxSums(billed, cur, n), Discount: f(p.Discount), Off: f(-p.Discount), Net: f(net), Tax: f(tax), Rounding: f(p.Rounding), Charges: f(p.Charges), Arrived: f(p.Total - p.Charges - p.Withheld), Withheld: f(p.Withheld),
		Reason: p.Reason, Cheque: p.Cheque, EarlyPercent: percentOrNothing(p.EarlyPercent), EarlyUntil: string(p.EarlyUntil), SourceID: p.SourceID,
		ReversesID: p.ReversesID, ReversedBy: row.ReversedBy, InWords: cur.Words(p.Total.Abs()), Claim: billing.IsClaim(p), Electronic: books.Electronic(p), Standing: []PaperLink{}, Cleared: []PaperLink{}, Parts: []Part{}, Allocations: []Allocation{}, Entries: []Entry{}}
	if p.Currency != "" {
		b.Total, b.Open, b.Rate, b.Base, b.BaseTax = b.OwnTotal, b.OwnOpen, rateText(p.Rate), firm.Format(p.Base), firm.Format(p.InFirm.Tax)
	}
	for _, l := range billed {
		a, _ := n.Account(l.AccountID)
		line := PaperLine{Text: l.Text, Unit: l.Unit, Quantity: dec(l.Quantity), UnitPrice: cur.Price(l.UnitPrice), DiscountPercent: percentOrNothing(l.DiscountPercent),
			TaxCode: n.TaxCodeName(l.TaxCodeID), TaxPercent: dec(l.TaxPercent), Account: a.Number + " " + a.Name, Amount: f(l.Before),
			Article: l.ArticleID, JobID: l.JobID, PassOn: string(l.PassOn), Markup: dec(l.Markup), Joined: l.Joined}
		if l.Discount != 0 {
			line.Discount = f(l.Discount)
		}
		b.Lines = append(b.Lines, line)
	}
	return b
}

// fillPaper adds what the paper led to.
func (s *Server) fillPaper(r *store.Reader, b *Paper, p posting.Paper, asOf day.Day, firm money.Currency) error {
	cur := in(firm, p.Currency)
	items, err := r.ItemsOf(p.ID, asOf)
	if err != nil {
		return err
	}
	for _, i := range items {
		cur := in(firm, i.Currency)
		b.Parts = append(b.Parts, Part{ItemID: int64(i.ID), Due: string(i.Due), Amount: cur.Format(i.Amount.Own.Abs()), Open: cur.Format(i.Left.Amount.Own.Abs()), Register: string(i.Register),
			Nature: string(i.Nature), Credit: i.Credit(), Tax: cur.Format(i.Left.Tax.Own.Abs())})
	}
	if b.Disputed, err = r.DisputeOf(p.ID, asOf); err != nil {
		return err
	}
	allocations, err := r.AllocationsOf(p.ID, asOf)
	if err != nil {
		return err
	}
	for _, a := range allocations {
		b.Allocations = append(b.Allocations, allocation(a, firm))
	}
	lines, err := r.EntriesOf(p.ID)
	if err != nil {
		return err
	}
	b.Entries = entries(lines, firm)
	if t, ok, err := store.Find[master.Terms](r, p.TermsID); err != nil {
		return err
	} else if ok {
		b.Terms = t.Name
	}
	if a, ok, err := store.Find[ledger.BankAccount](r, p.BankAccountID); err != nil {
		return err
	} else if ok {
		b.Bank = a.Name
	}
	for n := range b.Lines {
		if j, ok, err := store.Find[master.Job](r, b.Lines[n].JobID); err != nil {
			return err
		} else if ok {
			b.Lines[n].Job = j.Number
		}
	}
	if j, ok, err := store.Find[master.Job](r, p.JobID); err != nil {
		return err
	} else if ok {
		b.JobName = j.Name
	}
	if p.EarlyUntil != "" {
		facts, err := r.Facts(s.book.Today())
		if err != nil {
			return err
		}
		b.Early = cur.Format(settling.EarlyDiscount(facts, p))
	}
	if err := s.fillContract(r, b, p, asOf, cur); err != nil {
		return err
	}
	noted, err := r.EventsOf(p.ID, asOf)
	if err != nil {
		return err
	}
	b.Events = events(noted)
	for _, e := range noted {
		if e.Event == books.Addressed {
			b.Address = e.Text
		}
	}
	b.TakesBack = p.Kind.TakesBack()
	if p.PartyID != 0 {
		if b.Credits, err = r.HasCredits(p.PartyID); err != nil {
			return err
		}
	}
	return s.fillLinks(r, b, p, firm)
}

// fillLinks adds the papers that reverse each other and the sentences that
// the tax codes ask for.
func (s *Server) fillLinks(r *store.Reader, b *Paper, p posting.Paper, cur money.Currency) error {
	links, err := r.LinksOf(p.ID)
	if err != nil {
		return err
	}
	for _, l := range links {
		switch {
		case l.ID == p.ReversesID:
			b.Reverses = l.Number
		case l.ID == p.SourceID:
			b.Source = l.Number
		case l.Reverses:
			b.ReversedByID = l.ID
		default:
			b.Standing = append(b.Standing, PaperLink{l.ID, string(l.Kind), l.Number, string(l.Day), cur.Format(l.Total)})
		}
	}
	if p.Kind == posting.Payout {
		cleared, err := r.ClearedBy(p.ID)
		if err != nil {
			return err
		}
		for _, c := range cleared {
			b.Cleared = append(b.Cleared, PaperLink{c.PaperID, string(c.Kind), c.Number, string(c.Day), cur.Format(c.Amount)})
		}
	}
	again, err := r.AgainOf(p.ID)
	if err != nil {
		return err
	}
	for _, l := range again {
		link := &PaperLink{l.ID, string(l.Kind), l.Number, string(l.Day), cur.Format(l.Total)}
		if l.Reverses {
			b.InsteadOf = link
		} else {
			b.WrittenAgain = link
		}
	}
	codes, err := r.TaxCodes()
	for _, c := range codes {
		for _, l := range p.Lines {
			if c.ID == l.TaxCodeID && c.Kind == tax.CustomerAccountsIt {
				b.Sentences = []string{tax.Sentence}
			}
		}
	}
	return err
}

// entries groups journal lines by entry.
func entries(lines []store.EntryLine, cur money.Currency) []Entry {
	all := []Entry{}
	var sum money.Amount
	for _, l := range lines {
		if len(all) == 0 || all[len(all)-1].ID != l.EntryID {
			all = append(all, Entry{ID: l.EntryID, Day: string(l.Day), Text: l.Text, PaperID: l.PaperID, Paper: l.Paper})
			sum = 0
		}
		e := &all[len(all)-1]
		line := Line{AccountID: l.AccountID, Account: l.Account, Party: l.Party, Job: l.Job, TaxCode: l.TaxCode, Own: ownOf(cur, l.Currency, l.Own)}
		if l.Amount > 0 || l.Amount == 0 && l.Own > 0 {
			line.Debit = cur.Format(l.Amount)
			sum += l.Amount
		} else {
			line.Credit = cur.Format(-l.Amount)
		}
		e.Lines = append(e.Lines, line)
		e.Total = cur.Format(sum)
	}
	return all
}

func (s *Server) registerPapers() {
	type input struct {
		ListInput
		Kind     Kind   `query:"kind"`
		State    string `query:"state" enum:"open,overdue,settled,reversed"`
		Customer int64  `query:"customer"`
		Job      int64  `query:"job"`
		From     string `query:"from"`
		To       string `query:"to"`
	}
	type row = PaperRow
	lister[input, store.PaperRow, row]{
		id: "papers", path: "/api/v1/papers", summary: "Posted papers of every kind",
		head: func(in *input) ListInput { return in.ListInput },
		find: func(ctx context.Context, in *input, q store.Query) (store.Page[store.PaperRow], error) {
			from, err1 := s.dayOr(in.From, "")
			to, err2 := s.dayOr(in.To, "")
			if err := errors.Join(err1, err2); err != nil {
				return store.Page[store.PaperRow]{}, err
			}
			f := store.PaperFilter{Search: in.Search, Amount: s.amountIn(ctx, in.Search), Kind: posting.Kind(in.Kind), State: in.State, PartyID: in.Customer, JobID: in.Job, From: from, To: to}
			if f.Sight, err1 = s.sight(ctx); err1 != nil {
				return store.Page[store.PaperRow]{}, err1
			}
			d, err := s.asOf(in.AsOf)
			if err != nil {
				return store.Page[store.PaperRow]{}, err
			}
			return s.book.Read(ctx).Papers(f, q, d, in.AsOf != "")
		},
		row:  func(r store.PaperRow, d day.Day, cur money.Currency) row { return paperRow(r, d, cur) },
		key:  func(r row) int64 { return r.ID },
		sums: []string{"total"},
		// An invoice and a refund do not add up to anything.
		adds: func(in *input) bool { return in.Kind != "" },
		columns: []col[row]{{"Day", func(r row) string { return r.Day }, false}, {"Number", func(r row) string { return r.Number }, false}, {"Kind", func(r row) string { return r.Kind }, false},
			{"Customer", func(r row) string { return r.Customer }, false}, {"Job", func(r row) string { return r.Job }, false}, {"What", func(r row) string { return r.Title }, false},
			{"Reference", func(r row) string { return r.Reference }, false}, {"Due", func(r row) string { return r.Due }, false}, {"State", func(r row) string { return r.State }, false},
			{"Total", func(r row) string { return r.Total }, true}, {"Open", func(r row) string { return r.Open }, true}},
		abroad: []col[row]{textCol("Currency", func(r row) string { return r.Currency }), figureCol("Total in it", func(r row) string { return r.OwnTotal }), figureCol("Open in it", func(r row) string { return r.OwnOpen })},
	}.register(s)
	huma.Register(s.api, describe("paper", "GET", "/api/v1/papers/{id}", "A posted paper with its entries and allocations"), s.paper)
}
