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
	return scan[WaitingMovement](r, selectWaiting+`, COUNT(*) OVER () AS count, SUM(e.amount) OVER () AS sum `+fromWaiting+`WHERE k.id = @bank AND w.day >= `+fromFirst+` AND `+movementWaits+`
		ORDER BY e.id IN @chosen DESC, abs(julianday(e.day) - julianday(@near)), e.id LIMIT @most`, map[string]any{"bank": bank, "near": near, "chosen": chosen, "most": most})
}

// BankLineSum is what some lines of a bank's statement come to.
func BankLineSum(lines []BankLine) (sum money.Amount) {
	for _, l := range lines {
		sum += l.Amount
	}
	return sum
}
