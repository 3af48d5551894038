package day

// Show writes a day as the firm does: 20 Nov 2026; "" for no day.
func (s Style) Show(d Day) string { return s.show(d, false) }

// ShowIn is Show without the year where that is the year of another day.
func (s Style) ShowIn(d, other Day) string {
	return s.show(d, d != "" && other != "" && d.Year() == other.Year())
}

func (s Style) show(d Day, short bool) string {
	if d == "" {
		return ""
	}
	t := d.Time()
	full, brief := "2 Jan 2006", "2 Jan"
	switch s {
	case Dotted:
		full, brief = "02.01.2006", "02.01."
	case DayFirst:
		full, brief = "02/01/2006", "02/01"
	case MonthFirst:
		full, brief = "01/02/2006", "01/02"
	case YearFirst:
		return string(d)
	}
	if short {
		return t.Format(brief)
	}
	return t.Format(full)
}
