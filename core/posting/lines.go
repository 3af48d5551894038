package posting

import (
	"errors"
	"fmt"
	"strings"

	"cleantally/core/day"
	"cleantally/core/ledger"
	"cleantally/core/master"
	"cleantally/core/money"
	"cleantally/core/tax"

	"github.com/shopspring/decimal"
)

// Line is a line of a paper as it is written, of what is billed and of what is
// bought alike. A discount is a percentage or an amount. It may be below nil;
// the paper's total may not.
type Line struct {
	ArticleID       int64
	JobID           int64
	Text            string
	Unit            string // that the quantity is told in; "": the article's
	Quantity        decimal.Decimal
	UnitPrice       decimal.Decimal
	DiscountPercent decimal.Decimal
	Discount        money.Amount
	TaxCodeID       int64
	AccountID       int64 // 0: the article's, else workmanship, of what is billed
	Apart           bool  // takes no part in the paper's discount
	Of              Thing // the posted line that it bills a quantity of; the zero value for none
	Given           *Part // what it comes to, as the line that it bills has it, in place of quantity × price
	Deducts         *Part // takes off what was billed in advance, as it was billed
	Register        ledger.Role
	Untaxed         bool            // it bears no tax and no tax code
	Recovers        bool            // it takes out of recoverable costs
	Costs           []CostShare     // what it passes on, in place of quantity × price
	Took            []CostTake      // worked out of Costs
	Serials         []string        // of pieces of stock that bear numbers
	PassOn          Treatment       // of a cost
	Markup          decimal.Decimal // of a cost that is passed on, percent
	Joined          bool            // its input tax joins the cost
}

// Lines are the lines of a paper and what they share.
type Lines struct {
	Lines           []Line
	Day             day.Day // of the rates
	PartyID         int64
	Bought          bool   // on a paper of a supplier
	Credits         bool   // on a credit: an account of discounts is as good as one of income
	Field           string // that refusals name; "": lines
	Includes        bool   // prices include tax
	DiscountPercent decimal.Decimal
	Discount        money.Amount
	RoundTo         money.Amount // step of the total, nil for none
}

// Lines reads the lines of a paper and works out their sums. What is wrong is
// refused at its line.
func (b *Builder) Lines(in Lines) ([]PaperLine, tax.Sums) {
	ins := make([]tax.Line, len(in.Lines))
	outs := make([]PaperLine, len(in.Lines))
	for n, l := range in.Lines {
		field := in.field(n)
		var code tax.Code
		var percent decimal.Decimal
		if !l.Untaxed {
			code, percent = b.codeOn(field, n+1, l.TaxCodeID, in.Day)
		}
		ins[n] = tax.Line{Quantity: l.Quantity, UnitPrice: l.UnitPrice, DiscountPercent: l.DiscountPercent, Discount: l.Discount, Code: code, Percent: percent, Apart: l.Apart}
		if l.Given != nil {
			ins[n].Given, ins[n].Net = true, l.Given.Net()
			if in.Includes {
				ins[n].Net = l.Given.Amount.Own
			}
		}
		if l.Deducts != nil {
			ins[n].Deducts, ins[n].Net, ins[n].Tax = true, -l.Deducts.Net(), -l.Deducts.Tax.Own
		}
		outs[n] = PaperLine{Position: n + 1, ArticleID: l.ArticleID, JobID: l.JobID, Text: strings.TrimSpace(l.Text), Unit: b.unitOf(l), Quantity: l.Quantity, UnitPrice: l.UnitPrice,
			DiscountPercent: l.DiscountPercent, Discount: l.Discount, TaxCodeID: code.ID, TaxPercent: percent, Register: l.Register, PassOn: l.PassOn, Markup: l.Markup, Joined: l.Joined}
		if outs[n].Text == "" {
			b.Refuse(field+"text", "missing", "", "Line %d says nothing. Write what it is for.", n+1)
		}
		if code.Kind == tax.CustomerAccountsIt && !in.Bought {
			outs[n].TaxPercent = decimal.Zero
		}
		b.figures(field, n+1, l)
		outs[n].AccountID = b.accountOf(field, n+1, l, in)
		if l.JobID != 0 {
			b.JobOf(field+"job", l.JobID, 0)
		}
	}
	return outs, b.sums(in, ins, outs)
}

// field is the beginning of the name of a line's fields.
func (in Lines) field(n int) string {
	if in.Field == "" {
		in.Field = "lines"
	}
	return fmt.Sprintf("%s[%d].", in.Field, n)
}

