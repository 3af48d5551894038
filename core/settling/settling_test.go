package settling_test

import (
	"fmt"
	"slices"
	"testing"

	"cleantally/core/billing"
	"cleantally/core/day"
	"cleantally/core/ledger"
	"cleantally/core/master"
	"cleantally/core/money"
	"cleantally/core/posting"
	"cleantally/core/posting/postingtest"
	"cleantally/core/settling"

	"github.com/shopspring/decimal"
)

const today = day.Day("2026-11-20")

func post(t *testing.T, b *postingtest.Book, c posting.Command) posting.Effect {
	t.Helper()
	e, err := b.Post(c)
	if err != nil {
		t.Fatalf("%+v: %v", c, err)
	}
	return e
}

func wantEntries(t *testing.T, b *postingtest.Book, e posting.Effect, want ...string) {
	t.Helper()
	if got := postingtest.Lines(b, e); !postingtest.Same(got, want) {
		t.Errorf("entries %q, want %q", got, want)
	}
}

func invoice(party, job int64, d day.Day, net string) billing.Invoice {
	return billing.Invoice{PartyID: party, JobID: job, Day: d, Lines: []posting.Line{
		{Text: "Oak helical stair", Quantity: decimal.New(1, 0), UnitPrice: decimal.RequireFromString(net), TaxCodeID: 1}}}
}

func deposit(d day.Day, a money.Amount) settling.Deposit {
	return settling.Deposit{PartyID: 1, JobID: 1, Day: d, Amount: a, BankAccountID: 1, Method: posting.ByTransfer}
}

func receipt(d day.Day, a money.Amount, on ...settling.Placement) settling.Receipt {
	return settling.Receipt{PartyID: 1, Day: d, Arrived: a, BankAccountID: 1, Method: posting.ByTransfer, Placements: on}
}

// E-2, as far as a deposit is set against an invoice.
func TestE2(t *testing.T) {
	b := postingtest.New()
	e := post(t, b, deposit("2026-11-01", 120000))
	wantEntries(t, b, e, "Dr 101 1200.00, Cr 221 1200.00")
	if owes := b.PartyBalance(ledger.Receivables, 1); owes != 0 {
		t.Errorf("the receivable moved by %d", owes)
	}
	post(t, b, invoice(1, 1, "2026-11-10", "1000"))
	e = post(t, b, settling.SetAgainst{Day: "2026-11-12", Pairs: []settling.Pair{{Debit: 2, Credit: 1, Amount: 40000}}})
	wantEntries(t, b, e, "Dr 221 400.00, Cr 120 400.00")
	if held := -b.Left(1); held != 80000 {
		t.Errorf("still held %d", held)
	}
}

func TestE3(t *testing.T) {
	b := postingtest.New()
	post(t, b, invoice(1, 0, "2026-11-01", "1000")) // A, 1,200.00
	post(t, b, invoice(1, 0, "2026-11-02", "750"))  // B, 900.00
	r := receipt("2026-11-10", 198500, settling.Placement{Debit: 1, Amount: 120000}, settling.Placement{Debit: 2, Amount: 80000})
	r.Charges = 1500
	e := post(t, b, r)
	wantEntries(t, b, e, "Dr 101 1985.00, Dr 621 15.00, Cr 120 2000.00")
	if b.Left(1) != 0 || b.Left(2) != 10000 || b.Left(3) != 0 {
		t.Errorf("open: A %d, B %d, receipt %d", b.Left(1), b.Left(2), b.Left(3))
	}
}

func TestE6(t *testing.T) {
	b := postingtest.New()
	r := receipt("2026-10-03", 100000)
	r.OnAccount = true
	post(t, b, r)
	post(t, b, deposit("2026-06-09", 250000))
	v := invoice(1, 1, "2026-11-20", "6200")
	v.SetAgainst = []billing.Use{{Credit: 1, Amount: 100000}, {Credit: 2, Amount: 180000}}
	e := post(t, b, v)
	wantEntries(t, b, e, "Dr 120 7440.00, Cr 401 6200.00, Cr 241 1240.00", "Dr 221 1800.00, Cr 120 1800.00")
	last := settling.SetAgainst{Day: today, Pairs: []settling.Pair{{Debit: 3, Credit: 2, Amount: 70000}}}
	shown, err := last.Plan(b)
	if err != nil {
		t.Fatal(err)
	}
	balances := posting.Balances(b, shown)
	e = post(t, b, last)
	wantEntries(t, b, e, "Dr 221 700.00, Cr 120 700.00")
	if b.Left(3) != 394000 || b.Left(2) != 0 {
		t.Errorf("left to pay %d, deposit %d", b.Left(3), b.Left(2))
	}
	want := posting.Balance{Kind: "item", ID: 3, Name: "I26-0001", What: "open", Before: 464000, After: 394000}
	if !slices.Contains(balances, want) {
		t.Errorf("balances %+v lack %+v", balances, want)
	}
}

