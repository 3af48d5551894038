package settling

import (
	"fmt"
	"slices"
	"strings"

	"cleantally/core/day"
	"cleantally/core/ledger"
	"cleantally/core/money"
	"cleantally/core/posting"
	"cleantally/core/rights"
	"cleantally/core/tax"

	"github.com/shopspring/decimal"
)

// Stood is what an item of the old books is.
type Stood string

// What may stand in old books when a firm begins.
const (
	StoodInvoice     Stood = "invoice"
	StoodCredit      Stood = "credit" // of a customer: not placed, or a credit note
	StoodDeposit     Stood = "deposit"
	StoodKeptBack    Stood = "kept back"
	StoodUnknown     Stood = "not identified"
	StoodAdvance     Stood = "billed in advance" // and not deducted
	StoodCost        Stood = "cost"              // on a customer's behalf, that waits
	StoodBill        Stood = "supplier bill"
	StoodBillCredit  Stood = "supplier credit"
	StoodPrepayment  Stood = "prepayment"
	StoodWeKeptBack  Stood = "kept back by us"
	mostOpeningItems       = 5000
)

// AllStood lists what an item of the old books may be.
var AllStood = []Stood{StoodInvoice, StoodCredit, StoodDeposit, StoodKeptBack, StoodUnknown, StoodAdvance, StoodCost, StoodBill, StoodBillCredit, StoodPrepayment, StoodWeKeptBack}

// Opening is what a firm begins with on a day (docs/rules.md, part 14): each open
// item with its own number and day, goods, and the trial balance. Each register
// stands against opening balances, which the trial balance brings to nil.
type Opening struct {
	Day   day.Day // the last of the old books
	Items []OpeningItem
	Goods []OpeningGoods
	Trial []OpeningBalance

	Contracts []OpeningContract // under way
	OnTheWay  []OpeningOnTheWay // in the books and not at the bank
}

// OpeningItem is one open item of the old books, above nil.
type OpeningItem struct {
	Stood     Stood
	Number    string // its own; "" to be given one
	Day       day.Day
	Due       day.Day
	PartyID   int64
	JobID     int64
	Amount    money.Amount // with tax
	Tax       money.Amount // inside
	TaxCodeID int64
	Text      string
	Currency  string       // ISO 4217, of its amounts; "" for the firm's own
	Worth     money.Amount // what the amount stands at in the firm's, where that is another
}

// OpeningGoods are goods that lay in stock.
type OpeningGoods struct {
	ArticleID int64
	Quantity  decimal.Decimal
	Value     money.Amount
	Serials   []string
}

// OpeningBalance is a row of the trial balance: one side of it.
type OpeningBalance struct {
	AccountID     int64
	Debit, Credit money.Amount
	Own           money.Amount // of a bank account in another currency: in it, on the same side
}

// Asks is the right that it needs.
func (o Opening) Asks() rights.Right { return rights.ToOwn }

// OpeningFacts is what beginning asks besides.
type OpeningFacts interface {
	OpeningPapers() []int64 // those that stand, the first first
	FirstPosted() day.Day   // the first day of anything else that is posted; "" for nothing
}

// Plan returns the effect of the opening.
func (o Opening) Plan(f posting.Facts) (posting.Effect, error) {
	b := build(f)
	dayOK := b.PostingDay("day", o.Day)
	facts := f.(OpeningFacts)
	if len(facts.OpeningPapers()) > 0 {
		b.Refuse("day", "opened already", "", "The firm has begun already. Undo that as a whole first, or record what is missing by its own paper.")
	}
	if first := facts.FirstPosted(); first != "" && dayOK && first <= o.Day {
		b.Refuse("day", "not the first", string(first), "There is something posted on %s already. A firm begins before everything else: choose a day before it.", first.Show())
		dayOK = false
	}
	rows := len(o.Items) + len(o.Contracts) + len(o.OnTheWay)
	if rows+len(o.Goods)+len(o.Trial) == 0 {
		b.Refuse("items", "missing", "", "Nothing stands here yet: read a file, or add a row.")
	}
	if rows > mostOpeningItems {
		b.Refuse("items", "too many", fmt.Sprint(mostOpeningItems), "At most %d items are taken over at once.", mostOpeningItems)
		return b.Effect("")
	}
	for n, i := range o.Items {
		o.item(b, fmt.Sprintf("items[%d].", n), n+1, i, dayOK)
	}
	o.contracts(b, dayOK)
	o.goods(b, dayOK)
	o.onTheWay(b, dayOK)
	o.trial(b, dayOK)
	if left := b.Entered(b.Role(ledger.Opening).ID); left != 0 && !b.Refused() {
		c := b.Currency()
		b.Warn("trial", "does not come to nil", c.Format(left), "Opening balances are left with %s: the items and the trial balance differ by that. Mend it, or begin so and clear it up later.", c.Show(left))
	}
	return b.Effect(fmt.Sprintf("Began on %s with %d items and %d accounts", o.Day.Show(), len(o.Items), len(o.Trial)))
}

