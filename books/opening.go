package books

import (
	"context"
	"fmt"
	"slices"
	"strings"

	"cleantally/core/day"
	"cleantally/core/ledger"
	"cleantally/core/master"
	"cleantally/core/money"
	"cleantally/core/posting"
	"cleantally/core/rights"
	"cleantally/core/settling"
	"cleantally/core/tax"
	"cleantally/formats"
	"cleantally/store"

	"github.com/shopspring/decimal"
)

// openingFiles are the files that a firm begins with: what their columns are, and
// a row that shows how they are filled in.
var openingFiles = map[string]struct {
	im    importer
	shows []string
}{
	"items": {importer{Columns: []column{{"What", nil, true}, {"Number", nil, false}, {"Day", nil, false}, {"Due", []string{"Due date"}, false}, {"Name", []string{"Customer", "Supplier"}, false}, {"Job", nil, false},
		{"Amount", nil, true}, {"Tax inside", nil, false}, {"Tax code", nil, false}, {"Text", nil, false}, {"Currency", nil, false}, {"Worth", nil, false}}}, []string{"invoice", "4711", "2025-11-12", "2025-12-12", "Odalys Brandt", "", "5000.00", "833.33", "STD", "Stair fitted", "", ""}},
	"goods": {importer{Columns: []column{{"Article", nil, true}, {"Quantity", nil, true}, {"Value", nil, true}, {"Numbers", nil, false}}}, []string{"BAL-OAK", "40", "480.00", ""}},
	"contracts": {importer{Columns: []column{{"What", nil, true}, {"Number", []string{"Order"}, false}, {"Name", []string{"Customer"}, true}, {"Job", nil, false}, {"Amount", nil, true}, {"Billed before", nil, false}, {"Tax code", nil, false}, {"Text", nil, false}, {"Currency", nil, false}, {"Rate", nil, false}}},
		[]string{"order line", "O-88", "Odalys Brandt", "", "8000.00", "2000.00", "STD", "Oak stair, made and fitted", "", ""}},
	"on-the-way": {importer{Columns: []column{{"Account", []string{"Bank account"}, true}, {"Day", nil, false}, {"Reference", []string{"Cheque"}, false}, {"Text", nil, false}, {"Paid in", nil, false}, {"Paid out", nil, false}, {"Worth", nil, false}}},
		[]string{"Bank", "2025-12-29", "Cheque 114", "Timber", "", "430.00", ""}},
	"trial": {importer{Columns: []column{{"Account", nil, true}, {"Debit", nil, false}, {"Credit", nil, false}, {"In its currency", nil, false}}}, []string{"101", "5000.00", "", ""}},
}

// OpeningTemplate is a file of one kind with its header, and a row that shows how
// it is filled in.
func OpeningTemplate(of string) (formats.Table, bool) {
	f, ok := openingFiles[of]
	var t formats.Table
	for _, c := range f.im.Columns {
		t.Header = append(t.Header, c.Name)
	}
	t.Rows = [][]string{f.shows}
	switch of {
	case "items": // each thing that it may be, once
		for _, what := range OpeningWords()[of][1:] {
			t.Rows = append(t.Rows, append([]string{what}, f.shows[1:]...))
		}
	case "contracts":
		t.Rows = append(t.Rows, []string{string(settling.AgreedClaimed), "", "Odalys Brandt", "101", "24000.00", "", "", "", "", ""}, []string{string(settling.AgreedReleased), "", "Odalys Brandt", "101", "450.00", "", "", "", "", ""})
	}
	return t, ok
}

// OpeningWords is what a row of a file of old books may be, by file.
func OpeningWords() map[string][]string {
	words := map[string][]string{}
	for _, s := range settling.AllStood {
		words["items"] = append(words["items"], string(s))
	}
	for _, a := range settling.AllAgreed {
		words["contracts"] = append(words["contracts"], string(a))
	}
	return words
}

// OpeningRow is a row of a file of old books, as it was understood.
type OpeningRow struct {
	Row      int      // in the file; the header is row 1
	Cells    []string // as they stand in the file, in the order of the columns
	Item     settling.OpeningItem
	Goods    settling.OpeningGoods
	Trial    settling.OpeningBalance
	Contract settling.OpeningContract
	OnTheWay settling.OpeningOnTheWay
	In       string // the currency of the bank account, ISO 4217; "" for the firm's own
	Refusals posting.Refusals
}

