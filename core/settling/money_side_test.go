package settling_test

import (
	"fmt"
	"slices"
	"strings"
	"testing"

	"cleantally/core/buying"
	"cleantally/core/day"
	"cleantally/core/journal"
	"cleantally/core/ledger"
	"cleantally/core/master"
	"cleantally/core/money"
	"cleantally/core/posting"
	"cleantally/core/posting/postingtest"
	"cleantally/core/settling"

	"github.com/shopspring/decimal"
)

func open(b *postingtest.Book, ref posting.ItemRef) money.Amount { return b.Left(ref) }

func wantOpen(t *testing.T, b *postingtest.Book, want map[posting.ItemRef]money.Amount) {
	t.Helper()
	for ref, w := range want {
		if got := open(b, ref); got != w {
			t.Errorf("item %d has %d open, want %d", ref, got, w)
		}
	}
}

func refund(a money.Amount, source posting.ItemRef) settling.Refund {
	return settling.Refund{Day: today, Sources: []settling.Share{{Item: source, Amount: a}}, BankAccountID: 1, Method: posting.ByTransfer}
}

// discounted is the book of E-4: terms 2 % within 10 days, an invoice of
// 1,000.00 + 200.00.
func discounted(t *testing.T) *postingtest.Book {
	t.Helper()
	b := postingtest.New()
	b.TermsList[1] = master.Terms{ID: 1, Kind: master.InDays, Days: 30, DiscountPercent: decimal.New(2, 0), DiscountDays: 10}
	post(t, b, invoice(1, 0, "2026-11-01", "1000"))
	return b
}

func TestE2Ends(t *testing.T) {
	for name, c := range map[string]struct {
		forfeit settling.Forfeit
		want    string
	}{
		"without tax": {settling.Forfeit{}, "Dr 221 150.00, Cr 421 150.00"},
		"with tax":    {settling.Forfeit{TaxCodeID: 1}, "Dr 221 150.00, Cr 421 125.00, Cr 241 25.00"},
	} {
		b := postingtest.New()
		post(t, b, deposit("2026-11-01", 120000))
		post(t, b, invoice(1, 1, "2026-11-10", "1000"))
		c.forfeit.Deposit.Amount = 15000
		e := post(t, b, settling.SplitDeposit{Deposit: 1, Day: today, RefundAmount: 45000, Against: []settling.Placement{{Debit: 2, Amount: 40000}},
			Refund: &settling.Refund{BankAccountID: 1, Method: posting.ByTransfer}, Forfeit: &c.forfeit})
		wantEntries(t, b, e, "Dr 221 400.00, Cr 120 400.00", "Dr 221 450.00, Cr 101 450.00", c.want)
		wantOpen(t, b, map[posting.ItemRef]money.Amount{1: -20000, 2: 80000})
		if len(e.Papers) != 2 {
			t.Errorf("%s: %d papers", name, len(e.Papers))
		}
	}
}

// Part 4, taxed on receipt: 1,200.00 with 200.00 inside.
func TestTaxedOnReceipt(t *testing.T) {
	taken := func() *postingtest.Book {
		b := postingtest.New()
		d := deposit("2026-11-01", 120000)
		d.TaxCodeID = 1
		wantEntries(t, b, post(t, b, d), "Dr 101 1200.00, Cr 221 1000.00, Cr 241 200.00")
		return b
	}
	for name, c := range map[string]struct {
		command posting.Command
		want    string
	}{
		"set against":            {settling.SetAgainst{Day: today, Pairs: []settling.Pair{{Debit: 2, Credit: 1, Amount: 120000}}}, "Dr 221 1000.00, Dr 241 200.00, Cr 120 1200.00"},
		"forfeit, tax stays due": {settling.Forfeit{Day: today, Deposit: settling.Share{Item: 1, Amount: 15000}}, "Dr 221 125.00, Cr 421 125.00"},
		"forfeit outside tax":    {settling.Forfeit{Day: today, Deposit: settling.Share{Item: 1, Amount: 15000}, OutsideTax: true}, "Dr 221 125.00, Dr 241 25.00, Cr 421 150.00"},
		"refund":                 {refund(60000, 1), "Dr 221 500.00, Dr 241 100.00, Cr 101 600.00"},
		"to another job":         {settling.Transfer{Day: today, From: settling.Share{Item: 1, Most: true}, PartyID: 1, AsDeposit: true}, ""}, // control accounts bear no job
		"to on account":          {settling.Transfer{Day: today, From: settling.Share{Item: 1, Amount: 60000}, PartyID: 1}, "Dr 221 500.00, Dr 241 100.00, Cr 120 600.00"},
	} {
		b := taken()
		post(t, b, invoice(1, 0, "2026-10-15", "1000"))
		e := post(t, b, c.command)
		if got := postingtest.Lines(b, e); strings.Join(got, "") != c.want {
			t.Errorf("%s: %q, want %q", name, got, c.want)
		}
		if name == "set against" && !slices.ContainsFunc(e.Warnings, func(n posting.Notice) bool { return n.Rule == "another month" }) {
			t.Errorf("%s: no warning that the tax falls in another month: %+v", name, e.Warnings)
		}
	}
}

