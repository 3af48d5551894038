package settling_test

import (
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
	"cleantally/core/tax"

	"github.com/shopspring/decimal"
)

func undo(allocation int64) settling.Undo {
	return settling.Undo{Day: today, Allocations: []int64{allocation}}
}

// Part 4: undoing any placement of a receipt on an invoice takes what went with
// it there: the discount, the difference, the tax withheld.
func TestWhatGoesWithAPlacement(t *testing.T) {
	early := func() *postingtest.Book {
		b := postingtest.New()
		b.Firm.Difference = 50
		b.TermsList[1] = master.Terms{ID: 1, Kind: master.InDays, Days: 30, DiscountPercent: decimal.New(2, 0), DiscountDays: 10}
		post(t, b, invoice(1, 0, "2026-11-01", "650"))
		return b
	}
	discounted := receipt("2026-11-05", 76440, settling.Placement{Debit: 1, Amount: 30000}, settling.Placement{Debit: 1, Amount: 46440, Discount: true})
	short := receipt("2026-11-05", 77997, settling.Placement{Debit: 1, Amount: 30000}, settling.Placement{Debit: 1, Amount: 47997, Rest: settling.IsDifference})
	withheld := receipt("2026-11-05", 70000, settling.Placement{Debit: 1, Amount: 30000}, settling.Placement{Debit: 1, Amount: 48000})
	withheld.Withheld = 8000
	for name, c := range map[string]struct {
		receipt settling.Receipt
		undone  int64
		want    string
		open    money.Amount
		account money.Amount // the money that is on account then
	}{
		"the second, with the discount": {discounted, 2, "Dr 120 15.60, Cr 491 13.00, Cr 241 2.60", 48000, -46440},
		"the first, of the discount":    {discounted, 1, "Dr 120 15.60, Cr 491 13.00, Cr 241 2.60", 31560, -30000},
		"with a difference":             {short, 2, "Dr 120 0.03, Cr 641 0.03", 48000, -47997},
		"with tax withheld":             {withheld, 2, "Dr 120 80.00, Cr 135 80.00", 30000, -22000},
	} {
		b := early()
		post(t, b, c.receipt)
		wantOpen(t, b, map[posting.ItemRef]money.Amount{1: 0, 2: 0})
		planned, err := undo(c.undone).Plan(b)
		if err != nil {
			t.Fatal(err)
		}
		shown := 0
		for _, x := range posting.Balances(b, planned) {
			if x.Kind == "item" {
				shown++
			}
		}
		if shown != 2 {
			t.Errorf("%s: %d items are shown, not the invoice and the receipt alone", name, shown)
		}
		wantEntries(t, b, post(t, b, undo(c.undone)), c.want)
		if open(b, 1) != c.open || open(b, 2) != c.account {
			t.Errorf("%s: open %d, on account %d; want %d, %d", name, open(b, 1), open(b, 2), c.open, c.account)
		}
		if err := b.Prove(); err != nil {
			t.Errorf("%s: %v", name, err)
		}
	}
	// Where it stands, what another receipt leaves open again bears none.
	twice := early()
	post(t, twice, receipt("2026-11-04", 30000, settling.Placement{Debit: 1, Amount: 30000}))
	post(t, twice, receipt("2026-11-05", 46440, settling.Placement{Debit: 1, Amount: 46440, Discount: true}))
	post(t, twice, settling.Undo{Day: "2026-11-06", Allocations: []int64{1}})
	if _, err := twice.Post(receipt("2026-11-07", 28440, settling.Placement{Debit: 1, Amount: 28440, Discount: true})); !postingtest.RefusedFor(err, "placements[0].discount", "taken already") {
		t.Errorf("a second discount: %v", err)
	}
	// It can be taken once more, as it was given back.
	b := early()
	post(t, b, discounted)
	if _, err := b.Post(receipt("2026-11-06", 100, settling.Placement{Debit: 1, Amount: 100, Discount: true})); err == nil {
		t.Error("a discount was taken twice")
	}
	post(t, b, settling.Undo{Day: "2026-11-06", Allocations: []int64{2}})
	wantEntries(t, b, post(t, b, receipt("2026-11-06", 46440, settling.Placement{Debit: 1, Amount: 46440, Discount: true})), "Dr 101 464.40, Dr 491 13.00, Dr 241 2.60, Cr 120 480.00")
}

func writeOff(d day.Day, item posting.ItemRef, a money.Amount) settling.WriteOff {
	return settling.WriteOff{Day: d, Reason: "gone", Relief: true, Items: []settling.Share{{Item: item, Amount: a}}}
}

