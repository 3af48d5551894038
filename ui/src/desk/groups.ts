import { inTab } from '../api/at';
import type { AskedWord, Desk, Draft, LooseEnd, MailRow } from '../api/client';
import { draftName } from '../papers/draftName';
import { show, showDay, showDays } from '../parts/show';

/** What a loose end says and where its next step leads. */
export interface End {
  id: string;
  number: string;
  what: string;
  open: string;
  age: string;
  step: string;
  to: string;
}

interface Group {
  title: string;
  /** The list with all of them. */
  all: string;
  /** A step for all of them at once. */
  step?: { name: string; to: string };
  end: (l: LooseEnd) => Pick<End, 'what' | 'step' | 'to'>;
}

const job = (l: LooseEnd) => (l.job ? `job ${l.job}` : '');
const say = (...parts: string[]) => parts.filter(Boolean).join(' · ');

/** The groups of loose ends by what to do next. */
export const groups: Record<string, Group> = {
  'not identified': {
    title: 'Money that nobody has claimed',
    all: '/ledger/registers?register=unidentified',
    end: (l) => ({
      what: say('not identified', l.title),
      step: 'Whose is it?',
      to: `/papers/new/distribution?from=${l.itemId}&amount=${l.open}`,
    }),
  },
  'on account': {
    title: 'Money without a home',
    all: '/papers?kind=receipt&state=open',
    end: (l) => ({
      what: say(l.customer, l.kind === 'credit note' ? 'credit not used' : 'on account', job(l)),
      step: 'Set against',
      to: `/customers/${l.customerId}?credit=${l.itemId}#bench`,
    }),
  },
  overpaid: {
    title: 'Paid too much',
    all: '/papers?kind=receipt&state=open',
    end: (l) => ({
      what: say(l.customer, l.kind === 'credit note' ? 'credit, and nothing is owed' : 'more than is owed', job(l)),
      step: 'Refund',
      to: `/papers/new/refund?customer=${l.customerId}&credit=${l.itemId}`,
    }),
  },
  deposit: {
    title: 'Deposits whose invoice is there',
    all: '/ledger/deposits',
    end: (l) => ({
      what: say(l.customer, job(l), l.invoice),
      step: 'Set against',
      to: `/customers/${l.customerId}?credit=${l.itemId}#bench`,
    }),
  },
  'deposit of a closed job': {
    title: 'Deposits of jobs that are closed',
    all: '/ledger/deposits',
    end: (l) => ({
      what: say(l.customer, job(l), 'refund it, or keep a part'),
      step: 'What becomes of it',
      to: `/papers/new/deposit_split?customer=${l.customerId}&credit=${l.itemId}`,
    }),
  },
  retention: {
    title: 'Kept back, and due this month or next',
    all: '/ledger/registers?register=retention',
    end: (l) => ({
      what: say(l.customer, job(l), `expected ${showDay(l.due)}`),
      step: 'Release',
      to: `/papers/new/release?customer=${l.customerId}&item=${l.itemId}`,
    }),
  },
  stage: {
    title: 'Stages to be billed',
    all: '/jobs',
    end: (l) => ({
      what: say(l.customer, l.title),
      step: 'Bill it',
      to: `/papers/new/claim?customer=${l.customerId}&job=${l.jobId}`,
    }),
  },
  'bank line': {
    title: 'Lines of the bank that nothing explains',
    all: '/bank',
    end: (l) => ({
      what: say(l.title, `${l.number} ${l.number === '1' ? 'line' : 'lines'}, the first of ${showDay(l.day)}`),
      step: 'Explain them',
      to: `/bank/${l.itemId}`,
    }),
  },
  'card payout': {
    title: 'Card takings that were paid out',
    all: '/papers?kind=card+payout',
    end: (l) => ({
      what: say('the gateway paid out', showDay(l.day)),
      step: 'Take it',
      to: `/papers/new/card_payout?told=${l.itemId}`,
    }),
  },
  'card payment': {
    title: 'Paid by card, and not in the books',
    all: '/setup/cards',
    end: (l) => ({
      what: say(l.customer, l.reason),
      step: 'Record it',
      to: '/setup/cards',
    }),
  },
  request: {
    title: 'Deposits asked for, and not paid',
    all: '/papers?kind=request+for+a+deposit',
    end: (l) => ({
      what: say(l.customer, job(l), `to be paid by ${showDay(l.due)}`),
      step: 'They paid it',
      to: `/papers/new/deposit?customer=${l.customerId}&job=${l.jobId}&request=${l.paperId}&amount=${l.open}`,
    }),
  },
  guarantee: {
    title: 'Guarantees that end this month or next',
    all: '/papers?kind=guarantee',
    end: (l) => ({
      what: say(l.customer, job(l), l.title, `through ${showDay(l.due)}`),
      step: 'Did it come back?',
      to: `/papers/${l.paperId}`,
    }),
  },
  'both ways': {
    title: 'They owe us, and we owe them',
    all: '/ledger/registers?register=payables',
    end: (l) => ({
      what: say(l.customer, `we owe them for ${l.title}`),
      step: 'Set off',
      to: `/papers/new/contra?customer=${l.customerId}`,
    }),
  },
  cheque: {
    title: 'Cheques to print',
    all: '/papers/cheques',
    step: { name: 'Print them', to: '/papers/cheques' },
    end: (l) => ({ what: say(l.customer, `cheque ${l.cheque}`), step: 'Print', to: '/papers/cheques' }),
  },
  disputed: {
    title: 'Disputed',
    all: '/ledger/ageing',
    end: (l) => ({ what: say(l.customer, l.reason, job(l)), step: 'Look at it', to: `/papers/${l.paperId}` }),
  },
  promise: {
    title: 'Promised, and not kept',
    all: '/papers?state=overdue',
    end: (l) => ({
      what: say(l.customer, `promised for ${showDay(l.until)}`, job(l)),
      step: 'Follow up',
      to: `/papers/${l.paperId}`,
    }),
  },
  overdue: {
    title: 'Overdue',
    all: '/papers?state=overdue',
    end: (l) => ({
      what: say(l.customer, job(l), l.title),
      // So late, one does more than wait: a reminder, a promise, a write-off, a dispute.
      ...(l.stage.startsWith('over')
        ? { step: 'Follow up', to: `/papers/${l.paperId}` }
        : { step: 'Record a receipt', to: `/papers/new/receipt?customer=${l.customerId}&item=${l.itemId}` }),
    }),
  },
  cost: {
    title: 'Bought for customers, and not billed',
    all: '/jobs/costs?state=waiting',
    end: (l) => ({
      what: say(l.customer, job(l), l.title),
      step: 'Bill it',
      to: `/papers/new/invoice?customer=${l.customerId}&job=${l.jobId}&costs=all`,
    }),
  },
  'cost credited': {
    title: 'Given back by a supplier after it was billed',
    all: '/jobs/costs?state=credited',
    end: (l) => ({
      what: say(l.customer, job(l), l.title, l.invoice && `billed on ${l.invoice}`),
      step: l.invoiceId ? 'Credit it' : 'Look at it',
      to: l.invoiceId ? `/papers/new/credit_note?paper=${l.invoiceId}&costs=all` : `/papers/${l.paperId}`,
    }),
  },
  bill: {
    title: 'Bills to pay within a week',
    all: '/papers/new/payment_run',
    step: { name: 'Pay them', to: '/papers/new/payment_run' },
    end: (l) => ({
      what: say(l.customer, l.title, `due ${showDay(l.due)}`),
      step: 'Pay',
      to: `/papers/new/supplier_payment?customer=${l.customerId}&item=${l.itemId}`,
    }),
  },
  'with a supplier': {
    title: 'Ours with a supplier, while we owe it',
    all: '/customers/suppliers',
    end: (l) => ({
      what: say(l.customer, l.title),
      step: 'Set against',
      to: `/customers/suppliers/${l.customerId}?credit=${l.itemId}#bench`,
    }),
  },
  'we keep back': {
    title: 'What we keep back, and is due within a month',
    all: '/ledger/registers?register=retention+payable',
    end: (l) => ({
      what: say(l.customer, l.title, `expected ${showDay(l.due)}`),
      step: 'Release',
      to: `/papers/new/supplier_release?customer=${l.customerId}&item=${l.itemId}`,
    }),
  },
  'purchase order': {
    title: 'Ordered, and late',
    all: '/papers?kind=purchase+order',
    end: (l) => ({
      what: say(l.customer, l.title, `expected ${showDay(l.due)}`),
      step: 'Did it come?',
      to: `/papers/new/goods_received?order=${l.paperId}`,
    }),
  },
  small: {
    title: 'Small balances',
    all: '/papers/new/write-off?small=1',
    step: { name: 'Write off together', to: '/papers/new/write-off?small=1' },
    end: (l) => ({
      what: say(l.customer, l.credit ? 'a credit nobody will claim' : l.title),
      step: 'Write off',
      to: `/papers/new/write-off?small=1`,
    }),
  },
};

