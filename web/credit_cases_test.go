package web_test

import (
	"fmt"
	"strings"
	"sync"
	"testing"
)

// A sight is a figure that is read back.
type sight struct {
	path string
	at   []any
	want string
}

func sends(path, body string, want ...string) step { return step{path, body, want} }

func sees(path, want string, at ...any) sight { return sight{path, at, want} }

// storyOf runs steps, of which one that starts with "!" names the field, rule and
// limit that it is refused for, in a firm of its own and looks at what they left.
func storyOf(t *testing.T, steps []step, sights ...sight) *client {
	t.Helper()
	c := newClient(t)
	c.goesOn(steps, sights...)
	return c
}

func (c *client) goesOn(steps []step, sights ...sight) {
	c.t.Helper()
	for _, s := range steps {
		if len(s.want) == 1 && strings.HasPrefix(s.want[0], "!") {
			a := c.post(s.path, s.body).want(422)
			if got := "!" + a.at("refusals", 0, "field") + " " + a.at("refusals", 0, "rule") + " " + a.at("refusals", 0, "limit"); strings.TrimSpace(got) != s.want[0] {
				c.t.Errorf("%s %s\nis refused for %s, want %s", s.path, s.body, got, s.want[0])
			}
			continue
		}
		c.try(s.path, s.body, s.want...)
	}
	for _, s := range sights {
		if got := c.get(s.path).want(200).at(s.at...); got != s.want {
			c.t.Errorf("%s %v is %s, want %s", s.path, s.at, got, s.want)
		}
	}
	c.tiesOut()
}

const creditedWhole = `{"paper":%d,"day":"2026-11-20","cause":"return","own":true%s}`

func whole(paper int, rest string) string { return fmt.Sprintf(creditedWhole, paper, rest) }

const backByTransfer = `,"refund":{"bank":1,"method":"transfer"}`

// E-15 as a client sends it: the rest of the credit goes back in the same step,
// or later; as of the day before, the payment still stands alone.
func TestE15AtOnce(t *testing.T) {
	before := []step{
		sends("/invoices", invoice(1, "2026-11-02", "250"), "Dr 120 300.00, Cr 401 250.00, Cr 241 50.00"),
		sends("/receipts", receipt(1, "2026-11-10", "60.00", `,"placements":[{"item":1}]`), "Dr 101 60.00, Cr 120 60.00"),
	}
	c := storyOf(t, append(before,
		sends("/credit-notes", whole(1, `,"refund":{"bank":1,"method":"transfer","amount":"60.01"}`), "!refund.amount more than is open 60.00"),
		sends("/credit-notes", whole(1, `,"refund":{"bank":1,"method":"barter"}`), "!refund.method missing"),
		sends("/credit-notes", whole(1, `,"refund":{"bank":99,"method":"transfer"}`), "!refund.bank missing"),
		sends("/credit-notes", whole(1, backByTransfer), "Dr 401 250.00, Dr 241 50.00, Cr 120 300.00", "Dr 120 60.00, Cr 101 60.00")),
		sees("/customers/1", "0.00", "position", "net"), sees("/papers/1", "settled", "state"), sees("/papers/3", "used up", "state"), sees("/papers/4", "CN26-0001", "source"),
		sees("/customers/1?asOf=2026-11-19", "240.00", "position", "net"), sees("/papers/3", "refund", "standing", 0, "kind"))
	// The refund is taken back before the credit is; written again, both come back as they were typed.
	c.goesOn([]step{
		sends("/reversals", `{"paper":3,"day":"2026-11-20","reason":"wrong"}`, "!paper something stands on it refund F26-0001"),
	}, sees("/papers/3/copy?again=true", "transfer", "body", "refund", "method"), sees("/papers/3/copy?again=true", "return", "body", "cause"))
	c.goesOn([]step{
		sends("/reversals", `{"paper":4,"day":"2026-11-20","reason":"wrong"}`, "Dr 101 60.00, Cr 120 60.00"),
		sends("/reversals", `{"paper":3,"day":"2026-11-20","reason":"wrong"}`, "Cr 401 250.00, Cr 241 50.00, Dr 120 300.00"),
	}, sees("/customers/1", "240.00", "position", "net"))
}

