package books

import (
	"cleantally/core/rights"
	"context"
	"fmt"
	"maps"
	"slices"
	"strings"

	"cleantally/core/day"
	"cleantally/core/mail"
	"cleantally/core/master"
	"cleantally/core/money"
	"cleantally/core/posting"
	"cleantally/core/sheet"
	outgoing "cleantally/formats/mail"
	"cleantally/formats/pdf"
	"cleantally/store"
)

// ReminderFor is what a customer would be reminded of, in one letter.
type ReminderFor struct {
	Party    master.Party
	Stage    master.ReminderStage // that they would get
	Due      bool                 // whether it is time for it: it, or a later one, was not sent yet
	Items    []store.OverdueItem
	Total    money.Amount
	Oldest   int     // days overdue
	Reminded day.Day // when they were last; "" for never
	How      string
}

// LeftOut is what no reminder says, and why.
type LeftOut struct {
	Party master.Party
	Item  store.OverdueItem // the zero value where all of the customer is left out
	Why   string
}

// SaveReminderStage stores a stage of reminders: a new one when its ID is 0.
func (b *Book) SaveReminderStage(ctx context.Context, user int64, s *master.ReminderStage) error {
	return save(ctx, b, user, "stage of reminders", s, func(tx *store.Tx, s *master.ReminderStage) error {
		var v validation
		v.text("name", &s.Name, true, 60)
		v.text("words", &s.Words, true, 2000)
		if strings.Contains(s.Name, ":") {
			v.refuse("name", "form", "A stage has no colon in its name.")
		}
		if s.Days < 1 || s.Days > 3650 {
			v.refuse("days", "out of bounds", "A stage begins 1 to 3650 days after the due date.")
		}
		other, there, err := store.IDBy[master.ReminderStage](&tx.Reader, "name", s.Name)
		if err != nil {
			return err
		}
		v.unique("name", s.Name, s.ID, other, there)
		if err := v.err(); err != nil {
			return err
		}
		return put(tx, s.ID, s.Version, s)
	})
}

// Reminders returns who of some customers would be reminded of what today, one
// letter each, and what is left out. Nothing goes by itself.
func (b *Book) Reminders(r *store.Reader, of []int64) (all []ReminderFor, out []LeftOut, err error) {
	return b.remindersOf(r, of, false)
}

// remindersOf is the same; of those whose reminder is going out just now, that it
// waits in the outbox does not count.
func (b *Book) remindersOf(r *store.Reader, of []int64, going bool) (all []ReminderFor, out []LeftOut, err error) {
	stages, err := stagesInUse(r)
	if err != nil {
		return nil, nil, err
	}
	firm, err := r.Firm()
	if err != nil {
		return nil, nil, err
	}
	items, err := r.OverdueItems(b.Today(), of)
	if err != nil {
		return nil, nil, err
	}
	parties, err := r.PartiesNamed(of)
	if err != nil {
		return nil, nil, err
	}
	var waiting []int64
	if !going {
		if waiting, err = r.PartiesWithMail(mail.Reminder, store.MailWaiting, store.MailByHand); err != nil {
			return nil, nil, err
		}
	}
	for len(items) > 0 {
		n := slices.IndexFunc(items, func(i store.OverdueItem) bool { return i.PartyID != items[0].PartyID })
		if n < 0 {
			n = len(items)
		}
		party := parties[items[0].PartyID]
		f, left := reminderFor(party, items[:n], stages, b.Today())
		out = append(out, left...)
		switch {
		case f == nil:
		case slices.Contains(waiting, party.ID):
			out = append(out, LeftOut{Party: party, Why: "has a reminder that waits in the outbox"})
		case f.Total <= firm.DifferenceLimit:
			out = append(out, LeftOut{Party: party, Why: "owes a small balance alone"})
		default:
			all = append(all, *f)
		}
		items = items[n:]
	}
	slices.SortStableFunc(all, func(x, y ReminderFor) int {
		return strings.Compare(strings.ToLower(x.Party.Name), strings.ToLower(y.Party.Name))
	})
	return all, out, nil
}

func stagesInUse(r *store.Reader) ([]master.ReminderStage, error) {
	all, err := store.All[master.ReminderStage](r, "days")
	return slices.DeleteFunc(all, func(s master.ReminderStage) bool { return s.Inactive }), err
}

