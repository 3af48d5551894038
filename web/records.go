package web

import (
	"context"
	"errors"
	"fmt"
	"net/http"
	"strconv"
	"strings"

	"cleantally/core/day"
	"cleantally/core/ledger"
	"cleantally/core/master"
	"cleantally/core/money"
	"cleantally/core/posting"
	"cleantally/core/tax"
	"cleantally/store"

	"github.com/danielgtaylor/huma/v2"
)

// Article is what the firm sells or keeps in stock.
type Article struct {
	ID       int64  `json:"id,omitempty"`
	Version  int64  `json:"version,omitempty" readOnly:"true" doc:"Counts its changes; If-Match needs it"`
	Code     string `json:"code"`
	Name     string `json:"name"`
	Kind     string `json:"kind" enum:"service,material"`
	Unit     string `json:"unit,omitempty"`
	Price    string `json:"price,omitempty"`
	Account  int64  `json:"account,omitempty" doc:"0: the default of its kind"`
	TaxCode  int64  `json:"taxCode,omitempty" doc:"0: the firm's own"`
	Inactive bool   `json:"inactive,omitempty"`

	Stocked bool         `json:"stocked,omitempty" doc:"Whether it is kept in stock"`
	Serial  bool         `json:"serial,omitempty" doc:"Whether each piece bears a number"`
	Prices  []GroupPrice `json:"prices,omitempty" maxItems:"100" doc:"Of groups of customers, in place of the price"`

	Abroad []CurrencyPrice `json:"abroad,omitempty" maxItems:"100" doc:"On papers in other currencies, in place of any of these"`
}

// CurrencyPrice is what an article costs in another currency.
type CurrencyPrice struct {
	Currency string `json:"currency" maxLength:"3"`
	Price    string `json:"price"`
}

// GroupPrice is what an article costs the customers of a group.
type GroupPrice struct {
	Group int64  `json:"group"`
	Price string `json:"price"`
}

// Group is a group of customers who have prices of their own.
type Group struct {
	ID       int64  `json:"id,omitempty"`
	Version  int64  `json:"version,omitempty" readOnly:"true" doc:"Counts its changes; If-Match needs it"`
	Name     string `json:"name"`
	Inactive bool   `json:"inactive,omitempty"`
}

// TaxCode is a tax code with its rates.
type TaxCode struct {
	ID       int64     `json:"id,omitempty"`
	Version  int64     `json:"version,omitempty" readOnly:"true" doc:"Counts its changes; If-Match needs it"`
	Code     string    `json:"code"`
	Name     string    `json:"name,omitempty"`
	Kind     string    `json:"kind" enum:"charged,customer accounts"`
	Rates    []TaxRate `json:"rates" doc:"The newest first"`
	Category string    `json:"category,omitempty" enum:",S,Z,E,AE,K,G,O" doc:"In electronic invoices; empty: what follows from kind and rate"`
	Reason   string    `json:"reason,omitempty" doc:"Why it is not taxed; empty: the category's usual"`
	Inactive bool      `json:"inactive,omitempty"`
}

// TaxRate is a rate from a day on.
type TaxRate struct {
	Since   string `json:"since"`
	Percent string `json:"percent"`
}

// Terms are payment terms.
type Terms struct {
	ID          int64        `json:"id,omitempty"`
	Version     int64        `json:"version,omitempty" readOnly:"true" doc:"Counts its changes; If-Match needs it"`
	Name        string       `json:"name"`
	Kind        string       `json:"kind" enum:"on receipt,days,end of month,end of month plus days,instalments"`
	Days        int          `json:"days,omitempty"`
	Instalments []Instalment `json:"instalments,omitempty"`
	Inactive    bool         `json:"inactive,omitempty"`

	DiscountPercent string `json:"discountPercent,omitempty" doc:"Off the whole when it is paid early"`
	DiscountDays    int    `json:"discountDays,omitempty" doc:"Within so many days of the paper's"`
}

// Instalment is a part of terms in instalments.
type Instalment struct {
	Percent string `json:"percent"`
	Days    int    `json:"days"`
}

// Account is a ledger account.
type Account struct {
	ID       int64  `json:"id,omitempty"`
	Version  int64  `json:"version,omitempty" readOnly:"true" doc:"Counts its changes; If-Match needs it"`
	Number   string `json:"number"`
	Name     string `json:"name"`
	Type     string `json:"type" enum:"asset,contra asset,liability,equity,income,contra income,expense"`
	Role     string `json:"role,omitempty" readOnly:"true" doc:"What the rules call it"`
	Inactive bool   `json:"inactive,omitempty"`
}

