package store

import "cleantally/core/day"

// Event is something that happened with a posted paper and posts nothing: a
// note, a reminder, a promise.
type Event struct {
	PaperID   int64
	Day       day.Day
	Event     string
	Text      string
	Reference string
	Until     day.Day // of a promise, or of what is put off
	User      string
}

// RecordEvent records an event of a paper under an act.
func (tx *Tx) RecordEvent(act int64, e Event) error {
	_, err := tx.exec("INSERT INTO paper_events (act_id, paper_id, day, event, detail) VALUES (?, ?, ?, ?, json_object('text', ?, 'reference', ?, 'until', ?))",
		act, e.PaperID, e.Day, e.Event, e.Text, e.Reference, e.Until)
	return err
}

// EventsOf returns what was noted, reminded, promised and put off of a paper
// through a day, in order.
func (r Reader) EventsOf(paperID int64, at day.Day) ([]Event, error) {
	return scan[Event](r, `SELECT e.paper_id, e.day, e.event, COALESCE(json_extract(e.detail, '$.text'), '') AS text, COALESCE(json_extract(e.detail, '$.reference'), '') AS reference,
		COALESCE(json_extract(e.detail, '$.until'), '') AS until, COALESCE(u.name, '') AS user
		FROM paper_events e JOIN acts a ON a.id = e.act_id LEFT JOIN users u ON u.id = a.user_id
		WHERE e.paper_id = ? AND e.event IN ('noted', 'reminded', 'promised', 'put off', 'addressed', 'lost', 'sent', 'signed for', 'handed back') AND e.day <= ? ORDER BY e.id`, paperID, at)
}

// waitedFor are the papers of which something was promised or put off through
// @asof for a day that has not passed; brokenPromises those whose promised day
// passed.
const (
	waitedFor      = "(SELECT paper_id FROM paper_events WHERE event IN ('promised', 'put off') AND day <= @asof AND json_extract(detail, '$.until') >= @asof )"
	brokenPromises = "(SELECT paper_id FROM paper_events WHERE event = 'promised' AND day <= @asof AND json_extract(detail, '$.until') < @asof )"
	promised       = "COALESCE((SELECT json_extract(e.detail, '$.until') FROM paper_events e WHERE e.paper_id = i.paper_id AND e.event = 'promised' AND e.day <= @asof ORDER BY e.id DESC LIMIT 1), '')"
)
