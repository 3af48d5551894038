package posting

import (
	"fmt"
	"slices"
	"strings"

	"cleantally/core/day"
	"cleantally/core/ledger"
	"cleantally/core/master"
	"cleantally/core/money"
)

// Builder puts an effect together and collects what speaks against it. Every
// Plan uses one; the rules that hold for every paper live in it. Whatever is
// opened, set against, used or brought into stock enters its control account
// by itself; a plan enters the other accounts.
type Builder struct {
	Facts
	effect   Effect
	refusals Refusals
	fault    error  // of the program: a plan that entered what it must not
	prefix   string // of fields; see Inside
	byItem   map[ItemRef][]Move
	sorted   int // how many of the effect's moves are in byItem
	writing  writing
	in       inHand
}

// writing is the entry that lines go to.
type writing struct {
	at         int // in the effect's entries, counted from 1; 0 for one that has no line yet
	day        day.Day
	text       string
	paper      int64
	allocation int64
}

// Build returns a builder for one effect.
func Build(f Facts) *Builder { return &Builder{Facts: f} }

// Refuse records why the command cannot be done.
func (b *Builder) Refuse(field, rule, limit, format string, args ...any) {
	b.refusals = once(b.refusals, Notice{b.prefix + field, rule, limit, fmt.Sprintf(format, args...)})
}

// Warn records what must be confirmed before posting.
func (b *Builder) Warn(field, rule, limit, format string, args ...any) {
	if !slices.Contains(WarningRules, rule) {
		b.fault = fmt.Errorf("the warning %q is not among those that can be confirmed", rule)
	}
	b.effect.Warnings = once(b.effect.Warnings, Notice{b.prefix + field, rule, limit, fmt.Sprintf(format, args...)})
}

// once adds a notice that has not been given yet: several papers of one effect
// may share what is wrong.
func once(all []Notice, n Notice) []Notice {
	if slices.Contains(all, n) {
		return all
	}
	return append(all, n)
}

// Inside runs a part of a command that is made of several: what is refused or
// warned of there names its field inside the part.
func (b *Builder) Inside(prefix string, part func()) {
	before := b.prefix
	b.prefix = before + prefix
	part()
	b.prefix = before
}

// Refusals is how much has been refused so far.
func (b *Builder) Refusals() int { return len(b.refusals) }

// Refused tells whether anything has been refused so far.
func (b *Builder) Refused() bool { return len(b.refusals) > 0 }

// Paper makes p a paper of the effect: what is opened and entered after it is
// its own. Its number is checked when it was chosen and given when it was not.
func (b *Builder) Paper(p Paper) *Paper {
	p.Number = strings.TrimSpace(p.Number)
	_, err := day.Parse(string(p.Day))
	given := p.Number == ""
	switch {
	case given && err == nil:
		p.Number = b.nextNumber(p.Kind, p.Day)
	case len(p.Number) > 40:
		b.Refuse("number", "too long", "40", "A number has at most 40 characters. Shorten it, or leave it empty to be given the next.")
	case p.Number != "" && b.numberTaken(p.Kind, p.Number):
		b.Refuse("number", "taken", p.Number, "The number %s is taken. Leave it empty to be given %s.", p.Number, b.nextNumber(p.Kind, p.Day))
	}
	if err == nil && p.Number != "" && !given && p.Number != b.nextNumber(p.Kind, p.Day) {
		b.effect.Chosen = true
	}
	if p.About == "" {
		p.About = p.Kind
	}
	if p.Currency == "" {
		p.Currency, p.Rate = b.Code(), b.in.rate
	}
	p.ID = b.Own() - 1
	b.effect.Papers = append(b.effect.Papers, &p)
	b.writing = writing{day: p.Day, text: Sentence(string(p.Kind)) + " " + p.Number, paper: p.ID}
	return &p
}

// Says is the text of the paper's entry, in place of its kind and number.
func (b *Builder) Says(text string) { b.writing.text = text }

// Apart runs a part of a plan whose lines make an entry of their own.
func (b *Builder) Apart(text string, part func()) {
	b.within(writing{day: b.writing.day, text: text, paper: b.writing.paper}, part)
}

