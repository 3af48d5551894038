package books

import (
	"context"
	"crypto/rand"
	"crypto/sha256"
	"crypto/subtle"
	"encoding/base64"
	"errors"
	"fmt"
	"log/slog"
	"strings"
	"time"

	"cleantally/core/rights"
	"cleantally/store"

	"golang.org/x/crypto/argon2"
)

// Argon2id parameters (RFC 9106, the second recommended choice, with less
// memory so that several people can sign in at once on a small machine).
const (
	argonTime    = 2
	argonMemory  = 32 * 1024 // KiB
	argonThreads = 1
)

// ErrWrongSignIn says that e-mail or password are wrong; not which.
var ErrWrongSignIn = errors.New("the e-mail address or the password is wrong")

// ErrBusy says that more people sign in at this moment than the machine has
// memory for.
var ErrBusy = errors.New("many people sign in at this moment: try again")

// mostHashing passwords are hashed at once: each takes argonMemory.
const mostHashing = 2

// alone waits for its turn to hash a password.
func (b *Book) alone(ctx context.Context) (done func(), err error) {
	ctx, cancel := context.WithTimeout(ctx, 20*time.Second)
	defer cancel()
	select {
	case b.hashing <- struct{}{}:
		return func() { <-b.hashing }, nil
	case <-ctx.Done():
		return nil, ErrBusy
	}
}

// holds tells whether a password is the one of a hash.
func (b *Book) holds(ctx context.Context, password, hash string) (bool, error) {
	done, err := b.alone(ctx)
	if err != nil {
		return false, err
	}
	defer done()
	return passwordHolds(password, hash), nil
}

// hash returns the hash that a new password is kept by.
func (b *Book) hash(ctx context.Context, password string) (string, error) {
	done, err := b.alone(ctx)
	if err != nil {
		return "", err
	}
	defer done()
	return hashPassword(password)
}

func hashPassword(password string) (string, error) {
	salt := make([]byte, 16)
	if _, err := rand.Read(salt); err != nil {
		return "", err
	}
	sum := argon2.IDKey([]byte(password), salt, argonTime, argonMemory, argonThreads, 32)
	e := base64.RawStdEncoding
	return fmt.Sprintf("$argon2id$v=%d$m=%d,t=%d,p=%d$%s$%s", argon2.Version, argonMemory, argonTime, argonThreads, e.EncodeToString(salt), e.EncodeToString(sum)), nil
}

func passwordHolds(password, hash string) bool {
	parts := strings.Split(hash, "$")
	if len(parts) != 6 {
		return false
	}
	var memory, time uint32
	var threads uint8
	if _, err := fmt.Sscanf(parts[3], "m=%d,t=%d,p=%d", &memory, &time, &threads); err != nil {
		return false
	}
	salt, err1 := base64.RawStdEncoding.DecodeString(parts[4])
	sum, err2 := base64.RawStdEncoding.DecodeString(parts[5])
	if err1 != nil || err2 != nil {
		return false
	}
	got := argon2.IDKey([]byte(password), salt, time, memory, threads, uint32(len(sum)))
	return subtle.ConstantTimeCompare(got, sum) == 1
}

// nobody is what a wrong e-mail address is checked against, so that it takes
// as long as a wrong password.
const nobody = "$argon2id$v=19$m=32768,t=2,p=1$c29tZXNhbHRzb21lc2FsdA$AAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAA"

// SignedIn is who signed in, with the key of the password: a session that bears
// another was begun with a password that is not theirs any more.
type SignedIn struct {
	ID  int64
	Key string
}

// keyOf is the key of a password, by its hash.
func keyOf(hash string) string {
	sum := sha256.Sum256([]byte(hash))
	return base64.RawURLEncoding.EncodeToString(sum[:12])
}

// SignIn returns the user with this e-mail address and password, or
// ErrWrongSignIn; ErrNeedsCode where a second factor is asked for beside, and
// ErrWrongCode where it is not right; ErrTooManyTries for one who guesses. Good ones and bad ones are
// recorded with the network address that they came from.
func (b *Book) SignIn(ctx context.Context, email, password, code, address string) (SignedIn, error) {
	email = strings.TrimSpace(email)
	account := strings.ToLower(email)
	guesses := b.tries.signIn(account, address)
	end, err := b.tries.take(guesses...)
	if err != nil {
		slog.Warn("sign-in not tried", "address", address, "error", err)
		return SignedIn{}, err
	}
	held, half := false, false
	defer func() {
		if half {
			b.tries.drop(guesses)
			return
		}
		end(held)
	}()
	u, known, err := b.Read(ctx).UserByEmail(email)
	if err != nil {
		held = true // it was not a guess that went wrong
		return SignedIn{}, err
	}
	hash := nobody
	if known = known && !u.Ended; known {
		hash = u.PasswordHash
	}
	right, err := b.holds(ctx, password, hash)
	if err != nil {
		held = true
		return SignedIn{}, err
	}
	if !right || !known {
		slog.Warn("sign-in refused", "address", address, "user", u.ID)
		return SignedIn{}, errors.Join(ErrWrongSignIn, b.recordSignIn(ctx, u, "sign in refused", "A sign-in was refused", address))
	}
	if u.Factor != "" {
		if strings.TrimSpace(code) == "" {
			// Neither right nor wrong: were it right, who knows the password could have
			// the wrong codes before it forgotten.
			half = true
			return SignedIn{}, ErrNeedsCode
		}
		right, err := b.factorHolds(ctx, u, code)
		if err != nil {
			held = true
			return SignedIn{}, err
		}
		if !right {
			return SignedIn{}, errors.Join(ErrWrongCode, b.recordSignIn(ctx, u, "sign in refused", "A sign-in was refused for its code", address))
		}
	}
	held = true
	b.tries.knows(account, address)
	slog.Info("signed in", "address", address, "user", u.ID)
	return SignedIn{u.ID, keyOf(u.PasswordHash)}, b.recordSignIn(ctx, u, "sign in", "Signed in", address)
}

