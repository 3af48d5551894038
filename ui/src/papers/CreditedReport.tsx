import { styled } from '@mui/material/styles';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableFooter from '@mui/material/TableFooter';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import ToggleButton from '@mui/material/ToggleButton';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { lazy, Suspense } from 'react';
import { Link } from 'react-router';
import { api, data } from '../api/client';
import type { components, operations } from '../api/schema';
import { Amount } from '../parts/Amount';
import { useLookingBack } from '../parts/asOf';
import { Empty, Failure } from '../parts/Layout';
import { Filters } from '../parts/ListFilters';
import { ListNote } from '../parts/ListNote';
import { Margin } from '../parts/Margin';
import { showMonth } from '../parts/show';
import { UnderstoodField } from '../parts/UnderstoodField';
import { useAddress } from '../parts/useAddress';

const Chart = lazy(() => import('../parts/Chart'));
const Bar = styled('div')({ display: 'flex', gap: 10, alignItems: 'center', flexWrap: 'wrap' });

type By = NonNullable<NonNullable<operations['credited']['parameters']['query']>['by']>;
type Row = components['schemas']['CreditedBy'];

const groups: { value: By; name: string; head: string }[] = [
  { value: 'cause', name: 'By reason', head: 'Why' },
  { value: 'item', name: 'By item', head: 'What' },
  { value: 'account', name: 'By account', head: 'Account' },
  { value: 'customer', name: 'By customer', head: 'Customer' },
  { value: 'month', name: 'By month', head: 'Month' },
];

const short = (name: string) => (name.length > 28 ? `${name.slice(0, 27)}…` : name);

/** What was credited over a span: why, of what, to whom. */
export function CreditedReport() {
  const [params, set] = useAddress();
  const past = useLookingBack();
  const here = groups.find((g) => g.value === params.get('by')) ?? groups[0]!;
  const [from, to] = [params.get('from') ?? '', params.get('to') || past];
  const report = useQuery({
    queryKey: ['credited', here.value, from, to],
    queryFn: () =>
      data(api.GET('/api/v1/credited', { params: { query: { by: here.value, from: from || undefined, to: to || undefined } } })),
    placeholderData: keepPreviousData,
  });
  const r = report.data;
  const nameOf = (row: Row) => (here.value === 'month' ? showMonth(row.key) : row.name);
  const leads = (row: Row) => {
    const span = `from=${r!.from}&to=${r!.to}`;
    if (here.value === 'cause' && row.key) return `/papers/credits/notes?cause=${row.key}&${span}`;
    if (here.value === 'customer') return `/papers/credits/notes?customer=${row.id}&${span}`;
    if (here.value === 'account') return `/ledger/accounts/${row.id}`;
    if (here.value === 'item' && row.id) return `/papers/credits/returned?article=${row.id}&${span}`;
    if (here.value === 'item') return `/papers/credits/notes?in=line&q=${encodeURIComponent(row.name)}&${span}`;
    return '';
  };
  return (
    <>
      <Bar className="no-print">
        <UnderstoodField
          kind="day"
          label="From"
          field="from"
          value={from || (r?.from ?? '')}
          onChange={(v) => set('from', v)}
          width={140}
        />
        <UnderstoodField
          kind="day"
          label="Through"
          field="to"
          value={to || (r?.to ?? '')}
          onChange={(v) => set('to', v)}
          width={140}
        />
        <Filters exclusive size="small" value={here.value} onChange={(_, v) => v && set('by', v)} aria-label="Told by">
          {groups.map((g) => (
            <ToggleButton key={g.value} value={g.value}>
              {g.name}
            </ToggleButton>
          ))}
        </Filters>
      </Bar>
      {report.isError && <Failure error={report.error} />}
      {r && r.rows.length === 0 && <Empty>Nothing was credited in this span.</Empty>}
      {r && r.rows.length > 0 && (
        <>
          <div style={{ minHeight: 210 }}>
            <Suspense fallback={null}>
              <Chart
                label={`Credited, net, ${here.name.toLowerCase()}`}
                bars={r.bars}
                lying={here.value !== 'month' && here.value !== 'cause'}
                name={(b) => (here.value === 'month' ? showMonth(b.to) : short(b.to))}
              />
            </Suspense>
          </div>
          <Table aria-label={`Credited ${here.name.toLowerCase()}`}>
            <TableHead>
              <TableRow>
                <TableCell>{here.head}</TableCell>
                <TableCell align="right">Credit notes</TableCell>
                <TableCell align="right">Net</TableCell>
                <TableCell align="right">Tax</TableCell>
                <TableCell align="right">Total</TableCell>
                <TableCell align="right">% of all</TableCell>
              </TableRow>
            </TableHead>
            <TableBody>
              {r.rows.map((row) => (
                <TableRow key={`${row.id} ${row.key}`}>
                  <TableCell>{leads(row) ? <Link to={leads(row)}>{nameOf(row)}</Link> : nameOf(row)}</TableCell>
                  <TableCell align="right">{row.notes}</TableCell>
                  <TableCell align="right">
                    <Amount value={row.net} />
                  </TableCell>
                  <TableCell align="right">
                    <Amount value={row.tax} />
                  </TableCell>
                  <TableCell align="right">
                    <Amount value={row.total} />
                  </TableCell>
                  <TableCell align="right">{row.share}</TableCell>
                </TableRow>
              ))}
            </TableBody>
            <TableFooter>
              <TableRow>
                <TableCell colSpan={2}>Together</TableCell>
                <TableCell align="right">
                  <Amount value={r.net} final />
                </TableCell>
                <TableCell align="right">
                  <Amount value={r.tax} final />
                </TableCell>
                <TableCell align="right">
                  <Amount value={r.total} final />
                </TableCell>
                <TableCell />
              </TableRow>
            </TableFooter>
          </Table>
        </>
      )}
      <Margin>
        <ListNote title="Why, and of what">
          Credit notes of the span, net, by the account, the reason or the item that their lines bear. What was reversed by its
          end is left out.
        </ListNote>
      </Margin>
    </>
  );
}
