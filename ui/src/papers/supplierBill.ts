import { lazy } from 'react';
import type { BillBody } from '../api/client';
import { boughtBody } from './invoiceLines';
import { freshLine } from './BoughtLines';
import { kind, newPaper } from './editing/kind';
import { openItem } from './steps';
import { isNil } from '../parts/show';

/** They billed us: a supplier's bill. */
export const supplierBill = kind<BillBody>({
  id: 'supplier bill',
  path: '/api/v1/supplier-bills',
  title: () => 'Supplier bill',
  lead: () => 'What a supplier billed us, line by line: to an account or an article, for a job, passed on or not.',
  hint: 'Say who billed what: the entry is shown here before anything is written.',
  says: [
    {
      says: 'A supplier billed us',
      leads: 'a supplier bill',
      words: 'purchase bill vendor cost buy payable subcontractor retention pass on',
    },
  ],
  blank: (given) => ({
    supplier: given.supplier,
    currency: given.currency,
    day: given.day,
    due: '',
    reference: '',
    lines: given.bought ? given.bought.bill : [{ ...freshLine(given.taxCode), job: given.job }],
  }),
  body: boughtBody,
  quiet: (b) =>
    (b.lines ?? []).some((l) => l.net || l.unitPrice) ? [] : ['lines', 'lines[0].net', 'lines[0].text', 'lines[0].account'],
  next: (p) => {
    if (p.reversedBy) return [];
    const item = openItem(p);
    const kept = p.parts.find((x) => x.register === 'retention payable' && x.nature === '' && !isNil(x.open));
    return [
      ...(item ? [{ name: 'Pay', to: newPaper('supplier payment', { customer: p.customerId, item: item.itemId }) }] : []),
      ...(kept ? [{ name: 'Release', to: newPaper('supplier release', { customer: p.customerId, item: kept.itemId }) }] : []),
      { name: 'They credit it', to: newPaper('supplier credit', { paper: p.id, customer: p.customerId }) },
    ];
  },
  Fields: lazy(() => import('./BillFields')),
});
