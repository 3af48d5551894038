package store

import (
	"database/sql"
	"math"
	"time"

	"cleantally/core/day"
)

// Act is one row of the audit record: who did what, when.
type Act struct {
	ID      int64
	At      string // RFC 3339, UTC
	UserID  int64
	User    string `gorm:"->"`
	Action  string
	Summary string
	Detail  string // JSON
	Key     *string
	KeyHash *string
	Answer  *string
}

// Record writes an act, gives it its ID and seals it.
func (tx *Tx) Record(a *Act, now time.Time) error {
	a.At = now.UTC().Format(time.RFC3339)
	if a.Detail == "" {
		a.Detail = "{}"
	}
	res, err := tx.exec("INSERT INTO acts (id, at, user_id, action, summary, detail, key, key_hash, answer) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?)",
		null(a.ID), a.At, a.UserID, a.Action, a.Summary, a.Detail, a.Key, a.KeyHash, a.Answer)
	if err == nil && a.ID == 0 {
		a.ID, err = res.LastInsertId()
	}
	switch {
	case err != nil:
		return err
	case tx.posting != nil: // sealed with what it posts
		*tx.posting = *a
		return nil
	}
	var before string
	if err := tx.queryRow("SELECT COALESCE((SELECT seal FROM seals ORDER BY act_id DESC LIMIT 1), '')").Scan(&before); err != nil {
		return err
	}
	return tx.seal(*a, content{}, before)
}

// ActByKey returns the act that was done under an idempotency key.
func (r Reader) ActByKey(key string) (Act, bool, error) {
	return one[Act](r, "SELECT * FROM acts WHERE key = ?", key)
}

// ActFilter narrows the audit record. Empty fields do not.
type ActFilter struct {
	Search   string
	UserID   int64
	From, To day.Day // by the clock, in UTC
	Before   int64   // the act before which it goes on; 0 for the newest
}

// Acts returns the audit record, the newest first; limit 0 for all of it.
func (r Reader) Acts(f ActFilter, limit int) ([]Act, error) {
	if f.Before == 0 {
		f.Before = math.MaxInt64
	}
	if limit == 0 {
		limit = -1
	}
	var l narrowing
	l.filter("a.id < ?", f.Before)
	if f.Search != "" {
		l.contains(f.Search, "a.summary")
	}
	if f.UserID != 0 {
		l.filter("a.user_id = ?", f.UserID)
	}
	if f.From != "" {
		l.filter("a.at >= ?", string(f.From))
	}
	if f.To != "" {
		l.filter("a.at < ?", string(f.To)+"T24")
	}
	return scan[Act](r, `SELECT a.id, a.at, a.user_id, COALESCE(u.name, '') AS user, a.action, a.summary FROM acts a LEFT JOIN users u ON u.id = a.user_id
		WHERE `+l.conditions()+" ORDER BY a.id DESC LIMIT ?", append(l.args, limit)...)
}

// ActOf returns the act that posted a paper.
func (r Reader) ActOf(paperID int64) (Act, error) {
	a, _, err := one[Act](r, "SELECT * FROM acts WHERE id = (SELECT act_id FROM papers WHERE id = ?)", paperID)
	return a, err
}

// UsesSomething tells whether a paper uses up what others have left: lines of
// orders, costs and invoices, or goods.
func (r Reader) UsesSomething(paperID int64) (bool, error) {
	uses, _, err := one[bool](r, "SELECT EXISTS (SELECT 1 FROM uses WHERE paper_id = @paper AND (amount > 0 OR quantity > 0)) OR EXISTS (SELECT 1 FROM stock_moves WHERE paper_id = @paper AND quantity < 0)", sql.Named("paper", paperID))
	return uses, err
}

// Locks returns when the period was locked and unlocked, the newest first.
func (r Reader) Locks(limit int) ([]Act, error) {
	return scan[Act](r, `SELECT a.id, a.at, a.user_id, COALESCE(u.name, '') AS user, a.action, a.summary FROM acts a LEFT JOIN users u ON u.id = a.user_id
		WHERE a.action = 'lock' ORDER BY a.id DESC LIMIT ?`, limit)
}
