package books

import (
	"context"
	"crypto/rand"
	"strings"
	"time"

	"cleantally/core/rights"
	"cleantally/store"
)

// invitationDays is how long an invitation holds.
const invitationDays = 7

// Invite makes an invitation for one more person and returns the secret that
// stands in its link: whoever has it chooses their own password, once.
func (b *Book) Invite(ctx context.Context, user int64, i store.Invitation) (secret string, err error) {
	var v validation
	v.text("name", &i.Name, true, 120)
	v.email("email", &i.Email)
	if !i.Role.Known() {
		v.refuse("role", "missing", "Choose what the person may do.")
	}
	if err := v.err(); err != nil {
		return "", err
	}
	secret = rand.Text()
	i.ID, i.Hash, i.InvitedBy, i.UserID, i.Ended = 0, secret, user, nil, false
	i.Until = b.clock().UTC().AddDate(0, 0, invitationDays).Format(time.RFC3339)
	return secret, b.change(ctx, rights.ToOwn, func(tx *store.Tx) error {
		if err := newEmail(tx, "email", i.Email); err != nil {
			return err
		}
		waiting, err := tx.Invitations()
		if err != nil {
			return err
		}
		for _, w := range waiting { // the newer one holds
			if strings.EqualFold(w.Email, i.Email) {
				if err := tx.EndInvitation(w.ID); err != nil {
					return err
				}
			}
		}
		if err := tx.Invite(&i); err != nil {
			return err
		}
		return b.record(tx, user, "invite", "Invited "+i.Name+" as "+string(i.Role), map[string]any{"email": i.Email, "role": i.Role})
	})
}

// EndInvitation ends an invitation that nobody has used.
func (b *Book) EndInvitation(ctx context.Context, user, id int64) error {
	return b.change(ctx, rights.ToOwn, func(tx *store.Tx) error {
		i, there, err := tx.Invitation(id)
		if err != nil {
			return err
		}
		if !there || i.UserID != nil || i.Ended {
			return store.ErrNoRecord
		}
		if err := tx.EndInvitation(id); err != nil {
			return err
		}
		return b.record(tx, user, "end invitation", "Ended the invitation of "+i.Name, map[string]int64{"invitation": id})
	})
}

// Invited is the invitation that a secret opens; a sentence where it does not
// any more.
func (b *Book) Invited(ctx context.Context, secret string) (store.Invitation, error) {
	i, there, err := b.Read(ctx).InvitationBySecret(secret)
	if err != nil {
		return i, err
	}
	return i, b.invitationHolds(i, there)
}

func (b *Book) invitationHolds(i store.Invitation, there bool) error {
	var v validation
	until, err := time.Parse(time.RFC3339, i.Until)
	switch {
	case !there || i.Ended:
		v.refuse("secret", "ended", "This invitation does not hold, or not any more. Ask for another.")
	case i.UserID != nil:
		v.refuse("secret", "used", "This invitation was used already. Sign in with the password that was chosen then.")
	case err != nil || b.clock().After(until):
		v.refuse("secret", "late", "This invitation held for %d days, which are over. Ask for another.", invitationDays)
	}
	return v.err()
}

// Accept makes the person of an invitation one who may sign in, with a password
// of their own.
func (b *Book) Accept(ctx context.Context, secret, password, address string) (SignedIn, error) {
	end, err := b.tries.take(guess{"invitation at " + network(address), 20})
	if err != nil {
		return SignedIn{}, err
	}
	i, err := b.Invited(ctx, secret)
	end(err == nil)
	if err != nil {
		return SignedIn{}, err
	}
	var v validation
	v.password("password", password, i.Name, i.Email)
	if err := v.err(); err != nil {
		return SignedIn{}, err
	}
	hash, err := b.hash(ctx, password)
	if err != nil {
		return SignedIn{}, err
	}
	u := store.User{Name: i.Name, Email: i.Email, PasswordHash: hash, Role: i.Role}
	err = b.db.Write(ctx, func(tx *store.Tx) error {
		now, there, err := tx.Invitation(i.ID)
		if err == nil {
			err = b.invitationHolds(now, there)
		}
		if err != nil {
			return err
		}
		if err := newEmail(tx, "secret", u.Email); err != nil {
			return err
		}
		if err := tx.CreateUser(&u); err != nil {
			return err
		}
		if err := tx.Invited(i.ID, u.ID); err != nil {
			return err
		}
		return b.record(tx, u.ID, "accept invitation", u.Name+" may sign in, as "+string(u.Role), map[string]any{"user": u.ID, "role": u.Role})
	})
	return SignedIn{u.ID, keyOf(hash)}, err
}
