package posting

import (
	"fmt"
	"slices"
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
	prefix   string // of fields; see Inside
	byItem   map[ItemRef][]Move
	sorted   int // how many of the effect's moves are in byItem
}

// Build returns a builder for one effect.
func Build(f Facts) *Builder { return &Builder{Facts: f} }

// Refuse records why the command cannot be done.
func (b *Builder) Refuse(field, rule, limit, format string, args ...any) {
	b.refusals = once(b.refusals, Notice{b.prefix + field, rule, limit, fmt.Sprintf(format, args...)})
}

// Warn records what must be confirmed before posting.
func (b *Builder) Warn(field, rule, limit, format string, args ...any) {
	b.effect.Warnings = once(b.effect.Warnings, Notice{b.prefix + field, rule, limit, fmt.Sprintf(format, args...)})
}

// once adds a notice that has not been given yet: several papers of one effect
// may share what is wrong.
func once(all []Notice, n Notice) []Notice {
	if slices.Contains(all, n) {
		return all
	}
	return append(all, n)
}

// Inside runs a part of a command that is made of several: what is refused or
// warned of there names its field inside the part.
func (b *Builder) Inside(prefix string, part func()) {
	before := b.prefix
	b.prefix = before + prefix
	part()
	b.prefix = before
}

// Refusals is how much has been refused so far.
func (b *Builder) Refusals() int { return len(b.refusals) }

// Refused tells whether anything has been refused so far.
func (b *Builder) Refused() bool { return len(b.refusals) > 0 }

// Paper makes p a paper of the effect: what is opened and entered after it is
// its own. Its number is checked when it was chosen and given when it was not.
func (b *Builder) Paper(p Paper) *Paper {
	p.Number = strings.TrimSpace(p.Number)
	_, err := day.Parse(string(p.Day))
	switch {
	case p.Number == "" && err == nil:
		p.Number = b.nextNumber(p.Kind, p.Day)
	case len(p.Number) > 40:
		b.Refuse("number", "too long", "40", "A number has at most 40 characters. Shorten it, or leave it empty to be given the next.")
	case p.Number != "" && b.numberTaken(p.Kind, p.Number):
		b.Refuse("number", "taken", p.Number, "The number %s is taken. Leave it empty to be given %s.", p.Number, b.nextNumber(p.Kind, p.Day))
	}
	p.ID = b.Own() - 1
	b.effect.Papers = append(b.effect.Papers, &p)
	return &p
}

// Own is the ID, below nil, of the paper that was begun last; nil for none.
func (b *Builder) Own() int64 { return -int64(len(b.effect.Papers)) }

func (b *Builder) numberTaken(k Kind, number string) bool {
	for _, p := range b.effect.Papers {
		if p.Kind == k && p.Number == number {
			return true
		}
	}
	return b.NumberTaken(k, number)
}

func (b *Builder) nextNumber(k Kind, d day.Day) string {
	for ahead := 0; ; ahead++ {
		number := b.NextNumber(k, d, ahead)
		if ahead > len(b.effect.Papers) || !b.numberTaken(k, number) {
			return number
		}
	}
}

