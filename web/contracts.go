package web

import (
	"context"
	"fmt"

	"cleantally/core/billing"
	"cleantally/core/day"
	"cleantally/core/money"
	"cleantally/core/posting"
	"cleantally/core/settling"
	"cleantally/store"

	"github.com/danielgtaylor/huma/v2"
)

// OrderBody is what a customer ordered, as the API takes it.
type OrderBody struct {
	InCurrency
	Number          string            `json:"number,omitempty" doc:"Empty to be given the next"`
	Customer        int64             `json:"customer,omitempty"`
	Job             int64             `json:"job,omitempty"`
	Day             string            `json:"day,omitempty"`
	Quote           int64             `json:"quote,omitempty" doc:"The quote that was accepted"`
	Reference       string            `json:"reference,omitempty" maxLength:"200" doc:"The customer's own order number"`
	Note            string            `json:"note,omitempty" maxLength:"4000"`
	Includes        bool              `json:"includes,omitempty" doc:"Prices include tax"`
	DiscountPercent string            `json:"discountPercent,omitempty"`
	Discount        string            `json:"discount,omitempty"`
	Lines           []InvoiceLineBody `json:"lines,omitempty" maxItems:"500"`
}

func (b OrderBody) command(p *parser) posting.Command {
	defer p.begin(&b.InCurrency, b.Quote, b.Customer)()
	o := billing.Order{Currency: b.Currency, Rate: p.rate("rate", b.Rate), Number: b.Number, PartyID: b.Customer, JobID: b.Job, Day: p.day("day", b.Day), QuoteID: b.Quote, Reference: b.Reference, Note: b.Note, Includes: b.Includes,
		DiscountPercent: p.decimal("discount", b.DiscountPercent, percentPlaces), Discount: p.amount("discount", b.Discount)}
	for i, l := range b.Lines {
		o.Lines = append(o.Lines, l.line(p, i))
	}
	return o
}

// DepositInvoiceBody bills in advance, as the API takes it.
type DepositInvoiceBody struct {
	InCurrency
	Number    string            `json:"number,omitempty" doc:"Empty to be given the next"`
	Customer  int64             `json:"customer,omitempty"`
	Job       int64             `json:"job,omitempty"`
	Day       string            `json:"day,omitempty"`
	Terms     int64             `json:"terms,omitempty" doc:"0: the customer's, else the firm's"`
	Due       string            `json:"due,omitempty" doc:"A due day that is named; empty to count it by the terms"`
	Reference string            `json:"reference,omitempty" maxLength:"200"`
	Note      string            `json:"note,omitempty" maxLength:"4000"`
	Order     int64             `json:"order,omitempty" doc:"The order that it bills in advance"`
	Percent   string            `json:"percent,omitempty" doc:"A share of the order"`
	Amount    string            `json:"amount,omitempty" doc:"Or an amount of it, with its tax"`
	Lines     []AdvanceLineBody `json:"lines,omitempty" maxItems:"50" doc:"Without an order: one for each tax code"`
}

// AdvanceLineBody is an amount that is billed in advance by one tax code.
type AdvanceLineBody struct {
	Text    string `json:"text,omitempty" maxLength:"2000"`
	Net     string `json:"net,omitempty"`
	TaxCode int64  `json:"taxCode,omitempty"`
}

func (b DepositInvoiceBody) command(p *parser) posting.Command {
	defer p.begin(&b.InCurrency, b.Order, b.Customer)()
	v := billing.DepositInvoice{Currency: b.Currency, Rate: p.rate("rate", b.Rate), Number: b.Number, PartyID: b.Customer, JobID: b.Job, Day: p.day("day", b.Day), TermsID: b.Terms, Due: p.day("due", b.Due), Reference: b.Reference, Note: b.Note,
		OrderID: b.Order, Percent: p.decimal("percent", b.Percent, percentPlaces), Amount: p.amount("amount", b.Amount)}
	for i, l := range b.Lines {
		v.Lines = append(v.Lines, billing.AdvanceLine{Text: l.Text, Net: p.amount(fmt.Sprintf("lines[%d].net", i), l.Net), TaxCodeID: l.TaxCode})
	}
	return v
}

