package demo

import (
	"context"
	"fmt"
	"slices"

	"cleantally/books"
	"cleantally/core/banking"
	"cleantally/core/journal"
	"cleantally/core/posting"
	"cleantally/core/settling"
	"cleantally/store"
)

// FirstProposals tells the demo firm's history, and counts for each line of its
// bank, before it was explained, whether the first of what was proposed was what
// it was: by the kind of paper that it became, or "tied" with that to which it was
// tied. It also says what was proposed wrongly.
func FirstProposals(ctx context.Context, b *books.Book) (map[string]Guess, []string, error) {
	t := newTeller(b)
	t.bank.guesses = map[string]Guess{}
	err := t.tell(ctx, Today, func(int, int) {})
	return t.bank.guesses, t.bank.wrong, err
}

// guess counts whether the first proposal of a line is what it is: the movement
// that it is tied to, or the command that it becomes.
func (t *teller) guess(ctx context.Context, is pending, line int64, c posting.Command, e posting.Effect) error {
	if t.bank.guesses == nil {
		return nil
	}
	r := t.book.Read(ctx)
	l, _, err := r.BankLineRow(line)
	if err != nil {
		return err
	}
	found, err := books.Proposals(r, is.bank, []store.BankLine{l}, t.book.Today())
	if err != nil {
		return err
	}
	var first banking.Proposed
	if len(found[line]) > 0 {
		first = found[line][0]
	}
	name, right := string(is.kind), false
	if c == nil {
		name = "tied, " + name
		right = first.Movement == is.movement && len(first.With) == 0
	} else {
		right = isRight(first, c, e)
	}
	g := t.bank.guesses[name]
	g.Of++
	if right {
		g.Right++
	} else {
		t.bank.wrong = append(t.bank.wrong, fmt.Sprintf("%s %s %d %q %q: %s %s %s for %q against %q", name, l.Day, l.Amount, l.OtherName, l.Text, first.Make, first.Number, first.Party, first.For, first.Against))
	}
	t.bank.guesses[name] = g
	return nil
}

// isRight tells whether a proposal fills in the paper that a command makes, for
// the same customer and out of the same items.
func isRight(p banking.Proposed, c posting.Command, e posting.Effect) bool {
	if p.Movement != 0 {
		return false
	}
	var items []posting.ItemRef
	if p.Item != 0 {
		items = append(items, p.Item)
	}
	for _, k := range p.With {
		items = append(items, k.Item)
	}
	switch x := c.(type) {
	case settling.Receipt:
		for _, placed := range x.Placements {
			if !slices.Contains(items, placed.Debit) {
				return false
			}
		}
		return p.Make == posting.Receipt && p.PartyID == x.PartyID
	case settling.Deposit:
		return p.Make == posting.Deposit && p.PartyID == x.PartyID
	case settling.Unidentified:
		return p.Make == "" || p.Weight() <= 2 // nothing is said with any weight
	case settling.Returned:
		return p.Make == posting.Returned && p.PaperID == x.PaperID
	case settling.OwnTransfer:
		return p.Make == posting.OwnTransfer && (p.Habit.ToBank == x.ToAccountID || p.Habit.ToBank == x.FromAccountID)
	case journal.Journal:
		return p.Make == posting.Journal && slices.ContainsFunc(x.Lines, func(l journal.Line) bool { return l.AccountID == p.Habit.AccountID })
	}
	return p.Make == e.Paper().Kind
}
