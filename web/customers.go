package web

import (
	"context"
	"errors"
	"fmt"
	"strconv"
	"strings"

	"cleantally/core/day"
	"cleantally/core/ledger"
	"cleantally/core/master"
	"cleantally/core/money"
	"cleantally/core/posting"
	"cleantally/core/reporting"
	"cleantally/core/settling"
	"cleantally/formats"
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
	Supplier bool   `json:"supplier"`
	KeptBack string `json:"keptBack" doc:"Retention"`
	Unplaced string `json:"unplaced" doc:"Credits not placed"`
}

// CustomerBody is what is kept of a customer.
type CustomerBody struct {
	Version     int64  `json:"version,omitempty" readOnly:"true" doc:"Counts its changes; If-Match wants it"`
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
	Supplier    bool   `json:"supplier,omitempty" doc:"Whether we buy from it too"`
	NoCustomer  bool   `json:"noCustomer,omitempty" doc:"Whether it is a supplier alone"`
}

// Position is where a customer stands.
type Position struct {
	OwesNow   string `json:"owesNow"`
	NotYetDue string `json:"notYetDue"`
	KeepsBack string `json:"keepsBack"`
	Held      string `json:"held"`
	Unplaced  string `json:"unplaced"`
	Net       string `json:"net"`
	Disputed  string `json:"disputed" doc:"Of what is owed"`
	WeOwe     string `json:"weOwe" doc:"Payables, where the party is a supplier too; outside the net"`
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
	Part      int    `json:"instalment" doc:"Counted from 1; 0 when there is but one"`
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
	Register  string `json:"register"`
	Money     bool   `json:"money" doc:"Whether it is money that could be given back or moved"`
	Disputed  bool   `json:"disputed"`
	TaxInside string `json:"taxInside" doc:"Of what is open"`
	Early     string `json:"early" doc:"The early-payment discount; empty for none"`
	EarlyDay  string `json:"earlyDay" doc:"The last day of it"`
}

func openItem(i store.OpenItem, asOf day.Day, cur money.Currency) OpenItem {
	from := i.Due
	if from == "" {
		from = i.Day
	}
	state, settled := reporting.Settlement(i.Amount, i.Open)
	return OpenItem{ID: i.ID, PaperID: i.PaperID, Kind: string(i.Kind), Number: i.Number, Part: i.Instalment, Title: i.Title, Reference: i.Reference, PartyID: i.PartyID, Party: i.Party,
		JobID: i.JobID, Job: i.Job, Day: string(i.Day), Due: string(i.Due), Age: asOf.Since(from), Credit: i.Amount < 0,
		Amount: cur.Format(i.Amount.Abs()), Open: cur.Format(i.Open.Abs()), State: state, Settled: settled, Register: string(i.Register), Disputed: i.Disputed,
		Money: i.Amount < 0 && i.Nature == posting.Plain && i.Register != ledger.Payables, TaxInside: cur.Format(i.OpenTax.Abs())}
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
	Next string      `json:"next,omitempty" doc:"The cursor of what came before, when there is more"`
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
	KeptBack string      `json:"keptBack"`
	Items    []OpenItem  `json:"items,omitempty" doc:"Of a statement of open items, in place of the rows"`
}

// happenings turns the rows of a story into lines.
func happenings(rows []store.HappeningRow, asOf day.Day, cur money.Currency) []Happening {
	lines := make([]Happening, len(rows))
	for i, r := range rows {
		h := Happening{Day: string(r.Day), PaperID: r.PaperID, Number: r.Number, Kind: r.Kind, Text: r.Text, Amount: cur.Format(r.Amount), Held: cur.Format(r.Held), Balance: cur.Format(r.Balance)}
		switch r.Kind {
		case "set against":
			h.Text = "Set against " + r.Text
		case "undone":
			h.Text = "No longer set against " + r.Text
		default:
			h.State, h.Settled = stateOf(r.Kind, r.ItemAmount, r.ItemOpen, r.ReversedBy, r.WrittenOff)
			h.Overdue = r.ReversedBy == "" && r.Due != "" && r.Due < asOf
		}
		lines[i] = h
	}
	return lines
}