// ReleaseBody makes retention payable, as the API takes it.
type ReleaseBody struct {
	Number    string      `json:"number,omitempty" doc:"Empty to be given the next"`
	Customer  int64       `json:"customer,omitempty"`
	Day       string      `json:"day,omitempty"`
	Terms     int64       `json:"terms,omitempty" doc:"0: the customer's, else the firm's"`
	Due       string      `json:"due,omitempty"`
	Reference string      `json:"reference,omitempty" maxLength:"200"`
	Note      string      `json:"note,omitempty" maxLength:"4000"`
	Items     []ShareBody `json:"items,omitempty" maxItems:"500" doc:"What is released of each item that is kept back; without an amount all that is held"`
	Amount    string      `json:"amount,omitempty" doc:"In place of items: so much, oldest first"`
	Job       int64       `json:"job,omitempty" doc:"Of an amount: of this job alone"`
	Currency  string      `json:"currency,omitempty" maxLength:"3" doc:"Of an amount, ISO 4217; empty: the firm's own"`
}

func (b ReleaseBody) command(p *parser) posting.Command {
	return settling.Release{Number: b.Number, PartyID: b.Customer, Day: p.day("day", b.Day), TermsID: b.Terms, Due: p.day("due", b.Due), Reference: b.Reference, Note: b.Note,
		Items: shares(p, "items", b.Items), Amount: p.amountIn(b.Currency, "amount", b.Amount), JobID: b.Job, Currency: b.Currency}
}

// GuaranteeBody is what stands in the place of retention, as the API takes it.
type GuaranteeBody struct {
	Number    string `json:"number,omitempty" doc:"Empty to be given the next"`
	Customer  int64  `json:"customer,omitempty"`
	Job       int64  `json:"job,omitempty"`
	Day       string `json:"day,omitempty"`
	LastDay   string `json:"lastDay,omitempty"`
	Issuer    string `json:"issuer,omitempty" maxLength:"200" doc:"Who promises it"`
	Reference string `json:"reference,omitempty" maxLength:"200" doc:"The issuer's own number"`
	Note      string `json:"note,omitempty" maxLength:"4000"`
	Amount    string `json:"amount,omitempty"`
	Release   bool   `json:"release,omitempty" doc:"What is kept back is released, the oldest first, up to the amount"`
}

func (b GuaranteeBody) command(p *parser) posting.Command {
	return settling.Guarantee{Number: b.Number, PartyID: b.Customer, JobID: b.Job, Day: p.day("day", b.Day), LastDay: p.day("lastDay", b.LastDay), Issuer: b.Issuer, Reference: b.Reference, Note: b.Note,
		Amount: p.amount("amount", b.Amount), Release: b.Release}
}

func (c copier) guarantee(v settling.Guarantee, _ posting.Paper) GuaranteeBody {
	return GuaranteeBody{Customer: v.PartyID, Job: v.JobID, Day: c.day(string(v.Day)), LastDay: string(v.LastDay), Issuer: v.Issuer, Reference: v.Reference, Note: v.Note, Amount: c.amount(v.Amount), Release: v.Release && c.again}
}

// OrderLine is a line of an order and what became of it.
type OrderLine struct {
	Position      int    `json:"position"`
	Text          string `json:"text"`
	Unit          string `json:"unit"`
	Article       int64  `json:"article"`
	UnitPrice     string `json:"unitPrice"`
	TaxCode       int64  `json:"taxCode"`
	Account       int64  `json:"account"`
	Ordered       string `json:"ordered"`
	Delivered     string `json:"delivered"`
	Billed        string `json:"billed" doc:"Less what was credited"`
	Cancelled     string `json:"cancelled"`
	LeftToDeliver string `json:"leftToDeliver"`
	LeftToBill    string `json:"leftToBill"`
	LeftToCancel  string `json:"leftToCancel"`
	Left          string `json:"left" doc:"Net, to be billed"`
	Settled       int    `json:"settled" doc:"Share billed, percent"`
}

// Order is an order with what is left of it.
type Order struct {
	ID         int64       `json:"id"`
	Number     string      `json:"number"`
	Day        string      `json:"day"`
	Reference  string      `json:"reference"`
	Title      string      `json:"title"`
	CustomerID int64       `json:"customerId"`
	Customer   string      `json:"customer"`
	JobID      int64       `json:"jobId"`
	Job        string      `json:"job"`
	Net        string      `json:"net"`
	Left       string      `json:"left" doc:"Net, to be billed"`
	Currency   string      `json:"currency,omitempty" doc:"Of its amounts, ISO 4217; left out, the firm's"`
	Lines      []OrderLine `json:"lines"`
}