// On runs a part of a plan whose lines make an entry of another day.
func (b *Builder) On(d day.Day, text string, part func()) {
	b.within(writing{day: d, text: text, paper: b.writing.paper}, part)
}

func (b *Builder) within(w writing, part func()) {
	before := b.writing
	b.writing = w
	part()
	b.writing = before
}

// Debit enters a debit of an account that is no control account, with what at
// bears beside it. Nil enters nothing; an amount below nil is a credit.
func (b *Builder) Debit(account ledger.Account, amount money.Amount, at ledger.Line) {
	if role, control := b.Control(account.ID); control {
		b.fault = fmt.Errorf("a plan entered %s by itself", role)
	}
	at.AccountID, at.Amount = account.ID, amount
	b.enter(at)
}

// Credit enters a credit the same way.
func (b *Builder) Credit(account ledger.Account, amount money.Amount, at ledger.Line) {
	b.Debit(account, -amount, at)
}

// Enter adds lines that stand on no control account, as Debit does.
func (b *Builder) Enter(lines ...ledger.Line) {
	for _, l := range lines {
		b.Debit(ledger.Account{ID: l.AccountID}, l.Amount, l) // in the currency that it bears
	}
}

// control enters what of a part stands on control accounts. Their lines carry
// no job, so that what is set against another job's posts nothing.
func (b *Builder) control(register ledger.Role, p Part, sign money.Amount, partyID int64, currency string) {
	enter := func(role ledger.Role, w Worth) {
		line := ledger.Line{AccountID: b.Role(role).ID, PartyID: partyID, Amount: sign * w.Base, Currency: currency}
		if currency != "" {
			line.Own = sign * w.Own
		}
		b.enter(line)
	}
	enter(register, Borne(register, p))
	if role, tax := TaxBorne(register, p); tax != (Worth{}) {
		enter(role, tax)
	}
}

func (b *Builder) enter(l ledger.Line) {
	if l.Amount == 0 && l.Own == 0 {
		return
	}
	if b.writing.at == 0 {
		b.effect.Entries = append(b.effect.Entries, Entry{Entry: ledger.Entry{Day: b.writing.day, Text: b.writing.text}, PaperID: b.writing.paper, Allocation: b.writing.allocation})
		b.writing.at = len(b.effect.Entries)
	}
	e := &b.effect.Entries[b.writing.at-1]
	e.Lines = append(e.Lines, l)
}

// Balance is what the entry that is being written comes to so far: debits less
// credits.
func (b *Builder) Balance() money.Amount {
	var sum money.Amount
	if b.writing.at > 0 {
		for _, l := range b.effect.Entries[b.writing.at-1].Lines {
			sum += l.Amount
		}
	}
	return sum
}

// Own is the ID, below nil, of the paper that was begun last; nil for none.
func (b *Builder) Own() int64 { return -int64(len(b.effect.Papers)) }

func (b *Builder) numberTaken(k Kind, number string) bool {
	for _, p := range b.effect.Papers {
		if p.Kind == k && p.Number == number {
			return true
		}
	}
	return b.NumberTaken(k, number)
}

func (b *Builder) nextNumber(k Kind, d day.Day) string {
	for ahead := 0; ; ahead++ {
		number := b.NextNumber(k, d, ahead)
		if ahead > len(b.effect.Papers) || !b.numberTaken(k, number) {
			return number
		}
	}
}

// Entered is what the effect enters on an account so far: debits less credits.
func (b *Builder) Entered(accountID int64) money.Amount {
	return b.EnteredWorth(accountID).Base
}

// EnteredWorth is the same, in the currency of the account's lines as well.
func (b *Builder) EnteredWorth(accountID int64) (sum Worth) {
	for _, e := range b.effect.Entries {
		for _, l := range e.Lines {
			if l.AccountID == accountID {
				sum = sum.Add(Worth{l.Own, l.Amount})
			}
		}
	}
	return sum
}

