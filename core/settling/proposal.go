package settling

import (
	"cmp"
	"fmt"
	"slices"
	"strings"
	"unicode"

	"cleantally/core/day"
	"cleantally/core/ledger"
	"cleantally/core/money"
	"cleantally/core/posting"
)

// Arrival is what is known of money that arrived.
type Arrival struct {
	Amount    money.Amount
	Reference string
	JobID     int64
	Day       day.Day // the bank's
}

// Proposed is where a part of it may go, and why. Nobody's word is taken for
// it: a proposal is never allocated by itself (docs/rules.md, part 4).
type Proposed struct {
	Item     posting.ItemRef
	Register ledger.Role
	Number   string
	Amount   money.Amount
	Discount bool // with the early-payment discount
	Reason   string
}

// Propose says where money may go among what a customer owes and keeps back:
// what the reference names; what is open to the cent, with its discount or
// without; what is of the same job; else the oldest due first.
func Propose(f posting.Facts, open []posting.Item, a Arrival) []Proposed {
	p := proposing{f: f, a: a, left: a.Amount, taken: map[posting.ItemRef]bool{}}
	items := slices.DeleteFunc(slices.Clone(open), func(i posting.Item) bool { return i.Left.Amount.Own <= 0 || i.Day > a.Day })
	slices.SortStableFunc(items, func(x, y posting.Item) int { return cmp.Compare(cmp.Or(x.Due, "9999"), cmp.Or(y.Due, "9999")) })
	owed := slices.DeleteFunc(slices.Clone(items), func(i posting.Item) bool { return i.Register != ledger.Receivables })
	for _, i := range owed {
		if names(a.Reference, i.Number) {
			p.take(i, "the reference names it")
		}
	}
	p.exact(owed)
	for _, i := range owed {
		if a.JobID != 0 && i.JobID == a.JobID {
			p.take(i, "the same job")
		}
	}
	for n, i := range owed {
		reason := "next oldest due"
		if n == 0 {
			reason = "oldest due"
		}
		p.take(i, reason)
	}
	for _, i := range items {
		if i.Register == ledger.Retention && i.Left.Amount.Own <= p.left {
			p.take(i, "kept back, released by this payment")
		}
	}
	return p.out
}

// NotYet says why what fits an arrival is not proposed: it is dated after it, so
// it cannot be settled by it (docs/rules.md, part 7).
func NotYet(open []posting.Item, a Arrival) []string {
	var why []string
	for _, i := range open {
		fits := i.Left.Amount.Own == a.Amount || names(a.Reference, i.Number)
		if i.Register == ledger.Receivables && i.Left.Amount.Own > 0 && i.Day > a.Day && fits {
			why = append(why, fmt.Sprintf("%s fits, and is dated %s, after this: date it %s or later to set it against that.", i.Number, i.Day.Show(), i.Day.Show()))
		}
	}
	return why
}

type proposing struct {
	f     posting.Facts
	a     Arrival
	left  money.Amount
	taken map[posting.ItemRef]bool
	early bool // all that can take its discount takes it
	out   []Proposed
}

// take proposes as much of an item as is left, less its discount where that
// settles it.
func (p *proposing) take(i posting.Item, reason string) {
	if p.left <= 0 || p.taken[i.ID] {
		return
	}
	amount := min(i.Left.Amount.Own, p.left)
	discount, _ := Earned(p.f, i, p.a.Day)
	earns := discount > 0 && p.left >= i.Left.Amount.Own-discount && (p.left < i.Left.Amount.Own || p.early)
	if earns {
		amount = i.Left.Amount.Own - discount
		reason += ", less its discount"
	}
	p.taken[i.ID] = true
	p.left -= amount
	p.out = append(p.out, Proposed{i.ID, i.Register, i.Number, amount, earns, reason})
}

// exact proposes the one item, all less their discounts, or all that is due,
// where that comes to what is left.
func (p *proposing) exact(owed []posting.Item) {
	var due, early money.Amount
	for _, i := range owed {
		if p.taken[i.ID] {
			continue
		}
		if discount, _ := Earned(p.f, i, p.a.Day); i.Left.Amount.Own == p.left || (discount > 0 && i.Left.Amount.Own-discount == p.left) {
			p.take(i, "exactly what is open")
			return
		}
		discount, _ := Earned(p.f, i, p.a.Day)
		early += i.Left.Amount.Own - discount
		if i.Due <= p.a.Day {
			due += i.Left.Amount.Own
		}
	}
	if early == p.left && early > 0 {
		p.early = true
		for _, i := range owed {
			p.take(i, "all that is open, to the cent")
		}
	}
	if due == p.left && due > 0 {
		for _, i := range owed {
			if i.Due <= p.a.Day {
				p.take(i, "all that is due, to the cent")
			}
		}
	}
}

// names tells whether a reference names a number: as a whole, however its
// letters and digits are joined, never as a part of a longer word.
func names(reference, number string) bool {
	words, want := wordsOf(reference), strings.Join(wordsOf(number), "")
	for from := range words {
		joined := ""
		for _, w := range words[from:] {
			if joined += w; joined == want {
				return want != ""
			}
		}
	}
	return false
}

// wordsOf returns the runs of letters and digits, in small letters.
func wordsOf(s string) []string {
	return strings.FieldsFunc(strings.ToLower(s), func(r rune) bool { return !unicode.IsLetter(r) && !unicode.IsDigit(r) })
}
