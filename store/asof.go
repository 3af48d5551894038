package store

import (
	"database/sql"
	"errors"
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
	now, sums, then, err := r.beside()
	if err != nil {
		return "", err
	}
	return r.openSince(d, "", now, sums, then)
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
// what o was open of them then. A sum that is told to be a whole number, as the
// column is, lets SQLite take the UNION ALL apart instead of copying each row.
func movedSince(sums, of string) string {
	return "(SELECT m.item_id, CAST(SUM(m.amount) AS INTEGER) AS open" + sums + ` FROM open_items i INDEXED BY open_items_moved CROSS JOIN item_moves m ON m.item_id = i.id
			WHERE i.moved > @asof AND i.day <= @asof AND m.day <= @asof` + of + ` GROUP BY m.item_id HAVING SUM(m.amount) <> 0) o
		CROSS JOIN open_items i ON i.id = o.item_id`
}

// beside is what else there is of an item than its amount: the tax inside, and both
// in its own currency, as it is kept, as the sums of its moves and of those. A firm
// without other currencies is not asked for them, and need not look at the moves
// themselves.
func (r Reader) beside() (now, sums, then string, err error) {
	now, sums, then = ", i.open_tax", ", CAST(SUM(m.tax) AS INTEGER) AS open_tax", ", o.open_tax"
	const none = ", NULL AS own_open, NULL AS own_open_tax"
	abroad, err := r.abroad()
	if !abroad {
		return now + none, sums, then + none, err
	}
	return now + ", i.own_open, i.own_open_tax", sums + ", CAST(SUM(m.own_amount) AS INTEGER) AS own_open, CAST(SUM(m.own_tax) AS INTEGER) AS own_open_tax", then + ", o.own_open, o.own_open_tax", nil
}

// openDebtsAt is the same of receivables and retention alone, in the order of what
// they bill.
func (r Reader) openDebtsAt(d day.Day) (string, error) {
	now, sums, then, err := r.beside()
	moved, err2 := r.movedAfter(d)
	const columns, which = "i.id, i.bills_id, i.party_id, i.due, ", "i.register IN ('receivables', 'retention')"
	ofIndex := columns + "i.open" + now + " FROM open_items i INDEXED BY open_items_debts WHERE i.open <> 0 AND " + which
	if err = errors.Join(err, err2); err != nil || !moved {
		return "(SELECT " + ofIndex + " ORDER BY i.bills_id LIMIT -1)", err
	}
	return "(SELECT " + ofIndex + " AND i.moved <= @asof UNION ALL SELECT " + columns + "o.open" + then + " FROM " + movedSince(sums, "") + " WHERE " + which + " ORDER BY 2 LIMIT -1)", nil
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
