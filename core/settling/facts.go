package settling

import (
	"iter"
	"strings"

	"cleantally/core/day"
	"cleantally/core/ledger"
	"cleantally/core/money"
	"cleantally/core/posting"

	"github.com/shopspring/decimal"
)

// Facts is what plans of settling ask beside what every plan may. Whatever
// answers posting.Facts for them answers these too.
type Facts interface {
	posting.Facts
	// OpenOn is what of receivables and retention was open at the end of a day: whose
	// it is, what it bills, when it falls due and what is left of it; no more is told.
	// Beside it stands what the paper that it bills comes to, with the tax inside, where
	// that is of one tax code and nothing of it is used up, rounded or in another
	// currency; nil otherwise.
	OpenOn(d day.Day) iter.Seq2[posting.Item, posting.Part]
	KeptBackBy(partyID int64, d day.Day) []posting.Item // that was open at the end of a day; what their papers are called is left out
	// Debts are papers with of their lines only what a debt is made of: net and tax
	// by code. Their uses are known from then on. What has no lines is left out, and
	// the lines are lent until the next.
	Debts(papers []int64) iter.Seq[posting.Paper]
	Disputes(posting.ItemRef) []posting.Dispute
	ChequeTaken(bankAccountID int64, number string) bool
	NextCheque(bankAccountID int64) string
	Sent(paperID int64) day.Day // when the customer got it; "" for not yet
}

// A builder is posting's, with what only settling needs.
type builder struct {
	*posting.Builder
	facts  Facts
	given  money.Amount                     // what the effect gives up, for the second person's word
	closed map[posting.ItemRef]money.Amount // what it closes of an item as a small difference
}

func build(f posting.Facts) *builder {
	return &builder{Builder: posting.Build(f), facts: f.(Facts), closed: map[posting.ItemRef]money.Amount{}}
}

// cheque gives the number of a cheque that is written: the one that was
// chosen, or the next of the bank account. What is not paid by cheque has none.
func (b *builder) cheque(field string, m posting.Method, bankID int64, number string) string {
	number = strings.TrimSpace(number)
	switch {
	case m != posting.ByCheque:
		return ""
	case number == "":
		return b.facts.NextCheque(bankID)
	case len(number) > 20:
		b.Refuse(field, "too long", "20", "A cheque number has at most 20 characters.")
	case b.facts.ChequeTaken(bankID, number):
		b.Refuse(field, "taken", number, "Cheque %s is written already. Leave the number empty to be given %s.", number, b.facts.NextCheque(bankID))
	}
	return number
}

// allowance is what the allowance can bear from a day on: the least that
// stands there on any day from then on, with what this effect does to it.
func (b *builder) allowance(d day.Day) money.Amount {
	account := b.Role(ledger.Allowance).ID
	least := money.Amount(0)
	for n, at := range b.facts.AccountDays(account, d) {
		if n == 0 || -at.Balance < least {
			least = -at.Balance
		}
	}
	return least - b.Entered(account)
}

// notOverdrawn refuses what would take more out of the allowance than stands
// there from a day on.
func (b *builder) notOverdrawn(field string, d day.Day) {
	if left := b.allowance(d); left < 0 && b.Entered(b.Role(ledger.Allowance).ID) > 0 {
		c := b.Currency()
		b.Refuse(field, "more than is there", c.Format(0), "The allowance would be overdrawn by %s: write-offs have used it since. Use a later day, or bring the allowance to what is wanted first.", c.Show(-left))
	}
}

// limitOf is up to which a difference of an item is closed, in its currency.
func limitOf(b *builder, i posting.Item) money.Amount {
	limit := b.Limits().Difference
	if i.Currency == "" || i.Amount.Base == 0 {
		return limit
	}
	return (posting.Worth{Own: i.Amount.Own, Base: i.Amount.Base}).Outside(limit)
}

// small refuses to close more of one item as a small difference than the firm's
// limit, over all that closed some of it (docs/rules.md, part 4).
func (b *builder) small(field, rule string, i posting.Item, amount money.Amount, text string) bool {
	closed := b.closed[i.ID]
	if i.ID > 0 {
		for _, a := range b.AllocationsOf(i.ID) {
			for _, ref := range []posting.ItemRef{a.Debit, a.Credit} {
				if o, ok := b.Look(ref); ok && ref != i.ID && (o.Nature == posting.OfDifference || o.Nature == posting.OfSmallCredit) && !b.UndoneHere(a.ID) {
					closed += a.Amount
				}
			}
		}
	}
	c := posting.CurrencyOf(b.Facts, i.Currency)
	if limit := limitOf(b, i); closed+amount > limit {
		more := ""
		if closed > 0 {
			more = " Of it " + c.Show(closed) + " is closed so already."
		}
		b.Refuse(field, rule, c.Format(limit), text+more, c.Show(amount), i.Number, c.Show(limit))
		return false
	}
	b.closed[i.ID] += amount
	return true
}

// askWord asks for a second person's word when what the effect gives up in all
// is past the firm's limit.
func (b *builder) askWord(sum money.Amount) {
	b.given += sum
	c := b.Currency()
	if limit := b.Limits().WriteOff; limit > 0 && b.given > limit {
		b.AskWord("word", c.Format(limit), "%s is past the limit of %s: a second person must agree to this write-off.", c.Show(b.given), c.Show(limit))
	}
}

// payIn enters what arrives of the papers that are being planned, and answers
// what it is worth: at their rate, or, on a bank account of another currency,
// what arrived there, which is said (docs/rules.md, part 8).
func (b *builder) payIn(field string, bankID int64, amount, atBank money.Amount, d day.Day, at ledger.Line) posting.Worth {
	bank, _ := b.BankAccount(bankID)
	if bank.Currency == b.Code() {
		account, _ := b.Account(bank.AccountID)
		w := b.At(amount)
		b.DebitWorth(account, w, at)
		return w
	}
	if !b.saysBoth(field, bank, atBank) {
		return posting.Worth{Own: amount}
	}
	w, _ := b.Arrives(bank, atBank, d, decimal.Zero, at)
	return posting.Worth{Own: amount, Base: w.Base}
}

// payOut enters what leaves a bank account for the papers that are being planned:
// a portion of what stands there. What that differs by from what it is paid for
// goes to exchange.
func (b *builder) payOut(field string, bankID int64, amount, atBank money.Amount, d day.Day, at ledger.Line) {
	bank, _ := b.BankAccount(bankID)
	if bank.Currency != b.Code() {
		if !b.saysBoth(field, bank, atBank) {
			return
		}
		amount = atBank
	}
	b.Leaves(bank, amount, d, decimal.Zero, at)
	if b.Code() != "" || bank.Currency != "" {
		b.ExchangeRest(at)
	}
}

// saysBoth refuses money on an account of another currency of which only one
// amount is said.
func (b *builder) saysBoth(field string, bank ledger.BankAccount, atBank money.Amount) bool {
	c := posting.CurrencyOf(b.Facts, bank.Currency)
	if atBank <= 0 || atBank > money.Limit {
		b.Refuse(field, "says both", c.Code, "%s is in %s and the paper in %s: say how much moved there, in %s.", bank.Name, c.Code, b.Currency().Code, c.Code)
		return false
	}
	return true
}
