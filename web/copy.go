package web

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"net/http"

	"cleantally/core/billing"
	"cleantally/core/day"
	"cleantally/core/journal"
	"cleantally/core/money"
	"cleantally/core/posting"
	"cleantally/core/settling"
	"cleantally/store"

	"github.com/danielgtaylor/huma/v2"
	"github.com/shopspring/decimal"
)

// Copy is what a posted paper was written as, to be written once more.
type Copy struct {
	Kind DraftKind `json:"kind"`
	Body any       `json:"body" doc:"In the form of the command's body"`
	Line int64     `json:"line" doc:"Of a paper that is taken back: the line of the bank's statement that it alone explains, and that is explained by what is written in its place"`
	Bank int64     `json:"bank" doc:"Where that line stands"`
	Day  string    `json:"day" doc:"The first open day on which the paper can be taken back: its own, or the last on which something was set against it; else today"`
}

type copyInput struct {
	ID    int64 `path:"id"`
	Again bool  `query:"again" doc:"Of a paper that is taken back: with its day and what it was set against; else it is dated today and set against nothing"`
}

func (s *Server) registerCopy() {
	huma.Register(s.api, describe("copy-paper", "GET", "/api/v1/papers/{id}/copy", "What a posted paper was written as, to be written once more"), s.copyPaper)
}

func (s *Server) copyPaper(ctx context.Context, input *copyInput) (*struct{ Body Copy }, error) {
	p, err := s.parser(ctx)
	if err != nil {
		return nil, err
	}
	r := s.book.Read(ctx)
	paper, ok, err := r.Paper(input.ID)
	if err != nil || !ok {
		return nil, orNotFound(err)
	}
	act, err := r.ActOf(input.ID)
	if err != nil {
		return nil, problem(err)
	}
	on, err1 := s.takenBackOn(r, paper)
	anew, err2 := s.writtenAnewOn(r, paper, on)
	if err := errors.Join(err1, err2); err != nil {
		return nil, problem(err)
	}
	c := copier{cur: in(p.cur, paper.Currency), again: input.Again, today: string(s.book.Today()), parser: p}
	if input.Again && anew != paper.Day {
		c.later = string(anew)
	}
	kind, body, err := c.of(act, paper)
	if err != nil {
		return nil, problem(err)
	}
	if body == nil {
		return nil, plain(http.StatusNotFound, fmt.Sprintf("A %s is not written by itself, so it is not copied. Write what it came of once more.", paper.Kind))
	}
	out := &struct{ Body Copy }{Copy{Kind: kind, Body: body, Day: string(on)}}
	if input.Again {
		line, _, err := r.ExplainedAlone(input.ID)
		if err != nil {
			return nil, problem(err)
		}
		out.Body.Line, out.Body.Bank = line.ID, line.BankAccountID
	}
	return out, nil
}

// takenBackOn is the first open day on which a paper can be taken back, so that
// what it was set against is free from then on.
func (s *Server) takenBackOn(r *store.Reader, p posting.Paper) (day.Day, error) {
	on := p.Day
	standing, err1 := r.AllocationsOf(p.ID, s.book.Today())
	for _, a := range standing {
		on = max(on, a.Day, a.UndoneOn)
	}
	firm, err2 := r.Firm()
	if on <= firm.LockedThrough || on > s.book.Today() {
		on = s.book.Today()
	}
	return on, errors.Join(err1, err2)
}

// writtenAnewOn is the day that a paper is offered to be written again on: its
// own, so that money stays where the bank has it and debts fall due as they did.
// Where that day is locked, or what the paper uses is free only from a later one
// on, it is the day on which it is taken back.
func (s *Server) writtenAnewOn(r *store.Reader, p posting.Paper, on day.Day) (day.Day, error) {
	if on == p.Day {
		return on, nil
	}
	firm, err1 := r.Firm()
	uses, err2 := r.UsesSomething(p.ID)
	if uses || p.Day <= firm.LockedThrough {
		return on, errors.Join(err1, err2)
	}
	return p.Day, errors.Join(err1, err2)
}

