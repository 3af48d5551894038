package books

import (
	"context"
	"crypto/rand"
	"crypto/subtle"
	"encoding/base64"
	"errors"
	"fmt"
	"strings"
	"unicode/utf8"

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

// password refuses a weak password and returns the hash of a good one.
func (v *validation) password(field, password string) string {
	if n := utf8.RuneCountInString(password); n < 10 || n > 200 {
		v.refuse(field, "too short", "A password has at least 10 characters. A few words in a row are good.")
		return ""
	}
	hash, err := hashPassword(password)
	if err != nil {
		v.refuse(field, "no randomness", "The password cannot be kept safely now: %s.", err)
	}
	return hash
}

// nobody is what a wrong e-mail address is checked against, so that it takes
// as long as a wrong password.
const nobody = "$argon2id$v=19$m=32768,t=2,p=1$c29tZXNhbHRzb21lc2FsdA$AAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAA"

// SignIn returns the user with this e-mail address and password, or
// ErrWrongSignIn.
func (b *Book) SignIn(ctx context.Context, email, password string) (store.User, error) {
	u, ok, err := b.Read(ctx).UserByEmail(strings.TrimSpace(email))
	if err != nil {
		return u, err
	}
	hash := nobody
	if ok {
		hash = u.PasswordHash
	}
	if !passwordHolds(password, hash) || !ok {
		return store.User{}, ErrWrongSignIn
	}
	return u, nil
}

// ChangePassword replaces a user's password after asking for the old one.
func (b *Book) ChangePassword(ctx context.Context, user int64, old, password string) error {
	u, ok, err := b.Read(ctx).User(user)
	if err != nil {
		return err
	}
	var v validation
	if !ok || !passwordHolds(old, u.PasswordHash) {
		v.refuse("old", "wrong", "The old password is wrong.")
		return v.err()
	}
	hash := v.password("password", password)
	if err := v.err(); err != nil {
		return err
	}
	return b.db.Write(ctx, func(tx *store.Tx) error {
		if err := tx.SetPassword(user, hash); err != nil {
			return err
		}
		return b.record(tx, user, "change password", "Changed the password of "+u.Name, map[string]int64{"user": user})
	})
}
