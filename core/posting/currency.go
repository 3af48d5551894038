package posting

import (
	"cleantally/core/day"
	"cleantally/core/ledger"
	"cleantally/core/money"

	"github.com/shopspring/decimal"
)

// Rate is what one unit of a currency is worth on a day, in the firm's.
type Rate struct {
	Currency string
	Day      day.Day
	Rate     decimal.Decimal
}

// RateLimit is what a rate stays below; a rate has at most RatePlaces places.
const (
	RateLimit  = 1_000_000_000
	RatePlaces = 8
)

// RateFits tells whether a rate is above nil, below RateLimit and has no more
// places than a rate may have.
func RateFits(r decimal.Decimal) bool {
	return r.IsPositive() && r.LessThan(decimal.NewFromInt(RateLimit)) && money.Fits(r, RatePlaces)
}

// CurrencyOf is a currency as people of the firm read it; "" is the firm's own.
func CurrencyOf(f Facts, code string) money.Currency {
	return f.Currency().In(code)
}

// inHand is the currency of the papers that are being planned.
type inHand struct {
	currency money.Currency
	rate     decimal.Decimal // the firm's currency for one unit; nil in the firm's own
}

// Currency is that of the papers which are being planned: the firm's, unless In
// or Like said another.
func (b *Builder) Currency() money.Currency {
	if b.in.currency.Code != "" {
		return b.in.currency
	}
	return b.Facts.Currency()
}

// Code is the currency of the papers that are being planned; "" for the firm's.
func (b *Builder) Code() string { return b.in.currency.Code }

// In says in which currency the papers are that follow, "" for the firm's own,
// and at which rate: nil for that of the day, the newest that is not after it
// (docs/rules.md, part 8).
func (b *Builder) In(code string, rate decimal.Decimal, d day.Day) bool {
	b.in = inHand{}
	if code == "" || code == b.Facts.Currency().Code {
		return true
	}
	c, err := money.CurrencyOf(code)
	if err != nil {
		b.Refuse("currency", "no such currency", "", "%s.", Sentence(err.Error()))
		return false
	}
	if !b.CurrencyUsed(code) {
		b.Refuse("currency", "not in use", code, "The currency %s is not in use. Take it into use in the setup first.", code)
		return false
	}
	c.Marks = b.Facts.Currency().Marks
	b.in.currency = c
	if rate.IsZero() {
		known, ok := b.RateOn(code, d)
		if !ok {
			b.Refuse("rate", "no rate", "", "There is no rate of %s on %s or before. Say what one %s is worth in %s.", code, d.Show(), code, b.Facts.Currency().Code)
			return false
		}
		rate = known.Rate
	}
	b.in.rate = rate
	if !RateFits(rate) {
		b.Refuse("rate", "out of bounds", "", "A rate is above nil, below %d, and has at most %d places: what one %s is worth in %s.", RateLimit, RatePlaces, code, b.Facts.Currency().Code)
		return false
	}
	return true
}

// Like says that the papers that follow are in the currency of something that is
// there, at the rate at which it was posted: a credit note takes its invoice's.
func (b *Builder) Like(code string, rate decimal.Decimal) {
	b.in = inHand{}
	if code != "" {
		b.in = inHand{CurrencyOf(b.Facts, code), rate}
	}
}

// LikeItem is Like for what was posted as an item.
func (b *Builder) LikeItem(i Item) { b.Like(i.Currency, RateOf(b.Facts, i.Currency, i.Amount)) }

// RateOf is the rate at which an amount was taken into the books.
func RateOf(f Facts, code string, w Worth) decimal.Decimal {
	if code == "" || w.Own == 0 {
		return decimal.Zero
	}
	own, base := CurrencyOf(f, code).Decimal(w.Own), f.Currency().Decimal(w.Base)
	return base.DivRound(own, RatePlaces).Abs()
}

// At is an amount of the papers that are being planned, and what it is worth at
// their rate, rounded once.
func (b *Builder) At(own money.Amount) Worth {
	if b.in.currency.Code == "" {
		return Firm(own)
	}
	return Worth{own, Exchanged(b.Facts, b.in.currency, own, b.in.rate)}
}

// Outside is an amount of the firm's currency in that of the papers which are
// being planned, at their rate.
func (b *Builder) Outside(base money.Amount) money.Amount {
	if b.Code() == "" || b.in.rate.IsZero() {
		return base
	}
	c := b.in.currency
	return c.Round(b.Facts.Currency().Decimal(base).DivRound(b.in.rate, c.Places+4))
}

