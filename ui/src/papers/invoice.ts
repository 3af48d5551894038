import { lazy } from 'react';
import type { InvoiceBody } from '../api/client';
import { kind, newPaper } from './editing/kind';
import { ofRetention, openItem, type Step } from './steps';
import { costLine } from './costLines';
import { linesOf } from './orderLines';
import { written } from './invoiceLines';

/** The work is done: an invoice, written on the paper itself. */
export const invoice = kind<InvoiceBody>({
  id: 'invoice',
  path: '/api/v1/invoices',
  title: () => 'Invoice',
  lead: () => '',
  hint: 'Write who it is for and what was done: the entry follows every change, before anything is written.',
  says: [
    {
      says: 'The work is done, or a part of it',
      leads: 'an invoice',
      words: 'bill finished delivered fitted goods invoice',
    },
    {
      says: 'The final invoice is due, and they paid a deposit',
      leads: 'an invoice, with the deposit set against it',
      words: 'bill final prepayment less',
    },
  ],
  blank: (given, known) => ({
    customer: given.customer,
    job: given.job,
    day: given.day,
    currency: given.currency,
    form: known.finish ? ('final' as const) : undefined,
    lines: [
      ...(given.order ? [given.order] : given.orders).flatMap(linesOf),
      ...(known.finish || known.costs ? given.costs.map(costLine) : []),
    ],
    reference: given.order?.reference,
    deductions: given.advances.map((a) => ({ paper: a.id })),
    setAgainst: given.credits.map((credit) => ({ credit })),
  }),
  body: (b) => ({ ...b, lines: written(b.lines ?? []) }),
  quiet: (b) => ((b.lines ?? []).some((l) => l.unitPrice || l.costs?.length) ? [] : ['lines', 'lines[0].text']),
  ownSheet: true,
  next: (p) => {
    const item = openItem(p);
    const credit: Step[] = p.reversedBy
      ? []
      : [
          { name: 'Credit', to: newPaper('credit note', { paper: p.id }) },
          ...(p.form === 'stage'
            ? [{ name: 'Certified lower', to: newPaper('credit note', { paper: p.id, certified: true }), more: true }]
            : []),
        ];
    const recur: Step[] =
      p.reversedBy || p.form ? [] : [{ name: 'Let it recur', to: `/papers/recurring?paper=${p.id}`, more: true }];
    if (!item) return [...ofRetention(p), ...credit, ...recur];
    const of = { customer: p.customerId, item: item.itemId };
    return [
      { name: 'Receipt', to: newPaper('receipt', of) },
      ...(p.credits ? [{ name: 'Set against', to: `/customers/${p.customerId}?debit=${item.itemId}#bench` }] : []),
      ...(p.overdue
        ? ([
            { name: 'Remind', panel: 'reminded' },
            { name: 'Promised', panel: 'promised' },
            { name: 'Put off', panel: 'put off' },
          ] as const)
        : []),
      ...ofRetention(p),
      ...credit,
      { name: 'Sent', panel: 'sent', more: true },
      ...recur,
      { name: p.disputed ? 'End the dispute' : 'Dispute', panel: 'dispute' },
      { name: 'Write off', to: newPaper('write-off', of) },
    ];
  },
  Fields: lazy(() => import('./InvoiceFields')),
});
