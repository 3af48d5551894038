package web_test

import (
	"fmt"
	"net/url"
	"regexp"
	"strings"
	"sync"
	"testing"
)

// camtEntry is a booked entry of a camt.053.
func camtEntry(amount, side, day, ref, name, said string) string {
	other := "Dbtr"
	if side == "DBIT" {
		other = "Cdtr"
	}
	return fmt.Sprintf(`<Ntry><Amt Ccy="EUR">%s</Amt><CdtDbtInd>%s</CdtDbtInd><Sts><Cd>BOOK</Cd></Sts><BookgDt><Dt>%s</Dt></BookgDt><AcctSvcrRef>%s</AcctSvcrRef><NtryDtls><TxDtls><RltdPties><%s><Nm>%s</Nm></%s></RltdPties><RmtInf><Ustrd>%s</Ustrd></RmtInf></TxDtls></NtryDtls></Ntry>`, amount, side, day, ref, other, name, other, said)
}

// camtOf is a statement with what the account begins and ends with.
func camtOf(account, opening, closing, through string, entries ...string) string {
	balance := func(code, amount, day string) string {
		return fmt.Sprintf(`<Bal><Tp><CdOrPrtry><Cd>%s</Cd></CdOrPrtry></Tp><Amt Ccy="EUR">%s</Amt><CdtDbtInd>CRDT</CdtDbtInd><Dt><Dt>%s</Dt></Dt></Bal>`, code, amount, day)
	}
	return `<Document><BkToCstmrStmt><Stmt><Acct><Id><IBAN>` + account + `</IBAN></Id><Ccy>EUR</Ccy></Acct>` + balance("OPBD", opening, through) + balance("CLBD", closing, through) + strings.Join(entries, "") + `</Stmt></BkToCstmrStmt></Document>`
}

func (c *client) readFile(bank int, name, file string, query ...string) answer {
	c.t.Helper()
	return c.do("POST", fmt.Sprintf("/banks/%d/statements?name=%s%s", bank, url.QueryEscape(name), strings.Join(query, "")), file, "Content-Type", "application/octet-stream")
}

