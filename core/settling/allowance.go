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
	var some []owed // of whose papers more is to be known
	for _, o := range b.owedOn(d) {
		inside := o.left.Take(o.left.Amount.Outside(o.amount)).Tax.Base // that is deferred, and was never due
		switch total := o.of.Amount.Base; {
		case inside != 0 || o.amount == 0 || !b.Limits().Relief:
		case total == 0:
			some = append(some, o)
		default: // relief would bring it back
			inside = posting.InsideUnused(total, o.of.Tax.Base, o.amount)
		}
		bases[bucket(o.due)] += o.amount - inside
	}
	slices.SortFunc(some, func(x, y owed) int { return cmp.Compare(x.bills, y.bills) })
	bills := make([]int64, len(some))
	for n, o := range some {
		bills[n] = o.bills
	}
	for of := range b.facts.Debts(slices.Compact(bills)) {
		n, _ := slices.BinarySearchFunc(some, of.ID, func(o owed, id int64) int { return cmp.Compare(o.bills, id) })
		for ; n < len(some) && some[n].bills == of.ID; n++ {
			o := some[n]
			bases[bucket(o.due)] -= posting.Taxes(b.InsideDebtOf(of, o.left.Amount.Outside(o.amount), d)).Base
		}
	}
	return bases
}

// owed is what is open of an item that is owed. There are many.
type owed struct {
	item   posting.ItemRef
	party  int64
	bills  int64
	due    day.Day      // from which its age is counted: retention without an agreed day is not due
	amount money.Amount // that no credit settles
	left   posting.Part
	of     posting.Part // what the paper comes to that it bills; nil where more of that is to be known
}

// owedOn is what is owed at the end of a day and not settled by the customer's
// credits.
func (b *builder) owedOn(d day.Day) []owed {
	var all []owed
	credits := map[int64]money.Amount{}
	for i, of := range b.facts.OpenOn(d) {
		if i.Left.Amount.Base <= 0 {
			credits[i.PartyID] -= i.Left.Amount.Base
			continue
		}
		if len(all) == cap(all) {
			all = slices.Grow(all, len(all)+1) // by more than append would
		}
		all = append(all, owed{i.ID, i.PartyID, i.Bills, cmp.Or(i.Due, d), i.Left.Amount.Base, i.Left, of})
	}
	var settled []*owed
	for n, o := range all {
		if credits[o.party] > 0 {
			settled = append(settled, &all[n])
		}
	}
	slices.SortFunc(settled, func(x, y *owed) int { return cmp.Or(cmp.Compare(x.due, y.due), cmp.Compare(x.item, y.item)) })
	for _, o := range settled {
		used := min(credits[o.party], o.amount)
		credits[o.party] -= used
		o.amount -= used
	}
	return all
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
