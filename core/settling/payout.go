package settling

import (
	"fmt"

	"cleantally/core/day"
	"cleantally/core/ledger"
	"cleantally/core/money"
	"cleantally/core/posting"
)

// Payout is what a card gateway pays out of the takings that it collected: it
// names the papers that it clears, gross, refunds and charge-backs signed, and
// takes its fee once (docs/rules.md, part 4: Dr bank, Dr bank charges, Cr card
// takings). The sums must agree.
type Payout struct {
	Number        string // "" to be given the next
	Day           day.Day
	Takings       []int64      // the papers, all of one account of card takings
	Arrived       money.Amount // on the bank account; below nil where the gateway took money
	Fee           money.Amount // with those of charge-backs
	BankAccountID int64
	Reference     string
	Note          string
}

// Plan returns the effect of the payout.
func (x Payout) Plan(f posting.Facts) (posting.Effect, error) {
	b := build(f)
	dayOK := b.PostingDay("day", x.Day)
	bank, bankOK := b.Bank("bank", x.BankAccountID)
	if at, _ := b.BankAccount(x.BankAccountID); bankOK && at.Takings {
		b.Refuse("bank", "card takings", "", "%s is where the takings wait. Choose the bank account on which they arrived.", at.Name)
		bankOK = false
	}
	if x.Fee < 0 || x.Fee > money.Limit {
		b.Refuse("fee", "below nil", b.Currency().Format(0), "The fee cannot be below nil.")
	}
	if len(x.Takings) == 0 {
		b.Refuse("takings", "missing", "", "Choose the takings that were paid out.")
	}
	p := b.Paper(posting.Paper{Kind: posting.Payout, Number: x.Number, Day: x.Day, Title: "Card payout", Reference: x.Reference, Note: x.Note, Total: x.Arrived,
		Payment: posting.Payment{BankAccountID: x.BankAccountID, Charges: x.Fee}})
	if dayOK && bankOK && len(x.Takings) > 0 {
		sum, account := x.clear(b, p)
		if !b.Refused() && x.agrees(b, sum) {
			b.Debit(bank, x.Arrived, ledger.Line{})
			b.Debit(b.Role(ledger.BankCharges), x.Fee, ledger.Line{})
			b.Credit(account, sum, ledger.Line{})
		}
	}
	return b.Effect(fmt.Sprintf("Took the card payout %s, %s", p.Number, b.Currency().Show(x.Arrived)))
}

// clear uses up what each paper moved in card takings, and returns what they
// come to and the account on which they waited.
func (x Payout) clear(b *builder, p *posting.Paper) (sum money.Amount, account ledger.Account) {
	b.KnowPapers(x.Takings)
	seen := map[int64]bool{}
	var from ledger.BankAccount
	for n, id := range x.Takings {
		field := fmt.Sprintf("takings[%d]", n)
		of, ok := b.Facts.Paper(id)
		at, _ := b.BankAccount(of.BankAccountID)
		waits := posting.Thing{LineRef: posting.LineRef{PaperID: id}}
		left, _, moved := b.LeftOf(waits, posting.PaidOut, x.Day)
		switch {
		case !ok || !at.Takings || !moved:
			b.Refuse(field, "missing", "", "Choose what came to, or went from, card takings.")
		case seen[id]:
			b.Refuse(field, "twice", of.Number, "%s stands here twice.", of.Number)
		case from.ID != 0 && from.ID != at.ID:
			b.Refuse(field, "another account", of.Number, "%s waits in %s, the others in %s. Take one payout for each.", of.Number, at.Name, from.Name)
		case left.End.Amount.Own == 0:
			b.gone(field, of)
		default:
			from = at
			sum += left.End.Amount.Own
			b.Use(field, posting.Use{Of: waits, As: posting.PaidOut, Day: x.Day, By: posting.LineRef{PaperID: p.ID}, Part: left.End})
		}
		seen[id] = true
	}
	account, _ = b.Account(from.AccountID)
	return sum, account
}

// Waits is what of a paper waits in card takings to be paid out, below nil for
// what went from there; false when it moved nothing there.
func Waits(f posting.Facts, paperID int64) (money.Amount, bool) {
	b := build(f)
	p, _ := f.Paper(paperID)
	if at, _ := f.BankAccount(p.BankAccountID); !at.Takings {
		return 0, false
	}
	left, _, ok := b.LeftOf(posting.Thing{LineRef: posting.LineRef{PaperID: paperID}}, posting.PaidOut, p.Day)
	return left.End.Amount.Own, ok
}

// agrees refuses takings that, less the fee, are not what arrived.
func (x Payout) agrees(b *builder, sum money.Amount) bool {
	c := b.Currency()
	switch fee := sum - x.Arrived; {
	case sum-x.Fee == x.Arrived:
		return true
	case fee < 0:
		b.Refuse("arrived", "sums differ", c.Format(sum-x.Fee), "The takings come to %s, and %s arrived. Choose all that were paid out, or put right what arrived.", c.Show(sum), c.Show(x.Arrived))
	default:
		b.Refuse("fee", "sums differ", c.Format(fee), "The takings come to %s and %s arrived, so the fee would be %s, not %s. Say so, or choose other takings.", c.Show(sum), c.Show(x.Arrived), c.Show(fee), c.Show(x.Fee))
	}
	return false
}

// gone refuses a paper of which nothing waits any more.
func (b *builder) gone(field string, of posting.Paper) {
	for _, u := range b.StandingUses(b.Uses(of.ID)) {
		by, _ := b.Facts.Paper(u.PaperID)
		switch u.As {
		case posting.PaidOut:
			b.Refuse(field, "paid out already", by.Number, "%s was paid out already, by %s.", of.Number, by.Number)
			return
		case posting.Cancelled:
			b.Refuse(field, "reversed", by.Number, "%s was reversed by %s, so nothing of it is paid out.", of.Number, by.Number)
			return
		}
	}
	b.Refuse(field, "nothing left", b.Currency().Format(0), "Nothing of %s waits to be paid out.", of.Number)
}

// waitsNoMore takes out of card takings what a paper moved there that is
// reversed: its money never came, so that no payout names it.
func (b *builder) waitsNoMore(p posting.Paper, d day.Day) {
	if at, _ := b.BankAccount(p.BankAccountID); !at.Takings {
		return
	}
	of := posting.Thing{LineRef: posting.LineRef{PaperID: p.ID}}
	if left, _, moved := b.LeftOf(of, posting.Cancelled, d); moved && left.End.Amount.Own != 0 {
		b.Use("paper", posting.Use{Of: of, As: posting.Cancelled, Day: d, By: posting.LineRef{PaperID: b.Own()}, Part: left.End})
	}
}
