package buying_test

import (
	"testing"

	"cleantally/core/billing"
	"cleantally/core/buying"
	"cleantally/core/ledger"
	"cleantally/core/master"
	"cleantally/core/money"
	"cleantally/core/posting"
	"cleantally/core/posting/postingtest"
	"cleantally/core/settling"
	"cleantally/core/stock"
	"cleantally/core/tax"

	"github.com/shopspring/decimal"
)

const today = "2026-11-20"

func dec(s string) decimal.Decimal { return decimal.RequireFromString(s) }

func percent(s string) *decimal.Decimal { d := dec(s); return &d }

func amount(a money.Amount) *money.Amount { return &a }

// A firm is books with what is expected of them: supplier 5, article 3 kept in
// stock, article 4 in numbered pieces.
type firm struct {
	t *testing.T
	*postingtest.Book
}

func newFirm(t *testing.T) firm {
	b := postingtest.New()
	b.Firm.Difference = 100
	b.Parties[5] = master.Party{ID: 5, Name: "Larkfield Timber", IsSupplier: true}
	b.Articles[3] = master.Article{ID: 3, Code: "NEWEL", Name: "Newel post", Kind: master.Material, Stocked: true}
	b.Articles[4] = master.Article{ID: 4, Code: "MOTOR", Name: "Lift motor", Kind: master.Material, Stocked: true, Serial: true}
	b.Codes[5], b.Rates[5] = tax.Code{ID: 5, Code: "REV", Kind: tax.CustomerAccountsIt}, "20"
	return firm{t, b}
}

func (f firm) posts(c posting.Command, want ...string) posting.Effect {
	f.t.Helper()
	e, err := f.Post(c)
	if err != nil {
		f.t.Fatalf("%T: %v", c, err)
	}
	if got := postingtest.Lines(f.Book, e); len(want) > 0 && !postingtest.Same(got, want) {
		f.t.Errorf("%T: %q, want %q", c, got, want)
	}
	if err := f.Prove(); err != nil {
		f.t.Fatalf("%T: %v", c, err)
	}
	return e
}

func (f firm) refuses(c posting.Command, field, rule, limit string) {
	f.t.Helper()
	_, err := c.Plan(f.Book)
	all, _ := err.(posting.Refusals)
	for _, n := range all {
		if n.Field == field && n.Rule == rule && (limit == "" || n.Limit == limit) {
			return
		}
	}
	f.t.Errorf("%T: refused for %v, not for %s at %s with %s", c, err, rule, field, limit)
}

func (f firm) stands(role ledger.Role, want money.Amount) {
	f.t.Helper()
	if got := f.AccountBalance(f.Role(role).ID); got != want {
		f.t.Errorf("%s stands at %d, want %d", role, got, want)
	}
}

// last is the number of the paper that was posted last.
func (f firm) last() int64 { return int64(len(f.Papers)) }

func crane(markup *decimal.Decimal) buying.Line {
	return buying.Line{Text: "Crane hire", JobID: 1, Net: 48000, TaxCodeID: 1, PassOn: posting.OurSupply, Markup: markup}
}

func passes(job int64, costs ...posting.CostShare) billing.Invoice {
	return billing.Invoice{PartyID: 1, JobID: job, Day: today, Lines: []posting.Line{{Costs: costs}}}
}

