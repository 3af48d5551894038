import { lazy } from 'react';
import type { DeliveryBody } from '../api/client';
import { isNil } from '../parts/show';
import { kind, newPaper } from './editing/kind';

/** Something of an order is handed over: a note to sign, without prices. */
export const delivery = kind<DeliveryBody>({
  id: 'delivery',
  path: '/api/v1/deliveries',
  title: () => 'Delivery',
  lead: () => 'What of an order is handed over. The note is signed for and bears no prices.',
  hint: 'Choose the order, and how much of each line is handed over.',
  says: [
    { says: 'We delivered something', leads: 'a delivery of an order', words: 'handed over note shipped signed goods fitted' },
  ],
  blank: (given) => ({
    day: given.day,
    order: given.order?.id ?? 0,
    reference: given.order?.reference,
    lines: (given.order?.lines ?? [])
      .filter((l) => !isNil(l.leftToDeliver))
      .map((l) => ({ position: l.position, quantity: l.leftToDeliver })),
  }),
  quiet: (b) => (b.order ? [] : ['order', 'lines']),
  next: (p) =>
    p.reversedBy
      ? []
      : [
          { name: 'Signed for', panel: 'signed for' },
          ...(p.sourceId
            ? [
                { name: 'Invoice', to: newPaper('invoice', { order: p.sourceId }) },
                { name: 'It came back', to: newPaper('return', { order: p.sourceId }), more: true },
              ]
            : []),
        ],
  postsNothing: true,
  Fields: lazy(() => import('./OrderShareFields')),
});
