package web

import (
	"context"

	"cleantally/core/day"
	"cleantally/core/money"
	"cleantally/store"
)

// DepositRow is a deposit in its register: what became of it as of a day.
type DepositRow struct {
	ID          int64  `json:"id"`
	PaperID     int64  `json:"paperId"`
	Number      string `json:"number"`
	CustomerID  int64  `json:"customerId"`
	Customer    string `json:"customer"`
	JobID       int64  `json:"jobId"`
	Job         string `json:"job"`
	Day         string `json:"day"`
	Reference   string `json:"reference"`
	Amount      string `json:"amount"`
	SetAgainst  string `json:"setAgainst"`
	Refunded    string `json:"refunded"`
	Forfeited   string `json:"forfeited"`
	Transferred string `json:"transferred"`
	TakenBack   string `json:"takenBack" doc:"Reversed, or returned by the bank"`
	Held        string `json:"held"`
	TaxInside   string `json:"taxInside" doc:"Of what is held"`
}

func (s *Server) registerDeposits() {
	type input struct {
		ListInput
		All bool `query:"all" doc:"Those too that are used up"`
	}
	type row = DepositRow
	figure := func(title string, cell func(row) string) col[row] { return col[row]{title, cell, true} }
	lister[input, store.DepositRow, row]{
		id: "deposit-register", path: "/api/v1/deposit-register", summary: "What became of each deposit, as of a day",
		head: func(in *input) ListInput { return in.ListInput },
		find: func(ctx context.Context, in *input, q store.Query) (store.Page[store.DepositRow], error) {
			d, err := s.asOf(in.AsOf)
			if err != nil {
				return store.Page[store.DepositRow]{}, err
			}
			return s.book.Read(ctx).DepositRegister(d, in.All, in.Search, q)
		},
		row: func(r store.DepositRow, _ day.Day, cur money.Currency) row {
			f := cur.Format
			return row{r.ID, r.PaperID, r.Number, r.PartyID, r.Party, r.JobID, r.Job, string(r.Day), r.Reference, f(r.Amount), f(r.SetAgainst), f(r.Refunded), f(r.Forfeited),
				f(r.Transferred), f(r.TakenBack), f(r.Held), f(r.TaxInside)}
		},
		key:  func(r row) int64 { return r.ID },
		sums: []string{"amount", "setAgainst", "refunded", "forfeited", "transferred", "takenBack", "held", "taxInside"},
		columns: []col[row]{{"Number", func(r row) string { return r.Number }, false}, {"Day", func(r row) string { return r.Day }, false}, {"Customer", func(r row) string { return r.Customer }, false},
			{"Job", func(r row) string { return r.Job }, false}, {"Reference", func(r row) string { return r.Reference }, false}, figure("Amount", func(r row) string { return r.Amount }),
			figure("Set against", func(r row) string { return r.SetAgainst }), figure("Refunded", func(r row) string { return r.Refunded }), figure("Forfeited", func(r row) string { return r.Forfeited }),
			figure("Transferred", func(r row) string { return r.Transferred }), figure("Taken back", func(r row) string { return r.TakenBack }), figure("Held", func(r row) string { return r.Held }),
			figure("Tax inside", func(r row) string { return r.TaxInside })},
	}.register(s)
}
