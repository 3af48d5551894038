package books

import (
	"cleantally/core/rights"
	"context"
	"math/big"
	"slices"
	"strconv"
	"strings"

	"cleantally/core/day"
	"cleantally/core/ledger"
	"cleantally/store"
)

// SaveAccount stores a ledger account: a new one when its ID is 0.
func (b *Book) SaveAccount(ctx context.Context, user int64, a *ledger.Account) error {
	return save(ctx, b, user, "account", a, saveAccount)
}

func saveAccount(tx *store.Tx, a *ledger.Account) error {
	var v validation
	v.text("number", &a.Number, true, 20)
	v.text("name", &a.Name, true, 120)
	if !slices.Contains(ledger.Types, a.Type) {
		v.refuse("type", "missing", "Say what type of account it is.")
	}
	other, there, err := store.IDBy[ledger.Account](&tx.Reader, "number", a.Number)
	if err != nil {
		return err
	}
	v.unique("number", a.Number, a.ID, other, there)
	if err := v.keepsUse(tx, a); err != nil {
		return err
	}
	if err := v.err(); err != nil {
		return err
	}
	return put(tx, a.ID, a.Version, a)
}

// keepsUse refuses what would take an account away from a role, a bank account
// or what is posted to it.
func (v *validation) keepsUse(tx *store.Tx, a *ledger.Account) error {
	old, known, err := store.Find[ledger.Account](&tx.Reader, a.ID)
	if err != nil || !known {
		return err
	}
	roles, err := tx.Roles()
	if err != nil {
		return err
	}
	role := slices.IndexFunc(roles, func(r store.RoleOf) bool { return r.AccountID == a.ID })
	_, bank, err := store.IDBy[ledger.BankAccount](&tx.Reader, "account_id", strconv.FormatInt(a.ID, 10))
	if err != nil {
		return err
	}
	used, err := tx.AccountUsed(a.ID)
	if old.Type != a.Type && (used || role >= 0 || bank) {
		v.refuse("type", "in use", "Account %s is in use as %s, so its type stays. Make another account.", old.Number, old.Type)
	}
	if a.Inactive && role >= 0 {
		v.refuse("inactive", "in use", "The rules name account %s as %s. Point that at another account first.", old.Number, roles[role].Role)
	}
	if a.Inactive && bank {
		v.refuse("inactive", "in use", "Account %s belongs to a bank account. Take the bank account out of use instead.", old.Number)
	}
	return err
}

// SetRole points a role at another account of the same type. A control
// account's role stays while anything is posted to its account, for its
// register would no longer tie out.
func (b *Book) SetRole(ctx context.Context, user int64, role ledger.Role, accountID int64) error {
	return b.change(ctx, rights.ToOwn, func(tx *store.Tx) error {
		var v validation
		roles, err := tx.Roles()
		if err != nil {
			return err
		}
		at := slices.IndexFunc(roles, func(r store.RoleOf) bool { return r.Role == role })
		if at < 0 {
			v.refuse("role", "missing", "There is no role %q.", role)
			return v.err()
		}
		old, _, err := store.Find[ledger.Account](&tx.Reader, roles[at].AccountID)
		if err != nil {
			return err
		}
		to, ok, err := store.Find[ledger.Account](&tx.Reader, accountID)
		if err != nil {
			return err
		}
		if !ok || to.Inactive || to.Type != old.Type {
			v.refuse("account", "another type", "%s needs an account in use of the type %s.", role, old.Type)
		}
		if slices.ContainsFunc(roles, func(r store.RoleOf) bool { return r.AccountID == accountID && r.Role != role }) {
			v.refuse("account", "taken", "Account %s %s has another role already.", to.Number, to.Name)
		}
		used, err := tx.AccountUsed(old.ID)
		if err != nil {
			return err
		}
		if role.IsControl() && used {
			v.refuse("role", "in use", "Papers are posted to %s %s, so it stays the account of %s. You can rename or renumber it.", old.Number, old.Name, role)
		}
		if role == ledger.OutputTax || role == ledger.InputTax {
			stands, err := tx.AccountBalanceOn(old.ID, day.EndOfTime)
			if err != nil {
				return err
			}
			if stands != 0 {
				v.refuse("role", "in use", "Tax that is not settled stands on %s %s, and would be in no return. Settle it first, or rename or renumber the account.", old.Number, old.Name)
			}
		}
		if err := v.err(); err != nil {
			return err
		}
		if err := tx.SetRole(role, accountID); err != nil {
			return err
		}
		return b.record(tx, user, "set role", string(role)+" is now "+to.Number+" "+to.Name, store.RoleOf{Role: role, AccountID: accountID})
	})
}

