import { lazy } from 'react';
import type { TransferBody } from '../api/client';
import { kind } from './editing/kind';
import { ofCredit } from './steps';

/** The money belongs elsewhere: another customer, another job, deposit or on account. */
export const transfer = kind<TransferBody>({
  id: 'transfer',
  path: '/api/v1/transfers',
  title: () => 'Transfer',
  lead: () => 'An open credit goes to another customer or job, or from on account to deposit and back.',
  hint: 'Choose the credit and where it goes: what that does is shown here before anything is written.',
  says: [
    {
      says: 'The money belongs to another job or customer',
      leads: 'a transfer',
      words: 'move transfer wrong job customer on account deposit',
    },
  ],
  blank: (given) => {
    const item = given.items[0];
    return {
      owner: given.customer,
      day: given.day,
      from: item?.id ?? 0,
      amount: item?.open ?? '',
      customer: given.customer,
      job: item?.jobId ?? 0,
      asDeposit: item?.register === 'deposits',
    };
  },
  quiet: (b) => (b.from ? [] : ['amount', 'party']),
  next: ofCredit,
  Fields: lazy(() => import('./TransferFields')),
});
