package closing

import (
	"fmt"

	"cleantally/core/day"
	"cleantally/core/ledger"
	"cleantally/core/money"
	"cleantally/core/posting"

	"github.com/shopspring/decimal"
)

// JobFacts is what accruing work asks besides: what a job's contract comes to and
// what was billed of it, net, at the end of a day.
type JobFacts interface {
	JobAt(job int64, d day.Day) (contract, billed money.Amount)
}

// AccrueWork accrues work that is done and not billed at the end of a day
// (docs/rules.md, part 9): the contract × the share that is done − what is billed,
// net. Dr accrued income; where more is billed than is done, Cr deferred income. It
// is taken back on the next day.
type AccrueWork struct {
	Number string
	Day    day.Day
	Jobs   []WorkDone
}

// WorkDone is how much of a job is done, in percent.
type WorkDone struct {
	JobID   int64
	Percent decimal.Decimal
}

// Accrued is what a job's work comes to beyond what is billed of it; below nil
// what is billed ahead of it.
func Accrued(contract, billed money.Amount, percent decimal.Decimal) money.Amount {
	return money.Amount(decimal.NewFromInt(int64(contract)).Mul(percent).Shift(-2).Round(0).IntPart()) - billed
}

// Plan returns the effect of accruing.
func (a AccrueWork) Plan(f posting.Facts) (posting.Effect, error) {
	facts := f.(JobFacts)
	b := posting.Build(f)
	dayOK := b.PostingDay("day", a.Day)
	if len(a.Jobs) == 0 {
		b.Refuse("jobs", "missing", "", "Say of one job at least how much of it is done.")
	}
	p := b.Paper(posting.Paper{Kind: posting.Accrual, Number: a.Number, Day: a.Day, Title: "Work done and not billed, " + a.Day.Show()})
	type line struct {
		job     posting.PaperLine
		amount  money.Amount
		partyID int64
	}
	var lines []line
	seen := map[int64]bool{}
	for n, w := range a.Jobs {
		field := fmt.Sprintf("jobs[%d].", n)
		j, known := b.Job(w.JobID)
		switch {
		case !known:
			b.Refuse(field+"job", "missing", "", "There is no such job.")
			continue
		case seen[w.JobID]:
			b.Refuse(field+"job", "twice", j.Number, "Job %s stands here twice.", j.Number)
			continue
		case w.Percent.IsNegative() || w.Percent.GreaterThan(decimal.New(100, 0)) || !money.Fits(w.Percent, 4):
			b.Refuse(field+"percent", "out of bounds", "100", "What of job %s is done is from 0 to 100 %%, with at most 4 places.", j.Number)
			continue
		case !dayOK:
			continue
		}
		seen[w.JobID] = true
		contract, billed := facts.JobAt(w.JobID, a.Day)
		amount := Accrued(contract, billed, w.Percent)
		c := b.Currency()
		lines = append(lines, line{posting.PaperLine{Position: len(lines) + 1, JobID: w.JobID, Quantity: decimal.New(1, 0), DiscountPercent: w.Percent, AccountID: b.Role(ledger.ServiceSales).ID, Before: amount, Net: posting.Firm(amount),
			Text: fmt.Sprintf("Job %s: %s %% of %s done, %s billed", j.Number, w.Percent, c.Show(contract), c.Show(billed))}, amount, j.PartyID})
	}
	enter := func(sign money.Amount) {
		for _, l := range lines {
			at := ledger.Line{PartyID: l.partyID, JobID: l.job.JobID}
			role := ledger.AccruedIncome
			if l.amount < 0 {
				role = ledger.DeferredIncome
			}
			b.Debit(b.Role(role), sign*l.amount, at)
			b.Credit(b.Role(ledger.ServiceSales), sign*l.amount, at)
		}
	}
	for _, l := range lines {
		p.Lines = append(p.Lines, l.job)
		p.Total += l.amount
	}
	if dayOK && !b.Refused() {
		b.Says(p.Title)
		enter(1)
		b.On(a.Day.Add(1), p.Title+", taken back", func() { enter(-1) })
	}
	return b.Effect(fmt.Sprintf("Accrued the work of %d jobs at %s by %s", len(lines), a.Day.Show(), p.Number))
}
