package books

import (
	"fmt"
	"strings"
	"unicode/utf8"

	"cleantally/core/posting"
)

// A validation collects why a record cannot be stored.
type validation struct{ refusals posting.Refusals }

// A field is one of several that are looked at alike, in the order of their form:
// the first that is wrong is gone to.
type field[T any] struct {
	name string
	of   T
}

func (v *validation) refuse(field, rule, format string, args ...any) {
	v.refusals = append(v.refusals, posting.Notice{Field: field, Rule: rule, Text: fmt.Sprintf(format, args...)})
}

// text trims a text and refuses it when it is missing though required, or
// longer than most characters.
func (v *validation) text(field string, s *string, required bool, most int) {
	*s = strings.TrimSpace(strings.ToValidUTF8(*s, ""))
	name := strings.ToUpper(field[:1]) + field[1:]
	if *s == "" && required {
		v.refuse(field, "missing", "%s is missing. Write one.", name)
	}
	if n := utf8.RuneCountInString(*s); n > most {
		v.refuse(field, "too long", "%s has %d characters; at most %d fit. Shorten it.", name, n, most)
	}
	if strings.ContainsRune(*s, 0) {
		v.refuse(field, "not text", "%s holds a character that is no text.", name)
	}
}

// unique refuses a value that another record has.
func (v *validation) unique(field, value string, id, other int64, there bool) {
	if there && other != id {
		v.refuse(field, "taken", "%s %s is taken. Choose another.", strings.ToUpper(field[:1])+field[1:], value)
	}
}

// err returns the refusals as an error, or nil.
func (v *validation) err() error {
	if len(v.refusals) > 0 {
		return v.refusals
	}
	return nil
}

// country refuses what is no country's code.
func (v *validation) country(field string, code *string) {
	*code = strings.ToUpper(strings.TrimSpace(*code))
	if *code != "" && (len(*code) != 2 || strings.Trim(*code, "ABCDEFGHIJKLMNOPQRSTUVWXYZ") != "") {
		v.refuse(field, "form", "A country is written with its two letters, DE or IE for one.")
	}
}