// E-11: crane hire for a job, passed on as our own supply with 12.5 %.
func TestE11(t *testing.T) {
	f := newFirm(t)
	f.posts(buying.Bill{PartyID: 5, Day: today, Reference: "778", Lines: []buying.Line{crane(percent("12.5"))}}, "Dr 511 480.00, Dr 151 96.00, Cr 201 576.00")
	e := f.posts(passes(1, posting.CostShare{PaperID: 1, Position: 1}), "Dr 120 648.00, Cr 411 540.00, Cr 241 108.00")
	if p := e.Paper(); p.Lines[0].Text != "Crane hire" || p.Net-p.Beside != 0 {
		t.Errorf("what is passed on is no work: %+v", p)
	}
	f.refuses(passes(1, posting.CostShare{PaperID: 1, Position: 1}), "lines[0].costs[0].amount", "more than is left", "0.00")
	// Any credit of the line frees its share.
	f.posts(billing.Credit{PaperID: 2, Day: today, Cause: billing.Fault, Lines: []billing.CreditLine{{Position: 1, Amount: 27000}}}, "Cr 120 324.00, Dr 411 270.00, Dr 241 54.00")
	f.posts(passes(1, posting.CostShare{PaperID: 1, Position: 1}), "Dr 120 324.00, Cr 411 270.00, Cr 241 54.00")
	// Credited after it was billed: nothing waits, and a credit is due.
	f.posts(buying.Credit{PaperID: 1, Day: today, Reason: "shorter", Lines: []buying.CreditLine{{Position: 1, Amount: 12000}}}, "Dr 201 144.00, Cr 511 120.00, Cr 151 24.00")
	f.refuses(passes(1, posting.CostShare{PaperID: 1, Position: 1}), "lines[0].costs[0].amount", "more than is left", "0.00")
	f.refuses(settling.Reversal{PaperID: 1, Day: today, Reason: "wrong"}, "paper", "something stands on it", "")
	// Its share with the markup is proposed to be credited: 120.00 and 12.5 %.
	f.proposes(4, 13500)
}

// proposes tells what of an invoice's first line is to be credited, since the
// suppliers of its costs gave back so much.
func (f firm) proposes(invoice int64, want money.Amount) {
	f.t.Helper()
	p, _ := f.Paper(invoice)
	if lines, _ := billing.Creditable(f, p, today); lines[0].GivenBack != want {
		f.t.Errorf("proposed to be credited: %d, want %d", lines[0].GivenBack, want)
	}
}

// E-11 where the supplier had credited 120.00 + 24.00 before.
func TestE11Credited(t *testing.T) {
	f := newFirm(t)
	f.Firm.Markup = dec("12.5")
	f.posts(buying.Bill{PartyID: 5, Day: today, Lines: []buying.Line{crane(nil)}})
	f.posts(buying.Credit{PaperID: 1, Day: today, Reason: "shorter", Lines: []buying.CreditLine{{Position: 1, Amount: 12000}}}, "Dr 201 144.00, Cr 511 120.00, Cr 151 24.00")
	f.posts(passes(1, posting.CostShare{PaperID: 1, Position: 1}), "Dr 120 486.00, Cr 411 405.00, Cr 241 81.00")
	f.refuses(buying.Credit{PaperID: 1, Day: today, Reason: "x", Lines: []buying.CreditLine{{Position: 1, Amount: 36001}}}, "lines[0].amount", "more than is left", "360.00")
}