// OneCurrency refuses a paper that is taken from in another currency than that
// of what takes it.
func (b *Builder) OneCurrency(field string, p Paper, taken string) bool {
	if p.Currency == b.Code() {
		return true
	}
	b.Refuse(field, "another currency", CurrencyOf(b.Facts, p.Currency).Code, "%s is in %s, so it is %s by a paper in %s, not in %s.", p.Number, CurrencyOf(b.Facts, p.Currency).Code, taken, CurrencyOf(b.Facts, p.Currency).Code, b.Currency().Code)
	return false
}

// Exchanged is what an amount of a currency comes to in the firm's at a rate.
func Exchanged(f Facts, c money.Currency, own money.Amount, rate decimal.Decimal) money.Amount {
	return f.Currency().Round(c.Decimal(own).Mul(rate))
}

// ofPaper is an amount of a paper that is there, at its rate.
func (b *Builder) ofPaper(p Paper, own money.Amount) Worth {
	if p.Currency == "" {
		return Firm(own)
	}
	return Worth{own, Exchanged(b.Facts, CurrencyOf(b.Facts, p.Currency), own, p.Rate)}
}

// Taken is what goes along when an amount of an item is used up on a day: its
// portion of the tax inside and of the base values.
func (b *Builder) Taken(i Item, amount money.Amount, d day.Day) Part {
	return b.LeftFrom(i, d).Take(amount)
}

// DebitWorth enters a debit in the currency of what is being planned, or in that
// which at bears; see Debit.
func (b *Builder) DebitWorth(account ledger.Account, w Worth, at ledger.Line) {
	if at.Currency == "" {
		at.Currency = b.Code()
	}
	if at.Currency != "" {
		at.Own = w.Own
	}
	b.Debit(account, w.Base, at)
}

// CreditWorth enters a credit the same way.
func (b *Builder) CreditWorth(account ledger.Account, w Worth, at ledger.Line) {
	b.DebitWorth(account, w.Neg(), at)
}

// ExchangeRest closes the entry that is being written by what it does not
// balance by: the difference of what was cleared at other rates.
func (b *Builder) ExchangeRest(at ledger.Line) {
	at.AccountID, at.Amount, at.Currency, at.Own = b.Role(ledger.Exchange).ID, -b.Balance(), "", 0
	b.enter(at)
}

// Arrives enters money that arrives on a bank account, in that account's
// currency, at the rate that is said of it, nil for that of the day, and answers
// what it is worth.
func (b *Builder) Arrives(bank ledger.BankAccount, own money.Amount, d day.Day, rate decimal.Decimal, at ledger.Line) (Worth, bool) {
	w, ok := b.WorthAt(bank.Currency, own, d, rate)
	account, _ := b.Account(bank.AccountID)
	at.Currency = bank.Currency
	b.enterBank(account, w, at)
	return w, ok
}

func (b *Builder) enterBank(account ledger.Account, w Worth, at ledger.Line) {
	if at.AccountID, at.Amount = account.ID, w.Base; at.Currency != "" {
		at.Own = w.Own
	}
	b.enter(at)
}

// WorthAt is what an amount of a currency is worth on a day, at a rate that is
// said, nil for that of the day.
func (b *Builder) WorthAt(code string, own money.Amount, d day.Day, rate decimal.Decimal) (Worth, bool) {
	if code == "" {
		return Firm(own), true
	}
	before := b.in
	defer func() { b.in = before }()
	if !b.In(code, rate, d) {
		return Worth{Own: own}, false
	}
	return b.At(own), true
}

// Leaves enters money that leaves a bank account, in that account's currency, by
// a portion of what stands there in the firm's; what is more than stands there
// goes at the rate that is said, nil for that of the day (docs/rules.md, part 8).
// So does all of it where an account that was overdrawn stands above nil in its
// own currency and still below in the firm's: a portion of that would be worth
// less than nothing.
func (b *Builder) Leaves(bank ledger.BankAccount, own money.Amount, d day.Day, rate decimal.Decimal, at ledger.Line) (Worth, bool) {
	account, _ := b.Account(bank.AccountID)
	w, ok := Firm(own), true
	if bank.Currency != "" {
		left := b.standsAt(account.ID, d)
		there := min(max(left.Most(), 0), own)
		w = left.Take(there).Amount
		if there == 0 || w.Base < 0 {
			there, w = 0, Worth{}
		}
		if more := own - there; more > 0 {
			var rest Worth
			rest, ok = b.WorthAt(bank.Currency, more, d, rate)
			w = w.Add(rest)
		}
	}
	at.Currency = bank.Currency
	b.enterBank(account, w.Neg(), at)
	return w, ok
}

