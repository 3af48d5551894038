package store

import (
	"fmt"
	"slices"
	"strconv"

	"cleantally/core/day"
	"cleantally/core/ledger"
	"cleantally/core/money"
	"cleantally/core/posting"
	"cleantally/core/reporting"
)

// TieOut proves that every control account equals its register at the end of
// a day, from what commit keeps.
func (r Reader) TieOut(asOf day.Day) (reporting.TieOut, error) {
	return r.tieOut(asOf, "SELECT account_id, SUM(debit - credit) FROM account_days WHERE day <= ? GROUP BY account_id", `SELECT a.id AS account_id, a.number || ' ' || a.name AS account, a.type, o.role,
		COALESCE((SELECT SUM(i.open - CASE WHEN i.register = 'deposits' THEN i.open_tax ELSE 0 END) FROM open_items i WHERE i.register = o.role AND i.open <> 0), 0)
		- COALESCE((SELECT SUM(d.amount - CASE WHEN d.register = 'deposits' THEN d.tax ELSE 0 END) FROM register_days d WHERE d.register = o.role AND d.day > @day), 0)
		+ COALESCE((SELECT SUM(x.amount) FROM line_days x WHERE x.register = o.role AND x.day <= @day), 0) AS sum
		FROM roles o JOIN accounts a ON a.id = o.account_id WHERE o.role IN @controls`)
}

// TieOutFromJournal proves the same from the journal and the moves alone.
func (r Reader) TieOutFromJournal(asOf day.Day) (reporting.TieOut, error) {
	return r.tieOut(asOf, "SELECT account_id, SUM(amount) FROM entry_lines WHERE day <= ? GROUP BY account_id", `SELECT a.id AS account_id, a.number || ' ' || a.name AS account, a.type, o.role,
		COALESCE((SELECT SUM(x.amount) FROM register_moves x WHERE x.register = o.role AND x.day <= @day), 0) AS sum
		FROM roles o JOIN accounts a ON a.id = o.account_id WHERE o.role IN @controls`)
}

// provedByDay finds where a control account differs from its register, by
// party and day.
const provedByDay = `SELECT register || ' of party ' || COALESCE(party_id, 0) || ' on ' || day || ' by ' || SUM(amount) FROM (
	SELECT register, party_id, day, amount FROM register_moves
	UNION ALL SELECT o.role, l.party_id, l.day, -l.amount FROM entry_lines l JOIN roles o ON o.account_id = l.account_id WHERE o.role IN @controls)
	WHERE day <= @day GROUP BY register, party_id, day HAVING SUM(amount) <> 0`

// Proved returns a sentence for each control account, party and day through
// @day on which the ledger and the register differ.
func (r Reader) Proved(through day.Day) ([]string, error) {
	rows, err := scan[string](r, provedByDay, map[string]any{"controls": ledger.Controls, "day": through})
	for n := range rows {
		rows[n] = "the ledger differs from the register of " + rows[n]
	}
	return rows, err
}

// tieOut puts what all accounts stand at beside what a query says of the registers.
func (r Reader) tieOut(asOf day.Day, accounts, registers string) (reporting.TieOut, error) {
	type register struct {
		AccountID int64
		Account   string
		Type      ledger.Type
		Role      ledger.Role
		Sum       money.Amount
	}
	t := reporting.TieOut{AsOf: asOf}
	stands := map[int64]money.Amount{}
	err := r.rows(accounts, func(r *row) {
		stands[r.int(0)] = r.amount(1)
		t.Difference += r.amount(1)
	}, asOf)
	if err != nil {
		return t, err
	}
	rows, err := scan[register](r, registers, map[string]any{"day": asOf, "controls": ledger.Controls})
	if err != nil {
		return t, err
	}
	for _, role := range ledger.Controls {
		for _, x := range rows {
			if x.Role != role {
				continue
			}
			tie := reporting.Tie{AccountID: x.AccountID, Account: x.Account, DebitNormal: x.Type.DebitNormal(), Register: string(role), Ledger: stands[x.AccountID], Sum: x.Sum}
			if !tie.DebitNormal {
				tie.Ledger, tie.Sum = -tie.Ledger, -tie.Sum
			}
			t.Ties = append(t.Ties, tie)
		}
	}
	t.Ties, err = r.tiesAbroad(asOf, t.Ties)
	return t, err
}