// E-23: four lines, of which two are tied, one becomes a deposit and one a charge;
// a cheque is not presented.
func TestE23(t *testing.T) {
	c := newClient(t)
	c.put("/banks/1", `{"name":"Bank","iban":"ZZ42SPWI000000000099"}`).want(200) // its ledger account stays
	accounts := c.get("/accounts").want(200)
	number := map[string]string{}
	for n := range strings.Count(string(accounts.body), `"type":`) {
		number[accounts.at("rows", n, "number")] = accounts.at("rows", n, "id")
	}
	c.must("/journal-entries", `{"day":"2026-11-01","text":"begins","lines":[{"account":`+number["101"]+`,"debit":"10000.00"},{"account":`+number["301"]+`,"credit":"10000.00"}]}`)
	c.must("/invoices", invoice(1, "2026-11-02", "1000"))
	c.must("/receipts", `{"customer":1,"day":"2026-11-11","arrived":"1176.00","bank":1,"method":"transfer","placements":[{"item":1,"amount":"1176.00"}]}`)
	c.must("/deposits", `{"customer":2,"day":"2026-11-01","amount":"500.00","bank":2,"method":"cash"}`)
	c.must("/refunds", `{"day":"2026-11-12","sources":[{"item":3,"amount":"70.00"}],"bank":1,"method":"cheque"}`)
	c.must("/refunds", `{"day":"2026-11-13","sources":[{"item":3,"amount":"430.00"}],"bank":1,"method":"cheque"}`)
	c.readFile(1, "november.xml", camtOf("ZZ42SPWI000000000099", "10000.00", "11694.00", "2026-11-16",
		camtEntry("1176.00", "CRDT", "2026-11-12", "B1", "Odalys Brandt", "I26-0001"), camtEntry("70.00", "DBIT", "2026-11-16", "B2", "Dunmarrow Builders", "CHEQUE 000101"),
		camtEntry("600.00", "CRDT", "2026-11-16", "B3", "Odalys Brandt", "STAIR"), camtEntry("12.00", "DBIT", "2026-11-16", "B4", "", "FEES"))).want(200)
	// What is posted already is proposed first, with what speaks for it; tied, nothing is posted.
	for line, want := range map[int]string{1: "R26-0001", 2: "F26-0001"} {
		p := c.get(fmt.Sprintf("/bank-lines/%d", line)).want(200)
		if p.at("rows", 0, "number") != want || !strings.Contains(p.at("rows", 0, "for"), "posted already, to the cent") {
			t.Fatalf("line %d: %s", line, p.body)
		}
		if a := c.post("/ties?preview=true", `{"lines":[`+fmt.Sprint(line)+`],"movements":[`+p.at("rows", 0, "movements", 0)+`]}`).want(200); a.at("effect", "entries") != "[]" {
			t.Errorf("a tie posts %s", a.at("effect", "entries"))
		}
		c.post("/ties", `{"lines":[`+fmt.Sprint(line)+`],"movements":[`+p.at("rows", 0, "movements", 0)+`]}`).want(200)
	}
	// A paper is made of a line, and must come to it.
	c.post("/deposits?bankLine=3", deposit(1, "2026-11-16", "599.99")).refused(422, "sums differ")
	c.post("/deposits?preview=true&bankLine=3", deposit(1, "2026-11-16", "600.00")).want(200)
	c.post("/deposits?bankLine=3", deposit(1, "2026-11-16", "600.00"), "Idempotency-Key", "k").want(200)
	c.post("/deposits?bankLine=3", deposit(1, "2026-11-16", "600.00")).refused(422, "tied")
	c.post("/deposits?bankLine=4", deposit(1, "2026-11-16", "600.00"), "Idempotency-Key", "k").want(422)
	c.post("/journal-entries?bankLine=4", `{"day":"2026-11-16","text":"Fees","lines":[{"account":`+number["621"]+`,"debit":"12.00"},{"account":`+number["101"]+`,"credit":"12.00"}]}`).want(200)
	at := c.get("/bank").want(200)
	if at.at("rows", 0, "ledger") != "11264.00" || at.at("rows", 0, "bank") != "11694.00" || at.at("rows", 0, "apart") != "-430.00" || at.at("rows", 0, "unexplained") != "0" || at.at("rows", 0, "waiting") != "1" || at.at("rows", 0, "waitingSum") != "-430.00" {
		t.Errorf("%s", at.body)
	}
	// Reconciled: the books are the bank and the cheque that is not presented.
	if r := c.get("/banks/1/reconciliation").want(200); r.at("through") != "2026-11-16" || r.at("ledger") != "11264.00" || r.at("says") != "11694.00" || r.at("waiting") != "-430.00" || r.at("apart") != "0.00" || r.at("holds") != "true" || r.at("notAtBank", 0, "number") != "F26-0002" || r.at("notAtBank", 0, "age") != "3" || r.at("notAtBank", 0, "cheque") != "000102" {
		t.Errorf("%s", r.body)
	}
	// On the 12th the bank had told of the receipt, which was posted the day before, and the cheque was out.
	if r := c.get("/banks/1/reconciliation?through=2026-11-12").want(200); r.at("ledger") != "11106.00" || r.at("says") != "11176.00" || r.at("waiting") != "-70.00" || r.at("holds") != "true" {
		t.Errorf("%s", r.body)
	}
	c.post("/banks/1/reconciliation", `{"through":"2026-11-16"}`).want(204)
	if r := c.get("/banks/1/reconciliation").want(200); r.at("proofs", 0, "through") != "2026-11-16" || r.at("proofs", 0, "user") != "W" {
		t.Errorf("%s", r.body)
	}
	c.post("/banks/2/reconciliation", `{"through":"2026-11-16"}`).refused(422, "nothing read")
	c.post("/banks/9/reconciliation", `{"through":"2026-11-16"}`).want(404)
	c.post("/banks/1/reconciliation", `{"through":"2026-02-30"}`).refused(422, "no such day")
	c.get("/banks/9/reconciliation").want(404)
	if l := c.get("/banks/1/lines?state=all").want(200); l.at("rows", 2, "papers") != "D26-0002" || l.at("rows", 2, "tied") != "true" {
		t.Errorf("%s", l.body)
	}
	// Reversed, its line is unexplained again, and that was said before.
	deposit := c.get("/banks/1/lines?state=all").at("rows", 2, "paperId")
	if w := c.post("/reversals?preview=true", `{"paper":`+deposit+`,"day":"2026-11-20","reason":"x"}`).want(200); !strings.Contains(w.at("effect", "warnings"), "unexplained again") {
		t.Errorf("%s", w.at("effect", "warnings"))
	}
	c.must("/reversals", `{"paper":`+deposit+`,"day":"2026-11-20","reason":"x"}`)
	c.post("/ties/undo", `{"line":1}`).want(200)
	if at := c.get("/bank").want(200); at.at("rows", 0, "unexplained") != "2" {
		t.Errorf("%s", at.body)
	}
	c.post("/ties/undo", `{"line":1}`).refused(422, "missing")
	c.post("/banks/1/reconciliation", `{"through":"2026-11-16"}`).refused(422, "unexplained")
	c.must("/journal-entries", `{"day":"2026-11-05","text":"before","lines":[{"account":`+number["101"]+`,"debit":"1.00"},{"account":`+number["301"]+`,"credit":"1.00"}]}`)
	if r := c.get("/banks/1/reconciliation?through=2026-11-12").want(200); r.at("apart") != "1.00" || r.at("holds") != "false" {
		t.Errorf("%s", r.body)
	}
	// What was reconciled no longer agrees, and the tie-out says so.
	if o := c.get("/tie-out").want(200); o.at("ok") != "false" || o.at("ties", 13, "ok") != "false" || o.at("ties", 13, "through") != "2026-11-16" || o.at("ties", 12, "ok") != "true" {
		t.Errorf("%s", o.body)
	}
}

