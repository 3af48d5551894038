package store

import (
	"fmt"

	"cleantally/core/day"
	"cleantally/core/ledger"
	"cleantally/core/money"
	"cleantally/core/reporting"
)

// TieOut proves that every control account equals its register at the end of
// a day, from what commit keeps.
func (r Reader) TieOut(asOf day.Day) (reporting.TieOut, error) {
	return r.tieOut(asOf, `SELECT a.id AS account_id, a.number || ' ' || a.name AS account, a.type, o.role,
		COALESCE((SELECT SUM(d.debit - d.credit) FROM account_days d WHERE d.account_id = a.id AND d.day <= @day), 0) AS ledger,
		COALESCE((SELECT SUM(i.open - i.open_tax) FROM open_items i WHERE i.register = o.role AND i.open <> 0), 0)
		- COALESCE((SELECT SUM(m.amount - m.tax) FROM item_moves m CROSS JOIN open_items i ON i.id = m.item_id WHERE m.day > @day AND i.register = o.role), 0) AS sum
		FROM roles o JOIN accounts a ON a.id = o.account_id WHERE o.role IN @controls`)
}

// TieOutFromJournal proves the same from the journal and the moves alone.
func (r Reader) TieOutFromJournal(asOf day.Day) (reporting.TieOut, error) {
	return r.tieOut(asOf, `SELECT a.id AS account_id, a.number || ' ' || a.name AS account, a.type, o.role,
		COALESCE((SELECT SUM(l.amount) FROM entry_lines l WHERE l.account_id = a.id AND l.day <= @day), 0) AS ledger,
		COALESCE((SELECT SUM(m.amount - m.tax) FROM item_moves m JOIN open_items i ON i.id = m.item_id WHERE m.day <= @day AND i.register = o.role), 0) AS sum
		FROM roles o JOIN accounts a ON a.id = o.account_id WHERE o.role IN @controls`)
}

func (r Reader) tieOut(asOf day.Day, query string) (reporting.TieOut, error) {
	type row struct {
		AccountID int64
		Account   string
		Type      ledger.Type
		Role      ledger.Role
		Ledger    money.Amount
		Sum       money.Amount
	}
	t := reporting.TieOut{AsOf: asOf}
	rows, err := scan[row](r, query, map[string]any{"day": asOf, "controls": ledger.Controls})
	if err != nil {
		return t, err
	}
	for _, role := range ledger.Controls {
		for _, x := range rows {
			if x.Role != role {
				continue
			}
			if !x.Type.DebitNormal() {
				x.Ledger, x.Sum = -x.Ledger, -x.Sum
			}
			t.Ties = append(t.Ties, reporting.Tie{AccountID: x.AccountID, Account: x.Account, Register: string(role), Ledger: x.Ledger, Sum: x.Sum})
		}
	}
	t.Difference, _, err = one[money.Amount](r, "SELECT COALESCE(SUM(debit - credit), 0) FROM account_days WHERE day <= ?", asOf)
	return t, err
}

// Check recomputes everything that commit keeps and returns a sentence for
// each place where it differs.
func (r Reader) Check() ([]string, error) {
	var found []string
	for _, c := range []struct{ query, says string }{
		{"SELECT 'entry ' || entry_id || ' by ' || SUM(amount) FROM entry_lines GROUP BY entry_id HAVING SUM(amount) <> 0", "does not balance"},
		{"SELECT 'entry ' || e.id FROM entries e LEFT JOIN entry_lines l ON l.entry_id = e.id GROUP BY e.id HAVING COUNT(l.id) < 2", "has fewer than two lines"},
		{"SELECT 'line ' || l.id FROM entry_lines l JOIN entries e ON e.id = l.entry_id WHERE l.day <> e.day", "is dated otherwise than its entry"},
		{`SELECT 'item ' || i.id || ' of ' || p.number FROM open_items i JOIN papers p ON p.id = i.paper_id
			WHERE i.open <> (SELECT COALESCE(SUM(m.amount), 0) FROM item_moves m WHERE m.item_id = i.id)`, "keeps another open amount than its moves add up to"},
		{`SELECT 'item ' || i.id || ' of ' || p.number FROM open_items i JOIN papers p ON p.id = i.paper_id
			WHERE i.open_tax <> (SELECT COALESCE(SUM(m.tax), 0) FROM item_moves m WHERE m.item_id = i.id) OR (i.open = 0 AND i.open_tax <> 0)`, "keeps another tax inside than its moves add up to"},
		{`SELECT 'item ' || i.id || ' of ' || p.number FROM open_items i JOIN papers p ON p.id = i.paper_id
			WHERE (SELECT COALESCE(SUM(m.amount), 0) FROM item_moves m WHERE m.item_id = i.id AND m.allocation_id IS NULL) <> i.amount`, "does not begin with its own amount"},
		{`SELECT 'allocation ' || a.id FROM allocations a WHERE (SELECT COUNT(*) FROM item_moves m WHERE m.allocation_id = a.id
			AND abs(m.amount) = a.amount AND m.day = a.day AND m.item_id IN (a.debit_id, a.credit_id)) <> 2`, "has not moved both its sides"},
		{`SELECT 'allocation ' || a.id FROM allocations a JOIN open_items d ON d.id = a.debit_id JOIN open_items c ON c.id = a.credit_id
			WHERE d.party_id IS NOT c.party_id`, "joins two customers"},
		{`SELECT 'account ' || a.number FROM accounts a WHERE EXISTS (
			SELECT day, SUM(max(amount, 0)), -SUM(min(amount, 0)) FROM entry_lines WHERE account_id = a.id GROUP BY day
			EXCEPT SELECT day, debit, credit FROM account_days WHERE account_id = a.id) OR EXISTS (
			SELECT day, debit, credit FROM account_days WHERE account_id = a.id
			EXCEPT SELECT day, SUM(max(amount, 0)), -SUM(min(amount, 0)) FROM entry_lines WHERE account_id = a.id GROUP BY day)`, "keeps other sums by day than its lines add up to"},
		{"SELECT quick_check FROM pragma_quick_check WHERE quick_check <> 'ok'", "is what SQLite says of the file"},
		{"SELECT 'table ' || \"table\" || ' row ' || rowid FROM pragma_foreign_key_check", "refers to something that is not there"},
	} {
		rows, err := scan[string](r, c.query)
		if err != nil {
			return nil, fmt.Errorf("the check %q failed: %w", c.says, err)
		}
		for _, row := range rows {
			found = append(found, row+" "+c.says)
		}
	}
	gaps, err := r.openBounds()
	return append(found, gaps...), err
}

// openBounds finds items whose open amount left its bounds at the end of some
// day.
func (r Reader) openBounds() ([]string, error) {
	rows, err := scan[string](r, `WITH ends AS (SELECT item_id, day, SUM(amount) AS amount FROM item_moves GROUP BY item_id, day),
		run AS (SELECT item_id, day, SUM(amount) OVER (PARTITION BY item_id ORDER BY day) AS open FROM ends)
		SELECT DISTINCT p.number FROM run JOIN open_items i ON i.id = run.item_id JOIN papers p ON p.id = i.paper_id
		WHERE run.open * sign(i.amount) < 0 OR abs(run.open) > abs(i.amount)`)
	for n, number := range rows {
		rows[n] = number + " was open beyond its bounds on some day"
	}
	return rows, err
}
