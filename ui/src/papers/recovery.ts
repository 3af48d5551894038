import { lazy } from 'react';
import type { RecoveryBody } from '../api/client';
import { kind } from './editing/kind';

/** Money came for a debt that was given up. */
export const recovery = kind<RecoveryBody>({
  id: 'recovery',
  path: '/api/v1/recoveries',
  title: () => 'Recovery',
  lead: () => 'Money that comes for a debt that was written off, with the tax that came back then.',
  hint: 'Choose the write-off and say how much came: what that does is shown here before anything is written.',
  says: [
    {
      says: 'Money came for a debt that was given up',
      leads: 'a recovery',
      words: 'recover bad debt dividend insolvency written off',
    },
  ],
  blank: (given, known) => ({
    writeOff: known.writeOff,
    day: given.day,
    amount: known.amount,
    bank: given.bank,
    method: given.method,
    reference: '',
  }),
  quiet: (b) => (b.amount ? [] : ['amount']),
  Fields: lazy(() => import('./RecoveryFields')),
});
