package billing

import (
	"cleantally/core/ledger"
	"cleantally/core/posting"
	"cleantally/core/tax"

	"github.com/shopspring/decimal"
)

// otherwise is what a credited line bears that is not as it was billed: another
// account, another tax code, another tax. It is warned of; what stands on a
// control account stays as it is (docs/rules.md, part 6).
func (l CreditLine) otherwise(b *builder, n int, of posting.Paper, x *creditPart) bool {
	if l.AccountID == 0 && l.TaxCodeID == 0 && l.Tax == nil {
		return true
	}
	if _, control := b.Control(x.line.AccountID); control {
		b.Refuse(x.field+"account", "as it was billed", "", "Line %d: %s leaves its register as it came there, so its account and its tax stay. Leave them out.", n, x.line.Text)
		return false
	}
	return l.elsewhere(b, n, x) && l.taxed(b, n, of, x)
}

// elsewhere moves the credit to another account.
func (l CreditLine) elsewhere(b *builder, n int, x *creditPart) bool {
	if l.AccountID == 0 || l.AccountID == x.account {
		return true
	}
	a, ok := b.Account(l.AccountID)
	_, control := b.Control(a.ID)
	switch {
	case !ok || a.Inactive:
		b.Refuse(x.field+"account", "not in use", "", "Line %d: choose an account that is in use.", n)
	case control || b.IsBank(a.ID) || a.Type != ledger.Income && a.Type != ledger.ContraIncome && a.Type != ledger.Expense:
		b.Refuse(x.field+"account", "not income", "", "Line %d: account %s %s is no account of income or costs. Choose one.", n, a.Number, a.Name)
	default:
		was, _ := b.Account(x.account)
		b.Warn(x.field+"account", "another account", was.Number, "Line %d goes to %s %s and was billed to %s %s.", n, a.Number, a.Name, was.Number, was.Name)
		x.account = a.ID
		return true
	}
	return false
}

// taxed gives the credit another tax code, or another tax: never more than is
// left of the line's. What of the tax is not credited stays on the invoice.
func (l CreditLine) taxed(b *builder, n int, of posting.Paper, x *creditPart) bool {
	was, cur := x.part.Tax.Own, b.Currency()
	now := was
	switch {
	case l.TaxCodeID != 0 && l.TaxCodeID != x.code:
		code, percent, ok := b.rateOf(x.field, n, l.TaxCodeID, of)
		if !ok {
			return false
		}
		x.code, x.percent = code.ID, percent
		sum := x.part.Net()
		if of.Includes {
			sum = x.part.Amount.Own
		}
		now = tax.Terms{Currency: cur, Includes: of.Includes}.Of(sum, percent)
	case l.Tax == nil:
		return true
	}
	if l.Tax != nil {
		now = *l.Tax
	}
	switch {
	case now < min(x.left.Tax.Own, 0) || now > max(x.left.Tax.Own, 0):
		b.Refuse(x.field+"tax", "more than is left", cur.Format(x.left.Tax.Own), "Line %d: only %s of the tax of %s is left to credit, not %s.", n, cur.Show(x.left.Tax.Own), x.line.Text, cur.Show(now))
		return false
	case deferred(b, of):
		b.Refuse(x.field+"tax", "kept back", "", "Tax of %s is kept back by its code, so it is credited as it was billed. Leave its code and its tax as they are.", of.Number)
		return false
	}
	if now != was || x.code != x.line.TaxCodeID {
		b.Warn(x.field+"tax", "another tax", cur.Format(was), "Line %d credits %s of tax at %s %%. As it was billed it would be %s at %s %%.", n, cur.Show(now), x.percent, cur.Show(was), x.line.TaxPercent)
	}
	if !of.Includes {
		x.part.Amount = posting.Firm(x.part.Net() + now)
	}
	x.part.Tax = posting.Firm(now)
	return true
}

// rateOf is a tax code with the rate that an invoice would bill it at.
func (b *builder) rateOf(field string, n int, id int64, of posting.Paper) (tax.Code, decimal.Decimal, bool) {
	code, rates, ok := b.TaxCode(id)
	if !ok || code.Inactive {
		b.Refuse(field+"taxCode", "not in use", "", "Line %d: choose a tax code that is in use.", n)
		return code, decimal.Zero, false
	}
	d := of.Day
	if of.Supplied != "" {
		d = of.Supplied
	}
	percent, err := tax.RateOn(code, rates, d)
	if err != nil {
		b.Refuse(field+"taxCode", "no rate", "", "%s. Choose another code.", posting.Sentence(err.Error()))
		return code, percent, false
	}
	if code.Kind == tax.CustomerAccountsIt {
		percent = decimal.Zero
	}
	return code, percent, true
}

// deferred tells whether tax of an invoice is kept back with its retention.
func deferred(b *builder, of posting.Paper) bool {
	_, byCode := retentionGroups(b.facts.RetentionOf(of.ID))
	return byCode
}
