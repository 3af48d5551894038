package posting_test

import (
	"fmt"
	"testing"

	"cleantally/core/banking"
	"cleantally/core/billing"
	"cleantally/core/day"
	"cleantally/core/ledger"
	"cleantally/core/money"
	"cleantally/core/posting"
	"cleantally/core/posting/postingtest"
	"cleantally/core/settling"

	"github.com/shopspring/decimal"
)

const today = day.Day("2026-11-20")

// Part 2, portions: 100.00 with tax 16.67 inside, used as 33.33, 33.33, 33.34.
func TestTakeByPortions(t *testing.T) {
	left := posting.Of(10000, 1667)
	for n, want := range []money.Amount{556, 555, 556} {
		took := left.Take([]money.Amount{3333, 3333, 3334}[n])
		if took.Tax.Own != want {
			t.Errorf("step %d takes %d of the tax, want %d", n, took.Tax.Own, want)
		}
		left = left.Sub(took)
	}
	if left != (posting.Part{}) {
		t.Errorf("left %+v", left)
	}
	// In another currency the base value goes along by portions as well: E-20's
	// invoice of 1,000.00 at 0.90.
	foreign := posting.Part{Amount: posting.Worth{Own: 100000, Base: 90000}}
	took := foreign.Take(60000)
	if took.Amount.Base != 54000 || foreign.Sub(took).Take(40000).Amount.Base != 36000 {
		t.Errorf("took %+v", took)
	}
	// Part 6: three lines of 33.33 at 20 % credited one by one.
	code := posting.Of(9999+2000, 2000)
	for n, want := range []money.Amount{667, 667, 666} {
		took := code.TakeNet(3333)
		if took.Tax.Own != want {
			t.Errorf("line %d takes %d, want %d", n, took.Tax.Own, want)
		}
		code = code.Sub(took)
	}
}

// A portion is of the least that is left; never more than is left in the end,
// and what ends the amount takes all.
func TestTakeOfWhatIsLeft(t *testing.T) {
	for _, c := range []struct {
		least, end posting.Part
		own, tax   money.Amount
	}{
		{posting.Of(10000, 1667), posting.Of(20000, 3334), 5000, 834},
		{posting.Of(10000, 1667), posting.Of(20000, 500), 5000, 500},
		{posting.Of(10000, 1666), posting.Of(10000, 1667), 10000, 1667},
	} {
		if took := (posting.Left{Least: c.least, End: c.end}).Take(c.own); took.Amount.Own != c.own || took.Tax.Own != c.tax {
			t.Errorf("of %+v and %+v in the end, %d takes %+v, want %d", c.least, c.end, c.own, took, c.tax)
		}
	}
}

func bill(net string) billing.Invoice {
	return billing.Invoice{PartyID: 1, Day: "2026-11-01", Lines: []posting.Line{{Text: "work", Quantity: decimal.New(1, 0), UnitPrice: decimal.RequireFromString(net), TaxCodeID: 1}}}
}

func post(t *testing.T, b *postingtest.Book, c posting.Command) posting.Effect {
	t.Helper()
	e, err := b.Post(c)
	if err != nil {
		t.Fatalf("%T%+v: %v", c, c, err)
	}
	return e
}

// plan is a command made of a function, for what no paper does yet.
type plan func(*posting.Builder)

func (p plan) Plan(f posting.Facts) (posting.Effect, error) {
	b := posting.Build(f)
	b.Paper(posting.Paper{Kind: posting.Journal, Day: today, Title: "made up"})
	p(b)
	return b.Effect("made up")
}

