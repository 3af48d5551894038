package books

import (
	"bytes"
	"cleantally/core/rights"
	"context"
	"encoding/json"
	"fmt"
	"slices"
	"strings"

	"cleantally/core/day"
	"cleantally/core/ledger"
	"cleantally/core/money"
	"cleantally/core/posting"
	"cleantally/formats/bankfile"
	"cleantally/store"
)

// ReadStatement is what became of a bank's file.
type ReadStatement struct {
	Read    int // lines in it
	New     int
	Pending int // not booked yet: they do not count
	From    day.Day
	Through day.Day
}

// ReadStatement reads a bank's file into the lines of a bank account: only what is
// new. A file of another account or currency, one that does not add up, or that
// does not follow on what was read, is refused whole. It returns posting.Refusals
// or store.ErrNoRecord.
func (b *Book) ReadStatement(ctx context.Context, user, bank int64, name string, file []byte, mapping *bankfile.Mapping) (ReadStatement, error) {
	var out ReadStatement
	cur, err := b.Read(ctx).BankCurrency(bank)
	if err != nil {
		return out, err
	}
	all, m, err := b.parsed(ctx, bank, file, mapping, cur)
	var wrong *bankfile.Error
	switch e := err.(type) {
	case *bankfile.Error:
		wrong = e
	case nil:
	default:
		return out, err
	}
	if wrong != nil {
		return out, posting.Refusals{{Field: "file", Rule: "not read", Limit: fmt.Sprint(wrong.Row), Text: wrong.Error()}}
	}
	return b.takeStatements(ctx, user, bank, name, all, cur, func(tx *store.Tx) error {
		if m == "" {
			return nil
		}
		return tx.SetBankMapping(bank, m)
	})
}

// takeStatements takes statements into the lines of a bank account, all or none of
// them, and what is kept with them.
func (b *Book) takeStatements(ctx context.Context, user, bank int64, name string, all []bankfile.Statement, cur money.Currency, with func(*store.Tx) error) (out ReadStatement, err error) {
	return out, b.change(ctx, rights.ToKeepBooks, func(tx *store.Tx) error {
		account, there, err := store.Find[ledger.BankAccount](&tx.Reader, bank)
		if err != nil || !there {
			return orNoRecord(err)
		}
		for _, s := range ofAccount(all, account) {
			one, err := b.takeStatement(tx, user, account, name, s, cur)
			if err != nil {
				return err
			}
			out.Read, out.New, out.Pending = out.Read+one.Read, out.New+one.New, out.Pending+one.Pending
			if out.From == "" || one.From < out.From && one.From != "" {
				out.From = one.From
			}
			out.Through = max(out.Through, one.Through)
		}
		if err := with(tx); err != nil {
			return err
		}
		return b.record(tx, user, "read bank statement", fmt.Sprintf("Read %q of %s: %d of %d lines are new", name, account.Name, out.New, out.Read), nil)
	})
}

func orNoRecord(err error) error {
	if err != nil {
		return err
	}
	return store.ErrNoRecord
}

// parsed reads a file by what it looks like; a CSV by the mapping, or the one that
// was kept, which it returns as it is to be kept.
func (b *Book) parsed(ctx context.Context, bank int64, file []byte, mapping *bankfile.Mapping, cur money.Currency) ([]bankfile.Statement, string, error) {
	switch {
	case bankfile.IsCamt(file):
		all, err := bankfile.ReadCamt(file, cur)
		return all, "", err
	case bankfile.IsOFX(file):
		all, err := bankfile.ReadOFX(file, cur)
		return all, "", err
	case bytes.HasPrefix(bytes.TrimSpace(file), []byte("<")):
		return nil, "", &bankfile.Error{Text: "The file is no statement of an account: camt.053, OFX and CSV are read."}
	}
	kept, err := b.Read(ctx).BankMapping(bank)
	if err != nil {
		return nil, "", err
	}
	if mapping == nil {
		if kept == "" {
			return nil, "", &bankfile.Error{Text: "Say which columns of the file are what."}
		}
		mapping = &bankfile.Mapping{}
		if err := json.Unmarshal([]byte(kept), mapping); err != nil {
			return nil, "", err
		}
	}
	s, err := bankfile.ReadCSV(file, *mapping, cur)
	if err != nil {
		return nil, "", err
	}
	text, err := json.Marshal(mapping)
	return []bankfile.Statement{s}, string(text), err
}

