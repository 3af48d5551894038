package books

import (
	"context"
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"fmt"
	"slices"
	"strings"
	"time"

	"cleantally/core/posting"
	"cleantally/core/rights"
	"cleantally/store"
)

// The second person's word is another person's, with the right to the same
// thing; where nobody else has it, one's own password again, recorded as that
// (docs/rules.md, part 13). It is given at once, by their password beside the
// post, or from their own screen, where it waits for them.

// couldAgree are those who may give their word to what a user does.
func couldAgree(r *store.Reader, user int64, asked []rights.Right) ([]store.User, error) {
	users, err := r.Users()
	if err != nil {
		return nil, err
	}
	firm, err := r.Firm()
	choices := rights.Choices{BillerPosts: firm.BillerPosts, BillerChooses: firm.BillerChooses}
	return slices.DeleteFunc(users, func(u store.User) bool {
		return u.ID == user || u.Ended || slices.ContainsFunc(asked, func(right rights.Right) bool { return !u.Role.May(right, choices) })
	}), err
}

// wordFor finds whose word a post has that needs one: the one that came along,
// else one that was given from another screen, whose ID is returned.
func (b *Book) wordFor(tx *store.Tx, shown posting.Effect, how How, hash func() string, word *string) (given int64, err error) {
	if shown.Word == nil || *word != "" {
		return 0, nil
	}
	w, there, err := tx.WordFor(how.User, hash())
	if err != nil {
		return 0, err
	}
	if there {
		if p, err := person(&tx.Reader, *w.AnsweredBy); err != nil || p.May(w.Asks) {
			*word = w.Answerer
			return w.ID, err
		}
	}
	needed := ErrNeedsWord{What: *shown.Word, Asks: asksOf(shown)}
	others, err := couldAgree(&tx.Reader, how.User, needed.Asks)
	for _, u := range others {
		needed.Who = append(needed.Who, u.Name)
	}
	if err != nil {
		return 0, err
	}
	return 0, needed
}

// wordHash names what a word is given to: a command with what it does at that
// moment. Where it would do something else by now, the word is asked for again.
func wordHash(command []byte, e posting.Effect, detail string) string {
	sum := sha256.Sum256(append(slices.Clone(command), e.Token([]byte(detail))...))
	return hex.EncodeToString(sum[:])
}

// Agreement tells, of what needs a second person's word, who agreed to it already
// and who could.
func (b *Book) Agreement(ctx context.Context, c posting.Command, how How, e posting.Effect) (agreed string, others []string, err error) {
	if e.Word == nil {
		return "", nil, nil
	}
	hash, detail, err := commandHash(c, how)
	if err != nil {
		return "", nil, err
	}
	r := b.Read(ctx)
	w, there, err := r.WordFor(how.User, wordHash(hash, e, string(detail)))
	if err != nil {
		return "", nil, err
	}
	if there {
		agreed = w.Answerer
	}
	users, err := couldAgree(r, how.User, asksOf(e))
	for _, u := range users {
		others = append(others, u.Name)
	}
	return agreed, others, err
}

// asksOf are the rights that what needs a word asks for.
func asksOf(e posting.Effect) []rights.Right { return asks(nil, e, How{}) }

// wordHolds returns whose the word is that came along: another person's, or,
// while nobody else has the right to the same thing, the person's own, asked for
// again. It is "" when it is nobody's.
func (b *Book) wordHolds(ctx context.Context, how How, asked []rights.Right) (who string, err error) {
	end, err := b.tries.take(guess{fmt.Sprintf("word to %d", how.User), 5})
	if err != nil {
		return "", err
	}
	defer func() { end(who != "" || err != nil) }()
	r := b.Read(ctx)
	users, err := couldAgree(r, how.User, asked)
	if err != nil {
		return "", err
	}
	own := len(users) == 0
	if own {
		self, there, err := r.User(how.User)
		if err != nil || !there {
			return "", err
		}
		users = []store.User{self}
	}
	for _, u := range users {
		switch right, err := b.holds(ctx, how.Word, u.PasswordHash); {
		case err != nil:
			return "", err
		case right && own:
			return "the same person, for want of a second", nil
		case right:
			return u.Name, nil
		}
	}
	return "", nil
}

