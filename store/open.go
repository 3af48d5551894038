// Package store keeps a firm's books in one SQLite file and answers what plans
// and screens ask of them.
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

	"github.com/pressly/goose/v3"
	"gorm.io/driver/sqlite"
	"gorm.io/gorm"
	"gorm.io/gorm/logger"
)

//go:embed migrations/*.sql
var migrations embed.FS

// FileName is the name of the data file in its directory.
const FileName = "firm.db"

// DB is an opened data file: one connection that writes and a pool that reads.
type DB struct {
	Dir    string
	writer *gorm.DB
	reader *gorm.DB
	chart  kept
}

// Open opens the data file in dir, creates both when they are missing and
// brings the schema up to date.
func Open(ctx context.Context, dir string) (*DB, error) {
	if err := os.MkdirAll(filepath.Join(dir, "attachments"), 0o700); err != nil {
		return nil, fmt.Errorf("the data directory cannot be made: %w", err)
	}
	file := filepath.Join(dir, FileName)
	writer, err := connect(file, 1, url.Values{"_txlock": {"immediate"}, "_recursive_triggers": {"on"}, "_synchronous": {"FULL"}})
	if err != nil {
		return nil, fmt.Errorf("the data file %s cannot be opened: %w", file, err)
	}
	db := &DB{Dir: dir, writer: writer}
	if err := db.migrate(ctx); err != nil {
		db.Close()
		return nil, fmt.Errorf("the data file %s cannot be brought up to date: %w", file, err)
	}
	if db.reader, err = connect(file, 8, url.Values{"_query_only": {"true"}}); err != nil {
		db.Close()
		return nil, err
	}
	return db, nil
}

func connect(file string, connections int, extra url.Values) (*gorm.DB, error) {
	extra.Set("_journal_mode", "WAL")
	extra.Set("_foreign_keys", "on")
	extra.Set("_busy_timeout", "10000")
	extra.Set("_cache_size", "-16000")
	extra.Set("_stmt_cache_size", "200")
	dsn := (&url.URL{Scheme: "file", Opaque: (&url.URL{Path: file}).EscapedPath(), RawQuery: extra.Encode()}).String()
	db, err := gorm.Open(sqlite.Open(dsn), &gorm.Config{Logger: logger.Discard, SkipDefaultTransaction: true})
	if err != nil {
		return nil, err
	}
	pool, err := db.DB()
	if err != nil {
		return nil, err
	}
	pool.SetMaxOpenConns(connections)
	pool.SetMaxIdleConns(connections)
	return db, nil
}

func (db *DB) migrate(ctx context.Context) error {
	files, err := fs.Sub(migrations, "migrations")
	if err != nil {
		return err
	}
	pool, err := db.writer.DB()
	if err != nil {
		return err
	}
	provider, err := goose.NewProvider(goose.DialectSQLite3, pool, files)
	if err != nil {
		return err
	}
	_, err = provider.Up(ctx)
	return err
}

// Close closes the data file.
func (db *DB) Close() error {
	var all []error
	for _, g := range []*gorm.DB{db.reader, db.writer} {
		if g != nil {
			if pool, err := g.DB(); err == nil {
				all = append(all, pool.Close())
			}
		}
	}
	return errors.Join(all...)
}

// Read returns a view of the books for queries.
func (db *DB) Read(ctx context.Context) *Reader {
	return &Reader{db: db.reader.WithContext(ctx), kept: &db.chart}
}

// Snapshot runs f on one state of the books, whatever is written meanwhile.
func (db *DB) Snapshot(ctx context.Context, f func(*Reader) error) error {
	return db.reader.WithContext(ctx).Transaction(func(tx *gorm.DB) error { return f(&Reader{db: tx, kept: &db.chart}) }, &sql.TxOptions{ReadOnly: true})
}

// Write runs f in a transaction of its own: all of it is kept, or nothing. One
// may stop waiting for the transaction; its statements are not interrupted.
func (db *DB) Write(ctx context.Context, f func(*Tx) error) error {
	var stale bool
	err := db.writer.WithContext(ctx).Transaction(func(tx *gorm.DB) error {
		ctx := context.WithoutCancel(ctx)
		tx = tx.WithContext(ctx)
		return f(&Tx{Reader: Reader{db: tx, kept: &db.chart, stale: &stale}, ctx: ctx})
	})
	if err == nil && stale {
		_, err = db.Read(ctx).loadChart() // for the next, who then need not read it while writing
	}
	return err
}

// Backup writes a copy of the data file as it is now to path, which must not
// exist yet.
func (db *DB) Backup(ctx context.Context, path string) error {
	// VACUUM INTO writes, if only the copy, so a reader may not do it; on a
	// connection of its own it does not hold up those who post.
	own, err := connect(filepath.Join(db.Dir, FileName), 1, url.Values{})
	if err != nil {
		return err
	}
	pool, err := own.DB()
	if err != nil {
		return err
	}
	defer pool.Close()
	return own.WithContext(ctx).Exec("VACUUM INTO ?", path).Error
}

// Reader answers queries.
type Reader struct {
	db    *gorm.DB
	kept  *kept
	stale *bool // of a writing transaction, which may see what is not committed: whether it had to read the chart
}

// queryRow asks for one row without GORM's reflection, where that is asked
// with every post. It cannot be interrupted, for which the driver would start
// a goroutine.
func (r Reader) queryRow(query string, args ...any) *sql.Row {
	return r.db.Statement.ConnPool.QueryRowContext(context.WithoutCancel(r.db.Statement.Context), query, args...)
}

// Tx is a writing transaction; it reads what it has written.
type Tx struct {
	Reader
	ctx context.Context
}

// scan runs a query and returns its rows.
func scan[T any](r Reader, query string, args ...any) ([]T, error) {
	rows := []T{}
	err := r.db.Raw(query, args...).Scan(&rows).Error
	return rows, err
}

// one runs a query that has one row and returns it; false when it has none.
func one[T any](r Reader, query string, args ...any) (T, bool, error) {
	rows, err := scan[T](r, query, args...)
	if err != nil || len(rows) == 0 {
		var none T
		return none, false, err
	}
	return rows[0], true, nil
}