// A copier turns commands back into what was typed.
type copier struct {
	cur    money.Currency // the paper's
	parser *parser
	again  bool
	today  string
	later  string // of what is written again: the day in place of its own; "" for its own
}

func (c copier) day(d string) string {
	switch {
	case !c.again:
		return c.today
	case c.later != "":
		return c.later
	}
	return d
}

func (c copier) amount(a money.Amount) string {
	if a == 0 {
		return ""
	}
	return c.cur.Format(a)
}

// in is the currency of a paper; its rate stays where it is written again.
func (c copier) in(code string, rate decimal.Decimal, partyID int64) InCurrency {
	if code == "" && c.parser.ofParty(partyID) != "" {
		code = c.cur.Code
	}
	out := InCurrency{Currency: code}
	if c.again {
		out.Rate = c.number(rate)
	}
	return out
}

// ofItem is an amount of an open item, in its currency.
func (c copier) ofItem(item posting.ItemRef, a money.Amount) string {
	if a == 0 {
		return ""
	}
	return in(c.parser.cur, c.parser.ofItem(int64(item))).Format(a)
}

func (c copier) number(d decimal.Decimal) string {
	if d.IsZero() {
		return ""
	}
	return d.String()
}

// of is the body of the command that posted a paper. What came of a step that
// makes several papers is told from the paper itself.
func (c copier) of(act store.Act, p posting.Paper) (DraftKind, any, error) {
	if written, ok := writtenBy[act.Action]; ok {
		return written(c, act.Detail, p)
	}
	return c.money(p)
}

// writtenBy turns what is kept of a command, by its name, into the draft that
// it came of.
var writtenBy = map[string]func(c copier, detail string, p posting.Paper) (DraftKind, any, error){
	"billing.Invoice":          written(posting.Invoice, copier.invoice),
	"billing.Order":            written(posting.Order, copier.order),
	"billing.Quote":            written(posting.Quote, copier.quote),
	"billing.Claim":            written("claim", copier.claim),
	"billing.Credit":           written(posting.CreditNote, copier.credit),
	"settling.CreditAndRefund": written(posting.CreditNote, copier.creditRefunded),
	"billing.LateCharge":       written(posting.Kind(lateCharge), copier.lateCharge),
	"billing.AdvanceCredit":    written(posting.Kind(ofAdvance), copier.advanceCredit),
	"billing.Request":          written(posting.Request, copier.request),
	"billing.Delivery":         written(posting.Delivery, copier.delivery),
	"billing.Cancellation":     written(posting.Cancellation, copier.cancellation),
	"billing.RequestCancellation": written(posting.Cancellation, func(c copier, v billing.RequestCancellation, _ posting.Paper) CancellationBody {
		return CancellationBody{Request: v.RequestID, Day: c.day(string(v.Day)), Reason: v.Reason}
	}),
	"billing.Return": written(posting.Return, copier.cameBack),
	"settling.CallOff": written(posting.Cancellation, func(c copier, v settling.CallOff, p posting.Paper) CancellationBody {
		return c.cancellation(v.Cancellation, p)
	}),
	"billing.DepositInvoice":   written(posting.DepositInvoice, copier.depositInvoice),
	"settling.Deposit":         written(posting.Deposit, copier.deposit),
	"settling.Distribute":      copyDistributed,
	"settling.Guarantee":       written(posting.Guarantee, copier.guarantee),
	"settling.Release":         written(posting.Release, copier.release),
	"settling.Receipt":         written(posting.Receipt, copier.receipt),
	"settling.WriteOff":        written(posting.WriteOff, copier.writeOff),
	"settling.Contra":          written(posting.Contra, copier.contra),
	"settling.Refund":          written(posting.Refund, copier.refund),
	"settling.Transfer":        written(posting.Transfer, copier.transfer),
	"settling.Payout":          written(posting.Payout, copier.payout),
	"settling.OwnTransfer":     written(posting.OwnTransfer, copier.ownTransfer),
	"buying.Bill":              written(posting.SupplierBill, copier.bill),
	"buying.Expense":           written(posting.Expense, copier.expense),
	"buying.Order":             written(posting.PurchaseOrder, copier.purchaseOrder),
	"buying.Received":          copyReceived,
	"buying.Credit":            written(posting.SupplierCredit, copier.supplierCredit),
	"buying.NotPassedOn":       written(posting.NotPassedOn, copier.notPassedOn),
	"settling.Prepayment":      written(posting.Prepayment, copier.prepayment),
	"settling.SupplierPayment": written(posting.PaySupplier, copier.supplierPayment),
	"settling.SupplierRefund":  written(posting.SupplierRefund, copier.supplierRefund),
	"settling.PayableRelease":  written(posting.PayableRelease, copier.payableRelease),
	"stock.Use":                written(posting.StockUse, copier.stockUse),
	"stock.Count":              written(posting.StockCount, copier.stockCount),
	"journal.Journal":          written(posting.Journal, copier.journal),
}