// AdvanceLeft is a deposit invoice with what of it is left to deduct.
type AdvanceLeft struct {
	ID     int64  `json:"id"`
	Number string `json:"number"`
	Day    string `json:"day"`
	JobID  int64  `json:"jobId"`
	Left   string `json:"left" doc:"With its tax"`
	Net    string `json:"net" doc:"Of what is left"`

	Currency string `json:"currency,omitempty" doc:"Of both, ISO 4217; left out, the firm's"`
}

// Billable is what a next invoice could take.
type Billable struct {
	Orders   []Order       `json:"orders" doc:"With something left to bill"`
	Advances []AdvanceLeft `json:"advances" doc:"With something left to deduct"`
}

func orderLines(lines []billing.OrderLine, cur money.Currency) []OrderLine {
	out := make([]OrderLine, len(lines))
	q := func(m posting.Millionths) string { return dec(m.Decimal()) }
	for n, l := range lines {
		out[n] = OrderLine{Position: l.Position, Text: l.Text, Unit: l.Unit, Article: l.ArticleID, UnitPrice: cur.Price(l.UnitPrice), TaxCode: l.TaxCodeID, Account: l.AccountID, Ordered: dec(l.Quantity),
			Delivered: q(l.Delivered), Billed: q(l.Billed), Cancelled: q(l.Cancelled), LeftToDeliver: q(l.LeftToDeliver), LeftToBill: q(l.LeftToBill), LeftToCancel: q(l.LeftToCancel), Left: cur.Format(l.Left.Net())}
		if whole := posting.InMillionths(l.Quantity) - l.Cancelled; whole > 0 {
			out[n].Settled = int(min(l.Billed*100/whole, 100))
		}
	}
	return out
}

// orderBody tells an order in its own currency, with what of it is left to bill
// in the firm's.
func orderBody(f posting.Facts, p posting.Paper, d day.Day, firm money.Currency) (Order, money.Amount) {
	lines, cur := billing.OrderLines(f, p, d), firm.In(p.Currency)
	var left, base money.Amount
	for _, l := range lines {
		left += max(l.Left.Net(), 0)
		base += max(l.Left.Amount.Base-l.Left.Tax.Base, 0)
	}
	j, _ := f.Job(p.JobID)
	return Order{ID: p.ID, Number: p.Number, Day: string(p.Day), Reference: p.Reference, Title: p.Title, CustomerID: p.PartyID, Customer: p.PartyName, JobID: p.JobID, Job: j.Number, Net: cur.Format(p.Net),
		Left: cur.Format(left), Currency: p.Currency, Lines: orderLines(lines, cur)}, base
}

// fillContract adds what became of an order's lines, or of what was billed in
// advance.
func (s *Server) fillContract(r *store.Reader, b *Paper, p posting.Paper, d day.Day, cur money.Currency) error {
	if p.Kind != posting.Order && p.Kind != posting.PurchaseOrder && p.Kind != posting.DepositInvoice {
		return nil
	}
	f, err := r.Facts(s.book.Today())
	if err != nil {
		return err
	}
	if p.Kind != posting.DepositInvoice {
		b.Order = orderLines(billing.OrderLines(f, p, d), cur)
	} else {
		b.AdvanceLeft = cur.Format(billing.AdvanceLeft(f, p, d).Left.Amount.Own)
	}
	return f.Err()
}

// orders are the orders of a customer, or of a job, that stand on a day, with
// what of all of them is left to bill: those with something left, or all.
func orders(f *store.Facts, customer, job int64, d day.Day, cur money.Currency, all bool) ([]Order, money.Amount) {
	rows, sum := []Order{}, money.Amount(0)
	var found []posting.Paper
	if all {
		found = f.Standing([]posting.Kind{posting.Order}, customer, job, d)
	} else {
		found = f.OpenOrders(customer, job, d)
	}
	for _, p := range found {
		o, left := orderBody(f, p, d, cur)
		if sum += left; left > 0 || all {
			rows = append(rows, o)
		}
	}
	return rows, sum
}

