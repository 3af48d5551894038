package ratefile

import (
	"fmt"
	"strings"
	"testing"

	"cleantally/core/posting"
)

func told(rates []posting.Rate) string {
	var all []string
	for _, r := range rates {
		all = append(all, fmt.Sprintf("%s %s %s", r.Day, r.Currency, r.Rate))
	}
	return strings.Join(all, "; ")
}

const published = `<?xml version="1.0" encoding="UTF-8"?>
<gesmes:Envelope xmlns:gesmes="http://www.gesmes.org/xml/2002-08-01" xmlns="http://www.ecb.int/vocabulary/2002-08-01/eurofxref">
<gesmes:subject>Reference rates</gesmes:subject>
<Cube><Cube time="2026-11-20"><Cube currency="USD" rate="1.0870"/><Cube currency="JPY" rate="163.93"/></Cube>
<Cube time="2026-11-19"><Cube currency="USD" rate="1.1111"/></Cube></Cube></gesmes:Envelope>`

func TestRead(t *testing.T) {
	for name, c := range map[string]struct{ file, firm, want string }{
		"a published file":                    {published, "EUR", "2026-11-19 USD 0.900009; 2026-11-20 USD 0.9199632; 2026-11-20 JPY 0.00610016"},
		"by way of the euro":                  {strings.Replace(published, `<Cube time="2026-11-19"><Cube currency="USD" rate="1.1111"/></Cube>`, "", 1), "USD", "2026-11-20 EUR 1.087; 2026-11-20 JPY 0.00663088"},
		"commas":                              {"currency,date,rate\nUSD,2026-11-20,0.92\nGBP,2026-11-20,1.15\n", "EUR", "2026-11-20 USD 0.92; 2026-11-20 GBP 1.15"},
		"semicolons, other order, a mark":     {"\xef\xbb\xbfDate; Rate; Currency\n2026-11-20; 0,92; usd\n\n", "EUR", "2026-11-20 USD 0.92"},
		"more places than a rate may have":    {"currency,date,rate\nUSD,2026-11-20,0.123456789\n", "EUR", "! line 2: the rate 0.123456789 of USD is out of bounds"},
		"nil":                                 {"currency,date,rate\nUSD,2026-11-20,0\n", "EUR", "! line 2: the rate 0 of USD"},
		"10⁹":                                 {"currency,date,rate\nUSD,2026-11-20,1000000000\n", "EUR", "! line 2: the rate 1000000000"},
		"no such currency":                    {"currency,date,rate\nUSX,2026-11-20,1\n", "EUR", "! line 2: there is no currency USX"},
		"the firm's own":                      {"currency,date,rate\nEUR,2026-11-20,1\n", "EUR", "! line 2: EUR is the firm's own"},
		"no such day":                         {"currency,date,rate\nUSD,2026-02-30,1\n", "EUR", "! line 2:"},
		"another head":                        {"cur,date,rate\nUSD,2026-11-20,1\n", "EUR", `! there is no column "currency"`},
		"nothing":                             {"", "EUR", "! the file is empty"},
		"XML of another kind":                 {"<a><b/></a>", "EUR", "! this is no file of reference rates"},
		"XML cut off":                         {published[:300], "EUR", "! this is no file of reference rates"},
		"rates that leave the firm's own out": {published, "CHF", "! the rates of 2026-11-20 say nothing of CHF"},
	} {
		rates, err := Read([]byte(c.file), c.firm)
		got := told(rates)
		if err != nil {
			got = "! " + err.Error()
		}
		if !same(got, c.want) {
			t.Errorf("%s: %q, want %q", name, got, c.want)
		}
	}
}

// same compares with what a refusal begins with.
func same(got, want string) bool {
	if strings.HasPrefix(want, "!") {
		return strings.HasPrefix(got, want)
	}
	return got == want
}

func FuzzRead(f *testing.F) {
	f.Add([]byte(published), "EUR")
	f.Add([]byte("currency;date;rate\nUSD;2026-11-20;0,92\n"), "EUR")
	f.Fuzz(func(t *testing.T, file []byte, firm string) {
		rates, err := Read(file, firm)
		if err != nil && len(rates) > 0 {
			t.Error("an error and rates beside it")
		}
		for _, r := range rates {
			if !posting.RateFits(r.Rate) || r.Currency == firm {
				t.Errorf("%+v is no rate of %s", r, firm)
			}
		}
	})
}
