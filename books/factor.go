package books

import (
	"context"
	"crypto/rand"
	"crypto/sha256"
	"crypto/subtle"
	"encoding/hex"
	"errors"
	"fmt"
	"strings"
	"time"

	"cleantally/store"

	"github.com/pquerna/otp"
	"github.com/pquerna/otp/totp"
)

// The second factor is a code of six figures that changes every half minute, as
// any authenticator shows it (RFC 6238).

// factorStep is how long a code holds, in seconds.
const factorStep = 30

// leastSecret is how long a secret is at the least: 128 bits in base32.
const leastSecret = 26

// spareCodes is how many codes one is given that take its place once each.
const spareCodes = 8

// ErrNeedsCode says that the password is right and a code is asked for beside.
var ErrNeedsCode = errors.New("type the code that your authenticator shows, or one of your spare codes")

// ErrWrongCode says that the code is wrong, or was used before.
var ErrWrongCode = errors.New("this code is not right, or was used already: wait for the next")

// NewFactor returns a secret for a second factor, and the address that an
// authenticator takes it from. It holds once a code of it was given.
func (b *Book) NewFactor(ctx context.Context) (secret, address string, err error) {
	r := b.Read(ctx)
	u, there, err := r.User(who(ctx))
	if err != nil {
		return "", "", err
	}
	if !there {
		return "", "", store.ErrNoRecord
	}
	firm, err := r.Firm()
	if err != nil {
		return "", "", err
	}
	key, err := totp.Generate(totp.GenerateOpts{Issuer: "Clean Tally, " + firm.Name, AccountName: u.Email, Period: factorStep})
	if err != nil {
		return "", "", err
	}
	return key.Secret(), key.URL(), nil
}

// SetFactor gives the one who asks a second factor, after a code of it and their
// password; it returns the codes that take its place once each.
func (b *Book) SetFactor(ctx context.Context, password, secret, code string) (spare []string, err error) {
	u, err := b.myself(ctx, password)
	if err != nil {
		return nil, err
	}
	var v validation
	if len(secret) < leastSecret {
		v.refuse("secret", "too short", "This secret is not one that was given here. Begin again.")
		return nil, v.err()
	}
	if _, right := stepOf(secret, code, b.clock()); !right {
		v.refuse("code", "wrong", "This is not the code that goes with it at this moment. Look at the clock of the machine and of the authenticator, and type the one that it shows now.")
		return nil, v.err()
	}
	hashes := make([]string, spareCodes)
	for n := range hashes {
		spare = append(spare, strings.ToLower(rand.Text()[:10]))
		hashes[n] = spareHash(spare[n])
	}
	return spare, b.db.Write(ctx, func(tx *store.Tx) error {
		if err := tx.SetFactor(u.ID, secret, hashes); err != nil {
			return err
		}
		return b.record(tx, u.ID, "set second factor", u.Name+" signs in with a second factor", map[string]int64{"user": u.ID})
	})
}

// DropFactor takes the second factor away, after their password.
func (b *Book) DropFactor(ctx context.Context, password string) error {
	u, err := b.myself(ctx, password)
	if err != nil {
		return err
	}
	return b.db.Write(ctx, func(tx *store.Tx) error {
		if err := tx.SetFactor(u.ID, "", nil); err != nil {
			return err
		}
		return b.record(tx, u.ID, "drop second factor", u.Name+" signs in without a second factor", map[string]int64{"user": u.ID})
	})
}

// myself is the one who asks, after their password.
func (b *Book) myself(ctx context.Context, password string) (store.User, error) {
	u, there, err := b.Read(ctx).User(who(ctx))
	if err != nil {
		return u, err
	}
	end, err := b.tries.take(guess{fmt.Sprintf("password of %d", u.ID), 5})
	if err != nil {
		return u, err
	}
	right := false
	if there {
		right, err = b.holds(ctx, password, u.PasswordHash)
	}
	end(right || err != nil)
	if err == nil && !right {
		var v validation
		v.refuse("password", "wrong", "This is not your password.")
		err = v.err()
	}
	return u, err
}

// factorHolds tells whether the code is right that one signs in with. Each is
// taken once.
func (b *Book) factorHolds(ctx context.Context, u store.User, code string) (held bool, err error) {
	code = strings.ToLower(strings.Join(strings.Fields(code), ""))
	step, right := stepOf(u.Factor, code, b.clock())
	err = b.db.Write(ctx, func(tx *store.Tx) error {
		if right {
			held, err = tx.TakeStep(u.ID, step)
			return err
		}
		held, err = tx.TakeSpare(u.ID, spareHash(code))
		if err == nil && held {
			err = b.record(tx, u.ID, "use spare code", u.Name+" signed in with a spare code", map[string]int64{"user": u.ID})
		}
		return err
	})
	if store.Unwritten(err) { // one signs in to look, all the same
		return right, nil
	}
	return held, err
}

// stepOf finds the step whose code this is: the one of now, or one beside it, for
// a clock that is a little off.
func stepOf(secret, code string, now time.Time) (int64, bool) {
	for _, off := range []int64{0, -1, 1} {
		at := now.Add(time.Duration(off*factorStep) * time.Second)
		want, err := totp.GenerateCodeCustom(secret, at, totp.ValidateOpts{Period: factorStep, Digits: otp.DigitsSix, Algorithm: otp.AlgorithmSHA1})
		if err == nil && subtle.ConstantTimeCompare([]byte(want), []byte(code)) == 1 {
			return at.Unix() / factorStep, true
		}
	}
	return 0, false
}

func spareHash(code string) string {
	sum := sha256.Sum256([]byte("spare " + code))
	return hex.EncodeToString(sum[:])
}
