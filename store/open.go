// Package store keeps a firm's books in one SQLite file and answers what plans
// and screens ask of them.
package store

import (
	"context"
	"database/sql"
	"errors"
	"fmt"
	"io/fs"
	"net/url"
	"os"
	"path/filepath"
	"strings"
	"sync/atomic"
	"time"

	"cleantally/core/posting"

	"gorm.io/driver/sqlite"
	"gorm.io/gorm"
	"gorm.io/gorm/logger"
)

// FileName is the name of the data file in its directory.
const FileName = "firm.db"

// DB is an opened data file: one connection that writes and a pool that reads.
type DB struct {
	Dir    string
	writer *gorm.DB // nil where it is only looked at
	reader *gorm.DB
	chart  kept
	finder finder
	lock   *os.File
	opened os.FileInfo // the file, as it was opened
	hurt   atomic.Pointer[ErrUnwritable]
	reads  reads // that look at one state of the books for a while
	watch  atomic.Pointer[func(query string, took time.Duration)]
	turns  turns  // of those who write
	group  *group // of whoever has the turn; nil when none is open
}

// Open opens the data file in dir, creates both when they are missing and
// brings the schema up to date. The directory is held until it is closed: one
// program alone writes there (see ErrInUse). Where nothing can be written, books
// that are there are opened all the same, to be looked at (see ErrUnwritable).
func Open(ctx context.Context, dir string) (*DB, error) {
	if err := os.MkdirAll(filepath.Join(dir, "attachments"), 0o700); err != nil {
		return nil, fmt.Errorf("the data directory cannot be made: %w", err)
	}
	lock, err := hold(dir, time.Now())
	db := &DB{Dir: dir, lock: lock}
	switch {
	case err == nil:
		err = db.open(ctx)
	case mayNotWrite(err):
		if lookErr := db.lookAlone(); lookErr != nil {
			err = errors.Join(err, lookErr)
		} else {
			err = db.upToDate(ctx)
		}
	}
	if err != nil {
		db.Close()
		return nil, err
	}
	return db, nil
}

func (db *DB) open(ctx context.Context) (err error) {
	file := filepath.Join(db.Dir, FileName)
	if err := ownerOnly(file); err != nil {
		return err
	}
	// The writer would keep what it read at the start: a post looks at a few dozen pages.
	if db.writer, err = connect(file, 1, url.Values{"_txlock": {"immediate"}, "_recursive_triggers": {"on"}, "_synchronous": {"FULL"}, "_cache_size": {"-8000"}}); err != nil {
		return fmt.Errorf("the data file %s cannot be opened: %w", file, err)
	}
	if err := db.writer.WithContext(ctx).Exec(fmt.Sprintf("PRAGMA journal_size_limit = %d", mostLog)).Error; err != nil {
		return fmt.Errorf("the data file %s cannot be opened: %w", file, err)
	}
	files, err := fs.Sub(migrations, "migrations")
	if err != nil {
		return err
	}
	if db.opened, err = os.Stat(file); err != nil {
		return err
	}
	if err := db.migrate(ctx, files); err != nil {
		return fmt.Errorf("the data file %s cannot be brought up to date: %w", file, err)
	}
	if err := db.prepare(ctx); err != nil {
		return fmt.Errorf("the data file %s cannot be prepared: %w", file, err)
	}
	return db.read(file)
}

// ToldAnew runs f without waiting for the disk after each write: for what can be
// told anew from the beginning when the machine fails meanwhile, and nothing else.
// At its end everything is on the disk.
func (db *DB) ToldAnew(ctx context.Context, f func() error) error {
	if err := db.writer.WithContext(ctx).Exec("PRAGMA synchronous = OFF").Error; err != nil {
		return err
	}
	err := f()
	return errors.Join(err, db.writer.Exec("PRAGMA synchronous = FULL").Error, db.writer.Exec("PRAGMA wal_checkpoint(TRUNCATE)").Error)
}

