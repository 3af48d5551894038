package billing_test

import (
	"slices"
	"testing"

	"cleantally/core/billing"
	"cleantally/core/day"
)

// Month ends come right: the 31st of each month, the 29th of February, weeks,
// and the last day on which it may recur.
func TestSchedule(t *testing.T) {
	for name, c := range map[string]struct {
		schedule billing.Schedule
		from     int
		last     day.Day
		want     []day.Day
	}{
		"the 31st of each month":       {billing.Schedule{First: "2026-12-31", Every: 1, Unit: billing.Monthly}, 0, "2027-05-01", []day.Day{"2026-12-31", "2027-01-31", "2027-02-28", "2027-03-31", "2027-04-30"}},
		"a quarter from the 30th":      {billing.Schedule{First: "2027-11-30", Every: 3, Unit: billing.Monthly}, 0, "2028-08-31", []day.Day{"2027-11-30", "2028-02-29", "2028-05-30", "2028-08-30"}},
		"the 29th of February":         {billing.Schedule{First: "2028-02-29", Every: 1, Unit: billing.Yearly}, 0, "2032-03-01", []day.Day{"2028-02-29", "2029-02-28", "2030-02-28", "2031-02-28", "2032-02-29"}},
		"every second week, some made": {billing.Schedule{First: "2026-11-06", Every: 2, Unit: billing.Weekly}, 1, "2026-12-18", []day.Day{"2026-11-20", "2026-12-04", "2026-12-18"}},
		"through its last day":         {billing.Schedule{First: "2026-10-15", Every: 1, Unit: billing.Monthly, Until: "2026-12-15"}, 0, "2027-12-31", []day.Day{"2026-10-15", "2026-11-15", "2026-12-15"}},
		"not yet":                      {billing.Schedule{First: "2027-01-01", Every: 1, Unit: billing.Monthly}, 0, "2026-12-31", nil},
	} {
		if got := c.schedule.Through(c.from, c.last); !slices.Equal(got, c.want) {
			t.Errorf("%s: %v, want %v", name, got, c.want)
		}
	}
}
