import createClient, { type Middleware } from 'openapi-fetch';
import { at, below, under } from './at';
import { asOfFor } from '../parts/asOf';
import type { components, paths } from './schema';

type Schemas = components['schemas'];
export type Notice = Schemas['Notice'];
export type Effect = Schemas['Effect'];
export type Entry = Schemas['Entry'];
export type Paper = Schemas['Paper'];
export type AskedWord = Schemas['AskedWord'];
export type MailRow = Schemas['MailRow'];
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
export type QuoteBody = Schemas['QuoteBody'];
export type DeliveryBody = Schemas['DeliveryBody'];
export type ReturnBody = Schemas['ReturnBody'];
export type CancellationBody = Schemas['CancellationBody'];
export type RequestBody = Schemas['RequestBody'];
export type ClaimBody = Schemas['ClaimBody'];
export type AdvanceCreditBody = Schemas['AdvanceCreditBody'];
export type Recurring = Schemas['Recurring'];
export type ClaimLineBody = Schemas['ClaimLineBody'];
export type GuaranteeBody = Schemas['GuaranteeBody'];
export type LateChargeBody = Schemas['LateChargeBody'];
export type CreditBody = Schemas['CreditBody'];
export type CreditLineBody = Schemas['CreditLineBody'];
export type CreditRow = Schemas['CreditRow'];
export type BackRow = Schemas['BackRow'];
export type Creditable = Schemas['Creditable'];
export type OrderBody = Schemas['OrderBody'];
export type Order = Schemas['Order'];
export type OrderRow = Schemas['OrderRow'];
export type OrderLine = Schemas['OrderLine'];
export type DepositInvoiceBody = Schemas['DepositInvoiceBody'];
export type AdvanceLeft = Schemas['AdvanceLeft'];
export type AdvanceRow = Schemas['AdvanceRow'];
export type ReleaseBody = Schemas['ReleaseBody'];
export type UseBody = Schemas['UseBody'];
export type DepositBody = Schemas['DepositBody'];
export type ReceiptBody = Schemas['ReceiptBody'];
export type UnidentifiedBody = Schemas['UnidentifiedBody'];
export type DistributeBody = Schemas['DistributeBody'];
export type RefundBody = Schemas['RefundBody'];
export type TransferBody = Schemas['TransferBody'];
export type SplitBody = Schemas['SplitBody'];
export type WriteOffBody = Schemas['WriteOffBody'];
export type PayoutBody = Schemas['PayoutBody'];
export type OwnTransferBody = Schemas['OwnTransferBody'];
export type RecoveryBody = Schemas['RecoveryBody'];
export type ContraBody = Schemas['ContraBody'];
export type BillBody = Schemas['BillBody'];
export type BoughtLineBody = Schemas['BoughtLineBody'];
export type ExpenseBody = Schemas['ExpenseBody'];
export type PurchaseOrderBody = Schemas['PurchaseOrderBody'];
export type PurchaseOrder = Schemas['PurchaseOrder'];
export type ReceivedBody = Schemas['ReceivedBody'];
export type SupplierCreditBody = Schemas['SupplierCreditBody'];
export type PrepaymentBody = Schemas['PrepaymentBody'];
export type SupplierPaymentBody = Schemas['SupplierPaymentBody'];
export type PaidBillBody = Schemas['PaidBillBody'];
export type PaymentRunBody = Schemas['PaymentRunBody'];
export type PayableBill = Schemas['PayableBill'];
export type SupplierRefundBody = Schemas['SupplierRefundBody'];
export type PayableReleaseBody = Schemas['PayableReleaseBody'];
export type NotPassedOnBody = Schemas['NotPassedOnBody'];
export type StockUseBody = Schemas['StockUseBody'];
export type StockCountBody = Schemas['StockCountBody'];
export type StockLineBody = Schemas['StockLineBody'];
export type Cost = Schemas['Cost'];
export type CostShareBody = Schemas['CostShareBody'];
export type Supplier = Schemas['Supplier'];
export type Attachment = Schemas['Attachment'];
export type Group = Schemas['Group'];
export type Currency = Schemas['Currency'];
export type Rate = Schemas['Rate'];
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
export type Desk = Schemas['Desk'];
export type LooseEnd = Schemas['LooseEnd'];
export type Found = Schemas['Found'];
export type Answer = Schemas['Answer'];
export type Blank = Schemas['Blank'];

