import { lazy } from 'react';
import type {
  PayableReleaseBody,
  PaymentRunBody,
  PrepaymentBody,
  SupplierPaymentBody,
  SupplierRefundBody,
  Paper,
} from '../api/client';
import { kind, newPaper } from './editing/kind';
import { openItem, type Step } from './steps';

/** What stands open with a supplier is set against bills, or comes back. */
function ofOpen(p: Paper): Step[] {
  const item = openItem(p);
  if (!item || p.reversedBy) return [];
  return [
    { name: 'Set against', to: `/customers/suppliers/${p.customerId}?credit=${item.itemId}#bench` },
    { name: 'It came back', to: newPaper('supplier refund', { customer: p.customerId, item: item.itemId }) },
  ];
}

/** We pay a supplier. */
export const supplierPayment = kind<SupplierPaymentBody>({
  id: 'supplier payment',
  path: '/api/v1/supplier-payments',
  title: () => 'Supplier payment',
  lead: () => 'Money to a supplier for what we owe, with the discount for paying early and what we withhold.',
  hint: 'Choose the bills that are paid: the entry is shown here before anything is written.',
  says: [{ says: 'We pay a supplier', leads: 'a supplier payment', words: 'pay bill supplier vendor transfer cheque' }],
  blank: (given) => ({
    supplier: given.supplier,
    day: given.day,
    bank: given.bank,
    method: given.method,
    reference: given.said,
    bills: given.items.map((i) => ({ item: i.id, discount: !!i.early })),
  }),
  quiet: (b) => (b.bills?.length || b.paid ? [] : ['paid', 'bills']),
  next: (p) => [
    ...ofOpen(p),
    ...(p.method === 'transfer' && !p.reversedBy ? [{ name: 'File for the bank', to: '/papers/bank-file', more: true }] : []),
  ],
  Fields: lazy(() => import('./SupplierPaymentFields')),
});

/** We pay many suppliers in one step. */
export const paymentRun = kind<PaymentRunBody>({
  id: 'payment run',
  path: '/api/v1/payment-runs',
  title: () => 'Payment run',
  lead: () => 'Bills that are due, or whose discount ends: each supplier is paid by one payment.',
  hint: 'Tick what is paid: every payment is shown here before anything is written.',
  says: [{ says: 'We pay what is due', leads: 'a payment run', words: 'pay bills suppliers run many transfer bank file due' }],
  blank: (given) => ({ day: given.day, bank: given.bank, method: 'transfer', through: '', payments: [] }),
  quiet: (b) => (b.payments?.length ? [] : ['payments']),
  several: true,
  posted: 'Payment run',
  after: () => '/papers/bank-file',
  Fields: lazy(() => import('./PaymentRunFields')),
});

/** We paid a supplier before the bill. */
export const prepayment = kind<PrepaymentBody>({
  id: 'supplier prepayment',
  path: '/api/v1/supplier-prepayments',
  title: () => 'Supplier prepayment',
  lead: () => 'Money to a supplier before the bill that it is for.',
  hint: 'Say whom we paid and how much: the entry is shown here before anything is written.',
  says: [
    { says: 'We paid a supplier before the bill', leads: 'a supplier prepayment', words: 'prepay advance deposit supplier down' },
  ],
  blank: (given, known) => ({
    supplier: given.supplier,
    day: given.day,
    amount: known.amount || given.moved,
    bank: given.bank,
    method: given.method,
    order: known.order,
    reference: given.said,
  }),
  quiet: (b) => (b.amount ? [] : ['amount']),
  next: ofOpen,
  Fields: lazy(() => import('./PrepaymentFields')),
});

/** A supplier gave money back. */
export const supplierRefund = kind<SupplierRefundBody>({
  id: 'supplier refund',
  path: '/api/v1/supplier-refunds',
  title: () => 'Supplier refund',
  lead: () => 'Money that a supplier gave back: a prepayment, a payment on account, a credit.',
  hint: 'Choose what comes back: the entry is shown here before anything is written.',
  says: [{ says: 'A supplier gave us money back', leads: 'a supplier refund', words: 'refund supplier money back credit' }],
  blank: (given) => ({
    supplier: given.supplier,
    day: given.day,
    bank: given.bank,
    method: given.method,
    reference: given.said,
    sources: given.items.map((i) => ({ item: i.id, amount: i.open })),
  }),
  quiet: (b) => (b.sources?.length ? [] : ['sources']),
  Fields: lazy(() => import('./SupplierSharesFields')),
});

/** What we kept back of a subcontractor becomes payable. */
export const supplierRelease = kind<PayableReleaseBody>({
  id: 'supplier release',
  path: '/api/v1/supplier-releases',
  title: () => 'Release to a supplier',
  lead: () => 'What we kept back of a subcontractor becomes payable.',
  hint: 'Choose what is released: the entry is shown here before anything is written.',
  says: [
    {
      says: 'What we kept back of a supplier is due',
      leads: 'a release to a supplier',
      words: 'retention subcontractor release keep back payable',
    },
  ],
  blank: (given) => ({
    supplier: given.supplier,
    day: given.day,
    items: given.items.map((i) => ({ item: i.id, amount: i.open })),
  }),
  quiet: (b) => (b.items?.length ? [] : ['items']),
  next: (p) => {
    const item = openItem(p);
    return item ? [{ name: 'Pay', to: newPaper('supplier payment', { customer: p.customerId, item: item.itemId }) }] : [];
  },
  Fields: lazy(() => import('./SupplierSharesFields')),
});
