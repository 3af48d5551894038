package store

import (
	"context"
	"time"
)

// User is a person who may sign in.
type User struct {
	ID           int64
	Name         string
	Email        string
	PasswordHash string
	Owner        bool
}

// UserByEmail returns the user who signs in with email.
func (r Reader) UserByEmail(email string) (User, bool, error) {
	return one[User](r, "SELECT * FROM users WHERE email = ?", email)
}

// User returns a user by ID.
func (r Reader) User(id int64) (User, bool, error) {
	return one[User](r, "SELECT * FROM users WHERE id = ?", id)
}

// Users returns everybody who may sign in.
func (r Reader) Users() ([]User, error) { return scan[User](r, "SELECT * FROM users ORDER BY id") }

// SetPassword stores a new hash for a user.
func (tx *Tx) SetPassword(id int64, hash string) error {
	return tx.db.Exec("UPDATE users SET password_hash = ? WHERE id = ?", hash, id).Error
}

// Sessions keeps the sessions of signed-in people in the data file, so that
// they outlive a restart. It implements the store of alexedwards/scs.
type Sessions struct{ DB *DB }

// Find returns the data of a session that has not expired.
func (s Sessions) Find(token string) ([]byte, bool, error) {
	type row struct{ Data []byte }
	found, ok, err := one[row](*s.DB.Read(context.Background()), "SELECT data FROM sessions WHERE token = ? AND expiry > ?", token, time.Now().Unix())
	return found.Data, ok, err
}

// Commit stores a session and clears out what has expired.
func (s Sessions) Commit(token string, data []byte, expiry time.Time) error {
	return s.DB.Write(context.Background(), func(tx *Tx) error {
		if err := tx.db.Exec("DELETE FROM sessions WHERE expiry <= ?", time.Now().Unix()).Error; err != nil {
			return err
		}
		return tx.db.Exec("INSERT INTO sessions (token, data, expiry) VALUES (?, ?, ?) ON CONFLICT (token) DO UPDATE SET data = excluded.data, expiry = excluded.expiry",
			token, data, expiry.Unix()).Error
	})
}

// Delete ends a session.
func (s Sessions) Delete(token string) error {
	return s.DB.Write(context.Background(), func(tx *Tx) error {
		return tx.db.Exec("DELETE FROM sessions WHERE token = ?", token).Error
	})
}
