package demo

import (
	"cleantally/core/billing"
	"cleantally/core/ledger"
	"cleantally/core/posting"
	"cleantally/core/settling"

	"github.com/shopspring/decimal"
)

// takenBack are the credits and returns of the firm's last weeks: spare
// balusters that came back and whose credit waits; treads that were swapped
// before they were billed; all of an invoice that was paid in part; a price that
// was too high, found after the customer had paid; a rebate with no invoice.
func (t *teller) takenBack() {
	pieces := func(n int64) decimal.Decimal { return decimal.New(n, 0) }
	t.at("2026-11-16", "balusters came back", func() (posting.Command, error) {
		return billing.Credit{PaperID: t.papers["balusters sold"], Day: "2026-11-16", Cause: billing.GoodsBack, Text: "four spare, two of them split", Reference: "CI R-19",
			Lines: []billing.CreditLine{{Position: 1, Quantity: pieces(4), Back: pieces(2)}}}, nil
	})
	t.at("2026-11-17", "treads swapped", func() (posting.Command, error) {
		return billing.Return{OrderID: t.papers["treads ordered"], Day: "2026-11-17", Reason: "bullnosed on the wrong side", Reference: "Estate 117", Swap: true, Lines: []billing.ReturnLine{{Position: 1, Quantity: pieces(2)}}}, nil
	})

	aldergrove := "Bastien Aldergrove"
	t.do("2026-08-06", "gate", t.invoice(aldergrove, "", "2026-08-06", t.line("Stair gate, ash, to measure", "1", 25000, "STD", true)))
	t.at("2026-08-17", "gate part", func() (posting.Command, error) {
		return t.receipt(aldergrove, "2026-08-17", 6000, "GATE", "gate"), nil
	})
	t.at("2026-08-26", "gate taken back", func() (posting.Command, error) {
		return settling.CreditAndRefund{Credit: billing.Credit{PaperID: t.papers["gate"], Day: "2026-08-26", Cause: billing.GoodsBack, Text: "the wall turned out too soft", Own: true},
			Refund: settling.GivenBack{BankAccountID: 1, Method: posting.ByTransfer, Reference: "GATE"}}, nil
	})

	clinic := "Farrowby Veterinary Practice"
	t.do("2026-09-22", "ramp", t.invoice(clinic, "", "2026-09-22", t.line("Ramp boards, larch", "14", 8550, "STD", true)))
	t.payInFull(clinic, "ramp", "2026-10-14", "RAMP")
	t.at("2026-11-10", "ramp cheaper", func() (posting.Command, error) {
		agreed := decimal.New(7990, -2)
		return billing.Credit{PaperID: t.papers["ramp"], Day: "2026-11-10", Cause: billing.Price, Text: "79.90 a board had been agreed", Lines: []billing.CreditLine{{Position: 1, Price: &agreed}}}, nil
	})

	brewery := "Millrace Brewery"
	t.at("2026-11-18", "rebate", func() (posting.Command, error) {
		return billing.Credit{PartyID: t.parties[brewery], JobID: t.jobs["217"], Day: "2026-11-18", Cause: billing.Goodwill, Text: "for the noise in September", SetAgainst: []billing.Against{{Debit: t.items["cellar 3"], Most: true}},
			Written: []posting.Line{{Text: "Rebate on the cellar steps", Quantity: pieces(1), UnitPrice: decimal.New(5000, -2), TaxCodeID: t.codes["STD"], AccountID: t.role(ledger.DiscountAllowed)}}}, nil
	})
}
