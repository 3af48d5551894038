import { lazy } from 'react';
import type { RefundBody } from '../api/client';
import { kind } from './editing/kind';

/** We gave money back: a refund out of open credits. */
export const refund = kind<RefundBody>({
  id: 'refund',
  path: '/api/v1/refunds',
  title: () => 'Refund',
  lead: () => 'Money given back out of what is open: a deposit, a receipt on account, another credit.',
  hint: 'Choose the credit that is given back: what that does is shown here before anything is written.',
  says: [
    {
      says: 'They paid too much, and we give it back',
      leads: 'a refund, by transfer or cheque',
      words: 'overpaid overpayment refund return money cheque back twice',
    },
  ],
  blank: (given) => ({
    customer: given.customer,
    day: given.day,
    sources: given.items.map((i) => ({ item: i.id, amount: i.open })),
    bank: given.bank,
    method: given.method,
    reference: given.said,
  }),
  quiet: (b) => (b.sources?.length ? [] : ['sources']),
  Fields: lazy(() => import('./RefundFields')),
});
