package demo

import (
	"cmp"
	"context"
	"fmt"
	"math/rand/v2"
	"slices"
	"strings"

	"cleantally/books"
	"cleantally/core/banking"
	"cleantally/core/buying"
	"cleantally/core/day"
	"cleantally/core/journal"
	"cleantally/core/ledger"
	"cleantally/core/master"
	"cleantally/core/money"
	"cleantally/core/posting"
	"cleantally/core/settling"
	"cleantally/formats/bankfile"
	"cleantally/standin"
	"cleantally/store"
)

// The demo's accounts at its made-up bank.
const (
	current = 1
	reserve = 4
)

// What the bank booked after this day is read, and not explained yet.
const explainedThrough = day.Day("2026-11-12")

// reconciledOn is when the last month was reconciled.
const reconciledOn = day.Day("2026-11-02")

// A Guess is how often the first of what was proposed was right, of lines that
// became one kind of paper, or were tied to it.
type Guess struct{ Right, Of int }

// atBank is what the demo's bank knows, and what was proposed of it.
type atBank struct {
	rnd     *rand.Rand
	ledger  map[int64]int64        // by account: its ledger account
	held    map[int64]money.Amount // by account, after what was read
	pending []pending
	later   []pending // after what is explained
	guesses map[string]Guess
	wrong   []string // what was proposed in place of what it was
}

// pending is what was posted, and is booked by the bank on a day.
type pending struct {
	on       day.Day
	bank     int64
	movement int64
	kind     posting.Kind
	said     bankfile.Line
}

// openAccounts opens a second account, and says what its banks do by themselves.
func (t *teller) openAccounts(ctx context.Context) error {
	t.bank = atBank{rnd: rand.New(rand.NewPCG(20261120, 3)), ledger: map[int64]int64{}, held: map[int64]money.Amount{}, guesses: t.bank.guesses}
	if err := t.book.SaveBankAccount(ctx, 1, &ledger.BankAccount{Name: "Reserve account", IBAN: madeUpIBAN(400 + reserve)}); err != nil {
		return err
	}
	for _, u := range []master.BankRule{
		{Name: "Account fee", Text: "account fee", Went: true, Becomes: string(posting.Journal), AccountID: t.role(ledger.BankCharges)},
		{Name: "Interest on the reserve", BankAccountID: reserve, Text: "interest", Came: true, Becomes: string(posting.Journal), AccountID: t.role(ledger.LateCharges)},
	} {
		if err := t.book.SaveBankRule(ctx, 1, &u); err != nil {
			return err
		}
	}
	return t.book.SaveBankFeed(ctx, 1, current, "stand-in")
}

// banking is what banks do by themselves: fees, interest; and what is put aside.
func (t *teller) banking() {
	for n := range 18 {
		month := day.Of(day.Day("2025-05-31").Time().AddDate(0, 0, 1).AddDate(0, n, -1))
		d := month
		t.at(d, fmt.Sprintf("fee %d", n), func() (posting.Command, error) {
			fee := money.Amount(1450 + n%3*120)
			return journal.Journal{Day: d, Text: "Account fee", Lines: []journal.Line{{AccountID: t.role(ledger.BankCharges), Debit: fee}, {AccountID: t.ledgerOf(current), Credit: fee}}}, nil
		})
		if n%3 == 2 {
			t.at(d, fmt.Sprintf("interest %d", n), func() (posting.Command, error) {
				interest := money.Amount(310 + 140*n)
				return journal.Journal{Day: d, Text: "Interest on the reserve", Lines: []journal.Line{{AccountID: t.ledgerOf(reserve), Debit: interest}, {AccountID: t.role(ledger.LateCharges), Credit: interest}}}, nil
			})
		}
		if n%2 == 1 {
			t.do(d.Add(-4), fmt.Sprintf("put aside %d", n), settling.OwnTransfer{Day: d.Add(-4), Amount: 150000, FromAccountID: current, ToAccountID: reserve, Reference: "RESERVE"})
		}
	}
}