// Part 2, portions: 100.00 with tax 16.67 inside, used as 33.33, 33.33, 33.34.
func TestPortionsOfADeposit(t *testing.T) {
	b := postingtest.New()
	d := deposit("2026-11-01", 10000)
	d.TaxCodeID = 1
	post(t, b, d)
	post(t, b, invoice(1, 0, "2026-11-01", "1000"))
	for _, c := range []struct {
		amount money.Amount
		want   string
	}{{3333, "Dr 221 27.77, Dr 241 5.56, Cr 120 33.33"}, {3333, "Dr 221 27.78, Dr 241 5.55, Cr 120 33.33"}, {3334, "Dr 221 27.78, Dr 241 5.56, Cr 120 33.34"}} {
		e := post(t, b, settling.SetAgainst{Day: today, Pairs: []settling.Pair{{Debit: 2, Credit: 1, Amount: c.amount}}})
		wantEntries(t, b, e, c.want)
	}
	if i := b.Open[0]; i.Left != (posting.Part{}) {
		t.Errorf("left %d, tax inside %d", i.Left.Amount.Own, i.Left.Tax.Own)
	}
	back := post(t, b, settling.Undo{Day: today, Allocations: []int64{2}})
	wantEntries(t, b, back, "Cr 221 27.78, Cr 241 5.55, Dr 120 33.33")
}

// A portion is of the last day on which least is left: both ways came to 0.90,
// first with 0.15 inside, at the end with 0.17.
func TestPortionOfTheLastSuchDay(t *testing.T) {
	b := postingtest.New()
	d := deposit("2026-11-01", 100)
	d.TaxCodeID = 1
	post(t, b, d)
	post(t, b, invoice(1, 0, "2026-11-01", "1000"))
	set := func(d day.Day, amounts ...money.Amount) posting.Effect {
		pairs := make([]settling.Pair, len(amounts))
		for n, a := range amounts {
			pairs[n] = settling.Pair{Debit: 2, Credit: 1, Amount: a}
		}
		return post(t, b, settling.SetAgainst{Day: d, Pairs: pairs})
	}
	wantEntries(t, b, set("2026-11-12", 10), "Dr 221 0.08, Dr 241 0.02, Cr 120 0.10")
	post(t, b, settling.Undo{Day: "2026-11-13", Allocations: []int64{1}})
	set("2026-11-14", 2, 2, 2, 2, 2)
	wantEntries(t, b, set("2026-11-11", 30), "Dr 221 0.24, Dr 241 0.06, Cr 120 0.30")
}

