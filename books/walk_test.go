package books_test

import (
	"context"
	"errors"
	"testing"
	"time"

	"cleantally/books"
	"cleantally/core/day"
	"cleantally/core/master"
	"cleantally/core/posting"
	"cleantally/core/posting/postingtest"
	"cleantally/core/tax"
	"cleantally/store"

	"github.com/shopspring/decimal"
)

var ctx = context.Background()

const word = "a long password"

// open returns books like those of postingtest.ForWalk: the same codes, customers
// and jobs under the same IDs.
func open(t *testing.T) *books.Book {
	t.Helper()
	b, err := books.Open(ctx, t.TempDir(), time.Now, "2026-11-20")
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { b.Close() })
	err = b.SetUp(ctx, books.Setup{Firm: "Walk", Currency: "EUR", Bank: "Bank", Owner: "W", Email: "w@walk.example", Password: word,
		Codes: []books.SetupCode{{Code: "STD", Kind: tax.Charged, Percent: decimal.New(20, 0)}, {Code: "RED", Kind: tax.Charged, Percent: decimal.New(10, 0)}, {Code: "NIL", Kind: tax.Charged}}})
	if err != nil {
		t.Fatal(err)
	}
	for n, name := range []string{"Odalys Brandt", "Dunmarrow Builders"} {
		if err := b.SaveCustomer(ctx, 1, &master.Party{Name: name, IsCustomer: true, IsSupplier: true}); err != nil {
			t.Fatal(err)
		}
		if err := b.SaveJob(ctx, 1, &master.Job{Name: "job", PartyID: int64(n + 1), ContractSum: 800000}); err != nil {
			t.Fatal(err)
		}
	}
	if err := b.SaveLimits(ctx, 1, postingtest.WalkLimits); err != nil {
		t.Fatal(err)
	}
	terms := master.Terms{ID: 1, Name: "30 days", Kind: master.InDays, Days: 30, DiscountPercent: decimal.New(2, 0), DiscountDays: 10}
	if err := b.SaveTerms(ctx, 1, &terms); err != nil {
		t.Fatal(err)
	}
	return b
}

// The books on disk and those in memory take the same walk: they refuse the
// same commands, and all ties out after each.
func TestWalkOnDiskAsInMemory(t *testing.T) {
	for seed := range uint64(2) {
		disk, memory := open(t), postingtest.ForWalk()
		walk := postingtest.NewWalk(seed+100, memory)
		for step := range 400 {
			c := walk.Next()
			_, want := memory.Post(c)
			_, got := disk.Post(ctx, c, books.How{User: 1, Confirmed: true, Word: word})
			var refusals posting.Refusals
			if got != nil && !errors.As(got, &refusals) {
				t.Fatalf("seed %d, step %d: %+v: %v", seed, step, c, got)
			}
			if (got == nil) != (want == nil) {
				t.Fatalf("seed %d, step %d: %+v: on disk %v, in memory %v", seed, step, c, got, want)
			}
			if step%20 == 0 {
				mustTieOut(t, disk)
			}
		}
		for _, i := range memory.Open {
			facts, err := disk.Read(ctx).Facts(disk.Today())
			if err != nil {
				t.Fatal(err)
			}
			if stored, _ := facts.Item(i.ID); stored.Open != i.Open {
				t.Errorf("seed %d: item %d has %d open on disk, %d in memory", seed, i.ID, stored.Open, i.Open)
			}
		}
		mustTieOut(t, disk)
	}
}

func mustTieOut(t *testing.T, b *books.Book) {
	t.Helper()
	err := b.Snapshot(ctx, func(r *store.Reader) error {
		found, err := r.Check()
		if err != nil {
			return err
		}
		for _, s := range found {
			t.Error(s)
		}
		for _, d := range []day.Day{"2026-11-05", "2026-11-12", "2026-11-20"} {
			kept, err := r.TieOut(d)
			if err != nil {
				return err
			}
			fresh, err := r.TieOutFromJournal(d)
			if err != nil {
				return err
			}
			for i := range kept.Ties {
				if !kept.OK() || kept.Ties[i] != fresh.Ties[i] {
					t.Errorf("as of %s: kept %+v, from the journal %+v", d, kept.Ties[i], fresh.Ties[i])
				}
			}
			aged, err := r.Ageing(store.AgeingFilter{AsOf: d, Basis: "due"})
			if err != nil {
				return err
			}
			if aged.Total.Total != fresh.Ties[0].Ledger {
				t.Errorf("as of %s: the ageing is %d, receivables %d", d, aged.Total.Total, fresh.Ties[0].Ledger)
			}
		}
		return nil
	})
	if err != nil {
		t.Fatal(err)
	}
}
