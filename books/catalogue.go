package books

import (
	"context"
	"fmt"

	"cleantally/core/day"
	"cleantally/core/ledger"
	"cleantally/core/master"
	"cleantally/core/money"
	"cleantally/core/tax"
	"cleantally/store"

	"github.com/shopspring/decimal"
)

var hundred = decimal.New(100, 0)

// nameOf is what the audit record calls a record.
func nameOf(rec any) string {
	switch r := rec.(type) {
	case master.Party:
		return r.Name
	case master.Job:
		return r.Number + " " + r.Name
	case master.Article:
		return r.Code
	case master.Terms:
		return r.Name
	case ledger.Account:
		return r.Number + " " + r.Name
	case ledger.BankAccount:
		return r.Name
	case tax.Code:
		return r.Code
	case master.Group:
		return r.Name
	case master.Letterhead:
		return r.Name
	case master.MailTemplate:
		return r.Name
	case master.ReminderStage:
		return r.Name
	case master.Currency:
		return r.Code
	case master.BankRule:
		return r.Name
	}
	return ""
}

// SaveArticle stores an article: a new one when its ID is 0.
func (b *Book) SaveArticle(ctx context.Context, user int64, i *master.Article) error {
	return save(ctx, b, user, "article", i, func(tx *store.Tx, i *master.Article) error {
		if err := saveArticle(tx, i); err != nil {
			return err
		}
		if err := tx.SetPrices(i.ID, i.Prices); err != nil {
			return err
		}
		return tx.SetCurrencyPrices(i.ID, i.Abroad)
	})
}

func saveArticle(tx *store.Tx, i *master.Article) error {
	var v validation
	v.text("code", &i.Code, true, 40)
	v.text("name", &i.Name, true, 200)
	v.text("unit", &i.Unit, false, 20)
	if i.Kind != master.Service && i.Kind != master.Material {
		v.refuse("kind", "missing", "An article is a service or a material.")
	}
	checkPrice(&v, "price", i.Price)
	if err := checkPrices(tx, &v, i.Prices); err != nil {
		return err
	}
	if err := checkAbroad(tx, &v, i.Abroad); err != nil {
		return err
	}
	if i.Stocked && i.Kind != master.Material {
		v.refuse("stocked", "no material", "Only a material is kept in stock.")
	}
	if i.Serial && !i.Stocked {
		v.refuse("serial", "not in stock", "Only pieces that are kept in stock bear numbers.")
	}
	if err := stockStays(tx, &v, i); err != nil {
		return err
	}
	if i.AccountID != 0 {
		a, ok, err := store.Find[ledger.Account](&tx.Reader, i.AccountID)
		if err != nil {
			return err
		}
		if !ok || a.Type != ledger.Income {
			v.refuse("account", "not income", "An article is sold to an income account. Choose one, or leave it to the kind of article.")
		}
	}
	if i.TaxCodeID != 0 {
		if _, ok, err := store.Find[tax.Code](&tx.Reader, i.TaxCodeID); err != nil {
			return err
		} else if !ok {
			v.refuse("taxCode", "missing", "There is no such tax code. Choose another.")
		}
	}
	other, there, err := store.IDBy[master.Article](&tx.Reader, "code", i.Code)
	if err != nil {
		return err
	}
	v.unique("code", i.Code, i.ID, other, there)
	if err := v.err(); err != nil {
		return err
	}
	return put(tx, i.ID, i.Version, i)
}

// checkPrices refuses prices of groups that are not there, or twice.
func checkPrices(tx *store.Tx, v *validation, prices []master.Price) error {
	seen := map[int64]bool{}
	for n, p := range prices {
		field := fmt.Sprintf("prices[%d]", n)
		if _, ok, err := store.Find[master.Group](&tx.Reader, p.GroupID); err != nil {
			return err
		} else if !ok || seen[p.GroupID] {
			v.refuse(field, "missing", "Choose a group of customers, each once.")
		}
		seen[p.GroupID] = true
		checkPrice(v, field, p.Price)
	}
	return nil
}

// checkAbroad refuses prices in currencies that are not in use, or twice.
func checkAbroad(tx *store.Tx, v *validation, prices []master.CurrencyPrice) error {
	seen := map[string]bool{}
	for n, p := range prices {
		field := fmt.Sprintf("abroad[%d]", n)
		if _, ok, err := store.IDBy[master.Currency](&tx.Reader, "code", p.Currency); err != nil {
			return err
		} else if !ok || seen[p.Currency] {
			v.refuse(field, "missing", "Choose a currency that was taken into use, each once.")
		}
		seen[p.Currency] = true
		checkPrice(v, field, p.Price)
	}
	return nil
}

func checkPrice(v *validation, field string, price decimal.Decimal) {
	if price.IsNegative() || !money.Fits(price, 6) || price.GreaterThan(decimal.New(1, 12)) {
		v.refuse(field, "out of bounds", "A price is nil or more, with at most 6 places.")
	}
}

// SaveGroup stores a group of customers: a new one when its ID is 0.
func (b *Book) SaveGroup(ctx context.Context, user int64, g *master.Group) error {
	return save(ctx, b, user, "group of customers", g, func(tx *store.Tx, g *master.Group) error {
		var v validation
		v.text("name", &g.Name, true, 80)
		other, there, err := store.IDBy[master.Group](&tx.Reader, "name", g.Name)
		if err != nil {
			return err
		}
		v.unique("name", g.Name, g.ID, other, there)
		if err := v.err(); err != nil {
			return err
		}
		return put(tx, g.ID, g.Version, g)
	})
}

