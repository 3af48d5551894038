package ubl

import (
	"fmt"
	"strings"

	"cleantally/core/money"

	"github.com/shopspring/decimal"
)

// A Broken rule of the norm, by its name there.
type Broken struct{ Rule, Text string }

// Check returns the rules of EN 16931 that an invoice breaks, those of its sums
// and of its tax categories among them; none where it may go out.
func Check(v Invoice) []Broken {
	c := checker{v: v}
	c.present()
	c.sums()
	c.categories()
	return c.broken
}

type checker struct {
	v      Invoice
	broken []Broken
}

func (c *checker) want(ok bool, rule, text string, args ...any) {
	if !ok {
		c.broken = append(c.broken, Broken{rule, fmt.Sprintf(text, args...)})
	}
}

// present are the rules about what must be there.
func (c *checker) present() {
	v := c.v
	c.want(v.Number != "", "BR-02", "It has no number.")
	c.want(v.Day != "", "BR-03", "It has no date.")
	c.want(v.Currency.Code != "", "BR-05", "It has no currency.")
	c.want(v.Seller.Name != "", "BR-06", "The firm has no name.")
	c.want(v.Buyer.Name != "", "BR-07", "The customer has no name.")
	c.want(v.Seller.Country != "", "BR-09", "Say in Setup, under Firm, in which country the firm is.")
	c.want(v.Buyer.Country != "", "BR-11", "Say at the customer in which country they are.")
	c.want(len(v.Lines) > 0, "BR-16", "It has no line.")
	c.want(v.Seller.TaxNumber != "", "BR-CO-26", "Say in Setup, under Firm, which tax number the firm has.")
	c.want(v.Payable <= 0 || v.Due != "" || v.Terms != "", "BR-CO-25", "Something is to be paid, and nothing says by when.")
	if v.Account != nil {
		c.want(v.Account.IBAN != "", "BR-61", "The bank account that is to be paid to has no number.")
	}
	for n, l := range v.Lines {
		c.want(strings.TrimSpace(l.Text) != "", "BR-25", "Line %d has no name.", n+1)
		c.want(!l.Price.IsNegative(), "BR-27", "The price of line %d is below nil.", n+1)
		c.want(l.Unit != "", "BR-23", "Line %d has no unit.", n+1)
	}
	for _, p := range v.Preceding {
		c.want(p.Number != "", "BR-55", "An invoice that went before has no number.")
	}
	for _, a := range v.Allowances {
		c.want(a.Reason != "", "BR-33", "What is taken off the whole has no reason.")
		c.want(a.Amount >= 0, "BR-31", "What is taken off the whole is below nil.")
	}
}

// sums are the rules about what adds up.
func (c *checker) sums() {
	v := c.v
	var lines, off, on, tax money.Amount
	for _, l := range v.Lines {
		lines += l.Net
	}
	for _, a := range v.Allowances {
		if a.Charge {
			on += a.Amount
		} else {
			off += a.Amount
		}
	}
	for _, t := range v.Taxes {
		tax += t.Tax
		// The validators that everybody uses take less than one whole unit for rounding.
		exact := money.Percent(decimal.NewFromInt(int64(t.Taxable)), t.Percent)
		unit := decimal.New(1, int32(v.Currency.Places))
		c.want(exact.Sub(decimal.NewFromInt(int64(t.Tax))).Abs().LessThan(unit), "BR-CO-17", "The tax of %s, %s, is not %s %% of %s.", t.Code, v.Currency.Format(t.Tax), t.Percent, v.Currency.Format(t.Taxable))
	}
	c.want(lines == v.LineTotal, "BR-CO-10", "The lines do not add up to their sum.")
	c.want(off == v.AllowanceTotal, "BR-CO-11", "What is taken off does not add up to its sum.")
	c.want(on == v.ChargeTotal, "BR-CO-12", "What is added does not add up to its sum.")
	c.want(v.Net == v.LineTotal-v.AllowanceTotal+v.ChargeTotal, "BR-CO-13", "The net is not the lines less what is taken off.")
	c.want(tax == v.Tax, "BR-CO-14", "The taxes by category do not add up to the tax.")
	c.want(v.Gross == v.Net+v.Tax, "BR-CO-15", "The total is not net and tax.")
	c.want(v.Payable == v.Gross-v.Prepaid+v.Rounding, "BR-CO-16", "What is to be paid is not the total less what was paid.")
	for _, t := range v.Taxes {
		c.want(t.Code != "O" || len(v.Taxes) == 1, "BR-O-11", "What is outside tax stands on an invoice of its own.")
	}
	c.want(len(v.Taxes) > 0, "BR-CO-18", "It says of no category how it is taxed.")
}

// A category's rules: whether it has a rate, needs a reason, and whose numbers.
type rules struct {
	prefix        string
	rated         bool
	reason        bool // that must be told; else none may be
	seller, buyer bool // whose tax number must be told
}

var categoryRules = map[string]rules{
	"S": {"BR-S", true, false, true, false}, "Z": {"BR-Z", false, false, true, false}, "E": {"BR-E", false, true, true, false},
	"AE": {"BR-AE", false, true, true, true}, "K": {"BR-IC", false, true, true, true}, "G": {"BR-G", false, true, true, false}, "O": {"BR-O", false, true, false, false},
}

func (c *checker) categories() {
	type key struct{ code, percent string }
	of := func(x Category) key { return key{x.Code, x.Percent.String()} }
	taxable := map[key]money.Amount{}
	for _, l := range c.v.Lines {
		taxable[of(l.Category)] += l.Net
	}
	for _, a := range c.v.Allowances {
		if a.Charge {
			taxable[of(a.Category)] += a.Amount
		} else {
			taxable[of(a.Category)] -= a.Amount
		}
	}
	told := map[key]bool{}
	for _, t := range c.v.Taxes {
		r, known := categoryRules[t.Code]
		if c.want(known, "BR-47", "There is no tax category %q.", t.Code); !known {
			continue
		}
		c.want(!told[of(t.Category)], r.prefix+"-01", "The category %s stands there twice.", t.Code)
		told[of(t.Category)] = true
		c.want(t.Taxable == taxable[of(t.Category)], r.prefix+"-08", "What is taxed by %s %% (%s) is not what its lines come to.", t.Percent, t.Code)
		if r.rated {
			c.want(t.Percent.IsPositive(), r.prefix+"-05", "The standard category has a rate above nil.")
		} else {
			c.want(t.Percent.IsZero(), r.prefix+"-05", "The category %s has no rate.", t.Code)
			c.want(t.Tax == 0, r.prefix+"-09", "The category %s has no tax.", t.Code)
		}
		if r.reason {
			c.want(t.Reason != "" || t.ReasonCode != "", r.prefix+"-10", "The category %s says why there is no tax.", t.Code)
		} else {
			c.want(t.Reason == "" && t.ReasonCode == "", r.prefix+"-10", "The category %s has no reason for an exemption.", t.Code)
		}
		c.want(!r.seller || c.v.Seller.TaxNumber != "", r.prefix+"-02", "The firm's tax number is needed.")
		c.want(!r.buyer || c.v.Buyer.TaxNumber != "", r.prefix+"-02", "The customer's tax number is needed: say it at the customer.")
	}
	for k := range taxable {
		c.want(told[k], categoryRules[k.code].prefix+"-01", "The category %s %s %% of a line is not among the taxes.", k.code, k.percent)
	}
}
