package store

// BackupPlan is how often the books are backed up by themselves, and how many
// backups are kept: the newest KeepCount whatever their age, others until they are
// KeepDays old.
type BackupPlan struct{ EveryHours, KeepCount, KeepDays int }

// Backup is what became of one.
type Backup struct {
	ID     int64
	At     string // UTC
	Name   string // of its file
	Bytes  int64
	TookMs int64
	Failed string // why; "" for not
	Gone   bool
}

// BackupPlan returns the plan.
func (r Reader) BackupPlan() (BackupPlan, error) {
	p, _, err := one[BackupPlan](r, "SELECT every_hours, keep_count, keep_days FROM backup_plan")
	return p, err
}

// SetBackupPlan stores the plan.
func (tx *Tx) SetBackupPlan(p BackupPlan) error {
	return tx.db.Exec("UPDATE backup_plan SET every_hours = ?, keep_count = ?, keep_days = ?", p.EveryHours, p.KeepCount, p.KeepDays).Error
}

// Backups returns those that are there and those that failed, the newest first.
func (r Reader) Backups(limit int) ([]Backup, error) {
	return scan[Backup](r, "SELECT * FROM backups WHERE gone = 0 ORDER BY id DESC LIMIT ?", limit)
}

// BackedUp keeps what became of a backup.
func (tx *Tx) BackedUp(b *Backup) error { return tx.db.Create(b).Error }

// BackupGone keeps that a backup was deleted.
func (tx *Tx) BackupGone(id int64) error {
	return tx.db.Exec("UPDATE backups SET gone = 1 WHERE id = ?", id).Error
}
