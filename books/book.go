// Package books is what a bookkeeper can do: preview and post commands, keep
// drafts and records, close the period. Everything hangs on one opened Book.
package books

import (
	"context"
	"encoding/json"
	"errors"
	"path/filepath"
	"sync"
	"time"

	"cleantally/core/day"
	"cleantally/core/money"
	"cleantally/store"
)

// Book is one firm's books, opened.
type Book struct {
	db    *store.DB
	dir   string // where the data file and the attachments lie
	clock func() time.Time
	fixed day.Day

	backups   string     // where backups are kept; "" for beside the books
	backingUp sync.Mutex // one at a time

	tries   *tries
	hashing chan struct{} // who hashes a password at this moment
}

// Open opens the books in dir. A fixed day takes the place of the calendar's;
// "" for the real one.
func Open(ctx context.Context, dir string, clock func() time.Time, fixed day.Day) (*Book, error) {
	return opened(ctx, store.Open, dir, clock, fixed)
}

// ToldAnew runs f without waiting for the disk after each post: the demo firm's
// history, which is told anew when the machine fails meanwhile. At its end
// everything is on the disk.
func (b *Book) ToldAnew(ctx context.Context, f func() error) error { return b.db.ToldAnew(ctx, f) }

// Look opens the books in dir to look at them, also while another program serves
// them; nothing can be written.
func Look(ctx context.Context, dir string, clock func() time.Time, fixed day.Day) (*Book, error) {
	return opened(ctx, store.Look, dir, clock, fixed)
}

func opened(ctx context.Context, open func(context.Context, string) (*store.DB, error), dir string, clock func() time.Time, fixed day.Day) (*Book, error) {
	db, err := open(ctx, dir)
	if err != nil {
		return nil, err
	}
	return &Book{db: db, dir: dir, clock: clock, fixed: fixed, tries: newTries(clock), hashing: make(chan struct{}, mostHashing)}, nil
}

// Close closes the books.
func (b *Book) Close() error { return b.db.Close() }

// Optimize has the data file look at what has grown in it. Who serves the books
// calls it now and then.
func (b *Book) Optimize(ctx context.Context) error { return b.db.Optimize(ctx, false) }

// KnowPapers reads what papers are searched by, which a search otherwise begins
// to. Who serves the books calls it at start and now and then.
func (b *Book) KnowPapers(ctx context.Context) error { return b.Read(ctx).KnowPapers() }

// Watch has f told of every query of those who read, with what it took.
func (b *Book) Watch(f func(query string, took time.Duration)) { b.db.Watch(f) }

// Guard looks whether the books hang together, as far as that is quick; where
// they do not, nothing is written any more, and what was found is returned.
func (b *Book) Guard(ctx context.Context) ([]string, error) {
	found, err := b.Read(ctx).Quick()
	if err != nil && ctx.Err() == nil {
		found = append(found, err.Error())
	}
	if len(found) > 0 {
		b.db.Refuse("the books are damaged (" + found[0] + "). Restore the last backup, or ask for help before anything else is done with them")
	}
	return found, err
}

// Today returns the business day.
func (b *Book) Today() day.Day {
	if b.fixed != "" {
		return b.fixed
	}
	return day.Of(b.clock())
}

// Now is the moment, as the clock says.
func (b *Book) Now() time.Time { return b.clock() }

// SetToday fixes the business day. The demo tells its history with it.
func (b *Book) SetToday(d day.Day) { b.fixed = d }

// Read returns a view of the books for queries.
func (b *Book) Read(ctx context.Context) *store.Reader { return b.db.Read(ctx) }

// Snapshot runs f on one state of the books.
func (b *Book) Snapshot(ctx context.Context, f func(*store.Reader) error) error {
	return b.db.Snapshot(ctx, f)
}

// Sessions returns the store of signed-in sessions.
func (b *Book) Sessions() *store.Sessions { return b.db.Sessions() }

// Backup writes a copy of the books as they are now to path, and what is
// attached beside it (see attachmentsBeside).
func (b *Book) Backup(ctx context.Context, path string) error {
	return errors.Join(b.db.Backup(ctx, path), copyAttachments(filepath.Join(b.dir, attachmentsDir), attachmentsBeside(path)))
}

// Restore puts a backup, and what is attached beside it, into a directory
// without books.
func Restore(ctx context.Context, backup, dir string) error {
	return store.Restore(ctx, backup, dir, func() error { return copyAttachments(attachmentsBeside(backup), filepath.Join(dir, attachmentsDir)) })
}

// Currency returns the firm's currency with its way of writing numbers, or
// store.ErrNoFirm.
func (b *Book) Currency(ctx context.Context) (money.Currency, error) {
	return b.Read(ctx).Currency()
}

// record writes an act whose detail is v as JSON.
func (b *Book) record(tx *store.Tx, user int64, action, summary string, v any) error {
	detail, err := json.Marshal(v)
	if err != nil {
		return err
	}
	return tx.Record(&store.Act{UserID: user, Action: action, Summary: summary, Detail: string(detail)}, b.clock())
}
