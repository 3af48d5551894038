package books

import (
	"context"
	"errors"
	"time"

	"cleantally/core/day"
	"cleantally/core/posting"
	"cleantally/store"
)

// ErrDraftChanged says that a draft was saved by someone else in between.
var ErrDraftChanged = errors.New("this draft was changed in another window: open it again to go on from there")

// SaveDraft stores a draft: a new one when d.ID is 0, else in place of the
// version that d bears. What the command comes to is kept for lists; it may
// still be refused.
func (b *Book) SaveDraft(ctx context.Context, d *store.Draft, c posting.Command) error {
	if err := b.Need(ctx, MayDraft(d.Kind)); err != nil {
		return err
	}
	if was, there, err := b.Read(ctx).Draft(d.ID); err != nil {
		return err
	} else if there && was.Kind != d.Kind {
		return ErrDraftChanged
	}
	var used []posting.Use
	if c != nil {
		effect, _, err := b.Preview(ctx, c, How{Draft: d.ID, User: who(ctx)})
		if err != nil {
			return err
		}
		used = effect.Uses
		if p := effect.Paper(); p != nil {
			d.PartyID, d.JobID, d.Day, d.Title, d.Total = p.PartyID, p.JobID, "", p.Title, p.Base
			if _, err := day.Parse(string(p.Day)); err == nil {
				d.Day = p.Day
			}
		}
	}
	d.SavedAt = b.clock().UTC().Format(time.RFC3339)
	return b.db.Write(ctx, func(tx *store.Tx) error {
		if d.ID == 0 {
			d.UserID = who(ctx)
			if err := tx.CreateDraft(d); err != nil {
				return err
			}
			return tx.Reserve(d.ID, used)
		}
		saved, err := tx.UpdateDraft(d)
		if err != nil {
			return err
		}
		if saved {
			return tx.Reserve(d.ID, used)
		}
		if _, there, err := tx.Draft(d.ID); err != nil || there {
			return errors.Join(err, ErrDraftChanged)
		}
		return ErrDraftGone
	})
}

// DiscardDraft throws a draft away.
func (b *Book) DiscardDraft(ctx context.Context, id, user int64) error {
	return b.db.Write(ctx, func(tx *store.Tx) error {
		d, there, err := tx.Draft(id)
		if err != nil {
			return err
		}
		if !there {
			return ErrDraftGone
		}
		if err := b.Need(ctx, MayDraft(d.Kind)); err != nil {
			return err
		}
		if _, err := tx.DeleteDraft(id); err != nil {
			return err
		}
		return b.record(tx, user, "discard draft", "Threw away a draft "+string(d.Kind)+" for "+d.Party, d)
	})
}