// A day before the item is the trouble then, not how much was open.
func TestWriteOffBeforeTheItem(t *testing.T) {
	b := postingtest.New()
	post(t, b, invoice(1, 0, "2026-11-10", "100"))
	for _, a := range []money.Amount{5, 120001} {
		if _, err := b.Post(writeOff("2026-11-09", 1, a)); !postingtest.RefusedFor(err, "items[0].amount", "before the item") {
			t.Errorf("%d given up on the day before: %v", a, err)
		}
	}
}

// Part 6: relief over several write-offs never passes the tax of the invoice.
func TestReliefByPortions(t *testing.T) {
	b := postingtest.New()
	post(t, b, invoice(1, 0, "2026-11-01", "1"))
	var sum money.Amount
	for range 40 {
		sum += post(t, b, writeOff(today, 1, 3)).Paper().Tax
	}
	if sum != 20 || open(b, 1) != 0 {
		t.Errorf("forty steps gave back %d of 20", sum)
	}
	b = postingtest.New()
	v := invoice(1, 0, "2026-11-01", "227.27")
	v.Lines[0].TaxCodeID = 2
	post(t, b, v)
	for n, want := range []money.Amount{758, 757, 758} {
		if got := post(t, b, writeOff(today, 1, []money.Amount{8333, 8333, 8334}[n])).Paper().Tax; got != want {
			t.Errorf("step %d gave back %d, want %d", n, got, want)
		}
	}
	if err := b.Prove(); err != nil {
		t.Error(err)
	}
}

// Part 2: the tax inside a debt goes along with what was kept back of it, and
// what comes later is told by what was given up, not by an account.
func TestReliefOfWhatWasKeptBack(t *testing.T) {
	b := postingtest.New()
	b.Firm = master.Limits{Relief: true, Allowance: []decimal.Decimal{decimal.New(100, 0)}}
	post(t, b, invoice(1, 0, "2026-11-01", "8250"))
	post(t, b, receipt("2026-11-05", 976800, settling.Placement{Debit: 1, Amount: 976800, Rest: settling.IsRetained}))
	rows, _, _ := settling.WantedAllowance(b, today)
	if rows[0].Base != 11000 {
		t.Errorf("the allowance's base is %d, want 110.00 of 132.00", rows[0].Base)
	}
	off := post(t, b, writeOff(today, 4, 13200))
	wantEntries(t, b, off, "Dr 631 110.00, Dr 241 22.00, Cr 124 132.00")
	b.Roles[ledger.OutputTax] = b.Roles[ledger.TaxToPay] // pointed elsewhere since
	came := settling.Recovery{WriteOffID: 3, Day: today, Amount: 6600, BankAccountID: 1, Method: posting.ByTransfer}
	wantEntries(t, b, post(t, b, came), "Dr 101 66.00, Cr 441 55.00, Cr 248 11.00")
}

func setAside(t *testing.T, b *postingtest.Book, d day.Day, a money.Amount) {
	t.Helper()
	post(t, b, journal.Journal{Day: d, Text: "set aside", Lines: []journal.Line{{AccountID: b.Role(ledger.AllowanceChange).ID, Debit: a}, {AccountID: b.Role(ledger.Allowance).ID, Credit: a}}})
}

// Part 6: Dr allowance up to its balance, over all that one step writes off and
// on every day from its own on.
func TestAllowanceIsNotOverdrawn(t *testing.T) {
	b := postingtest.New()
	post(t, b, invoice(1, 0, "2026-11-01", "100"))
	post(t, b, invoice(1, 0, "2026-11-01", "100"))
	setAside(t, b, "2026-11-10", 2400)
	gone := func(item posting.ItemRef) settling.Placement {
		return settling.Placement{Debit: item, Amount: 9000, Rest: settling.IsWrittenOff, Reason: "gone"}
	}
	e := post(t, b, receipt(today, 18000, gone(1), gone(2)))
	if lines := strings.Join(postingtest.Lines(b, e), "; "); !strings.Contains(lines, "Dr 128 24.00") || strings.Count(lines, "Dr 128") != 1 {
		t.Errorf("the allowance bore %s", lines)
	}
	post(t, b, invoice(1, 0, "2026-11-01", "100"))
	third := posting.ItemRef(len(b.Open))
	setAside(t, b, "2026-11-21", 5000)
	wantEntries(t, b, post(t, b, settling.WriteOff{Day: "2026-11-12", Reason: "gone", Items: []settling.Share{{Item: third, Amount: 3000}}}), "Dr 631 30.00, Cr 120 30.00")
	if err := b.Prove(); err != nil {
		t.Error(err)
	}
	// What write-offs have used is not taken out a second time.
	post(t, b, settling.WriteOff{Day: "2026-11-22", Reason: "gone", Items: []settling.Share{{Item: third, Amount: 4000}}})
	set := int64(0)
	for _, p := range b.Papers {
		if p.Title == "set aside" {
			set = p.ID
		}
	}
	if _, err := b.Post(settling.Reversal{PaperID: set, Day: "2026-11-22", Reason: "wrong"}); !postingtest.RefusedFor(err, "paper", "more than is there") {
		t.Errorf("an allowance that was used is taken back: %v", err)
	}
}

