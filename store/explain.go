package store

import (
	"database/sql"

	"cleantally/core/banking"
	"cleantally/core/day"
	"cleantally/core/ledger"
	"cleantally/core/money"
	"cleantally/core/posting"
)

// Explainable is what a line of a bank's statement may be: something posted that
// no line is tied to, something open that it may settle, a payment that may have
// come back, or a payout that was told of.
type Explainable struct {
	MovementID int64 // 0 for what is not posted
	ItemID     int64
	Register   ledger.Role
	PaperID    int64
	Kind       posting.Kind
	Number     string
	Day        day.Day
	PartyID    int64
	Party      string
	IBAN       string
	Reference  string
	Cheque     string
	EarlyUntil day.Day
	JobID      int64
	Told       int64
	Takings    bool         // all that waits in card takings
	Returned   bool         // it came, and the bank may have taken it back
	Amount     money.Amount // signed as the bank would say it
}

// returnedWithin is how long after a payment the bank may take it back.
const returnedWithin = 90

// fromFirst is the day from which on what was posted may be on a statement: some
// days before the first, or that on which the firm began with what was not at the
// bank.
const fromFirst = "(SELECT COALESCE(MIN(d), '0001-01-01') FROM (SELECT date(MIN(s.from_day), '-10 days') AS d FROM bank_statements s WHERE s.bank_account_id = @bank UNION ALL SELECT o.day " + onTheWay + " AND z.bank_account_id = @bank))"

// Explainables returns what the lines of a bank account through a day may be.
// Since is the day of the first of them.
func (r Reader) Explainables(bank int64, since, through day.Day) ([]Explainable, error) {
	args := []any{sql.Named("bank", bank), sql.Named("through", through), sql.Named("since", since), sql.Named("back", since.Add(-returnedWithin))}
	all, err := r.openToExplain(bank, since, through)
	if err != nil {
		return nil, err
	}
	for _, query := range []string{
		"SELECT e.id AS movement_id, h.paper_id, p.kind, p.number, e.day, p.party_id, p.party_name AS party, p.reference, COALESCE(y.cheque, '') AS cheque, " + ownMove + " AS amount " + fromWaiting +
			"WHERE k.id = @bank AND w.day >= " + fromFirst + " AND " + movementWaits,
		`SELECT p.id AS paper_id, p.kind, p.number, p.day, p.party_id, p.party_name AS party, p.reference, COALESCE(p.job_id, 0) AS job_id, COALESCE(p.own_total, p.total) - ` + ownTakenOf + ` AS amount FROM papers p
			WHERE COALESCE(p.currency, '') = (SELECT k.currency FROM bank_accounts k WHERE k.id = @bank) AND p.kind = 'request for a deposit' AND p.day <= @through AND p.total > ` + takenOf + ` AND NOT EXISTS (SELECT 1 FROM papers x WHERE x.reverses_id = p.id)`,
		"SELECT 1 AS returned, h.paper_id, p.kind, p.number, e.day, p.party_id, p.party_name AS party, p.reference, -" + ownMove + " AS amount FROM bank_accounts k CROSS JOIN entry_lines e ON e.account_id = k.account_id" + ofMovement +
			`WHERE k.id = @bank AND e.day BETWEEN @back AND @through AND e.amount > 0 AND p.kind IN ('receipt', 'deposit', 'unidentified receipt') AND NOT EXISTS (SELECT 1 FROM papers x WHERE x.reverses_id = p.id)`,
		`SELECT w.id AS told, 'card payout' AS kind, w.reference AS number, w.day, w.reference, w.arrived AS amount FROM card_payouts w WHERE w.away = 0 AND w.day <= @through
			AND NOT EXISTS (SELECT 1 FROM papers p WHERE p.kind = 'card payout' AND p.reference = w.reference AND NOT EXISTS (SELECT 1 FROM papers x WHERE x.reverses_id = p.id))`,
	} {
		rows, err := scan[Explainable](r, query, append(args, sql.Named("asof", through))...)
		if err != nil {
			return nil, err
		}
		all = append(all, rows...)
	}
	return all, nil
}

