package books_test

import (
	"context"
	"errors"
	"fmt"
	"reflect"
	"slices"
	"testing"
	"time"

	"cleantally/books"
	"cleantally/core/billing"
	"cleantally/core/day"
	"cleantally/core/ledger"
	"cleantally/core/master"
	"cleantally/core/money"
	"cleantally/core/posting"
	"cleantally/core/posting/postingtest"
	"cleantally/core/tax"
	"cleantally/store"

	"github.com/shopspring/decimal"
)

var ctx = context.Background()

const word = "a long password"

// open returns books like those of postingtest.ForWalk: the same records under
// the same IDs.
func open(t *testing.T) *books.Book {
	t.Helper()
	b, err := books.Open(ctx, t.TempDir(), time.Now, "2026-11-20")
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { b.Close() })
	fill(t, b)
	return b
}

func fill(t *testing.T, b *books.Book) {
	t.Helper()
	must := func(err error) {
		t.Helper()
		if err != nil {
			t.Fatal(err)
		}
	}
	must(b.SetUp(ctx, books.Setup{Firm: "Walk", Currency: "EUR", Bank: "Bank", Owner: "W", Email: "w@walk.example", Password: word,
		Codes: []books.SetupCode{{Code: "STD", Kind: tax.Charged, Percent: decimal.New(20, 0)}, {Code: "RED", Kind: tax.Charged, Percent: decimal.New(10, 0)}, {Code: "NIL", Kind: tax.Charged}}}))
	for n, name := range []string{"Odalys Brandt", "Dunmarrow Builders"} {
		must(b.SaveCustomer(ctx, 1, &master.Party{Name: name, TaxNumber: "XX1", IsCustomer: true, IsSupplier: true}))
		job := postingtest.WalkJobs[n]
		job.ID, job.Number = 0, ""
		must(b.SaveJob(ctx, 1, &job))
	}
	must(b.SaveCustomer(ctx, 1, &master.Party{Name: "Gone & Sons", IsCustomer: true, Inactive: true}))
	must(b.SaveJob(ctx, 1, &master.Job{Name: "done", PartyID: 1, Closed: true}))
	must(b.SaveLimits(ctx, 1, 1, postingtest.WalkLimits))
	must(b.SaveTerms(ctx, 1, &master.Terms{ID: 1, Version: 1, Name: "30 days", Kind: master.InDays, Days: 30, DiscountPercent: decimal.New(2, 0), DiscountDays: 10}))
	must(b.SaveArticle(ctx, 1, &master.Article{Code: "BAL", Name: "Baluster", Kind: master.Material}))
	must(b.SaveArticle(ctx, 1, &master.Article{Code: "OLD", Name: "Old", Kind: master.Service, Inactive: true}))
	must(b.SaveArticle(ctx, 1, &master.Article{Code: "POST", Name: "Newel post", Kind: master.Material, Stocked: true}))
	must(b.SaveTaxCode(ctx, 1, &tax.Code{Code: "OLD", Kind: tax.Charged, Inactive: true}, []tax.Rate{{Since: "2020-01-01", Percent: decimal.New(5, 0)}}))
	must(b.SaveAccount(ctx, 1, &ledger.Account{Number: "602", Name: "Spare", Type: ledger.Expense, Inactive: true}))
	must(b.SaveBankAccount(ctx, 1, &ledger.BankAccount{Name: "Old bank", Inactive: true}))
	must(b.AddBankLines(ctx, 1, postingtest.WalkBankDay, postingtest.WalkBankLines))
}

// step takes a step of a walk on disk.
func step(b *books.Book, s postingtest.Step, drafts map[int64]*store.Draft) error {
	b.SetToday(s.Today)
	if s.Lock != "" {
		if err := b.Lock(ctx, 1, s.Lock, ""); err != nil {
			return err
		}
	}
	if s.Draft == 0 {
		return shownAndPosted(b, s.Command)
	}
	d := drafts[s.Draft]
	if d == nil {
		d = &store.Draft{Kind: "walk", Body: "{}"}
		drafts[s.Draft] = d
	}
	_, refusals, err := b.Preview(ctx, s.Command, books.How{Draft: d.ID})
	if err == nil {
		err = b.SaveDraft(ctx, d, s.Command)
	}
	if err == nil && len(refusals) > 0 {
		err = refusals
	}
	return err
}

