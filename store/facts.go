package store

import (
	"database/sql"
	"errors"
	"strconv"
	"strings"

	"cleantally/core/day"
	"cleantally/core/ledger"
	"cleantally/core/master"
	"cleantally/core/money"
	"cleantally/core/posting"
	"cleantally/core/tax"
)

// Facts answers what a plan asks, from inside one transaction. The first
// failure of the store is kept; whoever plans must look at Err before the
// effect is used.
type Facts struct {
	r     Reader
	today day.Day
	*chart
	items   map[posting.ItemRef]posting.Item
	parties map[int64]master.Party
	papers  map[int64]posting.Paper
	moves   map[posting.ItemRef][]posting.Move
	given   map[string]string // the next number of a series, by kind and prefix
	taken   map[string]bool   // whether a number is, by kind and number
	err     error
}

// Facts returns the facts as of this transaction.
func (r Reader) Facts(today day.Day) (*Facts, error) {
	f := &Facts{r: r, today: today, items: map[posting.ItemRef]posting.Item{},
		parties: map[int64]master.Party{}, papers: map[int64]posting.Paper{}, moves: map[posting.ItemRef][]posting.Move{},
		given: map[string]string{}, taken: map[string]bool{}}
	var err error
	f.chart, err = r.loadChart()
	return f, err
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

// What follows answers posting.Facts.

func (f *Facts) Currency() money.Currency          { return f.currency }
func (f *Facts) Today() day.Day                    { return f.today }
func (f *Facts) LockedThrough() day.Day            { return f.firm.LockedThrough }
func (f *Facts) FirmTermsID() int64                { return f.firm.TermsID }
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

func (f *Facts) IsBank(accountID int64) bool {
	for _, b := range f.banks {
		if b.AccountID == accountID {
			return true
		}
	}
	return false
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
	return find[master.Job](f, "SELECT * FROM jobs WHERE id = ?", id)
}

func (f *Facts) CatalogueItem(id int64) (master.Item, bool) {
	if id == 0 {
		return master.Item{}, false
	}
	return find[master.Item](f, "SELECT * FROM items WHERE id = ?", id)
}

func (f *Facts) Paper(id int64) (posting.Paper, bool) {
	if p, seen := f.papers[id]; seen {
		return p, true
	}
	p, ok := find[posting.Paper](f, "SELECT * FROM papers WHERE id = ?", id)
	if ok {
		p.Lines = all[posting.PaperLine](f, "SELECT * FROM paper_lines WHERE paper_id = ? ORDER BY position", id)
		if f.papers != nil {
			f.papers[id] = p
		}
	}
	return p, ok
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
	for _, r := range all[row](f, `SELECT l.entry_id, e.text, e.day, l.account_id, l.amount, l.party_id, l.job_id, l.tax_code_id, l.item_id
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

const selectItem = `SELECT i.*, p.kind, p.number, p.early_until FROM open_items i JOIN papers p ON p.id = i.paper_id `

func (f *Facts) PaperItems(id int64) []posting.Item {
	return all[posting.Item](f, selectItem+"WHERE i.paper_id = ? ORDER BY i.id", id)
}

func (f *Facts) Item(id posting.ItemRef) (posting.Item, bool) {
	if i, seen := f.items[id]; seen {
		return i, true
	}
	i, ok := find[posting.Item](f, selectItem+"WHERE i.id = ?", id)
	if ok {
		f.items[id] = i
	}
	return i, ok
}

// ItemMoves are read once: a plan may set thousands of items against one.
func (f *Facts) ItemMoves(id posting.ItemRef) []posting.Move {
	if m, seen := f.moves[id]; seen {
		return m
	}
	m := all[posting.Move](f, "SELECT item_id AS item, day, amount, tax, allocation_id AS allocation FROM item_moves WHERE item_id = ?", id)
	f.moves[id] = m
	return m
}

func (f *Facts) ItemLines(id posting.ItemRef) []ledger.Line {
	return all[ledger.Line](f, "SELECT account_id, amount, party_id, job_id, tax_code_id, item_id FROM entry_lines WHERE item_id = ? ORDER BY id", id)
}

func (f *Facts) StandingOn(id int64) []posting.Paper {
	return all[posting.Paper](f, "SELECT * FROM papers p WHERE source_id = ? AND NOT EXISTS (SELECT 1 FROM papers r WHERE r.reverses_id = p.id) ORDER BY id", id)
}

func (f *Facts) OpenOn(d day.Day) []posting.Item {
	open, err := f.r.openAt(d)
	if err != nil {
		f.err = errors.Join(f.err, err)
		return nil
	}
	return all[posting.Item](f, "SELECT i.*, p.kind, p.number FROM "+open+" i JOIN papers p ON p.id = i.paper_id WHERE i.register IN ('receivables', 'retention') ORDER BY i.id")
}

func (f *Facts) DisputeOf(id posting.ItemRef) (posting.Dispute, bool) {
	d, ok := find[posting.Dispute](f, "SELECT item_id AS item, day, reason FROM disputes WHERE item_id = ? ORDER BY id DESC LIMIT 1", id)
	return d, ok && d.Reason != ""
}

func (f *Facts) ChequeTaken(bank int64, number string) bool {
	_, taken := value[int64](f, "SELECT id FROM papers WHERE bank_account_id = ? AND cheque = ? AND cheque <> '' LIMIT 1", bank, number)
	return taken
}

// NextCheque is the number after the last cheque of the bank account.
func (f *Facts) NextCheque(bank int64) string {
	last, ok := value[string](f, "SELECT cheque FROM papers WHERE bank_account_id = ? AND cheque <> '' AND cheque NOT GLOB '*[^0-9]*' ORDER BY CAST(cheque AS INTEGER) DESC LIMIT 1", bank)
	if !ok {
		return firstCheque
	}
	n, err := strconv.ParseInt(last, 10, 64)
	if err != nil {
		return firstCheque
	}
	return padded(n+1, len(last))
}

// firstCheque is the number of a firm's first cheque unless it says otherwise.
const firstCheque = "000101"

const selectAllocation = "SELECT id, debit_id AS debit, credit_id AS credit, amount, tax, day, undoes FROM allocations a "

func (f *Facts) Allocation(id int64) (posting.Allocation, bool) {
	return find[posting.Allocation](f, selectAllocation+"WHERE id = ?", id)
}

func (f *Facts) UndoneOn(id int64) day.Day {
	d, _ := value[day.Day](f, "SELECT day FROM allocations WHERE undoes = ?", id)
	return d
}

func (f *Facts) AllocationsOf(id posting.ItemRef) []posting.Allocation {
	return all[posting.Allocation](f, selectAllocation+`WHERE (debit_id = ? OR credit_id = ?) AND +undoes IS NULL
		AND NOT EXISTS (SELECT 1 FROM allocations u WHERE u.undoes = a.id) ORDER BY id`, id, id)
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
		number := prefix + padded(next, width)
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
	return SeriesOf(f.formats[k], d)
}

// SeriesOf splits a numbering format into the prefix of the series that a day
// falls in and the width of its running number.
func SeriesOf(format string, d day.Day) (prefix string, width int) {
	year := strconv.Itoa(d.Year())
	format = strings.ReplaceAll(strings.ReplaceAll(format, "{yyyy}", year), "{yy}", year[max(len(year)-2, 0):])
	open := strings.IndexByte(format, '{')
	if open < 0 {
		return format, 4
	}
	return format[:open], strings.Count(format[open:], "0")
}

func padded(n int64, width int) string {
	s := strconv.FormatInt(n, 10)
	return strings.Repeat("0", max(width-len(s), 0)) + s
}

func (f *Facts) SamePayment(party int64, reference string, amount money.Amount, since day.Day) (string, bool) {
	return value[string](f, `SELECT p.number FROM papers p WHERE p.party_id = ? AND p.day >= ? AND p.reference = ? AND p.total = ? AND p.kind IN ('deposit', 'receipt', 'recovery', 'supplier bill')
		AND NOT EXISTS (SELECT 1 FROM papers r WHERE r.reverses_id = p.id) ORDER BY p.day DESC LIMIT 1`, party, since, reference, amount)
}

func (f *Facts) AccountBalance(id int64) money.Amount {
	v, _ := value[money.Amount](f, "SELECT COALESCE(SUM(debit - credit), 0) FROM account_days WHERE account_id = ?", id)
	return v
}

func (f *Facts) AccountBalanceOn(id int64, d day.Day) money.Amount {
	v, _ := value[money.Amount](f, "SELECT COALESCE(SUM(debit - credit), 0) FROM account_days WHERE account_id = ? AND day <= ?", id, d)
	return v
}

func (f *Facts) PartyBalance(register ledger.Role, party int64) money.Amount {
	v, _ := value[money.Amount](f, "SELECT COALESCE(SUM(open), 0) FROM open_items WHERE register = ? AND party_id = ? AND open <> 0", register, party)
	return v
}

func (f *Facts) JobBilled(job int64) money.Amount {
	v, _ := value[money.Amount](f, "SELECT COALESCE(SUM(net), 0) FROM papers WHERE job_id = ?", job)
	return v
}
