package demo

import (
	"context"
	"fmt"

	"cleantally/core/billing"
	"cleantally/core/buying"
	"cleantally/core/day"
	"cleantally/core/ledger"
	"cleantally/core/master"
	"cleantally/core/money"
	"cleantally/core/posting"
	"cleantally/core/settling"
	"cleantally/core/stock"
	"cleantally/store"

	"github.com/shopspring/decimal"
)

// suppliers are those of whom the firm buys, and the article that it keeps in
// numbered pieces.
func (t *teller) suppliers(ctx context.Context) error {
	for n, p := range []master.Party{
		{Name: "Larkfield Crane & Lift", Contact: "Bram Okafor-Lund", Address: "Yard 3, Eastern Dock", Town: "Haverling", Email: "desk@larkfield-crane.example"},
		{Name: "Haverling Town Hall, permits", Address: "1 Market Cross", Town: "Haverling", Email: "permits@haverling-town.example"},
		{Name: "Osier Bank Sawmill", Contact: "Ingrid Vale", Address: "Mill Lane", Town: "Osier Bank", Email: "orders@osierbank.example"},
		{Name: "Petra Hollis Joinery", Contact: "Petra Hollis", Address: "7 Kiln Row", Town: "Haverling", Email: "petra@hollis-joinery.example", KeepBack: decimal.New(5, 0)},
		{Name: "Brass & Bracket Fittings", Contact: "Sol Maren", Address: "22 Foundry Street", Town: "Cawdale", Email: "sales@brassbracket.example"},
	} {
		p.IsSupplier, p.Phone, p.IBAN = true, fmt.Sprintf("055 57%d %03d", n, 211*(n+2)%1000), madeUpIBAN(n+1)
		p.Country = "ZZ"
		if err := t.book.SaveCustomer(ctx, 1, &p); err != nil {
			return err
		}
		t.parties[p.Name] = p.ID
	}
	articles, err := store.All[master.Article](t.book.Read(ctx), "id")
	for _, a := range articles {
		t.articles[a.Code] = a.ID
	}
	if err != nil {
		return err
	}
	banks, err := store.All[ledger.BankAccount](t.book.Read(ctx), "id")
	if err != nil {
		return err
	}
	bank := banks[0]
	bank.IBAN = madeUpIBAN(99)
	if err := t.book.SaveBankAccount(ctx, 1, &bank); err != nil {
		return err
	}
	job, _, err := store.Find[master.Job](t.book.Read(ctx), t.jobs["223"])
	if err != nil {
		return err
	}
	markup := decimal.New(125, -1)
	job.Markup, job.Budget = &markup, 520000
	return t.book.SaveJob(ctx, 1, &job)
}

// madeUpIBAN is an account number of no country: ZZ is nobody's.
func madeUpIBAN(n int) string {
	account := fmt.Sprintf("SPWI%012d", n)
	rest := 0
	for _, r := range account + "ZZ00" {
		if r >= 'A' {
			rest = (rest*100 + int(r-'A') + 10) % 97
		} else {
			rest = (rest*10 + int(r-'0')) % 97
		}
	}
	return fmt.Sprintf("ZZ%02d%s", 98-rest, account)
}

// bought is a line to an account by its role.
func (t *teller) bought(text string, role ledger.Role, job string, net money.Amount, code string) buying.Line {
	return buying.Line{Text: text, AccountID: t.role(role), JobID: t.jobs[job], Net: net, TaxCodeID: t.codes[code]}
}

// ofStock is a line of an article that is kept in stock.
func (t *teller) ofStock(code, quantity string, price money.Amount) buying.Line {
	return buying.Line{Text: "Balusters, turned, oak", ArticleID: t.articles[code], Quantity: decimal.RequireFromString(quantity), UnitPrice: decimal.New(int64(price), -2), TaxCodeID: t.codes["STD"]}
}

// buying is what the firm buys: for stock, for jobs, to be passed on; what of
// it waits stands on the desk.
func (t *teller) buying() {
	t.stocked()
	t.passedOn()
	t.subcontracted()
	for n, d := range []day.Day{"2025-07-15", "2025-10-14", "2026-01-13", "2026-04-14", "2026-07-14", "2026-10-13"} {
		name := fmt.Sprintf("workshop %d", n)
		t.at(d, name, func() (posting.Command, error) {
			return buying.Bill{PartyID: t.parties["Brass & Bracket Fittings"], Day: d, Due: d.Add(30), Reference: fmt.Sprintf("BB %d", 4410+17*n),
				Lines: []buying.Line{{Text: "Screws, plugs, abrasives", AccountID: t.numbered("601"), Net: 21500 + money.Amount(n)*1375, TaxCodeID: t.codes["STD"]}}}, nil
		})
		t.pay(d.Add(28), name, "Brass & Bracket Fittings")
	}
}

// pay pays a bill whole on a day.
func (t *teller) pay(d day.Day, name, supplier string) {
	t.at(d, name+" paid", func() (posting.Command, error) {
		return settling.SupplierPayment{PartyID: t.parties[supplier], Day: d, BankAccountID: 1, Method: posting.ByTransfer, Fits: true, Bills: []settling.PaidBill{{Item: t.items[name], Most: true}}}, nil
	})
}

