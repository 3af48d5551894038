import { lazy } from 'react';
import type { CreditBody } from '../api/client';
import { kind, newPaper } from './editing/kind';
import { ofCredit } from './steps';

/** Something billed is taken back by a credit note of its invoice; or something is given on its own. */
export const creditNote = kind<CreditBody>({
  id: 'credit note',
  path: '/api/v1/credit-notes',
  title: () => 'Credit note',
  lead: () => 'An invoice is taken back, in whole or in part; or a rebate is given on its own.',
  hint: 'Say why, and what of the invoice: what it takes back is shown here before anything is written.',
  says: [
    {
      says: 'Something billed is taken back',
      leads: 'a credit note of an invoice',
      words: 'credit return came back price too high fault goodwill cancelled billed wrongly certified lower complaint',
    },
    {
      says: 'We give a rebate, or goodwill',
      leads: 'a credit note on its own',
      words: 'bonus kickback gesture sorry allowance turnover yearly discount afterwards compensation',
    },
  ],
  blank: (given, known) => ({
    paper: known.paper,
    customer: known.customer,
    job: known.job,
    written: known.paper ? [] : [{ text: '', account: 0, amount: '', taxCode: given.taxCode }],
    day: given.day,
    cause: known.certified ? 'other' : known.costs ? 'price' : known.whole ? 'cancellation' : '',
    text: known.certified ? 'Certified lower' : known.costs ? 'Given back by the supplier' : '',
    what: known.certified ? ('work' as const) : known.costs ? ('lines' as const) : ('all' as const),
    billAgain: known.certified,
    own: true,
  }),
  quiet: (b) => [
    ...(b.paper ? [] : ['paper', 'party', 'written', ...(b.written ?? []).flatMap((_, n) => [`written[${n}].text`])]),
    ...(b.cause ? [] : ['cause']),
    'work',
    'lines',
    ...(b.text ? [] : ['text']),
  ],
  next: (p) => [
    ...ofCredit(p),
    ...(p.sourceId && p.form && !p.reversedBy
      ? [{ name: 'Bill it again', to: newPaper('invoice', { copy: p.sourceId }), more: true }]
      : []),
  ],
  Fields: lazy(() => import('./CreditNoteFields')),
});
