package reporting

import (
	"cmp"
	"slices"

	"cleantally/core/day"
	"cleantally/core/ledger"
	"cleantally/core/money"
)

// Standing is an open item as a desk looks at it, with what is known of it.
type Standing struct {
	ID       int64
	PaperID  int64
	PartyID  int64 // 0 while its owner is not known
	JobID    int64 // 0 for none
	Register ledger.Role
	Day      day.Day
	Due      day.Day      // "" for none
	Open     money.Amount // in the firm's minor units; a credit of the register's below nil

	Disputed bool // and not settled between the two
	Broken   bool // it was promised for a day that has passed
	Waits    bool // it was promised, or put off, to a day that has not
	Closed   bool // its job is
}

// Loose is an open item that somebody should do something about.
type Loose struct {
	Standing
	BillID int64 // of a deposit: the oldest debt by due day that it is for
}

// LooseEnds is a group of them, by what to do next.
type LooseEnds struct {
	Group string
	Count int64
	Sum   money.Amount // above nil
	First []Loose      // those to begin with
}

// owing is what parties owe and are owed, by party, and the oldest bill of each
// of their jobs.
type owing struct {
	parties map[int64]*owed
	jobs    map[[2]int64]*Standing // by party and job
}

// owed is what one party owes and is owed.
type owed struct {
	owes   money.Amount // receivables above nil
	weOwe  bool
	oldest *Standing // bill
}

func owingOf(items []Standing) owing {
	o := owing{map[int64]*owed{}, map[[2]int64]*Standing{}}
	var of *owed // those of one party often stand beside each other
	var party int64
	for n := range items {
		i := &items[n]
		bill := i.Register == ledger.Receivables && i.Open > 0
		if i.PartyID == 0 || !bill && (i.Register != ledger.Payables || i.Open >= 0) {
			continue
		}
		if i.PartyID != party {
			if party, of = i.PartyID, o.parties[i.PartyID]; of == nil {
				of = &owed{}
				o.parties[party] = of
			}
		}
		if !bill {
			of.weOwe = true
			continue
		}
		of.owes += i.Open
		of.oldest = older(of.oldest, i)
		if i.JobID != 0 {
			job := [2]int64{i.PartyID, i.JobID}
			o.jobs[job] = older(o.jobs[job], i)
		}
	}
	return o
}

// older is the bill of the two that is due first; known may be nil.
func older(known, bill *Standing) *Standing {
	if known == nil || cmp.Or(cmp.Compare(bill.Due, known.Due), cmp.Compare(bill.ID, known.ID)) < 0 {
		return bill
	}
	return known
}

// of is what the owner of an item owes and is owed.
func (o owing) of(i *Standing) owed {
	if of := o.parties[i.PartyID]; of != nil {
		return *of
	}
	return owed{}
}

// bill is the oldest that a deposit is for; nil for none.
func (o owing) bill(deposit *Standing) *Standing {
	if deposit.JobID == 0 {
		return o.of(deposit).oldest
	}
	return o.jobs[[2]int64{deposit.PartyID, deposit.JobID}]
}

// A looseGroup is a group of loose ends: what belongs to it, and whether they
// are told by their due day in place of their own.
type looseGroup struct {
	name  string
	byDue bool
	holds func(*Standing) bool
}