// E-12: a permit fee paid by card for the customer.
func TestE12(t *testing.T) {
	f := newFirm(t)
	fee := buying.Expense{PartyID: 5, Day: today, BankAccountID: 1, Method: posting.ByCard, Lines: []buying.Line{{Text: "Permit fee", JobID: 1, Net: 20600, TaxCodeID: 3, PassOn: posting.OnBehalf}}}
	f.posts(fee, "Dr 131 206.00, Cr 101 206.00")
	f.posts(passes(1, posting.CostShare{PaperID: 1, Position: 1, Amount: 20000}), "Dr 120 200.00, Cr 131 200.00")
	f.posts(buying.NotPassedOn{Day: today, Reason: "our mistake", Costs: []buying.CostShare{{PaperID: 1, Position: 1}}}, "Dr 511 6.00, Cr 131 6.00")
	f.stands(ledger.Recoverable, 0)
	// The supplier gives back more than waits: below nil until the customer is credited.
	f.posts(buying.Credit{PaperID: 1, Day: today, Reason: "fee lowered", BankAccountID: 1, Method: posting.ByTransfer, Lines: []buying.CreditLine{{Position: 1, Amount: 5000}}}, "Dr 101 50.00, Cr 131 50.00")
	f.stands(ledger.Recoverable, -5000)
	f.refuses(buying.NotPassedOn{Day: today, Reason: "kept", Costs: []buying.CostShare{{PaperID: 1, Position: 1, Amount: -5001}}}, "costs[0].amount", "more than is left", "-50.00")
	f.posts(buying.NotPassedOn{Day: today, Reason: "kept by agreement", Costs: []buying.CostShare{{PaperID: 1, Position: 1, Amount: -1000}}}, "Dr 131 10.00, Cr 411 10.00")
	f.proposes(2, 4000)
	f.posts(billing.Credit{PaperID: 2, Day: today, Cause: billing.Price, Lines: []billing.CreditLine{{Position: 1, Amount: 4000}}}, "Cr 120 40.00, Dr 131 40.00")
	f.stands(ledger.Recoverable, 0)
	f.proposes(2, 0)
}

// Tax joins what is paid on the customer's behalf, and bears no discount.
func TestOnBehalf(t *testing.T) {
	f := newFirm(t)
	f.posts(buying.Bill{PartyID: 5, Day: today, Lines: []buying.Line{{Text: "Permit", JobID: 1, Net: 10000, TaxCodeID: 1, PassOn: posting.OnBehalf}}}, "Dr 131 120.00, Cr 201 120.00")
	v := passes(1, posting.CostShare{PaperID: 1, Position: 1})
	v.Lines = append(v.Lines, posting.Line{Text: "work", Quantity: dec("1"), UnitPrice: dec("100"), TaxCodeID: 1})
	v.DiscountPercent = dec("10")
	f.posts(v, "Dr 120 228.00, Cr 131 120.00, Cr 401 90.00, Cr 241 18.00")
	if v.Lines[0].Costs[0].Markup = percent("5"); true {
		f.refuses(v, "lines[0].costs[0].amount", "more than is left", "0.00")
	}
	// Reversed, it waits again.
	f.posts(settling.Reversal{PaperID: 2, Day: today, Reason: "wrong"})
	f.stands(ledger.Recoverable, 12000)
	f.refuses(v, "lines[0].costs[0].markup", "no markup", "")
}

func TestPassingOnIsRefused(t *testing.T) {
	f := newFirm(t)
	bill := func(l buying.Line) buying.Bill { return buying.Bill{PartyID: 5, Day: today, Lines: []buying.Line{l}} }
	f.refuses(bill(crane(percent("-100"))), "lines[0].markup", "out of bounds", "-100")
	f.refuses(bill(buying.Line{Text: "x", Net: 100, TaxCodeID: 1, PassOn: posting.OurSupply}), "lines[0].job", "missing", "")
	f.refuses(bill(buying.Line{Text: "x", JobID: 1, Net: 100, TaxCodeID: 1, PassOn: posting.OnBehalf, Markup: percent("5")}), "lines[0].markup", "no markup", "")
	f.posts(bill(crane(nil)))
	// What is only ordered is no cost yet.
	f.posts(buying.Order{PartyID: 5, Day: today, Lines: []buying.Line{{Text: "Scaffold", JobID: 1, Net: 100, TaxCodeID: 1, PassOn: posting.OurSupply}}})
	f.refuses(passes(1, posting.CostShare{PaperID: 2, Position: 1}), "lines[0].costs[0].amount", "missing", "")
	f.refuses(buying.NotPassedOn{Day: today, Reason: "x", Costs: []buying.CostShare{{PaperID: 2, Position: 1}}}, "costs[0].amount", "missing", "")
	other := passes(0, posting.CostShare{PaperID: 1, Position: 1})
	other.PartyID = 2
	f.refuses(other, "lines[0].costs[0].amount", "another customer's cost", "212")
	// Two people at once: what a draft has taken is not there for another.
	first := passes(1, posting.CostShare{PaperID: 1, Position: 1, Amount: 30000})
	if err := f.Reserve(1, first); err != nil {
		t.Fatal(err)
	}
	f.refuses(passes(1, posting.CostShare{PaperID: 1, Position: 1, Amount: 48000}), "lines[0].costs[0].amount", "on a draft", "180.00")
	f.Draft = 1
	f.posts(first, "Dr 120 360.00, Cr 411 300.00, Cr 241 60.00")
}

