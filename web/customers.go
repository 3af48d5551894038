package web

import (
	"context"
	"strconv"

	"cleantally/core/day"
	"cleantally/core/master"
	"cleantally/core/money"
	"cleantally/core/reporting"
	"cleantally/store"

	"github.com/danielgtaylor/huma/v2"
)

// CustomerRow is a customer in the list.
type CustomerRow struct {
	ID       int64  `json:"id"`
	Number   string `json:"number"`
	Name     string `json:"name"`
	Contact  string `json:"contact"`
	Town     string `json:"town"`
	Phone    string `json:"phone"`
	Email    string `json:"email"`
	Jobs     int64  `json:"jobs"`
	Owes     string `json:"owes" doc:"Receivables"`
	Overdue  string `json:"overdue"`
	Held     string `json:"held" doc:"Deposits"`
	Inactive bool   `json:"inactive"`
}

// CustomerBody is what is kept of a customer.
type CustomerBody struct {
	Number      string `json:"number,omitempty" doc:"Empty to be given the next"`
	Name        string `json:"name"`
	Contact     string `json:"contact,omitempty"`
	Email       string `json:"email,omitempty"`
	Phone       string `json:"phone,omitempty"`
	Address     string `json:"address,omitempty" doc:"Where papers go"`
	Town        string `json:"town,omitempty"`
	SiteAddress string `json:"siteAddress,omitempty" doc:"Where the work is, when it is elsewhere"`
	TaxNumber   string `json:"taxNumber,omitempty"`
	Terms       int64  `json:"terms,omitempty" doc:"0: the firm's own"`
	Note        string `json:"note,omitempty"`
	Inactive    bool   `json:"inactive,omitempty"`
}

// Position is where a customer stands.
type Position struct {
	OwesNow   string `json:"owesNow"`
	NotYetDue string `json:"notYetDue"`
	KeepsBack string `json:"keepsBack"`
	Held      string `json:"held"`
	Unplaced  string `json:"unplaced"`
	Net       string `json:"net"`
}

// Customer is a customer with where it stands.
type Customer struct {
	ID int64 `json:"id"`
	CustomerBody
	TermsName string   `json:"termsName"`
	Position  Position `json:"position"`
	Jobs      []Named  `json:"jobs" doc:"Those not closed, the newest first"`
}

// Named is a record by its name.
type Named struct {
	ID   int64  `json:"id"`
	Name string `json:"name"`
}

// OpenItem is an open item on the bench or in a register.
type OpenItem struct {
	ID        int64  `json:"id"`
	PaperID   int64  `json:"paperId"`
	Kind      string `json:"kind"`
	Number    string `json:"number"`
	Part      int    `json:"part" doc:"Which instalment; 0 when there is but one"`
	Title     string `json:"title"`
	Reference string `json:"reference"`
	PartyID   int64  `json:"customerId"`
	Party     string `json:"customer"`
	JobID     int64  `json:"jobId"`
	Job       string `json:"job"`
	Day       string `json:"day"`
	Due       string `json:"due"`
	Age       int    `json:"age" doc:"Days past the due day, or since the day of a credit"`
	Credit    bool   `json:"credit" doc:"Whether it can settle"`
	Amount    string `json:"amount" doc:"Above nil"`
	Open      string `json:"open" doc:"Above nil"`
	State     string `json:"state"`
	Settled   int    `json:"settled" doc:"Share settled, percent"`
}

func openItem(i store.OpenItem, asOf day.Day, cur money.Currency) OpenItem {
	from := i.Due
	if from == "" {
		from = i.Day
	}
	state, settled := reporting.Settlement(i.Amount, i.Open)
	return OpenItem{ID: i.ID, PaperID: i.PaperID, Kind: string(i.Kind), Number: i.Number, Part: i.Part, Title: i.Title, Reference: i.Reference, PartyID: i.PartyID, Party: i.Party,
		JobID: i.JobID, Job: i.Job, Day: string(i.Day), Due: string(i.Due), Age: asOf.Since(from), Credit: i.Amount < 0,
		Amount: cur.Format(i.Amount.Abs()), Open: cur.Format(i.Open.Abs()), State: state, Settled: settled}
}