// A file is read once: again, or with another that overlaps, only what is new is
// taken; what does not add up, or is of another account, is refused whole.
func TestBankStatements(t *testing.T) {
	c := newClient(t)
	c.put("/banks/1", `{"name":"Bank","account":1,"iban":"ZZ42SPWI000000000099"}`).want(200)
	const own = "ZZ42 SPWI 0000 0000 0099"
	a := camtEntry("1176.00", "CRDT", "2026-11-11", "B1", "Odalys Brandt", "I26-0001")
	b := camtEntry("70.00", "DBIT", "2026-11-12", "B2", "Dunmarrow Builders", "CHQ 101")
	twice := camtEntry("5.00", "DBIT", "2026-11-12", "", "", "FEE")
	d := camtEntry("600.00", "CRDT", "2026-11-13", "B4", "", "STAIR")
	first := camtOf(own, "10000.00", "11096.00", "2026-11-12", a, b, twice, twice)
	if r := c.readFile(1, "nov.xml", first).want(200); r.at("new") != "4" || r.at("from") != "2026-11-11" {
		t.Fatalf("%s", r.body)
	}
	if r := c.readFile(1, "nov.xml", first).want(200); r.at("new") != "0" || r.at("read") != "4" {
		t.Errorf("again: %s", r.body)
	}
	if r := c.readFile(1, "more.xml", camtOf(own, "11176.00", "11696.00", "2026-11-13", b, twice, twice, d)).want(200); r.at("new") != "1" {
		t.Errorf("one that overlaps: %s", r.body)
	}
	if at := c.get("/bank").want(200); at.at("rows", 0, "bank") != "11696.00" || at.at("rows", 0, "unexplained") != "5" || at.at("rows", 0, "through") != "2026-11-13" {
		t.Errorf("%s", at.body)
	}
	// Of a file with several accounts, that of this one is taken.
	both := strings.Replace(camtOf("ZZ99 OTHER", "1.00", "2.00", "2026-11-13", camtEntry("1.00", "CRDT", "2026-11-13", "O1", "", "x")), "</BkToCstmrStmt></Document>", strings.TrimPrefix(first, "<Document><BkToCstmrStmt>"), 1)
	if r := c.readFile(1, "both.xml", both).want(200); r.at("read") != "4" || r.at("new") != "0" {
		t.Errorf("both: %s", r.body)
	}
	// An older file is held to what is known of its end.
	old := camtEntry("1.00", "CRDT", "2026-11-10", "A1", "", "x")
	c.readFile(1, "old.xml", camtOf(own, "9998.00", "9999.00", "2026-11-10", old)).refused(422, "does not add up")
	if r := c.readFile(1, "old.xml", camtOf(own, "9999.00", "10000.00", "2026-11-10", old)).want(200); r.at("new") != "1" {
		t.Errorf("an older one: %s", r.body)
	}
	for name, x := range map[string]struct {
		bank       int
		file, rule string
	}{
		"another account":  {1, strings.Replace(first, own, "ZZ99 OTHER", 1), "another account"},
		"another currency": {1, strings.ReplaceAll(first, "EUR", "USD"), "not read"},
		"a gap":            {1, camtOf(own, "12000.00", "12001.00", "2026-11-15", camtEntry("1.00", "CRDT", "2026-11-15", "C1", "", "x")), "does not follow"},
		"sums":             {1, camtOf(own, "11696.00", "11698.00", "2026-11-15", camtEntry("1.00", "CRDT", "2026-11-15", "C1", "", "x")), "not read"},
		"a till":           {2, first, "no bank"},
		"entities":         {1, `<!DOCTYPE x [<!ENTITY a "b">]><BkToCstmrStmt><Stmt>&a;</Stmt></BkToCstmrStmt>`, "not read"},
		"another form":     {1, "<Order/>", "not read"},
		"no mapping":       {1, "Day,Amount\n2026-11-15,1.00\n", "not read"},
	} {
		c.readFile(x.bank, "x", x.file).refused(422, x.rule)
		if at := c.get("/bank").want(200); at.at("rows", 0, "unexplained") != "6" || at.at("rows", 0, "bank") != "11696.00" {
			t.Errorf("%s: %s", name, at.body)
		}
	}
	c.readFile(9, "x", first).want(404)
	// A CSV by its columns, which are kept.
	csv := "Day;What;Amount\n14.11.2026;SHOP;-1.234,50\n"
	if cols := c.do("POST", "/banks/1/columns", csv, "Content-Type", "application/octet-stream").want(200); cols.at("csv") != "true" || cols.at("header", 2) != "Amount" || cols.at("rows", 0, 1) != "SHOP" {
		t.Errorf("%s", cols.body)
	}
	m := url.QueryEscape(`{"day":"Day","amount":"Amount","text":"What","form":"20.11.2026","comma":true}`)
	if r := c.readFile(1, "shop.csv", csv, "&mapping="+m).want(200); r.at("new") != "1" {
		t.Errorf("%s", r.body)
	}
	if r := c.readFile(1, "shop.csv", csv).want(200); r.at("new") != "0" {
		t.Errorf("by the columns that were kept: %s", r.body)
	}
	if at := c.get("/bank").want(200); at.at("rows", 0, "bank") != "10461.50" {
		t.Errorf("%s", at.body)
	}
	// The lines alone are the same, without what each may be.
	may := regexp.MustCompile(`,"may":\{(?:[^{}]|\{[^{}]*\})*\}`)
	whole, alone := c.get("/banks/1/lines").want(200), c.get("/banks/1/lines?part=first").want(200)
	if without := may.ReplaceAllString(string(whole.body), ""); without == string(whole.body) || without != string(alone.body) {
		t.Errorf("%s\nalone %s", whole.body, alone.body)
	}
	if l := c.get("/banks/1/lines?q=shop").want(200); l.at("count") != "1" || l.at("rows", 0, "amount") != "-1234.50" {
		t.Errorf("%s", l.body)
	}
}

// Two who tie the same line at once: one does, the other is told.
func TestTwoTieOneLine(t *testing.T) {
	c := newClient(t)
	c.must("/deposits", deposit(1, "2026-11-11", "600.00"))
	c.readFile(1, "x", camtOf("", "0.00", "600.00", "2026-11-12", camtEntry("600.00", "CRDT", "2026-11-12", "B4", "Odalys Brandt", "STAIR"))).want(200)
	var all sync.WaitGroup
	var mu sync.Mutex
	tied := 0
	movement := c.get("/bank-lines/1").want(200).at("rows", 0, "movements", 0)
	for range 6 {
		all.Go(func() {
			a := c.post("/ties", `{"lines":[1],"movements":[`+movement+`]}`)
			mu.Lock()
			defer mu.Unlock()
			if a.status == 200 {
				tied++
			} else {
				a.refused(422, "not to be tied")
			}
		})
	}
	all.Wait()
	if tied != 1 {
		t.Errorf("%d tied it", tied)
	}
	c.tiesOut()
}