func TestE4(t *testing.T) {
	b := discounted(t)
	on := func(d day.Day, discount bool) settling.Receipt {
		return receipt(d, 117600, settling.Placement{Debit: 1, Amount: 117600, Discount: discount})
	}
	e := post(t, b, on("2026-11-09", true))
	wantEntries(t, b, e, "Dr 101 1176.00, Dr 491 20.00, Dr 241 4.00, Cr 120 1200.00")
	wantOpen(t, b, map[posting.ItemRef]money.Amount{1: 0, 2: 0, 3: 0})

	if _, err := b.Post(settling.Undo{Day: today, Allocations: []int64{2}}); !postingtest.RefusedFor(err, "allocations[0]", "bound") {
		t.Errorf("the discount's own allocation: %v", err)
	}
	back := post(t, b, settling.Undo{Day: today, Allocations: []int64{1}})
	wantEntries(t, b, back, "Dr 120 24.00, Cr 491 20.00, Cr 241 4.00")
	wantOpen(t, b, map[posting.ItemRef]money.Amount{1: 120000, 2: -117600, 3: 0})
	// The receipt can still be reversed whole: its discount is left out.
	rev := post(t, b, settling.Reversal{PaperID: 2, Day: today, Reason: "wrong customer"})
	wantEntries(t, b, rev, "Cr 101 1176.00, Dr 120 1176.00")

	late := discounted(t)
	if _, err := late.Post(on("2026-11-12", true)); !postingtest.RefusedFor(err, "placements[0].discount", "too late") {
		t.Errorf("day 11 with discount: %v", err)
	}
	post(t, late, on("2026-11-12", false))
	wantOpen(t, late, map[posting.ItemRef]money.Amount{1: 2400})

	// The tenth day still counts.
	post(t, discounted(t), on("2026-11-11", true))

	part := discounted(t)
	if _, err := part.Post(receipt("2026-11-09", 100000, settling.Placement{Debit: 1, Amount: 100000, Discount: true})); !postingtest.RefusedFor(err, "placements[0].amount", "discount not earned") {
		t.Errorf("a part with discount: %v", err)
	}
}

// E-4's payment, returned with a fee of 8.00; a plain one of 1,200.00, fee 12.00.
func TestReturned(t *testing.T) {
	b := discounted(t)
	post(t, b, receipt("2026-11-09", 117600, settling.Placement{Debit: 1, Amount: 117600, Discount: true}))
	e := post(t, b, settling.Returned{PaperID: 2, Day: "2026-11-16", Fee: 800})
	wantSet(t, b, e, "Dr 120 1200.00", "Dr 621 8.00", "Cr 101 1184.00", "Cr 491 20.00", "Cr 241 4.00")
	wantOpen(t, b, map[posting.ItemRef]money.Amount{1: 120000, 2: 0, 3: 0})
	if b.Open[0].Due != "2026-12-01" {
		t.Errorf("due %s", b.Open[0].Due)
	}

	b = postingtest.New()
	post(t, b, invoice(1, 0, "2026-11-01", "1000"))
	post(t, b, receipt("2026-11-09", 120000, settling.Placement{Debit: 1, Amount: 120000}))
	e = post(t, b, settling.Returned{PaperID: 2, Day: "2026-11-16", Fee: 1200})
	wantSet(t, b, e, "Dr 120 1200.00", "Dr 621 12.00", "Cr 101 1212.00")

	b = postingtest.New() // a deposit, returned after a part was refunded
	post(t, b, deposit("2026-11-01", 120000))
	post(t, b, refund(45000, 1))
	if _, err := b.Post(settling.Reversal{PaperID: 1, Day: today, Reason: "x"}); err == nil || !strings.Contains(err.Error(), "F26-0001") {
		t.Errorf("a reversal does not name the refund: %v", err)
	}
	e = post(t, b, settling.Returned{PaperID: 1, Day: today, Fee: 1000, PassOn: true})
	wantSet(t, b, e, "Dr 120 460.00", "Dr 221 750.00", "Cr 101 1210.00")
	if owes := b.PartyBalance(ledger.Receivables, 1); owes != 46000 || open(b, 1) != 0 {
		t.Errorf("owes %d, deposit %d", owes, open(b, 1))
	}
}

// wantSet compares the lines of a one-entry effect in any order.
func wantSet(t *testing.T, b *postingtest.Book, e posting.Effect, want ...string) {
	t.Helper()
	got := strings.Split(strings.Join(postingtest.Lines(b, e), "; "), ", ")
	slices.Sort(got)
	slices.Sort(want)
	if !postingtest.Same(got, want) {
		t.Errorf("lines %q, want %q", got, want)
	}
}