// storyInput says which stretch of a story is told.
type storyInput struct {
	ID     int64  `path:"id"`
	AsOf   string `query:"asOf" doc:"Through the end of this day; left out, all of it"`
	Before string `query:"before" doc:"The cursor that the stretch after it gave as next"`
	Limit  int    `query:"limit" minimum:"1" maximum:"1000" default:"150"`
}

// story answers the newest stretch of a story, or the one before a cursor.
func (s *Server) story(ctx context.Context, in *storyInput, jobID, partyID int64) (*struct{ Body Story }, error) {
	p, d, err := s.lookingBack(ctx, in.AsOf)
	if err != nil {
		return nil, err
	}
	of := store.StoryOf{JobID: jobID, PartyID: partyID, Through: endOfTime, Limit: in.Limit}
	if in.AsOf != "" {
		of.Through = d
	}
	if in.Before != "" {
		if of.Before, err = storyPlace(in.Before); err != nil {
			return nil, err
		}
	}
	rows, more, err := s.book.Read(ctx).Story(of)
	out := &struct{ Body Story }{Story{Rows: happenings(rows, d, p.cur)}}
	if more != nil {
		out.Body.Next = fmt.Sprintf("%s,%d,%d,%d", more.Day, more.Second, more.Seq, more.Balance)
	}
	return out, problem(err)
}

func storyPlace(text string) (store.StoryPlace, error) {
	var place store.StoryPlace
	parts := strings.Split(text, ",")
	if len(parts) == 4 {
		if d, err := day.Parse(parts[0]); err == nil {
			place.Day = d
			if _, err := fmt.Sscanf(strings.Join(parts[1:], " "), "%d %d %d", &place.Second, &place.Seq, &place.Balance); err == nil {
				return place, nil
			}
		}
	}
	return place, plain(400, "There is no such place in the story.")
}

// stateOf says in a word how a paper stands.
func stateOf(kind string, amount, open money.Amount, reversedKind string, writtenOff bool) (string, int) {
	switch {
	case reversedKind == string(posting.Returned):
		return "returned", 0
	case reversedKind != "":
		return "reversed", 0
	case writtenOff && open == 0:
		return "written off", 0
	}
	d, _ := posting.Describe(posting.Kind(kind))
	if d.Done != "" {
		return d.Done, 0
	}
	state, settled := reporting.Settlement(amount, open)
	if d.Credit() {
		state = map[string]string{"open": d.Words.Open, "part settled": d.Words.Part, "settled": d.Words.Settled}[state]
	}
	return state, settled
}

// idOnInput is a record as of a day.
type idOnInput struct {
	ID   int64  `path:"id"`
	AsOf string `query:"asOf" doc:"As it stood at the end of this day; left out, today"`
}

func (b CustomerBody) party(id int64) master.Party {
	return master.Party{ID: id, Number: b.Number, Name: b.Name, Contact: b.Contact, Email: b.Email, Phone: b.Phone, Address: b.Address, Town: b.Town,
		SiteAddress: b.SiteAddress, TaxNumber: b.TaxNumber, TermsID: b.Terms, Note: b.Note, Inactive: b.Inactive, IsCustomer: !b.NoCustomer, IsSupplier: b.Supplier || b.NoCustomer}
}