// written reads a kept command and makes the body of a draft of it.
func written[V, B any](kind posting.Kind, body func(copier, V, posting.Paper) B) func(copier, string, posting.Paper) (DraftKind, any, error) {
	return func(c copier, detail string, p posting.Paper) (DraftKind, any, error) {
		var v V
		err := json.Unmarshal([]byte(detail), &v)
		return DraftKind(kind), body(c, v, p), err
	}
}

func (c copier) advanceCredit(v billing.AdvanceCredit, _ posting.Paper) AdvanceCreditBody {
	return AdvanceCreditBody{Paper: v.PaperID, Day: c.day(string(v.Day)), Reason: v.Reason, Keep: c.amount(v.Keep), OutsideTax: v.OutsideTax, Against: v.Against}
}

func (c copier) request(v billing.Request, _ posting.Paper) RequestBody {
	b := RequestBody{InCurrency: c.in(v.Currency, v.Rate, v.PartyID), Customer: v.PartyID, Job: v.JobID, Day: c.day(string(v.Day)), Reference: v.Reference, Note: v.Note, Of: v.OfID, Percent: c.number(v.Percent), Amount: c.amount(v.Amount)}
	if c.again {
		b.Due = string(v.Due)
	}
	return b
}

func (c copier) delivery(v billing.Delivery, _ posting.Paper) DeliveryBody {
	return DeliveryBody{Order: v.OrderID, Day: c.day(string(v.Day)), Reference: v.Reference, Note: v.Note, Lines: c.orderShares(v.Lines)}
}

func (c copier) cancellation(v billing.Cancellation, _ posting.Paper) CancellationBody {
	return CancellationBody{Order: v.OrderID, Day: c.day(string(v.Day)), Reason: v.Reason, Lines: c.orderShares(v.Lines), Advances: c.advances(v.Advances)}
}

func (c copier) release(v settling.Release, _ posting.Paper) ReleaseBody {
	return ReleaseBody{Customer: v.PartyID, Day: c.day(string(v.Day)), Terms: v.TermsID, Reference: v.Reference, Note: v.Note, Items: c.shares(v.Items), Amount: c.amount(v.Amount), Job: v.JobID, Currency: v.Currency}
}

func (c copier) writeOff(v settling.WriteOff, p posting.Paper) WriteOffBody {
	return WriteOffBody{Customer: p.PartyID, Day: c.day(string(v.Day)), Reason: v.Reason, Relief: v.Relief, Items: c.shares(v.Items)}
}

func (c copier) contra(v settling.Contra, _ posting.Paper) ContraBody {
	return ContraBody{Party: v.PartyID, Day: c.day(string(v.Day)), Note: v.Note, Owed: c.shares(v.Owed), Owing: c.shares(v.Owing)}
}

