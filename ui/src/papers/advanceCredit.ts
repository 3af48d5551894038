import { lazy } from 'react';
import type { AdvanceCreditBody } from '../api/client';
import { kind } from './editing/kind';
import { ofCredit } from './steps';

/** What was billed in advance will not be needed: it is credited, but for what is kept. */
export const advanceCredit = kind<AdvanceCreditBody>({
  id: 'credit of an advance',
  path: '/api/v1/advance-credits',
  title: () => 'Credit note',
  lead: () => 'What of a deposit invoice was not deducted is credited. A part can be kept.',
  hint: 'Say why, and how much of it is kept.',
  says: [],
  blank: (given, known) => ({ paper: known.paper, day: given.day, reason: '', keep: '', against: true }),
  quiet: (b) => (b.reason ? [] : ['reason']),
  next: (p) => ofCredit(p),
  Fields: lazy(() => import('./AdvanceCreditFields')),
});
