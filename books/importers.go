package books

import (
	"errors"
	"fmt"
	"strconv"
	"strings"

	"cleantally/core/day"
	"cleantally/core/ledger"
	"cleantally/core/master"
	"cleantally/core/money"
	"cleantally/core/posting"
	"cleantally/core/tax"
	"cleantally/store"

	"github.com/shopspring/decimal"
)

var importers = map[string]importer{
	"customers": {[]column{{"Name", nil, true}, {"Number", nil, false}, {"Contact", nil, false}, {"Email", []string{"E-mail"}, false}, {"Phone", nil, false}, {"Address", nil, false},
		{"Town", nil, false}, {"Site address", nil, false}, {"Tax number", nil, false}, {"Terms", nil, false}, {"Note", nil, false}, {"Customer", nil, false}, {"Supplier", nil, false},
		{"IBAN", nil, false}, {"BIC", nil, false}, {"Keep back", nil, false}, {"Withhold", nil, false}, {"Group", nil, false}, {"Currency", nil, false}, {"In use", nil, false}}, importCustomer},
	"jobs": {[]column{{"Name", nil, true}, {"Customer", []string{"Customer number"}, true}, {"Number", nil, false}, {"Site", nil, false}, {"Contract sum", nil, false},
		{"State", nil, false}, {"Note", nil, false}}, importJob},
	"articles": {[]column{{"Code", nil, true}, {"Name", nil, true}, {"Kind", nil, true}, {"Unit", nil, false}, {"Price", nil, false}, {"Account", nil, false},
		{"Tax code", nil, false}, {"Stocked", nil, false}, {"Numbered", nil, false}, {"Prices abroad", nil, false}, {"In use", nil, false}}, importArticle},
	"accounts": {[]column{{"Number", nil, true}, {"Name", nil, true}, {"Type", nil, true}, {"In use", nil, false}}, importAccount},
	"taxcodes": {[]column{{"Code", nil, true}, {"Name", nil, false}, {"Kind", nil, false}, {"Since", nil, true}, {"Percent", nil, true}, {"In use", nil, false}}, importTaxCode},
	"terms":    {[]column{{"Name", nil, true}, {"Kind", nil, true}, {"Days", nil, false}, {"Instalments", nil, false}, {"Discount", nil, false}, {"Discount days", nil, false}, {"In use", nil, false}}, importTerms},
	"banks":    {[]column{{"Name", nil, true}, {"IBAN", nil, false}, {"Account", nil, false}, {"Currency", nil, false}, {"In use", nil, false}}, importBank},
}

// refused makes a refusal of one field.
func refused(field, format string, args ...any) error {
	return posting.Refusals{{Field: field, Rule: "import", Text: fmt.Sprintf(format, args...)}}
}

// existing returns the record that a row names by a column, or a new one.
func existing[T store.Master](in *importing, column, value string) (T, string, error) {
	var rec T
	if value == "" {
		return rec, "create", nil
	}
	id, there, err := store.IDBy[T](&in.tx.Reader, column, value)
	if err != nil || !there {
		return rec, "create", err
	}
	rec, _, err = store.Find[T](&in.tx.Reader, id)
	return rec, "update", err
}

// named returns the ID of the record that a cell names, 0 for an empty cell.
func named[T store.Master](in *importing, column, value, what string) (int64, error) {
	if value == "" {
		return 0, nil
	}
	id, there, err := store.IDBy[T](&in.tx.Reader, column, value)
	if err == nil && !there {
		var known []string
		if known, err = store.Names[T](&in.tx.Reader, column, mostNamed); err == nil {
			err = refused(what, "There is no %s %q.%s", what, value, takes(known))
		}
	}
	return id, err
}

// mostNamed is how many values of a column are told.
const mostNamed = 8

// takes says which values a column takes.
func takes(known []string) string {
	switch {
	case len(known) == 0:
		return ""
	case len(known) < mostNamed:
		return " It takes " + strings.Join(known, ", ") + "."
	}
	return " It takes, among others, " + strings.Join(known, ", ") + "."
}