// Open adds a new open item and its first move, and enters its register's
// account.
func (b *Builder) Open(i Item) ItemRef { return b.OpenOn(i, i.Day) }

// OpenOn is Open for an item that is older than the day on which it comes into
// the books.
func (b *Builder) OpenOn(i Item, d day.Day) ItemRef {
	i.ID = ItemRef(-len(b.effect.Items) - 1)
	i.Left = i.Part
	if n := len(b.effect.Papers); n > 0 {
		p := b.effect.Papers[n-1]
		i.PaperID, i.Kind, i.Number = p.ID, p.Kind, p.Number
	}
	b.effect.Items = append(b.effect.Items, i)
	b.effect.Moves = append(b.effect.Moves, Move{Item: i.ID, Day: d, Part: i.Part})
	b.control(i.Register, i.Part, 1, i.PartyID, i.Currency)
	return i.ID
}

// Placed is the sum of what the effect has allocated so far.
func (b *Builder) Placed() money.Amount { return b.effect.Placed() }

// Placed is the sum of the effect's allocations.
func (e Effect) Placed() money.Amount {
	var sum money.Amount
	for _, a := range e.Allocations {
		if a.Undoes == 0 {
			sum += a.Amount
		}
	}
	return sum
}

// Dispute marks an item as disputed, or no longer.
func (b *Builder) Dispute(d Dispute) { b.effect.Disputes = append(b.effect.Disputes, d) }

// AskWord says what a second person must agree to.
func (b *Builder) AskWord(field, limit, format string, args ...any) {
	b.effect.Word = &Notice{field, "a second word", limit, fmt.Sprintf(format, args...)}
}

// Effect returns what was built and the refusals, if any.
func (b *Builder) Effect(summary string) (Effect, error) {
	b.effect.Summary = summary
	b.in = inHand{}
	b.worths()
	b.closeEntries()
	b.taxSettled()
	b.yearsClosed()
	b.tills()
	b.bounded()
	switch {
	case len(b.refusals) > 0:
		return b.effect, b.refusals
	case b.fault != nil:
		return b.effect, b.fault
	}
	return b.effect, nil
}

// worths says of each paper what it comes to in the firm's currency.
func (b *Builder) worths() {
	for _, p := range b.effect.Papers {
		switch {
		case p.Currency == "":
			p.Base = p.Total
			continue
		case p.Base == 0 && p.Net+p.Tax != 0:
			for _, l := range p.Lines {
				p.Base += l.Net.Base + l.Tax.Base
			}
			p.Base += b.ofPaper(*p, p.Rounding).Base
		case p.Base == 0:
			p.Base = b.ofPaper(*p, p.Total).Base
		}
		p.InFirm = b.inFirm(*p)
	}
}

// inFirm are the sums of a paper in another currency, in the firm's: of its lines
// what those come to, the rest at its rate.
func (b *Builder) inFirm(p Paper) Billing {
	if p.Billing.Negated() == (Billing{Form: p.Form, TermsID: p.TermsID, Includes: p.Includes}) {
		return Billing{}
	}
	at := func(own money.Amount) money.Amount { return b.ofPaper(p, own).Base }
	if len(p.Lines) == 0 && p.ReversesID != 0 {
		of, _ := b.PaperOf(p.ReversesID)
		return of.InFirm.Negated()
	}
	sums := Billing{Discount: at(p.Discount), Net: at(p.Net), Tax: at(p.Tax), Rounding: at(p.Rounding), Beside: at(p.Beside), Deducted: at(p.Deducted), Retained: at(p.Retained)}
	if len(p.Lines) == 0 {
		return sums
	}
	sums.Net, sums.Tax, sums.Beside = 0, 0, 0
	for _, l := range p.Lines {
		sums.Net, sums.Tax = sums.Net+l.Net.Base, sums.Tax+l.Tax.Base
		if b.standsAlready(l) || l.PassOn != KeptAsCost || l.AccountID == b.Role(ledger.DiscountAllowed).ID {
			sums.Beside += l.Net.Base
		}
	}
	switch p.Beside {
	case p.Net:
		sums.Beside = sums.Net
	case 0:
		sums.Beside = 0
	}
	return sums
}

