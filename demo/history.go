package demo

import (
	"context"
	"encoding/json"
	"fmt"

	"cleantally/core/billing"
	"cleantally/core/day"
	"cleantally/core/ledger"
	"cleantally/core/money"
	"cleantally/core/posting"
	"cleantally/core/settling"
	"cleantally/store"

	"github.com/shopspring/decimal"
)

func (t *teller) at(d day.Day, name string, make func() (posting.Command, error)) {
	if d <= Today {
		t.happens = append(t.happens, happening{d, name, make})
	}
}

func (t *teller) do(d day.Day, name string, c posting.Command) {
	t.at(d, name, func() (posting.Command, error) { return c, nil })
}

// line is a line at a price in minor units.
func (t *teller) line(text, quantity string, price money.Amount, code string, material bool) posting.Line {
	l := posting.Line{Text: text, Quantity: decimal.RequireFromString(quantity), UnitPrice: decimal.New(int64(price), -2), TaxCodeID: t.codes[code]}
	if material {
		l.AccountID = t.materials()
	}
	return l
}

func (t *teller) materials() int64 { return t.role(ledger.MaterialSales) }

// role is the account of a role; 0 when it cannot be read, which a plan
// refuses or takes for workmanship.
func (t *teller) role(r ledger.Role) int64 {
	facts, err := t.book.Read(context.Background()).Facts(t.book.Today())
	if err != nil {
		return 0
	}
	return facts.Role(r).ID
}

// numbered is the account with a number.
func (t *teller) numbered(number string) int64 {
	id, _, err := store.IDBy[ledger.Account](t.book.Read(context.Background()), "number", number)
	if err != nil {
		return 0
	}
	return id
}

func (t *teller) invoice(customer, job string, d day.Day, lines ...posting.Line) billing.Invoice {
	return billing.Invoice{PartyID: t.parties[customer], JobID: t.jobs[job], Day: d, Lines: lines, Note: "Thank you. The first oiling is due after six weeks."}
}

func (t *teller) deposit(customer, job string, d day.Day, a money.Amount, reference string) settling.Deposit {
	return settling.Deposit{PartyID: t.parties[customer], JobID: t.jobs[job], Day: d, Amount: a, BankAccountID: 1, Method: posting.ByTransfer, Reference: reference}
}

func (t *teller) receipt(customer string, d day.Day, a money.Amount, reference string, on ...string) posting.Command {
	r := settling.Receipt{PartyID: t.parties[customer], Day: d, Arrived: a, BankAccountID: 1, Method: posting.ByTransfer, Reference: reference, OnAccount: true}
	left := a
	for _, name := range on {
		open, err := t.open(name)
		if take := min(open, left); err == nil && take > 0 {
			r.Placements = append(r.Placements, settling.Placement{Debit: t.items[name], Amount: take})
			left -= take
		}
	}
	return r
}