// Bench is what a customer owes and what can settle it.
type Bench struct {
	Owed    []OpenItem   `json:"owed"`
	Credits []OpenItem   `json:"credits"`
	Recent  []Allocation `json:"recent" doc:"Allocations that stand, the newest first, to be undone"`
}

// Happening is a line of a story or statement.
type Happening struct {
	Day     string `json:"day"`
	PaperID int64  `json:"paperId"`
	Number  string `json:"number"`
	Kind    string `json:"kind"`
	Text    string `json:"text"`
	State   string `json:"state"`
	Settled int    `json:"settled"`
	Overdue bool   `json:"overdue"`
	Amount  string `json:"amount" doc:"What it did to receivables"`
	Held    string `json:"held" doc:"What it did to deposits held"`
	Balance string `json:"balance" doc:"Receivables after it"`
}

// Story is what happened with a customer or on a job.
type Story struct {
	Rows []Happening `json:"rows" doc:"In order of time"`
}

// Statement is what a customer is told of a span.
type Statement struct {
	Firm     string      `json:"firm"`
	Address  string      `json:"address"`
	Customer string      `json:"customer"`
	To       string      `json:"customerAddress"`
	From     string      `json:"from"`
	Through  string      `json:"through"`
	Opening  string      `json:"opening"`
	Rows     []Happening `json:"rows"`
	Closing  string      `json:"closing"`
	Ageing   Ageing      `json:"ageing"`
	Held     string      `json:"held"`
	Net      string      `json:"net"`
}

// happenings turns the rows of a story into lines with the running balance,
// and returns the opening and closing balance of those from a day on.
func happenings(rows []store.HappeningRow, from, today day.Day, cur money.Currency) (lines []Happening, opening, closing money.Amount) {
	lines = []Happening{}
	all := make([]reporting.Happening, len(rows))
	for i, r := range rows {
		all[i] = r.Happening
	}
	closing = reporting.Run(0, all)
	for i, r := range rows {
		if r.Day < from {
			opening = all[i].Balance
			continue
		}
		h := Happening{Day: string(r.Day), PaperID: r.PaperID, Number: r.Number, Kind: r.Kind, Text: r.Text, Amount: cur.Format(r.Amount), Held: cur.Format(r.Held), Balance: cur.Format(all[i].Balance)}
		switch r.Kind {
		case "set against":
			h.Text = "Set against " + r.Text
		case "undone":
			h.Text = "No longer set against " + r.Text
		default:
			h.State, h.Settled = stateOf(r.Kind, r.ItemAmount, r.ItemOpen, r.ReversedBy)
			h.Overdue = r.ReversedBy == "" && r.Due != "" && r.Due < today
		}
		lines = append(lines, h)
	}
	return lines, opening, closing
}

// stateOf says in a word how a paper stands.
func stateOf(kind string, amount, open money.Amount, reversedBy string) (string, int) {
	switch {
	case reversedBy != "":
		return "reversed", 0
	case kind == "reversal":
		return "reversal", 0
	}
	state, settled := reporting.Settlement(amount, open)
	words := map[string]map[string]string{
		"deposit": {"open": "held", "part settled": "part held", "settled": "used"},
		"receipt": {"open": "not placed", "part settled": "part placed", "settled": "placed"},
	}
	if w, ok := words[kind]; ok {
		state = w[state]
	}
	return state, settled
}

type idInput struct {
	ID int64 `path:"id"`
}

func (b CustomerBody) party(id int64) master.Party {
	return master.Party{ID: id, Number: b.Number, Name: b.Name, Contact: b.Contact, Email: b.Email, Phone: b.Phone, Address: b.Address, Town: b.Town,
		SiteAddress: b.SiteAddress, TaxNumber: b.TaxNumber, TermsID: b.Terms, Note: b.Note, Inactive: b.Inactive}
}