// What was settled in another currency at another rate posts the difference to
// exchange (docs/rules.md, part 8, E-20): the ground is there, papers come.
func TestForeignItems(t *testing.T) {
	b := postingtest.New()
	open := func(own, base money.Amount, account int64) {
		post(t, b, plan(func(b *posting.Builder) {
			b.Open(posting.Item{Register: ledger.Receivables, PartyID: 1, Day: today, Currency: "USD", Part: posting.Part{Amount: posting.Worth{Own: own, Base: base}}})
			b.Enter(ledger.Line{AccountID: account, Amount: -base, Currency: "USD", Own: -own})
		}))
	}
	open(100000, 90000, b.Role(ledger.ServiceSales).ID)
	open(-60000, -55200, 1)
	open(-40000, -35200, 1)
	e := post(t, b, settling.SetAgainst{Day: today, Pairs: []settling.Pair{{Debit: 1, Credit: 2, Amount: 60000}}})
	if got := postingtest.Lines(b, e); !postingtest.Same(got, []string{"Dr 120 12.00, Cr 691 12.00"}) {
		t.Errorf("at 0.92: %q", got)
	}
	e = post(t, b, settling.SetAgainst{Day: today, Pairs: []settling.Pair{{Debit: 1, Credit: 3, Most: true}}})
	if got := postingtest.Lines(b, e); !postingtest.Same(got, []string{"Dr 691 8.00, Cr 120 8.00"}) {
		t.Errorf("at 0.88: %q", got)
	}
	if got := b.AccountBalance(b.Role(ledger.Receivables).ID); got != 0 || b.Open[0].Left != (posting.Part{}) {
		t.Errorf("receivables stand at %d, left %+v", got, b.Open[0].Left)
	}
	post(t, b, settling.Undo{Day: today, Allocations: []int64{1}})
	if b.Open[0].Left.Amount != (posting.Worth{Own: 60000, Base: 54000}) || b.Prove() != nil {
		t.Errorf("undone: left %+v, %v", b.Open[0].Left, b.Prove())
	}
}

// The forms enter the control accounts: a plan that enters one by itself is a
// fault of the program.
func TestControlAccountsAreEnteredByTheirForms(t *testing.T) {
	b := postingtest.New()
	_, err := b.Post(plan(func(x *posting.Builder) {
		x.Debit(x.Role(ledger.Receivables), 100, ledger.Line{PartyID: 1})
		x.Credit(x.Role(ledger.Opening), 100, ledger.Line{})
	}))
	if _, refused := err.(posting.Refusals); err == nil || refused {
		t.Errorf("a control account was entered by hand: %v", err)
	}
	_, err = b.Post(plan(func(x *posting.Builder) { x.Warn("day", "made-up rule", "", "x") }))
	if err == nil {
		t.Error("a warning that nobody could confirm by its name")
	}
}

// E-22: what is left of an order to deliver and to bill, over-delivered, partly
// returned and cancelled.
func TestOrderedBounds(t *testing.T) {
	const piece = 1_000_000
	q := func(n int64) posting.Taken { return posting.Taken{Quantity: posting.Millionths(n * piece)} }
	left := func(used posting.Used, as posting.UseKind) int64 {
		l, _ := posting.Ordered(q(40), used, as)
		return int64(l.Quantity) / piece
	}
	for name, c := range map[string]struct {
		used                    posting.Used
		deliver, bill, canceled int64
	}{
		"25 delivered and billed":       {posting.Used{posting.Delivered: q(25), posting.Billed: q(25)}, 15, 15, 15},
		"16 more are delivered":         {posting.Used{posting.Delivered: q(41), posting.Billed: q(25)}, -1, 16, 15},
		"two come back":                 {posting.Used{posting.Delivered: q(39), posting.Billed: q(23)}, 1, 17, 17},
		"without replacement":           {posting.Used{posting.Delivered: q(39), posting.Billed: q(23), posting.Cancelled: q(2)}, -1, 16, 15},
		"nothing yet":                   {posting.Used{}, 40, 40, 40},
		"all cancelled":                 {posting.Used{posting.Cancelled: q(40)}, 0, 0, 0},
		"billed before it is delivered": {posting.Used{posting.Billed: q(10)}, 40, 30, 30},
	} {
		if d, b, x := left(c.used, posting.Delivered), left(c.used, posting.Billed), left(c.used, posting.Cancelled); d != c.deliver || b != c.bill || x != c.canceled {
			t.Errorf("%s: left to deliver %d, to bill %d, to cancel %d; want %d, %d, %d", name, d, b, x, c.deliver, c.bill, c.canceled)
		}
	}
}

// What is delivered beyond the order goes along at what a piece comes to, also
// where nothing is left of it any more.
func TestDeliveredBeyondTheOrder(t *testing.T) {
	b := postingtest.New()
	o := postingtest.Order{Net: 30000, Code: 1, Quantity: 2}
	o.Party, o.Day = 1, "2026-11-01"
	post(t, b, o)
	d := postingtest.Deliver{Order: 1}
	d.Party, d.Day = 1, "2026-11-02"
	for _, c := range []struct {
		quantity int64
		want     money.Amount
	}{{3, 54000}, {2, 36000}, {1, 18000}} {
		d.Quantity = c.quantity
		if u := post(t, b, d).Uses[0]; u.Part != posting.Of(c.want, c.want/6) {
			t.Errorf("%d pieces take %+v, want %d", c.quantity, u.Part, c.want)
		}
	}
}

