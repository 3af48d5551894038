package web

import (
	"context"
	"log/slog"
	"sync"
	"time"
)

// A chore is what the program does by itself for a firm, now and then.
type chore struct {
	does   string // as the log says it
	every  time.Duration
	later  bool            // not at once
	wakes  <-chan struct{} // does it at once
	do     func(context.Context) error
	holder sync.Mutex // one does it at a time
}

// once does it.
func (c *chore) once(ctx context.Context) {
	c.holder.Lock()
	defer c.holder.Unlock()
	if err := c.do(ctx); err != nil && ctx.Err() == nil {
		slog.Warn("what is done by itself was not done", "chore", c.does, "error", err)
	}
}

// choresOf are those of a firm.
func choresOf(s *Server) []*chore {
	return []*chore{
		{does: "draft what recurs", every: 5 * time.Minute, do: func(ctx context.Context) error { // the day may have changed
			_, err := s.MakeRecurring(ctx)
			return err
		}},
		{does: "try what waits in the outbox", every: 20 * time.Second, wakes: s.outbox, do: func(ctx context.Context) error {
			_, err := s.Deliver(ctx)
			return err
		}},
		{does: "ask the card gateway", every: time.Minute, do: func(ctx context.Context) error {
			return s.book.LookAtCards(ctx, s.options.StandIns.Cards, 0)
		}},
		{does: "back up", every: time.Minute, later: true, do: func(ctx context.Context) error {
			due, _, err := s.book.BackupDue(ctx)
			if err == nil && due {
				_, err = s.book.BackUp(ctx, 0)
			}
			return err
		}},
		{does: "read what papers are searched by", every: 10 * time.Minute, do: s.book.KnowPapers},
		{does: "look at what has grown", every: time.Hour, later: true, do: s.book.Optimize},
	}
}

// doChores does the chores of a firm until ctx ends; under waits for them. The
// books are looked at once: large ones take their time.
func (s *Server) doChores(ctx context.Context, under *sync.WaitGroup) {
	for _, c := range s.chores {
		under.Go(func() {
			if !c.later {
				c.once(ctx)
			}
			nowAndThen(ctx, c.every, c.wakes, func() { c.once(ctx) })
		})
	}
	under.Go(func() {
		if found, err := s.book.Guard(ctx); len(found) > 0 {
			slog.Error("the books are damaged, so nothing is posted; cleantally check says more", "found", found, "error", err)
		}
	})
}

// nowAndThen does something again and again until ctx ends.
func nowAndThen(ctx context.Context, every time.Duration, wakes <-chan struct{}, do func()) {
	often := time.NewTicker(every)
	defer often.Stop()
	for {
		select {
		case <-ctx.Done():
			return
		case <-often.C:
		case <-wakes:
		}
		do()
	}
}
