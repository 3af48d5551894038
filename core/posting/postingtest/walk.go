package postingtest

import (
	"fmt"
	"math/rand/v2"
	"slices"

	"cleantally/core/billing"
	"cleantally/core/buying"
	"cleantally/core/day"
	"cleantally/core/journal"
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
		w.setAgainst, w.setAgainst, w.undo, w.reversal, w.refund, w.forfeit, w.transfer, w.returned, w.writeOff, w.writeOff, w.recovery, w.contra, w.unidentified, w.distribute, w.split,
		w.ordered, w.ordered, w.quote, w.accepted, w.handOver, w.handOver, w.request, w.asked, w.asked, w.depositInvoice, w.depositInvoice, w.fromOrder, w.fromOrder, w.claim, w.claim, w.advanceCredit, w.credited, w.credited, w.charged, w.release,
		w.allowance, w.dispute, w.bill, w.journal,
		w.order, w.deliver, w.billed, w.billed, w.cost, w.useCost, w.advance, w.creditLine, w.goods, w.charge, w.tie,
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
	s.Command = w.makes[w.turn[0]]()
	w.turn = w.turn[1:]
	if v, ok := s.Command.(Bill); ok && v.Cost != 0 && w.rnd.IntN(4) == 0 {
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
	return 1
}

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

func (w *Walk) deposit() settling.Deposit {
	party := w.party()
	d := settling.Deposit{Number: w.number(posting.Deposit), PartyID: party, JobID: w.job(party), Day: w.day(), Amount: w.of(w.amount()), BankAccountID: w.bank(), Method: posting.ByTransfer, Reference: w.reference()}
	if w.oneIn(4) {
		d.Amount = WalkBankLines[w.rnd.IntN(5)]
	}
	if w.oneIn(2) {
		d.TaxCodeID = w.code()
	}
	return d
}

var rests = []settling.Rest{settling.StaysOpen, settling.IsDifference, settling.IsRetained, settling.IsWrittenOff, settling.IsDisputed}

func (w *Walk) receipt() settling.Receipt {
	party := 1 + w.rnd.Int64N(2)
	r := settling.Receipt{PartyID: party, Day: w.day(), Charges: money.Amount(w.rnd.IntN(2) * 150), BankAccountID: w.bank(), Method: posting.ByTransfer, OnAccount: !w.oneIn(6), Reference: w.reference()}
	for range w.rnd.IntN(4) {
		i := w.item(ledger.Receivables, 1, party)
		if w.oneIn(8) {
			i = w.item(ledger.Retention, 1, party)
		}
		p := settling.Placement{Debit: i.ID, Amount: w.of(open(i)), Most: w.oneIn(2), Rest: rests[w.rnd.IntN(len(rests))], Reason: "walk"}
		r.Arrived += open(i)
		r.Day = w.after(max(r.Day, i.Day))
		if discount, _ := settling.Earned(w.b, i, i.Day); discount > 0 && w.oneIn(2) {
			p.Discount, p.Most, r.Day = true, true, i.Day.Add(w.rnd.IntN(12))
			if w.oneIn(3) && open(i) > 200 { // in two steps
				r.Placements = append(r.Placements, settling.Placement{Debit: i.ID, Amount: open(i) / 3})
			}
		}
		r.Placements = append(r.Placements, p)
	}
	if r.Arrived += money.Amount(w.rnd.IntN(3)) * w.amount() / 2; r.Arrived == 0 {
		r.Arrived = w.amount()
	}
	if w.oneIn(5) {
		r.Withheld = 700
	}
	return r
}

func (w *Walk) setAgainst() posting.Command {
	party := 1 + w.rnd.Int64N(2)
	s := settling.SetAgainst{Day: w.day()}
	for range 1 + w.rnd.IntN(3) {
		d, c := w.item(ledger.Receivables, 1, party), w.credit(party)
		if w.oneIn(20) {
			c = w.credit(3 - party)
		}
		s.Pairs = append(s.Pairs, settling.Pair{Debit: d.ID, Credit: c.ID, Amount: w.of(min(open(d), open(c))), Most: w.oneIn(2)})
		s.Day = w.after(max(s.Day, d.Day, c.Day))
	}
	return s
}

func (w *Walk) undo() posting.Command {
	u := settling.Undo{Day: w.day()}
	for range 1 + w.rnd.IntN(2) {
		a, _ := pick(w, w.b.Allocations, func(a posting.Allocation) bool {
			free := w.oneIn(10) || (w.free(a.Debit) && w.free(a.Credit))
			return a.Undoes == 0 && free && w.b.UndoneOn(a.ID) == ""
		})
		u.Allocations = append(u.Allocations, a.ID)
		u.Day = w.after(max(u.Day, a.Day))
	}
	return u
}

// free tells whether what is set against an item can be undone by itself.
func (w *Walk) free(ref posting.ItemRef) bool {
	n := w.b.Open[ref-1].Nature
	return n == posting.Plain || n == posting.Beside
}

func (w *Walk) reversal() posting.Command {
	all := posting.Kinds()
	p := w.paper(all[w.rnd.IntN(len(all))].Kind)
	return settling.Reversal{PaperID: p.ID, Day: w.after(p.Day), Reason: "walk"}
}

func (w *Walk) refund() posting.Command {
	party := 1 + w.rnd.Int64N(2)
	a, b := w.credit(party), w.credit(party)
	r := settling.Refund{Day: w.after(max(a.Day, b.Day)), Sources: []settling.Share{w.share(a)}, BankAccountID: w.bank(), Method: posting.Methods[w.rnd.IntN(5)]}
	if a.ID != b.ID && w.oneIn(2) {
		r.Sources = append(r.Sources, w.share(b))
	}
	return r
}

func (w *Walk) forfeit() posting.Command {
	i := w.item(ledger.Deposits, -1, 0)
	return settling.Forfeit{Day: w.after(i.Day), Deposit: w.share(i), TaxCodeID: w.rnd.Int64N(3), OutsideTax: w.oneIn(2)}
}

func (w *Walk) transfer() posting.Command {
	i, party := w.credit(0), w.party()
	return settling.Transfer{Day: w.after(i.Day), From: w.share(i), PartyID: party, JobID: w.job(party), AsDeposit: w.oneIn(2)}
}

func (w *Walk) returned() posting.Command {
	p := w.paper(posting.Receipt, posting.Deposit, posting.Unidentified)
	return settling.Returned{PaperID: p.ID, Day: w.after(p.Day), Fee: money.Amount(w.rnd.IntN(2) * 800), PassOn: w.oneIn(2)}
}

func (w *Walk) writeOff() posting.Command {
	off := settling.WriteOff{Reason: "walk", Relief: w.oneIn(2)}
	for range 1 + w.rnd.IntN(3) {
		i := w.item(ledger.Receivables, 1, 0)
		if w.oneIn(3) {
			i = w.item(ledger.Retention, 1, 0)
		}
		if w.oneIn(4) {
			i = w.item(ledger.Receivables, -1, 0)
		}
		off.Items = append(off.Items, w.share(i))
		off.Day = w.after(max(off.Day, i.Day))
	}
	return off
}

func (w *Walk) recovery() posting.Command {
	p := w.paper(posting.WriteOff)
	return settling.Recovery{WriteOffID: p.ID, Day: w.after(p.Day), Amount: w.of(settling.Recoverable(w.b, p, w.b.Now)), BankAccountID: w.bank(), Method: posting.ByTransfer}
}

func (w *Walk) contra() posting.Command {
	party := 1 + w.rnd.Int64N(2)
	owed, owing := w.item(ledger.Receivables, 1, party), w.item(ledger.Payables, -1, party)
	return settling.Contra{Day: w.after(max(owed.Day, owing.Day)), PartyID: party, Owed: []settling.Share{{Item: owed.ID, Most: true}}, Owing: []settling.Share{{Item: owing.ID, Most: true}}}
}

func (w *Walk) unidentified() posting.Command {
	return settling.Unidentified{Day: w.day(), Amount: w.of(w.amount()), BankAccountID: w.bank(), Method: posting.ByTransfer}
}

func (w *Walk) distribute() posting.Command {
	from := w.item(ledger.Unidentified, -1, 0)
	all := w.of(open(from))
	d, r := w.deposit(), w.receipt()
	r.Charges, r.Withheld, r.OnAccount, d.Amount, r.Arrived = 0, 0, true, max(all/3, 1), max(all-max(all/3, 1), 1)
	x := settling.Distribute{From: from.ID, Day: w.after(max(from.Day, r.Day)), BankAccountID: 1, Method: posting.ByTransfer, Deposits: []settling.Deposit{d}, Receipts: []settling.Receipt{r}}
	switch w.rnd.IntN(4) {
	case 0:
		x.From, x.Amount = 0, d.Amount+r.Arrived
	case 1:
		x.SendBack, x.Receipts = max(all/3, 1), nil
	}
	return x
}

func (w *Walk) split() posting.Command {
	i := w.item(ledger.Deposits, -1, 0)
	return settling.SplitDeposit{Deposit: i.ID, Day: w.after(i.Day), RefundAmount: w.of(open(i) / 3), Refund: &settling.Refund{BankAccountID: 1, Method: posting.ByCheque},
		Forfeit: &settling.Forfeit{Deposit: settling.Share{Amount: w.of(open(i) / 3)}, TaxCodeID: w.rnd.Int64N(2)}}
}

func (w *Walk) allowance() posting.Command { return settling.Allowance{Day: w.day()} }

func (w *Walk) dispute() posting.Command {
	i := w.item(ledger.Receivables, 1, 0)
	marks := w.b.Disputes(i.ID)
	last := i.Day
	if len(marks) > 0 {
		last = marks[len(marks)-1].Day
	}
	return settling.Dispute{Item: i.ID, Day: w.after(last), Reason: "walk", End: len(marks) > 0 && w.oneIn(2)}
}

func (w *Walk) bill() posting.Command {
	v := buying.Bill{PartyID: 1 + w.rnd.Int64N(2), Day: w.day(), Reference: w.reference()}
	for range 1 + w.rnd.IntN(3) {
		v.Lines = append(v.Lines, buying.BillLine{Text: "timber", AccountID: account(ledger.JobCosts), JobID: w.rnd.Int64N(4), Net: w.of(w.amount()), TaxCodeID: w.code()})
	}
	return v
}

func (w *Walk) journal() posting.Command {
	a, role := w.of(w.amount()), []ledger.Role{ledger.Receivables, ledger.Payables, ledger.Deposits}[min(w.rnd.IntN(8), w.rnd.IntN(3))]
	lines := []journal.Line{{AccountID: account(role), Debit: a, PartyID: w.party()}, {AccountID: account(ledger.Opening), Credit: a}}
	if w.oneIn(2) {
		lines[0].Debit, lines[0].Credit, lines[1].Debit, lines[1].Credit = 0, a, a, 0
	}
	switch w.rnd.IntN(12) {
	case 0:
		lines[1].AccountID = int64(len(ledger.Chart) + 1) // not in use
	case 1:
		lines[1].Debit++
	case 2:
		lines[1].JobID, lines[1].PartyID = 2, 1
	}
	return journal.Journal{Day: w.day(), Text: "walk", Lines: lines}
}

// account is the ID of a role's account in the chart of a new firm.
func account(role ledger.Role) int64 {
	for i, a := range ledger.Chart {
		if a.Role == role {
			return int64(i + 1)
		}
	}
	return 0
}

func (w *Walk) head(after day.Day, party int64) head {
	if party == 0 {
		party = 1 + w.rnd.Int64N(2)
	}
	return head{party, w.job(party), w.after(after)}
}

func (w *Walk) order() posting.Command {
	return Order{w.head("", 0), w.amount(), w.code(), 1 + w.rnd.Int64N(20)}
}

func (w *Walk) deliver() posting.Command {
	p := w.paper(order)
	return Deliver{w.head(p.Day, p.PartyID), p.ID, 1 + w.rnd.Int64N(8), w.oneIn(4)}
}

func (w *Walk) billed() posting.Command {
	v := Bill{head: w.head("", 0), Net: w.amount(), Code: w.code()}
	from := func(kinds ...posting.Kind) posting.Paper {
		p, _ := pick(w, w.b.Papers, func(p posting.Paper) bool {
			_, reversed := w.b.ReversedBy(p.ID)
			return slices.Contains(kinds, p.Kind) && p.PartyID == v.Party && !reversed
		})
		v.Day = w.after(max(v.Day, p.Day))
		return p
	}
	if w.oneIn(2) {
		v.Order, v.Quantity = from(order).ID, 1+w.rnd.Int64N(6)
	}
	if w.oneIn(2) {
		p := from(cost)
		v.Cost, v.OfCost = p.ID, w.left(p, posting.Billed)
	}
	if w.oneIn(3) {
		p := from(advance)
		v.Advance, v.Deduct = p.ID, w.left(p, posting.Deducted)
		v.Net += v.Deduct
	}
	return v
}

// left is a part of what is left of the first line of a paper.
func (w *Walk) left(p posting.Paper, as posting.UseKind) money.Amount {
	t, _, ok := thing(w.b, p.ID, 1, "")
	if !ok {
		return 0
	}
	left, _, _ := posting.Build(w.b).LeftOf(t, as, w.b.Now)
	return w.of(left.Most())
}

func (w *Walk) cost() posting.Command { return Cost{w.head("", 0), w.amount()} }

func (w *Walk) useCost() posting.Command {
	p := w.paper(cost)
	as := []posting.UseKind{posting.NotBilled, posting.SupplierCredited}[w.rnd.IntN(2)]
	return UseCost{w.head(p.Day, p.PartyID), p.ID, w.left(p, as), as}
}

func (w *Walk) advance() posting.Command { return Advance{w.head("", 0), w.amount(), w.code()} }

func (w *Walk) creditLine() posting.Command {
	p := w.paper(billed, posting.Invoice)
	n := 1
	if len(p.Lines) > 0 {
		n = 1 + w.rnd.IntN(len(p.Lines))
	}
	t, l, ok := thing(w.b, p.ID, n, "")
	net := l.Net.Own
	if left, _, there := posting.Build(w.b).LeftOf(t, posting.Credited, w.b.Now); ok && there {
		net = left.Least.Net()
	}
	return CreditLine{w.head(p.Day, p.PartyID), p.ID, n, w.of(net)}
}

func (w *Walk) goods() posting.Command {
	g := Goods{w.head("", 0), 1, 1 + w.rnd.Int64N(30), w.amount()}
	if w.oneIn(2) {
		g.Quantity = -g.Quantity / 2
	}
	return g
}

func (w *Walk) charge() posting.Command {
	i := w.item(ledger.Receivables, 1, 0)
	from := i.Due.Add(w.rnd.IntN(30))
	return Charge{w.head(i.Day, i.PartyID), i.ID, from, from.Add(w.rnd.IntN(20) - 1)}
}

func (w *Walk) tie() posting.Command {
	line := 1 + w.rnd.Int64N(int64(len(WalkBankLines)))
	if len(w.b.TiesOf(line, 0)) > 0 && !w.oneIn(4) {
		return TieUp{Off: line}
	}
	want := WalkBankLines[line-1]
	free := where(w.b.movements(), func(m posting.Movement) bool {
		return m.BankAccountID == 1 && m.Amount <= want && m.Amount > 0 && (len(w.b.TiesOf(0, m.ID)) == 0 || w.oneIn(10))
	})
	for _, m := range free {
		if m.Amount == want {
			return TieUp{Lines: []int64{line}, Movements: []int64{m.ID}}
		}
		for _, o := range free {
			if m.ID < o.ID && m.Amount+o.Amount == want {
				return TieUp{Lines: []int64{line}, Movements: []int64{m.ID, o.ID}}
			}
		}
	}
	return TieUp{Lines: []int64{line, 1 + line%int64(len(WalkBankLines))}, Movements: []int64{1 + w.rnd.Int64N(40)}}
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
