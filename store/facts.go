package store

import (
	"database/sql"
	"errors"
	"slices"
	"strconv"

	"cleantally/core/day"
	"cleantally/core/ledger"
	"cleantally/core/master"
	"cleantally/core/money"
	"cleantally/core/posting"
	"cleantally/core/tax"

	"github.com/shopspring/decimal"
)

// Facts answers what a plan asks, from inside one transaction. The first
// failure of the store is kept; whoever plans must look at Err before the
// effect is used. What is asked for again is kept.
type Facts struct {
	endedPeriods []Period // asked for once
	endedKnown   bool
	r            Reader
	today        day.Day
	draft        int64 // the draft in hand: its own reservations do not count
	*chart
	items    map[posting.ItemRef]posting.Item
	parties  map[int64]master.Party
	papers   map[int64]posting.Paper
	articles map[int64]master.Article
	moves    map[posting.ItemRef][]posting.Move
	uses     map[int64][]posting.Use
	reserved map[int64][]posting.Use
	overdue  map[int64][]posting.Item // by customer, where that was read of all of them
	charged  map[posting.ItemRef][]posting.ChargedDays
	disputes map[posting.ItemRef][]posting.Dispute
	given    map[string]string // the next number of a series, by kind and prefix
	taken    map[string]bool   // whether a number is, by kind and number
	err      error
}

// Facts returns the facts as of this transaction.
func (r Reader) Facts(today day.Day) (*Facts, error) {
	f := &Facts{r: r, today: today, items: map[posting.ItemRef]posting.Item{},
		parties: map[int64]master.Party{}, papers: map[int64]posting.Paper{}, articles: map[int64]master.Article{}, moves: map[posting.ItemRef][]posting.Move{}, uses: map[int64][]posting.Use{}, reserved: map[int64][]posting.Use{},
		charged: map[posting.ItemRef][]posting.ChargedDays{}, disputes: map[posting.ItemRef][]posting.Dispute{},
		given: map[string]string{}, taken: map[string]bool{}}
	var err error
	f.chart, err = r.loadChart()
	return f, err
}

// OfDraft says which draft is in hand.
func (f *Facts) OfDraft(id int64) {
	f.draft = id
	clear(f.reserved)
}

// Err returns the first failure of the store.
func (f *Facts) Err() error { return f.err }

func find[T any](f *Facts, query string, args ...any) (T, bool) {
	v, ok, err := one[T](f.r, query, args...)
	if err != nil && f.err == nil {
		f.err = err
	}
	return v, ok
}

// value finds one value of one row.
func value[T any](f *Facts, query string, args ...any) (T, bool) {
	var v T
	err := f.r.queryRow(query, args...).Scan(&v)
	if err != nil && !errors.Is(err, sql.ErrNoRows) && f.err == nil {
		f.err = err
	}
	return v, err == nil
}

func all[T any](f *Facts, query string, args ...any) []T {
	rows, err := scan[T](f.r, query, args...)
	if err != nil && f.err == nil {
		f.err = err
	}
	return rows
}

// Deducts tells of lines whether they take off what waited in a register, in
// place of billing something.
func (r Reader) Deducts() (func(posting.PaperLine) bool, error) {
	roles, err := r.Roles()
	controls := map[int64]bool{}
	for _, role := range roles {
		controls[role.AccountID] = controls[role.AccountID] || slices.Contains(ledger.Controls, role.Role)
	}
	return func(l posting.PaperLine) bool { return l.Register == "" && l.Net.Own < 0 && controls[l.AccountID] }, err
}

// What follows answers posting.Facts.

func (f *Facts) Currency() money.Currency { return f.currency }

func (f *Facts) CurrencyUsed(code string) bool {
	return f.abroad[code]
}

// Abroad tells whether there is any currency beside the firm's.
func (f *Facts) Abroad() bool { return len(f.abroad) > 0 }

