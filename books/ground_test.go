package books_test

import (
	"errors"
	"fmt"
	"strings"
	"sync"
	"testing"

	"cleantally/books"
	"cleantally/core/billing"
	"cleantally/core/day"
	"cleantally/core/journal"
	"cleantally/core/ledger"
	"cleantally/core/master"
	"cleantally/core/money"
	"cleantally/core/posting"
	"cleantally/core/posting/postingtest"
	"cleantally/core/reporting"
	"cleantally/core/settling"
	"cleantally/formats"
	"cleantally/store"

	"github.com/shopspring/decimal"
)

func reversal(paper int64) settling.Reversal {
	return settling.Reversal{PaperID: paper, Day: "2026-11-20", Reason: "only tried"}
}

var how = books.How{User: 1, Confirmed: posting.WarningRules, Word: word}

func bill(party int64, d day.Day, price string) billing.Invoice {
	return billing.Invoice{PartyID: party, Day: d, Lines: []posting.Line{{Text: "work", Quantity: decimal.New(1, 0), UnitPrice: decimal.RequireFromString(price), TaxCodeID: 1}}}
}

func cost(amount money.Amount) postingtest.Cost {
	c := postingtest.Cost{Amount: amount}
	c.Party, c.Day = 1, "2026-11-20"
	return c
}

func passOn(paper int64, amount money.Amount) postingtest.Bill {
	v := postingtest.Bill{Net: 100, Code: 1, Cost: paper, OfCost: amount}
	v.Party, v.Day = 1, "2026-11-20"
	return v
}

// A made-up kind of paper, told once, is numbered, posted, listed, used up and
// taken back on disk as the program's own kinds are.
func TestAMadeUpKind(t *testing.T) {
	b := open(t)
	posted, err := b.Post(ctx, cost(20600), how)
	if err != nil || posted.Number != "Z3-26-0001" {
		t.Fatalf("posted as %q, %v", posted.Number, err)
	}
	r := b.Read(ctx)
	page, err := r.Papers(store.PaperFilter{Kind: "made-up cost"}, store.Query{Limit: 10}, "2026-11-20", false)
	if err != nil || page.Count != 1 || page.Rows[0].Total != 20600 {
		t.Errorf("listed as %+v, %v", page, err)
	}
	if _, err := b.Post(ctx, passOn(posted.PaperID, 20601), how); err == nil {
		t.Error("more of it was billed than waits")
	}
	if _, err := b.Post(ctx, passOn(posted.PaperID, 20600), how); err != nil {
		t.Error(err)
	}
	tie, err := r.TieOut("2026-11-20")
	if err != nil || !tie.OK() {
		t.Errorf("%+v, %v", tie, err)
	}
	mustTieOut(t, b)
}

// Many people who take the same thing at once: one succeeds, the others are
// told what is left.
func TestOneOfManyTakesIt(t *testing.T) {
	b := open(t)
	posted, err := b.Post(ctx, cost(10000), how)
	if err != nil {
		t.Fatal(err)
	}
	var wait sync.WaitGroup
	var mu sync.Mutex
	taken, refused := 0, 0
	for range 40 {
		wait.Go(func() {
			_, err := b.Post(ctx, passOn(posted.PaperID, 10000), how)
			mu.Lock()
			defer mu.Unlock()
			var r posting.Refusals
			switch {
			case err == nil:
				taken++
			case errors.As(err, &r):
				refused++
			default:
				t.Error(err)
			}
		})
	}
	wait.Wait()
	if taken != 1 || refused != 39 {
		t.Errorf("%d took it, %d were refused", taken, refused)
	}
	mustTieOut(t, b)
}

