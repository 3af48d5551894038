package billing_test

import (
	"testing"

	"cleantally/core/billing"
	"cleantally/core/master"
	"cleantally/core/posting"
	"cleantally/core/settling"
)

// E-13: three claims, an agreed variation between them.
func TestE13(t *testing.T) {
	f := newFirm(t)
	f.keeps(func(j *master.Job) { j.ContractSum = 4000000 })
	claim := func(percent string) billing.Claim {
		return billing.Claim{JobID: 1, Day: "2026-11-02", Percent: dec(percent)}
	}
	e := f.posts(claim("25"), "Dr 120 12000.00, Cr 401 10000.00, Cr 241 2000.00")
	if p := e.Paper(); p.Reason != "Work to date 25 % of 40,000.00, 10,000.00, less claimed before 0.00: 10,000.00" || p.Form != "stage" {
		t.Errorf("the certificate: %s", p.Reason)
	}
	f.posts(claim("60"), "Dr 120 16800.00, Cr 401 14000.00, Cr 241 2800.00")
	f.refuses(claim("60"), "percent", "nothing to claim", "24000.00")
	f.refuses(claim("50"), "percent", "less than before", "24000.00")
	f.refuses(claim("100.5"), "percent", "out of bounds", "100")
	f.refuses(billing.Claim{JobID: 1, Day: "2026-11-02", ToDate: 4000001}, "toDate", "more than the contract", "40000.00")
	f.posts(billing.Order{PartyID: 1, JobID: 1, Day: "2026-11-02", Lines: []posting.Line{work("5000", 1)}})
	f.posts(claim("100"), "Dr 120 25200.00, Cr 401 21000.00, Cr 241 4200.00")
	if left := billing.OrderLines(f.Book, f.Papers[2], "2026-11-20")[0]; left.LeftToBill != 0 {
		t.Errorf("left of the variation: %d", left.LeftToBill)
	}
}

// An order is billed by lines or by progress, not both; the final invoice takes
// what is left of a line all the same.
func TestLinesOrProgress(t *testing.T) {
	f := newFirm(t)
	f.keeps(func(j *master.Job) { j.ContractSum = 0 })
	flights := posting.Line{Text: "flight", Quantity: dec("4"), UnitPrice: dec("1000"), TaxCodeID: 1}
	f.posts(billing.Order{PartyID: 1, JobID: 1, Day: "2026-10-01", Lines: []posting.Line{flights}})
	f.posts(billing.Claim{JobID: 1, Day: "2026-11-02", Percent: dec("25")}, "Dr 120 1200.00, Cr 401 1000.00, Cr 241 200.00")
	bill := billing.Invoice{PartyID: 1, JobID: 1, Day: "2026-11-02", Lines: []posting.Line{ofOrder(1, 1, "1")}}
	f.refuses(bill, "lines[0].quantity", "billed by progress", "3")
	bill.Lines[0].Quantity = dec("3")
	f.posts(bill, "Dr 120 3600.00, Cr 401 3000.00, Cr 241 600.00")
	f.posts(billing.Order{PartyID: 1, JobID: 1, Day: "2026-10-01", Lines: []posting.Line{flights}})
	f.posts(billing.Invoice{PartyID: 1, JobID: 1, Day: "2026-11-02", Lines: []posting.Line{ofOrder(4, 1, "1")}}, "Dr 120 1200.00, Cr 401 1000.00, Cr 241 200.00")
	f.refuses(billing.Claim{JobID: 1, Day: "2026-11-20", Percent: dec("90")}, "job", "billed by lines", "")
}

