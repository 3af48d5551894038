package web

import (
	"encoding/json"
	"maps"
	"slices"

	"cleantally/core/posting"

	"github.com/danielgtaylor/huma/v2"
)

// Kind is a kind of paper. The API's description lists those that the core
// knows, and the interface's types come from there.
type Kind string

// Schema describes a kind.
func (Kind) Schema(huma.Registry) *huma.Schema {
	s := &huma.Schema{Type: "string", Description: "A kind of paper"}
	for _, d := range posting.Kinds() {
		s.Enum = append(s.Enum, string(d.Kind))
	}
	return s
}

// DraftKind is what can be begun and kept as a draft: a paper, or a step that
// makes several papers or none.
type DraftKind string

// Schema describes a kind of draft.
func (DraftKind) Schema(huma.Registry) *huma.Schema {
	s := &huma.Schema{Type: "string", Description: "What a draft will be"}
	for _, k := range slices.Sorted(maps.Keys(draftKinds)) {
		s.Enum = append(s.Enum, string(k))
	}
	return s
}

// ofAdvance is a credit note of what was billed in advance.
const ofAdvance DraftKind = "credit of an advance"

// draftKinds turns the body of a draft into its command.
var draftKinds = map[DraftKind]func(json.RawMessage, *parser) (posting.Command, error){
	DraftKind(posting.Invoice):        draftCommand[InvoiceBody],
	DraftKind(posting.Quote):          draftCommand[QuoteBody],
	DraftKind(posting.Delivery):       draftCommand[DeliveryBody],
	DraftKind(posting.Cancellation):   draftCommand[CancellationBody],
	DraftKind(posting.Return):         draftCommand[ReturnBody],
	DraftKind(posting.Request):        draftCommand[RequestBody],
	DraftKind(posting.Order):          draftCommand[OrderBody],
	DraftKind(posting.DepositInvoice): draftCommand[DepositInvoiceBody],
	DraftKind(posting.Release):        draftCommand[ReleaseBody],
	DraftKind(posting.Guarantee):      draftCommand[GuaranteeBody],
	DraftKind(posting.Deposit):        draftCommand[DepositBody],
	DraftKind(posting.Receipt):        draftCommand[ReceiptBody],
	DraftKind(posting.Unidentified):   draftCommand[UnidentifiedBody],
	DraftKind(posting.Refund):         draftCommand[RefundBody],
	DraftKind(posting.WriteOff):       draftCommand[WriteOffBody],
	DraftKind(posting.Recovery):       draftCommand[RecoveryBody],
	DraftKind(posting.Transfer):       draftCommand[TransferBody],
	DraftKind(posting.Payout):         draftCommand[PayoutBody],
	DraftKind(posting.OwnTransfer):    draftCommand[OwnTransferBody],
	DraftKind(posting.PurchaseOrder):  draftCommand[PurchaseOrderBody],
	DraftKind(posting.GoodsIn):        draftCommand[ReceivedBody],
	notComing:                         draftCommand[NotComingBody],
	DraftKind(posting.SupplierBill):   draftCommand[BillBody],
	DraftKind(posting.Expense):        draftCommand[ExpenseBody],
	DraftKind(posting.SupplierCredit): draftCommand[SupplierCreditBody],
	DraftKind(posting.Prepayment):     draftCommand[PrepaymentBody],
	DraftKind(posting.PaySupplier):    draftCommand[SupplierPaymentBody],
	paymentRun:                        draftCommand[PaymentRunBody],
	DraftKind(posting.SupplierRefund): draftCommand[SupplierRefundBody],
	DraftKind(posting.PayableRelease): draftCommand[PayableReleaseBody],
	DraftKind(posting.NotPassedOn):    draftCommand[NotPassedOnBody],
	DraftKind(posting.StockUse):       draftCommand[StockUseBody],
	DraftKind(posting.StockCount):     draftCommand[StockCountBody],
	DraftKind(posting.Journal):        draftCommand[JournalBody],
	DraftKind(posting.Contra):         draftCommand[ContraBody],
	DraftKind(posting.CreditNote):     draftCommand[CreditBody],
	ofAdvance:                         draftCommand[AdvanceCreditBody],
	"claim":                           draftCommand[ClaimBody],
	lateCharge:                        draftCommand[LateChargeBody],
	"distribution":                    draftCommand[DistributeBody],
	"deposit split":                   draftCommand[SplitBody],
}

func draftCommand[B body](raw json.RawMessage, p *parser) (posting.Command, error) {
	var b B
	if err := json.Unmarshal(raw, &b); err != nil {
		return nil, err
	}
	return b.command(p), nil
}