// Look opens the data file in dir to look at it, also while another program
// holds it. It is not brought up to date: one that is older is refused.
func Look(ctx context.Context, dir string) (*DB, error) {
	file := filepath.Join(dir, FileName)
	info, err := os.Stat(file)
	if err != nil {
		return nil, err
	}
	db := &DB{Dir: dir, opened: info}
	if err := db.read(file); err != nil {
		return nil, err
	}
	if err := db.upToDate(ctx); err != nil {
		db.Close()
		return nil, err
	}
	return db, nil
}

// upToDate refuses a file of another version, which is only looked at.
func (db *DB) upToDate(ctx context.Context) error {
	files, err := fs.Sub(migrations, "migrations")
	if err == nil {
		var version, known int64
		if _, version, known, err = schemas(ctx, db.reader, files); err == nil && version < known {
			err = ErrOlder
		}
	}
	if err != nil {
		return fmt.Errorf("the data file in %s cannot be looked at: %w", db.Dir, err)
	}
	return nil
}

func (db *DB) read(file string) (err error) {
	if db.reader, err = connect(file, 8, url.Values{"_query_only": {"true"}, "_stmt_cache_size": {"24"}}); err == nil {
		db.reader.Logger = watcher{logger.Discard, &db.watch}
		db.finder.pool = db.reader
	}
	return err
}

// ownerOnly makes the data file, and takes it away from everybody else: SQLite
// gives what it makes beside it the same permissions.
func ownerOnly(file string) error {
	f, err := os.OpenFile(file, os.O_RDWR|os.O_CREATE, 0o600)
	if err != nil {
		return fmt.Errorf("the data file cannot be opened: %w", err)
	}
	defer f.Close()
	if info, err := f.Stat(); err == nil && info.Mode().Perm()&0o077 == 0 {
		return nil
	}
	if err := f.Chmod(0o600); err != nil {
		return fmt.Errorf("the data file is open to others and cannot be taken from them: %w", err)
	}
	return nil
}

