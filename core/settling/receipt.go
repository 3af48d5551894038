package settling

import (
	"fmt"
	"strings"

	"cleantally/core/day"
	"cleantally/core/ledger"
	"cleantally/core/master"
	"cleantally/core/money"
	"cleantally/core/posting"
)

// Receipt is money from a customer for what is owed: Dr bank (what arrived),
// Dr bank charges (what the bank kept), Dr discount allowed and its tax, Dr tax
// withheld, Cr receivables (their sum). The sum is placed on the customer's
// invoices; what is left goes on account only when someone says so.
type Receipt struct {
	Number        string // "" to be given the next
	PartyID       int64
	JobID         int64 // of what stays on account
	Day           day.Day
	Arrived       money.Amount
	Kept          money.Amount
	Withheld      money.Amount // tax that the customer had to withhold
	BankAccountID int64
	Method        posting.Method
	Reference     string
	Note          string
	Placements    []Placement
	OnAccount     bool // what is not placed stays on account
}

// Placement puts a part of a receipt on an open item.
type Placement struct {
	Debit    posting.ItemRef
	Amount   money.Amount
	Most     bool // as much as is open and left, in place of Amount
	Discount bool // with the early-payment discount
	Rest     Rest
	Reason   string // of a write-off or a dispute
}

// Rest says what becomes of what a placement leaves open.
type Rest string

// What a rest can become.
const (
	StaysOpen    Rest = ""
	IsDifference Rest = "difference" // closed on the spot, within the firm's limit
	IsKeptBack   Rest = "kept back"  // becomes retention
	IsWrittenOff Rest = "write-off"
	IsDisputed   Rest = "disputed"
)

// origin is where the money of a deposit or a receipt comes from: a bank
// account, or money that arrived earlier and was not identified.
type origin struct {
	account ledger.Account
	from    *posting.Item
	bankDay day.Day // counts for discount and interest
}

// Plan returns the effect of recording the receipt.
func (r Receipt) Plan(f posting.Facts) (posting.Effect, error) {
	b := posting.Build(f)
	bank, ok := b.Bank("bank", r.BankAccountID)
	b.Method("method", r.Method)
	return b.Effect(r.plan(b, origin{account: bank, bankDay: r.Day}, ok))
}

// plan adds the receipt to what is being built and returns its summary.
func (r Receipt) plan(b *posting.Builder, o origin, originOK bool) string {
	sum := r.Arrived + r.Kept + r.Withheld
	dayOK := b.PostingDay("day", r.Day)
	party, partyOK := b.Customer("party", r.PartyID)
	jobOK := b.JobOf("job", r.JobID, r.PartyID)
	amountOK := b.AmountAboveNil("arrived", r.Arrived, "what arrived")
	if r.Kept < 0 || r.Kept > money.Limit || r.Withheld < 0 || r.Withheld > money.Limit {
		b.Refuse("kept", "below nil", b.Currency().Format(0), "What the bank kept and the tax withheld cannot be below nil.")
		amountOK = false
	}
	b.PaidTwice(r.PartyID, r.Reference, sum, r.Day)
	p := b.Paper(posting.Paper{
		Kind: posting.Receipt, Number: r.Number, Day: r.Day, PartyID: r.PartyID, PartyName: party.Name, PartyAddress: party.Address, JobID: r.JobID, Title: r.title(),
		Reference: r.Reference, Note: r.Note, BankAccountID: r.BankAccountID, Method: r.Method, Total: sum, Kept: r.Kept, Withheld: r.Withheld, BankDay: o.bankDay,
	})
	if dayOK && partyOK && jobOK && amountOK && originOK {
		pl := placing{Builder: b, receipt: r, party: party, origin: o, paper: p}
		pl.place(sum)
	}
	return fmt.Sprintf("Recorded receipt %s from %s, %s", p.Number, party.Name, b.Currency().Show(sum))
}

func (r Receipt) title() string {
	if len(r.Placements) == 0 {
		return "Receipt on account"
	}
	return "Receipt"
}

// placing is a receipt while it is being placed.
type placing struct {
	*posting.Builder
	receipt  Receipt
	party    master.Party
	origin   origin
	paper    *posting.Paper
	own      posting.ItemRef // the money
	withheld posting.ItemRef // the tax withheld, 0 for none
	entry    ledger.Entry
	kept     ledger.Entry // what the customer kept back
	offs     []WriteOff
}

