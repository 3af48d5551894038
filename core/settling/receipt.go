package settling

import (
	"fmt"
	"strings"

	"cleantally/core/billing"
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
	Charges       money.Amount // what the bank kept
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
	IsRetained   Rest = "kept back"  // becomes retention
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
	b := build(f)
	bank, ok := b.Bank("bank", r.BankAccountID)
	b.Method("method", r.Method)
	return b.Effect(r.plan(b, origin{account: bank, bankDay: r.Day}, ok))
}

// plan adds the receipt to what is being built and returns its summary.
func (r Receipt) plan(b *builder, o origin, originOK bool) string {
	sum := r.Arrived + r.Charges + r.Withheld
	dayOK := b.PostingDay("day", r.Day)
	party, partyOK := b.Customer("party", r.PartyID)
	jobOK := b.JobOf("job", r.JobID, r.PartyID)
	amountOK := b.AmountAboveNil("arrived", r.Arrived, "what arrived")
	if r.Charges < 0 || r.Charges > money.Limit || r.Withheld < 0 || r.Withheld > money.Limit {
		b.Refuse("charges", "below nil", b.Currency().Format(0), "What the bank kept and the tax withheld cannot be below nil.")
		amountOK = false
	}
	amountOK = amountOK && b.AmountAboveNil("arrived", sum, "what arrived and what was kept of it")
	b.PaidTwice(r.PartyID, r.Reference, sum, r.Day)
	p := b.Paper(posting.Paper{
		Kind: posting.Receipt, Number: r.Number, Day: r.Day, PartyID: r.PartyID, PartyName: party.Name, PartyAddress: party.Printed(), JobID: r.JobID, Title: r.title(),
		Reference: r.Reference, Note: r.Note, Total: sum,
		Payment: posting.Payment{BankAccountID: r.BankAccountID, Method: r.Method, Charges: r.Charges, Withheld: r.Withheld, BankDay: o.bankDay},
	})
	if dayOK && partyOK && jobOK && amountOK && originOK {
		pl := placing{builder: b, receipt: r, party: party, origin: o, paper: p}
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
	*builder
	receipt  Receipt
	party    master.Party
	origin   origin
	paper    *posting.Paper
	own      posting.ItemRef // the money
	withheld money.Amount    // the tax withheld that is not placed yet
	offs     []offered
}

// offered is a write-off of what a placement leaves open.
type offered struct {
	field string
	WriteOff
}

// place sets the receipt against what it is placed on and refuses a rest that
// nobody has put on account.
func (p *placing) place(sum money.Amount) {
	r, c := p.receipt, p.Currency()
	at := ledger.Line{PartyID: r.PartyID, JobID: r.JobID}
	p.own = p.Open(posting.Item{Register: ledger.Receivables, PartyID: r.PartyID, JobID: r.JobID, Day: r.Day, Part: posting.Of(-(sum - r.Withheld), 0)})
	p.origin.receive(p.builder, "arrived", r.Arrived, at, r.Day)
	p.Debit(p.Role(ledger.BankCharges), r.Charges, at)
	p.withheld = r.Withheld
	left := sum
	refs := make([]posting.ItemRef, len(r.Placements))
	for i, pl := range r.Placements {
		refs[i] = pl.Debit
	}
	p.KnowItems(refs)
	for i, pl := range r.Placements {
		field := fmt.Sprintf("placements[%d].", i)
		if pl.Amount > left {
			p.Refuse(field+"amount", "more than arrived", c.Format(left), "Only %s of this receipt is left to place, not %s. Place %s or less.", c.Show(left), c.Show(pl.Amount), c.Show(left))
			break
		}
		left -= p.one(field, pl, left)
	}
	if left > 0 && !r.OnAccount && !p.Refused() {
		p.Refuse("onAccount", "not placed", c.Format(left), "%s of this receipt is set against nothing. Set it against an invoice, or say that it stays on account.", c.Show(left))
	}
	if p.withheld > 0 && !p.Refused() {
		p.Refuse("withheld", "not placed", c.Format(r.Withheld), "The tax withheld of %s was taken off an invoice. Set it against that: it is no money that could stay on account.", c.Show(r.Withheld))
	}
	for _, off := range p.offs {
		off.plan(p.builder, off.field)
	}
}

// receive enters what arrived: on the bank account, or out of the money that
// was not identified, which belongs to nobody yet.
func (o origin) receive(b *builder, field string, amount money.Amount, at ledger.Line, d day.Day) {
	if o.from == nil {
		b.Debit(o.account, amount, at)
		return
	}
	out := b.Open(posting.Item{Register: ledger.Unidentified, Nature: posting.Closing, Day: d, Part: posting.Of(amount, 0)})
	b.Allocate(field, out, o.from.ID, amount, d)
}

// one puts one placement on its item, with what goes along, and returns how
// much of the receipt it took.
func (p *placing) one(field string, pl Placement, left money.Amount) money.Amount {
	di, ok := p.Look(pl.Debit)
	if ok && di.Register == ledger.Retention {
		if di, ok = p.release(field, di, pl, left); !ok {
			return 0
		}
	}
	discount := money.Amount(0)
	if !ok {
		p.Refuse(field+"amount", "missing", "", "Choose what is owed, or kept back.")
		return 0
	}
	if pl.Discount {
		discount = p.earned(field, di)
	}
	if pl.Most {
		pl.Amount = min(max(p.OpenFrom(di, p.receipt.Day)-discount, 0), left)
		if pl.Amount == 0 {
			p.AllocateMost(field+"amount", di.ID, p.own, p.receipt.Day) // says why
			return 0
		}
	}
	if !p.allocate(field+"amount", di, pl.Amount) {
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

// allocate takes the tax withheld first, for it cannot stay on account. What is
// taken of it on an item goes with the placement there.
func (p *placing) allocate(field string, di posting.Item, amount money.Amount) bool {
	if take := min(p.withheld, p.OpenFrom(di, p.receipt.Day), amount); take > 0 {
		ref := p.goesWith(field, di, posting.OfWithheld, take)
		p.withheld -= take
		p.Debit(p.Role(ledger.TaxWithheld), take, ledger.Line{PartyID: p.receipt.PartyID, JobID: p.receipt.JobID, ItemID: int64(ref)})
		if amount -= take; amount == 0 {
			return true
		}
	}
	return p.Allocate(field, di.ID, p.own, amount, p.receipt.Day)
}

// goesWith settles a part of an item by something other than money and
// returns the item that it makes.
func (p *placing) goesWith(field string, di posting.Item, nature posting.Nature, amount money.Amount) posting.ItemRef {
	inside := p.insideOf(di, nature, amount)
	ref := p.Open(posting.Item{Register: ledger.Receivables, Nature: nature, PartyID: p.receipt.PartyID, JobID: p.receipt.JobID, Day: p.receipt.Day, Part: posting.Of(-amount, -inside), TaxCodeID: di.TaxCodeID})
	p.Allocate(field, di.ID, ref, amount, p.receipt.Day)
	return ref
}

// insideOf is the tax inside that is not due yet and goes along without falling
// due: with a discount it is never owed, with what is kept back it waits on.
func (p *placing) insideOf(di posting.Item, nature posting.Nature, amount money.Amount) money.Amount {
	if nature == posting.OfDiscount || nature == posting.OfRetention {
		return p.TaxInside(di, amount, p.receipt.Day)
	}
	return 0
}

// rest does what was said of what stays open.
func (p *placing) rest(field string, di posting.Item, pl Placement, rest money.Amount) {
	c := p.Currency()
	switch pl.Rest {
	case StaysOpen:
	case IsDifference:
		if !p.small(field+"rest", "beyond the limit", di, rest, "%s of %s stays open. A difference is closed on the spot up to %s of one invoice in all. Leave it open, dispute it or write it off.") {
			return
		}
		ref := p.goesWith(field+"rest", di, posting.OfDifference, rest)
		p.Debit(p.Role(ledger.Rounding), rest, ledger.Line{PartyID: p.receipt.PartyID, JobID: jobOf(p.Facts, di, p.receipt.PartyID), ItemID: int64(ref)})
	case IsRetained:
		if job, ok := p.Job(di.JobID); ok {
			if left := billing.CapLeft(p.Facts, job); rest > left {
				p.Warn(field+"rest", "past the cap", c.Format(left), "Only %s more is to be kept back of job %s, not %s: its cap is reached.", c.Show(left), job.Number, c.Show(rest))
			}
		}
		p.Apart("Kept back on receipt "+p.paper.Number, func() {
			inside := p.insideOf(di, posting.OfRetention, rest)
			p.goesWith(field+"rest", di, posting.OfRetention, rest)
			p.Open(posting.Item{Register: ledger.Retention, Nature: posting.Beside, Bills: di.Bills, PartyID: p.receipt.PartyID, JobID: di.JobID, Day: p.receipt.Day, Part: posting.Of(rest, inside), TaxCodeID: di.TaxCodeID})
		})
	case IsWrittenOff:
		p.offs = append(p.offs, offered{field, WriteOff{Day: p.receipt.Day, Reason: pl.Reason, Relief: p.Limits().Relief, Items: []Share{{Item: di.ID, Amount: rest}}}})
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
// Cr retention, and Dr deferred tax, Cr output tax for its portion. It returns
// the new item, which is then settled like another.
func (p *placing) release(field string, kept posting.Item, pl Placement, left money.Amount) (posting.Item, bool) {
	amount := pl.Amount
	if pl.Most {
		amount = min(p.OpenFrom(kept, p.receipt.Day), left)
	}
	if kept.PartyID != p.receipt.PartyID {
		owner, _ := p.Party(kept.PartyID)
		p.Refuse(field+"amount", "another customer's credit", "", "%s was kept back by %s. Choose what this customer keeps back.", kept.Number, owner.Name)
		return kept, false
	}
	if !p.AmountAboveNil(field+"amount", amount, "what is released of "+kept.Number) || !p.Within(field+"amount", kept, amount, p.receipt.Day) {
		return kept, false
	}
	var ref posting.ItemRef
	p.Apart("Release of what "+kept.Number+" kept back", func() {
		owed, code := releaseOut(p.builder, field+"amount", kept, amount, p.receipt.Day)
		ref = p.Open(posting.Item{Register: ledger.Receivables, Nature: posting.Beside, Bills: kept.Bills, PartyID: kept.PartyID, JobID: kept.JobID, Day: p.receipt.Day, Due: p.receipt.Day, Part: owed, TaxCodeID: code})
	})
	return p.Look(ref)
}
