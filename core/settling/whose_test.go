package settling_test

import (
	"fmt"
	"strings"
	"testing"

	"cleantally/core/money"
	"cleantally/core/settling"
)

func TestWhose(t *testing.T) {
	candidates := []settling.Candidate{
		{PartyID: 1, Name: "Odalys Brandt", Number: "I26-0037", Open: 744000},
		{PartyID: 1, Name: "Odalys Brandt", Number: "I26-0040", Open: 36350},
		{PartyID: 2, Name: "Pemberlow Hotel", Number: "I26-0031", Open: 36350},
		{PartyID: 3, Name: "The Oak & Co"},
		{PartyID: 4, Name: "Corvane Interiors", Number: "I26-0044", Open: 5},
	}
	for text, want := range map[string]string{
		"STAIRS THANK YOU":        "1: I26-0040 has exactly 363.50 open; 2: I26-0031 has exactly 363.50 open",
		"brandt i26-0037":         "1: “Brandt” is in the text, I26-0037 is named, I26-0040 has exactly 363.50 open; 2: I26-0031 has exactly 363.50 open",
		"PEMBERLOW HOTEL MAIN ST": "2: “Pemberlow” is in the text, I26-0031 has exactly 363.50 open; 1: I26-0040 has exactly 363.50 open",
		"from the oak":            "1: I26-0040 has exactly 363.50 open; 2: I26-0031 has exactly 363.50 open",
	} {
		var got []string
		for _, g := range settling.Whose(text, 36350, candidates, func(a money.Amount) string { return fmt.Sprintf("%d.%02d", a/100, a%100) }) {
			got = append(got, fmt.Sprintf("%d: %s", g.PartyID, strings.Join(g.Reasons, ", ")))
		}
		if strings.Join(got, "; ") != want {
			t.Errorf("%s: %s", text, strings.Join(got, "; "))
		}
	}
}
