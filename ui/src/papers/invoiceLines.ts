import type { InvoiceLineBody } from '../api/client';

/** Whether nothing was written on a line. */
export function isBlank(l: InvoiceLineBody | undefined): boolean {
  return !l || (!l.text && !l.unitPrice && !l.quantity && !l.article && !l.costs?.length);
}

const sent = new WeakMap<InvoiceLineBody[], InvoiceLineBody[]>();

/** The lines up to the last that says something. */
export function written(lines: InvoiceLineBody[]): InvoiceLineBody[] {
  const known = sent.get(lines);
  if (known) return known;
  const last = lines.findLastIndex((l) => !isBlank(l));
  const all = lines.slice(0, last + 1);
  sent.set(lines, all);
  return all;
}
