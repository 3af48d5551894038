import type { Paper } from '../api/client';
import { isNil } from '../parts/show';
import { newPaper, type AnyKind } from './editing/kind';
import { kinds } from './kinds';
import type { EventKind } from './EventPanel';
import type { PanelKind } from './TakeBack';

/** What one does next with a posted paper: it leads to another, or opens a panel. */
export type Step = { name: string; more?: boolean } & ({ to: string } | { panel: PanelKind | EventKind });

/** What of a paper is open: the item that can be settled or used. */
export const openItem = (p: Paper) =>
  p.parts.find((x) => x.nature === '' && x.register !== 'retention' && x.register !== 'retention payable' && !isNil(x.open));

/** What of it is kept back can be released. */
export function ofRetention(p: Paper): Step[] {
  const kept = p.parts.find((x) => x.register === 'retention' && x.nature === '' && !isNil(x.open));
  return kept
    ? [
        { name: 'Release', to: newPaper('release', { customer: p.customerId, item: kept.itemId }) },
        { name: 'Guarantee in its place', to: newPaper('guarantee', { customer: p.customerId, item: kept.itemId }), more: true },
      ]
    : [];
}

/** The steps of money that is open: set against, given back, moved. */
export function ofCredit(p: Paper): Step[] {
  const item = openItem(p);
  if (!item?.credit) return [];
  const of = { customer: p.customerId, credit: item.itemId };
  return [
    { name: 'Set against', to: `/customers/${p.customerId}?credit=${item.itemId}#bench` },
    item.register === 'deposits'
      ? { name: 'What becomes of it', to: newPaper('deposit split', of) }
      : { name: 'Refund', to: newPaper('refund', of) },
    { name: 'Transfer', to: newPaper('transfer', of) },
  ];
}

/** The bank took it back. */
export const returned = (p: Paper): Step[] => (p.reversedBy ? [] : [{ name: 'Returned by the bank', panel: 'returned' }]);

/** What one does next with a paper, as it stands. */
export function stepsOf(p: Paper): Step[] {
  const kind = (kinds as Record<string, AnyKind | undefined>)[p.kind];
  const own = kind?.next?.(p) ?? [];
  // What the customer has got is taken back by a paper that they get: a credit note.
  const got = p.kind === 'invoice' && (p.events ?? []).some((e) => e.event === 'sent');
  const standing = p.takesBack || p.reversedBy || got ? [] : ([{ name: 'Reverse', panel: 'reverse' }] as Step[]);
  if (!kind) return [...own, ...standing];
  const takeBack: Step[] =
    got && !p.reversedBy ? [{ name: 'Take back', to: newPaper('credit note', { paper: p.id, whole: true }) }] : [];
  const again: Step[] =
    p.takesBack || got
      ? []
      : p.reversedBy
        ? p.writtenAgain
          ? []
          : [{ name: 'Write again', to: newPaper(kind.id, { again: p.id }), more: true }]
        : // It is taken back and written as it should be, in one step.
          [{ name: 'Put right', to: newPaper(kind.id, { again: p.id }), more: true }];
  return [
    ...own,
    { name: 'Note', panel: 'noted', more: true },
    ...(p.customerId && !p.takesBack ? ([{ name: 'Another address', panel: 'addressed', more: true }] as Step[]) : []),
    { name: 'Copy', to: newPaper(kind.id, { copy: p.id }), more: true },
    ...standing,
    ...takeBack,
    ...again,
  ];
}
