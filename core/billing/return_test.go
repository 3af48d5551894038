package billing_test

import (
	"testing"

	"cleantally/core/billing"
	"cleantally/core/day"
	"cleantally/core/ledger"
	"cleantally/core/master"
	"cleantally/core/posting"
	"cleantally/core/settling"
	"cleantally/core/stock"
)

const back = "2026-11-20"

// stockFirm keeps balusters (3) in stock, ten at 70.00, and lift motors (4) in
// numbered pieces, three at 500.00.
func stockFirm(t *testing.T) firm {
	f := newFirm(t)
	f.Articles[3] = master.Article{ID: 3, Code: "BAL", Name: "Baluster", Kind: master.Material, Stocked: true}
	f.Articles[4] = master.Article{ID: 4, Code: "MOT", Name: "Lift motor", Kind: master.Material, Stocked: true, Serial: true}
	f.posts(stock.Count{Day: "2026-10-01", Opening: true, Lines: []stock.Counted{
		{Line: stock.Line{ArticleID: 3, Quantity: dec("10")}, Cost: price("70")},
		{Line: stock.Line{ArticleID: 4, Quantity: dec("3"), Serials: []string{"M1", "M2", "M3"}}, Cost: price("500")},
	}}, "Dr 141 2200.00, Cr 391 2200.00")
	return f
}

func sold(article int64, quantity, at string) posting.Line {
	return posting.Line{ArticleID: article, Text: "goods", Quantity: dec(quantity), UnitPrice: dec(at), TaxCodeID: 1}
}

func (f firm) worth(article int64, quantity, value string) {
	f.t.Helper()
	q, v := posting.Build(f.Book).Stock(article, "2099-12-31")
	if got := q.Decimal().String(); got != quantity || f.Currency().Format(v) != value {
		f.t.Errorf("article %d: %s worth %s, want %s worth %s", article, got, f.Currency().Format(v), quantity, value)
	}
}

// E-14: six are sold, two of them come back to stock, the credit set against an
// older invoice and then its own.
func TestE14(t *testing.T) {
	f := stockFirm(t)
	f.posts(billing.Invoice{PartyID: 1, Day: "2026-10-02", Lines: []posting.Line{work("200", 3)}}, "Dr 120 200.00, Cr 401 200.00")
	f.posts(billing.Invoice{PartyID: 1, Day: "2026-11-02", Lines: []posting.Line{sold(3, "6", "120")}}, "Dr 120 864.00, Cr 405 720.00, Cr 241 144.00, Dr 501 420.00, Cr 141 420.00")
	c := billing.Credit{PaperID: 3, Day: back, Cause: billing.GoodsBack, Reference: "R 4", Lines: []billing.CreditLine{{Position: 1, Quantity: dec("2"), Back: dec("2")}}, SetAgainst: []billing.Against{{Debit: 1, Amount: 20000}}, Own: true}
	f.posts(c, "Dr 405 240.00, Dr 241 48.00, Cr 120 288.00, Dr 141 140.00, Cr 501 140.00")
	if f.Left(1) != 0 || f.Left(2) != 86400-8800 {
		t.Errorf("open: %d, %d", f.Left(1), f.Left(2))
	}
	f.worth(3, "6", "420.00")
	// One goes back, one is scrapped; no more comes back than went out, over all credits.
	c.Lines = []billing.CreditLine{{Position: 1, Quantity: dec("2"), Back: dec("1")}}
	c.SetAgainst = nil
	f.posts(c, "Dr 405 240.00, Dr 241 48.00, Cr 120 288.00, Dr 141 70.00, Cr 501 70.00")
	c.Lines = []billing.CreditLine{{Position: 1, Quantity: dec("2"), Back: dec("3")}}
	f.refuses(c, "lines[0].back", "more than is credited", "2")
	c.Lines = []billing.CreditLine{{Position: 1, Amount: 100, Back: dec("1")}}
	f.refuses(c, "lines[0].back", "no goods", "0")
	c.Lines = nil
	c.Back = true
	f.posts(c, "Dr 405 240.00, Dr 241 48.00, Cr 120 288.00, Dr 141 140.00, Cr 501 140.00")
	f.worth(3, "9", "630.00")
	f.posts(settling.Reversal{PaperID: 6, Day: back, Reason: "only told so"}, "Cr 405 240.00, Cr 241 48.00, Dr 120 288.00, Cr 141 140.00, Dr 501 140.00")
	f.worth(3, "7", "490.00")
}

