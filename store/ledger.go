package store

import (
	"cleantally/core/day"
	"cleantally/core/ledger"
	"cleantally/core/money"
)

// AccountBalance is an account with what stands on it at the end of a day.
type AccountBalance struct {
	ledger.Account
	Role   ledger.Role
	Debit  money.Amount // all debits through the day
	Credit money.Amount
}

// Balance is debits less credits.
func (a AccountBalance) Balance() money.Amount { return a.Debit - a.Credit }

// TrialBalance returns every account with its movements through a day, by
// number.
func (r Reader) TrialBalance(asOf day.Day) ([]AccountBalance, error) {
	return scan[AccountBalance](r, `SELECT a.*, COALESCE(o.role, '') AS role, COALESCE(SUM(d.debit), 0) AS debit, COALESCE(SUM(d.credit), 0) AS credit
		FROM accounts a LEFT JOIN roles o ON o.account_id = a.id LEFT JOIN account_days d ON d.account_id = a.id AND d.day <= ?
		GROUP BY a.id ORDER BY a.number`, asOf)
}

// AccountLine is a line of an account's register with the balance after it.
type AccountLine struct {
	ID int64
	EntryLine
	Balance money.Amount
}

// AccountLines returns the lines of an account in a span, the oldest first,
// after the line with the given ID (0 for the first), each with the running
// balance. It is counted on from the balance before the stretch, so that a page
// costs the same however long the account is.
func (r Reader) AccountLines(accountID int64, from, to day.Day, after int64, limit int) ([]AccountLine, bool, error) {
	balance, err := r.balanceBefore(accountID, from, after)
	if err != nil {
		return nil, false, err
	}
	query := `SELECT l.id, e.id AS entry_id, e.paper_id, p.number AS paper, p.kind, e.day, e.text, l.account_id, l.amount, l.party_id, l.job_id,
		COALESCE(c.name, '') AS party, COALESCE(j.number, '') AS job
		FROM entry_lines l JOIN entries e ON e.id = l.entry_id JOIN papers p ON p.id = e.paper_id
		LEFT JOIN parties c ON c.id = l.party_id LEFT JOIN jobs j ON j.id = l.job_id
		WHERE l.account_id = ? AND l.day BETWEEN ? AND ? AND (? = 0 OR (l.day, l.id) > (SELECT x.day, x.id FROM entry_lines x WHERE x.id = ?))
		ORDER BY l.day, l.id`
	args := []any{accountID, from, to, after, after}
	if limit > 0 {
		query += " LIMIT ?"
		args = append(args, limit+1)
	}
	rows, err := scan[AccountLine](r, query, args...)
	more := limit > 0 && len(rows) > limit
	if more {
		rows = rows[:limit]
	}
	for i := range rows {
		balance += rows[i].Amount
		rows[i].Balance = balance
	}
	return rows, more, err
}

// OpeningOf returns what stood on an account at the beginning of a day.
func (r Reader) OpeningOf(accountID int64, from day.Day) (money.Amount, error) {
	return r.balanceBefore(accountID, from, 0)
}

// balanceBefore is the balance at the beginning of a day, or after the line
// with the given ID.
func (r Reader) balanceBefore(accountID int64, from day.Day, line int64) (money.Amount, error) {
	if line == 0 {
		v, _, err := one[money.Amount](r, "SELECT COALESCE(SUM(debit - credit), 0) FROM account_days WHERE account_id = ? AND day < ?", accountID, from)
		return v, err
	}
	v, _, err := one[money.Amount](r, `SELECT COALESCE((SELECT SUM(d.debit - d.credit) FROM account_days d WHERE d.account_id = x.account_id AND d.day < x.day), 0)
		+ COALESCE((SELECT SUM(l.amount) FROM entry_lines l WHERE l.account_id = x.account_id AND l.day = x.day AND l.id <= x.id), 0)
		FROM entry_lines x WHERE x.id = ?`, line)
	return v, err
}

// Journal returns entries, the newest first, with their lines, before the
// entry with the given ID (0 for the newest).
func (r Reader) Journal(from, to day.Day, after int64, limit int) ([]EntryLine, bool, error) {
	heads, err := scan[int64](r, `SELECT id FROM entries WHERE day BETWEEN ? AND ? AND (? = 0 OR (day, id) < (SELECT x.day, x.id FROM entries x WHERE x.id = ?))
		ORDER BY day DESC, id DESC LIMIT ?`, from, to, after, after, limit+1)
	if err != nil || len(heads) == 0 {
		return nil, false, err
	}
	more := len(heads) > limit
	if more {
		heads = heads[:limit]
	}
	rows, err := scan[EntryLine](r, selectLines+"WHERE e.id IN ? ORDER BY e.day DESC, e.id DESC, l.id", heads)
	return rows, more, err
}

// AccountBalanceOn returns what stands on an account at the end of a day,
// debits less credits.
func (r Reader) AccountBalanceOn(accountID int64, d day.Day) (money.Amount, error) {
	v, _, err := one[money.Amount](r, "SELECT COALESCE(SUM(debit - credit), 0) FROM account_days WHERE account_id = ? AND day <= ?", accountID, d)
	return v, err
}
