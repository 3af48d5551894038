package money

import (
	"errors"
	"fmt"
	"strings"
	"unicode"

	"github.com/shopspring/decimal"
)

// Understand reads what a person typed into an amount field: a number with
// either decimal mark where that is not ambiguous, or a sum such as
// "1200*0.4" or "86,40+12". A sum is rounded once, at its end.
func (c Currency) Understand(text string) (Amount, error) {
	d, computed, err := evaluate(text, c.Places, c.Marks)
	if err != nil {
		return 0, err
	}
	if computed {
		return c.bounded(d)
	}
	return c.exact(d)
}

// UnderstandDecimal reads a quantity, price, percentage or rate the same way,
// with at most the given number of places.
func UnderstandDecimal(text string, places int32, marks Marks) (decimal.Decimal, error) {
	d, computed, err := evaluate(text, places, marks)
	if err != nil {
		return d, err
	}
	if computed {
		return d.Round(places), nil
	}
	if !d.Equal(d.Round(places)) {
		return d, fmt.Errorf("%s has more than %d places", d, places)
	}
	return d, nil
}

// A sum is read by descent: terms of factors of numbers.
type sum struct {
	text     []rune
	at       int
	places   int32
	marks    Marks
	computed bool
	depth    int
}

func evaluate(text string, places int32, marks Marks) (decimal.Decimal, bool, error) {
	text = strings.ReplaceAll(strings.TrimSpace(text), "−", "-")
	if text == "" {
		return decimal.Zero, false, errors.New("nothing is written here")
	}
	if len(text) > 60 {
		return decimal.Zero, false, errors.New("that is too long for an amount")
	}
	s := &sum{text: []rune(text), places: places, marks: marks}
	d, err := s.terms()
	if err == nil && s.peek() != 0 {
		err = fmt.Errorf("%q is not understood", string(s.text[s.at:]))
	}
	return d, s.computed, err
}

func (s *sum) peek() rune {
	for s.at < len(s.text) && unicode.IsSpace(s.text[s.at]) {
		s.at++
	}
	if s.at == len(s.text) {
		return 0
	}
	return s.text[s.at]
}

func (s *sum) terms() (decimal.Decimal, error) {
	if s.depth++; s.depth > 20 {
		return decimal.Zero, errors.New("that sum is too deep")
	}
	d, err := s.factors()
	for err == nil {
		op := s.peek()
		if op != '+' && op != '-' {
			return d, nil
		}
		s.at++
		s.computed = true
		var next decimal.Decimal
		if next, err = s.factors(); op == '+' {
			d = d.Add(next)
		} else {
			d = d.Sub(next)
		}
	}
	return d, err
}

func (s *sum) factors() (decimal.Decimal, error) {
	d, err := s.number()
	for err == nil {
		op := s.peek()
		if op != '*' && op != '×' && op != '/' && op != '÷' {
			return d, nil
		}
		s.at++
		s.computed = true
		var next decimal.Decimal
		if next, err = s.number(); err != nil {
			return d, err
		}
		if op == '*' || op == '×' {
			d = d.Mul(next)
		} else if next.IsZero() {
			return d, errors.New("a sum cannot divide by nil")
		} else {
			d = d.DivRound(next, 20)
		}
	}
	return d, err
}

func (s *sum) number() (decimal.Decimal, error) {
	switch r := s.peek(); {
	case r == '-':
		if s.depth++; s.depth > 20 {
			return decimal.Zero, errors.New("that sum is too deep")
		}
		s.at++
		d, err := s.number()
		return d.Neg(), err
	case r == '(':
		s.at++
		s.computed = true
		d, err := s.terms()
		if err == nil && s.peek() != ')' {
			err = errors.New("a bracket is not closed")
		}
		s.at++
		return d, err
	}
	start := s.at
	for s.at < len(s.text) && strings.ContainsRune("0123456789.,'’ \u00a0\u202f", s.text[s.at]) {
		s.at++
	}
	written := strings.Trim(string(s.text[start:s.at]), " \u00a0\u202f")
	if written == "" {
		return decimal.Zero, fmt.Errorf("%q is not an amount", string(s.text))
	}
	return readNumber(written, s.places, s.marks)
}

// readNumber decides which mark is the decimal one. Two different marks: the
// last is. One mark that stands several times groups thousands. A comma before
// exactly three digits groups thousands unless the places allow it to be a
// decimal mark, where it is refused; a dot there is a decimal mark only if the
// places allow it, and is refused else. Where the firm writes a decimal comma, a
// comma is that, and a dot before three digits groups.
func readNumber(written string, places int32, marks Marks) (decimal.Decimal, error) {
	plain := withoutSpace.Replace(written)
	dot, comma := strings.LastIndexByte(plain, '.'), strings.LastIndexByte(plain, ',')
	mark := ""
	_, own := marks.marks()
	switch {
	case dot >= 0 && comma >= 0:
		mark = string(plain[max(dot, comma)])
	case own == "," && comma >= 0 && strings.Count(plain, ",") == 1:
		mark = ","
	case own == "," && dot >= 0 && (len(plain)-dot-1 == 3 || strings.Count(plain, ".") > 1):
	case dot >= 0 && strings.Count(plain, ".") == 1:
		mark = "."
		if len(plain)-dot-1 == 3 && places < 3 && dot > 0 {
			return decimal.Zero, ambiguous(written, plain, dot)
		}
	case comma >= 0 && strings.Count(plain, ",") == 1:
		mark = ","
		if len(plain)-comma-1 == 3 && comma > 0 {
			if places >= 3 {
				return decimal.Zero, ambiguous(written, plain, comma)
			}
			mark = ""
		}
	}
	whole, fraction := plain, ""
	if mark != "" {
		at := strings.LastIndex(plain, mark)
		whole, fraction = plain[:at], plain[at+1:]
	}
	if !grouped(whole) {
		return decimal.Zero, fmt.Errorf("%q is not an amount", written)
	}
	whole = withoutMarks.Replace(whole)
	if whole+fraction == "" {
		return decimal.Zero, fmt.Errorf("%q is not an amount", written)
	}
	d, err := decimal.NewFromString("0" + whole + "." + fraction + "0")
	if err != nil {
		return decimal.Zero, fmt.Errorf("%q is not an amount", written)
	}
	return d, nil
}

// What may stand between the digits of a number. Each takes its time to be made.
var (
	withoutSpace = strings.NewReplacer(" ", "", "\u00a0", "", "\u202f", "", "'", "", "’", "")
	withoutMarks = strings.NewReplacer(".", "", ",", "")
)

func ambiguous(written, plain string, at int) error {
	return fmt.Errorf("%s can be read as %s or as %s.%s: write it with two places or without the mark",
		written, plain[:at]+plain[at+1:], plain[:at], plain[at+1:])
}

// grouped tells whether the marks in a whole number stand before groups of
// three digits and are all the same.
func grouped(whole string) bool {
	parts := strings.FieldsFunc(whole, func(r rune) bool { return r == '.' || r == ',' })
	if strings.Contains(whole, ".") && strings.Contains(whole, ",") {
		return false
	}
	if strings.Count(whole, ".")+strings.Count(whole, ",") != max(len(parts)-1, 0) {
		return false
	}
	for _, p := range parts[min(1, len(parts)):] {
		if len(p) != 3 {
			return false
		}
	}
	return true
}
