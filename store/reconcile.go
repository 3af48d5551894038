package store

import (
	"cleantally/core/day"
	"cleantally/core/money"
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
	if x.Ledger, _, err = one[money.Amount](r, "SELECT COALESCE(SUM(d.debit - d.credit), 0) FROM bank_accounts k JOIN account_days d ON d.account_id = k.account_id WHERE k.id = @bank AND d.day <= @through", args); err != nil {
		return x, err
	}
	if x.Unexplained, _, err = one[int64](r, "SELECT COUNT(*) FROM bank_lines l WHERE l.bank_account_id = @bank AND l.day <= @through AND NOT "+isTied, args); err != nil {
		return x, err
	}
	// A movement and its reversal explain each other, once both are there.
	x.NotAtBank, err = scan[WaitingMovement](r, selectWaiting+" "+fromWaiting+`WHERE k.id = @bank AND e.day <= @through AND e.day >= (SELECT MIN(s.from_day) FROM bank_statements s WHERE s.bank_account_id = k.id)
			AND NOT EXISTS (SELECT 1 FROM ties t JOIN bank_lines l ON l.id = t.bank_line_id WHERE t.movement_id = e.id AND l.day <= @through AND `+tieStands+`)
			AND NOT EXISTS (SELECT 1 FROM papers r WHERE r.reverses_id = p.id AND r.day <= @through) AND (p.reverses_id IS NULL OR p.kind = 'returned payment') ORDER BY e.day, e.id`, args)
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
	_, err := tx.exec("INSERT INTO bank_reconciliations (act_id, bank_account_id, through_day, ledger, bank, waiting) VALUES (?, ?, ?, ?, ?, ?)", act, bank, through, x.Ledger, x.Bank, x.Waiting())
	return err
}