// What a draft reserves counts for everybody else, through previews as well,
// and goes with it: posted, thrown away or changed.
func TestReservationsOfDrafts(t *testing.T) {
	b := open(t)
	posted, err := b.Post(ctx, cost(10000), how)
	if err != nil {
		t.Fatal(err)
	}
	free := func(a money.Amount) bool {
		t.Helper()
		_, refusals, err := b.Preview(ctx, passOn(posted.PaperID, a), books.How{})
		if err != nil {
			t.Fatal(err)
		}
		return len(refusals) == 0
	}
	d := &store.Draft{Kind: "walk", Body: "{}"}
	save := func(a money.Amount) {
		t.Helper()
		if err := b.SaveDraft(ctx, d, passOn(posted.PaperID, a)); err != nil {
			t.Fatal(err)
		}
	}
	save(6000)
	if free(4001) || !free(4000) {
		t.Error("a draft of 60.00 does not leave 40.00 of 100.00")
	}
	if _, refusals, _ := b.Preview(ctx, passOn(posted.PaperID, 10000), books.How{Draft: d.ID}); len(refusals) > 0 {
		t.Errorf("its own reservation stands in the draft's way: %v", refusals)
	}
	save(1000)
	if free(9001) || !free(9000) {
		t.Error("a draft that was lowered still holds what it held")
	}
	if err := b.DiscardDraft(ctx, d.ID, 1); err != nil || !free(10000) {
		t.Errorf("a draft that was thrown away still holds something: %v", err)
	}
	d = &store.Draft{Kind: "walk", Body: "{}"}
	save(7000)
	mine := how
	mine.Draft, mine.Version = d.ID, d.Version
	if _, err := b.Post(ctx, passOn(posted.PaperID, 7000), mine); err != nil {
		t.Fatal(err)
	}
	if free(3001) || !free(3000) {
		t.Error("what was posted is not what is taken")
	}
}

// A draft is posted as it is on screen, or not at all.
func TestADraftIsPostedInItsVersion(t *testing.T) {
	b := open(t)
	d := &store.Draft{Kind: "walk", Body: "{}"}
	if err := b.SaveDraft(ctx, d, bill(1, "2026-11-20", "100")); err != nil {
		t.Fatal(err)
	}
	mine := how
	mine.Draft, mine.Version = d.ID, d.Version
	if err := b.SaveDraft(ctx, d, bill(1, "2026-11-20", "200")); err != nil {
		t.Fatal(err)
	}
	if _, err := b.Post(ctx, bill(1, "2026-11-20", "100"), mine); !errors.Is(err, books.ErrDraftChanged) {
		t.Errorf("the version before was posted: %v", err)
	}
	mine.Version = d.Version
	if _, err := b.Post(ctx, bill(1, "2026-11-20", "200"), mine); err != nil {
		t.Error(err)
	}
	if _, err := b.Post(ctx, bill(1, "2026-11-20", "200"), mine); !errors.Is(err, books.ErrDraftGone) {
		t.Errorf("posted twice: %v", err)
	}
}

// An account never moves by more on a day than sums can hold: the post is
// refused, and nothing is left of it.
func TestSumsStayWithinTheirLimit(t *testing.T) {
	b := open(t)
	entry := func(d day.Day) journal.Journal {
		j := journal.Journal{Day: d, Text: "large"}
		for range 4 {
			j.Lines = append(j.Lines, journal.Line{AccountID: 41, Debit: money.Limit}, journal.Line{AccountID: 28, Credit: money.Limit})
		}
		return j
	}
	var refusals posting.Refusals
	var err error
	posted := 0
	for range 5 {
		if _, err = b.Post(ctx, entry("2026-11-20"), how); err == nil {
			posted++
		}
	}
	if !errors.As(err, &refusals) || refusals[0].Rule != "too large" || posted != 2 {
		t.Errorf("%d posted, then %v", posted, err)
	}
	if _, err := b.Post(ctx, entry("2026-11-19"), how); err != nil {
		t.Errorf("another day: %v", err)
	}
	mustTieOut(t, b)
}

// The period is locked while it is proved, by party and on the day itself.
func TestLockIsProved(t *testing.T) {
	b := open(t)
	if _, err := b.Post(ctx, bill(1, "2026-10-10", "100"), how); err != nil {
		t.Fatal(err)
	}
	if err := b.Lock(ctx, 1, "2026-10-31", ""); err != nil {
		t.Errorf("books in order: %v", err)
	}
	_, err := b.Post(ctx, bill(1, "2026-10-31", "100"), how)
	var refusals posting.Refusals
	if !errors.As(err, &refusals) || refusals[0].Rule != "locked" || refusals[0].Limit != "2026-10-31" {
		t.Errorf("posted into the closed period: %v", err)
	}
}

