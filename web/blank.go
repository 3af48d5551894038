package web

import (
	"cmp"
	"context"
	"encoding/json"
	"errors"
	"slices"
	"strings"

	"cleantally/core/day"
	"cleantally/core/ledger"
	"cleantally/core/money"
	"cleantally/core/posting"
	"cleantally/core/rights"
	"cleantally/core/settling"
	"cleantally/store"

	"github.com/danielgtaylor/huma/v2"
)

// Blank is what a new paper begins with, where nothing else is known.
type Blank struct {
	Day      string `json:"day" doc:"The business day"`
	Bank     int64  `json:"bank" doc:"The bank account that money moves on"`
	Method   string `json:"method"`
	Said     string `json:"said" doc:"What the bank's statement says of it: a reference"`
	Moved    string `json:"moved" doc:"What it says that came or went, above nil"`
	Went     bool   `json:"went" doc:"Whether it went"`
	Ledger   int64  `json:"ledger" doc:"The ledger account of the bank account that it names"`
	Charges  int64  `json:"charges" doc:"The ledger account of bank charges"`
	TaxCode  int64  `json:"taxCode" doc:"The firm's usual one"`
	Currency string `json:"currency,omitempty" doc:"Of the order or the quote that was named, where that is not the customer's"`

	Customer int64          `json:"customer" doc:"Of the items or the job that were named; else the one named"`
	Supplier int64          `json:"supplier" doc:"Whom one buys from, where that is known"`
	Job      int64          `json:"job"`
	Items    []OpenItem     `json:"items" doc:"The items that were named, as they stand now"`
	Order    *Order         `json:"order,omitempty" doc:"The order that was named, with what is left of it"`
	Through  string         `json:"through,omitempty" doc:"Of a job with a billing plan: what the contract comes to through the next stage, net"`
	Orders   []Order        `json:"orders" doc:"Of a job that is finished: its orders with something left to bill"`
	Credits  []int64        `json:"credits" doc:"Of a job that is finished: open items that could be set against its final invoice"`
	Requests []Named        `json:"requests" doc:"Of a job that is finished: requests that still ask for something"`
	Quote    *QuoteLeft     `json:"quote,omitempty" doc:"The quote that was named, as it was written, with what of it is not ordered"`
	Advances []AdvanceLeft  `json:"advances" doc:"What was billed in advance and is not deducted: of the order, else of the job"`
	Bought   *PurchaseOrder `json:"bought,omitempty" doc:"The purchase order that was named"`
	Costs    []Cost         `json:"costs" doc:"Those that are named; else of the job, or of the customer, what waits to be passed on and no draft has taken"`
	Payout   *PayoutTold    `json:"payout,omitempty" doc:"What the card gateway says that it paid out, where that was named"`
	Late     LateTerms      `json:"late" doc:"What is charged for what is overdue"`
	Draft    int64          `json:"draft" doc:"A draft of the kind that is about one of the items; 0 for none"`
}

// blankInput names what the place knows that one comes from.
type blankInput struct {
	Customer int64     `query:"customer"`
	Job      int64     `query:"job"`
	Items    []int64   `query:"items,explode" maxItems:"50"`
	Kind     DraftKind `query:"kind"`
	Order    int64     `query:"order" doc:"An order that it is about"`
	Finish   bool      `query:"finish" doc:"Of a job: all that its final invoice could take"`
	Costs    []int64   `query:"costs,explode" maxItems:"200" doc:"Costs that it is about, by their IDs in the list"`
	BankLine int64     `query:"bankLine" doc:"The line of a bank's statement that it explains"`
	Part     string    `query:"part" maxLength:"40" doc:"What of that line it explains, signed as the bank would say it; empty for all of it"`
	Told     int64     `query:"told" doc:"A payout that the card gateway told of"`
	Quote    int64     `query:"quote" doc:"A quote that is accepted, or taken the place of"`
}

