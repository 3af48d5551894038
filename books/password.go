package books

import (
	_ "embed"
	"slices"
	"strings"
	"unicode"
	"unicode/utf8"
)

// Lengths of a password, in characters (ASVS 2.1.1, 2.1.2). No other rule is
// made: what is long and not common is good.
const (
	leastPassword = 12
	mostPassword  = 128
)

// common are words that passwords are made of too often, a line each.
//
//go:embed common.txt
var common string

// password refuses a password that is short, or that others would try first.
func (v *validation) password(field, password string, about ...string) {
	n := utf8.RuneCountInString(password)
	switch {
	case n < leastPassword:
		v.refuse(field, "too short", "A password has at least %d characters. A few words in a row are good.", leastPassword)
	case n > mostPassword:
		v.refuse(field, "too long", "A password has at most %d characters.", mostPassword)
	case isCommon(password, about):
		v.refuse(field, "common", "This password is one that others try first. A few words in a row that have nothing to do with each other are good.")
	}
}

// isCommon tells whether all that a password says is a common word, what it is
// about, or a run of characters, however often that is repeated and whatever is
// put in place of its letters or at its ends.
func isCommon(password string, about []string) bool {
	noLetter := func(r rune) bool { return !unicode.IsLetter(r) }
	words := strings.Fields(common)
	for _, w := range about {
		words = append(words, plainly(w))
	}
	// What stands at the ends is left out as it was written, or as it is read.
	for _, core := range []string{plainly(strings.TrimFunc(password, noLetter)), strings.TrimFunc(plainly(password), noLetter)} {
		if core = period(core); utf8.RuneCountInString(core) < 4 || isRun(core) {
			return true
		}
		if slices.Contains(words, core) {
			return true
		}
	}
	return isRun(period(plainly(password)))
}

// plainly is a text without what is put in place of letters.
func plainly(s string) string {
	return strings.NewReplacer("0", "o", "1", "i", "3", "e", "4", "a", "5", "s", "7", "t", "$", "s", "@", "a", "!", "i", " ", "", ".", "", "-", "", "_", "").Replace(strings.ToLower(s))
}

// period is what a text repeats from its beginning to its end; the text itself
// where it repeats nothing.
func period(s string) string {
	for n := 1; n <= len(s)/2; n++ {
		if len(s)%n == 0 && strings.Repeat(s[:n], len(s)/n) == s {
			return s[:n]
		}
	}
	return s
}

// isRun tells whether a text goes along the alphabet, the digits or a row of
// keys, forwards or backwards, as a whole.
func isRun(s string) bool {
	rows := []string{"abcdefghijklmnopqrstuvwxyz", "1234567890", "qwertyuiop", "qwertzuiop", "asdfghjkl", "zxcvbnm", "yxcvbnm", "qwertyuiopasdfghjklzxcvbnm", "qwertzuiopasdfghjklyxcvbnm", "1qaz2wsx3edc4rfv5tgb"}
	for _, row := range rows {
		row = plainly(row)
		if strings.Contains(row+row, s) || strings.Contains(reversed(row+row), s) {
			return true
		}
	}
	return false
}

func reversed(s string) string {
	r := []rune(s)
	for i, j := 0, len(r)-1; i < j; i, j = i+1, j-1 {
		r[i], r[j] = r[j], r[i]
	}
	return string(r)
}