func TestRests(t *testing.T) {
	for name, c := range map[string]struct {
		arrived money.Amount
		place   settling.Placement
		want    []string
		left    money.Amount
	}{
		"a small difference": {119997, settling.Placement{Debit: 1, Amount: 119997, Rest: settling.IsDifference},
			[]string{"Dr 101 1199.97, Dr 641 0.03, Cr 120 1200.00"}, 0},
		"kept back": {114000, settling.Placement{Debit: 1, Amount: 114000, Rest: settling.IsRetained},
			[]string{"Dr 101 1140.00, Cr 120 1140.00", "Dr 124 60.00, Cr 120 60.00"}, 0},
		"disputed": {114000, settling.Placement{Debit: 1, Most: true, Rest: settling.IsDisputed, Reason: "scratched"},
			[]string{"Dr 101 1140.00, Cr 120 1140.00"}, 6000},
		"written off": {108000, settling.Placement{Debit: 1, Amount: 108000, Rest: settling.IsWrittenOff, Reason: "agreed"},
			[]string{"Dr 101 1080.00, Cr 120 1080.00", "Dr 241 20.00, Dr 631 100.00, Cr 120 120.00"}, 0},
	} {
		b := postingtest.New()
		b.Firm = master.Limits{Difference: 50, Relief: true}
		post(t, b, invoice(1, 0, "2026-11-01", "1000"))
		e := post(t, b, receipt(today, c.arrived, c.place))
		if got := postingtest.Lines(b, e); !postingtest.Same(got, c.want) || open(b, 1) != c.left {
			t.Errorf("%s: %q, want %q; left %d", name, got, c.want, open(b, 1))
		}
		if disputed := len(b.Disputes(1)) > 0; disputed != (name == "disputed") {
			t.Errorf("%s: disputed %v", name, disputed)
		}
	}
	b := postingtest.New()
	b.Firm.Difference = 50
	post(t, b, invoice(1, 0, "2026-11-01", "1000"))
	far := receipt(today, 119900, settling.Placement{Debit: 1, Amount: 119900, Rest: settling.IsDifference})
	if _, err := b.Post(far); !postingtest.RefusedFor(err, "placements[0].rest", "beyond the limit") {
		t.Errorf("a difference of 1.00: %v", err)
	}
}

// E-19: what the customer kept back comes with the next payment.
func TestE19(t *testing.T) {
	b := postingtest.New()
	post(t, b, invoice(1, 1, "2026-11-01", "12000"))
	e := post(t, b, receipt("2026-11-10", 1368000, settling.Placement{Debit: 1, Most: true, Rest: settling.IsRetained}))
	wantEntries(t, b, e, "Dr 101 13680.00, Cr 120 13680.00", "Dr 124 720.00, Cr 120 720.00")
	kept := posting.ItemRef(4)
	if i := b.Open[kept-1]; i.Register != ledger.Retention || i.Left.Amount.Own != 72000 {
		t.Fatalf("kept back %+v", i)
	}
	e = post(t, b, receipt(today, 72000, settling.Placement{Debit: kept, Most: true}))
	wantEntries(t, b, e, "Dr 101 720.00, Cr 120 720.00", "Dr 120 720.00, Cr 124 720.00")
	if owes := b.PartyBalance(ledger.Receivables, 1); owes != 0 || open(b, kept) != 0 {
		t.Errorf("owes %d, kept back %d", owes, open(b, kept))
	}
}

// The bank takes a receipt back that kept retention, or that brought a release:
// both are undone with it. What is kept back unasked past the cap is warned of.
func TestReturnedWithRetention(t *testing.T) {
	b := postingtest.New()
	j := b.Jobs[1]
	j.RetentionCap = 50000
	b.Jobs[1] = j
	post(t, b, invoice(1, 1, "2026-11-01", "12000"))
	keeps := receipt("2026-11-10", 1368000, settling.Placement{Debit: 1, Most: true, Rest: settling.IsRetained})
	e, err := keeps.Plan(b)
	if err != nil || len(e.Warnings) != 1 || e.Warnings[0].Rule != "past the cap" || e.Warnings[0].Limit != "500.00" {
		t.Errorf("past the cap: %v %v", err, e.Warnings)
	}
	post(t, b, keeps)
	post(t, b, receipt("2026-11-12", 72000, settling.Placement{Debit: 4, Most: true}))
	post(t, b, settling.Returned{PaperID: 3, Day: "2026-11-15"})
	if kept := b.PartyBalance(ledger.Retention, 1); kept != 72000 {
		t.Errorf("kept back again: %d", kept)
	}
	post(t, b, settling.Returned{PaperID: 2, Day: "2026-11-16"})
	if owes, kept := b.PartyBalance(ledger.Receivables, 1), b.PartyBalance(ledger.Retention, 1); owes != 1440000 || kept != 0 {
		t.Errorf("owes %d, kept back %d", owes, kept)
	}
	if err := b.Prove(); err != nil {
		t.Error(err)
	}
}

