import type { components } from '../api/schema';
import type { DraftKind } from '../papers/editing/draft';
import { newPaper, type Known } from '../papers/editing/kind';
import { kindName } from '../parts/show';

export type Line = components['schemas']['BankLine'];
export type Proposal = components['schemas']['BankProposal'];

/** What a line can become, each by a letter. */
export interface Becomes {
  key: string;
  name: string;
  kind: DraftKind;
  /** Of money that came, or that went; of either where it is left out. */
  came?: boolean;
}

export const becomes: Becomes[] = [
  { key: 'r', name: 'Receipt', kind: 'receipt', came: true },
  { key: 'd', name: 'Deposit', kind: 'deposit', came: true },
  { key: 'i', name: 'Not identified', kind: 'unidentified receipt', came: true },
  { key: 'm', name: 'Of several customers', kind: 'distribution', came: true },
  { key: 'o', name: 'Card payout', kind: 'card payout', came: true },
  { key: 'u', name: 'Supplier refund', kind: 'supplier refund', came: true },
  { key: 's', name: 'Supplier payment', kind: 'supplier payment', came: false },
  { key: 'p', name: 'Supplier prepayment', kind: 'supplier prepayment', came: false },
  { key: 'e', name: 'Expense', kind: 'expense', came: false },
  { key: 'f', name: 'Refund', kind: 'refund', came: false },
  { key: 't', name: 'Transfer between own accounts', kind: 'own transfer' },
  { key: 'h', name: 'Charge, interest, or an entry', kind: 'journal' },
];

export const went = (l: Line) => l.amount.startsWith('-');

/** Whether a line can become it, by which way the money went. */
export const fits = (b: Becomes, l: Line) => b.came === undefined || b.came !== went(l);

/** What the bank says of a line. */
export const said = (l: Line) => [l.name, l.text, l.reference].filter(Boolean).join(' · ');

/** Where a proposal leads that is not tied at once: to the paper, filled in. */
export function paperFor(l: Line, p: Proposal): string {
  const known: Partial<Known> = {
    customer: p.partyId,
    job: p.job,
    items: p.items.join(','),
    discount: p.discount,
    fee: p.fee,
    request: p.request,
    told: p.told,
    account: p.account,
    toBank: p.toBank,
    rule: p.rule,
    bankLine: l.id,
  };
  if (p.make === 'returned payment')
    return `/papers/${p.paperId}?panel=returned&bankLine=${l.id}&bank=${l.bank}&day=${l.day}&fee=${p.fee}`;
  return newPaper(p.make as DraftKind, known);
}

/** What a proposal is, in a few words. */
export function isWhat(p: Proposal): string {
  if (p.movements.length > 0) return `Tie to ${p.numbers}`;
  const of = p.numbers ? ` of ${p.numbers}` : p.party ? ` of ${p.party}` : '';
  return `${capital(named[p.make] ?? kindName(p.make))}${of}`;
}

const named: Record<string, string> = {
  journal: 'charge, interest, or an entry',
  'own transfer': 'transfer between own accounts',
};

const capital = (text: string) => text.slice(0, 1).toUpperCase() + text.slice(1);
