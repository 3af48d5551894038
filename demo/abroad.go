package demo

import (
	"context"
	"fmt"

	"cleantally/core/billing"
	"cleantally/core/closing"
	"cleantally/core/day"
	"cleantally/core/ledger"
	"cleantally/core/master"
	"cleantally/core/money"
	"cleantally/core/posting"
	"cleantally/core/settling"

	"github.com/shopspring/decimal"
)

// dollars is the account for those who pay in them.
const dollars = 5

const calder = "Calder Point Library"

// abroad is the customer who is billed in dollars, its account, and what a dollar
// was worth: as the file of rates tells it, every Monday.
func (t *teller) abroad(ctx context.Context) error {
	if err := t.book.SaveCurrency(ctx, 1, &master.Currency{Code: "USD"}); err != nil {
		return err
	}
	if err := t.book.SaveBankAccount(ctx, 1, &ledger.BankAccount{Name: "Dollar account", IBAN: madeUpIBAN(400 + dollars), Currency: "USD"}); err != nil {
		return err
	}
	c := master.Party{Name: calder, Country: "XZ", Contact: "Imre Salloway", Town: "Calder Point", Address: "Reading Rooms\n31 Cape Road\nCalder Point", Phone: "099 555 014", Email: "works@calder-point.example", IsCustomer: true, Currency: "USD"}
	if err := t.book.SaveCustomer(ctx, 1, &c); err != nil {
		return err
	}
	t.parties[calder] = c.ID
	return nil
}

// inDollars is a stair for a library abroad: a deposit, an invoice that takes it
// and is paid in part at another rate, the revaluation at the end of the month,
// and a second invoice. Its numbers are a row of their own.
func (t *teller) inDollars() {
	for n, d := 0, day.Day("2026-06-01"); d <= Today; n, d = n+1, d.Add(7) {
		t.at(d, fmt.Sprintf("rate %d", n), func() (posting.Command, error) {
			file := fmt.Sprintf("Currency;Date;Rate\nUSD;%s;%s\n", d, decimal.New(int64(9180+(n*37)%140-(n*n)%90), -4))
			_, err := t.book.ImportRates(context.Background(), 1, "rates of the week.csv", []byte(file), false)
			return nil, err
		})
	}
	in := func(d day.Day, a money.Amount, reference string) settling.Receipt {
		return settling.Receipt{PartyID: t.parties[calder], Day: d, Arrived: a, BankAccountID: dollars, Method: posting.ByTransfer, Reference: reference, OnAccount: true}
	}
	held := t.deposit(calder, "", "2026-07-14", 300000, "READING ROOM STAIR")
	held.BankAccountID = dollars
	t.do("2026-07-14", "library deposit", held)
	t.at("2026-10-06", "library stair", func() (posting.Command, error) {
		v := t.invoice(calder, "", "2026-10-06", t.line("Reading room stair, ash, packed for the crossing", "1", 780000, "NIL", false), t.line("Crates and packing", "1", 60000, "NIL", true))
		v.Number, v.Currency, v.Due = "X26-0001", "USD", "2026-11-05"
		v.SetAgainst = []billing.Use{{Credit: t.items["library deposit"], Amount: 300000}}
		return v, nil
	})
	t.do("2026-10-31", "revalued", closing.Revalue{Day: "2026-10-31"})
	t.at("2026-11-06", "library paid a part", func() (posting.Command, error) {
		r := in("2026-11-06", 240000, "X26-0001 FIRST PART")
		r.Placements = []settling.Placement{{Debit: t.items["library stair"], Amount: 240000}}
		return r, nil
	})
	t.at("2026-11-16", "library rail", func() (posting.Command, error) {
		v := t.invoice(calder, "", "2026-11-16", t.line("Handrail, bronze brackets", "1", 125000, "NIL", true))
		v.Number, v.Currency, v.Due = "X26-0002", "USD", "2026-12-16"
		return v, nil
	})
}
