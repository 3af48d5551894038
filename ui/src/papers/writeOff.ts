import { lazy } from 'react';
import type { WriteOffBody } from '../api/client';
import { kind, newPaper } from './editing/kind';

/** They will not pay: a debt is given up, whole or in part, or many small ones. */
export const writeOff = kind<WriteOffBody>({
  id: 'write-off',
  path: '/api/v1/write-offs',
  title: () => 'Write-off',
  lead: (known) =>
    known.small
      ? 'Small balances of many customers, given up in one go. Each customer gets a paper.'
      : 'A debt that is given up, in part or in whole, with its reason.',
  hint: 'Choose what is given up: the entry, and what of the tax comes back, is shown here before anything is written.',
  says: [
    {
      says: 'They will not pay',
      leads: 'a write-off',
      words: 'bad debt insolvent give up lost write off relief',
    },
    {
      says: 'Small balances are in the way',
      leads: 'written off together',
      words: 'cents pennies difference small write off many',
      known: 'small=1',
    },
  ],
  blank: (given, known) => ({
    customer: known.small ? 0 : given.customer,
    small: known.small,
    day: given.day,
    reason: known.small ? 'Small balance' : '',
    relief: true,
    items: given.items.map((i) => ({ item: i.id, amount: i.open })),
  }),
  quiet: (b) => (b.items?.length ? (b.reason ? [] : ['reason']) : ['items', 'reason']),
  after: (b, paper) => (b.customer ? `/customers/${b.customer}` : `/papers/${paper}`),
  next: (p) => (p.reversedBy ? [] : [{ name: 'Recovery', to: newPaper('recovery', { writeOff: p.id }) }]),
  Fields: lazy(() => import('./WriteOffFields')),
});
