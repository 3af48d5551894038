package books

import (
	"context"
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"errors"
	"fmt"
	"slices"

	"cleantally/core/posting"
	"cleantally/core/rights"
	"cleantally/store"
)

// Preview plans a command and writes nothing. Refusals come beside as much of
// the effect as could be worked out; the error is of the program itself.
//
// The reservations of the draft in hand do not count.
func (b *Book) Preview(ctx context.Context, c posting.Command, how How) (posting.Effect, posting.Refusals, error) {
	if how.Again.PaperID != 0 {
		return b.previewAgain(ctx, c, how)
	}
	var effect posting.Effect
	var refusals posting.Refusals
	err := b.db.Snapshot(ctx, func(r *store.Reader) error {
		p, err := b.plan(r, c, how.Draft, how.BankLine)
		if err == nil {
			err = mayPrepare(r, c, p, how)
		}
		if err != nil {
			return err
		}
		refusals = p.refusals
		effect, err = p.shown(posting.Effect{})
		return err
	})
	return effect, refusals, err
}

// Token names what a preview showed of a command: a post that carries it posts
// that, or nothing.
func Token(c posting.Command, e posting.Effect) (string, error) {
	command, err := json.Marshal(c)
	if err != nil {
		return "", err
	}
	return e.Token(command), nil
}

// How says how a command is posted. Warnings are confirmed by the token of what
// was shown; whoever shows nothing names those that were seen.
type How struct {
	User      int64
	Key       string   // idempotency key; "" for none
	Token     string   // of the effect that is on screen; "" of whoever shows none
	Confirmed []string // the warnings that were seen, by their rules
	Draft     int64    // the draft that is posted; it is gone afterwards
	Version   int64    // the version of it that is posted
	Word      string   // the password of the second person, where one must agree
	Again     Again    // the paper in place of which this one stands
	BankLine  int64    // the line of a bank's statement that it explains; 0 for none
	BankRule  int64    // the firm's own rule by which it was filled in; 0 for none
}

// confirms tells whether each of the warnings was seen.
func (h How) confirms(warnings []posting.Notice) bool {
	if h.Token != "" {
		return true // it is of the warnings too
	}
	for _, w := range warnings {
		if !slices.Contains(h.Confirmed, w.Rule) {
			return false
		}
	}
	return true
}

// Posted is the answer to a post. The same key gets the same answer again.
type Posted struct {
	ActID   int64  `json:"act"`
	PaperID int64  `json:"paper"`
	Number  string `json:"number"`

	Others []store.PostedPaper `json:"others,omitempty" doc:"The papers after the first"`
}

// ErrUnconfirmed says that there are warnings which nobody has confirmed.
type ErrUnconfirmed struct{ Warnings []posting.Notice }

func (e ErrUnconfirmed) Error() string { return posting.Refusals(e.Warnings).Error() }

// ErrShownOtherwise says that what would be posted is no longer what was shown.
type ErrShownOtherwise struct{ Effect posting.Effect }

func (e ErrShownOtherwise) Error() string {
	return "What this does is no longer what was shown. Nothing was posted: look at the Effect again, and post it then."
}

// ErrNeedsWord says that a second person must agree first.
type ErrNeedsWord struct {
	What  posting.Notice
	Wrong bool           // a word came along, and was nobody's
	Asks  []rights.Right // what whoever agrees must have too
	Who   []string       // who could agree; none where it is one's own word, again
}

func (e ErrNeedsWord) Error() string { return e.What.Text }

// ErrKeyReused says that an idempotency key came with another command.
var ErrKeyReused = errors.New("this idempotency key was used for another command: send a new one")

// ErrDraftGone says that a draft was posted or thrown away already.
var ErrDraftGone = errors.New("this draft is gone: it was posted or thrown away, perhaps in another window")

// Post plans a command and commits its effect in one transaction, or changes
// nothing. It returns posting.Refusals, ErrShownOtherwise, ErrUnconfirmed,
// ErrNeedsWord, ErrKeyReused, ErrDraftChanged or ErrDraftGone.
func (b *Book) Post(ctx context.Context, c posting.Command, how How) (Posted, error) {
	var out Posted
	hash, detail, err := commandHash(c, how)
	if err != nil {
		return out, err
	}
	action := fmt.Sprintf("%T", c)
	out, err = b.postOnce(ctx, c, how, action, string(detail), hash, "")
	var needed ErrNeedsWord
	if errors.As(err, &needed) && how.Word != "" {
		// Asking for the word takes its time, so the one writer is not held.
		whose, wordErr := b.wordHolds(ctx, how, needed.Asks)
		if wordErr != nil || whose == "" {
			needed.Wrong = wordErr == nil
			return out, errors.Join(wordErr, needed)
		}
		return b.postOnce(ctx, c, how, action, string(detail), hash, whose)
	}
	return out, err
}

