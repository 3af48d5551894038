import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import Typography from '@mui/material/Typography';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { Link } from 'react-router';
import { api, data, type Job } from '../api/client';
import { Amount } from '../parts/Amount';
import { useLookingBack } from '../parts/asOf';
import { useToday } from '../parts/records';
import { isNil, show, showDay } from '../parts/show';
import { newPaper } from '../papers/editing/kind';

/** What the contract consists of: the sum that was written down, each order, what is kept back. */
export function Contract({ job }: { job: Job }) {
  const today = useToday();
  const asOf = useLookingBack() || undefined;
  const orders =
    useQuery({
      queryKey: ['order-book', job.id, asOf],
      queryFn: () => data(api.GET('/api/v1/order-book', { params: { query: { job: job.id, all: true, asOf } } })),
      placeholderData: keepPreviousData,
    }).data?.rows ?? [];
  const kept = keeping(job);
  if (orders.length === 0 && !kept && job.plan.length === 0) return null;
  return (
    <section aria-labelledby="contract">
      <Typography variant="h2" id="contract">
        Contract
      </Typography>
      {kept && <p style={{ margin: '4px 0 0' }}>{kept}</p>}
      {orders.length > 0 && (
        <Table aria-label="Contract">
          <TableHead>
            <TableRow>
              <TableCell>Agreed by</TableCell>
              <TableCell>Date</TableCell>
              <TableCell>What</TableCell>
              <TableCell align="right">Net</TableCell>
              <TableCell align="right">Left to bill</TableCell>
              <TableCell />
            </TableRow>
          </TableHead>
          <TableBody>
            {!isNil(job.contractSum) && (
              <TableRow>
                <TableCell colSpan={3}>written down for the job</TableCell>
                <TableCell align="right">
                  <Amount value={job.contractSum} />
                </TableCell>
                <TableCell colSpan={2} />
              </TableRow>
            )}
            {orders.map((o) => (
              <TableRow key={o.id}>
                <TableCell>
                  <Link to={`/papers/${o.id}`}>{o.number}</Link>
                </TableCell>
                <TableCell>{showDay(o.day, today)}</TableCell>
                <TableCell>{o.title}</TableCell>
                <TableCell align="right">
                  <Amount value={o.net} />
                </TableCell>
                <TableCell align="right">
                  <Amount value={o.left} />
                </TableCell>
                <TableCell align="right">
                  {!isNil(o.left) && <Link to={newPaper('invoice', { order: o.id })}>Bill it</Link>}
                </TableCell>
              </TableRow>
            ))}
          </TableBody>
        </Table>
      )}
      <Plan job={job} />
    </section>
  );
}

/** The billing plan, and where each stage stands. */
function Plan({ job }: { job: Job }) {
  const today = useToday();
  if (job.plan.length === 0) return null;
  const next = job.plan.findIndex((s) => !s.billed);
  return (
    <Table aria-label="Billing plan">
      <TableHead>
        <TableRow>
          <TableCell>Stage</TableCell>
          <TableCell>When</TableCell>
          <TableCell align="right">Share</TableCell>
          <TableCell align="right">Through it</TableCell>
          <TableCell>State</TableCell>
          <TableCell />
        </TableRow>
      </TableHead>
      <TableBody>
        {job.plan.map((s, n) => (
          <TableRow key={n}>
            <TableCell>{s.name}</TableCell>
            <TableCell>{showDay(s.day, today)}</TableCell>
            <TableCell align="right">{s.percent ? `${show(s.percent)} %` : show(s.amount)}</TableCell>
            <TableCell align="right">
              <Amount value={s.through} />
            </TableCell>
            <TableCell>{s.billed ? 'billed' : s.late ? 'to be billed now' : 'not billed'}</TableCell>
            <TableCell align="right">
              {n === next && (
                <Link to={newPaper('claim', { customer: job.customer, job: job.id, amount: s.through })}>Bill it</Link>
              )}
            </TableCell>
          </TableRow>
        ))}
      </TableBody>
    </Table>
  );
}

/** What is kept back of each invoice, in a sentence. */
function keeping(j: Job): string {
  if (isNil(j.retention)) return '';
  const cap = j.retentionCapPercent
    ? `, at most ${j.retentionCapPercent} % of the contract`
    : isNil(j.retentionCap)
      ? ''
      : `, at most ${show(j.retentionCap)}`;
  const when = (j.releases ?? [])
    .map((r) => `${r.percent} %${r.name ? ` ${r.name}` : ''}${r.day ? `, ${showDay(r.day)}` : ''}`)
    .join('; ');
  return `They keep back ${j.retention} % of each invoice ${j.retentionGross ? 'with tax' : 'before tax'}${cap}${
    j.retentionTaxLater ? ', its tax due when it is released' : ''
  }.${when ? ` Released: ${when}.` : ''}`;
}