func (s *Server) customer(ctx context.Context, id int64, asOf string) (*struct{ Body Customer }, error) {
	p, d, err := s.lookingBack(ctx, asOf)
	if err != nil {
		return nil, err
	}
	r := s.book.Read(ctx)
	c, ok, err := store.Find[master.Party](r, id)
	if err != nil || !ok {
		return nil, orNotFound(err)
	}
	pos, err := r.Position(id, d)
	if err != nil {
		return nil, problem(err)
	}
	f := p.cur.Format
	out := &struct{ Body Customer }{Customer{ID: id, CustomerBody: CustomerBody{Version: c.Version, Number: c.Number, Name: c.Name, Contact: c.Contact, Email: c.Email, Phone: c.Phone,
		Address: c.Address, Town: c.Town, SiteAddress: c.SiteAddress, TaxNumber: c.TaxNumber, Terms: c.TermsID, Note: c.Note, Inactive: c.Inactive, Supplier: c.IsSupplier, NoCustomer: !c.IsCustomer},
		Position: Position{f(pos.OwesNow), f(pos.NotYetDue), f(pos.KeepsBack), f(pos.Held), f(pos.Unplaced), f(pos.Net()), f(pos.Disputed), f(pos.WeOwe)}, Jobs: []Named{}}}
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
	jobs, err := r.Jobs(store.JobFilter{PartyID: id}, store.Query{}, d)
	for _, j := range jobs.Rows {
		out.Body.Jobs = append(out.Body.Jobs, Named{j.ID, j.Number + " " + j.Name})
	}
	return out, problem(err)
}

func (s *Server) saveCustomer(ctx context.Context, id, version int64, b CustomerBody) (*struct{ Body Customer }, error) {
	party := b.party(id)
	party.Version = version
	if err := s.book.SaveCustomer(ctx, s.user(ctx), &party); err != nil {
		return nil, problem(err)
	}
	return s.customer(ctx, party.ID, "")
}

// benchInput narrows a bench down.
type benchInput struct {
	ID     int64   `path:"id"`
	AsOf   string  `query:"asOf" doc:"As it stood at the end of this day; left out, today"`
	Search string  `query:"q" maxLength:"100" doc:"Any part of a number, title or reference"`
	Job    int64   `query:"job"`
	Pinned []int64 `query:"pinned,explode" maxItems:"5000" doc:"Items that are told all the same"`
	Limit  int     `query:"limit" minimum:"1" maximum:"5000" default:"60" doc:"Items of a side"`
}

func (s *Server) bench(ctx context.Context, in *benchInput) (*struct{ Body Bench }, error) {
	p, d, err := s.lookingBack(ctx, in.AsOf)
	if err != nil {
		return nil, err
	}
	r := s.book.Read(ctx)
	items, err := r.Bench(in.ID, store.BenchFilter{AsOf: d, Search: in.Search, JobID: in.Job, Pinned: in.Pinned, Limit: in.Limit})
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
	recent, err := r.RecentAllocations(in.ID, d, 20)
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
	discount, until := settling.Earned(f, posting.Item{ID: posting.ItemRef(i.ID), Register: i.Register, Nature: i.Nature, PaperID: i.PaperID, Instalment: i.Instalment, Part: posting.Of(i.Amount, 0), Left: posting.Of(i.Open, i.OpenTax), EarlyUntil: i.EarlyUntil}, d)
	if discount > 0 {
		b.Early, b.EarlyDay = f.Currency().Format(discount), string(until)
	}
}

type statementInput struct {
	ID      int64  `path:"id"`
	From    string `query:"from"`
	Through string `query:"through"`
	Open    bool   `query:"open" doc:"Of open items, in place of a span"`
	Format  string `query:"format" enum:"csv,xlsx" default:"csv" doc:"Of the file"`
}

// statementFile answers the statement as a table: its opening, each movement
// and its closing, or each open item.
func (s *Server) statementFile(ctx context.Context, in *statementInput) (*fileOutput, error) {
	out, err := s.statement(ctx, in)
	if err != nil {
		return nil, err
	}
	b := out.Body
	if in.Open {
		t := formats.Table{Header: []string{"Day", "Paper", "What", "Due", "Amount", "Open"}}
		for _, i := range b.Items {
			t.Rows = append(t.Rows, []string{i.Day, i.Number, i.Title, i.Due, signed(func(i OpenItem) string { return i.Amount })(i), signed(func(i OpenItem) string { return i.Open })(i)})
		}
		t.Rows = append(t.Rows, []string{b.Through, "", "Balance", "", "", b.Closing})
		return fileOf(in.Format, "statement", t, map[int]bool{4: true, 5: true})
	}
	t := formats.Table{Header: []string{"Day", "Paper", "What", "Amount", "Balance"}, Rows: [][]string{{b.From, "", "Balance brought forward", "", b.Opening}}}
	for _, r := range b.Rows {
		t.Rows = append(t.Rows, []string{r.Day, r.Number, r.Text, r.Amount, r.Balance})
	}
	t.Rows = append(t.Rows, []string{b.Through, "", "Balance", "", b.Closing})
	return fileOf(in.Format, "statement", t, map[int]bool{3: true, 4: true})
}