// shownAndPosted posts what a preview showed, by its token; what it refuses is
// refused when it is posted, too.
func shownAndPosted(b *books.Book, c posting.Command) error {
	effect, refusals, err := b.Preview(ctx, c, books.How{})
	if err != nil {
		return err
	}
	token, err := books.Token(c, effect)
	if err != nil {
		return err
	}
	_, err = b.Post(ctx, c, books.How{User: 1, Token: token, Word: word})
	var again posting.Refusals
	if refused := errors.As(err, &again); refused != (len(refusals) > 0) {
		return fmt.Errorf("previewed with %v, posted with %v", refusals, err)
	}
	return err
}

// The books on disk and those in memory take the same walk: they refuse the
// same commands, answer the same facts, and all ties out.
func TestWalkOnDiskAsInMemory(t *testing.T) {
	for seed := range uint64(2) {
		disk, memory := open(t), postingtest.ForWalk()
		if seed == 1 { // a firm that owes its tax when it is paid
			owesWhenPaid(t, disk)
			memory.Due = posting.TaxDueAs(posting.DuePaid)
			goAbroad(t, disk)
			memory.GoAbroad()
		}
		walk := postingtest.NewWalk(seed+100, memory)
		drafts := map[int64]*store.Draft{}
		for n := range 450 {
			s := walk.Next()
			want := memory.Take(s)
			got := step(disk, s, drafts)
			var refusals posting.Refusals
			if got != nil && !errors.As(got, &refusals) {
				t.Fatalf("seed %d, step %d: %T%+v: %v", seed, n, s.Command, s.Command, got)
			}
			if fmt.Sprint(got) != fmt.Sprint(want) {
				t.Fatalf("seed %d, step %d: %T%+v: on disk %v, in memory %v", seed, n, s.Command, s.Command, got, want)
			}
			if n%75 == 0 {
				mustTieOut(t, disk, s.Today)
			}
		}
		conform(t, disk, memory)
		mustTieOut(t, disk, memory.Now)
	}
}

// goAbroad takes the currencies of a walk into use, as GoAbroad does.
func goAbroad(t *testing.T, b *books.Book) {
	t.Helper()
	job, _, err := store.Find[master.Job](b.Read(ctx), 2)
	job.ContractSum = 0
	errs := []error{err, b.SaveJob(ctx, 1, &job)}
	for _, code := range postingtest.WalkCurrencies {
		errs = append(errs, b.SaveCurrency(ctx, 1, &master.Currency{Code: code}), b.SaveBankAccount(ctx, 1, &ledger.BankAccount{Name: code, Currency: code}))
	}
	for _, r := range postingtest.WalkRates {
		errs = append(errs, b.SetRate(ctx, 1, r))
	}
	if err := errors.Join(errs...); err != nil {
		t.Fatal(err)
	}
}

func owesWhenPaid(t *testing.T, b *books.Book) {
	t.Helper()
	firm, err := b.Read(ctx).Firm()
	if err == nil {
		firm.TaxDue = posting.DuePaid
		err = b.SaveFirm(books.As(ctx, 1), 1, firm)
	}
	if err != nil {
		t.Fatal(err)
	}
}

