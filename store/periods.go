package store

import (
	"database/sql"
	"fmt"
	"strings"

	"github.com/shopspring/decimal"

	"cleantally/core/closing"
	"cleantally/core/day"
	"cleantally/core/ledger"
	"cleantally/core/money"
	"cleantally/core/posting"
)

// Period is what a paper ended that stands: the tax of a span, or a year.
type Period struct {
	PaperID    int64
	Number     string
	Kind       posting.Kind
	Day        day.Day
	FromDay    day.Day
	ThroughDay day.Day
	Total      money.Amount
}

const periods = `SELECT s.paper_id, p.number, p.kind, p.day, s.from_day, s.through_day, p.total FROM paper_spans s CROSS JOIN papers p ON p.id = s.paper_id
	WHERE NOT EXISTS (SELECT 1 FROM papers r WHERE r.reverses_id = p.id) `

// Periods returns what ended and stands, of a kind, the earliest first. A year
// that was done again stands once.
func (r Reader) Periods(kind posting.Kind) ([]Period, error) {
	return scan[Period](r, periods+"AND p.kind = ? AND (p.kind <> 'year end' OR s.from_day <> '') ORDER BY s.through_day, s.paper_id", kind)
}

// ended is through which day the tax is settled, and which years are closed.
func (f *Facts) ended() (tax day.Day, years []day.Day) {
	if !f.endedKnown {
		f.endedPeriods, f.endedKnown = all[Period](f, periods+"AND (p.kind = 'tax settlement' OR p.kind = 'year end' AND s.from_day <> '') ORDER BY s.through_day"), true
	}
	for _, p := range f.endedPeriods {
		if p.Kind == posting.TaxSettlement {
			tax = max(tax, p.ThroughDay)
		} else {
			years = append(years, p.ThroughDay)
		}
	}
	return tax, years
}

// entriesOfTax are the lines l of entries e of papers p. What settled the tax, and
// ended a year, is none of them.
const entriesOfTax = ` FROM entries e CROSS JOIN papers p ON p.id = e.paper_id AND p.about NOT IN ('tax settlement', 'year end') LEFT JOIN paper_billing b NOT INDEXED ON b.paper_id = p.id AND b.supplied <> '' AND e.day = p.day AND e.allocation_id IS NULL
	CROSS JOIN entry_lines l INDEXED BY entry_lines_entry ON l.entry_id = e.id`

// inSpan says of which of them the tax falls into a span, @from to @through: of those
// that are dated there, and of those whose paper names a day of supply there.
var inSpan = [2]string{
	" WHERE e.day BETWEEN @from AND @through AND b.supplied IS NULL ",
	` WHERE e.id IN (SELECT x.id FROM paper_billing y JOIN papers q ON q.id = y.paper_id JOIN entries x ON x.paper_id = q.id AND x.day = q.day AND x.allocation_id IS NULL WHERE y.supplied <> '' AND y.supplied BETWEEN @from AND @through)
		AND b.supplied IS NOT NULL `,
}

// taxRoles are those of the accounts whose lines a tax return looks at without a
// code too.
var taxRoles = []ledger.Role{ledger.OutputTax, ledger.InputTax, ledger.DeferredTax, ledger.TaxWhenPaid, ledger.Deposits}

// TaxReturn adds up what a span comes to; rateOf answers the percentage of a code
// on a day.
func (r Reader) TaxReturn(from, through day.Day, rateOf func(code int64, d day.Day) decimal.Decimal) (t closing.TaxReturn, err error) {
	t = closing.Return(func(yield func(closing.TaxLine) bool) { err = r.taxLines(from, through, yield) }, rateOf)
	return t, err
}

