package books

import (
	"cleantally/core/rights"
	"context"

	"cleantally/core/day"
	"cleantally/core/money"
	"cleantally/core/posting"
	"cleantally/store"
)

// AddUser adds a person for tests, until people can be added in the interface.
func (b *Book) AddUser(ctx context.Context, name, email, password string) error {
	hash, err := hashPassword(password)
	if err != nil {
		return err
	}
	return b.db.Write(ctx, func(tx *store.Tx) error {
		return tx.CreateUser(&store.User{Name: name, Email: email, PasswordHash: hash, Role: rights.Bookkeeper})
	})
}

// AddBankLines adds lines of a bank's statement, each on its day, without a
// statement that they belong to.
func (b *Book) AddBankLines(ctx context.Context, bank int64, on func(int) day.Day, amounts []money.Amount) error {
	return b.db.Write(ctx, func(tx *store.Tx) error {
		for n, a := range amounts {
			if err := tx.AddBankLine(&posting.BankLine{BankAccountID: bank, Day: on(n), Amount: a}); err != nil {
				return err
			}
		}
		return nil
	})
}

// WhileWriting runs f in a transaction that writes, of whose papers nothing is
// kept in memory.
func (b *Book) WhileWriting(ctx context.Context, f func(*store.Reader) error) error {
	return b.db.Write(ctx, func(tx *store.Tx) error { return f(&tx.Reader) })
}
