import { lazy } from 'react';
import type { SupplierCreditBody } from '../api/client';
import { kind, newPaper } from './editing/kind';
import { withoutBlankEnd } from './invoiceLines';
import { openItem } from './steps';

const onItsOwn = withoutBlankEnd<NonNullable<SupplierCreditBody['lines']>[number]>(['text', 'account', 'amount']);

/** A supplier gives something back. */
export const supplierCredit = kind<SupplierCreditBody>({
  id: 'supplier credit',
  path: '/api/v1/supplier-credits',
  title: () => 'Supplier credit',
  lead: () => 'What a supplier gives back of a bill, or on its own: for goods that go back, a price, a fault.',
  hint: 'Say what is given back: the entry is shown here before anything is written.',
  says: [
    {
      says: 'A supplier gives something back',
      leads: 'a supplier credit',
      words: 'supplier credit return goods back price rebate vendor',
    },
  ],
  blank: (given, known) => ({
    paper: known.paper,
    supplier: known.paper ? 0 : given.supplier,
    day: given.day,
    reason: '',
    reference: '',
    lines: known.paper ? [] : [{ text: '', account: 0, amount: '', taxCode: given.taxCode }],
  }),
  body: (b) => (b.paper ? b : onItsOwn(b)),
  quiet: (b) => [
    ...(b.reason ? [] : ['reason']),
    ...(b.paper || b.lines?.some((l) => l.amount) ? [] : ['lines', 'lines[0].net', 'lines[0].text', 'lines[0].account']),
  ],
  next: (p) => {
    const item = openItem(p);
    if (!item) return [];
    return [
      { name: 'Set against', to: `/customers/suppliers/${p.customerId}?credit=${item.itemId}#bench` },
      { name: 'It came back', to: newPaper('supplier refund', { customer: p.customerId, item: item.itemId }) },
    ];
  },
  Fields: lazy(() => import('./SupplierCreditFields')),
});
