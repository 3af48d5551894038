package settling

import (
	"strings"

	"cleantally/core/day"
	"cleantally/core/ledger"
	"cleantally/core/money"
	"cleantally/core/posting"
)

// Facts is what plans of settling ask beside what every plan may. Whatever
// answers posting.Facts for them answers these too.
type Facts interface {
	posting.Facts
	OpenOn(d day.Day) []posting.Item // what of receivables and retention was open at the end of a day
	// Debts are papers with of their lines only what a debt is made of: net and tax
	// by code. Their uses are known from then on.
	Debts(papers []int64) map[int64]posting.Paper
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
	c := b.Currency()
	if limit := b.Limits().Difference; closed+amount > limit {
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
