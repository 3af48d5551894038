import { lazy } from 'react';
import type { QuoteBody } from '../api/client';
import { kind, newPaper } from './editing/kind';
import { written } from './invoiceLines';

/** They asked what it costs: an offer, with the day through which it holds. */
export const quote = kind<QuoteBody>({
  id: 'quote',
  path: '/api/v1/quotes',
  title: () => 'Quote',
  lead: () => '',
  hint: 'Write who asked and what is offered: it posts nothing until they order.',
  says: [{ says: 'They ask what it costs', leads: 'a quote', words: 'offer estimate price proposal tender enquiry version' }],
  blank: (given, known) => ({
    customer: given.customer,
    job: given.job,
    day: given.day,
    revises: known.quote,
    includes: given.quote?.includes,
    reference: given.quote?.reference,
    note: given.quote?.note,
    lines: given.quote?.lines ?? [],
  }),
  body: (b) => ({ ...b, lines: written(b.lines ?? []) }),
  quiet: (b) => ((b.lines ?? []).some((l) => l.unitPrice) ? [] : ['lines', 'lines[0].text']),
  ownSheet: true,
  next: (p) => {
    if (p.reversedBy || p.state === 'accepted' || p.state === 'newer version') return [];
    return [
      { name: 'They ordered', to: newPaper('order', { quote: p.id }) },
      { name: 'New version', to: newPaper('quote', { quote: p.id }) },
      {
        name: 'Ask for a deposit',
        to: newPaper('request for a deposit', { quote: p.id, customer: p.customerId, job: p.jobId }),
        more: true,
      },
      { name: 'Sent', panel: 'sent', more: true },
      ...(p.state === 'lost' ? [] : ([{ name: 'Lost', panel: 'lost' }] as const)),
    ];
  },
  postsNothing: true,
  Fields: lazy(() => import('./OrderFields')),
});
