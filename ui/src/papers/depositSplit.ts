import { lazy } from 'react';
import type { SplitBody } from '../api/client';
import { kind } from './editing/kind';

const ends = (b: SplitBody) => !!(b.refund || b.forfeit || b.move || b.against?.length);

/** What becomes of a deposit, in one step: set against, given back, kept, moved. */
export const depositSplit = kind<SplitBody>({
  id: 'deposit split',
  path: '/api/v1/deposits/split',
  title: () => 'What becomes of a deposit',
  lead: () => 'All of it in one step: set against what is owed, given back, kept, moved. What nobody speaks of stays held.',
  hint: 'Choose the deposit and its ends: what each does, and what stays held, is shown here before anything is written.',
  says: [
    {
      says: 'They cancelled, and we keep a part of the deposit',
      leads: 'what becomes of a deposit',
      words: 'forfeit refund split cancel keep deposit end',
    },
  ],
  blank: (given, known) => ({ customer: given.customer, deposit: known.credit, day: given.day, against: [] }),
  several: true,
  quiet: (b) => (ends(b) ? [] : ['refund', ...(b.deposit ? [] : ['deposit'])]),
  posted: 'What becomes of the deposit',
  Fields: lazy(() => import('./SplitFields')),
});
