import { lazy } from 'react';
import type { GuaranteeBody } from '../api/client';
import { isNil } from '../parts/show';
import { kind } from './editing/kind';

/** A bank or an insurer promises what they would keep back: it is released. */
export const guarantee = kind<GuaranteeBody>({
  id: 'guarantee',
  path: '/api/v1/guarantees',
  title: () => 'Guarantee',
  lead: () => 'A bank or an insurer promises it until a last date, in the place of what the customer keeps back.',
  hint: 'Say who promises how much, and until when. What is kept back can be released in the same step.',
  says: [
    {
      says: 'They take a guarantee in place of what they keep back',
      leads: 'a guarantee, and the release of retention',
      words: 'bond surety bank insurer guarantee retention defects warranty',
    },
  ],
  blank: (given) => ({
    customer: given.customer,
    job: given.job || (given.items[0]?.jobId ?? 0),
    day: given.day,
    amount: given.items[0]?.open,
    release: true,
  }),
  quiet: (b) => [
    ...(b.amount ? [] : ['amount', 'release']),
    ...(b.issuer ? [] : ['issuer']),
    ...(b.lastDay ? [] : ['lastDay']),
    ...(b.customer ? [] : ['party']),
  ],
  next: (p) =>
    p.reversedBy || p.state === 'handed back' || isNil(p.total) ? [] : [{ name: 'It came back', panel: 'handed back' }],
  Fields: lazy(() => import('./GuaranteeFields')),
});
