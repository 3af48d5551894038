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

// Explainables returns what some lines of a bank account may be: all that waits,
// and of what is open, what they ask for.
func (r Reader) Explainables(bank int64, lines []banking.Said, asked *banking.Asked) ([]Explainable, error) {
	since, through := lines[0].Day, lines[0].Day
	for _, l := range lines {
		since, through = min(since, l.Day), max(through, l.Day)
	}
	currency, _, err := one[string](r, "SELECT currency FROM bank_accounts WHERE id = ?", bank)
	if err != nil {
		return nil, err
	}
	all, err := r.openToExplain(currency, since, through, asked)
	if err != nil {
		return nil, err
	}
	// There may be thousands of these too.
	args := []any{sql.Named("bank", bank), sql.Named("through", through), sql.Named("asof", through), sql.Named("currency", currency)}
	const named = "p.id, p.kind, p.number, p.party_id, p.party_name, p.reference, "
	paperOf := func(r *row) Explainable {
		return Explainable{PaperID: r.int(0), Kind: posting.Kind(r.text(1)), Number: r.text(2), PartyID: r.int(3), Party: r.text(4), Reference: r.text(5), Day: r.day(6), Amount: r.amount(7)}
	}
	err = r.rows("SELECT "+named+"e.day, "+ownMove+", e.id, y.cheque "+fromWaiting+"WHERE k.id = @bank AND w.day >= "+fromFirst+" AND "+movementWaits, func(r *row) {
		x := paperOf(r)
		x.MovementID, x.Cheque = r.int(8), r.text(9)
		all = append(all, x)
	}, args...)
	if err != nil {
		return nil, err
	}
	err = r.rows("SELECT "+named+"p.day, CASE WHEN p.own_total IS NULL THEN o.amount ELSE p.own_total - "+ownTakenOf+" END, p.job_id FROM ("+askedStill+`) o CROSS JOIN papers p ON p.id = o.paper_id
			WHERE COALESCE(p.currency, '') = @currency AND p.day <= @through AND NOT EXISTS (SELECT 1 FROM papers x WHERE x.reverses_id = p.id)`, func(r *row) {
		x := paperOf(r)
		x.JobID = r.int(8)
		all = append(all, x)
	}, args...)
	if err != nil {
		return nil, err
	}
	told, err := scan[Explainable](r, `SELECT w.id AS told, 'card payout' AS kind, w.reference AS number, w.day, w.reference, w.arrived AS amount FROM card_payouts w WHERE w.away = 0 AND w.day <= @through
			AND NOT EXISTS (SELECT 1 FROM papers p WHERE p.kind = 'card payout' AND p.reference = w.reference AND NOT EXISTS (SELECT 1 FROM papers x WHERE x.reverses_id = p.id))`, args...)
	if err != nil {
		return nil, err
	}
	all = append(all, told...)
	back, err := r.mayComeBack(bank, currency, lines)
	return append(all, back...), err
}

// mayComeBack are the payments that some lines may have brought back: by what they
// moved, by what the lines name, and where the bank says that one came back, or the
// account is in another currency, all of some time before.
func (r Reader) mayComeBack(bank int64, currency string, lines []banking.Said) ([]Explainable, error) {
	type took struct {
		Since, Through day.Day
		Amount         money.Amount
		All            bool
	}
	var went []took
	var names []string
	for _, l := range lines {
		if l.Amount < 0 {
			went = append(went, took{l.Day.Add(-returnedWithin), l.Day, -l.Amount, currency != "" || l.SaysReturned()})
			names = append(names, l.Names()...)
		}
	}
	if went == nil {
		return nil, nil
	}
	const came = "IN ('receipt', 'deposit', 'unidentified receipt')"
	return scan[Explainable](r, `WITH went AS MATERIALIZED (SELECT v.value ->> 'Since' AS since, v.value ->> 'Through' AS through, v.value ->> 'Amount' AS amount, v.value ->> 'All' AS whole FROM json_each(@went ) v),
		maybe AS (SELECT e.id FROM (SELECT MIN(since) AS since, MAX(through) AS through FROM went WHERE whole) s CROSS JOIN bank_accounts k CROSS JOIN entry_lines e ON e.account_id = k.account_id AND e.day BETWEEN s.since AND s.through WHERE k.id = @bank
			UNION SELECT e.id FROM (SELECT MIN(since) AS since, MAX(through) AS through FROM went) s CROSS JOIN bank_accounts k CROSS JOIN entry_lines e INDEXED BY entry_lines_account ON e.account_id = k.account_id AND e.day BETWEEN s.since AND s.through AND e.amount IN (SELECT amount FROM went) WHERE k.id = @bank
			UNION SELECT e.id FROM (SELECT p.id FROM json_each(@names ) v CROSS JOIN papers p INDEXED BY papers_number ON p.number = v.value UNION SELECT p.id FROM json_each(@names ) v CROSS JOIN papers p INDEXED BY papers_reference ON p.reference = v.value COLLATE NOCASE) f
				CROSS JOIN papers p ON p.id = f.id CROSS JOIN entries h ON h.paper_id = p.id CROSS JOIN entry_lines e ON e.entry_id = h.id WHERE p.kind `+came+`)
		SELECT 1 AS returned, h.paper_id, p.kind, p.number, e.day, p.party_id, p.party_name AS party, p.reference, -`+ownMove+` AS amount
		FROM maybe m CROSS JOIN entry_lines e ON e.id = m.id CROSS JOIN bank_accounts k ON k.account_id = e.account_id`+ofMovement+`
		WHERE k.id = @bank AND e.amount > 0 AND p.kind `+came+` AND EXISTS (SELECT 1 FROM went v WHERE e.day BETWEEN v.since AND v.through) AND NOT EXISTS (SELECT 1 FROM papers x WHERE x.reverses_id = p.id) ORDER BY e.id`,
		sql.Named("bank", bank), sql.Named("went", listed(went)), sql.Named("names", listed(names)))
}

