package web

import (
	"context"

	"cleantally/core/day"
	"cleantally/core/money"
	"cleantally/core/posting"

	"github.com/danielgtaylor/huma/v2"
	"github.com/shopspring/decimal"
)

// A parser reads amounts and decimals of a body and collects refusals, so that
// one wrong figure does not hide the others.
type parser struct {
	cur      money.Currency
	refusals posting.Refusals
}

// amount reads an amount as the API writes it; "" is nil.
func (p *parser) amount(field, text string) money.Amount {
	if text == "" {
		return 0
	}
	a, err := p.cur.Parse(text)
	if err != nil {
		p.refusals = append(p.refusals, posting.Notice{Field: field, Rule: "no amount", Text: sentence(err)})
	}
	return a
}

// day reads a day; "" is none.
func (p *parser) day(field, text string) day.Day {
	if text == "" {
		return ""
	}
	d, err := day.Parse(text)
	if err != nil {
		p.refusals = append(p.refusals, posting.Notice{Field: field, Rule: "no such day", Text: sentence(err)})
	}
	return d
}

// item reads the ID of an open item; what cannot be one is none.
func (p *parser) item(id int64) posting.ItemRef { return posting.ItemRef(max(id, 0)) }

// decimal reads a quantity, price or percentage; "" is nil.
func (p *parser) decimal(field, text string, places int32) decimal.Decimal {
	if text == "" {
		return decimal.Zero
	}
	d, err := money.UnderstandDecimal(text, places, money.PointMarks)
	if err != nil {
		p.refusals = append(p.refusals, posting.Notice{Field: field, Rule: "no number", Text: sentence(err)})
	}
	return d
}

// parser returns a parser for the firm's currency.
func (s *Server) parser(ctx context.Context) (*parser, error) {
	cur, err := s.book.Currency(ctx)
	return &parser{cur: cur}, problem(err)
}

// dec writes a decimal without trailing noughts.
func dec(d decimal.Decimal) string { return d.String() }

// percentOrNothing writes a percentage, "" for nil.
func percentOrNothing(d decimal.Decimal) string {
	if d.IsZero() {
		return ""
	}
	return d.String()
}

var _ huma.StatusError = (*Problem)(nil)
