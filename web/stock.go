package web

import (
	"context"

	"cleantally/core/day"
	"cleantally/core/master"
	"cleantally/core/money"
	"cleantally/core/posting"
	"cleantally/store"

	"github.com/danielgtaylor/huma/v2"
)

// StockRow is an article that is kept in stock, with what is there of it.
type StockRow struct {
	ID       int64  `json:"id"`
	Code     string `json:"code"`
	Name     string `json:"name"`
	Unit     string `json:"unit"`
	Serial   bool   `json:"serial" doc:"Whether its pieces bear numbers"`
	Quantity string `json:"quantity"`
	Average  string `json:"average" doc:"What a piece cost; empty where none is there"`
	Value    string `json:"value"`
	ToCome   string `json:"toCome" doc:"Ordered from suppliers and not received"`
	ToGo     string `json:"toGo" doc:"Ordered by customers and not delivered"`
}

// StockMove is goods that came or left, with what was there after it.
type StockMove struct {
	ID       int64  `json:"id"`
	Day      string `json:"day"`
	PaperID  int64  `json:"paperId"`
	Kind     string `json:"kind"`
	Number   string `json:"number"`
	Party    string `json:"party"`
	Title    string `json:"title"`
	Quantity string `json:"quantity"`
	Value    string `json:"value"`
	There    string `json:"there"`
	Worth    string `json:"worth"`
	Serials  string `json:"serials"`
}

// Stock is an article's register.
type Stock struct {
	StockRow
	Moves   []StockMove `json:"moves" doc:"The newest first"`
	Serials []string    `json:"serials" doc:"Of the pieces that are there today"`
}

func average(q posting.Millionths, value money.Amount, cur money.Currency) string {
	if q <= 0 {
		return ""
	}
	return cur.Price(cur.Decimal(value).DivRound(q.Decimal(), 4))
}

func stockRow(r store.StockRow, cur money.Currency) StockRow {
	return StockRow{r.ID, r.Code, r.Name, r.Unit, r.Serial, dec(r.Quantity.Decimal()), average(r.Quantity, r.Value, cur), cur.Format(r.Value), dec(r.ToCome.Decimal()), dec(r.ToGo.Decimal())}
}

// mostMoves is how many moves of an article are told.
const mostMoves = 500

func (s *Server) stockOf(ctx context.Context, id int64, asOf string) (*struct{ Body Stock }, error) {
	p, d, err := s.lookingBack(ctx, asOf)
	if err != nil {
		return nil, err
	}
	r := s.book.Read(ctx)
	page, err := r.StockRows("", store.Query{IDs: []int64{id}}, d)
	if err != nil {
		return nil, problem(err)
	}
	out := &struct{ Body Stock }{Stock{Moves: []StockMove{}, Serials: []string{}}}
	if len(page.Rows) == 0 {
		a, ok, err := store.Find[master.Article](r, id)
		if err != nil || !ok {
			return nil, orNotFound(err)
		}
		page.Rows = append(page.Rows, store.StockRow{ID: a.ID, Code: a.Code, Name: a.Name, Unit: a.Unit, Serial: a.Serial})
	}
	out.Body.StockRow = stockRow(page.Rows[0], p.cur)
	moves, err := r.MovesOfArticle(id, d, mostMoves)
	if err != nil {
		return nil, problem(err)
	}
	for _, m := range moves {
		out.Body.Moves = append(out.Body.Moves, StockMove{m.ID, string(m.Day), m.PaperID, m.Kind, m.Number, m.Party, m.Title, dec(m.Quantity.Decimal()), p.cur.Format(m.Value), dec(m.There.Decimal()), p.cur.Format(m.Worth), m.Serials})
	}
	if page.Rows[0].Serial {
		serials, err := r.SerialsThere(id)
		if err != nil {
			return nil, problem(err)
		}
		out.Body.Serials = append(out.Body.Serials, serials...)
	}
	return out, nil
}

func (s *Server) registerStock() {
	type input struct{ ListInput }
	type row = StockRow
	lister[input, store.StockRow, row]{
		id: "stock", path: "/api/v1/stock", summary: "What is kept in stock, with quantity and average cost",
		head: func(in *input) ListInput { return in.ListInput },
		find: func(ctx context.Context, in *input, q store.Query) (store.Page[store.StockRow], error) {
			d, err := s.asOf(in.AsOf)
			if err != nil {
				return store.Page[store.StockRow]{}, err
			}
			return s.book.Read(ctx).StockRows(in.Search, q, d)
		},
		row:  func(r store.StockRow, _ day.Day, cur money.Currency) row { return stockRow(r, cur) },
		key:  func(r row) int64 { return r.ID },
		sums: []string{"value"},
		columns: []col[row]{{"Article", func(r row) string { return r.Code }, false}, {"Name", func(r row) string { return r.Name }, false}, {"Quantity", func(r row) string { return r.Quantity }, true}, {"Unit", func(r row) string { return r.Unit }, false},
			{"Average cost", func(r row) string { return r.Average }, true}, {"Value", func(r row) string { return r.Value }, true}, {"To come", func(r row) string { return r.ToCome }, true}, {"To go", func(r row) string { return r.ToGo }, true}},
	}.register(s)
	huma.Register(s.api, describe("stock-of", "GET", "/api/v1/stock/{id}", "An article's register"), func(ctx context.Context, in *idOnInput) (*struct{ Body Stock }, error) {
		return s.stockOf(ctx, in.ID, in.AsOf)
	})
}
