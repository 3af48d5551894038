import createClient, { type Middleware } from 'openapi-fetch';
import { asOfFor } from '../parts/asOf';
import type { components, paths } from './schema';

type Schemas = components['schemas'];
export type Notice = Schemas['Notice'];
export type Effect = Schemas['Effect'];
export type Entry = Schemas['Entry'];
export type Paper = Schemas['Paper'];
export type PaperRow = Schemas['PaperRow'];
export type OpenItem = Schemas['OpenItem'];
export type Allocation = Schemas['Allocation'];
export type Happening = Schemas['Happening'];
export type Customer = Schemas['Customer'];
export type CustomerBody = Schemas['CustomerBody'];
export type Job = Schemas['Job'];
export type JobBody = Schemas['JobBody'];
export type Article = Schemas['Article'];
export type TaxCode = Schemas['TaxCode'];
export type Terms = Schemas['Terms'];
export type Account = Schemas['Account'];
export type BankAccount = Schemas['BankAccount'];
export type Session = Schemas['Session'];
export type InvoiceBody = Schemas['InvoiceBody'];
export type InvoiceLineBody = Schemas['InvoiceLineBody'];
export type DepositBody = Schemas['DepositBody'];
export type ReceiptBody = Schemas['ReceiptBody'];
export type UnidentifiedBody = Schemas['UnidentifiedBody'];
export type DistributeBody = Schemas['DistributeBody'];
export type RefundBody = Schemas['RefundBody'];
export type TransferBody = Schemas['TransferBody'];
export type SplitBody = Schemas['SplitBody'];
export type WriteOffBody = Schemas['WriteOffBody'];
export type RecoveryBody = Schemas['RecoveryBody'];
export type ContraBody = Schemas['ContraBody'];
export type BillBody = Schemas['BillBody'];
export type JournalBody = Schemas['JournalBody'];
export type ShareBody = Schemas['ShareBody'];
export type PlacementBody = Schemas['PlacementBody'];
export type Proposal = Schemas['Proposal'];
export type DepositRow = Schemas['DepositRow'];
export type Limits = Schemas['Limits'];
export type Why = Schemas['Why'];
export type Bar = Schemas['Bar'];
export type Statement = Schemas['Statement'];
export type TieOut = Schemas['TieOut'];
export type Ageing = Schemas['Ageing'];
export type Draft = Schemas['Draft'];
export type LooseEnd = Schemas['LooseEnd'];
export type Found = Schemas['Found'];
export type Answer = Schemas['Answer'];

/** Why the server did not do what was asked. */
export class Problem extends Error {
  constructor(
    readonly status: number,
    readonly type: string,
    detail: string,
    readonly refusals: Notice[] = [],
    readonly warnings: Notice[] = [],
  ) {
    super(detail);
  }
}

/** Fired when the session is over, so that the shell asks to sign in again. */
export const signedOut = new EventTarget();

const problems: Middleware = {
  async onResponse({ response, request }) {
    if (response.ok) return undefined;
    if (response.status === 401 && !request.url.endsWith('/session')) signedOut.dispatchEvent(new Event('signedOut'));
    let body: { type?: string; detail?: string; title?: string; refusals?: Notice[]; warnings?: Notice[] } = {};
    try {
      body = await response.json();
    } catch {
      // An answer without a body is told by its status.
    }
    throw new Problem(
      response.status,
      body.type ?? '',
      body.detail || body.title || `The server answered ${response.status}.`,
      body.refusals,
      body.warnings,
    );
  },
  onError() {
    return new Problem(0, 'offline', 'The program does not answer. What you typed is kept; try again in a moment.');
  },
};

/** Asks for what is shown as it stood on the day that is looked back from. */
const lookingBack: Middleware = {
  onRequest({ request }) {
    const url = new URL(request.url);
    const day = request.method === 'GET' ? asOfFor(url.pathname) : '';
    if (!day || url.searchParams.has('asOf')) return undefined;
    url.searchParams.set('asOf', day);
    return new Request(url, request);
  },
};

export const api = createClient<paths>({ baseUrl: '' });
api.use(problems, lookingBack);

/** The version that a record was read at: who saves it goes on from there. */
export const readAt = (version: number | undefined) => ({ 'If-Match': `"${version ?? 0}"` });

/** The data of an answer; problems are thrown by the client. */
export async function data<T>(answer: Promise<{ data?: T }>): Promise<T> {
  return (await answer).data as T;
}
