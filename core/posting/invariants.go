package posting

import (
	"fmt"

	"cleantally/core/day"
	"cleantally/core/ledger"
	"cleantally/core/money"
)

// Check proves an effect before it is committed: entries balance and lie in
// the open period, every control account moves by party and day exactly as its
// register does, and nothing is used up beyond its bounds on any day. An error
// here is a fault of the program, not of the bookkeeper.
func (e Effect) Check(f Facts) error {
	b := &Builder{Facts: f, effect: e}
	for _, p := range e.Papers {
		if p.Day <= f.LockedThrough() || p.Day == "" {
			return fmt.Errorf("paper %s is dated %s, in the closed period", p.Number, p.Day)
		}
	}
	for _, prove := range []func() error{b.checkEntries, b.checkRegisters, b.checkItems, b.checkThings, b.checkStock} {
		if err := prove(); err != nil {
			return err
		}
	}
	return nil
}

func (b *Builder) checkEntries() error {
	for _, entry := range b.effect.Entries {
		if err := entry.Check(); err != nil {
			return err
		}
		if entry.Day <= b.LockedThrough() || entry.Day == "" {
			return fmt.Errorf("entry %q is dated %s, in the closed period", entry.Text, entry.Day)
		}
		for _, l := range entry.Lines {
			_, control := b.Control(l.AccountID)
			if control && l.JobID != 0 {
				return fmt.Errorf("entry %q bears a job on a control account", entry.Text)
			}
			if j, ok := b.Job(l.JobID); ok && l.PartyID != 0 && j.PartyID != l.PartyID {
				return fmt.Errorf("entry %q bears a job of another party", entry.Text)
			}
		}
	}
	return nil
}

// place is where a control account and its register must agree.
type place struct {
	register ledger.Role
	party    int64
	day      day.Day
}

// checkRegisters proves that by register, party and day the lines on control
// accounts are the moves in their registers.
func (b *Builder) checkRegisters() error {
	differ := map[place]money.Amount{}
	for _, entry := range b.effect.Entries {
		for _, l := range entry.Lines {
			if role, ok := b.Control(l.AccountID); ok {
				differ[place{role, l.PartyID, entry.Day}] += l.Amount
			}
		}
	}
	take := func(register ledger.Role, party int64, d day.Day, p Part, sign money.Amount) {
		differ[place{register, party, d}] -= sign * Borne(register, p).Base
		if role, tax := TaxBorne(register, p); tax.Base != 0 {
			differ[place{role, party, d}] -= sign * tax.Base
		}
	}
	for _, m := range b.effect.Moves {
		i, ok := b.Look(m.Item)
		if !ok {
			return fmt.Errorf("a move of the unknown item %d", m.Item)
		}
		if m.Day <= b.LockedThrough() || m.Day < i.Day {
			return fmt.Errorf("a move of %s is dated %s, before the item or in the closed period", i.Number, m.Day)
		}
		take(i.Register, i.PartyID, m.Day, m.Part, 1)
	}
	for _, p := range b.effect.Papers {
		for _, l := range p.Lines {
			if l.Register != "" {
				take(l.Register, p.PartyID, p.Day, l.Part(), lineSign(l.Register))
			}
		}
	}
	for _, u := range b.effect.Uses {
		if register := b.registerOf(u.Of); register != "" {
			paper, _ := b.PaperOf(u.Of.PaperID)
			take(register, paper.PartyID, u.Day, u.Part.Neg(), lineSign(register))
		}
	}
	for _, m := range b.effect.Stock {
		take(ledger.Stock, 0, m.Day, Of(m.Value, 0), 1)
	}
	for p, by := range differ {
		if by != 0 {
			return fmt.Errorf("on %s the account of %s moves by %d more than its register for party %d", p.day, p.register, by, p.party)
		}
	}
	return nil
}

