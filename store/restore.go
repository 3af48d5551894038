package store

import (
	"context"
	"errors"
	"fmt"
	"io"
	"io/fs"
	"os"
	"path/filepath"
	"time"
)

// Restore puts a backup into a directory without books. It is written beside,
// looked at whether it is sound, and given its name last; beside is called
// before that, for what belongs to it.
func Restore(ctx context.Context, from, dir string, beside func() error) error {
	if err := os.MkdirAll(dir, 0o700); err != nil {
		return err
	}
	lock, err := hold(dir, time.Now())
	if err != nil {
		return err
	}
	defer lock.Close()
	to := filepath.Join(dir, FileName)
	if _, err := os.Stat(to); err == nil {
		return fmt.Errorf("%s is there already: move it away first", to)
	}
	// What SQLite left beside a data file that is gone belongs to that one, and
	// would be taken for a part of the one that comes.
	for _, end := range []string{"-wal", "-shm", "-journal"} {
		if _, err := os.Stat(to + end); err == nil {
			return fmt.Errorf("%s is left of other books: move it away first", to+end)
		}
	}
	part := to + ".restoring"
	if err := os.Remove(part); err != nil && !errors.Is(err, fs.ErrNotExist) {
		return err
	}
	err = CopyFile(from, part)
	if err == nil {
		if err = verify(ctx, part); err != nil {
			err = fmt.Errorf("%s cannot be restored: %w", from, err)
		}
	}
	if err == nil {
		err = beside()
	}
	if err != nil {
		return errors.Join(err, os.Remove(part))
	}
	if err := os.Rename(part, to); err != nil {
		return err
	}
	return syncDir(dir)
}

// CopyFile copies a file to a name that is not taken, for its owner alone, and
// makes sure that it lasts.
func CopyFile(from, to string) error {
	in, err := os.Open(from)
	if err != nil {
		return err
	}
	defer in.Close()
	out, err := os.OpenFile(to, os.O_WRONLY|os.O_CREATE|os.O_EXCL, 0o600)
	if err != nil {
		return err
	}
	_, err = io.Copy(out, in)
	return errors.Join(err, out.Sync(), out.Close())
}
