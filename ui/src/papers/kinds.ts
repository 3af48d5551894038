import type { DraftKind } from './editing/draft';
import type { AnyKind } from './editing/kind';
import { advanceCredit } from './advanceCredit';
import { cancellation } from './cancellation';
import { claim } from './claim';
import { contra } from './contra';
import { creditNote } from './creditNote';
import { delivery } from './delivery';
import { goodsBack } from './goodsBack';
import { deposit } from './deposit';
import { depositInvoice } from './depositInvoice';
import { depositSplit } from './depositSplit';
import { distribution } from './distribution';
import { guarantee } from './guarantee';
import { invoice } from './invoice';
import { journal } from './journal';
import { lateCharge } from './lateCharge';
import { order } from './order';
import { ownTransfer } from './ownTransfer';
import { payout } from './payout';
import { quote } from './quote';
import { receipt } from './receipt';
import { recovery } from './recovery';
import { refund } from './refund';
import { release } from './release';
import { request } from './request';
import { expense } from './expense';
import { goodsReceived, notComing } from './goodsReceived';
import { notPassedOn } from './notPassedOn';
import { purchaseOrder } from './purchaseOrder';
import { stockCount, stockUse } from './stock';
import { supplierBill } from './supplierBill';
import { supplierCredit } from './supplierCredit';
import { paymentRun, prepayment, supplierPayment, supplierRefund, supplierRelease } from './supplierMoney';
import { transfer } from './transfer';
import { unidentified } from './unidentified';
import { writeOff } from './writeOff';

/** Every kind of paper that is written. Routes, drafts, lists and situations read it. */
export const kinds = {
  deposit,
  receipt,
  'unidentified receipt': unidentified,
  distribution,
  refund,
  'deposit split': depositSplit,
  transfer,
  'write-off': writeOff,
  recovery,
  'card payout': payout,
  'own transfer': ownTransfer,
  contra,
  'purchase order': purchaseOrder,
  'goods received': goodsReceived,
  'purchase order cancelled': notComing,
  'supplier bill': supplierBill,
  expense,
  'supplier credit': supplierCredit,
  'supplier payment': supplierPayment,
  'payment run': paymentRun,
  'supplier prepayment': prepayment,
  'supplier refund': supplierRefund,
  'supplier release': supplierRelease,
  'cost not passed on': notPassedOn,
  'stock use': stockUse,
  'stock count': stockCount,
  journal,
  invoice,
  quote,
  order,
  delivery,
  return: goodsBack,
  cancellation,
  'request for a deposit': request,
  'deposit invoice': depositInvoice,
  claim,
  release,
  guarantee,
  'late charge': lateCharge,
  'credit note': creditNote,
  'credit of an advance': advanceCredit,
} satisfies Record<DraftKind, AnyKind>;
