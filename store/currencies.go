package store

import (
	"cleantally/core/day"
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
	if code == "" || err != nil {
		return cur, err
	}
	own, err := money.CurrencyOf(code)
	own.Marks = cur.Marks
	return own, err
}

// StandsIn is what still stands in a currency: the number of a paper of which
// something is open, or the name of a bank account; "" for nothing.
func (r Reader) StandsIn(currency string) (string, error) {
	what, _, err := one[string](r, `SELECT p.number FROM open_items i JOIN papers p ON p.id = i.paper_id WHERE i.currency = @code AND i.open <> 0
		UNION ALL SELECT name FROM bank_accounts WHERE currency = @code AND inactive = 0 LIMIT 1`, map[string]any{"code": currency})
	return what, err
}
