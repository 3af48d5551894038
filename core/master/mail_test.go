package master_test

import (
	"testing"

	"cleantally/core/master"
)

// A customer is reminded by one stage after the other, each when it is time.
func TestStageFor(t *testing.T) {
	stages := []master.ReminderStage{{Name: "first", Days: 3}, {Name: "second", Days: 21}, {Name: "last", Days: 42}}
	for _, x := range []struct {
		days  int
		last  string
		since int
		place int
		time  bool
	}{
		{2, "", 0, -1, false},
		{3, "", 0, 0, true},
		{60, "", 0, 0, true}, // nobody begins with the last
		{20, "first", 17, 0, false},
		{60, "first", 17, 1, false},
		{60, "first", 18, 1, true},
		{60, "second", 21, 2, true},
		{400, "last", 300, 2, false},
		{5, "second", 90, 1, false}, // what is overdue now is younger
		{60, "by telephone", 1, 0, true},
	} {
		if place, time := master.StageFor(stages, x.days, x.last, x.since); place != x.place || time != x.time {
			t.Errorf("%d days overdue, %q %d days ago: stage %d, %v; want %d, %v", x.days, x.last, x.since, place, time, x.place, x.time)
		}
	}
	if place, time := master.StageFor(nil, 60, "first", 30); place != -1 || time {
		t.Errorf("without stages: %d, %v", place, time)
	}
}
