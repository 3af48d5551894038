package billing_test

import (
	"strings"
	"testing"

	"cleantally/core/billing"
	"cleantally/core/master"
	"cleantally/core/posting"
	"cleantally/core/settling"

	"github.com/shopspring/decimal"
)

func price(s string) *decimal.Decimal {
	d := dec(s)
	return &d
}

// reversed is an entry the other way round.
func reversed(entry string) string {
	return strings.NewReplacer("Dr ", "Cr ", "Cr ", "Dr ").Replace(entry)
}

func allOf(paper int64) billing.Credit {
	return billing.Credit{PaperID: paper, Day: "2026-11-20", Cause: billing.Goodwill}
}

// E-5 credited whole gives its deduction back to the deposit invoice, which can
// be deducted again; its order too, where the part may be billed again.
func TestE5Credited(t *testing.T) {
	f := newFirm(t)
	f.posts(billing.Order{PartyID: 1, JobID: 1, Day: "2026-10-01", Lines: []posting.Line{work("8000", 1)}})
	f.posts(billing.DepositInvoice{PartyID: 1, JobID: 1, Day: "2026-10-02", OrderID: 1, Percent: dec("30")}, "Dr 120 2880.00, Cr 227 2400.00, Cr 241 480.00")
	final := billing.Invoice{PartyID: 1, JobID: 1, Day: "2026-11-20", Form: billing.FinalForm, Lines: []posting.Line{ofOrder(1, 1, "1")}, Deductions: []billing.Deduction{{PaperID: 2, Most: true}}}
	f.posts(final, "Dr 120 6720.00, Dr 227 2400.00, Cr 401 8000.00, Cr 241 1120.00")
	c := billing.Credit{PaperID: 3, Day: "2026-11-20", Cause: billing.OtherCauses, Text: "billed wrongly", Again: true}
	e := f.posts(c, "Dr 401 8000.00, Dr 241 1120.00, Cr 227 2400.00, Cr 120 6720.00")
	if p := e.Paper(); p.Total != -672000 || p.Deducted != -288000 || f.JobBilled(1) != 0 || p.Reason != "Other: billed wrongly" {
		t.Errorf("the credit note: %+v, billed %d", p, f.JobBilled(1))
	}
	f.refuses(c, "paper", "nothing left", "0.00")
	f.refuses(settling.Reversal{PaperID: 3, Day: "2026-11-20", Reason: "wrong"}, "paper", "something stands on it", "")
	f.posts(settling.Reversal{PaperID: 4, Day: "2026-11-20", Reason: "wrong"}, "Cr 401 8000.00, Cr 241 1120.00, Dr 227 2400.00, Dr 120 6720.00")
	c.Own = true
	f.posts(c, "Dr 401 8000.00, Dr 241 1120.00, Cr 227 2400.00, Cr 120 6720.00")
	if left := f.Left(2); left != 0 {
		t.Errorf("of the invoice %d is open", left)
	}
	f.posts(final, "Dr 120 6720.00, Dr 227 2400.00, Cr 401 8000.00, Cr 241 1120.00")
}

// A line of its own gives no deduction back.
func TestCreditWithoutItsDeduction(t *testing.T) {
	f := newFirm(t)
	f.posts(billing.DepositInvoice{PartyID: 1, Day: "2026-10-02", Lines: []billing.AdvanceLine{{Text: "Stair", Net: 100000, TaxCodeID: 1}}}, "Dr 120 1200.00, Cr 227 1000.00, Cr 241 200.00")
	f.posts(billing.Invoice{PartyID: 1, Day: "2026-11-02", Lines: []posting.Line{work("4000", 1)}, Deductions: []billing.Deduction{{PaperID: 1, Most: true}}}, "Dr 120 3600.00, Dr 227 1000.00, Cr 401 4000.00, Cr 241 600.00")
	c := allOf(2)
	c.Lines = []billing.CreditLine{{Position: 2}}
	f.refuses(c, "lines", "above nil", "0.00")
	c.Lines = []billing.CreditLine{{Position: 1}}
	f.refuses(c, "paper", "more than is left", "3600.00")
	c.Lines[0].Amount = 300000
	f.posts(c, "Dr 401 3000.00, Dr 241 600.00, Cr 120 3600.00")
	f.refuses(allOf(2), "lines", "above nil", "0.00")
}

