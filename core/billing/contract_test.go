package billing_test

import (
	"strings"
	"testing"

	"cleantally/core/billing"
	"cleantally/core/day"
	"cleantally/core/master"
	"cleantally/core/money"
	"cleantally/core/posting"
	"cleantally/core/posting/postingtest"
	"cleantally/core/settling"
)

// work is a line of so much net at a tax code.
func work(net string, code int64) posting.Line {
	return posting.Line{Text: "work", Quantity: dec("1"), UnitPrice: dec(net), TaxCodeID: code}
}

// ofOrder bills a quantity of an order's line.
func ofOrder(order int64, position int, quantity string) posting.Line {
	return posting.Line{Text: "work", Quantity: dec(quantity), Of: posting.Thing{LineRef: posting.LineRef{PaperID: order, Position: position}}}
}

// A firm is books with what is expected of them.
type firm struct {
	t *testing.T
	*postingtest.Book
}

// posts posts a command and holds its entry to what is wanted.
func (f firm) posts(c posting.Command, want ...string) posting.Effect {
	f.t.Helper()
	e, err := f.Post(c)
	if err != nil {
		f.t.Fatalf("%T: %v", c, err)
	}
	if got := postingtest.Lines(f.Book, e); !postingtest.Same(got, want) {
		f.t.Errorf("%T: %q, want %q", c, got, want)
	}
	if err := f.Prove(); err != nil {
		f.t.Fatalf("%T: %v", c, err)
	}
	return e
}

// refuses holds a command to a refusal at a field, with its limit.
func (f firm) refuses(c posting.Command, field, rule, limit string) {
	f.t.Helper()
	_, err := c.Plan(f.Book)
	var all posting.Refusals
	all, _ = err.(posting.Refusals)
	for _, n := range all {
		if n.Field == field && n.Rule == rule && (limit == "" || n.Limit == limit) {
			return
		}
	}
	f.t.Errorf("%T: refused for %v, not for %s at %s with %s", c, err, rule, field, limit)
}

func newFirm(t *testing.T) firm { return firm{t, postingtest.New()} }

// E-5: a deposit invoice of 30 %, and the final invoice that deducts it.
func TestE5(t *testing.T) {
	f := newFirm(t)
	f.posts(billing.Order{PartyID: 1, JobID: 1, Day: "2026-10-01", Lines: []posting.Line{work("8000", 1)}})
	f.posts(billing.DepositInvoice{PartyID: 1, JobID: 1, Day: "2026-10-02", OrderID: 1, Percent: dec("30")}, "Dr 120 2880.00, Cr 227 2400.00, Cr 241 480.00")
	final := billing.Invoice{PartyID: 1, JobID: 1, Day: "2026-11-20", Form: billing.FinalForm, Lines: []posting.Line{ofOrder(1, 1, "1")}, Deductions: []billing.Deduction{{PaperID: 2, Most: true}}}
	e := f.posts(final, "Dr 120 6720.00, Dr 227 2400.00, Cr 401 8000.00, Cr 241 1120.00")
	if p := e.Paper(); p.Net-p.Beside != 800000 || p.Deducted != 288000 || p.Total != 672000 || p.Form != "final" {
		t.Errorf("the paper: %+v", p.Billing)
	}
	if left := f.AccountBalance(f.Role("advance billings").ID); left != 0 {
		t.Errorf("billed in advance in the end: %d", left)
	}
	f.refuses(final, "lines[0].quantity", "more than is left", "0")
	f.refuses(billing.Invoice{PartyID: 1, Day: "2026-11-20", Lines: []posting.Line{work("1", 1)}, Deductions: []billing.Deduction{{PaperID: 2, Amount: 1}}}, "deductions[0].amount", "more than is left", "0.00")
	f.posts(settling.Reversal{PaperID: 3, Day: "2026-11-20", Reason: "wrong"}, "Cr 120 6720.00, Cr 227 2400.00, Dr 401 8000.00, Dr 241 1120.00")
	f.posts(final, "Dr 120 6720.00, Dr 227 2400.00, Cr 401 8000.00, Cr 241 1120.00")
}