// reminderFor is the letter to one customer; nil where none goes.
func reminderFor(party master.Party, items []store.OverdueItem, stages []master.ReminderStage, today day.Day) (f *ReminderFor, out []LeftOut) {
	f = &ReminderFor{Party: party}
	if party.LeftAlone && slices.ContainsFunc(items, func(i store.OverdueItem) bool { return i.Due < today }) {
		return nil, []LeftOut{{Party: party, Why: "is left alone"}}
	}
	overdue := false
	for _, i := range items {
		switch {
		case i.Disputed != "":
			out = append(out, LeftOut{party, i, "is disputed: " + i.Disputed})
			continue
		case i.Until != "":
			out = append(out, LeftOut{party, i, "is waited for through " + i.Until.Show()})
			continue
		}
		f.Items, f.Total = append(f.Items, i), f.Total+i.Open
		if i.Due < today {
			overdue, f.Oldest = true, max(f.Oldest, today.Since(i.Due))
		}
		if i.Reminded > f.Reminded {
			f.Reminded, f.How = i.Reminded, i.How
		}
	}
	last, _, _ := strings.Cut(f.How, ":")
	since := 0
	if f.Reminded != "" {
		since = today.Since(f.Reminded)
	}
	place, again := master.StageFor(stages, f.Oldest, last, since)
	if !overdue || place < 0 {
		return nil, out
	}
	f.Stage, f.Due = stages[place], again
	return f, out
}

// A sumIn is an amount in a currency, "" for the firm's own.
type sumIn struct {
	code   string
	amount money.Amount
}

// sums are what is left to pay, in each currency.
func (f ReminderFor) sums() (all []sumIn) {
	for _, i := range f.Items {
		n := slices.IndexFunc(all, func(s sumIn) bool { return s.code == i.Currency })
		if n < 0 {
			all, n = append(all, sumIn{code: i.Currency}), len(all)
		}
		all[n].amount += i.OwnOpen
	}
	return all
}

// withCode writes an amount of a currency, with its code where that is not the
// firm's.
func withCode(firm money.Currency, code string, a money.Amount) string {
	if code == "" {
		return firm.Show(a)
	}
	return code + " " + firm.In(code).Show(a)
}

// letter is what a customer is reminded of, as it goes out.
func (f ReminderFor) letter(r *store.Reader, today day.Day) (sheet.Sheet, error) {
	d, err := sheetFirm(r)
	if err != nil {
		return sheet.Sheet{}, err
	}
	s := sheet.Sheet{Heading: f.Stage.Name, Firm: d.Firm, TaxNumber: sheet.TaxLine(nil, d.TaxNumber), To: sheet.Address{Name: f.Party.Name, Lines: f.Party.Printed()}, Facts: []sheet.Fact{{Name: "Date", Value: d.Style.Show(today)}}, Says: f.Stage.Words}
	s.Columns = []sheet.Column{{Name: "What", Ours: "What"}, {Name: "Paper", Ours: "Paper"}, {Name: "Date", Ours: "Date"}, {Name: "Due date", Ours: "Due date"}, {Name: "Days overdue", Ours: "Days overdue", Figure: true}, {Name: "Open", Ours: "Open", Figure: true}}
	for _, i := range f.Items {
		days := ""
		if i.Due < today {
			days = fmt.Sprint(today.Since(i.Due))
		}
		name := i.Number
		if i.Charge {
			name += ", late charge"
		}
		s.Rows = append(s.Rows, sheet.Row{Cells: []string{i.Title, name, d.Style.ShowIn(i.Day, today), d.Style.ShowIn(i.Due, today), days, withCode(d.Currency, i.Currency, i.OwnOpen)}})
	}
	for _, sum := range f.sums() {
		in := d.Currency.In(sum.code)
		name := "Left to pay"
		if sum.code != "" {
			name += " in " + sum.code
		}
		s.Sums = append(s.Sums, sheet.Sum{Name: name, Amount: in.Format(sum.amount), Look: "left"})
	}
	if d.Account != nil {
		s.Pay = &sheet.Pay{Text: fmt.Sprintf("Please pay to %s, IBAN %s, quoting the numbers above.", d.Account.Name, d.Account.IBAN)}
	}
	return s, nil
}

// PrintReminders makes the letters to customers as one PDF, each on pages of its
// own; with stages by customer in place of those that would be taken. It returns
// posting.Refusals for who is not reminded.
func (b *Book) PrintReminders(ctx context.Context, stages map[int64]int64) (Printed, error) {
	_, p, err := b.letters(ctx, stages, false)
	return p, err
}

// letters are the reminders to some customers with their letters; going is of
// those of a mail that goes out just now.
func (b *Book) letters(ctx context.Context, stages map[int64]int64, going bool) (chosen []ReminderFor, p Printed, err error) {
	var pages []pdf.Page
	var firm store.Firm
	err = b.db.Snapshot(ctx, func(r *store.Reader) error {
		if firm, err = r.Firm(); err != nil {
			return err
		}
		if chosen, err = b.chosen(r, stages, going); err != nil {
			return err
		}
		for _, f := range chosen {
			s, err := f.letter(r, b.Today())
			if err != nil {
				return err
			}
			pages = append(pages, pdf.Page{Sheet: s})
		}
		return nil
	})
	if err != nil {
		return nil, p, err
	}
	file, missing, err := pdf.Write(pages, firm.NumberStyle, b.clock())
	name := "Reminders.pdf"
	if len(pages) == 1 {
		name = pages[0].Sheet.Heading + ".pdf"
	}
	return chosen, Printed{name, file, missing}, err
}