func (s *Server) customer(ctx context.Context, id int64) (*struct{ Body Customer }, error) {
	p, err := s.parser(ctx)
	if err != nil {
		return nil, err
	}
	r := s.book.Read(ctx)
	c, ok, err := store.Find[master.Party](r, id)
	if err != nil || !ok || !c.IsCustomer {
		return nil, orNotFound(err)
	}
	pos, err := r.Position(id, s.book.Today())
	if err != nil {
		return nil, problem(err)
	}
	f := p.cur.Format
	out := &struct{ Body Customer }{Customer{ID: id, CustomerBody: CustomerBody{Number: c.Number, Name: c.Name, Contact: c.Contact, Email: c.Email, Phone: c.Phone,
		Address: c.Address, Town: c.Town, SiteAddress: c.SiteAddress, TaxNumber: c.TaxNumber, Terms: c.TermsID, Note: c.Note, Inactive: c.Inactive},
		Position: Position{f(pos.OwesNow), f(pos.NotYetDue), f(pos.KeepsBack), f(pos.Held), f(pos.Unplaced), f(pos.Net())}, Jobs: []Named{}}}
	termsID := c.TermsID
	if termsID == 0 {
		if firm, err := r.Firm(); err == nil {
			termsID = firm.TermsID
		}
	}
	if terms, ok, err := store.Find[master.Terms](r, termsID); err != nil {
		return nil, problem(err)
	} else if ok {
		out.Body.TermsName = terms.Name
	}
	jobs, err := r.Jobs(store.JobFilter{PartyID: id}, store.Query{})
	for _, j := range jobs.Rows {
		out.Body.Jobs = append(out.Body.Jobs, Named{j.ID, j.Number + " " + j.Name})
	}
	return out, problem(err)
}

func (s *Server) saveCustomer(ctx context.Context, id int64, b CustomerBody) (*struct{ Body Customer }, error) {
	party := b.party(id)
	if err := s.book.SaveCustomer(ctx, s.user(ctx), &party); err != nil {
		return nil, problem(err)
	}
	return s.customer(ctx, party.ID)
}

func (s *Server) bench(ctx context.Context, in *idInput) (*struct{ Body Bench }, error) {
	p, err := s.parser(ctx)
	if err != nil {
		return nil, err
	}
	r := s.book.Read(ctx)
	items, err := r.Bench(in.ID)
	if err != nil {
		return nil, problem(err)
	}
	out := &struct{ Body Bench }{Bench{Owed: []OpenItem{}, Credits: []OpenItem{}, Recent: []Allocation{}}}
	for _, i := range items {
		if body := openItem(i, s.book.Today(), p.cur); body.Credit {
			out.Body.Credits = append(out.Body.Credits, body)
		} else {
			out.Body.Owed = append(out.Body.Owed, body)
		}
	}
	recent, err := r.RecentAllocations(in.ID, 20)
	for _, a := range recent {
		out.Body.Recent = append(out.Body.Recent, allocation(a, p.cur))
	}
	return out, problem(err)
}

type statementInput struct {
	ID      int64  `path:"id"`
	From    string `query:"from"`
	Through string `query:"through"`
}

func (s *Server) statement(ctx context.Context, in *statementInput) (*struct{ Body Statement }, error) {
	p, err := s.parser(ctx)
	if err != nil {
		return nil, err
	}
	through, err := s.asOf(in.Through)
	if err != nil {
		return nil, err
	}
	from, err := s.asOf(in.From)
	if err != nil {
		return nil, err
	}
	out := &struct{ Body Statement }{}
	err = s.book.Snapshot(ctx, func(r *store.Reader) error {
		c, ok, err := store.Find[master.Party](r, in.ID)
		if err != nil || !ok {
			return orNotFound(err)
		}
		firm, err := r.Firm()
		if err != nil {
			return err
		}
		rows, err := r.PartyStory(in.ID, through)
		if err != nil {
			return err
		}
		lines, opening, closing := happenings(rows, from, through, p.cur)
		ageing, err := r.Ageing(through, reporting.ByDue, in.ID)
		if err != nil {
			return err
		}
		held, err := r.HeldOn(in.ID, through)
		out.Body = Statement{Firm: firm.Name, Address: firm.Address, Customer: c.Name, To: c.Address, From: string(from), Through: string(through), Opening: p.cur.Format(opening),
			Rows: lines, Closing: p.cur.Format(closing), Ageing: ageingBody(ageing, p.cur), Held: p.cur.Format(held), Net: p.cur.Format(closing - held)}
		return err
	})
	return out, problem(err)
}

