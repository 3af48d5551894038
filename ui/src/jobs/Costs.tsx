import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableRow from '@mui/material/TableRow';
import Typography from '@mui/material/Typography';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { Link } from 'react-router';
import { Leads } from '../parts/may';
import { api, data } from '../api/client';
import { Amount } from '../parts/Amount';
import { show, showDay, showDays } from '../parts/show';
import { howPassedOn } from './passedOn';

const most = 8;

/** The costs of a job, or of all jobs of a customer, that wait to be passed on; none: nothing. */
export function Costs({ job = 0, customer = 0 }: { job?: number; customer?: number }) {
  const query = { job: job || undefined, customer: customer || undefined, limit: most };
  const costs = useQuery({
    queryKey: ['costs', query],
    queryFn: () => data(api.GET('/api/v1/costs', { params: { query } })),
    placeholderData: keepPreviousData,
  }).data;
  const rows = costs?.rows ?? [];
  const first = rows[0];
  if (!first) return null;
  const all = `/jobs/costs?${job ? `job=${job}` : `customer=${customer}`}`;
  return (
    <section aria-label="Costs to pass on">
      <div style={{ display: 'flex', alignItems: 'baseline', gap: 12 }}>
        <Typography variant="h2">Costs to pass on</Typography>
        <Typography variant="body2" color="textSecondary">
          {show(costs?.sums.left)} waiting
        </Typography>
        <span style={{ flex: 1 }} />
        {(costs?.count ?? 0) > rows.length && <Link to={all}>all {costs?.count}</Link>}
        {job > 0 && <Leads to={`/papers/new/invoice?customer=${first.customerId}&job=${job}&costs=all`}>Bill them</Leads>}
      </div>
      <Table aria-label="Costs to pass on">
        <TableBody>
          {rows.map((c) => (
            <TableRow key={c.id}>
              <TableCell>
                <Link to={`/papers/${c.paper}`}>{c.number}</Link> {c.text}
              </TableCell>
              <TableCell>{c.supplier}</TableCell>
              {!job && <TableCell>{c.job}</TableCell>}
              <TableCell>
                {c.credited ? 'given back past what waited' : `passed on ${howPassedOn(c.passOn, c.markup)}`}
                {c.drafted && !c.credited && (
                  <>
                    , <Link to="/papers?state=draft">{c.taken ? 'on a draft' : `${show(c.onDrafts)} on a draft`}</Link>
                  </>
                )}
              </TableCell>
              <TableCell title={showDay(c.day)}>{showDays(c.age)}</TableCell>
              <TableCell align="right">
                <Amount value={c.left} tone={c.credited ? undefined : 'waiting'} />
              </TableCell>
            </TableRow>
          ))}
        </TableBody>
      </Table>
    </section>
  );
}