// stands is where an item of the old books stands: its register, its side, and
// whether it is a line that waits there in place of an item.
type stands struct {
	register ledger.Role
	sign     money.Amount
	line     bool
	supplier bool
}

var standsIn = map[Stood]stands{
	StoodInvoice: {register: ledger.Receivables, sign: 1}, StoodCredit: {register: ledger.Receivables, sign: -1}, StoodDeposit: {register: ledger.Deposits, sign: -1},
	StoodKeptBack: {register: ledger.Retention, sign: 1}, StoodUnknown: {register: ledger.Unidentified, sign: -1}, StoodAdvance: {register: ledger.AdvanceBillings, sign: -1, line: true},
	StoodCost: {register: ledger.Recoverable, sign: 1, line: true}, StoodBill: {register: ledger.Payables, sign: -1, supplier: true}, StoodBillCredit: {register: ledger.Payables, sign: 1, supplier: true},
	StoodPrepayment: {register: ledger.SupplierPrepayments, sign: 1, supplier: true}, StoodWeKeptBack: {register: ledger.RetentionPayable, sign: -1, supplier: true},
}

// item takes one item over.
func (o Opening) item(b *builder, field string, n int, i OpeningItem, dayOK bool) {
	at, known := standsIn[i.Stood]
	if !known {
		b.Refuse(field+"stood", "missing", "", "Say what row %d is: an invoice, a deposit, a supplier bill.", n)
		return
	}
	ok := dayOK && o.checked(b, field, n, i, at)
	if ok {
		b.In(i.Currency, i.rate(b), o.Day)
		defer b.In("", decimal.Zero, "")
	}
	party, _ := b.Party(i.PartyID)
	own := i.Day
	if own == "" {
		own = o.Day
	}
	kind := posting.Opening
	if i.Stood == StoodAdvance { // it is deducted, credited and kept as any other
		kind = posting.DepositInvoice
	}
	p := b.Paper(posting.Paper{Kind: kind, Number: i.Number, Day: o.Day, PartyID: i.PartyID, PartyName: party.Name, PartyAddress: party.Printed(), JobID: i.JobID,
		Title: openingTitle(i), Total: i.Amount, Base: i.in(i.Amount).Base, Billing: posting.Billing{Due: i.Due}})
	if !ok {
		return
	}
	b.Says(p.Title + " " + p.Number)
	whole := posting.Part{Amount: i.in(at.sign * i.Amount), Tax: i.in(at.sign * i.Tax)}
	bare := posting.Part{Amount: whole.Amount}
	waits := b.TaxDue().WhenPaid // and comes with what is owed
	switch {
	case at.line:
		p.Lines = []posting.PaperLine{o.line(b, p, i, at.register)}
		b.Wait(p)
	case at.register == ledger.Receivables && i.Stood == StoodInvoice && i.TaxCodeID != 0:
		// Its tax is told by code, as that of any invoice.
		p.Lines = []posting.PaperLine{o.line(b, p, i, "")}
		item := posting.Item{Register: at.register, Bills: p.ID, PartyID: i.PartyID, JobID: i.JobID, Day: own, Due: i.Due, Currency: p.Currency, Part: bare}
		if waits {
			item.Part, item.TaxCodeID = whole, i.TaxCodeID
		}
		b.OpenOn(item, o.Day)
	case at.register == ledger.Deposits || at.register == ledger.Retention || at.register == ledger.Receivables && waits:
		b.OpenOn(posting.Item{Register: at.register, PartyID: i.PartyID, JobID: i.JobID, Day: own, Due: i.Due, Currency: p.Currency, Part: whole, TaxCodeID: i.TaxCodeID}, o.Day)
	default:
		b.OpenOn(posting.Item{Register: at.register, PartyID: i.PartyID, JobID: i.JobID, Day: own, Due: i.Due, Currency: p.Currency, Part: bare}, o.Day)
	}
	b.Credit(b.Role(ledger.Opening), b.Balance(), ledger.Line{PartyID: i.PartyID})
}

