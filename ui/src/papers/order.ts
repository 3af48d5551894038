import { lazy } from 'react';
import type { OrderBody } from '../api/client';
import { isNil } from '../parts/show';
import { kind, newPaper } from './editing/kind';
import { written } from './invoiceLines';

/** They said yes: what they ordered, to be billed in one piece or in many. */
export const order = kind<OrderBody>({
  id: 'order',
  path: '/api/v1/orders',
  title: () => 'Order',
  lead: () => '',
  hint: 'Write who ordered what: it posts nothing, and is part of what the job’s contract comes to.',
  says: [
    {
      says: 'They ordered',
      leads: 'an order, to be billed in one piece or in many',
      words: 'contract said yes accepted agreed commission',
    },
  ],
  blank: (given, known) => ({
    customer: given.customer,
    job: given.job,
    currency: given.currency,
    day: given.day,
    quote: known.quote,
    includes: given.quote?.includes,
    reference: given.quote?.reference,
    lines: given.quote?.left ?? [],
  }),
  body: (b) => ({ ...b, lines: written(b.lines ?? []) }),
  quiet: (b) => ((b.lines ?? []).some((l) => l.unitPrice) ? [] : ['lines', 'lines[0].text']),
  ownSheet: true,
  next: (p) => {
    if (p.reversedBy || (p.order ?? []).every((l) => isNil(l.left))) return [];
    const of = { order: p.id };
    return [
      { name: 'Invoice', to: newPaper('invoice', of) },
      { name: 'Deposit invoice', to: newPaper('deposit invoice', of) },
      { name: 'Delivery', to: newPaper('delivery', of) },
      { name: 'It came back', to: newPaper('return', of), more: true },
      { name: 'Cancel what is left', to: newPaper('cancellation', of), more: true },
      { name: 'Ask for a deposit', to: newPaper('request for a deposit', { ...of, customer: p.customerId, job: p.jobId }) },
    ];
  },
  postsNothing: true,
  Fields: lazy(() => import('./OrderFields')),
});