// Goods come back at the cost at which they left, not at what they cost today,
// and the last takes what is left of it: 10.00 for three are 3.33, 3.34, 3.33.
func TestComesBackAtItsOwnCost(t *testing.T) {
	f := stockFirm(t)
	f.Articles[5] = master.Article{ID: 5, Code: "CAP", Name: "Cap", Kind: master.Material, Stocked: true}
	f.posts(stock.Count{Day: "2026-10-01", Lines: []stock.Counted{{Line: stock.Line{ArticleID: 5, Quantity: dec("3")}, Cost: price("3.333333")}}}, "Dr 141 10.00, Cr 501 10.00")
	f.posts(billing.Invoice{PartyID: 1, Day: "2026-10-02", Lines: []posting.Line{sold(5, "3", "9")}}, "Dr 120 32.40, Cr 405 27.00, Cr 241 5.40, Dr 501 10.00, Cr 141 10.00")
	f.posts(stock.Count{Day: "2026-10-03", Lines: []stock.Counted{{Line: stock.Line{ArticleID: 5, Quantity: dec("1")}, Cost: price("8")}}}, "Dr 141 8.00, Cr 501 8.00")
	for _, cost := range []string{"3.33", "3.34", "3.33"} {
		f.posts(billing.Credit{PaperID: 3, Day: back, Cause: billing.GoodsBack, Lines: []billing.CreditLine{{Position: 1, Quantity: dec("1"), Back: dec("1")}}},
			"Dr 405 9.00, Dr 241 1.80, Cr 120 10.80, Dr 141 "+cost+", Cr 501 "+cost)
	}
	f.worth(5, "4", "18.00")
}

// Numbered pieces that come back are among those that were sold, and come back
// once.
func TestNumberedPiecesComeBack(t *testing.T) {
	f := stockFirm(t)
	sale := sold(4, "2", "900")
	sale.Serials = []string{"M1", "M3"}
	f.posts(billing.Invoice{PartyID: 1, Day: "2026-11-02", Lines: []posting.Line{sale}}, "Dr 120 2160.00, Cr 405 1800.00, Cr 241 360.00, Dr 501 1000.00, Cr 141 1000.00")
	c := func(serial string) billing.Credit {
		return billing.Credit{PaperID: 2, Day: back, Cause: billing.Fault, Lines: []billing.CreditLine{{Position: 1, Quantity: dec("1"), Back: dec("1"), Serials: []string{serial}}}}
	}
	f.refuses(c("M2"), "lines[0].serials", "not sold", "M2")
	f.posts(c("M3"), "Dr 405 900.00, Dr 241 180.00, Cr 120 1080.00, Dr 141 500.00, Cr 501 500.00")
	f.refuses(c("M3"), "lines[0].serials", "not sold", "M3")
	// All that is left of it comes back without being named.
	f.posts(billing.Credit{PaperID: 2, Day: back, Cause: billing.GoodsBack, Back: true}, "Dr 405 900.00, Dr 241 180.00, Cr 120 1080.00, Dr 141 500.00, Cr 501 500.00")
	f.worth(4, "3", "1500.00")
}

// Of an order: delivered, not all billed. What was not billed comes back alone,
// what was billed by a credit of the invoice; swapped it goes out again.
func TestOrderedGoodsComeBack(t *testing.T) {
	f := stockFirm(t)
	f.posts(billing.Order{PartyID: 1, JobID: 1, Day: "2026-10-02", Lines: []posting.Line{sold(3, "8", "120")}})
	f.posts(billing.Delivery{OrderID: 2, Day: "2026-10-10", Lines: []billing.OrderShare{{Position: 1, Quantity: dec("6")}}}, "Dr 501 420.00, Cr 141 420.00")
	ofOne := func(q string) posting.Line {
		l := sold(3, q, "120")
		l.Of = posting.Thing{LineRef: posting.LineRef{PaperID: 2, Position: 1}, TaxCodeID: 1}
		return l
	}
	f.posts(billing.Invoice{PartyID: 1, JobID: 1, Day: "2026-10-11", Lines: []posting.Line{ofOne("4")}}, "Dr 120 576.00, Cr 405 480.00, Cr 241 96.00")
	r := billing.Return{OrderID: 2, Day: back, Reason: "scratched", Lines: []billing.ReturnLine{{Position: 1, Quantity: dec("3"), Back: dec("3")}}}
	f.refuses(r, "lines[0].quantity", "billed", "2")
	r.Lines[0].Quantity, r.Lines[0].Back = dec("1"), dec("2")
	f.refuses(r, "lines[0].back", "more than came back", "1")
	r.Lines[0].Back = dec("1")
	f.posts(r, "Dr 141 70.00, Cr 501 70.00")
	// Three to deliver again, four to bill still: of eight five are out, four billed.
	lines := billing.OrderLines(f, f.paper(2), back)
	if lines[0].Delivered.Decimal().String() != "5" || lines[0].LeftToDeliver.Decimal().String() != "3" || lines[0].LeftToBill.Decimal().String() != "4" {
		t.Errorf("of the order: %+v", lines[0])
	}
	// Swapped: stock was bought dearer since, so one of 70.00 comes in and one at the average goes out.
	f.posts(stock.Count{Day: back, Lines: []stock.Counted{{Line: stock.Line{ArticleID: 3, Quantity: dec("10")}, Cost: price("100")}}}, "Dr 141 500.00, Cr 501 500.00")
	r.Swap = true
	f.posts(r, "Dr 501 13.64, Cr 141 13.64") // 83.64 less 70.00
	if got := billing.OrderLines(f, f.paper(2), back)[0].Delivered.Decimal().String(); got != "5" {
		t.Errorf("delivered after a swap: %s", got)
	}
	// Scrapped, not replaced: it lowers the order.
	r = billing.Return{OrderID: 2, Day: back, Reason: "broken", Cancel: true, Lines: []billing.ReturnLine{{Position: 1, Quantity: dec("1")}}}
	f.posts(r)
	lines = billing.OrderLines(f, f.paper(2), back)
	if lines[0].Delivered.Decimal().String() != "4" || lines[0].Cancelled.Decimal().String() != "1" || lines[0].LeftToBill.Decimal().String() != "3" {
		t.Errorf("after it was left out: %+v", lines[0])
	}
	// Two of those billed come back by a credit of the invoice, at the cost of what is out: 4 of 295.64 and 70.00 scrapped.
	f.posts(billing.Credit{PaperID: 4, Day: back, Cause: billing.GoodsBack, Again: true, Lines: []billing.CreditLine{{Position: 1, Quantity: dec("2"), Back: dec("2")}}},
		"Dr 405 240.00, Dr 241 48.00, Cr 120 288.00, Dr 141 145.46, Cr 501 145.46")
	f.refuses(billing.Return{OrderID: 2, Day: back, Reason: "x", Lines: []billing.ReturnLine{{Position: 1, Quantity: dec("1")}}}, "lines[0].quantity", "billed", "0")
}