// What a credit of an invoice comes to after all that can have happened to it.
func TestCreditsAfterwards(t *testing.T) {
	for name, s := range map[string]struct {
		steps  []step
		sights []sight
	}{
		"after full payment": {[]step{
			sends("/invoices", `{"customer":1,"day":"2026-11-02","lines":[{"text":"Treads","quantity":"14","unitPrice":"85.50","taxCode":1}]}`, "Dr 120 1436.40, Cr 401 1197.00, Cr 241 239.40"),
			sends("/receipts", receipt(1, "2026-11-10", "1436.40", `,"placements":[{"item":1}]`), "Dr 101 1436.40, Cr 120 1436.40"),
			sends("/credit-notes", `{"paper":1,"day":"2026-11-20","cause":"price","what":"lines","lines":[{"position":1,"price":"85.50"}]}`, "!lines[0].price not lower 85.5"),
			sends("/credit-notes", `{"paper":1,"day":"2026-11-20","cause":"price","what":"lines","lines":[{"position":1,"price":"79.90"}],"own":true}`, "Dr 401 78.40, Dr 241 15.68, Cr 120 94.08"),
		}, []sight{sees("/customers/1", "-94.08", "position", "net"), sees("/customers/1", "94.08", "position", "unplaced"), sees("/credit-notes?state=waiting", "94.08", "sums", "open"), sees("/customers/1/statement", "-94.08", "closing")}},
		"after a deposit was used": {[]step{
			sends("/deposits", `{"customer":1,"day":"2026-11-02","amount":"240","bank":1,"method":"transfer","taxCode":1}`, "Dr 101 240.00, Cr 221 200.00, Cr 241 40.00"),
			sends("/invoices", `{"customer":1,"day":"2026-11-10","lines":[{"text":"Stair","unitPrice":"250","taxCode":1}],"setAgainst":[{"credit":1}]}`, "Dr 120 300.00, Cr 401 250.00, Cr 241 50.00", "Dr 221 200.00, Dr 241 40.00, Cr 120 240.00"),
			sends("/credit-notes", whole(2, ""), "Dr 401 250.00, Dr 241 50.00, Cr 120 300.00"),
		}, []sight{sees("/customers/1", "-240.00", "position", "net"), sees("/customers/1", "0.00", "position", "held"), sees("/papers/2", "settled", "state"), sees("/papers/3", "240.00", "open")}},
		"after a write-off with relief": {[]step{
			sends("/invoices", invoice(1, "2026-11-02", "1500"), "Dr 120 1800.00, Cr 401 1500.00, Cr 241 300.00"),
			sends("/receipts", receipt(1, "2026-11-10", "720.00", `,"placements":[{"item":1}]`), "Dr 101 720.00, Cr 120 720.00"),
			sends("/write-offs", `{"day":"2026-11-15","reason":"insolvent","relief":true,"items":[{"item":1}]}`, "Dr 631 900.00, Dr 241 180.00, Cr 120 1080.00"),
			sends("/credit-notes", whole(1, ""), "!paper more than is left 720.00"),
			sends("/credit-notes", whole(1, `,"what":"lines","lines":[{"position":1,"amount":"600.01"}]`), "!paper more than is left 720.00"),
			sends("/credit-notes", whole(1, `,"what":"lines","lines":[{"position":1,"amount":"600"}]`), "Dr 401 600.00, Dr 241 120.00, Cr 120 720.00"),
		}, []sight{sees("/customers/1", "-720.00", "position", "net")}},
		"on an invoice of several rates": {[]step{
			sends("/invoices", `{"customer":1,"day":"2026-11-02","lines":[{"text":"A","unitPrice":"33.33","taxCode":1},{"text":"B","unitPrice":"33.33","taxCode":1},{"text":"C","unitPrice":"33.33","taxCode":1},{"text":"D","unitPrice":"10.05","taxCode":2}]}`,
				"Dr 120 131.05, Cr 401 99.99, Cr 401 10.05, Cr 241 20.00, Cr 241 1.01"),
			sends("/credit-notes", whole(1, `,"what":"lines","lines":[{"position":1}]`), "Dr 401 33.33, Dr 241 6.67, Cr 120 40.00"),
			sends("/credit-notes", whole(1, `,"what":"lines","lines":[{"position":2}]`), "Dr 401 33.33, Dr 241 6.67, Cr 120 40.00"),
			sends("/credit-notes", whole(1, `,"what":"lines","lines":[{"position":3},{"position":4,"amount":"5"}]`), "Dr 401 33.33, Dr 401 5.00, Dr 241 6.66, Dr 241 0.50, Cr 120 45.49"),
			sends("/credit-notes", whole(1, ""), "Dr 401 5.05, Dr 241 0.51, Cr 120 5.56"),
			sends("/credit-notes", whole(1, ""), "!paper nothing left 0.00"),
		}, []sight{sees("/customers/1", "0.00", "position", "net")}},
		"of what was reversed": {[]step{
			sends("/invoices", invoice(1, "2026-11-02", "100"), "Dr 120 120.00, Cr 401 100.00, Cr 241 20.00"),
			sends("/reversals", `{"paper":1,"day":"2026-11-20","reason":"wrong"}`, "Cr 120 120.00, Dr 401 100.00, Dr 241 20.00"),
			sends("/credit-notes", whole(1, ""), "!paper reversed X26-0001"),
		}, []sight{sees("/customers/1", "0.00", "position", "net")}},
		"a deposit invoice, partly deducted": {[]step{
			sends("/deposit-invoices", `{"customer":1,"day":"2026-10-02","lines":[{"text":"Stair","net":"2400","taxCode":1}]}`, "Dr 120 2880.00, Cr 227 2400.00, Cr 241 480.00"),
			sends("/receipts", receipt(1, "2026-10-12", "2880.00", `,"placements":[{"item":1}]`), "Dr 101 2880.00, Cr 120 2880.00"),
			sends("/invoices", `{"customer":1,"day":"2026-11-02","lines":[{"text":"Stair","unitPrice":"3000","taxCode":1}],"deductions":[{"paper":1,"amount":"1200"}]}`, "Dr 120 2400.00, Dr 227 1000.00, Cr 401 3000.00, Cr 241 400.00"),
			sends("/advance-credits", `{"paper":1,"day":"2026-11-20","reason":"less is built","against":true}`, "Dr 227 1400.00, Dr 241 280.00, Cr 120 1680.00"),
			sends("/advance-credits", `{"paper":1,"day":"2026-11-20","reason":"once more"}`, "!paper nothing left 0.00"),
			sends("/refunds", `{"sources":[{"item":4}],"day":"2026-11-20","bank":1,"method":"transfer"}`, "Dr 120 1680.00, Cr 101 1680.00"),
		}, []sight{sees("/customers/1", "2400.00", "position", "net")}},
	} {
		t.Run(name, func(t *testing.T) { storyOf(t, s.steps, s.sights...) })
	}
}

