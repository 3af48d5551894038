package web

import (
	"context"
	"errors"
	"fmt"
	"net/http"

	"cleantally/core/billing"
	"cleantally/core/day"
	"cleantally/core/master"
	"cleantally/core/money"
	"cleantally/core/posting"
	"cleantally/formats"
	"cleantally/store"

	"github.com/danielgtaylor/huma/v2"
)

// SupplierRow is a supplier in the list.
type SupplierRow struct {
	ID       int64  `json:"id"`
	Number   string `json:"number"`
	Name     string `json:"name"`
	Contact  string `json:"contact"`
	Town     string `json:"town"`
	Phone    string `json:"phone"`
	Email    string `json:"email"`
	Owe      string `json:"owe" doc:"Payables"`
	Overdue  string `json:"overdue"`
	Prepaid  string `json:"prepaid"`
	KeptBack string `json:"keptBack" doc:"Retention that we keep"`
	Unplaced string `json:"unplaced" doc:"Payments and credits that are set against nothing"`
	Inactive bool   `json:"inactive"`
	Customer bool   `json:"customer" doc:"Whether it is a customer too"`
}

// SupplierPosition is where we stand with a supplier.
type SupplierPosition struct {
	OweNow    string `json:"oweNow"`
	NotYetDue string `json:"notYetDue"`
	KeepBack  string `json:"keepBack"`
	Prepaid   string `json:"prepaid"`
	Unplaced  string `json:"unplaced"`
	NotBilled string `json:"notBilled" doc:"Goods that came and are not billed; outside the net"`
	Net       string `json:"net"`
}

// Supplier is a supplier with where we stand.
type Supplier struct {
	ID int64 `json:"id"`
	CustomerBody
	TermsName string           `json:"termsName"`
	Position  SupplierPosition `json:"position"`
	Orders    []PurchaseOrder  `json:"orders" doc:"With something to come or to be billed"`
}

// PurchaseOrder is a purchase order with what became of it.
type PurchaseOrder struct {
	ID         int64            `json:"id"`
	Number     string           `json:"number"`
	Day        string           `json:"day"`
	Expected   string           `json:"expected"`
	Late       bool             `json:"late"`
	Title      string           `json:"title"`
	SupplierID int64            `json:"supplierId"`
	Supplier   string           `json:"supplier"`
	Net        string           `json:"net"`
	Currency   string           `json:"currency,omitempty" doc:"Of its amounts, ISO 4217; left out, the firm's"`
	Lines      []OrderLine      `json:"lines"`
	Bill       []BoughtLineBody `json:"bill" doc:"The lines that bill what is left of it"`
}

func purchaseOrder(f posting.Facts, p posting.Paper, d day.Day, firm money.Currency) (out PurchaseOrder, left bool) {
	lines, cur := billing.OrderLines(f, p, d), firm.In(p.Currency)
	for _, l := range lines {
		left = left || l.LeftToDeliver > 0 || l.LeftToBill > 0
	}
	return PurchaseOrder{ID: p.ID, Number: p.Number, Day: string(p.Day), Expected: string(p.Due), Late: p.Due != "" && p.Due < d, Title: p.Title, SupplierID: p.PartyID, Supplier: p.PartyName, Net: cur.Format(p.Net), Currency: p.Currency, Lines: orderLines(lines, cur), Bill: leftToBill(f, p, lines, cur)}, left
}

// leftToBill are the lines that bill what is left of a purchase order, as they
// were ordered.
func leftToBill(f posting.Facts, p posting.Paper, lines []billing.OrderLine, cur money.Currency) []BoughtLineBody {
	out := []BoughtLineBody{}
	for _, l := range lines {
		if l.LeftToBill <= 0 {
			continue
		}
		b := BoughtLineBody{Text: l.Text, Unit: l.Unit, Article: l.ArticleID, Job: l.JobID, Quantity: dec(l.LeftToBill.Decimal()), UnitPrice: cur.Price(l.UnitPrice), DiscountPercent: percentOrNothing(l.DiscountPercent),
			TaxCode: l.TaxCodeID, Joined: l.Joined, PassOn: string(l.PassOn), Order: p.ID, OrderLine: l.Position}
		if a, _ := f.Article(l.ArticleID); l.PassOn != posting.OnBehalf && (!a.Stocked || l.JobID != 0) {
			b.Account = l.AccountID
		}
		if l.PassOn == posting.OurSupply {
			b.Markup = dec(l.Markup)
		}
		out = append(out, b)
	}
	return out
}

