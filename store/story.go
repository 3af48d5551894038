package store

import (
	"errors"
	"strings"

	"cleantally/core/day"
	"cleantally/core/ledger"
	"cleantally/core/money"
	"cleantally/core/reporting"
)

// happened is what happened with a customer or on a job, in no order: every
// paper that touches it, and everything set against what is owed that is no
// such paper itself (a deposit; on a job, also a receipt of none). COLUMN is
// whose story it is, OWED the side of what is owed. What it came to is worked out for those that are told.
const happened = `SELECT p.day, p.act_id AS act, 0 AS second, p.id AS seq, p.id AS paper_id, 0 AS allocation_id
	FROM (SELECT id FROM papers WHERE COLUMN = @id UNION SELECT paper_id FROM open_items WHERE COLUMN = @id AND register IN ('receivables', 'deposits')) own
	JOIN papers p ON p.id = own.id WHERE p.day BETWEEN @from AND @day
	UNION ALL
	SELECT a.day, a.act_id, 1, a.id, c.paper_id, a.id
	FROM allocations a JOIN open_items d ON d.id = a.debit_id JOIN open_items c ON c.id = a.credit_id
	WHERE OWED.register = 'receivables' AND (d.register <> c.register OR d.COLUMN IS NOT c.COLUMN OR DIFFERS) AND a.party_id = @party AND d.COLUMN = @id AND a.day BETWEEN @from AND @day`

// What a happening h did to receivables and to deposits held: a paper p its
// items, an allocation a what it moved.
const (
	happenedAmount = `CASE WHEN a.id IS NULL THEN COALESCE((SELECT SUM(i.amount) FROM open_items i WHERE i.paper_id = h.paper_id AND i.register = 'receivables' AND i.COLUMN = @id), 0)
		WHEN d.currency IS NOT NULL THEN FOREIGN
		WHEN a.undoes IS NULL THEN -a.amount ELSE a.amount END`
	happenedHeld = `CASE WHEN a.id IS NULL THEN COALESCE((SELECT -SUM(i.amount) FROM open_items i WHERE i.paper_id = h.paper_id AND i.register = 'deposits' AND i.COLUMN = @id), 0)
		WHEN c.register <> 'deposits' OR c.COLUMN IS NOT d.COLUMN THEN 0 WHEN d.currency IS NOT NULL THEN FHELD WHEN a.undoes IS NULL THEN -a.amount ELSE a.amount END`
)

// story tells what happened in full, with the states at the end of a day.
const story = `SELECT h.day, h.act, h.second, h.seq, h.paper_id, p.number, CASE WHEN a.id IS NULL THEN p.kind WHEN a.undoes IS NULL THEN 'set against' ELSE 'undone' END AS kind,
		COALESCE(dp.number, p.title) AS text, ` + happenedAmount + ` AS amount, ` + happenedHeld + ` AS held,
		CASE WHEN a.id IS NULL THEN COALESCE((SELECT SUM(i.amount) FROM open_items i WHERE i.paper_id = p.id AND i.nature = '' AND i.register NOT IN ('retention', 'retention payable')), 0) ELSE 0 END AS item_amount,
		CASE WHEN a.id IS NULL THEN COALESCE((SELECT SUM(m.amount) FROM open_items i CROSS JOIN item_moves m ON m.item_id = i.id WHERE i.paper_id = p.id AND i.nature = '' AND i.register NOT IN ('retention', 'retention payable') AND m.day <= @day), 0) ELSE 0 END AS item_open,
		CASE WHEN a.id IS NULL THEN COALESCE((SELECT r.kind FROM papers r WHERE r.reverses_id = p.id AND r.day <= @day), '') ELSE '' END AS reversed_by,
		CASE WHEN a.id IS NULL THEN ` + givenUp + ` ELSE 0 END AS written_off, p.total, CASE WHEN a.id IS NULL THEN ` + takenOf + ` ELSE 0 END AS taken, CASE WHEN a.id IS NULL THEN ` + cancelledOf + ` ELSE 0 END AS cancelled,
		CASE WHEN a.id IS NULL THEN COALESCE((SELECT MIN(i.due) FROM open_items i WHERE i.paper_id = p.id AND i.amount > 0 AND i.nature = '' AND i.register NOT IN ('retention', 'retention payable')
			AND (SELECT SUM(m.amount) FROM item_moves m WHERE m.item_id = i.id AND m.day <= @day) > 0), '') ELSE '' END AS due,
		COALESCE((SELECT o.number FROM paper_events e JOIN papers o ON o.id = json_extract(e.detail, '$.of') WHERE a.id IS NULL AND e.paper_id = p.id AND e.event = 'written again'), '') AS instead_of,
		COALESCE((SELECT n.number FROM papers n WHERE a.id IS NULL AND n.id IN (SELECT e.paper_id FROM paper_events e INDEXED BY paper_events_again WHERE e.event = 'written again' AND json_extract(e.detail, '$.of') = p.id) AND n.day <= @day ORDER BY n.id DESC LIMIT 1), '') AS written_again
	FROM (HAPPENED) h JOIN papers p ON p.id = h.paper_id LEFT JOIN allocations a ON a.id = h.allocation_id AND h.allocation_id <> 0
	LEFT JOIN open_items d ON d.id = a.debit_id LEFT JOIN open_items c ON c.id = a.credit_id LEFT JOIN papers dp ON dp.id = d.paper_id`

