// Package sheet says what of a paper goes out, and in which place: the same
// figures on screen, printed, mailed, behind a link (docs/rules.md, part 12). It
// computes nothing: what stands here was worked out when the paper was posted,
// and what is left of it as of a day by the store.
package sheet

import (
	"fmt"
	"slices"
	"strings"

	"cleantally/core/day"
	"cleantally/core/ledger"
	"cleantally/core/money"
	"cleantally/core/posting"
)

// Sheet is a paper as it goes out. Amounts are plain decimals ("1200.00"); what
// draws the sheet writes them with Marks.
type Sheet struct {
	Heading   string   `json:"heading"`
	Number    string   `json:"number"`
	Firm      Address  `json:"firm"`
	TaxNumber string   `json:"taxNumber" doc:"As it is told"`
	To        Address  `json:"to"`
	Facts     []Fact   `json:"facts"`
	Subject   string   `json:"subject"`
	Says      string   `json:"says" doc:"What it is, where it has no lines"`
	Columns   []Column `json:"columns"`
	Rows      []Row    `json:"rows"`
	Sums      []Sum    `json:"sums"`
	InWords   string   `json:"inWords" doc:"What was handed over, in words; on what is a receipt for money"`
	Sign      []string `json:"sign" doc:"What stands at its foot: to be signed, or by whom it was"`
	Below     []string `json:"below" doc:"What is told below the sums"`
	Pay       *Pay     `json:"pay,omitempty" doc:"How it is paid; left out where nothing is left to pay"`
	Note      string   `json:"note"`
	Sentences []string `json:"sentences" doc:"What it has to say about tax"`
	Draft     bool     `json:"draft"`
}

// Address is who somebody is and where.
type Address struct {
	Name  string `json:"name"`
	Lines string `json:"lines" doc:"One below another"`
}

// Fact is something told of the whole paper: its date, its job.
type Fact struct {
	Name  string `json:"name"`
	Value string `json:"value"`
}

// Column is one of the lines' columns.
type Column struct {
	Name   string `json:"name"`
	Ours   string `json:"ours" doc:"What we call it, whatever the letterhead says"`
	Figure bool   `json:"figure" doc:"Flush right"`
	Sum    bool   `json:"sum" doc:"Its figures add up to what is carried over to the next page"`
}

// Row is a line of the paper.
type Row struct {
	Cells  []string `json:"cells"`
	Beside string   `json:"beside" doc:"Told below its text"`
	Amount string   `json:"amount" doc:"Plain, where the last column is an amount"`
	So     string   `json:"so" doc:"What the lines come to through this one, plain"`
}

// Sum is a line below the lines. Look is "", total, kept, held, part or left.
type Sum struct {
	Name   string `json:"name"`
	Amount string `json:"amount" doc:"Plain"`
	Look   string `json:"look" enum:",total,kept,held,part,left"`
}

// Pay is how a paper is paid.
type Pay struct {
	Text string `json:"text"`
	Code string `json:"code" doc:"What a payment code says (EPC069-12); empty where there can be none"`
}

// Data is what a sheet is made of.
type Data struct {
	Firm      Address
	TaxNumber string
	Style     day.Style
	Currency  money.Currency // the paper's
	Firms     money.Currency // the firm's, of a paper in another

	Paper     posting.Paper // a credit note's figures the other way round: as they are read
	State     string
	Address   string // as it is printed
	Job       string // number and name
	Bank      string // by which the money moved
	Source    string // number of the paper that it stands on
	Reverses  string
	Disputed  string
	Early     money.Amount // the discount for early payment, of the gross
	Open      money.Amount // above nil
	Left      money.Amount // of what is taken line by line, with tax
	Cancelled money.Amount // of that
	Items     []posting.Item
	Settled   []Settled
	Cleared   []Cleared                    // by a payout by card
	Deducts   func(posting.PaperLine) bool // whether a line takes off what was billed in advance
	Unpaid    []Advance                    // deducted, and not yet paid
	Account   *Account                     // that customers pay to
	Sentences []string
	Signed    *Signed
	Draft     bool
	Words     map[string]string // the firm's words in place of ours; see Words
}

