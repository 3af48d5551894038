package store

import (
	"errors"
	"io/fs"
	"net/url"
	"os"
	"path/filepath"
	"syscall"

	"github.com/mattn/go-sqlite3"
)

// ErrUnwritable says why nothing can be written, so that everything is as it
// was; the books can be looked at all the same.
type ErrUnwritable struct{ Why string }

func (e ErrUnwritable) Error() string { return "nothing can be written: " + e.Why }

// ErrFull says that the disk is full, so that what was asked for was not done.
var ErrFull = errors.New("the disk is full, so nothing was changed: make room and try again")

// Unwritten tells whether an error is that nothing can be written at this moment,
// whatever is asked for.
func Unwritten(err error) bool {
	return errors.As(err, new(ErrUnwritable)) || errors.Is(err, ErrFull) || errors.Is(err, ErrGone)
}

// readOnly is why a directory cannot be written to.
const readOnly = "the data directory may only be read"

// understood makes of what SQLite says of the disk what is to be done about it.
func understood(err error) error {
	var of sqlite3.Error
	switch {
	case err == nil:
		return nil
	case errors.Is(err, syscall.ENOSPC):
		return errors.Join(ErrFull, err)
	case !errors.As(err, &of):
		return err
	case of.Code == sqlite3.ErrFull || of.SystemErrno == syscall.ENOSPC:
		return errors.Join(ErrFull, err)
	case of.Code == sqlite3.ErrReadonly || of.Code == sqlite3.ErrPerm || of.Code == sqlite3.ErrAuth:
		return errors.Join(ErrUnwritable{readOnly}, err)
	case of.Code == sqlite3.ErrCorrupt || of.Code == sqlite3.ErrNotADB:
		return errors.Join(ErrUnwritable{"the data file is damaged. Restore the last backup, or ask for help before anything else is done with it"}, err)
	}
	return err
}

// mayNotWrite tells whether an error is that a directory cannot be written to.
func mayNotWrite(err error) bool {
	return errors.Is(err, fs.ErrPermission) || errors.Is(err, syscall.EROFS)
}

// lookAlone opens a data file that cannot be written, nor anything beside it.
func (db *DB) lookAlone() (err error) {
	file := filepath.Join(db.Dir, FileName)
	if db.opened, err = os.Stat(file); err != nil {
		return err
	}
	if wal, err := os.Stat(file + "-wal"); err == nil && wal.Size() > 0 {
		return errors.New("the last program that wrote here was ended in the middle, and what it left can only be read once the directory can be written to")
	}
	db.reader, err = connect(file, 8, url.Values{"_query_only": {"true"}, "mode": {"ro"}, "immutable": {"1"}, "_journal_mode": {"OFF"}})
	db.hurt.Store(&ErrUnwritable{readOnly})
	return err
}

// Refuse has everything refused from now on that would write, and says why.
func (db *DB) Refuse(why string) { db.hurt.Store(&ErrUnwritable{why}) }
