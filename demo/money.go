package demo

import (
	"cleantally/core/buying"
	"cleantally/core/day"
	"cleantally/core/journal"
	"cleantally/core/ledger"
	"cleantally/core/money"
	"cleantally/core/posting"
	"cleantally/core/settling"
)

// moneyCases are the ways in which money waits, goes back or is given up, each
// of which stands on the desk or one step behind it.
func (t *teller) moneyCases() {
	t.unknownMoney()
	t.calledOff()
	t.discounts()
	t.bothWays()
	t.lostMoney()
	t.oddAmounts()
	t.comingIn()
}

// unknownMoney came, once and for all identified a week later, once not yet.
func (t *teller) unknownMoney() {
	school := "Juniper Lane School"
	t.do("2026-09-08", "unknown, then known", settling.Unidentified{Day: "2026-09-08", Amount: 90000, BankAccountID: 1, Method: posting.ByTransfer, Reference: "STEPS AUTUMN TERM"})
	t.at("2026-09-15", "identified", func() (posting.Command, error) {
		return settling.Distribute{From: t.items["unknown, then known"], Day: "2026-09-15",
			Deposits: []settling.Deposit{{PartyID: t.parties[school], JobID: t.jobs["209"], Amount: 90000}}}, nil
	})
	t.do("2026-11-13", "unknown", settling.Unidentified{Day: "2026-11-13", Amount: 36350, BankAccountID: 1, Method: posting.ByTransfer, Reference: "STAIRS THANK YOU"})
	// One transfer of a block agent for two customers.
	t.do("2026-10-20", "granary", t.invoice("Granary Row Residents", "", "2026-10-20", t.line("Handrails re-fixed, stairs A and B", "1", 42000, "STD", false)))
	t.at("2026-11-06", "one transfer for two", func() (posting.Command, error) {
		return settling.Distribute{Day: "2026-11-06", Amount: 65400, BankAccountID: 1, Method: posting.ByTransfer, Reference: "AGENT 11/06",
			Receipts: []settling.Receipt{{PartyID: t.parties["Granary Row Residents"], Arrived: 50400, Placements: []settling.Placement{{Debit: t.items["granary"], Most: true}}},
				{PartyID: t.parties["Vesper Lane Surgery"], Arrived: 15000, OnAccount: true}}}, nil
	})
}

// calledOff is an order that was called off: its deposit, taxed on receipt, is
// still held, and a part of it will be kept.
func (t *teller) calledOff() {
	d := t.deposit("Aubrey Lindqvist-Moss", "215", "2026-08-18", 240000, "SPIRAL")
	d.TaxCodeID = t.codes["STD"]
	t.do("2026-08-18", "called off", d)
	// A refund by cheque that is not printed yet.
	t.at("2026-11-18", "surgery refund", func() (posting.Command, error) {
		return settling.Refund{Day: "2026-11-18", Sources: []settling.Share{{Item: t.items["surgery overpaid"], Most: true}}, BankAccountID: 1, Method: posting.ByCheque}, nil
	})
	surgery := "Vesper Lane Surgery"
	t.do("2026-10-12", "surgery", t.invoice(surgery, "", "2026-10-12", t.line("Grab rail, oiled", "1", 35833, "STD", true)))
	t.at("2026-11-05", "surgery overpaid", func() (posting.Command, error) {
		return t.receipt(surgery, "2026-11-05", 50000, "CHQ 4471", "surgery"), nil
	})
}

// discounts are a discount that was taken, one whose cheque was returned, and
// one that can still be earned.
func (t *teller) discounts() {
	brewery := "Millrace Brewery"
	t.do("2026-09-21", "cellar 1", t.invoice(brewery, "217", "2026-09-21", t.line("Cellar steps, first flight", "1", 100000, "STD", false)))
	early := func(on string, d string, a money.Amount) {
		t.at("2026-09-29", on+" paid early", func() (posting.Command, error) {
			return settling.Receipt{PartyID: t.parties[brewery], Day: "2026-09-29", Arrived: a, BankAccountID: 1, Method: posting.ByCheque, Reference: d,
				Placements: []settling.Placement{{Debit: t.items[on], Most: true, Discount: true}}}, nil
		})
	}
	early("cellar 1", "CHQ 0071", 117600)
	t.do("2026-09-25", "cellar 2", t.invoice(brewery, "217", "2026-09-25", t.line("Cellar steps, handrail", "1", 50000, "STD", false)))
	early("cellar 2", "CHQ 0072", 58800)
	t.at("2026-10-06", "cellar 2 returned", func() (posting.Command, error) {
		return settling.Returned{PaperID: t.papers["cellar 2 paid early"], Day: "2026-10-06", Fee: 800, Reason: "refer to drawer"}, nil
	})
	t.do("2026-11-16", "cellar 3", t.invoice(brewery, "217", "2026-11-16", t.line("Cellar steps, second flight", "1", 80000, "STD", false)))
}

// bothWays is a supplier who is a customer too.
func (t *teller) bothWays() {
	reed := "Thornapple & Reed Timber"
	t.do("2026-10-09", "shop stair", t.invoice(reed, "218", "2026-10-09", t.line("Shop stair, ash, made and fitted", "1", 75000, "STD", false)))
	t.at("2026-10-22", "stringers", func() (posting.Command, error) {
		return buying.Bill{PartyID: t.parties[reed], Day: "2026-10-22", Due: "2026-11-21", Reference: "TR 1187",
			Lines: []buying.Line{{Text: "Stringers, oak, rough cut", AccountID: t.role(ledger.JobCosts), JobID: t.jobs["214"], Net: 53333, TaxCodeID: t.codes["STD"]}}}, nil
	})
}