// A claim by lines: a share of one, a quantity of another, each less what was
// claimed of it before, also where it was certified lower.
func TestClaimByLines(t *testing.T) {
	f := newFirm(t)
	f.keeps(func(j *master.Job) { j.ContractSum = 0 })
	f.posts(billing.Order{PartyID: 1, JobID: 1, Day: "2026-10-01", Lines: []posting.Line{{Text: "flight", Quantity: dec("3"), UnitPrice: dec("2000"), TaxCodeID: 1}, work("2000", 2)}})
	c := billing.Claim{JobID: 1, Day: "2026-11-02", Lines: []billing.ClaimLine{{OrderID: 1, Position: 1, Quantity: dec("1.5")}, {OrderID: 1, Position: 2, Percent: dec("25")}}}
	e := f.posts(c, "Dr 120 4150.00, Cr 401 3000.00, Cr 401 500.00, Cr 241 600.00, Cr 241 50.00")
	if p := e.Paper(); p.Reason != "Work to date by lines 3,500.00, less claimed before 0.00: 3,500.00" || p.Lines[0].Quantity.String() != "1.5" {
		t.Errorf("the certificate: %s, %s", p.Reason, p.Lines[0].Quantity)
	}
	f.refuses(c, "lines", "nothing to claim", "3500.00")
	c.Lines[0].Quantity, c.Lines[1].Percent = dec("1"), dec("50")
	f.refuses(c, "lines[0].percent", "less than before", "3000.00")
	c.Lines[0].Quantity, c.Certified = dec("3"), 200000
	f.posts(c, "Dr 120 2371.43, Cr 401 1714.29, Cr 401 285.71, Cr 241 342.86, Cr 241 28.57")
	c.Certified, c.Lines[1].Percent = 0, dec("100")
	f.posts(c, "Dr 120 2878.57, Cr 401 1285.71, Cr 401 1214.29, Cr 241 257.14, Cr 241 121.43")
	// What was cancelled is neither done nor claimed.
	f.posts(billing.Order{PartyID: 1, JobID: 1, Day: "2026-10-01", Lines: []posting.Line{{Text: "rail", Quantity: dec("4"), UnitPrice: dec("100"), TaxCodeID: 1}}})
	f.posts(billing.Cancellation{OrderID: 5, Day: "2026-11-02", Reason: "less", Lines: []billing.OrderShare{{Position: 1, Quantity: dec("2")}}})
	f.posts(billing.Claim{JobID: 1, Day: "2026-11-02", Lines: []billing.ClaimLine{{OrderID: 5, Position: 1, Percent: dec("50")}}}, "Dr 120 120.00, Cr 401 100.00, Cr 241 20.00")
	for _, x := range []struct {
		line billing.ClaimLine
		rule string
	}{
		{billing.ClaimLine{OrderID: 1, Position: 3, Percent: dec("5")}, "missing"},
		{billing.ClaimLine{OrderID: 1, Position: 1}, "one of them"},
		{billing.ClaimLine{OrderID: 1, Position: 1, Percent: dec("101")}, "out of bounds"},
	} {
		f.refuses(billing.Claim{JobID: 1, Day: "2026-11-20", Lines: []billing.ClaimLine{x.line}}, "lines[0].percent", x.rule, "")
	}
}

// What is measured beyond the order, and what is delivered beyond it and billed,
// becomes an agreed variation once it is confirmed.
func TestMeasuredBeyond(t *testing.T) {
	f := newFirm(t)
	f.keeps(func(j *master.Job) { j.ContractSum = 0 })
	f.posts(billing.Order{PartyID: 1, JobID: 1, Day: "2026-10-01", Lines: []posting.Line{{Text: "rail", Quantity: dec("10"), UnitPrice: dec("100"), TaxCodeID: 1}}})
	c := billing.Claim{JobID: 1, Day: "2026-11-02", Lines: []billing.ClaimLine{{OrderID: 1, Position: 1, Quantity: dec("6")}}}
	f.posts(c, "Dr 120 720.00, Cr 401 600.00, Cr 241 120.00")
	c.Lines[0].Quantity = dec("12.5")
	e, err := c.Plan(f.Book)
	if err != nil || len(e.Warnings) != 1 || e.Warnings[0].Rule != "more than ordered" {
		t.Errorf("beyond the order: %v %v", err, e.Warnings)
	}
	f.posts(c, "Dr 120 780.00, Cr 401 650.00, Cr 241 130.00")
	if f.Agreed(1) != 125000 || f.JobBilled(1) != 125000 {
		t.Errorf("agreed %d, billed %d", f.Agreed(1), f.JobBilled(1))
	}
	if l := billing.OrderLines(f.Book, f.Papers[0], "2026-11-20")[0]; l.LeftToBill != 0 || l.Delivered.Decimal().String() != "12.5" {
		t.Errorf("the order: %+v", l)
	}
	f.posts(settling.Reversal{PaperID: 3, Day: "2026-11-20", Reason: "wrong"}, "Cr 120 780.00, Dr 401 650.00, Dr 241 130.00")
	if f.Agreed(1) != 100000 {
		t.Errorf("agreed after it was taken back: %d", f.Agreed(1))
	}

	f = newFirm(t)
	f.keeps(func(j *master.Job) { j.ContractSum = 0 })
	f.posts(billing.Order{PartyID: 1, JobID: 1, Day: "2026-10-01", Lines: []posting.Line{{Text: "tread", Quantity: dec("40"), UnitPrice: dec("100"), TaxCodeID: 1}}})
	f.posts(billing.Delivery{OrderID: 1, Day: "2026-10-10", Lines: []billing.OrderShare{{Position: 1, Quantity: dec("41")}}})
	f.posts(billing.Invoice{PartyID: 1, JobID: 1, Day: "2026-10-20", Lines: []posting.Line{ofOrder(1, 1, "41")}}, "Dr 120 4920.00, Cr 401 4100.00, Cr 241 820.00")
	if f.Agreed(1) != 410000 {
		t.Errorf("agreed with what was delivered beyond: %d", f.Agreed(1))
	}
}

