package books_test

import (
	"errors"
	"testing"

	"cleantally/books"
	"cleantally/core/billing"
	"cleantally/core/posting"
	"cleantally/core/settling"

	"github.com/shopspring/decimal"
)

// Past the limit a write-off waits for another person's word: one's own counts
// only while there is nobody else.
func TestSecondWord(t *testing.T) {
	b := open(t)
	bill := billing.Invoice{PartyID: 1, Day: "2026-11-01", Lines: []posting.Line{{Text: "work", Quantity: decimal.New(1, 0), UnitPrice: decimal.New(500, 0), TaxCodeID: 1}}}
	if _, err := b.Post(ctx, bill, books.How{User: 1, Confirmed: posting.WarningRules}); err != nil {
		t.Fatal(err)
	}
	off := settling.WriteOff{Day: "2026-11-20", Reason: "gone", Items: []settling.Share{{Item: 1, Amount: 20000}}}
	try := func(password string) error {
		_, err := b.Post(ctx, off, books.How{User: 1, Confirmed: posting.WarningRules, Word: password})
		return err
	}
	var needed books.ErrNeedsWord
	if err := try(""); !errors.As(err, &needed) || needed.What.Limit != "50.00" {
		t.Errorf("without a word: %v", err)
	}
	if err := try(word); err != nil {
		t.Errorf("one's own word while there is nobody else: %v", err)
	}
	if err := b.AddUser(ctx, "Second", "second@walk.example", "another password"); err != nil {
		t.Fatal(err)
	}
	if err := try(word); !errors.As(err, &needed) {
		t.Errorf("one's own word: %v", err)
	}
	if err := try("another password"); err != nil {
		t.Errorf("the other's word: %v", err)
	}
	mustTieOut(t, b)
}