// A cost that waits: part billed, the supplier's credit may leave it below nil,
// and nothing more can be taken then.
func TestWaitingBounds(t *testing.T) {
	amount := func(a money.Amount) posting.Taken { return posting.Taken{Part: posting.Of(a, 0)} }
	for name, c := range map[string]struct {
		used posting.Used
		left money.Amount
	}{
		"untouched":                   {posting.Used{}, 20600},
		"part billed":                 {posting.Used{posting.Billed: amount(10000)}, 10600},
		"credited by the supplier":    {posting.Used{posting.Billed: amount(10000), posting.SupplierCredited: amount(600)}, 10000},
		"credited after all was":      {posting.Used{posting.Billed: amount(20600), posting.SupplierCredited: amount(600)}, 0},
		"billed and not to be billed": {posting.Used{posting.Billed: amount(20000), posting.NotBilled: amount(600)}, 0},
	} {
		left, free := posting.Waiting(amount(20600), c.used, posting.Billed)
		if left.Amount.Own != c.left || free {
			t.Errorf("%s: left %d, want %d", name, left.Amount.Own, c.left)
		}
	}
	back := posting.Used{posting.Billed: amount(20600), posting.SupplierCredited: amount(600)}
	if left, free := posting.Waiting(amount(20600), back, posting.SupplierCredited); free || left.Amount.Own != 20000 {
		t.Errorf("a supplier gives back what was bought, whatever was billed: left %d", left.Amount.Own)
	}
}

// An amount is bounded by the least left on any day from its own on; a portion
// is of the last such day.
func TestByDay(t *testing.T) {
	b := postingtest.New()
	b.Now = "2026-12-31"
	d := settling.Deposit{PartyID: 1, Day: "2026-11-01", Amount: 120000, TaxCodeID: 1, BankAccountID: 1, Method: posting.ByTransfer}
	post(t, b, d)
	post(t, b, bill("2000"))
	set := func(a money.Amount, on day.Day) error {
		_, err := b.Post(settling.SetAgainst{Day: on, Pairs: []settling.Pair{{Debit: 2, Credit: 1, Amount: a}}})
		return err
	}
	if err := set(60000, "2026-11-05"); err != nil {
		t.Fatal(err)
	}
	post(t, b, settling.Undo{Day: "2026-11-20", Allocations: []int64{1}})
	if err := set(60001, "2026-11-10"); !postingtest.RefusedFor(err, "pairs[0].amount", "more than is open") {
		t.Errorf("more than was open on the 10th: %v", err)
	}
	if err := set(60000, "2026-11-10"); err != nil {
		t.Errorf("what was open on the 10th: %v", err)
	}
	if left := b.Open[0].Left; left != posting.Of(-60000, -10000) {
		t.Errorf("left %+v", left)
	}
	if err := b.Prove(); err != nil {
		t.Error(err)
	}
}

// Stock: in at cost, out at moving average; what a reversed purchase cannot
// take back goes to cost of sales; nil pieces are worth nil.
func TestStockPool(t *testing.T) {
	b := postingtest.New()
	line := posting.LineRef{}
	in := func(q int64, v money.Amount) {
		post(t, b, plan(func(x *posting.Builder) {
			line.PaperID = x.Own()
			x.StockIn(posting.StockMove{ArticleID: 1, By: line, Day: today, Quantity: posting.Millionths(q * 1e6), Value: v})
			x.Credit(x.Role(ledger.Opening), v, ledger.Line{})
		}))
	}
	out := func(q int64) (money.Amount, error) {
		var cost money.Amount
		_, err := b.Post(plan(func(x *posting.Builder) {
			line.PaperID = x.Own()
			cost, _ = x.StockOut("quantity", 1, posting.Millionths(q*1e6), nil, line, today)
			x.Debit(x.Role(ledger.CostOfSales), cost, ledger.Line{})
		}))
		return cost, err
	}
	in(10, 70000)
	in(10, 80000)
	if cost, err := out(6); err != nil || cost != 45000 {
		t.Errorf("six of twenty worth 1,500.00 cost %d, %v", cost, err)
	}
	if _, err := out(15); !postingtest.RefusedFor(err, "quantity", "more than is there") {
		t.Errorf("fifteen of fourteen: %v", err)
	}
	_, err := b.Post(plan(func(x *posting.Builder) {
		_, _ = x.StockOut("quantity", 1, 1e6, nil, line, day.Day(today).Add(-1))
	}))
	if !postingtest.RefusedFor(err, "quantity", "more than is there") {
		t.Errorf("one of them the day before they came: %v", err)
	}
	e := post(t, b, settling.Reversal{PaperID: 2, Day: today, Reason: "never came"})
	if got := postingtest.Lines(b, e); !postingtest.Same(got, []string{"Dr 391 800.00, Cr 141 800.00"}) {
		t.Errorf("the purchase taken back: %q", got)
	}
	if cost, err := out(4); err != nil || cost != 25000 {
		t.Errorf("the last four cost %d, %v", cost, err)
	}
	if got := b.AccountBalance(b.Role(ledger.Stock).ID); got != 0 {
		t.Errorf("nil pieces are worth %d", got)
	}
	in(2, 1000)
	in(2, 9000)
	if cost, err := out(2); err != nil || cost != 5000 {
		t.Errorf("two cost %d, %v", cost, err)
	}
	e = post(t, b, settling.Reversal{PaperID: 7, Day: today, Reason: "never came"})
	if got := postingtest.Lines(b, e); !postingtest.Same(got, []string{"Dr 391 90.00, Cr 141 50.00, Cr 501 40.00"}) {
		t.Errorf("a purchase that left in part: %q", got)
	}
	if err := b.Prove(); err != nil {
		t.Error(err)
	}
}