// inUse reads a yes or no over whether a record is out of use.
func inUse(inactive *bool, cell string) error {
	used := !*inactive
	err := yesNo(&used, cell, "in use")
	*inactive = !used
	return err
}

// yesNo reads a yes or no; what is not said leaves it as it is.
func yesNo(to *bool, cell, what string) error {
	switch strings.ToLower(cell) {
	case "":
	case "yes", "true", "1":
		*to = true
	case "no", "false", "0":
		*to = false
	default:
		return refused(what, "%q is neither yes nor no.", cell)
	}
	return nil
}

// percent reads a percentage; what is not said leaves it as it is.
func percent(to *decimal.Decimal, cell, what string) error {
	if cell == "" {
		return nil
	}
	p, err := money.UnderstandDecimal(strings.TrimSuffix(cell, "%"), 4, money.PointMarks)
	if err != nil {
		return refused(what, "%s: %s.", what, err)
	}
	*to = p
	return nil
}

// set puts a cell in place of a value unless the cell is empty.
func set(to *string, cell string) {
	if cell != "" {
		*to = cell
	}
}

func importCustomer(in *importing, cell func(string) string) (string, string, error) {
	p, does, err := existing[master.Party](in, "number", cell("Number"))
	if err != nil {
		return "", "", err
	}
	for to, name := range map[*string]string{&p.Name: "Name", &p.Number: "Number", &p.Contact: "Contact", &p.Email: "Email", &p.Phone: "Phone", &p.Address: "Address",
		&p.Town: "Town", &p.SiteAddress: "Site address", &p.TaxNumber: "Tax number", &p.Note: "Note", &p.IBAN: "IBAN", &p.BIC: "BIC"} {
		set(to, cell(name))
	}
	set(&p.Currency, strings.ToUpper(cell("Currency")))
	terms, err1 := named[master.Terms](in, "name", cell("Terms"), "terms")
	if terms != 0 {
		p.TermsID = terms
	}
	group, err2 := named[master.Group](in, "name", cell("Group"), "group")
	if group != 0 {
		p.GroupID = group
	}
	err3 := allOf(inUse(&p.Inactive, cell("In use")), yesNo(&p.IsCustomer, cell("Customer"), "customer"), yesNo(&p.IsSupplier, cell("Supplier"), "supplier"),
		percent(&p.KeepBack, cell("Keep back"), "keep back"), percent(&p.Withhold, cell("Withhold"), "withhold"))
	return does, p.Name, joined(err1, allOf(err2, err3), func() error { return saveCustomer(in.tx, &p) })
}

// joined runs do unless an error came before, and puts refusals together.
func joined(err1, err2 error, do func() error) error {
	if err := allOf(err1, err2); err != nil {
		return err
	}
	return do()
}

// allOf puts refusals together; any other error comes alone.
func allOf(errs ...error) error {
	var refusals posting.Refusals
	for _, err := range errs {
		var r posting.Refusals
		if err != nil && !errors.As(err, &r) {
			return err
		}
		refusals = append(refusals, r...)
	}
	if len(refusals) > 0 {
		return refusals
	}
	return nil
}

func (in *importing) amount(cell, what string) (money.Amount, error) {
	if cell == "" {
		return 0, nil
	}
	firm, err := in.tx.Firm()
	if err != nil {
		return 0, err
	}
	cur, err := money.CurrencyOf(firm.Currency)
	if err != nil {
		return 0, err
	}
	a, err := cur.Understand(cell)
	if err != nil {
		return 0, refused(what, "%s: %s.", what, err)
	}
	return a, nil
}

