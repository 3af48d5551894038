package postingtest

import (
	"fmt"
	"math/rand/v2"
	"slices"

	"cleantally/core/billing"
	"cleantally/core/day"
	"cleantally/core/ledger"
	"cleantally/core/money"
	"cleantally/core/posting"
	"cleantally/core/settling"

	"github.com/shopspring/decimal"
)

// Step is one step of a walk: the business day, a day to lock the books
// through ("" for none), and a command; or what a draft would reserve.
type Step struct {
	Today   day.Day
	Lock    day.Day
	Command posting.Command
	Draft   int64 // the command is saved as this draft and not posted; 0 for none
}

// Walk makes random commands, valid and invalid, from a seed. It chooses by
// what is open, so that every command finds something to do.
type Walk struct {
	rnd   *rand.Rand
	b     *Book
	steps int
	makes []func() posting.Command
	turn  []int // of the commands, shuffled anew when all had theirs
}

// NewWalk begins a walk through books. It only looks at them; whoever walks
// posts.
func NewWalk(seed uint64, b *Book) *Walk {
	w := &Walk{rnd: rand.New(rand.NewPCG(seed, 7)), b: b}
	w.makes = []func() posting.Command{
		w.invoice, w.invoice, w.invoice, func() posting.Command { return w.deposit() }, func() posting.Command { return w.receipt() }, func() posting.Command { return w.receipt() },
		w.setAgainst, w.setAgainst, w.undo, w.move, w.reversal, w.refund, w.forfeit, w.transfer, w.returned, w.payout, w.ownTransfer, w.writeOff, w.writeOff, w.recovery, w.contra, w.unidentified, w.distribute, w.split,
		w.ordered, w.ordered, w.quote, w.accepted, w.handOver, w.handOver, w.request, w.asked, w.asked, w.depositInvoice, w.depositInvoice, w.fromOrder, w.fromOrder, w.claim, w.claim, w.advanceCredit, w.credited, w.credited, w.cameBack, w.cameBack, w.charged, w.release,
		w.allowance, w.dispute, w.journal,
		w.purchaseOrder, w.received, w.bill, w.bill, w.expense, w.supplierCredit, w.supplierCredit, w.prepayment, w.supplierPayment, w.supplierPayment, w.setPayable, w.supplierRefund, w.payableRelease,
		w.notPassedOn, w.passedOn, w.passedOn, w.sold, w.stockUse, w.stockCount,
		w.order, w.deliver, w.billed, w.billed, w.cost, w.useCost, w.advance, w.creditLine, w.goods, w.charge, w.tie, w.tie, w.explained, w.explained,
	}
	return w
}

// Next returns the next step.
func (w *Walk) Next() Step {
	w.steps++
	s := Step{Today: w.b.Now.Add(w.rnd.IntN(3))}
	w.b.Now = s.Today
	if w.steps%70 == 0 {
		s.Lock = s.Today.Add(-25)
		w.b.Lock = s.Lock
	}
	if len(w.turn) == 0 {
		w.turn = w.rnd.Perm(len(w.makes))
	}
	s.Command = w.abroad(w.makes[w.turn[0]]())
	w.turn = w.turn[1:]
	passes := false
	if v, ok := s.Command.(billing.Invoice); ok {
		passes = len(v.Lines) > 0 && len(v.Lines[0].Costs) > 0
	}
	if v, ok := s.Command.(Bill); (ok && v.Cost != 0 || passes) && w.rnd.IntN(4) == 0 {
		s.Draft = 1 + w.rnd.Int64N(2)
	}
	return s
}

// Take takes a step through the books in memory.
func (b *Book) Take(s Step) error {
	b.Now = s.Today
	if s.Lock != "" {
		b.Lock = s.Lock
	}
	if s.Draft != 0 {
		return b.Reserve(s.Draft, s.Command)
	}
	_, err := b.Post(s.Command)
	return err
}

func (w *Walk) oneIn(n int) bool { return w.rnd.IntN(n) == 0 }

// of is a part of an amount: mostly some of it, often all, now and then too
// much or nothing.
func (w *Walk) of(a money.Amount) money.Amount {
	switch n := w.rnd.IntN(12); {
	case n < 4:
		return a
	case n < 10:
		return max(1, money.Amount(w.rnd.Int64N(int64(max(a, 1)))))
	case n < 11:
		return a + 1 + money.Amount(w.rnd.IntN(3000))
	}
	return money.Amount(-w.rnd.IntN(200))
}

func (w *Walk) amount() money.Amount { return money.Amount(w.rnd.Int64N(60000) + 100) }

// day is mostly within two weeks, now and then nonsense, locked, long past or
// to come.
func (w *Walk) day() day.Day {
	switch n := w.rnd.IntN(60); {
	case n == 0:
		return "2026-02-3x"
	case n == 1:
		return "2026-02-31"
	case n == 2:
		return w.b.Now.Add(3)
	case n == 3:
		return w.b.Now.Add(-70)
	}
	return w.b.Now.Add(-min(w.rnd.IntN(14), w.rnd.IntN(14), w.rnd.IntN(14)))
}

// after is mostly a day that is not before another.
func (w *Walk) after(d day.Day) day.Day {
	if w.oneIn(10) {
		return w.day()
	}
	return max(w.day(), d)
}

