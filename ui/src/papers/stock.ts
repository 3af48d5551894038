import { lazy } from 'react';
import type { StockCountBody, StockUseBody } from '../api/client';
import { withoutBlankEnd } from './invoiceLines';
import { kind } from './editing/kind';

/** Goods are used on a job. */
export const stockUse = kind<StockUseBody>({
  id: 'stock use',
  path: '/api/v1/stock/uses',
  title: () => 'Used from stock',
  lead: () => 'Goods that leave stock for a job, at their average cost.',
  hint: 'Say what was used on which job: the entry is shown here before anything is written.',
  says: [{ says: 'We used something from stock', leads: 'goods used on a job', words: 'stock use material job take out' }],
  blank: (given) => ({ day: given.day, job: given.job, lines: [{ article: 0, quantity: '' }] }),
  body: withoutBlankEnd<NonNullable<StockUseBody['lines']>[number]>(['article', 'quantity']),
  quiet: (b) => ((b.lines ?? []).some((l) => l.article) ? [] : ['lines', 'lines[0].article', 'lines[0].quantity']),
  Fields: lazy(() => import('./StockFields')),
});

/** Stock was counted. */
export const stockCount = kind<StockCountBody>({
  id: 'stock count',
  path: '/api/v1/stock/counts',
  title: () => 'Stock count',
  lead: () => 'What was counted: the difference to what should be there goes to cost of sales.',
  hint: 'Say what was counted: the difference is shown here before anything is written.',
  says: [{ says: 'We counted what is in stock', leads: 'a stock count', words: 'inventory count stock difference opening' }],
  blank: (given) => ({ day: given.day, lines: [{ article: 0, quantity: '' }] }),
  body: withoutBlankEnd<NonNullable<StockCountBody['lines']>[number]>(['article', 'quantity']),
  quiet: (b) => ((b.lines ?? []).some((l) => l.article) ? [] : ['lines', 'lines[0].article', 'lines[0].quantity']),
  Fields: lazy(() => import('./StockFields')),
});
