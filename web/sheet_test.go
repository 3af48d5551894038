package web_test

import (
	"bytes"
	"encoding/json"
	"fmt"
	"os/exec"
	"regexp"
	"strings"
	"testing"
)

// says is what the sums of a paper's sheet say, in their order.
func (c *client) says(paper int, asOf string) string {
	c.t.Helper()
	a := c.get(fmt.Sprintf("/papers/%d%s", paper, asOf)).want(200)
	var p struct {
		Sheet struct {
			Sums []struct{ Name, Amount string }
		}
	}
	if err := json.Unmarshal(a.body, &p); err != nil {
		c.t.Fatal(err)
	}
	var all []string
	for _, x := range p.Sheet.Sums {
		all = append(all, x.Name+" "+x.Amount)
	}
	return strings.Join(all, " | ")
}

// pdf is what a PDF says, its spaces as one.
func (c *client) pdf(query string) string {
	c.t.Helper()
	a := c.get(query).want(200)
	if a.header.Get("Content-Type") != "application/pdf" || !strings.HasPrefix(a.header.Get("Content-Disposition"), "attachment;") {
		c.t.Errorf("%s: %v", query, a.header)
	}
	return pdfText(c.t, a.body)
}

// pdfText is what a PDF says, its spaces as one; "-raw" keeps together what is
// turned.
func pdfText(t *testing.T, file []byte, raw ...string) string {
	t.Helper()
	how := "-layout"
	if len(raw) > 0 {
		how = raw[0]
	}
	read := exec.Command("pdftotext", how, "-", "-")
	read.Stdin = bytes.NewReader(file)
	out, err := read.Output()
	if err != nil {
		t.Fatalf("the PDF cannot be read (pdftotext of poppler-utils): %v", err)
	}
	return regexp.MustCompile(`\s+`).ReplaceAllString(string(out), " ")
}

// A paper goes out with its totals in the order of the rules, and the PDF says
// the same figures as the screen.
func TestSheetsOfExamples(t *testing.T) {
	c := newClient(t)
	c.post("/receipts", receipt(1, "2026-10-03", "1000.00", `,"onAccount":true,"reference":"TRF 7"`)).want(200)
	c.post("/deposits", deposit(1, "2026-10-04", "2500.00")).want(200)
	c.post("/invoices", `{"customer":1,"day":"2026-11-20","lines":[{"text":"Stair","quantity":"2","unit":"pcs","unitPrice":"3100","taxCode":1}],"setAgainst":[{"credit":1},{"credit":2,"amount":"1800.00"}]}`).want(200)
	if got, want := c.says(3, ""), "Net 6200.00 | Tax 20 % 1240.00 | Total 7440.00 | Paid R26-0001, 3 Oct, TRF 7 -1000.00 | Deposit D26-0001, 4 Oct -1800.00 | Left to pay by 20 Dec 4640.00"; got != want {
		t.Errorf("E-6 says\n%s, want\n%s", got, want)
	}
	text := c.pdf("/papers/3/pdf")
	for _, want := range []string{"Invoice I26-0001", "Odalys Brandt", "Stair 2 pcs 3,100.00 20 % 6,200.00", "Net 6,200.00", "Tax 20 % 1,240.00", "Total 7,440.00", "Paid R26-0001, 3 Oct, TRF 7 −1,000.00", "Deposit D26-0001, 4 Oct −1,800.00", "Left to pay by 20 Dec 4,640.00"} {
		if !strings.Contains(text, want) {
			t.Errorf("the PDF does not say %q: %s", want, text)
		}
	}
	// Two rates are told apart, each with its net.
	c.post("/invoices", `{"customer":2,"day":"2026-11-20","lines":[{"text":"a","unitPrice":"100","taxCode":1},{"text":"b","unitPrice":"33.33","taxCode":2}],"discount":"10.00"}`).want(200)
	if got, want := c.says(4, ""), "Discount -10.00 | Net at 20 % 92.50 | Net at 10 % 30.83 | Net 123.33 | Tax 20 % 18.50 | Tax 10 % 3.08 | Total 144.91 | Left to pay by 20 Dec 144.91"; got != want {
		t.Errorf("E-1 says\n%s, want\n%s", got, want)
	}
	// As of a day before, what came since is not there.
	c.post("/receipts", receipt(2, "2026-11-20", "144.91", `,"placements":[{"item":`+c.get("/papers/4").at("parts", 0, "itemId")+`,"amount":"144.91"}]`)).want(200)
	if got := c.says(4, ""); !strings.HasSuffix(got, "Paid R26-0002, 20 Nov -144.91 | Nothing left to pay 0.00") {
		t.Errorf("paid, it says %s", got)
	}
	if text := c.pdf("/papers/pdf?ids=4&ids=5&ids=3"); strings.Count(text, "Sparrow & Winder ·")+strings.Count(text, "Nothing left to pay 0.00") < 1 || !strings.Contains(text, "Receipt R26-0002") || !strings.Contains(text, "One hundred") {
		t.Errorf("several say %s", text)
	}
	c.get("/papers/99/pdf").want(404)
	c.get("/papers/pdf?ids=3&ids=99").want(404)
	c.get("/papers/pdf").want(422)
}