// A claim below what was claimed before credits the latest claims first.
func TestNegativeClaim(t *testing.T) {
	f := newFirm(t)
	f.keeps(func(j *master.Job) { j.ContractSum, j.RetentionPercent = 4000000, dec("5") })
	claim := func(percent string, credit bool) billing.Claim {
		return billing.Claim{JobID: 1, Day: "2026-11-02", Percent: dec(percent), Credit: credit}
	}
	f.posts(claim("25", false), "Dr 120 11500.00, Dr 124 500.00, Cr 401 10000.00, Cr 241 2000.00")
	f.posts(claim("40", false), "Dr 120 6900.00, Dr 124 300.00, Cr 401 6000.00, Cr 241 1200.00")
	f.refuses(claim("20", false), "percent", "less than before", "16000.00")
	low := claim("20", true)
	low.Certified = 1
	f.refuses(low, "percent", "less than before", "16000.00")
	e := f.posts(claim("20", true), "Dr 401 6000.00, Dr 241 1200.00, Cr 124 300.00, Cr 120 6900.00", "Dr 401 2000.00, Dr 241 400.00, Cr 124 100.00, Cr 120 2300.00")
	if len(e.Papers) != 2 || f.JobBilled(1) != 800000 {
		t.Errorf("%d credit notes, %d billed", len(e.Papers), f.JobBilled(1))
	}
	f.posts(claim("25", false), "Dr 120 2300.00, Dr 124 100.00, Cr 401 2000.00, Cr 241 400.00")
}

// Certified lower before it is posted: what is certified is invoiced, the rest
// stays to be claimed.
func TestCertifiedLower(t *testing.T) {
	f := newFirm(t)
	f.keeps(func(j *master.Job) { j.ContractSum = 4000000 })
	f.posts(billing.Claim{JobID: 1, Day: "2026-11-02", Percent: dec("25")}, "Dr 120 12000.00, Cr 401 10000.00, Cr 241 2000.00")
	c := billing.Claim{JobID: 1, Day: "2026-11-02", Percent: dec("60"), Certified: 1400001}
	f.refuses(c, "certified", "more than is claimed", "14000.00")
	c.Certified = 1310000
	f.posts(c, "Dr 120 15720.00, Cr 401 13100.00, Cr 241 2620.00")
	f.posts(billing.Claim{JobID: 1, Day: "2026-11-02", Percent: dec("100")}, "Dr 120 20280.00, Cr 401 16900.00, Cr 241 3380.00")
}

// A claim goes over the lines of the contract, each with its tax code, keeps
// back by the job's terms and recovers the advance share by share.
func TestClaimOverLines(t *testing.T) {
	f := newFirm(t)
	f.keeps(func(j *master.Job) { j.ContractSum, j.RetentionPercent = 0, dec("5") })
	f.posts(billing.Order{PartyID: 1, JobID: 1, Day: "2026-10-01", Lines: []posting.Line{{Text: "flight", Quantity: dec("3"), UnitPrice: dec("2000"), TaxCodeID: 1}, work("2000", 2)}})
	f.posts(billing.DepositInvoice{PartyID: 1, JobID: 1, Day: "2026-10-02", OrderID: 1, Percent: dec("30")}, "Dr 120 2820.00, Cr 227 2400.00, Cr 241 360.00, Cr 241 60.00")
	c := billing.Claim{JobID: 1, Day: "2026-11-02", Percent: dec("25"), Recover: true}
	e := f.posts(c, "Dr 120 1545.00, Dr 124 100.00, Dr 227 600.00, Cr 401 1500.00, Cr 401 500.00, Cr 241 210.00, Cr 241 35.00")
	if q := e.Paper().Lines[0].Quantity.String(); q != "0.75" {
		t.Errorf("a quarter of three flights is %s", q)
	}
	c.Percent = dec("100")
	f.posts(c, "Dr 120 4635.00, Dr 124 300.00, Dr 227 1800.00, Cr 401 4500.00, Cr 401 1500.00, Cr 241 630.00, Cr 241 105.00")
	if left := f.AccountBalance(f.Role("advance billings").ID); left != 0 {
		t.Errorf("billed in advance in the end: %d", left)
	}
	f.refuses(billing.Claim{JobID: 2, Day: "2026-11-02", Percent: dec("10")}, "job", "no contract", "")
	f.refuses(billing.Claim{JobID: 9, Day: "2026-11-02", Percent: dec("10")}, "job", "missing", "")
}

// Stages by share bill the shares through each of the sum of now.
func TestStages(t *testing.T) {
	f := newFirm(t)
	f.keeps(func(j *master.Job) { j.ContractSum = 4000000 })
	claim := func(percent string) billing.Claim {
		return billing.Claim{JobID: 1, Day: "2026-11-02", Percent: dec(percent)}
	}
	f.posts(claim("30"), "Dr 120 14400.00, Cr 401 12000.00, Cr 241 2400.00")
	f.posts(billing.Order{PartyID: 1, JobID: 1, Day: "2026-11-02", Lines: []posting.Line{work("5000", 1)}})
	f.posts(claim("70"), "Dr 120 23400.00, Cr 401 19500.00, Cr 241 3900.00")
	f.posts(claim("100"), "Dr 120 16200.00, Cr 401 13500.00, Cr 241 2700.00")
}
