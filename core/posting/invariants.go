package posting

import (
	"fmt"

	"cleantally/core/day"
	"cleantally/core/ledger"
	"cleantally/core/money"
)

// Check proves an effect before it is committed: entries balance and lie in
// the open period, every control account moves on every day exactly as its
// register does, and no open amount leaves its bounds on any day. An error
// here is a fault of the program, not of the bookkeeper.
func (e Effect) Check(f Facts) error {
	type place struct {
		account int64
		day     day.Day
	}
	controls := map[int64]ledger.Role{}
	for _, r := range ledger.Controls {
		controls[f.Role(r).ID] = r
	}
	differ := map[place]money.Amount{}
	for _, entry := range e.Entries {
		if err := entry.Check(); err != nil {
			return err
		}
		if entry.Day <= f.LockedThrough() {
			return fmt.Errorf("entry %q is dated %s, in the closed period", entry.Text, entry.Day)
		}
		for _, l := range entry.Lines {
			if _, ok := controls[l.AccountID]; ok {
				differ[place{l.AccountID, entry.Day}] += l.Amount
			}
		}
	}
	b := &Builder{Facts: f, effect: e}
	touched := map[ItemRef]bool{}
	for _, m := range e.Moves {
		i, ok := b.Look(m.Item)
		if !ok {
			return fmt.Errorf("a move of the unknown item %d", m.Item)
		}
		if m.Day <= f.LockedThrough() || m.Day < i.Day {
			return fmt.Errorf("a move of %s is dated %s, before the item or in the closed period", i.Number, m.Day)
		}
		differ[place{f.Role(i.Register).ID, m.Day}] -= m.Amount - m.Tax
		touched[m.Item] = true
	}
	for p, by := range differ {
		if by != 0 {
			return fmt.Errorf("on %s the account of %s moves by %d more than its register", p.day, controls[p.account], by)
		}
	}
	for ref := range touched {
		i, _ := b.Look(ref)
		if err := bounded(i, b.moves(ref)); err != nil {
			return err
		}
	}
	return nil
}

// bounded proves that an item's open amount stays between nil and its amount
// at the end of every day.
func bounded(i Item, moves []Move) error {
	ends := map[day.Day]money.Amount{}
	for _, m := range moves {
		ends[m.Day] += m.Amount
	}
	for d := range ends {
		var open money.Amount
		for other, a := range ends {
			if other <= d {
				open += a
			}
		}
		if i.Amount < 0 {
			open = -open
		}
		if open < 0 || open > i.Amount.Abs() {
			return fmt.Errorf("%s would have %d open of %d on %s", i.Number, open, i.Amount.Abs(), d)
		}
	}
	return nil
}