// stocked are balusters: counted at the beginning, ordered, received before
// their bill, used on a job and sold; more are ordered and late.
func (t *teller) stocked() {
	mill := "Osier Bank Sawmill"
	t.at("2025-05-02", "stock at the beginning", func() (posting.Command, error) {
		cost := decimal.New(1180, -2)
		return stock.Count{Day: "2025-05-02", Opening: true, Note: "From the old book", Lines: []stock.Counted{{Line: stock.Line{ArticleID: t.articles["BAL-T"], Quantity: decimal.New(40, 0)}, Cost: &cost}}}, nil
	})
	t.at("2026-09-08", "balusters ordered", func() (posting.Command, error) {
		return buying.Order{PartyID: t.parties[mill], Day: "2026-09-08", Expected: "2026-09-22", Reference: "BAL-T, 120", Lines: []buying.Line{t.ofStock("BAL-T", "120", 1240)}}, nil
	})
	t.at("2026-09-21", "balusters came", func() (posting.Command, error) {
		return buying.Received{OrderID: t.papers["balusters ordered"], Day: "2026-09-21", Reference: "DN 7713", Lines: []buying.Share{{Position: 1, Quantity: decimal.New(120, 0)}}}, nil
	})
	t.at("2026-10-01", "balusters used", func() (posting.Command, error) {
		return stock.Use{JobID: t.jobs["223"], Day: "2026-10-01", Lines: []stock.Line{{ArticleID: t.articles["BAL-T"], Quantity: decimal.New(48, 0)}}}, nil
	})
	t.at("2026-10-05", "balusters billed", func() (posting.Command, error) {
		l := t.ofStock("BAL-T", "120", 1265)
		l.Of = buying.OrderLine{PaperID: t.papers["balusters ordered"], Position: 1}
		return buying.Bill{PartyID: t.parties[mill], Day: "2026-10-05", Due: "2026-11-04", Reference: "OB 26-881", Lines: []buying.Line{l}}, nil
	})
	t.pay("2026-11-02", "balusters billed", mill)
	t.at("2026-10-27", "balusters sold", func() (posting.Command, error) {
		return billing.Invoice{PartyID: t.parties["Corvane Interiors"], Day: "2026-10-27", Lines: []posting.Line{{ArticleID: t.articles["BAL-T"], Text: "Turned baluster, oak", Unit: "pc", Quantity: decimal.New(24, 0), UnitPrice: decimal.New(2500, -2), TaxCodeID: t.codes["STD"]}}}, nil
	})
	t.at("2026-10-30", "more ordered", func() (posting.Command, error) {
		return buying.Order{PartyID: t.parties[mill], Day: "2026-10-30", Expected: "2026-11-13", Lines: []buying.Line{t.ofStock("BAL-T", "60", 1240), t.bought("Oak boards, 40 mm, kiln-dried", ledger.JobCosts, "224", 118000, "STD")}}, nil
	})
	t.at("2026-11-03", "mill paid ahead", func() (posting.Command, error) {
		return settling.Prepayment{PartyID: t.parties[mill], Day: "2026-11-03", Amount: 60000, BankAccountID: 1, Method: posting.ByTransfer, OrderID: t.papers["more ordered"], Reference: "half ahead"}, nil
	})
}

// passedOn are costs that were bought for customers: one long billed, and crane
// hire and a permit fee that wait.
func (t *teller) passedOn() {
	crane, hall := "Larkfield Crane & Lift", "Haverling Town Hall, permits"
	lift := func(d day.Day, name, job string, net money.Amount) {
		t.at(d, name, func() (posting.Command, error) {
			l := t.bought("Crane hire, half a day", ledger.JobCosts, job, net, "STD")
			l.PassOn = posting.OurSupply
			return buying.Bill{PartyID: t.parties[crane], Day: d, Due: d.Add(30), Reference: "LC " + string(d[2:4]) + string(d[5:7]), Lines: []buying.Line{l}}, nil
		})
	}
	lift("2026-08-12", "crane for the office", "214", 36000)
	t.pay("2026-09-10", "crane for the office", crane)
	t.at("2026-08-28", "crane billed", func() (posting.Command, error) {
		return billing.Invoice{PartyID: t.parties["Quillon & Daughters Architects"], JobID: t.jobs["214"], Day: "2026-08-28", Lines: []posting.Line{{Costs: []posting.CostShare{{PaperID: t.papers["crane for the office"], Position: 1}}}}}, nil
	})
	lift("2026-10-28", "crane hire", "223", 48000)
	t.at("2026-11-04", "permit fee", func() (posting.Command, error) {
		l := t.bought("Permit fee, hoarding on the pavement", "", "223", 20600, "NIL")
		l.AccountID, l.PassOn = 0, posting.OnBehalf
		return buying.Expense{PartyID: t.parties[hall], Day: "2026-11-04", BankAccountID: 1, Method: posting.ByCard, Reference: "HTH 2291", Lines: []buying.Line{l}}, nil
	})
}

// subcontracted is work of a joiner of whom 5 % is kept back, part of it due
// soon.
func (t *teller) subcontracted() {
	joiner := "Petra Hollis Joinery"
	t.at("2026-06-03", "joinery", func() (posting.Command, error) {
		return buying.Bill{PartyID: t.parties[joiner], Day: "2026-06-03", Due: "2026-07-03", Reference: "PH 61", Expected: "2026-12-03", Lines: []buying.Line{t.bought("Fitting, Sail Loft flats, stair A", ledger.JobCosts, "220", 500000, "STD")}}, nil
	})
	t.pay("2026-07-01", "joinery", joiner)
	t.at("2026-11-09", "joinery again", func() (posting.Command, error) {
		return buying.Bill{PartyID: t.parties[joiner], Day: "2026-11-09", Due: "2026-11-23", Reference: "PH 74", EarlyPercent: decimal.New(2, 0), EarlyUntil: "2026-11-24", Expected: "2027-05-09", Lines: []buying.Line{t.bought("Fitting, Chandlery stair", ledger.JobCosts, "223", 162000, "STD")}}, nil
	})
}