// standsAt is what stands on an account in another currency from a day on, with
// what this effect has entered there.
func (b *Builder) standsAt(accountID int64, d day.Day) Left {
	var changes []dated
	var before Worth
	for _, x := range b.AccountDays(accountID, d) {
		now := Worth{x.Own, x.Balance}
		changes = append(changes, dated{x.Day, Part{Amount: now.Add(before.Neg())}})
		before = now
	}
	for _, e := range b.effect.Entries {
		for _, l := range e.Lines {
			if l.AccountID == accountID {
				changes = append(changes, dated{e.Day, Part{Amount: Worth{l.Own, l.Amount}}})
			}
		}
	}
	return leftFrom(changes, 1, d)
}

// Value works out what the lines of a paper in another currency come to in the
// firm's: what is owed, what is kept back and the tax of each code are worth what
// they are, and the lines take the rest, but those that take out of what stands
// at a value already. What no line can take goes to exchange (docs/rules.md,
// part 8). In the firm's own currency there is nothing to work out.
func (b *Builder) Value(p *Paper, owed, kept Worth, taxes map[int64]Worth) {
	if p.Currency == "" {
		return
	}
	rest := owed.Add(kept).Base - b.ofPaper(*p, p.Rounding).Base
	byCode := map[int64][]int{}
	var free []int
	for n := range p.Lines {
		l := &p.Lines[n]
		if b.standsAlready(*l) {
			rest -= l.Net.Base
			if t, ok := taxes[l.TaxCodeID]; ok {
				taxes[l.TaxCodeID] = t.Add(l.Tax.Neg())
				rest -= l.Tax.Base
			}
			continue
		}
		free = append(free, n)
		byCode[l.TaxCodeID] = append(byCode[l.TaxCodeID], n)
	}
	for code, at := range byCode {
		owns := make([]money.Amount, len(at))
		for n, line := range at {
			owns[n] = p.Lines[line].Tax.Own
		}
		for n, base := range spread(taxes[code].Base, owns) {
			p.Lines[at[n]].Tax.Base = base
			rest -= base
		}
	}
	owns := make([]money.Amount, len(free))
	for n, line := range free {
		owns[n] = p.Lines[line].Net.Own
	}
	for n, base := range spread(rest, owns) {
		p.Lines[free[n]].Net.Base = base
	}
}

// standsAlready tells whether a line takes out of what stands at a value: what
// was billed in advance, a cost on the customer's behalf. What is bought for
// stock comes to stand there at what its line is worth.
func (b *Builder) standsAlready(l PaperLine) bool {
	role, control := b.Control(l.AccountID)
	return control && role != ledger.Stock && l.Register == ""
}

// spread shares what a whole is worth over its parts, which may lie on either
// side of nil: each the worth of all through it, less that of all before it, so
// that they come to the whole. Parts that come to nil bear nothing.
func spread(base money.Amount, owns []money.Amount) []money.Amount {
	shares := make([]money.Amount, len(owns))
	var whole, sum, before money.Amount
	for _, o := range owns {
		whole += o
	}
	if whole == 0 {
		return shares
	}
	for n, o := range owns {
		sum += o
		through := money.Amount(decimal.NewFromInt(int64(base)).Mul(decimal.NewFromInt(int64(sum))).DivRound(decimal.NewFromInt(int64(whole)), 0).IntPart())
		shares[n] = through - before
		before = through
	}
	return shares
}

// Outside is what an amount of the firm's currency is in the worth's own, at what
// the whole is worth.
func (w Worth) Outside(base money.Amount) money.Amount {
	if w.Own == w.Base || w.Base == 0 {
		return base
	}
	return spread(w.Own, []money.Amount{base, w.Base - base})[0]
}

// Spread shares a worth over amounts in its own currency that come to it.
func (w Worth) Spread(owns []money.Amount) []Worth {
	parts := make([]Worth, len(owns))
	for n, base := range spread(w.Base, owns) {
		parts[n] = Worth{owns[n], base}
		if w.Own == w.Base {
			parts[n].Base = owns[n]
		}
	}
	return parts
}
