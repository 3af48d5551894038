package web_test

import (
	"fmt"
	"strings"
	"testing"
)

// saysOfFirm changes one thing of what the firm says of itself.
func (c *client) saysOfFirm(field, value string) {
	c.t.Helper()
	f := c.get("/firm").want(200)
	c.put("/firm", fmt.Sprintf(`{"name":%q,"terms":%s,"taxCode":%s,%q:%q}`, f.at("name"), f.at("terms"), f.at("taxCode"), field, value)).want(200)
}

// A firm that owes its tax when it is paid: it waits on an account of its own and
// falls due by portions, on the day on which it is paid, at the rate at which it
// was billed; the return tells it then, and what waits.
func TestTaxWhenPaid(t *testing.T) {
	c := newClient(t)
	c.do("PUT", "/choices", `{"billerPosts":true,"billerChooses":true}`).want(204)
	c.saysOfFirm("taxDue", "paid")
	if c.saysOfFirm("phone", "0700"); c.get("/firm").want(200).at("taxDue") != "paid" || c.get("/people").want(200).at("choices", "billerPosts") != "true" {
		t.Errorf("what was settled is lost when something else is saved: %s", c.get("/firm").body)
	}
	c.try("/invoices", `{"customer":1,"day":"2026-09-10","lines":[{"text":"a","unitPrice":"1000","taxCode":1},{"text":"b","unitPrice":"100","taxCode":2}]}`,
		"Dr 120 1310.00, Cr 401 1000.00, Cr 401 100.00, Cr 246 210.00")
	c.post("/invoices?"+seen, `{"customer":1,"day":"2026-09-11","lines":[{"text":"a","unitPrice":"50","taxCode":3}]}`).want(200)
	r := c.get("/tax-return?through=2026-09-30").want(200)
	if r.at("output") != "0.00" || r.at("waiting") != "210.00" || r.rows("rows") != 1 || taxRow(r, "billed", " 0 %") != "50.00 0.00 I26-0002" {
		t.Errorf("billed, and not paid: %s", r.body)
	}
	if file := string(c.get("/tax-return/file?through=2026-09-30&format=csv").want(200).body); !strings.Contains(file, `"Not due yet: billed, and owed when it is paid",,210.00`) {
		t.Errorf("its file: %s", file)
	}
	c.get("/tax-return/file?through=2026-09-30&format=pdf").want(200)
	c.post("/tax-settlements", `{"through":"2026-09-30"}`).want(200)
	// The rate goes up before it is paid.
	code := c.get("/taxcodes").want(200)
	c.put("/taxcodes/1", fmt.Sprintf(`{"code":"STD","name":%q,"kind":"charged","rates":[{"since":"2020-01-01","percent":"20"},{"since":"2026-10-01","percent":"22"}]}`, code.at("rows", 0, "name"))).want(200)
	c.try("/receipts", receipt(1, "2026-10-05", "655.00", `,"placements":[{"item":1,"amount":"655.00"}]`), "Dr 101 655.00, Cr 120 655.00", "Dr 246 105.00, Cr 241 100.00, Cr 241 5.00")
	r = c.get("/tax-return?through=2026-10-31").want(200)
	if taxRow(r, "paid", " 20 %") != "500.00 100.00 R26-0001" || taxRow(r, "paid", " 10 %") != "50.00 5.00 R26-0001" || r.at("toPay") != "105.00" || r.at("waiting") != "-105.00" {
		t.Errorf("paid in part: %s", r.body)
	}
	c.post("/tax-settlements", `{"through":"2026-10-31"}`).want(200)
	// Undone in a settled span it would be; the next takes it.
	c.post("/allocations/undo", `{"allocations":[1],"day":"2026-10-20"}`).refused(422, "tax settled")
	c.post("/allocations/undo", `{"allocations":[1],"day":"2026-11-02"}`).want(200)
	if r = c.get("/tax-return?through=2026-11-30").want(200); taxRow(r, "paid", " 20 %") != "-500.00 -100.00 R26-0001" || r.at("toPay") != "-105.00" {
		t.Errorf("undone: %s", r.body)
	}
	c.post("/allocations", `{"day":"2026-11-03","pairs":[{"debit":1,"credit":3,"amount":"655.00"}]}`).want(200)
	c.tiesOut()
	// An old invoice goes on as it was billed when the firm changes its mind.
	c.saysOfFirm("taxDue", "billed")
	c.try("/receipts", receipt(1, "2026-11-05", "655.00", `,"placements":[{"item":1,"amount":"655.00"}]`), "Dr 101 655.00, Cr 120 655.00", "Dr 246 105.00, Cr 241 100.00, Cr 241 5.00")
	c.try("/invoices", invoice(1, "2026-11-06", "100"), "Dr 120 122.00, Cr 401 100.00, Cr 241 22.00")
	if a := c.do("PUT", "/firm", `{"name":"x","terms":1,"taxCode":1,"taxDue":"never"}`, "If-Match", `"`+c.version("/firm")+`"`); a.status != 422 {
		t.Errorf("tax due never: %d %s", a.status, a.body)
	}
}

// What is owed when a firm begins brings the tax along that waits.
func TestTaxWhenPaidFromOldBooks(t *testing.T) {
	c := newClient(t)
	c.saysOfFirm("taxDue", "paid")
	c.post("/openings?"+seen, bodyOf(c, "2025-12-31", map[string]string{
		"items": "What,Number,Day,Due,Name,Amount,Tax inside,Tax code\ninvoice,4711,2025-11-12,2025-12-12,Odalys Brandt,1200.00,200.00,STD\ncredit,C12,2025-11-20,,Odalys Brandt,120.00,20.00,STD\n",
		"trial": "Account,Debit,Credit\n120,1080.00,\n246,,180.00\n301,,900.00\n",
	})).want(200)
	c.try("/receipts", receipt(1, "2026-11-05", "600.00", `,"placements":[{"item":1,"amount":"600.00"}]`), "Dr 101 600.00, Cr 120 600.00", "Dr 246 100.00, Cr 241 100.00")
	c.tiesOut()
}
