package books

import (
	"context"
	"errors"
	"fmt"
	"io/fs"
	"os"
	"path/filepath"
	"strings"
	"syscall"
	"time"

	"cleantally/core/rights"
	"cleantally/store"
)

// backupsDir is where backups lie that the program makes by itself, unless it is
// told another place.
const backupsDir = "backups"

// spareSpace is what has to be left on the disk beside a backup, in bytes.
const spareSpace = 50 << 20

// BackupsAt has backups be kept in another directory than the books': on another
// disk, best of another machine.
func (b *Book) BackupsAt(dir string) { b.backups = dir }

// BackupDir is where backups are kept.
func (b *Book) BackupDir() string {
	if b.backups != "" {
		return b.backups
	}
	return filepath.Join(b.dir, backupsDir)
}

// SaveBackupPlan keeps how often the books are backed up, and how many backups
// are kept.
func (b *Book) SaveBackupPlan(ctx context.Context, user int64, p store.BackupPlan) error {
	var v validation
	for _, x := range []struct {
		field          string
		n, least, most int
	}{{"everyHours", p.EveryHours, 0, 24 * 31}, {"keepCount", p.KeepCount, 1, 1000}, {"keepDays", p.KeepDays, 1, 3660}} {
		if x.n < x.least || x.n > x.most {
			v.refuse(x.field, "out of bounds", "This is from %d to %d.", x.least, x.most)
		}
	}
	if err := v.err(); err != nil {
		return err
	}
	return b.change(ctx, rights.ToOwn, func(tx *store.Tx) error {
		if err := tx.SetBackupPlan(p); err != nil {
			return err
		}
		return b.record(tx, user, "save backup plan", fmt.Sprintf("Backups every %d hours, the newest %d and those of %d days kept", p.EveryHours, p.KeepCount, p.KeepDays), p)
	})
}

// BackupDue tells whether a backup is to be made by the plan, or was to be made
// and is not there.
func (b *Book) BackupDue(ctx context.Context) (due bool, missing string, err error) {
	r := b.Read(ctx)
	plan, err := r.BackupPlan()
	if err != nil || plan.EveryHours == 0 {
		return false, "", err
	}
	all, err := r.Backups(50)
	if err != nil || len(all) == 0 {
		return true, "", err
	}
	every := time.Duration(plan.EveryHours) * time.Hour
	since := func(x store.Backup) time.Duration {
		at, _ := time.Parse(time.RFC3339, x.At)
		return b.clock().Sub(at)
	}
	due = since(all[0]) >= every
	if all[0].Failed != "" {
		// It is tried again before the plan says so.
		due, missing = since(all[0]) >= min(every, time.Hour), "The last backup failed: "+all[0].Failed
	}
	for _, x := range all {
		if x.Failed == "" {
			if late := since(x); missing == "" && late > 2*every {
				missing = fmt.Sprintf("The last backup is %d hours old; one is made every %d.", int(late.Hours()), plan.EveryHours)
			}
			break
		}
	}
	return due, missing, nil
}

// BackUp makes a backup among those that are kept: written beside, opened and
// checked as a whole, and given its name last. What is too old goes then. It is
// recorded either way.
func (b *Book) BackUp(ctx context.Context, user int64) (store.Backup, error) {
	if err := b.Need(ctx, rights.ToOwn); err != nil {
		return store.Backup{}, err
	}
	b.backingUp.Lock()
	defer b.backingUp.Unlock()
	began := b.clock()
	made := store.Backup{At: began.UTC().Format(time.RFC3339), Name: b.backupName(began)}
	start := time.Now()
	size, err := b.backUp(ctx, made.Name)
	if err != nil && ctx.Err() != nil {
		return made, ctx.Err()
	}
	made.Bytes, made.TookMs = size, time.Since(start).Milliseconds()
	if err != nil {
		made.Failed = err.Error()
	}
	err = errors.Join(err, b.db.Write(ctx, func(tx *store.Tx) error {
		if err := tx.BackedUp(&made); err != nil {
			return err
		}
		if user == 0 && made.Failed == "" {
			return nil // by the plan, as ever
		}
		summary := "Backed up the books as " + made.Name
		if made.Failed != "" {
			summary = "A backup failed: " + made.Failed
		}
		return b.record(tx, user, "back up", summary, made)
	}))
	if err != nil {
		return made, err
	}
	return made, b.forgetBackups(ctx)
}

// backupName is a name that no backup has yet.
func (b *Book) backupName(at time.Time) string {
	name := at.UTC().Format("2006-01-02-150405")
	for n := 1; ; n++ {
		free := name + ".db"
		if n > 1 {
			free = fmt.Sprintf("%s-%d.db", name, n)
		}
		if _, err := os.Stat(filepath.Join(b.BackupDir(), free)); err != nil {
			return free
		}
	}
}

