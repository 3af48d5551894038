import type { ComponentType, LazyExoticComponent } from 'react';
import type { Blank, CommandPath, Paper } from '../../api/client';
import type { Step } from '../steps';
import type { DraftKind } from './draft';

/** What the place that one comes from knows, by the names in its address. */
export interface Known {
  customer: number;
  job: number;
  /** An open item that money is taken of. */
  credit: number;
  /** An open item that is owed. */
  item: number;
  /** Money that is not identified. */
  from: number;
  amount: string;
  writeOff: number;
  /** An order that is billed, in advance or in part. */
  order: number;
  /** A quote that is accepted, or taken the place of. */
  quote: number;
  /** A request for a deposit that is paid. */
  request: number;
  account: number;
  /** What the card gateway told that it paid out. */
  told: number;
  /** A line of the bank's statement that it explains. */
  bankLine: number;
  /** What of that line it explains, signed, where others explain the rest. */
  part: string;
  /** The movements that explain the rest so far, one after the other. */
  parts: string;
  /** The firm's own rule by which it is filled in. */
  rule: number;
  /** The firm's other account, of a transfer between its own. */
  toBank: number;
  /** Open items that money settles, one after the other. */
  items: string;
  /** The ledger account of a till that was counted. */
  till: number;
  day: string;
  /** What the bank or the gateway kept of the money. */
  fee: string;
  /** They are settled less the discount for paying early. */
  discount: boolean;
  onAccount: boolean;
  /** A job is finished: its final invoice takes all that there is. */
  finish: boolean;
  /** The costs that wait are taken: 'all' of the job or of an invoice, or those of the list with these IDs. */
  costs: string;
  /** A posted paper that it is about. */
  paper: number;
  small: boolean;
  /** A claim that was certified lower. */
  certified: boolean;
  /** All of it is taken back. */
  whole: boolean;
  /** A paper that is copied. */
  copy: number;
  /** A paper that was taken back and is written again. */
  again: number;
}

/** Something that happens, in plain words, and the paper that it leads to. */
export interface Situation {
  says: string;
  leads: string;
  /** More words that find it. */
  words: string;
  /** What it knows beside the place, as in an address. */
  known?: string;
}

/** A kind of paper that is written: all that the interface knows of it stands here. */
export interface Kind<B extends object> {
  id: DraftKind;
  path: CommandPath;
  title: (known: Known) => string;
  /** What stands under the title on the sheet. */
  lead: (known: Known) => string;
  /** What the Effect says before there is one. */
  hint: string;
  says: Situation[];
  /** What it begins with; Go gives the day, the bank, the method. */
  blank: (given: Blank, known: Known) => B;
  /** Fields that are still empty: what is said of them waits until Post. */
  quiet?: (b: B) => string[];
  /** What is sent of it, where that is less than what is written. */
  body?: (b: B) => object;
  /** What is said to be posted; the title when left out. */
  posted?: string;
  /** Where one goes afterwards; to the paper when left out. */
  after?: (b: B, paper: number) => string;
  /** What one does next with such a paper, once it is posted. */
  next?: (p: Paper) => Step[];
  /** Whether the fields draw the whole sheet themselves. */
  ownSheet?: boolean;
  /** Whether nothing is attached to it: it makes several papers. */
  several?: boolean;
  /** Whether it posts nothing: a quote, an order. */
  postsNothing?: boolean;
  Fields: LazyExoticComponent<ComponentType>;
}

/** A declared kind, whatever its body is. */
// eslint-disable-next-line @typescript-eslint/no-explicit-any
export type AnyKind = Kind<any>;

/** Declares a kind of paper. */
export const kind = <B extends object>(k: Kind<B>): AnyKind => k;

const none: Known = {
  customer: 0,
  job: 0,
  credit: 0,
  item: 0,
  from: 0,
  amount: '',
  writeOff: 0,
  order: 0,
  quote: 0,
  request: 0,
  account: 0,
  told: 0,
  bankLine: 0,
  part: '',
  parts: '',
  rule: 0,
  toBank: 0,
  items: '',
  till: 0,
  day: '',
  fee: '',
  discount: false,
  onAccount: false,
  finish: false,
  costs: '',
  paper: 0,
  small: false,
  certified: false,
  whole: false,
  copy: 0,
  again: 0,
};

/** What an address says that is known. */
export function knownOf(params: URLSearchParams): Known {
  const known: Record<string, unknown> = { ...none };
  for (const [name, value] of params) {
    const was = none[name as keyof Known];
    if (was === undefined) continue;
    known[name] = typeof was === 'number' ? Number(value) || 0 : typeof was === 'boolean' ? value === '1' : value;
  }
  return known as unknown as Known;
}

/** Knowing it, as an address says it. */
export function knowing(known: Partial<Known>): string {
  const params = new URLSearchParams();
  for (const [name, value] of Object.entries(known)) if (value) params.set(name, value === true ? '1' : String(value));
  const text = params.toString();
  return text && `?${text}`;
}

/** Where a new paper of a kind is written. */
export const newPaper = (id: DraftKind, known: Partial<Known> = {}) => `/papers/new/${id.replaceAll(' ', '_')}${knowing(known)}`;
