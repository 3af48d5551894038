package books

import (
	"cleantally/core/rights"
	"context"
	"encoding/json"
	"errors"

	"cleantally/core/day"
	"cleantally/core/ledger"
	"cleantally/core/posting"
	"cleantally/formats/card"
	"cleantally/store"
)

// SaveCardGateway replaces how cards are taken. It returns posting.Refusals or
// store.ErrRecordChanged.
func (b *Book) SaveCardGateway(ctx context.Context, user int64, g store.CardGateway) error {
	return b.change(ctx, rights.ToOwn, func(tx *store.Tx) error {
		bank, there, err := store.Find[ledger.BankAccount](&tx.Reader, g.BankAccountID)
		if err != nil {
			return err
		}
		var v validation
		if g.Way != "" && (!there || bank.Inactive || !bank.Takings) {
			v.refuse("bank", "missing", "Say where the takings wait: a bank account that is marked as card takings under Setup, Banks.")
		}
		if err := v.err(); err != nil {
			return err
		}
		saved, err := tx.SetCardGateway(g)
		if err != nil {
			return err
		}
		if !saved {
			return store.ErrRecordChanged
		}
		return b.record(tx, user, "save cards", "Changed how cards are taken", g)
	})
}

// PayoutTold keeps what the gateway says that it paid out, once. A person takes
// it into the books.
func (b *Book) PayoutTold(ctx context.Context, out card.Payout) error {
	cur, err := b.Read(ctx).Currency()
	if err != nil {
		return err
	}
	d, err1 := day.Parse(out.Day)
	arrived, err2 := cur.Parse(out.Arrived)
	fee, err3 := cur.Parse(out.Fee)
	takings, err4 := json.Marshal(out.Payments)
	if err := errors.Join(err1, err2, err3, err4); err != nil || out.Currency != cur.Code || out.ID == "" || fee < 0 {
		return posting.Refusals{{Field: "payout", Rule: "form", Text: "The payout cannot be read."}}
	}
	return b.db.Write(ctx, func(tx *store.Tx) error {
		return tx.AddCardPayout(store.CardPayout{Reference: out.ID, Day: d, Arrived: arrived, Fee: fee, Takings: string(takings), ToldAt: b.stamp()})
	})
}

// PutCardPayoutAway takes what the gateway said off the Desk. It returns
// store.ErrNoRecord.
func (b *Book) PutCardPayoutAway(ctx context.Context, user, id int64) error {
	return b.change(ctx, rights.ToKeepBooks, func(tx *store.Tx) error {
		p, _, err := tx.CardPayout(id)
		if err != nil {
			return err
		}
		put, err := tx.PutCardPayoutAway(id)
		if err != nil {
			return err
		}
		if !put {
			return store.ErrNoRecord
		}
		return b.record(tx, user, "put away", "Put the card payout "+p.Reference+" away", nil)
	})
}