// Part 6: the second person's word is asked for what one step gives up in all.
func TestSecondWordOverAll(t *testing.T) {
	b := postingtest.New()
	b.Firm.WriteOff = 5000
	post(t, b, invoice(1, 0, "2026-11-01", "100"))
	post(t, b, invoice(1, 0, "2026-11-01", "100"))
	gone := func(item posting.ItemRef) settling.Placement {
		return settling.Placement{Debit: item, Amount: 8000, Rest: settling.IsWrittenOff, Reason: "gone"}
	}
	if e, err := receipt(today, 8000, gone(1)).Plan(b); err != nil || e.Word != nil {
		t.Errorf("40.00 asks for a word: %+v, %v", e.Word, err)
	}
	if e, err := receipt(today, 16000, gone(1), gone(2)).Plan(b); err != nil || e.Word == nil || e.Word.Limit != "50.00" {
		t.Errorf("80.00 in two asks for %+v, %v", e.Word, err)
	}
}

// Part 7: only what is bound to a return stays with it.
func TestFeePassedOnCanBeUndone(t *testing.T) {
	b := postingtest.New()
	post(t, b, invoice(1, 0, "2026-11-01", "1000"))
	post(t, b, receipt("2026-11-05", 120000, settling.Placement{Debit: 1, Amount: 120000}))
	post(t, b, settling.Returned{PaperID: 2, Day: "2026-11-10", Fee: 1200, PassOn: true})
	fee := posting.ItemRef(0)
	for _, i := range b.Open {
		if i.Nature == posting.Beside {
			fee = i.ID
		}
	}
	post(t, b, receipt("2026-11-12", 1200, settling.Placement{Debit: fee, Amount: 1200}))
	if open(b, fee) != 0 {
		t.Fatalf("the fee is open by %d", open(b, fee))
	}
	last := int64(len(b.Allocations))
	post(t, b, undo(last))
	if open(b, fee) != 1200 {
		t.Errorf("the fee is open by %d after undoing", open(b, fee))
	}
	if _, err := b.Post(undo(last - 1)); !postingtest.RefusedFor(err, "allocations[0]", "part of a reversal") {
		t.Errorf("what the return did was undone: %v", err)
	}
}

// Part 4: money that was identified later is returned all the same, and what
// was made of it is undone with it.
func TestReturnedAfterItWasIdentified(t *testing.T) {
	taken := func() *postingtest.Book {
		b := postingtest.New()
		post(t, b, invoice(1, 0, "2026-11-01", "500"))
		post(t, b, settling.Unidentified{Day: "2026-11-03", Amount: 80000, BankAccountID: 1, Method: posting.ByTransfer})
		post(t, b, settling.Distribute{From: 2, Day: "2026-11-06", Deposits: []settling.Deposit{{PartyID: 2, Amount: 20000}},
			Receipts: []settling.Receipt{{PartyID: 1, Arrived: 60000, Placements: []settling.Placement{{Debit: 1, Amount: 60000}}}}})
		return b
	}
	for name, paper := range map[string]int64{"the receipt": 4, "the deposit": 3, "the money": 2} {
		b := taken()
		e := post(t, b, settling.Returned{PaperID: paper, Day: "2026-11-10", Fee: 900})
		if got := b.AccountBalance(b.Role(ledger.Receivables).ID); got != 60000 || len(e.Papers) != 3 {
			t.Errorf("%s: owed again %d, %d papers", name, got, len(e.Papers))
		}
		for _, role := range []ledger.Role{ledger.Unidentified, ledger.Deposits} {
			if got := b.AccountBalance(b.Role(role).ID); got != 0 {
				t.Errorf("%s: %s stands at %d", name, role, got)
			}
		}
		if got := b.AccountBalance(1); got != -900 {
			t.Errorf("%s: the bank stands at %d", name, got)
		}
		if err := b.Prove(); err != nil {
			t.Errorf("%s: %v", name, err)
		}
		if _, err := b.Post(settling.Returned{PaperID: paper, Day: "2026-11-11"}); !postingtest.RefusedFor(err, "paper", "reversed already") {
			t.Errorf("%s comes back twice: %v", name, err)
		}
	}
	b := taken()
	post(t, b, settling.Unidentified{Day: "2026-11-03", Amount: 5000, BankAccountID: 1, Method: posting.ByTransfer})
	item := posting.ItemRef(len(b.Open))
	post(t, b, settling.Distribute{From: item, Day: "2026-11-06", SendBack: 2000, BankAccountID: 1, Method: posting.ByTransfer, Deposits: []settling.Deposit{{PartyID: 2, Amount: 1000}}})
	if _, err := b.Post(settling.Returned{PaperID: b.Open[item-1].PaperID, Day: "2026-11-10"}); !postingtest.RefusedFor(err, "paper", "sent back") {
		t.Errorf("money that was sent back comes back: %v", err)
	}
}