// BankAccount is a place where money is.
type BankAccount struct {
	ID          int64  `json:"id,omitempty"`
	Version     int64  `json:"version,omitempty" readOnly:"true" doc:"Counts its changes; If-Match needs it"`
	Name        string `json:"name"`
	Account     int64  `json:"account,omitempty" doc:"Its ledger account; 0: that of a new one is new, another's stays"`
	IBAN        string `json:"iban,omitempty"`
	Inactive    bool   `json:"inactive,omitempty"`
	Cash        bool   `json:"cash,omitempty" doc:"A till: it never holds less than nothing"`
	Currency    string `json:"currency,omitempty" maxLength:"3" doc:"ISO 4217; empty: the firm's own"`
	ChequeForm  bool   `json:"chequeForm,omitempty" doc:"Its cheques have a form of their own, on which they are printed"`
	ChequeRight int    `json:"chequeRight,omitempty" doc:"Further right, in millimetres"`
	ChequeDown  int    `json:"chequeDown,omitempty" doc:"Further down, in millimetres"`
	Takings     bool   `json:"takings,omitempty" doc:"What is paid by card waits here until the gateway pays it out"`
}

// Records is every record of a kind.
type Records[T any] struct {
	Rows []T `json:"rows"`
}

// IfMatch is the version that a record had when it was read.
type IfMatch struct {
	Match string `header:"If-Match" doc:"The version that it had, in quotes"`
}

func (m IfMatch) version() (int64, error) {
	n, err := strconv.ParseInt(strings.Trim(m.Match, `"`), 10, 64)
	if err != nil {
		return 0, plain(http.StatusPreconditionRequired, "Saving a change needs the version that the record had, as If-Match.")
	}
	return n, nil
}

// records makes the operations of a kind of record: list, add, change. Saving
// answers the list anew. At sets the version that a record was read at.
func records[T any](s *Server, kind, what string, list func(context.Context) ([]T, error), at func(T, int64) T, save func(context.Context, int64, T, *parser) error) {
	type output = struct{ Body Records[T] }
	all := func(ctx context.Context) (*output, error) {
		rows, err := list(ctx)
		if rows == nil {
			rows = []T{}
		}
		return &output{Records[T]{rows}}, problem(err)
	}
	path := "/api/v1/" + kind
	huma.Register(s.api, describe(kind, "GET", path, "Every "+what), func(ctx context.Context, _ *struct{}) (*output, error) { return all(ctx) })
	put := func(ctx context.Context, id int64, rec T) (*output, error) {
		p, err := s.parser(ctx)
		if err != nil {
			return nil, err
		}
		if err := save(ctx, id, rec, p); err != nil {
			return nil, problem(err)
		}
		return all(ctx)
	}
	huma.Register(s.api, describe("create-"+kind, "POST", path, "Add one "+what), func(ctx context.Context, in *struct{ Body T }) (*output, error) {
		return put(ctx, 0, in.Body)
	})
	type change struct {
		ID int64 `path:"id"`
		IfMatch
		Body T
	}
	huma.Register(s.api, describe("save-"+kind, "PUT", path+"/{id}", "Change one "+what), func(ctx context.Context, in *change) (*output, error) {
		version, err := in.version()
		if err != nil {
			return nil, err
		}
		if in.ID <= 0 {
			return nil, errNotFound
		}
		return put(ctx, in.ID, at(in.Body, version))
	})
}

