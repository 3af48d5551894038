package store

import (
	"fmt"
	"strings"

	"cleantally/core/day"
	"cleantally/core/money"
)

// DepositRow is a deposit in its register as of a day: what became of it.
// Amounts are above nil.
type DepositRow struct {
	ID          int64
	PaperID     int64
	Number      string
	PartyID     int64
	Party       string
	JobID       int64
	Job         string
	Day         day.Day
	Reference   string
	Amount      money.Amount
	SetAgainst  money.Amount
	Refunded    money.Amount
	Forfeited   money.Amount
	Transferred money.Amount
	TakenBack   money.Amount // reversed, or returned by the bank
	Held        money.Amount
	TaxInside   money.Amount // of what is held
}

// DepositRegister returns the deposits that were there at the end of a day:
// those still held, or all of them. Its sums are of the amounts in the order
// of the row.
func (r Reader) DepositRegister(at day.Day, all bool, search string, q Query) (Page[DepositRow], error) {
	open, err := r.openAmountsAt(at)
	if err != nil {
		return Page[DepositRow]{}, err
	}
	// What became of each is one sum over its moves through the day.
	uses := func(which string) string {
		return fmt.Sprintf(`(SELECT x.item_id, %s AS set_against, %s AS refunded, %s AS forfeited, %s AS transferred, %s AS taken_back, SUM(x.amount) AS used, SUM(x.tax) AS tax
		FROM deposit_moves x WHERE x.became <> 'received' AND x.day <= @asof AND %s GROUP BY x.item_id)`,
			became("set against"), became("refunded"), became("forfeited"), became("transferred"), became("taken back"), which)
	}
	some := "<> 0"
	if !all {
		some = "IN (SELECT z.id FROM " + open + " z WHERE z.register = 'deposits')"
	}
	of := func(which string) string {
		return "open_items i LEFT JOIN " + uses("x.item_id "+which) + " u ON u.item_id = i.id" + openItemJoins
	}
	held := "(-i.amount - COALESCE(u.used, 0))"
	l := listing{
		columns: `i.id, i.paper_id, p.number, i.party_id, COALESCE(c.name, '') AS party, i.job_id, COALESCE(j.number, '') AS job, i.day, p.reference, -i.amount AS amount,
			COALESCE(u.set_against, 0) AS set_against, COALESCE(u.refunded, 0) AS refunded, COALESCE(u.forfeited, 0) AS forfeited, COALESCE(u.transferred, 0) AS transferred,
			COALESCE(u.taken_back, 0) AS taken_back, ` + held + ` AS held, -i.tax - COALESCE(u.tax, 0) AS tax_inside`,
		from: of(some),
		once: true,
		few:  func(ids string) string { return of("IN (" + ids + ")") },
		id:   "i.id",
		sort: "day",
		sorts: map[string]string{"day": "i.day", "number": "p.number", "party": "c.name", "job": "COALESCE(j.number, '')", "amount": "-i.amount", "held": held,
			"setAgainst": "COALESCE(u.set_against, 0)", "refunded": "COALESCE(u.refunded, 0)", "forfeited": "COALESCE(u.forfeited, 0)", "transferred": "COALESCE(u.transferred, 0)"},
		sums: []string{"-i.amount", "u.set_against", "u.refunded", "u.forfeited", "u.transferred", "u.taken_back", held, "-i.tax - COALESCE(u.tax, 0)"},
	}
	l.named = []any{asOf(at)}
	l.filter("i.register = 'deposits' AND i.amount < 0 AND i.nature = '' AND i.day <= ?", at)
	if !all {
		l.filter("i.id " + some)
	}
	if search = strings.TrimSpace(search); search != "" {
		l.contains(search, "p.number", "c.name", "p.reference")
	} else if all && len(q.IDs) == 0 && q.Limit > 0 {
		l.kept, l.once = keptDeposits(at), false
		if !strings.Contains(l.sorts[q.Sort], "u.") { // what became of them is looked at for those of a page
			l.from = "open_items i" + openItemJoins
		}
	}
	return fetch[DepositRow](r, l, q)
}

// became is the sum of what became so, in SQL.
func became(what string) string {
	return "COALESCE(SUM(CASE WHEN became = '" + what + "' THEN amount END), 0)"
}

// keptDeposits are the count and the sums of all deposits that ever were through
// a day, in the order of the row.
func keptDeposits(at day.Day) *keptTotals {
	rest := func(column string) string {
		return "COALESCE(SUM(CASE WHEN became = 'received' THEN " + column + " ELSE -" + column + " END), 0)"
	}
	k := &keptTotals{query: "SELECT (SELECT COUNT(*) FROM open_items WHERE register = 'deposits' AND amount < 0 AND nature = '' AND day <= @asof )" +
		", " + strings.Join([]string{became("received"), became("set against"), became("refunded"), became("forfeited"), became("transferred"), became("taken back"), rest("amount"), rest("tax")}, ", ") + " FROM deposit_days"}
	k.filter("day <= @asof ", asOf(at))
	return k
}
