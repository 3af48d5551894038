package store

import (
	"cleantally/core/day"
	"cleantally/core/money"
	"cleantally/core/reporting"
)

// SupplierRow is a supplier in a list.
type SupplierRow struct {
	ID       int64
	Number   string
	Name     string
	Contact  string
	Town     string
	Phone    string
	Email    string
	Owe      money.Amount // payables
	Overdue  money.Amount
	Prepaid  money.Amount
	KeptBack money.Amount // retention payable
	Unplaced money.Amount // payments and credits that are set against nothing
	Inactive bool
	Customer bool
}

// Suppliers returns suppliers with what we owed them at the end of a day. Its
// sums are of what we owe, overdue, prepaid, kept back and not placed.
func (r Reader) Suppliers(f PartyFilter, q Query, at day.Day) (Page[SupplierRow], error) {
	open, err := r.openAmountsAt(at)
	if err != nil {
		return Page[SupplierRow]{}, err
	}
	from := func(open string) string {
		return `parties p LEFT JOIN (SELECT party_id, -SUM(CASE WHEN register = 'payables' THEN open ELSE 0 END) AS owe,
			-SUM(CASE WHEN register = 'payables' AND open < 0 AND due < @asof THEN open ELSE 0 END) AS overdue,
			SUM(CASE WHEN register = 'supplier prepayments' THEN open ELSE 0 END) AS prepaid, -SUM(CASE WHEN register = 'retention payable' THEN open ELSE 0 END) AS kept_back,
			SUM(CASE WHEN register = 'payables' AND open > 0 THEN open ELSE 0 END) AS unplaced
			FROM ` + open + ` WHERE register IN ('payables', 'supplier prepayments', 'retention payable') GROUP BY +party_id) s ON s.party_id = p.id`
	}
	l := listing{
		columns: `p.id, p.number, p.name, p.contact, p.town, p.phone, p.email, p.inactive, p.is_customer AS customer, COALESCE(s.owe, 0) AS owe, COALESCE(s.overdue, 0) AS overdue,
			COALESCE(s.prepaid, 0) AS prepaid, COALESCE(s.kept_back, 0) AS kept_back, COALESCE(s.unplaced, 0) AS unplaced`,
		from: from(open),
		once: true,
		few:  func(ids string) string { return from(ofParties(open, ids)) },
		id:   "p.id",
		sort: "name",
		sorts: map[string]string{"name": "p.name COLLATE NOCASE", "number": "p.number", "town": "p.town", "contact": "p.contact", "phone": "p.phone", "email": "p.email",
			"owe": "COALESCE(s.owe, 0)", "overdue": "COALESCE(s.overdue, 0)", "prepaid": "COALESCE(s.prepaid, 0)", "keptBack": "COALESCE(s.kept_back, 0)", "unplaced": "COALESCE(s.unplaced, 0)"},
		sums:  []string{"s.owe", "s.overdue", "s.prepaid", "s.kept_back", "s.unplaced"},
		named: []any{asOf(at)},
	}
	l.filter("p.is_supplier = 1")
	if f.Search != "" {
		l.contains(f.Search, "p.name", "p.number", "p.town", "p.phone", "p.contact", "p.email")
	}
	switch f.State {
	case "owing":
		l.filter("s.owe > 0")
	case "overdue":
		l.filter("s.overdue > 0")
	case "inactive":
		l.filter("p.inactive = 1")
	default: // and whoever is not in use any more and yet is owed
		l.filter("p.inactive = 0 OR s.owe <> 0 OR s.prepaid <> 0 OR s.kept_back <> 0 OR s.unplaced <> 0")
	}
	return fetch[SupplierRow](r, l, q)
}

