package web_test

import (
	"net/http"
	"strings"
	"testing"
)

// A post carries the token of what is on screen: it posts just that, or
// nothing, and answers what it would be now.
func TestWhatIsShownIsWhatIsPosted(t *testing.T) {
	c := newClient(t)
	c.post("/invoices", invoice(1, "2026-11-02", "100")).want(200)
	c.post("/deposits", deposit(1, "2026-11-02", "500.00")).want(200)
	item := c.get("/customers/1/bench").at("owed", 0, "id")
	credit := c.get("/customers/1/bench").at("credits", 0, "id")
	set := `{"day":"2026-11-20","pairs":[{"debit":` + item + `,"credit":` + credit + `}]}`
	shown := c.post("/allocations?preview=true", set).want(200)
	token := shown.at("effect", "token")
	if at := shown.at("effect", "placed"); at != "120.00" {
		t.Fatalf("offered %s", at)
	}

	t.Run("somebody was quicker", func(t *testing.T) {
		c.post("/receipts", receipt(1, "2026-11-20", "30.00", `,"placements":[{"item":`+item+`,"amount":"30.00"}]`)).want(200)
		a := c.post("/allocations?token="+token, set).want(http.StatusConflict)
		if a.at("type") != "shown otherwise" || a.at("effect", "placed") != "90.00" || a.at("effect", "token") == token || len(a.at("effect", "balances")) < 10 {
			t.Errorf("%s", a.body)
		}
		if open := c.get("/customers/1/bench").at("owed", 0, "open"); open != "90.00" {
			t.Errorf("%s is open", open)
		}
		c.post("/allocations?token="+a.at("effect", "token"), set).want(200)
	})

	t.Run("of another body", func(t *testing.T) {
		token := c.post("/deposits?preview=true", deposit(1, "2026-11-20", "120.00")).at("effect", "token")
		c.post("/deposits?token="+token, deposit(1, "2026-11-20", "1080.00")).want(http.StatusConflict)
		c.post("/receipts?token="+token, receipt(1, "2026-11-20", "120.00", `,"onAccount":true`)).want(http.StatusConflict)
		c.post("/deposits?token=none", deposit(1, "2026-11-20", "120.00")).want(http.StatusConflict)
		c.post("/deposits?token="+token, deposit(1, "2026-11-20", "120.00")).want(200)
	})

	t.Run("the number that posting gives is no part of it", func(t *testing.T) {
		mine := c.post("/deposits?preview=true", deposit(2, "2026-11-20", "7.00"))
		c.post("/deposits", deposit(1, "2026-11-20", "8.00")).want(200)
		if got := c.post("/deposits?token="+mine.at("effect", "token"), deposit(2, "2026-11-20", "7.00")).want(200).at("posted", "number"); got == mine.at("effect", "paper", "number") {
			t.Errorf("%s was given twice", got)
		}
	})

	t.Run("warnings are confirmed by it alone", func(t *testing.T) {
		late := deposit(1, "2027-02-01", "9.00")
		shown := c.post("/deposits?preview=true", late)
		if shown.at("effect", "warnings", 0, "rule") != "in the future" {
			t.Fatalf("%s", shown.body)
		}
		c.post("/deposits", late).want(http.StatusConflict)
		// The same paper again brings one more warning, that nobody has seen.
		token := shown.at("effect", "token")
		c.post("/deposits?token="+token, late).want(200)
		twice := strings.Replace(late, `"day"`, `"reference":"A 1","day"`, 1)
		token = c.post("/deposits?preview=true", twice).at("effect", "token")
		c.post("/deposits?token="+token, twice).want(200)
		a := c.post("/deposits?token="+token, twice).want(http.StatusConflict)
		if a.at("effect", "warnings", 1, "rule") != "paid twice?" {
			t.Errorf("%s", a.body)
		}
	})

	t.Run("the same key answers the first answer again", func(t *testing.T) {
		body := deposit(2, "2026-11-20", "11.00")
		token := c.post("/deposits?preview=true", body).at("effect", "token")
		first := c.post("/deposits?token="+token, body, "Idempotency-Key", "k").want(200)
		if again := c.post("/deposits?token="+token, body, "Idempotency-Key", "k").want(200); again.at("posted", "paper") != first.at("posted", "paper") {
			t.Errorf("posted twice: %s", again.body)
		}
	})
}

func TestWhatANewPaperBeginsWith(t *testing.T) {
	c := newClient(t)
	got := string(c.get("/blank").want(200).body)
	for _, want := range []string{`"day":"2026-11-20"`, `"bank":1`, `"method":"transfer"`, `"taxCode":1`} {
		if !strings.Contains(got, want) {
			t.Errorf("no %s in %s", want, got)
		}
	}
}
