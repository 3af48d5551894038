package day

import "testing"

const today = Day("2026-11-20") // a Friday

func TestUnderstand(t *testing.T) {
	for text, want := range map[string]Day{
		"20": today, "20/11": today, "20 nov": today, "20. November": today, "today": today, "fri": today,
		"yesterday": "2026-11-19", "thu": "2026-11-19", "sat": "2026-11-14", "2": "2026-12-02", "7": "2026-11-07",
		"2/1": "2027-01-02", "31/12/25": "2025-12-31", "1.2.2026": "2026-02-01", "2026-03-01": "2026-03-01",
		"30 may": "2026-05-30", "31": "2026-10-31",
	} {
		if got, err := Understand(text, today, InWords); err != nil || got != want {
			t.Errorf("Understand(%q) = %s, %v; want %s", text, got, err, want)
		}
	}
	for _, text := range []string{"31 feb", "31/2", "2026-02-31", "32", "20/13", "soon", "", "2026-13-01", "1/1/1800", "99 nov"} {
		if got, err := Understand(text, today, InWords); err == nil {
			t.Errorf("Understand(%q) = %s, want a refusal", text, got)
		}
	}
}

func TestMonthFirst(t *testing.T) {
	for text, want := range map[string]Day{"11/20/2026": "2026-11-20", "2/3": "2027-02-03", "20": "2026-11-20", "3 dec": "2026-12-03", "2026-11-20": "2026-11-20"} {
		if got, err := Understand(text, today, MonthFirst); err != nil || got != want {
			t.Errorf("month first: Understand(%q) = %s, %v; want %s", text, got, err, want)
		}
	}
}

func TestUnderstandDue(t *testing.T) {
	for text, want := range map[string]Day{
		"30 days": "2026-12-10", "30d": "2026-12-10", "+7": "2026-11-17", "+ 14 days": "2026-11-24", "end of month": "2026-11-30", "End of month 15": "2026-12-15", "20/12": "2026-12-20",
	} {
		if got, err := UnderstandDue(text, "2026-11-10", today, InWords); err != nil || got != want {
			t.Errorf("UnderstandDue(%q) = %s, %v; want %s", text, got, err, want)
		}
	}
}

func TestParseRefusesDaysThatDoNotExist(t *testing.T) {
	for _, s := range []string{"2026-02-29", "2026-11-31", "2026-1-1", "20261120", "2026-00-10", "0000-01-01"} {
		if d, err := Parse(s); err == nil {
			t.Errorf("Parse(%q) = %s, want a refusal", s, d)
		}
	}
	if d, err := Parse("2028-02-29"); err != nil || d.EndOfMonth() != d || d.Add(1) != "2028-03-01" || Day("2028-03-01").Since(d) != 1 {
		t.Errorf("29 Feb 2028: %s, %v", d, err)
	}
}

func FuzzUnderstand(f *testing.F) {
	f.Add("20 nov")
	f.Add("end of month 15")
	f.Fuzz(func(t *testing.T, text string) {
		d, err := UnderstandDue(text, today, today, InWords)
		if err != nil {
			return
		}
		if again, err := Parse(string(d)); err != nil || again != d {
			t.Fatalf("%q understood as %q, which is no day: %v", text, d, err)
		}
	})
}

// A walk by days comes to the same as the calendar's.
func TestAddOneByOne(t *testing.T) {
	d := Day("1999-12-25")
	for n := range 3000 {
		if want := Of(Day("1999-12-25").Time().AddDate(0, 0, n)); d != want {
			t.Fatalf("after %d days it is %s, want %s", n, d, want)
		}
		d = d.Add(1)
	}
}

// What passes as a day is one, and reads as it was written.
func FuzzParse(f *testing.F) {
	f.Add("2026-11-1x")
	f.Add("2026-11-20")
	f.Fuzz(func(t *testing.T, text string) {
		d, err := Parse(text)
		if err == nil && (string(d) != text || Of(d.Time()) != d) {
			t.Errorf("%q passed as the day %q", text, d)
		}
	})
}