// What is exported comes back as it was, value by value.
func TestExportComesBack(t *testing.T) {
	from, to := open(t), open(t)
	must := func(err error) {
		t.Helper()
		if err != nil {
			t.Fatal(err)
		}
	}
	must(from.SaveCustomer(ctx, 1, &master.Party{Name: `Łódź "Stairs"; Sons`, IsCustomer: true, Address: "Quay 4\nHaverling", Town: "Haverling", Email: "a@b.example", TermsID: 2, Note: "= 1 + 1", Inactive: true}))
	must(from.SaveJob(ctx, 1, &master.Job{Name: "Helical", PartyID: 4, ContractSum: 1234567, Site: "Loft", Closed: true}))
	must(from.SaveArticle(ctx, 1, &master.Article{Code: "FINE", Name: "Fine", Kind: master.Material, Price: decimal.RequireFromString("1.123456"), Unit: "m", AccountID: 30, TaxCodeID: 2}))
	must(from.SaveTerms(ctx, 1, &master.Terms{Name: "Thirds", Kind: master.InInstalments, Instalments: []master.Instalment{{Percent: decimal.RequireFromString("33.3333"), Days: 0}, {Percent: decimal.RequireFromString("66.6667"), Days: 30}}}))
	must(from.SaveTerms(ctx, 1, &master.Terms{Name: "Early", Kind: master.InDays, Days: 14, DiscountPercent: decimal.RequireFromString("2.5"), DiscountDays: 7, Inactive: true}))
	must(from.SaveAccount(ctx, 1, &ledger.Account{Number: "699", Name: "Other", Type: ledger.Expense, Inactive: true}))
	for _, kind := range []string{"terms", "accounts", "taxcodes", "customers", "jobs", "articles", "banks"} {
		table, err := from.Export(ctx, kind)
		must(err)
		var text strings.Builder
		must(formats.WriteCSV(&text, table))
		read, err := formats.ReadCSV(strings.NewReader(text.String()))
		must(err)
		rows, err := to.Import(ctx, 1, kind, read, false, 0, nil)
		if err != nil {
			t.Fatalf("%s: %v, %+v", kind, err, rows)
		}
		back, err := to.Export(ctx, kind)
		must(err)
		if fmt.Sprint(back) != fmt.Sprint(table) {
			t.Errorf("%s was\n%v\nand came back as\n%v", kind, table, back)
		}
	}
	// Whoever brings it once more changes nothing.
	table, err := to.Export(ctx, "customers")
	must(err)
	_, err = to.Import(ctx, 1, "customers", table, false, 0, nil)
	must(err)
	again, err := to.Export(ctx, "customers")
	if must(err); fmt.Sprint(again) != fmt.Sprint(table) {
		t.Errorf("a second time: %v", again)
	}
}

// An idempotency key answers the first answer again, and belongs to one
// command.
func TestKeys(t *testing.T) {
	b := open(t)
	mine := how
	mine.Key = "k1"
	first, err := b.Post(ctx, bill(1, "2026-11-20", "100"), mine)
	if err != nil {
		t.Fatal(err)
	}
	second, err := b.Post(ctx, bill(1, "2026-11-20", "100"), mine)
	if err != nil || fmt.Sprint(second) != fmt.Sprint(first) {
		t.Errorf("answered %+v, then %+v, %v", first, second, err)
	}
	if _, err := b.Post(ctx, bill(1, "2026-11-20", "200"), mine); !errors.Is(err, books.ErrKeyReused) {
		t.Errorf("another command under the same key: %v", err)
	}
}