// What we buy: the figures of part 5.
func TestWhatWeBuy(t *testing.T) {
	f := newFirm(t)
	sub := buying.Line{Text: "Groundwork", JobID: 1, Net: 500000, TaxCodeID: 1}
	f.posts(buying.Bill{PartyID: 5, Day: today, Retention: percent("5"), Expected: "2027-05-20", Lines: []buying.Line{sub}}, "Dr 511 5000.00, Dr 151 1000.00, Cr 201 5750.00, Cr 205 250.00")
	kept := f.Open[len(f.Open)-1]
	f.posts(settling.PayableRelease{PartyID: 5, Day: today, Items: []settling.Share{{Item: kept.ID, Most: true}}}, "Dr 205 250.00, Cr 201 250.00")
	f.refuses(settling.PayableRelease{PartyID: 5, Day: today, Items: []settling.Share{{Item: kept.ID, Amount: 1}}}, "items[0].amount", "more than is open", "0.00")
	// The customer accounts for the tax: here we do.
	f.posts(buying.Bill{PartyID: 5, Day: today, Lines: []buying.Line{{Text: "Plastering", JobID: 1, Net: 200000, TaxCodeID: 5}}}, "Dr 511 2000.00, Dr 151 400.00, Cr 241 400.00, Cr 201 2000.00")
	f.posts(buying.Credit{PaperID: f.last(), Day: today, Reason: "less", Open: true, Lines: []buying.CreditLine{{Position: 1, Amount: 50000}}}, "Dr 201 500.00, Cr 511 500.00, Cr 151 100.00, Dr 241 100.00")
	// Input tax that cannot be deducted joins the cost.
	f.posts(buying.Bill{PartyID: 5, Day: today, Lines: []buying.Line{{Text: "Car", AccountID: f.account("601"), Net: 10000, TaxCodeID: 1, Joined: true}}}, "Dr 601 120.00, Cr 201 120.00")
	// A prepayment and its use.
	f.posts(settling.Prepayment{PartyID: 5, Day: today, Amount: 100000, BankAccountID: 1, Method: posting.ByTransfer}, "Dr 161 1000.00, Cr 101 1000.00")
	prepaid := f.Open[len(f.Open)-1]
	f.posts(settling.SetAgainst{Day: today, Pairs: []settling.Pair{{Debit: prepaid.ID, Credit: 1, Amount: 60000}}}, "Dr 201 600.00, Cr 161 600.00")
	f.posts(settling.SupplierRefund{PartyID: 5, Day: today, BankAccountID: 1, Method: posting.ByTransfer, Sources: []settling.Share{{Item: prepaid.ID, Most: true}}}, "Dr 101 400.00, Cr 161 400.00")
	f.stands(ledger.SupplierPrepayments, 0)
	// Tax that we withhold of a subcontractor.
	pay := settling.SupplierPayment{PartyID: 5, Day: today, Paid: 50000, BankAccountID: 1, Method: posting.ByTransfer, Bills: []settling.PaidBill{{Item: 1, Amount: 50000, Withheld: 10000}}}
	f.posts(pay, "Dr 201 600.00, Cr 101 500.00, Cr 249 100.00")
	if left := f.Left(1); left != -(575000 - 60000 - 60000) {
		t.Errorf("open of the bill: %d", left)
	}
	f.posts(settling.Reversal{PaperID: f.last(), Day: today, Reason: "wrong"}, "Cr 201 600.00, Dr 101 500.00, Dr 249 100.00")
	f.refuses(settling.SupplierPayment{PartyID: 5, Day: today, Paid: 1, BankAccountID: 1, Method: posting.ByTransfer}, "onAccount", "not placed", "0.01")
}