func (s *Server) registerBlank() {
	huma.Register(s.api, describe("blank", "GET", "/api/v1/blank", "What a new paper begins with"), func(ctx context.Context, in *blankInput) (*struct{ Body Blank }, error) {
		p, err := s.parser(ctx)
		if err != nil {
			return nil, err
		}
		if in.BankLine != 0 || in.Told != 0 { // what the bank or the gateway says is the ledger's
			if err := s.book.Need(ctx, rights.SeeBooks); err != nil {
				return nil, problem(err)
			}
		}
		r := s.book.Read(ctx)
		firm, err := r.Firm()
		if err != nil {
			return nil, problem(err)
		}
		banks, err := store.All[ledger.BankAccount](r, "id")
		if err != nil {
			return nil, problem(err)
		}
		out := &struct{ Body Blank }{Blank{Day: string(s.book.Today()), Method: "transfer", TaxCode: firm.TaxCodeID, Customer: in.Customer, Job: in.Job, Items: []OpenItem{}, Advances: []AdvanceLeft{}, Orders: []Order{}, Credits: []int64{}, Requests: []Named{}, Costs: []Cost{}}}
		out.Body.Bank = firstBank(banks, in.Kind, "")
		if err := ofBankLine(r, &out.Body, in.BankLine, in.Part, p); err != nil {
			return nil, problem(err)
		}
		facts, err := r.Facts(s.book.Today())
		if err != nil {
			return nil, problem(err)
		}
		if j, ok := facts.Job(in.Job); ok && in.Customer == 0 {
			out.Body.Customer = j.PartyID
		}
		if out.Body.Late, err = lateTerms(r, p.cur); err != nil {
			return nil, problem(err)
		}
		if out.Body.Payout, err = payoutTold(r, in.Told, out.Body.Bank, p.cur); err != nil {
			return nil, problem(err)
		}
		s.blankOf(&out.Body, facts, in.Order, p.cur)
		if out.Body.Through, err = throughNext(r, facts, out.Body.Job, s.book.Today(), p.cur); err != nil {
			return nil, problem(err)
		}
		if err := s.finishing(&out.Body, r, facts, in, p.cur); err != nil {
			return nil, problem(err)
		}
		quoteOf(&out.Body, facts, in.Quote, p.cur)
		who, err := s.book.Person(ctx)
		if err != nil {
			return nil, problem(err)
		}
		if who.May(rights.SeeBooks) {
			if err := s.costsFor(&out.Body, r, in.Costs, p.cur); err != nil {
				return nil, problem(err)
			}
		}
		items, err := r.ItemsNamed(in.Items, s.book.Today())
		for _, i := range items {
			out.Body.Items = append(out.Body.Items, openItem(i, s.book.Today(), p.cur))
			if i.PartyID != 0 {
				out.Body.Customer = i.PartyID
			}
			item, _ := facts.Item(posting.ItemRef(i.ID))
			if method, bank := settling.CameBy(facts, item); in.Kind == DraftKind(posting.Refund) && in.BankLine == 0 && method != "" {
				out.Body.Method, out.Body.Bank = string(method), bank
			}
		}
		if err == nil && in.Kind != "" && len(in.Items) > 0 {
			out.Body.Draft, err = s.draftAbout(r, in.Kind, in.Items)
		}
		if facts.Abroad() && in.BankLine == 0 {
			inCurrency(&out.Body, banks, facts, in)
		}
		out.Body.Supplier = supplierOf(facts, out.Body.Customer, in.Job)
		return out, problem(errors.Join(err, facts.Err()))
	})
}

// firstBank is the account that money of a currency moves on where nothing else
// is said: the first in use, 0 for none.
func firstBank(banks []ledger.BankAccount, kind DraftKind, code string) int64 {
	for _, b := range banks {
		if !b.Inactive && b.Currency == code && !(b.Takings && kind == DraftKind(posting.Payout)) {
			return b.ID
		}
	}
	return 0
}

