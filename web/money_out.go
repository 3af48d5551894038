package web

import (
	"fmt"

	"cleantally/core/journal"
	"cleantally/core/money"
	"cleantally/core/posting"
	"cleantally/core/settling"
)

// ShareBody is a part of an open item.
type ShareBody struct {
	Item   int64  `json:"item" doc:"The open item"`
	Amount string `json:"amount,omitempty" doc:"Empty: all that is open of it"`
}

func (b ShareBody) share(p *parser, field string) settling.Share {
	return settling.Share{Item: p.item(b.Item), Amount: p.amountIn(p.ofItem(b.Item), field, b.Amount), Most: b.Amount == ""}
}

func shares(p *parser, side string, all []ShareBody) []settling.Share {
	var out []settling.Share
	for i, b := range all {
		out = append(out, b.share(p, fmt.Sprintf("%s[%d].amount", side, i)))
	}
	return out
}

// UnidentifiedBody is money that arrived and nobody knows yet whose it is.
type UnidentifiedBody struct {
	Number    string `json:"number,omitempty" doc:"Empty to be given the next"`
	Day       string `json:"day,omitempty"`
	Amount    string `json:"amount,omitempty"`
	Rate      string `json:"rate,omitempty" doc:"What one unit of the bank account's currency is worth in the firm's; empty: as on the day"`
	Bank      int64  `json:"bank,omitempty"`
	Method    string `json:"method,omitempty"`
	Reference string `json:"reference,omitempty" maxLength:"200" doc:"What the bank told"`
	Note      string `json:"note,omitempty" maxLength:"4000"`
}

func (b UnidentifiedBody) command(p *parser) posting.Command {
	return settling.Unidentified{Number: b.Number, Day: p.day("day", b.Day), Rate: p.rate("rate", b.Rate), Amount: p.amountIn(p.ofBank(b.Bank), "amount", b.Amount), BankAccountID: b.Bank, Method: posting.Method(b.Method), Reference: b.Reference, Note: b.Note}
}

// DistributeBody says whose money it is.
type DistributeBody struct {
	From      int64         `json:"from,omitempty" doc:"The open item of money that was not identified; 0 for money that arrives now"`
	Day       string        `json:"day,omitempty"`
	Amount    string        `json:"amount,omitempty" doc:"The whole transfer that arrives now"`
	Bank      int64         `json:"bank,omitempty"`
	Method    string        `json:"method,omitempty"`
	Reference string        `json:"reference,omitempty" maxLength:"200"`
	Deposits  []DepositBody `json:"deposits,omitempty" maxItems:"200"`
	Receipts  []ReceiptBody `json:"receipts,omitempty" maxItems:"200"`
	SendBack  string        `json:"sendBack,omitempty"`
	Cheque    string        `json:"cheque,omitempty"`
}

func (b DistributeBody) command(p *parser) posting.Command {
	x := settling.Distribute{From: p.item(b.From), Day: p.day("day", b.Day), Amount: p.amountIn(p.ofBank(b.Bank), "amount", b.Amount), BankAccountID: b.Bank, Method: posting.Method(b.Method),
		Reference: b.Reference, SendBack: p.amountIn(p.ofItem(b.From), "sendBack", b.SendBack), Cheque: b.Cheque}
	for i, d := range b.Deposits {
		x.Deposits = append(x.Deposits, d.deposit(p, fmt.Sprintf("deposits[%d].", i)))
	}
	for i, r := range b.Receipts {
		x.Receipts = append(x.Receipts, r.receipt(p, fmt.Sprintf("receipts[%d].", i)))
	}
	return x
}

// RefundBody gives money back out of open credits.
type RefundBody struct {
	Number    string      `json:"number,omitempty" doc:"Empty to be given the next"`
	Customer  int64       `json:"customer,omitempty" doc:"For the form alone: the sources say whose it is"`
	Day       string      `json:"day,omitempty"`
	Sources   []ShareBody `json:"sources,omitempty" maxItems:"500"`
	Bank      int64       `json:"bank,omitempty"`
	AtBank    string      `json:"atBank,omitempty" doc:"What leaves the bank account, where that is in another currency"`
	Method    string      `json:"method,omitempty"`
	Cheque    string      `json:"cheque,omitempty" doc:"Empty to be given the next"`
	Reference string      `json:"reference,omitempty" maxLength:"200"`
	Note      string      `json:"note,omitempty" maxLength:"4000"`
}