// E-5 over stages, each of which deducts its share.
func TestE5Stages(t *testing.T) {
	f := newFirm(t)
	f.posts(billing.Order{PartyID: 1, JobID: 1, Day: "2026-10-01", Lines: []posting.Line{work("8000", 1)}})
	f.posts(billing.DepositInvoice{PartyID: 1, JobID: 1, Day: "2026-10-02", OrderID: 1, Percent: dec("30")}, "Dr 120 2880.00, Cr 227 2400.00, Cr 241 480.00")
	f.posts(billing.Invoice{PartyID: 1, JobID: 1, Day: "2026-10-20", Form: billing.StageForm, Lines: []posting.Line{ofOrder(1, 1, "0.25")}, Deductions: []billing.Deduction{{PaperID: 2, Amount: 72000}}},
		"Dr 120 1680.00, Dr 227 600.00, Cr 401 2000.00, Cr 241 280.00")
	if left := -f.AccountBalance(f.Role("advance billings").ID); left != 180000 {
		t.Errorf("still to deduct: %d", left)
	}
	f.refuses(billing.DepositInvoice{PartyID: 1, JobID: 1, Day: "2026-10-02", OrderID: 1, Percent: dec("70.01")}, "percent", "more than is ordered", "5600.00")
	f.posts(billing.DepositInvoice{PartyID: 1, JobID: 1, Day: "2026-10-21", OrderID: 1, Amount: 120000}, "Dr 120 1200.00, Cr 227 1000.00, Cr 241 200.00")
}

// Advances at two rates are deducted up to what is billed at each.
func TestDeductionsByCode(t *testing.T) {
	f := newFirm(t)
	f.posts(billing.DepositInvoice{PartyID: 1, Day: "2026-10-02", Lines: []billing.AdvanceLine{{"Stair", 500000, 1}, {"Repair", 200000, 2}}}, "Dr 120 8200.00, Cr 227 7000.00, Cr 241 1000.00, Cr 241 200.00")
	v := billing.Invoice{PartyID: 1, Day: "2026-11-20", Lines: []posting.Line{work("4500", 1), work("1500", 2)}, Deductions: []billing.Deduction{{PaperID: 1, Most: true}}}
	e := f.posts(v, "Dr 227 6000.00, Cr 401 4500.00, Cr 401 1500.00")
	if p := e.Paper(); p.Deducted != 540000+165000 || p.Total != 0 || len(e.Items) != 0 {
		t.Errorf("deducted %d, total %d", p.Deducted, p.Total)
	}
	left := f.Uses(1)
	var gross money.Amount = 820000
	for _, u := range left {
		gross -= u.Amount.Own
	}
	if gross != 60000+55000 {
		t.Errorf("to be credited: %d", gross)
	}
	v.Deductions[0] = billing.Deduction{PaperID: 1, Amount: 60001}
	v.Lines = []posting.Line{work("900", 1)}
	f.refuses(v, "deductions[0].amount", "more than is billed", "600.00")
	v.Deductions[0].Amount = 200000
	f.refuses(v, "deductions[0].amount", "more than is left", "1150.00")
	v.PartyID = 2
	f.refuses(v, "deductions[0].paper", "another customer's deposit invoice", "")
}

// keeps gives job 1 terms of retention.
func (f firm) keeps(set func(*master.Job)) {
	j := f.Jobs[1]
	set(&j)
	f.Jobs[1] = j
}

func invoiceOf(net string) billing.Invoice {
	return billing.Invoice{PartyID: 1, JobID: 1, Day: "2026-11-02", Lines: []posting.Line{work(net, 1)}}
}

// E-7: 5 % of gross.
func TestE7(t *testing.T) {
	f := newFirm(t)
	f.keeps(func(j *master.Job) { j.RetentionPercent, j.RetentionGross = dec("5"), true })
	e := f.posts(invoiceOf("12000"), "Dr 120 13680.00, Dr 124 720.00, Cr 401 12000.00, Cr 241 2400.00")
	if e.Paper().Retained != 72000 || e.Paper().Total != 1440000 {
		t.Errorf("%+v", e.Paper().Billing)
	}
	v := invoiceOf("1000")
	v.Retention = &billing.Retention{Amount: 10000}
	f.refuses(v, "retention.reason", "missing", "")
	v.Retention = &billing.Retention{Amount: 120001, Reason: "agreed"}
	f.refuses(v, "retention.amount", "more than is billed", "1200.00")
	v.Retention.Amount = 0
	f.posts(v, "Dr 120 1200.00, Cr 401 1000.00, Cr 241 200.00")
}