// Part 7: 1,000.00 was open, 600.00 allocated on the 5th and undone on the
// 20th: on the 10th at most 400.00 can be dated.
func TestWithinWhatIsOpenOnEveryDay(t *testing.T) {
	b := postingtest.New()
	post(t, b, invoice(1, 0, "2026-11-01", "5000"))
	post(t, b, deposit("2026-11-01", 100000))
	post(t, b, settling.SetAgainst{Day: "2026-11-05", Pairs: []settling.Pair{{Debit: 1, Credit: 2, Amount: 60000}}})
	post(t, b, settling.Undo{Day: "2026-11-20", Allocations: []int64{1}})
	_, err := b.Post(settling.SetAgainst{Day: "2026-11-10", Pairs: []settling.Pair{{Debit: 1, Credit: 2, Amount: 40001}}})
	if !postingtest.RefusedFor(err, "pairs[0].amount", "more than is open") {
		t.Errorf("400.01 on the 10th: %v", err)
	}
	post(t, b, settling.SetAgainst{Day: "2026-11-10", Pairs: []settling.Pair{{Debit: 1, Credit: 2, Amount: 40000}}})
	post(t, b, settling.SetAgainst{Day: "2026-11-20", Pairs: []settling.Pair{{Debit: 1, Credit: 2, Amount: 60000}}})
}

func TestReversal(t *testing.T) {
	b := postingtest.New()
	post(t, b, invoice(1, 1, "2026-11-01", "1000"))
	post(t, b, deposit("2026-11-02", 50000))
	post(t, b, settling.SetAgainst{Day: "2026-11-03", Pairs: []settling.Pair{{Debit: 1, Credit: 2, Amount: 50000}}})
	e := post(t, b, settling.Reversal{PaperID: 1, Day: today, Reason: "wrong job"})
	wantEntries(t, b, e, "Cr 120 1200.00, Dr 401 1000.00, Dr 241 200.00", "Cr 221 500.00, Dr 120 500.00")
	if b.Left(1) != 0 || b.Left(2) != -50000 || b.Left(3) != 0 || b.JobBilled(1) != 0 {
		t.Errorf("open %d, %d, %d; billed %d", b.Left(1), b.Left(2), b.Left(3), b.JobBilled(1))
	}
	for _, c := range []struct {
		command posting.Command
		field   string
		rule    string
	}{
		{settling.Reversal{PaperID: 1, Day: today, Reason: "again"}, "paper", "reversed already"},
		{settling.Reversal{PaperID: 3, Day: today, Reason: "back"}, "paper", "a reversal"},
		{settling.Reversal{PaperID: 2, Day: "2026-11-01", Reason: "early"}, "day", "before the paper"},
		{settling.Reversal{PaperID: 2, Day: today}, "reason", "missing"},
		{settling.Undo{Day: today, Allocations: []int64{1}}, "allocations[0]", "undone already"},
		{settling.Undo{Day: today, Allocations: []int64{3}}, "allocations[0]", "part of a reversal"},
	} {
		if _, err := b.Post(c.command); !postingtest.RefusedFor(err, c.field, c.rule) {
			t.Errorf("%+v: %v", c.command, err)
		}
	}
}

