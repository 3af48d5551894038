package store

import (
	"context"
	"database/sql"
	"embed"
	"errors"
	"fmt"
	"io/fs"
	"net/url"
	"os"
	"path/filepath"
	"strings"

	"github.com/pressly/goose/v3"
	"gorm.io/gorm"
)

//go:embed migrations/*.sql
var migrations embed.FS

// ErrNewer says that a data file was written by another version of the program,
// which this one must not touch.
var ErrNewer = errors.New("it belongs to a newer version of the program: use that one")

// ErrOlder says that a data file is not up to date, and only looked at.
var ErrOlder = errors.New("it belongs to an older version of the program: serve it once with this one, which brings it up to date")

// schemas are the versions of the schema, of a file and of the program.
func schemas(ctx context.Context, g *gorm.DB, files fs.FS) (p *goose.Provider, version, known int64, err error) {
	pool, err := g.DB()
	if err != nil {
		return nil, 0, 0, err
	}
	if p, err = goose.NewProvider(goose.DialectSQLite3, pool, files); err != nil {
		return nil, 0, 0, err
	}
	for _, s := range p.ListSources() {
		known = max(known, s.Version)
	}
	if version, err = p.GetDBVersion(ctx); err != nil {
		return p, 0, known, err
	}
	if version > known {
		return p, version, known, fmt.Errorf("%w: it is of version %d, and this program knows %d", ErrNewer, version, known)
	}
	if version == 0 {
		if _, old, err := one[int64](Reader{db: g}, "SELECT 1 FROM sqlite_master WHERE name = 'papers'"); err != nil || old {
			return p, 0, known, errors.Join(err, ErrNewer)
		}
	}
	return p, version, known, nil
}

// migrate brings the schema up to date: a new file step by step, one with books
// in it in a single transaction, after a verified copy of it was put aside.
func (db *DB) migrate(ctx context.Context, files fs.FS) error {
	p, version, known, err := schemas(ctx, db.writer, files)
	if err != nil || version == known {
		return err
	}
	if version == 0 {
		_, err := p.Up(ctx)
		return err
	}
	if err := db.putAside(ctx, version); err != nil {
		return fmt.Errorf("no copy could be put aside, so nothing was changed: %w", err)
	}
	return db.writer.WithContext(ctx).Transaction(func(tx *gorm.DB) error {
		for _, s := range p.ListSources() {
			if s.Version <= version {
				continue
			}
			if err := step(tx, files, filepath.Base(s.Path), s.Version); err != nil {
				return fmt.Errorf("step %d failed, so nothing was changed: %w", s.Version, err)
			}
		}
		return nil
	})
}

// step takes one step of the schema inside a transaction.
func step(tx *gorm.DB, files fs.FS, name string, version int64) error {
	text, err := fs.ReadFile(files, name)
	if err != nil {
		return err
	}
	up, _, _ := strings.Cut(string(text), "-- +goose Down")
	pool := tx.Statement.ConnPool
	if _, err := pool.ExecContext(tx.Statement.Context, up); err != nil {
		return err
	}
	_, err = pool.ExecContext(tx.Statement.Context, "INSERT INTO goose_db_version (version_id, is_applied) VALUES (?, 1)", version)
	return err
}

// putAside copies the file as it is beside itself, named by its version.
func (db *DB) putAside(ctx context.Context, version int64) error {
	return copyVerified(ctx, db.writer, filepath.Join(db.Dir, fmt.Sprintf("firm-of-version-%d.db", version)), false)
}

// copyVerified writes a copy of what a connection sees to path, without who is
// signed in where that is asked for, looks whether it is sound, and gives it its
// name only then.
func copyVerified(ctx context.Context, from *gorm.DB, path string, bare bool) error {
	part := path + ".part"
	if err := os.Remove(part); err != nil && !errors.Is(err, fs.ErrNotExist) {
		return err
	}
	if err := from.WithContext(ctx).Exec("VACUUM INTO ?", part).Error; err != nil {
		return errors.Join(err, os.Remove(part))
	}
	if err := finish(ctx, part, bare); err != nil {
		return errors.Join(err, os.Remove(part))
	}
	if err := os.Rename(part, path); err != nil {
		return err
	}
	return syncDir(filepath.Dir(path))
}

// finish looks whether a copy is sound, and makes it last.
func finish(ctx context.Context, path string, bare bool) error {
	_, pool, err := alone(path, url.Values{"_journal_mode": {"DELETE"}, "_secure_delete": {"on"}})
	if err != nil {
		return err
	}
	if bare {
		_, err = pool.ExecContext(ctx, "DELETE FROM sessions")
	}
	if err = errors.Join(err, sound(ctx, pool), pool.Close()); err != nil {
		return err
	}
	f, err := os.OpenFile(path, os.O_RDWR, 0o600)
	if err != nil {
		return err
	}
	return errors.Join(f.Chmod(0o600), f.Sync(), f.Close())
}

// sound asks SQLite whether a file is whole.
func sound(ctx context.Context, pool *sql.DB) error {
	var verdict string
	if err := pool.QueryRowContext(ctx, "PRAGMA integrity_check(1)").Scan(&verdict); err != nil {
		return err
	}
	if verdict != "ok" {
		return fmt.Errorf("the file is damaged: %s", verdict)
	}
	return nil
}

// verify looks whether a copy holds whole books that this program knows.
func verify(ctx context.Context, path string) error {
	g, pool, err := alone(path, url.Values{"_journal_mode": {"DELETE"}})
	if err != nil {
		return err
	}
	defer pool.Close()
	if err := sound(ctx, pool); err != nil {
		return err
	}
	files, err := fs.Sub(migrations, "migrations")
	if err != nil {
		return err
	}
	_, version, _, err := schemas(ctx, g, files)
	if err == nil && version == 0 {
		err = errors.New("there are no books in it")
	}
	return err
}