// heldAbroad are the control accounts that stand in other currencies as well.
const heldAbroad = "('receivables', 'retention', 'deposits', 'unidentified', 'payables', 'supplier prepayments', 'retention payable')"

// tiesAbroad puts, after each control account, what it stands at in each other
// currency beside its register in it.
func (r Reader) tiesAbroad(asOf day.Day, ties []reporting.Tie) ([]reporting.Tie, error) {
	if abroad, err := r.abroad(); err != nil || !abroad {
		return ties, err
	}
	type row struct {
		Role, Currency string
		Ledger, Sum    money.Amount
	}
	rows, err := scan[row](r, `SELECT role, currency, SUM(ledger) AS ledger, SUM(sum) AS sum FROM (
		SELECT o.role, l.currency, l.own_amount AS ledger, 0 AS sum FROM roles o CROSS JOIN entry_lines l INDEXED BY entry_lines_abroad ON l.account_id = o.account_id AND l.currency IS NOT NULL AND l.day <= @day WHERE o.role IN `+heldAbroad+`
		UNION ALL SELECT i.register, i.currency, 0, i.own_open - CASE WHEN i.register = 'deposits' THEN i.own_open_tax ELSE 0 END FROM open_items i INDEXED BY open_items_abroad WHERE i.currency IS NOT NULL
		UNION ALL SELECT i.register, i.currency, 0, CASE WHEN i.register = 'deposits' THEN m.own_tax ELSE 0 END - m.own_amount FROM open_items i INDEXED BY open_items_abroad CROSS JOIN item_moves m ON m.item_id = i.id AND m.day > @day WHERE i.currency IS NOT NULL AND i.moved > @day)
		GROUP BY role, currency ORDER BY currency`, map[string]any{"day": asOf})
	if len(rows) == 0 || err != nil {
		return ties, err
	}
	var all []reporting.Tie
	for _, t := range ties {
		all = append(all, t)
		for _, x := range rows {
			if x.Role == t.Register && (x.Ledger != 0 || x.Sum != 0) {
				if !t.DebitNormal {
					x.Ledger, x.Sum = -x.Ledger, -x.Sum
				}
				all = append(all, reporting.Tie{AccountID: t.AccountID, Account: t.Account, DebitNormal: t.DebitNormal, Register: t.Register, Currency: x.Currency, Ledger: x.Ledger, Sum: x.Sum})
			}
		}
	}
	return all, nil
}