func (s *Server) registerCustomers() {
	type input struct {
		ListInput
		State string `query:"state" enum:"owing,overdue,held,inactive" doc:"Left out: those in use"`
	}
	type row = CustomerRow
	lister[input, store.PartyRow, row]{
		id: "customers", path: "/api/v1/customers", summary: "Customers with what they owe",
		head: func(in *input) ListInput { return in.ListInput },
		find: func(ctx context.Context, in *input, q store.Query) (store.Page[store.PartyRow], error) {
			return s.book.Read(ctx).Customers(store.PartyFilter{Search: in.Search, State: in.State}, q, s.book.Today())
		},
		row: func(r store.PartyRow, cur money.Currency) row {
			return row{r.ID, r.Number, r.Name, r.Contact, r.Town, r.Phone, r.Email, r.Jobs, cur.Format(r.Owes), cur.Format(r.Overdue), cur.Format(r.Held), r.Inactive}
		},
		key:  func(r row) int64 { return r.ID },
		sums: []string{"owes", "overdue", "held"},
		columns: []col[row]{{"Number", func(r row) string { return r.Number }, false}, {"Name", func(r row) string { return r.Name }, false}, {"Contact", func(r row) string { return r.Contact }, false},
			{"Town", func(r row) string { return r.Town }, false}, {"Phone", func(r row) string { return r.Phone }, false}, {"Email", func(r row) string { return r.Email }, false},
			{"Jobs", func(r row) string { return strconv.FormatInt(r.Jobs, 10) }, true}, {"Owes", func(r row) string { return r.Owes }, true},
			{"Overdue", func(r row) string { return r.Overdue }, true}, {"Held", func(r row) string { return r.Held }, true}},
	}.register(s)
	huma.Register(s.api, describe("customer", "GET", "/api/v1/customers/{id}", "A customer"), func(ctx context.Context, in *idInput) (*struct{ Body Customer }, error) {
		return s.customer(ctx, in.ID)
	})
	huma.Register(s.api, describe("create-customer", "POST", "/api/v1/customers", "Add a customer"), func(ctx context.Context, in *struct{ Body CustomerBody }) (*struct{ Body Customer }, error) {
		return s.saveCustomer(ctx, 0, in.Body)
	})
	type change struct {
		ID   int64 `path:"id"`
		Body CustomerBody
	}
	huma.Register(s.api, describe("save-customer", "PUT", "/api/v1/customers/{id}", "Change a customer"), func(ctx context.Context, in *change) (*struct{ Body Customer }, error) {
		return s.saveCustomer(ctx, in.ID, in.Body)
	})
	huma.Register(s.api, describe("bench", "GET", "/api/v1/customers/{id}/bench", "What a customer owes and what can settle it"), s.bench)
	huma.Register(s.api, describe("customer-story", "GET", "/api/v1/customers/{id}/story", "What happened with a customer"), func(ctx context.Context, in *idInput) (*struct{ Body Story }, error) {
		p, err := s.parser(ctx)
		if err != nil {
			return nil, err
		}
		rows, err := s.book.Read(ctx).PartyStory(in.ID, endOfTime)
		lines, _, _ := happenings(rows, "", s.book.Today(), p.cur)
		return &struct{ Body Story }{Story{lines}}, problem(err)
	})
	huma.Register(s.api, describe("statement", "GET", "/api/v1/customers/{id}/statement", "A customer's statement for a span"), s.statement)
}

// endOfTime is after every day that a paper can bear.
const endOfTime = day.Day("9999-12-31")

// asOf reads a day of a query; empty is today.
func (s *Server) asOf(text string) (day.Day, error) {
	if text == "" {
		return s.book.Today(), nil
	}
	d, err := day.Parse(text)
	if err != nil {
		return d, plain(400, sentence(err))
	}
	return d, nil
}