func importJob(in *importing, cell func(string) string) (string, string, error) {
	j, does, err := existing[master.Job](in, "number", cell("Number"))
	if err != nil {
		return "", "", err
	}
	set(&j.Name, cell("Name"))
	set(&j.Number, cell("Number"))
	set(&j.Site, cell("Site"))
	set(&j.Note, cell("Note"))
	customer, err1 := named[master.Party](in, "number", cell("Customer"), "customer")
	if customer == 0 && err1 != nil {
		customer, err1 = named[master.Party](in, "name", cell("Customer"), "customer")
	}
	j.PartyID = customer
	var err2 error
	if cell("Contract sum") != "" {
		j.ContractSum, err2 = in.amount(cell("Contract sum"), "contract sum")
	}
	switch strings.ToLower(cell("State")) {
	case "":
	case "open":
		j.Closed = false
	case "closed":
		j.Closed = true
	default:
		err2 = refused("state", "%q is neither open nor closed.", cell("State"))
	}
	return does, j.Number + " " + j.Name, joined(err1, err2, func() error { return saveJob(in.tx, &j) })
}

func importArticle(in *importing, cell func(string) string) (string, string, error) {
	i, does, err := existing[master.Article](in, "code", cell("Code"))
	if err != nil {
		return "", "", err
	}
	set(&i.Code, cell("Code"))
	set(&i.Name, cell("Name"))
	set(&i.Unit, cell("Unit"))
	i.Kind = master.ArticleKind(strings.ToLower(cell("Kind")))
	if cell("Price") != "" {
		if i.Price, err = money.UnderstandDecimal(cell("Price"), 6, money.PointMarks); err != nil {
			return does, i.Code, refused("price", "price: %s.", err)
		}
	}
	account, err1 := named[ledger.Account](in, "number", cell("Account"), "account")
	code, err2 := named[tax.Code](in, "code", cell("Tax code"), "tax code")
	if account != 0 {
		i.AccountID = account
	}
	if code != 0 {
		i.TaxCodeID = code
	}
	return does, i.Code + " " + i.Name, joined(err1, err2, func() error {
		if err := allOf(inUse(&i.Inactive, cell("In use")), yesNo(&i.Stocked, cell("Stocked"), "stocked"), yesNo(&i.Serial, cell("Numbered"), "numbered")); err != nil {
			return err
		}
		i.Abroad, err = pricesAbroad(cell("Prices abroad"))
		if err := allOf(err, saveArticle(in.tx, &i)); err != nil || cell("Prices abroad") == "" {
			return err
		}
		return in.tx.SetCurrencyPrices(i.ID, i.Abroad)
	})
}

// pricesAbroad reads what an article costs in other currencies: USD 11.00; JPY 1500.
func pricesAbroad(cell string) ([]master.CurrencyPrice, error) {
	var all []master.CurrencyPrice
	for part := range strings.SplitSeq(cell, ";") {
		if part = strings.TrimSpace(part); part == "" {
			continue
		}
		code, text, _ := strings.Cut(part, " ")
		price, err := money.UnderstandDecimal(strings.TrimSpace(text), 6, money.PointMarks)
		if err != nil {
			return nil, refused("prices abroad", "%q is no price in a currency. Write them as USD 11.00; JPY 1500.", part)
		}
		all = append(all, master.CurrencyPrice{Currency: strings.ToUpper(code), Price: price})
	}
	return all, nil
}

func importAccount(in *importing, cell func(string) string) (string, string, error) {
	a, does, err := existing[ledger.Account](in, "number", cell("Number"))
	if err != nil {
		return "", "", err
	}
	a.Number, a.Name, a.Type = cell("Number"), cell("Name"), ledger.Type(strings.ToLower(cell("Type")))
	err = inUse(&a.Inactive, cell("In use"))
	return does, a.Number + " " + a.Name, joined(err, nil, func() error { return saveAccount(in.tx, &a) })
}