// openToExplain returns the open items that lines may settle. There may be very
// many, so that their rows are read by hand; whose they are is known by the party.
func (r Reader) openToExplain(bank int64, since, through day.Day) ([]Explainable, error) {
	currency, _, err := one[string](r, "SELECT currency FROM bank_accounts WHERE id = ?", bank)
	if err != nil {
		return nil, err
	}
	// What is open in the account's own currency alone: else both amounts are said.
	in := "i.currency IS NULL"
	if currency != "" {
		in = "i.currency = @currency"
	}
	var all []Explainable
	err = r.rows(`SELECT i.id, i.register, i.paper_id, p.kind, p.number, i.day, i.party_id, p.reference, i.job_id, b.early_until, COALESCE(i.own_open, i.open)
		FROM open_items i JOIN papers p ON p.id = i.paper_id LEFT JOIN paper_billing b ON b.paper_id = p.id AND b.early_until >= date(@since, '-14 days')
		WHERE i.register IN ('receivables', 'payables', 'deposits', 'supplier prepayments') AND i.open <> 0 AND i.day <= @through AND i.party_id IS NOT NULL AND `+in, func(r *row) {
		all = append(all, Explainable{ItemID: r.int(0), Register: ledger.Role(r.text(1)), PaperID: r.int(2), Kind: posting.Kind(r.text(3)), Number: r.text(4), Day: r.day(5), PartyID: r.int(6), Reference: r.text(7), JobID: r.int(8), EarlyUntil: r.day(9), Amount: r.amount(10)})
	}, sql.Named("since", since), sql.Named("through", through), sql.Named("currency", currency))
	return all, err
}

// BankLineParties returns everybody whom a line may name.
func (r Reader) BankLineParties() ([]banking.Party, error) {
	return scan[banking.Party](r, "SELECT id, name, iban AS account, is_supplier AS supplies FROM parties")
}

// BankLineJobs returns every job in hand that a line may name.
func (r Reader) BankLineJobs() ([]banking.Job, error) {
	return scan[banking.Job](r, "SELECT id, number, party_id FROM jobs WHERE closed = 0")
}

// LastOf returns what each of some other sides was last time, by its name in
// banking.Said.OtherSide.
func (r Reader) LastOf(others []string) (map[string]banking.Habit, error) {
	type row struct {
		banking.Habit
		OtherSide string
	}
	rows, err := scan[row](r, `SELECT l.other_side, l.amount > 0 AS came, l.amount < 0 AS went, p.kind AS make, p.party_id, p.party_name AS party, p.number,
			COALESCE((SELECT o.account_id FROM entry_lines o WHERE o.entry_id = e.entry_id AND o.account_id <> e.account_id AND p.kind = 'journal' LIMIT 1), 0) AS account_id,
			COALESCE((SELECT k.id FROM entry_lines o JOIN bank_accounts k ON k.account_id = o.account_id WHERE o.entry_id = e.entry_id AND o.account_id <> e.account_id AND p.kind = 'own transfer' LIMIT 1), 0) AS to_bank
		FROM (SELECT MAX(l.id) AS id FROM bank_lines l WHERE l.other_side IN @others AND `+isTied+` GROUP BY l.other_side, l.amount > 0) x
		JOIN bank_lines l ON l.id = x.id JOIN ties t ON t.bank_line_id = l.id AND `+tieStands+` JOIN entry_lines e ON e.id = t.movement_id JOIN entries h ON h.id = e.entry_id JOIN papers p ON p.id = h.paper_id
		GROUP BY l.id`, sql.Named("others", others))
	last := map[string]banking.Habit{}
	for _, x := range rows {
		last[banking.LastKey(x.OtherSide, x.Went)] = x.Habit
	}
	return last, err
}

// RuleUsed is how often a rule of the firm's own was taken, and when last.
type RuleUsed struct {
	RuleID int64
	Used   int64
	Last   string // UTC
}

// RulesUsed returns that of every rule that was taken.
func (r Reader) RulesUsed() ([]RuleUsed, error) {
	return scan[RuleUsed](r, "SELECT x.rule_id, x.used, (SELECT a.at FROM acts a WHERE a.id = x.last) AS last FROM (SELECT rule_id, COUNT(*) AS used, MAX(act_id) AS last FROM bank_rule_uses GROUP BY rule_id) x")
}

// TookByRule keeps that a line was explained by a rule.
func (tx *Tx) TookByRule(act, rule, line int64) error {
	_, err := tx.exec("INSERT INTO bank_rule_uses (act_id, rule_id, bank_line_id) VALUES (?, ?, ?)", act, rule, line)
	return err
}

// RuleUse is what a rule did: a line that a person took by it.
type RuleUse struct {
	Day     day.Day
	Amount  money.Amount
	Text    string
	PaperID int64
	Number  string
	At      string // UTC
	User    string
}

// RuleUses returns what a rule did, the newest first.
func (r Reader) RuleUses(rule int64) ([]RuleUse, error) {
	return scan[RuleUse](r, `SELECT l.day, l.amount, trim(l.other_name || ' ' || l.text) AS text, COALESCE(p.id, 0) AS paper_id, COALESCE(p.number, '') AS number, a.at, COALESCE(u.name, '') AS user
		FROM bank_rule_uses x JOIN bank_lines l ON l.id = x.bank_line_id JOIN acts a ON a.id = x.act_id LEFT JOIN users u ON u.id = a.user_id LEFT JOIN papers p ON p.act_id = x.act_id
		WHERE x.rule_id = ? ORDER BY x.act_id DESC LIMIT 200`, rule)
}
