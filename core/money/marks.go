package money

import "strings"

// Marks are how a firm writes numbers, told by how it writes 1234.56. The zero
// value is PointMarks.
type Marks string

// The ways of writing numbers.
const (
	PointMarks Marks = "1,234.56"
	CommaMarks Marks = "1.234,56"
	SpaceMarks Marks = "1 234,56"
	HighMarks  Marks = "1’234.56"
)

// AllMarks lists every way of writing numbers.
var AllMarks = []Marks{PointMarks, CommaMarks, SpaceMarks, HighMarks}

// marks returns what stands between thousands and before the decimal places. A
// space does not break.
func (m Marks) marks() (group, decimal string) {
	switch m {
	case CommaMarks:
		return ".", ","
	case SpaceMarks:
		return "\u00a0", ","
	case HighMarks:
		return "’", "."
	}
	return ",", "."
}

// Show writes a plain decimal string for people.
func (m Marks) Show(plain string) string {
	group, point := m.marks()
	plain, below := strings.CutPrefix(plain, "-")
	whole, rest, dotted := strings.Cut(plain, ".")
	var b strings.Builder
	if below {
		b.WriteString("−")
	}
	for i, r := range whole {
		if i > 0 && (len(whole)-i)%3 == 0 {
			b.WriteString(group)
		}
		b.WriteRune(r)
	}
	if dotted {
		b.WriteString(point + rest)
	}
	return b.String()
}