// inCurrency chooses an account in the currency of the items that were named,
// else of the customer, and says that of an order which is not the customer's.
func inCurrency(b *Blank, banks []ledger.BankAccount, f *store.Facts, in *blankInput) {
	who, _ := f.Party(b.Customer)
	code := who.Currency
	if len(b.Items) > 0 {
		code = b.Items[0].Currency
	}
	came := in.Kind == DraftKind(posting.Refund) && len(b.Items) > 0 // back to where it came from
	if at := firstBank(banks, in.Kind, code); at != 0 && !came {
		b.Bank = at
	}
	if of, ok := f.Paper(cmp.Or(in.Order, in.Quote)); ok && of.Currency != who.Currency {
		b.Currency = cmp.Or(of.Currency, f.Currency().Code)
	}
}

// ofBankLine fills in what a line of the bank's statement says: its day, the first
// open one where that is locked, where it moved, how much, and for what.
func ofBankLine(r *store.Reader, b *Blank, id int64, part string, p *parser) error {
	l, there, err := r.BankLineRow(id)
	if err != nil || !there {
		return err
	}
	cur := in(p.cur, p.ofBank(l.BankAccountID))
	if of, err := cur.Parse(part); err == nil && of != 0 {
		l.Amount = of
	}
	firm, err := r.Firm()
	if err != nil {
		return err
	}
	on := l.Day
	if on <= firm.LockedThrough {
		on = firm.LockedThrough.Add(1)
	}
	bank, _, err := store.Find[ledger.BankAccount](r, l.BankAccountID)
	if err != nil {
		return err
	}
	roles, err := r.Roles()
	if err != nil {
		return err
	}
	for _, of := range roles {
		if of.Role == ledger.BankCharges {
			b.Charges = of.AccountID
		}
	}
	b.Went, b.Ledger = l.Amount < 0, bank.AccountID
	b.Day, b.Bank, b.Method, b.Moved, b.Said = string(on), l.BankAccountID, "transfer", cur.Format(l.Amount.Abs()), cmp.Or(l.Reference, l.Text)
	if len(b.Said) > 100 {
		b.Said = strings.ToValidUTF8(b.Said[:100], "")
	}
	return nil
}

// supplierOf is whom one buys from, as far as the place knows: not the customer
// of the job that it is bought for.
func supplierOf(f posting.Facts, partyID, jobID int64) int64 {
	j, _ := f.Job(jobID)
	if p, ok := f.Party(partyID); ok && p.IsSupplier && j.PartyID != partyID {
		return partyID
	}
	return 0
}

// blankOf adds the order that a paper is about, and what was billed in advance.
func (s *Server) blankOf(b *Blank, f *store.Facts, order int64, cur money.Currency) {
	if p, ok := f.Paper(order); ok && p.Kind == posting.Order {
		o, _ := orderBody(f, p, s.book.Today(), cur)
		b.Order, b.Customer, b.Job = &o, p.PartyID, p.JobID
	}
	if p, ok := f.Paper(order); ok && p.Kind == posting.PurchaseOrder {
		o, _ := purchaseOrder(f, p, s.book.Today(), cur)
		b.Bought, b.Customer = &o, p.PartyID
	}
	if b.Job == 0 {
		return
	}
	b.Advances = advances(f, b.Customer, b.Job, s.book.Today(), cur, func(p posting.Paper) bool {
		return b.Order == nil || p.Currency == b.Order.Currency && (p.SourceID == b.Order.ID || p.SourceID == 0)
	})
}

// costsFor adds the costs that wait to be passed on.
func (s *Server) costsFor(b *Blank, r *store.Reader, chosen []int64, cur money.Currency) error {
	f, q := store.CostFilter{PartyID: b.Customer, JobID: b.Job, State: "waiting"}, store.Query{Limit: 200, IDs: chosen}
	if len(chosen) > 0 {
		f = store.CostFilter{}
	} else if b.Job == 0 && b.Customer == 0 {
		return nil
	}
	page, err := r.Costs(f, q, s.book.Today())
	for _, c := range page.Rows {
		if c.Left > c.OnDrafts || len(chosen) > 0 {
			b.Costs = append(b.Costs, costBody(c, s.book.Today(), cur))
		}
	}
	return err
}

