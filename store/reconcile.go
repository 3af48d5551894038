package store

import (
	"database/sql"

	"fmt"

	"cleantally/core/day"
	"cleantally/core/money"
	"cleantally/core/reporting"
)

// Reconciling is how a bank account stands between the books and the bank at the
// end of a day.
type Reconciling struct {
	Ledger      money.Amount
	Bank        money.Amount
	Known       bool // whether the bank has said a balance
	Unexplained int64
	NotAtBank   []WaitingMovement // posted through the day, and told by no line through it
	NotInBooks  []BankLine        // told through the day, and posted after it
}

// Apart is what the books and the bank differ by, once what is on the way is told.
func (r Reconciling) Apart() money.Amount { return r.Ledger - r.Bank - r.Waiting() }

// Waiting is what is not at the bank yet, less what is not in the books yet.
func (r Reconciling) Waiting() money.Amount {
	var sum money.Amount
	for _, m := range r.NotAtBank {
		sum += m.Amount
	}
	for _, l := range r.NotInBooks {
		sum -= l.Amount
	}
	return sum
}

// Reconciliation is a proof that was made.
type Reconciliation struct {
	ID         int64
	ThroughDay day.Day
	Ledger     money.Amount
	Bank       money.Amount
	Waiting    money.Amount
	At         string // UTC
	User       string
}

// Reconcile returns how an account stands at the end of a day. What was posted
// before its first statement is in what that begins with.
func (r Reader) Reconcile(bank int64, through day.Day) (x Reconciling, err error) {
	if x.Bank, x.Known, err = r.BankBalance(bank, through); err != nil || !x.Known {
		return x, err
	}
	args := map[string]any{"bank": bank, "through": through}
	if x.Ledger, err = r.BankLedger(bank, through); err != nil {
		return x, err
	}
	if x.Unexplained, _, err = one[int64](r, "SELECT COUNT(*) FROM lines_unexplained w CROSS JOIN bank_lines l ON l.id = w.bank_line_id WHERE l.bank_account_id = @bank AND l.day <= @through", args); err != nil {
		return x, err
	}
	// A movement and its reversal explain each other, once both are there.
	x.NotAtBank, err = scan[WaitingMovement](r, selectWaiting+` FROM (SELECT w.movement_id AS id FROM bank_accounts k JOIN movements_waiting w ON w.account_id = k.account_id WHERE k.id = @bank
				AND `+mayWait+` AND w.day <= @through
			UNION SELECT t.movement_id FROM bank_lines l JOIN ties t ON t.bank_line_id = l.id AND `+tieStands+` WHERE l.bank_account_id = @bank AND l.day > @through) m CROSS JOIN entry_lines e ON e.id = m.id AND e.day <= @through`+ofMovement+`
		WHERE NOT EXISTS (SELECT 1 FROM papers r WHERE r.reverses_id = p.id AND r.kind <> 'returned payment' AND r.day <= @through) AND (p.reverses_id IS NULL OR p.kind = 'returned payment') ORDER BY e.day, e.id`, args)
	if err != nil {
		return x, err
	}
	x.NotInBooks, err = scan[BankLine](r, `SELECT l.*, COALESCE(l.statement_id, 0) AS statement_id FROM bank_lines l WHERE l.bank_account_id = @bank AND l.day <= @through
		AND EXISTS (SELECT 1 FROM ties t JOIN entry_lines e ON e.id = t.movement_id WHERE t.bank_line_id = l.id AND e.day > @through AND `+tieStands+`) ORDER BY l.day, l.id`, args)
	return x, err
}

// Reconciliations returns the proofs that were made of an account, the newest
// first.
func (r Reader) Reconciliations(bank int64) ([]Reconciliation, error) {
	return scan[Reconciliation](r, `SELECT c.id, c.through_day, c.ledger, c.bank, c.waiting, a.at, COALESCE(u.name, '') AS user FROM bank_reconciliations c JOIN acts a ON a.id = c.act_id LEFT JOIN users u ON u.id = a.user_id
		WHERE c.bank_account_id = ? ORDER BY c.id DESC LIMIT 100`, bank)
}

// AddReconciliation keeps a proof, under an act.
func (tx *Tx) AddReconciliation(act, bank int64, through day.Day, x Reconciling) error {
	_, err := tx.exec(`INSERT INTO bank_reconciliations (act_id, bank_account_id, through_day, ledger, bank, waiting, last_entry, last_tie, last_line) VALUES (?, ?, ?, ?, ?, ?,
		(SELECT COALESCE(MAX(id), 0) FROM entries), (SELECT COALESCE(MAX(id), 0) FROM ties), (SELECT COALESCE(MAX(id), 0) FROM bank_lines))`, act, bank, through, x.Ledger, x.Bank, x.Waiting())
	return err
}

// ReconciledThrough is the last day through which an account was reconciled; ""
// for never.
func (r Reader) ReconciledThrough(bank int64) (day.Day, error) {
	d, _, err := one[day.Day](r, "SELECT COALESCE(MAX(through_day), '') FROM bank_reconciliations WHERE bank_account_id = ?", bank)
	return d, err
}

// LastProof is the last proof of an account through a day at the latest.
type LastProof struct {
	BankAccountID int64
	Name          string
	Currency      string // ISO 4217; "" for the firm's own
	AccountID     int64
	ThroughDay    day.Day
	Changed       bool // something of the time until then was posted, tied, freed or read since
}