// conform proves that the store answers what a plan may ask as the books in
// memory do.
func conform(t *testing.T, disk *books.Book, memory *postingtest.Book) {
	t.Helper()
	f, err := disk.Read(ctx).Facts(disk.Today())
	if err != nil {
		t.Fatal(err)
	}
	same := func(what string, id any, got, want any) {
		t.Helper()
		if fmt.Sprintf("%+v", got) != fmt.Sprintf("%+v", want) {
			t.Errorf("%s of %v:\non disk   %+v\nin memory %+v", what, id, got, want)
		}
	}
	f.KnowPapers([]int64{1, 2, 3})
	f.KnowItems([]posting.ItemRef{1, 2, 3, 4, 5})
	same("the lock", "", f.LockedThrough(), memory.LockedThrough())
	same("the limits", "", f.Limits(), memory.Limits())
	same("when tax is due", "", f.TaxDue(), memory.TaxDue())
	for n := range memory.Papers {
		id := int64(n + 1)
		got, _ := f.Paper(id)
		want := memory.Papers[n]
		same("the head", id, []any{got.Kind, got.About, got.Day, got.PartyID, got.JobID, got.Total, got.ReversesID, got.SourceID, got.Payment, got.Net, got.Tax, got.Due, got.EarlyUntil},
			[]any{want.Kind, want.About, want.Day, want.PartyID, want.JobID, want.Total, want.ReversesID, want.SourceID, want.Payment, want.Net, want.Tax, want.Due, want.EarlyUntil})
		for i := range want.Lines {
			g, w := got.Lines[i], want.Lines[i]
			same("a line", id, []any{g.Position, g.Part(), g.TaxCodeID, g.Register, g.Quantity}, []any{w.Position, w.Part(), w.TaxCodeID, w.Register, w.Quantity})
		}
		same("uses", id, numbered(f.Uses(id)), numbered(memory.Uses(id)))
		same("uses by", id, numbered(f.UsesBy(id)), numbered(memory.UsesBy(id)))
		same("reservations", id, len(f.Reserved(id)), len(memory.Reserved(id)))
		same("stock", id, f.StockBy(id), memory.StockBy(id))
		same("charges", id, f.ChargedBy(id), memory.ChargedBy(id))
		same("entries", id, amounts(f.PaperEntries(id)), amounts(memory.PaperEntries(id)))
		same("movements", id, f.PaperMovements(id), renamed(memory.PaperMovements(id), f))
		_, gotReversed := f.ReversedBy(id)
		_, wantReversed := memory.ReversedBy(id)
		same("reversed", id, gotReversed, wantReversed)
		same("retention", id, len(f.RetentionOf(id)), len(memory.RetentionOf(id)))
	}
	for _, want := range memory.Open {
		got, _ := f.Item(want.ID)
		want.Number, got.Number = "", ""
		same("the item", want.ID, got, want)
		same("moves", want.ID, f.ItemMoves(want.ID), memory.ItemMoves(want.ID))
		same("lines", want.ID, len(f.ItemLines(want.ID)), len(memory.ItemLines(want.ID)))
		same("allocations", want.ID, f.AllocationsOf(want.ID), memory.AllocationsOf(want.ID))
		same("disputes", want.ID, f.Disputes(want.ID), memory.Disputes(want.ID))
		same("charged days", want.ID, f.ChargedDays(want.ID), memory.ChargedDays(want.ID))
	}
	for n := range memory.Allocations {
		same("undone", n+1, f.UndoneOn(int64(n+1)), memory.UndoneOn(int64(n+1)))
	}
	for id, a := range memory.Accounts {
		got, _ := f.Account(id)
		same("the account", id, got.Type, a.Type)
		same("the balance", id, f.AccountBalance(id), memory.AccountBalance(id))
		same("the days", id, f.AccountDays(id, "2025-09-01"), memory.AccountDays(id, "2025-09-01"))
	}
	for party := int64(1); party <= 3; party++ {
		same("owes", party, f.PartyBalance(ledger.Receivables, party), memory.PartyBalance(ledger.Receivables, party))
		same("billed", party, f.JobBilled(party), memory.JobBilled(party))
		same("agreed", party, f.Agreed(party), memory.Agreed(party))
		same("kept back", party, f.KeptBack(party), memory.KeptBack(party))
	}
	for line := range postingtest.WalkBankLines {
		same("ties", line, f.TiesOf(int64(line+1), 0), memory.TiesOf(int64(line+1), 0))
		got, _ := f.BankLine(int64(line + 1))
		want, _ := memory.BankLine(int64(line + 1))
		same("the bank line", line, got, want)
	}
	same("stock", 1, f.StockMoves(1), memory.StockMoves(1))
	same("stock from the beginning", 1, f.StockFrom(1, ""), memory.StockFrom(1, ""))
	for _, m := range memory.StockMoves(1) {
		same("stock from "+string(m.Day), 1, f.StockFrom(1, m.Day), memory.StockFrom(1, m.Day))
		same("stock before "+string(m.Day), 1, f.StockFrom(1, m.Day.Add(-1)), memory.StockFrom(1, m.Day.Add(-1)))
		same("stock by", m.By.PaperID, f.StockOf(m.By.PaperID), memory.StockOf(m.By.PaperID))
	}
	for _, d := range []day.Day{"2025-03-31", "2025-06-30", "2025-12-31", "2026-06-30", disk.Today()} {
		got, want := ordersLeft(t, disk, memory, d)
		same("left of orders on", d, got, want)
	}
	for _, d := range []day.Day{"2025-06-30", "2026-06-30"} {
		type sums struct{ left, billed posting.Part }
		var got, want sums
		for i, of := range f.OpenOn(d) {
			got = sums{got.left.Add(i.Left), got.billed.Add(of)}
		}
		for i, of := range memory.OpenOn(d) {
			want = sums{want.left.Add(i.Left), want.billed.Add(of)}
		}
		same("open on", d, got, want)
	}
	if f.Err() != nil {
		t.Error(f.Err())
	}
}

