package web

import (
	"context"
	"fmt"
	"net/http"
	"strconv"
	"strings"

	"cleantally/core/day"
	"cleantally/core/ledger"
	"cleantally/core/money"
	"cleantally/core/posting"
	"cleantally/formats"
	"cleantally/store"

	"github.com/danielgtaylor/huma/v2"
)

// Understood is what a field's text was understood as.
type Understood struct {
	Value string `json:"value" doc:"In the form of the API; empty when it was not understood"`
	Shown string `json:"shown" doc:"For people"`
	Error string `json:"error" doc:"Why it was not understood"`
}

// Pasted is rows of a spreadsheet, to be understood cell by cell.
type Pasted struct {
	Kinds []string   `json:"kinds" enum:"text,amount,price,quantity,percent,day,account" maxItems:"20" doc:"What each column holds"`
	Rows  [][]string `json:"rows"`
	CSV   string     `json:"csv,omitempty" maxLength:"1000000" doc:"A file in place of rows; a first row without a figure names its columns"`
}

// mostPasted is how many lines a paper has at most.
const mostPasted = 500

func (s *Server) registerUnderstand() {
	type understandInput struct {
		Kind  string `query:"kind" enum:"amount,price,quantity,percent,rate,day,due" required:"true"`
		Text  string `query:"text" maxLength:"200"`
		Paper string `query:"paper" doc:"The paper's day, from which a due day counts"`
		In    string `query:"currency" maxLength:"3" doc:"Of an amount; empty: the firm's own"`
	}
	huma.Register(s.api, describe("understand", "GET", "/api/v1/understand", "What a field's text means: a sum, a day in words"), func(ctx context.Context, i *understandInput) (*struct{ Body Understood }, error) {
		p, err := s.parser(ctx)
		if err != nil {
			return nil, err
		}
		out := &struct{ Body Understood }{}
		out.Body, err = s.understand(i.Kind, i.Text, i.Paper, in(p.cur, i.In))
		if err != nil {
			out.Body.Error = sentence(err)
		}
		return out, nil
	})
	huma.Register(s.api, describe("understand-rows", "POST", "/api/v1/understand", "What rows of a spreadsheet mean; what means nothing comes back as it is"), s.understandRows)
}

func (s *Server) understandRows(ctx context.Context, in *struct{ Body Pasted }) (*struct{ Body Pasted }, error) {
	if in.Body.CSV != "" {
		table, err := formats.ReadCSV(strings.NewReader(in.Body.CSV))
		if err != nil {
			return nil, plain(http.StatusUnprocessableEntity, sentence(err))
		}
		in.Body.Rows = table.Rows
		if hasFigure(in.Body.Kinds, table.Header) {
			in.Body.Rows = append([][]string{table.Header}, table.Rows...)
		}
	}
	if n := len(in.Body.Rows); n > mostPasted {
		return nil, plain(http.StatusUnprocessableEntity, fmt.Sprintf("A paper has at most %d lines, and these are %d. Nothing was pasted: paste them in parts, onto several papers.", mostPasted, n))
	}
	p, err := s.parser(ctx)
	if err != nil {
		return nil, err
	}
	accounts, err := store.All[ledger.Account](s.book.Read(ctx), "number")
	if err != nil {
		return nil, problem(err)
	}
	out := &struct{ Body Pasted }{Pasted{Kinds: in.Body.Kinds, Rows: make([][]string, len(in.Body.Rows))}}
	for i, cells := range in.Body.Rows {
		row := make([]string, len(in.Body.Kinds))
		for j, kind := range in.Body.Kinds {
			if j < len(cells) {
				row[j] = s.understandCell(kind, cells[j], p.cur, accounts)
			}
		}
		out.Body.Rows[i] = row
	}
	return out, nil
}

// hasFigure tells whether a row holds a figure where there should be one.
func hasFigure(kinds, cells []string) bool {
	for n, kind := range kinds {
		if kind != "text" && kind != "account" && n < len(cells) && strings.ContainsAny(cells[n], "0123456789") {
			return true
		}
	}
	return false
}

// understandCell is what a cell means, or the cell as it is.
func (s *Server) understandCell(kind, text string, cur money.Currency, accounts []ledger.Account) string {
	text = strings.TrimSpace(text)
	switch {
	case text == "" || kind == "text":
		return text
	case kind == "account":
		for _, a := range accounts {
			if number, _, _ := strings.Cut(text, " "); number == a.Number || strings.EqualFold(text, a.Name) {
				return strconv.FormatInt(a.ID, 10)
			}
		}
		return ""
	}
	if u, err := s.understand(kind, strings.TrimSuffix(text, "%"), "", cur); err == nil {
		return u.Value
	}
	return text
}

func (s *Server) understand(kind, text, paperDay string, cur money.Currency) (Understood, error) {
	switch kind {
	case "amount":
		a, err := cur.Understand(text)
		if err != nil {
			return Understood{}, err
		}
		return Understood{Value: cur.Format(a), Shown: cur.Show(a)}, nil
	case "price", "quantity", "percent", "rate":
		places := int32(pricePlaces)
		switch kind {
		case "percent":
			places = percentPlaces
		case "rate":
			places = posting.RatePlaces
		}
		d, err := money.UnderstandDecimal(text, places, cur.Marks)
		if err != nil {
			return Understood{}, err
		}
		value := dec(d)
		if kind == "price" {
			value = cur.Price(d)
		}
		return Understood{Value: value, Shown: cur.Marks.Show(value)}, nil
	}
	paper, err := day.Parse(paperDay)
	if err != nil {
		paper = s.book.Today()
	}
	firm, err := s.book.Read(context.Background()).Firm()
	if err != nil {
		return Understood{}, err
	}
	style := firm.DateStyle
	read := func() (day.Day, error) { return day.Understand(text, s.book.Today(), style) }
	if kind == "due" {
		read = func() (day.Day, error) { return day.UnderstandDue(text, paper, s.book.Today(), style) }
	}
	d, err := read()
	if err != nil {
		return Understood{}, err
	}
	return Understood{Value: string(d), Shown: d.Show()}, nil
}