// advances are the deposit invoices among them with something left to deduct,
// those that are wanted.
func advances(f *store.Facts, customer, job int64, d day.Day, cur money.Currency, wanted func(posting.Paper) bool) []AdvanceLeft {
	rows := []AdvanceLeft{}
	for _, p := range f.Standing([]posting.Kind{posting.DepositInvoice}, customer, job, d) {
		if a := billing.AdvanceLeft(f, p, d); a.Left.Amount.Own > 0 && wanted(p) {
			cur := cur.In(p.Currency)
			rows = append(rows, AdvanceLeft{a.ID, a.Number, string(a.Day), a.JobID, cur.Format(a.Left.Amount.Own), cur.Format(a.Left.Net()), p.Currency})
		}
	}
	return rows
}

type billableInput struct {
	Customer int64  `query:"customer" required:"true"`
	Job      int64  `query:"job" doc:"Of this job alone; left out, of any"`
	Again    int64  `query:"again" doc:"As it would be if this paper were taken back, to write it again"`
	Day      string `query:"day" doc:"Left out, today"`
}

func (s *Server) billable(ctx context.Context, in *billableInput) (*struct{ Body Billable }, error) {
	p, d, err := s.lookingBack(ctx, in.Day)
	if err != nil {
		return nil, err
	}
	out := &struct{ Body Billable }{}
	err = s.book.Without(ctx, s.user(ctx), in.Again, func(r *store.Reader) error {
		f, err := r.Facts(s.book.Today())
		if err != nil {
			return err
		}
		out.Body.Orders, _ = orders(f, in.Customer, in.Job, d, p.cur, false)
		out.Body.Advances = advances(f, in.Customer, in.Job, d, p.cur, func(posting.Paper) bool { return true })
		return f.Err()
	})
	return out, problem(err)
}

// OrderBook is what became of the orders of a customer, of a job, or of one.
type OrderBook struct {
	Rows []Order `json:"rows"`
	Left string  `json:"left" doc:"Net, what of all of them is left to bill, in the firm's currency"`
}

func (s *Server) orderBook(ctx context.Context, in *struct {
	AsOf     string `query:"asOf"`
	Customer int64  `query:"customer" doc:"One of these three is said"`
	Job      int64  `query:"job"`
	Order    int64  `query:"order"`
	All      bool   `query:"all" doc:"Those too that are billed or cancelled"`
}) (*struct{ Body OrderBook }, error) {
	p, d, err := s.lookingBack(ctx, in.AsOf)
	if err != nil {
		return nil, err
	}
	if in.Customer == 0 && in.Job == 0 && in.Order == 0 {
		return nil, plain(422, "Say of which customer, job or order.")
	}
	f, err := s.book.Read(ctx).Facts(s.book.Today())
	if err != nil {
		return nil, problem(err)
	}
	out := &struct{ Body OrderBook }{OrderBook{Rows: []Order{}}}
	var sum money.Amount
	if in.Order == 0 {
		out.Body.Rows, sum = orders(f, in.Customer, in.Job, d, p.cur, in.All)
	} else if o, ok := f.Paper(in.Order); ok && o.Kind == posting.Order {
		row, left := orderBody(f, o, d, p.cur)
		out.Body.Rows, sum = append(out.Body.Rows, row), left
	}
	out.Body.Left = p.cur.Format(sum)
	return out, problem(f.Err())
}

// OrderRow is an order with what of it is left to bill.
type OrderRow struct {
	ID         int64  `json:"id"`
	Number     string `json:"number"`
	Day        string `json:"day"`
	CustomerID int64  `json:"customerId"`
	Customer   string `json:"customer"`
	JobID      int64  `json:"jobId"`
	Job        string `json:"job"`
	Title      string `json:"title"`
	Net        string `json:"net" doc:"In the firm's currency, as is what is left"`
	Left       string `json:"left" doc:"Net, to be billed"`

	Currency string `json:"currency,omitempty" doc:"ISO 4217, of an order in another than the firm's"`
	OwnNet   string `json:"ownNet,omitempty" doc:"What it comes to in that"`
	OwnLeft  string `json:"ownLeft,omitempty" doc:"And what of that is left"`
}

