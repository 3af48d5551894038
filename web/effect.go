package web

import (
	"cleantally/core/ledger"
	"cleantally/core/money"
	"cleantally/core/posting"
)

// Line is one line of a journal entry. One of debit and credit is "".
type Line struct {
	AccountID int64  `json:"accountId"`
	Account   string `json:"account" doc:"Number and name"`
	Debit     string `json:"debit"`
	Credit    string `json:"credit"`
	Own       string `json:"own,omitempty" doc:"The amount in another currency, with its code; empty in the firm's own"`
	Party     string `json:"party,omitempty"`
	Job       string `json:"job,omitempty"`
	TaxCode   string `json:"taxCode,omitempty"`
}

// Entry is a journal entry.
type Entry struct {
	ID      int64  `json:"id"`
	Day     string `json:"day"`
	Text    string `json:"text"`
	PaperID int64  `json:"paperId"`
	Paper   string `json:"paper"`
	Lines   []Line `json:"lines"`
	Total   string `json:"total" doc:"Sum of the debits, which is that of the credits"`
}

// Balance is a balance before and after.
type Balance struct {
	Kind   string `json:"kind" enum:"item,party,job,account"`
	ID     int64  `json:"id"`
	Name   string `json:"name"`
	What   string `json:"what"`
	Before string `json:"before"`
	After  string `json:"after"`

	Currency string `json:"currency,omitempty" doc:"ISO 4217; empty for the firm's own"`
}

// Effect is what a command does: shown before it is posted.
type Effect struct {
	Paper    *PaperSums `json:"paper,omitempty" doc:"The first, where it makes several"`
	Papers   []NewPaper `json:"papers" doc:"Every paper that it makes"`
	Entries  []Entry    `json:"entries"`
	Debit    string     `json:"debit" doc:"Sum of all debits"`
	Credit   string     `json:"credit" doc:"Sum of all credits"`
	Balances []Balance  `json:"balances"`
	Pairs    []Pair     `json:"pairs" doc:"What is set against what"`
	Placed   string     `json:"placed" doc:"The sum of the pairs"`
	Warnings []Notice   `json:"warnings"`
	Refusals []Notice   `json:"refusals"`
	Word     *Notice    `json:"word,omitempty" doc:"What a second person must agree to"`
	Agreed   string     `json:"agreed,omitempty" doc:"Who agreed to it from their own screen"`
	Others   []string   `json:"others,omitempty" doc:"Who could; none where it is one's own password, again"`
	Token    string     `json:"token" doc:"Names this effect with its command and warnings, for the post of just this"`
}

// NewPaper is a paper that an effect makes.
type NewPaper struct {
	Kind   string `json:"kind"`
	Number string `json:"number" doc:"The number that it would get"`
	Title  string `json:"title"`
	Total  string `json:"total"`
	Tax    string `json:"tax" doc:"Inside or beside it, as the kind has it"`
	Cheque string `json:"cheque"`

	Currency string `json:"currency,omitempty" doc:"ISO 4217; empty for the firm's own"`
}

// Pair is an allocation of an effect. A new item is 0.
type Pair struct {
	Debit  int64  `json:"debit"`
	Credit int64  `json:"credit"`
	Amount string `json:"amount"`
	Day    string `json:"day"`
	Undone bool   `json:"undone" doc:"Whether it takes one back"`

	Currency string `json:"currency,omitempty" doc:"ISO 4217; empty for the firm's own"`
}

// PaperSums is what a paper being written comes to.
type PaperSums struct {
	Number     string      `json:"number" doc:"The number that it would get"`
	Due        string      `json:"due"`
	Note       string      `json:"note" doc:"That it would bear"`
	Lines      []LineSum   `json:"lines"`
	Taxes      []TaxSum    `json:"taxes"`
	Discount   string      `json:"discount"`
	Off        string      `json:"off" doc:"The discount as it is taken off, below nil"`
	Net        string      `json:"net"`
	Tax        string      `json:"tax"`
	Rounding   string      `json:"rounding"`
	Total      string      `json:"total"`
	Left       string      `json:"left" doc:"Left to pay after what is set against it"`
	Before     string      `json:"before" doc:"The total before what was billed in advance is taken off"`
	Deductions []Deduction `json:"deductions" doc:"What was billed in advance and is taken off"`
	Deducted   string      `json:"deducted" doc:"The sum of them, with tax"`
	Retained   string      `json:"retained" doc:"What the customer keeps back"`
	KeptOff    string      `json:"keptOff" doc:"The same as it is taken off, below nil"`
	Unplaced   string      `json:"unplaced" doc:"What of a receipt is not placed"`
	Parts      []Part      `json:"parts" doc:"The instalments, or the one due day"`

	Currency string `json:"currency,omitempty" doc:"ISO 4217; empty for the firm's own"`
	Rate     string `json:"rate,omitempty" doc:"What one unit of it is worth in the firm's"`
	Base     string `json:"base,omitempty" doc:"What the total is worth in the firm's currency"`
	BaseTax  string `json:"baseTax,omitempty" doc:"And its tax"`
}

