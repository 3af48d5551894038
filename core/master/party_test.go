package master

import "testing"

func TestPrinted(t *testing.T) {
	for _, c := range []struct{ address, town, want string }{
		{"3 Lower Quay\nHaverling", "Haverling", "3 Lower Quay\nHaverling"},
		{"3 Lower Quay", "Haverling", "3 Lower Quay\nHaverling"},
		{"", "Haverling", "Haverling"},
		{"3 Lower Quay", "", "3 Lower Quay"},
	} {
		if got := (Party{Address: c.address, Town: c.town}).Printed(); got != c.want {
			t.Errorf("%q in %q is printed %q, want %q", c.address, c.town, got, c.want)
		}
	}
}