func TestWithheld(t *testing.T) {
	b := postingtest.New()
	post(t, b, invoice(1, 0, "2026-11-01", "1000"))
	r := receipt(today, 114000, settling.Placement{Debit: 1, Most: true})
	r.Withheld = 6000
	wantEntries(t, b, post(t, b, r), "Dr 101 1140.00, Dr 135 60.00, Cr 120 1200.00")
	wantOpen(t, b, map[posting.ItemRef]money.Amount{1: 0, 2: 0, 3: 0})
	// Undone, the tax is not left on account: it is owed again.
	wantEntries(t, b, post(t, b, settling.Undo{Day: today, Allocations: []int64{2}}), "Dr 120 60.00, Cr 135 60.00")
	wantOpen(t, b, map[posting.ItemRef]money.Amount{1: 120000, 2: -114000, 3: 0})
	if _, err := b.Post(refund(6000, 3)); !postingtest.RefusedFor(err, "sources[0].amount", "no money") {
		t.Errorf("tax withheld given back: %v", err)
	}
}

func TestE16(t *testing.T) {
	b := postingtest.New()
	v := invoice(1, 0, "2026-11-01", "430")
	v.Lines[0].TaxCodeID = 3
	post(t, b, v)
	r := receipt("2026-11-10", 50000, settling.Placement{Debit: 1, Amount: 43000})
	r.OnAccount = true
	post(t, b, r)
	if _, err := b.Post(refund(7001, 2)); !postingtest.RefusedFor(err, "sources[0].amount", "more than is open") {
		t.Errorf("a refund of 70.01: %v", err)
	}
	cheque := refund(7000, 2)
	cheque.Method = posting.ByCheque
	e := post(t, b, cheque)
	wantEntries(t, b, e, "Dr 120 70.00, Cr 101 70.00")
	if owes := b.PartyBalance(ledger.Receivables, 1); owes != 0 || e.Paper().Cheque == "" {
		t.Errorf("owes %d, cheque %q", owes, e.Paper().Cheque)
	}
	if _, err := b.Post(settling.Undo{Day: today, Allocations: []int64{2}}); !postingtest.RefusedFor(err, "allocations[0]", "bound") {
		t.Errorf("undoing a refund: %v", err)
	}
	post(t, b, settling.Reversal{PaperID: 3, Day: today, Reason: "cheque lost"})
	wantOpen(t, b, map[posting.ItemRef]money.Amount{2: -7000})
}

func TestE17(t *testing.T) {
	b := postingtest.New()
	b.Firm.WriteOff = 100000
	post(t, b, invoice(1, 0, "2026-11-01", "1500"))
	post(t, b, receipt("2026-11-05", 72000, settling.Placement{Debit: 1, Amount: 72000}))
	off := settling.WriteOff{Day: "2026-11-15", Reason: "insolvent", Relief: true, Items: []settling.Share{{Item: 1, Most: true}}}
	e := post(t, b, off)
	wantSet(t, b, e, "Dr 631 900.00", "Dr 241 180.00", "Cr 120 1080.00")
	if e.Word == nil || open(b, 1) != 0 {
		t.Errorf("a second person's word: %v; open %d", e.Word, open(b, 1))
	}
	recover := func(a money.Amount) settling.Recovery {
		return settling.Recovery{WriteOffID: 3, Day: today, Amount: a, BankAccountID: 1, Method: posting.ByTransfer}
	}
	wantEntries(t, b, post(t, b, recover(54000)), "Dr 101 540.00, Cr 441 450.00, Cr 241 90.00")
	for _, c := range []struct {
		command     posting.Command
		field, rule string
	}{
		{recover(54001), "amount", "more than was written off"},
		{off, "items[0].amount", "nothing left"},
		{settling.Reversal{PaperID: 3, Day: today, Reason: "x"}, "paper", "something stands on it"},
		{settling.Reversal{PaperID: 1, Day: today, Reason: "x"}, "paper", "something stands on it"},
	} {
		if _, err := b.Post(c.command); !postingtest.RefusedFor(err, c.field, c.rule) {
			t.Errorf("%T: %v", c.command, err)
		}
	}
	wantEntries(t, b, post(t, b, recover(54000)), "Dr 101 540.00, Cr 441 450.00, Cr 241 90.00")
}

