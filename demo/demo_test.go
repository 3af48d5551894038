package demo_test

import (
	"maps"
	"slices"
	"testing"
	"time"

	"cleantally/books"
	"cleantally/demo"
)

// Of the lines of the demo's bank, told one after the other as they came, at
// least nine in ten first proposals are what the line was.
func TestFirstProposals(t *testing.T) {
	b, err := books.Open(t.Context(), t.TempDir(), time.Now, demo.Today)
	if err != nil {
		t.Fatal(err)
	}
	defer b.Close()
	guesses, wrong, err := demo.FirstProposals(t.Context(), b)
	if err != nil {
		t.Fatal(err)
	}
	var all demo.Guess
	for _, kind := range slices.Sorted(maps.Keys(guesses)) {
		g := guesses[kind]
		t.Logf("%-28s %3d of %3d", kind, g.Right, g.Of)
		all.Right, all.Of = all.Right+g.Right, all.Of+g.Of
	}
	t.Logf("%-28s %3d of %3d", "all", all.Right, all.Of)
	if testing.Verbose() {
		for _, w := range wrong {
			t.Log(w)
		}
	}
	if all.Of < 300 || all.Right*10 < all.Of*9 {
		for _, w := range wrong {
			t.Log(w)
		}
		t.Errorf("%d of %d are right", all.Right, all.Of)
	}
}
