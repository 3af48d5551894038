package settling

import (
	"fmt"
	"strings"

	"cleantally/core/billing"
	"cleantally/core/day"
	"cleantally/core/ledger"
	"cleantally/core/money"
	"cleantally/core/posting"

	"github.com/shopspring/decimal"
)

// Agreed says what a row about a contract is.
type Agreed string

// What old books may say of a contract that is under way.
const (
	AgreedLine     Agreed = "order line"      // of an order, with what was billed of it
	AgreedClaimed  Agreed = "claimed before"  // of the job's own contract sum, net
	AgreedReleased Agreed = "released before" // was kept back and is released: it counts under the cap
)

// AllAgreed lists what a row about a contract may be.
var AllAgreed = []Agreed{AgreedLine, AgreedClaimed, AgreedReleased}

// OpeningContract is what old books say of a contract.
type OpeningContract struct {
	What      Agreed
	Number    string // of the order; lines of one number are one order
	PartyID   int64
	JobID     int64
	Amount    money.Amount // net; with its tax where it was kept back
	Billed    money.Amount // of an order's line, net, so far
	TaxCodeID int64        // of an order's line
	Text      string
	Currency  string          // of an order, ISO 4217; "" for the firm's own
	Rate      decimal.Decimal // of that; nil for the newest that is not after the last day of the old books
}

// OpeningOnTheWay is what stood in the old books and not at the bank yet: one
// side of it.
type OpeningOnTheWay struct {
	BankAccountID int64
	Day           day.Day
	Reference     string
	Text          string
	In, Out       money.Amount // money on the way; a cheque that is not presented: in the account's currency
	Worth         money.Amount // what it stands at in the firm's, where that is another
}

// contracts takes over what is agreed with customers. It posts nothing: the
// orders have left to bill what was not billed, and the job knows what was.
func (o Opening) contracts(b *builder, dayOK bool) {
	defer b.In("", decimal.Zero, o.Day)
	orders := map[OpeningContract][]int{}
	for n, c := range o.Contracts {
		key := c.order()
		if c.What == AgreedLine && c.Number != "" {
			orders[key] = append(orders[key], n)
		}
	}
	for n, c := range o.Contracts {
		field := fmt.Sprintf("contracts[%d].", n)
		rows := orders[c.order()]
		switch {
		case !o.contract(b, field, n+1, c) || !dayOK:
		case c.What == AgreedClaimed:
			b.claimedBefore(o.Day, c, c.Amount, "Claimed before the books begin")
		case c.What == AgreedReleased:
			o.released(b, c)
		case len(rows) == 0:
			o.order(b, []int{n})
		case rows[0] == n:
			o.order(b, rows)
		}
	}
}

// order is what lines of one order have in common.
func (c OpeningContract) order() OpeningContract {
	return OpeningContract{Number: c.Number, PartyID: c.PartyID, JobID: c.JobID, Currency: c.Currency}
}

// contract refuses what a row cannot be.
func (o Opening) contract(b *builder, field string, n int, c OpeningContract) bool {
	before := b.Refusals()
	refuse := func(name, rule, limit, format string, args ...any) {
		b.Refuse(field+name, rule, limit, fmt.Sprintf("Row %d of the contracts: ", n)+format, args...)
	}
	if !o.ownCurrency(b, c, refuse) {
		return false
	}
	cur := b.Currency()
	party, known := b.Party(c.PartyID)
	job, isJob := b.Job(c.JobID)
	switch {
	case !known || !party.IsCustomer:
		refuse("party", "missing", "", "say which customer it is agreed with.")
	case c.JobID != 0 && (!isJob || job.PartyID != c.PartyID):
		refuse("job", "another customer's job", "", "this job is not of %s.", party.Name)
	case c.JobID == 0 && c.What != AgreedLine:
		refuse("job", "missing", "", "say of which job.")
	}
	switch {
	case c.What != AgreedLine && c.What != AgreedClaimed && c.What != AgreedReleased:
		refuse("what", "missing", "", "say what it is: an order line, claimed before, or released before.")
	case c.Amount <= 0 || c.Amount > money.Limit:
		refuse("amount", "above nil", cur.Format(0), "the amount must be above nil.")
	case c.Billed < 0 || c.Billed > c.Amount || c.Billed != 0 && c.What != AgreedLine:
		refuse("billed", "more than was ordered", cur.Format(c.Amount), "what was billed of an order's line lies between nil and what was ordered, %s.", cur.Show(c.Amount))
	}
	if _, _, ok := b.TaxCode(c.TaxCodeID); c.What == AgreedLine && !ok {
		refuse("taxCode", "missing", "", "say by which tax code it is billed.")
	}
	return b.Refusals() == before
}