func (s *Server) registerOrders() {
	type input struct{ ListInput }
	type row = OrderRow
	lister[input, store.OrderRow, row]{
		id: "order-register", path: "/api/v1/order-register", summary: "Orders with something left to bill, as of a day",
		head: func(in *input) ListInput { return in.ListInput },
		find: func(ctx context.Context, in *input, q store.Query) (store.Page[store.OrderRow], error) {
			d, err := s.asOf(in.AsOf)
			if err != nil {
				return store.Page[store.OrderRow]{}, err
			}
			return s.book.Read(ctx).OrdersLeft(d, in.Search, q)
		},
		row: func(r store.OrderRow, _ day.Day, cur money.Currency) row {
			o := row{ID: r.ID, Number: r.Number, Day: string(r.Day), CustomerID: r.PartyID, Customer: r.Party, JobID: r.JobID, Job: r.Job, Title: r.Title, Net: cur.Format(r.Net), Left: cur.Format(r.Left)}
			if r.Currency != "" {
				own := cur.In(r.Currency)
				o.Currency, o.OwnNet, o.OwnLeft = r.Currency, own.Format(r.OwnNet), own.Format(r.OwnLeft)
			}
			return o
		},
		key:  func(r row) int64 { return r.ID },
		sums: []string{"left"},
		columns: []col[row]{textCol("Number", func(r row) string { return r.Number }), textCol("Day", func(r row) string { return r.Day }), textCol("Customer", func(r row) string { return r.Customer }), textCol("Job", func(r row) string { return r.Job }),
			textCol("What", func(r row) string { return r.Title }), figureCol("Net", func(r row) string { return r.Net }), figureCol("Left", func(r row) string { return r.Left })},
		abroad: []col[row]{textCol("Currency", func(r row) string { return r.Currency }), figureCol("Net in it", func(r row) string { return r.OwnNet }), figureCol("Left in it", func(r row) string { return r.OwnLeft })},
	}.register(s)
}

// AdvanceRow is what was billed in advance by a paper and what became of it.
type AdvanceRow struct {
	ID         int64  `json:"id"`
	Number     string `json:"number"`
	Day        string `json:"day"`
	CustomerID int64  `json:"customerId"`
	Customer   string `json:"customer"`
	JobID      int64  `json:"jobId"`
	Job        string `json:"job"`
	Net        string `json:"net"`
	Deducted   string `json:"deducted"`
	Credited   string `json:"credited"`
	Kept       string `json:"forfeited" doc:"Kept when an order was cancelled"`
	Left       string `json:"left" doc:"Net; what the account says"`
	LeftTax    string `json:"leftTax"`
}

func (s *Server) registerContracts() {
	huma.Register(s.api, describe("billable", "GET", "/api/v1/billable", "What a next invoice of a customer could take: of orders, and of what was billed in advance"), s.billable)
	huma.Register(s.api, describe("order-book", "GET", "/api/v1/order-book", "What became of the orders of a customer, of a job, or of one, as of a day"), s.orderBook)
	s.registerOrders()
	type input struct {
		ListInput
		All bool `query:"all" doc:"Those too that are used up"`
	}
	type row = AdvanceRow
	lister[input, store.AdvanceRow, row]{
		id: "advance-register", path: "/api/v1/advance-register", summary: "What became of what was billed in advance, as of a day",
		head: func(in *input) ListInput { return in.ListInput },
		find: func(ctx context.Context, in *input, q store.Query) (store.Page[store.AdvanceRow], error) {
			d, err := s.asOf(in.AsOf)
			if err != nil {
				return store.Page[store.AdvanceRow]{}, err
			}
			return s.book.Read(ctx).Advances(d, in.All, in.Search, q)
		},
		row: func(r store.AdvanceRow, _ day.Day, cur money.Currency) row {
			f := cur.Format
			return row{r.ID, r.Number, string(r.Day), r.PartyID, r.Party, r.JobID, r.Job, f(r.Net), f(r.Deducted), f(r.Credited), f(r.Kept), f(r.Left), f(r.LeftTax)}
		},
		key:  func(r row) int64 { return r.ID },
		sums: []string{"net", "deducted", "credited", "forfeited", "left", "leftTax"},
		columns: []col[row]{{"Number", func(r row) string { return r.Number }, false}, {"Day", func(r row) string { return r.Day }, false}, {"Customer", func(r row) string { return r.Customer }, false},
			{"Job", func(r row) string { return r.Job }, false}, figureCol("Net", func(r row) string { return r.Net }), figureCol("Deducted", func(r row) string { return r.Deducted }),
			figureCol("Credited", func(r row) string { return r.Credited }), figureCol("Kept", func(r row) string { return r.Kept }), figureCol("Left", func(r row) string { return r.Left }), figureCol("Tax", func(r row) string { return r.LeftTax })},
	}.register(s)
}