// purchaseOrders are those of a supplier, 0 for any, with something to come or
// to be billed.
func purchaseOrders(f *store.Facts, partyID int64, d day.Day, cur money.Currency) []PurchaseOrder {
	out := []PurchaseOrder{}
	for _, p := range f.OpenPurchaseOrders(partyID, d) {
		if o, left := purchaseOrder(f, p, d, cur); left {
			out = append(out, o)
		}
	}
	return out
}

func (s *Server) supplier(ctx context.Context, id int64, asOf string) (*struct{ Body Supplier }, error) {
	p, d, err := s.lookingBack(ctx, asOf)
	if err != nil {
		return nil, err
	}
	r := s.book.Read(ctx)
	c, ok, err := store.Find[master.Party](r, id)
	if err != nil || !ok || !c.IsSupplier {
		return nil, orNotFound(err)
	}
	pos, err1 := r.SupplierPosition(id, d)
	facts, err2 := r.Facts(s.book.Today())
	if err := errors.Join(err1, err2); err != nil {
		return nil, problem(err)
	}
	f := p.cur.Format
	out := &struct{ Body Supplier }{Supplier{ID: id, CustomerBody: customerBody(c), Orders: purchaseOrders(facts, id, d, p.cur),
		Position: SupplierPosition{f(pos.OweNow), f(pos.NotYetDue), f(pos.KeepBack), f(pos.Prepaid), f(pos.Unplaced), f(pos.NotBilled), f(pos.Net())}}}
	if t, ok := facts.Terms(c.TermsID); ok {
		out.Body.TermsName = t.Name
	}
	return out, problem(facts.Err())
}

// PayableBill is a bill that could be paid.
type PayableBill struct {
	OpenItem
	Paying   string `json:"paying" doc:"What is paid for it, less the discount"`
	HasIBAN  bool   `json:"hasIban" doc:"Whether it is known where the supplier is paid"`
	Withhold string `json:"withhold" doc:"Tax that we withhold of the supplier, percent; empty for none"`
}

// Payables are bills that could be paid, with what they come to.
type Payables struct {
	Rows   []PayableBill `json:"rows" doc:"By supplier and due day"`
	Paying string        `json:"paying"`
}

func (s *Server) payables(ctx context.Context, through string, bank int64) (*struct{ Body Payables }, error) {
	p, err := s.parser(ctx)
	if err != nil {
		return nil, err
	}
	today := s.book.Today()
	until, err := s.dayOr(through, today.Add(7))
	if err != nil {
		return nil, err
	}
	r := s.book.Read(ctx)
	rows, err1 := r.Payable(until, today)
	facts, err2 := r.Facts(today)
	if err := errors.Join(err1, err2); err != nil {
		return nil, problem(err)
	}
	out := &struct{ Body Payables }{Payables{Rows: []PayableBill{}}}
	var sum money.Amount
	code := p.ofBank(bank)
	firm := p.cur
	defer p.in(code)()
	for _, i := range rows {
		if i.Currency != code {
			continue
		}
		b := PayableBill{OpenItem: openItem(i.OpenItem, today, firm), HasIBAN: i.IBAN != ""}
		withDiscount(&b.OpenItem, i.OpenItem, facts, today)
		paying := -i.Open
		if code != "" {
			paying = -i.OwnOpen
		}
		if b.Early != "" {
			discount, _ := p.cur.Parse(b.Early)
			paying -= discount
		}
		party, _ := facts.Party(i.PartyID)
		b.Paying, b.Withhold = p.cur.Format(paying), percentOrNothing(party.Withhold)
		sum += paying
		out.Body.Rows = append(out.Body.Rows, b)
	}
	out.Body.Paying = p.cur.Format(sum)
	return out, problem(facts.Err())
}

// BankPayment is a supplier payment that can be written to a file for the bank.
type BankPayment struct {
	ID        int64  `json:"id"`
	Number    string `json:"number"`
	Day       string `json:"day"`
	Supplier  string `json:"supplier"`
	IBAN      string `json:"iban"`
	BankID    int64  `json:"bankId"`
	Bank      string `json:"bank"`
	Amount    string `json:"amount"`
	Currency  string `json:"currency,omitempty" doc:"Of the account, ISO 4217; empty for the firm's own"`
	Text      string `json:"text" doc:"What the supplier reads"`
	WrittenOn string `json:"writtenOn" doc:"When it was written to a file before"`
}

