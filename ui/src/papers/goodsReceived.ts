import { lazy } from 'react';
import type { Blank, ReceivedBody } from '../api/client';
import { isNil } from '../parts/show';
import { kind, newPaper } from './editing/kind';

/** What of a purchase order is still to come. */
const toCome = (given: Blank) =>
  (given.bought?.lines ?? [])
    .filter((l) => !isNil(l.leftToDeliver))
    .map((l) => ({ position: l.position, quantity: l.leftToDeliver }));

/** Goods came before their bill. */
export const goodsReceived = kind<ReceivedBody>({
  id: 'goods received',
  path: '/api/v1/goods-received',
  title: () => 'Goods received',
  lead: () => 'What came of a purchase order before its bill: goods for stock come in at the order’s price.',
  hint: 'Choose the order, and how much of each line came.',
  says: [{ says: 'What we ordered came', leads: 'goods received', words: 'delivery supplier goods in stock arrived came' }],
  blank: (given) => ({ day: given.day, order: given.bought?.id ?? 0, reference: '', lines: toCome(given) }),
  quiet: (b) => (b.order ? [] : ['order', 'lines']),
  next: (p) =>
    p.sourceId && !p.reversedBy ? [{ name: 'They billed it', to: newPaper('supplier bill', { order: p.sourceId }) }] : [],
  Fields: lazy(() => import('./GoodsReceivedFields')),
});

/** What was ordered will not come any more. */
export const notComing = kind<ReceivedBody>({
  id: 'purchase order cancelled',
  path: '/api/v1/purchase-orders/cancellations',
  title: () => 'Purchase order cancelled',
  lead: () => 'What of a purchase order will not come any more.',
  hint: 'Choose the order, and how much of each line will not come.',
  says: [{ says: 'What we ordered will not come', leads: 'a purchase order cancelled', words: 'supplier order cancel sold out' }],
  blank: (given) => ({ day: given.day, order: given.bought?.id ?? 0, note: '', lines: toCome(given) }),
  quiet: (b) => [...(b.order ? [] : ['order', 'lines']), ...(b.note ? [] : ['note'])],
  postsNothing: true,
  Fields: lazy(() => import('./GoodsReceivedFields')),
});
