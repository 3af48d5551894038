import { lazy } from 'react';
import type { CreditBody } from '../api/client';
import { kind } from './editing/kind';
import { ofCredit } from './steps';

/** Something billed is taken back: a credit note of its invoice. */
export const creditNote = kind<CreditBody>({
  id: 'credit note',
  path: '/api/v1/credit-notes',
  title: () => 'Credit note',
  lead: () => 'All that is left of an invoice, some of its lines, or a part of its work is taken back.',
  hint: 'Say why, and what of the invoice: what it takes back is shown here before anything is written.',
  says: [
    {
      says: 'Something billed is taken back',
      leads: 'a credit note of an invoice',
      words: 'credit return came back price too high fault goodwill cancelled billed wrongly certified lower complaint',
    },
  ],
  blank: (given, known) => ({
    paper: known.paper,
    day: given.day,
    cause: known.certified ? 'other' : known.costs ? 'price' : '',
    text: known.certified ? 'Certified lower' : known.costs ? 'Given back by the supplier' : '',
    what: known.certified ? ('work' as const) : known.costs ? ('lines' as const) : ('all' as const),
    billAgain: known.certified,
    own: true,
  }),
  quiet: (b) => [...(b.paper ? [] : ['paper']), ...(b.cause ? [] : ['cause']), 'work', 'lines', ...(b.text ? [] : ['text'])],
  next: (p) => ofCredit(p),
  Fields: lazy(() => import('./CreditNoteFields')),
});
