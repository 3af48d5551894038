import { lazy } from 'react';
import type { CancellationBody } from '../api/client';
import { isNil } from '../parts/show';
import { kind } from './editing/kind';

/** They call something off: what is left of an order is cancelled, or what nobody paid of a request for a deposit. */
export const cancellation = kind<CancellationBody>({
  id: 'cancellation',
  path: '/api/v1/cancellations',
  title: () => 'Cancellation',
  lead: (known) =>
    known.request
      ? 'What nobody paid of a request for a deposit is asked for no more.'
      : 'What of an order is neither delivered nor billed is cancelled, which lowers the contract.',
  hint: 'Choose the order, and how much of each line is cancelled.',
  says: [
    { says: 'They call an order off', leads: 'what is left of it is cancelled', words: 'cancel called off less smaller order' },
  ],
  blank: (given, known) =>
    known.request
      ? { day: given.day, request: known.request, reason: '' }
      : {
          day: given.day,
          order: given.order?.id ?? 0,
          reason: '',
          advances: given.order ? given.advances.map((a) => ({ paper: a.id, keep: '', against: true })) : [],
          lines: (given.order?.lines ?? [])
            .filter((l) => !isNil(l.leftToCancel))
            .map((l) => ({ position: l.position, quantity: l.leftToCancel })),
        },
  quiet: (b) => (b.order || b.request ? (b.reason ? [] : ['reason']) : ['order', 'lines', 'reason']),
  postsNothing: true,
  Fields: lazy(() => import('./CancellationFields')),
});
