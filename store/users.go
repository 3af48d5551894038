package store

import (
	"context"
	"crypto/sha256"
	"database/sql"
	"encoding/base64"
	"errors"
	"sync"
	"time"

	"cleantally/core/rights"
)

// User is a person who may sign in.
type User struct {
	ID           int64
	Name         string
	Email        string
	PasswordHash string
	Role         rights.Role
	Version      int64
	Ended        bool   // may not sign in any more
	Factor       string // the secret of the second factor, base32; "" for none
	FactorStep   int64  // the last step of it whose code was used
}

// UserByEmail returns the user who signs in with email.
func (r Reader) UserByEmail(email string) (User, bool, error) {
	return one[User](r, "SELECT * FROM users WHERE email = ?", email)
}

// User returns a user by ID. It is asked with every request.
func (r Reader) User(id int64) (User, bool, error) {
	var u User
	err := r.queryRow("SELECT id, name, email, password_hash, role, version, ended, factor, factor_step FROM users WHERE id = ?", id).
		Scan(&u.ID, &u.Name, &u.Email, &u.PasswordHash, &u.Role, &u.Version, &u.Ended, &u.Factor, &u.FactorStep)
	if errors.Is(err, sql.ErrNoRows) {
		return User{}, false, nil
	}
	return u, err == nil, err
}

// PasswordHash returns the hash of a user's password; false when there is no
// such user who may sign in. It is asked with every request.
func (r Reader) PasswordHash(id int64) (hash string, ok bool, err error) {
	err = r.queryRow("SELECT password_hash FROM users WHERE id = ? AND ended = 0", id).Scan(&hash)
	if errors.Is(err, sql.ErrNoRows) {
		return "", false, nil
	}
	return hash, err == nil, err
}

// Users returns everybody who may sign in.
func (r Reader) Users() ([]User, error) { return scan[User](r, "SELECT * FROM users ORDER BY id") }

// SetPassword stores a new hash for a user.
func (tx *Tx) SetPassword(id int64, hash string) error {
	return tx.db.Exec("UPDATE users SET password_hash = ? WHERE id = ?", hash, id).Error
}

// Sessions keeps the sessions of signed-in people in the data file, so that
// they outlive a restart, and in memory, because every request asks for one.
// It implements the store of alexedwards/scs.
type Sessions struct {
	db    *DB
	mu    sync.Mutex
	known map[string]session // by token
}

type session struct {
	Data   []byte
	Expiry int64 // in seconds since 1970
}

// Sessions returns the store of signed-in sessions.
func (db *DB) Sessions() *Sessions { return &Sessions{db: db, known: map[string]session{}} }

// nameOf is what a session is kept by: who reads the file cannot take it over.
func nameOf(token string) string {
	sum := sha256.Sum256([]byte(token))
	return base64.RawURLEncoding.EncodeToString(sum[:])
}

// Find returns the data of a session that has not expired. It reads and keeps
// in one go, so that a session which is ended meanwhile is not kept.
func (s *Sessions) Find(token string) ([]byte, bool, error) {
	s.mu.Lock()
	defer s.mu.Unlock()
	found, ok := s.known[token]
	if !ok {
		var err error
		if found, ok, err = one[session](*s.db.Read(context.Background()), "SELECT data, expiry FROM sessions WHERE token = ?", nameOf(token)); !ok {
			return nil, false, err
		}
		s.keep(token, found)
	}
	return found.Data, found.Expiry > time.Now().Unix(), nil
}

// Commit stores a session and clears out what has expired.
func (s *Sessions) Commit(token string, data []byte, expiry time.Time) error {
	now := time.Now().Unix()
	err := s.db.Write(context.Background(), func(tx *Tx) error {
		if err := tx.db.Exec("DELETE FROM sessions WHERE expiry <= ?", now).Error; err != nil {
			return err
		}
		return tx.db.Exec("INSERT INTO sessions (token, data, expiry) VALUES (?, ?, ?) ON CONFLICT (token) DO UPDATE SET data = excluded.data, expiry = excluded.expiry",
			nameOf(token), data, expiry.Unix()).Error
	})
	// Where nothing can be written one signs in all the same, to look: until the
	// program ends.
	if err != nil && !Unwritten(err) {
		return err
	}
	s.mu.Lock()
	defer s.mu.Unlock()
	s.keep(token, session{data, expiry.Unix()})
	return nil
}

// Delete ends a session.
func (s *Sessions) Delete(token string) error {
	err := s.db.Write(context.Background(), func(tx *Tx) error {
		return tx.db.Exec("DELETE FROM sessions WHERE token = ?", nameOf(token)).Error
	})
	s.mu.Lock()
	defer s.mu.Unlock()
	delete(s.known, token)
	if Unwritten(err) {
		return nil
	}
	return err
}

// keep remembers a session, and forgets those that have expired. The caller
// holds the lock.
func (s *Sessions) keep(token string, of session) {
	for t, old := range s.known {
		if old.Expiry <= time.Now().Unix() {
			delete(s.known, t)
		}
	}
	s.known[token] = of
}