// SaveBankAccount stores a bank account: a new one when its ID is 0. Without a
// ledger account it gets a new one, numbered after the last bank's.
func (b *Book) SaveBankAccount(ctx context.Context, user int64, a *ledger.BankAccount) error {
	return save(ctx, b, user, "bank account", a, saveBankAccount)
}

func saveBankAccount(tx *store.Tx, a *ledger.BankAccount) error {
	var v validation
	v.text("name", &a.Name, true, 80)
	checkIBAN(&v, &a.IBAN)
	other, there, err := store.IDBy[ledger.BankAccount](&tx.Reader, "name", a.Name)
	if err != nil {
		return err
	}
	v.unique("name", a.Name, a.ID, other, there)
	if err := v.mayBeIn(tx, "currency", &a.Currency); err != nil {
		return err
	}
	if a.Currency != "" && a.Takings {
		v.refuse("currency", "card takings", "Card takings wait in the firm's own currency.")
	}
	if a.Cash && a.Takings {
		v.refuse("takings", "one of them", "It is a till or card takings, not both.")
	}
	if a.ChequeRight < -100 || a.ChequeRight > 100 {
		v.refuse("chequeRight", "out of bounds", "Cheques are printed at most 100 mm further left or right.")
	}
	if a.ChequeDown < -100 || a.ChequeDown > 200 {
		v.refuse("chequeDown", "out of bounds", "Cheques are printed at most 100 mm further up, or 200 mm further down.")
	}
	if was, there, err := store.Find[ledger.BankAccount](&tx.Reader, a.ID); err != nil {
		return err
	} else if there {
		if a.AccountID == 0 { // not said, it stays
			a.AccountID = was.AccountID
		}
		if used, err := tx.AccountUsed(was.AccountID); err != nil {
			return err
		} else if used && was.Currency != a.Currency {
			v.refuse("currency", "in use", "Money is posted to %s, so its currency stays. Open another account.", was.Name)
		}
	}
	if a.AccountID != 0 {
		if err := v.bankLedger(tx, a); err != nil {
			return err
		}
	}
	if err := v.err(); err != nil {
		return err
	}
	if a.AccountID == 0 {
		if a.AccountID, err = newBankLedger(tx, a.Name); err != nil {
			return err
		}
	}
	return put(tx, a.ID, a.Version, a)
}

func (v *validation) bankLedger(tx *store.Tx, a *ledger.BankAccount) error {
	l, ok, err := store.Find[ledger.Account](&tx.Reader, a.AccountID)
	if err != nil {
		return err
	}
	roles, err := tx.Roles()
	if err != nil {
		return err
	}
	if !ok || l.Type != ledger.Asset || l.Inactive || slices.ContainsFunc(roles, func(r store.RoleOf) bool { return r.AccountID == l.ID }) {
		v.refuse("account", "not for a bank", "A bank account needs an asset account in use of its own. Choose another, or none to get a new one.")
	}
	old, known, err := store.Find[ledger.BankAccount](&tx.Reader, a.ID)
	if err != nil {
		return err
	}
	if known && old.AccountID != a.AccountID {
		if used, err := tx.AccountUsed(old.AccountID); err != nil {
			return err
		} else if used {
			v.refuse("account", "in use", "Money is posted to its account, so that stays.")
		}
	}
	other, there, err := store.IDBy[ledger.BankAccount](&tx.Reader, "account_id", strconv.FormatInt(a.AccountID, 10))
	v.unique("account", l.Number, a.ID, other, there)
	return err
}

func newBankLedger(tx *store.Tx, name string) (int64, error) {
	for n := 102; ; n++ {
		number := strconv.Itoa(n)
		if _, taken, err := store.IDBy[ledger.Account](&tx.Reader, "number", number); err != nil {
			return 0, err
		} else if !taken {
			a := ledger.Account{Number: number, Name: name, Type: ledger.Asset}
			err := store.Create(tx, &a)
			return a.ID, err
		}
	}
}

// ibanHolds checks the check digits of an IBAN (ISO 13616: the number, with
// its first four characters moved to the end and letters as numbers, is 1
// modulo 97).
func ibanHolds(iban string) bool {
	if len(iban) < 15 || len(iban) > 34 {
		return false
	}
	var digits strings.Builder
	for _, r := range iban[4:] + iban[:4] {
		switch {
		case r >= '0' && r <= '9':
			digits.WriteRune(r)
		case r >= 'A' && r <= 'Z':
			digits.WriteString(strconv.Itoa(int(r-'A') + 10))
		default:
			return false
		}
	}
	n, ok := new(big.Int).SetString(digits.String(), 10)
	return ok && n.Mod(n, big.NewInt(97)).Int64() == 1
}