func (w *Walk) party() int64 {
	if w.oneIn(40) {
		return 3 + w.rnd.Int64N(2)
	}
	return 1 + w.rnd.Int64N(2)
}

func (w *Walk) job(party int64) int64 {
	switch {
	case w.oneIn(2):
		return 0
	case w.oneIn(15):
		return 1 + w.rnd.Int64N(3)
	}
	return party
}

func (w *Walk) code() int64 {
	if w.oneIn(40) {
		return 4
	}
	return 1 + w.rnd.Int64N(3)
}

func (w *Walk) bank() int64 {
	if w.oneIn(50) {
		return 4
	}
	if w.oneIn(4) {
		return cardTakings
	}
	return 1
}

// cardTakings is the bank account where what was paid by card waits.
const cardTakings = 3

// number is mostly left to the series; else it is chosen, now and then one
// that is taken.
func (w *Walk) number(k posting.Kind) string {
	if !w.oneIn(8) {
		return ""
	}
	for _, p := range w.b.Papers {
		if p.Kind == k && w.oneIn(2) {
			return p.Number
		}
	}
	return fmt.Sprintf("chosen %d", w.steps)
}

func (w *Walk) reference() string {
	if w.oneIn(3) {
		return fmt.Sprintf("ref %d", w.rnd.IntN(4))
	}
	return ""
}

// pick returns one that holds, nearer to the end the likelier.
func pick[T any](w *Walk, all []T, holds func(T) bool) (T, bool) {
	found := where(all, holds)
	if len(found) == 0 {
		var none T
		return none, false
	}
	return found[max(w.rnd.IntN(len(found)), w.rnd.IntN(len(found)))], true
}

// item is mostly something open in a register on one side of one party (0 for
// any), now and then anything.
func (w *Walk) item(register ledger.Role, sign money.Amount, party int64) posting.Item {
	if w.oneIn(25) {
		i, _ := w.b.Item(posting.ItemRef(w.rnd.IntN(len(w.b.Open) + 2)))
		return i
	}
	i, _ := pick(w, w.b.Open, func(i posting.Item) bool {
		return i.Register == register && i.Left.Amount.Own*sign > 0 && (party == 0 || i.PartyID == party)
	})
	return i
}

func open(i posting.Item) money.Amount { return max(i.Left.Amount.Own, -i.Left.Amount.Own) }

func (w *Walk) share(i posting.Item) settling.Share {
	return settling.Share{Item: i.ID, Amount: w.of(open(i)), Most: w.oneIn(4)}
}

func (w *Walk) credit(party int64) posting.Item {
	return w.item([]ledger.Role{ledger.Receivables, ledger.Deposits}[w.rnd.IntN(2)], -1, party)
}

// paper is mostly one of the kinds that stands, now and then any.
func (w *Walk) paper(kinds ...posting.Kind) posting.Paper {
	p, _ := pick(w, w.b.Papers, func(p posting.Paper) bool {
		_, reversed := w.b.ReversedBy(p.ID)
		return !reversed && slices.Contains(kinds, p.Kind)
	})
	if w.oneIn(20) && len(w.b.Papers) > 0 {
		return w.b.Papers[w.rnd.IntN(len(w.b.Papers))]
	}
	return p
}

func (w *Walk) invoice() posting.Command {
	party := w.party()
	v := billing.Invoice{Number: w.number(posting.Invoice), PartyID: party, JobID: w.job(party), Day: w.day(), Includes: w.oneIn(4), Reference: w.reference(), TermsID: []int64{0, 0, 1, 6, 99}[w.rnd.IntN(5)%(4+w.rnd.IntN(2))]}
	for range 1 + w.rnd.IntN(3) {
		l := posting.Line{Text: "work", Quantity: decimal.New(w.rnd.Int64N(5000), -3), UnitPrice: decimal.New(w.rnd.Int64N(40000), -2), TaxCodeID: w.code(), DiscountPercent: decimal.New(w.rnd.Int64N(3)*5, 0)}
		if w.oneIn(10) {
			l.Quantity, l.DiscountPercent = l.Quantity.Neg().Div(decimal.New(4, 0)).Round(3), decimal.Zero
		}
		if w.oneIn(30) {
			l.ArticleID = 2
		}
		v.Lines = append(v.Lines, l)
	}
	if w.oneIn(3) {
		v.DiscountPercent = decimal.New(3, 0)
	}
	if w.oneIn(3) {
		v.RoundTo = 5
	}
	if w.oneIn(3) {
		c := w.credit(party)
		v.SetAgainst = []billing.Use{{Credit: c.ID, Amount: w.of(open(c)), Most: w.oneIn(2)}}
		v.Day = w.after(c.Day)
	}
	return v
}

// Shortest drops from a failing history what is not needed to make it fail.
func Shortest(history []Step, fails func([]Step) bool) []Step {
	for size := len(history) / 2; size > 0; size /= 2 {
		for at := 0; at+size <= len(history); {
			shorter := append(append([]Step{}, history[:at]...), history[at+size:]...)
			if fails(shorter) {
				history = shorter
			} else {
				at += size
			}
		}
	}
	return history
}