// E-8 credited whole after half of its retention was released.
func TestE8Credited(t *testing.T) {
	f := newFirm(t)
	f.keeps(func(j *master.Job) { j.RetentionPercent, j.RetentionTaxLater = dec("5"), true })
	f.posts(invoiceOf("12000"), "Dr 120 13680.00, Dr 124 720.00, Cr 401 12000.00, Cr 241 2280.00, Cr 244 120.00")
	f.posts(settling.Release{PartyID: 1, Day: "2026-11-20", Amount: 36000}, "Dr 120 360.00, Cr 124 360.00, Dr 244 60.00, Cr 241 60.00")
	e := f.posts(allOf(1), "Dr 401 12000.00, Dr 241 2340.00, Dr 244 60.00, Cr 124 360.00, Cr 120 14040.00")
	if p := e.Paper(); p.Retained != -36000 || f.KeptBack(1).Amount.Own != 36000 {
		t.Errorf("kept back: %d of the note, %d so far", p.Retained, f.KeptBack(1).Amount.Own)
	}
	f.posts(settling.Reversal{PaperID: 3, Day: "2026-11-20", Reason: "wrong"}, "Cr 401 12000.00, Cr 241 2340.00, Cr 244 60.00, Dr 124 360.00, Dr 120 14040.00")
}

// A credit gives back its share of what is kept back, by portions of the work;
// or all of it comes off that, with its own tax.
func TestCreditOfRetention(t *testing.T) {
	f := newFirm(t)
	f.keeps(func(j *master.Job) { j.RetentionPercent, j.RetentionTaxLater = dec("5"), true })
	f.posts(invoiceOf("12000"), "Dr 120 13680.00, Dr 124 720.00, Cr 401 12000.00, Cr 241 2280.00, Cr 244 120.00")
	c := allOf(1)
	c.Lines = []billing.CreditLine{{Position: 1, Amount: 100000}}
	f.posts(c, "Dr 401 1000.00, Dr 241 190.00, Dr 244 10.00, Cr 124 60.00, Cr 120 1140.00")
	c.FromRetention = true
	f.refuses(c, "fromRetention", "more than is held", "660.00")
	c.Lines[0].Amount = 10000
	f.posts(c, "Dr 401 100.00, Dr 244 20.00, Cr 124 120.00")
	c.FromRetention, c.Lines = false, nil
	f.posts(c, "Dr 401 10900.00, Dr 241 2090.00, Dr 244 90.00, Cr 124 540.00, Cr 120 12540.00")
	if kept := f.KeptBack(1); kept.Amount.Own != 0 || kept.Tax.Own != 0 {
		t.Errorf("still kept back: %+v", kept)
	}
}