// chosen are the reminders to some customers, by stage; a stage of 0 is the one
// that would be taken.
func (b *Book) chosen(r *store.Reader, stages map[int64]int64, going bool) (chosen []ReminderFor, err error) {
	all, _, err := b.remindersOf(r, slices.Collect(maps.Keys(stages)), going)
	if err != nil {
		return nil, err
	}
	known, err := stagesInUse(r)
	if err != nil {
		return nil, err
	}
	for _, f := range all {
		if id := stages[f.Party.ID]; id != 0 {
			n := slices.IndexFunc(known, func(s master.ReminderStage) bool { return s.ID == id })
			if n < 0 {
				return nil, posting.Refusals{{Field: "stage", Rule: "missing", Text: "There is no such stage in use. Choose another."}}
			}
			f.Stage = known[n]
		}
		chosen = append(chosen, f)
	}
	if len(chosen) < len(stages) {
		return nil, posting.Refusals{{Field: "customers", Rule: "nothing overdue", Text: "Somebody of these is not to be reminded any more: nothing of theirs is overdue, it is disputed, or a reminder waits in the outbox. Look at the list again."}}
	}
	return chosen, nil
}

// Remind writes a mail to each customer, or, where they are handed over on paper,
// keeps at once that they were reminded. It returns how many, posting.Refusals or
// an error.
func (b *Book) Remind(ctx context.Context, user int64, stages map[int64]int64, byMail bool, when MailWhen) (int, error) {
	chosen, err := b.chosen(b.Read(ctx), stages, false)
	if err != nil {
		return 0, err
	}
	for n, f := range chosen {
		if byMail {
			_, err = b.mailReminder(ctx, user, f, when)
		} else {
			err = b.change(ctx, rights.ToKeepBooks, func(tx *store.Tx) error { return b.remindedOf(tx, user, f, "on paper") })
		}
		if err != nil {
			return n, err
		}
	}
	return len(chosen), nil
}

func (b *Book) mailReminder(ctx context.Context, user int64, f ReminderFor, when MailWhen) (int64, error) {
	w := MailWanted{MailWhen: when, PartyID: f.Party.ID, Content: MailContent{Reminder: f.Stage.ID}}
	for _, i := range f.Items {
		w.Papers = append(w.Papers, i.PaperID)
	}
	slices.Sort(w.Papers)
	w.Papers = slices.Compact(w.Papers)
	w, err := b.ProposeMail(ctx, w)
	if err != nil {
		return 0, err
	}
	return b.QueueMail(ctx, user, w)
}

// remindedOf keeps that a customer was reminded, on each paper.
func (b *Book) remindedOf(tx *store.Tx, user int64, f ReminderFor, how string) error {
	act := store.Act{UserID: user, Action: Reminded, Summary: fmt.Sprintf("%s: %s, %s", f.Stage.Name, f.Party.Name, how)}
	if err := tx.Record(&act, b.clock()); err != nil {
		return err
	}
	told := map[int64]bool{}
	for _, i := range f.Items {
		if told[i.PaperID] {
			continue
		}
		told[i.PaperID] = true
		if err := tx.RecordEvent(act.ID, store.Event{PaperID: i.PaperID, Day: b.Today(), Event: Reminded, Text: f.Stage.Name + ": " + how}); err != nil {
			return err
		}
	}
	return nil
}

// reminderOf is the letter of a mail, as things stand when it goes.
func (b *Book) reminderOf(ctx context.Context, party, stage int64) (ReminderFor, outgoing.File, error) {
	chosen, p, err := b.letters(ctx, map[int64]int64{party: stage}, true)
	if _, refused := err.(posting.Refusals); refused {
		return ReminderFor{}, outgoing.File{}, &outgoing.Error{Text: "nothing of theirs is overdue any more", Final: true}
	}
	if err != nil {
		return ReminderFor{}, outgoing.File{}, err
	}
	return chosen[0], outgoing.File{Name: p.Name, Type: "application/pdf", Content: p.File}, nil
}

// reminderFields are what the fields of a reminder's template say.
func (b *Book) reminderFields(r *store.Reader, w MailWanted, f mail.Fields) error {
	chosen, err := b.chosen(r, map[int64]int64{w.PartyID: w.Content.Reminder}, false)
	if err != nil {
		return err
	}
	firm, err := r.Firm()
	if err != nil {
		return err
	}
	cur, err := r.Currency()
	f["kind"], f["words"], f["date"] = chosen[0].Stage.Name, chosen[0].Stage.Words, firm.DateStyle.Show(b.Today())
	var left []string
	for _, sum := range chosen[0].sums() {
		in := cur.In(sum.code)
		left = append(left, in.Show(sum.amount)+" "+in.Code)
	}
	f["left"] = strings.Join(left, " and ")
	return err
}