func TestAllowance(t *testing.T) {
	b := postingtest.New()
	b.Firm.Relief = true
	for _, percent := range []int64{1, 5, 20, 50, 100} {
		b.Firm.Allowance = append(b.Firm.Allowance, decimal.New(percent, 0))
	}
	post(t, b, invoice(1, 0, "2026-11-01", "1000")) // not due: 1,000.00 without its tax
	old := invoice(2, 0, "2026-08-01", "500")       // due 31 Aug, 81 days
	post(t, b, old)                                 // 500.00 without its tax
	credit := settling.Receipt{PartyID: 2, Day: "2026-11-02", Arrived: 12000, BankAccountID: 1, Method: posting.ByTransfer, OnAccount: true}
	post(t, b, credit) // 120.00 off the 600.00: 400.00 without its tax
	e := post(t, b, settling.Allowance{Day: today})
	wantEntries(t, b, e, "Dr 635 210.00, Cr 128 210.00")
	if _, err := b.Post(settling.Allowance{Day: today}); !postingtest.RefusedFor(err, "day", "no change") {
		t.Errorf("twice: %v", err)
	}
	// The allowance bears what it can of the next write-off.
	e = post(t, b, settling.WriteOff{Day: today, Reason: "gone", Relief: true, Items: []settling.Share{{Item: 2, Amount: 48000}}})
	wantSet(t, b, e, "Dr 241 80.00", "Dr 128 210.00", "Dr 631 190.00", "Cr 120 480.00")
}

func TestE18(t *testing.T) {
	b := postingtest.New()
	both := b.Parties[1]
	both.IsSupplier = true
	b.Parties[1] = both
	v := invoice(1, 0, "2026-11-01", "750") // 900.00
	post(t, b, v)
	jobCosts := b.Role(ledger.JobCosts).ID
	bill := buying.Bill{PartyID: 1, Day: "2026-11-05", Reference: "B-77", Lines: []buying.Line{{Text: "Stringers, rough cut", AccountID: jobCosts, JobID: 1, Net: 53333, TaxCodeID: 1}}}
	wantEntries(t, b, post(t, b, bill), "Dr 511 533.33, Dr 151 106.67, Cr 201 640.00")
	contra := settling.Contra{PartyID: 1, Day: today, Owed: []settling.Share{{Item: 1, Most: true}}, Owing: []settling.Share{{Item: 2, Most: true}}}
	wantEntries(t, b, post(t, b, contra), "Dr 201 640.00, Cr 120 640.00")
	wantOpen(t, b, map[posting.ItemRef]money.Amount{1: 26000, 2: 0, 3: 0, 4: 0})
	if _, err := b.Post(settling.Undo{Day: today, Allocations: []int64{1}}); !postingtest.RefusedFor(err, "allocations[0]", "bound") {
		t.Errorf("undoing a contra: %v", err)
	}
	post(t, b, settling.Reversal{PaperID: 3, Day: today, Reason: "not agreed"})
	wantOpen(t, b, map[posting.ItemRef]money.Amount{1: 90000, 2: -64000})
}

// Part 2: a subcontract of 2,000.00 where the customer accounts for the tax.
func TestBillWhereWeAccountForTheTax(t *testing.T) {
	b := postingtest.New()
	both := b.Parties[1]
	both.IsSupplier = true
	b.Parties[1] = both
	code := b.Codes[1]
	code.Kind = "customer accounts"
	b.Codes[1] = code
	e := post(t, b, buying.Bill{PartyID: 1, Day: today, Lines: []buying.Line{{Text: "Subcontract", AccountID: b.Role(ledger.JobCosts).ID, Net: 200000, TaxCodeID: 1}}})
	wantSet(t, b, e, "Dr 511 2000.00", "Dr 151 400.00", "Cr 241 400.00", "Cr 201 2000.00")
}

