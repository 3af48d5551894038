package day

import (
	"fmt"
	"regexp"
	"strconv"
	"strings"
	"time"
)

var (
	numeric  = regexp.MustCompile(`^(\d{1,2})(?:[./ -](\d{1,2})(?:[./ -](\d{4}|\d{2}))?)?\.?$`)
	worded   = regexp.MustCompile(`^(\d{1,2})\.? ?([a-z]{3,9})\.?(?: (\d{4}|\d{2}))?$`)
	inDays   = regexp.MustCompile(`^(?:\+ ?(\d{1,3})(?: ?d(?:ays?)?)?|(\d{1,3}) ?d(?:ays?)?)$`)
	ofMonth  = regexp.MustCompile(`^end of month(?: \+? ?(\d{1,2}))?$`)
	weekdays = []string{"sunday", "monday", "tuesday", "wednesday", "thursday", "friday", "saturday"}
)

// Style is how a firm writes days in figures, told by how it writes 20 Nov 2026.
type Style string

// The ways of writing days.
const (
	InWords    Style = "20 Nov 2026"
	Dotted     Style = "20.11.2026"
	DayFirst   Style = "20/11/2026"
	MonthFirst Style = "11/20/2026"
	YearFirst  Style = "2026-11-20"
)

// Styles lists every way of writing days.
var Styles = []Style{InWords, Dotted, DayFirst, MonthFirst, YearFirst}

// Understand reads what a person typed into a day field: "20", "20/11",
// "20 nov", "2026-11-20", "today", "yesterday", "fri". What leaves out the
// month or the year means the one nearest to today; a weekday is the last one
// that was.
func Understand(text string, today Day, s Style) (Day, error) {
	t := strings.Join(strings.Fields(strings.ToLower(text)), " ")
	switch t {
	case "today", "t":
		return today, nil
	case "yesterday", "y":
		return today.Add(-1), nil
	case "tomorrow":
		return today.Add(1), nil
	}
	if len(t) == len(layout) && t[4] == '-' {
		return Parse(t)
	}
	if m := numeric.FindStringSubmatch(t); m != nil {
		if s == MonthFirst && m[2] != "" {
			return fill(number(m[2]), number(m[1]), m[3], today)
		}
		return fill(number(m[1]), number(m[2]), m[3], today)
	}
	if m := worded.FindStringSubmatch(t); m != nil {
		for month := time.January; month <= time.December; month++ {
			if strings.HasPrefix(strings.ToLower(month.String()), m[2]) {
				return fill(number(m[1]), int(month), m[3], today)
			}
		}
	}
	if len(t) >= 3 {
		for i, name := range weekdays {
			if strings.HasPrefix(name, t) {
				back := (int(today.Time().Weekday()) - i + 7) % 7
				return today.Add(-back), nil
			}
		}
	}
	return "", fmt.Errorf("%q is not understood as a day: try 20, 20/11, 20 nov, yesterday or fri", text)
}

// UnderstandDue reads a due day counted from the paper's day: "30 days",
// "+7", "end of month", "end of month 15", or anything that Understand reads.
func UnderstandDue(text string, paper, today Day, s Style) (Day, error) {
	t := strings.Join(strings.Fields(strings.ToLower(text)), " ")
	if m := inDays.FindStringSubmatch(t); m != nil {
		return paper.Add(number(m[1] + m[2])), nil
	}
	if m := ofMonth.FindStringSubmatch(t); m != nil {
		return paper.EndOfMonth().Add(number(m[1])), nil
	}
	return Understand(text, today, s)
}

func number(s string) int {
	n, _ := strconv.Atoi(s)
	return n
}

// fill completes a day of the month with the month and year that bring it
// nearest to today. A day that exists in no such month is refused.
func fill(d, month int, year string, today Day) (Day, error) {
	now := today.Time()
	if year != "" {
		y := number(year)
		if len(year) == 2 {
			y += 2000
		}
		return New(y, month, d)
	}
	var best Day
	var firstErr error
	for back := -1; back <= 1; back++ {
		y, m := now.Year()+back, month
		if month == 0 {
			first := time.Date(now.Year(), now.Month()+time.Month(back), 1, 0, 0, 0, 0, time.UTC)
			y, m = first.Year(), int(first.Month())
		}
		c, err := New(y, m, d)
		if err != nil {
			if back == 0 {
				firstErr = err
			}
			continue
		}
		if best == "" || distance(c, today) < distance(best, today) {
			best = c
		}
	}
	if best == "" || (month == 0 && firstErr != nil && d > 31) {
		return "", firstErr
	}
	return best, nil
}

func distance(a, b Day) int {
	n := a.Since(b)
	return max(n, -n)
}