func (s *Server) bankPayments(ctx context.Context, ids []int64) ([]store.PaymentRow, money.Currency, error) {
	p, err := s.parser(ctx)
	if err != nil {
		return nil, money.Currency{}, err
	}
	rows, err := s.book.Read(ctx).Payments(ids)
	return rows, p.cur, problem(err)
}

type bankFileInput struct {
	Body struct {
		Papers []int64 `json:"papers" maxItems:"500" doc:"Supplier payments by transfer, of one bank account"`
		Day    string  `json:"day,omitempty" doc:"When the bank should carry them out; empty: today"`
		Again  bool    `json:"again,omitempty" doc:"Also those that were written to a file before"`
	}
}

// bankFile writes payments to a file for the bank and remembers which it wrote.
func (s *Server) bankFile(ctx context.Context, input *bankFileInput) (*fileOutput, error) {
	rows, cur, err := s.bankPayments(ctx, append([]int64{0}, input.Body.Papers...))
	if err != nil {
		return nil, err
	}
	on, err := s.dayOr(input.Body.Day, s.book.Today())
	if err != nil {
		return nil, err
	}
	firm, err := s.book.Read(ctx).Firm()
	if err != nil {
		return nil, problem(err)
	}
	file := formats.CreditTransfers{Firm: firm.Name, Day: on, Made: s.book.Now(), Currency: cur}
	var refused posting.Refusals
	for _, r := range rows {
		if r.WrittenOn != "" && !input.Body.Again {
			refused = append(refused, posting.Notice{Field: "papers", Rule: "written already", Limit: string(r.WrittenOn), Text: fmt.Sprintf("%s was written to a file on %s already. Say so if the bank never got it.", r.Number, r.WrittenOn.Show())})
		}
		if r.BankID != rows[0].BankID {
			refused = append(refused, posting.Notice{Field: "papers", Rule: "another account", Text: fmt.Sprintf("%s is paid from %s, %s from %s: a file is of one account.", r.Number, r.Bank, rows[0].Number, rows[0].Bank)})
		}
		if r.IBAN == "" {
			refused = append(refused, posting.Notice{Field: "papers", Rule: "missing", Text: fmt.Sprintf("Where %s is paid is not known. Write the IBAN at the supplier.", r.Party)})
		}
		file.Account, file.Currency = r.BankIBAN, in(cur, r.Currency)
		file.Payments = append(file.Payments, formats.CreditTransfer{ID: r.Number, Name: r.Party, IBAN: r.IBAN, BIC: r.BIC, Amount: r.Amount, Text: transferText(r)})
	}
	if len(rows) > 0 && file.Account == "" {
		refused = append(refused, posting.Notice{Field: "papers", Rule: "missing", Text: fmt.Sprintf("The bank account %s has no IBAN. Write it in its setup.", rows[0].Bank)})
	}
	if len(rows) == 0 || len(rows) != len(input.Body.Papers) {
		refused = append(refused, posting.Notice{Field: "papers", Rule: "missing", Text: "Choose supplier payments by transfer that stand."})
	}
	if len(refused) > 0 {
		return nil, refusedProblem(refused)
	}
	data, err := file.XML()
	if err == nil {
		err = s.book.WroteToBank(ctx, s.user(ctx), input.Body.Papers)
	}
	return &fileOutput{ContentType: "application/xml", Disposition: fmt.Sprintf(`attachment; filename="payments-%s.xml"`, on), Body: data}, problem(err)
}

// transferText is what the supplier reads of a payment: the numbers of its
// bills, at most as much as a transfer holds.
func transferText(r store.PaymentRow) string {
	text := r.Bills
	if r.Reference != "" {
		text = r.Reference
	}
	if text == "" {
		text = r.Number
	}
	return text[:min(len(text), 140)]
}

