package banking_test

import (
	"strings"
	"testing"

	"cleantally/core/banking"
	"cleantally/core/money"
	"cleantally/core/posting"
)

var eur = money.Currency{Code: "EUR", Places: 2}

// What a line may be, the best first, with what speaks for and against it.
func TestPropose(t *testing.T) {
	all := []banking.Known{
		{Item: 1, Kind: posting.Invoice, Number: "I26-0007", Day: "2026-11-01", PartyID: 1, Party: "Millrace Brewery", Account: "ZZ110002", Amount: 120000},
		{Item: 2, Kind: posting.Invoice, Number: "I26-0008", Day: "2026-11-02", PartyID: 2, Party: "Dunmarrow Builders", Amount: 117600},
		{Item: 3, Kind: posting.Invoice, Number: "I26-00", Day: "2026-11-02", PartyID: 3, Party: "Somebody", Amount: 5},
		{Movement: 9, Kind: posting.Receipt, Number: "R26-0001", Day: "2026-11-18", PartyID: 1, Party: "Millrace Brewery", Amount: 117600},
		{Movement: 8, Kind: posting.Refund, Number: "F26-0001", Day: "2026-11-18", PartyID: 4, Party: "Vesper Lane Surgery", Cheque: "000101", Amount: -7000},
	}
	for name, x := range map[string]struct {
		said    banking.Said
		want    string // the numbers, in order
		speaks  string // of the first
		against string
	}{
		"posted already":          {banking.Said{Day: "2026-11-19", Amount: 117600, Name: "MILLRACE BREWERY LTD"}, "R26-0001 I26-0007 I26-0008", "posted already, to the cent", ""},
		"by its number":           {banking.Said{Day: "2026-11-19", Amount: 50000, Text: "paying I26-0007 in part", Name: "Millrace"}, "I26-0007", "it names I26-0007", "700.00 less than is open"},
		"another's name":          {banking.Said{Day: "2026-11-19", Amount: 117600, Name: "Odalys Brandt", Text: "I26-0008"}, "I26-0008 R26-0001", "the amount fits", "the name is another's: Odalys Brandt"},
		"by its account":          {banking.Said{Day: "2026-11-19", Amount: 1, Account: "ZZ11 0002"}, "I26-0007", "from the account of Millrace Brewery", "1,199.99 less"},
		"a cheque":                {banking.Said{Day: "2026-11-19", Amount: -7000, Text: "CHEQUE 101"}, "F26-0001", "it names cheque 000101", ""},
		"long ago":                {banking.Said{Day: "2027-02-19", Amount: -7000, Text: "CHEQUE 101"}, "F26-0001", "it names cheque 000101", "posted on 18 Nov 2026"},
		"a part of a number":      {banking.Said{Day: "2026-11-19", Amount: 333, Text: "I26-00071"}, "", "", ""},
		"nothing":                 {banking.Said{Day: "2026-11-19", Amount: 42}, "", "", ""},
		"a movement, not so much": {banking.Said{Day: "2026-11-19", Amount: 117500, Text: "R26-0001"}, "", "", ""},
	} {
		var numbers []string
		found := banking.Propose(x.said, all, eur)
		for _, p := range found {
			numbers = append(numbers, p.Number)
		}
		if got := strings.Join(numbers, " "); got != x.want {
			t.Errorf("%s: %q, want %q", name, got, x.want)
			continue
		}
		if len(found) > 0 && (!strings.Contains(strings.Join(found[0].For, ", "), x.speaks) || x.against == "" != (len(found[0].Against) == 0) || !strings.Contains(strings.Join(found[0].Against, ", "), x.against)) {
			t.Errorf("%s: for %q, against %q", name, found[0].For, found[0].Against)
		}
	}
}