/** The loose ends of a group as the Desk shows them. */
export function ends(group: string, rows: LooseEnd[], today: string): End[] {
  const g = groups[group];
  if (!g) return [];
  return rows.map((l) => ({
    id: `${group}${l.itemId || (l.line ? l.paperId * 1000 + l.line : l.paperId) || l.jobId}`,
    number: l.number,
    open: l.open,
    age: l.stage && group === 'overdue' ? l.stage : l.due && group === 'disputed' ? showDay(l.due, today) : showDays(l.age),
    ...g.end(l),
  }));
}

/** How many of each stage of being overdue there are, in a line. */
export function stages(rows: LooseEnd[]): string {
  const count = new Map<string, number>();
  for (const l of rows) if (l.stage) count.set(l.stage, (count.get(l.stage) ?? 0) + 1);
  return [...count].map(([stage, n]) => `${n} of ${stage} days`).join(', ');
}

/** The heading of a group: how much it is together. */
export const together = (sum: string) => `${show(sum)} together`;

/** A draft as a loose end. */
export const draftEnd = (d: Draft): End => ({
  id: `draft${d.id}`,
  number: draftName(d.kind),
  what: [d.customer || 'no customer yet', d.job && `job ${d.job}`, d.title].filter(Boolean).join(' · '),
  open: d.total,
  age: '',
  step: 'Go on',
  to: `/papers/drafts/${d.id}`,
});