// An invoice in a closed period is credited after it, and says so.
func TestACreditOfAClosedPeriod(t *testing.T) {
	c := storyOf(t, []step{sends("/invoices", invoice(1, "2026-10-05", "1000"), "Dr 120 1200.00, Cr 401 1000.00, Cr 241 200.00")})
	c.do("PUT", "/lock", `{"through":"2026-10-31"}`).want(204)
	if a := c.get("/papers/1/creditable"); a.at("locked") != "2026-10-31" {
		t.Errorf("what is told of its period: %s", a.body)
	}
	note := whole(1, "")
	c.goesOn([]step{
		sends("/credit-notes", strings.Replace(note, "2026-11-20", "2026-10-20", 1), "!day locked 2026-10-31"),
		sends("/credit-notes", note, "Dr 401 1000.00, Dr 241 200.00, Cr 120 1200.00"),
	}, sees("/customers/1?asOf=2026-10-31", "1200.00", "position", "net"), sees("/customers/1", "0.00", "position", "net"))
}

// An invoice whose retention was released in part.
func TestACreditAfterARelease(t *testing.T) {
	c := newClient(t)
	c.put("/jobs/1", `{"name":"Stair","customer":1,"contractSum":"40000.00","retention":"5","retentionTaxLater":true}`).want(200)
	held := `{"customer":1,"job":1,"day":"2026-11-02","lines":[{"text":"Stair","unitPrice":"12000","taxCode":1}]}`
	c.goesOn([]step{
		sends("/invoices", held, "Dr 120 13680.00, Dr 124 720.00, Cr 401 12000.00, Cr 241 2280.00, Cr 244 120.00"),
		sends("/releases", `{"customer":1,"day":"2026-11-20","amount":"480"}`, "Dr 120 480.00, Cr 124 480.00, Dr 244 80.00, Cr 241 80.00"),
		sends("/credit-notes", whole(1, `,"what":"work","work":"6000"`), "Dr 401 6000.00, Dr 241 1160.00, Dr 244 40.00, Cr 124 240.00, Cr 120 6960.00"),
		sends("/credit-notes", whole(1, `,"what":"work","work":"100","fromRetention":true`), "!fromRetention more than is held 0.00"),
		sends("/credit-notes", whole(1, `,"what":"lines","lines":[{"position":1,"tax":"0"}]`), "!lines[0].tax kept back"),
		sends("/credit-notes", whole(1, ""), "Dr 401 6000.00, Dr 241 1200.00, Cr 120 7200.00"),
	}, sees("/customers/1", "0.00", "position", "keepsBack"), sees("/customers/1", "0.00", "position", "net"))
}