// givenUp tells in SQL whether a write-off stands on the paper p at the end of
// the day @asof. The joins are told to go from the paper on: without statistics
// SQLite would begin with all allocations that stand.
const givenUp = `EXISTS (SELECT 1 FROM open_items i CROSS JOIN allocations w ON w.debit_id = i.id CROSS JOIN open_items c ON c.id = w.credit_id
	WHERE i.paper_id = p.id AND c.nature = 'write-off' AND +w.undoes IS NULL AND w.day <= @asof AND NOT EXISTS (SELECT 1 FROM allocations u WHERE u.undoes = w.id AND u.day <= @asof ))`

// HappeningRow is a happening with what its state is worked out from.
type HappeningRow struct {
	reporting.Happening
	Act        int64 // lines of a day stand in the order of posting
	Second     int
	Seq        int64
	ItemAmount money.Amount
	ItemOpen   money.Amount
	ReversedBy string // kind of the paper that took it back
	WrittenOff bool
	Total      money.Amount
	Taken      money.Amount // of a paper whose lines are taken one by one
	Cancelled  money.Amount // of what is taken
	Due        day.Day

	InsteadOf    string // number of the paper that it is written in place of
	WrittenAgain string // of the one that is written in its place
}

// StoryOf says whose story is told, and which stretch of it.
type StoryOf struct {
	JobID   int64 // 0 for the customer's
	PartyID int64
	// Of what is in this currency alone, in it, the firm's own by its code; "" for
	// all, in the firm's.
	Currency string
	From     day.Day // "" for the beginning
	Through  day.Day
	Before   StoryPlace // tell what happened before it; none for the newest
	Limit    int        // rows; 0 for all

	Payable bool // what we owe a supplier, in place of what a customer owes

	abroad bool // whether anything can be in another currency than the firm's
}

// told is a query of a story as it is of: of what we owe a supplier the
// registers are others, and what is owed stands on the other side.
func (of StoryOf) told(query string) string {
	column := "party_id"
	if of.JobID != 0 {
		column = "job_id"
	}
	query = strings.ReplaceAll(query, "COLUMN", column)
	if of.Payable {
		query = payable.Replace(query)
	}
	return of.worth(strings.ReplaceAll(query, "OWED", "d"))
}

