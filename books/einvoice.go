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
	"cleantally/core/sheet"
	"cleantally/core/tax"
	"cleantally/formats/ubl"
	"cleantally/store"

	"github.com/shopspring/decimal"
)

// typeOf are the papers that go out as electronic invoices.
var typeOf = map[posting.Kind]string{posting.Invoice: ubl.TypeInvoice, posting.DepositInvoice: ubl.TypePrepayment, posting.CreditNote: ubl.TypeCreditNote}

// Electronic tells whether a paper goes out as an electronic invoice: what bills
// and credits, and a deposit that was taxed on receipt.
func Electronic(p posting.Paper) bool {
	return typeOf[p.Kind] != "" || taxedDeposit(p)
}

func taxedDeposit(p posting.Paper) bool { return p.Kind == posting.Deposit && p.Tax != 0 }

// ElectronicInvoice is a posted paper as an electronic invoice, with what was set
// against it by the end of a day. It returns posting.Refusals that say which
// rules of the norm it would break, or store.ErrNoRecord.
func (b *Book) ElectronicInvoice(ctx context.Context, id int64, at day.Day) (Printed, error) {
	var v ubl.Invoice
	err := b.db.Snapshot(ctx, func(r *store.Reader) error {
		d, _, err := sheetData(r, id, at)
		if err != nil {
			return err
		}
		if !Electronic(d.Paper) {
			return posting.Refusals{{Field: "paper", Rule: "another kind", Text: fmt.Sprintf("A %s is no electronic invoice. Invoices, credit notes and taxed deposits are.", d.Paper.Kind)}}
		}
		v, err = electronic(r, d)
		return err
	})
	if err != nil {
		return Printed{}, err
	}
	if broken := ubl.Check(v); len(broken) > 0 {
		var refused posting.Refusals
		for _, x := range broken {
			refused = append(refused, posting.Notice{Field: "paper", Rule: x.Rule, Text: x.Text})
		}
		return Printed{}, refused
	}
	file, err := ubl.Write(v)
	return Printed{Name: v.Number + ".xml", File: file}, err
}

// electronic makes an electronic invoice of what a sheet is made of.
func electronic(r *store.Reader, d sheet.Data) (ubl.Invoice, error) {
	p := d.Paper
	firm, err := r.Firm()
	if err != nil {
		return ubl.Invoice{}, err
	}
	party, _, err := store.Find[master.Party](r, p.PartyID)
	if err != nil {
		return ubl.Invoice{}, err
	}
	codes, err := r.TaxCodes()
	if err != nil {
		return ubl.Invoice{}, err
	}
	v := ubl.Invoice{Type: typeOf[p.Kind], Number: p.Number, Day: p.Day, Due: p.Due, Currency: d.Currency, Order: p.OrderNumber, Project: d.Job, Delivered: p.Supplied, Quoting: p.Number,
		Seller: ubl.Party{Name: firm.Name, Lines: strings.Split(firm.Address, "\n"), Country: firm.Country, TaxNumber: firm.TaxNumber, Email: firm.Email, Contact: firm.Name, Phone: firm.Phone},
		Buyer:  ubl.Party{Name: p.PartyName, Lines: strings.Split(d.Address, "\n"), Country: party.Country, TaxNumber: party.TaxNumber, Email: party.Email, Contact: party.Contact, Phone: party.Phone}}
	if p.Currency != "" {
		v.Books, v.BooksTax = d.Firms, p.InFirm.Tax.Abs()
	}
	if a := d.Account; a != nil {
		v.Account = &ubl.Account{Owner: a.Owner, IBAN: a.IBAN, BIC: a.BIC}
	}
	if p.Note != "" {
		v.Notes = []string{p.Note}
	}
	v.Notes = append(v.Notes, d.Sentences...)
	says := eterms(d)
	v.Terms = strings.Join(says, " ")
	if taxedDeposit(p) {
		v.Type = ubl.TypePrepayment
		l, err := depositLine(r, d)
		if err != nil {
			return v, err
		}
		p.Lines = []posting.PaperLine{l}
		v.Prepaid = p.Total // it was paid when it was made
	}
	lines(&v, p, codes)
	for _, s := range d.Settled {
		if s.Credit && p.Kind != posting.Deposit {
			v.Prepaid += s.Amount
		}
	}
	v.Rounding = p.Total - v.Gross
	v.Payable = v.Gross - v.Prepaid + v.Rounding
	v.Preceding, err = preceding(r, p)
	return v, err
}