// Part 4: a dispute is ended on a day after it began, and the next begins after
// that.
func TestDisputesInOrder(t *testing.T) {
	b := postingtest.New()
	post(t, b, invoice(1, 0, "2026-11-01", "100"))
	post(t, b, settling.Dispute{Item: 1, Day: "2026-11-10", Reason: "scratched"})
	for _, d := range []settling.Dispute{{Item: 1, Day: "2026-11-09", End: true}, {Item: 1, Day: "2026-11-05", Reason: "late"}} {
		if _, err := b.Post(d); !postingtest.RefusedFor(err, "day", "before the dispute") {
			t.Errorf("%+v: %v", d, err)
		}
	}
	post(t, b, settling.Dispute{Item: 1, Day: "2026-11-12", End: true})
}

// Part 4: the limit of small differences holds for what is closed of one item
// in all, and the paper says how much it was.
func TestSmallCreditsOfOneItem(t *testing.T) {
	b := postingtest.New()
	b.Firm.Difference = 100
	r := receipt("2026-11-01", 5000)
	r.OnAccount = true
	post(t, b, r)
	var shares []settling.Share
	for range 50 {
		shares = append(shares, settling.Share{Item: 1, Amount: 100})
	}
	if _, err := b.Post(settling.WriteOff{Day: today, Reason: "small", Items: shares}); !postingtest.RefusedFor(err, "items[1].amount", "beyond the limit") {
		t.Errorf("fifty shares of one credit: %v", err)
	}
	e := post(t, b, settling.WriteOff{Day: today, Reason: "small", Items: []settling.Share{{Item: 1, Amount: 60}}})
	if e.Paper().Total != 60 {
		t.Errorf("the paper says %d", e.Paper().Total)
	}
	if _, err := b.Post(settling.WriteOff{Day: today, Reason: "small", Items: []settling.Share{{Item: 1, Amount: 41}}}); !postingtest.RefusedFor(err, "items[0].amount", "beyond the limit") {
		t.Errorf("the rest of the limit and a cent: %v", err)
	}
}

// A step that makes small credits of one customer and gives up debts makes a
// paper for each, so that unlike things are not added up.
func TestSmallCreditsApart(t *testing.T) {
	b := postingtest.New()
	b.Firm.Difference = 100
	post(t, b, invoice(1, 0, "2026-11-01", "10"))
	r := receipt("2026-11-01", 50)
	r.OnAccount = true
	post(t, b, r)
	e := post(t, b, settling.WriteOff{Day: today, Reason: "tidy", Items: []settling.Share{{Item: 1, Most: true}, {Item: 2, Most: true}}})
	if len(e.Papers) != 2 || e.Papers[0].Total != 1200 || e.Papers[1].Total != 50 {
		t.Errorf("papers %+v", e.Papers)
	}
}