// SupplierPosition returns where we stood with a supplier at the end of a day.
func (r Reader) SupplierPosition(partyID int64, at day.Day) (reporting.SupplierPosition, error) {
	open, err := r.openOf("party_id", at)
	if err != nil {
		return reporting.SupplierPosition{}, err
	}
	p, _, err := one[reporting.SupplierPosition](r, `SELECT
		COALESCE(-SUM(CASE WHEN register = 'payables' AND open < 0 AND due < @day THEN open END), 0) AS owe_now,
		COALESCE(-SUM(CASE WHEN register = 'payables' AND open < 0 AND due >= @day THEN open END), 0) AS not_yet_due,
		COALESCE(-SUM(CASE WHEN register = 'retention payable' THEN open END), 0) AS keep_back,
		COALESCE(SUM(CASE WHEN register = 'supplier prepayments' THEN open END), 0) AS prepaid,
		COALESCE(SUM(CASE WHEN register = 'payables' AND open > 0 THEN open END), 0) AS unplaced,
		(SELECT COALESCE(SUM(l.amount), 0) FROM lines_left l WHERE l.register = 'goods received' AND l.party_id = @whose AND l.amount <> 0) AS not_billed
		FROM `+open+` i`, map[string]any{"day": at, "asof": at, "whose": partyID})
	return p, err
}

// PayableRow is a bill that could be paid.
type PayableRow struct {
	OpenItem
	IBAN string // where the supplier is paid; "" where that is not known
}

// Payable returns what we owe that falls due through a day, or whose early
// discount ends by it, by supplier and due day.
func (r Reader) Payable(through, today day.Day) ([]PayableRow, error) {
	return scan[PayableRow](r, "SELECT "+openItemColumns+", c.iban FROM open_items i"+openItemJoins+` LEFT JOIN paper_billing b ON b.paper_id = i.paper_id
		WHERE i.register = 'payables' AND i.open <> 0 AND i.open < 0 AND (i.due <= @through OR (b.early_until <> '' AND b.early_until BETWEEN @asof AND @through))
		ORDER BY c.name COLLATE NOCASE, i.party_id, i.due, i.id`, map[string]any{"through": through, "asof": today})
}

// PaymentRow is a supplier payment as it is written to a bank's file.
type PaymentRow struct {
	ID        int64
	Number    string
	Day       day.Day
	PartyID   int64
	Party     string
	IBAN      string
	BIC       string
	BankID    int64
	Bank      string
	BankIBAN  string
	Method    string
	Amount    money.Amount // in the account's currency
	Currency  string       // of it, ISO 4217; "" for the firm's own
	Reference string
	Bills     string // the suppliers' numbers of the bills that it pays
	WrittenOn day.Day
}

// Payments returns supplier payments and prepayments by transfer that stand,
// those with the given IDs or, without any, those that no bank file holds.
func (r Reader) Payments(ids []int64) ([]PaymentRow, error) {
	where := "NOT EXISTS (SELECT 1 FROM paper_events e WHERE e.paper_id = p.id AND e.event = 'bank file')"
	var args []any
	if len(ids) > 0 {
		where, args = "p.id IN ?", []any{ids}
	}
	return scan[PaymentRow](r, `SELECT p.id, p.number, p.day, p.party_id, p.party_name AS party, c.iban, c.bic, k.id AS bank_id, k.name AS bank, k.iban AS bank_iban, y.method, COALESCE(p.own_total, p.total) AS amount, k.currency, p.reference,
		COALESCE((SELECT group_concat(CASE WHEN v.reference <> '' THEN v.reference ELSE v.number END, ', ') FROM open_items i JOIN allocations a ON a.debit_id = i.id JOIN open_items d ON d.id = a.credit_id JOIN papers v ON v.id = d.paper_id
			WHERE i.paper_id = p.id AND i.nature = '' AND a.undoes IS NULL), '') AS bills,
		COALESCE((SELECT MAX(e.day) FROM paper_events e WHERE e.paper_id = p.id AND e.event = 'bank file'), '') AS written_on
		FROM papers p JOIN paper_payment y ON y.paper_id = p.id JOIN parties c ON c.id = p.party_id JOIN bank_accounts k ON k.id = y.bank_account_id
		WHERE p.kind IN ('supplier payment', 'supplier prepayment') AND y.method = 'transfer' AND p.total > 0 AND NOT EXISTS (SELECT 1 FROM papers x WHERE x.reverses_id = p.id) AND `+where+` ORDER BY p.day, p.id`, args...)
}

// WrittenToBank records that payments were written to a file for the bank.
func (tx *Tx) WrittenToBank(act int64, d day.Day, papers []int64) error {
	for _, id := range papers {
		if _, err := tx.exec("INSERT INTO paper_events (act_id, paper_id, day, event) VALUES (?, ?, ?, 'bank file')", act, id, d); err != nil {
			return err
		}
	}
	return nil
}