// A file of tax codes has a row for each dated rate; the rows of one code add
// up.
func importTaxCode(in *importing, cell func(string) string) (string, string, error) {
	c, does, err := existing[tax.Code](in, "code", cell("Code"))
	if err != nil {
		return "", "", err
	}
	set(&c.Code, cell("Code"))
	set(&c.Name, cell("Name"))
	if c.Kind == "" {
		c.Kind = tax.Charged
	}
	if k := strings.ToLower(cell("Kind")); k != "" {
		c.Kind = tax.Kind(k)
	}
	since, err1 := day.Parse(cell("Since"))
	if err1 != nil {
		err1 = refused("since", "%s.", err1)
	}
	percent, err2 := money.UnderstandDecimal(strings.TrimSuffix(cell("Percent"), "%"), 4, money.PointMarks)
	if err2 != nil {
		err2 = refused("percent", "percent: %s.", err2)
	}
	return does, c.Code, joined(err1, err2, func() error {
		all, err := in.tx.TaxRates()
		if err != nil {
			return err
		}
		rates := []tax.Rate{{Since: since, Percent: percent}}
		for _, r := range all {
			if c.ID != 0 && r.TaxCodeID == c.ID && r.Since != since {
				rates = append(rates, r)
			}
		}
		if err := inUse(&c.Inactive, cell("In use")); err != nil {
			return err
		}
		return saveTaxCode(in.tx, &c, rates)
	})
}

// Instalments are written as "50 % in 14 days; 50 % in 44 days".
func importTerms(in *importing, cell func(string) string) (string, string, error) {
	t, does, err := existing[master.Terms](in, "name", cell("Name"))
	if err != nil {
		return "", "", err
	}
	t.Name, t.Kind, t.Days, t.Instalments = cell("Name"), master.TermsKind(strings.ToLower(cell("Kind"))), 0, nil
	if cell("Days") != "" {
		if t.Days, err = strconv.Atoi(cell("Days")); err != nil {
			return does, t.Name, refused("days", "%q is no number of days.", cell("Days"))
		}
	}
	for part := range strings.SplitSeq(cell("Instalments"), ";") {
		if part = strings.TrimSpace(part); part == "" {
			continue
		}
		var percent string
		var p master.Instalment
		if _, err := fmt.Sscanf(strings.Join(strings.Fields(strings.ReplaceAll(part, "%", " ")), " "), "%s in %d days", &percent, &p.Days); err != nil {
			return does, t.Name, refused("instalments", "%q is not understood: write 50 %% in 14 days; 50 %% in 44 days.", part)
		}
		if p.Percent, err = decimal.NewFromString(percent); err != nil {
			return does, t.Name, refused("instalments", "%q is no percentage.", percent)
		}
		t.Instalments = append(t.Instalments, p)
	}
	if discount := strings.TrimSuffix(cell("Discount"), "%"); discount != "" {
		if t.DiscountPercent, err = money.UnderstandDecimal(discount, 4, money.PointMarks); err != nil {
			return does, t.Name, refused("discount", "discount: %s.", err)
		}
	}
	if within := cell("Discount days"); within != "" {
		if t.DiscountDays, err = strconv.Atoi(within); err != nil {
			return does, t.Name, refused("discount days", "%q is no number of days.", within)
		}
	}
	err = inUse(&t.Inactive, cell("In use"))
	return does, t.Name, joined(err, nil, func() error { return saveTerms(in.tx, &t) })
}

func importBank(in *importing, cell func(string) string) (string, string, error) {
	a, does, err := existing[ledger.BankAccount](in, "name", cell("Name"))
	if err != nil {
		return "", "", err
	}
	a.Name = cell("Name")
	set(&a.IBAN, cell("IBAN"))
	set(&a.Currency, strings.ToUpper(cell("Currency")))
	account, err1 := named[ledger.Account](in, "number", cell("Account"), "account")
	if account != 0 {
		a.AccountID = account
	}
	err2 := inUse(&a.Inactive, cell("In use"))
	return does, a.Name, joined(err1, err2, func() error { return saveBankAccount(in.tx, &a) })
}
