import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import Typography from '@mui/material/Typography';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import type { ReactNode } from 'react';
import { Link } from 'react-router';
import { LeadsTo } from '../parts/may';
import { api, data, type Job, type PaperRow } from '../api/client';
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
  const quotes = useOf('quote', job.id, asOf).filter(
    (q) => q.state !== 'accepted' && q.state !== 'newer version' && q.state !== 'reversed',
  );
  const guarantees = useOf('guarantee', job.id, asOf).filter((g) => g.state !== 'reversed');
  const kept = keeping(job);
  if (orders.length + quotes.length + guarantees.length === 0 && !kept && job.plan.length === 0) return null;
  return (
    <section aria-labelledby="contract">
      <Typography variant="h2" id="contract">
        Contract
      </Typography>
      {kept && <p style={{ margin: '4px 0 0' }}>{kept}</p>}
      {!isNil(job.overCap) && (
        <p style={{ margin: '4px 0 0' }}>
          They keep back {show(job.overCap)} more than that since the contract was lowered.{' '}
          <LeadsTo to={newPaper('release', { customer: job.customer, job: job.id, amount: job.overCap })}>Release it</LeadsTo>
        </p>
      )}
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
                  <Amount value={o.net} code={o.currency} />
                </TableCell>
                <TableCell align="right">
                  <Amount value={o.left} code={o.currency} />
                </TableCell>
                <TableCell align="right">
                  {!isNil(o.left) && <LeadsTo to={newPaper('invoice', { order: o.id })}>Bill it</LeadsTo>}
                </TableCell>
              </TableRow>
            ))}
          </TableBody>
        </Table>
      )}
      <Beside name="Variations proposed" papers={quotes}>
        {(q) => q.state === 'open' && <LeadsTo to={newPaper('order', { quote: q.id })}>Accepted</LeadsTo>}
      </Beside>
      <Plan job={job} code={orders[0]?.currency} />
      <Beside name="Guarantees in place of what they keep back" papers={guarantees}>
        {(g) => g.due && `through ${showDay(g.due, today)}`}
      </Beside>
    </section>
  );
}

/** The papers of a kind of a job. */
function useOf(kind: 'quote' | 'guarantee', job: number, asOf: string | undefined): PaperRow[] {
  return (
    useQuery({
      queryKey: ['papers-of', kind, job, asOf],
      queryFn: () => data(api.GET('/api/v1/papers', { params: { query: { kind, job, asOf } } })),
      placeholderData: keepPreviousData,
    }).data?.rows ?? []
  );
}

/** Papers that stand beside the contract, with what is said or done of each. */
function Beside({ name, papers, children }: { name: string; papers: PaperRow[]; children: (p: PaperRow) => ReactNode }) {
  const today = useToday();
  if (papers.length === 0) return null;
  return (
    <Table aria-label={name}>
      <TableHead>
        <TableRow>
          <TableCell>{name}</TableCell>
          <TableCell>Date</TableCell>
          <TableCell>What</TableCell>
          <TableCell>State</TableCell>
          <TableCell align="right">Amount</TableCell>
          <TableCell />
        </TableRow>
      </TableHead>
      <TableBody>
        {papers.map((p) => (
          <TableRow key={p.id}>
            <TableCell>
              <Link to={`/papers/${p.id}`}>{p.number}</Link>
            </TableCell>
            <TableCell>{showDay(p.day, today)}</TableCell>
            <TableCell>{p.title}</TableCell>
            <TableCell>{p.state}</TableCell>
            <TableCell align="right">
              <Amount value={p.total} />
            </TableCell>
            <TableCell align="right">{children(p)}</TableCell>
          </TableRow>
        ))}
      </TableBody>
    </Table>
  );
}

/** The billing plan, and where each stage stands. */
function Plan({ job, code }: { job: Job; code: string | undefined }) {
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
              <Amount value={s.own || s.through} code={s.own ? code : ''} />
            </TableCell>
            <TableCell>{s.billed ? 'billed' : s.late ? 'to be billed now' : 'not billed'}</TableCell>
            <TableCell align="right">
              {n === next && (
                <LeadsTo to={newPaper('claim', { customer: job.customer, job: job.id, amount: s.own || s.through })}>
                  Bill it
                </LeadsTo>
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