// Open adds a new open item and its first move.
func (b *Builder) Open(i Item) ItemRef {
	i.ID = ItemRef(-len(b.effect.Items) - 1)
	i.Open, i.OpenTax = i.Amount, i.Tax
	if n := len(b.effect.Papers); n > 0 {
		p := b.effect.Papers[n-1]
		i.PaperID, i.Kind, i.Number = p.ID, p.Kind, p.Number
	}
	b.effect.Items = append(b.effect.Items, i)
	b.effect.Moves = append(b.effect.Moves, Move{Item: i.ID, Day: i.Day, Amount: i.Amount, Tax: i.Tax})
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

// Enter adds a journal entry of the paper that was begun last.
func (b *Builder) Enter(e ledger.Entry) {
	if len(e.Lines) > 0 {
		b.effect.Entries = append(b.effect.Entries, Entry{Entry: e, PaperID: b.Own()})
	}
}

// Dispute marks an item as disputed, or no longer.
func (b *Builder) Dispute(d Dispute) { b.effect.Disputes = append(b.effect.Disputes, d) }

// AskWord says what a second person must agree to.
func (b *Builder) AskWord(field, limit, format string, args ...any) {
	b.effect.Word = &Notice{field, "a second word", limit, fmt.Sprintf(format, args...)}
}

// Effect returns what was built and the refusals, if any.
func (b *Builder) Effect(summary string) (Effect, error) {
	b.effect.Summary = summary
	if len(b.refusals) > 0 {
		return b.effect, b.refusals
	}
	return b.effect, nil
}

// Look returns an item by reference, new or posted.
func (b *Builder) Look(ref ItemRef) (Item, bool) {
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
	return append(all, b.planned(ref)...)
}

// planned returns the moves of an item that the effect makes. They are kept by
// item, for an effect may have thousands.
func (b *Builder) planned(ref ItemRef) []Move {
	if b.byItem == nil {
		b.byItem = map[ItemRef][]Move{}
	}
	for ; b.sorted < len(b.effect.Moves); b.sorted++ {
		m := b.effect.Moves[b.sorted]
		b.byItem[m.Item] = append(b.byItem[m.Item], m)
	}
	return b.byItem[ref]
}

// PostingDay refuses a day that does not exist or lies in the closed period,
// and warns of one in the future or long past (docs/rules.md, part 10).
func (b *Builder) PostingDay(field string, d day.Day) bool {
	if _, err := day.Parse(string(d)); err != nil {
		if d == "" {
			err = fmt.Errorf("a day is missing")
		}
		b.Refuse(field, "no such day", "", "%s. Write a day such as %s.", Sentence(err.Error()), b.Today().Show())
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
		b.Refuse(field, "above nil", b.Currency().Format(0), "%s must be above nil.", Sentence(what))
		return false
	}
	if a > money.Limit {
		b.Refuse(field, "too large", b.Currency().Format(money.Limit), "%s is beyond the limit of %s.", Sentence(what), b.Currency().Show(money.Limit))
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

// Supplier refuses a supplier who is missing, not a supplier or not in use.
func (b *Builder) Supplier(field string, id int64) (master.Party, bool) {
	p, ok := b.Party(id)
	switch {
	case !ok || !p.IsSupplier:
		b.Refuse(field, "missing", "", "Say which supplier this is from.")
	case p.Inactive:
		b.Refuse(field, "not in use", "", "%s is not in use any more. Take the supplier into use again first.", p.Name)
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
		b.Refuse(field, "missing", "", "Say which bank account the money moves on.")
		return ledger.Account{}, false
	}
	if bank.Inactive {
		b.Refuse(field, "not in use", "", "The bank account %s is not in use any more. Choose another.", bank.Name)
		return ledger.Account{}, false
	}
	a, ok := b.Account(bank.AccountID)
	return a, ok
}

// Control returns the register of a control account; false for any other.
func (b *Builder) Control(accountID int64) (ledger.Role, bool) {
	for _, r := range ledger.Controls {
		if b.Role(r).ID == accountID {
			return r, true
		}
	}
	return "", false
}

// Method refuses a way of payment that is not known.
func (b *Builder) Method(field string, m Method) {
	for _, known := range Methods {
		if m == known {
			return
		}
	}
	b.Refuse(field, "missing", "", "Say how the money moves: transfer, card, cheque, cash or direct debit.")
}

// Cheque gives the number of a cheque that is written: the one that was
// chosen, or the next of the bank account. What is not paid by cheque has none.
func (b *Builder) Cheque(field string, m Method, bankID int64, number string) string {
	number = strings.TrimSpace(number)
	switch {
	case m != ByCheque:
		return ""
	case number == "":
		return b.NextCheque(bankID)
	case len(number) > 20:
		b.Refuse(field, "too long", "20", "A cheque number has at most 20 characters.")
	case b.ChequeTaken(bankID, number):
		b.Refuse(field, "taken", number, "Cheque %s is written already. Leave the number empty to be given %s.", number, b.NextCheque(bankID))
	}
	return number
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

// Sentence makes the first letter a capital.
func Sentence(s string) string {
	if s == "" {
		return s
	}
	return strings.ToUpper(s[:1]) + s[1:]
}