func (s *Server) registerRecords() {
	records(s, "articles", "article", s.articles, func(r Article, v int64) Article { r.Version = v; return r }, func(ctx context.Context, id int64, i Article, p *parser) error {
		rec := master.Article{ID: id, Version: i.Version, Code: i.Code, Name: i.Name, Kind: master.ArticleKind(i.Kind), Unit: i.Unit, Price: p.decimal("price", i.Price, pricePlaces), AccountID: i.Account, TaxCodeID: i.TaxCode, Inactive: i.Inactive, Stocked: i.Stocked, Serial: i.Serial}
		for n, g := range i.Prices {
			rec.Prices = append(rec.Prices, master.Price{GroupID: g.Group, Price: p.decimal(fmt.Sprintf("prices[%d].price", n), g.Price, pricePlaces)})
		}
		for n, x := range i.Abroad {
			rec.Abroad = append(rec.Abroad, master.CurrencyPrice{Currency: x.Currency, Price: p.decimal(fmt.Sprintf("abroad[%d].price", n), x.Price, pricePlaces)})
		}
		return p.or(func() error { return s.book.SaveArticle(ctx, s.user(ctx), &rec) })
	})
	records(s, "groups", "group of customers", s.groups, func(r Group, v int64) Group { r.Version = v; return r }, func(ctx context.Context, id int64, g Group, _ *parser) error {
		return s.book.SaveGroup(ctx, s.user(ctx), &master.Group{ID: id, Version: g.Version, Name: g.Name, Inactive: g.Inactive})
	})
	records(s, "taxcodes", "tax code", s.taxCodes, func(r TaxCode, v int64) TaxCode { r.Version = v; return r }, func(ctx context.Context, id int64, c TaxCode, p *parser) error {
		rec := tax.Code{ID: id, Version: c.Version, Code: c.Code, Name: c.Name, Kind: tax.Kind(c.Kind), Category: c.Category, Reason: c.Reason, Inactive: c.Inactive}
		var rates []tax.Rate
		for _, r := range c.Rates {
			rates = append(rates, tax.Rate{Since: p.day("rates", r.Since), Percent: p.decimal("rates", r.Percent, percentPlaces)})
		}
		return p.or(func() error { return s.book.SaveTaxCode(ctx, s.user(ctx), &rec, rates) })
	})
	records(s, "terms", "kind of payment terms", s.terms, func(r Terms, v int64) Terms { r.Version = v; return r }, func(ctx context.Context, id int64, t Terms, p *parser) error {
		rec := master.Terms{ID: id, Version: t.Version, Name: t.Name, Kind: master.TermsKind(t.Kind), Days: t.Days, Inactive: t.Inactive, DiscountPercent: p.decimal("discount", t.DiscountPercent, percentPlaces), DiscountDays: t.DiscountDays}
		for _, i := range t.Instalments {
			rec.Instalments = append(rec.Instalments, master.Instalment{Percent: p.decimal("instalments", i.Percent, percentPlaces), Days: i.Days})
		}
		return p.or(func() error { return s.book.SaveTerms(ctx, s.user(ctx), &rec) })
	})
	records(s, "accounts", "account", s.accounts, func(r Account, v int64) Account { r.Version = v; return r }, func(ctx context.Context, id int64, a Account, p *parser) error {
		rec := ledger.Account{ID: id, Version: a.Version, Number: a.Number, Name: a.Name, Type: ledger.Type(a.Type), Inactive: a.Inactive}
		return s.book.SaveAccount(ctx, s.user(ctx), &rec)
	})
	records(s, "banks", "bank account", s.banks, func(r BankAccount, v int64) BankAccount { r.Version = v; return r }, func(ctx context.Context, id int64, a BankAccount, p *parser) error {
		rec := ledger.BankAccount{ID: id, Version: a.Version, Name: a.Name, AccountID: a.Account, IBAN: a.IBAN, Inactive: a.Inactive, Cash: a.Cash, Takings: a.Takings, Currency: a.Currency, ChequeForm: a.ChequeForm, ChequeRight: a.ChequeRight, ChequeDown: a.ChequeDown}
		return s.book.SaveBankAccount(ctx, s.user(ctx), &rec)
	})
}

// or runs do unless something could not be read.
func (p *parser) or(do func() error) error {
	if len(p.refusals) > 0 {
		return p.refusals
	}
	return do()
}

func (s *Server) articles(ctx context.Context) ([]Article, error) {
	cur, err := s.book.Currency(ctx)
	if err != nil {
		return nil, err
	}
	rows, err1 := store.All[master.Article](s.book.Read(ctx), "code")
	prices, err2 := s.book.Read(ctx).Prices()
	abroad, err3 := s.book.Read(ctx).CurrencyPrices()
	var out []Article
	for _, i := range rows {
		b := Article{ID: i.ID, Version: i.Version, Code: i.Code, Name: i.Name, Kind: string(i.Kind), Unit: i.Unit, Price: cur.Price(i.Price), Account: i.AccountID, TaxCode: i.TaxCodeID, Inactive: i.Inactive, Stocked: i.Stocked, Serial: i.Serial}
		for _, p := range prices[i.ID] {
			b.Prices = append(b.Prices, GroupPrice{p.GroupID, cur.Price(p.Price)})
		}
		for _, p := range abroad[i.ID] {
			b.Abroad = append(b.Abroad, CurrencyPrice{p.Currency, in(cur, p.Currency).Price(p.Price)})
		}
		out = append(out, b)
	}
	return out, errors.Join(err1, err2, err3)
}

