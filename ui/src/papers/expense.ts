import { lazy } from 'react';
import type { ExpenseBody } from '../api/client';
import { boughtBody } from './invoiceLines';
import { freshLine } from './BoughtLines';
import { kind, newPaper } from './editing/kind';

/** Something was bought and paid at once. */
export const expense = kind<ExpenseBody>({
  id: 'expense',
  path: '/api/v1/expenses',
  title: () => 'Expense',
  lead: () => 'What was bought and paid at once, by bank, card or cash.',
  hint: 'Say what was bought: the entry is shown here before anything is written.',
  says: [
    {
      says: 'We bought something and paid at once',
      leads: 'an expense, by bank, card or cash',
      words: 'expense receipt card cash fee permit crane hire buy cost pass on',
    },
  ],
  blank: (given) => ({
    supplier: given.supplier,
    day: given.day,
    bank: given.bank,
    method: 'card',
    reference: given.said,
    lines: given.bought ? given.bought.bill : [{ ...freshLine(given.taxCode), job: given.job }],
  }),
  body: boughtBody,
  quiet: (b) =>
    (b.lines ?? []).some((l) => l.net || l.unitPrice) ? [] : ['lines', 'lines[0].net', 'lines[0].text', 'lines[0].account'],
  next: (p) =>
    p.reversedBy ? [] : [{ name: 'They credit it', to: newPaper('supplier credit', { paper: p.id, customer: p.customerId }) }],
  Fields: lazy(() => import('./ExpenseFields')),
});
