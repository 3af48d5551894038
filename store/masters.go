package store

import (
	"errors"

	"cleantally/core/day"
	"cleantally/core/ledger"
	"cleantally/core/master"
	"cleantally/core/posting"
	"cleantally/core/tax"

	"gorm.io/gorm"
)

// A Master is a record that papers refer to. Each is stored in a table of its
// own, mapped by its field names.
type Master interface {
	master.Party | master.Job | master.Article | master.Terms | ledger.Account | ledger.BankAccount | tax.Code | master.Group | master.Letterhead | master.MailTemplate | master.ReminderStage | master.BankRule | master.Currency
}

func tableOf[T Master]() string {
	var t any = *new(T)
	switch t.(type) {
	case master.Party:
		return "parties"
	case master.Job:
		return "jobs"
	case master.Article:
		return "articles"
	case master.Terms:
		return "terms"
	case ledger.Account:
		return "accounts"
	case ledger.BankAccount:
		return "bank_accounts"
	case master.Group:
		return "customer_groups"
	case master.Letterhead:
		return "letterheads"
	case master.MailTemplate:
		return "mail_templates"
	case master.ReminderStage:
		return "reminder_stages"
	case master.Currency:
		return "currencies"
	case master.BankRule:
		return "bank_rules"
	default:
		return "tax_codes"
	}
}

// ErrNoRecord says that there is no such record.
var ErrNoRecord = errors.New("there is no such record")

// ErrRecordChanged says that a record was changed by somebody else in between.
var ErrRecordChanged = errors.New("this was changed in another window: open it again to go on from there")

// Create stores a new record and gives it its ID.
func Create[T Master](tx *Tx, rec *T) error {
	return gorm.G[T](tx.db).Table(tableOf[T]()).Omit("Instalments", "Releases", "Stages", "Prices", "Abroad", "Version").Create(tx.ctx, rec)
}

// Update replaces the record with the given ID if it still has the version that
// rec was read at, and raises the version. It answers ErrNoRecord or
// ErrRecordChanged.
func Update[T Master](tx *Tx, id, version int64, rec T) error {
	old, there, err := one[int64](tx.Reader, "SELECT version FROM "+tableOf[T]()+" WHERE id = ?", id)
	switch {
	case err != nil:
		return err
	case !there:
		return ErrNoRecord
	case old != version:
		return ErrRecordChanged
	}
	if _, err = gorm.G[T](tx.db).Table(tableOf[T]()).Where("id = ?", id).Select("*").Omit("ID", "Version", "Instalments", "Releases", "Stages", "Prices", "Abroad").Updates(tx.ctx, rec); err != nil {
		return err
	}
	_, err = tx.exec("UPDATE "+tableOf[T]()+" SET version = version + 1 WHERE id = ?", id)
	return err
}

// Find returns a record by ID.
func Find[T Master](r *Reader, id int64) (T, bool, error) {
	return one[T](*r, "SELECT * FROM "+tableOf[T]()+" WHERE id = ?", id)
}

// All returns every record in the given order, a column name of the table.
func All[T Master](r *Reader, order string) ([]T, error) {
	return scan[T](*r, "SELECT * FROM "+tableOf[T]()+" ORDER BY "+order+", id")
}

// IDBy returns the ID of the record whose column has the value, without regard
// to case.
func IDBy[T Master](r *Reader, column, value string) (int64, bool, error) {
	return one[int64](*r, "SELECT id FROM "+tableOf[T]()+" WHERE "+column+" = ? COLLATE NOCASE ORDER BY id LIMIT 1", value)
}

// Names returns what the records of a kind are called by a column, at most so
// many.
func Names[T Master](r *Reader, column string, most int) ([]string, error) {
	return scan[string](*r, "SELECT "+column+" FROM "+tableOf[T]()+" WHERE inactive = 0 ORDER BY id LIMIT ?", most)
}

// NumberOf returns the number of a record.
func NumberOf[T Master](r *Reader, id int64) (string, bool, error) {
	return one[string](*r, "SELECT number FROM "+tableOf[T]()+" WHERE id = ?", id)
}

// NextMasterNumber returns the next whole number after the largest that is in
// use as a number of such records, and first when there is none.
func NextMasterNumber[T Master](r *Reader, first int64) (int64, error) {
	n, _, err := one[int64](*r, "SELECT CAST(number AS INTEGER) + 1 FROM "+tableOf[T]()+" WHERE number GLOB '[0-9]*' AND CAST(number AS INTEGER) < 1000000000 ORDER BY CAST(number AS INTEGER) DESC LIMIT 1")
	return max(n, first), err
}

// Prices returns what articles cost groups of customers, by article.
func (r Reader) Prices() (map[int64][]master.Price, error) {
	rows, err := scan[master.Price](r, "SELECT * FROM article_prices ORDER BY article_id, group_id")
	by := map[int64][]master.Price{}
	for _, p := range rows {
		by[p.ArticleID] = append(by[p.ArticleID], p)
	}
	return by, err
}

// SetPrices replaces what an article costs groups of customers.
func (tx *Tx) SetPrices(articleID int64, prices []master.Price) error {
	if _, err := tx.exec("DELETE FROM article_prices WHERE article_id = ?", articleID); err != nil {
		return err
	}
	for _, p := range prices {
		if _, err := tx.exec("INSERT INTO article_prices (article_id, group_id, price) VALUES (?, ?, ?)", articleID, p.GroupID, p.Price); err != nil {
			return err
		}
	}
	return nil
}