func (f *Facts) RateOn(code string, d day.Day) (posting.Rate, bool) {
	found := all[posting.Rate](f, "SELECT currency, day, rate FROM rates WHERE currency = ? AND day <= ? ORDER BY day DESC LIMIT 1", code, d)
	if len(found) == 0 {
		return posting.Rate{}, false
	}
	return found[0], true
}
func (f *Facts) Today() day.Day         { return f.today }
func (f *Facts) LockedThrough() day.Day { return f.firm.LockedThrough }
func (f *Facts) TaxSettled() day.Day    { through, _ := f.ended(); return through }
func (f *Facts) YearsClosed() []day.Day { _, years := f.ended(); return years }
func (f *Facts) TaxDue() posting.TaxDue {
	return posting.TaxDueAs(f.firm.TaxDue)
}
func (f *Facts) FirmTermsID() int64                { return f.firm.TermsID }
func (f *Facts) FirmTaxCodeID() int64              { return f.firm.TaxCodeID }
func (f *Facts) FirmNote() string                  { return f.firm.InvoiceNote }
func (f *Facts) Limits() master.Limits             { return f.limits }
func (f *Facts) Role(r ledger.Role) ledger.Account { return f.accounts[f.roles[r]] }

func (f *Facts) Account(id int64) (ledger.Account, bool) {
	a, ok := f.accounts[id]
	return a, ok
}

func (f *Facts) BankAccount(id int64) (ledger.BankAccount, bool) {
	for _, b := range f.banks {
		if b.ID == id {
			return b, true
		}
	}
	return ledger.BankAccount{}, false
}

// BankOf answers posting.Facts.
func (f *Facts) BankOf(accountID int64) (ledger.BankAccount, bool) {
	for _, b := range f.banks {
		if b.AccountID == accountID {
			return b, true
		}
	}
	return ledger.BankAccount{}, false
}

func (f *Facts) TaxCode(id int64) (tax.Code, []tax.Rate, bool) {
	c, ok := f.codes[id]
	var rates []tax.Rate
	for _, r := range f.rates {
		if r.TaxCodeID == id {
			rates = append(rates, r)
		}
	}
	return c, rates, ok
}

func (f *Facts) Terms(id int64) (master.Terms, bool) {
	t, ok := f.terms[id]
	return t, ok
}

func (f *Facts) Party(id int64) (master.Party, bool) {
	if id == 0 {
		return master.Party{}, false
	}
	p, seen := f.parties[id]
	if !seen {
		if p, seen = find[master.Party](f, "SELECT * FROM parties WHERE id = ?", id); seen {
			f.parties[id] = p
		}
	}
	return p, seen
}

func (f *Facts) Job(id int64) (master.Job, bool) {
	if id == 0 {
		return master.Job{}, false
	}
	j, ok := find[master.Job](f, "SELECT * FROM jobs WHERE id = ?", id)
	if ok && j.RetentionPercent.IsPositive() {
		j.Releases = all[master.ReleaseShare](f, releasesOf, id)
	}
	return j, ok
}

func (f *Facts) Article(id int64) (master.Article, bool) {
	if id == 0 {
		return master.Article{}, false
	}
	a, seen := f.articles[id]
	if !seen {
		if a, seen = find[master.Article](f, "SELECT * FROM articles WHERE id = ?", id); seen {
			f.articles[id] = a
		}
	}
	return a, seen
}