// ownCurrency goes on in the currency of a row, or refuses it: what was claimed of a
// job's own sum, and what was kept back under its cap, is in the firm's.
func (o Opening) ownCurrency(b *builder, c OpeningContract, refuse func(name, rule, limit, format string, args ...any)) bool {
	switch {
	case c.Currency == "" && !c.Rate.IsZero():
		refuse("rate", "no currency", "", "a rate is of another currency than %s: say which, or leave it out.", b.Facts.Currency().Code)
	case c.Currency != "" && c.What != AgreedLine:
		refuse("currency", "another currency", "", "only the lines of an order are in another currency than %s.", b.Facts.Currency().Code)
	default:
		before := b.Refusals()
		b.In(c.Currency, c.Rate, o.Day)
		return b.Refusals() == before
	}
	return false
}

// order takes an order over, and says what was billed of it.
func (o Opening) order(b *builder, rows []int) {
	first := o.Contracts[rows[0]]
	order := billing.Order{Number: first.Number, PartyID: first.PartyID, JobID: first.JobID, Day: o.Day, Currency: first.Currency, Rate: first.Rate}
	b.In(first.Currency, first.Rate, o.Day)
	var billed money.Amount
	for _, n := range rows {
		c := o.Contracts[n]
		text := strings.TrimSpace(c.Text)
		if text == "" {
			text = "As agreed"
		}
		order.Lines = append(order.Lines, posting.Line{Text: text, Quantity: decimal.New(1, 0), UnitPrice: b.Currency().Decimal(c.Amount), TaxCodeID: c.TaxCodeID})
		billed += c.Billed
	}
	before := b.Refusals()
	p := order.On(b.Builder)
	if billed == 0 || b.Refusals() > before {
		return
	}
	lines, number := p.Lines, p.Number
	own := b.claimedBefore(o.Day, first, billed, "Billed of order "+number+" before the books begin")
	for at, n := range rows {
		if c := o.Contracts[n]; c.Billed > 0 {
			l := lines[at]
			whole := posting.InMillionths(l.Quantity)
			b.Use(fmt.Sprintf("contracts[%d].billed", n), posting.Use{Of: posting.Thing{LineRef: posting.LineRef{PaperID: p.ID, Position: l.Position}, TaxCodeID: l.TaxCodeID}, As: posting.Billed, Day: o.Day,
				By: posting.LineRef{PaperID: own.ID, Position: l.Position}, Quantity: posting.Millionths(money.Portion(c.Billed, money.Amount(whole), l.Net.Own)), Part: l.Part().TakeNet(c.Billed)})
		}
	}
}

// claimedBefore is the paper that tells a job what was billed of it before.
func (b *builder) claimedBefore(d day.Day, c OpeningContract, net money.Amount, title string) *posting.Paper {
	party, _ := b.Party(c.PartyID)
	if text := strings.TrimSpace(c.Text); text != "" && c.What == AgreedClaimed {
		title = text
	}
	return b.Paper(posting.Paper{Kind: posting.ClaimedBefore, Day: d, PartyID: c.PartyID, PartyName: party.Name, PartyAddress: party.Printed(), JobID: c.JobID, Title: title, Total: net, Base: b.At(net).Base, Billing: posting.Billing{Net: net}})
}

