import { lazy } from 'react';
import type { DepositBody } from '../api/client';
import { kind } from './editing/kind';
import { ofCredit, returned } from './steps';

/** They paid before we billed: a deposit, held for them. */
export const deposit = kind<DepositBody>({
  id: 'deposit',
  path: '/api/v1/deposits',
  title: () => 'Deposit',
  lead: () => 'Money received before the invoice that it is for, held for the customer.',
  hint: 'Say who paid and how much: where the money goes is shown here before anything is written.',
  says: [
    {
      says: 'They paid before we billed',
      leads: 'a deposit, held for them',
      words: 'advance prepayment down money in taxed on receipt',
    },
  ],
  blank: (given, known) => ({
    customer: given.customer,
    job: given.job,
    day: given.day,
    amount: known.amount || given.moved,
    request: known.request,
    bank: given.bank,
    method: given.method,
    reference: given.said,
    taxCode: 0,
  }),
  quiet: (b) => (b.amount ? [] : ['amount']),
  next: (p) => [...ofCredit(p), ...returned(p)],
  Fields: lazy(() => import('./DepositFields')),
});
