package store

import (
	"context"
	"sync/atomic"
	"time"

	"gorm.io/gorm/logger"
)

// A watcher is told of every query of those who read, with what it took.
type watcher struct {
	logger.Interface // which says nothing
	tell             *atomic.Pointer[func(query string, took time.Duration)]
}

// LogMode is of gorm's logger.
func (w watcher) LogMode(logger.LogLevel) logger.Interface { return w }

// Trace is of gorm's logger.
func (w watcher) Trace(_ context.Context, begin time.Time, query func() (string, int64), _ error) {
	if tell := w.tell.Load(); tell != nil {
		text, _ := query()
		(*tell)(text, time.Since(begin))
	}
}

// Watch has f told of every query of those who read, from now on: for whoever
// looks what takes long.
func (db *DB) Watch(f func(query string, took time.Duration)) { db.watch.Store(&f) }
