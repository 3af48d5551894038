package books_test

import (
	"path/filepath"
	"reflect"
	"testing"
	"time"

	"cleantally/books"
	"cleantally/core/money"
	"cleantally/core/posting"
	"cleantally/store"
)

// A list of papers that are searched for is the same from memory as by a look at
// each of them, whatever else it is narrowed and sorted by.
func TestFoundInMemoryAsInTheFile(t *testing.T) {
	dir := t.TempDir()
	unpack(t, kept[0], filepath.Join(dir, store.FileName))
	b, err := books.Open(t.Context(), dir, time.Now, "2026-11-20")
	if err != nil {
		t.Fatal(err)
	}
	defer b.Close()
	amount := money.Amount(12000)
	compared := 0
	for _, f := range []store.PaperFilter{
		{Search: "26-00"}, {Search: "A"}, {Search: "nobody at all"}, {Search: "i26", Kind: posting.Invoice}, {Search: "120", Amount: &amount}, {Search: "r26", State: "open"}, {Search: "26-", State: "settled"},
		{Search: "26-", PartyID: 1}, {Search: "26-", From: "2026-02-01", To: "2026-06-30"}, {Search: "2", JobID: 1},
	} {
		for _, q := range []store.Query{{Limit: 7}, {Limit: 7, Sort: "day"}, {Limit: 5, Sort: "total", Desc: true}, {Limit: 4, Sort: "open"}, {}} {
			for _, past := range []bool{false, true} {
				compared += samePages(t, b, f, q, past)
			}
		}
	}
	if compared < 200 {
		t.Errorf("only %d papers were compared", compared)
	}
}

// samePages compares three pages of a list, from memory and without, and returns
// how many papers they have.
func samePages(t *testing.T, b *books.Book, f store.PaperFilter, q store.Query, past bool) (papers int) {
	t.Helper()
	for range 3 {
		got, err := b.Read(t.Context()).Papers(f, q, "2026-05-31", past)
		if err != nil {
			t.Fatal(err)
		}
		var want store.Page[store.PaperRow]
		if err := b.WhileWriting(t.Context(), func(r *store.Reader) (err error) {
			want, err = r.Papers(f, q, "2026-05-31", past)
			return err
		}); err != nil {
			t.Fatal(err)
		}
		if q.After != 0 { // which is told with the first
			got.Count, want.Count, got.Sums, want.Sums = 0, 0, nil, nil
		}
		if !reflect.DeepEqual(got, want) {
			t.Fatalf("%+v by %+v, past %v:\n%+v, want\n%+v", f, q, past, got, want)
		}
		papers += len(got.Rows)
		if !got.More {
			break
		}
		q.After = got.Rows[len(got.Rows)-1].ID
	}
	return papers
}
