package billing

import (
	"time"

	"cleantally/core/day"
)

// Unit is what a schedule counts in.
type Unit string

// The units of a schedule.
const (
	Weekly  Unit = "week"
	Monthly Unit = "month"
	Yearly  Unit = "year"
)

// Schedule says when an invoice recurs: on its first day, and every so many
// weeks, months or years after it. Its day of the month holds for all of them;
// where a month has no such day, the month's last one stands for it.
type Schedule struct {
	First day.Day
	Every int
	Unit  Unit
	Until day.Day // the last day on which it may recur; "" for no end
}

// On is the day of the n-th time, counted from 0; "" once it has ended.
func (s Schedule) On(n int) day.Day {
	first := s.First.Time()
	var d day.Day
	switch s.Unit {
	case Weekly:
		d = s.First.Add(7 * s.Every * n)
	case Yearly:
		d = sameDay(first.Year()+s.Every*n, int(first.Month()), first.Day())
	default:
		d = sameDay(first.Year(), int(first.Month())+s.Every*n, first.Day())
	}
	if s.Until != "" && d > s.Until {
		return ""
	}
	return d
}

// sameDay is a day of a month, or the month's last where it has no such day.
// Months past December are of the years after.
func sameDay(year, month, dayOfMonth int) day.Day {
	last := time.Date(year, time.Month(month)+1, 0, 0, 0, 0, 0, time.UTC)
	return day.Of(last.AddDate(0, 0, min(dayOfMonth, last.Day())-last.Day()))
}

// Through are the days on which it recurs from the n-th time on, through a day.
func (s Schedule) Through(n int, last day.Day) []day.Day {
	var days []day.Day
	for ; ; n++ {
		d := s.On(n)
		if d == "" || d > last {
			return days
		}
		days = append(days, d)
	}
}