// in is an amount of an item with what it stands at: its portion of what the whole
// does.
func (i OpeningItem) in(own money.Amount) posting.Worth {
	if i.Currency == "" {
		return posting.Firm(own)
	}
	if own < 0 {
		return i.in(-own).Neg()
	}
	return posting.Worth{Own: own, Base: money.Portion(own, i.Worth, i.Amount)}
}

// rate is what one unit of an item's currency stands at; nil in the firm's own.
func (i OpeningItem) rate(b *builder) decimal.Decimal {
	if i.Currency == "" || i.Amount == 0 {
		return decimal.Zero
	}
	return b.Currency().Decimal(i.Worth).DivRound(b.Currency().In(i.Currency).Decimal(i.Amount), posting.RatePlaces)
}

// line is the line of a paper of the old books that waits, or tells its tax.
func (o Opening) line(b *builder, p *posting.Paper, i OpeningItem, register ledger.Role) posting.PaperLine {
	l := posting.PaperLine{Position: 1, Text: p.Title, Quantity: decimal.New(1, 0), TaxCodeID: i.TaxCodeID, Register: register,
		Before: i.Amount - i.Tax, Net: i.in(i.Amount).Add(i.in(i.Tax).Neg()), Tax: i.in(i.Tax)}
	l.AccountID = b.Role(ledger.Opening).ID
	if register != "" {
		l.AccountID = b.Role(register).ID
	}
	if i.Stood == StoodCost {
		l.PassOn = posting.OnBehalf
	}
	if net := i.Amount - i.Tax; net != 0 && i.Tax != 0 {
		l.TaxPercent = decimal.NewFromInt(int64(i.Tax)).Mul(decimal.New(100, 0)).DivRound(decimal.NewFromInt(int64(net)), 1)
	}
	return l
}

func openingTitle(i OpeningItem) string {
	if text := strings.TrimSpace(i.Text); text != "" {
		return text
	}
	return posting.Sentence(string(i.Stood)) + " of the old books"
}

// checked refuses what an item cannot be.
func (o Opening) checked(b *builder, field string, n int, i OpeningItem, at stands) bool {
	refused := false
	refuse := func(name, rule, limit, format string, args ...any) {
		refused = true
		b.Refuse(field+name, rule, limit, fmt.Sprintf("Row %d: ", n)+format, args...)
	}
	c := b.Currency()
	switch {
	case i.Amount <= 0 || i.Amount > money.Limit:
		refuse("amount", "above nil", c.Format(0), "the amount must be above nil.")
	case i.Tax < 0 || i.Tax >= i.Amount:
		refuse("tax", "too much", c.Format(i.Amount), "the tax inside is a part of %s.", c.Show(i.Amount))
	case i.Currency != "" && i.Currency != c.Code && !b.CurrencyUsed(i.Currency):
		refuse("currency", "not in use", i.Currency, "the currency %s is not in use. Take it into use in the setup first.", i.Currency)
	case i.Currency != "" && (i.Worth <= 0 || i.Worth > money.Limit || !posting.RateFits(i.rate(b))):
		refuse("worth", "above nil", c.Format(0), "say what it stood at in %s, above nil.", c.Code)
	case i.Currency == "" && i.Worth != 0:
		refuse("currency", "missing", "", "say in which currency it is, of which that is the worth.")
	case i.Tax != 0 && i.TaxCodeID == 0:
		refuse("taxCode", "missing", "", "say by which tax code the tax inside is.")
	}
	if code, _, ok := b.TaxCode(i.TaxCodeID); i.TaxCodeID != 0 && (!ok || code.Kind == tax.CustomerAccountsIt) {
		refuse("taxCode", "not in use", "", "choose a tax code by which tax is charged.")
	}
	for _, d := range []struct {
		field string
		day   day.Day
	}{{"day", i.Day}, {"due", i.Due}} {
		if _, err := day.Parse(string(d.day)); d.day != "" && err != nil {
			refuse(d.field, "no such day", "", "%s.", err.Error())
		}
	}
	if i.Day > o.Day {
		refuse("day", "after the old books", string(o.Day), "%s is after the last day of the old books, %s.", i.Day.Show(), o.Day.Show())
	}
	party, known := b.Party(i.PartyID)
	switch {
	case i.Stood == StoodUnknown && i.PartyID == 0:
	case i.Stood == StoodUnknown:
		refuse("party", "not identified", "", "money that is not identified is nobody's yet.")
	case !known:
		refuse("party", "missing", "", "say whose it is.")
	case at.supplier && !party.IsSupplier:
		refuse("party", "no supplier", "", "%s is no supplier. Say so at the record first.", party.Name)
	case !at.supplier && !party.IsCustomer:
		refuse("party", "no customer", "", "%s is no customer. Say so at the record first.", party.Name)
	}
	if j, ok := b.Job(i.JobID); i.JobID != 0 && (!ok || j.PartyID != i.PartyID) {
		refuse("job", "another customer's job", "", "this job is not of %s.", party.Name)
	}
	if i.Stood == StoodCost && i.JobID == 0 {
		refuse("job", "missing", "", "say for which job the cost waits.")
	}
	return !refused
}

