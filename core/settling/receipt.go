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

	"github.com/shopspring/decimal"
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
	Rate          decimal.Decimal // of a bank account in another currency; nil for that of the day
	Arrived       money.Amount    // in the bank account's currency, as all else but what is placed on an item of another
	Charges       money.Amount    // what the bank kept
	Withheld      money.Amount    // tax that the customer had to withhold
	BankAccountID int64
	Method        posting.Method
	Reference     string
	Note          string
	Differences   []Difference // between what arrived and what was paid
	Placements    []Placement
	OnAccount     bool // what is not placed stays on account
}

// Placement puts a part of a receipt on an open item.
type Placement struct {
	Debit    posting.ItemRef
	Amount   money.Amount // in the item's currency
	Takes    money.Amount // of the receipt, in its own, for an item in another currency
	Most     bool         // as much as is open and left, in place of Amount
	Discount bool         // with the early-payment discount
	Rest     Rest
	Reason   string // of a write-off or a dispute
}

// Difference is what somebody took off, or added, on the way: a portal's
// commission, a fine. Above nil it is a debit of its account, below nil a credit.
type Difference struct {
	AccountID int64
	Text      string
	Amount    money.Amount
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
	bankID  int64
	from    *posting.Item
	bankDay day.Day // counts for discount and interest
}

// Plan returns the effect of recording the receipt.
func (r Receipt) Plan(f posting.Facts) (posting.Effect, error) {
	b := build(f)
	_, ok := b.Bank("bank", r.BankAccountID)
	b.Method("method", r.Method)
	return b.Effect(r.plan(b, origin{bankID: r.BankAccountID, bankDay: r.Day}, ok))
}