// E-4 returned: a credit carries its share of the discount that was taken; what
// it carried is not taken back again with the placement.
func TestE4Returned(t *testing.T) {
	f := newFirm(t)
	f.TermsList[1] = master.Terms{ID: 1, Kind: master.InDays, Days: 30, DiscountPercent: dec("2"), DiscountDays: 10}
	invoice := billing.Invoice{PartyID: 1, TermsID: 1, Day: "2026-11-02", Lines: []posting.Line{work("1000", 1)}}
	paid := settling.Receipt{PartyID: 1, Day: "2026-11-09", Arrived: 117600, BankAccountID: 1, Method: posting.ByTransfer, Placements: []settling.Placement{{Debit: 1, Amount: 117600, Discount: true}}}
	f.posts(invoice, "Dr 120 1200.00, Cr 401 1000.00, Cr 241 200.00")
	f.posts(paid, "Dr 101 1176.00, Dr 491 20.00, Dr 241 4.00, Cr 120 1200.00")
	half := allOf(1)
	half.Lines = []billing.CreditLine{{Position: 1, Amount: 50000}}
	f.posts(half, "Dr 401 500.00, Dr 241 98.00, Cr 491 10.00, Cr 120 588.00")
	f.refuses(settling.Reversal{PaperID: 2, Day: "2026-11-20", Reason: "wrong"}, "paper", "something stands on it", "credit note")
	// Undone, the half that no credit has carried comes back.
	f.posts(settling.Undo{Allocations: []int64{1}, Day: "2026-11-20"}, "Dr 120 12.00, Cr 491 10.00, Cr 241 2.00")
	if open := f.Left(1); open != 118800 {
		t.Errorf("of the invoice %d is open", open)
	}
	f.posts(allOf(1), "Dr 401 500.00, Dr 241 100.00, Cr 120 600.00")
	f.posts(settling.Reversal{PaperID: 3, Day: "2026-11-20", Reason: "wrong"}, "Cr 401 500.00, Cr 241 98.00, Dr 491 10.00, Dr 120 588.00")

	f = newFirm(t)
	f.TermsList[1] = master.Terms{ID: 1, Kind: master.InDays, Days: 30, DiscountPercent: dec("2"), DiscountDays: 10}
	f.posts(invoice, "Dr 120 1200.00, Cr 401 1000.00, Cr 241 200.00")
	f.posts(paid, "Dr 101 1176.00, Dr 491 20.00, Dr 241 4.00, Cr 120 1200.00")
	f.posts(allOf(1), "Dr 401 1000.00, Dr 241 196.00, Cr 491 20.00, Cr 120 1176.00")
	f.posts(settling.Undo{Allocations: []int64{1}, Day: "2026-11-20"})
	if open := f.Left(1); open != 117600 {
		t.Errorf("of the invoice %d is open", open)
	}
}

// E-13, certified lower after the claim was posted: the difference is credited
// at its rates and stays claimable.
func TestE13CertifiedAfter(t *testing.T) {
	f := newFirm(t)
	f.keeps(func(j *master.Job) { j.ContractSum = 4000000 })
	claim := func(percent string) billing.Claim {
		return billing.Claim{JobID: 1, Day: "2026-11-02", Percent: dec(percent)}
	}
	f.posts(claim("25"), "Dr 120 12000.00, Cr 401 10000.00, Cr 241 2000.00")
	f.posts(claim("60"), "Dr 120 16800.00, Cr 401 14000.00, Cr 241 2800.00")
	c := billing.Credit{PaperID: 2, Day: "2026-11-20", Cause: billing.OtherCauses, Text: "certified lower", Work: 90000, Again: true}
	f.posts(c, "Dr 401 900.00, Dr 241 180.00, Cr 120 1080.00")
	c.Work = 1310001
	f.refuses(c, "work", "more than is left", "13100.00")
	f.posts(billing.Order{PartyID: 1, JobID: 1, Day: "2026-11-02", Lines: []posting.Line{work("5000", 1)}})
	f.posts(claim("100"), "Dr 120 26280.00, Cr 401 21900.00, Cr 241 4380.00")
}

// A claim certified lower gives retention and deductions back in the same
// share, and its order's lines may be claimed again.
func TestWorkCredited(t *testing.T) {
	f := newFirm(t)
	f.keeps(func(j *master.Job) { j.ContractSum, j.RetentionPercent = 0, dec("5") })
	f.posts(billing.Order{PartyID: 1, JobID: 1, Day: "2026-10-01", Lines: []posting.Line{{Text: "flight", Quantity: dec("3"), UnitPrice: dec("2000"), TaxCodeID: 1}, work("2000", 2)}})
	f.posts(billing.DepositInvoice{PartyID: 1, JobID: 1, Day: "2026-10-02", OrderID: 1, Percent: dec("30")}, "Dr 120 2820.00, Cr 227 2400.00, Cr 241 360.00, Cr 241 60.00")
	claim := billing.Claim{JobID: 1, Day: "2026-11-02", Percent: dec("50"), Recover: true}
	f.posts(claim, "Dr 120 3090.00, Dr 124 200.00, Dr 227 1200.00, Cr 401 3000.00, Cr 401 1000.00, Cr 241 420.00, Cr 241 70.00")
	f.posts(billing.Credit{PaperID: 3, Day: "2026-11-20", Cause: billing.OtherCauses, Text: "certified lower", Work: 200000, Again: true},
		"Dr 401 1500.00, Dr 401 500.00, Dr 241 210.00, Dr 241 35.00, Cr 227 600.00, Cr 124 100.00, Cr 120 1545.00")
	if q := billing.OrderLines(f.Book, f.Papers[0], "2026-11-20")[0].Billed.Decimal().String(); q != "0.75" {
		t.Errorf("of three flights %s are billed", q)
	}
	claim.Percent, claim.Day = dec("100"), "2026-11-20"
	f.posts(claim, "Dr 120 4635.00, Dr 124 300.00, Dr 227 1800.00, Cr 401 4500.00, Cr 401 1500.00, Cr 241 630.00, Cr 241 105.00")
}