// Where a job stands comes from what was billed, item by item; as of any day.
func TestJobPosition(t *testing.T) {
	b := open(t)
	v := bill(1, "2026-11-01", "1000")
	v.JobID = 1
	posted, err := b.Post(ctx, v, how)
	if err != nil {
		t.Fatal(err)
	}
	at := func(d day.Day) reporting.JobPosition {
		p, err := b.Read(ctx).JobPosition(1, d)
		if err != nil {
			t.Fatal(err)
		}
		return p
	}
	if p := at("2026-11-20"); p.BilledNet != 100000 || p.BilledGross != 120000 || p.Open != 114000 || p.KeptBack != 6000 || p.Settled() != 0 || p.LeftToBill() != 700000 {
		t.Errorf("billed: %+v", p)
	}
	if p := at("2026-10-31"); p.BilledNet != 0 || p.LeftToBill() != 800000 {
		t.Errorf("before: %+v", p)
	}
	if _, err := b.Post(ctx, reversal(posted.PaperID), how); err != nil {
		t.Fatal(err)
	}
	if p := at("2026-11-20"); p.BilledNet != 0 || p.BilledGross != 0 || p.Open != 0 || p.KeptBack != 0 {
		t.Errorf("taken back: %+v", p)
	}
	var sum money.Amount
	for _, part := range at("2026-11-10").Strip() {
		sum += part.Amount
	}
	if sum != 800000 {
		t.Errorf("the strip comes to %d of 8,000.00", sum)
	}
}

// faulty is a command with a fault: what it answers is an effect that the
// rules forbid.
type faulty struct {
	plan func(posting.Facts) posting.Effect
}

func (p faulty) Plan(f posting.Facts) (posting.Effect, error) { return p.plan(f), nil }

// MarshalJSON tells the audit record what was tried.
func (faulty) MarshalJSON() ([]byte, error) { return []byte(`"a fault"`), nil }

// The door proves what it is handed: a fault of a plan is never written.
func TestTheDoorProves(t *testing.T) {
	b := open(t)
	paper := func(lines ...ledger.Line) posting.Effect {
		return posting.Effect{
			Papers:  []*posting.Paper{{ID: -1, Kind: posting.Journal, About: posting.Journal, Number: "J26-0001", Day: "2026-11-20", Total: 5}},
			Entries: []posting.Entry{{PaperID: -1, Entry: ledger.Entry{Day: "2026-11-20", Text: "x", Lines: lines}}},
		}
	}
	for name, plan := range map[string]func(posting.Facts) posting.Effect{
		"an entry that does not balance": func(f posting.Facts) posting.Effect {
			return paper(ledger.Line{AccountID: f.Role(ledger.BankCharges).ID, Amount: 5})
		},
		"a control account without its register": func(f posting.Facts) posting.Effect {
			return paper(ledger.Line{AccountID: f.Role(ledger.BankCharges).ID, Amount: 5}, ledger.Line{AccountID: f.Role(ledger.Deposits).ID, Amount: -5, PartyID: 1})
		},
		"an item without its account": func(f posting.Facts) posting.Effect {
			e := paper(ledger.Line{AccountID: f.Role(ledger.BankCharges).ID, Amount: 5}, ledger.Line{AccountID: f.Role(ledger.Rounding).ID, Amount: -5})
			e.Items = []posting.Item{{ID: -1, Register: ledger.Receivables, PaperID: -1, PartyID: 1, Day: "2026-11-20", Part: posting.Of(5, 0), Left: posting.Of(5, 0)}}
			e.Moves = []posting.Move{{Item: -1, Day: "2026-11-20", Part: posting.Of(5, 0)}}
			return e
		},
	} {
		if posted, err := b.Post(ctx, faulty{plan}, how); err == nil || !strings.Contains(err.Error(), "the effect was not committed") {
			t.Errorf("%s: posted as %q, %v", name, posted.Number, err)
		}
	}
	if page, err := b.Read(ctx).Papers(store.PaperFilter{}, store.Query{Limit: 10}, "2026-11-20", false); err != nil || page.Count != 0 {
		t.Errorf("%d papers were written, %v", page.Count, err)
	}
	mustTieOut(t, b)
}
