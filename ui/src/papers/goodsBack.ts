import { lazy } from 'react';
import type { ReturnBody } from '../api/client';
import { kind, newPaper } from './editing/kind';

/** Goods came back that were not billed, or are swapped. */
export const goodsBack = kind<ReturnBody>({
  id: 'return',
  path: '/api/v1/returns',
  title: () => 'Return',
  lead: () =>
    'What of an order came back before it was billed, or is swapped. What was billed comes back by a credit of its invoice.',
  hint: 'Choose the order, how much of each line came back, and what of it goes to stock.',
  says: [
    {
      says: 'Something came back before we billed it',
      leads: 'a return of an order',
      words: 'return goods back unbilled delivered faulty scrapped stock',
    },
    { says: 'Something is swapped for the same', leads: 'a return of an order', words: 'swap exchange replace faulty warranty' },
  ],
  blank: (given) => ({ day: given.day, order: given.order?.id ?? 0, reason: '', reference: '', lines: [] }),
  quiet: (b) => [...(b.order ? [] : ['order']), ...(b.reason ? [] : ['reason']), ...(b.lines?.length ? [] : ['lines'])],
  next: (p) => (p.sourceId && !p.reversedBy ? [{ name: 'Delivery', to: newPaper('delivery', { order: p.sourceId }) }] : []),
  Fields: lazy(() => import('./ReturnFields')),
});