func (s *Server) groups(ctx context.Context) ([]Group, error) {
	rows, err := store.All[master.Group](s.book.Read(ctx), "name")
	var out []Group
	for _, g := range rows {
		out = append(out, Group{g.ID, g.Version, g.Name, g.Inactive})
	}
	return out, err
}

func (s *Server) taxCodes(ctx context.Context) ([]TaxCode, error) {
	r := s.book.Read(ctx)
	rows, err := r.TaxCodes()
	if err != nil {
		return nil, err
	}
	rates, err := r.TaxRates()
	var out []TaxCode
	for _, c := range rows {
		body := TaxCode{ID: c.ID, Version: c.Version, Code: c.Code, Name: c.Name, Kind: string(c.Kind), Category: c.Category, Reason: c.Reason, Inactive: c.Inactive, Rates: []TaxRate{}}
		for _, rate := range rates {
			if rate.TaxCodeID == c.ID {
				body.Rates = append(body.Rates, TaxRate{string(rate.Since), dec(rate.Percent)})
			}
		}
		out = append(out, body)
	}
	return out, err
}

func (s *Server) terms(ctx context.Context) ([]Terms, error) {
	rows, err := s.book.Read(ctx).TermsWithParts()
	var out []Terms
	for _, t := range rows {
		body := Terms{ID: t.ID, Version: t.Version, Name: t.Name, Kind: string(t.Kind), Days: t.Days, Inactive: t.Inactive, DiscountPercent: percentOrNothing(t.DiscountPercent), DiscountDays: t.DiscountDays}
		for _, i := range t.Instalments {
			body.Instalments = append(body.Instalments, Instalment{dec(i.Percent), i.Days})
		}
		out = append(out, body)
	}
	return out, err
}

func (s *Server) accounts(ctx context.Context) ([]Account, error) {
	r := s.book.Read(ctx)
	rows, err := store.All[ledger.Account](r, "number")
	if err != nil {
		return nil, err
	}
	roles, err := r.Roles()
	var out []Account
	for _, a := range rows {
		body := Account{a.ID, a.Version, a.Number, a.Name, string(a.Type), "", a.Inactive}
		for _, role := range roles {
			if role.AccountID == a.ID {
				body.Role = string(role.Role)
			}
		}
		out = append(out, body)
	}
	return out, err
}

func (s *Server) banks(ctx context.Context) ([]BankAccount, error) {
	rows, err := store.All[ledger.BankAccount](s.book.Read(ctx), "id")
	var out []BankAccount
	for _, a := range rows {
		out = append(out, BankAccount{ID: a.ID, Version: a.Version, Name: a.Name, Account: a.AccountID, IBAN: a.IBAN, Inactive: a.Inactive, Cash: a.Cash, Takings: a.Takings, Currency: a.Currency, ChequeForm: a.ChequeForm, ChequeRight: a.ChequeRight, ChequeDown: a.ChequeDown})
	}
	return out, err
}

// NumberStyle is how a firm writes numbers: an enumeration whose values hold commas.
type NumberStyle string

// Schema lists the values.
func (NumberStyle) Schema(huma.Registry) *huma.Schema {
	s := &huma.Schema{Type: huma.TypeString}
	for _, m := range money.AllMarks {
		s.Enum = append(s.Enum, string(m))
	}
	return s
}

// Firm is what the firm says of itself, with what else stands in its setup.
type Firm struct {
	Version       int64             `json:"version,omitempty" readOnly:"true" doc:"Counts its changes; If-Match needs it"`
	Name          string            `json:"name"`
	Address       string            `json:"address,omitempty"`
	Email         string            `json:"email,omitempty"`
	Phone         string            `json:"phone,omitempty"`
	TaxNumber     string            `json:"taxNumber,omitempty"`
	Country       string            `json:"country,omitempty" maxLength:"10" doc:"Two letters, for electronic invoices"`
	Terms         int64             `json:"terms"`
	TaxCode       int64             `json:"taxCode" doc:"The code of a new line"`
	TaxDue        string            `json:"taxDue,omitempty" enum:"billed,advances paid,paid" doc:"When output tax falls due: when it is billed; of deposit invoices alone when they are paid; when it is paid"`
	DateStyle     string            `json:"dateStyle,omitempty" enum:"20 Nov 2026,20.11.2026,20/11/2026,11/20/2026,2026-11-20" doc:"How it writes days"`
	NumberStyle   NumberStyle       `json:"numberStyle,omitempty" doc:"How it writes numbers"`
	InvoiceNote   string            `json:"invoiceNote,omitempty" doc:"That a new invoice begins with"`
	UnusedFields  []string          `json:"unusedFields,omitempty" doc:"Of an invoice: those that it does not use, so that they are not shown"`
	Currency      string            `json:"currency,omitempty" readOnly:"true"`
	LockedThrough string            `json:"lockedThrough,omitempty" readOnly:"true"`
	Numbering     map[string]string `json:"numbering,omitempty" readOnly:"true" doc:"Format by kind of paper"`
	Roles         map[string]int64  `json:"roles,omitempty" readOnly:"true" doc:"Account by role"`
}

