package settling

import (
	"fmt"
	"strings"

	"cleantally/core/day"
	"cleantally/core/posting"
)

// Dispute marks what stays open as disputed, with a reason, or no longer: it
// bears no late charge and has its own line in ageing (docs/rules.md, part 4).
type Dispute struct {
	Item   posting.ItemRef
	Day    day.Day
	Reason string
	End    bool
	// Unfounded tells of an end that the disputed days bear late charges.
	Unfounded bool
}

// Plan returns the effect of the mark. It posts nothing.
func (d Dispute) Plan(f posting.Facts) (posting.Effect, error) {
	b := build(f)
	i, ok := b.Look(d.Item)
	reason := strings.TrimSpace(d.Reason)
	marks := b.facts.Disputes(d.Item)
	var last posting.Dispute
	if len(marks) > 0 {
		last = marks[len(marks)-1]
	}
	switch {
	case !ok || !i.Debit():
		b.Refuse("item", "missing", "", "Choose something that is owed.")
	case !d.End && i.Left.Amount.Own == 0:
		b.Refuse("item", "nothing left", f.Currency().Format(0), "%s is settled, so there is nothing to dispute.", i.Number)
	case d.End && last.Reason == "":
		b.Refuse("item", "not disputed", "", "%s is not disputed.", i.Number)
	case !d.End && reason == "":
		b.Refuse("reason", "missing", "", "Say why %s is disputed.", i.Number)
	}
	if b.PostingDay("day", d.Day) {
		if b.NotBeforeItem("day", i, d.Day) && last.Day > d.Day {
			b.Refuse("day", "before the dispute", string(last.Day), "The dispute of %s was last marked on %s. Use that day or later.", i.Number, last.Day.Show())
		}
	}
	if d.End {
		reason = ""
	}
	b.Dispute(posting.Dispute{Item: d.Item, Day: d.Day, Reason: reason, Unfounded: d.End && d.Unfounded})
	if d.End {
		return b.Effect(fmt.Sprintf("%s is no longer disputed", i.Number))
	}
	return b.Effect(fmt.Sprintf("%s is disputed: %s", i.Number, reason))
}
