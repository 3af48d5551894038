package tax_test

import (
	"errors"
	"math/rand/v2"
	"testing"

	"cleantally/core/money"
	"cleantally/core/tax"

	"github.com/shopspring/decimal"
)

var hundred = decimal.New(100, 0)

// Whatever is on a paper: its sums are those of its lines and of its codes, the
// discount is shared whole, each code's tax is rounded once over the paper, and
// what its total was rounded by is told.
func TestSumsOfAnyPaper(t *testing.T) {
	eur := money.Currency{Code: "EUR", Places: 2}
	codes := []tax.Code{{ID: 1, Code: "STD"}, {ID: 2, Code: "RED"}, {ID: 3, Code: "NIL"}, {ID: 4, Code: "TC", Kind: tax.CustomerAccountsIt}}
	percents := map[int64]decimal.Decimal{1: decimal.New(20, 0), 2: decimal.New(77, -1), 3: decimal.Zero, 4: decimal.New(20, 0)}
	rnd := rand.New(rand.NewPCG(1, 2))
	refused := 0
	for n := range 6000 {
		terms := tax.Terms{Currency: eur, Includes: rnd.IntN(2) == 0, RoundTo: []money.Amount{0, 0, 5, 100}[rnd.IntN(4)]}
		switch rnd.IntN(3) {
		case 0:
			terms.DiscountPercent = decimal.New(rnd.Int64N(9999), -2)
		case 1:
			terms.Discount = money.Amount(rnd.Int64N(2000))
		}
		var lines []tax.Line
		for range 1 + rnd.IntN(6) {
			code := codes[rnd.IntN(len(codes))]
			l := tax.Line{Quantity: decimal.New(1+rnd.Int64N(900000), -5), UnitPrice: decimal.New(rnd.Int64N(9000000)-300000, -4), Code: code, Percent: percents[code.ID], Apart: rnd.IntN(6) == 0}
			switch rnd.IntN(5) {
			case 0:
				l.DiscountPercent = decimal.New(rnd.Int64N(10000), -2)
			case 1:
				l.Discount = money.Amount(rnd.Int64N(50))
			}
			lines = append(lines, l)
		}
		s, err := tax.Compute(lines, terms)
		if err != nil {
			var line tax.LineError
			if errors.As(err, &line) && (line.Line < 0 || line.Line >= len(lines)) {
				t.Fatalf("paper %d: the error is of line %d", n, line.Line)
			}
			refused++
			continue
		}
		provesSums(t, n, lines, terms, s)
	}
	if refused > 3000 {
		t.Errorf("%d of 6000 were refused", refused)
	}
}

func provesSums(t *testing.T, n int, lines []tax.Line, terms tax.Terms, s tax.Sums) {
	t.Helper()
	var net, taxes, codeNet, codeTax, off, before, after money.Amount
	byCode := map[int64][2]money.Amount{}
	for i, l := range s.Lines {
		net += l.Net
		taxes += l.Tax
		sum := byCode[lines[i].Code.ID]
		byCode[lines[i].Code.ID] = [2]money.Amount{sum[0] + l.Net, sum[1] + l.Tax}
		written, err := tax.LineBefore(lines[i], terms.Currency)
		if err != nil || written != l.Before {
			t.Errorf("paper %d, line %d: %d before the discount, alone %d (%v)", n, i+1, l.Before, written, err)
		}
		before += l.Before
		after += l.Net
		if terms.Includes {
			after += l.Tax
		}
		if lines[i].Apart && !terms.Includes && l.Net != l.Before {
			t.Errorf("paper %d, line %d stands apart and is discounted", n, i+1)
		}
	}
	for _, c := range s.Codes {
		codeNet += c.Net
		codeTax += c.Tax
		if got := byCode[c.Code.ID]; got[0] != c.Net || got[1] != c.Tax {
			t.Errorf("paper %d, code %s: %d and %d, its lines %v", n, c.Code.Code, c.Net, c.Tax, got)
		}
		sum := c.Net
		if terms.Includes {
			sum += c.Tax
		}
		if want := taxOf(sum, c, terms); c.Tax != want {
			t.Errorf("paper %d, code %s: tax %d of %d, want %d", n, c.Code.Code, c.Tax, sum, want)
		}
	}
	off = before - after
	switch {
	case net != s.Net || taxes != s.Tax || codeNet != s.Net || codeTax != s.Tax:
		t.Errorf("paper %d: net %d and tax %d, lines %d and %d, codes %d and %d", n, s.Net, s.Tax, net, taxes, codeNet, codeTax)
	case off != s.Discount:
		t.Errorf("paper %d: %d was taken off, the discount is %d", n, off, s.Discount)
	case s.Total != s.Net+s.Tax+s.Rounding:
		t.Errorf("paper %d: total %d of %d, %d and %d", n, s.Total, s.Net, s.Tax, s.Rounding)
	case terms.RoundTo > 0 && s.Total%terms.RoundTo != 0:
		t.Errorf("paper %d: %d is no step of %d", n, s.Total, terms.RoundTo)
	case s.Rounding.Abs()*2 > terms.RoundTo:
		t.Errorf("paper %d: rounded by %d to a step of %d", n, s.Rounding, terms.RoundTo)
	}
}

// taxOf is a code's tax as part 2 says it: once over the paper.
func taxOf(sum money.Amount, c tax.CodeSums, terms tax.Terms) money.Amount {
	if c.Code.Kind == tax.CustomerAccountsIt {
		return 0
	}
	v := terms.Currency.Decimal(sum)
	if terms.Includes {
		return sum - terms.Currency.Round(v.Mul(hundred).DivRound(hundred.Add(c.Percent), 16))
	}
	return terms.Currency.Round(v.Mul(c.Percent).Div(hundred))
}
