package store

import (
	"context"
	"errors"
	"slices"
	"sync"
	"time"

	"gorm.io/gorm"
)

// Writes are done one after the other, in the order in which they were asked
// for, on the one connection that writes. Those that wait for each other share a
// transaction: what costs time is to have it on disk, and that is done once for
// all of them. Each is kept whole or not at all, and none is answered before it
// is on disk.
//
// A transaction is shared by at most groupSize writes, begun within groupTime of
// the end of the first: nobody who writes is held up by those who came later for
// longer than that.
const (
	groupSize = 32
	groupTime = 20 * time.Millisecond
)

// Write runs f in a transaction: all of it is kept, or nothing. One may stop
// waiting for one's turn; what has begun is not interrupted.
func (db *DB) Write(ctx context.Context, f func(*Tx) error) error {
	if why := db.hurt.Load(); why != nil {
		return *why
	}
	if db.writer == nil {
		return ErrUnwritable{"these books are only looked at"}
	}
	if err := db.here(); err != nil {
		return err
	}
	if err := db.turns.wait(ctx); err != nil {
		return err
	}
	g, err := db.join(ctx)
	if err != nil {
		db.turns.pass()
		return understood(err)
	}
	err = g.run(ctx, db, f)
	<-g.done
	if err == nil {
		err = g.err
	}
	if err == nil && g.stale {
		// For the next, who then need not read it while writing. What was
		// committed is committed, whether this goes well or not.
		_, _ = db.Read(context.WithoutCancel(ctx)).loadChart()
	}
	return understood(err)
}

// A group are the writes that share a transaction.
type group struct {
	tx    *gorm.DB
	since time.Time // when the first of them had done what it does
	size  int
	stale bool
	done  chan struct{} // closed when all of it is on disk, or nothing
	err   error         // why it is not; read when it is done
}

// join returns the group that is open, or opens one. Whoever calls it has the
// turn.
func (db *DB) join(ctx context.Context) (*group, error) {
	if db.group == nil {
		tx := db.writer.WithContext(context.WithoutCancel(ctx)).Begin()
		if tx.Error != nil {
			return nil, tx.Error
		}
		db.group = &group{tx: tx, done: make(chan struct{})}
	}
	db.group.size++
	return db.group, nil
}

// run does one write of a group, and passes the turn on: to somebody who goes on
// with the group, or after its end.
func (g *group) run(ctx context.Context, db *DB, f func(*Tx) error) (err error) {
	whole := false
	defer func() { // also where f panics
		if !whole {
			g.undo()
		}
		db.end(g)
	}()
	ctx = context.WithoutCancel(ctx)
	tx := &Tx{Reader: Reader{db: g.tx.WithContext(ctx), kept: &db.chart, stale: &g.stale}, ctx: ctx}
	if g.size > 1 {
		if _, err := tx.exec("SAVEPOINT write"); err != nil {
			return err
		}
	}
	if err = f(tx); err != nil {
		return err
	}
	if g.size > 1 {
		if _, err := tx.exec("RELEASE write"); err != nil {
			return err
		}
	}
	whole = true
	return nil
}

// undo takes back what the last write of a group did, and leaves the group
// where it was; where that cannot be done, nothing of the group is kept.
func (g *group) undo() {
	ctx := g.tx.Statement.Context
	if g.size > 1 {
		for _, query := range []string{"ROLLBACK TO write", "RELEASE write"} {
			if _, err := g.tx.Statement.ConnPool.ExecContext(ctx, query); err != nil {
				g.err = errors.Join(g.err, err)
			}
		}
	}
	if g.size == 1 || g.err != nil {
		g.err = errors.Join(g.err, errUndone)
	}
}

// errUndone is why a group is not kept whose only write failed.
var errUndone = errors.New("nothing was written")

// end hands an open group to whoever waits next, if there is time left for it,
// and commits it otherwise.
func (db *DB) end(g *group) {
	if g.size == 1 {
		g.since = time.Now()
	}
	if g.err == nil && g.size < groupSize && time.Since(g.since) < groupTime && db.turns.hand() {
		return
	}
	if g.err == nil {
		g.err = g.tx.Commit().Error
	}
	if g.err != nil {
		g.tx.Rollback()
	}
	db.group = nil
	close(g.done)
	db.bound(mostLog, readTime)
	db.turns.pass()
}

// turns lets one at a time, in the order in which they came.
type turns struct {
	mu      sync.Mutex
	taken   bool
	waiting []chan struct{}
}

// wait returns when it is one's turn, or when ctx is done before that.
func (t *turns) wait(ctx context.Context) error {
	if err := ctx.Err(); err != nil {
		return err
	}
	t.mu.Lock()
	if !t.taken {
		t.taken = true
		t.mu.Unlock()
		return nil
	}
	mine := make(chan struct{})
	t.waiting = append(t.waiting, mine)
	t.mu.Unlock()
	select {
	case <-mine:
		return nil
	case <-ctx.Done():
	}
	t.mu.Lock()
	defer t.mu.Unlock()
	if n := slices.Index(t.waiting, mine); n >= 0 {
		t.waiting = slices.Delete(t.waiting, n, n+1)
		return ctx.Err()
	}
	return nil // it came just then, and somebody counts on it
}

// hand gives the turn to the next who waits, if anybody does.
func (t *turns) hand() bool {
	t.mu.Lock()
	defer t.mu.Unlock()
	if len(t.waiting) == 0 {
		return false
	}
	close(t.waiting[0])
	t.waiting = slices.Delete(t.waiting, 0, 1)
	return true
}

// pass gives the turn to the next who waits, or to whoever comes.
func (t *turns) pass() {
	t.mu.Lock()
	defer t.mu.Unlock()
	if t.taken = len(t.waiting) > 0; t.taken {
		close(t.waiting[0])
		t.waiting = slices.Delete(t.waiting, 0, 1)
	}
}