// place sets the receipt against what it is placed on and refuses a rest that
// nobody has put on account.
func (p *placing) place(sum money.Amount) {
	r, c := p.receipt, p.Currency()
	at := ledger.Line{PartyID: r.PartyID, JobID: r.JobID}
	p.entry = ledger.Entry{Day: r.Day, Text: "Receipt " + p.paper.Number}
	p.kept = ledger.Entry{Day: r.Day, Text: "Kept back on receipt " + p.paper.Number}
	p.entry.Debit(p.origin.account, r.Arrived, p.origin.at(at))
	p.entry.Debit(p.Role(ledger.BankCharges), r.Kept, at)
	p.entry.Debit(p.Role(ledger.TaxWithheld), r.Withheld, at)
	p.own = p.Open(posting.Item{Register: ledger.Receivables, PartyID: r.PartyID, JobID: r.JobID, Day: r.Day, Amount: -(sum - r.Withheld)})
	if r.Withheld > 0 {
		p.withheld = p.Open(posting.Item{Register: ledger.Receivables, Nature: posting.OfWithheld, PartyID: r.PartyID, JobID: r.JobID, Day: r.Day, Amount: -r.Withheld})
	}
	p.origin.close(p.Builder, "arrived", r.Arrived, r.Day)
	left := sum
	for i, pl := range r.Placements {
		field := fmt.Sprintf("placements[%d].", i)
		if pl.Amount > left {
			p.Refuse(field+"amount", "more than arrived", c.Format(left), "Only %s of this receipt is left to place, not %s. Place %s or less.", c.Show(left), c.Show(pl.Amount), c.Show(left))
			break
		}
		left -= p.one(field, pl, left)
	}
	p.entry.Credit(p.Role(ledger.Receivables), -total(p.entry, -1), at)
	p.Enter(p.entry)
	p.Enter(p.kept)
	if left > 0 && !r.OnAccount && !p.Refused() {
		p.Refuse("onAccount", "not placed", c.Format(left), "%s of this receipt is not placed. Place it on an invoice, or say that it stays on account.", c.Show(left))
	}
	if p.withheld != 0 {
		if i, _ := p.Look(p.withheld); p.OpenFrom(i, r.Day) > 0 && !p.Refused() {
			p.Refuse("withheld", "not placed", c.Format(r.Withheld), "The tax withheld of %s was taken off an invoice. Place it there: it is no money that could stay on account.", c.Show(r.Withheld))
		}
	}
	for i, off := range p.offs {
		off.plan(p.Builder, fmt.Sprintf("placements[%d].", i))
	}
}

// total is the sum of an entry's lines, times sign.
func total(e ledger.Entry, sign money.Amount) money.Amount {
	var sum money.Amount
	for _, l := range e.Lines {
		sum += l.Amount
	}
	return sign * sum
}

// at is what the origin's line bears: money that was not identified belongs to
// nobody yet.
func (o origin) at(line ledger.Line) ledger.Line {
	if o.from != nil {
		return ledger.Line{}
	}
	return line
}

// close takes an amount out of money that was not identified.
func (o origin) close(b *posting.Builder, field string, amount money.Amount, d day.Day) {
	if o.from == nil {
		return
	}
	out := b.Open(posting.Item{Register: ledger.Unidentified, Nature: posting.Closing, Day: d, Amount: amount})
	b.Allocate(field, out, o.from.ID, amount, d)
}

// one puts one placement on its item, with what goes along, and returns how
// much of the receipt it took.
func (p *placing) one(field string, pl Placement, left money.Amount) money.Amount {
	di, ok := p.Look(pl.Debit)
	if ok && di.Register == ledger.Retention {
		di, ok = p.release(field, di, pl, left)
		pl.Debit = di.ID
	}
	discount := money.Amount(0)
	if ok && pl.Discount {
		discount = p.earned(field, di)
	}
	if pl.Most {
		pl.Amount = min(max(p.OpenFrom(di, p.receipt.Day)-discount, 0), left)
		if pl.Amount == 0 {
			p.AllocateMost(field+"amount", pl.Debit, p.own, p.receipt.Day) // says why
			return 0
		}
	}
	if !p.allocate(field+"amount", pl.Debit, pl.Amount) {
		return 0
	}
	if discount > 0 {
		p.discount(field, di, discount)
	}
	if rest := p.OpenFrom(di, p.receipt.Day); rest > 0 {
		p.rest(field, di, pl, rest)
	}
	return pl.Amount
}

