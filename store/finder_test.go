package store

import (
	"fmt"
	"hash/maphash"
	"slices"
	"strings"
	"testing"

	"cleantally/core/money"
	"cleantally/core/posting"
)

// A phrase whose hash another has is not kept, and finds nothing that it does not say.
func TestPhrasesOfOneHash(t *testing.T) {
	var p phrases
	brandt, _ := p.put("odalys brandt")
	p.at[maphash.String(p.seed, "harrow & finn")] = brandt
	if at, kept := p.put("harrow & finn"); at != 0 || kept {
		t.Errorf("kept at %d: %t", at, kept)
	}
	if at, kept := p.put("odalys brandt"); at != brandt || !kept {
		t.Errorf("found at %d: %t, kept at %d", at, kept, brandt)
	}
	if found := p.say("finn"); found != nil {
		t.Errorf("found %v", found)
	}
	if found := p.say("brandt"); !slices.Equal(found, []bool{false, true}) {
		t.Errorf("found %v", found)
	}
}

// What is found in memory is what a look at each paper finds, in the same order.
func TestFinderFindsWhatIsThere(t *testing.T) {
	f := finder{phrases: phrases{most: 9}} // the last titles are no phrases
	var all []searched
	names := []string{"Odalys Brandt", "Harrow & Finn", "Zoë Ålund", ""}
	for n := range 2*blockPapers + 37 {
		x := searched{id: int64(n*2 + 1), day: "2026-01-01", kind: posting.Invoice, total: money.Amount(n%977) * 100}
		x.day = x.day.Add(n * 7 % 365)
		if n%1000 == 0 {
			x.total = 1 << 40
		}
		if n%3 == 0 {
			x.kind, x.total = posting.Receipt, -x.total
		}
		x.words = strings.ToLower(fmt.Sprintf("I26-%04d\n%s\nref %d\nStair %d\n", n, names[n%4], n%50, n%11))
		all = append(all, x)
	}
	all[7].words += "cheque 77"
	f.add(all[:5])
	f.add(all[5 : blockPapers+1])
	f.add(all[blockPapers+1:])
	for _, w := range []wanted{
		{words: "brandt"}, {words: "i26-0010"}, {words: "e 9"}, {words: "ålund"}, {words: "nobody"}, {words: "stair 1"}, {words: "stair 1", numbers: true}, {words: "ref 4", numbers: true},
		{words: "120", amounts: true, from: 12000, to: 12000}, {words: "none", amounts: true, from: 1 << 40, to: 1 << 40}, {words: "stair 10"}, {words: "cheque 77"}, {words: "cheque 77", numbers: true}, {words: "120", numbers: true, amounts: true, from: 12000, to: 12099}, {words: "brandt", kind: posting.Receipt}, {words: "finn", kind: posting.Refund},
		{words: "finn", since: "2026-03-01", until: "2026-03-09"}, {words: "-", until: "2026-02-01", kind: posting.Invoice},
	} {
		var want []searched
		for _, x := range all {
			within := x.words
			if w.numbers {
				lines := strings.Split(x.words, "\n")
				within = lines[0] + "\x00" + lines[2]
			}
			amount := w.amounts && x.total.Abs() >= w.from && x.total.Abs() <= w.to
			if (strings.Contains(within, w.words) || amount) && (w.kind == "" || w.kind == x.kind) && x.day >= w.since && (w.until == "" || x.day <= w.until) {
				want = append(want, x)
			}
		}
		for _, desc := range []bool{false, true} {
			slices.SortFunc(want, func(x, y searched) int {
				c := strings.Compare(string(x.day)+fmt.Sprintf("%08d", x.id), string(y.day)+fmt.Sprintf("%08d", y.id))
				if desc {
					return -c
				}
				return c
			})
			var sum money.Amount
			var ids, shown []int64
			for _, x := range want {
				sum, ids = sum+x.total, append(ids, x.id)
			}
			after, size := int64(0), 700
			for pages := 0; pages < 4; pages++ {
				p := f.page(w, desc, after, size)
				if int(p.count) != len(want) || p.sum != sum {
					t.Fatalf("%+v: %d of %d, sum %d of %d", w, p.count, len(want), p.sum, sum)
				}
				if shown = append(shown, p.ids...); len(p.ids) < size {
					break
				}
				after = p.ids[size-1]
			}
			if !slices.Equal(shown, ids[:min(len(ids), len(shown))]) || len(shown) < min(len(ids), 4*size) {
				t.Errorf("%+v, the last first %v: %d shown of %d", w, desc, len(shown), len(ids))
			}
		}
		if text, few := f.found(w); few != (len(want) <= fewFound) || few && strings.Count(text, ",") != max(len(want)-1, 0) {
			t.Errorf("%+v: few %v, of %d", w, few, len(want))
		}
	}
	// What begins so comes first, then the newest.
	for words, want := range map[string]string{"i26-0012": "[25]", "i26-001": "[39,37,35]", "nobody": "[]"} {
		if got := f.best(wanted{words: words, numbers: true}, 3); got != want {
			t.Errorf("the best of %s: %s", words, got)
		}
	}
	if f.paper(2) != nil || f.paper(3) == nil {
		t.Error("a paper by its ID")
	}
}

// Very many papers are read beside whoever searches first, who looks at each of
// them meanwhile; both find the same, and what is posted since.
func TestVeryManyAreReadBeside(t *testing.T) {
	db := openEmpty(t)
	put := func(from, through int) {
		t.Helper()
		if err := db.Write(t.Context(), func(tx *Tx) error {
			return tx.db.Exec(`WITH RECURSIVE n (n) AS (SELECT ? UNION ALL SELECT n + 1 FROM n WHERE n < ?) INSERT INTO papers (id, act_id, kind, about, number, day, total, search)
				SELECT n, 1, 'invoice', 'invoice', 'I26-' || n, '2026-10-01', n, 'i26-' || n || char(10) FROM n`, from, through).Error
		}); err != nil {
			t.Fatal(err)
		}
	}
	if err := db.Write(t.Context(), func(tx *Tx) error {
		return tx.db.Exec("INSERT INTO acts (id, at, user_id, action, summary) VALUES (1, '', 1, 'a', 's')").Error
	}); err != nil {
		t.Fatal(err)
	}
	put(1, loadAtOnce+10)
	look := func(want int64) {
		t.Helper()
		p, err := db.Read(t.Context()).Papers(PaperFilter{Search: "I26-200"}, Query{Limit: 5}, "2026-11-20", false)
		if err != nil || p.Count != want || len(p.Rows) != 5 || p.Rows[0].Number < "I26-2000" {
			t.Fatalf("found %d of %d: %+v, %v", p.Count, want, p.Rows, err)
		}
	}
	look(22) // I26-200, ten from I26-2000 on, eleven from I26-20000 on
	for known := false; !known; {
		var err error
		if known, err = db.finder.ready(*db.Read(t.Context()), ""); err != nil {
			t.Fatal(err)
		}
	}
	look(22)
	put(loadAtOnce+11, loadAtOnce+20)
	look(22 + 10)
}
