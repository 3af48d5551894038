import { lazy } from 'react';
import type { DepositInvoiceBody } from '../api/client';
import { isNil } from '../parts/show';
import { kind, newPaper } from './editing/kind';
import { openItem } from './steps';

/** A part is billed in advance, with its tax; later invoices deduct it. */
export const depositInvoice = kind<DepositInvoiceBody>({
  id: 'deposit invoice',
  path: '/api/v1/deposit-invoices',
  title: () => 'Deposit invoice',
  lead: () => 'A share or an amount of an order, billed in advance with its tax. The final invoice, or each stage, deducts it.',
  hint: 'Say of which order, and how much of it: what it comes to is shown here before anything is written.',
  says: [
    {
      says: 'A part is billed in advance',
      leads: 'a deposit invoice, deducted later',
      words: 'advance prepayment share order tax invoice deposit down',
    },
  ],
  blank: (given) => ({
    customer: given.customer,
    job: given.job,
    day: given.day,
    order: given.order?.id ?? 0,
    lines: given.order ? [] : [{ text: 'Billed in advance', net: '', taxCode: given.taxCode }],
  }),
  body: (b) => (b.order ? { ...b, lines: [] } : { ...b, percent: '', amount: '' }),
  quiet: (b) => (b.order ? (b.percent || b.amount ? [] : ['percent']) : ['lines', 'lines[0].net', 'lines[0].text']),
  next: (p) => {
    const item = openItem(p);
    return [
      ...(item ? [{ name: 'Receipt', to: newPaper('receipt', { customer: p.customerId, item: item.itemId }) }] : []),
      ...(p.reversedBy || isNil(p.advanceLeft)
        ? []
        : [
            { name: 'Sent', panel: 'sent', more: true } as const,
            { name: 'Credit it', to: newPaper('credit of an advance', { paper: p.id }), more: true },
            {
              name: 'Deduct it',
              to: newPaper('invoice', p.sourceId ? { order: p.sourceId } : { customer: p.customerId, job: p.jobId }),
            },
          ]),
    ];
  },
  Fields: lazy(() => import('./DepositInvoiceFields')),
});
