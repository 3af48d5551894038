import { lazy } from 'react';
import type { UnidentifiedBody } from '../api/client';
import { kind, newPaper } from './editing/kind';
import { openItem } from './steps';

/** Money came, and nobody knows whose it is. */
export const unidentified = kind<UnidentifiedBody>({
  id: 'unidentified receipt',
  path: '/api/v1/unidentified',
  title: () => 'Money not identified',
  lead: () => 'It is in the bank, and waits until someone says whose it is. It stands on the Desk until then.',
  hint: 'Say how much came and what the bank told: where it waits is shown here before anything is written.',
  says: [
    {
      says: 'Money came, and nobody knows whose it is',
      leads: 'it waits, not identified',
      words: 'unknown unidentified suspense payment bank',
    },
  ],
  blank: (given, known) => ({
    day: given.day,
    amount: known.amount || given.moved,
    bank: given.bank,
    method: given.method,
    reference: given.said,
  }),
  quiet: (b) => (b.amount ? [] : ['amount']),
  after: () => '/desk',
  next: (p) => {
    const item = openItem(p);
    return item ? [{ name: 'Whose is it?', to: newPaper('distribution', { from: item.itemId, amount: item.open }) }] : [];
  },
  Fields: lazy(() => import('./UnidentifiedFields')),
});