// commandHash names a command with what goes with it, beside the command as it
// is recorded.
func commandHash(c posting.Command, how How) (hash, detail []byte, err error) {
	detail, err1 := json.Marshal(c)
	again, err2 := json.Marshal(how.Again)
	sum := sha256.Sum256(slices.Concat(fmt.Appendf(nil, "%T", c), detail, again, lineKey(how.BankLine)))
	return sum[:], detail, errors.Join(err1, err2)
}

// mayPrepare refuses to show a command to one who may not even prepare it.
func mayPrepare(r *store.Reader, c posting.Command, p plan, how How) error {
	if len(p.effect.Papers) == 0 && len(p.refusals) > 0 {
		return nil // nothing to see yet
	}
	who, err := person(r, how.User)
	if err != nil || who.ID == 0 {
		return err
	}
	for _, right := range asks(c, p.effect, how) {
		if right == rights.ToBill {
			right = rights.ToSell
		}
		if right == rights.ToChoose {
			continue // refused when it is posted, and told before
		}
		if err := who.Need(right); err != nil {
			return err
		}
	}
	return nil
}

// postOnce plans and commits; word tells whose word it has, "" for nobody's.
func (b *Book) postOnce(ctx context.Context, c posting.Command, how How, action, detail string, hash []byte, word string) (Posted, error) {
	var out Posted
	err := b.db.Write(ctx, func(tx *store.Tx) error {
		if how.Key != "" {
			if done, err := replay(tx, how.Key, hex.EncodeToString(hash), &out); done || err != nil {
				return err
			}
		}
		first, refusals, err := b.takeBack(tx, how.Again, how.User)
		if err == nil && len(refusals) > 0 {
			err = refusals
		}
		if err != nil {
			return err
		}
		p, err := b.plan(&tx.Reader, c, how.Draft, how.BankLine)
		if err == nil && len(p.refusals) > 0 {
			err = p.refusals
		}
		if err == nil {
			err = allowed(&tx.Reader, c, p.effect, how)
		}
		if err != nil {
			return err
		}
		shown := p.effect.After(first)
		if how.Token != "" && how.Token != shown.Token([]byte(detail)) {
			shown, err := p.shown(first)
			return errors.Join(ErrShownOtherwise{shown}, err)
		}
		if !how.confirms(shown.Warnings) {
			return ErrUnconfirmed{shown.Warnings}
		}
		given, err := b.wordFor(tx, shown, how, func() string { return wordHash(hash, shown, detail) }, &word)
		if err != nil {
			return err
		}
		if shown.Word != nil {
			p.effect.Summary += ", agreed by " + word
		}
		attached, err := tx.Attachments(store.AttachedTo{DraftID: how.Draft})
		if err != nil {
			return err
		}
		if err := dropDraft(tx, how.Draft, how.Version); err != nil {
			return err
		}
		_, err = tx.Commit(p.effect, p.facts, func(posted store.Posted) error {
			out = Posted(posted)
			return b.recordPost(tx, how, store.Act{ID: posted.ActID, UserID: how.User, Action: action, Summary: p.effect.Summary, Detail: detail}, hash, out)
		})
		if err == nil && given != 0 {
			err = tx.UseWord(given, out.ActID)
		}
		if err == nil {
			err = tookByRule(tx, out.ActID, how)
		}
		if err == nil && out.PaperID != 0 { // what the draft had attached goes with the paper
			err = tx.AttachAll(attached, store.AttachedTo{PaperID: out.PaperID})
		}
		if err != nil || how.Again.PaperID == 0 || out.PaperID == 0 {
			return err
		}
		return tx.WrittenAgain(out.ActID, out.PaperID, how.Again.PaperID, p.effect.Paper().Day)
	})
	return out, err
}

// lineKey tells posts apart that explain different lines of a statement.
func lineKey(line int64) []byte {
	if line == 0 {
		return nil
	}
	return fmt.Appendf(nil, "explains %d", line)
}

func replay(tx *store.Tx, key, hash string, out *Posted) (bool, error) {
	act, done, err := tx.ActByKey(key)
	if err != nil || !done {
		return false, err
	}
	if act.KeyHash == nil || *act.KeyHash != hash || act.Answer == nil {
		return false, ErrKeyReused
	}
	return true, json.Unmarshal([]byte(*act.Answer), out)
}

// dropDraft throws the draft away that is posted, if it still is what was
// posted.
func dropDraft(tx *store.Tx, id, version int64) error {
	if id == 0 {
		return nil
	}
	d, there, err := tx.Draft(id)
	switch {
	case err != nil:
		return err
	case !there:
		return ErrDraftGone
	case d.Version != version:
		return ErrDraftChanged
	}
	_, err = tx.DeleteDraft(id)
	return err
}

func (b *Book) recordPost(tx *store.Tx, how How, act store.Act, hash []byte, out Posted) error {
	if how.Key != "" {
		answer, err := json.Marshal(out)
		if err != nil {
			return err
		}
		sum, text := hex.EncodeToString(hash), string(answer)
		act.Key, act.KeyHash, act.Answer = &how.Key, &sum, &text
	}
	return tx.Record(&act, b.clock())
}