// E-8 and E-10: 5 % of net, its tax due when it is released; half is released,
// the rest given up.
func TestE8(t *testing.T) {
	f := newFirm(t)
	f.keeps(func(j *master.Job) { j.RetentionPercent, j.RetentionTaxLater = dec("5"), true })
	f.posts(invoiceOf("12000"), "Dr 120 13680.00, Dr 124 720.00, Cr 401 12000.00, Cr 241 2280.00, Cr 244 120.00")
	f.refuses(settling.Release{PartyID: 1, Day: "2026-11-20", Amount: 72001}, "amount", "more than is held", "720.00")
	f.refuses(settling.Release{PartyID: 2, Day: "2026-11-20", Items: []settling.Share{{Item: 2, Most: true}}}, "items[0].amount", "another customer's retention", "")
	f.refuses(settling.Release{PartyID: 1, Day: "2026-11-01", Items: []settling.Share{{Item: 2, Most: true}}}, "day", "before the paper", "2026-11-02")
	e := f.posts(settling.Release{PartyID: 1, Day: "2026-11-20", Amount: 36000}, "Dr 120 360.00, Cr 124 360.00, Dr 244 60.00, Cr 241 60.00")
	if p := e.Paper(); p.Total != 36000 || p.Due != "2026-12-20" || p.JobID != 1 {
		t.Errorf("the release: %+v", p)
	}
	f.refuses(settling.Reversal{PaperID: 1, Day: "2026-11-20", Reason: "wrong"}, "paper", "something stands on it", "release "+e.Paper().Number)
	f.posts(settling.WriteOff{Day: "2026-11-20", Reason: "gone", Items: []settling.Share{{Item: 2, Amount: 36000}}}, "Dr 631 300.00, Dr 244 60.00, Cr 124 360.00")
}

// E-9: a cap on what is kept back, as an amount and as a share of the contract
// sum, which orders raise.
func TestE9(t *testing.T) {
	for name, cap := range map[string]func(*master.Job){
		"an amount": func(j *master.Job) { j.RetentionCap = 60000 },
		"a share":   func(j *master.Job) { j.RetentionCapPercent, j.ContractSum = dec("3"), 2000000 },
	} {
		f := newFirm(t)
		f.keeps(func(j *master.Job) { j.RetentionPercent = dec("5"); cap(j) })
		f.posts(invoiceOf("9000"), "Dr 120 10350.00, Dr 124 450.00, Cr 401 9000.00, Cr 241 1800.00")
		f.posts(invoiceOf("10000"), "Dr 120 11850.00, Dr 124 150.00, Cr 401 10000.00, Cr 241 2000.00")
		f.posts(settling.Release{PartyID: 1, Day: "2026-11-20", Amount: 30000}, "Dr 120 300.00, Cr 124 300.00")
		e := f.posts(invoiceOf("1000"), "Dr 120 1200.00, Cr 401 1000.00, Cr 241 200.00")
		if e.Paper().Retained != 0 {
			t.Errorf("%s: what was released is not kept back again: %d", name, e.Paper().Retained)
		}
		if name == "a share" {
			f.posts(billing.Order{PartyID: 1, JobID: 1, Day: "2026-11-02", Lines: []posting.Line{work("10000", 1)}})
			f.posts(invoiceOf("10000"), "Dr 120 11700.00, Dr 124 300.00, Cr 401 10000.00, Cr 241 2000.00")
		}
	}
}