func (c copier) refund(v settling.Refund, p posting.Paper) RefundBody {
	return RefundBody{Customer: p.PartyID, Day: c.day(string(v.Day)), Sources: c.shares(v.Sources), Bank: v.BankAccountID, AtBank: c.atBank(v.BankAccountID, v.AtBank), Method: string(v.Method), Reference: v.Reference, Note: v.Note}
}

// atBank is what moved on a bank account of another currency, of what is written
// again.
func (c copier) atBank(bank int64, a money.Amount) string {
	if a == 0 || !c.again {
		return ""
	}
	return in(c.parser.cur, c.parser.ofBank(bank)).Format(a)
}

// payout is a payout as it was taken; what it cleared waits again only where it
// is written in its place.
func (c copier) payout(v settling.Payout, _ posting.Paper) PayoutBody {
	b := PayoutBody{Day: c.day(string(v.Day)), Bank: v.BankAccountID, Note: v.Note}
	if c.again {
		b.Takings, b.Arrived, b.Fee, b.Reference = v.Takings, c.amount(v.Arrived), c.amount(v.Fee), v.Reference
	}
	return b
}

func (c copier) ownTransfer(v settling.OwnTransfer, _ posting.Paper) OwnTransferBody {
	b := OwnTransferBody{Day: c.day(string(v.Day)), From: v.FromAccountID, To: v.ToAccountID, Note: v.Note}
	if c.again {
		b.Amount, b.Fee, b.Reference, b.Arrived = c.amount(v.Amount), c.amount(v.Fee), v.Reference, c.atBank(v.ToAccountID, v.Arrived)
	}
	return b
}

func (c copier) transfer(v settling.Transfer, p posting.Paper) TransferBody {
	b := TransferBody{Owner: p.PartyID, Day: c.day(string(v.Day)), Customer: v.PartyID, Job: v.JobID, AsDeposit: v.AsDeposit, Note: v.Note}
	if c.again {
		b.From, b.Amount = int64(v.From.Item), c.ofItem(v.From.Item, v.From.Amount)
	}
	return b
}

// money is the body of a paper by which money came, told from the paper.
func (c copier) money(p posting.Paper) (DraftKind, any, error) {
	day, bank, method, amount := c.day(string(p.Day)), p.BankAccountID, string(p.Method), c.cur.Format(p.Total)
	switch p.Kind {
	case posting.Deposit:
		b := DepositBody{Customer: p.PartyID, Job: p.JobID, Day: day, Amount: amount, Bank: bank, Method: method, Note: p.Note, Reference: p.Reference}
		for _, l := range p.Lines {
			b.TaxCode = l.TaxCodeID
		}
		if c.again { // it pays the same request
			b.Request = p.SourceID
		}
		return DraftKind(p.Kind), b, nil
	case posting.Receipt:
		return DraftKind(p.Kind), ReceiptBody{Customer: p.PartyID, Job: p.JobID, Day: day, Arrived: amount, Bank: bank, Method: method, Reference: p.Reference, Note: p.Note}, nil
	case posting.Unidentified:
		return DraftKind(p.Kind), UnidentifiedBody{Day: day, Amount: amount, Bank: bank, Method: method, Reference: p.Reference, Note: p.Note}, nil
	case posting.Recovery:
		return DraftKind(p.Kind), RecoveryBody{WriteOff: p.SourceID, Day: day, Amount: amount, Bank: bank, Method: method, Reference: p.Reference, Note: p.Note}, nil
	}
	return "", nil, nil
}

// deposit is a deposit as it was taken.
func (c copier) deposit(v settling.Deposit, p posting.Paper) DepositBody {
	_, body, _ := c.money(p)
	b, _ := body.(DepositBody)
	b.TaxCode, b.Currency = v.TaxCodeID, v.Currency
	if c.again && v.AtBank != 0 {
		b.AtBank, b.Rate = c.atBank(v.BankAccountID, v.AtBank), c.number(v.Rate)
	}
	return b
}