func (s *Server) registerSuppliers() {
	type input struct {
		ListInput
		State string `query:"state" enum:"owing,overdue,inactive" doc:"Left out: those in use"`
	}
	type row = SupplierRow
	lister[input, store.SupplierRow, row]{
		id: "suppliers", path: "/api/v1/suppliers", summary: "Suppliers with where we stand",
		head: func(in *input) ListInput { return in.ListInput },
		find: func(ctx context.Context, in *input, q store.Query) (store.Page[store.SupplierRow], error) {
			d, err := s.asOf(in.AsOf)
			if err != nil {
				return store.Page[store.SupplierRow]{}, err
			}
			return s.book.Read(ctx).Suppliers(store.PartyFilter{Search: in.Search, State: in.State}, q, d)
		},
		row: func(r store.SupplierRow, _ day.Day, cur money.Currency) row {
			return row{r.ID, r.Number, r.Name, r.Contact, r.Town, r.Phone, r.Email, cur.Format(r.Owe), cur.Format(r.Overdue), cur.Format(r.Prepaid), cur.Format(r.KeptBack), cur.Format(r.Unplaced), r.Inactive, r.Customer}
		},
		key:  func(r row) int64 { return r.ID },
		sums: []string{"owe", "overdue", "prepaid", "keptBack", "unplaced"},
		columns: []col[row]{{"Number", func(r row) string { return r.Number }, false}, {"Name", func(r row) string { return r.Name }, false}, {"Contact", func(r row) string { return r.Contact }, false}, {"Town", func(r row) string { return r.Town }, false},
			{"Phone", func(r row) string { return r.Phone }, false}, {"Email", func(r row) string { return r.Email }, false}, {"We owe", func(r row) string { return r.Owe }, true}, {"Overdue", func(r row) string { return r.Overdue }, true},
			{"Prepaid", func(r row) string { return r.Prepaid }, true}, {"We keep back", func(r row) string { return r.KeptBack }, true}, {"Not used", func(r row) string { return r.Unplaced }, true}},
	}.register(s)
	huma.Register(s.api, describe("supplier", "GET", "/api/v1/suppliers/{id}", "A supplier"), func(ctx context.Context, in *idOnInput) (*struct{ Body Supplier }, error) {
		return s.supplier(ctx, in.ID, in.AsOf)
	})
	huma.Register(s.api, describe("supplier-bench", "GET", "/api/v1/suppliers/{id}/bench", "What we owe a supplier and what can settle it"), func(ctx context.Context, in *benchInput) (*struct{ Body Bench }, error) {
		in.payable = true
		return s.bench(ctx, in)
	})
	huma.Register(s.api, describe("supplier-story", "GET", "/api/v1/suppliers/{id}/story", "What happened with a supplier, the newest stretch first"), func(ctx context.Context, in *storyInput) (*struct{ Body Story }, error) {
		in.payable = true
		return s.story(ctx, in, 0, in.ID)
	})
	huma.Register(s.api, describe("payables", "GET", "/api/v1/payables", "What could be paid: due through a day, or with a discount that ends by it"), func(ctx context.Context, in *struct {
		Through string `query:"through" doc:"Left out: within a week"`
		Bank    int64  `query:"bank" doc:"Out of which account: bills in its currency alone; left out, the firm's"`
	}) (*struct{ Body Payables }, error) {
		return s.payables(ctx, in.Through, in.Bank)
	})
	type ordersOutput struct {
		Rows []PurchaseOrder `json:"rows"`
	}
	huma.Register(s.api, describe("purchase-orders", "GET", "/api/v1/purchase-orders", "Purchase orders with something to come or to be billed"), func(ctx context.Context, _ *struct{}) (*struct{ Body ordersOutput }, error) {
		p, err := s.parser(ctx)
		if err != nil {
			return nil, err
		}
		facts, err := s.book.Read(ctx).Facts(s.book.Today())
		if err != nil {
			return nil, problem(err)
		}
		out := &struct{ Body ordersOutput }{ordersOutput{purchaseOrders(facts, 0, s.book.Today(), p.cur)}}
		return out, problem(facts.Err())
	})
	type bankOutput struct {
		Rows []BankPayment `json:"rows"`
	}
	huma.Register(s.api, describe("bank-payments", "GET", "/api/v1/bank-payments", "Supplier payments by transfer that no file for the bank holds yet, or those that are named"), func(ctx context.Context, in *struct {
		IDs []int64 `query:"ids,explode" maxItems:"500"`
	}) (*struct{ Body bankOutput }, error) {
		rows, cur, err := s.bankPayments(ctx, in.IDs)
		out := &struct{ Body bankOutput }{bankOutput{[]BankPayment{}}}
		for _, r := range rows {
			out.Body.Rows = append(out.Body.Rows, BankPayment{r.ID, r.Number, string(r.Day), r.Party, r.IBAN, r.BankID, r.Bank, cur.In(r.Currency).Format(r.Amount), r.Currency, transferText(r), string(r.WrittenOn)})
		}
		return out, err
	})
	op := describe("bank-file", "POST", "/api/v1/bank-payments/file", "Write payments to a file for the bank, by ISO 20022 (pain.001)")
	op.DefaultStatus = http.StatusOK
	huma.Register(s.api, op, s.bankFile)
}
