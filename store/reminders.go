package store

import (
	"database/sql"

	"cleantally/core/day"
	"cleantally/core/money"
)

// OverdueItem is something that a customer owes and is past its due day, or a
// late charge of what was.
type OverdueItem struct {
	ItemID, PaperID, PartyID int64
	Number, Title            string
	Day, Due                 day.Day
	Open                     money.Amount // in the firm's currency
	Currency                 string       // ISO 4217; "" for the firm's own
	OwnOpen                  money.Amount // in it
	Charge                   bool         // a late charge
	Disputed                 string       // why; "" for not
	Until                    day.Day      // through which it is waited for; "" for not
	Reminded                 day.Day      // when it was last; "" for never
	How                      string       // and how
}

// OverdueItems returns what is overdue on a day, as things stand, by customer and
// due day: of some customers.
func (r Reader) OverdueItems(at day.Day, of []int64) ([]OverdueItem, error) {
	return scan[OverdueItem](r, `SELECT i.id AS item_id, i.paper_id, i.party_id, p.number, p.title, p.day, i.due, i.open, COALESCE(i.currency, '') AS currency, COALESCE(i.own_open, i.open) AS own_open, COALESCE(b.form, '') = 'late charge' AS charge,
		COALESCE((SELECT x.reason FROM disputes x WHERE x.item_id = i.id AND x.day <= @asof ORDER BY x.id DESC LIMIT 1), '') AS disputed,
		COALESCE((SELECT MAX(json_extract(e.detail, '$.until')) FROM paper_events e WHERE e.paper_id = i.paper_id AND e.event IN ('promised', 'put off') AND json_extract(e.detail, '$.until') >= @asof), '') AS until,
		COALESCE((SELECT e.day FROM paper_events e WHERE e.paper_id = i.paper_id AND e.event = 'reminded' ORDER BY e.id DESC LIMIT 1), '') AS reminded,
		COALESCE((SELECT json_extract(e.detail, '$.text') FROM paper_events e WHERE e.paper_id = i.paper_id AND e.event = 'reminded' ORDER BY e.id DESC LIMIT 1), '') AS how
		FROM open_items i JOIN papers p ON p.id = i.paper_id LEFT JOIN paper_billing b ON b.paper_id = i.paper_id
		WHERE i.register = 'receivables' AND i.open <> 0 AND i.open > 0 AND i.nature IN ('', 'beside') AND i.due <> '' AND (i.due < @asof OR b.form = 'late charge') AND i.party_id IN @parties
		ORDER BY i.party_id, i.due, i.id`, asOf(at), sql.Named("parties", append([]int64{0}, of...)))
}
