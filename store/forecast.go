package store

import (
	"database/sql"

	"cleantally/core/day"
	"cleantally/core/ledger"
	"cleantally/core/money"
	"cleantally/core/posting"
	"cleantally/core/reporting"
)

// Comings returns what is due by what was posted, at the end of a day: what
// customers owe, what they and we keep back, what we owe suppliers, requests for
// deposits, what waits in card takings. Of one currency it tells what is in it
// alone, in it, the firm's own by its code; of "" all, in the firm's. What items are
// of is told by their papers' IDs alone.
func (r Reader) Comings(at day.Day, currency string) ([]reporting.Coming, error) {
	v, err := r.inCurrency(at, currency, true)
	if err != nil {
		return nil, err
	}
	all := []reporting.Coming{}
	err = r.rows(`SELECT i.due, `+v.of("i.open", v.own)+`, `+v.beside("i.currency", v.own)+`, i.register, i.paper_id, i.id IN (SELECT item_id FROM disputes) AND `+disputed+`
		FROM `+v.open+` i WHERE ((i.register IN ('receivables', 'retention') AND i.open > 0) OR (i.register IN ('payables', 'retention payable') AND i.open < 0))`+v.within("i.currency"), func(r *row) {
		c := reporting.Coming{Day: r.day(0), Amount: r.amount(1), Currency: r.text(2), Own: r.amount(3), Why: r.text(4), PaperID: r.int(5), Disputed: r.is(6)}
		switch ledger.Role(c.Why) {
		case ledger.Receivables:
			c.Why = "invoice"
		case ledger.Payables:
			c.Why = "bill"
		}
		all = append(all, c)
	}, v.args...)
	if err != nil {
		return nil, err
	}
	const rest = "p.own_total - " + ownTakenOf
	err = r.rows(`SELECT b.due, `+v.of("o.amount", rest)+`, `+v.beside("p.currency", rest)+`, p.number, p.party_name, p.id
		FROM (`+askedStill+`) o CROSS JOIN papers p ON p.id = o.paper_id JOIN paper_billing b ON b.paper_id = p.id WHERE p.day <= @asof
		AND NOT EXISTS (SELECT 1 FROM papers x WHERE x.reverses_id = p.id AND x.day <= @asof )`+v.within("p.currency"), func(r *row) {
		all = append(all, reporting.Coming{Day: r.day(0), Amount: r.amount(1), Currency: r.text(2), Own: r.amount(3), Why: string(posting.Request), Number: r.text(4), Party: r.text(5), PaperID: r.int(6)})
	}, v.args...)
	if err != nil {
		return nil, err
	}
	takings, err := scan[reporting.Coming](r, `SELECT @asof AS day, SUM(d.debit - d.credit) AS amount, 'card takings' AS why, k.name AS party FROM bank_accounts k JOIN account_days d ON d.account_id = k.account_id
		WHERE k.takings = 1 AND d.day <= @asof `+v.within("NULL")+` GROUP BY k.id HAVING SUM(d.debit - d.credit) <> 0`, v.args...)
	return append(all, takings...), err
}

// Money is what there is in bank accounts and tills.
type Money struct {
	Books      money.Amount
	Reconciled day.Day // the day through which all bank accounts are reconciled that have statements; "" for none
}

// MoneyAt returns it at the end of a day, of one currency or of all as Comings
// does. What waits in card takings is not there yet.
func (r Reader) MoneyAt(at day.Day, currency string) (Money, error) {
	cur, err := r.Currency()
	if err != nil {
		return Money{}, err
	}
	v, books := currencyView{one: currency != ""}, "d.debit - d.credit"
	if v.one {
		books = ownDay
	}
	within := v.within("NULLIF(k.currency, '')")
	m, _, err := one[Money](r, `SELECT COALESCE((SELECT SUM(`+books+`) FROM bank_accounts k JOIN account_days d ON d.account_id = k.account_id WHERE k.takings = 0 AND d.day <= @asof `+within+`), 0) AS books,
		COALESCE((SELECT MIN(COALESCE((SELECT MAX(c.through_day) FROM bank_reconciliations c WHERE c.bank_account_id = k.id AND c.through_day <= @asof ), '')) FROM bank_accounts k
			WHERE EXISTS (SELECT 1 FROM bank_statements s WHERE s.bank_account_id = k.id AND s.from_day <= @asof )`+within+`), '') AS reconciled`, asOf(at), sql.Named("currency", currency), sql.Named("firms", cur.Code))
	return m, err
}

// Unexplained is what lines of the bank in a currency come to that nothing explains.
type Unexplained struct {
	Currency string // ISO 4217; "" for the firm's own
	Amount   money.Amount
}

// UnexplainedAt returns it through a day, by currency.
func (r Reader) UnexplainedAt(at day.Day) ([]Unexplained, error) {
	return scan[Unexplained](r, `SELECT k.currency, SUM(l.amount) AS amount FROM lines_unexplained w CROSS JOIN bank_lines l ON l.id = w.bank_line_id JOIN bank_accounts k ON k.id = l.bank_account_id
		WHERE l.day <= @asof GROUP BY k.currency`, asOf(at))
}