func (b *Builder) sums(in Lines, ins []tax.Line, outs []PaperLine) tax.Sums {
	if in.Discount < 0 || in.DiscountPercent.IsNegative() || (in.Discount != 0 && !in.DiscountPercent.IsZero()) || !money.Fits(in.DiscountPercent, 4) {
		b.Refuse("discount", "one discount", "4", "The paper's discount is either a percentage with at most 4 places or an amount, and not below nil.")
		return tax.Sums{}
	}
	if in.RoundTo < 0 {
		b.Refuse("roundTo", "below nil", b.Currency().Format(0), "The step that a total is rounded to is above nil, or left out.")
		return tax.Sums{}
	}
	sums, err := tax.Compute(ins, tax.Terms{Currency: b.Currency(), Includes: in.Includes, DiscountPercent: in.DiscountPercent, Discount: in.Discount, RoundTo: in.RoundTo})
	var line tax.LineError
	switch {
	case errors.As(err, &line):
		b.Refuse(in.field(line.Line)+"unitPrice", "line sum", b.Currency().Format(money.Limit), "Line %d: %s. Lower its figures.", line.Line+1, err)
		return tax.Sums{}
	case err != nil:
		b.Refuse("discount", "paper sums", "", "%s. Lower the figures.", Sentence(err.Error()))
		return tax.Sums{}
	}
	for n, s := range sums.Lines {
		outs[n].Before, outs[n].Net, outs[n].Tax = s.Before, b.At(s.Net), b.At(s.Tax)
		if off := in.Lines[n].Deducts; off != nil {
			outs[n].Net.Base, outs[n].Tax.Base = off.Tax.Base-off.Amount.Base, -off.Tax.Base
		}
		if in.Lines[n].Recovers {
			outs[n].Net.Base = 0
			for _, t := range in.Lines[n].Took {
				outs[n].Net.Base += t.Part.Amount.Base
			}
		}
	}
	return sums
}

// unitOf is the unit of a line: its own, or its article's.
func (b *Builder) unitOf(l Line) string {
	if unit := strings.TrimSpace(l.Unit); unit != "" {
		return unit
	}
	article, _ := b.Article(l.ArticleID)
	return article.Unit
}

// figures refuses what has more places than its kind has, or is out of bounds.
func (b *Builder) figures(field string, n int, l Line) {
	if l.UnitPrice.IsNegative() && l.Quantity.IsNegative() {
		b.Refuse(field+"unitPrice", "below nil", "0", "Line %d: quantity and price are both below nil. Write one of them above.", n)
	}
	if !money.Fits(l.Quantity, 6) || !money.Fits(l.UnitPrice, 6) {
		b.Refuse(field+"unitPrice", "places", "6", "Line %d: a quantity or a price has at most 6 places.", n)
	}
	if l.Quantity.Abs().GreaterThan(mostOf) || l.UnitPrice.Abs().GreaterThan(mostOf) {
		b.Refuse(field+"unitPrice", "too large", mostOf.String(), "Line %d: a quantity or a price is at most %s.", n, mostOf)
	}
	if !money.Fits(l.DiscountPercent, 4) {
		b.Refuse(field+"discount", "places", "4", "Line %d: a percentage has at most 4 places.", n)
	}
	both := l.Discount != 0 && !l.DiscountPercent.IsZero()
	if both || l.Discount < 0 || l.DiscountPercent.IsNegative() || l.DiscountPercent.GreaterThan(decimal.New(100, 0)) {
		b.Refuse(field+"discount", "one discount", "100", "Line %d: a discount is a percentage from 0 to 100 or an amount.", n)
	}
}

// mostOf bounds a quantity and a price, so that a quantity fits in millionths.
var mostOf = decimal.New(1, 12)

// codeOn returns a tax code with its rate on a day.
func (b *Builder) codeOn(field string, n int, id int64, d day.Day) (tax.Code, decimal.Decimal) {
	code, rates, ok := b.TaxCode(id)
	if !ok {
		b.Refuse(field+"taxCode", "missing", "", "Choose a tax code for line %d.", n)
		return tax.Code{}, decimal.Zero
	}
	if code.Inactive {
		b.Refuse(field+"taxCode", "not in use", "", "Tax code %s is not in use any more. Choose another.", code.Code)
	}
	if d == "" {
		return code, decimal.Zero
	}
	percent, err := tax.RateOn(code, rates, d)
	if err != nil {
		b.Refuse(field+"taxCode", "no rate", "", "%s. Add a rate, or choose another code.", Sentence(err.Error()))
	}
	return code, percent
}

