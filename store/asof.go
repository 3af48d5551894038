package store

import (
	"fmt"

	"cleantally/core/day"
)

// movedAfter tells whether anything moved after a day: if not, what is kept as
// open is what was open at its end.
func (r Reader) movedAfter(d day.Day) (bool, error) {
	_, moved, err := one[int64](r, "SELECT 1 FROM item_moves WHERE day > ? LIMIT 1", d)
	return moved, err
}

// openAt is a table of the items that were open at the end of a day, with what
// was open of them: what is open now less what moved since.
func (r Reader) openAt(d day.Day) (string, error) {
	return r.openSince(d, ", open_tax AS tax", ", -tax", ", SUM(tax) AS open_tax", ", o.open_tax")
}

// openAmountsAt is the same without the tax inside, which takes less time over
// very many items.
func (r Reader) openAmountsAt(d day.Day) (string, error) { return r.openSince(d, "", "", "", "") }

func (r Reader) openSince(d day.Day, now, since, sum, told string) (string, error) {
	moved, err := r.movedAfter(d)
	if err != nil || !moved {
		return "(SELECT * FROM open_items WHERE open <> 0)", err
	}
	return fmt.Sprintf(`(SELECT i.id, i.register, i.nature, i.paper_id, i.part, i.party_id, i.job_id, i.day, i.due, i.amount, i.tax, i.tax_code_id, o.open%[5]s
		FROM (SELECT item_id, SUM(amount) AS open%[4]s FROM (
			SELECT id AS item_id, open AS amount%[2]s FROM open_items WHERE open <> 0
			UNION ALL SELECT item_id, -amount%[3]s FROM item_moves WHERE day > '%[1]s') GROUP BY item_id HAVING SUM(amount) <> 0) o
		JOIN open_items i ON i.id = o.item_id)`, d, now, since, sum, told), nil
}

// openOf is the same for the items of one customer or job, which is found by
// its own index. The column is party_id or job_id.
func (r Reader) openOf(column string, id int64, d day.Day) (string, error) {
	moved, err := r.movedAfter(d)
	if err != nil || !moved {
		return fmt.Sprintf("(SELECT * FROM open_items WHERE %s = %d AND open <> 0)", column, id), err
	}
	return fmt.Sprintf(`(SELECT i.id, i.register, i.nature, i.paper_id, i.part, i.party_id, i.job_id, i.day, i.due, i.amount, i.tax, i.tax_code_id,
		SUM(m.amount) AS open, SUM(m.tax) AS open_tax FROM open_items i CROSS JOIN item_moves m ON m.item_id = i.id
		WHERE i.%s = %d AND m.day <= '%s' GROUP BY i.id HAVING SUM(m.amount) <> 0)`, column, id, d), nil
}

// disputed tells in SQL whether the item i was disputed at the end of a day.
func disputed(d day.Day) string {
	return fmt.Sprintf("COALESCE((SELECT x.reason FROM disputes x WHERE x.item_id = i.id AND x.day <= '%s' ORDER BY x.id DESC LIMIT 1), '') <> ''", d)
}
