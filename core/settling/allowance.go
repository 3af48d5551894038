package settling

import (
	"cmp"
	"fmt"
	"slices"

	"cleantally/core/day"
	"cleantally/core/ledger"
	"cleantally/core/money"
	"cleantally/core/posting"
	"cleantally/core/reporting"

	"github.com/shopspring/decimal"
)

// Allowance brings the allowance for doubtful debts to what is wanted on a day
// (docs/rules.md, part 6): one entry posts the difference to what stands there,
// Dr or Cr allowance change.
type Allowance struct {
	Number string // "" to be given the next
	Day    day.Day
}

// AllowanceRow is one bucket of the allowance, in minor units.
type AllowanceRow struct {
	Bucket  string
	Base    money.Amount    // open items and retention less credits and less the tax that relief would bring back
	Percent decimal.Decimal // the firm's rate
	Wanted  money.Amount
}

// WantedAllowance works out what is wanted on a day, by bucket, and what
// stands on the account.
func WantedAllowance(f posting.Facts, d day.Day) (rows []AllowanceRow, wanted, stands money.Amount) {
	b := build(f)
	limits, c := f.Limits(), f.Currency()
	bases := b.basesOn(d)
	for n, bucket := range reporting.Buckets(reporting.ByDue) {
		row := AllowanceRow{Bucket: bucket.Name, Base: bases[n]}
		if n < len(limits.Allowance) {
			row.Percent = limits.Allowance[n]
		}
		row.Wanted = c.Round(money.Percent(c.Decimal(row.Base), row.Percent))
		wanted += row.Wanted
		rows = append(rows, row)
	}
	return rows, wanted, -b.facts.AccountDays(f.Role(ledger.Allowance).ID, d)[0].Balance
}

// basesOn adds what is owed up by bucket. Each customer's credits are taken
// off what is oldest first, as they would settle it.
func (b *builder) basesOn(d day.Day) []money.Amount {
	bases := make([]money.Amount, len(reporting.Buckets(reporting.ByDue)))
	bucket := reporting.BucketOf(reporting.ByDue, d)
	items := b.facts.OpenOn(d)
	owed, bills := make([]*posting.Item, 0, len(items)), make([]int64, 0, len(items))
	credits := map[int64]money.Amount{}
	for n := range items {
		if i := &items[n]; i.Left.Amount.Base > 0 {
			owed, bills = append(owed, i), append(bills, i.Bills)
		} else {
			credits[i.PartyID] -= i.Left.Amount.Base
		}
	}
	var debts map[int64]posting.Paper
	if b.Limits().Relief {
		debts = b.facts.Debts(bills)
	}
	slices.SortFunc(owed, func(x, y *posting.Item) int {
		return cmp.Or(cmp.Compare(dueOf(x, d), dueOf(y, d)), cmp.Compare(x.ID, y.ID))
	})
	for _, i := range owed {
		used := min(credits[i.PartyID], i.Left.Amount.Base)
		credits[i.PartyID] -= used
		bases[bucket(dueOf(i, d))] += b.lossOf(i, debts[i.Bills], i.Left.Amount.Base-used, d)
	}
	return bases
}

// lossOf is what would be lost of an item of a debt: less the tax that relief
// would bring back, and less tax that is deferred and was never due.
func (b *builder) lossOf(i *posting.Item, of posting.Paper, amount money.Amount, d day.Day) money.Amount {
	if inside := i.Left.Take(i.Left.Amount.Outside(amount)).Tax.Base; inside != 0 {
		return amount - inside
	}
	if !b.Limits().Relief {
		return amount
	}
	return amount - posting.Taxes(b.InsideDebtOf(of, i.Left.Amount.Outside(amount), d)).Base
}

// dueOf is the day an item's age is counted from: retention without an agreed
// day is not due.
func dueOf(i *posting.Item, asOf day.Day) day.Day {
	if i.Due == "" {
		return asOf
	}
	return i.Due
}

// Plan returns the effect of the one entry.
func (a Allowance) Plan(f posting.Facts) (posting.Effect, error) {
	b := build(f)
	c := f.Currency()
	if !b.PostingDay("day", a.Day) {
		return b.Effect("")
	}
	_, wanted, stands := WantedAllowance(f, a.Day)
	change := wanted - stands
	if change == 0 {
		b.Refuse("day", "no change", c.Format(wanted), "The allowance stands at %s, which is what is wanted on %s. There is nothing to post.", c.Show(stands), a.Day.Show())
		return b.Effect("")
	}
	p := b.Paper(posting.Paper{Kind: posting.Journal, Number: a.Number, Day: a.Day, Title: "Allowance as of " + a.Day.Show(), Total: change.Abs()})
	b.Says(p.Title)
	b.Debit(b.Role(ledger.AllowanceChange), change, ledger.Line{})
	b.Credit(b.Role(ledger.Allowance), change, ledger.Line{})
	b.notOverdrawn("day", a.Day)
	return b.Effect(fmt.Sprintf("Brought the allowance to %s by %s", c.Show(wanted), p.Number))
}
