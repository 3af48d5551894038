package settling

import (
	"fmt"
	"slices"
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

// Plan returns the effect of the returned payment. Money that was identified
// later is returned all the same: what was made of it is undone with it.
func (r Returned) Plan(f posting.Facts) (posting.Effect, error) {
	b := build(f)
	p, ok := f.Paper(r.PaperID)
	if !ok || (p.Kind != posting.Receipt && p.Kind != posting.Deposit && p.Kind != posting.Unidentified) {
		b.Refuse("paper", "missing", "", "Choose the receipt or the deposit that the bank took back.")
		return b.Effect("")
	}
	if !b.MayTakeBack(p) {
		return b.Effect("")
	}
	bank, made := moneyOf(b, p)
	may := true
	for _, each := range append([]posting.Paper{bank}, made...) {
		may = may && b.MayTakeBack(each) && !b.Standing(each, sparing(made))
	}
	dayOK := b.PostingDay("day", r.Day)
	for _, each := range append([]posting.Paper{bank}, made...) {
		dayOK = dayOK && b.NotBefore(each, r.Day)
	}
	if r.Fee < 0 || r.Fee > money.Limit {
		b.Refuse("fee", "below nil", b.Currency().Format(0), "The bank's fee cannot be below nil.")
		may = false
	}
	var own *posting.Paper
	for _, each := range append([]posting.Paper{p}, others(p, bank, made)...) {
		number := ""
		if own == nil {
			number = r.Number
		}
		paper := b.Paper(takingBack(each, posting.Paper{Kind: posting.Returned, Number: number, Day: r.Day, Title: "Returned by the bank: " + each.Number, Reason: strings.TrimSpace(r.Reason)}))
		b.Says("Returned payment " + paper.Number)
		if own == nil {
			own = paper
		}
		if dayOK && may {
			r.post(b, each, made)
			if each.ID == p.ID {
				r.charge(b, bank, p)
			}
		}
	}
	return b.Effect(fmt.Sprintf("%s was returned by the bank, %s", p.Number, own.Number))
}

// moneyOf returns the paper that the money came by, and what was made of it
// where that was not identified then.
func moneyOf(b *builder, p posting.Paper) (bank posting.Paper, made []posting.Paper) {
	bank = p
	for _, i := range b.PaperItems(p.ID) {
		if i.Register != ledger.Unidentified || i.Nature != posting.Closing {
			continue
		}
		for _, a := range b.AllocationsOf(i.ID) {
			if from, ok := b.Look(a.Credit); ok && from.Kind == posting.Unidentified {
				bank, _ = b.Facts.Paper(from.PaperID)
			}
		}
	}
	for _, i := range b.PaperItems(bank.ID) {
		if i.Register != ledger.Unidentified {
			continue
		}
		for _, a := range b.AllocationsOf(i.ID) {
			if out, ok := b.Look(a.Debit); ok && out.Nature == posting.Closing && (out.Kind == posting.Receipt || out.Kind == posting.Deposit) {
				paper, _ := b.Facts.Paper(out.PaperID)
				made = append(made, paper)
			}
		}
	}
	return bank, made
}

// others are the papers that go with p: what else was made of the money, and
// at last what it came by.
func others(p, bank posting.Paper, made []posting.Paper) []posting.Paper {
	var all []posting.Paper
	for _, each := range made {
		if each.ID != p.ID {
			all = append(all, each)
		}
	}
	if bank.ID != p.ID {
		all = append(all, bank)
	}
	return all
}

// sparing spares what stands although the money was taken back, because what
// it took out is owed, and what goes back in the same step.
func sparing(made []posting.Paper) func(posting.Kind, int64) bool {
	return func(k posting.Kind, id int64) bool {
		return k.Stays() || slices.ContainsFunc(made, func(p posting.Paper) bool { return p.ID == id })
	}
}

// post takes one paper back. What spared papers took out of it is owed.
func (r Returned) post(b *builder, p posting.Paper, made []posting.Paper) {
	goesToo := func(k posting.Kind, id int64) bool { return k.Stays() }
	gone, ok := b.TakeBack(p, r.Day, goesToo)
	if !ok || gone.Amount.Own == 0 {
		return
	}
	if p.Kind == posting.Unidentified {
		b.Refuse("paper", "sent back", b.Currency().Format(gone.Amount.Own), "%s of %s was sent back, so the bank cannot have taken it back as well. Reverse that first.", b.Currency().Show(gone.Amount.Own), p.Number)
		return
	}
	b.CreditWorth(b.Role(ledger.OutputTax), gone.Tax, ledger.Line{Currency: p.Currency, PartyID: p.PartyID, JobID: p.JobID, TaxCodeID: b.PaperItems(p.ID)[0].TaxCodeID})
	b.Open(posting.Item{Register: ledger.Receivables, Nature: posting.Beside, PartyID: p.PartyID, JobID: p.JobID, Day: r.Day, Due: r.Day, Currency: p.Currency, Part: posting.Part{Amount: gone.Amount}})
}

// charge enters the bank's fee, which the customer owes where it is passed on.
func (r Returned) charge(b *builder, bank, p posting.Paper) {
	at, ok := b.BankAccount(bank.BankAccountID)
	if !ok || r.Fee <= 0 {
		return
	}
	line := ledger.Line{PartyID: p.PartyID, JobID: p.JobID}
	fee, _ := b.Leaves(at, r.Fee, r.Day, p.Rate, line)
	if r.PassOn && p.PartyID != 0 {
		b.Open(posting.Item{Register: ledger.Receivables, Nature: posting.Beside, PartyID: p.PartyID, JobID: p.JobID, Day: r.Day, Due: r.Day, Currency: at.Currency, Part: posting.Part{Amount: fee}})
		return
	}
	line.Currency = at.Currency
	b.DebitWorth(b.Role(ledger.BankCharges), fee, line)
}