// released tells of retention that was kept back and released again: it counts
// under the cap and is not held any more.
func (o Opening) released(b *builder, c OpeningContract) {
	party, _ := b.Party(c.PartyID)
	p := b.Paper(posting.Paper{Kind: posting.Opening, Day: o.Day, PartyID: c.PartyID, PartyName: party.Name, PartyAddress: party.Printed(), JobID: c.JobID, Title: "Kept back and released before the books begin", Total: c.Amount})
	b.Says(p.Title)
	kept := posting.Item{Register: ledger.Retention, Nature: posting.Beside, PartyID: c.PartyID, JobID: c.JobID, Day: o.Day, Due: o.Day, Part: posting.Of(c.Amount, 0)}
	out := kept
	out.Nature, out.Part = posting.Closing, kept.Part.Neg()
	b.Allocate("contracts", b.Open(kept), b.Open(out), c.Amount, o.Day)
}

// onTheWay enters what was not at the bank yet: it waits there to be tied. What
// the trial balance says of the account is with it.
func (o Opening) onTheWay(b *builder, dayOK bool) {
	for n, w := range o.OnTheWay {
		field, c := fmt.Sprintf("onTheWay[%d].", n), b.Currency()
		refuse := func(name, rule, limit, format string, args ...any) {
			b.Refuse(field+name, rule, limit, fmt.Sprintf("Row %d of what is not at the bank: ", n+1)+format, args...)
		}
		bank, known := b.BankAccount(w.BankAccountID)
		own := w.Day
		if own == "" {
			own = o.Day
		}
		_, err := day.Parse(string(own))
		switch {
		case !known || bank.Cash:
			refuse("bank", "missing", "", "say which bank account it is on the way to or from.")
		case w.In < 0 || w.Out < 0 || (w.In != 0) == (w.Out != 0) || max(w.In, w.Out) > money.Limit:
			refuse("in", "one side", c.Format(0), "it needs an amount above nil, paid in or paid out.")
		case (w.Worth != 0) != (bank.Currency != "") || w.Worth < 0 || w.Worth > money.Limit:
			refuse("worth", "above nil", c.Format(0), "say what it stood at in %s where the account is in another currency, and nowhere else.", c.Code)
		case err != nil || own > o.Day:
			refuse("day", "after the old books", string(o.Day), "its day is one of the old books, through %s.", o.Day.Show())
		case dayOK:
			title := "On the way to the bank since " + own.Show()
			method := posting.ByTransfer
			if w.Out != 0 {
				title, method = "Paid on "+own.Show()+", not at the bank yet", posting.ByCheque
			}
			if text := strings.TrimSpace(w.Text); text != "" {
				title += ": " + text
			}
			b.In(bank.Currency, w.rate(b, bank), o.Day)
			b.Paper(posting.Paper{Kind: posting.Opening, Day: o.Day, Title: title, Base: w.worth(bank).Abs(), Reference: strings.TrimSpace(w.Reference), Total: w.In + w.Out, Payment: posting.Payment{BankAccountID: bank.ID, Method: method}})
			b.Says(title)
			account, _ := b.Account(bank.AccountID)
			b.DebitWorth(account, posting.Worth{Own: w.In - w.Out, Base: w.worth(bank)}, ledger.Line{})
			b.Credit(b.Role(ledger.Opening), w.worth(bank), ledger.Line{})
			b.In("", decimal.Zero, "")
		}
	}
}

// worth is what it stands at in the firm's currency, what came above nil.
func (w OpeningOnTheWay) worth(bank ledger.BankAccount) money.Amount {
	switch {
	case bank.Currency == "":
		return w.In - w.Out
	case w.Out != 0:
		return -w.Worth
	}
	return w.Worth
}

// rate is what one unit of the account's currency stands at; nil in the firm's.
func (w OpeningOnTheWay) rate(b *builder, bank ledger.BankAccount) decimal.Decimal {
	return OpeningItem{Currency: bank.Currency, Amount: w.In + w.Out, Worth: w.Worth}.rate(b)
}
