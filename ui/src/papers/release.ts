import { lazy } from 'react';
import type { ReleaseBody } from '../api/client';
import { kind, newPaper } from './editing/kind';
import { openItem } from './steps';

/** What they kept back is due: it becomes payable. */
export const release = kind<ReleaseBody>({
  id: 'release',
  path: '/api/v1/releases',
  title: () => 'Release of retention',
  lead: () => 'What the customer kept back becomes payable, in part or in whole, with the tax that was put off.',
  hint: 'Choose what is released: the entry is shown here before anything is written.',
  says: [
    {
      says: 'What they kept back is due',
      leads: 'a release of retention',
      words: 'retention kept back holdback spring defects guarantee payable',
    },
  ],
  blank: (given, known) => ({
    customer: given.customer,
    day: given.day,
    items: given.items.map((i) => ({ item: i.id, amount: i.open })),
    amount: known.amount,
    job: known.amount ? given.job : 0,
  }),
  quiet: (b) => (b.items?.length || b.amount ? [] : ['items', 'amount']),
  next: (p) => {
    const item = openItem(p);
    return item ? [{ name: 'Receipt', to: newPaper('receipt', { customer: p.customerId, item: item.itemId }) }] : [];
  },
  Fields: lazy(() => import('./ReleaseFields')),
});
