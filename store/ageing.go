package store

import (
	"cmp"
	"database/sql"
	"fmt"
	"slices"
	"strings"

	"cleantally/core/day"
	"cleantally/core/ledger"
	"cleantally/core/money"
	"cleantally/core/reporting"
)

// AgeingFilter says what an ageing is of.
type AgeingFilter struct {
	AsOf    day.Day
	Basis   reporting.Basis
	PartyID int64 // 0 for every customer
	ByJob   bool  // a row for each job, in place of each customer
	Payable bool  // what we owe suppliers, in place of what customers owe
	// Currency: what is in it alone, in it, the firm's own by its code; "" for all,
	// in the firm's.
	Currency string
}

// registers are those of what is owed, kept back and paid ahead, and the sign
// of what is owed.
func (f AgeingFilter) registers() (owed, kept, held ledger.Role, sign money.Amount) {
	if f.Payable {
		return ledger.Payables, ledger.RetentionPayable, ledger.SupplierPrepayments, -1
	}
	return ledger.Receivables, ledger.Retention, ledger.Deposits, 1
}

// Ageing returns what customers owed at the end of a day, by age, or what we
// owed.
func (r Reader) Ageing(f AgeingFilter) (reporting.Ageing, error) {
	owed, keptBack, held, sign := f.registers()
	buckets := reporting.Buckets(f.Basis)
	v, err := r.inCurrency(f.AsOf, f.Currency, false)
	open, amount := v.open, v.of("i.open", v.own)
	if err == nil && f.PartyID != 0 {
		open, err = r.openOf("party_id", f.AsOf)
	}
	if err != nil {
		return reporting.Ageing{}, err
	}
	job := "0"
	if f.ByJob {
		job = "COALESCE(i.job_id, 0)"
	}
	type cell struct {
		PartyID  int64
		JobID    int64
		Register ledger.Role
		Bucket   int
		Open     money.Amount
		Disputed money.Amount
	}
	bucket, args := bucketOf(f, buckets)
	cells, err := scan[cell](r, fmt.Sprintf(`SELECT i.party_id, %s AS job_id, i.register, %s AS bucket, SUM(%s) AS open,
		SUM(CASE WHEN i.id IN (SELECT item_id FROM disputes) AND i.register = 'receivables' AND i.open > 0 AND %s THEN %s ELSE 0 END) AS disputed
		FROM %s i WHERE i.register IN (@owed, @kept, @held)%s GROUP BY 1, 2, 3, 4`, job, bucket, amount, disputed, amount, open, v.within("i.currency")), append(append(args, v.args...), whose(f.PartyID), sql.Named("owed", owed), sql.Named("kept", keptBack), sql.Named("held", held))...)
	if err != nil {
		return reporting.Ageing{}, err
	}
	rows := map[[2]int64]*reporting.AgeingRow{}
	for _, c := range cells {
		key := [2]int64{c.PartyID, c.JobID}
		row := rows[key]
		if row == nil {
			row = &reporting.AgeingRow{PartyID: c.PartyID, JobID: c.JobID, Buckets: make([]money.Amount, len(buckets))}
			rows[key] = row
		}
		row.Disputed += c.Disputed
		c.Open *= sign
		switch {
		case c.Register == held:
			row.Held -= c.Open
		case c.Register == keptBack:
			row.KeptBack += c.Open
		case c.Bucket == unplaced:
			row.Unplaced += c.Open
			row.Total += c.Open
		default:
			row.Buckets[c.Bucket] += c.Open
			row.Total += c.Open
		}
	}
	return r.named(f, rows)
}

// unplaced is the bucket of credits, which are never aged.
const unplaced = -1

// bucketOf is the bucket of the item i in SQL. Ages run on without a gap, so
// the first bucket whose oldest day is not after the item's takes it.
func bucketOf(f AgeingFilter, buckets []reporting.Bucket) (string, []any) {
	column := "i.due"
	if f.Basis == reporting.ByPaper {
		column = "i.day"
	}
	var b strings.Builder
	var args []any
	credit := "i.open < 0"
	if f.Payable {
		credit = "i.open > 0"
	}
	fmt.Fprintf(&b, "CASE WHEN i.register <> @owed OR %s THEN %d", credit, unplaced)
	for n, bucket := range buckets {
		if oldest := bucket.Oldest(f.AsOf); oldest != "" {
			fmt.Fprintf(&b, " WHEN %s >= ? THEN %d", column, n)
			args = append(args, oldest)
		} else {
			fmt.Fprintf(&b, " ELSE %d", n)
		}
	}
	return b.String() + " END", args
}

// named puts the rows in the order of the customers' names, and of their jobs.
func (r Reader) named(f AgeingFilter, rows map[[2]int64]*reporting.AgeingRow) (reporting.Ageing, error) {
	type name struct {
		ID   int64
		Name string
	}
	parties, err := scan[name](r, "SELECT id, name FROM parties ORDER BY name COLLATE NOCASE, id")
	if err != nil {
		return reporting.Ageing{}, err
	}
	var jobs []name
	if f.ByJob {
		if jobs, err = scan[name](r, "SELECT id, number || ' ' || name AS name FROM jobs"); err != nil {
			return reporting.Ageing{}, err
		}
	}
	jobOf := map[int64]string{}
	for _, j := range jobs {
		jobOf[j.ID] = j.Name
	}
	of := map[int64][]*reporting.AgeingRow{}
	for _, row := range rows {
		row.Job = jobOf[row.JobID]
		of[row.PartyID] = append(of[row.PartyID], row)
	}
	var all []reporting.AgeingRow
	for _, p := range parties {
		slices.SortFunc(of[p.ID], func(a, b *reporting.AgeingRow) int {
			return cmp.Or(cmp.Compare(a.Job, b.Job), cmp.Compare(a.JobID, b.JobID))
		})
		for _, row := range of[p.ID] {
			row.Party = p.Name
			all = append(all, *row)
		}
	}
	a := reporting.NewAgeing(f.AsOf, f.Basis, all)
	a.ByJob = f.ByJob
	return a, nil
}