// Part 10: a supplier's bill shares the tax of a code over its lines, warns of
// a closed job, and an entry by hand bears no other customer's job.
func TestBillsAndJournalsBearTheirJobs(t *testing.T) {
	b := postingtest.New()
	p := b.Parties[2]
	p.IsSupplier = true
	b.Parties[2] = p
	b.Jobs[2] = master.Job{ID: 2, Number: "198", PartyID: 2, Closed: true}
	b.Codes[4], b.Rates[4] = tax.Code{ID: 4, Code: "TC", Kind: tax.CustomerAccountsIt}, "20"
	costs := b.Role(ledger.JobCosts).ID
	bill := buying.Bill{PartyID: 2, Day: today, Lines: []buying.Line{{Text: "oak", AccountID: costs, JobID: 2, Net: 3333, TaxCodeID: 1}, {Text: "ash", AccountID: costs, Net: 6668, TaxCodeID: 1},
		{Text: "fitted", AccountID: costs, Net: 200000, TaxCodeID: 4}}}
	e := post(t, b, bill)
	wantEntries(t, b, e, "Dr 511 33.33, Dr 511 66.68, Dr 511 2000.00, Dr 151 20.00, Dr 151 400.00, Cr 201 2120.01, Cr 241 400.00")
	if l := e.Paper().Lines; l[0].Tax.Own != 667 || l[1].Tax.Own != 1333 || l[2].Tax.Own != 0 {
		t.Errorf("shared tax %d, %d, %d", l[0].Tax.Own, l[1].Tax.Own, l[2].Tax.Own)
	}
	if len(e.Warnings) != 1 || e.Warnings[0].Rule != "closed job" {
		t.Errorf("warnings %+v", e.Warnings)
	}
	entry := func(party, job int64) journal.Journal {
		return journal.Journal{Day: today, Text: "x", Lines: []journal.Line{{AccountID: costs, Debit: 100, PartyID: party, JobID: job}, {AccountID: b.Role(ledger.Opening).ID, Credit: 100}}}
	}
	if _, err := b.Post(entry(1, 2)); !postingtest.RefusedFor(err, "lines[0].job", "another customer's job") {
		t.Errorf("another customer's job: %v", err)
	}
	if _, err := b.Post(entry(99, 0)); !postingtest.RefusedFor(err, "lines[0].party", "missing") {
		t.Errorf("a party that is not there: %v", err)
	}
	if e := post(t, b, entry(0, 2)); len(e.Warnings) != 1 || e.Warnings[0].Rule != "closed job" {
		t.Errorf("no warning of a closed job: %+v", e.Warnings)
	}
}

// A proposal by reference takes a number that stands there as a whole.
func TestProposalByWholeNumbers(t *testing.T) {
	b := postingtest.New()
	post(t, b, invoice(1, 0, "2026-11-01", "100"))
	post(t, b, invoice(1, 0, "2026-11-02", "100"))
	for reference, want := range map[string]string{"I26-0002": "the reference names it", "inv. I26 0002!": "the reference names it", "i260002": "the reference names it",
		"I26-00021": "oldest due", "XI26-0002": "oldest due", "26-0002": "oldest due", "": "oldest due"} {
		rows := settling.Propose(b, b.Open, settling.Arrival{Amount: 5000, Reference: reference, Day: today})
		if rows[0].Reason != want || (want != "oldest due") != (rows[0].Item == 2) {
			t.Errorf("%q: %+v", reference, rows)
		}
	}
}

// A contra shows both what the party owes and what we owe it.
func TestContraShowsBothSides(t *testing.T) {
	b := postingtest.New()
	p := b.Parties[1]
	p.IsSupplier = true
	b.Parties[1] = p
	post(t, b, invoice(1, 0, "2026-11-01", "750"))
	post(t, b, buying.Bill{PartyID: 1, Day: "2026-11-02", Lines: []buying.Line{{Text: "oak", AccountID: b.Role(ledger.JobCosts).ID, Net: 64000, TaxCodeID: 3}}})
	e := post(t, b, settling.Contra{Day: today, PartyID: 1, Owed: []settling.Share{{Item: 1, Most: true}}, Owing: []settling.Share{{Item: 2, Most: true}}})
	// Balances are of the moment before: the contra is planned again.
	fresh := postingtest.New()
	fresh.Parties = b.Parties
	post(t, fresh, invoice(1, 0, "2026-11-01", "750"))
	post(t, fresh, buying.Bill{PartyID: 1, Day: "2026-11-02", Lines: []buying.Line{{Text: "oak", AccountID: b.Role(ledger.JobCosts).ID, Net: 64000, TaxCodeID: 3}}})
	told := map[string]money.Amount{}
	for _, x := range posting.Balances(fresh, e) {
		if x.Kind == "party" {
			told[x.What] = x.After
		}
	}
	if told["owes"] != 26000 || told["we owe"] != 0 || len(told) != 2 {
		t.Errorf("balances of the party %v", told)
	}
}
