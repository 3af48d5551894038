// Package journal plans entries that are written by hand (docs/rules.md, part
// 3).
package journal

import (
	"fmt"
	"strings"

	"cleantally/core/day"
	"cleantally/core/ledger"
	"cleantally/core/money"
	"cleantally/core/posting"

	"github.com/shopspring/decimal"
)

// Journal is an entry by hand, never unbalanced. It may touch receivables and
// payables only with a party, where it makes an open item; the other control
// accounts refuse it.
type Journal struct {
	Number   string // "" to be given the next
	Day      day.Day
	Currency string          // of its amounts, ISO 4217; "" for the firm's own
	Rate     decimal.Decimal // of Currency; nil for that of the day
	Text     string
	Lines    []Line
}

// Line is a line of the entry: a debit or a credit.
type Line struct {
	AccountID int64
	Debit     money.Amount
	Credit    money.Amount
	PartyID   int64
	JobID     int64
	Due       day.Day // of the open item; "" for the entry's own day
}

// Plan returns the effect of the entry.
func (j Journal) Plan(f posting.Facts) (posting.Effect, error) {
	b := posting.Build(f)
	dayOK := b.PostingDay("day", j.Day) && b.In(j.Currency, j.Rate, j.Day)
	j.Text = strings.TrimSpace(j.Text)
	if j.Text == "" {
		b.Refuse("text", "missing", "", "Say what the entry is for.")
	}
	if len(j.Lines) < 2 {
		b.Refuse("lines", "missing", "", "An entry needs two lines or more.")
	}
	p := b.Paper(posting.Paper{Kind: posting.Journal, Number: j.Number, Day: j.Day, Title: j.Text})
	b.Says(j.Text)
	var debit, credit money.Amount
	for n, l := range j.Lines {
		field := fmt.Sprintf("lines[%d].", n)
		account, ok := j.check(b, field, n+1, l)
		debit += l.Debit
		credit += l.Credit
		if ok {
			p.Total += l.Debit
			if dayOK {
				j.enter(b, field, l, account)
			}
		}
		if party, known := b.Party(l.PartyID); p.PartyID == 0 && known {
			p.PartyID, p.PartyName, p.PartyAddress = party.ID, party.Name, party.Printed()
		}
	}
	if c := b.Currency(); max(debit, credit) > money.DayLimit {
		b.Refuse("lines", "too large", c.Format(money.DayLimit), "The entry comes to more than %s. Split it.", c.Show(money.DayLimit))
	} else if debit != credit {
		b.Refuse("lines", "does not balance", c.Format((debit - credit).Abs()), "Debits are %s and credits %s: %s is missing on the %s side.", c.Show(debit), c.Show(credit), c.Show((debit - credit).Abs()), side(debit < credit))
	} else if b.Code() != "" && !b.Refused() {
		b.ExchangeRest(ledger.Line{})
	}
	return b.Effect(fmt.Sprintf("Posted entry %s: %s", p.Number, j.Text))
}

func side(debit bool) string {
	if debit {
		return "debit"
	}
	return "credit"
}

func (j Journal) check(b *posting.Builder, field string, n int, l Line) (ledger.Account, bool) {
	a, ok := b.Account(l.AccountID)
	switch {
	case !ok:
		b.Refuse(field+"account", "missing", "", "Choose the account of line %d.", n)
		return a, false
	case a.Inactive:
		b.Refuse(field+"account", "not in use", "", "Account %s %s is not in use any more. Choose another.", a.Number, a.Name)
		return a, false
	case (l.Debit == 0) == (l.Credit == 0) || l.Debit < 0 || l.Credit < 0 || l.Debit > money.Limit || l.Credit > money.Limit:
		b.Refuse(field+"debit", "one side", "", "Line %d needs an amount above nil, on one side.", n)
		return a, false
	}
	jobOK := b.JobOf(field+"job", l.JobID, l.PartyID)
	role, control := b.Control(a.ID)
	bank, isBank := b.BankOf(a.ID)
	switch {
	case isBank && bank.Currency != b.Code():
		own := posting.CurrencyOf(b.Facts, bank.Currency).Code
		b.Refuse(field+"account", "another currency", own, "Account %s %s is in %s, and the entry in %s. Write what moves there in %s; money from one currency to another is a transfer between own accounts.", a.Number, a.Name, own, b.Currency().Code, own)
		return a, false
	case !control:
		if _, known := b.Party(l.PartyID); !known && l.PartyID != 0 {
			b.Refuse(field+"party", "missing", "", "There is no such customer or supplier. Choose another, or none.")
			return a, false
		}
		return a, jobOK
	case role != ledger.Receivables && role != ledger.Payables:
		b.Refuse(field+"account", "control account", "", "Account %s %s moves by its own papers alone, so that it equals its register. Use the paper, or another account.", a.Number, a.Name)
		return a, false
	}
	var party bool
	if role == ledger.Receivables {
		_, party = b.Customer(field+"party", l.PartyID)
	} else {
		_, party = b.Supplier(field+"party", l.PartyID)
	}
	return a, party && jobOK
}

// enter enters a line, or makes the open item of one on receivables or
// payables. What leaves a bank account in another currency goes by a portion of
// what stands there (docs/rules.md, part 8).
func (j Journal) enter(b *posting.Builder, field string, l Line, a ledger.Account) {
	role, control := b.Control(a.ID)
	amount, at := b.At(l.Debit-l.Credit), ledger.Line{PartyID: l.PartyID, JobID: l.JobID}
	if bank, isBank := b.BankOf(a.ID); isBank && bank.Currency != "" && l.Credit > 0 {
		b.Leaves(bank, l.Credit, j.Day, j.Rate, at)
		return
	}
	if !control {
		b.DebitWorth(a, amount, at)
		return
	}
	due := l.Due
	if due == "" {
		due = j.Day
	}
	if _, err := day.Parse(string(due)); err != nil {
		b.Refuse(field+"due", "no such day", "", "%s.", posting.Sentence(err.Error()))
		return
	}
	item := posting.Item{Register: role, PartyID: l.PartyID, JobID: l.JobID, Day: j.Day, Currency: b.Code(), Part: posting.Part{Amount: amount}}
	if item.Debit() == (role == ledger.Receivables) {
		item.Due = due
	}
	b.Open(item)
}