// Days are charged once; taking the charge back frees them.
func TestChargedDays(t *testing.T) {
	b := postingtest.New()
	post(t, b, bill("100"))
	charge := func(from, through day.Day) error {
		_, err := b.Post(plan(func(x *posting.Builder) { x.Charge("from", 1, from, through) }))
		return err
	}
	if err := charge("2026-12-02", "2026-12-31"); err != nil {
		t.Fatal(err)
	}
	for _, span := range [][2]day.Day{{"2026-12-31", "2027-01-31"}, {"2026-12-10", "2026-12-11"}, {"2026-11-01", "2027-02-01"}, {"2026-12-02", "2026-12-02"}} {
		if err := charge(span[0], span[1]); !postingtest.RefusedFor(err, "from", "charged already") {
			t.Errorf("%v: %v", span, err)
		}
	}
	if err := charge("2027-01-01", "2026-12-31"); !postingtest.RefusedFor(err, "from", "no days") {
		t.Errorf("no days: %v", err)
	}
	post(t, b, settling.Reversal{PaperID: 2, Day: today, Reason: "waived"})
	if err := charge("2026-12-10", "2026-12-11"); err != nil {
		t.Errorf("freed days: %v", err)
	}
}

// A bank line and what was posted are tied whole, once; reversing what is tied
// frees the line and says so.
func TestTies(t *testing.T) {
	b := postingtest.New()
	for n, a := range []money.Amount{30000, 10000, 20000, 7000, 3000} {
		b.BankLines = append(b.BankLines, posting.BankLine{ID: int64(n + 1), BankAccountID: 1, Day: today, Amount: a})
	}
	b.BankLines[4].BankAccountID = 2
	for _, a := range []money.Amount{30000, 20000, 10000, 17000} {
		post(t, b, settling.Deposit{PartyID: 1, Day: today, Amount: a, BankAccountID: 1, Method: posting.ByTransfer})
	}
	movement := func(paper int64) int64 { return b.PaperMovements(paper)[0].ID }
	tie := func(lines []int64, papers ...int64) error {
		var movements []int64
		for _, p := range papers {
			movements = append(movements, movement(p))
		}
		_, err := b.Post(banking.Tie{Lines: lines, Movements: movements})
		return err
	}
	for name, c := range map[string]struct {
		lines  []int64
		papers []int64
		rule   string
	}{
		"another sum":        {[]int64{1}, []int64{2}, "sums differ"},
		"another bank":       {[]int64{5}, []int64{3}, "not to be tied"},
		"nothing":            {nil, []int64{3}, "missing"},
		"several to several": {[]int64{1, 2}, []int64{1, 3}, "missing"},
		"no such line":       {[]int64{99}, []int64{3}, "not to be tied"},
	} {
		if err := tie(c.lines, c.papers...); !postingtest.RefusedFor(err, "movements", c.rule) {
			t.Errorf("%s: %v", name, err)
		}
	}
	for _, c := range []struct {
		lines  []int64
		papers []int64
	}{{[]int64{1}, []int64{2, 3}}, {[]int64{2, 4}, []int64{4}}} {
		if err := tie(c.lines, c.papers...); err != nil {
			t.Fatal(err)
		}
	}
	if err := tie([]int64{1}, 1); !postingtest.RefusedFor(err, "movements", "not to be tied") {
		t.Errorf("tied twice: %v", err)
	}
	e := post(t, b, settling.Reversal{PaperID: 3, Day: today, Reason: "wrong"})
	if len(b.TiesOf(1, 0)) != 0 || fmt.Sprint(e.Warnings) == "[]" || e.Warnings[0].Rule != "tied" {
		t.Errorf("the line is still tied: %+v, warnings %+v", b.TiesOf(1, 0), e.Warnings)
	}
	if err := tie([]int64{1}, 1); err != nil {
		t.Errorf("the freed line: %v", err)
	}
	post(t, b, banking.Untie{Line: 2})
	if len(b.TiesOf(0, movement(4))) != 0 {
		t.Error("untying one line of two left the other tied to a part")
	}
	if err := b.Prove(); err != nil {
		t.Error(err)
	}
}

