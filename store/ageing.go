package store

import (
	"fmt"
	"strings"

	"cleantally/core/day"
	"cleantally/core/ledger"
	"cleantally/core/money"
	"cleantally/core/reporting"
)

// Ageing returns what customers owed at the end of a day, by age. With a
// party it is of that customer alone.
func (r Reader) Ageing(asOf day.Day, basis reporting.Basis, partyID int64) (reporting.Ageing, error) {
	buckets := reporting.Buckets(basis)
	column := "i.due"
	if basis == reporting.ByPaper {
		column = "i.day"
	}
	var cases strings.Builder
	var args []any
	for n, b := range buckets {
		// Ages run on without a gap, so the first bucket whose oldest day is
		// not after the item's takes it.
		if oldest := b.Oldest(asOf); oldest != "" {
			fmt.Fprintf(&cases, " WHEN %s >= ? THEN %d", column, n)
			args = append(args, oldest)
		} else {
			fmt.Fprintf(&cases, " ELSE %d", n)
		}
	}
	query := fmt.Sprintf(`SELECT i.party_id, i.register, CASE WHEN i.register <> 'receivables' THEN -2 WHEN %s < 0 THEN -1 ELSE (CASE%s END) END AS bucket, SUM(%s) AS open
		FROM %s GROUP BY 1, 2, 3`, "%[1]s", cases.String(), "%[1]s", "%[2]s")
	moved, err := r.movedAfter(asOf)
	if err != nil {
		return reporting.Ageing{}, err
	}
	if !moved {
		query = fmt.Sprintf(query, "i.open", "open_items i WHERE i.open <> 0 AND i.register IN ('receivables', 'deposits')")
	} else {
		query = fmt.Sprintf(query, "o.open", openOnAll+" o JOIN open_items i ON i.id = o.item_id WHERE i.register IN ('receivables', 'deposits')")
		args = append(args, asOf)
	}
	if partyID != 0 {
		query = strings.Replace(query, " GROUP BY", " AND i.party_id = ? GROUP BY", 1)
		args = append(args, partyID)
	}
	type cell struct {
		PartyID  int64
		Register ledger.Role
		Bucket   int
		Open     money.Amount
	}
	cells, err := scan[cell](r, query, args...)
	if err != nil {
		return reporting.Ageing{}, err
	}
	byParty := map[int64]*reporting.AgeingRow{}
	for _, c := range cells {
		row := byParty[c.PartyID]
		if row == nil {
			row = &reporting.AgeingRow{PartyID: c.PartyID, Buckets: make([]money.Amount, len(buckets))}
			byParty[c.PartyID] = row
		}
		switch {
		case c.Bucket == -2:
			row.Held -= c.Open
		case c.Bucket == -1:
			row.Unplaced += c.Open
			row.Total += c.Open
		default:
			row.Buckets[c.Bucket] += c.Open
			row.Total += c.Open
		}
	}
	return r.named(asOf, basis, byParty)
}

// movedAfter tells whether anything moved after a day: if not, what is kept as
// open is what was open at its end.
func (r Reader) movedAfter(d day.Day) (bool, error) {
	_, moved, err := one[int64](r, "SELECT 1 FROM item_moves WHERE day > ? LIMIT 1", d)
	return moved, err
}

// openOnAll is openOn for every register at once. Its argument is the day.
const openOnAll = `(SELECT item_id, SUM(amount) AS open FROM (
	SELECT id AS item_id, open AS amount FROM open_items WHERE open <> 0
	UNION ALL SELECT item_id, -amount FROM item_moves WHERE day > ?)
	GROUP BY item_id HAVING SUM(amount) <> 0)`

// named puts the rows in the order of the customers' names.
func (r Reader) named(asOf day.Day, basis reporting.Basis, byParty map[int64]*reporting.AgeingRow) (reporting.Ageing, error) {
	type name struct {
		ID   int64
		Name string
	}
	names, err := scan[name](r, "SELECT id, name FROM parties ORDER BY name COLLATE NOCASE, id")
	var rows []reporting.AgeingRow
	for _, n := range names {
		if row := byParty[n.ID]; row != nil {
			row.Party = n.Name
			rows = append(rows, *row)
		}
	}
	return reporting.NewAgeing(asOf, basis, rows), err
}
