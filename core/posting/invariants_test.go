package posting_test

import (
	"slices"
	"strings"
	"testing"

	"cleantally/core/ledger"
	"cleantally/core/posting"
	"cleantally/core/posting/postingtest"
	"cleantally/core/settling"
)

// An effect that was tampered with is found out before it is committed.
func TestCheckFindsWhatIsWrong(t *testing.T) {
	deposit := settling.Deposit{PartyID: 1, JobID: 1, Day: "2026-11-20", Amount: 50000, BankAccountID: 1, Method: posting.ByTransfer}
	for says, tamper := range map[string]func(*posting.Effect, *postingtest.Book){
		"":                 func(*posting.Effect, *postingtest.Book) {},
		"does not balance": func(e *posting.Effect, _ *postingtest.Book) { e.Entries[0].Lines[0].Amount++ },
		"has 1 lines":      func(e *posting.Effect, _ *postingtest.Book) { e.Entries[0].Lines = e.Entries[0].Lines[:1] },
		"has a line of 0": func(e *posting.Effect, _ *postingtest.Book) {
			e.Entries[0].Lines = append(e.Entries[0].Lines, ledger.Line{AccountID: 1})
		},
		"moves by -1 more than its": func(e *posting.Effect, _ *postingtest.Book) { e.Moves[0].Amount.Base++; e.Items[0].Amount.Base++ },
		"more than its register": func(e *posting.Effect, b *postingtest.Book) {
			e.Entries[0].Lines[1].AccountID = b.Role(ledger.Receivables).ID // the wrong control account
		},
		"in the closed period":  func(_ *posting.Effect, b *postingtest.Book) { b.Lock = "2026-11-20" },
		"of {Amount:{Own:50000": func(e *posting.Effect, _ *postingtest.Book) { both(e) },
		"unknown item":          func(e *posting.Effect, _ *postingtest.Book) { e.Moves[0].Item = 99 },
		"before the item":       func(e *posting.Effect, _ *postingtest.Book) { e.Moves[0].Day = "2026-11-19" },
	} {
		b := postingtest.New()
		e, err := deposit.Plan(b)
		if err != nil {
			t.Fatal(err)
		}
		e.Entries, e.Moves, e.Items = slices.Clone(e.Entries), slices.Clone(e.Moves), slices.Clone(e.Items)
		e.Entries[0].Lines = slices.Clone(e.Entries[0].Lines)
		tamper(&e, b)
		err = e.Check(b)
		if says == "" && err != nil || says != "" && (err == nil || !strings.Contains(err.Error(), says)) {
			t.Errorf("want %q, got %v", says, err)
		}
	}
}

// both adds to the entry and to the register alike, so that only the bounds of
// the item are hurt.
func both(e *posting.Effect) {
	e.Moves = append(e.Moves, posting.Move{Item: e.Items[0].ID, Day: "2026-11-20", Part: posting.Of(-1000, 0)})
	extra := e.Entries[0]
	extra.Lines = []ledger.Line{{AccountID: e.Entries[0].Lines[0].AccountID, Amount: 1000}, {AccountID: e.Entries[0].Lines[1].AccountID, Amount: -1000, PartyID: 1}}
	e.Entries = append(e.Entries, extra)
}

// As much as both allow is the smaller of what is open, and is refused where
// that is nothing.
func TestAllocateMost(t *testing.T) {
	b := postingtest.New()
	for _, c := range []posting.Command{
		settling.Deposit{PartyID: 1, Day: "2026-11-01", Amount: 50000, BankAccountID: 1, Method: posting.ByCash},
		settling.Deposit{PartyID: 1, Day: "2026-11-01", Amount: 20000, BankAccountID: 1, Method: posting.ByCash},
	} {
		if _, err := b.Post(c); err != nil {
			t.Fatal(err)
		}
	}
	b.Open = append(b.Open, posting.Item{ID: 3, Register: ledger.Receivables, PaperID: 1, PartyID: 1, Day: "2026-11-01", Part: posting.Of(60000, 0), Left: posting.Of(60000, 0), Number: "opening"})
	b.Moves = append(b.Moves, posting.Move{Item: 3, Day: "2026-11-01", Part: posting.Of(60000, 0)})
	most := func(credits ...posting.ItemRef) (posting.Effect, error) {
		s := settling.SetAgainst{Day: "2026-11-20"}
		for _, c := range credits {
			s.Pairs = append(s.Pairs, settling.Pair{Debit: 3, Credit: c, Most: true})
		}
		return s.Plan(b)
	}
	e, err := most(1, 2)
	if err != nil || e.Allocations[0].Amount != 50000 || e.Allocations[1].Amount != 10000 || e.Placed() != 60000 {
		t.Errorf("offered %+v, %v", e.Allocations, err)
	}
	if _, err := most(1, 2, 2); !postingtest.RefusedFor(err, "pairs[2].amount", "nothing left") {
		t.Errorf("more than is owed: %v", err)
	}
}