// closeEntries merges the lines of each entry. What comes to nothing is no
// entry: an allocation across jobs posts nothing.
func (b *Builder) closeEntries() {
	entries := b.effect.Entries
	b.effect.Entries = nil
	for _, e := range entries {
		// What it is about, the registers, is told first on each side.
		slices.SortStableFunc(e.Lines, func(x, y ledger.Line) int { return b.isOther(x) - b.isOther(y) })
		if e.Lines = ledger.Merged(e.Lines); len(e.Lines) > 0 {
			b.effect.Entries = append(b.effect.Entries, e)
		}
	}
	b.writing.at = 0
}

func (b *Builder) isOther(l ledger.Line) int {
	if _, control := b.Control(l.AccountID); control {
		return 0
	}
	return 1
}

// Look returns an item by reference, new or posted.
func (b *Builder) Look(ref ItemRef) (Item, bool) {
	if ref < 0 {
		if ref < ItemRef(-len(b.effect.Items)) {
			return Item{}, false
		}
		return b.effect.Items[-ref-1], true
	}
	return b.Item(ref)
}

// moves returns all moves of an item, posted and planned.
func (b *Builder) moves(ref ItemRef) []Move {
	var all []Move
	if ref > 0 {
		all = append(all, b.ItemMoves(ref)...)
	}
	return append(all, b.planned(ref)...)
}

// planned returns the moves of an item that the effect makes. They are kept by
// item, for an effect may have thousands.
func (b *Builder) planned(ref ItemRef) []Move {
	if b.byItem == nil {
		b.byItem = map[ItemRef][]Move{}
	}
	for ; b.sorted < len(b.effect.Moves); b.sorted++ {
		m := b.effect.Moves[b.sorted]
		b.byItem[m.Item] = append(b.byItem[m.Item], m)
	}
	return b.byItem[ref]
}

// PostingDay refuses a day that does not exist or lies in the closed period,
// and warns of one in the future or long past (docs/rules.md, part 10).
func (b *Builder) PostingDay(field string, d day.Day) bool {
	if _, err := day.Parse(string(d)); err != nil {
		if d == "" {
			err = fmt.Errorf("a day is missing")
		}
		b.Refuse(field, "no such day", "", "%s. Write a day such as %s.", Sentence(err.Error()), b.Today().Show())
		return false
	}
	if lock := b.LockedThrough(); lock != "" && d <= lock {
		b.Refuse(field, "locked", string(lock), "The books are locked through %s, so nothing can be dated %s. Use %s or later.",
			lock.Show(), d.Show(), lock.Add(1).Show())
		return false
	}
	if d > b.Today() {
		b.Warn(field, "in the future", string(b.Today()), "%s is in the future: today is %s.", d.Show(), b.Today().Show())
	} else if back := b.Today().Since(d); back > 60 {
		b.Warn(field, "long past", "60", "%s is %d days back.", d.Show(), back)
	}
	return true
}

// AmountAboveNil refuses an amount of nil or less, or beyond the limit.
func (b *Builder) AmountAboveNil(field string, a money.Amount, what string) bool {
	if a <= 0 {
		b.Refuse(field, "above nil", b.Currency().Format(0), "%s must be above nil.", Sentence(what))
		return false
	}
	if a > money.Limit {
		b.Refuse(field, "too large", b.Currency().Format(money.Limit), "%s is beyond the limit of %s. Split it.", Sentence(what), b.Currency().Show(money.Limit))
		return false
	}
	return true
}

// Customer refuses a customer who is missing, not a customer or not in use.
func (b *Builder) Customer(field string, id int64) (master.Party, bool) {
	p, ok := b.Party(id)
	switch {
	case !ok || !p.IsCustomer:
		b.Refuse(field, "missing", "", "Say which customer this is for.")
	case p.Inactive:
		b.Refuse(field, "not in use", "", "%s is not in use any more. Take the customer into use again first.", p.Name)
	default:
		return p, true
	}
	return p, false
}

