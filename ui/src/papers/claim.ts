import { lazy } from 'react';
import type { ClaimBody } from '../api/client';
import { kind } from './editing/kind';

/** A part of the contract is done: it is claimed by progress. */
export const claim = kind<ClaimBody>({
  id: 'claim',
  path: '/api/v1/claims',
  title: () => 'Claim by progress',
  lead: () => 'What is done of the contract to date, less what was claimed before. It is posted as a stage invoice.',
  hint: 'Choose the job, and say how much of it is done to date.',
  says: [
    {
      says: 'So much of the contract is done',
      leads: 'a claim by progress',
      words: 'stage percent progress certificate valuation application measured claim bill part',
    },
  ],
  blank: (given, known) => ({
    customer: given.customer,
    job: given.job,
    day: given.day,
    toDate: known.amount || given.through,
    recover: given.advances.length > 0,
  }),
  quiet: (b) => (b.percent || b.toDate || b.lines?.length ? [] : ['percent', 'job', 'lines']),
  Fields: lazy(() => import('./ClaimFields')),
});