func (b RefundBody) command(p *parser) posting.Command {
	return settling.Refund{Number: b.Number, Day: p.day("day", b.Day), Sources: shares(p, "sources", b.Sources), BankAccountID: b.Bank, Method: posting.Method(b.Method),
		Cheque: b.Cheque, Reference: b.Reference, Note: b.Note, AtBank: p.amountIn(p.ofBank(b.Bank), "atBank", b.AtBank)}
}

// ForfeitBody keeps a part of a deposit for good.
type ForfeitBody struct {
	Number     string `json:"number,omitempty"`
	Day        string `json:"day,omitempty"`
	Deposit    int64  `json:"deposit,omitempty" doc:"The open item"`
	Amount     string `json:"amount,omitempty" doc:"Empty: all that is held"`
	TaxCode    int64  `json:"taxCode,omitempty" doc:"Of a forfeit that bears tax, out of a deposit without"`
	OutsideTax bool   `json:"outsideTax,omitempty" doc:"Of a deposit that was taxed on receipt: the tax comes back"`
	Reason     string `json:"reason,omitempty" maxLength:"400"`
}

func (b ForfeitBody) command(p *parser) posting.Command { return b.forfeit(p, "amount") }

func (b ForfeitBody) forfeit(p *parser, field string) settling.Forfeit {
	return settling.Forfeit{Number: b.Number, Day: p.day("day", b.Day), Deposit: ShareBody{b.Deposit, b.Amount}.share(p, field), TaxCodeID: b.TaxCode, OutsideTax: b.OutsideTax, Reason: b.Reason}
}

// TransferBody moves an open credit.
type TransferBody struct {
	Number    string `json:"number,omitempty"`
	Day       string `json:"day,omitempty"`
	Owner     int64  `json:"owner,omitempty" doc:"For the form alone: the item says whose it is"`
	From      int64  `json:"from,omitempty" doc:"The open item"`
	Amount    string `json:"amount,omitempty" doc:"Empty: all that is open of it"`
	Customer  int64  `json:"customer,omitempty" doc:"Whose it becomes"`
	Job       int64  `json:"job,omitempty"`
	AsDeposit bool   `json:"asDeposit,omitempty" doc:"Else it is on account"`
	Note      string `json:"note,omitempty" maxLength:"4000"`
}

func (b TransferBody) command(p *parser) posting.Command { return b.transfer(p, "amount") }

func (b TransferBody) transfer(p *parser, field string) settling.Transfer {
	return settling.Transfer{Number: b.Number, Day: p.day("day", b.Day), From: ShareBody{b.From, b.Amount}.share(p, field), PartyID: b.Customer, JobID: b.Job, AsDeposit: b.AsDeposit, Note: b.Note}
}

// SplitBody settles what becomes of a deposit in one step. A part that is left
// out does not happen; what nobody speaks of stays held.
type SplitBody struct {
	Customer int64           `json:"customer,omitempty" doc:"For the form alone: the deposit says whose it is"`
	Deposit  int64           `json:"deposit,omitempty" doc:"The open item"`
	Day      string          `json:"day,omitempty"`
	Against  []PlacementBody `json:"against,omitempty" maxItems:"500"`
	Refund   *struct {
		Amount    string `json:"amount,omitempty"`
		Bank      int64  `json:"bank,omitempty"`
		AtBank    string `json:"atBank,omitempty" doc:"What leaves the bank account, where that is in another currency"`
		Method    string `json:"method,omitempty"`
		Cheque    string `json:"cheque,omitempty"`
		Reference string `json:"reference,omitempty" maxLength:"200"`
	} `json:"refund,omitempty"`
	Forfeit *ForfeitBody  `json:"forfeit,omitempty"`
	Move    *TransferBody `json:"move,omitempty"`
}

func (b SplitBody) command(p *parser) posting.Command {
	s := settling.SplitDeposit{Deposit: p.item(b.Deposit), Day: p.day("day", b.Day)}
	for i, x := range b.Against {
		s.Against = append(s.Against, settling.Placement{Debit: p.item(x.Item), Amount: p.amountIn(p.ofItem(x.Item), fmt.Sprintf("against[%d].amount", i), x.Amount), Most: x.Amount == ""})
	}
	if r := b.Refund; r != nil {
		s.Refund = &settling.Refund{BankAccountID: r.Bank, Method: posting.Method(r.Method), Cheque: r.Cheque, Reference: r.Reference, AtBank: p.amountIn(p.ofBank(r.Bank), "refund.atBank", r.AtBank)}
		s.RefundAmount = p.amountIn(p.ofItem(b.Deposit), "refund", r.Amount)
	}
	if b.Forfeit != nil {
		k := b.Forfeit.forfeit(p, "forfeit")
		s.Forfeit = &k
	}
	if b.Move != nil {
		t := b.Move.transfer(p, "move")
		s.Move = &t
	}
	return s
}