// groups are what is loose on a day, in the order of what is best done first. A
// balance of receivables is small up to an amount.
func (o owing) groups(on day.Day, small money.Amount) []looseGroup {
	large := func(i *Standing) bool { return i.Open.Abs() > small }
	debt := func(i *Standing) bool { return i.Register == ledger.Receivables && i.Open > 0 }
	credit := func(i *Standing) bool { return i.Register == ledger.Receivables && i.Open < 0 && large(i) }
	deposit := func(i *Standing) bool { return i.Register == ledger.Deposits && i.Open < 0 }
	billed := func(i *Standing) bool { return o.bill(i) != nil }
	dueBy := func(i *Standing, last day.Day) bool { return i.Due != "" && i.Due <= last }
	next := on.EndOfMonth().Add(1).EndOfMonth()
	week, month := on.Add(7), on.Add(30)
	return []looseGroup{
		{"not identified", false, func(i *Standing) bool { return i.Register == ledger.Unidentified && i.Open < 0 }},
		{"on account", false, func(i *Standing) bool { return credit(i) && o.of(i).owes >= -i.Open }},
		{"overpaid", false, func(i *Standing) bool { return credit(i) && o.of(i).owes < -i.Open }},
		{"deposit", false, func(i *Standing) bool { return deposit(i) && billed(i) }},
		{"deposit of a closed job", false, func(i *Standing) bool { return deposit(i) && i.Closed && !billed(i) }},
		{"both ways", true, func(i *Standing) bool {
			return i.Register == ledger.Payables && i.Open < 0 && o.of(i).owes > 0
		}},
		// What falls due this month and next.
		{"retention", true, func(i *Standing) bool { return i.Register == ledger.Retention && i.Open > 0 && dueBy(i, next) }},
		{"disputed", true, func(i *Standing) bool { return debt(i) && i.Disputed }},
		{"promise", true, func(i *Standing) bool { return debt(i) && large(i) && i.Broken && !i.Waits && !i.Disputed }},
		{"overdue", true, func(i *Standing) bool {
			return debt(i) && i.Due < on && large(i) && !i.Waits && !i.Broken && !i.Disputed
		}},
		// What we owe within a week, and what stands with a supplier to whom we owe.
		{"bill", true, func(i *Standing) bool { return i.Register == ledger.Payables && i.Open < 0 && i.Due <= week }},
		{"with a supplier", false, func(i *Standing) bool {
			return (i.Register == ledger.SupplierPrepayments || i.Register == ledger.Payables) && i.Open > 0 && o.of(i).weOwe
		}},
		{"we keep back", true, func(i *Standing) bool {
			return i.Register == ledger.RetentionPayable && i.Open < 0 && dueBy(i, month)
		}},
		{"small", false, func(i *Standing) bool { return i.Register == ledger.Receivables && !large(i) && !i.Disputed }},
	}
}

// LooseEndsOf returns what of the open items of a day is loose, by group, at
// most so many of a group. An item may be in two: a bill of somebody who owes us
// too is due as well.
func LooseEndsOf(items []Standing, on day.Day, small money.Amount, most int) []LooseEnds {
	o := owingOf(items)
	var all []LooseEnds
	for _, g := range o.groups(on, small) {
		found := LooseEnds{Group: g.name}
		order := func(a, b *Standing) int {
			if g.byDue {
				return cmp.Or(cmp.Compare(a.Due, b.Due), cmp.Compare(a.ID, b.ID))
			}
			return cmp.Or(cmp.Compare(a.Day, b.Day), cmp.Compare(a.ID, b.ID))
		}
		var first []*Standing
		for n := range items {
			i := &items[n]
			if !g.holds(i) {
				continue
			}
			found.Count++
			found.Sum += i.Open.Abs()
			first = firstOf(first, i, most, order)
		}
		for _, i := range first {
			l := Loose{Standing: *i}
			if i.Register == ledger.Deposits {
				if bill := o.bill(i); bill != nil {
					l.BillID = bill.PaperID
				}
			}
			found.First = append(found.First, l)
		}
		all = append(all, found)
	}
	return all
}

// firstOf keeps of what comes in any order the first so many, in their order.
func firstOf(first []*Standing, i *Standing, most int, order func(a, b *Standing) int) []*Standing {
	if len(first) == most {
		if most == 0 || order(i, first[most-1]) > 0 {
			return first
		}
		first = first[:most-1]
	}
	at, _ := slices.BinarySearchFunc(first, i, order)
	return slices.Insert(first, at, i)
}

// AgeingOf is the ageing of the open items of a day by due day, its total alone.
func AgeingOf(items []Standing, on day.Day) Ageing {
	row := AgeingRow{Buckets: make([]money.Amount, len(Buckets(ByDue)))}
	bucket := BucketOf(ByDue, on)
	for n := range items {
		i := &items[n]
		switch {
		case i.Register == ledger.Deposits:
			row.Held -= i.Open
		case i.Register == ledger.Retention:
			row.KeptBack += i.Open
		case i.Register != ledger.Receivables:
		case i.Open < 0:
			row.Unplaced += i.Open
			row.Total += i.Open
		default:
			row.Buckets[bucket(i.Due)] += i.Open
			row.Total += i.Open
			if i.Disputed {
				row.Disputed += i.Open
			}
		}
	}
	a := NewAgeing(on, ByDue, []AgeingRow{row})
	a.Rows = nil
	return a
}