// recordSignIn keeps who came, or who did not get in. What somebody unknown
// typed as a name is not kept: it may have been a password.
func (b *Book) recordSignIn(ctx context.Context, u store.User, action, summary, address string) error {
	if address != "" {
		summary += ", from " + address
	}
	err := b.db.Write(ctx, func(tx *store.Tx) error {
		return b.record(tx, u.ID, action, summary, map[string]any{"user": u.ID, "address": address})
	})
	if store.Unwritten(err) {
		slog.Warn("a sign-in was not recorded", "error", err)
		return nil
	}
	return err
}

// MaySign tells whether a session of a user that began with the password of a
// key goes on: the user is there, and it is their password still.
func (b *Book) MaySign(ctx context.Context, s SignedIn) (bool, error) {
	hash, ok, err := b.Read(ctx).PasswordHash(s.ID)
	return ok && keyOf(hash) == s.Key, err
}

// ChangePassword replaces a user's password after asking for the old one. Every
// session that began with the old one ends; the key of the new one is returned,
// for the session that asks.
func (b *Book) ChangePassword(ctx context.Context, user int64, old, password string) (SignedIn, error) {
	u, ok, err := b.Read(ctx).User(user)
	if err != nil {
		return SignedIn{}, err
	}
	end, err := b.tries.take(guess{fmt.Sprintf("password of %d", user), 5})
	if err != nil {
		return SignedIn{}, err
	}
	right := false
	if ok {
		right, err = b.holds(ctx, old, u.PasswordHash)
	}
	end(right || err != nil)
	if err != nil {
		return SignedIn{}, err
	}
	var v validation
	if !right {
		v.refuse("old", "wrong", "The old password is wrong.")
		return SignedIn{}, v.err()
	}
	if old == password {
		v.refuse("password", "the same", "This is the old password. Choose another.")
	}
	return b.setPassword(ctx, user, u, password, "Changed the password of "+u.Name, &v)
}

// setPassword keeps a new password of a user, as who changes it.
func (b *Book) setPassword(ctx context.Context, who int64, u store.User, password, summary string, v *validation) (SignedIn, error) {
	v.password("password", password, u.Name, u.Email)
	if err := v.err(); err != nil {
		return SignedIn{}, err
	}
	hash, err := b.hash(ctx, password)
	if err != nil {
		return SignedIn{}, err
	}
	return SignedIn{u.ID, keyOf(hash)}, b.db.Write(ctx, func(tx *store.Tx) error {
		if err := tx.SetPassword(u.ID, hash); err != nil {
			return err
		}
		return b.record(tx, who, "change password", summary, map[string]int64{"user": u.ID})
	})
}

// AddPerson lets another person sign in, and returns the password that they are
// given. It is done on the machine itself, by who has the data directory.
func (b *Book) AddPerson(ctx context.Context, name, email string, role rights.Role) (password string, err error) {
	var v validation
	v.text("name", &name, true, 120)
	v.email("email", &email)
	if !role.Known() {
		v.refuse("role", "missing", "There is no role %q.", role)
	}
	if err := v.err(); err != nil {
		return "", err
	}
	password = madeUp()
	hash, err := b.hash(ctx, password)
	if err != nil {
		return "", err
	}
	return password, b.db.Write(ctx, func(tx *store.Tx) error {
		if _, err := tx.Firm(); err != nil {
			return err
		}
		if err := newEmail(tx, "email", email); err != nil {
			return err
		}
		u := store.User{Name: name, Email: email, PasswordHash: hash, Role: role}
		if err := tx.CreateUser(&u); err != nil {
			return err
		}
		return b.record(tx, 0, "add person", name+" may sign in, by who has the data directory", map[string]int64{"user": u.ID})
	})
}

// newEmail refuses an e-mail address that somebody signs in as already.
func newEmail(tx *store.Tx, field, email string) error {
	_, taken, err := tx.UserByEmail(email)
	if err != nil || !taken {
		return err
	}
	var v validation
	v.refuse(field, "taken", "Somebody signs in as %s already.", email)
	return v.err()
}

// ResetPassword gives a person a new password and returns it; their sessions
// and their second factor end. It is done on the machine itself, by who has the data directory.
func (b *Book) ResetPassword(ctx context.Context, email string) (password string, err error) {
	u, ok, err := b.Read(ctx).UserByEmail(strings.TrimSpace(email))
	if err != nil {
		return "", err
	}
	var v validation
	if !ok {
		v.refuse("email", "unknown", "Nobody signs in as %s.", email)
		return "", v.err()
	}
	password = madeUp()
	if _, err = b.setPassword(ctx, 0, u, password, "Reset the password of "+u.Name+", by who has the data directory", &v); err != nil || u.Factor == "" {
		return password, err
	}
	return password, b.db.Write(ctx, func(tx *store.Tx) error { return tx.SetFactor(u.ID, "", nil) })
}

// madeUp is a password that nobody guesses, in groups that can be read out.
func madeUp() string {
	text := strings.ToLower(rand.Text())
	return strings.Join([]string{text[:5], text[5:10], text[10:15], text[15:20]}, "-")
}