func (f firm) account(number string) int64 {
	for id, a := range f.Accounts {
		if a.Number == number {
			return id
		}
	}
	return 0
}

// An early discount that we receive, with the input tax inside; undoing what it
// was taken with takes it back.
func TestDiscountReceived(t *testing.T) {
	f := newFirm(t)
	f.posts(buying.Bill{PartyID: 5, Day: today, EarlyPercent: dec("2"), EarlyUntil: "2026-11-30", Lines: []buying.Line{{Text: "Oak", AccountID: f.account("501"), Net: 100000, TaxCodeID: 1}}}, "Dr 501 1000.00, Dr 151 200.00, Cr 201 1200.00")
	pay := settling.SupplierPayment{PartyID: 5, Day: today, Paid: 117600, BankAccountID: 1, Method: posting.ByTransfer, Bills: []settling.PaidBill{{Item: 1, Most: true, Discount: true}}}
	late := pay
	late.Day = "2026-12-01"
	f.refuses(late, "bills[0].discount", "too late", "2026-11-30")
	f.posts(pay, "Dr 201 1200.00, Cr 101 1176.00, Cr 445 20.00, Cr 151 4.00")
	f.posts(settling.Undo{Day: today, Allocations: []int64{1}}, "Cr 201 24.00, Dr 445 20.00, Dr 151 4.00")
	if left := f.Left(1); left != -120000 {
		t.Errorf("open of the bill: %d", left)
	}
	f.posts(settling.Reversal{PaperID: 1, Day: today, Reason: "wrong"})
	f.stands(ledger.Payables, 117600)
	f.stands(ledger.DiscountReceived, 0)
}

// A credit of a bill that was paid with its discount carries its share of it,
// as a customer's does; undoing the payment then takes back the rest alone.
func TestCreditAfterTheDiscount(t *testing.T) {
	f := newFirm(t)
	f.posts(buying.Bill{PartyID: 5, Day: today, EarlyPercent: dec("2"), EarlyUntil: "2026-11-30", Lines: []buying.Line{{Text: "Oak", AccountID: f.account("501"), Net: 100000, TaxCodeID: 1}}})
	f.posts(settling.SupplierPayment{PartyID: 5, Day: today, Paid: 117600, BankAccountID: 1, Method: posting.ByTransfer, Bills: []settling.PaidBill{{Item: 1, Most: true, Discount: true}}})
	f.posts(buying.Credit{PaperID: 1, Day: today, Reason: "warped", Lines: []buying.CreditLine{{Position: 1, Amount: 25000}}}, "Dr 445 5.00, Cr 501 250.00, Cr 151 49.00, Dr 201 294.00")
	f.refuses(buying.Credit{PaperID: 1, Day: today, Reason: "x", Lines: []buying.CreditLine{{Position: 1, Amount: 75001}}}, "lines[0].amount", "more than is left", "750.00")
	f.posts(settling.Undo{Day: today, Allocations: []int64{1}}, "Cr 201 18.00, Dr 445 15.00, Dr 151 3.00")
	f.stands(ledger.DiscountReceived, 0)
	f.posts(buying.Credit{PaperID: 1, Day: today, Reason: "the rest"}, "Dr 201 900.00, Cr 501 750.00, Cr 151 150.00")
}