// cases are the situations that the demo is for, each to be found from the
// desk.
func (t *teller) cases() {
	brandt := "Odalys Brandt"
	t.do("2026-02-02", "survey", t.invoice(brandt, "", "2026-02-02", t.line("Survey and drawings", "1", 40000, "STD", false)))
	t.at("2026-02-26", "survey paid", func() (posting.Command, error) {
		return t.receipt(brandt, "2026-02-26", 48000, "TRF 3310", "survey"), nil
	})
	t.do("2026-06-09", "helical 1", t.deposit(brandt, "212", "2026-06-09", 250000, "TRF 881"))
	t.do("2026-08-04", "helical 2", t.deposit(brandt, "212", "2026-08-04", 150000, "TRF 1204"))
	t.at("2026-10-03", "brandt on account", func() (posting.Command, error) {
		return t.receipt(brandt, "2026-10-03", 100000, "TRF 5520"), nil
	})
	balusters := t.line("Turned balusters, oak", "36", 2500, "STD", true)
	balusters.DiscountPercent = decimal.New(10, 0)
	t.do("2026-10-15", "helical final", t.invoice(brandt, "212", "2026-10-15", t.line("Oak helical stair, 14 treads, made and fitted", "1", 485000, "STD", false), balusters,
		t.line("Curved handrail, oak, oiled", "1", 54000, "STD", true)))
	t.do("2026-11-02", "handrail", t.invoice(brandt, "219", "2026-11-02", t.line("Handrail repair, landing", "1", 28182, "RED", false)))

	hotel := "Pemberlow Hotel"
	t.do("2026-10-01", "bar steps", t.invoice(hotel, "203", "2026-10-01", t.line("Bar steps, two, ash", "1", 107000, "STD", false)))
	t.at("2026-10-28", "bar steps paid", func() (posting.Command, error) {
		return t.receipt(hotel, "2026-10-28", 128400, "PH 10-28 STEPS", "bar steps"), nil
	})
	t.at("2026-11-17", "bar steps paid twice", func() (posting.Command, error) {
		return t.receipt(hotel, "2026-11-17", 128400, "PH 10-28 STEPS", "bar steps"), nil
	})

	finn := "Harrow & Finn Builders"
	t.do("2026-06-25", "stair B", t.invoice(finn, "188", "2026-06-25", t.line("Stair B, first flight", "1", 150000, "STD", false)))
	t.at("2026-07-30", "stair B part", func() (posting.Command, error) {
		return t.receipt(finn, "2026-07-30", 72000, "HF 88", "stair B"), nil
	})

	t.do("2026-07-10", "common house deposit", t.deposit("Lattice House Co-housing", "205", "2026-07-10", 960000, "STAIR DEPOSIT"))
	t.do("2026-10-30", "common house 1", t.invoice("Lattice House Co-housing", "205", "2026-10-30", t.line("Common house stair, strings and treads on the bench", "1", 1620000, "STD", false)))
	t.do("2026-11-12", "attic deposit", t.deposit("Bastien Aldergrove", "216", "2026-11-12", 200000, "ATTIC"))
	t.moneyCases()
	t.mistakes()
}

// smallWork is what comes between the jobs: repairs and spare parts, billed to
// whoever asked and mostly paid within the month.
func (t *teller) smallWork() {
	work := []struct {
		text, code string
		price      money.Amount
		material   bool
	}{{"Squeaking treads, put right", "RED", 18500, false}, {"Spare balusters, turned", "STD", 2500, true}, {"Handrail, sanded and oiled", "RED", 31000, false},
		{"Survey and drawings", "STD", 48000, false}, {"Loose newel post, refitted", "RED", 14200, false}}
	for n := range 18 {
		who, w := customers[(n*5+3)%len(customers)].name, work[n%len(work)]
		d := day.Day("2025-06-20").Add(n * 27)
		name := fmt.Sprintf("small %d", n)
		quantity := "1"
		if w.material {
			quantity = "6"
		}
		t.do(d, name, t.invoice(who, "", d, t.line(w.text, quantity, w.price, w.code, w.material)))
		paid := d.Add(12 + t.rnd.IntN(16))
		t.at(paid, name+" paid", func() (posting.Command, error) {
			open, err := t.open(name)
			if err != nil || open == 0 {
				return nil, err
			}
			return t.receipt(who, paid, open, "", name), nil
		})
	}
}

// mistakes are what went wrong and was put right.
func (t *teller) mistakes() {
	t.do("2026-09-08", "wrong job", t.invoice("Corvane Interiors", "195", "2026-09-08", t.line("Mezzanine stair, drawings", "1", 64000, "STD", false)))
	t.at("2026-09-09", "wrong job reversed", func() (posting.Command, error) {
		facts, err := t.book.Read(context.Background()).Facts(t.book.Today())
		if err != nil {
			return nil, err
		}
		item, _ := facts.Item(t.items["wrong job"])
		return settling.Reversal{PaperID: item.PaperID, Day: "2026-09-09", Reason: "Billed to job 195; it belongs to 207."}, facts.Err()
	})
	t.do("2026-09-09", "right job", t.invoice("Corvane Interiors", "207", "2026-09-09", t.line("Mezzanine stair, drawings", "1", 64000, "STD", false)))
}

