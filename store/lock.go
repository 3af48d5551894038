package store

import (
	"errors"
	"fmt"
	"os"
	"path/filepath"
	"strings"
	"syscall"
	"time"
)

// lockName is the file that the one program holds which may write here. What is
// in it says who; that it is there says nothing.
const lockName = "firm.lock"

// ErrInUse says that another program holds the directory.
type ErrInUse struct{ By string }

func (e ErrInUse) Error() string {
	return "these books are in use by " + e.By + ": end it first"
}

// hold takes the directory for this program until it ends, however it ends.
func hold(dir string, now time.Time) (*os.File, error) {
	f, err := os.OpenFile(filepath.Join(dir, lockName), os.O_RDWR|os.O_CREATE, 0o600)
	if err != nil {
		return nil, fmt.Errorf("the data directory cannot be held: %w", err)
	}
	if err := syscall.Flock(int(f.Fd()), syscall.LOCK_EX|syscall.LOCK_NB); err != nil {
		by, _ := os.ReadFile(f.Name())
		f.Close()
		if errors.Is(err, syscall.EWOULDBLOCK) {
			who := strings.TrimSpace(string(by))
			if who == "" {
				who = "another program"
			}
			return nil, ErrInUse{who}
		}
		return nil, fmt.Errorf("the data directory cannot be held: %w", err)
	}
	who := fmt.Sprintf("process %d since %s\n", os.Getpid(), now.Format("2 Jan 2006, 15:04:05"))
	err = f.Truncate(0)
	if err == nil {
		_, err = f.WriteAt([]byte(who), 0)
	}
	return f, err
}

// ErrGone says that the data file is not the one any more that was opened.
var ErrGone = errors.New("the data file was moved, replaced or deleted while the program runs, so nothing is written any more: put it back and start the program again")

// here tells whether the data file is still the one that was opened.
func (db *DB) here() error {
	now, err := os.Stat(filepath.Join(db.Dir, FileName))
	if err != nil || !os.SameFile(now, db.opened) {
		return ErrGone
	}
	return nil
}

// syncDir makes sure that what a directory lists outlives a power cut.
func syncDir(dir string) error {
	d, err := os.Open(dir)
	if err != nil {
		return err
	}
	return errors.Join(d.Sync(), d.Close())
}
