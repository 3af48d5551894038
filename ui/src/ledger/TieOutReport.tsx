import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import type { ReactNode } from 'react';
import { Link } from 'react-router';
import { api, data } from '../api/client';
import { Plain } from '../desk/Desk';
import { Amount } from '../parts/Amount';
import { Failure } from '../parts/Layout';
import { ListNote } from '../parts/ListNote';
import { Margin } from '../parts/Margin';
import { Mark } from '../parts/Mark';
import { useToday } from '../parts/records';
import { isNil, show } from '../parts/show';
import { AsOfBar, useAsOf } from './AsOf';

// The list of what makes a register up, where it is another than the register's own.
const lists: Record<string, string> = { 'advance billings': 'advance', 'deferred tax': 'retention' };

/** Where the lines of a register are listed as of a day; undefined for what has no list of its own. */
function linesOf(register: string, asOf: string, today: string): string | undefined {
  if (register === 'recoverable') return asOf < today ? undefined : '/jobs/costs';
  if (register === 'goods received' || register === 'tax when paid') return undefined;
  const query = new URLSearchParams({ register: lists[register] ?? register });
  if (asOf < today) query.set('asOf', asOf);
  return `/ledger/registers?${query}`;
}

/** What is owed in a currency is listed by its age; other registers tell it item by item, and not in sum. */
function inCurrencyOf(register: string, currency: string, asOf: string, today: string): string | undefined {
  if (register !== 'receivables' && register !== 'payables') return undefined;
  const query = new URLSearchParams({ currency });
  if (register === 'payables') query.set('payable', 'true');
  if (asOf < today) query.set('asOf', asOf);
  return `/ledger/ageing?${query}`;
}

function Listed({ to, children }: { to: string | undefined; children: ReactNode }) {
  return to ? <Plain to={to}>{children}</Plain> : children;
}

/** Every control account beside its register, as of a day. */
export function TieOutReport() {
  const [asOf, setAsOf] = useAsOf();
  const report = useQuery({
    queryKey: ['tie-out', asOf],
    queryFn: () => data(api.GET('/api/v1/tie-out', { params: { query: { asOf } } })),
    placeholderData: keepPreviousData,
  });
  const today = useToday();
  const t = report.data;
  return (
    <>
      <AsOfBar asOf={asOf} onChange={setAsOf} />
      {report.isError && <Failure error={report.error} />}
      {t && (
        <Table>
          <TableHead>
            <TableRow>
              <TableCell>Control account</TableCell>
              <TableCell>Register</TableCell>
              <TableCell align="right">Ledger says</TableCell>
              <TableCell align="right">Register adds up to</TableCell>
              <TableCell />
            </TableRow>
          </TableHead>
          <TableBody>
            {t.ties.map((x) => (
              <TableRow key={`${x.accountId} ${x.currency ?? ''} ${x.bank ?? ''}`}>
                <TableCell sx={x.currency && !x.bank ? { pl: 4 } : undefined}>
                  {x.currency && !x.bank ? (
                    `of it in ${x.currency}`
                  ) : (
                    <Plain to={`/ledger/accounts/${x.accountId}?to=${asOf}`}>{x.account}</Plain>
                  )}
                </TableCell>
                <TableCell>{x.register}</TableCell>
                <TableCell align="right">
                  <Amount
                    value={x.ledger}
                    code={x.currency}
                    quietNil
                    why={x.currency ? undefined : { of: 'account', id: x.accountId, name: `${x.account}` }}
                  />
                </TableCell>
                <TableCell align="right">
                  <Listed
                    to={
                      x.bank
                        ? undefined
                        : x.currency
                          ? inCurrencyOf(x.register, x.currency, asOf, today)
                          : linesOf(x.register, asOf, today)
                    }
                  >
                    <Amount value={x.sum} code={x.currency} quietNil />
                  </Listed>
                </TableCell>
                <TableCell>
                  {x.ok ? (
                    <Mark settled={100} state="ties out" />
                  ) : x.bank ? (
                    <Link to={`/bank/${x.bank}/reconcile?through=${x.through}`}>differs: reconcile again</Link>
                  ) : (
                    'differs'
                  )}
                </TableCell>
              </TableRow>
            ))}
          </TableBody>
        </Table>
      )}
      {t && (
        <p style={{ margin: 0 }}>
          Debits less credits over the whole ledger: {isNil(t.difference) ? 'nil' : show(t.difference)}.
        </p>
      )}
      <Margin>
        <ListNote title="Tie-out">
          The proof that every control account equals the sum of its register at the end of the day that you choose, in the
          firm&rsquo;s currency and in each other one that stands on it, and that each bank account is what its last reconciled
          statement says, with what is on the way and what came since.
        </ListNote>
      </Margin>
    </>
  );
}
