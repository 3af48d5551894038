package web

import (
	"context"
	"errors"
	"net/http"
	"net/url"

	"cleantally/books"
	"cleantally/core/ledger"
	"cleantally/core/money"
	"cleantally/core/posting"
	"cleantally/store"

	"github.com/danielgtaylor/huma/v2"
)

// A body is a command as the API takes it. What is left out is empty, so that
// a half-written paper can be previewed.
type body interface {
	command(*parser) posting.Command
}

// commandInput is what every command takes beside its body.
type commandInput[B body] struct {
	Preview   bool     `query:"preview" doc:"Answer the effect and write nothing"`
	Token     string   `query:"token" maxLength:"100" doc:"The token of the effect that is on screen, as its preview answered it: what would be posted must still be that. It confirms its warnings"`
	Confirmed []string `query:"confirmed,explode" maxItems:"50" doc:"The warnings that have been seen, each by its rule, of a client that shows no effect"`
	Draft     int64    `query:"draft" doc:"The draft that is posted, or previewed; posted, it is gone afterwards"`
	Again     int64    `query:"again" doc:"The paper in place of which this one is written: it is taken back in the same step, unless it was before. What is refused of it bears fields that begin with again."`
	AgainDay  string   `query:"againDay" doc:"The day on which it is taken back"`
	BankLine  int64    `query:"bankLine" doc:"The line of a bank's statement that it explains: it is tied to it, and must come to it"`
	BankRule  int64    `query:"bankRule" doc:"The firm's own rule by which it was filled in, to be kept with the line"`
	Reason    string   `query:"againReason" maxLength:"400" doc:"Why"`
	Match     string   `header:"If-Match" doc:"The ETag of the draft, as it is posted"`
	Word      string   `header:"Second-Word" maxLength:"800" doc:"The password of the second person who agrees, where one must, percent-encoded"`
	Ask       bool     `query:"ask" doc:"Have it wait for a second person's word in place of posting it"`
	Key       string   `header:"Idempotency-Key" maxLength:"100" doc:"The same key answers the first answer again"`
	Body      B
}

// Answer is the effect of a command and, when it was posted, what came of it.
type Answer struct {
	Effect *Effect       `json:"effect,omitempty" doc:"Of a preview"`
	Posted *books.Posted `json:"posted,omitempty" doc:"Of a post"`
}

// command makes an operation of a kind of command, with its preview twin.
func command[B body](s *Server, id, path, summary string) {
	huma.Register(s.api, describe(id, "POST", path, summary), func(ctx context.Context, in *commandInput[B]) (*struct{ Body Answer }, error) {
		p, err := s.parser(ctx)
		if err != nil {
			return nil, err
		}
		c := in.Body.command(p)
		out := &struct{ Body Answer }{}
		how := books.How{User: s.user(ctx), Key: in.Key, Token: in.Token, Confirmed: in.Confirmed, Draft: in.Draft, BankLine: in.BankLine, BankRule: in.BankRule, Word: secondWord(in.Word)}
		if in.Again != 0 {
			how.Again = books.Again{PaperID: in.Again, Day: p.day("again.day", in.AgainDay), Reason: in.Reason}
		}
		if in.Preview {
			out.Body.Effect, err = s.preview(ctx, c, p, how)
			return out, err
		}
		if len(p.refusals) > 0 {
			return nil, refusedProblem(p.refusals)
		}
		if in.Ask {
			return out, s.askForWord(ctx, c, p, how)
		}
		if in.Draft != 0 {
			version, ok := draftVersion(in.Match, in.Draft)
			if !ok {
				return nil, plain(http.StatusPreconditionRequired, "Posting a draft needs the ETag that it had, as If-Match.")
			}
			how.Version = version
		}
		posted, err := s.book.Post(ctx, c, how)
		var otherwise books.ErrShownOtherwise
		if errors.As(err, &otherwise) {
			return nil, s.shownOtherwise(ctx, c, otherwise, p.cur)
		}
		out.Body.Posted = &posted
		return out, problem(err)
	})
}

// secondWord reads the second person's word: a header holds no letter beyond
// ASCII, so it comes percent-encoded.
func secondWord(header string) string {
	if word, err := url.PathUnescape(header); err == nil {
		return word
	}
	return header
}

// preview plans a command. A figure that could not be read is refused instead
// of what the plan says of its field.
func (s *Server) preview(ctx context.Context, c posting.Command, p *parser, how books.How) (*Effect, error) {
	effect, refusals, err := s.book.Preview(ctx, c, how)
	if err != nil {
		return nil, problem(err)
	}
	all := p.refusals
	for _, r := range refusals {
		if !hasField(p.refusals, r.Field) {
			all = append(all, r)
		}
	}
	n, err := s.names(ctx)
	if err != nil {
		return nil, problem(err)
	}
	body := effectBody(effect, all, p.cur, n)
	if body.Token, err = books.Token(c, effect); err != nil {
		return nil, problem(err)
	}
	body.Agreed, body.Others, err = s.book.Agreement(ctx, c, how, effect)
	return &body, problem(errors.Join(err, s.cutEffect(ctx, &body)))
}

// shownOtherwise answers the new effect in place of the one that was shown.
func (s *Server) shownOtherwise(ctx context.Context, c posting.Command, e books.ErrShownOtherwise, cur money.Currency) error {
	n, err1 := s.names(ctx)
	body := effectBody(e.Effect, nil, cur, n)
	var err2 error
	body.Token, err2 = books.Token(c, e.Effect)
	if err := errors.Join(err1, err2, s.cutEffect(ctx, &body)); err != nil {
		return problem(err)
	}
	return &Problem{Type: "shown otherwise", Title: "No longer what was shown", Status: http.StatusConflict, Detail: e.Error(), Effect: &body}
}