func connect(file string, connections int, extra url.Values) (*gorm.DB, error) {
	if !extra.Has("_journal_mode") {
		extra.Set("_journal_mode", "WAL")
	}
	extra.Set("_foreign_keys", "on")
	extra.Set("_busy_timeout", "10000")
	// What those who read and copy keep in memory is little: the machine keeps the file.
	if !extra.Has("_cache_size") {
		extra.Set("_cache_size", "-2000")
	}
	if !extra.Has("_stmt_cache_size") {
		extra.Set("_stmt_cache_size", "200")
	}
	// One goroutine at a time has a connection: SQLite needs no locks of its own.
	extra.Set("_mutex", "no")
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

// prepare tells the file the kinds of paper that the program knows, gives those
// it has no numbering for their own, and lets SQLite look at the tables so that
// it finds the short ways through them.
func (db *DB) prepare(ctx context.Context) error {
	err := db.Write(ctx, func(tx *Tx) error {
		for _, d := range posting.Kinds() {
			if _, err := tx.exec(`INSERT INTO kinds (kind, bills, agrees, taken, payment, takes_back, stays) VALUES (?, ?, ?, ?, ?, ?, ?) ON CONFLICT (kind) DO UPDATE
				SET bills = excluded.bills, agrees = excluded.agrees, taken = excluded.taken, payment = excluded.payment, takes_back = excluded.takes_back, stays = excluded.stays`, d.Kind, d.Bills, d.Agrees, d.Taken, d.Payment, d.TakesBack, d.Stays); err != nil {
				return err
			}
			if _, err := tx.exec("INSERT INTO numberings (kind, format) SELECT ?, ? WHERE EXISTS (SELECT 1 FROM firm) AND NOT EXISTS (SELECT 1 FROM numberings WHERE kind = ?)", d.Kind, d.Numbering, d.Kind); err != nil {
				return err
			}
		}
		return errors.Join(tx.keepJobs(), tx.sealOlder())
	})
	if err != nil {
		return err
	}
	return db.Optimize(ctx, true)
}

// alone opens one connection to a file, beside all others; whoever asked closes
// its pool.
func alone(file string, extra url.Values) (*gorm.DB, *sql.DB, error) {
	g, err := connect(file, 1, extra)
	if err != nil {
		return nil, nil, err
	}
	pool, err := g.DB()
	return g, pool, err
}

// Optimize has SQLite gather what it needs to know of the tables to find the
// short ways through them, where they have grown much since it last did: at
// first of all tables, then of those that were asked.
func (db *DB) Optimize(ctx context.Context, all bool) error {
	pragma := "PRAGMA optimize"
	if all {
		pragma = "PRAGMA optimize = 0x10002"
	}
	if db.writer == nil {
		return nil
	}
	return db.writer.WithContext(ctx).Exec(pragma).Error
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
	if db.lock != nil {
		all = append(all, db.lock.Close()) // which lets the directory go
	}
	return errors.Join(all...)
}

// Read returns a view of the books for queries.
func (db *DB) Read(ctx context.Context) *Reader {
	return &Reader{db: db.reader.WithContext(ctx), kept: &db.chart, finder: &db.finder}
}

// records are the tables of what papers refer to.
var records = []string{"firm", "accounts", "roles", "bank_accounts", "tax_codes", "tax_rates", "terms", "instalments", "parties", "jobs", "articles", "article_currency_prices"}

// Trial runs f on a copy of the records as they are, which is gone afterwards.
// It writes nothing to the file and holds up nobody who does.
func (db *DB) Trial(ctx context.Context, f func(*Tx) error) error {
	own, pool, err := alone(filepath.Join(db.Dir, FileName), url.Values{"_txlock": {"deferred"}})
	if err != nil {
		return err
	}
	defer pool.Close()
	err = own.WithContext(ctx).Transaction(func(g *gorm.DB) error {
		stale := false
		tx := &Tx{Reader: Reader{db: g, kept: &kept{}, stale: &stale}, ctx: ctx}
		for _, table := range records {
			made, _, err := one[string](tx.Reader, "SELECT sql FROM main.sqlite_master WHERE type = 'table' AND name = ?", table)
			if err != nil {
				return err
			}
			// A temporary table is found before the one of the file.
			if err := g.Exec(strings.Replace(made, "CREATE TABLE", "CREATE TEMP TABLE", 1)).Error; err != nil {
				return err
			}
			if err := g.Exec("INSERT INTO temp." + table + " SELECT * FROM main." + table).Error; err != nil {
				return err
			}
			// With the ways through it, or each row takes longer than the one before.
			indexes, err := scan[string](tx.Reader, "SELECT sql FROM main.sqlite_master WHERE type = 'index' AND tbl_name = ? AND sql IS NOT NULL", table)
			if err != nil {
				return err
			}
			for _, index := range indexes {
				if err := g.Exec(strings.Replace(index, "INDEX ", "INDEX temp.", 1)).Error; err != nil {
					return err
				}
			}
		}
		if err := f(tx); err != nil {
			return err
		}
		return errTried
	})
	if errors.Is(err, errTried) {
		err = nil
	}
	return err
}

var errTried = errors.New("only tried")

// Backup writes a copy of the data file as it is now to path, which must not
// exist yet. Who is signed in is left out of it; it is looked at whether it is
// sound before it has its name.
func (db *DB) Backup(ctx context.Context, path string) error {
	// VACUUM INTO writes, if only the copy, so a reader may not do it; on a
	// connection of its own it does not hold up those who post.
	own, pool, err := alone(filepath.Join(db.Dir, FileName), url.Values{})
	if err != nil {
		return err
	}
	defer pool.Close()
	return copyVerified(ctx, own, path, true)
}

// Reader answers queries.
type Reader struct {
	db     *gorm.DB
	kept   *kept
	finder *finder // nil in a writing transaction
	stale  *bool   // of a writing transaction, which may see what is not committed: whether it had to read the chart
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
	ctx     context.Context
	posting *Act // the act that a commit records, which is sealed at its end
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
