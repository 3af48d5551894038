package web_test

import (
	"fmt"
	"testing"
)

func creditOf(paper int, day, rest string) string {
	return fmt.Sprintf(`{"paper":%d,"day":%q,"cause":"fault"%s}`, paper, day, rest)
}

func linesOf(paper int, lines string) string {
	return creditOf(paper, "2026-11-20", `,"what":"lines","lines":[`+lines+`]`)
}

// What is taken back, in situations that stand in no example: each was worked
// out by hand before it was run, is previewed and posted, and ties out on every
// day.
func TestFiguresOfTakingBack(t *testing.T) {
	inside := `{"customer":1,"day":"2026-10-02","includes":true,"lines":[{"text":"a","unitPrice":"100","taxCode":1},{"text":"b","unitPrice":"55.55","taxCode":2},{"text":"c","unitPrice":"10","taxCode":3}]}`
	early := `{"customer":1,"day":"2026-10-02","lines":[{"text":"a","unitPrice":"333.33","taxCode":1},{"text":"b","unitPrice":"111.11","taxCode":2}]}`
	for name, s := range map[string]struct {
		first  func(c *client)
		steps  []step
		sights []sight
	}{
		// 40.00 of 100.00 with 16.67: 6.67; 33.33 of 60.00 with 10.00: 5.56; the rest.
		"tax inside the prices, three rates, by amounts": {nil, []step{
			{"/invoices", inside, entry("Dr 120 165.55, Cr 401 83.33, Cr 401 50.50, Cr 401 10.00, Cr 241 16.67, Cr 241 5.05")},
			{"/credit-notes", linesOf(1, `{"position":1,"amount":"40"}`), entry("Dr 401 33.33, Dr 241 6.67, Cr 120 40.00")},
			{"/credit-notes", linesOf(1, `{"position":1,"amount":"33.33"}`), entry("Dr 401 27.77, Dr 241 5.56, Cr 120 33.33")},
			{"/credit-notes", linesOf(1, `{"position":1,"amount":"26.68"}`), entry("!lines[0].amount more than is left 26.67")},
			{"/credit-notes", linesOf(1, ``), entry("!lines missing")},
			{"/credit-notes", creditOf(1, "2026-11-20", ""), entry("Dr 401 22.23, Dr 401 50.50, Dr 401 10.00, Dr 241 4.44, Dr 241 5.05, Cr 120 92.22")},
		}, []sight{sees("/customers/1", "0.00", "position", "net")}},
		// 10 % of 99.99 off: 89.99, its pieces 30.00, 30.00 (of 59.99) and 29.99; the tax 18.00 by sixes.
		"a paper discount, piece by piece": {nil, []step{
			{"/invoices", `{"customer":1,"day":"2026-11-02","discountPercent":"10","lines":[{"text":"a","quantity":"3","unitPrice":"33.33","taxCode":1}]}`, entry("Dr 120 107.99, Cr 401 89.99, Cr 241 18.00")},
			{"/credit-notes", linesOf(1, `{"position":1,"quantity":"1"}`), entry("Dr 401 30.00, Dr 241 6.00, Cr 120 36.00")},
			{"/credit-notes", linesOf(1, `{"position":1,"quantity":"1"}`), entry("Dr 401 30.00, Dr 241 6.00, Cr 120 36.00")},
			{"/credit-notes", linesOf(1, `{"position":1,"quantity":"1.000001"}`), entry("!lines[0].quantity more than is left 1")},
			{"/credit-notes", linesOf(1, `{"position":1,"quantity":"1"}`), entry("Dr 401 29.99, Dr 241 6.00, Cr 120 35.99")},
		}, nil},
		// 1,077.30 × 5.60 ÷ 85.50.
		"a lower price of a line with a discount": {nil, []step{
			{"/invoices", `{"customer":1,"day":"2026-11-02","lines":[{"text":"a","quantity":"14","unitPrice":"85.50","discountPercent":"10","taxCode":1}]}`, entry("Dr 120 1292.76, Cr 401 1077.30, Cr 241 215.46")},
			{"/credit-notes", linesOf(1, `{"position":1,"price":"79.90"}`), entry("Dr 401 70.56, Dr 241 14.11, Cr 120 84.67")},
			{"/credit-notes", linesOf(1, `{"position":1,"price":"85.50"}`), entry("!lines[0].price not lower 85.5")},
			{"/credit-notes", linesOf(1, `{"position":1,"price":"79.9","quantity":"1"}`), entry("!lines[0].amount one of them")},
		}, nil},
		"retention whose tax was due at once": {func(c *client) {
			c.put("/jobs/1", `{"name":"Stair","customer":1,"contractSum":"40000.00","retention":"5"}`).want(200)
		}, []step{
			{"/invoices", `{"customer":1,"job":1,"day":"2026-11-02","lines":[{"text":"a","unitPrice":"10000","taxCode":1}]}`, entry("Dr 120 11500.00, Dr 124 500.00, Cr 401 10000.00, Cr 241 2000.00")},
			{"/credit-notes", creditOf(1, "2026-11-20", `,"what":"work","work":"3333.33"`), entry("Dr 401 3333.33, Dr 241 666.67, Cr 124 166.67, Cr 120 3833.33")},
			{"/credit-notes", creditOf(1, "2026-11-20", `,"what":"work","work":"6666.68"`), entry("!work more than is left 6666.67")},
			{"/credit-notes", creditOf(1, "2026-11-20", `,"what":"work","work":"250","fromRetention":true`), entry("Dr 401 250.00, Dr 241 50.00, Cr 124 300.00")},
			{"/credit-notes", creditOf(1, "2026-11-20", ""), entry("Dr 401 6416.67, Dr 241 1283.33, Cr 124 33.33, Cr 120 7666.67")},
		}, []sight{sees("/customers/1", "0.00", "position", "keepsBack"), sees("/jobs/1", "40000.00", "leftToBill")}},
		// 12.00 with 2.00 and 3.67 with 0.33 were taken off.
		"an early discount over two rates, all of it credited": {func(c *client) {
			c.post("/terms", `{"name":"3 % early","kind":"days","days":30,"discountPercent":"3","discountDays":10}`).want(200)
			c.put("/customers/1", `{"name":"Odalys Brandt","terms":`+c.termsCalled("3 % early")+`}`).want(200)
		}, []step{
			{"/invoices", early, entry("Dr 120 522.22, Cr 401 333.33, Cr 401 111.11, Cr 241 66.67, Cr 241 11.11")},
			{"/receipts", receipt(1, "2026-10-05", "506.55", `,"placements":[{"item":1,"amount":"506.55","discount":true}]`), entry("Dr 101 506.55, Dr 491 13.34, Dr 241 2.00, Dr 241 0.33, Cr 120 522.22")},
			{"/credit-notes", creditOf(1, "2026-11-20", ""), entry("Dr 401 333.33, Dr 401 111.11, Dr 241 64.67, Dr 241 10.78, Cr 491 13.34, Cr 120 506.55")},
			{"/allocations/undo", `{"day":"2026-11-20","allocations":[1]}`, nil}, // the credit has carried the discount: nothing of it is left to take back
		}, []sight{sees("/customers/1", "-506.55", "position", "net")}},
		"a rounded total": {nil, []step{
			{"/invoices", `{"customer":1,"day":"2026-11-02","roundTo":"0.05","lines":[{"text":"a","unitPrice":"10.02","taxCode":1}]}`, entry("Dr 120 12.00, Dr 641 0.02, Cr 401 10.02, Cr 241 2.00")},
			{"/credit-notes", linesOf(1, `{"position":1,"amount":"4"}`), entry("Dr 401 4.00, Dr 241 0.80, Cr 120 4.80")},
			{"/credit-notes", creditOf(1, "2026-11-20", ""), entry("Dr 401 6.02, Dr 241 1.20, Cr 641 0.02, Cr 120 7.20")},
		}, []sight{sees("/customers/1", "0.00", "position", "net")}},
		"what was dated later bounds what is dated before": {nil, []step{
			{"/invoices", invoice(1, "2026-11-02", "100"), entry("Dr 120 120.00, Cr 401 100.00, Cr 241 20.00")},
			{"/credit-notes", creditOf(1, "2026-11-20", `,"what":"work","work":"60"`), entry("Dr 401 60.00, Dr 241 12.00, Cr 120 72.00")},
			{"/credit-notes", creditOf(1, "2026-11-10", `,"what":"work","work":"40.01"`), entry("!work more than is left 40.00")},
			{"/credit-notes", creditOf(1, "2026-11-10", `,"what":"work","work":"40"`), entry("Dr 401 40.00, Dr 241 8.00, Cr 120 48.00")},
			{"/credit-notes", creditOf(1, "2026-11-01", `,"what":"work","work":"1"`), entry("!day before the paper 2026-11-02")},
		}, []sight{sees("/customers/1?asOf=2026-11-15", "72.00", "position", "net")}},
		"a write-off without relief": {nil, []step{
			{"/invoices", invoice(1, "2026-11-02", "100"), entry("Dr 120 120.00, Cr 401 100.00, Cr 241 20.00")},
			{"/write-offs", `{"day":"2026-11-10","reason":"x","items":[{"item":1,"amount":"60"}]}`, entry("Dr 631 60.00, Cr 120 60.00")},
			{"/credit-notes", linesOf(1, `{"position":1,"amount":"50.01"}`), entry("!paper more than is left 60.00")},
			{"/credit-notes", creditOf(1, "2026-11-20", `,"what":"work","work":"50","own":true`), entry("Dr 401 50.00, Dr 241 10.00, Cr 120 60.00")},
		}, []sight{sees("/customers/1", "0.00", "position", "net")}},
		"a part of it back at once, the rest waits": {nil, []step{
			{"/invoices", invoice(1, "2026-11-02", "250"), entry("Dr 120 300.00, Cr 401 250.00, Cr 241 50.00")},
			{"/receipts", receipt(1, "2026-11-10", "60.00", `,"placements":[{"item":1}]`), entry("Dr 101 60.00, Cr 120 60.00")},
			{"/credit-notes", creditOf(1, "2026-11-20", `,"own":true,"refund":{"amount":"12.34","bank":1,"method":"cash"}`), entry("Dr 401 250.00, Dr 241 50.00, Cr 120 300.00", "Dr 120 12.34, Cr 101 12.34")},
		}, []sight{sees("/customers/1", "-47.66", "position", "net"), sees("/papers/3", "part used", "state"), sees("/credit-notes", "47.66", "rows", 0, "open")}},
		"another customer's invoice, and one that is settled": {nil, []step{
			{"/invoices", invoice(1, "2026-11-02", "100"), entry("Dr 120 120.00, Cr 401 100.00, Cr 241 20.00")},
			{"/invoices", invoice(2, "2026-11-02", "100"), entry("Dr 120 120.00, Cr 401 100.00, Cr 241 20.00")},
			{"/receipts", receipt(1, "2026-11-10", "120.00", `,"placements":[{"item":1}]`), entry("Dr 101 120.00, Cr 120 120.00")},
			{"/credit-notes", creditOf(1, "2026-11-20", `,"setAgainst":[{"item":2,"amount":"1"}]`), entry("!setAgainst[0].amount another customer's credit")},
			{"/credit-notes", creditOf(1, "2026-11-20", `,"setAgainst":[{"item":1}]`), entry("!setAgainst[0].amount nothing left 0.00")},
			{"/credit-notes", creditOf(1, "2026-11-20", `,"own":true`), entry("Dr 401 100.00, Dr 241 20.00, Cr 120 120.00")},
		}, []sight{sees("/customers/1", "-120.00", "position", "net"), sees("/customers/2", "120.00", "position", "net")}},
		"a deduction comes back with its line alone": {nil, []step{
			{"/deposit-invoices", `{"customer":1,"day":"2026-10-02","lines":[{"text":"Stair","net":"1000","taxCode":1}]}`, entry("Dr 120 1200.00, Cr 227 1000.00, Cr 241 200.00")},
			{"/invoices", `{"customer":1,"day":"2026-11-02","lines":[{"text":"a","unitPrice":"4000","taxCode":1}],"deductions":[{"paper":1}]}`, entry("Dr 120 3600.00, Dr 227 1000.00, Cr 401 4000.00, Cr 241 600.00")},
			{"/credit-notes", linesOf(2, `{"position":2}`), entry("!lines above nil 0.00")},
			{"/credit-notes", linesOf(2, `{"position":1,"amount":"2000"},{"position":2,"amount":"-500"}`), entry("Dr 401 2000.00, Dr 241 300.00, Cr 227 500.00, Cr 120 1800.00")},
			{"/credit-notes", creditOf(2, "2026-11-20", ""), entry("Dr 401 2000.00, Dr 241 300.00, Cr 227 500.00, Cr 120 1800.00")},
			{"/advance-credits", `{"paper":1,"day":"2026-11-20","reason":"x","against":true}`, entry("Dr 227 1000.00, Dr 241 200.00, Cr 120 1200.00")},
		}, []sight{sees("/customers/1", "0.00", "position", "net")}},
	} {
		t.Run(name, func(t *testing.T) {
			c := newClient(t)
			if s.first != nil {
				s.first(c)
			}
			c.goesOn(s.steps, s.sights...)
			for _, d := range []string{"2026-10-31", "2026-11-02", "2026-11-10", "2026-11-19"} {
				if a := c.get("/tie-out?asOf=" + d).want(200); a.at("ok") != "true" {
					t.Errorf("on %s: %s", d, a.body)
				}
			}
		})
	}
}

