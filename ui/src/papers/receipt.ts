import { lazy } from 'react';
import type { ReceiptBody } from '../api/client';
import { kind } from './editing/kind';
import { ofCredit, returned } from './steps';

/** They paid what we billed: a receipt, set against invoices. */
export const receipt = kind<ReceiptBody>({
  id: 'receipt',
  path: '/api/v1/receipts',
  title: () => 'Receipt',
  lead: () => 'Money for what is owed. What is set against nothing stays on account only when you say so.',
  hint: 'Say who paid and how much, and set it against what they owe: what that does is shown here before anything is written.',
  says: [
    {
      says: 'They paid what we billed',
      leads: 'a receipt, set against invoices',
      words: 'payment money in bank transfer discount early withheld retention short',
    },
    {
      says: 'They paid, and it fits no invoice',
      leads: 'a receipt on account',
      words: 'payment money too much twice overpaid overpayment',
      known: 'onAccount=1',
    },
  ],
  blank: (given, known) => ({
    customer: given.customer,
    job: given.job,
    day: given.day,
    arrived: known.amount || given.moved,
    charges: known.fee,
    withheld: '',
    bank: given.bank,
    method: given.method,
    reference: given.said,
    placements: known.item
      ? [{ item: known.item, amount: '' }]
      : known.items
        ? given.items.map((i) => ({ item: i.id, amount: '', discount: known.discount || undefined }))
        : [],
    onAccount: known.onAccount,
  }),
  quiet: (b) => (b.arrived ? [] : ['arrived', ...(b.placements ?? []).map((_, n) => `placements[${n}].amount`)]),
  after: (b) => `/customers/${b.customer}`,
  next: (p) => [...ofCredit(p), ...returned(p)],
  Fields: lazy(() => import('./ReceiptFields')),
});
