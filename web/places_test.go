package web_test

import (
	"fmt"
	"strings"
	"testing"
)

// A firm keeps its books in a currency of no places, or of three, as in one of
// two: what is typed, computed, shared, printed and read has its places.
func TestPlacesOfTheFirmsOwnCurrency(t *testing.T) {
	for _, x := range []struct {
		currency                             string
		price, net, tax, total, third, small string
		places                               int
	}{
		{"JPY", "33333", "33333", "6667", "40000", "13333", "0.5", 0},
		{"BHD", "33.333", "33.333", "6.667", "40.000", "13.333", "0.0005", 3},
	} {
		t.Run(x.currency, func(t *testing.T) {
			c := unnamed(t, "")
			c.post("/setup", strings.Replace(firm, "EUR", "EUX", 1)).want(422)
			c.post("/setup", strings.Replace(firm, "EUR", x.currency, 1)).want(200)
			c.put("/firm", fmt.Sprintf(`{"name":"Sparrow","terms":%s,"taxCode":1,"country":"ZZ"}`, c.get("/firm").at("terms"))).want(200)
			c.post("/customers", `{"name":"Odalys Brandt","supplier":true,"country":"ZZ"}`).want(200)
			c.post("/jobs", fmt.Sprintf(`{"name":"Stair","customer":1,"contractSum":%q,"retention":"10"}`, x.total)).want(200)
			if s := c.get("/session").want(200); s.at("places") != fmt.Sprint(x.places) {
				t.Errorf("the session: %s", s.body)
			}
			v := c.post("/invoices?preview=true", fmt.Sprintf(`{"customer":1,"day":"2026-11-01","lines":[{"text":"a","unitPrice":%q,"taxCode":1}]}`, x.price)).want(200)
			if v.at("effect", "paper", "net") != x.net || v.at("effect", "paper", "tax") != x.tax || v.at("effect", "paper", "total") != x.total {
				t.Errorf("the invoice: %s", v.sent("effect", "paper"))
			}
			c.post("/invoices?"+seen, fmt.Sprintf(`{"customer":1,"job":1,"day":"2026-11-01","lines":[{"text":"a","unitPrice":%q,"taxCode":1}]}`, x.price)).want(200)
			c.post("/deposits?"+seen, fmt.Sprintf(`{"customer":1,"day":"2026-11-02","amount":%q,"bank":1,"method":"transfer","taxCode":1}`, x.third)).want(200)
			c.post("/deposits", fmt.Sprintf(`{"customer":1,"day":"2026-11-02","amount":%q,"bank":1,"method":"transfer"}`, x.small)).want(422)
			c.post("/deposits", `{"customer":1,"day":"2026-11-02","amount":"1.23456","bank":1,"method":"transfer"}`).want(422)
			if u := c.get("/understand?kind=amount&text=" + strings.ReplaceAll(x.total, ",", "") + "/3").want(200); u.at("value") != x.third {
				t.Errorf("a third of it is %s", u.body)
			}
			c.post("/receipts?"+seen, fmt.Sprintf(`{"customer":1,"day":"2026-11-03","arrived":%q,"bank":1,"method":"transfer","placements":[{"item":1,"amount":%q}]}`, x.third, x.third)).want(200)
			c.post("/supplier-bills?"+seen, fmt.Sprintf(`{"supplier":1,"day":"2026-11-03","reference":"X","lines":[{"text":"a","unitPrice":%q,"taxCode":1,"job":1}]}`, x.price)).want(200)
			for _, path := range []string{"/papers/1/pdf", "/customers/1/statement", "/customers/1/statement/file?format=csv", "/ageing/file?format=xlsx", "/trial-balance/file?format=csv", "/desk", "/jobs/1", "/customers/1/bench", "/allowance", "/margins", "/income", "/balance-sheet/file?format=pdf", "/tax-return?through=2026-11-30", "/expected", "/stock", "/archive"} {
				a := c.get(path).want(200)
				if x.places == 0 && strings.Contains(string(a.body), `"0.00"`) || x.places == 3 && strings.Contains(string(a.body), `"0.00"`) {
					t.Errorf("%s holds an amount of two places: %.300s", path, string(a.body)[max(0, strings.Index(string(a.body), `"0.00"`)-120):])
				}
			}
			ubl := c.get("/papers/1/ubl")
			if ubl.status == 200 && !strings.Contains(string(ubl.body), `currencyID="`+x.currency+`">`+x.total+`<`) {
				t.Errorf("the electronic invoice does not say %s", x.total)
			}
			c.post("/banks/1/typed", fmt.Sprintf(`{"closing":%q,"lines":[{"day":"2026-11-03","amount":%q,"text":"a"}]}`, x.third, x.third)).want(200)
			c.tiesOut()
		})
	}
}