func (s *Server) statement(ctx context.Context, in *statementInput) (*struct{ Body Statement }, error) {
	p, through, err := s.lookingBack(ctx, in.Through)
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
		of := store.StoryOf{PartyID: in.ID, From: from, Through: through}
		rows, _, err := r.Story(of)
		if err != nil {
			return err
		}
		closing, err := r.OpenOnDay(ledger.Receivables, in.ID, through)
		if err != nil {
			return err
		}
		opening := closing
		for _, row := range rows {
			opening -= row.Amount
		}
		ageing, err := r.Ageing(store.AgeingFilter{AsOf: through, Basis: reporting.ByDue, PartyID: in.ID})
		if err != nil {
			return err
		}
		held, kept := ageing.Total.Held, ageing.Total.KeptBack
		out.Body = Statement{Firm: firm.Name, Address: firm.Address, Customer: c.Name, To: c.Address, From: string(from), Through: string(through), Opening: p.cur.Format(opening),
			Rows: happenings(rows, through, p.cur), Closing: p.cur.Format(closing), Ageing: ageingBody(ageing, p.cur), Held: p.cur.Format(held), KeptBack: p.cur.Format(kept),
			Net: p.cur.Format(closing + kept - held)}
		if !in.Open {
			return nil
		}
		items, err := r.Bench(in.ID, store.BenchFilter{AsOf: through, Limit: 100_000})
		out.Body.Rows = []Happening{}
		for _, i := range items {
			if i.Register == ledger.Receivables {
				out.Body.Items = append(out.Body.Items, openItem(i.OpenItem, through, p.cur))
			}
		}
		return err
	})
	return out, problem(err)
}