// goods brings what lay in stock.
func (o Opening) goods(b *builder, dayOK bool) {
	if len(o.Goods) == 0 {
		return
	}
	p := b.Paper(posting.Paper{Kind: posting.Opening, Day: o.Day, Title: "Stock of the old books"})
	b.Says(p.Title)
	for n, g := range o.Goods {
		field := fmt.Sprintf("goods[%d].", n)
		article, known := b.Article(g.ArticleID)
		switch {
		case !known || !article.Stocked:
			b.Refuse(field+"article", "not stocked", "", "Row %d: choose an article that is kept in stock.", n+1)
		case !g.Quantity.IsPositive() || !money.Fits(g.Quantity, 6):
			b.Refuse(field+"quantity", "above nil", "0", "Row %d: the quantity of %s must be above nil, with at most 6 places.", n+1, article.Name)
		case g.Value < 0 || g.Value > money.Limit:
			b.Refuse(field+"value", "above nil", "0", "Row %d: what %s is worth is nil or more.", n+1, article.Name)
		case dayOK:
			p.Lines = append(p.Lines, posting.PaperLine{Position: n + 1, ArticleID: g.ArticleID, Text: article.Name, Unit: article.Unit, Quantity: g.Quantity, Before: g.Value, Net: posting.Firm(g.Value), AccountID: b.Role(ledger.Stock).ID})
			b.Receive(field+"serials", posting.StockMove{ArticleID: g.ArticleID, By: posting.LineRef{PaperID: b.Own(), Position: n + 1}, Day: o.Day, Quantity: posting.InMillionths(g.Quantity), Value: g.Value, Serials: g.Serials})
			p.Total += g.Value
		}
	}
	b.Credit(b.Role(ledger.Opening), b.Balance(), ledger.Line{})
}

