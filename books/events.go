package books

import (
	"cleantally/core/rights"
	"context"
	"fmt"
	"strings"

	"cleantally/core/day"
	"cleantally/core/posting"
	"cleantally/store"
)

// The events of a posted paper that a person records.
const (
	Noted    = "noted"
	Reminded = "reminded"
	Promised = "promised"
	PutOff   = "put off"
	// Addressed prints another address on the paper from then on.
	Addressed = "addressed"
	// Lost says of a quote why it was not accepted.
	Lost = "lost"
	// Sent says that a paper went out, and how.
	Sent = "sent"
	// Signed says who signed for a delivery, and on which day.
	Signed = "signed for"
	// HandedBack says that a guarantee came back from the customer.
	HandedBack = "handed back"
)

// ofKind are the events of one kind of paper alone.
var ofKind = map[string]posting.Kind{Lost: posting.Quote, Signed: posting.Delivery, HandedBack: posting.Guarantee}

// mostNoted is how long a note may be.
const mostNoted = 1000

// RecordEvent records something that happened with a posted paper and posts
// nothing. It returns posting.Refusals or store.ErrNoRecord.
func (b *Book) RecordEvent(ctx context.Context, user int64, e store.Event) error {
	e.Text, e.Reference, e.Day = strings.TrimSpace(e.Text), strings.TrimSpace(e.Reference), b.Today()
	var v validation
	switch {
	case len(e.Text) > mostNoted || len(e.Reference) > 200:
		v.refuse("text", "too long", "A note has at most %d characters, a reference 200. Shorten it.", mostNoted)
	case e.Event == Noted && e.Text == "" && e.Reference == "":
		v.refuse("text", "missing", "Write what is to be noted.")
	case e.Event == Addressed && e.Text == "":
		v.refuse("text", "missing", "Write the address that is to be printed.")
	case (e.Event == Lost || e.Event == Signed) && e.Text == "":
		v.refuse("text", "missing", "%s", map[string]string{Lost: "Say why it was lost.", Signed: "Say who signed for it."}[e.Event])
	case e.Event == Signed && e.Until > e.Day:
		v.refuse("until", "in the future", "It is signed for today, %s, or was before.", e.Day.Show())
	case (e.Event == Promised || e.Event == PutOff) && e.Until < e.Day:
		v.refuse("until", "past", "Say a day from %s on.", e.Day.Show())
	}
	if err := v.err(); err != nil {
		return err
	}
	return b.change(ctx, rights.ToNote, func(tx *store.Tx) error {
		p, ok, err := tx.Paper(e.PaperID)
		if err != nil {
			return err
		}
		if !ok {
			return store.ErrNoRecord
		}
		if only, bound := ofKind[e.Event]; bound && p.Kind != only {
			return posting.Refusals{{Field: "event", Rule: "another kind", Text: fmt.Sprintf("%s is a %s: that is said of a %s alone.", p.Number, p.Kind, only)}}
		}
		if e.Event == Reminded || e.Event == Promised || e.Event == PutOff {
			if owed, err := owedOf(tx, p, e.Day); err != nil {
				return err
			} else if !owed {
				return posting.Refusals{{Field: "event", Rule: "nothing open", Text: fmt.Sprintf("Nothing is open of %s, so nobody is waited for.", p.Number)}}
			}
		}
		act := store.Act{UserID: user, Action: e.Event, Summary: posting.Sentence(e.Event) + ": " + p.Number + told(e)}
		if err := tx.Record(&act, b.clock()); err != nil {
			return err
		}
		return tx.RecordEvent(act.ID, e)
	})
}

func told(e store.Event) string {
	if e.Until == "" {
		return ""
	}
	return ", " + e.Until.Show()
}

// owedOf tells whether something of a paper is owed to us.
func owedOf(tx *store.Tx, p posting.Paper, at day.Day) (bool, error) {
	items, err := tx.ItemsOf(p.ID, at)
	for _, i := range items {
		if i.Left.Amount.Own > 0 {
			return true, nil
		}
	}
	return false, err
}