// eterms are what a paper says of how it is paid. What is kept back is told here:
// it stays in what is payable (docs/rules.md, part 12).
func eterms(d sheet.Data) (says []string) {
	p := d.Paper
	if p.Kind == posting.CreditNote {
		says = append(says, "It is set against what is open, or given back.")
	}
	if p.Due != "" {
		says = append(says, "Payable by "+d.Style.Show(p.Due)+".")
	}
	if !p.EarlyPercent.IsZero() {
		says = append(says, fmt.Sprintf("%s %% discount until %s.", p.EarlyPercent, d.Style.Show(p.EarlyUntil)))
	}
	if p.Retained != 0 {
		says = append(says, fmt.Sprintf("Of it %s %s is kept back as agreed.", d.Currency.Show(p.Retained), d.Currency.Code))
	}
	return says
}

// preceding are the invoices that a paper takes off or credits.
func preceding(r *store.Reader, p posting.Paper) (all []ubl.Preceding, err error) {
	var ids []int64
	if p.Kind == posting.CreditNote && p.SourceID != 0 {
		ids = append(ids, p.SourceID)
	}
	facts, err := r.Facts(p.Day)
	if err != nil {
		return nil, err
	}
	// What was paid in advance, and taxed then, went before it too.
	for _, i := range facts.PaperItems(p.ID) {
		for _, a := range facts.AllocationsOf(i.ID) {
			if by, _ := facts.Item(a.Credit); by.Register == ledger.Deposits && by.Tax.Own != 0 && !slices.Contains(ids, by.PaperID) {
				ids = append(ids, by.PaperID)
			}
		}
	}
	for _, u := range facts.UsesBy(p.ID) {
		if (u.As == posting.Deducted || u.As == posting.Credited) && u.Undoes == 0 && !slices.Contains(ids, u.Of.PaperID) {
			ids = append(ids, u.Of.PaperID)
		}
	}
	for _, id := range ids {
		of, there, err := r.Paper(id)
		if err != nil {
			return nil, err
		}
		if there {
			all = append(all, ubl.Preceding{Number: of.Number, Day: of.Day})
		}
	}
	return all, facts.Err()
}

// depositLine is what a taxed deposit bills: its net and the tax inside.
func depositLine(r *store.Reader, d sheet.Data) (l posting.PaperLine, err error) {
	p := d.Paper
	net := posting.Firm(p.Total - p.Tax)
	l = posting.PaperLine{Position: 1, Text: p.Title, Quantity: decimal.New(1, 0), UnitPrice: d.Currency.Decimal(net.Own), Before: net.Own, Net: net, Tax: posting.Firm(p.Tax)}
	facts, err := r.Facts(p.Day)
	if err != nil {
		return l, err
	}
	for _, i := range facts.PaperItems(p.ID) {
		if i.TaxCodeID == 0 {
			continue
		}
		l.TaxCodeID = i.TaxCodeID
		if code, rates, ok := facts.TaxCode(i.TaxCodeID); ok {
			if l.TaxPercent, err = tax.RateOn(code, rates, p.Day); err != nil {
				return l, err
			}
		}
	}
	return l, facts.Err()
}

