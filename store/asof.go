package store

import (
	"database/sql"
	"fmt"

	"cleantally/core/day"
)

// asOf binds the day of what is asked for as of a day: @asof in the SQL below.
// It comes after the values of question marks.
func asOf(d day.Day) sql.NamedArg { return sql.Named("asof", d) }

// movedAfter tells whether anything moved after a day: if not, what is kept as
// open is what was open at its end.
func (r Reader) movedAfter(d day.Day) (bool, error) {
	_, moved, err := one[int64](r, "SELECT 1 FROM item_moves WHERE day > ? LIMIT 1", d)
	return moved, err
}

// openAt is a table of the items that were open at the end of @asof, with what
// was open of them.
func (r Reader) openAt(d day.Day) (string, error) {
	return r.openSince(d, "", ", i.open_tax, i.own_open, i.own_open_tax", sumsOfOwn, ", o.open_tax, o.own_open, o.own_open_tax")
}

// openAmountsAt is the same without the tax inside and other currencies, which
// takes less time over very many items.
func (r Reader) openAmountsAt(d day.Day) (string, error) { return r.openSince(d, "", "", "", "") }

// openCreditsAt is the same of what customers have to their credit alone.
func (r Reader) openCreditsAt(d day.Day) (string, error) {
	return r.openSince(d, " AND i.register = 'receivables' AND i.amount < 0", "", "", "")
}

// itemColumns are those of an item i that never change.
const itemColumns = "i.id, i.register, i.nature, i.paper_id, i.bills_id, i.instalment, i.party_id, i.job_id, i.day, i.due, i.currency, i.amount, i.tax, i.own_amount, i.own_tax, i.tax_code_id"

// Of what did not move since, what is kept as open was open then; the rest is
// added up from its moves. Of narrows it to some of the items i.
func (r Reader) openSince(d day.Day, of, now, sums, then string) (string, error) {
	moved, err := r.movedAfter(d)
	if err != nil || !moved {
		return "(SELECT * FROM open_items i WHERE i.open <> 0" + of + ")", err
	}
	return fmt.Sprintf(`(SELECT %[1]s, i.open%[2]s FROM open_items i WHERE i.open <> 0 AND +i.moved <= @asof%[5]s
		UNION ALL SELECT %[1]s, o.open%[4]s FROM %[3]s)`, itemColumns, now, movedSince(sums, of), then, of), nil
}

// movedSince are the items i that moved after @asof and were open at its end, with
// what o was open of them then.
func movedSince(sums, of string) string {
	return "(SELECT m.item_id, SUM(m.amount) AS open" + sums + ` FROM open_items i INDEXED BY open_items_moved CROSS JOIN item_moves m ON m.item_id = i.id
			WHERE i.moved > @asof AND i.day <= @asof AND m.day <= @asof` + of + ` GROUP BY m.item_id HAVING SUM(m.amount) <> 0) o
		CROSS JOIN open_items i ON i.id = o.item_id`
}

// sumsOfOwn are beside the amount what else is added up of an item's moves.
const sumsOfOwn = ", SUM(m.tax) AS open_tax, SUM(m.own_amount) AS own_open, SUM(m.own_tax) AS own_open_tax"

// openDebtsAt is the same of receivables and retention alone, in the order of what
// they bill.
func (r Reader) openDebtsAt(d day.Day) (string, error) {
	const columns, which = "i.id, i.bills_id, i.party_id, i.due, ", "i.register IN ('receivables', 'retention')"
	const ofIndex = columns + "i.open, i.open_tax, i.own_open, i.own_open_tax FROM open_items i INDEXED BY open_items_debts WHERE i.open <> 0 AND " + which
	moved, err := r.movedAfter(d)
	if err != nil || !moved {
		return "(SELECT " + ofIndex + " ORDER BY i.bills_id LIMIT -1)", err
	}
	return "(SELECT " + ofIndex + " AND i.moved <= @asof UNION ALL SELECT " + columns + "o.open, o.open_tax, o.own_open, o.own_open_tax FROM " + movedSince(sumsOfOwn, "") + " WHERE " + which + " ORDER BY 2 LIMIT -1)", nil
}

// openOf is the same for the items of one customer or job, which is found by
// its own index: @whose. The column is party_id or job_id.
func (r Reader) openOf(column string, d day.Day) (string, error) {
	moved, err := r.movedAfter(d)
	return openWhere(moved, "i."+column+" = @whose"), err
}

// openWhere is the same for the items i under a condition by which few are found.
func openWhere(moved bool, where string) string {
	if !moved {
		return "(SELECT * FROM open_items i WHERE " + where + " AND i.open <> 0)"
	}
	return `(SELECT ` + itemColumns + `, SUM(m.amount) AS open, SUM(m.tax) AS open_tax, SUM(m.own_amount) AS own_open, SUM(m.own_tax) AS own_open_tax
		FROM open_items i CROSS JOIN item_moves m ON m.item_id = i.id
		WHERE ` + where + ` AND m.day <= @asof GROUP BY i.id HAVING SUM(m.amount) <> 0)`
}

// ofParties narrows a table of open items to those of some parties; ids are theirs,
// with commas.
func ofParties(open, ids string) string {
	return "(SELECT * FROM " + open + " WHERE party_id IN (" + ids + "))"
}

// whose binds the customer or job of openOf.
func whose(id int64) sql.NamedArg { return sql.Named("whose", id) }

// disputed tells in SQL whether the item i was disputed at the end of @asof.
const disputed = "COALESCE((SELECT x.reason FROM disputes x WHERE x.item_id = i.id AND x.day <= @asof ORDER BY x.id DESC LIMIT 1), '') <> ''"

// A currencyView says in SQL what is told of one currency, or of all in the
// firm's.
type currencyView struct {
	one  bool   // one currency alone
	open string // a table of the items that are open
	own  string // what is open of an item i in its own currency
	args []any
}

// inCurrency is how what is open at the end of a day is told of a currency, or of
// all, with what is open of each in its own beside. Where that is not asked for,
// or the firm never used another, it takes less time without.
func (r Reader) inCurrency(at day.Day, currency string, beside bool) (currencyView, error) {
	cur, err := r.Currency()
	if err != nil {
		return currencyView{}, err
	}
	v := currencyView{one: currency != "", own: "i.own_open", args: []any{asOf(at), sql.Named("currency", currency), sql.Named("firms", cur.Code)}}
	abroad, err := r.abroad()
	switch {
	case err != nil:
	case abroad && (v.one || beside):
		v.open, err = r.openAt(at)
	default:
		v.own = "NULL"
		v.open, err = r.openAmountsAt(at)
	}
	return v, err
}

// of is an amount as it is told, of its two.
func (v currencyView) of(base, own string) string {
	if !v.one {
		return base
	}
	return "COALESCE(" + own + ", " + base + ")"
}

// beside are the columns of a foreign amount beside the firm's.
func (v currencyView) beside(currency, own string) string {
	return "COALESCE(" + currency + ", '') AS currency, CASE WHEN " + currency + " IS NULL THEN 0 ELSE " + own + " END AS own"
}

// within is the condition of what is told.
func (v currencyView) within(currency string) string {
	if !v.one {
		return ""
	}
	return " AND COALESCE(" + currency + ", @firms) = @currency"
}
