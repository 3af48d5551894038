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
	became := func(kinds string) string {
		return fmt.Sprintf("COALESCE(SUM(CASE WHEN %s THEN CASE WHEN a.undoes IS NULL THEN a.amount ELSE -a.amount END END), 0)", kinds)
	}
	open, err := r.openAmountsAt(at)
	if err != nil {
		return Page[DepositRow]{}, err
	}
	// What became of each is one sum over its allocations through the day.
	uses := func(which string) string {
		return fmt.Sprintf(`(SELECT a.credit_id, %s AS set_against, %s AS refunded, %s AS forfeited, %s AS transferred, %s AS taken_back,
		SUM(CASE WHEN a.undoes IS NULL THEN a.amount ELSE -a.amount END) AS used, SUM(CASE WHEN a.undoes IS NULL THEN a.tax ELSE -a.tax END) AS tax
		FROM open_items i JOIN allocations a ON a.credit_id = i.id JOIN open_items d ON d.id = a.debit_id JOIN papers k ON k.id = d.paper_id
		WHERE i.register = 'deposits' AND %s AND a.day <= @asof GROUP BY a.credit_id)`,
			became("d.register = 'receivables'"), became("d.register = 'deposits' AND k.kind = 'refund'"), became("d.register = 'deposits' AND k.kind = 'forfeit'"),
			became("d.register = 'deposits' AND k.kind = 'transfer'"), became("d.register = 'deposits' AND k.kind IN (SELECT kind FROM kinds WHERE takes_back = 1)"), which)
	}
	some := "1 = 1"
	if !all {
		some = "i.id IN (SELECT x.id FROM " + open + " x WHERE x.register = 'deposits')"
	}
	of := func(which string) string {
		return "open_items i LEFT JOIN " + uses(which) + " u ON u.credit_id = i.id" + openItemJoins
	}
	held := "(-i.amount - COALESCE(u.used, 0))"
	l := listing{
		columns: `i.id, i.paper_id, p.number, i.party_id, COALESCE(c.name, '') AS party, i.job_id, COALESCE(j.number, '') AS job, i.day, p.reference, -i.amount AS amount,
			COALESCE(u.set_against, 0) AS set_against, COALESCE(u.refunded, 0) AS refunded, COALESCE(u.forfeited, 0) AS forfeited, COALESCE(u.transferred, 0) AS transferred,
			COALESCE(u.taken_back, 0) AS taken_back, ` + held + ` AS held, -i.tax - COALESCE(u.tax, 0) AS tax_inside`,
		from: of(some),
		once: true,
		few:  func(ids string) string { return of("i.id IN (" + ids + ")") },
		id:   "i.id",
		sort: "day",
		sorts: map[string]string{"day": "i.day", "number": "p.number", "party": "c.name", "job": "COALESCE(j.number, '')", "amount": "-i.amount", "held": held,
			"setAgainst": "COALESCE(u.set_against, 0)", "refunded": "COALESCE(u.refunded, 0)", "forfeited": "COALESCE(u.forfeited, 0)", "transferred": "COALESCE(u.transferred, 0)"},
		sums: []string{"-i.amount", "u.set_against", "u.refunded", "u.forfeited", "u.transferred", "u.taken_back", held, "-i.tax - COALESCE(u.tax, 0)"},
	}
	l.named = []any{asOf(at)}
	l.filter("i.register = 'deposits' AND i.amount < 0 AND i.nature = '' AND i.day <= ?", at)
	if !all {
		l.filter(some)
	}
	if search = strings.TrimSpace(search); search != "" {
		l.contains(search, "p.number", "c.name", "p.reference")
	}
	return fetch[DepositRow](r, l, q)
}