// checkItems proves that an item's open amount and the tax inside stay between
// nil and what it began with at the end of every day.
func (b *Builder) checkItems() error {
	touched := map[ItemRef]bool{}
	for _, m := range b.effect.Moves {
		if touched[m.Item] {
			continue
		}
		touched[m.Item] = true
		i, _ := b.Look(m.Item)
		var changes []dated
		for _, m := range b.moves(m.Item) {
			changes = append(changes, dated{m.Day, m.Part})
		}
		whole := signed(i.Part, i.Sign())
		for _, end := range endsOf(changes) {
			open := signed(end.Part, i.Sign())
			if !within(open, whole) {
				return fmt.Errorf("%s would have %+v open of %+v on %s", i.Number, open, whole, end.day)
			}
		}
	}
	return nil
}

func signed(p Part, sign money.Amount) Part {
	if sign < 0 {
		return p.Neg()
	}
	return p
}

// within tells whether a part lies between nil and a whole, with nothing left
// inside once the amount is used up.
func within(p, whole Part) bool {
	for _, x := range [][2]money.Amount{{p.Amount.Own, whole.Amount.Own}, {p.Amount.Base, whole.Amount.Base}, {p.Tax.Own, whole.Tax.Own}, {p.Tax.Base, whole.Tax.Base}} {
		if x[0] < 0 || x[0] > x[1] {
			return false
		}
	}
	return p.Amount.Own != 0 || (p == Part{})
}

// checkThings proves that no use of a thing passes its bound on any day, and
// that no code of a paper is used beyond what was billed by it, net and tax.
func (b *Builder) checkThings() error {
	done := map[Thing]bool{}
	for _, u := range b.effect.Uses {
		for _, t := range []Thing{u.Of, {LineRef{u.Of.PaperID, 0}, u.Of.TaxCodeID}} {
			if done[t] {
				continue
			}
			done[t] = true
			_, _, paper, ok := b.thingOf(t)
			if !ok {
				if t == u.Of {
					return fmt.Errorf("a use of what cannot be used: %+v", t)
				}
				continue
			}
			if u.Day < paper.Day || u.Day <= b.LockedThrough() {
				return fmt.Errorf("a use of %s is dated %s, before it or in the closed period", paper.Number, u.Day)
			}
		}
	}
	if paper, as, broken := b.brokenThing(); broken {
		return fmt.Errorf("of %s more would be %s than there is", paper.Number, as)
	}
	return nil
}

// brokenThing is a paper of whose lines, or of whose code, more would be used
// than there is on some day.
func (b *Builder) brokenThing() (Paper, UseKind, bool) {
	done := map[Thing]bool{}
	for _, u := range b.effect.Uses {
		for _, t := range []Thing{u.Of, {LineRef{u.Of.PaperID, 0}, u.Of.TaxCodeID}} {
			if done[t] {
				continue
			}
			done[t] = true
			if as, broken := b.broken(t); broken {
				paper, _ := b.PaperOf(t.PaperID)
				return paper, as, true
			}
		}
	}
	return Paper{}, "", false
}

// bounded refuses what would leave more of a thing used than there is on a day
// that no plan looked at: one between others, dated back.
func (b *Builder) bounded() {
	if b.Refused() || b.fault != nil {
		return
	}
	if paper, as, broken := b.brokenThing(); broken {
		b.Refuse("day", "more than is left", "", "More of %s would be %s on some day than there is on it. Use a later day, or take back first what was done after it.", paper.Number, as)
	}
}

// checkStock proves that there is never less than nothing of an article, and
// that nothing is worth nothing.
func (b *Builder) checkStock() error {
	since := map[int64]day.Day{} // nothing of an article is otherwise before
	for _, m := range b.effect.Stock {
		if d, known := since[m.ArticleID]; !known || m.Day < d {
			since[m.ArticleID] = m.Day
		}
	}
	for article, d := range since {
		least, all, value := b.StockOn(article, d)
		if least < 0 || value < 0 || (all == 0 && value != 0) {
			return fmt.Errorf("article %d would come to %d pieces, %d at the least, worth %d", article, all, least, value)
		}
	}
	return nil
}