// allocate takes the tax withheld first, for it cannot stay on account.
func (p *placing) allocate(field string, debit posting.ItemRef, amount money.Amount) bool {
	if p.withheld != 0 && amount > 0 {
		if take := min(p.Most(debit, p.withheld, p.receipt.Day), amount); take > 0 {
			if !p.Allocate(field, debit, p.withheld, take, p.receipt.Day) {
				return false
			}
			if amount -= take; amount == 0 {
				return true
			}
		}
	}
	return p.Allocate(field, debit, p.own, amount, p.receipt.Day)
}

// goesWith settles a part of an item by something other than money and
// returns the line on receivables that it makes.
func (p *placing) goesWith(field string, di posting.Item, nature posting.Nature, amount money.Amount) posting.ItemRef {
	ref := p.Open(posting.Item{Register: ledger.Receivables, Nature: nature, PartyID: p.receipt.PartyID, JobID: p.receipt.JobID, Day: p.receipt.Day, Amount: -amount})
	p.Allocate(field, di.ID, ref, amount, p.receipt.Day)
	return ref
}

// rest does what was said of what stays open.
func (p *placing) rest(field string, di posting.Item, pl Placement, rest money.Amount) {
	c := p.Currency()
	switch pl.Rest {
	case StaysOpen:
	case IsDifference:
		if limit := p.Limits().Difference; rest > limit {
			p.Refuse(field+"rest", "beyond the limit", c.Format(limit), "%s of %s stays open. A difference is closed on the spot up to %s. Leave it open, dispute it or write it off.", c.Show(rest), di.Number, c.Show(limit))
			return
		}
		ref := p.goesWith(field+"rest", di, posting.OfDifference, rest)
		p.entry.Debit(p.Role(ledger.Rounding), rest, ledger.Line{PartyID: p.receipt.PartyID, JobID: di.JobID, ItemID: int64(ref)})
	case IsKeptBack:
		ref := p.goesWith(field+"rest", di, posting.OfKeptBack, rest)
		at := ledger.Line{PartyID: p.receipt.PartyID, JobID: di.JobID}
		p.kept.Debit(p.Role(ledger.Retention), rest, ledger.Line{PartyID: at.PartyID, JobID: at.JobID, ItemID: int64(ref)})
		p.kept.Credit(p.Role(ledger.Receivables), rest, at)
		p.Open(posting.Item{Register: ledger.Retention, Nature: posting.Beside, PartyID: p.receipt.PartyID, JobID: di.JobID, Day: p.receipt.Day, Amount: rest})
	case IsWrittenOff:
		p.offs = append(p.offs, WriteOff{Day: p.receipt.Day, Reason: pl.Reason, Relief: p.Limits().Relief, Items: []Share{{Item: di.ID, Amount: rest}}})
	case IsDisputed:
		if strings.TrimSpace(pl.Reason) == "" {
			p.Refuse(field+"reason", "missing", "", "Say why %s of %s is disputed.", c.Show(rest), di.Number)
		}
		p.Dispute(posting.Dispute{Item: di.ID, Day: p.receipt.Day, Reason: strings.TrimSpace(pl.Reason)})
	default:
		p.Refuse(field+"rest", "missing", "", "What stays open is left open, a difference, kept back, a write-off or disputed.")
	}
}

// release makes retention payable that the customer has paid: Dr receivables,
// Cr retention. It returns the new item, which is then settled like another.
func (p *placing) release(field string, kept posting.Item, pl Placement, left money.Amount) (posting.Item, bool) {
	amount := pl.Amount
	if pl.Most {
		amount = min(p.OpenFrom(kept, p.receipt.Day), left)
	}
	if !p.AmountAboveNil(field+"amount", amount, "what is released of "+kept.Number) || !p.Within(field+"amount", kept, amount, p.receipt.Day) {
		return kept, false
	}
	at := ledger.Line{PartyID: kept.PartyID, JobID: kept.JobID}
	e := ledger.Entry{Day: p.receipt.Day, Text: "Release of what " + kept.Number + " kept back"}
	e.Debit(p.Role(ledger.Receivables), amount, at)
	e.Credit(p.Role(ledger.Retention), amount, at)
	p.Enter(e)
	out := p.Open(posting.Item{Register: ledger.Retention, Nature: posting.Closing, PartyID: kept.PartyID, JobID: kept.JobID, Day: p.receipt.Day, Amount: -amount})
	p.Allocate(field+"amount", kept.ID, out, amount, p.receipt.Day)
	ref := p.Open(posting.Item{Register: ledger.Receivables, Nature: posting.Beside, PartyID: kept.PartyID, JobID: kept.JobID, Day: p.receipt.Day, Due: p.receipt.Day, Amount: amount})
	return p.Look(ref)
}