// CurrencyPrices returns what articles cost in other currencies, by article.
func (r Reader) CurrencyPrices() (map[int64][]master.CurrencyPrice, error) {
	rows, err := scan[master.CurrencyPrice](r, "SELECT * FROM article_currency_prices ORDER BY article_id, currency")
	by := map[int64][]master.CurrencyPrice{}
	for _, p := range rows {
		by[p.ArticleID] = append(by[p.ArticleID], p)
	}
	return by, err
}

// SetCurrencyPrices replaces what an article costs in other currencies.
func (tx *Tx) SetCurrencyPrices(articleID int64, prices []master.CurrencyPrice) error {
	if _, err := tx.exec("DELETE FROM article_currency_prices WHERE article_id = ?", articleID); err != nil {
		return err
	}
	for _, p := range prices {
		if _, err := tx.exec("INSERT INTO article_currency_prices (article_id, currency, price) VALUES (?, ?, ?)", articleID, p.Currency, p.Price); err != nil {
			return err
		}
	}
	return nil
}

// TaxRates returns every dated rate, the newest of a code first.
func (r Reader) TaxRates() ([]tax.Rate, error) {
	return scan[tax.Rate](r, "SELECT * FROM tax_rates ORDER BY tax_code_id, since DESC")
}

// SetTaxRates replaces the rates of a code.
func (tx *Tx) SetTaxRates(codeID int64, rates []tax.Rate) error {
	if err := tx.db.Exec("DELETE FROM tax_rates WHERE tax_code_id = ?", codeID).Error; err != nil {
		return err
	}
	for _, rate := range rates {
		if err := tx.db.Exec("INSERT INTO tax_rates (tax_code_id, since, percent) VALUES (?, ?, ?)", codeID, rate.Since, rate.Percent).Error; err != nil {
			return err
		}
	}
	return nil
}

// TermsWithParts returns all terms with their instalments.
func (r Reader) TermsWithParts() ([]master.Terms, error) {
	terms, err := All[master.Terms](&r, "name")
	if err != nil {
		return nil, err
	}
	parts, err := scan[master.Instalment](r, "SELECT * FROM instalments ORDER BY days, id")
	for i := range terms {
		for _, p := range parts {
			if p.TermsID == terms[i].ID {
				terms[i].Instalments = append(terms[i].Instalments, p)
			}
		}
	}
	return terms, err
}

// SetInstalments replaces the instalments of terms.
func (tx *Tx) SetInstalments(termsID int64, parts []master.Instalment) error {
	if err := tx.db.Exec("DELETE FROM instalments WHERE terms_id = ?", termsID).Error; err != nil {
		return err
	}
	for _, p := range parts {
		if err := tx.db.Exec("INSERT INTO instalments (terms_id, percent, days) VALUES (?, ?, ?)", termsID, p.Percent, p.Days).Error; err != nil {
			return err
		}
	}
	return nil
}

// RoleOf is a role and the account that it points at.
type RoleOf struct {
	Role      ledger.Role
	AccountID int64
}

// Roles returns where each role points.
func (r Reader) Roles() ([]RoleOf, error) {
	return scan[RoleOf](r, "SELECT role, account_id FROM roles ORDER BY role")
}

// SetRole points a role at an account.
func (tx *Tx) SetRole(role ledger.Role, accountID int64) error {
	return tx.db.Exec("INSERT INTO roles (role, account_id) VALUES (?, ?) ON CONFLICT (role) DO UPDATE SET account_id = excluded.account_id", role, accountID).Error
}

// AccountUsed tells whether anything is posted to an account.
func (r Reader) AccountUsed(id int64) (bool, error) {
	_, used, err := one[int64](r, "SELECT id FROM entry_lines WHERE account_id = ? LIMIT 1", id)
	return used, err
}

// NumberingOf is how a kind of paper is numbered.
type NumberingOf struct {
	Kind   posting.Kind
	Format string
}

// Numberings returns the format of each kind of paper.
func (r Reader) Numberings() ([]NumberingOf, error) {
	return scan[NumberingOf](r, "SELECT kind, format FROM numberings ORDER BY kind")
}

// SetNumbering stores the format of a kind.
func (tx *Tx) SetNumbering(n NumberingOf) error {
	return tx.db.Exec("INSERT INTO numberings (kind, format) VALUES (?, ?) ON CONFLICT (kind) DO UPDATE SET format = excluded.format", n.Kind, n.Format).Error
}

// SaveFirm stores the firm, a version further.
func (tx *Tx) SaveFirm(f Firm) error {
	f.ID = 1
	f.Version++
	return tx.db.Save(&f).Error
}

// CreateUser stores a new user.
func (tx *Tx) CreateUser(u *User) error {
	u.Version = 1
	return tx.db.Create(u).Error
}

// Lock closes the period through d; "" opens it.
func (tx *Tx) Lock(d day.Day) error {
	return tx.db.Exec("UPDATE firm SET locked_through = ?", d).Error
}

// TaxCodes returns every tax code by code.
func (r Reader) TaxCodes() ([]tax.Code, error) { return All[tax.Code](&r, "code") }