// SaveTaxCode stores a tax code with its rates: a new one when its ID is 0.
func (b *Book) SaveTaxCode(ctx context.Context, user int64, c *tax.Code, rates []tax.Rate) error {
	return save(ctx, b, user, "tax code", c, func(tx *store.Tx, c *tax.Code) error { return saveTaxCode(tx, c, rates) })
}

// checkCategory refuses a category of electronic invoices that the code is not
// made for.
func checkCategory(v *validation, c tax.Code, rates []tax.Rate) {
	is, known := tax.Categories[c.Category]
	switch {
	case c.Category == "":
	case !known:
		v.refuse("category", "unknown", "There is no such category in electronic invoices.")
	case is.Kind != c.Kind:
		v.refuse("category", "another kind", "The category %s is for a code that %s.", c.Category, map[tax.Kind]string{tax.Charged: "is charged", tax.CustomerAccountsIt: "the customer accounts for"}[is.Kind])
	case c.Kind == tax.Charged:
		for _, r := range rates {
			if r.Percent.IsPositive() != is.Rated {
				v.refuse("category", "another rate", "The category %s is for a code whose rate is %s.", c.Category, map[bool]string{true: "above nil", false: "nil"}[is.Rated])
				return
			}
		}
	}
}

func saveTaxCode(tx *store.Tx, c *tax.Code, rates []tax.Rate) error {
	var v validation
	v.text("code", &c.Code, true, 20)
	v.text("name", &c.Name, false, 120)
	if c.Kind != tax.Charged && c.Kind != tax.CustomerAccountsIt {
		v.refuse("kind", "missing", "A tax code is charged, or the customer accounts for it.")
	}
	v.text("reason", &c.Reason, false, 200)
	checkCategory(&v, *c, rates)
	if len(rates) == 0 {
		v.refuse("rates", "missing", "A tax code needs a rate with the day from which it holds.")
	}
	seen := map[day.Day]bool{}
	for _, r := range rates {
		if _, err := day.Parse(string(r.Since)); err != nil {
			v.refuse("rates", "no such day", "A rate holds from a day: %s.", err)
		}
		if r.Percent.IsNegative() || r.Percent.GreaterThan(hundred) || !money.Fits(r.Percent, 4) {
			v.refuse("rates", "out of bounds", "A rate is from 0 to 100 percent, with at most 4 places.")
		}
		if seen[r.Since] {
			v.refuse("rates", "taken", "Two rates begin on %s. Keep one.", r.Since.Show())
		}
		seen[r.Since] = true
	}
	other, there, err := store.IDBy[tax.Code](&tx.Reader, "code", c.Code)
	if err != nil {
		return err
	}
	v.unique("code", c.Code, c.ID, other, there)
	if err := v.err(); err != nil {
		return err
	}
	if err := put(tx, c.ID, c.Version, c); err != nil {
		return err
	}
	return tx.SetTaxRates(c.ID, rates)
}

// SaveTerms stores payment terms: new ones when the ID is 0.
func (b *Book) SaveTerms(ctx context.Context, user int64, t *master.Terms) error {
	return save(ctx, b, user, "terms", t, saveTerms)
}

func saveTerms(tx *store.Tx, t *master.Terms) error {
	var v validation
	v.text("name", &t.Name, true, 80)
	switch t.Kind {
	case master.OnReceipt, master.EndOfMonth:
		t.Days, t.Instalments = 0, nil
	case master.InDays, master.EndOfMonthPlus:
		t.Instalments = nil
	case master.InInstalments:
		t.Days = 0
		sum := decimal.Zero
		for _, p := range t.Instalments {
			sum = sum.Add(p.Percent)
			if !p.Percent.IsPositive() || !money.Fits(p.Percent, 4) || p.Days < 0 || p.Days > 9999 {
				v.refuse("instalments", "out of bounds", "An instalment is a share above nil, due 0 to 9999 days after the paper.")
			}
		}
		if !sum.Equal(hundred) {
			v.refuse("instalments", "not whole", "The instalments add up to %s %%, not to 100.", sum)
		}
	default:
		v.refuse("kind", "missing", "Say how the due day is counted.")
	}
	if t.Days < 0 || t.Days > 999 {
		v.refuse("days", "out of bounds", "Terms run from 0 to 999 days.")
	}
	if t.DiscountPercent.IsNegative() || t.DiscountPercent.GreaterThan(hundred) || !money.Fits(t.DiscountPercent, 4) || t.DiscountDays < 0 || t.DiscountDays > 999 {
		v.refuse("discount", "out of bounds", "A discount for early payment is from 0 to 100 %%, within 0 to 999 days.")
	} else if t.DiscountPercent.IsPositive() && t.Kind == master.InInstalments {
		v.refuse("discount", "instalments", "Terms in instalments give no discount for early payment.")
	}
	other, there, err := store.IDBy[master.Terms](&tx.Reader, "name", t.Name)
	if err != nil {
		return err
	}
	v.unique("name", t.Name, t.ID, other, there)
	if err := v.err(); err != nil {
		return err
	}
	if err := put(tx, t.ID, t.Version, t); err != nil {
		return err
	}
	return tx.SetInstalments(t.ID, t.Instalments)
}

// stockStays refuses to change how an article is kept while some of it is
// there.
func stockStays(tx *store.Tx, v *validation, i *master.Article) error {
	old, known, err := store.Find[master.Article](&tx.Reader, i.ID)
	if err != nil || !known || (old.Stocked == i.Stocked && old.Serial == i.Serial) {
		return err
	}
	there, err := tx.HasStock(i.ID)
	if there {
		v.refuse("stocked", "in stock", "Some of %s is in stock. Count it to nil first.", old.Name)
	}
	return err
}