export const mailEnd = (m: MailRow): End => ({
  id: `mail${m.id}`,
  number: m.numbers || m.kind,
  what: [m.customer, m.to.join(', '), m.reason].filter(Boolean).join(' · '),
  open: '',
  age: '',
  step: 'Look at it',
  to: `/papers/outbox/${m.id}`,
});

/** What waits for one's word, or was said to what one asked for oneself. */
export const wordEnd = (w: AskedWord): End => ({
  id: `word${w.id}`,
  number: w.state === 'waits' ? w.asker : w.state,
  what: [w.summary, w.state === 'waits' ? '' : w.by, w.note].filter(Boolean).join(' · '),
  open: w.shown?.paper?.total ?? '',
  age: '',
  step: w.state === 'waits' ? 'Look at it' : w.state === 'agreed' && w.draft ? 'Post it' : 'Look at it',
  to: w.state !== 'waits' && w.draft ? `/papers/drafts/${w.draft}` : `/desk/words/${w.id}`,
});

/** Every loose end, in the order of the Desk. */
export const allEnds = (d: Desk, today: string): End[] => [
  ...d.words.map(wordEnd),
  ...d.given.map(wordEnd),
  ...d.groups.flatMap((g) => ends(g.group, g.rows, today)),
  ...d.mails.map(mailEnd),
  ...(d.drafts ?? []).map(draftEnd),
];

const slot = 'loose end';

/** Notes which loose end one is at, so that the next is known. */
export function beginEnd(all: End[], e: End) {
  inTab.setItem(slot, JSON.stringify({ id: e.id, at: all.findIndex((x) => x.id === e.id) }));
}

/** The loose end after the one that one was at; where that is done, the one in its place. */
export function nextEnd(all: End[]): End | undefined {
  const was = JSON.parse(inTab.getItem(slot) ?? 'null') as { id: string; at: number } | null;
  if (!was) return all[0];
  const at = all.findIndex((e) => e.id === was.id);
  return all[at >= 0 ? (at + 1) % all.length : Math.min(was.at, all.length - 1)];
}