// termsCalled is the ID of payment terms by their name.
func (c *client) termsCalled(name string) string {
	c.t.Helper()
	all := c.get("/terms").want(200)
	for n := range 20 {
		if all.at("rows", n, "name") == name {
			return all.at("rows", n, "id")
		}
	}
	return "0"
}

// The cost of goods that come back, by portions that do not divide; what was
// sold on since cannot be taken back.
func TestFiguresOfGoodsBack(t *testing.T) {
	c := newClient(t)
	c.post("/articles", `{"code":"NEWEL","name":"Newel","kind":"material","price":"80","taxCode":1,"stocked":true}`).want(200)
	sold := func(day, pieces string) string {
		return fmt.Sprintf(`{"customer":1,"day":%q,"lines":[{"article":1,"text":"Newel","quantity":%q,"unitPrice":"80","taxCode":1}]}`, day, pieces)
	}
	c.goesOn([]step{
		{"/stock/counts", `{"day":"2026-10-01","opening":true,"lines":[{"article":1,"quantity":"3","cost":"33.333333"}]}`, entry("Dr 141 100.00, Cr 391 100.00")},
		{"/invoices", sold("2026-11-02", "2"), entry("Dr 120 192.00, Cr 405 160.00, Cr 241 32.00, Dr 501 66.67, Cr 141 66.67")},
		{"/credit-notes", linesOf(2, `{"position":1,"quantity":"1","back":"1"}`), entry("Dr 405 80.00, Dr 241 16.00, Cr 120 96.00, Dr 141 33.34, Cr 501 33.34")},
		{"/invoices", sold("2026-11-20", "2"), entry("Dr 120 192.00, Cr 405 160.00, Cr 241 32.00, Dr 501 66.67, Cr 141 66.67")},
		{"/reversals", `{"paper":3,"day":"2026-11-20","reason":"it never came"}`, entry("!paper more than is there 0")},
		{"/credit-notes", linesOf(2, `{"position":1,"quantity":"1","back":"0.5"}`), entry("Dr 405 80.00, Dr 241 16.00, Cr 120 96.00, Dr 141 16.67, Cr 501 16.67")},
		{"/credit-notes", linesOf(2, `{"position":1,"quantity":"1"}`), entry("!lines[0].quantity more than is left 0")},
	}, sees("/stock", "0.5", "rows", 0, "quantity"), sees("/stock?asOf=2026-11-19", "1", "rows", 0, "quantity"), sees("/returned-goods", "50.01", "sums", "cost"))
}