// Settled is a credit that stands set against the paper, or what the paper is
// set against.
type Settled struct {
	Amount    money.Amount
	Currency  string // of it, where that is not the firm's own, ISO 4217
	Day       day.Day
	Other     string // number of the paper on the other side
	OtherKind posting.Kind
	OtherDay  day.Day
	Reference string
	Bound     string // what it is bound to: a refund, a discount
	Credit    bool   // the other side settles this one
}

// Cleared is what a payout by card cleared: below nil what had gone from there.
type Cleared struct {
	Number string
	Day    day.Day
	Party  string
	Amount money.Amount
}

// Advance is a deposit invoice with what is open of it.
type Advance struct {
	Number string
	Open   money.Amount
}

// Account is where money is paid to.
type Account struct{ Owner, Name, IBAN, BIC string }

// Signed says who signed for a delivery, and when.
type Signed struct {
	By string
	On day.Day
}

// Of makes the sheet of a paper.
func Of(d Data) Sheet {
	p := d.Paper
	s := Sheet{Heading: d.say(heading(p)), Number: p.Number, Firm: d.Firm, TaxNumber: TaxLine(d.Words, d.TaxNumber), To: Address{p.PartyName, d.Address}, Facts: d.facts(), Subject: p.Subject,
		Columns: []Column{}, Rows: []Row{}, Sums: []Sum{}, Sign: []string{}, Below: []string{}, Note: p.Note, Sentences: append([]string{}, d.Sentences...), Draft: d.Draft}
	if p.Kind == posting.Reversal && p.Note != "" {
		s.Note = d.say("Why") + ": " + p.Note
	}
	switch {
	case hasLines(p.Kind):
		d.lines(&s)
	case handsOver(p.Kind):
		d.handedOver(&s)
	default:
		d.money(&s)
	}
	d.pay(&s)
	return s
}

// Bills tells whether a kind bills the customer line by line.
func Bills(k posting.Kind) bool { return k == posting.Invoice || k == posting.DepositInvoice }

func hasLines(k posting.Kind) bool {
	return slices.Contains([]posting.Kind{posting.Invoice, posting.DepositInvoice, posting.Order, posting.Quote, posting.CreditNote, posting.PurchaseOrder, posting.SupplierBill, posting.Expense, posting.SupplierCredit}, k)
}

func handsOver(k posting.Kind) bool {
	return slices.Contains([]posting.Kind{posting.Delivery, posting.Cancellation, posting.Return, posting.GoodsIn, posting.StockUse, posting.StockCount}, k)
}

// headings are what papers are called on their sheet, where that is not their
// kind.
var headings = map[posting.Kind]string{
	posting.Release: "Release of retention", posting.Unidentified: "Money not identified", posting.Journal: "Journal entry", posting.StockUse: "Used from stock",
	posting.PayableRelease: "Release to a supplier", posting.NotPassedOn: "Costs not to be billed",
}

// forms are what invoices are called in the course of a contract.
var forms = map[string]string{"stage": "Stage invoice", "final": "Final invoice", "late charge": "Late charge"}

func heading(p posting.Paper) string {
	if form, ok := forms[p.Form]; ok && p.Kind == posting.Invoice {
		return form
	}
	if h, ok := headings[p.Kind]; ok {
		return h
	}
	return posting.Sentence(string(p.Kind))
}

// on writes a day as the firm does; in leaves out the year where it is that of
// the paper.
func (d Data) on(x day.Day) string { return d.Style.Show(x) }
func (d Data) in(x day.Day) string { return d.Style.ShowIn(x, d.Paper.Day) }

// say writes one of our words, or the firm's own in its place, with what it is
// said of.
func (d Data) say(words string, of ...any) string { return Say(d.Words, words, of...) }

// TaxLine is how a tax number is told at the head; "" for none.
func TaxLine(words map[string]string, number string) string {
	if number == "" {
		return ""
	}
	return Say(words, "Tax number %s", number)
}

