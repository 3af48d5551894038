package settling

import (
	"fmt"
	"strings"

	"cleantally/core/day"
	"cleantally/core/ledger"
	"cleantally/core/money"
	"cleantally/core/posting"

	"github.com/shopspring/decimal"
)

// OwnTransfer is money that goes from one of the firm's bank accounts or tills to
// another (docs/rules.md, part 11): Dr the one, Cr the other, and what the bank
// kept of it to bank charges. It is one paper with a movement on each account, so
// that the lines of both statements meet in it.
type OwnTransfer struct {
	Number        string // "" to be given the next
	Day           day.Day
	Amount        money.Amount // that left
	Fee           money.Amount // of it, what the bank kept
	Arrived       money.Amount // in the currency of the account that it goes to, where that is another
	FromAccountID int64        // bank accounts
	ToAccountID   int64
	Reference     string
	Note          string
}

// Plan returns the effect of the transfer.
func (t OwnTransfer) Plan(f posting.Facts) (posting.Effect, error) {
	b := build(f)
	dayOK := b.PostingDay("day", t.Day)
	amountOK := b.AmountAboveNil("amount", t.Amount, "what was moved")
	at, _ := b.BankAccount(t.FromAccountID)
	goes, _ := b.BankAccount(t.ToAccountID)
	dayOK = dayOK && b.In(at.Currency, decimal.Zero, t.Day)
	_, fromOK := t.own(b, "from", t.FromAccountID)
	_, toOK := t.own(b, "to", t.ToAccountID)
	if fromOK && t.FromAccountID == t.ToAccountID {
		b.Refuse("to", "the same", "", "The money would stay where it is. Choose another account.")
		toOK = false
	}
	if c := b.Currency(); t.Fee < 0 || amountOK && t.Fee >= t.Amount {
		b.Refuse("fee", "too much", c.Format(t.Amount), "The fee is a part of the %s that left.", c.Show(t.Amount))
		amountOK = false
	}
	p := b.Paper(posting.Paper{Kind: posting.OwnTransfer, Number: t.Number, Day: t.Day, Title: t.title(b), Reference: strings.TrimSpace(t.Reference), Note: t.Note, Total: t.Amount,
		Payment: posting.Payment{BankAccountID: t.FromAccountID, Charges: t.Fee}})
	if dayOK && amountOK && fromOK && toOK {
		b.Says(p.Title)
		left, _ := b.Leaves(at, t.Amount, t.Day, decimal.Zero, ledger.Line{})
		p.Base = left.Base
		fee := posting.Worth{Own: t.Fee, Base: money.Portion(t.Fee, left.Base, t.Amount)}
		b.arriveAt(goes, at, t.Amount-t.Fee, left.Base-fee.Base, t.Arrived)
		b.DebitWorth(b.Role(ledger.BankCharges), fee, ledger.Line{})
		if at.Currency != "" && !b.Refused() {
			b.ExchangeRest(ledger.Line{})
		}
	}
	return b.Effect(fmt.Sprintf("Moved %s between own accounts by %s", b.Currency().Show(t.Amount), p.Number))
}

// arriveAt enters what arrives of a transfer on the other account: as much as
// left, or, in another currency, what is said. Between two other currencies it is
// worth what left; the firm's own is worth itself, and the difference of exchange.
func (b *builder) arriveAt(to, from ledger.BankAccount, own, base, arrived money.Amount) {
	if to.Currency != from.Currency {
		if !b.saysBoth("arrived", to, arrived) {
			return
		}
		own = arrived
	}
	if to.Currency == "" {
		base = own
	}
	account, _ := b.Account(to.AccountID)
	line := ledger.Line{AccountID: account.ID, Amount: base, Currency: to.Currency}
	if to.Currency != "" {
		line.Own = own
	}
	b.Enter(line)
}

func (t OwnTransfer) title(b *builder) string {
	from, _ := b.BankAccount(t.FromAccountID)
	to, _ := b.BankAccount(t.ToAccountID)
	if from.Name == "" || to.Name == "" {
		return "Between own accounts"
	}
	return fmt.Sprintf("From %s to %s", from.Name, to.Name)
}

// own is the ledger account of one of the firm's accounts. Card takings leave by
// the payout that names them.
func (t OwnTransfer) own(b *builder, field string, id int64) (ledger.Account, bool) {
	a, ok := b.Bank(field, id)
	if at, _ := b.BankAccount(id); ok && at.Takings {
		b.Refuse(field, "card takings", "", "%s leaves by the card payout that names it. Choose another account, or record the payout.", at.Name)
		return a, false
	}
	return a, ok
}