// selectPaper selects the head of papers with what their families have.
const selectPaper = `SELECT p.id, p.kind, p.about, p.number, p.day, p.party_id, p.party_name, p.party_address, p.job_id, p.title, p.reference, p.note, p.reason, p.total,
	COALESCE(p.currency, '') AS currency, COALESCE(p.rate, '0') AS rate, COALESCE(p.own_total, p.total) AS own_total, p.reverses_id, p.source_id,
	COALESCE(s.from_day, '') AS span_from, COALESCE(s.through_day, '') AS span_through, COALESCE(b.due, '') AS due, COALESCE(b.form, '') AS form, COALESCE(b.subject, '') AS subject, COALESCE(b.salesperson, '') AS salesperson, COALESCE(b.order_number, '') AS order_number, COALESCE(b.beside, 0) AS beside, COALESCE(b.deducted, 0) AS deducted, COALESCE(b.retained, 0) AS retained, COALESCE(b.retained_why, '') AS retained_why, COALESCE(b.supplied, '') AS supplied, b.terms_id, COALESCE(b.includes, 0) AS includes, COALESCE(b.discount, 0) AS discount, COALESCE(b.net, 0) AS net, COALESCE(b.tax, 0) AS tax,
	COALESCE(b.rounding, 0) AS rounding, COALESCE(b.early_percent, '0') AS early_percent, COALESCE(b.early_until, '') AS early_until,
	y.bank_account_id, COALESCE(y.method, '') AS method, COALESCE(y.charges, 0) AS charges, COALESCE(y.withheld, 0) AS withheld, COALESCE(y.cheque, '') AS cheque, COALESCE(y.bank_day, '') AS bank_day,
	COALESCE(o.holds, '') AS holds, COALESCE(o.version, 0) AS version
	FROM papers p LEFT JOIN paper_offers o ON o.paper_id = p.id LEFT JOIN paper_billing b ON b.paper_id = p.id LEFT JOIN paper_payment y ON y.paper_id = p.id LEFT JOIN paper_spans s ON s.paper_id = p.id `

// paperRow is a paper as it is stored, without its lines.
type paperRow struct {
	ID           int64
	Kind         posting.Kind
	About        posting.Kind
	Number       string
	Day          day.Day
	PartyID      int64
	PartyName    string
	PartyAddress string
	JobID        int64
	Title        string
	Reference    string
	Note         string
	Reason       string
	Total        money.Amount
	Currency     string
	Rate         decimal.Decimal
	OwnTotal     money.Amount
	ReversesID   int64
	SourceID     int64
	posting.Billing
	posting.Payment
	posting.Offer
	posting.Span
}

func (f *Facts) readPapers(where string, args ...any) []posting.Paper {
	rows := all[paperRow](f, selectPaper+where, args...)
	papers := make([]posting.Paper, len(rows))
	for n, r := range rows {
		papers[n] = posting.Paper{ID: r.ID, Kind: r.Kind, About: r.About, Number: r.Number, Day: r.Day, PartyID: r.PartyID, PartyName: r.PartyName, PartyAddress: r.PartyAddress, JobID: r.JobID,
			Title: r.Title, Reference: r.Reference, Note: r.Note, Reason: r.Reason, Total: r.OwnTotal, Currency: r.Currency, Rate: r.Rate, Base: r.Total, ReversesID: r.ReversesID,
			SourceID: r.SourceID, Billing: r.Billing, Payment: r.Payment, Offer: r.Offer, Span: r.Span}
		if r.Currency != "" {
			f.ownSums(&papers[n])
		}
	}
	return papers
}

// ownSums gives a paper in another currency its sums in that.
func (f *Facts) ownSums(p *posting.Paper) {
	type sums struct{ Discount, Net, Tax, Rounding, Beside, Deducted, Retained money.Amount }
	all := all[sums](f, "SELECT discount, net, tax, rounding, beside, deducted, retained FROM paper_own_sums WHERE paper_id = ?", p.ID)
	if len(all) == 0 {
		return
	}
	own, b := all[0], &p.Billing
	p.InFirm = posting.Billing{Discount: b.Discount, Net: b.Net, Tax: b.Tax, Rounding: b.Rounding, Beside: b.Beside, Deducted: b.Deducted, Retained: b.Retained}
	b.Discount, b.Net, b.Tax, b.Rounding, b.Beside, b.Deducted, b.Retained = own.Discount, own.Net, own.Tax, own.Rounding, own.Beside, own.Deducted, own.Retained
}