// plan adds the receipt to what is being built and returns its summary.
func (r Receipt) plan(b *builder, o origin, originOK bool) string {
	dayOK := b.PostingDay("day", r.Day)
	own := ""
	dayOK = o.in(b, &own, 0, 0, r.Rate, r.Day) && dayOK
	sum := r.Arrived + r.Charges + r.Withheld + r.differences(b)
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
		Reference: r.Reference, Note: r.Note, Total: sum, Lines: r.lines(b),
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
	own      posting.ItemRef         // the money
	others   map[int]posting.ItemRef // what of it pays for an item in another currency, by placement
	foreign  bool                    // some is
	withheld money.Amount            // the tax withheld that is not placed yet
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
	refs := make([]posting.ItemRef, len(r.Placements))
	for i, pl := range r.Placements {
		refs[i] = pl.Debit
	}
	p.KnowItems(refs)
	worth := p.origin.receive(p.builder, "arrived", r.Arrived, 0, at, r.Day)
	charges := p.At(r.Charges)
	p.DebitWorth(p.Role(ledger.BankCharges), charges, at)
	worth = worth.Add(charges)
	for _, d := range r.Differences {
		off := p.At(d.Amount)
		p.DebitWorth(ledger.Account{ID: d.AccountID}, off, at)
		worth = worth.Add(off)
	}
	p.paper.Base = worth.Base + p.At(r.Withheld).Base
	worth = p.across(worth)
	if worth.Own > 0 {
		p.own = p.Open(posting.Item{Register: ledger.Receivables, PartyID: r.PartyID, JobID: r.JobID, Day: r.Day, Currency: p.Code(), Part: posting.Part{Amount: worth.Neg()}})
	}
	if p.Code() != "" || p.foreign {
		p.ExchangeRest(at)
	}
	p.withheld = r.Withheld
	left := sum
	for i, pl := range r.Placements {
		field := fmt.Sprintf("placements[%d].", i)
		if takes, another := p.another(pl); another {
			if takes > left {
				p.Refuse(field+"takes", "more than arrived", c.Format(left), "Only %s of this receipt is left to place, not %s. Place %s or less.", c.Show(left), c.Show(takes), c.Show(left))
				break
			}
			p.settleAnother(field, i, pl)
			left -= takes
			continue
		}
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
// It answers what that is worth.
func (o origin) receive(b *builder, field string, amount, atBank money.Amount, at ledger.Line, d day.Day) posting.Worth {
	if o.from == nil {
		return b.payIn(field, o.bankID, amount, atBank, d, at)
	}
	taken := amount
	if o.from.Currency != b.Code() {
		taken = atBank
	}
	gone := b.Taken(*o.from, taken, d)
	out := b.Open(posting.Item{Register: ledger.Unidentified, Nature: posting.Closing, Day: d, Currency: o.from.Currency, Part: gone})
	b.Allocate(field, out, o.from.ID, taken, d)
	return posting.Worth{Own: amount, Base: gone.Amount.Base}
}

// in says in which currency what comes of the money is: where none is named,
// that of the bank account, or of what was not identified.
func (o origin) in(b *builder, code *string, amount, atBank money.Amount, rate decimal.Decimal, d day.Day) bool {
	own := ""
	if bank, ok := b.BankAccount(o.bankID); ok {
		own = bank.Currency
	}
	if o.from != nil {
		own = o.from.Currency
	}
	if *code == "" {
		*code = own
	}
	if *code == b.Facts.Currency().Code {
		*code = ""
	}
	if o.from != nil && *code == own {
		b.LikeItem(*o.from)
		return true
	}
	if *code != own && amount > 0 && rate.IsZero() { // both amounts say it
		if w, ok := b.WorthAt(own, atBank, d, rate); ok && w.Base > 0 {
			rate = posting.RateOf(b.Facts, *code, posting.Worth{Own: amount, Base: w.Base})
		}
	}
	return b.In(*code, rate, d)
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
	if p.own == 0 && p.withheld == 0 {
		p.Refuse(field+"amount", "more than arrived", p.Currency().Format(0), "Nothing of this receipt is left to place.")
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
		i, _ := p.Look(ref)
		p.CreditWorth(p.Role(ledger.TaxWithheld), i.Amount, ledger.Line{Currency: i.Currency, PartyID: p.receipt.PartyID, JobID: p.receipt.JobID, ItemID: int64(ref)})
		if amount -= take; amount == 0 {
			return true
		}
	}
	return p.Allocate(field, di.ID, p.own, amount, p.receipt.Day)
}

// goesWith settles a part of an item by something other than money and
// returns the item that it makes.
func (p *placing) goesWith(field string, di posting.Item, nature posting.Nature, amount money.Amount) posting.ItemRef {
	gone := p.insideOf(di, nature, amount)
	ref := p.Open(posting.Item{Register: ledger.Receivables, Nature: nature, PartyID: p.receipt.PartyID, JobID: p.receipt.JobID, Day: p.receipt.Day, Currency: di.Currency, Part: gone.Neg(), TaxCodeID: di.TaxCodeID})
	p.Allocate(field, di.ID, ref, amount, p.receipt.Day)
	return ref
}

// insideOf is what goes along with an amount of an item, and the tax inside that
// is not due yet and goes along without falling due: with a discount it is never
// owed, with what is kept back it waits on.
func (p *placing) insideOf(di posting.Item, nature posting.Nature, amount money.Amount) posting.Part {
	gone := p.Taken(di, amount, p.receipt.Day)
	if nature != posting.OfDiscount && nature != posting.OfRetention {
		gone.Tax = posting.Worth{}
	}
	return gone
}

// rest does what was said of what stays open.
func (p *placing) rest(field string, di posting.Item, pl Placement, rest money.Amount) {
	c := posting.CurrencyOf(p.Facts, di.Currency)
	switch pl.Rest {
	case StaysOpen:
	case IsDifference:
		if !p.small(field+"rest", "beyond the limit", di, rest, "%s of %s stays open. A difference is closed on the spot up to %s of one invoice in all. Leave it open, dispute it or write it off.") {
			return
		}
		ref := p.goesWith(field+"rest", di, posting.OfDifference, rest)
		i, _ := p.Look(ref)
		p.CreditWorth(p.Role(ledger.Rounding), i.Amount, ledger.Line{Currency: i.Currency, PartyID: p.receipt.PartyID, JobID: jobOf(p.Facts, di, p.receipt.PartyID), ItemID: int64(ref)})
	case IsRetained:
		if job, ok := p.Job(di.JobID); ok {
			firm := p.Facts.Currency()
			if left, kept := billing.CapLeft(p.Facts, job), p.Taken(di, rest, p.receipt.Day).Amount.Base; kept > left {
				p.Warn(field+"rest", "past the cap", firm.Format(left), "Only %s more is to be kept back of job %s, not %s: its cap is reached.", firm.Show(left), job.Number, firm.Show(kept))
			}
		}
		p.Apart("Kept back on receipt "+p.paper.Number, func() {
			gone := p.insideOf(di, posting.OfRetention, rest)
			p.goesWith(field+"rest", di, posting.OfRetention, rest)
			p.Open(posting.Item{Register: ledger.Retention, Nature: posting.Beside, Bills: di.Bills, PartyID: p.receipt.PartyID, JobID: di.JobID, Day: p.receipt.Day, Currency: di.Currency, Part: gone, TaxCodeID: di.TaxCodeID})
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
		ref = p.Open(posting.Item{Register: ledger.Receivables, Nature: posting.Beside, Bills: kept.Bills, PartyID: kept.PartyID, JobID: kept.JobID, Day: p.receipt.Day, Due: p.receipt.Day, Currency: kept.Currency, Part: owed, TaxCodeID: code})
	})
	return p.Look(ref)
}
