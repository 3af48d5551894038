import { lazy } from 'react';
import type { PurchaseOrderBody } from '../api/client';
import { boughtBody } from './invoiceLines';
import { freshLine } from './BoughtLines';
import { kind, newPaper } from './editing/kind';

/** We ordered something from a supplier. */
export const purchaseOrder = kind<PurchaseOrderBody>({
  id: 'purchase order',
  path: '/api/v1/purchase-orders',
  title: () => 'Purchase order',
  lead: () => 'What we order from a supplier, line by line, for stock or for a job.',
  hint: 'Say what is ordered from whom. It posts nothing until it comes, or is billed.',
  says: [
    { says: 'We order something from a supplier', leads: 'a purchase order', words: 'buy purchase vendor order materials hire' },
  ],
  blank: (given) => ({
    supplier: given.supplier,
    day: given.day,
    reference: '',
    lines: [{ ...freshLine(given.taxCode), job: given.job }],
  }),
  body: boughtBody,
  quiet: (b) =>
    (b.lines ?? []).some((l) => l.net || l.unitPrice) ? [] : ['lines', 'lines[0].net', 'lines[0].text', 'lines[0].account'],
  next: (p) =>
    p.reversedBy || p.state === 'billed'
      ? []
      : [
          { name: 'It came', to: newPaper('goods received', { order: p.id }) },
          { name: 'They billed it', to: newPaper('supplier bill', { order: p.id }) },
          { name: 'Paid at once', to: newPaper('expense', { order: p.id }), more: true },
          {
            name: 'Pay before the bill',
            to: newPaper('supplier prepayment', { order: p.id, customer: p.customerId }),
            more: true,
          },
          { name: 'It will not come', to: newPaper('purchase order cancelled', { order: p.id }), more: true },
          { name: 'Sent', panel: 'sent', more: true },
        ],
  postsNothing: true,
  Fields: lazy(() => import('./PurchaseOrderFields')),
});