// openToExplain returns the open items that lines may settle. There may be very
// many: they are looked through by hand, and those that are asked for are read
// whole. Whose they are is known by the party. Since is the day of the first of
// the lines.
func (r Reader) openToExplain(currency string, since, through day.Day, asked *banking.Asked) ([]Explainable, error) {
	// What is open in the account's own currency alone: else both amounts are said.
	in := "i.currency IS NULL"
	if currency != "" {
		in = "i.currency = @currency"
	}
	const registers = "i.register IN ('receivables', 'payables', 'deposits', 'supplier prepayments') AND i.open <> 0 AND i.day <= @through AND i.party_id IS NOT NULL AND "
	named := []any{sql.Named("since", since), sql.Named("through", through), sql.Named("currency", currency)}
	var items []int64
	err := r.rows("SELECT i.id, i.register, i.party_id, COALESCE(i.own_open, i.open), p.number, p.reference FROM open_items i CROSS JOIN papers p ON p.id = i.paper_id WHERE "+registers+in, func(r *row) {
		if id, open := r.int(0), r.amount(3); asked.Open(id, banking.Becomes(ledger.Role(r.text(1)), open), r.int(2), open, r.text(4), r.text(5)) {
			items = append(items, id)
		}
	}, named...)
	if err != nil {
		return nil, err
	}
	// What may be paid less in time is asked for by another amount than it is open.
	var all []Explainable
	err = r.rows(`SELECT i.id, i.register, i.paper_id, p.kind, p.number, i.day, i.party_id, p.reference, i.job_id, b.early_until, COALESCE(i.own_open, i.open)
		FROM (SELECT value AS id FROM json_each(@items ) UNION SELECT i.id FROM paper_billing b INDEXED BY paper_billing_early CROSS JOIN open_items i ON i.paper_id = b.paper_id WHERE b.early_until <> '' AND b.early_until >= date(@since, '-14 days')) f
		CROSS JOIN open_items i ON i.id = f.id CROSS JOIN papers p ON p.id = i.paper_id LEFT JOIN paper_billing b ON b.paper_id = p.id AND b.early_until >= date(@since, '-14 days') WHERE `+registers+in, func(r *row) {
		all = append(all, Explainable{ItemID: r.int(0), Register: ledger.Role(r.text(1)), PaperID: r.int(2), Kind: posting.Kind(r.text(3)), Number: r.text(4), Day: r.day(5), PartyID: r.int(6), Reference: r.text(7), JobID: r.int(8), EarlyUntil: r.day(9), Amount: r.amount(10)})
	}, append(named, sql.Named("items", listed(append(items, asked.Together()...))))...)
	return all, err
}

// BankLineParties returns everybody whom a line may name.
func (r Reader) BankLineParties() ([]banking.Party, error) {
	var all []banking.Party
	err := r.rows("SELECT id, name, iban, is_supplier FROM parties", func(r *row) {
		all = append(all, banking.Party{ID: r.int(0), Name: r.text(1), Account: r.text(2), Supplies: r.is(3)})
	})
	return all, err
}

// BankLineJobs returns every job in hand that a line may name.
func (r Reader) BankLineJobs() ([]banking.Job, error) {
	var all []banking.Job
	err := r.rows("SELECT id, number, party_id FROM jobs WHERE closed = 0", func(r *row) {
		all = append(all, banking.Job{ID: r.int(0), Number: r.text(1), PartyID: r.int(2)})
	})
	return all, err
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
		FROM json_each(@others ) o CROSS JOIN (SELECT 0 AS came UNION ALL SELECT 1) s CROSS JOIN bank_lines l
			ON l.id = (SELECT l.id FROM bank_lines l WHERE l.other_side = o.value AND l.other_side <> '' AND (l.amount > 0) = s.came AND `+isTied+` ORDER BY l.id DESC LIMIT 1)
		JOIN ties t ON t.bank_line_id = l.id AND `+tieStands+` JOIN entry_lines e ON e.id = t.movement_id JOIN entries h ON h.id = e.entry_id JOIN papers p ON p.id = h.paper_id
		GROUP BY l.id`, sql.Named("others", listed(others)))
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