// throughNext is what the contract of a job comes to through the next stage of
// its billing plan, in the contract's currency; "" without one.
func throughNext(r *store.Reader, f *store.Facts, jobID int64, d day.Day, cur money.Currency) (string, error) {
	x, err := planOf(r, f, jobID, d, cur)
	for _, s := range x.stages {
		if !s.Billed {
			return cmp.Or(s.Own, s.Through), err
		}
	}
	return "", err
}

// finishing adds all that the final invoice of a job could take, in the currency of
// its orders: what is ordered and not billed, the deposits that are held, and tells
// what is still asked for.
func (s *Server) finishing(b *Blank, r *store.Reader, f *store.Facts, in *blankInput, cur money.Currency) error {
	if !in.Finish || b.Job == 0 {
		return nil
	}
	today := s.book.Today()
	b.Orders, _ = orders(f, 0, b.Job, today, cur, false)
	who, _ := f.Party(b.Customer)
	code := who.Currency
	if len(b.Orders) > 0 {
		code = b.Orders[0].Currency
	}
	if code != who.Currency {
		b.Currency = cur.In(code).Code
	}
	b.Orders = slices.DeleteFunc(b.Orders, func(o Order) bool { return o.Currency != code })
	b.Advances = slices.DeleteFunc(b.Advances, func(a AdvanceLeft) bool { return a.Currency != code })
	for _, p := range f.Standing([]posting.Kind{posting.Request}, 0, b.Job, today) {
		left := p.Total
		for _, u := range f.Uses(p.ID) {
			left -= u.Amount.Own
		}
		if left > 0 {
			b.Requests = append(b.Requests, Named{p.ID, p.Number})
		}
	}
	items, err := r.Bench(b.Customer, store.BenchFilter{AsOf: today, JobID: b.Job, Limit: 500})
	for _, i := range items {
		if i.Side == store.Credits && i.JobID == b.Job && i.Nature == posting.Plain && i.Currency == code {
			b.Credits = append(b.Credits, i.ID)
		}
	}
	return err
}

// draftAbout returns the newest draft of a kind that is about one of the items:
// who comes by the same loose end again goes on with it.
func (s *Server) draftAbout(r *store.Reader, kind DraftKind, items []int64) (int64, error) {
	drafts, err := r.Drafts()
	var found int64
	for _, d := range drafts {
		if d.Kind != posting.Kind(kind) || d.ID < found {
			continue
		}
		about := itemsNamedIn(d.Body)
		if slices.ContainsFunc(items, func(i int64) bool { return slices.Contains(about, i) }) {
			found = d.ID
		}
	}
	return found, err
}

// itemFields are the fields of a body that name an open item.
var itemFields = []string{"item", "deposit", "from", "credit"}

// itemsNamedIn returns the open items that a draft's body names.
func itemsNamedIn(body string) []int64 {
	var v any
	if err := json.Unmarshal([]byte(body), &v); err != nil {
		return nil
	}
	var ids []int64
	var walk func(any)
	walk = func(v any) {
		switch v := v.(type) {
		case []any:
			for _, x := range v {
				walk(x)
			}
		case map[string]any:
			for name, x := range v {
				if n, ok := x.(float64); ok && n > 0 && slices.Contains(itemFields, name) {
					ids = append(ids, int64(n))
				} else {
					walk(x)
				}
			}
		}
	}
	walk(v)
	return ids
}

// settledMeanwhile tells whether a draft names open items and all of them are
// settled by now.
func (s *Server) settledMeanwhile(r *store.Reader, body string) (bool, error) {
	ids := itemsNamedIn(body)
	// What is written in place of another paper takes what that one lets go.
	if len(ids) == 0 || writesAgain(body) {
		return false, nil
	}
	items, err := r.ItemsNamed(ids, s.book.Today())
	return !slices.ContainsFunc(items, func(i store.OpenItem) bool { return i.Open != 0 }), err
}

// writesAgain tells whether a draft is written in place of a posted paper.
func writesAgain(body string) bool {
	var v struct{ Again struct{ Paper int64 } }
	return json.Unmarshal([]byte(body), &v) == nil && v.Again.Paper != 0
}
