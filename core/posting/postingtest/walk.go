package postingtest

import (
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

// Walk makes random commands, valid and invalid, from a seed.
type Walk struct {
	rnd *rand.Rand
	now day.Day
	b   *Book
}

// NewWalk begins a walk through books, whose days lie around now. It only
// looks at the books; whoever walks posts.
func NewWalk(seed uint64, b *Book) *Walk {
	return &Walk{rand.New(rand.NewPCG(seed, 7)), b.Now, b}
}

// Next returns the next command.
func (w *Walk) Next() posting.Command {
	switch n := w.rnd.IntN(32); {
	case n < 6:
		return w.invoice()
	case n < 9:
		return w.deposit()
	case n < 13:
		return w.receipt()
	case n < 17:
		s := settling.SetAgainst{Day: w.day()}
		for range 1 + w.rnd.IntN(3) {
			s.Pairs = append(s.Pairs, settling.Pair{Debit: w.owed(), Credit: w.credit(), Amount: w.amount(), Most: w.rnd.IntN(2) == 0})
		}
		return s
	case n < 19:
		return settling.Undo{Day: w.day(), Allocations: []int64{w.id(len(w.b.Allocations)), w.id(len(w.b.Allocations))}[:1+w.rnd.IntN(2)]}
	case n < 21:
		return settling.Reversal{PaperID: w.id(len(w.b.Papers)), Day: w.day(), Reason: "walk"}
	}
	return w.money()
}

// money is one of the many ways that money waits, goes back or is given up.
func (w *Walk) money() posting.Command {
	share := func(item posting.ItemRef) settling.Share {
		return settling.Share{Item: item, Amount: w.amount(), Most: w.rnd.IntN(3) == 0}
	}
	switch w.rnd.IntN(13) {
	case 0:
		return settling.Refund{Day: w.day(), Sources: []settling.Share{share(w.credit()), share(w.credit())}[:1+w.rnd.IntN(2)], BankAccountID: 1, Method: posting.Methods[w.rnd.IntN(5)]}
	case 1:
		return settling.Forfeit{Day: w.day(), Deposit: share(w.item(ledger.Deposits, -1)), TaxCodeID: w.rnd.Int64N(3), OutsideTax: w.rnd.IntN(2) == 0}
	case 2:
		return settling.Transfer{Day: w.day(), From: share(w.credit()), PartyID: w.party(), JobID: w.job(), AsDeposit: w.rnd.IntN(2) == 0}
	case 3:
		return settling.Returned{PaperID: w.paper(posting.Receipt, posting.Deposit), Day: w.day(), Fee: money.Amount(w.rnd.IntN(2) * 800), PassOn: w.rnd.IntN(2) == 0}
	case 4:
		return settling.WriteOff{Day: w.day(), Reason: "walk", Relief: w.rnd.IntN(2) == 0, Items: []settling.Share{share(w.owed()), share(w.item(ledger.Retention, 1))}[:1+w.rnd.IntN(2)]}
	case 5:
		return settling.Recovery{WriteOffID: w.paper(posting.WriteOff), Day: w.day(), Amount: w.amount() / 4, BankAccountID: 1, Method: posting.ByTransfer}
	case 6:
		return settling.Contra{Day: w.day(), PartyID: w.party(), Owed: []settling.Share{{Item: w.owed(), Most: true}}, Owing: []settling.Share{{Item: w.item(ledger.Payables, -1), Most: true}}}
	case 7:
		return settling.Unidentified{Day: w.day(), Amount: w.amount(), BankAccountID: 1, Method: posting.ByTransfer}
	case 8:
		return w.distribute()
	case 9:
		return settling.SplitDeposit{Deposit: w.item(ledger.Deposits, -1), Day: w.day(), RefundAmount: w.amount() / 3, Refund: &settling.Refund{BankAccountID: 1, Method: posting.ByCheque},
			Forfeit: &settling.Forfeit{Deposit: settling.Share{Amount: w.amount() / 3}, TaxCodeID: w.rnd.Int64N(2)}}
	case 10:
		return settling.Allowance{Day: w.day()}
	case 11:
		return settling.Dispute{Item: w.owed(), Day: w.day(), Reason: "walk", End: w.rnd.IntN(2) == 0}
	}
	return w.byHand()
}

// byHand is a supplier's bill or a journal entry on the accounts of a new
// firm.
func (w *Walk) byHand() posting.Command {
	if w.rnd.IntN(3) > 0 {
		return buying.Bill{PartyID: w.party(), Day: w.day(), Lines: []buying.BillLine{{Text: "timber", AccountID: account(ledger.JobCosts), JobID: w.job(), Net: w.amount(), TaxCodeID: 1 + w.rnd.Int64N(3)}}}
	}
	a, role := w.amount(), []ledger.Role{ledger.Receivables, ledger.Payables, ledger.Deposits}[w.rnd.IntN(3)]
	lines := []journal.Line{{AccountID: account(role), Debit: a, PartyID: w.party()}, {AccountID: account(ledger.Opening), Credit: a}}
	if w.rnd.IntN(2) == 0 {
		lines[0].Debit, lines[0].Credit, lines[1].Debit, lines[1].Credit = 0, a, a, 0
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

func (w *Walk) invoice() posting.Command {
	v := billing.Invoice{PartyID: w.party(), JobID: w.job(), Day: w.day(), Includes: w.rnd.IntN(4) == 0}
	for range 1 + w.rnd.IntN(3) {
		v.Lines = append(v.Lines, billing.Line{Text: "work", Quantity: decimal.New(w.rnd.Int64N(5000), -3), UnitPrice: decimal.New(w.rnd.Int64N(40000), -2),
			TaxCodeID: 1 + w.rnd.Int64N(3), DiscountPercent: decimal.New(w.rnd.Int64N(3)*5, 0)})
	}
	if w.rnd.IntN(3) == 0 {
		v.DiscountPercent = decimal.New(3, 0)
	}
	if w.rnd.IntN(3) == 0 {
		v.RoundTo = 5
	}
	if w.rnd.IntN(3) == 0 {
		v.SetAgainst = []billing.Use{{Credit: w.credit(), Amount: w.amount()}}
	}
	return v
}

func (w *Walk) deposit() settling.Deposit {
	d := settling.Deposit{PartyID: w.party(), JobID: w.job(), Day: w.day(), Amount: w.amount(), BankAccountID: 1, Method: posting.ByTransfer}
	if w.rnd.IntN(2) == 0 {
		d.TaxCodeID = 1 + w.rnd.Int64N(2)
	}
	return d
}

func (w *Walk) receipt() settling.Receipt {
	r := settling.Receipt{PartyID: w.party(), Day: w.day(), Arrived: w.amount(), Kept: money.Amount(w.rnd.IntN(2) * 150), BankAccountID: 1, Method: posting.ByTransfer, OnAccount: w.rnd.IntN(5) > 0}
	for range w.rnd.IntN(3) {
		p := settling.Placement{Debit: w.owed(), Amount: w.amount(), Most: w.rnd.IntN(2) == 0, Rest: rests[w.rnd.IntN(len(rests))], Reason: "walk"}
		if w.rnd.IntN(8) == 0 {
			p.Debit = w.item(ledger.Retention, 1)
		}
		i, _ := w.b.Item(p.Debit)
		if i.PartyID != 0 {
			r.PartyID = i.PartyID
		}
		if discount, _ := settling.Earned(w.b, i, r.Day); discount > 0 && w.rnd.IntN(2) == 0 {
			p.Discount, p.Most, r.Arrived = true, true, r.Arrived+i.Open
		}
		r.Placements = append(r.Placements, p)
	}
	if w.rnd.IntN(6) == 0 {
		r.Withheld = 700
	}
	return r
}

var rests = []settling.Rest{settling.StaysOpen, settling.StaysOpen, settling.IsDifference, settling.IsKeptBack, settling.IsWrittenOff, settling.IsDisputed}

func (w *Walk) distribute() posting.Command {
	d, r := w.deposit(), w.receipt()
	r.Kept, r.Withheld, d.Amount = 0, 0, d.Amount/4
	x := settling.Distribute{From: w.item(ledger.Unidentified, -1), Day: w.day(), BankAccountID: 1, Method: posting.ByTransfer, Deposits: []settling.Deposit{d}, Receipts: []settling.Receipt{r}}
	switch w.rnd.IntN(3) {
	case 0:
		x.From, x.Amount = 0, d.Amount+r.Arrived
	case 1:
		x.SendBack, x.Receipts = money.Amount(w.rnd.IntN(100)), nil
	}
	return x
}

func (w *Walk) party() int64 { return 1 + w.rnd.Int64N(2) }

func (w *Walk) job() int64 {
	if w.rnd.IntN(2) == 0 {
		return 0
	}
	return 1 + w.rnd.Int64N(2)
}

// day is mostly within three weeks, the later the likelier, now and then
// nonsense.
func (w *Walk) day() day.Day {
	if w.rnd.IntN(60) == 0 {
		return "2026-02-31"
	}
	return w.now.Add(-min(w.rnd.IntN(21), w.rnd.IntN(21), w.rnd.IntN(21)))
}

func (w *Walk) amount() money.Amount { return money.Amount(w.rnd.Int64N(60000) - 500) }

func (w *Walk) id(n int) int64 { return 1 + w.rnd.Int64N(int64(n)+2) }

func (w *Walk) owed() posting.ItemRef { return w.item(ledger.Receivables, 1) }

func (w *Walk) credit() posting.ItemRef {
	return w.item([]ledger.Role{ledger.Receivables, ledger.Deposits}[w.rnd.IntN(2)], -1)
}

// item is mostly something open in a register on one side, now and then
// anything.
func (w *Walk) item(register ledger.Role, sign money.Amount) posting.ItemRef {
	var open []posting.ItemRef
	for _, i := range w.b.Open {
		if i.Register == register && i.Open*sign > 0 {
			open = append(open, i.ID)
		}
	}
	if len(open) == 0 || w.rnd.IntN(8) == 0 {
		return posting.ItemRef(w.id(len(w.b.Open)))
	}
	return open[w.rnd.IntN(len(open))]
}

// paper is mostly one of the kinds that stands.
func (w *Walk) paper(kinds ...posting.Kind) int64 {
	var found []int64
	for _, p := range w.b.Papers {
		if _, reversed := w.b.ReversedBy(p.ID); !reversed && slices.Contains(kinds, p.Kind) {
			found = append(found, p.ID)
		}
	}
	if len(found) == 0 || w.rnd.IntN(8) == 0 {
		return w.id(len(w.b.Papers))
	}
	return found[w.rnd.IntN(len(found))]
}

// Shortest drops from a failing history what is not needed to make it fail.
func Shortest(history []posting.Command, fails func([]posting.Command) bool) []posting.Command {
	for size := len(history) / 2; size > 0; size /= 2 {
		for at := 0; at+size <= len(history); {
			shorter := append(append([]posting.Command{}, history[:at]...), history[at+size:]...)
			if fails(shorter) {
				history = shorter
			} else {
				at += size
			}
		}
	}
	return history
}
