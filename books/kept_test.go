package books_test

import (
	"compress/gzip"
	"errors"
	"io"
	"os"
	"path/filepath"
	"testing"
	"time"

	"cleantally/books"
	"cleantally/core/billing"
	"cleantally/core/posting"
	"cleantally/core/posting/postingtest"
	"cleantally/core/settling"
	"cleantally/store"

	"github.com/shopspring/decimal"
)

// kept are firms that were made by a released schema and filled by the walk.
// Each later version of the program has to open all of them.
var kept = []string{"testdata/firm-1.db.gz"}

// A firm that was made by an earlier version is opened, proved and posted to.
func TestKeptFirms(t *testing.T) {
	for _, name := range kept {
		dir := t.TempDir()
		unpack(t, name, filepath.Join(dir, store.FileName))
		b, err := books.Open(ctx, dir, time.Now, "2026-11-20")
		if err != nil {
			t.Fatal(err)
		}
		mustTieOut(t, b, "2025-12-31", "2026-06-30")
		bill := billing.Invoice{PartyID: 1, Day: "2026-11-20", Lines: []posting.Line{{Text: "work", Quantity: decimal.New(1, 0), UnitPrice: decimal.New(500, 0), TaxCodeID: 1}}}
		posted, err := b.Post(ctx, bill, books.How{User: 1})
		if err != nil {
			t.Fatal(err)
		}
		if _, err := b.Post(ctx, settling.Reversal{PaperID: posted.PaperID, Day: "2026-11-20", Reason: "only tried"}, books.How{User: 1}); err != nil {
			t.Fatal(err)
		}
		reverseWhatCan(t, b, posted.PaperID)
		mustTieOut(t, b)
		b.Close()
	}
}

// reverseWhatCan takes back every paper that may be, the newest first: what was
// posted by an earlier version can be undone by this one.
func reverseWhatCan(t *testing.T, b *books.Book, last int64) {
	t.Helper()
	undone := 0
	for id := last; id > 0; id-- {
		_, err := b.Post(ctx, settling.Reversal{PaperID: id, Day: "2026-11-20", Reason: "all undone"}, books.How{User: 1, Confirmed: posting.WarningRules})
		var refusals posting.Refusals
		if err != nil && !errors.As(err, &refusals) {
			t.Fatalf("paper %d: %v", id, err)
		}
		if err == nil {
			undone++
		}
	}
	if undone < 50 {
		t.Errorf("only %d papers could be taken back", undone)
	}
}

func unpack(t *testing.T, from, to string) {
	t.Helper()
	f, err := os.Open(from)
	if err != nil {
		t.Fatal(err)
	}
	defer f.Close()
	z, err := gzip.NewReader(f)
	if err != nil {
		t.Fatal(err)
	}
	data, err := io.ReadAll(z)
	if err != nil {
		t.Fatal(err)
	}
	if err := os.WriteFile(to, data, 0o600); err != nil {
		t.Fatal(err)
	}
}

// KEEP names the file that a new firm is kept in, after a release has added a
// migration: KEEP=testdata/firm-2.db.gz go test -run TestKeep ./books
func TestKeep(t *testing.T) {
	name := os.Getenv("KEEP")
	if name == "" {
		t.Skip("KEEP says where")
	}
	b := open(t)
	memory := postingtest.ForWalk()
	walk := postingtest.NewWalk(7, memory)
	drafts := map[int64]*store.Draft{}
	for range 350 {
		s := walk.Next()
		_ = memory.Take(s) // refusals are a part of the walk
		_ = step(b, s, drafts)
	}
	mustTieOut(t, b, memory.Now)
	file := filepath.Join(t.TempDir(), "firm.db")
	if err := b.Backup(ctx, file); err != nil {
		t.Fatal(err)
	}
	data, err := os.ReadFile(file)
	if err != nil {
		t.Fatal(err)
	}
	out, err := os.Create(name)
	if err != nil {
		t.Fatal(err)
	}
	z, _ := gzip.NewWriterLevel(out, gzip.BestCompression)
	if _, err := z.Write(data); err != nil {
		t.Fatal(err)
	}
	if err := errors.Join(z.Close(), out.Close()); err != nil {
		t.Fatal(err)
	}
}
