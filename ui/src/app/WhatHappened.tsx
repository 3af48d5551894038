import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { useLocation, useNavigate } from 'react-router';
import type { Paper } from '../api/client';
import { newPaper } from '../papers/editing/kind';
import { kinds } from '../papers/kinds';
import { useMay } from '../parts/may';
import { Palette } from './Palette';

interface Step {
  says: string;
  leads: string;
  words: string;
  to: (known: string) => string;
}

// What leads to a paper is told by its kind.
const papers: Step[] = Object.values(kinds).flatMap((k) =>
  k.says.map(({ known, ...said }) => ({
    ...said,
    to: (here) => {
      const params = new URLSearchParams(here);
      for (const [name, value] of new URLSearchParams(known)) params.set(name, value);
      // What the place knows is looked at first: it may be somebody else.
      if (here) params.set('said', '1');
      return `${newPaper(k.id)}${params.size ? `?${params}` : ''}`;
    },
  })),
);

// What leads to a place, where it is found or done.
const places: Step[] = [
  {
    says: 'We found out whose money it is',
    leads: 'the money that is not identified',
    words: 'unknown identify owner unidentified',
    to: () => '/ledger/registers?register=unidentified',
  },
  {
    says: 'A payment bounced',
    leads: 'find the receipt: returned by the bank',
    words: 'returned cheque debit bounced bank took back unpaid',
    to: () => '/papers?kind=receipt',
  },
  {
    says: 'A supplier sent an electronic invoice',
    leads: 'read it into a bill',
    words: 'electronic invoice xml ubl e-invoice read bill came',
    to: () => '/papers/read',
  },
  {
    says: 'Customers are late',
    leads: 'reminders, one letter each',
    words: 'remind reminder overdue late dunning letter chase',
    to: () => '/customers/reminders',
  },
  {
    says: 'A mail did not arrive, or waits to go',
    leads: 'the outbox',
    words: 'mail e-mail sent send outbox arrived failed waiting',
    to: () => '/papers/outbox',
  },
  {
    says: 'Cheques are to be printed',
    leads: 'the list of them',
    words: 'print cheque refund',
    to: () => '/papers/cheques',
  },
  {
    says: 'Some of what is owed is doubtful',
    leads: 'the allowance',
    words: 'doubtful provision bad debt reserve allowance',
    to: () => '/ledger/allowance',
  },
  {
    says: 'A deposit is held, and its invoice is there',
    leads: 'the matching bench',
    words: 'set against apply use match allocation',
    to: bench,
  },
  {
    says: 'Something was set against the wrong invoice',
    leads: 'undo it on the bench',
    words: 'undo allocation mistake matching',
    to: bench,
  },
  {
    says: 'A paper was wrong: amount, date or customer',
    leads: 'find it: put right',
    words: 'mistake reverse reversal cancel undo wrong date amount correct change put right',
    to: () => '/papers',
  },
  {
    says: 'The same again',
    leads: 'find a paper: copy it',
    words: 'copy repeat duplicate again like last time',
    to: () => '/papers',
  },
  {
    says: 'They say that an invoice is wrong',
    leads: 'find it: dispute',
    words: 'dispute disputed complaint refuse to pay',
    to: (k) => `/papers?kind=invoice&state=open${k && `&${k.slice(1)}`}`,
  },
  {
    says: 'They are late',
    leads: 'what is overdue: remind, note a promise',
    words: 'late overdue interest charge reminder remind promise promised dunning chase put off',
    to: (k) => `/papers?kind=invoice&state=overdue${k && `&${k.slice(1)}`}`,
  },
  { says: 'A new customer', leads: 'name, address, terms', words: 'party add create', to: () => '/customers?new=1' },
  {
    says: 'A new order',
    leads: 'a job',
    words: 'job project contract add create order',
    to: (k) => `/jobs${k || '?'}${k ? '&' : ''}new=1`,
  },
  { says: 'They ask what they owe', leads: 'a statement', words: 'balance account position letter', to: statement },
  {
    says: 'Everybody gets a statement',
    leads: 'statements for all',
    words: 'balance letters print all customers',
    to: () => '/customers/statements',
  },
  {
    says: 'The same is billed again and again',
    leads: 'invoices that recur',
    words: 'recurring monthly yearly weekly service maintenance rent subscription schedule repeat',
    to: () => '/papers/recurring',
  },
  {
    says: 'Everybody who is late is charged',
    leads: 'late charges for all that is overdue',
    words: 'interest overdue fee all customers month',
    to: () => '/customers/late',
  },
  {
    says: 'When does the money come?',
    leads: 'what is expected, week by week',
    words: 'cash forecast weeks due expected',
    to: () => '/ledger/expected',
  },
  {
    says: 'We begin with what stands in our old books',
    leads: 'open items, stock and the trial balance, from files or by hand',
    words: 'begin opening balances old books move in start migrate import',
    to: () => '/setup/beginning',
  },
  {
    says: 'Work is done and not billed yet',
    leads: 'accrue it at the end of the month',
    words: 'accrual accrue deferred income work progress wip month end',
    to: () => '/ledger/accruals',
  },
  {
    says: 'The month ends, and something is open in another currency',
    leads: 'revalue it at the rates of the day',
    words: 'currency exchange rate revalue revaluation foreign dollar unrealised month end',
    to: () => '/ledger/exchange',
  },
  {
    says: 'A rate of exchange is told',
    leads: 'say it, or read it from a file',
    words: 'currency rate exchange foreign dollar abroad central bank',
    to: () => '/setup/currencies',
  },
  {
    says: 'The tax is due',
    leads: 'the return of a span, and its settling',
    words: 'tax vat sales return settle file quarter month output input',
    to: () => '/ledger/tax',
  },
  {
    says: 'Did we earn anything?',
    leads: 'profit and loss',
    words: 'profit loss income result earned spent report margin',
    to: () => '/ledger/income',
  },
  {
    says: 'What do we own and owe?',
    leads: 'the balance sheet',
    words: 'balance sheet assets liabilities equity owe own',
    to: () => '/ledger/balance',
  },
  {
    says: 'The year is over',
    leads: 'close its last month, and end it',
    words: 'year end close retained earnings annual',
    to: () => '/ledger/closing',
  },
  {
    says: 'The month is over',
    leads: 'what is left to do, then lock',
    words: 'close closing period lock locked through end tie-out',
    to: () => '/ledger/closing',
  },
];

