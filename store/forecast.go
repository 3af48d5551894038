package store

import (
	"database/sql"

	"cleantally/core/day"
	"cleantally/core/money"
	"cleantally/core/reporting"
)

// Comings returns what is due by what was posted, at the end of a day: what
// customers owe, what they and we keep back, what we owe suppliers, requests for
// deposits, what waits in card takings.
func (r Reader) Comings(at day.Day) ([]reporting.Coming, error) {
	open, err := r.openAmountsAt(at)
	if err != nil {
		return nil, err
	}
	all, err := scan[reporting.Coming](r, `SELECT i.due AS day, i.open AS amount, CASE i.register WHEN 'receivables' THEN 'invoice' WHEN 'payables' THEN 'bill' ELSE i.register END AS why, p.number, p.party_name AS party, p.id AS paper_id,
			i.id IN (SELECT item_id FROM disputes) AND `+disputed+` AS disputed
		FROM `+open+` i JOIN papers p ON p.id = i.paper_id WHERE (i.register IN ('receivables', 'retention') AND i.open > 0) OR (i.register IN ('payables', 'retention payable') AND i.open < 0)`, asOf(at))
	if err != nil {
		return nil, err
	}
	requests, err := scan[reporting.Coming](r, `SELECT b.due AS day, p.total - `+takenOf+` AS amount, 'request for a deposit' AS why, p.number, p.party_name AS party, p.id AS paper_id
		FROM papers p JOIN paper_billing b ON b.paper_id = p.id WHERE p.kind = 'request for a deposit' AND p.day <= @asof AND p.total > `+takenOf+`
		AND NOT EXISTS (SELECT 1 FROM papers x WHERE x.reverses_id = p.id AND x.day <= @asof )`, asOf(at))
	if err != nil {
		return nil, err
	}
	takings, err := scan[reporting.Coming](r, `SELECT @day AS day, SUM(d.debit - d.credit) AS amount, 'card takings' AS why, k.name AS party FROM bank_accounts k JOIN account_days d ON d.account_id = k.account_id
		WHERE k.takings = 1 AND d.day <= @day GROUP BY k.id HAVING SUM(d.debit - d.credit) <> 0`, sql.Named("day", at))
	return append(append(all, requests...), takings...), err
}

// Money is what there is in bank accounts and tills.
type Money struct {
	Books       money.Amount
	Unexplained money.Amount // what lines of the bank come to that nothing explains
	Reconciled  day.Day      // the day through which all bank accounts are reconciled that have statements; "" for none
}

// MoneyAt returns it at the end of a day. What waits in card takings is not there
// yet.
func (r Reader) MoneyAt(at day.Day) (Money, error) {
	m, _, err := one[Money](r, `SELECT COALESCE((SELECT SUM(d.debit - d.credit) FROM bank_accounts k JOIN account_days d ON d.account_id = k.account_id WHERE k.takings = 0 AND d.day <= @asof ), 0) AS books,
		COALESCE((SELECT SUM(l.amount) FROM lines_unexplained w CROSS JOIN bank_lines l ON l.id = w.bank_line_id WHERE l.day <= @asof ), 0) AS unexplained,
		COALESCE((SELECT MIN(COALESCE((SELECT MAX(c.through_day) FROM bank_reconciliations c WHERE c.bank_account_id = k.id AND c.through_day <= @asof ), '')) FROM bank_accounts k
			WHERE EXISTS (SELECT 1 FROM bank_statements s WHERE s.bank_account_id = k.id AND s.from_day <= @asof )), '') AS reconciled`, asOf(at))
	return m, err
}
