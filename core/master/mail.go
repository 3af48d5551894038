package master

// MailTemplate are the words of mails: of kinds of papers, in a language
// (docs/rules.md, part 12).
type MailTemplate struct {
	ID       int64
	Version  int64
	Name     string
	Kinds    string // of papers, as a JSON list; none for all
	Language string // as the firm calls it; "" for its own
	Subject  string
	Words    string
	Inactive bool
}

// ReminderStage is how a customer is reminded from so many days overdue on
// (docs/rules.md, part 12).
type ReminderStage struct {
	ID       int64
	Version  int64
	Name     string
	Days     int
	Words    string
	Charge   bool // a late charge goes before it
	Inactive bool
}

// StageFor is the place, in stages by their days, of the one by which somebody is
// reminded whose oldest debt is so many days overdue, so many days since the one
// of a name went ("" for none yet): never more than one on. It is time for it
// when it was not sent yet, and as many days went by as lie between the two. The
// place is below nil where none is.
func StageFor(stages []ReminderStage, days int, last string, since int) (place int, time bool) {
	place, before := -1, -1
	for n, s := range stages {
		if s.Days <= days {
			place = n
		}
		if s.Name == last {
			before = n
		}
	}
	if place > before+1 {
		place = before + 1
	}
	if before < 0 || place <= before {
		return max(place, before), place > before
	}
	return place, since >= stages[place].Days-stages[before].Days
}