func TestRefusals(t *testing.T) {
	b := postingtest.New()
	post(t, b, invoice(1, 0, "2026-11-01", "1000"))
	post(t, b, invoice(2, 0, "2026-11-01", "1000"))
	post(t, b, deposit("2026-11-02", 50000))
	b.Lock = "2026-10-31"
	b.Parties[3] = b.Parties[1]
	gone := b.Parties[1]
	gone.ID, gone.Inactive = 3, true
	b.Parties[3] = gone
	noCode, both, minus := invoice(1, 0, today, "10"), invoice(1, 0, today, "10"), invoice(1, 0, today, "-10")
	noCode.Lines[0].TaxCodeID = 9
	both.Lines[0].Discount, both.Lines[0].DiscountPercent = 1, decimal.New(1, 0)
	taken := invoice(1, 0, today, "10")
	taken.Number = "I26-0001"
	bankLine := invoice(1, 0, today, "10")
	bankLine.Lines[0].AccountID = 1
	dueEarly := invoice(1, 0, today, "10")
	dueEarly.Due = "2026-11-01"
	pair := func(debit, credit posting.ItemRef, a money.Amount, d day.Day) posting.Command {
		return settling.SetAgainst{Day: d, Pairs: []settling.Pair{{Debit: debit, Credit: credit, Amount: a}}}
	}
	for _, c := range []struct {
		command     posting.Command
		field, rule string
	}{
		{deposit(today, 0), "amount", "above nil"},
		{deposit(today, -5), "amount", "above nil"},
		{deposit("2026-02-31", 5), "day", "no such day"},
		{deposit("", 5), "day", "no such day"},
		{deposit("2026-10-31", 5), "day", "locked"},
		{deposit(today, money.Limit+1), "amount", "too large"},
		{settling.Deposit{PartyID: 3, Day: today, Amount: 5, BankAccountID: 1, Method: posting.ByCash}, "party", "not in use"},
		{settling.Deposit{PartyID: 1, JobID: 2, Day: today, Amount: 5, BankAccountID: 1, Method: posting.ByCash}, "job", "another customer's job"},
		{settling.Deposit{PartyID: 1, Day: today, Amount: 5, BankAccountID: 99, Method: posting.ByCash}, "bank", "missing"},
		{settling.Deposit{PartyID: 1, Day: today, Amount: 5, BankAccountID: 1, Method: "barter"}, "method", "missing"},
		{receipt(today, 10000), "onAccount", "not placed"},
		{receipt(today, 10000, settling.Placement{Debit: 1, Amount: 10001}), "placements[0].amount", "more than arrived"},
		{receipt(today, 200000, settling.Placement{Debit: 1, Amount: 120001}), "placements[0].amount", "more than is open"},
		{receipt(today, 200000, settling.Placement{Debit: 2, Amount: 5}), "placements[0].amount", "another customer's credit"},
		{receipt(today, 200000, settling.Placement{Debit: 3, Amount: 5}), "placements[0].amount", "missing"},
		{pair(1, 3, 50001, today), "pairs[0].amount", "more than is open"},
		{pair(2, 3, 5, today), "pairs[0].amount", "another customer's credit"},
		{pair(1, 3, 0, today), "pairs[0].amount", "above nil"},
		{pair(1, 3, 5, "2026-11-01"), "pairs[0].amount", "before the item"},
		{settling.SetAgainst{Day: today}, "pairs", "missing"},
		{noCode, "lines[0].taxCode", "missing"},
		{both, "lines[0].discount", "one discount"},
		{minus, "lines", "above nil"},
		{taken, "number", "taken"},
		{bankLine, "lines[0].account", "not income"},
		{dueEarly, "due", "before the paper"},
		{billing.Invoice{PartyID: 1, Day: today}, "lines", "missing"},
		{invoice(1, 0, today, "0"), "lines", "above nil"},
	} {
		before := fmt.Sprint(b)
		if _, err := b.Post(c.command); !postingtest.RefusedFor(err, c.field, c.rule) {
			t.Errorf("%+v: want %s %q, got %v", c.command, c.field, c.rule, err)
		}
		if fmt.Sprint(b) != before {
			t.Errorf("%+v: a refusal changed the books", c.command)
		}
	}
}

func TestWarnings(t *testing.T) {
	b := postingtest.New()
	d := deposit("2026-08-01", 5000)
	d.Reference = "TRF 881"
	post(t, b, d)
	job := b.Jobs[1]
	job.Closed = true
	b.Jobs[1] = job
	for rule, c := range map[string]posting.Command{
		"in the future": deposit("2026-11-21", 5), "long past": deposit("2026-09-20", 5), "closed job": deposit(today, 5),
		"paid twice?": settling.Deposit{PartyID: 1, Day: "2026-10-20", Amount: 5000, Reference: "TRF 881", BankAccountID: 1, Method: posting.ByCash},
	} {
		e, err := c.Plan(b)
		if err != nil || !slices.ContainsFunc(e.Warnings, func(n posting.Notice) bool { return n.Rule == rule }) {
			t.Errorf("%s: %+v, %v", rule, e.Warnings, err)
		}
	}
}

// Instalments: the earliest is settled first unless one chooses.
func TestInstalments(t *testing.T) {
	b := postingtest.New()
	half := decimal.New(50, 0)
	terms := master.Terms{ID: 1, Kind: master.InInstalments, Instalments: []master.Instalment{{Percent: half, Days: 10}, {Percent: half, Days: 40}}}
	b.TermsList[1] = terms
	post(t, b, deposit("2026-11-01", 70000))
	v := invoice(1, 0, "2026-11-10", "1000.01")
	v.Lines[0].TaxCodeID = 3
	v.SetAgainst = []billing.Use{{Credit: 1, Amount: 60000}}
	post(t, b, v)
	if b.Open[1].Amount.Own != 50001 || b.Left(2) != 0 || b.Open[2].Amount.Own != 50000 || b.Left(3) != 40001 || b.Open[2].Due != "2026-12-20" {
		t.Errorf("parts %+v", b.Open[1:])
	}
}