// A credit on its own, and what it cannot say; a line with another account or
// tax is warned of.
func TestCreditsOnTheirOwn(t *testing.T) {
	own := func(rest string) string {
		return `{"customer":1,"job":1,"day":"2026-11-20","cause":"goodwill","text":"yearly rebate","written":[{"text":"3 % of 4,200.00","amount":"126","taxCode":1` + rest + `}]}`
	}
	c := storyOf(t, []step{
		sends("/invoices", invoice(1, "2026-11-02", "100"), "Dr 120 120.00, Cr 401 100.00, Cr 241 20.00"),
		sends("/credit-notes", own(""), "Dr 401 126.00, Dr 241 25.20, Cr 120 151.20"),
		sends("/credit-notes", strings.Replace(own(""), `"customer":1,"job":1,`, "", 1), "!party missing"),
		sends("/credit-notes", own(`,"account":9999`), "!written[0].account missing"),
		sends("/credit-notes", strings.Replace(own(""), `"126"`, `"-5"`, 1), "!written above nil 0.00"),
		sends("/credit-notes", strings.Replace(own(""), "goodwill", "", 1), "!cause missing"),
	}, sees("/customers/1", "-31.20", "position", "net"), sees("/papers/2", "0", "sourceId"), sees("/jobs/1", "0.00", "billed"))
	c.post("/credit-notes", `{"customer":1,"day":"2026-11-20","cause":"goodwill","nothing":1}`).want(422)
	if a := c.get("/papers/2/copy?again=true"); a.at("body", "written", 0, "amount") != "126.00" || a.at("body", "customer") != "1" {
		t.Errorf("as it was written: %s", a.body)
	}
	other := whole(1, `,"what":"lines","lines":[{"position":1,"account":%d,"tax":"%s"}]`)
	c.goesOn([]step{sends("/credit-notes", fmt.Sprintf(other, 0, "20.01"), "!lines[0].tax more than is left 20.00")})
	a := c.post("/credit-notes?preview=true", fmt.Sprintf(other, c.account("491"), "19.99")).want(200)
	if a.at("effect", "warnings", 0, "rule") != "another account" || a.at("effect", "warnings", 1, "rule") != "another tax" {
		t.Errorf("warned of: %s", a.at("effect", "warnings"))
	}
	c.post("/credit-notes", fmt.Sprintf(other, c.account("491"), "19.99")).want(409)
	c.try("/credit-notes", fmt.Sprintf(other, c.account("491"), "19.99"), "Dr 491 100.00, Dr 241 19.99, Cr 120 119.99")
	if a := c.get("/papers/3/copy?again=true"); a.at("body", "lines", 0, "tax") != "19.99" || a.at("body", "lines", 0, "account") != fmt.Sprint(c.account("491")) {
		t.Errorf("as it was written: %s", a.body)
	}
	c.tiesOut()
}

// account is the ID of an account by its number.
func (c *client) account(number string) int {
	c.t.Helper()
	all := c.get("/accounts").want(200)
	for n := 0; n < 200; n++ {
		if all.at("rows", n, "number") == number {
			var id int
			fmt.Sscan(all.at("rows", n, "id"), &id)
			return id
		}
	}
	c.t.Fatalf("there is no account %s", number)
	return 0
}

// A posted credit note's line is moved to another account by one step that takes
// it back and writes it again; its allocation to another invoice likewise; the
// story tells both.
func TestAWrongCreditIsPutRight(t *testing.T) {
	c := storyOf(t, []step{
		sends("/invoices", invoice(1, "2026-11-02", "200"), "Dr 120 240.00, Cr 401 200.00, Cr 241 40.00"),
		sends("/invoices", invoice(1, "2026-11-03", "100"), "Dr 120 120.00, Cr 401 100.00, Cr 241 20.00"),
		sends("/credit-notes", `{"paper":1,"day":"2026-11-10","cause":"goodwill","what":"lines","lines":[{"position":1,"amount":"50"}],"own":true}`, "Dr 401 50.00, Dr 241 10.00, Cr 120 60.00"),
	})
	again := fmt.Sprintf(`{"paper":1,"day":"2026-11-10","cause":"goodwill","what":"lines","lines":[{"position":1,"amount":"50","account":%d}],"own":true}`, c.account("491"))
	shown := c.post("/credit-notes?preview=true&again=3&againDay=2026-11-20&againReason=another+account", again).want(200)
	c.post("/credit-notes?again=3&againDay=2026-11-20&againReason=another+account&token="+shown.at("effect", "token"), again).want(200)
	c.goesOn(nil, sees("/papers/3", "X26-0001", "reversedBy"), sees("/papers/5", "CN26-0001", "insteadOf", "number"), sees("/papers/3", "CN26-0002", "writtenAgain", "number"), sees("/papers/1", "180.00", "open"))
	moved := `{"allocation":%s,"to":%s,"day":"2026-11-20"}`
	standing := func(paper string) string {
		a := c.get("/papers/" + paper)
		for n := range 9 {
			if a.at("allocations", n, "undoneOn") == "" && a.at("allocations", n, "reversal") == "false" {
				return a.at("allocations", n, "id")
			}
		}
		return "0"
	}
	c.goesOn([]step{
		sends("/allocations/move", fmt.Sprintf(moved, standing("5"), "999"), "!to missing"),
		sends("/allocations/move", fmt.Sprintf(moved, "999", "2"), "!allocation missing"),
		sends("/allocations/move", fmt.Sprintf(moved, standing("5"), "2")),
	}, sees("/papers/1", "240.00", "open"), sees("/papers/2", "60.00", "open"), sees("/customers/1", "300.00", "position", "net"))
	c.post("/allocations/move", `{}`).want(422)
}