// LastProofs returns that of every account that was reconciled.
func (r Reader) LastProofs(at day.Day) ([]LastProof, error) {
	return scan[LastProof](r, `SELECT k.id AS bank_account_id, k.name, k.currency, k.account_id, c.through_day,
			EXISTS (SELECT 1 FROM entries h JOIN entry_lines e ON e.entry_id = h.id WHERE h.id > c.last_entry AND e.account_id = k.account_id AND e.day <= c.through_day)
			OR EXISTS (SELECT 1 FROM ties t JOIN bank_lines l ON l.id = t.bank_line_id WHERE t.id > c.last_tie AND l.bank_account_id = k.id AND l.day <= c.through_day)
			OR EXISTS (SELECT 1 FROM freed_ties x JOIN ties t ON t.id = x.tie_id JOIN bank_lines l ON l.id = t.bank_line_id WHERE x.act_id > c.act_id AND l.bank_account_id = k.id AND l.day <= c.through_day)
			OR EXISTS (SELECT 1 FROM bank_lines l WHERE l.id > c.last_line AND l.bank_account_id = k.id AND l.day <= c.through_day) AS changed
		FROM bank_accounts k
		JOIN bank_reconciliations c ON c.id = (SELECT x.id FROM bank_reconciliations x WHERE x.bank_account_id = k.id AND x.through_day <= ? ORDER BY x.through_day DESC, x.id DESC LIMIT 1) ORDER BY k.id`, at)
}

// TieOutWithBanks proves that every control account equals its register at the end
// of a day, and that each bank account that was ever reconciled is what its last
// reconciled statement says, with what is on the way and what came since
// (docs/rules.md, part 9).
func (r Reader) TieOutWithBanks(asOf day.Day) (reporting.TieOut, error) {
	t, err := r.TieOut(asOf)
	if err != nil {
		return t, err
	}
	proofs, err := r.LastProofs(asOf)
	for _, p := range proofs {
		var x Reconciling
		if p.Changed {
			if x, err = r.Reconcile(p.BankAccountID, p.ThroughDay); err != nil {
				return t, err
			}
		}
		now, err := r.BankLedger(p.BankAccountID, asOf)
		if err != nil {
			return t, err
		}
		t.Ties = append(t.Ties, reporting.Tie{AccountID: p.AccountID, Account: p.Name, Register: fmt.Sprintf("bank, reconciled through %s", p.ThroughDay.Show()), Ledger: now, Sum: now - x.Apart(), BankAccountID: p.BankAccountID, Through: p.ThroughDay, Currency: p.Currency})
	}
	return t, err
}

// BankLedger is what the books say of a bank account at the end of a day, in its
// own currency.
func (r Reader) BankLedger(bank int64, at day.Day) (money.Amount, error) {
	sum, _, err := one[money.Amount](r, "SELECT COALESCE(SUM("+ownDay+"), 0) FROM bank_accounts k JOIN account_days d ON d.account_id = k.account_id WHERE k.id = ? AND d.day <= ?", bank, at)
	return sum, err
}

// TakingsHeld is what waits in card takings at the end of a day.
func (r Reader) TakingsHeld(at day.Day) (money.Amount, error) {
	sum, _, err := one[money.Amount](r, "SELECT COALESCE(SUM(d.debit - d.credit), 0) FROM bank_accounts k JOIN account_days d ON d.account_id = k.account_id WHERE k.takings = 1 AND d.day <= ?", at)
	return sum, err
}

// CashCount is a count of a till that was kept.
type CashCount struct {
	ID            int64
	BankAccountID int64
	Day           day.Day
	Pieces        string // as JSON: how many of each note and coin
	Counted       money.Amount
	Ledger        money.Amount
	At            string `gorm:"->"` // UTC
	User          string `gorm:"->"`
}

// AddCashCount keeps one, under an act.
func (tx *Tx) AddCashCount(act int64, c CashCount) error {
	_, err := tx.exec("INSERT INTO cash_counts (act_id, bank_account_id, day, pieces, counted, ledger) VALUES (?, ?, ?, ?, ?, ?)", act, c.BankAccountID, c.Day, c.Pieces, c.Counted, c.Ledger)
	return err
}

// CashCounts returns those of a till, the newest first.
func (r Reader) CashCounts(bank int64) ([]CashCount, error) {
	return scan[CashCount](r, `SELECT c.*, a.at, COALESCE(u.name, '') AS user FROM cash_counts c JOIN acts a ON a.id = c.act_id LEFT JOIN users u ON u.id = a.user_id
		WHERE c.bank_account_id = ? ORDER BY c.day DESC, c.id DESC LIMIT 100`, bank)
}

// NotReconciled returns the names of the bank accounts with lines of statements
// through a day that no proof reaches.
func (r Reader) NotReconciled(through day.Day) ([]string, error) {
	return scan[string](r, `SELECT k.name FROM bank_accounts k WHERE EXISTS (SELECT 1 FROM bank_lines l WHERE l.bank_account_id = k.id AND l.day <= @through)
		AND NOT EXISTS (SELECT 1 FROM bank_reconciliations c WHERE c.bank_account_id = k.id AND c.through_day >= @through) ORDER BY k.id`, sql.Named("through", string(through)))
}
