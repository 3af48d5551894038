import type { InvoiceBody, Order } from '../api/client';
import { isNil } from '../parts/show';

/** The lines that bill all that is left of an order. */
export function linesOf(o: Order): NonNullable<InvoiceBody['lines']> {
  return (o.lines ?? [])
    .filter((l) => !isNil(l.leftToBill) || !isNil(l.left))
    .map((l) => ({
      order: o.id,
      orderLine: l.position,
      text: l.text,
      unit: l.unit,
      article: l.article,
      quantity: l.leftToBill,
      unitPrice: l.unitPrice,
      taxCode: l.taxCode,
      account: l.account,
    }));
}