// E-22 to its end: two of those billed come back.
func TestE22Returned(t *testing.T) {
	treads := func(f firm, delivered ...string) {
		f.posts(billing.Order{PartyID: 1, JobID: 1, Day: "2026-10-01", Lines: []posting.Line{{Text: "tread", Quantity: dec("40"), UnitPrice: dec("100"), TaxCodeID: 1}}})
		for _, q := range delivered {
			f.posts(billing.Delivery{OrderID: 1, Day: "2026-10-10", Lines: []billing.OrderShare{{Position: 1, Quantity: dec(q)}}})
		}
		f.posts(billing.Invoice{PartyID: 1, JobID: 1, Day: "2026-10-20", Lines: []posting.Line{ofOrder(1, 1, "25")}}, "Dr 120 3000.00, Cr 401 2500.00, Cr 241 500.00")
	}
	for name, x := range map[string]struct {
		cause     billing.Cause
		again     bool
		line      billing.CreditLine
		delivered []string
		entry     string
		want      [6]string // delivered, billed, cancelled, left to deliver, left to bill, left net
		agreed    int64
	}{
		"replaced":     {billing.GoodsBack, true, billing.CreditLine{Position: 1, Quantity: dec("2")}, []string{"25", "16"}, "Dr 401 200.00, Dr 241 40.00, Cr 120 240.00", [6]string{"39", "23", "0", "1", "17", "1700"}, 400000},
		"not replaced": {billing.GoodsBack, false, billing.CreditLine{Position: 1, Quantity: dec("2")}, []string{"25", "16"}, "Dr 401 200.00, Dr 241 40.00, Cr 120 240.00", [6]string{"39", "23", "2", "0", "16", "1600"}, 380000},
		"a price":      {billing.Price, false, billing.CreditLine{Position: 1, Price: price("90")}, []string{"40"}, "Dr 401 250.00, Dr 241 50.00, Cr 120 300.00", [6]string{"40", "25", "0", "0", "15", "1500"}, 375000},
		"called off":   {billing.CalledOff, false, billing.CreditLine{Position: 1, Quantity: dec("5")}, []string{"20"}, "Dr 401 500.00, Dr 241 100.00, Cr 120 600.00", [6]string{"20", "20", "5", "15", "15", "1500"}, 350000},
		"again":        {billing.Fault, true, billing.CreditLine{Position: 1, Amount: 50000}, nil, "Dr 401 500.00, Dr 241 100.00, Cr 120 600.00", [6]string{"0", "20", "0", "40", "20", "2000"}, 400000},
	} {
		f := newFirm(t)
		treads(f, x.delivered...)
		note := billing.Credit{PaperID: int64(len(f.Papers)), Day: "2026-11-20", Cause: x.cause, Again: x.again, Lines: []billing.CreditLine{x.line}}
		f.posts(note, x.entry)
		l := billing.OrderLines(f.Book, f.Papers[0], "2026-11-20")[0]
		got := [6]string{l.Delivered.Decimal().String(), l.Billed.Decimal().String(), l.Cancelled.Decimal().String(), l.LeftToDeliver.Decimal().String(), l.LeftToBill.Decimal().String(), f.Cur.Decimal(l.Left.Net()).String()}
		if got != x.want || int64(f.Agreed(1)) != x.agreed {
			t.Errorf("%s: %v, want %v; agreed %d, want %d", name, got, x.want, f.Agreed(1), x.agreed)
		}
		f.posts(settling.Reversal{PaperID: int64(len(f.Papers)), Day: "2026-11-20", Reason: "wrong"}, reversed(x.entry))
		if l := billing.OrderLines(f.Book, f.Papers[0], "2026-11-20")[0]; l.Billed.Decimal().String() != "25" || l.Cancelled != 0 {
			t.Errorf("%s, reversed: %+v", name, l)
		}
	}
}