// ReturnedBody is a payment that the bank took back.
type ReturnedBody struct {
	Number string `json:"number,omitempty"`
	Paper  int64  `json:"paper,omitempty" doc:"The receipt or deposit"`
	Day    string `json:"day,omitempty" doc:"The bank's day"`
	Fee    string `json:"fee,omitempty"`
	PassOn bool   `json:"passOn,omitempty" doc:"The customer owes the fee"`
	Reason string `json:"reason,omitempty" maxLength:"400"`
}

func (b ReturnedBody) command(p *parser) posting.Command {
	return settling.Returned{Number: b.Number, PaperID: b.Paper, Day: p.day("day", b.Day), Fee: p.amountIn(p.ofPaper(b.Paper), "fee", b.Fee), PassOn: b.PassOn, Reason: b.Reason}
}

// WriteOffBody gives up what is owed.
type WriteOffBody struct {
	Number   string      `json:"number,omitempty"`
	Customer int64       `json:"customer,omitempty" doc:"For the form alone: the items say whose debt it is"`
	Day      string      `json:"day,omitempty"`
	Reason   string      `json:"reason,omitempty" maxLength:"400"`
	Relief   bool        `json:"relief,omitempty" doc:"The tax inside comes back"`
	Small    bool        `json:"small,omitempty" doc:"For the form alone: small balances of many customers"`
	Items    []ShareBody `json:"items,omitempty" maxItems:"5000"`
}

func (b WriteOffBody) command(p *parser) posting.Command {
	return settling.WriteOff{Number: b.Number, Day: p.day("day", b.Day), Reason: b.Reason, Relief: b.Relief, Items: shares(p, "items", b.Items)}
}

// PayoutBody is what a card gateway pays out.
type PayoutBody struct {
	Number    string  `json:"number,omitempty"`
	Day       string  `json:"day,omitempty"`
	Takings   []int64 `json:"takings,omitempty" maxItems:"5000" doc:"The papers that it clears, whole"`
	Arrived   string  `json:"arrived,omitempty" doc:"On the bank account; below nil where the gateway took money"`
	Fee       string  `json:"fee,omitempty"`
	Bank      int64   `json:"bank,omitempty" doc:"Where it arrived"`
	Reference string  `json:"reference,omitempty" maxLength:"200" doc:"As the gateway names it"`
	Note      string  `json:"note,omitempty" maxLength:"4000"`
}

func (b PayoutBody) command(p *parser) posting.Command {
	return settling.Payout{Number: b.Number, Day: p.day("day", b.Day), Takings: b.Takings, Arrived: p.amount("arrived", b.Arrived), Fee: p.amount("fee", b.Fee), BankAccountID: b.Bank, Reference: b.Reference, Note: b.Note}
}

// OwnTransferBody is money that goes from one of the firm's accounts to another.
type OwnTransferBody struct {
	Number    string `json:"number,omitempty"`
	Day       string `json:"day,omitempty"`
	Amount    string `json:"amount,omitempty" doc:"That left"`
	Fee       string `json:"fee,omitempty" doc:"Of it, what the bank kept"`
	From      int64  `json:"from,omitempty" doc:"A bank account or till"`
	Arrived   string `json:"arrived,omitempty" doc:"On the other, where that is in another currency"`
	To        int64  `json:"to,omitempty"`
	Reference string `json:"reference,omitempty" maxLength:"200"`
	Note      string `json:"note,omitempty" maxLength:"4000"`
}

func (b OwnTransferBody) command(p *parser) posting.Command {
	return settling.OwnTransfer{Number: b.Number, Day: p.day("day", b.Day), Amount: p.amountIn(p.ofBank(b.From), "amount", b.Amount), Fee: p.amountIn(p.ofBank(b.From), "fee", b.Fee), Arrived: p.amountIn(p.ofBank(b.To), "arrived", b.Arrived), FromAccountID: b.From, ToAccountID: b.To, Reference: b.Reference, Note: b.Note}
}