func TestTransfer(t *testing.T) {
	b := postingtest.New()
	r := receipt("2026-11-10", 50000)
	r.OnAccount = true
	post(t, b, r)
	e := post(t, b, settling.Transfer{Day: today, From: settling.Share{Item: 1, Most: true}, PartyID: 1, JobID: 1, AsDeposit: true})
	wantEntries(t, b, e, "Dr 120 500.00, Cr 221 500.00")
	e = post(t, b, settling.Transfer{Day: today, From: settling.Share{Item: 2, Amount: 20000}, PartyID: 2, AsDeposit: true})
	wantEntries(t, b, e, "Dr 221 200.00, Cr 221 200.00")
	if held := -b.PartyBalance(ledger.Deposits, 2); held != 20000 {
		t.Errorf("held for the other customer %d", held)
	}
	for _, c := range []struct {
		command     posting.Command
		field, rule string
	}{
		{settling.Transfer{Day: today, From: settling.Share{Item: 2, Amount: 5}, PartyID: 1, JobID: 1, AsDeposit: true}, "party", "no change"},
		{settling.Transfer{Day: today, From: settling.Share{Item: 2, Amount: 30001}, PartyID: 2}, "amount", "more than is open"},
		{settling.Transfer{Day: "2026-11-19", From: settling.Share{Item: 2, Amount: 5}, PartyID: 2}, "amount", "before the item"},
		{settling.Transfer{Day: today, From: settling.Share{Item: 2, Amount: 5}, PartyID: 2, JobID: 1}, "job", "another customer's job"},
	} {
		if _, err := b.Post(c.command); !postingtest.RefusedFor(err, c.field, c.rule) {
			t.Errorf("%+v: %v", c.command, err)
		}
	}
}

// Money that was not identified is given to two customers, and a part is sent
// back; the bank's day counts for the discount.
func TestDistribute(t *testing.T) {
	b := discounted(t)
	u := settling.Unidentified{Day: "2026-11-09", Amount: 200000, BankAccountID: 1, Method: posting.ByTransfer, Reference: "??"}
	wantEntries(t, b, post(t, b, u), "Dr 101 2000.00, Cr 224 2000.00")
	e := post(t, b, settling.Distribute{From: 2, Day: today, SendBack: 32400,
		Receipts: []settling.Receipt{{PartyID: 1, Arrived: 117600, Placements: []settling.Placement{{Debit: 1, Most: true, Discount: true}}}},
		Deposits: []settling.Deposit{{PartyID: 2, JobID: 2, Amount: 50000}}, BankAccountID: 1, Method: posting.ByTransfer})
	wantEntries(t, b, e, "Dr 224 500.00, Cr 221 500.00", "Dr 224 1176.00, Dr 491 20.00, Dr 241 4.00, Cr 120 1200.00", "Dr 224 324.00, Cr 101 324.00")
	wantOpen(t, b, map[posting.ItemRef]money.Amount{1: 0, 2: 0})
	if _, err := b.Post(settling.Reversal{PaperID: 2, Day: today, Reason: "x"}); !postingtest.RefusedFor(err, "paper", "something stands on it") {
		t.Errorf("reversing what was identified: %v", err)
	}

	b = postingtest.New() // one transfer for two customers
	share := func(party int64, a money.Amount) settling.Receipt {
		return settling.Receipt{PartyID: party, Arrived: a, OnAccount: true}
	}
	one := settling.Distribute{Day: today, Amount: 30000, BankAccountID: 1, Method: posting.ByTransfer, Reference: "for both", Receipts: []settling.Receipt{share(1, 10000), share(2, 20000)}}
	e = post(t, b, one)
	if len(e.Papers) != 2 || e.Papers[0].Number == e.Papers[1].Number {
		t.Errorf("papers %v", e.Papers)
	}
	one.Amount = 30001
	if _, err := b.Post(one); !postingtest.RefusedFor(err, "amount", "sums differ") {
		t.Errorf("shares that do not agree: %v", err)
	}
}

func TestSmallCredit(t *testing.T) {
	b := postingtest.New()
	b.Firm.Difference = 50
	r := receipt("2026-11-10", 4)
	r.OnAccount = true
	post(t, b, r)
	e := post(t, b, settling.WriteOff{Day: today, Reason: "nobody will claim it", Items: []settling.Share{{Item: 1, Most: true}}})
	wantEntries(t, b, e, "Dr 120 0.04, Cr 641 0.04")
}

