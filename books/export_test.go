package books

import (
	"context"

	"cleantally/store"
)

// AddUser adds a person for tests, until people can be added in the interface.
func (b *Book) AddUser(ctx context.Context, name, email, password string) error {
	hash, err := hashPassword(password)
	if err != nil {
		return err
	}
	return b.db.Write(ctx, func(tx *store.Tx) error {
		return tx.CreateUser(&store.User{Name: name, Email: email, PasswordHash: hash})
	})
}
