import type { BoughtLineBody, InvoiceLineBody } from '../api/client';

/** Whether nothing was written on a line. */
export function isBlank(l: InvoiceLineBody | undefined): boolean {
  return !l || (!l.text && !l.unitPrice && !l.quantity && !l.article && !l.costs?.length);
}

const sent = new WeakMap<object[], object[]>();

/** The lines up to the last that says something. */
export function upToLast<L extends object>(lines: L[], blank: (l: L) => boolean): L[] {
  const known = sent.get(lines);
  if (known) return known as L[];
  const last = lines.findLastIndex((l) => !blank(l));
  const all = lines.slice(0, last + 1);
  sent.set(lines, all);
  return all;
}

export const written = (lines: InvoiceLineBody[]): InvoiceLineBody[] => upToLast(lines, isBlank);

/** A paper without the lines that Enter opened at its end and nothing was written on, but for the first few. */
export const withoutBlankEnd =
  <L extends object>(says: (keyof L)[], least = 1) =>
  <B extends { lines?: L[] }>(b: B): B => {
    const lines = upToLast(b.lines ?? [], (l) => !says.some((name) => l[name]));
    return { ...b, lines: lines.length < least ? (b.lines ?? []).slice(0, least) : lines };
  };

/** What was bought, as it is sent. */
export const boughtBody = withoutBlankEnd<BoughtLineBody>(['text', 'article', 'quantity', 'unitPrice', 'net']);