// What a draft reserved counts for all but that draft, and is gone with it.
func TestReservations(t *testing.T) {
	b := postingtest.New()
	cost := postingtest.Cost{Amount: 20600}
	cost.Party, cost.Day = 1, today
	post(t, b, cost)
	take := func(a money.Amount) postingtest.Bill {
		v := postingtest.Bill{Net: 1000, Code: 1, Cost: 1, OfCost: a}
		v.Party, v.Day = 1, today
		return v
	}
	if err := b.Reserve(7, take(15000)); err != nil {
		t.Fatal(err)
	}
	if _, err := b.Post(take(5601)); !postingtest.RefusedFor(err, "lines", "more than is left") {
		t.Errorf("what a draft holds was taken: %v", err)
	}
	post(t, b, take(5600))
	b.Draft = 7
	post(t, b, take(15000))
	b.Draft = 0
	if _, err := b.Post(take(1)); !postingtest.RefusedFor(err, "lines", "more than is left") {
		t.Errorf("a cost was billed twice: %v", err)
	}
	if err := b.Prove(); err != nil {
		t.Error(err)
	}
}

// Crediting a line gives back, in proportion, what it holds; reversing the
// credit takes it again.
func TestGivingBack(t *testing.T) {
	b := postingtest.New()
	cost := postingtest.Cost{Amount: 20600}
	cost.Party, cost.Day = 1, today
	post(t, b, cost)
	v := postingtest.Bill{Net: 1000, Code: 1, Cost: 1, OfCost: 20600}
	v.Party, v.Day = 1, today
	post(t, b, v)
	back := postingtest.CreditLine{Paper: 2, Line: 2, Net: 10300}
	back.Party, back.Day = 1, today
	post(t, b, back)
	waits := func() money.Amount { return b.AccountBalance(b.Role(ledger.Recoverable).ID) }
	if waits() != 10300 {
		t.Errorf("half of it was credited, %d waits again", waits())
	}
	if _, err := b.Post(settling.Reversal{PaperID: 2, Day: today, Reason: "x"}); !postingtest.RefusedFor(err, "paper", "something stands on it") {
		t.Errorf("an invoice with a credit on it was reversed: %v", err)
	}
	post(t, b, settling.Reversal{PaperID: 3, Day: today, Reason: "kept after all"})
	if waits() != 0 {
		t.Errorf("%d waits after the credit was taken back", waits())
	}
	post(t, b, settling.Reversal{PaperID: 2, Day: today, Reason: "not theirs"})
	if waits() != 20600 {
		t.Errorf("%d waits after the invoice was taken back", waits())
	}
	post(t, b, settling.Reversal{PaperID: 1, Day: today, Reason: "never bought"})
	if waits() != 0 || b.Prove() != nil {
		t.Errorf("%d waits of a cost that is gone, %v", waits(), b.Prove())
	}
}

// Every kind of paper is told in full: a number format, a right, and either
// words for its item or a word of its own.
func TestKindsAreTold(t *testing.T) {
	for _, d := range posting.Kinds() {
		if prefix, width := posting.Series(d.Numbering, today); prefix == "" || width == 0 {
			t.Errorf("%s is numbered as %q", d.Kind, d.Numbering)
		}
		if d.Right == "" || (d.Done == "" && d.Words.Open == "" && d.Bound == nil && !d.Bills) {
			t.Errorf("%s: %+v", d.Kind, d)
		}
	}
}
