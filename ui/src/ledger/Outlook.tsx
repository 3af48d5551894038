import Button from '@mui/material/Button';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { Fragment, lazy, Suspense, useState } from 'react';
import { Link } from 'react-router';
import { api, data } from '../api/client';
import { Amount } from '../parts/Amount';
import { Failure } from '../parts/Layout';
import { useNamed } from '../parts/currencies';
import { ListNote } from '../parts/ListNote';
import { Margin } from '../parts/Margin';
import { PositionRow } from '../parts/Position';
import { isNil, showDay, showIn } from '../parts/show';
import { useAddress } from '../parts/useAddress';
import { AsOfBar, InCurrency, useAsOf } from './AsOf';

const Chart = lazy(() => import('../parts/Chart'));
const short = (b: { to: string }) => showDay(b.to).replace(/ \d{4}$/, '');

/** How the money is expected to go on over the next twelve weeks, from what there is. */
export function Outlook() {
  const [asOf, setAsOf] = useAsOf();
  const currency = useAddress()[0].get('currency') ?? '';
  const named = useNamed(currency);
  const [open, setOpen] = useState('');
  const report = useQuery({
    queryKey: ['expected', asOf, currency],
    queryFn: () =>
      data(api.GET('/api/v1/expected', { params: { query: { asOf, currency: currency || undefined, part: 'first' } } })),
    placeholderData: keepPreviousData,
  });
  const e = report.data;
  return (
    <>
      <AsOfBar asOf={asOf} onChange={setAsOf}>
        <InCurrency />
      </AsOfBar>
      {report.isError && <Failure error={report.error} />}
      {e && (
        <>
          <PositionRow
            figures={[
              { name: named('In bank and till'), value: e.begins, to: '/bank', final: true },
              { name: named('Overdue to us'), value: e.overdue, to: '/papers?state=overdue' },
              { name: named('Disputed'), value: e.disputed },
              { name: named('On no known date'), value: e.noDay },
              { name: named('Later'), value: e.later },
            ]}
          />
          <div style={{ minHeight: 190 }}>
            <Suspense fallback={null}>
              <Chart
                label="Money at the end of each week"
                bars={e.weeks.map((w) => ({ from: w.from, to: w.to, amount: w.balance, length: w.length }))}
                name={short}
                height={190}
              />
            </Suspense>
          </div>
          <Table aria-label="Money by week">
            <TableHead>
              <TableRow>
                <TableCell>Week</TableCell>
                <TableCell align="right">Comes</TableCell>
                <TableCell align="right">Goes</TableCell>
                <TableCell align="right">At its end</TableCell>
              </TableRow>
            </TableHead>
            <TableBody>
              {e.weeks.map((w) => (
                <Fragment key={w.from}>
                  <TableRow>
                    <TableCell>
                      {w.count > 0 ? (
                        <Button
                          size="small"
                          aria-expanded={open === w.from}
                          onClick={() => setOpen(open === w.from ? '' : w.from)}
                          sx={{ padding: '0 4px', marginLeft: '-4px', minHeight: 0, lineHeight: 1.4 }}
                        >
                          {showDay(w.from, asOf)} to {showDay(w.to, asOf)}
                        </Button>
                      ) : (
                        `${showDay(w.from, asOf)} to ${showDay(w.to, asOf)}`
                      )}
                    </TableCell>
                    <TableCell align="right">
                      <Amount value={w.in} quietNil />
                    </TableCell>
                    <TableCell align="right">
                      <Amount value={w.out} quietNil />
                    </TableCell>
                    <TableCell align="right">
                      <Amount value={w.balance} strong />
                    </TableCell>
                  </TableRow>
                  {open === w.from && <Lines week={w.from} asOf={asOf} currency={currency} />}
                </Fragment>
              ))}
            </TableBody>
          </Table>
        </>
      )}
      <Margin>
        <ListNote title="Money expected">
          From what is in bank accounts and tills: what customers and we owe, what is kept back, requests, billing plans,
          recurring invoices and card takings, by the week in which they are due. What is overdue to us or disputed is told apart,
          for nobody knows when it comes; what we owe already goes in the first week.
          {e?.reconciled && ` The bank is reconciled through ${showDay(e.reconciled)}.`}
          {e && !isNil(e.unexplained) && ` ${showIn(e.currency, e.unexplained)} that it tells of counts once it is explained.`}
        </ListNote>
      </Margin>
    </>
  );
}

const whys: Record<string, string> = {
  retention: 'kept back, to be released',
  'retention payable': 'kept back by us',
  bill: 'supplier bill',
};

/** What comes and goes in a week. */
function Lines({ week, asOf, currency }: { week: string; asOf: string; currency: string }) {
  const of = useQuery({
    queryKey: ['expected', asOf, currency, week],
    queryFn: () => data(api.GET('/api/v1/expected', { params: { query: { asOf, currency: currency || undefined, week } } })),
  });
  if (of.isError)
    return (
      <TableRow>
        <TableCell colSpan={4}>
          <Failure error={of.error} />
        </TableCell>
      </TableRow>
    );
  return of.data?.weeks
    .find((w) => w.from === week)
    ?.rows.map((r, n) => (
      <TableRow key={n}>
        <TableCell sx={{ pl: 4 }}>
          {showDay(r.day, asOf)} ·{' '}
          {r.paperId ? (
            <Link to={`/papers/${r.paperId}`}>{r.number}</Link>
          ) : r.jobId ? (
            <Link to={`/jobs/${r.jobId}`}>{r.number}</Link>
          ) : (
            r.number
          )}{' '}
          {whys[r.why] ?? r.why}
          {r.party && `, ${r.party}`}
          {r.currency && (
            <>
              {' · '}
              <Amount value={r.own} code={r.currency} tone="soft" />
            </>
          )}
        </TableCell>
        <TableCell align="right">{!r.amount.startsWith('-') && <Amount value={r.amount} />}</TableCell>
        <TableCell align="right">{r.amount.startsWith('-') && <Amount value={r.amount} />}</TableCell>
        <TableCell />
      </TableRow>
    ));
}