// Deduction is what was billed in advance by a deposit invoice and is taken off
// by another: by one tax code, as it was billed.
type Deduction struct {
	Text    string `json:"text" doc:"The number and day of the deposit invoice"`
	Percent string `json:"percent" doc:"The rate of its tax"`
	Net     string `json:"net"`
	Tax     string `json:"tax"`
	Off     string `json:"off" doc:"With its tax, below nil"`
}

// deductions tells the lines that take off what was billed in advance apart
// from those that bill, with what is billed before they are taken off.
func deductions(p posting.Paper, cur money.Currency, n names) (billed []posting.PaperLine, off []Deduction, net, tax money.Amount) {
	off, net, tax = []Deduction{}, p.Net, p.Tax
	for _, l := range p.Lines {
		if !n.Deducts(l) {
			billed = append(billed, l)
			continue
		}
		off = append(off, Deduction{l.Text, dec(l.TaxPercent), cur.Format(-l.Net.Own), cur.Format(-l.Tax.Own), cur.Format(l.Net.Own + l.Tax.Own)})
		net, tax = net-l.Net.Own, tax-l.Tax.Own
	}
	return billed, off, net, tax
}

// LineSum is what a line comes to before the paper's discount.
type LineSum struct {
	Amount  string `json:"amount"`
	Account string `json:"account"`
	Text    string `json:"text"`
}

// TaxSum is the tax of a code and rate over a paper.
type TaxSum struct {
	Code    string `json:"code"`
	Percent string `json:"percent"`
	Net     string `json:"net"`
	Tax     string `json:"tax"`
}

// Part is a part of a paper with its due day.
type Part struct {
	ItemID int64  `json:"itemId"`
	Due    string `json:"due"`
	Amount string `json:"amount"`
	Open   string `json:"open"`

	Register string `json:"register"`
	Nature   string `json:"nature" doc:"Empty for what is owed or money"`
	Credit   bool   `json:"credit"`
	Tax      string `json:"tax" doc:"Inside what is open"`
}

// names looks names up for showing.
type names interface {
	Account(id int64) (ledger.Account, bool)
	TaxCodeName(id int64) string
	Deducts(posting.PaperLine) bool
}

func effectBody(e posting.Effect, refusals posting.Refusals, cur money.Currency, n names) Effect {
	out := Effect{Entries: []Entry{}, Balances: []Balance{}, Pairs: []Pair{}, Placed: placedIn(cur, e).Format(e.Placed()), Warnings: notices(e.Warnings), Refusals: notices(refusals)}
	var debit, credit money.Amount
	for _, entry := range e.Entries {
		body := Entry{Day: string(entry.Day), Text: entry.Text}
		var sum money.Amount
		for _, l := range entry.Lines {
			a, _ := n.Account(l.AccountID)
			line := Line{AccountID: l.AccountID, Account: a.Number + " " + a.Name, TaxCode: n.TaxCodeName(l.TaxCodeID), Own: ownOf(cur, l.Currency, l.Own)}
			if l.Amount > 0 || l.Amount == 0 && l.Own > 0 {
				line.Debit = cur.Format(l.Amount)
				sum += l.Amount
			} else {
				line.Credit = cur.Format(-l.Amount)
				credit -= l.Amount
			}
			body.Lines = append(body.Lines, line)
		}
		debit += sum
		body.Total = cur.Format(sum)
		out.Entries = append(out.Entries, body)
	}
	out.Debit, out.Credit = cur.Format(debit), cur.Format(credit)
	for _, b := range e.Balances {
		c := in(cur, b.Currency)
		out.Balances = append(out.Balances, Balance{b.Kind, b.ID, b.Name, b.What, c.Format(b.Before), c.Format(b.After), b.Currency})
	}
	for _, a := range e.Allocations {
		code := currencyOf(e, a)
		out.Pairs = append(out.Pairs, Pair{int64(max(a.Debit, 0)), int64(max(a.Credit, 0)), in(cur, code).Format(a.Amount), string(a.Day), a.Undoes != 0, code})
	}
	out.Papers = []NewPaper{}
	for _, p := range e.Papers {
		c := in(cur, p.Currency)
		out.Papers = append(out.Papers, NewPaper{string(p.Kind), p.Number, p.Title, c.Format(p.Total), c.Format(p.Tax), p.Cheque, p.Currency})
	}
	if e.Word != nil {
		out.Word = &Notice{e.Word.Field, e.Word.Rule, e.Word.Limit, e.Word.Text}
	}
	if e.Paper() != nil {
		sums := paperSums(e, cur, n)
		out.Paper = &sums
	}
	return out
}