// The supplier's own tax is kept within the limit; a total that differs by a
// cent is refused.
func TestTheirOwnTax(t *testing.T) {
	f := newFirm(t)
	v := buying.Bill{PartyID: 5, Day: today, Lines: []buying.Line{{Text: "a", AccountID: f.account("601"), Net: 3333, TaxCodeID: 1}}, Total: amount(4001)}
	f.refuses(v, "total", "sums differ", "40.00")
	v.Tax = amount(668)
	f.posts(v, "Dr 601 33.33, Dr 151 6.68, Cr 201 40.01")
	v.Tax, v.Total = amount(800), nil
	f.refuses(v, "tax", "beyond the limit", "1.00")
}

// Goods that come before their bill, at the order's price; the bill's
// difference goes to stock for the share that is still there.
func TestGoodsReceived(t *testing.T) {
	f := newFirm(t)
	f.posts(buying.Order{PartyID: 5, Day: today, Lines: []buying.Line{{Text: "Newel post", ArticleID: 3, Quantity: dec("10"), UnitPrice: dec("70"), TaxCodeID: 1}}})
	f.posts(buying.Received{OrderID: 1, Day: today, Lines: []buying.Share{{Position: 1, Quantity: dec("6")}}}, "Dr 141 420.00, Cr 208 420.00")
	f.posts(stock.Use{JobID: 1, Day: today, Lines: []stock.Line{{ArticleID: 3, Quantity: dec("3")}}}, "Dr 511 210.00, Cr 141 210.00")
	f.refuses(stock.Use{JobID: 1, Day: today, Lines: []stock.Line{{ArticleID: 3, Quantity: dec("4")}}}, "lines[0].quantity", "more than is there", "3")
	bill := buying.Bill{PartyID: 5, Day: today, Lines: []buying.Line{{Of: buying.OrderLine{PaperID: 1, Position: 1}, Quantity: dec("10"), UnitPrice: dec("76")}}}
	// 6 came at 420.00 and cost 456.00: 3 of them are there and bear 18.00. 4 come with the bill at 304.00.
	f.posts(bill, "Dr 141 322.00, Dr 151 152.00, Dr 208 420.00, Dr 501 18.00, Cr 201 912.00")
	f.stands(ledger.GoodsReceived, 0)
	f.stands(ledger.Stock, 53200)
	// The rest of the delivery comes after its bill, which has brought it in.
	f.posts(buying.Received{OrderID: 1, Day: today, Lines: []buying.Share{{Position: 1, Quantity: dec("4")}}})
	f.stands(ledger.Stock, 53200)
	// Two go back at the average cost of 76.00.
	back := buying.Credit{PaperID: 4, Day: today, Reason: "cracked", Lines: []buying.CreditLine{{Position: 1, Quantity: dec("2"), Back: true}}}
	f.posts(back, "Dr 201 182.40, Cr 141 152.00, Cr 151 30.40")
	back.Lines[0].Quantity = dec("9")
	f.refuses(back, "lines[0].quantity", "more than is left", "8")
	// A price credit of 40.00 on the 8 that are left, of which 5 are there.
	f.posts(buying.Credit{PaperID: 4, Day: today, Reason: "price", Lines: []buying.CreditLine{{Position: 1, Amount: 4000}}}, "Dr 201 48.00, Cr 141 20.00, Cr 501 20.00, Cr 151 8.00")
	f.posts(settling.Reversal{PaperID: f.last(), Day: today, Reason: "wrong"}, "Cr 201 48.00, Dr 141 20.00, Dr 501 20.00, Dr 151 8.00")
	f.posts(stock.Count{Day: today, Lines: []stock.Counted{{Line: stock.Line{ArticleID: 3, Quantity: dec("4")}}}}, "Dr 501 76.00, Cr 141 76.00")
	f.posts(buying.Received{OrderID: 1, Cancel: true, Note: "sold out", Day: today, Lines: []buying.Share{{Position: 1, Quantity: dec("2")}}})
}