// A variation that cuts the cap below what is kept: nothing more is kept back,
// and the excess is proposed for release, with its tax.
func TestOverCap(t *testing.T) {
	f := newFirm(t)
	f.keeps(func(j *master.Job) {
		j.RetentionPercent, j.RetentionTaxLater, j.RetentionCapPercent, j.ContractSum = dec("5"), true, dec("3"), 0
	})
	f.posts(billing.Order{PartyID: 1, JobID: 1, Day: "2026-10-01", Lines: []posting.Line{{Text: "stairs", Quantity: dec("20"), UnitPrice: dec("1000"), TaxCodeID: 1}}})
	f.posts(billing.Invoice{PartyID: 1, JobID: 1, Day: "2026-11-02", Lines: []posting.Line{ofOrder(1, 1, "10")}}, "Dr 120 11400.00, Dr 124 600.00, Cr 401 10000.00, Cr 241 1900.00, Cr 244 100.00")
	if over := billing.OverCap(f.Book, f.Jobs[1]); over != 0 {
		t.Errorf("over its cap: %d", over)
	}
	f.posts(billing.Cancellation{OrderID: 1, Day: "2026-11-10", Reason: "smaller", Lines: []billing.OrderShare{{Position: 1, Quantity: dec("9")}}})
	e := f.posts(invoiceOf("1000"), "Dr 120 1200.00, Cr 401 1000.00, Cr 241 200.00")
	over := billing.OverCap(f.Book, f.Jobs[1])
	if e.Paper().Retained != 0 || over != 20400 { // 500.00 less 3 % of 11,000.00 is 170.00, with its tax 204.00
		t.Errorf("kept back %d, over the cap %d", e.Paper().Retained, over)
	}
	f.posts(settling.Release{PartyID: 1, JobID: 1, Day: "2026-11-20", Amount: over}, "Dr 120 204.00, Cr 124 204.00, Dr 244 34.00, Cr 241 34.00")
	if over := billing.OverCap(f.Book, f.Jobs[1]); over != 0 {
		t.Errorf("still over its cap: %d", over)
	}
}

// What is kept back is released in two parts, each expected on its day; the
// advance is deducted from what is left to pay.
func TestSplitRelease(t *testing.T) {
	f := newFirm(t)
	f.keeps(func(j *master.Job) {
		j.RetentionPercent = dec("5")
		j.Releases = []master.ReleaseShare{{Percent: dec("50"), Day: "2027-03-31"}, {Percent: dec("50"), Day: "2028-03-31"}}
	})
	e := f.posts(invoiceOf("1000.20"), "Dr 120 1150.23, Dr 124 50.01, Cr 401 1000.20, Cr 241 200.04")
	var dues []string
	for _, i := range e.Items {
		if i.Register == "retention" {
			dues = append(dues, string(i.Due)+" "+f.Cur.Format(i.Amount.Own))
		}
	}
	if got := strings.Join(dues, ", "); got != "2027-03-31 25.01, 2028-03-31 25.00" {
		t.Errorf("expected %s", got)
	}
	f.posts(billing.DepositInvoice{PartyID: 1, Day: "2026-11-02", Lines: []billing.AdvanceLine{{"Stair", 100000, 1}}}, "Dr 120 1200.00, Cr 227 1000.00, Cr 241 200.00")
	v := invoiceOf("1000")
	v.Deductions = []billing.Deduction{{PaperID: 2, Most: true}}
	e = f.posts(v, "Dr 124 50.00, Dr 227 958.33, Cr 401 1000.00, Cr 241 8.33")
	if e.Paper().Deducted != 115000 {
		t.Errorf("deducted %d: never past what is left to pay after retention", e.Paper().Deducted)
	}
}

// E-22, as far as it bills: what is left to bill of an order's line.
func TestOrderIsBilledOnce(t *testing.T) {
	f := newFirm(t)
	f.posts(billing.Order{PartyID: 1, JobID: 1, Day: "2026-10-01", Lines: []posting.Line{{Text: "tread", Quantity: dec("3"), UnitPrice: dec("33.333"), TaxCodeID: 1, DiscountPercent: dec("1")}}})
	var net money.Amount
	for _, d := range []day.Day{"2026-10-02", "2026-10-03", "2026-10-04"} {
		e, err := f.Post(billing.Invoice{PartyID: 1, JobID: 1, Day: d, Lines: []posting.Line{ofOrder(1, 1, "1")}})
		if err != nil {
			t.Fatal(err)
		}
		net += e.Paper().Net
	}
	if order := f.Papers[0]; net != order.Net {
		t.Errorf("billed %d of %d", net, order.Net)
	}
	f.refuses(billing.Invoice{PartyID: 2, Day: "2026-10-05", Lines: []posting.Line{ofOrder(1, 1, "1")}}, "lines[0].of", "another customer's order", "")
	f.refuses(billing.Invoice{PartyID: 1, Day: "2026-10-05", Lines: []posting.Line{ofOrder(1, 2, "1")}}, "lines[0].of", "missing", "")
	f.refuses(billing.Order{PartyID: 1, Day: "2026-10-05", Lines: []posting.Line{work("-1", 1), work("5", 1)}}, "lines[0].quantity", "above nil", "0")
}