func (t *teller) ledgerOf(bank int64) int64 {
	if id := t.bank.ledger[bank]; id != 0 {
		return id
	}
	account, _, err := store.Find[ledger.BankAccount](t.book.Read(context.Background()), bank)
	if err != nil {
		return 0
	}
	t.bank.ledger[bank] = account.AccountID
	return account.AccountID
}

// comesFirst tells whether the line of the bank is there before the paper is: of
// money that arrives, and of what the bank does by itself.
func comesFirst(c posting.Command) bool {
	switch x := c.(type) {
	case settling.Receipt:
		return x.Method != posting.ByCheque
	case settling.Deposit:
		return x.Method != posting.ByCheque
	case settling.Unidentified, settling.Payout, settling.Recovery, settling.OwnTransfer, settling.Returned, journal.Journal:
		return true
	case settling.Distribute:
		return x.From == 0
	}
	return false
}

// postAtBank posts a command that may move money at a bank. What arrives is made
// of its line; what goes is found on the statement afterwards.
func (t *teller) postAtBank(ctx context.Context, c posting.Command) (books.Posted, error) {
	how := books.How{User: 1, Confirmed: posting.WarningRules, Word: Password}
	today := t.book.Today()
	if err := t.explainPending(ctx, today); err != nil {
		return books.Posted{}, err
	}
	if comesFirst(c) && today <= explainedThrough {
		effect, _, err := t.book.Preview(ctx, c, how)
		if err != nil {
			return books.Posted{}, err
		}
		if line, moves := t.lineOf(ctx, effect, c); moves {
			id, err := t.read(ctx, line)
			if err != nil {
				return books.Posted{}, err
			}
			if err := t.guess(ctx, line, id, c, effect); err != nil {
				return books.Posted{}, err
			}
			how.BankLine = id
		}
	}
	posted, err := t.book.Post(ctx, c, how)
	if err != nil || !mayMove(c) {
		return posted, err
	}
	return posted, t.expect(ctx, posted, c)
}

// mayMove tells whether a command may move money at a bank: those of what is
// billed, ordered and bought on account do not.
func mayMove(c posting.Command) bool {
	switch fmt.Sprintf("%T", c)[:7] {
	case "billing", "stock.C", "stock.U":
		return false
	}
	_, bill := c.(buying.Bill)
	return !bill
}

// lineOf is the line by which the bank tells of an effect; the first of two.
func (t *teller) lineOf(ctx context.Context, e posting.Effect, c posting.Command) (pending, bool) {
	moved := map[int64]money.Amount{}
	for _, entry := range e.Entries {
		for _, l := range entry.Lines {
			for _, bank := range []int64{current, reserve} {
				if l.AccountID == t.ledgerOf(bank) {
					moved[bank] += l.Amount
				}
			}
		}
	}
	for _, bank := range []int64{current, reserve} {
		if a := moved[bank]; a != 0 {
			p := e.Paper()
			return pending{on: p.Day, bank: bank, kind: p.Kind, said: t.says(ctx, c, *p, p.Day, a)}, true
		}
	}
	return pending{}, false
}

// expect notes what the bank will tell of a paper, but for the line that it was
// made of.
func (t *teller) expect(ctx context.Context, posted books.Posted, c posting.Command) error {
	facts, err := t.book.Read(ctx).Facts(t.book.Today())
	if err != nil {
		return err
	}
	papers := []int64{posted.PaperID}
	for _, o := range posted.Others {
		papers = append(papers, o.ID)
	}
	for _, id := range papers {
		p, _ := facts.Paper(id)
		for _, m := range facts.PaperMovements(id) {
			if m.BankAccountID != current && m.BankAccountID != reserve || len(facts.TiesOf(0, m.ID)) > 0 {
				continue
			}
			after := 1
			if p.Method == posting.ByCheque {
				after = 5
			}
			to := &t.bank.pending
			if p.Day > explainedThrough {
				to, after = &t.bank.later, 0
			}
			*to = append(*to, pending{p.Day.Add(after), m.BankAccountID, m.ID, p.Kind, t.says(ctx, c, p, p.Day.Add(after), m.Amount)})
		}
	}
	return facts.Err()
}

