import type { LooseEnd } from '../api/client';
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
      what: say(l.customer, 'on account', job(l)),
      step: 'Set against',
      to: `/customers/${l.customerId}?credit=${l.itemId}#bench`,
    }),
  },
  overpaid: {
    title: 'Paid too much',
    all: '/papers?kind=receipt&state=open',
    end: (l) => ({
      what: say(l.customer, 'more than is owed', job(l)),
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
  overdue: {
    title: 'Overdue',
    all: '/papers?state=overdue',
    end: (l) => ({
      what: say(l.customer, job(l), l.title),
      // So late, one decides: money, a write-off, a dispute.
      ...(l.stage.startsWith('over')
        ? { step: 'Decide', to: `/customers/${l.customerId}?debit=${l.itemId}#bench` }
        : { step: 'Record a receipt', to: `/papers/new/receipt?customer=${l.customerId}` }),
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
    id: `${group}${l.itemId || l.paperId}`,
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
