package settling_test

import (
	"cmp"
	"fmt"
	"slices"
	"strings"
	"testing"

	"cleantally/core/billing"
	"cleantally/core/buying"
	"cleantally/core/closing"
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

// abroad is a book in EUR with dollars, pounds, yen and dinars in use: bank
// account 4 is in dollars (102), 5 in pounds (103), 6 in yen (104).
func abroad() *postingtest.Book {
	b := postingtest.New()
	b.Currencies = map[string]bool{"USD": true, "GBP": true, "JPY": true, "BHD": true}
	for _, r := range []struct {
		code string
		day  day.Day
		rate string
	}{{"USD", "2026-11-01", "0.90"}, {"USD", "2026-11-10", "0.92"}, {"USD", "2026-11-18", "0.88"}, {"GBP", "2026-11-01", "1.15"}, {"JPY", "2026-11-01", "0.0061"}, {"BHD", "2026-11-01", "2.45"}} {
		b.RateList = append(b.RateList, posting.Rate{Currency: r.code, Day: r.day, Rate: decimal.RequireFromString(r.rate)})
	}
	for n, code := range []string{"USD", "GBP", "JPY"} {
		id := int64(len(b.Accounts) + 1)
		b.Accounts[id] = ledger.Account{ID: id, Number: fmt.Sprint(102 + n), Name: code + " account", Type: ledger.Asset}
		b.Banks[int64(4+n)] = ledger.BankAccount{ID: int64(4 + n), Name: code + " account", AccountID: id, Currency: code}
	}
	p := b.Parties[2]
	p.IsSupplier = true
	b.Parties[2] = p
	return b
}

const (
	inEUR     = 1
	inDollars = 4
	inPounds  = 5
	inYen     = 6
)

func rate(s string) decimal.Decimal { return decimal.RequireFromString(s) }

// abroadInvoice bills a net at 20 %, or without tax where the code is 3.
func abroadInvoice(code, net string, tax int64, d day.Day, at string) billing.Invoice {
	v := invoice(1, 0, d, net)
	v.Currency, v.Lines[0].TaxCodeID = code, tax
	if at != "" {
		v.Rate = rate(at)
	}
	return v
}

func paidAbroad(d day.Day, bank int64, arrived money.Amount, at string, on ...settling.Placement) settling.Receipt {
	r := receipt(d, arrived, on...)
	r.BankAccountID = bank
	if at != "" {
		r.Rate = rate(at)
	}
	return r
}

// inSum is what an effect enters in all, by account, as the examples tell it.
func inSum(b *postingtest.Book, e posting.Effect) string {
	sums := map[string]money.Amount{}
	for _, entry := range e.Entries {
		for _, l := range entry.Lines {
			a, _ := b.Account(l.AccountID)
			sums[a.Number] += l.Amount
		}
	}
	var parts []string
	for number, amount := range sums {
		side := "Dr"
		if amount < 0 {
			side = "Cr"
		}
		if amount != 0 {
			parts = append(parts, side+" "+number+" "+b.Currency().Format(amount.Abs()))
		}
	}
	slices.SortFunc(parts, func(x, y string) int { return cmp.Or(-cmp.Compare(x[:2], y[:2]), cmp.Compare(x, y)) })
	return strings.Join(parts, ", ")
}

func wantSum(t *testing.T, b *postingtest.Book, e posting.Effect, want string) {
	t.Helper()
	if got := inSum(b, e); got != want {
		t.Errorf("enters %s, want %s", got, want)
	}
	if err := b.Prove(); err != nil {
		t.Error(err)
	}
}

func TestE20(t *testing.T) {
	b := abroad()
	wantSum(t, b, post(t, b, abroadInvoice("USD", "1000", 3, "2026-11-02", "0.90")), "Dr 120 900.00, Cr 401 900.00")
	wantSum(t, b, post(t, b, paidAbroad("2026-11-12", inDollars, 60000, "0.92", settling.Placement{Debit: 1, Amount: 60000})), "Dr 102 552.00, Cr 120 540.00, Cr 691 12.00")
	wantSum(t, b, post(t, b, paidAbroad("2026-11-18", inDollars, 40000, "0.88", settling.Placement{Debit: 1, Most: true})), "Dr 102 352.00, Dr 691 8.00, Cr 120 360.00")
	wantOpen(t, b, map[posting.ItemRef]money.Amount{1: 0})
}

func TestE21(t *testing.T) {
	b := abroad()
	b.RateList = append(b.RateList, posting.Rate{Currency: "USD", Day: "2026-10-31", Rate: rate("0.94")})
	wantSum(t, b, post(t, b, abroadInvoice("USD", "1000", 3, "2026-10-02", "0.90")), "Dr 120 900.00, Cr 401 900.00")
	// What is held is not revalued; money at the bank is, as what is owed.
	dollars := settling.Deposit{PartyID: 1, Day: "2026-10-05", Amount: 50000, Rate: rate("0.90"), BankAccountID: inDollars, Method: posting.ByTransfer}
	e := post(t, b, closing.Revalue{Day: "2026-10-31"})
	wantEntries(t, b, e, "Dr 138 40.00, Cr 691 40.00", "Dr 691 40.00, Cr 138 40.00")
	if e.Entries[0].Day != "2026-10-31" || e.Entries[1].Day != "2026-11-01" {
		t.Errorf("dated %s and %s", e.Entries[0].Day, e.Entries[1].Day)
	}
	if _, err := b.Post(closing.Revalue{Day: "2026-10-31"}); !postingtest.RefusedFor(err, "day", "done already") {
		t.Errorf("twice: %v", err)
	}
	wantEntries(t, b, post(t, b, settling.Reversal{PaperID: 2, Day: "2026-10-31", Reason: "another rate"}), "Dr 691 40.00, Cr 138 40.00", "Dr 138 40.00, Cr 691 40.00")
	post(t, b, dollars)
	e = post(t, b, closing.Revalue{Day: "2026-10-31", Rates: []posting.Rate{{Currency: "USD", Rate: rate("0.95")}}})
	wantEntries(t, b, e, "Dr 138 50.00, Dr 138 25.00, Cr 691 50.00, Cr 691 25.00", "Dr 691 50.00, Dr 691 25.00, Cr 138 50.00, Cr 138 25.00")
	if err := b.Prove(); err != nil {
		t.Error(err)
	}
	if _, err := b.Post(closing.Revalue{Day: "2026-09-30"}); !postingtest.RefusedFor(err, "day", "nothing to revalue") {
		t.Errorf("nothing open: %v", err)
	}
}

// A step of a case of the worked table: a command, and what it enters in all.
type step struct {
	command posting.Command
	want    string
}

// Twenty cases of our own (docs/rules.md, part 8), each with its arithmetic.
var casesAbroad = map[string][]step{
	// 1. 1,000.00 + 200.00 at 0.913: 1,095.60 owed, 182.60 of it tax, the income the rest, 913.00.
	"01 invoice with tax": {{abroadInvoice("USD", "1000", 1, "2026-11-02", "0.913"), "Dr 120 1095.60, Cr 241 182.60, Cr 401 913.00"}},
	// 2. The rate of the day is the newest that is not after it: 0.92 of 10 Nov. 333.33 + 66.67 = 400.00, worth 368.00; tax 61.34 (61.3364), the income 306.66, not 306.6636 rounded by itself.
	"02 the newest rate, the income takes the rest": {{abroadInvoice("USD", "333.33", 1, "2026-11-15", ""), "Dr 120 368.00, Cr 241 61.34, Cr 401 306.66"}},
	// 3. Of 300.00 at 0.90 three times 100.00: 90.00 goes each time. At 0.91, 0.92 and 0.89 come 91.00, 92.00 and 89.00.
	"03 three parts": {
		{abroadInvoice("USD", "300", 3, "2026-11-02", "0.90"), "Dr 120 270.00, Cr 401 270.00"},
		{paidAbroad("2026-11-03", inDollars, 10000, "0.91", settling.Placement{Debit: 1, Amount: 10000}), "Dr 102 91.00, Cr 120 90.00, Cr 691 1.00"},
		{paidAbroad("2026-11-04", inDollars, 10000, "0.92", settling.Placement{Debit: 1, Amount: 10000}), "Dr 102 92.00, Cr 120 90.00, Cr 691 2.00"},
		{paidAbroad("2026-11-05", inDollars, 10000, "0.89", settling.Placement{Debit: 1, Amount: 10000}), "Dr 102 89.00, Dr 691 1.00, Cr 120 90.00"}},
	// 4. 100.01 at 0.9001 is 90.02 (90.019001). A third, 33.34, is 30.01 (33.34 × 90.02 ÷ 100.01 = 30.0096…), the same again of the 60.01 that is left 30.01 (33.34 × 60.01 ÷ 66.67 = 30.0095), the last takes 30.00.
	"04 the rest of the base value goes with the last": {
		{abroadInvoice("USD", "100.01", 3, "2026-11-02", "0.9001"), "Dr 120 90.02, Cr 401 90.02"},
		{paidAbroad("2026-11-03", inDollars, 3334, "0.9001", settling.Placement{Debit: 1, Amount: 3334}), "Dr 102 30.01, Cr 120 30.01"},
		{paidAbroad("2026-11-04", inDollars, 3334, "0.9001", settling.Placement{Debit: 1, Amount: 3334}), "Dr 102 30.01, Cr 120 30.01"},
		{paidAbroad("2026-11-05", inDollars, 3333, "0.9001", settling.Placement{Debit: 1, Amount: 3333}), "Dr 102 30.00, Cr 120 30.00"}},
	// 5. Into an account in EUR: 905.00 arrives for all of 1,000.00 at 0.90.
	"05 into the firm's currency": {
		{abroadInvoice("USD", "1000", 3, "2026-11-02", "0.90"), "Dr 120 900.00, Cr 401 900.00"},
		{paidAbroad("2026-11-12", inEUR, 90500, "", settling.Placement{Debit: 1, Amount: 100000, Takes: 90500}), "Dr 101 905.00, Cr 120 900.00, Cr 691 5.00"}},
	// 6. Into an account in pounds: 790.00 at 1.15 are 908.50.
	"06 into a third currency": {
		{abroadInvoice("USD", "1000", 3, "2026-11-02", "0.90"), "Dr 120 900.00, Cr 401 900.00"},
		{paidAbroad("2026-11-12", inPounds, 79000, "", settling.Placement{Debit: 1, Amount: 100000, Takes: 79000}), "Dr 103 908.50, Cr 120 900.00, Cr 691 8.50"}},
	// 7. Dollars for an invoice in EUR: 1,000.00 at 0.92 are 920.00, for 915.00.
	"07 dollars for the firm's currency": {
		{abroadInvoice("", "915", 3, "2026-11-02", ""), "Dr 120 915.00, Cr 401 915.00"},
		{paidAbroad("2026-11-12", inDollars, 100000, "", settling.Placement{Debit: 1, Amount: 91500, Takes: 100000}), "Dr 102 920.00, Cr 120 915.00, Cr 691 5.00"}},
	// 8. One receipt in EUR over two invoices in dollars and one in EUR, with a fee of 10.00 and 45.00 too much: 905.00 + 450.00 + 100.00 + 45.00 = 1,490.00 + 10.00.
	"08 one receipt over several currencies": {
		{abroadInvoice("USD", "1000", 3, "2026-11-02", "0.90"), "Dr 120 900.00, Cr 401 900.00"},
		{abroadInvoice("USD", "500", 3, "2026-11-03", "0.91"), "Dr 120 455.00, Cr 401 455.00"},
		{abroadInvoice("", "100", 3, "2026-11-04", ""), "Dr 120 100.00, Cr 401 100.00"},
		{settling.Receipt{PartyID: 1, Day: "2026-11-12", Arrived: 149000, Charges: 1000, BankAccountID: inEUR, Method: posting.ByTransfer, OnAccount: true,
			Placements: []settling.Placement{{Debit: 1, Amount: 100000, Takes: 90500}, {Debit: 2, Amount: 50000, Takes: 45000}, {Debit: 3, Amount: 10000}}}, "Dr 101 1490.00, Dr 621 10.00, Cr 120 1500.00"}},
	// 9. A portal kept 40.00 of 1,000.00: 960.00 at 0.92 are 883.20, 40.00 are 36.80; the invoice stood at 900.00.
	"09 other differences": {
		{abroadInvoice("USD", "1000", 3, "2026-11-02", "0.90"), "Dr 120 900.00, Cr 401 900.00"},
		{settling.Receipt{PartyID: 1, Day: "2026-11-12", Arrived: 96000, BankAccountID: inDollars, Method: posting.ByTransfer, Differences: []settling.Difference{{AccountID: overheads, Text: "Commission", Amount: 4000}},
			Placements: []settling.Placement{{Debit: 1, Amount: 100000}}}, "Dr 102 883.20, Dr 601 36.80, Cr 120 900.00, Cr 691 20.00"}},
	// 10. 2 % of 1,200.00 at 0.90 within 10 days: 24.00 are 21.60, its tax 3.60, by portions of 1,080.00 and 180.00; 1,176.00 at 0.92 are 1,081.92.
	"10 early discount": {
		{abroadInvoice("USD", "1000", 1, "2026-11-02", "0.90"), "Dr 120 1080.00, Cr 241 180.00, Cr 401 900.00"},
		{paidAbroad("2026-11-10", inDollars, 117600, "0.92", settling.Placement{Debit: 1, Amount: 117600, Discount: true}), "Dr 102 1081.92, Dr 241 3.60, Dr 491 18.00, Cr 120 1080.00, Cr 691 23.52"}},
	// 11. A deposit of 500.00 at 0.90 (450.00), 200.00 of it given back (180.00) when the account holds 500.00 at 450.00: no difference; 100.00 kept: 90.00.
	"11 a deposit given back and kept": {
		{settling.Deposit{PartyID: 1, Day: "2026-11-02", Amount: 50000, BankAccountID: inDollars, Method: posting.ByTransfer}, "Dr 102 450.00, Cr 221 450.00"},
		{settling.Refund{Day: "2026-11-12", Sources: []settling.Share{{Item: 1, Amount: 20000}}, BankAccountID: inDollars, Method: posting.ByTransfer}, "Dr 221 180.00, Cr 102 180.00"},
		{settling.Forfeit{Day: "2026-11-12", Deposit: settling.Share{Item: 1, Amount: 10000}}, "Dr 221 90.00, Cr 421 90.00"}},
	// 12. The account holds 1,000.00 at 0.90 and 1,000.00 at 0.92, 1,820.00 in all; 500.00 of it are 455.00. The deposit was worth 450.00.
	"12 money leaves by portions of what the account holds": {
		{settling.Deposit{PartyID: 1, Day: "2026-11-02", Amount: 100000, BankAccountID: inDollars, Method: posting.ByTransfer}, "Dr 102 900.00, Cr 221 900.00"},
		{settling.Deposit{PartyID: 1, Day: "2026-11-10", Amount: 100000, BankAccountID: inDollars, Method: posting.ByTransfer}, "Dr 102 920.00, Cr 221 920.00"},
		{settling.Refund{Day: "2026-11-12", Sources: []settling.Share{{Item: 1, Amount: 50000}}, BankAccountID: inDollars, Method: posting.ByTransfer}, "Dr 221 450.00, Dr 691 5.00, Cr 102 455.00"}},
	// 13. A deposit of 600.00 at 0.90 (540.00) set against an invoice of 1,200.00 at 0.92 in its own posting: 540.00 and 600.00 × 0.92 = 552.00 are owed; tax 100.00 × 0.90 + 100.00 × 0.92 = 182.00; the income is the rest, 910.00. Then Dr deposits 540.00.
	"13 a deposit set against in the same posting": {
		{settling.Deposit{PartyID: 1, Day: "2026-11-02", Amount: 60000, BankAccountID: inDollars, Method: posting.ByTransfer}, "Dr 102 540.00, Cr 221 540.00"},
		{with(abroadInvoice("USD", "1000", 1, "2026-11-12", "0.92"), billing.Use{Credit: 1, Most: true}), "Dr 120 552.00, Dr 221 540.00, Cr 241 182.00, Cr 401 910.00"}},
	// 14. The same set against later: the invoice is worth 1,104.00; of it goes the half, 552.00, for 540.00: 12.00 to exchange.
	"14 a deposit set against later": {
		{settling.Deposit{PartyID: 1, Day: "2026-11-02", Amount: 60000, BankAccountID: inDollars, Method: posting.ByTransfer}, "Dr 102 540.00, Cr 221 540.00"},
		{abroadInvoice("USD", "1000", 1, "2026-11-12", "0.92"), "Dr 120 1104.00, Cr 241 184.00, Cr 401 920.00"},
		{settling.SetAgainst{Day: "2026-11-13", Pairs: []settling.Pair{{Debit: 2, Credit: 1, Amount: 60000}}}, "Dr 221 540.00, Dr 691 12.00, Cr 120 552.00"}},
	// 15. Billed in advance 1,000.00 + 200.00 at 0.90: 900.00 + 180.00. The final invoice of 5,000.00 + 1,000.00 at 0.95 takes it off: 4,800.00 are owed, 4,560.00; tax 800.00, 760.00; advances leave at 900.00, and the income that they cover is taken at it: 4,700.00.
	"15 advances leave as they came in": {
		{billing.DepositInvoice{PartyID: 1, Day: "2026-11-02", Currency: "USD", Rate: rate("0.90"), Lines: []billing.AdvanceLine{{Text: "In advance", Net: 100000, TaxCodeID: 1}}}, "Dr 120 1080.00, Cr 227 900.00, Cr 241 180.00"},
		{deducting(abroadInvoice("USD", "5000", 1, "2026-11-12", "0.95"), 1), "Dr 120 4560.00, Dr 227 900.00, Cr 241 760.00, Cr 401 4700.00"}},
	// 16. 5 % of the gross of 12,000.00 + 2,400.00 kept back at 0.90: 720.00 are 648.00, 13,680.00 are 12,312.00; tax 2,160.00. Half released: 324.00. It comes at 0.92.
	"16 retention": {
		{ofJob(abroadInvoice("USD", "12000", 1, "2026-11-02", "0.90"), 1), "Dr 120 12312.00, Dr 124 648.00, Cr 241 2160.00, Cr 401 10800.00"},
		{settling.Release{PartyID: 1, Day: "2026-11-10", Items: []settling.Share{{Item: 2, Amount: 36000}}}, "Dr 120 324.00, Cr 124 324.00"},
		{paidAbroad("2026-11-12", inDollars, 36000, "0.92", settling.Placement{Debit: 4, Amount: 36000}), "Dr 102 331.20, Cr 120 324.00, Cr 691 7.20"}},
	// 17. A credit note takes its invoice's rate: half of 1,000.00 + 200.00 at 0.90, whatever the day's is.
	"17 credit note": {
		{abroadInvoice("USD", "1000", 1, "2026-11-02", "0.90"), "Dr 120 1080.00, Cr 241 180.00, Cr 401 900.00"},
		{billing.Credit{PaperID: 1, Day: "2026-11-12", Cause: billing.Price, Lines: []billing.CreditLine{{Position: 1, Amount: 50000}}, Own: true}, "Dr 241 90.00, Dr 401 450.00, Cr 120 540.00"},
		{billing.Credit{PaperID: 1, Day: "2026-11-13", Cause: billing.Goodwill, Own: true}, "Dr 241 90.00, Dr 401 450.00, Cr 120 540.00"}},
	// 18. 480.00 of 1,200.00 at 0.90 given up, with relief: 432.00, tax 72.00. 240.00 come later at 0.95: 228.00; of the relief 36.00 is due again.
	"18 write-off and recovery": {
		{abroadInvoice("USD", "1000", 1, "2026-11-02", "0.90"), "Dr 120 1080.00, Cr 241 180.00, Cr 401 900.00"},
		{settling.WriteOff{Day: "2026-11-12", Reason: "insolvent", Relief: true, Items: []settling.Share{{Item: 1, Amount: 48000}}}, "Dr 241 72.00, Dr 631 360.00, Cr 120 432.00"},
		{settling.Recovery{WriteOffID: 2, Day: "2026-11-15", Amount: 24000, Rate: rate("0.95"), BankAccountID: inDollars, Method: posting.ByTransfer}, "Dr 102 228.00, Cr 241 36.00, Cr 441 192.00"}},
	// 19. It owes us 900.00 at 0.92 (828.00), we owe it 640.00 at 0.90 (576.00): of ours goes 640.00 × 828.00 ÷ 900.00 = 588.80.
	"19 contra": {
		{partyTwo(abroadInvoice("USD", "900", 3, "2026-11-02", "0.92")), "Dr 120 828.00, Cr 401 828.00"},
		{abroadBill("USD", 64000, 3, "0.90", posting.KeptAsCost), "Dr 601 576.00, Cr 201 576.00"},
		{settling.Contra{Day: "2026-11-12", PartyID: 2, Owed: []settling.Share{{Item: 1, Most: true}}, Owing: []settling.Share{{Item: 2, Most: true}}}, "Dr 201 576.00, Dr 691 12.80, Cr 120 588.80"}},
	// 20. Crane hire of 400.00 + 80.00 pounds at 1.15 (460.00 + 92.00) for a job of dollars, markup 12.5 %: 517.50 at 0.92 are 562.50, with tax 675.00 = 621.00; tax 103.50, the income the rest.
	"20 a cost passed on that was bought in a third currency": {
		{abroadBill("GBP", 40000, 1, "1.15", posting.OurSupply), "Dr 151 92.00, Dr 511 460.00, Cr 201 552.00"},
		{passedOn("USD", "0.92", 1), "Dr 120 621.00, Cr 241 103.50, Cr 411 517.50"}},
	// And yen, without places: 123,457 at 0.0061 are 753.09 (753.0877); half of it, 61,728, is 376.54 (376.5419…), the last takes 376.55.
	"21 yen": {
		{abroadInvoice("JPY", "123457", 3, "2026-11-02", "0.0061"), "Dr 120 753.09, Cr 401 753.09"},
		{paidAbroad("2026-11-03", inYen, 61728, "0.0061", settling.Placement{Debit: 1, Amount: 61728}), "Dr 104 376.54, Cr 120 376.54"},
		{paidAbroad("2026-11-04", inYen, 61729, "0.0061", settling.Placement{Debit: 1, Amount: 61729}), "Dr 104 376.55, Cr 120 376.55"}},
}

var overheads = func() int64 {
	for n, a := range ledger.Chart {
		if a.Number == "601" {
			return int64(n + 1)
		}
	}
	return 0
}()

func with(v billing.Invoice, u billing.Use) billing.Invoice {
	v.SetAgainst = []billing.Use{u}
	return v
}

func deducting(v billing.Invoice, paper int64) billing.Invoice {
	v.Form, v.Deductions = billing.FinalForm, []billing.Deduction{{PaperID: paper, Most: true}}
	return v
}

func ofJob(v billing.Invoice, job int64) billing.Invoice {
	v.JobID = job
	return v
}

func partyTwo(v billing.Invoice) billing.Invoice {
	v.PartyID = 2
	return v
}

func abroadBill(code string, net money.Amount, tax int64, at string, as posting.Treatment) buying.Bill {
	l := buying.Line{Text: "Crane hire", Net: net, TaxCodeID: tax, AccountID: overheads}
	if as != posting.KeptAsCost {
		markup := decimal.RequireFromString("12.5")
		l.JobID, l.AccountID, l.PassOn, l.Markup = 1, 0, as, &markup
	}
	return buying.Bill{PartyID: 2, Day: "2026-11-02", Currency: code, Rate: rate(at), Lines: []buying.Line{l}}
}

func passedOn(code, at string, bill int64) billing.Invoice {
	return billing.Invoice{PartyID: 1, JobID: 1, Day: "2026-11-12", Currency: code, Rate: rate(at), Lines: []posting.Line{{TaxCodeID: 1, Costs: []posting.CostShare{{PaperID: bill, Position: 1}}}}}
}

func TestCasesAbroad(t *testing.T) {
	for name, steps := range casesAbroad {
		t.Run(name, func(t *testing.T) {
			b := abroad()
			b.TermsList[1] = master.Terms{ID: 1, Kind: master.InDays, Days: 30, DiscountPercent: decimal.New(2, 0), DiscountDays: 10}
			if strings.HasPrefix(name, "16") {
				j := b.Jobs[1]
				j.RetentionPercent, j.RetentionGross = decimal.New(5, 0), true
				b.Jobs[1] = j
			}
			for _, s := range steps {
				wantSum(t, b, post(t, b, s.command), s.want)
			}
		})
	}
}

// A contract in dollars is claimed by progress in dollars, each claim at its own
// rate: 10,000.00, of which 25 % at 0.90 are 2,500.00, worth 2,250.00 and 450.00 of
// tax; 60 % at 0.92 are 3,500.00 more, 3,220.00 and 644.00; back to 50 % takes
// 1,000.00 off the latest, at its rate.
func TestClaimsAbroad(t *testing.T) {
	b := abroad()
	job := b.Jobs[1]
	job.ContractSum = 0
	b.Jobs[1] = job
	line := func(net string) posting.Line {
		return posting.Line{Text: "Flight", Quantity: rate("1"), UnitPrice: rate(net), TaxCodeID: 1}
	}
	post(t, b, billing.Order{PartyID: 1, JobID: 1, Day: "2026-11-01", Currency: "USD", Lines: []posting.Line{line("6000"), line("4000")}})
	claim := func(day day.Day, percent, at string) billing.Claim {
		return billing.Claim{JobID: 1, Day: day, Percent: rate(percent), Rate: rate(at)}
	}
	e := post(t, b, claim("2026-11-02", "25", "0.90"))
	wantSum(t, b, e, "Dr 120 2700.00, Cr 241 450.00, Cr 401 2250.00")
	if p := e.Paper(); p.Currency != "USD" || p.Total != 300000 || p.Reason != "Work to date 25 % of 10,000.00, 2,500.00, less claimed before 0.00: 2,500.00" {
		t.Errorf("the claim is %s %d: %s", p.Currency, p.Total, p.Reason)
	}
	wantSum(t, b, post(t, b, claim("2026-11-12", "60", "0.92")), "Dr 120 3864.00, Cr 241 644.00, Cr 401 3220.00")
	if _, err := b.Post(claim("2026-11-12", "60", "0.92")); !postingtest.RefusedFor(err, "percent", "nothing to claim") {
		t.Errorf("the same again: %v", err)
	}
	lower := claim("2026-11-13", "50", "0.95")
	lower.Credit = true
	wantSum(t, b, post(t, b, lower), "Dr 241 184.00, Dr 401 920.00, Cr 120 1104.00")
	wantSum(t, b, post(t, b, claim("2026-11-18", "100", "0.88")), "Dr 120 5280.00, Cr 241 880.00, Cr 401 4400.00")
	if contract, billed := billing.ContractAbroad(b, job, "2026-11-12"); contract != 1000000 || billed != 600000 {
		t.Errorf("on 12 Nov %d of %d was billed", billed, contract)
	}
	if err := b.Prove(); err != nil {
		t.Error(err)
	}
	post(t, b, billing.Order{PartyID: 1, JobID: 1, Day: "2026-11-18", Lines: []posting.Line{line("500")}})
	if _, err := b.Post(claim("2026-11-18", "90", "0")); !postingtest.RefusedFor(err, "job", "another currency") {
		t.Errorf("in two currencies: %v", err)
	}
	// Once that order is called off, the contract is in dollars again.
	last := b.Papers[len(b.Papers)-1].ID
	post(t, b, billing.Cancellation{OrderID: last, Day: "2026-11-19", Reason: "called off"})
	lower = claim("2026-11-19", "90", "0.88")
	lower.Credit = true
	wantSum(t, b, post(t, b, lower), "Dr 241 176.00, Dr 401 880.00, Cr 120 1056.00")
}

// Ten are ordered at 11.00 pounds, at 1.15. Six come first: 66.00, worth 75.90. The
// bill of all, 110.00 at 1.20, is worth 132.00: 75.90 leaves goods received, what
// stock is worth becomes 132.00. A bill in another currency than the order's is
// refused.
func TestOrderedAbroad(t *testing.T) {
	b := abroad()
	b.Articles[3] = master.Article{ID: 3, Code: "CAP", Name: "Newel cap", Kind: master.Material, Stocked: true}
	post(t, b, buying.Order{PartyID: 2, Day: "2026-11-02", Currency: "GBP", Lines: []buying.Line{{ArticleID: 3, Text: "Newel cap", Quantity: rate("10"), UnitPrice: rate("11"), TaxCodeID: 3}}})
	wantSum(t, b, post(t, b, buying.Received{OrderID: 1, Day: "2026-11-03", Lines: []buying.Share{{Position: 1, Quantity: rate("6")}}}), "Dr 141 75.90, Cr 208 75.90")
	bill := buying.Bill{PartyID: 2, Day: "2026-11-05", Currency: "GBP", Rate: rate("1.20"), Reference: "7", Lines: []buying.Line{{Quantity: rate("10"), Of: buying.OrderLine{PaperID: 1, Position: 1}}}}
	other := bill
	other.Currency, other.Rate = "", rate("0")
	if _, err := b.Post(other); !postingtest.RefusedFor(err, "lines[0].of", "another currency") {
		t.Errorf("in euros: %v", err)
	}
	wantSum(t, b, post(t, b, bill), "Dr 141 56.10, Dr 208 75.90, Cr 201 132.00")
	if err := b.Prove(); err != nil {
		t.Error(err)
	}
}

// A charge of 5.00 dollars on the account in dollars, of which 500.00 stand at
// 450.00: 4.50 leave, at 0.92 the charge is 4.60, what is between is exchange.
// Interest comes at the rate of its day. An entry in euros does not move it.
func TestEntriesAbroad(t *testing.T) {
	b := abroad()
	post(t, b, settling.Deposit{PartyID: 1, Day: "2026-11-02", Amount: 50000, BankAccountID: inDollars, Method: posting.ByTransfer})
	account := b.Banks[inDollars].AccountID
	charges := b.Role(ledger.BankCharges).ID
	entry := func(code string, debit, credit int64) journal.Journal {
		return journal.Journal{Day: "2026-11-12", Currency: code, Text: "what the bank took", Lines: []journal.Line{{AccountID: debit, Debit: 500}, {AccountID: credit, Credit: 500}}}
	}
	wantSum(t, b, post(t, b, entry("USD", charges, account)), "Dr 621 4.60, Cr 102 4.50, Cr 691 0.10")
	wantSum(t, b, post(t, b, entry("USD", account, charges)), "Dr 102 4.60, Cr 621 4.60")
	if e := post(t, b, settling.Reversal{PaperID: 2, Day: "2026-11-13", Reason: "x"}); inSum(b, e) != "Dr 102 4.50, Dr 691 0.10, Cr 621 4.60" {
		t.Errorf("taken back: %s", inSum(b, e))
	}
	for _, code := range []string{"", "GBP"} {
		if _, err := b.Post(entry(code, charges, account)); !postingtest.RefusedFor(err, "lines[1].account", "another currency") {
			t.Errorf("in %q: %v", code, err)
		}
	}
	owed := entry("USD", b.Role(ledger.Receivables).ID, charges)
	owed.Lines[0].PartyID = 1
	wantSum(t, b, post(t, b, owed), "Dr 120 4.60, Cr 621 4.60")
	if err := b.Prove(); err != nil {
		t.Error(err)
	}
}

// A cost in yen that was paid on a customer's behalf is passed on in euros or in
// dollars, and credited bit by bit: each credit balances, and in the end all of the
// cost waits again, worth what it was.
func TestPassedOnAbroadIsCredited(t *testing.T) {
	for _, code := range []string{"", "USD"} {
		b := abroad()
		post(t, b, buying.Bill{PartyID: 2, Day: "2026-11-02", Currency: "JPY", Rate: rate("0.8516"), Reference: "x", Lines: []buying.Line{{Text: "Permit", JobID: 1, Net: 36407, TaxCodeID: 1, PassOn: posting.OnBehalf}}})
		post(t, b, billing.Invoice{PartyID: 1, JobID: 1, Day: "2026-11-03", Currency: code, Lines: []posting.Line{{Costs: []posting.CostShare{{PaperID: 1, Position: 1}}}}})
		for _, amount := range []money.Amount{1, 17, 33333, 100000, 2216450} {
			post(t, b, billing.Credit{PaperID: 2, Day: "2026-11-04", Cause: billing.OtherCauses, Text: "x", Own: true, Lines: []billing.CreditLine{{Position: 1, Amount: amount}}})
			if err := b.Prove(); err != nil {
				t.Errorf("in %q, %d: %v", code, amount, err)
			}
		}
		post(t, b, billing.Credit{PaperID: 2, Day: "2026-11-05", Cause: billing.OtherCauses, Text: "the rest", Own: true})
		var left posting.Part
		for _, u := range b.Uses(1) {
			left = left.Add(u.Part)
		}
		if err := b.Prove(); err != nil || left != (posting.Part{}) {
			t.Errorf("in %q %+v is not given back: %v", code, left, err)
		}
	}
}

// An account that was overdrawn and got more at a lower rate stands above nil in
// dollars and below in euros: what leaves it then is worth what the day says.
func TestLeavesAnAccountWorthLessThanNothing(t *testing.T) {
	b := abroad()
	post(t, b, settling.Prepayment{PartyID: 2, Day: "2026-11-02", Amount: 100000, BankAccountID: inDollars, Method: posting.ByTransfer})
	post(t, b, settling.Unidentified{Day: "2026-11-03", Amount: 150000, Rate: rate("0.5"), BankAccountID: inDollars, Method: posting.ByTransfer})
	wantSum(t, b, post(t, b, settling.Prepayment{PartyID: 2, Day: "2026-11-10", Amount: 20000, BankAccountID: inDollars, Method: posting.ByTransfer}), "Dr 161 184.00, Cr 102 184.00")
}