// explainPending reads what the bank booked through a day of what was posted
// before, and ties it.
func (t *teller) explainPending(ctx context.Context, through day.Day) error {
	slices.SortStableFunc(t.bank.pending, func(x, y pending) int { return strings.Compare(string(x.on), string(y.on)) })
	for len(t.bank.pending) > 0 && t.bank.pending[0].on <= min(through, explainedThrough) {
		p := t.bank.pending[0]
		t.bank.pending = t.bank.pending[1:]
		id, err := t.read(ctx, p)
		if err != nil {
			return err
		}
		if err := t.guess(ctx, p, id, nil, posting.Effect{}); err != nil {
			return err
		}
		if _, err := t.book.Post(ctx, banking.Tie{Lines: []int64{id}, Movements: []int64{p.movement}}, books.How{User: 1}); err != nil {
			return err
		}
	}
	if through >= reconciledOn && !t.reconciled {
		t.reconciled = true

		for _, bank := range []int64{current, reserve} {
			if err := t.book.Reconcile(ctx, 1, bank, "2026-10-31"); err != nil {
				return err
			}
		}
	}
	return nil
}

// read takes a line as the bank tells it, and returns its ID.
func (t *teller) read(ctx context.Context, p pending) (int64, error) {
	t.bank.held[p.bank] += p.said.Amount
	closing := bankfile.Balance{Day: p.on, Amount: t.bank.held[p.bank]}
	if _, err := t.book.TypeStatement(ctx, 1, p.bank, "fetched", bankfile.Statement{Closing: &closing, Lines: []bankfile.Line{p.said}}); err != nil {
		return 0, err
	}
	lines, err := t.book.Read(ctx).BankLinesOn(p.bank, p.on, p.on)
	if err != nil || len(lines) == 0 {
		return 0, cmp.Or(err, fmt.Errorf("the line of %s was not read", p.on))
	}
	return lines[len(lines)-1].ID, nil
}

// says is how the bank tells of a paper: mostly with the name in capitals and what
// the other side wrote, now and then with less.
func (t *teller) says(ctx context.Context, c posting.Command, p posting.Paper, on day.Day, a money.Amount) bankfile.Line {
	l := bankfile.Line{Day: on, Amount: a, OtherName: strings.ToUpper(p.PartyName)}
	numbers := t.numbersOf(ctx, c)
	chance := t.bank.rnd.IntN(100)
	switch {
	case p.Kind == posting.Returned:
		l.OtherName, l.Text = "", strings.ToUpper("returned unpaid "+p.Reference+" fee "+t.show(-a-p.Total.Abs()))
	case p.Method == posting.ByCheque && a < 0:
		l.OtherName, l.Text = "", "CHEQUE "+p.Cheque
	case p.Kind == posting.Payout:
		l.OtherName, l.Text = "CARD GATEWAY", "PAYOUT "+strings.ToUpper(p.Reference)
	case p.Kind == posting.Journal:
		l.OtherName, l.Text = "", strings.ToUpper(p.Title)+" "+strings.ToUpper(on.Show()[3:])
	case p.Kind == posting.OwnTransfer:
		l.OtherName, l.OtherAccount, l.Text = "SPARROW + WINDER STAIRWORKS", madeUpIBAN(99), "RESERVE"
		if a < 0 {
			l.OtherAccount = madeUpIBAN(400 + reserve)
		}
	case a < 0:
		l.Text = strings.TrimSpace(p.Number + " " + strings.Join(numbers, " "))
	case chance < 55 && len(numbers) > 0:
		l.Text = "INVOICE " + strings.Join(numbers, " ")
	case chance < 75 && p.Reference != "":
		l.Text = p.Reference
	case chance < 88:
		l.Text = []string{"THANK YOU", "STAIRS", "PAYMENT", "AS AGREED"}[chance%4]
	}
	switch {
	case l.OtherName == "" || a < 0 || p.PartyID == 0:
	case chance%10 == 3: // as the bank cuts it
		l.OtherName = l.OtherName[:min(len(l.OtherName), 18)]
	case chance%10 == 7: // the account is somebody else's in the house
		words := strings.Fields(l.OtherName)
		l.OtherName = "M. " + words[len(words)-1]
	}
	return l
}