// worth tells what happened in the firm's currency, with what came to exchange
// when an item was settled at another rate; or what is in one currency, in that.
func (of StoryOf) worth(query string) string {
	if !of.abroad {
		return atHome.Replace(query)
	}
	register, beside := "receivables", "deposits"
	sign := ""
	if of.Payable {
		register, beside, sign = "payables", "supplier prepayments", "-"
	}
	moved := func(register, amount string) string {
		return "COALESCE((SELECT SUM(" + amount + ") FROM item_moves m CROSS JOIN open_items x ON x.id = m.item_id WHERE m.item_id IN (d.id, c.id) AND m.allocation_id = a.id AND x.register = '" + register + "' AND x.party_id = @party), 0)"
	}
	if of.Currency == "" {
		return strings.NewReplacer("FOREIGN", sign+moved(register, "m.amount"), "FHELD", map[string]string{"": "-", "-": ""}[sign]+moved(beside, "m.amount"),
			"DIFFERS", "d.currency IS NOT NULL AND (SELECT SUM(m.amount) FROM item_moves m WHERE m.item_id IN (d.id, c.id) AND m.allocation_id = a.id) <> 0").Replace(query)
	}
	return strings.NewReplacer("FOREIGN", sign+moved(register, "COALESCE(m.own_amount, m.amount)"), "FHELD", map[string]string{"": "-", "-": ""}[sign]+moved(beside, "COALESCE(m.own_amount, m.amount)"), "DIFFERS", "0",
		"SUM(i.amount)", "SUM(COALESCE(i.own_amount, i.amount))", "SUM(m.amount)", "SUM(COALESCE(m.own_amount, m.amount))", "i.paper_id = h.paper_id AND", "i.paper_id = h.paper_id AND COALESCE(i.currency, @own) = @currency AND",
		"= @id AND register IN", "= @id AND COALESCE(currency, @own) = @currency AND register IN", "AND a.party_id = @party", "AND a.party_id = @party AND COALESCE(d.currency, @own) = @currency",
		"(SELECT id FROM papers WHERE party_id = @id UNION SELECT paper_id", "(SELECT paper_id AS id").Replace(query)
}

var atHome = strings.NewReplacer("WHEN d.currency IS NOT NULL THEN FOREIGN", "", "WHEN d.currency IS NOT NULL THEN FHELD", "", " OR DIFFERS", "")

var payable = strings.NewReplacer("OWED", "c", "'receivables'", "'payables'", "c.register <> 'deposits'", "d.register <> 'supplier prepayments'", "'deposits'", "'supplier prepayments'", "'retention'", "'retention payable'",
	"COALESCE((SELECT SUM(i.amount) FROM open_items i WHERE i.paper_id = h.paper_id AND", "COALESCE((SELECT -SUM(i.amount) FROM open_items i WHERE i.paper_id = h.paper_id AND",
	"COALESCE((SELECT -SUM(i.amount) FROM open_items i WHERE i.paper_id = h.paper_id AND", "COALESCE((SELECT SUM(i.amount) FROM open_items i WHERE i.paper_id = h.paper_id AND",
	"1, a.id, c.paper_id, a.id", "1, a.id, d.paper_id, a.id", "papers dp ON dp.id = d.paper_id", "papers dp ON dp.id = c.paper_id",
	"i.amount > 0", "i.amount < 0", "AND m.day <= @day) > 0)", "AND m.day <= @day) < 0)")

// StoryPlace is a place in a story: a row and the balance before it.
type StoryPlace struct {
	Day     day.Day
	Act     int64
	Second  int
	Seq     int64
	Balance money.Amount
}

// Story returns a stretch of a story in order of time, each line with the
// balance of receivables after it. More tells whether something came before,
// and the place from which to go on.
func (r Reader) Story(of StoryOf) (rows []HappeningRow, more *StoryPlace, err error) {
	id := of.PartyID
	if of.JobID != 0 {
		id = of.JobID
	}
	if of.abroad, err = r.abroad(); err != nil {
		return nil, nil, err
	}
	own := ""
	if of.Currency != "" {
		cur, err := r.Currency()
		if err != nil {
			return nil, nil, err
		}
		own = cur.Code
	}
	args := map[string]any{"currency": of.Currency, "own": own, "id": id, "party": of.PartyID, "from": of.From, "day": of.Through, "asof": of.Through, "limit": -1, "bday": of.Before.Day, "bact": of.Before.Act, "bsecond": of.Before.Second, "bseq": of.Before.Seq}
	stretch := "SELECT * FROM (" + happened + ") "
	balance := of.Before.Balance
	if of.Before.Day != "" {
		stretch += "WHERE (day, act, second, seq) < (@bday, @bact, @bsecond, @bseq) "
	} else if balance, err = r.closing(of, of.told(happened)); err != nil {
		return nil, nil, err
	}
	if of.Limit > 0 {
		args["limit"] = of.Limit + 1
	}
	stretch += "ORDER BY day DESC, act DESC, second DESC, seq DESC LIMIT @limit"
	query := strings.Replace(story, "HAPPENED", stretch, 1) + " ORDER BY h.day, h.act, h.second, h.seq"
	rows, err = scan[HappeningRow](r, of.told(query), args)
	if err != nil {
		return nil, nil, err
	}
	cut := of.Limit > 0 && len(rows) > of.Limit
	if cut {
		rows = rows[1:]
	}
	for i := len(rows) - 1; i >= 0; i-- {
		rows[i].Balance = balance
		balance -= rows[i].Amount
	}
	if cut {
		more = &StoryPlace{rows[0].Day, rows[0].Act, rows[0].Second, rows[0].Seq, balance}
	}
	return rows, more, nil
}