// Costs that were passed on wait again as far as their line was credited.
func TestFiguresOfCostsBack(t *testing.T) {
	c := newClient(t)
	c.put("/jobs/1", `{"name":"Stair","customer":1,"markup":"12.5"}`).want(200)
	a := c.post("/customers", `{"name":"Osier Mill","noCustomer":true}`).want(200)
	c.goesOn([]step{
		{"/expenses", fmt.Sprintf(`{"supplier":%s,"day":"2026-11-02","bank":1,"method":"card","lines":[{"text":"Crane","account":%d,"job":1,"net":"480","taxCode":1,"passOn":"supply"},{"text":"Permit","job":1,"net":"206","taxCode":3,"passOn":"behalf"}]}`, a.at("id"), c.account("511")), entry("Dr 511 480.00, Dr 131 206.00, Dr 151 96.00, Cr 101 782.00")},
		{"/invoices", `{"customer":1,"job":1,"day":"2026-11-10","lines":[{"text":"Crane","costs":[{"paper":1,"line":1}]},{"text":"Permit","costs":[{"paper":1,"line":2}]}]}`, entry("Dr 120 854.00, Cr 411 540.00, Cr 241 108.00, Cr 131 206.00")},
		{"/credit-notes", linesOf(2, `{"position":1,"amount":"270"}`), entry("Dr 411 270.00, Dr 241 54.00, Cr 120 324.00")},
		{"/credit-notes", linesOf(2, `{"position":2,"account":1}`), entry("!lines[0].account as it was billed")},
		{"/credit-notes", linesOf(2, `{"position":2}`), entry("Dr 131 206.00, Cr 120 206.00")},
	}, sees("/costs", "2", "count"), sees("/costs", "446.00", "sums", "left"), sees("/customers/1", "324.00", "position", "net"))
}