// Check recomputes everything that commit keeps and returns a sentence for
// each place where it differs.
func (r Reader) Check() ([]string, error) {
	var found []string
	for _, c := range []struct{ query, says string }{
		{"SELECT 'entry ' || entry_id || ' by ' || SUM(amount) FROM entry_lines GROUP BY entry_id HAVING SUM(amount) <> 0", "does not balance"},
		{"SELECT 'entry ' || entry_id || ' by ' || SUM(own_amount) || ' ' || MAX(currency) FROM entry_lines GROUP BY entry_id HAVING COUNT(*) = COUNT(currency) AND COUNT(DISTINCT currency) = 1 AND SUM(own_amount) <> 0", "does not balance in its own currency"},
		{`SELECT register || ' of party ' || COALESCE(party_id, 0) || ' by ' || SUM(own) || ' ' || currency FROM (
			SELECT i.register, i.party_id, i.currency, m.own_amount - CASE WHEN i.register = 'deposits' THEN m.own_tax ELSE 0 END AS own FROM open_items i JOIN item_moves m ON m.item_id = i.id WHERE i.currency IS NOT NULL
			UNION ALL SELECT o.role, l.party_id, l.currency, -l.own_amount FROM entry_lines l JOIN roles o ON o.account_id = l.account_id
				WHERE l.currency IS NOT NULL AND o.role IN ` + heldAbroad + `)
			GROUP BY register, party_id, currency HAVING SUM(own) <> 0`, "stands in the ledger otherwise than in its register, in its own currency"},
		// One in the firm's currency keeps none, and its moves neither.
		{`SELECT 'item ' || i.id || ' of ' || p.number FROM open_items i JOIN papers p ON p.id = i.paper_id
			WHERE i.own_open IS NOT (SELECT SUM(m.own_amount) FROM item_moves m WHERE m.item_id = i.id) OR i.own_open_tax IS NOT (SELECT SUM(m.own_tax) FROM item_moves m WHERE m.item_id = i.id)`, "keeps another open amount in its own currency than its moves add up to"},
		{"SELECT 'entry ' || e.id FROM entries e LEFT JOIN entry_lines l ON l.entry_id = e.id GROUP BY e.id HAVING COUNT(l.id) < 2", "has fewer than two lines"},
		{"SELECT 'line ' || l.id FROM entry_lines l JOIN entries e ON e.id = l.entry_id WHERE l.day <> e.day", "is dated otherwise than its entry"},
		{`SELECT 'item ' || i.id || ' of ' || p.number FROM open_items i JOIN papers p ON p.id = i.paper_id
			WHERE i.open <> (SELECT COALESCE(SUM(m.amount), 0) FROM item_moves m WHERE m.item_id = i.id)`, "keeps another open amount than its moves add up to"},
		{`SELECT 'item ' || i.id || ' of ' || p.number FROM open_items i JOIN papers p ON p.id = i.paper_id
			WHERE i.open_tax <> (SELECT COALESCE(SUM(m.tax), 0) FROM item_moves m WHERE m.item_id = i.id) OR (i.open = 0 AND i.open_tax <> 0)`, "keeps another tax inside than its moves add up to"},
		{`SELECT 'item ' || i.id || ' of ' || p.number FROM open_items i JOIN papers p ON p.id = i.paper_id
			WHERE i.moved <> (SELECT MAX(m.day) FROM item_moves m WHERE m.item_id = i.id)`, "keeps another last day than that of its moves"},
		{`SELECT 'item ' || i.id || ' of ' || p.number FROM open_items i JOIN papers p ON p.id = i.paper_id
			WHERE (SELECT COALESCE(SUM(m.amount), 0) FROM item_moves m WHERE m.item_id = i.id AND m.allocation_id IS NULL) <> i.amount`, "does not begin with its own amount"},
		{`SELECT 'allocation ' || a.id FROM allocations a WHERE (SELECT COUNT(*) FROM item_moves m WHERE m.allocation_id = a.id
			AND abs(COALESCE(m.own_amount, m.amount)) = a.amount AND m.day = a.day AND m.item_id IN (a.debit_id, a.credit_id)) <> 2`, "has not moved both its sides"},
		{`SELECT 'allocation ' || a.id FROM allocations a JOIN open_items d ON d.id = a.debit_id JOIN open_items c ON c.id = a.credit_id
			WHERE d.party_id IS NOT c.party_id OR d.currency IS NOT c.currency`, "joins two customers, or two currencies"},
		{`SELECT 'line ' || l.id FROM entry_lines l JOIN roles o ON o.account_id = l.account_id WHERE l.job_id IS NOT NULL
			AND o.role IN ('receivables', 'retention', 'recoverable', 'stock', 'supplier prepayments', 'payables', 'retention payable', 'goods received', 'deposits', 'unidentified', 'advance billings', 'deferred tax', 'tax when paid')`, "bears a job on a control account"},
		{"SELECT 'line ' || l.id FROM entry_lines l JOIN jobs j ON j.id = l.job_id WHERE l.party_id IS NOT NULL AND j.party_id <> l.party_id", "bears a job of another party"},
		{`SELECT 'line ' || x.position || ' of paper ' || x.paper_id FROM lines_left x JOIN paper_lines l ON l.paper_id = x.paper_id AND l.position = x.position
			WHERE x.amount <> l.net + l.tax - COALESCE((SELECT SUM(u.amount) FROM uses u WHERE u.of_paper_id = x.paper_id AND u.of_position = x.position AND u.as_kind <> 'delivered'), 0)
			OR x.tax <> l.tax - COALESCE((SELECT SUM(u.tax) FROM uses u WHERE u.of_paper_id = x.paper_id AND u.of_position = x.position AND u.as_kind <> 'delivered'), 0)`, "keeps another rest than its uses leave"},
		{`SELECT 'line ' || x.position || ' of ' || p.number FROM lines_left x JOIN paper_lines l ON l.paper_id = x.paper_id AND l.position = x.position JOIN papers p ON p.id = x.paper_id
			WHERE x.day <> p.day OR x.party_id IS NOT p.party_id OR x.job_id IS NOT COALESCE(l.job_id, p.job_id) OR x.register <> COALESCE(l.register, CASE p.kind WHEN 'order' THEN 'ordered' WHEN 'request for a deposit' THEN 'asked' ELSE 'passed on' END)
			OR x.quantity <> CAST(ROUND(CAST(l.quantity AS REAL) * 1000000) AS INTEGER) - COALESCE((SELECT SUM(u.quantity) FROM uses u WHERE u.of_paper_id = x.paper_id AND u.of_position = x.position AND u.as_kind <> 'delivered'), 0)`, "waits elsewhere than its paper says"},
		{keptOtherwise("'line ' || position || ' of paper ' || paper_id", "goods_left",
			`SELECT g.*, COALESCE(SUM(u.quantity) FILTER (WHERE u.as_kind = 'delivered'), 0), COALESCE(SUM(u.quantity) FILTER (WHERE u.as_kind = 'billed'), 0), COALESCE(SUM(u.quantity) FILTER (WHERE u.as_kind = 'cancelled'), 0)
				FROM goods_ordered g LEFT JOIN uses u ON u.of_paper_id = g.paper_id AND u.of_position = g.position GROUP BY g.paper_id, g.position`), "keeps otherwise what became of it than its uses say"},
		{keptOtherwise("'paper ' || paper_id", "goods_back",
			"SELECT m.paper_id FROM stock_moves m CROSS JOIN papers p ON p.id = m.paper_id WHERE m.quantity > 0 AND p.kind = 'credit note'"), "brought goods back otherwise than its moves say"},
		{keptOtherwise("'article ' || article_id", "stock_left",
			"SELECT article_id, SUM(quantity), SUM(value) FROM stock_moves GROUP BY 1"), "keeps another stock than its moves come to"},
		{keptOtherwise("register || ' on ' || day", "line_days",
			"SELECT register, day, SUM(amount) FROM register_lines GROUP BY 1, 2"), "keeps another sum by day than its lines add up to"},
		{`SELECT 'paper ' || p.number || ' by code ' || COALESCE(c, 0) FROM (SELECT paper_id AS p, tax_code_id AS c, SUM(net + tax) AS amount, SUM(tax) AS tax FROM paper_lines GROUP BY 1, 2) b
			JOIN papers p ON p.id = b.p JOIN kinds k ON k.kind = p.kind
			JOIN (SELECT of_paper_id AS q, tax_code_id AS d, SUM(amount) AS amount, SUM(tax) AS tax FROM uses WHERE of_position = 0 OR as_kind = 'credited' OR as_kind = 'supplier credited' GROUP BY 1, 2) u ON u.q = b.p AND u.d IS b.c
			WHERE k.bills = 1 AND b.amount > 0 AND (u.amount > b.amount + (SELECT max(y.rounding, 0) FROM paper_billing y WHERE y.paper_id = p.id) OR u.tax > b.tax)`, "is used beyond what it billed"},
		{`SELECT 'article ' || article_id FROM stock_moves GROUP BY article_id HAVING SUM(quantity) < 0 OR SUM(value) < 0 OR (SUM(quantity) = 0 AND SUM(value) <> 0)`, "has stock that cannot be"},
		{`SELECT 'item ' || a.item_id FROM charged_days a JOIN charged_days b ON b.item_id = a.item_id AND b.id > a.id AND a.from_day <= b.through_day AND b.from_day <= a.through_day
			WHERE a.id NOT IN (SELECT charge_id FROM freed_days) AND b.id NOT IN (SELECT charge_id FROM freed_days)`, "is charged twice for some day"},
		{`SELECT 'account ' || a.number FROM accounts a WHERE EXISTS (
			SELECT day, SUM(max(amount, 0)), -SUM(min(amount, 0)), COALESCE(SUM(own_amount), 0) FROM entry_lines WHERE account_id = a.id GROUP BY day
			EXCEPT SELECT day, debit, credit, own FROM account_days WHERE account_id = a.id) OR EXISTS (
			SELECT day, debit, credit, own FROM account_days WHERE account_id = a.id
			EXCEPT SELECT day, SUM(max(amount, 0)), -SUM(min(amount, 0)), COALESCE(SUM(own_amount), 0) FROM entry_lines WHERE account_id = a.id GROUP BY day)`, "keeps other sums by day than its lines add up to"},
		{`SELECT 'line ' || id || ' of a bank' FROM (SELECT l.id FROM bank_lines l WHERE NOT EXISTS (SELECT 1 FROM ties t WHERE t.bank_line_id = l.id AND ` + tieStands + `) EXCEPT SELECT bank_line_id FROM lines_unexplained)
			UNION SELECT 'line ' || bank_line_id || ' of a bank' FROM lines_unexplained WHERE EXISTS (SELECT 1 FROM ties t WHERE t.bank_line_id = lines_unexplained.bank_line_id AND ` + tieStands + `)`, "waits otherwise than its ties say"},
		{`WITH waits AS (SELECT e.account_id, e.day, e.id FROM bank_accounts k JOIN entry_lines e ON e.account_id = k.account_id WHERE k.cash = 0 AND k.takings = 0 AND NOT EXISTS (SELECT 1 FROM ties t WHERE t.movement_id = e.id AND ` + tieStands + `))
			SELECT 'movement ' || id FROM (SELECT * FROM waits EXCEPT SELECT account_id, day, movement_id FROM movements_waiting) UNION SELECT 'movement ' || movement_id FROM (SELECT account_id, day, movement_id FROM movements_waiting EXCEPT SELECT * FROM waits)`, "waits for its bank otherwise than its ties say"},
		{jobsKeptOtherwise(), "keeps other sums than its papers come to"},
		{keptOtherwise("'day ' || day", "paper_days",
			"SELECT p.day, p.kind, COUNT(*), SUM(p.total), COALESCE(SUM(b.net), 0), COALESCE(SUM(b.tax), 0) FROM papers p LEFT JOIN paper_billing b ON b.paper_id = p.id GROUP BY p.day, p.kind"), "keeps another count of papers than there are"},
		{keptOtherwise("register || ' on ' || day", "register_days",
			"SELECT i.register, m.day, SUM(m.amount), SUM(m.tax) FROM item_moves m JOIN open_items i ON i.id = m.item_id GROUP BY 1, 2"), "keeps another sum by day than its moves add up to"},
		{keptOtherwise("'paper ' || (SELECT p.number FROM papers p WHERE p.id = paper_id)", "paper_codes",
			"SELECT paper_id, COALESCE(tax_code_id, 0), MIN(position), MIN(tax_percent), SUM(net), SUM(tax), SUM(own_net), SUM(own_tax) FROM paper_lines GROUP BY 1, 2"), "keeps other sums by tax code than its lines add up to"},
		{keptOtherwise("became || ' on ' || day", "deposit_days",
			"SELECT day, became, SUM(amount), SUM(tax) FROM deposit_moves GROUP BY 1, 2"), "keeps another sum by day of deposits than their moves add up to"},
		{"SELECT integrity_check FROM pragma_integrity_check WHERE integrity_check <> 'ok'", "is what SQLite says of the file"},
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
	if err != nil {
		return nil, err
	}
	differ, err := r.Proved(day.EndOfTime)
	if err != nil {
		return nil, err
	}
	holes, err := r.holes()
	if err != nil {
		return nil, err
	}
	broken, err := r.Seals(r.db.Statement.Context)
	return slices.Concat(found, gaps, differ, holes, broken), err
}

// holes finds numbers that are missing in the series of a kind: every number
// before the next one was given to a paper.
func (r Reader) holes() ([]string, error) {
	type series struct {
		Kind   posting.Kind
		Prefix string
		Next   int64
	}
	all, err := scan[series](r, "SELECT kind, prefix, next FROM number_series ORDER BY kind, prefix")
	if err != nil {
		return nil, err
	}
	var found []string
	for _, s := range all {
		numbers, err := scan[string](r, "SELECT number FROM papers WHERE kind = ? AND number >= ? AND substr(number, 1, length(?)) = ?", s.Kind, s.Prefix, s.Prefix, s.Prefix)
		if err != nil {
			return nil, err
		}
		given := make(map[int64]bool, len(numbers))
		for _, number := range numbers {
			if n, err := strconv.ParseInt(number[len(s.Prefix):], 10, 64); err == nil {
				given[n] = true
			}
		}
		for n := int64(1); n < s.Next && len(found) < 100; n++ {
			if !given[n] {
				found = append(found, fmt.Sprintf("the %s %s%04d is missing in its series", s.Kind, s.Prefix, n))
			}
		}
	}
	return found, nil
}

// Quick is the part of the check that takes seconds where the whole takes
// minutes: whether the file hangs together, and whether the control accounts tie
// out by what is kept.
func (r Reader) Quick() ([]string, error) {
	found, err := scan[string](r, "SELECT 'SQLite says of the file: ' || quick_check FROM pragma_quick_check WHERE quick_check <> 'ok'")
	if err != nil {
		return nil, understood(err)
	}
	tie, err := r.TieOut(day.EndOfTime)
	if err != nil {
		return found, err
	}
	for _, x := range tie.Ties {
		if !x.OK() {
			found = append(found, x.Account+" differs from its register")
		}
	}
	if tie.Difference != 0 {
		found = append(found, "debits and credits differ")
	}
	return found, nil
}

// openBounds finds items whose open amount, or the tax inside it, left its
// bounds at the end of some day.
func (r Reader) openBounds() ([]string, error) {
	rows, err := scan[string](r, `WITH ends AS (SELECT item_id, day, SUM(amount) AS amount, SUM(tax) AS tax FROM item_moves GROUP BY item_id, day),
		run AS (SELECT item_id, day, SUM(amount) OVER (PARTITION BY item_id ORDER BY day) AS open, SUM(tax) OVER (PARTITION BY item_id ORDER BY day) AS tax FROM ends)
		SELECT DISTINCT p.number FROM run JOIN open_items i ON i.id = run.item_id JOIN papers p ON p.id = i.paper_id
		WHERE run.open * sign(i.amount) < 0 OR abs(run.open) > abs(i.amount) OR run.tax * sign(i.tax) < 0 OR abs(run.tax) > abs(i.tax) OR (run.open = 0 AND run.tax <> 0)`)
	for n, number := range rows {
		rows[n] = number + " was open beyond its bounds on some day"
	}
	return rows, err
}

// keptOtherwise names the rows of a table that is kept in which it differs from
// what is worked out anew.
func keptOtherwise(name, table, anew string) string {
	return "SELECT " + name + " FROM (" + anew + " EXCEPT SELECT * FROM " + table + ") UNION SELECT " + name + " FROM (SELECT * FROM " + table + " EXCEPT " + anew + ")"
}
