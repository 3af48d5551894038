package billing_test

import (
	"fmt"
	"math/rand/v2"
	"testing"

	"cleantally/core/billing"
	"cleantally/core/day"
	"cleantally/core/money"
	"cleantally/core/posting"

	"github.com/shopspring/decimal"
)

// An order is delivered, billed, credited and returned in random pieces, and then
// all of that is reversed, in any order: nothing of it is left anywhere, and the
// goods are back in stock at what they were worth.
func TestOrderUndonePieceByPiece(t *testing.T) {
	for seed := range uint64(300) {
		t.Run(fmt.Sprint(seed), func(t *testing.T) {
			f, rnd := stockFirm(t), rand.New(rand.NewPCG(seed, 8))
			before := f.balances()
			line := sold(3, "8", "123.45")
			line.TaxCodeID = 1 + rnd.Int64N(3)
			f.posts(billing.Order{PartyID: 1, JobID: 1, Day: "2026-11-02", Lines: []posting.Line{line, {Text: "Fitting", Quantity: dec("3.5"), UnitPrice: dec("92.37"), TaxCodeID: 1}}})
			order := f.Papers[len(f.Papers)-1].ID
			for range 14 {
				c := f.ofOrder(rnd, order)
				if _, err := f.Post(c); err != nil {
					if _, refused := err.(posting.Refusals); !refused {
						t.Fatalf("%+v: %v", c, err)
					}
					continue
				}
				if err := f.Prove(); err != nil {
					t.Fatalf("%+v: %v", c, err)
				}
			}
			if err := f.UndoAll(rnd, f.After(order), back, 20); err != nil {
				t.Fatal(err)
			}
			if now := f.balances(); now != before {
				t.Errorf("in the end: %v, was %v", now, before)
			}
			f.worth(3, "10", "700.00")
			o, _ := f.Paper(order)
			for n, l := range billing.OrderLines(f, o, "2026-11-20") {
				if l.Delivered != 0 || l.Billed != 0 || l.Cancelled != 0 {
					t.Errorf("line %d: %+v", n+1, l)
				}
			}
		})
	}
}

// ofOrder is something that happens to an order, valid or not.
func (f firm) ofOrder(rnd *rand.Rand, order int64) posting.Command {
	pieces := func(most int64) decimal.Decimal { return decimal.New(1+rnd.Int64N(most*4), 0).Div(decimal.New(4, 0)) }
	shares := func() []billing.OrderShare {
		all := []billing.OrderShare{{Position: 1, Quantity: decimal.New(1+rnd.Int64N(3), 0)}}
		if rnd.IntN(2) == 0 {
			all = append(all, billing.OrderShare{Position: 2, Quantity: pieces(2)})
		}
		return all
	}
	at := func() day.Day { return day.Day("2026-11-03").Add(rnd.IntN(16)) }
	switch rnd.IntN(7) {
	case 0, 1:
		return billing.Delivery{OrderID: order, Day: at(), Lines: shares()}
	case 2, 3:
		v := billing.Invoice{PartyID: 1, JobID: 1, Day: at()}
		for _, s := range shares() {
			v.Lines = append(v.Lines, ofOrder(order, s.Position, s.Quantity.String()))
		}
		return v
	case 4:
		r := billing.Return{OrderID: order, Day: at(), Reason: "scratched", Swap: rnd.IntN(3) == 0, Cancel: rnd.IntN(3) == 0}
		r.Lines = []billing.ReturnLine{{Position: 1, Quantity: decimal.New(1+rnd.Int64N(2), 0), Back: decimal.New(rnd.Int64N(2), 0)}}
		return r
	}
	var invoices []posting.Paper
	for _, p := range f.Papers {
		if p.Kind == posting.Invoice {
			invoices = append(invoices, p)
		}
	}
	if len(invoices) == 0 {
		return billing.Delivery{OrderID: order, Day: at(), Lines: shares()}
	}
	of := invoices[rnd.IntN(len(invoices))]
	c := billing.Credit{PaperID: of.ID, Day: max(of.Day, at()), Cause: billing.Causes[rnd.IntN(len(billing.Causes))], Text: "x", Again: rnd.IntN(2) == 0, Back: rnd.IntN(2) == 0, Own: rnd.IntN(2) == 0}
	if rnd.IntN(3) > 0 {
		c.Back = false
		line := billing.CreditLine{Position: 1, Quantity: decimal.New(1+rnd.Int64N(2), 0)}
		if line.Back = decimal.New(rnd.Int64N(2), 0); rnd.IntN(3) == 0 {
			line = billing.CreditLine{Position: 1, Amount: money.Amount(1 + rnd.Int64N(9000))}
		}
		c.Lines = []billing.CreditLine{line}
	}
	return c
}