// Two people credit the last two of what was sold at once: no more comes back
// than was sold.
func TestTwoCreditAtOnce(t *testing.T) {
	c := sells(t)
	c.post("/invoices", `{"customer":1,"day":"2026-11-02","lines":[{"article":1,"text":"Baluster","quantity":"6","unitPrice":"120","taxCode":1}]}`).want(200)
	var group sync.WaitGroup
	got := make([]answer, 8)
	for n := range got {
		group.Go(func() {
			got[n] = c.post("/credit-notes", `{"paper":2,"day":"2026-11-20","cause":"return","what":"lines","lines":[{"position":1,"quantity":"4","back":"4"}],"own":true}`)
		})
	}
	group.Wait()
	posted := 0
	for _, a := range got {
		if a.status == 200 {
			posted++
		} else if a.at("refusals", 0, "rule") != "more than is left" || a.at("refusals", 0, "limit") != "2" {
			t.Errorf("the other is told: %s", a.body)
		}
	}
	if posted != 1 || c.get("/papers/2/creditable").at("lines", 0, "quantity") != "2" || c.get("/stock").at("rows", 0, "quantity") != "8" {
		t.Errorf("%d were posted", posted)
	}
	c.tiesOut()
}

// What was credited is listed, searched by one column alone, summed, and told
// by reason and by item; goods that came back have their register.
func TestListsOfCredits(t *testing.T) {
	c := sells(t)
	c.goesOn([]step{
		sends("/invoices", `{"customer":1,"day":"2026-11-02","lines":[{"article":1,"text":"Baluster","quantity":"6","unitPrice":"120","taxCode":1},{"article":2,"text":"Motor","quantity":"1","unitPrice":"900","taxCode":1,"serials":["M2"]}]}`,
			"Dr 120 1944.00, Cr 405 1620.00, Cr 241 324.00, Dr 501 920.00, Cr 141 920.00"),
		sends("/invoices", invoice(2, "2026-11-03", "500"), "Dr 120 600.00, Cr 401 500.00, Cr 241 100.00"),
		sends("/credit-notes", `{"paper":2,"day":"2026-11-10","cause":"return","reference":"R 4","what":"lines","lines":[{"position":1,"quantity":"3","back":"2"},{"position":2,"quantity":"1","back":"1","serials":["M2"]}],"own":true}`,
			"Dr 405 1260.00, Dr 241 252.00, Cr 120 1512.00, Dr 141 640.00, Cr 501 640.00"),
		sends("/credit-notes", `{"paper":3,"day":"2026-11-12","cause":"price","text":"as agreed in May","what":"work","work":"50"}`, "Dr 401 50.00, Dr 241 10.00, Cr 120 60.00"),
		sends("/credit-notes", `{"customer":2,"day":"2026-11-14","cause":"goodwill","written":[{"text":"Stair","amount":"8","taxCode":2}]}`, "Dr 401 8.00, Dr 241 0.80, Cr 120 8.80"),
		sends("/credit-notes", `{"customer":2,"day":"2026-11-15","cause":"fault","written":[{"text":"Wrong","amount":"1","taxCode":3}]}`, "Dr 401 1.00, Cr 120 1.00"),
		sends("/reversals", `{"paper":7,"day":"2026-11-16","reason":"wrong"}`, "Cr 401 1.00, Dr 120 1.00"),
		sends("/orders", `{"customer":1,"job":1,"day":"2026-11-02","lines":[{"article":1,"text":"Baluster","quantity":"2","unitPrice":"120","taxCode":1}]}`),
		sends("/deliveries", `{"order":9,"day":"2026-11-03","lines":[{"position":1,"quantity":"2"}]}`, "Dr 501 140.00, Cr 141 140.00"),
		sends("/returns", `{"order":9,"day":"2026-11-18","reason":"scratched","lines":[{"position":1,"quantity":"1"}]}`),
	},
		sees("/credit-notes", "4", "count"), sees("/credit-notes", "1581.80", "sums", "total"), sees("/credit-notes?state=waiting", "68.80", "sums", "open"), sees("/credit-notes?state=used", "CN26-0001", "rows", 0, "number"),
		sees("/credit-notes?state=reversed", "reversed by X26-0001", "rows", 0, "state"), sees("/credit-notes?cause=price", "CN26-0002", "rows", 0, "number"), sees("/credit-notes?cause=price", "price", "rows", 0, "cause"),
		sees("/credit-notes?q=May&in=reason", "1", "count"), sees("/credit-notes?q=May&in=number", "0", "count"), sees("/credit-notes?q=0002&in=number", "1", "count"), sees("/credit-notes?q=dunmarrow&in=customer", "3", "count"),
		sees("/credit-notes?q=I26-0001&in=invoice", "CN26-0001", "rows", 0, "number"), sees("/credit-notes?q=R+4&in=reference", "1", "count"), sees("/credit-notes?q=motor&in=line", "1", "count"), sees("/credit-notes?q=1512&in=amount", "1", "count"),
		sees("/credit-notes?q=nothing&in=amount", "0", "count"), sees("/credit-notes?q=50", "1", "count"), sees("/credit-notes?q=I26-0002", "1", "count"), sees("/credit-notes?q=100%25&in=reason", "0", "count"),
		sees("/credit-notes?from=2026-11-12&to=2026-11-14&sort=total", "CN26-0003", "rows", 0, "number"), sees("/credit-notes?asOf=2026-11-12", "2", "count"), sees("/credit-notes?customer=1", "1512.00", "rows", 0, "total"),
	)
	c.goesOn(nil,
		sees("/returned-goods", "3", "count"), sees("/returned-goods", "RN26-0001", "rows", 0, "number"), sees("/returned-goods", "1", "rows", 0, "scrapped"), sees("/returned-goods?sort=credited", "RN26-0001", "rows", 0, "number"),
		sees("/returned-goods?where=stock", "2", "count"), sees("/returned-goods?where=scrap", "2", "count"), sees("/returned-goods?article=2", "M2", "rows", 0, "serials"), sees("/returned-goods?q=R+4", "640.00", "sums", "cost"),
		sees("/returned-goods", "1260.00", "sums", "credited"), sees("/returned-goods?asOf=2026-11-10", "2", "count"), sees("/returned-goods?from=2026-11-11&to=2026-11-18", "1", "count"),
		sees("/credited?by=cause", "goods came back", "rows", 0, "name"), sees("/credited?by=cause", "1318.00", "net"), sees("/credited?by=cause", "95.6", "rows", 0, "share"), sees("/credited?by=cause", "return", "rows", 0, "key"),
		sees("/credited?by=item", "MOT Lift motor", "rows", 0, "name"), sees("/credited?by=item", "2", "rows", 2, "notes"), sees("/credited?by=item", "58.00", "rows", 2, "net"), sees("/credited?by=customer", "68.80", "rows", 1, "total"),
		sees("/credited?by=month", "2026-11", "rows", 0, "key"), sees("/credited?by=account", "405 Sales: materials", "rows", 0, "name"), sees("/credited?by=cause&to=2026-11-10", "1260.00", "net"), sees("/credited?by=cause&from=2026-11-15", "0.00", "net"),
		sees("/credited?by=cause&from=2026-11-15&to=2026-11-15", "1.00", "net"))
	for _, path := range []string{"/credit-notes/file", "/credit-notes/file?format=xlsx", "/returned-goods/file"} {
		if a := c.get(path).want(200); len(a.body) < 100 {
			t.Errorf("%s: %d bytes", path, len(a.body))
		}
	}
	for _, path := range []string{"/credited?by=moon", "/credited?from=yesterday", "/credit-notes?in=moon", "/credit-notes?from=x", "/returned-goods?to=x", "/credit-notes?sort=moon"} {
		if a := c.get(path); a.status < 400 || a.status >= 500 {
			t.Errorf("%s: %d", path, a.status)
		}
	}
}

