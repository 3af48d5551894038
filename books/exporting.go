package books

import (
	"context"
	"fmt"
	"strconv"
	"strings"

	"cleantally/core/ledger"
	"cleantally/core/master"
	"cleantally/core/money"
	"cleantally/core/posting"
	"cleantally/core/tax"
	"cleantally/formats"
	"cleantally/store"
)

// exporters write records with the columns that the importer of the same name
// reads.
var exporters = map[string]func(*exporting) error{
	"customers": exportCustomers, "jobs": exportJobs, "articles": exportArticles, "accounts": exportAccounts, "taxcodes": exportTaxCodes, "terms": exportTerms, "banks": exportBanks,
}

// exporting is one run of an exporter.
type exporting struct {
	r     *store.Reader
	cur   money.Currency
	table formats.Table
}

func (x *exporting) row(cells ...string) { x.table.Rows = append(x.table.Rows, cells) }

// Export returns every record of a kind in the form that Import reads.
func (b *Book) Export(ctx context.Context, kind string) (formats.Table, error) {
	export, ok := exporters[kind]
	if !ok {
		return formats.Table{}, posting.Refusals{{Field: "kind", Rule: "missing", Text: fmt.Sprintf("Nothing can be exported as %q.", kind)}}
	}
	cur, err := b.Currency(ctx)
	if err != nil {
		return formats.Table{}, err
	}
	x := &exporting{cur: cur}
	err = b.Snapshot(ctx, func(r *store.Reader) error {
		x.r = r
		return export(x)
	})
	return x.table, err
}

func yes(inactive bool) string {
	if inactive {
		return "no"
	}
	return "yes"
}

// byID maps records of a kind to how a file names them.
func byID[T store.Master](x *exporting, name func(T) (int64, string)) (map[int64]string, error) {
	all, err := store.All[T](x.r, "id")
	names := map[int64]string{}
	for _, rec := range all {
		id, n := name(rec)
		names[id] = n
	}
	return names, err
}

func accountNumbers(a ledger.Account) (int64, string) { return a.ID, a.Number }

func exportCustomers(x *exporting) error {
	x.table.Header = []string{"Number", "Name", "Contact", "Email", "Phone", "Address", "Town", "Site address", "Tax number", "Terms", "Note", "In use", "Currency"}
	terms, err := byID(x, func(t master.Terms) (int64, string) { return t.ID, t.Name })
	if err != nil {
		return err
	}
	all, err := store.All[master.Party](x.r, "number")
	for _, p := range all {
		if p.IsCustomer {
			x.row(p.Number, p.Name, p.Contact, p.Email, p.Phone, p.Address, p.Town, p.SiteAddress, p.TaxNumber, terms[p.TermsID], p.Note, yes(p.Inactive), p.Currency)
		}
	}
	return err
}

func exportJobs(x *exporting) error {
	x.table.Header = []string{"Number", "Name", "Customer", "Site", "Contract sum", "State", "Note"}
	parties, err := byID(x, func(p master.Party) (int64, string) { return p.ID, p.Number })
	if err != nil {
		return err
	}
	all, err := store.All[master.Job](x.r, "number")
	for _, j := range all {
		state := "open"
		if j.Closed {
			state = "closed"
		}
		x.row(j.Number, j.Name, parties[j.PartyID], j.Site, x.cur.Format(j.ContractSum), state, j.Note)
	}
	return err
}

func exportArticles(x *exporting) error {
	x.table.Header = []string{"Code", "Name", "Kind", "Unit", "Price", "Account", "Tax code", "In use", "Prices abroad"}
	accounts, err := byID(x, accountNumbers)
	if err != nil {
		return err
	}
	codes, err := byID(x, func(c tax.Code) (int64, string) { return c.ID, c.Code })
	if err != nil {
		return err
	}
	abroad, err := x.r.CurrencyPrices()
	if err != nil {
		return err
	}
	all, err := store.All[master.Article](x.r, "code")
	for _, i := range all {
		var prices []string
		for _, p := range abroad[i.ID] {
			prices = append(prices, p.Currency+" "+x.cur.In(p.Currency).Price(p.Price))
		}
		x.row(i.Code, i.Name, string(i.Kind), i.Unit, i.Price.StringFixed(max(-i.Price.Exponent(), 2)), accounts[i.AccountID], codes[i.TaxCodeID], yes(i.Inactive), strings.Join(prices, "; "))
	}
	return err
}

func exportAccounts(x *exporting) error {
	x.table.Header = []string{"Number", "Name", "Type", "In use"}
	all, err := store.All[ledger.Account](x.r, "number")
	for _, a := range all {
		x.row(a.Number, a.Name, string(a.Type), yes(a.Inactive))
	}
	return err
}

func exportTaxCodes(x *exporting) error {
	x.table.Header = []string{"Code", "Name", "Kind", "Since", "Percent", "In use"}
	rates, err := x.r.TaxRates()
	if err != nil {
		return err
	}
	all, err := x.r.TaxCodes()
	for _, c := range all {
		for _, rate := range rates {
			if rate.TaxCodeID == c.ID {
				x.row(c.Code, c.Name, string(c.Kind), string(rate.Since), rate.Percent.String(), yes(c.Inactive))
			}
		}
	}
	return err
}

func exportTerms(x *exporting) error {
	x.table.Header = []string{"Name", "Kind", "Days", "Instalments", "Discount", "Discount days", "In use"}
	all, err := x.r.TermsWithParts()
	for _, t := range all {
		parts := make([]string, len(t.Instalments))
		for n, i := range t.Instalments {
			parts[n] = fmt.Sprintf("%s %% in %d days", i.Percent, i.Days)
		}
		x.row(t.Name, string(t.Kind), strconv.Itoa(t.Days), strings.Join(parts, "; "), t.DiscountPercent.String(), strconv.Itoa(t.DiscountDays), yes(t.Inactive))
	}
	return err
}

func exportBanks(x *exporting) error {
	x.table.Header = []string{"Name", "IBAN", "Account", "In use", "Currency"}
	accounts, err := byID(x, accountNumbers)
	if err != nil {
		return err
	}
	all, err := store.All[ledger.BankAccount](x.r, "name")
	for _, b := range all {
		x.row(b.Name, b.IBAN, accounts[b.AccountID], yes(b.Inactive), b.Currency)
	}
	return err
}
