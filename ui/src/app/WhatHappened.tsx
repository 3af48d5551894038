import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { useLocation, useNavigate } from 'react-router';
import type { Paper } from '../api/client';
import { Palette } from './Palette';

interface Situation {
  says: string;
  leads: string;
  words: string;
  to: (known: string) => string;
}

// How anything begins: what happened, in plain words, leads to its paper.
const situations: Situation[] = [
  {
    says: 'They paid before we billed',
    leads: 'a deposit, held for them',
    words: 'advance prepayment down money in',
    to: (k) => `/papers/new/deposit${k}`,
  },
  {
    says: 'They paid what we billed',
    leads: 'a receipt, placed on invoices',
    words: 'payment money in bank transfer',
    to: (k) => `/papers/new/receipt${k}`,
  },
  {
    says: 'They paid, and it fits no invoice',
    leads: 'a receipt on account',
    words: 'payment money unplaced too much twice overpaid',
    to: (k) => `/papers/new/receipt${k || '?'}${k ? '&' : ''}onAccount=1`,
  },
  {
    says: 'Money came, and nobody knows whose it is',
    leads: 'it waits, not identified',
    words: 'unknown unidentified suspense payment bank',
    to: () => '/papers/new/unidentified_receipt',
  },
  {
    says: 'We found out whose money it is',
    leads: 'the money that is not identified',
    words: 'unknown identify owner unidentified',
    to: () => '/ledger/registers?register=unidentified',
  },
  {
    says: 'One transfer came for several customers',
    leads: 'a receipt for each',
    words: 'payment shared split bulk several',
    to: () => '/papers/new/distribution',
  },
  {
    says: 'They paid too much, and we give it back',
    leads: 'a refund, by transfer or cheque',
    words: 'overpaid refund return money cheque back twice',
    to: (k) => `/papers/new/refund${k}`,
  },
  {
    says: 'They cancelled, and we keep a part of the deposit',
    leads: 'what becomes of a deposit',
    words: 'forfeit refund split cancel keep deposit end',
    to: (k) => `/papers/new/deposit_split${k}`,
  },
  {
    says: 'The money belongs to another job or customer',
    leads: 'a transfer',
    words: 'move transfer wrong job customer on account deposit',
    to: (k) => `/papers/new/transfer${k}`,
  },
  {
    says: 'A payment bounced',
    leads: 'find the receipt: returned by the bank',
    words: 'returned cheque debit bounced bank took back unpaid',
    to: () => '/papers?kind=receipt',
  },
  {
    says: 'They will not pay',
    leads: 'a write-off',
    words: 'bad debt insolvent give up lost write off',
    to: (k) => `/papers/new/write-off${k}`,
  },
  {
    says: 'Small balances are in the way',
    leads: 'written off together',
    words: 'cents pennies difference small write off many',
    to: () => '/papers/new/write-off?small=1',
  },
  {
    says: 'Money came for a debt that was given up',
    leads: 'a recovery',
    words: 'recover bad debt dividend insolvency',
    to: () => '/papers/new/recovery',
  },
  {
    says: 'They owe us and we owe them',
    leads: 'a contra',
    words: 'set off offset both supplier netting',
    to: (k) => `/papers/new/contra${k}`,
  },
  {
    says: 'A supplier billed us',
    leads: 'a supplier bill',
    words: 'purchase bill vendor cost buy',
    to: () => '/papers/new/supplier_bill',
  },
  {
    says: 'Cheques are to be printed',
    leads: 'the list of them',
    words: 'print cheque refund',
    to: () => '/papers/cheques',
  },
  {
    says: 'Something is to be entered by hand',
    leads: 'a journal entry',
    words: 'journal adjust debit credit correction accrual',
    to: () => '/papers/new/journal',
  },
  {
    says: 'Some of what is owed is doubtful',
    leads: 'the allowance',
    words: 'doubtful provision bad debt reserve',
    to: () => '/ledger/allowance',
  },
  {
    says: 'The work is done, or a part of it',
    leads: 'an invoice',
    words: 'bill finished delivered fitted goods',
    to: (k) => `/papers/new/invoice${k}`,
  },
  {
    says: 'The final invoice is due, and they paid a deposit',
    leads: 'an invoice, with the deposit set against it',
    words: 'bill final prepayment less',
    to: (k) => `/papers/new/invoice${k}`,
  },
  {
    says: 'A deposit is held, and its invoice is there',
    leads: 'the matching bench',
    words: 'set against apply use match',
    to: bench,
  },
  {
    says: 'Something was set against the wrong invoice',
    leads: 'undo it on the bench',
    words: 'undo allocation mistake matching',
    to: bench,
  },
  {
    says: 'A paper was wrong',
    leads: 'find it and reverse it',
    words: 'mistake reverse cancel undo wrong date',
    to: () => '/papers',
  },
  { says: 'A new customer', leads: 'name, address, terms', words: 'party add create', to: () => '/customers?new=1' },
  {
    says: 'A new order',
    leads: 'a job',
    words: 'job project contract add create',
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
    says: 'When does the money come?',
    leads: 'what is expected, week by week',
    words: 'cash forecast weeks due expected',
    to: () => '/ledger/expected',
  },
  { says: 'The month is over', leads: 'tie out and lock', words: 'close period lock end', to: () => '/ledger/closing' },
];

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
  const words = text.toLowerCase().split(/\s+/).filter(Boolean);
  const rank = (s: Situation) => (words.every((w) => s.says.toLowerCase().includes(w)) ? 0 : 1);
  const found = situations
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