// Money goes back the way it came, or it is warned of; a till never holds less
// than nothing, on any day.
func TestMoneyGoesBack(t *testing.T) {
	c := storyOf(t, []step{
		sends("/deposits", `{"customer":1,"day":"2026-11-02","amount":"100","bank":2,"method":"cash"}`, "Dr 105 100.00, Cr 221 100.00"),
		sends("/deposits", `{"customer":2,"day":"2026-11-10","amount":"50","bank":1,"method":"card"}`, "Dr 101 50.00, Cr 221 50.00"),
	}, sees("/blank?kind=refund&items=1", "cash", "method"), sees("/blank?kind=refund&items=1", "2", "bank"), sees("/blank?kind=refund&items=2", "card", "method"), sees("/blank?kind=transfer&items=1", "transfer", "method"))
	back := func(day string, item, bank int, method, amount string) string {
		return fmt.Sprintf(`{"day":%q,"sources":[{"item":%d,"amount":%q}],"bank":%d,"method":%q}`, day, item, amount, bank, method)
	}
	a := c.post("/refunds", back("2026-11-20", 2, 1, "cheque", "10")).want(409)
	if a.at("warnings", 0, "rule") != "another way" || a.at("warnings", 0, "limit") != "card" {
		t.Errorf("warned of %s", a.body)
	}
	c.goesOn([]step{
		sends("/refunds", back("2026-11-20", 2, 1, "card", "10"), "Dr 221 10.00, Cr 101 10.00"),
		sends("/refunds", back("2026-11-12", 1, 2, "cash", "60"), "Dr 221 60.00, Cr 105 60.00"),
		// 40.00 is in the till from the 12th on: 50.00 of another deposit cannot go out of it.
		sends("/refunds", back("2026-11-20", 2, 2, "card", "40"), "Dr 221 40.00, Cr 105 40.00"),
		// Dated back it would have been there, but leaves it short on the 20th.
		sends("/refunds", back("2026-11-15", 1, 2, "cash", "10"), "!bank below nil 0.00"),
		sends("/reversals", `{"paper":1,"day":"2026-11-20","reason":"wrong"}`, "!paper something stands on it refund F26-0002"),
		sends("/deposits", deposit(1, "2026-11-20", "30"), "Dr 101 30.00, Cr 221 30.00"),
		sends("/refunds", back("2026-11-20", 6, 2, "transfer", "30"), "!bank below nil 0.00"),
		sends("/refunds", back("2026-11-20", 6, 1, "transfer", "30"), "Dr 221 30.00, Cr 101 30.00"),
		sends("/deposits", `{"customer":1,"day":"2026-11-18","amount":"25","bank":2,"method":"cash"}`, "Dr 105 25.00, Cr 221 25.00"),
		sends("/refunds", back("2026-11-18", 8, 2, "cash", "25"), "Dr 221 25.00, Cr 105 25.00"),
		sends("/reversals", `{"paper":9,"day":"2026-11-20","reason":"it was not fetched"}`, "Cr 221 25.00, Dr 105 25.00"),
		sends("/reversals", `{"paper":8,"day":"2026-11-20","reason":"wrong"}`, "Dr 221 25.00, Cr 105 25.00"),
	}, sees("/accounts", "Cash in hand", "rows", 1, "name"))
	// Of a credit note, the way in which its invoice was paid counts; what never came by money is not warned of.
	c.try("/invoices", invoice(2, "2026-11-02", "10"), "Dr 120 12.00, Cr 401 10.00, Cr 241 2.00")
	owed := c.get("/customers/2/bench").at("owed", 0, "id")
	c.post("/receipts", `{"customer":2,"day":"2026-11-10","arrived":"12","bank":1,"method":"card","placements":[{"item":`+owed+`}]}`).want(200)
	credit := `{"paper":12,"day":"2026-11-20","cause":"fault","refund":{"bank":1,"method":"%s"}}`
	if a := c.post("/credit-notes?preview=true", fmt.Sprintf(credit, "transfer")).want(200); a.at("effect", "warnings", 0, "rule") != "another way" || a.at("effect", "warnings", 0, "field") != "refund.method" {
		t.Errorf("warned of %s", a.at("effect", "warnings"))
	}
	c.try("/credit-notes", fmt.Sprintf(credit, "card"), "Dr 401 10.00, Dr 241 2.00, Cr 120 12.00", "Dr 120 12.00, Cr 101 12.00")
	c.tiesOut()
}