// copyDistributed is a deposit or a receipt out of money that was not identified:
// taken back, the money waits there again.
func copyDistributed(c copier, detail string, p posting.Paper) (DraftKind, any, error) {
	var v settling.Distribute
	err := json.Unmarshal([]byte(detail), &v)
	kind, body, _ := c.money(p)
	if !c.again || v.From == 0 {
		return kind, body, err
	}
	out := DistributeBody{From: int64(v.From), Day: c.day(string(p.Day))}
	switch b := body.(type) {
	case DepositBody:
		out.Deposits = []DepositBody{b}
	case ReceiptBody:
		out.Receipts = []ReceiptBody{b}
	default:
		return kind, body, err
	}
	return "distribution", out, err
}

func (c copier) shares(all []settling.Share) []ShareBody {
	if !c.again {
		return nil
	}
	var out []ShareBody
	for _, s := range all {
		out = append(out, ShareBody{int64(s.Item), c.ofItem(s.Item, s.Amount)})
	}
	return out
}

func (c copier) invoice(v billing.Invoice, _ posting.Paper) InvoiceBody {
	b := InvoiceBody{InCurrency: c.in(v.Currency, v.Rate, v.PartyID), Customer: v.PartyID, Job: v.JobID, Day: c.day(string(v.Day)), Terms: v.TermsID, Reference: v.Reference, Subject: v.Subject, Salesperson: v.Salesperson, OrderNumber: v.OrderNumber, Includes: v.Includes,
		DiscountPercent: c.number(v.DiscountPercent), Discount: c.amount(v.Discount)}
	if !v.DefaultNote {
		b.Note = &v.Note
	}
	if v.RoundTo != 0 {
		b.RoundTo = c.cur.Format(v.RoundTo)
	}
	b.Lines = c.lines(v.Lines)
	if b.Form = string(v.Form); c.again {
		for _, d := range v.Deductions {
			b.Deductions = append(b.Deductions, DeductionBody{d.PaperID, c.amount(d.Amount)})
		}
		if v.Retention != nil {
			b.Retention = &RetentionBody{c.cur.Format(v.Retention.Amount), v.Retention.Reason}
		}
		b.Due, b.Supplied = string(v.Due), string(v.Supplied)
		for _, u := range v.SetAgainst {
			b.SetAgainst = append(b.SetAgainst, UseBody{int64(u.Credit), c.amount(u.Amount)})
		}
	}
	return b
}

// lines are what was written of each line. What it took of an order it takes
// once more only where the paper is taken back.
func (c copier) lines(all []posting.Line) []InvoiceLineBody {
	var out []InvoiceLineBody
	for _, l := range all {
		b := InvoiceLineBody{Article: l.ArticleID, Text: l.Text, Unit: l.Unit, Quantity: c.number(l.Quantity), UnitPrice: c.cur.Price(l.UnitPrice),
			DiscountPercent: c.number(l.DiscountPercent), Discount: c.amount(l.Discount), TaxCode: l.TaxCodeID, Account: l.AccountID, Apart: l.Apart}
		if len(l.Costs) > 0 && !c.again {
			continue // what was passed on is not passed on once more
		}
		if c.again {
			b.Costs, b.Serials = c.costs(l.Costs), l.Serials
			b.Order, b.OrderLine = l.Of.PaperID, l.Of.Position
		}
		out = append(out, b)
	}
	return out
}

func (c copier) orderShares(all []billing.OrderShare) []OrderShareBody {
	var out []OrderShareBody
	for _, l := range all {
		out = append(out, OrderShareBody{l.Position, l.Quantity.String(), l.Serials})
	}
	return out
}