// Say is one of Words, as the firm says it where it has words of its own.
func Say(own map[string]string, words string, of ...any) string {
	if own := own[words]; own != "" && Fits(words, own) {
		words = own
	}
	if len(of) == 0 {
		return strings.ReplaceAll(words, "%%", "%")
	}
	return fmt.Sprintf(words, of...)
}

// show writes an amount for people, within a text.
func (d Data) show(a money.Amount) string { return d.Currency.Show(a) }

// owed are the parts that are to be paid, without what is kept back.
func (d Data) owed() []posting.Item {
	var parts []posting.Item
	for _, i := range d.Items {
		if i.Register == ledger.Receivables || i.Register == ledger.Payables {
			parts = append(parts, i)
		}
	}
	return parts
}

func (d Data) facts() []Fact {
	p, facts := d.Paper, []Fact{}
	add := func(name, value string, when bool) {
		if when && value != "" {
			facts = append(facts, Fact{d.say(name), value})
		}
	}
	onePart := len(d.owed()) < 2
	add("Date", d.on(p.Day), true)
	add("Currency", p.Currency, p.Currency != "")
	add("Service date", d.on(p.Supplied), p.Supplied != "")
	add("Due date", d.on(p.Due), p.Due != "" && onePart && (Bills(p.Kind) || p.Kind == posting.Request || p.Kind == posting.Release || p.Kind == posting.SupplierBill))
	add("Job", d.Job, true)
	add("Your order", p.OrderNumber, true)
	add("Reference", p.Reference, true)
	add("Your contact", p.Salesperson, true)
	add("Method", string(p.Method)+", "+d.Bank, p.Method != "" && p.Kind != posting.Reversal)
	add("Cheque", p.Cheque, true)
	add("Last date", d.on(p.Due), p.Kind == posting.Guarantee)
	add("Expected", d.on(p.Due), p.Kind == posting.PurchaseOrder && p.Due != "")
	add("Holds through", d.on(p.Holds), p.Holds != "")
	add("Version", fmt.Sprint(p.Version), p.Version > 1)
	if p.EarlyUntil != "" {
		add("Early payment", d.say("%s %%, %s, by %s", d.Currency.Marks.Show(p.EarlyPercent.String()), d.show(d.Early), d.on(p.EarlyUntil)), true)
	}
	add("Invoice", d.Source, p.Kind == posting.CreditNote)
	why := "Why"
	if p.Kind == posting.Invoice {
		why = "Claim"
	}
	add(why, p.Reason, true)
	add("Disputed", d.Disputed, true)
	return facts
}

// pay adds how the paper is paid, where something is left.
func (d Data) pay(s *Sheet) {
	left := d.Open
	switch {
	case d.Paper.Kind == posting.Request:
		left = d.Left
	case !Bills(d.Paper.Kind) && d.Paper.Kind != posting.Release:
		return
	}
	if a := d.Account; a != nil && left > 0 {
		s.Pay = &Pay{Text: d.say("Please pay to %s, IBAN %s, quoting %s.", a.Name, a.IBAN, d.Paper.Number), Code: a.code(left, d.Currency, d.Paper.Number)}
	}
}

// code is what a payment code for an amount says: the guidelines EPC069-12 for
// credit transfers in euro, version 002. There is none in other currencies.
func (a Account) code(left money.Amount, cur money.Currency, reference string) string {
	if cur.Code != "EUR" || left > 99999999999 {
		return ""
	}
	cut := func(text string, most int) string {
		text = strings.Join(strings.Fields(text), " ")
		if runes := []rune(text); len(runes) > most {
			return string(runes[:most])
		}
		return text
	}
	return strings.Join([]string{"BCD", "002", "1", "SCT", strings.ReplaceAll(a.BIC, " ", ""), cut(a.Owner, 70), strings.ReplaceAll(a.IBAN, " ", ""), "EUR" + cur.Format(left), "", "", cut(reference, 140)}, "\n")
}
