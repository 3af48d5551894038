package web

import (
	"context"
	"strconv"

	"cleantally/core/day"
	"cleantally/core/master"
	"cleantally/core/money"
	"cleantally/core/rights"
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
	Version     int64  `json:"version,omitempty" readOnly:"true" doc:"Counts its changes; If-Match needs it"`
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
	InvoiceNote string `json:"invoiceNote,omitempty" doc:"That a new invoice begins with, in place of the firm's"`
	Inactive    bool   `json:"inactive,omitempty"`
	Supplier    bool   `json:"supplier,omitempty" doc:"Whether we buy from it too"`
	NoCustomer  bool   `json:"noCustomer,omitempty" doc:"Whether it is a supplier alone"`
	IBAN        string `json:"iban,omitempty" doc:"Where a supplier is paid"`
	BIC         string `json:"bic,omitempty"`
	Group       int64  `json:"group,omitempty" doc:"Of customers with prices of their own"`
	Language    string `json:"language,omitempty" doc:"Of mails to them; empty for the firm's own"`
	Country     string `json:"country,omitempty" maxLength:"10" doc:"Two letters, for electronic invoices"`
	LeftAlone   bool   `json:"leftAlone,omitempty" doc:"No reminders go to them"`
	Currency    string `json:"currency,omitempty" maxLength:"3" doc:"That a new paper begins in, ISO 4217; empty: the firm's own"`
	CopiesTo    string `json:"copiesTo,omitempty" doc:"E-mail addresses that get a copy of what is mailed, with commas"`
	Letterhead  int64  `json:"letterhead,omitempty" doc:"Of papers to them; 0: that of each kind"`
	Withhold    string `json:"withhold,omitempty" doc:"Tax that we withhold of a subcontractor, percent"`
	KeepBack    string `json:"keepBack,omitempty" doc:"What we keep back of a subcontractor's bills, percent of the net"`
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

// CurrencyPosition is where a customer stands in one currency, in it.
type CurrencyPosition struct {
	Currency string `json:"currency"`
	Position
	Base string `json:"base" doc:"What is owed less credits, in the firm's currency"`
}

// Customer is a customer with where it stands.
type Customer struct {
	ID int64 `json:"id"`
	CustomerBody
	Printed    string             `json:"printed" doc:"The address as it stands on papers"`
	TermsName  string             `json:"termsName"`
	Position   Position           `json:"position"`
	ByCurrency []CurrencyPosition `json:"byCurrency,omitempty" doc:"Where it stands in each currency, where there are others than the firm's"`
	Jobs       []Named            `json:"jobs" doc:"Those not closed, the newest first"`
}

// Named is a record by its name.
type Named struct {
	ID   int64  `json:"id"`
	Name string `json:"name"`
}

// idOnInput is a record as of a day.
type idOnInput struct {
	ID   int64  `path:"id"`
	AsOf string `query:"asOf" doc:"As it stood at the end of this day; left out, today"`
}

// customerBody is what is kept of a customer or supplier.
func customerBody(c master.Party) CustomerBody {
	return CustomerBody{Version: c.Version, Number: c.Number, Name: c.Name, Contact: c.Contact, Email: c.Email, Phone: c.Phone, Address: c.Address, Town: c.Town, SiteAddress: c.SiteAddress, TaxNumber: c.TaxNumber, Terms: c.TermsID,
		Note: c.Note, InvoiceNote: c.InvoiceNote, Inactive: c.Inactive, Supplier: c.IsSupplier, NoCustomer: !c.IsCustomer, IBAN: c.IBAN, BIC: c.BIC, Group: c.GroupID, Letterhead: c.LetterheadID, Language: c.Language, CopiesTo: c.CopiesTo, Country: c.Country, LeftAlone: c.LeftAlone, Currency: c.Currency, Withhold: percentOrNothing(c.Withhold), KeepBack: percentOrNothing(c.KeepBack)}
}

func (b CustomerBody) party(p *parser, id int64) master.Party {
	return master.Party{IBAN: b.IBAN, BIC: b.BIC, GroupID: b.Group, LetterheadID: b.Letterhead, Language: b.Language, CopiesTo: b.CopiesTo, Country: b.Country, LeftAlone: b.LeftAlone, Currency: b.Currency, Withhold: p.decimal("withhold", b.Withhold, percentPlaces), KeepBack: p.decimal("keepBack", b.KeepBack, percentPlaces),
		ID: id, Number: b.Number, Name: b.Name, Contact: b.Contact, Email: b.Email, Phone: b.Phone, Address: b.Address, Town: b.Town,
		SiteAddress: b.SiteAddress, TaxNumber: b.TaxNumber, TermsID: b.Terms, Note: b.Note, InvoiceNote: b.InvoiceNote, Inactive: b.Inactive, IsCustomer: !b.NoCustomer, IsSupplier: b.Supplier || b.NoCustomer}
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
	out := &struct{ Body Customer }{Customer{ID: id, CustomerBody: customerBody(c),
		Printed: c.Printed(), Position: Position{f(pos.OwesNow), f(pos.NotYetDue), f(pos.KeepsBack), f(pos.Held), f(pos.Unplaced), f(pos.Net()), f(pos.Disputed), f(pos.WeOwe)}, Jobs: []Named{}}}
	by, err := r.PositionsByCurrency(id, d)
	if err != nil {
		return nil, problem(err)
	}
	for _, x := range by {
		f := in(p.cur, x.Currency).Format
		out.Body.ByCurrency = append(out.Body.ByCurrency, CurrencyPosition{x.Currency, Position{f(x.OwesNow), f(x.NotYetDue), f(x.KeepsBack), f(x.Held), f(x.Unplaced), f(x.Net()), f(0), f(x.WeOwe)}, p.cur.Format(x.Base)})
	}
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
	jobs, err := r.Jobs(store.JobFilter{PartyID: id}, store.Query{Bare: true}, d)
	for _, j := range jobs.Rows {
		out.Body.Jobs = append(out.Body.Jobs, Named{j.ID, j.Number + " " + j.Name})
	}
	return out, problem(err)
}

func (s *Server) saveCustomer(ctx context.Context, id, version int64, b CustomerBody) (*struct{ Body Customer }, error) {
	p, err := s.parser(ctx)
	if err != nil {
		return nil, err
	}
	party := b.party(p, id)
	if len(p.refusals) > 0 {
		return nil, refusedProblem(p.refusals)
	}
	party.Version = version
	if err := s.book.SaveCustomer(ctx, s.user(ctx), &party); err != nil {
		return nil, problem(err)
	}
	return s.customer(ctx, party.ID, "")
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
		cut: func(r *row) {
			*r = row{ID: r.ID, Number: r.Number, Name: r.Name, Town: r.Town, Owes: r.Owes, Overdue: r.Overdue}
		},
		key:  func(r row) int64 { return r.ID },
		sums: []string{"owes", "overdue", "held", "keptBack", "unplaced"},
		columns: []col[row]{{"Number", func(r row) string { return r.Number }, false}, {"Name", func(r row) string { return r.Name }, false}, {"Contact", func(r row) string { return r.Contact }, false},
			{"Town", func(r row) string { return r.Town }, false}, {"Phone", func(r row) string { return r.Phone }, false}, {"Email", func(r row) string { return r.Email }, false},
			{"Jobs", func(r row) string { return strconv.FormatInt(r.Jobs, 10) }, true}, {"Owes", func(r row) string { return r.Owes }, true},
			{"Overdue", func(r row) string { return r.Overdue }, true}, {"Held", func(r row) string { return r.Held }, true},
			{"Keeps back", func(r row) string { return r.KeptBack }, true}, {"Credits not used", func(r row) string { return r.Unplaced }, true}},
	}.register(s)
	huma.Register(s.api, describe("customer", "GET", "/api/v1/customers/{id}", "A customer"), func(ctx context.Context, in *idOnInput) (*struct{ Body Customer }, error) {
		out, err := s.customer(ctx, in.ID, in.AsOf)
		if err != nil {
			return nil, err
		}
		who, err := s.book.Person(ctx)
		if err == nil && !who.May(rights.SeePapers) {
			c := out.Body
			out.Body = Customer{ID: c.ID, CustomerBody: CustomerBody{Number: c.Number, Name: c.Name, Town: c.Town}, Jobs: c.Jobs, Position: Position{OwesNow: c.Position.OwesNow, NotYetDue: c.Position.NotYetDue}}
		}
		return out, problem(err)
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
	huma.Register(s.api, describe("statements", "GET", "/api/v1/statements", "Who gets a statement of a span, or of open items"), s.statementsFor)
	huma.Register(s.api, describe("statement-file", "GET", "/api/v1/customers/{id}/statement/file", "A customer's statement, as a file"), s.statementFile)
	huma.Register(s.api, describe("statement", "GET", "/api/v1/customers/{id}/statement", "A customer's statement for a span"), s.statement)
}

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