// trial enters the balances of all accounts that no register keeps. Of those that
// one keeps, the items have to come to what the trial balance says.
func (o Opening) trial(b *builder, dayOK bool) {
	p := b.Paper(posting.Paper{Kind: posting.Opening, Day: o.Day, Title: "Trial balance of the old books"})
	b.Says(p.Title)
	seen := map[int64]bool{}
	for n, t := range o.Trial {
		field := fmt.Sprintf("trial[%d].", n)
		a, known := b.Account(t.AccountID)
		_, control := b.Control(t.AccountID)
		amount := t.Debit - t.Credit
		c := b.Currency()
		switch {
		case !known:
			b.Refuse(field+"account", "missing", "", "Row %d of the trial balance: choose the account.", n+1)
		case seen[t.AccountID]:
			b.Refuse(field+"account", "twice", "", "Account %s %s stands in the trial balance twice.", a.Number, a.Name)
		case t.Debit < 0 || t.Credit < 0 || (t.Debit != 0) == (t.Credit != 0) || max(t.Debit, t.Credit) > money.DayLimit:
			b.Refuse(field+"debit", "one side", "", "Account %s %s needs an amount above nil, on one side.", a.Number, a.Name)
		case t.Own < 0 || t.Own > money.DayLimit || (t.Own != 0) != (o.bankIn(b, t.AccountID) != ""):
			o.saysOwn(b, field, n, a, t)
		case control:
			if stands := b.Entered(t.AccountID); stands != amount {
				b.Warn("trial", "items differ", c.Format(amount), "The trial balance says %s of %s %s, the items come to %s.", c.Show(amount), a.Number, a.Name, c.Show(stands))
			}
		case t.AccountID == b.Role(ledger.Opening).ID:
			b.Refuse(field+"account", "opening balances", "", "Opening balances come out by themselves: leave %s %s out.", a.Number, a.Name)
		case dayOK:
			if b.IsBank(a.ID) { // what is not at the bank is there already
				amount -= b.Entered(a.ID)
			}
			bank, _ := b.BankOf(a.ID)
			line := ledger.Line{Currency: bank.Currency}
			if line.Currency != "" {
				line.Own = t.own() - b.EnteredWorth(a.ID).Own
			}
			b.Debit(a, amount, line)
			p.Total += t.Debit
		}
		seen[t.AccountID] = true
	}
	b.Credit(b.Role(ledger.Opening), b.Balance(), ledger.Line{})
	if len(o.Trial) == 0 {
		p.Title = "Begun without a trial balance"
	}
}

// own is what a bank account holds in its currency, a debit above nil.
func (t OpeningBalance) own() money.Amount {
	if t.Credit != 0 {
		return -t.Own
	}
	return t.Own
}

// bankIn is the currency of a bank account, by its ledger account; "" for the
// firm's own.
func (o Opening) bankIn(b *builder, accountID int64) string {
	bank, _ := b.BankOf(accountID)
	return bank.Currency
}

// saysOwn refuses a row that says what an account holds in another currency and is
// no such account, or does not say it of one that is.
func (o Opening) saysOwn(b *builder, field string, n int, a ledger.Account, t OpeningBalance) {
	if code := o.bankIn(b, t.AccountID); code != "" {
		b.Refuse(field+"own", "above nil", "", "Account %s %s is kept in %s: say what it held in that as well, above nil.", a.Number, a.Name, code)
		return
	}
	b.Refuse(field+"own", "no such account", "", "Account %s %s is kept in %s: leave what it held in another currency out.", a.Number, a.Name, b.Currency().Code)
}

// UndoOpening takes the opening back as a whole, on its own day, while nothing
// stands on it.
type UndoOpening struct{ Reason string }

// Asks is the right that it needs.
func (UndoOpening) Asks() rights.Right { return rights.ToOwn }

// Plan returns the effect of undoing.
func (u UndoOpening) Plan(f posting.Facts) (posting.Effect, error) {
	b := build(f)
	ids := f.(OpeningFacts).OpeningPapers()
	if len(ids) == 0 {
		b.Refuse("opening", "missing", "", "There is no opening that could be undone.")
	}
	if strings.TrimSpace(u.Reason) == "" {
		b.Refuse("reason", "missing", "", "Say why the opening is undone.")
	}
	f.KnowPapers(ids)
	for _, id := range slices.Backward(ids) { // what was billed of an order stands on it
		p, _ := f.Paper(id)
		if b.Refused() || !b.PostingDay("day", p.Day) || b.Standing(p, nobody) || b.placed(p) {
			break
		}
		b.Paper(takingBack(p, posting.Paper{Kind: posting.Reversal, Day: p.Day, Title: "Reversal of " + p.Number, Note: strings.TrimSpace(u.Reason)}))
		b.Says("Reversal of " + p.Number)
		b.TakeBack(p, p.Day, nobody)
		b.FreeTies(p)
	}
	return b.Effect(fmt.Sprintf("Undid the opening, %d papers: %s", len(ids), strings.TrimSpace(u.Reason)))
}

// placed refuses while an item of a paper is set against something.
func (b *builder) placed(p posting.Paper) bool {
	for _, i := range b.PaperItems(p.ID) {
		if slices.ContainsFunc(b.AllocationsOf(i.ID), func(a posting.Allocation) bool { return b.Other(a, i.ID).PaperID != p.ID }) {
			b.Refuse("opening", "something stands on it", p.Number, "%s is set against something since. Undo that first: the opening goes as a whole.", p.Number)
			return true
		}
	}
	return false
}
