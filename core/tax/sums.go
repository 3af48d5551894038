package tax

import (
	"errors"

	"cleantally/core/money"

	"github.com/shopspring/decimal"
)

// Line is what a line of a paper says before anything is computed. Exactly one
// of the discounts is set, or neither.
type Line struct {
	Quantity        decimal.Decimal
	UnitPrice       decimal.Decimal
	DiscountPercent decimal.Decimal
	Discount        money.Amount // an amount off the line, in minor units
	Code            Code
	Percent         decimal.Decimal // the rate of Code on the paper's day
	Apart           bool            // takes no part in the paper discount
	Deducts         bool            // takes off what was billed in advance: Net and Tax, below nil, as they were billed
	Given           bool            // its sum is Net, in place of quantity × price: what a part of an order's line comes to
	Net, Tax        money.Amount
}

// Terms are what the paper as a whole says about its sums.
type Terms struct {
	Currency        money.Currency
	Includes        bool // prices include tax
	DiscountPercent decimal.Decimal
	Discount        money.Amount // a paper discount as an amount
	RoundTo         money.Amount // the step that the total is rounded to; nil for none
}

// LineSums is what comes out for one line, in minor units. Net and Tax are
// after both discounts.
type LineSums struct {
	Before money.Amount // after the line's own discount, before the paper's
	Share  money.Amount // its share of the paper discount
	Net    money.Amount
	Tax    money.Amount
}

// CodeSums is the tax of one code over the paper.
type CodeSums struct {
	Code    Code
	Percent decimal.Decimal
	Net     money.Amount
	Tax     money.Amount
	Buyer   money.Amount // the tax that whoever gets the paper accounts for
}

// Sums is what a paper comes to.
type Sums struct {
	Lines    []LineSums
	Codes    []CodeSums
	Discount money.Amount // the paper discount, taken off before tax
	Net      money.Amount
	Tax      money.Amount
	Rounding money.Amount // the rounding line: total − net − tax
	Total    money.Amount
}

// Errors of Compute.
var (
	ErrDiscountTooLarge = errors.New("the discount is more than what it is taken off")
	ErrTooLarge         = errors.New("the paper comes to more than the program can hold")
)

var hundred = decimal.New(100, 0)

// LineBefore returns round(quantity × unit price × (1 − discount %)), or less
// the discount amount; ErrTooLarge beyond the limit.
func LineBefore(l Line, c money.Currency) (money.Amount, error) {
	v := l.Quantity.Mul(l.UnitPrice)
	if !l.DiscountPercent.IsZero() {
		v = money.Percent(v, hundred.Sub(l.DiscountPercent))
	}
	before, err := c.Rounded(v)
	if err != nil {
		return 0, ErrTooLarge
	}
	return before - l.Discount, nil
}

// A LineError is why one line, counted from 0, has no sum.
type LineError struct {
	Line int
	Err  error
}

func (e LineError) Error() string { return e.Err.Error() }

// Unwrap returns what is wrong.
func (e LineError) Unwrap() error { return e.Err }

// Compute returns the sums of a paper, or ErrDiscountTooLarge or ErrTooLarge,
// in a LineError where one line is to blame. A line may be below nil.
func Compute(lines []Line, t Terms) (Sums, error) {
	s := Sums{Lines: make([]LineSums, len(lines))}
	var all money.Amount
	taking := make([]money.Amount, len(lines))
	for i, l := range lines {
		if l.Deducts {
			s.Lines[i] = LineSums{Before: l.Net, Net: l.Net, Tax: l.Tax}
			continue
		}
		before, err := LineBefore(l, t.Currency)
		if l.Given {
			before, err = l.Net, nil
		}
		if err != nil {
			return s, LineError{i, err}
		}
		if before < 0 && l.Discount > 0 {
			return s, LineError{i, ErrDiscountTooLarge}
		}
		s.Lines[i].Before = before
		if !l.Apart {
			taking[i] = before
			all += max(before, 0)
		}
	}
	if err := shareDiscount(&s, t, taking, all); err != nil {
		return s, err
	}
	for i := range s.Lines {
		if !lines[i].Deducts {
			s.Lines[i].Net = s.Lines[i].Before - s.Lines[i].Share
		}
	}
	if s.sum(lines, t); s.Net.Abs() > money.Limit {
		return s, ErrTooLarge
	}
	s.Total = s.Net + s.Tax
	if s.Total.Abs() > money.Limit {
		return s, ErrTooLarge
	}
	if t.RoundTo > 0 {
		rounded := roundToStep(s.Total, t.RoundTo)
		s.Rounding, s.Total = rounded-s.Total, rounded
	}
	return s, nil
}