func ownNumber(a ledger.BankAccount) string { return strings.Join(strings.Fields(a.IBAN), "") }

// isOf tells whether a statement may be of an account: by its IBAN, or by the
// bank's own number at the end of that, where both are known.
func isOf(s bankfile.Statement, a ledger.BankAccount) bool {
	own := ownNumber(a)
	return s.Account == "" || own == "" || strings.EqualFold(s.Account, own) || strings.HasSuffix(own, s.Account)
}

// ofAccount are the statements of a file that are of an account, where it has
// those of several; all of them, to be refused, where none is.
func ofAccount(all []bankfile.Statement, a ledger.BankAccount) []bankfile.Statement {
	own := slices.DeleteFunc(slices.Clone(all), func(s bankfile.Statement) bool { return !isOf(s, a) })
	if len(own) == 0 {
		return all
	}
	return own
}

// takeStatement takes one statement: its new lines, once it is known to be of the
// account and to follow on what was read.
func (b *Book) takeStatement(tx *store.Tx, user int64, account ledger.BankAccount, name string, s bankfile.Statement, cur money.Currency) (out ReadStatement, err error) {
	refuse := func(rule, limit, text string, with ...any) error {
		return posting.Refusals{{Field: "file", Rule: rule, Limit: limit, Text: fmt.Sprintf(text, with...)}}
	}
	own := ownNumber(account)
	switch {
	case account.Cash || account.Takings:
		return out, refuse("no bank", "", "%s is no account at a bank, so it has no statements.", account.Name)
	case s.Currency != "" && s.Currency != cur.Code:
		return out, refuse("another currency", s.Currency, "The account in the file is kept in %s, and %s in %s.", s.Currency, account.Name, cur.Code)
	case !isOf(s, account):
		return out, refuse("another account", own, "The file is of the account %s, and %s is %s. Choose the right account, or put its IBAN right in Setup.", s.Account, account.Name, own)
	}
	out.Read, out.Pending = len(s.Lines), s.Pending
	out.From, out.Through = span(s)
	if out.From == "" {
		return out, nil // it says nothing
	}
	fresh, err := newLines(tx, account.ID, s, out.From, out.Through)
	if err != nil {
		return out, err
	}
	out.New = len(fresh)
	keep := store.BankStatement{BankAccountID: account.ID, Name: name, FromDay: out.From, ThroughDay: out.Through, ReadAt: b.stamp(), ReadBy: user}
	if keep.Opening, keep.Closing = balances(s); keep.Opening != nil {
		begins, err := tx.BankBegins(account.ID)
		if err != nil {
			return out, err
		}
		before, known, err := tx.BankBalance(account.ID, out.From.Add(-1))
		if err != nil {
			return out, err
		}
		known = known && begins <= out.From // what is older is held to its end alone
		// A second statement of the same day begins where the first ended.
		sameDay, _, err := tx.BankBalance(account.ID, out.From)
		if err != nil {
			return out, err
		}
		if known && before != *keep.Opening && sameDay != *keep.Opening {
			return out, refuse("does not follow", cur.Format(before), "It begins with %s on %s, and what was read of %s before comes to %s, which is %s off. Read what lies between first.",
				cur.Show(*keep.Opening), out.From.Show(), account.Name, cur.Show(before), cur.Show(*keep.Opening-before))
		}
	}
	// What says nothing new leaves nothing behind but that it was looked at.
	reached, err := tx.BankThrough(account.ID)
	if err != nil {
		return out, err
	}
	if len(fresh) > 0 || out.Through > reached {
		if err := tx.AddBankStatement(&keep, fresh); err != nil {
			return out, err
		}
	}
	if keep.Closing == nil {
		return out, nil
	}
	after, known, err := tx.BankBalance(account.ID, out.Through)
	if err == nil && known && after != *keep.Closing {
		err = refuse("does not add up", cur.Format(*keep.Closing), "It ends with %s on %s, and with its lines %s comes to %s, which is %s off. Lines are missing, or stand there twice.",
			cur.Show(*keep.Closing), out.Through.Show(), account.Name, cur.Show(after), cur.Show(*keep.Closing-after))
	}
	return out, err
}

// span are the first and the last day that a statement tells of.
func span(s bankfile.Statement) (from, through day.Day) {
	for _, l := range s.Lines {
		if from == "" || l.Day < from {
			from = l.Day
		}
		through = max(through, l.Day)
	}
	if s.Closing != nil && s.Closing.Day != "" {
		if through = max(through, s.Closing.Day); from == "" {
			from = through
		}
	}
	return from, through
}

