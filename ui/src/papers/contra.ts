import { lazy } from 'react';
import type { ContraBody } from '../api/client';
import { kind } from './editing/kind';

/** They owe us and we owe them: what can be set off is. */
export const contra = kind<ContraBody>({
  id: 'contra',
  path: '/api/v1/contras',
  title: () => 'Contra',
  lead: () => 'What a party owes us, set against what we owe the same party. No money moves.',
  hint: 'Choose what is set off on each side: both sides must come to the same.',
  says: [{ says: 'They owe us and we owe them', leads: 'a contra', words: 'set off offset both supplier netting contra' }],
  blank: (given) => ({ party: given.customer, day: given.day, owed: [], owing: [] }),
  quiet: (b) => (b.owed?.length && b.owing?.length ? [] : ['owed']),
  after: (b) => `/customers/${b.party}`,
  Fields: lazy(() => import('./ContraFields')),
});