// E-14's first half: six of a stocked article are sold at a cost of 70.00 each.
func TestE14Sold(t *testing.T) {
	f := newFirm(t)
	f.posts(stock.Count{Day: today, Opening: true, Lines: []stock.Counted{{Line: stock.Line{ArticleID: 3, Quantity: dec("8")}, Cost: percent("70")}}}, "Dr 141 560.00, Cr 391 560.00")
	sale := billing.Invoice{PartyID: 1, Day: today, Lines: []posting.Line{{ArticleID: 3, Text: "Newel post", Quantity: dec("6"), UnitPrice: dec("120"), TaxCodeID: 1}}}
	f.posts(sale, "Dr 120 864.00, Cr 405 720.00, Cr 241 144.00, Dr 501 420.00, Cr 141 420.00")
	f.refuses(sale, "lines[0].quantity", "more than is there", "2")
	f.posts(settling.Reversal{PaperID: 2, Day: today, Reason: "wrong"})
	f.stands(ledger.Stock, 56000)
}

// What an order delivers leaves stock once: with its delivery, else when it is
// billed.
func TestGoodsLeaveOnce(t *testing.T) {
	f := newFirm(t)
	f.posts(stock.Count{Day: today, Opening: true, Lines: []stock.Counted{{Line: stock.Line{ArticleID: 3, Quantity: dec("10")}, Cost: percent("7")}}})
	f.posts(billing.Order{PartyID: 1, JobID: 1, Day: today, Lines: []posting.Line{{ArticleID: 3, Text: "Newel post", Quantity: dec("10"), UnitPrice: dec("12"), TaxCodeID: 3}}})
	of := posting.Thing{LineRef: posting.LineRef{PaperID: 2, Position: 1}}
	f.posts(billing.Delivery{OrderID: 2, Day: today, Lines: []billing.OrderShare{{Position: 1, Quantity: dec("4")}}}, "Dr 501 28.00, Cr 141 28.00")
	bill := func(q string) billing.Invoice {
		return billing.Invoice{PartyID: 1, JobID: 1, Day: today, Lines: []posting.Line{{Text: "posts", Quantity: dec(q), Of: of}}}
	}
	f.posts(bill("3"), "Dr 120 36.00, Cr 405 36.00")
	f.posts(bill("3"), "Dr 120 36.00, Cr 405 36.00, Dr 501 14.00, Cr 141 14.00")
	f.posts(billing.Delivery{OrderID: 2, Day: today, Lines: []billing.OrderShare{{Position: 1, Quantity: dec("6")}}}, "Dr 501 28.00, Cr 141 28.00")
	f.posts(bill("4"), "Dr 120 48.00, Cr 405 48.00")
	f.stands(ledger.Stock, 0)
}

// Pieces that bear numbers come in and leave by them.
func TestNumberedPieces(t *testing.T) {
	f := newFirm(t)
	buy := func(serials ...string) buying.Bill {
		return buying.Bill{PartyID: 5, Day: today, Lines: []buying.Line{{Text: "Motor", ArticleID: 4, Quantity: dec("2"), UnitPrice: dec("100"), TaxCodeID: 1, Serials: serials}}}
	}
	f.refuses(buy("A1"), "lines[0].serials", "numbers", "2")
	f.posts(buy("A1", "A2"), "Dr 141 200.00, Dr 151 40.00, Cr 201 240.00")
	f.refuses(buy("A2", "A3"), "lines[0].serials", "taken", "A2")
	use := func(serials ...string) stock.Use {
		return stock.Use{JobID: 1, Day: today, Lines: []stock.Line{{ArticleID: 4, Quantity: dec("1"), Serials: serials}}}
	}
	f.refuses(use("A9"), "lines[0].quantity", "not there", "A9")
	f.posts(use("A1"), "Dr 511 100.00, Cr 141 100.00")
	f.refuses(settling.Reversal{PaperID: 1, Day: today, Reason: "wrong"}, "paper", "more than is there", "1")
	f.posts(settling.Reversal{PaperID: 2, Day: today, Reason: "wrong"})
	f.posts(use("A1"))
}
