package store

import (
	"cleantally/core/day"
	"cleantally/core/money"
)

// LinesNamed returns lines of a bank account by their IDs.
func (r Reader) LinesNamed(bank int64, ids []int64) ([]BankLine, error) {
	return scan[BankLine](r, "SELECT l.*, COALESCE(l.statement_id, 0) AS statement_id, "+isTied+" AS tied FROM bank_lines l WHERE l.bank_account_id = ? AND l.id IN ? ORDER BY l.day, l.id", bank, ids)
}

// MovementsOfPapers returns what papers moved on the account of a bank, by the IDs
// of its journal lines.
func (r Reader) MovementsOfPapers(bank int64, papers []int64) ([]int64, error) {
	return scan[int64](r, "SELECT e.id FROM bank_accounts k JOIN entries h ON h.paper_id IN ? JOIN entry_lines e ON e.entry_id = h.id AND e.account_id = k.account_id WHERE k.id = ? ORDER BY e.id", papers, bank)
}

// WaitingNear returns what was posted on the account of a bank and no line is tied
// to, the nearest to a day first.
func (r Reader) WaitingNear(bank int64, near day.Day, chosen []int64, most int) ([]WaitingMovement, error) {
	args := map[string]any{"bank": bank, "near": near, "chosen": chosen, "most": most, "some": 4 * most}
	// Of those that wait the nearest are found by day, a few more for what was
	// reversed; how many wait in all, by what was reversed of them.
	waitsOn := "SELECT w.movement_id FROM bank_accounts k CROSS JOIN movements_waiting w ON w.account_id = k.account_id WHERE k.id = @bank AND w.day "
	all, err := scan[WaitingMovement](r, selectWaiting+` FROM (SELECT movement_id FROM (`+waitsOn+`>= max(@near, `+fromFirst+`) ORDER BY w.day LIMIT @some) UNION SELECT movement_id FROM (`+waitsOn+`< @near AND w.day >= `+fromFirst+` ORDER BY w.day DESC LIMIT @some)
			UNION SELECT w.movement_id FROM bank_accounts k CROSS JOIN movements_waiting w ON w.movement_id IN @chosen AND w.account_id = k.account_id WHERE k.id = @bank) w CROSS JOIN entry_lines e ON e.id = w.movement_id`+ofMovement+`WHERE `+movementWaits+`
		ORDER BY e.id IN @chosen DESC, abs(julianday(e.day) - julianday(@near)), e.id LIMIT @most`, args)
	if err != nil || len(all) == 0 {
		return all, err
	}
	count, _, err := one[int64](r, `SELECT (SELECT COUNT(*) FROM bank_accounts k CROSS JOIN movements_waiting w ON w.account_id = k.account_id WHERE k.id = @bank AND w.day >= `+fromFirst+`)
		- (SELECT COUNT(*) FROM bank_accounts k CROSS JOIN papers v CROSS JOIN entries g ON g.paper_id IN (v.id, v.reverses_id) CROSS JOIN entry_lines e ON e.entry_id = g.id AND e.account_id = k.account_id CROSS JOIN movements_waiting w ON w.movement_id = e.id
			WHERE k.id = @bank AND v.kind = 'reversal' AND v.reverses_id IS NOT NULL AND w.day >= `+fromFirst+`)
		- (SELECT COUNT(*) FROM bank_accounts k CROSS JOIN papers o CROSS JOIN entries g ON g.paper_id = o.id CROSS JOIN entry_lines e ON e.entry_id = g.id AND e.account_id = k.account_id CROSS JOIN movements_waiting w ON w.movement_id = e.id
			WHERE k.id = @bank AND o.kind = 'opening' AND NOT EXISTS (SELECT 1 FROM paper_payment z WHERE z.paper_id = o.id) AND w.day >= `+fromFirst+`)`, args)
	for n := range all {
		all[n].Count = count
	}
	return all, err
}

// BankLineSum is what some lines of a bank's statement come to.
func BankLineSum(lines []BankLine) (sum money.Amount) {
	for _, l := range lines {
		sum += l.Amount
	}
	return sum
}