// balances are what a statement begins and ends with; where it says one of them
// alone, its lines say the other.
func balances(s bankfile.Statement) (opening, closing *money.Amount) {
	var sum money.Amount
	for _, l := range s.Lines {
		sum += l.Amount
	}
	switch {
	case s.Opening != nil:
		from := s.Opening.Amount
		opening = &from
	case s.Closing != nil:
		from := s.Closing.Amount - sum
		opening = &from
	default:
		return nil, nil
	}
	to := *opening + sum
	if s.Closing != nil {
		to = s.Closing.Amount
	}
	return opening, &to
}

// sameLine tells lines apart: by the bank's own reference, else by all that they
// say.
type sameLine struct {
	day    day.Day
	amount money.Amount
	says   string
}

func lineSays(d day.Day, a money.Amount, entry, text, reference, name string) sameLine {
	if entry != "" {
		return sameLine{d, a, "\x00" + entry}
	}
	return sameLine{d, a, text + "\x00" + reference + "\x00" + name}
}

// newLines are the lines of a statement that were not read before, counted within
// the day: what stands there twice in both is there already.
func newLines(tx *store.Tx, bank int64, s bankfile.Statement, from, through day.Day) ([]store.BankLine, error) {
	there, err := tx.BankLinesOn(bank, from, through)
	if err != nil {
		return nil, err
	}
	known := map[sameLine]int{}
	for _, l := range there {
		known[lineSays(l.Day, l.Amount, l.EntryReference, l.Text, l.Reference, l.OtherName)]++
	}
	var fresh []store.BankLine
	for _, l := range s.Lines {
		k := lineSays(l.Day, l.Amount, l.EntryReference, l.Text, l.Reference, l.OtherName)
		if known[k] > 0 {
			known[k]--
			continue
		}
		fresh = append(fresh, store.BankLine{Day: l.Day, Amount: l.Amount, Text: l.Text, Reference: l.Reference, OtherName: l.OtherName, OtherAccount: l.OtherAccount, EntryReference: l.EntryReference})
		fresh[len(fresh)-1].OtherSide = Said(fresh[len(fresh)-1]).OtherSide()
	}
	slices.SortStableFunc(fresh, func(x, y store.BankLine) int { return strings.Compare(string(x.Day), string(y.Day)) })
	return fresh, nil
}

// Reconcile keeps the proof that a bank account agrees with the bank through a
// day: every line through it is explained, and the books say what the bank says
// and what is on the way. It returns posting.Refusals or store.ErrNoRecord.
func (b *Book) Reconcile(ctx context.Context, user, bank int64, through day.Day) error {
	cur, err := b.Read(ctx).BankCurrency(bank)
	if err != nil {
		return err
	}
	return b.change(ctx, rights.ToKeepBooks, func(tx *store.Tx) error {
		account, there, err := store.Find[ledger.BankAccount](&tx.Reader, bank)
		if err != nil || !there {
			return orNoRecord(err)
		}
		x, err := tx.Reconcile(bank, through)
		if err != nil {
			return err
		}
		refuse := func(rule, limit, text string, with ...any) error {
			return posting.Refusals{{Field: "through", Rule: rule, Limit: limit, Text: fmt.Sprintf(text, with...)}}
		}
		switch {
		case !x.Known:
			return refuse("nothing read", "", "No statement of %s has been read that says a balance. Read one first.", account.Name)
		case x.Unexplained > 0:
			return refuse("unexplained", fmt.Sprint(x.Unexplained), "%d lines through %s are not explained yet. Say what they are first.", x.Unexplained, through.Show())
		case x.Apart() != 0:
			return refuse("apart", cur.Format(x.Apart()), "The books say %s, and the bank with what is on the way %s: they are %s apart. Where that was so before the first statement, an entry puts it right.",
				cur.Show(x.Ledger), cur.Show(x.Bank+x.Waiting()), cur.Show(x.Apart()))
		}
		act := store.Act{UserID: user, Action: "reconcile", Summary: fmt.Sprintf("Reconciled %s through %s: %s", account.Name, through.Show(), cur.Show(x.Bank))}
		if err := tx.Record(&act, b.clock()); err != nil {
			return err
		}
		return tx.AddReconciliation(act.ID, bank, through, x)
	})
}
