package posting

import (
	"strconv"
	"strings"

	"cleantally/core/day"
)

// Series splits a numbering format into the prefix of the series that a day
// falls in and the width of its running number: I{yy}-{0000} in 2026 is I26-
// and 4.
func Series(format string, d day.Day) (prefix string, width int) {
	year := strconv.Itoa(d.Year())
	format = strings.ReplaceAll(strings.ReplaceAll(format, "{yyyy}", year), "{yy}", year[max(len(year)-2, 0):])
	open := strings.IndexByte(format, '{')
	if open < 0 {
		return format, 4
	}
	return format[:open], strings.Count(format[open:], "0")
}

// Padded writes a running number with a width.
func Padded(n int64, width int) string {
	s := strconv.FormatInt(n, 10)
	return strings.Repeat("0", max(width-len(s), 0)) + s
}