func hasField(refusals posting.Refusals, field string) bool {
	for _, r := range refusals {
		if r.Field == field {
			return true
		}
	}
	return false
}

// lookup answers names from maps.
type lookup struct {
	accounts map[int64]ledger.Account
	codes    map[int64]string
	deducts  func(posting.PaperLine) bool
}

func (l lookup) Account(id int64) (ledger.Account, bool) { a, ok := l.accounts[id]; return a, ok }
func (l lookup) TaxCodeName(id int64) string             { return l.codes[id] }

func (l lookup) Deducts(line posting.PaperLine) bool { return l.deducts(line) }

// names reads the names of accounts and tax codes.
func (s *Server) names(ctx context.Context) (lookup, error) {
	l := lookup{accounts: map[int64]ledger.Account{}, codes: map[int64]string{}}
	r := s.book.Read(ctx)
	accounts, err1 := store.All[ledger.Account](r, "number")
	codes, err2 := r.TaxCodes()
	var err3 error
	l.deducts, err3 = r.Deducts()
	for _, a := range accounts {
		l.accounts[a.ID] = a
	}
	for _, c := range codes {
		l.codes[c.ID] = c.Code
	}
	return l, errors.Join(err1, err2, err3)
}

func (s *Server) registerCommands() {
	command[InvoiceBody](s, "post-invoice", "/api/v1/invoices", "Post an invoice")
	command[QuoteBody](s, "post-quote", "/api/v1/quotes", "Record what is offered")
	command[ReturnBody](s, "post-return", "/api/v1/returns", "Record what of an order came back unbilled, or was swapped")
	command[DeliveryBody](s, "post-delivery", "/api/v1/deliveries", "Record what of an order is delivered")
	command[CancellationBody](s, "post-cancellation", "/api/v1/cancellations", "Cancel what is left of an order")
	command[RequestBody](s, "post-request", "/api/v1/deposit-requests", "Ask for a deposit")
	command[ClaimBody](s, "post-claim", "/api/v1/claims", "Bill a job by progress")
	command[CreditBody](s, "post-credit-note", "/api/v1/credit-notes", "Credit an invoice, whole or in part")
	command[LateChargeBody](s, "post-late-charge", "/api/v1/late-charges", "Bill a customer for what was overdue")
	command[AdvanceCreditBody](s, "post-advance-credit", "/api/v1/advance-credits", "Credit what of a deposit invoice was not deducted")
	command[OrderBody](s, "post-order", "/api/v1/orders", "Record what a customer ordered")
	command[DepositInvoiceBody](s, "post-deposit-invoice", "/api/v1/deposit-invoices", "Bill in advance")
	command[GuaranteeBody](s, "post-guarantee", "/api/v1/guarantees", "Record a guarantee in the place of retention")
	command[ReleaseBody](s, "post-release", "/api/v1/releases", "Make payable what was kept back")
	command[DepositBody](s, "post-deposit", "/api/v1/deposits", "Take a deposit")
	command[ReceiptBody](s, "post-receipt", "/api/v1/receipts", "Record a receipt")
	command[SetAgainstBody](s, "set-against", "/api/v1/allocations", "Set credits against what is owed")
	command[UndoBody](s, "undo-allocations", "/api/v1/allocations/undo", "Undo allocations")
	command[MoveBody](s, "move-allocation", "/api/v1/allocations/move", "Set against another item what was set against the wrong one")
	command[UnidentifiedBody](s, "post-unidentified", "/api/v1/unidentified", "Record money that is not identified")
	command[DistributeBody](s, "distribute", "/api/v1/distributions", "Say whose money it is: one transfer for several, or money that was not identified")
	command[RefundBody](s, "post-refund", "/api/v1/refunds", "Give money back, or send it back")
	command[ForfeitBody](s, "post-forfeit", "/api/v1/forfeits", "Keep a part of a deposit for good")
	command[TransferBody](s, "post-transfer", "/api/v1/transfers", "Move an open credit")
	command[SplitBody](s, "split-deposit", "/api/v1/deposits/split", "Settle what becomes of a deposit in one step")
	command[ReturnedBody](s, "post-returned", "/api/v1/returned-payments", "Record a payment that the bank took back")
	command[WriteOffBody](s, "post-write-off", "/api/v1/write-offs", "Give up what is owed")
	command[RecoveryBody](s, "post-recovery", "/api/v1/recoveries", "Record money for a debt that was given up")
	command[PayoutBody](s, "post-card-payout", "/api/v1/card-payouts", "Take what a card gateway paid out")
	command[OwnTransferBody](s, "post-own-transfer", "/api/v1/own-transfers", "Move money between the firm's own accounts")
	command[AllowanceBody](s, "post-allowance", "/api/v1/allowances", "Bring the allowance to what is wanted")
	command[ContraBody](s, "post-contra", "/api/v1/contras", "Set what a party owes us against what we owe it")
	command[DisputeBody](s, "dispute", "/api/v1/disputes", "Mark what is owed as disputed, or no longer")
	s.registerBuying()
	command[JournalBody](s, "post-journal", "/api/v1/journal-entries", "Post an entry by hand")
	command[ReversalBody](s, "post-reversal", "/api/v1/reversals", "Reverse a posted paper")
}

// places of a quantity or price, and of a percentage.
const (
	pricePlaces   = 6
	percentPlaces = 4
)
