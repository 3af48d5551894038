package books

import (
	"cleantally/core/rights"
	"context"
	"errors"
	"fmt"
	"log/slog"
	"strings"
	"time"

	"cleantally/core/day"
	"cleantally/core/ledger"
	"cleantally/core/money"
	"cleantally/core/posting"
	"cleantally/formats/bankfile"
	"cleantally/formats/feed"
	"cleantally/store"
)

// mostTyped is how many lines are typed at once.
const mostTyped = 200

// TypeStatement takes lines that were typed where there is no file, held to the
// balance that they end with, where that is said. It returns posting.Refusals or
// store.ErrNoRecord.
func (b *Book) TypeStatement(ctx context.Context, user, bank int64, name string, s bankfile.Statement) (ReadStatement, error) {
	cur, err := b.Read(ctx).BankCurrency(bank)
	if err != nil {
		return ReadStatement{}, err
	}
	if said := checkTyped(&s, b.Today(), cur); len(said) > 0 {
		return ReadStatement{}, said
	}
	return b.takeStatements(ctx, user, bank, name, []bankfile.Statement{s}, cur, func(*store.Tx) error { return nil })
}

// checkTyped refuses lines that say nothing, or of a day that has not come.
func checkTyped(s *bankfile.Statement, today day.Day, cur money.Currency) (said posting.Refusals) {
	refuse := func(field, rule, limit, text string, with ...any) {
		said = append(said, posting.Notice{Field: field, Rule: rule, Limit: limit, Text: fmt.Sprintf(text, with...)})
	}
	if n := len(s.Lines); n == 0 || n > mostTyped {
		refuse("lines", "missing", fmt.Sprint(mostTyped), "Type a line, or up to %d of them.", mostTyped)
	}
	for n := range s.Lines {
		l, field := &s.Lines[n], fmt.Sprintf("lines[%d].", n)
		l.Text, l.Reference, l.OtherName = strings.TrimSpace(l.Text), strings.TrimSpace(l.Reference), strings.TrimSpace(l.OtherName)
		switch {
		case l.Amount == 0 || l.Amount.Abs() > money.Limit:
			refuse(field+"amount", "missing", cur.Format(money.Limit), "Line %d needs an amount, below nil for what went, of at most %s.", n+1, cur.Show(money.Limit))
		case l.Day > today:
			refuse(field+"day", "in the future", string(today), "Line %d bears a date that has not come. The bank tells of what was.", n+1)
		case l.Text == "" && l.OtherName == "" && l.Reference == "":
			refuse(field+"text", "missing", "", "Say what the bank says of line %d.", n+1)
		}
	}
	return said
}

// FetchStatement fetches what the bank booked since what was read last. It
// returns posting.Refusals or store.ErrNoRecord.
func (b *Book) FetchStatement(ctx context.Context, user, bank int64, from feed.Bank) (ReadStatement, error) {
	r := b.Read(ctx)
	account, there, err := store.Find[ledger.BankAccount](r, bank)
	if err != nil || !there {
		return ReadStatement{}, orNoRecord(err)
	}
	refuse := func(rule, text string, with ...any) (ReadStatement, error) {
		return ReadStatement{}, posting.Refusals{{Field: "feed", Rule: rule, Text: fmt.Sprintf(text, with...)}}
	}
	if way, err := r.BankFeed(bank); err != nil {
		return ReadStatement{}, err
	} else if way == "" || !from.There() {
		return refuse("no feed", "The statements of %s are not fetched. Say in Setup how they are, or read a file.", account.Name)
	}
	if ownNumber(account) == "" {
		return refuse("no number", "%s has no IBAN, by which the bank knows it. Say it in Setup.", account.Name)
	}
	since, err := r.BankThrough(bank)
	if err != nil {
		return ReadStatement{}, err
	}
	file, err := from.Statement(ctx, account.IBAN, since)
	if errors.Is(err, feed.ErrNoAccount) {
		return refuse("no account", "The bank knows no account %s of yours. Put its IBAN right in Setup.", account.IBAN)
	}
	if err != nil {
		slog.Warn("the statements of a bank were not fetched", "bank", bank, "error", err)
		return refuse("not reached", "The bank does not answer now. Try again later, or read a file.")
	}
	cur, err := r.BankCurrency(bank)
	if err != nil {
		return ReadStatement{}, err
	}
	all, err := bankfile.ReadCamt(file, cur)
	if err != nil {
		return refuse("not read", "What the bank answers cannot be read: %s", err)
	}
	return b.takeStatements(ctx, user, bank, "fetched", all, cur, func(tx *store.Tx) error { return tx.Fetched(bank, b.clock().UTC().Format(time.RFC3339)) })
}

// SaveBankFeed says whether the statements of a bank account are fetched: ""
// for not, "stand-in". It returns store.ErrNoRecord.
func (b *Book) SaveBankFeed(ctx context.Context, user, bank int64, way string) error {
	return b.change(ctx, rights.ToKeepBooks, func(tx *store.Tx) error {
		account, there, err := store.Find[ledger.BankAccount](&tx.Reader, bank)
		if err != nil || !there {
			return orNoRecord(err)
		}
		if account.Cash || account.Takings {
			return posting.Refusals{{Field: "feed", Rule: "no bank", Text: fmt.Sprintf("%s is no account at a bank, so it has no statements.", account.Name)}}
		}
		if err := tx.SetBankFeed(bank, way); err != nil {
			return err
		}
		how := "are not fetched any more"
		if way != "" {
			how = "are fetched"
		}
		return b.record(tx, user, "bank feed", fmt.Sprintf("The statements of %s %s", account.Name, how), nil)
	})
}

// DropStatement takes away what was read by mistake: a file of another account, a
// line that was mistyped. Nothing of it may ever have been tied, nor any day of it
// be reconciled. It returns posting.Refusals or store.ErrNoRecord.
func (b *Book) DropStatement(ctx context.Context, user, id int64) error {
	return b.change(ctx, rights.ToKeepBooks, func(tx *store.Tx) error {
		s, there, err := tx.BankStatement(id)
		if err != nil || !there {
			return orNoRecord(err)
		}
		refuse := func(rule, limit, text string, with ...any) error {
			return posting.Refusals{{Field: "statement", Rule: rule, Limit: limit, Text: fmt.Sprintf(text, with...)}}
		}
		tied, err := tx.EverTied(id)
		if err != nil {
			return err
		}
		if tied {
			return refuse("tied", "", "A line of it was tied, so it stays. Put the lines right that are wrong.")
		}
		if through, err := tx.ReconciledThrough(s.BankAccountID); err != nil {
			return err
		} else if through != "" && s.FromDay <= through {
			return refuse("reconciled", string(through), "It reaches into what is reconciled through %s, so it stays.", through.Show())
		}
		if first, err := tx.FirstStatement(s.BankAccountID); err != nil {
			return err
		} else if first.ID == id && first.Others > 0 {
			return refuse("begins", "", "The others are held to the balance that it begins with. Take those away first.")
		}
		if later, err := tx.HeldToIt(s); err != nil {
			return err
		} else if later != "" {
			return refuse("held to it", string(later), "A statement through %s was held to what it brought. Take that away first.", later.Show())
		}
		if err := tx.DropBankStatement(id); err != nil {
			return err
		}
		return b.record(tx, user, "take statement away", fmt.Sprintf("Took %q away, %d lines of %s through %s", s.Name, s.Lines, s.FromDay.Show(), s.ThroughDay.Show()), nil)
	})
}