// What was billed in advance is taken off with its tax, what is kept back stands
// after what was paid, and an advance that nobody paid yet is told below.
func TestSheetOfAFinalInvoice(t *testing.T) {
	c := newClient(t)
	c.put("/jobs/1", `{"name":"Stair","customer":1,"retention":"5","retentionGross":true}`).want(200)
	c.post("/orders", order("2026-10-01", "8000")).want(200)
	c.post("/deposit-invoices", `{"customer":1,"job":1,"day":"2026-10-02","order":1,"percent":"30"}`).want(200)
	c.post("/invoices", `{"customer":1,"job":1,"day":"2026-11-20","form":"final","lines":[{"text":"Stair","order":1,"orderLine":1}],"deductions":[{"paper":2}]}`).want(200)
	want := "Net 8000.00 | Tax 20 % 1600.00 | Total 9600.00 | Deposit invoice AI26-0001 of 2 Oct 2026: 2,400.00 net, 480.00 tax at 20 % -2880.00 | Kept back by you -480.00 | Left to pay by 20 Dec 6240.00"
	if got := c.says(3, ""); got != want {
		t.Errorf("E-5 says\n%s, want\n%s", got, want)
	}
	a := c.get("/papers/3").want(200)
	if a.at("sheet", "heading") != "Final invoice" || a.at("sheet", "below", 0) != "Of AI26-0001, which is taken off here, 2,880.00 is still to be paid." {
		t.Errorf("below: %s", a.body)
	}
	if text := c.pdf("/papers/3/pdf"); !strings.Contains(text, "Of AI26-0001, which is taken off here, 2,880.00 is still to be paid.") || !strings.Contains(text, "Kept back by you −480.00 Left to pay by 20 Dec 6,240.00") {
		t.Errorf("the PDF says %s", text)
	}
}

// A statement goes out with the figures of the screen: of a span with its opening
// and closing, of open items with what is open; several in one file.
func TestStatementsAsPDF(t *testing.T) {
	c := newClient(t)
	c.put("/jobs/1", `{"name":"Flats","customer":1,"retention":"5","retentionGross":true}`).want(200)
	c.post("/invoices", `{"customer":1,"job":1,"day":"2026-10-05","lines":[{"text":"Stairs","unitPrice":"12000","taxCode":1}]}`).want(200)
	c.post("/deposits", deposit(1, "2026-10-06", "1000.00")).want(200)
	text := c.pdf("/statements/pdf?ids=1&from=2026-10-01&through=2026-11-20")
	for _, want := range []string{"Statement", "Odalys Brandt", "From 1 Oct 2026 Through 20 Nov 2026", "Balance brought forward 1 Oct 0.00", "I26-0001 13,680.00 13,680.00", "Balance 13,680.00", "Held for you 1,000.00", "Kept back 720.00", "Balance with these 13,400.00"} {
		if !strings.Contains(text, want) {
			t.Errorf("the statement does not say %q: %s", want, text)
		}
	}
	text = c.pdf("/statements/pdf?ids=1&ids=2&open=true&through=2026-11-20")
	if !strings.Contains(text, "Open items on 20 Nov 2026") || !strings.Contains(text, "Stairs 5 Oct I26-0001 4 Nov 13,680.00 13,680.00") || !strings.Contains(text, "Dunmarrow Builders") || !strings.Contains(text, "1–30 days overdue 13,680.00") {
		t.Errorf("open items: %s", text)
	}
	c.get("/statements/pdf?ids=1&ids=99&through=2026-11-20").want(404)
	c.get("/statements/pdf?through=2026-11-20").want(422)
}