// lineRow is a line of a paper as it is stored.
type lineRow struct {
	PaperID         int64
	Position        int
	ArticleID       int64
	JobID           int64
	Text            string
	Unit            string
	Quantity        decimal.Decimal
	UnitPrice       decimal.Decimal
	DiscountPercent decimal.Decimal
	Discount        money.Amount
	TaxCodeID       int64
	TaxPercent      decimal.Decimal
	AccountID       int64
	Before          money.Amount
	Net             money.Amount
	Tax             money.Amount
	OwnNet          *money.Amount
	OwnTax          *money.Amount
	Register        ledger.Role
	PassOn          posting.Treatment
	Markup          decimal.Decimal
	Joined          bool
}

func (f *Facts) lines(where string, args ...any) []posting.PaperLine {
	rows := all[lineRow](f, `SELECT paper_id, position, article_id, job_id, text, unit, quantity, unit_price, discount_percent, discount, tax_code_id, tax_percent, account_id, before,
		net, tax, own_net, own_tax, COALESCE(register, '') AS register, pass_on, markup, joined FROM paper_lines `+where+" ORDER BY paper_id, position", args...)
	lines := make([]posting.PaperLine, len(rows))
	for n, r := range rows {
		lines[n] = posting.PaperLine{PaperID: r.PaperID, Position: r.Position, ArticleID: r.ArticleID, JobID: r.JobID, Text: r.Text, Unit: r.Unit, Quantity: r.Quantity, UnitPrice: r.UnitPrice,
			DiscountPercent: r.DiscountPercent, Discount: r.Discount, TaxCodeID: r.TaxCodeID, TaxPercent: r.TaxPercent, AccountID: r.AccountID, Before: r.Before,
			Net: worth(r.Net, r.OwnNet), Tax: worth(r.Tax, r.OwnTax), Register: r.Register, PassOn: r.PassOn, Markup: r.Markup, Joined: r.Joined}
	}
	return lines
}

// worth puts an amount together; own is nil in the firm's own currency.
func worth(base money.Amount, own *money.Amount) posting.Worth {
	if own == nil {
		return posting.Firm(base)
	}
	return posting.Worth{Own: *own, Base: base}
}

func (f *Facts) Paper(id int64) (posting.Paper, bool) {
	if p, seen := f.papers[id]; seen {
		return p, true
	}
	if id <= 0 {
		return posting.Paper{}, false
	}
	found := f.readPapers("WHERE p.id = ?", id)
	if len(found) == 0 {
		return posting.Paper{}, false
	}
	p := found[0]
	p.Lines = f.lines("WHERE paper_id = ?", id)
	f.papers[id] = p
	return p, true
}

// KnowPapers reads papers with their lines and uses in one go, for plans that
// ask for very many.
func (f *Facts) KnowPapers(ids []int64) {
	var unknown []int64
	seen := map[int64]bool{}
	for _, id := range ids {
		if _, known := f.papers[id]; !known && !seen[id] && id > 0 {
			seen[id] = true
			unknown = append(unknown, id)
		}
	}
	for chunk := range slices.Chunk(unknown, 1000) {
		for _, p := range f.readPapers("WHERE p.id IN ?", chunk) {
			f.papers[p.ID], f.uses[p.ID] = p, []posting.Use{}
		}
		for _, l := range f.lines("WHERE paper_id IN ?", chunk) {
			p := f.papers[l.PaperID]
			p.Lines = append(p.Lines, l)
			f.papers[l.PaperID] = p
		}
		for _, u := range f.readUses("INDEXED BY uses_of WHERE of_paper_id IN ?", chunk) {
			f.uses[u.Of.PaperID] = append(f.uses[u.Of.PaperID], u)
		}
	}
}

func (f *Facts) ReversedBy(id int64) (string, bool) {
	return value[string](f, "SELECT number FROM papers WHERE reverses_id = ?", id)
}

