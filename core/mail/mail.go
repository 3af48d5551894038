// Package mail says with which words a paper goes out by mail, and when a mail
// that did not go is tried again (docs/rules.md, part 12). It sends nothing.
package mail

import (
	"regexp"
	"slices"
	"strings"
	"time"

	"cleantally/core/posting"
)

// Template are the words of mails: of some kinds of papers, in a language.
type Template struct {
	Name     string
	Kinds    []posting.Kind // none: of all kinds
	Language string         // as the firm calls it; "" for its own
	Subject  string         // with fields: {number}
	Text     string
}

// Statement is the kind of a mail with a statement, which is no paper. Reminder
// is that of one about all that is overdue.
const (
	Statement posting.Kind = "statement"
	Reminder  posting.Kind = "reminder"
)

// FieldNames are what a template may name in braces, in the order in which they
// are offered; words are those of a stage of reminders.
var FieldNames = []string{"kind", "number", "date", "total", "left", "due", "customer", "contact", "job", "reference", "firm", "words", "link"}

// Fields are what a template's fields say.
type Fields map[string]string

// LinkField is where the address of a link will stand, once the mail goes: no
// other place has it.
const LinkField = "link"

var field = regexp.MustCompile(`\{([a-z]+)\}`)

// Fill puts what the fields say in their places. A line whose only words were
// fields that say nothing is left out; so is what there is no field for.
func Fill(text string, f Fields) string {
	var lines []string
	for line := range strings.Lines(text) {
		end := ""
		if strings.HasSuffix(line, "\n") {
			end = "\n"
		}
		line = strings.TrimSuffix(line, "\n")
		filled := field.ReplaceAllStringFunc(line, func(name string) string {
			said, known := f[name[1:len(name)-1]]
			if !known {
				return name
			}
			return said
		})
		if strings.TrimSpace(filled) == "" && strings.TrimSpace(line) != "" {
			continue
		}
		lines = append(lines, filled+end)
	}
	filled := strings.Join(lines, "")
	for strings.Contains(filled, "\n\n\n") { // where a line was left out
		filled = strings.ReplaceAll(filled, "\n\n\n", "\n\n")
	}
	return filled
}

// Unknown are the fields that a text names and there are none of.
func Unknown(text string) []string {
	var names []string
	for _, m := range field.FindAllStringSubmatch(text, -1) {
		if !slices.Contains(FieldNames, m[1]) && !slices.Contains(names, m[1]) {
			names = append(names, m[1])
		}
	}
	return names
}

// Choose is the template for a kind of paper in a language: one of both; else
// one of the kind in the firm's own language; else one of all kinds, in the
// language and then in the firm's own; else the program's own.
func Choose(all []Template, kind posting.Kind, language string) Template {
	for _, want := range []struct {
		own, every bool
	}{{}, {own: true}, {every: true}, {own: true, every: true}} {
		for _, t := range all {
			wanted := language
			if want.own {
				wanted = ""
			}
			if strings.EqualFold(t.Language, wanted) && (want.every && len(t.Kinds) == 0 || !want.every && slices.Contains(t.Kinds, kind)) {
				return t
			}
		}
	}
	return Own(kind)
}

// Own is the template of a kind of paper that the program brings.
func Own(kind posting.Kind) Template {
	t := Template{Subject: "{kind} {number}", Text: "Dear {contact},\n\nPlease find attached our {kind} {number} of {date}."}
	switch kind {
	case posting.Invoice, posting.DepositInvoice, posting.Release:
		t.Text += "\nLeft to pay: {left}, due {due}."
	case posting.Request:
		t.Text = "Dear {contact},\n\nBefore we begin we ask for a deposit: please find attached our request {number} over {total}."
	case posting.Quote:
		t.Text = "Dear {contact},\n\nThank you for asking us. Please find attached our quote {number} of {date} over {total}."
	case posting.Receipt, posting.Deposit:
		t.Text = "Dear {contact},\n\nThank you. Please find attached our {kind} {number} for what we received on {date}: {total}."
	case posting.PurchaseOrder:
		t.Text = "Dear {contact},\n\nPlease find attached our {kind} {number} of {date}. Kindly confirm it."
	case Statement:
		t = Template{Subject: "Statement of {date}", Text: "Dear {contact},\n\nPlease find attached how things stand between us on {date}."}
	case Reminder:
		t = Template{Subject: "{kind}: {left}", Text: "Dear {contact},\n\n{words}\n\nLeft to pay on {date}: {left}. Please find attached what it is for."}
	}
	t.Text += "\n\n{link}\n\nKind regards\n{firm}\n"
	return t
}

// pauses are how long one waits before a mail is tried again, by how often it
// was tried: a day in all.
var pauses = []time.Duration{time.Minute, 5 * time.Minute, 15 * time.Minute, time.Hour, 3 * time.Hour, 8 * time.Hour, 12 * time.Hour}

// Pause is how long one waits after a mail was tried so often without getting
// away; false when it is given up.
func Pause(tries int) (time.Duration, bool) {
	if tries < 1 || tries > len(pauses) {
		return 0, false
	}
	return pauses[tries-1], true
}