// proposalInput is what is known of money that arrived.
type proposalInput struct {
	ID        int64  `path:"id"`
	Amount    string `query:"amount"`
	Reference string `query:"reference" maxLength:"200"`
	Job       int64  `query:"job"`
	Day       string `query:"day" doc:"The bank's day; left out, today"`
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

func (s *Server) proposal(ctx context.Context, in *proposalInput) (*struct {
	Body struct {
		Rows []Proposal `json:"rows"`
	}
}, error) {
	out := &struct {
		Body struct {
			Rows []Proposal `json:"rows"`
		}
	}{}
	out.Body.Rows = []Proposal{}
	p, d, err := s.lookingBack(ctx, in.Day)
	if err != nil {
		return nil, err
	}
	amount, err := p.cur.Understand(in.Amount)
	if err != nil {
		return out, nil
	}
	r := s.book.Read(ctx)
	facts, err := r.Facts(s.book.Today())
	if err != nil {
		return nil, problem(err)
	}
	open, err := r.OpenItemsOf(in.ID)
	if err != nil {
		return nil, problem(err)
	}
	for _, x := range settling.Propose(facts, open, settling.Arrival{Amount: amount, Reference: in.Reference, JobID: in.Job, Day: d}) {
		out.Body.Rows = append(out.Body.Rows, Proposal{int64(x.Item), string(x.Register), x.Number, p.cur.Format(x.Amount), x.Discount, x.Reason})
	}
	return out, problem(facts.Err())
}

func (s *Server) registerCustomers() {
	type input struct {
		ListInput
		State string `query:"state" enum:"owing,overdue,held,inactive,suppliers" doc:"Left out: those in use"`
	}
	type row = CustomerRow
	lister[input, store.PartyRow, row]{
		id: "customers", path: "/api/v1/customers", summary: "Customers with what they owe",
		head: func(in *input) ListInput { return in.ListInput },
		find: func(ctx context.Context, in *input, q store.Query) (store.Page[store.PartyRow], error) {
			d, err := s.asOf(in.AsOf)
			if err != nil {
				return store.Page[store.PartyRow]{}, err
			}
			return s.book.Read(ctx).Customers(store.PartyFilter{Search: in.Search, State: in.State, Suppliers: in.State == "suppliers"}, q, d)
		},
		row: func(r store.PartyRow, _ day.Day, cur money.Currency) row {
			return row{r.ID, r.Number, r.Name, r.Contact, r.Town, r.Phone, r.Email, r.Jobs, cur.Format(r.Owes), cur.Format(r.Overdue), cur.Format(r.Held), r.Inactive, r.Supplier, cur.Format(r.KeptBack), cur.Format(r.Unplaced)}
		},
		key:  func(r row) int64 { return r.ID },
		sums: []string{"owes", "overdue", "held", "keptBack", "unplaced"},
		columns: []col[row]{{"Number", func(r row) string { return r.Number }, false}, {"Name", func(r row) string { return r.Name }, false}, {"Contact", func(r row) string { return r.Contact }, false},
			{"Town", func(r row) string { return r.Town }, false}, {"Phone", func(r row) string { return r.Phone }, false}, {"Email", func(r row) string { return r.Email }, false},
			{"Jobs", func(r row) string { return strconv.FormatInt(r.Jobs, 10) }, true}, {"Owes", func(r row) string { return r.Owes }, true},
			{"Overdue", func(r row) string { return r.Overdue }, true}, {"Held", func(r row) string { return r.Held }, true},
			{"Keeps back", func(r row) string { return r.KeptBack }, true}, {"Not placed", func(r row) string { return r.Unplaced }, true}},
	}.register(s)
	huma.Register(s.api, describe("customer", "GET", "/api/v1/customers/{id}", "A customer"), func(ctx context.Context, in *idOnInput) (*struct{ Body Customer }, error) {
		return s.customer(ctx, in.ID, in.AsOf)
	})
	huma.Register(s.api, describe("create-customer", "POST", "/api/v1/customers", "Add a customer"), func(ctx context.Context, in *struct{ Body CustomerBody }) (*struct{ Body Customer }, error) {
		return s.saveCustomer(ctx, 0, 0, in.Body)
	})
	type change struct {
		ID int64 `path:"id"`
		IfMatch
		Body CustomerBody
	}
	huma.Register(s.api, describe("save-customer", "PUT", "/api/v1/customers/{id}", "Change a customer"), func(ctx context.Context, in *change) (*struct{ Body Customer }, error) {
		version, err := in.version()
		if err != nil {
			return nil, err
		}
		return s.saveCustomer(ctx, in.ID, version, in.Body)
	})
	huma.Register(s.api, describe("bench", "GET", "/api/v1/customers/{id}/bench", "What a customer owes and what can settle it"), s.bench)
	huma.Register(s.api, describe("customer-story", "GET", "/api/v1/customers/{id}/story", "What happened with a customer, the newest stretch first"), func(ctx context.Context, in *storyInput) (*struct{ Body Story }, error) {
		return s.story(ctx, in, 0, in.ID)
	})
	huma.Register(s.api, describe("proposal", "GET", "/api/v1/customers/{id}/proposal", "Where money may go, and why"), s.proposal)
	huma.Register(s.api, describe("statement-file", "GET", "/api/v1/customers/{id}/statement/file", "A customer's statement, as a file"), s.statementFile)
	huma.Register(s.api, describe("statement", "GET", "/api/v1/customers/{id}/statement", "A customer's statement for a span"), s.statement)
}

// endOfTime is after every day that a paper can bear.
const endOfTime = day.Day("9999-12-31")

// asOf reads a day of a query; empty is today.
func (s *Server) asOf(text string) (day.Day, error) { return s.dayOr(text, s.book.Today()) }

// dayOr reads a day of a query; empty is another.
func (s *Server) dayOr(text string, other day.Day) (day.Day, error) {
	if text == "" {
		return other, nil
	}
	d, err := day.Parse(text)
	if err != nil {
		return d, plain(400, sentence(err))
	}
	return d, nil
}
