package books

import (
	"cleantally/core/rights"
	"context"
	"crypto/rand"
	"crypto/sha256"
	"encoding/json"
	"errors"
	"fmt"
	"time"

	"cleantally/core/master"
	"cleantally/core/money"
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

// LinkTo is what a link opens: a posted paper, or a statement of a customer.
type LinkTo struct {
	PaperID   int64
	PartyID   int64
	Statement Statement
}

// MakeLink makes a link that opens for some days, 0 for the usual, and returns
// its secret, which is kept nowhere. It returns posting.Refusals or
// store.ErrNoRecord.
func (b *Book) MakeLink(ctx context.Context, user int64, to LinkTo, days int) (secret string, err error) {
	if days == 0 {
		days = linkDays
	}
	if days < 1 || days > mostLinkDays {
		return "", posting.Refusals{{Field: "days", Rule: "out of bounds", Limit: fmt.Sprint(mostLinkDays), Text: fmt.Sprintf("A link opens for 1 to %d days.", mostLinkDays)}}
	}
	secret, l, err := b.newLink(to, user, days)
	if err != nil {
		return "", err
	}
	return secret, b.change(ctx, rights.ToNote, func(tx *store.Tx) error {
		name, all, err := linkedTo(tx, to)
		if err != nil {
			return err
		}
		if len(all) >= mostLinks {
			return posting.Refusals{{Field: "days", Rule: "too many", Limit: fmt.Sprint(mostLinks), Text: fmt.Sprintf("There are %d links to %s already. Use one of them.", mostLinks, name)}}
		}
		if err := tx.AddLink(l); err != nil {
			return err
		}
		return b.record(tx, user, "make link", fmt.Sprintf("Made a link to %s, open through %s", name, l.EndsOn.Show()), nil)
	})
}

// linkedTo is what a link opens by its name, with the links that lead there. It
// returns store.ErrNoRecord.
func linkedTo(tx *store.Tx, to LinkTo) (name string, all []store.Link, err error) {
	if to.PaperID != 0 {
		p, there, err := tx.Paper(to.PaperID)
		if err != nil || !there {
			return "", nil, orNoRecord(err)
		}
		all, err = tx.LinksTo(to.PaperID)
		return p.Number, all, err
	}
	c, there, err := store.Find[master.Party](&tx.Reader, to.PartyID)
	if err != nil || !there {
		return "", nil, orNoRecord(err)
	}
	all, err = tx.StatementLinks(to.PartyID)
	return "a statement for " + c.Name, all, err
}

// newLink is a link that opens for some days, with its secret.
func (b *Book) newLink(to LinkTo, user int64, days int) (secret string, l store.Link, err error) {
	secret = rand.Text() // 130 bits or more
	hash := sha256.Sum256([]byte(secret))
	l = store.Link{Secret: hash[:], PaperID: to.PaperID, PartyID: to.PartyID, MadeAt: b.stamp(), MadeBy: user, EndsOn: b.Today().Add(days)}
	if to.PartyID != 0 {
		which, err := json.Marshal(to.Statement)
		if err != nil {
			return "", l, err
		}
		l.Statement = string(which)
	}
	return secret, l, nil
}

// EndLink ends a link at once. It returns store.ErrNoRecord.
func (b *Book) EndLink(ctx context.Context, user, id int64) error {
	return b.change(ctx, rights.ToNote, func(tx *store.Tx) error {
		l, ok, err := tx.EndLink(id)
		if err != nil {
			return err
		}
		if !ok {
			return store.ErrNoRecord
		}
		name, _, err := linkedTo(tx, LinkTo{PaperID: l.PaperID, PartyID: l.PartyID})
		if err != nil {
			return err
		}
		return b.record(tx, user, "end link", "Ended a link to "+name, nil)
	})
}

// Opened is what a link opens: a paper as it stands, in its letterhead, or a
// statement, whose sheet is made of what it says.
type Opened struct {
	PaperID   int64
	PartyID   int64
	Statement Statement
	Sheet     sheet.Sheet
	Head      sheet.Letterhead
	Card      Payable                   // what of it can be paid there
	Marks     func(plain string) string // how the firm writes amounts
	Currency  money.Currency
}

// OpenLink returns what a secret opens. When its page is seen that is kept, and
// what can be paid there is told. It returns ErrNoLink.
func (b *Book) OpenLink(ctx context.Context, secret string, seen bool) (o Opened, err error) {
	l, err := b.linkOf(ctx, secret)
	if err != nil {
		return o, err
	}
	err = b.db.Snapshot(ctx, func(r *store.Reader) error {
		firm, err := r.Firm()
		if err != nil {
			return err
		}
		o.PaperID, o.PartyID, o.Marks = l.PaperID, l.PartyID, firm.NumberStyle.Show
		if o.Currency, err = r.Currency(); err != nil {
			return err
		}
		if l.PartyID != 0 {
			return json.Unmarshal([]byte(l.Statement), &o.Statement)
		}
		if seen {
			if o.Card, err = PayableOf(r, l.PaperID, b.Today()); err != nil {
				return err
			}
		}
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
