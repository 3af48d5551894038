package postingtest

import (
	"fmt"
	"slices"
	"strings"

	"cleantally/core/posting"
)

// Lines writes the entries of an effect as the rules do: one string for each,
// such as "Dr 221 400.00, Cr 120 400.00".
func Lines(f posting.Facts, e posting.Effect) []string {
	var all []string
	for _, entry := range e.Entries {
		var parts []string
		for _, l := range entry.Lines {
			a, _ := f.Account(l.AccountID)
			side := "Dr"
			if l.Amount < 0 {
				side = "Cr"
			}
			parts = append(parts, fmt.Sprintf("%s %s %s", side, a.Number, f.Currency().Format(l.Amount.Abs())))
		}
		all = append(all, strings.Join(parts, ", "))
	}
	return all
}

// RefusedFor tells whether err is refusals of which one names the field and
// the rule.
func RefusedFor(err error, field, rule string) bool {
	refusals, ok := err.(posting.Refusals)
	if !ok {
		return false
	}
	for _, n := range refusals {
		if n.Field == field && n.Rule == rule && n.Text != "" {
			return true
		}
	}
	return false
}

// Same tells whether two lists of entries, as Lines writes them, say the same,
// in whatever order the lines of each entry stand.
func Same(got, want []string) bool {
	return slices.EqualFunc(got, want, func(x, y string) bool { return slices.Equal(sorted(x), sorted(y)) })
}

func sorted(entry string) []string {
	parts := strings.Split(entry, ", ")
	slices.Sort(parts)
	return parts
}
