package posting

import (
	"fmt"
	"strings"

	"cleantally/core/day"
	"cleantally/core/ledger"
	"cleantally/core/master"
	"cleantally/core/money"
)

// Builder puts an effect together and collects what speaks against it. Every
// Plan uses one; the rules that hold for every paper live in it.
type Builder struct {
	Facts
	effect   Effect
	refusals Refusals
}

// Build returns a builder for one effect.
func Build(f Facts) *Builder { return &Builder{Facts: f} }

// Refuse records why the command cannot be done.
func (b *Builder) Refuse(field, rule, limit, format string, args ...any) {
	b.refusals = append(b.refusals, Notice{field, rule, limit, fmt.Sprintf(format, args...)})
}

// Warn records what must be confirmed before posting.
func (b *Builder) Warn(field, rule, limit, format string, args ...any) {
	b.effect.Warnings = append(b.effect.Warnings, Notice{field, rule, limit, fmt.Sprintf(format, args...)})
}

// Refused tells whether anything has been refused so far.
func (b *Builder) Refused() bool { return len(b.refusals) > 0 }

// Paper makes p the paper of the effect. Its number is checked when it was
// chosen and given when it was not.
func (b *Builder) Paper(p Paper) *Paper {
	p.Number = strings.TrimSpace(p.Number)
	_, err := day.Parse(string(p.Day))
	switch {
	case p.Number == "" && err == nil:
		p.Number = b.NextNumber(p.Kind, p.Day)
	case len(p.Number) > 40:
		b.Refuse("number", "too long", "40", "A number has at most 40 characters. Shorten it, or leave it empty to be given the next.")
	case p.Number != "" && b.NumberTaken(p.Kind, p.Number):
		b.Refuse("number", "taken", p.Number, "The number %s is taken. Leave it empty to be given %s.", p.Number, b.NextNumber(p.Kind, p.Day))
	}
	b.effect.Paper = &p
	return b.effect.Paper
}

// Open adds a new open item and its first move.
func (b *Builder) Open(i Item) ItemRef {
	i.ID = ItemRef(-len(b.effect.Items) - 1)
	i.Open = i.Amount
	if p := b.effect.Paper; p != nil {
		i.Kind, i.Number = p.Kind, p.Number
	}
	b.effect.Items = append(b.effect.Items, i)
	b.effect.Moves = append(b.effect.Moves, Move{Item: i.ID, Day: i.Day, Amount: i.Amount})
	return i.ID
}

// Placed is the sum of what the effect has allocated so far.
func (b *Builder) Placed() money.Amount { return b.effect.Placed() }

// Placed is the sum of the effect's allocations.
func (e Effect) Placed() money.Amount {
	var sum money.Amount
	for _, a := range e.Allocations {
		if a.Undoes == 0 {
			sum += a.Amount
		}
	}
	return sum
}

// Enter adds a journal entry of the effect's own paper.
func (b *Builder) Enter(e ledger.Entry) {
	if len(e.Lines) > 0 {
		b.effect.Entries = append(b.effect.Entries, Entry{Entry: e})
	}
}

// Effect returns what was built and the refusals, if any.
func (b *Builder) Effect(summary string) (Effect, error) {
	b.effect.Summary = summary
	if len(b.refusals) > 0 {
		return b.effect, b.refusals
	}
	return b.effect, nil
}

// item returns an item by reference, new or posted.
func (b *Builder) item(ref ItemRef) (Item, bool) {
	if ref < 0 && int(-ref) <= len(b.effect.Items) {
		return b.effect.Items[-ref-1], true
	}
	return b.Item(ref)
}

// moves returns all moves of an item, posted and planned.
func (b *Builder) moves(ref ItemRef) []Move {
	var all []Move
	if ref > 0 {
		all = append(all, b.ItemMoves(ref)...)
	}
	for _, m := range b.effect.Moves {
		if m.Item == ref {
			all = append(all, m)
		}
	}
	return all
}

