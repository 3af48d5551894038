import { lazy } from 'react';
import type { OwnTransferBody } from '../api/client';
import { kind } from './editing/kind';

/** Money goes from one of the firm's own accounts to another. */
export const ownTransfer = kind<OwnTransferBody>({
  id: 'own transfer',
  path: '/api/v1/own-transfers',
  title: () => 'Transfer between own accounts',
  lead: () => 'Money from one of your accounts or tills to another. Both statements tell of it, and meet in this paper.',
  hint: 'Say from where, to where and how much: the entry is shown here before anything is written.',
  says: [
    {
      says: 'We moved money between our own accounts',
      leads: 'a transfer between them',
      words: 'bank transfer cash paid in withdrawn till savings reserve move own accounts',
    },
  ],
  blank: (given, known) => ({
    day: given.day,
    amount: given.moved,
    fee: '',
    from: known.bankLine && !given.went ? known.toBank : given.bank,
    to: known.bankLine && !given.went ? given.bank : known.toBank,
    reference: given.said,
  }),
  quiet: (b) => [...(b.amount ? [] : ['amount']), ...(b.to ? [] : ['to']), ...(b.from ? [] : ['from'])],
  Fields: lazy(() => import('./OwnTransferFields')),
});
