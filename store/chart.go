package store

import (
	"database/sql"
	"errors"
	"sync/atomic"

	"cleantally/core/ledger"
	"cleantally/core/master"
	"cleantally/core/money"
	"cleantally/core/posting"
	"cleantally/core/tax"
)

// A chart is what every plan needs and what hardly ever changes: the firm and
// its limits, accounts, roles, bank accounts, tax codes, terms, numberings. It
// is kept in memory under its version, which the database itself raises with
// every change.
type chart struct {
	version  int64
	firm     Firm
	currency money.Currency
	limits   master.Limits
	accounts map[int64]ledger.Account
	roles    map[ledger.Role]int64
	banks    []ledger.BankAccount
	codes    map[int64]tax.Code
	rates    []tax.Rate
	terms    map[int64]master.Terms
	formats  map[posting.Kind]string // of the numbers
	abroad   map[string]bool         // currencies beside the firm's, and whether they are in use
}

// kept is the chart as it was last read from committed rows.
type kept = atomic.Pointer[chart]

// loadChart returns the chart as of this transaction, or ErrNoFirm. What a
// writing transaction reads is never kept, for what it changed may yet be
// rolled back.
func (r Reader) loadChart() (*chart, error) {
	var version int64
	err := r.queryRow("SELECT chart_version FROM firm").Scan(&version)
	if errors.Is(err, sql.ErrNoRows) {
		return nil, ErrNoFirm
	}
	if err != nil {
		return nil, err
	}
	if c := r.kept.Load(); c != nil && c.version == version {
		return c, nil
	}
	c := &chart{version: version}
	for _, read := range []func(Reader) error{c.readFirm, c.readAccounts, c.readTax, c.readTerms} {
		if err := read(r); err != nil {
			return nil, err
		}
	}
	if r.stale == nil {
		r.kept.Store(c)
	} else {
		*r.stale = true
	}
	return c, nil
}

// abroad tells whether the firm has ever used another currency than its own: where
// it has not, nothing is looked for in one.
func (r Reader) abroad() (bool, error) {
	c, err := r.loadChart()
	if errors.Is(err, ErrNoFirm) {
		return false, nil
	}
	return err == nil && len(c.abroad) > 0, err
}

func (c *chart) readFirm(r Reader) (err error) {
	if c.firm, err = r.Firm(); err != nil {
		return err
	}
	if c.currency, err = money.CurrencyOf(c.firm.Currency); err != nil {
		return err
	}
	c.currency.Marks = c.firm.NumberStyle
	if c.limits, err = r.limits(c.firm); err != nil {
		return err
	}
	numberings, err := r.Numberings()
	c.formats = make(map[posting.Kind]string, len(numberings))
	for _, n := range numberings {
		c.formats[n.Kind] = n.Format
	}
	return err
}

func (c *chart) readAccounts(r Reader) error {
	type accountRow struct {
		ledger.Account
		Role ledger.Role
	}
	accounts, err := scan[accountRow](r, "SELECT a.*, COALESCE(r.role, '') AS role FROM accounts a LEFT JOIN roles r ON r.account_id = a.id")
	if err != nil {
		return err
	}
	c.accounts, c.roles = make(map[int64]ledger.Account, len(accounts)), map[ledger.Role]int64{}
	for _, a := range accounts {
		c.accounts[a.ID] = a.Account
		if a.Role != "" {
			c.roles[a.Role] = a.ID
		}
	}
	if c.banks, err = scan[ledger.BankAccount](r, "SELECT * FROM bank_accounts"); err != nil {
		return err
	}
	abroad, err := scan[master.Currency](r, "SELECT * FROM currencies")
	c.abroad = make(map[string]bool, len(abroad))
	for _, x := range abroad {
		c.abroad[x.Code] = !x.Inactive
	}
	return err
}

func (c *chart) readTax(r Reader) error {
	codes, err := r.TaxCodes()
	if err != nil {
		return err
	}
	c.codes = make(map[int64]tax.Code, len(codes))
	for _, code := range codes {
		c.codes[code.ID] = code
	}
	c.rates, err = scan[tax.Rate](r, "SELECT * FROM tax_rates")
	return err
}

func (c *chart) readTerms(r Reader) error {
	terms, err := scan[master.Terms](r, "SELECT * FROM terms")
	if err != nil {
		return err
	}
	instalments, err := scan[master.Instalment](r, "SELECT * FROM instalments ORDER BY terms_id, days, id")
	if err != nil {
		return err
	}
	c.terms = make(map[int64]master.Terms, len(terms))
	for _, t := range terms {
		for _, i := range instalments {
			if i.TermsID == t.ID {
				t.Instalments = append(t.Instalments, i)
			}
		}
		c.terms[t.ID] = t
	}
	return nil
}