// The same key posts a credit with its refund once, however often it is sent;
// two people who refund the same credit at once get one success.
func TestCreditsAreGivenOnce(t *testing.T) {
	c := storyOf(t, []step{
		sends("/invoices", invoice(1, "2026-11-02", "250"), "Dr 120 300.00, Cr 401 250.00, Cr 241 50.00"),
		sends("/receipts", receipt(1, "2026-11-10", "300.00", `,"placements":[{"item":1}]`), "Dr 101 300.00, Cr 120 300.00"),
	})
	body := whole(1, `,"what":"work","work":"100"`+backByTransfer)
	token := c.post("/credit-notes?preview=true", body).want(200).at("effect", "token")
	var group sync.WaitGroup
	got := make([]answer, 6)
	for n := range got {
		group.Go(func() { got[n] = c.post("/credit-notes?token="+token, body, "Idempotency-Key", "once") })
	}
	group.Wait()
	for _, a := range got {
		if a.want(200).at("posted", "paper") != got[0].at("posted", "paper") {
			t.Errorf("posted as %s and as %s", a.body, got[0].body)
		}
	}
	if a := c.get("/credit-notes"); a.at("count") != "1" || c.get("/papers?kind=refund").at("count") != "1" {
		t.Errorf("credit notes: %s", a.body)
	}
	// Another one waits, and is refunded by many at once.
	c.try("/credit-notes", whole(1, `,"what":"work","work":"50"`), "Dr 401 50.00, Dr 241 10.00, Cr 120 60.00")
	item := c.get("/customers/1/bench").at("credits", 0, "id")
	paid := 0
	for n := range got {
		group.Go(func() {
			got[n] = c.post("/refunds", fmt.Sprintf(`{"day":"2026-11-20","sources":[{"item":%s,"amount":"45"}],"bank":1,"method":"transfer"}`, item))
		})
	}
	group.Wait()
	for _, a := range got {
		if a.status == 200 {
			paid++
		} else if a.at("refusals", 0, "limit") != "15.00" {
			t.Errorf("the others are told what is left: %s", a.body)
		}
	}
	if paid != 1 || c.get("/customers/1").at("position", "unplaced") != "15.00" {
		t.Errorf("%d were paid, %s waits", paid, c.get("/customers/1").at("position", "unplaced"))
	}
	c.tiesOut()
}