// accountOf returns the account that a line is posted to: its own, the
// article's, or the default of a service or material.
func (b *Builder) accountOf(field string, n int, l Line, in Lines) int64 {
	bought := in.Bought
	article, known := b.Article(l.ArticleID)
	if l.ArticleID != 0 && (!known || article.Inactive) {
		b.Refuse(field+"article", "not in use", "", "The article %s is not in use. Choose another, or write the line by hand.", article.Code)
	}
	id := l.AccountID
	switch {
	case bought:
		id = b.costAccount(id, l, article)
	case id == 0:
		id = b.offered(article)
	case l.Of == (Thing{}) && l.Register == "" && l.Deducts == nil && !l.Recovers && id != b.offered(article):
		b.effect.Chosen = true
	}
	switch {
	case l.Register != "":
		return b.Role(l.Register).ID
	case l.Deducts != nil:
		return b.Role(ledger.AdvanceBillings).ID
	case l.Recovers:
		return b.Role(ledger.Recoverable).ID
	}
	a, ok := b.Account(id)
	_, control := b.Control(id)
	switch {
	case !ok:
		b.Refuse(field+"account", "missing", "", "Choose the account that line %d goes to.", n)
	case a.Inactive:
		b.Refuse(field+"account", "not in use", "", "Account %s %s is not in use any more. Choose another.", a.Number, a.Name)
	case !bought && a.Type != ledger.Income && !(in.Credits && a.Type == ledger.ContraIncome):
		b.Refuse(field+"account", "not income", "", "Account %s %s is no income account. Choose an income account.", a.Number, a.Name)
	case bought && (control && !b.Stocked(l) || b.IsBank(id)):
		b.Refuse(field+"account", "control account", "", "Account %s %s moves by its own papers alone. Choose a cost account.", a.Number, a.Name)
	}
	return id
}

// offered is the account that a line of an article, or of none, goes to unless
// another is chosen.
func (b *Builder) offered(article master.Article) int64 {
	switch {
	case article.AccountID != 0:
		return article.AccountID
	case article.Kind == master.Material:
		return b.Role(ledger.MaterialSales).ID
	}
	return b.Role(ledger.ServiceSales).ID
}

// costAccount is where a bought line goes that names no account: stock, the
// costs of its job, or of the materials that are sold.
func (b *Builder) costAccount(id int64, l Line, article master.Article) int64 {
	switch {
	case b.Stocked(l):
		return b.Role(ledger.Stock).ID
	case id != 0:
		return id
	case l.JobID != 0:
		return b.Role(ledger.JobCosts).ID
	case article.Kind == master.Material:
		return b.Role(ledger.CostOfSales).ID
	}
	return 0
}

// Stocked tells whether a bought line brings goods into stock: of a stocked
// article that is not bought for a job straight away.
func (b *Builder) Stocked(l Line) bool {
	article, _ := b.Article(l.ArticleID)
	return article.Stocked && l.JobID == 0 && l.PassOn == KeptAsCost
}

// EnterLines enters what the lines of a paper come to: each account once by
// tax code and job, and the tax by code. Sign is −1 for what is billed, 1 for
// what is bought. Tax that falls due when it is paid is entered by the items that
// bear it; here comes what takes off.
func (b *Builder) EnterLines(p *Paper, s tax.Sums, taxRole ledger.Role, sign money.Amount) {
	joined := map[int64]Worth{} // tax that is a part of what a line cost
	for _, l := range p.Lines {
		cost := l.Net
		if sign > 0 && l.WithTax() {
			joined[l.TaxCodeID] = joined[l.TaxCodeID].Add(l.Tax)
			cost = cost.Add(l.Tax)
		}
		if _, control := b.Control(l.AccountID); control {
			continue // what waits there, or is deducted, enters it by itself
		}
		at := ledger.Line{PartyID: p.PartyID, JobID: p.JobID, TaxCodeID: l.TaxCodeID}
		if l.JobID != 0 { // a cost of another party's job bears that, and not who was paid
			at.PartyID, at.JobID = 0, l.JobID
		}
		b.DebitWorth(ledger.Account{ID: l.AccountID}, cost.times(sign), at)
	}
	taxes := TaxesOf(p, s)
	for _, c := range s.Codes {
		tax := taxes[c.Code.ID]
		at := ledger.Line{PartyID: p.PartyID, JobID: p.JobID, TaxCodeID: c.Code.ID}
		switch {
		case taxRole != ledger.TaxWhenPaid:
			b.DebitWorth(b.Role(taxRole), tax.Add(joined[c.Code.ID].Neg()).times(sign), at)
		case c.Tax*p.side() < 0:
			b.DebitWorth(b.Role(ledger.OutputTax), tax.times(sign), at)
		}
		if sign > 0 { // we account for the tax: both sides of it
			buyer := b.ofPaper(*p, c.Buyer)
			b.DebitWorth(b.Role(ledger.InputTax), buyer, at)
			b.CreditWorth(b.Role(ledger.OutputTax), buyer, at)
		}
	}
	b.DebitWorth(b.Role(ledger.Rounding), b.ofPaper(*p, p.Rounding).times(sign), ledger.Line{PartyID: p.PartyID, JobID: p.JobID})
	b.Wait(p)
}

// side is 1 for a paper that bills, −1 for one that credits.
func (p *Paper) side() money.Amount {
	if p.Kind == CreditNote {
		return -1
	}
	return 1
}