// lostMoney is a debt that was written off and partly recovered, and one that
// is disputed.
func (t *teller) lostMoney() {
	corvane := "Corvane Interiors"
	t.do("2025-11-10", "showroom plinth", t.invoice(corvane, "", "2025-11-10", t.line("Plinth and two treads, showroom", "1", 90000, "STD", false)))
	t.at("2026-05-12", "plinth given up", func() (posting.Command, error) {
		return settling.WriteOff{Day: "2026-05-12", Reason: "Their insurer paid nothing, agreed with Dario", Relief: true, Items: []settling.Share{{Item: t.items["showroom plinth"], Most: true}}}, nil
	})
	t.at("2026-09-17", "plinth recovered", func() (posting.Command, error) {
		return settling.Recovery{WriteOffID: t.papers["plinth given up"], Day: "2026-09-17", Amount: 54000, BankAccountID: 1, Method: posting.ByTransfer, Reference: "INSURER 40 %"}, nil
	})
	trust := "The Marrowfield Trust"
	t.do("2026-09-02", "ladder rail", t.invoice(trust, "200", "2026-09-02", t.line("Library ladder, brass rail", "1", 145000, "STD", false)))
	t.at("2026-10-08", "ladder rail part", func() (posting.Command, error) {
		return settling.Receipt{PartyID: t.parties[trust], Day: "2026-10-08", Arrived: 140000, BankAccountID: 1, Method: posting.ByTransfer, Reference: "MT 771",
			Placements: []settling.Placement{{Debit: t.items["ladder rail"], Most: true, Rest: settling.IsDisputed, Reason: "one bracket tarnished, to be replaced"}}}, nil
	})
	t.do("2026-06-30", "allowance", settling.Allowance{Day: "2026-06-30"})
}

// comingIn is what is billed and not due yet, over the next weeks.
func (t *teller) comingIn() {
	for _, x := range []struct {
		customer, job, text string
		day, due            day.Day
		net                 money.Amount
	}{
		{"Quillon & Daughters Architects", "214", "Harbour office stair, strings set", "2026-11-03", "2026-12-03", 485000},
		{"Dunmarrow Builders", "198", "Tannery Row, flight two", "2026-11-06", "2026-12-11", 634000},
		{"The Marrowfield Trust", "200", "Library ladder, rail polished", "2026-11-10", "2026-12-31", 98000},
		{"Corvane Interiors", "207", "Mezzanine stair, steel ordered", "2026-11-12", "2026-12-18", 310000},
		{"Sunniva Thackery-Osei", "193", "Newel caps, beech", "2026-11-17", "2027-01-15", 42000},
		{"Granary Row Residents", "", "Nosings, stairs C to F", "2026-11-18", "2027-02-01", 88000},
	} {
		v := t.invoice(x.customer, x.job, x.day, t.line(x.text, "1", x.net, "STD", false))
		v.Due = x.due
		t.do(x.day, x.text, v)
	}
}

// oddAmounts are small balances, a difference closed on the spot, tax that a
// customer withheld, and what a builder kept back without a word.
func (t *teller) oddAmounts() {
	quillon := "Quillon & Daughters Architects"
	t.do("2026-08-24", "model stair", t.invoice(quillon, "", "2026-08-24", t.line("Model of a stair, 1:10", "1", 23333, "STD", false)))
	t.at("2026-09-14", "model stair paid", func() (posting.Command, error) {
		return t.receipt(quillon, "2026-09-14", 27950, "MODEL", "model stair"), nil
	})
	t.do("2026-09-03", "spare treads", t.invoice("Granary Row Residents", "", "2026-09-03", t.line("Treads, spare", "3", 11800, "STD", true)))
	t.at("2026-09-30", "spare treads paid", func() (posting.Command, error) {
		return t.receipt("Granary Row Residents", "2026-09-30", 42400, "TREADS", "spare treads"), nil
	})
	t.do("2026-07-20", "winders", t.invoice("Corvane Interiors", "207", "2026-07-20", t.line("Winders, templates", "1", 60000, "STD", false)))
	t.at("2026-08-19", "winders paid", func() (posting.Command, error) {
		return settling.Receipt{PartyID: t.parties["Corvane Interiors"], Day: "2026-08-19", Arrived: 71997, BankAccountID: 1, Method: posting.ByTransfer, Reference: "WINDERS",
			Placements: []settling.Placement{{Debit: t.items["winders"], Most: true, Rest: settling.IsDifference}}}, nil
	})
	t.do("2026-09-18", "weir 1", t.invoice("Dunmarrow Builders", "201", "2026-09-18", t.line("Weir Cottages, flight one", "1", 780000, "STD", false)))
	t.at("2026-10-21", "weir 1 paid", func() (posting.Command, error) {
		return settling.Receipt{PartyID: t.parties["Dunmarrow Builders"], Day: "2026-10-21", Arrived: 889200, BankAccountID: 1, Method: posting.ByTransfer, Reference: "DB WEIR 1",
			Placements: []settling.Placement{{Debit: t.items["weir 1"], Most: true, Rest: settling.IsRetained}}}, nil
	})
	t.at("2026-10-31", "overheads", func() (posting.Command, error) {
		return journal.Journal{Day: "2026-10-31", Text: "Cash counted: petty cash to overheads",
			Lines: []journal.Line{{AccountID: t.numbered("601"), Debit: 8450}, {AccountID: t.numbered("301"), Credit: 8450}}}, nil
	})
}