// What was billed before it was delivered left stock with the bill. Credited as
// called off, it is there again; billed wrongly and billed again, it leaves
// stock once.
func TestBilledBeforeDelivered(t *testing.T) {
	f := stockFirm(t)
	f.posts(billing.Order{PartyID: 1, JobID: 1, Day: "2026-10-02", Lines: []posting.Line{sold(3, "5", "120")}})
	l := sold(3, "5", "120")
	l.Of = posting.Thing{LineRef: posting.LineRef{PaperID: 2, Position: 1}, TaxCodeID: 1}
	bill := billing.Invoice{PartyID: 1, JobID: 1, Day: "2026-10-11", Lines: []posting.Line{l}}
	f.posts(bill, "Dr 120 720.00, Cr 405 600.00, Cr 241 120.00, Dr 501 350.00, Cr 141 350.00")
	f.posts(billing.Credit{PaperID: 3, Day: "2026-10-12", Cause: billing.OtherCauses, Text: "billed wrongly", Again: true}, "Dr 405 600.00, Dr 241 120.00, Cr 120 720.00, Dr 141 350.00, Cr 501 350.00")
	bill.Day = "2026-10-13"
	f.posts(bill, "Dr 120 720.00, Cr 405 600.00, Cr 241 120.00, Dr 501 350.00, Cr 141 350.00")
	f.posts(billing.Credit{PaperID: 5, Day: "2026-10-14", Cause: billing.CalledOff, Lines: []billing.CreditLine{{Position: 1, Quantity: dec("2")}}}, "Dr 405 240.00, Dr 241 48.00, Cr 120 288.00, Dr 141 140.00, Cr 501 140.00")
	f.worth(3, "7", "490.00")
	if got := f.AccountBalance(f.Role(ledger.CostOfSales).ID); got != 21000 {
		t.Errorf("cost of sales: %d", got)
	}
}

func (f firm) paper(id int64) posting.Paper {
	p, _ := f.Paper(id)
	return p
}

// What comes back on a day between must leave enough delivered for what was
// billed on every day after it.
func TestReturnBetween(t *testing.T) {
	f := newFirm(t)
	f.posts(billing.Order{PartyID: 1, JobID: 1, Day: "2026-11-02", Lines: []posting.Line{{Text: "treads", Quantity: dec("8"), UnitPrice: dec("100"), TaxCodeID: 1}}})
	deliver := func(d day.Day, pieces string) {
		f.posts(billing.Delivery{OrderID: 1, Day: d, Lines: []billing.OrderShare{{Position: 1, Quantity: dec(pieces)}}})
	}
	deliver("2026-11-09", "6")
	deliver("2026-11-14", "3")
	f.posts(billing.Invoice{PartyID: 1, JobID: 1, Day: "2026-11-14", Lines: []posting.Line{ofOrder(1, 1, "9")}}, "Dr 120 1080.00, Cr 401 900.00, Cr 241 180.00")
	deliver("2026-11-17", "1")
	r := billing.Return{OrderID: 1, Day: "2026-11-10", Reason: "scratched", Lines: []billing.ReturnLine{{Position: 1, Quantity: dec("1")}}}
	f.refuses(r, "day", "more than is left", "") // nine would be billed on the 14th, and eight delivered
	r.Day = "2026-11-17"
	f.posts(r)
}
