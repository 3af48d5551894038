import { lazy } from 'react';
import type { JournalBody } from '../api/client';
import { kind, type Known } from './editing/kind';
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
    day: known.day || given.day,
    text: known.till ? 'Difference of the till' : given.said,
    lines: known.till
      ? ofTill(known)
      : given.moved
        ? [
            {
              account: known.account || (given.went ? given.charges : 0),
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

/** What was counted in a till less what the books say: more goes to it, less leaves it. */
function ofTill({ till, account, amount }: Known): NonNullable<JournalBody['lines']> {
  const short = amount.startsWith('-');
  const figure = short ? amount.slice(1) : amount;
  return [
    { account: short ? account : till, debit: figure, credit: '', party: 0 },
    { account: short ? till : account, debit: '', credit: figure, party: 0 },
  ];
}
