package web

import (
	"context"
	"fmt"

	"cleantally/core/day"
	"cleantally/core/money"
	"cleantally/core/posting"
	"cleantally/store"

	"github.com/danielgtaylor/huma/v2"
	"github.com/shopspring/decimal"
)

// A parser reads amounts and decimals of a body and collects refusals, so that
// one wrong figure does not hide the others.
type parser struct {
	cur      money.Currency // the firm's
	refusals posting.Refusals
	facts    *store.Facts // of a firm that has other currencies; nil where there is none
}

// in is the currency with a code, as people of the firm read it; the firm's own
// where that says none.
func in(cur money.Currency, code string) money.Currency { return cur.In(code) }

// ofBank is the currency of a bank account.
func (p *parser) ofBank(id int64) string {
	if p.facts == nil {
		return ""
	}
	b, _ := p.facts.BankAccount(id)
	return b.Currency
}

// ofAccount is the currency of a bank account, by its ledger account.
func (p *parser) ofAccount(id int64) string {
	if p.facts == nil {
		return ""
	}
	b, _ := p.facts.BankOf(id)
	return b.Currency
}

// uses tells whether another currency is in use.
func (p *parser) uses(code string) bool { return p.facts != nil && p.facts.CurrencyUsed(code) }

// other is the code of another currency than the firm's; "" for that.
func (p *parser) other(code string) string {
	if code == p.cur.Code {
		return ""
	}
	return code
}

// ofItem is the currency of an open item.
func (p *parser) ofItem(id int64) string {
	if p.facts == nil {
		return ""
	}
	i, _ := p.facts.Item(p.item(id))
	return i.Currency
}

// itemOr is the currency of an open item by its code, also where that is the
// firm's.
func (p *parser) itemOr(id int64) string {
	if p.facts == nil {
		return ""
	}
	if code := p.ofItem(id); code != "" {
		return code
	}
	return p.facts.Currency().Code
}

// ofPaper is the currency of a posted paper.
func (p *parser) ofPaper(id int64) string {
	if p.facts == nil {
		return ""
	}
	of, _ := p.facts.Paper(id)
	return of.Currency
}

// begin settles in which currency a new paper is where that is not said, and
// reads what follows in it: that of the paper that it follows, else that of
// the customer.
func (p *parser) begin(c *InCurrency, follows, partyID int64) func() {
	if c.Currency == "" && p.facts != nil {
		if of, ok := p.facts.Paper(follows); ok {
			c.Currency = of.Currency
		} else {
			c.Currency = p.ofParty(partyID)
		}
	}
	return p.in(c.Currency)
}

// ofParty is the currency that a customer's papers begin in.
func (p *parser) ofParty(id int64) string {
	if p.facts == nil {
		return ""
	}
	who, _ := p.facts.Party(id)
	return who.Currency
}

// in reads what follows in a currency, until what it returns is called.
func (p *parser) in(code string) func() {
	before := p.cur
	p.cur = in(before, code)
	return func() { p.cur = before }
}

// amountIn reads an amount of a currency.
func (p *parser) amountIn(code, field, text string) money.Amount {
	defer p.in(code)()
	return p.amount(field, text)
}

// rate reads what one unit of a currency is worth; "" is none, and nil is no
// rate.
func (p *parser) rate(field, text string) decimal.Decimal {
	before := len(p.refusals)
	d := p.decimal(field, text, posting.RatePlaces)
	if text != "" && d.IsZero() && len(p.refusals) == before {
		p.refusals = append(p.refusals, posting.Notice{Field: field, Rule: "out of bounds", Text: fmt.Sprintf("A rate is above nil and below %d. Type it, or leave it empty for that of the day.", posting.RateLimit)})
	}
	return d
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
	f, err := s.book.Read(ctx).Facts(s.book.Today())
	if err != nil {
		return nil, problem(err)
	}
	p := &parser{cur: f.Currency()}
	if f.Abroad() {
		p.facts = f
	}
	return p, nil
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