// lines fills in the lines with what they come to, by categories of tax.
func lines(v *ubl.Invoice, p posting.Paper, codes []tax.Code) {
	type key struct{ code, percent string }
	var order []key
	taxes := map[key]*ubl.Tax{}
	off := map[key]money.Amount{} // the paper's discount
	for _, l := range p.Lines {
		c := categoryOf(l, codes)
		k := key{c.Code, c.Percent.String()}
		if taxes[k] == nil {
			taxes[k] = &ubl.Tax{Category: c}
			order = append(order, k)
		}
		net := l.Before
		if p.Includes { // then what the line shows has its tax inside
			net = l.Net.Own
		}
		line := ubl.Line{Text: l.Text, Unit: unitCode(l.Unit), Net: net, Category: ubl.Category{Code: c.Code, Percent: c.Percent}}
		line.Quantity, line.Price, line.Allowance = figures(v.Currency, l, net, p.Includes)
		v.Lines = append(v.Lines, line)
		v.LineTotal += net
		off[k] += net - l.Net.Own
		taxes[k].Taxable += l.Net.Own
		taxes[k].Tax += l.Tax.Own
	}
	for _, k := range order {
		t := *taxes[k]
		if o := off[k]; o != 0 {
			v.Allowances = append(v.Allowances, ubl.Allowance{Charge: o < 0, Amount: o.Abs(), Reason: "Discount", Category: ubl.Category{Code: t.Code, Percent: t.Percent}})
			v.AllowanceTotal += max(o, 0)
			v.ChargeTotal += max(-o, 0)
		}
		v.Taxes = append(v.Taxes, t)
		v.Tax += t.Tax
	}
	v.Net = v.LineTotal - v.AllowanceTotal + v.ChargeTotal
	v.Gross = v.Net + v.Tax
}

// categoryOf is how a line is taxed. What was paid on the customer's behalf is
// exempt, not outside (docs/rules.md, part 12).
func categoryOf(l posting.PaperLine, codes []tax.Code) ubl.Category {
	if l.PassOn == posting.OnBehalf || l.TaxCodeID == 0 {
		return ubl.Category{Code: "E", Reason: "Paid on the customer's behalf", ReasonCode: "VATEX-EU-79-C"}
	}
	n := slices.IndexFunc(codes, func(c tax.Code) bool { return c.ID == l.TaxCodeID })
	if n < 0 {
		return ubl.Category{Code: "S", Percent: l.TaxPercent}
	}
	code := codes[n]
	c := ubl.Category{Code: code.CategoryAt(l.TaxPercent), Percent: l.TaxPercent}
	is := tax.Categories[c.Code]
	if c.Reason = code.Reason; c.Reason == "" {
		c.Reason = is.Reason
	}
	if c.ReasonCode = is.Code; c.Code == "S" || c.Code == "Z" {
		c.Reason = ""
	}
	return c
}

// figures are the quantity, the price and what is taken off a line, so that they
// come to its net. The price is never below nil: the quantity is, where the line
// is (BR-27).
func figures(cur money.Currency, l posting.PaperLine, net money.Amount, includes bool) (quantity, price decimal.Decimal, off money.Amount) {
	quantity, price = l.Quantity, l.UnitPrice
	whole := cur.Round(quantity.Mul(price))
	switch {
	case includes && !quantity.IsZero():
		price = cur.Decimal(net).DivRound(quantity, 8)
	case quantity.IsZero() || price.IsZero() || (net < 0) != (whole < 0) || whole != net && l.DiscountPercent.IsZero() && l.Discount == 0:
		quantity, price = decimal.New(1, 0), cur.Decimal(net)
	default:
		off = whole - net
	}
	if price.IsNegative() {
		quantity, price = quantity.Neg(), price.Neg()
	}
	return quantity, price, off
}

// unitCodes are the codes of units (UN/ECE recommendation 20) by what firms
// write.
var unitCodes = map[string]string{"h": "HUR", "hour": "HUR", "hours": "HUR", "d": "DAY", "day": "DAY", "days": "DAY", "m": "MTR", "m2": "MTK", "m²": "MTK", "m3": "MTQ", "m³": "MTQ", "kg": "KGM", "t": "TNE", "l": "LTR", "km": "KMT", "min": "MIN", "week": "WEE", "month": "MON", "pc": "H87", "pcs": "H87", "piece": "H87", "pieces": "H87", "set": "SET", "%": "P1"}

// unitCode is the code of a unit; what has none is counted as "one".
func unitCode(unit string) string {
	if c, known := unitCodes[strings.ToLower(strings.TrimSpace(unit))]; known {
		return c
	}
	return "C62"
}
