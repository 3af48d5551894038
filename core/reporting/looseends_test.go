package reporting_test

import (
	"fmt"
	"strings"
	"testing"

	"cleantally/core/day"
	"cleantally/core/ledger"
	"cleantally/core/money"
	"cleantally/core/reporting"
)

// What is loose of each item, by group: bounds of amounts and days included.
func TestLooseEnds(t *testing.T) {
	const on, small = day.Day("2026-11-20"), money.Amount(100)
	item := func(register ledger.Role, party, job int64, due day.Day, open money.Amount) reporting.Standing {
		return reporting.Standing{PartyID: party, JobID: job, Register: register, Day: "2026-10-01", Due: due, Open: open}
	}
	marked := func(i reporting.Standing, mark func(*reporting.Standing)) reporting.Standing {
		mark(&i)
		return i
	}
	debt := item(ledger.Receivables, 1, 7, "2026-11-19", 50000)
	for name, c := range map[string]struct {
		items []reporting.Standing
		want  string // groups, each with the places of its items, the first first
	}{
		"nothing":                      {},
		"overdue from the next day on": {[]reporting.Standing{debt, item(ledger.Receivables, 1, 0, on, 50000)}, "overdue 0"},
		"small up to the limit":        {[]reporting.Standing{item(ledger.Receivables, 1, 0, "2026-01-01", 100), item(ledger.Receivables, 1, 0, "2026-01-01", 101), item(ledger.Receivables, 1, 0, "2026-01-01", -100)}, "overdue 1, small 0 2"},
		"disputed":                     {[]reporting.Standing{marked(debt, func(i *reporting.Standing) { i.Disputed, i.Broken = true, true })}, "disputed 0"},
		"promised":                     {[]reporting.Standing{marked(debt, func(i *reporting.Standing) { i.Broken = true }), marked(debt, func(i *reporting.Standing) { i.Waits = true }), marked(debt, func(i *reporting.Standing) { i.Broken, i.Waits = true, true })}, "promise 0"},
		"a credit that a debt takes":   {[]reporting.Standing{debt, item(ledger.Receivables, 1, 0, "", -50000)}, "on account 1, overdue 0"},
		"a credit beyond the debt":     {[]reporting.Standing{debt, item(ledger.Receivables, 1, 0, "", -50001), item(ledger.Receivables, 2, 0, "", -101)}, "overpaid 1 2, overdue 0"},
		"deposits of billed jobs":      {[]reporting.Standing{debt, item(ledger.Deposits, 1, 7, "", -10), item(ledger.Deposits, 1, 8, "", -10), item(ledger.Deposits, 1, 0, "", -10), item(ledger.Deposits, 2, 7, "", -10)}, "deposit 1 3, overdue 0"},
		"deposits of closed jobs": {[]reporting.Standing{marked(item(ledger.Deposits, 1, 8, "", -10), func(i *reporting.Standing) { i.Closed = true }), item(ledger.Deposits, 1, 9, "", -10)},
			"deposit of a closed job 0"},
		"retention to the end of next month": {[]reporting.Standing{item(ledger.Retention, 1, 0, "2026-12-31", 10), item(ledger.Retention, 1, 0, "2027-01-01", 10), item(ledger.Retention, 1, 0, "", 10)}, "retention 0"},
		"bills within a week": {[]reporting.Standing{item(ledger.Payables, 3, 0, "2026-11-27", -10), item(ledger.Payables, 3, 0, "2026-11-28", -10), item(ledger.Payables, 3, 0, "", 5), item(ledger.SupplierPrepayments, 4, 0, "", 5)},
			"bill 0, with a supplier 2"},
		"both ways":              {[]reporting.Standing{debt, item(ledger.Payables, 1, 0, "2027-01-01", -10)}, "both ways 1, overdue 0"},
		"we keep back 30 days":   {[]reporting.Standing{item(ledger.RetentionPayable, 3, 0, "2026-12-20", -10), item(ledger.RetentionPayable, 3, 0, "2026-12-21", -10)}, "we keep back 0"},
		"nobody knows the owner": {[]reporting.Standing{item(ledger.Unidentified, 0, 0, "", -10)}, "not identified 0"},
	} {
		for n := range c.items {
			c.items[n].ID = int64(n)
		}
		var got []string
		for _, g := range reporting.LooseEndsOf(c.items, on, small, 9) {
			if g.Count != int64(len(g.First)) {
				t.Errorf("%s: %s tells %d of %d", name, g.Group, len(g.First), g.Count)
			}
			if g.Count > 0 {
				told := g.Group
				for _, l := range g.First {
					told += fmt.Sprint(" ", l.ID)
				}
				got = append(got, told)
			}
		}
		if text := strings.Join(got, ", "); text != c.want {
			t.Errorf("%s: %s, want %s", name, text, c.want)
		}
	}
}

// Of very many the first are told, by the day that counts and then as they were
// posted, with the count and the sum of all; the ageing is of all as well.
func TestFirstLooseEnds(t *testing.T) {
	const on = day.Day("2026-11-20")
	var items []reporting.Standing
	for n := range 400 {
		items = append(items, reporting.Standing{ID: int64(400 - n), PartyID: 1, Register: ledger.Receivables, Day: "2026-01-01", Due: on.Add(-1 - n*37%100), Open: 1000})
	}
	items = append(items, reporting.Standing{ID: 500, PartyID: 1, PaperID: 9, JobID: 3, Register: ledger.Receivables, Due: on, Open: 7}, reporting.Standing{ID: 501, PartyID: 1, JobID: 3, Register: ledger.Deposits, Open: -70})
	all := reporting.LooseEndsOf(items, on, 0, 6)
	for _, g := range all {
		switch g.Group {
		case "overdue":
			var told []string
			for _, l := range g.First {
				told = append(told, fmt.Sprint(l.ID, " ", l.Due))
			}
			if got := strings.Join(told, ", "); g.Count != 400 || g.Sum != 400000 || got != "73 2026-08-12, 173 2026-08-12, 273 2026-08-12, 373 2026-08-12, 46 2026-08-13, 146 2026-08-13" {
				t.Errorf("%d overdue of %d: %s", g.Count, g.Sum, got)
			}
		case "deposit":
			if len(g.First) != 1 || g.First[0].BillID != 9 {
				t.Errorf("the deposit is for %+v", g.First)
			}
		}
	}
	a := reporting.AgeingOf(items, on)
	if got := fmt.Sprint(a.Total.Buckets, a.Total.Total, a.Total.Held, len(a.Rows)); got != "[7 120000 120000 120000 40000] 400007 70 0" {
		t.Errorf("the ageing: %s", got)
	}
}
