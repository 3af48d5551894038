import { lazy } from 'react';
import type { DistributeBody } from '../api/client';
import { kind } from './editing/kind';

/**
 * Whose money is it? One transfer for several customers, or money that was
 * not identified when it came.
 */
export const distribution = kind<DistributeBody>({
  id: 'distribution',
  path: '/api/v1/distributions',
  title: (known) => (known.from ? 'Whose money is it?' : 'One transfer for several customers'),
  lead: (known) =>
    known.from
      ? 'Money that was not identified becomes a deposit or a receipt of its owner; it can be shared, and a part sent back.'
      : 'Each share becomes a receipt or a deposit of its customer. The shares must come to the transfer.',
  hint: 'Say whose it is: the entries of each share are shown here before anything is written.',
  says: [
    {
      says: 'One transfer came for several customers',
      leads: 'a receipt for each',
      words: 'payment shared split bulk several',
    },
  ],
  blank: (given, known) => ({
    from: known.from,
    day: given.day,
    amount: known.from ? '' : given.moved,
    bank: known.from ? 0 : given.bank,
    method: known.from ? '' : given.method,
    reference: given.said,
    receipts: [{ customer: given.customer, arrived: known.amount, onAccount: false }],
    deposits: [],
    sendBack: '',
  }),
  several: true,
  quiet: (b) => [
    ...(b.amount || b.from ? [] : ['amount']),
    ...(b.receipts ?? []).flatMap((r, i) => (r.arrived ? [] : [`receipts[${i}].arrived`])),
    ...(b.deposits ?? []).flatMap((d, i) => (d.amount ? [] : [`deposits[${i}].amount`])),
  ],
  posted: 'Money',
  after: () => '/desk',
  Fields: lazy(() => import('./DistributeFields')),
});