const situations = [...papers, ...places];

function bench(known: string): string {
  const customer = /customer=(\d+)/.exec(known)?.[1];
  return customer ? `/customers/${customer}#bench` : '/customers?state=held';
}

function statement(known: string): string {
  const customer = /customer=(\d+)/.exec(known)?.[1];
  return customer ? `/customers/${customer}/statement` : '/customers?state=owing';
}

/** What the page that one is on already says: its customer, its job. */
function useKnown(): string {
  const { pathname, search } = useLocation();
  const client = useQueryClient();
  const customer = /^\/customers\/(\d+)/.exec(pathname)?.[1];
  if (customer) return `?customer=${customer}`;
  const job = /^\/jobs\/(\d+)/.exec(pathname)?.[1];
  if (job) return `?job=${job}`;
  const paper = /^\/papers\/(\d+)/.exec(pathname)?.[1];
  const shown = client.getQueryData<Paper>(['paper', Number(paper)]);
  if (paper && shown) return `?customer=${shown.customerId}`;
  const given = new URLSearchParams(search).get('customer');
  return given ? `?customer=${given}` : '';
}

/** The situations, found by typing any word of them. */
export function WhatHappened({ onClose }: { onClose: () => void }) {
  const [text, setText] = useState('');
  const go = useNavigate();
  const known = useKnown();
  const may = useMay();
  const words = text.toLowerCase().split(/\s+/).filter(Boolean);
  const rank = (s: Step) => (words.every((w) => s.says.toLowerCase().includes(w)) ? 0 : 1);
  const found = situations
    .filter((s) => may.go(s.to(known)))
    .filter((s) => words.every((w) => `${s.says} ${s.leads} ${s.words}`.toLowerCase().includes(w)))
    .sort((a, b) => rank(a) - rank(b));
  return (
    <Palette
      label="What happened?"
      placeholder="What happened?"
      text={text}
      onText={setText}
      rows={found}
      render={(s) => ({ key: s.says, main: <Marked text={s.says} words={words} />, side: s.leads })}
      onPick={(s) => {
        onClose();
        void go(s.to(known));
      }}
      onClose={onClose}
      nothing="No situation by these words. Try “paid”, “bill”, “wrong” or “new”."
    />
  );
}

function Marked({ text, words }: { text: string; words: string[] }) {
  if (words.length === 0) return text;
  const escaped = words.map((w) => w.replace(/[.*+?^${}()|[\]\\]/g, '\\$&'));
  return text.split(new RegExp(`(${escaped.join('|')})`, 'gi')).map((part, i) => (i % 2 ? <b key={i}>{part}</b> : part));
}