func (f *Facts) PaperEntries(id int64) []ledger.Entry {
	type row struct {
		EntryID int64
		Text    string
		Day     day.Day
		ledger.Line
	}
	var entries []ledger.Entry
	last := int64(0)
	for _, r := range all[row](f, `SELECT l.entry_id, e.text, e.day, `+lineColumns+`
		FROM entries e JOIN entry_lines l ON l.entry_id = e.id WHERE e.paper_id = ? AND e.allocation_id IS NULL ORDER BY l.id`, id) {
		if r.EntryID != last {
			entries = append(entries, ledger.Entry{Day: r.Day, Text: r.Text})
			last = r.EntryID
		}
		e := &entries[len(entries)-1]
		e.Lines = append(e.Lines, r.Line)
	}
	return entries
}

func (f *Facts) NumberTaken(k posting.Kind, number string) bool {
	key := string(k) + " " + number
	taken, known := f.taken[key]
	if !known {
		_, taken = value[int64](f, "SELECT id FROM papers WHERE kind = ? AND number = ?", k, number)
		f.taken[key] = taken
	}
	return taken
}

// NextNumber gives the next free number of the kind's series, or so many
// after it.
func (f *Facts) NextNumber(k posting.Kind, d day.Day, ahead int) string {
	prefix, width := f.series(k, d)
	key := string(k) + " " + prefix + " " + strconv.Itoa(ahead)
	if number, known := f.given[key]; known {
		return number
	}
	next, _ := value[int64](f, "SELECT next FROM number_series WHERE kind = ? AND prefix = ?", k, prefix)
	for next = max(next, 1); ; next++ {
		number := prefix + posting.Padded(next, width)
		if f.NumberTaken(k, number) {
			continue
		}
		if ahead == 0 {
			f.given[key] = number
			return number
		}
		ahead--
	}
}

// series returns the prefix and width of the series that a paper falls in.
func (f *Facts) series(k posting.Kind, d day.Day) (string, int) {
	return posting.Series(f.formats[k], d)
}

func (f *Facts) SamePayment(party int64, reference string, amount money.Amount, since day.Day) (string, bool) {
	return value[string](f, `SELECT p.number FROM papers p JOIN kinds k ON k.kind = p.kind WHERE p.party_id = ? AND p.day >= ? AND p.reference = ? AND COALESCE(p.own_total, p.total) = ? AND k.payment = 1
		AND NOT EXISTS (SELECT 1 FROM papers r WHERE r.reverses_id = p.id) ORDER BY p.day DESC LIMIT 1`, party, since, reference, amount)
}

func (f *Facts) AccountBalance(id int64) money.Amount {
	v, _ := value[money.Amount](f, "SELECT COALESCE(SUM(debit - credit), 0) FROM account_days WHERE account_id = ?", id)
	return v
}

// AccountDays begins with the balance at the end of the first day.
func (f *Facts) AccountDays(id int64, from day.Day) []posting.DayBalance {
	at := all[posting.DayBalance](f, "SELECT COALESCE(SUM(debit - credit), 0) AS balance, COALESCE(SUM(own), 0) AS own FROM account_days WHERE account_id = ? AND day <= ?", id, from)[0]
	at.Day = from
	days := []posting.DayBalance{at}
	for _, d := range all[posting.DayBalance](f, "SELECT day, debit - credit AS balance, own FROM account_days WHERE account_id = ? AND day > ? ORDER BY day", id, from) {
		at = posting.DayBalance{Day: d.Day, Balance: at.Balance + d.Balance, Own: at.Own + d.Own}
		days = append(days, at)
	}
	return days
}

func (f *Facts) PartyBalance(register ledger.Role, party int64) money.Amount {
	v, _ := value[money.Amount](f, "SELECT COALESCE(SUM(open), 0) FROM open_items WHERE register = ? AND party_id = ? AND open <> 0", register, party)
	return v
}

func (f *Facts) JobBilled(job int64) money.Amount {
	v, _ := value[money.Amount](f, "SELECT COALESCE(SUM(b.net - b.beside), 0) FROM papers p JOIN kinds k ON k.kind = p.about JOIN paper_billing b ON b.paper_id = p.id WHERE p.job_id = ? AND k.bills = 1", job)
	return v
}
