import { lazy } from 'react';
import type { JournalBody } from '../api/client';
import { kind } from './editing/kind';
import { withoutBlankEnd } from './invoiceLines';
import { ofCredit } from './steps';

/** An entry by hand, never unbalanced. */
export const journal = kind<JournalBody>({
  id: 'journal',
  path: '/api/v1/journal-entries',
  title: () => 'Journal entry',
  lead: () =>
    'An entry by hand. On receivables and payables it names a customer or supplier; the other control accounts move by their own papers alone.',
  hint: 'Each line takes an account and one side: the entry is shown here, and whether it balances.',
  says: [
    {
      says: 'Something is to be entered by hand',
      leads: 'a journal entry',
      words: 'journal adjust debit credit correction accrual opening balance',
    },
  ],
  blank: (given, known) => ({
    day: given.day,
    text: given.said,
    lines: given.moved
      ? [
          {
            account: given.went ? given.charges : 0,
            debit: given.went ? given.moved : '',
            credit: given.went ? '' : given.moved,
            party: 0,
          },
          { account: given.ledger, debit: given.went ? '' : given.moved, credit: given.went ? given.moved : '', party: 0 },
        ]
      : [
          { account: known.account, debit: '', credit: '', party: 0 },
          { account: 0, debit: '', credit: '', party: 0 },
        ],
  }),
  body: withoutBlankEnd<NonNullable<JournalBody['lines']>[number]>(['account', 'debit', 'credit', 'party'], 2),
  quiet: (b) => ((b.lines ?? []).some((l) => l.debit || l.credit) ? [] : ['lines[0].debit', 'lines[1].debit']),
  next: ofCredit,
  Fields: lazy(() => import('./JournalFields')),
});