func shareDiscount(s *Sums, t Terms, taking []money.Amount, all money.Amount) error {
	s.Discount = t.Discount
	if !t.DiscountPercent.IsZero() {
		s.Discount = t.Currency.Round(money.Percent(t.Currency.Decimal(all), t.DiscountPercent))
	}
	if s.Discount == 0 {
		return nil
	}
	if s.Discount > all {
		return ErrDiscountTooLarge
	}
	shares, err := money.Share(s.Discount, taking)
	if err != nil {
		return err
	}
	for i, share := range shares {
		s.Lines[i].Share = share
	}
	return nil
}

// sum taxes each code over the paper once and shares the tax over that code's
// lines by their nets. Where prices include tax, what came in as net is gross
// until here. Deductions come as they were billed.
func (s *Sums) sum(lines []Line, t Terms) {
	var order []int64
	groups := map[int64][]int{}
	for i, l := range lines {
		if groups[l.Code.ID] == nil {
			order = append(order, l.Code.ID)
		}
		groups[l.Code.ID] = append(groups[l.Code.ID], i)
	}
	for _, id := range order {
		s.taxCode(lines, groups[id], t)
	}
}

func (s *Sums) taxCode(lines []Line, group []int, t Terms) {
	first := lines[group[0]]
	sum := CodeSums{Code: first.Code, Percent: first.Percent}
	weights := make([]money.Amount, len(lines))
	for _, i := range group {
		if !lines[i].Deducts {
			sum.Net += s.Lines[i].Net
			weights[i] = s.Lines[i].Net
		}
	}
	if first.Code.Kind == CustomerAccountsIt {
		sum.Percent = decimal.Zero
		sum.Buyer = t.Currency.Round(money.Percent(t.Currency.Decimal(sum.Net), first.Percent))
	}
	sum.Tax = t.Of(sum.Net, sum.Percent)
	if sum.Tax < 0 { // more was taken off than billed: the lines below nil bear it
		for i := range weights {
			weights[i] = -weights[i]
		}
	}
	if shares, err := money.Share(sum.Tax, weights); err == nil {
		for i, share := range shares {
			s.Lines[i].Tax += share
			if t.Includes {
				s.Lines[i].Net -= share
			}
		}
	}
	if t.Includes {
		sum.Net -= sum.Tax
	}
	for _, i := range group {
		if lines[i].Deducts {
			sum.Net += lines[i].Net
			sum.Tax += lines[i].Tax
		}
	}
	s.Codes = append(s.Codes, sum)
	s.Net += sum.Net
	s.Tax += sum.Tax
}

// Of returns the tax of a sum, net or with the tax inside.
func (t Terms) Of(sum money.Amount, percent decimal.Decimal) money.Amount {
	if t.Includes {
		return Inside(sum, percent, t.Currency)
	}
	return t.Currency.Round(money.Percent(t.Currency.Decimal(sum), percent))
}

// Inside returns the tax inside a gross amount: gross − round(gross ÷ (1 + rate)).
func Inside(gross money.Amount, percent decimal.Decimal, c money.Currency) money.Amount {
	one := hundred.Add(percent)
	return gross - c.Round(c.Decimal(gross).Mul(hundred).DivRound(one, 16))
}

func roundToStep(a, step money.Amount) money.Amount {
	half := step / 2 // in an odd step no amount lies exactly half way
	if a < 0 {
		return -((-a + half) / step * step)
	}
	return (a + half) / step * step
}
