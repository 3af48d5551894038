package postingtest

import (
	"slices"

	"cleantally/core/journal"
	"cleantally/core/ledger"
	"cleantally/core/money"
	"cleantally/core/posting"
	"cleantally/core/settling"
)

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

// move sets elsewhere what was set against something.
func (w *Walk) move() posting.Command {
	a, _ := pick(w, w.b.Allocations, func(a posting.Allocation) bool {
		return a.Undoes == 0 && w.free(a.Debit) && w.free(a.Credit) && w.b.UndoneOn(a.ID) == ""
	})
	d, _ := w.b.Item(a.Debit)
	to := w.item(d.Register, money.Amount(1-2*w.rnd.IntN(2)), d.PartyID)
	m := settling.Move{Allocation: a.ID, To: to.ID, Day: w.after(max(a.Day, to.Day))}
	if w.oneIn(3) {
		m.Amount = w.of(a.Amount)
	}
	return m
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

func (w *Walk) ownTransfer() posting.Command {
	const till = 2
	t := settling.OwnTransfer{Day: w.day(), Amount: w.amount(), Fee: money.Amount(w.rnd.IntN(3) * 75), FromAccountID: w.bank(), ToAccountID: till}
	if w.oneIn(2) {
		t.FromAccountID, t.ToAccountID = t.ToAccountID, t.FromAccountID
	}
	return t
}

func (w *Walk) payout() posting.Command {
	x := settling.Payout{Day: w.day(), BankAccountID: 1, Fee: money.Amount(w.rnd.IntN(500))}
	for range 1 + w.rnd.IntN(3) {
		p, _ := pick(w, w.b.Papers, func(p posting.Paper) bool {
			waits, _ := settling.Waits(w.b, p.ID)
			return waits != 0 && !slices.Contains(x.Takings, p.ID)
		})
		if p.ID == 0 || w.oneIn(12) {
			p = w.paper(posting.Receipt, posting.Deposit, posting.Returned)
		}
		waits, _ := settling.Waits(w.b, p.ID)
		x.Takings = append(x.Takings, p.ID)
		x.Arrived += waits
		x.Day = max(x.Day, p.Day)
	}
	x.Arrived -= x.Fee
	return x
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