func (c copier) advances(all []billing.AdvanceCredit) []AdvanceCreditBody {
	var out []AdvanceCreditBody
	for _, a := range all {
		out = append(out, AdvanceCreditBody{Paper: a.PaperID, Keep: c.amount(a.Keep), OutsideTax: a.OutsideTax, Against: a.Against})
	}
	return out
}

func (c copier) quote(v billing.Quote, _ posting.Paper) QuoteBody {
	b := QuoteBody{InCurrency: c.in(v.Currency, v.Rate, v.PartyID), Customer: v.PartyID, Job: v.JobID, Day: c.day(string(v.Day)), Reference: v.Reference, Note: v.Note, Includes: v.Includes,
		DiscountPercent: c.number(v.DiscountPercent), Discount: c.amount(v.Discount), Lines: c.lines(v.Lines)}
	if c.again {
		b.Holds, b.Revises = string(v.Holds), v.RevisesID
	}
	return b
}

func (c copier) order(v billing.Order, _ posting.Paper) OrderBody {
	if !c.again {
		v.QuoteID = 0
	}
	lines := c.lines(v.Lines)
	for n := range lines { // of a quote, not of an order
		lines[n].Quote, lines[n].QuoteLine, lines[n].Order, lines[n].OrderLine = lines[n].Order, lines[n].OrderLine, 0, 0
	}
	return OrderBody{InCurrency: c.in(v.Currency, v.Rate, v.PartyID), Quote: v.QuoteID, Customer: v.PartyID, Job: v.JobID, Day: c.day(string(v.Day)), Reference: v.Reference, Note: v.Note, Includes: v.Includes,
		DiscountPercent: c.number(v.DiscountPercent), Discount: c.amount(v.Discount), Lines: lines}
}

func (c copier) depositInvoice(v billing.DepositInvoice, _ posting.Paper) DepositInvoiceBody {
	b := DepositInvoiceBody{InCurrency: c.in(v.Currency, v.Rate, v.PartyID), Customer: v.PartyID, Job: v.JobID, Day: c.day(string(v.Day)), Terms: v.TermsID, Reference: v.Reference, Note: v.Note, Order: v.OrderID, Percent: c.number(v.Percent), Amount: c.amount(v.Amount)}
	if c.again {
		b.Due = string(v.Due)
	}
	for _, l := range v.Lines {
		b.Lines = append(b.Lines, AdvanceLineBody{l.Text, c.amount(l.Net), l.TaxCodeID})
	}
	return b
}

func (c copier) receipt(v settling.Receipt, _ posting.Paper) ReceiptBody {
	b := ReceiptBody{Customer: v.PartyID, Job: v.JobID, Day: c.day(string(v.Day)), Arrived: c.amount(v.Arrived), Charges: c.amount(v.Charges), Withheld: c.amount(v.Withheld),
		Bank: v.BankAccountID, Method: string(v.Method), Reference: v.Reference, Note: v.Note, OnAccount: v.OnAccount}
	for _, d := range v.Differences {
		b.Differences = append(b.Differences, DifferenceBody{d.AccountID, d.Text, c.amount(d.Amount)})
	}
	if c.again {
		b.Rate = c.number(v.Rate)
		for _, x := range v.Placements {
			b.Placements = append(b.Placements, PlacementBody{Item: int64(x.Debit), Amount: c.ofItem(x.Debit, x.Amount), Takes: c.amount(x.Takes), Discount: x.Discount, Rest: string(x.Rest), Reason: x.Reason})
		}
	}
	return b
}

func (c copier) journal(v journal.Journal, _ posting.Paper) JournalBody {
	b := JournalBody{InCurrency: c.in(v.Currency, v.Rate, 0), Day: c.day(string(v.Day)), Text: v.Text}
	for _, l := range v.Lines {
		b.Lines = append(b.Lines, JournalLineBody{Account: l.AccountID, Debit: c.amount(l.Debit), Credit: c.amount(l.Credit), Party: l.PartyID, Job: l.JobID})
	}
	return b
}