// placedIn is the currency of what an effect sets against: that of its pairs.
func placedIn(cur money.Currency, e posting.Effect) money.Currency {
	if len(e.Allocations) == 0 {
		return cur
	}
	return in(cur, currencyOf(e, e.Allocations[0]))
}

// ownOf tells an amount in another currency with its code; "" in the firm's own.
func ownOf(cur money.Currency, code string, own money.Amount) string {
	if code == "" || own == 0 {
		return ""
	}
	return code + " " + in(cur, code).Show(own.Abs())
}

// currencyOf is the currency of an allocation of an effect: that of its items.
// Where a paper is taken back and written anew, the effect of writing it may
// leave its items to those of taking it back.
func currencyOf(e posting.Effect, a posting.Allocation) string {
	for _, ref := range []posting.ItemRef{a.Debit, a.Credit} {
		if n := int(-ref - 1); n >= 0 && n < len(e.Items) {
			return e.Items[n].Currency
		}
		for _, b := range e.Balances {
			if b.Kind == "item" && b.ID == int64(ref) {
				return b.Currency
			}
		}
	}
	return ""
}

func paperSums(e posting.Effect, firm money.Currency, n names) PaperSums {
	p := e.Paper().AsRead()
	cur := in(firm, p.Currency)
	billed, off, net, tax := deductions(p, cur, n)
	s := PaperSums{Number: p.Number, Due: string(p.Due), Note: p.Note, Lines: []LineSum{}, Taxes: taxSums(billed, cur, n), Parts: []Part{}, Discount: cur.Format(p.Discount), Off: cur.Format(-p.Discount),
		Net: cur.Format(net), Tax: cur.Format(tax), Rounding: cur.Format(p.Rounding), Total: cur.Format(p.Total), Before: cur.Format(p.Total + p.Deducted), Deductions: off, Deducted: cur.Format(p.Deducted),
		Retained: cur.Format(p.Retained), KeptOff: cur.Format(-p.Retained)}
	for _, l := range billed {
		a, _ := n.Account(l.AccountID)
		s.Lines = append(s.Lines, LineSum{cur.Format(l.Before), a.Name, l.Text})
	}
	open := map[posting.ItemRef]money.Amount{}
	for _, m := range e.Moves {
		open[m.Item] += m.Amount.Own
	}
	var left, unplaced money.Amount
	for _, i := range e.Items {
		if i.PaperID != p.ID || i.Nature != posting.Plain || i.Currency != p.Currency || i.Register == ledger.Retention || i.Register == ledger.RetentionPayable {
			continue
		}
		s.Parts = append(s.Parts, Part{Due: string(i.Due), Amount: cur.Format(i.Amount.Own.Abs()), Open: cur.Format(open[i.ID].Abs())})
		left += max(open[i.ID], 0)
		unplaced -= min(open[i.ID], 0)
	}
	s.Left, s.Unplaced = cur.Format(left), cur.Format(unplaced)
	if p.Currency != "" {
		s.Currency, s.Rate, s.Base, s.BaseTax = p.Currency, rateText(p.Rate), firm.Format(p.Base), firm.Format(p.InFirm.Tax)
	}
	return s
}

// taxSums adds the stored tax of lines up by code and rate.
func taxSums(lines []posting.PaperLine, cur money.Currency, n names) []TaxSum {
	type key struct {
		code    int64
		percent string
	}
	var order []key
	nets, taxes := map[key]money.Amount{}, map[key]money.Amount{}
	for _, l := range lines {
		k := key{l.TaxCodeID, dec(l.TaxPercent)}
		if _, seen := nets[k]; !seen {
			order = append(order, k)
		}
		nets[k] += l.Net.Own
		taxes[k] += l.Tax.Own
	}
	sums := []TaxSum{}
	for _, k := range order {
		if k.code == 0 { // what bears no tax at all: costs on the customer's behalf
			continue
		}
		sums = append(sums, TaxSum{n.TaxCodeName(k.code), k.percent, cur.Format(nets[k]), cur.Format(taxes[k])})
	}
	return sums
}