// taxLines tells the lines of a span that a tax return is made of, entry by
// entry: those on tax accounts, those that bear a tax code, and those on deposits.
// Those of an entry that are of one code and one role are told as one.
func (r Reader) taxLines(from, through day.Day, yield func(closing.TaxLine) bool) error {
	c, err := r.loadChart()
	if err != nil {
		return err
	}
	accounts := make([]int64, len(taxRoles))
	for n, role := range taxRoles {
		accounts[n] = c.roles[role]
	}
	used, err := r.those("SELECT a.id FROM accounts a WHERE a.id IN ("+commas(accounts)+") AND EXISTS (SELECT 1 FROM account_days d WHERE d.account_id = a.id)", through)
	if err != nil {
		return err
	}
	var fell map[[2]int64]closing.FellDue
	if used[c.roles[ledger.TaxWhenPaid]] {
		if fell, err = r.fellDue(from, through); err != nil {
			return err
		}
	}
	var roles []ledger.Role // that the firm ever used, and what is on other accounts
	var sums []string
	for n, role := range taxRoles {
		if used[accounts[n]] {
			roles, sums = append(roles, role), append(sums, fmt.Sprintf("SUM(CASE l.account_id WHEN %d THEN l.amount END)", accounts[n]))
		}
	}
	others := "l.account_id NOT IN (" + commas(accounts) + ")"
	roles, sums = append(roles, ""), append(sums, "SUM(CASE WHEN "+others+" THEN l.amount END)")
	on := true
	return r.rows(taxRows(sums, "AND (l.tax_code_id IS NOT NULL OR NOT "+others+")"), func(r *row) {
		l := closing.TaxLine{EntryID: r.int(0), PaperID: r.int(1), Kind: r.text(2), Day: r.day(3), TaxCodeID: r.int(4), Percent: r.percent(8)}
		if !r.null(5) {
			l.Percent, l.LineNet, l.LineTax = r.percent(5), r.amount(6), r.amount(7)
			if l.Percent.Decimal.IsZero() && l.LineTax != 0 { // write-offs did not tell the rate of what they give up
				l.Percent.Valid = false
			}
		}
		for n, role := range roles {
			if !r.null(9 + n) {
				l.Role, l.Amount = role, r.amount(9+n)
				l.FellBefore, l.FellNet, l.FellOf = 0, 0, 0
				if role == ledger.OutputTax {
					f := fell[[2]int64{l.EntryID, l.TaxCodeID}]
					l.FellBefore, l.FellNet, l.FellOf = f.Before, f.Net, f.Tax
				}
				on = on && yield(l)
			}
		}
	}, spanOf(from, through))
}

// taxRows are the lines of a span by entry and code in SQL, with sums of them. What
// the paper bills by the code is looked up once for each, not for each line.
func taxRows(sums []string, which string) string {
	var inside, told strings.Builder
	for n, sum := range sums {
		fmt.Fprintf(&inside, ", %s AS sum%d", sum, n)
		fmt.Fprintf(&told, ", g.sum%d", n)
	}
	of := func(span string) string {
		return "SELECT e.id AS entry, e.paper_id AS paper, COALESCE(p.reverses_id, p.id) AS bills, p.kind, e.allocation_id AS allocation, COALESCE(b.supplied, e.day) AS day, l.tax_code_id AS code" +
			inside.String() + entriesOfTax + span + which + " GROUP BY e.day, e.id, l.tax_code_id"
	}
	return `SELECT g.entry, g.paper, g.kind, g.day, g.code, k.tax_percent, k.net, k.tax,
		CASE WHEN g.allocation IS NOT NULL AND g.code IS NOT NULL THEN (SELECT x.tax_percent FROM allocations a JOIN open_items i ON i.id IN (a.debit_id, a.credit_id) JOIN paper_lines x ON x.paper_id = COALESCE(i.bills_id, i.paper_id) AND x.tax_code_id = g.code WHERE a.id = g.allocation LIMIT 1) END` +
		told.String() + " FROM (" + of(inSpan[0]) + " UNION ALL " + of(inSpan[1]) + ") g LEFT JOIN paper_codes k ON k.paper_id = g.bills AND k.tax_code_id = g.code"
}