// PostingDay refuses a day that does not exist or lies in the closed period,
// and warns of one in the future or long past (docs/rules.md, part 10).
func (b *Builder) PostingDay(field string, d day.Day) bool {
	if _, err := day.Parse(string(d)); err != nil {
		if d == "" {
			err = fmt.Errorf("a day is missing")
		}
		b.Refuse(field, "no such day", "", "%s. Write a day such as %s.", sentence(err.Error()), b.Today().Show())
		return false
	}
	if lock := b.LockedThrough(); lock != "" && d <= lock {
		b.Refuse(field, "locked", string(lock), "The books are locked through %s, so nothing can be dated %s. Use %s or later.",
			lock.Show(), d.Show(), lock.Add(1).Show())
		return false
	}
	if d > b.Today() {
		b.Warn(field, "in the future", string(b.Today()), "%s is in the future: today is %s.", d.Show(), b.Today().Show())
	} else if back := b.Today().Since(d); back > 60 {
		b.Warn(field, "long past", "60", "%s is %d days back.", d.Show(), back)
	}
	return true
}

// AmountAboveNil refuses an amount of nil or less, or beyond the limit.
func (b *Builder) AmountAboveNil(field string, a money.Amount, what string) bool {
	if a <= 0 {
		b.Refuse(field, "above nil", b.Currency().Format(0), "%s must be above nil.", sentence(what))
		return false
	}
	if a > money.Limit {
		b.Refuse(field, "too large", b.Currency().Format(money.Limit), "%s is beyond the limit of %s.", sentence(what), b.Currency().Show(money.Limit))
		return false
	}
	return true
}

// Customer refuses a customer who is missing, not a customer or not in use.
func (b *Builder) Customer(field string, id int64) (master.Party, bool) {
	p, ok := b.Party(id)
	switch {
	case !ok || !p.IsCustomer:
		b.Refuse(field, "missing", "", "Say which customer this is for.")
	case p.Inactive:
		b.Refuse(field, "not in use", "", "%s is not in use any more. Take the customer into use again first.", p.Name)
	default:
		return p, true
	}
	return p, false
}

// JobOf refuses a job of another customer and warns of a closed one. Without a
// job it answers true.
func (b *Builder) JobOf(field string, id, partyID int64) bool {
	if id == 0 {
		return true
	}
	j, ok := b.Job(id)
	if !ok {
		b.Refuse(field, "missing", "", "There is no such job. Choose another, or none.")
		return false
	}
	if partyID != 0 && j.PartyID != partyID {
		owner, _ := b.Party(j.PartyID)
		b.Refuse(field, "another customer's job", "", "Job %s belongs to %s. Choose a job of this customer, or none.", j.Number, owner.Name)
		return false
	}
	if j.Closed {
		b.Warn(field, "closed job", "", "Job %s is closed.", j.Number)
	}
	return true
}

// Bank refuses a bank account that is missing or not in use and returns its
// ledger account.
func (b *Builder) Bank(field string, id int64) (ledger.Account, bool) {
	bank, ok := b.BankAccount(id)
	if !ok {
		b.Refuse(field, "missing", "", "Say into which bank account the money came.")
		return ledger.Account{}, false
	}
	if bank.Inactive {
		b.Refuse(field, "not in use", "", "The bank account %s is not in use any more. Choose another.", bank.Name)
		return ledger.Account{}, false
	}
	a, ok := b.Account(bank.AccountID)
	return a, ok
}

// Method refuses a way of payment that is not known.
func (b *Builder) Method(field string, m Method) {
	for _, known := range Methods {
		if m == known {
			return
		}
	}
	b.Refuse(field, "missing", "", "Say how the money came: transfer, card, cheque, cash or direct debit.")
}

// PaidTwice warns when the customer's last 90 days already hold the same
// reference with the same amount.
func (b *Builder) PaidTwice(partyID int64, reference string, amount money.Amount, d day.Day) {
	if reference == "" || d == "" || partyID == 0 {
		return
	}
	if number, found := b.SamePayment(partyID, reference, amount, d.Add(-90)); found {
		b.Warn("reference", "paid twice?", "90", "%s has the same reference and the same amount. Was this paid twice, or is it being recorded twice?", number)
	}
}

// sentence makes the first letter a capital.
func sentence(s string) string {
	if s == "" {
		return s
	}
	return strings.ToUpper(s[:1]) + s[1:]
}
