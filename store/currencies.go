package store

import (
	"slices"

	"cleantally/core/day"
	"cleantally/core/ledger"
	"cleantally/core/money"
	"cleantally/core/posting"

	"github.com/shopspring/decimal"
)

// RateRow is a rate as it is listed.
type RateRow struct {
	Currency string
	Day      day.Day
	Rate     decimal.Decimal
	Source   string // where it comes from; "" for by hand
}

// Rates returns the rates of a currency, the newest first, at most so many from a
// day back; "" for the newest.
func (r Reader) Rates(currency string, before day.Day, most int) ([]RateRow, error) {
	if before == "" {
		before = day.EndOfTime
	}
	return scan[RateRow](r, "SELECT currency, day, rate, source FROM rates WHERE currency = ? AND day < ? ORDER BY day DESC LIMIT ?", currency, before, most)
}

// RateOn returns the newest rate of a currency that is not after a day.
func (r Reader) RateOn(currency string, d day.Day) (RateRow, bool, error) {
	return one[RateRow](r, "SELECT currency, day, rate, source FROM rates WHERE currency = ? AND day <= ? ORDER BY day DESC LIMIT 1", currency, d)
}

// SetRate stores a rate in place of the one of that day, and tells whether there
// was one, and whether it said the same.
func (tx *Tx) SetRate(rate posting.Rate, source string) (was, same bool, err error) {
	old, was, err := one[decimal.Decimal](tx.Reader, "SELECT rate FROM rates WHERE currency = ? AND day = ?", rate.Currency, rate.Day)
	if err != nil || was && old.Equal(rate.Rate) {
		return was, was, err
	}
	_, err = tx.exec("INSERT INTO rates (currency, day, rate, source) VALUES (?, ?, ?, ?) ON CONFLICT DO UPDATE SET rate = excluded.rate, source = excluded.source", rate.Currency, rate.Day, rate.Rate, source)
	return was, false, err
}

// DropRate removes the rate of a day, and tells whether there was one.
func (tx *Tx) DropRate(currency string, d day.Day) (bool, error) {
	res, err := tx.exec("DELETE FROM rates WHERE currency = ? AND day = ?", currency, d)
	if err != nil {
		return false, err
	}
	n, err := res.RowsAffected()
	return n > 0, err
}

// BankCurrency is the currency of a bank account, as people of the firm read it.
func (r Reader) BankCurrency(bank int64) (money.Currency, error) {
	cur, err := r.Currency()
	if err != nil {
		return cur, err
	}
	code, _, err := one[string](r, "SELECT currency FROM bank_accounts WHERE id = ?", bank)
	return cur.In(code), err
}

// StandsIn is what still stands in a currency: the number of a paper of which
// something is open, or the name of a bank account; "" for nothing.
func (r Reader) StandsIn(currency string) (string, error) {
	what, _, err := one[string](r, `SELECT p.number FROM open_items i JOIN papers p ON p.id = i.paper_id WHERE i.currency = @code AND i.open <> 0
		UNION ALL SELECT name FROM bank_accounts WHERE currency = @code AND inactive = 0 LIMIT 1`, map[string]any{"code": currency})
	return what, err
}

// OpenAbroad answers closing.AbroadFacts.
func (f *Facts) OpenAbroad(d day.Day) []posting.Item {
	moved, err := f.r.movedAfter(d)
	if err != nil && f.err == nil {
		f.err = err
	}
	return f.readItems(openWhere(moved, "i.currency > ''"), "", asOf(d))
}

// BanksAbroad answers closing.AbroadFacts.
func (f *Facts) BanksAbroad() []ledger.BankAccount {
	return slices.DeleteFunc(slices.Clone(f.banks), func(b ledger.BankAccount) bool { return b.Currency == "" })
}

// RevaluedOn answers closing.AbroadFacts.
func (f *Facts) RevaluedOn(d day.Day) (string, bool) {
	return value[string](f, "SELECT p.number FROM papers p WHERE p.kind = 'revaluation' AND p.day = ? AND NOT EXISTS (SELECT 1 FROM papers r WHERE r.reverses_id = p.id)", d)
}

// ExchangeBetween is what stands on the account of exchange for a span, debits less
// credits: in all, and of it by revaluing.
func (r Reader) ExchangeBetween(from, through day.Day) (all, revalued money.Amount, err error) {
	type sums struct{ Total, Revalued money.Amount }
	s, _, err := one[sums](r, `SELECT COALESCE(SUM(l.amount), 0) AS total, COALESCE(SUM(CASE WHEN p.about = 'revaluation' THEN l.amount END), 0) AS revalued
		FROM entry_lines l JOIN roles o ON o.account_id = l.account_id AND o.role = 'exchange' JOIN entries e ON e.id = l.entry_id JOIN papers p ON p.id = e.paper_id
		WHERE l.day BETWEEN ? AND ? AND p.about <> 'year end'`, from, through)
	return s.Total, s.Revalued, err
}

// RevaluationOf is the paper by which what was open at the end of a day was
// revalued; 0 for none.
func (r Reader) RevaluationOf(d day.Day) (int64, string, error) {
	type paper struct {
		ID     int64
		Number string
	}
	p, _, err := one[paper](r, "SELECT p.id, p.number FROM papers p WHERE p.kind = 'revaluation' AND p.day = ? AND NOT EXISTS (SELECT 1 FROM papers x WHERE x.reverses_id = p.id)", d)
	return p.ID, p.Number, err
}