// ReadOpening reads a file of old books: items, goods or trial. Nothing is kept
// of it. The error is posting.Refusals where the header is wrong.
func (b *Book) ReadOpening(ctx context.Context, of string, t formats.Table) ([]OpeningRow, error) {
	if err := b.Need(ctx, rights.ToOwn); err != nil {
		return nil, err
	}
	f, ok := openingFiles[of]
	if !ok {
		return nil, posting.Refusals{{Field: "of", Rule: "missing", Text: fmt.Sprintf("Nothing of old books is read as %q.", of)}}
	}
	at, err := f.im.locate(t.Header)
	if err != nil {
		return nil, err
	}
	var rows []OpeningRow
	err = b.db.Snapshot(ctx, func(r *store.Reader) error {
		cur, err := r.Currency()
		if err != nil {
			return err
		}
		for n, cells := range t.Rows {
			if strings.TrimSpace(strings.Join(cells, "")) == "" {
				continue
			}
			o := openingReader{r: r, cur: cur, cell: func(name string) string {
				if i, there := at[name]; there && i < len(cells) {
					return strings.TrimSpace(cells[i])
				}
				return ""
			}}
			row := OpeningRow{Row: n + 2}
			for _, c := range f.im.Columns {
				row.Cells = append(row.Cells, o.cell(c.Name))
			}
			switch of {
			case "items":
				row.Item = o.item()
			case "contracts":
				row.Contract = o.contract()
			case "on-the-way":
				row.OnTheWay, row.In = o.onTheWay()
			case "goods":
				row.Goods = o.goods()
			default:
				row.Trial, row.In = o.trial()
			}
			if o.err != nil {
				return o.err
			}
			row.Refusals = o.refusals
			rows = append(rows, row)
		}
		return nil
	})
	return rows, err
}

// openingReader understands one row.
type openingReader struct {
	r        *store.Reader
	cur      money.Currency
	cell     func(string) string
	refusals posting.Refusals
	err      error
}

func (o *openingReader) refuse(field, format string, args ...any) {
	o.refusals = append(o.refusals, posting.Notice{Field: field, Rule: "import", Text: fmt.Sprintf(format, args...)})
}

func (o *openingReader) amount(column string) money.Amount { return o.amountIn("", column) }

// amountIn reads an amount of a currency; "" is the firm's.
func (o *openingReader) amountIn(code, column string) money.Amount {
	text := o.cell(column)
	if text == "" {
		return 0
	}
	a, err := o.cur.In(code).Understand(text)
	if err != nil {
		o.refuse(column, "%s.", posting.Sentence(err.Error()))
	}
	return a
}

func (o *openingReader) day(column string) day.Day {
	d, err := day.Parse(o.cell(column))
	if o.cell(column) != "" && err != nil {
		o.refuse(column, "%s. Write it as 2025-12-31.", posting.Sentence(err.Error()))
	}
	return d
}

// of finds a record by one of its columns.
func recordOf[T store.Master](o *openingReader, cell, what string, columns ...string) int64 {
	text := o.cell(cell)
	if text == "" || o.err != nil {
		return 0
	}
	for _, c := range columns {
		id, there, err := store.IDBy[T](o.r, c, text)
		if err != nil {
			o.err = err
			return 0
		}
		if there {
			return id
		}
	}
	o.refuse(cell, "There is no %s %q. Add it first, or read the file of them.", what, text)
	return 0
}

// currency is that of a row, "" for the firm's own.
func (o *openingReader) currency() string {
	code := strings.ToUpper(o.cell("Currency"))
	if code == o.cur.Code {
		return ""
	}
	if _, err := money.CurrencyOf(code); code != "" && err != nil {
		o.refuse("Currency", "%s.", posting.Sentence(err.Error()))
	}
	return code
}

// rate is that of a row's currency; nil for none.
func (o *openingReader) rate() decimal.Decimal {
	text := o.cell("Rate")
	if text == "" {
		return decimal.Zero
	}
	d, err := money.UnderstandDecimal(text, posting.RatePlaces, o.cur.Marks)
	if err != nil || !posting.RateFits(d) {
		o.refuse("Rate", "%q is no rate: what one unit is worth in %s.", text, o.cur.Code)
	}
	return d
}

