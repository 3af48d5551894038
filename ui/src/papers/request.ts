import { lazy } from 'react';
import type { RequestBody } from '../api/client';
import { isNil } from '../parts/show';
import { kind, newPaper } from './editing/kind';

/** A deposit is asked for before anything is billed. */
export const request = kind<RequestBody>({
  id: 'request for a deposit',
  path: '/api/v1/deposit-requests',
  title: () => 'Request for a deposit',
  lead: () => 'A deposit that is asked for, by a day. It is no tax invoice, and posts nothing until it is paid.',
  hint: 'Say whom you ask, for how much, and by when.',
  says: [
    {
      says: 'We want a deposit before we begin',
      leads: 'a request for a deposit',
      words: 'ask down payment advance prepayment before begin',
    },
  ],
  blank: (given, known) => ({
    customer: given.customer,
    job: given.job,
    day: given.day,
    of: known.order || known.quote,
  }),
  quiet: (b) => (b.percent || b.amount ? [] : ['percent', 'amount']),
  postsNothing: true,
  next: (p) =>
    p.reversedBy || isNil(p.left)
      ? []
      : [
          {
            name: 'They paid it',
            to: newPaper('deposit', { customer: p.customerId, job: p.jobId, request: p.id, amount: p.left }),
          },
          { name: 'Cancel what is left', to: newPaper('cancellation', { request: p.id }), more: true },
          { name: 'Sent', panel: 'sent', more: true },
        ],
  Fields: lazy(() => import('./RequestFields')),
});
