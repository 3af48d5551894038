package web

import (
	"fmt"

	"cleantally/core/posting"
	"cleantally/core/settling"
)

// DepositBody is a deposit as the API takes it.
type DepositBody struct {
	Number    string `json:"number,omitempty" doc:"Empty to be given the next"`
	Customer  int64  `json:"customer,omitempty"`
	Job       int64  `json:"job,omitempty"`
	Day       string `json:"day,omitempty"`
	Amount    string `json:"amount,omitempty"`
	Currency  string `json:"currency,omitempty" maxLength:"3" doc:"That it is held in, ISO 4217; empty: that of the bank account"`
	AtBank    string `json:"atBank,omitempty" doc:"What arrived, where the bank account is in another currency"`
	Rate      string `json:"rate,omitempty" doc:"What one unit of the bank account's currency is worth in the firm's; empty: as on the day"`
	Bank      int64  `json:"bank,omitempty" doc:"The bank account"`
	Method    string `json:"method,omitempty" doc:"transfer, card, cheque, cash or direct debit"`
	Reference string `json:"reference,omitempty" maxLength:"200"`
	Note      string `json:"note,omitempty" maxLength:"4000"`
	TaxCode   int64  `json:"taxCode,omitempty" doc:"Taxed on receipt by this code; the amount includes the tax"`
	Request   int64  `json:"request,omitempty" doc:"The request for a deposit that it pays"`
}

func (b DepositBody) command(p *parser) posting.Command { return b.deposit(p, "") }

func (b DepositBody) deposit(p *parser, prefix string) settling.Deposit {
	held := b.Currency
	if held == "" {
		held = p.ofBank(b.Bank)
	}
	return settling.Deposit{RequestID: b.Request, Number: b.Number, PartyID: b.Customer, JobID: b.Job, Day: p.day(prefix+"day", b.Day), Amount: p.amountIn(held, prefix+"amount", b.Amount), BankAccountID: b.Bank,
		Currency: b.Currency, AtBank: p.amountIn(p.ofBank(b.Bank), prefix+"atBank", b.AtBank), Rate: p.rate(prefix+"rate", b.Rate),
		Method: posting.Method(b.Method), Reference: b.Reference, Note: b.Note, TaxCodeID: b.TaxCode}
}

// ReceiptBody is a receipt as the API takes it.
type ReceiptBody struct {
	Number      string           `json:"number,omitempty" doc:"Empty to be given the next"`
	Customer    int64            `json:"customer,omitempty"`
	Job         int64            `json:"job,omitempty" doc:"Of what stays on account"`
	Day         string           `json:"day,omitempty"`
	Arrived     string           `json:"arrived,omitempty"`
	Charges     string           `json:"charges,omitempty" doc:"What the bank kept"`
	Withheld    string           `json:"withheld,omitempty" doc:"Tax that the customer had to withhold"`
	Rate        string           `json:"rate,omitempty" doc:"What one unit of the bank account's currency is worth in the firm's; empty: as on the day"`
	Differences []DifferenceBody `json:"differences,omitempty" maxItems:"20" doc:"What somebody took off on the way, or added"`
	Bank        int64            `json:"bank,omitempty"`
	Method      string           `json:"method,omitempty"`
	Reference   string           `json:"reference,omitempty" maxLength:"200"`
	Note        string           `json:"note,omitempty" maxLength:"4000"`
	Placements  []PlacementBody  `json:"placements,omitempty" maxItems:"5000"`
	OnAccount   bool             `json:"onAccount,omitempty" doc:"What is not placed stays on account"`
}

// DifferenceBody is what somebody took off a payment on the way, or added.
type DifferenceBody struct {
	Account int64  `json:"account,omitempty"`
	Text    string `json:"text,omitempty" maxLength:"200"`
	Amount  string `json:"amount,omitempty" doc:"Above nil what was taken off, below nil what was added"`
}

// PlacementBody puts a part of a receipt on an open item.
type PlacementBody struct {
	Item   int64  `json:"item" doc:"The open item of what is owed"`
	Amount string `json:"amount,omitempty" doc:"Empty: as much as is open and left"`
	Takes  string `json:"takes,omitempty" doc:"Of the money, in its currency, where the item is in another"`

	Discount bool   `json:"discount,omitempty" doc:"With the early-payment discount"`
	Rest     string `json:"rest,omitempty" enum:",difference,kept back,write-off,disputed" doc:"What becomes of what stays open; left out, it stays open"`
	Reason   string `json:"reason,omitempty" maxLength:"400" doc:"Of a write-off or a dispute"`
}

