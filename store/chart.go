package store

import (
	"sync/atomic"

	"cleantally/core/ledger"
	"cleantally/core/tax"
)

// A chart is what every plan needs and what hardly ever changes: accounts,
// roles, bank accounts, tax codes. It is kept in memory under its version,
// which the database itself raises with every change.
type chart struct {
	version  int64
	accounts map[int64]ledger.Account
	roles    map[ledger.Role]int64
	banks    []ledger.BankAccount
	codes    map[int64]tax.Code
	rates    []tax.Rate
}

// kept is the chart as it was last read from committed rows.
type kept = atomic.Pointer[chart]

// loadChart returns the chart of a version. What a writing transaction reads is
// never kept, for what it changed may yet be rolled back.
func (r Reader) loadChart(version int64) (*chart, error) {
	if c := r.kept.Load(); c != nil && c.version == version {
		return c, nil
	}
	c := &chart{version: version, accounts: map[int64]ledger.Account{}, roles: map[ledger.Role]int64{}, codes: map[int64]tax.Code{}}
	type accountRow struct {
		ledger.Account
		Role ledger.Role
	}
	accounts, err := scan[accountRow](r, "SELECT a.*, COALESCE(r.role, '') AS role FROM accounts a LEFT JOIN roles r ON r.account_id = a.id")
	if err != nil {
		return nil, err
	}
	for _, a := range accounts {
		c.accounts[a.ID] = a.Account
		if a.Role != "" {
			c.roles[a.Role] = a.ID
		}
	}
	codes, err := r.TaxCodes()
	if err != nil {
		return nil, err
	}
	for _, code := range codes {
		c.codes[code.ID] = code
	}
	if c.rates, err = scan[tax.Rate](r, "SELECT * FROM tax_rates"); err != nil {
		return nil, err
	}
	if c.banks, err = scan[ledger.BankAccount](r, "SELECT * FROM bank_accounts"); err != nil {
		return nil, err
	}
	if r.clean {
		r.kept.Store(c)
	}
	return c, nil
}