// Supplier refuses a supplier who is missing, not a supplier or not in use.
func (b *Builder) Supplier(field string, id int64) (master.Party, bool) {
	p, ok := b.Party(id)
	switch {
	case !ok || !p.IsSupplier:
		b.Refuse(field, "missing", "", "Say which supplier this is from.")
	case p.Inactive:
		b.Refuse(field, "not in use", "", "%s is not in use any more. Take the supplier into use again first.", p.Name)
	default:
		return p, true
	}
	return p, false
}

// JobOf refuses a job of another customer and warns of a closed one. Without a
// job it answers true.
func (b *Builder) JobOf(field string, id, partyID int64) bool {
	if id == 0 {
		return true
	}
	j, ok := b.Job(id)
	if !ok {
		b.Refuse(field, "missing", "", "There is no such job. Choose another, or none.")
		return false
	}
	if partyID != 0 && j.PartyID != partyID {
		owner, _ := b.Party(j.PartyID)
		b.Refuse(field, "another customer's job", "", "Job %s belongs to %s. Choose a job of this customer, or none.", j.Number, owner.Name)
		return false
	}
	if j.Closed {
		b.Warn(field, "closed job", "", "Job %s is closed.", j.Number)
	}
	return true
}

// Split splits a total by the terms that hold for a paper: its own, else the
// party's, else the firm's. Where none splits it, all is due on the paper's day.
func (b *Builder) Split(d day.Day, total money.Amount, party master.Party, termsID int64) ([]master.Due, master.Terms) {
	for _, id := range []int64{termsID, party.TermsID, b.FirmTermsID()} {
		if t, ok := b.Terms(id); ok {
			if dues := t.Split(d, total); len(dues) > 0 {
				return dues, t
			}
		}
	}
	return []master.Due{{Day: d, Amount: total}}, master.Terms{}
}

// Contract is what the contract of a job comes to, net: the sum that was
// written down for it and what was agreed since.
func (b *Builder) Contract(j master.Job) money.Amount { return j.ContractSum + b.Agreed(j.ID) }

// Bank refuses a bank account that is missing or not in use and returns its
// ledger account.
func (b *Builder) Bank(field string, id int64) (ledger.Account, bool) {
	bank, ok := b.BankAccount(id)
	if !ok {
		b.Refuse(field, "missing", "", "Say which bank account the money moves on.")
		return ledger.Account{}, false
	}
	if bank.Inactive {
		b.Refuse(field, "not in use", "", "The bank account %s is not in use any more. Choose another.", bank.Name)
		return ledger.Account{}, false
	}
	a, ok := b.Account(bank.AccountID)
	return a, ok
}

// IsBank tells whether an account is that of a bank account.
func (b *Builder) IsBank(accountID int64) bool {
	_, ok := b.BankOf(accountID)
	return ok
}

// Control returns the register of a control account; false for any other.
func (b *Builder) Control(accountID int64) (ledger.Role, bool) {
	for _, r := range ledger.Controls {
		if b.Role(r).ID == accountID {
			return r, true
		}
	}
	return "", false
}

// Method refuses a way of payment that is not known.
func (b *Builder) Method(field string, m Method) {
	for _, known := range Methods {
		if m == known {
			return
		}
	}
	b.Refuse(field, "missing", "", "Say how the money moves: transfer, card, cheque, cash or direct debit.")
}

// PaidTwice warns when the customer's last 90 days already hold the same
// reference with the same amount.
func (b *Builder) PaidTwice(partyID int64, reference string, amount money.Amount, d day.Day) {
	if reference == "" || d == "" || partyID == 0 {
		return
	}
	if number, found := b.SamePayment(partyID, reference, amount, d.Add(-90)); found {
		b.Warn("reference", "paid twice?", "90", "%s has the same reference and the same amount. Was this paid twice, or is it being recorded twice?", number)
	}
}

// Sentence makes the first letter a capital.
func Sentence(s string) string {
	if s == "" {
		return s
	}
	return strings.ToUpper(s[:1]) + s[1:]
}
