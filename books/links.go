package books

import (
	"context"
	"crypto/rand"
	"crypto/sha256"
	"errors"
	"fmt"
	"time"

	"cleantally/core/posting"
	"cleantally/core/sheet"
	"cleantally/store"
)

// Links open for so many days unless somebody says otherwise, and for no more.
const (
	linkDays     = 90
	mostLinkDays = 730
	mostLinks    = 50 // to one paper
)

// seenAgain is how long a link that is opened again is not counted anew.
const seenAgain = time.Minute

// ErrNoLink says that there is no such link, or no longer.
var ErrNoLink = errors.New("this link does not open anything, or no longer does")

// MakeLink makes a link to a posted paper that opens for some days, 0 for the
// usual, and returns its secret, which is kept nowhere. It returns
// posting.Refusals or store.ErrNoRecord.
func (b *Book) MakeLink(ctx context.Context, user, paper int64, days int) (secret string, err error) {
	if days == 0 {
		days = linkDays
	}
	if days < 1 || days > mostLinkDays {
		return "", posting.Refusals{{Field: "days", Rule: "out of bounds", Limit: fmt.Sprint(mostLinkDays), Text: fmt.Sprintf("A link opens for 1 to %d days.", mostLinkDays)}}
	}
	secret, l := b.newLink(paper, user, days)
	return secret, b.db.Write(ctx, func(tx *store.Tx) error {
		p, ok, err := tx.Paper(paper)
		if err != nil {
			return err
		}
		if !ok {
			return store.ErrNoRecord
		}
		if all, err := tx.LinksTo(paper); err != nil {
			return err
		} else if len(all) >= mostLinks {
			return posting.Refusals{{Field: "days", Rule: "too many", Limit: fmt.Sprint(mostLinks), Text: fmt.Sprintf("There are %d links to %s already. Use one of them.", mostLinks, p.Number)}}
		}
		if err := tx.AddLink(l); err != nil {
			return err
		}
		return b.record(tx, user, "make link", fmt.Sprintf("Made a link to %s, open through %s", p.Number, l.EndsOn.Show()), nil)
	})
}

// newLink is a link to a paper that opens for some days, with its secret.
func (b *Book) newLink(paper, user int64, days int) (secret string, l store.Link) {
	secret = rand.Text() // 130 bits or more
	hash := sha256.Sum256([]byte(secret))
	return secret, store.Link{Secret: hash[:], PaperID: paper, MadeAt: b.stamp(), MadeBy: user, EndsOn: b.Today().Add(days)}
}

// EndLink ends a link at once. It returns store.ErrNoRecord.
func (b *Book) EndLink(ctx context.Context, user, id int64) error {
	return b.db.Write(ctx, func(tx *store.Tx) error {
		paper, ok, err := tx.EndLink(id)
		if err != nil {
			return err
		}
		if !ok {
			return store.ErrNoRecord
		}
		p, _, err := tx.Paper(paper)
		if err != nil {
			return err
		}
		return b.record(tx, user, "end link", "Ended a link to "+p.Number, nil)
	})
}

// Opened is what a link opens: a paper as it stands, in its letterhead.
type Opened struct {
	PaperID int64
	Sheet   sheet.Sheet
	Head    sheet.Letterhead
	Marks   func(plain string) string // how the firm writes amounts
}

// OpenLink returns what a secret opens, and keeps that it was seen when seen is
// true. It returns ErrNoLink.
func (b *Book) OpenLink(ctx context.Context, secret string, seen bool) (o Opened, err error) {
	hash := sha256.Sum256([]byte(secret))
	var l store.Link
	err = b.db.Snapshot(ctx, func(r *store.Reader) error {
		var there bool
		if l, there, err = r.LinkBy(hash[:]); err != nil {
			return err
		}
		if !there || l.Ended || l.EndsOn < b.Today() {
			return ErrNoLink
		}
		firm, err := r.Firm()
		if err != nil {
			return err
		}
		o.PaperID, o.Marks = l.PaperID, firm.NumberStyle.Show
		o.Sheet, o.Head, err = Sheet(r, l.PaperID, b.Today())
		return err
	})
	if err != nil || !seen {
		return o, err
	}
	now := b.clock().UTC()
	if last, err := time.Parse(time.RFC3339, l.LastSeen); err == nil && now.Sub(last) < seenAgain && now.After(last) {
		return o, nil
	}
	// Who reads is not kept from reading where nothing can be written.
	_ = b.db.Write(ctx, func(tx *store.Tx) error { return tx.LinkSeen(l.ID, now.Format(time.RFC3339)) })
	return o, nil
}
