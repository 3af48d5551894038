import Button, { type ButtonProps } from '@mui/material/Button';
import { useMemo, type ReactNode } from 'react';
import { Link, useNavigate } from 'react-router';
import type { Session } from '../api/client';
import { useSession } from './records';

/** The rights that the interface asks about; Go tells which of them one has. */
export type Right =
  | 'see customers, jobs and papers'
  | 'see the ledger, the bank and reports'
  | 'note, attach and mail'
  | 'write quotes, orders, deliveries and drafts of invoices'
  | 'take money'
  | 'give money back, write off, reverse and keep the bank'
  | 'buy'
  | 'take lists along as files'
  | 'settle the tax'
  | 'lock a period'
  | 'unlock, set up and say who may do what';

const papers: Right = 'see customers, jobs and papers';
const books: Right = 'see the ledger, the bank and reports';
const keeps: Right = 'give money back, write off, reverse and keep the bank';
const sells: Right = 'write quotes, orders, deliveries and drafts of invoices';

// What a place needs, the first that fits.
const places: [RegExp, Right | null][] = [
  [/^\/customers\/suppliers/, books],
  [/^\/customers\/(reminders|late|statements)/, keeps],
  [/^\/customers\/\d+\/statement/, papers],
  [/^\/jobs\/(costs|margins)/, books],
  [/^\/jobs/, papers],
  [/^\/papers\/read/, 'buy'],
  [/^\/papers\/(cheques|bank-file)/, keeps],
  [/^\/papers\/recurring/, sells],
  [/^\/papers\/(credits|outbox)/, papers],
  [/^\/(bank|ledger)/, books],
  [/^\/setup\/(articles|groups|bank-rules|import)/, keeps],
  [/^\/setup\/me/, null],
  [/^\/setup/, 'unlock, set up and say who may do what'],
];

function mayGo(session: Session | undefined, to: string): boolean {
  if (!session) return false;
  const kind = /^\/papers\/new\/([^?#]+)/.exec(to)?.[1];
  if (kind) return session.writes.includes(kind.replaceAll('_', ' '));
  if (to.includes('#bench')) return session.rights.includes(keeps);
  if (/^\/(customers|jobs)\?.*new=1/.test(to)) return session.rights.includes(sells);
  const right = places.find(([at]) => at.test(to))?.[1];
  return !right || session.rights.includes(right);
}

/** Tells what the one who is signed in may do: it is not offered else. */
export function useMay() {
  const session = useSession().data;
  return useMemo(
    () => ({
      has: (right: Right) => !!session?.rights.includes(right),
      go: (to: string) => mayGo(session, to),
      step: (s: { to: string } | { panel: string }) =>
        'to' in s
          ? mayGo(session, s.to)
          : !!session?.rights.includes(['reverse', 'returned', 'dispute'].includes(s.panel) ? keeps : 'note, attach and mail'),
      post: (kind: string) => !!session?.posts.includes(kind),
    }),
    [session],
  );
}

/** What is shown only to those who have a right. */
export function Only({ right, children }: { right: Right; children: ReactNode }) {
  return useMay().has(right) ? children : null;
}

/** A button that leads on; none for those who may not go there. */
export function Leads({ to, ...props }: Omit<ButtonProps, 'href'> & { to: string }) {
  const go = useNavigate();
  return useMay().go(to) ? <Button onClick={() => void go(to)} {...props} /> : null;
}

/** The same in a line of text. */
export function LeadsTo({ to, children }: { to: string; children: ReactNode }) {
  return useMay().go(to) ? <Link to={to}>{children}</Link> : null;
}