// RecoveryBody is money for a debt that was given up.
type RecoveryBody struct {
	Number    string `json:"number,omitempty"`
	WriteOff  int64  `json:"writeOff,omitempty" doc:"The paper"`
	Day       string `json:"day,omitempty"`
	Amount    string `json:"amount,omitempty"`
	Rate      string `json:"rate,omitempty" doc:"Of what was given up in another currency; empty: as on the day"`
	AtBank    string `json:"atBank,omitempty" doc:"What arrived, where the bank account is in another currency"`
	Bank      int64  `json:"bank,omitempty"`
	Method    string `json:"method,omitempty"`
	Reference string `json:"reference,omitempty" maxLength:"200"`
	Note      string `json:"note,omitempty" maxLength:"4000"`
}

func (b RecoveryBody) command(p *parser) posting.Command {
	return settling.Recovery{Number: b.Number, WriteOffID: b.WriteOff, Day: p.day("day", b.Day), Amount: p.amountIn(p.ofPaper(b.WriteOff), "amount", b.Amount), Rate: p.rate("rate", b.Rate), AtBank: p.amountIn(p.ofBank(b.Bank), "atBank", b.AtBank), BankAccountID: b.Bank,
		Method: posting.Method(b.Method), Reference: b.Reference, Note: b.Note}
}

// AllowanceBody brings the allowance to what is wanted on a day.
type AllowanceBody struct {
	Number string `json:"number,omitempty"`
	Day    string `json:"day,omitempty"`
}

func (b AllowanceBody) command(p *parser) posting.Command {
	return settling.Allowance{Number: b.Number, Day: p.day("day", b.Day)}
}

// ContraBody sets what a party owes us against what we owe it.
type ContraBody struct {
	Number string      `json:"number,omitempty"`
	Party  int64       `json:"party,omitempty"`
	Day    string      `json:"day,omitempty"`
	Owed   []ShareBody `json:"owed,omitempty" maxItems:"500" doc:"What it owes us; without an amount, as much as the other side allows"`
	Owing  []ShareBody `json:"owing,omitempty" maxItems:"500" doc:"What we owe it"`
	Note   string      `json:"note,omitempty" maxLength:"4000"`
}

func (b ContraBody) command(p *parser) posting.Command {
	return settling.Contra{Number: b.Number, PartyID: b.Party, Day: p.day("day", b.Day), Owed: shares(p, "owed", b.Owed), Owing: shares(p, "owing", b.Owing), Note: b.Note}
}

// DisputeBody marks what is owed as disputed, or no longer.
type DisputeBody struct {
	Item      int64  `json:"item,omitempty" doc:"The open item"`
	Day       string `json:"day,omitempty"`
	Reason    string `json:"reason,omitempty" maxLength:"400"`
	End       bool   `json:"end,omitempty"`
	Unfounded bool   `json:"unfounded,omitempty" doc:"Of an end: its days bear late charges after all"`
}

func (b DisputeBody) command(p *parser) posting.Command {
	return settling.Dispute{Item: p.item(b.Item), Day: p.day("day", b.Day), Reason: b.Reason, End: b.End, Unfounded: b.Unfounded}
}

// JournalBody is an entry by hand.
type JournalBody struct {
	InCurrency
	Number string            `json:"number,omitempty"`
	Day    string            `json:"day,omitempty"`
	Text   string            `json:"text,omitempty" maxLength:"400"`
	Lines  []JournalLineBody `json:"lines,omitempty" maxItems:"500"`
}

// JournalLineBody is a line of the entry: a debit or a credit.
type JournalLineBody struct {
	Account int64  `json:"account,omitempty"`
	Debit   string `json:"debit,omitempty"`
	Credit  string `json:"credit,omitempty"`
	Party   int64  `json:"party,omitempty"`
	Job     int64  `json:"job,omitempty"`
	Due     string `json:"due,omitempty"`
}

func (b JournalBody) command(p *parser) posting.Command {
	for _, l := range b.Lines { // that of the bank account that it moves
		if b.Currency == "" {
			b.Currency = p.ofAccount(l.Account)
		}
	}
	defer p.in(b.Currency)()
	j := journal.Journal{Currency: b.Currency, Rate: p.rate("rate", b.Rate), Number: b.Number, Day: p.day("day", b.Day), Text: b.Text}
	for i, l := range b.Lines {
		read := func(side, text string) money.Amount { return p.amount(fmt.Sprintf("lines[%d].%s", i, side), text) }
		j.Lines = append(j.Lines, journal.Line{AccountID: l.Account, Debit: read("debit", l.Debit), Credit: read("credit", l.Credit), PartyID: l.Party, JobID: l.Job, Due: p.day(fmt.Sprintf("lines[%d].due", i), l.Due)})
	}
	return j
}
