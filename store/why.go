package store

import (
	"cleantally/core/day"
	"cleantally/core/ledger"
	"cleantally/core/money"
	"cleantally/core/posting"
)

// Reason is a paper and how much of a balance it is.
type Reason struct {
	PaperID int64
	Number  string
	Kind    posting.Kind
	Day     day.Day
	Text    string
	Amount  money.Amount
}

const reasonColumns = "p.id AS paper_id, p.number, p.kind, p.day, CASE WHEN p.party_name = '' THEN p.title ELSE p.party_name || ' · ' || p.title END AS text, "

// WhyRegister returns the papers whose open items add up to what a customer,
// a job or, with neither, everybody has in a register at the end of a day: the
// newest of them, in order, and what all come to. Side is above nil for what is
// owed alone, below for credits, nil for both.
func (r Reader) WhyRegister(register ledger.Role, partyID, jobID int64, side int, at day.Day, limit int) ([]Reason, money.Amount, error) {
	open, err := r.openAt(at)
	if err == nil && partyID != 0 {
		open, err = r.openOf("party_id", at)
	}
	if err != nil {
		return nil, 0, err
	}
	args := map[string]any{"register": register, "job": jobID, "side": side, "limit": limit, "asof": at, "whose": partyID}
	where := " WHERE i.register = @register AND (@job = 0 OR i.job_id = @job) AND i.open * @side >= 0"
	total, _, err := one[money.Amount](r, "SELECT COALESCE(SUM(i.open), 0) FROM "+open+" i"+where, args)
	if err != nil {
		return nil, 0, err
	}
	rows, err := scan[Reason](r, "SELECT "+reasonColumns+"s.amount FROM (SELECT i.paper_id, MAX(i.day) AS day, SUM(i.open) AS amount FROM "+open+" i"+where+`
		GROUP BY +i.paper_id HAVING SUM(i.open) <> 0 ORDER BY MAX(i.day) DESC, i.paper_id DESC LIMIT @limit) s JOIN papers p ON p.id = s.paper_id ORDER BY p.day, p.id`, args)
	return rows, total, err
}

// WhyAccount returns the papers that add up to what stands on an account at
// the end of a day, the newest first. A paper and what took it back count as
// one, so that what came to nothing is left out.
func (r Reader) WhyAccount(accountID int64, asOf day.Day, limit int) ([]Reason, error) {
	return scan[Reason](r, "SELECT "+reasonColumns+`s.amount FROM (SELECT COALESCE(x.reverses_id, x.id) AS id, SUM(l.amount) AS amount
		FROM entry_lines l JOIN entries e ON e.id = l.entry_id JOIN papers x ON x.id = e.paper_id WHERE l.account_id = ? AND l.day <= ?
		GROUP BY 1 HAVING SUM(l.amount) <> 0) s JOIN papers p ON p.id = s.id ORDER BY p.day DESC, p.id DESC LIMIT ?`, accountID, asOf, limit)
}

// WhyItem returns what an item began with and each paper that it was set
// against through the end of a day. What was undone is left out.
func (r Reader) WhyItem(itemID int64, asOf day.Day) ([]Reason, error) {
	return scan[Reason](r, "SELECT "+reasonColumns+`s.amount FROM (
		SELECT paper_id AS id, amount FROM open_items WHERE id = @item AND day <= @day
		UNION ALL SELECT o.paper_id, SUM(m.amount) FROM item_moves m JOIN allocations a ON a.id = m.allocation_id
			JOIN open_items o ON o.id = CASE WHEN a.debit_id = @item THEN a.credit_id ELSE a.debit_id END
			WHERE m.item_id = @item AND m.day <= @day GROUP BY o.paper_id HAVING SUM(m.amount) <> 0) s JOIN papers p ON p.id = s.id ORDER BY p.day, p.id`,
		map[string]any{"item": itemID, "day": asOf})
}

// WhyBilled returns the papers that add up to what was billed on a job, net.
func (r Reader) WhyBilled(jobID int64, at day.Day) ([]Reason, error) {
	return scan[Reason](r, "SELECT "+reasonColumns+`s.amount FROM (SELECT COALESCE(x.reverses_id, x.id) AS id, SUM(b.net - b.beside) AS amount FROM papers x JOIN kinds k ON k.kind = x.about JOIN paper_billing b ON b.paper_id = x.id
		WHERE x.job_id = ? AND x.day <= ? AND k.bills = 1 GROUP BY 1 HAVING SUM(b.net - b.beside) <> 0) s JOIN papers p ON p.id = s.id ORDER BY p.day, p.id`, jobID, at)
}

// Week is a stretch of days with what falls into it.
type Week struct {
	From   day.Day
	To     day.Day
	Amount money.Amount
}

// HeldAtMonthEnds returns the deposits held at the end of each of so many
// months, the last of them the month of asOf, as far as it has come.
func (r Reader) HeldAtMonthEnds(asOf day.Day, months int) ([]Week, error) {
	all := make([]Week, months)
	end := asOf
	for n := months - 1; n >= 0; n-- {
		all[n].To = end
		t := end.Time()
		end = day.Of(t.AddDate(0, 0, -t.Day()))
	}
	now, _, err := one[money.Amount](r, "SELECT COALESCE(-SUM(open), 0) FROM open_items WHERE register = 'deposits' AND open <> 0")
	if err != nil {
		return nil, err
	}
	type moved struct {
		Day    day.Day
		Amount money.Amount
	}
	// What is held now, less what has moved since each of the days.
	moves, err := scan[moved](r, "SELECT m.day, -SUM(m.amount) AS amount FROM item_moves m CROSS JOIN open_items i ON i.id = m.item_id WHERE m.day > ? AND i.register = 'deposits' GROUP BY m.day", all[0].To)
	for n := range all {
		all[n].Amount = now
		for _, m := range moves {
			if m.Day > all[n].To {
				all[n].Amount -= m.Amount
			}
		}
	}
	return all, err
}
