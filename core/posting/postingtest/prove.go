package postingtest

import (
	"cmp"
	"fmt"
	"maps"
	"slices"

	"cleantally/core/day"
	"cleantally/core/ledger"
	"cleantally/core/money"
	"cleantally/core/posting"
)

// Prove recomputes from the rows in memory what must hold whatever was posted:
// by register, party and day the lines on control accounts are what moved;
// nothing of a debt is used beyond its tax; the allowance is never overdrawn;
// nothing is tied or charged twice.
func (b *Book) Prove() error {
	for _, prove := range []func() error{b.proveRegisters, b.proveDebts, b.proveAllowance, b.proveOnce} {
		if err := prove(); err != nil {
			return err
		}
	}
	return nil
}

func (b *Book) proveRegisters() error {
	type place struct {
		register ledger.Role
		party    int64
		day      day.Day
	}
	differ := map[place]money.Amount{}
	type owner struct {
		register ledger.Role
		party    int64
		currency string
	}
	own := map[owner]money.Amount{} // in its own currency
	roles := map[int64]ledger.Role{}
	for _, r := range ledger.Controls {
		roles[b.Roles[r]] = r
	}
	for _, e := range b.Entries {
		for _, l := range e.Lines {
			if r, ok := roles[l.AccountID]; ok {
				differ[place{r, l.PartyID, e.Day}] += l.Amount
				own[owner{r, l.PartyID, l.Currency}] += l.Own
			}
		}
	}
	for _, m := range b.Moves {
		i := b.Open[m.Item-1]
		differ[place{i.Register, i.PartyID, m.Day}] -= posting.Borne(i.Register, m.Part).Base
		if i.Currency != "" {
			own[owner{i.Register, i.PartyID, i.Currency}] -= posting.Borne(i.Register, m.Part).Own
		}
		if role, tax := posting.TaxBorne(i.Register, m.Part); tax.Base != 0 {
			differ[place{role, i.PartyID, m.Day}] -= tax.Base
		}
	}
	side := map[ledger.Role]money.Amount{ledger.Recoverable: 1, ledger.AdvanceBillings: -1, ledger.GoodsReceived: -1}
	for _, p := range b.Papers {
		for _, l := range p.Lines {
			if l.Register != "" {
				differ[place{l.Register, p.PartyID, p.Day}] -= side[l.Register] * posting.Borne(l.Register, l.Part()).Base
			}
		}
	}
	for _, u := range b.Used {
		p := b.Papers[u.Of.PaperID-1]
		if u.Of.Position > 0 && p.Lines[u.Of.Position-1].Register != "" {
			r := p.Lines[u.Of.Position-1].Register
			differ[place{r, p.PartyID, u.Day}] += side[r] * posting.Borne(r, u.Part).Base
		}
	}
	for _, m := range b.Stock {
		differ[place{ledger.Stock, 0, m.Day}] -= m.Value
	}
	for p, by := range own {
		if _, lines := side[p.register]; by != 0 && !lines && p.register != ledger.DeferredTax && p.register != ledger.TaxWhenPaid {
			return fmt.Errorf("%s differs by %d %s for party %d", p.register, by, p.currency, p.party)
		}
	}
	for p, by := range differ {
		if by != 0 {
			return fmt.Errorf("%s differs by %d for party %d on %s", p.register, by, p.party, p.day)
		}
	}
	return nil
}

// proveDebts adds what was discounted, written off and credited of each code
// up, at the end of every day.
func (b *Book) proveDebts() error {
	uses := slices.Clone(b.Used)
	slices.SortStableFunc(uses, func(x, y posting.Use) int { return cmp.Compare(x.Day, y.Day) })
	left, whole := map[posting.Thing]posting.Part{}, map[posting.Thing]money.Amount{} // and on which side of nil it began
	for _, p := range b.Papers {
		if d, _ := posting.Describe(p.Kind); !d.Bills {
			continue
		}
		for _, l := range p.Lines {
			t := posting.Thing{LineRef: posting.LineRef{PaperID: p.ID}, TaxCodeID: l.TaxCodeID}
			left[t] = left[t].Add(l.Part())
			whole[t] = money.Amount(cmp.Compare(left[t].Amount.Own, 0))
		}
	}
	for n, u := range uses {
		t := posting.Thing{LineRef: posting.LineRef{PaperID: u.Of.PaperID}, TaxCodeID: u.Of.TaxCodeID}
		p, counts := left[t]
		if !counts || (u.Of.Position > 0 && u.As != posting.Credited) {
			continue
		}
		left[t] = p.Sub(u.Part)
		if lastOfDay := n+1 == len(uses) || uses[n+1].Day != u.Day; lastOfDay && left[t].Tax.Own*whole[t] < 0 {
			return fmt.Errorf("of paper %d, code %d, more tax came back than was billed on %s: %+v", t.PaperID, t.TaxCodeID, u.Day, left[t])
		}
	}
	return nil
}

func (b *Book) proveAllowance() error {
	days := map[day.Day]money.Amount{}
	for _, e := range b.Entries {
		for _, l := range e.Lines {
			if l.AccountID == b.Roles[ledger.Allowance] {
				days[e.Day] -= l.Amount
			}
		}
	}
	var stands money.Amount
	for _, d := range slices.Sorted(maps.Keys(days)) {
		if stands += days[d]; stands < 0 {
			return fmt.Errorf("the allowance stands at %d on %s", stands, d)
		}
	}
	return nil
}

func (b *Book) proveOnce() error {
	undone := map[int64]bool{}
	for _, u := range b.Used {
		if u.Undoes != 0 && undone[u.Undoes] {
			return fmt.Errorf("the use %d is undone twice", u.Undoes)
		}
		undone[u.Undoes] = true
	}
	sums := map[int64]money.Amount{}
	amounts := map[int64]money.Amount{}
	for _, m := range b.movements() {
		amounts[m.ID] = m.Amount
	}
	groups := map[int64][]posting.Tie{}
	for _, t := range b.Ties {
		if !t.Freed {
			sums[t.BankLineID] += amounts[t.MovementID]
			groups[t.MovementID] = append(groups[t.MovementID], t)
		}
	}
	for line, sum := range sums {
		of := b.BankLines[line-1].Amount
		for _, t := range b.Ties {
			if t.BankLineID == line && !t.Freed && len(groups[t.MovementID]) > 1 {
				of, sum = 0, 0 // several lines are one movement
			}
		}
		if sum != of {
			return fmt.Errorf("bank line %d of %d is tied to %d", line, of, sum)
		}
	}
	for n, c := range b.Charges {
		for _, o := range b.Charges[:n] {
			if c.Item == o.Item && !c.Freed && !o.Freed && c.From <= o.Through && o.From <= c.Through {
				return fmt.Errorf("item %d is charged twice for %s", c.Item, max(c.From, o.From))
			}
		}
	}
	return nil
}