// Three lines credited one by one take the tax that was shared to them; a
// write-off bounds what is left; wrong figures are refused.
func TestCreditByLine(t *testing.T) {
	f := newFirm(t)
	three := []posting.Line{work("33.33", 1), work("33.33", 1), work("33.33", 1)}
	f.posts(billing.Invoice{PartyID: 1, Day: "2026-11-02", Lines: three}, "Dr 120 119.99, Cr 401 99.99, Cr 241 20.00")
	for n, tax := range []string{"6.67", "6.67", "6.66"} {
		c := allOf(1)
		c.Lines = []billing.CreditLine{{Position: n + 1}}
		f.posts(c, "Dr 401 33.33, Dr 241 "+tax+", Cr 120 "+map[string]string{"6.67": "40.00", "6.66": "39.99"}[tax])
	}
	f.posts(billing.Invoice{PartyID: 1, Day: "2026-11-02", Includes: true, RoundTo: 5, Lines: []posting.Line{work("100.02", 1)}}, "Dr 120 100.00, Dr 641 0.02, Cr 401 83.35, Cr 241 16.67")
	f.posts(settling.WriteOff{Day: "2026-11-20", Reason: "gone", Relief: true, Items: []settling.Share{{Item: 5, Amount: 4000}}}, "Dr 631 33.33, Dr 241 6.67, Cr 120 40.00")
	c := allOf(5)
	c.Lines = []billing.CreditLine{{Position: 1, Amount: 6005}}
	f.refuses(c, "paper", "more than is left", "60.01")
	c.Lines[0].Amount = 6000
	f.posts(c, "Dr 401 50.00, Dr 241 10.00, Cr 120 60.00")
	f.posts(billing.Invoice{PartyID: 1, Day: "2026-11-02", RoundTo: 5, Lines: []posting.Line{work("100.02", 3)}}, "Dr 120 100.00, Dr 641 0.02, Cr 401 100.02")
	f.posts(allOf(8), "Dr 401 100.02, Cr 641 0.02, Cr 120 100.00")
	for name, x := range map[string]struct {
		line billing.CreditLine
		rule string
	}{
		"two figures": {billing.CreditLine{Position: 1, Amount: 1, Quantity: dec("1")}, "one of them"},
		"a higher":    {billing.CreditLine{Position: 1, Price: price("101")}, "not lower"},
		"no line":     {billing.CreditLine{Position: 2}, "missing"},
		"too many":    {billing.CreditLine{Position: 1, Quantity: dec("2")}, "more than is left"},
		"below nil":   {billing.CreditLine{Position: 1, Amount: -1}, "more than is left"},
	} {
		c := billing.Credit{PaperID: 5, Day: "2026-11-20", Cause: billing.Fault, Lines: []billing.CreditLine{x.line}}
		_, err := c.Plan(f.Book)
		if all, _ := err.(posting.Refusals); len(all) == 0 || all[0].Rule != x.rule {
			t.Errorf("%s: %v", name, err)
		}
	}
	f.refuses(billing.Credit{PaperID: 5, Day: "2026-11-01", Cause: billing.Fault}, "day", "before the paper", "2026-11-02")
	f.refuses(billing.Credit{PaperID: 5, Day: "2026-11-20"}, "cause", "missing", "")
	f.refuses(billing.Credit{PaperID: 5, Day: "2026-11-20", Cause: billing.OtherCauses}, "text", "missing", "")
	f.refuses(billing.Credit{PaperID: 6, Day: "2026-11-20", Cause: billing.Fault}, "paper", "missing", "")
}