// everyday is what else the jobs brought: deposits, stages, payments on time
// and late.
func (t *teller) everyday() {
	underWay := map[string]bool{"198": true, "207": true, "210": true, "214": true}
	told := map[string]bool{"212": true, "219": true, "188": true, "205": true, "216": true, "215": true, "217": true, "218": true, "209": true}
	for n, j := range jobs {
		if told[j.number] {
			continue
		}
		begin := day.Day("2025-05-12").Add(n * 26)
		gross := j.sum * 12 / 10
		name := func(what string) string { return j.number + " " + what }
		if n%3 != 1 {
			t.do(begin, name("deposit"), t.deposit(j.customer, j.number, begin, gross*3/10/10000*10000, "JOB "+j.number))
		}
		half := j.sum / 2
		stages := []day.Day{begin.Add(38), begin.Add(83)}
		if underWay[j.number] {
			stages = stages[:1]
		}
		for stage, d := range stages {
			t.stage(j.customer, j.number, d, half, stage, n)
		}
	}
}

func (t *teller) stage(customer, job string, d day.Day, net money.Amount, stage, n int) {
	materials := net * 3 / 10 / 100 * 100
	text := []string{"made", "fitted and finished"}[stage]
	v := t.invoice(customer, job, d, t.line("Stair "+text, "1", net-materials, "STD", false), t.line("Timber and fittings", "1", materials, "STD", true))
	name := fmt.Sprintf("%s stage %d", job, stage+1)
	deposit := job + " deposit"
	t.at(d, name, func() (posting.Command, error) {
		if open, err := t.open(deposit); err != nil || (stage == 0 && open > 0 && n%2 == 0) {
			v.SetAgainst = []billing.Use{{Credit: t.items[deposit], Amount: open}}
			return v, err
		}
		return v, nil
	})
	paid := d.Add(21 + t.rnd.IntN(32))
	part := t.rnd.IntN(6) == 0 && paid > "2026-06-01"
	t.at(paid, name+" paid", func() (posting.Command, error) {
		if open, err := t.open(deposit); err != nil || open > 0 {
			left, err2 := t.open(name)
			if err != nil || err2 != nil || left == 0 {
				return nil, err2
			}
			return settling.SetAgainst{Day: paid, Pairs: []settling.Pair{{Debit: t.items[name], Credit: t.items[deposit], Amount: min(open, left)}}}, nil
		}
		return nil, nil
	})
	t.at(paid, name+" paid", func() (posting.Command, error) {
		open, err := t.open(name)
		if part {
			open = open * 6 / 10 / 1000 * 1000
		}
		if err != nil || open == 0 {
			return nil, err
		}
		return t.receipt(customer, paid, open, fmt.Sprintf("%s/%d", job, stage+1), name), nil
	})
}

// drafts are papers that were begun.
func (t *teller) drafts(ctx context.Context) error {
	body, err := json.Marshal(map[string]any{
		"customer": t.parties["Dunmarrow Builders"], "job": t.jobs["198"], "day": string(Today), "reference": "Order 77-B",
		"lines": []map[string]any{{"text": "Flights 4 and 5, fitted", "quantity": "2", "unitPrice": "6000", "taxCode": t.codes["STD"]}},
	})
	if err != nil {
		return err
	}
	d := store.Draft{Kind: posting.Invoice, Body: string(body)}
	return t.book.SaveDraft(ctx, &d, t.invoice("Dunmarrow Builders", "198", Today, t.line("Flights 4 and 5, fitted", "2", 600000, "STD", false)))
}