func (o *openingReader) item() settling.OpeningItem {
	i := settling.OpeningItem{Stood: settling.Stood(strings.ToLower(o.cell("What"))), Number: o.cell("Number"), Day: o.day("Day"), Due: o.day("Due"), Text: o.cell("Text"), Currency: o.currency(), Worth: o.amount("Worth")}
	i.Amount, i.Tax = o.amountIn(i.Currency, "Amount"), o.amountIn(i.Currency, "Tax inside")
	o.oneOf("items", string(i.Stood), "stands in old books")
	i.PartyID = recordOf[master.Party](o, "Name", "customer or supplier", "name", "number")
	i.JobID = recordOf[master.Job](o, "Job", "job", "number", "name")
	i.TaxCodeID = recordOf[tax.Code](o, "Tax code", "tax code", "code")
	return i
}

// oneOf refuses what a row of a file cannot be.
func (o *openingReader) oneOf(file, what, says string) {
	if words := OpeningWords()[file]; !slices.Contains(words, what) {
		o.refuse("What", "%q is nothing that %s. It is one of: %s.", o.cell("What"), says, strings.Join(words, ", "))
	}
}

func (o *openingReader) contract() settling.OpeningContract {
	c := settling.OpeningContract{What: settling.Agreed(strings.ToLower(o.cell("What"))), Number: o.cell("Number"), Text: o.cell("Text"), Currency: o.currency(), Rate: o.rate()}
	c.Amount, c.Billed = o.amountIn(c.Currency, "Amount"), o.amountIn(c.Currency, "Billed before")
	o.oneOf("contracts", string(c.What), "is said of a contract")
	c.PartyID = recordOf[master.Party](o, "Name", "customer", "name", "number")
	c.JobID = recordOf[master.Job](o, "Job", "job", "number", "name")
	c.TaxCodeID = recordOf[tax.Code](o, "Tax code", "tax code", "code")
	return c
}

func (o *openingReader) onTheWay() (settling.OpeningOnTheWay, string) {
	id := recordOf[ledger.BankAccount](o, "Account", "bank account", "name")
	in := o.currencyOf(func(b ledger.BankAccount) bool { return b.ID == id })
	return settling.OpeningOnTheWay{BankAccountID: id, Day: o.day("Day"), Reference: o.cell("Reference"), Text: o.cell("Text"), In: o.amountIn(in, "Paid in"), Out: o.amountIn(in, "Paid out"), Worth: o.amount("Worth")}, in
}

// currencyOf is the currency of a bank account.
func (o *openingReader) currencyOf(is func(ledger.BankAccount) bool) string {
	banks, err := store.All[ledger.BankAccount](o.r, "id")
	if err != nil {
		o.err = err
	}
	if n := slices.IndexFunc(banks, is); n >= 0 {
		return banks[n].Currency
	}
	return ""
}

func (o *openingReader) goods() settling.OpeningGoods {
	g := settling.OpeningGoods{ArticleID: recordOf[master.Article](o, "Article", "article", "code", "name"), Value: o.amount("Value")}
	quantity, err := decimal.NewFromString(strings.ReplaceAll(o.cell("Quantity"), ",", "."))
	if err != nil {
		o.refuse("Quantity", "%q is no quantity.", o.cell("Quantity"))
	}
	g.Quantity = quantity
	for _, s := range strings.FieldsFunc(o.cell("Numbers"), func(c rune) bool { return c == ',' || c == ';' || c == '\n' }) {
		g.Serials = append(g.Serials, strings.TrimSpace(s))
	}
	return g
}

func (o *openingReader) trial() (settling.OpeningBalance, string) {
	id := recordOf[ledger.Account](o, "Account", "account", "number", "name")
	in := o.currencyOf(func(b ledger.BankAccount) bool { return b.AccountID == id })
	return settling.OpeningBalance{AccountID: id, Debit: o.amount("Debit"), Credit: o.amount("Credit"), Own: o.amountIn(in, "In its currency")}, in
}

// Opened tells whether a firm has begun with old books: the day, and how many
// papers stand.
func (b *Book) Opened(ctx context.Context) (day.Day, int, error) {
	facts, err := b.Read(ctx).Facts(b.Today())
	if err != nil {
		return "", 0, err
	}
	ids := facts.OpeningPapers()
	if len(ids) == 0 {
		return "", 0, facts.Err()
	}
	p, _ := facts.Paper(ids[0])
	return p.Day, len(ids), facts.Err()
}
