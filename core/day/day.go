// Package day holds calendar days: what a paper, an entry or an allocation is
// dated. A day has no hour and no zone; the clock stays outside the core.
package day

import (
	"fmt"
	"strings"
	"time"
)

// Day is a calendar day as YYYY-MM-DD, or "" for none. Days compare as strings.
type Day string

// EndOfTime is after every day that a paper can bear.
const EndOfTime = Day("9999-12-31")

const layout = "2006-01-02"

// The years within which a day is taken: anything else is a slip of the hand.
const (
	firstYear = 1950
	lastYear  = 2199
)

// Of returns the day on which t falls, in t's own zone.
func Of(t time.Time) Day { return Day(t.Format(layout)) }

// New returns the day, or an error that names it when it does not exist.
func New(year, month, dayOfMonth int) (Day, error) {
	t := time.Date(year, time.Month(month), dayOfMonth, 0, 0, 0, 0, time.UTC)
	if month < 1 || month > 12 {
		return "", fmt.Errorf("there is no month %d", month)
	}
	if t.Day() != dayOfMonth || t.Month() != time.Month(month) {
		return "", fmt.Errorf("%d %s %d does not exist", dayOfMonth, time.Month(month), year)
	}
	if year < firstYear || year > lastYear {
		return "", fmt.Errorf("the year %d is not between %d and %d", year, firstYear, lastYear)
	}
	return Of(t), nil
}

// Parse reads YYYY-MM-DD and refuses whatever is not such a day, or does not
// exist. It is how days come in; what holds a Day need not look again.
func Parse(s string) (Day, error) {
	if t, err := time.Parse(layout, s); err == nil {
		return New(t.Year(), int(t.Month()), t.Day())
	}
	if len(s) == len(layout) && digits(s[:4]) && s[4] == '-' && digits(s[5:7]) && s[7] == '-' && digits(s[8:]) {
		return New(number(s[:4]), number(s[5:7]), number(s[8:])) // says which day does not exist
	}
	return "", fmt.Errorf("%q is not a day: write it as 2026-11-20", s)
}

func digits(s string) bool { return strings.Trim(s, "0123456789") == "" }

// Time returns midnight UTC of the day; the zero time for none.
func (d Day) Time() time.Time {
	t, _ := time.Parse(layout, string(d))
	return t
}

// Add returns the day n days later (earlier when n is negative).
func (d Day) Add(n int) Day {
	// Most steps are of one day within a month, and what walks by days takes many.
	if n == 1 && len(d) == len(layout) && d[8:] < "28" {
		next := []byte(d)
		if next[9]++; next[9] > '9' {
			next[8], next[9] = next[8]+1, '0'
		}
		return Day(next)
	}
	return Of(d.Time().AddDate(0, 0, n))
}

// Since returns the number of days from other to d.
func (d Day) Since(other Day) int { return int(d.Time().Sub(other.Time()).Hours() / 24) }

// Year returns the calendar year.
func (d Day) Year() int { return d.Time().Year() }

// EndOfMonth returns the last day of the month.
func (d Day) EndOfMonth() Day {
	t := d.Time()
	return Of(time.Date(t.Year(), t.Month()+1, 0, 0, 0, 0, 0, time.UTC))
}

// Show writes the day for people: 20 Nov 2026.
func (d Day) Show() string {
	if d == "" {
		return ""
	}
	return d.Time().Format("2 Jan 2006")
}
