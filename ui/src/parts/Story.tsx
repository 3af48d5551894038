import { styled } from '@mui/material/styles';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import Typography from '@mui/material/Typography';
import { useInfiniteQuery, useQuery } from '@tanstack/react-query';
import { Fragment, useMemo, useState } from 'react';
import { Link } from 'react-router';
import { api, data, type Allocation, type Happening } from '../api/client';
import { EntryTable } from '../app/EffectView';
import { Amount } from './Amount';
import { More } from './More';
import { Mark } from './Mark';
import { isNil, show, showDay } from './show';
import { paperQuery, useToday } from './records';
import { Room } from './Room';
import { Row } from './Row';
import { useRows } from './useRows';

const What = styled(TableCell)({ maxWidth: 260, overflow: 'hidden', textOverflow: 'ellipsis', whiteSpace: 'nowrap' });
const Held = styled('span')(({ theme }) => ({ color: theme.vars!.palette.tally.held, whiteSpace: 'nowrap' }));
const Opened = styled('div')({ display: 'grid', gridTemplateColumns: '1fr 1fr', gap: 24, padding: '4px 6px 12px' });

/** What happened, and the paper that it is tied to. */
function tied(r: Happening): string {
  const tie = r.insteadOf ? `in place of ${r.insteadOf}` : r.writtenAgain ? `written again as ${r.writtenAgain}` : '';
  return [r.text, tie].filter(Boolean).join(' · ');
}

interface StoryOf {
  customer?: number;
  job?: number;
  supplier?: number;
}

/** Everything in order, the newest first, each line opening in place; what is older comes as one goes on. */
export function Story({ customer = 0, job = 0, supplier = 0 }: StoryOf) {
  const [open, setOpen] = useState<string | null>(null);
  const today = useToday();
  const story = useInfiniteQuery({
    queryKey: ['story', supplier ? 'supplier' : customer ? 'customer' : 'job', supplier || customer || job],
    queryFn: ({ pageParam }) => {
      const query = { before: pageParam || undefined };
      if (supplier) return data(api.GET('/api/v1/suppliers/{id}/story', { params: { path: { id: supplier }, query } }));
      return job
        ? data(api.GET('/api/v1/jobs/{id}/story', { params: { path: { id: job }, query } }))
        : data(api.GET('/api/v1/customers/{id}/story', { params: { path: { id: customer }, query } }));
    },
    initialPageParam: '',
    getNextPageParam: (p) => p.next || undefined,
  });
  const pages = story.data?.pages;
  const rows = useMemo(
    () => (pages ?? []).flatMap((p, page) => p.rows.map((r, i) => ({ ...r, key: `${page}.${p.rows.length - i}` })).reverse()),
    [pages],
  );
  const ids = useMemo(() => rows.map((r) => r.key), [rows]);
  const { window, row: rowProps, onKeyDown } = useRows({ ids, height: 32, first: false });
  return (
    <section aria-label="Story">
      <Typography variant="h2">Story</Typography>
      {story.isSuccess && rows.length === 0 && (
        <Typography variant="body2" color="textSecondary">
          Nothing has happened yet. Every paper and every amount set against another will stand here, in order.
        </Typography>
      )}
      {rows.length > 0 && (
        <Table ref={window.ref} onKeyDown={onKeyDown}>
          <TableHead>
            <TableRow>
              <TableCell>Date</TableCell>
              <TableCell>Paper</TableCell>
              <TableCell>What happened</TableCell>
              <TableCell>State</TableCell>
              <TableCell align="right">Amount</TableCell>
              <TableCell align="right">Balance</TableCell>
            </TableRow>
          </TableHead>
          <TableBody>
            {window.rows.map(({ index, room }) => {
              const r = rows[index]!;
              return (
                <Fragment key={r.key}>
                  <Room height={room} columns={6} />
                  <Row
                    {...rowProps(index)}
                    data-open={open === r.key || undefined}
                    onClick={() => setOpen(open === r.key ? null : r.key)}
                    onKeyDown={(e) => e.key === 'Enter' && e.target === e.currentTarget && setOpen(open === r.key ? null : r.key)}
                  >
                    <TableCell sx={{ whiteSpace: 'nowrap' }}>{showDay(r.day, today)}</TableCell>
                    <TableCell sx={{ whiteSpace: 'nowrap' }}>{r.number}</TableCell>
                    <What title={tied(r)}>{tied(r)}</What>
                    <TableCell>
                      {r.state && <Mark settled={r.settled} state={r.state} overdue={r.overdue} plain={!r.opens} />}
                    </TableCell>
                    <TableCell align="right">
                      {isNil(r.amount) && isNil(r.held) ? null : isNil(r.amount) ? (
                        <Held>
                          {show(r.held)} {r.settled >= 100 ? 'received' : supplier ? 'prepaid' : 'held'}
                        </Held>
                      ) : (
                        <Amount value={r.amount} />
                      )}
                    </TableCell>
                    <TableCell align="right">
                      <Amount value={r.balance} />
                    </TableCell>
                  </Row>
                  {open === r.key && (
                    <TableRow>
                      <TableCell colSpan={6} sx={{ height: 'auto' }}>
                        <PaperInPlace id={r.paperId} />
                      </TableCell>
                    </TableRow>
                  )}
                </Fragment>
              );
            })}
            <Room height={window.after} columns={6} />
          </TableBody>
        </Table>
      )}
      {story.hasNextPage && <More busy={story.isFetchingNextPage} onMore={() => void story.fetchNextPage()} />}
    </section>
  );
}

/** A paper's entries and what it settled, in the line that it stands in. */
function PaperInPlace({ id }: { id: number }) {
  const { data: paper } = useQuery(paperQuery(id));
  if (!paper) return null;
  return (
    <Opened>
      <EntryTable entries={paper.entries ?? []} />
      <div>
        <AllocationList allocations={paper.allocations ?? []} own={id} />
        <Link to={`/papers/${id}`}>Open {paper.number}</Link>
      </div>
    </Opened>
  );
}

// What an allocation is bound to, where that is no word of the trade.
const boundNames: Record<string, string> = { closing: '', opposite: 'taken back', 'taken back': 'taken back', beside: '' };

const Gone = styled('li')({ '&[data-undone]': { textDecoration: 'line-through' } });

/** What a paper settled or was settled by, what was undone since included. */
export function AllocationList({ allocations, own, customer }: { allocations: Allocation[]; own: number; customer?: number }) {
  if (allocations.length === 0)
    return (
      <Typography variant="body2" color="textSecondary" sx={{ mb: 1 }}>
        Nothing is set against it.
      </Typography>
    );
  return (
    <ul style={{ margin: '4px 0 10px', paddingLeft: 16 }}>
      {allocations.map((a) => {
        const other =
          a.creditId === own
            ? { id: a.debitId, number: a.debit, how: 'set against' }
            : { id: a.creditId, number: a.credit, how: 'settled by' };
        return (
          <Gone key={a.id} data-undone={a.undoneOn || undefined}>
            {show(a.amount)} {other.how} <Link to={`/papers/${other.id}`}>{other.number}</Link>, {showDay(a.day)}
            {customer && !a.undoneOn && !a.reversal && !a.bound && (
              <>
                {' · '}
                <Link to={`/customers/${customer}?move=${a.id}#bench`}>move</Link>
              </>
            )}
            {a.undoneOn && ` (undone ${showDay(a.undoneOn)})`}
            {a.bound && a.kind !== a.bound && boundNames[a.bound] !== '' && ` · ${boundNames[a.bound] ?? a.bound}`}
          </Gone>
        );
      })}
    </ul>
  );
}
