package store

import (
	"cleantally/core/billing"
	"cleantally/core/day"
)

// Schedule is an invoice that recurs: a draft is made of its body on each of
// its days.
type Schedule struct {
	ID      int64
	Version int64
	Name    string
	PartyID int64
	Party   string `gorm:"->"`
	Body    string // of the invoice, as a draft keeps it
	Every   int
	Unit    billing.Unit
	First   day.Day
	Made    int // how many drafts were made of it so far
	Until   day.Day
	Paused  bool
}

// Days are the days on which it recurs.
func (s Schedule) Days() billing.Schedule {
	return billing.Schedule{First: s.First, Every: s.Every, Unit: s.Unit, Until: s.Until}
}

// Next is the day of the next draft; "" when it has ended.
func (s Schedule) Next() day.Day { return s.Days().On(s.Made) }

const selectSchedules = "SELECT s.*, p.name AS party FROM schedules s JOIN parties p ON p.id = s.party_id "

// Schedules returns every invoice that recurs, by name.
func (r Reader) Schedules() ([]Schedule, error) {
	return scan[Schedule](r, selectSchedules+"ORDER BY s.name COLLATE NOCASE, s.id")
}

// Schedule returns one of them.
func (r Reader) Schedule(id int64) (Schedule, bool, error) {
	return one[Schedule](r, selectSchedules+"WHERE s.id = ?", id)
}

// CreateSchedule stores a new one and gives it its ID.
func (tx *Tx) CreateSchedule(s *Schedule) error {
	s.Version = 1
	return tx.db.Omit("Party").Create(s).Error
}

// UpdateSchedule replaces one if it still has the version that s bears; false
// when it has another or is gone.
func (tx *Tx) UpdateSchedule(s Schedule) (bool, error) {
	res := tx.db.Exec("UPDATE schedules SET version = version + 1, name = ?, party_id = ?, body = ?, every = ?, unit = ?, first = ?, made = ?, until = ?, paused = ? WHERE id = ? AND version = ?",
		s.Name, s.PartyID, s.Body, s.Every, s.Unit, s.First, s.Made, s.Until, s.Paused, s.ID, s.Version)
	return res.RowsAffected == 1, res.Error
}

// ScheduleMade counts a draft that was made of a schedule; false when it was
// made already.
func (tx *Tx) ScheduleMade(s Schedule) (bool, error) {
	res := tx.db.Exec("UPDATE schedules SET made = made + 1 WHERE id = ? AND made = ? AND first = ? AND paused = 0", s.ID, s.Made, s.First)
	return res.RowsAffected == 1, res.Error
}

// DeleteSchedule ends one for good; the drafts that were made of it stay.
func (tx *Tx) DeleteSchedule(id int64) (bool, error) {
	res := tx.db.Exec("DELETE FROM schedules WHERE id = ?", id)
	return res.RowsAffected == 1, res.Error
}