// A statement of open items says so, also where none is open but something is
// held.
func TestStatementOfNothingOpen(t *testing.T) {
	c := newClient(t)
	c.post("/deposits", deposit(1, "2026-10-04", "2500.00")).want(200)
	s := c.get("/customers/1/statement?open=true&through=2026-11-20").want(200)
	if s.at("open") != "true" || s.at("held") != "2500.00" || s.at("rows") != "[]" {
		t.Errorf("the statement: %s", s.body)
	}
	if text := c.pdf("/statements/pdf?ids=1&open=true&through=2026-11-20"); !strings.Contains(text, "Open items on 20 Nov 2026") || strings.Contains(text, "Balance brought forward") {
		t.Errorf("it says %s", text)
	}
}

// A claim's certificate says where the contract stands, what is claimed and to be
// paid, and is signed by both; it is taken along, and goes with a mail.
func TestCertificate(t *testing.T) {
	p := newPostOffice(t)
	c := p.client
	c.post("/jobs", `{"name":"Stair","customer":1,"contractSum":"0","retention":"5"}`).want(200)
	c.must("/orders", `{"customer":1,"job":1,"day":"2026-11-20","lines":[{"text":"Flight of oak","quantity":"4","unitPrice":"5000","taxCode":1},{"text":"Handrail","quantity":"1","unitPrice":"20000","taxCode":1}]}`)
	c.must("/claims", `{"job":1,"day":"2026-11-20","percent":"25"}`)
	claim := c.must("/claims", `{"job":1,"day":"2026-11-20","percent":"60"}`).at("posted", "paper")
	if got := c.get("/papers/" + claim).want(200); got.at("claim") != "true" {
		t.Errorf("%s", got.body)
	}
	text := pdfText(t, c.get("/papers/"+claim+"/certificate").want(200).body, "-layout")
	for _, want := range []string{"Certificate", "Flight of oak", "Order O26-0001", "20,000.00", "5,000.00", "7,000.00", "12,000.00", "60.0 %", "24,000.00", "−10,000.00", "14,000.00", "2,800.00", "−700.00", "16,100.00", "1,200.00", "Certified by"} {
		if !strings.Contains(text, want) {
			t.Errorf("it does not say %q: %s", want, text)
		}
	}
	if strings.Contains(text, "Agreed without an order") {
		t.Errorf("%s", text)
	}
	c.get("/papers/1/certificate").refused(422, "no claim")
	c.get("/papers/99/certificate").want(404)
	m := c.post("/mails/proposal", `{"papers":[`+claim+`],"pdf":true,"certificate":true}`).want(200)
	if m.at("claim") != "true" || m.at("files", 1, "name") == "" || !strings.Contains(m.at("files", 1, "name"), "Certificate I26-") {
		t.Errorf("with a mail: %s", m.body)
	}
	if m := c.post("/mails/proposal", `{"papers":[1],"pdf":true,"certificate":true}`).want(200); m.at("claim") != "false" || strings.Contains(string(m.body), "Certificate") {
		t.Errorf("of what is no claim: %s", m.body)
	}
}

// A cheque is printed with its slip, on plain paper or on the form of its account.
func TestChequesAsPDF(t *testing.T) {
	c := newClient(t)
	c.must("/deposits", deposit(1, "2026-11-20", "400.00"))
	c.must("/refunds", `{"day":"2026-11-20","sources":[{"item":1,"amount":"123.45"}],"bank":1,"method":"cheque"}`)
	plain := pdfText(t, c.get("/cheques/pdf?ids=2").want(200).body, "-layout")
	for _, want := range []string{"Pay", "Odalys Brandt", "123.45", "One hundred", "No. ", "Refund F26-0001", "Given back"} {
		if !strings.Contains(plain, want) {
			t.Errorf("it does not say %q: %s", want, plain)
		}
	}
	c.put("/banks/1", `{"name":"Bank","chequeForm":true,"chequeRight":-4,"chequeDown":12}`).want(200)
	form := pdfText(t, c.get("/cheques/pdf?ids=2").want(200).body, "-layout")
	if strings.Contains(form, "Pay ") || strings.Contains(form, "No. ") || !strings.Contains(form, "123.45") || !strings.Contains(form, "Refund F26-0001") {
		t.Errorf("on its form: %s", form)
	}
	c.put("/banks/1", `{"name":"Bank","chequeForm":true,"chequeRight":101}`).refused(422, "out of bounds")
	c.put("/banks/1", `{"name":"Bank","chequeDown":-101}`).refused(422, "out of bounds")
	c.put("/banks/1", `{"name":"Bank","cash":true,"takings":true}`).refused(422, "one of them")
	c.get("/cheques/pdf?ids=1").refused(422, "no cheque")
	c.get("/cheques/pdf?ids=2&ids=99").refused(422, "no cheque")
}