// ordersLeft is what the register of orders tells on a day, and what their lines in
// memory say.
func ordersLeft(t *testing.T, disk *books.Book, memory *postingtest.Book, d day.Day) (got, want []string) {
	t.Helper()
	told, err := disk.Read(ctx).OrdersLeft(d, "", store.Query{Limit: 500})
	if err != nil {
		t.Fatal(err)
	}
	sum := money.Amount(0)
	for _, o := range told.Rows {
		got = append(got, fmt.Sprintf("paper %d: %d, in %q %d", o.ID, o.Left, o.Currency, o.OwnLeft))
		sum += o.Left
	}
	if told.Count != int64(len(told.Rows)) || sum != told.Sums[0] {
		t.Errorf("%d orders with %d in all, told %d with %d", len(told.Rows), sum, told.Count, told.Sums[0])
	}
	for _, p := range memory.Papers {
		gone := slices.ContainsFunc(memory.Papers, func(x posting.Paper) bool { return x.ReversesID == p.ID && x.Day <= d })
		if p.Kind != posting.Order || p.Day > d || gone {
			continue
		}
		var left, own money.Amount
		for _, l := range billing.OrderLines(memory, p, d) {
			left, own = left+max(l.Left.Amount.Base-l.Left.Tax.Base, 0), own+max(l.Left.Net(), 0)
		}
		if p.Currency == "" {
			own = 0
		}
		if left > 0 {
			want = append(want, fmt.Sprintf("paper %d: %d, in %q %d", p.ID, left, p.Currency, own))
		}
	}
	slices.Sort(got)
	slices.Sort(want)
	return got, want
}

func numbered(uses []posting.Use) []posting.Use { return append([]posting.Use{}, uses...) }

// amounts are what entries come to, by account.
func amounts(entries []ledger.Entry) []string {
	var all []string
	for _, e := range entries {
		for _, l := range e.Lines {
			all = append(all, fmt.Sprint(e.Day, l.AccountID, l.Amount, l.PartyID, l.JobID, l.TaxCodeID, l.ItemID))
		}
	}
	return all
}

// renamed gives movements the numbers that their papers have on disk.
func renamed(all []posting.Movement, f posting.Facts) []posting.Movement {
	out := []posting.Movement{}
	for _, m := range all {
		p, _ := f.Paper(m.PaperID)
		m.Number = p.Number
		out = append(out, m)
	}
	return out
}

func mustTieOut(t *testing.T, b *books.Book, days ...day.Day) {
	t.Helper()
	if len(days) == 0 {
		days = []day.Day{b.Today()}
	}
	last := days[len(days)-1]
	days = append(days, last.Add(-40), last.Add(-7))
	err := b.Snapshot(ctx, func(r *store.Reader) error {
		found, err := r.Check()
		if err != nil {
			return err
		}
		for _, s := range found {
			t.Error(s)
		}
		for _, d := range days {
			kept, err := r.TieOut(d)
			if err != nil {
				return err
			}
			fresh, err := r.TieOutFromJournal(d)
			if err != nil {
				return err
			}
			if !kept.OK() || !reflect.DeepEqual(kept, fresh) {
				t.Errorf("as of %s: kept %+v, from the journal %+v", d, kept, fresh)
			}
			aged, err := r.Ageing(store.AgeingFilter{AsOf: d, Basis: "due"})
			if err != nil {
				return err
			}
			if aged.Total.Total != fresh.Ties[0].Ledger {
				t.Errorf("as of %s: the ageing is %d, receivables %d", d, aged.Total.Total, fresh.Ties[0].Ledger)
			}
			if err := statementsAdd(t, r, d); err != nil {
				return err
			}
		}
		return nil
	})
	if err != nil {
		t.Fatal(err)
	}
}

// statementsAdd proves that a statement's opening and its lines come to its
// closing, and each to what the register says.
func statementsAdd(t *testing.T, r *store.Reader, through day.Day) error {
	t.Helper()
	from := through.Add(-20)
	for party := int64(1); party <= 2; party++ {
		rows, _, err := r.Story(store.StoryOf{PartyID: party, From: from, Through: through})
		if err != nil {
			return err
		}
		opening, err := r.OpenOnDay(ledger.Receivables, party, from.Add(-1))
		if err != nil {
			return err
		}
		closing, err := r.OpenOnDay(ledger.Receivables, party, through)
		for _, row := range rows {
			opening += row.Amount
		}
		if err != nil || opening != closing {
			t.Errorf("party %d, %s to %s: opening and lines come to %d, the register says %d, %v", party, from, through, opening, closing, err)
		}
	}
	return nil
}
