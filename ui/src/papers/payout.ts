import { lazy } from 'react';
import type { PayoutBody } from '../api/client';
import { kind } from './editing/kind';

/** The card gateway paid out what it had taken, less its fee. */
export const payout = kind<PayoutBody>({
  id: 'card payout',
  path: '/api/v1/card-payouts',
  title: () => 'Card payout',
  lead: () => 'What was paid by card arrives at the bank in one sum: the takings that it clears, less the fee.',
  hint: 'Choose the takings and say what arrived: the fee is what lies between them.',
  says: [
    {
      says: 'The card takings were paid out',
      leads: 'a card payout, with its fee',
      words: 'gateway terminal batch settlement fee commission cards',
    },
  ],
  blank: (given, known) => ({
    day: given.payout?.day ?? given.day,
    bank: given.payout?.bank ?? given.bank,
    arrived: given.payout?.arrived ?? given.moved,
    fee: given.payout?.fee ?? known.fee,
    reference: given.payout?.reference ?? '',
    takings: given.payout?.takings ?? [],
  }),
  quiet: (b) => [...(b.takings?.length ? [] : ['takings']), ...(b.arrived ? [] : ['arrived', 'fee'])],
  Fields: lazy(() => import('./PayoutFields')),
});
