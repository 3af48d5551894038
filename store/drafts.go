package store

import (
	"cleantally/core/day"
	"cleantally/core/money"
	"cleantally/core/posting"
)

// Draft is a paper that has been begun. Its body is what was typed, as JSON; it
// has no effect on any balance.
type Draft struct {
	ID      int64
	Kind    posting.Kind
	Version int64
	Body    string
	PartyID int64
	JobID   int64
	Day     day.Day
	Title   string
	Total   money.Amount
	SavedAt string // RFC 3339, UTC
	UserID  int64  // who began it
	Party   string `gorm:"->"`
	Job     string `gorm:"->"`
}

const selectDrafts = `SELECT d.*, COALESCE(p.name, '') AS party, COALESCE(j.number, '') AS job FROM drafts d
	LEFT JOIN parties p ON p.id = d.party_id LEFT JOIN jobs j ON j.id = d.job_id `

// Drafts returns every draft, the one saved last first.
func (r Reader) Drafts() ([]Draft, error) {
	return scan[Draft](r, selectDrafts+"ORDER BY d.saved_at DESC, d.id DESC LIMIT 500")
}

// Draft returns a draft by ID.
func (r Reader) Draft(id int64) (Draft, bool, error) {
	return one[Draft](r, selectDrafts+"WHERE d.id = ?", id)
}

// CreateDraft stores a new draft and gives it its ID.
func (tx *Tx) CreateDraft(d *Draft) error {
	d.Version = 1
	return tx.db.Omit("Party", "Job").Create(d).Error
}

// UpdateDraft replaces a draft if it still has the version that d bears, and
// raises the version. It answers false when it has another or is gone.
func (tx *Tx) UpdateDraft(d *Draft) (bool, error) {
	res := tx.db.Exec(`UPDATE drafts SET version = version + 1, body = ?, party_id = ?, job_id = ?, day = ?, title = ?, total = ?, saved_at = ?
		WHERE id = ? AND version = ?`, d.Body, d.PartyID, d.JobID, d.Day, d.Title, d.Total, d.SavedAt, d.ID, d.Version)
	d.Version++
	return res.RowsAffected == 1, res.Error
}

// DeleteDraft throws a draft away, with what it reserved; false when it was gone.
func (tx *Tx) DeleteDraft(id int64) (bool, error) {
	res := tx.db.Exec("DELETE FROM drafts WHERE id = ?", id)
	return res.RowsAffected == 1, res.Error
}