func TestJournal(t *testing.T) {
	b := postingtest.New()
	receivables, opening, deposits := b.Role(ledger.Receivables).ID, b.Role(ledger.Opening).ID, b.Role(ledger.Deposits).ID
	entry := func(lines ...journal.Line) journal.Journal {
		return journal.Journal{Day: today, Text: "By hand", Lines: lines}
	}
	e := post(t, b, entry(journal.Line{AccountID: receivables, Debit: 5000, PartyID: 1}, journal.Line{AccountID: opening, Credit: 5000}))
	wantEntries(t, b, e, "Dr 120 50.00, Cr 391 50.00")
	wantOpen(t, b, map[posting.ItemRef]money.Amount{1: 5000})
	for _, c := range []struct {
		command     posting.Command
		field, rule string
	}{
		{entry(journal.Line{AccountID: receivables, Debit: 5000, PartyID: 1}, journal.Line{AccountID: opening, Credit: 4999}), "lines", "does not balance"},
		{entry(journal.Line{AccountID: receivables, Debit: 5000}, journal.Line{AccountID: opening, Credit: 5000}), "lines[0].party", "missing"},
		{entry(journal.Line{AccountID: deposits, Debit: 5000, PartyID: 1}, journal.Line{AccountID: opening, Credit: 5000}), "lines[0].account", "control account"},
		{entry(journal.Line{AccountID: opening, Debit: 5000, Credit: 5000}, journal.Line{AccountID: opening, Credit: 5000}), "lines[0].debit", "one side"},
	} {
		if _, err := b.Post(c.command); !postingtest.RefusedFor(err, c.field, c.rule) {
			t.Errorf("%+v: %v", c.command, err)
		}
	}
}

func TestPropose(t *testing.T) {
	b := discounted(t)                             // 1: 1,200.00 with 2 % until 11 Nov
	post(t, b, invoice(1, 1, "2026-11-02", "500")) // 2: 600.00, job 1
	post(t, b, invoice(1, 0, "2026-10-02", "100")) // 3: 120.00, the oldest
	say := func(a settling.Arrival) string {
		a.Day = max(a.Day, "2026-11-05")
		var all []string
		for _, p := range settling.Propose(b, b.Open, a) {
			all = append(all, fmt.Sprintf("%d %d %v %s", p.Item, p.Amount, p.Discount, p.Reason))
		}
		return strings.Join(all, "; ")
	}
	for name, c := range map[string]struct {
		a    settling.Arrival
		want string
	}{
		"reference":           {settling.Arrival{Amount: 60000, Reference: "your I26-0002, thanks"}, "2 60000 false the reference names it"},
		"exact":               {settling.Arrival{Amount: 60000}, "2 60000 false exactly what is open"},
		"exact with discount": {settling.Arrival{Amount: 117600}, "1 117600 true exactly what is open, less its discount"},
		"all with discount":   {settling.Arrival{Amount: 117600 + 58800 + 12000}, "3 12000 false all that is open, to the cent; 1 117600 true all that is open, to the cent, less its discount; 2 58800 true all that is open, to the cent, less its discount"},
		"job":                 {settling.Arrival{Amount: 10000, JobID: 1}, "2 10000 false the same job"},
		"oldest":              {settling.Arrival{Amount: 15000, Day: "2026-11-20"}, "3 12000 false oldest due; 1 3000 false next oldest due"},
	} {
		if got := say(c.a); got != c.want {
			t.Errorf("%s: %s, want %s", name, got, c.want)
		}
	}
}

func TestDispute(t *testing.T) {
	b := postingtest.New()
	post(t, b, invoice(1, 0, "2026-11-01", "1000"))
	post(t, b, settling.Dispute{Item: 1, Day: today, Reason: "scratched tread"})
	if d := b.Disputes(1); len(d) != 1 || d[0].Reason != "scratched tread" {
		t.Errorf("dispute %+v", d)
	}
	post(t, b, settling.Dispute{Item: 1, Day: today, End: true})
	if _, err := b.Post(settling.Dispute{Item: 1, Day: today, End: true}); !postingtest.RefusedFor(err, "item", "not disputed") {
		t.Errorf("ended twice: %v", err)
	}
}
