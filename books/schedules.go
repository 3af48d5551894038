package books

import (
	"cleantally/core/rights"
	"context"
	"strings"
	"time"

	"cleantally/core/billing"
	"cleantally/core/day"
	"cleantally/core/posting"
	"cleantally/store"
)

// SaveSchedule stores an invoice that recurs: a new one when s.ID is 0, else in
// place of the version that s bears. A first day that is moved begins it anew,
// not before the last draft that was made.
func (b *Book) SaveSchedule(ctx context.Context, s *store.Schedule, user int64) error {
	s.Name = strings.TrimSpace(s.Name)
	var v validation
	if s.Name == "" || len(s.Name) > 120 {
		v.refuse("name", "missing", "Say what it is called, in at most 120 characters.")
	}
	if s.Every < 1 || s.Every > 120 {
		v.refuse("every", "out of bounds", "It recurs every 1 to 120 weeks, months or years.")
	}
	if s.Unit != billing.Weekly && s.Unit != billing.Monthly && s.Unit != billing.Yearly {
		v.refuse("unit", "missing", "Say whether it recurs by weeks, months or years.")
	}
	if _, err := day.Parse(string(s.First)); err != nil {
		v.refuse("first", "no such day", "%s.", posting.Sentence(err.Error()))
	}
	if s.First != "" && b.Today().Since(s.First) > 366 {
		v.refuse("first", "too early", "Its first day is at most a year back: what was before is billed already.")
	}
	if _, err := day.Parse(string(s.Until)); s.Until != "" && err != nil {
		v.refuse("until", "no such day", "%s.", posting.Sentence(err.Error()))
	} else if s.Until != "" && s.Until < s.First {
		v.refuse("until", "before the first", "Its last day is not before its first, %s.", s.First.Show())
	}
	if s.PartyID == 0 {
		v.refuse("paper", "missing", "Choose an invoice that recurs.")
	}
	if err := v.err(); err != nil {
		return err
	}
	return b.change(ctx, rights.ToSell, func(tx *store.Tx) error {
		if s.ID == 0 {
			if err := tx.CreateSchedule(s); err != nil {
				return err
			}
			return b.record(tx, user, "save schedule", "Made an invoice recur: "+s.Name, s)
		}
		old, there, err := tx.Schedule(s.ID)
		if err != nil {
			return err
		}
		if !there {
			return store.ErrNoRecord
		}
		s.Made = old.Made
		if s.First != old.First || s.Every != old.Every || s.Unit != old.Unit {
			s.Made = 0
			if old.Made > 0 {
				if last := old.Days().On(old.Made - 1); s.First <= last {
					v.refuse("first", "made already", "A draft of %s was made already. Begin after that.", last.Show())
					return v.err()
				}
			}
		}
		saved, err := tx.UpdateSchedule(*s)
		if err != nil {
			return err
		}
		if !saved {
			return store.ErrRecordChanged
		}
		return b.record(tx, user, "save schedule", "Changed what recurs: "+s.Name, s)
	})
}

// EndSchedule ends an invoice that recurs; the drafts that were made of it stay.
func (b *Book) EndSchedule(ctx context.Context, id, user int64) error {
	return b.change(ctx, rights.ToSell, func(tx *store.Tx) error {
		s, there, err := tx.Schedule(id)
		if err != nil {
			return err
		}
		if !there {
			return store.ErrNoRecord
		}
		if _, err := tx.DeleteSchedule(id); err != nil {
			return err
		}
		return b.record(tx, user, "end schedule", "Ended what recurs: "+s.Name, s)
	})
}

// MakeRecurring makes the drafts that are due through today, also those that
// were missed while the program did not run, each once. Write turns the body of
// a schedule into the draft's and its command, dated a day.
func (b *Book) MakeRecurring(ctx context.Context, write func(s store.Schedule, d day.Day) (string, posting.Command, error)) (made int, err error) {
	all, err := b.Read(ctx).Schedules()
	if err != nil {
		return 0, err
	}
	for _, s := range all {
		if s.Paused {
			continue
		}
		for _, d := range s.Days().Through(s.Made, b.Today()) {
			ok, err := b.makeOne(ctx, s, d, write)
			if err != nil || !ok {
				return made, err
			}
			s.Made++
			made++
		}
	}
	return made, nil
}

func (b *Book) makeOne(ctx context.Context, s store.Schedule, on day.Day, write func(store.Schedule, day.Day) (string, posting.Command, error)) (bool, error) {
	body, c, err := write(s, on)
	if err != nil {
		return false, err
	}
	d := store.Draft{Kind: posting.Invoice, Body: body, PartyID: s.PartyID, Day: on, Title: s.Name, SavedAt: b.clock().UTC().Format(time.RFC3339)}
	effect, _, err := b.Preview(ctx, c, How{})
	if err != nil {
		return false, err
	}
	if p := effect.Paper(); p != nil {
		d.JobID, d.Total = p.JobID, p.Base
	}
	made := false
	err = b.db.Write(ctx, func(tx *store.Tx) error {
		if made, err = tx.ScheduleMade(s); err != nil || !made {
			return err
		}
		if err := tx.CreateDraft(&d); err != nil {
			return err
		}
		return tx.Reserve(d.ID, effect.Uses)
	})
	return made, err
}
