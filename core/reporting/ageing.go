// Package reporting says how the books are looked back on: ageing, positions,
// stories, statements and the tie-out (docs/rules.md, part 9). The store adds
// the rows up; what the sums mean is said here.
package reporting

import (
	"slices"

	"cleantally/core/day"
	"cleantally/core/money"
)

// Basis is the day that an item's age is counted from.
type Basis string

// The bases of an ageing.
const (
	ByDue   Basis = "due"
	ByPaper Basis = "paper"
)

// Bucket is a span of ages in days, both ends included.
type Bucket struct {
	Name string
	Min  int
	Max  int
}

// far is further back or ahead than any day that a paper can bear.
const far = 80000

// Buckets returns the spans of an ageing, the youngest first.
func Buckets(b Basis) []Bucket {
	if b == ByPaper {
		return []Bucket{{"0–30", -far, 30}, {"31–60", 31, 60}, {"61–90", 61, 90}, {"over 90", 91, far}}
	}
	return []Bucket{{"not due", -far, 0}, {"1–30", 1, 30}, {"31–60", 31, 60}, {"61–90", 61, 90}, {"over 90", 91, far}}
}

// Oldest returns the earliest day that falls into the bucket as of d; "" when
// there is no earliest.
func (b Bucket) Oldest(d day.Day) day.Day {
	if b.Max == far {
		return ""
	}
	return d.Add(-b.Max)
}

// BucketOf returns what finds the bucket that a day falls into as of d, by its place
// among Buckets. Ages run on without a gap, so the first whose oldest day is not
// after it takes it.
func BucketOf(b Basis, d day.Day) func(day.Day) int {
	var oldest []day.Day
	for _, bucket := range Buckets(b) {
		oldest = append(oldest, bucket.Oldest(d))
	}
	return func(of day.Day) int {
		return slices.IndexFunc(oldest, func(o day.Day) bool { return of >= o })
	}
}

// AgeingRow is the share of one customer, or of one job, in what is owed as of
// a day, in minor units. Credits that are not placed are never aged; retention
// and deposits stand beside.
type AgeingRow struct {
	PartyID  int64
	Party    string
	JobID    int64
	Job      string
	Buckets  []money.Amount
	Unplaced money.Amount // nil or below
	Total    money.Amount // receivables
	Disputed money.Amount // of what is aged
	KeptBack money.Amount // retention, beside
	Held     money.Amount // deposits, above nil, beside
}

// Ageing is the whole report. Total equals receivables on that day.
type Ageing struct {
	AsOf    day.Day
	Basis   Basis
	ByJob   bool
	Buckets []Bucket
	Rows    []AgeingRow
	Total   AgeingRow
}

// NewAgeing adds the rows up.
func NewAgeing(asOf day.Day, basis Basis, rows []AgeingRow) Ageing {
	a := Ageing{AsOf: asOf, Basis: basis, Buckets: Buckets(basis), Rows: rows}
	a.Total.Buckets = make([]money.Amount, len(a.Buckets))
	for _, r := range rows {
		for i, v := range r.Buckets {
			a.Total.Buckets[i] += v
		}
		a.Total.Unplaced += r.Unplaced
		a.Total.Total += r.Total
		a.Total.Disputed += r.Disputed
		a.Total.KeptBack += r.KeptBack
		a.Total.Held += r.Held
	}
	return a
}
