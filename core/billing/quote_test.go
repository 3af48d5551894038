package billing_test

import (
	"testing"

	"cleantally/core/billing"
	"cleantally/core/posting"
	"cleantally/core/settling"
)

func share(position int, quantity string) billing.OrderShare {
	return billing.OrderShare{Position: position, Quantity: dec(quantity)}
}

// A quote has versions, is accepted line by line, and is ordered once.
func TestQuote(t *testing.T) {
	f := newFirm(t)
	first := billing.Quote{PartyID: 1, JobID: 1, Day: "2026-10-01", Holds: "2026-10-31", Lines: []posting.Line{work("8000", 1), work("500", 1)}}
	f.posts(first)
	second := first
	second.RevisesID, second.Lines[0].UnitPrice = 1, dec("7500")
	e := f.posts(second)
	if p := e.Paper(); p.Number != "Q26-0001/2" || p.Version != 2 {
		t.Errorf("the second version is %s, %d", p.Number, p.Version)
	}
	f.refuses(second, "quote", "a newer version", "Q26-0001/2")
	of := func(quote int64, lines ...int) billing.Order {
		o := billing.Order{PartyID: 1, JobID: 1, Day: "2026-10-20", QuoteID: quote}
		for _, n := range lines {
			l := ofOrder(quote, n, "1")
			l.UnitPrice, l.TaxCodeID = dec("7500"), 1
			o.Lines = append(o.Lines, l)
		}
		return o
	}
	f.refuses(of(1, 1), "quote", "a newer version", "")
	f.posts(of(2, 1))
	f.refuses(of(2, 1), "lines[0].quantity", "accepted already", "0")
	f.refuses(of(2), "lines", "nothing accepted", "")
	f.refuses(of(2, 3), "lines[0].of", "missing", "")
	late := of(2, 2)
	late.Day = "2026-11-02"
	if e := f.posts(late); len(e.Warnings) != 1 || e.Warnings[0].Rule != "past its day" {
		t.Errorf("accepted after its day: %v", e.Warnings)
	}
	f.posts(settling.Reversal{PaperID: 4, Day: "2026-11-20", Reason: "wrong"})
	f.Lost = map[int64]string{2: "too dear"}
	f.refuses(of(2, 2), "quote", "lost", "too dear")
	first.Holds = "2026-09-30"
	f.refuses(first, "holds", "before the paper", "2026-10-01")
}

// E-22, as far as it delivers, bills and cancels; what comes back follows with
// the papers that take it back.
func TestE22(t *testing.T) {
	f := newFirm(t)
	f.posts(billing.Order{PartyID: 1, JobID: 1, Day: "2026-10-01", Lines: []posting.Line{{Text: "tread", Quantity: dec("40"), UnitPrice: dec("118"), TaxCodeID: 1}}})
	left := func(deliver, bill string) {
		t.Helper()
		l := billing.OrderLines(f.Book, f.Papers[0], "2026-11-20")[0]
		if l.LeftToDeliver.Decimal().String() != deliver || l.LeftToBill.Decimal().String() != bill {
			t.Errorf("left to deliver %s, to bill %s; want %s, %s", l.LeftToDeliver.Decimal(), l.LeftToBill.Decimal(), deliver, bill)
		}
	}
	f.posts(billing.Delivery{OrderID: 1, Day: "2026-10-10", Lines: []billing.OrderShare{share(1, "25")}})
	f.posts(billing.Invoice{PartyID: 1, JobID: 1, Day: "2026-10-11", Lines: []posting.Line{ofOrder(1, 1, "25")}}, "Dr 120 3540.00, Cr 401 2950.00, Cr 241 590.00")
	left("15", "15")
	more := billing.Delivery{OrderID: 1, Day: "2026-10-12", Lines: []billing.OrderShare{share(1, "16")}}
	if e := f.posts(more); len(e.Warnings) != 1 || e.Warnings[0].Rule != "more than ordered" || e.Warnings[0].Limit != "15" {
		t.Errorf("more than is left is confirmed: %v", e.Warnings)
	}
	left("0", "16")
	f.refuses(billing.Cancellation{OrderID: 1, Day: "2026-10-12", Reason: "no more", Lines: []billing.OrderShare{share(1, "1")}}, "lines[0].quantity", "more than is left", "0")
	f.refuses(settling.Reversal{PaperID: 1, Day: "2026-11-20", Reason: "wrong"}, "paper", "something stands on it", "")
	for _, d := range []billing.Delivery{{OrderID: 1, Day: "2026-10-12"}, {OrderID: 1, Day: "2026-10-12", Lines: []billing.OrderShare{share(2, "1")}}, {OrderID: 1, Day: "2026-10-12", Lines: []billing.OrderShare{share(1, "0")}},
		{OrderID: 9, Day: "2026-10-12", Lines: []billing.OrderShare{share(1, "1")}}, {OrderID: 1, Day: "2026-09-30", Lines: []billing.OrderShare{share(1, "1")}}} {
		if _, err := d.Plan(f.Book); err == nil {
			t.Errorf("%+v is no delivery", d)
		}
	}
}

// What is left of an order is cancelled, which lowers the contract; no more can
// be billed of it.
func TestCancellation(t *testing.T) {
	f := newFirm(t)
	f.posts(billing.Order{PartyID: 1, JobID: 1, Day: "2026-10-01", Lines: []posting.Line{{Text: "tread", Quantity: dec("40"), UnitPrice: dec("118"), TaxCodeID: 1}, work("900", 1)}})
	f.posts(billing.Invoice{PartyID: 1, JobID: 1, Day: "2026-10-11", Lines: []posting.Line{ofOrder(1, 1, "10")}}, "Dr 120 1416.00, Cr 401 1180.00, Cr 241 236.00")
	f.refuses(billing.Cancellation{OrderID: 1, Day: "2026-10-12"}, "reason", "missing", "")
	f.posts(billing.Cancellation{OrderID: 1, Day: "2026-10-12", Reason: "the loft is not built"})
	if got := f.Agreed(1); got != 118000 {
		t.Errorf("the contract is lowered to %d", got)
	}
	f.refuses(billing.Invoice{PartyID: 1, JobID: 1, Day: "2026-10-13", Lines: []posting.Line{ofOrder(1, 2, "1")}}, "lines[0].quantity", "more than is left", "0")
	f.refuses(billing.Cancellation{OrderID: 1, Day: "2026-10-12", Reason: "again"}, "lines", "missing", "")
	f.posts(settling.Reversal{PaperID: 3, Day: "2026-10-20", Reason: "they build it"})
	if got := f.Agreed(1); got != 472000+90000 {
		t.Errorf("the contract is %d again", got)
	}
}