// fellDue is what had fallen due before, by entry and code, of those papers of
// which more falls due in a span. Where an entry is of two papers it is not told.
func (r Reader) fellDue(from, through day.Day) (map[[2]int64]closing.FellDue, error) {
	rows, err := scan[closing.FellDue](r, `WITH of AS (SELECT DISTINCT COALESCE(i.bills_id, i.paper_id) AS p FROM entries e JOIN allocations a ON a.id = e.allocation_id JOIN open_items i ON i.id IN (a.debit_id, a.credit_id)
			WHERE e.day BETWEEN @from AND @through AND i.register = 'receivables' AND i.tax <> 0),
		items AS (SELECT z.id, p FROM of JOIN open_items z ON z.bills_id = p WHERE z.register = 'receivables' AND z.tax <> 0
			UNION ALL SELECT z.id, p FROM of JOIN open_items z ON z.paper_id = p WHERE z.bills_id IS NULL AND z.register = 'receivables' AND z.tax <> 0),
		due AS (SELECT p, g.id AS entry_id, y.tax_code_id AS code, -SUM(y.amount) AS due FROM items CROSS JOIN item_moves m ON m.item_id = items.id AND m.allocation_id IS NOT NULL CROSS JOIN entries g ON g.allocation_id = m.allocation_id
			CROSS JOIN entry_lines y ON y.entry_id = g.id CROSS JOIN roles o ON o.account_id = y.account_id AND o.role = 'output tax' GROUP BY 1, 2, 3)
		SELECT entry_id, COALESCE(code, 0) AS tax_code_id, SUM(due) OVER (PARTITION BY p, code ORDER BY entry_id) - due AS before,
			COALESCE((SELECT k.net FROM paper_codes k WHERE k.paper_id = p AND k.tax_code_id = code), 0) AS net, COALESCE((SELECT k.tax FROM paper_codes k WHERE k.paper_id = p AND k.tax_code_id = code), 0) AS tax
		FROM due`, spanOf(from, through))
	fell := map[[2]int64]closing.FellDue{}
	for _, f := range rows {
		key := [2]int64{f.EntryID, f.TaxCodeID}
		if _, twice := fell[key]; twice {
			f = closing.FellDue{}
		}
		fell[key] = f
	}
	return fell, err
}

// spanOf are the arguments of inSpan.
func spanOf(from, through day.Day) map[string]any {
	return map[string]any{"from": string(from), "through": string(through)}
}

// TaxMoved answers closing.Facts.
func (f *Facts) TaxMoved(role ledger.Role, from, through day.Day) money.Amount {
	begins := from
	if begins == "" {
		begins = "0001-01-01"
	}
	of := "(SELECT COALESCE(SUM(l.amount), 0)" + entriesOfTax
	const account = "AND l.account_id = @account)"
	v, _ := value[money.Amount](f, "SELECT "+of+inSpan[0]+account+" + "+of+inSpan[1]+account, sql.Named("from", string(begins)), sql.Named("through", string(through)), sql.Named("account", f.Role(role).ID))
	return v
}

// TaxBefore answers closing.Facts.
func (f *Facts) TaxBefore(d day.Day) day.Day {
	first, _ := value[day.Day](f, "SELECT COALESCE(MIN(day), '') FROM entry_lines WHERE account_id IN (?, ?) AND day < ?", f.Role(ledger.OutputTax).ID, f.Role(ledger.InputTax).ID, d)
	return first
}

// AccountSum is what moved on an account.
type AccountSum struct {
	AccountID int64
	Amount    money.Amount // debits less credits
}

// ResultAccounts answers closing.Facts.
func (f *Facts) ResultAccounts(d day.Day) map[int64]money.Amount {
	stands := map[int64]money.Amount{}
	for _, s := range all[AccountSum](f, `SELECT d.account_id, SUM(d.debit - d.credit) AS amount FROM accounts a JOIN account_days d ON d.account_id = a.id
		WHERE a.type IN ('income', 'contra income', 'expense') AND d.day <= ? GROUP BY d.account_id`, d) {
		stands[s.AccountID] = s.Amount
	}
	return stands
}

