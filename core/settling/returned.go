package settling

import (
	"fmt"
	"strings"

	"cleantally/core/day"
	"cleantally/core/ledger"
	"cleantally/core/money"
	"cleantally/core/posting"
)

// Returned is a cheque or debit that the bank takes back, dated the bank's day
// (docs/rules.md, part 4): it undoes the receipt's allocations and discount, so
// that the invoices' own due days count again. The bank's fee is a charge, or
// is passed on to the customer. Of a deposit or receipt that was partly
// refunded, forfeited or moved on, that part is owed now.
type Returned struct {
	Number  string // "" to be given the next
	PaperID int64
	Day     day.Day
	Fee     money.Amount
	PassOn  bool // the customer owes the fee
	Reason  string
}

// staysGone are the kinds of paper that stand although the money was taken
// back: what they took out is owed.
var staysGone = map[posting.Kind]bool{posting.Refund: true, posting.Forfeit: true, posting.Transfer: true}

// Plan returns the effect of the returned payment.
func (r Returned) Plan(f posting.Facts) (posting.Effect, error) {
	b := posting.Build(f)
	p, ok := f.Paper(r.PaperID)
	if !ok || (p.Kind != posting.Receipt && p.Kind != posting.Deposit) {
		b.Refuse("paper", "missing", "", "Choose the receipt or the deposit that the bank took back.")
		return b.Effect("")
	}
	may := mayTakeBack(b, p) && !standing(b, p, staysGone)
	if may && fromUnidentified(b, p) {
		b.Refuse("paper", "identified later", "", "%s came as money that was not identified. Reverse it first, then reverse that.", p.Number)
		may = false
	}
	dayOK := b.PostingDay("day", r.Day) && notBefore(b, p, r.Day)
	if r.Fee < 0 || r.Fee > money.Limit {
		b.Refuse("fee", "below nil", b.Currency().Format(0), "The bank's fee cannot be below nil.")
		may = false
	}
	own := b.Paper(posting.Paper{
		Kind: posting.Returned, Number: r.Number, Day: r.Day, PartyID: p.PartyID, PartyName: p.PartyName, PartyAddress: p.PartyAddress, JobID: p.JobID,
		Title: "Returned by the bank: " + p.Number, Reference: p.Reference, Reason: strings.TrimSpace(r.Reason), BankAccountID: p.BankAccountID, Method: p.Method,
		Total: -p.Total, Tax: -p.Tax, Kept: -p.Kept, Withheld: -p.Withheld, ReversesID: p.ID,
	})
	if dayOK && may {
		r.post(b, p, own)
	}
	return b.Effect(fmt.Sprintf("%s was returned by the bank, %s", p.Number, own.Number))
}

func (r Returned) post(b *posting.Builder, p posting.Paper, own *posting.Paper) {
	text := "Returned payment " + own.Number
	at := ledger.Line{PartyID: p.PartyID, JobID: p.JobID}
	parts := opposites(b, p, r.Day, text)
	var fee ledger.Entry
	if bank, ok := b.BankAccount(p.BankAccountID); ok && r.Fee > 0 {
		account, _ := b.Account(bank.AccountID)
		if r.PassOn {
			fee.Debit(b.Role(ledger.Receivables), r.Fee, at)
		} else {
			fee.Debit(b.Role(ledger.BankCharges), r.Fee, at)
		}
		fee.Credit(account, r.Fee, at)
	}
	var owed ledger.Entry
	if unplaceAll(b, p, r.Day, staysGone) {
		gone, goneTax := closeItems(b, p, r.Day, staysGone)
		if gone > 0 {
			if p.Kind == posting.Deposit {
				owed.Debit(b.Role(ledger.Receivables), gone, at)
				owed.Credit(b.Role(ledger.Deposits), gone-goneTax, at)
				owed.Credit(b.Role(ledger.OutputTax), goneTax, ledger.Line{PartyID: p.PartyID, JobID: p.JobID, TaxCodeID: b.PaperItems(p.ID)[0].TaxCodeID})
			}
			b.Open(posting.Item{Register: ledger.Receivables, Nature: posting.Beside, PartyID: p.PartyID, JobID: p.JobID, Day: r.Day, Due: r.Day, Amount: gone})
		}
	}
	if r.PassOn && r.Fee > 0 {
		b.Open(posting.Item{Register: ledger.Receivables, Nature: posting.Beside, PartyID: p.PartyID, JobID: p.JobID, Day: r.Day, Due: r.Day, Amount: r.Fee})
	}
	b.Enter(ledger.Merged(r.Day, text, append(parts, fee, owed)...))
}

// fromUnidentified tells whether the paper's money was not identified when it
// came: its bank line stands on another paper.
func fromUnidentified(b *posting.Builder, p posting.Paper) bool {
	for _, i := range b.PaperItems(p.ID) {
		if i.Register == ledger.Unidentified {
			return true
		}
	}
	return false
}
