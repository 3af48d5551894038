package books

import (
	"cleantally/core/rights"
	"context"
	"encoding/json"
	"fmt"

	"cleantally/core/banking"
	"cleantally/core/day"
	"cleantally/core/ledger"
	"cleantally/core/posting"
	"cleantally/store"
)

// CountTill keeps what was counted in a till at the end of a day: it must be what
// the books say, so that a difference is posted first. It returns
// posting.Refusals or store.ErrNoRecord.
func (b *Book) CountTill(ctx context.Context, user, till int64, d day.Day, pieces banking.Pieces) error {
	cur, err := b.Read(ctx).BankCurrency(till)
	if err != nil {
		return err
	}
	return b.change(ctx, rights.ToKeepBooks, func(tx *store.Tx) error {
		account, there, err := store.Find[ledger.BankAccount](&tx.Reader, till)
		if err != nil || !there {
			return orNoRecord(err)
		}
		refuse := func(field, rule, limit, text string, with ...any) error {
			return posting.Refusals{{Field: field, Rule: rule, Limit: limit, Text: fmt.Sprintf(text, with...)}}
		}
		counted, ok := pieces.Counted(cur)
		books, err := tx.BankLedger(till, d)
		switch {
		case err != nil:
			return err
		case !account.Cash:
			return refuse("till", "no till", "", "%s is no till, so there is nothing to count. It is reconciled with its statement.", account.Name)
		case !ok:
			return refuse("pieces", "no such piece", "", "These are no notes and coins of %s.", cur.Code)
		case d > b.Today():
			return refuse("day", "in the future", string(b.Today()), "What lies in the till on %s is not known yet.", d.Show())
		case counted != books:
			return refuse("pieces", "apart", cur.Format(counted-books), "%s was counted, and the books say %s: %s lies between them. Post the difference first, or count again.", cur.Show(counted), cur.Show(books), cur.Show(counted-books))
		}
		how, err := json.Marshal(pieces)
		if err != nil {
			return err
		}
		act := store.Act{UserID: user, Action: "count till", Summary: fmt.Sprintf("Counted %s on %s: %s", account.Name, d.Show(), cur.Show(counted))}
		if err := tx.Record(&act, b.clock()); err != nil {
			return err
		}
		return tx.AddCashCount(act.ID, store.CashCount{BankAccountID: till, Day: d, Pieces: string(how), Counted: counted, Ledger: books})
	})
}
