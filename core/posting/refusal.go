package posting

import "strings"

// Notice is a sentence about one field of a command: why it is refused, or
// what to look at before confirming it.
type Notice struct {
	Field string // which field, as in "lines[2].quantity"; "" for the whole
	Rule  string // a short name of the rule, as in "more than is open"
	Limit string // the figure or day that is the limit, "" for none
	Text  string // what is wrong, the limit, and the way out
}

// WarningRules are the rules of all warnings: who has seen to each confirms
// them by these names.
var WarningRules = []string{"in the future", "long past", "paid twice?", "billed twice?", "closed job", "another month", "tied", "past its day", "more than ordered", "past due", "past the cap", "another account", "another tax", "another way", "year closed", "comes back", "left out", "does not come to nil", "items differ"}

// Refusals is why a command cannot be done. Nothing has changed.
type Refusals []Notice

func (r Refusals) Error() string {
	texts := make([]string, len(r))
	for i, n := range r {
		texts[i] = n.Text
	}
	return strings.Join(texts, " ")
}