// What is typed into a credit that makes no sense is refused with its field, and
// changes nothing.
func TestCreditsOfNonsense(t *testing.T) {
	c := sells(t)
	c.post("/invoices", `{"customer":1,"day":"2026-11-02","lines":[{"article":2,"text":"Motor","quantity":"1","unitPrice":"900","taxCode":1,"serials":["M2"]},{"text":"Fitting","unitPrice":"100","taxCode":1}]}`).want(200)
	before := string(c.get("/trial-balance").body)
	lines := func(l string) string {
		return `{"paper":2,"day":"2026-11-20","cause":"return","what":"lines","lines":[` + l + `]}`
	}
	for body, field := range map[string]string{
		lines(`{"position":0}`):                                                    "lines[0].position",
		lines(`{"position":9}`):                                                    "lines[0].position",
		lines(`{"position":1},{"position":1}`):                                     "lines[1].position",
		lines(`{"position":2,"quantity":"NaN"}`):                                   "lines[0].quantity",
		lines(`{"position":2,"quantity":"-1"}`):                                    "lines[0].quantity",
		lines(`{"position":2,"quantity":"0.0000001"}`):                             "lines[0].quantity",
		lines(`{"position":2,"amount":"100.001"}`):                                 "lines[0].amount",
		lines(`{"position":2,"amount":"1e9"}`):                                     "lines[0].amount",
		lines(`{"position":2,"price":"-1"}`):                                       "lines[0].price",
		lines(`{"position":2,"price":"100"}`):                                      "lines[0].price",
		lines(`{"position":2,"tax":"99999999999999999999"}`):                       "lines[0].tax",
		lines(`{"position":2,"tax":"-1"}`):                                         "lines[0].tax",
		lines(`{"position":2,"account":-5}`):                                       "lines[0].account",
		lines(`{"position":2,"back":"1"}`):                                         "lines[0].back",
		lines(`{"position":1,"quantity":"1","back":"1","serials":["M1"]}`):         "lines[0].serials",
		lines(`{"position":1,"quantity":"1","back":"1","serials":["M2","M2"]}`):    "lines[0].serials",
		`{"paper":2,"day":"2026-02-30","cause":"return"}`:                          "day",
		`{"paper":2,"day":"20261120","cause":"return"}`:                            "day",
		`{"paper":2,"day":"2026-11-20","cause":"moon"}`:                            "cause",
		`{"paper":2,"day":"2026-11-20","cause":"other"}`:                           "text",
		`{"paper":2,"day":"2026-11-20","cause":"fault","what":"work","work":"-1"}`: "work",
		`{"paper":2,"day":"2026-11-20","cause":"fault","number":"CN26-0001-and-much-more-than-forty-characters"}`:         "number",
		`{"paper":-1,"day":"2026-11-20","cause":"fault"}`:                                                                 "paper",
		`{"paper":1,"day":"2026-11-20","cause":"fault"}`:                                                                  "paper",
		`{"customer":99,"day":"2026-11-20","cause":"fault","written":[{"text":"x","amount":"1"}]}`:                        "party",
		`{"customer":1,"day":"2026-11-20","cause":"fault","written":[{"text":"","amount":"1"}]}`:                          "written[0].text",
		`{"customer":1,"day":"2026-11-20","cause":"fault","written":[{"text":"x","amount":"1","taxCode":9}]}`:             "written[0].taxCode",
		`{"customer":1,"day":"2026-11-20","cause":"fault","written":[{"text":"x","amount":"1","account":1,"taxCode":1}]}`: "written[0].account",
		`{"customer":1,"job":2,"day":"2026-11-20","cause":"fault","written":[{"text":"x","amount":"1","taxCode":1}]}`:     "job",
		`{"paper":2,"day":"2026-11-20","cause":"fault","refund":{"bank":1,"method":"transfer","amount":"-1"}}`:            "refund.amount",
		`{"paper":2,"day":"2026-11-20","cause":"fault","setAgainst":[{"item":1,"amount":"-1"}]}`:                          "setAgainst[0].amount",
	} {
		a := c.post("/credit-notes", body)
		if a.status != 422 && a.status != 400 {
			t.Errorf("%s: %d %s", body, a.status, a.body)
			continue
		}
		told := false
		for n := range a.rows("refusals") {
			told = told || a.at("refusals", n, "field") == field
			if text := a.at("refusals", n, "text"); len(text) < 10 || strings.Contains(text, "%!") {
				t.Errorf("%s: says %q", body, text)
			}
		}
		if !told {
			t.Errorf("%s is not refused at %s: %s", body, field, a.body)
		}
	}
	if now := string(c.get("/trial-balance").body); now != before {
		t.Errorf("a refusal changed the books:\n%s\n%s", before, now)
	}
	if n := c.get("/papers").at("count"); n != "2" {
		t.Errorf("%s papers stand", n)
	}
	c.tiesOut()
}