// closing is the balance at the end of a story: a customer's is what the
// register says; a job's is what its happenings come to, for a receipt of the
// job may have settled what is of none.
func (r Reader) closing(of StoryOf, all string) (money.Amount, error) {
	if of.Currency != "" {
		return r.OpenIn(of.Currency, ledger.Receivables, of.PartyID, of.Through)
	}
	if of.Payable {
		v, err := r.OpenOnDay(ledger.Payables, of.PartyID, of.Through)
		return -v, err
	}
	if of.JobID == 0 {
		if moved, err := r.movedAfter(of.Through); err != nil || moved {
			v, err2 := r.OpenOnDay(ledger.Receivables, of.PartyID, of.Through)
			return v, errors.Join(err, err2)
		}
		v, _, err := one[money.Amount](r, "SELECT COALESCE(SUM(open), 0) FROM open_items WHERE register = ? AND party_id = ? AND open <> 0", ledger.Receivables, of.PartyID)
		return v, err
	}
	v, _, err := one[money.Amount](r, of.told("SELECT COALESCE(SUM("+happenedAmount+"), 0) FROM ("+happened+") h LEFT JOIN allocations a ON a.id = h.allocation_id AND h.allocation_id <> 0 LEFT JOIN open_items d ON d.id = a.debit_id LEFT JOIN open_items c ON c.id = a.credit_id"),
		map[string]any{"id": of.JobID, "party": of.PartyID, "from": day.Day(""), "day": of.Through})
	return v, err
}

// OpenIn returns what was open of a register for a customer in a currency, in it,
// at the end of a day; the firm's own by its code.
func (r Reader) OpenIn(currency string, register ledger.Role, partyID int64, d day.Day) (money.Amount, error) {
	cur, err := r.Currency()
	if err != nil {
		return 0, err
	}
	v, _, err := one[money.Amount](r, `SELECT COALESCE(SUM(COALESCE(m.own_amount, m.amount)), 0) FROM open_items i CROSS JOIN item_moves m ON m.item_id = i.id
		WHERE i.party_id = ? AND i.register = ? AND m.day <= ? AND COALESCE(i.currency, ?) = ?`, partyID, register, d, cur.Code, currency)
	return v, err
}

// CurrenciesOf are the currencies that a customer has items in, the firm's own by
// its code; none where all are in that.
func (r Reader) CurrenciesOf(partyID int64) ([]string, error) {
	if abroad, err := r.abroad(); err != nil || !abroad {
		return nil, err
	}
	cur, err := r.Currency()
	if err != nil {
		return nil, err
	}
	codes, err := scan[string](r, "SELECT DISTINCT COALESCE(currency, ?) FROM open_items WHERE party_id = ? ORDER BY currency IS NOT NULL, currency", cur.Code, partyID)
	if len(codes) == 1 && codes[0] == cur.Code {
		codes = nil
	}
	return codes, err
}

// OpenOnDay returns what was open of a register for a customer at the end of
// a day: above nil for debits.
func (r Reader) OpenOnDay(register ledger.Role, partyID int64, d day.Day) (money.Amount, error) {
	v, _, err := one[money.Amount](r, `SELECT COALESCE(SUM(m.amount), 0) FROM open_items i CROSS JOIN item_moves m ON m.item_id = i.id
		WHERE i.party_id = ? AND i.register = ? AND m.day <= ?`, partyID, register, d)
	return v, err
}
