package store

import (
	"context"
	"database/sql"
	"errors"
	"os"
	"path/filepath"
	"sync"
	"time"

	"gorm.io/gorm"
)

// What is written goes into a log beside the data file first, and from there into
// the file; the log then begins anew. While somebody reads one state of the books
// it cannot, and grows. So whoever has read for longer than readTime is stopped
// once the log is longer than mostLog.
const (
	mostLog  = 128 << 20 // bytes
	readTime = 2 * time.Second
)

// ErrReadStopped says that a look at the books was stopped because others wrote
// too much meanwhile.
var ErrReadStopped = errors.New("this took too long while others were writing, and was stopped: ask for less of it, or later")

// reads are those that look at one state of the books.
type reads struct {
	mu  sync.Mutex
	all map[*read]bool
}

type read struct {
	since time.Time
	stop  context.CancelCauseFunc
}

// Snapshot runs f on one state of the books, whatever is written meanwhile. It is
// stopped where that holds up those who write (ErrReadStopped).
func (db *DB) Snapshot(ctx context.Context, f func(*Reader) error) error {
	ctx, stop := context.WithCancelCause(ctx)
	defer stop(nil)
	mine := &read{time.Now(), stop}
	db.reads.mu.Lock()
	if db.reads.all == nil {
		db.reads.all = map[*read]bool{}
	}
	db.reads.all[mine] = true
	db.reads.mu.Unlock()
	defer func() {
		db.reads.mu.Lock()
		delete(db.reads.all, mine)
		db.reads.mu.Unlock()
	}()
	err := db.reader.WithContext(ctx).Transaction(func(tx *gorm.DB) error { return f(&Reader{db: tx, kept: &db.chart, finder: &db.finder}) }, &sql.TxOptions{ReadOnly: true})
	if err != nil && errors.Is(context.Cause(ctx), ErrReadStopped) {
		return ErrReadStopped
	}
	return err
}

// bound stops whoever keeps the log from beginning anew, once it is longer than
// most, and has read for longer than a time.
func (db *DB) bound(most int64, longer time.Duration) {
	log, err := os.Stat(filepath.Join(db.Dir, FileName) + "-wal")
	if err != nil || log.Size() <= most {
		return
	}
	db.reads.mu.Lock()
	defer db.reads.mu.Unlock()
	for r := range db.reads.all {
		if time.Since(r.since) > longer {
			r.stop(ErrReadStopped)
		}
	}
}
