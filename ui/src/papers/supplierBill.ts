import { lazy } from 'react';
import type { BillBody } from '../api/client';
import { kind } from './editing/kind';

/** They billed us: a supplier's bill. */
export const supplierBill = kind<BillBody>({
  id: 'supplier bill',
  path: '/api/v1/supplier-bills',
  title: () => 'Supplier bill',
  lead: () => 'What a supplier billed us, line by line to the account that it belongs to.',
  hint: 'Say who billed what: the entry is shown here before anything is written.',
  says: [
    {
      says: 'A supplier billed us',
      leads: 'a supplier bill',
      words: 'purchase bill vendor cost buy expense payable',
    },
  ],
  blank: (given) => ({
    supplier: given.customer,
    day: given.day,
    due: '',
    reference: '',
    lines: [{ text: '', account: 0, net: '', taxCode: given.taxCode }],
  }),
  quiet: (b) => ((b.lines ?? []).some((l) => l.net) ? [] : ['lines', 'lines[0].net', 'lines[0].text']),
  Fields: lazy(() => import('./BillFields')),
});