// Moved is what moved on every account in a span, debits less credits; what ended
// years left out of it where one asks for income.
func (r Reader) Moved(from, through day.Day, withoutYearEnds bool) (map[int64]money.Amount, error) {
	sums, err := scan[AccountSum](r, "SELECT account_id, SUM(debit - credit) AS amount FROM account_days WHERE day BETWEEN ? AND ? GROUP BY account_id", from, through)
	if err != nil {
		return nil, err
	}
	moved := map[int64]money.Amount{}
	for _, s := range sums {
		moved[s.AccountID] += s.Amount
	}
	if !withoutYearEnds {
		return moved, nil
	}
	ends, err := scan[AccountSum](r, `SELECT l.account_id, SUM(l.amount) AS amount FROM paper_spans s JOIN papers p ON p.id = s.paper_id OR p.reverses_id = s.paper_id
		JOIN entries e ON e.paper_id = p.id JOIN entry_lines l ON l.entry_id = e.id WHERE p.about = 'year end' AND e.day BETWEEN ? AND ? GROUP BY l.account_id`, from, through)
	for _, s := range ends {
		moved[s.AccountID] -= s.Amount
	}
	return moved, err
}

// InCredit is what customers come to whose balance is below nil at the end of a
// day: on a balance sheet it is a liability.
func (r Reader) InCredit(d day.Day) (money.Amount, error) {
	open, err := r.openAmountsAt(d)
	if err != nil {
		return 0, err
	}
	v, _, err := one[money.Amount](r, "SELECT COALESCE(SUM(x.balance), 0) FROM (SELECT SUM(i.open) AS balance FROM "+open+" i WHERE i.register = 'receivables' GROUP BY i.party_id HAVING SUM(i.open) < 0) x", asOf(d))
	return v, err
}

// OpeningPapers answers settling.OpeningFacts.
func (f *Facts) OpeningPapers() []int64 {
	return all[int64](f, `SELECT p.id FROM (SELECT id FROM papers WHERE kind = 'opening' UNION SELECT id FROM papers INDEXED BY papers_kind WHERE kind IN ('deposit invoice', 'order', 'claimed before') AND act_id IN (SELECT o.act_id FROM papers o WHERE o.kind = 'opening')) p
		WHERE NOT EXISTS (SELECT 1 FROM papers r WHERE r.reverses_id = p.id) ORDER BY p.id`)
}

// FirstPosted answers settling.OpeningFacts.
func (f *Facts) FirstPosted() day.Day {
	first, _ := value[day.Day](f, "SELECT COALESCE(MIN(day), '') FROM papers WHERE act_id NOT IN (SELECT o.act_id FROM papers o WHERE o.about = 'opening')")
	return first
}

// JobAt answers closing.JobFacts.
func (f *Facts) JobAt(job int64, d day.Day) (contract, billed money.Amount) {
	p, err := f.r.JobPosition(job, d)
	if err != nil && f.err == nil {
		f.err = err
	}
	return p.ContractSum, p.BilledNet
}

// AccruedJob is what of a job was accrued at the end of a day.
type AccruedJob struct {
	PaperID int64
	Number  string
	JobID   int64
	Percent decimal.Decimal
	Amount  money.Amount
}

// AccruedOn returns what was accrued at the end of a day and stands.
func (r Reader) AccruedOn(d day.Day) ([]AccruedJob, error) {
	return scan[AccruedJob](r, `SELECT p.id AS paper_id, p.number, l.job_id, l.discount_percent AS percent, l.net AS amount FROM papers p JOIN paper_lines l ON l.paper_id = p.id
		WHERE p.kind = 'accrual' AND p.day = ? AND NOT EXISTS (SELECT 1 FROM papers r WHERE r.reverses_id = p.id) ORDER BY p.id, l.position`, d)
}
