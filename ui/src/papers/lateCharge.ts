import { lazy } from 'react';
import type { LateChargeBody } from '../api/client';
import { kind } from './editing/kind';

/** They pay late: interest or a fee for the days, as an invoice of its own. */
export const lateCharge = kind<LateChargeBody>({
  id: 'late charge',
  path: '/api/v1/late-charges',
  title: () => 'Late charge',
  lead: () => 'Interest on each day that something was overdue, a fee, or both. No day is charged twice.',
  hint: 'Choose the customer, and say what is charged.',
  says: [
    {
      says: 'They pay late, and are charged for it',
      leads: 'a late charge: interest, a fee',
      words: 'late interest overdue fee penalty charge days',
    },
  ],
  blank: (given) => ({
    customer: given.customer,
    day: given.day,
    through: given.day,
    percent: given.late.percent,
    grace: given.late.grace,
    fee: given.late.fee,
  }),
  quiet: (b) => [...(b.customer ? [] : ['party', 'through']), ...(b.percent || b.fee ? [] : ['percent'])],
  Fields: lazy(() => import('./LateChargeFields')),
});