// show is an amount as a bank writes it.
func (t *teller) show(a money.Amount) string { return money.Currency{Code: "EUR", Places: 2}.Format(a) }

// numbersOf are the numbers of what a command settles.
func (t *teller) numbersOf(ctx context.Context, c posting.Command) []string {
	facts, err := t.book.Read(ctx).Facts(t.book.Today())
	if err != nil {
		return nil
	}
	var items []posting.ItemRef
	switch x := c.(type) {
	case settling.Receipt:
		for _, p := range x.Placements {
			items = append(items, p.Debit)
		}
	case settling.SupplierPayment:
		for _, b := range x.Bills {
			items = append(items, b.Item)
		}
	}
	var numbers []string
	for _, ref := range items {
		if i, ok := facts.Item(ref); ok && !slices.Contains(numbers, i.Number) {
			numbers = append(numbers, i.Number)
		}
	}
	return numbers
}

// comingLines are what the bank booked last: nobody has said yet what they are.
var comingLines = []bankfile.Line{
	{Day: "2026-11-17", Amount: 582000, OtherName: "QUILLON + DAUGHTERS ARCH", Text: "HARBOUR OFFICE STAIR STRINGS"},
	{Day: "2026-11-18", Amount: 150000, OtherName: "SUNNIVA THACKERY-OSEI", Text: "DEPOSIT FOR THE LANDING"},
	{Day: "2026-11-18", Amount: 24000, OtherName: "B PENHALLOW", Text: "SORRY IT IS LATE"},
	{Day: "2026-11-19", Amount: -1810, Text: "ACCOUNT FEE, EXTRA STATEMENTS"},
	{Day: "2026-11-19", Amount: 88080, OtherName: "MILLRACE BREWERY", Text: "CELLAR STEPS LESS 2 PERCENT"},
}

// readLast reads what the bank booked since, of which most is not explained.
func (t *teller) readLast(ctx context.Context) error {
	byBank := map[int64][]bankfile.Line{current: slices.Clone(comingLines)}
	for _, p := range t.bank.later {
		if p.said.Day < Today && p.kind != posting.Refund { // that cheque was not presented
			byBank[p.bank] = append(byBank[p.bank], p.said)
		}
	}
	for _, p := range t.bank.pending {
		if p.on < Today {
			byBank[p.bank] = append(byBank[p.bank], p.said)
		}
	}
	for bank, lines := range byBank {
		slices.SortStableFunc(lines, func(x, y bankfile.Line) int { return strings.Compare(string(x.Day), string(y.Day)) })
		for _, l := range lines {
			t.bank.held[bank] += l.Amount
		}
		closing := bankfile.Balance{Day: "2026-11-19", Amount: t.bank.held[bank]}
		if _, err := t.book.TypeStatement(ctx, 1, bank, "fetched", bankfile.Statement{Closing: &closing, Lines: lines}); err != nil {
			return err
		}
	}
	return nil
}

// AtTheBank books at the stand-in for a bank what the demo firm fetches next.
func AtTheBank(ctx context.Context, b *books.Book, bank *standin.Bank) error {
	account, _, err := store.Find[ledger.BankAccount](b.Read(ctx), current)
	if err != nil {
		return err
	}
	held, known, err := b.Read(ctx).BankBalance(current, day.EndOfTime)
	if err != nil || !known || !bank.Begin(account.IBAN, held) {
		return err
	}
	for _, e := range []standin.Booked{
		{Amount: 117600, Name: "GRANARY ROW RESIDENTS", Text: "NOSINGS STAIRS C TO F PART"},
		{Amount: -64000, Name: "THORNAPPLE + REED TIMBER", Text: "TR 1187"},
	} {
		e.Account, e.Day = account.IBAN, Today
		bank.Book(e)
	}
	return nil
}
