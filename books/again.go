package books

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"

	"cleantally/core/banking"
	"cleantally/core/day"
	"cleantally/core/posting"
	"cleantally/core/settling"
	"cleantally/store"
)

// Again names the paper in place of which another is written: it is taken back
// in the same step, unless it was before.
type Again struct {
	PaperID int64 // 0 for none
	Day     day.Day
	Reason  string
}

// errOnlyShown ends a transaction of which nothing is kept.
var errOnlyShown = errors.New("only shown")

// Without reads the books as they would stand if a paper had been taken back
// today; as they are when it cannot be. Nothing of it is kept.
func (b *Book) Without(ctx context.Context, user, paperID int64, read func(*store.Reader) error) error {
	if paperID == 0 {
		return read(b.Read(ctx))
	}
	err := b.db.Write(ctx, func(tx *store.Tx) error {
		_, _, err := b.takeBack(tx, Again{PaperID: paperID, Day: b.Today()}, user)
		return errors.Join(err, read(&tx.Reader), errOnlyShown)
	})
	return unlessShown(err)
}

// unlessShown is the error, without the one by which a transaction was given up
// that was only to be shown.
func unlessShown(err error) error {
	if err == nil || err == errOnlyShown {
		return nil
	}
	var all interface{ Unwrap() []error }
	if !errors.As(err, &all) {
		return err
	}
	var rest []error
	for _, e := range all.Unwrap() {
		rest = append(rest, unlessShown(e))
	}
	return errors.Join(rest...)
}

// previewAgain shows a command together with the taking back of the paper that
// it stands in place of.
func (b *Book) previewAgain(ctx context.Context, c posting.Command, how How) (effect posting.Effect, refusals posting.Refusals, err error) {
	err = b.db.Write(ctx, func(tx *store.Tx) error {
		effect, refusals, err = b.withTakingBack(tx, c, how)
		return errors.Join(err, errOnlyShown)
	})
	return effect, refusals, unlessShown(err)
}

// withTakingBack takes the paper back that is written again, and plans a
// command on what is left.
func (b *Book) withTakingBack(tx *store.Tx, c posting.Command, how How) (posting.Effect, posting.Refusals, error) {
	first, said, err := b.takeBack(tx, how.Again, how.User)
	if err != nil {
		return first, said, err
	}
	p, err := b.plan(&tx.Reader, c, how.Draft, how.BankLine)
	if err != nil {
		return first, said, err
	}
	shown, err := p.shown(first)
	return shown, append(said, p.refusals...), err
}

// plan is what a command would do, by what a reader or a transaction sees.
type plan struct {
	facts    *store.Facts
	effect   posting.Effect
	refusals posting.Refusals
}

func (b *Book) plan(r *store.Reader, c posting.Command, draft, bankLine int64) (p plan, err error) {
	if p.facts, err = r.Facts(b.Today()); err != nil {
		return p, err
	}
	p.facts.OfDraft(draft)
	p.effect, err = c.Plan(p.facts)
	if p.facts.Err() != nil {
		return p, p.facts.Err()
	}
	if err == nil && bankLine != 0 {
		if err = banking.Explain(p.facts, &p.effect, bankLine); p.facts.Err() != nil {
			return p, p.facts.Err()
		}
	}
	if err != nil && !errors.As(err, &p.refusals) {
		return p, err
	}
	return p, nil
}

// shown is the effect as it is shown, with the balances that it touches, after
// what was done before it in the same step.
func (p plan) shown(first posting.Effect) (posting.Effect, error) {
	p.effect.Balances = posting.Balances(p.facts, p.effect)
	return p.effect.After(first), p.facts.Err()
}

// takeBack reverses the paper that is written again, unless it is taken back
// already. What is refused of it bears fields that begin with "again."; while
// only the reason is missing, it is done all the same, for showing.
func (b *Book) takeBack(tx *store.Tx, again Again, user int64) (posting.Effect, posting.Refusals, error) {
	if again.PaperID == 0 {
		return posting.Effect{}, nil, nil
	}
	facts, err := tx.Facts(b.Today())
	if err != nil {
		return posting.Effect{}, nil, err
	}
	if _, before := facts.ReversedBy(again.PaperID); before {
		return posting.Effect{}, nil, facts.Err()
	}
	reversal := settling.Reversal{PaperID: again.PaperID, Day: again.Day, Reason: again.Reason}
	p, err := b.plan(&tx.Reader, reversal, 0, 0)
	var said posting.Refusals
	if err == nil && len(p.refusals) == 1 && p.refusals[0].Field == "reason" {
		said, reversal.Reason = p.refusals, "…"
		p, err = b.plan(&tx.Reader, reversal, 0, 0)
	}
	said = append(said, p.refusals...)
	for n := range said {
		said[n].Field = "again." + said[n].Field
	}
	if err != nil || len(p.refusals) > 0 {
		return posting.Effect{}, said, err
	}
	shown, err := p.shown(posting.Effect{})
	if err != nil {
		return shown, said, err
	}
	detail, err := json.Marshal(reversal)
	if err != nil {
		return shown, said, err
	}
	_, err = tx.Commit(p.effect, p.facts, func(made store.Posted) error {
		return tx.Record(&store.Act{ID: made.ActID, UserID: user, Action: fmt.Sprintf("%T", reversal), Summary: p.effect.Summary, Detail: string(detail)}, b.clock())
	})
	return shown, said, err
}