// AskForWord has what somebody is about to post wait for a second person's word.
// Shown is the effect as it is on their screen, for who is asked.
func (b *Book) AskForWord(ctx context.Context, c posting.Command, how How, shown any) (posting.Refusals, error) {
	hash, detail, err := commandHash(c, how)
	if err != nil {
		return nil, err
	}
	kept, err := json.Marshal(shown)
	if err != nil {
		return nil, err
	}
	effect, refusals, err := b.Preview(ctx, c, how)
	if err != nil || len(refusals) > 0 {
		return refusals, err
	}
	return nil, b.db.Write(ctx, func(tx *store.Tx) error {
		if err := allowed(&tx.Reader, c, effect, how); err != nil {
			return err
		}
		var v validation
		if effect.Word == nil {
			v.refuse("word", "not needed", "This needs nobody's word. Post it.")
			return v.err()
		}
		asked := asksOf(effect)
		others, err := couldAgree(&tx.Reader, how.User, asked)
		if err != nil {
			return err
		}
		if len(others) == 0 {
			v.refuse("word", "nobody", "Nobody else may do this, so there is nobody to ask: give your own password again.")
			return v.err()
		}
		w := store.Word{Hash: wordHash(hash, effect, string(detail)), Asks: asked[0], AskedBy: how.User, AskedAt: b.clock().UTC().Format(time.RFC3339), Summary: effect.Summary, Why: effect.Word.Text, Shown: string(kept), DraftID: how.Draft}
		if err := tx.AskWord(&w); err != nil {
			return err
		}
		return b.record(tx, how.User, "ask for a word", "Asked for a second person's word: "+w.Summary, map[string]int64{"word": w.ID})
	})
}

// AnswerWord gives a second person's word to what somebody asked, or says no.
func (b *Book) AnswerWord(ctx context.Context, user, id int64, agreed bool, note string) error {
	note = strings.TrimSpace(note)
	var v validation
	v.text("note", &note, !agreed, 400)
	if err := v.err(); err != nil {
		return err
	}
	return b.db.Write(ctx, func(tx *store.Tx) error {
		w, there, err := tx.Word(id)
		switch {
		case err != nil:
			return err
		case !there || w.Ended || w.ActID != nil:
			v.refuse("word", "gone", "This was posted or taken back meanwhile. Nobody's word is needed any more.")
			return v.err()
		case w.AskedBy == user:
			v.refuse("word", "your own", "You asked for this yourself: the word is another person's.")
			return v.err()
		case w.AnsweredBy != nil:
			v.refuse("word", "answered", "%s has answered this already.", w.Answerer)
			return v.err()
		}
		p, err := person(&tx.Reader, user)
		if err == nil {
			err = p.Need(w.Asks)
		}
		if err != nil {
			return err
		}
		if err := tx.AnswerWord(id, user, agreed, note); err != nil {
			return err
		}
		said := "Agreed to: "
		if !agreed {
			said = "Did not agree (" + note + ") to: "
		}
		return b.record(tx, user, "answer for a word", said+w.Summary, map[string]any{"word": w.ID, "agreed": agreed})
	})
}

// EndWord takes back what one asked for.
func (b *Book) EndWord(ctx context.Context, user, id int64) error {
	return b.db.Write(ctx, func(tx *store.Tx) error {
		w, there, err := tx.Word(id)
		if err != nil {
			return err
		}
		if !there || w.AskedBy != user {
			return store.ErrNoRecord
		}
		if err := tx.EndWord(id); err != nil {
			return err
		}
		return b.record(tx, user, "end a word", "Asks for nobody's word any more: "+w.Summary, map[string]int64{"word": w.ID})
	})
}

// Words returns what waits for the word of the one who asks, and what they asked
// for themselves and is not posted yet.
func (b *Book) Words(ctx context.Context) (forYou, yours []store.Word, err error) {
	p, err := b.Person(ctx)
	if err != nil {
		return nil, nil, err
	}
	all, err := b.Read(ctx).Words()
	for _, w := range all {
		switch {
		case w.AskedBy == p.ID:
			yours = append(yours, w)
		case w.AnsweredBy == nil && p.May(w.Asks):
			forYou = append(forYou, w)
		}
	}
	return forYou, yours, err
}
