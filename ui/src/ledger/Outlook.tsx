import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableFooter from '@mui/material/TableFooter';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { lazy, Suspense } from 'react';
import { api, data } from '../api/client';
import { Amount } from '../parts/Amount';
import { Failure } from '../parts/Layout';
import { ListNote } from '../parts/ListNote';
import { Margin } from '../parts/Margin';
import { PositionRow } from '../parts/Position';
import { showDay } from '../parts/show';
import { AsOfBar, useAsOf } from './AsOf';

const Chart = lazy(() => import('../parts/Chart'));
const short = (b: { from: string }) => showDay(b.from).replace(/ \d{4}$/, '');

/** The money that is expected over the next twelve weeks. */
export function Outlook() {
  const [asOf, setAsOf] = useAsOf();
  const report = useQuery({
    queryKey: ['expected', asOf],
    queryFn: () => data(api.GET('/api/v1/expected', { params: { query: { asOf } } })),
    placeholderData: keepPreviousData,
  });
  const e = report.data;
  return (
    <>
      <AsOfBar asOf={asOf} onChange={setAsOf} />
      {report.isError && <Failure error={report.error} />}
      {e && (
        <>
          <PositionRow
            figures={[
              { name: 'Due in these weeks', value: e.total, final: true },
              { name: 'Overdue already', value: e.overdue, to: '/papers?state=overdue' },
              { name: 'Disputed', value: e.disputed },
              { name: 'Due later', value: e.later },
            ]}
          />
          <div style={{ minHeight: 210 }}>
            <Suspense fallback={null}>
              <Chart label="Money expected by week" bars={e.weeks} name={short} />
            </Suspense>
          </div>
          <Table aria-label="Money expected by week">
            <TableHead>
              <TableRow>
                <TableCell>Week</TableCell>
                <TableCell align="right">Due in it</TableCell>
              </TableRow>
            </TableHead>
            <TableBody>
              {e.weeks.map((w) => (
                <TableRow key={w.from}>
                  <TableCell>
                    {showDay(w.from)} to {showDay(w.to)}
                  </TableCell>
                  <TableCell align="right">
                    <Amount value={w.amount} quietNil />
                  </TableCell>
                </TableRow>
              ))}
            </TableBody>
            <TableFooter>
              <TableRow>
                <TableCell>Together</TableCell>
                <TableCell align="right">
                  <Amount value={e.total} final />
                </TableCell>
              </TableRow>
            </TableFooter>
          </Table>
        </>
      )}
      <Margin>
        <ListNote title="Money expected">
          What customers owe, by the week in which it is due. What is overdue or disputed is told apart, for nobody knows when it
          comes.
        </ListNote>
      </Margin>
    </>
  );
}