func (b ReceiptBody) command(p *parser) posting.Command { return b.receipt(p, "") }

func (b ReceiptBody) receipt(p *parser, prefix string) settling.Receipt {
	defer p.in(p.ofBank(b.Bank))()
	r := settling.Receipt{Number: b.Number, PartyID: b.Customer, JobID: b.Job, Day: p.day(prefix+"day", b.Day), Arrived: p.amount(prefix+"arrived", b.Arrived), Charges: p.amount(prefix+"charges", b.Charges), Rate: p.rate(prefix+"rate", b.Rate),
		Withheld:      p.amount(prefix+"withheld", b.Withheld),
		BankAccountID: b.Bank, Method: posting.Method(b.Method), Reference: b.Reference, Note: b.Note, OnAccount: b.OnAccount}
	for i, x := range b.Placements {
		r.Placements = append(r.Placements, settling.Placement{Debit: p.item(x.Item), Amount: p.amountIn(p.itemOr(x.Item), fmt.Sprintf("%splacements[%d].amount", prefix, i), x.Amount), Takes: p.amount(fmt.Sprintf("%splacements[%d].takes", prefix, i), x.Takes), Most: x.Amount == "",
			Discount: x.Discount, Rest: settling.Rest(x.Rest), Reason: x.Reason})
	}
	for i, d := range b.Differences {
		r.Differences = append(r.Differences, settling.Difference{AccountID: d.Account, Text: d.Text, Amount: p.amount(fmt.Sprintf("%sdifferences[%d].amount", prefix, i), d.Amount)})
	}
	return r
}

// SetAgainstBody sets credits against debits.
type SetAgainstBody struct {
	Day   string     `json:"day,omitempty"`
	Pairs []PairBody `json:"pairs,omitempty" maxItems:"5000"`
}

// PairBody is one credit and one debit with the amount between them.
type PairBody struct {
	Debit  int64  `json:"debit" doc:"The open item of what is owed"`
	Credit int64  `json:"credit" doc:"The open item of what can settle it"`
	Amount string `json:"amount,omitempty" doc:"Empty: as much as both allow"`
}

func (b SetAgainstBody) command(p *parser) posting.Command {
	s := settling.SetAgainst{Day: p.day("day", b.Day)}
	for i, x := range b.Pairs {
		s.Pairs = append(s.Pairs, settling.Pair{Debit: p.item(x.Debit), Credit: p.item(x.Credit), Amount: p.amountIn(p.ofItem(x.Debit), fmt.Sprintf("pairs[%d].amount", i), x.Amount), Most: x.Amount == ""})
	}
	return s
}

// UndoBody takes allocations back.
type UndoBody struct {
	Day         string  `json:"day,omitempty"`
	Allocations []int64 `json:"allocations,omitempty" maxItems:"5000"`
}

func (b UndoBody) command(p *parser) posting.Command {
	return settling.Undo{Day: p.day("day", b.Day), Allocations: b.Allocations}
}

// MoveBody takes an allocation back and sets it elsewhere instead.
type MoveBody struct {
	Day        string `json:"day,omitempty"`
	Allocation int64  `json:"allocation,omitempty"`
	To         int64  `json:"to,omitempty" doc:"The open item that takes the place of the one on its side"`
	Amount     string `json:"amount,omitempty" doc:"Empty: as much of it as is open there"`
}

func (b MoveBody) command(p *parser) posting.Command {
	return settling.Move{Day: p.day("day", b.Day), Allocation: b.Allocation, To: posting.ItemRef(b.To), Amount: p.amount("amount", b.Amount)}
}

// ReversalBody reverses a posted paper.
type ReversalBody struct {
	Number string `json:"number,omitempty" doc:"Empty to be given the next"`
	Paper  int64  `json:"paper,omitempty"`
	Day    string `json:"day,omitempty"`
	Reason string `json:"reason,omitempty" maxLength:"1000"`
}

func (b ReversalBody) command(p *parser) posting.Command {
	return settling.Reversal{Number: b.Number, PaperID: b.Paper, Day: p.day("day", b.Day), Reason: b.Reason}
}