func (b *Book) backUp(ctx context.Context, name string) (bytes int64, err error) {
	dir := b.BackupDir()
	if err := os.MkdirAll(dir, 0o700); err != nil {
		return 0, fmt.Errorf("the place for backups cannot be made: %w", err)
	}
	if err := b.roomFor(dir); err != nil {
		return 0, err
	}
	path := filepath.Join(dir, name)
	if _, err := os.Stat(path); err == nil {
		return 0, fmt.Errorf("%s is there already", name)
	}
	part := path + ".part"
	defer os.RemoveAll(part)
	defer func() { err = fullOr(dir, err) }() // before room is made again
	if err := os.RemoveAll(part); err != nil {
		return 0, err
	}
	if err := os.Mkdir(part, 0o700); err != nil {
		return 0, err
	}
	inside := filepath.Join(part, store.FileName)
	if err := b.db.Backup(ctx, inside); err != nil {
		return 0, err
	}
	if err := b.checked(ctx, part); err != nil {
		return 0, err
	}
	err = copyAttachments(filepath.Join(b.dir, attachmentsDir), attachmentsBeside(path))
	var of fs.FileInfo
	if err == nil {
		of, err = os.Stat(inside)
	}
	if err == nil {
		err = os.Rename(inside, path)
	}
	if err != nil {
		return 0, errors.Join(err, os.RemoveAll(attachmentsBeside(path))) // half of them are of no use
	}
	return of.Size(), nil
}

// fullOr tells that a disk is full, whatever else is told to fail on it.
func fullOr(dir string, err error) error {
	if err == nil {
		return nil
	}
	if free, unknown := freeSpace(dir); unknown == nil && free < 1<<20 {
		return fmt.Errorf("the disk at %s is full", dir)
	}
	return err
}

// checked opens a copy of the books and recomputes all of it.
func (b *Book) checked(ctx context.Context, dir string) error {
	copy, err := Look(ctx, dir, b.clock, b.fixed)
	if err != nil {
		return fmt.Errorf("the backup cannot be opened: %w", err)
	}
	defer copy.Close()
	return copy.Snapshot(ctx, func(r *store.Reader) error {
		tie, err := r.TieOut(b.Today())
		if err != nil {
			return err
		}
		found, err := r.Check()
		switch {
		case err != nil:
			return err
		case !tie.OK():
			return errors.New("the books do not tie out: look at the tie-out")
		case len(found) > 0:
			return errors.New("the books do not hang together: " + found[0])
		}
		return nil
	})
}

// roomFor refuses a backup that the disk has no room for.
func (b *Book) roomFor(dir string) error {
	of, err := os.Stat(filepath.Join(b.dir, store.FileName))
	if err != nil {
		return err
	}
	attached, err := sizeOf(filepath.Join(b.dir, attachmentsDir))
	if err != nil {
		return err
	}
	free, err := freeSpace(dir)
	if need := of.Size() + of.Size()/4 + attached + spareSpace; err == nil && free < need {
		return fmt.Errorf("there is no room for it: %d MB are free at %s, %d MB are needed", free>>20, dir, need>>20)
	}
	return err
}

// sizeOf is how many bytes the files below a directory have.
func sizeOf(dir string) (bytes int64, err error) {
	err = filepath.WalkDir(dir, func(_ string, d fs.DirEntry, err error) error {
		if err != nil || d.IsDir() {
			return err
		}
		info, err := d.Info()
		if err == nil {
			bytes += info.Size()
		}
		return err
	})
	if errors.Is(err, fs.ErrNotExist) {
		err = nil // nothing is there, or not any more
	}
	return bytes, err
}

// freeSpace is what is free on the disk of a directory, in bytes.
func freeSpace(dir string) (int64, error) {
	var s syscall.Statfs_t
	if err := syscall.Statfs(dir, &s); err != nil {
		return 0, err
	}
	return int64(s.Bavail) * int64(s.Bsize), nil
}

// FreeForBackups is what is free where backups are kept, in bytes.
func (b *Book) FreeForBackups() (int64, error) {
	dir := b.BackupDir()
	if _, err := os.Stat(dir); errors.Is(err, fs.ErrNotExist) {
		dir = b.dir
	}
	return freeSpace(dir)
}

// forgetBackups deletes what the plan does not keep.
func (b *Book) forgetBackups(ctx context.Context) error {
	r := b.Read(ctx)
	plan, err1 := r.BackupPlan()
	all, err2 := r.Backups(100000)
	if err := errors.Join(err1, err2); err != nil {
		return err
	}
	good := 0
	for _, x := range all {
		if x.Failed == "" {
			good++
		}
		at, err := time.Parse(time.RFC3339, x.At)
		if err != nil || b.clock().Sub(at) <= time.Duration(plan.KeepDays)*24*time.Hour || x.Failed == "" && good <= plan.KeepCount {
			continue
		}
		path := filepath.Join(b.BackupDir(), x.Name)
		if x.Failed == "" && strings.HasSuffix(x.Name, ".db") {
			if err := errors.Join(remove(path), os.RemoveAll(attachmentsBeside(path))); err != nil {
				return err
			}
		}
		if err := b.db.Write(ctx, func(tx *store.Tx) error { return tx.BackupGone(x.ID) }); err != nil {
			return err
		}
	}
	return nil
}

// remove deletes a file that may be gone already.
func remove(path string) error {
	if err := os.Remove(path); err != nil && !errors.Is(err, fs.ErrNotExist) {
		return err
	}
	return nil
}