/** Why the server did not do what was asked. */
export class Problem extends Error {
  constructor(
    readonly status: number,
    readonly type: string,
    detail: string,
    readonly refusals: Notice[] = [],
    readonly warnings: Notice[] = [],
    /** What would be posted now, where that is no longer what was shown. */
    readonly effect?: Effect,
  ) {
    super(detail);
  }
}

/** Fired when the session is over, so that the shell asks to sign in again. */
export const signedOut = new EventTarget();

/** Fires "away" when the program stops answering, and "answers" when it does again. */
export const heard = new EventTarget();
let away = false;

/** Whether the program does not answer. */
export const isAway = () => away;

function hear(answers: boolean) {
  if (answers !== away) return;
  away = !answers;
  heard.dispatchEvent(new Event(answers ? 'answers' : 'away'));
}

/** Whether the program answers now: asked until it does. */
export async function callOut() {
  try {
    hear((await fetch(under('/healthz'), { cache: 'no-store' })).ok);
  } catch {
    hear(false);
  }
}

/** Asks the program, and notices when it is away. */
async function ask(request: Request): Promise<Response> {
  try {
    const response = await fetch(request);
    hear(![502, 503, 504].includes(response.status));
    return response;
  } catch (e) {
    if (!request.signal.aborted) hear(false);
    throw e;
  }
}

const offline = () => new Problem(0, 'offline', 'The program does not answer. What you typed is kept; it goes on by itself.');

async function problemOf(response: Response): Promise<Problem> {
  if (response.status === 401 && !response.url.endsWith('/session')) signedOut.dispatchEvent(new Event('signedOut'));
  let body: { type?: string; detail?: string; title?: string; refusals?: Notice[]; warnings?: Notice[]; effect?: Effect } = {};
  try {
    body = await response.json();
  } catch {
    // An answer without a body is told by its status.
  }
  return new Problem(
    response.status,
    body.type ?? '',
    body.detail || body.title || `The program answered ${response.status}.`,
    body.refusals,
    body.warnings,
    body.effect,
  );
}

const problems: Middleware = {
  async onResponse({ response }) {
    if (response.ok) return undefined;
    throw await problemOf(response);
  },
  onError() {
    return offline();
  },
};

/** Asks for what is shown as it stood on the day that is looked back from. */
const lookingBack: Middleware = {
  onRequest({ request }) {
    const url = new URL(request.url);
    const day = request.method === 'GET' ? asOfFor(below(url.pathname)) : '';
    if (!day || url.searchParams.has('asOf')) return undefined;
    url.searchParams.set('asOf', day);
    return new Request(url, request);
  },
};

export const api = createClient<paths>({ baseUrl: at, fetch: ask });
api.use(problems, lookingBack);

/** The operations that post, each with its preview twin. */
export type CommandPath = {
  [P in keyof paths]: paths[P] extends { post: { parameters: { query?: { token?: string } } } } ? P : never;
}[keyof paths];

async function json<T>(request: Request): Promise<T> {
  let response: Response;
  try {
    response = await ask(request);
  } catch (e) {
    if (request.signal.aborted) throw e;
    throw offline();
  }
  if (!response.ok) throw await problemOf(response);
  return (await response.json()) as T;
}

/** Sends a command, as the text of its body. */
export function send(
  path: CommandPath,
  body: string,
  query: URLSearchParams,
  headers: Record<string, string> = {},
  signal?: AbortSignal,
): Promise<Answer> {
  return json(
    new Request(under(`${path}?${query}`), {
      method: 'POST',
      headers: { 'Content-Type': 'application/json', ...headers },
      body,
      signal,
    }),
  );
}

/** Reads from an address of the API that is put together. */
export function read<T>(address: string, signal?: AbortSignal): Promise<T> {
  return json(new Request(under(address), { signal }));
}

/** The version that a record was read at: who saves it goes on from there. */
export const readAt = (version: number | undefined) => ({ 'If-Match': `"${version ?? 0}"` });

/** The data of an answer; problems are thrown by the client. */
export async function data<T>(answer: Promise<{ data?: T }>): Promise<T> {
  return (await answer).data as T;
}