func (s *Server) firm(ctx context.Context) (*struct{ Body Firm }, error) {
	r := s.book.Read(ctx)
	f, err := r.Firm()
	if err != nil {
		return nil, problem(err)
	}
	out := &struct{ Body Firm }{Firm{Version: f.Version, Name: f.Name, Address: f.Address, Email: f.Email, Phone: f.Phone, TaxNumber: f.TaxNumber, Country: f.Country, Terms: f.TermsID, TaxCode: f.TaxCodeID, TaxDue: f.TaxDue, DateStyle: string(f.DateStyle), NumberStyle: NumberStyle(f.NumberStyle), InvoiceNote: f.InvoiceNote, UnusedFields: f.Unused(),
		Currency: f.Currency, LockedThrough: string(f.LockedThrough), Numbering: map[string]string{}, Roles: map[string]int64{}}}
	numberings, err := r.Numberings()
	if err != nil {
		return nil, problem(err)
	}
	for _, n := range numberings {
		out.Body.Numbering[string(n.Kind)] = n.Format
	}
	roles, err := r.Roles()
	for _, role := range roles {
		out.Body.Roles[string(role.Role)] = role.AccountID
	}
	return out, problem(err)
}

func (s *Server) registerFirm() {
	huma.Register(s.api, describe("firm", "GET", "/api/v1/firm", "The firm and its setup"), func(ctx context.Context, _ *struct{}) (*struct{ Body Firm }, error) {
		return s.firm(ctx)
	})
	huma.Register(s.api, describe("save-firm", "PUT", "/api/v1/firm", "Change the firm's details"), func(ctx context.Context, in *struct {
		IfMatch
		Body Firm
	}) (*struct{ Body Firm }, error) {
		b := in.Body
		version, err := in.version()
		if err != nil {
			return nil, err
		}
		if err := s.book.SaveFirm(ctx, s.user(ctx), store.Firm{Version: version, Name: b.Name, Address: b.Address, Email: b.Email, Phone: b.Phone, TaxNumber: b.TaxNumber, Country: b.Country, TermsID: b.Terms, TaxCodeID: b.TaxCode, TaxDue: b.TaxDue, DateStyle: day.Style(b.DateStyle), NumberStyle: money.Marks(b.NumberStyle), InvoiceNote: b.InvoiceNote, UnusedFields: store.UnusedFields(b.UnusedFields)}); err != nil {
			return nil, problem(err)
		}
		return s.firm(ctx)
	})
	type numbering struct {
		Kind string `path:"kind"`
		Body struct {
			Format string `json:"format"`
		}
	}
	huma.Register(s.api, describe("save-numbering", "PUT", "/api/v1/numbering/{kind}", "Change how a kind of paper is numbered"), func(ctx context.Context, in *numbering) (*struct{ Body Firm }, error) {
		if err := s.book.SaveNumbering(ctx, s.user(ctx), store.NumberingOf{Kind: posting.Kind(in.Kind), Format: in.Body.Format}); err != nil {
			return nil, problem(err)
		}
		return s.firm(ctx)
	})
	type role struct {
		Role string `path:"role"`
		Body struct {
			Account int64 `json:"account"`
		}
	}
	huma.Register(s.api, describe("save-role", "PUT", "/api/v1/roles/{role}", "Point a role at another account"), func(ctx context.Context, in *role) (*struct{ Body Firm }, error) {
		if err := s.book.SetRole(ctx, s.user(ctx), ledger.Role(in.Role), in.Body.Account); err != nil {
			return nil, problem(err)
		}
		return s.firm(ctx)
	})
}
